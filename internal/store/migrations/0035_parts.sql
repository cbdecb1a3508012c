-- +goose Up
-- Work is billed in parts that a person chooses, what is left of it can be written down with a reason, or held for a later invoice.
DROP TRIGGER invoice_sources_fixed;
ALTER TABLE invoice_sources ADD COLUMN way TEXT NOT NULL DEFAULT 'rest'
  CHECK (way IN ('rest', 'fit', 'hours', 'quantity', 'percent', 'amount'));
ALTER TABLE invoice_sources ADD COLUMN typed INTEGER NOT NULL DEFAULT 0; -- minutes, 1/1 000 of a unit, 1/10 000 of a percent, or an amount
ALTER TABLE invoice_sources ADD COLUMN runs TEXT NOT NULL DEFAULT ''; -- the minutes of an entry that it holds: 0-200 480-510
ALTER TABLE invoice_sources ADD COLUMN up INTEGER NOT NULL DEFAULT 0; -- of the amount: beyond what was left
ALTER TABLE invoice_sources ADD COLUMN down INTEGER NOT NULL DEFAULT 0; -- of what it leaves: written down
ALTER TABLE invoice_sources ADD COLUMN all_down INTEGER NOT NULL DEFAULT 0 CHECK (all_down IN (0, 1)); -- all that it leaves is
ALTER TABLE invoice_sources ADD COLUMN reason TEXT NOT NULL DEFAULT '' CHECK (reason <> '' OR down = 0);
UPDATE invoice_sources SET way = 'fit' WHERE whole = 0;
ALTER TABLE invoice_sources DROP COLUMN whole;
-- +goose StatementBegin
CREATE TRIGGER invoice_sources_fixed BEFORE UPDATE ON invoice_sources WHEN
  EXISTS (SELECT 1 FROM invoices WHERE id IN (OLD.invoice_id, NEW.invoice_id) AND status = 'issued') BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd

-- What is held for a later invoice: no bill run takes it until somebody bills it or lets it go.
CREATE TABLE holds (
  id INTEGER PRIMARY KEY,
  entry_id INTEGER UNIQUE REFERENCES time_entries(id) ON DELETE CASCADE,
  cost_line_id INTEGER UNIQUE REFERENCES cost_lines(id) ON DELETE CASCADE,
  note TEXT NOT NULL DEFAULT '',
  held_by TEXT NOT NULL DEFAULT '',
  held_at INTEGER NOT NULL,
  CHECK ((entry_id IS NULL) <> (cost_line_id IS NULL))
) STRICT;

CREATE VIEW held_work AS
  SELECT h.id AS hold_id, h.entry_id, h.cost_line_id, h.note, e.job_id, e.date, e.ready FROM holds h JOIN time_entries e ON e.id = h.entry_id
  UNION ALL SELECT h.id, h.entry_id, h.cost_line_id, h.note, l.job_id, l.date, l.ready FROM holds h JOIN cost_lines l
    ON l.id = h.cost_line_id;

-- What an invoice bills of work and writes down of it is marked on the work itself. It never goes beyond what is charged: nothing is left
-- on the other side of 0.
CREATE VIEW overbilled AS
  SELECT id AS entry_id, NULL AS cost_line_id FROM time_entries
    WHERE (charge - drafted - invoiced - written) * ((charge > 0) - (charge < 0)) < 0
  UNION ALL SELECT NULL, id FROM cost_lines WHERE (charge - drafted - invoiced - written) * ((charge > 0) - (charge < 0)) < 0;
DROP TRIGGER invoice_sources_taken;
DROP TRIGGER invoice_sources_altered;
DROP TRIGGER invoice_sources_dropped;
DROP TRIGGER invoice_sources_left;
-- +goose StatementBegin
CREATE TRIGGER invoice_sources_taken AFTER INSERT ON invoice_sources BEGIN
  UPDATE time_entries SET invoice_id = NEW.invoice_id, drafted = drafted + NEW.amount, written = written + NEW.down - NEW.up
    WHERE id = NEW.entry_id;
  UPDATE cost_lines SET invoice_id = NEW.invoice_id, drafted = drafted + NEW.amount, written = written + NEW.down - NEW.up
    WHERE id = NEW.cost_line_id;
  DELETE FROM holds WHERE entry_id = NEW.entry_id OR cost_line_id = NEW.cost_line_id;
  SELECT RAISE(ABORT, 'this work is billed already') WHERE NEW.part > 1 AND (EXISTS (SELECT 1 FROM overbilled WHERE entry_id = NEW.entry_id)
    OR EXISTS (SELECT 1 FROM overbilled WHERE cost_line_id = NEW.cost_line_id));
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_sources_altered AFTER UPDATE OF amount, up, down ON invoice_sources WHEN
  NEW.amount <> OLD.amount OR NEW.up <> OLD.up OR NEW.down <> OLD.down BEGIN
  UPDATE time_entries SET drafted = drafted + NEW.amount - OLD.amount, written = written + NEW.down - NEW.up - OLD.down + OLD.up
    WHERE id = NEW.entry_id;
  UPDATE cost_lines SET drafted = drafted + NEW.amount - OLD.amount, written = written + NEW.down - NEW.up - OLD.down + OLD.up
    WHERE id = NEW.cost_line_id;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_sources_dropped AFTER DELETE ON invoice_sources BEGIN
  UPDATE time_entries SET drafted = drafted - OLD.amount, written = written - OLD.down + OLD.up,
    invoice_id = (SELECT s.invoice_id FROM invoice_sources s WHERE s.entry_id = OLD.entry_id
    AND s.released = 0 ORDER BY s.part DESC LIMIT 1)
    WHERE id = OLD.entry_id;
  UPDATE cost_lines SET drafted = drafted - OLD.amount, written = written - OLD.down + OLD.up,
    invoice_id = (SELECT s.invoice_id FROM invoice_sources s WHERE s.cost_line_id = OLD.cost_line_id
    AND s.released = 0 ORDER BY s.part DESC LIMIT 1)
    WHERE id = OLD.cost_line_id;
END;
-- +goose StatementEnd

-- +goose StatementBegin
CREATE TRIGGER invoices_within BEFORE UPDATE OF status ON invoices WHEN
  NEW.status = 'issued' AND OLD.status <> 'issued' BEGIN
  SELECT RAISE(ABORT, 'more would be billed than is charged') WHERE EXISTS (SELECT 1 FROM invoice_sources s WHERE s.invoice_id = NEW.id
    AND (EXISTS (SELECT 1 FROM overbilled o WHERE o.entry_id = s.entry_id)
    OR EXISTS (SELECT 1 FROM overbilled o WHERE o.cost_line_id = s.cost_line_id)));
END;
-- +goose StatementEnd
