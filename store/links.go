package store

import "cleantally/core/day"

// Link is a page for one paper that whoever has its secret may read.
type Link struct {
	ID        int64
	Secret    []byte // SHA-256 of the secret
	PaperID   int64  // 0: it opens a statement
	PartyID   int64  // whose statement
	Statement string // which, as JSON
	MadeAt    string // UTC
	MadeBy    int64
	EndsOn    day.Day // the last day on which it opens
	Ended     bool    // by hand
	FirstSeen string  // UTC; "" for not yet
	LastSeen  string
	Times     int
	MailID    int64 // that it went with; 0 for none
}

// LinksTo returns the links to a paper, the newest first.
func (r Reader) LinksTo(paper int64) ([]Link, error) {
	return scan[Link](r, "SELECT * FROM links WHERE paper_id = ? ORDER BY id DESC", paper)
}

// StatementLinks returns the links to statements of a customer, the newest first.
func (r Reader) StatementLinks(party int64) ([]Link, error) {
	return scan[Link](r, "SELECT * FROM links WHERE party_id = ? ORDER BY id DESC", party)
}

// LinkBy returns the link with the hash of a secret.
func (r Reader) LinkBy(secret []byte) (Link, bool, error) {
	return one[Link](r, "SELECT * FROM links WHERE secret = ?", secret)
}

// AddLink stores a new link.
func (tx *Tx) AddLink(l Link) error {
	_, err := tx.exec("INSERT INTO links (secret, paper_id, party_id, statement, made_at, made_by, ends_on, mail_id) VALUES (?, NULLIF(?, 0), NULLIF(?, 0), ?, ?, ?, ?, ?)", l.Secret, l.PaperID, l.PartyID, l.Statement, l.MadeAt, l.MadeBy, l.EndsOn, l.MailID)
	return err
}

// EndLink ends a link and returns it; false where there is none.
func (tx *Tx) EndLink(id int64) (Link, bool, error) {
	l, there, err := one[Link](tx.Reader, "SELECT * FROM links WHERE id = ?", id)
	if err == nil && there {
		_, err = tx.exec("UPDATE links SET ended = 1 WHERE id = ?", id)
	}
	return l, there, err
}

// LinkSeen keeps that a link was opened.
func (tx *Tx) LinkSeen(id int64, at string) error {
	_, err := tx.exec("UPDATE links SET first_seen = CASE first_seen WHEN '' THEN ? ELSE first_seen END, last_seen = ?, times = times + 1 WHERE id = ?", at, at, id)
	return err
}
