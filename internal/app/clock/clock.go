// Package clock is a worker's own page: clocking in and out, their hours, and handing them in.
package clock

import (
	"cmp"
	"context"
	"fmt"
	"strings"
	"time"

	"jarvo/internal/app/book"
	"jarvo/internal/app/history"
	"jarvo/internal/app/holes"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// ClockPage is a worker's own page: whether they are at work, and their own week. It holds no money and nobody else's hours.
type ClockPage struct {
	Worker   string     `json:"worker"`
	Today    string     `json:"today" format:"date"`
	Now      int64      `json:"now" doc:"minutes after midnight"`
	Working  *Clocking  `json:"working,omitempty" doc:"absent where they are not clocked in"`
	Places   []OwnPlace `json:"places" doc:"where they and their crew have worked of late, the last first"`
	Week     string     `json:"week" format:"date"`
	Days     []OwnDay   `json:"days"`
	Hours    string     `json:"hours"`
	Overtime string     `json:"overtime,omitempty"`
	DayHours string     `json:"dayHours,omitempty" doc:"hours a day after which overtime comes"`
	LastWeek string     `json:"lastWeek" doc:"hours of the week before"`
	Drafts   int        `json:"drafts" doc:"entries of the week that are not handed in"`
	Mark     string     `json:"mark" doc:"of these entries; it is another whenever they are"`
}

// Clocking is a stretch of work that goes on.
type Clocking struct {
	Date    string   `json:"date" format:"date"`
	Since   string   `json:"since" doc:"time of day"`
	Minutes int64    `json:"minutes" doc:"worked so far, breaks left out"`
	Break   int64    `json:"break" doc:"minutes of breaks so far"`
	OnBreak bool     `json:"onBreak"`
	Place   OwnPlace `json:"place"`
}

// OwnPlace is a job, phase and cost code to clock on.
type OwnPlace struct {
	JobID      int64  `json:"jobId"`
	PhaseID    int64  `json:"phaseId,omitempty"`
	CostCodeID int64  `json:"costCodeId,omitempty"`
	Job        string `json:"job"`
	Detail     string `json:"detail"`
}

// OwnDay is a day of a worker's own week.
type OwnDay struct {
	Date     string     `json:"date" format:"date"`
	Minutes  int64      `json:"minutes"`
	Hours    string     `json:"hours"`
	Overtime string     `json:"overtime,omitempty"`
	Hole     bool       `json:"hole,omitempty" doc:"a day that is over without hours, though others of the crew worked"`
	Entries  []OwnEntry `json:"entries"`
}

// OwnEntry is one of a worker's own entries.
type OwnEntry struct {
	ID      int64         `json:"id"`
	Version int64         `json:"version"`
	Place   string        `json:"place"`
	Reading string        `json:"reading"`
	Text    string        `json:"text"`
	Note    string        `json:"note,omitempty"`
	Trail   history.Trail `json:"trail"`
	Locked  string        `json:"locked,omitempty"`
}

// ClockIn begins a stretch of work.
type ClockIn struct {
	Key        string `json:"key" doc:"made by the client: a retry begins nothing twice"`
	JobID      int64  `json:"jobId"`
	PhaseID    int64  `json:"phaseId,omitempty"`
	CostCodeID int64  `json:"costCodeId,omitempty"`
	At         string `json:"at,omitempty" format:"date-time" doc:"when it was pressed, where there was no connection; absent: now"`
}

// ClockBreak begins a break, or ends the one that is under way.
type ClockBreak struct {
	On bool   `json:"on"`
	At string `json:"at,omitempty" format:"date-time" doc:"when it was pressed, where there was no connection; absent: now"`
}

// ClockOut ends it.
type ClockOut struct {
	At     string `json:"at,omitempty" format:"date-time" doc:"when it was pressed, where there was no connection; absent: now"`
	Finish string `json:"finish,omitempty" doc:"when it was, where clocking out was forgotten; now where absent"`
	Note   string `json:"note,omitempty"`
}

// OwnHours are hours that a worker fills in for a day that is over.
type OwnHours struct {
	Key        string `json:"key"`
	Date       string `json:"date" format:"date"`
	Text       string `json:"text"`
	JobID      int64  `json:"jobId"`
	PhaseID    int64  `json:"phaseId,omitempty"`
	CostCodeID int64  `json:"costCodeId,omitempty"`
}

const fullDay = 24 * 60

// needOwnHours is an error for an actor who is no worker: they have no page of their own.
func needOwnHours(actor book.Actor) error {
	if actor.WorkerID == 0 {
		return &refuse.Error{
			Kind: refuse.KindForbidden, Message: "you have no hours of your own here; an owner can say in Setup whose hours you clock",
		}
	}
	return nil
}

// Page shows a worker's own page for the week of a date.
func Page(ctx context.Context, b *book.Book, actor book.Actor, week string) (ClockPage, error) {
	return book.Read(ctx, b, actor, book.Clock, func(s *book.Session) (ClockPage, error) {
		if err := needOwnHours(actor); err != nil {
			return ClockPage{}, err
		}
		return clockPage(s, week)
	})
}

// changeClock does something to the actor's own hours and returns the page as it is then.
func changeClock(ctx context.Context, b *book.Book, actor book.Actor, week string, f func(*book.Session) error) (ClockPage, error) {
	return book.Write(ctx, b, actor, book.Clock, func(s *book.Session) (ClockPage, error) {
		if err := needOwnHours(actor); err != nil {
			return ClockPage{}, err
		}
		if err := f(s); err != nil {
			return ClockPage{}, err
		}
		return clockPage(s, week)
	})
}

func clocking(s *book.Session) (store.Clocking, bool, error) {
	rows, err := store.All[store.Clocking](s.Tx, "worker_id", "worker_id = ?", s.Actor.WorkerID)
	if err != nil || len(rows) == 0 {
		return store.Clocking{}, false, err
	}
	return rows[0], true, nil
}

// minuteNow is the moment, cut to the minute.
func minuteNow(s *book.Session) time.Time { return s.Now().Truncate(time.Minute) }

// longestKept is how long a phone may keep what was pressed on it.
const longestKept = 24 * time.Hour

// pressed is the minute at which something was pressed on a phone that had no connection then; now where nothing is said. A phone whose
// clock is ahead pressed it now.
func pressed(s *book.Session, at string) (time.Time, error) {
	now := minuteNow(s)
	if at == "" {
		return now, nil
	}
	then, err := time.Parse(time.RFC3339, at)
	if err != nil {
		return now, refuse.Invalid("at", "%q is not a moment such as 2026-11-18T07:00:00Z", at)
	}
	if now.Sub(then) > longestKept {
		return now, refuse.Invalid("at", "this was pressed more than a day ago; fill that day in instead")
	}
	if then.After(now) {
		return now, nil
	}
	return then.In(now.Location()).Truncate(time.Minute), nil
}

// sinceMidnight is the time of day that the clocks show at a moment, in minutes after midnight of a date.
func sinceMidnight(at time.Time, date calendar.Date) money.Minutes {
	return money.Minutes(at.Hour()*60+at.Minute()) + money.Minutes(calendar.Of(at)-date)*fullDay
}

// momentOf is the moment at which the clocks show some minutes after midnight of a date.
func momentOf(s *book.Session, date calendar.Date, minutes money.Minutes) time.Time {
	day := date.Time()
	return time.Date(day.Year(), day.Month(), day.Day(), 0, int(minutes), 0, 0, s.Now().Location())
}

// minutesSince is how long ago a moment was, in whole minutes.
func minutesSince(began int64, now time.Time) money.Minutes {
	return money.Minutes(now.Sub(time.UnixMilli(began)) / time.Minute)
}

// In begins a stretch of work now.
func In(ctx context.Context, b *book.Book, actor book.Actor, in ClockIn) (ClockPage, error) {
	return changeClock(ctx, b, actor, "", func(s *book.Session) error {
		kept := in
		kept.At = "" // what is sent again for want of an answer says when it was pressed
		_, err := book.Once(s, "clock_in", in.Key, kept, func() (book.Done, error) { return book.Done{}, clockIn(s, in) })
		return err
	})
}

func clockIn(s *book.Session, in ClockIn) error {
	had, working, err := clocking(s)
	if err != nil {
		return err
	}
	if working {
		return refuse.Conflict("you are clocked in already, since %s; clock out first", worktime.Clock(had.Start))
	}
	c := s.Checks()
	if err := register.CheckPlace(s, c, "", in.JobID, in.PhaseID, in.CostCodeID); err != nil {
		return err
	}
	if err := c.Err(); err != nil {
		return err
	}
	now, err := pressed(s, in.At)
	if err != nil {
		return err
	}
	row := store.Clocking{
		WorkerID: s.Actor.WorkerID, Date: calendar.Of(now), StartedAt: now.UnixMilli(), JobID: in.JobID, PhaseID: store.Ref(in.PhaseID),
		CostCodeID: store.Ref(in.CostCodeID), Key: cmp.Or(in.Key, book.NewCode()),
	}
	row.Start = sinceMidnight(now, row.Date)
	if err := s.Create(&row).Error; err != nil {
		return err
	}
	return s.Record(
		"clocked in", "worker", s.Actor.WorkerID, nil, map[string]string{"date": row.Date.String(), "start": worktime.Clock(row.Start)},
	)
}

// Break begins a break, or ends the one that is under way.
func Break(ctx context.Context, b *book.Book, actor book.Actor, in ClockBreak) (ClockPage, error) {
	return changeClock(ctx, b, actor, "", func(s *book.Session) error {
		row, working, err := clocking(s)
		if err != nil {
			return err
		}
		if !working {
			return refuse.Conflict("you are not clocked in")
		}
		now, err := pressed(s, in.At)
		switch {
		case err != nil:
			return err
		case in.On == (row.BreakAt != nil), now.UnixMilli() < row.StartedAt:
			return nil // pressed twice, or before this stretch began
		case in.On:
			at := now.UnixMilli()
			row.BreakAt = &at
		default:
			row.BreakMinutes += max(0, minutesSince(*row.BreakAt, now))
			row.BreakAt = nil
		}
		return s.Model(&row).Select("break_at", "break_minutes").Updates(&row).Error
	})
}

// Out ends the stretch of work that goes on: it becomes a time entry of the day that it began on. The hours were worked, so they
// are kept whatever has become of the job meanwhile.
func Out(ctx context.Context, b *book.Book, actor book.Actor, in ClockOut) (ClockPage, error) {
	return changeClock(ctx, b, actor, "", func(s *book.Session) error {
		row, working, err := clocking(s)
		if err != nil || !working { // pressed twice
			return err
		}
		now, err := pressed(s, in.At)
		if err != nil {
			return err
		}
		if in.At != "" && now.UnixMilli() < row.StartedAt {
			return nil // it ended a stretch that is over
		}
		shift, err := shiftOf(s, row, now, in.Finish)
		if err != nil {
			return err
		}
		if shift.worked <= 0 {
			if err := s.Delete(&row).Error; err != nil { // nothing worked: as if never clocked in
				return err
			}
			return s.Record("clocked out at once", "worker", actor.WorkerID, nil, nil)
		}
		text, note := shift.entry(in.Note)
		edit := timesheet.CellEdit{
			Key: book.KeyOf("clock-out", row.WorkerID, row.Key, row.StartedAt), Another: true, WorkerID: actor.WorkerID, JobID: row.JobID,
			PhaseID: store.ID(row.PhaseID), CostCodeID: store.ID(row.CostCodeID),
			Billable: true, Date: row.Date.String(), Text: text, Note: &note,
		}
		if err := timesheet.SaveFromClock(s, edit); err != nil {
			return err
		}
		return s.Delete(&row).Error
	})
}

// shift is a stretch of work that is over.
type shift struct {
	start, finish money.Minutes // after midnight of the day it began on, as the clocks showed
	pause, worked money.Minutes
}

// shiftOf ends a stretch of work now, or at a time that was typed.
func shiftOf(s *book.Session, row store.Clocking, now time.Time, finish string) (shift, error) {
	end := now
	out := shift{start: row.Start, pause: row.BreakMinutes}
	behind := now.Before(time.UnixMilli(row.StartedAt)) // the clock was set back since
	if strings.TrimSpace(finish) != "" {
		r, err := worktime.Read(worktime.Clock(row.Start) + "-" + finish)
		if err != nil {
			return out, refuse.Invalid("finish", "%s", err)
		}
		end = momentOf(s, row.Date, r.Finish)
		if end.After(now) && !behind {
			return out, refuse.Invalid("finish", "%s has not come yet", worktime.Clock(r.Finish))
		}
	} else if behind {
		return out, refuse.Invalid("finish", "the clock has been set back: it is %s, and you clocked in at %s; type when you finished, and "+
			"your hours are kept",
			now.Format("15:04"), worktime.Clock(row.Start))
	}
	out.finish = sinceMidnight(end, row.Date)
	if row.BreakAt != nil {
		out.pause += max(0, minutesSince(*row.BreakAt, end))
	}
	out.worked = minutesSince(row.StartedAt, end) - out.pause
	if out.worked+out.pause > fullDay {
		return out, refuse.Invalid("finish", "you clocked in more than a day ago; type when you finished, such as 3:30")
	}
	return out, nil
}

// entry is the shift as it is typed, and its note. On a night on which the clocks change start and finish do not tell how long it was:
// then it is so many hours, and the note says why.
func (t shift) entry(note string) (text, words string) {
	if t.finish-t.start == t.worked+t.pause {
		return worktime.Reading{Clock: true, Start: t.start, Finish: t.finish, Break: t.pause, Minutes: t.worked}.Text(), note
	}
	words = fmt.Sprintf("%s to %s, while the clocks changed", worktime.Clock(t.start), worktime.Clock(t.finish%fullDay))
	if t.pause > 0 {
		words += fmt.Sprintf("; %d minutes of break", t.pause)
	}
	if note = strings.TrimSpace(note); note != "" {
		words += "; " + note
	}
	return worktime.Reading{Minutes: t.worked}.Text(), words
}

// FillIn books hours of the worker's own for a day.
func FillIn(ctx context.Context, b *book.Book, actor book.Actor, in OwnHours) (ClockPage, error) {
	return changeClock(ctx, b, actor, in.Date, func(s *book.Session) error {
		if date, err := calendar.Parse(in.Date); err == nil && date > s.Today() {
			return refuse.Invalid("date", "this day has not come yet")
		}
		_, _, err := timesheet.Save(s, []timesheet.CellEdit{{
			Key: in.Key, Another: true, WorkerID: actor.WorkerID, JobID: in.JobID, PhaseID: in.PhaseID, CostCodeID: in.CostCodeID, Billable: true,
			Date: in.Date, Text: in.Text,
		}})
		return err
	})
}

// OwnChange is a correction of one of the worker's own entries; a blank text takes it away.
type OwnChange struct {
	Week    string `json:"week" format:"date" doc:"the week that is looked at"`
	Version int64  `json:"version"`
	Text    string `json:"text"`
}

// Change corrects one of the worker's own entries that nobody has approved yet.
func Change(ctx context.Context, b *book.Book, actor book.Actor, entryID int64, in OwnChange) (ClockPage, error) {
	return changeClock(ctx, b, actor, in.Week, func(s *book.Session) error {
		entry, found, err := store.One[store.TimeEntry](s.Tx, entryID)
		if err != nil || !found || entry.WorkerID != actor.WorkerID {
			return refuse.OrNotFound(err, "entry")
		}
		_, _, err = timesheet.Save(s, []timesheet.CellEdit{{
			EntryID: entryID, Version: in.Version, WorkerID: entry.WorkerID, JobID: entry.JobID, PhaseID: store.ID(entry.PhaseID),
			CostCodeID: store.ID(entry.CostCodeID),
			Billable:   entry.Billable, PayClass: string(entry.PayClass), Date: entry.Date.String(), Text: in.Text,
		}})
		return err
	})
}

// HandIn hands the worker's own week in.
func HandIn(ctx context.Context, b *book.Book, actor book.Actor, week string, as timesheet.HandingIn) (ClockPage, error) {
	return changeClock(ctx, b, actor, week, func(s *book.Session) error {
		c := s.Checks()
		from := c.Date("week", week)
		if err := c.Err(); err != nil {
			return err
		}
		from = from.WeekStart(book.WeekStart(s.Company))
		return timesheet.HandInEntries(s, as, ownDrafts, actor.WorkerID, from, from+6)
	})
}

func clockPage(s *book.Session, week string) (ClockPage, error) {
	c := s.Checks()
	today := s.Today()
	from := today
	if week != "" {
		from = c.Date("week", week)
	}
	if err := c.Err(); err != nil {
		return ClockPage{}, err
	}
	from = from.WeekStart(book.WeekStart(s.Company))
	worker, found, err := store.One[store.Worker](s.Tx, s.Actor.WorkerID)
	if err != nil || !found {
		return ClockPage{}, refuse.OrNotFound(err, "worker")
	}
	page := ClockPage{
		Worker: worker.Name, Today: today.String(), Now: int64(sinceMidnight(s.Now(), today)), Week: from.String(), Places: []OwnPlace{},
	}
	if s.Company.OvertimeDailyMinutes != nil {
		page.DayHours = (*s.Company.OvertimeDailyMinutes).Short()
	}
	if page.Places, err = ownPlaces(s, worker); err != nil {
		return page, err
	}
	if err := ownClocking(s, &page); err != nil {
		return page, err
	}
	before, err := store.Value[money.Minutes](s.Tx, minutesBetween, worker.ID, from-7, from-1)
	if err != nil {
		return page, err
	}
	page.LastWeek = before.Hours()
	err = ownWeek(s, &page, worker, from)
	return page, err
}

func ownClocking(s *book.Session, page *ClockPage) error {
	row, working, err := clocking(s)
	if err != nil || !working {
		return err
	}
	now := minuteNow(s)
	w := &Clocking{Date: row.Date.String(), Since: worktime.Clock(row.Start), Break: int64(row.BreakMinutes), OnBreak: row.BreakAt != nil}
	if row.BreakAt != nil {
		w.Break += int64(max(0, minutesSince(*row.BreakAt, now)))
	}
	w.Minutes = max(0, int64(minutesSince(row.StartedAt, now))-w.Break)
	places, err := ownPlaceNames(s, []placeIDs{{row.JobID, row.PhaseID, row.CostCodeID}})
	if err != nil {
		return err
	}
	w.Place = places[0]
	page.Working = w
	return nil
}

type placeIDs struct {
	JobID               int64
	PhaseID, CostCodeID *int64
}

// ownPlaces are where a worker and their crew have worked of late on jobs that are open, the last first.
func ownPlaces(s *book.Session, worker store.Worker) ([]OwnPlace, error) {
	places, err := store.Query[placeIDs](s.Tx, placesOfLate,
		map[string]any{"worker": worker.ID, "crew": worker.Crew, "since": s.Today() - timesheet.FarthestBack})
	if err != nil {
		return nil, err
	}
	return ownPlaceNames(s, places)
}

func ownPlaceNames(s *book.Session, places []placeIDs) ([]OwnPlace, error) {
	named := []OwnPlace{}
	for _, p := range places {
		rows, err := store.Query[OwnPlace](s.Tx, placeNames, p.PhaseID, p.CostCodeID, p.JobID)
		if err != nil {
			return nil, err
		}
		named = append(named, rows...)
	}
	return named, nil
}

func ownWeek(s *book.Session, page *ClockPage, worker store.Worker, from calendar.Date) error {
	entries, err := store.Query[timesheet.SheetEntry](s.Tx, timesheet.SheetEntries+` AND e.worker_id = ?
		ORDER BY e.date, e.start, e.id`, from, from+6, worker.ID)
	if err != nil {
		return err
	}
	open, err := holes.In(s, holes.Span{From: from, To: from + 6})
	if err != nil {
		return err
	}
	var total, over money.Minutes
	var versions int64
	var dayMinutes, dayOver [7]money.Minutes
	for d := range 7 {
		page.Days = append(page.Days, OwnDay{Date: (from + calendar.Date(d)).String(), Entries: []OwnEntry{}})
	}
	for _, e := range entries {
		d := e.Date - from
		dayMinutes[d] += e.Minutes
		dayOver[d] += e.OvertimeMinutes
		if e.Status == store.Draft {
			page.Drafts, versions = page.Drafts+1, versions+e.Version
		}
		line := timesheet.NewLine(s, "", e, nil)
		page.Days[d].Entries = append(page.Days[d].Entries, OwnEntry{
			ID: e.ID, Version: e.Version, Place: line.Place(), Reading: timesheet.ReadingOf(e.TimeEntry).String(),
			Text: timesheet.ReadingOf(e.TimeEntry).Text(), Note: e.Note,
			Trail:  history.TrailOf(history.StageOf(e.Status, e.InvoiceID != nil, e.Billed, false), true, ""),
			Locked: timesheet.LockReason(e.TimeEntry, ""),
		})
	}
	for d := range page.Days {
		page.Days[d].Hole = open[holes.Day{WorkerID: worker.ID, Date: from + calendar.Date(d)}]
		page.Days[d].Minutes, page.Days[d].Hours, page.Days[d].Overtime = int64(dayMinutes[d]), dayMinutes[d].Short(), dayOver[d].Short()
		total += dayMinutes[d]
		over += dayOver[d]
	}
	page.Hours, page.Overtime, page.Mark = total.Hours(), over.Short(), timesheet.MarkOf(page.Drafts, versions)
	return nil
}
