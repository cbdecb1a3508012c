package timesheet

const dayRows = `SELECT w.id, w.code, w.name, ifnull(t.name, '') AS sub, ifnull(d.start, 0) AS start, ifnull(d.finish, 0) AS finish,
	ifnull(d.break_minutes, 0) AS break_minutes,
  ifnull(d.minutes, 0) AS minutes, ifnull(d.version, 0) AS version
  FROM workers w LEFT JOIN trades t ON t.id = w.trade_id LEFT JOIN workdays d ON d.worker_id = w.id AND d.date = @date
  WHERE (@crew = '' OR w.crew = @crew) AND (w.active = 1 OR d.date IS NOT NULL)
  ORDER BY w.name, w.id`

const entrySums = `SELECT count(*) AS entries, ifnull(sum(minutes), 0) AS minutes FROM time_entries e
  WHERE e.date BETWEEN ? AND ?`

const workersHours = `SELECT ifnull(sum(minutes), 0) AS minutes, ifnull(sum(cost), 0) AS labour,
  ifnull(sum(charge), 0) AS charge
  FROM time_entries INDEXED BY time_entries_worker WHERE worker_id IN ? AND date BETWEEN ? AND ? AND (? = 0
  OR job_id = ?)`

const lastChange = `SELECT * FROM history WHERE kind = 'time_entry' AND subject_id = ?
  ORDER BY id DESC LIMIT 1`

const crewDrafts = `SELECT e.* FROM time_entries e JOIN workers w ON w.id = e.worker_id WHERE e.status = 'draft'
  AND e.date BETWEEN ? AND ? AND (? = '' OR w.crew = ?) AND (? = 0 OR e.job_id = ?)`

// sheetEntries reads each [SheetEntry] between two dates; to be formatted with a source that has the entries as e.
const sheetEntries = `
SELECT e.*, w.code AS worker_code, w.name AS worker_name, w.kind AS worker_kind, ifnull(t.name, '') AS trade,
  j.number AS job_number, j.name AS job_name, ifnull(p.code, '') AS phase_code, ifnull(p.name, '') AS phase_name,
  ifnull(k.code, '') AS code_code, ifnull(k.name, '') AS code_name,
  (SELECT b.basis FROM basis_of_hours b WHERE b.entry_id = e.id) AS basis,
  ifnull(i.prefix || i.number, '') AS invoice_text,
  ifnull((SELECT b.settled FROM invoice_balance b WHERE b.invoice_id = e.invoice_id), 0) AS invoice_paid
FROM %s
JOIN workers w ON w.id = e.worker_id LEFT JOIN trades t ON t.id = w.trade_id
JOIN jobs j ON j.id = e.job_id LEFT JOIN phases p ON p.id = e.phase_id LEFT JOIN cost_codes k ON k.id = e.cost_code_id
LEFT JOIN invoices i ON i.id = e.invoice_id
WHERE e.date BETWEEN ? AND ?`

const daySums = `SELECT e.date, sum(e.minutes) AS minutes, sum(e.overtime_minutes) AS overtime,
  sum(iif(e.pay_class = 'leave', e.minutes, 0)) AS leave, ifnull(sum(e.cost), 0) AS cost,
  ifnull(sum(e.charge), 0) AS charge, sum(e.status = 'draft') AS drafts,
  sum(iif(e.status = 'draft', e.version, 0)) AS versions
  FROM workers w CROSS JOIN time_entries e INDEXED BY time_entries_worker ON e.worker_id = w.id
  WHERE e.date BETWEEN ? AND ?`

// newestDayFirst is the order of a list of entries, and how many of them there are.
const newestDayFirst = " ORDER BY e.date DESC, w.name, w.id, e.start, e.id LIMIT ?"
