-- What a line of a bank may be is told by what its other side was last, of what
-- came and of what went: the last of each is looked up, however many there are.
-- +goose Up
DROP INDEX bank_lines_other_side;
CREATE INDEX bank_lines_other_side ON bank_lines (other_side, (amount > 0), id) WHERE other_side <> '';
