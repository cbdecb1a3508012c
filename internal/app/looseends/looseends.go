// Package looseends finds what somebody has still to look at before the work is billed.
package looseends

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/holes"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/limits"
	"jarvo/internal/app/payback"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// LooseEnd is something that could slip: what it is, its age, the money at stake, and the step that settles it, with
// what that step needs to know.
type LooseEnd struct {
	Kind    string        `json:"kind"`
	Title   string        `json:"title"`
	Why     string        `json:"why"`
	Where   string        `json:"where"`
	Detail  string        `json:"detail"`
	Date    string        `json:"date,omitempty" format:"date" doc:"the day it is about, or the first of them"`
	AgeDays int64         `json:"ageDays"`
	AtStake string        `json:"atStake,omitempty" format:"decimal"`
	Step    string        `json:"step"`
	Link    register.Link `json:"link" doc:"where it is settled"`
	Subject string        `json:"subject" doc:"which of its kind it is"`
	Aside   bool          `json:"aside" doc:"it can be set aside with a reason"`

	WorkerID   int64  `json:"workerId,omitempty"`
	JobID      int64  `json:"jobId,omitempty"`
	CostCodeID int64  `json:"costCodeId,omitempty"`
	LineID     int64  `json:"lineId,omitempty"`
	Crew       string `json:"crew,omitempty"`
	Trade      string `json:"trade,omitempty"`
	Category   string `json:"category,omitempty"`
	Hours      string `json:"hours,omitempty" format:"decimal" doc:"what the rest of the crew had"`
	HandIn     bool   `json:"handIn,omitempty" doc:"the rest of the crew's week has been handed in"`
}

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
	N                                   int64
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
			min(` + book.WeekOf("e.date") + `) AS first, sum(e.charge) AS stake, sum(e.minutes) AS most
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
			l.landed AS stake, l.id AS line_id
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

// looseArgs are what a query for loose ends asks for: the dates that decide, and the crew that the actor is kept to.
func looseArgs(s *book.Session, query string) []any {
	if !strings.Contains(query, "@") {
		return nil
	}
	today, first := s.Today(), book.WeekStart(s.Company)
	return []any{map[string]any{
		"spans": holes.Arg(s, holes.Span{From: today - calendar.Date(s.Company.MissingDays), To: today - 1}), "today": today,
		"late": today - calendar.Date(s.Company.UnbilledAlertDays), "week": today.WeekStart(first),
		"crew": s.Actor.Crew,
	}}
}

// looseSeen are the kinds that a person is shown.
func looseSeen(s *book.Session) []looseKind {
	return slices.DeleteFunc(slices.Clone(looseKinds), func(k looseKind) bool { return !k.forCrew && !s.Actor.Can(book.SeeMoney) })
}

// LooseCount counts the loose ends that [LooseEnds] lists.
func LooseCount(s *book.Session) (int64, error) {
	var total int64
	for _, k := range looseSeen(s) {
		if k.find != nil {
			found, err := k.find(s)
			if err != nil {
				return 0, err
			}
			total += int64(len(found))
			continue
		}
		count := k.count
		if count == "" {
			count = "SELECT count(*) FROM (" + k.rows + ")"
		}
		found, err := store.Value[int64](s.Tx, count, looseArgs(s, count)...)
		if err != nil {
			return 0, err
		}
		total += found
	}
	return total, nil
}

// LooseEnds lists what could slip, of a job or of all (0), grouped by what it is, most money first, as far as a sheet of it goes.
func LooseEnds(s *book.Session, job int64) ([]LooseEnd, error) {
	type group struct {
		ends  []LooseEnd
		stake money.Amount
	}
	var groups []group
	for _, k := range looseSeen(s) {
		if job != 0 && !k.ofJob {
			continue
		}
		rows, err := k.of(s, job)
		if err != nil {
			return nil, err
		}
		g := group{}
		for _, r := range rows {
			g.ends = append(g.ends, looseEnd(s, k, r))
			if r.Stake != nil {
				g.stake = max(g.stake, *r.Stake)
			}
		}
		groups = append(groups, g)
	}
	slices.SortStableFunc(groups, func(a, b group) int { return int(max(-1, min(1, b.stake-a.stake))) })
	ends := []LooseEnd{}
	for _, g := range groups {
		ends = append(ends, g.ends...)
	}
	return ends, nil
}

