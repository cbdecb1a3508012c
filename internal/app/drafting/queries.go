package drafting

const invoiceSources = `SELECT i.id AS source_id, ` + entrySource + ` FROM invoice_sources i
  JOIN time_entries x ON x.id = i.entry_id` + entryJoins +
	` WHERE i.invoice_id = ? UNION ALL
  SELECT i.id AS source_id, ` + lineSource + ` FROM invoice_sources i JOIN cost_lines x ON x.id = i.cost_line_id` + lineJoins +
	` WHERE i.invoice_id = ?` + sourceOrder

const dropUncharged = `DELETE FROM invoice_sources WHERE invoice_id = ? AND (
  entry_id IN (SELECT id FROM time_entries WHERE invoice_id = ? AND charge IS NULL) OR
  cost_line_id IN (SELECT id FROM cost_lines WHERE invoice_id = ? AND charge IS NULL))`
