// Package holes finds the days on which somebody has no hours and their crew has (calculation.md section 10).
package holes

import (
	"encoding/json"

	"jarvo/internal/app/book"
	"jarvo/internal/core/calendar"
	"jarvo/internal/store"
)

const (
	// NotAside is a condition on loose ends, to be formatted with their kind and the column that names one: nobody has set it aside.
	NotAside = " AND NOT EXISTS (SELECT 1 FROM dismissals x WHERE x.kind = '%s' AND x.subject = %s)"
)

// Span is a span of a crew's days, blank for every crew.
type Span struct {
	Crew     string
	From, To calendar.Date
}

// Arg is what the query [With] takes; a day that is not over is no hole.
func Arg(s *book.Session, spans ...Span) string {
	rows := make([][3]any, len(spans))
	for i, span := range spans {
		rows[i] = [3]any{span.Crew, int64(span.From), int64(min(span.To, s.Today()-1))}
	}
	data, _ := json.Marshal(rows) // texts and numbers: it never fails
	return string(data)
}

// In are the holes in some spans, of the workers that the actor sees: the same in the sheet, on the clock, in Today and in Approve.
func In(s *book.Session, spans ...Span) (map[Day]bool, error) {
	args := map[string]any{"spans": Arg(s, spans...), "crew": s.Actor.Crew}
	found, err := store.Query[Day](s.Tx, With+" SELECT worker_id, date FROM holes", args)
	days := make(map[Day]bool, len(found))
	for _, d := range found {
		days[d] = true
	}
	return days, err
}

// Day is a worker's day.
type Day struct {
	WorkerID int64
	Date     calendar.Date
}
