package books

import (
	"context"
	"fmt"
	"log/slog"
	"slices"

	"cleantally/core/posting"
	"cleantally/core/rights"
	"cleantally/store"
)

// Person is who does something, and what they may do in the firm. The one with
// the ID 0 is the program itself, which may do all.
type Person struct {
	ID      int64
	Name    string
	Role    rights.Role
	Choices rights.Choices
}

// May tells whether the person has a right.
func (p Person) May(right rights.Right) bool { return p.ID == 0 || p.Role.May(right, p.Choices) }

// Need is nil where the person has a right, else the refusal that says who has.
func (p Person) Need(right rights.Right) error {
	if p.May(right) {
		return nil
	}
	return rights.NotYours(right, p.Choices)
}

// Rights are all that the person has.
func (p Person) Rights() []rights.Right {
	var all []rights.Right
	for _, r := range rights.Rights() {
		if p.May(r) {
			all = append(all, r)
		}
	}
	return all
}

// personKey is where a context keeps who does what is done in it.
type personKey struct{}

// As is the context of what a user does. Without one it is the program that does
// it.
func As(ctx context.Context, user int64) context.Context {
	return context.WithValue(ctx, personKey{}, user)
}

// who is the user of a context, 0 for the program itself.
func who(ctx context.Context) int64 {
	user, _ := ctx.Value(personKey{}).(int64)
	return user
}

// person reads what a user may do at this moment. Who may not sign in any more
// may do nothing.
func person(r *store.Reader, user int64) (Person, error) {
	if user == 0 {
		return Person{}, nil
	}
	u, there, err := r.User(user)
	if err != nil || !there || u.Ended {
		return Person{ID: user, Name: u.Name}, err
	}
	may, err := r.BillerMay()
	return Person{u.ID, u.Name, u.Role, may}, err
}

// Person is who does what is done in a context.
func (b *Book) Person(ctx context.Context) (Person, error) { return person(b.Read(ctx), who(ctx)) }

// Need refuses what is done in a context by one who has not the right to it.
func (b *Book) Need(ctx context.Context, right rights.Right) error {
	p, err := b.Person(ctx)
	if err != nil {
		return err
	}
	return p.Need(right)
}

// change writes what asks for a right. It is the door of everything that is
// stored but is not posted: whoever may not is refused in the same transaction.
func (b *Book) change(ctx context.Context, right rights.Right, f func(*store.Tx) error) error {
	return b.db.Write(ctx, func(tx *store.Tx) error {
		p, err := person(&tx.Reader, who(ctx))
		if err == nil {
			err = p.Need(right)
		}
		if err != nil {
			return err
		}
		return f(tx)
	})
}

// asks are the rights that a command asks for: those of the papers that it
// makes, or its own. What makes no paper, or takes another back, or explains
// what the bank says, is keeping the books.
func asks(c posting.Command, e posting.Effect, how How) []rights.Right {
	var all []rights.Right
	if how.Again.PaperID != 0 || how.BankLine != 0 {
		all = append(all, rights.ToKeepBooks)
	}
	if own, ok := c.(interface{ Asks() rights.Right }); ok {
		all = append(all, own.Asks())
	}
	for _, p := range e.Papers {
		if d, ok := posting.Describe(p.Kind); ok {
			all = append(all, d.Right)
		}
	}
	if len(all) == 0 {
		all = append(all, rights.ToKeepBooks)
	}
	if e.Chosen {
		all = append(all, rights.ToChoose)
	}
	return all
}

// allowed refuses a command that asks for a right which the one who posts it
// has not.
func allowed(r *store.Reader, c posting.Command, e posting.Effect, how How) error {
	p, err := person(r, how.User)
	if err != nil {
		return err
	}
	for _, right := range asks(c, e, how) {
		if err := p.Need(right); err != nil {
			return err
		}
	}
	return nil
}

// MayDraft is the right that writing a draft of a kind asks for. Some drafts
// become several papers, or none.
func MayDraft(kind posting.Kind) rights.Right {
	switch kind {
	case "claim":
		return rights.ToClaim
	case "late charge", "credit of an advance":
		return rights.ToSell
	case "distribution":
		return rights.ToTakeMoney
	case "payment run", "purchase order cancelled":
		return rights.ToBuy
	}
	if d, ok := posting.Describe(kind); ok {
		return d.Drafted()
	}
	return rights.ToKeepBooks
}

// MayPost is the right that posting what a draft of a kind becomes asks for.
func MayPost(kind posting.Kind) rights.Right {
	if d, ok := posting.Describe(kind); ok {
		return d.Right
	}
	if right := MayDraft(kind); right != rights.ToSell {
		return right
	}
	return rights.ToBill
}

// Sees tells what a person may look at in lists and by itself: all kinds of
// paper; those that are named; and, of others, what is still open.
func (p Person) Sees() store.Sight {
	if p.May(rights.SeeBooks) {
		return store.Sight{}
	}
	s := store.Sight{Some: true}
	for _, d := range posting.Kinds() {
		switch {
		case p.May(d.SeenBy()):
			s.Kinds = append(s.Kinds, d.Kind)
		case d.SeenBy() == rights.SeePapers && d.Words.Open == "open":
			s.WhileOpen = append(s.WhileOpen, d.Kind)
		}
	}
	return s
}

