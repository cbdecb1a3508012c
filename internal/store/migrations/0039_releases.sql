-- +goose Up
-- Retainage is released on an invoice of its own: so much of each job, taken from the invoices that it is held on.
CREATE TABLE releases (
  invoice_id INTEGER NOT NULL REFERENCES invoices(id) ON DELETE CASCADE,
  job_id INTEGER NOT NULL REFERENCES jobs(id),
  amount INTEGER NOT NULL CHECK (amount > 0),
  PRIMARY KEY (invoice_id, job_id)
) STRICT, WITHOUT ROWID;
CREATE TABLE release_parts (
  invoice_id INTEGER NOT NULL REFERENCES invoices(id) ON DELETE CASCADE, -- the release
  job_id INTEGER NOT NULL REFERENCES jobs(id),
  from_id INTEGER NOT NULL REFERENCES invoices(id), -- the invoice that it was held on
  amount INTEGER NOT NULL CHECK (amount <> 0),
  PRIMARY KEY (invoice_id, job_id, from_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX release_parts_from ON release_parts (from_id, job_id);
CREATE INDEX releases_job ON releases (job_id);

-- What is held on each invoice of a job: its retainage, less what credit notes gave back of it and what was released.
CREATE VIEW held_on_invoices AS
  SELECT b.job_id, b.invoice_id, i.date, i.number, i.customer_id, b.retainage
    + (SELECT ifnull(sum(x.retainage), 0) FROM invoices n JOIN invoice_jobs x ON x.invoice_id = n.id
      WHERE n.credit_of = i.id AND n.status = 'issued' AND x.job_id = b.job_id)
    - (SELECT ifnull(sum(p.amount), 0) FROM release_parts p JOIN invoices r ON r.id = p.invoice_id
      WHERE p.from_id = i.id AND p.job_id = b.job_id AND r.status = 'issued') AS held
    FROM invoice_jobs b JOIN invoices i ON i.id = b.invoice_id
    WHERE i.status = 'issued' AND i.credit_of IS NULL AND NOT EXISTS (SELECT 1 FROM releases r WHERE r.invoice_id = i.id);

-- +goose StatementBegin
CREATE TRIGGER releases_no_insert BEFORE INSERT ON releases WHEN
  (SELECT status FROM invoices WHERE id = NEW.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER releases_fixed BEFORE UPDATE ON releases WHEN
  EXISTS (SELECT 1 FROM invoices WHERE id IN (OLD.invoice_id, NEW.invoice_id) AND status = 'issued') BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER releases_kept BEFORE DELETE ON releases WHEN
  (SELECT status FROM invoices WHERE id = OLD.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER release_parts_no_insert BEFORE INSERT ON release_parts WHEN
  (SELECT status FROM invoices WHERE id = NEW.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER release_parts_fixed BEFORE UPDATE ON release_parts BEGIN
  SELECT RAISE(ABORT, 'what is released is laid out anew');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER release_parts_kept BEFORE DELETE ON release_parts WHEN
  (SELECT status FROM invoices WHERE id = OLD.invoice_id) = 'issued' BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoices_released BEFORE UPDATE OF status ON invoices WHEN
  NEW.status = 'issued' AND OLD.status <> 'issued' AND EXISTS (SELECT 1 FROM releases WHERE invoice_id = NEW.id) BEGIN
  SELECT RAISE(ABORT, 'more would be released than is held') WHERE EXISTS (SELECT 1 FROM release_parts p
    JOIN held_on_invoices h ON h.invoice_id = p.from_id AND h.job_id = p.job_id
    WHERE p.invoice_id = NEW.id AND (h.held - p.amount) * h.held < 0);
END;
-- +goose StatementEnd
