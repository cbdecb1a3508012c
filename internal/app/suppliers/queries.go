package suppliers

const supplierRows = `SELECT s.*, ifnull(k.code, '') AS cost_code,
  (SELECT count(*) FROM cost_documents d WHERE d.supplier_id = s.id) AS papers,
  (SELECT max(d.date) FROM cost_documents d WHERE d.supplier_id = s.id) AS last
  FROM suppliers s LEFT JOIN cost_codes k ON k.id = s.cost_code_id ORDER BY s.active DESC, s.name COLLATE NOCASE, s.id`

// moveSetAside gives numbers that were set aside as entered twice the supplier's new name.
const moveSetAside = `UPDATE OR REPLACE dismissals SET subject = @to || substr(subject, length(@from) + 1)
  WHERE kind = 'twice' AND subject IN (SELECT @from || ' ' || number FROM cost_documents WHERE supplier_id = @supplier)`

// draftsNaming are the drafts with a line of a supplier's papers.
const draftsNaming = `i.id IN (SELECT l.invoice_id FROM cost_lines l JOIN cost_documents d ON d.id = l.document_id WHERE d.supplier_id = ?)`

const movePapers = "UPDATE cost_documents SET supplier_id = ?, version = version + 1 WHERE supplier_id = ?"