// of are the loose ends of a kind, of a job or of all (0), most money first.
func (k looseKind) of(s *book.Session, job int64) ([]looseRow, error) {
	if k.find == nil {
		query := k.rows
		if job != 0 {
			query = "SELECT * FROM (" + k.rows + fmt.Sprintf(") WHERE job_id = %d", job)
		}
		query += fmt.Sprintf(" ORDER BY stake IS NULL, stake DESC, first LIMIT %d", mostLoose)
		return store.Query[looseRow](s.Tx, query, looseArgs(s, k.rows)...)
	}
	rows, err := k.find(s)
	rows = slices.DeleteFunc(rows, func(r looseRow) bool { return job != 0 && *r.JobID != job })
	slices.SortStableFunc(rows, func(a, b looseRow) int { return cmp.Compare(*b.Stake, *a.Stake) })
	return rows[:min(len(rows), mostLoose)], err
}

// there says whether there is a loose end of a kind about a subject.
func (k looseKind) there(s *book.Session, subject string) (bool, error) {
	if k.find != nil {
		rows, err := k.find(s)
		return slices.ContainsFunc(rows, func(r looseRow) bool { return r.Subject == subject }), err
	}
	args := looseArgs(s, k.rows+"@")[0].(map[string]any)
	args["subject"] = subject
	found, err := store.Value[int64](s.Tx, "SELECT count(*) FROM ("+k.rows+") WHERE subject = @subject", args)
	return found > 0, err
}

// ofFixedWork finds the jobs with fixed work that something is at stake of.
func ofFixedWork(kind string, stake func(jobs.FixedWork) money.Amount) func(*book.Session) ([]looseRow, error) {
	return func(s *book.Session) ([]looseRow, error) {
		works, err := book.Keep(s, func() ([]jobs.FixedWork, error) { return jobs.Fixed(s, 0) })
		if err != nil {
			return nil, err
		}
		aside, err := setAside(s, kind)
		var rows []looseRow
		for _, w := range works {
			if amount := stake(w); amount > 0 && !aside[w.Job.Number] {
				rows = append(rows, ofJob(w.Job, amount))
			}
		}
		return rows, err
	}
}

// nearLimits finds the jobs of whose limit a fifth or less is left; at stake is what it holds back.
func nearLimits(s *book.Session) ([]looseRow, error) {
	uses, err := limits.Of(s.Tx, 0)
	if err != nil {
		return nil, err
	}
	uses = slices.DeleteFunc(uses, func(u limits.Use) bool { return !u.Near() })
	if len(uses) == 0 {
		return nil, nil
	}
	aside, err := setAside(s, "limit")
	if err != nil {
		return nil, err
	}
	open, err := store.All[store.Job](s.Tx, "id", "status <> ? AND id IN (SELECT job_id FROM limits)", store.Closed)
	if err != nil {
		return nil, err
	}
	byID := map[int64]store.Job{}
	for _, j := range open {
		byID[j.ID] = j
	}
	var rows []looseRow
	for _, u := range uses {
		job, found := byID[u.JobID]
		if !found || aside[job.Number] {
			continue
		}
		row := ofJob(job, u.Held)
		row.Detail = fmt.Sprintf("%s of %s used, %s ready, %s held back", s.Money(u.Used), s.Money(u.Agreed), s.Money(u.Ready), s.Money(u.Held))
		rows = append(rows, row)
	}
	return rows, nil
}

func ofJob(job store.Job, stake money.Amount) looseRow {
	return looseRow{
		Subject: job.Number, Key: job.Number, Where: job.Number + " " + job.Name, First: job.Start, Stake: &stake, JobID: &job.ID,
	}
}

// setAside are the subjects of a kind that were set aside.
func setAside(s *book.Session, kind string) (map[string]bool, error) {
	subjects, err := store.Query[string](s.Tx, "SELECT subject FROM dismissals WHERE kind = ?", kind)
	aside := make(map[string]bool, len(subjects))
	for _, subject := range subjects {
		aside[subject] = true
	}
	return aside, err
}

func looseEnd(s *book.Session, k looseKind, r looseRow) LooseEnd {
	end := LooseEnd{
		Kind: k.name, Title: k.title, Why: k.why, Where: r.Where, Detail: r.Detail, Step: k.step, Link: register.Link{Kind: k.link, ID: r.Key},
		Subject:  r.Subject,
		Aside:    k.aside,
		WorkerID: store.ID(r.WorkerID), JobID: store.ID(r.JobID), CostCodeID: store.ID(r.CostCodeID), LineID: store.ID(r.LineID), Crew: r.Crew,
		Trade: r.Trade, Category: r.Category,
	}
	if r.First != nil {
		end.Date, end.AgeDays = r.First.String(), max(0, int64(s.Today()-*r.First))
	}
	if s.Actor.Can(book.SeeMoney) {
		end.AtStake = s.Maybe(r.Stake)
	}
	switch k.name {
	case "hole":
		end.Hours, end.HandIn = r.Least.Short(), r.N > 0
		end.Detail = "the crew had " + r.Least.Short() + " h"
		if r.Most > r.Least {
			end.Detail = "the crew had " + r.Least.Short() + " to " + r.Most.Short() + " h"
		}
		end.Link.Crew, end.Link.ID = r.Crew, end.Date
	case "not_handed_in":
		end.Where, end.Detail = register.CrewName(r.Crew), r.Most.Short()+" h"
		end.Link.Crew, end.Link.ID = r.Crew, end.Date
	case "no_code":
		end.Detail = words.Counted(r.N, "entry")
	case "owed":
		end.Detail = words.Counted(r.N, "paper")
	}
	return end
}

