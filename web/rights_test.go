package web_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"testing"
	"time"

	"cleantally/core/rights"
	"cleantally/web"

	"github.com/pquerna/otp/totp"
)

// as is a client who signed in in a role, as the first of it.
func (c *client) as(role rights.Role) *client {
	c.t.Helper()
	email := string(role) + "@sw.example"
	password, err := c.book.AddPerson(c.t.Context(), "The "+string(role), email, role)
	if err != nil {
		c.t.Fatal(err)
	}
	other := c.stranger()
	other.post("/session", fmt.Sprintf(`{"email":%q,"password":%q}`, email, password)).want(200)
	return other
}

// notYours tells whether an answer is that one has not the right to it.
func notYours(a answer) bool { return a.status == 403 && a.at("type") == "not yours" }

// list are the records of a list.
func (a answer) list(path ...any) (all []map[string]any) {
	rows, _ := a.found(path...).([]any)
	for _, r := range rows {
		if row, ok := r.(map[string]any); ok {
			all = append(all, row)
		}
	}
	return all
}

// numbersOf are the numbers of a list of papers.
func numbersOf(a answer) string {
	var all []string
	for _, r := range a.list("rows") {
		all = append(all, fmt.Sprint(r["number"]))
	}
	return strings.Join(all, " ")
}

// The table of rights as docs/rules.md, part 13, has it: one letter for each of
// owner, bookkeeper, biller, cashier and reader. b is by the firm's choice.
var table = map[rights.Right]string{
	rights.SeeOpen: "xxxxx", rights.SeePapers: "xxx-x", rights.SeeBooks: "xx--x", rights.ToNote: "xxxx-", rights.ToSell: "xxx--", rights.ToBill: "xxb--",
	rights.ToTakeMoney: "xx-x-", rights.ToKeepBooks: "xx---", rights.ToChoose: "xxb--", rights.ToClaim: "xx---", rights.ToBuy: "xx---", rights.ToExport: "xx---",
	rights.ToFileTax: "xx---", rights.ToLock: "xx---", rights.ToOwn: "x----",
}

func TestTheTableOfRights(t *testing.T) {
	if len(table) != len(rights.Rights()) {
		t.Errorf("%d rights, the table has %d", len(rights.Rights()), len(table))
	}
	for right, row := range table {
		for n, role := range rights.Roles() {
			for _, chosen := range []bool{false, true} {
				want := row[n] == 'x' || row[n] == 'b' && chosen
				if got := role.May(right, rights.Choices{BillerPosts: chosen, BillerChooses: chosen}); got != want {
					t.Errorf("to %s: %s %v", right, role, got)
				}
			}
		}
	}
}

// Every operation of the API, in every role: who has not the right to it gets
// nothing but who may, and who has it is not refused for that. What asks for no
// right is about one's own sign-in.
func TestEveryOperationInEveryRole(t *testing.T) {
	c := withSomething(t)
	var d struct {
		Paths map[string]map[string]struct {
			OperationID string `json:"operationId"`
		}
	}
	if err := json.Unmarshal([]byte(c.description()), &d); err != nil {
		t.Fatal(err)
	}
	people := map[rights.Role]*client{}
	for _, role := range rights.Roles() {
		people[role] = c.as(role)
	}
	asked := map[string]bool{}
	for _, path := range slices.Sorted(maps.Keys(d.Paths)) {
		for method, op := range d.Paths[path] {
			right, known := web.RightOf(op.OperationID)
			if !known {
				t.Errorf("%s asks for no right: say which in operationRights", op.OperationID)
			}
			asked[op.OperationID] = true
			if right == "" {
				continue
			}
			one := strings.NewReplacer("{id}", "1", "{kind}", "invoice", "{role}", "deposits", "{register}", "receivables", "{item}", "1", "{as}", "x", "{position}", "1").Replace(strings.TrimPrefix(path, "/api/v1"))
			for role, who := range people {
				before := ""
				if !role.May(right, rights.Choices{}) {
					before = string(c.get("/trial-balance").body)
				}
				a := who.do(strings.ToUpper(method), one, "{}", "If-Match", `"0"`)
				if refused := notYours(a); refused == role.May(right, rights.Choices{}) && !(refused && heldBySight[op.OperationID]) {
					t.Errorf("%s %s as %s: %d %.200s", method, path, role, a.status, a.body)
				}
				if before != "" && string(c.get("/trial-balance").body) != before {
					t.Errorf("%s %s as %s changed something", method, path, role)
				}
			}
		}
	}
	for _, id := range web.OperationsWithRights() {
		if !asked[id] {
			t.Errorf("%s stands in operationRights and is no operation", id)
		}
	}
}

