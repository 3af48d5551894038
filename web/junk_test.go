package web_test

import (
	"cmp"
	"encoding/json"
	"fmt"
	"maps"
	"math/rand/v2"
	"net/url"
	"slices"
	"strings"
	"testing"

	"cleantally/core/posting"
	"cleantally/core/posting/postingtest"
	"cleantally/store"
)

// junk are values that a client may send in place of any other.
var junk = []string{`null`, `-1`, `0`, `1`, `2`, `99`, `9223372036854775807`, `-9223372036854775808`, `1e400`, `0.5`, `true`, `[]`, `{}`, `[null]`, `""`, `"x"`, `"1"`, `"2026-11-20"`, `"2026-02-31"`, `"-5.00"`, `"1e5"`, `"NaN"`,
	`"999999999999999999999999"`, `"10000000000.00"`, `"\u0000"`, `"'; DROP TABLE papers; --"`, `"<script>alert(1)</script>"`, `"\ud800"`, `"🪜"`, `"../../etc/passwd"`}

// operation is one operation of the API's description.
type operation struct {
	Parameters []struct {
		Name, In string
	}
	RequestBody struct {
		Content map[string]struct {
			Schema struct {
				Ref string `json:"$ref"`
			}
		}
	}
}

type schema struct {
	Properties map[string]struct {
		Ref   string `json:"$ref"`
		Items struct {
			Ref string `json:"$ref"`
		}
	}
}

// A description is the API's own, as far as it is asked here.
type description struct {
	Paths      map[string]map[string]operation
	Components struct{ Schemas map[string]schema }
}

// described reads it, without the operations that would end the session.
func described(t *testing.T, c *client) (d description) {
	t.Helper()
	if err := json.Unmarshal([]byte(c.description()), &d); err != nil {
		t.Fatal(err)
	}
	maps.DeleteFunc(d.Paths, func(path string, _ map[string]operation) bool {
		return strings.HasSuffix(path, "/session") || strings.HasSuffix(path, "/setup") || strings.HasSuffix(path, "/password")
	})
	return d
}

// withSomething is a client of books that hold an invoice and a deposit.
func withSomething(t *testing.T) *client {
	t.Helper()
	c := newClient(t)
	c.put("/customers/1", `{"name":"Odalys Brandt","supplier":true}`).want(200)
	c.post("/invoices", invoice(1, "2026-11-01", "1000")).want(200)
	c.post("/deposits", deposit(1, "2026-11-02", "500.00")).want(200)
	return c
}

// Every operation, with every property, parameter and ID that is none, answers
// with a sentence or does what it can: never 500, and all ties out after it.
func TestJunkEverywhere(t *testing.T) {
	c := withSomething(t)
	c.post("/receipts", receipt(1, "2026-11-03", "300.00", `,"placements":[{"item":1,"amount":"100.00"}],"onAccount":true`)).want(200)
	d := described(t, c)
	sent := 0
	try := func(method, path, body string, header ...string) {
		t.Helper()
		sent++
		if a := c.do(strings.ToUpper(method), path, body, header...); a.status >= 500 {
			t.Errorf("%s %s %s %v: %d %s", method, path, body, header, a.status, a.body)
		}
	}
	for _, path := range slices.Sorted(maps.Keys(d.Paths)) {
		for method, op := range d.Paths[path] {
			for _, p := range operationPaths(path) {
				bodies := bodiesOf(op, d.Components.Schemas)
				for _, body := range bodies {
					try(method, p, body, "If-Match", `"1"`)
				}
			}
			one := strings.NewReplacer("{id}", "1", "{kind}", "invoice", "{role}", "deposits", "{register}", "receivables").Replace(strings.TrimPrefix(path, "/api/v1"))
			for _, param := range op.Parameters {
				if param.In != "query" {
					continue
				}
				for _, v := range junk {
					try(method, one+"?"+param.Name+"="+url.QueryEscape(strings.Trim(v, `"`)), "{}")
				}
			}
		}
	}
	if sent < 3000 {
		t.Errorf("only %d requests", sent)
	}
	err := c.book.Snapshot(t.Context(), func(r *store.Reader) error {
		found, err := r.Check()
		if len(found) > 0 {
			t.Errorf("after all of it: %v", found)
		}
		return err
	})
	if err != nil {
		t.Error(err)
	}
}

