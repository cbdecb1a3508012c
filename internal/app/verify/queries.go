package verify

// sourcesOfInvoice is what an invoice bills of work, and the lines of it that were typed; of a credit note what it credits.
const sourcesOfInvoice = `SELECT (SELECT ifnull(sum(amount), 0) FROM invoice_sources WHERE invoice_id = @invoice)
  + (SELECT ifnull(sum(amount), 0) FROM invoice_lines WHERE invoice_id = @invoice AND typed_line_id IS NOT NULL)
  - (SELECT ifnull(sum(amount), 0) FROM credits WHERE invoice_id = @invoice)`

// phasesOfInvoice is what an invoice bills of phases, and what it asks for as a deposit or credits of one, which it does not bill.
const phasesOfInvoice = `SELECT (SELECT ifnull(sum(amount), 0) FROM invoice_phases WHERE invoice_id = @invoice)
  + (SELECT ifnull(sum(amount), 0) FROM invoice_lines WHERE invoice_id = @invoice AND category = 'deposit')`

// addedUp adds up what drafts and invoices hold of some work, and what is written down of it less what is written up, net of credit notes.
const addedUp = `SELECT ifnull(sum(iif(i.status = 'draft', s.amount, 0)), 0), ifnull(sum(iif(i.status = 'issued', s.amount, 0)), 0)
    - ifnull(sum((SELECT sum(c.amount) FROM credits c WHERE c.source_id = s.id)), 0),
  ifnull(sum(s.down - s.up), 0) - ifnull(sum((SELECT sum(w.amount) FROM write_backs w WHERE w.source_id = s.id)), 0)
    + ifnull(sum((SELECT sum(iif(c.again = 1, c.up, c.amount)) FROM credits c WHERE c.source_id = s.id)), 0)
  FROM invoice_sources s JOIN invoices i ON i.id = s.invoice_id`

