package store

import (
	"cleantally/core/master"
	"cleantally/core/posting"
)

// LetterheadOf returns the letterhead that a paper goes out in: the one that was
// chosen for it, else its customer's, else that of its kind; false for none.
func (r Reader) LetterheadOf(p posting.Paper) (master.Letterhead, bool, error) {
	chosen, there, err := one[int64](r, "SELECT CAST(json_extract(detail, '$.reference') AS INTEGER) FROM paper_events WHERE paper_id = ? AND event = 'letterhead' ORDER BY id DESC LIMIT 1", p.ID)
	if err != nil {
		return master.Letterhead{}, false, err
	}
	if there && chosen != 0 {
		return Find[master.Letterhead](&r, chosen)
	}
	return one[master.Letterhead](r, `SELECT * FROM letterheads WHERE id = (SELECT letterhead_id FROM parties WHERE id = @party) OR inactive = 0 AND EXISTS (SELECT 1 FROM json_each(kinds) WHERE value = @kind)
		ORDER BY id = (SELECT letterhead_id FROM parties WHERE id = @party) DESC LIMIT 1`, map[string]any{"party": p.PartyID, "kind": p.Kind})
}

// Logo returns a letterhead's picture; none where it has none.
func (r Reader) Logo(letterhead int64) ([]byte, error) {
	picture, _, err := one[[]byte](r, "SELECT picture FROM letterhead_logos WHERE letterhead_id = ?", letterhead)
	return picture, err
}

// SetLogo replaces a letterhead's picture; with none it has none.
func (tx *Tx) SetLogo(letterhead int64, picture []byte) error {
	if _, err := tx.exec("DELETE FROM letterhead_logos WHERE letterhead_id = ?", letterhead); err != nil || len(picture) == 0 {
		return err
	}
	_, err := tx.exec("INSERT INTO letterhead_logos (letterhead_id, picture) VALUES (?, ?)", letterhead, picture)
	return err
}

// NewestInvoice returns the invoice that was posted last; false for none.
func (r Reader) NewestInvoice() (int64, bool, error) {
	return one[int64](r, "SELECT id FROM papers WHERE kind = ? ORDER BY day DESC, id DESC LIMIT 1", posting.Invoice)
}
