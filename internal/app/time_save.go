package app

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"jarvo/internal/core/money"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// CellEdit is what was typed into one cell of the crew sheet. A blank text takes the entry away.
type CellEdit struct {
	Key        string `json:"key,omitempty" doc:"made by the client for a new entry, so that a retry makes nothing twice"`
	EntryID    int64  `json:"entryId,omitempty" doc:"the entry that is changed; absent for a new one"`
	Version    int64  `json:"version,omitempty" doc:"the version that was seen; a stale one is refused"`
	WorkerID   int64  `json:"workerId"`
	JobID      int64  `json:"jobId"`
	PhaseID    int64  `json:"phaseId,omitempty"`
	CostCodeID int64  `json:"costCodeId,omitempty"`
	Billable   bool   `json:"billable"`
	PayClass   string `json:"payClass,omitempty" doc:"auto where absent"`
	Date       string `json:"date" format:"date"`
	Text       string `json:"text" doc:"hours as people write them: 8, 8:30, 7-3:30/30"`
}

// furthestAhead is how many days ahead hours may be booked: further is a slip of the year.
const furthestAhead = 31

// SaveCells takes what was typed into a crew sheet, all of it or none, and returns the sheet and what the
// edit changed in its footing.
func (a *App) SaveCells(ctx context.Context, actor Actor, q SheetQuery, edits []CellEdit) (Sheet, error) {
	var sheet Sheet
	err := a.write(ctx, actor, Capture, func(s *session) error {
		scope, err := s.sheetScope(q)
		if err != nil {
			return err
		}
		before, err := s.footingSums(scope)
		if err != nil {
			return err
		}
		t := newTouched()
		c := s.checks()
		for i, edit := range edits {
			if err := s.saveCell(c, fmt.Sprintf("edits[%d].", i), edit, t); err != nil {
				return err
			}
		}
		if err := c.err(); err != nil {
			return err
		}
		if err := s.recost(t); err != nil {
			return err
		}
		if sheet, err = s.sheet(q); err != nil {
			return err
		}
		after, err := s.footingSums(scope)
		if err != nil {
			return err
		}
		sheet.Footing.Change = s.footingChange(after.minus(before))
		return nil
	})
	return sheet, err
}

func (s *session) sheetScope(q SheetQuery) (Scope, error) {
	c := s.checks()
	week := c.date("week", q.Week)
	if err := c.err(); err != nil {
		return Scope{}, err
	}
	week = week.WeekStart(weekStart(s.company))
	return s.scope(ScopeQuery{Job: q.Job, From: week.String(), To: (week + 6).String()})
}

func (s *session) saveCell(c *checks, path string, edit CellEdit, t *touched) error {
	if edit.EntryID != 0 {
		return s.changeCell(c, path, edit, t)
	}
	if strings.TrimSpace(edit.Text) == "" {
		return nil
	}
	before := len(c.fields)
	entry, err := s.newEntry(c, path, edit)
	if err != nil || len(c.fields) > before {
		return err
	}
	_, err = s.once(edit.Key, "time_entry", func() (int64, error) {
		if err := s.Create(&entry).Error; err != nil {
			return 0, err
		}
		refText, err := s.freeRef("time_entries", "T", entry.ID)
		if err != nil {
			return 0, err
		}
		entry.Ref = refText
		if err := s.Model(&entry).Update("ref", refText).Error; err != nil {
			return 0, err
		}
		t.entry(entry.WorkerID, entry.Date)
		return entry.ID, s.record("captured", "time_entry", entry.ID, nil, entrySaid(entry))
	})
	return err
}

// freeRef is a reference for a new row that no imported row has taken.
func (s *session) freeRef(table, prefix string, rowID int64) (string, error) {
	text := prefix + strconv.FormatInt(rowID, 10)
	for n := 2; ; n++ {
		taken, err := store.Query[int64](s.Tx, "SELECT count(*) FROM "+table+" WHERE ref = ? AND id <> ?", text, rowID)
		if err != nil || taken[0] == 0 {
			return text, err
		}
		text = fmt.Sprintf("%s%d-%d", prefix, rowID, n)
	}
}

func entrySaid(e store.TimeEntry) map[string]string {
	return map[string]string{"date": e.Date.String(), "hours": readingOf(e).String(), "status": e.Status}
}

