package web

import (
	"bytes"
	"context"
	"crypto/rand"
	_ "embed"
	"encoding/base64"
	"errors"
	"html/template"
	"net/http"
	"net/url"

	"cleantally/books"
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

func (s *Server) linksTo(ctx context.Context, paper int64, path string) (*struct{ Body Links }, error) {
	out := &struct{ Body Links }{Links{path, []Link{}}}
	err := s.book.Snapshot(ctx, func(r *store.Reader) error {
		if _, there, err := r.Paper(paper); err != nil || !there {
			return orNotFound(err)
		}
		rows, err := r.LinksTo(paper)
		for _, l := range rows {
			out.Body.Rows = append(out.Body.Rows, Link{l.ID, l.MadeAt, string(l.EndsOn), !l.Ended && l.EndsOn >= s.book.Today(), l.FirstSeen, l.LastSeen, l.Times})
		}
		return err
	})
	return out, problem(err)
}

func (s *Server) registerLinks() {
	type of struct {
		ID int64 `path:"id"`
	}
	huma.Register(s.api, describe("links", "GET", "/api/v1/papers/{id}/links", "The links to a paper, and when they were seen"), func(ctx context.Context, in *of) (*struct{ Body Links }, error) {
		return s.linksTo(ctx, in.ID, "")
	})
	type making struct {
		ID   int64 `path:"id"`
		Body struct {
			Days int `json:"days,omitempty" doc:"For how many days it opens; 0: 90"`
		}
	}
	huma.Register(s.api, describe("make-link", "POST", "/api/v1/papers/{id}/links", "Make a link to a paper"), func(ctx context.Context, in *making) (*struct{ Body Links }, error) {
		secret, err := s.book.MakeLink(ctx, s.user(ctx), in.ID, in.Body.Days)
		if err != nil {
			return nil, problem(err)
		}
		return s.linksTo(ctx, in.ID, linkPath+secret)
	})
	huma.Register(s.api, describe("end-link", "DELETE", "/api/v1/links/{id}", "End a link at once"), func(ctx context.Context, in *of) (*struct{}, error) {
		return nil, problem(s.book.EndLink(ctx, s.user(ctx), in.ID))
	})
}

// linkRoutes serves what links open, to whoever has their secret.
func (s *Server) linkRoutes(e *echo.Echo) {
	e.GET(linkPath+":secret", s.linkOpened)
	e.GET(linkPath+":secret/pdf", s.linkFile)
	e.GET(linkPath+":secret/data", s.linkData)
	e.GET(linkPath+":secret/logo", s.linkLogo)
}

// opened finds what a link opens; what it cannot open it has answered itself.
func (s *Server) opened(c *echo.Context, seen bool) (books.Opened, error) {
	h := c.Response().Header()
	h.Set("X-Robots-Tag", "noindex, nofollow")
	h.Set("Cache-Control", "no-store")
	h.Set("Referrer-Policy", "no-referrer")
	o, err := s.book.OpenLink(c.Request().Context(), c.Param("secret"), seen)
	if errors.Is(err, books.ErrNoLink) || errors.Is(err, store.ErrNoFirm) {
		return o, c.HTML(http.StatusNotFound, `<!doctype html><html lang="en"><meta name="viewport" content="width=device-width"><title>No longer here</title><p>This link does not open anything, or no longer does. Please ask whoever sent it to you for another.`)
	}
	return o, err
}

func (s *Server) linkOpened(c *echo.Context) error {
	o, err := s.opened(c, true)
	if err != nil || o.PaperID == 0 {
		return err
	}
	nonce := rand.Text()
	hidden := map[string]bool{}
	for _, column := range o.Head.Hidden {
		hidden[column] = true
	}
	colour := o.Head.Colour
	if colour == "" {
		colour = "#9a4a1c"
	}
	data := struct {
		Sheet        sheet.Sheet
		Nonce, Base  string
		Colour       template.CSS
		Code         template.URL
		Foot         string
		Logo, NoBank bool
		Data         bool // it can be taken along as data
		Hidden       map[string]bool
		Marks        func(string) string
	}{o.Sheet, nonce, linkPath + url.PathEscape(c.Param("secret")), template.CSS(colour), "", o.Head.Foot, len(o.Head.Logo) > 0, o.Head.NoBank, false, hidden, o.Marks}
	if _, err := s.book.ElectronicInvoice(c.Request().Context(), o.PaperID, s.book.Today()); err == nil {
		data.Data = true
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
	c.Response().Header().Set("Content-Security-Policy", "default-src 'none'; style-src 'nonce-"+nonce+"'; img-src 'self' data:; base-uri 'none'; form-action 'none'; frame-ancestors 'none'")
	return c.HTMLBlob(http.StatusOK, page.Bytes())
}

func (s *Server) linkFile(c *echo.Context) error {
	o, err := s.opened(c, false)
	if err != nil || o.PaperID == 0 {
		return err
	}
	p, err := s.book.Print(c.Request().Context(), []int64{o.PaperID}, s.book.Today())
	if err != nil {
		return err
	}
	f := pdfFile(p.Name, p.File)
	c.Response().Header().Set("Content-Disposition", f.Disposition)
	return c.Blob(http.StatusOK, f.ContentType, f.Body)
}

// linkData answers the paper as an electronic invoice.
func (s *Server) linkData(c *echo.Context) error {
	o, err := s.opened(c, false)
	if err != nil || o.PaperID == 0 {
		return err
	}
	p, err := s.book.ElectronicInvoice(c.Request().Context(), o.PaperID, s.book.Today())
	var refused posting.Refusals
	if errors.As(err, &refused) {
		return c.NoContent(http.StatusNotFound)
	}
	if err != nil {
		return err
	}
	c.Response().Header().Set("Content-Disposition", "attachment; filename*=UTF-8''"+url.PathEscape(p.Name))
	return c.Blob(http.StatusOK, "application/xml", p.File)
}

func (s *Server) linkLogo(c *echo.Context) error {
	o, err := s.opened(c, false)
	if err != nil || o.PaperID == 0 {
		return err
	}
	if len(o.Head.Logo) == 0 {
		return c.NoContent(http.StatusNotFound)
	}
	return c.Blob(http.StatusOK, books.PictureType(o.Head.Logo), o.Head.Logo)
}
