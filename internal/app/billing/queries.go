package billing

const readyJobs = `SELECT DISTINCT j.id AS job_id, j.customer_id, c.invoice_per, j.number_order FROM (
  SELECT job_id FROM ready_hours WHERE date <= @through UNION ALL SELECT job_id FROM ready_lines WHERE date <= @through
  UNION ALL SELECT job_id FROM (` + instalmentsDue + `)
  ) r JOIN jobs j ON j.id = r.job_id JOIN customers c ON c.id = j.customer_id ORDER BY j.number_order`

const jobHeads = `SELECT j.id AS job_id, j.number, j.name, ifnull(c.name, '') AS customer, ifnull(b.billed, 0) AS billed,
  ifnull(b.on_draft, 0) AS on_draft
  FROM jobs j LEFT JOIN customers c ON c.id = j.customer_id LEFT JOIN (
    SELECT b.job_id, sum(iif(i.status = 'issued', b.amount, 0)) AS billed, sum(iif(i.status = 'draft', b.amount, 0)) AS on_draft
    FROM invoice_phases b JOIN invoices i ON i.id = b.invoice_id WHERE @job IN (0, b.job_id) GROUP BY b.job_id) b ON b.job_id = j.id
  WHERE @job IN (0, j.id) ORDER BY j.number_order`

// What can't be billed up to a date, of a job or of all (0): hours and papers that nobody has approved, and hours without a rate.
const (
	notReadyHours = `SELECT e.status, w.crew AS who, sum(e.minutes) AS minutes, sum(e.charge) AS charge, min(e.first) AS first FROM (
	  SELECT status, worker_id, sum(minutes) AS minutes, ifnull(sum(charge), 0) AS charge, min(date) AS first FROM time_entries
	  WHERE status <> 'approved' AND date <= @through AND @job IN (0, job_id) GROUP BY status, worker_id) e
	JOIN workers w ON w.id = e.worker_id GROUP BY e.status, w.crew ORDER BY e.status, charge DESC`

	notReadyPapers = `SELECT CASE WHEN d.supplier = '' THEN d.ref ELSE d.supplier END AS who, d.number, e.lines, e.charge FROM (
	  SELECT document_id, count(*) AS lines, ifnull(sum(charge), 0) AS charge FROM cost_lines
	  WHERE status <> 'approved' AND date <= @through AND @job IN (0, job_id) GROUP BY document_id ORDER BY charge DESC LIMIT 100) e
	JOIN papers d ON d.id = e.document_id ORDER BY e.charge DESC`

	// Hours without a rate, by worker: of a job from the hours themselves, else as they are added up.
	notReadyUnpriced = `SELECT w.id, w.name AS who, e.minutes, e.cost FROM (
	  SELECT worker_id, sum(minutes) AS minutes, sum(cost) AS cost FROM (
	    SELECT worker_id, minutes, cost FROM unpriced_sums WHERE @job = 0 AND span < @through / 28
	    UNION ALL SELECT u.worker_id, e.minutes, ifnull(e.cost, 0) FROM unpriced_sums u JOIN time_entries e ON e.worker_id = u.worker_id
	      WHERE @job = 0 AND u.span = @through / 28 AND e.unpriced = 1 AND e.date BETWEEN u.span * 28 AND @through
	    UNION ALL SELECT worker_id, minutes, ifnull(cost, 0) FROM time_entries
	      WHERE @job <> 0 AND job_id = @job AND unpriced = 1 AND date <= @through
	  ) GROUP BY worker_id ORDER BY cost DESC LIMIT 100) e
	JOIN workers w ON w.id = e.worker_id ORDER BY e.cost DESC`

	// The first jobs of a worker's hours without a rate, one more than are named.
	jobsUnpriced = `SELECT j.number FROM (SELECT DISTINCT job_id FROM time_entries
	  WHERE worker_id = @worker AND unpriced = 1 AND date <= @through AND @job IN (0, job_id) LIMIT 4) e
	JOIN jobs j ON j.id = e.job_id ORDER BY j.number_order`
)