func (s *session) newEntry(c *checks, path string, edit CellEdit) (store.TimeEntry, error) {
	entry := store.TimeEntry{
		WorkerID: edit.WorkerID, JobID: edit.JobID, PhaseID: ref(edit.PhaseID), CostCodeID: ref(edit.CostCodeID), Billable: edit.Billable,
		PayClass: worktime.PayAuto, Status: "draft", Version: 1, Ref: "new " + edit.Key,
	}
	if edit.PayClass != "" {
		entry.PayClass = worktime.PayClass(c.oneOf(path+"payClass", edit.PayClass, "auto", "regular", "overtime", "double"))
	}
	entry.Date = c.date(path+"date", edit.Date)
	if today := s.app.Today(); entry.Date > today+furthestAhead {
		c.add(path+"date", "%s is more than %d days ahead; hours are booked when they have been worked", entry.Date, furthestAhead)
	}
	s.readHours(c, path+"text", edit.Text, &entry)
	worker, found, err := store.One[store.Worker](s.Tx, edit.WorkerID)
	if err != nil {
		return entry, err
	}
	if !found {
		c.add(path+"workerId", "there is no such worker")
	} else if !worker.Active {
		c.add(path+"workerId", "%s does not work here any more", worker.Name)
	}
	return entry, s.checkPlace(c, path, edit.JobID, edit.PhaseID, edit.CostCodeID)
}

// checkPlace checks that a job is there and open, and that phase and cost code are its.
func (s *session) checkPlace(c *checks, path string, jobID, phaseID, costCodeID int64) error {
	job, found, err := store.One[store.Job](s.Tx, jobID)
	if err != nil {
		return err
	}
	switch {
	case !found:
		c.add(path+"jobId", "there is no such job; choose one from the list")
	case job.Status == "closed":
		c.add(path+"jobId", "job %s is closed; open it again in Jobs, or choose another", job.Number)
	}
	if phaseID != 0 {
		phase, found, err := store.One[store.Phase](s.Tx, phaseID)
		if err != nil {
			return err
		}
		if !found || phase.JobID != jobID {
			c.add(path+"phaseId", "this phase is not of this job")
		}
	}
	if costCodeID != 0 {
		if _, found, err = store.One[store.CostCode](s.Tx, costCodeID); err == nil && !found {
			c.add(path+"costCodeId", "there is no such cost code")
		}
	}
	return err
}

func (s *session) readHours(c *checks, path, text string, e *store.TimeEntry) {
	r, err := worktime.Read(text)
	if err != nil {
		c.add(path, "%s", err)
		return
	}
	e.Minutes, e.BreakMinutes, e.Start, e.Finish = r.Minutes, 0, nil, nil
	if r.Clock {
		start, finish := r.Start%(24*60), r.Finish%(24*60)
		e.Start, e.Finish, e.BreakMinutes = &start, &finish, r.Break
	}
}

func (s *session) changeCell(c *checks, path string, edit CellEdit, t *touched) error {
	entry, found, err := store.One[store.TimeEntry](s.Tx, edit.EntryID)
	if err != nil {
		return err
	}
	if !found {
		return conflict("somebody else has just taken this entry away")
	}
	if entry.Version != edit.Version {
		return &Error{Kind: KindConflict, Message: fmt.Sprintf("somebody else has changed this to %s; you typed %s", readingOf(entry), edit.Text), Current: entrySaid(entry)}
	}
	if reason := lockReason(entry, ""); reason != "" {
		c.add(path+"text", "this is %s", reason)
		return nil
	}
	before := entrySaid(entry)
	t.entry(entry.WorkerID, entry.Date)
	if strings.TrimSpace(edit.Text) == "" {
		if err := s.Delete(&store.TimeEntry{}, entry.ID).Error; err != nil {
			return err
		}
		return s.record("took away", "time_entry", entry.ID, before, nil)
	}
	s.readHours(c, path+"text", edit.Text, &entry)
	entry.Billable = edit.Billable
	if entry.Status == "submitted" {
		entry.Status = "draft" // a change after handing in has to be handed in again
	}
	entry.Version++
	err = s.Model(&entry).Select("minutes", "start", "finish", "break_minutes", "billable", "status", "version").Updates(&entry).Error
	if err != nil {
		return err
	}
	return s.record("changed", "time_entry", entry.ID, before, entrySaid(entry))
}

