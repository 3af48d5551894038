package web

import (
	"fmt"

	"cleantally/core/billing"
	"cleantally/core/posting"
)

// ClaimBody bills a job by progress, as the API takes it.
type ClaimBody struct {
	Number     string          `json:"number,omitempty" doc:"Empty to be given the next"`
	Customer   int64           `json:"customer,omitempty" doc:"That of the job; for the interface alone"`
	Job        int64           `json:"job,omitempty"`
	Day        string          `json:"day,omitempty"`
	Rate       string          `json:"rate,omitempty" maxLength:"40" doc:"Of a contract in another currency than the firm's; empty: as on the day"`
	Terms      int64           `json:"terms,omitempty" doc:"0: the customer's, else the firm's"`
	Due        string          `json:"due,omitempty" doc:"A due day that is named; empty to count it by the terms"`
	Reference  string          `json:"reference,omitempty" maxLength:"200"`
	Note       string          `json:"note,omitempty" maxLength:"4000"`
	Lines      []ClaimLineBody `json:"lines,omitempty" maxItems:"500" doc:"What is done to date of lines of the job's orders, in place of one share"`
	Percent    string          `json:"percent,omitempty" doc:"The share of the contract that is done to date"`
	ToDate     string          `json:"toDate,omitempty" doc:"Or what is done to date, net"`
	Certified  string          `json:"certified,omitempty" doc:"What the customer certified of this claim, net; empty for all"`
	Recover    bool            `json:"recover,omitempty" doc:"What was billed in advance is deducted share by share"`
	Credit     bool            `json:"credit,omitempty" doc:"A claim below what was claimed before credits the latest claims"`
	Deductions []DeductionBody `json:"deductions,omitempty" maxItems:"50"`
	Retention  *RetentionBody  `json:"retention,omitempty"`
}

// ClaimLineBody is what is done to date of a line of an order: a share, or a
// quantity.
type ClaimLineBody struct {
	Order    int64  `json:"order"`
	Line     int    `json:"line" doc:"Counted from 1"`
	Percent  string `json:"percent,omitempty"`
	Quantity string `json:"quantity,omitempty"`
}

func (b ClaimBody) command(p *parser) posting.Command {
	defer p.in(p.ofContract(b.Job))()
	c := billing.Claim{Number: b.Number, JobID: b.Job, Day: p.day("day", b.Day), Rate: p.rate("rate", b.Rate), TermsID: b.Terms, Due: p.day("due", b.Due), Reference: b.Reference, Note: b.Note,
		Percent: p.decimal("percent", b.Percent, percentPlaces), ToDate: p.amount("toDate", b.ToDate), Certified: p.amount("certified", b.Certified), Recover: b.Recover, Credit: b.Credit}
	for n, l := range b.Lines {
		field := fmt.Sprintf("lines[%d].", n)
		c.Lines = append(c.Lines, billing.ClaimLine{OrderID: l.Order, Position: l.Line, Percent: p.decimal(field+"percent", l.Percent, percentPlaces), Quantity: p.decimal(field+"quantity", l.Quantity, pricePlaces)})
	}
	for i, d := range b.Deductions {
		c.Deductions = append(c.Deductions, billing.Deduction{PaperID: d.Paper, Amount: p.amount(fmt.Sprintf("deductions[%d].amount", i), d.Amount), Most: d.Amount == ""})
	}
	if b.Retention != nil {
		c.Retention = &billing.Retention{Amount: p.amount("retention.amount", b.Retention.Amount), Reason: b.Retention.Reason}
	}
	return c
}

// ofContract is the currency of a job's contract, where it is another than the
// firm's; what is agreed in several is refused by the claim itself.
func (p *parser) ofContract(jobID int64) string {
	if p.facts == nil {
		return ""
	}
	job, ok := p.facts.Job(jobID)
	if !ok {
		return ""
	}
	code, _ := billing.ContractCurrency(p.facts, job)
	return code
}

func (c copier) claim(v billing.Claim, p posting.Paper) ClaimBody {
	b := ClaimBody{Customer: p.PartyID, Job: v.JobID, Day: c.day(string(v.Day)), Terms: v.TermsID, Reference: v.Reference, Note: v.Note, Percent: c.number(v.Percent), ToDate: c.amount(v.ToDate), Recover: v.Recover, Credit: v.Credit}
	for _, l := range v.Lines {
		b.Lines = append(b.Lines, ClaimLineBody{l.OrderID, l.Position, c.number(l.Percent), c.number(l.Quantity)})
	}
	if c.again {
		b.Rate = c.number(v.Rate)
		b.Due, b.Certified = string(v.Due), c.amount(v.Certified)
		for _, d := range v.Deductions {
			b.Deductions = append(b.Deductions, DeductionBody{d.PaperID, c.amount(d.Amount)})
		}
		if v.Retention != nil {
			b.Retention = &RetentionBody{c.cur.Format(v.Retention.Amount), v.Retention.Reason}
		}
	}
	return b
}
