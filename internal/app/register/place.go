package register

import (
	"fmt"

	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/refuse"
	"jarvo/internal/store"
)

// Place is where a line or hours are booked.
type Place struct {
	JobID      int64 `json:"jobId"`
	PhaseID    int64 `json:"phaseId,omitempty"`
	CostCodeID int64 `json:"costCodeId,omitempty"`
}

// InstalmentsAstray says of each job, or of one, why its instalments can't be billed: with several fixed phases and no fixed job around
// them none is the phase of an instalment, so that profit by phase would not hold (calculation.md section 7).
func InstalmentsAstray(s *book.Session, jobID int64) (why []string, _ error) {
	rows, err := store.Query[struct {
		Number string
		Phases int
	}](s.Tx, instalmentsAstray, map[string]any{"job": jobID})
	for _, r := range rows {
		why = append(why, fmt.Sprintf(
			"job %s has %d fixed phases, and an instalment bills only one; bill it by a schedule of values, whose lines say their phase",
			r.Number, r.Phases,
		))
	}
	return why, err
}

// RefuseInstalmentsAstray refuses a job whose instalments can't be billed.
func RefuseInstalmentsAstray(s *book.Session, jobID int64) error {
	why, err := InstalmentsAstray(s, jobID)
	if err != nil || len(why) == 0 {
		return err
	}
	return refuse.Conflict("%s", why[0])
}

// CheckPlace checks that a job is there and open, and that phase and cost code are its.
func CheckPlace(s *book.Session, c *form.Checks, path string, jobID, phaseID, costCodeID int64) error {
	job, found, err := store.One[store.Job](s.Tx, jobID)
	if err != nil {
		return err
	}
	switch {
	case !found:
		c.Add(path+"jobId", "there is no such job; choose one from the list")
	case job.Status == store.Closed:
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

// OwnCrew keeps a foreman to their crew: what they ask for of another is a refusal, and all crews are theirs alone.
func OwnCrew(s *book.Session, crew string) (string, error) {
	if s.Actor.Crew == "" || crew == s.Actor.Crew {
		return crew, nil
	}
	if crew == "" {
		return s.Actor.Crew, nil
	}
	return "", &refuse.Error{Kind: refuse.KindForbidden, Message: fmt.Sprintf("you see the hours of %s only", s.Actor.Crew)}
}

// OwnWorker refuses a worker who is not of a foreman's crew.
func OwnWorker(s *book.Session, worker store.Worker) error {
	if s.Actor.Crew == "" || worker.Crew == s.Actor.Crew {
		return nil
	}
	return &refuse.Error{Kind: refuse.KindForbidden, Message: "this worker is not in " + s.Actor.Crew}
}

// JobByNumber finds a job.
func JobByNumber(s *book.Session, number string) (store.Job, error) {
	jobs, err := store.All[store.Job](s.Tx, "id", "number = ?", number)
	if err != nil {
		return store.Job{}, err
	}
	if len(jobs) == 0 {
		return store.Job{}, refuse.NotFound("job as " + number)
	}
	return jobs[0], nil
}
