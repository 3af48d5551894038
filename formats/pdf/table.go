package pdf

import (
	"slices"

	"cleantally/core/sheet"
)

// widths shares the page over the columns: figures take what they need.
func (w *writer) widths(columns []sheet.Column, shown []int) []float64 {
	w.SetFont("sans", "", 9.5)
	all, taken := make([]float64, len(shown)), 0.0
	for n, c := range shown {
		if n == 0 {
			continue
		}
		most := w.GetStringWidth(columns[c].Name)
		for _, r := range w.s.Rows {
			most = max(most, w.GetStringWidth(w.printable(r.Cells[c])))
		}
		all[n] = min(most+5, 45)
		taken += all[n]
	}
	all[0] = right - left - taken
	return all
}

// table writes the lines. One that breaks repeats its head and carries its sum
// forward.
func (w *writer) table() {
	s := w.s
	var shown []int
	for n, c := range s.Columns {
		if n == 0 || !slices.Contains(w.head.Hidden, c.Ours) {
			shown = append(shown, n)
		}
	}
	widths := w.widths(s.Columns, shown)
	last := s.Columns[len(s.Columns)-1]
	head := func() {
		w.SetFont("sans", "B", 9)
		x := left
		for n, c := range shown {
			w.at(x, w.y, widths[n], align(s.Columns[c]), s.Columns[c].Name)
			x += widths[n]
		}
		w.y += line + 0.8
		w.rule(left, right, w.y, 0.3)
		w.y += 1.2
	}
	carry := func(words, amount string) {
		w.SetFont("sans", "", 9)
		w.soft()
		w.at(left, w.y, widths[0], "L", words)
		w.at(right-50, w.y, 50, "R", w.marks.Show(amount))
		w.ink()
		w.y += line + 1
	}
	head()
	for i, r := range s.Rows {
		w.SetFont("sans", "", 9.5)
		lines := w.wrap(r.Cells[0], widths[0]-3)
		beside := w.wrap(r.Beside, widths[0]-3)
		if r.Beside == "" {
			beside = nil
		}
		for part := 0; part == 0 || len(lines) > 0; part++ {
			// The line that is carried forward has its place, unless this is the last row.
			below := 0.0
			if last.Sum && i < len(s.Rows)-1 {
				below = line + 1
			}
			fits := max(0, int((foot-w.y-below-1)/line)-len(beside))
			if fits < min(len(lines), 3) || fits == 0 {
				if last.Sum && i > 0 {
					carry(w.says("Carried forward"), s.Rows[i-1].So)
				}
				w.page()
				head()
				if last.Sum && i > 0 {
					carry(w.says("Brought forward"), s.Rows[i-1].So)
				}
				fits = int((foot - w.y - 2*line) / line)
			}
			fits = min(fits, len(lines))
			y := w.y
			w.SetFont("sans", "", 9.5)
			if part == 0 {
				x := left + widths[0]
				for n, c := range shown[1:] {
					w.at(x, y, widths[n+1], align(s.Columns[c]), r.Cells[c])
					x += widths[n+1]
				}
			}
			for _, l := range lines[:fits] {
				w.at(left, w.y, widths[0]-3, "L", l)
				w.y += line
			}
			lines = lines[fits:]
		}
		w.SetFont("sans", "", 8.5)
		w.soft()
		for _, l := range beside {
			w.at(left, w.y, widths[0]-3, "L", l)
			w.y += line
		}
		w.ink()
		w.rule(left, right, w.y+0.6, 0.1)
		w.y += 1.8
	}
	w.y += 1
}

func align(c sheet.Column) string {
	if c.Figure {
		return "R"
	}
	return "L"
}

// sums stand at the right, what is left under a double line.
func (w *writer) sums() {
	const from, figure = 82.0, 34.0
	money := len(w.s.Columns) == 0
	for n, x := range w.s.Sums {
		w.SetFont("sans", "", 9.5)
		strong := x.Look == "total" || x.Look == "left"
		if strong {
			w.SetFont("sans", "B", 10)
		}
		lines := w.wrap(x.Name, right-from-figure)
		height := line * float64(len(lines))
		// The last sums stay together.
		need := height + 3
		if n >= len(w.s.Sums)-3 {
			need += float64(len(w.s.Sums)-1-n) * (line + 2)
		}
		if w.room(need) {
			w.SetFont("sans", map[bool]string{true: "B"}[strong], 9.5)
		}
		indent := 0.0
		if x.Look == "part" {
			indent = 4
			w.soft()
		}
		for i, l := range lines {
			w.at(from+indent, w.y+float64(i)*line, right-from-figure, "L", l)
		}
		w.at(right-figure, w.y+height-line, figure, "R", w.marks.Show(x.Amount))
		w.ink()
		w.y += height
		switch final := x.Look == "left" && !money || x.Look == "total" && money; {
		case final:
			w.SetDrawColor(0x23, 0x26, 0x2b)
			w.rule(right-figure+4, right, w.y+0.4, 0.25)
			w.rule(right-figure+4, right, w.y+1.2, 0.25)
			w.SetDrawColor(0xbf, 0xb2, 0x96)
			w.y += 2.6
		case x.Look == "total":
			w.rule(right-figure+4, right, w.y+0.3, 0.25)
			w.y += 1.4
		default:
			w.y += 0.6
		}
	}
}
