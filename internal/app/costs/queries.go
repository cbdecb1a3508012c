package costs

// suppliers are the names of the suppliers that are offered.
const suppliers = `SELECT name FROM suppliers WHERE active = 1 ORDER BY name COLLATE NOCASE`

// paperSums add up the lines between dates; paperSumsOfJob those of the papers that have a line for a job.
const (
	paperSums = `SELECT ifnull(sum(landed), 0) AS landed, count(DISTINCT document_id) AS lines FROM cost_lines
	WHERE date BETWEEN @from AND @to`

	paperSumsOfJob = `SELECT ifnull(sum(l.landed), 0) AS landed, count(DISTINCT l.document_id) AS lines
	FROM cost_lines l JOIN cost_documents d ON d.id = l.document_id
	WHERE d.date BETWEEN @from AND @to AND d.id IN (SELECT document_id FROM cost_lines WHERE job_id = @job)`
)

const paperRows = `SELECT d.*, ifnull(w.name, '') AS worker_name, ifnull(sum(l.landed), 0) AS landed, count(l.id) AS lines,
  sum(l.id IS NOT NULL AND l.job_id IS NULL) AS no_job, count(l.invoice_id) AS on_invoice, ifnull(sum(l.billed), 0) AS bills,
  (SELECT count(*) FROM attachments a WHERE a.document_id = d.id) AS scans
FROM (SELECT * FROM papers WHERE date BETWEEN @from AND @to
  AND (@job = 0 OR id IN (SELECT document_id FROM cost_lines WHERE job_id = @job)) ORDER BY date DESC, id DESC LIMIT @most) d
LEFT JOIN cost_lines l ON l.document_id = d.id LEFT JOIN workers w ON w.id = d.worker_id
GROUP BY d.id ORDER BY d.date DESC, d.id DESC`

const paidBackOn = `SELECT r.date FROM reimbursed_documents p
  JOIN reimbursements r ON r.id = p.reimbursement_id WHERE p.document_id = ?`

const sameNumber = `SELECT id, kind, supplier, number, date FROM papers
  WHERE supplier_id = ? AND number = ? AND id <> ? AND void = '' ORDER BY id`

const sameTotalSameDay = `SELECT d.id, d.kind, d.supplier, d.number, d.date
  FROM papers d JOIN cost_lines l ON l.document_id = d.id
  WHERE d.date = ? AND d.id <> ? AND d.void = '' GROUP BY d.id HAVING sum(l.base) + d.freight + d.tax = ?`

const setPlace = `UPDATE cost_lines SET job_id = ?, phase_id = ?, cost_code_id = ifnull(?, cost_code_id)
  WHERE id = ?`

const habits = `SELECT category, ifnull(cost_code_id, 0) AS cost_code_id FROM (
  SELECT l.category, l.cost_code_id FROM cost_documents d JOIN cost_lines l ON l.document_id = d.id WHERE d.supplier_id = ?
  ORDER BY l.id DESC LIMIT ?)
  GROUP BY category, cost_code_id ORDER BY count(*) DESC LIMIT 1`
