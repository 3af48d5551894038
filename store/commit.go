package store

import (
	"cmp"
	"database/sql"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/mattn/go-sqlite3"
)

// Posted is what a commit made.
type Posted struct {
	ActID   int64
	PaperID int64 // of the first paper; 0 when the effect has none
	Number  string
	Others  []PostedPaper // the papers after the first
}

// PostedPaper is a paper that a commit made.
type PostedPaper struct {
	ID     int64        `json:"paper"`
	Kind   posting.Kind `json:"kind"`
	Number string       `json:"number"`
}

// Commit is the only way into the ledger. It proves the effect, gives the
// number and writes the papers, their entries, items, moves and allocations
// under one act, which record stores. The hot rows are written by multi-row
// statements in GORM's own transaction.
func (tx *Tx) Commit(e posting.Effect, f *Facts, record func(Posted) error) (Posted, error) {
	if err := e.Check(f); err != nil {
		return Posted{}, fmt.Errorf("the effect was not committed: %w", err)
	}
	if f.Err() != nil {
		return Posted{}, f.Err()
	}
	w := &writer{tx: tx}
	w.nextIDs()
	out := Posted{ActID: w.first.act}
	for n, p := range e.Papers {
		if n == 0 {
			out.PaperID, out.Number = w.first.paper, p.Number
			continue
		}
		out.Others = append(out.Others, PostedPaper{w.first.paper + int64(n), p.Kind, p.Number})
	}
	if w.err == nil {
		tx.posting = new(Act)
		w.err = record(out)
	}
	w.papers = func(id int64) int64 {
		if id < 0 {
			return w.first.paper - 1 - id
		}
		return id
	}
	for n, p := range e.Papers {
		w.series(*p, e.Papers[:n], f)
		w.paper(*p, out.ActID)
	}
	w.item = w.items(e)
	allocations := w.allocations(e, out.ActID, f)
	w.moves(e, f, allocations)
	w.entries(e, allocations, out.ActID)
	w.used(e, out.ActID, f)
	w.jobs(e, f)
	for _, d := range e.Disputes {
		w.row("disputes (act_id, item_id, day, reason, unfounded)", out.ActID, w.item(d.Item), d.Day, d.Reason, d.Unfounded)
	}
	if w.err == nil {
		w.err = tx.seal(*tx.posting, w.wrote, w.before)
	}
	tx.posting = nil
	return out, w.err
}

// A writer stops at the first error.
type writer struct {
	tx     *Tx
	err    error
	wrote  content
	before string // the seal of the act before
	first  ids
	papers func(int64) int64           // the ID that a paper of the effect gets
	item   func(posting.ItemRef) int64 // and an open item
}

func (w *writer) exec(query string, args ...any) {
	if w.err == nil {
		_, w.err = w.tx.exec(query, args...)
	}
}

// ids are the IDs that the next row of each table gets. The transaction holds
// the one writing connection, so nobody else takes them.
type ids struct {
	act, paper, item, allocation, entry int64
	line                                int64 // of the journal; where something is tied to one
}

func (w *writer) nextIDs() {
	w.err = w.tx.queryRow(`SELECT COALESCE((SELECT MAX(id) FROM acts), 0) + 1, COALESCE((SELECT MAX(id) FROM papers), 0) + 1, COALESCE((SELECT MAX(id) FROM open_items), 0) + 1,
		COALESCE((SELECT MAX(id) FROM allocations), 0) + 1, COALESCE((SELECT MAX(id) FROM entries), 0) + 1, COALESCE((SELECT seal FROM seals ORDER BY act_id DESC LIMIT 1), '')`).
		Scan(&w.first.act, &w.first.paper, &w.first.item, &w.first.allocation, &w.first.entry, &w.before)
}

// rows collects the values of a multi-row statement.
type rows struct {
	width  int
	values []any
}

func (r *rows) add(v ...any) {
	r.width = len(v)
	r.values = append(r.values, v...)
}

// most is the number of values in one statement, well under SQLite's limit.
const most = 20000

// row writes one row.
func (w *writer) row(into string, v ...any) {
	var r rows
	r.add(v...)
	w.insert(into, r)
}

