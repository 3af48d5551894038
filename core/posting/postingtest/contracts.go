package postingtest

import (
	"cmp"
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// StandsOn answers billing.Facts.
func (b *Book) StandsOn(paperID int64, kind posting.Kind) []posting.Paper {
	return where(b.Papers, func(p posting.Paper) bool {
		_, reversed := b.ReversedBy(p.ID)
		return p.SourceID == paperID && p.Kind == kind && !reversed
	})
}

// Agreed answers billing.Facts.
func (b *Book) Agreed(job int64) money.Amount {
	var sum money.Amount
	for _, p := range b.Papers {
		if _, reversed := b.ReversedBy(p.ID); p.JobID != job || !agrees(p.Kind) || reversed {
			continue
		}
		sum += p.Firms().Net
		over := map[int]money.Amount{} // billed beyond what stands of a line
		for _, l := range p.Lines {
			over[l.Position] = -l.Net.Base
		}
		for _, u := range b.Uses(p.ID) {
			switch u.As {
			case posting.Cancelled:
				sum -= u.Amount.Base - u.Tax.Base
				over[u.Of.Position] += u.Amount.Base - u.Tax.Base
			case posting.Billed:
				over[u.Of.Position] += u.Amount.Base - u.Tax.Base
			}
		}
		for _, o := range over {
			sum += max(o, 0)
		}
	}
	return sum
}

// OrdersOf answers billing.Facts.
func (b *Book) OrdersOf(job int64) []posting.Paper { return b.ofJob(job, posting.Order) }

// InvoicesOf answers billing.Facts.
func (b *Book) InvoicesOf(job int64) []posting.Paper { return b.ofJob(job, posting.Invoice) }

// AdvancesOf answers billing.Facts.
func (b *Book) AdvancesOf(job int64) []posting.Paper { return b.ofJob(job, posting.DepositInvoice) }

func (b *Book) ofJob(job int64, kind posting.Kind) []posting.Paper {
	found := where(b.Papers, func(p posting.Paper) bool {
		_, reversed := b.ReversedBy(p.ID)
		return p.JobID == job && p.Kind == kind && !reversed
	})
	slices.SortStableFunc(found, func(x, y posting.Paper) int { return cmp.Compare(x.Day, y.Day) })
	return found
}

// Said answers billing.Facts.
func (b *Book) Said(paper int64, event string) (string, bool) {
	text, said := b.Lost[paper]
	return text, said && event == "lost"
}

func agrees(k posting.Kind) bool {
	d, _ := posting.Describe(k)
	return d.Agrees
}

// Overdue answers billing.Facts.
func (b *Book) Overdue(party int64, through day.Day) []posting.Item {
	return where(b.Open, func(i posting.Item) bool {
		of, _ := b.Paper(i.PaperID)
		return i.Register == ledger.Receivables && i.PartyID == party && i.Day <= through && (i.Nature == posting.Plain || i.Nature == posting.Beside) && (i.Credit() || i.Due < through && of.Form != "late charge")
	})
}

// FirmNote answers billing.Facts.
func (b *Book) FirmNote() string { return "" }

// RetentionOf answers billing.Facts.
func (b *Book) RetentionOf(paper int64) []posting.Item {
	return where(b.Open, func(i posting.Item) bool { return i.Register == ledger.Retention && i.Bills == paper })
}

// KeptBack answers billing.Facts, in the firm's currency.
func (b *Book) KeptBack(job int64) posting.Part {
	var sum posting.Part
	for _, i := range b.Open {
		if i.Register == ledger.Retention && i.JobID == job && i.Nature != posting.Closing && i.Nature != posting.OfWriteOff {
			sum = sum.Add(i.Part)
		}
	}
	return posting.Of(sum.Amount.Base, sum.Tax.Base)
}

// OpenAbroad answers closing.AbroadFacts.
func (b *Book) OpenAbroad(d day.Day) []posting.Item {
	var all []posting.Item
	for _, i := range b.Open {
		i.Left = posting.Part{}
		for _, m := range b.Moves {
			if m.Item == i.ID && m.Day <= d {
				i.Left = i.Left.Add(m.Part)
			}
		}
		if i.Currency != "" && i.Left.Amount.Own != 0 {
			i.Number, i.Kind = b.Papers[i.PaperID-1].Number, b.Papers[i.PaperID-1].Kind
			all = append(all, i)
		}
	}
	return all
}

// BanksAbroad answers closing.AbroadFacts.
func (b *Book) BanksAbroad() []ledger.BankAccount {
	var all []ledger.BankAccount
	for _, bank := range b.Banks {
		if bank.Currency != "" {
			all = append(all, bank)
		}
	}
	return all
}

// RevaluedOn answers closing.AbroadFacts.
func (b *Book) RevaluedOn(d day.Day) (string, bool) {
	for _, p := range b.Papers {
		if _, reversed := b.ReversedBy(p.ID); p.Kind == posting.Revaluation && p.Day == d && !reversed {
			return p.Number, true
		}
	}
	return "", false
}
