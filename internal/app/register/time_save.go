package register

import (
	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/store"
)

// CheckPlace checks that a job is there and open, and that phase and cost code are its.
func CheckPlace(s *book.Session, c *form.Checks, path string, jobID, phaseID, costCodeID int64) error {
	job, found, err := store.One[store.Job](s.Tx, jobID)
	if err != nil {
		return err
	}
	switch {
	case !found:
		c.Add(path+"jobId", "there is no such job; choose one from the list")
	case job.Status == "closed":
		c.Add(path+"jobId", "job %s is closed; open it again in Jobs, or choose another", job.Number)
	}
	if phaseID != 0 {
		phase, found, err := store.One[store.Phase](s.Tx, phaseID)
		if err != nil {
			return err
		}
		if !found || phase.JobID != jobID {
			c.Add(path+"phaseId", "this phase is not of this job")
		}
	}
	if costCodeID != 0 {
		if _, found, err = store.One[store.CostCode](s.Tx, costCodeID); err == nil && !found {
			c.Add(path+"costCodeId", "there is no such cost code")
		}
	}
	return err
}

// OwnEntry finds the worker of an entry and refuses one who is not of a foreman's crew.
func OwnEntry(s *book.Session, e store.TimeEntry) (store.Worker, error) {
	worker, _, err := store.One[store.Worker](s.Tx, e.WorkerID)
	if err != nil {
		return worker, err
	}
	return worker, OwnWorker(s, worker)
}
