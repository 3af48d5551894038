package closing_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"cleantally/core/closing"
	"cleantally/core/day"
	"cleantally/core/ledger"
	"cleantally/core/money"

	"github.com/shopspring/decimal"
)

// standard is 20 %, reduced 10 %.
func rate(code int64, _ day.Day) decimal.Decimal {
	return decimal.NewFromInt(map[int64]int64{1: 20, 2: 10}[code])
}

// entry makes lines of one paper's entry: each a role, a code and an amount.
func entry(id int64, kind string, lines ...closing.TaxLine) []closing.TaxLine {
	for n := range lines {
		lines[n].EntryID, lines[n].PaperID, lines[n].Kind, lines[n].Day = id, id, kind, "2026-10-05"
	}
	return lines
}

func on(role ledger.Role, code int64, amount money.Amount) closing.TaxLine {
	return closing.TaxLine{Role: role, TaxCodeID: code, Amount: amount}
}

// with adds what the paper's lines of the code come to.
func (x lines) with(code int64, net, tax money.Amount) lines {
	for n := range x {
		if x[n].TaxCodeID == code {
			x[n].LineNet, x[n].LineTax, x[n].Percent = net, tax, decimal.NullDecimal{Decimal: rate(code, ""), Valid: true}
		}
	}
	return x
}

type lines []closing.TaxLine

// Each kind of entry stands in its section with its net and its tax.
func TestReturn(t *testing.T) {
	for name, x := range map[string]struct {
		of   lines
		want string
	}{
		"E-1": {lines(entry(1, "invoice", on("", 1, -9250), on("", 2, -3083), on(ledger.OutputTax, 1, -1850), on(ledger.OutputTax, 2, -308))).with(1, 9250, 1850).with(2, 3083, 308),
			"billed 20: 9250 1850, billed 10: 3083 308"},
		"E-5, billed in advance":      {lines(entry(1, "deposit invoice", on(ledger.OutputTax, 1, -48000))).with(1, 240000, 48000), "billed 20: 240000 48000"},
		"E-5, deducted":               {lines(entry(1, "invoice", on("", 1, -800000), on(ledger.OutputTax, 1, -112000))).with(1, 560000, 112000), "billed 20: 560000 112000"},
		"E-8, kept back, taxed later": {lines(entry(1, "invoice", on("", 1, -1200000), on(ledger.OutputTax, 1, -228000), on(ledger.DeferredTax, 0, -12000))).with(1, 1200000, 240000), "billed 20: 1140000 228000"},
		"E-10, released":              {entry(1, "release", on(ledger.DeferredTax, 0, 6000), on(ledger.OutputTax, 1, -6000)), "released 20: 30000 6000"},
		"a credit note":               {lines(entry(1, "credit note", on("", 1, 10000), on(ledger.OutputTax, 1, 2000))).with(1, -10000, -2000), "billed 20: -10000 -2000"},
		"a reversal":                  {lines(entry(1, "reversal", on("", 1, 10000), on(ledger.OutputTax, 1, 2000))).with(1, 10000, 2000), "billed 20: -10000 -2000"},
		"a deposit taxed on receipt":  {entry(1, "deposit", on(ledger.Deposits, 1, -100000), on(ledger.OutputTax, 1, -20000)), "deposits 20: 100000 20000"},
		"set against its invoice":     {entry(1, "deposit", on(ledger.Deposits, 0, 100000), on(ledger.OutputTax, 1, 20000)), "deposits 20: -100000 -20000"},
		"a discount taken":            {entry(1, "receipt", on("", 1, 2000), on(ledger.OutputTax, 1, 400)), "billed 20: -2000 -400"},
		"relief without lines":        {entry(1, "write-off", on(ledger.OutputTax, 1, 18000)), "billed 20: -90000 -18000"},
		"billed, owed when paid":      {lines(entry(1, "invoice", on("", 1, -9250), on("", 3, -500), on(ledger.TaxWhenPaid, 0, -1850))).with(1, 9250, 1850).with(3, 500, 0), "billed 0: 500 0"},
		"paid, owed when paid":        {entry(1, "receipt", on(ledger.TaxWhenPaid, 0, 1000), on(ledger.OutputTax, 1, -1000)), "paid 20: 5000 1000"},
		"paid, of one paper by portions": {func() lines {
			l := lines(entry(1, "receipt", on(ledger.TaxWhenPaid, 0, 6667), on(ledger.OutputTax, 1, -6667)))
			l[1].FellBefore, l[1].FellNet, l[1].FellOf = 6933, 68000, 13600 // the last of it, after 346.65
			return l
		}(), "paid 20: 33335 6667"},
		"paid by a deposit":            {entry(1, "deposit", on(ledger.Deposits, 0, 6000), on(ledger.TaxWhenPaid, 0, 1000), on(ledger.OutputTax, 1, -1000)), "paid 20: 5000 1000"},
		"refunded of a credit note":    {entry(1, "refund", on(ledger.TaxWhenPaid, 0, -4800), on(ledger.OutputTax, 1, 4800)), "paid 20: -24000 -4800"},
		"bought":                       {lines(entry(1, "supplier bill", on("", 1, 48000), on(ledger.InputTax, 1, 9600))).with(1, 48000, 9600), "bought 20: 48000 9600"},
		"bought into stock":            {lines(entry(1, "supplier bill", on(ledger.InputTax, 1, 9600))).with(1, 48000, 9600), "bought 20: 48000 9600"},
		"bought back":                  {lines(entry(1, "supplier credit", on("", 1, -48000), on(ledger.InputTax, 1, -9600))).with(1, -48000, -9600), "bought 20: -48000 -9600"},
		"we account for it":            {lines(entry(1, "supplier bill", on("", 1, 200000), on(ledger.InputTax, 1, 40000), on(ledger.OutputTax, 1, -40000))).with(1, 200000, 0), "billed 20: 200000 40000, bought 20: 200000 40000"},
		"the customer accounts for it": {lines(entry(1, "invoice", on("", 3, -50000))).with(3, 50000, 0), "billed 0: 50000 0"},
		"taken back at nil":            {lines(entry(1, "reversal", on("", 3, 50000))).with(3, 50000, 0), "billed 0: -50000 0"},
		"by hand, without a code":      {entry(1, "journal", on(ledger.OutputTax, 0, -500)), "billed 0: 0 500"},
		"a deposit without tax":        {entry(1, "deposit", on(ledger.Deposits, 0, -100000)), ""},
	} {
		var got []string
		r := closing.Return(slices.Values(x.of), rate)
		var output, input money.Amount
		for _, row := range r.Rows {
			got = append(got, fmt.Sprintf("%s %s: %d %d", row.Section, row.Percent, row.Net, row.Tax))
			if row.Section == closing.Bought {
				input += row.Tax
			} else {
				output += row.Tax
			}
			if len(row.Papers) != 1 || row.Papers[0].Tax != row.Tax || row.Papers[0].Net != row.Net {
				t.Errorf("%s: behind it stand %v", name, row.Papers)
			}
		}
		if text := strings.Join(got, ", "); text != x.want {
			t.Errorf("%s: %q, want %q", name, text, x.want)
		}
		if output != r.Output || input != r.Input {
			t.Errorf("%s: the rows come to %d and %d, the accounts to %d and %d", name, output, input, r.Output, r.Input)
		}
	}
}

