package billing

import (
	"cleantally/core/rights"
	"fmt"
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// Claim bills a job by progress: what is done to date of the contract, less
// what was claimed before (docs/rules.md, part 5, Stages). It is posted as a
// stage invoice over all lines of the contract that have something left, each
// with its own tax code, by what is left of them.
type Claim struct {
	Number     string // "" to be given the next
	JobID      int64
	Day        day.Day
	Rate       decimal.Decimal // of the contract's currency, where that is not the firm's; nil for that of the day
	TermsID    int64           // 0: the customer's, else the firm's
	Due        day.Day         // a due day that is named; "" to count it by the terms
	Reference  string
	Note       string
	Lines      []ClaimLine     // what is done to date of each line of the contract's orders
	Percent    decimal.Decimal // or the share of the contract that is done to date
	ToDate     money.Amount    // or what is done to date, net
	Certified  money.Amount    // what the customer certified of this claim, net, where that is less; nil for all
	Recover    bool            // what was billed in advance is deducted share by share
	Credit     bool            // a claim below what was claimed before credits the latest claims
	Deductions []Deduction
	Retention  *Retention
}

// Plan returns the effect of posting the claim.
func (c Claim) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	job, ok := f.Job(c.JobID)
	if !ok {
		b.Refuse("job", "missing", "", "Say which job is claimed for.")
		return b.Effect("")
	}
	code, ok := ContractCurrency(b.facts, job)
	if !ok {
		b.Refuse("job", "another currency", "", "The contract of job %s is agreed in more than one currency, so there is no share of it. Bill its orders by their lines.", job.Number)
		return b.Effect("")
	}
	if !b.In(code, c.Rate, c.Day) {
		return b.Effect("")
	}
	w := standing(b, job, c.Day)
	for _, o := range w.orders {
		if by := byLines(b.facts, o); by != "" && w.has(o) {
			b.Refuse("job", "billed by lines", by, "%s is billed by its lines, by %s, so it is not billed by progress as well: bill what is left of its lines.", o.Number, by)
		}
	}
	this, told := c.sum(b, w)
	if this < 0 {
		return b.Effect(c.lower(b, job, -this, told))
	}
	v := Invoice{Number: c.Number, PartyID: job.PartyID, JobID: job.ID, Day: c.Day, Currency: code, Rate: c.Rate, TermsID: c.TermsID, Due: c.Due, Reference: c.Reference, Note: c.Note, DefaultNote: c.Note == "", Form: StageForm,
		Deductions: c.Deductions, Retention: c.Retention, certificate: told, Lines: w.lines(b, this)}
	if len(c.Lines) > 0 {
		v.Lines, v.measured = w.chosen(this), w.measured
	}
	if c.Recover && len(c.Deductions) == 0 && this > 0 {
		v.Deductions = w.recovered(b, job.ID, this, c.Day)
	}
	return v.plan(b)
}

// ContractCurrency is the currency of a job's contract, that of its orders, "" for
// the firm's own; false where it is agreed in more than one. A sum that was written
// down for the job is in the firm's; an order that was called off counts no more.
func ContractCurrency(f posting.Facts, job master.Job) (string, bool) {
	orders := f.(Facts).OrdersOf(job.ID)
	code, ok := currencyOf(orders, job)
	if !ok {
		code, ok = currencyOf(slices.DeleteFunc(slices.Clone(orders), func(o posting.Paper) bool { return calledOff(f, o) }), job)
	}
	return code, ok
}

func currencyOf(orders []posting.Paper, job master.Job) (string, bool) {
	code := ""
	for n, o := range orders {
		if n > 0 && o.Currency != code || o.Currency != "" && job.ContractSum != 0 {
			return "", false
		}
		code = o.Currency
	}
	return code, true
}

// calledOff tells whether nothing of an order is left, and nothing of it billed.
func calledOff(f posting.Facts, order posting.Paper) bool {
	return !slices.ContainsFunc(OrderLines(f, order, day.EndOfTime), func(l OrderLine) bool { return l.Left.Net() > 0 || l.Billed > 0 })
}

// ContractAbroad is what the contract of a job in another currency comes to by the
// end of a day, net, with what was measured beyond it, and what of it is billed,
// less credits: what bills its orders, and nothing else.
func ContractAbroad(f posting.Facts, job master.Job, d day.Day) (contract, billed money.Amount) {
	for _, o := range f.(Facts).OrdersOf(job.ID) {
		if o.Day > d {
			continue
		}
		for _, l := range OrderLines(f, o, d) {
			done := l.Used[posting.Billed].Net()
			contract += max(l.Part().Net()-l.Used[posting.Cancelled].Net(), done)
			billed += done
		}
	}
	return contract, billed
}

