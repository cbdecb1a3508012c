-- +goose Up
-- Sessions are kept as hashes of their tokens, so those of earlier versions are over. A new password, another role or a deactivation
-- begins a new generation of a user's sessions and thereby ends the earlier ones.
DELETE FROM sessions;
ALTER TABLE users ADD COLUMN generation INTEGER NOT NULL DEFAULT 1;
-- Today is the day in the company's time zone, by its IANA name; blank is the server's, until one has been chosen.
ALTER TABLE company ADD COLUMN time_zone TEXT NOT NULL DEFAULT '';
