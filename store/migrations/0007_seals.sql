-- Every act bears a seal: of itself, of what it wrote, and of the seal before, so
-- that what is changed, missing or added outside of the program is found. Whoever
-- was signed in signs in again: sessions are kept by a hash of their names.
-- +goose Up
CREATE TABLE seals (
  act_id INTEGER PRIMARY KEY REFERENCES acts (id),
  seal   TEXT NOT NULL CHECK (length(seal) = 64)
) STRICT;
-- +goose StatementBegin
CREATE TRIGGER seals_stay BEFORE UPDATE ON seals BEGIN SELECT RAISE(ABORT, 'a seal never changes'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER seals_remain BEFORE DELETE ON seals BEGIN SELECT RAISE(ABORT, 'a seal is never deleted'); END;
-- +goose StatementEnd
DELETE FROM sessions;
