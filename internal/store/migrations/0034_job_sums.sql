-- +goose Up
-- What is booked to each job and phase is a row a kind of cost, where what waits for approval stands in columns of its own, and beside it a
-- row of all kinds: a list of jobs and a total read a row a place, and the kinds only where a fixed price is measured by them.
DROP VIEW limit_use;
DROP TRIGGER time_entries_added;
DROP TRIGGER time_entries_gone;
DROP TRIGGER time_entries_changed;
DROP TRIGGER time_entries_moved;
DROP TRIGGER cost_lines_added;
DROP TRIGGER cost_lines_gone;
DROP TRIGGER cost_lines_changed;
DROP TRIGGER cost_lines_moved;
DROP TABLE job_sums;

-- What is written down of work, less what is written up, is no longer left to bill.
DROP VIEW ready_hours;
DROP VIEW ready_lines;
DROP INDEX time_entries_ready;
DROP INDEX cost_lines_ready;
ALTER TABLE time_entries DROP COLUMN ready;
ALTER TABLE time_entries ADD COLUMN written INTEGER NOT NULL DEFAULT 0;
ALTER TABLE time_entries ADD COLUMN ready INTEGER AS (CASE WHEN status = 'approved' AND charge IS NOT NULL
  AND (charge - drafted - invoiced - written - held <> 0 OR invoice_id IS NULL AND held = 0)
  THEN charge - drafted - invoiced - written - held END) VIRTUAL;
ALTER TABLE cost_lines DROP COLUMN ready;
ALTER TABLE cost_lines ADD COLUMN written INTEGER NOT NULL DEFAULT 0;
ALTER TABLE cost_lines ADD COLUMN ready INTEGER AS (CASE WHEN status = 'approved' AND charge IS NOT NULL
  AND (charge - drafted - invoiced - written - held <> 0 OR invoice_id IS NULL AND held = 0)
  THEN charge - drafted - invoiced - written - held END) VIRTUAL;
CREATE INDEX time_entries_ready ON time_entries (job_id, date, ready, cost) WHERE ready IS NOT NULL;
CREATE INDEX cost_lines_ready ON cost_lines (job_id, category, date, ready, landed) WHERE ready IS NOT NULL;
CREATE VIEW ready_hours AS
  SELECT id AS entry_id, job_id, date, ready, cost FROM time_entries INDEXED BY time_entries_ready WHERE ready IS NOT NULL;
CREATE VIEW ready_lines AS
  SELECT id AS cost_line_id, job_id, category, date, ready, landed AS cost
    FROM cost_lines INDEXED BY cost_lines_ready WHERE ready IS NOT NULL;

CREATE TABLE kind_sums (
  job_id INTEGER NOT NULL, -- 0: what has no job yet
  phase_id INTEGER NOT NULL, -- 0: booked to none
  category TEXT NOT NULL,
  works INTEGER NOT NULL, -- how many entries or lines
  no_cost INTEGER NOT NULL, -- how many of them have no wage
  no_charge INTEGER NOT NULL, -- and how many no rate
  minutes INTEGER NOT NULL,
  cost INTEGER NOT NULL,
  charged INTEGER NOT NULL, -- the cost of what has a charge
  charge INTEGER NOT NULL,
  ready INTEGER NOT NULL,
  held INTEGER NOT NULL,
  waiting_minutes INTEGER NOT NULL, -- of what is not approved yet
  waiting_cost INTEGER NOT NULL,
  waiting_charge INTEGER NOT NULL,
  PRIMARY KEY (job_id, phase_id, category)
) STRICT, WITHOUT ROWID;

