package master

import (
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// Limits are what the firm has settled about small and lost money, in minor
// units.
type Limits struct {
	Difference money.Amount // up to which a difference is closed on the spot; nil for never
	WriteOff   money.Amount // past which a write-off needs a second person's word; nil for never
	Relief     bool         // whether tax on bad debts comes back
	Allowance  []decimal.Decimal

	Markup     decimal.Decimal // on costs that are passed on as our own supply, percent
	ShowMarkup bool            // papers show cost and markup apart

	LatePercent decimal.Decimal // interest on what is overdue, percent a year; nil for none
	LateGrace   int             // days after the due day that bear nothing
	LateFee     money.Amount    // nil for none
}
