package web_test

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/png"
	"strings"
	"testing"
)

func picture(t *testing.T) string {
	t.Helper()
	var b bytes.Buffer
	if err := png.Encode(&b, image.NewGray(image.Rect(0, 0, 8, 8))); err != nil {
		t.Fatal(err)
	}
	return b.String()
}

// bomb is a picture of a few bytes that says it is 60,000 points wide and high.
func bomb() string {
	head := make([]byte, 13)
	binary.BigEndian.PutUint32(head, 60000)
	binary.BigEndian.PutUint32(head[4:], 60000)
	head[8], head[9] = 8, 0
	chunk := append([]byte("IHDR"), head...)
	sum := make([]byte, 4)
	binary.BigEndian.PutUint32(sum, crc32.ChecksumIEEE(chunk))
	return "\x89PNG\r\n\x1a\n\x00\x00\x00\x0d" + string(chunk) + string(sum)
}

func (c *client) attach(query, content string) answer {
	return c.post("/attachments?"+query, content, "Content-Type", "application/octet-stream")
}

func TestAttachments(t *testing.T) {
	c := newClient(t)
	draft := c.post("/drafts", `{"kind":"invoice","body":{"customer":1,"day":"2026-11-20","lines":[{"text":"Step","unitPrice":"10","taxCode":1}]}}`).want(200)
	id := draft.at("id")
	a := c.attach("draft="+id+"&name=..%2F..%2Fetc%2Fbill.png", picture(t)).want(200)
	if a.at("rows", 0, "name") != "bill.png" || a.at("rows", 0, "type") != "image/png" || a.at("rows", 0, "picture") != "true" || a.at("rows", 0, "goesOut") != "false" {
		t.Errorf("attached: %s", a.body)
	}
	file := c.get("/attachments/1/file").want(200)
	if file.header.Get("Content-Type") != "image/png" || file.header.Get("X-Content-Type-Options") != "nosniff" || file.header.Get("X-Frame-Options") != "SAMEORIGIN" || string(file.body) != picture(t) {
		t.Errorf("served as %v", file.header)
	}
	// What is no picture and no PDF is never shown, whatever its name says.
	page := c.attach("customer=1&name=note.html", "<!DOCTYPE html><script>alert(1)</script>").want(200)
	if page.at("rows", 0, "type") != "application/octet-stream" || page.at("rows", 0, "shown") != "false" {
		t.Errorf("a page: %s", page.body)
	}
	if h := c.get("/attachments/2/file").header; h.Get("Content-Type") != "application/octet-stream" || !strings.HasPrefix(h.Get("Content-Disposition"), "attachment;") {
		t.Errorf("a page is served as %v", h)
	}
	for content, rule := range map[string]string{"": "empty", strings.Repeat("x", 8<<20+1): "too large", "no picture": "not what it says", bomb(): "too large", picture(t): "taken"} {
		if a := c.attach("draft="+id+"&name=x.png", content); a.status != 422 || a.at("refusals", 0, "rule") != rule {
			t.Errorf("%.20q: %d %s, want %s", content, a.status, a.body[:min(len(a.body), 200)], rule)
		}
	}
	c.attach("draft="+id+"&job=1&name=x.png", picture(t)).want(400)
	c.attach("job=99&name=x.png", picture(t)).want(422)
	c.do("PUT", "/attachments/1", `{"goesOut":true}`).want(204)
	// Posted, it goes with the paper.
	c.post("/invoices?draft="+id, `{"customer":1,"day":"2026-11-20","lines":[{"text":"Step","unitPrice":"10","taxCode":1}]}`, "If-Match", draft.header.Get("ETag")).want(200)
	if a := c.get("/attachments?paper=1").want(200); a.at("rows", 0, "name") != "bill.png" || a.at("rows", 0, "goesOut") != "true" {
		t.Errorf("of the paper: %s", a.body)
	}
	c.get("/attachments/1/file").want(404) // that of the draft is gone with it
	c.get("/attachments/3/file").want(200)
	// Written again, the new paper has it too.
	c.post("/invoices?again=1&againDay=2026-11-20&againReason=x", `{"customer":1,"day":"2026-11-20","lines":[{"text":"Step","unitPrice":"11","taxCode":1}]}`).want(200)
	if a := c.get("/attachments?paper=3"); a.at("rows", 0, "name") != "bill.png" || a.at("rows", 0, "goesOut") != "true" {
		t.Errorf("of the paper in its place: %s", a.body)
	}
	c.do("DELETE", "/attachments/3", "").want(204)
	if a := c.get("/attachments?paper=1"); string(a.body) != `{"rows":[]}`+"\n" {
		t.Errorf("taken off: %s", a.body)
	}
}
