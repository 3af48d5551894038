package bench

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"cleantally/books"
	"cleantally/core/billing"
	"cleantally/core/buying"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/core/tax"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

var sizes = flag.String("firms", "10000,100000", "numbers of papers of the firms that are measured")

// Firms end on the business day and have done business for ten years: what is
// open is what a firm has open, not a share of all it ever billed.
const (
	firmToday = day.Day("2026-11-20")
	firmBegan = day.Day("2016-11-21")
	firmDays  = 3651
	// firmTold is raised whenever the history below is told otherwise.
	firmTold = 5
)

// firmDir is where the firm of so many papers lies: beside the build, made
// once. What is told of it comes from the real rules, paper by paper.
func firmDir(tb testing.TB, papers int) string {
	tb.Helper()
	beside, err := filepath.Abs("../bin/firms")
	if err != nil {
		tb.Fatal(err)
	}
	dir := filepath.Join(beside, fmt.Sprintf("%d-%d", papers, firmTold))
	if _, err := os.Stat(dir); err == nil {
		return dir
	}
	if err := os.MkdirAll(beside, 0o700); err != nil {
		tb.Fatal(err)
	}
	// In memory where there is such a place: nothing need be synced yet.
	made, err := os.MkdirTemp("/dev/shm", "firm")
	if err != nil {
		made, err = os.MkdirTemp(beside, "making")
	}
	if err != nil {
		tb.Fatal(err)
	}
	defer os.RemoveAll(made)
	began := time.Now()
	if err := tell(made, papers, func(done int) {
		fmt.Fprintf(os.Stderr, "firm of %d papers: %d posted in %s\n", papers, done, time.Since(began).Round(time.Second))
	}); err != nil {
		tb.Fatalf("the firm of %d papers: %v", papers, err)
	}
	half := dir + "-half"
	if err := os.RemoveAll(half); err != nil {
		tb.Fatal(err)
	}
	if err := os.CopyFS(half, os.DirFS(made)); err != nil {
		tb.Fatal(err)
	}
	if err := os.Rename(half, dir); err != nil {
		tb.Fatal(err)
	}
	return dir
}

// A history is a firm while it is told.
type history struct {
	book     *books.Book
	rnd      *rand.Rand
	today    day.Day
	std, red int64
	role     map[ledger.Role]int64
	posted   int
	refused  int
	buyers   int64 // customers are the parties from 1 on
	sellers  []int64
	jobs     int
	later    map[day.Day][]func() error
	shop     workshop
}

// tell posts the history of a firm of so many papers into a directory.
func tell(dir string, papers int, progress func(int)) error {
	book, err := books.Open(ctx, dir, time.Now, firmBegan)
	if err != nil {
		return err
	}
	defer book.Close()
	h := &history{book: book, rnd: rand.New(rand.NewPCG(1, uint64(papers))), today: firmBegan, role: map[ledger.Role]int64{}, later: map[day.Day][]func() error{}}
	if err := h.setUp(papers); err != nil {
		return err
	}
	for n := range firmDays {
		h.today = firmBegan.Add(n)
		book.SetToday(h.today)
		if err := h.spend(n, papers); err != nil {
			return fmt.Errorf("on %s, after %d papers: %w", h.today, h.posted, err)
		}
		if n%73 == 72 {
			progress(h.posted)
			if err := book.Optimize(ctx); err != nil {
				return err
			}
		}
	}
	return nil
}

// spend is one day: what was to come, and as much as is new as the size asks
// for.
func (h *history) spend(n, papers int) error {
	for _, f := range h.later[h.today] {
		err := f()
		if errors.As(err, new(posting.Refusals)) { // as happens to anybody; not often
			if h.refused++; h.refused < 10+h.posted/1000 {
				err = nil
			}
		}
		if err != nil {
			return err
		}
	}
	delete(h.later, h.today)
	if n%365 == 364 {
		if err := h.shop.counted(h); err != nil {
			return err
		}
	}
	// What is begun goes on for some months, so papers come a little later than their beginnings.
	for h.posted < papers*(n+1)/firmDays {
		begun := h.smallWork
		if h.rnd.IntN(10) == 0 {
			begun = h.job
		}
		if err := begun(); err != nil {
			return err
		}
	}
	return h.shop.read(h)
}

