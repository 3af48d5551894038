package standin_test

import (
	"context"
	"errors"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"cleantally/formats/mail"
	"cleantally/standin"
)

// The mailbox takes mail for anybody and shows it with its files; what it shows
// runs nothing; it is there again after a restart.
func TestMailbox(t *testing.T) {
	dir := t.TempDir()
	box, err := standin.NewMailbox(dir)
	if err != nil {
		t.Fatal(err)
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	ctx, cancel := context.WithCancel(context.Background())
	taken := make(chan error, 1)
	go func() { taken <- box.Take(ctx, l) }()
	t.Cleanup(func() {
		cancel()
		if err := <-taken; err != nil {
			t.Error(err)
		}
	})
	server := mail.Server{Host: "127.0.0.1", Port: l.Addr().(*net.TCPAddr).Port, TLS: mail.Never}
	send := func(to string) error {
		return mail.Send(t.Context(), server, mail.Message{ID: "a@sw.example", From: mail.Address{Name: "Wrén Sparrow", Mail: "w@sw.example"}, To: []string{to}, Copies: []string{"c@sw.example"}, Unseen: []string{"u@sw.example"},
			Subject: "Tür <b>& Tor", Text: "Grüße\n\n<script>alert(1)</script> https://sw.example/p/ABC", Files: []mail.File{{Name: "Rechnung ü.pdf", Type: "application/pdf", Content: []byte("%PDF-1.7")}, {Name: "page.html", Type: "text/html", Content: []byte("<script>alert(2)</script>")}}})
	}
	if err := send("a@customer.example"); err != nil {
		t.Fatal(err)
	}
	var why *mail.Error
	if err := send("a@refuses.example"); !errors.As(err, &why) || !why.Final {
		t.Errorf("refused for good: %v", err)
	}
	for n := range 3 {
		if err := send("a@later.example"); (err == nil) != (n == 2) || err != nil && errors.As(err, &why) && why.Final {
			t.Errorf("later, try %d: %v", n+1, err)
		}
	}
	again, err := standin.NewMailbox(dir)
	if err != nil {
		t.Fatal(err)
	}
	pages := httptest.NewServer(again)
	defer pages.Close()
	get := func(path string) (*http.Response, string) {
		res, err := http.Get(pages.URL + path)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		text, err := io.ReadAll(res.Body)
		if err != nil {
			t.Fatal(err)
		}
		return res, string(text)
	}
	_, list := get("/")
	if strings.Count(list, "Tür &lt;b&gt;&amp; Tor") != 2 {
		t.Errorf("the list: %s", list)
	}
	res, one := get("/1")
	for _, want := range []string{"Wrén Sparrow", "a@customer.example", "c@sw.example, u@sw.example", "Grüße", "&lt;script&gt;alert(1)", "Rechnung ü.pdf"} {
		if !strings.Contains(one, want) {
			t.Errorf("the mail does not say %q: %s", want, one)
		}
	}
	if strings.Contains(one, "<script") || !strings.Contains(res.Header.Get("Content-Security-Policy"), "default-src 'none'") {
		t.Errorf("it would run something: %v %s", res.Header, one)
	}
	if res, file := get("/1/1"); file != "%PDF-1.7" || res.Header.Get("Content-Type") != "application/pdf" {
		t.Errorf("its file: %v %q", res.Header, file)
	}
	if res, _ := get("/1/2"); res.Header.Get("Content-Type") != "application/octet-stream" || !strings.HasPrefix(res.Header.Get("Content-Disposition"), "attachment") {
		t.Errorf("a page that came along is shown: %v", res.Header)
	}
	for _, path := range []string{"/9", "/1/9", "/x", "/1/2/3", "/../1"} {
		if res, _ := get(path); res.StatusCode != 404 {
			t.Errorf("%s: %d", path, res.StatusCode)
		}
	}
}

// A server that is not there, or not secret where it should be, is said in a
// sentence, and tried again.
func TestServersThatAreNotThere(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	port := l.Addr().(*net.TCPAddr).Port
	l.Close()
	for _, how := range []mail.TLS{mail.Never, mail.StartTLS, mail.Always} {
		err := mail.Send(t.Context(), mail.Server{Host: "127.0.0.1", Port: port, TLS: how}, mail.Message{ID: "a@b.example", From: mail.Address{Mail: "a@b.example"}, To: []string{"c@d.example"}, Subject: "s", Text: "t"})
		var why *mail.Error
		if !errors.As(err, &why) || why.Final || !strings.HasPrefix(why.Text, "the mail server cannot be reached") {
			t.Errorf("%s: %v", how, err)
		}
	}
}
