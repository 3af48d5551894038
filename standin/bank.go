package standin

import (
	"crypto/rand"
	"crypto/subtle"
	_ "embed"
	"encoding/xml"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"sync"
	"time"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/formats/feed"
)

// Booked is an entry on an account at the stand-in for a bank.
type Booked struct {
	Account string
	Day     day.Day
	Amount  money.Amount // above nil for what came
	Name    string       // of the other side
	Text    string
	Entry   string // the bank's own reference; given where it is empty
}

// Bank stands in for a bank whose statements are fetched. What is booked there is
// told to it, by a page of its own or by whoever tries it.
type Bank struct {
	Today func() day.Day // on which what the page books is booked
	cur   money.Currency
	at    feed.Bank
	file  string
	mu    sync.Mutex
	kept  bankBooks // guarded by mu
}

type bankBooks struct {
	Begins map[string]money.Amount // by account: what it held before the first entry
	Booked []Booked
}

// NewBank returns a bank that keeps what it knows in dir.
func NewBank(dir string, cur money.Currency) (*Bank, error) {
	b := &Bank{Today: func() day.Day { return day.Of(time.Now()) }, cur: cur}
	var err error
	if b.file, err = load(dir, "bank.json", &b.kept); b.kept.Begins == nil {
		b.kept.Begins = map[string]money.Amount{}
	}
	return b, err
}

// At says where it is reached, and gives it its key.
func (b *Bank) At(address string) feed.Bank {
	b.at = feed.Bank{Address: address, Key: rand.Text()}
	return b.at
}

// Begin says what an account held before its first entry; false where it has
// begun already.
func (b *Bank) Begin(account string, held money.Amount) bool {
	b.mu.Lock()
	defer b.mu.Unlock()
	account = bare(account)
	if _, begun := b.kept.Begins[account]; begun {
		return false
	}
	b.kept.Begins[account] = held
	b.keep()
	return true
}

// Book books an entry.
func (b *Bank) Book(e Booked) {
	b.mu.Lock()
	defer b.mu.Unlock()
	e.Account = bare(e.Account)
	if _, begun := b.kept.Begins[e.Account]; !begun {
		b.kept.Begins[e.Account] = 0
	}
	if e.Entry == "" {
		e.Entry = fmt.Sprintf("SB%06d", len(b.kept.Booked)+1)
	}
	b.kept.Booked = append(b.kept.Booked, e)
	slices.SortStableFunc(b.kept.Booked, func(x, y Booked) int { return strings.Compare(string(x.Day), string(y.Day)) })
	b.keep()
}

func bare(account string) string { return strings.Join(strings.Fields(account), "") }

// keep writes down what it knows; mu is held.
func (b *Bank) keep() { write(b.file, b.kept) }

// ServeHTTP answers statements to whoever knows its key, and shows a page.
func (b *Bank) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	w.Header().Set("X-Content-Type-Options", "nosniff")
	w.Header().Set("Cache-Control", "no-store")
	switch {
	case r.URL.Path == "/statement" && r.Method == http.MethodGet:
		b.statement(w, r)
	case r.URL.Path == "/" && r.Method == http.MethodGet:
		b.page(w, "")
	case r.URL.Path == "/" && r.Method == http.MethodPost:
		b.take(w, r)
	default:
		http.NotFound(w, r)
	}
}

func (b *Bank) statement(w http.ResponseWriter, r *http.Request) {
	if b.at.Key == "" || subtle.ConstantTimeCompare([]byte(r.Header.Get("Authorization")), []byte("Bearer "+b.at.Key)) != 1 {
		http.Error(w, "Who is asking?", http.StatusUnauthorized)
		return
	}
	account := r.URL.Query().Get("account")
	b.mu.Lock()
	opening, begun := b.kept.Begins[account]
	since := day.Day(r.URL.Query().Get("since"))
	var entries []Booked
	for _, e := range b.kept.Booked {
		switch {
		case e.Account != account:
		case e.Day < since:
			opening += e.Amount
		default:
			entries = append(entries, e)
		}
	}
	b.mu.Unlock()
	if !begun {
		http.NotFound(w, r)
		return
	}
	w.Header().Set("Content-Type", "application/xml")
	_, _ = w.Write([]byte(b.camt(account, opening, entries)))
}