const draftsDue = `SELECT ifnull(sum(i.due_now), 0) FROM invoices i WHERE i.status = 'draft'
  AND (@job = 0 OR i.id IN (SELECT invoice_id FROM invoice_jobs WHERE job_id = @job))`

const linesOfInvoice = `SELECT l.*, j.number AS job_number, j.name AS job_name FROM invoice_lines l
  JOIN jobs j ON j.id = l.job_id
  WHERE l.invoice_id = ? ORDER BY l.position`

const numbersOfJobs = `SELECT j.number FROM invoice_jobs b JOIN jobs j ON j.id = b.job_id WHERE b.invoice_id = ? ORDER BY j.number_order`

// dropIdle drops what is typed on a draft and comes to nothing: discounts that nothing on it is of, progress and instalments of 0.
const dropIdle = `DELETE FROM typed_lines WHERE invoice_id = ? AND kind NOT IN ('line', 'deposit')
  AND NOT EXISTS (SELECT 1 FROM invoice_lines l WHERE l.typed_line_id = typed_lines.id)`

// othersTyped is the last position of what a draft bills of fixed prices.
const othersTyped = `SELECT ifnull(max(position), 0) FROM typed_lines WHERE invoice_id = ? AND kind NOT IN ('line', 'discount', 'deposit')`

const typedRows = `SELECT t.*, ifnull(j.number, '') AS job, ifnull(p.code, '') AS phase FROM typed_lines t
  LEFT JOIN jobs j ON j.id = t.job_id LEFT JOIN phases p ON p.id = t.phase_id WHERE t.invoice_id = ? ORDER BY t.position`

// costOfParts are what each work on an invoice cost in all, its charge, and what of that is on the invoice and was before it.
const costOfParts = `SELECT ifnull(e.cost, 0) AS cost, ifnull(e.charge, 0) AS charge, i.amount,
  (SELECT ifnull(sum(b.amount), 0) FROM invoice_sources b WHERE b.entry_id = i.entry_id AND b.released = 0
  AND b.part < i.part) AS before
  FROM invoice_sources i JOIN time_entries e ON e.id = i.entry_id WHERE i.invoice_id = @invoice
UNION ALL SELECT l.landed, ifnull(l.charge, 0), i.amount,
  (SELECT ifnull(sum(b.amount), 0) FROM invoice_sources b WHERE b.cost_line_id = i.cost_line_id AND b.released = 0
  AND b.part < i.part)
  FROM invoice_sources i JOIN cost_lines l ON l.id = i.cost_line_id WHERE i.invoice_id = @invoice`

// readyKinds sums what is ready by job and kind through a day, a row a job: all of it, which is kept added up, less what is later:
// of later spans of four weeks as it is added up too, of the span of the day itself from the work.
const readyKinds = `WITH later AS (SELECT job_id, category, sum(works) AS works, sum(charge) AS charge FROM (
  SELECT job_id, category, works, charge FROM ready_sums WHERE span > @through / 28 AND @job IN (0, job_id)
  UNION ALL SELECT r.job_id, r.category, 1, h.ready FROM ready_sums r CROSS JOIN ready_hours h
    WHERE r.span = @through / 28 AND r.category = 'labour' AND h.job_id = r.job_id AND h.date > @through AND h.date < r.span * 28 + 28
    AND @job IN (0, r.job_id)
  UNION ALL SELECT r.job_id, r.category, 1, h.ready FROM ready_sums r CROSS JOIN ready_lines h
    WHERE r.span = @through / 28 AND h.job_id = r.job_id AND h.category = r.category AND h.date > @through AND h.date < r.span * 28 + 28
    AND @job IN (0, r.job_id)
  ) GROUP BY job_id, category)
SELECT job_id, min(oldest) AS oldest, sum(iif(category = 'labour', charge, 0)) AS labour,
  sum(iif(category = 'material', charge, 0)) AS material, sum(iif(category = 'equipment', charge, 0)) AS equipment,
  sum(iif(category = 'subcontract', charge, 0)) AS subcontract, sum(iif(category = 'expense', charge, 0)) AS expense,
  sum(iif(category = 'mileage', charge, 0)) AS mileage FROM (
  SELECT t.job_id, t.category, t.charge - ifnull(l.charge, 0) AS charge, t.oldest
    FROM ready_totals t LEFT JOIN later l ON l.job_id = t.job_id AND l.category = t.category
    WHERE @job IN (0, t.job_id) AND t.works > ifnull(l.works, 0)) GROUP BY job_id`

