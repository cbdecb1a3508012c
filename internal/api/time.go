package api

import (
	"context"
	"net/http"
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"jarvo/internal/app/book"
	"jarvo/internal/app/daylog"
	"jarvo/internal/app/history"
	"jarvo/internal/app/tape"
	"jarvo/internal/app/timesheet"
)

// timeOperations are the Hours tab.
func (s *server) timeOperations(api huma.API) {
	// What stands in a problem's current, where cells were stale.
	api.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[timesheet.StaleCell](), true, "StaleCell")
	operate(api, http.MethodPost, "/api/jobs/{id}/code", "codeHours", "Give a job's hours without a cost code one",
		func(ctx context.Context, actor book.Actor, in *struct {
			ID   int64 `path:"id"`
			Body Coding
		},
		) (done, error) {
			return done{}, timesheet.CodeHours(ctx, s.Book, actor, in.ID, in.Body.CostCodeID, in.Body.Entries)
		})
	operate(api, http.MethodGet, "/api/time/day-log", "dayLog", "What a foreman noted of a crew's day beside its hours", asksOf(s, daylog.Of))
	operate(api, http.MethodPut, "/api/time/day-log", "saveDayLog", "Note plant and words for a crew's day", takes(s, daylog.Save))
	operate(api, http.MethodGet, "/api/time/sheet", "timeSheet", "A crew's week", steady(s, asksOf(s, timesheet.Week)))
	operate(api, http.MethodGet, "/api/time/entries", "entryList", "Entries one by one", steady(s, asksOf(s, timesheet.Entries)))
	operate(api, http.MethodPut, "/api/time/cells", "saveCells", "Take what was typed into a sheet",
		func(ctx context.Context, actor book.Actor, in *withBody[CellsSaved]) (timesheet.Sheet, error) {
			return timesheet.SaveCells(ctx, s.Book, actor, in.Body.query(), in.Body.Edits)
		})
	operate(api, http.MethodGet, "/api/time/day", "timeDay", "A crew's day by the clock", asksOf(s, timesheet.Day))
	operate(api, http.MethodPut, "/api/time/day", "saveWorkdays", "Take when workers were at work",
		func(ctx context.Context, actor book.Actor, in *withBody[WorkdaysSaved]) (timesheet.DaySheet, error) {
			return timesheet.SaveWorkdays(ctx, s.Book, actor, timesheet.DayQuery{Date: in.Body.Date, Crew: in.Body.Crew}, in.Body.Workers)
		})
	operate(api, http.MethodPost, "/api/time/import/preview", "previewHours", "Read a table of hours", takes(s, timesheet.PreviewHours))
	operate(api, http.MethodPost, "/api/time/import", "bringHours", "Bring the good rows of a table of hours in",
		takes(s, timesheet.BringHours))
	operate(api, http.MethodPost, "/api/time/hand-in", "handIn", "Hand a crew's week in",
		func(ctx context.Context, actor book.Actor, in *withBody[CrewWeek]) (timesheet.Sheet, error) {
			return timesheet.HandIn(
				ctx, s.Book, actor, timesheet.SheetQuery{Week: in.Body.Week, Crew: in.Body.Crew, Job: in.Body.Job}, in.Body.HandingIn,
			)
		})
	operate(api, http.MethodGet, "/api/time/reading", "readCell", "What a text is read as",
		func(ctx context.Context, actor book.Actor, in *struct {
			Worker int64  `query:"worker"`
			Date   string `query:"date"`
			Text   string `query:"text"`
			Entry  int64  `query:"entry"`
		},
		) (timesheet.CellReading, error) {
			return timesheet.ReadCell(ctx, s.Book, actor, in.Worker, in.Date, in.Text, in.Entry)
		})
	operate(api, http.MethodGet, "/api/time/entries/{id}/workings", "entryWorkings", "How an entry's figures came about",
		ofID(s, tape.OfEntry))
	operate(api, http.MethodGet, "/api/time/entries/{id}/history", "entryHistory", "What was done to an entry", ofID(s, history.OfEntry))
}

// CellsSaved is what was typed into a sheet.
type CellsSaved struct {
	Week  string               `json:"week" format:"date"`
	Crew  string               `json:"crew"`
	Job   string               `json:"job"`
	Edits []timesheet.CellEdit `json:"edits" maxItems:"2000"`
}

// WorkdaysSaved is when workers of a crew were at work on a day.
type WorkdaysSaved struct {
	Date    string                  `json:"date" format:"date"`
	Crew    string                  `json:"crew"`
	Workers []timesheet.WorkdayEdit `json:"workers" maxItems:"500"`
}

// CrewWeek is a week that is handed in.
type CrewWeek struct {
	Week string `json:"week" format:"date"`
	Crew string `json:"crew"`
	Job  string `json:"job"`
	timesheet.HandingIn
}

// Coding gives hours a cost code.
type Coding struct {
	Entries    int64 `json:"entries" doc:"how many have none, as it was seen"`
	CostCodeID int64 `json:"costCodeId"`
}

func (c CellsSaved) query() timesheet.SheetQuery {
	return timesheet.SheetQuery{Week: c.Week, Crew: c.Crew, Job: c.Job}
}
