package exchange

const taxComponents = `SELECT c.*, ifnull(t.component, '') AS component, ifnull(t.applies_to, '') AS applies_to, t.effective_from,
  t.percent, ifnull(t.scheme, '') AS scheme
  FROM tax_codes c LEFT JOIN tax_components t ON t.tax_code_id = c.id ORDER BY c.code, t.id`

const budgetRows = `SELECT b.*, j.number AS job, ifnull(p.code, '') AS phase, ifnull(k.code, '') AS cost_code FROM budgets b
  JOIN jobs j ON j.id = b.job_id LEFT JOIN phases p ON p.id = b.phase_id LEFT JOIN cost_codes k ON k.id = b.cost_code_id
  ORDER BY j.number_order, p.code, b.category, k.code`

const workerRows = `SELECT w.*, ifnull(t.code, '') AS trade, ifnull(b.code, '') AS class FROM workers w
  LEFT JOIN trades t ON t.id = w.trade_id LEFT JOIN burden_classes b ON b.id = w.burden_class_id ORDER BY w.code`

const wageRows = `SELECT w.code AS worker, g.effective_from AS "from", g.rate, g.per FROM wages g
  JOIN workers w ON w.id = g.worker_id ORDER BY w.code, g.effective_from`

const openingRows = `SELECT w.code AS worker, o.year, o.gross, o.straight FROM year_openings o
  JOIN workers w ON w.id = o.worker_id ORDER BY w.code, o.year`

const burdenRows = `SELECT b.*, c.code AS class, ifnull(k.code, '') AS cost_code FROM burdens b
  JOIN burden_classes c ON c.id = b.burden_class_id LEFT JOIN cost_codes k ON k.id = b.cost_code_id
  ORDER BY c.code, b.component, k.code, b.effective_from`

const rateRows = `SELECT r.*, c.code AS card, ifnull(w.code, '') AS worker, ifnull(t.code, '') AS trade,
  ifnull(k.code, '') AS cost_code
  FROM labour_rates r JOIN rate_cards c ON c.id = r.card_id LEFT JOIN workers w ON w.id = r.worker_id
  LEFT JOIN trades t ON t.id = r.trade_id
  LEFT JOIN cost_codes k ON k.id = r.cost_code_id ORDER BY c.code, r.effective_from, worker, trade, cost_code`

const markupRows = `SELECT m.*, c.code AS card FROM markups m JOIN rate_cards c ON c.id = m.card_id
  ORDER BY c.code, m.effective_from, m.category, m.over_cost`

const contactRows = `SELECT p.*, c.code AS customer FROM contacts p JOIN customers c ON c.id = p.customer_id ORDER BY c.code, p.id`

const customerRows = `SELECT c.*, ifnull(r.code, '') AS card, ifnull(t.code, '') AS tax FROM customers c
  LEFT JOIN rate_cards r ON r.id = c.rate_card_id LEFT JOIN tax_codes t ON t.id = c.tax_code_id ORDER BY c.code`

const jobRows = `SELECT j.*, ifnull(c.code, '') AS customer, ifnull(r.code, '') AS card, ifnull(t.code, '') AS tax
  FROM jobs j
  LEFT JOIN customers c ON c.id = j.customer_id LEFT JOIN rate_cards r ON r.id = j.rate_card_id
  LEFT JOIN tax_codes t ON t.id = j.tax_code_id ORDER BY j.number_order`

const scheduleRows = `SELECT l.*, j.number AS job, ifnull(p.code, '') AS phase FROM schedule_lines l JOIN jobs j ON j.id = l.job_id
  LEFT JOIN phases p ON p.id = l.phase_id ORDER BY j.number_order, l.position`

const instalmentRows = `SELECT n.*, j.number AS job FROM instalments n JOIN jobs j ON j.id = n.job_id ORDER BY j.number_order, n.position`

const recurringLineRows = `SELECT l.*, r.ref, j.number AS job FROM recurring_lines l JOIN recurring r ON r.id = l.recurring_id
  JOIN jobs j ON j.id = l.job_id ORDER BY r.id, l.position`

