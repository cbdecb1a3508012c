-- +goose Up
-- Suppliers are records: the names that papers were typed with are taken over, and a paper refers to its supplier.
CREATE TABLE suppliers (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  name TEXT NOT NULL UNIQUE CHECK (name <> ''),
  category TEXT NOT NULL DEFAULT '',
  cost_code_id INTEGER REFERENCES cost_codes(id),
  terms_days INTEGER CHECK (terms_days >= 0),
  active INTEGER NOT NULL DEFAULT 1 CHECK (active IN (0, 1)),
  version INTEGER NOT NULL DEFAULT 1
) STRICT;
INSERT INTO suppliers (name) SELECT DISTINCT supplier FROM cost_documents WHERE supplier <> '' ORDER BY 1;

DROP VIEW findable;
DROP VIEW entered_twice;
DROP TRIGGER supplier_numbers_added;
DROP TRIGGER supplier_numbers_removed;
DROP TRIGGER supplier_numbers_changed;
DROP TABLE supplier_numbers;
DROP INDEX cost_documents_number;
DROP INDEX cost_documents_supplier;
ALTER TABLE cost_documents ADD COLUMN supplier_id INTEGER REFERENCES suppliers(id);
UPDATE cost_documents SET supplier_id = (SELECT id FROM suppliers WHERE name = supplier) WHERE supplier <> '';
ALTER TABLE cost_documents DROP COLUMN supplier;
CREATE INDEX cost_documents_supplier ON cost_documents (supplier_id, number, date) WHERE supplier_id IS NOT NULL;

-- Why an approved paper does not count: what it says stays to be read, and it costs and charges nothing.
ALTER TABLE cost_documents ADD COLUMN void TEXT NOT NULL DEFAULT '';
CREATE INDEX cost_documents_void ON cost_documents (date) WHERE void <> '';

-- Papers with the names of their suppliers.
CREATE VIEW papers AS
  SELECT d.*, ifnull(s.name, '') AS supplier FROM cost_documents d LEFT JOIN suppliers s ON s.id = d.supplier_id;

-- How often each number of a supplier was entered, void papers aside, so that those entered twice are found without looking through all
-- papers. Written by these triggers alone; jarvo verify counts again.
CREATE TABLE supplier_numbers (
  supplier_id INTEGER NOT NULL,
  number TEXT NOT NULL,
  documents INTEGER NOT NULL,
  PRIMARY KEY (supplier_id, number)
) STRICT, WITHOUT ROWID;
CREATE INDEX supplier_numbers_twice ON supplier_numbers (supplier_id, number, documents) WHERE documents > 1;
CREATE VIEW numbers_entered AS
  SELECT supplier_id, number, count(*) AS documents FROM cost_documents
  WHERE supplier_id IS NOT NULL AND number <> '' AND void = '' GROUP BY supplier_id, number;
INSERT INTO supplier_numbers SELECT * FROM numbers_entered;
-- +goose StatementBegin
CREATE TRIGGER supplier_numbers_added AFTER INSERT ON cost_documents
WHEN NEW.supplier_id IS NOT NULL AND NEW.number <> '' AND NEW.void = '' BEGIN
  INSERT INTO supplier_numbers VALUES (NEW.supplier_id, NEW.number, 1) ON CONFLICT DO UPDATE SET documents = documents + 1;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER supplier_numbers_removed AFTER DELETE ON cost_documents
WHEN OLD.supplier_id IS NOT NULL AND OLD.number <> '' AND OLD.void = '' BEGIN
  UPDATE supplier_numbers SET documents = documents - 1 WHERE supplier_id = OLD.supplier_id AND number = OLD.number;
  DELETE FROM supplier_numbers WHERE supplier_id = OLD.supplier_id AND number = OLD.number AND documents = 0;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER supplier_numbers_changed AFTER UPDATE OF supplier_id, number, void ON cost_documents
WHEN OLD.supplier_id IS NOT NEW.supplier_id OR OLD.number <> NEW.number OR OLD.void <> NEW.void BEGIN
  UPDATE supplier_numbers SET documents = documents - 1
    WHERE supplier_id = OLD.supplier_id AND number = OLD.number AND OLD.void = '';
  DELETE FROM supplier_numbers WHERE supplier_id = OLD.supplier_id AND number = OLD.number AND documents = 0;
  INSERT INTO supplier_numbers SELECT NEW.supplier_id, NEW.number, 1
    WHERE NEW.supplier_id IS NOT NULL AND NEW.number <> '' AND NEW.void = '' ON CONFLICT DO UPDATE SET documents = documents + 1;
