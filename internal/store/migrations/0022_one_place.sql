-- +goose Up
-- One place for each condition that more than one query asks.

-- What is left to bill of work, NULL where there is nothing (calculation.md section 7).
DROP INDEX time_entries_ready;
DROP INDEX cost_lines_ready;
ALTER TABLE time_entries ADD COLUMN ready INTEGER AS (CASE WHEN status = 'approved' AND invoice_id IS NULL THEN charge END) VIRTUAL;
ALTER TABLE cost_lines ADD COLUMN ready INTEGER AS (CASE WHEN status = 'approved' AND invoice_id IS NULL THEN charge END) VIRTUAL;
CREATE INDEX time_entries_ready ON time_entries (job_id, date, ready, cost) WHERE ready IS NOT NULL;
CREATE INDEX cost_lines_ready ON cost_lines (job_id, category, date, ready, landed) WHERE ready IS NOT NULL;
CREATE VIEW ready_hours AS
  SELECT id AS entry_id, job_id, date, ready, cost FROM time_entries INDEXED BY time_entries_ready WHERE ready IS NOT NULL;
CREATE VIEW ready_lines AS
  SELECT id AS cost_line_id, job_id, category, date, ready, landed AS cost FROM cost_lines INDEXED BY cost_lines_ready WHERE ready IS NOT NULL;

-- What is due on an issued invoice, what of it has been paid, and what is left.
CREATE VIEW invoice_balance AS
  SELECT invoice_id, due, paid, due - paid AS "left", issued AND paid >= due AS settled FROM (
    SELECT i.id AS invoice_id, i.status = 'issued' AS issued, CASE i.status WHEN 'issued' THEN i.due_now ELSE 0 END AS due,
      (SELECT ifnull(sum(a.amount), 0) FROM payment_allocations a WHERE a.invoice_id = i.id) AS paid
    FROM invoices i);

-- How work is billed: a phase as its job where it does not say; of hours, of cost lines, and of each job and phase (phase 0: of none).
CREATE VIEW basis_of_hours AS
  SELECT e.id AS entry_id, ifnull(p.basis, j.basis) AS basis FROM time_entries e JOIN jobs j ON j.id = e.job_id
  LEFT JOIN phases p ON p.id = e.phase_id;
CREATE VIEW basis_of_lines AS
  SELECT l.id AS cost_line_id, ifnull(p.basis, j.basis) AS basis FROM cost_lines l JOIN jobs j ON j.id = l.job_id
  LEFT JOIN phases p ON p.id = l.phase_id;
CREATE VIEW basis_of_work AS
  SELECT id AS job_id, 0 AS phase_id, basis FROM jobs
  UNION ALL SELECT p.job_id, p.id, ifnull(p.basis, j.basis) FROM phases p JOIN jobs j ON j.id = p.job_id;

-- Jobs that have cost more than was agreed.
CREATE VIEW over_contract AS
  SELECT j.id AS job_id, j.contract, sum(b.cost) AS cost FROM jobs j JOIN job_sums b ON b.job_id = j.id
  WHERE j.contract > 0 GROUP BY j.id HAVING sum(b.cost) > j.contract;

-- Numbers of suppliers that have been entered more than once.
CREATE VIEW entered_twice AS
  SELECT supplier, number, documents FROM supplier_numbers INDEXED BY supplier_numbers_twice WHERE documents > 1;

-- The names of suppliers.
CREATE INDEX cost_documents_supplier ON cost_documents (supplier) WHERE supplier <> '';

-- The first day of the company's week, counted from Thursday 1 January 1970, which is day 0.
CREATE VIEW company_week AS
  SELECT CASE week_start WHEN 'sunday' THEN 3 WHEN 'monday' THEN 4 WHEN 'tuesday' THEN 5 WHEN 'wednesday' THEN 6 WHEN 'thursday' THEN 7
    WHEN 'friday' THEN 8 WHEN 'saturday' THEN 9 ELSE 4 END AS first_day FROM company;

