-- +goose Up
-- What is found by its name or number: the text it is found by, and what it is shown as. The newest have the largest ids.
CREATE VIEW findable AS
  SELECT 'invoice' AS kind, i.id, 'Invoice ' || i.prefix || i.number AS title, i.customer_name AS detail, i.date, '' AS crew
  FROM invoices i WHERE i.status = 'issued'
  UNION ALL
  SELECT 'draft', i.id, 'Draft invoice', c.name, i.date, '' FROM invoices i JOIN customers c ON c.id = i.customer_id
  WHERE i.status = 'draft'
  UNION ALL
  SELECT 'cost_document', d.id, trim(d.supplier || ifnull(' ' || w.name, '') || ' ' || d.number),
    CASE d.kind WHEN 'supplier_invoice' THEN 'Supplier''s invoice' WHEN 'receipt' THEN 'Receipt' WHEN 'claim' THEN 'Claim'
      WHEN 'mileage' THEN 'Mileage' ELSE 'Plant log' END, d.date, ''
  FROM cost_documents d LEFT JOIN workers w ON w.id = d.worker_id
  UNION ALL
  SELECT 'supplier', max(d.id), d.supplier, 'Supplier, ' || count(*) || CASE count(*) WHEN 1 THEN ' paper' ELSE ' papers' END, NULL, ''
  FROM cost_documents d WHERE d.supplier <> '' GROUP BY d.supplier
  UNION ALL
  SELECT 'worker', w.id, w.name, trim('Worker, ' || ifnull(t.name, 'no trade') || ', ' || w.crew, ', '), NULL, w.crew
  FROM workers w LEFT JOIN trades t ON t.id = w.trade_id WHERE w.active = 1
  UNION ALL
  SELECT 'customer', c.id, c.name, 'Customer ' || c.code, NULL, '' FROM customers c
  UNION ALL
  SELECT 'item', i.id, i.description, 'Price list ' || i.code, NULL, '' FROM items i WHERE i.active = 1
  UNION ALL
  SELECT 'user', u.id, u.name, 'User, ' || u.role, NULL, '' FROM users u WHERE u.active = 1;
