-- Statements of banks: what was read of them, and through which day a bank account
-- is reconciled.
-- +goose Up
CREATE TABLE bank_statements (
  id              INTEGER PRIMARY KEY,
  bank_account_id INTEGER NOT NULL REFERENCES bank_accounts (id),
  name            TEXT NOT NULL, -- of the file
  from_day        TEXT NOT NULL CHECK (from_day IS date(from_day)),
  through_day     TEXT NOT NULL CHECK (through_day IS date(through_day)),
  opening         INTEGER, -- before its first line; NULL where neither it nor the lines say
  closing         INTEGER,
  lines           INTEGER NOT NULL, -- that were new
  read_at         TEXT NOT NULL,    -- UTC
  read_by         INTEGER NOT NULL REFERENCES users (id)
) STRICT;
CREATE INDEX bank_statements_account ON bank_statements (bank_account_id, through_day);
ALTER TABLE bank_lines ADD COLUMN statement_id INTEGER REFERENCES bank_statements (id);
CREATE INDEX bank_lines_same ON bank_lines (bank_account_id, day, amount);
CREATE TABLE bank_mappings (
  bank_account_id INTEGER PRIMARY KEY REFERENCES bank_accounts (id),
  mapping         TEXT NOT NULL CHECK (json_valid(mapping)) -- of the columns of its CSV
) STRICT;
-- Proofs that a bank account was reconciled through a day, as they were made.
CREATE TABLE bank_reconciliations (
  id              INTEGER PRIMARY KEY,
  act_id          INTEGER NOT NULL REFERENCES acts (id),
  bank_account_id INTEGER NOT NULL REFERENCES bank_accounts (id),
  through_day     TEXT NOT NULL CHECK (through_day IS date(through_day)),
  ledger          INTEGER NOT NULL,
  bank            INTEGER NOT NULL,
  waiting         INTEGER NOT NULL -- what was not at the bank, less what was not in the books
) STRICT;
CREATE INDEX bank_reconciliations_account ON bank_reconciliations (bank_account_id, through_day);
