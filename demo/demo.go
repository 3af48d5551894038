// Package demo tells the history of a made-up firm, Sparrow & Winder
// Stairworks, as commands, so that its data comes from the real rules.
package demo

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"time"

	"cleantally/books"
	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

// Today is the demo firm's business day.
const Today = day.Day("2026-11-20")

// The demo's sign-in.
const (
	Email    = "office@sparrow-winder.example"
	Password = "winding stairs"
)

// A happening is a command on its day.
type happening struct {
	day  day.Day
	name string // by which later ones refer to its open item
	make func() (posting.Command, error)
}

// A teller keeps what the commands refer to.
type teller struct {
	book     *books.Book
	rnd      *rand.Rand
	codes    map[string]int64
	parties  map[string]int64
	jobs     map[string]int64
	items    map[string]posting.ItemRef // by a name given in the story: the first open item
	papers   map[string]int64
	articles map[string]int64
	happens  []happening

	bank       atBank
	reconciled bool
}

// Tell sets the firm up and posts its history. Progress is told after each
// paper.
func Tell(ctx context.Context, b *books.Book, progress func(done, of int)) error {
	return TellThrough(ctx, b, Today, progress)
}

// TellThrough tells the history through a day, as it stood at its end; what was
// begun and not posted belongs to the whole of it alone.
func TellThrough(ctx context.Context, b *books.Book, last day.Day, progress func(done, of int)) error {
	return b.ToldAnew(ctx, func() error { return newTeller(b).tell(ctx, last, progress) })
}

func newTeller(b *books.Book) *teller {
	return &teller{book: b, rnd: rand.New(rand.NewPCG(20261120, 1)), codes: map[string]int64{}, parties: map[string]int64{}, jobs: map[string]int64{}, items: map[string]posting.ItemRef{}, papers: map[string]int64{}, articles: map[string]int64{}}
}

func (t *teller) tell(ctx context.Context, last day.Day, progress func(done, of int)) error {
	b := t.book
	b.SetToday("2025-05-01")
	if err := t.setUp(ctx); err != nil {
		return fmt.Errorf("the demo firm: %w", err)
	}
	if err := t.suppliers(ctx); err != nil {
		return fmt.Errorf("the demo firm: %w", err)
	}
	if err := t.openAccounts(ctx); err != nil {
		return fmt.Errorf("the demo firm: %w", err)
	}
	if err := t.settle(ctx); err != nil {
		return fmt.Errorf("the demo firm: %w", err)
	}
	if err := t.keepsBack(ctx); err != nil {
		return fmt.Errorf("the demo firm: %w", err)
	}
	if err := t.abroad(ctx); err != nil {
		return fmt.Errorf("the demo firm: %w", err)
	}
	t.cases()
	t.contracts()
	t.buying()
	t.everyday()
	t.smallWork()
	t.takenBack()
	t.townLife()
	t.banking()
	t.closings()
	t.inDollars()
	slices.SortStableFunc(t.happens, func(a, b happening) int { return int(a.day.Time().Sub(b.day.Time()) / time.Hour) })
	for n, h := range t.happens {
		if h.day > last {
			b.SetToday(last)
			return nil
		}
		b.SetToday(h.day)
		if err := t.post(ctx, h); err != nil {
			return fmt.Errorf("the demo firm on %s, %s: %w", h.day, h.name, err)
		}
		progress(n+1, len(t.happens))
	}
	b.SetToday(Today)
	if err := t.readLast(ctx); err != nil {
		return fmt.Errorf("the demo firm: %w", err)
	}
	if err := t.recurs(ctx); err != nil {
		return fmt.Errorf("the demo firm: %w", err)
	}
	if err := t.invite(ctx); err != nil {
		return fmt.Errorf("the demo firm: %w", err)
	}
	return t.drafts(ctx)
}

// post posts a happening, if there is anything left to do, and keeps its item.
func (t *teller) post(ctx context.Context, h happening) error {
	c, err := h.make()
	if err != nil || c == nil {
		return err
	}
	posted, err := t.postAtBank(ctx, c)
	if err != nil || posted.PaperID == 0 {
		return err
	}
	t.papers[h.name] = posted.PaperID
	items, err := t.book.Read(ctx).ItemsOf(posted.PaperID, t.book.Today())
	if n := slices.IndexFunc(items, func(i posting.Item) bool { return i.Nature == posting.Plain }); n >= 0 {
		t.items[h.name] = items[n].ID
	}
	return err
}

// open is what is open of a named item now, without its sign.
func (t *teller) open(name string) (money.Amount, error) {
	facts, err := t.book.Read(context.Background()).Facts(t.book.Today())
	if err != nil {
		return 0, err
	}
	item, _ := facts.Item(t.items[name])
	return item.Left.Amount.Own.Abs(), facts.Err()
}

