-- What stands on a paper and was missing: when it was supplied, the unit of a
-- line; how the firm writes days and numbers; which papers were written again.
-- +goose Up
ALTER TABLE paper_billing ADD COLUMN supplied TEXT NOT NULL DEFAULT '' CHECK (supplied = '' OR supplied IS date(supplied));
ALTER TABLE paper_lines ADD COLUMN unit TEXT NOT NULL DEFAULT '';
ALTER TABLE firm ADD COLUMN date_style TEXT NOT NULL DEFAULT '20 Nov 2026' CHECK (date_style IN ('20 Nov 2026', '20.11.2026', '20/11/2026', '11/20/2026', '2026-11-20'));
ALTER TABLE firm ADD COLUMN number_style TEXT NOT NULL DEFAULT '1,234.56' CHECK (number_style IN ('1,234.56', '1.234,56', '1 234,56', '1’234.56'));
CREATE INDEX paper_events_again ON paper_events (json_extract(detail, '$.of')) WHERE event = 'written again';
