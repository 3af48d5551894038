package web

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"time"

	"cleantally/books"
	"cleantally/core/posting"
	"cleantally/store"

	"github.com/labstack/echo/v5"
)

// firmPath is where further firms are served: /firm/NAME/.
const firmPath = "/firm/"

// firmsDir holds the directories of further firms, below that of the first.
const firmsDir = "firms"

// How long the books of a firm stay open that nobody asks for, and how often
// those that are closed are opened for their chores.
const (
	idleFirm    = 10 * time.Minute
	visitFirms  = time.Hour
	mostFirmLen = 40
)

var firmName = regexp.MustCompile(`^[a-z0-9]+(-[a-z0-9]+)*$`)

// An Opener opens the books of a further firm, and what stands in for services
// outside there, until ctx ends.
type Opener func(ctx context.Context, name, dir string) (*books.Book, StandIns, error)

// Firms serves the firms of one program: the first at its own address, each
// other below /firm/NAME, from a directory of its own. They have nothing in
// common: each has its own data file, people, sessions and cookie. The books of a
// further firm are opened when they are asked for and closed when nobody asks.
type Firms struct {
	first   *Server
	dir     string
	open    Opener
	options Options
	// asksWord says that whoever sets up a firm is asked for a word: others than
	// this machine reach the program.
	asksWord bool
	clock    func() time.Time

	mu     sync.Mutex
	served map[string]*servedFirm
	words  map[string]string // of firms that are not set up, by name
	ctx    context.Context   // in which chores are done; nil while nothing is served
}

// servedFirm is a firm whose books are open, or being opened or closed.
type servedFirm struct {
	name    string
	server  *Server
	err     error
	ready   chan struct{} // closed once it is open, or cannot be opened
	gone    chan struct{} // closed once its books are closed
	goOn    func()        // begins its chores
	begun   sync.Once     // whether they are
	end     func()        // ends them and its stand-ins, and waits for them
	asking  int
	last    time.Time // when somebody asked last
	closing bool
}

// NewFirms returns what serves the first firm, whose books are open, and those
// in the directory firms below dir.
func NewFirms(first *books.Book, dir string, open Opener, o Options) *Firms {
	f := &Firms{dir: filepath.Join(dir, firmsDir), open: open, options: o, clock: time.Now, served: map[string]*servedFirm{}, words: map[string]string{}}
	o.firms = f
	f.first = New(first, o)
	return f
}

// AsksWord has whoever sets up a further firm be asked for a word.
func (f *Firms) AsksWord() { f.asksWord = true }

// ServeHTTP has the firm answer whose address it is.
func (f *Firms) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	after, below := strings.CutPrefix(r.URL.Path, firmPath)
	name, _, slash := strings.Cut(after, "/")
	if !below || !f.there(name) {
		f.first.ServeHTTP(w, r)
		return
	}
	if !slash {
		http.Redirect(w, r, firmPath+name+"/", http.StatusMovedPermanently)
		return
	}
	s, leave, err := f.enter(r.Context(), name, true)
	if err != nil {
		slog.Error("the books of a firm are not opened", "firm", name, "error", err)
		writeProblem(w, plain(http.StatusServiceUnavailable, "The books of this firm cannot be opened. Whoever runs the program finds the reason where it was started."))
		return
	}
	defer leave()
	http.StripPrefix(firmPath+name, s).ServeHTTP(w, r)
}

// there tells whether there are books of a firm of that name.
func (f *Firms) there(name string) bool { return firmIn(f.dir, name) }

func firmIn(dir, name string) bool {
	if len(name) > mostFirmLen || !firmName.MatchString(name) {
		return false
	}
	_, err := os.Stat(filepath.Join(dir, name, store.FileName))
	return err == nil
}

// names are those of all further firms.
func (f *Firms) names() []string { return firmsIn(f.dir) }

func firmsIn(dir string) (names []string) {
	all, _ := os.ReadDir(dir) // none where there is no such directory
	for _, e := range all {
		if firmIn(dir, e.Name()) {
			names = append(names, e.Name())
		}
	}
	return names
}

// FurtherFirms are the directories of the firms that are served beside that of
// which dir holds the books.
func FurtherFirms(dir string) (dirs []string) {
	for _, name := range firmsIn(filepath.Join(dir, firmsDir)) {
		dirs = append(dirs, FirmDir(dir, name))
	}
	return dirs
}

// FirmDir is where the books of a further firm are, beside those in dir.
func FirmDir(dir, name string) string { return filepath.Join(dir, firmsDir, name) }

// FirmPath is where a further firm is served.
func FirmPath(name string) string { return firmPath + name }

// enter opens the books of a firm where they are not, and keeps them open until
// leave is called. Its chores go on by themselves when somebody asks; who only
// looks in does them.
func (f *Firms) enter(ctx context.Context, name string, asked bool) (s *Server, leave func(), err error) {
	for {
		f.mu.Lock()
		one, there := f.served[name]
		if there && one.closing {
			f.mu.Unlock()
			select {
			case <-one.gone:
				continue
			case <-ctx.Done():
				return nil, nil, ctx.Err()
			}
		}
		if !there {
			one = &servedFirm{name: name, ready: make(chan struct{}), gone: make(chan struct{})}
			f.served[name] = one
		}
		one.asking++
		f.mu.Unlock()
		if there {
			<-one.ready
		} else {
			f.bring(one)
		}
		leave = func() {
			f.mu.Lock()
			defer f.mu.Unlock()
			one.asking--
			if asked {
				one.last = f.clock()
			}
		}
		if one.err != nil {
			return nil, nil, one.err
		}
		if asked {
			one.begun.Do(one.goOn)
		}
		return one.server, leave, nil
	}
}

