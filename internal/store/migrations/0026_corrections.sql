-- +goose Up
-- What is corrected in place says on which version it was; what is retired is offered no more, and stays in what it was used for.
ALTER TABLE wages ADD COLUMN version INTEGER NOT NULL DEFAULT 1;
ALTER TABLE burdens ADD COLUMN version INTEGER NOT NULL DEFAULT 1;
ALTER TABLE labour_rates ADD COLUMN version INTEGER NOT NULL DEFAULT 1;
ALTER TABLE markups ADD COLUMN version INTEGER NOT NULL DEFAULT 1;
ALTER TABLE trades ADD COLUMN version INTEGER NOT NULL DEFAULT 1;
ALTER TABLE phases ADD COLUMN version INTEGER NOT NULL DEFAULT 1;
ALTER TABLE cost_codes ADD COLUMN version INTEGER NOT NULL DEFAULT 1;
ALTER TABLE cost_codes ADD COLUMN active INTEGER NOT NULL DEFAULT 1 CHECK (active IN (0, 1));
ALTER TABLE customers ADD COLUMN active INTEGER NOT NULL DEFAULT 1 CHECK (active IN (0, 1));
ALTER TABLE users ADD COLUMN version INTEGER NOT NULL DEFAULT 1;
