-- +goose Up
-- What a person types on an invoice: lines that no work stands behind, discounts, the customer's order number, and text above and below.
ALTER TABLE invoices ADD COLUMN order_number TEXT NOT NULL DEFAULT '';
ALTER TABLE invoices ADD COLUMN opening TEXT NOT NULL DEFAULT '';
ALTER TABLE invoices ADD COLUMN closing TEXT NOT NULL DEFAULT '';

CREATE TABLE typed_lines (
  id INTEGER PRIMARY KEY,
  invoice_id INTEGER NOT NULL REFERENCES invoices(id) ON DELETE CASCADE,
  position INTEGER NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('line', 'discount', 'progress', 'instalment')),
  job_id INTEGER REFERENCES jobs(id), -- of a discount: none is on all jobs
  phase_id INTEGER REFERENCES phases(id),
  category TEXT NOT NULL, -- of a discount: blank is on all kinds
  text TEXT NOT NULL CHECK (text <> ''),
  quantity INTEGER NOT NULL DEFAULT 0,
  unit TEXT NOT NULL DEFAULT '',
  percent INTEGER NOT NULL DEFAULT 0, -- of a discount: 0 is an amount
  amount INTEGER NOT NULL, -- what it comes to on the invoice: of a discount below 0
  UNIQUE (invoice_id, position),
  CHECK (kind = 'discount' OR job_id IS NOT NULL AND category <> '' AND percent = 0)
) STRICT;
CREATE INDEX typed_lines_job ON typed_lines (job_id);
ALTER TABLE invoice_lines ADD COLUMN typed_line_id INTEGER REFERENCES typed_lines(id) ON DELETE SET NULL;
CREATE INDEX invoice_lines_typed ON invoice_lines (typed_line_id) WHERE typed_line_id IS NOT NULL;

-- +goose StatementBegin
CREATE TRIGGER typed_lines_no_insert BEFORE INSERT ON typed_lines WHEN
  (SELECT status FROM invoices WHERE id = NEW.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER typed_lines_fixed BEFORE UPDATE ON typed_lines WHEN
  EXISTS (SELECT 1 FROM invoices WHERE id IN (OLD.invoice_id, NEW.invoice_id) AND status = 'issued') BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER typed_lines_kept BEFORE DELETE ON typed_lines WHEN
  (SELECT status FROM invoices WHERE id = OLD.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd

-- What is typed on a job counts toward its limit, and a discount makes room.
-- +goose StatementBegin
CREATE TRIGGER invoice_phases_limit_begins AFTER INSERT ON invoice_phases WHEN
  EXISTS (SELECT 1 FROM typed_lines WHERE invoice_id = NEW.invoice_id) BEGIN
  INSERT OR IGNORE INTO limits_stale SELECT job_id FROM limits WHERE job_id = NEW.job_id;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER typed_lines_limit_ends AFTER DELETE ON typed_lines BEGIN
  INSERT OR IGNORE INTO limits_stale SELECT DISTINCT l.job_id FROM limits l
    WHERE l.job_id = OLD.job_id OR OLD.job_id IS NULL;
END;
-- +goose StatementEnd
