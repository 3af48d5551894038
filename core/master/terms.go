package master

import (
	"cleantally/core/day"
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// TermsKind is how a due day is counted from the paper's day.
type TermsKind string

// The kinds of terms (docs/rules.md, part 5).
const (
	OnReceipt      TermsKind = "on receipt"
	InDays         TermsKind = "days"
	EndOfMonth     TermsKind = "end of month"
	EndOfMonthPlus TermsKind = "end of month plus days"
	InInstalments  TermsKind = "instalments"
)

// Terms are payment terms. A due day that is named on the paper itself takes
// their place.
type Terms struct {
	ID          int64
	Version     int64
	Name        string
	Kind        TermsKind
	Days        int
	Inactive    bool
	Instalments []Instalment

	DiscountPercent decimal.Decimal // off the whole when it is paid early
	DiscountDays    int             // within so many days of the paper's
}

// Instalment is one part of terms in instalments: its share, and its due day
// in days after the paper's.
type Instalment struct {
	ID      int64
	TermsID int64
	Percent decimal.Decimal
	Days    int
}

// Due is one part of a total with its due day.
type Due struct {
	Day    day.Day
	Amount money.Amount
}

// Split returns the parts of total with their due days: one, or one for each
// instalment (1,000.01 in halves is 500.01 and 500.00).
func (t Terms) Split(paper day.Day, total money.Amount) []Due {
	switch t.Kind {
	case InDays:
		return []Due{{paper.Add(t.Days), total}}
	case EndOfMonth:
		return []Due{{paper.EndOfMonth(), total}}
	case EndOfMonthPlus:
		return []Due{{paper.EndOfMonth().Add(t.Days), total}}
	case InInstalments:
		weights := make([]money.Amount, len(t.Instalments))
		for i, part := range t.Instalments {
			weights[i] = money.Amount(part.Percent.Shift(4).IntPart())
		}
		shares, err := money.Share(total, weights)
		if err != nil {
			break
		}
		var dues []Due
		for i, share := range shares {
			if share != 0 {
				dues = append(dues, Due{paper.Add(t.Instalments[i].Days), share})
			}
		}
		return dues
	}
	return []Due{{paper, total}}
}
