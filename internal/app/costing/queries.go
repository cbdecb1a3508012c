package costing

// segmentsOf reads the segments that match a condition; to be formatted with it.
const segmentsOf = `SELECT entry_id, class, minutes, straight, gross, burden, cost, charge FROM segments_of_hours
  WHERE %s ORDER BY entry_id, class`

// earnedBetween is what hours have earned between two days. Leave (class 3) adds to the gross only.
const earnedBetween = `SELECT ifnull(sum(gross), 0) AS gross, ifnull(sum(iif(class IS 3, 0, straight)), 0) AS straight
  FROM time_entries INDEXED BY time_entries_worker WHERE worker_id = ? AND date >= ? AND date < ?`

// splitHours are the segments of a worker's entries that are not of one class: the others are their own.
const splitHours = `SELECT g.* FROM time_entries e JOIN labour_segments g ON g.entry_id = e.id
  WHERE e.worker_id = ? AND e.date BETWEEN ? AND ? AND e.class IS NULL ORDER BY g.entry_id, g.class`

// changedHours and changedLines are what a condition finds; to be formatted with it.
const (
	changedHours = `SELECT e.worker_id, min(e.date) AS "from", max(e.date) AS "to" FROM time_entries e
	JOIN workers w ON w.id = e.worker_id JOIN jobs j ON j.id = e.job_id WHERE %s GROUP BY e.worker_id`

	changedLines = `SELECT DISTINCT l.document_id FROM cost_lines l LEFT JOIN jobs j ON j.id = l.job_id WHERE %s`
)

// CostedEntriesOf reads each [CostedEntry]; a condition on e, the entry, follows it.
const CostedEntriesOf = `
SELECT e.id, e.worker_id, e.date, e.job_id, e.phase_id, e.cost_code_id, e.start, e.minutes, e.billable, e.pay_class, e.rate, e.billed,
  e.invoice_id, e.overtime_minutes, e.straight, e.gross, e.class, e.cost, e.charge, e.unpriced, j.rate_card_id AS job_card,
  c.rate_card_id AS customer_card, (SELECT b.basis FROM basis_of_hours b WHERE b.entry_id = e.id) AS basis, w.trade_id
FROM time_entries e
JOIN workers w ON w.id = e.worker_id
JOIN jobs j ON j.id = e.job_id
LEFT JOIN customers c ON c.id = j.customer_id`

// PricedLines reads each [PricedLine]; a condition on l, the line, follows it, and [InLineOrder].
const PricedLines = `
SELECT l.*, j.rate_card_id AS job_card, c.rate_card_id AS customer_card,
  ifnull((SELECT b.basis FROM basis_of_lines b WHERE b.cost_line_id = l.id), '') AS basis
FROM cost_lines l
LEFT JOIN jobs j ON j.id = l.job_id
LEFT JOIN customers c ON c.id = j.customer_id`

// InLineOrder puts the lines of documents in order.
const InLineOrder = " ORDER BY l.document_id, l.line_order"

// What is billed since a date: the days of a worker, and the days and cost codes of those with a class of burden.
const (
	billedDays = `SELECT DISTINCT date FROM time_entries WHERE billed = 1 AND worker_id = @worker AND date >= @since`

	billedWithClass = `SELECT DISTINCT e.date, e.cost_code_id FROM time_entries e JOIN workers w ON w.id = e.worker_id
	WHERE e.billed = 1 AND w.burden_class_id = @class AND e.date >= @since`
)

// billedHours are the different hours since a date, of a worker or of all, that are billed at the rate of a card.
const billedHours = `SELECT DISTINCT e.worker_id, w.trade_id, e.cost_code_id, e.date, j.rate_card_id AS job_card,
  c.rate_card_id AS customer_card, '' AS basis
FROM time_entries e JOIN workers w ON w.id = e.worker_id JOIN jobs j ON j.id = e.job_id LEFT JOIN customers c ON c.id = j.customer_id
WHERE e.billed = 1 AND e.rate IS NULL AND e.date >= @since AND (@worker IS NULL OR e.worker_id = @worker)`

// billedLines are the different cost lines of a category since a date that are billed with the markup of a card.
const billedLines = `SELECT DISTINCT l.date, l.unit_cost, j.rate_card_id AS job_card, c.rate_card_id AS customer_card, '' AS basis
FROM cost_lines l JOIN jobs j ON j.id = l.job_id LEFT JOIN customers c ON c.id = j.customer_id
WHERE l.billed = 1 AND l.markup IS NULL AND l.sell_price IS NULL AND l.category = @category AND l.date >= @since`