// Requests with several things wrong at once, by chance: never 500, and what is
// refused changes nothing.
func TestMutatedRequests(t *testing.T) {
	c := withSomething(t)
	d := described(t, c)
	type place struct {
		method, path string
		body         schema
	}
	var places []place
	for _, path := range slices.Sorted(maps.Keys(d.Paths)) {
		for _, method := range slices.Sorted(maps.Keys(d.Paths[path])) {
			ref := d.Paths[path][method].RequestBody.Content["application/json"].Schema.Ref
			if body := d.Components.Schemas[strings.TrimPrefix(ref, "#/components/schemas/")]; len(body.Properties) > 0 {
				places = append(places, place{strings.ToUpper(method), path, body})
			}
		}
	}
	rnd := rand.New(rand.NewPCG(20261126, 1))
	last := func() int64 {
		acts, err := c.book.Read(t.Context()).Acts(store.ActFilter{}, 1)
		if err != nil || len(acts) == 0 {
			t.Fatal(err)
		}
		return acts[0].ID
	}
	before, refused := last(), 0
	times := 1000 * postingtest.Harder()
	for range times {
		at := places[rnd.IntN(len(places))]
		paths := operationPaths(at.path)
		path := paths[rnd.IntN(min(len(paths), 2))]
		if rnd.IntN(2) == 0 {
			path += "?preview=true"
		}
		body := mutated(rnd, at.body, d.Components.Schemas, 0)
		a := c.do(at.method, path, body, "If-Match", `"1"`)
		now := last()
		if a.status >= 500 {
			t.Errorf("%s %s %s: %d %s", at.method, path, body, a.status, a.body)
		}
		if a.status >= 400 {
			if refused++; now != before {
				t.Errorf("%s %s %s was refused (%d), and left a mark", at.method, path, body, a.status)
			}
		}
		before = now
	}
	if found, err := c.book.Read(t.Context()).Check(); err != nil || len(found) > 0 {
		t.Errorf("after all of it: %q, %v", found, err)
	}
	t.Logf("%d requests, %d of them refused", times, refused)
}

// sense are values that a property may well have.
var sense = map[string]string{"customer": "1", "party": "1", "supplier": "1", "job": "0", "day": `"2026-11-20"`, "due": `"2026-12-20"`, "bank": "1", "method": `"transfer"`, "amount": `"10.00"`, "unitPrice": `"12.50"`, "quantity": `"2"`, "text": `"x"`, "name": `"x"`,
	"taxCode": "1", "account": "30", "item": "1", "paper": "1", "credit": "2", "debit": "1", "reason": `"x"`, "onAccount": "true", "net": `"10.00"`, "fits": "true", "percent": `"5"`}

// mutated is a body whose properties are there or not, with sense or junk.
func mutated(rnd *rand.Rand, s schema, schemas map[string]schema, deep int) string {
	var parts []string
	for _, name := range slices.Sorted(maps.Keys(s.Properties)) {
		p := s.Properties[name]
		inner := schemas[strings.TrimPrefix(cmp.Or(p.Items.Ref, p.Ref), "#/components/schemas/")]
		value, known := sense[name]
		switch roll := rnd.IntN(10); {
		case len(inner.Properties) > 0 && deep < 3 && roll < 6:
			if value = mutated(rnd, inner, schemas, deep+1); p.Items.Ref != "" {
				value = "[" + value + "]"
			}
		case known && roll < 8:
		case roll < 9:
			continue
		default:
			value = junk[rnd.IntN(len(junk))]
		}
		parts = append(parts, fmt.Sprintf("%q:%s", name, value))
	}
	return "{" + strings.Join(parts, ",") + "}"
}

// operationPaths fills a path in with IDs that are there and such as are not.
func operationPaths(path string) []string {
	path = strings.TrimPrefix(path, "/api/v1")
	if !strings.Contains(path, "{") {
		return []string{path}
	}
	var all []string
	for _, id := range []string{"1", "99", "0", "-1", "9223372036854775807", "x", "deposits", "invoice"} {
		all = append(all, strings.NewReplacer("{id}", id, "{kind}", id, "{role}", id, "{register}", id).Replace(path))
	}
	return all
}

// bodiesOf are bodies with one property that is junk, and some that are none.
func bodiesOf(op operation, schemas map[string]schema) []string {
	of := func(ref string) schema { return schemas[strings.TrimPrefix(ref, "#/components/schemas/")] }
	body := of(op.RequestBody.Content["application/json"].Schema.Ref)
	if len(body.Properties) == 0 {
		return []string{""}
	}
	all := []string{"", "null", "[]", `"x"`, "{", "{}"}
	known := `"customer":1,"party":1,"supplier":1,"day":"2026-11-20","bank":1,"method":"cash","name":"x","number":"","text":"x","reason":"x"`
	base := "{"
	for _, pair := range strings.Split(known, ",") {
		if name := strings.Split(pair, `"`)[1]; body.Properties[name].Ref == "" {
			if _, there := body.Properties[name]; there {
				base += pair + ","
			}
		}
	}
	for _, name := range slices.Sorted(maps.Keys(body.Properties)) {
		p := body.Properties[name]
		for n, v := range junk {
			all = append(all, base+fmt.Sprintf("%q:%s}", name, v))
			if p.Items.Ref == "" || n%3 != 0 {
				continue
			}
			for inner := range of(p.Items.Ref).Properties {
				all = append(all, base+fmt.Sprintf("%q:[{%q:%s}]}", name, inner, v))
			}
		}
	}
	return all
}

// Warnings that a test confirms are all that there are.
func TestSeenIsAll(t *testing.T) {
	if n := strings.Count(seen, "confirmed="); n != len(posting.WarningRules) {
		t.Errorf("%d of %d", n, len(posting.WarningRules))
	}
}
