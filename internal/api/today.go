package api

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"jarvo/internal/app/book"
	"jarvo/internal/app/find"
	"jarvo/internal/app/history"
	"jarvo/internal/app/looseends"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/today"
)

// todayOperations are the Today tab and what every tab shows.
func (s *server) todayOperations(api huma.API) {
	operate(api, http.MethodGet, "/api/footing", "footing", "The totals of a scope", steady(s, asksOf(s, scope.FootingOf)))
	operate(api, http.MethodGet, "/api/footing/uncharged", "uncharged", "What work without a charge cost, by the reason",
		steady(s, asksOf(s, scope.Uncharged)))
	operate(api, http.MethodGet, "/api/counts", "counts", "What waits", steady(s, asks(s, s.counter.Counts)))
	operate(api, http.MethodGet, "/api/today", "today", "The Today tab", steady(s, asksOf(s, today.Sheet)))
	operate(api, http.MethodPost, "/api/loose-ends/aside", "setAside", "Set a loose end aside with a reason", does(s, looseends.PutAside))
	operate(api, http.MethodDelete, "/api/loose-ends/aside", "bringBack", "Bring a loose end back that was set aside",
		func(ctx context.Context, actor book.Actor, in *struct {
			Kind    string `query:"kind"`
			Subject string `query:"subject"`
		},
		) (done, error) {
			return done{}, looseends.BringBack(ctx, s.Book, actor, in.Kind, in.Subject)
		})
	operate(api, http.MethodGet, "/api/find", "find", "Find by name or number", asksOf(s, find.Find))
	operate(api, http.MethodGet, "/api/trail", "trailSteps", "Who brought work to where it is, and when", asksOf(s, history.Steps))
}
