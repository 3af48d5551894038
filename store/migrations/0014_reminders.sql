-- Reminders by stages; and customers who are left alone.
-- +goose Up
CREATE TABLE reminder_stages (
  id       INTEGER PRIMARY KEY,
  version  INTEGER NOT NULL DEFAULT 1,
  name     TEXT NOT NULL UNIQUE CHECK (name <> ''),
  days     INTEGER NOT NULL CHECK (days BETWEEN 1 AND 3650), -- overdue, from which on it is taken
  words    TEXT NOT NULL CHECK (words <> ''),
  charge   INTEGER NOT NULL DEFAULT 0 CHECK (charge IN (0, 1)), -- a late charge goes before it
  inactive INTEGER NOT NULL DEFAULT 0 CHECK (inactive IN (0, 1))
) STRICT;
INSERT INTO reminder_stages (name, days, words) VALUES
  ('Reminder', 3, 'Our books show the following as not paid yet. If you have paid in the meantime, please take this as done; if something is in the way, please tell us.'),
  ('Second reminder', 21, 'We have written to you before about the following, which is still not paid. Please let us have it within ten days, or tell us what is in the way.'),
  ('Last reminder', 42, 'In spite of our reminders the following is not paid. Please let us have it within seven days: we should be sorry to have to take further steps.');
ALTER TABLE parties ADD COLUMN left_alone INTEGER NOT NULL DEFAULT 0 CHECK (left_alone IN (0, 1)); -- no reminders
