-- The books of one firm. Amounts are whole minor units, days are YYYY-MM-DD.
-- A debit is above nil, a credit below.

-- +goose Up

CREATE TABLE firm (
  id             INTEGER PRIMARY KEY CHECK (id = 1),
  name           TEXT NOT NULL CHECK (name <> ''),
  address        TEXT NOT NULL DEFAULT '',
  email          TEXT NOT NULL DEFAULT '',
  phone          TEXT NOT NULL DEFAULT '',
  tax_number     TEXT NOT NULL DEFAULT '',
  currency       TEXT NOT NULL CHECK (length(currency) = 3),
  terms_id       INTEGER NOT NULL DEFAULT 0,
  tax_code_id    INTEGER NOT NULL DEFAULT 0,
  locked_through TEXT NOT NULL DEFAULT '',
  chart_version  INTEGER NOT NULL DEFAULT 0 -- raised by triggers whenever accounts, roles, banks or tax codes change
) STRICT;

CREATE TABLE users (
  id            INTEGER PRIMARY KEY,
  name          TEXT NOT NULL CHECK (name <> ''),
  email         TEXT NOT NULL UNIQUE COLLATE NOCASE,
  password_hash TEXT NOT NULL,
  owner         INTEGER NOT NULL CHECK (owner IN (0, 1))
) STRICT;