func (w *writer) insert(into string, r rows) {
	if of := shapeInto(into); sealed[of.table] != "" && w.err == nil {
		for n := 0; n < len(r.values); n += r.width {
			w.wrote.add(of, r.values[n:n+r.width])
		}
	}
	for len(r.values) > 0 {
		n := min(len(r.values), most/r.width*r.width)
		one := "(" + strings.TrimSuffix(strings.Repeat("?,", r.width), ",") + ")"
		w.exec("INSERT INTO "+into+" VALUES "+strings.TrimSuffix(strings.Repeat(one+",", n/r.width), ","), r.values[:n]...)
		r.values = r.values[n:]
	}
}

// exec runs a statement in GORM's transaction without GORM's own cost, which
// counts where a post makes a dozen of them.
func (tx *Tx) exec(query string, args ...any) (sql.Result, error) {
	return tx.db.Statement.ConnPool.ExecContext(tx.ctx, query, args...)
}

// null stores 0 as NULL, so that foreign keys hold.
func null(id int64) any {
	if id == 0 {
		return nil
	}
	return id
}

func (w *writer) paper(p posting.Paper, act int64) {
	id := w.papers(p.ID)
	own := foreign(p.Currency)
	var rate any
	if p.Currency != "" {
		rate = p.Rate
	}
	w.row("papers (id, act_id, kind, about, number, day, party_id, party_name, party_address, job_id, title, reference, note, reason, total, currency, rate, own_total, reverses_id, source_id, search)",
		id, act, p.Kind, p.About, p.Number, p.Day, null(p.PartyID), p.PartyName, p.PartyAddress, null(p.JobID), p.Title, p.Reference, p.Note, p.Reason, p.Base, own.code(), rate, own.amount(p.Total),
		null(p.ReversesID), null(w.papers(p.SourceID)), strings.ToLower(strings.Join([]string{p.Number, p.PartyName, p.Reference, p.Title, p.Cheque}, "\n")))
	w.families(id, p)
	var lines rows
	for _, l := range p.Lines {
		lines.add(id, l.Position, null(l.ArticleID), null(l.JobID), l.Text, l.Unit, l.Quantity, l.UnitPrice, l.DiscountPercent, l.Discount, null(l.TaxCodeID), l.TaxPercent, null(l.AccountID), l.Before,
			l.Net.Base, l.Tax.Base, own.amount(l.Net.Own), own.amount(l.Tax.Own), text(string(l.Register)), l.PassOn, l.Markup, l.Joined)
	}
	w.insert("paper_lines (paper_id, position, article_id, job_id, text, unit, quantity, unit_price, discount_percent, discount, tax_code_id, tax_percent, account_id, before, net, tax, own_net, own_tax, register, pass_on, markup, joined)", lines)
	w.codes(id, p, own)
	for _, l := range p.Lines {
		register := l.Register
		if waits, _ := posting.Describe(p.Kind); register == "" && l.PassOn == posting.OurSupply && waits.PassesOn {
			register = PassedOn
		}
		switch p.Kind {
		case posting.Order:
			register = Ordered
		case posting.Request:
			register = Asked
		}
		if register != "" {
			w.exec("INSERT INTO lines_left (paper_id, position, register, party_id, job_id, day, quantity, amount, tax) VALUES (?,?,?,?,?,?,?,?,?)",
				id, l.Position, register, null(p.PartyID), null(cmp.Or(l.JobID, p.JobID)), p.Day, posting.InMillionths(l.Quantity), l.Part().Amount.Base, l.Tax.Base)
		}
	}
}

// Of lines that wait and stand in no register: what is passed on as our own
// supply, for it is a cost of the job already, what is ordered, and what is
// asked for ahead.
const (
	PassedOn = "passed on"
	Ordered  = "ordered"
	Asked    = "asked"
)

// codes keeps what a paper bills by tax code: the sums of its lines.
func (w *writer) codes(id int64, p posting.Paper, own foreign) {
	var sums []posting.PaperLine
	for _, l := range p.Lines {
		n := slices.IndexFunc(sums, func(s posting.PaperLine) bool { return s.TaxCodeID == l.TaxCodeID })
		if n < 0 {
			sums = append(sums, l)
			continue
		}
		sums[n].Net, sums[n].Tax = sums[n].Net.Add(l.Net), sums[n].Tax.Add(l.Tax)
	}
	var r rows
	for _, s := range sums {
		r.add(id, s.TaxCodeID, s.Position, s.TaxPercent, s.Net.Base, s.Tax.Base, own.amount(s.Net.Own), own.amount(s.Tax.Own))
	}
	w.insert("paper_codes (paper_id, tax_code_id, position, tax_percent, net, tax, own_net, own_tax)", r)
}

