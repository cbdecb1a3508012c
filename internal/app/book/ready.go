package book

const (
	// ReadyEntries are the hours that are ready to bill, from the index that holds just those (calculation.md section 7).
	ReadyEntries = "time_entries INDEXED BY time_entries_ready WHERE status = 'approved' AND charge IS NOT NULL AND invoice_id IS NULL"
	// ReadyLines are the cost lines that are ready, likewise.
	ReadyLines = "cost_lines INDEXED BY cost_lines_ready WHERE status = 'approved' AND charge IS NOT NULL AND invoice_id IS NULL"
)
