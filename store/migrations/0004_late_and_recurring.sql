-- Late charges, recurring invoices, and what an invoice says beside its lines.
-- +goose Up
ALTER TABLE firm ADD COLUMN late_percent TEXT NOT NULL DEFAULT '0'; -- a year
ALTER TABLE firm ADD COLUMN late_grace INTEGER NOT NULL DEFAULT 0 CHECK (late_grace BETWEEN 0 AND 365); -- days
ALTER TABLE firm ADD COLUMN late_fee INTEGER NOT NULL DEFAULT 0 CHECK (late_fee BETWEEN 0 AND 1000000000000);
ALTER TABLE firm ADD COLUMN invoice_note TEXT NOT NULL DEFAULT ''; -- that a new invoice begins with
ALTER TABLE firm ADD COLUMN unused_fields TEXT NOT NULL DEFAULT '' CHECK (unused_fields = '' OR json_valid(unused_fields)); -- of an invoice
ALTER TABLE parties ADD COLUMN invoice_note TEXT NOT NULL DEFAULT ''; -- in place of the firm's
ALTER TABLE disputes ADD COLUMN unfounded INTEGER NOT NULL DEFAULT 0 CHECK (unfounded IN (0, 1)); -- it ended so: its days bear late charges after all
ALTER TABLE paper_billing ADD COLUMN subject TEXT NOT NULL DEFAULT '';
ALTER TABLE paper_billing ADD COLUMN salesperson TEXT NOT NULL DEFAULT '';
ALTER TABLE paper_billing ADD COLUMN order_number TEXT NOT NULL DEFAULT ''; -- the customer's own

-- What recurs: a draft of an invoice is made of it on each of its days.
CREATE TABLE schedules (
  id       INTEGER PRIMARY KEY,
  version  INTEGER NOT NULL DEFAULT 1,
  name     TEXT NOT NULL CHECK (name <> ''),
  party_id INTEGER NOT NULL REFERENCES parties (id),
  body     TEXT NOT NULL CHECK (json_valid(body)), -- of the invoice, as a draft keeps it
  every    INTEGER NOT NULL CHECK (every BETWEEN 1 AND 120),
  unit     TEXT NOT NULL CHECK (unit IN ('week', 'month', 'year')),
  first    TEXT NOT NULL CHECK (first IS date(first)), -- its day of the month holds for all, the last where a month has none
  made     INTEGER NOT NULL DEFAULT 0 CHECK (made >= 0), -- how many were made so far
  until    TEXT NOT NULL DEFAULT '' CHECK (until = '' OR until IS date(until)),
  paused   INTEGER NOT NULL DEFAULT 0 CHECK (paused IN (0, 1))
) STRICT;
CREATE INDEX schedules_party ON schedules (party_id);