-- The sums of jobs, by what is ready.
DROP TRIGGER time_entries_added;
DROP TRIGGER time_entries_gone;
DROP TRIGGER time_entries_moved;
DROP TRIGGER cost_lines_added;
DROP TRIGGER cost_lines_gone;
DROP TRIGGER cost_lines_moved;
-- +goose StatementBegin
CREATE TRIGGER time_entries_added AFTER INSERT ON time_entries BEGIN
  INSERT INTO job_sums (job_id, phase_id, labour, pending, minutes, cost, charge, ready)
    VALUES (ifnull(NEW.job_id, 0), ifnull(NEW.phase_id, 0), 1, NEW.status <> 'approved', NEW.minutes, ifnull(NEW.cost, 0),
      ifnull(NEW.charge, 0), ifnull(NEW.ready, 0))
    ON CONFLICT DO UPDATE SET minutes = minutes + excluded.minutes, cost = cost + excluded.cost, charge = charge + excluded.charge,
      ready = ready + excluded.ready;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_gone AFTER DELETE ON time_entries BEGIN
  UPDATE job_sums SET minutes = minutes - OLD.minutes, cost = cost - ifnull(OLD.cost, 0), charge = charge - ifnull(OLD.charge, 0),
    ready = ready - ifnull(OLD.ready, 0)
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND labour = 1 AND pending = (OLD.status <> 'approved');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_changed AFTER UPDATE OF job_id, phase_id, status, minutes, cost, charge, invoice_id ON time_entries WHEN
  NEW.job_id IS OLD.job_id AND NEW.phase_id IS OLD.phase_id AND (NEW.status = 'approved') = (OLD.status = 'approved') BEGIN
  UPDATE job_sums SET minutes = minutes + NEW.minutes - OLD.minutes, cost = cost + ifnull(NEW.cost, 0) - ifnull(OLD.cost, 0),
    charge = charge + ifnull(NEW.charge, 0) - ifnull(OLD.charge, 0), ready = ready + ifnull(NEW.ready, 0) - ifnull(OLD.ready, 0)
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND labour = 1 AND pending = (OLD.status <> 'approved');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_moved AFTER UPDATE OF job_id, phase_id, status, minutes, cost, charge, invoice_id ON time_entries WHEN NOT (
  NEW.job_id IS OLD.job_id AND NEW.phase_id IS OLD.phase_id AND (NEW.status = 'approved') = (OLD.status = 'approved')) BEGIN
  UPDATE job_sums SET minutes = minutes - OLD.minutes, cost = cost - ifnull(OLD.cost, 0), charge = charge - ifnull(OLD.charge, 0),
    ready = ready - ifnull(OLD.ready, 0)
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND labour = 1 AND pending = (OLD.status <> 'approved');
  INSERT INTO job_sums (job_id, phase_id, labour, pending, minutes, cost, charge, ready)
    VALUES (ifnull(NEW.job_id, 0), ifnull(NEW.phase_id, 0), 1, NEW.status <> 'approved', NEW.minutes, ifnull(NEW.cost, 0),
      ifnull(NEW.charge, 0), ifnull(NEW.ready, 0))
    ON CONFLICT DO UPDATE SET minutes = minutes + excluded.minutes, cost = cost + excluded.cost, charge = charge + excluded.charge,
      ready = ready + excluded.ready;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_added AFTER INSERT ON cost_lines BEGIN
  INSERT INTO job_sums (job_id, phase_id, labour, pending, minutes, cost, charge, ready)
    VALUES (ifnull(NEW.job_id, 0), ifnull(NEW.phase_id, 0), 0, NEW.status <> 'approved', 0, ifnull(NEW.landed, 0),
      ifnull(NEW.charge, 0), ifnull(NEW.ready, 0))
    ON CONFLICT DO UPDATE SET minutes = minutes + excluded.minutes, cost = cost + excluded.cost, charge = charge + excluded.charge,
      ready = ready + excluded.ready;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_gone AFTER DELETE ON cost_lines BEGIN
  UPDATE job_sums SET minutes = minutes - 0, cost = cost - ifnull(OLD.landed, 0), charge = charge - ifnull(OLD.charge, 0),
    ready = ready - ifnull(OLD.ready, 0)
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND labour = 0 AND pending = (OLD.status <> 'approved');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_changed AFTER UPDATE OF job_id, phase_id, status, landed, charge, invoice_id ON cost_lines WHEN
  NEW.job_id IS OLD.job_id AND NEW.phase_id IS OLD.phase_id AND (NEW.status = 'approved') = (OLD.status = 'approved') BEGIN
  UPDATE job_sums SET cost = cost + ifnull(NEW.landed, 0) - ifnull(OLD.landed, 0),
    charge = charge + ifnull(NEW.charge, 0) - ifnull(OLD.charge, 0), ready = ready + ifnull(NEW.ready, 0) - ifnull(OLD.ready, 0)
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND labour = 0 AND pending = (OLD.status <> 'approved');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_moved AFTER UPDATE OF job_id, phase_id, status, landed, charge, invoice_id ON cost_lines WHEN NOT (
  NEW.job_id IS OLD.job_id AND NEW.phase_id IS OLD.phase_id AND (NEW.status = 'approved') = (OLD.status = 'approved')) BEGIN
  UPDATE job_sums SET minutes = minutes - 0, cost = cost - ifnull(OLD.landed, 0), charge = charge - ifnull(OLD.charge, 0),
    ready = ready - ifnull(OLD.ready, 0)
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND labour = 0 AND pending = (OLD.status <> 'approved');
  INSERT INTO job_sums (job_id, phase_id, labour, pending, minutes, cost, charge, ready)
    VALUES (ifnull(NEW.job_id, 0), ifnull(NEW.phase_id, 0), 0, NEW.status <> 'approved', 0, ifnull(NEW.landed, 0),
      ifnull(NEW.charge, 0), ifnull(NEW.ready, 0))
    ON CONFLICT DO UPDATE SET minutes = minutes + excluded.minutes, cost = cost + excluded.cost, charge = charge + excluded.charge,
      ready = ready + excluded.ready;
END;
-- +goose StatementEnd
