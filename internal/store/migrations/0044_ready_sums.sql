-- +goose Up
-- What is ready to bill is kept added up by job, kind of cost and four weeks, and beside that over all of them: how much there is up to a day
-- is a row a job and kind, less what is later. A span of four weeks is the day / 28.
CREATE TABLE ready_sums (
  job_id INTEGER NOT NULL, -- 0: what has no job yet
  category TEXT NOT NULL,
  span INTEGER NOT NULL,
  works INTEGER NOT NULL CHECK (works >= 0),
  charge INTEGER NOT NULL, -- what of it is ready
  oldest INTEGER NOT NULL, -- the first day of it
  PRIMARY KEY (job_id, category, span)
) STRICT, WITHOUT ROWID;
CREATE INDEX ready_sums_span ON ready_sums (span, job_id, category, works, charge);
-- The same added up from the entries and lines: what the triggers below keep, and jarvo verify compares with it.
CREATE VIEW ready_added_up AS
  SELECT ifnull(job_id, 0) AS job_id, 'labour' AS category, date / 28 AS span, count(*) AS works, sum(ready) AS charge,
    min(date) AS oldest FROM ready_hours GROUP BY 1, 3
  UNION ALL SELECT ifnull(job_id, 0), category, date / 28, count(*), sum(ready), min(date) FROM ready_lines GROUP BY 1, 2, 3;
CREATE TABLE ready_totals (
  job_id INTEGER NOT NULL,
  category TEXT NOT NULL,
  works INTEGER NOT NULL,
  charge INTEGER NOT NULL,
  oldest INTEGER NOT NULL,
  PRIMARY KEY (job_id, category)
) STRICT, WITHOUT ROWID;
-- +goose StatementBegin
CREATE TRIGGER ready_sums_added AFTER INSERT ON ready_sums BEGIN
  INSERT INTO ready_totals VALUES (NEW.job_id, NEW.category, NEW.works, NEW.charge, NEW.oldest)
    ON CONFLICT DO UPDATE SET works = works + excluded.works, charge = charge + excluded.charge,
      oldest = min(oldest, excluded.oldest);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER ready_sums_changed AFTER UPDATE ON ready_sums BEGIN
  UPDATE ready_totals SET works = works + NEW.works - OLD.works, charge = charge + NEW.charge - OLD.charge,
    oldest = CASE WHEN NEW.oldest = OLD.oldest THEN oldest ELSE (SELECT r.oldest FROM ready_sums r
      WHERE r.job_id = NEW.job_id AND r.category = NEW.category ORDER BY r.span LIMIT 1) END
    WHERE job_id = NEW.job_id AND category = NEW.category;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER ready_sums_gone AFTER DELETE ON ready_sums BEGIN
  DELETE FROM ready_totals WHERE job_id = OLD.job_id AND category = OLD.category AND works = OLD.works;
  UPDATE ready_totals SET works = works - OLD.works, charge = charge - OLD.charge,
    oldest = (SELECT r.oldest FROM ready_sums r WHERE r.job_id = OLD.job_id AND r.category = OLD.category ORDER BY r.span LIMIT 1)
    WHERE job_id = OLD.job_id AND category = OLD.category;
END;
-- +goose StatementEnd
INSERT INTO ready_sums SELECT * FROM ready_added_up;

-- Hours that could be billed and have no rate, by four weeks and worker.
CREATE TABLE unpriced_sums (
  span INTEGER NOT NULL,
  worker_id INTEGER NOT NULL,
  works INTEGER NOT NULL CHECK (works >= 0),
  minutes INTEGER NOT NULL,
  cost INTEGER NOT NULL,
  PRIMARY KEY (span, worker_id)
) STRICT, WITHOUT ROWID;
CREATE VIEW unpriced_added_up AS
  SELECT date / 28 AS span, worker_id, count(*) AS works, sum(minutes) AS minutes, ifnull(sum(cost), 0) AS cost
    FROM time_entries INDEXED BY time_entries_unpriced WHERE unpriced = 1 GROUP BY 1, 2;
INSERT INTO unpriced_sums SELECT * FROM unpriced_added_up;