// Rows of several entries add up by section, code and rate, and what an old rate
// was stands apart.
func TestReturnAddsUp(t *testing.T) {
	old := lines(entry(3, "invoice", on("", 1, -10000), on(ledger.OutputTax, 1, -1900))).with(1, 10000, 1900)
	for n := range old {
		old[n].Percent.Decimal = decimal.NewFromInt(19)
	}
	all := append(lines{}, lines(entry(2, "invoice", on("", 1, -10000), on(ledger.OutputTax, 1, -2000))).with(1, 10000, 2000)...)
	all = append(all, lines(entry(1, "invoice", on("", 1, -20000), on(ledger.OutputTax, 1, -4000))).with(1, 20000, 4000)...)
	r := closing.Return(slices.Values(append(all, old...)), rate)
	if len(r.Rows) != 2 || r.Rows[0].Net != 30000 || r.Rows[0].Tax != 6000 || len(r.Rows[0].Papers) != 2 || r.Rows[1].Tax != 1900 || !r.Rows[1].Percent.Equal(decimal.NewFromInt(19)) {
		t.Errorf("the rows: %+v", r.Rows)
	}
	if r.ToPay() != 7900 {
		t.Errorf("to pay: %d", r.ToPay())
	}
	if empty := closing.Return(slices.Values(lines{}), rate); len(empty.Rows) != 0 || empty.ToPay() != 0 {
		t.Errorf("of nothing: %+v", empty)
	}
}

// What work comes to beyond what is billed of it is rounded once, half away from
// nil.
func TestAccrued(t *testing.T) {
	for _, x := range []struct {
		contract, billed money.Amount
		percent          string
		want             money.Amount
	}{{2000000, 500000, "60", 700000}, {2000000, 1500000, "60", -300000}, {100001, 0, "33.3333", 33334}, {5, 0, "50", 3}, {0, 0, "50", 0}, {-5, 0, "50", -3}} {
		if got := closing.Accrued(x.contract, x.billed, decimal.RequireFromString(x.percent)); got != x.want {
			t.Errorf("%s %% of %d, %d billed: %d, want %d", x.percent, x.contract, x.billed, got, x.want)
		}
	}
}