// serials writes the numbers of the pieces that moved. The moves were written
// last, so their IDs are the last.
func (w *writer) serials(moves []posting.StockMove) {
	var last int64
	for n, m := range moves {
		if len(m.Serials) > 0 && last == 0 && w.err == nil {
			w.err = w.tx.queryRow("SELECT MAX(id) FROM stock_moves").Scan(&last)
		}
		for _, s := range m.Serials {
			w.row("stock_serials (move_id, serial)", last-int64(len(moves)-1-n), s)
		}
	}
}

// families writes what a paper's family has beside its head. What a paper has
// nothing of is not written.
func (w *writer) families(id int64, p posting.Paper) {
	if b := p.Billing; b != (posting.Billing{EarlyPercent: b.EarlyPercent}) {
		if f := p.InFirm; p.Currency != "" {
			w.row("paper_own_sums (paper_id, discount, net, tax, rounding, beside, deducted, retained)", id, b.Discount, b.Net, b.Tax, b.Rounding, b.Beside, b.Deducted, b.Retained)
			b.Discount, b.Net, b.Tax, b.Rounding, b.Beside, b.Deducted, b.Retained = f.Discount, f.Net, f.Tax, f.Rounding, f.Beside, f.Deducted, f.Retained
		}
		w.row("paper_billing (paper_id, due, form, supplied, terms_id, includes, discount, net, tax, rounding, beside, deducted, retained, retained_why, early_percent, early_until, subject, salesperson, order_number)",
			id, b.Due, b.Form, b.Supplied, null(b.TermsID), b.Includes, b.Discount, b.Net, b.Tax, b.Rounding, b.Beside, b.Deducted, b.Retained, b.RetainedWhy, b.EarlyPercent, b.EarlyUntil, b.Subject, b.Salesperson, b.OrderNumber)
	}
	if o := p.Offer; o != (posting.Offer{}) {
		w.row("paper_offers (paper_id, holds, version)", id, o.Holds, o.Version)
	}
	if y := p.Payment; y != (posting.Payment{}) {
		w.row("paper_payment (paper_id, bank_account_id, method, charges, withheld, cheque, bank_day)",
			id, null(y.BankAccountID), y.Method, y.Charges, y.Withheld, y.Cheque, y.BankDay)
	}
	w.spanned(id, p.Span)
}

// spanned writes the days that a paper went from and through that ends a period.
func (w *writer) spanned(id int64, s posting.Span) {
	if s != (posting.Span{}) {
		w.row("paper_spans (paper_id, from_day, through_day)", id, s.SpanFrom, s.SpanThrough)
	}
}

// currencyOf is the currency of a paper of the effect or of the books.
func currencyOf(e posting.Effect, f *Facts, id int64) string {
	if id < 0 {
		return e.Papers[-id-1].Currency
	}
	p, _ := f.Paper(id)
	return p.Currency
}

// foreign is the currency of a row, "" for the firm's own, in which own amounts
// are stored as NULL.
type foreign string

func (c foreign) code() any { return text(string(c)) }

func (c foreign) amount(own money.Amount) any {
	if c == "" {
		return nil
	}
	return own
}

// text stores "" as NULL.
func text(s string) any {
	if s == "" {
		return nil
	}
	return s
}

// series moves the numbering on when the paper took the number that is next.
// A number that was chosen leaves the series alone; it is stepped over later.
func (w *writer) series(p posting.Paper, before []*posting.Paper, f *Facts) {
	prefix, _ := f.series(p.Kind, p.Day)
	ahead := 0
	for _, other := range before {
		if of, _ := f.series(other.Kind, other.Day); other.Kind == p.Kind && of == prefix {
			ahead++
		}
	}
	if f.NextNumber(p.Kind, p.Day, ahead) != p.Number {
		return
	}
	n, err := strconv.ParseInt(strings.TrimPrefix(p.Number, prefix), 10, 64)
	if err != nil {
		w.err = fmt.Errorf("the number %s does not end in a running number: %w", p.Number, err)
		return
	}
	w.exec(`INSERT INTO number_series (kind, prefix, next) VALUES (?, ?, ?) ON CONFLICT DO UPDATE SET next = excluded.next`, p.Kind, prefix, n+1)
}