func (h *history) setUp(papers int) error {
	err := h.book.SetUp(ctx, books.Setup{Firm: "Bench", Currency: "EUR", Bank: "Bank", Owner: "B", Email: "b@bench.example", Password: "a long password",
		Codes: []books.SetupCode{{Code: "STD", Name: "Standard", Kind: tax.Charged, Percent: decimal.New(20, 0)}, {Code: "RED", Name: "Repairs", Kind: tax.Charged, Percent: decimal.New(10, 0)}}})
	if err != nil {
		return err
	}
	codes, err := h.book.Read(ctx).TaxCodes()
	if err != nil {
		return err
	}
	h.std, h.red = codes[0].ID, codes[1].ID
	facts, err := h.book.Read(ctx).Facts(h.today)
	if err != nil {
		return err
	}
	for _, r := range []ledger.Role{ledger.MaterialSales, ledger.JobCosts} {
		h.role[r] = facts.Role(r).ID
	}
	h.buyers = int64(min(max(60, papers/200), 5000))
	for n := range h.buyers + 40 {
		p := master.Party{Name: fmt.Sprintf("%s %s %d", firsts[n%int64(len(firsts))], lasts[n*7%int64(len(lasts))], n), Town: towns[n*3%int64(len(towns))], Phone: fmt.Sprintf("055 %06d", n*37), IsCustomer: n < h.buyers, IsSupplier: n >= h.buyers}
		if err := h.book.SaveCustomer(ctx, 1, &p); err != nil {
			return err
		}
		if n >= h.buyers {
			h.sellers = append(h.sellers, p.ID)
		}
	}
	err = h.book.SaveLimits(ctx, 1, 1, master.Limits{Difference: 100, WriteOff: 0, Relief: true, Markup: decimal.New(10, 0), LatePercent: decimal.New(8, 0), LateGrace: 7,
		Allowance: []decimal.Decimal{decimal.Zero, decimal.New(1, 0), decimal.New(5, 0), decimal.New(20, 0), decimal.New(50, 0)}})
	if err != nil {
		return err
	}
	return h.shop.opens(h, papers)
}

var (
	firsts = []string{"Isolde", "Corwin", "Maudie", "Thaddeus", "Fenella", "Lucan", "Perpetua", "Osric", "Tamsin", "Barnaby", "Zelda"}
	lasts  = []string{"Pellwether", "Quickthorn", "Tidewater", "Muckle", "Farrowby", "Larkspur", "Stonecrop", "Oakapple", "Hollowell"}
	towns  = []string{"Haverling", "Ostermere", "Tollbridge", "Cray-on-Sea", "Marrowfield"}
	works  = []string{"Straight flight, pine, made and fitted", "Winder stair, ash", "Landing balustrade", "Squeaking treads, put right", "Handrail, sanded and oiled", "Loose newel post, refitted", "Curved handrail, oak"}
)

// done is what a post made: its paper, and its first plain item.
type done struct {
	paper int64
	item  posting.ItemRef
}

// post posts a command today and returns what came of it.
func (h *history) post(c posting.Command) (done, error) {
	posted, err := h.book.Post(context.Background(), c, books.How{User: 1, Confirmed: posting.WarningRules, Word: "a long password"})
	if err != nil {
		return done{}, fmt.Errorf("%T: %w", c, err)
	}
	d := done{paper: posted.PaperID}
	if posted.PaperID == 0 {
		return d, nil
	}
	h.posted++
	facts, err := h.book.Read(ctx).Facts(h.today)
	if err != nil {
		return d, err
	}
	for _, i := range facts.PaperItems(posted.PaperID) {
		if i.Nature == posting.Plain && d.item == 0 {
			d.item = i.ID
		}
	}
	if h.today >= readSince {
		h.shop.moves(facts, posted.PaperID)
	}
	return d, facts.Err()
}

