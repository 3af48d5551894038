package books

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"cleantally/core/mail"
	"cleantally/core/posting"
	outgoing "cleantally/formats/mail"
	"cleantally/store"
)

// A Post is how mail leaves the house.
type Post struct {
	StandIn   outgoing.Server                                                            // where mail goes that is not to leave the machine
	Statement func(ctx context.Context, party int64, s Statement) (outgoing.File, error) // writes a statement
	LinkPath  string                                                                     // of links, below the address of the program
}

// mailsAtOnce is how many mails are looked for at a time.
const mailsAtOnce = 20

// Deliver tries the mails whose time has come, and returns how many went. What
// did not go is tried again after growing pauses and given up in the end; why is
// kept with it. A mail that was under way when the program ended is tried again
// under the same message ID.
func (b *Book) Deliver(ctx context.Context, post Post) (went int, err error) {
	for {
		due, err := b.Read(ctx).MailsDue(b.stamp(), mailsAtOnce)
		if err != nil || len(due) == 0 {
			return went, err
		}
		for _, m := range due {
			if ctx.Err() != nil {
				return went, ctx.Err()
			}
			gone, err := b.deliver(ctx, post, m)
			if err != nil {
				return went, err
			}
			if gone {
				went++
			}
		}
	}
}

// deliver tries one mail.
func (b *Book) deliver(ctx context.Context, post Post, m store.Mail) (gone bool, err error) {
	account, err := b.Read(ctx).MailAccount()
	if err != nil {
		return false, err
	}
	m.Tries++ // whatever comes in the way
	msg, reminded, why := b.message(ctx, post, account, &m)
	if why == nil {
		why = b.hand(ctx, post, account, msg)
	}
	if ctx.Err() != nil {
		return false, ctx.Err() // it stays under way, and is tried again
	}
	if why != nil {
		return false, b.notGone(ctx, m, why)
	}
	return true, b.db.Write(ctx, func(tx *store.Tx) error {
		m.State, m.Due, m.Reason, m.SentAt = store.MailSent, "", "", b.stamp()
		if err := tx.SetMailState(m); err != nil {
			return err
		}
		act := store.Act{UserID: m.MadeBy, Action: "mail", Summary: fmt.Sprintf("Mailed %q to %s", m.Subject, strings.Join(msg.To, ", "))}
		if err := tx.Record(&act, b.clock()); err != nil {
			return err
		}
		said := "by mail to " + strings.Join(append(msg.To, msg.Copies...), ", ")
		if reminded != nil {
			return b.remindedOf(tx, m.MadeBy, *reminded, said)
		}
		papers, err := tx.MailPapers(m.ID)
		if err != nil {
			return err
		}
		for _, id := range papers {
			if err := tx.RecordEvent(act.ID, store.Event{PaperID: id, Day: b.Today(), Event: Sent, Text: said}); err != nil {
				return err
			}
		}
		return nil
	})
}

// notGone keeps why a mail did not go, and when it is tried again.
func (b *Book) notGone(ctx context.Context, m store.Mail, why error) error {
	m.Reason = posting.Sentence(why.Error())
	var known *outgoing.Error
	pause, again := mail.Pause(m.Tries)
	if again = again && !(errors.As(why, &known) && known.Final); again {
		m.Due = b.clock().Add(pause).UTC().Format(time.RFC3339)
	} else {
		m.State, m.Due = store.MailFailed, ""
	}
	return b.db.Write(ctx, func(tx *store.Tx) error {
		now, there, err := tx.Mail(m.ID)
		if err != nil || !there {
			return err
		}
		if now.State == store.MailStopped { // while it was tried
			m.State, m.Due = store.MailStopped, ""
		}
		return errors.Join(tx.SetMailState(m), tx.DropLinksOf(m.ID))
	})
}

