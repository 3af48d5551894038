package web

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"
	"cleantally/formats/ubl"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

// ReadBill is what a supplier's electronic invoice was read into.
type ReadBill struct {
	Draft    int64    `json:"draft"`
	Supplier string   `json:"supplier" doc:"Whom it is from; as the file says it, where they are not known yet"`
	Known    bool     `json:"known" doc:"Whether the supplier is one of ours"`
	Says     []string `json:"says" doc:"What to look at"`
}

// readBill reads a supplier's electronic invoice into a draft of a bill, with
// the file, and what it has inside, attached. Nothing is posted.
func (s *Server) readBill(ctx context.Context, in *struct {
	RawBody []byte `contentType:"application/octet-stream"`
}) (*struct{ Body ReadBill }, error) {
	v, err := ubl.Read(in.RawBody)
	if err != nil {
		return nil, refusedProblem(posting.Refusals{{Field: "file", Rule: "not read", Text: posting.Sentence(err.Error()) + "."}})
	}
	p, err := s.parser(ctx)
	if err != nil {
		return nil, err
	}
	if v.Type == ubl.TypeCreditNote {
		return nil, refusedProblem(posting.Refusals{{Field: "file", Rule: "credit note", Text: fmt.Sprintf("%s is a credit note. Open the bill that it credits and write a supplier's credit.", v.Number)}})
	}
	if v.Currency.Code != p.cur.Code && !p.uses(v.Currency.Code) {
		return nil, refusedProblem(posting.Refusals{{Field: "file", Rule: "another currency", Text: fmt.Sprintf("%s is in %s, which is not in use. Take it into use in the setup first.", v.Number, v.Currency.Code)}})
	}
	out := ReadBill{Supplier: v.Seller.Name, Says: []string{}}
	body, err := s.billOf(ctx, v, &out)
	if err != nil {
		return nil, problem(err)
	}
	raw, err := json.Marshal(body)
	if err != nil {
		return nil, problem(err)
	}
	d := store.Draft{Kind: posting.SupplierBill, Body: string(raw)}
	if err := s.book.SaveDraft(ctx, &d, body.command(p)); err != nil {
		return nil, problem(err)
	}
	out.Draft = d.ID
	if err := s.attachRead(ctx, d.ID, v, in.RawBody, &out); err != nil {
		return nil, problem(err)
	}
	return &struct{ Body ReadBill }{out}, nil
}

