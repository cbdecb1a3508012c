-- +goose Up
-- A credit note is a row of the invoices, in their series of numbers, with all amounts below 0, so that what is billed, taxed and retained is
-- net of it wherever that is added up.
ALTER TABLE invoices ADD COLUMN credit_of INTEGER REFERENCES invoices(id);
ALTER TABLE invoices ADD COLUMN prepaid INTEGER NOT NULL DEFAULT 0; -- deposits applied
CREATE INDEX invoices_credit_of ON invoices (credit_of) WHERE credit_of IS NOT NULL;
PRAGMA writable_schema = ON;
UPDATE sqlite_schema SET sql = replace(replace(sql, 'due_now = total - retainage)', 'due_now = total - retainage - prepaid)'),
  'CHECK (subtotal >= 0 AND total >= 0 AND due_now >= 0)',
  'CHECK (CASE WHEN credit_of IS NULL THEN subtotal >= 0 AND due_now >= 0 AND prepaid >= 0 ELSE subtotal < 0 AND due_now <= 0 AND prepaid = 0 END)')
  WHERE type = 'table' AND name = 'invoices';
PRAGMA writable_schema = RESET;

-- How the tax of an issued invoice came about, so that a note gives back what was charged: the code of each job, and what each tax is on.
DROP TRIGGER invoice_jobs_fixed;
DROP TRIGGER invoice_taxes_fixed;
ALTER TABLE invoice_jobs ADD COLUMN tax_code TEXT NOT NULL DEFAULT '';
ALTER TABLE invoice_taxes ADD COLUMN applies_to TEXT NOT NULL DEFAULT '';
ALTER TABLE invoice_taxes ADD COLUMN on_release INTEGER NOT NULL DEFAULT 0 CHECK (on_release IN (0, 1));
-- Invoices of before, and those of a bundle that does not say, have what holds now.
CREATE VIEW taxes_of_jobs AS
  SELECT b.invoice_id, b.job_id, t.code FROM invoice_jobs b JOIN jobs j ON j.id = b.job_id JOIN customers c ON c.id = j.customer_id
    JOIN company m JOIN tax_codes t ON t.id = coalesce(j.tax_code_id, c.tax_code_id, m.tax_code_id)
    WHERE c.tax_exempt = 0;
CREATE VIEW taxes_of_invoices AS
  SELECT x.id, ifnull((SELECT p.applies_to FROM tax_components p WHERE p.tax_code_id = t.id AND p.component = x.component
      AND ifnull(p.effective_from, i.date) <= i.date ORDER BY p.effective_from DESC LIMIT 1), '') AS applies_to,
    t.retainage_tax = 'on_release' AS on_release
    FROM invoice_taxes x JOIN invoices i ON i.id = x.invoice_id JOIN tax_codes t ON t.code = x.tax_code;
UPDATE invoice_jobs SET tax_code = t.code FROM taxes_of_jobs t WHERE t.invoice_id = invoice_jobs.invoice_id AND t.job_id = invoice_jobs.job_id;
UPDATE invoice_taxes SET applies_to = t.applies_to, on_release = t.on_release FROM taxes_of_invoices t WHERE t.id = invoice_taxes.id;
-- +goose StatementBegin
CREATE TRIGGER invoice_taxes_fixed BEFORE UPDATE ON invoice_taxes WHEN
  EXISTS (SELECT 1 FROM invoices WHERE id IN (OLD.invoice_id, NEW.invoice_id) AND status = 'issued') BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_jobs_fixed BEFORE UPDATE ON invoice_jobs WHEN
  EXISTS (SELECT 1 FROM invoices WHERE id IN (OLD.invoice_id, NEW.invoice_id) AND status = 'issued') BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd

-- What a note credits: an amount of a part that the invoice billed, or of a line of it that was typed, and what becomes of that.
CREATE TABLE credits (
  id INTEGER PRIMARY KEY,
  invoice_id INTEGER NOT NULL REFERENCES invoices(id) ON DELETE CASCADE, -- the note
  position INTEGER NOT NULL, -- of the line on the note
  source_id INTEGER REFERENCES invoice_sources(id),
  line_id INTEGER REFERENCES invoice_lines(id),
  amount INTEGER NOT NULL CHECK (amount <> 0), -- with the sign of what was billed
  up INTEGER NOT NULL DEFAULT 0, -- of it: what had been written up
  again INTEGER NOT NULL CHECK (again IN (0, 1)), -- to bill again; else it is allowed, and written down
  reason TEXT NOT NULL DEFAULT '',
  CHECK ((source_id IS NULL) <> (line_id IS NULL))
) STRICT;
CREATE UNIQUE INDEX credits_once ON credits (invoice_id, ifnull(source_id, 0), ifnull(line_id, 0));
CREATE INDEX credits_source ON credits (source_id) WHERE source_id IS NOT NULL;
CREATE INDEX credits_line ON credits (line_id) WHERE line_id IS NOT NULL;

