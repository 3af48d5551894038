package web_test

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"encoding/json"
	"io"
	"strings"
	"testing"

	"cleantally/core/rights"
)

// unzipped are the files of an archive.
func unzipped(t *testing.T, file []byte) map[string]string {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(file), int64(len(file)))
	if err != nil {
		t.Fatal(err)
	}
	all := map[string]string{}
	for _, f := range z.File {
		r, err := f.Open()
		if err != nil {
			t.Fatal(err)
		}
		text, err := io.ReadAll(r)
		if err != nil {
			t.Fatal(err)
		}
		all[f.Name] = string(text)
	}
	return all
}

// The demo firm leaves with all that it has: its journal balances, its items are
// what was moved, every paper is there, and the lists can be read again.
func TestArchive(t *testing.T) {
	c := sparrow(t)
	a := c.get("/archive").want(200)
	if a.header.Get("Content-Type") != "application/zip" {
		t.Errorf("an archive is %s", a.header.Get("Content-Type"))
	}
	files := unzipped(t, a.body)
	rows := func(name string) [][]string {
		all, err := csv.NewReader(strings.NewReader(files[name])).ReadAll()
		if err != nil || len(all) < 2 {
			t.Fatalf("%s: %d rows, %v", name, len(all), err)
		}
		return all[1:]
	}
	entries, items := map[string]int64{}, map[string]int64{}
	for _, r := range rows("journal.csv") {
		v, err := eur.Parse(r[6])
		if err != nil {
			t.Fatal(err)
		}
		entries[r[0]] += int64(v)
	}
	for id, sum := range entries {
		if sum != 0 {
			t.Errorf("entry %s comes to %d", id, sum)
		}
	}
	for _, r := range rows("item-moves.csv") {
		v, err := eur.Parse(r[2])
		if err != nil {
			t.Fatal(err)
		}
		items[r[0]] += int64(v)
	}
	for _, r := range rows("items.csv") {
		if open, err := eur.Parse(r[10]); err != nil || int64(open) != items[r[0]] {
			t.Errorf("item %s is open %s, its moves come to %d", r[0], r[10], items[r[0]])
		}
	}
	papers, sheets := len(rows("papers.csv")), 0
	for name, text := range files {
		if strings.HasPrefix(name, "papers/") {
			if sheets++; !strings.HasPrefix(text, "%PDF") {
				t.Errorf("%s is no PDF", name)
			}
		}
		if strings.HasSuffix(name, ".csv") && !strings.Contains(files["README.txt"], name) {
			t.Errorf("the description does not name %s", name)
		}
	}
	if papers != sheets || papers < 650 {
		t.Errorf("%d papers, %d of them as PDF", papers, sheets)
	}
	for _, name := range []string{"paper-lines.csv", "allocations.csv", "uses.csv", "stock-moves.csv", "bank-lines.csv", "audit.csv", "lists/jobs.csv", "lists/articles.csv", "lists/accounts.csv"} {
		rows(name)
	}
	// The list of customers is read by an empty firm.
	other := newClient(t)
	other.post("/currencies", `{"code":"USD"}`).want(200)
	body, err := json.Marshal(map[string]string{"csv": files["lists/customers.csv"]})
	if err != nil {
		t.Fatal(err)
	}
	for _, kind := range []string{"terms", "customers"} {
		if body, err = json.Marshal(map[string]string{"csv": files["lists/"+kind+".csv"]}); err != nil {
			t.Fatal(err)
		}
		other.post("/import/"+kind, string(body))
	}
	if a := other.post("/import/customers", string(body)); a.status != 200 {
		t.Errorf("its customers: %d %.300s", a.status, a.body)
	}
	if !notYours(c.as(rights.Reader).get("/archive")) {
		t.Error("a reader takes all along")
	}
}
