package payback

const paidRows = `SELECT r.*, w.name AS worker, (SELECT count(*) FROM reimbursed_documents d
  WHERE d.reimbursement_id = r.id) AS papers
  FROM reimbursements r JOIN workers w ON w.id = r.worker_id ORDER BY r.date DESC, r.id DESC LIMIT ?`

// OwedPapers are the papers that somebody is to be paid back for, and has not been.
const OwedPapers = `SELECT d.id, d.worker_id, w.name AS worker_name, d.kind, d.supplier, d.number, d.date, d.status, ifnull(sum(l.base),
	0) + d.freight + d.tax AS amount
	FROM papers d JOIN workers w ON w.id = d.worker_id LEFT JOIN cost_lines l ON l.document_id = d.id
	WHERE d.worker_id IS NOT NULL AND d.void = '' AND NOT EXISTS (SELECT 1 FROM reimbursed_documents r WHERE r.document_id = d.id)`
