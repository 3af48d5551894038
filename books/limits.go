package books

import (
	"cleantally/core/rights"
	"context"
	"fmt"

	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/reporting"
	"cleantally/store"

	"github.com/shopspring/decimal"
)

// allowanceAtFirst is what of each bucket of the ageing a new firm takes for
// doubtful, in percent.
var allowanceAtFirst = []decimal.Decimal{decimal.New(0, 0), decimal.New(1, 0), decimal.New(5, 0), decimal.New(20, 0), decimal.New(50, 0)}

// SaveLimits stores what the firm has settled about small and lost money, in
// place of the version of the firm that it was read at. Only an owner may.
func (b *Book) SaveLimits(ctx context.Context, user, version int64, l master.Limits) error {
	var v validation
	for _, a := range []field[money.Amount]{{"difference", l.Difference}, {"writeOff", l.WriteOff}} {
		if a.of < 0 || a.of > money.Limit {
			v.refuse(a.name, "out of bounds", "A limit is nil or more.")
		}
	}
	if len(l.Allowance) != len(reporting.Buckets(reporting.ByDue)) {
		v.refuse("allowance", "missing", "The allowance needs a percentage for each age.")
	}
	for _, r := range l.Allowance {
		if r.IsNegative() || r.GreaterThan(hundred) || !money.Fits(r, 4) {
			v.refuse("allowance", "out of bounds", "A percentage of the allowance is from 0 to 100, with at most 4 places.")
			break
		}
	}
	if l.LatePercent.IsNegative() || l.LatePercent.GreaterThan(hundred) || !money.Fits(l.LatePercent, 4) {
		v.refuse("latePercent", "out of bounds", "The interest on what is overdue is from 0 to 100 %% a year, with at most 4 places.")
	}
	if l.LateGrace < 0 || l.LateGrace > 365 {
		v.refuse("lateGrace", "out of bounds", "Grace is from 0 to 365 days.")
	}
	checkMarkup(&v, "markup", l.Markup)
	if l.LateFee < 0 || l.LateFee > money.Limit {
		v.refuse("lateFee", "out of bounds", "A fee for what is overdue is nil or more.")
	}
	if err := v.err(); err != nil {
		return err
	}
	return b.change(ctx, rights.ToOwn, func(tx *store.Tx) error {
		if err := sameFirm(tx, version); err != nil {
			return err
		}
		if err := tx.SetLimits(l); err != nil {
			return err
		}
		return b.record(tx, user, "save limits", "Saved the limits for small and lost money", l)
	})
}

// sameFirm refuses to go on from another version of the firm than it has.
func sameFirm(tx *store.Tx, version int64) error {
	firm, err := tx.Firm()
	if err == nil && firm.Version != version {
		err = store.ErrRecordChanged
	}
	return err
}

// Limits returns what the firm has settled about small and lost money.
func (b *Book) Limits(ctx context.Context) (master.Limits, error) {
	facts, err := b.Read(ctx).Facts(b.Today())
	if err != nil {
		return master.Limits{}, err
	}
	return facts.Limits(), facts.Err()
}

// PrintedCheques records that the cheques of some refunds were printed.
func (b *Book) PrintedCheques(ctx context.Context, user int64, papers []int64) error {
	return b.change(ctx, rights.ToKeepBooks, func(tx *store.Tx) error {
		cheques, err := tx.Cheques(papers)
		if err != nil {
			return err
		}
		if len(cheques) < len(papers) {
			var v validation
			v.refuse("papers", "missing", "One of these is no cheque that is still out. Look at the list again.")
			return v.err()
		}
		summary := "Printed the cheques"
		for _, c := range cheques {
			summary += " " + c.Cheque
		}
		act := store.Act{UserID: user, Action: "print cheques", Summary: summary}
		if err := tx.Record(&act, b.clock()); err != nil {
			return err
		}
		return tx.PrintedCheques(act.ID, b.Today(), papers)
	})
}

// WroteToBank records that payments were written to a file for the bank.
func (b *Book) WroteToBank(ctx context.Context, user int64, papers []int64) error {
	return b.change(ctx, rights.ToKeepBooks, func(tx *store.Tx) error {
		act := store.Act{UserID: user, Action: "write bank file", Summary: fmt.Sprintf("Wrote %d payments to a file for the bank", len(papers))}
		if err := tx.Record(&act, b.clock()); err != nil {
			return err
		}
		return tx.WrittenToBank(act.ID, b.Today(), papers)
	})
}

// checkMarkup refuses a markup that would give what is passed on away.
func checkMarkup(v *validation, field string, percent decimal.Decimal) {
	if percent.LessThanOrEqual(hundred.Neg()) || percent.GreaterThan(decimal.New(1000, 0)) || !money.Fits(percent, 4) {
		v.refuse(field, "out of bounds", "A markup is above −100 %% and at most 1,000 %%, with at most 4 places.")
	}
}
