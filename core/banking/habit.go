package banking

import (
	"cmp"
	"fmt"
	"strings"

	"cleantally/core/posting"
)

// Habit is what lines of a kind become: by a rule of the firm's own, or by what
// the same other side was last time. It fills a paper in; a person takes it.
type Habit struct {
	RuleID    int64 // 0 for what the other side was last time
	Name      string
	Text      string // words that the line's text or reference must hold; "" for any
	Other     string // words that the other side's name must hold; "" for any
	Came      bool   // of money that came
	Went      bool   // of money that went
	Make      posting.Kind
	AccountID int64  // of a charge or interest: the ledger account
	ToBank    int64  // of a transfer: the firm's other bank account
	PartyID   int64  // of a standing payment
	Party     string // its name
	Number    string // of the paper that it was last time
}

// isHabit is what a rule of the firm's own is worth: more than an amount, less
// than what is posted already.
const (
	isHabit = 7
	isLast  = 3
	isOwn   = 7
)

// fits tells whether a line is one of those that a rule of the firm's is about.
func (h Habit) fits(r *reading) bool {
	if r.l.Amount > 0 && !h.Came || r.l.Amount < 0 && !h.Went {
		return false
	}
	text, other := plain(h.Text), plain(h.Other)
	return (text != "" || other != "") && (text == "" || strings.Contains(r.said, text)) && (other == "" || strings.Contains(r.name, other))
}

// habits proposes by rules of the firm's own, and by what the same other side was
// last time.
func (r *reading) habits() []Proposed {
	var out []Proposed
	for _, h := range r.clues.habits {
		if !h.fits(r) {
			continue
		}
		p := r.habit(h)
		p.speaks(isHabit, "by your rule “"+h.Name+"”")
		out = append(out, p)
	}
	h, known := r.clues.last[r.l.LastKey()]
	if !known || r.l.OtherSide() == "" || h.PartyID != 0 && h.Make != posting.Expense {
		return out // whose it is, is told where somebody is
	}
	for _, by := range out {
		if by.Make == h.Make && by.Habit.AccountID == h.AccountID {
			return out
		}
	}
	p := r.habit(h)
	p.speaks(isLast, fmt.Sprintf("last time the same was %s", h.Number))
	return append(out, p)
}

func (r *reading) habit(h Habit) Proposed {
	return Proposed{Known: Known{PartyID: h.PartyID, Party: cmp.Or(h.Party, r.clues.parties[h.PartyID]), Amount: r.l.Amount, Make: h.Make}, Habit: h}
}

// between proposes a transfer between the firm's own accounts, where the other
// side is one of them.
func (r *reading) between() (Proposed, bool) {
	own, known := r.clues.own[r.account]
	if !known || r.account == "" {
		return Proposed{}, false
	}
	p := Proposed{Known: Known{Amount: r.l.Amount, Make: posting.OwnTransfer}, Habit: Habit{Make: posting.OwnTransfer, ToBank: own.BankAccountID}}
	p.speaks(isOwn, "the other side is your own "+own.Name)
	return p, true
}
