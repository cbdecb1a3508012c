package timesheet

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"log/slog"
	"slices"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/form"
	"jarvo/internal/app/ratebook"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/app/scope"
	"jarvo/internal/core/money"
	"jarvo/internal/core/words"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// CellEdit is what was typed into one cell of the crew sheet, with all that its line says. A blank text takes the entry away.
type CellEdit struct {
	Key        string  `json:"key,omitempty" doc:"made by the client for a new entry, so that a retry makes nothing twice"`
	EntryID    int64   `json:"entryId,omitempty" doc:"the entry that is changed; absent for a new one"`
	Version    int64   `json:"version,omitempty" doc:"the version that was seen; a stale one is refused"`
	Another    bool    `json:"another,omitempty" doc:"a new entry beside one of the same line and day that has been seen"`
	WorkerID   int64   `json:"workerId"`
	JobID      int64   `json:"jobId"`
	PhaseID    int64   `json:"phaseId,omitempty"`
	CostCodeID int64   `json:"costCodeId,omitempty"`
	Billable   bool    `json:"billable"`
	PayClass   string  `json:"payClass,omitempty" doc:"auto where absent"`
	Rate       *string `json:"rate,omitempty" maxLength:"40" doc:"a price an hour of its own, blank for none; absent: as it is. Only from those who see money"`
	Note       *string `json:"note,omitempty" doc:"absent: as it is"`
	Date       string  `json:"date" format:"date"`
	Text       string  `json:"text" doc:"hours as people write them: 8, 8:30, 7-3:30/30"`
}

// StaleCell is an edit that was refused because somebody else has changed what it changes: what stands there now.
type StaleCell struct {
	Edit    int    `json:"edit" doc:"place in the list of edits"`
	EntryID int64  `json:"entryId,omitempty" doc:"absent where the entry has been taken away"`
	Version int64  `json:"version,omitempty"`
	Text    string `json:"text" doc:"as it is typed; blank where it has been taken away"`
	Who     string `json:"who"`
	At      string `json:"at,omitempty" format:"date-time"`
}

// cellSaver takes edits one after the other and collects what is wrong with them.
type cellSaver struct {
	*book.Session
	*form.Checks
	step    *costing.Step
	stale   []StaleCell
	saved   []SavedCell
	atClock bool // the hours are over and worked: neither a closed job nor a worker who has left keeps them out
}

// SaveCells takes what was typed into a crew sheet, all of it or none, and returns the part of the sheet that it changed and
// what it changed in the footing. Each edit that is refused has a sentence at edits[i]; the others would have been taken.
func SaveCells(ctx context.Context, b *book.Book, actor book.Actor, q SheetQuery, edits []CellEdit) (Sheet, error) {
	var change scope.FootingSums
	var saved []SavedCell
	var workers []int64
	err := book.Change(ctx, b, actor, book.Capture, func(s *book.Session) error {
		scope, err := sheetScope(s, q)
		if err != nil {
			return err
		}
		whose, err := whose(s, edits)
		if err != nil {
			return err
		}
		before, err := hoursOf(s, whose, scope)
		if err != nil {
			return err
		}
		if saved, workers, err = Save(s, edits); err != nil {
			return err
		}
		after, err := hoursOf(s, whose, scope)
		change = after.Minus(before)
		return err
	})
	if err != nil {
		return Sheet{}, err
	}
	q.Workers = workers
	sheet := changedSheet(ctx, b, actor, q, change)
	sheet.Saved = saved
	return sheet, nil
}

// whose finds the workers whose hours some edits change.
func whose(s *book.Session, edits []CellEdit) ([]int64, error) {
	var workers, entries []int64
	for _, edit := range edits {
		workers = append(workers, edit.WorkerID)
		if edit.EntryID != 0 {
			entries = append(entries, edit.EntryID)
		}
	}
	if len(entries) == 0 {
		return workers, nil
	}
	changed, err := store.Query[int64](s.Tx, "SELECT DISTINCT worker_id FROM time_entries WHERE id IN ?", entries)
	return append(workers, changed...), err
}

// hoursOf adds up the hours of some workers in a scope: what an edit changes in a footing is in them alone.
func hoursOf(s *book.Session, workers []int64, sc scope.Scope) (scope.FootingSums, error) {
	sums, err := store.Value[scope.FootingSums](s.Tx, workersHours, workers, sc.From, sc.End(), sc.Job, sc.Job)
	if err != nil {
		return scope.FootingSums{}, err
	}
	return sums, nil
}