-- The same added up from the entries and lines: what the triggers below keep, and jarvo verify compares with it.
CREATE VIEW added_up AS
  SELECT ifnull(job_id, 0) AS job_id, ifnull(phase_id, 0) AS phase_id, 'labour' AS category, count(*) AS works,
    count(*) - count(cost) AS no_cost, sum(unpriced) AS no_charge, sum(minutes) AS minutes, ifnull(sum(cost), 0) AS cost,
    ifnull(sum(iif(charge IS NULL, 0, cost)), 0) AS charged, ifnull(sum(charge), 0) AS charge,
    ifnull(sum(ready), 0) AS ready, sum(held) AS held, sum(iif(status = 'approved', 0, minutes)) AS waiting_minutes,
    ifnull(sum(iif(status = 'approved', 0, cost)), 0) AS waiting_cost, ifnull(sum(iif(status = 'approved', 0, charge)), 0) AS waiting_charge
    FROM time_entries GROUP BY 1, 2
  UNION ALL SELECT ifnull(job_id, 0), ifnull(phase_id, 0), category, count(*), 0, 0, 0, sum(landed), sum(iif(charge IS NULL, 0, landed)),
    ifnull(sum(charge), 0), ifnull(sum(ready), 0), sum(held), 0, sum(iif(status = 'approved', 0, landed)),
    ifnull(sum(iif(status = 'approved', 0, charge)), 0)
    FROM cost_lines GROUP BY 1, 2, 3;

-- The same of all kinds, with what labour costs of it.
CREATE TABLE job_sums (
  job_id INTEGER NOT NULL,
  phase_id INTEGER NOT NULL,
  works INTEGER NOT NULL,
  no_cost INTEGER NOT NULL,
  no_charge INTEGER NOT NULL,
  minutes INTEGER NOT NULL,
  cost INTEGER NOT NULL,
  charged INTEGER NOT NULL,
  charge INTEGER NOT NULL,
  ready INTEGER NOT NULL,
  held INTEGER NOT NULL,
  waiting_minutes INTEGER NOT NULL,
  waiting_cost INTEGER NOT NULL,
  waiting_charge INTEGER NOT NULL,
  labour INTEGER NOT NULL, -- the cost of hours
  waiting_labour INTEGER NOT NULL,
  PRIMARY KEY (job_id, phase_id)
) STRICT, WITHOUT ROWID;
-- +goose StatementBegin
CREATE TRIGGER kind_sums_added AFTER INSERT ON kind_sums BEGIN
  INSERT INTO job_sums VALUES (NEW.job_id, NEW.phase_id, NEW.works, NEW.no_cost, NEW.no_charge, NEW.minutes, NEW.cost, NEW.charged,
    NEW.charge, NEW.ready, NEW.held, NEW.waiting_minutes, NEW.waiting_cost, NEW.waiting_charge,
    iif(NEW.category = 'labour', NEW.cost, 0), iif(NEW.category = 'labour', NEW.waiting_cost, 0))
    ON CONFLICT DO UPDATE SET works = works + excluded.works, no_cost = no_cost + excluded.no_cost,
      no_charge = no_charge + excluded.no_charge, minutes = minutes + excluded.minutes, cost = cost + excluded.cost,
      charged = charged + excluded.charged, charge = charge + excluded.charge, ready = ready + excluded.ready,
      held = held + excluded.held, waiting_minutes = waiting_minutes + excluded.waiting_minutes,
      waiting_cost = waiting_cost + excluded.waiting_cost, waiting_charge = waiting_charge + excluded.waiting_charge,
      labour = labour + excluded.labour, waiting_labour = waiting_labour + excluded.waiting_labour;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER kind_sums_changed AFTER UPDATE ON kind_sums BEGIN
  UPDATE job_sums SET works = works + NEW.works - OLD.works, no_cost = no_cost + NEW.no_cost - OLD.no_cost,
    no_charge = no_charge + NEW.no_charge - OLD.no_charge, minutes = minutes + NEW.minutes - OLD.minutes,
    cost = cost + NEW.cost - OLD.cost, charged = charged + NEW.charged - OLD.charged, charge = charge + NEW.charge - OLD.charge,
    ready = ready + NEW.ready - OLD.ready, held = held + NEW.held - OLD.held,
    waiting_minutes = waiting_minutes + NEW.waiting_minutes - OLD.waiting_minutes,
    waiting_cost = waiting_cost + NEW.waiting_cost - OLD.waiting_cost,
    waiting_charge = waiting_charge + NEW.waiting_charge - OLD.waiting_charge,
    labour = labour + iif(NEW.category = 'labour', NEW.cost - OLD.cost, 0),
    waiting_labour = waiting_labour + iif(NEW.category = 'labour', NEW.waiting_cost - OLD.waiting_cost, 0)
    WHERE job_id = NEW.job_id AND phase_id = NEW.phase_id;