func (t *teller) setUp(ctx context.Context) error {
	d := decimal.New
	err := t.book.SetUp(ctx, books.Setup{
		Firm: "Sparrow & Winder Stairworks", Address: "The Old Sailloft\n4 Lower Quay\nHaverling", TaxNumber: "made up: 00-0000", Country: "ZZ", Currency: "EUR",
		Bank: "Bank", Owner: People()[0].Name, Email: Email, Password: Password,
		Codes: []books.SetupCode{{Code: "STD", Name: "Standard", Kind: tax.Charged, Percent: d(20, 0)}, {Code: "RED", Name: "Repairs", Kind: tax.Charged, Percent: d(10, 0)},
			{Code: "NIL", Name: "Nil", Kind: tax.Charged, Percent: d(0, 0)}, {Code: "TC", Name: "Customer accounts for it", Kind: tax.CustomerAccountsIt, Percent: d(20, 0)}},
	})
	if err != nil {
		return err
	}
	if err := t.knowCodes(ctx); err != nil {
		return err
	}
	for _, i := range []master.Article{
		{Code: "BAL-T", Name: "Turned baluster, oak", Kind: master.Material, Unit: "pc", Price: d(2500, -2), Stocked: true},
		{Code: "BAL-S", Name: "Square baluster, ash", Kind: master.Material, Unit: "pc", Price: d(1450, -2)},
		{Code: "TREAD", Name: "Oak tread, 40 mm", Kind: master.Material, Unit: "pc", Price: d(11800, -2)},
		{Code: "RAIL", Name: "Handrail, oak, bent", Kind: master.Material, Unit: "m", Price: d(16450, -2)},
		{Code: "SURVEY", Name: "Survey and drawings", Kind: master.Service, Unit: "job", Price: d(48000, -2)},
		{Code: "FIT", Name: "Fitting, two people", Kind: master.Service, Unit: "day", Price: d(92000, -2)},
		{Code: "OIL", Name: "Oiling and finishing", Kind: master.Service, Unit: "flight", Price: d(31000, -2)},
	} {
		i.TaxCodeID = t.codes["STD"]
		if err := t.book.SaveArticle(ctx, 1, &i); err != nil {
			return err
		}
	}
	if err := t.book.SaveLimits(ctx, 1, 1, limits); err != nil {
		return err
	}
	if err := t.book.SaveMailAccount(ctx, 1, store.MailAccount{Way: "stand-in", FromAddress: Email, PagesAt: "http://127.0.0.1:8420"}, nil); err != nil {
		return err
	}
	if err := t.book.SaveCardGateway(ctx, 1, store.CardGateway{Way: "stand-in", BankAccountID: 3, Parts: true}); err != nil {
		return err
	}
	early := master.Terms{Name: "14 days, 2 % within 10", Kind: master.InDays, Days: 14, DiscountPercent: d(2, 0), DiscountDays: 10}
	if err := t.book.SaveTerms(ctx, 1, &early); err != nil {
		return err
	}
	return t.people(ctx)
}

// knowCodes remembers the tax codes of the firm that was set up.
func (t *teller) knowCodes(ctx context.Context) error {
	codes, err := t.book.Read(ctx).TaxCodes()
	for _, c := range codes {
		t.codes[c.Code] = c.ID
	}
	return err
}

// limits are what the demo firm has settled about small and lost money.
var limits = master.Limits{Difference: 100, WriteOff: 100000, Relief: true, Markup: decimal.New(10, 0), LatePercent: decimal.New(8, 0), LateGrace: 7,
	Allowance: []decimal.Decimal{decimal.Zero, decimal.New(1, 0), decimal.New(5, 0), decimal.New(20, 0), decimal.New(50, 0)}}

func (t *teller) people(ctx context.Context) error {
	terms, err := t.book.Read(ctx).TermsWithParts()
	if err != nil {
		return err
	}
	byName := map[string]int64{}
	for _, x := range terms {
		byName[x.Name] = x.ID
	}
	for n, p := range customers {
		rec := master.Party{Name: p.name, Country: "ZZ", Contact: p.contact, Town: p.town, Address: fmt.Sprintf("%s\n%s", p.street, p.town), Phone: fmt.Sprintf("055 5%02d %03d", 10+n, 117*(n+3)%1000),
			Email: p.mail + ".example", TermsID: byName[p.terms], Note: p.note, IsCustomer: true, IsSupplier: p.note == supplies}
		if err := t.book.SaveCustomer(ctx, 1, &rec); err != nil {
			return err
		}
		t.parties[p.name] = rec.ID
	}
	for _, j := range jobs {
		rec := master.Job{Number: j.number, Name: j.name, PartyID: t.parties[j.customer], Site: j.site, ContractSum: j.sum, Closed: j.closed}
		if err := t.book.SaveJob(ctx, 1, &rec); err != nil {
			return err
		}
		t.jobs[j.number] = rec.ID
	}
	return nil
}
