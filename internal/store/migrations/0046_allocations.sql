-- +goose Up
-- Money received, refunded and taken back, and what of it is set against invoices, are entries that stay: what is lifted again, because a
-- payment was taken back or an invoice was credited, is an entry below 0 with a date of its own. So balances, credit and receipts of a past
-- day are what they were.
ALTER TABLE payments ADD COLUMN kind TEXT NOT NULL DEFAULT 'payment' CHECK (kind IN ('payment', 'refund'));
ALTER TABLE payments ADD COLUMN taken_back_on INTEGER;
UPDATE payments SET taken_back_on = date WHERE taken_back IS NOT NULL;
CREATE INDEX payments_customer ON payments (customer_id, date);

DROP VIEW invoice_balance;
DROP VIEW settled_parts;
DROP INDEX payment_allocations_invoice;
ALTER TABLE payment_allocations RENAME TO allocated_before;
CREATE TABLE payment_allocations (
  id INTEGER PRIMARY KEY,
  payment_id INTEGER REFERENCES payments(id), -- none: from the customer's credit
  invoice_id INTEGER NOT NULL REFERENCES invoices(id),
  date INTEGER NOT NULL,
  amount INTEGER NOT NULL CHECK (amount <> 0)
) STRICT;
CREATE INDEX payment_allocations_invoice ON payment_allocations (invoice_id, date);
CREATE INDEX payment_allocations_payment ON payment_allocations (payment_id) WHERE payment_id IS NOT NULL;
CREATE INDEX payment_allocations_date ON payment_allocations (date);
INSERT INTO payment_allocations (payment_id, invoice_id, date, amount)
  SELECT a.payment_id, a.invoice_id, max(p.date, i.date), a.amount FROM allocated_before a JOIN payments p ON p.id = a.payment_id
    JOIN invoices i ON i.id = a.invoice_id ORDER BY p.id, i.number;
INSERT INTO payment_allocations (payment_id, invoice_id, date, amount)
  SELECT a.payment_id, a.invoice_id, a.date, -a.amount FROM payment_allocations a JOIN payments p ON p.id = a.payment_id
    WHERE p.taken_back IS NOT NULL ORDER BY a.id;
DROP TABLE allocated_before;

-- The balance of an invoice: what was due, less what was credited and paid. What was paid is below 0 where it was prepaid and credited.
CREATE VIEW invoice_balance AS
  SELECT invoice_id, due, credited, paid, due - credited - paid AS "left", issued AND paid >= due - credited AS settled FROM (
    SELECT i.id AS invoice_id, i.status = 'issued' AS issued,
      CASE WHEN i.status = 'issued' AND i.credit_of IS NULL THEN i.due_now ELSE 0 END AS due,
      (SELECT -ifnull(sum(n.due_now), 0) FROM invoices n WHERE n.credit_of = i.id AND n.status = 'issued') AS credited,
      (SELECT ifnull(sum(a.amount), 0) FROM payment_allocations a WHERE a.invoice_id = i.id) AS paid
    FROM invoices i);

-- What was credited of an invoice beyond what was due of it, such as of one that was prepaid, is the customer's credit.
INSERT INTO payment_allocations (payment_id, invoice_id, date, amount)
  SELECT NULL, i.id, (SELECT max(n.date) FROM invoices n WHERE n.credit_of = i.id), b."left"
    FROM invoice_balance b JOIN invoices i ON i.id = b.invoice_id WHERE b."left" < 0 ORDER BY i.number;

-- What came from a customer and went back, by date: a payment is above 0, a refund below, and what was taken back is the other way round.
CREATE VIEW money_entries AS
  SELECT id AS payment_id, customer_id, date, kind, 0 AS back, iif(kind = 'refund', -amount, amount) AS amount FROM payments
  UNION ALL SELECT id, customer_id, taken_back_on, kind, 1, iif(kind = 'refund', amount, -amount) FROM payments
    WHERE taken_back IS NOT NULL;
