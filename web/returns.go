package web

import (
	"fmt"

	"cleantally/core/billing"
	"cleantally/core/posting"
)

// ReturnBody is goods of an order that come back and were not billed, or are
// swapped, as the API takes it.
type ReturnBody struct {
	Number    string           `json:"number,omitempty" doc:"Empty to be given the next"`
	Order     int64            `json:"order,omitempty"`
	Day       string           `json:"day,omitempty"`
	Reason    string           `json:"reason,omitempty" maxLength:"400"`
	Reference string           `json:"reference,omitempty" maxLength:"200" doc:"Of the return"`
	Note      string           `json:"note,omitempty" maxLength:"4000"`
	Lines     []ReturnLineBody `json:"lines,omitempty" maxItems:"500"`
	Swap      bool             `json:"swap,omitempty" doc:"The same goes out again at once"`
	Cancel    bool             `json:"cancel,omitempty" doc:"What came back is not delivered again: the order is lowered"`
}

// ReturnLineBody is how much of an order's line came back.
type ReturnLineBody struct {
	Position int      `json:"position" doc:"Of the line of the order, counted from 1"`
	Quantity string   `json:"quantity"`
	Back     string   `json:"back,omitempty" doc:"Pieces of it that go back to stock; the rest is scrapped"`
	Serials  []string `json:"serials,omitempty" maxItems:"500" doc:"Of pieces that bear numbers and go back to stock"`
	Instead  []string `json:"instead,omitempty" maxItems:"500" doc:"Of those that go out in their place"`
}

func (b ReturnBody) command(p *parser) posting.Command {
	r := billing.Return{Number: b.Number, OrderID: b.Order, Day: p.day("day", b.Day), Reason: b.Reason, Reference: b.Reference, Note: b.Note, Swap: b.Swap, Cancel: b.Cancel}
	for n, l := range b.Lines {
		field := fmt.Sprintf("lines[%d].", n)
		r.Lines = append(r.Lines, billing.ReturnLine{Position: l.Position, Quantity: p.decimal(field+"quantity", l.Quantity, pricePlaces), Back: p.decimal(field+"back", l.Back, pricePlaces), Serials: l.Serials, Instead: l.Instead})
	}
	return r
}

func (c copier) cameBack(v billing.Return, _ posting.Paper) ReturnBody {
	b := ReturnBody{Order: v.OrderID, Day: c.day(string(v.Day)), Reason: v.Reason, Reference: v.Reference, Note: v.Note, Swap: v.Swap, Cancel: v.Cancel}
	for _, l := range v.Lines {
		b.Lines = append(b.Lines, ReturnLineBody{l.Position, l.Quantity.String(), c.number(l.Back), l.Serials, l.Instead})
	}
	return b
}
