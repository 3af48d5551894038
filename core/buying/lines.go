package buying

import (
	"fmt"

	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"

	"github.com/shopspring/decimal"
)

// Line is what is bought or ordered: an article or a text, to an account, for
// a job; passed on to the job's customer or not.
type Line struct {
	Text      string
	Unit      string
	ArticleID int64
	AccountID int64 // 0: stock, the costs of the job, or of materials sold
	JobID     int64
	Quantity  decimal.Decimal // nil for one
	UnitPrice decimal.Decimal
	Discount  decimal.Decimal // percent
	Net       money.Amount    // in place of quantity × price
	TaxCodeID int64
	Joined    bool // the input tax cannot be deducted and joins the cost
	PassOn    posting.Treatment
	Markup    *decimal.Decimal // percent; nil: the job's, else the firm's
	Serials   []string         // of pieces that bear numbers
	Of        OrderLine        // what was ordered
}

// OrderLine names a line of a purchase order.
type OrderLine struct {
	PaperID  int64
	Position int // counted from 1
}

// bought works out the lines of a paper of a supplier.
func bought(b *posting.Builder, all []Line, d day.Day, partyID int64) ([]posting.PaperLine, tax.Sums) {
	in := posting.Lines{Day: d, PartyID: partyID, Bought: true}
	for n, l := range all {
		in.Lines = append(in.Lines, l.line(b, fmt.Sprintf("lines[%d].", n), n+1))
	}
	return b.Lines(in)
}

// line is a line as the one engine for lines takes it, with what it says by
// default.
func (l Line) line(b *posting.Builder, field string, n int) posting.Line {
	out := posting.Line{Text: l.Text, Unit: l.Unit, ArticleID: l.ArticleID, AccountID: l.AccountID, JobID: l.JobID, TaxCodeID: l.TaxCodeID, Quantity: l.Quantity, UnitPrice: l.UnitPrice,
		DiscountPercent: l.Discount, Joined: l.Joined, PassOn: l.PassOn}
	if l.Quantity.IsZero() {
		out.Quantity = decimal.New(1, 0)
	}
	if l.Net != 0 {
		given := posting.Of(l.Net, 0)
		out.Given = &given
		if out.UnitPrice.IsZero() {
			out.UnitPrice = b.Currency().Decimal(l.Net).DivRound(out.Quantity, 6)
		}
	}
	if l.Net == 0 && l.UnitPrice.IsZero() {
		b.Refuse(field+"net", "above nil", b.Currency().Format(0), "Line %d needs an amount.", n)
	}
	l.passing(b, field, n, &out)
	if b.Stocked(out) && !out.Quantity.IsPositive() {
		b.Refuse(field+"quantity", "above nil", "0", "Line %d: goods that come into stock have a quantity above nil. What goes back is a supplier's credit.", n)
	}
	return out
}

// passing settles how a line is passed on to the customer of its job.
func (l Line) passing(b *posting.Builder, field string, n int, out *posting.Line) {
	switch l.PassOn {
	case posting.KeptAsCost:
		if l.Markup != nil {
			b.Refuse(field+"markup", "not passed on", "", "Line %d is not passed on, so it bears no markup.", n)
		}
		return
	case posting.OurSupply:
		out.Markup = MarkupOf(b.Facts, l.JobID, l.Markup)
		b.Markup(field+"markup", n, out.Markup)
	case posting.OnBehalf:
		out.Register, out.AccountID, out.Joined = "recoverable", 0, false
		if l.Markup != nil && !l.Markup.IsZero() {
			b.Refuse(field+"markup", "no markup", "0", "Line %d is paid on the customer's behalf: it is passed on as it is, without markup.", n)
		}
	default:
		b.Refuse(field+"passOn", "missing", "", "Line %d: say how it is passed on, as our own supply or on the customer's behalf.", n)
	}
	if l.JobID == 0 {
		b.Refuse(field+"job", "missing", "", "Line %d is passed on: say to which job.", n)
	}
	if l.Net < 0 || l.UnitPrice.IsNegative() || l.Quantity.IsNegative() {
		b.Refuse(field+"net", "below nil", b.Currency().Format(0), "Line %d is passed on and is below nil. What comes off a cost is a supplier's credit.", n)
	}
}

// MarkupOf is the markup on a cost, percent: its own, else the job's, else the
// firm's.
func MarkupOf(f posting.Facts, jobID int64, own *decimal.Decimal) decimal.Decimal {
	if own != nil {
		return *own
	}
	if job, ok := f.Job(jobID); ok && job.Markup != nil {
		return *job.Markup
	}
	return f.Limits().Markup
}

// head is a paper of a supplier with what its lines come to.
func head(k posting.Kind, party master.Party, lines []posting.PaperLine, s tax.Sums, p posting.Paper) posting.Paper {
	p.Kind, p.PartyID, p.PartyName, p.PartyAddress, p.Lines, p.Total = k, party.ID, party.Name, party.Printed(), lines, s.Total
	if len(lines) > 0 && p.Title == "" {
		p.Title = lines[0].Text
	}
	p.Net, p.Tax, p.Rounding = s.Net, s.Tax, s.Rounding
	return p
}

func thingOf(p posting.Paper, l posting.PaperLine) posting.Thing {
	return posting.Thing{LineRef: posting.LineRef{PaperID: p.ID, Position: l.Position}, TaxCodeID: l.TaxCodeID}
}
