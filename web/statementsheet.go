package web

import (
	"context"
	"strings"

	"cleantally/core/day"
	"cleantally/core/sheet"
	"cleantally/formats/pdf"
	"cleantally/store"
)

// sheet is a statement as it goes out: what was worked out for the screen, in its
// places on paper.
func (b Statement) sheet(firm store.Firm) (s sheet.Sheet) {
	on := func(d string) string { return firm.DateStyle.Show(day.Day(d)) }
	in := func(d string) string { return firm.DateStyle.ShowIn(day.Day(d), day.Day(b.Through)) }
	show := firm.NumberStyle.Show
	s = sheet.Sheet{Heading: "Statement", Firm: sheet.Address{Name: b.Firm, Lines: b.Address}, TaxNumber: sheet.TaxLine(nil, firm.TaxNumber), To: sheet.Address{Name: b.Customer, Lines: b.To}}
	figure := func(name string) sheet.Column { return sheet.Column{Name: name, Ours: name, Figure: true} }
	text := func(name string) sheet.Column { return sheet.Column{Name: name, Ours: name} }
	row := func(cells ...string) { s.Rows = append(s.Rows, sheet.Row{Cells: cells}) }
	defer func() {
		if b.Currency != "" {
			s.Facts = append(s.Facts, sheet.Fact{Name: "Currency", Value: b.Currency})
		}
	}()
	if b.Open {
		s.Facts = []sheet.Fact{{Name: "Open items on", Value: on(b.Through)}}
		s.Columns = []sheet.Column{text("What"), text("Date"), text("Paper"), text("Due date"), figure("Amount"), figure("Open")}
		for _, i := range b.Items {
			what := i.Title
			if i.Disputed {
				what += " (disputed)"
			}
			row(what, in(i.Day), i.Number, in(i.Due), show(i.Signed), show(i.SignedOpen))
		}
	} else {
		s.Facts = []sheet.Fact{{Name: "From", Value: on(b.From)}, {Name: "Through", Value: on(b.Through)}}
		s.Columns = []sheet.Column{text("What happened"), text("Date"), text("Paper"), figure("Amount"), figure("Balance")}
		row("Balance brought forward", in(b.From), "", "", show(b.Opening))
		for _, r := range b.Rows {
			if strings.Trim(r.Amount, "0.") != "" {
				row(r.Text, in(r.Day), r.Number, show(r.Amount), show(r.Balance))
			}
		}
	}
	sum := func(look, name, amount string) {
		s.Sums = append(s.Sums, sheet.Sum{Name: name, Amount: amount, Look: look})
	}
	closing := "Balance"
	if strings.HasPrefix(b.Closing, "-") {
		closing = "Balance in your favour"
	}
	sum("left", closing, b.Closing)
	for n, name := range b.Ageing.Buckets {
		if name == "not due" {
			name = "Not due"
		} else {
			name += " days overdue"
		}
		sum("part", name, b.Ageing.Total.Buckets[n])
	}
	sum("part", "Credits not used", b.Ageing.Total.Unplaced)
	if strings.Trim(b.Ageing.Total.Disputed, "0.") != "" {
		sum("part", "Of it disputed", b.Ageing.Total.Disputed)
	}
	sum("held", "Held for you", b.Held)
	if strings.Trim(b.KeptBack, "0.") != "" {
		sum("kept", "Kept back", b.KeptBack)
	}
	sum("total", "Balance with these", b.Net)
	return s
}

// statementsInput names the customers whose statements are printed into one file.
type statementsInput struct {
	IDs      []int64 `query:"ids,explode" required:"true" minItems:"1" maxItems:"500" doc:"The customers, in their order"`
	From     string  `query:"from" doc:"Left out, the beginning of the year of its end"`
	Through  string  `query:"through"`
	Open     bool    `query:"open" doc:"Of open items, in place of a span"`
	Currency string  `query:"currency" maxLength:"3" doc:"In this alone; left out, one for each"`
}

// statementsPDF answers statements as one PDF, each on pages of its own.
func (s *Server) statementsPDF(ctx context.Context, in *statementsInput) (*fileOutput, error) {
	firm, err := s.book.Read(ctx).Firm()
	if err != nil {
		return nil, problem(err)
	}
	var pages []pdf.Page
	name := "Statements.pdf"
	for _, id := range in.IDs {
		one, err := s.statement(ctx, &statementInput{ID: id, From: in.From, Through: in.Through, Open: in.Open, Currency: in.Currency})
		if err != nil {
			return nil, err
		}
		pages = append(pages, pdf.Page{Sheet: one.Body.sheet(firm)})
		for _, code := range one.Body.Currencies { // one for each
			if code == one.Body.Currency || in.Currency != "" {
				continue
			}
			other, err := s.statement(ctx, &statementInput{ID: id, From: in.From, Through: in.Through, Open: in.Open, Currency: code})
			if err != nil {
				return nil, err
			}
			pages = append(pages, pdf.Page{Sheet: other.Body.sheet(firm)})
		}
		if len(in.IDs) == 1 {
			name = "Statement " + one.Body.Customer + " " + one.Body.Through + ".pdf"
		}
	}
	file, _, err := pdf.Write(pages, firm.NumberStyle, s.book.Now())
	return pdfFile(name, file), problem(err)
}
