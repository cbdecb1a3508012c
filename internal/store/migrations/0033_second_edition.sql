-- +goose Up
-- The rules, second edition: leave and weekly wages, burden by cost code, what a markup is put on, dated taxes, taxable lines, budgets, and
-- limits of time and materials.

ALTER TABLE company ADD COLUMN holiday_class TEXT NOT NULL DEFAULT 'double' CHECK (holiday_class IN ('regular', 'overtime', 'double'));
ALTER TABLE company ADD COLUMN recost INTEGER NOT NULL DEFAULT 0 CHECK (recost IN (0, 1)); -- what is not billed is to be worked out anew
UPDATE company SET recost = 1;

ALTER TABLE wages ADD COLUMN per TEXT NOT NULL DEFAULT 'hour' CHECK (per IN ('hour', 'week'));
ALTER TABLE markups ADD COLUMN put_on TEXT NOT NULL DEFAULT 'landed' CHECK (put_on IN ('landed', 'before_tax', 'goods'));

-- A component may have rows of their own for the work of a cost code.
CREATE TABLE burden_rows (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  burden_class_id INTEGER NOT NULL REFERENCES burden_classes(id),
  component TEXT NOT NULL CHECK (component <> ''),
  cost_code_id INTEGER REFERENCES cost_codes(id),
  effective_from INTEGER NOT NULL,
  basis TEXT NOT NULL CHECK (basis IN ('gross', 'straight', 'hour')),
  value INTEGER NOT NULL CHECK (value >= 0),
  annual_wage_cap INTEGER CHECK (annual_wage_cap >= 0),
  version INTEGER NOT NULL DEFAULT 1,
  CHECK (basis <> 'hour' OR annual_wage_cap IS NULL)
) STRICT;
INSERT INTO burden_rows (id, burden_class_id, component, effective_from, basis, value, annual_wage_cap, version)
  SELECT id, burden_class_id, component, effective_from, basis, value, annual_wage_cap, version FROM burdens;
DELETE FROM sqlite_sequence WHERE name = 'burden_rows';
INSERT INTO sqlite_sequence (name, seq) SELECT 'burden_rows', seq FROM sqlite_sequence WHERE name = 'burdens';
DROP TABLE burdens;
ALTER TABLE burden_rows RENAME TO burdens;
CREATE UNIQUE INDEX burdens_row ON burdens (burden_class_id, component, ifnull(cost_code_id, 0), effective_from);

-- A tax code says what kind of tax it is, and its components have dates.
ALTER TABLE tax_codes ADD COLUMN kind TEXT NOT NULL DEFAULT 'standard' CHECK (kind IN ('standard', 'zero', 'exempt', 'reverse_charge'));
ALTER TABLE tax_codes ADD COLUMN note TEXT NOT NULL DEFAULT ''; -- printed on invoices
ALTER TABLE tax_codes ADD COLUMN retainage_tax TEXT NOT NULL DEFAULT 'with_invoice' CHECK (retainage_tax IN ('with_invoice',
    'on_release'));
CREATE TABLE tax_rows (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  tax_code_id INTEGER NOT NULL REFERENCES tax_codes(id),
  component TEXT NOT NULL CHECK (component <> ''),
  effective_from INTEGER, -- NULL: always
  percent INTEGER NOT NULL CHECK (percent >= 0),
  applies_to TEXT NOT NULL
) STRICT;
INSERT INTO tax_rows (id, tax_code_id, component, percent, applies_to) SELECT id, tax_code_id, component, percent, applies_to
  FROM tax_components;
DELETE FROM sqlite_sequence WHERE name = 'tax_rows';
INSERT INTO sqlite_sequence (name, seq) SELECT 'tax_rows', seq FROM sqlite_sequence WHERE name = 'tax_components';
DROP TABLE tax_components;
ALTER TABLE tax_rows RENAME TO tax_components;
CREATE UNIQUE INDEX tax_components_row ON tax_components (tax_code_id, component, ifnull(effective_from, -1000000));
ALTER TABLE invoices ADD COLUMN tax_notes TEXT NOT NULL DEFAULT ''; -- what the tax codes of its jobs say, a line each

