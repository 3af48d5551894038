-- +goose Up
-- A line in another currency may be worth less than the smallest unit of the
-- firm's: it stands in the books with nil beside its own amount, so that the
-- entry balances in both. Taking a check away changes nothing of what is stored
-- (https://www.sqlite.org/lang_altertable.html, part 7).
PRAGMA writable_schema = ON;
UPDATE sqlite_schema SET sql = replace(sql, 'CHECK (amount BETWEEN -10000000000000 AND 10000000000000 AND amount <> 0)', 'CHECK (amount BETWEEN -10000000000000 AND 10000000000000 AND (amount <> 0 OR own_amount <> 0))')
  WHERE type = 'table' AND name = 'entry_lines';
PRAGMA writable_schema = RESET;

-- What was ever open in another currency, for a day that is past.
CREATE INDEX open_items_abroad ON open_items (currency, day) WHERE currency IS NOT NULL;
