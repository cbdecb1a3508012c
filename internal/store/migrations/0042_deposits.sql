-- +goose Up
-- A deposit is asked for on an invoice of its own, which has one line of the category deposit. What of it is applied to later invoices of
-- the customer is prepaid there, and the tax that was charged on that is deducted.
PRAGMA writable_schema = ON;
UPDATE sqlite_schema SET sql = replace(sql, '''progress'', ''instalment'')', '''progress'', ''instalment'', ''deposit'')')
  WHERE type = 'table' AND name = 'typed_lines';
PRAGMA writable_schema = RESET;
ALTER TABLE invoice_taxes ADD COLUMN deposit_id INTEGER REFERENCES invoices(id); -- the deposit that the deducted tax was charged on
CREATE TABLE applied_deposits (
  invoice_id INTEGER NOT NULL REFERENCES invoices(id) ON DELETE CASCADE,
  deposit_id INTEGER NOT NULL REFERENCES invoices(id),
  amount INTEGER NOT NULL CHECK (amount > 0), -- before tax
  PRIMARY KEY (invoice_id, deposit_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX applied_deposits_of ON applied_deposits (deposit_id);
CREATE INDEX typed_lines_deposit ON typed_lines (invoice_id) WHERE kind = 'deposit';

-- What is left of each deposit, before tax: asked, less what was credited of it and applied; drafted is what drafts hold of that.
CREATE VIEW deposits AS
  SELECT *, asked - credited - applied AS open FROM (
    SELECT i.id AS deposit_id, i.customer_id, t.job_id, i.subtotal AS asked,
      (SELECT -ifnull(sum(n.subtotal), 0) FROM invoices n WHERE n.credit_of = i.id AND n.status = 'issued') AS credited,
      (SELECT ifnull(sum(a.amount), 0) FROM applied_deposits a JOIN invoices o ON o.id = a.invoice_id
        WHERE a.deposit_id = i.id AND o.status = 'issued') AS applied,
      (SELECT ifnull(sum(a.amount), 0) FROM applied_deposits a JOIN invoices o ON o.id = a.invoice_id
        WHERE a.deposit_id = i.id AND o.status = 'draft') AS drafted
      FROM typed_lines t JOIN invoices i ON i.id = t.invoice_id WHERE t.kind = 'deposit' AND i.status = 'issued');

-- What was applied of a deposit can't be credited.
DROP VIEW credit_left;
CREATE VIEW credit_left AS
  SELECT s.id AS source_id, NULL AS line_id, s.invoice_id,
    s.amount - (SELECT ifnull(sum(c.amount), 0) FROM credits c WHERE c.source_id = s.id) AS "left",
    s.up - (SELECT ifnull(sum(c.up), 0) FROM credits c WHERE c.source_id = s.id) AS up FROM invoice_sources s
  UNION ALL SELECT NULL, l.id, l.invoice_id,
    l.amount - (SELECT ifnull(sum(c.amount), 0) FROM credits c WHERE c.line_id = l.id)
    - (SELECT ifnull(sum(a.amount), 0) FROM applied_deposits a JOIN invoices o ON o.id = a.invoice_id
      WHERE a.deposit_id = l.invoice_id AND o.status = 'issued'), 0
    FROM invoice_lines l WHERE l.typed_line_id IS NOT NULL;

-- +goose StatementBegin
CREATE TRIGGER deposits_stand_alone BEFORE INSERT ON typed_lines WHEN
  EXISTS (SELECT 1 FROM typed_lines WHERE invoice_id = NEW.invoice_id AND (kind = 'deposit' OR NEW.kind = 'deposit'))
  OR NEW.kind = 'deposit' AND EXISTS (SELECT 1 FROM invoice_sources WHERE invoice_id = NEW.invoice_id) BEGIN
  SELECT RAISE(ABORT, 'a deposit is asked for on an invoice of its own');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER deposits_without_work BEFORE INSERT ON invoice_sources WHEN
  EXISTS (SELECT 1 FROM typed_lines WHERE invoice_id = NEW.invoice_id AND kind = 'deposit') BEGIN
  SELECT RAISE(ABORT, 'a deposit is asked for on an invoice of its own');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER applied_deposits_no_insert BEFORE INSERT ON applied_deposits WHEN
  (SELECT status FROM invoices WHERE id = NEW.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER applied_deposits_fixed BEFORE UPDATE ON applied_deposits WHEN
  EXISTS (SELECT 1 FROM invoices WHERE id IN (OLD.invoice_id, NEW.invoice_id) AND status = 'issued') BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER applied_deposits_kept BEFORE DELETE ON applied_deposits WHEN
  (SELECT status FROM invoices WHERE id = OLD.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoices_take_deposits AFTER UPDATE OF status ON invoices WHEN
  NEW.status = 'issued' AND OLD.status <> 'issued' AND NEW.prepaid <> 0 BEGIN
  SELECT RAISE(ABORT, 'more of a deposit would be applied than is open') WHERE EXISTS (SELECT 1 FROM applied_deposits a
    LEFT JOIN deposits d ON d.deposit_id = a.deposit_id AND d.customer_id = NEW.customer_id
    WHERE a.invoice_id = NEW.id AND ifnull(d.open, -1) < 0);
END;
-- +goose StatementEnd
