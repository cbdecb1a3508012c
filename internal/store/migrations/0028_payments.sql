-- +goose Up
-- How a payment came, and why it was taken back where it was: it stays in the list, and settles nothing any more.
ALTER TABLE payments ADD COLUMN method TEXT NOT NULL DEFAULT '';
ALTER TABLE payments ADD COLUMN reference TEXT NOT NULL DEFAULT '';
ALTER TABLE payments ADD COLUMN taken_back TEXT CHECK (taken_back <> ''); -- the reason
CREATE INDEX payments_date ON payments (date);

-- What payments that stand are set against.
CREATE VIEW settled_parts AS
  SELECT a.payment_id, a.invoice_id, a.amount, p.date FROM payment_allocations a JOIN payments p ON p.id = a.payment_id
  WHERE p.taken_back IS NULL;

DROP VIEW invoice_balance;
CREATE VIEW invoice_balance AS
  SELECT invoice_id, due, paid, due - paid AS "left", issued AND paid >= due AS settled FROM (
    SELECT i.id AS invoice_id, i.status = 'issued' AS issued, CASE i.status WHEN 'issued' THEN i.due_now ELSE 0 END AS due,
      (SELECT ifnull(sum(a.amount), 0) FROM settled_parts a WHERE a.invoice_id = i.id) AS paid
    FROM invoices i);
