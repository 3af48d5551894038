package settling

import (
	"cmp"
	"fmt"
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// Release makes retention payable: Dr receivables, Cr retention, and Dr
// deferred tax, Cr output tax for its portion (docs/rules.md, part 5). It is
// dated and due like an invoice, sent like one, and then settled like one.
type Release struct {
	Number    string // "" to be given the next
	PartyID   int64
	Day       day.Day
	TermsID   int64   // 0: the customer's, else the firm's
	Due       day.Day // a due day that is named; "" to count it by the terms
	Reference string
	Note      string
	Items     []Share      // what is released of each; the most of one is all that is held
	Amount    money.Amount // in place of Items: so much, oldest first
	JobID     int64        // of Amount: of this job alone; 0 for any
	Currency  string       // of Amount: ISO 4217; "" for the firm's own
}

// Plan returns the effect of the release.
func (r Release) Plan(f posting.Facts) (posting.Effect, error) {
	b := build(f)
	return b.Effect(r.plan(b))
}

func (r Release) plan(b *builder) string {
	r.inOneCurrency(b)
	dayOK := b.PostingDay("day", r.Day)
	party, partyOK := b.Customer("party", r.PartyID)
	p := posting.Paper{Kind: posting.Release, Number: r.Number, Day: r.Day, PartyID: r.PartyID, PartyName: party.Name, PartyAddress: party.Printed(), Title: "Release of retention",
		Reference: r.Reference, Note: r.Note, Billing: posting.Billing{TermsID: r.TermsID}}
	due, dueOK := r.due(b, party)
	p.Due = due
	own := b.Paper(p)
	if dayOK && partyOK && dueOK {
		r.release(b, own)
	}
	return fmt.Sprintf("Released %s that %s kept back by %s", b.Currency().Show(own.Total), party.Name, own.Number)
}

// inOneCurrency takes the currency of what is released, or that which is named
// of an amount.
func (r Release) inOneCurrency(b *builder) {
	if len(r.Items) > 0 {
		first, _ := b.Look(r.Items[0].Item)
		b.LikeItem(first)
		return
	}
	b.Like(r.Currency, decimal.Zero)
	for _, i := range r.held(b) {
		b.LikeItem(i) // at the rate of the first
		return
	}
}

// due is the day by which what is released is to be paid: as of an invoice.
func (r Release) due(b *builder, party master.Party) (day.Day, bool) {
	if r.Due != "" {
		if _, err := day.Parse(string(r.Due)); err != nil || r.Due < r.Day {
			b.Refuse("due", "before the paper", string(r.Day), "What is released cannot be due before its own day, %s.", r.Day.Show())
			return "", false
		}
		return r.Due, true
	}
	dues, _ := b.Split(r.Day, 100, party, r.TermsID)
	return dues[0].Day, true
}

// release takes each item's share out of retention, with its tax, and makes one
// item of receivables for each paper that kept it back.
func (r Release) release(b *builder, p *posting.Paper) {
	items := r.Items
	if len(items) == 0 && r.Amount != 0 {
		if items = r.oldest(b); items == nil {
			return
		}
	}
	if len(items) == 0 {
		b.Refuse("items", "missing", "", "Choose what is released of what this customer keeps back.")
	}
	type place struct{ bills, job, code int64 }
	sums := map[place]posting.Part{}
	var order []place
	for n, s := range items {
		field := "items[0].amount"
		if len(r.Items) > 0 {
			field = fmt.Sprintf("items[%d].amount", n)
		}
		kept, amount, ok := r.share(b, field, s)
		if !ok {
			continue
		}
		part, code := releaseOut(b, field, kept, amount, r.Day)
		at := place{kept.Bills, kept.JobID, code}
		if sums[at] == (posting.Part{}) {
			order = append(order, at)
		}
		sums[at] = sums[at].Add(part)
		p.Total, p.Base = p.Total+amount, p.Base+part.Amount.Base
		if p.JobID = kept.JobID; len(order) > 1 && order[0].job != kept.JobID {
			p.JobID = 0
		}
	}
	for _, at := range order {
		b.Open(posting.Item{Register: ledger.Receivables, Bills: at.bills, PartyID: r.PartyID, JobID: at.job, Day: r.Day, Due: p.Due, Currency: b.Code(), Part: sums[at], TaxCodeID: at.code})
	}
}

// share is one item and how much of it is released.
func (r Release) share(b *builder, field string, s Share) (kept posting.Item, amount money.Amount, ok bool) {
	kept, ok = b.Look(s.Item)
	switch {
	case !ok || kept.Register != ledger.Retention || !kept.Debit():
		b.Refuse(field, "missing", "", "Choose what is kept back.")
		return kept, 0, false
	case kept.PartyID != r.PartyID:
		owner, _ := b.Party(kept.PartyID)
		b.Refuse(field, "another customer's retention", kept.Number, "%s was kept back by %s. Choose what this customer keeps back.", kept.Number, owner.Name)
		return kept, 0, false
	case kept.Currency != b.Code():
		b.Refuse(field, "another currency", "", "%s is in another currency. Release what is kept back in one currency at a time.", kept.Number)
		return kept, 0, false
	case r.Day < kept.Day:
		b.Refuse("day", "before the paper", string(kept.Day), "%s is dated %s, so nothing of it is released before. Use that day or later.", kept.Number, kept.Day.Show())
		return kept, 0, false
	}
	if amount = s.Amount; s.Most {
		amount = b.OpenFrom(kept, r.Day)
	}
	ok = b.AmountAboveNil(field, amount, "what is released of "+kept.Number) && b.Within(field, kept, amount, r.Day)
	return kept, amount, ok
}

// held are the items of what the customer keeps back on the day, of the job
// where one is named.
func (r Release) held(b *builder) []posting.Item {
	return slices.DeleteFunc(b.facts.KeptBackBy(r.PartyID, r.Day), func(i posting.Item) bool {
		return !i.Debit() || i.Currency != b.Code() || (r.JobID != 0 && i.JobID != r.JobID)
	})
}

// oldest shares an amount over what is held, the earliest expected first.
func (r Release) oldest(b *builder) []Share {
	held := r.held(b)
	slices.SortStableFunc(held, func(x, y posting.Item) int {
		return cmp.Or(cmp.Compare(expectedOf(x), expectedOf(y)), cmp.Compare(x.Day, y.Day), cmp.Compare(x.ID, y.ID))
	})
	left := r.Amount
	var items []Share
	for _, i := range held {
		if take := min(left, b.OpenFrom(i, r.Day)); take > 0 {
			items = append(items, Share{Item: i.ID, Amount: take})
			left -= take
		}
	}
	if c := b.Currency(); left > 0 || r.Amount < 0 {
		b.Refuse("amount", "more than is held", c.Format(r.Amount-left), "Only %s is kept back, not %s. Release %s or less.", c.Show(r.Amount-left), c.Show(r.Amount), c.Show(r.Amount-left))
		return nil
	}
	return items
}

// expectedOf sorts what has no day last.
func expectedOf(i posting.Item) day.Day {
	if i.Due == "" {
		return day.EndOfTime
	}
	return i.Due
}

// releaseOut takes an amount of what was kept back out of its register, with
// the tax inside, which is due from now on; where a firm owes its tax when it is
// paid, it goes along into what is owed. It returns what is owed, and the code of
// the tax inside.
func releaseOut(b *builder, field string, kept posting.Item, amount money.Amount, d day.Day) (owed posting.Part, code int64) {
	gone := b.Taken(kept, amount, d)
	if owed = (posting.Part{Amount: gone.Amount}); b.TaxDue().WhenPaid {
		owed, code = gone, kept.TaxCodeID
	} else {
		b.CreditWorth(b.Role(ledger.OutputTax), gone.Tax, ledger.Line{Currency: kept.Currency, PartyID: kept.PartyID, TaxCodeID: kept.TaxCodeID})
	}
	out := b.Open(posting.Item{Register: ledger.Retention, Nature: posting.Closing, PartyID: kept.PartyID, JobID: kept.JobID, Day: d, Currency: kept.Currency, Part: gone.Neg(), TaxCodeID: kept.TaxCodeID})
	b.Allocate(field, kept.ID, out, amount, d)
	return owed, code
}
