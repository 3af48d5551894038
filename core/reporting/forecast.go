package reporting

import (
	"cmp"
	"slices"

	"cleantally/core/day"
	"cleantally/core/money"
)

// Coming is money that is to come or to go on a day.
type Coming struct {
	Day      day.Day      // "" when that is not known
	Amount   money.Amount // below nil for what goes; in what the forecast is told in
	Currency string       // its own, ISO 4217; "" for the firm's
	Own      money.Amount // in that
	Why      string       // an invoice, retention, a billing plan, what recurs, a request, a bill, retention of ours, card takings
	Number   string
	Party    string
	PaperID  int64 // 0 for what is not written yet
	JobID    int64 // of a billing plan
	Disputed bool
}

// ForecastWeek is a week with what comes and goes in it, and what there is at its
// end.
type ForecastWeek struct {
	From, To day.Day
	In, Out  money.Amount // Out is below nil
	Balance  money.Amount
	Rows     []Coming
}

// Forecast is how the money is expected to go on, from what there is at the end of
// a day. Nobody knows when what is overdue or disputed comes, so that it is told
// apart; what we owe already goes in the first week.
type Forecast struct {
	Begins   money.Amount
	Weeks    []ForecastWeek
	Overdue  money.Amount
	Disputed money.Amount
	NoDay    money.Amount // without a day, what comes less what goes
	Later    money.Amount // after the weeks, the same
}

// Foresee puts what comes and goes into so many weeks from a day on.
func Foresee(at day.Day, begins money.Amount, weeks int, all []Coming) Forecast {
	f := Forecast{Begins: begins}
	for n := range weeks {
		f.Weeks = append(f.Weeks, ForecastWeek{From: at.Add(7 * n), To: at.Add(7*n + 6)})
	}
	ends := at.Add(7 * weeks)
	for _, c := range all {
		switch {
		case c.Disputed:
			f.Disputed += c.Amount
		case c.Day == "":
			f.NoDay += c.Amount
		case c.Day < at && c.Amount > 0:
			f.Overdue += c.Amount
		case c.Day < at:
			f.Weeks[0].take(c)
		case c.Day >= ends:
			f.Later += c.Amount
		default:
			f.Weeks[c.Day.Since(at)/7].take(c)
		}
	}
	balance := begins
	for n := range f.Weeks {
		w := &f.Weeks[n]
		slices.SortStableFunc(w.Rows, func(x, y Coming) int { return cmp.Compare(x.Day, y.Day) })
		balance += w.In + w.Out
		w.Balance = balance
	}
	return f
}

func (w *ForecastWeek) take(c Coming) {
	if c.Amount < 0 {
		w.Out += c.Amount
	} else {
		w.In += c.Amount
	}
	w.Rows = append(w.Rows, c)
}
