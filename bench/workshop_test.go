package bench

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"cleantally/books"
	"cleantally/core/banking"
	"cleantally/core/billing"
	"cleantally/core/buying"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/core/stock"
	"cleantally/formats/bankfile"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

// A workshop is what a firm keeps beside its money: articles in stock, what is
// on order, what its bank tells, what it mails, what hangs.
type workshop struct {
	articles []shelf
	moved    []moved      // of the day, at the bank
	told     []toldByBank // what the bank told, and nobody looked at yet
}

// A shelf is an article, how much of it is there, and whether more is on order.
type shelf struct {
	id      int64
	there   int
	ordered bool
}

// moved is what a paper moved, and whose it was.
type moved struct {
	posting.Movement
	party string
}

type toldByBank struct {
	on       day.Day
	movement int64
	line     int64
}

// The firm has read its bank's statements, and written mails, since this day.
const readSince = day.Day("2023-11-20")

// opens fills the shelves and says from where mail goes.
func (w *workshop) opens(h *history, papers int) error {
	count := stock.Count{Day: h.today, Opening: true}
	for n := range min(max(12, papers/1000), 400) {
		a := master.Article{Code: fmt.Sprintf("ST-%03d", n), Name: fmt.Sprintf("%s, size %d", goods[n%len(goods)], n/len(goods)+1), Kind: master.Material, Unit: "pc", Price: decimal.New(int64(900+n*37%4000), -2), TaxCodeID: h.std, Stocked: true}
		if err := h.book.SaveArticle(ctx, 1, &a); err != nil {
			return err
		}
		w.articles = append(w.articles, shelf{id: a.ID, there: 40})
		cost := a.Price.Div(decimal.New(2, 0)).Round(2)
		count.Lines = append(count.Lines, stock.Counted{Line: stock.Line{ArticleID: a.ID, Quantity: decimal.New(40, 0)}, Cost: &cost})
	}
	if _, err := h.post(count); err != nil {
		return err
	}
	for n := range 25 {
		body := fmt.Sprintf(`{"customer":%d,"subject":"Stair looked over","lines":[{"text":"Stair looked over","quantity":"1","unitPrice":"240.00","taxCode":%d}]}`, n+1, h.std)
		if err := h.book.SaveSchedule(ctx, &store.Schedule{Name: "Stair looked over", PartyID: int64(n + 1), Body: body, Every: 12, Unit: billing.Monthly, First: "2026-12-31"}, 1); err != nil {
			return err
		}
	}
	return h.book.SaveMailAccount(ctx, 1, store.MailAccount{Way: "stand-in", FromAddress: "office@bench.example"}, nil)
}

var goods = []string{"Baluster, turned, oak", "Tread, bullnosed", "Handrail bracket", "Newel cap, ball", "Oak plug, 12 mm", "Stair rod, brass"}

// takes puts pieces of stock onto the lines of a small work, and orders more of
// what runs out.
func (w *workshop) takes(h *history, lines []posting.Line) ([]posting.Line, error) {
	for range 1 + h.rnd.IntN(2) {
		a := &w.articles[h.rnd.IntN(len(w.articles))]
		pieces := 1 + h.rnd.IntN(4)
		if a.there < pieces {
			continue
		}
		a.there -= pieces
		lines = append(lines, posting.Line{ArticleID: a.id, Text: "of the shelf", Unit: "pc", Quantity: decimal.New(int64(pieces), 0), UnitPrice: decimal.New(int64(1200+h.rnd.IntN(4000)), -2), TaxCodeID: h.std})
		if a.there > 15 || a.ordered {
			continue
		}
		if err := w.orders(h, a); err != nil {
			return nil, err
		}
	}
	return lines, nil
}

