package tape

const invoiceSources = `SELECT id, ifnull(invoice_line_id, 0) AS invoice_line_id, charge, amount FROM invoice_sources
  WHERE invoice_id = ?`

const invoiceShares = `SELECT s.*, j.number, j.name FROM invoice_jobs s JOIN jobs j ON j.id = s.job_id
  WHERE s.invoice_id = ? ORDER BY j.number_order`

const invoicePapers = `SELECT * FROM papers WHERE id IN (SELECT l.document_id FROM cost_lines l
  JOIN invoice_sources i ON i.cost_line_id = l.id WHERE i.invoice_id = ? AND i.released = 0)`

// hoursOfInvoice are the entries that an invoice bills, or a part of.
const hoursOfInvoice = `(SELECT entry_id FROM invoice_sources WHERE invoice_id = ? AND released = 0 AND entry_id IS NOT NULL)`

const appliedDeposits = `SELECT a.deposit_id, i.prefix || i.number AS number, a.amount FROM applied_deposits a
  JOIN invoices i ON i.id = a.deposit_id WHERE a.invoice_id = ? ORDER BY i.number`

const receiptsBehind = `SELECT l.id AS line_id, d.id AS document_id, d.supplier, d.number, l.description FROM cost_lines l
  JOIN papers d ON d.id = l.document_id WHERE l.id IN (SELECT cost_line_id FROM invoice_sources WHERE invoice_id = ?)`

const scansBehind = `SELECT a.document_id, a.name, a.media, a.sha256 AS sum FROM attachments a
  WHERE a.document_id IN (SELECT l.document_id FROM invoice_sources x JOIN cost_lines l ON l.id = x.cost_line_id WHERE x.invoice_id = ?)
  ORDER BY a.document_id, a.id`
