-- +goose Up
-- Workers sign in to clock their own hours, and a foreman may be kept to a crew. The check of the role can't be changed in
-- place, so the table is made again; what refers to it stays, since foreign keys are off while the schema is brought up to date.
CREATE TABLE users_again (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL CHECK (name <> ''),
  sign_in TEXT NOT NULL UNIQUE COLLATE NOCASE CHECK (sign_in <> ''),
  password_hash TEXT NOT NULL CHECK (password_hash <> ''),
  role TEXT NOT NULL CHECK (role IN ('owner', 'bookkeeper', 'manager', 'foreman', 'worker')),
  active INTEGER NOT NULL DEFAULT 1 CHECK (active IN (0, 1)),
  crew TEXT NOT NULL DEFAULT '', -- what a foreman is kept to
  worker_id INTEGER REFERENCES workers(id), -- whose own hours they clock
  CHECK (role <> 'worker' OR worker_id IS NOT NULL)
) STRICT;
INSERT INTO users_again (id, name, sign_in, password_hash, role, active) SELECT id, name, sign_in, password_hash, role, active FROM users;
DROP TABLE users;
ALTER TABLE users_again RENAME TO users;

-- Who is at work now: one row a worker, from clocking in to clocking out.
CREATE TABLE clockings (
  worker_id INTEGER PRIMARY KEY REFERENCES workers(id),
  date INTEGER NOT NULL,
  start INTEGER NOT NULL CHECK (start BETWEEN 0 AND 1439),
  job_id INTEGER NOT NULL REFERENCES jobs(id),
  phase_id INTEGER,
  cost_code_id INTEGER REFERENCES cost_codes(id),
  break_start INTEGER, -- minutes after midnight of the date, where a break is under way
  break_minutes INTEGER NOT NULL DEFAULT 0 CHECK (break_minutes >= 0),
  key TEXT NOT NULL,
  FOREIGN KEY (phase_id, job_id) REFERENCES phases(id, job_id)
) STRICT;
