-- What became of every line of an order is kept, not of articles alone: among all
-- that were ever delivered, the few of which more was than was billed are found.
-- +goose Up
DROP TRIGGER goods_are_ordered;
DROP VIEW goods_ordered;
CREATE VIEW goods_ordered AS
  SELECT l.paper_id, l.position, p.kind, l.article_id, CAST(ROUND(CAST(l.quantity AS REAL) * 1000000) AS INTEGER) AS quantity
  FROM papers p CROSS JOIN paper_lines l ON l.paper_id = p.id WHERE p.kind IN ('purchase order', 'order');
INSERT INTO goods_left (paper_id, position, kind, article_id, quantity, delivered, billed, cancelled)
  SELECT g.*, COALESCE(SUM(u.quantity) FILTER (WHERE u.as_kind = 'delivered'), 0), COALESCE(SUM(u.quantity) FILTER (WHERE u.as_kind = 'billed'), 0), COALESCE(SUM(u.quantity) FILTER (WHERE u.as_kind = 'cancelled'), 0)
  FROM goods_ordered g LEFT JOIN uses u ON u.of_paper_id = g.paper_id AND u.of_position = g.position
  WHERE g.kind = 'order' AND g.article_id IS NULL GROUP BY g.paper_id, g.position;
-- +goose StatementBegin
CREATE TRIGGER goods_are_ordered AFTER INSERT ON paper_lines WHEN (SELECT p.kind FROM papers p WHERE p.id = NEW.paper_id) IN ('purchase order', 'order') BEGIN
  INSERT INTO goods_left (paper_id, position, kind, article_id, quantity) SELECT * FROM goods_ordered WHERE paper_id = NEW.paper_id AND position = NEW.position;
END;
-- +goose StatementEnd
CREATE INDEX goods_left_over ON goods_left (kind, paper_id, position) WHERE delivered > billed AND delivered >= quantity - cancelled;
DROP INDEX uses_delivered;
