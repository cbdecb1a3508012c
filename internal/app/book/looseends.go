package book

const (
	// What is ready to bill, from the indexes that hold just that (calculation.md section 7).
	ReadyEntries = "time_entries INDEXED BY time_entries_ready WHERE status = 'approved' AND charge IS NOT NULL AND invoice_id IS NULL"
	ReadyLines   = "cost_lines INDEXED BY cost_lines_ready WHERE status = 'approved' AND charge IS NOT NULL AND invoice_id IS NULL"
)
