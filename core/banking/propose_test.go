package banking

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
)

var eur = money.Currency{Code: "EUR", Places: 2}

var (
	brewery  = Party{ID: 1, Name: "Millrace Brewery", Account: "ZZ11 0002"}
	builders = Party{ID: 2, Name: "Dunmarrow Builders"}
	surgery  = Party{ID: 4, Name: "Vesper Lane Surgery"}
	sawmill  = Party{ID: 5, Name: "Osier Bank Sawmill", Supplies: true}
)

func open(item int64, number string, d day.Day, of Party, amount money.Amount) Known {
	k := Known{Item: posting.ItemRef(item), Kind: posting.Invoice, Number: number, Day: d, PartyID: of.ID, Party: of.Name, Amount: amount, Make: posting.Receipt}
	if amount < 0 {
		k.Kind, k.Make = posting.SupplierBill, posting.PaySupplier
	}
	return k
}

func posted(id int64, kind posting.Kind, number string, of Party, amount money.Amount) Known {
	return Known{Movement: id, Kind: kind, Number: number, Day: "2026-11-18", PartyID: of.ID, Party: of.Name, Amount: amount}
}

// What a line may be, the best first, with what speaks for and against it.
func TestPropose(t *testing.T) {
	early := open(9, "I26-0030", "2026-11-12", brewery, 120000)
	early.Discount, early.Until = 2400, "2026-11-22"
	cheque := posted(8, posting.Refund, "F26-0001", surgery, -7000)
	cheque.Cheque = "000101"
	asked := Known{PaperID: 70, Kind: posting.Request, Number: "RD26-0004", Day: "2026-11-01", PartyID: 4, Party: surgery.Name, Amount: 90000, Make: posting.Deposit, JobID: 12}
	back := Known{PaperID: 60, Kind: posting.Receipt, Number: "R26-0044", Day: "2026-11-10", PartyID: 1, Party: brewery.Name, Reference: "CHQ 0072", Amount: -58800, Make: posting.Returned}
	all := []Known{
		open(1, "I26-0007", "2026-11-01", brewery, 120000), open(2, "I26-0008", "2026-11-02", builders, 117600), open(3, "I26-00", "2026-11-02", Party{ID: 3, Name: "Somebody"}, 5),
		posted(9, posting.Receipt, "R26-0001", brewery, 117600), cheque, early, asked, back,
		open(20, "B26-0001", "2026-10-01", sawmill, -30000), open(21, "B26-0002", "2026-10-02", sawmill, -12000), open(22, "B26-0003", "2026-10-03", sawmill, -7700),
		posted(31, posting.PaySupplier, "P26-0001", sawmill, -100), posted(32, posting.PaySupplier, "P26-0002", surgery, -200),
		{Takings: true, Kind: posting.Payout, Make: posting.Payout, Day: "2026-11-01", Amount: 100000},
	}
	rules := []Habit{{RuleID: 1, Name: "Account fee", Text: "account fee", Went: true, Make: posting.Journal, AccountID: 621}}
	last := map[string]Habit{"-crane hire": {Went: true, Make: posting.Expense, PartyID: 9, Party: "Crane", Number: "E26-0001"}, "m larkspur": {Came: true, Make: posting.Receipt, PartyID: 2, Number: "R26-0012"}}
	c := Look(eur, []Party{brewery, builders, surgery, sawmill, {ID: 6, Name: "***"}}, []Job{{ID: 12, Number: "198", PartyID: 4}}, []Own{{BankAccountID: 4, Name: "Reserve", Account: "ZZ77 1"}}, rules, last)
	c.Take(all)
	for name, x := range map[string]struct {
		said    Said
		want    string // the first: what it becomes, and of what
		speaks  string // for it
		against string
	}{
		"posted already":                 {Said{Amount: 117600, Name: "MILLRACE BREWERY LTD"}, "tie R26-0001", "posted already, to the cent, the name is Millrace Brewery", ""},
		"by its number":                  {Said{Amount: 50000, Text: "paying I26-0007 in part", Name: "Millrace Brewery"}, "receipt I26-0007", "it names I26-0007", "700.00 less than is open"},
		"another's name":                 {Said{Amount: 117600, Name: "Vesper Lane Surgery", Text: "I26-0008"}, "receipt I26-0008", "the amount fits", "the name is another's: Vesper Lane Surgery"},
		"nobody's name":                  {Said{Amount: 117600, Name: "B Penhallow", Text: "I26-0008"}, "receipt I26-0008", "it names I26-0008", "the name is nobody's that is known"},
		"less the discount":              {Said{Amount: 117600, Name: "Millrace Brewery", Text: "I26-0030"}, "receipt I26-0030", "less the discount of 24.00 in time", ""},
		"two of that amount":             {Said{Amount: 120000, Account: "ZZ110002"}, "receipt I26-0007", "the account is that of Millrace Brewery", "1 more of that amount are open"},
		"a cheque":                       {Said{Amount: -7000, Text: "CHEQUE 101"}, "tie F26-0001", "it names cheque 000101", ""},
		"long ago":                       {Said{Day: "2027-02-19", Amount: -7000, Text: "CHEQUE 101"}, "tie F26-0001", "it names cheque 000101", "posted on 18 Nov 2026"},
		"less a fee":                     {Said{Amount: 119000, Text: "I26-0007 CHARGES 10,00"}, "receipt I26-0007", "the fee of 10.00 that the bank names", ""},
		"all of one supplier":            {Said{Amount: -49700, Name: "Osier Bank Sawmill"}, "supplier payment B26-0001+2", "3 that are open come to it together", ""},
		"some of one supplier":           {Said{Amount: -37700, Name: "Osier Bank Sawmill"}, "supplier payment B26-0001+1", "2 that are open come to it together", ""},
		"posted on one day":              {Said{Amount: -300, Text: "PAYMENTS"}, "tie P26-0001+1", "2 that were posted come to it together", ""},
		"asked for":                      {Said{Amount: 90000, Text: "RD26-0004"}, "deposit RD26-0004", "the amount fits, it names RD26-0004", ""},
		"ahead for a job":                {Said{Amount: 12300, Name: "Vesper Lane Surgery", Text: "JOB 198"}, "deposit", "it names job 198", ""},
		"a part of the oldest":           {Said{Amount: 33300, Name: "Dunmarrow Builders"}, "receipt I26-0008", "it is of Dunmarrow Builders", "843.00 less than is open"},
		"in another's name once before":  {Said{Amount: 33300, Name: "M. Larkspur"}, "receipt I26-0008", "last time the same was R26-0012", "843.00 less"},
		"it came back":                   {Said{Amount: -58800, Text: "RETURNED CHQ 0072"}, "returned payment R26-0044", "it says that a payment came back", ""},
		"it came back with a fee":        {Said{Amount: -59600, Text: "UNPAID CHQ 0072 FEE 8.00"}, "returned payment R26-0044", "the fee of 8.00", ""},
		"it went, and nothing came back": {Said{Amount: -58800, Text: "TIMBER"}, "returned payment R26-0044", "the amount fits", "nothing says that a payment came back"},
		"a rule":                         {Said{Amount: -1450, Text: "ACCOUNT FEE NOVEMBER"}, "journal", "by your rule “Account fee”", ""},
		"the rule is of what went":       {Said{Amount: 1450, Text: "ACCOUNT FEE BACK"}, "", "", ""},
		"as last time":                   {Said{Amount: -45000, Name: "Crane Hire"}, "expense", "last time the same was E26-0001", ""},
		"between own accounts":           {Said{Amount: -5000, Account: "ZZ771"}, "own transfer", "your own Reserve", ""},
		"card takings":                   {Said{Amount: 97100, Text: "PAYOUT"}, "card payout", "1,000.00 waits in card takings: the fee would be 29.00", ""},
		"a part of a number":             {Said{Amount: 333, Text: "I26-00071"}, "", "", ""},
		"nothing":                        {Said{Amount: 42}, "", "", ""},
		"a movement, not so much":        {Said{Amount: 117500, Text: "R26-0001"}, "", "", ""},
	} {
		if x.said.Day == "" {
			x.said.Day = "2026-11-19"
		}
		found := c.Propose(x.said)
		if len(found) == 0 {
			if x.want != "" {
				t.Errorf("%s: nothing, want %s", name, x.want)
			}
			continue
		}
		p := found[0]
		got := string(p.Make)
		if got == "" {
			got = "tie"
		}
		if got = strings.TrimSpace(got + " " + p.Number); len(p.With) > 0 {
			got += fmt.Sprintf("+%d", len(p.With))
		}
		why, but := strings.Join(p.For, ", "), strings.Join(p.Against, ", ")
		if got != x.want || !strings.Contains(why, x.speaks) || x.against == "" != (but == "") || !strings.Contains(but, x.against) {
			t.Errorf("%s: %s, for %q, against %q", name, got, why, but)
		}
	}
}

