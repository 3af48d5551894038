package bankfile

import (
	"bytes"
	"fmt"
	"strings"

	"cleantally/core/day"
	"cleantally/core/money"

	"github.com/aclindsa/ofxgo"
)

// IsOFX tells whether a file looks like OFX.
func IsOFX(file []byte) bool {
	head := bytes.ToUpper(file[:min(len(file), 4096)])
	return bytes.Contains(head, []byte("OFXHEADER")) || bytes.Contains(head, []byte("<OFX>"))
}

// ReadOFX reads an OFX file, with its tags closed or not. It says what stands on
// the account in the end, and not in the beginning. It returns an *Error.
func ReadOFX(file []byte, cur money.Currency) (all []Statement, err error) {
	defer func() {
		if p := recover(); p != nil { // what the reader of the format did not expect
			all, err = nil, wrong(0, "The file cannot be read as OFX.")
		}
	}()
	r, err := ofxgo.DecodeResponse(bytes.NewReader(file))
	if err != nil {
		return nil, wrong(0, "The file cannot be read as OFX: %s.", cut(err.Error(), 200))
	}
	for _, m := range append(r.Bank, r.CreditCard...) {
		var s Statement
		switch m := m.(type) {
		case *ofxgo.StatementResponse:
			s, err = ofxStatement(string(m.BankAcctFrom.AcctID), m.CurDef.String(), m.BankTranList, m.BalAmt, m.DtAsOf, cur)
		case *ofxgo.CCStatementResponse:
			s, err = ofxStatement(string(m.CCAcctFrom.AcctID), m.CurDef.String(), m.BankTranList, m.BalAmt, m.DtAsOf, cur)
		default:
			continue
		}
		if err != nil {
			return nil, err
		}
		all = append(all, s)
	}
	if len(all) == 0 {
		return nil, wrong(0, "There is no statement in this file.")
	}
	return all, nil
}

func ofxStatement(account, currency string, list *ofxgo.TransactionList, balance ofxgo.Amount, asOf ofxgo.Date, cur money.Currency) (Statement, error) {
	s := Statement{Account: strings.Join(strings.Fields(account), ""), Currency: currency}
	if currency != "" && currency != cur.Code {
		return s, wrong(0, "The account in the file is kept in %s, not in %s.", currency, cur.Code)
	}
	closing, err := ofxAmount(balance, cur)
	if err != nil {
		return s, wrong(0, "The balance in the file is no amount in %s.", cur.Code)
	}
	s.Closing = &Balance{ofxDay(asOf), closing}
	if list == nil {
		return s, nil
	}
	if len(list.Transactions) > Most {
		return s, wrong(0, "There are more than %d lines in this file. Ask the bank for shorter spans.", Most)
	}
	for n, t := range list.Transactions {
		amount, err := ofxAmount(t.TrnAmt, cur)
		if err != nil {
			return s, wrong(0, "Its line %d has %s, which is no amount in %s.", n+1, t.TrnAmt.FloatString(4), cur.Code)
		}
		if amount == 0 {
			continue
		}
		l := Line{Row: n + 1, Day: ofxDay(t.DtPosted), Amount: amount, EntryReference: cut(string(t.FiTID), 100), Text: cut(strings.TrimSpace(string(t.Memo)), 400), OtherName: cut(first(string(t.ExtdName), string(t.Name)), 140),
			Reference: cut(first(string(t.RefNum), string(t.CheckNum)), 140)}
		if t.Payee != nil {
			l.OtherName = cut(first(string(t.Payee.Name), l.OtherName), 140)
		}
		if t.BankAcctTo != nil {
			l.OtherAccount = cut(string(t.BankAcctTo.AcctID), 60)
		}
		if l.Day == "" {
			return s, wrong(0, "Its line %d has no day on which it was booked.", n+1)
		}
		s.Lines = append(s.Lines, l)
	}
	return s, nil
}

// ofxAmount is an amount that has no more places than the currency.
func ofxAmount(a ofxgo.Amount, cur money.Currency) (money.Amount, error) {
	text := a.FloatString(8)
	for strings.HasSuffix(text, "0") && strings.Contains(text, ".") {
		text = strings.TrimSuffix(text, "0")
	}
	amount, err := cur.Parse(strings.TrimSuffix(text, "."))
	if err != nil {
		return 0, fmt.Errorf("%w", err)
	}
	return amount, nil
}

// ofxDay is the day in the time zone that the bank writes it in.
func ofxDay(d ofxgo.Date) day.Day {
	if d.IsZero() {
		return ""
	}
	return day.Day(d.Format("2006-01-02"))
}
