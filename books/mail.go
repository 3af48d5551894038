package books

import (
	"cleantally/core/rights"
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"cleantally/core/mail"
	"cleantally/core/master"
	"cleantally/core/posting"
	"cleantally/core/sheet"
	outgoing "cleantally/formats/mail"
	"cleantally/store"
)

// passwordFile holds the word for the mail server, beside the books: no backup
// and no answer has it.
const passwordFile = "mail-password"

// SaveMailAccount replaces from where mail goes. A password that is nil stays as
// it is. It returns posting.Refusals or store.ErrRecordChanged.
func (b *Book) SaveMailAccount(ctx context.Context, user int64, a store.MailAccount, password *string) error {
	var v validation
	v.text("host", &a.Host, false, 200)
	v.text("username", &a.Username, false, 200)
	v.text("fromName", &a.FromName, false, 120)
	for _, text := range []field[*string]{{"fromAddress", &a.FromAddress}, {"replyTo", &a.ReplyTo}, {"copyTo", &a.CopyTo}} {
		*text.of = strings.TrimSpace(*text.of)
		if all, err := outgoing.Addresses(*text.of); err != nil {
			v.refuse(text.name, "no address", "%s.", posting.Sentence(err.Error()))
		} else if len(all) > 1 {
			v.refuse(text.name, "one of them", "One address stands here.")
		}
	}
	if a.Way != "" && a.FromAddress == "" {
		v.refuse("fromAddress", "missing", "Say from which address mail comes.")
	}
	if a.Way != "" && a.Way != "stand-in" {
		if a.Host == "" || strings.ContainsAny(a.Host, " /:@") {
			v.refuse("host", "missing", "Say which mail server takes the mail, mail.firm.example for one.")
		}
		if a.Port < 1 || a.Port > 65535 {
			v.refuse("port", "out of bounds", "A port is from 1 to 65535; usually 465 or 587.")
		}
		if a.Way == "none" && a.Username != "" && a.Host != "localhost" && a.Host != "127.0.0.1" {
			v.refuse("way", "not secret", "A password would go over the line for everybody to read. Choose a secret way, or leave the name empty.")
		}
	}
	a.PagesAt = strings.TrimRight(strings.TrimSpace(a.PagesAt), "/")
	if at, err := url.Parse(a.PagesAt); a.PagesAt != "" && (err != nil || at.Host == "" || at.Scheme != "https" && at.Scheme != "http" || at.Path != "" || at.RawQuery != "") {
		v.refuse("pagesAt", "form", "Write the address at which customers reach this program, https://books.firm.example for one.")
	}
	if err := v.err(); err != nil {
		return err
	}
	return b.change(ctx, rights.ToOwn, func(tx *store.Tx) error {
		saved, err := tx.SetMailAccount(a)
		if err != nil {
			return err
		}
		if !saved {
			return store.ErrRecordChanged
		}
		if password != nil {
			if err := b.keepMailPassword(*password); err != nil {
				return err
			}
		}
		return b.record(tx, user, "save mail", "Changed from where mail goes", a)
	})
}

func (b *Book) keepMailPassword(word string) error {
	to := filepath.Join(b.dir, passwordFile)
	if word == "" {
		if err := os.Remove(to); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return err
		}
		return nil
	}
	if err := os.WriteFile(to+".new", []byte(word), 0o600); err != nil {
		return err
	}
	return os.Rename(to+".new", to)
}

// MailPassword is the word for the mail server; "" for none.
func (b *Book) MailPassword() (string, error) {
	word, err := os.ReadFile(filepath.Join(b.dir, passwordFile))
	if errors.Is(err, fs.ErrNotExist) {
		return "", nil
	}
	return string(word), err
}

// SaveMailTemplate stores the words of mails: new ones when their ID is 0.
func (b *Book) SaveMailTemplate(ctx context.Context, user int64, t *master.MailTemplate) error {
	return save(ctx, b, user, "mail template", t, func(tx *store.Tx, t *master.MailTemplate) error {
		var v validation
		v.text("name", &t.Name, true, 80)
		v.text("language", &t.Language, false, 40)
		v.text("subject", &t.Subject, true, 200)
		v.text("words", &t.Words, true, 8000)
		if strings.Contains(t.Subject, "\n") {
			v.refuse("subject", "form", "A subject is one line.")
		}
		for _, text := range []field[string]{{"subject", t.Subject}, {"words", t.Words}} {
			for _, unknown := range mail.Unknown(text.of) {
				v.refuse(text.name, "unknown", "There is no field {%s}. Take one of those that are offered.", unknown)
			}
		}
		if strings.Contains(t.Subject, "{"+mail.LinkField+"}") {
			v.refuse("subject", "form", "A link stands in the text, not in the subject.")
		}
		own, err := mailTemplate(*t)
		if err != nil {
			v.refuse("kinds", "form", "The kinds cannot be read.")
		}
		for _, k := range own.Kinds {
			if _, known := posting.Describe(k); !known && k != mail.Statement && k != mail.Reminder {
				v.refuse("kinds", "unknown", "There is no kind of paper %q.", k)
			}
		}
		other, there, err := store.IDBy[master.MailTemplate](&tx.Reader, "name", t.Name)
		if err != nil {
			return err
		}
		v.unique("name", t.Name, t.ID, other, there)
		if err := v.err(); err != nil {
			return err
		}
		return put(tx, t.ID, t.Version, t)
	})
}

