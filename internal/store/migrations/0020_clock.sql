-- +goose Up
-- A clocking keeps the moments at which work and break began, so that a night on which the clocks change has the hours it had. Times of
-- day of earlier versions were those of the server.
ALTER TABLE clockings ADD COLUMN started_at INTEGER NOT NULL DEFAULT 0; -- Unix milliseconds, of a whole minute
ALTER TABLE clockings ADD COLUMN break_at INTEGER; -- the same, where a break is under way
UPDATE clockings SET started_at = 1000 * CAST(strftime('%s', date * 86400 + start * 60, 'unixepoch', 'utc') AS INTEGER),
  break_at = 1000 * CAST(strftime('%s', date * 86400 + break_start * 60, 'unixepoch', 'utc') AS INTEGER);
ALTER TABLE clockings DROP COLUMN break_start;
