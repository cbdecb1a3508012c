-- +goose Up
-- Invoices that come again: each occurrence becomes a draft once, in order, with its own date, also those missed while nothing ran.
CREATE TABLE recurring (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  ref TEXT NOT NULL UNIQUE CHECK (ref <> ''),
  text TEXT NOT NULL CHECK (text <> ''),
  first INTEGER NOT NULL,
  every INTEGER NOT NULL CHECK (every > 0),
  step TEXT NOT NULL CHECK (step IN ('days', 'weeks', 'months', 'quarters', 'years')),
  until INTEGER,
  made INTEGER NOT NULL DEFAULT 0 CHECK (made >= 0), -- occurrences so far: the next one is made + 1
  version INTEGER NOT NULL DEFAULT 1
) STRICT;
CREATE TABLE recurring_lines (
  id INTEGER PRIMARY KEY,
  recurring_id INTEGER NOT NULL REFERENCES recurring(id) ON DELETE CASCADE,
  position INTEGER NOT NULL,
  job_id INTEGER NOT NULL REFERENCES jobs(id),
  category TEXT NOT NULL,
  text TEXT NOT NULL CHECK (text <> ''),
  quantity INTEGER NOT NULL DEFAULT 0,
  unit TEXT NOT NULL DEFAULT '',
  amount INTEGER NOT NULL,
  UNIQUE (recurring_id, position)
) STRICT;
-- +goose StatementBegin
CREATE TRIGGER recurring_counts BEFORE UPDATE OF made ON recurring WHEN NEW.made NOT IN (OLD.made, OLD.made + 1) BEGIN
  SELECT RAISE(ABORT, 'occurrences are made one after the other');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER recurring_begun BEFORE UPDATE OF first, every, step ON recurring WHEN
  OLD.made > 0 AND (NEW.first, NEW.every, NEW.step) IS NOT (OLD.first, OLD.every, OLD.step) BEGIN
  SELECT RAISE(ABORT, 'its dates stay once it has begun; end it, and begin another');
END;
-- +goose StatementEnd
