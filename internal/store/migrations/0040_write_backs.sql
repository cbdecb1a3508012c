-- +goose Up
-- What an issued invoice wrote down can be taken back, and is then ready to bill again.
CREATE TABLE write_backs (
  id INTEGER PRIMARY KEY,
  source_id INTEGER NOT NULL REFERENCES invoice_sources(id),
  date INTEGER NOT NULL,
  amount INTEGER NOT NULL CHECK (amount <> 0), -- with the sign of what was written down
  note TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX write_backs_source ON write_backs (source_id);
CREATE VIEW written_down AS
  SELECT s.id AS source_id, s.invoice_id, s.down - (SELECT ifnull(sum(b.amount), 0) FROM write_backs b WHERE b.source_id = s.id) AS "left"
    FROM invoice_sources s WHERE s.down <> 0;
-- +goose StatementBegin
CREATE TRIGGER write_backs_taken AFTER INSERT ON write_backs BEGIN
  SELECT RAISE(ABORT, 'more would be taken back than was written down') WHERE NOT EXISTS (SELECT 1 FROM written_down w
    JOIN invoices i ON i.id = w.invoice_id AND i.status = 'issued' WHERE w.source_id = NEW.source_id AND w."left" * NEW.amount >= 0);
  UPDATE time_entries SET written = written - NEW.amount WHERE id = (SELECT entry_id FROM invoice_sources WHERE id = NEW.source_id);
  UPDATE cost_lines SET written = written - NEW.amount WHERE id = (SELECT cost_line_id FROM invoice_sources WHERE id = NEW.source_id);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER write_backs_fixed BEFORE UPDATE ON write_backs BEGIN
  SELECT RAISE(ABORT, 'what was taken back stays as it was');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER write_backs_kept BEFORE DELETE ON write_backs BEGIN
  SELECT RAISE(ABORT, 'what was taken back stays as it was');
END;
-- +goose StatementEnd
