package clock

const ownDrafts = `SELECT * FROM time_entries WHERE worker_id = ? AND date BETWEEN ? AND ?
  AND status = 'draft'`

const minutesBetween = `SELECT ifnull(sum(minutes), 0) FROM time_entries WHERE worker_id = ?
  AND date BETWEEN ? AND ?`

const placesOfLate = `SELECT e.job_id, e.phase_id, e.cost_code_id FROM time_entries e JOIN jobs j ON j.id = e.job_id
  WHERE e.worker_id IN (SELECT id FROM workers WHERE id = @worker OR crew <> '' AND crew = @crew) AND e.date >= @since
  AND j.status <> 'closed'
  GROUP BY e.job_id, e.phase_id, e.cost_code_id ORDER BY max(e.worker_id = @worker) DESC, max(e.date) DESC, max(e.id) DESC LIMIT 20`

const placeNames = `SELECT j.id AS job_id, ifnull(p.id, 0) AS phase_id, ifnull(k.id, 0) AS cost_code_id,
  j.number || ' ' || j.name AS job,
  trim(ifnull(p.name, '') || ifnull(' ' || k.code || ' ' || k.name, '')) AS detail
  FROM jobs j LEFT JOIN phases p ON p.id = ? LEFT JOIN cost_codes k ON k.id = ? WHERE j.id = ?`