// worked is where a contract stands before a claim, net.
type worked struct {
	contract money.Amount
	before   money.Amount    // claimed before, less credits
	orders   []posting.Paper // that it consists of
	parts    []contractPart
	measured []posting.Use // more than was ordered: it counts as delivered
}

// contractPart is a line of the contract with something left to bill; the sum
// that was written down for the job has no line.
type contractPart struct {
	of   posting.Thing
	line posting.PaperLine
	left posting.Part
	pcs  posting.Millionths
	this money.Amount // of a claim by lines: what it comes to, net
}

// part is the part of a line; one that has nothing left gets one.
func (w *worked) part(of posting.Thing, line posting.PaperLine) *contractPart {
	for n := range w.parts {
		if w.parts[n].of.LineRef == of.LineRef {
			return &w.parts[n]
		}
	}
	w.parts = append(w.parts, contractPart{of: of, line: line})
	return &w.parts[len(w.parts)-1]
}

func standing(b *builder, job master.Job, d day.Day) *worked {
	w := &worked{contract: b.Contract(job), before: b.JobBilled(job.ID)}
	if b.Code() != "" {
		w.contract, w.before = ContractAbroad(b.facts, job, day.EndOfTime)
	}
	rest := max(w.contract-w.before, 0)
	w.orders = b.facts.OrdersOf(job.ID)
	for _, o := range w.orders {
		for _, l := range o.Lines {
			of := thingOf(o, l)
			left, pcs, _ := b.LeftOf(of, posting.Billed, d)
			if net := left.Least.Net(); net > 0 && pcs > 0 {
				w.parts = append(w.parts, contractPart{of: of, line: l, left: left.Least, pcs: pcs})
				rest -= net
			}
		}
	}
	if rest > 0 {
		w.parts = append(w.parts, contractPart{left: posting.Of(rest, 0)})
	}
	return w
}

// sum is what this claim comes to, and how: this claim = contract × share done
// − claimed before, never past the contract.
func (c Claim) sum(b *builder, w *worked) (money.Amount, string) {
	cur := b.Currency()
	if len(c.Lines) > 0 {
		return c.byLine(b, w)
	}
	if (c.ToDate != 0) == !c.Percent.IsZero() {
		b.Refuse("percent", "one of them", "100", "Say how much is done to date: a share of the contract in percent, or an amount.")
		return 0, ""
	}
	toDate, how := c.ToDate, fmt.Sprintf("Work to date %s of %s", cur.Show(c.ToDate), cur.Show(w.contract))
	if !c.Percent.IsZero() {
		if c.Percent.IsNegative() || c.Percent.GreaterThan(decimal.New(100, 0)) || !money.Fits(c.Percent, 4) {
			b.Refuse("percent", "out of bounds", "100", "What is done is a share from 0 to 100 %%, with at most 4 places.")
			return 0, ""
		}
		toDate = cur.Round(money.Percent(cur.Decimal(w.contract), c.Percent))
		how = fmt.Sprintf("Work to date %s %% of %s, %s", c.Percent, cur.Show(w.contract), cur.Show(toDate))
	}
	this := toDate - w.before
	field := "percent"
	if c.ToDate != 0 {
		field = "toDate"
	}
	switch {
	case w.contract == 0:
		b.Refuse("job", "no contract", cur.Format(0), "Nothing is agreed for this job: write its contract sum, or an order.")
		return 0, ""
	case toDate > w.contract:
		b.Refuse(field, "more than the contract", cur.Format(w.contract), "The contract comes to %s, so no more than that is claimed. What is more is a variation: write an order for it.", cur.Show(w.contract))
		return 0, ""
	case this < 0 && !c.Credit:
		b.Refuse(field, "less than before", cur.Format(w.before), "%s was claimed before, more than what is done. Say that the difference, %s, is credited on the latest claims.", cur.Show(w.before), cur.Show(-this))
		return 0, ""
	case this < 0 && (c.Certified != 0 || len(c.Deductions) > 0 || c.Retention != nil):
		b.Refuse(field, "less than before", cur.Format(w.before), "What is credited of claims gives back retention and deductions in the same share: leave out what was certified, deducted and kept back.")
		return 0, ""
	case this < 0:
		return this, how + fmt.Sprintf(", less claimed before %s", cur.Show(w.before))
	case this == 0:
		b.Refuse(field, "nothing to claim", cur.Format(w.before), "%s was claimed before, so nothing is left to claim of that.", cur.Show(w.before))
		return 0, ""
	}
	return c.certified(b, this, how+fmt.Sprintf(", less claimed before %s: %s", cur.Show(w.before), cur.Show(this)))
}

// certified is what of a claim the customer certified, where that is less, and
// how it came about.
func (c Claim) certified(b *builder, this money.Amount, how string) (money.Amount, string) {
	cur := b.Currency()
	switch {
	case c.Certified < 0 || c.Certified > this:
		b.Refuse("certified", "more than is claimed", cur.Format(this), "This claim comes to %s, so no more than that is certified of it.", cur.Show(this))
		return 0, ""
	case c.Certified > 0:
		return c.Certified, how + fmt.Sprintf("; certified %s", cur.Show(c.Certified))
	}
	return this, how
}

