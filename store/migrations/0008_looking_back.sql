-- The items of a job are found as of any day, not only those that are open now.
-- +goose Up
CREATE INDEX open_items_of_job ON open_items (job_id, register, amount) WHERE job_id IS NOT NULL;
