package web

import (
	"errors"
	"maps"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"cleantally/books"
	"cleantally/core/rights"

	"github.com/danielgtaylor/huma/v2"
	"github.com/labstack/echo/v5"
)

// anybody is what an operation asks of nobody: it is open to who is not signed
// in, or about one's own sign-in alone.
const anybody rights.Right = ""

// operationRights are what each operation asks for before anything else is
// looked at. What is posted asks for its own right once more where it is
// planned (books.Post), what is stored where it is stored; this is the door of
// what is read. An operation that does not stand here is an owner's alone, and a
// test says so.
var operationRights = func() map[string]rights.Right {
	all := map[string]rights.Right{}
	for right, ids := range map[rights.Right]string{
		anybody: "session firms sign-in sign-out set-up change-password sessions end-session new-factor set-factor drop-factor invited accept-invitation",
		rights.SeeOpen: `customers customer papers paper paper-pdf papers-pdf search blank proposal understand understand-rows drafts draft create-draft
			save-draft discard-draft draft-pdf currencies rate-on taxcodes terms banks accounts firm letterheads letterhead-logo desk jobs job groups limits words attachments attached-file`,
		rights.SeePapers: `billable held customer-story job-story bench statement order-book order-register articles credit-notes returned-goods credited
			creditable copy-paper paper-ubl certificate-pdf late-charges recurring reminders reminder-stages mail-templates mails mail mailed-file
			links statement-links deposit-register statements statements-pdf cheques`,
		rights.SeeBooks: `account-lines advance-register ageing allowance audit bank bank-line bank-payments bank-rules rule-uses bank-lines reconciling
			statements-read tying bank-columns card-gateway card-takings costs expected journal job-margin margins payables purchase-orders register
			accruals rates revaluation income balance-sheet tax-return tax-return-papers closing small-balances stock stock-of suppliers supplier supplier-bench supplier-story tie-out trial-balance why whose mail-account cheques-pdf`,
		rights.ToNote: `attach change-attachment detach record-event make-link write-mail preview-mail propose-mail answer-word end-word`,
		rights.ToSell: `post-quote post-order post-delivery post-return post-cancellation post-request post-invoice post-credit-note post-deposit-invoice
			post-advance-credit post-late-charge draft-late-charges create-customer save-customer create-job save-job create-recurring save-recurring
			end-recurring choose-letterhead preview-letterhead make-statement-link end-link send-mail stop-mail mail-many`,
		rights.ToTakeMoney: "post-deposit post-receipt post-unidentified distribute",
		rights.ToKeepBooks: `set-against move-allocation undo-allocations post-allowance post-refund post-forfeit post-transfer split-deposit post-returned
			post-write-off post-recovery post-card-payout post-own-transfer post-contra dispute post-accrual post-revaluation post-journal post-reversal bank-file count-till fetch-statement
			type-statement read-bank-statement drop-statement reconcile tie untie record-card-payment put-card-payout-away print-cheques create-articles save-articles
			create-currencies save-currencies set-rate read-rates create-groups save-groups create-bank-rules save-bank-rules mail-reminders keep-reminders reminders-pdf import import-progress`,
		rights.ToClaim: "post-claim post-release post-guarantee",
		rights.ToBuy: `post-expense post-bill read-bill post-supplier-credit post-supplier-payment post-supplier-prepayment post-supplier-refund
			post-supplier-release post-payment-run post-purchase-order post-not-coming post-goods-received post-not-passed-on post-stock-count post-stock-use`,
		rights.ToExport: `account-file advance-register-file order-register-file ageing-file bank-lines-file costs-file credit-notes-file customers-file deposit-register-file
			jobs-file margins-file papers-file register-file returned-goods-file statement-file stock-file suppliers-file trial-balance-file export audit-file archive income-file balance-sheet-file tax-return-file`,
		rights.ToFileTax: "settle-tax",
		rights.ToLock:    "lock end-year",
		rights.ToOwn: `create-accounts save-accounts create-banks save-banks save-bank-feed save-card-gateway save-firm save-limits save-numbering save-role
			create-letterheads save-letterheads set-logo drop-logo save-mail-account try-mail create-mail-templates save-mail-templates create-reminder-stages
			save-reminder-stages create-taxcodes save-taxcodes create-terms save-terms people save-person start-firm invite end-invitation save-choices backups save-backup-plan back-up post-opening undo-opening opening opening-template read-opening`,
	} {
		for _, id := range strings.Fields(ids) {
			all[id] = right
		}
	}
	return all
}()

// RightOf is the right that an operation asks for, and whether that was said;
// where it was not, it is an owner's alone.
func RightOf(operation string) (right rights.Right, said bool) {
	if right, said = operationRights[operation]; !said {
		right = rights.ToOwn
	}
	return right, said
}

// OperationsWithRights are the operations of which it is said.
func OperationsWithRights() []string { return slices.Sorted(maps.Keys(operationRights)) }

// may refuses an operation to whoever has not the right to it.
func (s *Server) may(op *huma.Operation) echo.MiddlewareFunc {
	right, _ := RightOf(op.OperationID)
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			if right == anybody {
				return next(c)
			}
			r := c.Request()
			person, err := s.book.Person(r.Context())
			if err == nil {
				err = person.Need(right)
			}
			if err == nil {
				err = s.seen(op, c)
			}
			if err != nil {
				var p *Problem
				errors.As(problem(err), &p)
				writeProblem(c.Response(), p)
				return nil
			}
			return next(c)
		}
	}
}

// seen refuses what is about a paper that is not for the eyes of who asks.
func (s *Server) seen(op *huma.Operation, c *echo.Context) error {
	if op.OperationID == "papers-pdf" {
		var papers []int64
		for _, text := range c.QueryParams()["ids"] {
			id, _ := strconv.ParseInt(text, 10, 64)
			papers = append(papers, id)
		}
		return s.book.SeesPapers(c.Request().Context(), papers...)
	}
	if !strings.HasPrefix(op.Path, "/api/v1/papers/{id}") {
		return nil
	}
	id, err := strconv.ParseInt(c.Param("id"), 10, 64)
	if err != nil {
		return nil // what reads it says what is wrong with it
	}
	return s.book.SeesPapers(c.Request().Context(), id)
}

// asWho tells what is done in a request who does it.
func (s *Server) asWho(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if user := s.user(r.Context()); user != 0 {
			r = r.WithContext(books.As(r.Context(), user))
		}
		next.ServeHTTP(w, r)
	})
}
