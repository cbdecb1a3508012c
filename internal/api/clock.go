package api

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"jarvo/internal/app/book"
	"jarvo/internal/app/clock"
	"jarvo/internal/app/timesheet"
)

// clockOperations are a worker's own page.
func (s *server) clockOperations(api huma.API) {
	type ofWeek struct {
		Week string `query:"week"`
	}
	operate(api, http.MethodGet, "/api/clock", "clock", "A worker's own page",
		func(ctx context.Context, actor book.Actor, in *ofWeek) (clock.ClockPage, error) {
			return clock.Page(ctx, s.Book, actor, in.Week)
		})
	operate(api, http.MethodPost, "/api/clock/in", "clockIn", "Begin to work", takes(s, clock.In))
	operate(api, http.MethodPost, "/api/clock/break", "clockBreak", "Begin or end a break", takes(s, clock.Break))
	operate(api, http.MethodPost, "/api/clock/out", "clockOut", "End the work", takes(s, clock.Out))
	operate(api, http.MethodPost, "/api/clock/hours", "fillIn", "Book own hours for a day", takes(s, clock.FillIn))
	operate(api, http.MethodPut, "/api/clock/hours/{id}", "changeOwn", "Correct an own entry",
		func(ctx context.Context, actor book.Actor, in *struct {
			ID   int64 `path:"id"`
			Body clock.OwnChange
		},
		) (clock.ClockPage, error) {
			return clock.Change(ctx, s.Book, actor, in.ID, in.Body)
		})
	operate(api, http.MethodPost, "/api/clock/hand-in", "handInOwn", "Hand the own week in",
		func(ctx context.Context, actor book.Actor, in *withBody[OwnWeek]) (clock.ClockPage, error) {
			return clock.HandIn(ctx, s.Book, actor, in.Body.Week, in.Body.HandingIn)
		})
}

// OwnWeek is a worker's own week that is handed in.
type OwnWeek struct {
	Week string `json:"week" format:"date"`
	timesheet.HandingIn
}
