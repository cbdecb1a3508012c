-- +goose Up
-- What people laid out and was paid back to them. A paper is paid back once, as a whole.
CREATE TABLE reimbursements (
  id INTEGER PRIMARY KEY,
  ref TEXT NOT NULL UNIQUE CHECK (ref <> ''),
  worker_id INTEGER NOT NULL REFERENCES workers(id),
  date INTEGER NOT NULL,
  amount INTEGER NOT NULL CHECK (amount > 0),
  note TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX reimbursements_worker ON reimbursements (worker_id, date);
CREATE TABLE reimbursed_documents (
  document_id INTEGER PRIMARY KEY REFERENCES cost_documents(id),
  reimbursement_id INTEGER NOT NULL REFERENCES reimbursements(id) ON DELETE CASCADE
) STRICT;
CREATE INDEX reimbursed_documents_of ON reimbursed_documents (reimbursement_id);
CREATE INDEX cost_documents_worker ON cost_documents (worker_id, date) WHERE worker_id IS NOT NULL;

-- A paper that has been paid back stays as it is.
-- +goose StatementBegin
CREATE TRIGGER reimbursed_documents_fixed BEFORE UPDATE OF worker_id, freight, tax, status ON cost_documents WHEN
  EXISTS (SELECT 1 FROM reimbursed_documents r WHERE r.document_id = OLD.id)
  AND (NEW.worker_id IS NOT OLD.worker_id OR NEW.freight <> OLD.freight OR NEW.tax <> OLD.tax OR NEW.status <> OLD.status) BEGIN
  SELECT RAISE(ABORT, 'this paper has been paid back; take the payment away first');
END;
-- +goose StatementEnd