// changedSheet reads the sheet after a change, when others can write again. Where it can't be read the change has been saved all the
// same, and the answer says so.
func changedSheet(ctx context.Context, b *book.Book, actor book.Actor, q SheetQuery, change scope.FootingSums) Sheet {
	sheet, err := book.Read(ctx, b, actor, book.Capture, func(s *book.Session) (Sheet, error) {
		sheet, err := sheet(s, q)
		sheet.Footing.Change = scope.ShownChange(s, change)
		return sheet, err
	})
	if err != nil {
		slog.ErrorContext(ctx, "reading the sheet after it was saved", "error", err)
		return Sheet{Unread: "this was saved; the sheet could not be read again, so open it once more"}
	}
	return sheet
}

// Save returns what became of each edit, and whose hours they are.
func Save(s *book.Session, edits []CellEdit) ([]SavedCell, []int64, error) {
	c := saver(s, len(edits), costing.Begin(s))
	workers, err := c.saveAll(edits)
	return c.saved, workers, err
}

// SaveFromClock saves hours that somebody has clocked.
func SaveFromClock(s *book.Session, edit CellEdit) error {
	c := saver(s, 1, costing.Begin(s))
	c.atClock = true
	_, err := c.saveAll([]CellEdit{edit})
	return err
}

func saver(s *book.Session, edits int, step *costing.Step) *cellSaver {
	return &cellSaver{Session: s, Checks: s.Checks(), step: step, saved: make([]SavedCell, edits)}
}

func (c *cellSaver) saveAll(edits []CellEdit) ([]int64, error) {
	for i, edit := range edits {
		if err := c.Stopped(); err != nil {
			return nil, err
		}
		if err := c.save(i, edit); err != nil {
			return nil, err
		}
	}
	if len(c.stale) > 0 {
		return nil, &refuse.Error{Kind: refuse.KindConflict, Message: c.Fields[0].Message, Fields: c.Fields, Current: c.stale}
	}
	if err := c.Err(); err != nil {
		return nil, err
	}
	workers := c.step.Workers()
	for _, edit := range edits {
		if edit.WorkerID != 0 && !slices.Contains(workers, edit.WorkerID) {
			workers = append(workers, edit.WorkerID) // a retry has touched nothing, and is answered all the same
		}
	}
	return workers, c.step.Run()
}

func sheetScope(s *book.Session, q SheetQuery) (scope.Scope, error) {
	c := s.Checks()
	week := c.Date("week", q.Week)
	if err := c.Err(); err != nil {
		return scope.Scope{}, err
	}
	week = week.WeekStart(book.WeekStart(s.Company))
	return scope.Of(s, scope.ScopeQuery{Job: q.Job, From: week.String(), To: (week + 6).String()})
}

func (c *cellSaver) save(i int, edit CellEdit) error {
	path := fmt.Sprintf("edits[%d].", i)
	if edit.EntryID != 0 {
		return c.change(i, path, edit)
	}
	if strings.TrimSpace(edit.Text) == "" {
		return nil
	}
	made, err := book.Once(c.Session, "time_entry", edit.Key, edit, func() (SavedCell, error) { return c.create(i, path, edit) })
	if errors.Is(err, book.ErrOtherContent) && made.EntryID != 0 {
		there, err := store.All[store.TimeEntry](c.Tx, "id", "id = ?", made.EntryID)
		if err != nil {
			return err
		}
		edit.EntryID = made.EntryID
		return c.notStale(c.refuse(i, path, edit, there...))
	}
	if e, ok := refuse.AsError(err); ok && e.Kind == refuse.KindInvalid {
		for _, f := range e.Fields {
			c.Add(path+f.Path, "%s", f.Message)
		}
		return nil
	}
	c.saved[i] = made
	return c.notStale(err)
}

// create makes the entry that an edit asks for.
func (c *cellSaver) create(i int, path string, edit CellEdit) (SavedCell, error) {
	before := len(c.Fields)
	entry, err := c.newEntry(path, edit)
	if err != nil {
		return SavedCell{}, err
	}
	if len(c.Fields) > before {
		return SavedCell{}, errTold
	}
	if !edit.Another {
		there, err := c.sameCell(entry)
		if err != nil {
			return SavedCell{}, err
		}
		if len(there) > 0 {
			return SavedCell{}, c.refuse(i, path, edit, there...)
		}
	}
	if err := book.Add(c.Session, "time_entries", "T", &entry, &entry.ID, &entry.Ref); err != nil {
		return SavedCell{}, err
	}
	c.step.Entry(entry.WorkerID, entry.Date)
	return SavedCell{entry.ID, entry.Version}, c.Record("captured", "time_entry", entry.ID, nil, EntryRecord(c.Session, entry))
}

