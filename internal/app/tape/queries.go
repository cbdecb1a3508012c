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
