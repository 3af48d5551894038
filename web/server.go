// Package web serves the books: the described API under /api/v1 and the built
// interface.
package web

import (
	"context"
	"errors"
	"io/fs"
	"net"
	"net/http"
	"net/netip"
	"strings"
	"time"

	"cleantally/books"
	"cleantally/formats/card"
	"cleantally/formats/feed"
	outgoing "cleantally/formats/mail"
	"cleantally/store"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"
)

// Options are how the books are served.
type Options struct {
	Interface fs.FS          // the built interface
	Secure    bool           // cookies over HTTPS alone
	Demo      bool           // the sign-in page shows the demo's sign-in
	Hosts     []string       // names that the program is asked by, besides addresses and localhost
	Proxies   []netip.Prefix // proxies that say truly where a request comes from
	// SetupWord is what whoever sets up the firm is asked for; "" for nothing.
	SetupWord string
	StandIns  StandIns
	// At is where a further firm is served, /firm/NAME; "" for the first.
	At string

	firms *Firms // that it is one of; nil for the only one
}

// StandIns are what stands in for services outside; the zero value for none.
type StandIns struct {
	Mail    outgoing.Server // takes mail
	Mailbox string          // the address at which it is read
	Cards   card.Gateway    // takes cards
	Bank    feed.Bank       // answers statements
}

// Server serves one book.
type Server struct {
	book     *books.Book
	options  Options
	sessions *scs.SessionManager
	kept     *store.Sessions // where they are kept
	echo     *echo.Echo
	api      huma.API
	imports  imports // under way
	chores   []*chore
	outbox   chan struct{}     // something was put into it
	fonts    map[string]string // of the pages of links: family and file
}

// New returns a server for the book.
func New(book *books.Book, o Options) *Server {
	describeErrors()
	s := &Server{book: book, options: o, sessions: scs.New(), outbox: make(chan struct{}, 1), fonts: fontsIn(o.Interface)}
	s.kept = book.Sessions()
	s.sessions.Store = s.kept
	s.sessions.Codec = codec{}
	s.sessions.Lifetime = mostSession
	s.chores = choresOf(s)
	s.sessions.Cookie.Name = o.cookieAt(o.At)
	s.sessions.Cookie.SameSite = http.SameSiteStrictMode
	s.sessions.Cookie.Secure = o.Secure
	s.sessions.ErrorFunc = func(w http.ResponseWriter, _ *http.Request, err error) {
		var p *Problem
		errors.As(problem(err), &p)
		writeProblem(w, p)
	}
	s.echo = echo.NewWithConfig(echo.Config{
		Router:           echo.NewRouter(echo.RouterConfig{UnescapePathParamValues: true}),
		HTTPErrorHandler: handleError,
	})
	s.echo.Use(middleware.Recover(), s.headers, s.host, noNull, middleware.GzipWithConfig(middleware.GzipConfig{MinLength: 1024, Level: 5, Skipper: small}))
	s.routes()
	return s
}

// ServeHTTP answers one request. One that asks for the head alone is answered as
// if it asked for all: the server leaves the rest out.
func (s *Server) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	if r.Method == http.MethodHead {
		whole := *r
		whole.Method = http.MethodGet
		r = &whole
	}
	s.echo.ServeHTTP(w, r)
}

// OpenAPI returns the description of the API as JSON.
func (s *Server) OpenAPI() ([]byte, error) { return s.api.OpenAPI().MarshalJSON() }

// cookieAt names the cookie of the sessions of a firm: each has its own.
func (o Options) cookieAt(at string) string {
	name := "cleantally"
	if at != "" {
		name += "-" + strings.TrimPrefix(at, firmPath)
	}
	if o.Secure {
		name = "__Host-" + name // no other host can set it
	}
	return name
}

// serve has h answer requests on the listener until ctx ends, then lets those
// under way finish.
func serve(ctx context.Context, l net.Listener, h http.Handler) error {
	server := &http.Server{Handler: h, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: time.Minute, WriteTimeout: 2 * time.Minute, MaxHeaderBytes: 64 << 10}
	done := make(chan error, 1)
	go func() { done <- server.Serve(l) }()
	select {
	case err := <-done:
		return err
	case <-ctx.Done():
	}
	ending, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	return server.Shutdown(ending)
}

func (s *Server) routes() {
	s.echo.GET("/healthz", func(c *echo.Context) error {
		if _, err := s.book.Read(c.Request().Context()).TieOut(s.book.Today()); err != nil {
			return err
		}
		return c.String(http.StatusOK, "ok\n")
	})
	s.linkRoutes(s.echo)
	guards := []echo.MiddlewareFunc{echo.WrapMiddleware(s.from), echo.WrapMiddleware(crossOrigin), echo.WrapMiddleware(s.sessions.LoadAndSave), echo.WrapMiddleware(s.signedIn), echo.WrapMiddleware(s.asWho), middleware.BodyLimit(10 << 20)}
	config := huma.DefaultConfig("Clean Tally", "1")
	config.OpenAPIPath, config.DocsPath, config.SchemasPath, config.CreateHooks = "/api/openapi", "", "", nil
	config.RejectUnknownQueryParameters = true
	config.Info.Description = "The books of one firm. Amounts are decimal strings with the currency's places, days are YYYY-MM-DD."
	s.api = huma.NewAPI(config, adapter{s.echo, guards, s.may})
	s.registerSession()
	s.registerPeople()
	s.registerFirms()
	s.registerWords()
	s.registerFirm()
	s.registerRecords()
	s.registerCurrencies()
	s.registerRevaluation()
	s.registerCustomers()
	s.registerJobs()
	s.registerContracts()
	s.registerPapers()
	s.registerCommands()
	s.registerDrafts()
	s.registerBlank()
	s.registerWhose()
	s.registerEvents()
	s.registerCopy()
	s.registerCredits()
	s.registerCreditLists()
	s.registerLateCharges()
	s.registerRecurring()
	s.registerUnderstand()
	s.registerLedger()
	s.registerFigures()
	s.registerTaxReturn()
	s.registerAccruals()
	s.registerClosingList()
	s.registerWhy()
	s.registerDeposits()
	s.registerLimits()
	s.registerOutgoing()
	s.registerLetterheads()
	s.registerLinks()
	s.registerCards()
	s.registerMails()
	s.registerReminders()
	s.registerDesk()
	s.registerSuppliers()
	s.registerCosts()
	s.registerStock()
	s.registerAttachments()
	s.registerImport()
	s.registerOpening()
	s.registerBackups()
	s.registerArchive()
	s.registerBank()
	s.echo.RouteNotFound("/api/*", func(c *echo.Context) error { return echo.ErrNotFound })
	s.echo.RouteNotFound(firmPath+"*", noFirm)
	s.serveInterface()
}

// small tells whether an answer is sent as it is: what is posted is answered
// shortly, and setting up to compress it would take longer than sending it.
func small(c *echo.Context) bool { return c.Request().Method != http.MethodGet }
