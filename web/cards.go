package web

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"log/slog"
	"net/http"
	"net/url"
	"strings"
	"time"

	"cleantally/books"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/formats/card"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
	"github.com/labstack/echo/v5"
)

// toldPath is where the card gateway tells what became of payments.
const toldPath = "/card/told"

// CardGateway says whether customers pay by card on the pages of links.
type CardGateway struct {
	Version int64  `json:"version,omitempty" readOnly:"true" doc:"Counts its changes; If-Match needs it"`
	Way     string `json:"way,omitempty" enum:",stand-in" doc:"Empty: nothing is paid by card"`
	Bank    int64  `json:"bank,omitempty" doc:"The account of card takings where what is paid waits"`
	Parts   bool   `json:"parts,omitempty" doc:"Whether customers may pay a part"`
	StandIn string `json:"standIn,omitempty" readOnly:"true" doc:"Where the stand-in for a gateway is looked at; empty where it does not run"`
}

// Taking is what came to card takings, or went from there, and waits to be paid
// out.
type Taking struct {
	PaperID   int64  `json:"paperId"`
	Kind      string `json:"kind"`
	Number    string `json:"number"`
	Day       string `json:"day"`
	Customer  string `json:"customer"`
	Reference string `json:"reference"`
	Bank      string `json:"bank" doc:"Where it waits"`
	Amount    string `json:"amount" doc:"Below nil for what went from there"`
}

// Takings are those, the oldest first.
type Takings struct {
	Rows   []Taking `json:"rows"`
	Count  int64    `json:"count" doc:"Of all, also those not told here"`
	Sum    string   `json:"sum" doc:"Of all"`
	Chosen string   `json:"chosen" doc:"What those come to that are chosen"`
}

// PayoutTold is what the gateway says that it paid out.
type PayoutTold struct {
	Bank      int64   `json:"bank"`
	Day       string  `json:"day"`
	Arrived   string  `json:"arrived"`
	Fee       string  `json:"fee"`
	Reference string  `json:"reference"`
	Takings   []int64 `json:"takings" doc:"The papers by which its payments are in the books"`
}

// mostTakings is how many takings are told at once.
const mostTakings = 300

func (s *Server) cardGateway(ctx context.Context) (*struct{ Body CardGateway }, error) {
	g, err := s.book.Read(ctx).CardGateway()
	return &struct{ Body CardGateway }{CardGateway{g.Version, g.Way, g.BankAccountID, g.Parts, s.options.StandIns.Cards.Address}}, problem(err)
}

func (s *Server) registerCards() {
	huma.Register(s.api, describe("card-gateway", "GET", "/api/v1/card-gateway", "Whether customers pay by card"), func(ctx context.Context, _ *struct{}) (*struct{ Body CardGateway }, error) {
		return s.cardGateway(ctx)
	})
	huma.Register(s.api, describe("save-card-gateway", "PUT", "/api/v1/card-gateway", "Say whether customers pay by card"), func(ctx context.Context, in *struct{ Body CardGateway }) (*struct{ Body CardGateway }, error) {
		g := store.CardGateway{Version: in.Body.Version, Way: in.Body.Way, BankAccountID: in.Body.Bank, Parts: in.Body.Parts}
		if err := s.book.SaveCardGateway(ctx, s.user(ctx), g); err != nil {
			return nil, problem(err)
		}
		return s.cardGateway(ctx)
	})
	huma.Register(s.api, describe("card-takings", "GET", "/api/v1/card-takings", "What waits to be paid out by a card gateway"), s.cardTakings)
	type of struct {
		ID int64 `path:"id"`
	}
	huma.Register(s.api, describe("record-card-payment", "POST", "/api/v1/card-payments/{id}/record", "Try again to take a payment by card into the books"), func(ctx context.Context, in *of) (*struct{}, error) {
		return nil, problem(s.book.RecordCardPayment(ctx, in.ID))
	})
	huma.Register(s.api, describe("put-card-payout-away", "POST", "/api/v1/card-payouts/{id}/away", "Put away what the gateway says that it paid out"), func(ctx context.Context, in *of) (*struct{}, error) {
		return nil, problem(s.book.PutCardPayoutAway(ctx, s.user(ctx), in.ID))
	})
}

func (s *Server) cardTakings(ctx context.Context, in *struct {
	Chosen  []int64 `query:"chosen,explode" maxItems:"5000" doc:"Papers that are told in any case, and added up"`
	Again   int64   `query:"again" doc:"A payout that is taken back: what it cleared waits"`
	Through string  `query:"through" doc:"What waits at the end of this day; left out, today"`
}) (*struct{ Body Takings }, error) {
	p, through, err := s.lookingBack(ctx, in.Through)
	if err != nil {
		return nil, err
	}
	rows, err := s.book.Read(ctx).Takings(through, in.Chosen, in.Again, mostTakings)
	out := &struct{ Body Takings }{Takings{Rows: []Taking{}, Sum: p.cur.Format(0)}}
	var chosen money.Amount
	named := map[int64]bool{}
	for _, id := range in.Chosen {
		named[id] = true
	}
	for _, t := range rows {
		out.Body.Rows = append(out.Body.Rows, Taking{t.PaperID, string(t.Kind), t.Number, string(t.Day), t.Party, t.Reference, t.Bank, p.cur.Format(t.Amount)})
		out.Body.Count, out.Body.Sum = t.Count, p.cur.Format(t.Sum)
		if named[t.PaperID] {
			chosen += t.Amount
		}
	}
	out.Body.Chosen = p.cur.Format(chosen)
	return out, problem(err)
}