func mailTemplate(t master.MailTemplate) (mail.Template, error) {
	own := mail.Template{Name: t.Name, Language: t.Language, Subject: t.Subject, Text: t.Words}
	var err error
	if t.Kinds != "" {
		err = json.Unmarshal([]byte(t.Kinds), &own.Kinds)
	}
	return own, err
}

// MailContent is what goes with a mail.
type MailContent struct {
	PDF         bool       `json:"pdf,omitempty"`
	Electronic  bool       `json:"electronic,omitempty"`  // invoices and credit notes as such too
	Certificate bool       `json:"certificate,omitempty"` // of claims
	Link        bool       `json:"link,omitempty"`        // to its first paper
	Attachments []int64    `json:"attachments,omitempty"`
	Statement   *Statement `json:"statement,omitempty"`
	Reminder    int64      `json:"reminder,omitempty"` // its stage; the papers are what it is about
}

// Statement says which statement goes with a mail.
type Statement struct {
	From    string `json:"from,omitempty"`
	Through string `json:"through"`
	Open    bool   `json:"open,omitempty"`
}

// MailWanted is a mail that somebody writes.
type MailWanted struct {
	Papers     []int64
	PartyID    int64 // where there are no papers
	To, Copies string
	Subject    string
	Words      string
	Content    MailContent
	MailWhen
}

// MailWhen is when a mail goes.
type MailWhen struct {
	Due    time.Time // not before; zero for at once
	ByHand bool      // it waits until somebody sends it
}

// The most that goes with a mail.
const (
	mostMailPapers = 20
	mostRecipients = 20
	largestMail    = 20 << 20
)

// ProposeMail fills in a mail about papers of one party, or a statement to one:
// to whom, with which words. It returns posting.Refusals or store.ErrNoRecord.
func (b *Book) ProposeMail(ctx context.Context, w MailWanted) (MailWanted, error) {
	if err := b.seesMailed(ctx, w); err != nil {
		return w, err
	}
	err := b.db.Snapshot(ctx, func(r *store.Reader) error {
		papers, err := mailed(r, &w)
		if err != nil {
			return err
		}
		party, _, err := store.Find[master.Party](r, w.PartyID)
		if err != nil {
			return err
		}
		templates, err := store.All[master.MailTemplate](r, "name")
		if err != nil {
			return err
		}
		var all []mail.Template
		for _, t := range templates {
			if own, err := mailTemplate(t); err == nil && !t.Inactive {
				all = append(all, own)
			}
		}
		kind := mail.Statement
		if len(papers) > 0 {
			kind = papers[0].Kind
		}
		if w.Content.Reminder != 0 {
			kind = mail.Reminder
		}
		t := mail.Choose(all, kind, party.Language)
		f, err := b.mailFields(r, w, papers, party)
		if err != nil {
			return err
		}
		w.To, w.Copies = party.Email, party.CopiesTo
		w.Subject, w.Words = posting.Sentence(strings.TrimSpace(mail.Fill(t.Subject, f))), strings.TrimSpace(mail.Fill(t.Text, f))
		return nil
	})
	return w, err
}

// seesMailed refuses a mail of what the one who writes it may not look at.
func (b *Book) seesMailed(ctx context.Context, w MailWanted) error {
	if len(w.Papers) == 0 { // a statement
		return b.Need(ctx, rights.SeePapers)
	}
	return b.SeesPapers(ctx, w.Papers...)
}

