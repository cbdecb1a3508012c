-- +goose Up
-- More of what the company says of itself on its papers.
ALTER TABLE company ADD COLUMN phone TEXT NOT NULL DEFAULT '';
ALTER TABLE company ADD COLUMN tax_number TEXT NOT NULL DEFAULT '';
ALTER TABLE tax_codes ADD COLUMN version INTEGER NOT NULL DEFAULT 1;