END;
-- +goose StatementEnd
INSERT INTO kind_sums SELECT * FROM added_up;

CREATE VIEW limit_use AS
  SELECT l.job_id, l.limit_phase AS phase_id, l.agreed, sum((SELECT ifnull(sum(p.amount), 0) FROM invoice_phases p
    WHERE p.job_id = l.job_id AND p.phase_id IS nullif(l.phase_id, 0))) AS used,
    sum((SELECT ifnull(sum(b.ready), 0) FROM job_sums b WHERE b.job_id = l.job_id AND b.phase_id = l.phase_id)) AS ready,
    sum((SELECT ifnull(sum(b.held), 0) FROM job_sums b WHERE b.job_id = l.job_id AND b.phase_id = l.phase_id)) AS held,
    sum((SELECT ifnull(sum(b.waiting_charge), 0) FROM job_sums b WHERE b.job_id = l.job_id AND b.phase_id = l.phase_id)) AS waiting
  FROM limited_phases l GROUP BY 1, 2, 3;

-- The first day of which a job has something ready to bill. The index of lines is by kind of cost, so it is asked for each kind there is.
CREATE VIEW line_categories AS SELECT column1 AS category
  FROM (VALUES ('material'), ('equipment'), ('subcontract'), ('expense'), ('mileage'));
CREATE VIEW oldest_ready AS
  SELECT j.id AS job_id, (SELECT min(date) FROM ready_hours WHERE job_id = j.id) AS hours,
    (SELECT min((SELECT min(date) FROM ready_lines l WHERE l.job_id = j.id AND l.category = c.category)) FROM line_categories c) AS lines
  FROM jobs j;
