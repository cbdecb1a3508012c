package looseends

import (
	"fmt"

	"jarvo/internal/app/book"
	"jarvo/internal/app/holes"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/payback"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
)

// looseKind is a kind of loose end: what it is called, where its step leads, and the query that finds all of it.
type looseKind struct {
	name, title, why, step string
	link                   string // the kind of place where it is settled
	aside                  bool
	forCrew                bool // those who only type hours see it too
	ofJob                  bool // its rows have a job_id
	rows                   string
	find                   func(*book.Session) ([]looseRow, error) // in place of rows, where the rules of a job say what it is
	count                  string                                  // counts the rows where that is quicker; blank: they are listed
}

type looseRow struct {
	Subject, Where, Detail, Key         string
	First                               *calendar.Date
	Stake                               *money.Amount
	N, Versions, Version                int64
	WorkerID, JobID, CostCodeID, LineID *int64
	Crew, Trade, Category               string
	Least, Most                         money.Minutes
}

const (
	mostLoose = 100 // of a kind, in a list
)

// listed limits a subquery to as many rows as are shown, so that what is joined to it stays short.
var listed = fmt.Sprintf(" LIMIT %d", mostLoose)

var looseKinds = []looseKind{
	{
		name: "hole", title: "Missing day", why: "the crew was at work", step: "Fill in", link: "crew_week", aside: true, forCrew: true,
		ofJob: true,
		rows: holes.With + `,
			on_day AS (SELECT h.crew, h.date, e.job_id, e.cost_code_id, sum(e.minutes) AS minutes, sum(e.charge) AS charge
			FROM (SELECT DISTINCT crew, date FROM holes) h
			  CROSS JOIN workers m ON m.crew = h.crew AND m.active = 1 CROSS JOIN time_entries e INDEXED BY time_entries_worker ON e.worker_id = m.id
			  AND e.date = h.date GROUP BY h.crew, h.date, e.job_id, e.cost_code_id),
			most AS MATERIALIZED (SELECT crew, date, sum(charge) AS charge, job_id, cost_code_id, max(minutes) FROM on_day GROUP BY crew, date)
			SELECT w.code || ' ' || date(h.date * 86400, 'unixepoch') AS subject, w.name AS "where", h.date AS first,
			  h.date < @week AND NOT EXISTS (SELECT 1 FROM workers m JOIN time_entries e INDEXED BY time_entries_waiting ON e.status <> 'approved'
			  AND e.status = 'draft' AND e.worker_id = m.id
			    AND e.date BETWEEN ` + book.WeekOf("h.date") + ` AND ` + book.WeekOf("h.date") + ` + 6
			    WHERE m.crew = h.crew) AS n,
			  w.id AS worker_id, w.crew, h.least, h.most, o.charge / h.workers AS stake, o.job_id, o.cost_code_id
			FROM holes h JOIN workers w ON w.id = h.worker_id JOIN most o ON o.crew = h.crew AND o.date = h.date`,
		count: holes.With + " SELECT count(*) FROM holes",
	},
	{
		name: "not_handed_in", title: "Not handed in", why: "from a week that is over", step: "Hand in", link: "crew_week", forCrew: true,
		rows: `SELECT w.crew || ' ' || (` + book.WeekOf("e.date") + `) AS subject, w.crew,
			min(` + book.WeekOf("e.date") + `) AS first, sum(e.charge) AS stake, sum(e.minutes) AS most,
			count(*) AS n, sum(e.version) AS versions
			FROM time_entries e INDEXED BY time_entries_waiting JOIN workers w ON w.id = e.worker_id WHERE e.status <> 'approved'
			AND e.status = 'draft' AND e.date < @week AND @crew IN ('', w.crew) GROUP BY 1`,
	},
	{
		name: "no_code", title: "No cost code", why: "the job asks for one", step: "Choose the code", link: "job", ofJob: true,
		rows: `SELECT j.number AS subject, j.number AS key, j.number || ' ' || j.name AS "where", count(*) AS n, min(e.date) AS first,
			sum(e.charge) AS stake, j.id AS job_id
			FROM jobs j CROSS JOIN time_entries e INDEXED BY time_entries_no_code ON e.job_id = j.id AND e.cost_code_id IS NULL
			WHERE j.needs_cost_code = 1 AND e.invoice_id IS NULL GROUP BY j.id`,
	},
	{
		name: "no_wage", title: "No wage", why: "hours without a cost", step: "Add a wage", link: "wage",
		rows: `SELECT w.code AS subject, w.name AS "where", 'has hours without a wage on their date' AS detail, e.first, NULL AS stake,
			w.id AS worker_id FROM (SELECT worker_id, min(date) AS first FROM time_entries WHERE cost IS NULL GROUP BY worker_id) e
			JOIN workers w ON w.id = e.worker_id`,
		count: "SELECT count(DISTINCT worker_id) FROM time_entries WHERE cost IS NULL",
	},
	{
		name: "no_class", title: "No burden class", why: "an hour costs the wage alone", step: "Choose the class", link: "worker",
		rows: `SELECT w.code AS subject, w.name AS "where", 'no burden is added to the wage' AS detail, w.id AS key, NULL AS first,
			NULL AS stake, w.id AS worker_id FROM workers w
			WHERE w.active = 1 AND w.kind = 'employee' AND w.burden_class_id IS NULL AND EXISTS (SELECT 1 FROM burdens)`,
	},
	{
		name: "no_rate", title: "No rate", why: "hours without a price", step: "Add a rate", link: "labour_rate", ofJob: true,
		rows: `SELECT w.code || ' ' || j.number AS subject, w.name AS "where", 'job ' || j.number || ifnull(', ' || t.name, '') AS detail,
			e.first, e.stake, w.id AS worker_id, j.id AS job_id, ifnull(t.name, '') AS trade
			FROM (SELECT worker_id, job_id, min(date) AS first, ifnull(sum(cost), 0) AS stake FROM time_entries WHERE unpriced = 1
			GROUP BY worker_id, job_id) e
			JOIN workers w ON w.id = e.worker_id JOIN jobs j ON j.id = e.job_id LEFT JOIN trades t ON t.id = w.trade_id`,
		count: "SELECT count(*) FROM (SELECT DISTINCT worker_id, job_id FROM time_entries WHERE unpriced = 1)",
	},
	{
		name: "no_job", title: "No job", why: "bought for nobody yet", step: "Choose the job", link: "cost_document",
		rows: `SELECT l.id AS subject, l.description AS "where", trim(d.supplier || ' ' || d.number) AS detail, d.id AS key, l.date AS first,
			l.landed AS stake, l.id AS line_id, d.version
			FROM (SELECT * FROM cost_lines ` + withoutJob + `
			ORDER BY landed IS NULL, landed DESC, date` + listed + `) l JOIN papers d ON d.id = l.document_id`,
		count: `SELECT (SELECT count(*) FROM cost_lines WHERE job_id IS NULL)
			- (SELECT count(*) FROM cost_documents v CROSS JOIN cost_lines l ON l.document_id = v.id WHERE v.void <> '' AND l.job_id IS NULL)`,
	},
	{
		name: "no_markup", title: "No markup", why: "no card has one: at cost", step: "Add a markup", link: "markup",
		rows: `SELECT d.ref || ' ' || l.category AS subject, l.category AS "where", trim(d.supplier || ' ' || d.number) AS detail, l.first,
			l.stake, l.category
			FROM (SELECT document_id, category, min(date) AS first, sum(landed) AS stake FROM cost_lines WHERE unmarked = 1 AND billed = 0
			GROUP BY document_id, category ORDER BY stake DESC, first` + listed + `) l JOIN papers d ON d.id = l.document_id`,
		count: "SELECT count(*) FROM (SELECT DISTINCT document_id, category FROM cost_lines WHERE unmarked = 1 AND billed = 0)",
	},
	{
		name: "late", title: "Billed late", why: "ready for too long", step: "Make a draft", link: "ready", ofJob: true,
		rows: `SELECT j.number AS subject, j.number AS key, j.number || ' ' || j.name AS "where", j.id AS job_id, (SELECT sum(ready)
			FROM job_sums b WHERE b.job_id = j.id) AS stake,
			  min(ifnull(o.hours, @late), ifnull(o.lines, @late)) AS first ` + lateJobs,
		count: "SELECT count(*) " + lateJobs,
	},
	{
		name: "over", title: "Over contract", why: "will cost more than agreed", step: "Look at it", link: "job", aside: true, ofJob: true,
		find: ofFixedWork("over", func(w jobs.FixedWork) money.Amount { return w.Over }),
	},
	{
		name: "no_budget", title: "No budget", why: "a fixed price with nothing to measure it by", step: "Type a budget", link: "budget",
		aside: true, ofJob: true, find: ofFixedWork("no_budget", jobs.FixedWork.WithoutBudget),
	},
	{
		name: "short", title: "Phases over contract", why: "agreed for phases, more than for the job", step: "Look at it", link: "terms",
		aside: true, ofJob: true, find: ofFixedWork("short", func(w jobs.FixedWork) money.Amount { return w.Short }),
	},
	{
		name: "limit", title: "Limit nearly used", why: "agreed not to exceed", step: "Raise it", link: "terms", aside: true, ofJob: true,
		find: nearLimits,
	},
	{
		name: "below", title: "Sold below cost", why: "charged less than cost", step: "Look at it", link: "job", aside: true, ofJob: true,
		rows: `SELECT subject, key, "where", cost - sold AS stake, start AS first, job_id FROM (
			  SELECT j.number AS subject, j.number AS key, j.number || ' ' || j.name AS "where", j.start, j.id AS job_id,
			    sum((SELECT sum(b.cost - b.waiting_cost) FROM job_sums b WHERE b.job_id = j.id AND b.phase_id = t.phase_id)) AS cost,
			    sum((SELECT ifnull(sum(b.ready), 0) FROM job_sums b WHERE b.job_id = j.id AND b.phase_id = t.phase_id)
			      + (SELECT ifnull(sum(i.amount), 0) FROM invoice_phases i WHERE i.job_id = j.id
			      AND i.phase_id IS nullif(t.phase_id, 0))) AS sold
			  FROM basis_of_work t JOIN jobs j ON j.id = t.job_id WHERE t.basis = 'tm'
			  AND j.status <> 'closed'` + fmt.Sprintf(holes.NotAside, "below", "j.number") + ` GROUP BY j.id) WHERE cost > sold`,
	},
	{
		name: "otherwise", title: "Billed at another price", why: "its price has changed since", step: "Credit it", link: "invoice", aside: true,
		ofJob: true,
		rows: `SELECT i.prefix || i.number || ' ' || j.number AS subject, i.id AS key, 'invoice ' || i.prefix || i.number || ', job '
			|| j.number AS "where", iif(o.difference < 0, 'today it would be charged less', 'today it would be charged more') AS detail,
			o.first, abs(o.difference) AS stake, j.id AS job_id
			FROM otherwise_by_invoice o JOIN invoices i ON i.id = o.invoice_id JOIN jobs j ON j.id = o.job_id
			WHERE 1 = 1` + fmt.Sprintf(holes.NotAside, "otherwise", "i.prefix || i.number || ' ' || j.number"),
	},
	{
		name: "twice", title: "Entered twice", why: "same supplier, number", step: "Compare", link: "cost_document", aside: true,
		rows: `SELECT g.title AS subject, g.title AS "where", 'entered ' || g.n || ' times' AS detail, g.last AS key, (SELECT min(d.date)
			FROM cost_documents d WHERE d.supplier_id = g.supplier_id AND d.number = g.number AND d.void = '') AS first, NULL AS stake
			FROM (SELECT supplier_id, number, supplier || ' ' || number AS title, documents AS n,
			    (SELECT max(d.id) FROM cost_documents d WHERE d.supplier_id = t.supplier_id AND d.number = t.number AND d.void = '') AS last
			    FROM entered_twice t) g
			WHERE 1 = 1` + fmt.Sprintf(holes.NotAside, "twice", "g.title"),
	},
	{
		name: "closed", title: "Closed job", why: "hours still on a closed job", step: "Open the job", link: "job", ofJob: true,
		rows: `SELECT j.number AS subject, j.number AS key, j.number || ' ' || j.name AS "where", 'hours not billed or not approved' AS detail,
			ifnull(j.finish, @today) AS first, j.id AS job_id, (SELECT sum(ready) FROM job_sums b WHERE b.job_id = j.id) AS stake ` + closedJobs,
		count: "SELECT count(*) " + closedJobs,
	},
	{
		name: "owed", title: "To reimburse", why: "approved, not paid yet", step: "Reimburse", link: "owed",
		rows: `SELECT w.code AS subject, w.name AS "where", count(*) AS n, min(o.date) AS first,
			sum(o.amount) AS stake FROM (` + payback.OwedPapers + ` AND d.status = 'approved' AND d.date < @late GROUP BY d.id) o
				JOIN workers w ON w.id = o.worker_id GROUP BY w.id`,
	},
}

// withoutJob are cost lines that were bought for no job yet; of a void paper nothing is asked.
const withoutJob = "WHERE job_id IS NULL AND NOT EXISTS (SELECT 1 FROM cost_documents v WHERE v.id = document_id AND v.void <> '')"

// lateJobs have something ready to bill from before a date.
const lateJobs = "FROM oldest_ready o JOIN jobs j ON j.id = o.job_id WHERE o.hours < @late OR o.lines < @late"

// closedJobs have hours that are not approved, or not billed and to be charged.
const closedJobs = `FROM jobs j WHERE j.status = 'closed' AND (EXISTS (SELECT 1 FROM ready_hours WHERE job_id = j.id)
	  OR EXISTS (SELECT 1 FROM time_entries e INDEXED BY time_entries_job WHERE e.job_id = j.id AND e.status <> 'approved'))`
