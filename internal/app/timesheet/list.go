package timesheet

import (
	"context"
	"strconv"

	"jarvo/internal/app/book"
	"jarvo/internal/app/history"
	"jarvo/internal/app/register"
	"jarvo/internal/app/scope"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// ListQuery asks for the entries of a scope, one by one.
type ListQuery struct {
	scope.ScopeQuery
	Crew   string `query:"crew" doc:"blank for all crews"`
	Worker int64  `query:"worker" doc:"absent for all workers"`
}

// EntryRow is one time entry of a list.
type EntryRow struct {
	ID       int64           `json:"id"`
	Version  int64           `json:"version"`
	Date     string          `json:"date" format:"date"`
	Worker   register.Named  `json:"worker"`
	Job      register.Named  `json:"job"`
	Phase    *register.Named `json:"phase,omitempty"`
	CostCode *register.Named `json:"costCode,omitempty"`
	Billable bool            `json:"billable"`
	PayClass string          `json:"payClass"`
	Rate     string          `json:"rate,omitempty" doc:"a price an hour of its own"`
	OwnRate  bool            `json:"ownRate,omitempty"`
	Text     string          `json:"text" doc:"as it is typed"`
	Start    string          `json:"start,omitempty"`
	Finish   string          `json:"finish,omitempty"`
	Break    string          `json:"break,omitempty" doc:"minutes"`
	Hours    string          `json:"hours" format:"decimal"`
	Overtime string          `json:"overtime,omitempty" format:"decimal"`
	Note     string          `json:"note,omitempty"`
	Cost     string          `json:"cost,omitempty" format:"decimal"`
	Charge   string          `json:"charge,omitempty" format:"decimal"`
	CostOnly bool            `json:"costOnly,omitempty"`
	Trail    history.Trail   `json:"trail"`
	Locked   string          `json:"locked,omitempty"`
}

// EntryList is the entries of a scope, newest day first, as far as a sheet of them goes.
type EntryList struct {
	Entries []EntryRow       `json:"entries"`
	Count   int64            `json:"count" doc:"of all entries in scope, also those not listed"`
	Hours   string           `json:"hours" format:"decimal" doc:"of all entries in scope"`
	Members []register.Named `json:"members"`
	Crews   []string         `json:"crews"`
}

// mostEntries bounds the list of entries; older ones are found by their time, job or worker.
const mostEntries = 300

// Entries lists the entries of a scope one by one: the same entries as the crew sheet's.
func Entries(ctx context.Context, b *book.Book, actor book.Actor, q ListQuery) (EntryList, error) {
	return book.Read(ctx, b, actor, book.Capture, func(s *book.Session) (EntryList, error) {
		out := EntryList{Entries: []EntryRow{}}
		sc, err := scope.Of(s, q.ScopeQuery)
		if err != nil {
			return out, err
		}
		if q.Crew, err = register.OwnCrew(s, q.Crew); err != nil {
			return out, err
		}
		where, args := "", []any{sc.From, sc.End()}
		for _, limit := range []struct {
			set   bool
			where string
			value any
		}{
			{sc.Job != 0, " AND e.job_id = ?", sc.Job}, {q.Worker != 0, " AND e.worker_id = ?", q.Worker},
			{q.Crew != "", " AND e.worker_id IN (SELECT id FROM workers WHERE crew = ?)", q.Crew},
		} {
			if limit.set {
				where, args = where+limit.where, append(args, limit.value)
			}
		}
		type sum struct {
			Entries int64
			Minutes money.Minutes
		}
		sums, err := store.Value[sum](s.Tx, entrySums+where, args...)
		if err != nil {
			return out, err
		}
		out.Count, out.Hours = sums.Entries, sums.Minutes.Hours()
		entries, err := store.Query[SheetEntry](s.Tx, SheetEntries+where+newestDayFirst, append(args, mostEntries)...)
		if err != nil {
			return out, err
		}
		for _, e := range entries {
			out.Entries = append(out.Entries, entryRow(s, e))
		}
		if out.Members, err = register.Members(s, q.Crew); err != nil {
			return out, err
		}
		out.Crews, err = register.Crews(s)
		return out, err
	})
}

func entryRow(s *book.Session, e SheetEntry) EntryRow {
	line := NewLine(s, "", e, nil)
	row := EntryRow{
		ID: e.ID, Version: e.Version, Date: e.Date.String(), Worker: line.Worker, Job: line.Job, Phase: line.Phase, CostCode: line.CostCode,
		Billable: e.Billable,
		PayClass: line.PayClass, Rate: line.Rate, OwnRate: line.OwnRate, Text: ReadingOf(e.TimeEntry).Text(), Hours: e.Minutes.Short(),
		Overtime: e.OvertimeMinutes.Short(), Note: e.Note,
		CostOnly: !billing.Chargeable(e.Billable, e.Basis),
		Trail:    history.TrailOf(history.StageOf(e.Status, e.InvoiceID != nil, e.Billed, e.InvoicePaid), e.Billable, e.InvoiceText),
		Locked:   LockReason(e.TimeEntry, e.InvoiceText),
	}
	if e.Start != nil {
		row.Start, row.Finish = worktime.Clock(*e.Start), worktime.Clock(*e.Finish)
		if e.BreakMinutes > 0 {
			row.Break = strconv.FormatInt(int64(e.BreakMinutes), 10)
		}
	}
	if s.Actor.Can(book.SeeMoney) {
		row.Cost, row.Charge = s.Maybe(e.Cost), s.Maybe(e.Charge)
	}
	return row
}