-- +goose StatementBegin
CREATE TRIGGER time_entries_added AFTER INSERT ON time_entries BEGIN
  INSERT INTO kind_sums VALUES (ifnull(NEW.job_id, 0), ifnull(NEW.phase_id, 0), 'labour', 1,
      (NEW.cost IS NULL), NEW.unpriced, NEW.minutes, ifnull(NEW.cost, 0),
      iif(NEW.charge IS NULL, 0, ifnull(NEW.cost, 0)), ifnull(NEW.charge, 0),
      ifnull(NEW.ready, 0), NEW.held,
      iif(NEW.status = 'approved', 0, NEW.minutes), iif(NEW.status = 'approved', 0, ifnull(NEW.cost, 0)),
      iif(NEW.status = 'approved', 0, ifnull(NEW.charge, 0)))
    ON CONFLICT DO UPDATE SET works = works + 1, no_cost = no_cost + excluded.no_cost, no_charge = no_charge + excluded.no_charge,
      minutes = minutes + excluded.minutes, cost = cost + excluded.cost, charged = charged + excluded.charged,
      charge = charge + excluded.charge, ready = ready + excluded.ready, held = held + excluded.held,
      waiting_minutes = waiting_minutes + excluded.waiting_minutes, waiting_cost = waiting_cost + excluded.waiting_cost,
      waiting_charge = waiting_charge + excluded.waiting_charge;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_gone AFTER DELETE ON time_entries BEGIN
  UPDATE kind_sums SET works = works - 1,
    no_cost = no_cost - (OLD.cost IS NULL),
    no_charge = no_charge - OLD.unpriced,
    minutes = minutes - OLD.minutes,
    cost = cost - ifnull(OLD.cost, 0),
    charged = charged - iif(OLD.charge IS NULL, 0, ifnull(OLD.cost, 0)),
    charge = charge - ifnull(OLD.charge, 0),
    ready = ready - ifnull(OLD.ready, 0),
    held = held - OLD.held,
    waiting_minutes = waiting_minutes - iif(OLD.status = 'approved', 0, OLD.minutes),
    waiting_cost = waiting_cost - iif(OLD.status = 'approved', 0, ifnull(OLD.cost, 0)),
    waiting_charge = waiting_charge - iif(OLD.status = 'approved', 0, ifnull(OLD.charge, 0))
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND category = 'labour';
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_changed AFTER UPDATE OF job_id, phase_id, status, minutes, cost, unpriced, charge, invoice_id,
    drafted, invoiced, written, held ON time_entries WHEN
  NEW.job_id IS OLD.job_id AND NEW.phase_id IS OLD.phase_id BEGIN
  UPDATE kind_sums SET
    no_cost = no_cost + (NEW.cost IS NULL) - (OLD.cost IS NULL),
    no_charge = no_charge + NEW.unpriced - OLD.unpriced,
    minutes = minutes + NEW.minutes - OLD.minutes,
    cost = cost + ifnull(NEW.cost, 0) - ifnull(OLD.cost, 0),
    charged = charged + iif(NEW.charge IS NULL, 0, ifnull(NEW.cost, 0))
      - iif(OLD.charge IS NULL, 0, ifnull(OLD.cost, 0)),
    charge = charge + ifnull(NEW.charge, 0) - ifnull(OLD.charge, 0),
    ready = ready + ifnull(NEW.ready, 0) - ifnull(OLD.ready, 0),
    held = held + NEW.held - OLD.held,
    waiting_minutes = waiting_minutes + iif(NEW.status = 'approved', 0, NEW.minutes) - iif(OLD.status = 'approved', 0, OLD.minutes),
    waiting_cost = waiting_cost + iif(NEW.status = 'approved', 0, ifnull(NEW.cost, 0))
      - iif(OLD.status = 'approved', 0, ifnull(OLD.cost, 0)),
    waiting_charge = waiting_charge + iif(NEW.status = 'approved', 0, ifnull(NEW.charge, 0))
      - iif(OLD.status = 'approved', 0, ifnull(OLD.charge, 0))
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND category = 'labour';
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_moved AFTER UPDATE OF job_id, phase_id, status, minutes, cost, unpriced, charge, invoice_id,
    drafted, invoiced, written, held ON time_entries WHEN NOT (
  NEW.job_id IS OLD.job_id AND NEW.phase_id IS OLD.phase_id) BEGIN
  UPDATE kind_sums SET works = works - 1,
    no_cost = no_cost - (OLD.cost IS NULL),
    no_charge = no_charge - OLD.unpriced,
    minutes = minutes - OLD.minutes,
    cost = cost - ifnull(OLD.cost, 0),
    charged = charged - iif(OLD.charge IS NULL, 0, ifnull(OLD.cost, 0)),
    charge = charge - ifnull(OLD.charge, 0),
    ready = ready - ifnull(OLD.ready, 0),
    held = held - OLD.held,
    waiting_minutes = waiting_minutes - iif(OLD.status = 'approved', 0, OLD.minutes),
    waiting_cost = waiting_cost - iif(OLD.status = 'approved', 0, ifnull(OLD.cost, 0)),
    waiting_charge = waiting_charge - iif(OLD.status = 'approved', 0, ifnull(OLD.charge, 0))
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND category = 'labour';
  INSERT INTO kind_sums VALUES (ifnull(NEW.job_id, 0), ifnull(NEW.phase_id, 0), 'labour', 1,
      (NEW.cost IS NULL), NEW.unpriced, NEW.minutes, ifnull(NEW.cost, 0),
      iif(NEW.charge IS NULL, 0, ifnull(NEW.cost, 0)), ifnull(NEW.charge, 0),
      ifnull(NEW.ready, 0), NEW.held,
      iif(NEW.status = 'approved', 0, NEW.minutes), iif(NEW.status = 'approved', 0, ifnull(NEW.cost, 0)),
      iif(NEW.status = 'approved', 0, ifnull(NEW.charge, 0)))
    ON CONFLICT DO UPDATE SET works = works + 1, no_cost = no_cost + excluded.no_cost, no_charge = no_charge + excluded.no_charge,
      minutes = minutes + excluded.minutes, cost = cost + excluded.cost, charged = charged + excluded.charged,
      charge = charge + excluded.charge, ready = ready + excluded.ready, held = held + excluded.held,
      waiting_minutes = waiting_minutes + excluded.waiting_minutes, waiting_cost = waiting_cost + excluded.waiting_cost,
      waiting_charge = waiting_charge + excluded.waiting_charge;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_added AFTER INSERT ON cost_lines BEGIN
  INSERT INTO kind_sums VALUES (ifnull(NEW.job_id, 0), ifnull(NEW.phase_id, 0), NEW.category, 1,
      0, 0, 0, NEW.landed,
      iif(NEW.charge IS NULL, 0, NEW.landed), ifnull(NEW.charge, 0),
      ifnull(NEW.ready, 0), NEW.held,
      0, iif(NEW.status = 'approved', 0, NEW.landed),
      iif(NEW.status = 'approved', 0, ifnull(NEW.charge, 0)))
    ON CONFLICT DO UPDATE SET works = works + 1, cost = cost + excluded.cost, charged = charged + excluded.charged,
      charge = charge + excluded.charge, ready = ready + excluded.ready, held = held + excluded.held,
      waiting_cost = waiting_cost + excluded.waiting_cost, waiting_charge = waiting_charge + excluded.waiting_charge;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_gone AFTER DELETE ON cost_lines BEGIN
  UPDATE kind_sums SET works = works - 1,
    cost = cost - OLD.landed,
    charged = charged - iif(OLD.charge IS NULL, 0, OLD.landed),
    charge = charge - ifnull(OLD.charge, 0),
    ready = ready - ifnull(OLD.ready, 0),
    held = held - OLD.held,
    waiting_cost = waiting_cost - iif(OLD.status = 'approved', 0, OLD.landed),
    waiting_charge = waiting_charge - iif(OLD.status = 'approved', 0, ifnull(OLD.charge, 0))
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND category = OLD.category;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_changed AFTER UPDATE OF job_id, phase_id, category, status, landed, charge, invoice_id,
    drafted, invoiced, written, held ON cost_lines WHEN
  NEW.job_id IS OLD.job_id AND NEW.phase_id IS OLD.phase_id AND NEW.category = OLD.category BEGIN
  UPDATE kind_sums SET
    cost = cost + NEW.landed - OLD.landed,
    charged = charged + iif(NEW.charge IS NULL, 0, NEW.landed) - iif(OLD.charge IS NULL, 0, OLD.landed),
    charge = charge + ifnull(NEW.charge, 0) - ifnull(OLD.charge, 0),
    ready = ready + ifnull(NEW.ready, 0) - ifnull(OLD.ready, 0),
    held = held + NEW.held - OLD.held,
    waiting_cost = waiting_cost + iif(NEW.status = 'approved', 0, NEW.landed) - iif(OLD.status = 'approved', 0, OLD.landed),
    waiting_charge = waiting_charge + iif(NEW.status = 'approved', 0, ifnull(NEW.charge, 0))
      - iif(OLD.status = 'approved', 0, ifnull(OLD.charge, 0))
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND category = OLD.category;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_moved AFTER UPDATE OF job_id, phase_id, category, status, landed, charge, invoice_id,
    drafted, invoiced, written, held ON cost_lines WHEN NOT (
  NEW.job_id IS OLD.job_id AND NEW.phase_id IS OLD.phase_id AND NEW.category = OLD.category) BEGIN
  UPDATE kind_sums SET works = works - 1,
    cost = cost - OLD.landed,
    charged = charged - iif(OLD.charge IS NULL, 0, OLD.landed),
    charge = charge - ifnull(OLD.charge, 0),
    ready = ready - ifnull(OLD.ready, 0),
    held = held - OLD.held,
    waiting_cost = waiting_cost - iif(OLD.status = 'approved', 0, OLD.landed),
    waiting_charge = waiting_charge - iif(OLD.status = 'approved', 0, ifnull(OLD.charge, 0))
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND category = OLD.category;
  INSERT INTO kind_sums VALUES (ifnull(NEW.job_id, 0), ifnull(NEW.phase_id, 0), NEW.category, 1,
      0, 0, 0, NEW.landed,
      iif(NEW.charge IS NULL, 0, NEW.landed), ifnull(NEW.charge, 0),
      ifnull(NEW.ready, 0), NEW.held,
      0, iif(NEW.status = 'approved', 0, NEW.landed),
      iif(NEW.status = 'approved', 0, ifnull(NEW.charge, 0)))
    ON CONFLICT DO UPDATE SET works = works + 1, cost = cost + excluded.cost, charged = charged + excluded.charged,
      charge = charge + excluded.charge, ready = ready + excluded.ready, held = held + excluded.held,
      waiting_cost = waiting_cost + excluded.waiting_cost, waiting_charge = waiting_charge + excluded.waiting_charge;