// unheldKinds are the same, of the jobs of which some work is held, without that.
const unheldKinds = `
SELECT job_id, 'labour' AS category, sum(ready) AS charge, min(date) AS oldest FROM ready_hours
  WHERE job_id IN @jobs AND date <= @through AND entry_id NOT IN (SELECT entry_id FROM holds WHERE entry_id IS NOT NULL) GROUP BY job_id
UNION ALL SELECT job_id, category, sum(ready), min(date) FROM ready_lines WHERE job_id IN @jobs AND date <= @through
  AND cost_line_id NOT IN (SELECT cost_line_id FROM holds WHERE cost_line_id IS NOT NULL) GROUP BY job_id, category`

// heldJobs are the jobs of which work is held, with what it comes to and the last note.
const heldJobs = `SELECT h.job_id, j.number, j.name, count(*) AS n, max(h.note) AS note, ifnull(sum(h.ready), 0) AS "left"
  FROM held_work h JOIN jobs j ON j.id = h.job_id WHERE @job IN (0, h.job_id) AND h.date <= @through GROUP BY h.job_id
  ORDER BY j.number_order`

// InvoiceRows reads each [InvoiceRow].
const InvoiceRows = `SELECT i.*, c.name AS customer, c.code AS customer_code, b.paid, b.credited, b."left", b.settled,
  ifnull((SELECT o.prefix || o.number FROM invoices o WHERE o.id = i.credit_of), '') AS credit_on
  FROM invoices i JOIN customers c ON c.id = i.customer_id JOIN invoice_balance b ON b.invoice_id = i.id`

// creditables are the parts of work that an issued invoice bills, and the lines that were typed on it, with what is left to credit of each.
const creditables = `SELECT s.id AS source_id, NULL AS line_id, ifnull(s.entry_id, 0) AS entry_id, ifnull(l.document_id, 0) AS document_id,
  ifnull(e.worker_id, 0) AS worker_id, ifnull(e.job_id, l.job_id) AS job_id, ifnull(e.phase_id, l.phase_id) AS phase_id,
  ifnull(l.category, 'labour') AS category, b.tax_code, ifnull(e.date, l.date) AS date, n.position, n.text AS line_text,
  coalesce(w.name, nullif(l.description, ''), d.supplier) AS text,
  CASE WHEN e.id IS NULL THEN d.supplier ELSE ifnull(t.name, '') END AS detail, s.amount, k."left", k.up,
  CASE WHEN s.way = 'rest' AND s.typed = 0 AND s.runs = '' THEN ifnull(e.minutes, 0) ELSE 0 END AS minutes,
  CASE WHEN s.way = 'rest' AND s.typed = 0 THEN ifnull(l.quantity, 0) WHEN s.way = 'quantity' THEN s.typed ELSE 0 END AS quantity,
  ifnull(l.unit, 'h') AS unit, 0 AS released
  FROM invoice_sources s JOIN credit_left k ON k.source_id = s.id JOIN invoice_lines n ON n.id = s.invoice_line_id
  LEFT JOIN time_entries e ON e.id = s.entry_id LEFT JOIN workers w ON w.id = e.worker_id LEFT JOIN trades t ON t.id = w.trade_id
  LEFT JOIN cost_lines l ON l.id = s.cost_line_id LEFT JOIN papers d ON d.id = l.document_id
  JOIN invoice_jobs b ON b.invoice_id = s.invoice_id AND b.job_id = ifnull(e.job_id, l.job_id)
  WHERE s.invoice_id = @invoice
UNION ALL SELECT NULL, n.id, 0, 0, 0, n.job_id, t.phase_id, n.category, b.tax_code, i.date, n.position, n.text, n.text, '', n.amount,
  k."left", 0, n.minutes, n.quantity, n.unit, 0
  FROM invoice_lines n JOIN credit_left k ON k.line_id = n.id JOIN typed_lines t ON t.id = n.typed_line_id
  JOIN invoices i ON i.id = n.invoice_id JOIN invoice_jobs b ON b.invoice_id = n.invoice_id AND b.job_id = n.job_id
  WHERE n.invoice_id = @invoice
UNION ALL SELECT NULL, NULL, 0, 0, 0, r.job_id, NULL, '', b.tax_code, i.date, 0, 'Retainage released', j.number || ' ' || j.name, '',
  r.released, r."left", 0, 0, 0, '', 1
  FROM released_left r JOIN invoices i ON i.id = r.invoice_id JOIN jobs j ON j.id = r.job_id
  JOIN invoice_jobs b ON b.invoice_id = r.invoice_id AND b.job_id = r.job_id WHERE r.invoice_id = @invoice
ORDER BY 11, 10, 1, 13`

