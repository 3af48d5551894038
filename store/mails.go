package store

import (
	"cleantally/core/posting"
)

// MailAccount is from where the firm's mail goes. Its password lies beside the
// books.
type MailAccount struct {
	Version     int64
	Way         string // "" for none, stand-in, tls, starttls, none
	Host        string
	Port        int
	Username    string
	FromAddress string
	FromName    string
	ReplyTo     string
	CopyTo      string // gets all mails, unseen
	PagesAt     string // where customers reach the program
}

// The states of a mail.
const (
	MailWaiting = "waiting" // to be tried at its time
	MailByHand  = "by hand" // until somebody sends it
	MailSent    = "sent"
	MailFailed  = "failed" // given up
	MailStopped = "stopped"
)

// Mail is something that goes out, or went.
type Mail struct {
	ID         int64
	PartyID    int64
	Kind       posting.Kind
	Recipients string // e-mail addresses, as a JSON list
	Copies     string
	Subject    string
	Words      string
	Content    string // what goes with it, as JSON
	State      string
	Due        string // UTC
	Tries      int
	Reason     string
	MessageID  string
	MadeAt     string // UTC
	MadeBy     int64
	SentAt     string

	Party     string `gorm:"->"`
	User      string `gorm:"->"`
	Numbers   string `gorm:"->"` // of its papers
	FirstSeen string `gorm:"->"` // of the link that went with it
	LastSeen  string `gorm:"->"`
}

// MailFile is a file that went with a mail.
type MailFile struct {
	MailID   int64
	Position int
	Name     string
	Type     string
	Size     int64
	Hash     string // SHA-256, in hexadecimal: its file lies with those that are attached
}

const selectMails = `SELECT m.*, COALESCE(c.name, '') AS party, COALESCE(u.name, '') AS user,
	(SELECT COALESCE(group_concat(p.number, ', '), '') FROM mail_papers x JOIN papers p ON p.id = x.paper_id WHERE x.mail_id = m.id) AS numbers,
	COALESCE((SELECT MIN(l.first_seen) FROM links l WHERE l.mail_id = m.id AND l.mail_id <> 0 AND l.first_seen <> ''), '') AS first_seen,
	COALESCE((SELECT MAX(l.last_seen) FROM links l WHERE l.mail_id = m.id AND l.mail_id <> 0), '') AS last_seen
	FROM mails m LEFT JOIN parties c ON c.id = m.party_id LEFT JOIN users u ON u.id = m.made_by `

// MailAccount returns from where mail goes.
func (r Reader) MailAccount() (MailAccount, error) {
	a, _, err := one[MailAccount](r, "SELECT * FROM mail_accounts WHERE id = 1")
	return a, err
}

// SetMailAccount replaces it if it still has the version that a bears; false
// when it has another.
func (tx *Tx) SetMailAccount(a MailAccount) (bool, error) {
	if a.Version == 0 {
		if _, err := tx.exec("INSERT INTO mail_accounts (id, version) VALUES (1, 0) ON CONFLICT DO NOTHING"); err != nil {
			return false, err
		}
	}
	res, err := tx.exec("UPDATE mail_accounts SET version = version + 1, way = ?, host = ?, port = ?, username = ?, from_address = ?, from_name = ?, reply_to = ?, copy_to = ?, pages_at = ? WHERE id = 1 AND version = ?",
		a.Way, a.Host, a.Port, a.Username, a.FromAddress, a.FromName, a.ReplyTo, a.CopyTo, a.PagesAt, a.Version)
	if err != nil {
		return false, err
	}
	n, err := res.RowsAffected()
	return n == 1, err
}

// AddMail stores a mail with its papers and gives it its ID.
func (tx *Tx) AddMail(m *Mail, papers []int64) error {
	res, err := tx.exec("INSERT INTO mails (party_id, kind, recipients, copies, subject, words, content, state, due, message_id, made_at, made_by) VALUES (?,?,?,?,?,?,?,?,?,?,?,?)",
		m.PartyID, m.Kind, m.Recipients, m.Copies, m.Subject, m.Words, m.Content, m.State, m.Due, m.MessageID, m.MadeAt, m.MadeBy)
	if err != nil {
		return err
	}
	if m.ID, err = res.LastInsertId(); err != nil {
		return err
	}
	for _, p := range papers {
		if _, err := tx.exec("INSERT INTO mail_papers (mail_id, paper_id) VALUES (?, ?)", m.ID, p); err != nil {
			return err
		}
	}
	return nil
}

