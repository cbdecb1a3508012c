-- +goose Up
-- How often each number of a supplier was entered, so that those entered twice are found without looking through all papers.
-- Written by these triggers alone; jarvo verify counts again.
CREATE TABLE supplier_numbers (
  supplier TEXT NOT NULL,
  number TEXT NOT NULL,
  documents INTEGER NOT NULL,
  PRIMARY KEY (supplier, number)
) STRICT, WITHOUT ROWID;
CREATE INDEX supplier_numbers_twice ON supplier_numbers (supplier, number, documents) WHERE documents > 1;
INSERT INTO supplier_numbers SELECT supplier, number, count(*) FROM cost_documents WHERE supplier <> '' AND number <> '' GROUP BY supplier, number;
-- +goose StatementBegin
CREATE TRIGGER supplier_numbers_added AFTER INSERT ON cost_documents WHEN NEW.supplier <> '' AND NEW.number <> '' BEGIN
  INSERT INTO supplier_numbers VALUES (NEW.supplier, NEW.number, 1) ON CONFLICT DO UPDATE SET documents = documents + 1;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER supplier_numbers_removed AFTER DELETE ON cost_documents WHEN OLD.supplier <> '' AND OLD.number <> '' BEGIN
  UPDATE supplier_numbers SET documents = documents - 1 WHERE supplier = OLD.supplier AND number = OLD.number;
  DELETE FROM supplier_numbers WHERE supplier = OLD.supplier AND number = OLD.number AND documents = 0;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER supplier_numbers_changed AFTER UPDATE OF supplier, number ON cost_documents WHEN OLD.supplier <> NEW.supplier OR OLD.number <> NEW.number BEGIN
  UPDATE supplier_numbers SET documents = documents - 1 WHERE supplier = OLD.supplier AND number = OLD.number;
  DELETE FROM supplier_numbers WHERE supplier = OLD.supplier AND number = OLD.number AND documents = 0;
  INSERT INTO supplier_numbers SELECT NEW.supplier, NEW.number, 1 WHERE NEW.supplier <> '' AND NEW.number <> '' ON CONFLICT DO UPDATE SET documents = documents + 1;
END;
-- +goose StatementEnd
