-- +goose Up
-- What was decided in Approve, to be looked through from the last one back.
CREATE INDEX history_decisions ON history (id) WHERE action IN ('approved', 'returned');