var (
	errStale = errors.New("the edit is stale")
	errTold  = errors.New("what is wrong with the edit has been told") // stands in c.fields
)

// sameCell finds the first entry of the same line and day, where there is one.
func (c *cellSaver) sameCell(e store.TimeEntry) ([]store.TimeEntry, error) {
	return store.All[store.TimeEntry](c.Tx, "id LIMIT 1", "worker_id = ? AND date = ? AND job_id = ? AND phase_id IS ? AND cost_code_id IS "+
		"? AND billable = ? AND pay_class = ? AND rate IS ?",
		e.WorkerID, e.Date, e.JobID, e.PhaseID, e.CostCodeID, e.Billable, e.PayClass, e.Rate)
}

// refuse notes that an edit is stale and what stands there now; nothing, where the entry has been taken away.
func (c *cellSaver) refuse(i int, path string, edit CellEdit, there ...store.TimeEntry) error {
	stale := StaleCell{Edit: i}
	subject, did := edit.EntryID, "taken this away"
	if len(there) > 0 {
		now := there[0]
		stale.EntryID, stale.Version, stale.Text = now.ID, now.Version, ReadingOf(now).Text()
		subject, did = now.ID, "changed this to "+ReadingOf(now).String()
	}
	last, err := store.Query[store.Change](c.Tx, lastChange, subject)
	if err != nil {
		return err
	}
	stale.Who = "somebody else"
	if len(last) > 0 {
		stale.Who, stale.At = last[0].UserName, book.TimeText(last[0].At)
	}
	typed := cmp.Or(strings.TrimSpace(edit.Text), "nothing")
	c.Add(path+"text", "%s has %s; you typed %s", stale.Who, did, typed)
	c.stale = append(c.stale, stale)
	return errStale
}

// newEntry reads what an edit asks for as an entry that is not there yet.
func (c *cellSaver) newEntry(path string, edit CellEdit) (store.TimeEntry, error) {
	entry := store.TimeEntry{WorkerID: edit.WorkerID, Status: store.Draft, Version: 1}
	entry.Date = c.Date(path+"date", edit.Date)
	if entry.Date > c.FurthestAhead() {
		c.Add(path+"date", "%s is more than %d days ahead; hours are booked when they have been worked", entry.Date, c.Company.DaysAhead)
	}
	worker, found, err := store.One[store.Worker](c.Tx, edit.WorkerID)
	if err != nil {
		return entry, err
	}
	if !found {
		c.Add(path+"workerId", "there is no such worker")
	} else if !worker.Active && !c.atClock {
		c.Add(path+"workerId", "%s does not work here any more", worker.Name)
	}
	if found {
		if err := register.OwnWorker(c.Session, worker); err != nil {
			return entry, err
		}
		c.About = worker
	}
	err = c.fill(path, edit, &entry)
	return entry, err
}

// fill takes what an edit says of hours, place and terms into an entry.
func (c *cellSaver) fill(path string, edit CellEdit, e *store.TimeEntry) error {
	readHours(c.Checks, path+"text", edit.Text, e)
	e.PayClass = worktime.PayAuto
	if edit.PayClass != "" {
		e.PayClass = worktime.PayClass(c.OneOf(path+"payClass", edit.PayClass, words.Texts(worktime.PayClasses)...))
	}
	e.Billable = edit.Billable && e.PayClass != worktime.PayLeave // leave is paid and not worked
	if edit.Note != nil {
		e.Note = c.Text(path+"note", *edit.Note)
	}
	if edit.Rate != nil {
		if !c.Actor.Can(book.SeeMoney) {
			c.Add(path+"rate", "you are not allowed to set a rate")
		}
		e.Rate = form.Optional(c.Checks, path+"rate", *edit.Rate, form.ParseRate)
		if e.Rate != nil {
			form.NotNegative(c.Checks, path+"rate", *e.Rate, "a rate")
		}
	}
	moved := e.JobID == 0 || e.JobID != edit.JobID || store.ID(e.PhaseID) != edit.PhaseID || store.ID(e.CostCodeID) != edit.CostCodeID
	e.JobID, e.PhaseID, e.CostCodeID = edit.JobID, store.Ref(edit.PhaseID), store.Ref(edit.CostCodeID)
	if !moved || c.atClock {
		return nil
	}
	return register.CheckPlace(c.Session, c.Checks, path, edit.JobID, edit.PhaseID, edit.CostCodeID)
}

