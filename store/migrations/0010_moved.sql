-- The last day on which anything moved of an item: as of that day and later what
-- is open is what is kept as open, so that a look back to an earlier day has to
-- work out only what moved since. Kept by commit; the check works it out anew.
-- +goose Up
ALTER TABLE open_items ADD COLUMN moved TEXT NOT NULL DEFAULT '';
UPDATE open_items SET moved = (SELECT MAX(m.day) FROM item_moves m WHERE m.item_id = open_items.id);
CREATE INDEX open_items_moved ON open_items (moved, day);

-- What became of deposits is told of all that ever were.
CREATE INDEX open_items_deposits ON open_items (day) WHERE register = 'deposits' AND amount < 0 AND nature = '';
