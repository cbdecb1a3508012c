package jobs

const jobHeads = `SELECT j.*, ifnull(c.code, '') AS customer_code, ifnull(c.name, '') AS customer_name,
  o.hours AS oldest_hours, o.lines AS oldest_line
  FROM jobs j JOIN oldest_ready o ON o.job_id = j.id LEFT JOIN customers c ON c.id = j.customer_id WHERE (@job = 0 OR j.id = @job)
  ORDER BY j.number_order`

// phaseHeads are of the jobs p.job_id that a condition names.
const phaseHeads = `SELECT p.id, p.job_id, b.basis, p.contract, p.done FROM basis_of_work b JOIN phases p ON p.id = b.phase_id
  WHERE %s ORDER BY p.job_id, p.id`

// budgetSums are what is planned of each kind of cost of a place, of one job or of all that have fixed work to measure by it; where a
// forecast was typed for some of its cost codes, the budget stands in for the others.
const budgetSums = `SELECT job_id, ifnull(phase_id, 0) AS phase_id, category, sum(cost) AS budget,
  CASE WHEN count(forecast) > 0 THEN sum(ifnull(forecast, cost)) END AS forecast
  FROM budgets WHERE job_id = @job OR @job = 0 AND job_id IN ` + fixedJobs + ` GROUP BY 1, 2, 3 ORDER BY 1, 2, 3`

// fixedJobs are the jobs with fixed work.
const fixedJobs = `(SELECT job_id FROM basis_of_work WHERE basis = 'fixed' AND @job IN (0, job_id))`

// asked are the jobs that are asked about.
const asked = `@job IN (0, p.job_id)`

// fixedHeads are the jobs with fixed work that are not closed.
const fixedHeads = `SELECT j.* FROM jobs j WHERE j.id IN ` + fixedJobs + ` AND j.status <> 'closed' ORDER BY j.number_order`

// lastWork is when the last work of each place of the jobs with fixed work is dated.
const lastWork = `SELECT job_id, phase_id, max(date) AS last FROM (
  SELECT job_id, ifnull(phase_id, 0) AS phase_id, date FROM time_entries WHERE job_id IN ` + fixedJobs + `
  UNION ALL SELECT job_id, ifnull(phase_id, 0), date FROM cost_lines WHERE job_id IN ` + fixedJobs + `) GROUP BY 1, 2`

const kindTotals = `SELECT category, sum(CASE WHEN status = 'approved' THEN cost ELSE 0 END) AS actual, sum(CASE
	WHEN status <> 'approved' THEN cost ELSE 0 END) AS pending, sum(charge) AS charge FROM (
  SELECT 'labour' AS category, status, ifnull(cost, 0) AS cost, ifnull(charge, 0) AS charge FROM time_entries WHERE job_id = @job
  UNION ALL SELECT category, status, landed, ifnull(charge, 0) FROM cost_lines WHERE job_id = @job)
  GROUP BY category`

const bookedRows = `SELECT 'time_entry' AS kind, e.id AS id, e.date AS date, w.name AS what, ifnull(k.name, '') AS detail,
	e.minutes, e.cost,
  e.charge, e.status, e.billable, e.billed,
  e.invoice_id IS NOT NULL AS on_invoice, ifnull(i.prefix || i.number, '') AS invoice,
  ifnull((SELECT b.settled FROM invoice_balance b WHERE b.invoice_id = e.invoice_id), 0) AS paid
  FROM time_entries e JOIN workers w ON w.id = e.worker_id LEFT JOIN cost_codes k ON k.id = e.cost_code_id
  LEFT JOIN invoices i ON i.id = e.invoice_id WHERE e.job_id = @job
  UNION ALL SELECT 'cost_line', l.id, l.date, l.description, d.supplier || ' ' || d.number, 0, l.landed, l.charge, l.status, l.billable,
  l.billed, l.invoice_id IS NOT NULL, ifnull(i.prefix || i.number, ''),
  ifnull((SELECT b.settled FROM invoice_balance b WHERE b.invoice_id = l.invoice_id), 0)
  FROM cost_lines l JOIN papers d ON d.id = l.document_id LEFT JOIN invoices i ON i.id = l.invoice_id WHERE l.job_id = @job`

const bookedCount = `SELECT (SELECT count(*) FROM time_entries WHERE job_id = @job) + (SELECT count(*) FROM cost_lines
  WHERE job_id = @job)`

