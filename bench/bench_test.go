// Package bench measures the program against floors: the same rows read or
// written by hand-written SQL through the same driver with the same pragmas.
// Product and floor take turns, and the medians are compared, because the
// speed of fsync drifts.
package bench

import (
	"context"
	"database/sql"
	"fmt"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"cleantally/books"
	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/reporting"
	"cleantally/core/tax"
	"cleantally/store"
	"cleantally/web"

	"github.com/shopspring/decimal"
)

var ctx = context.Background()

func open(b *testing.B) (*books.Book, string) {
	b.Helper()
	dir := b.TempDir()
	book, err := books.Open(ctx, dir, time.Now, "2026-11-20")
	if err != nil {
		b.Fatal(err)
	}
	b.Cleanup(func() { book.Close() })
	err = book.SetUp(ctx, books.Setup{Firm: "Bench", Currency: "EUR", Bank: "Bank", Owner: "B", Email: "b@bench.example", Password: "a long password",
		Codes: []books.SetupCode{{Code: "STD", Kind: tax.Charged, Percent: decimal.New(20, 0)}}})
	if err != nil {
		b.Fatal(err)
	}
	if err := book.SaveCustomer(ctx, 1, &master.Party{Name: "Customer"}); err != nil {
		b.Fatal(err)
	}
	return book, dir
}

// filled opens books that were filled by hand, as the program opens them: with
// what it has SQLite look at then, and nothing more.
func filled(b *testing.B, fill func(*sql.DB)) (*books.Book, *sql.DB) {
	b.Helper()
	book, dir := open(b)
	db := raw(b, dir)
	fill(db)
	if err := book.Close(); err != nil {
		b.Fatal(err)
	}
	book, err := books.Open(ctx, dir, time.Now, "2026-11-20")
	if err != nil {
		b.Fatal(err)
	}
	b.Cleanup(func() { book.Close() })
	return book, db
}

// raw opens the data file by hand, with the pragmas of the program.
func raw(b *testing.B, dir string) *sql.DB {
	b.Helper()
	db, err := sql.Open("sqlite3", "file:"+filepath.Join(dir, store.FileName)+"?_journal_mode=WAL&_foreign_keys=on&_busy_timeout=10000&_cache_size=-16000&_txlock=immediate&_recursive_triggers=on&_synchronous=FULL&_stmt_cache_size=200")
	if err != nil {
		b.Fatal(err)
	}
	db.SetMaxOpenConns(1)
	b.Cleanup(func() { db.Close() })
	return db
}

func client(b testing.TB, book *books.Book) (*http.Client, string) {
	b.Helper()
	server := httptest.NewServer(web.New(book, web.Options{}))
	b.Cleanup(server.Close)
	return signedIn(b, server.URL), server.URL + "/api/v1"
}

// signedIn is a client of the firm's owner, which many may use at once.
func signedIn(b testing.TB, url string) *http.Client {
	b.Helper()
	jar, _ := cookiejar.New(nil)
	c := &http.Client{Jar: jar, Transport: &http.Transport{MaxIdleConnsPerHost: 50}}
	send(b, c, "POST", url+"/api/v1/session", `{"email":"b@bench.example","password":"a long password"}`)
	return c
}

func send(b testing.TB, c *http.Client, method, url, body string) {
	b.Helper()
	req, err := http.NewRequest(method, url, strings.NewReader(body))
	if err != nil {
		b.Fatal(err)
	}
	req.Header.Set("Content-Type", "application/json")
	res, err := c.Do(req)
	if err != nil {
		b.Fatal(err)
	}
	defer res.Body.Close()
	if res.StatusCode >= 300 {
		b.Fatalf("%s %s: %d", method, url, res.StatusCode)
	}
	var discard [64 << 10]byte
	for {
		if _, err := res.Body.Read(discard[:]); err != nil {
			return
		}
	}
}

