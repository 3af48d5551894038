-- People: what each may do in the firm, a second factor, invitations, and what
-- waits for a second person's word.
-- +goose Up
ALTER TABLE users ADD COLUMN role TEXT NOT NULL DEFAULT 'owner' CHECK (role IN ('owner', 'bookkeeper', 'biller', 'cashier', 'reader'));
UPDATE users SET role = 'bookkeeper' WHERE owner = 0;
ALTER TABLE users DROP COLUMN owner;
ALTER TABLE users ADD COLUMN version INTEGER NOT NULL DEFAULT 1;
ALTER TABLE users ADD COLUMN ended INTEGER NOT NULL DEFAULT 0 CHECK (ended IN (0, 1)); -- may not sign in any more
ALTER TABLE users ADD COLUMN factor TEXT NOT NULL DEFAULT '';          -- the secret of the second factor, base32; "" for none
ALTER TABLE users ADD COLUMN factor_step INTEGER NOT NULL DEFAULT 0;   -- the last step whose code was used
-- Codes that take the place of the second factor once, by their hashes.
CREATE TABLE spare_codes (
  user_id INTEGER NOT NULL REFERENCES users (id),
  hash    TEXT NOT NULL,
  PRIMARY KEY (user_id, hash)
) STRICT, WITHOUT ROWID;

CREATE TABLE invitations (
  id         INTEGER PRIMARY KEY,
  hash       TEXT NOT NULL UNIQUE, -- of the secret that stands in the link
  name       TEXT NOT NULL CHECK (name <> ''),
  email      TEXT NOT NULL COLLATE NOCASE,
  role       TEXT NOT NULL CHECK (role IN ('owner', 'bookkeeper', 'biller', 'cashier', 'reader')),
  invited_by INTEGER NOT NULL,
  until      TEXT NOT NULL, -- UTC
  user_id    INTEGER REFERENCES users (id), -- who came of it
  ended      INTEGER NOT NULL DEFAULT 0 CHECK (ended IN (0, 1))
) STRICT;

-- What was asked of a second person, and what they said.
CREATE TABLE words (
  id          INTEGER PRIMARY KEY,
  hash        TEXT NOT NULL,    -- of the command
  asks        TEXT NOT NULL,    -- the right that it asks for
  asked_by    INTEGER NOT NULL REFERENCES users (id),
  asked_at    TEXT NOT NULL,    -- UTC
  summary     TEXT NOT NULL,
  why         TEXT NOT NULL,    -- that a second person must agree
  shown       TEXT NOT NULL CHECK (json_valid(shown)), -- the effect as it was on screen
  draft_id    INTEGER NOT NULL DEFAULT 0,
  answered_by INTEGER REFERENCES users (id),
  agreed      INTEGER CHECK (agreed IN (0, 1)),
  note        TEXT NOT NULL DEFAULT '',
  act_id      INTEGER REFERENCES acts (id), -- what was posted on it
  ended       INTEGER NOT NULL DEFAULT 0 CHECK (ended IN (0, 1)), -- not wanted any more
  CHECK ((answered_by IS NULL) = (agreed IS NULL))
) STRICT;
CREATE INDEX words_open ON words (asked_by) WHERE act_id IS NULL AND ended = 0;

-- What the firm settles about people.
ALTER TABLE firm ADD COLUMN biller_posts INTEGER NOT NULL DEFAULT 0 CHECK (biller_posts IN (0, 1));
ALTER TABLE firm ADD COLUMN biller_chooses INTEGER NOT NULL DEFAULT 0 CHECK (biller_chooses IN (0, 1));
-- Who began a draft.
ALTER TABLE drafts ADD COLUMN user_id INTEGER NOT NULL DEFAULT 0;

-- What ends a period: the days that it went from and through.
CREATE TABLE paper_spans (
  paper_id    INTEGER PRIMARY KEY REFERENCES papers (id),
  from_day    TEXT NOT NULL CHECK (from_day = '' OR from_day IS date(from_day)),
  through_day TEXT NOT NULL CHECK (through_day IS date(through_day))
) STRICT;
-- +goose StatementBegin
CREATE TRIGGER paper_spans_stay BEFORE UPDATE ON paper_spans BEGIN SELECT RAISE(ABORT, 'a posted paper never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER paper_spans_remain BEFORE DELETE ON paper_spans BEGIN SELECT RAISE(ABORT, 'a posted paper is never deleted'); END;
-- +goose StatementEnd
-- Tax whose day is not the paper's own.
CREATE INDEX paper_billing_supplied ON paper_billing (supplied) WHERE supplied <> '';

-- How often the books are backed up by themselves, how many backups are kept, and
-- what became of each.
CREATE TABLE backup_plan (
  id          INTEGER PRIMARY KEY CHECK (id = 1),
  every_hours INTEGER NOT NULL CHECK (every_hours >= 0), -- 0 for never
  keep_count  INTEGER NOT NULL CHECK (keep_count >= 1),
  keep_days   INTEGER NOT NULL CHECK (keep_days >= 1)
) STRICT;
INSERT INTO backup_plan VALUES (1, 24, 14, 60);
CREATE TABLE backups (
  id      INTEGER PRIMARY KEY,
  at      TEXT NOT NULL,             -- UTC
  name    TEXT NOT NULL,             -- of its file
  bytes   INTEGER NOT NULL,
  took_ms INTEGER NOT NULL,
  failed  TEXT NOT NULL DEFAULT '',  -- why
  gone    INTEGER NOT NULL DEFAULT 0 CHECK (gone IN (0, 1)) -- deleted since, by its age
) STRICT;
-- When the period was locked and unlocked.
CREATE INDEX acts_locks ON acts (id) WHERE action = 'lock';
