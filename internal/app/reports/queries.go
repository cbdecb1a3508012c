package reports

const costRows = `SELECT l.*, d.ref AS document, d.void, ifnull(j.number, '') AS job, ifnull(p.code, '') AS phase,
  ifnull(k.code, '') AS cost_code
  FROM cost_lines l JOIN cost_documents d ON d.id = l.document_id LEFT JOIN jobs j ON j.id = l.job_id
  LEFT JOIN phases p ON p.id = l.phase_id LEFT JOIN cost_codes k ON k.id = l.cost_code_id
  WHERE l.date BETWEEN ? AND ? AND (? = 0 OR l.job_id = ?) ORDER BY d.ref, l.line_order`

const jobsInOrder = `SELECT j.*, ifnull(c.code, '') AS customer_code FROM jobs j
  LEFT JOIN customers c ON c.id = j.customer_id WHERE (? = 0 OR j.id = ?) ORDER BY j.number_order`

// invoiceRows are the issued invoices; credit notes stand in what they take off.
const invoiceRows = `SELECT i.*, c.code, b.paid, b.credited, b."left"
  FROM invoices i JOIN customers c ON c.id = i.customer_id JOIN invoice_balance b ON b.invoice_id = i.id
  WHERE i.status = 'issued' AND i.credit_of IS NULL AND i.date BETWEEN ? AND ?
  AND (? = 0 OR i.id IN (SELECT invoice_id FROM invoice_jobs WHERE job_id = ?))
  ORDER BY i.number`

const jobsOfInvoice = `SELECT j.number FROM invoice_jobs b JOIN jobs j ON j.id = b.job_id WHERE b.invoice_id = ?
  ORDER BY j.number_order`

// besideOpen is, of each customer, their credit and what they hold back, at the end of a day.
const besideOpen = `SELECT c.code,
  (SELECT ifnull(sum(e.amount), 0) FROM credit_entries e WHERE @job = 0 AND e.customer_id = c.id
    AND e.date BETWEEN @from AND @day) AS credit,
  (SELECT ifnull(sum(b.retainage), 0) FROM invoice_jobs b JOIN invoices i ON i.id = b.invoice_id
    WHERE i.customer_id = c.id AND i.status = 'issued' AND i.date BETWEEN @from AND @day AND @job IN (0, b.job_id)) AS retained
  FROM customers c ORDER BY c.code`

// writtenDownRows are what issued invoices wrote down, and what credit notes allowed.
const writtenDownRows = `SELECT i.date, i.prefix || i.number AS invoice, c.code AS customer, j.number AS job,
    coalesce(w.name, nullif(l.description, ''), p.supplier) || ' ' || date(ifnull(e.date, l.date) * 86400, 'unixepoch') AS work,
    'written down' AS kind, s.down AS amount, (SELECT ifnull(sum(b.amount), 0) FROM write_backs b WHERE b.source_id = s.id) AS back,
    s.reason AS note, i.number, s.id
  FROM invoice_sources s JOIN invoices i ON i.id = s.invoice_id JOIN customers c ON c.id = i.customer_id
  LEFT JOIN time_entries e ON e.id = s.entry_id LEFT JOIN workers w ON w.id = e.worker_id LEFT JOIN cost_lines l ON l.id = s.cost_line_id
  LEFT JOIN papers p ON p.id = l.document_id JOIN jobs j ON j.id = ifnull(e.job_id, l.job_id)
  WHERE s.down <> 0 AND i.status = 'issued' AND i.date BETWEEN @from AND @to AND @job IN (0, j.id)
UNION ALL SELECT i.date, i.prefix || i.number, c.code, j.number, n.text, 'allowed', x.amount - x.up, 0, x.reason, i.number, x.id
  FROM credits x JOIN invoices i ON i.id = x.invoice_id JOIN customers c ON c.id = i.customer_id
  JOIN invoice_lines n ON n.invoice_id = i.id AND n.position = x.position JOIN jobs j ON j.id = n.job_id
  WHERE x.again = 0 AND n.category <> 'deposit' AND i.date BETWEEN @from AND @to AND @job IN (0, j.id) ORDER BY 1, 10, 6, 11`

// readyBetween sums what is ready by job and kind, between two dates that are given twice.
const readyBetween = `
SELECT job_id, 'labour' AS category, sum(ready) AS charge, min(date) AS oldest FROM ready_hours
  WHERE date BETWEEN ? AND ? GROUP BY job_id
UNION ALL SELECT job_id, category, sum(ready), min(date) FROM ready_lines WHERE date BETWEEN ? AND ? GROUP BY job_id, category`

// retainedByJob are the jobs with what is held back of each at the end of a day, by customer.
const retainedByJob = `SELECT j.id, j.number, c.code, (SELECT ifnull(sum(b.retainage), 0) FROM invoice_jobs b
    JOIN invoices i ON i.id = b.invoice_id WHERE b.job_id = j.id AND i.status = 'issued' AND i.date BETWEEN @from AND @day) AS retained
  FROM jobs j JOIN customers c ON c.id = j.customer_id WHERE @job IN (0, j.id) ORDER BY c.code, j.number_order`

const taxRows = `SELECT tax_code, component, percent, sum(base) AS base, sum(tax) AS tax, count(DISTINCT paper) AS papers FROM (
  SELECT x.tax_code, x.component, x.percent, x.base, x.amount AS tax, i.id AS paper, i.date FROM invoice_taxes x
    JOIN invoices i ON i.id = x.invoice_id WHERE i.status = 'issued'
  UNION ALL SELECT b.tax_code, '', 0, b.subtotal, 0, i.id, i.date FROM invoice_jobs b JOIN invoices i ON i.id = b.invoice_id
    WHERE i.status = 'issued' AND b.subtotal <> 0
    AND NOT EXISTS (SELECT 1 FROM invoice_taxes x WHERE x.invoice_id = i.id AND x.tax_code = b.tax_code)
  ) WHERE date BETWEEN @from AND @to AND (@job = 0 OR paper IN (SELECT invoice_id FROM invoice_jobs WHERE job_id = @job))
  GROUP BY 1, 2, 3 ORDER BY 1, 2, 3`
