package api

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"jarvo/internal/app/approve"
	"jarvo/internal/app/book"
)

// approveOperations are the Approve tab.
func (s *server) approveOperations(api huma.API) {
	operate(api, http.MethodGet, "/api/approve", "waiting", "What waits for approval", steady(s, asksOf(s, approve.Waiting)))
	operate(api, http.MethodGet, "/api/approve/week", "checkWeek", "A worker's week beside what it is held against",
		func(ctx context.Context, actor book.Actor, in *struct {
			Worker int64  `query:"worker"`
			Week   string `query:"week"`
		},
		) (approve.WeekCheck, error) {
			return approve.CheckWeek(ctx, s.Book, actor, in.Worker, in.Week)
		})
	operate(api, http.MethodGet, "/api/approve/decided", "decisions", "What was approved and returned last",
		steady(s, asks(s, approve.Decisions)))
	operate(api, http.MethodPost, "/api/approve", "approve", "Approve handed-in work", takes(s, approve.Approve))
	operate(api, http.MethodPost, "/api/return", "returnWork", "Return work with a reason", takes(s, approve.Return))
	operate(api, http.MethodPost, "/api/take-back", "takeBack", "Undo the last decision on work", takes(s, approve.TakeBack))
}
