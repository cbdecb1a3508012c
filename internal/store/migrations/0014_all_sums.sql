-- +goose Up
-- The sums of jobs hold all charges too, and work that has no job yet (job 0), so that a total over all dates is added up from them.
DROP TRIGGER time_entries_added;
DROP TRIGGER time_entries_gone;
DROP TRIGGER time_entries_moved;
DROP TRIGGER cost_lines_added;
DROP TRIGGER cost_lines_gone;
DROP TRIGGER cost_lines_moved;
ALTER TABLE job_sums ADD COLUMN charge INTEGER NOT NULL DEFAULT 0;
DELETE FROM job_sums;
INSERT INTO job_sums (job_id, phase_id, labour, pending, minutes, cost, ready, charge)
  SELECT job_id, ifnull(phase_id, 0), 1, status <> 'approved', sum(minutes), sum(ifnull(cost, 0)), sum(CASE WHEN status = 'approved' AND invoice_id IS NULL THEN ifnull(charge, 0) ELSE 0 END), sum(ifnull(charge, 0)) FROM time_entries GROUP BY 1, 2, 4;
INSERT INTO job_sums (job_id, phase_id, labour, pending, minutes, cost, ready, charge)
  SELECT ifnull(job_id, 0), ifnull(phase_id, 0), 0, status <> 'approved', 0, sum(ifnull(landed, 0)), sum(CASE WHEN status = 'approved' AND invoice_id IS NULL THEN ifnull(charge, 0) ELSE 0 END), sum(ifnull(charge, 0)) FROM cost_lines GROUP BY 1, 2, 4;
-- +goose StatementBegin
CREATE TRIGGER time_entries_added AFTER INSERT ON time_entries BEGIN
  INSERT INTO job_sums (job_id, phase_id, labour, pending, minutes, cost, charge, ready)
    VALUES (ifnull(NEW.job_id, 0), ifnull(NEW.phase_id, 0), 1, NEW.status <> 'approved', NEW.minutes, ifnull(NEW.cost, 0), ifnull(NEW.charge, 0),
      CASE WHEN NEW.status = 'approved' AND NEW.invoice_id IS NULL THEN ifnull(NEW.charge, 0) ELSE 0 END)
    ON CONFLICT DO UPDATE SET minutes = minutes + excluded.minutes, cost = cost + excluded.cost, charge = charge + excluded.charge, ready = ready + excluded.ready;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_gone AFTER DELETE ON time_entries BEGIN
  UPDATE job_sums SET minutes = minutes - OLD.minutes, cost = cost - ifnull(OLD.cost, 0), charge = charge - ifnull(OLD.charge, 0),
    ready = ready - CASE WHEN OLD.status = 'approved' AND OLD.invoice_id IS NULL THEN ifnull(OLD.charge, 0) ELSE 0 END
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND labour = 1 AND pending = (OLD.status <> 'approved');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_moved AFTER UPDATE OF job_id, phase_id, status, minutes, cost, charge, invoice_id ON time_entries BEGIN
  UPDATE job_sums SET minutes = minutes - OLD.minutes, cost = cost - ifnull(OLD.cost, 0), charge = charge - ifnull(OLD.charge, 0),
    ready = ready - CASE WHEN OLD.status = 'approved' AND OLD.invoice_id IS NULL THEN ifnull(OLD.charge, 0) ELSE 0 END
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND labour = 1 AND pending = (OLD.status <> 'approved');
  INSERT INTO job_sums (job_id, phase_id, labour, pending, minutes, cost, charge, ready)
    VALUES (ifnull(NEW.job_id, 0), ifnull(NEW.phase_id, 0), 1, NEW.status <> 'approved', NEW.minutes, ifnull(NEW.cost, 0), ifnull(NEW.charge, 0),
      CASE WHEN NEW.status = 'approved' AND NEW.invoice_id IS NULL THEN ifnull(NEW.charge, 0) ELSE 0 END)
    ON CONFLICT DO UPDATE SET minutes = minutes + excluded.minutes, cost = cost + excluded.cost, charge = charge + excluded.charge, ready = ready + excluded.ready;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_added AFTER INSERT ON cost_lines BEGIN
  INSERT INTO job_sums (job_id, phase_id, labour, pending, minutes, cost, charge, ready)
    VALUES (ifnull(NEW.job_id, 0), ifnull(NEW.phase_id, 0), 0, NEW.status <> 'approved', 0, ifnull(NEW.landed, 0), ifnull(NEW.charge, 0),
      CASE WHEN NEW.status = 'approved' AND NEW.invoice_id IS NULL THEN ifnull(NEW.charge, 0) ELSE 0 END)
    ON CONFLICT DO UPDATE SET minutes = minutes + excluded.minutes, cost = cost + excluded.cost, charge = charge + excluded.charge, ready = ready + excluded.ready;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_gone AFTER DELETE ON cost_lines BEGIN
  UPDATE job_sums SET cost = cost - ifnull(OLD.landed, 0), charge = charge - ifnull(OLD.charge, 0),
    ready = ready - CASE WHEN OLD.status = 'approved' AND OLD.invoice_id IS NULL THEN ifnull(OLD.charge, 0) ELSE 0 END
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND labour = 0 AND pending = (OLD.status <> 'approved');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_moved AFTER UPDATE OF job_id, phase_id, status, landed, charge, invoice_id ON cost_lines BEGIN
  UPDATE job_sums SET cost = cost - ifnull(OLD.landed, 0), charge = charge - ifnull(OLD.charge, 0),
    ready = ready - CASE WHEN OLD.status = 'approved' AND OLD.invoice_id IS NULL THEN ifnull(OLD.charge, 0) ELSE 0 END
    WHERE job_id = ifnull(OLD.job_id, 0) AND phase_id = ifnull(OLD.phase_id, 0) AND labour = 0 AND pending = (OLD.status <> 'approved');
  INSERT INTO job_sums (job_id, phase_id, labour, pending, minutes, cost, charge, ready)
    VALUES (ifnull(NEW.job_id, 0), ifnull(NEW.phase_id, 0), 0, NEW.status <> 'approved', 0, ifnull(NEW.landed, 0), ifnull(NEW.charge, 0),
      CASE WHEN NEW.status = 'approved' AND NEW.invoice_id IS NULL THEN ifnull(NEW.charge, 0) ELSE 0 END)
    ON CONFLICT DO UPDATE SET minutes = minutes + excluded.minutes, cost = cost + excluded.cost, charge = charge + excluded.charge, ready = ready + excluded.ready;
END;
-- +goose StatementEnd
