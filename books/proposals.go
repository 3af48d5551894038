package books

import (
	"context"

	"cleantally/core/banking"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/master"
	"cleantally/core/posting"
	"cleantally/core/settling"
	"cleantally/store"
)

// Proposals are what lines of a bank's statement may be, by line.
func Proposals(r *store.Reader, bank int64, lines []store.BankLine, today day.Day) (map[int64][]banking.Proposed, error) {
	out := map[int64][]banking.Proposed{}
	var asked []store.BankLine
	for _, l := range lines {
		if !l.Tied {
			asked = append(asked, l)
		}
	}
	if len(asked) == 0 {
		return out, nil
	}
	c, err := clues(r, bank, asked, today)
	if err != nil {
		return nil, err
	}
	for _, l := range asked {
		out[l.ID] = c.Propose(Said(l))
	}
	return out, nil
}

// Said is what a line says.
func Said(l store.BankLine) banking.Said {
	return banking.Said{Day: l.Day, Amount: l.Amount, Text: l.Text, Reference: l.Reference, Name: l.OtherName, Account: l.OtherAccount}
}

// clues reads all that some lines of a bank account may be.
func clues(r *store.Reader, bank int64, lines []store.BankLine, today day.Day) (*banking.Clues, error) {
	through := lines[0].Day
	var others []string
	for _, l := range lines {
		through = max(through, l.Day)
		if l.OtherSide != "" {
			others = append(others, l.OtherSide)
		}
	}
	f, err := r.Facts(today)
	if err != nil {
		return nil, err
	}
	parties, err := r.BankLineParties()
	if err != nil {
		return nil, err
	}
	jobs, err := r.BankLineJobs()
	if err != nil {
		return nil, err
	}
	last, err := r.LastOf(others)
	if err != nil {
		return nil, err
	}
	rules, err := store.All[master.BankRule](r, "id")
	if err != nil {
		return nil, err
	}
	banks, err := store.All[ledger.BankAccount](r, "id")
	if err != nil {
		return nil, err
	}
	var own []banking.Own
	for _, b := range banks {
		if b.ID != bank && !b.Inactive {
			own = append(own, banking.Own{BankAccountID: b.ID, Name: b.Name, Account: b.IBAN})
		}
	}
	cur, err := r.BankCurrency(bank)
	if err != nil {
		return nil, err
	}
	c := banking.Look(cur, parties, jobs, own, habits(rules, bank), last)
	said := make([]banking.Said, len(lines))
	for n, l := range lines {
		said[n] = Said(l)
	}
	found, err := r.Explainables(bank, said, c.Ask(said))
	if err != nil {
		return nil, err
	}
	takings, err := r.Takings(through, nil, 0, 1)
	if err != nil {
		return nil, err
	}
	if len(takings) > 0 && takings[0].Sum > 0 {
		found = append(found, store.Explainable{Takings: true, Kind: posting.Payout, Day: takings[0].Day, Amount: takings[0].Sum})
	}
	known := make([]banking.Known, len(found))
	for n, e := range found {
		known[n] = knownOf(f, e)
	}
	c.Take(known)
	return c, f.Err()
}

// knownOf is what could explain a line, with the paper that would be made of it.
func knownOf(f posting.Facts, e store.Explainable) banking.Known {
	k := banking.Known{Movement: e.MovementID, Item: posting.ItemRef(e.ItemID), PaperID: e.PaperID, Kind: e.Kind, Number: e.Number, Day: e.Day, PartyID: e.PartyID, Party: e.Party,
		Reference: e.Reference, Cheque: e.Cheque, Amount: e.Amount, JobID: e.JobID, Told: e.Told, Takings: e.Takings, Make: becomes(e)}
	if e.EarlyUntil != "" {
		if i, ok := f.Item(k.Item); ok {
			k.Discount, k.Until = settling.Earned(f, i, e.Day)
		}
	}
	return k
}

// becomes is the paper that a line becomes that settles something open.
func becomes(e store.Explainable) posting.Kind {
	switch {
	case e.MovementID != 0:
		return ""
	case e.Returned:
		return posting.Returned
	case e.Told != 0 || e.Takings:
		return posting.Payout
	case e.ItemID == 0:
		return posting.Deposit // it is asked for
	}
	return banking.Becomes(e.Register, e.Amount)
}

