-- +goose Up
-- The customer's order that a job is worked under; an issued invoice keeps it by job.
ALTER TABLE jobs ADD COLUMN order_number TEXT NOT NULL DEFAULT '';
ALTER TABLE invoice_jobs ADD COLUMN order_number TEXT NOT NULL DEFAULT '';
