package collect

// What the entries of a time are chosen by: their date, and a job that is on an invoice they were set against.
const ofScope = ` WHERE e.date BETWEEN @from AND @to AND (@job = 0 OR e.payment_id IN (SELECT a.payment_id FROM payment_allocations a
  JOIN invoice_jobs b ON b.invoice_id = a.invoice_id WHERE b.job_id = @job))`

const entryRows = `SELECT p.*, c.name AS customer, e.date AS on_day, e.back, e.amount AS moved FROM money_entries e
  JOIN payments p ON p.id = e.payment_id JOIN customers c ON c.id = e.customer_id` + ofScope + `
  ORDER BY e.date DESC, p.id DESC, e.back DESC LIMIT @most`

const entryParts = `SELECT a.payment_id, a.invoice_id, i.prefix || i.number AS number, sum(a.amount) AS amount
  FROM (SELECT DISTINCT payment_id FROM (SELECT e.payment_id FROM money_entries e` + ofScope + `
    ORDER BY e.date DESC, e.payment_id DESC, e.back DESC LIMIT @most)) p
  JOIN payment_allocations a ON a.payment_id = p.payment_id JOIN invoices i ON i.id = a.invoice_id
  GROUP BY a.payment_id, a.invoice_id HAVING sum(a.amount) <> 0 ORDER BY a.payment_id, i.number`

const entrySums = `SELECT count(*) AS count, ifnull(sum(CASE WHEN e.kind = 'payment' THEN e.amount END), 0) AS received,
  ifnull(-sum(CASE WHEN e.kind = 'refund' THEN e.amount END), 0) AS refunded FROM money_entries e` + ofScope

// customersInCredit are the customers who paid, or were credited, more than is set against their invoices.
const customersInCredit = `SELECT c.id, c.name AS customer, sum(e.amount) AS credit, max(e.date) AS last,
  (SELECT count(*) FROM invoices i JOIN invoice_balance b ON b.invoice_id = i.id
    WHERE i.customer_id = c.id AND i.status = 'issued' AND i.credit_of IS NULL AND b."left" > 0) AS open
  FROM credit_entries e JOIN customers c ON c.id = e.customer_id GROUP BY c.id HAVING sum(e.amount) <> 0 ORDER BY c.name`

const bankSums = `SELECT count(*) AS lines, ifnull(sum(max(amount, 0)), 0) AS came_in, ifnull(-sum(min(amount, 0)), 0) AS went_out,
  ifnull(sum(iif(payment_id IS NOT NULL, amount, 0)), 0) AS recorded, ifnull(sum(iif(aside <> '', max(amount, 0), 0)), 0) AS aside,
  ifnull(sum(iif(payment_id IS NULL AND aside = '', max(amount, 0), 0)), 0) AS waiting FROM bank_lines`

const latestAside = `SELECT * FROM bank_lines WHERE aside <> '' ORDER BY date DESC, id DESC LIMIT ?`

// matchable are the open invoices that receipts are matched with.
const matchable = `SELECT i.id, i.customer_id AS customer, i.prefix || i.number AS number, i.number AS "order", i.due, b."left" AS balance
  FROM invoices i JOIN invoice_balance b ON b.invoice_id = i.id
  WHERE i.status = 'issued' AND i.credit_of IS NULL AND b."left" > 0 ORDER BY i.due, i.number`

// notInBank are the payments since a day that no line of the bank is recorded as.
const notInBank = `SELECT p.id, p.customer_id, c.name AS customer, p.date, p.amount FROM payments p JOIN customers c ON c.id = p.customer_id
  WHERE p.kind = 'payment' AND p.taken_back IS NULL AND p.date >= @from AND p.method IN ('', 'transfer')
  AND NOT EXISTS (SELECT 1 FROM bank_lines l WHERE l.payment_id = p.id) ORDER BY p.date, p.id`

// What changes the account of a customer: invoices and credit notes with what is due of them, and money that came or went back.
const accountEntries = `SELECT i.date, iif(i.credit_of IS NULL, i.due, 0) AS due, iif(i.credit_of IS NULL, 'Invoice ', 'Credit note ')
    || i.prefix || i.number AS what, i.due_now AS amount, 0 AS rank, i.number AS "order"
    FROM invoices i WHERE i.customer_id = @customer AND i.status = 'issued' AND i.due_now <> 0
  UNION ALL SELECT e.date, 0, trim(iif(e.kind = 'refund', 'Refund', 'Payment') || iif(e.back, ' taken back', '') || ' ' || p.reference),
    -e.amount, 1, p.id FROM money_entries e JOIN payments p ON p.id = e.payment_id WHERE e.customer_id = @customer`

const owedBefore = `SELECT ifnull(sum(amount), 0) FROM (` + accountEntries + `) WHERE date < @from`

const statementRows = `SELECT date, due, what, amount FROM (` + accountEntries + `) WHERE date BETWEEN @from AND @to
  ORDER BY date, rank, "order"`

const besideOwed = `SELECT (SELECT ifnull(sum(amount), 0) FROM credit_entries WHERE customer_id = @customer AND date <= @to) AS credit,
  (SELECT ifnull(sum(retainage), 0) FROM invoices WHERE customer_id = @customer AND status = 'issued' AND date <= @to) AS retained`
