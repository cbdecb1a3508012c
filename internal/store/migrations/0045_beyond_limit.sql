-- +goose Up
-- Work that the bookkeeper lets go beyond its limit: it counts before all other, and in full.
CREATE TABLE let_beyond (
  id INTEGER PRIMARY KEY,
  entry_id INTEGER UNIQUE REFERENCES time_entries(id) ON DELETE CASCADE,
  cost_line_id INTEGER UNIQUE REFERENCES cost_lines(id) ON DELETE CASCADE,
  note TEXT NOT NULL DEFAULT '',
  let_by TEXT NOT NULL DEFAULT '',
  let_at INTEGER NOT NULL,
  CHECK ((entry_id IS NULL) <> (cost_line_id IS NULL))
) STRICT;
CREATE VIEW jobs_let_beyond AS
  SELECT b.id, ifnull(e.job_id, l.job_id) AS job_id FROM let_beyond b LEFT JOIN time_entries e ON e.id = b.entry_id
    LEFT JOIN cost_lines l ON l.id = b.cost_line_id;
-- +goose StatementBegin
CREATE TRIGGER let_beyond_begins AFTER INSERT ON let_beyond BEGIN
  INSERT OR IGNORE INTO limits_stale SELECT job_id FROM jobs_let_beyond WHERE id = NEW.id AND job_id IN (SELECT job_id FROM limits);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER let_beyond_ends BEFORE DELETE ON let_beyond BEGIN
  INSERT OR IGNORE INTO limits_stale SELECT job_id FROM jobs_let_beyond WHERE id = OLD.id AND job_id IN (SELECT job_id FROM limits);
END;
-- +goose StatementEnd