// town makes up so many open items of some hundred parties, and lines of which most
// pay one of them.
func town(items, lines int) (*Clues, []Known, []Said) {
	rnd := rand.New(rand.NewPCG(14, 1))
	parties := make([]Party, 700)
	for n := range parties {
		parties[n] = Party{ID: int64(n + 1), Name: fmt.Sprintf("Somebody%d of Street%d", n, n%40), Account: fmt.Sprintf("ZZ%06d", n)}
	}
	all := make([]Known, items)
	for n := range all {
		all[n] = open(int64(n+1), fmt.Sprintf("I26-%05d", n), "2026-10-01", parties[rnd.IntN(len(parties))], money.Amount(1000+rnd.IntN(90000)))
		if n%9 == 0 {
			all[n] = posted(int64(n+1), posting.Receipt, fmt.Sprintf("R26-%05d", n), parties[rnd.IntN(len(parties))], money.Amount(1000+rnd.IntN(90000)))
		}
	}
	said := make([]Said, lines)
	for n := range said {
		k := all[rnd.IntN(items)]
		said[n] = Said{Day: "2026-11-19", Amount: k.Amount, Name: strings.ToUpper(k.Party), Text: "PAYMENT " + k.Number}
		switch rnd.IntN(6) {
		case 0:
			said[n].Text = "thank you"
		case 1:
			said[n].Name = ""
		case 2:
			said[n].Amount -= 100
		case 3:
			said[n].Account, said[n].Text = parties[k.PartyID-1].Account, ""
		}
	}
	c := Look(eur, parties, nil, nil, nil, nil)
	c.Take(all)
	return c, all, said
}

