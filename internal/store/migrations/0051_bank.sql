-- +goose Up
-- What the bank tells of the company's account. Each line is there once, however often its statement is read; a receipt is recorded as a
-- payment, or set aside with a reason.
CREATE TABLE bank_lines (
  id INTEGER PRIMARY KEY,
  ref TEXT NOT NULL UNIQUE CHECK (ref <> ''), -- a hash of what the bank says, and of which it is among its equals
  account TEXT NOT NULL DEFAULT '',
  date INTEGER NOT NULL,
  amount INTEGER NOT NULL, -- below 0: it went out
  name TEXT NOT NULL DEFAULT '',
  text TEXT NOT NULL DEFAULT '',
  bank_ref TEXT NOT NULL DEFAULT '',
  payment_id INTEGER UNIQUE REFERENCES payments(id),
  aside TEXT NOT NULL DEFAULT '', -- why it is set aside
  CHECK (payment_id IS NULL OR aside = '')
) STRICT;
CREATE INDEX bank_lines_open ON bank_lines (date) WHERE payment_id IS NULL AND aside = '';
-- +goose StatementBegin
CREATE TRIGGER bank_lines_fixed BEFORE UPDATE ON bank_lines WHEN
  (OLD.id, OLD.ref, OLD.account, OLD.date, OLD.amount, OLD.name, OLD.text, OLD.bank_ref)
    IS NOT (NEW.id, NEW.ref, NEW.account, NEW.date, NEW.amount, NEW.name, NEW.text, NEW.bank_ref) BEGIN
  SELECT RAISE(ABORT, 'what the bank says never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bank_lines_kept BEFORE DELETE ON bank_lines BEGIN
  SELECT RAISE(ABORT, 'what the bank says stays in the book');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bank_lines_recorded BEFORE UPDATE OF payment_id ON bank_lines WHEN NEW.payment_id IS NOT NULL BEGIN
  SELECT RAISE(ABORT, 'this receipt has been recorded already') WHERE OLD.payment_id IS NOT NULL;
  SELECT RAISE(ABORT, 'a receipt is recorded as a payment of the same amount') WHERE NOT EXISTS (SELECT 1 FROM payments
    WHERE id = NEW.payment_id AND kind = 'payment' AND taken_back IS NULL AND amount = NEW.amount);
END;
-- +goose StatementEnd
-- How a bank's tables are read, by their heads.
CREATE TABLE bank_formats (
  head TEXT PRIMARY KEY,
  date TEXT NOT NULL,
  amount TEXT NOT NULL DEFAULT '',
  "in" TEXT NOT NULL DEFAULT '',
  "out" TEXT NOT NULL DEFAULT '',
  name TEXT NOT NULL DEFAULT '',
  text TEXT NOT NULL DEFAULT '',
  bank_ref TEXT NOT NULL DEFAULT '',
  day_order TEXT NOT NULL CHECK (day_order IN ('ymd', 'dmy', 'mdy'))
) STRICT, WITHOUT ROWID;
