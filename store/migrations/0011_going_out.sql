-- Papers that go out: the layouts that they are printed in.
-- +goose Up
CREATE TABLE letterheads (
  id       INTEGER PRIMARY KEY,
  version  INTEGER NOT NULL DEFAULT 1,
  name     TEXT NOT NULL UNIQUE CHECK (name <> ''),
  colour   TEXT NOT NULL DEFAULT '',
  foot     TEXT NOT NULL DEFAULT '',
  side     TEXT NOT NULL DEFAULT 'left' CHECK (side IN ('left', 'right')), -- where the address stands
  kinds    TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(kinds)),  -- of papers that take it by themselves
  hidden   TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(hidden)), -- columns that are left out
  words    TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(words)),  -- in place of ours
  no_code  INTEGER NOT NULL DEFAULT 0 CHECK (no_code IN (0, 1)),  -- no payment code
  no_bank  INTEGER NOT NULL DEFAULT 0 CHECK (no_bank IN (0, 1)),  -- no bank details
  inactive INTEGER NOT NULL DEFAULT 0 CHECK (inactive IN (0, 1))
) STRICT;
CREATE TABLE letterhead_logos (
  letterhead_id INTEGER PRIMARY KEY REFERENCES letterheads (id),
  picture       BLOB NOT NULL CHECK (length(picture) <= 1000000)
) STRICT;
ALTER TABLE parties ADD COLUMN letterhead_id INTEGER NOT NULL DEFAULT 0; -- 0: that of each kind
-- A page for one paper that whoever has the secret may read. The secret itself is
-- kept nowhere, only its hash.
CREATE TABLE links (
  id         INTEGER PRIMARY KEY,
  secret     BLOB NOT NULL UNIQUE CHECK (length(secret) = 32),
  paper_id   INTEGER NOT NULL REFERENCES papers (id),
  made_at    TEXT NOT NULL, -- UTC
  made_by    INTEGER NOT NULL REFERENCES users (id),
  ends_on    TEXT NOT NULL CHECK (ends_on IS date(ends_on)), -- the last day on which it opens
  ended      INTEGER NOT NULL DEFAULT 0 CHECK (ended IN (0, 1)), -- by hand
  first_seen TEXT NOT NULL DEFAULT '', -- UTC
  last_seen  TEXT NOT NULL DEFAULT '',
  times      INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX links_paper ON links (paper_id);
