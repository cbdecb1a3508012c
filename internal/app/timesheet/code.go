package timesheet

import (
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/refuse"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// CodeHours gives a job's hours that have no cost code one, those on an invoice left out, as long as they are as many as were seen.
func CodeHours(ctx context.Context, b *book.Book, actor book.Actor, jobID, costCodeID, seen int64) error {
	return book.Change(ctx, b, actor, book.Approve, func(s *book.Session) error {
		if _, found, err := store.One[store.CostCode](s.Tx, costCodeID); err != nil || !found {
			if err == nil {
				err = refuse.Invalid("costCodeId", "choose the cost code")
			}
			return err
		}
		entries, err := store.All[store.TimeEntry](s.Tx, "id", "job_id = ? AND cost_code_id IS NULL AND invoice_id IS NULL", jobID)
		if err != nil {
			return err
		}
		if len(entries) == 0 {
			return refuse.Conflict("all hours of this job have a cost code already")
		}
		if n := int64(len(entries)); n != seen {
			return refuse.Conflict("now %s without a cost code; look at the job again", words.CountedAre(n, "entry"))
		}
		step := costing.Begin(s)
		for _, e := range entries {
			before := EntryRecord(s, e)
			e.CostCodeID = &costCodeID
			if err := s.Exec("UPDATE time_entries SET cost_code_id = ?, version = version + 1 WHERE id = ?", costCodeID, e.ID).Error; err != nil {
				return err
			}
			if err := s.Record("chose the cost code", "time_entry", e.ID, before, EntryRecord(s, e)); err != nil {
				return err
			}
			step.Entry(e.WorkerID, e.Date)
		}
		return step.Run()
	})
}
