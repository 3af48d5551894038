-- +goose Up
ALTER TABLE bank_accounts ADD COLUMN cash INTEGER NOT NULL DEFAULT 0 CHECK (cash IN (0, 1)); -- a till: it never holds less than nothing
UPDATE bank_accounts SET cash = 1 WHERE account_id IN (SELECT id FROM accounts WHERE number = '105' AND name = 'Cash in hand');