// heldBySight are operations that may be refused besides for what they are asked
// about: the paper or file is not for the eyes of who asks.
var heldBySight = map[string]bool{"attachments": true, "attach": true, "attached-file": true, "create-draft": true, "propose-mail": true, "write-mail": true, "preview-mail": true, "mail-many": true, "make-statement-link": true}

// A cashier takes money, hands over the receipt, and reaches no ledger, by no
// address and in no answer.
func TestCashier(t *testing.T) {
	c := newClient(t)
	c.put("/customers/2", `{"name":"Dunmarrow Builders","supplier":true,"phone":"0700"}`).want(200)
	c.post("/invoices", invoice(1, "2026-11-01", "1000")).want(200)
	c.post("/receipts", receipt(1, "2026-11-02", "1200.00", `,"placements":[{"item":1,"amount":"1200.00"}]`)).want(200)
	c.post("/invoices", invoice(1, "2026-11-03", "500")).want(200)
	c.post("/supplier-bills", `{"supplier":2,"day":"2026-11-03","reference":"X","lines":[{"text":"a","unitPrice":"77","taxCode":1,"job":1}]}`).want(200)
	c.post("/journal-entries", `{"day":"2026-11-04","text":"x","lines":[{"account":41,"debit":"5.00"},{"account":28,"credit":"5.00"}]}`).want(200)
	k := c.as(rights.Cashier)
	effect := k.post("/deposits?preview=true", deposit(1, "2026-11-20", "300.00")).want(200)
	if effect.rows("effect", "entries") != 0 || effect.at("effect", "paper", "total") != "300.00" {
		t.Errorf("the effect of a cashier: %s", effect.body)
	}
	k.post("/deposits", deposit(1, "2026-11-20", "300.00")).want(200)
	k.post("/receipts", receipt(1, "2026-11-20", "100.00", `,"placements":[{"item":3,"amount":"100.00"}]`)).want(200)
	k.get("/papers/6/pdf").want(200)
	if got := numbersOf(k.get("/papers?sort=number")); got != "D26-0001 I26-0002 R26-0001 R26-0002" {
		t.Errorf("a cashier sees %s", got)
	}
	for _, path := range []string{"/papers/1", "/papers/1/pdf", "/papers/4", "/papers/5", "/papers/4/pdf", "/papers/pdf?ids=4", "/papers/6/links", "/suppliers", "/customers/1/story", "/trial-balance", "/attachments?customer=1"} {
		if a := k.get(path); !notYours(a) {
			t.Errorf("%s: %d %s", path, a.status, a.body)
		}
	}
	if p := k.get("/papers/6").want(200); p.rows("entries") != 0 {
		t.Errorf("entries of a receipt: %s", p.body)
	}
	if b := k.get("/customers/2").want(200); b.at("phone") != "<nil>" || b.at("position", "weOwe") != "" {
		t.Errorf("a cashier sees of a customer %s", b.body)
	}
	if b := k.get("/customers?q=Dunmarrow").want(200); b.at("rows", 0, "phone") != "" || b.at("rows", 0, "held") != "" || b.at("sums", "owes") != "<nil>" || b.at("rows", 0, "name") != "Dunmarrow Builders" {
		t.Errorf("a cashier sees of customers %s", b.body)
	}
	if b := k.get("/jobs").want(200); b.at("rows", 0, "contractSum") != "" {
		t.Errorf("a cashier sees of jobs %s", b.body)
	}
	if b := k.get("/jobs/1").want(200); b.at("contractSum") != "<nil>" || b.at("name") != "Stair" {
		t.Errorf("a cashier sees of a job %s", b.body)
	}
	for _, q := range []string{"B26", "J26", "I26-0001", "101", "77.00"} {
		for _, f := range k.get("/search?q=" + q).list("rows") {
			if kind := fmt.Sprint(f["kind"]); kind == "account" || strings.HasPrefix(fmt.Sprint(f["name"]), "B26") || strings.HasPrefix(fmt.Sprint(f["name"]), "J26") || f["name"] == "I26-0001" {
				t.Errorf("the search for %s finds %v", q, f)
			}
		}
	}
	for path, body := range map[string]string{
		"/refunds":          `{"day":"2026-11-20","bank":1,"method":"cash","sources":[{"item":6}]}`,
		"/allocations":      `{"day":"2026-11-20","pairs":[{"debit":3,"credit":5}]}`,
		"/reversals":        `{"paper":6,"day":"2026-11-20","reason":"x"}`,
		"/distributions":    `{"from":1,"day":"2026-11-20","receipts":[{"customer":1,"arrived":"1.00","onAccount":true}]}`,
		"/deposits?again=6": deposit(1, "2026-11-20", "5.00"), "/deposits?bankLine=1": deposit(1, "2026-11-20", "5.00"),
	} {
		if a := k.post(path, body); !notYours(a) && a.status != 422 {
			t.Errorf("%s: %d %s", path, a.status, a.body)
		}
	}
	k.post("/drafts", `{"kind":"invoice","body":{}}`).want(403)
	id := c.post("/drafts", `{"kind":"invoice","body":{"customer":1}}`).want(200).at("id")
	for _, a := range []answer{k.get("/drafts/" + id), k.do("DELETE", "/drafts/"+id, ""), k.do("PUT", "/drafts/"+id, `{"kind":"invoice","body":{}}`, "If-Match", `"1-1"`)} {
		if !notYours(a) {
			t.Errorf("an invoice's draft for a cashier: %d %s", a.status, a.body)
		}
	}
	if a := k.do("PUT", "/drafts/"+id, `{"kind":"deposit","body":{}}`, "If-Match", `"`+id+`-1"`); a.status < 400 {
		t.Errorf("a draft of another kind was written over: %s", a.body)
	}
	if n := k.get("/drafts").rows("rows"); n != 0 {
		t.Errorf("a cashier sees %d drafts", n)
	}
	c.tiesOut()
}