// in does something so many days from now, if the firm gets that far.
func (h *history) in(days int, f func() error) {
	h.later[h.today.Add(max(days, 1))] = append(h.later[h.today.Add(max(days, 1))], f)
}

// open is what is open of an item now, without its sign.
func (h *history) open(item posting.ItemRef) (money.Amount, error) {
	facts, err := h.book.Read(ctx).Facts(h.today)
	if err != nil {
		return 0, err
	}
	i, _ := facts.Item(item)
	return i.Left.Amount.Own.Abs(), facts.Err()
}

func (h *history) lines(n int) []posting.Line {
	all := make([]posting.Line, n)
	for i := range all {
		all[i] = posting.Line{Text: works[h.rnd.IntN(len(works))], Quantity: decimal.New(int64(1+h.rnd.IntN(12)), 0), UnitPrice: decimal.New(int64(1500+h.rnd.IntN(60000)), -2), TaxCodeID: h.std}
		if i%2 == 1 {
			all[i].AccountID = h.role[ledger.MaterialSales]
		}
		if i == 4 {
			all[i].TaxCodeID = h.red
		}
	}
	return all
}

// worth is what lines come to, net.
func worth(lines []posting.Line) money.Amount {
	var sum decimal.Decimal
	for _, l := range lines {
		sum = sum.Add(l.Quantity.Mul(l.UnitPrice))
	}
	return money.Amount(sum.Shift(2).IntPart())
}

// smallWork is billed and paid, mostly within six weeks.
func (h *history) smallWork() error {
	who := 1 + h.rnd.Int64N(h.buyers)
	switch n := h.rnd.IntN(100); {
	case n < 15:
		return h.shop.sold(h, who)
	case n < 22:
		return h.shop.quoted(h, who)
	case n < 25:
		return h.shop.spent(h)
	}
	v, err := h.post(billing.Invoice{PartyID: who, Day: h.today, Reference: fmt.Sprintf("ref %d", h.posted), Lines: h.lines(1 + h.rnd.IntN(5))})
	if err != nil {
		return err
	}
	if h.rnd.IntN(300) == 0 {
		h.in(2, func() error { return h.writtenAgain(who, v) })
		return nil
	}
	h.paid(who, true, v)
	return h.shop.begun(h, who, v)
}

// writtenAgain takes an invoice back, and bills something else in its place.
func (h *history) writtenAgain(who int64, v done) error {
	if _, err := h.post(settling.Reversal{PaperID: v.paper, Day: h.today, Reason: "wrong price"}); err != nil {
		return err
	}
	v, err := h.post(billing.Invoice{PartyID: who, Day: h.today, Lines: h.lines(1 + h.rnd.IntN(5))})
	if err == nil {
		h.paid(who, true, v)
	}
	return err
}

// paid has what is open of an invoice paid: on time, late, in part, too much,
// or never. Some of what bills work is credited first.
func (h *history) paid(who int64, work bool, v done) {
	days := 10 + h.rnd.IntN(35)
	how := h.rnd.IntN(200)
	switch {
	case how == 0: // never; given up in the end
		h.in(400, func() error { return h.givenUp(v) })
		return
	case how < 12 && work: // some of it comes back
		h.in(days-5, func() error {
			_, err := h.post(billing.Credit{PaperID: v.paper, Day: h.today, Cause: billing.Price, Text: "agreed on the telephone", Work: money.Amount(1000 + h.rnd.IntN(400)), Own: true})
			return err
		})
	case how < 20:
		days += 60
	}
	h.in(days, func() error {
		open, err := h.open(v.item)
		if err != nil || open == 0 {
			return err
		}
		placed, arrived := open, open
		switch {
		case how >= 190: // in part, and the rest a month later
			placed, arrived = open/2+1, open/2+1
			h.in(30, func() error { return h.rest(who, v) })
		case how >= 185:
			arrived = open + 5000
		}
		r, err := h.post(settling.Receipt{PartyID: who, Day: h.today, Arrived: arrived, BankAccountID: 1, Method: posting.ByTransfer, Reference: fmt.Sprintf("TRF %d", h.posted),
			Placements: []settling.Placement{{Debit: v.item, Amount: placed}}, OnAccount: true})
		if err == nil && arrived > placed && how < 188 {
			h.in(20, func() error {
				_, err := h.post(settling.Refund{Day: h.today, Sources: []settling.Share{{Item: r.item, Most: true}}, BankAccountID: 1, Method: posting.ByTransfer})
				return err
			})
		}
		return err
	})
}

