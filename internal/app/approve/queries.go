package approve

import (
	"jarvo/internal/app/book"
)

var waitingHours = `SELECT worker_id, ` + book.WeekOf("date") + ` AS week, sum(minutes) AS minutes,
  ifnull(sum(cost), 0) AS cost, ifnull(sum(charge), 0) AS charge
  FROM time_entries INDEXED BY time_entries_waiting
  WHERE status <> 'approved' AND status = 'submitted' AND date BETWEEN @from AND @to AND @job IN (0, job_id)
  GROUP BY 1, 2 ORDER BY 2, 1`

const waitingPaperSums = `SELECT ifnull(sum(l.landed), 0) AS landed, ifnull(sum(l.charge), 0) AS charge,
  count(DISTINCT l.document_id) AS documents
  FROM cost_lines l INDEXED BY cost_lines_waiting WHERE l.status <> 'approved' AND l.status = 'submitted' AND l.date BETWEEN @from AND @to
  AND @job IN (0, l.job_id)`

const waitingPaperRows = `SELECT d.*, ifnull((SELECT w.name FROM workers w
  WHERE w.id = d.worker_id), '') AS worker_name, count(l.id) AS lines, ifnull(sum(l.landed), 0) AS landed, sum(l.charge) AS charge,
  (SELECT count(*) FROM attachments a WHERE a.document_id = d.id) AS scans
  FROM (SELECT * FROM papers d WHERE d.status <> 'approved' AND d.status = 'submitted' AND d.date BETWEEN @from AND @to
  AND (@job = 0 OR EXISTS (SELECT 1 FROM cost_lines x WHERE x.document_id = d.id AND x.job_id = @job)) ORDER BY d.date, d.id
  LIMIT @most OFFSET @skip) d
  JOIN cost_lines l ON l.document_id = d.id AND @job IN (0, l.job_id) GROUP BY d.id ORDER BY d.date, d.id`

const markedPapers = `WITH listed AS (SELECT d.id, d.date, sum(l.base) + d.freight + d.tax AS total
  FROM cost_documents d JOIN cost_lines l ON l.document_id = d.id WHERE d.id IN (@ids) GROUP BY d.id)
  SELECT d.id, d.supplier, d.number, count(l.id) AS lines, sum(l.job_id IS NULL) AS no_job, sum(l.unmarked) AS unmarked,
  sum(l.charge IS NOT NULL AND l.charge < l.landed AND l.quantity > 0) AS below,
  EXISTS (SELECT 1 FROM entered_twice o WHERE o.supplier_id = d.supplier_id AND o.number = d.number) AS twice,
  ifnull((SELECT o.ref || CASE WHEN o.supplier <> '' THEN ' of ' || o.supplier ELSE '' END FROM papers o WHERE o.date = t.date
  AND o.id <> t.id AND o.void = ''
  AND (SELECT sum(ol.base) FROM cost_lines ol WHERE ol.document_id = o.id) + o.freight + o.tax = t.total LIMIT 1), '') AS alike
  FROM listed t JOIN papers d ON d.id = t.id JOIN cost_lines l ON l.document_id = d.id
  GROUP BY d.id`

const jobsOfPapers = `SELECT DISTINCT document_id, job_id FROM cost_lines WHERE document_id IN (?)
  AND job_id IS NOT NULL`

const listedLines = `SELECT document_id, item_id, date, unit_cost FROM cost_lines WHERE document_id IN (?)
  AND item_id IS NOT NULL AND quantity > 0`

const lastHandIn = `SELECT * FROM history WHERE kind = 'time_entry' AND subject_id = ? AND action = 'handed in'
  ORDER BY id DESC LIMIT 1`

const decidedRows = `SELECT h.id, h.at, ifnull(h.decision, h.id) AS decision, ifnull(e.version, d.version) AS version,
h.user_name, h.action, h.after, e.id AS entry_id, e.worker_id, d.id AS document_id, ifnull(w.name, '') AS worker,
ifnull(w.crew, '') AS crew,
ifnull(d.supplier, '') AS supplier, ifnull(d.number, '') AS number, ifnull(d.kind, '') AS kind, ifnull(d.void, '') AS void,
ifnull(e.status, d.status) AS status,
ifnull(e.date, d.date) AS date, ifnull(e.minutes, 0) AS minutes,
ifnull(e.cost, ifnull((SELECT sum(landed) FROM cost_lines l WHERE l.document_id = d.id), 0)) AS cost,
e.invoice_id IS NOT NULL OR EXISTS (SELECT 1 FROM cost_lines l WHERE l.document_id = d.id AND l.invoice_id IS NOT NULL) AS on_invoice
FROM (SELECT * FROM history INDEXED BY history_decisions WHERE action IN ('approved', 'returned') ORDER BY id DESC LIMIT ?) h
LEFT JOIN time_entries e ON h.kind = 'time_entry' AND e.id = h.subject_id LEFT JOIN papers d ON h.kind = 'cost_document'
AND d.id = h.subject_id
LEFT JOIN workers w ON w.id = ifnull(e.worker_id, d.worker_id) WHERE e.id IS NOT NULL OR d.id IS NOT NULL
ORDER BY h.id DESC`

const lastDecisionsOn = `SELECT h.subject_id, h.action, json_extract(h.before, '$.status') AS was FROM history h
  WHERE h.kind = ? AND h.subject_id IN (?) AND h.action IN ('approved', 'returned') AND json_extract(h.before, '$.status') <> ''
  AND h.id = (SELECT max(x.id) FROM history x WHERE x.kind = h.kind AND x.subject_id = h.subject_id) ORDER BY h.id`
