package cleantally_test

import (
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
)

// What a person reads on screen: text between tags, and what labels, titles
// and names say.
var onScreen = regexp.MustCompile(`>([^<>{}=;]*[a-z][^<>{}=;]*)<|(?:label|title|placeholder|aria-label|name|says|leads|step)(?:=|: )["'` + "`" + `]([^"'` + "`" + `\n]+)["'` + "`" + `]`)

// The list that docs/interface.md keeps is held: one word an act, none of the
// program's own keys, no protocol, no command.
func TestWordsOnScreen(t *testing.T) {
	doc, err := os.ReadFile("docs/interface.md")
	if err != nil {
		t.Fatal(err)
	}
	var never []*regexp.Regexp
	for _, line := range strings.Split(string(doc), "\n") {
		if words, ok := strings.CutPrefix(line, "| never | "); ok {
			for _, w := range strings.Split(strings.TrimSuffix(words, " |"), ", ") {
				never = append(never, regexp.MustCompile(`(?i)\b`+regexp.QuoteMeta(w)+`\b`))
			}
		}
	}
	if len(never) < 10 {
		t.Fatalf("docs/interface.md says only %d words that never stand on screen", len(never))
	}
	seen := 0
	err = filepath.WalkDir("ui/src", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || strings.Contains(path, "schema.d.ts") || !strings.HasSuffix(path, ".ts") && !strings.HasSuffix(path, ".tsx") {
			return err
		}
		text, err := os.ReadFile(path)
		for _, m := range onScreen.FindAllStringSubmatch(string(text), -1) {
			said := m[1] + m[2]
			if !strings.Contains(said, " ") && m[1] == "" && strings.ToLower(said) == said {
				continue // a name in the code
			}
			seen++
			for _, w := range never {
				if w.MatchString(said) {
					t.Errorf("%s says %q: %s", path, strings.TrimSpace(said), w)
				}
			}
		}
		return err
	})
	if err != nil || seen < 500 {
		t.Errorf("%d texts, %v", seen, err)
	}
}

// What the pages on security and reliability say is proved, is proved by tests
// that are there.
func TestPagesNameTests(t *testing.T) {
	there := map[string]bool{}
	err := filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if d != nil && d.IsDir() && (d.Name() == "node_modules" || d.Name() == "bin") {
			return fs.SkipDir
		}
		if err != nil || !strings.HasSuffix(path, "_test.go") {
			return err
		}
		text, err := os.ReadFile(path)
		for _, m := range regexp.MustCompile(`(?m)^func ((?:Test|Fuzz)\w+)\(`).FindAllStringSubmatch(string(text), -1) {
			there[m[1]] = true
		}
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
	for _, page := range []string{"docs/security.md", "docs/reliability.md"} {
		text, err := os.ReadFile(page)
		if err != nil {
			t.Fatal(err)
		}
		for _, name := range regexp.MustCompile(`\b(?:Test|Fuzz)[A-Z]\w+`).FindAllString(string(text), -1) {
			if !there[name] {
				t.Errorf("%s names %s, which is not there", page, name)
			}
		}
	}
}
