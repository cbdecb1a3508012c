package approve

import (
	"context"
	"fmt"

	"jarvo/internal/app/book"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/outlier"
	"jarvo/internal/store"
)

// WeekCheck is a worker's week by day, beside what it is held against.
type WeekCheck struct {
	Worker   string       `json:"worker"`
	HandedIn string       `json:"handedIn,omitempty" doc:"by whom"`
	At       string       `json:"at,omitempty" format:"date-time"`
	Days     []CheckedDay `json:"days"`
	Hours    string       `json:"hours" format:"decimal"`
	Overtime string       `json:"overtime,omitempty" format:"decimal"`
	Cost     string       `json:"cost" format:"decimal"`
	Charge   string       `json:"charge,omitempty" format:"decimal"`
	Held     []HeldRow    `json:"held"`
}

// CheckedDay is a day of it.
type CheckedDay struct {
	Date    string         `json:"date" format:"date"`
	Hours   string         `json:"hours" format:"decimal"`
	Crew    string         `json:"crew,omitempty" format:"decimal" doc:"hours that the rest of the crew had; absent where it did not work"`
	Usual   string         `json:"usual,omitempty" format:"decimal" doc:"hours of the worker's usual day; absent where it is not known yet"`
	Marked  bool           `json:"marked" doc:"it stands out"`
	Off     bool           `json:"off,omitempty" doc:"known to have been off"`
	Entries []CheckedEntry `json:"entries"`
}

// CheckedEntry is an entry of a day.
type CheckedEntry struct {
	ID       int64  `json:"id"`
	Place    string `json:"place"`
	Detail   string `json:"detail" doc:"phase, code and times"`
	Note     string `json:"note,omitempty"`
	Hours    string `json:"hours" format:"decimal"`
	Overtime string `json:"overtime,omitempty" format:"decimal"`
	Cost     string `json:"cost,omitempty" format:"decimal"`
	Charge   string `json:"charge,omitempty" format:"decimal"`
	Status   string `json:"status"`
}

// HeldRow is a figure of the week beside what it is held against.
type HeldRow struct {
	What    string `json:"what"`
	Usual   string `json:"usual" format:"decimal"`
	This    string `json:"this" format:"decimal"`
	Beyond  string `json:"beyond,omitempty" doc:"by how much it stands out, in words"`
	IsMoney bool   `json:"isMoney"`
}

// CheckWeek shows a worker's week to who approves it.
func CheckWeek(ctx context.Context, b *book.Book, actor book.Actor, workerID int64, week string) (WeekCheck, error) {
	return book.Read(ctx, b, actor, book.Approve, func(s *book.Session) (WeekCheck, error) {
		out := WeekCheck{Days: []CheckedDay{}, Held: []HeldRow{}}
		c := s.Checks()
		monday := c.Date("week", week)
		if err := c.Err(); err != nil {
			return out, err
		}
		monday = monday.WeekStart(book.WeekStart(s.Company))
		worker, found, err := store.One[store.Worker](s.Tx, workerID)
		if err != nil || !found {
			return out, refuse.OrNotFound(err, "worker")
		}
		out.Worker = worker.Name
		key := weekOf{workerID, monday}
		workers, err := store.All[store.Worker](s.Tx, "id")
		if err != nil {
			return out, err
		}
		held, err := heldAgainst(s, workers, []weekOf{key})
		if err != nil {
			return out, err
		}
		entries, err := store.Query[timesheet.SheetEntry](s.Tx, timesheet.SheetEntries+` AND e.worker_id = ?
			ORDER BY e.date, e.start IS NULL, e.start, e.id`, monday, monday+6, workerID)
		if err != nil {
			return out, err
		}
		checkedDays(s, &out, *held[key], monday, entries)
		if err := handedIn(s, &out, entries); err != nil {
			return out, err
		}
		err = heldRows(s, &out, *held[key], entries)
		return out, err
	})
}

