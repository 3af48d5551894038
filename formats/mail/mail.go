// Package mail writes mails and hands them to a mail server.
package mail

import (
	"bytes"
	"context"
	"crypto/tls"
	"crypto/x509"
	"errors"
	"fmt"
	"html/template"
	netmail "net/mail"
	"regexp"
	"strings"
	"time"

	"github.com/wneessen/go-mail"
)

// A Server takes mail to deliver it.
type Server struct {
	Host     string
	Port     int
	TLS      TLS
	Username string // "" for none
	Password string
	Roots    *x509.CertPool // who may vouch for it; nil for those of this machine
}

// TLS is how the way to a server is kept secret.
type TLS string

// From the first word on; asked for, and wanted; not at all.
const (
	Always   TLS = "tls"
	StartTLS TLS = "starttls"
	Never    TLS = "none"
)

// Message is a mail as it goes.
type Message struct {
	ID      string // its message ID, without the angles
	From    Address
	ReplyTo string
	To      []string
	Copies  []string
	Unseen  []string // copies that the others do not know of
	Subject string
	Text    string
	Files   []File
	Date    time.Time
}

// Address is where mail comes from.
type Address struct{ Name, Mail string }

// File goes with a mail.
type File struct {
	Name, Type string
	Content    []byte
}

// mostWait is how long a server may take for one mail.
const mostWait = 60 * time.Second

// An Error says why a mail did not go.
type Error struct {
	Text  string
	Final bool // trying again will not help
}

func (e *Error) Error() string { return e.Text }

// Send hands a mail to a server. It returns an *Error.
func Send(ctx context.Context, s Server, m Message) error {
	msg, err := m.written()
	if err != nil {
		return &Error{Text: err.Error(), Final: true}
	}
	options := []mail.Option{mail.WithPort(s.Port), mail.WithTimeout(mostWait), mail.WithTLSConfig(&tls.Config{ServerName: s.Host, RootCAs: s.Roots, MinVersion: tls.VersionTLS12})}
	switch s.TLS {
	case Always:
		options = append(options, mail.WithSSL())
	case StartTLS:
		options = append(options, mail.WithTLSPolicy(mail.TLSMandatory))
	default:
		options = append(options, mail.WithTLSPolicy(mail.NoTLS))
	}
	if s.Username != "" {
		auth := mail.SMTPAuthAutoDiscover
		if s.TLS == Never {
			auth = mail.SMTPAuthPlainNoEnc
		}
		options = append(options, mail.WithSMTPAuth(auth), mail.WithUsername(s.Username), mail.WithPassword(s.Password))
	}
	client, err := mail.NewClient(s.Host, options...)
	if err != nil {
		return &Error{Text: "the mail server is not set up: " + err.Error(), Final: true}
	}
	ctx, cancel := context.WithTimeout(ctx, mostWait)
	defer cancel()
	return understood(client.DialAndSendWithContext(ctx, msg))
}

// understood says what a server answered, in a sentence.
func understood(err error) error {
	if err == nil {
		return nil
	}
	var sending *mail.SendError
	if !errors.As(err, &sending) {
		return &Error{Text: "the mail server cannot be reached: " + plain(err.Error())}
	}
	switch sending.Reason {
	case mail.ErrSMTPRcptTo:
		return &Error{Text: "the mail server does not take it for a recipient: " + plain(sending.Error()), Final: !sending.IsTemp()}
	case mail.ErrSMTPMailFrom:
		return &Error{Text: "the mail server does not take it from this sender: " + plain(sending.Error()), Final: !sending.IsTemp()}
	}
	return &Error{Text: "the mail server did not take it: " + plain(sending.Error()), Final: !sending.IsTemp()}
}

// plain is what a server said, on one line and not without end.
func plain(text string) string {
	text = strings.Join(strings.Fields(text), " ")
	if len(text) > 300 {
		text = text[:300]
	}
	return strings.ToValidUTF8(text, "")
}

// Addresses reads e-mail addresses that stand with commas, semicolons or spaces
// between them. It names the first that is none.
func Addresses(text string) ([]string, error) {
	all := []string{}
	for _, one := range strings.FieldsFunc(text, func(r rune) bool { return r == ',' || r == ';' || r == ' ' || r == '\n' }) {
		a, err := netmail.ParseAddress(one)
		if err != nil || a.Address != one || len(one) > 200 || !strings.Contains(one[strings.LastIndex(one, "@")+1:], ".") {
			return nil, fmt.Errorf("%q is no e-mail address. Write it as name@firm.example", one)
		}
		all = append(all, one)
	}
	return all, nil
}

// written is the message as it goes over the line.
func (m Message) written() (*mail.Msg, error) {
	msg := mail.NewMsg()
	err := errors.Join(msg.FromFormat(m.From.Name, m.From.Mail), msg.To(m.To...), msg.Cc(m.Copies...), msg.Bcc(m.Unseen...))
	if m.ReplyTo != "" {
		err = errors.Join(err, msg.ReplyTo(m.ReplyTo))
	}
	if err != nil {
		return nil, err
	}
	page, err := asPage(m.Subject, m.Text)
	if err != nil {
		return nil, err
	}
	msg.Subject(m.Subject)
	msg.SetMessageIDWithValue(m.ID)
	msg.SetDateWithValue(m.Date)
	msg.SetBodyString(mail.TypeTextPlain, m.Text)
	msg.AddAlternativeString(mail.TypeTextHTML, page)
	for _, f := range m.Files {
		if err := msg.AttachReader(f.Name, bytes.NewReader(f.Content), mail.WithFileContentType(mail.ContentType(f.Type))); err != nil {
			return nil, err
		}
	}
	return msg, nil
}

var page = template.Must(template.New("mail").Parse(`<!doctype html><html><head><meta charset="utf-8"><title>{{.Subject}}</title></head><body style="font:16px/1.5 'Source Sans 3',sans-serif;color:#23262b">
{{range .Paragraphs}}<p>{{range $n, $line := .}}{{if $n}}<br>{{end}}{{range $line}}{{if .Link}}<a href="{{.Text}}">{{.Text}}</a>{{else}}{{.Text}}{{end}}{{end}}{{end}}</p>
{{end}}</body></html>`))

// A piece of a line: plain, or the address of a page.
type piece struct {
	Text string
	Link bool
}

var address = regexp.MustCompile(`https?://[^\s<>"]+`)

// asPage is a text as a page: its paragraphs and lines, and addresses that can be
// followed.
func asPage(subject, text string) (string, error) {
	var paragraphs [][][]piece
	for _, p := range strings.Split(strings.TrimSpace(strings.ReplaceAll(text, "\r\n", "\n")), "\n\n") {
		var lines [][]piece
		for _, line := range strings.Split(p, "\n") {
			var pieces []piece
			from := 0
			for _, at := range address.FindAllStringIndex(line, -1) {
				pieces = append(pieces, piece{line[from:at[0]], false}, piece{line[at[0]:at[1]], true})
				from = at[1]
			}
			lines = append(lines, append(pieces, piece{line[from:], false}))
		}
		paragraphs = append(paragraphs, lines)
	}
	var b bytes.Buffer
	err := page.Execute(&b, struct {
		Subject    string
		Paragraphs [][][]piece
	}{subject, paragraphs})
	return b.String(), err
}