func (w *writer) items(e posting.Effect) func(posting.ItemRef) int64 {
	if len(e.Items) == 0 {
		return func(ref posting.ItemRef) int64 { return int64(ref) }
	}
	open, moved := map[posting.ItemRef]posting.Part{}, map[posting.ItemRef]day.Day{}
	for _, m := range e.Moves {
		if m.Item < 0 {
			open[m.Item] = open[m.Item].Add(m.Part)
			moved[m.Item] = max(moved[m.Item], m.Day)
		}
	}
	var r rows
	for n, i := range e.Items {
		own, left := foreign(i.Currency), open[i.ID]
		r.add(w.first.item+int64(n), i.Register, i.Nature, w.papers(i.PaperID), null(w.papers(i.Bills)), i.Instalment, null(i.PartyID), null(i.JobID), i.Day, i.Due, own.code(),
			i.Amount.Base, i.Tax.Base, own.amount(i.Amount.Own), own.amount(i.Tax.Own), left.Amount.Base, left.Tax.Base, own.amount(left.Amount.Own), own.amount(left.Tax.Own), null(i.TaxCodeID), moved[i.ID])
	}
	w.insert("open_items (id, register, nature, paper_id, bills_id, instalment, party_id, job_id, day, due, currency, amount, tax, own_amount, own_tax, open, open_tax, own_open, own_open_tax, tax_code_id, moved)", r)
	return func(ref posting.ItemRef) int64 {
		if ref < 0 {
			return w.first.item - 1 - int64(ref)
		}
		return int64(ref)
	}
}

func (w *writer) allocations(e posting.Effect, act int64, f *Facts) func(int64) any {
	if len(e.Allocations) == 0 {
		return func(int64) any { return nil }
	}
	var r rows
	for n, a := range e.Allocations {
		var party int64
		if a.Debit < 0 {
			party = e.Items[-a.Debit-1].PartyID
		} else if i, ok := f.Item(a.Debit); ok {
			party = i.PartyID
		}
		r.add(w.first.allocation+int64(n), act, null(party), w.item(a.Debit), w.item(a.Credit), a.Amount, a.Tax, a.Day, null(a.Undoes))
	}
	w.insert("allocations (id, act_id, party_id, debit_id, credit_id, amount, tax, day, undoes)", r)
	return func(n int64) any {
		if n == 0 {
			return nil
		}
		return w.first.allocation + n - 1
	}
}

func (w *writer) moves(e posting.Effect, f *Facts, allocation func(int64) any) {
	var r rows
	change, moved := map[posting.ItemRef]posting.Part{}, map[posting.ItemRef]day.Day{}
	for _, m := range e.Moves {
		var own foreign
		if m.Item < 0 {
			own = foreign(e.Items[-m.Item-1].Currency)
		} else {
			i, _ := f.Item(m.Item)
			own = foreign(i.Currency)
			change[m.Item] = change[m.Item].Add(m.Part)
			moved[m.Item] = max(moved[m.Item], m.Day)
		}
		r.add(w.item(m.Item), m.Day, m.Amount.Base, m.Tax.Base, own.amount(m.Amount.Own), own.amount(m.Tax.Own), allocation(m.Allocation))
	}
	for ref, by := range change {
		w.exec("UPDATE open_items SET open = open + ?, open_tax = open_tax + ?, own_open = own_open + ?, own_open_tax = own_open_tax + ?, moved = MAX(moved, ?) WHERE id = ?", by.Amount.Base, by.Tax.Base, by.Amount.Own, by.Tax.Own, moved[ref], ref)
	}
	w.insert("item_moves (item_id, day, amount, tax, own_amount, own_tax, allocation_id)", r)
}

