package web

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"cleantally/books"
	"cleantally/core/billing"
	"cleantally/core/day"
	"cleantally/core/mail"
	"cleantally/core/master"
	"cleantally/core/posting"
	outgoing "cleantally/formats/mail"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// MailAccount is from where the firm's mail goes.
type MailAccount struct {
	Version     int64    `json:"version,omitempty" readOnly:"true" doc:"Counts its changes; If-Match needs it"`
	Way         string   `json:"way,omitempty" enum:",stand-in,tls,starttls,none" doc:"How the way to the server is kept secret; empty: nothing is mailed"`
	Host        string   `json:"host,omitempty"`
	Port        int      `json:"port,omitempty"`
	Username    string   `json:"username,omitempty"`
	Password    *string  `json:"password,omitempty" maxLength:"400" writeOnly:"true" doc:"Left out, it stays; it is never told"`
	HasPassword bool     `json:"hasPassword,omitempty" readOnly:"true"`
	FromAddress string   `json:"fromAddress,omitempty"`
	FromName    string   `json:"fromName,omitempty" doc:"Left out, the firm's name"`
	ReplyTo     string   `json:"replyTo,omitempty"`
	CopyTo      string   `json:"copyTo,omitempty" doc:"That the firm gets of all mails, unseen"`
	PagesAt     string   `json:"pagesAt,omitempty" doc:"Where customers reach the program, for links"`
	Fields      []string `json:"fields,omitempty" readOnly:"true" doc:"That templates may name"`
	StandIn     string   `json:"standIn,omitempty" readOnly:"true" doc:"Where the mailbox is read that stands in for everybody's; empty where it does not run"`
}

// MailTemplate are the words of mails.
type MailTemplate struct {
	ID       int64    `json:"id,omitempty"`
	Version  int64    `json:"version,omitempty" readOnly:"true" doc:"Counts its changes; If-Match needs it"`
	Name     string   `json:"name"`
	Kinds    []string `json:"kinds,omitempty" maxItems:"40" doc:"Of papers, statement, reminder; none for all"`
	Language string   `json:"language,omitempty" doc:"As customers have it; empty for the firm's own"`
	Subject  string   `json:"subject"`
	Words    string   `json:"words"`
	Inactive bool     `json:"inactive,omitempty"`
}

// MailBody is a mail that is written.
type MailBody struct {
	Papers      []int64        `json:"papers,omitempty" maxItems:"20" doc:"Of one customer"`
	Customer    int64          `json:"customer,omitempty" doc:"Of a statement"`
	To          string         `json:"to,omitempty" maxLength:"2000" doc:"E-mail addresses, with commas"`
	Copies      string         `json:"copies,omitempty" maxLength:"2000"`
	Subject     string         `json:"subject,omitempty" maxLength:"400"`
	Words       string         `json:"words,omitempty" maxLength:"10000" doc:"A link stands where {link} is"`
	PDF         bool           `json:"pdf,omitempty" doc:"Each paper as a PDF"`
	Electronic  bool           `json:"electronic,omitempty" doc:"Invoices and credit notes as electronic ones too"`
	Certificate bool           `json:"certificate,omitempty" doc:"The certificates of progress claims too"`
	Link        bool           `json:"link,omitempty" doc:"A link to the first paper, or to the statement"`
	Attachments []int64        `json:"attachments,omitempty" maxItems:"30"`
	Statement   *MailStatement `json:"statement,omitempty"`
	MailWhen
}

// MailWhen is when mails go.
type MailWhen struct {
	At     string `json:"at,omitempty" doc:"Not before this moment (RFC 3339); left out, at once"`
	ByHand bool   `json:"byHand,omitempty" doc:"It waits until somebody sends it"`
}

// MailStatement says which statement goes with a mail.
type MailStatement struct {
	From    string `json:"from,omitempty"`
	Through string `json:"through"`
	Open    bool   `json:"open,omitempty" doc:"Of open items, in place of a span"`
}

// MailFile goes with a mail.
type MailFile struct {
	Position int    `json:"position"`
	Name     string `json:"name"`
	Type     string `json:"type"`
	Size     string `json:"size" doc:"To be read"`
}

