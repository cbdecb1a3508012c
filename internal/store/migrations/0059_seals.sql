-- +goose Up
-- A hash of each record that is typed or decided and not worked out, and of each issued invoice with all that it is made of, as it was
-- written last (store/seals.go). Who changes a record behind Jarvo's back leaves a seal that is not the record's.
CREATE TABLE seals (
  kind TEXT NOT NULL, -- the table
  key TEXT NOT NULL, -- the primary key, as a JSON array
  hash TEXT NOT NULL CHECK (length(hash) = 64), -- SHA-256
  PRIMARY KEY (kind, key)
) STRICT, WITHOUT ROWID;
-- How many rows the history has, and the hash of the last.
ALTER TABLE book ADD COLUMN history_rows INTEGER NOT NULL DEFAULT 0;
ALTER TABLE book ADD COLUMN history_hash TEXT NOT NULL DEFAULT '';
UPDATE book SET history_rows = (SELECT count(*) FROM history),
  history_hash = ifnull((SELECT hash FROM history ORDER BY id DESC LIMIT 1), '');
