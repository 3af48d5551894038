package books

import (
	"cleantally/core/rights"
	"context"
	"fmt"
	"strconv"
	"strings"

	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/formats/mail"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

// save runs one storing of a record with its audit record, in one transaction.
func save[T store.Master](ctx context.Context, b *Book, user int64, what string, rec *T, do func(*store.Tx, *T) error) error {
	return b.change(ctx, rightOfRecord(*rec), func(tx *store.Tx) error {
		if err := do(tx, rec); err != nil {
			return err
		}
		return b.record(tx, user, "save "+what, "Saved the "+what+" "+nameOf(*rec), *rec)
	})
}

// rightOfRecord is the right that changing a record asks for.
func rightOfRecord[T store.Master](rec T) rights.Right {
	switch any(rec).(type) {
	case master.Party, master.Job:
		return rights.ToSell
	case master.Article, master.Group, master.BankRule, master.Currency:
		return rights.ToKeepBooks
	}
	return rights.ToOwn
}

// put creates the record when id is 0 and replaces the version that it was read
// at else.
func put[T store.Master](tx *store.Tx, id, version int64, rec *T) error {
	if id == 0 {
		return store.Create(tx, rec)
	}
	return store.Update(tx, id, version, *rec)
}

// SaveCustomer stores a customer: a new one when its ID is 0.
func (b *Book) SaveCustomer(ctx context.Context, user int64, p *master.Party) error {
	return save(ctx, b, user, "customer", p, saveCustomer)
}

func saveCustomer(tx *store.Tx, p *master.Party) error {
	var v validation
	if !p.IsSupplier {
		p.IsCustomer = true
	}
	v.text("name", &p.Name, true, 120)
	v.text("number", &p.Number, false, 40)
	v.text("contact", &p.Contact, false, 120)
	v.text("email", &p.Email, false, 200)
	v.text("phone", &p.Phone, false, 60)
	v.text("address", &p.Address, false, 400)
	v.text("town", &p.Town, false, 120)
	v.text("invoiceNote", &p.InvoiceNote, false, 2000)
	v.text("siteAddress", &p.SiteAddress, false, 400)
	v.text("taxNumber", &p.TaxNumber, false, 40)
	v.text("note", &p.Note, false, 4000)
	if p.Email != "" && (!strings.Contains(p.Email, "@") || strings.ContainsAny(p.Email, " ,;")) {
		v.refuse("email", "no address", "%q is no e-mail address. Write it as name@firm.example, or leave it empty.", p.Email)
	}
	v.text("language", &p.Language, false, 40)
	v.country("country", &p.Country)
	v.text("copiesTo", &p.CopiesTo, false, 1000)
	if _, err := mail.Addresses(p.CopiesTo); err != nil {
		v.refuse("copiesTo", "no address", "%s.", posting.Sentence(err.Error()))
	}
	v.text("bic", &p.BIC, false, 11)
	checkIBAN(&v, &p.IBAN)
	for _, share := range []field[decimal.Decimal]{{"withhold", p.Withhold}, {"keepBack", p.KeepBack}} {
		if share.of.IsNegative() || share.of.GreaterThan(hundred) || !money.Fits(share.of, 4) {
			v.refuse(share.name, "out of bounds", "A share is from 0 to 100 %%, with at most 4 places.")
		}
	}
	if _, ok, err := store.Find[master.Group](&tx.Reader, p.GroupID); err != nil {
		return err
	} else if p.GroupID != 0 && !ok {
		v.refuse("group", "missing", "There is no such group. Choose another.")
	}
	if _, ok, err := store.Find[master.Letterhead](&tx.Reader, p.LetterheadID); err != nil {
		return err
	} else if p.LetterheadID != 0 && !ok {
		v.refuse("letterhead", "missing", "There is no such letterhead. Choose another.")
	}
	if err := v.mayBeIn(tx, "currency", &p.Currency); err != nil {
		return err
	}
	if p.TermsID != 0 {
		if _, ok, err := store.Find[master.Terms](&tx.Reader, p.TermsID); err != nil {
			return err
		} else if !ok {
			v.refuse("terms", "missing", "There are no such terms. Choose others.")
		}
	}
	if err := giveNumber[master.Party](tx, &v, &p.Number, p.ID, 1001); err != nil {
		return err
	}
	if err := v.err(); err != nil {
		return err
	}
	if err := v.staysParty(tx, p); err != nil {
		return err
	}
	return put(tx, p.ID, p.Version, p)
}

// staysParty refuses to take a party out of the customers or the suppliers while
// something is open of it there: nobody would find it.
func (v *validation) staysParty(tx *store.Tx, p *master.Party) error {
	for _, side := range []struct {
		is        bool
		field     string
		what      string
		registers []ledger.Role
	}{
		{p.IsCustomer, "noCustomer", "customer", []ledger.Role{ledger.Receivables, ledger.Retention, ledger.Deposits, ledger.AdvanceBillings}},
		{p.IsSupplier, "supplier", "supplier", []ledger.Role{ledger.Payables, ledger.RetentionPayable, ledger.SupplierPrepayments, ledger.GoodsReceived, ledger.Recoverable}},
	} {
		if side.is || p.ID == 0 {
			continue
		}
		some, err := tx.Reader.AnythingOpen(p.ID, side.registers)
		if err != nil {
			return err
		}
		if some {
			v.refuse(side.field, "in use", "Something is still open of %s as a %s. Settle that first.", p.Name, side.what)
		}
	}
	return v.err()
}

// giveNumber gives the next number to a new record without one, leaves an old
// one its own, and refuses one that another record has.
func giveNumber[T store.Master](tx *store.Tx, v *validation, number *string, id, first int64) error {
	if *number == "" && id != 0 {
		old, _, err := store.NumberOf[T](&tx.Reader, id)
		*number = old
		return err
	}
	if *number == "" {
		next, err := store.NextMasterNumber[T](&tx.Reader, first)
		*number = strconv.FormatInt(next, 10)
		return err
	}
	other, there, err := store.IDBy[T](&tx.Reader, "number", *number)
	v.unique("number", *number, id, other, there)
	return err
}

// SaveJob stores a job: a new one when its ID is 0.
func (b *Book) SaveJob(ctx context.Context, user int64, j *master.Job) error {
	return save(ctx, b, user, "job", j, saveJob)
}

func saveJob(tx *store.Tx, j *master.Job) error {
	var v validation
	v.text("name", &j.Name, true, 120)
	v.text("number", &j.Number, false, 40)
	v.text("site", &j.Site, false, 400)
	v.text("note", &j.Note, false, 4000)
	if j.ContractSum < 0 || j.ContractSum > money.Limit {
		v.refuse("contractSum", "below nil", "A contract sum is nil or more. Leave it at nil when none is agreed.")
	}
	if j.Budget < 0 || j.Budget > money.Limit {
		v.refuse("budget", "below nil", "A budget is nil or more. Leave it at nil when there is none.")
	}
	if j.Markup != nil {
		checkMarkup(&v, "markup", *j.Markup)
	}
	checkRetention(&v, j)
	checkPlan(&v, j)
	p, ok, err := store.Find[master.Party](&tx.Reader, j.PartyID)
	if err != nil {
		return err
	}
	if !ok || !p.IsCustomer {
		v.refuse("customer", "missing", "Say which customer the job is for.")
	}
	if old, known, err := store.Find[master.Job](&tx.Reader, j.ID); err != nil {
		return err
	} else if known && old.PartyID != j.PartyID {
		v.refuse("customer", "stays", "A job stays with its customer. Make a new job for the other one.")
	}
	if err := giveNumber[master.Job](tx, &v, &j.Number, j.ID, 101); err != nil {
		return err
	}
	if err := v.err(); err != nil {
		return err
	}
	if err := put(tx, j.ID, j.Version, j); err != nil {
		return err
	}
	if err := tx.SetReleases(j.ID, j.Releases); err != nil {
		return err
	}
	return tx.SetStages(j.ID, j.Stages)
}

// checkPlan refuses a billing plan that cannot be billed.
func checkPlan(v *validation, j *master.Job) {
	sum := decimal.Zero
	for n := range j.Stages {
		s, field := &j.Stages[n], fmt.Sprintf("stages[%d].", n)
		v.text(field+"name", &s.Name, true, 120)
		if s.Percent.IsNegative() || s.Amount < 0 || s.Amount > money.Limit || !money.Fits(s.Percent, 4) || (s.Amount == 0) == s.Percent.IsZero() {
			v.refuse(field+"percent", "one of them", "A stage is a share of the contract or an amount, above nil.")
		}
		sum = sum.Add(s.Percent)
	}
	if sum.GreaterThan(decimal.New(100, 0)) {
		v.refuse("stages", "too much", "The shares of the billing plan add up to %s %%, more than 100.", sum)
	}
}

// checkRetention refuses terms of retention that cannot be worked out.
func checkRetention(v *validation, j *master.Job) {
	hundred := decimal.New(100, 0)
	if j.RetentionPercent.IsNegative() || j.RetentionPercent.GreaterThan(hundred) || !money.Fits(j.RetentionPercent, 4) {
		v.refuse("retention", "out of bounds", "What is kept back is a share from 0 to 100 %%, with at most 4 places.")
	}
	if j.RetentionCap < 0 || j.RetentionCap > money.Limit {
		v.refuse("retentionCap", "below nil", "The most that is kept back is nil or more. Leave it empty when there is no such limit.")
	}
	if j.RetentionCapPercent.IsNegative() || j.RetentionCapPercent.GreaterThan(hundred) || !money.Fits(j.RetentionCapPercent, 4) {
		v.refuse("retentionCapPercent", "out of bounds", "The most that is kept back is a share of the contract sum from 0 to 100 %%.")
	}
	if j.RetentionCap != 0 && !j.RetentionCapPercent.IsZero() {
		v.refuse("retentionCap", "one of them", "The most that is kept back is an amount or a share of the contract sum, not both.")
	}
	sum := decimal.Zero
	for n := range j.Releases {
		r := &j.Releases[n]
		v.text(fmt.Sprintf("releases[%d].name", n), &r.Name, false, 120)
		if !r.Percent.IsPositive() || !money.Fits(r.Percent, 4) {
			v.refuse(fmt.Sprintf("releases[%d].percent", n), "out of bounds", "A share that is released is above nil.")
		}
		sum = sum.Add(r.Percent)
	}
	if len(j.Releases) > 0 && !sum.Equal(hundred) {
		v.refuse("releases", "not whole", "The shares that are released add up to %s %%, not to 100.", sum)
	}
}

// checkIBAN takes blanks out of an account number and refuses one whose check
// digits do not hold.
func checkIBAN(v *validation, iban *string) {
	*iban = strings.ToUpper(strings.Join(strings.Fields(*iban), ""))
	if *iban != "" && !ibanHolds(*iban) {
		v.refuse("iban", "does not hold", "The IBAN %s has a slip in it: its check digits do not hold.", *iban)
	}
}
