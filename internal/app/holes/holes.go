// Package holes finds the days on which somebody has no hours and their crew has (calculation.md section 10).
package holes

import (
	"encoding/json"
	"fmt"

	"jarvo/internal/app/book"
	"jarvo/internal/core/calendar"
	"jarvo/internal/store"
)

const (
	// NotAside is a condition on loose ends, to be formatted with their kind and the column that names one: nobody has set it aside.
	NotAside = " AND NOT EXISTS (SELECT 1 FROM dismissals x WHERE x.kind = '%s' AND x.subject = %s)"
)

// With finds the days on which a worker has no hours and most of the crew has (calculation.md section 10), in [crewSpans] that do not
// overlap. A day is a hole when it is over, the worker was employed by then and nobody has set it aside.
var With = `WITH spans AS MATERIALIZED (SELECT value ->> 0 AS crew, value ->> 1 AS first, value ->> 2 AS last FROM json_each(@spans)),
	worked AS MATERIALIZED (SELECT w.crew, e.worker_id, e.date, sum(e.minutes) AS minutes FROM spans s CROSS
	JOIN workers w ON s.crew IN ('', w.crew)
	  CROSS JOIN time_entries e INDEXED BY time_entries_worker ON e.worker_id = w.id AND e.date BETWEEN s.first AND s.last
	  WHERE w.active = 1 AND w.crew <> '' GROUP BY w.id, e.date),
	days AS (SELECT crew, date, count(*) AS workers, min(minutes) AS least, max(minutes) AS most FROM worked GROUP BY crew, date
	  HAVING count(*) >= 2 AND 2 * count(*) >= (SELECT count(*) FROM workers m WHERE m.crew = worked.crew AND m.active = 1) - 1),
	holes AS MATERIALIZED (SELECT d.*, w.id AS worker_id FROM days d JOIN workers w ON w.crew = d.crew AND w.active = 1
	  WHERE @crew IN ('', w.crew) AND NOT EXISTS (SELECT 1 FROM time_entries x INDEXED BY time_entries_worker WHERE x.worker_id = w.id
	  AND x.date = d.date)
	  AND (NOT EXISTS (SELECT 1 FROM wages g WHERE g.worker_id = w.id) OR EXISTS (SELECT 1 FROM wages g WHERE g.worker_id = w.id
	  AND g.effective_from <= d.date))` +
	fmt.Sprintf(NotAside, "hole", "w.code || ' ' || date(d.date * 86400, 'unixepoch')") + ")"

// Span is a span of a crew's days, blank for every crew.
type Span struct {
	Crew     string
	From, To calendar.Date
}

// Arg is what the query [holes] takes; a day that is not over is no hole.
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
	found, err := store.Query[Day](s.Tx, With+` SELECT worker_id, date
		FROM holes`, map[string]any{"spans": Arg(s, spans...), "crew": s.Actor.Crew})
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
