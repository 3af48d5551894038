package settling

import (
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Guarantee is what a bank or an insurer promises the customer in the place of
// retention, until its last day (docs/rules.md, part 5). It posts nothing; what
// is kept back is released in the same step, as far as it covers that.
type Guarantee struct {
	Number    string // "" to be given the next
	PartyID   int64
	JobID     int64
	Day       day.Day
	LastDay   day.Day
	Issuer    string // who promises it
	Reference string // the issuer's own number
	Note      string
	Amount    money.Amount
	Release   bool // what is kept back is released, the oldest first, up to the amount
}

// Plan returns the effect of the guarantee.
func (g Guarantee) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	dayOK := b.PostingDay("day", g.Day)
	party, partyOK := b.Customer("party", g.PartyID)
	b.JobOf("job", g.JobID, g.PartyID)
	g.Issuer = strings.TrimSpace(g.Issuer)
	if g.Issuer == "" {
		b.Refuse("issuer", "missing", "", "Say who promises it: a bank, an insurer.")
	}
	if _, err := day.Parse(string(g.LastDay)); err != nil {
		b.Refuse("lastDay", "no such day", "", "Say its last day, such as %s.", g.Day.Add(365).Show())
	} else if g.LastDay < g.Day {
		b.Refuse("lastDay", "before the paper", string(g.Day), "Its last day is not before %s, when it is handed over.", g.Day.Show())
	}
	b.AmountAboveNil("amount", g.Amount, "the amount of a guarantee")
	p := b.Paper(posting.Paper{Kind: posting.Guarantee, Number: g.Number, Day: g.Day, PartyID: g.PartyID, PartyName: party.Name, PartyAddress: party.Printed(), JobID: g.JobID, Title: "Guarantee of " + g.Issuer,
		Reference: strings.TrimSpace(g.Reference), Note: g.Note, Total: g.Amount, Billing: posting.Billing{Due: g.LastDay}})
	told := fmt.Sprintf("Guarantee %s of %s for %s, %s, through %s", p.Number, g.Issuer, party.Name, b.Currency().Show(g.Amount), g.LastDay.Show())
	if g.Release && dayOK && partyOK && !b.Refused() {
		g.release(b, p)
	}
	return b.Effect(told)
}

// release makes payable what is kept back, up to the guarantee.
func (g Guarantee) release(b *builder, p *posting.Paper) {
	r := Release{PartyID: g.PartyID, JobID: g.JobID, Day: g.Day, Reference: p.Number}
	var held money.Amount
	for _, i := range r.held(b) {
		held += b.OpenFrom(i, g.Day)
	}
	if held == 0 {
		b.Refuse("release", "nothing is held", b.Currency().Format(0), "Nothing is kept back of this, so nothing is released. Leave that out.")
		return
	}
	r.Amount = min(held, g.Amount)
	r.plan(b)
}