END;
-- +goose StatementEnd
DROP TRIGGER time_entries_limit_moves;
-- +goose StatementBegin
CREATE TRIGGER time_entries_limit_moves AFTER UPDATE OF job_id, phase_id, charge, status, drafted, invoiced, written, date, start,
    worker_id ON time_entries WHEN
  (NEW.job_id IS NOT OLD.job_id OR NEW.phase_id IS NOT OLD.phase_id OR NEW.charge IS NOT OLD.charge OR NEW.status IS NOT
    OLD.status OR NEW.drafted IS NOT OLD.drafted OR NEW.invoiced IS NOT OLD.invoiced OR NEW.written IS NOT OLD.written OR NEW.date
    IS NOT OLD.date OR NEW.start IS NOT OLD.start OR NEW.worker_id IS NOT OLD.worker_id)
  AND EXISTS (SELECT 1 FROM limits WHERE job_id IN (OLD.job_id, NEW.job_id)) BEGIN
  INSERT OR IGNORE INTO limits_stale SELECT DISTINCT job_id FROM limits WHERE job_id IN (OLD.job_id, NEW.job_id);
END;
-- +goose StatementEnd
DROP TRIGGER cost_lines_limit_moves;
-- +goose StatementBegin
CREATE TRIGGER cost_lines_limit_moves AFTER UPDATE OF job_id, phase_id, charge, status, drafted, invoiced, written, date ON cost_lines
    WHEN
  (NEW.job_id IS NOT OLD.job_id OR NEW.phase_id IS NOT OLD.phase_id OR NEW.charge IS NOT OLD.charge OR NEW.status IS NOT
    OLD.status OR NEW.drafted IS NOT OLD.drafted OR NEW.invoiced IS NOT OLD.invoiced OR NEW.written IS NOT OLD.written OR NEW.date
    IS NOT OLD.date)
  AND EXISTS (SELECT 1 FROM limits WHERE job_id IN (OLD.job_id, NEW.job_id)) BEGIN
  INSERT OR IGNORE INTO limits_stale SELECT DISTINCT job_id FROM limits WHERE job_id IN (OLD.job_id, NEW.job_id);
END;
-- +goose StatementEnd
