-- +goose Up
-- What locked work would be charged today, where that is not what it was: its rate, its card or the hours before it have changed since.
PRAGMA writable_schema = ON;
UPDATE sqlite_schema SET sql = replace(sql, '''no_budget'', ''short'')', '''no_budget'', ''short'', ''otherwise'')')
  WHERE type = 'table' AND name = 'dismissals';
PRAGMA writable_schema = RESET;
CREATE TABLE charged_otherwise (
  id INTEGER PRIMARY KEY,
  entry_id INTEGER UNIQUE REFERENCES time_entries(id) ON DELETE CASCADE,
  cost_line_id INTEGER UNIQUE REFERENCES cost_lines(id) ON DELETE CASCADE,
  charge INTEGER NOT NULL,
  CHECK ((entry_id IS NULL) <> (cost_line_id IS NULL))
) STRICT;
-- +goose StatementBegin
CREATE TRIGGER time_entries_unlocked AFTER UPDATE OF billed ON time_entries WHEN NEW.billed = 0 AND OLD.billed = 1 BEGIN
  DELETE FROM charged_otherwise WHERE entry_id = OLD.id;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_unlocked AFTER UPDATE OF billed ON cost_lines WHEN NEW.billed = 0 AND OLD.billed = 1 BEGIN
  DELETE FROM charged_otherwise WHERE cost_line_id = OLD.id;
END;
-- +goose StatementEnd
-- By invoice and job: how much work, since when, and by how much it would be charged otherwise.
CREATE VIEW otherwise_by_invoice AS
  SELECT invoice_id, job_id, count(*) AS works, min(date) AS first, sum(difference) AS difference FROM (
    SELECT e.invoice_id, e.job_id, e.date, x.charge - e.charge AS difference FROM charged_otherwise x JOIN time_entries e ON e.id = x.entry_id
    UNION ALL SELECT l.invoice_id, l.job_id, l.date, x.charge - l.charge FROM charged_otherwise x JOIN cost_lines l ON l.id = x.cost_line_id)
    WHERE invoice_id IS NOT NULL GROUP BY 1, 2 HAVING sum(difference) <> 0;