// MailPreview is a mail as it will look.
type MailPreview struct {
	MailBody
	About string       `json:"about" doc:"What goes, and to whom"`
	From  string       `json:"from"`
	Text  string       `json:"text" doc:"As it will be read"`
	Files []MailFile   `json:"files"`
	Own   []Attachment `json:"own" doc:"What could go along of what is attached"`
	Links bool         `json:"links" doc:"Whether a link can go along"`
	Claim bool         `json:"claim" doc:"Whether a certificate could go along"`
	Norm  bool         `json:"norm" doc:"Whether something could go as an electronic invoice"`
	Ready bool         `json:"ready" doc:"Whether it is set up from where mail goes"`
}

// MailRow is a mail that goes out, or went.
type MailRow struct {
	ID         int64    `json:"id"`
	State      string   `json:"state" enum:"waiting,by hand,sent,failed,stopped"`
	CustomerID int64    `json:"customerId"`
	Customer   string   `json:"customer"`
	Kind       string   `json:"kind"`
	Numbers    string   `json:"numbers" doc:"Of its papers"`
	To         []string `json:"to"`
	Copies     []string `json:"copies"`
	Subject    string   `json:"subject"`
	Made       string   `json:"made" doc:"UTC"`
	User       string   `json:"user"`
	Due        string   `json:"due" doc:"UTC; when it is tried, or tried again"`
	Tries      int      `json:"tries"`
	Reason     string   `json:"reason" doc:"Why the last try failed"`
	Sent       string   `json:"sent" doc:"UTC"`
	FirstSeen  string   `json:"firstSeen" doc:"UTC; of the link that went along"`
	LastSeen   string   `json:"lastSeen"`
}

// Mail is one of them, as it went.
type Mail struct {
	MailRow
	Words  string     `json:"words"`
	Papers []int64    `json:"papers"`
	Link   bool       `json:"link" doc:"Whether a link goes along"`
	Files  []MailFile `json:"files"`
}

// Mails are what goes out and what went.
type Mails struct {
	Rows []MailRow `json:"rows"`
	Next int64     `json:"next,omitempty" doc:"The last row, to go on from"`
}

func (b MailBody) wanted() (w books.MailWanted, err error) {
	w = books.MailWanted{Papers: b.Papers, PartyID: b.Customer, To: b.To, Copies: b.Copies, Subject: b.Subject, Words: b.Words,
		Content: books.MailContent{PDF: b.PDF, Electronic: b.Electronic, Certificate: b.Certificate, Link: b.Link, Attachments: b.Attachments}}
	if b.Statement != nil {
		for field, d := range map[string]string{"statement.from": b.Statement.From, "statement.through": b.Statement.Through} {
			if _, err := day.Parse(d); err != nil && (d != "" || field == "statement.through") {
				return w, refusedProblem(posting.Refusals{{Field: field, Rule: "no such day", Text: posting.Sentence(err.Error()) + "."}})
			}
		}
		w.Content.Statement = &books.Statement{From: b.Statement.From, Through: b.Statement.Through, Open: b.Statement.Open}
	}
	w.MailWhen, err = b.MailWhen.when()
	return w, err
}

// when reads when a mail goes.
func (b MailWhen) when() (w books.MailWhen, err error) {
	w.ByHand = b.ByHand
	if b.At != "" {
		if w.Due, err = time.Parse(time.RFC3339, b.At); err != nil {
			return w, refusedProblem(posting.Refusals{{Field: "at", Rule: "no such time", Text: "Say the day and the time at which it goes."}})
		}
	}
	return w, nil
}

// mailsAPage is how many mails are told at a time.
const mailsAPage = 50

func mailRow(m store.Mail) MailRow {
	r := MailRow{ID: m.ID, State: m.State, CustomerID: m.PartyID, Customer: m.Party, Kind: string(m.Kind), Numbers: m.Numbers, To: []string{}, Copies: []string{}, Subject: m.Subject, Made: m.MadeAt, User: m.User, Due: m.Due, Tries: m.Tries, Reason: m.Reason, Sent: m.SentAt, FirstSeen: m.FirstSeen, LastSeen: m.LastSeen}
	// What is not a list of addresses was never stored as one.
	_ = json.Unmarshal([]byte(m.Recipients), &r.To)
	_ = json.Unmarshal([]byte(m.Copies), &r.Copies)
	return r
}