func checkedDays(s *book.Session, out *WeekCheck, held outlier.Week, monday calendar.Date, entries []timesheet.SheetEntry) {
	marked := map[int]bool{}
	for _, o := range held.Find() {
		marked[o.Day] = true
	}
	for day, minutes := range held.Days {
		out.Days = append(out.Days, CheckedDay{
			Date: (monday + calendar.Date(day)).String(), Hours: minutes.Short(), Crew: held.CrewDay(day).Short(), Usual: held.UsualDay().Short(),
			Marked: marked[day], Off: held.Off[day], Entries: []CheckedEntry{},
		})
	}
	var sum timesheet.LineSums
	var over money.Minutes
	for _, e := range entries {
		sum.Add(e)
		over += e.OvertimeMinutes
		view := CheckedEntry{
			ID: e.ID, Place: e.JobNumber + " " + e.JobName, Note: e.Note, Hours: e.Minutes.Short(), Overtime: e.OvertimeMinutes.Short(),
			Cost: s.Maybe(e.Cost), Charge: s.Maybe(e.Charge), Status: e.Status,
		}
		for _, part := range []string{e.PhaseName, e.CodeCode, timesOf(e)} {
			if part != "" && view.Detail != "" {
				view.Detail += ", "
			}
			view.Detail += part
		}
		day := &out.Days[e.Date-monday]
		day.Entries = append(day.Entries, view)
	}
	out.Hours, out.Overtime, out.Cost, out.Charge = sum.Minutes.Hours(), over.Short(), s.Money(sum.Cost), s.Money(sum.Charge)
}

// timesOf is when an entry began and ended, blank where that is not known.
func timesOf(e timesheet.SheetEntry) string {
	if e.Start == nil {
		return ""
	}
	return timesheet.ReadingOf(e.TimeEntry).Text()
}

// handedIn says who handed the week in, and when.
func handedIn(s *book.Session, out *WeekCheck, entries []timesheet.SheetEntry) error {
	for _, e := range entries {
		if e.Status != store.Submitted {
			continue
		}
		acts, err := store.Query[store.Change](s.Tx, lastHandIn, e.ID)
		if len(acts) > 0 {
			out.HandedIn, out.At = acts[0].UserName, book.TimeText(acts[0].At)
		}
		return err
	}
	return nil
}

func heldRows(s *book.Session, out *WeekCheck, held outlier.Week, entries []timesheet.SheetEntry) error {
	var mine, others, crew money.Minutes
	for day, m := range held.Days {
		mine += m
		for _, o := range held.Others {
			others += o[day]
		}
	}
	if usual := held.UsualDay(); usual > 0 {
		days := money.Minutes(0)
		for _, m := range held.Days {
			if m > 0 {
				days++
			}
		}
		out.Held = append(out.Held, hoursHeld("A day, in the last eight weeks", usual, mine, max(days, 1)))
	}
	if n := money.Minutes(len(held.Others)); n > 0 {
		crew = others / n
		out.Held = append(out.Held, hoursHeld("The week, of the rest of the crew each", crew, mine, 1))
	}
	seen := map[int64]bool{}
	for _, e := range entries {
		if seen[e.JobID] {
			continue
		}
		seen[e.JobID] = true
		works, err := jobs.Fixed(s, e.JobID)
		if err != nil {
			return err
		}
		for _, w := range works {
			held := HeldRow{
				What:  w.Job.Number + " " + w.Job.Name + ", expected cost of the contract",
				Usual: s.Money(w.Contract), This: s.Money(w.Expected), IsMoney: true,
			}
			if w.Over > 0 {
				held.Beyond = s.Money(w.Over) + " over"
			}
			out.Held = append(out.Held, held)
		}
	}
	return nil
}

func hoursHeld(what string, usual, mine, days money.Minutes) HeldRow {
	h := HeldRow{What: what, Usual: usual.Short(), This: (mine / days).Short()}
	switch d := mine/days - usual; {
	case d >= 60:
		h.Beyond = fmt.Sprintf("%s h more", d.Short())
	case d <= -60:
		h.Beyond = fmt.Sprintf("%s h less", (-d).Short())
	}
	return h
}
