// Package pdf writes sheets as they are printed: with real text in the program's
// own fonts, an address where the window is, and tables that break with their sum
// carried forward.
package pdf

import (
	"bytes"
	"embed"
	"fmt"
	"hash/crc32"
	"image/color"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"cleantally/core/money"
	"cleantally/core/sheet"

	"github.com/phpdave11/gofpdf"
	"golang.org/x/image/font/sfnt"
)

//go:embed fonts
var fonts embed.FS

// The page is A4, in millimetres. The engine under the common layout libraries
// is used itself: an address stands where a window is, and a table that breaks
// carries its sum forward, which wants lines measured before they are placed.
const (
	pageWidth, pageHeight = 210.0, 297.0
	left, right           = 22.0, 190.0
	foot                  = 272.0 // below which nothing of a paper stands
	line                  = 4.6   // height of a line of text
)

// Letters that the fonts do not have are printed as this one.
const unknownLetter = '?'

type fontBytes struct {
	name, style string
	bytes       []byte
}

// loadFonts reads the fonts once, with what letters each has.
var loadFonts = sync.OnceValues(func() ([]fontBytes, *sfnt.Font) {
	all := []fontBytes{{"sans", "", nil}, {"sans", "B", nil}, {"serif", "B", nil}}
	for n, file := range []string{"sans", "sans-bold", "serif-bold"} {
		text, err := fonts.ReadFile("fonts/" + file + ".ttf")
		if err != nil {
			panic(err) // they are a part of the program
		}
		all[n].bytes = text
	}
	known, err := sfnt.Parse(all[0].bytes)
	if err != nil {
		panic(err)
	}
	return all, known
})

// Write writes sheets, each beginning a page of its own. Days of making and all
// else in it depend on what it is given alone. It tells which letters could not
// be printed.
func Write(sheets []Page, marks money.Marks, made time.Time) (file []byte, missing string, err error) {
	w := newWriter(marks, made)
	if len(sheets) > 0 {
		w.SetTitle(sheets[0].Heading+" "+sheets[0].Number, true)
		w.SetAuthor(sheets[0].Firm.Name, true)
	}
	for _, s := range sheets {
		w.head, w.accent = s.Head, colourOf(s.Head.Colour)
		w.sheet(s.Sheet)
	}
	return w.written()
}

// newWriter begins a file.
func newWriter(marks money.Marks, made time.Time) *writer {
	all, known := loadFonts()
	w := &writer{Fpdf: gofpdf.New("P", "mm", "A4", ""), marks: marks, known: known, missing: map[rune]bool{}}
	for _, f := range all {
		w.AddUTF8FontFromBytes(f.name, f.style, slices.Clone(f.bytes))
	}
	w.SetAutoPageBreak(false, 0)
	w.SetMargins(left, 18, pageWidth-right)
	w.SetCellMargin(0)
	w.SetCreationDate(made)
	w.SetModificationDate(made)
	w.SetCatalogSort(true)
	return w
}

// written ends the file, and tells which letters could not be printed.
func (w *writer) written() (file []byte, missing string, err error) {
	var out bytes.Buffer
	if err := w.Output(&out); err != nil {
		return nil, "", fmt.Errorf("the PDF cannot be written: %w", err)
	}
	for r := range w.missing {
		missing += string(r)
	}
	return out.Bytes(), missing, nil
}

// Page is a sheet in its letterhead.
type Page struct {
	sheet.Sheet
	Head sheet.Letterhead
}

type writer struct {
	*gofpdf.Fpdf
	head    sheet.Letterhead
	marks   money.Marks
	known   *sfnt.Font
	missing map[rune]bool
	lacks   bool // whether the paper that is written has letters that are missing
	accent  color.RGBA
	s       sheet.Sheet
	first   int // page of the paper that is written
	y       float64
}

func colourOf(text string) color.RGBA {
	c := color.RGBA{0x9a, 0x4a, 0x1c, 0xff}
	if n, err := strconv.ParseUint(strings.TrimPrefix(text, "#"), 16, 24); err == nil && len(text) == 7 {
		c = color.RGBA{uint8(n >> 16), uint8(n >> 8), uint8(n), 0xff}
	}
	return c
}

// printable is text in letters that there are.
func (w *writer) printable(text string) string {
	return strings.Map(func(r rune) rune {
		if r == '\t' {
			return ' '
		}
		if i, err := w.known.GlyphIndex(nil, r); r >= ' ' && (err != nil || i == 0) {
			w.missing[r], w.lacks = true, true
			return unknownLetter
		}
		return r
	}, text)
}

func (w *writer) ink()  { w.SetTextColor(0x23, 0x26, 0x2b) }
func (w *writer) soft() { w.SetTextColor(0x5c, 0x57, 0x4c) }

