package books

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/rights"
	"cleantally/core/settling"
	"cleantally/formats/card"
	"cleantally/store"
)

const (
	mostCardPayments = 200            // that are begun of one paper
	cardAsking       = time.Minute    // a payment that is asked for no longer than this holds the next up
	cardGivenUp      = 24 * time.Hour // after which a payment that nobody went on with is ended
)

// Pages are where the gateway leads a customer back to, and tells what became of
// a payment.
type Pages struct{ ReturnTo, Tell string }

// Payable is what of a paper can be paid by card on the page of its link.
type Payable struct {
	Left  money.Amount        // nil: nothing is to be paid there
	Parts bool                // whether a part may be paid
	Begun []store.CardPayment // the newest first
}

// Last is what was begun last; nil for nothing.
func (p Payable) Last() *store.CardPayment {
	if len(p.Begun) == 0 {
		return nil
	}
	return &p.Begun[0]
}

// PayableOf returns what of a paper can be paid by card today, and what was begun
// last.
func PayableOf(r *store.Reader, paper int64, today day.Day) (Payable, error) {
	g, err := r.CardGateway()
	if err != nil || g.Way == "" {
		return Payable{}, err
	}
	out := Payable{Parts: g.Parts}
	if out.Begun, err = r.CardPaymentsOf(paper); err != nil {
		return out, err
	}
	out.Left, err = toPay(r, paper, today)
	for _, p := range out.Begun {
		if p.Unkept() { // paid all the same
			out.Left = max(out.Left-p.Amount, 0)
		}
	}
	return out, err
}

// toPay is what is left to pay of a paper that asks for money.
func toPay(r *store.Reader, paper int64, today day.Day) (money.Amount, error) {
	row, there, err := r.PaperRow(paper, today)
	if err != nil || !there || row.ReversedBy != "" || row.Currency != "" { // cards pay in the firm's currency
		return 0, err
	}
	if row.Kind == posting.Request {
		p, _, err := r.Paper(paper)
		return max(p.Total-row.Taken, 0), err
	}
	owed, err := debtsOf(r, paper, today)
	var left money.Amount
	for _, i := range owed {
		left += i.Left.Amount.Own
	}
	return left, err
}

// debtsOf are the open debts of a paper in receivables, by their due day.
func debtsOf(r *store.Reader, paper int64, today day.Day) ([]posting.Item, error) {
	items, err := r.ItemsOf(paper, today)
	items = slices.DeleteFunc(items, func(i posting.Item) bool {
		return i.Register != ledger.Receivables || i.Left.Amount.Own <= 0
	})
	slices.SortStableFunc(items, func(x, y posting.Item) int { return cmp.Compare(x.Due, y.Due) })
	return items, err
}

// PayByCard begins a payment on the page of a link and returns the gateway's page
// for it. What was begun before and nobody paid is ended first, so that one is
// open at a time. Text is the amount; "" for all that is left, where no part may be
// paid. It returns ErrNoLink or posting.Refusals.
func (b *Book) PayByCard(ctx context.Context, g card.Gateway, secret, text string, pages Pages) (page string, err error) {
	l, err := b.linkOf(ctx, secret)
	if err != nil {
		return "", err
	}
	if l.PaperID == 0 || !g.There() {
		return "", noCards
	}
	if err := b.endCards(ctx, g, l.PaperID); err != nil {
		return "", err
	}
	p := store.CardPayment{PaperID: l.PaperID, State: store.CardBegun, MadeAt: b.stamp(), MadeBy: l.MadeBy}
	var number string
	var cur money.Currency
	err = b.db.Write(ctx, func(tx *store.Tx) error {
		if cur, err = tx.Currency(); err != nil {
			return err
		}
		if number, err = b.cardWanted(tx, &p, text, cur); err != nil {
			return err
		}
		return tx.AddCardPayment(&p)
	})
	if err != nil {
		return "", err
	}
	firm, err := b.Read(ctx).Firm()
	if err != nil {
		return "", err
	}
	at, why := g.Begin(ctx, card.Wanted{Amount: cur.Format(p.Amount), Currency: cur.Code, For: firm.Name + ", " + number, ReturnTo: pages.ReturnTo, Tell: pages.Tell})
	if p.Reference = at.ID; why != nil {
		p.State, p.Reason, p.Reference = store.CardEnded, posting.Sentence(why.Error()), ""
	}
	err = b.db.Write(context.WithoutCancel(ctx), func(tx *store.Tx) error { return tx.SetCardPayment(p) })
	if why != nil && err == nil {
		return "", noGateway
	}
	return at.Page, err
}

