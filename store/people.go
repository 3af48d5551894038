package store

import (
	"context"
	"database/sql"
	"errors"

	"cleantally/core/posting"
	"cleantally/core/rights"
)

// Sight is what a person may look at: all; else papers of some kinds, and of
// some others those that are open.
type Sight struct {
	Some      bool // not all
	Kinds     []posting.Kind
	WhileOpen []posting.Kind
}

// SaveUser stores the name of a user and what they may do.
func (tx *Tx) SaveUser(u User) error {
	return tx.db.Exec("UPDATE users SET name = ?, role = ?, ended = ?, version = version + 1 WHERE id = ?", u.Name, u.Role, u.Ended, u.ID).Error
}

// SetChoices stores what the firm settles about billers.
func (tx *Tx) SetChoices(c rights.Choices) error {
	return tx.db.Exec("UPDATE firm SET biller_posts = ?, biller_chooses = ?, version = version + 1", c.BillerPosts, c.BillerChooses).Error
}

// BillerMay returns what the firm chose that its billers may do, or ErrNoFirm. It
// is asked with every post.
func (r Reader) BillerMay() (c rights.Choices, err error) {
	err = r.queryRow("SELECT biller_posts, biller_chooses FROM firm").Scan(&c.BillerPosts, &c.BillerChooses)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNoFirm
	}
	return c, err
}

// SetFactor gives a user a second factor, with the hashes of the codes that take
// its place once; "" takes it away.
func (tx *Tx) SetFactor(user int64, secret string, spare []string) error {
	if err := tx.db.Exec("UPDATE users SET factor = ?, factor_step = 0 WHERE id = ?", secret, user).Error; err != nil {
		return err
	}
	if err := tx.db.Exec("DELETE FROM spare_codes WHERE user_id = ?", user).Error; err != nil {
		return err
	}
	for _, hash := range spare {
		if err := tx.db.Exec("INSERT INTO spare_codes (user_id, hash) VALUES (?, ?)", user, hash).Error; err != nil {
			return err
		}
	}
	return nil
}

// TakeStep keeps that the code of a step was used; false where that one, or a
// later one, was used before.
func (tx *Tx) TakeStep(user, step int64) (bool, error) {
	res := tx.db.Exec("UPDATE users SET factor_step = ? WHERE id = ? AND factor_step < ?", step, user, step)
	return res.RowsAffected == 1, res.Error
}

// TakeSpare uses up a code that takes the place of the second factor.
func (tx *Tx) TakeSpare(user int64, hash string) (bool, error) {
	res := tx.db.Exec("DELETE FROM spare_codes WHERE user_id = ? AND hash = ?", user, hash)
	return res.RowsAffected == 1, res.Error
}

// SpareCodes is how many of them a user has left.
func (r Reader) SpareCodes(user int64) (n int, err error) {
	err = r.queryRow("SELECT COUNT(*) FROM spare_codes WHERE user_id = ?", user).Scan(&n)
	return n, err
}

// Invitation lets one person in, once.
type Invitation struct {
	ID        int64
	Hash      string
	Name      string
	Email     string
	Role      rights.Role
	InvitedBy int64
	By        string `gorm:"->"`
	Until     string // UTC
	UserID    *int64 // who came of it
	Ended     bool
}

const invitations = "SELECT i.*, COALESCE(u.name, '') AS by FROM invitations i LEFT JOIN users u ON u.id = i.invited_by "

// Invitations returns those that nobody has used and nobody has ended.
func (r Reader) Invitations() ([]Invitation, error) {
	return scan[Invitation](r, invitations+"WHERE i.user_id IS NULL AND i.ended = 0 ORDER BY i.id")
}

// InvitationOf returns an invitation by the hash of its secret.
func (r Reader) InvitationOf(hash string) (Invitation, bool, error) {
	return one[Invitation](r, invitations+"WHERE i.hash = ?", hash)
}

// Invitation returns an invitation by its ID.
func (r Reader) Invitation(id int64) (Invitation, bool, error) {
	return one[Invitation](r, invitations+"WHERE i.id = ?", id)
}

// Invite stores an invitation.
func (tx *Tx) Invite(i *Invitation) error {
	i.Hash = nameOf(i.Hash)
	return tx.db.Create(i).Error
}

// Invited keeps who came of an invitation.
func (tx *Tx) Invited(id, user int64) error {
	return tx.db.Exec("UPDATE invitations SET user_id = ? WHERE id = ?", user, id).Error
}

// EndInvitation ends one that nobody has used.
func (tx *Tx) EndInvitation(id int64) error {
	return tx.db.Exec("UPDATE invitations SET ended = 1 WHERE id = ?", id).Error
}

// InvitationBySecret returns the invitation that a secret opens.
func (r Reader) InvitationBySecret(secret string) (Invitation, bool, error) {
	return r.InvitationOf(nameOf(secret))
}

// Word is what was asked of a second person, and what they said.
type Word struct {
	ID         int64
	Hash       string // of the command
	Asks       rights.Right
	AskedBy    int64
	Asker      string `gorm:"->"`
	AskedAt    string // UTC
	Summary    string
	Why        string
	Shown      string // JSON
	DraftID    int64
	AnsweredBy *int64
	Answerer   string `gorm:"->"`
	Agreed     *bool
	Note       string
	ActID      *int64
	Ended      bool
}

