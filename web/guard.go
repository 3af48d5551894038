package web

import (
	"context"
	"net"
	"net/http"
	"net/netip"
	"slices"
	"strings"

	"github.com/labstack/echo/v5"
)

// headers are sent with every answer. What is no page runs and shows nothing,
// should a browser be made to open it as one.
func (s *Server) headers(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		h := c.Response().Header()
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("X-Frame-Options", "DENY")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Cross-Origin-Resource-Policy", "same-origin")
		h.Set("Permissions-Policy", "camera=(), geolocation=(), microphone=(), payment=(), usb=()")
		h.Set("Content-Security-Policy", "default-src 'none'; frame-ancestors 'none'")
		if s.options.Secure {
			h.Set("Strict-Transport-Security", "max-age=31536000")
		}
		if strings.HasPrefix(c.Request().URL.Path, "/api/") {
			h.Set("Cache-Control", "no-store")
		}
		return next(c)
	}
}

// host refuses names that are not ours: a page elsewhere whose name was made to
// point to this machine must not reach the books with it. An address that is
// written in figures cannot be turned so.
func (s *Server) host(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		if name := hostName(c.Request().Host); !s.ours(name) {
			writeProblem(c.Response(), plain(http.StatusMisdirectedRequest, "This program does not answer to the name "+name+". Where that is its name, start it with --host "+name+"."))
			return nil
		}
		return next(c)
	}
}

// noNull refuses the character 0 in an address: what compares texts would take
// it for their end.
func noNull(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		if u := c.Request().URL; strings.Contains(u.RawQuery, "%00") || strings.ContainsRune(u.Path, 0) {
			writeProblem(c.Response(), plain(http.StatusBadRequest, "There is a character in this address that no text holds."))
			return nil
		}
		return next(c)
	}
}

// hostName is the name in a Host header, without the port.
func hostName(host string) string {
	if name, _, err := net.SplitHostPort(host); err == nil {
		host = name
	}
	return strings.ToLower(strings.TrimSuffix(strings.Trim(host, "[]"), "."))
}

func (s *Server) ours(name string) bool {
	if _, err := netip.ParseAddr(name); err == nil {
		return true
	}
	return name == "localhost" || strings.HasSuffix(name, ".localhost") || slices.ContainsFunc(s.options.Hosts, func(h string) bool { return strings.EqualFold(h, name) })
}

// callerKey is where a request keeps where it comes from.
type callerKey struct{}

// cameFrom is the address that a request comes from, and the browser that says
// it sent it.
type cameFrom struct{ address, with string }

// from keeps where a request comes from.
func (s *Server) from(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), callerKey{}, cameFrom{s.address(r), browser(r.UserAgent())})))
	})
}

// browser is what a person would call the browser that a request names, on which
// system; as much of the name as is short else.
func browser(agent string) string {
	first := func(names ...[2]string) string {
		for _, n := range names {
			if strings.Contains(agent, n[0]) {
				return n[1]
			}
		}
		return ""
	}
	name := first([2]string{"Edg/", "Edge"}, [2]string{"Firefox/", "Firefox"}, [2]string{"Chrome/", "Chrome"}, [2]string{"Safari/", "Safari"})
	on := first([2]string{"Android", "Android"}, [2]string{"iPhone", "iPhone"}, [2]string{"iPad", "iPad"}, [2]string{"Windows", "Windows"}, [2]string{"Mac OS", "Mac"}, [2]string{"Linux", "Linux"})
	switch {
	case name != "" && on != "":
		return name + " on " + on
	case len(agent) > 60:
		return strings.ToValidUTF8(agent[:60], "")
	}
	return agent
}

// address is where a request comes from. Behind proxies that are trusted it is
// the last address that one of them was asked from; what stands before that
// anybody may have written.
func (s *Server) address(r *http.Request) string {
	peer, _, err := net.SplitHostPort(r.RemoteAddr)
	if err != nil {
		return ""
	}
	told := strings.Split(strings.Join(r.Header.Values("X-Forwarded-For"), ","), ",")
	for s.trusted(peer) && len(told) > 0 {
		last := strings.TrimSpace(told[len(told)-1])
		if _, err := netip.ParseAddr(last); err != nil {
			break
		}
		peer, told = last, told[:len(told)-1]
	}
	return peer
}

func (s *Server) trusted(address string) bool {
	a, err := netip.ParseAddr(address)
	return err == nil && slices.ContainsFunc(s.options.Proxies, func(p netip.Prefix) bool { return p.Contains(a.Unmap()) })
}

// crossOrigin refuses what another site's page sends with the cookie of ours.
func crossOrigin(next http.Handler) http.Handler {
	p := http.NewCrossOriginProtection()
	p.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		writeProblem(w, plain(http.StatusForbidden, "This request came from another site and was refused."))
	}))
	return p.Handler(next)
}