// releasePartsLeft is what is left of a release of each job by the invoice that it was taken from, the newest first.
const releasePartsLeft = `SELECT p.job_id, p.from_id, p."left" FROM release_parts_left p JOIN invoices f ON f.id = p.from_id
  WHERE p.invoice_id = ? ORDER BY f.date DESC, f.number DESC`

// releaseCredited releases the parts that a note credited wholly, some of it to bill again.
const releaseCredited = `UPDATE invoice_sources SET released = 1 WHERE released = 0 AND id IN (SELECT c.source_id FROM credits c
  JOIN credit_left k ON k.source_id = c.source_id WHERE c.invoice_id = @note AND k."left" = 0)
  AND EXISTS (SELECT 1 FROM credits c WHERE c.source_id = invoice_sources.id AND c.again = 1)`

// unlocked is the work that a note credits of which nothing is billed or written down any more.
const unlocked = `SELECT e.id AS entry_id, 0 AS cost_line_id, e.worker_id, 0 AS document_id, e.date FROM credits c
  JOIN invoice_sources s ON s.id = c.source_id JOIN time_entries e ON e.id = s.entry_id
  WHERE c.invoice_id = @note AND e.billed = 1 AND NOT EXISTS (SELECT 1 FROM locked_work k WHERE k.entry_id = e.id)
UNION SELECT 0, l.id, 0, l.document_id, l.date FROM credits c
  JOIN invoice_sources s ON s.id = c.source_id JOIN cost_lines l ON l.id = s.cost_line_id
  WHERE c.invoice_id = @note AND l.billed = 1 AND NOT EXISTS (SELECT 1 FROM locked_work k WHERE k.cost_line_id = l.id)`

const creditsOfNote = `SELECT c.*, n.text FROM credits c JOIN invoice_lines n ON n.invoice_id = c.invoice_id AND n.position = c.position
  WHERE c.invoice_id = ? ORDER BY c.position, c.id`

// fixedJobs are the jobs with fixed work, and what is agreed of it.
const fixedJobs = `SELECT j.*, f.contract AS agreed, ifnull(c.name, '') AS customer FROM fixed_contracts f JOIN jobs j ON j.id = f.job_id
  LEFT JOIN customers c ON c.id = j.customer_id`

const fixedPhases = `SELECT p.* FROM phases p JOIN basis_of_work b ON b.phase_id = p.id WHERE p.job_id = ? AND b.basis = 'fixed'
  ORDER BY p.code`

// fixedDrafts are the drafts that bill the fixed price of a job, and draftsOfJob all drafts of it, the oldest first.
const (
	fixedDrafts = `SELECT i.* FROM invoices i WHERE i.status = 'draft' AND i.id IN (SELECT invoice_id FROM typed_lines
  WHERE job_id = ? AND kind IN ('progress', 'instalment')) ORDER BY i.id`
	draftsOfJob = `SELECT i.* FROM invoices i WHERE i.status = 'draft' AND i.id IN (SELECT invoice_id FROM invoice_jobs WHERE job_id = ?)
  ORDER BY i.id`
)