// compare lets product and floor take turns and reports their medians; the goal is
// how many times the floor the product may take.
func compare(b *testing.B, goal float64, rounds int, product, floor func(n int)) {
	b.Helper()
	var p, f []time.Duration
	for n := range rounds {
		start := time.Now()
		product(n)
		p = append(p, time.Since(start))
		start = time.Now()
		floor(n)
		f = append(f, time.Since(start))
	}
	mp, mf := median(p), median(f)
	b.ReportMetric(float64(mp.Microseconds())/1000, "ms/product")
	b.ReportMetric(float64(mf.Microseconds())/1000, "ms/floor")
	ratio := float64(mp) / float64(mf)
	b.ReportMetric(ratio, "ratio")
	b.ReportMetric(0, "ns/op")
	if ratio > goal {
		b.Errorf("it takes %.2f times its floor, the goal is %.1f", ratio, goal)
	}
}

func median(d []time.Duration) time.Duration {
	slices.Sort(d)
	return d[len(d)/2]
}

const fiveLines = `{"customer":1,"day":"2026-11-20","lines":[{"text":"a","unitPrice":"100","taxCode":1},{"text":"b","unitPrice":"200","taxCode":1},{"text":"c","unitPrice":"300","taxCode":1},{"text":"d","unitPrice":"400","taxCode":1,"account":30},{"text":"e","unitPrice":"500","taxCode":1}]}`

// Posting an invoice of five lines through HTTP; the goal is 2.5.
func BenchmarkPostInvoice(b *testing.B) {
	book, _ := open(b)
	c, url := client(b, book)
	_, dir := open(b)
	db := raw(b, dir)
	compare(b, 2.5, 300, func(int) { send(b, c, "POST", url+"/invoices", fiveLines) }, func(n int) { writeByHand(b, db, n) })
}

// writeByHand writes the rows that posting writes, by prepared statements.
func writeByHand(b *testing.B, db *sql.DB, n int) {
	tx, err := db.Begin()
	if err != nil {
		b.Fatal(err)
	}
	id := int64(n + 1)
	exec := func(q string, args ...any) {
		if _, err := tx.Exec(q, args...); err != nil {
			b.Fatal(err)
		}
	}
	exec("INSERT INTO acts (id, at, user_id, action, summary, detail) VALUES (?, '2026-11-20T10:00:00Z', 1, 'billing.Invoice', 'Posted', ?)", id+100, fiveLines)
	exec("INSERT INTO papers (id, act_id, kind, about, number, day, party_id, party_name, title, total, search) VALUES (?, ?, 'invoice', 'invoice', ?, '2026-11-20', 1, 'Customer', 'a', 180000, 'i26 customer a')",
		id, id+100, fmt.Sprintf("I26-%04d", id))
	exec("INSERT INTO paper_billing (paper_id, due, includes, discount, net, tax, rounding, early_percent, early_until) VALUES (?, '2026-12-20', 0, 0, 150000, 30000, 0, '0', '')", id)
	exec(`INSERT INTO paper_lines (paper_id, position, text, quantity, unit_price, discount_percent, discount, tax_code_id, tax_percent, account_id, before, net, tax)
		VALUES (?,1,'a','1','100','0',0,1,'20',29,10000,10000,2000),(?,2,'b','1','200','0',0,1,'20',29,20000,20000,4000),(?,3,'c','1','300','0',0,1,'20',29,30000,30000,6000),
		(?,4,'d','1','400','0',0,1,'20',30,40000,40000,8000),(?,5,'e','1','500','0',0,1,'20',29,50000,50000,10000)`, id, id, id, id, id)
	exec("INSERT INTO paper_codes (paper_id, tax_code_id, position, tax_percent, net, tax) VALUES (?, 1, 1, '20', 150000, 30000)", id)
	exec("INSERT INTO open_items (id, register, paper_id, bills_id, party_id, day, due, amount, open) VALUES (?, 'receivables', ?, ?, 1, '2026-11-20', '2026-12-20', 180000, 180000)", id, id, id)
	exec("INSERT INTO item_moves (item_id, day, amount) VALUES (?, '2026-11-20', 180000)", id)
	exec("INSERT INTO entries (id, act_id, paper_id, day, text) VALUES (?, ?, ?, '2026-11-20', 'Invoice')", id, id+100, id)
	exec(`INSERT INTO entry_lines (entry_id, day, account_id, amount, party_id) VALUES (?,'2026-11-20',4,180000,1),(?,'2026-11-20',29,-110000,1),(?,'2026-11-20',30,-40000,1),(?,'2026-11-20',21,-30000,1)`, id, id, id, id)
	exec(`INSERT INTO account_days (account_id, day, debit, credit) VALUES (4,'2026-11-20',180000,0),(29,'2026-11-20',0,110000),(30,'2026-11-20',0,40000),(21,'2026-11-20',0,30000)
		ON CONFLICT (account_id, day) DO UPDATE SET debit = debit + excluded.debit, credit = credit + excluded.credit`)
	exec("INSERT INTO number_series (kind, prefix, next) VALUES ('invoice', 'I26-', ?) ON CONFLICT DO UPDATE SET next = excluded.next", id+1)
	exec("INSERT INTO seals (act_id, seal) VALUES (?, ?)", id+100, strings.Repeat("0", 64))
	if err := tx.Commit(); err != nil {
		b.Fatal(err)
	}
}

