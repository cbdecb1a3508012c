package tape

const invoiceSources = `SELECT id, ifnull(invoice_line_id, 0) AS invoice_line_id, charge, amount FROM invoice_sources
  WHERE invoice_id = ?`

const invoiceShares = `SELECT s.*, j.number, j.name FROM invoice_jobs s JOIN jobs j ON j.id = s.job_id
  WHERE s.invoice_id = ? ORDER BY j.number_order`

const invoiceSegments = `SELECT s.* FROM labour_segments s JOIN time_entries e ON e.id = s.entry_id
  WHERE e.invoice_id = ? ORDER BY s.entry_id, s.class`

const invoicePapers = `SELECT * FROM cost_documents WHERE id IN (SELECT document_id FROM cost_lines
  WHERE invoice_id = ?)`