// SeesPapers refuses to look at papers that are not for the eyes of the one in
// whose context it is asked.
func (b *Book) SeesPapers(ctx context.Context, papers ...int64) error {
	p, err := b.Person(ctx)
	if err != nil || p.May(rights.SeeBooks) {
		return err
	}
	seen, err := b.Read(ctx).Seen(p.Sees(), papers...)
	if err == nil && !seen {
		err = rights.NotYours(rights.SeeBooks, p.Choices)
		if !p.May(rights.SeePapers) {
			err = rights.NotYours(rights.SeePapers, p.Choices)
		}
	}
	return err
}

// SeesAttached refuses what is attached to something that one may not look at.
func (b *Book) SeesAttached(ctx context.Context, to store.AttachedTo) error {
	switch {
	case to.PaperID != 0:
		return b.SeesPapers(ctx, to.PaperID)
	case to.DraftID != 0:
		d, there, err := b.Read(ctx).Draft(to.DraftID)
		if err != nil || !there {
			return err
		}
		return b.seesDraft(ctx, d.Kind)
	}
	return b.Need(ctx, rights.SeePapers)
}

// seesDraft refuses a draft to one who may neither write it nor look at the
// books.
func (b *Book) seesDraft(ctx context.Context, kind posting.Kind) error {
	p, err := b.Person(ctx)
	if err != nil || p.May(rights.SeeBooks) {
		return err
	}
	return p.Need(MayDraft(kind))
}

// Drafts returns the drafts that one may look at, the last saved first.
func (b *Book) Drafts(ctx context.Context, r *store.Reader) ([]store.Draft, error) {
	p, err := b.Person(ctx)
	if err != nil {
		return nil, err
	}
	all, err := r.Drafts()
	return slices.DeleteFunc(all, func(d store.Draft) bool { return !p.May(rights.SeeBooks) && !p.May(MayDraft(d.Kind)) }), err
}

// Draft returns a draft, false where there is none; a refusal where it is not
// for the eyes of the one who asks.
func (b *Book) Draft(ctx context.Context, id int64) (store.Draft, bool, error) {
	d, there, err := b.Read(ctx).Draft(id)
	if err == nil && there {
		err = b.seesDraft(ctx, d.Kind)
	}
	return d, there, err
}

// SavePerson changes the name of a person and what they may do. The last owner
// who can sign in stays one.
func (b *Book) SavePerson(ctx context.Context, user int64, u store.User) error {
	var v validation
	v.text("name", &u.Name, true, 120)
	if !u.Role.Known() {
		v.refuse("role", "missing", "Choose what %s may do.", u.Name)
	}
	if err := v.err(); err != nil {
		return err
	}
	return b.change(ctx, rights.ToOwn, func(tx *store.Tx) error {
		was, there, err := tx.User(u.ID)
		switch {
		case err != nil:
			return err
		case !there:
			return store.ErrNoRecord
		case was.Version != u.Version:
			return store.ErrRecordChanged
		}
		if err := b.anOwnerStays(tx, was, u.Role == rights.Owner && !u.Ended); err != nil {
			return err
		}
		summary := fmt.Sprintf("%s is %s now, was %s", u.Name, u.Role, was.Role)
		switch {
		case u.Ended && !was.Ended:
			summary = "Ended the access of " + u.Name
		case !u.Ended && was.Ended:
			summary = u.Name + " may sign in again, as " + string(u.Role)
		case u.Role == was.Role:
			summary = "Saved the person " + u.Name
		}
		if err := tx.SaveUser(u); err != nil {
			return err
		}
		if u.Ended {
			if err := tx.WithdrawWords(u.ID); err != nil {
				return err
			}
		}
		return b.record(tx, user, "save person", summary, map[string]any{"user": u.ID, "role": u.Role, "was": was.Role, "ended": u.Ended})
	})
}

// anOwnerStays refuses what would leave nobody who may say who does what.
func (b *Book) anOwnerStays(tx *store.Tx, u store.User, stays bool) error {
	if u.Role != rights.Owner || u.Ended || stays {
		return nil
	}
	all, err := tx.Users()
	if err != nil {
		return err
	}
	for _, other := range all {
		if other.ID != u.ID && other.Role == rights.Owner && !other.Ended {
			return nil
		}
	}
	var v validation
	v.refuse("role", "last owner", "%s is the last owner who can sign in. Make somebody else an owner first.", u.Name)
	return v.err()
}

// SaveChoices keeps what the firm settles about billers.
func (b *Book) SaveChoices(ctx context.Context, user int64, c rights.Choices) error {
	return b.change(ctx, rights.ToOwn, func(tx *store.Tx) error {
		if err := tx.SetChoices(c); err != nil {
			return err
		}
		slog.Info("what billers may do was settled", "user", user, "posts", c.BillerPosts, "chooses", c.BillerChooses)
		return b.record(tx, user, "save choices", "Settled what a biller may do", c)
	})
}

// OtherFirms are the firms of the program that the one who asks is in besides,
// as far as that was seen.
func (b *Book) OtherFirms(ctx context.Context) ([]store.OtherFirm, error) {
	return b.Read(ctx).OtherFirms(who(ctx))
}

// RememberFirm keeps that the one who asks is in another firm too: they are
// signed in to both.
func (b *Book) RememberFirm(ctx context.Context, o store.OtherFirm) error {
	known, err := b.OtherFirms(ctx)
	if err != nil || slices.Contains(known, o) {
		return err
	}
	return b.db.Write(ctx, func(tx *store.Tx) error { return tx.RememberFirm(who(ctx), o) })
}
