-- +goose Up
-- A job may ask for a cost code on its hours; and some loose ends can be set aside, with a reason.
ALTER TABLE jobs ADD COLUMN needs_cost_code INTEGER NOT NULL DEFAULT 0 CHECK (needs_cost_code IN (0, 1));
CREATE INDEX time_entries_no_code ON time_entries (job_id, date, charge) WHERE cost_code_id IS NULL;
CREATE TABLE dismissals (
  kind TEXT NOT NULL CHECK (kind IN ('hole', 'twice', 'over', 'below')),
  subject TEXT NOT NULL CHECK (subject <> ''),
  reason TEXT NOT NULL CHECK (reason <> ''),
  at INTEGER NOT NULL,
  who TEXT NOT NULL DEFAULT '',
  PRIMARY KEY (kind, subject)
) STRICT, WITHOUT ROWID;
