package store

import (
	"context"
	"strings"
	"testing"
)

func TestPostedRowsStay(t *testing.T) {
	ctx := context.Background()
	db, err := Open(ctx, t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	err = db.Write(ctx, func(tx *Tx) error {
		for _, s := range []string{
			"INSERT INTO acts (id, at, user_id, action, summary) VALUES (1, '', 1, 'a', 's')",
			"INSERT INTO accounts (id, number, name, type) VALUES (1, '1000', 'Bank', 'asset')",
			"INSERT INTO tax_codes (id, code, kind) VALUES (1, 'T', 'charged')",
			"INSERT INTO papers (id, act_id, kind, number, day, total) VALUES (1, 1, 'invoice', 'I1', '2026-01-01', 5)",
			"INSERT INTO paper_lines VALUES (1, 1, 1, NULL, 't', '1', '1', '0', 0, 1, '0', 1, 5, 5, 0)",
			"INSERT INTO open_items (id, register, paper_id, part, party_id, job_id, day, due, amount, open) VALUES (1, 'receivables', 1, 0, NULL, NULL, '2026-01-01', '', 5, 5), (2, 'receivables', 1, 0, NULL, NULL, '2026-01-01', '', -5, -5)",
			"INSERT INTO allocations (id, act_id, party_id, debit_id, credit_id, amount, day, undoes) VALUES (1, 1, NULL, 1, 2, 5, '2026-01-01', NULL)",
			"INSERT INTO item_moves (id, item_id, day, amount, allocation_id) VALUES (1, 1, '2026-01-01', 5, NULL)",
			"INSERT INTO entries VALUES (1, 1, 1, NULL, '2026-01-01', 't')",
			"INSERT INTO entry_lines (id, entry_id, day, account_id, amount, party_id, job_id, tax_code_id) VALUES (1, 1, '2026-01-01', 1, 5, NULL, NULL, NULL)",
			"INSERT INTO disputes VALUES (1, 1, 1, '2026-01-01', 'scratched')",
		} {
			if err := tx.db.Exec(s).Error; err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
	for _, s := range []string{
		"UPDATE papers SET total = 6", "DELETE FROM papers", "UPDATE paper_lines SET net = 6", "DELETE FROM paper_lines",
		"UPDATE open_items SET amount = 6", "DELETE FROM open_items", "UPDATE open_items SET open = 6", "UPDATE open_items SET open = -1 WHERE id = 1",
		"UPDATE item_moves SET amount = 1", "DELETE FROM item_moves", "UPDATE allocations SET amount = 1", "DELETE FROM allocations",
		"UPDATE entries SET text = ''", "DELETE FROM entries", "UPDATE entry_lines SET amount = 1", "DELETE FROM entry_lines",
		"UPDATE open_items SET tax = 1", "UPDATE open_items SET nature = 'closing'", "UPDATE disputes SET reason = ''", "DELETE FROM disputes",
		"UPDATE acts SET summary = ''", "DELETE FROM acts",
		"INSERT OR REPLACE INTO entry_lines (id, entry_id, day, account_id, amount, party_id, job_id, tax_code_id) VALUES (1, 1, '2026-01-01', 1, 6, NULL, NULL, NULL)",
		"INSERT OR REPLACE INTO papers (id, act_id, kind, number, day, total) VALUES (1, 1, 'invoice', 'I2', '2026-01-01', 5)",
	} {
		if err := db.Write(ctx, func(tx *Tx) error { return tx.db.Exec(s).Error }); err == nil {
			t.Errorf("%s went through", s)
		}
	}
	if err := db.Write(ctx, func(tx *Tx) error { return tx.db.Exec("UPDATE open_items SET open = 2 WHERE id = 1").Error }); err != nil {
		t.Errorf("what is open must be kept: %v", err)
	}
	if err := db.reader.Exec("DELETE FROM drafts").Error; err == nil || !strings.Contains(err.Error(), "readonly") {
		t.Errorf("a reader wrote: %v", err)
	}
}
