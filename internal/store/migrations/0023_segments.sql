-- +goose Up
-- Hours that are all of one class are a segment by themselves: only those that are split between classes have segments beside them. Most
-- hours are of one class, and what they cost is written once.
ALTER TABLE time_entries ADD COLUMN class INTEGER CHECK (class BETWEEN 0 AND 2); -- NULL where the hours are split
DROP TRIGGER time_entries_fixed; -- what is billed is filled in too
DROP TRIGGER labour_segments_kept;
UPDATE time_entries SET class = g.class FROM (SELECT entry_id, class FROM labour_segments GROUP BY entry_id HAVING count(*) = 1) g
  WHERE g.entry_id = time_entries.id;
DELETE FROM labour_segments WHERE entry_id IN (SELECT id FROM time_entries WHERE class IS NOT NULL);
-- +goose StatementBegin
CREATE TRIGGER time_entries_fixed BEFORE UPDATE ON time_entries WHEN
  OLD.billed = 1 AND (NEW.billed = 1 OR EXISTS (SELECT 1 FROM invoice_sources WHERE entry_id = OLD.id AND released = 0)) BEGIN
  SELECT RAISE(ABORT, 'billed work never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER labour_segments_kept BEFORE DELETE ON labour_segments WHEN
  (SELECT billed FROM time_entries WHERE id = OLD.entry_id) = 1 BEGIN
  SELECT RAISE(ABORT, 'billed work never changes');
END;
-- +goose StatementEnd

-- The segments of all hours (calculation.md section 3).
CREATE VIEW segments_of_hours AS
  SELECT id AS entry_id, worker_id, date, invoice_id, billed, class, minutes, straight, gross, ifnull(cost - gross, 0) AS burden, cost, charge
    FROM time_entries WHERE class IS NOT NULL
  UNION ALL SELECT e.id, e.worker_id, e.date, e.invoice_id, e.billed, g.class, g.minutes, g.straight, g.gross, g.burden, g.cost, g.charge
    FROM time_entries e JOIN labour_segments g ON g.entry_id = e.id;
