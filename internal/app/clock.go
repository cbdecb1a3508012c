package app

import (
	"cmp"
	"context"
	"fmt"
	"strings"
	"time"

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
	ID      int64  `json:"id"`
	Version int64  `json:"version"`
	Place   string `json:"place"`
	Reading string `json:"reading"`
	Text    string `json:"text"`
	Note    string `json:"note,omitempty"`
	Trail   Trail  `json:"trail"`
	Locked  string `json:"locked,omitempty"`
}

// ClockIn begins a stretch of work.
type ClockIn struct {
	Key        string `json:"key" doc:"made by the client: a retry begins nothing twice"`
	JobID      int64  `json:"jobId"`
	PhaseID    int64  `json:"phaseId,omitempty"`
	CostCodeID int64  `json:"costCodeId,omitempty"`
}

// ClockOut ends it.
type ClockOut struct {
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
func needOwnHours(actor Actor) error {
	if actor.WorkerID == 0 {
		return &Error{Kind: KindForbidden, Message: "you have no hours of your own here; an owner can say in Setup whose hours you clock"}
	}
	return nil
}

// Clock shows a worker's own page for the week of a date.
func (a *App) Clock(ctx context.Context, actor Actor, week string) (ClockPage, error) {
	return Read(ctx, a, actor, Clock, func(s *session) (ClockPage, error) {
		if err := needOwnHours(actor); err != nil {
			return ClockPage{}, err
		}
		return s.clockPage(week)
	})
}

// changeClock does something to the actor's own hours and returns the page as it is then.
func (a *App) changeClock(ctx context.Context, actor Actor, week string, f func(*session) error) (ClockPage, error) {
	return Write(ctx, a, actor, Clock, func(s *session) (ClockPage, error) {
		if err := needOwnHours(actor); err != nil {
			return ClockPage{}, err
		}
		if err := f(s); err != nil {
			return ClockPage{}, err
		}
		return s.clockPage(week)
	})
}

func (s *session) clocking() (store.Clocking, bool, error) {
	rows, err := store.All[store.Clocking](s.Tx, "worker_id", "worker_id = ?", s.actor.WorkerID)
	if err != nil || len(rows) == 0 {
		return store.Clocking{}, false, err
	}
	return rows[0], true, nil
}

// minuteNow is the moment, cut to the minute.
func (s *session) minuteNow() time.Time { return s.now().Truncate(time.Minute) }

// sinceMidnight is the time of day that the clocks show at a moment, in minutes after midnight of a date.
func sinceMidnight(at time.Time, date calendar.Date) money.Minutes {
	return money.Minutes(at.Hour()*60+at.Minute()) + money.Minutes(calendar.Of(at)-date)*fullDay
}

// momentOf is the moment at which the clocks show some minutes after midnight of a date.
func (s *session) momentOf(date calendar.Date, minutes money.Minutes) time.Time {
	day := date.Time()
	return time.Date(day.Year(), day.Month(), day.Day(), 0, int(minutes), 0, 0, s.now().Location())
}

// minutesSince is how long ago a moment was, in whole minutes.
func minutesSince(began int64, now time.Time) money.Minutes {
	return money.Minutes(now.Sub(time.UnixMilli(began)) / time.Minute)
}

// ClockIn begins a stretch of work now.
func (a *App) ClockIn(ctx context.Context, actor Actor, in ClockIn) (ClockPage, error) {
	return a.changeClock(ctx, actor, "", func(s *session) error {
		_, err := once(s, "clock_in", in.Key, in, func() (done, error) { return done{}, s.clockIn(in) })
		return err
	})
}

func (s *session) clockIn(in ClockIn) error {
	had, working, err := s.clocking()
	if err != nil {
		return err
	}
	if working {
		return conflict("you are clocked in already, since %s; clock out first", worktime.Clock(had.Start))
	}
	c := s.checks()
	if err := s.checkPlace(c, "", in.JobID, in.PhaseID, in.CostCodeID); err != nil {
		return err
	}
	if err := c.err(); err != nil {
		return err
	}
	now := s.minuteNow()
	row := store.Clocking{
		WorkerID: s.actor.WorkerID, Date: s.today(), StartedAt: now.UnixMilli(), JobID: in.JobID, PhaseID: store.Ref(in.PhaseID), CostCodeID: store.Ref(in.CostCodeID), Key: cmp.Or(in.Key, newCode()),
	}
	row.Start = sinceMidnight(now, row.Date)
	if err := s.Create(&row).Error; err != nil {
		return err
	}
	return s.record("clocked in", "worker", s.actor.WorkerID, nil, map[string]string{"date": row.Date.String(), "start": worktime.Clock(row.Start)})
}

// ClockBreak begins a break, or ends the one that is under way.
func (a *App) ClockBreak(ctx context.Context, actor Actor, on bool) (ClockPage, error) {
	return a.changeClock(ctx, actor, "", func(s *session) error {
		row, working, err := s.clocking()
		if err != nil {
			return err
		}
		if !working {
			return conflict("you are not clocked in")
		}
		now := s.minuteNow()
		switch {
		case on == (row.BreakAt != nil):
			return nil // pressed twice
		case on:
			at := now.UnixMilli()
			row.BreakAt = &at
		default:
			row.BreakMinutes += max(0, minutesSince(*row.BreakAt, now))
			row.BreakAt = nil
		}
		return s.Model(&row).Select("break_at", "break_minutes").Updates(&row).Error
	})
}

// ClockOut ends the stretch of work that goes on: it becomes a time entry of the day that it began on. The hours were worked, so they
// are kept whatever has become of the job meanwhile.
func (a *App) ClockOut(ctx context.Context, actor Actor, in ClockOut) (ClockPage, error) {
	return a.changeClock(ctx, actor, "", func(s *session) error {
		row, working, err := s.clocking()
		if err != nil || !working { // pressed twice
			return err
		}
		shift, err := s.shiftOf(row, in.Finish)
		if err != nil {
			return err
		}
		if shift.worked <= 0 {
			if err := s.Delete(&row).Error; err != nil { // nothing worked: as if never clocked in
				return err
			}
			return s.record("clocked out at once", "worker", actor.WorkerID, nil, nil)
		}
		text, note := shift.entry(in.Note)
		edit := CellEdit{
			Key: keyOf("clock-out", row.WorkerID, row.Key, row.StartedAt), Another: true, WorkerID: actor.WorkerID, JobID: row.JobID, PhaseID: store.ID(row.PhaseID), CostCodeID: store.ID(row.CostCodeID),
			Billable: true, Date: row.Date.String(), Text: text, Note: &note,
		}
		c := s.saver(1, beginCosting(s))
		c.atClock = true
		if _, err := c.saveAll([]CellEdit{edit}); err != nil {
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
func (s *session) shiftOf(row store.Clocking, finish string) (shift, error) {
	end, now := s.minuteNow(), s.minuteNow()
	out := shift{start: row.Start, pause: row.BreakMinutes}
	behind := now.Before(time.UnixMilli(row.StartedAt)) // the clock was set back since
	if strings.TrimSpace(finish) != "" {
		r, err := worktime.Read(worktime.Clock(row.Start) + "-" + finish)
		if err != nil {
			return out, invalid("finish", "%s", err)
		}
		end = s.momentOf(row.Date, r.Finish)
		if end.After(now) && !behind {
			return out, invalid("finish", "%s has not come yet", worktime.Clock(r.Finish))
		}
	} else if behind {
		return out, invalid("finish", "the clock has been set back: it is %s, and you clocked in at %s; type when you finished, and your hours are kept",
			now.Format("15:04"), worktime.Clock(row.Start))
	}
	out.finish = sinceMidnight(end, row.Date)
	if row.BreakAt != nil {
		out.pause += max(0, minutesSince(*row.BreakAt, end))
	}
	out.worked = minutesSince(row.StartedAt, end) - out.pause
	if out.worked+out.pause > fullDay {
		return out, invalid("finish", "you clocked in more than a day ago; type when you finished, such as 3:30")
	}
	return out, nil
}

// entry is the shift as it is typed, and its note. On a night on which the clocks change start and finish do not tell how long it was:
// then it is so many hours, and the note says why.
func (t shift) entry(note string) (text, said string) {
	if t.finish-t.start == t.worked+t.pause {
		return worktime.Reading{Clock: true, Start: t.start, Finish: t.finish, Break: t.pause, Minutes: t.worked}.Text(), note
	}
	said = fmt.Sprintf("%s to %s, while the clocks changed", worktime.Clock(t.start), worktime.Clock(t.finish%fullDay))
	if t.pause > 0 {
		said += fmt.Sprintf("; %d minutes of break", t.pause)
	}
	if note = strings.TrimSpace(note); note != "" {
		said += "; " + note
	}
	return worktime.Reading{Minutes: t.worked}.Text(), said
}

// FillIn books hours of the worker's own for a day.
func (a *App) FillIn(ctx context.Context, actor Actor, in OwnHours) (ClockPage, error) {
	return a.changeClock(ctx, actor, in.Date, func(s *session) error {
		if date, err := calendar.Parse(in.Date); err == nil && date > s.today() {
			return invalid("date", "this day has not come yet")
		}
		_, _, err := s.saveCells([]CellEdit{{Key: in.Key, Another: true, WorkerID: actor.WorkerID, JobID: in.JobID, PhaseID: in.PhaseID, CostCodeID: in.CostCodeID, Billable: true, Date: in.Date, Text: in.Text}})
		return err
	})
}

// OwnChange is a correction of one of the worker's own entries; a blank text takes it away.
type OwnChange struct {
	Week    string `json:"week" format:"date" doc:"the week that is looked at"`
	Version int64  `json:"version"`
	Text    string `json:"text"`
}

// ChangeOwn corrects one of the worker's own entries that nobody has approved yet.
func (a *App) ChangeOwn(ctx context.Context, actor Actor, entryID int64, in OwnChange) (ClockPage, error) {
	return a.changeClock(ctx, actor, in.Week, func(s *session) error {
		entry, found, err := store.One[store.TimeEntry](s.Tx, entryID)
		if err != nil || !found || entry.WorkerID != actor.WorkerID {
			return orNotFound(err, "entry")
		}
		_, _, err = s.saveCells([]CellEdit{{
			EntryID: entryID, Version: in.Version, WorkerID: entry.WorkerID, JobID: entry.JobID, PhaseID: store.ID(entry.PhaseID), CostCodeID: store.ID(entry.CostCodeID),
			Billable: entry.Billable, PayClass: string(entry.PayClass), Date: entry.Date.String(), Text: in.Text,
		}})
		return err
	})
}

// HandInOwn hands the worker's own week in.
func (a *App) HandInOwn(ctx context.Context, actor Actor, week string, ahead bool) (ClockPage, error) {
	return a.changeClock(ctx, actor, week, func(s *session) error {
		c := s.checks()
		from := c.date("week", week)
		if err := c.err(); err != nil {
			return err
		}
		from = from.WeekStart(weekStart(s.company))
		return s.handInEntries(ahead, "SELECT * FROM time_entries WHERE worker_id = ? AND date BETWEEN ? AND ? AND status = 'draft'", actor.WorkerID, from, from+6)
	})
}

func (s *session) clockPage(week string) (ClockPage, error) {
	c := s.checks()
	today := s.today()
	from := today
	if week != "" {
		from = c.date("week", week)
	}
	if err := c.err(); err != nil {
		return ClockPage{}, err
	}
	from = from.WeekStart(weekStart(s.company))
	worker, found, err := store.One[store.Worker](s.Tx, s.actor.WorkerID)
	if err != nil || !found {
		return ClockPage{}, orNotFound(err, "worker")
	}
	page := ClockPage{Worker: worker.Name, Today: today.String(), Now: int64(sinceMidnight(s.now(), today)), Week: from.String(), Places: []OwnPlace{}}
	if s.company.OvertimeDailyMinutes != nil {
		page.DayHours = (*s.company.OvertimeDailyMinutes).Short()
	}
	if page.Places, err = s.ownPlaces(worker); err != nil {
		return page, err
	}
	if err := s.ownClocking(&page); err != nil {
		return page, err
	}
	before, err := store.Query[money.Minutes](s.Tx, "SELECT ifnull(sum(minutes), 0) FROM time_entries WHERE worker_id = ? AND date BETWEEN ? AND ?", worker.ID, from-7, from-1)
	if err != nil {
		return page, err
	}
	page.LastWeek = before[0].Hours()
	return page, s.ownWeek(&page, worker, from)
}

func (s *session) ownClocking(page *ClockPage) error {
	row, working, err := s.clocking()
	if err != nil || !working {
		return err
	}
	now := s.minuteNow()
	w := &Clocking{Date: row.Date.String(), Since: worktime.Clock(row.Start), Break: int64(row.BreakMinutes), OnBreak: row.BreakAt != nil}
	if row.BreakAt != nil {
		w.Break += int64(max(0, minutesSince(*row.BreakAt, now)))
	}
	w.Minutes = max(0, int64(minutesSince(row.StartedAt, now))-w.Break)
	places, err := s.ownPlaceNames([]placeIDs{{row.JobID, row.PhaseID, row.CostCodeID}})
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
func (s *session) ownPlaces(worker store.Worker) ([]OwnPlace, error) {
	places, err := store.Query[placeIDs](s.Tx, `SELECT e.job_id, e.phase_id, e.cost_code_id FROM time_entries e JOIN jobs j ON j.id = e.job_id
		WHERE e.worker_id IN (SELECT id FROM workers WHERE id = @worker OR crew <> '' AND crew = @crew) AND e.date >= @since AND j.status <> 'closed'
		GROUP BY e.job_id, e.phase_id, e.cost_code_id ORDER BY max(e.worker_id = @worker) DESC, max(e.date) DESC, max(e.id) DESC LIMIT 20`,
		map[string]any{"worker": worker.ID, "crew": worker.Crew, "since": s.today() - farthestBack})
	if err != nil {
		return nil, err
	}
	return s.ownPlaceNames(places)
}

func (s *session) ownPlaceNames(places []placeIDs) ([]OwnPlace, error) {
	named := []OwnPlace{}
	for _, p := range places {
		rows, err := store.Query[OwnPlace](s.Tx, `SELECT j.id AS job_id, ifnull(p.id, 0) AS phase_id, ifnull(k.id, 0) AS cost_code_id, j.number || ' ' || j.name AS job,
			trim(ifnull(p.name, '') || ifnull(' ' || k.code || ' ' || k.name, '')) AS detail
			FROM jobs j LEFT JOIN phases p ON p.id = ? LEFT JOIN cost_codes k ON k.id = ? WHERE j.id = ?`, p.PhaseID, p.CostCodeID, p.JobID)
		if err != nil {
			return nil, err
		}
		named = append(named, rows...)
	}
	return named, nil
}

func (s *session) ownWeek(page *ClockPage, worker store.Worker, from calendar.Date) error {
	entries, err := store.Query[sheetEntry](s.Tx, sheetEntries+" AND e.worker_id = ? ORDER BY e.date, e.start, e.id", from, from+6, worker.ID)
	if err != nil {
		return err
	}
	open, err := s.holes(crewSpan{From: from, To: from + 6})
	if err != nil {
		return err
	}
	var total, over money.Minutes
	var dayMinutes, dayOver [7]money.Minutes
	for d := range 7 {
		page.Days = append(page.Days, OwnDay{Date: (from + calendar.Date(d)).String(), Entries: []OwnEntry{}})
	}
	for _, e := range entries {
		d := e.Date - from
		dayMinutes[d] += e.Minutes
		dayOver[d] += e.OvertimeMinutes
		if e.Status == "draft" {
			page.Drafts++
		}
		line := s.newLine("", e, nil)
		page.Days[d].Entries = append(page.Days[d].Entries, OwnEntry{
			ID: e.ID, Version: e.Version, Place: line.place(), Reading: readingOf(e.TimeEntry).String(), Text: readingOf(e.TimeEntry).Text(), Note: e.Note,
			Trail: trail(stageOf(e.Status, e.InvoiceID != nil, e.Billed, false), true, ""), Locked: lockReason(e.TimeEntry, ""),
		})
	}
	for d := range page.Days {
		page.Days[d].Hole = open[dayOf{worker.ID, from + calendar.Date(d)}]
		page.Days[d].Minutes, page.Days[d].Hours, page.Days[d].Overtime = int64(dayMinutes[d]), dayMinutes[d].Short(), dayOver[d].Short()
		total += dayMinutes[d]
		over += dayOver[d]
	}
	page.Hours, page.Overtime = total.Hours(), over.Short()
	return nil
}

// ownCrew keeps a foreman to their crew: what they ask for of another is a refusal, and all crews are theirs alone.
func (s *session) ownCrew(crew string) (string, error) {
	if s.actor.Crew == "" || crew == s.actor.Crew {
		return crew, nil
	}
	if crew == "" {
		return s.actor.Crew, nil
	}
	return "", &Error{Kind: KindForbidden, Message: fmt.Sprintf("you see the hours of %s only", s.actor.Crew)}
}

// ownWorker refuses a worker who is not of a foreman's crew.
func (s *session) ownWorker(worker store.Worker) error {
	if s.actor.Crew == "" || worker.Crew == s.actor.Crew {
		return nil
	}
	return &Error{Kind: KindForbidden, Message: "this worker is not in " + s.actor.Crew}
}
