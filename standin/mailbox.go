// Package standin holds what stands in for services outside: a mailbox that
// takes mail as a mail server does and shows what customers got, and a gateway
// that takes made-up cards.
package standin

import (
	"bytes"
	"cmp"
	"context"
	_ "embed"
	"encoding/base64"
	"errors"
	"fmt"
	"html/template"
	"io"
	"mime"
	"mime/multipart"
	"mime/quotedprintable"
	"net"
	"net/http"
	"net/mail"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/emersion/go-smtp"
)

// mostMails is how many mails the mailbox keeps.
const mostMails = 500

// Mailbox takes mail for anybody. Addresses below refuses.example are refused
// for good; those below later.example are taken from the third try on.
type Mailbox struct {
	dir string
	mu  sync.Mutex
	// Guarded by mu.
	tries map[string]int // of addresses below later.example, by address and message
	next  int
}

// NewMailbox returns a mailbox that keeps its mails in dir.
func NewMailbox(dir string) (*Mailbox, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	b := &Mailbox{dir: dir, tries: map[string]int{}, next: 1}
	all, err := b.numbers()
	if len(all) > 0 {
		b.next = all[0] + 1
	}
	return b, err
}

// Take listens for mail until ctx ends.
func (b *Mailbox) Take(ctx context.Context, l net.Listener) error {
	server := smtp.NewServer(smtp.BackendFunc(func(*smtp.Conn) (smtp.Session, error) { return &session{box: b}, nil }))
	server.Domain = "mailbox.example"
	server.ReadTimeout, server.WriteTimeout = 30*time.Second, 30*time.Second
	server.MaxMessageBytes, server.MaxRecipients = 40<<20, 100
	go func() {
		<-ctx.Done()
		server.Close()
	}()
	if err := server.Serve(l); err != nil && !errors.Is(err, smtp.ErrServerClosed) && ctx.Err() == nil {
		return err
	}
	return nil
}

// A session is one mail that is being handed over.
type session struct {
	box *Mailbox
	to  []string
}

func (s *session) Mail(string, *smtp.MailOptions) error { s.to = nil; return nil }
func (s *session) Reset()                               { s.to = nil }
func (s *session) Logout() error                        { return nil }

func (s *session) Rcpt(to string, _ *smtp.RcptOptions) error {
	switch _, domain, _ := strings.Cut(strings.ToLower(to), "@"); domain {
	case "refuses.example":
		return &smtp.SMTPError{Code: 550, EnhancedCode: smtp.EnhancedCode{5, 1, 1}, Message: "there is nobody of that name here"}
	case "later.example":
		s.box.mu.Lock()
		defer s.box.mu.Unlock()
		if s.box.tries[to]++; s.box.tries[to] < 3 {
			return &smtp.SMTPError{Code: 451, EnhancedCode: smtp.EnhancedCode{4, 2, 0}, Message: "please try again later"}
		}
		delete(s.box.tries, to)
	}
	s.to = append(s.to, to)
	return nil
}

func (s *session) Data(r io.Reader) error {
	content, err := io.ReadAll(r)
	if err != nil {
		return err
	}
	return s.box.keep(append([]byte("X-Delivered-To: "+strings.Join(s.to, ", ")+"\r\n"), content...))
}

func (b *Mailbox) keep(content []byte) error {
	b.mu.Lock()
	defer b.mu.Unlock()
	if err := os.WriteFile(b.file(b.next), content, 0o600); err != nil {
		return err
	}
	b.next++
	all, err := b.numbers()
	for _, old := range all[min(len(all), mostMails):] {
		err = errors.Join(err, os.Remove(b.file(old)))
	}
	return err
}

func (b *Mailbox) file(n int) string { return filepath.Join(b.dir, fmt.Sprintf("%06d.eml", n)) }

// numbers are those of the mails that are kept, the newest first.
func (b *Mailbox) numbers() ([]int, error) {
	files, err := filepath.Glob(filepath.Join(b.dir, "*.eml"))
	var all []int
	for _, f := range files {
		if n, err := strconv.Atoi(strings.TrimSuffix(filepath.Base(f), ".eml")); err == nil {
			all = append(all, n)
		}
	}
	slices.SortFunc(all, func(x, y int) int { return cmp.Compare(y, x) })
	return all, err
}

