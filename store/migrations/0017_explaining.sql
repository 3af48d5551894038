-- What the same other side of a bank's lines was last time, the firm's own rules
-- for them, where they are fetched, and what was counted in tills.
-- +goose Up
DROP TRIGGER bank_lines_stay;
ALTER TABLE bank_lines ADD COLUMN other_side TEXT NOT NULL DEFAULT ''; -- by its account, else its name, else the text without figures
UPDATE bank_lines SET other_side = lower(COALESCE(NULLIF(replace(other_account, ' ', ''), ''), NULLIF(other_name, ''), text));
-- +goose StatementBegin
CREATE TRIGGER bank_lines_stay BEFORE UPDATE ON bank_lines BEGIN SELECT RAISE(ABORT, 'what the bank says never changes'); END;
-- +goose StatementEnd
CREATE INDEX bank_lines_other_side ON bank_lines (other_side, id) WHERE other_side <> '';
-- What was read by mistake may go as long as nothing was made of it.
DROP TRIGGER bank_lines_remain;
-- +goose StatementBegin
CREATE TRIGGER bank_lines_remain BEFORE DELETE ON bank_lines WHEN OLD.statement_id IS NULL OR EXISTS (SELECT 1 FROM ties t WHERE t.bank_line_id = OLD.id)
BEGIN SELECT RAISE(ABORT, 'what the bank says is not deleted once it is tied'); END;
-- +goose StatementEnd
CREATE INDEX bank_lines_statement ON bank_lines (statement_id);

CREATE TABLE bank_rules (
  id              INTEGER PRIMARY KEY,
  version         INTEGER NOT NULL DEFAULT 1,
  name            TEXT NOT NULL UNIQUE CHECK (name <> ''),
  bank_account_id INTEGER NOT NULL, -- 0 for any
  text            TEXT NOT NULL, -- words that a line's text holds
  other           TEXT NOT NULL, -- words that the other side's name holds
  came            INTEGER NOT NULL CHECK (came IN (0, 1)),
  went            INTEGER NOT NULL CHECK (went IN (0, 1)),
  becomes         TEXT NOT NULL, -- a kind of paper
  account_id      INTEGER NOT NULL, -- of a charge or interest; else 0
  to_bank_id      INTEGER NOT NULL, -- of a transfer between own accounts
  party_id        INTEGER NOT NULL, -- of a standing payment
  inactive        INTEGER NOT NULL DEFAULT 0 CHECK (inactive IN (0, 1))
) STRICT;
-- What each did: the lines that a person took by it.
CREATE TABLE bank_rule_uses (
  act_id       INTEGER PRIMARY KEY REFERENCES acts (id),
  rule_id      INTEGER NOT NULL REFERENCES bank_rules (id),
  bank_line_id INTEGER NOT NULL REFERENCES bank_lines (id)
) STRICT;
CREATE INDEX bank_rule_uses_rule ON bank_rule_uses (rule_id, act_id);

CREATE TABLE bank_feeds (
  bank_account_id INTEGER PRIMARY KEY REFERENCES bank_accounts (id),
  way             TEXT NOT NULL CHECK (way IN ('', 'stand-in')),
  fetched_at      TEXT NOT NULL  -- UTC; "" for never
) STRICT;

-- Counts of tills, as they were kept.
CREATE TABLE cash_counts (
  id              INTEGER PRIMARY KEY,
  act_id          INTEGER NOT NULL REFERENCES acts (id),
  bank_account_id INTEGER NOT NULL REFERENCES bank_accounts (id),
  day             TEXT NOT NULL CHECK (day IS date(day)),
  pieces          TEXT NOT NULL CHECK (json_valid(pieces)), -- how many of each note and coin
  counted         INTEGER NOT NULL,
  ledger          INTEGER NOT NULL
) STRICT;
CREATE INDEX cash_counts_account ON cash_counts (bank_account_id, day);

-- How far everything had come at a proof, so that what changed since is found at
-- once.
ALTER TABLE bank_reconciliations ADD COLUMN last_entry INTEGER NOT NULL DEFAULT 0;
ALTER TABLE bank_reconciliations ADD COLUMN last_tie INTEGER NOT NULL DEFAULT 0;
ALTER TABLE bank_reconciliations ADD COLUMN last_line INTEGER NOT NULL DEFAULT 0;
CREATE INDEX freed_ties_act ON freed_ties (act_id);

