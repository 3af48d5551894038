package billing

import (
	"cleantally/core/master"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Certificate is what is certified of a progress claim: the contract as it stood
// then, line by line, with what was claimed before, by this claim, and in all; net.
type Certificate struct {
	Lines    []CertificateLine
	Total    CertificateLine
	Tax      money.Amount // of this claim
	Deducted money.Amount // advances that it takes off, with their tax
	Rounding money.Amount
	Retained money.Amount // kept back of it
	Held     money.Amount // kept back of the job, after it
	ToPay    money.Amount
}

// CertificateLine is a line of the contract; the sum that was written down for
// the job has no text.
type CertificateLine struct {
	Text     string
	Order    string // number of its order
	Contract money.Amount
	Before   money.Amount
	This     money.Amount
}

// ToDate is what is claimed of a line in all.
func (l CertificateLine) ToDate() money.Amount { return l.Before + l.This }

func (l CertificateLine) add(o CertificateLine) CertificateLine {
	return CertificateLine{Contract: l.Contract + o.Contract, Before: l.Before + o.Before, This: l.This + o.This}
}

// IsClaim tells whether a paper is a progress claim, which says how it was worked
// out.
func IsClaim(p posting.Paper) bool {
	return p.Kind == posting.Invoice && p.JobID != 0 && p.Reason != "" && p.Form != "late charge"
}

// CertificateOf is the certificate of a posted claim. Before is the work that was
// billed on its job before it, net; held what is kept back of the job after it.
// Papers that were posted after the claim change nothing of it. Of a contract in
// another currency all is in that, and before and held are too.
func CertificateOf(f posting.Facts, p posting.Paper, job master.Job, before, held money.Amount) Certificate {
	c := Certificate{Deducted: p.Deducted, Rounding: p.Rounding, Retained: p.Retained, Held: held, ToPay: p.Total - p.Retained}
	work := p.Net - p.Beside
	c.Tax = p.Total - p.Rounding - work + p.Deducted
	rest := CertificateLine{Contract: job.ContractSum, Before: before, This: work}
	b := build(f)
	for _, o := range b.facts.OrdersOf(job.ID) {
		if o.ID > p.ID {
			continue
		}
		uses := f.Uses(o.ID)
		for _, l := range o.Lines {
			line := certified(o.Number, l, uses, p.ID)
			rest.Before, rest.This = rest.Before-line.Before, rest.This-line.This
			c.Lines = append(c.Lines, line)
		}
	}
	if rest != (CertificateLine{}) {
		c.Lines = append(c.Lines, rest)
	}
	for _, l := range c.Lines {
		c.Total = c.Total.add(l)
	}
	return c
}

// certified is where a line of an order stood with a claim. What was billed
// beyond it, as measured, is agreed as well.
func certified(number string, l posting.PaperLine, uses []posting.Use, claim int64) CertificateLine {
	line := CertificateLine{Text: l.Text, Order: number, Contract: l.Net.Own}
	for _, u := range uses {
		if u.Of.Position != l.Position || u.PaperID > claim {
			continue
		}
		switch {
		case u.As == posting.Cancelled:
			line.Contract -= u.Net()
		case u.As == posting.Billed && u.PaperID == claim:
			line.This += u.Net()
		case u.As == posting.Billed:
			line.Before += u.Net()
		}
	}
	line.Contract = max(line.Contract, line.ToDate())
	return line
}