// A biller writes invoices; whether they post them, and choose another account
// or number, the firm says. No cost is shown to them.
func TestBiller(t *testing.T) {
	c := newClient(t)
	b := c.as(rights.Biller)
	b.post("/quotes", `{"customer":1,"day":"2026-11-20","lines":[{"text":"a","unitPrice":"50","taxCode":1}]}`).want(200)
	if e := b.post("/invoices?preview=true", invoice(1, "2026-11-20", "100")).want(200); e.rows("effect", "entries") != 0 || e.rows("effect", "balances") == 0 {
		t.Errorf("the effect of a biller: %s", e.body)
	}
	a := b.post("/invoices", invoice(1, "2026-11-20", "100"))
	if !notYours(a) || !strings.Contains(a.at("detail"), "ask an owner or a bookkeeper") {
		t.Errorf("a biller posted: %s", a.body)
	}
	b.do("PUT", "/choices", `{"billerPosts":true,"billerChooses":false}`).want(403)
	c.do("PUT", "/choices", `{"billerPosts":true,"billerChooses":false}`).want(204)
	b.post("/invoices", invoice(1, "2026-11-20", "100")).want(200)
	other := `{"customer":1,"day":"2026-11-20","lines":[{"text":"a","unitPrice":"50","taxCode":1,"account":35}]}`
	number := `{"customer":1,"number":"MINE","day":"2026-11-20","lines":[{"text":"a","unitPrice":"50","taxCode":1}]}`
	for _, body := range []string{other, number} {
		if a := b.post("/invoices", body); !notYours(a) {
			t.Errorf("a biller chose: %s", a.body)
		}
	}
	c.do("PUT", "/choices", `{"billerPosts":true,"billerChooses":true}`).want(204)
	for _, body := range []string{other, number} {
		b.post("/invoices", body).want(200)
	}
	c.put("/customers/2", `{"name":"Dunmarrow Builders","supplier":true}`).want(200)
	b.post("/claims", `{"customer":1,"job":1,"day":"2026-11-20","lines":[]}`).want(403)
	c.post("/expenses", `{"supplier":2,"method":"transfer","day":"2026-11-19","bank":1,"lines":[{"text":"Crane","unitPrice":"480","taxCode":1,"job":1,"passOn":"supply"}]}`).want(200)
	if blank := b.get("/blank?kind=invoice&job=1&finish=true").want(200); blank.rows("costs") != 0 {
		t.Errorf("a biller sees costs: %s", blank.body)
	}
	if p := c.get("/blank?kind=invoice&job=1&finish=true").want(200); p.rows("costs") != 1 {
		t.Errorf("an owner sees no costs: %s", p.body)
	}
	b.get("/costs").want(403)
	// What was bought for a job stands in no story of theirs, and no draft of it.
	if story := string(b.get("/jobs/1/story").want(200).body); strings.Contains(story, "E26-0001") {
		t.Errorf("the story of a job for a biller: %s", story)
	}
	id := c.post("/drafts", `{"kind":"expense","body":{"supplier":2,"day":"2026-11-19","bank":1,"method":"transfer","lines":[{"text":"x","unitPrice":"5","taxCode":1,"job":1}]}}`).want(200).at("id")
	for _, path := range []string{"/drafts/" + id, "/drafts/" + id + "/pdf", "/attachments?draft=" + id, "/blank?kind=receipt&bankLine=1"} {
		if a := b.get(path); !notYours(a) {
			t.Errorf("%s for a biller: %d %s", path, a.status, a.body)
		}
	}
	c.tiesOut()
}

