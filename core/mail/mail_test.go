package mail_test

import (
	"strings"
	"testing"
	"time"

	"cleantally/core/mail"
	"cleantally/core/posting"
)

// The words are those of the kind in the language; else of the kind; else of all
// kinds in the language; else of all; else the program's own.
func TestChoose(t *testing.T) {
	all := []mail.Template{
		{Name: "all"}, {Name: "all, de", Language: "Deutsch"},
		{Name: "invoice", Kinds: []posting.Kind{posting.Invoice}}, {Name: "invoice, de", Kinds: []posting.Kind{posting.Quote, posting.Invoice}, Language: "Deutsch"},
	}
	for _, x := range []struct {
		kind     posting.Kind
		language string
		want     string
	}{{posting.Invoice, "deutsch", "invoice, de"}, {posting.Invoice, "", "invoice"}, {posting.Invoice, "Français", "invoice"}, {posting.Quote, "Deutsch", "invoice, de"}, {posting.CreditNote, "Deutsch", "all, de"}, {posting.CreditNote, "Français", "all"}} {
		if got := mail.Choose(all, x.kind, x.language); got.Name != x.want {
			t.Errorf("%s in %q: %q, want %q", x.kind, x.language, got.Name, x.want)
		}
	}
	if got := mail.Choose(all[3:], posting.Receipt, ""); got.Name != "" || got.Text == "" {
		t.Errorf("without one: %+v", got)
	}
	// The program's own name only fields that there are.
	for _, k := range posting.Kinds() {
		own := mail.Own(k.Kind)
		if unknown := append(mail.Unknown(own.Subject), mail.Unknown(own.Text)...); len(unknown) > 0 || !strings.Contains(own.Text, "{link}") {
			t.Errorf("%s: %v in %q", k.Kind, unknown, own.Text)
		}
	}
}

func TestFill(t *testing.T) {
	f := mail.Fields{"number": "I26-1", "contact": "", "left": "0.00 EUR"}
	for text, want := range map[string]string{
		"Invoice {number}":                "Invoice I26-1",
		"a\n{contact}\nb":                 "a\nb",
		"a\n\n{contact}\n\nb":             "a\n\nb",
		"{number} {contact} {left}\n":     "I26-1  0.00 EUR\n",
		"{link} stays for later {nobody}": "{link} stays for later {nobody}",
		"{NUMBER} { number }":             "{NUMBER} { number }",
		"":                                "",
	} {
		if got := mail.Fill(text, f); got != want {
			t.Errorf("%q is filled as %q, want %q", text, got, want)
		}
	}
	if got := mail.Unknown("{number} {nummer} {nummer} {x}"); strings.Join(got, " ") != "nummer x" {
		t.Errorf("unknown: %v", got)
	}
}

// A mail is tried for a day, with growing pauses.
func TestPause(t *testing.T) {
	var all, before time.Duration
	for n := 1; ; n++ {
		pause, again := mail.Pause(n)
		if !again {
			break
		}
		if pause <= before {
			t.Errorf("pause %d is %s, after %s", n, pause, before)
		}
		all, before = all+pause, pause
	}
	if all < 20*time.Hour || all > 30*time.Hour {
		t.Errorf("it is tried for %s", all)
	}
	if _, again := mail.Pause(0); again {
		t.Error("a pause before the first try")
	}
}
