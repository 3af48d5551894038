package banking

import (
	"cmp"
	"maps"
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Party is somebody whom a line of the bank may name.
type Party struct {
	ID       int64
	Name     string
	Account  string
	Supplies bool
}

// Job is a job that a line may name.
type Job struct {
	ID      int64
	Number  string
	PartyID int64
}

// Clues are all that lines of a bank's statement may be, so that each is looked
// up and not compared with everything.
type Clues struct {
	cur      money.Currency
	all      []entry
	parties  map[int64]string
	plain    map[int64]string // their names as they are compared
	numbered map[int64]string // their accounts, likewise
	supplies map[int64]bool
	jobs     map[int64][]Job // of a party
	habits   []Habit
	last     map[string]Habit // what the same other side was, by Said.LastKey
	own      map[string]Own   // the firm's own accounts, by their numbers

	amounts  map[money.Amount][]int // by what the line would say, discounts off as well
	words    map[string][]int       // by the last word of a number, cheque or reference
	accounts map[string]int64       // parties
	names    map[string]int64       // parties, by their whole name
	openOf   map[ofAmount]int
	groups   map[groupOf]*group
	whole    map[money.Amount][][]int // groups that come to it as a whole
	takings  []int
}

type ofAmount struct {
	make   posting.Kind
	amount money.Amount
}

// entry is a known, ready to be compared.
type entry struct {
	Known
	number, cheque, reference, party, account string
}

// Own is a bank account of the firm's own.
type Own struct {
	BankAccountID int64
	Name          string
	Account       string
}

// Look takes up who may be named by lines, and what they are by habit. Last is what
// the same other side was last time, by Said.LastKey.
func Look(cur money.Currency, parties []Party, jobs []Job, own []Own, habits []Habit, last map[string]Habit) *Clues {
	c := &Clues{cur: cur, plain: map[int64]string{}, numbered: map[int64]string{}, parties: map[int64]string{}, supplies: map[int64]bool{}, jobs: map[int64][]Job{}, habits: habits, last: last, own: map[string]Own{},
		amounts: map[money.Amount][]int{}, words: map[string][]int{}, accounts: map[string]int64{}, names: map[string]int64{}, openOf: map[ofAmount]int{}, groups: map[groupOf]*group{}, whole: map[money.Amount][][]int{}}
	for _, p := range parties {
		name, account := plain(p.Name), together(p.Account)
		c.parties[p.ID], c.supplies[p.ID], c.plain[p.ID] = p.Name, p.Supplies, name
		if account != "" {
			c.accounts[account], c.numbered[p.ID] = p.ID, account
		}
		if _, twice := c.names[name]; twice {
			c.names[name] = 0 // two of one name: neither is known by it
		} else {
			c.names[name] = p.ID
		}
	}
	for _, j := range jobs {
		c.jobs[j.PartyID] = append(c.jobs[j.PartyID], j)
	}
	for _, o := range own {
		if number := together(o.Account); number != "" {
			c.own[number] = o
		}
	}
	return c
}

// Take takes up what lines may be. It compares nothing yet.
func (c *Clues) Take(known []Known) {
	c.all = make([]entry, len(known))
	for n, k := range known {
		e := entry{Known: k, number: plain(k.Number), cheque: plain(k.Cheque), reference: plain(k.Reference), party: c.plain[k.PartyID], account: c.numbered[k.PartyID]}
		if e.Party = cmp.Or(c.parties[k.PartyID], k.Party); e.party == "" {
			e.party = plain(k.Party)
		}
		c.all[n] = e
		c.take(n, &e)
		c.together(n, &e)
	}
	c.wholes()
}

func (c *Clues) take(n int, e *entry) {
	c.amounts[e.Amount] = append(c.amounts[e.Amount], n)
	if e.Make != "" {
		c.openOf[ofAmount{e.Make, e.Amount}]++
	}
	if e.Takings {
		c.takings = append(c.takings, n)
	}
	if e.Discount > 0 {
		less := e.Amount - e.Discount
		if e.Amount < 0 {
			less = e.Amount + e.Discount
		}
		c.amounts[less] = append(c.amounts[less], n)
	}
	for _, text := range []string{e.number, unpadded(e.cheque), e.reference} {
		if words := strings.Fields(text); len(words) > 0 {
			word := words[len(words)-1] // the first is often that of all of a year
			c.words[word] = append(c.words[word], n)
		}
	}
}

// partyOf is whose an account or a whole name is; 0 for nobody known, or several.
func (c *Clues) partyOf(account, name string) int64 {
	if id := c.accounts[account]; account != "" && id != 0 {
		return id
	}
	if name == "" {
		return 0 // also where somebody's name has no letter in it
	}
	return c.names[name]
}

// owed are the items that a customer owes by on a day, the oldest first.
func (c *Clues) owed(party int64, on day.Day) []int {
	g := c.groups[groupOf{make: posting.Receipt, party: party}]
	if g == nil {
		return nil
	}
	open := slices.DeleteFunc(slices.Clone(g.of), func(n int) bool { return c.all[n].Day > on })
	slices.SortStableFunc(open, func(x, y int) int { return strings.Compare(string(c.all[x].Day), string(c.all[y].Day)) })
	return open
}

// ofAmount is how many of that amount are open.
func (c *Clues) ofAmount(k Known) int { return c.openOf[ofAmount{k.Make, k.Amount}] }

// mayBe are the entries that something of a line points to: its amount, a word,
// or whose it is.
func (c *Clues) mayBe(r *reading) []int {
	found := map[int]bool{}
	add := func(all []int) {
		for _, n := range all {
			found[n] = true
		}
	}
	add(c.amounts[r.l.Amount])
	if r.fee > 0 {
		add(c.amounts[r.l.Amount+r.fee])
	}
	add(c.takings)
	for w := range strings.FieldsSeq(r.said) {
		add(c.words[w])
		if bare := strings.TrimLeft(w, "0"); bare != w {
			add(c.words[bare])
		}
	}
	return slices.Sorted(maps.Keys(found))
}

// feeWords are what a bank calls what it kept of a transfer.
var feeWords = map[string]bool{"fee": true, "fees": true, "charge": true, "charges": true}

// feeIn is the fee that a text names: an amount right after its word; nil for
// none.
func (c *Clues) feeIn(text string) money.Amount {
	words := strings.Fields(strings.ToLower(text))
	for n, w := range words {
		if !feeWords[strings.Trim(w, ".,:;()")] {
			continue
		}
		for _, next := range words[n+1 : min(n+3, len(words))] {
			if a, err := c.cur.Parse(strings.ReplaceAll(strings.Trim(next, ":;()"), ",", ".")); err == nil && a > 0 {
				return a
			}
		}
	}
	return 0
}

// most that are put together to a sum: what more would fit by chance.
const (
	mostTogether = 12
	mostOfGroup  = 4
)

// groupOf names what belongs together: what is open of one party, or what was
// posted on one day by one kind of paper.
type groupOf struct {
	make  posting.Kind
	party int64
	day   day.Day
	kind  posting.Kind
}

// group are the entries of one, and what some of them come to, once asked.
type group struct {
	of   []int
	some map[money.Amount][]int
}

func (c *Clues) together(n int, e *entry) {
	var g groupOf
	switch {
	case e.Make != "" && e.PartyID != 0 && e.Item != 0:
		g = groupOf{make: e.Make, party: e.PartyID}
	case e.Movement != 0:
		g = groupOf{day: e.Day, kind: e.Kind}
	default:
		return
	}
	if c.groups[g] == nil {
		c.groups[g] = &group{}
	}
	c.groups[g].of = append(c.groups[g].of, n)
}

// wholes are the groups of several that are come to as a whole, by what that is.
func (c *Clues) wholes() {
	for _, g := range c.groups {
		if len(g.of) < 2 {
			continue
		}
		var sum money.Amount
		for _, n := range g.of {
			sum += c.all[n].Amount
		}
		c.whole[sum] = append(c.whole[sum], g.of)
	}
}

// someOf are some of a group, two or more, that come to an amount; nil where no
// choice of them does, or more than one.
func (c *Clues) someOf(g *group, amount money.Amount) []int {
	if g == nil || len(g.of) < 3 || len(g.of) > mostTogether {
		return nil
	}
	if g.some == nil {
		g.some = map[money.Amount][]int{}
		c.choose(g, 0, nil, 0)
	}
	return g.some[amount]
}

func (c *Clues) choose(g *group, from int, chosen []int, sum money.Amount) {
	if len(chosen) >= 2 && len(chosen) < len(g.of) {
		if _, before := g.some[sum]; before {
			g.some[sum] = nil
		} else {
			g.some[sum] = slices.Clone(chosen)
		}
	}
	if len(chosen) == mostOfGroup {
		return
	}
	for n := from; n < len(g.of); n++ {
		c.choose(g, n+1, append(chosen, g.of[n]), sum+c.all[g.of[n]].Amount)
	}
}

// oneParty tells whether all of a group are of one party.
func (c *Clues) oneParty(group []int) bool {
	for _, n := range group {
		if c.all[n].PartyID != c.all[group[0]].PartyID {
			return false
		}
	}
	return c.all[group[0]].PartyID != 0
}
