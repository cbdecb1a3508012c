package jobs

const jobHeads = `SELECT j.*, ifnull(c.code, '') AS customer_code, ifnull(c.name, '') AS customer_name,
  (SELECT min(date) FROM ready_hours WHERE job_id = j.id) AS oldest_hours,
  (SELECT min(date) FROM ready_lines WHERE job_id = j.id) AS oldest_line
  FROM jobs j LEFT JOIN customers c ON c.id = j.customer_id WHERE (@job = 0 OR j.id = @job)
  ORDER BY j.number_order`

const phaseHeads = `SELECT p.id, p.job_id, b.basis, p.contract FROM basis_of_work b JOIN phases p ON p.id = b.phase_id
  WHERE (@job = 0 OR p.job_id = @job) ORDER BY p.job_id, p.id`

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
	// bookedSums are the sums as they are kept.
	bookedSums = `SELECT job_id, phase_id, pending, labour, minutes, cost, ready, charge FROM job_sums`

	// CountedSums add the same up from the entries and lines, within dates. What has no job yet has job 0.
	CountedSums = `SELECT job_id, ifnull(phase_id, 0) AS phase_id, status <> 'approved' AS pending, 1 AS labour, sum(minutes) AS minutes,
		ifnull(sum(cost), 0) AS cost, ifnull(sum(ready), 0) AS ready, ifnull(sum(charge), 0) AS charge
FROM time_entries WHERE date BETWEEN @from AND @to GROUP BY 1, 2, 3
UNION ALL SELECT ifnull(job_id, 0), ifnull(phase_id, 0), status <> 'approved', 0, 0, sum(landed), ifnull(sum(ready), 0),
  ifnull(sum(charge), 0)
FROM cost_lines WHERE date BETWEEN @from AND @to GROUP BY 1, 2, 3`

	billedSums = `SELECT p.job_id, ifnull(p.phase_id, 0) AS phase_id, sum(p.amount) AS billed FROM invoices i
		JOIN invoice_phases p ON p.invoice_id = i.id
WHERE i.status = 'issued' AND i.date BETWEEN @from AND @to GROUP BY 1, 2`
)

const jobCodes = `SELECT ifnull(r.code, '') AS card, ifnull(t.code, '') AS tax FROM jobs j
  LEFT JOIN rate_cards r ON r.id = j.rate_card_id LEFT JOIN tax_codes t ON t.id = j.tax_code_id WHERE j.id = ?`
