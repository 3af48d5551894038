// Package card speaks with a gateway that takes cards: it is asked for a page
// where a customer pays, looked at for what became of that, and tells of it and
// of what it paid out by messages that are signed.
package card

import (
	"bytes"
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"time"
)

// Gateway is where a gateway is reached, and the key that signs what is said
// either way. The zero value is none.
type Gateway struct {
	Address string
	Key     string
}

// There tells whether there is one.
func (g Gateway) There() bool { return g.Address != "" }

// The states of a payment at the gateway.
const (
	Open     = "open" // nobody has paid it yet
	Paid     = "paid"
	Declined = "declined"
	Ended    = "ended"
)

// Payment is a payment as the gateway knows it. Amounts are decimals with the
// currency's places.
type Payment struct {
	ID       string `json:"id"`
	State    string `json:"state"`
	Amount   string `json:"amount"`
	Currency string `json:"currency"`
	Reason   string `json:"reason,omitempty"` // why it was declined
	Page     string `json:"page,omitempty"`   // where the customer pays it
}

// Wanted is a payment that the gateway is asked for.
type Wanted struct {
	Amount   string `json:"amount"`
	Currency string `json:"currency"`
	For      string `json:"for"`      // what the customer reads
	ReturnTo string `json:"returnTo"` // where the customer goes afterwards
	Tell     string `json:"tell"`     // where the gateway tells what became of it
}

// Payout is what the gateway pays out at once: payments less its fee.
type Payout struct {
	ID       string   `json:"id"`
	Day      string   `json:"day"` // YYYY-MM-DD
	Arrived  string   `json:"arrived"`
	Fee      string   `json:"fee"`
	Currency string   `json:"currency"`
	Payments []string `json:"payments"`
}

// Told is a message of the gateway: one of them.
type Told struct {
	Payment *Payment `json:"payment,omitempty"`
	Payout  *Payout  `json:"payout,omitempty"`
}

// SignatureHeader bears the signature of a message's body.
const SignatureHeader = "Card-Signature"

// Most is how many bytes a message has at most.
const Most = 256 << 10

// patience is how long an answer is waited for.
const patience = 10 * time.Second

var client = &http.Client{Timeout: patience}

// Sign signs a message.
func (g Gateway) Sign(body []byte) string {
	m := hmac.New(sha256.New, []byte(g.Key))
	m.Write(body)
	return hex.EncodeToString(m.Sum(nil))
}

// Signed tells whether a message is the gateway's.
func (g Gateway) Signed(body []byte, signature string) bool {
	return g.Key != "" && hmac.Equal([]byte(g.Sign(body)), []byte(signature))
}

// Begin asks for a page where a payment is made.
func (g Gateway) Begin(ctx context.Context, w Wanted) (Payment, error) {
	body, err := json.Marshal(w)
	if err != nil {
		return Payment{}, err
	}
	p, err := g.ask(ctx, http.MethodPost, "/payments", body)
	if at, parseErr := url.Parse(p.Page); err == nil && (parseErr != nil || p.State != Open || at.Host == "" || at.Scheme != "http" && at.Scheme != "https") {
		return p, errUnreadable
	}
	return p, err
}

// Look asks what became of a payment.
func (g Gateway) Look(ctx context.Context, id string) (Payment, error) {
	return g.ask(ctx, http.MethodGet, "/payments/"+url.PathEscape(id), nil)
}

// End gives a payment up, and answers what it is then: paid, where it was
// already.
func (g Gateway) End(ctx context.Context, id string) (Payment, error) {
	return g.ask(ctx, http.MethodPost, "/payments/"+url.PathEscape(id)+"/end", []byte{})
}

var errUnreadable = errors.New("the card gateway answered something that cannot be read")

// ErrUnknown says that the gateway does not know a payment.
var ErrUnknown = errors.New("the card gateway does not know this payment")

func (g Gateway) ask(ctx context.Context, method, path string, body []byte) (Payment, error) {
	var p Payment
	r, err := http.NewRequestWithContext(ctx, method, g.Address+path, bytes.NewReader(body))
	if err != nil {
		return p, err
	}
	r.Header.Set("Content-Type", "application/json")
	r.Header.Set(SignatureHeader, g.Sign(append([]byte(method+" "+path+"\n"), body...)))
	answer, err := client.Do(r)
	if err != nil {
		return p, fmt.Errorf("the card gateway does not answer: %w", err)
	}
	defer answer.Body.Close()
	if answer.StatusCode == http.StatusNotFound {
		return p, ErrUnknown
	}
	if answer.StatusCode != http.StatusOK {
		return p, fmt.Errorf("the card gateway answered %s", answer.Status)
	}
	content, err := io.ReadAll(io.LimitReader(answer.Body, Most+1))
	if err != nil || len(content) > Most || json.Unmarshal(content, &p) != nil || p.ID == "" || p.State == "" {
		return Payment{}, errUnreadable
	}
	return p, nil
}
