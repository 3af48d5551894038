package web_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"net/url"
	"slices"
	"strings"
	"testing"

	"cleantally/core/posting"
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

// Every operation, with every property, parameter and ID that is none, answers
// with a sentence or does what it can: never 500, and all ties out after it.
func TestJunkEverywhere(t *testing.T) {
	c := newClient(t)
	c.put("/customers/1", `{"name":"Odalys Brandt","supplier":true}`).want(200)
	c.post("/invoices", invoice(1, "2026-11-01", "1000")).want(200)
	c.post("/deposits", deposit(1, "2026-11-02", "500.00")).want(200)
	c.post("/receipts", receipt(1, "2026-11-03", "300.00", `,"placements":[{"item":1,"amount":"100.00"}],"onAccount":true`)).want(200)
	var d struct {
		Paths      map[string]map[string]operation
		Components struct{ Schemas map[string]schema }
	}
	if err := json.Unmarshal([]byte(c.description()), &d); err != nil {
		t.Fatal(err)
	}
	sent := 0
	try := func(method, path, body string, header ...string) {
		t.Helper()
		sent++
		if a := c.do(strings.ToUpper(method), path, body, header...); a.status >= 500 {
			t.Errorf("%s %s %s %v: %d %s", method, path, body, header, a.status, a.body)
		}
	}
	for _, path := range slices.Sorted(maps.Keys(d.Paths)) {
		if strings.HasSuffix(path, "/session") || strings.HasSuffix(path, "/setup") || strings.HasSuffix(path, "/password") {
			continue // those would end the session
		}
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
