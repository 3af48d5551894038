-- What a contract needs: what is kept back of a job's invoices and until when,
-- what of an invoice is work, was deducted and is kept back, and which kinds of
-- paper agree on a sum.
-- +goose Up
ALTER TABLE jobs ADD COLUMN retention_percent TEXT NOT NULL DEFAULT '0';
ALTER TABLE jobs ADD COLUMN retention_gross INTEGER NOT NULL DEFAULT 0 CHECK (retention_gross IN (0, 1)); -- of the sum with tax
ALTER TABLE jobs ADD COLUMN retention_cap INTEGER NOT NULL DEFAULT 0 CHECK (retention_cap BETWEEN 0 AND 1000000000000);
ALTER TABLE jobs ADD COLUMN retention_cap_percent TEXT NOT NULL DEFAULT '0'; -- of the contract sum
ALTER TABLE jobs ADD COLUMN retention_tax_later INTEGER NOT NULL DEFAULT 0 CHECK (retention_tax_later IN (0, 1)); -- its tax is due when it is released
CREATE TABLE job_releases (
  id      INTEGER PRIMARY KEY,
  job_id  INTEGER NOT NULL REFERENCES jobs (id) ON DELETE CASCADE,
  name    TEXT NOT NULL,
  percent TEXT NOT NULL,
  day     TEXT NOT NULL CHECK (day = '' OR day IS date(day))
) STRICT;
CREATE INDEX job_releases_job ON job_releases (job_id);

CREATE TABLE job_stages (
  id      INTEGER PRIMARY KEY,
  job_id  INTEGER NOT NULL REFERENCES jobs (id) ON DELETE CASCADE,
  name    TEXT NOT NULL CHECK (name <> ''),
  percent TEXT NOT NULL,
  amount  INTEGER NOT NULL CHECK (amount BETWEEN 0 AND 1000000000000),
  day     TEXT NOT NULL CHECK (day = '' OR day IS date(day))
) STRICT;
CREATE INDEX job_stages_job ON job_stages (job_id);
CREATE INDEX open_items_retention ON open_items (job_id) WHERE register = 'retention';

ALTER TABLE paper_billing ADD COLUMN form TEXT NOT NULL DEFAULT ''; -- stage, final
ALTER TABLE paper_billing ADD COLUMN beside INTEGER NOT NULL DEFAULT 0; -- of net, what is no work: deductions
ALTER TABLE paper_billing ADD COLUMN deducted INTEGER NOT NULL DEFAULT 0; -- what was billed in advance and is taken off, with its tax
ALTER TABLE paper_billing ADD COLUMN retained INTEGER NOT NULL DEFAULT 0; -- what the customer keeps back
ALTER TABLE paper_billing ADD COLUMN retained_why TEXT NOT NULL DEFAULT '';
-- Of the family that offers.
CREATE TABLE paper_offers (
  paper_id INTEGER PRIMARY KEY REFERENCES papers (id),
  holds    TEXT NOT NULL CHECK (holds = '' OR holds IS date(holds)),
  version  INTEGER NOT NULL CHECK (version > 0)
) STRICT;
ALTER TABLE kinds ADD COLUMN taken TEXT NOT NULL DEFAULT ''; -- its lines are taken one by one, as this
ALTER TABLE kinds ADD COLUMN agrees INTEGER NOT NULL DEFAULT 0; -- its net is part of what a job's contract comes to
-- +goose StatementBegin
CREATE TRIGGER paper_offers_stay BEFORE UPDATE ON paper_offers BEGIN SELECT RAISE(ABORT, 'a posted paper never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER paper_offers_remain BEFORE DELETE ON paper_offers BEGIN SELECT RAISE(ABORT, 'a posted paper is never deleted'); END;
-- +goose StatementEnd
