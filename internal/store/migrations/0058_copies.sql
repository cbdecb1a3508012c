-- +goose Up
-- What requests made is forgotten after a while, the oldest first.
CREATE INDEX creations_at ON creations (at);
-- In a copy of a book in which messages were waiting: nothing is sent until a person says so, since the book that it was copied from may
-- have sent them.
ALTER TABLE book ADD COLUMN mail_stopped INTEGER NOT NULL DEFAULT 0 CHECK (mail_stopped IN (0, 1));
