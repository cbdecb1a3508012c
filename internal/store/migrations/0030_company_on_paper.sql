-- +goose Up
-- The company on its papers: its address in parts, its mark and its tax number; and how far ahead and back its hours are looked at.
CREATE TABLE logos (
  sha256 TEXT PRIMARY KEY CHECK (length(sha256) = 64),
  media TEXT NOT NULL CHECK (media IN ('image/png', 'image/jpeg')),
  data BLOB NOT NULL
) STRICT;
ALTER TABLE company ADD COLUMN post_code TEXT NOT NULL DEFAULT '';
ALTER TABLE company ADD COLUMN city TEXT NOT NULL DEFAULT '';
ALTER TABLE company ADD COLUMN region TEXT NOT NULL DEFAULT '';
ALTER TABLE company ADD COLUMN country TEXT NOT NULL DEFAULT '' CHECK (country = '' OR length(country) = 2);
ALTER TABLE company ADD COLUMN days_ahead INTEGER NOT NULL DEFAULT 31 CHECK (days_ahead BETWEEN 0 AND 366);
ALTER TABLE company ADD COLUMN missing_days INTEGER NOT NULL DEFAULT 14 CHECK (missing_days BETWEEN 1 AND 92);
ALTER TABLE company ADD COLUMN logo TEXT REFERENCES logos(sha256);
ALTER TABLE invoices ADD COLUMN company_tax_number TEXT NOT NULL DEFAULT '';
ALTER TABLE invoices ADD COLUMN company_logo TEXT REFERENCES logos(sha256);
-- +goose StatementBegin
CREATE TRIGGER logos_fixed BEFORE UPDATE ON logos BEGIN
  SELECT RAISE(ABORT, 'a logo never changes: it is on invoices');
END;
-- +goose StatementEnd
