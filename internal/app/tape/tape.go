// Package tape shows the workings of a figure, step by step, and what stands behind an invoice.
package tape

import (
	"context"
	"fmt"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/history"
	"jarvo/internal/app/ratebook"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/labour"
	"jarvo/internal/core/workings"
	"jarvo/internal/store"
)

// EntryWorkings is how an entry's figures came about.
type EntryWorkings struct {
	Worker  string                `json:"worker"`
	Job     string                `json:"job"`
	Place   string                `json:"place"`
	Date    string                `json:"date" format:"date"`
	Reading string                `json:"reading"`
	Labour  workings.Labour       `json:"labour"`
	Left    []workings.Step       `json:"left" doc:"charge less cost by pay class and in all"`
	Margins []workings.Step       `json:"margins"`
	Missing string                `json:"missing,omitempty" doc:"what has to be settled before it has all its figures"`
	History []history.HistoryLine `json:"history"`
}

// OfEntry shows how the cost and charge of an entry came about; the core makes it, from the records
// and not from what is stored.
func OfEntry(ctx context.Context, b *book.Book, actor book.Actor, entryID int64) (EntryWorkings, error) {
	return book.Read(ctx, b, actor, book.SeeMoney, func(s *book.Session) (out EntryWorkings, _ error) {
		rows, err := store.Query[timesheet.SheetEntry](
			s.Tx, timesheet.SheetEntries+" AND e.id = ?", calendar.Always.From, calendar.Always.To, entryID,
		)
		if err != nil {
			return out, err
		}
		if len(rows) == 0 {
			return out, refuse.NotFound("entry")
		}
		e := rows[0]
		out = EntryWorkings{
			Worker: e.WorkerName, Job: e.JobNumber + " " + e.JobName, Date: e.Date.String(), Reading: timesheet.ReadingOf(e.TimeEntry).String(),
		}
		out.Place = joinDots(e.PhaseName, e.CodeCode+" "+e.CodeName)
		worker, _, err := store.One[store.Worker](s.Tx, e.WorkerID)
		if err != nil {
			return out, err
		}
		terms, segments, err := detail(s, worker, e.TimeEntry)
		if err != nil {
			return out, err
		}
		show := workings.Show{Currency: s.Currency}
		out.Labour = show.OfLabour(terms, e.Date, segments)
		out.Left, out.Margins = show.LeftOver(segments)
		switch total := labour.Total(segments); {
		case total.Cost == nil:
			out.Missing = worker.Name + " has no wage on this date, so it has no cost"
		case total.Charge == nil && billing.Chargeable(e.Billable, e.Basis):
			out.Missing = "no card has a rate for this, so it can't be billed yet"
		}
		out.History, err = history.History(s, "time_entry", entryID)
		return out, err
	})
}

func joinDots(parts ...string) string {
	text := ""
	for _, p := range parts {
		if p == "" || p == " " {
			continue
		}
		if text != "" {
			text += " · "
		}
		text += p
	}
	return text
}

// detail costs one entry again with all its detail, in its place in the worker's weeks.
func detail(s *book.Session, worker store.Worker, e store.TimeEntry) (labour.Terms, []labour.Segment, error) {
	terms, err := ratebook.Terms(s, worker)
	if err != nil {
		return terms, nil, err
	}
	from := e.Date.WeekStart(terms.Rules.WeekStart)
	entries, stored, err := costing.WorkerEntries(s, worker.ID, from, from+6)
	if err != nil {
		return terms, nil, err
	}
	earned, err := costing.EarnedBefore(s, worker.ID, from, from+6)
	if err != nil {
		return terms, nil, err
	}
	book, err := ratebook.Of(s)
	if err != nil {
		return terms, nil, err
	}
	inputs, kept, at := make([]labour.Entry, len(entries)), make([][]labour.Segment, len(entries)), -1
	for i, other := range entries {
		inputs[i], kept[i] = other.Input(book, stored[other.ID]), stored[other.ID]
		if other.ID == e.ID {
			at = i
		}
	}
	if at < 0 {
		return terms, nil, fmt.Errorf("entry %d is not in its worker's week", e.ID)
	}
	segments, err := terms.CostAgain(inputs, kept, at, earned)
	return terms, segments, err
}
