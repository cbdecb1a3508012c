-- +goose Up
-- What is booked to each job and phase, added up as it is booked, so that a list of jobs reads a row a phase and not a
-- row an entry. Written by these triggers alone; jarvo verify adds it up again from the entries and lines.
CREATE TABLE job_sums (
  job_id INTEGER NOT NULL,
  phase_id INTEGER NOT NULL, -- 0: booked to none
  labour INTEGER NOT NULL,
  pending INTEGER NOT NULL, -- not approved yet
  minutes INTEGER NOT NULL DEFAULT 0,
  cost INTEGER NOT NULL DEFAULT 0,
  ready INTEGER NOT NULL DEFAULT 0, -- charges of what is ready to bill
  PRIMARY KEY (job_id, phase_id, labour, pending)
) STRICT, WITHOUT ROWID;

-- +goose StatementBegin
CREATE TRIGGER time_entries_added AFTER INSERT ON time_entries BEGIN
  INSERT INTO job_sums (job_id, phase_id, labour, pending, minutes, cost, ready)
    SELECT NEW.job_id, ifnull(NEW.phase_id, 0), 1, NEW.status <> 'approved', NEW.minutes, ifnull(NEW.cost, 0),
      CASE WHEN NEW.status = 'approved' AND NEW.invoice_id IS NULL THEN ifnull(NEW.charge, 0) ELSE 0 END WHERE NEW.job_id IS NOT NULL
    ON CONFLICT DO UPDATE SET minutes = minutes + excluded.minutes, cost = cost + excluded.cost, ready = ready + excluded.ready;
END;
-- +goose StatementEnd

-- +goose StatementBegin
CREATE TRIGGER time_entries_gone AFTER DELETE ON time_entries BEGIN
  UPDATE job_sums SET minutes = minutes - OLD.minutes, cost = cost - ifnull(OLD.cost, 0),
    ready = ready - CASE WHEN OLD.status = 'approved' AND OLD.invoice_id IS NULL THEN ifnull(OLD.charge, 0) ELSE 0 END
    WHERE job_id = OLD.job_id AND phase_id = ifnull(OLD.phase_id, 0) AND labour = 1 AND pending = (OLD.status <> 'approved');
END;
-- +goose StatementEnd

-- +goose StatementBegin
CREATE TRIGGER time_entries_moved AFTER UPDATE OF job_id, phase_id, status, minutes, cost, charge, invoice_id ON time_entries BEGIN
  UPDATE job_sums SET minutes = minutes - OLD.minutes, cost = cost - ifnull(OLD.cost, 0),
    ready = ready - CASE WHEN OLD.status = 'approved' AND OLD.invoice_id IS NULL THEN ifnull(OLD.charge, 0) ELSE 0 END
    WHERE job_id = OLD.job_id AND phase_id = ifnull(OLD.phase_id, 0) AND labour = 1 AND pending = (OLD.status <> 'approved');
  INSERT INTO job_sums (job_id, phase_id, labour, pending, minutes, cost, ready)
    SELECT NEW.job_id, ifnull(NEW.phase_id, 0), 1, NEW.status <> 'approved', NEW.minutes, ifnull(NEW.cost, 0),
      CASE WHEN NEW.status = 'approved' AND NEW.invoice_id IS NULL THEN ifnull(NEW.charge, 0) ELSE 0 END WHERE NEW.job_id IS NOT NULL
    ON CONFLICT DO UPDATE SET minutes = minutes + excluded.minutes, cost = cost + excluded.cost, ready = ready + excluded.ready;
END;
-- +goose StatementEnd

-- +goose StatementBegin
CREATE TRIGGER cost_lines_added AFTER INSERT ON cost_lines BEGIN
  INSERT INTO job_sums (job_id, phase_id, labour, pending, minutes, cost, ready)
    SELECT NEW.job_id, ifnull(NEW.phase_id, 0), 0, NEW.status <> 'approved', 0, ifnull(NEW.landed, 0),
      CASE WHEN NEW.status = 'approved' AND NEW.invoice_id IS NULL THEN ifnull(NEW.charge, 0) ELSE 0 END WHERE NEW.job_id IS NOT NULL
    ON CONFLICT DO UPDATE SET minutes = minutes + excluded.minutes, cost = cost + excluded.cost, ready = ready + excluded.ready;
END;
-- +goose StatementEnd

-- +goose StatementBegin
CREATE TRIGGER cost_lines_gone AFTER DELETE ON cost_lines BEGIN
  UPDATE job_sums SET cost = cost - ifnull(OLD.landed, 0),
    ready = ready - CASE WHEN OLD.status = 'approved' AND OLD.invoice_id IS NULL THEN ifnull(OLD.charge, 0) ELSE 0 END
    WHERE job_id = OLD.job_id AND phase_id = ifnull(OLD.phase_id, 0) AND labour = 0 AND pending = (OLD.status <> 'approved');
END;
-- +goose StatementEnd

-- +goose StatementBegin
CREATE TRIGGER cost_lines_moved AFTER UPDATE OF job_id, phase_id, status, landed, charge, invoice_id ON cost_lines BEGIN
  UPDATE job_sums SET cost = cost - ifnull(OLD.landed, 0),
    ready = ready - CASE WHEN OLD.status = 'approved' AND OLD.invoice_id IS NULL THEN ifnull(OLD.charge, 0) ELSE 0 END
    WHERE job_id = OLD.job_id AND phase_id = ifnull(OLD.phase_id, 0) AND labour = 0 AND pending = (OLD.status <> 'approved');
  INSERT INTO job_sums (job_id, phase_id, labour, pending, minutes, cost, ready)
    SELECT NEW.job_id, ifnull(NEW.phase_id, 0), 0, NEW.status <> 'approved', 0, ifnull(NEW.landed, 0),
      CASE WHEN NEW.status = 'approved' AND NEW.invoice_id IS NULL THEN ifnull(NEW.charge, 0) ELSE 0 END WHERE NEW.job_id IS NOT NULL
    ON CONFLICT DO UPDATE SET minutes = minutes + excluded.minutes, cost = cost + excluded.cost, ready = ready + excluded.ready;
END;
-- +goose StatementEnd