// attachRead attaches the file and what it has inside to the draft; what is no
// picture of it is left out, and said.
func (s *Server) attachRead(ctx context.Context, draft int64, v ubl.Invoice, file []byte, out *ReadBill) error {
	to := store.AttachedTo{DraftID: draft}
	for _, f := range append([]ubl.File{{Name: v.Number + ".xml", Content: file}}, v.Files...) {
		_, err := s.book.Attach(ctx, s.user(ctx), to, f.Name, f.Content)
		if why, refused := refusedFor(err); refused {
			out.Says = append(out.Says, "Not attached: "+why)
			continue
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// billOf is the bill that an electronic invoice says.
func (s *Server) billOf(ctx context.Context, v ubl.Invoice, out *ReadBill) (b BillBody, err error) {
	r := s.book.Read(ctx)
	supplier, known, err := writerOf(r, v)
	if err != nil {
		return b, err
	}
	if known {
		b.Supplier, out.Supplier, out.Known = supplier.ID, supplier.Name, true
	} else {
		out.Says = append(out.Says, v.Seller.Name+" is not a supplier yet: choose who it is, or make them one.")
	}
	firm, err := r.Firm()
	if err != nil {
		return b, err
	}
	if plainNumber(v.Buyer.TaxNumber) != plainNumber(firm.TaxNumber) && v.Buyer.TaxNumber != "" && firm.TaxNumber != "" {
		out.Says = append(out.Says, fmt.Sprintf("It is written to %s, tax number %s, and ours is %s: it may not be for us.", v.Buyer.Name, v.Buyer.TaxNumber, firm.TaxNumber))
	}
	b.Reference, b.Day, b.Due = v.Number, string(v.Day), string(v.Due)
	b.Note = strings.Join(v.Notes, "\n")
	b.Currency = v.Currency.Code
	b.Tax, b.Total = v.Currency.Format(v.Tax), v.Currency.Format(v.Gross+v.Rounding)
	codes, err1 := r.TaxCodes()
	rates, err2 := r.TaxRates()
	if err := errors.Join(err1, err2); err != nil {
		return b, err
	}
	line := func(text, unit string, net money.Amount, c ubl.Category) BoughtLineBody {
		l := BoughtLineBody{Text: text, Unit: unit, Net: v.Currency.Format(net)}
		for _, code := range codes {
			own := slices.DeleteFunc(slices.Clone(rates), func(r tax.Rate) bool { return r.TaxCodeID != code.ID })
			percent, err := tax.RateOn(code, own, v.Day)
			if err == nil && !code.Inactive && code.CategoryAt(percent) == c.Code && (percent.Equal(c.Percent) || c.Percent.IsZero()) {
				l.TaxCode = code.ID
				break
			}
		}
		if l.TaxCode == 0 {
			out.Says = append(out.Says, fmt.Sprintf("No tax code of ours is %s %% (%s): choose one for %q.", c.Percent, c.Code, text))
		}
		return l
	}
	for _, l := range v.Lines {
		own := line(flat(l.Text), "", l.Net, l.Category)
		// Quantity and price are kept where they come to the net by themselves.
		if v.Currency.Round(l.Quantity.Mul(l.Price)) == l.Net && l.Quantity.IsPositive() && money.Fits(l.Quantity, 6) && money.Fits(l.Price, 6) && !l.Quantity.Equal(decimal.New(1, 0)) {
			own.Quantity, own.UnitPrice, own.Net = l.Quantity.String(), l.Price.String(), ""
		}
		b.Lines = append(b.Lines, own)
	}
	for _, a := range v.Allowances {
		amount, text := -a.Amount, a.Reason
		if a.Charge {
			amount = a.Amount
		}
		if text == "" {
			text = "Discount"
		}
		b.Lines = append(b.Lines, line(flat(text), "", amount, a.Category))
	}
	if v.Prepaid != 0 {
		out.Says = append(out.Says, fmt.Sprintf("%s of it was paid before: set it against the bill.", v.Currency.Show(v.Prepaid)))
	}
	if broken := ubl.Check(v); len(broken) > 0 {
		out.Says = append(out.Says, fmt.Sprintf("The file breaks the norm (%s): %s", broken[0].Rule, broken[0].Text))
	}
	return b, nil
}

// plainNumber is a tax number as it is compared.
func plainNumber(number string) string {
	return strings.ToUpper(strings.Join(strings.Fields(strings.ReplaceAll(number, ".", "")), ""))
}

// flat is a text on one line, of a length that a line takes.
func flat(text string) string {
	text = strings.Join(strings.Fields(text), " ")
	if len(text) <= 400 {
		return text
	}
	text = strings.ToValidUTF8(text[:400], "")
	if at := strings.LastIndex(text, " "); at > 0 {
		text = text[:at]
	}
	return text
}

// writerOf finds the supplier who wrote an invoice: by tax number, else by where
// they are paid, else by name.
func writerOf(r *store.Reader, v ubl.Invoice) (master.Party, bool, error) {
	ways := []struct{ column, value string }{{"tax_number", v.Seller.TaxNumber}, {"iban", ""}, {"name", v.Seller.Name}}
	if v.Account != nil {
		ways[1].value = v.Account.IBAN
	}
	for _, w := range ways {
		if w.value == "" {
			continue
		}
		id, there, err := store.IDBy[master.Party](r, w.column, w.value)
		if err != nil {
			return master.Party{}, false, err
		}
		if p, ok, err := store.Find[master.Party](r, id); err != nil || there && ok && p.IsSupplier {
			return p, err == nil, err
		}
	}
	return master.Party{}, false, nil
}
