package collect

// What the payments of a time are chosen by: their date, and a job that is on an invoice they were set against.
const ofScope = ` p.date BETWEEN @from AND @to AND (@job = 0 OR p.id IN (SELECT a.payment_id FROM payment_allocations a
  JOIN invoice_jobs b ON b.invoice_id = a.invoice_id WHERE b.job_id = @job))`

const paymentRows = `SELECT p.*, c.name AS customer FROM payments p JOIN customers c ON c.id = p.customer_id WHERE` + ofScope + `
  ORDER BY p.date DESC, p.id DESC LIMIT @most`

const paymentParts = `SELECT a.payment_id, a.invoice_id, i.prefix || i.number AS number, a.amount FROM payments p
  JOIN payment_allocations a ON a.payment_id = p.id JOIN invoices i ON i.id = a.invoice_id WHERE` + ofScope + `
  ORDER BY a.payment_id, i.number`

const paymentSums = `SELECT count(*) AS count, ifnull(sum(CASE WHEN p.taken_back IS NULL THEN p.amount END), 0) AS amount FROM payments p
  WHERE` + ofScope
