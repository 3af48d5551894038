package demo

import (
	"context"
	"fmt"
	"math/rand/v2"
	"strings"

	"cleantally/core/billing"
	"cleantally/core/buying"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"

	"github.com/shopspring/decimal"
)

// The town is everybody else: homeowners and small firms with a stair, a rail or
// a repair each, ordered, billed and paid without a story. They are put
// together of parts, and are as made up as the others.
var (
	firstNames = []string{"Isolde", "Corwin", "Maudie", "Thaddeus", "Fenella", "Lucan", "Perpetua", "Osric", "Tamsin", "Barnaby", "Zelda", "Ambrose", "Linnet", "Rufus", "Cordelia", "Jasper", "Wilhelmina", "Percival", "Saffron", "Edmund"}
	lastNames  = []string{"Pellwether", "Quickthorn", "Ashgrove-Bell", "Tidewater", "Muckle", "Farrowby", "Larkspur", "Stonecrop", "Winterbourne-Aku", "Oakapple", "Hollowell", "Brackenridge", "Saltmarsh", "Kettlewick"}
	smallFirms = []string{"Tidewater Reading Room", "Hollowell Bakery", "Muckle & Ashgrove, Boatbuilders", "Saltmarsh Guest House", "The Crooked Rudder", "Kettlewick Dairy", "Farrowby Veterinary Practice", "Stonecrop Pottery",
		"Quay Street Dance School", "Brackenridge Smokehouse", "Lantern Hill Chapel", "The Wool Exchange Café", "Haverling Rowing Club"}
	streets = []string{"Cooper's Row", "Sexton Street", "Gannet Terrace", "Long Acre End", "Plover Way", "Old Forge Lane", "Rectory Bank"}
	towns   = []string{"Haverling", "Ostermere", "Tollbridge", "Cray-on-Sea", "Marrowfield"}

	townWork = []struct {
		name, text, unit string
		price            int64 // minor units
	}{
		{"Straight flight, pine", "Straight flight, pine, made and fitted", "", 315000}, {"Winder stair, ash", "Winder stair, ash, made and fitted", "", 468000}, {"Landing balustrade", "Landing balustrade, made and fitted", "m", 38500},
		{"Loft ladder and hatch", "Loft ladder, hatch and rail", "", 124000}, {"Stair recapped in oak", "Treads and risers recapped in oak", "tread", 16800}, {"Curved handrail", "Handrail, curved, oak", "m", 21500},
		{"Garden steps, larch", "Garden steps, larch", "step", 14900}, {"Shop steps", "Shop steps, hard-wearing nosings", "", 189000},
	}
	smallJobs = []string{"Squeaking treads, put right", "Handrail, sanded and oiled", "Loose newel post, refitted", "Two spindles, replaced", "Nosing, replaced", "Rail bracket, refixed"}
)

// A townsman is a customer of the town.
type townsman struct{ name, street, town, mail string }

const (
	townspeople = 43
	townJobs    = 61
	townVisits  = 64
)

// town lists its people: thirty by name, the rest firms.
func town() []townsman {
	var all []townsman
	for n := range townspeople {
		name := smallFirms[n%len(smallFirms)]
		if n < townspeople-len(smallFirms) {
			name = firstNames[n%len(firstNames)] + " " + lastNames[(n*5+n/14)%len(lastNames)]
		}
		mail := strings.NewReplacer(" ", "-", "'", "", "&", "and", ",", "", "é", "e").Replace(strings.ToLower(name))
		all = append(all, townsman{name, fmt.Sprintf("%d %s", 3+n*7%88, streets[n%len(streets)]), towns[n*3%len(towns)], "post@" + mail})
	}
	return all
}

// settle records the town's people and their jobs.
func (t *teller) settle(ctx context.Context) error {
	for n, p := range town() {
		rec := master.Party{Name: p.name, Country: "ZZ", Town: p.town, Address: p.street + "\n" + p.town, Phone: fmt.Sprintf("055 6%02d %03d", n, 131*(n+5)%1000), Email: p.mail + ".example", IsCustomer: true}
		if err := t.book.SaveCustomer(ctx, 1, &rec); err != nil {
			return err
		}
		t.parties[p.name] = rec.ID
	}
	for n, j := range t.townJobs() {
		rec := master.Job{Number: j.number, Name: j.name, PartyID: t.parties[j.who.name], Site: j.who.street + ", " + j.who.town, Closed: n < townJobs/2}
		if err := t.book.SaveJob(ctx, 1, &rec); err != nil {
			return err
		}
		t.jobs[j.number] = rec.ID
	}
	return nil
}

