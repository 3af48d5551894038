package store

import (
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"cleantally/core/master"
)

// openEmpty opens a file of its own for a test.
func openEmpty(t *testing.T) *DB {
	t.Helper()
	db, err := Open(context.Background(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { db.Close() })
	return db
}

func TestPostedRowsStay(t *testing.T) {
	ctx := context.Background()
	db := openEmpty(t)
	err := db.Write(ctx, func(tx *Tx) error {
		for _, s := range []string{
			"INSERT INTO acts (id, at, user_id, action, summary) VALUES (1, '', 1, 'a', 's')",
			"INSERT INTO accounts (id, number, name, type) VALUES (1, '101', 'Bank', 'asset')",
			"INSERT INTO bank_accounts (id, name, account_id) VALUES (1, 'Bank', 1)",
			"INSERT INTO tax_codes (id, code, kind) VALUES (1, 'T', 'charged')",
			"INSERT INTO articles (id, code, name, kind) VALUES (1, 'A', 'A', 'material')",
			"INSERT INTO papers (id, act_id, kind, about, number, day, total) VALUES (1, 1, 'invoice', 'invoice', 'I1', '2026-01-01', 5)",
			"INSERT INTO paper_billing (paper_id, due, terms_id, includes, discount, net, tax, rounding, early_percent, early_until, supplied) VALUES (1, '2026-01-31', NULL, 0, 0, 5, 0, 0, '0', '', '')",
			"INSERT INTO paper_payment VALUES (1, 1, 'cash', 0, 0, '', '')",
			"INSERT INTO paper_lines (paper_id, position, text, quantity, unit_price, discount_percent, discount, tax_percent, before, net, tax) VALUES (1, 1, 't', '1', '1', '0', 0, '0', 5, 5, 0)",
			"INSERT INTO lines_left VALUES (1, 1, 'recoverable', NULL, NULL, '2026-01-01', 1, 5, 0)",
			"INSERT INTO paper_events (id, act_id, paper_id, day, event) VALUES (1, 1, 1, '2026-01-01', 'printed')",
			"INSERT INTO open_items (id, register, paper_id, day, due, amount, open) VALUES (1, 'receivables', 1, '2026-01-01', '', 5, 5), (2, 'receivables', 1, '2026-01-01', '', -5, -5)",
			"INSERT INTO allocations (id, act_id, debit_id, credit_id, amount, day) VALUES (1, 1, 1, 2, 5, '2026-01-01')",
			"INSERT INTO item_moves (id, item_id, day, amount) VALUES (1, 1, '2026-01-01', 5)",
			"INSERT INTO uses (id, act_id, of_paper_id, of_position, as_kind, day, by_position, paper_id, quantity, amount, tax, cost) VALUES (1, 1, 1, 1, 'billed', '2026-01-01', 0, 1, 0, 5, 0, 0)",
			"INSERT INTO stock_moves (id, act_id, article_id, by_paper_id, by_position, paper_id, day, quantity, value) VALUES (1, 1, 1, 1, 0, 1, '2026-01-01', 1, 5)",
			"INSERT INTO charged_days VALUES (1, 1, 1, 1, '2026-01-01', '2026-01-02')",
			"INSERT INTO freed_days VALUES (1, 1)",
			"INSERT INTO entries VALUES (1, 1, 1, NULL, '2026-01-01', 't')",
			"INSERT INTO entry_lines (id, entry_id, day, account_id, amount) VALUES (1, 1, '2026-01-01', 1, 5)",
			"INSERT INTO bank_lines (id, bank_account_id, day, amount) VALUES (1, 1, '2026-01-01', 5)",
			"INSERT INTO ties VALUES (1, 1, 1, 1)",
			"INSERT INTO freed_ties VALUES (1, 1)",
			"INSERT INTO disputes VALUES (1, 1, 1, '2026-01-01', 'scratched', 0)",
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
	var tries []string
	for table, column := range map[string]string{"papers": "total", "paper_billing": "net", "paper_payment": "charges", "paper_lines": "net", "paper_events": "event", "open_items": "amount", "allocations": "amount",
		"item_moves": "amount", "uses": "amount", "lines_left": "register", "stock_moves": "value", "charged_days": "item_id", "freed_days": "act_id", "entries": "text", "entry_lines": "amount", "bank_lines": "amount",
		"ties": "act_id", "freed_ties": "act_id", "disputes": "reason", "acts": "summary"} {
		tries = append(tries, "UPDATE "+table+" SET "+column+" = "+column, "DELETE FROM "+table)
	}
	for _, s := range append(tries,
		"UPDATE open_items SET open = 6", "UPDATE open_items SET open = -1 WHERE id = 1", "UPDATE open_items SET open_tax = 1",
		"INSERT OR REPLACE INTO entry_lines (id, entry_id, day, account_id, amount) VALUES (1, 1, '2026-01-01', 1, 6)",
		"INSERT OR REPLACE INTO papers (id, act_id, kind, about, number, day, total) VALUES (1, 1, 'invoice', 'invoice', 'I2', '2026-01-01', 5)",
		"INSERT OR REPLACE INTO uses (id, act_id, of_paper_id, of_position, as_kind, day, by_position, paper_id, quantity, amount, tax, cost) VALUES (1, 1, 1, 1, 'billed', '2026-01-01', 0, 1, 0, 6, 0, 0)",
	) {
		if err := db.Write(ctx, func(tx *Tx) error { return tx.db.Exec(s).Error }); err == nil {
			t.Errorf("%s went through", s)
		}
	}
	// Days that do not exist, and amounts beyond what the sums can hold.
	for _, s := range []string{
		"INSERT INTO papers (id, act_id, kind, about, number, day, total) VALUES (2, 1, 'invoice', 'invoice', 'I2', '2026-02-30', 5)",
		"INSERT INTO papers (id, act_id, kind, about, number, day, total) VALUES (2, 1, 'invoice', 'invoice', 'I2', '2026-11-1x', 5)",
		"INSERT INTO papers (id, act_id, kind, about, number, day, total) VALUES (2, 1, 'no kind', 'invoice', 'I2', '2026-02-03', 5)",
		"INSERT INTO open_items (register, paper_id, day, due, amount, open) VALUES ('receivables', 1, '2026-01-01', '2026-12-1x', 5, 5)",
		"INSERT INTO open_items (register, paper_id, day, due, currency, amount, open) VALUES ('receivables', 1, '2026-01-01', '', 'USD', 5, 5)",
		"INSERT INTO item_moves (item_id, day, amount) VALUES (1, '2026-13-01', 5)",
		"INSERT INTO entry_lines (entry_id, day, account_id, amount) VALUES (1, '2026-01-01', 1, 10000000000001)",
		"INSERT INTO account_days (account_id, day, debit, credit) VALUES (1, '2026-01-01', 10000000000001, 0)",
		"INSERT INTO charged_days (act_id, item_id, paper_id, from_day, through_day) VALUES (1, 1, 1, '2026-01-02', '2026-01-01')",
		"INSERT INTO tax_rates (tax_code_id, since, percent) VALUES (1, '2026-2-3', '5')",
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

// The schema is frozen: what has been released is changed by a migration after
// it. Whoever finds this test failing undoes the change and writes the next one.
func TestSchemaIsFrozen(t *testing.T) {
	for name, want := range map[string]string{
		"migrations/0001_books.sql":                       "631fe7a28ba5d8d39a1f4f8a8a4ab3f2a7049e5645c325ad5a25ea7f564450ef",
		"migrations/0002_on_paper.sql":                    "79a3ad4e0854f226a3aedf9e4e4251ef1ec5b59cc490f83cbb2ea9a290232a3f",
		"migrations/0003_contracts.sql":                   "f4ef1b07221c8f7b2688d60edc0456a8f20283ebf1c5bf85348533ab06706e3c",
		"migrations/0004_late_and_recurring.sql":          "36a377b5fe170c92b54b597c229837298d47bb74334ac2327f9ee0f1f0283d42",
		"migrations/0005_buying.sql":                      "36e031b836112ed322f1b34149d1cfccc890c18be6dba5516908767845e93fcc",
		"migrations/0006_tills.sql":                       "346132bb9a7e362bf60ef4956eee7fc86a2780cac1a00c7c94feeb2c6e4be4c2",
		"migrations/0007_seals.sql":                       "6192de2fbe4e6e91e91ab89d105569ff3dc99811e0186e8704b6886707ab0843",
		"migrations/0008_looking_back.sql":                "b060edb356b7c01c4d08f5e614a15dcf2d184b95f6c94a87fb0c78b826d7b817",
		"migrations/0009_large_books.sql":                 "6f7f0164c246e8c7bceb9581c57c03c11dec2112bc5903c5fa9b5d1e5e0a8ec5",
		"migrations/0010_moved.sql":                       "bbf406d6f37fb3e3478605b14f7ffdd1da789b78c4314ce9daa3d2d6799aa413",
		"migrations/0011_going_out.sql":                   "cac800b1fd29c5ec8a05cbd32e6abed0eff8eece19b31b1753b151b24ddefbe2",
		"migrations/0012_mail.sql":                        "3047aade4e3d7e652be5deea73385a39c2eae74a924b71c31701e4eac868fb44",
		"migrations/0013_electronic.sql":                  "3122943ec7793ffba8a64c5e45e8ce2672390c4966848f982ab775ec4abd1c30",
		"migrations/0014_reminders.sql":                   "270c3ac3abc649d7cbcefae21c97764f7d18e8eece322fa41a3ffebc5acd3a26",
		"migrations/0015_cards_links_cheques.sql":         "7e628b72e8c80dca08689bfebb732a560bedd7913b3ad679a54e957391c85fbe",
		"migrations/0016_bank.sql":                        "c0317ad972ab07e983b7bdd41e8e869dee5340432f182481a560b5c14336ea62",
		"migrations/0017_explaining.sql":                  "bb1e1ce76b7fe33645bd85b4c61cdceac9866e27679fb764381c02323de29365",
		"migrations/0018_people_and_periods.sql":          "5bb512464f6c2cd19b5fabb41afa5ee8b77d13349f8842d8406464e435043fd2",
		"migrations/0019_firms_and_tax_when_paid.sql":     "35b5ce2dfdbc0533f480abb3d58ffe8e98f08577e8f06c25cdc6f6c5b378e606",
		"migrations/0020_currencies.sql":                  "829294f86f1b2cc1c1b5ca26498a3fd3980f7e87c552ce275e738d837c784a75",
		"migrations/0021_abroad.sql":                      "3cbb80e94fa67f69501c601bd7ec4ba7b0557f7f237f62cf0cc73b46d4a09317",
		"migrations/0022_tie_out_abroad.sql":              "e8d1e6ea435c179fcbd0ed8d5505bbaea24df43952baa9a584b7f19152186b35",
		"migrations/0023_looking_at_what_is_open.sql":     "8fa7d0cdfec2a63c57c640a41799607b1927f6e4b5de825f688c5d8bc509fbc6",
		"migrations/0024_by_code_and_by_what_is_left.sql": "ebb0cbbec9f35ca4734285e8039dceaac627aedd7ba4ef6ef20c41f8c59ac53f",
		"migrations/0025_by_reason.sql":                   "b752f50a3b095d2c3f8b1d2f57ffd06f6f845c911a3614b43c739264f25db4be",
		"migrations/0026_by_what_is_billed.sql":           "9bd8007065503f6f3476e542121595b9f7ce3561ffac4834fc9d23d6e5e466da",
	} {
		text, err := migrations.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		if got := fmt.Sprintf("%x", sha256.Sum256(text)); got != want {
			t.Errorf("%s is %s, was frozen as %s", name, got, want)
		}
	}
}

// A file of a newer program, or of one before the first release, is not
// touched.
func TestOtherVersionsAreRefused(t *testing.T) {
	ctx, dir := context.Background(), t.TempDir()
	db, err := Open(ctx, dir)
	if err != nil {
		t.Fatal(err)
	}
	if err := db.writer.Exec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (99, 1)").Error; err != nil {
		t.Fatal(err)
	}
	db.Close()
	if _, err := Open(ctx, dir); !errors.Is(err, ErrNewer) {
		t.Errorf("a newer file: %v", err)
	}
	old := t.TempDir()
	g, err := connect(filepath.Join(old, FileName), 1, url.Values{})
	if err != nil {
		t.Fatal(err)
	}
	if err := g.Exec("CREATE TABLE papers (id INTEGER PRIMARY KEY)").Error; err != nil {
		t.Fatal(err)
	}
	if _, err := Open(ctx, old); !errors.Is(err, ErrNewer) {
		t.Errorf("a file from before: %v", err)
	}
}

// The data file is nobody else's.
func TestTheFileIsItsOwners(t *testing.T) {
	dir := t.TempDir()
	path := filepath.Join(dir, FileName)
	if err := os.WriteFile(path, nil, 0o644); err != nil {
		t.Fatal(err)
	}
	db, err := Open(context.Background(), dir)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	for _, name := range []string{FileName, FileName + "-wal", FileName + "-shm"} {
		info, err := os.Stat(filepath.Join(dir, name))
		if err != nil || info.Mode().Perm() != 0o600 {
			t.Errorf("%s: %v, %v", name, info, err)
		}
	}
}

// What was committed is committed, even if nothing can be read right after.
func TestCommittedIsNoError(t *testing.T) {
	db := openEmpty(t)
	ctx, cancel := context.WithCancel(context.Background())
	err := db.Write(ctx, func(tx *Tx) error {
		defer cancel() // whoever asked has gone
		*tx.stale = true
		return tx.db.Exec("INSERT INTO acts (id, at, user_id, action, summary) VALUES (1, '', 1, 'a', 's')").Error
	})
	_, there, readErr := one[int64](*db.Read(context.Background()), "SELECT id FROM acts")
	if (err == nil) != there || readErr != nil {
		t.Errorf("answered %v, and it is there: %v, %v", err, there, readErr)
	}
}

// The check finds what was changed behind the program's back.
func TestCheckFinds(t *testing.T) {
	ctx := context.Background()
	for says, change := range map[string]string{
		"differs from the register of receivables":  "INSERT INTO item_moves (item_id, day, amount) VALUES (1, '2026-01-02', -1)",
		"keeps another open amount":                 "UPDATE open_items SET open = 4 WHERE id = 1",
		"amount in its own currency than its moves": "UPDATE open_items SET own_open_tax = 0 WHERE id = 1",
		"keeps another last day than that of its":   "UPDATE open_items SET moved = '2026-01-02'",
		"keeps another sum by day than its moves":   "UPDATE register_days SET amount = amount + 1",
		"keeps another sum by day of deposits":      "INSERT INTO deposit_days VALUES ('2026-01-01', 'received', 1, 0)",
		"keeps other sums by tax code":              "INSERT INTO paper_codes VALUES (1, 7, 1, '0', 1, 0, NULL, NULL)",
		"by day than its lines add up to":           "INSERT INTO line_days VALUES ('stock', '2026-01-01', 1)",
		"keeps another stock than its moves":        "INSERT INTO stock_left VALUES (1, 1, 1)",
		"brought goods back otherwise":              "INSERT INTO goods_back VALUES (1)",
		"became of it than its uses say":            "INSERT INTO goods_left VALUES (1, 1, 'purchase order', NULL, 1000000, 0, 0, 0)",
		"does not balance":                          "INSERT INTO entry_lines (entry_id, day, account_id, amount) VALUES (1, '2026-01-01', 2, 1)",
		"is dated otherwise":                        "INSERT INTO entry_lines (entry_id, day, account_id, amount) VALUES (1, '2026-01-05', 2, 1)",
		"keeps other sums by day":                   "UPDATE account_days SET debit = debit + 1 WHERE account_id = 1",
		"bears a job on a control account":          "INSERT INTO entry_lines (entry_id, day, account_id, amount, job_id) VALUES (1, '2026-01-01', 1, 1, 1)",
		"is used beyond what it billed":             "INSERT INTO uses (act_id, of_paper_id, of_position, tax_code_id, as_kind, day, by_position, paper_id, quantity, amount, tax, cost) VALUES (1, 1, 0, 1, 'written off', '2026-01-01', 0, 1, 0, 5, 2, 0)",
		"keeps another rest than its uses leave":    "UPDATE lines_left SET amount = 1",
		"waits elsewhere than its paper says":       "UPDATE lines_left SET quantity = 5",
		"was open beyond its bounds":                "INSERT INTO item_moves (item_id, day, amount) VALUES (1, '2025-12-31', -1), (1, '2026-01-01', 1)",
		"has stock that cannot be":                  "INSERT INTO stock_moves (act_id, article_id, by_paper_id, by_position, paper_id, day, quantity, value) VALUES (1, 1, 1, 0, 1, '2026-01-01', -1, 0)",
		"is charged twice":                          "INSERT INTO charged_days (act_id, item_id, paper_id, from_day, through_day) VALUES (1, 1, 1, '2026-01-01', '2026-01-05'), (1, 1, 1, '2026-01-05', '2026-01-06')",
	} {
		db := openEmpty(t)
		write := func(all ...string) {
			t.Helper()
			err := db.Write(ctx, func(tx *Tx) error {
				for _, s := range all {
					if err := tx.db.Exec(s).Error; err != nil {
						return fmt.Errorf("%s: %w", s, err)
					}
				}
				return nil
			})
			if err != nil {
				t.Fatal(err)
			}
		}
		write("INSERT INTO acts (id, at, user_id, action, summary) VALUES (1, '', 1, 'a', 's')",
			"INSERT INTO accounts (id, number, name, type) VALUES (1, '120', 'Receivables', 'asset'), (2, '401', 'Sales', 'income')", "INSERT INTO roles VALUES ('receivables', 1)",
			"INSERT INTO tax_codes (id, code, kind) VALUES (1, 'T', 'charged')", "INSERT INTO articles (id, code, name, kind) VALUES (1, 'A', 'A', 'material')",
			"INSERT INTO parties (id, number, name, is_customer, is_supplier) VALUES (1, '1', 'P', 1, 0)", "INSERT INTO jobs (id, number, name, party_id) VALUES (1, '1', 'J', 1)",
			"INSERT INTO papers (id, act_id, kind, about, number, day, total) VALUES (1, 1, 'invoice', 'invoice', 'I1', '2026-01-01', 5)",
			"INSERT INTO paper_billing (paper_id, due, terms_id, includes, discount, net, tax, rounding, early_percent, early_until, supplied) VALUES (1, '2026-01-31', NULL, 0, 0, 4, 1, 0, '0', '', '')",
			"INSERT INTO paper_lines (paper_id, position, text, quantity, unit_price, discount_percent, discount, tax_code_id, tax_percent, before, net, tax) VALUES (1, 1, 't', '1', '1', '0', 0, 1, '0', 4, 4, 1)",
			"INSERT INTO paper_codes VALUES (1, 1, 1, '0', 4, 1, NULL, NULL)",
			"INSERT INTO lines_left VALUES (1, 1, 'passed on', NULL, NULL, '2026-01-01', 1000000, 5, 1)",
			"INSERT INTO open_items (id, register, paper_id, bills_id, day, due, amount, open, moved) VALUES (1, 'receivables', 1, 1, '2026-01-01', '', 5, 5, '2026-01-01')",
			"INSERT INTO item_moves (item_id, day, amount) VALUES (1, '2026-01-01', 5)",
			"INSERT INTO entries VALUES (1, 1, 1, NULL, '2026-01-01', 't')",
			"INSERT INTO entry_lines (entry_id, day, account_id, amount) VALUES (1, '2026-01-01', 1, 5), (1, '2026-01-01', 2, -5)",
			"INSERT INTO account_days (account_id, day, debit, credit) VALUES (1, '2026-01-01', 5, 0), (2, '2026-01-01', 0, 5)")
		if err := db.Write(ctx, func(tx *Tx) error { return tx.sealOlder() }); err != nil {
			t.Fatal(err)
		}
		if found, err := db.Read(ctx).Check(); err != nil || len(found) > 0 {
			t.Fatalf("before: %v, %v", found, err)
		}
		write(change)
		found, err := db.Read(ctx).Check()
		if err != nil || !slices.ContainsFunc(found, func(s string) bool { return strings.Contains(s, says) }) {
			t.Errorf("after %s: %q, %v", change, found, err)
		}
	}
}

// An update goes on from the version that was read, and raises it.
func TestUpdateByVersion(t *testing.T) {
	ctx := context.Background()
	db := openEmpty(t)
	err := db.Write(ctx, func(tx *Tx) error {
		p := master.Party{Number: "1", Name: "One", IsCustomer: true}
		if err := Create(tx, &p); err != nil {
			return err
		}
		for version, want := range []error{ErrRecordChanged, nil, nil, ErrRecordChanged} {
			p.Name = fmt.Sprint("Name ", version)
			if version == 3 {
				version = 1
			}
			if err := Update(tx, p.ID, int64(version), p); !errors.Is(err, want) {
				t.Errorf("from version %d: %v, want %v", version, err, want)
			}
		}
		if err := Update(tx, 99, 1, p); !errors.Is(err, ErrNoRecord) {
			t.Errorf("a record that is not there: %v", err)
		}
		now, _, err := Find[master.Party](&tx.Reader, p.ID)
		if now.Version != 3 || now.Name != "Name 2" {
			t.Errorf("it is %+v", now)
		}
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
}

// A trial works on a copy of the records: nothing of it is kept.
func TestTrialKeepsNothing(t *testing.T) {
	ctx := context.Background()
	db := openEmpty(t)
	begun, done := make(chan bool), make(chan error)
	go func() {
		done <- db.Trial(ctx, func(tx *Tx) error {
			p := master.Party{Number: "1", Name: "Tried", IsCustomer: true}
			if err := Create(tx, &p); err != nil {
				return err
			}
			begun <- true
			<-begun // while somebody else writes
			_, there, err := IDBy[master.Party](&tx.Reader, "number", "1")
			if !there {
				t.Error("the trial does not see what it did")
			}
			return err
		})
	}()
	<-begun
	if err := db.Write(ctx, func(tx *Tx) error { return Create(tx, &master.Party{Number: "2", Name: "Kept", IsCustomer: true}) }); err != nil {
		t.Errorf("writing during a trial: %v", err)
	}
	begun <- true
	if err := <-done; err != nil {
		t.Error(err)
	}
	all, err := All[master.Party](db.Read(ctx), "id")
	if err != nil || len(all) != 1 || all[0].Name != "Kept" {
		t.Errorf("afterwards %+v, %v", all, err)
	}
}