func mailRows(all []store.Mail) []MailRow {
	rows := make([]MailRow, len(all))
	for n, m := range all {
		rows[n] = mailRow(m)
	}
	return rows
}

func (s *Server) mailAccount(ctx context.Context) (*struct{ Body MailAccount }, error) {
	a, err := s.book.Read(ctx).MailAccount()
	if err != nil {
		return nil, problem(err)
	}
	word, err := s.book.MailPassword()
	return &struct{ Body MailAccount }{MailAccount{Version: a.Version, Way: a.Way, Host: a.Host, Port: a.Port, Username: a.Username, HasPassword: word != "", FromAddress: a.FromAddress, FromName: a.FromName, ReplyTo: a.ReplyTo, CopyTo: a.CopyTo, PagesAt: a.PagesAt, Fields: mail.FieldNames, StandIn: s.options.StandIns.Mailbox}}, problem(err)
}

func (s *Server) mailTemplates(ctx context.Context) ([]MailTemplate, error) {
	rows, err := store.All[master.MailTemplate](s.book.Read(ctx), "name")
	var out []MailTemplate
	for _, m := range rows {
		t := MailTemplate{ID: m.ID, Version: m.Version, Name: m.Name, Language: m.Language, Subject: m.Subject, Words: m.Words, Inactive: m.Inactive}
		if err := json.Unmarshal([]byte(m.Kinds), &t.Kinds); err != nil {
			return nil, err
		}
		out = append(out, t)
	}
	return out, err
}

func (s *Server) saveMailTemplate(ctx context.Context, id int64, t MailTemplate, _ *parser) error {
	kinds, err := json.Marshal(orEmpty(t.Kinds))
	if err != nil {
		return err
	}
	m := master.MailTemplate{ID: id, Version: t.Version, Name: t.Name, Kinds: string(kinds), Language: t.Language, Subject: t.Subject, Words: t.Words, Inactive: t.Inactive}
	return s.book.SaveMailTemplate(ctx, s.user(ctx), &m)
}

// post is how mail leaves the house.
func (s *Server) post() books.Post {
	return books.Post{StandIn: s.options.StandIns.Mail, LinkPath: s.options.At + linkPath, Statement: s.statementFor}
}

// statementFor writes the statement that goes with a mail.
func (s *Server) statementFor(ctx context.Context, party int64, of books.Statement) (outgoing.File, error) {
	f, err := s.statementsPDF(ctx, &statementsInput{IDs: []int64{party}, From: of.From, Through: of.Through, Open: of.Open})
	if err != nil {
		return outgoing.File{}, err
	}
	return outgoing.File{Name: "Statement " + of.Through + ".pdf", Type: f.ContentType, Content: f.Body}, nil
}