// A townJob is one of the town's jobs.
type townJob struct {
	number, name string
	who          townsman
	begin        day.Day
	lines        []posting.Line
	n            int
}

func (t *teller) townJobs() []townJob {
	people := town()
	var all []townJob
	for n := range townJobs {
		w := townWork[n*3%len(townWork)]
		quantity := int64(1)
		if w.unit != "" {
			quantity = int64(4 + n%9)
		}
		lines := []posting.Line{{Text: w.text, Unit: w.unit, Quantity: decimal.New(quantity, 0), UnitPrice: decimal.New(w.price+int64(n%5)*2300, -2), TaxCodeID: t.codes["STD"]}}
		if n%2 == 0 {
			lines = append(lines, posting.Line{Text: "Oiling and finishing", Quantity: decimal.New(1, 0), UnitPrice: decimal.New(31000, -2), TaxCodeID: t.codes["STD"]})
		}
		all = append(all, townJob{number: fmt.Sprintf("%d", 301+n), name: w.name, who: people[n*2%len(people)], begin: day.Day("2025-05-14").Add(n * 9), lines: lines, n: n})
	}
	return all
}

// townLife is what the town orders, gets, pays and complains about.
func (t *teller) townLife() {
	rnd := rand.New(rand.NewPCG(20261120, 2))
	for _, j := range t.townJobs() {
		t.townOrder(j)
		t.townMaterial(j, rnd.IntN(9))
		t.townBill(j, 12+rnd.IntN(15))
	}
	people := town()
	for n := range townVisits {
		who, name := people[(n*11+6)%len(people)].name, fmt.Sprintf("visit %d", n)
		d := day.Day("2025-05-22").Add(n * 8)
		t.do(d, name, t.invoice(who, "", d, t.line(smallJobs[n%len(smallJobs)], "1", money.Amount(9500+n%7*2150), "RED", false)))
		paid := d.Add(9 + rnd.IntN(18))
		if n%5 == 3 {
			t.byCard(who, name, paid)
			continue
		}
		t.payInFull(who, name, paid, "")
	}
	t.payouts()
}

// byCard is paid in full by card: it waits in card takings.
func (t *teller) byCard(who, name string, d day.Day) {
	t.at(d, name+" paid", func() (posting.Command, error) {
		open, err := t.open(name)
		if err != nil || open == 0 {
			return nil, err
		}
		return settling.Receipt{PartyID: t.parties[who], Day: d, Arrived: open, BankAccountID: 3, Method: posting.ByCard, Reference: fmt.Sprintf("CARD %03d", t.items[name]), Placements: []settling.Placement{{Debit: t.items[name], Most: true}}}, nil
	})
}

// payouts are what the card gateway pays out early each month, less 1.4 % and
// 0.25 for each; what came since waits.
func (t *teller) payouts() {
	for month := day.Day("2025-07-04"); month < "2026-11-01"; month = month.Add(31)[:8] + "04" {
		t.at(month, "payout "+string(month), func() (posting.Command, error) {
			waits, err := t.book.Read(context.Background()).Takings(month, nil, 0, 100)
			if err != nil || len(waits) == 0 {
				return nil, err
			}
			x := settling.Payout{Day: month, BankAccountID: 1, Reference: "PO-" + string(month)}
			for _, w := range waits {
				x.Takings = append(x.Takings, w.PaperID)
				x.Fee += (w.Amount*14+500)/1000 + 25
			}
			x.Arrived = waits[0].Sum - x.Fee
			return x, nil
		})
	}
}

// townOrder is offered, ordered, and for many paid in part ahead.
func (t *teller) townOrder(j townJob) {
	party, job := t.parties[j.who.name], t.jobs[j.number]
	quoted, ordered := j.number+" offered", j.number+" ordered"
	offered := j.n%3 != 2
	if offered {
		t.do(j.begin, quoted, billing.Quote{PartyID: party, JobID: job, Day: j.begin, Holds: j.begin.Add(30), Lines: j.lines})
	}
	t.at(j.begin.Add(8), ordered, func() (posting.Command, error) {
		lines := make([]posting.Line, len(j.lines))
		for n, l := range j.lines {
			if lines[n] = l; offered {
				lines[n].Of = posting.Thing{LineRef: posting.LineRef{PaperID: t.papers[quoted], Position: n + 1}}
			}
		}
		return billing.Order{PartyID: party, JobID: job, Day: j.begin.Add(8), Lines: lines}, nil
	})
	if j.n%2 == 0 {
		t.do(j.begin.Add(11), j.number+" deposit", t.deposit(j.who.name, j.number, j.begin.Add(11), 50000+money.Amount(j.n%4)*25000, "JOB "+j.number))
	}
}