// What whoever pays is told while nothing can be paid by card.
var (
	noCards   = posting.Refusals{{Field: "amount", Rule: "no cards", Text: "Nothing can be paid by card here."}}
	noGateway = posting.Refusals{{Field: "amount", Rule: "gateway", Text: "Cards cannot be taken at the moment. Nothing was paid; please try again later, or pay another way."}}
)

// cardWanted says how much is paid, and refuses what cannot be; it returns the
// paper's number.
func (b *Book) cardWanted(tx *store.Tx, p *store.CardPayment, text string, cur money.Currency) (string, error) {
	can, err := PayableOf(&tx.Reader, p.PaperID, b.Today())
	if err != nil {
		return "", err
	}
	refuse := func(rule, limit, say string, with ...any) error {
		return posting.Refusals{{Field: "amount", Rule: rule, Limit: limit, Text: fmt.Sprintf(say, with...)}}
	}
	row, _, err := tx.PaperRow(p.PaperID, b.Today())
	switch {
	case err != nil:
		return "", err
	case can.Left <= 0:
		return "", refuse("nothing left", cur.Format(0), "Nothing of %s is left to be paid.", row.Number)
	}
	if len(can.Begun) >= mostCardPayments {
		return "", refuse("too many", fmt.Sprint(mostCardPayments), "Too many payments were begun here. Please pay another way.")
	}
	for _, o := range can.Begun {
		if o.State == store.CardBegun { // somebody has begun it in between
			return "", refuse("begun", "", "A payment was just begun in another window. Please go on there, or try again in a minute.")
		}
	}
	if p.Amount = can.Left; text == "" && can.Parts {
		p.Amount = 0
	} else if text != "" {
		if p.Amount, err = cur.Understand(text); err != nil {
			return "", refuse("form", "", "%s.", posting.Sentence(err.Error()))
		}
	}
	switch {
	case p.Amount <= 0:
		return "", refuse("not above nil", cur.Format(can.Left), "Say how much is paid, up to %s.", cur.Show(can.Left))
	case p.Amount > can.Left:
		return "", refuse("more than is left", cur.Format(can.Left), "Only %s is left to be paid, not %s.", cur.Show(can.Left), cur.Show(p.Amount))
	case p.Amount < can.Left && !can.Parts:
		return "", refuse("a part", cur.Format(can.Left), "It is paid whole here: %s.", cur.Show(can.Left))
	}
	return row.Number, nil
}

// endCards ends at the gateway what was begun of a paper; what turns out to be
// paid is recorded.
func (b *Book) endCards(ctx context.Context, g card.Gateway, paper int64) error {
	begun, err := b.Read(ctx).CardPaymentsOf(paper)
	if err != nil {
		return err
	}
	for _, p := range begun {
		if p.State != store.CardBegun {
			continue
		}
		if p.Reference == "" {
			if !b.olderThan(p.MadeAt, cardAsking) {
				continue // it is being asked for now
			}
			p.State, p.Reason = store.CardEnded, "The gateway never answered."
			if err := b.db.Write(ctx, func(tx *store.Tx) error { return tx.SetCardPayment(p) }); err != nil {
				return err
			}
			continue
		}
		now, err := g.End(ctx, p.Reference)
		if errors.Is(err, card.ErrUnknown) {
			now, err = card.Payment{ID: p.Reference, State: card.Ended}, nil
		}
		if err != nil {
			return noGateway
		}
		if err := b.CardTold(ctx, now); err != nil {
			return err
		}
	}
	return nil
}

func (b *Book) olderThan(stamp string, d time.Duration) bool {
	at, err := time.Parse(time.RFC3339, stamp)
	return err != nil || b.clock().Sub(at) > d
}

