-- Cards: where their takings wait, what customers pay by a link, and what the
-- gateway says that it paid out.
-- +goose Up
ALTER TABLE bank_accounts ADD COLUMN takings INTEGER NOT NULL DEFAULT 0 CHECK (takings IN (0, 1)); -- paid by card, until the gateway pays it out
UPDATE bank_accounts SET takings = 1 WHERE account_id IN (SELECT id FROM accounts WHERE number = '108' AND name = 'Card takings on the way');
-- Cheques of an account are printed on plain paper, or on their own form, which
-- the printer may draw in moved, in millimetres.
ALTER TABLE bank_accounts ADD COLUMN cheque_form INTEGER NOT NULL DEFAULT 0 CHECK (cheque_form IN (0, 1)); -- they have a form
ALTER TABLE bank_accounts ADD COLUMN cheque_right INTEGER NOT NULL DEFAULT 0 CHECK (cheque_right BETWEEN -100 AND 100);
ALTER TABLE bank_accounts ADD COLUMN cheque_down INTEGER NOT NULL DEFAULT 0 CHECK (cheque_down BETWEEN -100 AND 200);
CREATE TABLE card_gateways (
  id              INTEGER PRIMARY KEY CHECK (id = 1), -- a firm has one
  version         INTEGER NOT NULL DEFAULT 1,
  way             TEXT NOT NULL DEFAULT '' CHECK (way IN ('', 'stand-in')), -- '': nothing is paid by card on the pages of links
  bank_account_id INTEGER NOT NULL DEFAULT 0, -- where its takings wait
  parts           INTEGER NOT NULL DEFAULT 0 CHECK (parts IN (0, 1)) -- whether customers may pay a part
) STRICT;
-- What customers began to pay by card, and what became of it.
CREATE TABLE card_payments (
  id         INTEGER PRIMARY KEY,
  paper_id   INTEGER NOT NULL REFERENCES papers (id),
  reference  TEXT UNIQUE CHECK (reference <> ''), -- as the gateway names it; NULL while it is being asked
  amount     INTEGER NOT NULL CHECK (amount > 0),
  state      TEXT NOT NULL CHECK (state IN ('begun', 'paid', 'declined', 'ended')),
  reason     TEXT NOT NULL DEFAULT '', -- why it was declined, or is not in the books
  made_at    TEXT NOT NULL, -- UTC
  made_by    INTEGER NOT NULL REFERENCES users (id), -- of the link
  receipt_id INTEGER REFERENCES papers (id) -- in the books by it
) STRICT;
CREATE INDEX card_payments_paper ON card_payments (paper_id);
CREATE INDEX card_payments_begun ON card_payments (id) WHERE state = 'begun';
CREATE INDEX card_payments_unkept ON card_payments (id) WHERE state = 'paid' AND receipt_id IS NULL;
CREATE INDEX card_payments_receipt ON card_payments (receipt_id) WHERE receipt_id IS NOT NULL;
-- What the gateway says that it paid out.
CREATE TABLE card_payouts (
  id        INTEGER PRIMARY KEY,
  reference TEXT NOT NULL UNIQUE CHECK (reference <> ''), -- as the gateway names it
  day       TEXT NOT NULL CHECK (day IS date(day)),
  arrived   INTEGER NOT NULL,
  fee       INTEGER NOT NULL CHECK (fee >= 0),
  takings   TEXT NOT NULL CHECK (json_valid(takings)), -- references of payments
  told_at   TEXT NOT NULL, -- UTC
  away      INTEGER NOT NULL DEFAULT 0 CHECK (away IN (0, 1)) -- put away by hand
) STRICT;
CREATE INDEX card_payouts_open ON card_payouts (day) WHERE away = 0;
-- A link opens a paper, or a statement of a customer.
CREATE TABLE new_links (
  id         INTEGER PRIMARY KEY,
  secret     BLOB NOT NULL UNIQUE CHECK (length(secret) = 32),
  paper_id   INTEGER REFERENCES papers (id),
  party_id   INTEGER REFERENCES parties (id), -- whose statement
  statement  TEXT NOT NULL DEFAULT '' CHECK (statement = '' OR json_valid(statement)), -- which
  made_at    TEXT NOT NULL, -- UTC
  made_by    INTEGER NOT NULL REFERENCES users (id),
  ends_on    TEXT NOT NULL CHECK (ends_on IS date(ends_on)), -- the last day on which it opens
  ended      INTEGER NOT NULL DEFAULT 0 CHECK (ended IN (0, 1)), -- by hand
  first_seen TEXT NOT NULL DEFAULT '', -- UTC
  last_seen  TEXT NOT NULL DEFAULT '',
  times      INTEGER NOT NULL DEFAULT 0,
  mail_id    INTEGER NOT NULL DEFAULT 0, -- that it went with
  CHECK ((paper_id IS NULL) <> (party_id IS NULL))
) STRICT;
INSERT INTO new_links (id, secret, paper_id, made_at, made_by, ends_on, ended, first_seen, last_seen, times, mail_id)
  SELECT id, secret, paper_id, made_at, made_by, ends_on, ended, first_seen, last_seen, times, mail_id FROM links;
DROP TABLE links;
ALTER TABLE new_links RENAME TO links;
CREATE INDEX links_paper ON links (paper_id);
CREATE INDEX links_party ON links (party_id) WHERE party_id IS NOT NULL;
CREATE INDEX links_mail ON links (mail_id) WHERE mail_id <> 0;