// townMaterial is what was bought for a job, and paid.
func (t *teller) townMaterial(j townJob, more int) {
	if j.n%2 == 1 {
		return
	}
	mill, name, d := "Osier Bank Sawmill", j.number+" timber", j.begin.Add(16)
	t.at(d, name, func() (posting.Command, error) {
		return buying.Bill{PartyID: t.parties[mill], Day: d, Due: d.Add(30), Reference: fmt.Sprintf("OB %s-%s", d[2:4], j.number), Lines: []buying.Line{t.bought("Timber, planed", ledger.JobCosts, j.number, 38000+money.Amount(more)*7450, "STD")}}, nil
	})
	t.pay(d.Add(27), name, mill)
}

// townBill delivers, bills what was ordered, by halves where it is much, and is
// paid; now and then something is taken back.
func (t *teller) townBill(j townJob, paysAfter int) {
	party, job := t.parties[j.who.name], t.jobs[j.number]
	whole := func(share string) []posting.Line {
		var lines []posting.Line
		for n, l := range j.lines {
			lines = append(lines, posting.Line{Text: l.Text, Quantity: l.Quantity.Mul(decimal.RequireFromString(share)), Of: posting.Thing{LineRef: posting.LineRef{PaperID: t.papers[j.number+" ordered"], Position: n + 1}}})
		}
		return lines
	}
	if j.n%4 == 1 {
		t.at(j.begin.Add(39), j.number+" delivered", func() (posting.Command, error) {
			var shares []billing.OrderShare
			for n, l := range j.lines {
				shares = append(shares, billing.OrderShare{Position: n + 1, Quantity: l.Quantity})
			}
			return billing.Delivery{OrderID: t.papers[j.number+" ordered"], Day: j.begin.Add(39), Lines: shares}, nil
		})
	}
	parts := []string{"1"}
	if j.n%3 == 0 {
		parts = []string{"0.5", "0.5"}
	}
	for n, share := range parts {
		d, name := j.begin.Add(42+n*19), fmt.Sprintf("%s billed %d", j.number, n+1)
		t.at(d, name, func() (posting.Command, error) {
			v := billing.Invoice{PartyID: party, JobID: job, Day: d, Lines: whole(share), Note: "Thank you."}
			if held, err := t.open(j.number + " deposit"); err != nil || held > 0 {
				v.SetAgainst = []billing.Use{{Credit: t.items[j.number+" deposit"], Most: true}}
			}
			return v, nil
		})
		t.townCredit(j, name, d.Add(6))
		t.payInFull(j.who.name, name, d.Add(paysAfter), fmt.Sprintf("%s/%d", j.number, n+1))
	}
}

// townCredit takes a part of an invoice back before it is paid.
func (t *teller) townCredit(j townJob, name string, d day.Day) {
	causes := []billing.Credit{{Cause: billing.Price, Text: "the rail was measured shorter", Work: 8600}, {Cause: billing.Fault, Text: "one tread was cut twice", Work: 12500}, {Cause: billing.Goodwill, Text: "two days late", Work: 5000}}
	if j.n%7 != 3 {
		return
	}
	t.at(d, name+" credited", func() (posting.Command, error) {
		c := causes[j.n/7%len(causes)]
		c.PaperID, c.Day, c.Own = t.papers[name], d, true
		return c, nil
	})
}

// payInFull pays all that is open of an invoice on a day.
func (t *teller) payInFull(who, name string, d day.Day, reference string) {
	t.at(d, name+" paid", func() (posting.Command, error) {
		open, err := t.open(name)
		if err != nil || open == 0 {
			return nil, err
		}
		return settling.Receipt{PartyID: t.parties[who], Day: d, Arrived: open, BankAccountID: 1, Method: posting.ByTransfer, Reference: reference, Placements: []settling.Placement{{Debit: t.items[name], Most: true}}}, nil
	})
}
