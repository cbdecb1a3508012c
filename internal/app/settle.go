package app

import (
	"context"

	"jarvo/internal/store"
)

// Place is where a line or hours are booked.
type Place struct {
	JobID      int64 `json:"jobId"`
	PhaseID    int64 `json:"phaseId,omitempty"`
	CostCodeID int64 `json:"costCodeId,omitempty"`
}

// PlaceLine books a cost line that has no job yet to one, also of a paper that is approved already.
func (a *App) PlaceLine(ctx context.Context, actor Actor, lineID int64, to Place) error {
	return Change(ctx, a, actor, Costs, func(s *session) error {
		line, found, err := store.One[store.CostLine](s.Tx, lineID)
		if err != nil || !found {
			return orNotFound(err, "line")
		}
		if line.JobID != nil {
			return conflict("this line has a job by now")
		}
		c := s.checks()
		if to.JobID == 0 {
			c.add("jobId", "choose the job")
			return c.err()
		}
		if err := s.checkPlace(c, "", to.JobID, to.PhaseID, to.CostCodeID); err != nil {
			return err
		}
		if err := c.err(); err != nil {
			return err
		}
		before, err := s.document(line.DocumentID)
		if err != nil {
			return err
		}
		if err := s.Exec("UPDATE cost_lines SET job_id = ?, phase_id = ?, cost_code_id = ifnull(?, cost_code_id) WHERE id = ?", to.JobID, store.Ref(to.PhaseID), store.Ref(to.CostCodeID), lineID).Error; err != nil {
			return err
		}
		if err := s.Exec("UPDATE cost_documents SET version = version + 1 WHERE id = ?", line.DocumentID).Error; err != nil {
			return err
		}
		if err := costingOfDocument(s, line.DocumentID); err != nil {
			return err
		}
		after, err := s.document(line.DocumentID)
		if err != nil {
			return err
		}
		return s.record("chose the job", "cost_document", line.DocumentID, before.said(), after.said())
	})
}

// CodeHours gives a job's hours that have no cost code one, those on an invoice left out.
func (a *App) CodeHours(ctx context.Context, actor Actor, jobID, costCodeID int64) error {
	return Change(ctx, a, actor, Approve, func(s *session) error {
		if _, found, err := store.One[store.CostCode](s.Tx, costCodeID); err != nil || !found {
			if err == nil {
				err = invalid("costCodeId", "choose the cost code")
			}
			return err
		}
		entries, err := store.All[store.TimeEntry](s.Tx, "id", "job_id = ? AND cost_code_id IS NULL AND invoice_id IS NULL", jobID)
		if err != nil {
			return err
		}
		if len(entries) == 0 {
			return conflict("all hours of this job have a cost code by now")
		}
		step := beginCosting(s)
		for _, e := range entries {
			before := s.entrySaid(e)
			e.CostCodeID = &costCodeID
			if err := s.Exec("UPDATE time_entries SET cost_code_id = ?, version = version + 1 WHERE id = ?", costCodeID, e.ID).Error; err != nil {
				return err
			}
			if err := s.record("chose the cost code", "time_entry", e.ID, before, s.entrySaid(e)); err != nil {
				return err
			}
			step.Entry(e.WorkerID, e.Date)
		}
		return step.Run()
	})
}