// A letter is a mail as the page shows it.
type letter struct {
	N                                    int
	From, To, Copies, Delivered, Subject string
	Date                                 time.Time
	Text                                 string
	Files                                []enclosed
}

type enclosed struct {
	N          int
	Name, Type string
	Size       int
	content    []byte
}

var words = new(mime.WordDecoder)

func (b *Mailbox) read(n int) (letter, error) {
	content, err := os.ReadFile(b.file(n))
	if err != nil {
		return letter{}, err
	}
	m, err := mail.ReadMessage(bytes.NewReader(content))
	if err != nil {
		return letter{}, err
	}
	said := func(name string) string {
		text, err := words.DecodeHeader(m.Header.Get(name))
		if err != nil {
			return m.Header.Get(name)
		}
		return text
	}
	l := letter{N: n, From: said("From"), To: said("To"), Copies: said("Cc"), Delivered: said("X-Delivered-To"), Subject: said("Subject")}
	l.Date, _ = m.Header.Date()
	return l, l.parts(m.Header.Get("Content-Type"), m.Header.Get("Content-Transfer-Encoding"), m.Header.Get("Content-Disposition"), m.Body)
}

// parts reads what a mail is made of.
func (l *letter) parts(kind, encoding, disposition string, body io.Reader) error {
	media, params, err := mime.ParseMediaType(kind)
	if err != nil {
		media = "text/plain"
	}
	if strings.HasPrefix(media, "multipart/") {
		r := multipart.NewReader(body, params["boundary"])
		for {
			p, err := r.NextRawPart()
			if err == io.EOF {
				return nil
			}
			if err != nil {
				return err
			}
			if err := l.parts(p.Header.Get("Content-Type"), p.Header.Get("Content-Transfer-Encoding"), p.Header.Get("Content-Disposition"), p); err != nil {
				return err
			}
		}
	}
	switch strings.ToLower(encoding) {
	case "quoted-printable":
		body = quotedprintable.NewReader(body)
	case "base64":
		body = base64.NewDecoder(base64.StdEncoding, body)
	}
	content, err := io.ReadAll(body)
	if err != nil {
		return err
	}
	how, named, _ := mime.ParseMediaType(disposition)
	switch {
	case how == "attachment":
		name, err := words.DecodeHeader(named["filename"])
		if err != nil {
			name = named["filename"]
		}
		l.Files = append(l.Files, enclosed{len(l.Files) + 1, name, media, len(content), content})
	case media == "text/plain":
		l.Text += string(content)
	}
	return nil
}

//go:embed mailbox.html
var mailboxHTML string

var mailboxPage = template.Must(template.New("mailbox").Parse(mailboxHTML))

// ServeHTTP shows what is in the mailbox, a mail, or a file that came with one.
func (b *Mailbox) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	h := w.Header()
	h.Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'")
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Cache-Control", "no-store")
	path := strings.Split(strings.Trim(r.URL.Path, "/"), "/")
	if path[0] == "" {
		b.list(w)
		return
	}
	n, err := strconv.Atoi(path[0])
	if err != nil || len(path) > 2 {
		http.NotFound(w, r)
		return
	}
	l, err := b.read(n)
	if err != nil {
		http.NotFound(w, r)
		return
	}
	if len(path) == 1 {
		showPage(w, mailboxPage, shown{One: &l})
		return
	}
	k, err := strconv.Atoi(path[1])
	if err != nil || k < 1 || k > len(l.Files) {
		http.NotFound(w, r)
		return
	}
	f := l.Files[k-1]
	h.Set("Content-Type", "application/octet-stream")
	if f.Type == "application/pdf" {
		h.Set("Content-Type", f.Type)
	}
	h.Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": f.Name}))
	_, _ = w.Write(f.content)
}

func (b *Mailbox) list(w http.ResponseWriter) {
	b.mu.Lock()
	all, err := b.numbers()
	b.mu.Unlock()
	if err != nil {
		http.Error(w, err.Error(), http.StatusInternalServerError)
		return
	}
	var letters []letter
	for _, n := range all {
		if l, err := b.read(n); err == nil {
			letters = append(letters, l)
		}
	}
	showPage(w, mailboxPage, shown{All: letters})
}

// shown is a mail, or all of them.
type shown struct {
	One *letter
	All []letter
}