func (h *history) rest(who int64, v done) error {
	open, err := h.open(v.item)
	if err != nil || open == 0 {
		return err
	}
	_, err = h.post(settling.Receipt{PartyID: who, Day: h.today, Arrived: open, BankAccountID: 1, Method: posting.ByTransfer, Placements: []settling.Placement{{Debit: v.item, Amount: open}}})
	return err
}

// whole is paid of a paper of several items, one for each invoice that kept
// something back.
func (h *history) whole(who int64, v done) error {
	facts, err := h.book.Read(ctx).Facts(h.today)
	if err != nil {
		return err
	}
	r := settling.Receipt{PartyID: who, Day: h.today, BankAccountID: 1, Method: posting.ByTransfer}
	for _, i := range facts.PaperItems(v.paper) {
		if i.Nature == posting.Plain && i.Left.Amount.Own > 0 {
			r.Arrived += i.Left.Amount.Own
			r.Placements = append(r.Placements, settling.Placement{Debit: i.ID, Amount: i.Left.Amount.Own})
		}
	}
	if r.Arrived == 0 || facts.Err() != nil {
		return facts.Err()
	}
	_, err = h.post(r)
	return err
}

func (h *history) givenUp(v done) error {
	open, err := h.open(v.item)
	if err != nil || open == 0 {
		return err
	}
	_, err = h.post(settling.WriteOff{Day: h.today, Reason: "gone away", Relief: true, Items: []settling.Share{{Item: v.item, Most: true}}})
	return err
}

// job is ordered, paid in part ahead, billed in stages with costs passed on,
// some of it kept back for a year.
func (h *history) job() error {
	h.jobs++
	who := 1 + h.rnd.Int64N(h.buyers)
	j := master.Job{Name: fmt.Sprintf("%s %d", works[h.jobs%len(works)], h.jobs), PartyID: who, Site: towns[h.jobs%len(towns)]}
	if h.jobs%4 == 0 {
		j.RetentionPercent, j.Releases = decimal.New(5, 0), []master.ReleaseShare{{Name: "after a year", Percent: decimal.New(100, 0), Day: h.today.Add(365)}}
	}
	if err := h.book.SaveJob(ctx, 1, &j); err != nil {
		return err
	}
	lines := h.lines(2)
	order, err := h.post(billing.Order{PartyID: who, JobID: j.ID, Day: h.today, Lines: lines})
	if err != nil {
		return err
	}
	switch h.jobs % 8 {
	case 3:
		h.in(8, func() error { return h.billedAhead(who, j, order, lines) })
	case 7:
		h.in(30, func() error { return h.claimed(who, j, 40) })
		h.in(75, func() error { return h.claimed(who, j, 100) })
	default:
		h.in(8, func() error { return h.ahead(who, j, order, lines) })
	}
	h.in(20, func() error { return h.bought(j) })
	if h.rnd.IntN(15) != 0 { // else nobody thinks of it
		after := 180
		if len(j.Releases) > 0 {
			after = 420
		}
		h.in(after, func() error {
			now, _, err := store.Find[master.Job](h.book.Read(ctx), j.ID)
			if err != nil {
				return err
			}
			now.Closed = true
			return h.book.SaveJob(ctx, 1, &now)
		})
	}
	return nil
}

