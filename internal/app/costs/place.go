package costs

import (
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/store"
)

// Placing is the job that a line is booked to.
type Placing struct {
	register.Place
	Version int64 `json:"version" doc:"of the paper, as it was seen"`
}

// Place books a cost line that has no job yet to one, also of a paper that is approved already.
func Place(ctx context.Context, b *book.Book, actor book.Actor, lineID int64, to Placing) error {
	return book.Change(ctx, b, actor, book.Costs, func(s *book.Session) error {
		line, found, err := store.One[store.CostLine](s.Tx, lineID)
		if err != nil || !found {
			return refuse.OrNotFound(err, "line")
		}
		if line.JobID != nil {
			return refuse.Conflict("somebody else has given this line a job already")
		}
		c := s.Checks()
		if to.JobID == 0 {
			c.Add("jobId", "choose the job")
			return c.Err()
		}
		if err := register.CheckPlace(s, c, "", to.JobID, to.PhaseID, to.CostCodeID); err != nil {
			return err
		}
		if err := c.Err(); err != nil {
			return err
		}
		before, err := View(s, line.DocumentID)
		if err != nil {
			return err
		}
		if before.Version != to.Version {
			return refuse.Conflict("somebody else has changed this paper; look at it again")
		}
		if err := s.Exec(setPlace, to.JobID, store.Ref(to.PhaseID), store.Ref(to.CostCodeID), lineID).Error; err != nil {
			return err
		}
		if err := s.Exec("UPDATE cost_documents SET version = version + 1 WHERE id = ?", line.DocumentID).Error; err != nil {
			return err
		}
		if err := costing.Document(s, line.DocumentID); err != nil {
			return err
		}
		after, err := View(s, line.DocumentID)
		if err != nil {
			return err
		}
		return s.Record("chose the job", "cost_document", line.DocumentID, before.recorded(), after.recorded())
	})
}
