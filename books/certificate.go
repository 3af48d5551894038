package books

import (
	"context"
	"fmt"

	"cleantally/core/billing"
	"cleantally/core/master"
	"cleantally/core/posting"
	"cleantally/core/sheet"
	"cleantally/formats/pdf"
	"cleantally/store"
)

// PrintCertificate makes the certificate of a progress claim as a PDF. It returns
// store.ErrNoRecord, or posting.Refusals of what is no claim.
func (b *Book) PrintCertificate(ctx context.Context, id int64) (Printed, error) {
	var page pdf.Page
	var firm store.Firm
	err := b.db.Snapshot(ctx, func(r *store.Reader) error {
		var err error
		if firm, err = r.Firm(); err != nil {
			return err
		}
		page.Sheet, page.Head, err = certificate(r, b, id)
		return err
	})
	if err != nil {
		return Printed{}, err
	}
	file, missing, err := pdf.Write([]pdf.Page{page}, firm.NumberStyle, b.clock())
	return Printed{fmt.Sprintf("%s %s.pdf", page.Heading, page.Number), file, missing}, err
}

func certificate(r *store.Reader, b *Book, id int64) (s sheet.Sheet, head sheet.Letterhead, err error) {
	d, head, err := sheetData(r, id, b.Today())
	if err != nil {
		return s, head, err
	}
	p := d.Paper
	if !billing.IsClaim(p) {
		return s, head, posting.Refusals{{Field: "paper", Rule: "no claim", Text: fmt.Sprintf("%s is no progress claim, so there is nothing to certify.", p.Number)}}
	}
	job, _, err := store.Find[master.Job](r, p.JobID)
	if err != nil {
		return s, head, err
	}
	before, held, err := r.JobAt(p.JobID, p.ID, p.Currency)
	if err != nil {
		return s, head, err
	}
	facts, err := r.Facts(b.Today())
	if err != nil {
		return s, head, err
	}
	c := billing.CertificateOf(facts, p, job, before, held)
	d.Words = head.Words
	return sheet.Certify(d, c), head, facts.Err()
}