func (w *writer) entries(e posting.Effect, allocation func(int64) any, act int64) {
	if len(e.Entries) == 0 {
		return
	}
	var heads, lines, days rows
	type place struct {
		account int64
		day     day.Day
	}
	sums, owns := map[place][2]int64{}, map[place]money.Amount{}
	var order []place
	for n, entry := range e.Entries {
		id := w.first.entry + int64(n)
		heads.add(id, act, w.papers(entry.PaperID), allocation(entry.Allocation), entry.Day, entry.Text)
		for _, l := range entry.Lines {
			lines.add(id, entry.Day, l.AccountID, l.Amount, foreign(l.Currency).code(), foreign(l.Currency).amount(l.Own), null(l.PartyID), null(l.JobID), null(l.TaxCodeID), null(w.item(posting.ItemRef(l.ItemID))))
			p := place{l.AccountID, entry.Day}
			if _, seen := sums[p]; !seen {
				order = append(order, p)
			}
			sums[p] = added(sums[p], l)
			if l.Own != 0 {
				owns[p] += l.Own
			}
		}
	}
	for _, p := range order {
		days.add(p.account, p.day, sums[p][0], sums[p][1])
	}
	w.insert("entries (id, act_id, paper_id, allocation_id, day, text)", heads)
	if slices.ContainsFunc(e.Ties, func(t posting.Tie) bool { return t.MovementID < 0 }) && w.err == nil {
		w.err = w.tx.queryRow("SELECT COALESCE(MAX(id), 0) + 1 FROM entry_lines").Scan(&w.first.line)
	}
	w.insert("entry_lines (entry_id, day, account_id, amount, currency, own_amount, party_id, job_id, tax_code_id, item_id)", lines)
	w.accountDays(days)
	for p, own := range owns {
		w.exec("UPDATE account_days SET own = own + ? WHERE account_id = ? AND day = ?", own, p.account, p.day)
	}
}

func added(sum [2]int64, l ledger.Line) [2]int64 {
	if l.Amount > 0 {
		sum[0] += int64(l.Amount)
	} else {
		sum[1] -= int64(l.Amount)
	}
	return sum
}

func (w *writer) accountDays(r rows) {
	one := strings.TrimSuffix(strings.Repeat("(?,?,?,?),", len(r.values)/4), ",")
	w.exec(`INSERT INTO account_days (account_id, day, debit, credit) VALUES `+one+`
		ON CONFLICT (account_id, day) DO UPDATE SET debit = debit + excluded.debit, credit = credit + excluded.credit`, r.values...)
	var broken sqlite3.Error
	if errors.As(w.err, &broken) && broken.ExtendedCode == sqlite3.ErrConstraintCheck {
		w.err = posting.Refusals{{Field: "day", Rule: "too large", Text: "An account would move by more on this day than the program can hold. Split it over several days."}}
	}
}

// used writes what the effect takes from things, from stock, of days and of the
// bank's lines.
func (w *writer) used(e posting.Effect, act int64, f *Facts) {
	var uses, stock rows
	for _, u := range e.Uses {
		own := foreign(currencyOf(e, f, u.Of.PaperID))
		uses.add(act, w.papers(u.Of.PaperID), u.Of.Position, null(u.Of.TaxCodeID), u.As, u.Day, null(w.papers(u.By.PaperID)), u.By.Position, w.papers(u.PaperID), u.Quantity,
			u.Amount.Base, u.Tax.Base, own.amount(u.Amount.Own), own.amount(u.Tax.Own), u.Cost, null(u.Undoes))
	}
	w.insert("uses (act_id, of_paper_id, of_position, tax_code_id, as_kind, day, by_paper_id, by_position, paper_id, quantity, amount, tax, own_amount, own_tax, cost, undoes)", uses)
	for _, u := range e.Uses {
		if u.Of.Position > 0 && u.As != posting.Delivered { // what is delivered waits to be billed still
			w.exec("UPDATE lines_left SET quantity = quantity - ?, amount = amount - ?, tax = tax - ? WHERE paper_id = ? AND position = ?", u.Quantity, u.Amount.Base, u.Tax.Base, w.papers(u.Of.PaperID), u.Of.Position)
		}
	}
	for _, m := range e.Stock {
		stock.add(act, m.ArticleID, w.papers(m.By.PaperID), m.By.Position, w.papers(m.PaperID), m.Day, m.Quantity, m.Value, null(m.Undoes))
	}
	w.insert("stock_moves (act_id, article_id, by_paper_id, by_position, paper_id, day, quantity, value, undoes)", stock)
	w.serials(e.Stock)
	for _, c := range e.Charges {
		if c.Freed {
			w.row("freed_days (charge_id, act_id)", c.ID, act)
			continue
		}
		w.row("charged_days (act_id, item_id, paper_id, from_day, through_day)", act, w.item(c.Item), w.papers(c.PaperID), c.From, c.Through)
	}
	for _, t := range e.Ties {
		if t.Freed {
			w.row("freed_ties (tie_id, act_id)", t.ID, act)
			continue
		}
		movement := t.MovementID
		if movement < 0 {
			movement = w.first.line - 1 - movement
		}
		w.row("ties (act_id, bank_line_id, movement_id)", act, t.BankLineID, movement)
	}
}
