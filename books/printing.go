package books

import (
	"context"
	"fmt"

	"cleantally/core/day"
	"cleantally/formats/pdf"
	"cleantally/store"
)

// Printed is a file to print or to send.
type Printed struct {
	Name    string
	File    []byte
	Missing string // letters that could not be printed
}

// Print makes a PDF of posted papers, each on pages of its own, with what is left
// of them at the end of a day. It returns store.ErrNoRecord.
func (b *Book) Print(ctx context.Context, ids []int64, at day.Day) (Printed, error) {
	var sheets []pdf.Page
	var firm store.Firm
	err := b.db.Snapshot(ctx, func(r *store.Reader) error {
		var err error
		if firm, err = r.Firm(); err != nil {
			return err
		}
		for _, id := range ids {
			s, head, err := Sheet(r, id, at)
			if err != nil {
				return err
			}
			sheets = append(sheets, pdf.Page{Sheet: s, Head: head})
		}
		return nil
	})
	if err != nil {
		return Printed{}, err
	}
	file, missing, err := pdf.Write(sheets, firm.NumberStyle, b.clock())
	name := fmt.Sprintf("%d papers.pdf", len(sheets))
	if len(sheets) == 1 {
		name = fmt.Sprintf("%s %s.pdf", sheets[0].Heading, sheets[0].Number)
	}
	return Printed{name, file, missing}, err
}