// previewMail answers a mail as it will look; what is not said of it yet is
// proposed when propose is true.
func (s *Server) previewMail(ctx context.Context, b MailBody, propose bool) (*struct{ Body MailPreview }, error) {
	w, err := b.wanted()
	if err != nil {
		return nil, err
	}
	if propose {
		if w, err = s.book.ProposeMail(ctx, w); err != nil {
			return nil, problem(err)
		}
	}
	a, err := s.book.Read(ctx).MailAccount()
	if err != nil {
		return nil, problem(err)
	}
	b.Customer, b.To, b.Copies, b.Subject, b.Words = w.PartyID, w.To, w.Copies, w.Subject, w.Words
	out := MailPreview{MailBody: b, From: a.FromAddress, Files: []MailFile{}, Own: []Attachment{}, Links: a.PagesAt != "", Ready: a.Way != ""}
	if out.About, err = s.nameOf(ctx, b); err != nil {
		return nil, problem(err)
	}
	link := ""
	if b.Link {
		link = a.PagesAt + s.options.At + linkPath + "…"
	}
	out.Text = mail.Fill(w.Words, mail.Fields{mail.LinkField: link})
	files, err := s.book.Enclosed(ctx, s.post(), w)
	if err != nil {
		return nil, problem(err)
	}
	for n, f := range files {
		out.Files = append(out.Files, MailFile{n + 1, f.Name, f.Type, size(int64(len(f.Content)))})
	}
	for _, id := range b.Papers {
		p, _, err := s.book.Read(ctx).Paper(id)
		if err != nil {
			return nil, problem(err)
		}
		out.Norm, out.Claim = out.Norm || books.Electronic(p), out.Claim || billing.IsClaim(p)
		all, err := s.book.Read(ctx).Attachments(store.AttachedTo{PaperID: id})
		if err != nil {
			return nil, problem(err)
		}
		for _, x := range all {
			if propose && x.GoesOut {
				out.Attachments = append(out.Attachments, x.ID)
			}
			out.Own = append(out.Own, attachment(x))
		}
	}
	return &struct{ Body MailPreview }{out}, nil
}

func (s *Server) mails(ctx context.Context, in *struct {
	State    string `query:"state" enum:"open,waiting,by hand,sent,failed,stopped" doc:"open: what has not gone"`
	Customer int64  `query:"customer"`
	Paper    int64  `query:"paper" doc:"What was mailed of it"`
	Search   string `query:"q" maxLength:"100"`
	After    int64  `query:"after" doc:"The last row that is shown already"`
}) (*struct{ Body Mails }, error) {
	out := &struct{ Body Mails }{}
	var rows []store.Mail
	var err error
	if in.Paper != 0 {
		rows, err = s.book.Read(ctx).MailsOf(in.Paper)
	} else {
		rows, err = s.book.Read(ctx).Mails(store.MailQuery{State: in.State, Party: in.Customer, Text: strings.TrimSpace(in.Search), Before: in.After, Limit: mailsAPage + 1})
		if len(rows) > mailsAPage {
			rows = rows[:mailsAPage]
			out.Body.Next = rows[mailsAPage-1].ID
		}
	}
	out.Body.Rows = mailRows(rows)
	return out, problem(err)
}

func (s *Server) mail(ctx context.Context, id int64) (*struct{ Body Mail }, error) {
	out := &struct{ Body Mail }{}
	return out, problem(s.book.Snapshot(ctx, func(r *store.Reader) error {
		m, there, err := r.Mail(id)
		if err != nil || !there {
			return orNotFound(err)
		}
		var content books.MailContent
		if err := json.Unmarshal([]byte(m.Content), &content); err != nil {
			return err
		}
		out.Body = Mail{MailRow: mailRow(m), Words: m.Words, Link: content.Link, Files: []MailFile{}}
		if out.Body.Papers, err = r.MailPapers(id); err != nil {
			return err
		}
		files, err := r.MailFiles(id)
		for _, f := range files {
			out.Body.Files = append(out.Body.Files, MailFile{f.Position, f.Name, f.Type, size(f.Size)})
		}
		return err
	}))
}

// nameOf is what a mail is about, as one says it.
func (s *Server) nameOf(ctx context.Context, b MailBody) (string, error) {
	r := s.book.Read(ctx)
	if len(b.Papers) > 0 {
		p, _, err := r.Paper(b.Papers[0])
		return fmt.Sprintf("%s, %s", p.Number, p.PartyName), err
	}
	p, _, err := store.Find[master.Party](r, b.Customer)
	return p.Name, err
}

