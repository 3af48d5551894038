-- The books of one firm. Amounts are whole minor units of the firm's currency;
-- beside them own_… are in the row's own currency, NULL where that is the
-- firm's. Days are YYYY-MM-DD and exist. A debit is above nil, a credit below.
--
-- This file is frozen: what has been released is changed by a migration after
-- it (see TestSchemaIsFrozen).

-- +goose Up

CREATE TABLE firm (
  id               INTEGER PRIMARY KEY CHECK (id = 1),
  version          INTEGER NOT NULL DEFAULT 1, -- counts changes, as of every record
  name             TEXT NOT NULL CHECK (name <> ''),
  address          TEXT NOT NULL DEFAULT '',
  email            TEXT NOT NULL DEFAULT '',
  phone            TEXT NOT NULL DEFAULT '',
  tax_number       TEXT NOT NULL DEFAULT '',
  currency         TEXT NOT NULL CHECK (length(currency) = 3),
  terms_id         INTEGER NOT NULL DEFAULT 0,
  tax_code_id      INTEGER NOT NULL DEFAULT 0,
  locked_through   TEXT NOT NULL DEFAULT '' CHECK (locked_through = '' OR locked_through IS date(locked_through)),
  chart_version    INTEGER NOT NULL DEFAULT 0,   -- raised by triggers whenever what every plan asks changes
  difference_limit INTEGER NOT NULL DEFAULT 100, -- up to which a difference is closed on the spot
  write_off_limit  INTEGER NOT NULL DEFAULT 0,   -- past which a second person must agree; 0 for never
  relief           INTEGER NOT NULL DEFAULT 1 CHECK (relief IN (0, 1)) -- whether tax on bad debts comes back
) STRICT;

-- The allowance for doubtful debts by bucket of the ageing, the youngest first.
CREATE TABLE allowance_rates (
  bucket  INTEGER PRIMARY KEY CHECK (bucket BETWEEN 0 AND 4),
  percent TEXT NOT NULL
) STRICT;

-- The kinds of paper as the program tells them, written anew when it opens the
-- file, for queries that ask for a kind of kinds.
CREATE TABLE kinds (
  kind       TEXT PRIMARY KEY CHECK (kind <> ''),
  bills      INTEGER NOT NULL,
  payment    INTEGER NOT NULL,
  takes_back INTEGER NOT NULL,
  stays      INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

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
  version INTEGER NOT NULL DEFAULT 1,
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
  version INTEGER NOT NULL DEFAULT 1,
  name       TEXT NOT NULL UNIQUE CHECK (name <> ''),
  account_id INTEGER NOT NULL UNIQUE REFERENCES accounts (id),
  iban       TEXT NOT NULL DEFAULT '',
  inactive   INTEGER NOT NULL DEFAULT 0 CHECK (inactive IN (0, 1))
) STRICT;

CREATE TABLE tax_codes (
  id       INTEGER PRIMARY KEY,
  version INTEGER NOT NULL DEFAULT 1,
  code     TEXT NOT NULL UNIQUE CHECK (code <> ''),
  name     TEXT NOT NULL DEFAULT '',
  kind     TEXT NOT NULL CHECK (kind IN ('charged', 'customer accounts')),
  inactive INTEGER NOT NULL DEFAULT 0 CHECK (inactive IN (0, 1))
) STRICT;

CREATE TABLE tax_rates (
  id          INTEGER PRIMARY KEY,
  tax_code_id INTEGER NOT NULL REFERENCES tax_codes (id),
  since       TEXT NOT NULL CHECK (since IS date(since)),
  percent     TEXT NOT NULL,
  UNIQUE (tax_code_id, since)
) STRICT;