// fill writes papers with their items and moves by hand: of every ten, nine
// are settled. The balances of accounts follow.
func fill(b *testing.B, db *sql.DB, papers int) {
	b.Helper()
	for _, q := range []string{
		"INSERT INTO acts (id, at, user_id, action, summary) VALUES (100000, '', 1, 'fill', 'fill')",
		"INSERT INTO parties (id, number, name, is_customer, is_supplier) WITH RECURSIVE n(i) AS (SELECT 2 UNION ALL SELECT i + 1 FROM n WHERE i < 1000) SELECT i, 'f' || i, 'Filled ' || i, 1, 0 FROM n",
		fmt.Sprintf(`INSERT INTO papers (id, act_id, kind, about, number, day, party_id, party_name, title, total, search)
			WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < %d)
			SELECT 1000000 + i, 100000, 'invoice', 'invoice', 'F' || i, date('2026-11-20', '-' || (i %% 700) || ' days'), 1 + i %% 1000, 'Filled', 'filled', 10000 + i %% 977, 'f' || i || char(10) || 'filled' || char(10) || char(10) || 'filled' FROM n`, papers),
		"INSERT INTO paper_billing (paper_id, due, includes, discount, net, tax, rounding, early_percent, early_until) SELECT id, date(day, '+30 days'), 0, 0, total, 0, 0, '0', '' FROM papers WHERE id > 1000000",
		"INSERT INTO open_items (id, register, paper_id, bills_id, party_id, day, due, amount, open) SELECT id, 'receivables', id, id, party_id, day, date(day, '+30 days'), total, CASE WHEN id % 10 = 0 THEN total ELSE 0 END FROM papers WHERE id > 1000000",
		"INSERT INTO item_moves (item_id, day, amount) SELECT id, day, total FROM papers WHERE id > 1000000",
		"INSERT INTO item_moves (item_id, day, amount) SELECT id, date(day, '+20 days'), -total FROM papers WHERE id > 1000000 AND id % 10 <> 0 AND day < '2026-10-01'",
		"UPDATE open_items SET open = amount WHERE id > 1000000 AND id % 10 <> 0 AND day >= '2026-10-01'",
		"INSERT INTO entries (id, act_id, paper_id, day, text) SELECT id, 100000, id, day, 'filled' FROM papers WHERE id > 1000000",
		"INSERT INTO entry_lines (entry_id, day, account_id, amount, party_id) SELECT id, day, 4, total, party_id FROM papers WHERE id > 1000000",
		"INSERT INTO entry_lines (entry_id, day, account_id, amount, party_id) SELECT id, day, 29, -total, party_id FROM papers WHERE id > 1000000",
	} {
		if _, err := db.Exec(q); err != nil {
			b.Fatalf("%s: %v", q, err)
		}
	}
}

// Ageing over a million items, as of today and as of a past day; the goal is 1.5.
func BenchmarkAgeing(b *testing.B) {
	book, db := filled(b, func(db *sql.DB) { fill(b, db, 1_000_000) })
	for _, asOf := range []day.Day{"2026-11-20", "2026-06-30"} {
		b.Run(string(asOf), func(b *testing.B) {
			compare(b, 1.5, 7, func(int) {
				if _, err := book.Read(ctx).Ageing(store.AgeingFilter{AsOf: asOf, Basis: reporting.ByDue}); err != nil {
					b.Fatal(err)
				}
			}, func(int) { ageByHand(b, db, string(asOf)) })
		})
	}
}

