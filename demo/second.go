package demo

import (
	"context"
	"fmt"

	"cleantally/books"
	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/rights"
	"cleantally/core/settling"
	"cleantally/core/tax"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

// SecondName is the short name of the demo's second firm.
const SecondName = "stair-repairs"

// TellSecond tells the demo's second firm: two of the first firm's people mend
// what others built, on its own books. One of them owns it, the other is its
// bookkeeper.
func TellSecond(ctx context.Context, b *books.Book) error {
	return b.ToldAnew(ctx, func() error {
		t := newTeller(b)
		if err := t.tellSecond(ctx); err != nil {
			return fmt.Errorf("the demo's second firm: %w", err)
		}
		return nil
	})
}

func (t *teller) tellSecond(ctx context.Context) error {
	d := decimal.New
	t.book.SetToday("2026-06-01")
	people := People()
	err := t.book.SetUp(ctx, books.Setup{
		Firm: "Lower Quay Stair Repairs", Address: "The Old Sailloft, yard door\n4 Lower Quay\nHaverling", TaxNumber: "made up: 00-0001", Country: "ZZ", Currency: "EUR",
		Bank: "Bank", Owner: people[0].Name, Email: people[0].Email, Password: people[0].Password,
		Codes: []books.SetupCode{{Code: "STD", Name: "Standard", Kind: tax.Charged, Percent: d(20, 0)}, {Code: "RED", Name: "Repairs", Kind: tax.Charged, Percent: d(10, 0)}, {Code: "NIL", Name: "Nil", Kind: tax.Charged, Percent: d(0, 0)}},
	})
	if err != nil {
		return err
	}
	secret, err := t.book.Invite(ctx, 1, store.Invitation{Name: people[1].Name, Email: people[1].Email, Role: rights.Bookkeeper})
	if err == nil {
		_, err = t.book.Accept(ctx, secret, people[1].Password, "")
	}
	if err != nil {
		return err
	}
	// It is small enough to owe its tax when it is paid.
	firm, err := t.book.Read(ctx).Firm()
	if err == nil {
		firm.TaxDue = posting.DuePaid
		err = t.book.SaveFirm(books.As(ctx, 1), 1, firm)
	}
	if err != nil {
		return err
	}
	if err := t.knowCodes(ctx); err != nil {
		return err
	}
	for _, name := range []string{"Tallow Wharf Residents", "Gideon Harkaway", "St Brannock's School House", "Ferryman's Rest"} {
		p := master.Party{Name: name, Country: "ZZ", Town: "Haverling", Address: "Haverling", IsCustomer: true}
		if err := t.book.SaveCustomer(ctx, 1, &p); err != nil {
			return err
		}
		t.parties[name] = p.ID
	}
	t.repairs()
	for _, h := range t.happens {
		t.book.SetToday(h.day)
		c, err := h.make()
		if err != nil {
			return err
		}
		posted, err := t.book.Post(ctx, c, books.How{User: 1, Confirmed: posting.WarningRules, Word: Password})
		if err != nil {
			return fmt.Errorf("on %s, %s: %w", h.day, h.name, err)
		}
		items, err := t.book.Read(ctx).ItemsOf(posted.PaperID, h.day)
		if err != nil {
			return err
		}
		if len(items) > 0 {
			t.items[h.name] = items[0].ID
		}
	}
	t.book.SetToday(Today)
	return nil
}

// repairs are what the second firm did since June: small work, paid in part, one
// deposit held.
func (t *teller) repairs() {
	bill := func(d day.Day, name, who, text string, price money.Amount, code string) {
		t.do(d, name, t.invoice(who, "", d, t.line(text, "1", price, code, false)))
	}
	paid := func(d day.Day, name, who string, a money.Amount) {
		t.at(d, name+" paid", func() (posting.Command, error) { return t.receipt(who, d, a, "FOR "+name, name), nil })
	}
	bill("2026-06-11", "loose treads", "Tallow Wharf Residents", "Six loose treads wedged and glued", 54000, "RED")
	paid("2026-06-30", "loose treads", "Tallow Wharf Residents", 59400)
	bill("2026-08-20", "newel post", "Gideon Harkaway", "Newel post, replaced", 68000, "STD")
	paid("2026-10-05", "newel post", "Gideon Harkaway", 40000)
	bill("2026-09-14", "bell stair", "St Brannock's School House", "Bell stair: survey and repair", 215000, "RED")
	t.do("2026-10-20", "handrail ahead", settling.Deposit{PartyID: t.parties["Ferryman's Rest"], Day: "2026-10-20", Amount: 60000, BankAccountID: 1, Method: posting.ByTransfer, Reference: "HANDRAIL"})
	paid("2026-11-06", "bell stair", "St Brannock's School House", 120000)
	bill("2026-11-12", "squeaks", "Tallow Wharf Residents", "Squeaking flight, second floor", 31000, "RED")
}
