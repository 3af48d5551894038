-- What stands in the registers that are told of lines, of stock and of tax is kept
-- by day, as that of items is. The check works it out anew.
-- +goose Up
CREATE TABLE line_days (
  register TEXT NOT NULL,
  day      TEXT NOT NULL CHECK (day IS date(day)),
  amount   INTEGER NOT NULL,
  PRIMARY KEY (register, day)
) STRICT, WITHOUT ROWID;
INSERT INTO line_days (register, day, amount) SELECT register, day, SUM(amount) FROM register_lines GROUP BY 1, 2;
-- So is what of each article there is: of a past day, less what moved since.
CREATE TABLE stock_left (
  article_id INTEGER PRIMARY KEY REFERENCES articles (id),
  quantity   INTEGER NOT NULL, -- millionths
  value      INTEGER NOT NULL
) STRICT;
INSERT INTO stock_left (article_id, quantity, value) SELECT article_id, SUM(quantity), SUM(value) FROM stock_moves GROUP BY 1;
-- +goose StatementBegin
CREATE TRIGGER lines_of_registers AFTER INSERT ON paper_lines WHEN NEW.register IS NOT NULL BEGIN
  INSERT INTO line_days (register, day, amount)
    SELECT NEW.register, p.day, CASE WHEN NEW.register = 'advance billings' THEN -NEW.net WHEN NEW.register = 'goods received' THEN -NEW.net - NEW.tax ELSE NEW.net + NEW.tax END FROM papers p WHERE p.id = NEW.paper_id
    ON CONFLICT (register, day) DO UPDATE SET amount = amount + excluded.amount;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER uses_of_registers AFTER INSERT ON uses WHEN EXISTS (SELECT 1 FROM paper_lines l WHERE l.paper_id = NEW.of_paper_id AND l.position = NEW.of_position AND l.register IS NOT NULL) BEGIN
  INSERT INTO line_days (register, day, amount)
    SELECT l.register, NEW.day, CASE WHEN l.register = 'advance billings' THEN NEW.amount - NEW.tax WHEN l.register = 'goods received' THEN NEW.amount ELSE -NEW.amount END
      FROM paper_lines l WHERE l.paper_id = NEW.of_paper_id AND l.position = NEW.of_position
    ON CONFLICT (register, day) DO UPDATE SET amount = amount + excluded.amount;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER stock_of_registers AFTER INSERT ON stock_moves BEGIN
  INSERT INTO stock_left (article_id, quantity, value) VALUES (NEW.article_id, NEW.quantity, NEW.value) ON CONFLICT (article_id) DO UPDATE SET quantity = quantity + excluded.quantity, value = value + excluded.value;
  INSERT INTO line_days (register, day, amount) VALUES ('stock', NEW.day, NEW.value) ON CONFLICT (register, day) DO UPDATE SET amount = amount + excluded.amount;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER tax_of_registers AFTER INSERT ON item_moves WHEN EXISTS (SELECT 1 FROM open_items i WHERE i.id = NEW.item_id AND i.tax <> 0 AND i.register IN ('retention', 'receivables')) BEGIN
  INSERT INTO line_days (register, day, amount)
    SELECT CASE i.register WHEN 'retention' THEN 'deferred tax' ELSE 'tax when paid' END, NEW.day, -NEW.tax FROM open_items i WHERE i.id = NEW.item_id
    ON CONFLICT (register, day) DO UPDATE SET amount = amount + excluded.amount;
END;
-- +goose StatementEnd

-- What became of the lines of purchase orders, and of articles that customers
-- ordered: the few of which something is to come, to go or to be billed are found
-- among all that ever were.
CREATE TABLE goods_left (
  paper_id   INTEGER NOT NULL REFERENCES papers (id),
  position   INTEGER NOT NULL,
  kind       TEXT NOT NULL,
  article_id INTEGER REFERENCES articles (id),
  quantity   INTEGER NOT NULL, -- ordered, millionths as all of them
  delivered  INTEGER NOT NULL DEFAULT 0,
  billed     INTEGER NOT NULL DEFAULT 0,
  cancelled  INTEGER NOT NULL DEFAULT 0,
  PRIMARY KEY (paper_id, position)
) STRICT, WITHOUT ROWID;
CREATE VIEW goods_ordered AS
  SELECT l.paper_id, l.position, p.kind, l.article_id, CAST(ROUND(CAST(l.quantity AS REAL) * 1000000) AS INTEGER) AS quantity
  FROM papers p CROSS JOIN paper_lines l ON l.paper_id = p.id WHERE p.kind = 'purchase order' OR p.kind = 'order' AND l.article_id IS NOT NULL;