CREATE TABLE sessions (
  token  TEXT PRIMARY KEY,
  data   BLOB NOT NULL,
  expiry INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX sessions_expiry ON sessions (expiry);

CREATE TABLE accounts (
  id       INTEGER PRIMARY KEY,
  number   TEXT NOT NULL UNIQUE CHECK (number <> ''),
  name     TEXT NOT NULL CHECK (name <> ''),
  type     TEXT NOT NULL CHECK (type IN ('asset', 'contra asset', 'liability', 'equity', 'income', 'contra income', 'expense')),
  inactive INTEGER NOT NULL DEFAULT 0 CHECK (inactive IN (0, 1))
) STRICT;

CREATE TABLE roles (
  role       TEXT PRIMARY KEY,
  account_id INTEGER NOT NULL UNIQUE REFERENCES accounts (id)
) STRICT, WITHOUT ROWID;

CREATE TABLE bank_accounts (
  id         INTEGER PRIMARY KEY,
  name       TEXT NOT NULL UNIQUE CHECK (name <> ''),
  account_id INTEGER NOT NULL UNIQUE REFERENCES accounts (id),
  iban       TEXT NOT NULL DEFAULT '',
  inactive   INTEGER NOT NULL DEFAULT 0 CHECK (inactive IN (0, 1))
) STRICT;

CREATE TABLE tax_codes (
  id       INTEGER PRIMARY KEY,
  code     TEXT NOT NULL UNIQUE CHECK (code <> ''),
  name     TEXT NOT NULL DEFAULT '',
  kind     TEXT NOT NULL CHECK (kind IN ('charged', 'customer accounts')),
  inactive INTEGER NOT NULL DEFAULT 0 CHECK (inactive IN (0, 1))
) STRICT;

CREATE TABLE tax_rates (
  id          INTEGER PRIMARY KEY,
  tax_code_id INTEGER NOT NULL REFERENCES tax_codes (id),
  since       TEXT NOT NULL CHECK (since GLOB '????-??-??'),
  percent     TEXT NOT NULL,
  UNIQUE (tax_code_id, since)
) STRICT;

CREATE TABLE terms (
  id       INTEGER PRIMARY KEY,
  name     TEXT NOT NULL UNIQUE CHECK (name <> ''),
  kind     TEXT NOT NULL CHECK (kind IN ('on receipt', 'days', 'end of month', 'end of month plus days', 'instalments')),
  days     INTEGER NOT NULL DEFAULT 0 CHECK (days BETWEEN 0 AND 999),
  inactive INTEGER NOT NULL DEFAULT 0 CHECK (inactive IN (0, 1))
) STRICT;

CREATE TABLE instalments (
  id       INTEGER PRIMARY KEY,
  terms_id INTEGER NOT NULL REFERENCES terms (id),
  percent  TEXT NOT NULL,
  days     INTEGER NOT NULL CHECK (days BETWEEN 0 AND 9999)
) STRICT;

CREATE TABLE parties (
  id           INTEGER PRIMARY KEY,
  number       TEXT NOT NULL UNIQUE CHECK (number <> ''),
  name         TEXT NOT NULL CHECK (name <> ''),
  is_customer  INTEGER NOT NULL CHECK (is_customer IN (0, 1)),
  is_supplier  INTEGER NOT NULL CHECK (is_supplier IN (0, 1)),
  contact      TEXT NOT NULL DEFAULT '',
  email        TEXT NOT NULL DEFAULT '',
  phone        TEXT NOT NULL DEFAULT '',
  address      TEXT NOT NULL DEFAULT '',
  town         TEXT NOT NULL DEFAULT '',
  site_address TEXT NOT NULL DEFAULT '',
  tax_number   TEXT NOT NULL DEFAULT '',
  terms_id     INTEGER NOT NULL DEFAULT 0,
  note         TEXT NOT NULL DEFAULT '',
  inactive     INTEGER NOT NULL DEFAULT 0 CHECK (inactive IN (0, 1))
) STRICT;
CREATE INDEX parties_name ON parties (name);

CREATE TABLE jobs (
  id           INTEGER PRIMARY KEY,
  number       TEXT NOT NULL UNIQUE CHECK (number <> ''),
  name         TEXT NOT NULL CHECK (name <> ''),
  party_id     INTEGER NOT NULL REFERENCES parties (id),
  site         TEXT NOT NULL DEFAULT '',
  contract_sum INTEGER NOT NULL DEFAULT 0 CHECK (contract_sum BETWEEN 0 AND 1000000000000000),
  closed       INTEGER NOT NULL DEFAULT 0 CHECK (closed IN (0, 1)),
  note         TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX jobs_party ON jobs (party_id);

CREATE TABLE items (
  id          INTEGER PRIMARY KEY,
  code        TEXT NOT NULL UNIQUE CHECK (code <> ''),
  name        TEXT NOT NULL CHECK (name <> ''),
  kind        TEXT NOT NULL CHECK (kind IN ('service', 'material')),
  unit        TEXT NOT NULL DEFAULT '',
  price       TEXT NOT NULL DEFAULT '0',
  account_id  INTEGER NOT NULL DEFAULT 0,
  tax_code_id INTEGER NOT NULL DEFAULT 0,
  inactive    INTEGER NOT NULL DEFAULT 0 CHECK (inactive IN (0, 1))
) STRICT;

-- How each kind of paper is numbered: {yy} and {yyyy} are the year of the
-- paper's day, {0000} the running number.
CREATE TABLE numberings (
  kind   TEXT PRIMARY KEY,
  format TEXT NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE number_series (
  kind   TEXT NOT NULL,
  prefix TEXT NOT NULL,
  next   INTEGER NOT NULL CHECK (next > 0),
  PRIMARY KEY (kind, prefix)
) STRICT, WITHOUT ROWID;

CREATE TABLE drafts (
  id       INTEGER PRIMARY KEY,
  kind     TEXT NOT NULL,
  version  INTEGER NOT NULL,
  body     TEXT NOT NULL CHECK (json_valid(body)),
  party_id INTEGER NOT NULL DEFAULT 0,
  job_id   INTEGER NOT NULL DEFAULT 0,
  day      TEXT NOT NULL DEFAULT '',
  title    TEXT NOT NULL DEFAULT '',
  total    INTEGER NOT NULL DEFAULT 0,
  saved_at TEXT NOT NULL
) STRICT;

-- The audit record: one row for each thing that was done.
CREATE TABLE acts (
  id       INTEGER PRIMARY KEY,
  at       TEXT NOT NULL,
  user_id  INTEGER NOT NULL,
  action   TEXT NOT NULL,
  summary  TEXT NOT NULL,
  detail   TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(detail)),
  key      TEXT UNIQUE,
  key_hash TEXT,
  answer   TEXT
) STRICT;

CREATE TABLE papers (
  id              INTEGER PRIMARY KEY,
  act_id          INTEGER NOT NULL REFERENCES acts (id),
  kind            TEXT NOT NULL,
  number          TEXT NOT NULL CHECK (number <> ''),
  day             TEXT NOT NULL CHECK (day GLOB '????-??-??'),
  due             TEXT NOT NULL DEFAULT '',
  party_id        INTEGER REFERENCES parties (id),
  party_name      TEXT NOT NULL DEFAULT '',
  party_address   TEXT NOT NULL DEFAULT '',
  job_id          INTEGER REFERENCES jobs (id),
  title           TEXT NOT NULL DEFAULT '',
  terms_id        INTEGER REFERENCES terms (id),
  reference       TEXT NOT NULL DEFAULT '',
  note            TEXT NOT NULL DEFAULT '',
  bank_account_id INTEGER REFERENCES bank_accounts (id),
  method          TEXT NOT NULL DEFAULT '',
  includes        INTEGER NOT NULL DEFAULT 0,
  discount        INTEGER NOT NULL DEFAULT 0,
  net             INTEGER NOT NULL DEFAULT 0,
  tax             INTEGER NOT NULL DEFAULT 0,
  rounding        INTEGER NOT NULL DEFAULT 0,
  total           INTEGER NOT NULL CHECK (total BETWEEN -1000000000000000 AND 1000000000000000),
  kept            INTEGER NOT NULL DEFAULT 0,
  reverses_id     INTEGER UNIQUE REFERENCES papers (id),
  search          TEXT NOT NULL DEFAULT '', -- number, party, reference and title in small letters
  UNIQUE (kind, number)
) STRICT;
CREATE INDEX papers_day ON papers (day, id);
CREATE INDEX papers_party ON papers (party_id, day);
CREATE INDEX papers_job ON papers (job_id, day) WHERE job_id IS NOT NULL;

CREATE TABLE paper_lines (
  id               INTEGER PRIMARY KEY,
  paper_id         INTEGER NOT NULL REFERENCES papers (id),
  position         INTEGER NOT NULL,
  item_id          INTEGER REFERENCES items (id),
  text             TEXT NOT NULL,
  quantity         TEXT NOT NULL,
  unit_price       TEXT NOT NULL,
  discount_percent TEXT NOT NULL,
  discount         INTEGER NOT NULL,
  tax_code_id      INTEGER NOT NULL REFERENCES tax_codes (id),
  tax_percent      TEXT NOT NULL,
  account_id       INTEGER NOT NULL REFERENCES accounts (id),
  before           INTEGER NOT NULL,
  net              INTEGER NOT NULL,
  tax              INTEGER NOT NULL
) STRICT;
CREATE INDEX paper_lines_paper ON paper_lines (paper_id);

-- An open item stands in the register of a control account. Its open amount is
-- kept by commit; cleantally check works it out anew from the moves.
CREATE TABLE open_items (
  id       INTEGER PRIMARY KEY,
  register TEXT NOT NULL,
  paper_id INTEGER NOT NULL REFERENCES papers (id),
  part     INTEGER NOT NULL,
  party_id INTEGER REFERENCES parties (id),
  job_id   INTEGER REFERENCES jobs (id),
  day      TEXT NOT NULL,
  due      TEXT NOT NULL,
  amount   INTEGER NOT NULL CHECK (amount <> 0),
  open     INTEGER NOT NULL CHECK (abs(open) <= abs(amount) AND open * sign(amount) >= 0)
) STRICT;
CREATE INDEX open_items_paper ON open_items (paper_id);
CREATE INDEX open_items_open ON open_items (register, party_id, due, day, amount, open) WHERE open <> 0;
CREATE INDEX open_items_due ON open_items (register, due, id) WHERE open <> 0;
CREATE INDEX open_items_job ON open_items (job_id) WHERE job_id IS NOT NULL AND open <> 0;

CREATE TABLE allocations (
  id        INTEGER PRIMARY KEY,
  act_id    INTEGER NOT NULL REFERENCES acts (id),
  party_id  INTEGER REFERENCES parties (id),
  debit_id  INTEGER NOT NULL REFERENCES open_items (id),
  credit_id INTEGER NOT NULL REFERENCES open_items (id),
  amount    INTEGER NOT NULL CHECK (amount > 0),
  day       TEXT NOT NULL CHECK (day GLOB '????-??-??'),
  undoes    INTEGER UNIQUE REFERENCES allocations (id)
) STRICT;
CREATE INDEX allocations_debit ON allocations (debit_id);
CREATE INDEX allocations_credit ON allocations (credit_id);
CREATE INDEX allocations_party ON allocations (party_id, day);

CREATE TABLE item_moves (
  id            INTEGER PRIMARY KEY,
  item_id       INTEGER NOT NULL REFERENCES open_items (id),
  day           TEXT NOT NULL CHECK (day GLOB '????-??-??'),
  amount        INTEGER NOT NULL,
  allocation_id INTEGER REFERENCES allocations (id)
) STRICT;
CREATE INDEX item_moves_item ON item_moves (item_id, day, amount);
CREATE INDEX item_moves_day ON item_moves (day, item_id, amount);

CREATE TABLE entries (
  id            INTEGER PRIMARY KEY,
  act_id        INTEGER NOT NULL REFERENCES acts (id),
  paper_id      INTEGER NOT NULL REFERENCES papers (id),
  allocation_id INTEGER REFERENCES allocations (id),
  day           TEXT NOT NULL CHECK (day GLOB '????-??-??'),
  text          TEXT NOT NULL
) STRICT;
CREATE INDEX entries_paper ON entries (paper_id);
CREATE INDEX entries_allocation ON entries (allocation_id) WHERE allocation_id IS NOT NULL;
CREATE INDEX entries_day ON entries (day, id);

CREATE TABLE entry_lines (
  id          INTEGER PRIMARY KEY,
  entry_id    INTEGER NOT NULL REFERENCES entries (id),
  day         TEXT NOT NULL,
  account_id  INTEGER NOT NULL REFERENCES accounts (id),
  amount      INTEGER NOT NULL CHECK (amount BETWEEN -1000000000000000 AND 1000000000000000 AND amount <> 0),
  party_id    INTEGER REFERENCES parties (id),
  job_id      INTEGER REFERENCES jobs (id),
  tax_code_id INTEGER REFERENCES tax_codes (id)
) STRICT;
CREATE INDEX entry_lines_entry ON entry_lines (entry_id);
CREATE INDEX entry_lines_account ON entry_lines (account_id, day, amount);

-- What moved on an account on a day; kept by commit.
CREATE TABLE account_days (
  account_id INTEGER NOT NULL REFERENCES accounts (id),
  day        TEXT NOT NULL,
  debit      INTEGER NOT NULL,
  credit     INTEGER NOT NULL,
  PRIMARY KEY (account_id, day)
) STRICT, WITHOUT ROWID;

-- +goose StatementBegin
CREATE TRIGGER papers_stay BEFORE UPDATE ON papers BEGIN SELECT RAISE(ABORT, 'a posted paper never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER papers_remain BEFORE DELETE ON papers BEGIN SELECT RAISE(ABORT, 'a posted paper is never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER paper_lines_stay BEFORE UPDATE ON paper_lines BEGIN SELECT RAISE(ABORT, 'a posted paper never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER paper_lines_remain BEFORE DELETE ON paper_lines BEGIN SELECT RAISE(ABORT, 'a posted paper is never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER open_items_stay BEFORE UPDATE OF id, register, paper_id, part, party_id, job_id, day, due, amount ON open_items
BEGIN SELECT RAISE(ABORT, 'an open item never changes but for what is open'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER open_items_remain BEFORE DELETE ON open_items BEGIN SELECT RAISE(ABORT, 'an open item is never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER item_moves_stay BEFORE UPDATE ON item_moves BEGIN SELECT RAISE(ABORT, 'a move never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER item_moves_remain BEFORE DELETE ON item_moves BEGIN SELECT RAISE(ABORT, 'a move is never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER allocations_stay BEFORE UPDATE ON allocations BEGIN SELECT RAISE(ABORT, 'an allocation never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER allocations_remain BEFORE DELETE ON allocations BEGIN SELECT RAISE(ABORT, 'an allocation is never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER entries_stay BEFORE UPDATE ON entries BEGIN SELECT RAISE(ABORT, 'an entry never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER entries_remain BEFORE DELETE ON entries BEGIN SELECT RAISE(ABORT, 'an entry is never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER entry_lines_stay BEFORE UPDATE ON entry_lines BEGIN SELECT RAISE(ABORT, 'an entry never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER entry_lines_remain BEFORE DELETE ON entry_lines BEGIN SELECT RAISE(ABORT, 'an entry is never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER acts_stay BEFORE UPDATE ON acts BEGIN SELECT RAISE(ABORT, 'the audit record never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER acts_remain BEFORE DELETE ON acts BEGIN SELECT RAISE(ABORT, 'the audit record is never deleted'); END;
-- +goose StatementEnd

-- +goose StatementBegin
CREATE TRIGGER accounts_chart_insert AFTER INSERT ON accounts BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER accounts_chart_update AFTER UPDATE ON accounts BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER accounts_chart_delete AFTER DELETE ON accounts BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER roles_chart_insert AFTER INSERT ON roles BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER roles_chart_update AFTER UPDATE ON roles BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER roles_chart_delete AFTER DELETE ON roles BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bank_accounts_chart_insert AFTER INSERT ON bank_accounts BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bank_accounts_chart_update AFTER UPDATE ON bank_accounts BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bank_accounts_chart_delete AFTER DELETE ON bank_accounts BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER tax_codes_chart_insert AFTER INSERT ON tax_codes BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER tax_codes_chart_update AFTER UPDATE ON tax_codes BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER tax_codes_chart_delete AFTER DELETE ON tax_codes BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER tax_rates_chart_insert AFTER INSERT ON tax_rates BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER tax_rates_chart_update AFTER UPDATE ON tax_rates BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER tax_rates_chart_delete AFTER DELETE ON tax_rates BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd

-- +goose Down
SELECT 1;
