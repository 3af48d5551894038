package settling

import (
	"fmt"
	"slices"
	"strings"

	"cleantally/core/money"
)

// Candidate is what is known of a customer whose money it may be.
type Candidate struct {
	PartyID int64
	Name    string
	Number  string       // an invoice that is open; "" for none
	Open    money.Amount // of that invoice
}

// Guess is a customer whose money it may be, with what speaks for it
// (docs/rules.md, part 11: proposals, never taken without a person).
type Guess struct {
	PartyID int64
	Name    string
	Reasons []string
}

// shortestWord is the length from which a word of a name says something.
const shortestWord = 4

// Whose guesses whose money it is, by the bank's text and the amount: an
// invoice that is named, a name in the text, exactly what an invoice has open.
// What more speaks for comes first.
func Whose(text string, amount money.Amount, candidates []Candidate, show func(money.Amount) string) []Guess {
	text = strings.ToLower(text)
	var all []Guess
	for _, c := range candidates {
		i := slices.IndexFunc(all, func(g Guess) bool { return g.PartyID == c.PartyID })
		if i < 0 {
			all = append(all, Guess{PartyID: c.PartyID, Name: c.Name})
			i = len(all) - 1
			if word := wordIn(text, c.Name); word != "" {
				all[i].Reasons = append(all[i].Reasons, fmt.Sprintf("“%s” is in the text", word))
			}
		}
		if c.Number == "" {
			continue
		}
		if strings.Contains(text, strings.ToLower(c.Number)) {
			all[i].Reasons = append(all[i].Reasons, c.Number+" is named")
		}
		if c.Open == amount {
			all[i].Reasons = append(all[i].Reasons, fmt.Sprintf("%s has exactly %s open", c.Number, show(amount)))
		}
	}
	all = slices.DeleteFunc(all, func(g Guess) bool { return len(g.Reasons) == 0 })
	slices.SortStableFunc(all, func(a, b Guess) int { return len(b.Reasons) - len(a.Reasons) })
	return all
}

// wordIn is the longest word of a name that a text holds; "" for none.
func wordIn(text, name string) string {
	found := ""
	for _, word := range strings.Fields(name) {
		word = strings.Trim(word, ".,&'’()-")
		if len(word) >= shortestWord && len(word) > len(found) && strings.Contains(text, strings.ToLower(word)) {
			found = word
		}
	}
	return found
}
