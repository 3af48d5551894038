package ubl

import (
	"bytes"
	"encoding/xml"
	"fmt"
	"io"
	"strings"
)

// An element is one of an XML file: written with a prefix before its name, read
// without.
type element struct {
	name     string
	attrs    []xml.Attr
	text     string
	children []*element
}

// add puts an element with a text into e; one without a text is left out.
func (e *element) add(name, text string, attrs ...string) {
	if text == "" {
		return
	}
	c := &element{name: name, text: text}
	for n := 0; n+1 < len(attrs); n += 2 {
		if attrs[n+1] != "" {
			c.attrs = append(c.attrs, xml.Attr{Name: xml.Name{Local: attrs[n]}, Value: attrs[n+1]})
		}
	}
	e.children = append(e.children, c)
}

// in puts an element that holds others into e and returns it.
func (e *element) in(name string) *element {
	c := &element{name: name}
	e.children = append(e.children, c)
	return c
}

func (e *element) write(to *xml.Encoder) error {
	start := xml.StartElement{Name: xml.Name{Local: e.name}, Attr: e.attrs}
	if err := to.EncodeToken(start); err != nil {
		return err
	}
	if e.text != "" {
		if err := to.EncodeToken(xml.CharData(e.text)); err != nil {
			return err
		}
	}
	for _, c := range e.children {
		if err := c.write(to); err != nil {
			return err
		}
	}
	return to.EncodeToken(start.End())
}

// Bounds of what is read: an invoice of a thousand lines has some 50,000
// elements.
const (
	mostElements = 500_000
	mostDepth    = 30
)

// parse reads an XML file into its elements. A file that defines anything of its
// own is none of these.
func parse(file []byte) (*element, error) {
	d := xml.NewDecoder(bytes.NewReader(file))
	d.CharsetReader = func(string, io.Reader) (io.Reader, error) { return nil, fmt.Errorf("it is not written in UTF-8") }
	var open []*element
	var root *element
	count := 0
	for {
		t, err := d.Token()
		if err == io.EOF && root != nil && len(open) == 0 {
			return root, nil
		}
		if err != nil {
			return nil, fmt.Errorf("the file cannot be read: %w", err)
		}
		switch t := t.(type) {
		case xml.Directive:
			return nil, fmt.Errorf("the file defines things of its own, which an invoice does not")
		case xml.StartElement:
			e := &element{name: t.Name.Local, attrs: t.Attr}
			if count++; count > mostElements || len(open) >= mostDepth {
				return nil, fmt.Errorf("the file is larger than an invoice can be")
			}
			if len(open) > 0 {
				in := open[len(open)-1]
				in.children = append(in.children, e)
			} else if root == nil {
				root = e
			}
			open = append(open, e)
		case xml.EndElement:
			e := open[len(open)-1]
			e.text = strings.TrimSpace(e.text)
			open = open[:len(open)-1]
		case xml.CharData:
			if len(open) > 0 {
				open[len(open)-1].text += string(t)
			}
		}
	}
}

// all are the elements at a path of names below e.
func (e *element) all(path ...string) []*element {
	if len(path) == 0 {
		return []*element{e}
	}
	var found []*element
	for _, c := range e.children {
		if c.name == path[0] {
			found = append(found, c.all(path[1:]...)...)
		}
	}
	return found
}

// said is the text of the first element at a path; "" for none.
func (e *element) said(path ...string) string {
	if found := e.all(path...); len(found) > 0 {
		return found[0].text
	}
	return ""
}

func (e *element) attr(name string) string {
	for _, a := range e.attrs {
		if a.Name.Local == name {
			return a.Value
		}
	}
	return ""
}
