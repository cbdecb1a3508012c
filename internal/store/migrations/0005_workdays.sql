-- +goose Up
-- When somebody was at work on a day, by the clock: what hours placed on jobs are held against.
CREATE TABLE workdays (
  worker_id INTEGER NOT NULL REFERENCES workers(id),
  date INTEGER NOT NULL,
  start INTEGER NOT NULL CHECK (start BETWEEN 0 AND 1439),
  finish INTEGER NOT NULL CHECK (finish BETWEEN 0 AND 1439),
  break_minutes INTEGER NOT NULL DEFAULT 0 CHECK (break_minutes >= 0),
  minutes INTEGER NOT NULL CHECK (minutes BETWEEN 1 AND 1440),
  version INTEGER NOT NULL DEFAULT 1,
  PRIMARY KEY (worker_id, date)
) STRICT, WITHOUT ROWID;
CREATE INDEX workdays_date ON workdays (date);