END;
-- +goose StatementEnd
CREATE VIEW entered_twice AS
  SELECT t.supplier_id, s.name AS supplier, t.number, t.documents FROM supplier_numbers t INDEXED BY supplier_numbers_twice
  JOIN suppliers s ON s.id = t.supplier_id WHERE t.documents > 1;

-- What is on an invoice, or was paid back, is not made void, and what is void is put on no invoice.
-- +goose StatementBegin
CREATE TRIGGER void_papers_fixed BEFORE UPDATE ON cost_documents WHEN OLD.void <> '' BEGIN
  SELECT RAISE(ABORT, 'a void paper is never changed') WHERE NEW.void <> OLD.void OR NEW.status <> OLD.status
    OR NEW.number <> OLD.number OR NEW.date <> OLD.date OR NEW.freight <> OLD.freight OR NEW.tax <> OLD.tax OR NEW.kind <> OLD.kind;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER papers_void BEFORE UPDATE OF void ON cost_documents WHEN NEW.void <> '' AND OLD.void = '' BEGIN
  SELECT RAISE(ABORT, 'only an approved paper is made void') WHERE NEW.status <> 'approved';
  SELECT RAISE(ABORT, 'a paper that is on an invoice is never made void')
    WHERE EXISTS (SELECT 1 FROM cost_lines WHERE document_id = NEW.id AND invoice_id IS NOT NULL);
  SELECT RAISE(ABORT, 'a paper that was paid back is never made void')
    WHERE EXISTS (SELECT 1 FROM reimbursed_documents WHERE document_id = NEW.id);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER void_lines_unbilled BEFORE UPDATE OF invoice_id ON cost_lines WHEN NEW.invoice_id IS NOT NULL AND EXISTS (
  SELECT 1 FROM cost_documents WHERE id = NEW.document_id AND void <> '') BEGIN
  SELECT RAISE(ABORT, 'a void paper is never billed');
END;
-- +goose StatementEnd

CREATE VIEW findable AS
  SELECT 'invoice' AS kind, i.id, 'Invoice ' || i.prefix || i.number AS title, i.customer_name AS detail, i.date, '' AS crew
  FROM invoices i WHERE i.status = 'issued'
  UNION ALL
  SELECT 'draft', i.id, 'Draft invoice', c.name, i.date, '' FROM invoices i JOIN customers c ON c.id = i.customer_id
  WHERE i.status = 'draft'
  UNION ALL
  SELECT 'cost_document', d.id, trim(d.supplier || ifnull(' ' || w.name, '') || ' ' || d.number),
    CASE d.kind WHEN 'supplier_invoice' THEN 'Supplier''s invoice' WHEN 'receipt' THEN 'Receipt' WHEN 'claim' THEN 'Claim'
      WHEN 'mileage' THEN 'Mileage' ELSE 'Plant log' END || CASE WHEN d.void <> '' THEN ', void' ELSE '' END, d.date, ''
  FROM papers d LEFT JOIN workers w ON w.id = d.worker_id
  UNION ALL
  SELECT 'supplier', s.id, s.name, 'Supplier, ' || CASE s.papers WHEN 1 THEN '1 paper' ELSE s.papers || ' papers' END, NULL, ''
  FROM (SELECT id, name, (SELECT count(*) FROM cost_documents d WHERE d.supplier_id = suppliers.id) AS papers FROM suppliers) s
  UNION ALL
  SELECT 'worker', w.id, w.name, trim('Worker, ' || ifnull(t.name, 'no trade') || ', ' || w.crew, ', '), NULL, w.crew
  FROM workers w LEFT JOIN trades t ON t.id = w.trade_id WHERE w.active = 1
  UNION ALL
  SELECT 'customer', c.id, c.name, 'Customer ' || c.code, NULL, '' FROM customers c
  UNION ALL
  SELECT 'item', i.id, i.description, 'Price list ' || i.code, NULL, '' FROM items i WHERE i.active = 1
  UNION ALL
  SELECT 'user', u.id, u.name, 'User, ' || u.role, NULL, '' FROM users u WHERE u.active = 1;

-- Items and their prices are corrected on the version that was seen.
ALTER TABLE items ADD COLUMN version INTEGER NOT NULL DEFAULT 1;
ALTER TABLE item_prices ADD COLUMN version INTEGER NOT NULL DEFAULT 1;
