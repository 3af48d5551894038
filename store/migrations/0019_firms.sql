-- +goose Up
-- Other firms of the program that a person is in: they were signed in to both at
-- once.
CREATE TABLE other_firms (
  user_id INTEGER NOT NULL REFERENCES users (id),
  at      TEXT NOT NULL, -- its address in the program, '' for the first
  name    TEXT NOT NULL, -- as it was called then
  PRIMARY KEY (user_id, at)
) STRICT, WITHOUT ROWID;
