package books

import (
	"cleantally/core/rights"
	"cmp"
	"context"
	"errors"
	"regexp"
	"strings"

	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/tax"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

// Setup is what a new firm is asked for, on one screen.
type Setup struct {
	Firm      string
	Address   string
	TaxNumber string
	Country   string // two letters; "" to be said later
	Currency  string
	Bank      string // name of the first bank account
	IBAN      string
	Codes     []SetupCode // tax codes; the first is that of a new line
	Numbering map[posting.Kind]string
	Owner     string
	Email     string
	Password  string
}

// SetupCode is a tax code with its first rate.
type SetupCode struct {
	Code    string
	Name    string
	Kind    tax.Kind
	Percent decimal.Decimal
}

// DefaultNumbering is how papers are numbered unless the firm says otherwise.
func DefaultNumbering() map[posting.Kind]string {
	formats := map[posting.Kind]string{}
	for _, d := range posting.Kinds() {
		formats[d.Kind] = d.Numbering
	}
	return formats
}

// ErrSetUpAlready says that the firm is there.
var ErrSetUpAlready = errors.New("this firm has been set up already: sign in")

// SetUp stores a new firm with its chart of accounts, codes, terms, bank
// account, numbering and owner, so that the first deposit can be taken.
func (b *Book) SetUp(ctx context.Context, s Setup) error {
	var v validation
	v.text("firm", &s.Firm, true, 120)
	v.text("address", &s.Address, false, 400)
	v.text("taxNumber", &s.TaxNumber, false, 40)
	v.country("country", &s.Country)
	v.text("bank", &s.Bank, false, 80)
	cur, err := money.CurrencyOf(s.Currency)
	if err != nil {
		v.refuse("currency", "unknown", "%s.", strings.ToUpper(err.Error()[:1])+err.Error()[1:])
	}
	if len(s.Codes) == 0 {
		v.refuse("codes", "missing", "A firm needs at least one tax code. One with 0 %% will do where no tax is charged.")
	}
	numbering := DefaultNumbering()
	for kind, format := range s.Numbering {
		numbering[kind] = format
	}
	for kind, format := range numbering {
		v.numbering("numbering."+string(kind), format)
	}
	v.owner(&s)
	if err := v.err(); err != nil {
		return err
	}
	// Whether there is a firm is looked at before a password is hashed for it:
	// anybody may ask.
	if _, err := b.Read(ctx).Firm(); !errors.Is(err, store.ErrNoFirm) {
		return errors.Join(err, ErrSetUpAlready)
	}
	hash, err := b.hash(ctx, s.Password)
	if err != nil {
		return err
	}
	return b.db.Write(ctx, func(tx *store.Tx) error {
		if _, err := tx.Firm(); !errors.Is(err, store.ErrNoFirm) {
			return errors.Join(err, ErrSetUpAlready)
		}
		firm := store.Firm{DateStyle: day.InWords, TaxDue: posting.DueBilled, NumberStyle: money.PointMarks, Name: s.Firm, Address: s.Address, TaxNumber: s.TaxNumber, Country: s.Country, Currency: cur.Code, DifferenceLimit: cur.One(), Relief: true}
		if err := b.begin(tx, s, &firm, numbering); err != nil {
			return err
		}
		owner := store.User{Name: s.Owner, Email: s.Email, PasswordHash: hash, Role: rights.Owner}
		if err := tx.CreateUser(&owner); err != nil {
			return err
		}
		return b.record(tx, owner.ID, "set up", "Set up the firm "+s.Firm, firm)
	})
}

func (v *validation) owner(s *Setup) {
	v.text("owner", &s.Owner, true, 120)
	v.email("email", &s.Email)
	v.password("password", s.Password, s.Owner, s.Email, s.Firm)
}

func (v *validation) email(field string, email *string) {
	v.text(field, email, true, 200)
	if *email != "" && !strings.Contains(*email, "@") {
		v.refuse(field, "no address", "%q is no e-mail address. Write it as name@firm.example.", *email)
	}
}

// begin stores the chart, roles, bank accounts, codes, terms and numbering.
func (b *Book) begin(tx *store.Tx, s Setup, firm *store.Firm, numbering map[posting.Kind]string) error {
	banks := 0
	for _, c := range ledger.Chart {
		a := ledger.Account{Number: c.Number, Name: c.Name, Type: c.Type}
		if err := store.Create(tx, &a); err != nil {
			return err
		}
		if c.Role != "" {
			if err := tx.SetRole(c.Role, a.ID); err != nil {
				return err
			}
		}
		if c.Money != ledger.Nowhere {
			bank := ledger.BankAccount{Name: c.Name, AccountID: a.ID, Cash: c.Money == ledger.Till, Takings: c.Money == ledger.OnTheWay}
			if banks == 0 {
				bank.Name, bank.IBAN = cmp.Or(s.Bank, c.Name), s.IBAN
			}
			banks++
			if err := saveBankAccount(tx, &bank); err != nil {
				return err
			}
		}
	}
	for n, c := range s.Codes {
		code := tax.Code{Code: c.Code, Name: c.Name, Kind: c.Kind}
		if err := saveTaxCode(tx, &code, []tax.Rate{{Since: "2000-01-01", Percent: c.Percent}}); err != nil {
			return err
		}
		if n == 0 {
			firm.TaxCodeID = code.ID
		}
	}
	half := decimal.New(50, 0)
	for _, t := range []master.Terms{
		{Name: "30 days", Kind: master.InDays, Days: 30}, {Name: "14 days", Kind: master.InDays, Days: 14}, {Name: "On receipt", Kind: master.OnReceipt},
		{Name: "End of month", Kind: master.EndOfMonth}, {Name: "End of month + 15 days", Kind: master.EndOfMonthPlus, Days: 15},
		{Name: "Two halves, 14 and 44 days", Kind: master.InInstalments, Instalments: []master.Instalment{{Percent: half, Days: 14}, {Percent: half, Days: 44}}},
	} {
		if err := saveTerms(tx, &t); err != nil {
			return err
		}
		if firm.TermsID == 0 {
			firm.TermsID = t.ID
		}
	}
	if err := tx.SetRates(allowanceAtFirst); err != nil {
		return err
	}
	for kind, format := range numbering {
		if err := tx.SetNumbering(store.NumberingOf{Kind: kind, Format: format}); err != nil {
			return err
		}
	}
	return tx.SaveFirm(*firm)
}

// SaveFirm stores what the firm says of itself. Currency and lock stay.
func (b *Book) SaveFirm(ctx context.Context, user int64, f store.Firm) error {
	var v validation
	v.text("name", &f.Name, true, 120)
	v.text("address", &f.Address, false, 400)
	v.text("email", &f.Email, false, 200)
	v.text("phone", &f.Phone, false, 60)
	v.text("taxNumber", &f.TaxNumber, false, 40)
	v.country("country", &f.Country)
	v.text("invoiceNote", &f.InvoiceNote, false, 2000)
	if f.DateStyle == "" {
		f.DateStyle = day.InWords
	}
	if f.NumberStyle == "" {
		f.NumberStyle = money.PointMarks
	}
	return b.change(ctx, rights.ToOwn, func(tx *store.Tx) error {
		old, err := tx.Firm()
		if err != nil {
			return err
		}
		if t, ok, err := store.Find[master.Terms](&tx.Reader, f.TermsID); err != nil {
			return err
		} else if !ok || t.Inactive {
			v.refuse("terms", "not in use", "Choose payment terms that are in use.")
		}
		if c, ok, err := store.Find[tax.Code](&tx.Reader, f.TaxCodeID); err != nil {
			return err
		} else if !ok || c.Inactive {
			v.refuse("taxCode", "not in use", "Choose a tax code that is in use.")
		}
		if err := v.err(); err != nil {
			return err
		}
		if f.Version != old.Version {
			return store.ErrRecordChanged
		}
		f.Currency, f.LockedThrough, f.ChartVersion = old.Currency, old.LockedThrough, old.ChartVersion
		f.DifferenceLimit, f.WriteOffLimit, f.Relief = old.DifferenceLimit, old.WriteOffLimit, old.Relief
		f.LatePercent, f.LateGrace, f.LateFee, f.Markup, f.ShowMarkup = old.LatePercent, old.LateGrace, old.LateFee, old.Markup, old.ShowMarkup
		f.BillerPosts, f.BillerChooses = old.BillerPosts, old.BillerChooses
		if f.TaxDue == "" {
			f.TaxDue = old.TaxDue
		}
		if err := tx.SaveFirm(f); err != nil {
			return err
		}
		return b.record(tx, user, "save firm", "Saved the firm's details", f)
	})
}

var numberingFormat = regexp.MustCompile(`^([^{}]|\{yy\}|\{yyyy\})*\{0{1,9}\}$`)

func (v *validation) numbering(field, format string) {
	if !numberingFormat.MatchString(format) || len(format) > 30 {
		v.refuse(field, "no numbering", "%q is no numbering: write letters, {yy} or {yyyy} for the year, and {0000} at the end for the running number.", format)
	}
}

// SaveNumbering stores how a kind of paper is numbered from now on.
func (b *Book) SaveNumbering(ctx context.Context, user int64, n store.NumberingOf) error {
	var v validation
	if _, ok := DefaultNumbering()[n.Kind]; !ok {
		v.refuse("kind", "missing", "There is no kind of paper %q.", n.Kind)
	}
	n.Format = strings.TrimSpace(n.Format)
	v.numbering("format", n.Format)
	if err := v.err(); err != nil {
		return err
	}
	return b.change(ctx, rights.ToOwn, func(tx *store.Tx) error {
		if err := tx.SetNumbering(n); err != nil {
			return err
		}
		return b.record(tx, user, "save numbering", "Numbered each "+string(n.Kind)+" as "+n.Format, n)
	})
}

// proved refuses while the books do not tie out: today, on the day that is
// closed, and by party on every day until then.
func (v *validation) proved(tx *store.Tx, days ...day.Day) error {
	for _, d := range days {
		t, err := tx.TieOutWithBanks(d)
		if err != nil {
			return err
		}
		differ, err := tx.Proved(d)
		if err != nil {
			return err
		}
		if !t.OK() || len(differ) > 0 {
			v.refuse("through", "does not tie out", "The books do not tie out on %s, so the period stays open. Look at the tie-out of that day first.", d.Show())
			return v.err()
		}
	}
	return nil
}

// Lock closes the period through d, or opens it again as far as d. It is
// refused while a tie-out fails; unlocking wants a reason, which is recorded.
func (b *Book) Lock(ctx context.Context, user int64, d day.Day, reason string) error {
	var v validation
	reason = strings.TrimSpace(reason)
	if d != "" {
		if _, err := day.Parse(string(d)); err != nil {
			v.refuse("through", "no such day", "%s.", strings.ToUpper(err.Error()[:1])+err.Error()[1:])
		} else if d > b.Today() {
			v.refuse("through", "in the future", "%s is in the future. The last day that can be locked is today, %s.", d.Show(), b.Today().Show())
		}
	}
	if err := v.err(); err != nil {
		return err
	}
	return b.change(ctx, rights.ToLock, func(tx *store.Tx) error {
		firm, err := tx.Firm()
		if err != nil {
			return err
		}
		if d < firm.LockedThrough {
			p, err := person(&tx.Reader, who(ctx))
			if err == nil {
				err = p.Need(rights.ToOwn)
			}
			if err != nil {
				return err
			}
		}
		if d < firm.LockedThrough && reason == "" {
			v.refuse("reason", "missing", "The books are locked through %s. Opening them again needs a reason.", firm.LockedThrough.Show())
			return v.err()
		}
		if d > firm.LockedThrough {
			if err := v.proved(tx, d, b.Today()); err != nil {
				return err
			}
		}
		if err := tx.Lock(d); err != nil {
			return err
		}
		summary := "Locked the books through " + d.Show()
		if d < firm.LockedThrough {
			summary = "Unlocked the books back to " + d.Show() + ": " + reason
		}
		return b.record(tx, user, "lock", summary, map[string]string{"through": string(d), "before": string(firm.LockedThrough), "reason": reason})
	})
}