// message writes a mail as it goes, and keeps what goes with it before it is
// tried: what went can then be seen, whatever happens.
func (b *Book) message(ctx context.Context, post Post, a store.MailAccount, m *store.Mail) (msg outgoing.Message, reminded *ReminderFor, err error) {
	var content MailContent
	err = errors.Join(json.Unmarshal([]byte(m.Recipients), &msg.To), json.Unmarshal([]byte(m.Copies), &msg.Copies), json.Unmarshal([]byte(m.Content), &content))
	if err != nil {
		return msg, nil, err
	}
	r := b.Read(ctx)
	firm, err := r.Firm()
	if err != nil {
		return msg, nil, err
	}
	msg.ID, msg.Subject, msg.Date = m.MessageID, m.Subject, b.clock()
	msg.From, msg.ReplyTo = outgoing.Address{Name: a.FromName, Mail: a.FromAddress}, a.ReplyTo
	if msg.From.Name == "" {
		msg.From.Name = firm.Name
	}
	if a.CopyTo != "" {
		msg.Unseen = []string{a.CopyTo}
	}
	papers, err := r.MailPapers(m.ID)
	if err != nil {
		return msg, nil, err
	}
	if content.Reminder != 0 {
		f, file, err := b.reminderOf(ctx, m.PartyID, content.Reminder)
		if err != nil {
			return msg, nil, err
		}
		reminded, msg.Files = &f, []outgoing.File{file}
	} else if msg.Files, err = b.enclosed(ctx, post, *m, papers, content); err != nil {
		return msg, nil, err
	}
	var link store.Link
	address := ""
	to := LinkTo{}
	switch {
	case len(papers) > 0:
		to.PaperID = papers[0]
	case content.Statement != nil:
		to.PartyID, to.Statement = m.PartyID, *content.Statement
	}
	if content.Link && to != (LinkTo{}) {
		var secret string
		if secret, link, err = b.newLink(to, m.MadeBy, linkDays); err != nil {
			return msg, nil, err
		}
		link.MailID = m.ID
		address = a.PagesAt + post.LinkPath + secret
	}
	msg.Text = mail.Fill(m.Words, mail.Fields{mail.LinkField: address})
	if address != "" && !strings.Contains(msg.Text, address) {
		msg.Text = strings.TrimRight(msg.Text, "\n") + "\n\n" + address + "\n"
	}
	return msg, reminded, b.underWay(ctx, m, msg.Files, link)
}

// underWay keeps that a mail is being tried, and with what. Were the program to
// end now, it is tried again after a pause.
func (b *Book) underWay(ctx context.Context, m *store.Mail, enclosed []outgoing.File, link store.Link) error {
	var files []store.MailFile
	for _, f := range enclosed {
		hash := fmt.Sprintf("%x", sha256.Sum256(f.Content))
		if err := b.keepFile(hash, f.Content); err != nil {
			return err
		}
		files = append(files, store.MailFile{Name: f.Name, Type: f.Type, Size: int64(len(f.Content)), Hash: hash})
	}
	pause, _ := mail.Pause(min(m.Tries, 3))
	m.Due = b.clock().Add(pause).UTC().Format(time.RFC3339)
	return b.db.Write(ctx, func(tx *store.Tx) error {
		now, there, err := tx.Mail(m.ID)
		if err != nil {
			return err
		}
		if !there || now.State != store.MailWaiting {
			return &outgoing.Error{Text: "it was stopped", Final: true}
		}
		if err := errors.Join(tx.SetMailState(*m), tx.SetMailFiles(m.ID, files), tx.DropLinksOf(m.ID)); err != nil || link.Secret == nil {
			return err
		}
		return tx.AddLink(link)
	})
}

// enclosed are the files that go with a mail, as they are now.
func (b *Book) enclosed(ctx context.Context, post Post, m store.Mail, papers []int64, c MailContent) (files []outgoing.File, err error) {
	for _, id := range papers {
		row, there, err := b.Read(ctx).PaperRow(id, b.Today())
		if err != nil {
			return nil, err
		}
		if !there || row.ReversedBy != "" {
			return nil, &outgoing.Error{Text: row.Number + " was taken back since", Final: true}
		}
		if c.PDF {
			p, err := b.Print(ctx, []int64{id}, b.Today())
			if err != nil {
				return nil, err
			}
			files = append(files, outgoing.File{Name: p.Name, Type: "application/pdf", Content: p.File})
		}
		if c.Certificate {
			p, err := b.PrintCertificate(ctx, id)
			var none posting.Refusals
			if err != nil && !errors.As(err, &none) {
				return nil, err
			}
			if err == nil {
				files = append(files, outgoing.File{Name: p.Name, Type: "application/pdf", Content: p.File})
			}
		}
		var paper posting.Paper
		if c.Electronic {
			if paper, _, err = b.Read(ctx).Paper(id); err != nil {
				return nil, err
			}
		}
		if Electronic(paper) {
			p, err := b.ElectronicInvoice(ctx, id, b.Today())
			var refused posting.Refusals
			if errors.As(err, &refused) {
				return nil, &outgoing.Error{Text: "it cannot go as an electronic invoice: " + strings.TrimSuffix(refused.Error(), "."), Final: true}
			}
			if err != nil {
				return nil, err
			}
			files = append(files, outgoing.File{Name: p.Name, Type: "application/xml", Content: p.File})
		}
	}
	if c.Statement != nil {
		f, err := post.Statement(ctx, m.PartyID, *c.Statement)
		if err != nil {
			return nil, err
		}
		files = append(files, f)
	}
	for _, id := range c.Attachments {
		a, data, err := b.AttachedFile(ctx, id)
		if err != nil {
			return nil, &outgoing.Error{Text: "a file that was to go along is no longer there", Final: true}
		}
		files = append(files, outgoing.File{Name: a.Name, Type: a.Type, Content: data})
	}
	size := 0
	for _, f := range files {
		size += len(f.Content)
	}
	if size > largestMail {
		return nil, &outgoing.Error{Text: fmt.Sprintf("what goes along has %d MB, and at most %d MB go with one mail", size>>20, largestMail>>20), Final: true}
	}
	return files, nil
}