-- +goose StatementBegin
CREATE TRIGGER time_entries_ready_added AFTER INSERT ON time_entries WHEN
  NEW.ready IS NOT NULL BEGIN
  INSERT INTO ready_sums SELECT ifnull(NEW.job_id, 0), 'labour', NEW.date / 28, 1, NEW.ready, NEW.date
    WHERE NEW.ready IS NOT NULL ON CONFLICT DO UPDATE SET works = works + 1, charge = charge + excluded.charge,
      oldest = min(oldest, excluded.oldest);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_ready_gone AFTER DELETE ON time_entries WHEN
  OLD.ready IS NOT NULL BEGIN
  UPDATE ready_sums SET works = works - 1, charge = charge - OLD.ready,
    oldest = CASE WHEN OLD.date > oldest THEN oldest ELSE ifnull((SELECT min(h.date) FROM ready_hours h WHERE h.job_id = OLD.job_id
      AND h.date BETWEEN OLD.date / 28 * 28 AND OLD.date / 28 * 28 + 27), oldest) END
    WHERE OLD.ready IS NOT NULL AND span = OLD.date / 28 AND job_id = ifnull(OLD.job_id, 0) AND category = 'labour';
  DELETE FROM ready_sums WHERE works = 0 AND span = OLD.date / 28 AND job_id = ifnull(OLD.job_id, 0) AND category = 'labour';
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_ready_moves AFTER UPDATE OF job_id, date, status, charge, invoice_id, drafted, invoiced, written, held
    ON time_entries WHEN
  (OLD.ready IS NOT NULL OR NEW.ready IS NOT NULL) AND (NEW.ready IS NOT OLD.ready
    OR NEW.job_id IS NOT OLD.job_id OR NEW.date <> OLD.date) BEGIN
  UPDATE ready_sums SET works = works - 1, charge = charge - OLD.ready,
    oldest = CASE WHEN OLD.date > oldest THEN oldest ELSE ifnull((SELECT min(h.date) FROM ready_hours h WHERE h.job_id = OLD.job_id
      AND h.date BETWEEN OLD.date / 28 * 28 AND OLD.date / 28 * 28 + 27), oldest) END
    WHERE OLD.ready IS NOT NULL AND span = OLD.date / 28 AND job_id = ifnull(OLD.job_id, 0) AND category = 'labour';
  DELETE FROM ready_sums WHERE works = 0 AND span = OLD.date / 28 AND job_id = ifnull(OLD.job_id, 0) AND category = 'labour';
  INSERT INTO ready_sums SELECT ifnull(NEW.job_id, 0), 'labour', NEW.date / 28, 1, NEW.ready, NEW.date
    WHERE NEW.ready IS NOT NULL ON CONFLICT DO UPDATE SET works = works + 1, charge = charge + excluded.charge,
      oldest = min(oldest, excluded.oldest);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_ready_added AFTER INSERT ON cost_lines WHEN
  NEW.ready IS NOT NULL BEGIN
  INSERT INTO ready_sums SELECT ifnull(NEW.job_id, 0), NEW.category, NEW.date / 28, 1, NEW.ready, NEW.date
    WHERE NEW.ready IS NOT NULL ON CONFLICT DO UPDATE SET works = works + 1, charge = charge + excluded.charge,
      oldest = min(oldest, excluded.oldest);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_ready_gone AFTER DELETE ON cost_lines WHEN
  OLD.ready IS NOT NULL BEGIN
  UPDATE ready_sums SET works = works - 1, charge = charge - OLD.ready,
    oldest = CASE WHEN OLD.date > oldest THEN oldest ELSE ifnull((SELECT min(h.date) FROM ready_lines h WHERE h.job_id = OLD.job_id AND h.category = OLD.category
      AND h.date BETWEEN OLD.date / 28 * 28 AND OLD.date / 28 * 28 + 27), oldest) END
    WHERE OLD.ready IS NOT NULL AND span = OLD.date / 28 AND job_id = ifnull(OLD.job_id, 0) AND category = OLD.category;
  DELETE FROM ready_sums WHERE works = 0 AND span = OLD.date / 28 AND job_id = ifnull(OLD.job_id, 0) AND category = OLD.category;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_lines_ready_moves AFTER UPDATE OF job_id, date, status, charge, invoice_id, drafted, invoiced, written, held, category
    ON cost_lines WHEN
  (OLD.ready IS NOT NULL OR NEW.ready IS NOT NULL) AND (NEW.ready IS NOT OLD.ready
    OR NEW.job_id IS NOT OLD.job_id OR NEW.date <> OLD.date OR NEW.category <> OLD.category) BEGIN
  UPDATE ready_sums SET works = works - 1, charge = charge - OLD.ready,
    oldest = CASE WHEN OLD.date > oldest THEN oldest ELSE ifnull((SELECT min(h.date) FROM ready_lines h WHERE h.job_id = OLD.job_id AND h.category = OLD.category
      AND h.date BETWEEN OLD.date / 28 * 28 AND OLD.date / 28 * 28 + 27), oldest) END
    WHERE OLD.ready IS NOT NULL AND span = OLD.date / 28 AND job_id = ifnull(OLD.job_id, 0) AND category = OLD.category;
  DELETE FROM ready_sums WHERE works = 0 AND span = OLD.date / 28 AND job_id = ifnull(OLD.job_id, 0) AND category = OLD.category;
  INSERT INTO ready_sums SELECT ifnull(NEW.job_id, 0), NEW.category, NEW.date / 28, 1, NEW.ready, NEW.date
    WHERE NEW.ready IS NOT NULL ON CONFLICT DO UPDATE SET works = works + 1, charge = charge + excluded.charge,
      oldest = min(oldest, excluded.oldest);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_unpriced_added AFTER INSERT ON time_entries WHEN
  NEW.unpriced = 1 BEGIN
  INSERT INTO unpriced_sums SELECT NEW.date / 28, NEW.worker_id, 1, NEW.minutes, ifnull(NEW.cost, 0) WHERE NEW.unpriced = 1
    ON CONFLICT DO UPDATE SET works = works + 1, minutes = minutes + excluded.minutes, cost = cost + excluded.cost;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_unpriced_gone AFTER DELETE ON time_entries WHEN
  OLD.unpriced = 1 BEGIN
  UPDATE unpriced_sums SET works = works - 1, minutes = minutes - OLD.minutes, cost = cost - ifnull(OLD.cost, 0)
    WHERE OLD.unpriced = 1 AND span = OLD.date / 28 AND worker_id = OLD.worker_id;
  DELETE FROM unpriced_sums WHERE works = 0 AND span = OLD.date / 28 AND worker_id = OLD.worker_id;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_unpriced_changed AFTER UPDATE OF minutes, cost ON time_entries WHEN
  OLD.unpriced = 1 AND NEW.unpriced = 1 AND NEW.worker_id = OLD.worker_id AND NEW.date = OLD.date BEGIN
  UPDATE unpriced_sums SET minutes = minutes + NEW.minutes - OLD.minutes, cost = cost + ifnull(NEW.cost, 0) - ifnull(OLD.cost, 0)
    WHERE span = OLD.date / 28 AND worker_id = OLD.worker_id;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_entries_unpriced_moves AFTER UPDATE OF worker_id, date, unpriced ON time_entries WHEN
  (OLD.unpriced = 1 OR NEW.unpriced = 1) AND (NEW.unpriced <> OLD.unpriced OR NEW.worker_id <> OLD.worker_id OR NEW.date <> OLD.date) BEGIN
  UPDATE unpriced_sums SET works = works - 1, minutes = minutes - OLD.minutes, cost = cost - ifnull(OLD.cost, 0)
    WHERE OLD.unpriced = 1 AND span = OLD.date / 28 AND worker_id = OLD.worker_id;
  DELETE FROM unpriced_sums WHERE works = 0 AND span = OLD.date / 28 AND worker_id = OLD.worker_id;
  INSERT INTO unpriced_sums SELECT NEW.date / 28, NEW.worker_id, 1, NEW.minutes, ifnull(NEW.cost, 0) WHERE NEW.unpriced = 1
    ON CONFLICT DO UPDATE SET works = works + 1, minutes = minutes + excluded.minutes, cost = cost + excluded.cost;
END;
-- +goose StatementEnd

-- What is held is found from the few holds, and not from all work.
DROP VIEW held_work;
CREATE VIEW held_work AS
  SELECT h.id AS hold_id, h.entry_id, h.cost_line_id, h.note, e.job_id, e.date, e.ready FROM holds h CROSS JOIN time_entries e
    WHERE e.id = h.entry_id
  UNION ALL SELECT h.id, h.entry_id, h.cost_line_id, h.note, l.job_id, l.date, l.ready FROM holds h CROSS JOIN cost_lines l
    WHERE l.id = h.cost_line_id;