// SetMailState keeps what became of a mail.
func (tx *Tx) SetMailState(m Mail) error {
	_, err := tx.exec("UPDATE mails SET state = ?, due = ?, tries = ?, reason = ?, sent_at = ? WHERE id = ?", m.State, m.Due, m.Tries, m.Reason, m.SentAt, m.ID)
	return err
}

// SetMailFiles keeps what goes with a mail.
func (tx *Tx) SetMailFiles(mail int64, files []MailFile) error {
	if _, err := tx.exec("DELETE FROM mail_files WHERE mail_id = ?", mail); err != nil {
		return err
	}
	for n, f := range files {
		if _, err := tx.exec("INSERT INTO mail_files (mail_id, position, name, type, size, hash) VALUES (?,?,?,?,?,?)", mail, n+1, f.Name, f.Type, f.Size, f.Hash); err != nil {
			return err
		}
	}
	return nil
}

// DropLinksOf takes away the links that went with a mail that did not go.
func (tx *Tx) DropLinksOf(mail int64) error {
	_, err := tx.exec("DELETE FROM links WHERE mail_id = ? AND mail_id <> 0", mail)
	return err
}

// Mail returns one of them.
func (r Reader) Mail(id int64) (Mail, bool, error) {
	return one[Mail](r, selectMails+"WHERE m.id = ?", id)
}

// MailsDue returns mails whose time has come, the oldest first.
func (r Reader) MailsDue(now string, most int) ([]Mail, error) {
	return scan[Mail](r, selectMails+"WHERE m.state = 'waiting' AND m.due <= ? ORDER BY m.due, m.id LIMIT ?", now, most)
}

// MailQuery narrows the list of mails.
type MailQuery struct {
	State  string // "" for all; open: what has not gone
	Party  int64
	Text   string
	Before int64 // the ID of the last row that is shown already
	Limit  int
}

// Mails returns mails, the newest first.
func (r Reader) Mails(q MailQuery) ([]Mail, error) {
	var l narrowing
	switch q.State {
	case "":
	case "open":
		l.filter("m.state IN ('waiting', 'by hand', 'failed')")
	default:
		l.filter("m.state = ?", q.State)
	}
	if q.Party != 0 {
		l.filter("m.party_id = ?", q.Party)
	}
	if q.Before != 0 {
		l.filter("m.id < ?", q.Before)
	}
	if q.Text != "" {
		l.contains(q.Text, "m.subject", "m.recipients", "c.name")
	}
	return scan[Mail](r, selectMails+"WHERE "+l.conditions()+" ORDER BY m.id DESC LIMIT ?", append(l.args, q.Limit)...)
}

// MailsOf returns what was mailed of a paper, the newest first.
func (r Reader) MailsOf(paper int64) ([]Mail, error) {
	return scan[Mail](r, selectMails+"WHERE m.id IN (SELECT mail_id FROM mail_papers WHERE paper_id = ?) ORDER BY m.id DESC", paper)
}

// MailPapers returns the papers that go with a mail, in their order.
func (r Reader) MailPapers(mail int64) ([]int64, error) {
	return scan[int64](r, "SELECT paper_id FROM mail_papers WHERE mail_id = ? ORDER BY paper_id", mail)
}

// MailFiles returns what went with a mail.
func (r Reader) MailFiles(mail int64) ([]MailFile, error) {
	return scan[MailFile](r, "SELECT * FROM mail_files WHERE mail_id = ? ORDER BY position", mail)
}

// PartiesWithMail returns those to whom a mail of a kind is in one of the states.
func (r Reader) PartiesWithMail(kind posting.Kind, states ...string) ([]int64, error) {
	return scan[int64](r, "SELECT DISTINCT party_id FROM mails WHERE kind = ? AND state IN ? AND state <> 'sent'", kind, states)
}

// FailedMails returns mails that were given up, the newest first.
func (r Reader) FailedMails(most int) ([]Mail, error) {
	return scan[Mail](r, selectMails+"WHERE m.state = 'failed' ORDER BY m.id DESC LIMIT ?", most)
}
