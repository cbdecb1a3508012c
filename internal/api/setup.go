package api

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"jarvo/internal/app/book"
	"jarvo/internal/app/customers"
	"jarvo/internal/app/people"
	"jarvo/internal/app/rates"
)

// setupOperations are the Setup tab.
func (s *server) setupOperations(api huma.API) {
	operate(api, http.MethodGet, "/api/setup", "setup", "The Setup tab",
		func(ctx context.Context, actor book.Actor, in *struct {
			AsOf   string `query:"asOf"`
			Worker int64  `query:"worker"`
		},
		) (rates.SetupSheet, error) {
			return rates.Setup(ctx, s.Book, actor, in.AsOf, in.Worker)
		})
	operate(api, http.MethodPost, "/api/workers", "addWorker", "Add a worker", makes(s, people.Add))
	operate(api, http.MethodPost, "/api/customers", "addCustomer", "Add a customer", makes(s, customers.Add))
	operate(api, http.MethodPost, "/api/wages", "addWage", "Add a dated wage", does(s, rates.AddWage))
	operate(api, http.MethodPost, "/api/burdens", "addBurden", "Add a dated burden component", does(s, rates.AddBurden))
	operate(api, http.MethodPost, "/api/labour-rates", "addLabourRate", "Add a labour row to a card", does(s, rates.AddLabourRate))
	operate(api, http.MethodPost, "/api/markups", "addMarkup", "Add a markup band to a card", does(s, rates.AddMarkup))
}
