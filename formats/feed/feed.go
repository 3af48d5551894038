// Package feed fetches the statements of accounts from a bank.
package feed

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strings"
	"time"

	"cleantally/core/day"
)

// Bank is where a bank is reached, and the key that it knows the firm by. The
// zero value is none.
type Bank struct {
	Address string
	Key     string
}

// There tells whether there is one.
func (b Bank) There() bool { return b.Address != "" }

// Most is how many bytes a statement has at most.
const Most = 64 << 20

// patience is how long an answer is waited for.
const patience = 30 * time.Second

var client = &http.Client{Timeout: patience}

// ErrNoAccount says that the bank knows no such account of the firm's.
var ErrNoAccount = errors.New("the bank knows no such account of yours")

// Statement fetches what was booked on an account since a day, as camt.053; ""
// for since is from the beginning.
func (b Bank) Statement(ctx context.Context, account string, since day.Day) ([]byte, error) {
	query := url.Values{"account": {strings.Join(strings.Fields(account), "")}, "since": {string(since)}}
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, b.Address+"/statement?"+query.Encode(), nil)
	if err != nil {
		return nil, err
	}
	req.Header.Set("Authorization", "Bearer "+b.Key)
	res, err := client.Do(req)
	if err != nil {
		return nil, fmt.Errorf("the bank cannot be reached: %w", err)
	}
	defer res.Body.Close()
	switch res.StatusCode {
	case http.StatusOK:
	case http.StatusNotFound:
		return nil, ErrNoAccount
	default:
		return nil, fmt.Errorf("the bank answers %s", res.Status)
	}
	file, err := io.ReadAll(io.LimitReader(res.Body, Most+1))
	if err == nil && len(file) > Most {
		err = errors.New("the bank answers more than a statement")
	}
	return file, err
}
