-- +goose Up
-- Tells this book from any other at the same address, so that what a window kept unsent never goes to the wrong one.
CREATE TABLE book (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  key TEXT NOT NULL
) STRICT;
INSERT INTO book (id, key) VALUES (1, lower(hex(randomblob(8))));
