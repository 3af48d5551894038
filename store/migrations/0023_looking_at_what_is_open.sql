-- What is open is looked at without the items themselves, which are many more:
-- all that a list or a report asks of them stands in one index of those few.
-- +goose Up
DROP INDEX open_items_open;
CREATE INDEX open_items_open ON open_items (register, party_id, due, day, amount, open, open_tax, paper_id, job_id, nature, moved, instalment, bills_id, tax, currency, own_amount, own_tax, own_open, own_open_tax, tax_code_id) WHERE open <> 0;

-- The same index stood there twice.
DROP INDEX papers_kind_day;

-- What the items of a register moved by on each day, so that a look back needs
-- not add up every move since. The check works it out anew.
CREATE TABLE register_days (
  register TEXT NOT NULL,
  day      TEXT NOT NULL CHECK (day IS date(day)),
  amount   INTEGER NOT NULL,
  tax      INTEGER NOT NULL,
  PRIMARY KEY (register, day)
) STRICT, WITHOUT ROWID;
INSERT INTO register_days (register, day, amount, tax) SELECT i.register, m.day, SUM(m.amount), SUM(m.tax) FROM item_moves m JOIN open_items i ON i.id = m.item_id GROUP BY 1, 2;
-- +goose StatementBegin
CREATE TRIGGER item_moves_summed AFTER INSERT ON item_moves BEGIN
  INSERT INTO register_days (register, day, amount, tax) SELECT register, NEW.day, NEW.amount, NEW.tax FROM open_items WHERE id = NEW.item_id
    ON CONFLICT (register, day) DO UPDATE SET amount = amount + excluded.amount, tax = tax + excluded.tax;
END;
-- +goose StatementEnd