// lower credits what was claimed beyond what is done, the latest claims first,
// each with its retention and deductions in the same share.
func (c Claim) lower(b *builder, job master.Job, rest money.Amount, told string) string {
	var credited []string
	number, invoices := c.Number, b.facts.InvoicesOf(job.ID)
	slices.Reverse(invoices)
	for _, of := range invoices {
		_, work := Creditable(b.facts, of, c.Day)
		take := min(rest, work)
		if of.Form != string(StageForm) || take <= 0 || of.Day > c.Day {
			continue
		}
		credit := Credit{Number: number, PaperID: of.ID, Day: c.Day, Cause: OtherCauses, Text: told, Note: c.Note, Reference: c.Reference, Work: take, Again: true, Own: true}
		told, _ := credit.plan(b)
		credited = append(credited, told)
		number = ""
		rest -= take
	}
	if rest > 0 {
		b.Refuse("credit", "more than is left", b.Currency().Format(rest), "%s of that was billed by invoices that are no claims of this job. Credit it on those.", b.Currency().Show(rest))
	}
	return strings.Join(credited, "; ")
}

// lines shares a claim over the contract by what is left of its lines.
func (w *worked) lines(b *builder, this money.Amount) []posting.Line {
	weights := make([]money.Amount, len(w.parts))
	for n, p := range w.parts {
		weights[n] = p.left.Net()
	}
	shares, err := money.Share(this, weights)
	if err != nil || this <= 0 {
		return nil
	}
	var lines []posting.Line
	for n, p := range w.parts {
		if shares[n] == 0 {
			continue
		}
		if p.of.PaperID == 0 {
			given := posting.Of(shares[n], 0)
			lines = append(lines, posting.Line{Text: "Work as agreed", Quantity: decimal.New(1, 0), TaxCodeID: b.facts.FirmTaxCodeID(), Given: &given})
			continue
		}
		lines = append(lines, p.claimed(shares[n]))
	}
	return lines
}

// claimed is the line of an invoice that bills so much of a part, net.
func (p contractPart) claimed(net money.Amount) posting.Line {
	given := p.left.TakeNet(net)
	pieces := posting.Millionths(money.Portion(net, money.Amount(p.pcs), p.left.Net()))
	return posting.Line{ArticleID: p.line.ArticleID, Text: p.line.Text, Unit: p.line.Unit, Quantity: max(pieces, 1).Decimal(), UnitPrice: p.line.UnitPrice, TaxCodeID: p.line.TaxCodeID, AccountID: p.line.AccountID, Of: p.of, Given: &given}
}

// recovered deducts what was billed in advance in the share that this claim has
// of what is left to bill.
func (w *worked) recovered(b *builder, jobID int64, this money.Amount, d day.Day) []Deduction {
	left := max(w.contract-w.before, this)
	var all []Deduction
	for _, p := range b.facts.AdvancesOf(jobID) {
		if p.Day > d {
			continue
		}
		if a := AdvanceLeft(b.facts, p, d); a.Left.Amount.Own > 0 {
			all = append(all, Deduction{PaperID: p.ID, Amount: money.Portion(this, a.Left.Amount.Own, left)})
		}
	}
	return all
}

// has tells whether something of an order is left to claim.
func (w *worked) has(order posting.Paper) bool {
	return slices.ContainsFunc(w.parts, func(p contractPart) bool { return p.of.PaperID == order.ID })
}

// byProgress is the number of a claim that bills an order, "" for none; byLines
// that of an invoice that bills quantities of its lines. An order is billed one
// way or the other (docs/rules.md, part 5, Stages).
func byProgress(f posting.Facts, order posting.Paper) string { return billedBy(f, order, true) }

func byLines(f posting.Facts, order posting.Paper) string { return billedBy(f, order, false) }

func billedBy(f posting.Facts, order posting.Paper, claimed bool) string {
	sums := map[int64]money.Amount{}
	var papers []int64
	for _, u := range f.Uses(order.ID) {
		if u.As == posting.Billed {
			if sums[u.By.PaperID] == 0 {
				papers = append(papers, u.By.PaperID)
			}
			sums[u.By.PaperID] += u.Amount.Own
		}
	}
	for _, id := range papers {
		if p, ok := f.Paper(id); ok && sums[id] > 0 && p.Kind != posting.ClaimedBefore && (p.Reason != "") == claimed {
			return p.Number
		}
	}
	return ""
}

// Asks is the right that it needs (docs/rules.md, part 13).
func (c Claim) Asks() rights.Right { return rights.ToClaim }
