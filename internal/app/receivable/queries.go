package receivable

// creditFrom is the least credit that a customer has at the end of a day or of any later one.
const creditFrom = `WITH days AS (SELECT date, sum(amount) AS amount FROM credit_entries WHERE customer_id = @customer GROUP BY date),
  running AS (SELECT date, sum(amount) OVER (ORDER BY date) AS credit FROM days)
  SELECT min(ifnull((SELECT credit FROM running WHERE date <= @day ORDER BY date DESC LIMIT 1), 0),
    ifnull((SELECT min(credit) FROM running WHERE date > @day), 9223372036854775807))`

const creditNow = `SELECT ifnull(sum(amount), 0) FROM credit_entries WHERE customer_id = ?`

// openInvoices are the invoices of a customer with something left to pay, the oldest due date first.
const openInvoices = `SELECT i.id, i.prefix || i.number AS number_text, i.number, i.title, i.date, i.due, b."left"
  FROM invoices i JOIN invoice_balance b ON b.invoice_id = i.id
  WHERE i.customer_id = @customer AND i.status = 'issued' AND i.credit_of IS NULL AND b."left" <> 0 ORDER BY i.due, i.number`

// newestSet is what is set against one invoice, or against all of a customer, by payment and invoice, the newest first; that of one
// payment is left out.
const newestSet = `SELECT a.payment_id, a.invoice_id, i.prefix || i.number AS number_text, sum(a.amount) AS amount, max(a.date) AS last
  FROM payment_allocations a JOIN invoices i ON i.id = a.invoice_id
  WHERE i.customer_id = @customer AND @invoice IN (0, a.invoice_id) AND a.payment_id IS NOT @payment
  GROUP BY a.invoice_id, a.payment_id HAVING sum(a.amount) > 0 ORDER BY max(a.date) DESC, max(a.id) DESC`

const setOfPayment = `SELECT a.payment_id, a.invoice_id, i.prefix || i.number AS number_text, sum(a.amount) AS amount, max(a.date) AS last
  FROM payment_allocations a JOIN invoices i ON i.id = a.invoice_id WHERE a.payment_id = @payment
  GROUP BY a.invoice_id HAVING sum(a.amount) > 0 ORDER BY i.number`

// balanceThen is the balance of an invoice i at the end of a day.
const balanceThen = `i.due_now
    + (SELECT ifnull(sum(n.due_now), 0) FROM invoices n WHERE n.credit_of = i.id AND n.status = 'issued' AND n.date <= @to)
    - (SELECT ifnull(sum(a.amount), 0) FROM payment_allocations a WHERE a.invoice_id = i.id AND a.date <= @to)`

// Which invoices are asked about: those that anything was received of in a time, since they were paid or credited, or those that are not
// paid at the end of a day.
const (
	touched = `WITH chosen AS (SELECT DISTINCT a.invoice_id AS id FROM payment_allocations a
    WHERE a.date BETWEEN @from AND @to OR a.invoice_id IN (SELECT n.credit_of FROM invoices n
      WHERE n.credit_of IS NOT NULL AND n.status = 'issued' AND n.date BETWEEN @from AND @to)),
` + these
	notPaid = `WITH chosen AS (SELECT i.id FROM invoices i WHERE i.status = 'issued' AND i.credit_of IS NULL AND i.date BETWEEN @from AND @to
    AND ` + balanceThen + ` <> 0),
` + these
	these = `  these AS (SELECT t.id FROM chosen t JOIN invoices i ON i.id = t.id
    WHERE @customer IN (0, i.customer_id) AND (@job = 0 OR t.id IN (SELECT invoice_id FROM invoice_jobs WHERE job_id = @job)))
`
)

// What those invoices and the notes on them are of each job; what of it is taxable, by category; and the tax of each component.
const (
	jobsOfThese = `SELECT ifnull(n.credit_of, n.id) AS invoice_id, n.id AS paper_id, n.date, b.job_id, j.number AS job, b.tax_code,
    b.subtotal, b.retainage FROM these t JOIN invoices n ON n.id = t.id OR n.credit_of = t.id JOIN invoice_jobs b ON b.invoice_id = n.id
    JOIN jobs j ON j.id = b.job_id ORDER BY 1, 2, j.number_order`
	basesOfThese = `SELECT n.id AS paper_id, l.job_id, l.category, sum(l.amount) AS amount FROM these t
    JOIN invoices n ON n.id = t.id OR n.credit_of = t.id JOIN invoice_bases l ON l.invoice_id = n.id
    WHERE EXISTS (SELECT 1 FROM invoice_taxes x WHERE x.invoice_id = n.id) GROUP BY 1, 2, 3`
	taxesOfThese = `SELECT n.id AS paper_id, x.tax_code, x.component, x.applies_to, x.amount FROM these t
    JOIN invoices n ON n.id = t.id OR n.credit_of = t.id JOIN invoice_taxes x ON x.invoice_id = n.id
    WHERE x.deposit_id IS NULL ORDER BY 1, x.position`
	paidOfThese = `SELECT a.id, a.invoice_id, a.date, a.amount, i.prefix || i.number AS number, c.code AS customer,
    ifnull(p.ref, '') AS payment FROM these t JOIN payment_allocations a ON a.invoice_id = t.id JOIN invoices i ON i.id = t.id
    JOIN customers c ON c.id = i.customer_id LEFT JOIN payments p ON p.id = a.payment_id ORDER BY a.invoice_id, a.date, a.id`
	notesOfThese = `SELECT n.id, n.credit_of AS invoice_id, n.date, i.prefix || i.number AS number, c.code AS customer
    FROM these t JOIN invoices n ON n.credit_of = t.id JOIN invoices i ON i.id = t.id JOIN customers c ON c.id = i.customer_id
    ORDER BY n.credit_of, n.date, n.number`
)

// openThen are the invoices that were not paid at the end of a day.
const openThen = notPaid + `SELECT i.id, i.prefix || i.number AS number_text, i.number, i.title, i.date, i.due, c.code AS customer,
    ` + balanceThen + ` AS "left"
    FROM these t JOIN invoices i ON i.id = t.id JOIN customers c ON c.id = i.customer_id ORDER BY i.due, i.number`
