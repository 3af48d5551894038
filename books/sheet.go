package books

import (
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/core/sheet"
	"cleantally/core/tax"
	"cleantally/store"
)

// Sheet is a posted paper as it goes out, with what is left of it at the end of
// a day, and the letterhead that it goes out in. It returns store.ErrNoRecord.
func Sheet(r *store.Reader, id int64, at day.Day) (sheet.Sheet, sheet.Letterhead, error) {
	d, head, err := sheetData(r, id, at)
	if err != nil {
		return sheet.Sheet{}, head, err
	}
	d.Words = head.Words
	return sheet.Of(d), head, nil
}

func sheetData(r *store.Reader, id int64, at day.Day) (d sheet.Data, head sheet.Letterhead, err error) {
	row, ok, err := r.PaperRow(id, at)
	if err != nil {
		return d, head, err
	}
	if !ok {
		return d, head, store.ErrNoRecord
	}
	p, _, err := r.Paper(id)
	if err != nil {
		return d, head, err
	}
	if head, err = letterheadFor(r, p); err != nil {
		return d, head, err
	}
	if d, err = sheetFirm(r); err != nil {
		return d, head, err
	}
	d.Paper, d.Address, d.Open, d.Left, d.Cancelled = p.AsRead(), p.PartyAddress, row.Open.Abs(), p.Total-row.Taken, row.Cancelled
	if p.Currency != "" {
		d.Firms, d.Currency = d.Currency, d.Currency.In(p.Currency)
		whole := posting.Worth{Own: p.Total, Base: p.Base}
		d.Open, d.Left, d.Cancelled = row.OwnOpen.Abs(), p.Total-whole.Outside(row.Taken), whole.Outside(row.Cancelled)
	}
	if d.Account, err = accountFor(r, d.Firm.Name, p.Currency); err != nil {
		return d, head, err
	}
	if row.ReversedBy != "" {
		d.State = "reversed"
	}
	for _, fill := range []func(*store.Reader, *sheet.Data, posting.Paper, day.Day) error{sheetRecords, sheetMoney, sheetLinks, sheetEvents} {
		if err := fill(r, &d, p, at); err != nil {
			return d, head, err
		}
	}
	return d, head, nil
}

// sheetFirm is what every sheet of the firm has.
func sheetFirm(r *store.Reader) (sheet.Data, error) {
	firm, err := r.Firm()
	if err != nil {
		return sheet.Data{}, err
	}
	cur, err := r.Currency()
	if err != nil {
		return sheet.Data{}, err
	}
	d := sheet.Data{Firm: sheet.Address{Name: firm.Name, Lines: firm.Address}, TaxNumber: firm.TaxNumber, Style: firm.DateStyle, Currency: cur}
	d.Account, err = accountFor(r, firm.Name, "")
	return d, err
}

// accountFor is the bank account that customers pay to what is in a currency: the
// first in it, else the first in the firm's own.
func accountFor(r *store.Reader, owner, currency string) (found *sheet.Account, err error) {
	banks, err := store.All[ledger.BankAccount](r, "id")
	for _, b := range banks {
		if b.IBAN == "" || b.Inactive || b.Currency != currency && (b.Currency != "" || found != nil) {
			continue
		}
		found = &sheet.Account{Owner: owner, Name: b.Name, IBAN: b.IBAN}
		if b.Currency == currency {
			break
		}
	}
	return found, err
}

// sheetRecords fills in what the records say: the job, the bank, the accounts.
func sheetRecords(r *store.Reader, d *sheet.Data, p posting.Paper, _ day.Day) error {
	if b, ok, err := store.Find[ledger.BankAccount](r, p.BankAccountID); err != nil {
		return err
	} else if ok {
		d.Bank = b.Name
	}
	if j, ok, err := store.Find[master.Job](r, p.JobID); err != nil {
		return err
	} else if ok {
		d.Job = j.Number + " " + j.Name
	}
	codes, err := r.TaxCodes()
	if err != nil {
		return err
	}
	for _, c := range codes {
		if c.Kind == tax.CustomerAccountsIt && slices.ContainsFunc(p.Lines, func(l posting.PaperLine) bool { return l.TaxCodeID == c.ID }) {
			d.Sentences = []string{tax.Sentence}
		}
	}
	d.Deducts, err = r.Deducts()
	return err
}

// sheetMoney fills in what is open, by parts, and what is set against it.
func sheetMoney(r *store.Reader, d *sheet.Data, p posting.Paper, at day.Day) error {
	var err error
	if d.Items, err = r.ItemsOf(p.ID, at); err != nil {
		return err
	}
	if d.Disputed, err = r.DisputeOf(p.ID, at); err != nil {
		return err
	}
	if p.Kind == posting.Payout {
		cleared, err := r.ClearedBy(p.ID)
		for _, c := range cleared {
			d.Cleared = append(d.Cleared, sheet.Cleared{Number: c.Number, Day: c.Day, Party: c.Party, Amount: c.Amount})
		}
		if err != nil {
			return err
		}
	}
	allocations, err := r.AllocationsOf(p.ID, at)
	if err != nil {
		return err
	}
	for _, a := range allocations {
		if a.UndoneOn != "" || a.TakesBack() {
			continue
		}
		t := a.Turned()
		s := sheet.Settled{Currency: a.Currency, Amount: a.Amount, Day: a.Day, Bound: a.Bound(), Other: t.Credit, OtherKind: t.CreditKind, OtherDay: t.CreditDay, Reference: t.CreditRef, Credit: true}
		if t.CreditID == p.ID {
			s.Other, s.OtherKind, s.OtherDay, s.Reference, s.Credit = t.Debit, t.DebitKind, t.DebitDay, t.DebitRef, t.DebitID == p.ID
		}
		d.Settled = append(d.Settled, s)
	}
	if p.Deducted == 0 && p.EarlyUntil == "" {
		return nil
	}
	facts, err := r.Facts(at)
	if err != nil {
		return err
	}
	if p.EarlyUntil != "" {
		d.Early = settling.EarlyDiscount(facts, p)
	}
	var advances []int64
	for _, u := range facts.UsesBy(p.ID) {
		if u.As == posting.Deducted && u.Undoes == 0 && !slices.Contains(advances, u.Of.PaperID) {
			advances = append(advances, u.Of.PaperID)
		}
	}
	for _, id := range advances {
		of, _, err := r.PaperRow(id, at)
		if err != nil {
			return err
		}
		if of.Open > 0 {
			open := of.Open
			if of.Currency != "" {
				open = of.OwnOpen
			}
			d.Unpaid = append(d.Unpaid, sheet.Advance{Number: of.Number, Open: open})
		}
	}
	return facts.Err()
}

// sheetLinks fills in the papers that it stands on and takes back.
func sheetLinks(r *store.Reader, d *sheet.Data, p posting.Paper, _ day.Day) error {
	links, err := r.LinksOf(p.ID)
	for _, l := range links {
		switch l.ID {
		case p.ReversesID:
			d.Reverses = l.Number
		case p.SourceID:
			d.Source = l.Number
		}
	}
	return err
}

// sheetEvents fills in what was completed since it was posted.
func sheetEvents(r *store.Reader, d *sheet.Data, p posting.Paper, at day.Day) error {
	noted, err := r.EventsOf(p.ID, at)
	for _, e := range noted {
		switch e.Event {
		case Addressed:
			d.Address = e.Text
		case Signed:
			on := e.Day
			if e.Until != "" {
				on = e.Until
			}
			d.Signed = &sheet.Signed{By: strings.TrimSpace(e.Text), On: on}
		}
	}
	return err
}
