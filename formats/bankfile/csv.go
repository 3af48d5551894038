package bankfile

import (
	"bytes"
	"slices"
	"strings"
	"time"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/formats"
)

// Mapping says which columns of a bank's CSV are what, by their headings. An
// amount stands in one column, or in one for what went and one for what came.
type Mapping struct {
	Day       string `json:"day"`
	Amount    string `json:"amount,omitempty"`
	Debit     string `json:"debit,omitempty"`  // what went
	Credit    string `json:"credit,omitempty"` // what came
	Text      string `json:"text,omitempty"`
	Reference string `json:"reference,omitempty"`
	Name      string `json:"name,omitempty"`    // of the other side
	Account   string `json:"account,omitempty"` // of the other side
	Entry     string `json:"entry,omitempty"`   // the bank's own reference
	Form      string `json:"form"`              // of days: one of Forms
	Comma     bool   `json:"comma,omitempty"`   // a comma stands before the places
}

// Forms are the forms of days that banks write.
var Forms = []string{"2026-11-20", "20.11.2026", "20/11/2026", "11/20/2026", "20-11-2026", "20.11.26", "20/11/26", "20261120"}

var layouts = map[string]string{"2026-11-20": "2006-01-02", "20.11.2026": "2.1.2006", "20/11/2026": "2/1/2006", "11/20/2026": "1/2/2006", "20-11-2026": "2-1-2006", "20.11.26": "2.1.06", "20/11/26": "2/1/06", "20261120": "20060102"}

// Columns are the headings of a CSV and its first rows, to be looked at while its
// mapping is written.
func Columns(file []byte) (formats.Table, error) {
	t, err := formats.ReadCSV(bytes.NewReader(file))
	if err != nil {
		return t, wrong(0, "%s.", err.Error())
	}
	t.Rows = t.Rows[:min(len(t.Rows), 5)]
	return t, nil
}

// ReadCSV reads a CSV by a mapping. It says no balances. It returns an *Error with
// the line.
func ReadCSV(file []byte, m Mapping, cur money.Currency) (Statement, error) {
	var s Statement
	t, err := formats.ReadCSV(bytes.NewReader(file))
	if err != nil {
		return s, wrong(0, "%s.", err.Error())
	}
	layout, known := layouts[m.Form]
	if !known {
		return s, wrong(0, "Say in which form the days are written.")
	}
	if m.Amount == "" && (m.Debit == "" || m.Credit == "") {
		return s, wrong(0, "Say in which column the amount stands, or in which what went and what came.")
	}
	at := map[string]int{}
	for _, name := range []string{m.Day, m.Amount, m.Debit, m.Credit, m.Text, m.Reference, m.Name, m.Account, m.Entry} {
		if name == "" {
			continue
		}
		if at[name] = slices.Index(t.Header, name); at[name] < 0 {
			return s, wrong(1, "There is no column %q.", cut(name, 60))
		}
	}
	if m.Day == "" {
		return s, wrong(1, "Say in which column the day stands.")
	}
	for n, row := range t.Rows {
		cell := func(name string) string {
			if i := at[name]; name != "" && i < len(row) {
				return strings.TrimSpace(row[i])
			}
			return ""
		}
		l, err := m.line(cell, layout, n+2, cur)
		if err != nil {
			return s, err
		}
		if l.Amount != 0 {
			s.Lines = append(s.Lines, l)
		}
	}
	return s, nil
}

func (m Mapping) line(cell func(string) string, layout string, row int, cur money.Currency) (Line, error) {
	l := Line{Row: row, Text: cut(cell(m.Text), 400), Reference: cut(cell(m.Reference), 140), OtherName: cut(cell(m.Name), 140), OtherAccount: cut(strings.ReplaceAll(cell(m.Account), " ", ""), 60), EntryReference: cut(cell(m.Entry), 100)}
	on, err := time.Parse(layout, cell(m.Day))
	if err != nil {
		return l, wrong(row, "%q is no day in the form %s.", cut(cell(m.Day), 40), m.Form)
	}
	l.Day = day.Day(on.Format("2006-01-02"))
	read := func(name string) (money.Amount, error) {
		text := cell(name)
		if text == "" {
			return 0, nil
		}
		amount, err := cur.Parse(m.plain(text))
		if err != nil {
			return 0, wrong(row, "%q is no amount in %s.", cut(text, 40), cur.Code)
		}
		return amount, nil
	}
	if m.Amount != "" {
		l.Amount, err = read(m.Amount)
		return l, err
	}
	went, err := read(m.Debit)
	if err != nil {
		return l, err
	}
	came, err := read(m.Credit)
	l.Amount = came - went.Abs()
	return l, err
}

// plain is an amount as it is read: without what groups its figures, a point
// before its places, a minus that may stand at its end.
func (m Mapping) plain(text string) string {
	group, point := ",", "."
	if m.Comma {
		group, point = ".", ","
	}
	text = strings.NewReplacer(group, "", "'", "", " ", "", "\u00a0", "", "\u202f", "", "−", "-").Replace(text)
	text = strings.Replace(text, point, ".", 1)
	if strings.HasSuffix(text, "-") {
		text = "-" + strings.TrimSuffix(text, "-")
	}
	return strings.TrimPrefix(text, "+")
}
