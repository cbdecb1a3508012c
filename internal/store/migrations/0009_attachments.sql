-- +goose Up
-- Scans and photos of papers. What is the same is kept once, under its checksum.
CREATE TABLE scans (
  sha256 TEXT PRIMARY KEY CHECK (length(sha256) = 64),
  data BLOB NOT NULL CHECK (length(data) BETWEEN 1 AND 10485760)
) STRICT;
CREATE TABLE attachments (
  id INTEGER PRIMARY KEY,
  document_id INTEGER NOT NULL REFERENCES cost_documents(id),
  sha256 TEXT NOT NULL REFERENCES scans(sha256),
  name TEXT NOT NULL CHECK (name <> ''),
  media TEXT NOT NULL CHECK (media IN ('application/pdf', 'image/png', 'image/jpeg')),
  size INTEGER NOT NULL CHECK (size > 0),
  added_at INTEGER NOT NULL,
  added_by TEXT NOT NULL DEFAULT '',
  UNIQUE (document_id, sha256)
) STRICT;
CREATE INDEX attachments_scan ON attachments (sha256);
-- +goose StatementBegin
CREATE TRIGGER attachments_gone AFTER DELETE ON attachments WHEN NOT EXISTS (SELECT 1 FROM attachments a WHERE a.sha256 = OLD.sha256) BEGIN
  DELETE FROM scans WHERE sha256 = OLD.sha256;
END;
-- +goose StatementEnd
