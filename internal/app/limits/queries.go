package limits

// inOrder is the work of a job that waits to be billed, or that is held back, in the order in which it counts toward its limit: what is
// below 0 first, then by date, labour before costs; labour by worker and as it was worked, lines by their paper.
const inOrder = `SELECT x.entry_id, x.cost_line_id, x.date, x."left", x.held, x.counts, x.let_go, l.limit_phase FROM (
  SELECT e.id AS entry_id, 0 AS cost_line_id, e.job_id, ifnull(e.phase_id, 0) AS phase_id, e.date,
    ifnull(e.charge, 0) - e.drafted - e.invoiced - e.written AS "left", e.held, e.status = 'approved' AND e.charge IS NOT NULL
      AND (e.charge <> e.drafted + e.invoiced + e.written OR e.invoice_id IS NULL) AS counts,
    EXISTS (SELECT 1 FROM let_beyond b WHERE b.entry_id = e.id) AS let_go,
    0 AS kind, w.code AS who, e.start IS NULL AS untimed, e.start, e.id AS captured, '' AS line_order
  FROM (SELECT id FROM time_entries INDEXED BY time_entries_ready WHERE job_id = @job AND ready IS NOT NULL
    UNION SELECT id FROM time_entries INDEXED BY time_entries_held WHERE job_id = @job AND held <> 0) o
  CROSS JOIN time_entries e ON e.id = o.id CROSS JOIN workers w ON w.id = e.worker_id
  UNION ALL
  SELECT 0, i.id, i.job_id, ifnull(i.phase_id, 0), i.date, ifnull(i.charge, 0) - i.drafted - i.invoiced - i.written, i.held,
    i.status = 'approved' AND i.charge IS NOT NULL AND (i.charge <> i.drafted + i.invoiced + i.written OR i.invoice_id IS NULL),
    EXISTS (SELECT 1 FROM let_beyond b WHERE b.cost_line_id = i.id), 1, d.ref, 0, NULL, 0, i.line_order
  FROM (SELECT id FROM cost_lines INDEXED BY cost_lines_ready WHERE job_id = @job AND ready IS NOT NULL
    UNION SELECT id FROM cost_lines INDEXED BY cost_lines_held WHERE job_id = @job AND held <> 0) o
  CROSS JOIN cost_lines i ON i.id = o.id CROSS JOIN cost_documents d ON d.id = i.document_id
  ) x LEFT JOIN (SELECT phase_id, limit_phase FROM limited_phases WHERE job_id = @job) l ON l.phase_id = x.phase_id
  ORDER BY x."left" < 0 DESC, x.date, x.kind, x.who, x.untimed, x.start, x.captured, x.line_order`

// heldOf is the work of a job that its limits hold back or that was let go beyond them and waits.
const heldOf = `SELECT * FROM (
  SELECT e.id AS entry_id, 0 AS cost_line_id, e.date, w.name AS text, ifnull(t.name, '') AS detail, e.minutes, 0 AS quantity, 'h' AS unit,
    e.held, e.charge - e.drafted - e.invoiced - e.written AS "left", b.id IS NOT NULL AS let_go, ifnull(b.note, '') AS note
    FROM time_entries e JOIN workers w ON w.id = e.worker_id LEFT JOIN trades t ON t.id = w.trade_id
    LEFT JOIN let_beyond b ON b.entry_id = e.id
    WHERE e.job_id = @job AND (e.held <> 0 OR b.id IS NOT NULL AND e.ready <> 0)
  UNION ALL SELECT 0, l.id, l.date, coalesce(nullif(l.description, ''), d.supplier), d.supplier, 0, l.quantity, l.unit,
    l.held, l.charge - l.drafted - l.invoiced - l.written, b.id IS NOT NULL, ifnull(b.note, '')
    FROM cost_lines l JOIN papers d ON d.id = l.document_id LEFT JOIN let_beyond b ON b.cost_line_id = l.id
    WHERE l.job_id = @job AND (l.held <> 0 OR b.id IS NOT NULL AND l.ready <> 0)
  ) ORDER BY date, cost_line_id, entry_id LIMIT 500`
