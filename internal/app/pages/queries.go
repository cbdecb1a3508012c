package pages

import "jarvo/internal/app/book"

const supplierOf = `SELECT s.*, ifnull(k.code || ' ' || k.name, '') AS cost_code FROM suppliers s
  LEFT JOIN cost_codes k ON k.id = s.cost_code_id WHERE s.id = @id`

const customerOf = `SELECT c.*, ifnull(r.code, '') AS card, ifnull(t.code, '') AS tax FROM customers c
  LEFT JOIN rate_cards r ON r.id = c.rate_card_id LEFT JOIN tax_codes t ON t.id = c.tax_code_id WHERE c.id = @id`

const workerOf = `SELECT w.*, ifnull(t.name, '') AS trade, ifnull(b.code, '') AS class, g.rate AS wage, g.effective_from AS since
  FROM workers w LEFT JOIN trades t ON t.id = w.trade_id LEFT JOIN burden_classes b ON b.id = w.burden_class_id
  LEFT JOIN wages g ON g.worker_id = w.id AND g.effective_from = (SELECT max(effective_from) FROM wages
  WHERE worker_id = w.id AND effective_from <= @today) WHERE w.id = @id`

// restKind is a kind of what rests on a record: how many, what they come to, and the last.
type restKind struct{ what, of, query string }

// papersOf add up the papers that a condition on d, cost_documents, finds.
const papersOf = `SELECT count(*) AS count, ifnull((SELECT sum(l.landed) FROM cost_documents d JOIN cost_lines l ON l.document_id = d.id
  WHERE d.supplier_id = @id), 0) AS amount, max(d.date) AS last FROM cost_documents d WHERE d.supplier_id = @id`

var rests = map[string][]restKind{
	"supplier": {
		{"paper", "cost", papersOf},
	},
	"customer": {
		{"job", "", "SELECT count(*) AS count FROM jobs WHERE customer_id = @id"},
		{"invoice", "invoiced", `SELECT count(*) AS count, sum(total) AS amount, max(date) AS last FROM invoices
			WHERE customer_id = @id AND status = 'issued'`},
		{"open invoice", "owed", `SELECT count(*) AS count, sum(b."left") AS amount, max(i.date) AS last
			FROM invoices i JOIN invoice_balance b ON b.invoice_id = i.id WHERE i.customer_id = @id AND i.status = 'issued' AND NOT b.settled`},
		{"payment", "paid", `SELECT count(*) AS count, sum(amount) AS amount, max(date) AS last FROM payments
			WHERE customer_id = @id AND taken_back IS NULL AND kind = 'payment'`},
	},
	"worker": {
		{"time entry", "cost", `SELECT count(*) AS count, sum(minutes) AS minutes, sum(cost) AS amount, max(date) AS last
			FROM time_entries WHERE worker_id = @id`},
		{"paper paid for us", "laid out", `SELECT count(*) AS count, sum(d.freight + d.tax + (SELECT ifnull(sum(base), 0) FROM cost_lines
			WHERE document_id = d.id)) AS amount, max(d.date) AS last FROM cost_documents d WHERE d.worker_id = @id AND d.void = ''`},
		{"wage", "", "SELECT count(*) AS count, max(effective_from) AS last FROM wages WHERE worker_id = @id"},
	},
	"item": {
		{"cost line", "cost", `SELECT count(*) AS count, sum(landed) AS amount, max(date) AS last FROM cost_lines WHERE item_id = @id`},
	},
}