// orders fills a shelf: ordered, received, billed, paid. One in forty never
// comes, and most of those are taken off in the end.
func (w *workshop) orders(h *history, a *shelf) error {
	a.ordered = true
	seller := h.sellers[h.rnd.IntN(len(h.sellers))]
	line := buying.Line{Text: "for the shelf", ArticleID: a.id, Quantity: decimal.New(30, 0), UnitPrice: decimal.New(int64(500+h.rnd.IntN(1500)), -2), TaxCodeID: h.std}
	o, err := h.post(buying.Order{PartyID: seller, Day: h.today, Expected: h.today.Add(9), Lines: []buying.Line{line}})
	if err != nil {
		return err
	}
	if h.rnd.IntN(40) == 0 {
		h.in(60, func() error {
			a.ordered = false
			if h.rnd.IntN(8) == 0 {
				return nil
			}
			_, err := h.post(buying.Received{OrderID: o.paper, Day: h.today, Cancel: true, Note: "never came", Lines: []buying.Share{{Position: 1, Quantity: decimal.New(30, 0)}}})
			return err
		})
		return nil
	}
	h.in(7+h.rnd.IntN(6), func() error {
		a.ordered, a.there = false, a.there+30
		_, err := h.post(buying.Received{OrderID: o.paper, Day: h.today, Lines: []buying.Share{{Position: 1, Quantity: decimal.New(30, 0)}}})
		return err
	})
	h.in(16, func() error {
		line.Of = buying.OrderLine{PaperID: o.paper, Position: 1}
		b, err := h.post(buying.Bill{PartyID: seller, Day: h.today, Due: h.today.Add(30), Reference: fmt.Sprintf("S %d", h.posted), Lines: []buying.Line{line}})
		if err == nil {
			h.pays(seller, b)
		}
		return err
	})
	return nil
}

// sold sells pieces of stock; now and then some of them come back.
func (w *workshop) sold(h *history, who int64) error {
	lines, err := w.takes(h, h.lines(1))
	if err != nil {
		return err
	}
	v, err := h.post(billing.Invoice{PartyID: who, Day: h.today, Lines: lines})
	if err != nil {
		return err
	}
	h.paid(who, true, v)
	if len(lines) > 1 && h.rnd.IntN(25) == 0 {
		h.in(5, func() error {
			_, err := h.post(billing.Credit{PaperID: v.paper, Day: h.today, Cause: billing.GoodsBack, Text: "not wanted", Own: true,
				Lines: []billing.CreditLine{{Position: 2, Quantity: decimal.New(1, 0), Back: decimal.New(1, 0)}}})
			return err
		})
	}
	return nil
}

// quoted is what was offered: two of three are lost, and it is said why.
func (w *workshop) quoted(h *history, who int64) error {
	q, err := h.post(billing.Quote{PartyID: who, Day: h.today, Holds: h.today.Add(30), Lines: h.lines(3)})
	if err != nil || h.rnd.IntN(3) == 0 {
		return err
	}
	h.in(25, func() error {
		return h.book.RecordEvent(ctx, 1, store.Event{PaperID: q.paper, Event: books.Lost, Text: []string{"Price", "Too late", "Went elsewhere"}[h.rnd.IntN(3)]})
	})
	return nil
}

// begun is what is done with some invoices once they are posted: disputed for a
// while, promised, mailed.
func (w *workshop) begun(h *history, who int64, v done) error {
	switch n := h.rnd.IntN(400); {
	case n == 0:
		h.in(9, func() error { return w.disputed(h, v) })
	case n < 8:
		h.in(9, func() error {
			return h.book.RecordEvent(ctx, 1, store.Event{PaperID: v.paper, Event: books.Promised, Text: "next week, she said", Until: h.today.Add(7)})
		})
	case h.today >= readSince && n < 120:
		return w.mailed(h, who, v, n)
	}
	return nil
}

func (w *workshop) disputed(h *history, v done) error {
	if open, err := h.open(v.item); err != nil || open == 0 {
		return err
	}
	_, err := h.post(settling.Dispute{Item: v.item, Day: h.today, Reason: "two treads creak"})
	if err == nil && h.rnd.IntN(8) != 0 {
		h.in(30, func() error {
			_, err := h.post(settling.Dispute{Item: v.item, Day: h.today, End: true})
			if errors.As(err, new(posting.Refusals)) { // it was paid meanwhile
				return nil
			}
			return err
		})
	}
	return err
}

// mailed writes a mail with an invoice: most are stopped again, since none may
// leave; some wait for a hand.
func (w *workshop) mailed(h *history, who int64, v done, n int) error {
	m, err := h.book.QueueMail(ctx, 1, books.MailWanted{Papers: []int64{v.paper}, PartyID: who, To: fmt.Sprintf("customer%d@bench.example", who), Subject: "Our invoice", Words: "With our thanks.", Content: books.MailContent{PDF: true}, MailWhen: books.MailWhen{ByHand: true}})
	if err != nil || n < 10 && h.today > firmToday.Add(-60) {
		return err
	}
	return h.book.StopMail(ctx, 1, m)
}