// LookAtCards asks the gateway what became of payments of which that is not
// known, of one paper or, for 0, of all; it ends those that nobody went on with,
// and tries again what could not be recorded.
func (b *Book) LookAtCards(ctx context.Context, g card.Gateway, paper int64) error {
	open, err := b.Read(ctx).CardPaymentsOpen()
	if err != nil {
		return err
	}
	var all error
	for _, p := range open {
		switch {
		case paper != 0 && p.PaperID != paper || ctx.Err() != nil:
		case p.Unkept():
			all = errors.Join(all, b.recordCard(ctx, p))
		case !g.There() || p.Reference == "" && !b.olderThan(p.MadeAt, cardAsking):
		case p.Reference == "" || b.olderThan(p.MadeAt, cardGivenUp):
			all = errors.Join(all, b.endCards(ctx, g, p.PaperID))
		default:
			now, err := g.Look(ctx, p.Reference)
			if err == nil {
				err = b.CardTold(ctx, now)
			}
			all = errors.Join(all, err)
		}
	}
	return all
}

// CardTold takes what the gateway says became of a payment. However often it
// says so, there is one receipt. It returns store.ErrNoRecord for a payment that
// nobody began here, and posting.Refusals for what cannot be read.
func (b *Book) CardTold(ctx context.Context, now card.Payment) error {
	var p store.CardPayment
	err := b.db.Write(ctx, func(tx *store.Tx) error {
		was, there, err := tx.CardPaymentBy(now.ID)
		if err != nil || !there {
			return orNoRecord(err)
		}
		cur, err := tx.Currency()
		if err != nil {
			return err
		}
		if p, err = became(was, now, cur); err != nil || p == was {
			return err
		}
		return tx.SetCardPayment(p)
	})
	if err != nil || !p.Unkept() {
		return err
	}
	return b.recordCard(ctx, p)
}

// became is a payment with what the gateway says of it. What was paid once stays
// paid, whatever is said later.
func became(p store.CardPayment, now card.Payment, cur money.Currency) (store.CardPayment, error) {
	if p.State == store.CardPaid {
		return p, nil
	}
	switch now.State {
	case card.Open:
	case card.Paid:
		paid, err := cur.Parse(now.Amount)
		if err != nil || paid <= 0 || now.Currency != cur.Code {
			return p, posting.Refusals{{Field: "payment", Rule: "form", Text: fmt.Sprintf("The card gateway says that %q %s was paid of %s.", now.Amount, now.Currency, now.ID)}}
		}
		p.State, p.Amount, p.Reason = store.CardPaid, paid, "" // what it says was paid is what comes
	case card.Declined:
		p.State, p.Reason = store.CardDeclined, strings.ToValidUTF8(now.Reason[:min(len(now.Reason), 200)], "")
	case card.Ended:
		p.State = store.CardEnded
	default:
		return p, posting.Refusals{{Field: "payment", Rule: "form", Text: fmt.Sprintf("The card gateway says that %s is %q.", now.ID, now.State)}}
	}
	return p, nil
}

// recordCard takes a payment into the books: a deposit for what was asked for, a
// receipt for what was billed. What is more than is left stays on account. Why it
// could not be is kept with it, and stands on the Desk.
func (b *Book) recordCard(ctx context.Context, p store.CardPayment) error {
	key := "card payment " + p.Reference
	done, err := b.postedBy(ctx, key)
	var refused posting.Refusals
	for range 3 { // what is open may change in between
		if err != nil || done.PaperID != 0 {
			break
		}
		var c posting.Command
		if c, err = b.cardMoney(ctx, p); err == nil {
			done, err = b.postConfirmed(ctx, c, How{User: p.MadeBy, Key: key})
		}
		if errors.Is(err, ErrKeyReused) {
			done, err = b.postedBy(ctx, key)
		}
		if !errors.As(err, &refused) {
			break
		}
		done, err = Posted{}, nil
	}
	if err != nil {
		return err
	}
	if p.ReceiptID, p.Reason = done.PaperID, ""; p.ReceiptID == 0 {
		p.Reason = posting.Sentence(refused.Error())
	}
	return b.db.Write(ctx, func(tx *store.Tx) error {
		if now, _, err := tx.CardPaymentBy(p.Reference); err != nil || !now.Unkept() {
			return err // somebody else has recorded it in between
		}
		return tx.SetCardPayment(p)
	})
}

