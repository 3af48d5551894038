-- What keeps lists quick in books of a million papers: how many papers of a
-- kind there are of a day, and what they come to; and the papers in the order of
-- every column that they are sorted by.
-- +goose Up
CREATE TABLE paper_days (
  day    TEXT NOT NULL CHECK (day IS date(day)),
  kind   TEXT NOT NULL REFERENCES kinds (kind),
  papers INTEGER NOT NULL CHECK (papers > 0),
  total  INTEGER NOT NULL,
  PRIMARY KEY (day, kind)
) STRICT, WITHOUT ROWID;
INSERT INTO paper_days (day, kind, papers, total) SELECT day, kind, COUNT(*), SUM(total) FROM papers GROUP BY day, kind;
-- +goose StatementBegin
CREATE TRIGGER papers_counted AFTER INSERT ON papers BEGIN
  INSERT INTO paper_days (day, kind, papers, total) VALUES (NEW.day, NEW.kind, 1, NEW.total)
    ON CONFLICT (day, kind) DO UPDATE SET papers = papers + 1, total = total + excluded.total;
END;
-- +goose StatementEnd

CREATE INDEX papers_number ON papers (number);
CREATE INDEX papers_kind_day ON papers (kind, day);
CREATE INDEX papers_name ON papers (party_name COLLATE NOCASE);
CREATE INDEX papers_title ON papers (title COLLATE NOCASE);
CREATE INDEX papers_reference ON papers (reference COLLATE NOCASE);
-- What is searched for stands here beside what a search counts, so that it need
-- not look at the papers themselves.
CREATE INDEX papers_search ON papers (search, day, total, kind);
CREATE INDEX papers_total ON papers (total);
CREATE INDEX papers_amount ON papers (abs(total));
CREATE INDEX uses_day ON uses (day, of_paper_id, of_position, amount, tax);
CREATE INDEX paper_events_event ON paper_events (event, day, paper_id);
CREATE INDEX paper_billing_due ON paper_billing (due, paper_id);

-- What a job comes to, all that is posted of it counted, and the last day on
-- which anything of it is dated: as of that day and later it stood so. Kept by
-- commit; the check works it out anew.
CREATE TABLE job_sums (
  job_id   INTEGER PRIMARY KEY REFERENCES jobs (id),
  last_day TEXT NOT NULL,
  agreed   INTEGER NOT NULL,
  billed   INTEGER NOT NULL,
  open     INTEGER NOT NULL,
  held     INTEGER NOT NULL
) STRICT;
