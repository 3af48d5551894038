package store

import (
	"database/sql"
	"fmt"
	"strconv"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
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
	w.moves(e, allocations)
	w.entries(e, allocations, out.ActID)
	for _, d := range e.Disputes {
		w.exec("INSERT INTO disputes (act_id, item_id, day, reason) VALUES (?, ?, ?, ?)", out.ActID, w.item(d.Item), d.Day, d.Reason)
	}
	return out, w.err
}

// A writer stops at the first error.
type writer struct {
	tx     *Tx
	err    error
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
type ids struct{ act, paper, item, allocation, entry int64 }

func (w *writer) nextIDs() {
	w.err = w.tx.queryRow(`SELECT COALESCE((SELECT MAX(id) FROM acts), 0) + 1, COALESCE((SELECT MAX(id) FROM papers), 0) + 1, COALESCE((SELECT MAX(id) FROM open_items), 0) + 1,
		COALESCE((SELECT MAX(id) FROM allocations), 0) + 1, COALESCE((SELECT MAX(id) FROM entries), 0) + 1`).
		Scan(&w.first.act, &w.first.paper, &w.first.item, &w.first.allocation, &w.first.entry)
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

func (w *writer) insert(into string, r rows) {
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
	w.exec(`INSERT INTO papers (id, act_id, kind, number, day, due, party_id, party_name, party_address, job_id, title, terms_id, reference, note,
		bank_account_id, method, includes, discount, net, tax, rounding, total, kept, withheld, reverses_id, source_id, reason, cheque, bank_day, early_percent, early_until, search)
		VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)`,
		id, act, p.Kind, p.Number, p.Day, p.Due, null(p.PartyID), p.PartyName, p.PartyAddress, null(p.JobID), p.Title, null(p.TermsID), p.Reference, p.Note,
		null(p.BankAccountID), p.Method, p.Includes, p.Discount, p.Net, p.Tax, p.Rounding, p.Total, p.Kept, p.Withheld, null(p.ReversesID), null(p.SourceID), p.Reason, p.Cheque,
		p.BankDay, p.EarlyPercent, p.EarlyUntil, strings.ToLower(strings.Join([]string{p.Number, p.PartyName, p.Reference, p.Title, p.Cheque}, "\n")))
	var lines rows
	for _, l := range p.Lines {
		lines.add(id, l.Position, null(l.ItemID), l.Text, l.Quantity, l.UnitPrice, l.DiscountPercent, l.Discount, l.TaxCodeID, l.TaxPercent, l.AccountID, l.Before, l.Net, l.Tax)
	}
	w.insert("paper_lines (paper_id, position, item_id, text, quantity, unit_price, discount_percent, discount, tax_code_id, tax_percent, account_id, before, net, tax)", lines)
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
	open, tax := map[posting.ItemRef]int64{}, map[posting.ItemRef]int64{}
	for _, m := range e.Moves {
		open[m.Item] += int64(m.Amount)
		tax[m.Item] += int64(m.Tax)
	}
	var r rows
	for n, i := range e.Items {
		r.add(w.first.item+int64(n), i.Register, i.Nature, w.papers(i.PaperID), i.Part, null(i.PartyID), null(i.JobID), i.Day, i.Due, i.Amount, open[i.ID], i.Tax, tax[i.ID], null(i.TaxCodeID))
	}
	w.insert("open_items (id, register, nature, paper_id, part, party_id, job_id, day, due, amount, open, tax, open_tax, tax_code_id)", r)
	return func(ref posting.ItemRef) int64 {
		if ref < 0 {
			return w.first.item - 1 - int64(ref)
		}
		return int64(ref)
	}
}

func (w *writer) allocations(e posting.Effect, act int64, f *Facts) func(int) any {
	if len(e.Allocations) == 0 {
		return func(int) any { return nil }
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
	return func(n int) any {
		if n == 0 {
			return nil
		}
		return w.first.allocation + int64(n) - 1
	}
}

func (w *writer) moves(e posting.Effect, allocation func(int) any) {
	var r rows
	change := map[posting.ItemRef][2]money.Amount{}
	for _, m := range e.Moves {
		r.add(w.item(m.Item), m.Day, m.Amount, m.Tax, allocation(m.Allocation))
		by := change[m.Item]
		change[m.Item] = [2]money.Amount{by[0] + m.Amount, by[1] + m.Tax}
	}
	for ref, by := range change {
		if ref > 0 && by != [2]money.Amount{} {
			w.exec("UPDATE open_items SET open = open + ?, open_tax = open_tax + ? WHERE id = ?", by[0], by[1], ref)
		}
	}
	w.insert("item_moves (item_id, day, amount, tax, allocation_id)", r)
}

func (w *writer) entries(e posting.Effect, allocation func(int) any, act int64) {
	if len(e.Entries) == 0 {
		return
	}
	var heads, lines, days rows
	type place struct {
		account int64
		day     day.Day
	}
	sums := map[place][2]int64{}
	var order []place
	for n, entry := range e.Entries {
		id := w.first.entry + int64(n)
		heads.add(id, act, w.papers(entry.PaperID), allocation(entry.Allocation), entry.Day, entry.Text)
		for _, l := range entry.Lines {
			lines.add(id, entry.Day, l.AccountID, l.Amount, null(l.PartyID), null(l.JobID), null(l.TaxCodeID), null(w.item(posting.ItemRef(l.ItemID))))
			p := place{l.AccountID, entry.Day}
			if _, seen := sums[p]; !seen {
				order = append(order, p)
			}
			sums[p] = added(sums[p], l)
		}
	}
	for _, p := range order {
		days.add(p.account, p.day, sums[p][0], sums[p][1])
	}
	w.insert("entries (id, act_id, paper_id, allocation_id, day, text)", heads)
	w.insert("entry_lines (entry_id, day, account_id, amount, party_id, job_id, tax_code_id, item_id)", lines)
	w.accountDays(days)
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
}
