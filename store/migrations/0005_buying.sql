-- What we buy and pass on: how a cost is passed on, numbered pieces of stock,
-- where suppliers are paid, prices by group of customers, what is attached.
-- +goose Up
ALTER TABLE paper_lines ADD COLUMN pass_on TEXT NOT NULL DEFAULT '' CHECK (pass_on IN ('', 'supply', 'behalf'));
ALTER TABLE paper_lines ADD COLUMN markup TEXT NOT NULL DEFAULT '0'; -- percent
ALTER TABLE paper_lines ADD COLUMN joined INTEGER NOT NULL DEFAULT 0 CHECK (joined IN (0, 1)); -- its input tax is a part of the cost
ALTER TABLE firm ADD COLUMN markup TEXT NOT NULL DEFAULT '0'; -- on costs that are passed on
ALTER TABLE firm ADD COLUMN show_markup INTEGER NOT NULL DEFAULT 0 CHECK (show_markup IN (0, 1)); -- papers show cost and markup apart
ALTER TABLE jobs ADD COLUMN markup TEXT; -- NULL: the firm's
ALTER TABLE jobs ADD COLUMN budget INTEGER NOT NULL DEFAULT 0 CHECK (budget BETWEEN 0 AND 1000000000000); -- what it should cost, net
ALTER TABLE parties ADD COLUMN iban TEXT NOT NULL DEFAULT '';
ALTER TABLE parties ADD COLUMN bic TEXT NOT NULL DEFAULT '';
ALTER TABLE parties ADD COLUMN group_id INTEGER NOT NULL DEFAULT 0;
ALTER TABLE parties ADD COLUMN withhold TEXT NOT NULL DEFAULT '0'; -- tax that we withhold of a subcontractor, percent
ALTER TABLE parties ADD COLUMN keep_back TEXT NOT NULL DEFAULT '0'; -- retention that we keep of a subcontractor, percent
ALTER TABLE articles ADD COLUMN stocked INTEGER NOT NULL DEFAULT 0 CHECK (stocked IN (0, 1));
ALTER TABLE articles ADD COLUMN serial INTEGER NOT NULL DEFAULT 0 CHECK (serial IN (0, 1)); -- each piece bears a number

CREATE TABLE customer_groups (
  id       INTEGER PRIMARY KEY,
  version  INTEGER NOT NULL DEFAULT 1,
  name     TEXT NOT NULL UNIQUE CHECK (name <> ''),
  inactive INTEGER NOT NULL DEFAULT 0 CHECK (inactive IN (0, 1))
) STRICT;
CREATE TABLE article_prices (
  article_id INTEGER NOT NULL REFERENCES articles (id),
  group_id   INTEGER NOT NULL REFERENCES customer_groups (id),
  price      TEXT NOT NULL,
  PRIMARY KEY (article_id, group_id)
) STRICT, WITHOUT ROWID;

-- The numbers of the pieces that a move of stock brought or took.
CREATE TABLE stock_serials (
  move_id INTEGER NOT NULL REFERENCES stock_moves (id),
  serial  TEXT NOT NULL CHECK (serial <> ''),
  PRIMARY KEY (move_id, serial)
) STRICT, WITHOUT ROWID;
CREATE INDEX stock_serials_serial ON stock_serials (serial);
-- +goose StatementBegin
CREATE TRIGGER stock_serials_stay BEFORE UPDATE ON stock_serials BEGIN SELECT RAISE(ABORT, 'a move of stock never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER stock_serials_remain BEFORE DELETE ON stock_serials BEGIN SELECT RAISE(ABORT, 'a move of stock is never deleted'); END;
-- +goose StatementEnd

-- What is attached to a paper, a draft, a customer or a job; the file itself
-- lies in the directory attachments under its hash.
CREATE TABLE attachments (
  id       INTEGER PRIMARY KEY,
  hash     TEXT NOT NULL CHECK (length(hash) = 64),
  name     TEXT NOT NULL CHECK (name <> ''),
  type     TEXT NOT NULL CHECK (type <> ''), -- as its content says
  size     INTEGER NOT NULL CHECK (size > 0),
  goes_out INTEGER NOT NULL DEFAULT 0 CHECK (goes_out IN (0, 1)), -- with the paper; else it is only ours
  paper_id INTEGER REFERENCES papers (id),
  draft_id INTEGER REFERENCES drafts (id) ON DELETE CASCADE,
  party_id INTEGER REFERENCES parties (id),
  job_id   INTEGER REFERENCES jobs (id),
  added_at TEXT NOT NULL,
  added_by INTEGER NOT NULL,
  CHECK ((paper_id IS NOT NULL) + (draft_id IS NOT NULL) + (party_id IS NOT NULL) + (job_id IS NOT NULL) = 1)
) STRICT;
CREATE INDEX attachments_paper ON attachments (paper_id) WHERE paper_id IS NOT NULL;
CREATE INDEX attachments_draft ON attachments (draft_id) WHERE draft_id IS NOT NULL;
CREATE INDEX attachments_party ON attachments (party_id) WHERE party_id IS NOT NULL;
CREATE INDEX attachments_job ON attachments (job_id) WHERE job_id IS NOT NULL;
CREATE INDEX attachments_hash ON attachments (hash);

CREATE INDEX paper_lines_job ON paper_lines (job_id) WHERE job_id IS NOT NULL;
CREATE INDEX entry_lines_job ON entry_lines (job_id, account_id, day, amount) WHERE job_id IS NOT NULL;
CREATE INDEX papers_kind ON papers (kind, day);