// camt writes a statement as banks do.
func (b *Bank) camt(account string, opening money.Amount, entries []Booked) string {
	var out strings.Builder
	text := func(s string) string {
		var t strings.Builder
		_ = xml.EscapeText(&t, []byte(s))
		return t.String()
	}
	amount := func(a money.Amount) string {
		side := "CRDT"
		if a < 0 {
			side = "DBIT"
		}
		return fmt.Sprintf(`<Amt Ccy="%s">%s</Amt><CdtDbtInd>%s</CdtDbtInd>`, b.cur.Code, b.cur.Format(a.Abs()), side)
	}
	balance := func(code string, a money.Amount, d day.Day) {
		fmt.Fprintf(&out, "<Bal><Tp><CdOrPrtry><Cd>%s</Cd></CdOrPrtry></Tp>%s<Dt><Dt>%s</Dt></Dt></Bal>", code, amount(a), d)
	}
	first, last, closing := b.Today(), b.Today(), opening
	for n, e := range entries {
		if n == 0 {
			first = e.Day
		}
		last, closing = e.Day, closing+e.Amount
	}
	fmt.Fprintf(&out, `<?xml version="1.0" encoding="UTF-8"?><Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08"><BkToCstmrStmt><Stmt><Acct><Id><IBAN>%s</IBAN></Id><Ccy>%s</Ccy></Acct>`, text(account), b.cur.Code)
	balance("OPBD", opening, first)
	balance("CLBD", closing, last)
	for _, e := range entries {
		other := "Dbtr"
		if e.Amount < 0 {
			other = "Cdtr"
		}
		fmt.Fprintf(&out, "<Ntry>%s<Sts><Cd>BOOK</Cd></Sts><BookgDt><Dt>%s</Dt></BookgDt><AcctSvcrRef>%s</AcctSvcrRef><NtryDtls><TxDtls><RltdPties><%s><Pty><Nm>%s</Nm></Pty></%s></RltdPties><RmtInf><Ustrd>%s</Ustrd></RmtInf></TxDtls></NtryDtls></Ntry>",
			amount(e.Amount), e.Day, text(e.Entry), other, text(e.Name), other, text(e.Text))
	}
	out.WriteString("</Stmt></BkToCstmrStmt></Document>")
	return out.String()
}

//go:embed bank.html
var bankHTML string

var bankPage = page("bank", bankHTML)

type bankShown struct {
	Said     string
	Accounts []string
	Booked   []bankRow
}

type bankRow struct {
	Booked
	Is string
}

// page shows what was booked, with a form by which more is.
func (b *Bank) page(w http.ResponseWriter, said string) {
	b.mu.Lock()
	shown := bankShown{Said: said}
	for account := range b.kept.Begins {
		shown.Accounts = append(shown.Accounts, account)
	}
	slices.Sort(shown.Accounts)
	for _, e := range slices.Backward(b.kept.Booked) {
		if len(shown.Booked) < 200 {
			shown.Booked = append(shown.Booked, bankRow{e, b.cur.Show(e.Amount)})
		}
	}
	b.mu.Unlock()
	showPage(w, bankPage, shown)
}

// take books what the form says.
func (b *Bank) take(w http.ResponseWriter, r *http.Request) {
	r.Body = http.MaxBytesReader(w, r.Body, 64<<10)
	if err := r.ParseForm(); err != nil {
		http.Error(w, "That is too much.", http.StatusRequestEntityTooLarge)
		return
	}
	amount, err := b.cur.Parse(strings.TrimSpace(r.PostFormValue("amount")))
	account := bare(r.PostFormValue("account"))
	if err != nil || amount == 0 || amount.Abs() > money.Limit || account == "" || len(account) > 40 || len(r.PostFormValue("name")) > 140 || len(r.PostFormValue("text")) > 140 {
		w.WriteHeader(http.StatusUnprocessableEntity)
		b.page(w, "Say the account, and an amount like 120.00, or -12.00 for what goes.")
		return
	}
	b.Book(Booked{Account: account, Day: b.Today(), Amount: amount, Name: r.PostFormValue("name"), Text: r.PostFormValue("text")})
	http.Redirect(w, r, "/", http.StatusSeeOther)
}
