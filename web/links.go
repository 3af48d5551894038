package web

import (
	"bytes"
	"context"
	"crypto/rand"
	_ "embed"
	"encoding/base64"
	"errors"
	"html/template"
	"io/fs"
	"net/http"
	"net/url"

	"cleantally/books"
	"cleantally/core/master"
	"cleantally/core/posting"
	"cleantally/core/sheet"
	"cleantally/formats/pdf"
	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
	"github.com/labstack/echo/v5"
)

//go:embed link.html
var linkHTML string

var linkPage = template.Must(template.New("link").Parse(linkHTML))

// linkPath is where links open. Nothing else can be reached from there.
const linkPath = "/p/"

// Link is a page for one paper that whoever has the address may read.
type Link struct {
	ID        int64  `json:"id"`
	Made      string `json:"made" doc:"UTC"`
	EndsOn    string `json:"endsOn" doc:"The last day on which it opens"`
	Open      bool   `json:"open" doc:"Whether it still opens"`
	FirstSeen string `json:"firstSeen" doc:"UTC; empty for not yet"`
	LastSeen  string `json:"lastSeen"`
	Times     int    `json:"times"`
}

// Links are the links to a paper, with the address of one that was just made.
type Links struct {
	Path string `json:"path,omitempty" doc:"Of the link that was made, below the address of the program; it is told once"`
	Rows []Link `json:"rows"`
}

func (s *Server) linksTo(ctx context.Context, to books.LinkTo, path string) (*struct{ Body Links }, error) {
	out := &struct{ Body Links }{Links{path, []Link{}}}
	err := s.book.Snapshot(ctx, func(r *store.Reader) error {
		var rows []store.Link
		var there bool
		var err error
		if to.PartyID != 0 {
			if _, there, err = store.Find[master.Party](r, to.PartyID); err == nil && there {
				rows, err = r.StatementLinks(to.PartyID)
			}
		} else if _, there, err = r.Paper(to.PaperID); err == nil && there {
			rows, err = r.LinksTo(to.PaperID)
		}
		if err != nil || !there {
			return orNotFound(err)
		}
		for _, l := range rows {
			out.Body.Rows = append(out.Body.Rows, Link{l.ID, l.MadeAt, string(l.EndsOn), !l.Ended && l.EndsOn >= s.book.Today(), l.FirstSeen, l.LastSeen, l.Times})
		}
		return nil
	})
	return out, problem(err)
}

// LinkDays is for how many days a link opens.
type LinkDays struct {
	Days int `json:"days,omitempty" doc:"For how many days it opens; 0: 90"`
}

func (s *Server) registerLinks() {
	type of struct {
		ID int64 `path:"id"`
	}
	huma.Register(s.api, describe("links", "GET", "/api/v1/papers/{id}/links", "The links to a paper, and when they were seen"), func(ctx context.Context, in *of) (*struct{ Body Links }, error) {
		return s.linksTo(ctx, books.LinkTo{PaperID: in.ID}, "")
	})
	huma.Register(s.api, describe("statement-links", "GET", "/api/v1/customers/{id}/links", "The links to statements of a customer, and when they were seen"), func(ctx context.Context, in *of) (*struct{ Body Links }, error) {
		return s.linksTo(ctx, books.LinkTo{PartyID: in.ID}, "")
	})
	make := func(ctx context.Context, to books.LinkTo, days int) (*struct{ Body Links }, error) {
		secret, err := s.book.MakeLink(ctx, s.user(ctx), to, days)
		if err != nil {
			return nil, problem(err)
		}
		return s.linksTo(ctx, to, s.options.At+linkPath+secret)
	}
	type making struct {
		ID   int64 `path:"id"`
		Body LinkDays
	}
	huma.Register(s.api, describe("make-link", "POST", "/api/v1/papers/{id}/links", "Make a link to a paper"), func(ctx context.Context, in *making) (*struct{ Body Links }, error) {
		return make(ctx, books.LinkTo{PaperID: in.ID}, in.Body.Days)
	})
	type makingStatement struct {
		ID   int64 `path:"id"`
		Body struct {
			LinkDays
			MailStatement
		}
	}
	huma.Register(s.api, describe("make-statement-link", "POST", "/api/v1/customers/{id}/links", "Make a link to a statement"), func(ctx context.Context, in *makingStatement) (*struct{ Body Links }, error) {
		of := books.Statement(in.Body.MailStatement)
		if _, err := s.statement(ctx, statementOf(in.ID, of)); err != nil {
			return nil, err
		}
		return make(ctx, books.LinkTo{PartyID: in.ID, Statement: of}, in.Body.Days)
	})
	huma.Register(s.api, describe("end-link", "DELETE", "/api/v1/links/{id}", "End a link at once"), func(ctx context.Context, in *of) (*struct{}, error) {
		return nil, problem(s.book.EndLink(ctx, s.user(ctx), in.ID))
	})
}

