package standin

import (
	"bytes"
	"context"
	"crypto/rand"
	_ "embed"
	"encoding/json"
	"errors"
	"html/template"
	"io"
	"log/slog"
	"net/http"
	"slices"
	"strings"
	"sync"
	"time"

	"cleantally/formats/card"

	"github.com/shopspring/decimal"
)

// mostPayments is how many payments the gateway keeps.
const mostPayments = 2000

// What the gateway takes of a payment: a part of it and something fixed.
var (
	feeShare = decimal.RequireFromString("0.014")
	feeFixed = decimal.RequireFromString("0.25")
)

// Gateway takes made-up cards: one that is paid, others that are declined, slow,
// told twice, told late or never told. It pays out, less its fee, when it is
// told to.
type Gateway struct {
	Slow  time.Duration // until a slow card answers
	Late  time.Duration // until what is told late is told
	Today func() string // the day of a payout
	at    card.Gateway
	file  string
	mu    sync.Mutex
	kept  gatewayBooks // guarded by mu
	tells sync.WaitGroup
}

// gatewayBooks is what the gateway keeps.
type gatewayBooks struct {
	Payments []*cardPayment
	Payouts  []card.Payout
}

// cardPayment is a payment that was asked for.
type cardPayment struct {
	card.Payment
	For, ReturnTo, Tell string // as it was asked for
	PaidOut             bool
}

// NewGateway returns a gateway that keeps what it knows in dir.
func NewGateway(dir string) (*Gateway, error) {
	g := &Gateway{Slow: 6 * time.Second, Late: 20 * time.Second, Today: func() string { return time.Now().Format(time.DateOnly) }}
	var err error
	g.file, err = load(dir, "gateway.json", &g.kept)
	return g, err
}

// At says where it is reached, and gives it its key.
func (g *Gateway) At(address string) card.Gateway {
	g.at = card.Gateway{Address: address, Key: rand.Text()}
	return g.at
}

// keep writes down what it knows; mu is held.
func (g *Gateway) keep() {
	if over := len(g.kept.Payments) - mostPayments; over > 0 {
		g.kept.Payments = slices.Delete(g.kept.Payments, 0, over)
	}
	write(g.file, g.kept)
}

// payment finds one; mu is held.
func (g *Gateway) payment(id string) *cardPayment {
	for _, p := range g.kept.Payments {
		if p.ID == id {
			return p
		}
	}
	return nil
}

// ServeHTTP answers the program, signed, and shows pages to whoever pays.
func (g *Gateway) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	h := w.Header()
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Cache-Control", "no-store")
	path := strings.Split(strings.Trim(r.URL.Path, "/"), "/")
	switch {
	case path[0] == "payments":
		g.answer(w, r, path[1:])
	case path[0] == "pay" && len(path) == 2 && r.Method == http.MethodGet:
		g.page(w, path[1])
	case path[0] == "pay" && len(path) == 2 && r.Method == http.MethodPost:
		g.take(w, r, path[1])
	case path[0] == "payout" && r.Method == http.MethodPost:
		g.PayOut()
		http.Redirect(w, r, "/", http.StatusSeeOther)
	case path[0] == "" && r.Method == http.MethodGet:
		g.list(w)
	default:
		http.NotFound(w, r)
	}
}

// answer is what the program asks for.
func (g *Gateway) answer(w http.ResponseWriter, r *http.Request, path []string) {
	body, err := io.ReadAll(io.LimitReader(r.Body, card.Most))
	if err != nil || !g.at.Signed(append([]byte(r.Method+" "+r.URL.EscapedPath()+"\n"), body...), r.Header.Get(card.SignatureHeader)) {
		http.Error(w, "this is not signed", http.StatusUnauthorized)
		return
	}
	g.mu.Lock()
	defer g.mu.Unlock()
	var p *cardPayment
	switch {
	case len(path) == 0 && r.Method == http.MethodPost:
		var wanted card.Wanted
		if err := json.Unmarshal(body, &wanted); err != nil {
			http.Error(w, err.Error(), http.StatusBadRequest)
			return
		}
		id := "CP" + rand.Text()[:14]
		p = &cardPayment{Payment: card.Payment{ID: id, State: card.Open, Amount: wanted.Amount, Currency: wanted.Currency, Page: g.at.Address + "/pay/" + id}, For: wanted.For, ReturnTo: wanted.ReturnTo, Tell: wanted.Tell}
		g.kept.Payments = append(g.kept.Payments, p)
		g.keep()
	case len(path) >= 1:
		if p = g.payment(path[0]); p == nil {
			http.NotFound(w, r)
			return
		}
		if len(path) == 2 && path[1] == "end" && r.Method == http.MethodPost && p.State == card.Open {
			p.State = card.Ended
			g.keep()
		}
	default:
		http.NotFound(w, r)
		return
	}
	w.Header().Set("Content-Type", "application/json")
	_ = json.NewEncoder(w).Encode(p.Payment)
}