func ageByHand(b *testing.B, db *sql.DB, asOf string) {
	rows, err := db.Query(`SELECT i.party_id, CASE WHEN o.open < 0 THEN -1 WHEN i.due >= ?1 THEN 0 WHEN i.due >= date(?1, '-30 days') THEN 1 WHEN i.due >= date(?1, '-60 days') THEN 2
			WHEN i.due >= date(?1, '-90 days') THEN 3 ELSE 4 END AS bucket, SUM(o.open)
		FROM (SELECT item_id, SUM(amount) AS open FROM (SELECT id AS item_id, open AS amount FROM open_items WHERE register = 'receivables' AND open <> 0
			UNION ALL SELECT item_id, -amount FROM item_moves WHERE day > ?1) GROUP BY item_id HAVING SUM(amount) <> 0) o
		JOIN open_items i ON i.id = o.item_id GROUP BY 1, 2`, asOf)
	if err != nil {
		b.Fatal(err)
	}
	defer rows.Close()
	for rows.Next() {
		var party, bucket, open int64
		if err := rows.Scan(&party, &bucket, &open); err != nil {
			b.Fatal(err)
		}
	}
}

// timed reports the median of how long something takes, which is not to be longer
// than the goal.
func timed(b *testing.B, goal time.Duration, f func()) {
	f()
	var d []time.Duration
	for range 9 {
		start := time.Now()
		f()
		d = append(d, time.Since(start))
	}
	took := median(d)
	b.ReportMetric(float64(took.Microseconds())/1000, "ms")
	b.ReportMetric(0, "ns/op")
	if took > goal {
		b.Errorf("it takes %s, the goal is %s", took.Round(time.Millisecond/10), goal)
	}
}

// screenGoal is within what a screen has its first data, of many of one kind.
const screenGoal = 50 * time.Millisecond

// The page of a customer with 10,000 items, half of them open: its position,
// its bench and the first stretch of its story; the goal is 50 ms for each.
func BenchmarkLargeCustomer(b *testing.B) {
	book, _ := filled(b, func(db *sql.DB) { fillLarge(b, db) })
	c, url := client(b, book)
	for _, path := range []string{"/customers/1", "/customers/1/bench", "/customers/1/bench?q=L99", "/customers/1/story", "/customers/1/bench?asOf=2026-06-30", "/customers/1/story?asOf=2026-06-30"} {
		b.Run(strings.ReplaceAll(path[1:], "/", "_"), func(b *testing.B) { timed(b, screenGoal, func() { send(b, c, "GET", url+path, "") }) })
	}
}

// fillLarge gives customer 1 of 100,000 papers another 10,000.
func fillLarge(b *testing.B, db *sql.DB) {
	b.Helper()
	fill(b, db, 100_000)
	for _, q := range []string{
		"UPDATE firm SET name = 'Bench'",
		`INSERT INTO papers (id, act_id, kind, about, number, day, party_id, party_name, title, total, search)
			WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 10000)
			SELECT 3000000 + i, 100000, 'invoice', 'invoice', 'L' || i, date('2026-11-20', '-' || (i % 700) || ' days'), 1, 'Customer', 'large', 10000, 'l' || i FROM n`,
		"INSERT INTO paper_billing (paper_id, due, includes, discount, net, tax, rounding, early_percent, early_until) SELECT id, date(day, '+30 days'), 0, 0, total, 0, 0, '0', '' FROM papers WHERE id > 3000000",
		"INSERT INTO open_items (id, register, paper_id, bills_id, party_id, day, due, amount, open) SELECT id, 'receivables', id, id, 1, day, date(day, '+30 days'), total, CASE WHEN id % 2 = 0 THEN total ELSE 0 END FROM papers WHERE id > 3000000",
		"INSERT INTO item_moves (item_id, day, amount) SELECT id, day, total FROM papers WHERE id > 3000000",
		"INSERT INTO item_moves (item_id, day, amount) SELECT id, day, -total FROM papers WHERE id > 3000000 AND id % 2 = 1",
	} {
		if _, err := db.Exec(q); err != nil {
			b.Fatalf("%s: %v", q, err)
		}
	}
}

