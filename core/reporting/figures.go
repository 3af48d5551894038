package reporting

import (
	"cleantally/core/ledger"
	"cleantally/core/money"
)

// FigureRow is what an account comes to in each column of a statement of the
// firm's figures.
type FigureRow struct {
	Account ledger.Account
	Amounts []money.Amount
}

// FigureGroup is rows that are added up.
type FigureGroup struct {
	Name   string
	Rows   []FigureRow
	Totals []money.Amount
}

// Figures is an income statement or a balance sheet. Result is what is left of
// the one; of the other it is what assets exceed liabilities and equity by,
// which is nil.
type Figures struct {
	Groups []FigureGroup
	Result []money.Amount
}

// Income adds up an income statement: what moved on each account in each column,
// debits less credits. Income is shown above nil, and so is what was spent.
func Income(accounts []ledger.Account, moved []map[int64]money.Amount) Figures {
	income := group("Income", accounts, moved, -1, ledger.Income, ledger.ContraIncome)
	spent := group("Costs and expenses", accounts, moved, 1, ledger.Expense)
	f := Figures{Groups: []FigureGroup{income, spent}, Result: make([]money.Amount, len(moved))}
	for n := range moved {
		f.Result[n] = income.Totals[n] - spent.Totals[n]
	}
	return f
}

// BalanceSheet adds up what stands on each account at the end of each column's
// day, debits less credits. What customers come to whose balance is below nil is
// a liability (docs/rules.md, part 9); the result of what no year end has carried
// on stands with the equity.
func BalanceSheet(accounts []ledger.Account, receivables ledger.Account, stands []map[int64]money.Amount, inCredit []money.Amount) Figures {
	split := make([]map[int64]money.Amount, len(stands))
	result := make([]money.Amount, len(stands))
	credit := FigureRow{Account: ledger.Account{Name: "Customers with a credit balance"}, Amounts: make([]money.Amount, len(stands))}
	for n, s := range stands {
		split[n] = map[int64]money.Amount{}
		for _, a := range accounts {
			if a.Type.Result() {
				result[n] -= s[a.ID]
				continue
			}
			split[n][a.ID] = s[a.ID]
		}
		split[n][receivables.ID] -= inCredit[n]
		credit.Amounts[n] = -inCredit[n]
	}
	assets := group("Assets", accounts, split, 1, ledger.Asset, ledger.ContraAsset)
	owed := group("Liabilities", accounts, split, -1, ledger.Liability)
	owed.add(credit)
	own := group("Equity", accounts, split, -1, ledger.Equity)
	own.add(FigureRow{Account: ledger.Account{Name: "Result not carried on yet"}, Amounts: result})
	f := Figures{Groups: []FigureGroup{assets, owed, own}, Result: make([]money.Amount, len(stands))}
	for n := range stands {
		f.Result[n] = assets.Totals[n] - owed.Totals[n] - own.Totals[n]
	}
	return f
}

// group are the rows of accounts of some types that are not nil throughout.
func group(name string, accounts []ledger.Account, columns []map[int64]money.Amount, sign money.Amount, types ...ledger.Type) FigureGroup {
	g := FigureGroup{Name: name, Totals: make([]money.Amount, len(columns))}
	for _, t := range accounts {
		for _, of := range types {
			if t.Type != of {
				continue
			}
			row := FigureRow{Account: t, Amounts: make([]money.Amount, len(columns))}
			for n, c := range columns {
				row.Amounts[n] = sign * c[t.ID]
			}
			g.add(row)
		}
	}
	return g
}

// add adds a row, unless it is nil throughout.
func (g *FigureGroup) add(r FigureRow) {
	some := false
	for n, a := range r.Amounts {
		some = some || a != 0
		g.Totals[n] += a
	}
	if some {
		g.Rows = append(g.Rows, r)
	}
}
