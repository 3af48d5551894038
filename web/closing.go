package web

import (
	"context"
	"fmt"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/settling"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// ClosingStep is one thing to look at before a period is closed.
type ClosingStep struct {
	ID    string `json:"id" enum:"drafts,bank line,not identified,on account,deposit,cost,retention,recurring,accruals,revaluation,allowance,reconciled,tie-out,tax,year"`
	State string `json:"state" enum:"done,open,stops,waits" doc:"Whether there is nothing to do, something to look at, something that keeps the period open, or it is told with the rest"`
	Count int64  `json:"count"`
	Sum   string `json:"sum"`
	Says  string `json:"says"`
}

// Closing is what stands before the closing of a period.
type Closing struct {
	Through string        `json:"through" doc:"The last day of it"`
	Locked  string        `json:"locked" doc:"Through which the books are locked; empty for not"`
	Steps   []ClosingStep `json:"steps"`
	TieOut  TieOut        `json:"tieOut" doc:"At the end of its last day"`
	Locks   []Act         `json:"locks" doc:"When it was locked and unlocked, the newest first"`
	Years   []string      `json:"years" doc:"The last days of the years that are closed"`
}

// The parts of a closing: what is looked at quickly, with the other steps in their
// places, and those.
const (
	closingFirst = "first"
	closingRest  = "rest"
)

// closingOf looks at a period, or at a part of it.
func (s *Server) closingOf(ctx context.Context, text, part string) (*Closing, error) {
	today := s.book.Today()
	through, err := s.dayOr(text, day.Day(today[:7]+"-01").Add(-1))
	if err != nil {
		return nil, err
	}
	out := &Closing{Through: string(through), Steps: []ClosingStep{}, TieOut: TieOut{Ties: []Tie{}}, Locks: []Act{}, Years: []string{}}
	return out, s.book.Snapshot(ctx, func(r *store.Reader) error {
		firm, err := r.Firm()
		if err != nil {
			return err
		}
		cur, err := r.Currency()
		if err != nil {
			return err
		}
		out.Locked = string(firm.LockedThrough)
		c := closer{r: r, through: through, cur: cur, part: part}
		if err := c.all(firm); err != nil {
			return err
		}
		out.Steps = c.steps
		if part == closingRest {
			return nil
		}
		out.TieOut = c.tieOut
		acts, err := r.Locks(12)
		for _, a := range acts {
			out.Locks = append(out.Locks, Act{a.ID, a.At, a.User, a.Summary})
		}
		for _, y := range c.years {
			out.Years = append(out.Years, string(y))
		}
		return err
	})
}

// closer goes through what is looked at before a period is closed.
type closer struct {
	r       *store.Reader
	through day.Day
	cur     money.Currency
	part    string // "" for all
	steps   []ClosingStep
	tieOut  TieOut // every day before is proved when it is locked
	years   []day.Day
}

// step adds a step that is done when there is nothing of it.
func (c *closer) step(id string, n int64, sum money.Amount, left, done string) {
	s := ClosingStep{ID: id, State: "done", Count: n, Says: done}
	if n > 0 {
		s.State, s.Says = "open", left
	}
	if sum != 0 {
		s.Sum = c.cur.Format(sum)
	}
	c.steps = append(c.steps, s)
}

// waits adds a step that is told with the rest.
func (c *closer) waits(id string) {
	c.steps = append(c.steps, ClosingStep{ID: id, State: "waits", Says: "is being looked at"})
}

func (c *closer) all(firm store.Firm) error {
	looks := []func(store.Firm) error{c.drafts, c.looseEnds, c.recurring, c.accruals, c.revaluation, c.allowance, c.reconciled, c.tiesOut, c.periods}
	if c.part == closingRest {
		looks = []func(store.Firm) error{c.looseEnds, c.allowance}
	}
	for _, look := range looks {
		if err := look(firm); err != nil {
			return err
		}
	}
	return nil
}

func (c *closer) drafts(store.Firm) error {
	all, err := c.r.Drafts()
	var n int64
	for _, d := range all {
		if d.Day == "" || d.Day <= c.through {
			n++
		}
	}
	c.step("drafts", n, 0, "begun and not posted", "No draft is dated in it.")
	return err
}

// looseEnds are what the Desk would say at the end of the period.
func (c *closer) looseEnds(firm store.Firm) error {
	steps := []struct{ id, left, done string }{
		{"bank line", "lines of the bank that nothing explains", "Every line of the bank is explained."},
		{"not identified", "receipts whose owner is not known", "All money has an owner."},
		{"on account", "credits that stand against nothing", "No credit is left loose."},
		{"deposit", "deposits whose invoice is there", "Every deposit that could be is set against its invoice."},
		{"cost", "costs that wait to be passed on", "No cost waits to be passed on."},
		{"retention", "kept back, and due", "No retention is due."},
	}
	if c.part == closingFirst {
		for _, x := range steps {
			c.waits(x.id)
		}
		return nil
	}
	items, err := c.r.Standing(c.through)
	if err != nil {
		return err
	}
	groups, err := c.r.LooseEnds(items, c.through, firm.DifferenceLimit, 1)
	if err != nil {
		return err
	}
	for _, x := range steps {
		var g store.LooseEnds
		for _, found := range groups {
			if found.Group == x.id || found.Group == "overpaid" && x.id == "on account" {
				g.Count, g.Sum = g.Count+found.Count, g.Sum+found.Sum
			}
		}
		c.step(x.id, g.Count, g.Sum, x.left, x.done)
	}
	return nil
}

func (c *closer) recurring(store.Firm) error {
	all, err := c.r.Schedules()
	var n int64
	for _, s := range all {
		if next := s.Next(); !s.Paused && next != "" && next <= c.through {
			n++
		}
	}
	c.step("recurring", n, 0, "invoices that recur and were not made", "Every invoice that recurs was made.")
	return err
}

// accruals are stale where the figures of their jobs changed since.
func (c *closer) accruals(store.Firm) error {
	left, done := "jobs whose figures changed since their work was accrued", "The work that is accrued is as it stands."
	accrued, err := c.r.AccruedOn(c.through)
	if err != nil || len(accrued) == 0 { // what the jobs come to need not be looked at
		c.step("accruals", 0, 0, left, "No work is accrued.")
		return err
	}
	a, err := accruals(c.r, c.through)
	if err != nil {
		return err
	}
	c.step("accruals", int64(a.Stale), 0, left, done)
	return nil
}

// revaluation is wanted where something open in another currency is worth
// something else at the end of the period, and was not revalued.
func (c *closer) revaluation(store.Firm) error {
	facts, err := c.r.Facts(c.through)
	if err != nil {
		return err
	}
	if !facts.Abroad() {
		c.step("revaluation", 0, 0, "", "Nothing is in another currency.")
		return nil
	}
	v, err := revaluation(c.r, c.through)
	if err != nil {
		return err
	}
	var n int64
	var sum money.Amount
	for _, r := range v.Rows {
		if d, err := c.cur.Parse(r.Difference); v.PaperID == 0 && (r.Rate == "" || err == nil && d != 0) {
			n, sum = n+1, sum+d
		}
	}
	c.step("revaluation", n, sum, "open in other currencies, and worth something else by now", "What is open in other currencies stands at the rates of that day.")
	return nil
}

func (c *closer) allowance(store.Firm) error {
	if c.part == closingFirst {
		c.waits("allowance")
		return nil
	}
	facts, err := c.r.Facts(c.through)
	if err != nil {
		return err
	}
	_, wanted, stands := settling.WantedAllowance(facts, c.through)
	n := int64(0)
	if wanted != stands {
		n = 1
	}
	c.step("allowance", n, wanted-stands, "to bring the allowance to what is wanted", "The allowance is what is wanted.")
	return facts.Err()
}

// reconciled are the bank accounts that have lines of statements and are not
// reconciled through the end of the period.
func (c *closer) reconciled(store.Firm) error {
	waiting, err := c.r.NotReconciled(c.through)
	var names string
	for n, b := range waiting {
		if n > 0 {
			names += ", "
		}
		names += b
	}
	c.step("reconciled", int64(len(waiting)), 0, "not reconciled: "+names, "Every bank account with statements is reconciled through its end.")
	return err
}

func (c *closer) tiesOut(store.Firm) error {
	t, err := c.r.TieOutWithBanks(c.through)
	s := ClosingStep{ID: "tie-out", State: "done", Says: "Every control account equals its register."}
	if !t.OK() {
		s.State, s.Count, s.Says = "stops", 1, "Something does not tie out: the period stays open."
	}
	c.steps, c.tieOut = append(c.steps, s), tieOutBody(t, c.cur)
	return err
}

// periods are the tax and the year.
func (c *closer) periods(store.Firm) error {
	facts, err := c.r.Facts(c.through)
	if err != nil {
		return err
	}
	tax := facts.TaxSettled()
	n := int64(0)
	says := "The tax is not settled yet."
	if tax < c.through {
		n = 1
		if tax != "" {
			says = fmt.Sprintf("The tax is settled through %s.", tax.Show())
		}
	}
	c.step("tax", n, 0, says, "The tax is settled through its end.")
	c.years = facts.YearsClosed()
	if c.through[5:] == "12-31" {
		n = 1
		for _, y := range c.years {
			if y >= c.through {
				n = 0
			}
		}
		c.step("year", n, 0, "The year is not ended yet.", "The year is ended.")
	}
	return facts.Err()
}

func (s *Server) registerClosingList() {
	type input struct {
		Through string `query:"through" doc:"Left out, the end of the month before today"`
		Part    string `query:"part" enum:"first,rest" doc:"What is looked at quickly, with the other steps in their places; or those steps alone. Left out, all"`
	}
	huma.Register(s.api, describe("closing", "GET", "/api/v1/closing", "What stands before the closing of a period"), func(ctx context.Context, in *input) (*struct{ Body Closing }, error) {
		c, err := s.closingOf(ctx, in.Through, in.Part)
		if err != nil {
			return nil, problem(err)
		}
		return &struct{ Body Closing }{*c}, nil
	})
}
