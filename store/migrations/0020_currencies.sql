-- +goose Up
-- Currencies that papers may be in beside the firm's own, and what one unit of
-- each was worth on a day, in the firm's (docs/rules.md, part 8).
CREATE TABLE currencies (
  id       INTEGER PRIMARY KEY,
  version  INTEGER NOT NULL DEFAULT 1,
  code     TEXT NOT NULL UNIQUE CHECK (length(code) = 3),
  inactive INTEGER NOT NULL DEFAULT 0 CHECK (inactive IN (0, 1))
) STRICT;
-- +goose StatementBegin
CREATE TRIGGER currencies_chart_insert AFTER INSERT ON currencies BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER currencies_chart_update AFTER UPDATE ON currencies BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
CREATE TABLE rates (
  currency TEXT NOT NULL CHECK (length(currency) = 3),
  day      TEXT NOT NULL CHECK (day IS date(day)),
  rate     TEXT NOT NULL CHECK (CAST(rate AS REAL) > 0),
  source   TEXT NOT NULL DEFAULT '', -- where it comes from; '' for by hand
  PRIMARY KEY (currency, day)
) STRICT, WITHOUT ROWID;

ALTER TABLE bank_accounts ADD COLUMN currency TEXT NOT NULL DEFAULT ''; -- '' for the firm's own
ALTER TABLE parties ADD COLUMN currency TEXT NOT NULL DEFAULT '';       -- that its papers begin in
CREATE TABLE article_currency_prices (
  article_id INTEGER NOT NULL REFERENCES articles (id),
  currency   TEXT NOT NULL CHECK (length(currency) = 3),
  price      TEXT NOT NULL,
  PRIMARY KEY (article_id, currency)
) STRICT, WITHOUT ROWID;

-- What moved on an account in its own currency: it means something for accounts
-- that have one.
ALTER TABLE account_days ADD COLUMN own INTEGER NOT NULL DEFAULT 0;

-- The sums of a paper that bills in another currency, in that; those of
-- paper_billing are in the firm's.
CREATE TABLE paper_own_sums (
  paper_id INTEGER PRIMARY KEY REFERENCES papers (id),
  discount INTEGER NOT NULL,
  net      INTEGER NOT NULL,
  tax      INTEGER NOT NULL,
  rounding INTEGER NOT NULL,
  beside   INTEGER NOT NULL,
  deducted INTEGER NOT NULL,
  retained INTEGER NOT NULL
) STRICT;
-- +goose StatementBegin
CREATE TRIGGER paper_own_sums_stay BEFORE UPDATE ON paper_own_sums BEGIN SELECT RAISE(ABORT, 'a posted paper never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER paper_own_sums_keep BEFORE DELETE ON paper_own_sums BEGIN SELECT RAISE(ABORT, 'a posted paper is never deleted'); END;
-- +goose StatementEnd

-- What a draft would use of a thing in another currency.
ALTER TABLE reservations ADD COLUMN own_amount INTEGER;
ALTER TABLE reservations ADD COLUMN own_tax INTEGER;

-- Lists of what is open in another currency.
CREATE INDEX open_items_currency ON open_items (currency, register, party_id) WHERE currency IS NOT NULL AND open <> 0;
