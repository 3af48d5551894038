package pdf

import (
	"time"

	"cleantally/core/money"
	"cleantally/core/sheet"
)

// Cheque is a cheque with the slip that goes with it. Amounts and days are as they
// are read.
type Cheque struct {
	Number string
	Day    string
	Payee  string
	Amount string
	Words  string
	Bank   string
	Slip   sheet.Sheet // of the paper that it pays: to whom, what for
	Form   bool        // it has a form of its own: only what differs is printed
	Right  float64     // of the form: moved by so many millimetres
	Down   float64
}

// Cheques writes cheques, each on a page with its slip below it.
func Cheques(all []Cheque, marks money.Marks, made time.Time) (file []byte, missing string, err error) {
	w := newWriter(marks, made)
	w.SetTitle("Cheques", true)
	for _, c := range all {
		w.s, w.first, w.lacks = sheet.Sheet{}, w.PageNo()+1, false
		w.page()
		if !c.Form {
			w.drawn(c)
		}
		w.filled(c)
		w.slip(c)
	}
	return w.written()
}

// Where a cheque lies on its page, in millimetres.
const (
	chequeTop    = 12.0
	chequeHeight = 76.0
	slipTop      = 106.0
)

// drawn is what a form of the bank's would bear already.
func (w *writer) drawn(c Cheque) {
	w.SetLineWidth(0.3)
	w.Rect(left-6, chequeTop, right-left+12, chequeHeight, "D")
	w.ink()
	w.SetFont("serif", "B", 12)
	w.at(left, chequeTop+5, 90, "L", c.Slip.Firm.Name)
	w.soft()
	w.SetFont("sans", "", 9)
	w.at(left, chequeTop+11, 90, "L", c.Bank)
	w.at(right-70, chequeTop+5, 34, "R", "No. "+c.Number)
	w.at(left, chequeTop+26, 12, "L", "Pay")
	w.rule(left+12, right-46, chequeTop+31, 0.2)
	w.rule(left, right-46, chequeTop+42, 0.2)
	w.Rect(right-40, chequeTop+33, 40, 9, "D")
	w.rule(right-70, right, chequeTop+64, 0.2)
	w.at(right-70, chequeTop+65, 70, "C", c.Slip.Firm.Name)
	w.ink()
}

// filled is what each cheque says of its own; on a form it is moved to where its
// fields are.
func (w *writer) filled(c Cheque) {
	x, y := 0.0, chequeTop
	if c.Form {
		x, y = c.Right, chequeTop+c.Down
	}
	w.ink()
	w.SetFont("sans", "", 10)
	w.at(x+right-34, y+5, 34, "R", c.Day)
	w.SetFont("sans", "B", 11)
	w.at(x+left+12, y+26, right-46-left-12, "L", c.Payee)
	w.at(x+right-40, y+35, 38, "R", c.Amount)
	w.SetFont("sans", "", 10)
	w.block(x+left, y+37, right-46-left, c.Words)
}

// slip is what the payee keeps: what the cheque is for.
func (w *writer) slip(c Cheque) {
	w.SetFont("serif", "B", 13)
	w.at(left, slipTop, 120, "L", c.Slip.Heading+" "+c.Slip.Number)
	w.SetFont("sans", "", 9.5)
	w.at(right-70, slipTop, 70, "R", "Cheque "+c.Number+", "+c.Day)
	w.rule(left, right, slipTop+7, 0.3)
	y := w.block(left, slipTop+11, 90, c.Slip.To.Name+"\n"+c.Slip.To.Lines) + 4
	for _, s := range c.Slip.Sums {
		w.at(left, y, 110, "L", s.Name)
		w.at(right-50, y, 50, "R", w.marks.Show(s.Amount))
		y += line + 0.8
		if y > foot {
			break
		}
	}
	if c.Slip.Note != "" {
		w.block(left, y+3, right-left, c.Slip.Note)
	}
}
