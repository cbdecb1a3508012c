package api

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"jarvo/internal/app/book"
	"jarvo/internal/app/company"
	"jarvo/internal/app/customers"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/pages"
	"jarvo/internal/app/people"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/suppliers"
)

// setupOperations are the Setup tab.
func (s *server) setupOperations(api huma.API) {
	operate(api, http.MethodGet, "/api/setup", "setup", "The Setup tab",
		steady(s, func(ctx context.Context, actor book.Actor, in *struct {
			AsOf   string `query:"asOf"`
			Worker int64  `query:"worker"`
			Code   int64  `query:"costCode"`
		},
		) (rates.SetupSheet, error) {
			return rates.Setup(ctx, s.Book, actor, in.AsOf, in.Worker, in.Code)
		}))
	operate(api, http.MethodPost, "/api/workers", "addWorker", "Add a worker", makes(s, people.Add))
	operate(api, http.MethodPost, "/api/customers", "addCustomer", "Add a customer", makes(s, customers.Add))
	operate(api, http.MethodPut, "/api/workers/{id}", "changeWorker", "Change a worker, or let them go", altersOn(s, people.Change))
	operate(api, http.MethodPost, "/api/workers/{id}/delete", "deleteWorker", "Delete a worker without hours",
		altersOn(s, atSeen(people.Delete)))
	operate(api, http.MethodPut, "/api/customers/{id}", "changeCustomer", "Change or retire a customer", altersOn(s, customers.Change))
	operate(api, http.MethodPost, "/api/customers/{id}/merge", "mergeCustomer", "Give all that a customer has to another: they are one",
		altersOn(s, customers.MergeInto))
	operate(api, http.MethodPost, "/api/customers/{id}/delete", "deleteCustomer", "Delete a customer without jobs",
		altersOn(s, atSeen(customers.Delete)))
	operate(api, http.MethodPut, "/api/cost-codes/{id}", "changeCostCode", "Change or retire a cost code", altersOn(s, jobs.ChangeCostCode))
	operate(api, http.MethodPost, "/api/cost-codes/{id}/delete", "deleteCostCode", "Delete a cost code that is not used",
		altersOn(s, atSeen(jobs.DeleteCostCode)))
	operate(api, http.MethodPut, "/api/trades/{id}", "changeTrade", "Rename a trade", altersOn(s, people.ChangeTrade))
	operate(api, http.MethodPost, "/api/trades/{id}/delete", "deleteTrade", "Delete a trade that is not used",
		altersOn(s, atSeen(people.DeleteTrade)))
	operate(api, http.MethodPost, "/api/units", "addUnit", "Add a unit of measure", makes(s, company.AddUnit))
	operate(api, http.MethodPut, "/api/units/{id}", "changeUnit", "Change a unit of measure", altersOn(s, company.ChangeUnit))
	operate(api, http.MethodPost, "/api/units/{id}/delete", "deleteUnit", "Delete a unit of measure", altersOn(s, atSeen(company.DeleteUnit)))
	operate(api, http.MethodGet, "/api/suppliers", "suppliers", "Who things are bought from", besideHours(s, asks(s, suppliers.List)))
	operate(api, http.MethodPost, "/api/suppliers", "addSupplier", "Add a supplier", makes(s, suppliers.Add))
	operate(api, http.MethodPut, "/api/suppliers/{id}", "changeSupplier", "Change or retire a supplier", altersOn(s, suppliers.Change))
	operate(api, http.MethodPost, "/api/suppliers/{id}/merge", "mergeSupplier", "Give a supplier's papers to another: they are one",
		altersOn(s, suppliers.MergeInto))
	operate(api, http.MethodPost, "/api/suppliers/{id}/delete", "deleteSupplier", "Delete a supplier without papers",
		altersOn(s, atSeen(suppliers.Delete)))
	operate(api, http.MethodGet, "/api/pages/{kind}/{id}", "page", "The page of a supplier, a customer, a worker or an item",
		func(ctx context.Context, actor book.Actor, in *pages.Asked) (pages.Page, error) {
			return pages.Of(ctx, s.Book, actor, *in)
		})
	operate(api, http.MethodGet, "/api/book/bring-in", "importProgress", "How far an import has come", s.importProgress)
	operate(api, http.MethodGet, "/api/company", "company", "The company's settings", besideHours(s, asks(s, company.Get)))
	operate(api, http.MethodPut, "/api/company", "changeCompany", "Change the company's settings", alters(s, company.Change))
	operate(api, http.MethodPost, "/api/tax-codes", "addTaxCode", "Add a tax code", makes(s, company.AddTaxCode))
	operate(api, http.MethodPut, "/api/tax-codes/{id}", "changeTaxCode", "Change a tax code", altersOn(s, company.ChangeTaxCode))
	operate(api, http.MethodPost, "/api/tax-codes/{id}/delete", "deleteTaxCode", "Delete a tax code that is not used",
		altersOn(s, atSeen(company.DeleteTaxCode)))
	datedRows(s, api, "wages", "Wage", "a dated wage", rates.AddWage, rates.ChangeWage, rates.DeleteWage)
	datedRows(s, api, "burdens", "Burden", "a dated burden component", rates.AddBurden, rates.ChangeBurden, rates.DeleteBurden)
	datedRows(
		s, api, "labour-rates", "LabourRate", "a labour row of a card", rates.AddLabourRate, rates.ChangeLabourRate, rates.DeleteLabourRate,
	)
	datedRows(s, api, "markups", "Markup", "a markup band of a card", rates.AddMarkup, rates.ChangeMarkup, rates.DeleteMarkup)
}

// datedRows are the operations of a kind of dated row.
func datedRows[B any](
	s *server, api huma.API, path, name, what string, add func(context.Context, *book.Book, book.Actor, B) error,
	change func(context.Context, *book.Book, book.Actor, int64, B) error,
	drop func(context.Context, *book.Book, book.Actor, int64, int64) error,
) {
	operate(api, http.MethodPost, "/api/"+path, "add"+name, "Add "+what, alters(s, add))
	operate(api, http.MethodPut, "/api/"+path+"/{id}", "change"+name, "Correct "+what, altersOn(s, change))
	operate(api, http.MethodPost, "/api/"+path+"/{id}/delete", "delete"+name, "Delete "+what, altersOn(s, atSeen(drop)))
}
