package store

import (
	"cmp"
	"fmt"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"

	"github.com/shopspring/decimal"
)

// A row is what a query found of one row, column by column: what is NULL is nil,
// or empty. What is of another type than it is asked for is an error.
type row struct {
	values []any
	err    error
}

func (r *row) wrong(n int, want string) {
	if !r.null(n) && r.err == nil {
		r.err = fmt.Errorf("column %d is %T, not %s", n+1, r.values[n], want)
	}
}

func (r *row) null(n int) bool { return r.values[n] == nil }

func (r *row) int(n int) int64 {
	i, ok := r.values[n].(int64)
	if !ok {
		r.wrong(n, "a whole number")
	}
	return i
}

func (r *row) text(n int) string {
	s, ok := r.values[n].(string)
	if !ok {
		r.wrong(n, "text")
	}
	return s
}

// dayWidth is how many letters a day has.
const dayWidth = len("2006-01-02")

func (r *row) amount(n int) money.Amount { return money.Amount(r.int(n)) }
func (r *row) day(n int) day.Day         { return day.Day(r.text(n)) }
func (r *row) is(n int) bool             { return r.int(n) != 0 }

// percent is a decimal; NULL where there is none.
func (r *row) percent(n int) decimal.NullDecimal {
	if r.null(n) {
		return decimal.NullDecimal{}
	}
	d, err := decimal.NewFromString(r.text(n))
	r.err = cmp.Or(r.err, err)
	return decimal.NewNullDecimal(d)
}

// own is an amount in a currency that is not the firm's; nil where it is.
func (r *row) own(n int) *money.Amount {
	if r.null(n) {
		return nil
	}
	own := r.amount(n)
	return &own
}

// worth is an amount in the firm's currency, beside it in its own.
func (r *row) worth(base, own int) posting.Worth { return worth(r.amount(base), r.own(own)) }

// rows reads row by row, without what makes a struct of any columns: for what
// is read by thousands.
func (r Reader) rows(query string, read func(*row), args ...any) error {
	found, err := r.db.Raw(query, args...).Rows()
	if err != nil {
		return err
	}
	defer found.Close()
	columns, err := found.Columns()
	if err != nil {
		return err
	}
	one := row{values: make([]any, len(columns))}
	to := make([]any, len(columns))
	for n := range to {
		to[n] = &one.values[n]
	}
	for found.Next() {
		if err := found.Scan(to...); err != nil {
			return err
		}
		if read(&one); one.err != nil {
			return one.err
		}
	}
	return found.Err()
}

func (f *Facts) rows(query string, read func(*row), args ...any) {
	if f.err == nil {
		f.err = f.r.rows(query, read, args...)
	}
}