// keepRecurring and keepRecurringLine put a row in its place; what has begun keeps its dates, and what was made stays made.
const (
	keepRecurring = `INSERT INTO recurring (ref, text, first, every, step, until, made)
  VALUES (@ref, @text, @first, @every, @step, @until, @made) ON CONFLICT (ref) DO UPDATE SET text = @text, first = @first, every = @every,
  step = @step, until = @until, version = version + 1`
	keepRecurringLine = `INSERT INTO recurring_lines (recurring_id, position, job_id, category, text, quantity, unit, amount)
  SELECT id, @position, @job, @category, @text, @quantity, @unit, @amount FROM recurring WHERE ref = @recurring
  ON CONFLICT (recurring_id, position) DO UPDATE SET job_id = @job, category = @category, text = @text, quantity = @quantity,
  unit = @unit, amount = @amount`
)

// keepScheduleLine and keepInstalment put a row in its place.
const (
	keepScheduleLine = `INSERT INTO schedule_lines (job_id, position, text, phase_id, amount, rest)
  VALUES (@job, @position, @text, @phase, @amount, @rest) ON CONFLICT (job_id, position) DO UPDATE SET text = @text, phase_id = @phase,
  amount = @amount, rest = @rest`
	keepInstalment = `INSERT INTO instalments (job_id, position, text, amount, percent, rest, due, reached)
  VALUES (@job, @position, @text, @amount, @percent, @rest, @due, @reached) ON CONFLICT (job_id, position) DO UPDATE SET text = @text,
  amount = @amount, percent = @percent, rest = @rest, due = @due, reached = @reached`
)

const phaseRows = `SELECT p.*, j.number FROM phases p JOIN jobs j ON j.id = p.job_id
  ORDER BY j.number_order, p.code`

const workdayRows = `SELECT d.*, w.code AS worker FROM workdays d JOIN workers w ON w.id = d.worker_id
  ORDER BY w.code, d.date`

const attachmentRows = `SELECT a.*, d.ref AS document FROM attachments a JOIN cost_documents d ON d.id = a.document_id
  ORDER BY d.id, a.id`

const reimbursementRows = `SELECT d.ref AS document, r.ref, r.date, r.note FROM reimbursed_documents p
  JOIN cost_documents d ON d.id = p.document_id JOIN reimbursements r ON r.id = p.reimbursement_id ORDER BY r.id, d.id`

const itemPriceRows = `SELECT p.* FROM item_prices p JOIN items i ON i.id = p.item_id
  ORDER BY i.code, p.effective_from`

const supplierRows = `SELECT s.*, ifnull(k.code, '') AS cost_code FROM suppliers s
  LEFT JOIN cost_codes k ON k.id = s.cost_code_id ORDER BY s.name`

const documentRows = `SELECT d.*, ifnull(w.code, '') AS worker FROM papers d
  LEFT JOIN workers w ON w.id = d.worker_id ORDER BY d.id`

const lineRows = `SELECT l.*, ifnull((SELECT i.code FROM items i
  WHERE i.id = l.item_id), '') AS item, d.ref AS document, ifnull(j.number, '') AS job, ifnull(p.code, '') AS phase, ifnull(k.code,
  '') AS cost_code FROM cost_lines l
  JOIN cost_documents d ON d.id = l.document_id LEFT JOIN jobs j ON j.id = l.job_id LEFT JOIN phases p ON p.id = l.phase_id
  LEFT JOIN cost_codes k ON k.id = l.cost_code_id ORDER BY d.id, l.line_order`

const invoiceHeadRows = `SELECT r.*, c.code AS customer,
  ifnull((SELECT media FROM logos WHERE sha256 = r.company_logo), '') AS logo_media,
  ifnull((SELECT o.prefix || o.number FROM invoices o WHERE o.id = r.credit_of), '') AS credit_on
  FROM refs r JOIN customers c ON c.id = r.customer_id
  ORDER BY r.status = 'draft', r.number, r.id`