// valueSums are what was billed of a line, of that what is not on a draft of its own, and how the draft bills it.
const valueSums = `ifnull(sum(b.billed), 0) AS before, ifnull(sum(iif(b.invoice_id = @draft, 0, b.drafted)), 0) AS elsewhere,
  ifnull(sum(iif(b.invoice_id = @draft, b.drafted, 0)), 0) AS now,
  ifnull(max(iif(b.invoice_id = @draft, b.typed_line_id, 0)), 0) AS typed_id,
  max(b.typed_line_id) AS last_id`

// valueTyped are lines with what was typed of each last.
const valueTyped = `SELECT x.*, t.complete, ifnull(t.stored, 0) AS store FROM (`

// scheduleLines are the lines of the schedule of a job, and wholeLine all that was billed of one without any.
const (
	scheduleLines = valueTyped + `SELECT l.position, l.id, l.phase_id, l.text, ifnull(p.code, '') AS phase, l.amount, ` + valueSums + `
  FROM schedule_lines l
  LEFT JOIN phases p ON p.id = l.phase_id LEFT JOIN fixed_billed b ON b.job_id = l.job_id
    AND (b.schedule_line_id = l.id OR l.rest = 1 AND b.schedule_line_id IS NULL)
  WHERE l.job_id = @job GROUP BY l.id) x LEFT JOIN typed_lines t ON t.id = x.last_id ORDER BY x.position`
	wholeLine = valueTyped + `SELECT 0 AS id, ` + valueSums + ` FROM fixed_billed b WHERE b.job_id = @job) x
  LEFT JOIN typed_lines t ON t.id = x.last_id`
)

const billedOfFixed = `SELECT ifnull(sum(billed), 0) AS billed, ifnull(sum(drafted), 0) AS drafted FROM fixed_billed WHERE job_id = ?`

const instalmentRows = `SELECT n.*, (SELECT ifnull(sum(b.billed + b.drafted), 0) FROM fixed_billed b WHERE b.instalment_id = n.id) AS billed
  FROM instalments n WHERE n.job_id = ? ORDER BY n.position`

// instalmentsDue are the instalments whose date has come or whose milestone is reached, of which nothing is billed or on a draft, and that
// come to something.
const instalmentsDue = `SELECT n.* FROM instalments n JOIN jobs j ON j.id = n.job_id JOIN fixed_contracts f ON f.job_id = n.job_id
  WHERE (n.due <= @through OR n.reached <= @through) AND f.contract IS NOT NULL AND j.customer_id IS NOT NULL
  AND (SELECT ifnull(sum(b.billed + b.drafted), 0) FROM fixed_billed b WHERE b.instalment_id = n.id) = 0
  AND (n.amount < 0 OR f.contract > (SELECT ifnull(sum(b.billed + b.drafted), 0) FROM fixed_billed b WHERE b.job_id = n.job_id))`

// fixedToBill are the jobs with a fixed price of which something is left to bill.
const fixedToBill = `SELECT id, version, number, name, customer, agreed, lines, planned, billed, drafted FROM (
  SELECT j.id, j.version, j.number, j.number_order, j.name, f.contract AS agreed, ifnull(c.name, '') AS customer,
  (SELECT count(*) FROM schedule_lines l WHERE l.job_id = j.id) AS lines,
  (SELECT count(*) FROM instalments n WHERE n.job_id = j.id) AS planned,
  (SELECT ifnull(sum(b.billed), 0) FROM fixed_billed b WHERE b.job_id = j.id) AS billed,
  (SELECT ifnull(sum(b.drafted), 0) FROM fixed_billed b WHERE b.job_id = j.id) AS drafted
  FROM fixed_contracts f JOIN jobs j ON j.id = f.job_id LEFT JOIN customers c ON c.id = j.customer_id
  WHERE f.contract IS NOT NULL AND j.customer_id IS NOT NULL AND j.status IN ('live', 'finished') AND @job IN (0, j.id))
  WHERE billed < agreed ORDER BY number_order`