INSERT INTO goods_left (paper_id, position, kind, article_id, quantity, delivered, billed, cancelled)
  SELECT g.*, COALESCE(SUM(u.quantity) FILTER (WHERE u.as_kind = 'delivered'), 0), COALESCE(SUM(u.quantity) FILTER (WHERE u.as_kind = 'billed'), 0), COALESCE(SUM(u.quantity) FILTER (WHERE u.as_kind = 'cancelled'), 0)
  FROM goods_ordered g LEFT JOIN uses u ON u.of_paper_id = g.paper_id AND u.of_position = g.position GROUP BY g.paper_id, g.position;
CREATE INDEX goods_left_of_article ON goods_left (article_id, kind, paper_id, quantity, cancelled, delivered) WHERE article_id IS NOT NULL AND delivered < quantity - cancelled;
CREATE INDEX goods_left_bought ON goods_left (kind, paper_id) WHERE kind = 'purchase order' AND MIN(delivered, billed) < MAX(quantity - cancelled, delivered);
-- +goose StatementBegin
CREATE TRIGGER goods_are_ordered AFTER INSERT ON paper_lines WHEN (SELECT p.kind FROM papers p WHERE p.id = NEW.paper_id) IN ('purchase order', 'order') BEGIN
  INSERT INTO goods_left (paper_id, position, kind, article_id, quantity) SELECT * FROM goods_ordered WHERE paper_id = NEW.paper_id AND position = NEW.position;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER goods_are_used AFTER INSERT ON uses WHEN NEW.as_kind IN ('delivered', 'billed', 'cancelled') BEGIN
  UPDATE goods_left SET delivered = delivered + CASE NEW.as_kind WHEN 'delivered' THEN NEW.quantity ELSE 0 END, billed = billed + CASE NEW.as_kind WHEN 'billed' THEN NEW.quantity ELSE 0 END,
    cancelled = cancelled + CASE NEW.as_kind WHEN 'cancelled' THEN NEW.quantity ELSE 0 END WHERE paper_id = NEW.of_paper_id AND position = NEW.of_position;
END;
-- +goose StatementEnd

-- What is asked for ahead waits to be paid like what is ordered to be billed.
INSERT INTO lines_left (paper_id, position, register, party_id, job_id, day, quantity, amount, tax)
  SELECT l.paper_id, l.position, 'asked', p.party_id, COALESCE(l.job_id, p.job_id), p.day,
    CAST(ROUND(CAST(l.quantity AS REAL) * 1000000) AS INTEGER) - COALESCE(SUM(u.quantity), 0), l.net + l.tax - COALESCE(SUM(u.amount), 0), l.tax - COALESCE(SUM(u.tax), 0)
  FROM papers p JOIN paper_lines l ON l.paper_id = p.id LEFT JOIN uses u ON u.of_paper_id = l.paper_id AND u.of_position = l.position AND u.as_kind <> 'delivered'
  WHERE p.kind = 'request for a deposit' GROUP BY l.paper_id, l.position;

-- By which credit notes goods came back: most bring none.
CREATE TABLE goods_back (paper_id INTEGER PRIMARY KEY REFERENCES papers (id)) STRICT;
INSERT INTO goods_back (paper_id) SELECT DISTINCT m.paper_id FROM stock_moves m CROSS JOIN papers p ON p.id = m.paper_id WHERE m.quantity > 0 AND p.kind = 'credit note';
-- +goose StatementBegin
CREATE TRIGGER goods_come_back AFTER INSERT ON stock_moves WHEN NEW.quantity > 0 AND (SELECT p.kind FROM papers p WHERE p.id = NEW.paper_id) = 'credit note' BEGIN
  INSERT INTO goods_back (paper_id) VALUES (NEW.paper_id) ON CONFLICT DO NOTHING;
END;
-- +goose StatementEnd

-- What moved since a day, of one article and of all, and by which lines.
DROP INDEX stock_moves_article;
CREATE INDEX stock_moves_article ON stock_moves (article_id, day, quantity, value);
CREATE INDEX stock_moves_day ON stock_moves (day, article_id, quantity, value);
CREATE INDEX stock_moves_by ON stock_moves (by_paper_id);

-- From which day on an account is read is asked for each of its movements; and
-- what may be paid less, for each of its lines.
CREATE INDEX bank_statements_from ON bank_statements (bank_account_id, from_day, through_day);
CREATE INDEX paper_billing_early ON paper_billing (early_until, paper_id) WHERE early_until <> '';
