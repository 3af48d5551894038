package sheet

import (
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
)

// Of papers that customers do not get: no letterhead has words for them.
var ours = []string{"Left to us", "Kept back by us", "Worth"}

// All that a sheet says of its own can be said in other words.
func TestWordsAreAll(t *testing.T) {
	files, err := filepath.Glob("*.go")
	if err != nil {
		t.Fatal(err)
	}
	said := regexp.MustCompile(`(?:d\.say|d\.column|d\.figure|add|sum\("\w*", d\.say)\("([^"]+)"`)
	for _, name := range files {
		if strings.HasSuffix(name, "_test.go") || name == "words.go" {
			continue
		}
		text, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		for _, m := range said.FindAllStringSubmatch(string(text), -1) {
			if !slices.Contains(Words, m[1]) && !slices.Contains(ours, m[1]) {
				t.Errorf("%s says %q, which no letterhead can say otherwise", name, m[1])
			}
		}
	}
	for n, w := range Words {
		if slices.Index(Words, w) != n {
			t.Errorf("%q stands there twice", w)
		}
	}
}

// Words take the place of ours where they say the same things.
func TestWordsFit(t *testing.T) {
	for _, x := range []struct {
		ours, theirs string
		fits         bool
	}{
		{"Net", "Netto", true}, {"Net", "Netto %s", false}, {"Net", "100 %", false}, {"Tax %s %%", "%s %% USt", true}, {"Tax %s %%", "USt", false}, {"Tax %s %%", "%s %d", false}, {"Left to pay by %s", "bis %s%s", false},
	} {
		if Fits(x.ours, x.theirs) != x.fits {
			t.Errorf("%q for %q: %v", x.theirs, x.ours, !x.fits)
		}
	}
	d := Data{Words: map[string]string{"Tax %s %%": "%s %% USt", "Net": "broken %d"}}
	if got := d.say("Tax %s %%", "20") + d.say("Net"); got != "20 % UStNet" {
		t.Errorf("it says %q", got)
	}
}