// What is given to a person holds from the next request on; the last owner stays
// one.
func TestPeople(t *testing.T) {
	c, passed := served(t, web.Options{})
	c.post("/customers", `{"name":"Odalys Brandt"}`).want(200)
	b := c.as(rights.Bookkeeper)
	id := b.post("/drafts", `{"kind":"refund","body":{"day":"2026-11-20"}}`).want(200).at("id")
	save := func(id, version int, body string) answer {
		return c.do("PUT", fmt.Sprintf("/people/%d", id), body, "If-Match", fmt.Sprintf(`"%d"`, version))
	}
	save(1, 1, `{"name":"W","role":"reader"}`).refused(422, "last owner")
	save(1, 1, `{"name":"W","role":"owner","ended":true}`).refused(422, "last owner")
	save(2, 1, `{"name":"B","role":"chief"}`).refused(422, "missing")
	save(2, 7, `{"name":"B","role":"reader"}`).want(412)
	save(9, 1, `{"name":"B","role":"reader"}`).want(404)
	save(2, 1, `{"name":"B","role":"cashier"}`).want(204)
	// In the middle of a draft: it is kept, and not theirs any more.
	if a := b.do("PUT", "/drafts/"+id, `{"kind":"refund","body":{}}`, "If-Match", `"1-1"`); !notYours(a) {
		t.Errorf("a role that changed: %s", a.body)
	}
	c.get("/drafts/" + id).want(200)
	save(2, 2, `{"name":"B","role":"cashier","ended":true}`).want(204)
	b.get("/papers").want(401)
	b.post("/session", `{"email":"bookkeeper@sw.example","password":"whatever it was"}`).want(401)

	// Invited by a link that holds once and for a week.
	made := c.post("/invitations", `{"name":"Hale Mercer","email":"hale@sw.example","role":"biller"}`).want(200).at("secret")
	again := c.post("/invitations", `{"name":"Hale Mercer","email":"hale@sw.example","role":"biller"}`).want(200).at("secret")
	c.post("/invitations", `{"name":"W","email":"w@sw.example","role":"biller"}`).refused(422, "taken")
	h := c.stranger()
	h.post("/invited", fmt.Sprintf(`{"secret":%q}`, made)).refused(422, "ended")
	if a := h.post("/invited", fmt.Sprintf(`{"secret":%q}`, again)).want(200); a.at("role") != "biller" || a.at("by") != "W" {
		t.Errorf("invited: %s", a.body)
	}
	accept := func(secret, password string) answer {
		return h.post("/invited/accept", fmt.Sprintf(`{"secret":%q,"password":%q}`, secret, password))
	}
	accept(again, "short").refused(422, "too short")
	if a := accept(again, "gravel otter mandolin").want(200); a.at("role") != "biller" || a.at("user") != "Hale Mercer" {
		t.Errorf("accepted: %s", a.body)
	}
	accept(again, "gravel otter mandolin").refused(422, "used")
	late := c.post("/invitations", `{"name":"Late","email":"late@sw.example","role":"reader"}`).want(200).at("secret")
	passed.Add(int64(8 * 24 * time.Hour))
	accept(late, "gravel otter mandolin").refused(422, "late")
	c.post("/session", owner).want(200)
	if people := c.get("/people").want(200); people.rows("rows") != 3 || people.at("invitations", 0, "late") != "true" {
		t.Errorf("people: %s", people.body)
	}
	c.do("DELETE", "/invitations/3", "").want(204)
	accept(late, "gravel otter mandolin").refused(422, "ended")
	c.tiesOut()
}

