-- +goose Up
-- A credit note on a release gives back an amount by job, which is held again: its releases are below 0, and its subtotal is 0.
PRAGMA writable_schema = ON;
UPDATE sqlite_schema SET sql = replace(sql, 'amount INTEGER NOT NULL CHECK (amount > 0)', 'amount INTEGER NOT NULL CHECK (amount <> 0)')
  WHERE type = 'table' AND name = 'releases';
UPDATE sqlite_schema SET sql = replace(sql, 'ELSE subtotal < 0 AND due_now <= 0 AND prepaid = 0', 'ELSE subtotal <= 0 AND due_now <= 0 AND prepaid = 0')
  WHERE type = 'table' AND name = 'invoices';
PRAGMA writable_schema = RESET;

-- What is left of each release of a job, and of that from each invoice, after the credit notes on it.
CREATE VIEW released_left AS
  SELECT i.id AS invoice_id, r.job_id, r.amount AS released, r.amount + (SELECT ifnull(sum(x.amount), 0) FROM invoices n
    JOIN releases x ON x.invoice_id = n.id WHERE n.credit_of = i.id AND n.status = 'issued' AND x.job_id = r.job_id) AS "left"
    FROM releases r JOIN invoices i ON i.id = r.invoice_id WHERE i.status = 'issued' AND i.credit_of IS NULL;
CREATE VIEW release_parts_left AS
  SELECT i.id AS invoice_id, p.job_id, p.from_id, p.amount + (SELECT ifnull(sum(x.amount), 0) FROM invoices n
    JOIN release_parts x ON x.invoice_id = n.id WHERE n.credit_of = i.id AND n.status = 'issued' AND x.job_id = p.job_id
    AND x.from_id = p.from_id) AS "left"
    FROM release_parts p JOIN invoices i ON i.id = p.invoice_id WHERE i.status = 'issued' AND i.credit_of IS NULL;
-- +goose StatementBegin
CREATE TRIGGER invoices_held_again AFTER UPDATE OF status ON invoices WHEN
  NEW.status = 'issued' AND OLD.status <> 'issued' AND NEW.credit_of IS NOT NULL
  AND EXISTS (SELECT 1 FROM releases WHERE invoice_id IN (NEW.id, NEW.credit_of)) BEGIN
  SELECT RAISE(ABORT, 'more would be credited than was released') WHERE EXISTS (SELECT 1 FROM releases r
    LEFT JOIN released_left l ON l.invoice_id = NEW.credit_of AND l.job_id = r.job_id
    WHERE r.invoice_id = NEW.id AND (r.amount > 0 OR ifnull(l."left", -1) < 0));
END;
-- +goose StatementEnd
