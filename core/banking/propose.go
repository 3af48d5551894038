package banking

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"
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

// OtherSide names the other side of a line, so that what the same one was last
// time is found: by its account, else its name, else by the text without its
// figures and months.
func (l Said) OtherSide() string {
	if account := together(l.Account); account != "" {
		return account
	}
	if name := plain(l.Name); name != "" {
		return name
	}
	words := strings.FieldsFunc(plain(l.Text), func(r rune) bool { return r == ' ' || unicode.IsDigit(r) })
	return strings.Join(slices.DeleteFunc(words, func(w string) bool { return months[w] }), " ")
}

// months are left out of what the same was last time, as figures are.
var months = func() map[string]bool {
	all := map[string]bool{}
	for m := time.January; m <= time.December; m++ {
		name := strings.ToLower(m.String())
		all[name], all[name[:3]] = true, true
	}
	return all
}()

// LastKey is by which what the same other side was last time is kept: what went to
// somebody is told apart from what came.
func (l Said) LastKey() string { return LastKey(l.OtherSide(), l.Amount < 0) }

// LastKey is the same of an other side that is known.
func LastKey(otherSide string, went bool) string {
	if went {
		return "-" + otherSide
	}
	return otherSide
}

// Known is what a line may be: something posted, something open, or what lines
// like it became.
type Known struct {
	Movement  int64 // posted; 0 for what a paper would be made of
	Item      posting.ItemRef
	PaperID   int64
	Kind      posting.Kind
	Number    string
	Day       day.Day
	PartyID   int64
	Party     string
	Reference string
	Cheque    string
	Amount    money.Amount // as the bank would say it

	Make     posting.Kind // what the line becomes: a receipt of an open invoice; "" for what is posted
	Discount money.Amount // that may be taken off it for early payment, above nil
	Until    day.Day      // the last day of that
	Told     int64        // a payout that the card gateway told of
	Takings  bool         // all that waits in card takings
	JobID    int64
}

// Proposed is what a line may be, with what speaks for it and against it. It is
// never taken without a person (docs/rules.md, part 11).
type Proposed struct {
	Known
	With    []Known      // others of the same customer or day that only together with it come to the amount
	Habit   Habit        // what it goes by, where it goes by what lines like it became
	Less    bool         // it comes to less by the discount
	Fee     money.Amount // what the bank, or a gateway, kept of it; above nil
	For     []string
	Against []string
	weight  int
}

// Weight tells how much speaks for it; the best of a line is proposed first.
func (p Proposed) Weight() int { return p.weight }

// What speaks for a proposal, and how much. A number is worth more than an
// amount, for amounts repeat; what is posted already to the cent, more than what
// would be written anew.
const (
	isPosted    = 6
	isNamed     = 6
	isSaid      = 5 // a reference
	isDiscount  = 5
	isAmount    = 4
	isAccount   = 5
	isName      = 4
	isLikeName  = 2
	isUnknown   = -2 // the name
	isAnother   = -5
	isAmong     = -2 // one of several of that amount
	isFarApart  = -1
	isNotAmount = -2
	isPartyOnly = 1
)

// days after which a movement and a line of the bank are far apart.
const farApart = 10

// Propose ranks what a line may be, the best first. What fits by nothing is left
// out.
func (c *Clues) Propose(l Said) []Proposed {
	r := c.read(l)
	var out []Proposed
	for _, n := range c.mayBe(r) {
		if p, fits := r.weigh(&c.all[n]); fits {
			out = append(out, p)
		}
	}
	out = append(out, r.sums()...)
	out = append(out, r.habits()...)
	if p, known := r.between(); known {
		out = append(out, p)
	}
	if p, known := r.someone(); known {
		out = append(out, p)
	}
	slices.SortStableFunc(out, func(x, y Proposed) int {
		return cmp.Or(cmp.Compare(y.weight, x.weight), cmp.Compare(x.Day, y.Day), cmp.Compare(x.Number, y.Number))
	})
	return out
}

func (c *Clues) read(l Said) *reading {
	r := &reading{l: l, said: plain(l.Text + " " + l.Reference), name: plain(l.Name), account: together(l.Account), fee: c.feeIn(l.Text), clues: c}
	r.party = c.partyOf(r.account, r.name)
	return r
}

// reading is a line as it is compared.
type reading struct {
	l                   Said
	said, name, account string
	fee                 money.Amount // that the bank names
	party               int64        // whose the line is by its account or name; 0 for nobody known
	clues               *Clues
}

func (p *Proposed) speaks(weight int, why string) {
	p.weight += weight
	if weight > 0 {
		p.For = append(p.For, why)
	} else {
		p.Against = append(p.Against, why)
	}
}