// mailed are the papers of a mail, which are of one party: w's from then on.
func mailed(r *store.Reader, w *MailWanted) (papers []posting.Paper, err error) {
	if len(w.Papers) > mostMailPapers && w.Content.Reminder == 0 {
		return nil, posting.Refusals{{Field: "papers", Rule: "too many", Limit: fmt.Sprint(mostMailPapers), Text: fmt.Sprintf("At most %d papers go with one mail.", mostMailPapers)}}
	}
	for _, id := range w.Papers {
		p, ok, err := r.Paper(id)
		if err != nil {
			return nil, err
		}
		if !ok {
			return nil, store.ErrNoRecord
		}
		if w.PartyID != 0 && p.PartyID != w.PartyID {
			return nil, posting.Refusals{{Field: "papers", Rule: "another party", Text: fmt.Sprintf("%s is another's: what goes with one mail is of one customer.", p.Number)}}
		}
		w.PartyID = p.PartyID
		papers = append(papers, p)
	}
	if len(papers) == 0 && w.Content.Statement == nil {
		return nil, posting.Refusals{{Field: "papers", Rule: "missing", Text: "Choose what is mailed."}}
	}
	return papers, nil
}

// mailFields are what the fields of a template say.
func (b *Book) mailFields(r *store.Reader, w MailWanted, papers []posting.Paper, party master.Party) (mail.Fields, error) {
	firm, err := r.Firm()
	if err != nil {
		return nil, err
	}
	account, err := r.MailAccount()
	if err != nil {
		return nil, err
	}
	date := firm.DateStyle.Show(b.Today())
	f := mail.Fields{"customer": party.Name, "contact": party.Contact, "firm": firm.Name, "date": date, "kind": "statement", "number": "", "total": "", "left": "", "due": "", "job": "", "reference": ""}
	if party.Contact == "" {
		f["contact"] = party.Name
	}
	if !w.Content.Link || account.PagesAt == "" {
		f[mail.LinkField] = ""
	}
	var numbers []string
	for n, p := range papers {
		numbers = append(numbers, p.Number)
		if n > 0 {
			continue
		}
		s, _, err := Sheet(r, p.ID, b.Today())
		if err != nil {
			return nil, err
		}
		cur, err := r.Currency()
		if err != nil {
			return nil, err
		}
		cur = cur.In(p.Currency)
		in := func(amount string) string { return firm.NumberStyle.Show(amount) + " " + cur.Code }
		f["kind"], f["date"], f["total"], f["due"], f["reference"] = lowered(s.Heading), firm.DateStyle.Show(p.Day), in(cur.Format(p.AsRead().Total)), firm.DateStyle.Show(p.Due), p.Reference
		f["left"] = in(cur.Format(0))
		for _, sum := range s.Sums {
			if sum.Look == "left" {
				f["left"] = in(sum.Amount)
			}
		}
		if j, ok, err := store.Find[master.Job](r, p.JobID); err != nil {
			return nil, err
		} else if ok {
			f["job"] = j.Number + " " + j.Name
		}
	}
	f["number"] = strings.Join(numbers, ", ")
	if w.Content.Reminder != 0 {
		return f, b.reminderFields(r, w, f)
	}
	return f, nil
}

// lowered is a heading in the middle of a sentence, where it is ours.
func lowered(heading string) string {
	if slices.Contains(sheet.Words, heading) {
		return strings.ToLower(heading[:1]) + heading[1:]
	}
	return heading
}

// QueueMail puts a mail into the outbox, from where it goes by itself at its
// time, or by hand. It returns its ID, posting.Refusals or store.ErrNoRecord.
func (b *Book) QueueMail(ctx context.Context, user int64, w MailWanted) (id int64, err error) {
	if err := b.seesMailed(ctx, w); err != nil {
		return 0, err
	}
	to, copies, err := w.check()
	if err != nil {
		return 0, err
	}
	account, err := b.Read(ctx).MailAccount()
	if err != nil {
		return 0, err
	}
	var v validation
	if account.Way == "" {
		v.refuse("to", "not set up", "Nothing is mailed yet: say in Setup, under Mail, from where it goes.")
	}
	if w.Content.Link && account.PagesAt == "" {
		v.refuse("link", "not set up", "Say in Setup, under Mail, at which address customers reach this program; then a link can go along.")
	}
	if err := v.err(); err != nil {
		return 0, err
	}
	m := store.Mail{Kind: mail.Statement, Subject: w.Subject, Words: w.Words, State: store.MailWaiting, MadeAt: b.stamp(), MadeBy: user, MessageID: rand.Text() + "@" + afterAt(account.FromAddress)}
	m.Due = m.MadeAt
	if w.Due.After(b.clock()) {
		m.Due = w.Due.UTC().Format(time.RFC3339)
	}
	if w.ByHand {
		m.State, m.Due = store.MailByHand, ""
	}
	for _, part := range []struct {
		of any
		to *string
	}{{to, &m.Recipients}, {copies, &m.Copies}, {w.Content, &m.Content}} {
		text, err := json.Marshal(part.of)
		if err != nil {
			return 0, err
		}
		*part.to = string(text)
	}
	err = b.change(ctx, rights.ToNote, func(tx *store.Tx) error {
		papers, err := mailed(&tx.Reader, &w)
		if err != nil {
			return err
		}
		about := "a statement"
		if len(papers) > 0 {
			m.Kind, about = papers[0].Kind, papers[0].Number
			if len(papers) > 1 {
				about += fmt.Sprintf(" and %d more", len(papers)-1)
			}
		}
		if w.Content.Reminder != 0 {
			m.Kind = mail.Reminder
		}
		m.PartyID = w.PartyID
		if w.Content.Electronic && !slices.ContainsFunc(papers, Electronic) {
			return posting.Refusals{{Field: "electronic", Rule: "another kind", Text: "Only invoices, credit notes and taxed deposits go out as electronic ones."}}
		}
		if err := enclosable(&tx.Reader, w); err != nil {
			return err
		}
		if err := tx.AddMail(&m, w.Papers); err != nil {
			return err
		}
		id = m.ID
		return b.record(tx, user, "write mail", fmt.Sprintf("Wrote a mail with %s to %s", about, strings.Join(to, ", ")), nil)
	})
	return id, err
}

