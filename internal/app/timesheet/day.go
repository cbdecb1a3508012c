package timesheet

import (
	"cmp"
	"context"
	"fmt"
	"strconv"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/register"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// DayQuery asks for a crew's day.
type DayQuery struct {
	Date string `query:"date" doc:"YYYY-MM-DD"`
	Crew string `query:"crew" doc:"blank for all crews"`
}

// WorkerDay is when somebody was at work, by the clock, and where they worked last before.
type WorkerDay struct {
	Worker   register.Named  `json:"worker"`
	Text     string          `json:"text,omitempty" doc:"start, finish and break as they are typed; blank where no clock times were taken"`
	Start    string          `json:"start,omitempty"`
	Finish   string          `json:"finish,omitempty"`
	Break    string          `json:"break,omitempty" doc:"minutes"`
	Minutes  int64           `json:"minutes" doc:"worked by the clock"`
	From     int64           `json:"from" doc:"start in minutes after midnight"`
	Version  int64           `json:"version"`
	Job      *register.Named `json:"job,omitempty" doc:"of the last day worked before"`
	Phase    *register.Named `json:"phase,omitempty"`
	CostCode *register.Named `json:"costCode,omitempty"`
}

// DaySheet is a crew's day by the clock. What is placed on jobs is in the week's sheet.
type DaySheet struct {
	Date     string      `json:"date" format:"date"`
	Workers  []WorkerDay `json:"workers"`
	LastDay  string      `json:"lastDay,omitempty" format:"date" doc:"the last day before with hours of this crew"`
	LastWeek string      `json:"lastWeek,omitempty" format:"date" doc:"the week that it is in"`
}

// WorkdayEdit is a worker's day by the clock as it was typed; a blank text takes it away.
type WorkdayEdit struct {
	WorkerID int64  `json:"workerId"`
	Text     string `json:"text" doc:"7-5:30/30"`
	Version  int64  `json:"version" doc:"the version that was seen, 0 for none"`
}

// FarthestBack is how many days back the last day worked is looked for.
const FarthestBack = 35

// Day shows a crew's day by the clock.
func Day(ctx context.Context, b *book.Book, actor book.Actor, q DayQuery) (DaySheet, error) {
	return book.Read(ctx, b, actor, book.Capture, func(s *book.Session) (out DaySheet, _ error) {
		c := s.Checks()
		date := c.Date("date", q.Date)
		if err := c.Err(); err != nil {
			return out, err
		}
		var err error
		out, err = day(s, date, q.Crew)
		return out, err
	})
}

func day(s *book.Session, date calendar.Date, crew string) (DaySheet, error) {
	type row struct {
		register.Named
		store.Workday
	}
	out := DaySheet{Date: date.String(), Workers: []WorkerDay{}}
	crew, err := register.OwnCrew(s, crew)
	if err != nil {
		return out, err
	}
	rows, err := store.Query[row](s.Tx, dayRows, map[string]any{"date": date, "crew": crew})
	if err != nil {
		return out, err
	}
	last, err := lastPlaces(s, date, crew)
	if err != nil {
		return out, err
	}
	var lastDay calendar.Date
	for _, r := range rows {
		day := WorkerDay{Worker: r.Named, Minutes: int64(r.Minutes), Version: r.Version}
		if r.Version > 0 {
			day.Text = workdayReading(r.Workday).Text()
			day.Start, day.Finish, day.Break, day.From = worktime.Clock(r.Start), worktime.Clock(r.Finish),
				strconv.FormatInt(int64(r.BreakMinutes), 10), int64(r.Start)
		}
		if e, ok := last[r.ID]; ok {
			line := NewLine(s, "", e, nil)
			day.Job, day.Phase, day.CostCode = &line.Job, line.Phase, line.CostCode
			lastDay = max(lastDay, e.Date)
		}
		out.Workers = append(out.Workers, day)
	}
	if lastDay != 0 {
		out.LastDay, out.LastWeek = lastDay.String(), lastDay.WeekStart(book.WeekStart(s.Company)).String()
	}
	return out, nil
}

// lastPlaces finds where each worker of a crew worked longest on the last day before a date.
func lastPlaces(s *book.Session, date calendar.Date, crew string) (map[int64]SheetEntry, error) {
	entries, err := store.Query[SheetEntry](s.Tx, SheetEntries+` AND (? = '' OR w.crew = ?) AND j.status <> 'closed'
		AND e.date = (SELECT max(o.date) FROM time_entries o WHERE o.worker_id = e.worker_id AND o.date BETWEEN ? AND ?) ORDER BY e.minutes`,
		date-FarthestBack, date-1, crew, crew, date-FarthestBack, date-1)
	last := map[int64]SheetEntry{}
	for _, e := range entries {
		last[e.WorkerID] = e
	}
	return last, err
}

func workdayReading(d store.Workday) worktime.Reading {
	return worktime.Reading{Clock: true, Start: d.Start, Finish: d.Finish, Break: d.BreakMinutes, Minutes: d.Minutes}
}

// SaveWorkdays takes when workers were at work on a day, all of it or none.
func SaveWorkdays(ctx context.Context, b *book.Book, actor book.Actor, q DayQuery, edits []WorkdayEdit) (DaySheet, error) {
	return book.Write(ctx, b, actor, book.Capture, func(s *book.Session) (out DaySheet, _ error) {
		c := s.Checks()
		date := c.Date("date", q.Date)
		if date > s.FurthestAhead() {
			c.Add("date", "%s is more than %d days ahead", date, s.Company.DaysAhead)
		}
		if err := c.Err(); err != nil {
			return out, err
		}
		for i, edit := range edits {
			if err := saveWorkday(s, c, fmt.Sprintf("workers[%d].", i), date, edit); err != nil {
				return out, err
			}
		}
		if err := c.Err(); err != nil {
			return out, err
		}
		var err error
		out, err = day(s, date, q.Crew)
		return out, err
	})
}

func saveWorkday(s *book.Session, c *form.Checks, path string, date calendar.Date, edit WorkdayEdit) error {
	worker, found, err := store.One[store.Worker](s.Tx, edit.WorkerID)
	if err != nil || !found {
		c.Add(path+"workerId", "there is no such worker")
		return err
	}
	if err := register.OwnWorker(s, worker); err != nil {
		return err
	}
	had, err := store.All[store.Workday](s.Tx, "date", "worker_id = ? AND date = ?", edit.WorkerID, date)
	if err != nil {
		return err
	}
	var before store.Workday
	recorded := map[string]string{}
	if len(had) > 0 {
		before, recorded = had[0], workdayRecord(had[0])
	}
	day := store.Workday{WorkerID: edit.WorkerID, Date: date, Version: before.Version + 1}
	if strings.TrimSpace(edit.Text) != "" {
		r, err := worktime.Read(edit.Text)
		if err == nil && !r.Clock {
			err = fmt.Errorf("type a start and a finish, such as 7-5:30/30")
		}
		if err != nil {
			c.Add(path+"text", "%s", err)
			return nil
		}
		const fullDay = 24 * 60
		day.Start, day.Finish, day.BreakMinutes, day.Minutes = r.Start%fullDay, r.Finish%fullDay, r.Break, r.Minutes
	}
	if same := before; same.Start == day.Start && same.Finish == day.Finish && same.BreakMinutes == day.BreakMinutes &&
		same.Minutes == day.Minutes {
		return nil // a retry, or two who typed the same
	}
	if before.Version != edit.Version {
		c.Add(
			path+"text", "somebody else has changed this to %s; you typed %s", cmp.Or(recorded["clock"], "nothing"), cmp.Or(edit.Text, "nothing"),
		)
		return nil
	}
	if day.Minutes == 0 {
		if err := s.Exec("DELETE FROM workdays WHERE worker_id = ? AND date = ?", edit.WorkerID, date).Error; err != nil {
			return err
		}
		return s.Record("took away", "workday", edit.WorkerID, recorded, nil)
	}
	if err := s.Save(&day).Error; err != nil {
		return err
	}
	return s.Record("captured", "workday", edit.WorkerID, recorded, workdayRecord(day))
}

func workdayRecord(d store.Workday) map[string]string {
	return map[string]string{"date": d.Date.String(), "clock": workdayReading(d).String()}
}
