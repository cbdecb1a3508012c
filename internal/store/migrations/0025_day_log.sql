-- +goose Up
-- A plant log can be the day of a crew, as its foreman notes it: one a crew and day.
ALTER TABLE cost_documents ADD COLUMN crew TEXT NOT NULL DEFAULT '';
CREATE UNIQUE INDEX cost_documents_day_log ON cost_documents (crew, date) WHERE crew <> '';
