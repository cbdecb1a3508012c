// Package timesheet is hours: the week sheet and the day, saved cell by cell, handed in, brought in from a table, listed and printed.
package timesheet

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"

	"jarvo/internal/app/book"
	"jarvo/internal/app/history"
	"jarvo/internal/app/holes"
	"jarvo/internal/app/register"
	"jarvo/internal/app/scope"
	"jarvo/internal/core/billing"
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
	Key      string          `json:"key"`
	Worker   register.Named  `json:"worker"`
	Job      register.Named  `json:"job"`
	Phase    *register.Named `json:"phase,omitempty"`
	CostCode *register.Named `json:"costCode,omitempty"`
	Billable bool            `json:"billable"`
	PayClass string          `json:"payClass"`
	Rate     string          `json:"rate,omitempty" doc:"a price an hour of its own"`
	OwnRate  bool            `json:"ownRate,omitempty" doc:"it has a price an hour of its own"`
	Hired    bool            `json:"hired,omitempty" doc:"hired labour, no employee"`
	Cells    []Cell          `json:"cells"`
	Hours    string          `json:"hours" format:"decimal"`
	Overtime string          `json:"overtime" format:"decimal"`
	Cost     string          `json:"cost,omitempty" format:"decimal"`
	Charge   string          `json:"charge,omitempty" format:"decimal"`
	CostOnly bool            `json:"costOnly,omitempty" doc:"not billable, or not on time and materials"`
	NoWage   bool            `json:"noWage,omitempty"`
	NoRate   bool            `json:"noRate,omitempty"`
	Trail    history.Trail   `json:"trail"`
	Locked   bool            `json:"locked,omitempty"`
}

// Sheet is a crew's week.
type Sheet struct {
	Week     string              `json:"week" format:"date"`
	Days     []string            `json:"days"`
	Crews    []string            `json:"crews,omitempty" doc:"absent in a part"`
	Crew     string              `json:"crew"`
	Members  []register.Named    `json:"members,omitempty" doc:"absent in a part"`
	Part     []int64             `json:"part,omitempty" doc:"the workers whose lines these are, where they are not of all"`
	Lines    []SheetLine         `json:"lines"`
	DayHours []string            `json:"dayHours"`
	Hours    string              `json:"hours" format:"decimal"`
	Overtime string              `json:"overtime" format:"decimal"`
	Leave    string              `json:"leave,omitempty" format:"decimal" doc:"paid and not worked, of the hours"`
	Cost     string              `json:"cost,omitempty" format:"decimal"`
	Charge   string              `json:"charge,omitempty" format:"decimal"`
	Drafts   int                 `json:"drafts" doc:"entries not handed in"`
	Mark     string              `json:"mark" doc:"of these entries; it is another whenever they are"`
	Footing  scope.FootingChange `json:"footing"`
	Saved    []SavedCell         `json:"saved,omitempty" doc:"what became of each edit, where the sheet answers a save"`
	Unread   string              `json:"unread,omitempty" doc:"what was sent was saved, and the sheet could not be read again: a sentence that says so"`
}

// SavedCell is the entry that an edit made or changed; absent where it took the entry away.
type SavedCell struct {
	EntryID int64 `json:"entryId,omitempty"`
	Version int64 `json:"version,omitempty"`
}

