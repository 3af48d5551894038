package web

import (
	"context"
	"crypto/tls"
	"io"
	"mime/multipart"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/labstack/echo/v5"
)

// An adapter makes every operation of the described API a route of Echo.
// Huma's own adapter is for Echo v4.
type adapter struct {
	*echo.Echo
	guards []echo.MiddlewareFunc                     // before every operation
	may    func(*huma.Operation) echo.MiddlewareFunc // the last of them, of each its own
}

func (a adapter) Handle(op *huma.Operation, handler func(huma.Context)) {
	path := strings.NewReplacer("{", ":", "}", "").Replace(op.Path)
	_, long := op.Metadata[longAnswer]
	a.Echo.Add(op.Method, path, func(c *echo.Context) error {
		if long {
			if err := http.NewResponseController(c.Response()).SetWriteDeadline(time.Time{}); err != nil {
				return err
			}
		}
		handler(&operation{op: op, c: c})
		return nil
	}, append(slices.Clone(a.guards), a.may(op))...)
}

// longAnswer is in the metadata of an operation whose answer may take longer than
// others: it is written piece by piece.
const longAnswer = "long answer"

// An operation is one request as huma sees it.
type operation struct {
	op     *huma.Operation
	c      *echo.Context
	status int
}

func (o *operation) Operation() *huma.Operation  { return o.op }
func (o *operation) Context() context.Context    { return o.c.Request().Context() }
func (o *operation) TLS() *tls.ConnectionState   { return o.c.Request().TLS }
func (o *operation) Method() string              { return o.c.Request().Method }
func (o *operation) Host() string                { return o.c.Request().Host }
func (o *operation) RemoteAddr() string          { return o.c.Request().RemoteAddr }
func (o *operation) URL() url.URL                { return *o.c.Request().URL }
func (o *operation) Param(name string) string    { return o.c.Param(name) }
func (o *operation) Query(name string) string    { return o.c.QueryParam(name) }
func (o *operation) Header(name string) string   { return o.c.Request().Header.Get(name) }
func (o *operation) BodyReader() io.Reader       { return o.c.Request().Body }
func (o *operation) Status() int                 { return o.status }
func (o *operation) BodyWriter() io.Writer       { return o.c.Response() }
func (o *operation) SetHeader(name, v string)    { o.c.Response().Header().Set(name, v) }
func (o *operation) AppendHeader(name, v string) { o.c.Response().Header().Add(name, v) }

func (o *operation) Version() huma.ProtoVersion {
	r := o.c.Request()
	return huma.ProtoVersion{Proto: r.Proto, ProtoMajor: r.ProtoMajor, ProtoMinor: r.ProtoMinor}
}

func (o *operation) EachHeader(each func(name, value string)) {
	for name, values := range o.c.Request().Header {
		for _, v := range values {
			each(name, v)
		}
	}
}

func (o *operation) GetMultipartForm() (*multipart.Form, error) {
	err := o.c.Request().ParseMultipartForm(1 << 20)
	return o.c.Request().MultipartForm, err
}

func (o *operation) SetReadDeadline(t time.Time) error {
	return huma.SetReadDeadline(o.c.Response(), t)
}

func (o *operation) SetStatus(code int) {
	o.status = code
	o.c.Response().WriteHeader(code)
}
