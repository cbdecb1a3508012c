-- +goose Up
-- What an entry earned stands on the entry too, as what it costs does: what a worker earned in a year so far is added up from
-- an index, each time hours are typed.
ALTER TABLE time_entries ADD COLUMN straight INTEGER NOT NULL DEFAULT 0;
ALTER TABLE time_entries ADD COLUMN gross INTEGER NOT NULL DEFAULT 0;
DROP TRIGGER time_entries_fixed; -- what is billed is filled in too
UPDATE time_entries SET (straight, gross) = (SELECT ifnull(sum(s.straight), 0), ifnull(sum(s.gross), 0) FROM labour_segments s WHERE s.entry_id = time_entries.id);
-- +goose StatementBegin
CREATE TRIGGER time_entries_fixed BEFORE UPDATE ON time_entries WHEN
  OLD.billed = 1 AND (NEW.billed = 1 OR EXISTS (SELECT 1 FROM invoice_sources WHERE entry_id = OLD.id AND released = 0)) BEGIN
  SELECT RAISE(ABORT, 'billed work never changes');
END;
-- +goose StatementEnd
DROP INDEX time_entries_worker;
CREATE INDEX time_entries_worker ON time_entries (worker_id, date, minutes, straight, gross);
