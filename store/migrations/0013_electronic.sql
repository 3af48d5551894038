-- What electronic invoices say beside what papers say.
-- +goose Up
ALTER TABLE firm ADD COLUMN country TEXT NOT NULL DEFAULT '' CHECK (country = '' OR length(country) = 2);
ALTER TABLE parties ADD COLUMN country TEXT NOT NULL DEFAULT '' CHECK (country = '' OR length(country) = 2);
ALTER TABLE tax_codes ADD COLUMN category TEXT NOT NULL DEFAULT '' CHECK (category IN ('', 'S', 'Z', 'E', 'AE', 'K', 'G', 'O'));
ALTER TABLE tax_codes ADD COLUMN reason TEXT NOT NULL DEFAULT '';