func TestSecondFactor(t *testing.T) {
	c, passed := served(t, web.Options{})
	f := c.post("/factor/new", "{}").want(200)
	secret := f.at("secret")
	code := func() string {
		text, err := totp.GenerateCode(secret, time.Now().Add(time.Duration(passed.Load())))
		if err != nil {
			t.Fatal(err)
		}
		return text
	}
	set := func(password, code string) answer {
		return c.post("/factor", fmt.Sprintf(`{"password":%q,"secret":%q,"code":%q}`, password, secret, code))
	}
	set("wrong", code()).refused(422, "wrong")
	set("winding stairs", "000000").refused(422, "wrong")
	spare := set("winding stairs", code()).want(200).at("codes", 0)
	other := c.stranger()
	sign := func(code string) answer {
		return other.post("/session", fmt.Sprintf(`{"email":"w@sw.example","password":"winding stairs","code":%q}`, code))
	}
	if a := other.post("/session", owner).want(401); a.at("type") != "a code" {
		t.Errorf("without a code: %s", a.body)
	}
	other.get("/papers").want(401)
	sign("000000").want(401)
	// Who knows the password gets no more codes to guess by leaving one out between.
	locked := false
	for range 40 {
		other.post("/session", owner)
		if a := sign("000000"); a.status == 429 {
			locked = true
			break
		}
	}
	if !locked {
		t.Error("codes can be guessed without end")
	}
	passed.Add(int64(time.Hour))
	used := code()
	sign(used).want(200)
	other.get("/papers").want(200)
	sign(used).want(401) // each holds once
	passed.Add(int64(time.Minute))
	sign(code()).want(200)
	sign(strings.ToUpper(spare)).want(200)
	sign(spare).want(401)
	if got := other.get("/session").at("spare"); got != "7" {
		t.Errorf("%s spare codes are left", got)
	}
	c.post("/factor/drop", `{"password":"wrong"}`).refused(422, "wrong")
	c.post("/factor/drop", `{"password":"winding stairs"}`).want(204)
	other.post("/session", owner).want(200)
}

// A bookkeeper imports customers, jobs and articles; accounts and tax codes are an
// owner's, also from a file.
func TestImportAsksForItsRight(t *testing.T) {
	c := newClient(t)
	b := c.as(rights.Bookkeeper)
	b.post("/import/customers", `{"csv":"Name\nZed\n"}`).want(200)
	for kind, csv := range map[string]string{"accounts": `Number,Name,Type\n999,X,asset\n`, "taxcodes": `Code,Since,Percent\nX,2025-01-01,5\n`, "banks": `Name\nX\n`, "terms": `Name,Kind,Days\nX,days,5\n`} {
		if a := b.post("/import/"+kind, `{"csv":"`+csv+`"}`); !notYours(a) {
			t.Errorf("a bookkeeper imports %s: %d %s", kind, a.status, a.body)
		}
	}
}

// Sessions are seen and ended; others' by an owner alone.
func TestSessionsSeen(t *testing.T) {
	c := newClient(t)
	b := c.as(rights.Bookkeeper)
	if n := b.get("/sessions").rows("rows"); n != 1 {
		t.Errorf("a bookkeeper sees %d sessions", n)
	}
	all := c.get("/sessions").list("rows")
	if len(all) != 2 {
		t.Fatalf("an owner sees %v", all)
	}
	for _, s := range all {
		if s["here"] == true {
			b.do("DELETE", "/sessions/"+fmt.Sprint(s["id"]), "").want(404)
		}
	}
	for _, s := range all {
		if s["here"] != true {
			c.do("DELETE", "/sessions/"+fmt.Sprint(s["id"]), "").want(204)
		}
	}
	b.get("/papers").want(401)
	c.get("/papers").want(200)
}