// HandIn submits all drafts of a crew's week for approval.
func (a *App) HandIn(ctx context.Context, actor Actor, q SheetQuery) (Sheet, error) {
	var sheet Sheet
	err := a.write(ctx, actor, Capture, func(s *session) error {
		scope, err := s.sheetScope(q)
		if err != nil {
			return err
		}
		ids, err := store.Query[int64](s.Tx, `SELECT e.id FROM time_entries e JOIN workers w ON w.id = e.worker_id
			WHERE e.status = 'draft' AND e.date BETWEEN ? AND ? AND (? = '' OR w.crew = ?) AND (? = 0 OR e.job_id = ?)`,
			scope.From, scope.To, q.Crew, q.Crew, scope.Job, scope.Job)
		if err != nil {
			return err
		}
		if len(ids) == 0 {
			return conflict("there is nothing to hand in: no hours that wait to be handed in")
		}
		if err := s.setEntryStatus(ids, "submitted", "handed in", ""); err != nil {
			return err
		}
		sheet, err = s.sheet(q)
		return err
	})
	return sheet, err
}

func (s *session) setEntryStatus(ids []int64, status, action, reason string) error {
	for _, entryID := range ids {
		if err := s.Exec("UPDATE time_entries SET status = ?, version = version + 1 WHERE id = ?", status, entryID).Error; err != nil {
			return err
		}
		after := map[string]string{"status": status}
		if reason != "" {
			after["reason"] = reason
		}
		if err := s.record(action, "time_entry", entryID, nil, after); err != nil {
			return err
		}
	}
	return nil
}

// CellReading is what a text is read as while it is typed.
type CellReading struct {
	Hours    string `json:"hours"`
	Reading  string `json:"reading"`
	Overtime string `json:"overtime,omitempty" doc:"hours of it that would be at a premium"`
}

// ReadCell reads what is being typed for a worker and a day, without saving it.
func (a *App) ReadCell(ctx context.Context, actor Actor, workerID int64, date, text string, entryID int64) (CellReading, error) {
	var out CellReading
	err := a.read(ctx, actor, Capture, func(s *session) error {
		c := s.checks()
		probe := store.TimeEntry{ID: entryID, WorkerID: workerID, Date: c.date("date", date), PayClass: worktime.PayAuto}
		s.readHours(c, "text", text, &probe)
		if err := c.err(); err != nil {
			return err
		}
		out = CellReading{Hours: shortHours(probe.Minutes), Reading: readingOf(probe).String()}
		over, err := s.premium(probe)
		out.Overtime = shortHours(over)
		return err
	})
	return out, err
}

// premium is how many minutes of a probe entry would be overtime or double in its week as it stands.
func (s *session) premium(probe store.TimeEntry) (money.Minutes, error) {
	worker, found, err := store.One[store.Worker](s.Tx, probe.WorkerID)
	if err != nil || !found {
		return 0, err
	}
	book, err := s.rates()
	if err != nil {
		return 0, err
	}
	from := probe.Date.WeekStart(book.rules.WeekStart)
	stored, err := store.All[store.TimeEntry](s.Tx, "id", "worker_id = ? AND date BETWEEN ? AND ? AND id <> ?", worker.ID, from, from+6, probe.ID)
	if err != nil {
		return 0, err
	}
	if probe.ID == 0 {
		probe.ID = 1 << 60 // captured last
	}
	var week []worktime.Entry
	for _, e := range append(stored, probe) {
		week = append(week, worktime.Entry{Date: e.Date, Start: e.Start, Order: e.ID, Minutes: e.Minutes, Pay: e.PayClass})
	}
	worktime.Sort(week, func(e worktime.Entry) worktime.Entry { return e })
	var over money.Minutes
	for i, segments := range worktime.Split(book.rules, worker.Exempt, week) {
		if week[i].Order != probe.ID {
			continue
		}
		for _, g := range segments {
			if g.Class != worktime.Regular {
				over += g.Minutes
			}
		}
	}
	return over, nil
}
