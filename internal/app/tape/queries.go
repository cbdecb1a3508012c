package tape

const invoiceSources = `SELECT id, ifnull(invoice_line_id, 0) AS invoice_line_id, charge, amount FROM invoice_sources
  WHERE invoice_id = ?`

const invoiceShares = `SELECT s.*, j.number, j.name FROM invoice_jobs s JOIN jobs j ON j.id = s.job_id
  WHERE s.invoice_id = ? ORDER BY j.number_order`

const invoicePapers = `SELECT * FROM papers WHERE id IN (SELECT document_id FROM cost_lines
  WHERE invoice_id = ?)`
