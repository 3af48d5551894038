// Package stock plans what becomes of goods that are kept in stock beside what
// is bought and sold (docs/rules.md, part 5, stock).
package stock

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// Use is goods that are used on a job: Dr job costs, Cr stock, at the average
// cost.
type Use struct {
	Number string // "" to be given the next
	JobID  int64
	Day    day.Day
	Note   string
	Lines  []Line
}

// Line is a quantity of an article.
type Line struct {
	ArticleID int64
	Quantity  decimal.Decimal
	Serials   []string // of pieces that bear numbers
}

// Plan returns the effect of using the goods.
func (u Use) Plan(f posting.Facts) (posting.Effect, error) {
	b := posting.Build(f)
	dayOK := b.PostingDay("day", u.Day)
	job, known := b.Job(u.JobID)
	if !known {
		b.Refuse("job", "missing", "", "Say which job the goods are used on.")
	}
	b.JobOf("job", u.JobID, 0)
	party, _ := b.Party(job.PartyID)
	p := posting.Paper{Kind: posting.StockUse, Number: u.Number, Day: u.Day, PartyID: party.ID, PartyName: party.Name, JobID: job.ID, Title: "Used from stock", Note: u.Note}
	named := lines(b, u.Lines, &p)
	own := b.Paper(p)
	if !dayOK || !known {
		return b.Effect("")
	}
	for n, l := range u.Lines {
		if !named[n] {
			continue
		}
		field := fmt.Sprintf("lines[%d].", n)
		if !l.Quantity.IsPositive() {
			b.Refuse(field+"quantity", "above nil", "0", "Line %d: what is used has a quantity above nil.", n+1)
			continue
		}
		cost, ok := b.StockOut(field+"quantity", l.ArticleID, posting.InMillionths(l.Quantity), l.Serials, posting.LineRef{PaperID: own.ID, Position: n + 1}, u.Day)
		if !ok {
			continue
		}
		price(own, n, cost, b.Currency())
		b.Debit(b.Role(ledger.JobCosts), cost, ledger.Line{PartyID: job.PartyID, JobID: job.ID})
	}
	return b.Effect(fmt.Sprintf("Used %s from stock on job %s by %s", b.Currency().Show(own.Total), job.Number, own.Number))
}

// lines begins the lines of a paper about stock and refuses what is not kept
// there. It answers which lines name a stocked article.
func lines(b *posting.Builder, all []Line, p *posting.Paper) []bool {
	named := make([]bool, len(all))
	seen := map[int64]bool{}
	if len(all) == 0 {
		b.Refuse("lines", "missing", "", "Say how much of which article.")
	}
	for n, l := range all {
		field := fmt.Sprintf("lines[%d].", n)
		article, ok := b.Article(l.ArticleID)
		switch {
		case !ok || !article.Stocked:
			b.Refuse(field+"article", "not in stock", "", "Line %d: choose an article that is kept in stock.", n+1)
		case article.Inactive:
			b.Refuse(field+"article", "not in use", "", "The article %s is not in use. Choose another.", article.Code)
		case seen[article.ID]:
			b.Refuse(field+"article", "missing", "", "Line %d: %s stands here already.", n+1, article.Name)
		case !money.Fits(l.Quantity, 6) || l.Quantity.Abs().GreaterThan(decimal.New(1, 12)):
			b.Refuse(field+"quantity", "places", "6", "Line %d: a quantity has at most 6 places.", n+1)
		default:
			named[n] = true
		}
		seen[article.ID] = true
		p.Lines = append(p.Lines, posting.PaperLine{Position: n + 1, ArticleID: article.ID, Text: article.Name, Unit: article.Unit, Quantity: l.Quantity})
	}
	return named
}

// price tells on a line of a paper what it comes to.
func price(p *posting.Paper, n int, value money.Amount, c money.Currency) {
	l := &p.Lines[n]
	l.Net, l.Before = posting.Firm(value), value
	if !l.Quantity.IsZero() {
		l.UnitPrice = c.Decimal(value).DivRound(l.Quantity.Abs(), 6).Abs()
	}
	p.Total += value
}