const words = `SELECT w.*, COALESCE(a.name, '') AS asker, COALESCE(b.name, '') AS answerer FROM words w
	LEFT JOIN users a ON a.id = w.asked_by LEFT JOIN users b ON b.id = w.answered_by `

// Words returns what waits: for somebody's word, or to be posted on it.
func (r Reader) Words() ([]Word, error) {
	return scan[Word](r, words+"WHERE w.act_id IS NULL AND w.ended = 0 ORDER BY w.id")
}

// Word returns what was asked of a second person.
func (r Reader) Word(id int64) (Word, bool, error) {
	return one[Word](r, words+"WHERE w.id = ?", id)
}

// WordFor returns the word that was given to a user for a command and that was
// not used yet.
func (r Reader) WordFor(user int64, hash string) (Word, bool, error) {
	return one[Word](r, words+"WHERE w.asked_by = ? AND w.hash = ? AND w.agreed = 1 AND w.act_id IS NULL AND w.ended = 0 ORDER BY w.id DESC LIMIT 1", user, hash)
}

// AskWord stores what is asked of a second person, in the place of what the same
// person asked for the same draft before.
func (tx *Tx) AskWord(w *Word) error {
	if err := tx.db.Exec("UPDATE words SET ended = 1 WHERE asked_by = ? AND act_id IS NULL AND (hash = ? OR draft_id = ? AND draft_id <> 0)", w.AskedBy, w.Hash, w.DraftID).Error; err != nil {
		return err
	}
	return tx.db.Create(w).Error
}

// AnswerWord stores what a second person said.
func (tx *Tx) AnswerWord(id, user int64, agreed bool, note string) error {
	return tx.db.Exec("UPDATE words SET answered_by = ?, agreed = ?, note = ? WHERE id = ?", user, agreed, note, id).Error
}

// UseWord keeps what was posted on a word.
func (tx *Tx) UseWord(id, act int64) error {
	return tx.db.Exec("UPDATE words SET act_id = ? WHERE id = ?", act, id).Error
}

// EndWord takes back what was asked.
func (tx *Tx) EndWord(id int64) error {
	return tx.db.Exec("UPDATE words SET ended = 1 WHERE id = ?", id).Error
}

// WithdrawWords ends what a person asked, and what they agreed to and was not
// posted yet: their access ended.
func (tx *Tx) WithdrawWords(user int64) error {
	return tx.db.Exec("UPDATE words SET ended = 1 WHERE act_id IS NULL AND (asked_by = ? OR answered_by = ?)", user, user).Error
}

// KeptSession is a session as it is kept.
type KeptSession struct {
	Token  string // the hash of it
	Data   []byte
	Expiry int64
}

// All returns every session that has not expired.
func (s *Sessions) All(ctx context.Context, now int64) ([]KeptSession, error) {
	return scan[KeptSession](*s.db.Read(ctx), "SELECT token, data, expiry FROM sessions WHERE expiry > ?", now)
}

// End ends the session that is kept by a hash.
func (s *Sessions) End(ctx context.Context, hash string) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	err := s.db.Write(ctx, func(tx *Tx) error {
		return tx.db.Exec("DELETE FROM sessions WHERE token = ?", hash).Error
	})
	for token := range s.known {
		if nameOf(token) == hash {
			delete(s.known, token)
		}
	}
	return err
}

// NameOf is what the session of a token is kept by.
func NameOf(token string) string { return nameOf(token) }

// narrow leaves out of a list of papers p what may not be looked at.
func (s Sight) narrow(l *narrowing) {
	if s.Some {
		condition, args := s.condition()
		l.filter(condition, args...)
	}
}

func (s Sight) condition() (string, []any) {
	return "p.about IN ? OR p.about IN ? AND EXISTS (SELECT 1 FROM open_items o WHERE o.paper_id = p.id AND o.open <> 0)", []any{append([]posting.Kind{""}, s.Kinds...), append([]posting.Kind{""}, s.WhileOpen...)}
}

// Seen tells whether all of some papers may be looked at.
func (r Reader) Seen(s Sight, papers ...int64) (bool, error) {
	if !s.Some || len(papers) == 0 {
		return true, nil
	}
	condition, args := s.condition()
	hidden, _, err := one[bool](r, "SELECT EXISTS (SELECT 1 FROM papers p WHERE p.id IN ? AND NOT ("+condition+"))", append([]any{papers}, args...)...)
	return !hidden, err
}

// OtherFirm is another firm of the program that a person is in too.
type OtherFirm struct {
	At   string // its address in the program, "" for the first
	Name string // as it was called then
}

// OtherFirms returns those that were remembered of a user.
func (r Reader) OtherFirms(user int64) ([]OtherFirm, error) {
	return scan[OtherFirm](r, "SELECT at, name FROM other_firms WHERE user_id = ? ORDER BY at", user)
}

// RememberFirm keeps that a user is in another firm too.
func (tx *Tx) RememberFirm(user int64, o OtherFirm) error {
	return tx.db.Exec("INSERT OR REPLACE INTO other_firms (user_id, at, name) VALUES (?, ?, ?)", user, o.At, o.Name).Error
}