// habits are the firm's rules for a bank account, as they are compared.
func habits(rules []master.BankRule, bank int64) []banking.Habit {
	var all []banking.Habit
	for _, u := range rules {
		if u.Inactive || u.BankAccountID != 0 && u.BankAccountID != bank {
			continue
		}
		all = append(all, banking.Habit{RuleID: u.ID, Name: u.Name, Text: u.Text, Other: u.Other, Came: u.Came, Went: u.Went, Make: posting.Kind(u.Becomes), AccountID: u.AccountID, ToBank: u.ToBankID, PartyID: u.PartyID})
	}
	return all
}

// SaveBankRule stores a rule of the firm's own for lines of its banks: a new one
// when its ID is 0.
func (b *Book) SaveBankRule(ctx context.Context, user int64, u *master.BankRule) error {
	return save(ctx, b, user, "bank rule", u, saveBankRule)
}

// needs are what a rule must say beside its words, by what the line becomes.
var needs = map[posting.Kind]struct {
	field string
	text  string
	of    func(*master.BankRule) *int64
}{
	posting.Journal:     {"account", "Say which account it goes to, or comes from.", func(u *master.BankRule) *int64 { return &u.AccountID }},
	posting.OwnTransfer: {"toBank", "Say which of your accounts is the other one.", func(u *master.BankRule) *int64 { return &u.ToBankID }},
	posting.PaySupplier: {"party", "Say which supplier is paid.", func(u *master.BankRule) *int64 { return &u.PartyID }},
	posting.Expense:     {"party", "Say whom it is paid to.", func(u *master.BankRule) *int64 { return &u.PartyID }},
	posting.Receipt:     {"party", "Say which customer pays.", func(u *master.BankRule) *int64 { return &u.PartyID }},
}

func saveBankRule(tx *store.Tx, u *master.BankRule) error {
	var v validation
	v.text("name", &u.Name, true, 80)
	v.text("text", &u.Text, false, 100)
	v.text("other", &u.Other, false, 100)
	if banking.Words(u.Text) == "" && banking.Words(u.Other) == "" {
		v.refuse("text", "missing", "Say which words the line holds, or the name of the other side.")
	}
	if !u.Came && !u.Went {
		v.refuse("came", "missing", "Say whether it is about money that came, that went, or both.")
	}
	need, known := needs[posting.Kind(u.Becomes)]
	if !known {
		v.refuse("becomes", "missing", "Say what such a line becomes.")
	}
	for _, other := range needs { // what another kind of paper would need is not kept
		if other.field != need.field {
			*other.of(u) = 0
		}
	}
	if known && *need.of(u) == 0 {
		v.refuse(need.field, "missing", "%s", need.text)
	}
	if err := v.known(tx, u); err != nil {
		return err
	}
	other, there, err := store.IDBy[master.BankRule](&tx.Reader, "name", u.Name)
	if err != nil {
		return err
	}
	v.unique("name", u.Name, u.ID, other, there)
	if err := v.err(); err != nil {
		return err
	}
	return put(tx, u.ID, u.Version, u)
}

// known refuses what a rule names that there is not.
func (v *validation) known(tx *store.Tx, u *master.BankRule) error {
	f, err := tx.Facts("")
	if err != nil {
		return err
	}
	if _, ok := f.Account(u.AccountID); u.AccountID != 0 && !ok {
		v.refuse("account", "missing", "There is no such account. Choose another.")
	}
	if _, control := posting.Build(f).Control(u.AccountID); control {
		v.refuse("account", "control account", "That account moves by its own papers alone. Choose another.")
	}
	for _, bank := range []field[int64]{{"toBank", u.ToBankID}, {"bank", u.BankAccountID}} {
		if at, ok := f.BankAccount(bank.of); bank.of != 0 && (!ok || at.Takings) {
			v.refuse(bank.name, "missing", "There is no such account of yours. Choose another.")
		}
	}
	if _, ok := f.Party(u.PartyID); u.PartyID != 0 && !ok {
		v.refuse("party", "missing", "There is nobody of that kind. Choose another.")
	}
	return f.Err()
}

// tookByRule keeps that a line of the bank was explained by a rule of the firm's.
func tookByRule(tx *store.Tx, act int64, how How) error {
	if how.BankRule == 0 || how.BankLine == 0 {
		return nil
	}
	if _, there, err := store.Find[master.BankRule](&tx.Reader, how.BankRule); err != nil || !there {
		return err
	}
	return tx.TookByRule(act, how.BankRule, how.BankLine)
}
