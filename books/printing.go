package books

import (
	"context"
	"fmt"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/sheet"
	"cleantally/formats/pdf"
	"cleantally/store"
)

// Printed is a file to print or to send.
type Printed struct {
	Name    string
	File    []byte
	Missing string // letters that could not be printed
}

// Print makes a PDF of posted papers, each on pages of its own, with what is left
// of them at the end of a day. It returns store.ErrNoRecord.
func (b *Book) Print(ctx context.Context, ids []int64, at day.Day) (Printed, error) {
	var sheets []pdf.Page
	var firm store.Firm
	err := b.db.Snapshot(ctx, func(r *store.Reader) error {
		var err error
		if firm, err = r.Firm(); err != nil {
			return err
		}
		for _, id := range ids {
			s, head, err := Sheet(r, id, at)
			if err != nil {
				return err
			}
			sheets = append(sheets, pdf.Page{Sheet: s, Head: head})
		}
		return nil
	})
	if err != nil {
		return Printed{}, err
	}
	file, missing, err := pdf.Write(sheets, firm.NumberStyle, b.clock())
	name := fmt.Sprintf("%d papers.pdf", len(sheets))
	if len(sheets) == 1 {
		name = fmt.Sprintf("%s %s.pdf", sheets[0].Heading, sheets[0].Number)
	}
	return Printed{name, file, missing}, err
}

// PrintDraft makes a PDF, marked as a draft, of what would be posted of one. It
// returns posting.Refusals where there is nothing to print yet.
func (b *Book) PrintDraft(ctx context.Context, draft int64, c posting.Command) (Printed, error) {
	effect, _, err := b.Preview(ctx, c, How{Draft: draft})
	if err != nil {
		return Printed{}, err
	}
	p := effect.Paper()
	if p == nil {
		return Printed{}, posting.Refusals{{Field: "draft", Rule: "missing", Text: "There is nothing to print yet. Write what it is for first."}}
	}
	var page pdf.Page
	var firm store.Firm
	err = b.db.Snapshot(ctx, func(r *store.Reader) error {
		if firm, err = r.Firm(); err != nil {
			return err
		}
		page, err = draftPage(r, effect, b.Today())
		return err
	})
	if err != nil {
		return Printed{}, err
	}
	file, missing, err := pdf.Write([]pdf.Page{page}, firm.NumberStyle, b.clock())
	return Printed{fmt.Sprintf("%s, draft.pdf", page.Heading), file, missing}, err
}

// draftPage is the sheet of what would be posted: its items, and what would be
// set against them, are those of the effect.
func draftPage(r *store.Reader, effect posting.Effect, today day.Day) (page pdf.Page, err error) {
	p := *effect.Paper()
	if page.Head, err = letterheadFor(r, p); err != nil {
		return page, err
	}
	d, err := sheetFirm(r)
	if err != nil {
		return page, err
	}
	d.Paper, d.Address, d.Left, d.Draft, d.Words = p.AsRead(), p.PartyAddress, p.Total, true, page.Head.Words
	// A draft has no number yet, and is not paid.
	d.Paper.Number, d.Account = "", nil
	if err := sheetRecords(r, &d, p, today); err != nil {
		return page, err
	}
	facts, err := r.Facts(today)
	if err != nil {
		return page, err
	}
	own := map[posting.ItemRef]bool{}
	for _, i := range effect.Items {
		if i.PaperID != p.ID {
			continue
		}
		own[i.ID] = true
		i.Left = i.Part
		for _, a := range effect.Allocations {
			if a.Debit == i.ID {
				i.Left.Amount = i.Left.Amount.Add(posting.Firm(-a.Amount))
			}
		}
		d.Items = append(d.Items, i)
		if i.Register == ledger.Receivables {
			d.Open += i.Left.Amount.Own.Abs()
		}
	}
	for _, a := range effect.Allocations {
		if !own[a.Debit] {
			continue
		}
		if i, known := facts.Item(a.Credit); known {
			d.Settled = append(d.Settled, sheet.Settled{Amount: a.Amount, Day: a.Day, Other: i.Number, OtherKind: i.Kind, OtherDay: i.Day, Credit: true})
		}
	}
	page.Sheet = sheet.Of(d)
	return page, facts.Err()
}

// ChequeAmount is what a cheque is of, with the currency of its account, "" for the
// firm's: the paper's total, or, where that is in another, what left the account.
func ChequeAmount(r *store.Reader, c store.LooseEnd, today day.Day) (money.Amount, string, error) {
	p, _, err := r.Paper(c.PaperID)
	if err != nil {
		return 0, "", err
	}
	bank, _, err := store.Find[ledger.BankAccount](r, p.BankAccountID)
	switch {
	case err != nil || p.Currency == "" && bank.Currency == "":
		return c.Open, "", err
	case p.Currency == bank.Currency:
		return p.AsRead().Total.Abs(), bank.Currency, nil
	}
	facts, err := r.Facts(today)
	if err != nil {
		return 0, "", err
	}
	var sum money.Amount
	for _, m := range facts.PaperMovements(p.ID) {
		if m.BankAccountID == bank.ID {
			sum -= m.Amount
		}
	}
	return sum, bank.Currency, facts.Err()
}

// PrintCheques makes a PDF of cheques with their slips, on plain paper or on the
// form of their account. It returns posting.Refusals for a paper that is paid by
// none.
func (b *Book) PrintCheques(ctx context.Context, papers []int64) (Printed, error) {
	var all []pdf.Cheque
	var marks money.Marks
	err := b.db.Snapshot(ctx, func(r *store.Reader) error {
		firm, err := r.Firm()
		if err != nil {
			return err
		}
		cur, err := r.Currency()
		if err != nil {
			return err
		}
		rows, err := r.Cheques(papers)
		if err == nil && len(rows) < len(papers) {
			err = posting.Refusals{{Field: "ids", Rule: "no cheque", Text: "One of these is paid by no cheque, or was reversed."}}
		}
		if err != nil {
			return err
		}
		marks = firm.NumberStyle
		for _, c := range rows {
			slip, _, err := Sheet(r, c.PaperID, b.Today())
			if err != nil {
				return err
			}
			p, _, err := r.Paper(c.PaperID)
			if err != nil {
				return err
			}
			bank, _, err := store.Find[ledger.BankAccount](r, p.BankAccountID)
			if err != nil {
				return err
			}
			amount, code, err := ChequeAmount(r, c, b.Today())
			if err != nil {
				return err
			}
			in := cur.In(code)
			all = append(all, pdf.Cheque{Number: c.Cheque, Day: firm.DateStyle.Show(c.Day), Payee: c.Party, Amount: marks.Show(in.Format(amount)), Words: in.Words(amount), Bank: bank.Name, Slip: slip,
				Form: bank.ChequeForm, Right: float64(bank.ChequeRight), Down: float64(bank.ChequeDown)})
		}
		return nil
	})
	if err != nil {
		return Printed{}, err
	}
	file, missing, err := pdf.Cheques(all, marks, b.clock())
	name := "Cheques.pdf"
	if len(all) == 1 {
		name = "Cheque " + all[0].Number + ".pdf"
	}
	return Printed{name, file, missing}, err
}