-- The total as it is printed on a paper, and which of its lines are taxed.
ALTER TABLE cost_documents ADD COLUMN total INTEGER;
ALTER TABLE cost_lines ADD COLUMN taxable INTEGER NOT NULL DEFAULT 1 CHECK (taxable IN (0, 1));

-- What is planned of a job, to measure fixed work by.
ALTER TABLE phases ADD COLUMN done INTEGER NOT NULL DEFAULT 0 CHECK (done IN (0, 1));
CREATE TABLE budgets (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  job_id INTEGER NOT NULL REFERENCES jobs(id),
  phase_id INTEGER,
  category TEXT NOT NULL,
  cost_code_id INTEGER REFERENCES cost_codes(id),
  minutes INTEGER CHECK (minutes >= 0),
  cost INTEGER NOT NULL CHECK (cost >= 0),
  forecast INTEGER CHECK (forecast >= 0), -- typed: what it is expected to cost at completion
  version INTEGER NOT NULL DEFAULT 1,
  FOREIGN KEY (phase_id, job_id) REFERENCES phases(id, job_id)
) STRICT;
CREATE UNIQUE INDEX budgets_row ON budgets (job_id, ifnull(phase_id, 0), category, ifnull(cost_code_id, 0));

-- Leave is a pay class. How rows are stored does not alter, so it is written into the schema as it stands.
PRAGMA writable_schema = ON;
UPDATE sqlite_schema SET sql = replace(replace(sql, 'class BETWEEN 0 AND 2', 'class BETWEEN 0 AND 3'),
  '''regular'', ''overtime'', ''double'')', '''regular'', ''overtime'', ''double'', ''leave'')')
  WHERE type = 'table' AND name IN ('time_entries', 'labour_segments');
-- Loose ends of three kinds more can be set aside.
UPDATE sqlite_schema SET sql = replace(sql, '''below'')', '''below'', ''limit'', ''no_budget'', ''short'')')
  WHERE type = 'table' AND name = 'dismissals';
PRAGMA writable_schema = RESET;

-- Work is billed in parts: what is on drafts and on issued invoices of it, and what a limit holds back.
DROP VIEW ready_hours;
DROP VIEW ready_lines;
DROP VIEW over_contract;
DROP INDEX time_entries_ready;
DROP INDEX cost_lines_ready;
DROP TRIGGER time_entries_added;
DROP TRIGGER time_entries_gone;
DROP TRIGGER time_entries_changed;
DROP TRIGGER time_entries_moved;
DROP TRIGGER cost_lines_added;
DROP TRIGGER cost_lines_gone;
DROP TRIGGER cost_lines_changed;
DROP TRIGGER cost_lines_moved;
DROP TRIGGER time_entries_fixed;
DROP TRIGGER cost_lines_fixed;
DROP TRIGGER invoice_sources_taken;
DROP TRIGGER invoice_sources_dropped;
DROP TRIGGER invoices_issued;
ALTER TABLE time_entries DROP COLUMN ready;
ALTER TABLE time_entries ADD COLUMN drafted INTEGER NOT NULL DEFAULT 0;
ALTER TABLE time_entries ADD COLUMN invoiced INTEGER NOT NULL DEFAULT 0;
ALTER TABLE time_entries ADD COLUMN held INTEGER NOT NULL DEFAULT 0;
ALTER TABLE time_entries ADD COLUMN ready INTEGER AS (CASE WHEN status = 'approved' AND charge IS NOT NULL
  AND (charge - drafted - invoiced - held <> 0 OR invoice_id IS NULL AND held = 0) THEN charge - drafted - invoiced - held END) VIRTUAL;
ALTER TABLE cost_lines DROP COLUMN ready;
ALTER TABLE cost_lines ADD COLUMN drafted INTEGER NOT NULL DEFAULT 0;
ALTER TABLE cost_lines ADD COLUMN invoiced INTEGER NOT NULL DEFAULT 0;
ALTER TABLE cost_lines ADD COLUMN held INTEGER NOT NULL DEFAULT 0;
ALTER TABLE cost_lines ADD COLUMN ready INTEGER AS (CASE WHEN status = 'approved' AND charge IS NOT NULL
  AND (charge - drafted - invoiced - held <> 0 OR invoice_id IS NULL AND held = 0) THEN charge - drafted - invoiced - held END) VIRTUAL;
