package app

import (
	"context"
	"fmt"
	"slices"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// SheetQuery asks for a crew's week.
type SheetQuery struct {
	Week string `query:"week" doc:"any date of the week"`
	Crew string `query:"crew" doc:"blank for all crews"`
	Job  string `query:"job" doc:"number of a job; blank for all"`
	// Of a large sheet only what has changed is read again.
	Workers []int64 `query:"workers" maxItems:"1000" doc:"only the lines of these workers; the totals are of all"`
}

// Named is a record that a line refers to.
type Named struct {
	ID   int64  `json:"id"`
	Code string `json:"code"`
	Name string `json:"name"`
	Sub  string `json:"sub,omitempty"`
}

// Cell is one day of a line.
type Cell struct {
	Date     string `json:"date" format:"date"`
	EntryID  int64  `json:"entryId,omitempty"`
	Version  int64  `json:"version,omitempty"`
	Entries  int    `json:"entries" doc:"more than one is changed in the list, not here"`
	Hours    string `json:"hours" format:"decimal" doc:"decimal hours, blank where there are none"`
	Overtime string `json:"overtime,omitempty" format:"decimal" doc:"hours of it at a premium"`
	Text     string `json:"text" doc:"as it is typed"`
	Reading  string `json:"reading,omitempty" doc:"what it was read as"`
	Status   string `json:"status,omitempty"`
	Note     string `json:"note,omitempty"`
	Cost     string `json:"cost,omitempty" format:"decimal"`
	Charge   string `json:"charge,omitempty" format:"decimal"`
	Locked   string `json:"locked,omitempty" doc:"why it can't be changed"`
	Hole     bool   `json:"hole,omitempty" doc:"no hours on a day the rest of the crew worked"`
}

// SheetLine is worker, job, phase and cost code, with the days of a week.
type SheetLine struct {
	Key      string `json:"key"`
	Worker   Named  `json:"worker"`
	Job      Named  `json:"job"`
	Phase    *Named `json:"phase,omitempty"`
	CostCode *Named `json:"costCode,omitempty"`
	Billable bool   `json:"billable"`
	PayClass string `json:"payClass"`
	Rate     string `json:"rate,omitempty" doc:"a price an hour of its own"`
	OwnRate  bool   `json:"ownRate,omitempty" doc:"it has a price an hour of its own"`
	Hired    bool   `json:"hired,omitempty" doc:"hired labour, no employee"`
	Cells    []Cell `json:"cells"`
	Hours    string `json:"hours" format:"decimal"`
	Overtime string `json:"overtime" format:"decimal"`
	Cost     string `json:"cost,omitempty" format:"decimal"`
	Charge   string `json:"charge,omitempty" format:"decimal"`
	CostOnly bool   `json:"costOnly,omitempty" doc:"not billable, or not on time and materials"`
	NoWage   bool   `json:"noWage,omitempty"`
	NoRate   bool   `json:"noRate,omitempty"`
	Trail    Trail  `json:"trail"`
	Locked   bool   `json:"locked,omitempty"`
}

// Sheet is a crew's week.
type Sheet struct {
	Week     string        `json:"week" format:"date"`
	Days     []string      `json:"days"`
	Crews    []string      `json:"crews,omitempty" doc:"absent in a part"`
	Crew     string        `json:"crew"`
	Members  []Named       `json:"members,omitempty" doc:"absent in a part"`
	Part     []int64       `json:"part,omitempty" doc:"the workers whose lines these are, where they are not of all"`
	Lines    []SheetLine   `json:"lines"`
	DayHours []string      `json:"dayHours"`
	Hours    string        `json:"hours" format:"decimal"`
	Overtime string        `json:"overtime" format:"decimal"`
	Cost     string        `json:"cost,omitempty" format:"decimal"`
	Charge   string        `json:"charge,omitempty" format:"decimal"`
	Drafts   int           `json:"drafts" doc:"entries not handed in"`
	Footing  FootingChange `json:"footing"`
	Saved    []SavedCell   `json:"saved,omitempty" doc:"what became of each edit, where the sheet answers a save"`
	Unread   string        `json:"unread,omitempty" doc:"what was sent was saved, and the sheet could not be read again: a sentence that says so"`
}

// SavedCell is the entry that an edit made or changed; absent where it took the entry away.
type SavedCell struct {
	EntryID int64 `json:"entryId,omitempty"`
	Version int64 `json:"version,omitempty"`
}

type sheetEntry struct {
	store.TimeEntry
	WorkerCode, WorkerName, Trade string
	WorkerKind                    string
	JobNumber, JobName            string
	PhaseCode, PhaseName          string
	CodeCode, CodeName            string
	Basis                         string
	InvoicePaid                   bool
	InvoiceText                   string
}

const sheetEntries = `
SELECT e.*, w.code AS worker_code, w.name AS worker_name, w.kind AS worker_kind, ifnull(t.name, '') AS trade, j.number AS job_number, j.name AS job_name,
  ifnull(p.code, '') AS phase_code, ifnull(p.name, '') AS phase_name, ifnull(k.code, '') AS code_code, ifnull(k.name, '') AS code_name, ifnull(p.basis, j.basis) AS basis,
  ifnull(i.prefix || i.number, '') AS invoice_text,
  ifnull(i.status = 'issued' AND (SELECT ifnull(sum(a.amount), 0) FROM payment_allocations a WHERE a.invoice_id = i.id) >= i.due_now, 0) AS invoice_paid
FROM time_entries e
JOIN workers w ON w.id = e.worker_id LEFT JOIN trades t ON t.id = w.trade_id
JOIN jobs j ON j.id = e.job_id LEFT JOIN phases p ON p.id = e.phase_id LEFT JOIN cost_codes k ON k.id = e.cost_code_id
LEFT JOIN invoices i ON i.id = e.invoice_id
WHERE e.date BETWEEN ? AND ?`

// workerSum is what a worker has on a day of a sheet.
type workerSum struct {
	WorkerID          int64
	Date              calendar.Date
	Minutes, Overtime money.Minutes
	Cost, Charge      money.Amount
	Drafts            int
}

const workerSums = `SELECT e.worker_id, e.date, sum(e.minutes) AS minutes, sum(e.overtime_minutes) AS overtime, ifnull(sum(e.cost), 0) AS cost, ifnull(sum(e.charge), 0) AS charge,
  sum(e.status = 'draft') AS drafts FROM workers w CROSS JOIN time_entries e INDEXED BY time_entries_worker ON e.worker_id = w.id WHERE e.date BETWEEN ? AND ?`

// TimeSheet is the crew sheet of a week.
func (a *App) TimeSheet(ctx context.Context, actor Actor, q SheetQuery) (Sheet, error) {
	return Read(ctx, a, actor, Capture, func(s *session) (Sheet, error) { return s.sheet(q) })
}

func (s *session) sheet(q SheetQuery) (Sheet, error) {
	c := s.checks()
	week := s.today()
	if q.Week != "" {
		week = c.date("week", q.Week)
	}
	if err := c.err(); err != nil {
		return Sheet{}, err
	}
	var err error
	if q.Crew, err = s.ownCrew(q.Crew); err != nil {
		return Sheet{}, err
	}
	week = week.WeekStart(weekStart(s.company))
	sheet := Sheet{Week: week.String(), Crew: q.Crew, Part: q.Workers}
	for d := week; d < week+7; d++ {
		sheet.Days = append(sheet.Days, d.String())
	}
	where, args := "", []any{week, week + 6}
	if q.Crew != "" {
		where, args = " AND w.crew = ?", append(args, q.Crew)
	}
	sc := Scope{From: week, To: week + 6, Crew: s.actor.Crew}
	if q.Job != "" {
		job, err := s.jobByNumber(q.Job)
		if err != nil {
			return sheet, err
		}
		where, args = where+" AND e.job_id = ?", append(args, job.ID)
		sc.Job = job.ID
	}
	days, err := store.Query[workerSum](s.Tx, workerSums+where+" GROUP BY e.worker_id, e.date", args...)
	if err != nil {
		return sheet, err
	}
	if len(q.Workers) > 0 {
		where, args = where+" AND e.worker_id IN ?", append(args, q.Workers)
	}
	entries, err := store.Query[sheetEntry](s.Tx, sheetEntries+where+" ORDER BY w.name, w.id, e.id", args...)
	if err != nil {
		return sheet, err
	}
	if len(q.Workers) == 0 {
		if sheet.Crews, err = s.crews(); err != nil {
			return sheet, err
		}
		if sheet.Members, err = s.members(q.Crew); err != nil {
			return sheet, err
		}
	}
	s.fillSheet(&sheet, week, entries)
	s.totalSheet(&sheet, week, days)
	if q.Crew != "" && q.Job == "" {
		if err := s.markHoles(&sheet, week); err != nil {
			return sheet, err
		}
	}
	sums, err := s.footingSums(sc)
	if err != nil {
		return sheet, err
	}
	sheet.Footing.Footing = s.footing(sums)
	return sheet, nil
}

func (s *session) crews() ([]string, error) {
	if s.actor.Crew != "" {
		return []string{s.actor.Crew}, nil
	}
	return store.Query[string](s.Tx, "SELECT DISTINCT crew FROM workers WHERE active = 1 AND crew <> '' ORDER BY crew")
}

func (s *session) members(crew string) ([]Named, error) {
	return store.Query[Named](s.Tx, `SELECT w.id, w.code, w.name, ifnull(t.name, '') AS sub FROM workers w LEFT JOIN trades t ON t.id = w.trade_id
		WHERE w.active = 1 AND (? = '' OR w.crew = ?) ORDER BY w.name, w.id`, crew, crew)
}

// lineKey tells the lines of a sheet apart. What a rate is stays out of it for those who may not see money.
func (s *session) lineKey(e sheetEntry) string {
	rate := ""
	switch {
	case e.Rate != nil && s.actor.Can(SeeMoney):
		rate = s.currency.FormatRate(*e.Rate)
	case e.Rate != nil:
		rate = "own"
	}
	return fmt.Sprintf("%d-%d-%d-%d-%t-%s-%s", e.WorkerID, e.JobID, store.ID(e.PhaseID), store.ID(e.CostCodeID), e.Billable, e.PayClass, rate)
}

// lineSums are the totals of a sheet line while it is filled.
type lineSums struct {
	minutes, overtime money.Minutes
	cost, charge      money.Amount
	noCost, noCharge  bool
	furthest          int
}

func (s *session) fillSheet(sheet *Sheet, week calendar.Date, entries []sheetEntry) {
	index := map[string]int{}
	var sums []lineSums
	for _, e := range entries {
		key := s.lineKey(e)
		at, ok := index[key]
		if !ok {
			at = len(sheet.Lines)
			index[key] = at
			sheet.Lines = append(sheet.Lines, s.newLine(key, e, sheet.Days))
			sums = append(sums, lineSums{furthest: len(stageOrder)})
		}
		line, sum := &sheet.Lines[at], &sums[at]
		s.fillCell(&line.Cells[e.Date-week], e)
		stage := stageOf(e.Status, e.InvoiceID != nil, e.Billed, e.InvoicePaid)
		if rank := slices.Index(stageOrder, stage); rank < sum.furthest {
			sum.furthest = rank
			line.Trail = trail(stage, e.Billable, e.InvoiceText)
		}
		sum.add(e)
		line.CostOnly = !e.Billable || e.Basis != "tm"
	}
	for i := range sheet.Lines {
		line, sum := &sheet.Lines[i], sums[i]
		line.Hours, line.Overtime = sum.minutes.Short(), sum.overtime.Short()
		line.Locked = !slices.ContainsFunc(line.Cells, func(c Cell) bool { return c.Entries > 0 && c.Locked == "" })
		line.NoWage, line.NoRate = sum.noCost, sum.noCharge && !line.CostOnly
		if s.actor.Can(SeeMoney) {
			line.Cost, line.Charge = s.money(sum.cost), s.money(sum.charge)
		}
	}
}

// totalSheet adds all of the sheet up, also where only a part of its lines is read.
func (s *session) totalSheet(sheet *Sheet, week calendar.Date, sums []workerSum) {
	var total workerSum
	var days [7]money.Minutes
	for _, w := range sums {
		days[w.Date-week] += w.Minutes
		total.Minutes, total.Overtime = total.Minutes+w.Minutes, total.Overtime+w.Overtime
		total.Cost, total.Charge = total.Cost+w.Cost, total.Charge+w.Charge
		sheet.Drafts += w.Drafts
	}
	for _, m := range days {
		sheet.DayHours = append(sheet.DayHours, m.Short())
	}
	sheet.Hours, sheet.Overtime = total.Minutes.Short(), total.Overtime.Short()
	if s.actor.Can(SeeMoney) {
		sheet.Cost, sheet.Charge = s.money(total.Cost), s.money(total.Charge)
	}
}

var stageOrder = []string{"captured", "submitted", "approved", "drafted", "billed", "paid"}

func (t *lineSums) add(e sheetEntry) {
	t.minutes += e.Minutes
	t.overtime += e.OvertimeMinutes
	if e.Cost != nil {
		t.cost += *e.Cost
	}
	if e.Charge != nil {
		t.charge += *e.Charge
	}
	t.noCost = t.noCost || e.Cost == nil
	t.noCharge = t.noCharge || e.Charge == nil
}

func (s *session) newLine(key string, e sheetEntry, days []string) SheetLine {
	line := SheetLine{
		Key: key, Worker: Named{e.WorkerID, e.WorkerCode, e.WorkerName, e.Trade}, Job: Named{e.JobID, e.JobNumber, e.JobName, ""},
		Billable: e.Billable, PayClass: string(e.PayClass), OwnRate: e.Rate != nil, Hired: e.WorkerKind == "hired",
	}
	if e.Rate != nil && s.actor.Can(SeeMoney) {
		line.Rate = s.currency.FormatRate(*e.Rate)
	}
	if e.PhaseID != nil {
		line.Phase = &Named{*e.PhaseID, e.PhaseCode, e.PhaseName, ""}
	}
	if e.CostCodeID != nil {
		line.CostCode = &Named{*e.CostCodeID, e.CodeCode, e.CodeName, ""}
	}
	for _, d := range days {
		line.Cells = append(line.Cells, Cell{Date: d})
	}
	return line
}

func (s *session) fillCell(cell *Cell, e sheetEntry) {
	cell.Entries++
	if cell.Entries > 1 {
		had, _ := worktime.Read(cell.Hours)
		over, _ := worktime.Read(cell.Overtime)
		cell.Hours, cell.Overtime, cell.Text, cell.Cost, cell.Charge = (had.Minutes + e.Minutes).Short(), (over.Minutes + e.OvertimeMinutes).Short(), "", "", ""
		cell.Locked = "there are several entries on this day; change them one by one in the list"
		return
	}
	cell.EntryID, cell.Version, cell.Status = e.ID, e.Version, e.Status
	cell.Hours, cell.Overtime = e.Minutes.Short(), e.OvertimeMinutes.Short()
	cell.Text, cell.Reading, cell.Note = readingOf(e.TimeEntry).Text(), readingOf(e.TimeEntry).String(), e.Note
	cell.Locked = lockReason(e.TimeEntry, e.InvoiceText)
	if s.actor.Can(SeeMoney) {
		cell.Cost, cell.Charge = s.maybe(e.Cost), s.maybe(e.Charge)
	}
}

func readingOf(e store.TimeEntry) worktime.Reading {
	r := worktime.Reading{Minutes: e.Minutes, Break: e.BreakMinutes}
	if e.Start != nil {
		r.Clock, r.Start, r.Finish = true, *e.Start, *e.Finish
	}
	return r
}

// lockReason says why an entry can't be changed, blank where it can.
func lockReason(e store.TimeEntry, invoice string) string {
	switch {
	case e.Billed:
		return "billed on invoice " + invoice + "; put it right with a credit note"
	case e.InvoiceID != nil:
		return "on a draft invoice; take it off there first"
	case e.Status == "approved":
		return "approved; return it in Approve to change it"
	default:
		return ""
	}
}

// markHoles marks the holes of each worker, on the first of their lines.
func (s *session) markHoles(sheet *Sheet, week calendar.Date) error {
	open, err := s.holes(crewSpan{From: week, To: week + 6})
	if err != nil {
		return err
	}
	marked := map[int64]bool{}
	for l := range sheet.Lines {
		line := &sheet.Lines[l]
		if marked[line.Worker.ID] {
			continue
		}
		marked[line.Worker.ID] = true
		for i := range line.Cells {
			line.Cells[i].Hole = open[dayOf{line.Worker.ID, week + calendar.Date(i)}]
		}
	}
	return nil
}
