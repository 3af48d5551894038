package web

import (
	"context"
	"slices"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/reporting"
	"cleantally/formats"
	"cleantally/store"
)

// Statement is what a customer is told of a span.
type Statement struct {
	Firm       string      `json:"firm"`
	Address    string      `json:"address"`
	Customer   string      `json:"customer"`
	ID         int64       `json:"customerId"`
	To         string      `json:"customerAddress"`
	From       string      `json:"from"`
	Through    string      `json:"through"`
	Opening    string      `json:"opening"`
	Rows       []Happening `json:"rows"`
	Closing    string      `json:"closing"`
	Ageing     Ageing      `json:"ageing"`
	Held       string      `json:"held"`
	Net        string      `json:"net"`
	KeptBack   string      `json:"keptBack"`
	Open       bool        `json:"open" doc:"Whether it is one of open items"`
	Items      []OpenItem  `json:"items,omitempty" doc:"Of a statement of open items, in place of the rows"`
	Currency   string      `json:"currency,omitempty" doc:"Of all its amounts: there is one statement for each; empty where all is in the firm's"`
	Currencies []string    `json:"currencies,omitempty" doc:"Those that there are statements in"`
}

type statementInput struct {
	ID       int64  `path:"id"`
	From     string `query:"from" doc:"Left out, the beginning of the year of its end"`
	Through  string `query:"through"`
	Open     bool   `query:"open" doc:"Of open items, in place of a span"`
	Currency string `query:"currency" maxLength:"3" doc:"One of those that the customer has; left out, the first"`
	Format   string `query:"format" enum:"csv,xlsx" default:"csv" doc:"Of the file"`
}

// beginning is the first day of a span: the day that is named, else that of the
// year of its last day.
func (s *Server) beginning(text string, through day.Day) (day.Day, error) {
	if text == "" {
		return through[:4] + "-01-01", nil
	}
	return s.asOf(text)
}

// statementsFor tells who gets a statement: whoever owed or was owed something
// at the end of the last day, and for a span whoever anything happened with.
func (s *Server) statementsFor(ctx context.Context, in *struct {
	From    string `query:"from" doc:"Left out, the beginning of the year of its end"`
	Through string `query:"through"`
	Open    bool   `query:"open" doc:"Of open items, in place of a span"`
}) (*struct{ Body partiesOut }, error) {
	through, err := s.asOf(in.Through)
	if err != nil {
		return nil, err
	}
	from, err := s.beginning(in.From, through)
	if err != nil {
		return nil, err
	}
	if in.Open {
		from = ""
	}
	rows, err := s.book.Read(ctx).StatementsFor(from, through)
	out := &struct{ Body partiesOut }{partiesOut{Rows: []Named{}}}
	for _, r := range rows {
		out.Body.Rows = append(out.Body.Rows, Named{r.ID, r.Name})
	}
	return out, problem(err)
}

type partiesOut struct {
	Rows []Named `json:"rows"`
}

// statementFile answers the statement as a table: its opening, each movement
// and its closing, or each open item.
func (s *Server) statementFile(ctx context.Context, in *statementInput) (*fileOutput, error) {
	out, err := s.statement(ctx, in)
	if err != nil {
		return nil, err
	}
	b := out.Body
	if in.Open {
		t := formats.Table{Header: []string{"Day", "Paper", "What", "Due", "Amount", "Open"}}
		for _, i := range b.Items {
			t.Rows = append(t.Rows, []string{i.Day, i.Number, i.Title, i.Due, signed(func(i OpenItem) string { return i.Amount })(i), signed(func(i OpenItem) string { return i.Open })(i)})
		}
		t.Rows = append(t.Rows, []string{b.Through, "", "Balance", "", "", b.Closing})
		return fileOf(in.Format, "statement", t, map[int]bool{4: true, 5: true})
	}
	t := formats.Table{Header: []string{"Day", "Paper", "What", "Amount", "Balance"}, Rows: [][]string{{b.From, "", "Balance brought forward", "", b.Opening}}}
	for _, r := range b.Rows {
		t.Rows = append(t.Rows, []string{r.Day, r.Number, r.Text, r.Amount, r.Balance})
	}
	t.Rows = append(t.Rows, []string{b.Through, "", "Balance", "", b.Closing})
	return fileOf(in.Format, "statement", t, map[int]bool{3: true, 4: true})
}

func (s *Server) statement(ctx context.Context, input *statementInput) (*struct{ Body Statement }, error) {
	p, through, err := s.lookingBack(ctx, input.Through)
	if err != nil {
		return nil, err
	}
	from, err := s.beginning(input.From, through)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body Statement }{}
	err = s.book.Snapshot(ctx, func(r *store.Reader) error {
		c, ok, err := store.Find[master.Party](r, input.ID)
		if err != nil || !ok {
			return orNotFound(err)
		}
		firm, err := r.Firm()
		if err != nil {
			return err
		}
		codes, err := r.CurrenciesOf(input.ID)
		if err != nil {
			return err
		}
		code := input.Currency
		if len(codes) > 0 && !slices.Contains(codes, code) {
			code = codes[0]
		}
		if len(codes) == 0 {
			code = ""
		}
		cur := in(p.cur, code)
		of := store.StoryOf{PartyID: input.ID, From: from, Through: through, Currency: code}
		rows, _, err := r.Story(of)
		if err != nil {
			return err
		}
		var closing money.Amount
		if code == "" {
			closing, err = r.OpenOnDay(ledger.Receivables, input.ID, through)
		} else {
			closing, err = r.OpenIn(code, ledger.Receivables, input.ID, through)
		}
		if err != nil {
			return err
		}
		opening := closing
		for _, row := range rows {
			opening -= row.Amount
		}
		ageing, err := r.Ageing(store.AgeingFilter{AsOf: through, Basis: reporting.ByDue, PartyID: input.ID, Currency: code})
		if err != nil {
			return err
		}
		held, kept := ageing.Total.Held, ageing.Total.KeptBack
		out.Body = Statement{Firm: firm.Name, Address: firm.Address, Customer: c.Name, ID: c.ID, To: c.Printed(), From: string(from), Through: string(through), Opening: cur.Format(opening),
			Rows: happenings(rows, through, cur), Closing: cur.Format(closing), Ageing: ageingBody(ageing, cur), Held: cur.Format(held), KeptBack: cur.Format(kept),
			Net: cur.Format(closing + kept - held), Currency: code, Currencies: codes}
		if !input.Open {
			return nil
		}
		items, err := r.Bench(input.ID, store.BenchFilter{AsOf: through, Limit: 100_000})
		out.Body.Open, out.Body.Rows, out.Body.Items = true, []Happening{}, []OpenItem{}
		for _, i := range items {
			if i.Register == ledger.Receivables && (code == "" || in(p.cur, i.Currency).Code == code) {
				out.Body.Items = append(out.Body.Items, openItem(i.OpenItem, through, p.cur))
			}
		}
		return err
	})
	return out, problem(err)
}
