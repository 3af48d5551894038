package books

import (
	"context"
	"fmt"

	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
	"cleantally/core/rights"
	"cleantally/formats/ratefile"
	"cleantally/store"
)

// SaveCurrency takes a currency into use beside the firm's own, or out of use:
// that is refused while something stands in it.
func (b *Book) SaveCurrency(ctx context.Context, user int64, c *master.Currency) error {
	return save(ctx, b, user, "currency", c, func(tx *store.Tx, c *master.Currency) error {
		var v validation
		if _, err := money.CurrencyOf(c.Code); err != nil {
			v.refuse("code", "no such currency", "%s.", posting.Sentence(err.Error()))
			return v.err()
		}
		firm, err := tx.Firm()
		if err != nil {
			return err
		}
		if c.Code == firm.Currency {
			v.refuse("code", "the firm's own", "%s is the firm's own currency: every paper may be in it.", c.Code)
		}
		if was, there, err := store.Find[master.Currency](&tx.Reader, c.ID); err != nil {
			return err
		} else if there && was.Code != c.Code {
			v.refuse("code", "stays", "%s stays %s. Take another currency into use beside it.", was.Code, was.Code)
		}
		other, there, err := store.IDBy[master.Currency](&tx.Reader, "code", c.Code)
		if err != nil {
			return err
		}
		v.unique("code", c.Code, c.ID, other, there)
		if c.Inactive {
			stands, err := tx.StandsIn(c.Code)
			if err != nil {
				return err
			}
			if stands != "" {
				v.refuse("inactive", "in use", "%s still stands in %s. Settle what is open in it and take its bank accounts out of use first.", stands, c.Code)
			}
		}
		if err := v.err(); err != nil {
			return err
		}
		return put(tx, c.ID, c.Version, c)
	})
}

// mayBeIn refuses a currency that is not in use; "" is the firm's own.
func (v *validation) mayBeIn(tx *store.Tx, field string, code *string) error {
	if *code == "" {
		return nil
	}
	firm, err := tx.Firm()
	if err != nil {
		return err
	}
	if *code == firm.Currency {
		*code = ""
		return nil
	}
	id, there, err := store.IDBy[master.Currency](&tx.Reader, "code", *code)
	if err != nil {
		return err
	}
	if c, _, err := store.Find[master.Currency](&tx.Reader, id); err != nil {
		return err
	} else if !there || c.Inactive {
		v.refuse(field, "not in use", "The currency %s is not in use. Take it into use in the setup first.", *code)
	}
	return nil
}

// SetRate stores what one unit of a currency was worth on a day, in the firm's; a
// rate of nil takes that of the day away. What was posted keeps its own.
func (b *Book) SetRate(ctx context.Context, user int64, rate posting.Rate) error {
	return b.change(ctx, rights.ToKeepBooks, func(tx *store.Tx) error {
		var v validation
		if err := b.checkRate(tx, &v, "", rate); err != nil {
			return err
		}
		if err := v.err(); err != nil {
			return err
		}
		if rate.Rate.IsZero() {
			if there, err := tx.DropRate(rate.Currency, rate.Day); err != nil || !there {
				return err
			}
			return b.record(tx, user, "drop rate", fmt.Sprintf("Took away the rate of %s on %s", rate.Currency, rate.Day.Show()), rate)
		}
		if _, same, err := tx.SetRate(rate, ""); err != nil || same {
			return err
		}
		return b.record(tx, user, "set rate", fmt.Sprintf("One %s is worth %s on %s", rate.Currency, rate.Rate, rate.Day.Show()), rate)
	})
}