// 10,000 costs that wait to be passed on, among 100,000 papers: listed, summed,
// searched, as of a past day, of one job, on the Desk and beside the margins;
// the goal is 50 ms for each.
func BenchmarkCosts(b *testing.B) {
	book, _ := filled(b, func(db *sql.DB) { fill(b, db, 100_000); fillCosts(b, db) })
	c, url := client(b, book)
	for _, path := range []string{"/costs", "/costs?sort=-left", "/costs?q=crane+77", "/costs?job=7", "/costs?customer=7", "/costs?asOf=2026-06-30", "/desk", "/margins", "/jobs/7/margin"} {
		b.Run(strings.ReplaceAll(path[1:], "/", "_"), func(b *testing.B) { timed(b, screenGoal, func() { send(b, c, "GET", url+path, "") }) })
	}
}

// fillCosts buys something for 200 jobs, 10,000 times.
func fillCosts(b *testing.B, db *sql.DB) {
	b.Helper()
	for _, q := range []string{
		"INSERT INTO jobs (id, number, name, party_id) WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 200) SELECT i, 'j' || i, 'Job ' || i, 1 + i FROM n",
		`INSERT INTO papers (id, act_id, kind, about, number, day, party_id, party_name, title, total)
			WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 10000)
			SELECT 5000000 + i, 100000, 'supplier bill', 'supplier bill', 'B' || i, date('2026-11-20', '-' || (i % 300) || ' days'), 900, 'Supplier', 'crane', 12000 FROM n`,
		`INSERT INTO paper_lines (paper_id, position, job_id, text, quantity, unit_price, discount_percent, discount, tax_code_id, tax_percent, account_id, before, net, tax, pass_on, markup)
			SELECT id, 1, 1 + id % 200, 'Crane ' || id, '1', '100', '0', 0, 1, '20', 37, 10000, 10000, 2000, 'supply', '10' FROM papers WHERE id > 5000000`,
		"INSERT INTO lines_left (paper_id, position, register, party_id, job_id, day, quantity, amount, tax) SELECT id, 1, 'passed on', 900, 1 + id % 200, day, 1000000, 12000, 2000 FROM papers WHERE id > 5000000",
		"INSERT INTO entries (id, act_id, paper_id, day, text) SELECT id, 100000, id, day, 'bill' FROM papers WHERE id > 5000000",
		"INSERT INTO entry_lines (entry_id, day, account_id, amount, job_id) SELECT id, day, 37, 10000, 1 + id % 200 FROM papers WHERE id > 5000000",
	} {
		if _, err := db.Exec(q); err != nil {
			b.Fatalf("%s: %v", q, err)
		}
	}
}

// 10,000 credit notes, half of them not used, each with goods that came back,
// among 100,000 papers: listed, searched by one column, as of a past day, told by
// reason and item; the goal is 50 ms for a list, and for what adds up all of a year.
func BenchmarkCredits(b *testing.B) {
	book, _ := filled(b, func(db *sql.DB) { fill(b, db, 100_000); fillCreditNotes(b, db) })
	c, url := client(b, book)
	for _, path := range []string{"/credit-notes", "/credit-notes?state=waiting", "/credit-notes?sort=-open", "/credit-notes?q=late+77&in=reason", "/credit-notes?q=tread+77&in=line", "/credit-notes?asOf=2026-06-30",
		"/returned-goods", "/returned-goods?where=stock", "/returned-goods?q=tread+77", "/credited?by=cause", "/credited?by=item", "/credited?by=month"} {
		b.Run(strings.ReplaceAll(path[1:], "/", "_"), func(b *testing.B) { timed(b, screenGoal, func() { send(b, c, "GET", url+path, "") }) })
	}
}