// read takes what moved at the bank on a day as the bank tells it, and explains
// what it told some days ago. One in fifty is not looked at.
func (w *workshop) read(h *history) error {
	moved := w.moved
	w.moved = nil
	if h.today < readSince {
		return nil
	}
	for of := range slices.Chunk(moved, 200) {
		var s bankfile.Statement
		for _, m := range of {
			s.Lines = append(s.Lines, bankfile.Line{Day: h.today, Amount: m.Amount, Text: "PAYMENT " + m.Number, OtherName: strings.ToUpper(m.party)})
		}
		if _, err := h.book.TypeStatement(ctx, 1, 1, "typed", s); err != nil {
			return err
		}
	}
	if len(moved) > 0 {
		lines, err := h.book.Read(ctx).BankLinesOn(1, h.today, h.today)
		if err != nil || len(lines) != len(moved) {
			return fmt.Errorf("%d lines of %d movements, %w", len(lines), len(moved), err)
		}
		for n, l := range lines {
			w.told = append(w.told, toldByBank{h.today, moved[n].ID, l.ID})
		}
	}
	for len(w.told) > 0 && w.told[0].on < h.today.Add(-6) {
		t := w.told[0]
		w.told = w.told[1:]
		if h.rnd.IntN(50) == 0 {
			if h.rnd.IntN(12) != 0 {
				h.in(30, func() error { return t.tied(h) })
			}
			continue
		}
		if err := t.tied(h); err != nil {
			return err
		}
	}
	return nil
}

func (t toldByBank) tied(h *history) error {
	_, err := h.book.Post(ctx, banking.Tie{Lines: []int64{t.line}, Movements: []int64{t.movement}}, books.How{User: 1})
	return err
}

// moves notes what a paper moved at the bank.
func (w *workshop) moves(f *store.Facts, paper int64) {
	p, _ := f.Paper(paper)
	for _, m := range f.PaperMovements(paper) {
		if m.BankAccountID == 1 {
			w.moved = append(w.moved, moved{m, p.PartyName})
		}
	}
}

// counted counts some shelves once a year: a piece is missing here and there.
func (w *workshop) counted(h *history) error {
	c := stock.Count{Day: h.today, Note: "Counted"}
	facts, err := h.book.Read(ctx).Facts(h.today)
	if err != nil {
		return err
	}
	for n := range w.articles {
		a := &w.articles[n]
		var there posting.Millionths
		for _, m := range facts.StockFrom(a.id, day.EndOfTime) {
			there += m.Quantity
		}
		if a.there = int(there / 1_000_000); a.there > 0 && n%7 == 0 {
			a.there--
		}
		c.Lines = append(c.Lines, stock.Counted{Line: stock.Line{ArticleID: a.id, Quantity: decimal.New(int64(a.there), 0)}})
	}
	if facts.Err() != nil {
		return facts.Err()
	}
	_, err = h.post(c)
	return err
}

// asked is a request for a deposit.
func (w *workshop) asked(h *history, who, job int64, amount money.Amount) (request int64, err error) {
	r, err := h.post(billing.Request{PartyID: who, JobID: job, Day: h.today, Due: h.today.Add(14), Amount: amount})
	return r.paper, err
}

// calledOff ends an order of which nobody was ever heard again, and what was asked
// for it; one in twelve is forgotten.
func (w *workshop) calledOff(h *history, order done, request int64) error {
	if h.rnd.IntN(12) == 0 {
		return nil
	}
	if _, err := h.post(billing.Cancellation{OrderID: order.paper, Day: h.today, Reason: "never heard of again"}); err != nil {
		return err
	}
	return w.noLongerAsked(h, request)
}

// noLongerAsked ends what a refund asks for again, but for one in thirty.
func (w *workshop) noLongerAsked(h *history, request int64) error {
	if h.rnd.IntN(30) == 0 {
		return nil
	}
	_, err := h.post(billing.RequestCancellation{RequestID: request, Day: h.today, Reason: "done with"})
	return err
}

// guaranteed gives a promise of a third party for what is kept back of a job.
func (w *workshop) guaranteed(h *history, who, job int64) error {
	_, err := h.post(settling.Guarantee{PartyID: who, JobID: job, Day: h.today, LastDay: h.today.Add(700), Issuer: "Guild of Joiners Insurance", Reference: fmt.Sprintf("GJ %d", job), Amount: 50000})
	return err
}

// spent is what is bought and paid at once.
func (w *workshop) spent(h *history) error {
	_, err := h.post(buying.Expense{PartyID: h.sellers[h.rnd.IntN(len(h.sellers))], Day: h.today, BankAccountID: 1, Method: posting.ByCard, Reference: fmt.Sprintf("X %d", h.posted),
		Lines: []buying.Line{{Text: "Screws, plugs, abrasives", AccountID: h.role[ledger.JobCosts], JobID: int64(h.jobs), Net: 2000 + money.Amount(h.rnd.IntN(9000)), TaxCodeID: h.std}}})
	return err
}