const typedLineRows = `SELECT t.*, r.ref, ifnull(j.number, '') AS job, ifnull(p.code, '') AS phase,
  ifnull((SELECT l.position FROM schedule_lines l WHERE l.id = t.schedule_line_id), 0) AS of_schedule,
  ifnull((SELECT n.position FROM instalments n WHERE n.id = t.instalment_id), 0) AS of_instalment FROM typed_lines t
  JOIN refs r ON r.id = t.invoice_id LEFT JOIN jobs j ON j.id = t.job_id LEFT JOIN phases p ON p.id = t.phase_id
  ORDER BY r.status = 'draft', r.number, r.id, t.position`

const invoiceLineRows = `SELECT l.*, r.ref, j.number AS job, ifnull(t.position, 0) AS typed FROM invoice_lines l
  JOIN refs r ON r.id = l.invoice_id JOIN jobs j ON j.id = l.job_id LEFT JOIN typed_lines t ON t.id = l.typed_line_id
  WHERE r.status = 'issued' ORDER BY r.number, l.position`

const invoiceTaxRows = `SELECT t.*, r.ref, ifnull(d.prefix || d.number, '') AS deposit FROM invoice_taxes t
  JOIN refs r ON r.id = t.invoice_id LEFT JOIN invoices d ON d.id = t.deposit_id
  WHERE r.status = 'issued' ORDER BY r.number, t.position`

const invoiceJobRows = `SELECT s.*, r.ref, j.number AS job FROM invoice_jobs s
  JOIN refs r ON r.id = s.invoice_id JOIN jobs j ON j.id = s.job_id
  WHERE r.status = 'issued' ORDER BY r.number, j.number_order`

const invoicePartyRows = `SELECT p.*, r.ref FROM invoice_parties p JOIN refs r ON r.id = p.invoice_id
  WHERE r.status = 'issued' ORDER BY r.number, p.side DESC`

const invoiceSourceRows = `SELECT r.ref, ifnull(e.ref, '') AS entry, ifnull(d.ref, '') AS document,
  ifnull(c.line, '') AS line,
  CASE WHEN r.status = 'issued' THEN l.position END AS position, s.charge, s.amount, s.part, s.way, s.typed, s.runs, s.up, s.down,
  s.all_down, s.reason, s.released = 1 AND s.down = 0
    AND NOT EXISTS (SELECT 1 FROM credits x WHERE x.source_id = s.id AND x.again = 0) AS idle
  FROM invoice_sources s JOIN refs r ON r.id = s.invoice_id LEFT JOIN time_entries e ON e.id = s.entry_id
  LEFT JOIN cost_lines c ON c.id = s.cost_line_id
  LEFT JOIN cost_documents d ON d.id = c.document_id LEFT JOIN invoice_lines l ON l.id = s.invoice_line_id
  ORDER BY r.status = 'draft', r.number, r.id, s.entry_id IS NULL, s.entry_id, d.id, c.line_order`

const writeBackRows = `SELECT b.*, r.ref, ifnull(e.ref, '') AS entry, ifnull(d.ref, '') AS document, ifnull(c.line, '') AS line, s.part,
  row_number() OVER (PARTITION BY b.source_id ORDER BY b.id) AS nth
  FROM write_backs b JOIN invoice_sources s ON s.id = b.source_id JOIN refs r ON r.id = s.invoice_id
  LEFT JOIN time_entries e ON e.id = s.entry_id LEFT JOIN cost_lines c ON c.id = s.cost_line_id
  LEFT JOIN cost_documents d ON d.id = c.document_id ORDER BY r.number, entry, document, c.line_order, s.part, b.id`

const releaseRows = `SELECT ref, job, from_ref, amount FROM (
  SELECT r.ref, r.status, r.number, r.id, j.number AS job, j.number_order, '' AS from_ref, 0 AS from_number, x.amount
    FROM releases x JOIN refs r ON r.id = x.invoice_id JOIN jobs j ON j.id = x.job_id
  UNION ALL SELECT r.ref, r.status, r.number, r.id, j.number, j.number_order, f.prefix || f.number, f.number, p.amount
    FROM release_parts p JOIN refs r ON r.id = p.invoice_id JOIN jobs j ON j.id = p.job_id JOIN invoices f ON f.id = p.from_id
    WHERE r.status = 'issued') ORDER BY status = 'draft', number, id, number_order, from_number`

