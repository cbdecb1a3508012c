-- +goose Up
-- Whether a customer sees what work cost and what was put on it; the others see what they are charged alone.
ALTER TABLE customers ADD COLUMN open_book INTEGER NOT NULL DEFAULT 0 CHECK (open_book IN (0, 1));