// wrap splits text into lines that fit a width in the font that is set.
func (w *writer) wrap(text string, width float64) []string {
	var lines []string
	for _, part := range strings.Split(w.printable(text), "\n") {
		if part == "" {
			lines = append(lines, "")
			continue
		}
		lines = append(lines, w.SplitText(part, width)...)
	}
	return lines
}

// at writes one line whose top is at y.
func (w *writer) at(x, y, width float64, align, text string) {
	w.SetXY(x, y)
	w.CellFormat(width, line, w.printable(text), "", 0, align, false, 0, "")
}

// block writes text over as many lines as it takes and returns what is below it.
func (w *writer) block(x, y, width float64, text string) float64 {
	for _, l := range w.wrap(text, width) {
		w.at(x, y, width, "L", l)
		y += line
	}
	return y
}

func (w *writer) rule(x1, x2, y, thick float64) {
	w.SetLineWidth(thick)
	w.Line(x1, y, x2, y)
}

// sheet writes one paper.
func (w *writer) sheet(s sheet.Sheet) {
	w.s = s
	w.first, w.lacks = w.PageNo()+1, false
	w.page()
	w.opening()
	if s.Says != "" {
		w.SetFont("sans", "", 10)
		w.y = w.block(left, w.y, right-left, s.Says) + 2
	}
	if len(s.Rows) > 0 {
		w.table()
	}
	w.sums()
	w.closing()
	w.numbered()
}

// says is one of the words that a letterhead may say otherwise.
func (w *writer) says(words string, of ...any) string { return sheet.Say(w.head.Words, words, of...) }

// page begins a page: of the first one the head is written by opening.
func (w *writer) page() {
	w.AddPage()
	w.SetDrawColor(0xbf, 0xb2, 0x96)
	if w.s.Draft {
		w.SetFont("serif", "B", 88)
		w.SetTextColor(0xea, 0xe4, 0xd6)
		w.TransformBegin()
		w.TransformRotate(38, pageWidth/2, pageHeight/2)
		w.at(0, pageHeight/2, pageWidth, "C", w.says("DRAFT"))
		w.TransformEnd()
	}
	w.ink()
	w.y = 18
	if w.PageNo() > w.first {
		w.SetFont("sans", "", 9)
		w.soft()
		w.at(left, w.y, 100, "L", w.s.Firm.Name)
		w.at(right-80, w.y, 80, "R", w.s.Heading+" "+w.s.Number)
		w.rule(left, right, w.y+6, 0.2)
		w.ink()
		w.y += 10
	}
	w.SetFont("sans", "", 8)
	w.soft()
	y := foot + 5
	for _, l := range w.wrap(w.head.Foot, right-left-30) {
		if y > pageHeight-8 {
			break
		}
		w.at(left, y, right-left-30, "L", l)
		y += 3.6
	}
	w.ink()
}

// room begins another page unless so much is left of this one.
func (w *writer) room(height float64) bool {
	if w.y+height <= foot {
		return false
	}
	w.page()
	return true
}

// numbered writes "2 of 3" on the pages of the paper, once they are known.
func (w *writer) numbered() {
	last := w.PageNo()
	if last == w.first {
		return
	}
	for p := w.first; p <= last; p++ {
		w.SetPage(p)
		w.SetFont("sans", "", 8.5)
		w.soft()
		w.at(right-30, foot+5, 30, "R", w.says("%s of %s", strconv.Itoa(p-w.first+1), strconv.Itoa(last-w.first+1)))
	}
	w.ink()
}

// opening is the head of the first page: who writes to whom, what it is.
func (w *writer) opening() {
	s := w.s
	y := w.logo()
	if y == 18 {
		w.SetFont("serif", "B", 15)
		y = w.block(left, y, 90, s.Firm.Name) + 1.5
	}
	w.SetFont("sans", "", 8.5)
	w.soft()
	own := s.Firm.Lines
	if s.TaxNumber != "" {
		own += "\n" + s.TaxNumber
	}
	below := 18.0
	x := 125.0
	if w.head.Window == sheet.WindowRight {
		below, x = y, left
	}
	for _, l := range w.wrap(strings.TrimSpace(own), right-x) {
		w.at(x, below, right-x, map[bool]string{true: "R", false: "L"}[x > left], l)
		below += 4
	}
	// The address stands in the window: 45 mm from the top, 20 mm from the side.
	to := left
	if w.head.Window == sheet.WindowRight {
		to = 118
	}
	w.SetFont("sans", "", 7)
	w.at(to, 46, 80, "L", strings.Join(strings.Fields(s.Firm.Name+" · "+strings.ReplaceAll(s.Firm.Lines, "\n", " · ")), " "))
	w.ink()
	w.SetFont("sans", "B", 10.5)
	y = w.block(to, 51, 80, s.To.Name)
	w.SetFont("sans", "", 10.5)
	y = w.block(to, y, 80, s.To.Lines)
	w.y = max(y, 86) + 6
	w.SetFont("serif", "B", 19)
	w.SetTextColor(int(w.accent.R), int(w.accent.G), int(w.accent.B))
	w.at(left, w.y, 120, "L", s.Heading)
	w.ink()
	w.SetFont("sans", "B", 12)
	w.at(right-60, w.y+1, 60, "R", s.Number)
	w.y += 10
	w.SetDrawColor(int(w.accent.R), int(w.accent.G), int(w.accent.B))
	w.rule(left, right, w.y, 0.4)
	w.SetDrawColor(0xbf, 0xb2, 0x96)
	w.y += 3
	w.facts()
	if s.Subject != "" {
		w.SetFont("sans", "B", 10)
		w.y = w.block(left, w.y+2, right-left, s.Subject)
	}
	w.y += 4
}