// bring opens the books of a firm.
func (f *Firms) bring(one *servedFirm) {
	name := one.name
	defer close(one.ready)
	f.mu.Lock()
	base := f.ctx
	f.mu.Unlock()
	chores := base != nil
	if !chores {
		base = context.Background()
	}
	ctx, cancel := context.WithCancel(base)
	book, standIns, err := f.open(ctx, name, filepath.Join(f.dir, name))
	o := f.options
	if err == nil {
		o.At, o.StandIns, o.firms = FirmPath(name), standIns, f
		o.SetupWord, err = f.word(ctx, name, book)
	}
	if err != nil {
		cancel()
		if book != nil {
			err = errors.Join(err, book.Close())
		}
		f.mu.Lock()
		one.err = err
		delete(f.served, name)
		f.mu.Unlock()
		return
	}
	one.server = New(book, o)
	var under sync.WaitGroup
	one.goOn = func() {
		if chores {
			one.server.doChores(ctx, &under)
		}
	}
	one.end = func() {
		cancel()
		under.Wait()
	}
}

// word is what whoever sets up a firm is asked for: "" where nothing is, and
// once it is set up.
func (f *Firms) word(ctx context.Context, name string, book *books.Book) (string, error) {
	switch _, err := book.Read(ctx).Firm(); {
	case !errors.Is(err, store.ErrNoFirm):
		return "", err
	case !f.asksWord:
		return "", nil
	}
	f.mu.Lock()
	defer f.mu.Unlock()
	if f.words[name] == "" {
		f.words[name] = NewWord()
	}
	return f.words[name], nil
}

// NewWord is a word for whoever sets up a firm.
func NewWord() string { return strings.ToLower(rand.Text()[:12]) }

// start begins the books of a further firm, empty, and returns the word that
// setting it up asks for.
func (f *Firms) start(ctx context.Context, name string) (word string, err error) {
	switch {
	case !firmName.MatchString(name) || len(name) > mostFirmLen:
		return "", posting.Refusals{{Field: "name", Rule: "name of a firm", Text: fmt.Sprintf("The short name stands in the address: small letters, figures and single hyphens between them, at most %d.", mostFirmLen)}}
	case !f.there(name):
		if _, err := os.Stat(filepath.Join(f.dir, name)); err == nil {
			return "", posting.Refusals{{Field: "name", Rule: "name is taken", Text: "There is a directory of that name already, which holds no books. Take another name."}}
		}
		if err := os.MkdirAll(filepath.Join(f.dir, name), 0o700); err != nil {
			return "", err
		}
	}
	s, leave, err := f.enter(ctx, name, false)
	if err != nil {
		return "", err
	}
	defer leave()
	if _, err := s.book.Read(ctx).Firm(); !errors.Is(err, store.ErrNoFirm) {
		if err == nil {
			err = posting.Refusals{{Field: "name", Rule: "name is taken", Text: "There is a firm of that name already. Take another name."}}
		}
		return "", err
	}
	return s.options.SetupWord, nil
}

// CloseIdle closes the books of firms that nobody asks for.
func (f *Firms) CloseIdle(idle time.Duration) {
	f.mu.Lock()
	var going []*servedFirm
	for _, one := range f.served {
		if one.asking == 0 && !one.closing && f.clock().Sub(one.last) >= idle {
			one.closing = true
			going = append(going, one)
		}
	}
	f.mu.Unlock()
	for _, one := range going {
		one.end()
		if err := one.server.book.Close(); err != nil {
			slog.Warn("the books of a firm were not closed well", "firm", one.name, "error", err)
		}
		f.mu.Lock()
		delete(f.served, one.name)
		f.mu.Unlock()
		close(one.gone)
	}
}

// Visit does the chores of the firms whose books nobody has open.
func (f *Firms) Visit(ctx context.Context) {
	for _, name := range f.names() {
		if ctx.Err() != nil {
			return
		}
		f.mu.Lock()
		_, open := f.served[name]
		f.mu.Unlock()
		if open {
			continue
		}
		s, leave, err := f.enter(ctx, name, false)
		if err != nil {
			slog.Error("the books of a firm are not opened", "firm", name, "error", err)
			continue
		}
		for _, c := range s.chores {
			c.once(ctx)
		}
		leave()
		f.CloseIdle(idleFirm)
	}
}

// Serve answers requests on the listener until ctx ends, then lets those under
// way finish and closes the books of the further firms.
func (f *Firms) Serve(ctx context.Context, l net.Listener) error {
	f.mu.Lock()
	f.ctx = ctx
	f.mu.Unlock()
	var under sync.WaitGroup
	f.first.doChores(ctx, &under)
	under.Go(func() { nowAndThen(ctx, time.Minute, nil, func() { f.CloseIdle(idleFirm) }) })
	under.Go(func() {
		f.Visit(ctx)
		nowAndThen(ctx, visitFirms, nil, func() { f.Visit(ctx) })
	})
	err := serve(ctx, l, f)
	under.Wait()
	f.CloseIdle(0)
	return err
}

// noFirm answers below addresses of firms that there are not.
func noFirm(c *echo.Context) error {
	if strings.Contains(c.Request().URL.Path, "/api/") {
		return echo.ErrNotFound
	}
	return c.HTML(http.StatusNotFound, `<!doctype html><html lang="en"><meta name="viewport" content="width=device-width"><title>No such firm</title><p>There is no firm at this address. <a href="/">To the first firm</a>.`)
}
