package billing

import (
	"context"
	"fmt"

	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/refuse"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// RetainedRow is a job of which a customer holds something back.
type RetainedRow struct {
	JobID    int64  `json:"jobId"`
	Job      string `json:"job"`
	Name     string `json:"name"`
	Customer string `json:"customer"`
	Percent  string `json:"percent" doc:"that is held back"`
	Billed   string `json:"billed" format:"decimal"`
	Held     string `json:"held" format:"decimal" doc:"not released yet"`
	OnDraft  string `json:"onDraft,omitempty" doc:"of it, on drafts that release it"`
	Stage    string `json:"stage"`
}

// heldJob is a job with what is held of it.
type heldJob struct {
	store.Job
	Customer            string
	Billed, Held, Drawn money.Amount
}

func heldOfJobs(s *book.Session, jobID int64) ([]heldJob, error) {
	return store.Query[heldJob](s.Tx, retainedJobs, map[string]any{"job": jobID})
}

// retained are the jobs of which something is held back.
func retained(s *book.Session, jobID int64) ([]RetainedRow, error) {
	rows, err := heldOfJobs(s, jobID)
	out := make([]RetainedRow, len(rows))
	for i, r := range rows {
		out[i] = RetainedRow{
			JobID: r.ID, Job: r.Number, Name: r.Name, Customer: r.Customer, Percent: r.Retainage.String(), Billed: s.Money(r.Billed),
			Held: s.Money(r.Held), OnDraft: orBlank(s, r.Drawn), Stage: r.Status,
		}
	}
	return out, err
}

// ReleaseOf releases some of what is held of a job.
type ReleaseOf struct {
	JobID  int64  `json:"jobId"`
	Amount string `json:"amount,omitempty" doc:"absent: all that is held"`
}

// NewRelease asks for a draft that releases what is held of jobs of one customer.
type NewRelease struct {
	Key  string      `json:"key" doc:"made by the client, so that a retry makes nothing twice"`
	Date string      `json:"date"`
	Jobs []ReleaseOf `json:"jobs" minItems:"1" maxItems:"500"`
}

// ReleaseRetainage makes a draft that asks a customer for what was held back of some jobs (calculation.md section 12).
func ReleaseRetainage(ctx context.Context, b *book.Book, actor book.Actor, in NewRelease) (InvoiceView, error) {
	return book.Write(ctx, b, actor, book.Bill, func(s *book.Session) (InvoiceView, error) {
		return book.Once(s, "release", in.Key, in, func() (view InvoiceView, _ error) {
			c := s.Checks()
			date := c.Date("date", in.Date)
			rows, err := readReleases(s, c, in.Jobs)
			if err == nil {
				err = c.Err()
			}
			if err != nil {
				return view, err
			}
			draft, err := newDraft(s, store.ID(rows[0].CustomerID), date)
			if err != nil {
				return view, err
			}
			for _, r := range rows {
				if err := s.Create(&store.Release{InvoiceID: draft.ID, JobID: r.ID, Amount: r.Drawn}).Error; err != nil {
					return view, err
				}
			}
			if err := layOut(s, &draft); err != nil {
				return view, err
			}
			if err := madeDraft(s, draft); err != nil {
				return view, err
			}
			return WithOffered(s, draft.ID)
		})
	})
}

// readReleases reads what is released of each job; it stands in what is drawn of it.
func readReleases(s *book.Session, c *form.Checks, jobs []ReleaseOf) ([]heldJob, error) {
	rows := make([]heldJob, 0, len(jobs))
	if len(jobs) == 0 {
		return nil, refuse.Invalid("jobs", "choose a job first")
	}
	for i, of := range jobs {
		path := fmt.Sprintf("jobs[%d].", i)
		held, err := heldOfJobs(s, of.JobID)
		if err != nil {
			return nil, err
		}
		if of.JobID == 0 || len(held) == 0 {
			c.Add(path+"jobId", "nothing is held of this job")
			continue
		}
		row := held[0]
		left := row.Held - row.Drawn
		row.Drawn = left
		if of.Amount != "" {
			row.Drawn = form.Parsed(c, path+"amount", of.Amount, s.ParseAmount)
		}
		switch {
		case len(c.Fields) > 0:
		case row.Drawn <= 0 || row.Drawn > left:
			c.Add(path+"amount", "%s of it can be released", s.Money(left))
		case len(rows) > 0 && store.ID(rows[0].CustomerID) != store.ID(row.CustomerID):
			c.Add(path+"jobId", "jobs of one customer go on one invoice")
		}
		rows = append(rows, row)
	}
	return rows, nil
}