// postConfirmed posts what nobody looks at first: money that has come, whatever
// it is warned of.
func (b *Book) postConfirmed(ctx context.Context, c posting.Command, how How) (Posted, error) {
	done, err := b.Post(ctx, c, how)
	var warned ErrUnconfirmed
	if errors.As(err, &warned) {
		for _, w := range warned.Warnings {
			how.Confirmed = append(how.Confirmed, w.Rule)
		}
		return b.Post(ctx, c, how)
	}
	return done, err
}

// postedBy is what was posted under a key.
func (b *Book) postedBy(ctx context.Context, key string) (done Posted, err error) {
	act, there, err := b.Read(ctx).ActByKey(key)
	if err != nil || !there || act.Answer == nil {
		return done, err
	}
	return done, json.Unmarshal([]byte(*act.Answer), &done)
}

// cardMoney is the command that takes a payment into the books, as things stand.
func (b *Book) cardMoney(ctx context.Context, p store.CardPayment) (c posting.Command, err error) {
	err = b.db.Snapshot(ctx, func(r *store.Reader) error {
		g, err := r.CardGateway()
		if err != nil {
			return err
		}
		paper, there, err := r.Paper(p.PaperID)
		if err != nil || !there {
			return orNoRecord(err)
		}
		row, _, err := r.PaperRow(p.PaperID, b.Today())
		if err != nil {
			return err
		}
		note := "Paid by card, by the link to " + paper.Number
		if paper.Kind == posting.Request && row.ReversedBy == "" {
			c = settling.Deposit{PartyID: paper.PartyID, JobID: paper.JobID, Day: b.Today(), Amount: p.Amount, BankAccountID: g.BankAccountID, Method: posting.ByCard, Reference: p.Reference, Note: note, RequestID: paper.ID}
			return nil
		}
		receipt := settling.Receipt{PartyID: paper.PartyID, JobID: paper.JobID, Day: b.Today(), Arrived: p.Amount, BankAccountID: g.BankAccountID, Method: posting.ByCard, Reference: p.Reference, Note: note, OnAccount: true}
		owed, err := debtsOf(r, p.PaperID, b.Today())
		left := p.Amount
		for _, i := range owed {
			if take := min(left, i.Left.Amount.Own); take > 0 {
				receipt.Placements = append(receipt.Placements, settling.Placement{Debit: i.ID, Amount: take})
				left -= take
			}
		}
		c = receipt
		return err
	})
	return c, err
}

// RecordCardPayment tries again to take a payment into the books that could not
// be. It returns store.ErrNoRecord, or why it cannot be.
func (b *Book) RecordCardPayment(ctx context.Context, id int64) error {
	if err := b.Need(ctx, rights.ToKeepBooks); err != nil {
		return err
	}
	find := func() (store.CardPayment, bool, error) {
		open, err := b.Read(ctx).CardPaymentsOpen()
		n := slices.IndexFunc(open, func(p store.CardPayment) bool { return p.ID == id && p.Unkept() })
		if n < 0 {
			return store.CardPayment{}, false, err
		}
		return open[n], true, err
	}
	p, there, err := find()
	if err != nil || !there {
		return orNoRecord(err)
	}
	if err := b.recordCard(ctx, p); err != nil {
		return err
	}
	if p, there, err = find(); err == nil && there {
		return posting.Refusals{{Field: "payment", Rule: "not recorded", Text: p.Reason}}
	}
	return err
}

// linkOf is the link that a secret opens. It returns ErrNoLink.
func (b *Book) linkOf(ctx context.Context, secret string) (store.Link, error) {
	hash := sha256.Sum256([]byte(secret))
	l, there, err := b.Read(ctx).LinkBy(hash[:])
	if err == nil && (!there || l.Ended || l.EndsOn < b.Today()) {
		err = ErrNoLink
	}
	return l, err
}