// retainedJobs are the jobs of which a customer holds something back, with what drafts release of that.
const retainedJobs = `SELECT * FROM (SELECT j.*, ifnull(c.name, '') AS customer, sum(b.retainage) AS held,
  (SELECT ifnull(sum(p.amount), 0) FROM invoice_phases p JOIN invoices o ON o.id = p.invoice_id
    WHERE p.job_id = j.id AND o.status = 'issued') AS billed,
  (SELECT ifnull(sum(r.amount), 0) FROM releases r JOIN invoices d ON d.id = r.invoice_id
    WHERE r.job_id = j.id AND d.status = 'draft') AS drawn
  FROM invoice_jobs b JOIN invoices i ON i.id = b.invoice_id JOIN jobs j ON j.id = b.job_id LEFT JOIN customers c ON c.id = j.customer_id
  WHERE i.status = 'issued' AND @job IN (0, b.job_id) GROUP BY j.id) WHERE held > 0 ORDER BY number_order`

const releaseRows = `SELECT j.number, j.name, r.amount FROM releases r JOIN jobs j ON j.id = r.job_id WHERE r.invoice_id = ?
  ORDER BY j.number_order`

const writtenDownOf = `SELECT w.invoice_id, w."left" FROM written_down w JOIN invoices i ON i.id = w.invoice_id
  WHERE w.source_id = ? AND i.status = 'issued'`

// recurringList are the invoices that come again, of the customer of their first line's job.
const recurringList = `SELECT r.*, c.id AS customer_id, c.name AS customer,
  (SELECT sum(l.amount) FROM recurring_lines l WHERE l.recurring_id = r.id) AS amount
  FROM recurring r JOIN recurring_lines f ON f.recurring_id = r.id AND f.position = 1 JOIN jobs j ON j.id = f.job_id
  JOIN customers c ON c.id = j.customer_id ORDER BY r.id`

const linesOfRecurring = `SELECT l.*, j.number AS job FROM recurring_lines l JOIN jobs j ON j.id = l.job_id WHERE l.recurring_id = ?
  ORDER BY l.position`

// bothBill counts the work of which two drafts bill a part each, eitherReleases and eitherAsks those of them that release retainage or ask
// for a deposit.
const (
	bothBill = `SELECT count(*) FROM invoice_sources a JOIN invoice_sources b ON a.entry_id = b.entry_id OR a.cost_line_id = b.cost_line_id
  WHERE a.invoice_id = @to AND b.invoice_id = @from`
	eitherReleases = `SELECT count(*) FROM releases WHERE invoice_id IN (@to, @from)`
	eitherAsks     = `SELECT count(*) FROM typed_lines WHERE invoice_id IN (@to, @from) AND kind = 'deposit'`
)

// moves put all that is on one draft onto another.
var moves = []string{
	`UPDATE invoice_sources SET invoice_line_id = NULL, invoice_id = @to WHERE invoice_id = @from`,
	`UPDATE time_entries SET invoice_id = @to WHERE invoice_id = @from`,
	`UPDATE cost_lines SET invoice_id = @to WHERE invoice_id = @from`,
	`DELETE FROM invoice_lines WHERE invoice_id = @from`,
	`UPDATE typed_lines SET invoice_id = @to, position = position + @typed WHERE invoice_id = @from`,
	`INSERT INTO applied_deposits SELECT @to, deposit_id, amount FROM applied_deposits WHERE invoice_id = @from
		ON CONFLICT DO UPDATE SET amount = amount + excluded.amount`,
}

// moveOf move one piece of work from a draft to another, and billsTwice counts the work that is on a draft twice.
var moveOf = map[string][]string{
	hours: {
		`UPDATE invoice_sources SET invoice_line_id = NULL, invoice_id = @to WHERE invoice_id = @from AND entry_id = @id`,
		`UPDATE time_entries SET invoice_id = @to WHERE id = @id AND invoice_id = @from`,
	},
	line: {
		`UPDATE invoice_sources SET invoice_line_id = NULL, invoice_id = @to WHERE invoice_id = @from AND cost_line_id = @id`,
		`UPDATE cost_lines SET invoice_id = @to WHERE id = @id AND invoice_id = @from`,
	},
}

const billsTwice = `SELECT count(*) FROM (SELECT 1 FROM invoice_sources WHERE invoice_id = ? GROUP BY entry_id, cost_line_id
  HAVING count(*) > 1)`

// lastTyped is the last position of what is typed on a draft.
const lastTyped = `SELECT ifnull(max(position), 0) FROM typed_lines WHERE invoice_id = ?`

