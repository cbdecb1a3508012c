-- +goose Up
-- Units of measure of the company's own, beside those that everybody has, with their code of the UN's recommendation 20 for e-invoices.
CREATE TABLE units (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  name TEXT NOT NULL UNIQUE CHECK (name <> ''),
  code TEXT NOT NULL CHECK (length(code) BETWEEN 2 AND 3),
  version INTEGER NOT NULL DEFAULT 1
) STRICT;
