-- Credit notes are searched by their reason as well.
-- +goose Up
CREATE INDEX papers_reason ON papers (kind, reason) WHERE reason <> '';

-- Of the papers of a job those that agree on something, or bill, are found
-- without a look at each.
DROP INDEX papers_job;
CREATE INDEX papers_job ON papers (job_id, day, about, kind) WHERE job_id IS NOT NULL;
