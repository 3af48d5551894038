package posting

import (
	"slices"

	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/tax"
)

// TaxDue says when a firm's output tax falls due (docs/rules.md, part 9, tax
// day): when it is billed, unless it says otherwise.
type TaxDue struct {
	WhenPaid         bool // all of it when it is paid
	AdvancesWhenPaid bool // that of deposit invoices
}

// How a firm says when its output tax falls due.
const (
	DueBilled       = "billed"
	DueAdvancesPaid = "advances paid" // of deposit invoices when they are paid
	DuePaid         = "paid"
)

// TaxDueAs returns what one of these says; "" says that it is when it is billed.
func TaxDueAs(said string) TaxDue { return TaxDue{said == DuePaid, said == DueAdvancesPaid} }

// Of tells whether the tax of what a kind of paper bills falls due when it is
// paid.
func (t TaxDue) Of(k Kind) bool { return t.WhenPaid || t.AdvancesWhenPaid && k == DepositInvoice }

// OutputTax is the role of the account that the tax of what a kind of paper bills
// goes to: output tax, or tax when paid.
func (b *Builder) OutputTax(k Kind) ledger.Role {
	if b.TaxDue().Of(k) {
		return ledger.TaxWhenPaid
	}
	return ledger.OutputTax
}

// A Later is the tax of a paper that falls due when its items are settled: they
// bear it inside.
type Later struct {
	Tax    Worth // without its sign
	Credit bool  // of a paper that credits
	Code   int64 // where all of it is of one; 0 for several
}

// Later is what of the tax of a paper falls due when it is paid: by code, what
// stands on the same side as the paper. Sign is 1 for what is billed, −1 for
// what is credited. What takes off on the other side counts at once.
func (b *Builder) Later(k Kind, taxes map[int64]Worth, sign money.Amount) (l Later) {
	if !b.TaxDue().Of(k) {
		return l
	}
	l.Credit = sign < 0
	n := 0
	for code, amount := range taxes {
		if sign*amount.Own > 0 {
			l.Tax, l.Code = l.Tax.Add(amount.times(sign)), code
			n++
		}
	}
	if n > 1 {
		l.Code = 0
	}
	return l
}

// Less is what is left of it without what other items bear.
func (l Later) Less(tax Worth) Later {
	if l != (Later{}) {
		l.Tax = l.Tax.Add(tax.Neg())
	}
	return l
}

// TaxesOf are the taxes of a paper by code, as its sums have them; in another
// currency worth what its lines come to.
func TaxesOf(p *Paper, s tax.Sums) map[int64]Worth {
	taxes := map[int64]Worth{}
	for _, c := range s.Codes {
		w := Firm(c.Tax)
		if p.Currency != "" {
			w.Base = 0
			for _, l := range p.Lines {
				if l.TaxCodeID == c.Code.ID {
					w.Base += l.Tax.Base
				}
			}
		}
		taxes[c.Code.ID] = taxes[c.Code.ID].Add(w)
	}
	return taxes
}

// OpenLater opens items of a paper that share the tax which falls due later, by
// portions. What no item can bear, of a paper of which nothing is left to pay,
// is due at once.
func (b *Builder) OpenLater(items []Item, l Later, at ledger.Line) []ItemRef {
	var whole Part
	for _, i := range items {
		whole = whole.Add(signed(i.Part, i.Sign()))
	}
	if over := l.Tax.Own - max(min(l.Tax.Own, whole.Amount.Own), 0); over != 0 {
		due := l.Tax.some(over)
		l.Tax = l.Tax.Add(due.Neg())
		if at.TaxCodeID = l.Code; l.Credit {
			due = due.Neg()
		}
		b.CreditWorth(b.Role(ledger.OutputTax), due, at)
	}
	whole.Tax = l.Tax
	refs := make([]ItemRef, len(items))
	for n, i := range items {
		if l.Tax.Own != 0 {
			own := i.Part
			i.Part, i.TaxCodeID = signed(whole.Take(i.Sign()*own.Amount.Own), i.Sign()), l.Code
			i.Amount = own.Amount
			whole = whole.Sub(signed(i.Part, i.Sign()))
		}
		refs[n] = b.Open(i)
	}
	return refs
}

// fallsDue tells whether tax falls due by an allocation within receivables that
// moves the same of both: unless it is bound to what it settles, which was given
// the tax inside, or both bear the same tax.
func (b *Builder) fallsDue(di, ci Item, moved Part) bool {
	if moved.Tax.Own == 0 || di.Register != ledger.Receivables {
		return false
	}
	return di.Nature.takesTax() && ci.Nature.takesTax() && (di.TaxCodeID != ci.TaxCodeID || di.TaxCodeID == 0)
}

// takesTax tells whether tax falls due by what an item of this nature settles, or
// when it is settled: what is bound to another was given the tax inside that.
func (n Nature) takesTax() bool { return n == Plain || n == Beside }

// TaxFallsDue enters tax inside what is owed as due: Cr output tax, by code;
// below nil the other way round. It is called once what it is of has moved. Of
// several codes each takes what the whole that is due so far comes to, less what
// it came to before, so that the last leaves nothing.
func (b *Builder) TaxFallsDue(i Item, due Worth) {
	if due == (Worth{}) || i.Register != ledger.Receivables {
		return
	}
	at := ledger.Line{Currency: i.Currency, PartyID: i.PartyID, JobID: i.JobID, TaxCodeID: i.TaxCodeID}
	codes, taxes := b.codesInside(i)
	if len(codes) == 0 {
		b.CreditWorth(b.Role(ledger.OutputTax), due, at)
		return
	}
	after := i.Tax.times(i.Sign()).Add(b.LeftFrom(i, i.Day).End.Tax.Neg())
	before := after.Add(due.times(-i.Sign()))
	var all, sum Worth
	for _, t := range taxes {
		all = all.Add(t)
	}
	share := func(of, through Worth) Worth {
		return Worth{money.Portion(through.Own, of.Own, all.Own), money.Portion(through.Base, of.Base, all.Base)}
	}
	for n, code := range codes {
		next := sum.Add(taxes[n])
		amount := share(after, next).Add(share(after, sum).Neg()).Add(share(before, sum)).Add(share(before, next).Neg())
		sum = next
		at.TaxCodeID = code
		b.CreditWorth(b.Role(ledger.OutputTax), amount.times(i.Sign()), at)
	}
}

// codesInside are the codes of the tax inside an item that bears several, as the
// paper bills them whose lines it is a part of, or which made it. What takes off
// was due at once, so that it is not inside.
func (b *Builder) codesInside(i Item) (codes []int64, taxes []Worth) {
	if i.TaxCodeID != 0 {
		return nil, nil
	}
	of := i.Bills
	if of == 0 {
		of = i.PaperID
	}
	paper, _ := b.PaperOf(of)
	for _, l := range paper.Lines {
		at := slices.Index(codes, l.TaxCodeID)
		if at < 0 {
			at = len(codes)
			codes, taxes = append(codes, l.TaxCodeID), append(taxes, Worth{})
		}
		taxes[at] = taxes[at].Add(l.Tax.times(i.Sign()))
	}
	for n := len(codes) - 1; n >= 0; n-- {
		if taxes[n].Own <= 0 {
			codes, taxes = slices.Delete(codes, n, n+1), slices.Delete(taxes, n, n+1)
		}
	}
	return codes, taxes
}
