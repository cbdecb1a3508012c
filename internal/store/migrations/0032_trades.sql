-- +goose Up
-- A trade that is in use can be retired: it is offered no more, and its workers and rates keep it.
ALTER TABLE trades ADD COLUMN active INTEGER NOT NULL DEFAULT 1 CHECK (active IN (0, 1));
