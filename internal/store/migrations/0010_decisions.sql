-- +goose Up
-- What was decided in Approve, to be looked through from the last one back.
CREATE INDEX history_decisions ON history (id) WHERE action IN ('approved', 'returned');
-- What weeks are held against reads weeks of hours of many workers: from the index alone.
DROP INDEX time_entries_worker;
CREATE INDEX time_entries_worker ON time_entries (worker_id, date, minutes);
-- What papers that wait come to is added up from the index alone.
DROP INDEX cost_lines_waiting;
CREATE INDEX cost_lines_waiting ON cost_lines (document_id, date, job_id, charge, landed, status) WHERE status <> 'approved';
