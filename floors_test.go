package cleantally_test

import (
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"strings"
	"testing"
)

// Each floor may use those under it, never those above (docs/architecture.md).
// A package stands on the floor of its longest prefix here.
var floors = map[string]int{
	"core/money": 0, "core/day": 0, "core/rights": 0,
	"core/ledger": 1, "core/tax": 1, "core/master": 1,
	"core/posting":   2,
	"core/reporting": 2,
	"core/billing":   3, "core/buying": 3, "core/stock": 3, "core/journal": 3, "core/closing": 3,
	"core/settling":            4, // what becomes of money follows what is billed
	"core/posting/postingtest": 5,
	"core/banking":             3,
	"core/sheet":               5,
	"core/mail":                5,
	"formats":                  6,
	"standin":                  7, // what it stands in for speaks as formats do
	"store":                    7,
	"books":                    8,
	"web":                      9, "demo": 9, "ui": 9,
	"cmd/cleantally": 10, "bench": 10,
}

// What the core may not know of: no database, no HTTP, no clock's consequences.
var banned = []string{"database/", "net", "os", "gorm.io", "github.com/labstack", "github.com/danielgtaylor", "math/rand"}

func floorOf(path string) (string, int, bool) {
	for p := path; p != "."; p = filepath.Dir(p) {
		if n, ok := floors[p]; ok {
			return p, n, true
		}
	}
	return "", 0, false
}

func TestFloors(t *testing.T) {
	err := filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() && (d.Name() == "node_modules" || d.Name() == ".git") {
			return filepath.SkipDir
		}
		if d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return nil
		}
		own, floor, ok := floorOf(filepath.Dir(path))
		if !ok {
			t.Errorf("%s stands on no floor: name its place in floors", path)
			return nil
		}
		file, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
		if err != nil {
			return err
		}
		for _, i := range file.Imports {
			name := strings.Trim(i.Path.Value, `"`)
			if inner, ours := strings.CutPrefix(name, "cleantally/"); ours {
				if other, n, _ := floorOf(inner); other != own && n >= floor {
					t.Errorf("%s is on the floor of %s and may not use %s", path, own, name)
				}
			}
			if !strings.HasPrefix(own, "core/") || own == "core/posting/postingtest" {
				continue
			}
			for _, b := range banned {
				if name == b || strings.HasPrefix(name, strings.TrimSuffix(b, "/")+"/") {
					t.Errorf("%s is in the core and may not use %s", path, name)
				}
			}
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
}