// SheetEntry is a time entry with the names of what it refers to.
type SheetEntry struct {
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

// SheetEntries reads each [SheetEntry] between two dates; conditions on e, the entry, and w, its worker, follow it.
var SheetEntries = SheetEntriesFrom("time_entries e")

// SheetEntriesFrom is [SheetEntries] of a source that has the entries as e.
func SheetEntriesFrom(source string) string { return fmt.Sprintf(sheetEntries, source) }

// daySum is all that a sheet has on a day.
type daySum struct {
	Date                     calendar.Date
	Minutes, Overtime, Leave money.Minutes
	Cost, Charge             money.Amount
	Drafts                   int
	Versions                 int64 // of the drafts, together
}

// sheetSums are the totals of all of a sheet, also where only a part of its lines is read.
type sheetSums struct {
	daySum
	days [7]money.Minutes
}

// sum is what an entry adds to its day.
func (e *SheetEntry) sum() daySum {
	sum := daySum{Date: e.Date, Minutes: e.Minutes, Overtime: e.OvertimeMinutes}
	if e.Cost != nil {
		sum.Cost = *e.Cost
	}
	if e.Charge != nil {
		sum.Charge = *e.Charge
	}
	if e.Status == store.Draft {
		sum.Drafts, sum.Versions = 1, e.Version
	}
	if e.PayClass == worktime.PayLeave {
		sum.Leave = e.Minutes
	}
	return sum
}

// Week is the crew sheet of a week.
func Week(ctx context.Context, b *book.Book, actor book.Actor, q SheetQuery) (Sheet, error) {
	return book.Read(ctx, b, actor, book.Capture, func(s *book.Session) (Sheet, error) { return sheet(s, q) })
}

func sheet(s *book.Session, q SheetQuery) (Sheet, error) {
	c := s.Checks()
	week := s.Today()
	if q.Week != "" {
		week = c.Date("week", q.Week)
	}
	if err := c.Err(); err != nil {
		return Sheet{}, err
	}
	var err error
	if q.Crew, err = register.OwnCrew(s, q.Crew); err != nil {
		return Sheet{}, err
	}
	week = week.WeekStart(book.WeekStart(s.Company))
	sheet := Sheet{Week: week.String(), Crew: q.Crew, Part: q.Workers}
	for d := week; d < week+7; d++ {
		sheet.Days = append(sheet.Days, d.String())
	}
	source, where, args := "time_entries e", "", []any{week, week + 6}
	if q.Crew != "" {
		source = "time_entries e INDEXED BY time_entries_worker" // a crew's weeks, worker by worker, and not the week of all
		where, args = " AND e.worker_id IN (SELECT id FROM workers WHERE crew = ?)", append(args, q.Crew)
	}
	sc := scope.Scope{From: week, To: week + 6, Crew: q.Crew}
	if q.Job != "" {
		job, err := register.JobByNumber(s, q.Job)
		if err != nil {
			return sheet, err
		}
		where, args = where+" AND e.job_id = ?", append(args, job.ID)
		sc.Job = job.ID
	}
	var total sheetSums
	if len(q.Workers) > 0 {
		days, err := store.Query[daySum](s.Tx, daySums+where+" GROUP BY e.date", args...)
		if err != nil {
			return sheet, err
		}
		for _, d := range days {
			total.add(week, d)
		}
		where, args = where+" AND e.worker_id IN ?", append(args, q.Workers)
	}
	entries, err := store.Query[SheetEntry](s.Tx, SheetEntriesFrom(source)+where, args...)
	if err != nil {
		return sheet, err
	}
	slices.SortFunc(entries, func(a, b SheetEntry) int { // quicker than for SQLite to sort what is so wide
		return cmp.Or(cmp.Compare(a.WorkerName, b.WorkerName), cmp.Compare(a.WorkerID, b.WorkerID), cmp.Compare(a.ID, b.ID))
	})
	if len(q.Workers) == 0 {
		for _, e := range entries {
			total.add(week, e.sum())
		}
		if sheet.Crews, err = register.Crews(s); err != nil {
			return sheet, err
		}
		if sheet.Members, err = register.Members(s, q.Crew); err != nil {
			return sheet, err
		}
	}
	fillSheet(s, &sheet, week, entries)
	total.show(s, &sheet)
	if q.Crew != "" && q.Job == "" {
		if err := markHoles(s, &sheet, week); err != nil {
			return sheet, err
		}
	}
	sums, err := scope.SumsOf(s, sc)
	if err != nil {
		return sheet, err
	}
	sheet.Footing.Footing = scope.Shown(s, sums)
	return sheet, nil
}

// lineKey tells the lines of a sheet apart. What a rate is stays out of it for those who may not see money.
type lineKey struct {
	worker, job, phase, code int64
	billable                 bool
	pay                      worktime.PayClass
	rate                     string
}

func keyOf(s *book.Session, e SheetEntry) lineKey {
	key := lineKey{e.WorkerID, e.JobID, store.ID(e.PhaseID), store.ID(e.CostCodeID), e.Billable, e.PayClass, ""}
	switch {
	case e.Rate != nil && s.Actor.Can(book.SeeMoney):
		key.rate = s.Currency.FormatRate(*e.Rate)
	case e.Rate != nil:
		key.rate = "own"
	}
	return key
}

func (k lineKey) String() string {
	text := make([]byte, 0, 48)
	for _, recordID := range []int64{k.worker, k.job, k.phase, k.code} {
		text = append(strconv.AppendInt(text, recordID, 10), '-')
	}
	return string(strconv.AppendBool(text, k.billable)) + "-" + string(k.pay) + "-" + k.rate
}

// LineSums are the totals of a sheet line while it is filled.
type LineSums struct {
	Minutes, overtime money.Minutes
	Cost, Charge      money.Amount
	NoCost, noCharge  bool
	furthest          int
}

func fillSheet(s *book.Session, sheet *Sheet, week calendar.Date, entries []SheetEntry) {
	index := map[lineKey]int{}
	var sums []LineSums
	for i := range entries {
		e := &entries[i]
		key := keyOf(s, *e)
		at, ok := index[key]
		if !ok {
			at = len(sheet.Lines)
			index[key] = at
			sheet.Lines = append(sheet.Lines, NewLine(s, key.String(), *e, sheet.Days))
			sums = append(sums, LineSums{furthest: len(stageOrder)})
		}
		line, sum := &sheet.Lines[at], &sums[at]
		fillCell(s, &line.Cells[e.Date-week], *e)
		stage := history.StageOf(e.Status, e.InvoiceID != nil, e.Billed, e.InvoicePaid)
		if rank := slices.Index(stageOrder, stage); rank < sum.furthest {
			sum.furthest = rank
			line.Trail = history.TrailOf(stage, e.Billable, e.InvoiceText)
		}
		sum.Add(*e)
		line.CostOnly = !billing.Chargeable(e.Billable, e.Basis)
	}
	for i := range sheet.Lines {
		line, sum := &sheet.Lines[i], sums[i]
		line.Hours, line.Overtime = sum.Minutes.Short(), sum.overtime.Short()
		line.Locked = !slices.ContainsFunc(line.Cells, func(c Cell) bool { return c.Entries > 0 && c.Locked == "" })
		line.NoWage, line.NoRate = sum.NoCost, sum.noCharge && !line.CostOnly
		if s.Actor.Can(book.SeeMoney) {
			line.Cost, line.Charge = s.Money(sum.Cost), s.Money(sum.Charge)
		}
	}
}

func (t *sheetSums) add(week calendar.Date, d daySum) {
	t.days[d.Date-week] += d.Minutes
	t.Minutes, t.Overtime, t.Leave = t.Minutes+d.Minutes, t.Overtime+d.Overtime, t.Leave+d.Leave
	t.Cost, t.Charge = t.Cost+d.Cost, t.Charge+d.Charge
	t.Drafts, t.Versions = t.Drafts+d.Drafts, t.Versions+d.Versions
}

func (t *sheetSums) show(s *book.Session, sheet *Sheet) {
	for _, m := range t.days {
		sheet.DayHours = append(sheet.DayHours, m.Short())
	}
	sheet.Hours, sheet.Overtime, sheet.Leave = t.Minutes.Short(), t.Overtime.Short(), t.Leave.Short()
	sheet.Drafts, sheet.Mark = t.Drafts, MarkOf(t.Drafts, t.Versions)
	if s.Actor.Can(book.SeeMoney) {
		sheet.Cost, sheet.Charge = s.Money(t.Cost), s.Money(t.Charge)
	}
}

var stageOrder = []string{"captured", "submitted", "approved", "drafted", "billed", "paid"}

// Add adds an entry.
func (t *LineSums) Add(e SheetEntry) {
	t.Minutes += e.Minutes
	t.overtime += e.OvertimeMinutes
	if e.Cost != nil {
		t.Cost += *e.Cost
	}
	if e.Charge != nil {
		t.Charge += *e.Charge
	}
	t.NoCost = t.NoCost || e.Cost == nil
	t.noCharge = t.noCharge || e.Charge == nil
}

// NewLine is a line of the sheet with an empty cell a day.
func NewLine(s *book.Session, key string, e SheetEntry, days []string) SheetLine {
	line := SheetLine{
		Key: key, Worker: register.Named{ID: e.WorkerID, Code: e.WorkerCode, Name: e.WorkerName, Sub: e.Trade},
		Job:      register.Named{ID: e.JobID, Code: e.JobNumber, Name: e.JobName, Sub: ""},
		Billable: e.Billable, PayClass: string(e.PayClass), OwnRate: e.Rate != nil, Hired: e.WorkerKind == store.Hired,
	}
	if e.Rate != nil && s.Actor.Can(book.SeeMoney) {
		line.Rate = s.Currency.FormatRate(*e.Rate)
	}
	if e.PhaseID != nil {
		line.Phase = &register.Named{ID: *e.PhaseID, Code: e.PhaseCode, Name: e.PhaseName, Sub: ""}
	}
	if e.CostCodeID != nil {
		line.CostCode = &register.Named{ID: *e.CostCodeID, Code: e.CodeCode, Name: e.CodeName, Sub: ""}
	}
	line.Cells = make([]Cell, len(days))
	for i, d := range days {
		line.Cells[i].Date = d
	}
	return line
}

func fillCell(s *book.Session, cell *Cell, e SheetEntry) {
	cell.Entries++
	if cell.Entries > 1 {
		had, _ := worktime.Read(cell.Hours)
		over, _ := worktime.Read(cell.Overtime)
		cell.Hours, cell.Overtime = (had.Minutes + e.Minutes).Short(), (over.Minutes + e.OvertimeMinutes).Short()
		cell.Text, cell.Cost, cell.Charge = "", "", ""
		cell.Locked = "there are several entries on this day; change them one by one in the list"
		return
	}
	cell.EntryID, cell.Version, cell.Status = e.ID, e.Version, e.Status
	cell.Hours, cell.Overtime = e.Minutes.Short(), e.OvertimeMinutes.Short()
	cell.Text, cell.Reading, cell.Note = ReadingOf(e.TimeEntry).Text(), ReadingOf(e.TimeEntry).String(), e.Note
	cell.Locked = LockReason(e.TimeEntry, e.InvoiceText)
	if s.Actor.Can(book.SeeMoney) {
		cell.Cost, cell.Charge = s.Maybe(e.Cost), s.Maybe(e.Charge)
	}
}

// ReadingOf is an entry's hours as they were typed.
func ReadingOf(e store.TimeEntry) worktime.Reading {
	r := worktime.Reading{Minutes: e.Minutes, Break: e.BreakMinutes}
	if e.Start != nil {
		r.Clock, r.Start, r.Finish = true, *e.Start, *e.Finish
	}
	return r
}

// LockReason says why an entry can't be changed, blank where it can.
func LockReason(e store.TimeEntry, invoice string) string {
	switch {
	case e.Billed:
		return "billed on invoice " + invoice + "; put it right with a credit note"
	case e.InvoiceID != nil:
		return "on a draft invoice; take it off there first"
	case e.Status == store.Approved:
		return "approved; return it in Approve to change it"
	default:
		return ""
	}
}

// markHoles marks the holes of each worker, on the first of their lines.
func markHoles(s *book.Session, sheet *Sheet, week calendar.Date) error {
	open, err := holes.In(s, holes.Span{From: week, To: week + 6})
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
			line.Cells[i].Hole = open[holes.Day{WorkerID: line.Worker.ID, Date: week + calendar.Date(i)}]
		}
	}
	return nil
}

// EntryRecord is a time entry as its history keeps it.
func EntryRecord(s *book.Session, e store.TimeEntry) map[string]string {
	recorded := map[string]string{
		"date": e.Date.String(), "hours": ReadingOf(e).String(), "status": e.Status, "jobId": strconv.FormatInt(e.JobID, 10), "billable": "yes",
	}
	if !e.Billable {
		recorded["billable"] = "no"
	}
	for key, ref := range map[string]*int64{"phaseId": e.PhaseID, "costCodeId": e.CostCodeID} {
		if ref != nil {
			recorded[key] = strconv.FormatInt(*ref, 10)
		}
	}
	if e.PayClass != "auto" {
		recorded["payClass"] = string(e.PayClass)
	}
	if e.Rate != nil {
		recorded["rate"] = s.Currency.FormatRate(*e.Rate)
	}
	if e.Note != "" {
		recorded["note"] = e.Note
	}
	return recorded
}
