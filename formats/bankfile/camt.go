package bankfile

import (
	"bytes"
	"encoding/xml"
	"errors"
	"io"
	"strings"
	"unicode/utf8"

	"cleantally/core/day"
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// camt.053: names as the standard has them. Versions 2 to 8 differ in where a
// name and a state stand.
type camtAmount struct {
	Currency string `xml:"Ccy,attr"`
	Text     string `xml:",chardata"`
}

type camtDate struct {
	Date string `xml:"Dt"`
	Time string `xml:"DtTm"`
}

func (d camtDate) day() string {
	if d.Date != "" {
		return strings.TrimSpace(d.Date)
	}
	return strings.TrimSpace(d.Time)
}

type camtAccount struct {
	IBAN     string `xml:"Id>IBAN"`
	Other    string `xml:"Id>Othr>Id"`
	Currency string `xml:"Ccy"`
}

func (a camtAccount) number() string {
	return strings.Join(strings.Fields(first(a.IBAN, a.Other)), "")
}

type camtBalance struct {
	Code   string     `xml:"Tp>CdOrPrtry>Cd"`
	Amount camtAmount `xml:"Amt"`
	Side   string     `xml:"CdtDbtInd"`
	Date   camtDate   `xml:"Dt"`
}

type camtParty struct {
	Name  string `xml:"Nm"`
	Party string `xml:"Pty>Nm"`
}

func (p camtParty) name() string { return first(p.Party, p.Name) }

type camtDetail struct {
	EndToEnd   string      `xml:"Refs>EndToEndId"`
	ServiceRef string      `xml:"Refs>AcctSvcrRef"`
	Amount     *camtAmount `xml:"Amt"`
	TxAmount   *camtAmount `xml:"AmtDtls>TxAmt>Amt"`
	Side       string      `xml:"CdtDbtInd"`
	Debtor     camtParty   `xml:"RltdPties>Dbtr"`
	DebtorAt   camtAccount `xml:"RltdPties>DbtrAcct"`
	Creditor   camtParty   `xml:"RltdPties>Cdtr"`
	CreditorAt camtAccount `xml:"RltdPties>CdtrAcct"`
	Said       []string    `xml:"RmtInf>Ustrd"`
	Reference  string      `xml:"RmtInf>Strd>CdtrRefInf>Ref"`
	More       string      `xml:"AddtlTxInf"`
}

func (d camtDetail) amount() *camtAmount {
	if d.Amount != nil {
		return d.Amount
	}
	return d.TxAmount
}

type camtEntry struct {
	Reference  string       `xml:"NtryRef"`
	ServiceRef string       `xml:"AcctSvcrRef"`
	Amount     camtAmount   `xml:"Amt"`
	Side       string       `xml:"CdtDbtInd"`
	State      camtState    `xml:"Sts"`
	Booked     camtDate     `xml:"BookgDt"`
	Value      camtDate     `xml:"ValDt"`
	Details    []camtDetail `xml:"NtryDtls>TxDtls"`
	More       string       `xml:"AddtlNtryInf"`
}

type camtState struct {
	Text string `xml:",chardata"`
	Code string `xml:"Cd"`
}

// IsCamt tells whether a file looks like camt.053.
func IsCamt(file []byte) bool {
	head := file[:min(len(file), 4096)]
	return bytes.Contains(head, []byte("BkToCstmrStmt")) || bytes.Contains(head, []byte("camt.053"))
}

// ReadCamt reads a camt.053: a statement for each account and span in it. Amounts
// have the currency's places. It returns an *Error with the line.
func ReadCamt(file []byte, cur money.Currency) ([]Statement, error) {
	r := &camtReader{Decoder: xml.NewDecoder(bytes.NewReader(file)), cur: cur}
	r.CharsetReader = func(charset string, in io.Reader) (io.Reader, error) {
		if strings.EqualFold(charset, "iso-8859-1") || strings.EqualFold(charset, "latin1") {
			return latin(in)
		}
		return nil, errors.New("the letters of the file are in " + charset + ", which is not read; utf-8 is")
	}
	for {
		token, err := r.Token()
		if err == io.EOF {
			break
		}
		if err != nil {
			return nil, r.unreadable(err)
		}
		if start, ok := token.(xml.StartElement); ok {
			if err := r.element(start); err != nil {
				return nil, err
			}
		}
	}
	if len(r.all) == 0 {
		return nil, wrong(0, "There is no statement in this file.")
	}
	for _, s := range r.all {
		if err := s.Proven(cur); err != nil {
			return nil, err
		}
	}
	return r.all, nil
}

type camtReader struct {
	*xml.Decoder
	cur   money.Currency
	all   []Statement
	lines int
}

func (r *camtReader) row() int {
	row, _ := r.InputPos()
	return row
}

func (r *camtReader) unreadable(err error) error {
	var syntax *xml.SyntaxError
	if errors.As(err, &syntax) {
		return wrong(syntax.Line, "The file cannot be read: %s.", syntax.Msg)
	}
	return wrong(r.row(), "The file cannot be read: %s.", err.Error())
}

// element reads what a statement is made of; what stands around it is passed by.
func (r *camtReader) element(start xml.StartElement) error {
	if start.Name.Local == "Stmt" {
		r.all = append(r.all, Statement{})
		return nil
	}
	if len(r.all) == 0 {
		return nil
	}
	s := &r.all[len(r.all)-1]
	row := r.row()
	switch start.Name.Local {
	case "Acct":
		var a camtAccount
		if err := r.DecodeElement(&a, &start); err != nil {
			return r.unreadable(err)
		}
		s.Account, s.Currency = a.number(), strings.TrimSpace(a.Currency)
	case "Bal":
		var b camtBalance
		if err := r.DecodeElement(&b, &start); err != nil {
			return r.unreadable(err)
		}
		return r.balance(s, b, row)
	case "Ntry":
		var e camtEntry
		if err := r.DecodeElement(&e, &start); err != nil {
			return r.unreadable(err)
		}
		return r.entry(s, e, row)
	}
	return nil
}

func (r *camtReader) balance(s *Statement, b camtBalance, row int) error {
	code := strings.TrimSpace(b.Code)
	if code != "OPBD" && code != "PRCD" && code != "CLBD" {
		return nil
	}
	amount, err := r.amount(s, b.Amount, b.Side, row)
	if err != nil {
		return err
	}
	is := &Balance{Amount: amount}
	if text := b.Date.day(); text != "" {
		if is.Day, err = dayOf(text, row); err != nil {
			return err
		}
	}
	if code == "CLBD" {
		s.Closing = is
		return nil
	}
	if s.Opening == nil || code == "OPBD" {
		s.Opening = is
	}
	return nil
}

// amount reads an amount with its side, in the currency of the account.
func (r *camtReader) amount(s *Statement, a camtAmount, side string, row int) (money.Amount, error) {
	currency := strings.TrimSpace(a.Currency)
	if s.Currency == "" {
		s.Currency = currency
	}
	if currency != "" && currency != r.cur.Code {
		return 0, wrong(row, "An amount is in %s, and the account is kept in %s.", currency, r.cur.Code)
	}
	d, err := decimal.NewFromString(strings.TrimSpace(a.Text))
	if err != nil || len(a.Text) > 40 || strings.ContainsAny(a.Text, "eE") { // an exponent could make it endless
		return 0, wrong(row, "%q is no amount.", cut(a.Text, 40))
	}
	amount, err := r.cur.Parse(d.StringFixed(max(-d.Exponent(), 0)))
	if err != nil || d.IsNegative() {
		return 0, wrong(row, "%q is no amount in %s.", cut(a.Text, 40), r.cur.Code)
	}
	switch strings.TrimSpace(side) {
	case "CRDT":
		return amount, nil
	case "DBIT":
		return -amount, nil
	}
	return 0, wrong(row, "It is not said whether %s came or went.", r.cur.Show(amount))
}

func (r *camtReader) entry(s *Statement, e camtEntry, row int) error {
	if state := first(e.State.Code, e.State.Text); state != "BOOK" {
		s.Pending++
		return nil
	}
	amount, err := r.amount(s, e.Amount, e.Side, row)
	if err != nil {
		return err
	}
	booked := e.Booked.day()
	if booked == "" {
		return wrong(row, "A line has no day on which it was booked.")
	}
	l := Line{Row: row, Amount: amount, EntryReference: cut(first(e.ServiceRef, e.Reference), 100), Text: cut(strings.Join(strings.Fields(e.More), " "), 400)}
	if l.Day, err = dayOf(booked, row); err != nil {
		return err
	}
	parts, err := r.parts(s, e, l)
	if err != nil {
		return err
	}
	for _, p := range parts {
		if p.Amount == 0 {
			continue // says something, and moves nothing
		}
		if r.lines++; r.lines > Most {
			return wrong(row, "There are more than %d lines in this file. Ask the bank for shorter spans.", Most)
		}
		s.Lines = append(s.Lines, p)
	}
	return nil
}

// parts are the lines of an entry: of a batch its parts, where they say what each
// is and add up to it; else the entry itself.
func (r *camtReader) parts(s *Statement, e camtEntry, whole Line) ([]Line, error) {
	if len(e.Details) == 0 {
		return []Line{whole}, nil
	}
	if len(e.Details) == 1 {
		return []Line{e.Details[0].line(whole)}, nil
	}
	var all []Line
	var sum money.Amount
	for n, d := range e.Details {
		a := d.amount()
		if a == nil {
			return []Line{e.Details[0].line(whole)}, nil
		}
		amount, err := r.amount(s, *a, first(d.Side, e.Side), whole.Row)
		if err != nil {
			return nil, err
		}
		l := d.line(whole)
		if l.Amount = amount; l.EntryReference != "" {
			l.EntryReference += "/" + decimal.NewFromInt(int64(n+1)).String()
		}
		all = append(all, l)
		sum += amount
	}
	if sum != whole.Amount {
		return nil, wrong(whole.Row, "The parts of a batch come to %s, and the batch is %s.", r.cur.Show(sum), r.cur.Show(whole.Amount))
	}
	return all, nil
}

// line is a line with what a detail says of it: who is on the other side, and
// what for.
func (d camtDetail) line(l Line) Line {
	other, at := d.Debtor, d.DebtorAt
	if l.Amount < 0 {
		other, at = d.Creditor, d.CreditorAt
	}
	l.OtherName, l.OtherAccount = cut(other.name(), 140), cut(at.number(), 60)
	if said := strings.Join(strings.Fields(strings.Join(d.Said, " ")+" "+d.More), " "); said != "" {
		l.Text = cut(said, 400)
	}
	if l.Reference = cut(strings.TrimSpace(d.Reference), 140); l.Reference == "" && d.EndToEnd != "NOTPROVIDED" {
		l.Reference = cut(strings.TrimSpace(d.EndToEnd), 140)
	}
	return l
}

func dayOf(text string, row int) (day.Day, error) {
	if len(text) > 10 {
		text = text[:10]
	}
	d, err := day.Parse(text)
	if err != nil {
		return "", wrong(row, "%q is no day.", cut(text, 40))
	}
	return d, nil
}

func first(all ...string) string {
	for _, s := range all {
		if s = strings.TrimSpace(s); s != "" {
			return s
		}
	}
	return ""
}

// cut is a text of at most so many bytes, in whole letters.
func cut(s string, most int) string {
	if len(s) <= most {
		return s
	}
	for most > 0 && !utf8.RuneStart(s[most]) {
		most--
	}
	return s[:most]
}

// latin turns ISO 8859-1 into UTF-8.
func latin(in io.Reader) (io.Reader, error) {
	content, err := io.ReadAll(in)
	if err != nil {
		return nil, err
	}
	var out strings.Builder
	for _, b := range content {
		out.WriteRune(rune(b))
	}
	return strings.NewReader(out.String()), nil
}
