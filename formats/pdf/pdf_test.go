package pdf

import (
	"bytes"
	"fmt"
	"image"
	"image/png"
	"os/exec"
	"regexp"
	"strings"
	"testing"
	"time"

	"cleantally/core/money"
	"cleantally/core/sheet"
)

// read is what a PDF says, page by page, as a reader of PDFs sees it.
func read(t *testing.T, file []byte) []string {
	t.Helper()
	if _, err := exec.LookPath("pdftotext"); err != nil {
		t.Fatal("pdftotext is missing: install the package poppler-utils, which reads PDFs back.")
	}
	c := exec.Command("pdftotext", "-layout", "-", "-")
	c.Stdin = bytes.NewReader(file)
	out, err := c.Output()
	if err != nil {
		t.Fatalf("the PDF cannot be read: %v", err)
	}
	return strings.Split(strings.TrimSuffix(string(out), "\f"), "\f")
}

func write(t *testing.T, head sheet.Letterhead, all ...sheet.Sheet) (pages []string, missing string) {
	t.Helper()
	var sheets []Page
	for _, s := range all {
		sheets = append(sheets, Page{s, head})
	}
	file, missing, err := Write(sheets, money.PointMarks, time.Unix(0, 0))
	if err != nil {
		t.Fatal(err)
	}
	return read(t, file), missing
}

// long is an invoice of so many lines of 10.00.
func long(lines int) sheet.Sheet {
	s := sheet.Sheet{Heading: "Invoice", Number: "I26-0001", Firm: sheet.Address{Name: "Sparrow & Winder Stairworks", Lines: "The Old Sailloft\nHaverling"}, To: sheet.Address{Name: "Ödön Łęcki-Őrsi", Lines: "1 Plover Way"},
		Facts: []sheet.Fact{{Name: "Date", Value: "20 Nov 2026"}}, Columns: []sheet.Column{{Name: "What"}, {Name: "Tax", Ours: "Tax", Figure: true}, {Name: "Net", Figure: true, Sum: true}},
		Sums: []sheet.Sum{{Name: "Net", Amount: fmt.Sprintf("%d.00", lines*10)}, {Name: "Left to pay by 20 Dec", Amount: "-1234567.50", Look: "left"}}, Note: "Price in €, − included."}
	for n := range lines {
		s.Rows = append(s.Rows, sheet.Row{Cells: []string{fmt.Sprintf("Line %d", n+1), "20 %", "10.00"}, Amount: "10.00", So: fmt.Sprintf("%d.00", (n+1)*10)})
	}
	return s
}

// A table that breaks repeats its head and carries its sum forward, every line is
// there once, and pages are numbered within their paper.
func TestATableThatBreaks(t *testing.T) {
	for _, lines := range []int{1, 20, 30, 31, 32, 33, 34, 35, 36, 37, 38, 60, 200} {
		pages, _ := write(t, sheet.Letterhead{}, long(lines))
		all := strings.Join(pages, "\n")
		for n := range lines {
			if c := len(regexp.MustCompile(fmt.Sprintf(`Line %d\b`, n+1)).FindAllString(all, -1)); c != 1 {
				t.Fatalf("%d lines: line %d is there %d times", lines, n+1, c)
			}
		}
		for n, page := range pages {
			if strings.Contains(page, "Line ") && !strings.Contains(page, "What") {
				t.Errorf("%d lines: page %d has no head", lines, n+1)
			}
			if len(pages) > 1 && !strings.Contains(page, fmt.Sprintf("%d of %d", n+1, len(pages))) {
				t.Errorf("%d lines: page %d is not numbered", lines, n+1)
			}
			on := regexp.MustCompile(`Line (\d+)\b`).FindAllStringSubmatch(page, -1)
			carried := regexp.MustCompile(`Carried forward +([\d,.]+)`).FindStringSubmatch(page)
			if last := len(on) > 0 && on[len(on)-1][1] != fmt.Sprint(lines); last && (carried == nil || strings.ReplaceAll(carried[1], ",", "") != on[len(on)-1][1]+"0.00") {
				t.Errorf("%d lines: page %d carries %v forward after line %s", lines, n+1, carried, on[len(on)-1][1])
			} else if n+1 < len(pages) && last && !strings.Contains(pages[n+1], "Brought forward") {
				t.Errorf("%d lines: nothing is brought to page %d", lines, n+2)
			}
		}
		if !strings.Contains(all, "−1,234,567.50") {
			t.Errorf("%d lines: %s", lines, all)
		}
	}
}

