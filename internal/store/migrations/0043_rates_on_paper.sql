-- +goose Up
-- Hours can be shown with their rate: a line is then hours x rate, and what the lines of a job differ from what its hours are charged by is a
-- line of its own. What was drafted before is shown as it was.
ALTER TABLE invoices ADD COLUMN show_rates INTEGER NOT NULL DEFAULT 0 CHECK (show_rates IN (0, 1));
ALTER TABLE invoice_lines ADD COLUMN rate INTEGER NOT NULL DEFAULT 0; -- an hour, in 1/10 000; 0: none is shown