// links are counts of rows that do not say of each other what they should: each is 0. A span of dates is all of them.
var links = []struct{ what, query string }{
	{"work that says it is on an invoice it is not on", `SELECT count(*) FROM time_entries e WHERE e.invoice_id IS NOT NULL AND NOT EXISTS
		(SELECT 1 FROM invoice_sources s WHERE s.entry_id = e.id AND s.invoice_id = e.invoice_id AND s.released = 0)`},
	{"cost lines that say they are on an invoice they are not on", `SELECT count(*) FROM cost_lines l WHERE l.invoice_id IS NOT NULL
		AND NOT EXISTS
		(SELECT 1 FROM invoice_sources s WHERE s.cost_line_id = l.id AND s.invoice_id = l.invoice_id AND s.released = 0)`},
	{"sources whose work does not say so", `SELECT count(*) FROM invoice_sources s LEFT JOIN time_entries e ON e.id = s.entry_id
		LEFT JOIN cost_lines l ON l.id = s.cost_line_id
		WHERE s.released = 0 AND ifnull(e.invoice_id, l.invoice_id) IS NULL`},
	{"work that is locked and not billed, or billed and not locked", `SELECT (SELECT count(*) FROM time_entries e
		WHERE e.billed <> EXISTS (SELECT 1 FROM locked_work WHERE entry_id = e.id))
		+ (SELECT count(*) FROM cost_lines l WHERE l.billed <> EXISTS (SELECT 1 FROM locked_work WHERE cost_line_id = l.id))`},
	{"write-downs of which more was taken back than there was", `SELECT count(*) FROM written_down w
		JOIN invoice_sources s ON s.id = w.source_id WHERE w."left" * s.down < 0`},
	{"releases that are not the sum of what is taken from invoices, or of which more is taken than is held", `SELECT (SELECT count(*)
		FROM releases r WHERE r.amount <> (SELECT ifnull(sum(p.amount), 0) FROM release_parts p WHERE p.invoice_id = r.invoice_id
		AND p.job_id = r.job_id)) + (SELECT count(*) FROM held_on_invoices h JOIN invoice_jobs b ON b.invoice_id = h.invoice_id
		AND b.job_id = h.job_id WHERE h.held * b.retainage < 0)`},
	{"invoices on which is not prepaid what is applied of deposits, or deposits of which more is applied than was asked", `SELECT
		(SELECT count(*) FROM invoices i WHERE i.prepaid <> (SELECT ifnull(sum(a.amount), 0) FROM applied_deposits a
		WHERE a.invoice_id = i.id)) + (SELECT count(*) FROM deposits WHERE open < 0 OR open < drafted)`},
	{"work released that is not wholly credited, or credited to bill again and not released", `SELECT count(*) FROM invoice_sources s
		JOIN credit_left k ON k.source_id = s.id JOIN invoices i ON i.id = s.invoice_id WHERE i.status = 'issued' AND s.released <>
		(s.amount <> 0 AND k."left" = 0 AND EXISTS (SELECT 1 FROM credits c WHERE c.source_id = s.id AND c.again = 1))`},
	{"invoices of which more was credited than was billed", `SELECT count(*) FROM credit_left k
		JOIN invoices i ON i.id = k.invoice_id WHERE i.credit_of IS NULL AND k."left" * ifnull((SELECT s.amount FROM invoice_sources s
		WHERE s.id = k.source_id), (SELECT l.amount FROM invoice_lines l WHERE l.id = k.line_id)) < 0`},
	{"billed work that is not approved", `SELECT (SELECT count(*) FROM time_entries WHERE billed = 1
		AND status <> 'approved') + (SELECT count(*) FROM cost_lines WHERE billed = 1 AND status <> 'approved')`},
	{"billed amounts that are not the charge of their work", `SELECT count(*) FROM invoice_sources s JOIN time_entries e ON e.id = s.entry_id
		WHERE s.released = 0 AND s.charge <> e.charge`},
	{"sums of jobs that are not what is booked to them", `SELECT count(*) FROM (
		SELECT * FROM (SELECT * FROM kind_sums WHERE works <> 0 EXCEPT SELECT * FROM added_up)
		UNION ALL SELECT * FROM (SELECT * FROM added_up EXCEPT SELECT * FROM kind_sums))`},
	{"sums of jobs that are not those of their kinds of cost", `SELECT (SELECT count(*) FROM (SELECT * FROM job_sums EXCEPT
		SELECT job_id, phase_id, sum(works), sum(no_cost), sum(no_charge), sum(minutes), sum(cost), sum(charged), sum(charge),
		sum(ready), sum(held), sum(waiting_minutes), sum(waiting_cost), sum(waiting_charge), sum(iif(category = 'labour', cost, 0)),
		sum(iif(category = 'labour', waiting_cost, 0)) FROM kind_sums GROUP BY 1, 2))
		+ (SELECT (SELECT count(*) FROM (SELECT DISTINCT job_id, phase_id FROM kind_sums)) <> (SELECT count(*) FROM job_sums))`},
	{"sums of what is ready that are not what is ready", `SELECT count(*) FROM (
		SELECT * FROM (SELECT * FROM ready_sums EXCEPT SELECT * FROM ready_added_up)
		UNION ALL SELECT * FROM (SELECT * FROM ready_added_up EXCEPT SELECT * FROM ready_sums))`},
	{"sums of hours without a rate that are not what has none", `SELECT count(*) FROM (
		SELECT * FROM (SELECT * FROM unpriced_sums EXCEPT SELECT * FROM unpriced_added_up)
		UNION ALL SELECT * FROM (SELECT * FROM unpriced_added_up EXCEPT SELECT * FROM unpriced_sums))`},
	{"work whose invoices and credit notes are not added up on it", `SELECT (SELECT count(*) FROM time_entries e
		WHERE (e.drafted, e.invoiced, e.written) IS NOT (` + addedUp + ` WHERE s.entry_id = e.id))
		+ (SELECT count(*) FROM cost_lines l WHERE (l.drafted, l.invoiced, l.written) IS NOT (` + addedUp + ` WHERE s.cost_line_id = l.id))`},
	{"work of which more is billed and written down than is charged", "SELECT count(*) FROM overbilled"},
	{"typed lines that are not the sum of the lines that stand for them", `SELECT count(*) FROM typed_lines t
		JOIN invoices i ON i.id = t.invoice_id WHERE i.status = 'issued' AND t.amount <>
		(SELECT ifnull(sum(l.amount), 0) FROM invoice_lines l WHERE l.typed_line_id = t.id)`},
	{"numbers of suppliers that were not entered as often as is kept", `SELECT count(*) FROM (
		SELECT 1 FROM (
		SELECT supplier_id, number, documents FROM supplier_numbers
		UNION ALL SELECT supplier_id, number, -documents FROM numbers_entered)
		GROUP BY supplier_id, number HAVING sum(documents) <> 0)`},
	{"payments that more is set against than they are", `SELECT count(*) FROM payments p WHERE
		(SELECT ifnull(sum(a.amount), 0) FROM payment_allocations a WHERE a.payment_id = p.id) > p.amount
		OR (p.taken_back IS NOT NULL OR p.kind = 'refund')
		AND (SELECT ifnull(sum(a.amount), 0) FROM payment_allocations a WHERE a.payment_id = p.id) <> 0`},
	{"invoices that more is set against than was due", `SELECT count(*) FROM invoice_balance WHERE "left" < 0`},
	{"customers whose credit is below 0", "SELECT count(*) FROM (SELECT 1 FROM credit_entries GROUP BY customer_id HAVING sum(amount) < 0)"},
	{"payments set against another customer's invoice", `SELECT count(*) FROM payment_allocations a JOIN payments p ON p.id = a.payment_id
		JOIN invoices i ON i.id = a.invoice_id
		WHERE p.customer_id <> i.customer_id`},
	{"payments to workers that are not the sum of their papers", `SELECT count(*) FROM reimbursements r
		WHERE r.amount <> (SELECT ifnull(sum(d.freight + d.tax
		+ (SELECT ifnull(sum(l.base), 0) FROM cost_lines l WHERE l.document_id = d.id)), 0) FROM reimbursed_documents p
		JOIN cost_documents d ON d.id = p.document_id WHERE p.reimbursement_id = r.id)`},
	{"next invoice numbers that do not follow on the last one", `SELECT count(*) FROM company WHERE EXISTS (SELECT 1 FROM invoices
		WHERE number IS NOT NULL) AND next_invoice_number <> (SELECT max(number) + 1 FROM invoices)`},
	{"gaps in the invoice numbers", "SELECT ifnull(max(number) - min(number) + 1 - count(*), 0) FROM invoices WHERE number IS NOT NULL"},
	{"segments without an entry", "SELECT count(*) FROM labour_segments WHERE entry_id NOT IN (SELECT id FROM time_entries)"},
	{"segments of hours that are of one class", `SELECT count(*) FROM labour_segments g JOIN time_entries e ON e.id = g.entry_id
		WHERE e.class IS NOT NULL`},
}
