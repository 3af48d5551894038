package store

import (
	"encoding/json"
	"errors"

	"cleantally/core/day"
	"cleantally/core/master"
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// Firm is the business whose books these are.
type Firm struct {
	ID            int64
	Version       int64
	Name          string
	Address       string
	Email         string
	Phone         string
	TaxNumber     string
	Country       string // two letters (ISO 3166-1), for electronic invoices
	Currency      string // ISO 4217
	DateStyle     day.Style
	NumberStyle   money.Marks
	TermsID       int64  // the firm's own terms
	TaxCodeID     int64  // the code of a new line
	TaxDue        string // when output tax falls due; see posting.TaxDue
	LockedThrough day.Day
	ChartVersion  int64 // see chart

	DifferenceLimit money.Amount
	WriteOffLimit   money.Amount
	Relief          bool

	LatePercent  decimal.Decimal // interest on what is overdue, a year
	LateGrace    int             // days
	LateFee      money.Amount
	InvoiceNote  string          // that a new invoice begins with
	UnusedFields string          // of an invoice, as a JSON list
	Markup       decimal.Decimal // on costs that are passed on, percent
	ShowMarkup   bool

	BillerPosts   bool // a biller posts invoices and credit notes
	BillerChooses bool // a biller chooses another account or number
}

// AllowanceRate is what of a bucket of the ageing is doubtful, in percent.
type AllowanceRate struct {
	Bucket  int
	Percent decimal.Decimal
}

// limits returns what the firm has settled about small and lost money.
func (r Reader) limits(firm Firm) (master.Limits, error) {
	l := master.Limits{Difference: firm.DifferenceLimit, WriteOff: firm.WriteOffLimit, Relief: firm.Relief, LatePercent: firm.LatePercent, LateGrace: firm.LateGrace, LateFee: firm.LateFee, Markup: firm.Markup, ShowMarkup: firm.ShowMarkup}
	rates, err := scan[AllowanceRate](r, "SELECT bucket, percent FROM allowance_rates ORDER BY bucket")
	for _, rate := range rates {
		for len(l.Allowance) <= rate.Bucket {
			l.Allowance = append(l.Allowance, decimal.Zero)
		}
		l.Allowance[rate.Bucket] = rate.Percent
	}
	return l, err
}

// SetLimits stores what the firm has settled about small and lost money.
func (tx *Tx) SetLimits(l master.Limits) error {
	if err := tx.db.Exec("UPDATE firm SET version = version + 1, difference_limit = ?, write_off_limit = ?, relief = ?, late_percent = ?, late_grace = ?, late_fee = ?, markup = ?, show_markup = ?", l.Difference, l.WriteOff, l.Relief, l.LatePercent, l.LateGrace, l.LateFee, l.Markup, l.ShowMarkup).Error; err != nil {
		return err
	}
	return tx.SetRates(l.Allowance)
}

// SetRates stores the allowance's percentage of each bucket of the ageing.
func (tx *Tx) SetRates(rates []decimal.Decimal) error {
	for n, r := range rates {
		if err := tx.db.Exec("INSERT INTO allowance_rates (bucket, percent) VALUES (?, ?) ON CONFLICT (bucket) DO UPDATE SET percent = excluded.percent", n, r).Error; err != nil {
			return err
		}
	}
	return nil
}

// Unused are the fields of an invoice that the firm does not use.
func (f Firm) Unused() []string {
	var fields []string
	_ = json.Unmarshal([]byte(f.UnusedFields), &fields) // "" is none
	return fields
}

// UnusedFields is a list of fields as the firm keeps it.
func UnusedFields(fields []string) string {
	text, _ := json.Marshal(fields)
	return string(text)
}

func (Firm) TableName() string { return "firm" }

// ErrNoFirm says that the firm has not been set up yet.
var ErrNoFirm = errors.New("the firm has not been set up yet")

// Firm returns the firm, or ErrNoFirm.
func (r Reader) Firm() (Firm, error) {
	firm, ok, err := one[Firm](r, "SELECT * FROM firm")
	if err == nil && !ok {
		err = ErrNoFirm
	}
	return firm, err
}

// Currency returns the firm's currency, or ErrNoFirm.
func (r Reader) Currency() (money.Currency, error) {
	c, err := r.loadChart()
	if err != nil {
		return money.Currency{}, err
	}
	return c.currency, nil
}