// claimed bills a job by progress.
func (h *history) claimed(who int64, j master.Job, percent int64) error {
	v, err := h.post(billing.Claim{JobID: j.ID, Day: h.today, Percent: decimal.New(percent, 0)})
	if err == nil {
		h.paid(who, true, v)
	}
	return err
}

// billedAhead bills a part of an order in advance, and deducts that from the
// stages. One in fifteen is called off before the second.
func (h *history) billedAhead(who int64, j master.Job, order done, lines []posting.Line) error {
	a, err := h.post(billing.DepositInvoice{PartyID: who, JobID: j.ID, Day: h.today, OrderID: order.paper, Percent: decimal.New(30, 0)})
	if err != nil {
		return err
	}
	h.paid(who, false, a)
	for n, l := range lines {
		l.Of = posting.Thing{LineRef: posting.LineRef{PaperID: order.paper, Position: n + 1}}
		h.in(20+30*n, func() error {
			if n == 1 && h.jobs%15 == 0 {
				_, err := h.post(billing.Cancellation{OrderID: order.paper, Day: h.today, Reason: "moved away"})
				return err
			}
			v := billing.Invoice{PartyID: who, JobID: j.ID, Day: h.today, Lines: append([]posting.Line{l}, h.lines(1)...), Deductions: []billing.Deduction{{PaperID: a.paper, Most: true}}}
			billed, err := h.post(v)
			if errors.As(err, new(posting.Refusals)) { // nothing of it is left
				v.Deductions = nil
				billed, err = h.post(v)
			}
			if err == nil {
				h.paid(who, v.Deductions == nil, billed)
			}
			return err
		})
	}
	return nil
}

// ahead is the deposit, and the stages that it is set against.
func (h *history) ahead(who int64, j master.Job, order done, lines []posting.Line) error {
	amount, request := 20000+money.Amount(h.rnd.IntN(200000)), int64(0)
	if h.jobs%2 == 0 {
		var err error
		if request, err = h.shop.asked(h, who, j.ID, amount); err != nil {
			return err
		}
		if h.jobs%30 == 0 { // one in fifteen is never paid
			h.in(60, func() error { return h.shop.calledOff(h, order, request) })
			return nil
		}
	}
	d, err := h.post(settling.Deposit{PartyID: who, JobID: j.ID, Day: h.today, Amount: amount, BankAccountID: 1, Method: posting.ByTransfer, Reference: "JOB " + j.Number, RequestID: request})
	if err != nil {
		return err
	}
	if h.jobs%40 == 0 {
		if err := h.shop.guaranteed(h, who, j.ID); err != nil {
			return err
		}
	}
	for n, l := range lines {
		l.Of = posting.Thing{LineRef: posting.LineRef{PaperID: order.paper, Position: n + 1}}
		if h.jobs%2 == 1 { // of these, what was made is handed over first
			h.in(16+30*n, func() error {
				_, err := h.post(billing.Delivery{OrderID: order.paper, Day: h.today, Lines: []billing.OrderShare{{Position: n + 1, Quantity: l.Quantity}}})
				return err
			})
		}
		h.in(20+30*n, func() error {
			v := billing.Invoice{PartyID: who, JobID: j.ID, Day: h.today, Lines: append([]posting.Line{l}, h.lines(1)...)}
			open, err := h.open(d.item)
			if err != nil {
				return err
			}
			if take := min(open, worth(v.Lines)/2); take > 0 && (n == 1 || h.jobs%3 == 0) {
				v.SetAgainst = []billing.Use{{Credit: d.item, Amount: take}}
			}
			billed, err := h.post(v)
			if err == nil {
				h.paid(who, true, billed)
			}
			return err
		})
	}
	if h.rnd.IntN(20) != 0 { // what is left of the deposit goes back
		h.in(120, func() error {
			open, err := h.open(d.item)
			if err != nil || open == 0 {
				return err
			}
			if _, err = h.post(settling.Refund{Day: h.today, Sources: []settling.Share{{Item: d.item, Most: true}}, BankAccountID: 1, Method: posting.ByTransfer}); err != nil || request == 0 {
				return err
			}
			h.in(3, func() error { return h.shop.noLongerAsked(h, request) })
			return nil
		})
	}
	if len(j.Releases) > 0 {
		h.in(366, func() error { return h.released(who, j) })
	}
	return nil
}