func (s *Server) registerMails() {
	huma.Register(s.api, describe("mail-account", "GET", "/api/v1/mail-account", "From where mail goes"), func(ctx context.Context, _ *struct{}) (*struct{ Body MailAccount }, error) { return s.mailAccount(ctx) })
	huma.Register(s.api, describe("save-mail-account", "PUT", "/api/v1/mail-account", "Say from where mail goes"), func(ctx context.Context, in *struct{ Body MailAccount }) (*struct{ Body MailAccount }, error) {
		b := in.Body
		a := store.MailAccount{Version: b.Version, Way: b.Way, Host: b.Host, Port: b.Port, Username: b.Username, FromAddress: b.FromAddress, FromName: b.FromName, ReplyTo: b.ReplyTo, CopyTo: b.CopyTo, PagesAt: b.PagesAt}
		if err := s.book.SaveMailAccount(ctx, s.user(ctx), a, b.Password); err != nil {
			return nil, problem(err)
		}
		return s.mailAccount(ctx)
	})
	type trial struct {
		Body struct {
			To string `json:"to"`
		}
	}
	huma.Register(s.api, describe("try-mail", "POST", "/api/v1/mail-account/trial", "Send a trial, to see whether mail goes"), func(ctx context.Context, in *trial) (*struct{}, error) {
		return nil, problem(s.book.TryMail(ctx, s.post(), in.Body.To))
	})
	records(s, "mail-templates", "mail template", s.mailTemplates, func(r MailTemplate, v int64) MailTemplate { r.Version = v; return r }, s.saveMailTemplate)
	type input struct{ Body MailBody }
	huma.Register(s.api, describe("propose-mail", "POST", "/api/v1/mails/proposal", "A mail with what is not said of it yet filled in"), func(ctx context.Context, in *input) (*struct{ Body MailPreview }, error) {
		return s.previewMail(ctx, in.Body, true)
	})
	huma.Register(s.api, describe("preview-mail", "POST", "/api/v1/mails/preview", "A mail as it will look"), func(ctx context.Context, in *input) (*struct{ Body MailPreview }, error) {
		return s.previewMail(ctx, in.Body, false)
	})
	huma.Register(s.api, describe("write-mail", "POST", "/api/v1/mails", "Put a mail into the outbox"), func(ctx context.Context, in *input) (*struct{ Body Mail }, error) {
		w, err := in.Body.wanted()
		if err != nil {
			return nil, err
		}
		id, err := s.book.QueueMail(ctx, s.user(ctx), w)
		if err != nil {
			return nil, problem(err)
		}
		s.wakeOutbox()
		return s.mail(ctx, id)
	})
	huma.Register(s.api, describe("mail-many", "POST", "/api/v1/mails/many", "Mail many papers, or statements, each to its customer"), s.mailMany)
	huma.Register(s.api, describe("mails", "GET", "/api/v1/mails", "What goes out by mail, and what went, the newest first"), s.mails)
	type of struct {
		ID int64 `path:"id"`
	}
	huma.Register(s.api, describe("mail", "GET", "/api/v1/mails/{id}", "A mail as it went"), func(ctx context.Context, in *of) (*struct{ Body Mail }, error) { return s.mail(ctx, in.ID) })
	huma.Register(s.api, describe("mailed-file", "GET", "/api/v1/mails/{id}/files/{position}", "A file that went with a mail, as it was"), func(ctx context.Context, in *struct {
		ID       int64 `path:"id"`
		Position int   `path:"position"`
	}) (*attachedFile, error) {
		f, data, err := s.book.MailedFile(ctx, in.ID, in.Position)
		return shownFile(f.Type, f.Name, data), problem(err)
	})
	for _, step := range []struct {
		id, what string
		do       func(ctx context.Context, user, id int64) error
	}{{"send", "Have a mail tried at once", s.book.SendMailNow}, {"stop", "Keep a mail from going", s.book.StopMail}} {
		huma.Register(s.api, describe(step.id+"-mail", "POST", "/api/v1/mails/{id}/"+step.id, step.what), func(ctx context.Context, in *of) (*struct{ Body Mail }, error) {
			if err := step.do(ctx, s.user(ctx), in.ID); err != nil {
				return nil, problem(err)
			}
			s.wakeOutbox()
			return s.mail(ctx, in.ID)
		})
	}
}

// wakeOutbox has the outbox looked at soon.
func (s *Server) wakeOutbox() {
	select {
	case s.outbox <- struct{}{}:
	default: // it is awake
	}
}

// Deliver tries the mails whose time has come, and returns how many went.
func (s *Server) Deliver(ctx context.Context) (int, error) { return s.book.Deliver(ctx, s.post()) }
