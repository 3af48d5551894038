// Package formats reads and writes open formats: CSV and XLSX.
package formats

import (
	"bufio"
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"
	"unicode/utf8"

	"github.com/shopspring/decimal"
	"github.com/xuri/excelize/v2"
)

// Table is rows under a header. Amounts are strings in plain decimal form.
type Table struct {
	Header []string
	Rows   [][]string
}

// The bounds of a table that is read.
const (
	MostBytes = 8 << 20
	MostRows  = 20000
)

// Errors of ReadCSV.
var (
	ErrTooLarge = fmt.Errorf("the file is too large: at most %d MB and %d rows are read at once", MostBytes>>20, MostRows)
	ErrNotText  = errors.New("the file is not text in UTF-8: save it as CSV UTF-8 and try again")
	ErrEmpty    = errors.New("the file has no rows below its header")
)

// ReadCSV reads a CSV file (RFC 4180) with a header. The separator is the one
// of comma, semicolon and tab that the header holds most.
func ReadCSV(r io.Reader) (Table, error) {
	data, err := io.ReadAll(io.LimitReader(r, MostBytes+1))
	if err != nil {
		return Table{}, err
	}
	if len(data) > MostBytes {
		return Table{}, ErrTooLarge
	}
	data = bytes.TrimPrefix(data, []byte("\xef\xbb\xbf"))
	if !utf8.Valid(data) || bytes.IndexByte(data, 0) >= 0 {
		return Table{}, ErrNotText
	}
	c := csv.NewReader(bytes.NewReader(data))
	c.Comma = separator(data)
	c.FieldsPerRecord = -1
	rows, err := c.ReadAll()
	if err != nil {
		return Table{}, fmt.Errorf("the file is no CSV: %w", err)
	}
	if len(rows) < 2 {
		return Table{}, ErrEmpty
	}
	if len(rows) > MostRows+1 {
		return Table{}, ErrTooLarge
	}
	for i := range rows[0] {
		rows[0][i] = strings.TrimSpace(rows[0][i])
	}
	for _, row := range rows[1:] {
		for i, cell := range row {
			row[i] = asWritten(cell)
		}
	}
	return Table{rows[0], rows[1:]}, nil
}

func separator(data []byte) rune {
	line, _, _ := bufio.NewReader(bytes.NewReader(data)).ReadLine()
	best, most := ',', 0
	for _, s := range ",;\t" {
		if n := bytes.Count(line, []byte(string(s))); n > most {
			best, most = s, n
		}
	}
	return best
}

// WriteCSV writes a table as CSV in UTF-8. A text that a spreadsheet would run
// as a formula is written with an apostrophe before it.
func WriteCSV(w io.Writer, t Table) error {
	c := NewCSV(w)
	if err := c.w.Write(t.Header); err != nil {
		return err
	}
	for _, row := range t.Rows {
		if err := c.Row(row); err != nil {
			return err
		}
	}
	return c.End()
}

// A CSV is written row by row, as WriteCSV does.
type CSV struct {
	w    *csv.Writer
	safe []string
}

// NewCSV begins one.
func NewCSV(w io.Writer) *CSV { return &CSV{w: csv.NewWriter(w)} }

// Row writes one row.
func (c *CSV) Row(cells []string) error {
	c.safe = c.safe[:0]
	for _, cell := range cells {
		c.safe = append(c.safe, asText(cell))
	}
	return c.w.Write(c.safe)
}

// End writes what is left.
func (c *CSV) End() error {
	c.w.Flush()
	return c.w.Error()
}

// WriteXLSX writes a table as a workbook with one sheet. Cells that are plain
// decimals become numbers, in the columns that numbers names.
func WriteXLSX(w io.Writer, sheet string, t Table, numbers map[int]bool) error {
	f := excelize.NewFile()
	defer f.Close()
	if err := f.SetSheetName("Sheet1", sheet); err != nil {
		return err
	}
	s, err := f.NewStreamWriter(sheet)
	if err != nil {
		return err
	}
	bold, err := f.NewStyle(&excelize.Style{Font: &excelize.Font{Bold: true}})
	if err != nil {
		return err
	}
	figure, err := f.NewStyle(&excelize.Style{NumFmt: 4})
	if err != nil {
		return err
	}
	if err := s.SetColWidth(1, max(len(t.Header), 1), 18); err != nil {
		return err
	}
	write := func(n int, row []string, heading bool) error {
		cells := make([]any, len(row))
		for i, text := range row {
			cells[i] = text
			if d, err := decimal.NewFromString(text); err == nil && numbers[i] && !heading {
				cells[i] = excelize.Cell{Value: d.InexactFloat64(), StyleID: figure}
			} else if heading {
				cells[i] = excelize.Cell{Value: text, StyleID: bold}
			}
		}
		at, err := excelize.CoordinatesToCellName(1, n)
		if err != nil {
			return err
		}
		return s.SetRow(at, cells)
	}
	if err := write(1, t.Header, true); err != nil {
		return err
	}
	for n, row := range t.Rows {
		if err := write(n+2, row, false); err != nil {
			return err
		}
	}
	if err := s.Flush(); err != nil {
		return err
	}
	return f.Write(w)
}