// logo places the letterhead's picture and returns what is below it.
func (w *writer) logo() float64 {
	if len(w.head.Logo) == 0 {
		return 18
	}
	kind := "PNG"
	if bytes.HasPrefix(w.head.Logo, []byte{0xff, 0xd8}) {
		kind = "JPG"
	}
	name := fmt.Sprintf("logo%x", crc32.ChecksumIEEE(w.head.Logo))
	i := w.RegisterImageOptionsReader(name, gofpdf.ImageOptions{ImageType: kind}, bytes.NewReader(w.head.Logo))
	if w.Err() || i.Width() == 0 { // a picture that cannot be read is left out
		w.ClearError()
		return 18
	}
	scale := min(70/i.Width(), 20/i.Height())
	w.ImageOptions(name, left, 16, i.Width()*scale, i.Height()*scale, false, gofpdf.ImageOptions{ImageType: kind}, 0, "")
	return 18 + i.Height()*scale
}

// facts stand in two columns.
func (w *writer) facts() {
	const name, value = 28.0, 54.0
	y := [2]float64{w.y, w.y}
	for n, f := range w.s.Facts {
		column := n % 2
		x := left + float64(column)*(name+value+4)
		w.SetFont("sans", "", 9)
		w.soft()
		w.at(x, y[column], name, "L", f.Name)
		w.ink()
		y[column] = w.block(x+name, y[column], value, f.Value)
	}
	w.y = max(y[0], y[1])
}

// closing is what stands below the sums: how to pay, what there is to say.
func (w *writer) closing() {
	s := w.s
	w.y += 4
	text := func(size float64, t string) {
		w.SetFont("sans", "", size)
		for _, l := range w.wrap(t, right-left) {
			if w.room(line) {
				w.SetFont("sans", "", size)
			}
			w.at(left, w.y, right-left, "L", l)
			w.y += line
		}
		w.y += 2
	}
	for _, b := range s.Below {
		text(9, b)
	}
	if len(s.Sign) > 0 {
		w.room(30)
		w.SetFont("sans", "", 9.5)
		if s.InWords != "" {
			w.y = w.block(left, w.y, right-left, s.InWords)
		}
		w.y += 16
		for n, t := range s.Sign {
			w.at(map[bool]float64{true: left, false: right - 100}[n == 0 && len(s.Sign) > 1], w.y, 100, map[bool]string{true: "L", false: "R"}[n == 0 && len(s.Sign) > 1], t)
		}
		w.y += line * 2
	}
	if s.Pay != nil && !w.head.NoBank {
		w.pay(*s.Pay)
	}
	if s.Note != "" {
		text(9.5, s.Note)
	}
	for _, t := range s.Sentences {
		text(9.5, t)
	}
	if w.lacks {
		text(8, "Letters that cannot be printed here stand as "+string(unknownLetter)+".")
	}
}

// pay writes how to pay, with the code that a telephone reads beside it.
func (w *writer) pay(p sheet.Pay) {
	const side = 27.0
	if p.Code == "" || w.head.NoCode {
		w.room(2 * line)
		w.SetFont("sans", "", 9.5)
		w.y = w.block(left, w.y, right-left, p.Text) + 2
		return
	}
	w.room(side + 2)
	picture, err := Code(p.Code)
	if err != nil {
		w.SetError(err)
		return
	}
	name := fmt.Sprintf("code%d", w.PageNo())
	w.RegisterImageOptionsReader(name, gofpdf.ImageOptions{ImageType: "PNG"}, bytes.NewReader(picture))
	w.ImageOptions(name, left, w.y, side, side, false, gofpdf.ImageOptions{ImageType: "PNG"}, 0, "")
	w.SetFont("sans", "", 9.5)
	w.block(left+side+5, w.y+4, right-left-side-5, p.Text)
	w.y += side + 3
}