const (
	// sums are what is added up of a place, as it is kept: what is approved and beside it what is not.
	sums = `works, minutes - waiting_minutes AS minutes, cost - waiting_cost AS cost, waiting_cost AS pending, ready, held`

	// jobSums are those of a job by kind of cost, fixedSums of the places whose price is fixed; wholeSums are of all places, of all kinds.
	jobSums = `SELECT job_id, phase_id, category, iif(category = 'labour', cost - waiting_cost, 0) AS labour, ` + sums + `
  FROM kind_sums WHERE job_id = @job`
	fixedSums = `SELECT job_id, phase_id, category, iif(category = 'labour', cost - waiting_cost, 0) AS labour, ` + sums + `
  FROM (SELECT job_id, phase_id FROM basis_of_work WHERE basis = 'fixed' AND @job IN (0, job_id))
  CROSS JOIN kind_sums USING (job_id, phase_id)`
	wholeSums = `SELECT job_id, phase_id, labour - waiting_labour AS labour, ` + sums + ` FROM job_sums`
)

const (
	// hoursCounted and linesCounted add the same up from entries and lines within dates, with what is earned by the date of the work.
	hoursCounted = `SELECT job_id, ifnull(phase_id, 0) AS phase_id, 'labour' AS category, count(*) AS works,
  sum(iif(status = 'approved', minutes, 0)) AS minutes, ifnull(sum(iif(status = 'approved', cost, 0)), 0) AS cost,
  ifnull(sum(iif(status = 'approved', cost, 0)), 0) AS labour, ifnull(sum(iif(status = 'approved', 0, cost)), 0) AS pending,
  ifnull(sum(ready), 0) AS ready, sum(held) AS held,
  sum(drafted + invoiced + ifnull(ready, 0)) AS earning FROM time_entries WHERE date BETWEEN @from AND @to`
	linesCounted = `SELECT job_id, ifnull(phase_id, 0) AS phase_id, category, count(*) AS works,
  0 AS minutes, sum(iif(status = 'approved', landed, 0)) AS cost,
  0 AS labour, sum(iif(status = 'approved', 0, landed)) AS pending, ifnull(sum(ready), 0) AS ready, sum(held) AS held,
  sum(drafted + invoiced + ifnull(ready, 0)) AS earning FROM cost_lines WHERE date BETWEEN @from AND @to AND job_id IS NOT NULL`

	countedSums = hoursCounted + ` GROUP BY 1, 2 UNION ALL ` + linesCounted + ` GROUP BY 1, 2, 3`

	// fixedCounted are [countedSums] of the jobs with fixed work.
	fixedCounted = hoursCounted + ` AND job_id IN ` + fixedJobs + ` GROUP BY 1, 2 UNION ALL ` +
		linesCounted + ` AND job_id IN ` + fixedJobs + ` GROUP BY 1, 2, 3`

	billedSums = `SELECT p.job_id, ifnull(p.phase_id, 0) AS phase_id, sum(p.amount) AS billed FROM invoices i
		JOIN invoice_phases p ON p.invoice_id = i.id
WHERE i.status = 'issued' AND i.date BETWEEN @from AND @to GROUP BY 1, 2`

	draftedSums = `SELECT p.job_id, ifnull(p.phase_id, 0) AS phase_id, sum(p.amount) AS drafted FROM invoices i
		JOIN invoice_phases p ON p.invoice_id = i.id WHERE i.status = 'draft' GROUP BY 1, 2`
)

// typedSums are what was typed on invoices and drafts, and what was credited of that: earned by the date of the invoice or the note.
const typedSums = `SELECT job_id, phase_id, sum(earning) AS earning FROM (
  SELECT n.job_id, ifnull(t.phase_id, 0) AS phase_id, n.amount AS earning FROM typed_lines t JOIN invoice_lines n ON n.typed_line_id = t.id
    JOIN invoices i ON i.id = n.invoice_id WHERE t.kind <> 'deposit' AND i.date BETWEEN @from AND @to
  UNION ALL SELECT n.job_id, ifnull(t.phase_id, 0), -c.amount FROM credits c JOIN invoices i ON i.id = c.invoice_id
    JOIN invoice_lines n ON n.id = c.line_id JOIN typed_lines t ON t.id = n.typed_line_id
    WHERE t.kind <> 'deposit' AND i.date BETWEEN @from AND @to) GROUP BY 1, 2`

const jobCodes = `SELECT ifnull(r.code, '') AS card, ifnull(t.code, '') AS tax FROM jobs j
  LEFT JOIN rate_cards r ON r.id = j.rate_card_id LEFT JOIN tax_codes t ON t.id = j.tax_code_id WHERE j.id = ?`
