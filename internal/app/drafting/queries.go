package drafting

import "fmt"

const (
	sourceColumns = `j.id AS job_id, j.number AS job_number, j.name AS job_name, j.retainage, j.number_order,
  c.tax_exempt, j.tax_code_id AS job_tax, c.tax_code_id AS customer_tax,
  ifnull(p.name, '') AS phase, `
	sourceJoins = ` JOIN jobs j ON j.id = x.job_id JOIN customers c ON c.id = j.customer_id LEFT JOIN phases p ON p.id = x.phase_id `

	entrySource = sourceColumns + `x.id AS entry_id, 0 AS cost_line_id, x.phase_id, 'labour' AS category, x.date, x.charge,
		x.charge - x.drafted - x.invoiced - x.written AS "left", x.held, x.minutes, 0 AS quantity, 'h' AS unit,
  w.name AS worker, ifnull(t.name, '') AS trade, ifnull(k.name, '') AS cost_code, w.name AS text, x.id AS in_order, 0 AS kind_order`
	entryJoins = sourceJoins + ` JOIN workers w ON w.id = x.worker_id LEFT JOIN trades t ON t.id = w.trade_id
		LEFT JOIN cost_codes k ON k.id = x.cost_code_id `

	lineSource = sourceColumns + `0 AS entry_id, x.id AS cost_line_id, x.phase_id, x.category, x.date, x.charge,
		x.charge - x.drafted - x.invoiced - x.written AS "left", x.held, 0 AS minutes, x.quantity, x.unit,
  '' AS worker, '' AS trade, '' AS cost_code, CASE WHEN x.description = '' THEN d.supplier
  ELSE x.description END AS text, x.id AS in_order, 1 AS kind_order`
	lineJoins = sourceJoins + ` JOIN papers d ON d.id = x.document_id `

	sourceOrder = ` ORDER BY number_order, kind_order, date, in_order`
)

// chosenColumns are what a source bills of its work and how; others counts the other parts of it, of entries or of lines.
const chosenColumns = `SELECT i.id AS source_id, i.charge AS kept_charge, i.amount, i.way, i.typed, i.runs, i.up, i.down,
  i.all_down, i.reason, i.part,
  (SELECT count(*) FROM invoice_sources o WHERE o.%[1]s = i.%[1]s AND o.released = 0) - 1 AS others, `

// invoiceSources are all that an invoice bills, someSources that of some entries and cost lines.
var (
	invoiceSources = hoursOnInvoice + "UNION ALL " + linesOnInvoice + sourceOrder
	someSources    = hoursOnInvoice + "AND i.entry_id IN @entries UNION ALL " + linesOnInvoice + "AND i.cost_line_id IN @lines" + sourceOrder
	hoursOnInvoice = fmt.Sprintf(chosenColumns, "entry_id") + entrySource + `
  FROM invoice_sources i JOIN time_entries x ON x.id = i.entry_id` + entryJoins + ` WHERE i.invoice_id = @invoice `
	linesOnInvoice = fmt.Sprintf(chosenColumns, "cost_line_id") + lineSource + `
  FROM invoice_sources i JOIN cost_lines x ON x.id = i.cost_line_id` + lineJoins + ` WHERE i.invoice_id = @invoice `
)

// typedLines are what was typed on an invoice, discounts apart.
const typedLines = `SELECT x.id AS typed_id, ` + sourceColumns + `x.phase_id, x.category, i.date, x.amount, x.amount AS charge, x.quantity,
  iif(x.category = 'labour' AND x.unit = 'h', x.quantity * 60 / 1000, 0) AS minutes, x.unit, x.text
  FROM typed_lines x JOIN invoices i ON i.id = x.invoice_id` + sourceJoins + `
  WHERE x.invoice_id = @invoice AND x.kind <> 'discount' AND (x.kind = 'line' OR x.amount <> 0) ORDER BY x.position`

