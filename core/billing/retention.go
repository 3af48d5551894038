package billing

import (
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"
)

// Retention says that another amount is kept back than the job's terms have.
type Retention struct {
	Amount money.Amount // on the base of the job's terms
	Reason string
}

// kept is what an invoice keeps back: by code where its tax is due later.
type kept struct {
	parts  []posting.CodePart
	amount money.Amount // with the tax
}

// retention works out what the customer keeps back of what is billed
// (docs/rules.md, part 5): round(base × rate), never past the cap less what was
// kept so far.
func (v Invoice) retention(b *builder, billed tax.Sums) kept {
	job, ok := b.Job(v.JobID)
	if !ok && v.Retention == nil {
		return kept{}
	}
	billed = withoutBehalf(billed)
	base := baseOf(billed, job.RetentionGross)
	r := b.Currency().Round(money.Percent(b.Currency().Decimal(base), job.RetentionPercent))
	r = min(r, b.underCap(job))
	if v.Retention != nil {
		r = v.named(b, base)
	}
	if r <= 0 {
		return kept{}
	}
	switch {
	case job.RetentionTaxLater:
		return taxedLater(b, billed, job, r, base)
	case b.TaxDue().Of(posting.Invoice): // its tax waits inside until it is paid
		return taxedLater(b, billed, master.Job{RetentionGross: true}, r, baseOf(billed, true))
	}
	return kept{parts: []posting.CodePart{{Part: posting.Of(r, 0)}}, amount: r}
}

// tax is what of the tax is due later than that of the rest.
func (k kept) tax() posting.Worth { return posting.Taxes(k.parts) }

// value converts what is kept back and the tax inside it, each once, and returns
// what it is worth.
func (k *kept) value(b *builder) posting.Worth {
	owns := make([]money.Amount, len(k.parts))
	for n, p := range k.parts {
		owns[n] = p.Amount.Own
	}
	whole := b.At(k.amount)
	for n, w := range whole.Spread(owns) {
		k.parts[n].Part = posting.Part{Amount: w, Tax: b.At(k.parts[n].Tax.Own)}
	}
	return whole
}

// named is the amount that is kept back in place of what the terms have.
func (v Invoice) named(b *builder, base money.Amount) money.Amount {
	c := b.Currency()
	if v.Retention.Amount < 0 || v.Retention.Amount > base {
		b.Refuse("retention.amount", "more than is billed", c.Format(base), "What is kept back is between nil and what is billed, %s.", c.Show(base))
		return 0
	}
	if strings.TrimSpace(v.Retention.Reason) == "" {
		b.Refuse("retention.reason", "missing", "", "Say why another amount is kept back than the job's terms have.")
	}
	return v.Retention.Amount
}

// withoutBehalf leaves out what bears no tax code: costs on the customer's
// behalf, of which nothing is kept back.
func withoutBehalf(s tax.Sums) tax.Sums {
	codes := s.Codes
	s.Codes = nil
	for _, c := range codes {
		if c.Code.ID == 0 {
			s.Net -= c.Net
			continue
		}
		s.Codes = append(s.Codes, c)
	}
	return s
}

func baseOf(s tax.Sums, gross bool) money.Amount {
	if gross {
		return max(s.Net+s.Tax, 0)
	}
	return max(s.Net, 0)
}

// underCap is how much may be kept back before the job's cap is reached.
func (b *builder) underCap(job master.Job) money.Amount {
	limit, ok := b.capOf(job)
	if !ok {
		return money.Limit
	}
	before := b.facts.KeptBack(job.ID)
	so := before.Amount.Base
	if !job.RetentionGross {
		so -= before.Tax.Base
	}
	return b.Outside(max(limit-so, 0))
}

// CapLeft is how much more may be kept back of a job before its cap is reached;
// what a customer keeps back unasked may pass it, once that is confirmed.
func CapLeft(f posting.Facts, job master.Job) money.Amount { return build(f).underCap(job) }

// OverCap is how much more is held of a job's retention than its cap allows
// since a variation lowered it, with the tax inside: it is proposed for release
// (docs/rules.md, part 5).
func OverCap(f posting.Facts, job master.Job) money.Amount {
	b := build(f)
	limit, ok := b.capOf(job)
	if !ok {
		return 0
	}
	var held posting.Part
	for _, v := range b.facts.InvoicesOf(job.ID) {
		for _, i := range b.facts.RetentionOf(v.ID) {
			if i.Debit() {
				held = held.Add(i.Left)
			}
		}
	}
	base := held.Amount.Base
	if !job.RetentionGross {
		base -= held.Tax.Base
	}
	if base <= limit {
		return 0
	}
	return money.Portion(base-limit, held.Amount.Base, base)
}

