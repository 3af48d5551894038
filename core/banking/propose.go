package banking

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"unicode"

	"cleantally/core/day"
	"cleantally/core/money"
	"cleantally/core/posting"
)

// Said is what a line of a bank's statement says.
type Said struct {
	Day       day.Day
	Amount    money.Amount // above nil for what came
	Text      string
	Reference string
	Name      string // of the other side
	Account   string
}

// Known is what a line may be: something posted, or something open.
type Known struct {
	Movement  int64 // posted; 0 for an open item
	Item      posting.ItemRef
	PaperID   int64
	Kind      posting.Kind
	Number    string
	Day       day.Day
	PartyID   int64
	Party     string
	Account   string // of the party
	Reference string
	Cheque    string
	Amount    money.Amount // as the bank would say it
}

// Proposed is what a line may be, with what speaks for it and against it. It is
// never taken without a person (docs/rules.md, part 11).
type Proposed struct {
	Known
	For     []string
	Against []string
	weight  int
}

// days after which a movement and a line of the bank are far apart.
const farApart = 10

// Propose ranks what a line may be, the best first. What fits by nothing is left
// out.
func Propose(l Said, all []Known, cur money.Currency) []Proposed {
	var out []Proposed
	for _, k := range all {
		p := Proposed{Known: k}
		p.amounts(l, cur)
		p.names(l)
		p.apart(l)
		if len(p.For) > 0 && (k.Movement == 0 || k.Amount == l.Amount) {
			out = append(out, p)
		}
	}
	slices.SortStableFunc(out, func(x, y Proposed) int {
		return cmp.Or(cmp.Compare(y.weight, x.weight), cmp.Compare(x.Day, y.Day))
	})
	return out
}

func (p *Proposed) speaks(weight int, why string) {
	p.For = append(p.For, why)
	p.weight += weight
}

func (p *Proposed) against(weight int, why string) {
	p.Against = append(p.Against, why)
	p.weight -= weight
}

func (p *Proposed) amounts(l Said, cur money.Currency) {
	off := l.Amount.Abs() - p.Amount.Abs()
	switch {
	case off == 0 && p.Movement != 0:
		p.speaks(6, "posted already, to the cent")
	case off == 0:
		p.speaks(4, "the amount fits")
	case off < 0:
		p.against(1, fmt.Sprintf("%s less than is open", cur.Show(-off)))
	default:
		p.against(1, fmt.Sprintf("%s more than is open", cur.Show(off)))
	}
}

// names looks for what the line says of the paper and of the party.
func (p *Proposed) names(l Said) {
	said := plain(l.Text + " " + l.Reference)
	switch {
	case p.Number != "" && holds(said, plain(p.Number)):
		p.speaks(6, "it names "+p.Number)
	case p.Cheque != "" && holds(unpadded(said), unpadded(plain(p.Cheque))):
		p.speaks(6, "it names cheque "+p.Cheque)
	case len(plain(p.Reference)) >= 3 && holds(said, plain(p.Reference)):
		p.speaks(5, "it names "+p.Reference)
	}
	switch account, name := together(p.Account), plain(l.Name); {
	case account != "" && account == together(l.Account):
		p.speaks(4, "from the account of "+p.Party)
	case name == "" || p.Party == "":
	case alike(name, plain(p.Party)):
		p.speaks(3, "the name is "+p.Party)
	default:
		p.against(3, "the name is another's: "+l.Name)
	}
	if len(p.For) == 0 {
		p.Against = nil // it fits by nothing
	}
}

func (p *Proposed) apart(l Said) {
	if apart := l.Day.Since(p.Day); p.Movement != 0 && (apart > farApart || apart < -farApart) {
		p.against(1, fmt.Sprintf("posted on %s", p.Day.Show()))
	}
}

// plain is a text in small letters and figures alone, its words apart.
func plain(text string) string {
	return strings.Join(strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }), " ")
}

// together is the same without anything between its words: the number of an
// account.
func together(text string) string { return strings.ReplaceAll(plain(text), " ", "") }

// unpadded is a text whose figures have no noughts before them.
func unpadded(text string) string {
	words := strings.Fields(text)
	for n, w := range words {
		words[n] = strings.TrimLeft(w, "0")
	}
	return strings.Join(words, " ")
}

// holds tells whether a text has some words in it, not as a part of longer ones.
func holds(text, words string) bool {
	return words != "" && strings.Contains(" "+text+" ", " "+words+" ")
}

// alike tells whether two names share a word that is not short.
func alike(x, y string) bool {
	for _, w := range strings.Fields(x) {
		if len(w) >= 4 && holds(y, w) {
			return true
		}
	}
	return x == y
}