const appliedDepositRows = `SELECT r.ref, d.prefix || d.number AS deposit, a.amount FROM applied_deposits a
  JOIN refs r ON r.id = a.invoice_id JOIN invoices d ON d.id = a.deposit_id ORDER BY r.status = 'draft', r.number, r.id, d.number`

const creditRows = `SELECT x.*, r.ref, ifnull(e.ref, '') AS entry, ifnull(d.ref, '') AS document, ifnull(c.line, '') AS line,
  ifnull(s.part, 0) AS part, ifnull(l.position, 0) AS line_position
  FROM credits x JOIN refs r ON r.id = x.invoice_id LEFT JOIN invoice_sources s ON s.id = x.source_id
  LEFT JOIN time_entries e ON e.id = s.entry_id LEFT JOIN cost_lines c ON c.id = s.cost_line_id
  LEFT JOIN cost_documents d ON d.id = c.document_id LEFT JOIN invoice_lines l ON l.id = x.line_id
  ORDER BY r.number, x.position, entry, document, c.line_order, part, line_position`

// sayTaxes gives the taxes and shares of an invoice that does not say it what they are on.
const (
	sayTaxes = `UPDATE invoice_taxes SET applies_to = t.applies_to, on_release = t.on_release FROM taxes_of_invoices t
  WHERE t.id = invoice_taxes.id AND invoice_taxes.applies_to = '' AND invoice_taxes.invoice_id = ?`
	sayCodes = `UPDATE invoice_jobs SET tax_code = t.code FROM taxes_of_jobs t WHERE t.invoice_id = invoice_jobs.invoice_id
  AND t.job_id = invoice_jobs.job_id AND invoice_jobs.tax_code = '' AND invoice_jobs.invoice_id = ?
  AND EXISTS (SELECT 1 FROM invoice_taxes x WHERE x.invoice_id = t.invoice_id AND x.applies_to = '')`
)

const depositByNumber = `SELECT d.deposit_id FROM deposits d JOIN invoices i ON i.id = d.deposit_id
  WHERE i.prefix || i.number = @number AND i.customer_id = @customer`

// creditedSource and creditedLine find what a note credits on its invoice.
const (
	creditedSource = `SELECT id FROM invoice_sources WHERE invoice_id = @invoice AND part = @part
  AND (entry_id = @entry OR cost_line_id = @line)`
	creditedLine = `SELECT n.id, t.phase_id FROM invoice_lines n JOIN typed_lines t ON t.id = n.typed_line_id
  WHERE n.invoice_id = @invoice AND n.position = @position`
)

const billedSegments = `SELECT g.entry_id, g.class, g.minutes, g.straight, g.gross, g.burden, g.cost, g.charge, e.ref AS entry
  FROM segments_of_hours g JOIN time_entries e ON e.id = g.entry_id WHERE g.billed = 1 ORDER BY e.id, g.class`

const frozenLines = `SELECT l.*, d.ref AS document FROM cost_lines l JOIN cost_documents d ON d.id = l.document_id
  WHERE l.billed = 1 ORDER BY d.id, l.line_order`

const paymentRows = `SELECT p.*, c.code AS customer FROM payments p JOIN customers c ON c.id = p.customer_id
  ORDER BY p.id`

// allocationRows are in the order in which they were made, numbered by payment and invoice; a date that is the later
// of theirs is blank.
const allocationRows = `SELECT ifnull(p.ref, '') AS payment, i.prefix || i.number AS invoice,
  row_number() OVER (PARTITION BY a.payment_id, a.invoice_id ORDER BY a.id) AS entry, a.amount,
  nullif(a.date, max(ifnull(p.date, i.date), i.date)) AS date
  FROM payment_allocations a LEFT JOIN payments p ON p.id = a.payment_id JOIN invoices i ON i.id = a.invoice_id ORDER BY a.id`

const bankRows = `SELECT l.*, ifnull(p.ref, '') AS payment FROM bank_lines l LEFT JOIN payments p ON p.id = l.payment_id ORDER BY l.id`