// statementOf asks for a statement of a customer.
func statementOf(party int64, of books.Statement) *statementInput {
	return &statementInput{ID: party, From: of.From, Through: of.Through, Open: of.Open, Format: "csv"}
}

// linkRoutes serves what links open, to whoever has their secret.
func (s *Server) linkRoutes(e *echo.Echo) {
	e.GET(linkPath+":secret", s.linkOpened)
	e.POST(linkPath+":secret/pay", s.payByCard)
	e.GET(linkPath+":secret/pdf", s.linkFile)
	e.GET(linkPath+":secret/data", s.linkData)
	e.GET(linkPath+":secret/logo", s.linkLogo)
	e.POST(toldPath, s.cardTold)
}

// opened finds what a link opens; what it cannot open it has answered itself.
func (s *Server) opened(c *echo.Context, seen bool) (books.Opened, error) {
	h := c.Response().Header()
	h.Set("X-Robots-Tag", "noindex, nofollow")
	h.Set("Cache-Control", "no-store")
	h.Set("Referrer-Policy", "no-referrer")
	ctx := c.Request().Context()
	o, err := s.book.OpenLink(ctx, c.Param("secret"), seen)
	if p := o.Card.Last(); err == nil && p != nil && (p.State == store.CardBegun || p.Unkept()) {
		o, err = s.lookedAt(ctx, c.Param("secret"), o)
	}
	if err == nil && o.PartyID != 0 {
		o.Sheet, err = s.openedStatement(ctx, o)
	}
	if errors.Is(err, books.ErrNoLink) || errors.Is(err, store.ErrNoFirm) {
		return books.Opened{}, c.HTML(http.StatusNotFound, `<!doctype html><html lang="en"><meta name="viewport" content="width=device-width"><title>No longer here</title><p>This link does not open anything, or no longer does. Please ask whoever sent it to you for another.`)
	}
	return o, err
}

// nothing tells whether there is nothing to answer with: that was said already.
func nothing(o books.Opened) bool { return o.PaperID == 0 && o.PartyID == 0 }

func (s *Server) openedStatement(ctx context.Context, o books.Opened) (sheet.Sheet, error) {
	firm, err := s.book.Read(ctx).Firm()
	if err != nil {
		return sheet.Sheet{}, err
	}
	of, err := s.statement(ctx, statementOf(o.PartyID, o.Statement))
	if err != nil {
		return sheet.Sheet{}, err
	}
	return of.Body.sheet(firm), nil
}

func (s *Server) linkOpened(c *echo.Context) error {
	o, err := s.opened(c, true)
	if err != nil || nothing(o) {
		return err
	}
	return s.showLink(c, http.StatusOK, o, "", "")
}

// linkShown is what the page of a link shows.
type linkShown struct {
	Sheet        sheet.Sheet
	Nonce, Base  string
	Colour       template.CSS
	Code         template.URL
	Foot         string
	Logo, NoBank bool
	Data         string // what it can be taken along as, besides a PDF; "" for nothing
	Hidden       map[string]bool
	Marks        func(string) string
	Fonts        map[string]string
	Card         cardShown
}

