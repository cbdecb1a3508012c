package holes

import "fmt"

// With finds the days on which a worker has no hours, not even leave, and most of the crew worked (calculation.md section 10), in spans of
// crews, [Span], that do not overlap. A day is a hole when it is over, the worker was employed by then and nobody has set it aside.
var With = `WITH spans AS MATERIALIZED (SELECT value ->> 0 AS crew, value ->> 1 AS first, value ->> 2 AS last FROM json_each(@spans)),
	worked AS MATERIALIZED (SELECT w.crew, e.worker_id, e.date, sum(e.minutes) AS minutes FROM spans s
	CROSS JOIN workers w ON s.crew IN ('', w.crew)
	  CROSS JOIN time_entries e INDEXED BY time_entries_worker ON e.worker_id = w.id AND e.date BETWEEN s.first AND s.last
	  WHERE w.active = 1 AND w.crew <> '' AND e.class IS NOT 3 GROUP BY w.id, e.date),
	days AS (SELECT crew, date, count(*) AS workers, min(minutes) AS least, max(minutes) AS most FROM worked GROUP BY crew, date
	  HAVING count(*) >= 2 AND 2 * count(*) >= (SELECT count(*) FROM workers m WHERE m.crew = worked.crew AND m.active = 1) - 1),
	holes AS MATERIALIZED (SELECT d.*, w.id AS worker_id FROM days d JOIN workers w ON w.crew = d.crew AND w.active = 1
	  WHERE @crew IN ('', w.crew) AND NOT EXISTS (SELECT 1 FROM time_entries x INDEXED BY time_entries_worker WHERE x.worker_id = w.id
	  AND x.date = d.date)
	  AND (NOT EXISTS (SELECT 1 FROM wages g WHERE g.worker_id = w.id) OR EXISTS (SELECT 1 FROM wages g WHERE g.worker_id = w.id
	  AND g.effective_from <= d.date))` +
	fmt.Sprintf(NotAside, "hole", "w.code || ' ' || date(d.date * 86400, 'unixepoch')") + ")"
