-- +goose Up
-- Customers that turned out to be another one: what they had is the other's, also what never changes otherwise.
CREATE TABLE merged_customers (
  id INTEGER PRIMARY KEY,
  into_id INTEGER NOT NULL REFERENCES customers(id) ON DELETE CASCADE CHECK (into_id <> id)
) STRICT;
CREATE INDEX merged_customers_into ON merged_customers (into_id);
-- The id of the newest customer is given again once it has gone.
-- +goose StatementBegin
CREATE TRIGGER customers_anew AFTER INSERT ON customers BEGIN
  DELETE FROM merged_customers WHERE id = NEW.id;
END;
-- +goose StatementEnd

DROP TRIGGER invoices_fixed;
-- +goose StatementBegin
CREATE TRIGGER invoices_fixed BEFORE UPDATE OF id, status, number, prefix, date, due, grouping, title, subtotal, tax, total, retainage,
  due_now, currency, company_name, company_address, company_email, customer_name, customer_address, issued_at, version,
  company_tax_number, company_logo, tax_notes, order_number, opening, closing, credit_of, prepaid, show_rates, company_phone,
  company_country, licence, payee, bank, account, bank_code, pay_note, paper_size, accent, reference ON invoices WHEN
  OLD.status = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoices_customer_fixed BEFORE UPDATE OF customer_id, seal ON invoices WHEN OLD.status = 'issued'
  AND NOT EXISTS (SELECT 1 FROM merged_customers WHERE id = OLD.customer_id AND into_id = NEW.customer_id) BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd

DROP TRIGGER payments_fixed;
-- +goose StatementBegin
CREATE TRIGGER payments_fixed BEFORE UPDATE OF id, ref, date, amount, kind, method, reference, note, taken_back, taken_back_on ON payments
  WHEN (OLD.id, OLD.ref, OLD.date, OLD.amount, OLD.kind, OLD.method, OLD.reference, OLD.note)
    IS NOT (NEW.id, NEW.ref, NEW.date, NEW.amount, NEW.kind, NEW.method, NEW.reference, NEW.note)
  OR OLD.taken_back IS NOT NULL OR (NEW.taken_back IS NULL) <> (NEW.taken_back_on IS NULL) BEGIN
  SELECT RAISE(ABORT, 'a payment never changes; it is taken back');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER payments_customer_fixed BEFORE UPDATE OF customer_id ON payments WHEN OLD.customer_id <> NEW.customer_id
  AND NOT EXISTS (SELECT 1 FROM merged_customers WHERE id = OLD.customer_id AND into_id = NEW.customer_id) BEGIN
  SELECT RAISE(ABORT, 'a payment never changes; it is taken back');
END;
-- +goose StatementEnd

DROP TRIGGER messages_fixed;
-- +goose StatementBegin
CREATE TRIGGER messages_fixed BEFORE UPDATE OF id, ref, kind, stage, sender, recipients, subject, body, status, tries, next_try, tried_at,
  problem, made_at, made_by, version ON messages WHEN OLD.status IN ('sent', 'cancelled')
  OR (OLD.id, OLD.ref, OLD.kind, OLD.stage, OLD.sender, OLD.subject, OLD.body, OLD.made_at, OLD.made_by)
    IS NOT (NEW.id, NEW.ref, NEW.kind, NEW.stage, NEW.sender, NEW.subject, NEW.body, NEW.made_at, NEW.made_by) BEGIN
  SELECT RAISE(ABORT, 'a message stays as it was written');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER messages_customer_fixed BEFORE UPDATE OF customer_id ON messages WHEN OLD.customer_id <> NEW.customer_id
  AND NOT EXISTS (SELECT 1 FROM merged_customers WHERE id = OLD.customer_id AND into_id = NEW.customer_id) BEGIN
  SELECT RAISE(ABORT, 'a message stays as it was written');
END;
-- +goose StatementEnd