func readHours(c *form.Checks, path, text string, e *store.TimeEntry) {
	r, err := worktime.Read(text)
	if err != nil {
		c.Add(path, "%s", err)
		return
	}
	e.Minutes, e.BreakMinutes, e.Start, e.Finish = r.Minutes, 0, nil, nil
	if r.Clock {
		start, finish := r.Start%(24*60), r.Finish%(24*60)
		e.Start, e.Finish, e.BreakMinutes = &start, &finish, r.Break
	}
}

func (c *cellSaver) change(i int, path string, edit CellEdit) error {
	entry, found, err := store.One[store.TimeEntry](c.Tx, edit.EntryID)
	if err != nil {
		return err
	}
	away := strings.TrimSpace(edit.Text) == ""
	if !found {
		if away { // a retry of what was done, or somebody else wanted the same
			return nil
		}
		return c.notStale(c.refuse(i, path, edit))
	}
	if c.About, err = register.OwnEntry(c.Session, entry); err != nil {
		return err
	}
	before, wrong := entry, len(c.Fields)
	if !away {
		if err := c.fill(path, edit, &entry); err != nil || len(c.Fields) > wrong {
			return err
		}
		if sameEntry(before, entry) {
			c.saved[i] = SavedCell{entry.ID, entry.Version}
			return nil
		}
	}
	if entry.Version != edit.Version {
		return c.notStale(c.refuse(i, path, edit, before))
	}
	if reason := LockReason(before, ""); reason != "" {
		c.Add(path+"text", "this is %s", reason)
		return nil
	}
	c.step.Entry(entry.WorkerID, entry.Date)
	if away {
		if before.Rate != nil && !c.Actor.Can(book.SeeMoney) {
			c.Add(path+"text", "this has a rate of its own, which only the bookkeeper can remove")
			return nil
		}
		if err := c.Delete(&store.TimeEntry{}, entry.ID).Error; err != nil {
			return err
		}
		return c.Record("took away", "time_entry", entry.ID, EntryRecord(c.Session, before), nil)
	}
	if entry.Status == store.Submitted {
		entry.Status = store.Draft // a change after handing in has to be handed in again
	}
	entry.Version++
	c.saved[i] = SavedCell{entry.ID, entry.Version}
	err = c.Model(&entry).Select(
		"minutes", "start", "finish", "break_minutes", "billable", "pay_class", "rate", "note", "job_id", "phase_id", "cost_code_id", "status",
		"version",
	).Updates(&entry).Error
	if err != nil {
		return err
	}
	return c.Record("changed", "time_entry", entry.ID, EntryRecord(c.Session, before), EntryRecord(c.Session, entry))
}

func (c *cellSaver) notStale(err error) error {
	if errors.Is(err, errStale) || errors.Is(err, errTold) {
		return nil
	}
	return err
}

// sameEntry says that an edit leaves an entry as it is: a retry, or two people who typed the same.
func sameEntry(a, b store.TimeEntry) bool {
	return a.Minutes == b.Minutes && a.BreakMinutes == b.BreakMinutes && store.Same(a.Start, b.Start) && store.Same(a.Finish, b.Finish) &&
		a.Billable == b.Billable && a.PayClass == b.PayClass &&
		store.Same(a.Rate, b.Rate) && a.Note == b.Note && a.JobID == b.JobID && store.Same(a.PhaseID, b.PhaseID) &&
		store.Same(a.CostCodeID, b.CostCodeID)
}

// HandIn submits all drafts of a crew's week for approval. Hours that are dated after today it asks about, unless ahead says that they
// are meant.
func HandIn(ctx context.Context, b *book.Book, actor book.Actor, q SheetQuery, as HandingIn) (Sheet, error) {
	err := book.Change(ctx, b, actor, book.Capture, func(s *book.Session) error {
		scope, err := sheetScope(s, q)
		if err != nil {
			return err
		}
		if q.Crew, err = register.OwnCrew(s, q.Crew); err != nil {
			return err
		}
		return HandInEntries(s, as, crewDrafts,
			scope.From, scope.To, q.Crew, q.Crew, scope.Job, scope.Job)
	})
	if err != nil {
		return Sheet{}, err
	}
	return changedSheet(ctx, b, actor, q, scope.FootingSums{}), nil
}