-- What waits on either side: lines that nothing explains, and movements on
-- accounts at banks that no line is tied to. Kept by what ties and frees, so that
-- it is found at once among very many.
CREATE TABLE lines_unexplained (
  bank_line_id INTEGER PRIMARY KEY REFERENCES bank_lines (id)
) STRICT;
CREATE TABLE movements_waiting (
  account_id  INTEGER NOT NULL,
  day         TEXT NOT NULL,
  movement_id INTEGER NOT NULL REFERENCES entry_lines (id),
  PRIMARY KEY (account_id, day, movement_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX movements_waiting_movement ON movements_waiting (movement_id);
INSERT INTO lines_unexplained SELECT l.id FROM bank_lines l WHERE NOT EXISTS (SELECT 1 FROM ties t WHERE t.bank_line_id = l.id AND NOT EXISTS (SELECT 1 FROM freed_ties x WHERE x.tie_id = t.id));
INSERT INTO movements_waiting SELECT e.account_id, e.day, e.id FROM bank_accounts k JOIN entry_lines e ON e.account_id = k.account_id WHERE k.cash = 0 AND k.takings = 0
  AND NOT EXISTS (SELECT 1 FROM ties t WHERE t.movement_id = e.id AND NOT EXISTS (SELECT 1 FROM freed_ties x WHERE x.tie_id = t.id));
-- +goose StatementBegin
CREATE TRIGGER bank_lines_wait AFTER INSERT ON bank_lines BEGIN INSERT INTO lines_unexplained VALUES (NEW.id); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bank_lines_go BEFORE DELETE ON bank_lines BEGIN DELETE FROM lines_unexplained WHERE bank_line_id = OLD.id; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER entry_lines_wait AFTER INSERT ON entry_lines WHEN EXISTS (SELECT 1 FROM bank_accounts k WHERE k.account_id = NEW.account_id AND k.cash = 0 AND k.takings = 0)
BEGIN INSERT INTO movements_waiting VALUES (NEW.account_id, NEW.day, NEW.id); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER ties_explain AFTER INSERT ON ties BEGIN
  DELETE FROM lines_unexplained WHERE bank_line_id = NEW.bank_line_id;
  DELETE FROM movements_waiting WHERE movement_id = NEW.movement_id;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER freed_ties_wait AFTER INSERT ON freed_ties BEGIN
  INSERT OR IGNORE INTO lines_unexplained SELECT f.bank_line_id FROM ties f WHERE f.id = NEW.tie_id
    AND NOT EXISTS (SELECT 1 FROM ties t WHERE t.bank_line_id = f.bank_line_id AND NOT EXISTS (SELECT 1 FROM freed_ties x WHERE x.tie_id = t.id));
  INSERT OR IGNORE INTO movements_waiting SELECT e.account_id, e.day, e.id FROM ties f JOIN entry_lines e ON e.id = f.movement_id JOIN bank_accounts k ON k.account_id = e.account_id AND k.cash = 0 AND k.takings = 0
    WHERE f.id = NEW.tie_id AND NOT EXISTS (SELECT 1 FROM ties t WHERE t.movement_id = f.movement_id AND NOT EXISTS (SELECT 1 FROM freed_ties x WHERE x.tie_id = t.id));
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bank_accounts_wait AFTER INSERT ON bank_accounts WHEN NEW.cash = 0 AND NEW.takings = 0
BEGIN INSERT OR IGNORE INTO movements_waiting SELECT e.account_id, e.day, e.id FROM entry_lines e WHERE e.account_id = NEW.account_id; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bank_accounts_turn AFTER UPDATE OF account_id, cash, takings ON bank_accounts BEGIN
  DELETE FROM movements_waiting WHERE account_id IN (OLD.account_id, NEW.account_id);
  INSERT INTO movements_waiting SELECT e.account_id, e.day, e.id FROM entry_lines e WHERE e.account_id = NEW.account_id AND NEW.cash = 0 AND NEW.takings = 0
    AND NOT EXISTS (SELECT 1 FROM ties t WHERE t.movement_id = e.id AND NOT EXISTS (SELECT 1 FROM freed_ties x WHERE x.tie_id = t.id));
END;
-- +goose StatementEnd
