package app

import (
	"fmt"
	"strings"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/outlier"
	"jarvo/internal/core/pricing"
	"jarvo/internal/store"
)

// Mark is something that stands out, and against what.
type Mark struct {
	What    string `json:"what"`
	Against string `json:"against"`
}

type weekOf struct {
	WorkerID int64
	Week     calendar.Date
}

const (
	weeksBefore = 8  // that a worker's usual day is known from
	dearer      = 10 // percent over the usual cost from which a line stands out
)

// spansOf is the weeks as a table for SQL: spans (worker, week).
func spansOf(weeks []weekOf) string {
	rows := make([]string, len(weeks))
	for i, w := range weeks {
		rows[i] = fmt.Sprintf("(%d, %d)", w.WorkerID, w.Week)
	}
	return "WITH spans (worker, week) AS (VALUES " + strings.Join(rows, ", ") + ")"
}

// heldAgainst reads weeks with all that they are held against: the worker's weeks before, and the rest of the crew.
func (s *session) heldAgainst(weeks []weekOf) (map[weekOf]*outlier.Week, error) {
	type day struct {
		WorkerID int64
		Week     calendar.Date
		Crew     string
		Date     calendar.Date
		Minutes  money.Minutes
	}
	own, err := store.Query[day](s.Tx, spansOf(weeks)+fmt.Sprintf(` SELECT s.worker AS worker_id, s.week, w.crew, ifnull(e.date, 0) AS date, ifnull(sum(e.minutes), 0) AS minutes
		FROM spans s JOIN workers w ON w.id = s.worker LEFT JOIN time_entries e ON e.worker_id = s.worker AND e.date BETWEEN s.week - %d AND s.week + 6 GROUP BY 1, 2, 4`, 7*weeksBefore))
	if err != nil {
		return nil, err
	}
	held := map[weekOf]*outlier.Week{}
	type crewWeek struct {
		crew string
		week calendar.Date
	}
	crewOf := map[weekOf]crewWeek{}
	for _, d := range own {
		key := weekOf{d.WorkerID, d.Week}
		w := held[key]
		if w == nil {
			w = &outlier.Week{}
			held[key], crewOf[key] = w, crewWeek{d.Crew, d.Week}
		}
		switch {
		case d.Date >= d.Week:
			w.Days[d.Date-d.Week] = d.Minutes
		case d.Minutes > 0:
			w.Before = append(w.Before, d.Minutes)
		}
	}
	members, err := store.Query[day](s.Tx, spansOf(weeks)+` SELECT m.id AS worker_id, c.week, c.crew, ifnull(e.date, 0) AS date, ifnull(sum(e.minutes), 0) AS minutes
		FROM (SELECT DISTINCT w.crew, s.week FROM spans s JOIN workers w ON w.id = s.worker WHERE w.crew <> '') c JOIN workers m ON m.crew = c.crew AND m.active = 1
		LEFT JOIN time_entries e ON e.worker_id = m.id AND e.date BETWEEN c.week AND c.week + 6 GROUP BY 1, 2, 4`)
	if err != nil {
		return nil, err
	}
	crews := map[crewWeek]map[int64]*outlier.Days{}
	for _, d := range members {
		crew := crewWeek{d.Crew, d.Week}
		if crews[crew] == nil {
			crews[crew] = map[int64]*outlier.Days{}
		}
		if crews[crew][d.WorkerID] == nil {
			crews[crew][d.WorkerID] = &outlier.Days{}
		}
		if d.Date >= d.Week {
			crews[crew][d.WorkerID][d.Date-d.Week] = d.Minutes
		}
	}
	for key, w := range held {
		for member, days := range crews[crewOf[key]] {
			if member != key.WorkerID {
				w.Others = append(w.Others, *days)
			}
		}
	}
	return held, nil
}

// markOf says an outlier in words.
func markOf(o outlier.Outlier, week calendar.Date) Mark {
	on := (week + calendar.Date(o.Day)).Time()
	more := ""
	if o.Days > 1 {
		more = ", and " + counted(int64(o.Days-1), "more day")
	}
	hours := fmt.Sprintf("%s h on %s", shortHours(o.Minutes), on.Format("Mon 2 Jan"))
	switch o.Kind {
	case outlier.Hole:
		return Mark{"No " + on.Format("Monday"), "the rest of the crew had " + shortHours(o.Against) + " h" + more}
	case outlier.LongDay:
		return Mark{"Long day", hours + more}
	case outlier.BesideCrew:
		what := "Less than the crew"
		if o.Minutes > o.Against {
			what = "More than the crew"
		}
		return Mark{what, hours + ", the others " + shortHours(o.Against) + more}
	default:
		return Mark{"Unusual day", hours + ", usually " + shortHours(o.Against) + more}
	}
}

