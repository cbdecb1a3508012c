package today

import (
	"jarvo/internal/app/book"
)

var waitingCount = `SELECT (SELECT count(DISTINCT worker_id * 1000000 + ` + book.WeekOf("date") + `) FROM time_entries
  WHERE status <> 'approved' AND status = 'submitted')
  + (SELECT count(*) FROM cost_documents WHERE status <> 'approved' AND status = 'submitted')`

const readyCount = `SELECT count(*) FROM jobs j
  WHERE EXISTS (SELECT 1 FROM ready_hours WHERE job_id = j.id
    AND entry_id NOT IN (SELECT entry_id FROM holds WHERE entry_id IS NOT NULL))
  OR EXISTS (SELECT 1 FROM ready_lines WHERE job_id = j.id
    AND cost_line_id NOT IN (SELECT cost_line_id FROM holds WHERE cost_line_id IS NOT NULL))`

const crewDays = `SELECT w.id AS worker_id, w.crew, ifnull(e.date, 0) AS date, ifnull(sum(e.minutes), 0) AS minutes,
  ifnull(sum(e.status = 'draft'), 0) AS drafts
  FROM workers w LEFT JOIN time_entries e ON e.worker_id = w.id AND e.date BETWEEN ? AND ? AND ? IN (0, e.job_id)
  WHERE w.active = 1 AND ? IN ('', w.crew) GROUP BY w.id, e.date ORDER BY w.crew, w.name, w.id`
