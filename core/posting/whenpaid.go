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
	Tax    money.Amount // without its sign
	Credit bool         // of a paper that credits
	Code   int64        // where all of it is of one; 0 for several
}

// Later is what of the tax of a paper falls due when it is paid: by code, what
// stands on the same side as the paper. Sign is 1 for what is billed, −1 for
// what is credited. What takes off on the other side counts at once.
func (b *Builder) Later(k Kind, taxes map[int64]money.Amount, sign money.Amount) (l Later) {
	if !b.TaxDue().Of(k) {
		return l
	}
	l.Credit = sign < 0
	n := 0
	for code, amount := range taxes {
		if sign*amount > 0 {
			l.Tax, l.Code = l.Tax+sign*amount, code
			n++
		}
	}
	if n > 1 {
		l.Code = 0
	}
	return l
}

// Less is what is left of it without what other items bear.
func (l Later) Less(tax money.Amount) Later {
	if l != (Later{}) {
		l.Tax -= tax
	}
	return l
}

// ByCode are the taxes of sums by their codes.
func ByCode(s tax.Sums) map[int64]money.Amount {
	taxes := map[int64]money.Amount{}
	for _, c := range s.Codes {
		taxes[c.Code.ID] += c.Tax
	}
	return taxes
}

// inside is the part that an amount takes of a whole with the tax that falls due
// later, and what is left of it.
func (l Later) inside(amount, whole money.Amount) (Part, Later) {
	p := Of(whole, l.Tax).Take(amount)
	l.Tax -= p.Tax.Own
	return p, l
}

// OpenLater opens items of a paper that share the tax which falls due later, by
// portions. What no item can bear, of a paper of which nothing is left to pay,
// is due at once.
func (b *Builder) OpenLater(items []Item, l Later, at ledger.Line) []ItemRef {
	var whole money.Amount
	for _, i := range items {
		whole += i.Sign() * i.Amount.Own
	}
	if over := l.Tax - max(min(l.Tax, whole), 0); over != 0 {
		l.Tax -= over
		if at.TaxCodeID = l.Code; l.Credit {
			over = -over
		}
		b.Credit(b.Role(ledger.OutputTax), over, at)
	}
	refs := make([]ItemRef, len(items))
	for n, i := range items {
		if l.Tax != 0 {
			amount := i.Sign() * i.Amount.Own
			var p Part
			p, l = l.inside(amount, whole)
			whole -= amount
			i.Part, i.TaxCodeID = signed(p, i.Sign()), l.Code
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
	if due.Base == 0 || i.Register != ledger.Receivables {
		return
	}
	at := ledger.Line{AccountID: b.Role(ledger.OutputTax).ID, PartyID: i.PartyID, JobID: i.JobID, TaxCodeID: i.TaxCodeID}
	codes, taxes := b.codesInside(i)
	if len(codes) == 0 {
		at.Amount = -due.Base
		b.enter(at)
		return
	}
	after := i.Sign()*i.Tax.Own - b.LeftFrom(i, i.Day).End.Tax.Own
	before := after - i.Sign()*due.Own
	var all, sum money.Amount
	for _, t := range taxes {
		all += t
	}
	share := func(of, through money.Amount) money.Amount { return money.Portion(through, of, all) }
	for n, code := range codes {
		next := sum + taxes[n]
		amount := share(after, next) - share(after, sum) - (share(before, next) - share(before, sum))
		sum = next
		at.TaxCodeID, at.Amount = code, -i.Sign()*amount
		b.enter(at)
	}
}

// codesInside are the codes of the tax inside an item that bears several, as the
// paper bills them whose lines it is a part of, or which made it. What takes off
// was due at once, so that it is not inside.
func (b *Builder) codesInside(i Item) (codes []int64, taxes []money.Amount) {
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
			codes, taxes = append(codes, l.TaxCodeID), append(taxes, 0)
		}
		taxes[at] += i.Sign() * l.Tax.Base
	}
	for n := len(codes) - 1; n >= 0; n-- {
		if taxes[n] <= 0 {
			codes, taxes = slices.Delete(codes, n, n+1), slices.Delete(taxes, n, n+1)
		}
	}
	return codes, taxes
}