CREATE TABLE terms (
  id       INTEGER PRIMARY KEY,
  version INTEGER NOT NULL DEFAULT 1,
  name     TEXT NOT NULL UNIQUE CHECK (name <> ''),
  kind     TEXT NOT NULL CHECK (kind IN ('on receipt', 'days', 'end of month', 'end of month plus days', 'instalments')),
  days     INTEGER NOT NULL DEFAULT 0 CHECK (days BETWEEN 0 AND 999),
  discount_percent TEXT NOT NULL DEFAULT '0',
  discount_days INTEGER NOT NULL DEFAULT 0 CHECK (discount_days BETWEEN 0 AND 999),
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
  version INTEGER NOT NULL DEFAULT 1,
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
CREATE INDEX parties_number ON parties (number COLLATE NOCASE);
CREATE INDEX parties_next ON parties (CAST(number AS INTEGER)) WHERE number GLOB '[0-9]*';

CREATE TABLE jobs (
  id           INTEGER PRIMARY KEY,
  version INTEGER NOT NULL DEFAULT 1,
  number       TEXT NOT NULL UNIQUE CHECK (number <> ''),
  name         TEXT NOT NULL CHECK (name <> ''),
  party_id     INTEGER NOT NULL REFERENCES parties (id),
  site         TEXT NOT NULL DEFAULT '',
  contract_sum INTEGER NOT NULL DEFAULT 0 CHECK (contract_sum BETWEEN 0 AND 1000000000000),
  closed       INTEGER NOT NULL DEFAULT 0 CHECK (closed IN (0, 1)),
  note         TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX jobs_party ON jobs (party_id);
CREATE INDEX jobs_number ON jobs (number COLLATE NOCASE);
CREATE INDEX jobs_next ON jobs (CAST(number AS INTEGER)) WHERE number GLOB '[0-9]*';

CREATE TABLE articles (
  id          INTEGER PRIMARY KEY,
  version INTEGER NOT NULL DEFAULT 1,
  code        TEXT NOT NULL UNIQUE CHECK (code <> ''),
  name        TEXT NOT NULL CHECK (name <> ''),
  kind        TEXT NOT NULL CHECK (kind IN ('service', 'material')),
  unit        TEXT NOT NULL DEFAULT '',
  price       TEXT NOT NULL DEFAULT '0',
  account_id  INTEGER NOT NULL DEFAULT 0,
  tax_code_id INTEGER NOT NULL DEFAULT 0,
  inactive    INTEGER NOT NULL DEFAULT 0 CHECK (inactive IN (0, 1))
) STRICT;
CREATE INDEX articles_code ON articles (code COLLATE NOCASE);

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
  day      TEXT NOT NULL DEFAULT '' CHECK (day = '' OR day IS date(day)),
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

-- The head of every paper. What a family of papers has besides stands in a
-- table of its own, so that a new family changes none.
CREATE TABLE papers (
  id            INTEGER PRIMARY KEY,
  act_id        INTEGER NOT NULL REFERENCES acts (id),
  kind          TEXT NOT NULL REFERENCES kinds (kind),
  about         TEXT NOT NULL REFERENCES kinds (kind), -- its own kind, or that of what it takes back
  number        TEXT NOT NULL CHECK (number <> ''),
  day           TEXT NOT NULL CHECK (day IS date(day)),
  party_id      INTEGER REFERENCES parties (id),
  party_name    TEXT NOT NULL DEFAULT '',
  party_address TEXT NOT NULL DEFAULT '',
  job_id        INTEGER REFERENCES jobs (id),
  title         TEXT NOT NULL DEFAULT '',
  reference     TEXT NOT NULL DEFAULT '',
  note          TEXT NOT NULL DEFAULT '',
  reason        TEXT NOT NULL DEFAULT '',
  total         INTEGER NOT NULL CHECK (total BETWEEN -1000000000000000 AND 1000000000000000),
  currency      TEXT CHECK (length(currency) = 3),
  rate          TEXT CHECK ((rate IS NULL) = (currency IS NULL)), -- the firm's currency for one unit
  own_total     INTEGER CHECK ((own_total IS NULL) = (currency IS NULL)),
  reverses_id   INTEGER UNIQUE REFERENCES papers (id),
  source_id     INTEGER REFERENCES papers (id), -- the paper that it stands on
  search        TEXT NOT NULL DEFAULT '',       -- number, party, reference and title in small letters
  UNIQUE (kind, number)
) STRICT;
CREATE INDEX papers_day ON papers (day, id);
CREATE INDEX papers_party ON papers (party_id, day);
CREATE INDEX papers_job ON papers (job_id, day) WHERE job_id IS NOT NULL;
CREATE INDEX papers_source ON papers (source_id) WHERE source_id IS NOT NULL;

-- Of the family that bills, ours and a supplier's: terms and sums, in the
-- paper's currency.
CREATE TABLE paper_billing (
  paper_id      INTEGER PRIMARY KEY REFERENCES papers (id),
  due           TEXT NOT NULL CHECK (due = '' OR due IS date(due)),
  terms_id      INTEGER REFERENCES terms (id),
  includes      INTEGER NOT NULL CHECK (includes IN (0, 1)),
  discount      INTEGER NOT NULL,
  net           INTEGER NOT NULL,
  tax           INTEGER NOT NULL,
  rounding      INTEGER NOT NULL,
  early_percent TEXT NOT NULL,
  early_until   TEXT NOT NULL CHECK (early_until = '' OR early_until IS date(early_until))
) STRICT;

-- Of the family that moves money, in the bank's currency.
CREATE TABLE paper_payment (
  paper_id        INTEGER PRIMARY KEY REFERENCES papers (id),
  bank_account_id INTEGER REFERENCES bank_accounts (id),
  method          TEXT NOT NULL,
  charges         INTEGER NOT NULL, -- what the bank kept of a receipt
  withheld        INTEGER NOT NULL, -- tax that a customer withheld
  cheque          TEXT NOT NULL,
  bank_day        TEXT NOT NULL CHECK (bank_day = '' OR bank_day IS date(bank_day))
) STRICT;
CREATE UNIQUE INDEX paper_payment_cheque ON paper_payment (bank_account_id, cheque) WHERE cheque <> '';

CREATE TABLE paper_lines (
  paper_id         INTEGER NOT NULL REFERENCES papers (id),
  position         INTEGER NOT NULL CHECK (position > 0),
  article_id       INTEGER REFERENCES articles (id),
  job_id           INTEGER REFERENCES jobs (id), -- where it is not the paper's
  text             TEXT NOT NULL,
  quantity         TEXT NOT NULL,
  unit_price       TEXT NOT NULL,
  discount_percent TEXT NOT NULL,
  discount         INTEGER NOT NULL,
  tax_code_id      INTEGER REFERENCES tax_codes (id),
  tax_percent      TEXT NOT NULL,
  account_id       INTEGER REFERENCES accounts (id),
  before           INTEGER NOT NULL,
  net              INTEGER NOT NULL,
  tax              INTEGER NOT NULL,
  own_net          INTEGER,
  own_tax          INTEGER,
  register         TEXT, -- of a line that waits there until it is used up
  PRIMARY KEY (paper_id, position)
) STRICT, WITHOUT ROWID;
CREATE INDEX paper_lines_waiting ON paper_lines (register, paper_id, position) WHERE register IS NOT NULL;

-- What became of a paper without a posting: a cheque printed, a quote
-- accepted, a paper sent.
CREATE TABLE paper_events (
  id       INTEGER PRIMARY KEY,
  act_id   INTEGER NOT NULL REFERENCES acts (id),
  paper_id INTEGER NOT NULL REFERENCES papers (id),
  day      TEXT NOT NULL CHECK (day IS date(day)),
  event    TEXT NOT NULL CHECK (event <> ''),
  detail   TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(detail))
) STRICT;
CREATE INDEX paper_events_paper ON paper_events (paper_id, event);

-- An open item stands in the register of a control account. Its open amount is
-- kept by commit; the check works it out anew from the moves.
CREATE TABLE open_items (
  id           INTEGER PRIMARY KEY,
  register     TEXT NOT NULL,
  nature       TEXT NOT NULL DEFAULT '',
  paper_id     INTEGER NOT NULL REFERENCES papers (id),
  bills_id     INTEGER REFERENCES papers (id), -- the paper whose lines it is a part of
  instalment   INTEGER NOT NULL DEFAULT 0,
  party_id     INTEGER REFERENCES parties (id),
  job_id       INTEGER REFERENCES jobs (id),
  day          TEXT NOT NULL CHECK (day IS date(day)),
  due          TEXT NOT NULL CHECK (due = '' OR due IS date(due)),
  currency     TEXT CHECK (length(currency) = 3),
  amount       INTEGER NOT NULL CHECK (amount <> 0),
  tax          INTEGER NOT NULL DEFAULT 0, -- inside the amount
  own_amount   INTEGER CHECK ((own_amount IS NULL) = (currency IS NULL)),
  own_tax      INTEGER CHECK ((own_tax IS NULL) = (currency IS NULL)),
  open         INTEGER NOT NULL CHECK (abs(open) <= abs(amount) AND open * sign(amount) >= 0),
  open_tax     INTEGER NOT NULL DEFAULT 0 CHECK (abs(open_tax) <= abs(tax) AND open_tax * sign(tax) >= 0),
  own_open     INTEGER,
  own_open_tax INTEGER,
  tax_code_id  INTEGER REFERENCES tax_codes (id)
) STRICT;
CREATE INDEX open_items_paper ON open_items (paper_id);
CREATE INDEX open_items_bills ON open_items (bills_id) WHERE bills_id IS NOT NULL;
CREATE INDEX open_items_party ON open_items (party_id, paper_id);
CREATE INDEX open_items_open ON open_items (register, party_id, due, day, amount, open, open_tax) WHERE open <> 0;
CREATE INDEX open_items_credits ON open_items (register, party_id, day, open, job_id) WHERE open < 0;
CREATE INDEX open_items_due ON open_items (register, due, open) WHERE open <> 0;
CREATE INDEX open_items_job ON open_items (job_id) WHERE job_id IS NOT NULL AND open <> 0;
CREATE INDEX open_items_taxed ON open_items (register) WHERE tax <> 0;

CREATE TABLE allocations (
  id        INTEGER PRIMARY KEY,
  act_id    INTEGER NOT NULL REFERENCES acts (id),
  party_id  INTEGER REFERENCES parties (id),
  debit_id  INTEGER NOT NULL REFERENCES open_items (id),
  credit_id INTEGER NOT NULL REFERENCES open_items (id),
  amount    INTEGER NOT NULL CHECK (amount > 0), -- in the items' own currency, as the tax
  tax       INTEGER NOT NULL DEFAULT 0,
  day       TEXT NOT NULL CHECK (day IS date(day)),
  undoes    INTEGER UNIQUE REFERENCES allocations (id)
) STRICT;
CREATE INDEX allocations_debit ON allocations (debit_id);
CREATE INDEX allocations_credit ON allocations (credit_id);
CREATE INDEX allocations_party ON allocations (party_id, day);

CREATE TABLE item_moves (
  id            INTEGER PRIMARY KEY,
  item_id       INTEGER NOT NULL REFERENCES open_items (id),
  day           TEXT NOT NULL CHECK (day IS date(day)),
  amount        INTEGER NOT NULL,
  tax           INTEGER NOT NULL DEFAULT 0,
  own_amount    INTEGER,
  own_tax       INTEGER,
  allocation_id INTEGER REFERENCES allocations (id)
) STRICT;
CREATE INDEX item_moves_item ON item_moves (item_id, day, amount, tax);
CREATE INDEX item_moves_day ON item_moves (day, item_id, amount, tax);

-- A use takes a part of a thing: of a posted line or, at position 0, of what a
-- paper bills by a tax code. What is below nil gives back.
CREATE TABLE uses (
  id          INTEGER PRIMARY KEY,
  act_id      INTEGER NOT NULL REFERENCES acts (id),
  of_paper_id INTEGER NOT NULL REFERENCES papers (id),
  of_position INTEGER NOT NULL CHECK (of_position >= 0),
  tax_code_id INTEGER REFERENCES tax_codes (id),
  as_kind     TEXT NOT NULL CHECK (as_kind <> ''),
  day         TEXT NOT NULL CHECK (day IS date(day)),
  by_paper_id INTEGER REFERENCES papers (id), -- the line that holds it
  by_position INTEGER NOT NULL CHECK (by_position >= 0),
  paper_id    INTEGER NOT NULL REFERENCES papers (id), -- that wrote it
  quantity    INTEGER NOT NULL, -- millionths
  amount      INTEGER NOT NULL,
  tax         INTEGER NOT NULL, -- inside the amount
  own_amount  INTEGER,
  own_tax     INTEGER,
  cost        INTEGER NOT NULL,
  undoes      INTEGER UNIQUE REFERENCES uses (id)
) STRICT;
CREATE INDEX uses_of ON uses (of_paper_id, of_position);
CREATE INDEX uses_paper ON uses (paper_id);

-- What is left of a line that waits in a register; kept by commit.
CREATE TABLE lines_left (
  paper_id INTEGER NOT NULL REFERENCES papers (id),
  position INTEGER NOT NULL,
  register TEXT NOT NULL,
  party_id INTEGER REFERENCES parties (id),
  job_id   INTEGER REFERENCES jobs (id),
  day      TEXT NOT NULL CHECK (day IS date(day)),
  quantity INTEGER NOT NULL,
  amount   INTEGER NOT NULL,
  tax      INTEGER NOT NULL,
  PRIMARY KEY (paper_id, position)
) STRICT, WITHOUT ROWID;
CREATE INDEX lines_left_waiting ON lines_left (register, party_id, job_id, day, amount) WHERE amount <> 0;

-- What a draft would use, counted for all but that draft, gone with it.
CREATE TABLE reservations (
  draft_id    INTEGER NOT NULL REFERENCES drafts (id) ON DELETE CASCADE,
  of_paper_id INTEGER NOT NULL REFERENCES papers (id),
  of_position INTEGER NOT NULL,
  tax_code_id INTEGER,
  as_kind     TEXT NOT NULL,
  day         TEXT NOT NULL CHECK (day IS date(day)),
  quantity    INTEGER NOT NULL,
  amount      INTEGER NOT NULL,
  tax         INTEGER NOT NULL
) STRICT;
CREATE INDEX reservations_of ON reservations (of_paper_id);
CREATE INDEX reservations_draft ON reservations (draft_id);

CREATE TABLE stock_moves (
  id          INTEGER PRIMARY KEY,
  act_id      INTEGER NOT NULL REFERENCES acts (id),
  article_id  INTEGER NOT NULL REFERENCES articles (id),
  by_paper_id INTEGER NOT NULL REFERENCES papers (id),
  by_position INTEGER NOT NULL CHECK (by_position >= 0),
  paper_id    INTEGER NOT NULL REFERENCES papers (id),
  day         TEXT NOT NULL CHECK (day IS date(day)),
  quantity    INTEGER NOT NULL, -- millionths
  value       INTEGER NOT NULL,
  undoes      INTEGER UNIQUE REFERENCES stock_moves (id)
) STRICT;
CREATE INDEX stock_moves_article ON stock_moves (article_id, day);
CREATE INDEX stock_moves_paper ON stock_moves (paper_id);

-- Days of an item for which late charges were billed; what was freed may be
-- charged again.
CREATE TABLE charged_days (
  id          INTEGER PRIMARY KEY,
  act_id      INTEGER NOT NULL REFERENCES acts (id),
  item_id     INTEGER NOT NULL REFERENCES open_items (id),
  paper_id    INTEGER NOT NULL REFERENCES papers (id),
  from_day    TEXT NOT NULL CHECK (from_day IS date(from_day)),
  through_day TEXT NOT NULL CHECK (through_day IS date(through_day) AND through_day >= from_day)
) STRICT;
CREATE INDEX charged_days_item ON charged_days (item_id);
CREATE INDEX charged_days_paper ON charged_days (paper_id);
CREATE TABLE freed_days (
  charge_id INTEGER PRIMARY KEY REFERENCES charged_days (id),
  act_id    INTEGER NOT NULL REFERENCES acts (id)
) STRICT;

CREATE TABLE entries (
  id            INTEGER PRIMARY KEY,
  act_id        INTEGER NOT NULL REFERENCES acts (id),
  paper_id      INTEGER NOT NULL REFERENCES papers (id),
  allocation_id INTEGER REFERENCES allocations (id),
  day           TEXT NOT NULL CHECK (day IS date(day)),
  text          TEXT NOT NULL
) STRICT;
CREATE INDEX entries_paper ON entries (paper_id);
CREATE INDEX entries_allocation ON entries (allocation_id) WHERE allocation_id IS NOT NULL;
CREATE INDEX entries_day ON entries (day, id);

CREATE TABLE entry_lines (
  id          INTEGER PRIMARY KEY,
  entry_id    INTEGER NOT NULL REFERENCES entries (id),
  day         TEXT NOT NULL CHECK (day IS date(day)),
  account_id  INTEGER NOT NULL REFERENCES accounts (id),
  amount      INTEGER NOT NULL CHECK (amount BETWEEN -10000000000000 AND 10000000000000 AND amount <> 0),
  currency    TEXT CHECK (length(currency) = 3),
  own_amount  INTEGER CHECK ((own_amount IS NULL) = (currency IS NULL)),
  party_id    INTEGER REFERENCES parties (id),
  job_id      INTEGER REFERENCES jobs (id),
  tax_code_id INTEGER REFERENCES tax_codes (id),
  item_id     INTEGER REFERENCES open_items (id) -- the item that the line came about with
) STRICT;
CREATE INDEX entry_lines_entry ON entry_lines (entry_id);
CREATE INDEX entry_lines_account ON entry_lines (account_id, day, amount);
CREATE INDEX entry_lines_item ON entry_lines (item_id) WHERE item_id IS NOT NULL;
CREATE INDEX entry_lines_party ON entry_lines (party_id, day) WHERE party_id IS NOT NULL;

-- What moved on an account on a day; kept by commit. A day is bounded, so that
-- the sum of all days never overflows.
CREATE TABLE account_days (
  account_id INTEGER NOT NULL REFERENCES accounts (id),
  day        TEXT NOT NULL CHECK (day IS date(day)),
  debit      INTEGER NOT NULL CHECK (debit BETWEEN 0 AND 10000000000000),
  credit     INTEGER NOT NULL CHECK (credit BETWEEN 0 AND 10000000000000),
  PRIMARY KEY (account_id, day)
) STRICT, WITHOUT ROWID;

-- What the bank's statements say, and which posted movement each is.
CREATE TABLE bank_lines (
  id              INTEGER PRIMARY KEY,
  bank_account_id INTEGER NOT NULL REFERENCES bank_accounts (id),
  day             TEXT NOT NULL CHECK (day IS date(day)),
  amount          INTEGER NOT NULL CHECK (amount <> 0),
  text            TEXT NOT NULL DEFAULT '',
  reference       TEXT NOT NULL DEFAULT '',
  other_name      TEXT NOT NULL DEFAULT '',
  other_account   TEXT NOT NULL DEFAULT '',
  entry_reference TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX bank_lines_account ON bank_lines (bank_account_id, day);
CREATE TABLE ties (
  id           INTEGER PRIMARY KEY,
  act_id       INTEGER NOT NULL REFERENCES acts (id),
  bank_line_id INTEGER NOT NULL REFERENCES bank_lines (id),
  movement_id  INTEGER NOT NULL REFERENCES entry_lines (id)
) STRICT;
CREATE INDEX ties_line ON ties (bank_line_id);
CREATE INDEX ties_movement ON ties (movement_id);
CREATE TABLE freed_ties (
  tie_id INTEGER PRIMARY KEY REFERENCES ties (id),
  act_id INTEGER NOT NULL REFERENCES acts (id)
) STRICT;

-- Marks of dispute, one after the other; an empty reason ends it.
CREATE TABLE disputes (
  id      INTEGER PRIMARY KEY,
  act_id  INTEGER NOT NULL REFERENCES acts (id),
  item_id INTEGER NOT NULL REFERENCES open_items (id),
  day     TEXT NOT NULL CHECK (day IS date(day)),
  reason  TEXT NOT NULL
) STRICT;
CREATE INDEX disputes_item ON disputes (item_id, day, id);

-- What stands in the registers that have no items, by party and day: the tax
-- inside retention, lines that wait less what was used of them, stock.
CREATE VIEW register_lines AS
SELECT 'deferred tax' AS register, i.party_id, m.day, -m.tax AS amount FROM open_items i CROSS JOIN item_moves m ON m.item_id = i.id
  WHERE i.register = 'retention' AND i.tax <> 0
UNION ALL SELECT l.register, p.party_id, p.day, CASE WHEN l.register = 'advance billings' THEN -l.net WHEN l.register = 'goods received' THEN -l.net - l.tax ELSE l.net + l.tax END
  FROM paper_lines l CROSS JOIN papers p ON p.id = l.paper_id WHERE l.register IS NOT NULL
UNION ALL SELECT l.register, p.party_id, u.day, CASE WHEN l.register = 'advance billings' THEN u.amount - u.tax WHEN l.register = 'goods received' THEN u.amount ELSE -u.amount END
  FROM paper_lines l CROSS JOIN uses u ON u.of_paper_id = l.paper_id AND u.of_position = l.position CROSS JOIN papers p ON p.id = l.paper_id WHERE l.register IS NOT NULL
UNION ALL SELECT 'stock', NULL, day, value FROM stock_moves;

-- What stands in every register, by party and day.
CREATE VIEW register_moves AS
SELECT i.register, i.party_id, m.day, m.amount - CASE WHEN i.register = 'deposits' THEN m.tax ELSE 0 END AS amount
  FROM item_moves m JOIN open_items i ON i.id = m.item_id
UNION ALL SELECT register, party_id, day, amount FROM register_lines;

-- What was posted stays.
-- +goose StatementBegin
CREATE TRIGGER papers_stay BEFORE UPDATE ON papers BEGIN SELECT RAISE(ABORT, 'a posted paper never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER papers_remain BEFORE DELETE ON papers BEGIN SELECT RAISE(ABORT, 'a posted paper is never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER paper_billing_stay BEFORE UPDATE ON paper_billing BEGIN SELECT RAISE(ABORT, 'a posted paper never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER paper_billing_remain BEFORE DELETE ON paper_billing BEGIN SELECT RAISE(ABORT, 'a posted paper is never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER paper_payment_stay BEFORE UPDATE ON paper_payment BEGIN SELECT RAISE(ABORT, 'a posted paper never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER paper_payment_remain BEFORE DELETE ON paper_payment BEGIN SELECT RAISE(ABORT, 'a posted paper is never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER paper_lines_stay BEFORE UPDATE ON paper_lines BEGIN SELECT RAISE(ABORT, 'a posted paper never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER paper_lines_remain BEFORE DELETE ON paper_lines BEGIN SELECT RAISE(ABORT, 'a posted paper is never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER paper_events_stay BEFORE UPDATE ON paper_events BEGIN SELECT RAISE(ABORT, 'an event never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER paper_events_remain BEFORE DELETE ON paper_events BEGIN SELECT RAISE(ABORT, 'an event is never deleted'); END;
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
CREATE TRIGGER uses_stay BEFORE UPDATE ON uses BEGIN SELECT RAISE(ABORT, 'a use never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER uses_remain BEFORE DELETE ON uses BEGIN SELECT RAISE(ABORT, 'a use is never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER stock_moves_stay BEFORE UPDATE ON stock_moves BEGIN SELECT RAISE(ABORT, 'a move of stock never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER stock_moves_remain BEFORE DELETE ON stock_moves BEGIN SELECT RAISE(ABORT, 'a move of stock is never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER charged_days_stay BEFORE UPDATE ON charged_days BEGIN SELECT RAISE(ABORT, 'charged days are freed, never changed'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER charged_days_remain BEFORE DELETE ON charged_days BEGIN SELECT RAISE(ABORT, 'charged days are never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER freed_days_stay BEFORE UPDATE ON freed_days BEGIN SELECT RAISE(ABORT, 'what was freed stays so'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER freed_days_remain BEFORE DELETE ON freed_days BEGIN SELECT RAISE(ABORT, 'what was freed stays so'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bank_lines_stay BEFORE UPDATE ON bank_lines BEGIN SELECT RAISE(ABORT, 'what the bank says never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bank_lines_remain BEFORE DELETE ON bank_lines BEGIN SELECT RAISE(ABORT, 'what the bank says is never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER ties_stay BEFORE UPDATE ON ties BEGIN SELECT RAISE(ABORT, 'a tie is taken off, never changed'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER ties_remain BEFORE DELETE ON ties BEGIN SELECT RAISE(ABORT, 'a tie is never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER freed_ties_stay BEFORE UPDATE ON freed_ties BEGIN SELECT RAISE(ABORT, 'what was freed stays so'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER freed_ties_remain BEFORE DELETE ON freed_ties BEGIN SELECT RAISE(ABORT, 'what was freed stays so'); END;
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
CREATE TRIGGER disputes_stay BEFORE UPDATE ON disputes BEGIN SELECT RAISE(ABORT, 'a dispute is ended, never changed'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER disputes_remain BEFORE DELETE ON disputes BEGIN SELECT RAISE(ABORT, 'a dispute is never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER acts_stay BEFORE UPDATE ON acts BEGIN SELECT RAISE(ABORT, 'the audit record never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER acts_remain BEFORE DELETE ON acts BEGIN SELECT RAISE(ABORT, 'the audit record is never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER open_items_stay BEFORE UPDATE OF id, register, nature, paper_id, bills_id, instalment, party_id, job_id, day, due, currency, amount, tax, own_amount, own_tax, tax_code_id ON open_items BEGIN SELECT RAISE(ABORT, 'an open item never changes but for what is open'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER open_items_remain BEFORE DELETE ON open_items BEGIN SELECT RAISE(ABORT, 'an open item is never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lines_left_stay BEFORE UPDATE OF paper_id, position, register, party_id, job_id, day ON lines_left BEGIN SELECT RAISE(ABORT, 'a line that waits never changes but for what is left'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER lines_left_remain BEFORE DELETE ON lines_left BEGIN SELECT RAISE(ABORT, 'a line that waits is never deleted'); END;
-- +goose StatementEnd

-- What is kept in memory under a version: what every plan asks.
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
-- +goose StatementBegin
CREATE TRIGGER firm_chart AFTER UPDATE OF version, name, address, email, phone, tax_number, currency, terms_id, tax_code_id, locked_through, difference_limit, write_off_limit, relief ON firm BEGIN UPDATE firm SET chart_version = chart_version + 1; END;
-- +goose StatementEnd

-- +goose Down
SELECT 1;
