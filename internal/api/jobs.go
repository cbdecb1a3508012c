package api

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"jarvo/internal/app/book"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/tape"
)

// jobsOperations are the Jobs tab.
func (s *server) jobsOperations(api huma.API) {
	operate(api, http.MethodGet, "/api/jobs", "jobs", "Jobs with their money",
		steady(s, func(ctx context.Context, actor book.Actor, in *struct {
			Closed bool `query:"closed"`
		},
		) (jobs.JobList, error) {
			return jobs.List(ctx, s.Book, actor, in.Closed)
		}))
	operate(api, http.MethodGet, "/api/jobs/{number}", "jobFolder", "One job", steady(s, ofNumber(s, jobs.Folder)))
	operate(api, http.MethodGet, "/api/jobs/{number}/workings", "jobWorkings", "How a job's profit came about", ofNumber(s, tape.OfJob))
	operate(api, http.MethodPost, "/api/jobs", "addJob", "Open a job", makes(s, jobs.Add))
	operate(api, http.MethodPut, "/api/jobs/{number}", "changeJob", "Change or close a job", altersNumber(s, jobs.Change))
	operate(api, http.MethodPut, "/api/jobs/{number}/budget", "saveBudget", "Give a job its budget", altersNumber(s, jobs.SaveBudget))
	operate(api, http.MethodPost, "/api/jobs/{number}/delete", "deleteJob", "Delete a job that nothing is booked to",
		altersNumber(s, func(ctx context.Context, b *book.Book, actor book.Actor, number string, in AtVersion) error {
			return jobs.Delete(ctx, b, actor, number, in.Version)
		}))
	operate(api, http.MethodPost, "/api/cost-codes", "addCostCode", "Add a cost code", makes(s, jobs.AddCostCode))
}