// take is a customer who has chosen a card.
func (g *Gateway) take(w http.ResponseWriter, r *http.Request, id string) {
	r.Body = http.MaxBytesReader(w, r.Body, 4<<10)
	chosen := r.FormValue("card")
	if r.FormValue("no") != "" {
		chosen = ""
	}
	if chosen == "slow" {
		select {
		case <-time.After(g.Slow):
		case <-r.Context().Done():
			return
		}
	}
	g.mu.Lock()
	p := g.payment(id)
	if p == nil {
		g.mu.Unlock()
		http.NotFound(w, r)
		return
	}
	open := p.State == card.Open
	if open {
		switch chosen {
		case "paid", "slow", "twice", "late", "silent":
			p.State = card.Paid
		case "declined":
			p.State, p.Reason = card.Declined, "there is not enough on it"
		default:
			p.State = card.Ended
		}
		g.keep()
	}
	now, to, tell := p.Payment, p.ReturnTo, p.Tell
	g.mu.Unlock()
	if open {
		told := card.Told{Payment: &now}
		switch chosen {
		case "silent":
		case "late":
			g.tell(tell, told, g.Late)
		case "twice":
			g.tell(tell, told, 0)
			g.tell(tell, told, 0)
		default:
			g.tell(tell, told, 0)
		}
	}
	http.Redirect(w, r, to, http.StatusSeeOther)
}

// tell tells the program something, again after growing pauses until it is
// heard.
func (g *Gateway) tell(to string, told card.Told, after time.Duration) {
	body, err := json.Marshal(told)
	if err != nil {
		slog.Error("the stand-in for a card gateway has nothing to tell", "error", err)
		return
	}
	g.tells.Add(1)
	go func() {
		defer g.tells.Done()
		pause := after
		for range 6 {
			time.Sleep(pause)
			if g.send(to, body) == nil {
				return
			}
			pause = max(2*pause, time.Second)
		}
	}()
}

func (g *Gateway) send(to string, body []byte) error {
	ctx, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	r, err := http.NewRequestWithContext(ctx, http.MethodPost, to, bytes.NewReader(body))
	if err != nil {
		return err
	}
	r.Header.Set("Content-Type", "application/json")
	r.Header.Set(card.SignatureHeader, g.at.Sign(body))
	answer, err := http.DefaultClient.Do(r)
	if err != nil {
		return err
	}
	answer.Body.Close()
	if answer.StatusCode/100 != 2 {
		return errors.New(answer.Status)
	}
	return nil
}

// Wait waits until all has been told.
func (g *Gateway) Wait() { g.tells.Wait() }

// PayOut pays out what was paid and not paid out yet, less the fee, and tells.
func (g *Gateway) PayOut() {
	g.mu.Lock()
	defer g.mu.Unlock()
	out := card.Payout{ID: "PO" + rand.Text()[:10], Day: g.Today()}
	sum, fee := decimal.Zero, decimal.Zero
	tell, places := "", int32(2)
	for _, p := range g.kept.Payments {
		if p.State != card.Paid || p.PaidOut {
			continue
		}
		amount, err := decimal.NewFromString(p.Amount)
		if err != nil {
			continue
		}
		p.PaidOut, tell, out.Currency, places = true, p.Tell, p.Currency, -amount.Exponent()
		sum, fee = sum.Add(amount), fee.Add(amount.Mul(feeShare).Add(feeFixed))
		out.Payments = append(out.Payments, p.ID)
	}
	if len(out.Payments) == 0 {
		return
	}
	fee = fee.Round(places)
	out.Fee, out.Arrived = fee.StringFixed(places), sum.Sub(fee).StringFixed(places)
	g.kept.Payouts = append(g.kept.Payouts, out)
	g.keep()
	g.tell(tell, card.Told{Payout: &out}, 0)
}

//go:embed gateway.html
var gatewayHTML string

var gatewayPage = page("gateway", gatewayHTML)

// gatewayShown is a payment, or all that the gateway knows.
type gatewayShown struct {
	One      *cardPayment
	Waits    bool // something can be paid out
	Payments []cardPayment
	Payouts  []card.Payout
}

func (g *Gateway) page(w http.ResponseWriter, id string) {
	g.mu.Lock()
	p := g.payment(id)
	var copied cardPayment
	if p != nil {
		copied = *p
	}
	g.mu.Unlock()
	if p == nil {
		http.Error(w, "There is no such payment.", http.StatusNotFound)
		return
	}
	showPage(w, gatewayPage, gatewayShown{One: &copied})
}

func (g *Gateway) list(w http.ResponseWriter) {
	g.mu.Lock()
	data := gatewayShown{Payouts: slices.Clone(g.kept.Payouts)}
	for _, p := range slices.Backward(g.kept.Payments) {
		data.Payments = append(data.Payments, *p)
		data.Waits = data.Waits || p.State == card.Paid && !p.PaidOut
	}
	g.mu.Unlock()
	slices.Reverse(data.Payouts)
	showPage(w, gatewayPage, data)
}

//go:embed style.html
var styleHTML string

// page is a page of a stand-in, in the look that they share.
func page(name, html string) *template.Template {
	return template.Must(template.Must(template.New("style").Parse(styleHTML)).New(name).Parse(html))
}

// showPage answers a page of a stand-in.
func showPage(w http.ResponseWriter, t *template.Template, data any) {
	var page bytes.Buffer
	if err := t.Execute(&page, data); err != nil {
		http.Error(w, err.Error(), http.StatusInternalServerError)
		return
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	_, _ = w.Write(page.Bytes())
}
