-- +goose Up
-- The people of a customer, and what each of them gets by mail.
CREATE TABLE contacts (
  id INTEGER PRIMARY KEY,
  customer_id INTEGER NOT NULL REFERENCES customers(id),
  name TEXT NOT NULL DEFAULT '',
  role TEXT NOT NULL DEFAULT '', -- what they do there
  email TEXT NOT NULL CHECK (email <> ''),
  invoices INTEGER NOT NULL DEFAULT 0 CHECK (invoices IN (0, 1)),
  statements INTEGER NOT NULL DEFAULT 0 CHECK (statements IN (0, 1)),
  reminders INTEGER NOT NULL DEFAULT 0 CHECK (reminders IN (0, 1)),
  UNIQUE (customer_id, email)
) STRICT;