func (h *history) released(who int64, j master.Job) error {
	facts, err := h.book.Read(ctx).Facts(h.today)
	if err != nil {
		return err
	}
	held := facts.KeptBack(j.ID).Amount.Own
	if held == 0 || facts.Err() != nil {
		return facts.Err()
	}
	r, err := h.post(settling.Release{PartyID: who, Day: h.today, JobID: j.ID, Amount: held})
	if err == nil {
		h.in(20, func() error { return h.whole(who, r) })
	}
	return err
}

// bought is what a job needs: paid within the month, some of it passed on.
func (h *history) bought(j master.Job) error {
	seller := h.sellers[h.rnd.IntN(len(h.sellers))]
	lines := []buying.Line{{Text: "Oak boards, 40 mm", AccountID: h.role[ledger.JobCosts], JobID: j.ID, Net: 4000 + money.Amount(h.rnd.IntN(50000)), TaxCodeID: h.std},
		{Text: "Crane hire", AccountID: h.role[ledger.JobCosts], JobID: j.ID, Net: 9000, TaxCodeID: h.std, PassOn: posting.OurSupply}}
	b, err := h.post(buying.Bill{PartyID: seller, Day: h.today, Due: h.today.Add(30), Reference: fmt.Sprintf("B %d", h.posted), Lines: lines})
	if err != nil {
		return err
	}
	h.pays(seller, b)
	if h.rnd.IntN(25) != 0 { // else it waits, and is forgotten
		h.in(15, func() error {
			v, err := h.post(billing.Invoice{PartyID: j.PartyID, JobID: j.ID, Day: h.today, Lines: []posting.Line{{Costs: []posting.CostShare{{PaperID: b.paper, Position: 2}}}}})
			if err == nil {
				h.paid(j.PartyID, false, v)
			}
			return err
		})
	}
	return nil
}

// pays has a bill paid within the month.
func (h *history) pays(seller int64, bill done) {
	h.in(25, func() error {
		_, err := h.post(settling.SupplierPayment{PartyID: seller, Day: h.today, BankAccountID: 1, Method: posting.ByTransfer, Fits: true, Bills: []settling.PaidBill{{Item: bill.item, Most: true}}})
		return err
	})
}

// Makes the firms that are asked for: go test -run TestMake -firms=1000000 ./bench
func TestMakeFirms(t *testing.T) {
	if !flagGiven("firms") {
		t.Skip("no -firms")
	}
	for _, papers := range sizesAsked(t) {
		firmDir(t, papers)
	}
}

func flagGiven(name string) (given bool) {
	flag.Visit(func(f *flag.Flag) { given = given || f.Name == name })
	return given
}

func sizesAsked(tb testing.TB) (all []int) {
	tb.Helper()
	for part := range strings.SplitSeq(*sizes, ",") {
		n, err := strconv.Atoi(part)
		if err != nil {
			tb.Fatal(err)
		}
		all = append(all, n)
	}
	return all
}

// Makes a small firm and looks whether it ties out: what is measured are real
// books.
func TestFirmTiesOut(t *testing.T) {
	dir := t.TempDir()
	if err := tell(dir, 400, func(int) {}); err != nil {
		t.Fatal(err)
	}
	book, err := books.Open(ctx, dir, time.Now, firmToday)
	if err != nil {
		t.Fatal(err)
	}
	defer book.Close()
	found, err := book.Read(ctx).Check()
	if err != nil || len(found) > 0 {
		t.Fatalf("%q, %v", found, err)
	}
}