ALTER TABLE invoice_sources ADD COLUMN whole INTEGER NOT NULL DEFAULT 1 CHECK (whole IN (0, 1)); -- takes all that is left
UPDATE time_entries SET (drafted, invoiced) = (SELECT CASE i.status WHEN 'draft' THEN s.amount ELSE 0 END,
  CASE i.status WHEN 'issued' THEN s.amount ELSE 0 END FROM invoice_sources s JOIN invoices i ON i.id = s.invoice_id
  WHERE s.entry_id = time_entries.id AND s.invoice_id = time_entries.invoice_id AND s.released = 0) WHERE invoice_id IS NOT NULL;
UPDATE cost_lines SET (drafted, invoiced) = (SELECT CASE i.status WHEN 'draft' THEN s.amount ELSE 0 END,
  CASE i.status WHEN 'issued' THEN s.amount ELSE 0 END FROM invoice_sources s JOIN invoices i ON i.id = s.invoice_id
  WHERE s.cost_line_id = cost_lines.id AND s.invoice_id = cost_lines.invoice_id AND s.released = 0) WHERE invoice_id IS NOT NULL;
CREATE INDEX time_entries_ready ON time_entries (job_id, date, ready, cost) WHERE ready IS NOT NULL;
CREATE INDEX cost_lines_ready ON cost_lines (job_id, category, date, ready, landed) WHERE ready IS NOT NULL;
CREATE INDEX time_entries_held ON time_entries (job_id, date, held) WHERE held <> 0;
CREATE INDEX cost_lines_held ON cost_lines (job_id, category, date, held) WHERE held <> 0;
CREATE INDEX time_entries_uncharged ON time_entries (date, job_id, phase_id, billable, cost, worker_id) WHERE charge IS NULL;
CREATE INDEX cost_lines_uncharged ON cost_lines (date, job_id, phase_id, billable, landed) WHERE charge IS NULL;
DROP INDEX time_entries_worker;
CREATE INDEX time_entries_worker ON time_entries (worker_id, date, minutes, straight, gross, class);
CREATE VIEW ready_hours AS
  SELECT id AS entry_id, job_id, date, ready, cost FROM time_entries INDEXED BY time_entries_ready WHERE ready IS NOT NULL;
CREATE VIEW ready_lines AS
  SELECT id AS cost_line_id, job_id, category, date, ready, landed AS cost
    FROM cost_lines INDEXED BY cost_lines_ready WHERE ready IS NOT NULL;