const workEntries = `SELECT e.id, e.id AS entry_id, e.ref AS key, e.job_id, ifnull(j.customer_id, 0) AS customer_id, e.status,
  e.phase_id, e.minutes, e.billed, e.charge, ifnull(e.charge, 0) - e.drafted - e.invoiced - e.written AS "left",
  (SELECT ifnull(max(s.part), 0) FROM invoice_sources s WHERE s.entry_id = e.id) AS parts
  FROM time_entries e JOIN jobs j ON j.id = e.job_id`

const workLines = `SELECT l.id, l.id AS line_id, d.ref || '/' || l.line AS key, j.id AS job_id, ifnull(j.customer_id, 0) AS customer_id,
  d.status, l.phase_id, l.billed, l.charge, ifnull(l.charge, 0) - l.drafted - l.invoiced - l.written AS "left",
  (SELECT ifnull(max(s.part), 0) FROM invoice_sources s WHERE s.cost_line_id = l.id) AS parts
  FROM cost_lines l JOIN cost_documents d ON d.id = l.document_id JOIN jobs j ON j.id = l.job_id`

const setIssued = `UPDATE invoices SET status = 'issued', number = ?, issued_at = ?, seal = ?
  WHERE id = ?`

const keepLineCosts = `UPDATE cost_lines SET status = 'approved', date = (SELECT date FROM cost_documents d
  WHERE d.id = document_id), base = ?, freight = ?, tax = ?, landed = ?, charge = ? WHERE id = ?`

const keepHourCosts = "UPDATE time_entries SET overtime_minutes = ?, class = ?, straight = ?, gross = ?, cost = ?, charge = ? WHERE id = ?"

// hoursOtherwise and lineOtherwise note what work that comes in billed would be charged now, where that is not what it was.
const (
	hoursOtherwise = "INSERT INTO charged_otherwise (entry_id, charge) SELECT id, charge FROM time_entries WHERE id = ? AND charge <> ?"
	lineOtherwise  = "INSERT INTO charged_otherwise (cost_line_id, charge) SELECT id, charge FROM cost_lines WHERE id = ? AND charge <> ?"
)

const openInvoices = `SELECT i.id, i.customer_id, i.date, i.prefix || i.number AS ref, b."left", b.paid FROM invoices i
  JOIN invoice_balance b ON b.invoice_id = i.id WHERE i.status = 'issued' AND i.credit_of IS NULL`

// creditedOver are the invoices that were prepaid and credited beyond what was due.
const creditedOver = `SELECT i.id, b."left", (SELECT max(n.date) FROM invoices n WHERE n.credit_of = i.id) AS date FROM invoices i
  JOIN invoice_balance b ON b.invoice_id = i.id WHERE b."left" < 0 AND b.paid <= 0`

// overdrawn are the customers who were refunded, or whose invoices are paid with, more than they had.
const overdrawn = `SELECT c.code, -sum(e.amount) AS over FROM credit_entries e JOIN customers c ON c.id = e.customer_id
  GROUP BY c.id HAVING sum(e.amount) < 0 ORDER BY c.code`

// keepMark and markRows are what is kept of a piece of work: that it is held, or was let go beyond its limit; to be formatted with the
// table and its columns of when and by whom.
const (
	keepMark = `INSERT INTO %[1]s (entry_id, cost_line_id, note, %[2]s, %[3]s)
  SELECT id, NULL, @note, @at, @who FROM time_entries WHERE ref = @entry AND @entry <> ''
  UNION ALL SELECT NULL, l.id, @note, @at, @who FROM cost_lines l JOIN cost_documents d ON d.id = l.document_id
    WHERE d.ref = @document AND l.line = @line
  ON CONFLICT DO UPDATE SET note = excluded.note, %[2]s = excluded.%[2]s, %[3]s = excluded.%[3]s`

	markRows = `SELECT ifnull(e.ref, '') AS entry, ifnull(d.ref, '') AS document, ifnull(l.line, '') AS line, h.note, h.%[2]s AS at,
  h.%[3]s AS who
  FROM %[1]s h LEFT JOIN time_entries e ON e.id = h.entry_id LEFT JOIN cost_lines l ON l.id = h.cost_line_id
  LEFT JOIN cost_documents d ON d.id = l.document_id ORDER BY h.entry_id IS NULL, h.entry_id, d.id, l.line_order`
)

