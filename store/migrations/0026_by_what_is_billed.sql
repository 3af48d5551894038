-- What is owed is looked at in the order of what it bills, so that of very many
-- papers each page is read once; and of an entry's lines what a tax return asks
-- for stands in their index.
-- +goose Up
CREATE INDEX open_items_debts ON open_items (bills_id, party_id, due, moved, open, open_tax, own_open, own_open_tax, register) WHERE open <> 0 AND register IN ('receivables', 'retention');
DROP INDEX entry_lines_entry;
CREATE INDEX entry_lines_entry ON entry_lines (entry_id, tax_code_id, account_id, amount);
