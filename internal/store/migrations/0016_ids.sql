-- +goose Up
-- An id that history has told of is never given to another record, also when the record is deleted. AUTOINCREMENT does not alter how
-- rows are stored, so it is written into the schema as it stands; making the tables again would copy the whole book.
CREATE TABLE ids_begin (id INTEGER PRIMARY KEY AUTOINCREMENT); -- makes sqlite_sequence
DROP TABLE ids_begin;
PRAGMA writable_schema = ON;
UPDATE sqlite_schema SET sql = replace(sql, 'id INTEGER PRIMARY KEY,', 'id INTEGER PRIMARY KEY AUTOINCREMENT,') WHERE type = 'table' AND name IN (
  'attachments', 'burden_classes', 'burdens', 'cost_codes', 'cost_documents', 'customers', 'invoices', 'item_prices', 'items', 'jobs', 'labour_rates', 'markups', 'payments', 'phases',
  'rate_cards', 'reimbursements', 'tax_codes', 'tax_components', 'time_entries', 'trades', 'users', 'wages', 'workers');
PRAGMA writable_schema = RESET;
INSERT INTO sqlite_sequence (name, seq)
  SELECT tables.name, max(tables.last, ifnull((SELECT max(h.subject_id) FROM history h WHERE h.kind IN (tables.kind, tables.name)), 0)) FROM (
    SELECT 'attachments' AS name, '' AS kind, (SELECT ifnull(max(id), 0) FROM attachments) AS last
    UNION ALL SELECT 'burden_classes', '', (SELECT ifnull(max(id), 0) FROM burden_classes)
    UNION ALL SELECT 'burdens', 'burden', (SELECT ifnull(max(id), 0) FROM burdens)
    UNION ALL SELECT 'cost_codes', 'cost_code', (SELECT ifnull(max(id), 0) FROM cost_codes)
    UNION ALL SELECT 'cost_documents', 'cost_document', (SELECT ifnull(max(id), 0) FROM cost_documents)
    UNION ALL SELECT 'customers', 'customer', (SELECT ifnull(max(id), 0) FROM customers)
    UNION ALL SELECT 'invoices', 'invoice', (SELECT ifnull(max(id), 0) FROM invoices)
    UNION ALL SELECT 'item_prices', '', (SELECT ifnull(max(id), 0) FROM item_prices)
    UNION ALL SELECT 'items', 'item', (SELECT ifnull(max(id), 0) FROM items)
    UNION ALL SELECT 'jobs', 'job', (SELECT ifnull(max(id), 0) FROM jobs)
    UNION ALL SELECT 'labour_rates', 'labour_rate', (SELECT ifnull(max(id), 0) FROM labour_rates)
    UNION ALL SELECT 'markups', 'markup', (SELECT ifnull(max(id), 0) FROM markups)
    UNION ALL SELECT 'payments', 'payment', (SELECT ifnull(max(id), 0) FROM payments)
    UNION ALL SELECT 'phases', '', (SELECT ifnull(max(id), 0) FROM phases)
    UNION ALL SELECT 'rate_cards', '', (SELECT ifnull(max(id), 0) FROM rate_cards)
    UNION ALL SELECT 'reimbursements', 'reimbursement', (SELECT ifnull(max(id), 0) FROM reimbursements)
    UNION ALL SELECT 'tax_codes', '', (SELECT ifnull(max(id), 0) FROM tax_codes)
    UNION ALL SELECT 'tax_components', '', (SELECT ifnull(max(id), 0) FROM tax_components)
    UNION ALL SELECT 'time_entries', 'time_entry', (SELECT ifnull(max(id), 0) FROM time_entries)
    UNION ALL SELECT 'trades', '', (SELECT ifnull(max(id), 0) FROM trades)
    UNION ALL SELECT 'users', 'user', (SELECT ifnull(max(id), 0) FROM users)
    UNION ALL SELECT 'wages', 'wage', (SELECT ifnull(max(id), 0) FROM wages)
    UNION ALL SELECT 'workers', 'worker', (SELECT ifnull(max(id), 0) FROM workers)) tables;