// A second person gives their word from their own screen: to what was shown, and
// once.
func TestWordFromAnotherScreen(t *testing.T) {
	c := newClient(t)
	var limits map[string]any
	if err := json.Unmarshal(c.get("/limits").want(200).body, &limits); err != nil {
		t.Fatal(err)
	}
	limits["writeOff"] = "100.00"
	delete(limits, "yours")
	delete(limits, "version")
	body, _ := json.Marshal(limits)
	c.do("PUT", "/limits", string(body), "If-Match", `"1"`).want(200)
	c.post("/invoices", invoice(1, "2026-11-01", "1000")).want(200)
	b, k := c.as(rights.Bookkeeper), c.as(rights.Cashier)
	off := `{"day":"2026-11-20","reason":"insolvent","items":[{"item":1}]}`
	if a := b.post("/write-offs?"+seen, off).want(409); a.at("type") != "a second word" || a.at("others", 0) != "W" || a.rows("others") != 1 {
		t.Errorf("a word is asked: %s", a.body)
	}
	b.post("/write-offs?ask=true", off).want(200)
	if a := b.get("/words").want(200); a.rows("forYou") != 0 || a.rows("yours") != 1 {
		t.Errorf("of the asker: %s", a.body)
	}
	if a := k.get("/words").want(200); a.rows("forYou") != 0 {
		t.Errorf("a cashier sees what waits: %s", a.body)
	}
	k.post("/words/1", `{"agree":true}`).want(403)
	b.post("/words/1", `{"agree":true}`).refused(422, "your own")
	a := c.get("/words").want(200)
	if a.at("forYou", 0, "asker") != "The bookkeeper" || a.rows("forYou", 0, "shown", "entries") == 0 {
		t.Errorf("what waits: %s", a.body)
	}
	if d := c.get("/desk").want(200); d.rows("words") != 1 {
		t.Errorf("the Desk does not say that a word is waited for")
	}
	c.post("/words/1", `{"agree":false}`).refused(422, "missing")
	c.post("/words/1", `{"agree":false,"note":"Ask them once more"}`).want(204)
	b.post("/write-offs?"+seen, off).want(409)
	b.post("/write-offs?ask=true", off).want(200)
	c.post("/words/2", `{"agree":true}`).want(204)
	c.post("/words/2", `{"agree":true}`).refused(422, "answered")
	if d := b.get("/desk").want(200); d.at("given", 0, "state") != "agreed" {
		t.Errorf("the Desk of the asker: %s", d.body)
	}
	// Something else than was agreed to wants a word of its own; and it holds once.
	b.post("/write-offs?"+seen, `{"day":"2026-11-20","reason":"insolvent","items":[{"item":1,"amount":"1199.00"}]}`).want(409)
	b.post("/write-offs?"+seen, off).want(200)
	if record := string(c.get("/audit").body); !strings.Contains(record, "agreed by W") {
		t.Errorf("the record does not say who agreed")
	}
	c.post("/invoices", invoice(1, "2026-11-02", "1000")).want(200)
	b.post("/write-offs?"+seen, `{"day":"2026-11-20","reason":"insolvent","items":[{"item":3}]}`, "Second-Word", "wrong").want(409)
	b.post("/write-offs?"+seen, `{"day":"2026-11-20","reason":"insolvent","items":[{"item":3}]}`, "Second-Word", "winding%20stairs").want(200)
	c.tiesOut()
}

// The audit record is searched by what it says, by person and by day, and
// exported; a cashier sees nothing of it.
func TestAuditIsSearched(t *testing.T) {
	c := newClient(t)
	c.post("/deposits", deposit(1, "2026-11-20", "300.00")).want(200)
	b := c.as(rights.Bookkeeper)
	b.post("/deposits", deposit(1, "2026-11-20", "41.00")).want(200)
	for query, want := range map[string]int{"?q=41.00": 1, "?q=300.00&person=2": 0, "?person=2&q=deposit": 1, "?q=nowhere%25": 0, "?to=2020-01-01": 0, "?from=2020-01-01&q=D26-": 2, "?limit=1": 1} {
		if a := c.get("/audit" + query).want(200); a.rows("rows") != want {
			t.Errorf("%s: %d acts, want %d: %s", query, a.rows("rows"), want, a.body)
		}
	}
	c.get("/audit?from=x").want(400)
	if people := c.get("/audit").want(200).list("people"); len(people) != 2 {
		t.Errorf("people: %v", people)
	}
	file := string(c.get("/audit/file?q=D26-&format=csv").want(200).body)
	if strings.Count(file, "\n") != 3 || !strings.Contains(file, "The bookkeeper") {
		t.Errorf("the file: %s", file)
	}
	c.get("/audit/file?format=xlsx").want(200)
	if k := c.as(rights.Cashier); !notYours(k.get("/audit")) || !notYours(k.get("/audit/file")) {
		t.Error("a cashier reads the record")
	}
}
