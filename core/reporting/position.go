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

// JobPosition is where a job stands, in minor units. What was billed is told
// net and gross; its parts, gross, are of what was billed alone: a fee that is
// passed on, or money that waits, is none of them.
type JobPosition struct {
	ContractSum money.Amount // net
	BilledNet   money.Amount
	BilledGross money.Amount
	Open        money.Amount // of what was billed, gross
	KeptBack    money.Amount // of what was billed, gross
	Lost        money.Amount // of what was billed, written off, gross
	Unplaced    money.Amount // credits of the job not placed
	Held        money.Amount // deposits of the job
	Advance     money.Amount // billed in advance and not deducted, net
}

// Settled is what of the billed amount has been settled, gross: neither open,
// nor kept back, nor lost.
func (p JobPosition) Settled() money.Amount {
	return max(p.BilledGross-p.Open-p.KeptBack-p.Lost, 0)
}

// LeftToBill = contract sum − work billed, net; never below nil.
func (p JobPosition) LeftToBill() money.Amount { return max(p.ContractSum-p.BilledNet, 0) }

// Part is a piece of a job's strip.
type Part struct {
	Name   string
	Amount money.Amount // net
}

// Strip cuts the contract sum (or what was billed, when that is more) into
// parts that add up to it. They are net: the parts of what was billed share its
// work by portions (docs/rules.md, part 9).
func (p JobPosition) Strip() []Part {
	net, gross := p.BilledNet, p.BilledGross
	take := func(part money.Amount) money.Amount {
		share := money.Portion(part, net, gross)
		net, gross = net-share, gross-part
		return share
	}
	lost, kept, open := take(p.Lost), take(p.KeptBack), take(p.Open)
	ahead := min(max(p.Advance, 0), p.LeftToBill())
	covered := min(max(p.Held, 0), p.LeftToBill()-ahead)
	return []Part{
		{"settled", net},
		{"open", open},
		{"kept back", kept},
		{"covered by deposits", covered},
		{"billed in advance", ahead},
		{"left to bill", p.LeftToBill() - covered - ahead},
		{"written off", lost},
	}
}

// SupplierPosition is where we stand with a supplier, in minor units, all above
// nil as a rule.
type SupplierPosition struct {
	OweNow    money.Amount // open and due
	NotYetDue money.Amount
	KeepBack  money.Amount // retention payable
	Prepaid   money.Amount
	Unplaced  money.Amount // payments and credits that are set against nothing
	NotBilled money.Amount // goods that came and are not billed
}

// Net = what we owe, with what we keep back, less what is prepaid or waits.
func (p SupplierPosition) Net() money.Amount {
	return p.OweNow + p.NotYetDue + p.KeepBack - p.Prepaid - p.Unplaced
}