// showLink answers the page of a link; wrong is why what was written there for a
// payment by card was refused.
func (s *Server) showLink(c *echo.Context, status int, o books.Opened, written, wrong string) error {
	nonce := rand.Text()
	hidden := map[string]bool{}
	for _, column := range o.Head.Hidden {
		hidden[column] = true
	}
	colour := o.Head.Colour
	if colour == "" {
		colour = "#9a4a1c"
	}
	data := linkShown{Sheet: o.Sheet, Nonce: nonce, Base: s.options.At + linkPath + url.PathEscape(c.Param("secret")), Colour: template.CSS(colour), Foot: o.Head.Foot, Logo: len(o.Head.Logo) > 0, NoBank: o.Head.NoBank,
		Hidden: hidden, Marks: o.Marks, Fonts: s.fonts, Card: s.cardOf(o, written, wrong)}
	if o.PartyID != 0 {
		data.Data = "As a table (CSV)"
	} else if _, err := s.book.ElectronicInvoice(c.Request().Context(), o.PaperID, s.book.Today()); err == nil {
		data.Data = "As data (electronic invoice)"
	}
	if p := o.Sheet.Pay; p != nil && p.Code != "" && !o.Head.NoCode {
		picture, err := pdf.Code(p.Code)
		if err != nil {
			return err
		}
		data.Code = template.URL("data:image/png;base64," + base64.StdEncoding.EncodeToString(picture))
	}
	var page bytes.Buffer
	if err := linkPage.Execute(&page, data); err != nil {
		return err
	}
	c.Response().Header().Set("Content-Security-Policy", "default-src 'none'; style-src 'nonce-"+nonce+"'; img-src 'self' data:; font-src 'self'; base-uri 'none'; form-action "+s.formsGo()+"; frame-ancestors 'none'")
	return c.HTMLBlob(status, page.Bytes())
}

func (s *Server) linkFile(c *echo.Context) error {
	o, err := s.opened(c, false)
	if err != nil || nothing(o) {
		return err
	}
	var f *fileOutput
	if o.PartyID != 0 {
		of := o.Statement
		f, err = s.statementsPDF(c.Request().Context(), &statementsInput{IDs: []int64{o.PartyID}, From: of.From, Through: of.Through, Open: of.Open})
	} else {
		f, err = s.printed(c.Request().Context(), []int64{o.PaperID}, "")
	}
	return sendFile(c, f, err)
}

// sendFile answers a file that is taken along.
func sendFile(c *echo.Context, f *fileOutput, err error) error {
	if err != nil {
		return err
	}
	c.Response().Header().Set("Content-Disposition", f.Disposition)
	return c.Blob(http.StatusOK, f.ContentType, f.Body)
}

// linkData answers the paper as an electronic invoice, a statement as a table.
func (s *Server) linkData(c *echo.Context) error {
	o, err := s.opened(c, false)
	if err != nil || nothing(o) {
		return err
	}
	if o.PartyID != 0 {
		f, err := s.statementFile(c.Request().Context(), statementOf(o.PartyID, o.Statement))
		return sendFile(c, f, err)
	}
	p, err := s.book.ElectronicInvoice(c.Request().Context(), o.PaperID, s.book.Today())
	var refused posting.Refusals
	if errors.As(err, &refused) {
		return c.NoContent(http.StatusNotFound)
	}
	return sendFile(c, &fileOutput{ContentType: "application/xml", Disposition: "attachment; filename*=UTF-8''" + url.PathEscape(p.Name), Body: p.File}, err)
}

func (s *Server) linkLogo(c *echo.Context) error {
	o, err := s.opened(c, false)
	if err != nil || nothing(o) {
		return err
	}
	if len(o.Head.Logo) == 0 {
		return c.NoContent(http.StatusNotFound)
	}
	return c.Blob(http.StatusOK, books.PictureType(o.Head.Logo), o.Head.Logo)
}

// fontsIn are the fonts of the built interface for the pages of links.
func fontsIn(built fs.FS) map[string]string {
	found := map[string]string{}
	if built == nil {
		return found
	}
	for family, pattern := range map[string]string{"Source Sans 3": "assets/source-sans-3-latin-wght-normal*.woff2", "Source Serif 4": "assets/source-serif-4-latin-wght-normal*.woff2"} {
		if files, err := fs.Glob(built, pattern); err == nil && len(files) > 0 {
			found[family] = "/" + files[0]
		}
	}
	return found
}