// fillCreditNotes credits 10,000 customers, each for one of a hundred articles.
func fillCreditNotes(b *testing.B, db *sql.DB) {
	b.Helper()
	for _, q := range []string{
		`INSERT INTO articles (id, code, name, kind, unit, price, stocked) WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 100) SELECT 500 + i, 'T' || i, 'Tread ' || i, 'material', 'pc', '100', 1 FROM n`,
		`INSERT INTO papers (id, act_id, kind, about, number, day, party_id, party_name, title, reason, total, search)
			WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 10000)
			SELECT 7000000 + i, 100000, 'credit note', 'credit note', 'C' || i, date('2026-11-20', '-' || (i % 360) || ' days'), 1 + i % 500, 'Customer ' || (1 + i % 500), 'credit', 'Return: late ' || i, -12000, 'c' || i FROM n`,
		"INSERT INTO paper_billing (paper_id, due, includes, discount, net, tax, rounding, early_percent, early_until, form) SELECT id, '', 0, 0, -10000, -2000, 0, '0', '', CASE id % 3 WHEN 0 THEN 'return' WHEN 1 THEN 'price' ELSE 'fault' END FROM papers WHERE id > 7000000",
		`INSERT INTO paper_lines (paper_id, position, article_id, text, quantity, unit_price, discount_percent, discount, tax_code_id, tax_percent, account_id, before, net, tax)
			SELECT id, 1, 501 + id % 100, 'Tread ' || id, '1', '100', '0', 0, 1, '20', 29, -10000, -10000, -2000 FROM papers WHERE id > 7000000`,
		"INSERT INTO open_items (id, register, paper_id, party_id, day, due, amount, open) SELECT id, 'receivables', id, party_id, day, day, total, CASE WHEN id % 2 = 0 THEN total ELSE 0 END FROM papers WHERE id > 7000000",
		"INSERT INTO item_moves (item_id, day, amount) SELECT id, day, total FROM papers WHERE id > 7000000",
		"INSERT INTO stock_moves (act_id, article_id, by_paper_id, by_position, paper_id, day, quantity, value) SELECT 100000, 501 + id % 100, id, 1, id, day, 1000000, 7000 FROM papers WHERE id > 7000000",
	} {
		if _, err := db.Exec(q); err != nil {
			b.Fatalf("%s: %v", q, err)
		}
	}
}

const manyGoal = 500 * time.Millisecond

// Many at once: 2,500 pairs set against each other, 2,500 debts for the
// allowance and 4,000 rows of an import, each previewed; the goal is half a
// second.
func BenchmarkMany(b *testing.B) {
	book, _ := filled(b, func(db *sql.DB) { fillLarge(b, db); fillCredits(b, db) })
	c, url := client(b, book)
	var pairs []string
	for i := range 2500 {
		pairs = append(pairs, fmt.Sprintf(`{"debit":%d,"credit":%d}`, 3000002+2*i, 4000001+i))
	}
	set := `{"day":"2026-11-20","pairs":[` + strings.Join(pairs, ",") + `]}`
	b.Run("pairs", func(b *testing.B) {
		timed(b, manyGoal, func() { send(b, c, "POST", url+"/allocations?preview=true", set) })
	})
	b.Run("allowance", func(b *testing.B) {
		timed(b, manyGoal, func() { send(b, c, "POST", url+"/allowances?preview=true", `{"day":"2026-11-20"}`) })
	})
	var csv strings.Builder
	csv.WriteString("Name,Number,Town\\n")
	for i := range 4000 {
		fmt.Fprintf(&csv, "New %d,%d,Haverling\\n", i, 500000+i)
	}
	b.Run("import", func(b *testing.B) {
		timed(b, manyGoal, func() { send(b, c, "POST", url+"/import/customers?preview=true", `{"csv":"`+csv.String()+`"}`) })
	})
}

// fillCredits gives customer 1 as many credits.
func fillCredits(b *testing.B, db *sql.DB) {
	b.Helper()
	for _, q := range []string{
		`INSERT INTO papers (id, act_id, kind, about, number, day, party_id, party_name, title, total)
			WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 2500)
			SELECT 4000000 + i, 100000, 'receipt', 'receipt', 'C' || i, '2026-11-20', 1, 'Customer', 'credit', 10000 FROM n`,
		"INSERT INTO open_items (id, register, paper_id, party_id, day, due, amount, open) SELECT id, 'receivables', id, 1, day, '', -total, -total FROM papers WHERE id > 4000000",
		"INSERT INTO item_moves (item_id, day, amount) SELECT id, day, -total FROM papers WHERE id > 4000000",
	} {
		if _, err := db.Exec(q); err != nil {
			b.Fatalf("%s: %v", q, err)
		}
	}
}