// HandingIn is how hours are handed in.
type HandingIn struct {
	Mark  string `json:"mark" doc:"of the entries that are not handed in, as it was seen"`
	Ahead bool   `json:"ahead,omitempty" doc:"hours that are dated after today are meant"`
}

// MarkOf marks entries that are not handed in by their number and versions.
func MarkOf(entries int, versions int64) string { return fmt.Sprintf("%d.%d", entries, versions) }

// HandInEntries submits the entries that a query finds, as long as they are those that were seen.
func HandInEntries(s *book.Session, as HandingIn, query string, args ...any) error {
	entries, err := store.Query[store.TimeEntry](s.Tx, query, args...)
	if err != nil {
		return err
	}
	if len(entries) == 0 {
		return refuse.Conflict("there are no hours to hand in")
	}
	ids := make([]int64, len(entries))
	late, last, versions := int64(0), s.Today(), int64(0)
	for i, e := range entries {
		ids[i] = e.ID
		versions += e.Version
		if e.Date > s.Today() {
			late, last = late+1, max(last, e.Date)
		}
	}
	if mark := MarkOf(len(entries), versions); as.Mark != mark {
		return refuse.Conflict("these hours have changed since they were shown; look at them again, then hand them in")
	}
	if late > 0 && !as.Ahead {
		return refuse.Invalid(
			"ahead", "%s dated after today, up to %s; hand them in all the same?", words.CountedAre(late, "entry"),
			last.Time().Format("Monday 2 January"),
		)
	}
	return SetEntryStatus(s, ids, store.Submitted, "handed in", "")
}

// SetEntryStatus hands entries in, approves them or returns them.
func SetEntryStatus(s *book.Session, ids []int64, status, action, reason string) error {
	for _, entryID := range ids {
		if err := s.Stopped(); err != nil {
			return err
		}
		was, err := store.Value[string](s.Tx, "SELECT status FROM time_entries WHERE id = ?", entryID)
		if err != nil {
			return err
		}
		if err := s.Run("UPDATE time_entries SET status = ?, version = version + 1 WHERE id = ?", status, entryID); err != nil {
			return err
		}
		after := map[string]string{"status": status}
		if reason != "" {
			after["reason"] = reason
		}
		if err := s.Record(action, "time_entry", entryID, map[string]string{"status": was}, after); err != nil {
			return err
		}
	}
	return nil
}

// CellReading is what a text is read as while it is typed.
type CellReading struct {
	Hours    string `json:"hours" format:"decimal"`
	Reading  string `json:"reading"`
	Overtime string `json:"overtime,omitempty" format:"decimal" doc:"hours of it that would be at a premium"`
}

// ReadCell reads what is being typed for a worker and a day, without saving it.
func ReadCell(ctx context.Context, b *book.Book, actor book.Actor, workerID int64, date, text string, entryID int64) (CellReading, error) {
	return book.Read(ctx, b, actor, book.Capture, func(s *book.Session) (out CellReading, _ error) {
		c := s.Checks()
		if _, err := register.OwnEntry(s, store.TimeEntry{WorkerID: workerID}); err != nil {
			return out, err
		}
		probe := store.TimeEntry{ID: entryID, WorkerID: workerID, Date: c.Date("date", date), PayClass: worktime.PayAuto}
		readHours(c, "text", text, &probe)
		if err := c.Err(); err != nil {
			return out, err
		}
		out = CellReading{Hours: probe.Minutes.Short(), Reading: ReadingOf(probe).String()}
		over, err := premium(s, probe)
		out.Overtime = over.Short()
		return out, err
	})
}

// premium is how many minutes of a probe entry would be overtime or double in its week as it stands.
func premium(s *book.Session, probe store.TimeEntry) (money.Minutes, error) {
	worker, found, err := store.One[store.Worker](s.Tx, probe.WorkerID)
	if err != nil || !found {
		return 0, err
	}
	terms, err := ratebook.Terms(s, worker)
	if err != nil {
		return 0, err
	}
	from := probe.Date.WeekStart(terms.Rules.WeekStart)
	stored, err := store.All[store.TimeEntry](
		s.Tx, "id", "worker_id = ? AND date BETWEEN ? AND ? AND id <> ?", worker.ID, from, from+6, probe.ID,
	)
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
	for i, segments := range worktime.Split(terms.Rules, terms.RegularOnly(probe.Date), week) {
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
