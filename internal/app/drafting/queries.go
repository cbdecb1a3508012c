package drafting

const (
	sourceColumns = `j.id AS job_id, j.number AS job_number, j.name AS job_name, j.retainage, j.number_order,
  c.tax_exempt, j.tax_code_id AS job_tax, c.tax_code_id AS customer_tax,
  ifnull(p.name, '') AS phase, `
	sourceJoins = ` JOIN jobs j ON j.id = x.job_id JOIN customers c ON c.id = j.customer_id LEFT JOIN phases p ON p.id = x.phase_id `

	entrySource = sourceColumns + `x.id AS entry_id, 0 AS cost_line_id, x.phase_id, 'labour' AS category, x.date, x.charge,
		x.charge - x.drafted - x.invoiced AS "left", x.minutes, 0 AS quantity, 'h' AS unit,
  w.name AS worker, ifnull(t.name, '') AS trade, ifnull(k.name, '') AS cost_code, w.name AS text, x.id AS in_order, 0 AS kind_order`
	entryJoins = sourceJoins + ` JOIN workers w ON w.id = x.worker_id LEFT JOIN trades t ON t.id = w.trade_id
		LEFT JOIN cost_codes k ON k.id = x.cost_code_id `

	lineSource = sourceColumns + `0 AS entry_id, x.id AS cost_line_id, x.phase_id, x.category, x.date, x.charge,
		x.charge - x.drafted - x.invoiced AS "left", 0 AS minutes, x.quantity, x.unit,
  '' AS worker, '' AS trade, '' AS cost_code, CASE WHEN x.description = '' THEN d.supplier
  ELSE x.description END AS text, x.id AS in_order, 1 AS kind_order`
	lineJoins = sourceJoins + ` JOIN papers d ON d.id = x.document_id `

	sourceOrder = ` ORDER BY number_order, kind_order, date, in_order`
)

const invoiceSources = `SELECT i.id AS source_id, i.amount, i.whole, ` + entrySource + `
  FROM invoice_sources i JOIN time_entries x ON x.id = i.entry_id` + entryJoins + ` WHERE i.invoice_id = @invoice
UNION ALL SELECT i.id, i.amount, i.whole, ` + lineSource + `
  FROM invoice_sources i JOIN cost_lines x ON x.id = i.cost_line_id` + lineJoins + ` WHERE i.invoice_id = @invoice` + sourceOrder

const readySources = `SELECT (SELECT ifnull(max(i.part), 0) + 1 FROM invoice_sources i WHERE i.entry_id = x.id) AS part, ` +
	entrySource + ` FROM time_entries x` + entryJoins + readyOfJobs + `
UNION ALL SELECT (SELECT ifnull(max(i.part), 0) + 1 FROM invoice_sources i WHERE i.cost_line_id = x.id), ` +
	lineSource + ` FROM cost_lines x` + lineJoins + readyOfJobs + sourceOrder

// readyOfJobs are entries or lines of some jobs that are ready to bill, or held back by a limit, through a date.
const readyOfJobs = ` WHERE (x.ready IS NOT NULL OR x.held <> 0) AND x.job_id IN @jobs AND x.date <= @through`

const dropUncharged = `DELETE FROM invoice_sources WHERE invoice_id = ? AND (
  entry_id IN (SELECT id FROM time_entries WHERE invoice_id = ? AND charge IS NULL) OR
  cost_line_id IN (SELECT id FROM cost_lines WHERE invoice_id = ? AND charge IS NULL))`

// taxComponents are the versions of all components, those of a code in the order in which they were entered.
const taxComponents = `SELECT c.*, t.retainage_tax = 'on_release' AS on_release FROM tax_components c
  JOIN tax_codes t ON t.id = c.tax_code_id ORDER BY c.tax_code_id, c.id`

// retainedOfJob is what customers hold back of a job.
const retainedOfJob = `SELECT ifnull(sum(b.retainage), 0) FROM invoice_jobs b JOIN invoices i ON i.id = b.invoice_id
  WHERE b.job_id = ? AND i.status = 'issued'`