-- What is left to credit of what an invoice billed.
CREATE VIEW credit_left AS
  SELECT s.id AS source_id, NULL AS line_id, s.invoice_id,
    s.amount - (SELECT ifnull(sum(c.amount), 0) FROM credits c WHERE c.source_id = s.id) AS "left",
    s.up - (SELECT ifnull(sum(c.up), 0) FROM credits c WHERE c.source_id = s.id) AS up FROM invoice_sources s
  UNION ALL SELECT NULL, l.id, l.invoice_id,
    l.amount - (SELECT ifnull(sum(c.amount), 0) FROM credits c WHERE c.line_id = l.id), 0
    FROM invoice_lines l WHERE l.typed_line_id IS NOT NULL;
-- +goose StatementBegin
CREATE TRIGGER credits_no_insert BEFORE INSERT ON credits WHEN
  (SELECT status FROM invoices WHERE id = NEW.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER credits_fixed BEFORE UPDATE ON credits BEGIN
  SELECT RAISE(ABORT, 'a credit note never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER credits_kept BEFORE DELETE ON credits BEGIN
  SELECT RAISE(ABORT, 'a credit note never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER credits_taken AFTER INSERT ON credits BEGIN
  SELECT RAISE(ABORT, 'more would be credited than was billed') WHERE NOT EXISTS (SELECT 1 FROM credit_left l
    JOIN invoices n ON n.id = NEW.invoice_id AND n.credit_of = l.invoice_id
    JOIN invoices i ON i.id = l.invoice_id AND i.status = 'issued' AND i.credit_of IS NULL
    WHERE l.source_id IS NEW.source_id AND l.line_id IS NEW.line_id AND l."left" * NEW.amount >= 0);
  UPDATE time_entries SET invoiced = invoiced - NEW.amount, written = written + iif(NEW.again, NEW.up, NEW.amount)
    WHERE id = (SELECT entry_id FROM invoice_sources WHERE id = NEW.source_id AND released = 0);
  UPDATE cost_lines SET invoiced = invoiced - NEW.amount, written = written + iif(NEW.again, NEW.up, NEW.amount)
    WHERE id = (SELECT cost_line_id FROM invoice_sources WHERE id = NEW.source_id AND released = 0);
END;
-- +goose StatementEnd

-- A part that was credited wholly, to bill again, is released: it holds its minutes and its quantity no more. Nothing else of it changes.
DROP TRIGGER invoice_sources_fixed;
-- +goose StatementBegin
CREATE TRIGGER invoice_sources_fixed BEFORE UPDATE OF id, invoice_id, invoice_line_id, entry_id, cost_line_id, part, charge, amount, way,
    typed, runs, up, down, all_down, reason ON invoice_sources WHEN
  EXISTS (SELECT 1 FROM invoices WHERE id IN (OLD.invoice_id, NEW.invoice_id) AND status = 'issued') BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_sources_released BEFORE UPDATE OF released ON invoice_sources WHEN
  NEW.released <> OLD.released BEGIN
  SELECT RAISE(ABORT, 'only what was credited wholly is released') WHERE NEW.released = 0
    OR (SELECT ifnull(sum(amount), 0) FROM credits WHERE source_id = OLD.id) <> OLD.amount;
  UPDATE time_entries SET invoice_id = (SELECT s.invoice_id FROM invoice_sources s WHERE s.entry_id = OLD.entry_id AND s.released = 0
    AND s.id <> OLD.id ORDER BY s.part DESC LIMIT 1) WHERE id = OLD.entry_id;
  UPDATE cost_lines SET invoice_id = (SELECT s.invoice_id FROM invoice_sources s WHERE s.cost_line_id = OLD.cost_line_id AND s.released = 0
    AND s.id <> OLD.id ORDER BY s.part DESC LIMIT 1) WHERE id = OLD.cost_line_id;
END;
-- +goose StatementEnd
-- What is brought in released was credited, and nothing of it is billed or written down any more: it counts for nothing.
DROP TRIGGER invoice_sources_taken;
-- +goose StatementBegin
CREATE TRIGGER invoice_sources_taken AFTER INSERT ON invoice_sources WHEN NEW.released = 0 BEGIN
  UPDATE time_entries SET invoice_id = NEW.invoice_id, drafted = drafted + NEW.amount, written = written + NEW.down - NEW.up
    WHERE id = NEW.entry_id;
  UPDATE cost_lines SET invoice_id = NEW.invoice_id, drafted = drafted + NEW.amount, written = written + NEW.down - NEW.up
    WHERE id = NEW.cost_line_id;
  DELETE FROM holds WHERE entry_id = NEW.entry_id OR cost_line_id = NEW.cost_line_id;
  SELECT RAISE(ABORT, 'this work is billed already') WHERE NEW.part > 1 AND (EXISTS (SELECT 1 FROM overbilled WHERE entry_id = NEW.entry_id)
    OR EXISTS (SELECT 1 FROM overbilled WHERE cost_line_id = NEW.cost_line_id));
END;
-- +goose StatementEnd
DROP TRIGGER invoices_issued;
-- +goose StatementBegin
CREATE TRIGGER invoices_issued AFTER UPDATE OF status ON invoices WHEN
  NEW.status = 'issued' AND OLD.status <> 'issued' BEGIN
  UPDATE time_entries SET billed = 1, drafted = drafted - s.amount, invoiced = invoiced + s.amount
    FROM (SELECT entry_id, sum(amount) AS amount FROM invoice_sources WHERE invoice_id = NEW.id
    AND entry_id IS NOT NULL AND released = 0 GROUP BY entry_id) s
    WHERE s.entry_id = time_entries.id;
  UPDATE cost_lines SET billed = 1, drafted = drafted - s.amount, invoiced = invoiced + s.amount
    FROM (SELECT cost_line_id, sum(amount) AS amount FROM invoice_sources WHERE invoice_id = NEW.id
    AND cost_line_id IS NOT NULL AND released = 0 GROUP BY cost_line_id) s
    WHERE s.cost_line_id = cost_lines.id;
END;
-- +goose StatementEnd

-- Work stays locked as long as any of it is billed, or was written down on an issued paper.
CREATE VIEW locked_work AS
  SELECT s.entry_id, s.cost_line_id FROM invoice_sources s JOIN invoices i ON i.id = s.invoice_id
    WHERE i.status = 'issued' AND (s.released = 0 OR s.down <> 0
    OR EXISTS (SELECT 1 FROM credits c WHERE c.source_id = s.id AND c.again = 0));
DROP TRIGGER time_entries_stays_billed;
DROP TRIGGER cost_lines_stays_billed;
-- +goose StatementBegin
CREATE TRIGGER time_entries_stays_billed BEFORE UPDATE OF billed ON time_entries WHEN
  OLD.billed = 1 AND NEW.billed = 0 AND EXISTS (SELECT 1 FROM locked_work WHERE entry_id = OLD.id) BEGIN
  SELECT RAISE(ABORT, 'billed work never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_stays_billed BEFORE UPDATE OF billed ON cost_lines WHEN
  OLD.billed = 1 AND NEW.billed = 0 AND EXISTS (SELECT 1 FROM locked_work WHERE cost_line_id = OLD.id) BEGIN
  SELECT RAISE(ABORT, 'billed work never changes');
END;
-- +goose StatementEnd

-- What is typed on a job or credited of that counts toward its limit.
DROP TRIGGER invoice_phases_limit_begins;
-- +goose StatementBegin
CREATE TRIGGER invoice_phases_limit_begins AFTER INSERT ON invoice_phases BEGIN
  INSERT OR IGNORE INTO limits_stale SELECT job_id FROM limits WHERE job_id = NEW.job_id;
END;
-- +goose StatementEnd

-- The balance of an invoice: what was due, less what was credited and paid. Below 0 it is 0, and what is below is the customer's credit.
DROP VIEW invoice_balance;
CREATE VIEW invoice_balance AS
  SELECT invoice_id, due, credited, paid, max(0, due - credited - paid) AS "left", issued AND paid >= due - credited AS settled FROM (
    SELECT i.id AS invoice_id, i.status = 'issued' AS issued,
      CASE WHEN i.status = 'issued' AND i.credit_of IS NULL THEN i.due_now ELSE 0 END AS due,
      (SELECT -ifnull(sum(n.due_now), 0) FROM invoices n WHERE n.credit_of = i.id AND n.status = 'issued') AS credited,
      (SELECT ifnull(sum(a.amount), 0) FROM settled_parts a WHERE a.invoice_id = i.id) AS paid
    FROM invoices i);

-- A number of a part is never given again, also when the part was released.
DROP INDEX invoice_sources_entry_once;
DROP INDEX invoice_sources_cost_line_once;
CREATE UNIQUE INDEX invoice_sources_entry_once ON invoice_sources (entry_id, part) WHERE entry_id IS NOT NULL;
CREATE UNIQUE INDEX invoice_sources_cost_line_once ON invoice_sources (cost_line_id, part) WHERE cost_line_id IS NOT NULL;

-- Work that was on an invoice stays in the book, also when all of it was credited and it can be changed again.
-- +goose StatementBegin
CREATE TRIGGER time_entries_were_billed BEFORE DELETE ON time_entries WHEN
  EXISTS (SELECT 1 FROM invoice_sources WHERE entry_id = OLD.id AND released = 1) BEGIN
  SELECT RAISE(ABORT, 'these hours were on an invoice that was credited, so they stay; make them not billable instead');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_were_billed BEFORE DELETE ON cost_lines WHEN
  EXISTS (SELECT 1 FROM invoice_sources WHERE cost_line_id = OLD.id AND released = 1) BEGIN
  SELECT RAISE(ABORT, 'a line of this was on an invoice that was credited, so it stays; make it not billable instead');
END;
-- +goose StatementEnd