const keepDismissal = `INSERT INTO dismissals (kind, subject, reason, at, who) VALUES (?, ?, ?, ?, ?) ON CONFLICT DO UPDATE
  SET reason = excluded.reason, at = excluded.at, who = excluded.who`

const paidBack = `SELECT p.document_id AS id, r.ref AS code FROM reimbursed_documents p
  JOIN reimbursements r ON r.id = p.reimbursement_id`

const keepHoliday = `INSERT INTO holidays (date, name) VALUES (?, ?) ON CONFLICT (date) DO UPDATE SET name = excluded.name
  WHERE name <> excluded.name`

const keepOpening = `INSERT INTO year_openings (worker_id, year, gross, straight) VALUES (?, ?, ?, ?)
  ON CONFLICT (worker_id, year) DO UPDATE SET gross = excluded.gross, straight = excluded.straight
  WHERE gross <> excluded.gross OR straight <> excluded.straight`

const keepWorkday = `INSERT INTO workdays (worker_id, date, start, finish, break_minutes, minutes) VALUES (?, ?, ?, ?, ?, ?)
  ON CONFLICT (worker_id, date) DO UPDATE
  SET start = excluded.start, finish = excluded.finish, break_minutes = excluded.break_minutes, minutes = excluded.minutes,
  version = version + 1
  WHERE start <> excluded.start OR finish <> excluded.finish OR break_minutes <> excluded.break_minutes`

const fixedDocuments = `SELECT DISTINCT d.id, d.ref AS code, 'is on an invoice' AS name FROM cost_lines l
  JOIN cost_documents d ON d.id = l.document_id WHERE l.invoice_id IS NOT NULL
  UNION ALL SELECT d.id, d.ref, 'has been paid back' FROM reimbursed_documents p JOIN cost_documents d ON d.id = p.document_id`

// invoiceRefs names invoices in a bundle: an issued one by its number, the drafts in the order in which they were made.
const invoiceRefs = `WITH refs AS (SELECT i.*, CASE WHEN i.status = 'issued' THEN i.prefix || i.number
  ELSE 'draft-' || (SELECT count(*) FROM invoices d WHERE d.status = 'draft' AND d.id <= i.id) END AS ref FROM invoices i) `

const keepTaxHead = `UPDATE tax_codes SET kind = @kind, note = @note, retainage_tax = @retainage, version = version + 1
  WHERE id = @id AND (kind <> @kind OR note <> @note OR retainage_tax <> @retainage)`

// offTotals are the papers that do not come to what is printed on them.
const offTotals = `SELECT d.id, d.total,
  d.freight + d.tax + ifnull((SELECT sum(l.base) FROM cost_lines l WHERE l.document_id = d.id), 0) AS comes_to
  FROM cost_documents d WHERE d.total IS NOT NULL AND d.status <> 'draft' AND d.void = '' AND d.id IN @ids
  AND d.total <> d.freight + d.tax + ifnull((SELECT sum(l.base) FROM cost_lines l WHERE l.document_id = d.id), 0)`

const messageRows = `SELECT m.*, c.code AS customer FROM messages m JOIN customers c ON c.id = m.customer_id ORDER BY m.id`

const messageInvoiceRows = `SELECT m.ref AS message, i.prefix || i.number AS invoice FROM message_invoices x
  JOIN messages m ON m.id = x.message_id JOIN invoices i ON i.id = x.invoice_id ORDER BY m.id, i.number`

const issuedOfMessage = `SELECT i.id FROM messages m JOIN invoices i ON i.customer_id = m.customer_id
  WHERE m.id = ? AND i.status = 'issued' AND i.prefix || i.number = ?`

const messageFileRows = `SELECT m.ref AS message, f.position, f.name, f.media, f.sha256 AS sum FROM message_files f
  JOIN messages m ON m.id = f.message_id ORDER BY m.id, f.position`
