package app

import (
	"context"
	"encoding/json"
	"fmt"
	"net/url"
	"slices"
	"strings"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// LooseEnd is something that could slip: what it is, its age, the money at stake, and the step that settles it, with
// what that step needs to know.
type LooseEnd struct {
	Kind    string `json:"kind"`
	Title   string `json:"title"`
	Why     string `json:"why"`
	Where   string `json:"where"`
	Detail  string `json:"detail"`
	Date    string `json:"date,omitempty" format:"date" doc:"the day it is about, or the first of them"`
	AgeDays int64  `json:"ageDays"`
	AtStake string `json:"atStake,omitempty" format:"decimal"`
	Step    string `json:"step"`
	Link    string `json:"link"`
	Subject string `json:"subject" doc:"which of its kind it is"`
	Aside   bool   `json:"aside" doc:"it can be set aside with a reason"`

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
	link                   string // with %s for the key of a row
	aside                  bool
	forCrew                bool // those who only type hours see it too
	ofJob                  bool // its rows have a job_id
	rows                   string
	count                  string // counts the rows where that is quicker than to list them; blank: they are listed
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
	holeDays  = 14  // that are looked back for holes
	mostLoose = 100 // of a kind, in a list
)

const (
	aside = " AND NOT EXISTS (SELECT 1 FROM dismissals x WHERE x.kind = '%s' AND x.subject = %s)"
)

const (
	// What is ready to bill, from the indexes that hold just that (calculation.md section 7).
	readyEntries = "time_entries INDEXED BY time_entries_ready WHERE status = 'approved' AND charge IS NOT NULL AND invoice_id IS NULL"
	readyLines   = "cost_lines INDEXED BY cost_lines_ready WHERE status = 'approved' AND charge IS NOT NULL AND invoice_id IS NULL"
)

// listed keeps the rows that others are joined to at those that are listed, where a kind may have many.
var listed = fmt.Sprintf(" LIMIT %d", mostLoose)

var looseKinds = []looseKind{
	{
		name: "hole", title: "Hole in the week", why: "the crew was at work", step: "Fill in", link: "/time?%s", aside: true, forCrew: true, ofJob: true,
		rows: holes + `,
			on_day AS (SELECT h.crew, h.date, e.job_id, e.cost_code_id, sum(e.minutes) AS minutes, sum(e.charge) AS charge FROM (SELECT DISTINCT crew, date FROM holes) h
			  CROSS JOIN workers m ON m.crew = h.crew AND m.active = 1 CROSS JOIN time_entries e INDEXED BY time_entries_worker ON e.worker_id = m.id AND e.date = h.date GROUP BY h.crew, h.date, e.job_id, e.cost_code_id),
			most AS MATERIALIZED (SELECT crew, date, sum(charge) AS charge, job_id, cost_code_id, max(minutes) FROM on_day GROUP BY crew, date)
			SELECT w.code || ' ' || date(h.date * 86400, 'unixepoch') AS subject, w.name AS "where", h.date AS first,
			  h.date < @week AND NOT EXISTS (SELECT 1 FROM workers m JOIN time_entries e INDEXED BY time_entries_waiting ON e.status <> 'approved' AND e.status = 'draft' AND e.worker_id = m.id
			    AND e.date BETWEEN h.date - (h.date - @first + 700000) % 7 AND h.date - (h.date - @first + 700000) % 7 + 6 WHERE m.crew = h.crew) AS n,
			  w.id AS worker_id, w.crew, h.least, h.most, o.charge / h.workers AS stake, o.job_id, o.cost_code_id
			FROM holes h JOIN workers w ON w.id = h.worker_id JOIN most o ON o.crew = h.crew AND o.date = h.date`,
		count: holes + " SELECT count(*) FROM holes",
	},
	{
		name: "not_handed_in", title: "Not handed in", why: "from a week that is over", step: "Hand in", link: "/time?%s", forCrew: true,
		rows: `SELECT w.crew || ' ' || (e.date - (e.date - @first + 700000) % 7) AS subject, w.crew, min(e.date - (e.date - @first + 700000) % 7) AS first, sum(e.charge) AS stake, sum(e.minutes) AS most
			FROM time_entries e INDEXED BY time_entries_waiting JOIN workers w ON w.id = e.worker_id WHERE e.status <> 'approved' AND e.status = 'draft' AND e.date < @week AND @crew IN ('', w.crew) GROUP BY 1`,
	},
	{
		name: "no_code", title: "No cost code", why: "the job asks for one", step: "Choose the code", link: "/jobs/%s", ofJob: true,
		rows: `SELECT j.number AS subject, j.number AS key, j.number || ' ' || j.name AS "where", count(*) AS n, min(e.date) AS first, sum(e.charge) AS stake, j.id AS job_id
			FROM jobs j CROSS JOIN time_entries e INDEXED BY time_entries_no_code ON e.job_id = j.id AND e.cost_code_id IS NULL WHERE j.needs_cost_code = 1 AND e.invoice_id IS NULL GROUP BY j.id`,
	},
	{
		name: "no_wage", title: "No wage", why: "hours without a cost", step: "Add a wage", link: "/setup?part=workers",
		rows:  `SELECT w.code AS subject, w.name AS "where", 'has hours without a wage on their date' AS detail, e.first, NULL AS stake, w.id AS worker_id FROM (SELECT worker_id, min(date) AS first FROM time_entries WHERE cost IS NULL GROUP BY worker_id) e JOIN workers w ON w.id = e.worker_id`,
		count: "SELECT count(DISTINCT worker_id) FROM time_entries WHERE cost IS NULL",
	},
	{
		name: "no_rate", title: "No rate", why: "hours without a price", step: "Add a rate", link: "/setup?part=rates", ofJob: true,
		rows: `SELECT w.code || ' ' || j.number AS subject, w.name AS "where", 'job ' || j.number || ifnull(', ' || t.name, '') AS detail, e.first, e.stake, w.id AS worker_id, j.id AS job_id, ifnull(t.name, '') AS trade
			FROM (SELECT worker_id, job_id, min(date) AS first, ifnull(sum(cost), 0) AS stake FROM time_entries WHERE unpriced = 1 GROUP BY worker_id, job_id) e
			JOIN workers w ON w.id = e.worker_id JOIN jobs j ON j.id = e.job_id LEFT JOIN trades t ON t.id = w.trade_id`,
		count: "SELECT count(*) FROM (SELECT DISTINCT worker_id, job_id FROM time_entries WHERE unpriced = 1)",
	},
	{
		name: "no_job", title: "No job", why: "bought for nobody yet", step: "Choose the job", link: "/costs?span=all&open=%s",
		rows: `SELECT l.id AS subject, l.description AS "where", trim(d.supplier || ' ' || d.number) AS detail, d.id AS key, l.date AS first, l.landed AS stake, l.id AS line_id
			FROM (SELECT * FROM cost_lines WHERE job_id IS NULL ORDER BY landed IS NULL, landed DESC, date` + listed + `) l JOIN cost_documents d ON d.id = l.document_id`,
		count: "SELECT count(*) FROM cost_lines WHERE job_id IS NULL",
	},
	{
		name: "no_markup", title: "No markup", why: "no card has one: at cost", step: "Add a markup", link: "/setup?part=markups",
		rows: `SELECT d.ref || ' ' || l.category AS subject, l.category AS "where", trim(d.supplier || ' ' || d.number) AS detail, l.first, l.stake, l.category
			FROM (SELECT document_id, category, min(date) AS first, sum(landed) AS stake FROM cost_lines WHERE unmarked = 1 AND billed = 0 GROUP BY document_id, category ORDER BY stake DESC, first` + listed + `) l JOIN cost_documents d ON d.id = l.document_id`,
		count: "SELECT count(*) FROM (SELECT DISTINCT document_id, category FROM cost_lines WHERE unmarked = 1 AND billed = 0)",
	},
	{
		name: "late", title: "Billed late", why: "ready for too long", step: "Make a draft", link: "/bill?job=%s", ofJob: true,
		rows: `SELECT j.number AS subject, j.number AS key, j.number || ' ' || j.name AS "where", j.id AS job_id, (SELECT sum(ready) FROM job_sums b WHERE b.job_id = j.id) AS stake,
			  min(ifnull((SELECT min(date) FROM ` + readyEntries + ` AND job_id = j.id), @late), ifnull((SELECT min(date) FROM ` + readyLines + ` AND job_id = j.id), @late)) AS first ` + lateJobs,
		count: "SELECT count(*) " + lateJobs,
	},
	{
		name: "over", title: "Over contract", why: "cost more than agreed", step: "Look at it", link: "/jobs/%s", aside: true, ofJob: true,
		rows: `SELECT j.number AS subject, j.number AS key, j.number || ' ' || j.name AS "where", sum(b.cost) - j.contract AS stake, j.start AS first, j.id AS job_id FROM jobs j JOIN job_sums b ON b.job_id = j.id
			WHERE j.contract > 0 AND j.status <> 'closed'` + fmt.Sprintf(aside, "over", "j.number") + ` GROUP BY j.id HAVING sum(b.cost) > j.contract`,
	},
	{
		name: "below", title: "Sold below cost", why: "charged less than cost", step: "Look at it", link: "/jobs/%s", aside: true, ofJob: true,
		rows: `SELECT subject, key, "where", cost - sold AS stake, start AS first, job_id FROM (
			  SELECT j.number AS subject, j.number AS key, j.number || ' ' || j.name AS "where", j.start, j.id AS job_id, sum(b.cost) AS cost,
			    sum(b.ready) + (SELECT ifnull(sum(i.subtotal), 0) FROM invoice_jobs i WHERE i.job_id = j.id) AS sold
			  FROM jobs j JOIN job_sums b ON b.job_id = j.id AND b.pending = 0 WHERE j.basis = 'tm' AND j.status <> 'closed'` + fmt.Sprintf(aside, "below", "j.number") + ` GROUP BY j.id) WHERE cost > sold`,
	},
	{
		name: "twice", title: "Entered twice", why: "same supplier, number", step: "Compare", link: "/costs?span=all&open=%s", aside: true,
		rows: `SELECT g.said AS subject, g.said AS "where", 'entered ' || g.n || ' times' AS detail, g.last AS key, (SELECT min(d.date) FROM cost_documents d WHERE d.supplier = g.supplier AND d.number = g.number) AS first, NULL AS stake
			FROM (SELECT supplier, number, supplier || ' ' || number AS said, documents AS n,
			    (SELECT max(d.id) FROM cost_documents d WHERE d.supplier = t.supplier AND d.number = t.number) AS last FROM supplier_numbers t INDEXED BY supplier_numbers_twice WHERE documents > 1) g
			WHERE 1 = 1` + fmt.Sprintf(aside, "twice", "g.said"),
	},
	{
		name: "closed", title: "Closed job", why: "hours still on a closed job", step: "Open the job", link: "/jobs/%s", ofJob: true,
		rows:  `SELECT j.number AS subject, j.number AS key, j.number || ' ' || j.name AS "where", 'hours not billed or not approved' AS detail, ifnull(j.finish, @today) AS first, j.id AS job_id, (SELECT sum(ready) FROM job_sums b WHERE b.job_id = j.id) AS stake ` + closedJobs,
		count: "SELECT count(*) " + closedJobs,
	},
	{
		name: "owed", title: "To be paid back", why: "approved, not paid yet", step: "Pay back", link: "/costs?list=owed",
		rows: `SELECT w.code AS subject, w.name AS "where", count(*) AS n, min(o.date) AS first, sum(o.amount) AS stake FROM (` + owedPapers + ` AND d.status = 'approved' AND d.date < @late GROUP BY d.id) o JOIN workers w ON w.id = o.worker_id GROUP BY w.id`,
	},
}

// holes finds the days on which a worker has no hours and most of the crew has (calculation.md section 10), in [crewSpans] that do not
// overlap. A day is a hole when it is over, the worker was employed by then and nobody has set it aside.
var holes = `WITH spans AS MATERIALIZED (SELECT value ->> 0 AS crew, value ->> 1 AS first, value ->> 2 AS last FROM json_each(@spans)),
	worked AS MATERIALIZED (SELECT w.crew, e.worker_id, e.date, sum(e.minutes) AS minutes FROM spans s CROSS JOIN workers w ON s.crew IN ('', w.crew)
	  CROSS JOIN time_entries e INDEXED BY time_entries_worker ON e.worker_id = w.id AND e.date BETWEEN s.first AND s.last
	  WHERE w.active = 1 AND w.crew <> '' GROUP BY w.id, e.date),
	days AS (SELECT crew, date, count(*) AS workers, min(minutes) AS least, max(minutes) AS most FROM worked GROUP BY crew, date
	  HAVING count(*) >= 2 AND 2 * count(*) >= (SELECT count(*) FROM workers m WHERE m.crew = worked.crew AND m.active = 1) - 1),
	holes AS MATERIALIZED (SELECT d.*, w.id AS worker_id FROM days d JOIN workers w ON w.crew = d.crew AND w.active = 1
	  WHERE @crew IN ('', w.crew) AND NOT EXISTS (SELECT 1 FROM time_entries x INDEXED BY time_entries_worker WHERE x.worker_id = w.id AND x.date = d.date)
	  AND (NOT EXISTS (SELECT 1 FROM wages g WHERE g.worker_id = w.id) OR EXISTS (SELECT 1 FROM wages g WHERE g.worker_id = w.id AND g.effective_from <= d.date))` +
	fmt.Sprintf(aside, "hole", "w.code || ' ' || date(d.date * 86400, 'unixepoch')") + ")"

// crewSpan is a span of a crew's days, blank for every crew.
type crewSpan struct {
	Crew     string
	From, To calendar.Date
}

// spansArg is what the query [holes] takes; a day that is not over is no hole.
func (s *session) spansArg(spans ...crewSpan) string {
	rows := make([][3]any, len(spans))
	for i, span := range spans {
		rows[i] = [3]any{span.Crew, int64(span.From), int64(min(span.To, s.today()-1))}
	}
	data, _ := json.Marshal(rows) // texts and numbers: it never fails
	return string(data)
}

// holes are the holes in some spans, of the workers that the actor sees: the same in the sheet, on the clock, in Today and in Approve.
func (s *session) holes(spans ...crewSpan) (map[dayOf]bool, error) {
	found, err := store.Query[dayOf](s.Tx, holes+" SELECT worker_id, date FROM holes", map[string]any{"spans": s.spansArg(spans...), "crew": s.actor.Crew})
	days := make(map[dayOf]bool, len(found))
	for _, d := range found {
		days[d] = true
	}
	return days, err
}

// lateJobs have something ready to bill from before a date.
const lateJobs = `FROM jobs j WHERE EXISTS (SELECT 1 FROM ` + readyEntries + ` AND job_id = j.id AND date < @late) OR EXISTS (SELECT 1 FROM ` + readyLines + ` AND job_id = j.id AND date < @late)`

// closedJobs have hours that are not approved, or not billed and to be charged.
const closedJobs = `FROM jobs j WHERE j.status = 'closed' AND (EXISTS (SELECT 1 FROM ` + readyEntries + ` AND job_id = j.id)
	  OR EXISTS (SELECT 1 FROM time_entries e INDEXED BY time_entries_job WHERE e.job_id = j.id AND e.status <> 'approved'))`

// looseArgs are what a query for loose ends asks for: the dates they are told by, and whose they are.
func (s *session) looseArgs(query string) []any {
	if !strings.Contains(query, "@") {
		return nil
	}
	today, first := s.today(), weekStart(s.company)
	return []any{map[string]any{
		"spans": s.spansArg(crewSpan{From: today - holeDays, To: today - 1}), "today": today, "late": today - calendar.Date(s.company.UnbilledAlertDays), "week": today.WeekStart(first), "first": int64(first) + 3, "crew": s.actor.Crew,
	}}
}

// looseSeen are the kinds that a person is shown.
func (s *session) looseSeen() []looseKind {
	return slices.DeleteFunc(slices.Clone(looseKinds), func(k looseKind) bool { return !k.forCrew && !s.actor.Can(SeeMoney) })
}

// looseCount counts the loose ends that [session.looseEnds] lists.
func (s *session) looseCount() (int64, error) {
	var total int64
	for _, k := range s.looseSeen() {
		count := k.count
		if count == "" {
			count = "SELECT count(*) FROM (" + k.rows + ")"
		}
		found, err := store.Query[int64](s.Tx, count, s.looseArgs(count)...)
		if err != nil {
			return 0, err
		}
		total += found[0]
	}
	return total, nil
}

// looseEnds lists what could slip, of a job or of all (0), grouped by what it is, most money first, as far as a sheet of it goes.
func (s *session) looseEnds(job int64) ([]LooseEnd, error) {
	type group struct {
		ends  []LooseEnd
		stake money.Amount
	}
	var groups []group
	for _, k := range s.looseSeen() {
		query, args := k.rows, s.looseArgs(k.rows)
		if job != 0 {
			if !k.ofJob {
				continue
			}
			query = "SELECT * FROM (" + k.rows + fmt.Sprintf(") WHERE job_id = %d", job)
		}
		rows, err := store.Query[looseRow](s.Tx, query+fmt.Sprintf(" ORDER BY stake IS NULL, stake DESC, first LIMIT %d", mostLoose), args...)
		if err != nil {
			return nil, err
		}
		g := group{}
		for _, r := range rows {
			g.ends = append(g.ends, s.looseEnd(k, r))
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

func (s *session) looseEnd(k looseKind, r looseRow) LooseEnd {
	end := LooseEnd{
		Kind: k.name, Title: k.title, Why: k.why, Where: r.Where, Detail: r.Detail, Step: k.step, Link: k.link, Subject: r.Subject, Aside: k.aside,
		WorkerID: store.ID(r.WorkerID), JobID: store.ID(r.JobID), CostCodeID: store.ID(r.CostCodeID), LineID: store.ID(r.LineID), Crew: r.Crew, Trade: r.Trade, Category: r.Category,
	}
	if r.First != nil {
		end.Date, end.AgeDays = r.First.String(), max(0, int64(s.today()-*r.First))
	}
	if s.actor.Can(SeeMoney) {
		end.AtStake = s.maybe(r.Stake)
	}
	switch k.name {
	case "hole":
		end.Hours, end.HandIn = r.Least.Short(), r.N > 0
		end.Detail = "the crew had " + r.Least.Short() + " h"
		if r.Most > r.Least {
			end.Detail = "the crew had " + r.Least.Short() + " to " + r.Most.Short() + " h"
		}
		r.Key = "crew=" + url.QueryEscape(r.Crew) + "&from=" + end.Date
	case "not_handed_in":
		end.Where, end.Detail = crewName(r.Crew), r.Most.Short()+" h"
		r.Key = "crew=" + url.QueryEscape(r.Crew) + "&from=" + end.Date
	case "no_code":
		end.Detail = words.Counted(r.N, "entry")
	case "owed":
		end.Detail = words.Counted(r.N, "paper")
	}
	if strings.Contains(k.link, "%s") {
		end.Link = fmt.Sprintf(k.link, r.Key)
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

// SetAside says why a loose end is none.
type SetAside struct {
	Kind    string `json:"kind"`
	Subject string `json:"subject"`
	Reason  string `json:"reason"`
}

func kindOf(name string) (looseKind, bool) {
	at := slices.IndexFunc(looseKinds, func(k looseKind) bool { return k.name == name && k.aside })
	if at < 0 {
		return looseKind{}, false
	}
	return looseKinds[at], true
}

// mayAside refuses those who do not settle such a loose end; a foreman only sets holes of the own crew aside.
func (s *session) mayAside(kind, subject string) error {
	k, found := kindOf(kind)
	if !found {
		return invalid("kind", "this is settled, and not set aside")
	}
	if !k.forCrew {
		return s.actor.Need(Approve)
	}
	code := subject[:max(0, strings.LastIndexByte(subject, ' '))] // the date behind it has no space, a code may have
	workers, err := store.All[store.Worker](s.Tx, "id", "code = ?", code)
	if err != nil || len(workers) == 0 {
		return orNotFound(err, "worker")
	}
	return s.ownWorker(workers[0])
}

// SetAside takes a loose end that is none off the list, with a reason; it can be brought back.
func (a *App) SetAside(ctx context.Context, actor Actor, in SetAside) error {
	return Change(ctx, a, actor, Capture, func(s *session) error {
		c := s.checks()
		reason := c.needed("reason", in.Reason, "a reason")
		subject := c.needed("subject", in.Subject, "what it is")
		if err := c.err(); err != nil {
			return err
		}
		if err := s.mayAside(in.Kind, subject); err != nil {
			return err
		}
		k, _ := kindOf(in.Kind)
		args := s.looseArgs(k.rows + "@")[0].(map[string]any)
		args["subject"] = subject
		found, err := store.Query[int64](s.Tx, "SELECT count(*) FROM ("+k.rows+") WHERE subject = @subject", args)
		if err != nil {
			return err
		}
		if found[0] == 0 {
			return conflict("this is no loose end any more")
		}
		row := store.Dismissal{Kind: in.Kind, Subject: subject, Reason: reason, At: s.app.now().UnixMilli(), Who: actor.Name}
		if err := s.Exec("INSERT INTO dismissals (kind, subject, reason, at, who) VALUES (?, ?, ?, ?, ?) ON CONFLICT DO UPDATE SET reason = excluded.reason, at = excluded.at, who = excluded.who",
			row.Kind, row.Subject, row.Reason, row.At, row.Who).Error; err != nil {
			return err
		}
		return s.record("set aside", "loose_end", 0, nil, in)
	})
}

// BringBack puts what was set aside on the list again.
func (a *App) BringBack(ctx context.Context, actor Actor, kind, subject string) error {
	return Change(ctx, a, actor, Capture, func(s *session) error {
		if err := s.mayAside(kind, subject); err != nil {
			return err
		}
		if err := s.Exec("DELETE FROM dismissals WHERE kind = ? AND subject = ?", kind, subject).Error; err != nil {
			return err
		}
		return s.record("brought back", "loose_end", 0, SetAside{Kind: kind, Subject: subject}, nil)
	})
}

// asides lists what was set aside, the last one first.
func (s *session) asides() ([]Aside, error) {
	list := []Aside{}
	rows, err := store.Query[store.Dismissal](s.Tx, `SELECT * FROM dismissals x WHERE (@money OR kind = 'hole') AND (@crew = '' OR EXISTS (
		SELECT 1 FROM workers w WHERE w.crew = @crew AND x.subject = w.code || ' ' || substr(x.subject, -10))) ORDER BY at DESC, kind, subject LIMIT @most`,
		map[string]any{"money": s.actor.Can(SeeMoney), "crew": s.actor.Crew, "most": mostLoose})
	for _, r := range rows {
		k, _ := kindOf(r.Kind)
		list = append(list, Aside{r.Kind, k.title, r.Subject, r.Reason, r.Who, timeText(r.At)})
	}
	return list, err
}

// daysOff are the holes that were set aside: why, by worker and day.
func (s *session) daysOff() (map[dayOf]string, error) {
	type row struct {
		WorkerID int64
		Day      string
		Reason   string
	}
	rows, err := store.Query[row](s.Tx, `SELECT w.id AS worker_id, substr(x.subject, -10) AS day, x.reason FROM dismissals x JOIN workers w ON x.subject = w.code || ' ' || substr(x.subject, -10)
		WHERE x.kind = 'hole'`)
	off := map[dayOf]string{}
	for _, r := range rows {
		if day, err := calendar.Parse(r.Day); err == nil {
			off[dayOf{r.WorkerID, day}] = r.Reason
		}
	}
	return off, err
}