-- The credit of a customer by date: what came, less what of it is set against invoices.
CREATE VIEW credit_entries AS
  SELECT customer_id, date, amount FROM money_entries
  UNION ALL SELECT i.customer_id, a.date, -a.amount FROM invoices i JOIN payment_allocations a ON a.invoice_id = i.id;


-- What invoices billed, and notes credited, by job and category: what taxes are on.
CREATE VIEW invoice_bases AS
  SELECT s.invoice_id, ifnull(e.job_id, l.job_id) AS job_id, ifnull(l.category, 'labour') AS category, s.amount FROM invoice_sources s
    LEFT JOIN time_entries e ON e.id = s.entry_id LEFT JOIN cost_lines l ON l.id = s.cost_line_id
  UNION ALL SELECT n.invoice_id, n.job_id, n.category, n.amount FROM invoice_lines n WHERE n.typed_line_id IS NOT NULL
  UNION ALL SELECT c.invoice_id, coalesce(e.job_id, l.job_id, n.job_id), coalesce(l.category, n.category, 'labour'), -c.amount
    FROM credits c LEFT JOIN invoice_sources s ON s.id = c.source_id LEFT JOIN time_entries e ON e.id = s.entry_id
    LEFT JOIN cost_lines l ON l.id = s.cost_line_id LEFT JOIN invoice_lines n ON n.id = c.line_id;

-- +goose StatementBegin
CREATE TRIGGER payments_fixed BEFORE UPDATE ON payments WHEN
  (OLD.id, OLD.ref, OLD.customer_id, OLD.date, OLD.amount, OLD.kind, OLD.method, OLD.reference, OLD.note)
    IS NOT (NEW.id, NEW.ref, NEW.customer_id, NEW.date, NEW.amount, NEW.kind, NEW.method, NEW.reference, NEW.note)
  OR OLD.taken_back IS NOT NULL OR (NEW.taken_back IS NULL) <> (NEW.taken_back_on IS NULL) BEGIN
  SELECT RAISE(ABORT, 'a payment never changes; it is taken back');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER payments_kept BEFORE DELETE ON payments BEGIN
  SELECT RAISE(ABORT, 'a payment stays in the book; it is taken back');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER payment_allocations_sound AFTER INSERT ON payment_allocations BEGIN
  SELECT RAISE(ABORT, 'only an issued invoice is paid') WHERE NOT EXISTS (SELECT 1 FROM invoices
    WHERE id = NEW.invoice_id AND status = 'issued' AND credit_of IS NULL);
  SELECT RAISE(ABORT, 'more would be set against this invoice than is due') WHERE
    (SELECT sum(amount) FROM payment_allocations WHERE invoice_id = NEW.invoice_id) > (SELECT due_now FROM invoices WHERE id = NEW.invoice_id);
  SELECT RAISE(ABORT, 'a payment is set against invoices of its customer') WHERE NEW.payment_id IS NOT NULL
    AND (SELECT customer_id FROM payments WHERE id = NEW.payment_id AND kind = 'payment')
      IS NOT (SELECT customer_id FROM invoices WHERE id = NEW.invoice_id);
  SELECT RAISE(ABORT, 'more would be set against invoices than was received') WHERE NEW.payment_id IS NOT NULL
    AND (SELECT sum(amount) FROM payment_allocations WHERE payment_id = NEW.payment_id)
      > (SELECT amount FROM payments WHERE id = NEW.payment_id);
  SELECT RAISE(ABORT, 'more would be lifted than is set against this invoice') WHERE NEW.payment_id IS NOT NULL
    AND (SELECT sum(amount) FROM payment_allocations WHERE payment_id = NEW.payment_id AND invoice_id = NEW.invoice_id) < 0;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER payment_allocations_fixed BEFORE UPDATE ON payment_allocations BEGIN
  SELECT RAISE(ABORT, 'what is set against an invoice never changes; it is lifted');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER payment_allocations_kept BEFORE DELETE ON payment_allocations BEGIN
  SELECT RAISE(ABORT, 'what is set against an invoice never changes; it is lifted');
END;
-- +goose StatementEnd
