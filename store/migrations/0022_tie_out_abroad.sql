-- +goose Up
-- What control accounts say in other currencies, by day, so that the tie-out holds
-- in both.
CREATE INDEX entry_lines_abroad ON entry_lines (account_id, currency, day, own_amount) WHERE currency IS NOT NULL;
