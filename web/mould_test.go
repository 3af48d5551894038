package web_test

import (
	"io/fs"
	"os"
	"testing"
	"testing/fstest"
	"time"

	"cleantally/books"
	"cleantally/core/day"
)

// A mould is the directory of books that many tests begin with: made once, and
// copied for each.
type mould struct {
	fill  func(*testing.T, *books.Book)
	files fstest.MapFS
}

// empty are books that are brought up to date and not set up.
var empty = mould{fill: func(*testing.T, *books.Book) {}}

// open opens a copy in dir.
func (m *mould) open(t *testing.T, dir string, clock func() time.Time, today day.Day) *books.Book {
	t.Helper()
	if m.files == nil {
		m.files = m.made(t, clock, today)
	}
	if err := os.CopyFS(dir, m.files); err != nil {
		t.Fatal(err)
	}
	return opened(t, dir, clock, today)
}

func (m *mould) made(t *testing.T, clock func() time.Time, today day.Day) fstest.MapFS {
	t.Helper()
	dir := t.TempDir()
	book := opened(t, dir, clock, today)
	m.fill(t, book)
	if err := book.Close(); err != nil {
		t.Fatal(err)
	}
	files := fstest.MapFS{}
	there := os.DirFS(dir)
	if err := fs.WalkDir(there, ".", func(path string, entry fs.DirEntry, err error) error {
		if err != nil || entry.IsDir() {
			return err
		}
		data, err := fs.ReadFile(there, path)
		files[path] = &fstest.MapFile{Data: data, Mode: 0o600}
		return err
	}); err != nil {
		t.Fatal(err)
	}
	return files
}

func opened(t *testing.T, dir string, clock func() time.Time, today day.Day) *books.Book {
	t.Helper()
	book, err := books.Open(t.Context(), dir, clock, today)
	if err != nil {
		t.Fatal(err)
	}
	return book
}
