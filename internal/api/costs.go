package api

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/payback"
	"jarvo/internal/app/pricelist"
	"jarvo/internal/app/tape"
)

// costsOperations are the Costs tab.
func (s *server) costsOperations(api huma.API) {
	operate(api, http.MethodPost, "/api/costs/lines/{id}/place", "placeLine", "Book a line that has no job to one", doesTo(s, costs.Place))
	operate(api, http.MethodGet, "/api/costs/lines/{id}/workings", "lineWorkings", "How a cost line's figures came about",
		ofID(s, tape.OfLine))
	operate(api, http.MethodGet, "/api/costs", "documents", "Cost documents", besideHours(s, asksOf(s, costs.List)))
	operate(api, http.MethodPost, "/api/costs/split", "splitCostLine", "Spread a line over jobs", takes(s, costs.Split))
	operate(api, http.MethodGet, "/api/costs/habit", "supplierHabit", "What is usually bought from a supplier",
		func(ctx context.Context, actor book.Actor, in *struct {
			Supplier string `query:"supplier"`
		},
		) (costs.Habit, error) {
			return costs.HabitOf(ctx, s.Book, actor, in.Supplier)
		})
	operate(api, http.MethodGet, "/api/owed", "owed", "Who is to be paid back", steady(s, asks(s, payback.List)))
	operate(api, http.MethodPost, "/api/owed", "payBack", "Pay papers back", takes(s, payback.Pay))
	operate(api, http.MethodDelete, "/api/owed/{id}", "undoPayBack", "Take a payment away", ofID(s, payback.Undo))
	operate(api, http.MethodGet, "/api/costs/{id}", "document", "One cost document", besideHours(s, ofID(s, costs.Get)))
	operate(api, http.MethodPost, "/api/costs/preview", "previewDocument", "Work a document out as it is typed", takes(s, costs.Preview))
	operate(api, http.MethodPut, "/api/costs", "saveDocument", "Make or change a document", takes(s, costs.Save))
	operate(api, http.MethodDelete, "/api/attachments/{id}", "detach", "Take a scan away from a paper",
		func(ctx context.Context, actor book.Actor, in *struct {
			ID      int64 `path:"id"`
			Version int64 `query:"version" required:"true" doc:"of the paper, as it was seen"`
		},
		) (done, error) {
			return done{}, costs.Detach(ctx, s.Book, actor, in.ID, in.Version)
		})
	operate(api, http.MethodPost, "/api/costs/{id}/delete", "deleteDocument", "Delete a paper that is not approved", atVersion(s,
		func(ctx context.Context, b *book.Book, actor book.Actor, id, version int64) (done, error) {
			return done{}, costs.Delete(ctx, b, actor, id, version)
		}))
	operate(api, http.MethodPost, "/api/costs/{id}/void", "voidDocument", "Make an approved paper void, with a reason",
		altersOn(s, costs.Void))
	operate(api, http.MethodPost, "/api/costs/{id}/hand-in", "handInDocument", "Hand a document in", atVersion(s, costs.HandIn))
	operate(api, http.MethodGet, "/api/prices", "priceList", "What is bought and used again and again",
		func(ctx context.Context, actor book.Actor, in *struct {
			On string `query:"on" doc:"the date whose prices are shown; blank is today"`
		},
		) ([]pricelist.PricedItem, error) {
			return pricelist.List(ctx, s.Book, actor, in.On)
		})
	operate(api, http.MethodPost, "/api/prices", "addItem", "Put an item on the price list", makes(s, pricelist.Add))
	operate(api, http.MethodPut, "/api/prices/{id}", "changeItem", "Rename an item, or take it off what is offered",
		altersOn(s, pricelist.Change))
	operate(api, http.MethodPost, "/api/prices/{id}/delete", "deleteItem", "Delete an item that is on no paper",
		altersOn(s, atSeen(pricelist.Delete)))
	operate(api, http.MethodPut, "/api/item-prices/{id}", "changeItemPrice", "Correct a price of the list",
		altersOn(s, pricelist.ChangePrice))
	operate(api, http.MethodPost, "/api/item-prices/{id}/delete", "deleteItemPrice", "Take a price off the list",
		altersOn(s, atSeen(pricelist.DeletePrice)))
	operate(api, http.MethodPost, "/api/prices/{id}/from", "addItemPrice", "Give an item a price from a date on",
		doesTo(s, pricelist.AddPrice))
}
