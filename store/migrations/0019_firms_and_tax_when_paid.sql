-- +goose Up
-- Other firms of the program that a person is in: they were signed in to both at
-- once.
CREATE TABLE other_firms (
  user_id INTEGER NOT NULL REFERENCES users (id),
  at      TEXT NOT NULL, -- its address in the program, '' for the first
  name    TEXT NOT NULL, -- as it was called then
  PRIMARY KEY (user_id, at)
) STRICT, WITHOUT ROWID;

-- When output tax falls due: when it is billed, of deposit invoices alone when
-- they are paid, or all of it when it is paid.
ALTER TABLE firm ADD COLUMN tax_due TEXT NOT NULL DEFAULT 'billed' CHECK (tax_due IN ('billed', 'advances paid', 'paid'));

-- The tax inside what is owed stands on tax when paid, as that inside retention
-- does on deferred tax.
DROP VIEW register_moves;
DROP VIEW register_lines;
CREATE VIEW register_lines AS
SELECT CASE i.register WHEN 'retention' THEN 'deferred tax' ELSE 'tax when paid' END AS register, i.party_id, m.day, -m.tax AS amount FROM open_items i CROSS JOIN item_moves m ON m.item_id = i.id
  WHERE i.register IN ('retention', 'receivables') AND i.tax <> 0
UNION ALL SELECT l.register, p.party_id, p.day, CASE WHEN l.register = 'advance billings' THEN -l.net WHEN l.register = 'goods received' THEN -l.net - l.tax ELSE l.net + l.tax END
  FROM paper_lines l CROSS JOIN papers p ON p.id = l.paper_id WHERE l.register IS NOT NULL
UNION ALL SELECT l.register, p.party_id, u.day, CASE WHEN l.register = 'advance billings' THEN u.amount - u.tax WHEN l.register = 'goods received' THEN u.amount ELSE -u.amount END
  FROM paper_lines l CROSS JOIN uses u ON u.of_paper_id = l.paper_id AND u.of_position = l.position CROSS JOIN papers p ON p.id = l.paper_id WHERE l.register IS NOT NULL
UNION ALL SELECT 'stock', NULL, day, value FROM stock_moves;
CREATE VIEW register_moves AS
SELECT i.register, i.party_id, m.day, m.amount - CASE WHEN i.register = 'deposits' THEN m.tax ELSE 0 END AS amount
  FROM item_moves m JOIN open_items i ON i.id = m.item_id
UNION ALL SELECT register, party_id, day, amount FROM register_lines;