// weigh says what speaks for and against a known; false when it fits by nothing,
// or is another amount that was posted.
func (r *reading) weigh(k *entry) (Proposed, bool) {
	p := Proposed{Known: k.Known}
	if (k.Amount < 0) != (r.l.Amount < 0) || k.Make != "" && k.Day > r.l.Day {
		return p, false
	}
	r.amounts(&p)
	r.names(&p, k)
	if len(p.For) == 0 || k.Movement != 0 && k.Amount != r.l.Amount {
		return p, false
	}
	r.whose(&p, k)
	r.apart(&p)
	if own, known := r.clues.own[r.account]; known && r.account != "" && p.Kind == posting.OwnTransfer {
		p.speaks(isOwn, "the other side is your own "+own.Name)
	}
	return p, true
}

func (r *reading) apart(p *Proposed) {
	if apart := r.l.Day.Since(p.Day); p.Movement != 0 && (apart > farApart || apart < -farApart) {
		p.speaks(isFarApart, fmt.Sprintf("posted on %s", p.Day.Show()))
	}
}

func (r *reading) amounts(p *Proposed) {
	said, is, cur := r.l.Amount.Abs(), p.Amount.Abs(), r.clues.cur
	switch {
	case p.Takings:
		if said > is || said < is-is/10 {
			return // another payout, or a part of what waits
		}
		p.Fee = is - said
		p.speaks(isLikeName, fmt.Sprintf("%s waits in card takings: the fee would be %s", cur.Show(is), cur.Show(is-said)))
	case said == is && p.Movement != 0:
		p.speaks(isPosted, "posted already, to the cent")
	case said == is:
		p.speaks(isAmount, "the amount fits")
		if others := r.clues.ofAmount(p.Known) - 1; others > 0 {
			p.speaks(isAmong, fmt.Sprintf("%d more of that amount are open", others))
		}
	case p.Discount > 0 && said == is-p.Discount && r.l.Day <= p.Until:
		p.Less = true
		p.speaks(isDiscount, fmt.Sprintf("the amount fits, less the discount of %s in time", cur.Show(p.Discount)))
	case p.Discount > 0 && said == is-p.Discount:
		p.speaks(isLikeName, fmt.Sprintf("the amount fits, less the discount of %s", cur.Show(p.Discount)))
		p.speaks(-1, "the discount ended on "+p.Until.Show())
	case r.fee > 0 && r.l.Amount == p.Amount-r.fee && p.Movement == 0:
		p.Fee = r.fee
		p.speaks(isAmount, fmt.Sprintf("the amount fits, with the fee of %s that the bank names", cur.Show(r.fee)))
	case said > is:
		p.speaks(isNotAmount, fmt.Sprintf("%s more than is open", cur.Show(said-is)))
	default:
		p.speaks(isNotAmount, fmt.Sprintf("%s less than is open", cur.Show(is-said)))
	}
}

// names looks for what the line says of the paper.
func (r *reading) names(p *Proposed, k *entry) {
	switch {
	case holds(r.said, k.number):
		p.speaks(isNamed, "it names "+p.Number)
	case holds(r.said, k.cheque) || holds(unpadded(r.said), unpadded(k.cheque)):
		p.speaks(isNamed, "it names cheque "+p.Cheque)
	case len(k.reference) >= 3 && holds(r.said, k.reference):
		p.speaks(isSaid, "it names "+p.Reference)
	}
	if p.Make != posting.Returned || len(p.For) == 0 {
		return
	}
	if saysReturned(r.said) {
		p.speaks(isSaid, "it says that a payment came back")
	} else {
		p.speaks(isAnother, "nothing says that a payment came back")
	}
}

// returnedWords are what banks call a payment that comes back.
var returnedWords = []string{"returned", "return", "unpaid", "dishonoured", "refer to drawer", "bounced", "chargeback"}

func saysReturned(said string) bool {
	return slices.ContainsFunc(returnedWords, func(w string) bool { return holds(said, w) })
}

// whose compares the other side with the party.
func (r *reading) whose(p *Proposed, k *entry) {
	switch {
	case k.account != "" && k.account == r.account:
		p.speaks(isAccount, "the account is that of "+p.Party)
	case r.name == "" || p.Party == "":
	case r.party == p.PartyID || within(k.party, r.name):
		p.speaks(isName, "the name is "+p.Party)
	case r.party != 0:
		p.speaks(isAnother, "the name is another's: "+r.clues.parties[r.party])
	case alike(r.name, k.party):
		p.speaks(isLikeName, "the name is like "+p.Party)
	default:
		p.speaks(isUnknown, "the name is nobody's that is known: "+r.l.Name)
	}
}

// sums proposes several of one customer, of one supplier, or posted on one day,
// that only together come to the amount. Some of a group are looked for only
// where the line names whose they are.
func (r *reading) sums() []Proposed {
	all := slices.Clone(r.clues.whole[r.l.Amount])
	for _, kind := range []posting.Kind{posting.Receipt, posting.PaySupplier} {
		if some := r.clues.someOf(r.clues.groups[groupOf{make: kind, party: r.party}], r.l.Amount); r.party != 0 && some != nil {
			all = append(all, some)
		}
	}
	var out []Proposed
	for _, g := range all {
		if p, fits := r.sum(g); fits {
			out = append(out, p)
		}
	}
	return out
}