// capOf is the most that may be kept back of a job, on the base of its terms;
// false where there is no cap.
func (b *builder) capOf(job master.Job) (money.Amount, bool) {
	limit := job.RetentionCap
	if !job.RetentionCapPercent.IsZero() {
		sum := b.Contract(job)
		if job.RetentionGross {
			sum = b.withTax(sum)
		}
		firm := b.Facts.Currency() // a contract's sum is in it
		limit = firm.Round(money.Percent(firm.Decimal(sum), job.RetentionCapPercent))
	}
	return limit, limit != 0 || !job.RetentionCapPercent.IsZero()
}

// withTax is a contract sum with the tax of the firm's usual code.
func (b *builder) withTax(sum money.Amount) money.Amount {
	code, rates, _ := b.TaxCode(b.facts.FirmTaxCodeID())
	percent, err := tax.RateOn(code, rates, b.Today())
	if err != nil {
		return sum
	}
	firm := b.Facts.Currency()
	return sum + firm.Round(money.Percent(firm.Decimal(sum), percent))
}

// taxedLater shares what is kept back by code, with the tax that is due when it
// is released: round(tax × retention ÷ base), on top of a net base, inside a
// gross one.
func taxedLater(b *builder, billed tax.Sums, job master.Job, r, base money.Amount) kept {
	weights, taxes := make([]money.Amount, len(billed.Codes)), make([]money.Amount, len(billed.Codes))
	for n, c := range billed.Codes {
		weights[n], taxes[n] = max(c.Net, 0), max(c.Tax, 0)
		if job.RetentionGross {
			weights[n] = max(c.Net+c.Tax, 0)
		}
	}
	later := money.Portion(r, max(billed.Tax, 0), base)
	shares, err := money.Share(r, weights)
	if err != nil {
		return kept{}
	}
	inside, err := money.Share(later, taxes)
	if err != nil { // no tax at all
		inside = make([]money.Amount, len(taxes))
	}
	var k kept
	for n, c := range billed.Codes {
		amount := shares[n]
		if !job.RetentionGross {
			amount += inside[n]
		}
		if amount != 0 {
			k.parts = append(k.parts, posting.CodePart{TaxCodeID: c.Code.ID, Part: posting.Of(amount, inside[n])})
			k.amount += amount
		}
	}
	return k
}

// open makes the items of what is kept back, one for each code and each day on
// which a share of it is expected, and takes the tax that is due later off
// output tax.
func (k kept) open(b *builder, v Invoice, p *posting.Paper) {
	job, _ := b.Job(v.JobID)
	releases := job.Releases
	if len(releases) == 0 {
		releases = []master.ReleaseShare{{}}
	}
	weights := make([]money.Amount, len(releases))
	for n, r := range releases {
		weights[n] = money.Amount(r.Percent.Shift(4).IntPart())
	}
	if len(releases) == 1 {
		weights[0] = 1
	}
	for _, part := range k.parts {
		amounts, err1 := money.Share(part.Amount.Own, weights)
		taxes, err2 := money.Share(part.Tax.Own, weights)
		if err1 != nil || err2 != nil {
			continue
		}
		worths, later := part.Amount.Spread(amounts), part.Tax.Spread(taxes)
		for n, r := range releases {
			if amounts[n] == 0 {
				continue
			}
			b.Open(posting.Item{Register: ledger.Retention, Bills: p.ID, Instalment: instalment(n, len(releases)), PartyID: v.PartyID, JobID: v.JobID, Day: v.Day, Due: expected(r, v.Day),
				Currency: p.Currency, Part: posting.Part{Amount: worths[n], Tax: later[n]}, TaxCodeID: part.TaxCodeID})
			if !b.TaxDue().Of(p.Kind) {
				b.DebitWorth(b.Role(ledger.OutputTax), later[n], ledger.Line{PartyID: v.PartyID, JobID: v.JobID, TaxCodeID: part.TaxCodeID})
			}
		}
	}
}

func instalment(n, of int) int {
	if of == 1 {
		return 0
	}
	return n + 1
}

// expected is the day on which a share of what is kept back should come; what
// should have come before the paper is due at once.
func expected(r master.ReleaseShare, paper day.Day) day.Day {
	if r.Day != "" && r.Day < paper {
		return paper
	}
	return r.Day
}