// Enclosed are the files that would go with a mail now. It returns
// posting.Refusals or store.ErrNoRecord.
func (b *Book) Enclosed(ctx context.Context, post Post, w MailWanted) ([]outgoing.File, error) {
	if _, err := mailed(b.Read(ctx), &w); err != nil {
		return nil, err
	}
	files, err := b.enclosed(ctx, post, store.Mail{PartyID: w.PartyID}, w.Papers, w.Content)
	var known *outgoing.Error
	if errors.As(err, &known) {
		return nil, posting.Refusals{{Field: "papers", Rule: "not mailed", Text: posting.Sentence(known.Text) + "."}}
	}
	return files, err
}

// hand gives a mail to the server that takes it.
func (b *Book) hand(ctx context.Context, post Post, a store.MailAccount, msg outgoing.Message) error {
	server := outgoing.Server{Host: a.Host, Port: a.Port, TLS: outgoing.TLS(a.Way), Username: a.Username}
	switch a.Way {
	case "":
		return &outgoing.Error{Text: "nothing is mailed: Setup, Mail says from where it would go"}
	case "stand-in":
		if server = post.StandIn; server.Host == "" {
			return &outgoing.Error{Text: "the stand-in for a mail server does not run here. Setup, Mail says from where mail goes"}
		}
	}
	word, err := b.MailPassword()
	if err != nil {
		return err
	}
	server.Password = word
	return outgoing.Send(ctx, server, msg)
}

// TryMail sends a mail with nothing in it to say whether mail goes. It returns
// posting.Refusals that say why not.
func (b *Book) TryMail(ctx context.Context, post Post, to string) error {
	var v validation
	all, err := outgoing.Addresses(to)
	if err != nil || len(all) != 1 {
		v.refuse("to", "no address", "Say to which address the trial goes, name@firm.example for one.")
		return v.err()
	}
	a, err := b.Read(ctx).MailAccount()
	if err != nil {
		return err
	}
	msg := outgoing.Message{ID: rand.Text() + "@" + afterAt(a.FromAddress), From: outgoing.Address{Name: a.FromName, Mail: a.FromAddress}, To: all, Subject: "A trial", Text: "Mail from the books arrives.\n", Date: b.clock()}
	err = b.hand(ctx, post, a, msg)
	var known *outgoing.Error
	if errors.As(err, &known) {
		v.refuse("to", "not sent", "%s.", posting.Sentence(strings.TrimSuffix(known.Text, ".")))
		return v.err()
	}
	return err
}

// MailedFile returns what went with a mail, by its place, or store.ErrNoRecord.
func (b *Book) MailedFile(ctx context.Context, id int64, position int) (store.MailFile, []byte, error) {
	files, err := b.Read(ctx).MailFiles(id)
	if err != nil {
		return store.MailFile{}, nil, err
	}
	for _, f := range files {
		if f.Position == position {
			data, err := b.keptFile(f.Hash)
			if errors.Is(err, errChanged) {
				err = fmt.Errorf("the file %s is not what was sent: it was changed", f.Name)
			}
			return f, data, err
		}
	}
	return store.MailFile{}, nil, store.ErrNoRecord
}