// lastGrouping is how much detail the customer was shown last.
const lastGrouping = `SELECT grouping, show_rates FROM invoices WHERE customer_id = ? AND credit_of IS NULL ORDER BY id DESC LIMIT 1`

// laterIssued is the last invoice or note that was issued, where it has a later date.
const laterIssued = `SELECT prefix || number FROM invoices WHERE number = (SELECT max(number) FROM invoices) AND date > ?`

// depositRows read each deposit, with what is applied of it to one invoice.
const depositRows = `SELECT d.deposit_id, d.asked, d.credited, d.applied, d.drafted, d.open, i.prefix || i.number AS number,
  i.date, c.name AS customer, j.number AS job, j.name, b.due,
  b.credited AS due_credited, b.paid, ifnull(a.amount, 0) AS here,
  (SELECT ifnull(-sum(t.amount), 0) FROM invoice_taxes t WHERE t.invoice_id = @invoice AND t.deposit_id = d.deposit_id) AS here_tax
  FROM deposits d JOIN invoices i ON i.id = d.deposit_id JOIN customers c ON c.id = d.customer_id JOIN jobs j ON j.id = d.job_id
  JOIN invoice_balance b ON b.invoice_id = d.deposit_id
  LEFT JOIN applied_deposits a ON a.deposit_id = d.deposit_id AND a.invoice_id = @invoice`

// draftsApplying are the drafts that a deposit is applied to.
const draftsApplying = `SELECT a.invoice_id FROM applied_deposits a JOIN invoices i ON i.id = a.invoice_id
  WHERE a.deposit_id = ? AND i.status = 'draft'`

const jobsOnInvoice = `SELECT job_id FROM invoice_jobs WHERE invoice_id = ?`

// sameDeposits are the drafts that a deposit is applied to which is applied to an invoice too.
const sameDeposits = `SELECT DISTINCT o.invoice_id FROM applied_deposits a JOIN applied_deposits o ON o.deposit_id = a.deposit_id
  JOIN invoices i ON i.id = o.invoice_id WHERE a.invoice_id = ? AND i.status = 'draft' ORDER BY 1`

// asksForDeposit says whether a draft asks for a deposit.
const asksForDeposit = `SELECT count(*) FROM typed_lines WHERE invoice_id = ? AND kind = 'deposit'`

// taxesOfInvoice are the taxes of an invoice; of what is deducted with the number of the deposit that it was charged on.
const taxesOfInvoice = `SELECT t.*, ifnull(d.prefix || d.number, '') AS deposit FROM invoice_taxes t
  LEFT JOIN invoices d ON d.id = t.deposit_id WHERE t.invoice_id = ? ORDER BY t.position`

// letGoOf and keepWithin let work of a job go beyond its limit, and back within it.
var (
	letGoOf = map[string]string{
		hours: `INSERT INTO let_beyond (entry_id, note, let_by, let_at) SELECT id, @note, @who, @at FROM time_entries
  WHERE id = @id AND job_id = @job ON CONFLICT DO UPDATE SET note = note WHERE note = excluded.note`,
		line: `INSERT INTO let_beyond (cost_line_id, note, let_by, let_at) SELECT id, @note, @who, @at FROM cost_lines
  WHERE id = @id AND job_id = @job ON CONFLICT DO UPDATE SET note = note WHERE note = excluded.note`,
	}
	keepWithin = map[string]string{
		hours: `DELETE FROM let_beyond WHERE entry_id = @id AND id IN (SELECT id FROM jobs_let_beyond WHERE job_id = @job)`,
		line:  `DELETE FROM let_beyond WHERE cost_line_id = @id AND id IN (SELECT id FROM jobs_let_beyond WHERE job_id = @job)`,
	}
)

const receivedOf = `SELECT a.date, a.amount, a.payment_id, ifnull(p.method, '') AS method, ifnull(p.reference, '') AS reference,
  ifnull(p.taken_back, '') AS taken_back FROM payment_allocations a LEFT JOIN payments p ON p.id = a.payment_id
  WHERE a.invoice_id = ? ORDER BY a.date, a.id`

