-- +goose Up
-- The guards look at where a row goes as well as at where it was, and new rows can't pose as billed. With recursive_triggers on, as every
-- connection has it, REPLACE is no way round them either.
DROP TRIGGER IF EXISTS invoice_lines_fixed;
-- +goose StatementBegin
CREATE TRIGGER invoice_lines_fixed BEFORE UPDATE ON invoice_lines WHEN
  EXISTS (SELECT 1 FROM invoices WHERE id IN (OLD.invoice_id, NEW.invoice_id) AND status = 'issued') BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
DROP TRIGGER IF EXISTS invoice_sources_fixed;
-- +goose StatementBegin
CREATE TRIGGER invoice_sources_fixed BEFORE UPDATE ON invoice_sources WHEN
  EXISTS (SELECT 1 FROM invoices WHERE id IN (OLD.invoice_id, NEW.invoice_id) AND status = 'issued') BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
DROP TRIGGER IF EXISTS invoice_taxes_fixed;
-- +goose StatementBegin
CREATE TRIGGER invoice_taxes_fixed BEFORE UPDATE ON invoice_taxes WHEN
  EXISTS (SELECT 1 FROM invoices WHERE id IN (OLD.invoice_id, NEW.invoice_id) AND status = 'issued') BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
DROP TRIGGER IF EXISTS invoice_jobs_fixed;
-- +goose StatementBegin
CREATE TRIGGER invoice_jobs_fixed BEFORE UPDATE ON invoice_jobs WHEN
  EXISTS (SELECT 1 FROM invoices WHERE id IN (OLD.invoice_id, NEW.invoice_id) AND status = 'issued') BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
DROP TRIGGER IF EXISTS invoice_phases_fixed;
-- +goose StatementBegin
CREATE TRIGGER invoice_phases_fixed BEFORE UPDATE ON invoice_phases WHEN
  EXISTS (SELECT 1 FROM invoices WHERE id IN (OLD.invoice_id, NEW.invoice_id) AND status = 'issued') BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
DROP TRIGGER IF EXISTS labour_segments_fixed;
-- +goose StatementBegin
CREATE TRIGGER labour_segments_fixed BEFORE UPDATE ON labour_segments WHEN
  EXISTS (SELECT 1 FROM time_entries WHERE id IN (OLD.entry_id, NEW.entry_id) AND billed = 1) BEGIN
  SELECT RAISE(ABORT, 'billed work never changes');
END;
-- +goose StatementEnd
DROP TRIGGER IF EXISTS time_entries_begin_unbilled;
-- +goose StatementBegin
CREATE TRIGGER time_entries_begin_unbilled BEFORE INSERT ON time_entries WHEN
  NEW.billed = 1 OR NEW.invoice_id IS NOT NULL BEGIN
  SELECT RAISE(ABORT, 'work begins unbilled');
END;
-- +goose StatementEnd
DROP TRIGGER IF EXISTS time_entries_taken_by_source;
-- +goose StatementBegin
CREATE TRIGGER time_entries_taken_by_source BEFORE UPDATE OF invoice_id ON time_entries WHEN
  NEW.invoice_id IS NOT NULL AND NEW.invoice_id IS NOT OLD.invoice_id
  AND NOT EXISTS (SELECT 1 FROM invoice_sources WHERE entry_id = NEW.id AND invoice_id = NEW.invoice_id AND released = 0) BEGIN
  SELECT RAISE(ABORT, 'work is on an invoice only as one of its sources');
END;
-- +goose StatementEnd
DROP TRIGGER IF EXISTS cost_lines_begin_unbilled;
-- +goose StatementBegin
CREATE TRIGGER cost_lines_begin_unbilled BEFORE INSERT ON cost_lines WHEN
  NEW.billed = 1 OR NEW.invoice_id IS NOT NULL BEGIN
  SELECT RAISE(ABORT, 'work begins unbilled');
END;
-- +goose StatementEnd
DROP TRIGGER IF EXISTS cost_lines_taken_by_source;
-- +goose StatementBegin
CREATE TRIGGER cost_lines_taken_by_source BEFORE UPDATE OF invoice_id ON cost_lines WHEN
  NEW.invoice_id IS NOT NULL AND NEW.invoice_id IS NOT OLD.invoice_id
  AND NOT EXISTS (SELECT 1 FROM invoice_sources WHERE cost_line_id = NEW.id AND invoice_id = NEW.invoice_id AND released = 0) BEGIN
  SELECT RAISE(ABORT, 'work is on an invoice only as one of its sources');
END;
-- +goose StatementEnd
DROP TRIGGER IF EXISTS cost_lines_document_fixed;
-- +goose StatementBegin
CREATE TRIGGER cost_lines_document_fixed BEFORE UPDATE OF document_id ON cost_lines WHEN
  NEW.document_id <> OLD.document_id BEGIN
  SELECT RAISE(ABORT, 'a cost line stays on its paper');
END;
-- +goose StatementEnd
DROP TRIGGER IF EXISTS reimbursed_documents_lines_fixed;
-- +goose StatementBegin
CREATE TRIGGER reimbursed_documents_lines_fixed BEFORE UPDATE OF quantity, unit_cost, base ON cost_lines WHEN
  (NEW.quantity <> OLD.quantity OR NEW.unit_cost <> OLD.unit_cost OR NEW.base <> OLD.base)
  AND EXISTS (SELECT 1 FROM reimbursed_documents r WHERE r.document_id = OLD.document_id) BEGIN
  SELECT RAISE(ABORT, 'this paper has been paid back; take the payment away first');
END;
-- +goose StatementEnd