// payoutTold fills in what the gateway says that it paid out.
func payoutTold(r *store.Reader, id int64, bank int64, cur money.Currency) (*PayoutTold, error) {
	p, there, err := r.CardPayout(id)
	if err != nil || !there {
		return nil, err
	}
	var payments []string
	if err := json.Unmarshal([]byte(p.Takings), &payments); err != nil {
		return nil, err
	}
	takings, err := r.TakingsIn(payments)
	return &PayoutTold{bank, string(p.Day), cur.Format(p.Arrived), cur.Format(p.Fee), p.Reference, takings}, err
}

// cardShown is what the page of a link says of cards.
type cardShown struct {
	Says    string // what became of what was begun last
	Wrong   string // why what was written was refused
	Pending bool
	Left    string // what can be paid; "" for nothing
	Plain   string // the same, as it is written
	Code    string // of the currency
	Parts   bool
	Written string
}

func (s *Server) cardOf(o books.Opened, written, wrong string) cardShown {
	out := cardShown{Wrong: wrong, Written: written, Parts: o.Card.Parts, Code: o.Currency.Code}
	in := func(a money.Amount) string { return o.Marks(o.Currency.Format(a)) + " " + o.Currency.Code }
	if o.Card.Left > 0 && s.options.StandIns.Cards.There() {
		out.Left, out.Plain = in(o.Card.Left), o.Currency.Format(o.Card.Left)
		if written == "" {
			out.Written = out.Plain
		}
	}
	if p := o.Card.Last(); p != nil {
		switch p.State {
		case store.CardBegun:
			out.Pending, out.Says = true, "A payment of "+in(p.Amount)+" by card was begun and has not arrived yet."
		case store.CardPaid:
			out.Says = "Thank you: " + in(p.Amount) + " was paid by card."
		case store.CardDeclined:
			out.Says = strings.TrimSuffix("The card was declined: "+p.Reason, ": ") + ". Nothing was paid."
		}
	}
	return out
}

// lookedAt asks the gateway what became of what was begun, and opens the link
// again. A gateway that does not answer keeps nobody from reading.
func (s *Server) lookedAt(ctx context.Context, secret string, o books.Opened) (books.Opened, error) {
	short, cancel := context.WithTimeout(ctx, 3*time.Second)
	defer cancel()
	if err := s.book.LookAtCards(short, s.options.StandIns.Cards, o.PaperID); err != nil {
		slog.Warn("the card gateway was not asked", "error", err)
		return o, nil
	}
	return s.book.OpenLink(ctx, secret, true)
}

// formsGo is where what is written on the page of a link goes: to the program,
// and on to the gateway.
func (s *Server) formsGo() string {
	at, err := url.Parse(s.options.StandIns.Cards.Address)
	if err != nil || at.Host == "" {
		return "'self'"
	}
	return "'self' " + at.Scheme + "://" + at.Host
}

// payByCard begins a payment and leads to the gateway's page for it.
func (s *Server) payByCard(c *echo.Context) error {
	o, err := s.opened(c, true)
	if err != nil || nothing(o) {
		return err
	}
	c.Request().Body = http.MaxBytesReader(c.Response(), c.Request().Body, 4<<10)
	if err := c.Request().ParseForm(); err != nil { // what cannot be read is not taken for all that is left
		return c.NoContent(http.StatusBadRequest)
	}
	written := strings.TrimSpace(c.Request().PostForm.Get("amount"))
	scheme := "http://"
	if s.options.Secure {
		scheme = "https://"
	}
	at, secret := scheme+c.Request().Host+s.options.At, c.Param("secret")
	page, err := s.book.PayByCard(c.Request().Context(), s.options.StandIns.Cards, secret, written, books.Pages{ReturnTo: at + linkPath + url.PathEscape(secret), Tell: at + toldPath})
	var refused posting.Refusals
	if errors.As(err, &refused) {
		if o, err = s.opened(c, true); err != nil || nothing(o) {
			return err
		}
		return s.showLink(c, http.StatusUnprocessableEntity, o, written, refused.Error())
	}
	if err != nil {
		return err
	}
	return c.Redirect(http.StatusSeeOther, page)
}

// cardTold hears what the gateway tells.
func (s *Server) cardTold(c *echo.Context) error {
	body, err := io.ReadAll(io.LimitReader(c.Request().Body, card.Most+1))
	if err != nil || len(body) > card.Most {
		return c.NoContent(http.StatusRequestEntityTooLarge)
	}
	if !s.options.StandIns.Cards.Signed(body, c.Request().Header.Get(card.SignatureHeader)) {
		return c.NoContent(http.StatusUnauthorized)
	}
	var told card.Told
	if err := json.Unmarshal(body, &told); err != nil {
		return c.NoContent(http.StatusBadRequest)
	}
	ctx := c.Request().Context()
	switch {
	case told.Payment != nil:
		err = s.book.CardTold(ctx, *told.Payment)
	case told.Payout != nil:
		err = s.book.PayoutTold(ctx, *told.Payout)
	}
	var refused posting.Refusals
	switch {
	case errors.Is(err, store.ErrNoRecord):
		return c.NoContent(http.StatusNotFound)
	case errors.As(err, &refused):
		return c.NoContent(http.StatusUnprocessableEntity)
	case err != nil:
		return err
	}
	return c.NoContent(http.StatusNoContent)
}
