-- Mail: from where it goes, with which words, what waits and what went.
-- +goose Up
ALTER TABLE parties ADD COLUMN language TEXT NOT NULL DEFAULT '';  -- of mails to them; '': the firm's own
ALTER TABLE parties ADD COLUMN copies_to TEXT NOT NULL DEFAULT ''; -- e-mail addresses, with commas
CREATE TABLE mail_accounts (
  id           INTEGER PRIMARY KEY CHECK (id = 1), -- a firm has one
  version      INTEGER NOT NULL DEFAULT 1,
  way          TEXT NOT NULL DEFAULT '' CHECK (way IN ('', 'stand-in', 'tls', 'starttls', 'none')), -- '': nothing is mailed
  host         TEXT NOT NULL DEFAULT '',
  port         INTEGER NOT NULL DEFAULT 0 CHECK (port BETWEEN 0 AND 65535),
  username     TEXT NOT NULL DEFAULT '', -- the password lies beside the books, not in them
  from_address TEXT NOT NULL DEFAULT '',
  from_name    TEXT NOT NULL DEFAULT '',
  reply_to     TEXT NOT NULL DEFAULT '',
  copy_to      TEXT NOT NULL DEFAULT '', -- that the firm gets of all mails, unseen
  pages_at     TEXT NOT NULL DEFAULT ''  -- where customers reach the program, for links
) STRICT;
CREATE TABLE mail_templates (
  id       INTEGER PRIMARY KEY,
  version  INTEGER NOT NULL DEFAULT 1,
  name     TEXT NOT NULL UNIQUE CHECK (name <> ''),
  kinds    TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(kinds)), -- none: of all
  language TEXT NOT NULL DEFAULT '',
  subject  TEXT NOT NULL CHECK (subject <> ''),
  words    TEXT NOT NULL CHECK (words <> ''),
  inactive INTEGER NOT NULL DEFAULT 0 CHECK (inactive IN (0, 1))
) STRICT;
CREATE TABLE mails (
  id         INTEGER PRIMARY KEY,
  party_id   INTEGER NOT NULL DEFAULT 0, -- 0: none
  kind       TEXT NOT NULL,              -- of the paper; statement; reminder
  recipients TEXT NOT NULL CHECK (json_valid(recipients)),
  copies     TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(copies)),
  subject    TEXT NOT NULL,
  words      TEXT NOT NULL,              -- the link's place in it is {link}
  content    TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(content)), -- what goes with it
  state      TEXT NOT NULL CHECK (state IN ('waiting', 'by hand', 'sent', 'failed', 'stopped')),
  due        TEXT NOT NULL DEFAULT '',   -- UTC: not tried before
  tries      INTEGER NOT NULL DEFAULT 0,
  reason     TEXT NOT NULL DEFAULT '',   -- why the last try failed
  message_id TEXT NOT NULL UNIQUE,
  made_at    TEXT NOT NULL,              -- UTC
  made_by    INTEGER NOT NULL REFERENCES users (id),
  sent_at    TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX mails_due ON mails (due) WHERE state = 'waiting';
CREATE INDEX mails_open ON mails (state, id) WHERE state <> 'sent';
CREATE INDEX mails_party ON mails (party_id);
CREATE TABLE mail_papers (
  mail_id  INTEGER NOT NULL REFERENCES mails (id),
  paper_id INTEGER NOT NULL REFERENCES papers (id),
  PRIMARY KEY (mail_id, paper_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX mail_papers_paper ON mail_papers (paper_id);
-- What went with a mail, as it was: the files lie with those that are attached.
CREATE TABLE mail_files (
  mail_id  INTEGER NOT NULL REFERENCES mails (id),
  position INTEGER NOT NULL,
  name     TEXT NOT NULL,
  type     TEXT NOT NULL,
  size     INTEGER NOT NULL,
  hash     TEXT NOT NULL CHECK (length(hash) = 64),
  PRIMARY KEY (mail_id, position)
) STRICT, WITHOUT ROWID;
ALTER TABLE links ADD COLUMN mail_id INTEGER NOT NULL DEFAULT 0; -- that it went with
CREATE INDEX links_mail ON links (mail_id) WHERE mail_id <> 0;
