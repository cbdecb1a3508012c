package app

import (
	"context"
	"fmt"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// LooseEnd is something that could slip: what it is, its age, the money at stake, and the step that settles it.
type LooseEnd struct {
	Kind    string `json:"kind"`
	Why     string `json:"why"`
	Where   string `json:"where"`
	Detail  string `json:"detail"`
	AgeDays int64  `json:"ageDays"`
	AtStake string `json:"atStake,omitempty"`
	Step    string `json:"step"`
	Link    string `json:"link"`
}

// CrewDays is a crew's week: hours a day and a tooth a worker.
type CrewDays struct {
	Crew  string    `json:"crew"`
	State string    `json:"state"`
	Hours string    `json:"hours"`
	Days  []CrewDay `json:"days"`
}

// CrewDay is a day of a crew.
type CrewDay struct {
	Hours   string `json:"hours"`
	Workers []int  `json:"workers" doc:"minutes of each worker of the crew, 0 for a hole"`
}

// TodaySheet is the Today tab.
type TodaySheet struct {
	LooseEnds []LooseEnd   `json:"looseEnds"`
	Week      []CrewDays   `json:"week"`
	Days      []string     `json:"days"`
	Hours     string       `json:"hours"`
	Waiting   ApproveSheet `json:"waiting"`
	Ready     []ReadyRow   `json:"ready"`
	ReadySum  string       `json:"readySum"`
	Overdue   []DraftRow   `json:"overdue"`
	OverSum   string       `json:"overdueSum"`
}

type looseRow struct {
	Kind, Where, Detail string
	Key                 string
	First               calendar.Date
	Stake               *money.Amount
}

var looseKinds = map[string]struct{ title, why, step, link string }{
	"no_wage":   {"No wage", "hours without a cost", "Add a wage", "/setup?part=workers"},
	"no_rate":   {"No rate", "hours without a price", "Add a rate", "/setup?part=rates"},
	"no_job":    {"No job", "bought for nobody yet", "Choose the job", "/costs?open=%s"},
	"no_markup": {"No markup", "no card has one: at cost", "Add a markup", "/setup?part=markups"},
	"late":      {"Billed late", "ready for longer than the limit", "Make a draft", "/bill?job=%s"},
	"twice":     {"Entered twice", "same supplier, same number", "Compare", "/costs?open=%s"},
	"closed":    {"Closed job", "hours still on a closed job", "Open the job", "/jobs/%s"},
}

const (
	// What is ready to bill, from the indexes that hold just that (calculation.md section 7).
	readyEntries = "time_entries INDEXED BY time_entries_ready WHERE status = 'approved' AND charge IS NOT NULL AND invoice_id IS NULL"
	readyLines   = "cost_lines INDEXED BY cost_lines_ready WHERE status = 'approved' AND charge IS NOT NULL AND invoice_id IS NULL"

	// lateJobs have something ready to bill from before a date.
	lateJobs = `FROM jobs j WHERE EXISTS (SELECT 1 FROM ` + readyEntries + ` AND job_id = j.id AND date < @late) OR EXISTS (SELECT 1 FROM ` + readyLines + ` AND job_id = j.id AND date < @late)`
	// closedJobs have hours that are not approved, or not billed and to be charged.
	closedJobs = `FROM jobs j WHERE j.status = 'closed' AND (EXISTS (SELECT 1 FROM ` + readyEntries + ` AND job_id = j.id)
	  OR EXISTS (SELECT 1 FROM time_entries e INDEXED BY time_entries_job WHERE e.job_id = j.id AND e.status <> 'approved'))`
	twice = `FROM cost_documents d WHERE d.supplier <> '' AND d.number <> '' GROUP BY d.supplier, d.number HAVING count(*) > 1`

	looseCount = `SELECT (SELECT count(DISTINCT worker_id) FROM time_entries WHERE cost IS NULL)
	  + (SELECT count(*) FROM (SELECT DISTINCT worker_id, job_id FROM time_entries WHERE unpriced = 1))
	  + (SELECT count(*) FROM cost_lines WHERE job_id IS NULL)
	  + (SELECT count(*) FROM (SELECT DISTINCT document_id, category FROM cost_lines WHERE unmarked = 1 AND billed = 0))
	  + (SELECT count(*) ` + lateJobs + `) + (SELECT count(*) ` + closedJobs + `) + (SELECT count(*) FROM (SELECT 1 ` + twice + `))`

	looseEndRows = `SELECT * FROM (
	SELECT 'no_wage' AS kind, w.name AS "where", '' AS detail, '' AS key, min(e.date) AS first, NULL AS stake
	  FROM time_entries e JOIN workers w ON w.id = e.worker_id WHERE e.cost IS NULL GROUP BY w.id
	UNION ALL SELECT 'no_rate', w.name, 'job ' || j.number, j.number, e.first, e.stake
	  FROM (SELECT worker_id, job_id, min(date) AS first, ifnull(sum(cost), 0) AS stake FROM time_entries WHERE unpriced = 1 GROUP BY worker_id, job_id) e
	  JOIN workers w ON w.id = e.worker_id JOIN jobs j ON j.id = e.job_id
	UNION ALL SELECT 'no_job', l.description, d.supplier || ' ' || d.number, d.id, l.date, l.landed
	  FROM cost_lines l JOIN cost_documents d ON d.id = l.document_id WHERE l.job_id IS NULL
	UNION ALL SELECT 'no_markup', l.category, d.supplier || ' ' || d.number, d.id, l.first, l.stake
	  FROM (SELECT document_id, category, min(date) AS first, sum(landed) AS stake FROM cost_lines WHERE unmarked = 1 AND billed = 0 GROUP BY document_id, category) l
	  JOIN cost_documents d ON d.id = l.document_id
	UNION ALL SELECT 'late', j.number || ' ' || j.name, '', j.number, min(r.first), sum(r.stake) FROM (
	    SELECT job_id, min(date) AS first, sum(charge) AS stake FROM ` + readyEntries + ` GROUP BY job_id
	    UNION ALL SELECT job_id, min(date), sum(charge) FROM ` + readyLines + ` GROUP BY job_id) r JOIN jobs j ON j.id = r.job_id GROUP BY j.id HAVING min(r.first) < @late
	UNION ALL SELECT 'twice', d.supplier || ' ' || d.number, 'entered ' || count(*) || ' times', max(d.id), min(d.date), NULL ` + twice + `
	UNION ALL SELECT 'closed', j.number || ' ' || j.name, 'hours not billed or not approved', j.number, ifnull(j.finish, @today), (SELECT sum(charge) FROM ` + readyEntries + ` AND job_id = j.id) ` + closedJobs + `
	) ORDER BY stake IS NULL, stake DESC, first LIMIT 200`
)

// late is the date before which what is ready to bill has waited too long.
func (s *session) late() map[string]any {
	today := s.app.Today()
	return map[string]any{"today": today, "late": today - calendar.Date(s.company.UnbilledAlertDays)}
}

// looseEnds lists what could slip, most money first, as far as a sheet of it goes; [looseCount] counts all of it.
func (s *session) looseEnds() ([]LooseEnd, error) {
	today := s.app.Today()
	rows, err := store.Query[looseRow](s.Tx, looseEndRows, s.late())
	if err != nil {
		return nil, err
	}
	ends := []LooseEnd{}
	for _, r := range rows {
		k := looseKinds[r.Kind]
		end := LooseEnd{Kind: k.title, Why: k.why, Where: r.Where, Detail: r.Detail, AgeDays: int64(today - r.First), Step: k.step, Link: k.link}
		if r.Kind == "no_job" || r.Kind == "late" || r.Kind == "twice" || r.Kind == "closed" {
			end.Link = fmt.Sprintf(k.link, r.Key)
		}
		switch r.Kind {
		case "no_wage":
			end.Detail = "has hours without a wage on their date"
		case "late":
			end.Detail = "since " + r.First.Time().Format("2 January")
		}
		if s.actor.Can(SeeMoney) {
			end.AtStake = s.maybe(r.Stake)
		}
		ends = append(ends, end)
	}
	return ends, nil
}

// TodaySheet is the Today tab for the week of a date.
func (a *App) TodaySheet(ctx context.Context, actor Actor, week string) (TodaySheet, error) {
	out := TodaySheet{Week: []CrewDays{}, Ready: []ReadyRow{}, Overdue: []DraftRow{}, Waiting: ApproveSheet{Weeks: []WaitingWeek{}, Papers: []WaitingPaper{}}}
	err := a.read(ctx, actor, Capture, func(s *session) (err error) {
		c := s.checks()
		on := a.Today()
		if week != "" {
			on = c.date("week", week)
		}
		if err := c.err(); err != nil {
			return err
		}
		if out.LooseEnds, err = s.looseEnds(); err != nil {
			return err
		}
		if err := s.crewWeek(&out, on.WeekStart(weekStart(s.company))); err != nil {
			return err
		}
		if actor.Can(Approve) {
			if err := s.waiting(&out.Waiting, Scope{}, mostWaitingToday); err != nil {
				return err
			}
		}
		if !actor.Can(Bill) {
			return nil
		}
		var sheet BillSheet
		if err := s.ready(&sheet, Scope{}); err != nil {
			return err
		}
		if err := s.issuedList(&sheet, Scope{}); err != nil {
			return err
		}
		out.Ready = append(out.Ready, sheet.Ready...)
		out.ReadySum, out.OverSum = sheet.Totals.Ready, sheet.Totals.Overdue
		for _, i := range sheet.Issued {
			if i.DaysLate > 0 {
				out.Overdue = append(out.Overdue, i)
			}
		}
		return nil
	})
	return out, err
}

func (s *session) crewWeek(out *TodaySheet, week calendar.Date) error {
	for d := week; d < week+7; d++ {
		out.Days = append(out.Days, d.String())
	}
	type row struct {
		WorkerID int64
		Crew     string
		Date     calendar.Date
		Minutes  money.Minutes
		Drafts   int64
	}
	rows, err := store.Query[row](s.Tx, `SELECT w.id AS worker_id, w.crew, ifnull(e.date, 0) AS date, ifnull(sum(e.minutes), 0) AS minutes, ifnull(sum(e.status = 'draft'), 0) AS drafts
		FROM workers w LEFT JOIN time_entries e ON e.worker_id = w.id AND e.date BETWEEN ? AND ?
		WHERE w.active = 1 AND (? = '' OR w.crew = ?) GROUP BY w.id, e.date ORDER BY w.crew, w.name, w.id`, week, week+6, s.actor.Crew, s.actor.Crew)
	if err != nil {
		return err
	}
	var total money.Minutes
	crews := map[string]int{}
	workers := map[int64]int{}
	sums := map[string]*[7]money.Minutes{}
	for _, r := range rows {
		at, ok := crews[r.Crew]
		if !ok {
			at = len(out.Week)
			crews[r.Crew] = at
			out.Week = append(out.Week, CrewDays{Crew: crewName(r.Crew), State: "handed in", Days: make([]CrewDay, 7)})
			sums[r.Crew] = &[7]money.Minutes{}
		}
		crew := &out.Week[at]
		tooth, ok := workers[r.WorkerID]
		if !ok {
			tooth = len(crew.Days[0].Workers)
			workers[r.WorkerID] = tooth
			for d := range crew.Days {
				crew.Days[d].Workers = append(crew.Days[d].Workers, 0)
			}
		}
		if r.Drafts > 0 {
			crew.State = "not handed in"
		}
		if r.Date == 0 {
			continue
		}
		crew.Days[r.Date-week].Workers[tooth] = int(r.Minutes)
		sums[r.Crew][r.Date-week] += r.Minutes
		total += r.Minutes
	}
	for crew, at := range crews {
		var sum money.Minutes
		for d, m := range sums[crew] {
			out.Week[at].Days[d].Hours = shortHours(m)
			sum += m
		}
		out.Week[at].Hours = sum.Hours()
		if sum == 0 {
			out.Week[at].State = "no hours yet"
		}
	}
	out.Hours = total.Hours()
	return nil
}
