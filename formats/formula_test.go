package formats

import (
	"strings"
	"testing"

	"github.com/shopspring/decimal"
)

// What a spreadsheet would run is written so that none does, however it is
// hidden and wherever cells are split; read back, it is what it was.
func TestFormulas(t *testing.T) {
	for cell, want := range map[string]string{
		"=SUM(A1)": "'=SUM(A1)", "+cmd": "'+cmd", "@x": "'@x", "-5.00": "-5.00", "+3": "+3", "-": "'-", "": "", "plain": "plain", "'plain'": "'plain'", "'=x": "''=x", "''=x": "'''=x",
		"＝1+1": "'＝1+1", "＋1": "'＋1", "－x": "'－x", "＠x": "'＠x", " =x": "' =x", "\u200b=x": "'\u200b=x", "\ufeff\u00a0=x": "'\ufeff\u00a0=x", "\u202e\u200d@x": "'\u202e\u200d@x",
		"a;=x": "a;'=x", "a; =x;b": "a;' =x;b", "a\t=x": "a\t'=x", "one\n- two": "one\n'- two", "a=b": "a=b", "a - b": "a - b", "x@y.example": "x@y.example", "a;b": "a;b", "12-15; 20": "12-15; 20",
		"=a;=b": "'=a;'=b", ";;=": ";;'=",
	} {
		if got := asText(cell); got != want {
			t.Errorf("%q is written as %q, want %q", cell, got, want)
		}
		if got := asWritten(asText(cell)); got != cell {
			t.Errorf("%q came back as %q", cell, got)
		}
	}
}

// Any text at all comes back as it was, and nothing that is written begins a
// formula, where cells end at commas, semicolons, tabs or the ends of lines.
func FuzzFormulas(f *testing.F) {
	for _, cell := range []string{"=1", "a;=1", "''=", "\u200b＝", "x\n\t'@", "+-;'+-", " ; = ", "\x00=\x00", "=\n=\t=", "\t\t=", "';'=", "\n'\n="} {
		f.Add(cell)
	}
	f.Fuzz(func(t *testing.T, cell string) {
		safe := asText(cell)
		if got := asWritten(safe); got != cell {
			t.Errorf("%q came back as %q, by %q", cell, got, safe)
		}
		if _, err := decimal.NewFromString(cell); err == nil {
			return
		}
		for _, part := range strings.FieldsFunc(safe, func(r rune) bool { return strings.ContainsRune(";\t\r\n", r) }) {
			if seen := strings.TrimLeft(part, " \u00a0\u200b\ufeff"); seen != "" && strings.ContainsRune("=+-@＝＋－＠", []rune(seen)[0]) {
				t.Errorf("%q of %q would run", part, safe)
			}
		}
	})
}
