-- +goose Up
-- Triggers that keep billed work and issued invoices as they are, whatever the program does.

-- What an invoice bills is marked on the work itself, so that lists and sums need no join.
-- +goose StatementBegin
CREATE TRIGGER invoice_sources_taken AFTER INSERT ON invoice_sources BEGIN
  UPDATE time_entries SET invoice_id = NEW.invoice_id WHERE id = NEW.entry_id;
  UPDATE cost_lines SET invoice_id = NEW.invoice_id WHERE id = NEW.cost_line_id;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_sources_dropped AFTER DELETE ON invoice_sources BEGIN
  UPDATE time_entries SET invoice_id = NULL WHERE id = OLD.entry_id AND invoice_id = OLD.invoice_id;
  UPDATE cost_lines SET invoice_id = NULL WHERE id = OLD.cost_line_id AND invoice_id = OLD.invoice_id;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoices_issued AFTER UPDATE OF status ON invoices WHEN NEW.status = 'issued' BEGIN
  UPDATE time_entries SET billed = 1 WHERE invoice_id = NEW.id;
  UPDATE cost_lines SET billed = 1 WHERE invoice_id = NEW.id;
END;
-- +goose StatementEnd

-- An issued invoice and everything under it.
-- +goose StatementBegin
CREATE TRIGGER invoices_fixed BEFORE UPDATE ON invoices WHEN
  OLD.status = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoices_kept BEFORE DELETE ON invoices WHEN
  OLD.status = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoices_begin_as_drafts BEFORE INSERT ON invoices WHEN
  NEW.status = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an invoice begins as a draft');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoices_numbered BEFORE UPDATE OF status ON invoices WHEN
  NEW.status = 'issued' AND EXISTS (SELECT 1 FROM invoices WHERE number >= NEW.number) BEGIN
  SELECT RAISE(ABORT, 'an invoice number is taken in order');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_lines_no_insert BEFORE INSERT ON invoice_lines WHEN
  (SELECT status FROM invoices WHERE id = NEW.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_lines_fixed BEFORE UPDATE ON invoice_lines WHEN
  (SELECT status FROM invoices WHERE id = OLD.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_lines_kept BEFORE DELETE ON invoice_lines WHEN
  (SELECT status FROM invoices WHERE id = OLD.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_sources_no_insert BEFORE INSERT ON invoice_sources WHEN
  (SELECT status FROM invoices WHERE id = NEW.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_sources_fixed BEFORE UPDATE ON invoice_sources WHEN
  (SELECT status FROM invoices WHERE id = OLD.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_sources_kept BEFORE DELETE ON invoice_sources WHEN
  (SELECT status FROM invoices WHERE id = OLD.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_taxes_no_insert BEFORE INSERT ON invoice_taxes WHEN
  (SELECT status FROM invoices WHERE id = NEW.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_taxes_fixed BEFORE UPDATE ON invoice_taxes WHEN
  (SELECT status FROM invoices WHERE id = OLD.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_taxes_kept BEFORE DELETE ON invoice_taxes WHEN
  (SELECT status FROM invoices WHERE id = OLD.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_jobs_no_insert BEFORE INSERT ON invoice_jobs WHEN
  (SELECT status FROM invoices WHERE id = NEW.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_jobs_fixed BEFORE UPDATE ON invoice_jobs WHEN
  (SELECT status FROM invoices WHERE id = OLD.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_jobs_kept BEFORE DELETE ON invoice_jobs WHEN
  (SELECT status FROM invoices WHERE id = OLD.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_phases_no_insert BEFORE INSERT ON invoice_phases WHEN
  (SELECT status FROM invoices WHERE id = NEW.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_phases_fixed BEFORE UPDATE ON invoice_phases WHEN
  (SELECT status FROM invoices WHERE id = OLD.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_phases_kept BEFORE DELETE ON invoice_phases WHEN
  (SELECT status FROM invoices WHERE id = OLD.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd

-- Work on an invoice, and what it was costed at.
-- +goose StatementBegin
CREATE TRIGGER time_entries_fixed BEFORE UPDATE ON time_entries WHEN
  OLD.billed = 1 AND (NEW.billed = 1 OR EXISTS (SELECT 1 FROM invoice_sources WHERE entry_id = OLD.id AND released = 0)) BEGIN
  SELECT RAISE(ABORT, 'billed work never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_kept BEFORE DELETE ON time_entries WHEN
  OLD.invoice_id IS NOT NULL BEGIN
  SELECT RAISE(ABORT, 'billed work never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_back BEFORE UPDATE OF status ON time_entries WHEN
  OLD.invoice_id IS NOT NULL AND NEW.status <> 'approved' BEGIN
  SELECT RAISE(ABORT, 'work on an invoice stays approved');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_not_billed_alone BEFORE UPDATE OF billed ON time_entries WHEN
  NEW.billed = 1 AND OLD.billed = 0 AND ifnull((SELECT status FROM invoices WHERE id = NEW.invoice_id), '') <> 'issued' BEGIN
  SELECT RAISE(ABORT, 'only an issued invoice bills work');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_fixed BEFORE UPDATE ON cost_lines WHEN
  OLD.billed = 1 AND (NEW.billed = 1 OR EXISTS (SELECT 1 FROM invoice_sources WHERE cost_line_id = OLD.id AND released = 0)) BEGIN
  SELECT RAISE(ABORT, 'billed work never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_kept BEFORE DELETE ON cost_lines WHEN
  OLD.invoice_id IS NOT NULL BEGIN
  SELECT RAISE(ABORT, 'billed work never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_back BEFORE UPDATE OF status ON cost_lines WHEN
  OLD.invoice_id IS NOT NULL AND NEW.status <> 'approved' BEGIN
  SELECT RAISE(ABORT, 'work on an invoice stays approved');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_not_billed_alone BEFORE UPDATE OF billed ON cost_lines WHEN
  NEW.billed = 1 AND OLD.billed = 0 AND ifnull((SELECT status FROM invoices WHERE id = NEW.invoice_id), '') <> 'issued' BEGIN
  SELECT RAISE(ABORT, 'only an issued invoice bills work');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER labour_segments_no_insert BEFORE INSERT ON labour_segments WHEN
  (SELECT billed FROM time_entries WHERE id = NEW.entry_id) = 1 BEGIN
  SELECT RAISE(ABORT, 'billed work never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER labour_segments_fixed BEFORE UPDATE ON labour_segments WHEN
  (SELECT billed FROM time_entries WHERE id = OLD.entry_id) = 1 BEGIN
  SELECT RAISE(ABORT, 'billed work never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER labour_segments_kept BEFORE DELETE ON labour_segments WHEN
  (SELECT billed FROM time_entries WHERE id = OLD.entry_id) = 1 BEGIN
  SELECT RAISE(ABORT, 'billed work never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_documents_fixed BEFORE UPDATE OF date, freight, tax, status, kind ON cost_documents WHEN
  (NEW.date <> OLD.date OR NEW.freight <> OLD.freight OR NEW.tax <> OLD.tax OR NEW.status <> OLD.status OR NEW.kind <> OLD.kind)
  AND EXISTS (SELECT 1 FROM cost_lines WHERE document_id = OLD.id AND invoice_id IS NOT NULL) BEGIN
  SELECT RAISE(ABORT, 'billed work never changes');
END;
-- +goose StatementEnd

-- The history.
-- +goose StatementBegin
CREATE TRIGGER history_fixed BEFORE UPDATE ON history BEGIN
  SELECT RAISE(ABORT, 'the history only grows');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER history_kept BEFORE DELETE ON history BEGIN
  SELECT RAISE(ABORT, 'the history only grows');
END;
-- +goose StatementEnd