// keepStands keeps where the jobs of a draft stand; standsNow and standsIssued read it, of a draft and of an issued invoice.
const (
	keepStands = `UPDATE invoice_jobs SET (contract, billed_to_date, held_to_date, site, order_number) =
  (SELECT x.contract, x.billed_to_date, x.held_to_date, j.site, j.order_number
  FROM job_stands x JOIN jobs j ON j.id = x.job_id
  WHERE x.invoice_id = invoice_jobs.invoice_id AND x.job_id = invoice_jobs.job_id) WHERE invoice_id = @invoice`
	standsNow = `SELECT j.number, j.name, x.contract, x.billed_to_date, x.held_to_date FROM job_stands x JOIN jobs j ON j.id = x.job_id
  WHERE x.invoice_id = ? AND (x.contract IS NOT NULL OR x.held_to_date IS NOT NULL) ORDER BY j.number_order`
	standsIssued = `SELECT j.number, j.name, x.contract, x.billed_to_date, x.held_to_date FROM invoice_jobs x JOIN jobs j ON j.id = x.job_id
  WHERE x.invoice_id = ? AND (x.contract IS NOT NULL OR x.held_to_date IS NOT NULL) ORDER BY j.number_order`
)

// placesOf are the jobs of an invoice, where each is, and when its work on the invoice was done.
const placesOf = `SELECT j.number, j.name, iif(i.status = 'issued', b.site, j.site) AS site,
  iif(i.status = 'issued', b.order_number, j.order_number) AS order_number, b.subtotal,
  (SELECT min(d.date) FROM (` + datesOnInvoice + `) d) AS "from", (SELECT max(d.date) FROM (` + datesOnInvoice + `) d) AS through
  FROM invoice_jobs b JOIN jobs j ON j.id = b.job_id JOIN invoices i ON i.id = b.invoice_id WHERE b.invoice_id = ? ORDER BY j.number_order`

// orderOfJobs is the order that all jobs of a draft are worked under; blank where they differ.
const orderOfJobs = `SELECT iif(min(j.order_number) = max(j.order_number), min(j.order_number), '')
  FROM invoice_jobs b JOIN jobs j ON j.id = b.job_id WHERE b.invoice_id = ? HAVING count(*) > 0`

const datesOnInvoice = `SELECT e.date FROM invoice_sources s JOIN time_entries e ON e.id = s.entry_id
    WHERE s.invoice_id = b.invoice_id AND e.job_id = b.job_id
  UNION ALL SELECT l.date FROM invoice_sources s JOIN cost_lines l ON l.id = s.cost_line_id
    WHERE s.invoice_id = b.invoice_id AND l.job_id = b.job_id`

// How the jobs of an invoice are taxed: as their tax codes say now, or as those of the invoice that it credits were.
const (
	schemesByCode = `UPDATE invoice_taxes SET scheme = ifnull((SELECT p.scheme FROM tax_components p JOIN tax_codes t ON t.id = p.tax_code_id
    WHERE t.code = invoice_taxes.tax_code AND p.component = invoice_taxes.component
    AND ifnull(p.effective_from, i.date) <= i.date ORDER BY p.effective_from DESC LIMIT 1), '')
  FROM invoices i WHERE i.id = invoice_taxes.invoice_id AND invoice_taxes.invoice_id = ?`
	schemesAsCredited = `UPDATE invoice_taxes SET scheme = b.scheme FROM invoice_taxes b WHERE invoice_taxes.invoice_id = ?
  AND b.invoice_id = ? AND b.tax_code = invoice_taxes.tax_code AND b.component = invoice_taxes.component`
	taxedByCode = `UPDATE invoice_jobs SET tax_kind = t.kind, tax_note = t.note FROM tax_codes t
  WHERE invoice_jobs.invoice_id = ? AND t.code = invoice_jobs.tax_code`
	taxedAsCredited = `UPDATE invoice_jobs SET tax_kind = b.tax_kind, tax_note = b.tax_note FROM invoice_jobs b
  WHERE invoice_jobs.invoice_id = ? AND b.invoice_id = ? AND b.job_id = invoice_jobs.job_id`
)
