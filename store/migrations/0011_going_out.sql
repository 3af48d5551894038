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
