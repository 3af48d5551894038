-- Every way that money comes, waits, is used, goes back or is given up.

-- +goose Up

ALTER TABLE firm ADD COLUMN difference_limit INTEGER NOT NULL DEFAULT 100; -- up to which a difference is closed on the spot
ALTER TABLE firm ADD COLUMN write_off_limit INTEGER NOT NULL DEFAULT 0;    -- past which a second person must agree; 0 for never
ALTER TABLE firm ADD COLUMN relief INTEGER NOT NULL DEFAULT 1;             -- whether tax on bad debts comes back

-- The allowance for doubtful debts by bucket of the ageing, the youngest first.
CREATE TABLE allowance_rates (
  bucket  INTEGER PRIMARY KEY CHECK (bucket BETWEEN 0 AND 4),
  percent TEXT NOT NULL
) STRICT;

ALTER TABLE terms ADD COLUMN discount_percent TEXT NOT NULL DEFAULT '0';
ALTER TABLE terms ADD COLUMN discount_days INTEGER NOT NULL DEFAULT 0 CHECK (discount_days BETWEEN 0 AND 999);

ALTER TABLE papers ADD COLUMN withheld INTEGER NOT NULL DEFAULT 0;
ALTER TABLE papers ADD COLUMN source_id INTEGER REFERENCES papers (id); -- the paper that it stands on
ALTER TABLE papers ADD COLUMN reason TEXT NOT NULL DEFAULT '';
ALTER TABLE papers ADD COLUMN cheque TEXT NOT NULL DEFAULT '';
ALTER TABLE papers ADD COLUMN bank_day TEXT NOT NULL DEFAULT '';
ALTER TABLE papers ADD COLUMN early_percent TEXT NOT NULL DEFAULT '0';
ALTER TABLE papers ADD COLUMN early_until TEXT NOT NULL DEFAULT '';
CREATE INDEX papers_source ON papers (source_id) WHERE source_id IS NOT NULL;
CREATE UNIQUE INDEX papers_cheque ON papers (bank_account_id, cheque) WHERE cheque <> '' AND kind <> 'reversal';

-- When a cheque was printed. It may be printed again.
CREATE TABLE cheque_prints (
  paper_id INTEGER NOT NULL REFERENCES papers (id),
  act_id   INTEGER NOT NULL REFERENCES acts (id),
  PRIMARY KEY (paper_id, act_id)
) STRICT, WITHOUT ROWID;

ALTER TABLE open_items ADD COLUMN nature TEXT NOT NULL DEFAULT '';
ALTER TABLE open_items ADD COLUMN tax INTEGER NOT NULL DEFAULT 0;      -- inside the amount; the account bears what is beside it
ALTER TABLE open_items ADD COLUMN open_tax INTEGER NOT NULL DEFAULT 0; -- kept by commit, as open is
ALTER TABLE open_items ADD COLUMN tax_code_id INTEGER REFERENCES tax_codes (id);
CREATE INDEX open_items_party ON open_items (party_id, paper_id);
DROP INDEX open_items_open;
CREATE INDEX open_items_open ON open_items (register, party_id, due, day, amount, open, open_tax) WHERE open <> 0;
CREATE INDEX open_items_credits ON open_items (register, party_id, day, open, job_id) WHERE open < 0;
DROP INDEX open_items_due;
CREATE INDEX open_items_due ON open_items (register, due, open) WHERE open <> 0;

ALTER TABLE item_moves ADD COLUMN tax INTEGER NOT NULL DEFAULT 0;
DROP INDEX item_moves_item;
DROP INDEX item_moves_day;
CREATE INDEX item_moves_item ON item_moves (item_id, day, amount, tax);
CREATE INDEX item_moves_day ON item_moves (day, item_id, amount, tax);
ALTER TABLE allocations ADD COLUMN tax INTEGER NOT NULL DEFAULT 0;
ALTER TABLE entry_lines ADD COLUMN item_id INTEGER REFERENCES open_items (id); -- the item that the line came about with
CREATE INDEX entry_lines_item ON entry_lines (item_id) WHERE item_id IS NOT NULL;
CREATE INDEX entry_lines_party ON entry_lines (party_id, day) WHERE party_id IS NOT NULL;

-- Marks of dispute, one after the other; an empty reason ends it.
CREATE TABLE disputes (
  id      INTEGER PRIMARY KEY,
  act_id  INTEGER NOT NULL REFERENCES acts (id),
  item_id INTEGER NOT NULL REFERENCES open_items (id),
  day     TEXT NOT NULL CHECK (day GLOB '????-??-??'),
  reason  TEXT NOT NULL
) STRICT;
CREATE INDEX disputes_item ON disputes (item_id, day, id);

INSERT OR IGNORE INTO numberings (kind, format)
SELECT kind, format FROM (
  SELECT 'unidentified receipt' AS kind, 'U{yy}-{0000}' AS format UNION ALL SELECT 'refund', 'F{yy}-{0000}' UNION ALL SELECT 'forfeit', 'K{yy}-{0000}'
  UNION ALL SELECT 'transfer', 'T{yy}-{0000}' UNION ALL SELECT 'write-off', 'W{yy}-{0000}' UNION ALL SELECT 'recovery', 'RC{yy}-{0000}'
  UNION ALL SELECT 'contra', 'C{yy}-{0000}' UNION ALL SELECT 'returned payment', 'RP{yy}-{0000}' UNION ALL SELECT 'supplier bill', 'B{yy}-{0000}'
  UNION ALL SELECT 'journal', 'J{yy}-{0000}')
WHERE EXISTS (SELECT 1 FROM firm);

-- +goose StatementBegin
DROP TRIGGER open_items_stay;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER open_items_stay BEFORE UPDATE OF id, register, nature, paper_id, part, party_id, job_id, day, due, amount, tax, tax_code_id ON open_items
BEGIN SELECT RAISE(ABORT, 'an open item never changes but for what is open'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER disputes_stay BEFORE UPDATE ON disputes BEGIN SELECT RAISE(ABORT, 'a dispute is ended, never changed'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER disputes_remain BEFORE DELETE ON disputes BEGIN SELECT RAISE(ABORT, 'a dispute is never deleted'); END;
-- +goose StatementEnd

-- What is kept in memory under the chart's version grows by what every plan asks.
-- +goose StatementBegin
CREATE TRIGGER firm_chart AFTER UPDATE OF name, address, email, phone, tax_number, currency, terms_id, tax_code_id, locked_through, difference_limit, write_off_limit, relief ON firm
BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER numberings_chart_insert AFTER INSERT ON numberings BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER numberings_chart_update AFTER UPDATE ON numberings BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER numberings_chart_delete AFTER DELETE ON numberings BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER terms_chart_insert AFTER INSERT ON terms BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER terms_chart_update AFTER UPDATE ON terms BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER terms_chart_delete AFTER DELETE ON terms BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER instalments_chart_insert AFTER INSERT ON instalments BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER instalments_chart_update AFTER UPDATE ON instalments BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER instalments_chart_delete AFTER DELETE ON instalments BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER allowance_rates_chart_insert AFTER INSERT ON allowance_rates BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER allowance_rates_chart_update AFTER UPDATE ON allowance_rates BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER allowance_rates_chart_delete AFTER DELETE ON allowance_rates BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
