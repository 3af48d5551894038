package bench

import (
	"cmp"
	"database/sql"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"cleantally/books"
	"cleantally/store"
)

// growing are the tables that grow with every paper.
var growing = map[string]bool{"papers": true, "paper_billing": true, "paper_payment": true, "paper_lines": true, "open_items": true, "item_moves": true, "allocations": true, "uses": true, "entries": true, "entry_lines": true, "acts": true, "seals": true, "lines_left": true, "stock_moves": true, "paper_events": true, "bank_lines": true, "ties": true, "freed_ties": true}

// A tree is a table or an index, by the page on which it begins.
type tree struct {
	Table, Name string
	few         bool // rows, by its condition: such as what is open
}

// trees lists those of a data file.
func trees(t *testing.T, db *sql.DB) map[int]tree {
	t.Helper()
	rows, err := db.Query("SELECT rootpage, tbl_name, name, COALESCE(sql, '') FROM sqlite_master WHERE rootpage > 0")
	if err != nil {
		t.Fatal(err)
	}
	defer rows.Close()
	all := map[int]tree{}
	for rows.Next() {
		var page int
		var x tree
		var text string
		if err := rows.Scan(&page, &x.Table, &x.Name, &text); err != nil {
			t.Fatal(err)
		}
		x.few = strings.Contains(text, "INDEX") && strings.Contains(text, "WHERE") && !strings.Contains(text, "IS NOT NULL") && !strings.Contains(text, "(supplied)")
		all[page] = x
	}
	return all
}

// walked are the trees that a query goes through from one of their ends: by the
// program that SQLite makes of it.
func walked(t *testing.T, db *sql.DB, query string, all map[int]tree) []tree {
	t.Helper()
	rows, err := db.Query("EXPLAIN " + query)
	if err != nil {
		t.Fatalf("%v: %s", err, query)
	}
	defer rows.Close()
	cursors, found := map[int]tree{}, map[tree]bool{}
	for rows.Next() {
		var addr, p1, p2, p3, p5 int
		var code string
		var p4, comment any
		if err := rows.Scan(&addr, &code, &p1, &p2, &p3, &p4, &p5, &comment); err != nil {
			t.Fatal(err)
		}
		switch code {
		case "OpenRead", "ReopenIdx":
			cursors[p1] = all[p2]
		case "Rewind", "Last":
			if of, known := cursors[p1]; known && growing[of.Table] && !of.few {
				found[of] = true
			}
		}
	}
	return slices.SortedFunc(maps.Keys(found), func(a, b tree) int { return cmp.Compare(a.Name, b.Name) })
}

// believed has the queries of db planned by what SQLite once gathered of a firm.
func believed(t *testing.T, db *sql.DB, file string) {
	t.Helper()
	text, err := os.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := db.Exec("ANALYZE; DELETE FROM sqlite_stat1"); err != nil {
		t.Fatal(err)
	}
	for line := range strings.Lines(string(text)) {
		of := strings.Split(strings.TrimSuffix(line, "\n"), "\t")
		if _, err := db.Exec("INSERT INTO sqlite_stat1 (tbl, idx, stat) VALUES (?, NULLIF(?, ''), ?)", of[0], of[1], of[2]); err != nil {
			t.Fatal(err)
		}
	}
	if _, err := db.Exec("ANALYZE sqlite_schema"); err != nil { // it reads them anew
		t.Fatal(err)
	}
}

// No screen goes through the whole of a table that grows with the papers, but
// where it is said why: whether SQLite has yet to learn how large the tables are,
// knows it of a million papers, of a fifth of them, from when they were fewer, or of
// a firm whose papers are almost all of one kind.
func TestNoScreenLooksAtEverything(t *testing.T) {
	dir := t.TempDir()
	if err := tell(dir, 3000, func(int) {}); err != nil {
		t.Fatal(err)
	}
	book, err := books.Open(ctx, dir, time.Now, firmToday)
	if err != nil {
		t.Fatal(err)
	}
	defer book.Close()
	c, url := client(t, book)
	queries := map[string][]string{}
	for _, path := range screens() {
		book.Watch(func(query string, _ time.Duration) { queries[path] = append(queries[path], query) })
		send(t, c, "GET", url+path, "")
	}
	file := filepath.Join(t.TempDir(), store.FileName)
	if err := book.Backup(ctx, file); err != nil {
		t.Fatal(err)
	}
	for _, of := range []string{"", "testdata/statistics-million.tsv", "testdata/statistics-behind.tsv", "testdata/statistics-few-kinds.tsv"} {
		t.Run(cmp.Or(of, "none"), func(t *testing.T) {
			db, err := sql.Open("sqlite3", "file:"+file)
			if err != nil {
				t.Fatal(err)
			}
			defer db.Close()
			db.SetMaxOpenConns(1)
			if of != "" {
				believed(t, db, of)
			}
			all, known := trees(t, db), map[string][]tree{}
			for _, path := range screens() {
				for _, q := range queries[path] {
					if _, seen := known[q]; !seen {
						known[q] = walked(t, db, q, all)
					}
					for _, x := range known[q] {
						if why := allowed(path, x); why == "" {
							t.Errorf("%s goes through %s of %s: %.3000s", path, x.Name, x.Table, q)
						}
					}
				}
			}
		})
	}
}

// allowed says why a screen may go through a table or an index.
func allowed(path string, x tree) string {
	list, _, _ := strings.Cut(path, "?")
	const page, all = "in the order that is asked for, until the page is full", "what it shows is the sum of all of it"
	for _, a := range []struct{ list, tree, why string }{
		{"/papers", "*", page}, {"/credit-notes", "papers_day", page}, {"/returned-goods", "papers_day", page}, {"/advance-register", "papers_day", page}, {"/desk", "papers_amount", "whether there is any paper: the first"},
		{"/search", "papers_search", "any part of a number is found"}, {"/search", "papers", "whether the last paper is known"}, {"/credit-notes", "papers", "whether the last paper is known"}, {"/stock", "*", all}, {"/tie-out", "stock_moves", all}, {"/closing", "stock_moves", all}, {"/desk", "stock_moves", all}, {"/deposit-register", "*", all},
	} {
		if a.list == list && (a.tree == x.Name || a.tree == "*") {
			return a.why
		}
	}
	return ""
}