// overContract are the jobs that have cost more than was agreed, with what waits for approval, in words by their id.
func (s *session) overContract() (map[int64]string, error) {
	type row struct {
		ID             int64
		Number         string
		Contract, Cost money.Amount
	}
	rows, err := store.Query[row](s.Tx, `SELECT j.id, j.number, j.contract, sum(b.cost) AS cost FROM jobs j JOIN job_sums b ON b.job_id = j.id WHERE j.contract > 0 GROUP BY j.id HAVING sum(b.cost) > j.contract`)
	over := map[int64]string{}
	for _, r := range rows {
		over[r.ID] = fmt.Sprintf("%s has cost %s of the %s agreed", r.Number, s.money(r.Cost), s.money(r.Contract))
	}
	return over, err
}

// paperMarks finds what stands out in cost documents, by their id.
func (s *session) paperMarks(documentIDs []int64) (map[int64][]Mark, error) {
	marks := map[int64][]Mark{}
	over, err := s.overContract()
	if err != nil {
		return nil, err
	}
	type paper struct {
		ID                                   int64
		Supplier, Number                     string
		Lines, NoJob, Unmarked, Below, Twice int64
		Alike                                string
	}
	papers, err := store.Query[paper](s.Tx, `WITH listed AS (SELECT d.id, d.date, sum(l.base) + d.freight + d.tax AS total FROM cost_documents d JOIN cost_lines l ON l.document_id = d.id WHERE d.id IN (@ids) GROUP BY d.id)
		SELECT d.id, d.supplier, d.number, count(l.id) AS lines, sum(l.job_id IS NULL) AS no_job, sum(l.unmarked) AS unmarked, sum(l.charge IS NOT NULL AND l.charge < l.landed AND l.quantity > 0) AS below,
		(SELECT count(*) FROM cost_documents o WHERE o.supplier = d.supplier AND o.number = d.number AND o.supplier <> '' AND o.number <> '' AND o.id <> d.id) AS twice,
		ifnull((SELECT o.ref || CASE WHEN o.supplier <> '' THEN ' of ' || o.supplier ELSE '' END FROM cost_documents o WHERE o.date = t.date AND o.id <> t.id
			AND (SELECT sum(ol.base) FROM cost_lines ol WHERE ol.document_id = o.id) + o.freight + o.tax = t.total LIMIT 1), '') AS alike
		FROM listed t JOIN cost_documents d ON d.id = t.id JOIN cost_lines l ON l.document_id = d.id GROUP BY d.id`, map[string]any{"ids": documentIDs})
	if err != nil {
		return nil, err
	}
	for _, p := range papers {
		add := func(when bool, what, against string) {
			if when {
				marks[p.ID] = append(marks[p.ID], Mark{what, against})
			}
		}
		add(p.NoJob > 0, "No job", fmt.Sprintf("on %d of its %s", p.NoJob, counted(p.Lines, "line")))
		add(p.Twice > 0, "Entered twice", p.Supplier+" has "+p.Number+" already")
		add(p.Twice == 0 && p.Alike != "", "Same amount, same day", "as "+p.Alike)
		add(p.Unmarked > 0, "No markup", "charged at cost, on "+counted(p.Unmarked, "line"))
		add(p.Below > 0, "Below cost", counted(p.Below, "line")+" charged at less than landed cost")
	}
	type booked struct{ DocumentID, JobID int64 }
	jobs, err := store.Query[booked](s.Tx, "SELECT DISTINCT document_id, job_id FROM cost_lines WHERE document_id IN (?) AND job_id IS NOT NULL", documentIDs)
	for _, b := range jobs {
		if said := over[b.JobID]; said != "" {
			marks[b.DocumentID] = append(marks[b.DocumentID], Mark{"Over contract", said})
		}
	}
	if err != nil {
		return nil, err
	}
	return marks, s.dearLines(marks, documentIDs)
}

// dearLines marks lines that cost more than the price list has for them.
func (s *session) dearLines(marks map[int64][]Mark, documentIDs []int64) error {
	type bought struct {
		DocumentID, ItemID int64
		Date               calendar.Date
		UnitCost           money.Rate
	}
	lines, err := store.Query[bought](s.Tx, "SELECT document_id, item_id, date, unit_cost FROM cost_lines WHERE document_id IN (?) AND item_id IS NOT NULL AND quantity > 0", documentIDs)
	if err != nil || len(lines) == 0 {
		return err
	}
	known := map[int64]itemRow{}
	latest := lines[0].Date
	for _, l := range lines {
		latest = max(latest, l.Date)
	}
	items, err := s.items(0, latest, 0) // of papers that wait none is approved, so none is held against itself
	for _, i := range items {
		known[i.ID] = i
	}
	said := map[int64]bool{}
	for _, l := range lines {
		usual, found := known[l.ItemID].on(l.Date)
		if found && !said[l.DocumentID] && dear(l.UnitCost, usual) {
			said[l.DocumentID] = true
			marks[l.DocumentID] = append(marks[l.DocumentID], Mark{"Dear", fmt.Sprintf("%s at %s, usually %s", known[l.ItemID].Description, s.currency.FormatRate(l.UnitCost), s.currency.FormatRate(usual.Cost))})
		}
	}
	return err
}

func dear(paid money.Rate, usual pricing.Listed) bool {
	return usual.Cost > 0 && (paid-usual.Cost)*100 >= usual.Cost*dearer
}
