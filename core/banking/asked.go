package banking

import (
	"slices"
	"strings"

	"cleantally/core/ledger"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Asked is what some lines ask for. Of very many open items it lets through those
// that something of a line points to: its amount, a word, whose it is, or that
// only together they come to the amount. What it leaves out is proposed for none
// of the lines.
type Asked struct {
	amounts map[money.Amount]bool
	words   map[string]bool
	parties map[int64]bool
	groups  map[groupOf]*wanted
}

// wanted are the open items of one party, and what they come to.
type wanted struct {
	items []int64
	sum   money.Amount
}

// Ask tells what some lines ask for.
func (c *Clues) Ask(lines []Said) *Asked {
	a := &Asked{amounts: map[money.Amount]bool{}, words: map[string]bool{}, parties: map[int64]bool{}, groups: map[groupOf]*wanted{}}
	for _, l := range lines {
		r := c.read(l)
		a.amounts[l.Amount], a.amounts[l.Amount+r.fee] = true, true
		for w := range strings.FieldsSeq(r.said) {
			a.words[w], a.words[strings.TrimLeft(w, "0")] = true, true
		}
		a.parties[r.party], a.parties[c.last[l.LastKey()].PartyID] = true, true
	}
	delete(a.parties, 0)
	delete(a.words, "")
	return a
}

// Open tells whether an open item is asked for by what is said of it.
func (a *Asked) Open(item int64, make posting.Kind, party int64, amount money.Amount, number, reference string) bool {
	of := groupOf{make: make, party: party}
	g := a.groups[of]
	if g == nil {
		g = &wanted{}
		a.groups[of] = g
	}
	g.items, g.sum = append(g.items, item), g.sum+amount
	return a.amounts[amount] || a.parties[party] || a.words[lastWord(number)] || a.words[lastWord(reference)]
}

// Together are the items, of all that Open was told of, that come to an amount
// as all of one party.
func (a *Asked) Together() []int64 {
	var all []int64
	for _, g := range a.groups {
		if len(g.items) > 1 && a.amounts[g.sum] {
			all = append(all, g.items...)
		}
	}
	return all
}

// mostNamed is how many words a number or a reference has that is looked up.
const mostNamed = 3

// Names are what a line may name a paper by: its words, and as many as belong
// together.
func (l Said) Names() []string {
	var all []string
	for _, text := range []string{l.Text, l.Reference} {
		words := strings.Fields(text)
		for from := range words {
			for to := from + 1; to <= min(from+mostNamed, len(words)); to++ {
				name := strings.Trim(strings.Join(words[from:to], " "), ".,:;()")
				all = append(all, name, strings.ToUpper(name))
			}
		}
	}
	slices.Sort(all)
	return slices.Compact(all)
}

// SaysReturned tells whether the bank says that a payment came back.
func (l Said) SaysReturned() bool { return saysReturned(plain(l.Text + " " + l.Reference)) }

// lastWord is that of a text as it is compared; most bear figures alone.
func lastWord(text string) string {
	end := len(text)
	for n := len(text) - 1; n >= 0; n-- {
		switch c := text[n]; {
		case c >= '0' && c <= '9':
		case c == '-' || c == '/' || c == ' ' || c == '.':
			if n+1 < end {
				return text[n+1 : end]
			}
			end = n
		default:
			words := strings.Fields(plain(text))
			if len(words) == 0 {
				return ""
			}
			return words[len(words)-1]
		}
	}
	return text[:end]
}

// Becomes is the paper that a line becomes that settles what is open in a
// register.
func Becomes(register ledger.Role, open money.Amount) posting.Kind {
	switch {
	case register == ledger.Receivables && open > 0:
		return posting.Receipt
	case register == ledger.Payables && open < 0:
		return posting.PaySupplier
	case open > 0:
		return posting.SupplierRefund
	}
	return posting.Refund
}