// fixedParts are what a draft bills of fixed prices, with what is agreed and what was billed or is on other drafts: of the job, of the
// line of its schedule (of the one for what was billed before there was a schedule, that), and of the instalment.
const fixedParts = `SELECT t.id, t.job_id, t.amount, t.instalment_id, t.complete, t.stored, ifnull(f.contract, 0) AS contract,
  coalesce(l.amount, f.contract, 0) AS line, ifnull(n.amount, 0) AS agreed, ifnull(n.percent, 0) AS percent, ifnull(n.rest, 0) AS rest,
  (SELECT ifnull(sum(b.billed + b.drafted), 0) FROM fixed_billed b WHERE b.job_id = t.job_id AND b.invoice_id <> t.invoice_id) AS of_job,
  (SELECT ifnull(sum(b.billed + b.drafted), 0) FROM fixed_billed b WHERE b.job_id = t.job_id AND b.invoice_id <> t.invoice_id
    AND (b.schedule_line_id IS t.schedule_line_id OR l.rest = 1 AND b.schedule_line_id IS NULL)) AS of_line,
  (SELECT ifnull(sum(b.billed + b.drafted), 0) FROM fixed_billed b WHERE b.instalment_id = t.instalment_id
    AND b.invoice_id <> t.invoice_id) AS of_instalment
  FROM typed_lines t JOIN fixed_contracts f ON f.job_id = t.job_id LEFT JOIN schedule_lines l ON l.id = t.schedule_line_id
  LEFT JOIN instalments n ON n.id = t.instalment_id
  WHERE t.invoice_id = @invoice AND t.kind IN ('progress', 'instalment') ORDER BY t.position`

// leftOn counts what a draft has on it, beside discounts.
const leftOn = `SELECT (SELECT count(*) FROM invoice_sources WHERE invoice_id = @invoice)
  + (SELECT count(*) FROM typed_lines WHERE invoice_id = @invoice AND kind <> 'discount')
  + (SELECT count(*) FROM releases WHERE invoice_id = @invoice)`

const held = `h.id IS NOT NULL AS on_hold, ifnull(h.note, '') AS hold_note, `

var readySources = `SELECT (SELECT ifnull(max(i.part), 0) + 1 FROM invoice_sources i
  WHERE i.entry_id = x.id) AS part, ` + held +
	entrySource + ` FROM time_entries x` + entryJoins + ` LEFT JOIN holds h ON h.entry_id = x.id` + readyOfJobs + `
UNION ALL SELECT (SELECT ifnull(max(i.part), 0) + 1 FROM invoice_sources i WHERE i.cost_line_id = x.id), ` + held +
	lineSource + ` FROM cost_lines x` + lineJoins + ` LEFT JOIN holds h ON h.cost_line_id = x.id` + readyOfJobs + sourceOrder

// segmentsToBill are the hours of an entry by class, with their charges.
const segmentsToBill = `SELECT minutes, ifnull(charge, 0) AS charge FROM segments_of_hours WHERE entry_id = ? ORDER BY class`

// otherParts are the other live parts of some work.
const otherParts = `SELECT s.part, s.way, s.typed, s.runs, s.amount, i.status = 'draft' AS on_draft FROM invoice_sources s
  JOIN invoices i ON i.id = s.invoice_id
  WHERE (s.entry_id = nullif(@entry, 0) OR s.cost_line_id = nullif(@line, 0)) AND s.released = 0 AND s.id <> @source`

const keepSource = `UPDATE invoice_sources SET charge = @charge, amount = @amount, way = @way, typed = @typed, runs = @runs, up = @up,
  down = @down WHERE id = @id`

const sharers = `SELECT o.invoice_id FROM invoice_sources i JOIN invoice_sources o ON o.entry_id = i.entry_id AND o.released = 0
  JOIN invoices d ON d.id = o.invoice_id WHERE i.invoice_id = @invoice AND o.invoice_id <> @invoice AND d.status = 'draft'
UNION SELECT o.invoice_id FROM invoice_sources i JOIN invoice_sources o ON o.cost_line_id = i.cost_line_id AND o.released = 0
  JOIN invoices d ON d.id = o.invoice_id WHERE i.invoice_id = @invoice AND o.invoice_id <> @invoice AND d.status = 'draft'
ORDER BY 1`

// KeepChosen keeps how much of some work a draft bills.
const KeepChosen = `UPDATE invoice_sources SET way = @way, typed = @typed, amount = @amount, up = @up, down = @down, all_down = @all,
  reason = @reason WHERE id = @id`

// readyOfJobs are entries or lines of some jobs that are ready to bill, or held back by a limit, through a date.
const readyOfJobs = ` WHERE (x.ready IS NOT NULL OR x.held <> 0) AND x.job_id IN @jobs AND x.date <= @through`

const dropUncharged = `DELETE FROM invoice_sources WHERE invoice_id = ? AND (
  (SELECT charge IS NULL FROM time_entries WHERE id = entry_id) OR (SELECT charge IS NULL FROM cost_lines WHERE id = cost_line_id))`

// taxComponents are the versions of all components, those of a code in the order in which they were entered.
const taxComponents = `SELECT c.*, t.retainage_tax = 'on_release' AS on_release FROM tax_components c
  JOIN tax_codes t ON t.id = c.tax_code_id ORDER BY c.tax_code_id, c.id`