// stamp is the moment, as it is kept.
func (b *Book) stamp() string { return b.clock().UTC().Format(time.RFC3339) }

func afterAt(address string) string {
	_, domain, _ := strings.Cut(address, "@")
	return domain
}

// check refuses a mail that cannot go, and returns to whom it goes.
func (w *MailWanted) check() (to, copies []string, err error) {
	var v validation
	v.text("subject", &w.Subject, true, 200)
	v.text("words", &w.Words, true, 8000)
	if strings.ContainsAny(w.Subject, "\r\n") {
		v.refuse("subject", "form", "A subject is one line.")
	}
	for _, list := range []struct {
		field, text string
		all         *[]string
	}{{"to", w.To, &to}, {"copies", w.Copies, &copies}} {
		all, err := outgoing.Addresses(list.text)
		if err != nil {
			v.refuse(list.field, "no address", "%s.", posting.Sentence(err.Error()))
		}
		if len(all) > mostRecipients {
			v.refuse(list.field, "too many", "At most %d addresses stand here.", mostRecipients)
		}
		*list.all = all
	}
	if strings.TrimSpace(w.To) == "" {
		v.refuse("to", "missing", "Say to which address it goes.")
	}
	return to, copies, v.err()
}

// enclosable refuses attachments that are not of the mail's papers.
func enclosable(r *store.Reader, w MailWanted) error {
	for _, id := range w.Content.Attachments {
		a, ok, err := r.Attachment(id)
		if err != nil {
			return err
		}
		if !ok || !slices.Contains(w.Papers, a.PaperID) {
			return posting.Refusals{{Field: "attachments", Rule: "missing", Text: "There is no such file on what is mailed. Choose again."}}
		}
	}
	return nil
}

// SendMailNow has a mail that waits, or was given up or stopped, tried at once.
// It returns posting.Refusals or store.ErrNoRecord.
func (b *Book) SendMailNow(ctx context.Context, user, id int64) error {
	return b.changeMail(ctx, user, id, "send mail", "Sent a mail on", func(m *store.Mail) {
		m.State, m.Due, m.Tries, m.Reason = store.MailWaiting, b.stamp(), 0, ""
	})
}

// StopMail keeps a mail from going. It returns posting.Refusals or
// store.ErrNoRecord.
func (b *Book) StopMail(ctx context.Context, user, id int64) error {
	return b.changeMail(ctx, user, id, "stop mail", "Stopped a mail", func(m *store.Mail) { m.State, m.Due = store.MailStopped, "" })
}

func (b *Book) changeMail(ctx context.Context, user, id int64, action, summary string, change func(*store.Mail)) error {
	return b.change(ctx, rights.ToNote, func(tx *store.Tx) error {
		m, ok, err := tx.Mail(id)
		if err != nil {
			return err
		}
		if !ok {
			return store.ErrNoRecord
		}
		if m.State == store.MailSent {
			return posting.Refusals{{Field: "mail", Rule: "sent", Text: "This mail has gone. Write another."}}
		}
		change(&m)
		if err := tx.SetMailState(m); err != nil {
			return err
		}
		return b.record(tx, user, action, summary+": "+m.Subject, nil)
	})
}
