-- The last day on which anything moved of an item: as of that day and later what
-- is open is what is kept as open, so that a look back to an earlier day has to
-- work out only what moved since. Kept by commit; the check works it out anew.
-- +goose Up
ALTER TABLE open_items ADD COLUMN moved TEXT NOT NULL DEFAULT '';
UPDATE open_items SET moved = (SELECT MAX(m.day) FROM item_moves m WHERE m.item_id = open_items.id);
CREATE INDEX open_items_moved ON open_items (moved, day);

-- What became of deposits is told of all that ever were.
CREATE INDEX open_items_deposits ON open_items (day) WHERE register = 'deposits' AND amount < 0 AND nature = '';

-- What papers that bill come to by day, net and tax: of credit notes for one.
ALTER TABLE paper_days ADD COLUMN net INTEGER NOT NULL DEFAULT 0;
ALTER TABLE paper_days ADD COLUMN tax INTEGER NOT NULL DEFAULT 0;
UPDATE paper_days SET net = x.net, tax = x.tax FROM (SELECT p.day, p.kind, SUM(b.net) AS net, SUM(b.tax) AS tax FROM papers p JOIN paper_billing b ON b.paper_id = p.id GROUP BY p.day, p.kind) x
  WHERE x.day = paper_days.day AND x.kind = paper_days.kind;
-- +goose StatementBegin
CREATE TRIGGER billing_counted AFTER INSERT ON paper_billing WHEN NEW.net <> 0 OR NEW.tax <> 0 BEGIN
  UPDATE paper_days SET net = net + NEW.net, tax = tax + NEW.tax WHERE (day, kind) = (SELECT day, kind FROM papers WHERE id = NEW.paper_id);
END;
-- +goose StatementEnd