// Nothing is hidden that fits better than what is proposed first: each of what is
// known, weighed by itself, is worth no more.
func TestNothingBetterIsHidden(t *testing.T) {
	c, all, lines := town(1500, 300)
	for _, l := range lines {
		found := c.Propose(l)
		r := c.read(l)
		for n := range all {
			if p, fits := r.weigh(&c.all[n]); fits && (len(found) == 0 || p.weight > found[0].weight) {
				t.Fatalf("%+v: %s weighs %d, and the first %+v", l, p.Number, p.weight, found[:min(1, len(found))])
			}
		}
	}
}

// What lines do not ask for is proposed for none of them: without it each is
// proposed the same.
func TestWhatIsNotAskedForIsNotProposed(t *testing.T) {
	_, all, lines := town(1200, 60)
	for n := range all {
		if n%5 == 0 && all[n].Item != 0 { // some come to a sum only together
			all[n].Amount = 1000 + money.Amount(n%7)*100
			all[n].Reference = fmt.Sprintf("Order %d/7", n)
		}
	}
	whole := map[int64]money.Amount{}
	for _, k := range all {
		if k.Item != 0 {
			whole[k.PartyID] += k.Amount
		}
	}
	unnamed := int64(0) // whom no line names
	for _, k := range all {
		if k.Item != 0 && whole[k.PartyID] > k.Amount && !slices.ContainsFunc(lines, func(l Said) bool { return strings.EqualFold(l.Name, k.Party) }) {
			unnamed = k.PartyID
		}
	}
	lines = append(lines, Said{Day: "2026-11-19", Amount: whole[unnamed], Text: "all of it"}, Said{Day: "2026-11-19", Amount: 77, Text: "for order 20 7."}, Said{Day: "2026-11-19", Amount: 100000, Text: "PAYMENT FEE 5.00"})
	parties := []Party{}
	for id := range whole {
		parties = append(parties, Party{ID: id, Name: all[slices.IndexFunc(all, func(k Known) bool { return k.PartyID == id })].Party})
	}
	slices.SortFunc(parties, func(x, y Party) int { return int(x.ID - y.ID) })
	last := map[string]Habit{"thank you": {Came: true, Make: posting.Receipt, PartyID: 5, Number: "R26-1"}}
	with, without := Look(eur, parties, nil, nil, nil, last), Look(eur, parties, nil, nil, nil, last)
	asked := without.Ask(lines)
	var some []Known
	let := map[int64]bool{}
	for _, k := range all {
		if k.Item == 0 || asked.Open(int64(k.Item), k.Make, k.PartyID, k.Amount, k.Number, k.Reference) {
			let[int64(k.Item)+k.Movement*10000] = true
		}
	}
	for _, item := range asked.Together() {
		let[item] = true
	}
	for _, k := range all {
		if let[int64(k.Item)+k.Movement*10000] {
			some = append(some, k)
		}
	}
	if len(some) == len(all) {
		t.Fatal("all of it is asked for")
	}
	with.Take(all)
	without.Take(some)
	for _, l := range lines {
		if x, y := fmt.Sprintf("%+v", with.Propose(l)), fmt.Sprintf("%+v", without.Propose(l)); x != y {
			t.Errorf("%+v\nof all: %.600s\nof what is asked for: %.600s", l, x, y)
		}
	}
}

// Five hundred lines against twenty thousand open items are no wait.
func TestManyProposals(t *testing.T) {
	_, all, lines := town(20000, 500)
	best := time.Hour
	for range 3 {
		start := time.Now()
		c := Look(eur, nil, nil, nil, nil, nil)
		c.Take(all)
		for _, l := range lines {
			c.Propose(l)
		}
		best = min(best, time.Since(start))
	}
	t.Log(best)
	if best > 300*time.Millisecond {
		t.Errorf("500 lines took %s", best)
	}
}