-- +goose StatementBegin
CREATE TRIGGER time_entries_fixed BEFORE UPDATE OF ref, worker_id, date, job_id, phase_id, cost_code_id, minutes, start, finish,
    break_minutes, billable,
  pay_class, rate, status, note, version, overtime_minutes, cost, charge, unpriced, straight, gross, class ON time_entries WHEN
  OLD.billed = 1 BEGIN
  SELECT RAISE(ABORT, 'billed work never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_stays_billed BEFORE UPDATE OF billed ON time_entries WHEN
  OLD.billed = 1 AND NEW.billed = 0 AND EXISTS (SELECT 1 FROM invoice_sources s JOIN invoices i ON i.id = s.invoice_id
  WHERE s.entry_id = OLD.id AND s.released = 0 AND i.status = 'issued') BEGIN
  SELECT RAISE(ABORT, 'billed work never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_fixed BEFORE UPDATE OF document_id, line, line_order, category, description, quantity, unit, unit_cost,
    job_id, phase_id,
  cost_code_id, billable, markup, sell_price, item_id, taxable, status, date, base, freight, tax, landed, charge, unmarked
    ON cost_lines WHEN
  OLD.billed = 1 BEGIN
  SELECT RAISE(ABORT, 'billed work never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_stays_billed BEFORE UPDATE OF billed ON cost_lines WHEN
  OLD.billed = 1 AND NEW.billed = 0 AND EXISTS (SELECT 1 FROM invoice_sources s JOIN invoices i ON i.id = s.invoice_id
  WHERE s.cost_line_id = OLD.id AND s.released = 0 AND i.status = 'issued') BEGIN
  SELECT RAISE(ABORT, 'billed work never changes');
END;
-- +goose StatementEnd

-- What an invoice bills is marked on the work itself, so that lists and sums need no join.
-- +goose StatementBegin
CREATE TRIGGER invoice_sources_taken AFTER INSERT ON invoice_sources BEGIN
  UPDATE time_entries SET invoice_id = NEW.invoice_id, drafted = drafted + NEW.amount WHERE id = NEW.entry_id;
  UPDATE cost_lines SET invoice_id = NEW.invoice_id, drafted = drafted + NEW.amount WHERE id = NEW.cost_line_id;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_sources_altered AFTER UPDATE OF amount ON invoice_sources WHEN
  NEW.amount <> OLD.amount BEGIN
  UPDATE time_entries SET drafted = drafted + NEW.amount - OLD.amount WHERE id = NEW.entry_id;
  UPDATE cost_lines SET drafted = drafted + NEW.amount - OLD.amount WHERE id = NEW.cost_line_id;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_sources_dropped AFTER DELETE ON invoice_sources BEGIN
  UPDATE time_entries SET drafted = drafted - OLD.amount,
    invoice_id = (SELECT s.invoice_id FROM invoice_sources s WHERE s.entry_id = OLD.entry_id
    AND s.released = 0 ORDER BY s.part DESC LIMIT 1)
    WHERE id = OLD.entry_id;
  UPDATE cost_lines SET drafted = drafted - OLD.amount,
    invoice_id = (SELECT s.invoice_id FROM invoice_sources s WHERE s.cost_line_id = OLD.cost_line_id
    AND s.released = 0 ORDER BY s.part DESC LIMIT 1)
    WHERE id = OLD.cost_line_id;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoices_issued AFTER UPDATE OF status ON invoices WHEN
  NEW.status = 'issued' AND OLD.status <> 'issued' BEGIN
  UPDATE time_entries SET billed = 1, drafted = drafted - s.amount, invoiced = invoiced + s.amount
    FROM (SELECT entry_id, sum(amount) AS amount FROM invoice_sources WHERE invoice_id = NEW.id
    AND entry_id IS NOT NULL GROUP BY entry_id) s
    WHERE s.entry_id = time_entries.id;
  UPDATE cost_lines SET billed = 1, drafted = drafted - s.amount, invoiced = invoiced + s.amount
    FROM (SELECT cost_line_id, sum(amount) AS amount FROM invoice_sources WHERE invoice_id = NEW.id
    AND cost_line_id IS NOT NULL GROUP BY cost_line_id) s
    WHERE s.cost_line_id = cost_lines.id;
END;
-- +goose StatementEnd
-- A further part of work is of what is left of it.
-- +goose StatementBegin
CREATE TRIGGER invoice_sources_left BEFORE INSERT ON invoice_sources WHEN
  NEW.part > 1 BEGIN
  SELECT RAISE(ABORT, 'this work is billed already') WHERE
    (SELECT abs(charge - drafted - invoiced) FROM time_entries WHERE id = NEW.entry_id) < abs(NEW.amount)
    OR (SELECT abs(charge - drafted - invoiced) FROM cost_lines WHERE id = NEW.cost_line_id) < abs(NEW.amount);
END;
-- +goose StatementEnd

-- The limits that are agreed of time and materials: of a job, and of a phase that has one of its own and is apart from its job (0: of the
-- job). What they hold back is worked out at the end of each transaction, of the jobs that are named here.
CREATE VIEW limits AS
  SELECT id AS job_id, 0 AS phase_id, contract AS agreed FROM jobs WHERE basis = 'tm' AND contract IS NOT NULL
  UNION ALL SELECT p.job_id, p.id, p.contract FROM phases p JOIN jobs j ON j.id = p.job_id
  WHERE ifnull(p.basis, j.basis) = 'tm' AND p.contract IS NOT NULL;
-- The phases that each limit is of (0: what is booked to none).
CREATE VIEW limited_phases AS
  SELECT l.job_id, l.phase_id AS limit_phase, l.phase_id, l.agreed FROM limits l
  UNION ALL SELECT l.job_id, 0, p.id, l.agreed FROM limits l JOIN phases p ON p.job_id = l.job_id
  WHERE l.phase_id = 0 AND p.contract IS NULL AND ifnull(p.basis, 'tm') = 'tm';
-- What is used of each limit, billed and on drafts, what is ready to bill within it, what it holds back, and what waits for approval.
CREATE VIEW limit_use AS
  SELECT l.job_id, l.limit_phase AS phase_id, l.agreed, sum((SELECT ifnull(sum(p.amount), 0) FROM invoice_phases p
    WHERE p.job_id = l.job_id AND p.phase_id IS nullif(l.phase_id, 0))) AS used,
    sum((SELECT ifnull(sum(b.ready), 0) FROM job_sums b WHERE b.job_id = l.job_id AND b.phase_id = l.phase_id)) AS ready,
    sum((SELECT ifnull(sum(b.held), 0) FROM job_sums b WHERE b.job_id = l.job_id AND b.phase_id = l.phase_id)) AS held,
    sum((SELECT ifnull(sum(b.charge), 0) FROM job_sums b WHERE b.job_id = l.job_id AND b.phase_id = l.phase_id
    AND b.pending = 1)) AS waiting
  FROM limited_phases l GROUP BY 1, 2, 3;
CREATE TABLE limits_stale (job_id INTEGER PRIMARY KEY) STRICT;
INSERT INTO limits_stale SELECT DISTINCT job_id FROM limits;
-- +goose StatementBegin
CREATE TRIGGER time_entries_limit_begins AFTER INSERT ON time_entries WHEN
  NEW.status = 'approved' AND NEW.charge IS NOT NULL AND EXISTS (SELECT 1 FROM limits WHERE job_id = NEW.job_id) BEGIN
  INSERT OR IGNORE INTO limits_stale VALUES (NEW.job_id);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_limit_moves AFTER UPDATE OF job_id, phase_id, charge, status, drafted, invoiced, date, start, worker_id
    ON time_entries WHEN
  (NEW.job_id IS NOT OLD.job_id OR NEW.phase_id IS NOT OLD.phase_id OR NEW.charge IS NOT OLD.charge OR NEW.status IS NOT OLD.status
    OR NEW.drafted IS NOT OLD.drafted OR NEW.invoiced IS NOT OLD.invoiced OR NEW.date IS NOT OLD.date OR NEW.start IS NOT OLD.start
    OR NEW.worker_id IS NOT OLD.worker_id)
  AND EXISTS (SELECT 1 FROM limits WHERE job_id IN (OLD.job_id, NEW.job_id)) BEGIN
  INSERT OR IGNORE INTO limits_stale SELECT DISTINCT job_id FROM limits WHERE job_id IN (OLD.job_id, NEW.job_id);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_limit_ends AFTER DELETE ON time_entries WHEN
  EXISTS (SELECT 1 FROM limits WHERE job_id = OLD.job_id) BEGIN
  INSERT OR IGNORE INTO limits_stale VALUES (OLD.job_id);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_limit_begins AFTER INSERT ON cost_lines WHEN
  NEW.status = 'approved' AND NEW.charge IS NOT NULL AND EXISTS (SELECT 1 FROM limits WHERE job_id = NEW.job_id) BEGIN
  INSERT OR IGNORE INTO limits_stale VALUES (NEW.job_id);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_limit_moves AFTER UPDATE OF job_id, phase_id, charge, status, drafted, invoiced, date ON cost_lines WHEN
  (NEW.job_id IS NOT OLD.job_id OR NEW.phase_id IS NOT OLD.phase_id OR NEW.charge IS NOT OLD.charge OR NEW.status IS NOT OLD.status
    OR NEW.drafted IS NOT OLD.drafted OR NEW.invoiced IS NOT OLD.invoiced OR NEW.date IS NOT OLD.date)
  AND EXISTS (SELECT 1 FROM limits WHERE job_id IN (OLD.job_id, NEW.job_id)) BEGIN
  INSERT OR IGNORE INTO limits_stale SELECT DISTINCT job_id FROM limits WHERE job_id IN (OLD.job_id, NEW.job_id);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_limit_ends AFTER DELETE ON cost_lines WHEN
  EXISTS (SELECT 1 FROM limits WHERE job_id = OLD.job_id) BEGIN
  INSERT OR IGNORE INTO limits_stale VALUES (OLD.job_id);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER jobs_limit AFTER UPDATE OF basis, contract ON jobs WHEN
  NEW.basis <> OLD.basis OR NEW.contract IS NOT OLD.contract BEGIN
  INSERT OR IGNORE INTO limits_stale VALUES (NEW.id);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER phases_limit_begins AFTER INSERT ON phases WHEN
  NEW.contract IS NOT NULL BEGIN
  INSERT OR IGNORE INTO limits_stale VALUES (NEW.job_id);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER phases_limit AFTER UPDATE OF basis, contract ON phases WHEN
  NEW.basis IS NOT OLD.basis OR NEW.contract IS NOT OLD.contract BEGIN
  INSERT OR IGNORE INTO limits_stale VALUES (NEW.job_id);
END;
-- +goose StatementEnd

-- What is booked to each job and phase, by kind of cost, added up as it is booked. Written by these triggers alone; jarvo verify adds it up
-- again from the entries and lines.
DROP TABLE job_sums;
CREATE TABLE job_sums (
  job_id INTEGER NOT NULL, -- 0: what has no job yet
  phase_id INTEGER NOT NULL, -- 0: booked to none
  category TEXT NOT NULL,
  pending INTEGER NOT NULL, -- not approved yet
  works INTEGER NOT NULL DEFAULT 0, -- how many entries or lines
  minutes INTEGER NOT NULL DEFAULT 0,
  cost INTEGER NOT NULL DEFAULT 0,
  charged INTEGER NOT NULL DEFAULT 0, -- the cost of what has a charge
  unbillable INTEGER NOT NULL DEFAULT 0, -- the cost of what is not billable
  charge INTEGER NOT NULL DEFAULT 0,
  ready INTEGER NOT NULL DEFAULT 0,
  held INTEGER NOT NULL DEFAULT 0,
  PRIMARY KEY (job_id, phase_id, category, pending)
) STRICT, WITHOUT ROWID;
INSERT INTO job_sums (job_id, phase_id, category, pending, works, minutes, cost, charged, unbillable, charge, ready, held)
  SELECT ifnull(job_id, 0), ifnull(phase_id, 0), 'labour', status <> 'approved', sum(1), sum(minutes), sum(ifnull(cost, 0)),
    sum(iif(charge IS NULL, 0, ifnull(cost, 0))),
    sum(iif(charge IS NULL AND billable = 0, ifnull(cost, 0), 0)), sum(ifnull(charge, 0)), sum(ifnull(ready, 0)), sum(held)
    FROM time_entries GROUP BY 1, 2, 3, 4;
-- +goose StatementBegin
CREATE TRIGGER time_entries_added AFTER INSERT ON time_entries BEGIN
  INSERT INTO job_sums (job_id, phase_id, category, pending, works, minutes, cost, charged, unbillable, charge, ready, held)
    VALUES (ifnull(NEW.job_id, 0), ifnull(NEW.phase_id, 0), 'labour', NEW.status <> 'approved', 1, NEW.minutes, ifnull(NEW.cost, 0),
      iif(NEW.charge IS NULL, 0, ifnull(NEW.cost, 0)), iif(NEW.charge IS NULL AND NEW.billable = 0, ifnull(NEW.cost, 0), 0),
      ifnull(NEW.charge, 0), ifnull(NEW.ready, 0), NEW.held)
    ON CONFLICT DO UPDATE SET works = works + excluded.works, minutes = minutes + excluded.minutes, cost = cost + excluded.cost,
      charged = charged + excluded.charged, unbillable = unbillable + excluded.unbillable, charge = charge + excluded.charge,
      ready = ready + excluded.ready, held = held + excluded.held;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_gone AFTER DELETE ON time_entries BEGIN
  UPDATE job_sums SET works = works - 1, minutes = minutes - OLD.minutes,
    cost = cost - ifnull(OLD.cost, 0), charged = charged - iif(OLD.charge IS NULL, 0, ifnull(OLD.cost, 0)),
    unbillable = unbillable - iif(OLD.charge IS NULL AND OLD.billable = 0, ifnull(OLD.cost, 0), 0),
    charge = charge - ifnull(OLD.charge, 0),
    ready = ready - ifnull(OLD.ready, 0), held = held - OLD.held
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND category = 'labour'
    AND pending = (OLD.status <> 'approved');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_changed AFTER UPDATE OF job_id, phase_id, status, minutes, cost, charge, billable, invoice_id, drafted,
    invoiced, held ON time_entries WHEN
  NEW.job_id IS OLD.job_id AND NEW.phase_id IS OLD.phase_id AND (NEW.status = 'approved') = (OLD.status = 'approved') BEGIN
  UPDATE job_sums SET minutes = minutes + NEW.minutes - OLD.minutes,
    cost = cost + ifnull(NEW.cost, 0) - ifnull(OLD.cost, 0),
    charged = charged + iif(NEW.charge IS NULL, 0, ifnull(NEW.cost, 0)) - iif(OLD.charge IS NULL, 0, ifnull(OLD.cost, 0)),
    unbillable = unbillable + iif(NEW.charge IS NULL AND NEW.billable = 0, ifnull(NEW.cost, 0), 0) - iif(OLD.charge IS NULL
    AND OLD.billable = 0, ifnull(OLD.cost, 0), 0),
    charge = charge + ifnull(NEW.charge, 0) - ifnull(OLD.charge, 0),
    ready = ready + ifnull(NEW.ready, 0) - ifnull(OLD.ready, 0),
    held = held + NEW.held - OLD.held
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND category = 'labour'
    AND pending = (OLD.status <> 'approved');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_moved AFTER UPDATE OF job_id, phase_id, status, minutes, cost, charge, billable, invoice_id, drafted,
    invoiced, held ON time_entries WHEN NOT (
  NEW.job_id IS OLD.job_id AND NEW.phase_id IS OLD.phase_id AND (NEW.status = 'approved') = (OLD.status = 'approved')) BEGIN
  UPDATE job_sums SET works = works - 1, minutes = minutes - OLD.minutes,
    cost = cost - ifnull(OLD.cost, 0), charged = charged - iif(OLD.charge IS NULL, 0, ifnull(OLD.cost, 0)),
    unbillable = unbillable - iif(OLD.charge IS NULL AND OLD.billable = 0, ifnull(OLD.cost, 0), 0),
    charge = charge - ifnull(OLD.charge, 0),
    ready = ready - ifnull(OLD.ready, 0), held = held - OLD.held
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND category = 'labour'
    AND pending = (OLD.status <> 'approved');
  INSERT INTO job_sums (job_id, phase_id, category, pending, works, minutes, cost, charged, unbillable, charge, ready, held)
    VALUES (ifnull(NEW.job_id, 0), ifnull(NEW.phase_id, 0), 'labour', NEW.status <> 'approved', 1, NEW.minutes, ifnull(NEW.cost, 0),
      iif(NEW.charge IS NULL, 0, ifnull(NEW.cost, 0)), iif(NEW.charge IS NULL AND NEW.billable = 0, ifnull(NEW.cost, 0), 0),
      ifnull(NEW.charge, 0), ifnull(NEW.ready, 0), NEW.held)
    ON CONFLICT DO UPDATE SET works = works + excluded.works, minutes = minutes + excluded.minutes, cost = cost + excluded.cost,
      charged = charged + excluded.charged, unbillable = unbillable + excluded.unbillable, charge = charge + excluded.charge,
      ready = ready + excluded.ready, held = held + excluded.held;
END;
-- +goose StatementEnd
INSERT INTO job_sums (job_id, phase_id, category, pending, works, minutes, cost, charged, unbillable, charge, ready, held)
  SELECT ifnull(job_id, 0), ifnull(phase_id, 0), category, status <> 'approved', sum(1), sum(0), sum(landed), sum(iif(charge IS NULL,
    0, landed)),
    sum(iif(charge IS NULL AND billable = 0, landed, 0)), sum(ifnull(charge, 0)), sum(ifnull(ready, 0)), sum(held)
    FROM cost_lines GROUP BY 1, 2, 3, 4;
-- +goose StatementBegin
CREATE TRIGGER cost_lines_added AFTER INSERT ON cost_lines BEGIN
  INSERT INTO job_sums (job_id, phase_id, category, pending, works, minutes, cost, charged, unbillable, charge, ready, held)
    VALUES (ifnull(NEW.job_id, 0), ifnull(NEW.phase_id, 0), NEW.category, NEW.status <> 'approved', 1, 0, NEW.landed,
      iif(NEW.charge IS NULL, 0, NEW.landed), iif(NEW.charge IS NULL AND NEW.billable = 0, NEW.landed, 0),
      ifnull(NEW.charge, 0), ifnull(NEW.ready, 0), NEW.held)
    ON CONFLICT DO UPDATE SET works = works + excluded.works, minutes = minutes + excluded.minutes, cost = cost + excluded.cost,
      charged = charged + excluded.charged, unbillable = unbillable + excluded.unbillable, charge = charge + excluded.charge,
      ready = ready + excluded.ready, held = held + excluded.held;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_gone AFTER DELETE ON cost_lines BEGIN
  UPDATE job_sums SET works = works - 1, minutes = minutes - 0,
    cost = cost - OLD.landed, charged = charged - iif(OLD.charge IS NULL, 0, OLD.landed),
    unbillable = unbillable - iif(OLD.charge IS NULL AND OLD.billable = 0, OLD.landed, 0), charge = charge - ifnull(OLD.charge, 0),
    ready = ready - ifnull(OLD.ready, 0), held = held - OLD.held
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND category = OLD.category
    AND pending = (OLD.status <> 'approved');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_changed AFTER UPDATE OF job_id, phase_id, category, status, landed, charge, billable, invoice_id, drafted,
    invoiced, held ON cost_lines WHEN
  NEW.job_id IS OLD.job_id AND NEW.phase_id IS OLD.phase_id AND (NEW.status = 'approved') = (OLD.status = 'approved')
    AND NEW.category = OLD.category BEGIN
  UPDATE job_sums SET cost = cost + NEW.landed - OLD.landed,
    charged = charged + iif(NEW.charge IS NULL, 0, NEW.landed) - iif(OLD.charge IS NULL, 0, OLD.landed),
    unbillable = unbillable + iif(NEW.charge IS NULL AND NEW.billable = 0, NEW.landed, 0) - iif(OLD.charge IS NULL
    AND OLD.billable = 0, OLD.landed, 0),
    charge = charge + ifnull(NEW.charge, 0) - ifnull(OLD.charge, 0),
    ready = ready + ifnull(NEW.ready, 0) - ifnull(OLD.ready, 0),
    held = held + NEW.held - OLD.held
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND category = OLD.category
    AND pending = (OLD.status <> 'approved');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_moved AFTER UPDATE OF job_id, phase_id, category, status, landed, charge, billable, invoice_id, drafted,
    invoiced, held ON cost_lines WHEN NOT (
  NEW.job_id IS OLD.job_id AND NEW.phase_id IS OLD.phase_id AND (NEW.status = 'approved') = (OLD.status = 'approved')
    AND NEW.category = OLD.category) BEGIN
  UPDATE job_sums SET works = works - 1, minutes = minutes - 0,
    cost = cost - OLD.landed, charged = charged - iif(OLD.charge IS NULL, 0, OLD.landed),
    unbillable = unbillable - iif(OLD.charge IS NULL AND OLD.billable = 0, OLD.landed, 0), charge = charge - ifnull(OLD.charge, 0),
    ready = ready - ifnull(OLD.ready, 0), held = held - OLD.held
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND category = OLD.category
    AND pending = (OLD.status <> 'approved');
  INSERT INTO job_sums (job_id, phase_id, category, pending, works, minutes, cost, charged, unbillable, charge, ready, held)
    VALUES (ifnull(NEW.job_id, 0), ifnull(NEW.phase_id, 0), NEW.category, NEW.status <> 'approved', 1, 0, NEW.landed,
      iif(NEW.charge IS NULL, 0, NEW.landed), iif(NEW.charge IS NULL AND NEW.billable = 0, NEW.landed, 0),
      ifnull(NEW.charge, 0), ifnull(NEW.ready, 0), NEW.held)
    ON CONFLICT DO UPDATE SET works = works + excluded.works, minutes = minutes + excluded.minutes, cost = cost + excluded.cost,
      charged = charged + excluded.charged, unbillable = unbillable + excluded.unbillable, charge = charge + excluded.charge,
      ready = ready + excluded.ready, held = held + excluded.held;
END;
-- +goose StatementEnd
