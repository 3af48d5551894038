package formats

import (
	"bytes"
	"errors"
	"reflect"
	"strings"
	"testing"
)

func TestCSVComesBack(t *testing.T) {
	in := Table{[]string{"Name", "Amount"}, [][]string{{"=SUM(A1)", "-5.00"}, {"a \"quoted\", one", "1.00"}, {"two\nlines", ""}, {"שלום 🪜", "+3"}}}
	var b bytes.Buffer
	if err := WriteCSV(&b, in); err != nil {
		t.Fatal(err)
	}
	if !strings.Contains(b.String(), "'=SUM(A1)") || strings.Contains(b.String(), "'-5.00") {
		t.Errorf("a formula must not run, a figure must stay: %s", b.String())
	}
	out, err := ReadCSV(&b)
	if err != nil || !reflect.DeepEqual(in, out) {
		t.Errorf("%v came back as %v, %v", in, out, err)
	}
}

func TestReadCSV(t *testing.T) {
	got, err := ReadCSV(strings.NewReader("\xef\xbb\xbfName; Town \nAda;Here\n"))
	if err != nil || got.Header[1] != "Town" || got.Rows[0][1] != "Here" {
		t.Errorf("semicolons and a byte order mark: %v, %v", got, err)
	}
	for text, want := range map[string]error{"Name\n": ErrEmpty, "": ErrEmpty, "Name\n\xff": ErrNotText, "Name\n\x00": ErrNotText, strings.Repeat("a\n", MostRows+2): ErrTooLarge} {
		if _, err := ReadCSV(strings.NewReader(text)); !errors.Is(err, want) {
			t.Errorf("%.20q: %v, want %v", text, err, want)
		}
	}
}

func FuzzReadCSV(f *testing.F) {
	f.Add("Name,Town\nA,B\n")
	f.Add("a;\"b\n;c")
	f.Fuzz(func(t *testing.T, text string) {
		table, err := ReadCSV(strings.NewReader(text))
		if err == nil && (len(table.Header) == 0 || len(table.Rows) == 0) {
			t.Errorf("%q read as a table without rows", text)
		}
	})
}
