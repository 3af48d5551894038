-- What a paper bills comes by tax code: the sums of its lines, so that what tax
-- stands inside of very many debts needs no look at their lines. The check works
-- them out anew.
-- +goose Up
CREATE TABLE paper_codes (
  paper_id    INTEGER NOT NULL REFERENCES papers (id),
  tax_code_id INTEGER NOT NULL, -- 0 for none
  position    INTEGER NOT NULL, -- of its first line
  tax_percent TEXT NOT NULL,
  net         INTEGER NOT NULL,
  tax         INTEGER NOT NULL,
  own_net     INTEGER,
  own_tax     INTEGER,
  PRIMARY KEY (paper_id, tax_code_id)
) STRICT, WITHOUT ROWID;
INSERT INTO paper_codes (paper_id, tax_code_id, position, tax_percent, net, tax, own_net, own_tax)
  SELECT paper_id, COALESCE(tax_code_id, 0), MIN(position), MIN(tax_percent), SUM(net), SUM(tax), SUM(own_net), SUM(own_tax) FROM paper_lines GROUP BY 1, 2;
-- +goose StatementBegin
CREATE TRIGGER paper_codes_keep BEFORE UPDATE ON paper_codes BEGIN SELECT RAISE(ABORT, 'posted rows are never changed'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER paper_codes_stay BEFORE DELETE ON paper_codes BEGIN SELECT RAISE(ABORT, 'posted rows are never deleted'); END;
-- +goose StatementEnd
CREATE INDEX paper_billing_rounded ON paper_billing (paper_id, rounding) WHERE rounding <> 0;

-- What is ordered waits to be billed like what is passed on, line by line.
INSERT INTO lines_left (paper_id, position, register, party_id, job_id, day, quantity, amount, tax)
  SELECT l.paper_id, l.position, 'ordered', p.party_id, COALESCE(l.job_id, p.job_id), p.day,
    CAST(ROUND(CAST(l.quantity AS REAL) * 1000000) AS INTEGER) - COALESCE(SUM(u.quantity), 0), l.net + l.tax - COALESCE(SUM(u.amount), 0), l.tax - COALESCE(SUM(u.tax), 0)
  FROM papers p JOIN paper_lines l ON l.paper_id = p.id LEFT JOIN uses u ON u.of_paper_id = l.paper_id AND u.of_position = l.position AND u.as_kind <> 'delivered'
  WHERE p.kind = 'order' AND l.register IS NULL GROUP BY l.paper_id, l.position;
CREATE INDEX uses_delivered ON uses (of_paper_id) WHERE as_kind = 'delivered';

-- What became of deposits on each day, in the firm's currency.
CREATE TABLE deposit_days (
  day    TEXT NOT NULL CHECK (day IS date(day)),
  became TEXT NOT NULL,
  amount INTEGER NOT NULL,
  tax    INTEGER NOT NULL,
  PRIMARY KEY (day, became)
) STRICT, WITHOUT ROWID;
CREATE VIEW deposit_moves (day, became, amount, tax, item_id, move_id) AS
  SELECT m.day, CASE WHEN m.allocation_id IS NULL THEN 'received' WHEN d.register = 'receivables' THEN 'set against'
      WHEN d.register <> 'deposits' THEN 'other' WHEN k.takes_back = 1 THEN 'taken back' WHEN p.kind = 'refund' THEN 'refunded' WHEN p.kind = 'forfeit' THEN 'forfeited' WHEN p.kind = 'transfer' THEN 'transferred' ELSE 'other' END,
    CASE WHEN m.allocation_id IS NULL THEN -m.amount ELSE m.amount END, CASE WHEN m.allocation_id IS NULL THEN -m.tax ELSE m.tax END, i.id, m.id
  FROM open_items i CROSS JOIN item_moves m ON m.item_id = i.id LEFT JOIN allocations a ON a.id = m.allocation_id LEFT JOIN open_items d ON d.id = a.debit_id
    LEFT JOIN papers p ON p.id = d.paper_id AND d.register = 'deposits' LEFT JOIN kinds k ON k.kind = p.kind
  WHERE i.register = 'deposits' AND i.amount < 0 AND i.nature = '';
INSERT INTO deposit_days (day, became, amount, tax) SELECT day, became, SUM(amount), SUM(tax) FROM deposit_moves GROUP BY 1, 2;
-- +goose StatementBegin
CREATE TRIGGER item_moves_of_deposits AFTER INSERT ON item_moves WHEN EXISTS (SELECT 1 FROM open_items i WHERE i.id = NEW.item_id AND i.register = 'deposits' AND i.amount < 0 AND i.nature = '') BEGIN
  INSERT INTO deposit_days (day, became, amount, tax) SELECT day, became, amount, tax FROM deposit_moves WHERE item_id = NEW.item_id AND move_id = NEW.id
    ON CONFLICT (day, became) DO UPDATE SET amount = amount + excluded.amount, tax = tax + excluded.tax;
END;
-- +goose StatementEnd

-- Goods that came back are found by what brought them.
CREATE INDEX paper_billing_form ON paper_billing (form, paper_id) WHERE form <> '';
