package reporting

import "cleantally/core/money"

// Position is where a customer stands, in minor units, all above nil as a rule.
type Position struct {
	OwesNow   money.Amount // open and due
	NotYetDue money.Amount
	KeepsBack money.Amount // retention
	Held      money.Amount // deposits
	Unplaced  money.Amount // credits not placed
	Disputed  money.Amount // of what is owed
	WeOwe     money.Amount // payables, where the party is a supplier too
}

// Receivables is what the ledger account says of the customer.
func (p Position) Receivables() money.Amount { return p.OwesNow + p.NotYetDue - p.Unplaced }

// Net = receivables + retention − deposits.
func (p Position) Net() money.Amount { return p.Receivables() + p.KeepsBack - p.Held }

// JobPosition is where a job stands, in minor units.
type JobPosition struct {
	ContractSum money.Amount // net
	BilledNet   money.Amount
	BilledGross money.Amount
	Open        money.Amount // of what was billed, gross
	Unplaced    money.Amount // credits of the job not placed
	Held        money.Amount // deposits of the job
	Lost        money.Amount // of what was billed, written off, gross
}

// Settled is what of the billed amount has been settled, gross.
func (p JobPosition) Settled() money.Amount { return p.BilledGross - p.Open }

// LeftToBill = contract sum − work billed, net; never below nil.
func (p JobPosition) LeftToBill() money.Amount { return max(p.ContractSum-p.BilledNet, 0) }

// Part is a piece of a job's strip.
type Part struct {
	Name   string
	Amount money.Amount // net
}

// Strip cuts the contract sum (or what was billed, when that is more) into
// parts that add up to it. Settled and open are net here: a part settled takes
// its portion of the net.
func (p JobPosition) Strip() []Part {
	settled := money.Portion(p.Settled(), p.BilledNet, p.BilledGross)
	lost := min(money.Portion(p.Lost, p.BilledNet, p.BilledGross), settled)
	covered := min(p.Held, p.LeftToBill())
	return []Part{
		{"settled", settled - lost},
		{"open", p.BilledNet - settled},
		{"covered by deposits", covered},
		{"left to bill", p.LeftToBill() - covered},
		{"written off", lost},
	}
}
