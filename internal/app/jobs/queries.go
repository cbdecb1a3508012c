package jobs

const jobHeads = `SELECT j.*, ifnull(c.code, '') AS customer_code, ifnull(c.name, '') AS customer_name,
  (SELECT min(date) FROM ready_hours WHERE job_id = j.id) AS oldest_hours,
  (SELECT min(date) FROM ready_lines WHERE job_id = j.id) AS oldest_line
  FROM jobs j LEFT JOIN customers c ON c.id = j.customer_id WHERE (@job = 0 OR j.id = @job)
  ORDER BY j.number_order`

// phaseHeads and budgetSums are of the jobs p.job_id that a condition names.
const phaseHeads = `SELECT p.id, p.job_id, b.basis, p.contract, p.done FROM basis_of_work b JOIN phases p ON p.id = b.phase_id
  WHERE %s ORDER BY p.job_id, p.id`

// budgetSums are what is planned of each kind of cost of a place; where a forecast was typed for some of its cost codes, the budget stands
// in for the others.
const budgetSums = `SELECT job_id, ifnull(phase_id, 0) AS phase_id, category, sum(cost) AS budget,
  CASE WHEN count(forecast) > 0 THEN sum(ifnull(forecast, cost)) END AS forecast
  FROM budgets p WHERE %s GROUP BY 1, 2, 3 ORDER BY 1, 2, 3`

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

// sums are what is added up of a place: what is approved and beside it what is not.
const sums = `sum(works) AS works, sum(iif(pending, 0, minutes)) AS minutes, sum(iif(pending, 0, cost)) AS cost,
  sum(iif(pending OR category <> 'labour', 0, cost)) AS labour, sum(iif(pending, cost, 0)) AS pending,
  sum(ready) AS ready, sum(held) AS held`

// keptSums are the sums as they are kept, by kind of cost; fixedKept are those of the places whose price is fixed.
const (
	keptSums  = `SELECT job_id, phase_id, category, ` + sums + ` FROM job_sums GROUP BY 1, 2, 3`
	fixedKept = `SELECT job_id, phase_id, category, ` + sums + `
  FROM (SELECT job_id, phase_id FROM basis_of_work WHERE basis = 'fixed' AND @job IN (0, job_id))
  CROSS JOIN job_sums USING (job_id, phase_id)
  GROUP BY 1, 2, 3`
)

// counted adds up by kind of cost what was counted, with what is earned by the date of the work.
func counted(works string) string {
	return `SELECT job_id, phase_id, category, ` + sums + `, sum(earning) AS earning FROM (` + works + `) GROUP BY 1, 2, 3`
}

const (
	// hoursSummed and linesSummed are what sums of hours and of lines are of.
	hoursSummed = `SELECT job_id, ifnull(phase_id, 0) AS phase_id, status <> 'approved' AS pending, 'labour' AS category, count(*) AS works,
		sum(minutes) AS minutes, ifnull(sum(cost), 0) AS cost, ifnull(sum(ready), 0) AS ready, sum(held) AS held, sum(drafted) AS drafted,
		sum(drafted + invoiced + ifnull(ready, 0)) AS earning,
		ifnull(sum(iif(charge IS NULL, 0, cost)), 0) AS charged, ifnull(sum(iif(charge IS NULL AND billable = 0, cost, 0)), 0) AS unbillable,
		ifnull(sum(charge), 0) AS charge FROM time_entries WHERE date BETWEEN @from AND @to`
	linesSummed = `SELECT ifnull(job_id, 0) AS job_id, ifnull(phase_id, 0) AS phase_id, status <> 'approved' AS pending, category,
		count(*) AS works,
		0 AS minutes, sum(landed) AS cost, ifnull(sum(ready), 0) AS ready, sum(held) AS held, sum(drafted) AS drafted,
		sum(drafted + invoiced + ifnull(ready, 0)) AS earning,
		sum(iif(charge IS NULL, 0, landed)) AS charged, sum(iif(charge IS NULL AND billable = 0, landed, 0)) AS unbillable,
		ifnull(sum(charge), 0) AS charge FROM cost_lines WHERE date BETWEEN @from AND @to`

	// CountedSums add the same up from the entries and lines, within dates. What has no job yet has job 0.
	CountedSums = hoursSummed + ` GROUP BY 1, 2, 3 UNION ALL ` + linesSummed + ` GROUP BY 1, 2, 3, 4`

	// fixedSums are [CountedSums] of the jobs with fixed work.
	fixedSums = hoursSummed + ` AND job_id IN ` + fixedJobs + ` GROUP BY 1, 2, 3 UNION ALL ` +
		linesSummed + ` AND job_id IN ` + fixedJobs + ` GROUP BY 1, 2, 3, 4`

	billedSums = `SELECT p.job_id, ifnull(p.phase_id, 0) AS phase_id, sum(p.amount) AS billed FROM invoices i
		JOIN invoice_phases p ON p.invoice_id = i.id
WHERE i.status = 'issued' AND i.date BETWEEN @from AND @to GROUP BY 1, 2`

	draftedSums = `SELECT p.job_id, ifnull(p.phase_id, 0) AS phase_id, sum(p.amount) AS drafted FROM invoices i
		JOIN invoice_phases p ON p.invoice_id = i.id WHERE i.status = 'draft' GROUP BY 1, 2`
)

const jobCodes = `SELECT ifnull(r.code, '') AS card, ifnull(t.code, '') AS tax FROM jobs j
  LEFT JOIN rate_cards r ON r.id = j.rate_card_id LEFT JOIN tax_codes t ON t.id = j.tax_code_id WHERE j.id = ?`