var rowsOf = map[string]string{
	"supplier": `SELECT 'cost_document' AS kind, d.id AS key, d.date, CASE WHEN d.number = '' THEN d.ref ELSE d.number END AS title,
		CASE WHEN d.void <> '' THEN 'void: ' || d.void ELSE d.note END AS detail,
		(SELECT ifnull(sum(base), 0) FROM cost_lines WHERE document_id = d.id) + d.freight + d.tax AS amount
		FROM cost_documents d WHERE d.supplier_id = @id ORDER BY d.date DESC, d.id DESC LIMIT @newest`,
	"customer": `SELECT * FROM (
		SELECT 'invoice' AS kind, i.id AS key, i.date,
		  iif(i.credit_of IS NULL, 'Invoice ', 'Credit note ') || i.prefix || i.number AS title,
		  CASE WHEN i.credit_of IS NOT NULL THEN '' WHEN b.settled THEN 'paid' ELSE 'open' END AS detail, i.total AS amount
		FROM invoices i JOIN invoice_balance b ON b.invoice_id = i.id WHERE i.customer_id = @id AND i.status = 'issued'
		UNION ALL SELECT 'payments', '', e.date, CASE WHEN e.kind = 'refund' THEN 'Refund' ELSE 'Payment' END
		  || iif(e.back, ' taken back', ''), trim(p.method || ' ' || p.reference), e.amount
		FROM money_entries e JOIN payments p ON p.id = e.payment_id WHERE e.customer_id = @id
		UNION ALL SELECT 'message', m.id, (ifnull(m.tried_at, m.made_at) + @shift) / 86400000,
		  'Message, ' || iif(m.status IN ('queued', 'sending'), 'waiting', m.status), m.subject, NULL
		FROM messages m WHERE @bill AND m.customer_id = @id AND m.status <> 'cancelled'
		UNION ALL SELECT 'job', j.number, j.start, 'Job ' || j.number || ' ' || j.name, j.status, NULL FROM jobs j WHERE j.customer_id = @id)
		ORDER BY date DESC LIMIT @newest`,
	"worker": `SELECT 'crew_week' AS kind, w.crew, e.week AS date, 'Week of hours' AS title, sum(e.minutes) AS minutes, sum(e.cost) AS amount
		FROM (SELECT worker_id, ` + book.WeekOf("date") + ` AS week, minutes, cost FROM time_entries
		  WHERE worker_id = @id AND date >= (SELECT max(date) FROM time_entries WHERE worker_id = @id) - 7 * 26) e
		JOIN workers w ON w.id = e.worker_id GROUP BY e.week ORDER BY e.week DESC LIMIT @newest`,
	"item": `SELECT 'cost_document' AS kind, d.id AS key, l.date,
		coalesce(nullif(trim(d.supplier || ' ' || d.number), ''), d.ref) AS title,
		l.quantity, l.unit AS detail, l.unit_cost AS rate
		FROM cost_lines l JOIN papers d ON d.id = l.document_id WHERE l.item_id = @id ORDER BY l.date DESC, l.id DESC LIMIT @newest`,
}

// accountSums are what a customer holds back, what is not invoiced yet, their sales tax of the last year, and how many days they take to
// pay, weighed by what they paid.
const accountSums = `SELECT
  (SELECT ifnull(sum(retainage), 0) FROM invoices WHERE customer_id = @id AND status = 'issued') AS retained,
  (SELECT ifnull(sum(b.waiting_charge), 0) FROM jobs j JOIN job_sums b ON b.job_id = j.id WHERE j.customer_id = @id) AS waiting,
  (SELECT ifnull(sum(b.ready), 0) FROM jobs j JOIN job_sums b ON b.job_id = j.id WHERE j.customer_id = @id) AS ready,
  (SELECT ifnull(sum(subtotal), 0) FROM invoices WHERE customer_id = @id AND status = 'draft') AS drafted,
  (SELECT ifnull(sum(tax), 0) FROM invoices WHERE customer_id = @id AND status = 'issued' AND date BETWEEN @from AND @today) AS tax,
  (SELECT CAST(round(1.0 * sum((a.date - i.date) * a.amount) / nullif(sum(a.amount), 0)) AS INTEGER)
    FROM invoices i JOIN payment_allocations a ON a.invoice_id = i.id
    WHERE i.customer_id = @id AND a.date BETWEEN @from AND @today) AS days`

// incomeByMonth is what was billed to a customer and what drafts hold, before tax, by month; what asks for a deposit is no income.
const incomeByMonth = `SELECT strftime('%Y-%m', date * 86400, 'unixepoch') AS month,
  sum(iif(status = 'issued', subtotal, 0)) AS billed, sum(iif(status = 'draft', subtotal, 0)) AS drafted
  FROM invoices i WHERE customer_id = @id AND date BETWEEN @from AND @today
  AND NOT EXISTS (SELECT 1 FROM typed_lines t WHERE t.invoice_id IN (i.id, i.credit_of) AND t.kind = 'deposit') GROUP BY 1`