// checkRate refuses a rate of a currency that is not in use, of a day to come, or
// out of bounds.
func (b *Book) checkRate(tx *store.Tx, v *validation, prefix string, rate posting.Rate) error {
	firm, err := tx.Firm()
	if err != nil {
		return err
	}
	_, there, err := store.IDBy[master.Currency](&tx.Reader, "code", rate.Currency)
	if err != nil {
		return err
	}
	if !there {
		v.refuse(prefix+"currency", "not in use", "The currency %s is not in use. Take it into use first.", rate.Currency)
	}
	if _, err := day.Parse(string(rate.Day)); err != nil {
		v.refuse(prefix+"day", "no such day", "%s.", posting.Sentence(err.Error()))
	} else if rate.Day > b.Today() {
		v.refuse(prefix+"day", "in the future", "%s is in the future: a rate is known from its day on. Today is %s.", rate.Day.Show(), b.Today().Show())
	}
	if !rate.Rate.IsZero() && !posting.RateFits(rate.Rate) {
		v.refuse(prefix+"rate", "out of bounds", "A rate is above nil, below %d, and has at most %d places: what one %s is worth in %s.", posting.RateLimit, posting.RatePlaces, rate.Currency, firm.Currency)
	}
	return nil
}

// ReadRates is what of a file of rates is taken, or would be.
type ReadRates struct {
	New, Changed, Same int
	LeftOut            int // of currencies that are not in use
	From, Through      day.Day
	Newest             []posting.Rate // of each currency that is taken
}

// ImportRates takes the rates of a file of currencies that are in use: all or
// nothing. With preview nothing is written.
func (b *Book) ImportRates(ctx context.Context, user int64, name string, file []byte, preview bool) (out ReadRates, err error) {
	err = b.change(ctx, rights.ToKeepBooks, func(tx *store.Tx) error {
		firm, err := tx.Firm()
		if err != nil {
			return err
		}
		var v validation
		rates, err := ratefile.Read(file, firm.Currency)
		if err != nil {
			v.refuse("file", "cannot be read", "%s.", posting.Sentence(err.Error()))
			return v.err()
		}
		out, err = b.takeRates(tx, name, rates)
		if err != nil {
			return err
		}
		if preview {
			return errPreviewed
		}
		if out.New+out.Changed == 0 {
			return nil
		}
		return b.record(tx, user, "import rates", fmt.Sprintf("Read %d rates from %s", out.New+out.Changed, name), map[string]any{"file": name, "new": out.New, "changed": out.Changed})
	})
	if preview && err == errPreviewed {
		err = nil
	}
	return out, err
}

// errPreviewed rolls back what was only to be looked at.
var errPreviewed = fmt.Errorf("this was a preview")

func (b *Book) takeRates(tx *store.Tx, name string, rates []posting.Rate) (out ReadRates, err error) {
	used, err := store.All[master.Currency](&tx.Reader, "code")
	if err != nil {
		return out, err
	}
	in := map[string]bool{}
	for _, c := range used {
		in[c.Code] = !c.Inactive
	}
	newest := map[string]posting.Rate{}
	for _, r := range rates {
		if !in[r.Currency] {
			out.LeftOut++
			continue
		}
		if r.Day > b.Today() {
			var v validation
			v.refuse("file", "in the future", "The rate of %s on %s is in the future. Nothing was taken.", r.Currency, r.Day.Show())
			return out, v.err()
		}
		was, same, err := tx.SetRate(r, name)
		if err != nil {
			return out, err
		}
		switch {
		case same:
			out.Same++
		case was:
			out.Changed++
		default:
			out.New++
		}
		if out.From == "" || r.Day < out.From {
			out.From = r.Day
		}
		out.Through = max(out.Through, r.Day)
		if r.Day >= newest[r.Currency].Day {
			newest[r.Currency] = r
		}
	}
	for _, c := range used {
		if r, ok := newest[c.Code]; ok {
			out.Newest = append(out.Newest, r)
		}
	}
	return out, nil
}

// Worth is what one unit of a currency is worth by the rate of a day, and how old
// that is, in days; false where there is none.
func (b *Book) Worth(ctx context.Context, code string, d day.Day) (rate store.RateRow, age int, found bool, err error) {
	rate, found, err = b.Read(ctx).RateOn(code, d)
	if found {
		age = d.Since(rate.Day)
	}
	return rate, age, found, err
}