func (r *reading) sum(g []int) (Proposed, bool) {
	first, named := &r.clues.all[g[0]], 0
	p := Proposed{Known: first.Known}
	for _, n := range g {
		k := &r.clues.all[n]
		if k.Make != "" && k.Day > r.l.Day {
			return p, false
		}
		if holds(r.said, k.number) {
			named++
		}
		if n != g[0] {
			p.With = append(p.With, k.Known)
		}
	}
	if first.Movement != 0 {
		p.speaks(isPosted-1, fmt.Sprintf("%d that were posted come to it together", len(g)))
	} else {
		p.speaks(isAmount, fmt.Sprintf("%d that are open come to it together", len(g)))
	}
	if named > 0 {
		p.speaks(isNamed, fmt.Sprintf("it names %d of them", named))
	}
	if r.clues.oneParty(g) {
		r.whose(&p, first)
	}
	r.apart(&p)
	return p, true
}

// someone proposes a paper of a customer or supplier who is known by the account
// or name, or by what the same other side was last time.
func (r *reading) someone() (Proposed, bool) {
	party, last := r.party, Habit{}
	if h, known := r.clues.last[r.l.LastKey()]; known && r.l.OtherSide() != "" && h.PartyID != 0 && (party == 0 || party == h.PartyID) {
		party, last = h.PartyID, h
	}
	if party == 0 {
		return Proposed{}, false
	}
	name := r.clues.parties[party]
	p := Proposed{Known: Known{PartyID: party, Party: name, Amount: r.l.Amount}}
	if r.party != 0 {
		p.speaks(isPartyOnly, "it is of "+name)
	}
	if last.Number != "" {
		p.speaks(isPartyOnly, "last time the same was "+last.Number)
	}
	switch {
	case r.l.Amount < 0 && r.clues.supplies[party]:
		p.Make = posting.PaySupplier
	case r.l.Amount < 0:
		p.Make = posting.Refund
	default:
		r.paid(&p)
	}
	return p, true
}

// paid says what money of a customer may be, that fits nothing of theirs: a part
// of what is nearest to it, or of the oldest; ahead for a job that it names, or
// where nothing is owed.
func (r *reading) paid(p *Proposed) {
	p.Make = posting.Deposit
	open := r.clues.owed(p.PartyID, r.l.Day)
	for _, j := range r.clues.jobs[p.PartyID] {
		if holds(r.said, Words(j.Number)) {
			p.JobID = j.ID
			p.speaks(isSaid, "it names job "+j.Number)
			open = slices.DeleteFunc(open, func(n int) bool { return r.clues.all[n].JobID != j.ID })
			break
		}
	}
	if len(open) == 0 {
		p.speaks(isPartyOnly, "nothing is owed yet")
		return
	}
	best := open[0] // the oldest
	for _, n := range open {
		if is := r.clues.all[n].Amount; is > r.l.Amount && is-r.l.Amount <= is/10 && is-r.l.Amount < (r.clues.all[best].Amount-r.l.Amount).Abs() {
			best = n
		}
	}
	job, k := p.JobID, r.clues.all[best].Known
	k.JobID = job
	p.Known = k
	r.amounts(p)
	p.weight -= isNotAmount // it is said, and speaks against no other
}

// Words is a text as it is compared: in small letters and figures alone.
func Words(text string) string { return plain(text) }

// plain is a text in small letters and figures alone, its words apart.
func plain(text string) string {
	if text == "" {
		return ""
	}
	return strings.Join(strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }), " ")
}

// together is the same without anything between its words: the number of an
// account.
func together(text string) string { return strings.ReplaceAll(plain(text), " ", "") }

// unpadded is a text whose figures have no noughts before them.
func unpadded(text string) string {
	if !strings.Contains(" "+text, " 0") {
		return text
	}
	words := strings.Fields(text)
	for n, w := range words {
		words[n] = strings.TrimLeft(w, "0")
	}
	return strings.Join(words, " ")
}

// holds tells whether a text has some words in it, not as a part of longer ones.
func holds(text, words string) bool {
	if words == "" {
		return false
	}
	for at := 0; ; {
		n := strings.Index(text[at:], words)
		if n < 0 {
			return false
		}
		n += at
		end := n + len(words)
		if (n == 0 || text[n-1] == ' ') && (end == len(text) || text[end] == ' ') {
			return true
		}
		at = n + 1
	}
}

// within tells whether all words of a name stand in another: a firm's with what
// its bank adds to it.
func within(name, longer string) bool {
	if name == "" {
		return false
	}
	for w := range strings.FieldsSeq(name) {
		if !holds(longer, w) {
			return false
		}
	}
	return true
}

// alike tells whether two names share a word that is not short.
func alike(x, y string) bool {
	for w := range strings.FieldsSeq(x) {
		if len(w) >= 4 && holds(y, w) {
			return true
		}
	}
	return x == y
}
