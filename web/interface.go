package web

import (
	"crypto/rand"
	"encoding/base64"
	"io/fs"
	"net/http"
	"path"
	"strings"

	"github.com/labstack/echo/v5"
)

// nonceMark stands in the built page where the nonce of a request goes.
const nonceMark = "CSP_NONCE"

// serveInterface serves the built interface: its files as they are, and the
// page at every other address, for the interface has addresses of its own.
func (s *Server) serveInterface() {
	if s.options.Interface == nil {
		return
	}
	files := http.FileServerFS(s.options.Interface)
	s.echo.GET("/*", func(c *echo.Context) error {
		name := strings.TrimPrefix(path.Clean(c.Request().URL.Path), "/")
		if info, err := fs.Stat(s.options.Interface, name); name != "index.html" && err == nil && !info.IsDir() {
			h := c.Response().Header()
			h.Set("Cache-Control", "no-cache")
			if strings.HasPrefix(name, "assets/") {
				h.Set("Cache-Control", "public, max-age=31536000, immutable")
			}
			files.ServeHTTP(c.Response(), c.Request())
			return nil
		}
		if strings.HasPrefix(name, "assets/") {
			return echo.ErrNotFound
		}
		return s.page(c)
	})
}

// page answers the one page with a nonce of its own, so that no script or
// style runs that is not ours.
func (s *Server) page(c *echo.Context) error {
	built, err := fs.ReadFile(s.options.Interface, "index.html")
	if err != nil {
		return c.String(http.StatusServiceUnavailable, "The interface has not been built: run make build.\n")
	}
	random := make([]byte, 16)
	if _, err := rand.Read(random); err != nil {
		return err
	}
	nonce := base64.RawStdEncoding.EncodeToString(random)
	h := c.Response().Header()
	h.Set("Cache-Control", "no-store")
	h.Set("Content-Security-Policy", "default-src 'none'; script-src 'nonce-"+nonce+"' 'strict-dynamic'; style-src 'self' 'nonce-"+nonce+
		"'; style-src-attr 'unsafe-inline'; font-src 'self'; img-src 'self' data: blob:; frame-src 'self'; connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'")
	return c.HTML(http.StatusOK, strings.ReplaceAll(string(built), nonceMark, nonce))
}