// retainedOfJob is what customers hold back of a job.
const retainedOfJob = `SELECT ifnull(sum(b.retainage), 0) FROM invoice_jobs b JOIN invoices i ON i.id = b.invoice_id
  WHERE b.job_id = ? AND i.status = 'issued'`

// sharesLeft are the shares of the jobs of an invoice, less the credit notes on it and what was applied of a deposit, and what is
// still held of each.
const sharesLeft = `SELECT b.job_id, b.tax_code, b.retainage_percent AS percent,
  (SELECT sum(x.subtotal) FROM invoices n JOIN invoice_jobs x ON x.invoice_id = n.id
    WHERE (n.id = @invoice OR n.credit_of = @invoice) AND x.job_id = b.job_id)
  - ifnull((SELECT d.applied FROM deposits d WHERE d.deposit_id = @invoice), 0) AS subtotal,
  ifnull((SELECT h.held FROM held_on_invoices h WHERE h.invoice_id = b.invoice_id AND h.job_id = b.job_id), 0) AS held,
  (SELECT sum(x.retainage) FROM invoice_jobs x JOIN invoices n ON n.id = x.invoice_id
    WHERE x.job_id = b.job_id AND n.status = 'issued') AS held_of_job
  FROM invoice_jobs b JOIN jobs j ON j.id = b.job_id WHERE b.invoice_id = @invoice ORDER BY j.number_order`

// basesLeft is what is left of an invoice by job and category.
const basesLeft = `SELECT job_id, category, sum("left") AS "left" FROM (
  SELECT ifnull(e.job_id, l.job_id) AS job_id, ifnull(l.category, 'labour') AS category, k."left" FROM invoice_sources s
    JOIN credit_left k ON k.source_id = s.id LEFT JOIN time_entries e ON e.id = s.entry_id LEFT JOIN cost_lines l ON l.id = s.cost_line_id
    WHERE s.invoice_id = @invoice
  UNION ALL SELECT n.job_id, n.category, k."left" FROM invoice_lines n JOIN credit_left k ON k.line_id = n.id
    WHERE n.invoice_id = @invoice AND n.typed_line_id IS NOT NULL) GROUP BY 1, 2`

// releasedOn is what a draft releases by job, and heldOnInvoices where retainage of a job is held, the oldest first.
const (
	releasedOn = `SELECT r.job_id, j.number, j.name, j.retainage AS percent, r.amount FROM releases r JOIN jobs j ON j.id = r.job_id
  WHERE r.invoice_id = ? ORDER BY j.number_order`
	heldOnInvoices = `SELECT invoice_id, held FROM held_on_invoices WHERE job_id = @job AND customer_id = @customer AND held <> 0
  ORDER BY date, number`
)

// appliedOn is what of deposits is applied to a draft, with what is open of each and not on another draft.
const appliedOn = `SELECT a.deposit_id, a.amount, d.open - d.drafted + a.amount AS open FROM applied_deposits a
  JOIN deposits d ON d.deposit_id = a.deposit_id JOIN invoices i ON i.id = a.deposit_id WHERE a.invoice_id = ? ORDER BY i.number`

// hoursOfDraft are the hours on a draft by class, with what they are priced by.
const (
	hoursOfDraft = pricedHours + `e.class, e.minutes, e.charge` + ofDraft + ` WHERE i.invoice_id = @invoice AND e.class IS NOT NULL
UNION ALL ` + pricedHours + `g.class, g.minutes, g.charge` + ofDraft + ` JOIN labour_segments g ON g.entry_id = e.id
  WHERE i.invoice_id = @invoice ORDER BY 1, class`
	pricedHours = `SELECT e.id AS entry_id, e.date, e.worker_id, w.trade_id, e.cost_code_id, e.rate, j.rate_card_id AS job_card,
  c.rate_card_id AS customer_card, `
	ofDraft = ` FROM invoice_sources i JOIN time_entries e ON e.id = i.entry_id JOIN workers w ON w.id = e.worker_id
  JOIN jobs j ON j.id = e.job_id JOIN customers c ON c.id = j.customer_id`
)

// codeHeldBy is the tax code of a job on the newest invoice that a release takes from.
const codeHeldBy = `SELECT ifnull((SELECT b.tax_code FROM release_parts p
  JOIN invoice_jobs b ON b.invoice_id = p.from_id AND b.job_id = p.job_id
  JOIN invoices i ON i.id = p.from_id WHERE p.invoice_id = @invoice AND p.job_id = @job ORDER BY i.number DESC LIMIT 1), '')`
