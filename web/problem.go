package web

import (
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"math"
	"net/http"
	"strings"
	"sync"

	"cleantally/books"
	"cleantally/core/posting"
	"cleantally/core/rights"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
	"github.com/labstack/echo/v5"
)

// Notice is a sentence about a field: a refusal or a warning.
type Notice struct {
	Field string `json:"field" doc:"Which field it is about; empty for the whole"`
	Rule  string `json:"rule" doc:"A short name of the rule"`
	Limit string `json:"limit" doc:"The figure or day that is the limit, where there is one"`
	Text  string `json:"text" doc:"What is wrong, the limit, and the way out"`
}

// Problem is the answer to what cannot be done (RFC 9457).
type Problem struct {
	Type     string   `json:"type" doc:"refused, unconfirmed, shown otherwise, a second word, a code, not yours, or about:blank"`
	Title    string   `json:"title"`
	Status   int      `json:"status"`
	Detail   string   `json:"detail,omitempty"`
	Refusals []Notice `json:"refusals,omitempty" doc:"Why it is refused; nothing has changed"`
	Warnings []Notice `json:"warnings,omitempty" doc:"What must be confirmed before it is posted"`
	Effect   *Effect  `json:"effect,omitempty" doc:"What would be posted now, where that is no longer what was shown"`
	Others   []string `json:"others,omitempty" doc:"Who could give the second word; none where it is one's own, again"`
}

func (p *Problem) Error() string  { return p.Detail }
func (p *Problem) GetStatus() int { return p.Status }

// ContentType makes problems application/problem+json.
func (p *Problem) ContentType(string) string { return "application/problem+json" }

func notices(from []posting.Notice) []Notice {
	to := make([]Notice, len(from))
	for i, n := range from {
		to[i] = Notice(n)
	}
	return to
}

func plain(status int, detail string) *Problem {
	return &Problem{Type: "about:blank", Title: http.StatusText(status), Status: status, Detail: detail}
}

func refusedProblem(r posting.Refusals) *Problem {
	return &Problem{Type: "refused", Title: "Refused", Status: http.StatusUnprocessableEntity, Detail: r.Error(), Refusals: notices(r)}
}

var errNotFound = plain(http.StatusNotFound, "There is nothing here by that name.")

// problem turns an error of the books into an answer. What is not meant for
// people is logged and kept from them.
func problem(err error) error {
	var refusals posting.Refusals
	var unconfirmed books.ErrUnconfirmed
	var word books.ErrNeedsWord
	var column store.ErrNoSuchColumn
	var notYours rights.ErrNotYours
	var tries books.ErrTooManyTries
	var unwritable store.ErrUnwritable
	var stopped books.ErrImportStopped
	var p *Problem
	switch {
	case err == nil:
		return nil
	case errors.As(err, &p):
		return p
	case errors.As(err, &stopped):
		return stoppedProblem(stopped, err)
	case errors.As(err, &refusals):
		return refusedProblem(refusals)
	case errors.As(err, &tries):
		return huma.ErrorWithHeaders(plain(http.StatusTooManyRequests, sentence(tries)), http.Header{"Retry-After": {fmt.Sprint(int(math.Ceil(tries.Wait.Seconds())))}})
	case errors.As(err, &unwritable):
		return plain(http.StatusServiceUnavailable, sentence(unwritable))
	case errors.Is(err, store.ErrFull):
		return plain(http.StatusInsufficientStorage, sentence(store.ErrFull))
	case errors.Is(err, store.ErrGone):
		return plain(http.StatusServiceUnavailable, sentence(store.ErrGone))
	case errors.Is(err, store.ErrReadStopped):
		return plain(http.StatusServiceUnavailable, sentence(store.ErrReadStopped))
	case errors.Is(err, books.ErrBusy):
		return plain(http.StatusServiceUnavailable, sentence(books.ErrBusy))
	case errors.Is(err, books.ErrNeedsCode):
		return &Problem{Type: "a code", Title: "A code is asked for", Status: http.StatusUnauthorized, Detail: sentence(books.ErrNeedsCode)}
	case errors.Is(err, books.ErrWrongCode):
		return &Problem{Type: "a code", Title: "A code is asked for", Status: http.StatusUnauthorized, Detail: sentence(books.ErrWrongCode)}
	case errors.Is(err, books.ErrWrongSignIn):
		return plain(http.StatusUnauthorized, sentence(books.ErrWrongSignIn))
	case errors.As(err, &unconfirmed):
		return &Problem{Type: "unconfirmed", Title: "Not confirmed yet", Status: http.StatusConflict, Detail: err.Error(), Warnings: notices(unconfirmed.Warnings)}
	case errors.As(err, &word):
		return &Problem{Type: "a second word", Title: "A second person must agree", Status: http.StatusConflict, Detail: err.Error(), Refusals: notices([]posting.Notice{word.What}), Others: word.Who}
	case errors.Is(err, books.ErrKeyReused):
		return plain(http.StatusUnprocessableEntity, sentence(err))
	case errors.Is(err, books.ErrDraftGone):
		return plain(http.StatusGone, sentence(err))
	case errors.Is(err, store.ErrNoRecord):
		return errNotFound
	case errors.As(err, &notYours):
		return &Problem{Type: "not yours", Title: "Not yours to do", Status: http.StatusForbidden, Detail: notYours.Error()}
	case errors.Is(err, books.ErrDraftChanged), errors.Is(err, store.ErrRecordChanged):
		return plain(http.StatusPreconditionFailed, sentence(err))
	case errors.Is(err, store.ErrNoFirm), errors.Is(err, books.ErrSetUpAlready):
		return plain(http.StatusConflict, sentence(err))
	case errors.As(err, &column):
		return plain(http.StatusBadRequest, sentence(err))
	}
	slog.Error("request failed", "error", err)
	return plain(http.StatusInternalServerError, "The program failed at this. Nothing was changed. The reason is in its log.")
}