// Aside is a loose end that was set aside.
type Aside struct {
	Kind    string `json:"kind"`
	Title   string `json:"title"`
	Subject string `json:"subject"`
	Reason  string `json:"reason"`
	Who     string `json:"who"`
	At      string `json:"at" format:"date-time"`
}

// SetAside is the reason why nothing has to be done about a loose end.
type SetAside struct {
	Kind    string `json:"kind"`
	Subject string `json:"subject"`
	Reason  string `json:"reason"`
}

// KindOf finds a kind of loose end by its name.
func KindOf(name string) (looseKind, bool) {
	at := slices.IndexFunc(looseKinds, func(k looseKind) bool { return k.name == name && k.aside })
	if at < 0 {
		return looseKind{}, false
	}
	return looseKinds[at], true
}

// mayAside refuses those who do not settle such a loose end; a foreman only sets holes of the own crew aside.
func mayAside(s *book.Session, kind, subject string) error {
	k, found := KindOf(kind)
	if !found {
		return refuse.Invalid("kind", "this is settled, and not set aside")
	}
	if !k.forCrew {
		return s.Actor.Need(book.Approve)
	}
	code := subject[:max(0, strings.LastIndexByte(subject, ' '))] // the date behind it has no space, a code may have
	workers, err := store.All[store.Worker](s.Tx, "id", "code = ?", code)
	if err != nil || len(workers) == 0 {
		return refuse.OrNotFound(err, "worker")
	}
	return register.OwnWorker(s, workers[0])
}

// PutAside takes a loose end off the list, with the reason why nothing has to be done; it can be brought back.
func PutAside(ctx context.Context, b *book.Book, actor book.Actor, in SetAside) error {
	return book.Change(ctx, b, actor, book.Capture, func(s *book.Session) error {
		c := s.Checks()
		reason := c.Needed("reason", in.Reason, "a reason")
		subject := c.Needed("subject", in.Subject, "what it is")
		if err := c.Err(); err != nil {
			return err
		}
		if err := mayAside(s, in.Kind, subject); err != nil {
			return err
		}
		k, _ := KindOf(in.Kind)
		there, err := k.there(s, subject)
		if err != nil {
			return err
		}
		if !there {
			return refuse.Conflict("this is no loose end any more")
		}
		row := store.Dismissal{Kind: in.Kind, Subject: subject, Reason: reason, At: s.Book.Now().UnixMilli(), Who: actor.Name}
		if err := s.Exec(keepDismissal,
			row.Kind, row.Subject, row.Reason, row.At, row.Who).Error; err != nil {
			return err
		}
		return s.Record("set aside", "loose_end", 0, nil, in)
	})
}

// BringBack puts what was set aside on the list again.
func BringBack(ctx context.Context, b *book.Book, actor book.Actor, kind, subject string) error {
	return book.Change(ctx, b, actor, book.Capture, func(s *book.Session) error {
		if err := mayAside(s, kind, subject); err != nil {
			return err
		}
		if err := s.Exec("DELETE FROM dismissals WHERE kind = ? AND subject = ?", kind, subject).Error; err != nil {
			return err
		}
		return s.Record("brought back", "loose_end", 0, SetAside{Kind: kind, Subject: subject}, nil)
	})
}

// Asides lists what was set aside, the last one first.
func Asides(s *book.Session) ([]Aside, error) {
	list := []Aside{}
	rows, err := store.Query[store.Dismissal](s.Tx, asideRows,
		map[string]any{"money": s.Actor.Can(book.SeeMoney), "crew": s.Actor.Crew, "most": mostLoose})
	for _, r := range rows {
		k, _ := KindOf(r.Kind)
		list = append(list, Aside{r.Kind, k.title, r.Subject, r.Reason, r.Who, book.TimeText(r.At)})
	}
	return list, err
}

// DaysOff are the holes that were set aside: why, by worker and day.
func DaysOff(s *book.Session) (map[holes.Day]string, error) {
	type row struct {
		WorkerID int64
		Day      string
		Reason   string
	}
	rows, err := store.Query[row](s.Tx, holesAside)
	off := map[holes.Day]string{}
	for _, r := range rows {
		if day, err := calendar.Parse(r.Day); err == nil {
			off[holes.Day{WorkerID: r.WorkerID, Date: day}] = r.Reason
		}
	}
	return off, err
}