// Several papers stand in one file, each beginning a page and counting its own.
func TestSeveralPapers(t *testing.T) {
	second := long(2)
	second.Number = "I26-0002"
	pages, _ := write(t, sheet.Letterhead{}, long(60), second)
	if len(pages) != 4 || !strings.Contains(pages[1], "2 of 3") || !strings.Contains(pages[3], "I26-0002") || strings.Contains(pages[3], " of ") {
		t.Errorf("%d pages: %q", len(pages), pages)
	}
}

// Letters of Europe come out as they are; those that there are none of become a
// question mark and are told.
func TestLetters(t *testing.T) {
	s := long(1)
	s.To.Name = "Ödön Łęcki, Βασιλική, Чехов, 株式会社"
	s.Note = strings.Repeat("A very long word-without-any-space-to-break-it-anywhere ", 40) + "\ttab"
	pages, missing := write(t, sheet.Letterhead{}, s)
	if !strings.Contains(pages[0], "Ödön Łęcki, Βασιλική, Чехов, ????") || len([]rune(missing)) != 4 || !strings.Contains(pages[0], "€, −") && !strings.Contains(pages[0], "tab") {
		t.Errorf("missing %q: %s", missing, pages[0])
	}
	if !strings.Contains(strings.Join(pages, ""), "Letters that cannot be printed here stand as ?.") {
		t.Error("it does not say that letters are missing")
	}
	if pages, _ := write(t, sheet.Letterhead{}, s, long(1)); strings.Contains(pages[len(pages)-1], "cannot be printed") {
		t.Error("the next paper lacks nothing")
	}
}

// A letterhead stands on every page; what it leaves out is left out.
func TestLetterhead(t *testing.T) {
	var logo bytes.Buffer
	if err := png.Encode(&logo, image.NewRGBA(image.Rect(0, 0, 400, 100))); err != nil {
		t.Fatal(err)
	}
	s := long(60)
	s.Draft = true
	s.Pay = &sheet.Pay{Text: "Please pay to Bank.", Code: "BCD\n002\n1\nSCT\n\nSparrow\nZZ42\nEUR1.00"}
	pages, _ := write(t, sheet.Letterhead{Logo: logo.Bytes(), Foot: "Registered nowhere\nsecond line", Window: sheet.WindowRight, Hidden: []string{"Tax"}, Colour: "#123456"}, s)
	for n, page := range pages {
		if !strings.Contains(page, "Registered nowhere") || !strings.Contains(page, "second line") || strings.Contains(page, "20 %") {
			t.Errorf("page %d: %s", n+1, page)
		}
	}
	if !strings.Contains(pages[len(pages)-1], "Please pay to Bank.") {
		t.Errorf("%s", pages)
	}
	pages, _ = write(t, sheet.Letterhead{NoBank: true, Logo: []byte("no picture")}, s)
	if strings.Contains(strings.Join(pages, ""), "Please pay") {
		t.Error("bank details were to be left out")
	}
}

// The same sheet is the same file, to the byte.
func TestTheSameFile(t *testing.T) {
	a, _, err1 := Write([]Page{{Sheet: long(40)}}, money.PointMarks, time.Unix(0, 0))
	b, _, err2 := Write([]Page{{Sheet: long(40)}}, money.PointMarks, time.Unix(0, 0))
	if err1 != nil || err2 != nil || !bytes.Equal(a, b) {
		t.Errorf("%v, %v, equal %v", err1, err2, bytes.Equal(a, b))
	}
}