// stoppedProblem says where an import was stopped, and by what.
func stoppedProblem(stopped books.ErrImportStopped, err error) error {
	status := http.StatusServiceUnavailable
	switch {
	case len(stopped.Refusals) > 0:
		status = http.StatusUnprocessableEntity
	case errors.Is(err, store.ErrFull):
		status = http.StatusInsufficientStorage
	}
	p := plain(status, sentence(stopped))
	p.Refusals = notices(stopped.Refusals)
	return p
}

// sentence makes a sentence of an error's text.
func sentence(err error) string {
	s := err.Error()
	return strings.ToUpper(s[:1]) + s[1:] + "."
}

// mostErrors of one request are told: more helps nobody.
const mostErrors = 20

// describeErrors makes huma's own errors of the same form.
var describeErrors = sync.OnceFunc(func() {
	huma.DefaultArrayNullable = false // every list of ours is there, if empty
	huma.NewError = func(status int, message string, errs ...error) huma.StatusError {
		if message == "cannot read request body" {
			return plain(http.StatusBadRequest, "The request ended before all of it was here. Nothing was changed.")
		}
		p := plain(status, message)
		if status >= http.StatusInternalServerError {
			slog.Error("request failed", "status", status, "message", message, "errors", errs)
			p.Detail = "The program failed at this. Nothing was changed. The reason is in its log."
			return p
		}
		for n, err := range errs {
			if n == mostErrors {
				p.Detail += fmt.Sprintf(", and %d more", len(errs)-n)
				break
			}
			var d huma.ErrorDetailer
			if errors.As(err, &d) {
				detail := d.ErrorDetail()
				p.Refusals = append(p.Refusals, Notice{Field: detail.Location, Rule: "form", Text: detail.Message})
			} else if err != nil {
				p.Detail += ": " + err.Error()
			}
		}
		return p
	}
	huma.NewErrorWithContext = func(_ huma.Context, status int, message string, errs ...error) huma.StatusError {
		return huma.NewError(status, message, errs...)
	}
})

// handleError answers what Echo itself refuses.
func handleError(c *echo.Context, err error) {
	if r, ok := c.Response().(*echo.Response); ok && r.Committed {
		return
	}
	status := http.StatusInternalServerError
	var coder interface{ StatusCode() int }
	if errors.As(err, &coder) {
		status = coder.StatusCode()
	}
	detail := http.StatusText(status)
	if status >= http.StatusInternalServerError {
		slog.Error("request failed", "path", c.Request().URL.Path, "error", err)
		detail = "The program failed at this. Nothing was changed. The reason is in its log."
	}
	writeProblem(c.Response(), plain(status, detail))
}

func writeProblem(w http.ResponseWriter, p *Problem) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(p.Status)
	if err := json.NewEncoder(w).Encode(p); err != nil {
		slog.Debug("answer not sent", "error", err)
	}
}
