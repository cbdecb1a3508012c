-- +goose Up
-- A fixed price is billed by a schedule of values, by amounts, or by instalments that were agreed beforehand.
CREATE TABLE schedule_lines (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  job_id INTEGER NOT NULL REFERENCES jobs(id) ON DELETE CASCADE,
  phase_id INTEGER REFERENCES phases(id),
  position INTEGER NOT NULL,
  text TEXT NOT NULL CHECK (text <> ''),
  amount INTEGER NOT NULL,
  rest INTEGER NOT NULL DEFAULT 0 CHECK (rest IN (0, 1)), -- what was billed before there was a schedule is of this line
  UNIQUE (job_id, position)
) STRICT;
CREATE UNIQUE INDEX schedule_lines_rest ON schedule_lines (job_id) WHERE rest = 1;
CREATE TABLE instalments (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  job_id INTEGER NOT NULL REFERENCES jobs(id) ON DELETE CASCADE,
  position INTEGER NOT NULL,
  text TEXT NOT NULL CHECK (text <> ''),
  amount INTEGER NOT NULL DEFAULT 0,
  percent INTEGER NOT NULL DEFAULT 0 CHECK (percent BETWEEN 0 AND 1000000),
  rest INTEGER NOT NULL DEFAULT 0 CHECK (rest IN (0, 1)),
  due INTEGER, -- NULL: when its milestone is reached
  reached INTEGER, -- the day on which it was
  UNIQUE (job_id, position),
  CHECK ((amount <> 0) + (percent <> 0) + rest = 1)
) STRICT;

ALTER TABLE typed_lines ADD COLUMN schedule_line_id INTEGER REFERENCES schedule_lines(id);
ALTER TABLE typed_lines ADD COLUMN instalment_id INTEGER REFERENCES instalments(id);
ALTER TABLE typed_lines ADD COLUMN complete INTEGER; -- of progress, in 1/10 000 of a percent; NULL is an amount
ALTER TABLE typed_lines ADD COLUMN stored INTEGER NOT NULL DEFAULT 0;
ALTER TABLE typed_lines ADD COLUMN beyond INTEGER NOT NULL DEFAULT 0 CHECK (beyond IN (0, 1)); -- more than the contract is meant
CREATE INDEX typed_lines_schedule ON typed_lines (schedule_line_id) WHERE schedule_line_id IS NOT NULL;
CREATE INDEX typed_lines_instalment ON typed_lines (instalment_id) WHERE instalment_id IS NOT NULL;
CREATE INDEX typed_lines_fixed ON typed_lines (job_id, kind) WHERE kind IN ('progress', 'instalment');

-- What was agreed of the fixed work of each job: of a fixed job its contract, else that of its fixed phases.
CREATE VIEW fixed_contracts AS
  SELECT j.id AS job_id, CASE j.basis WHEN 'fixed' THEN j.contract ELSE (SELECT sum(p.contract) FROM phases p
    WHERE p.job_id = j.id AND p.basis = 'fixed') END AS contract
    FROM jobs j WHERE j.basis = 'fixed' OR EXISTS (SELECT 1 FROM phases p WHERE p.job_id = j.id AND p.basis = 'fixed');

-- What was billed of the fixed work of each job, by line of its schedule and by instalment: issued, less what was credited to bill again, and
-- on drafts. What a credit note allowed counts as billed.
CREATE VIEW fixed_billed AS
  SELECT t.job_id, t.schedule_line_id, t.instalment_id, t.invoice_id, t.id AS typed_line_id,
    iif(i.status = 'issued', t.amount - (SELECT ifnull(sum(c.amount), 0) FROM invoice_lines l JOIN credits c ON c.line_id = l.id
      WHERE l.typed_line_id = t.id AND c.again = 1), 0) AS billed, iif(i.status = 'draft', t.amount, 0) AS drafted
    FROM typed_lines t JOIN invoices i ON i.id = t.invoice_id WHERE t.kind IN ('progress', 'instalment');

-- A schedule line or an instalment that was billed stays.
-- +goose StatementBegin
CREATE TRIGGER schedule_lines_kept BEFORE DELETE ON schedule_lines WHEN
  EXISTS (SELECT 1 FROM typed_lines WHERE schedule_line_id = OLD.id) BEGIN
  SELECT RAISE(ABORT, 'a line of the schedule that is on an invoice stays');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER instalments_kept BEFORE DELETE ON instalments WHEN
  EXISTS (SELECT 1 FROM typed_lines WHERE instalment_id = OLD.id) BEGIN
  SELECT RAISE(ABORT, 'an instalment that is on an invoice stays');
END;
-- +goose StatementEnd
