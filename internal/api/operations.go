package api

import (
	"context"
	"net/http"
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"jarvo/internal/app/access"
	"jarvo/internal/app/approve"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/clock"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/company"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/customers"
	"jarvo/internal/app/history"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/looseends"
	"jarvo/internal/app/payback"
	"jarvo/internal/app/people"
	"jarvo/internal/app/pricelist"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/register"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/tape"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/app/today"
)

type reply[O any] struct{ Body O }

// operate registers one operation: who is signed in and the decoded request go to f, its result is the body.
func operate[I, O any](api huma.API, method, path, id, summary string, f func(context.Context, book.Actor, *I) (O, error), change ...func(*huma.Operation)) {
	op := huma.Operation{OperationID: id, Method: method, Path: path, Summary: summary}
	for _, c := range change {
		c(&op)
	}
	huma.Register(api, op, func(ctx context.Context, in *I) (*reply[O], error) {
		out, err := f(ctx, actorIn(ctx), in)
		if err != nil {
			return nil, problem(ctx, err)
		}
		return &reply[O]{out}, nil
	})
}

// openToAll lets an operation be called by somebody who is not signed in.
func openToAll(op *huma.Operation) { op.Metadata = map[string]any{"open": true} }

type (
	nothing struct{}
	done    struct {
		ID int64 `json:"id,omitempty"`
	}
	withBody[B any] struct{ Body B }
	byID            struct {
		ID int64 `path:"id"`
	}
	byNumber struct {
		Number string `path:"number"`
	}
	atVersion struct {
		ID   int64 `path:"id"`
		Body AtVersion
	}
)

// made answers a create with the id of what it made.
func made(id int64, err error) (done, error) { return done{id}, err }

func (s *server) register(api huma.API) {
	s.registerSession(api)
	s.registerCapture(api)
	s.registerBilling(api)
	s.registerSetup(api)
	s.registerClock(api)
	s.registerNews(api)
}

func (s *server) registerSession(api huma.API) {
	operate(api, http.MethodGet, "/api/state", "state", "Whose book this is", func(ctx context.Context, _ book.Actor, _ *nothing) (BookState, error) {
		state, err := access.State(ctx, s.Book)
		return BookState{state, s.DemoSignIn, s.DemoPassword}, err
	}, openToAll)
	operate(api, http.MethodPost, "/api/book", "openBook", "Open a new book", s.openBook, openToAll, func(op *huma.Operation) { op.Middlewares = huma.Middlewares{s.limitTries} })
	operate(api, http.MethodPost, "/api/session/password", "changePassword", "Change one's own password", s.changePassword,
		func(op *huma.Operation) { op.Middlewares = huma.Middlewares{s.limitTries} })
	operate(api, http.MethodPut, "/api/company/time-zone", "setTimeZone", "Say in which time zone the company is", func(ctx context.Context, actor book.Actor, in *withBody[company.TimeZone]) (company.TimeZone, error) {
		return company.SetTimeZone(ctx, s.Book, actor, in.Body)
	})
	operate(api, http.MethodGet, "/api/session", "whoAmI", "Who is signed in", func(_ context.Context, actor book.Actor, _ *nothing) (Who, error) {
		return whoOf(actor), nil
	})
	operate(api, http.MethodDelete, "/api/session", "signOut", "Sign out", func(ctx context.Context, _ book.Actor, _ *nothing) (done, error) {
		return done{}, s.leave(ctx)
	})
	operate(api, http.MethodGet, "/api/choices", "choices", "What fields choose from", func(ctx context.Context, actor book.Actor, _ *nothing) (register.Choices, error) {
		return register.ChoicesFor(ctx, s.Book, actor)
	})
	operate(api, http.MethodGet, "/api/footing", "footing", "The totals of a scope", func(ctx context.Context, actor book.Actor, in *scope.ScopeQuery) (scope.Footing, error) {
		return scope.FootingOf(ctx, s.Book, actor, *in)
	})
	operate(api, http.MethodGet, "/api/counts", "counts", "What waits", func(ctx context.Context, actor book.Actor, _ *nothing) (today.Counts, error) {
		return s.counter.Counts(ctx, s.Book, actor)
	})
	operate(api, http.MethodGet, "/api/today", "today", "The Today tab", func(ctx context.Context, actor book.Actor, in *today.TodayQuery) (today.TodaySheet, error) {
		return today.Sheet(ctx, s.Book, actor, *in)
	})
	operate(api, http.MethodPost, "/api/loose-ends/aside", "setAside", "Set a loose end aside with a reason", func(ctx context.Context, actor book.Actor, in *withBody[looseends.SetAside]) (done, error) {
		return done{}, looseends.PutAside(ctx, s.Book, actor, in.Body)
	})
	operate(api, http.MethodDelete, "/api/loose-ends/aside", "bringBack", "Bring a loose end back that was set aside", func(ctx context.Context, actor book.Actor, in *struct {
		Kind    string `query:"kind"`
		Subject string `query:"subject"`
	},
	) (done, error) {
		return done{}, looseends.BringBack(ctx, s.Book, actor, in.Kind, in.Subject)
	})
	operate(api, http.MethodPost, "/api/costs/lines/{id}/place", "placeLine", "Book a line that has no job to one", func(ctx context.Context, actor book.Actor, in *struct {
		ID   int64 `path:"id"`
		Body register.Place
	},
	) (done, error) {
		return done{}, costs.Place(ctx, s.Book, actor, in.ID, in.Body)
	})
	operate(api, http.MethodPost, "/api/jobs/{id}/code", "codeHours", "Give a job's hours without a cost code one", func(ctx context.Context, actor book.Actor, in *struct {
		ID   int64 `path:"id"`
		Body Coding
	},
	) (done, error) {
		return done{}, timesheet.CodeHours(ctx, s.Book, actor, in.ID, in.Body.CostCodeID)
	})
}

// BookState says whose book this is; in the demo also how to sign in.
type BookState struct {
	access.BookState
	DemoSignIn   string `json:"demoSignIn,omitempty"`
	DemoPassword string `json:"demoPassword,omitempty"`
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
	Week  string `json:"week" format:"date"`
	Crew  string `json:"crew"`
	Job   string `json:"job"`
	Ahead bool   `json:"ahead,omitempty" doc:"hours that are dated after today are meant"`
}

// OwnWeek is a worker's own week that is handed in.
type OwnWeek struct {
	Week  string `json:"week" format:"date"`
	Ahead bool   `json:"ahead,omitempty" doc:"hours that are dated after today are meant"`
}

// Break says whether a break begins or ends.
type Break struct {
	On bool `json:"on"`
}

// Coding gives hours a cost code.
type Coding struct {
	CostCodeID int64 `json:"costCodeId"`
}

// AtVersion says on which version something is done.
type AtVersion struct {
	Version int64 `json:"version" doc:"as it was seen"`
}

// Regrouping chooses how much detail an invoice shows.
type Regrouping struct {
	Version  int64  `json:"version" doc:"as it was seen"`
	Grouping string `json:"grouping"`
}

func (c CellsSaved) query() timesheet.SheetQuery {
	return timesheet.SheetQuery{Week: c.Week, Crew: c.Crew, Job: c.Job}
}

func (s *server) registerCapture(api huma.API) {
	// What stands in a problem's current, where cells were stale.
	api.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[timesheet.StaleCell](), true, "StaleCell")
	operate(api, http.MethodGet, "/api/time/sheet", "timeSheet", "A crew's week", func(ctx context.Context, actor book.Actor, in *timesheet.SheetQuery) (timesheet.Sheet, error) {
		return timesheet.Week(ctx, s.Book, actor, *in)
	})
	operate(api, http.MethodGet, "/api/time/entries", "entryList", "Entries one by one", func(ctx context.Context, actor book.Actor, in *timesheet.ListQuery) (timesheet.EntryList, error) {
		return timesheet.Entries(ctx, s.Book, actor, *in)
	})
	operate(api, http.MethodPut, "/api/time/cells", "saveCells", "Take what was typed into a sheet", func(ctx context.Context, actor book.Actor, in *withBody[CellsSaved]) (timesheet.Sheet, error) {
		return timesheet.SaveCells(ctx, s.Book, actor, in.Body.query(), in.Body.Edits)
	})
	operate(api, http.MethodGet, "/api/time/day", "timeDay", "A crew's day by the clock", func(ctx context.Context, actor book.Actor, in *timesheet.DayQuery) (timesheet.DaySheet, error) {
		return timesheet.Day(ctx, s.Book, actor, *in)
	})
	operate(api, http.MethodPut, "/api/time/day", "saveWorkdays", "Take when workers were at work", func(ctx context.Context, actor book.Actor, in *withBody[WorkdaysSaved]) (timesheet.DaySheet, error) {
		return timesheet.SaveWorkdays(ctx, s.Book, actor, timesheet.DayQuery{Date: in.Body.Date, Crew: in.Body.Crew}, in.Body.Workers)
	})
	operate(api, http.MethodPost, "/api/time/import/preview", "previewHours", "Read a table of hours", func(ctx context.Context, actor book.Actor, in *withBody[timesheet.HoursFile]) (timesheet.HoursPreview, error) {
		return timesheet.PreviewHours(ctx, s.Book, actor, in.Body)
	})
	operate(api, http.MethodPost, "/api/time/import", "bringHours", "Bring the good rows of a table of hours in", func(ctx context.Context, actor book.Actor, in *withBody[timesheet.HoursFile]) (timesheet.HoursPreview, error) {
		return timesheet.BringHours(ctx, s.Book, actor, in.Body)
	})
	operate(api, http.MethodPost, "/api/time/hand-in", "handIn", "Hand a crew's week in", func(ctx context.Context, actor book.Actor, in *withBody[CrewWeek]) (timesheet.Sheet, error) {
		return timesheet.HandIn(ctx, s.Book, actor, timesheet.SheetQuery{Week: in.Body.Week, Crew: in.Body.Crew, Job: in.Body.Job}, in.Body.Ahead)
	})
	operate(api, http.MethodGet, "/api/time/reading", "readCell", "What a text is read as", func(ctx context.Context, actor book.Actor, in *struct {
		Worker int64  `query:"worker"`
		Date   string `query:"date"`
		Text   string `query:"text"`
		Entry  int64  `query:"entry"`
	},
	) (timesheet.CellReading, error) {
		return timesheet.ReadCell(ctx, s.Book, actor, in.Worker, in.Date, in.Text, in.Entry)
	})
	operate(api, http.MethodGet, "/api/time/entries/{id}/workings", "entryWorkings", "How an entry's figures came about", func(ctx context.Context, actor book.Actor, in *byID) (tape.EntryWorkings, error) {
		return tape.OfEntry(ctx, s.Book, actor, in.ID)
	})
	operate(api, http.MethodGet, "/api/time/entries/{id}/history", "entryHistory", "What was done to an entry", func(ctx context.Context, actor book.Actor, in *byID) ([]history.HistoryLine, error) {
		return history.OfEntry(ctx, s.Book, actor, in.ID)
	})
	operate(api, http.MethodGet, "/api/trail", "trailSteps", "Who brought work to where it is, and when", func(ctx context.Context, actor book.Actor, in *history.TrailQuery) ([]history.TrailStep, error) {
		return history.Steps(ctx, s.Book, actor, *in)
	})
	operate(api, http.MethodGet, "/api/costs/lines/{id}/workings", "lineWorkings", "How a cost line's figures came about", func(ctx context.Context, actor book.Actor, in *byID) (tape.Tape, error) {
		return tape.OfLine(ctx, s.Book, actor, in.ID)
	})
	operate(api, http.MethodGet, "/api/costs", "documents", "Cost documents", func(ctx context.Context, actor book.Actor, in *scope.ScopeQuery) (costs.DocumentList, error) {
		return costs.List(ctx, s.Book, actor, *in)
	})
	operate(api, http.MethodPost, "/api/costs/split", "splitCostLine", "Spread a line over jobs", func(ctx context.Context, actor book.Actor, in *withBody[costs.SplitLine]) ([]costs.Line, error) {
		return costs.Split(ctx, s.Book, actor, in.Body)
	})
	operate(api, http.MethodGet, "/api/costs/habit", "supplierHabit", "What is usually bought from a supplier", func(ctx context.Context, actor book.Actor, in *struct {
		Supplier string `query:"supplier"`
	},
	) (costs.Habit, error) {
		return costs.HabitOf(ctx, s.Book, actor, in.Supplier)
	})
	operate(api, http.MethodGet, "/api/owed", "owed", "Who is to be paid back", func(ctx context.Context, actor book.Actor, _ *nothing) (payback.Owed, error) {
		return payback.List(ctx, s.Book, actor)
	})
	operate(api, http.MethodPost, "/api/owed", "payBack", "Pay papers back", func(ctx context.Context, actor book.Actor, in *withBody[payback.PayBack]) (payback.Owed, error) {
		return payback.Pay(ctx, s.Book, actor, in.Body)
	})
	operate(api, http.MethodDelete, "/api/owed/{id}", "undoPayBack", "Take a payment away", func(ctx context.Context, actor book.Actor, in *byID) (payback.Owed, error) {
		return payback.Undo(ctx, s.Book, actor, in.ID)
	})
	operate(api, http.MethodGet, "/api/costs/{id}", "document", "One cost document", func(ctx context.Context, actor book.Actor, in *byID) (costs.Document, error) {
		return costs.Get(ctx, s.Book, actor, in.ID)
	})
	operate(api, http.MethodPost, "/api/costs/preview", "previewDocument", "Work a document out as it is typed", func(ctx context.Context, actor book.Actor, in *withBody[costs.Document]) (costs.Document, error) {
		return costs.Preview(ctx, s.Book, actor, in.Body)
	})
	operate(api, http.MethodPut, "/api/costs", "saveDocument", "Make or change a document", func(ctx context.Context, actor book.Actor, in *withBody[costs.Document]) (costs.Document, error) {
		return costs.Save(ctx, s.Book, actor, in.Body)
	})
	operate(api, http.MethodDelete, "/api/attachments/{id}", "detach", "Take a scan away from a paper", func(ctx context.Context, actor book.Actor, in *byID) (done, error) {
		return done{}, costs.Detach(ctx, s.Book, actor, in.ID)
	})
	operate(api, http.MethodPost, "/api/costs/{id}/hand-in", "handInDocument", "Hand a document in", func(ctx context.Context, actor book.Actor, in *atVersion) (costs.Document, error) {
		return costs.HandIn(ctx, s.Book, actor, in.ID, in.Body.Version)
	})
	operate(api, http.MethodGet, "/api/approve", "waiting", "What waits for approval", func(ctx context.Context, actor book.Actor, in *scope.ScopeQuery) (approve.ApproveSheet, error) {
		return approve.Waiting(ctx, s.Book, actor, *in)
	})
	operate(api, http.MethodGet, "/api/approve/week", "checkWeek", "A worker's week beside what it is held against", func(ctx context.Context, actor book.Actor, in *struct {
		Worker int64  `query:"worker"`
		Week   string `query:"week"`
	},
	) (approve.WeekCheck, error) {
		return approve.CheckWeek(ctx, s.Book, actor, in.Worker, in.Week)
	})
	operate(api, http.MethodGet, "/api/approve/decided", "decisions", "What was approved and returned last", func(ctx context.Context, actor book.Actor, _ *nothing) ([]approve.Decided, error) {
		return approve.Decisions(ctx, s.Book, actor)
	})
	operate(api, http.MethodPost, "/api/approve", "approve", "Approve handed-in work", func(ctx context.Context, actor book.Actor, in *withBody[approve.Decision]) (done, error) {
		return done{}, approve.Approve(ctx, s.Book, actor, in.Body)
	})
	operate(api, http.MethodPost, "/api/return", "returnWork", "Return work with a reason", func(ctx context.Context, actor book.Actor, in *withBody[approve.Decision]) (done, error) {
		return done{}, approve.Return(ctx, s.Book, actor, in.Body)
	})
}

func (s *server) registerBilling(api huma.API) {
	operate(api, http.MethodGet, "/api/bill", "bill", "What is ready, drafts and issued invoices", func(ctx context.Context, actor book.Actor, in *scope.ScopeQuery) (billing.BillSheet, error) {
		return billing.Sheet(ctx, s.Book, actor, *in)
	})
	operate(api, http.MethodPost, "/api/bill/drafts", "makeDrafts", "Make drafts of what is ready", func(ctx context.Context, actor book.Actor, in *withBody[billing.NewDrafts]) ([]billing.DraftRow, error) {
		return billing.MakeDrafts(ctx, s.Book, actor, in.Body)
	})
	operate(api, http.MethodGet, "/api/invoices/{id}", "invoice", "A draft or an issued invoice", func(ctx context.Context, actor book.Actor, in *byID) (billing.InvoiceView, error) {
		return billing.Invoice(ctx, s.Book, actor, in.ID)
	})
	operate(api, http.MethodGet, "/api/invoices/{id}/workings", "invoiceWorkings", "How what is due on an invoice came about", func(ctx context.Context, actor book.Actor, in *byID) (tape.Tape, error) {
		return tape.OfInvoice(ctx, s.Book, actor, in.ID)
	})
	operate(api, http.MethodPut, "/api/invoices/{id}/grouping", "regroup", "Choose how much detail the customer sees", func(ctx context.Context, actor book.Actor, in *struct {
		ID   int64 `path:"id"`
		Body Regrouping
	},
	) (billing.InvoiceView, error) {
		return billing.Regroup(ctx, s.Book, actor, in.ID, in.Body.Version, in.Body.Grouping)
	})
	operate(api, http.MethodPost, "/api/invoices/{id}/drop", "dropDraft", "Drop a draft", func(ctx context.Context, actor book.Actor, in *atVersion) (done, error) {
		return done{}, billing.DropDraft(ctx, s.Book, actor, in.ID, in.Body.Version)
	})
	operate(api, http.MethodPost, "/api/invoices/{id}/issue", "issue", "Issue a draft", func(ctx context.Context, actor book.Actor, in *atVersion) (billing.InvoiceView, error) {
		return billing.Issue(ctx, s.Book, actor, in.ID, in.Body.Version)
	})
	operate(api, http.MethodPost, "/api/payments", "takePayment", "Take a payment for an invoice", func(ctx context.Context, actor book.Actor, in *withBody[collect.NewPayment]) (billing.InvoiceView, error) {
		return collect.TakePayment(ctx, s.Book, actor, in.Body)
	})
	operate(api, http.MethodGet, "/api/jobs", "jobs", "Jobs with their money", func(ctx context.Context, actor book.Actor, in *struct {
		Closed bool `query:"closed"`
	},
	) (jobs.JobList, error) {
		return jobs.List(ctx, s.Book, actor, in.Closed)
	})
	operate(api, http.MethodGet, "/api/jobs/{number}", "jobFolder", "One job", func(ctx context.Context, actor book.Actor, in *byNumber) (jobs.JobFolder, error) {
		return jobs.Folder(ctx, s.Book, actor, in.Number)
	})
	operate(api, http.MethodGet, "/api/jobs/{number}/workings", "jobWorkings", "How a job's profit came about", func(ctx context.Context, actor book.Actor, in *byNumber) (tape.Tape, error) {
		return tape.OfJob(ctx, s.Book, actor, in.Number)
	})
}

func (s *server) registerSetup(api huma.API) {
	operate(api, http.MethodGet, "/api/users", "users", "Who may sign in", func(ctx context.Context, actor book.Actor, _ *nothing) ([]access.UserRow, error) {
		return access.Users(ctx, s.Book, actor)
	})
	operate(api, http.MethodPost, "/api/users", "addUser", "Let somebody in", func(ctx context.Context, actor book.Actor, in *withBody[access.NewUser]) (done, error) {
		return made(access.AddUser(ctx, s.Book, actor, in.Body))
	})
	operate(api, http.MethodPut, "/api/users/{id}", "changeUser", "Keep somebody out, or give another password", func(ctx context.Context, actor book.Actor, in *struct {
		ID   int64 `path:"id"`
		Body access.UserChange
	},
	) (done, error) {
		return done{}, access.ChangeUser(ctx, s.Book, actor, in.ID, in.Body)
	})
	operate(api, http.MethodGet, "/api/setup", "setup", "The Setup tab", func(ctx context.Context, actor book.Actor, in *struct {
		AsOf   string `query:"asOf"`
		Worker int64  `query:"worker"`
	},
	) (rates.SetupSheet, error) {
		return rates.Setup(ctx, s.Book, actor, in.AsOf, in.Worker)
	})
	operate(api, http.MethodPost, "/api/workers", "addWorker", "Add a worker", func(ctx context.Context, actor book.Actor, in *withBody[people.NewWorker]) (done, error) {
		return made(people.Add(ctx, s.Book, actor, in.Body))
	})
	operate(api, http.MethodPost, "/api/customers", "addCustomer", "Add a customer", func(ctx context.Context, actor book.Actor, in *withBody[customers.NewCustomer]) (done, error) {
		return made(customers.Add(ctx, s.Book, actor, in.Body))
	})
	operate(api, http.MethodPost, "/api/jobs", "addJob", "Open a job", func(ctx context.Context, actor book.Actor, in *withBody[jobs.NewJob]) (done, error) {
		return made(jobs.Add(ctx, s.Book, actor, in.Body))
	})
	operate(api, http.MethodPost, "/api/cost-codes", "addCostCode", "Add a cost code", func(ctx context.Context, actor book.Actor, in *withBody[jobs.NewCode]) (done, error) {
		return made(jobs.AddCostCode(ctx, s.Book, actor, in.Body))
	})
	operate(api, http.MethodGet, "/api/prices", "priceList", "What is bought and used again and again", func(ctx context.Context, actor book.Actor, in *struct {
		On string `query:"on" doc:"the date whose prices are shown; blank is today"`
	},
	) ([]pricelist.PricedItem, error) {
		return pricelist.List(ctx, s.Book, actor, in.On)
	})
	operate(api, http.MethodPost, "/api/prices", "addItem", "Put an item on the price list", func(ctx context.Context, actor book.Actor, in *withBody[pricelist.NewItem]) (done, error) {
		return made(pricelist.Add(ctx, s.Book, actor, in.Body))
	})
	operate(api, http.MethodPut, "/api/prices/{id}", "changeItem", "Rename an item, or take it off what is offered", func(ctx context.Context, actor book.Actor, in *struct {
		ID   int64 `path:"id"`
		Body pricelist.ItemChange
	},
	) (done, error) {
		return done{}, pricelist.Change(ctx, s.Book, actor, in.ID, in.Body)
	})
	operate(api, http.MethodPost, "/api/prices/{id}/from", "addItemPrice", "Give an item a price from a date on", func(ctx context.Context, actor book.Actor, in *struct {
		ID   int64 `path:"id"`
		Body pricelist.NewItemPrice
	},
	) (done, error) {
		return done{}, pricelist.AddPrice(ctx, s.Book, actor, in.ID, in.Body)
	})
	operate(api, http.MethodPost, "/api/wages", "addWage", "Add a dated wage", func(ctx context.Context, actor book.Actor, in *withBody[rates.NewWage]) (done, error) {
		return done{}, rates.AddWage(ctx, s.Book, actor, in.Body)
	})
	operate(api, http.MethodPost, "/api/burdens", "addBurden", "Add a dated burden component", func(ctx context.Context, actor book.Actor, in *withBody[rates.NewBurden]) (done, error) {
		return done{}, rates.AddBurden(ctx, s.Book, actor, in.Body)
	})
	operate(api, http.MethodPost, "/api/labour-rates", "addLabourRate", "Add a labour row to a card", func(ctx context.Context, actor book.Actor, in *withBody[rates.NewLabourRate]) (done, error) {
		return done{}, rates.AddLabourRate(ctx, s.Book, actor, in.Body)
	})
	operate(api, http.MethodPost, "/api/markups", "addMarkup", "Add a markup band to a card", func(ctx context.Context, actor book.Actor, in *withBody[rates.NewMarkup]) (done, error) {
		return done{}, rates.AddMarkup(ctx, s.Book, actor, in.Body)
	})
}

func (s *server) registerClock(api huma.API) {
	type ofWeek struct {
		Week string `query:"week"`
	}
	operate(api, http.MethodGet, "/api/clock", "clock", "A worker's own page", func(ctx context.Context, actor book.Actor, in *ofWeek) (clock.ClockPage, error) {
		return clock.Page(ctx, s.Book, actor, in.Week)
	})
	operate(api, http.MethodPost, "/api/clock/in", "clockIn", "Begin to work", func(ctx context.Context, actor book.Actor, in *withBody[clock.ClockIn]) (clock.ClockPage, error) {
		return clock.In(ctx, s.Book, actor, in.Body)
	})
	operate(api, http.MethodPost, "/api/clock/break", "clockBreak", "Begin or end a break", func(ctx context.Context, actor book.Actor, in *withBody[Break]) (clock.ClockPage, error) {
		return clock.Break(ctx, s.Book, actor, in.Body.On)
	})
	operate(api, http.MethodPost, "/api/clock/out", "clockOut", "End the work", func(ctx context.Context, actor book.Actor, in *withBody[clock.ClockOut]) (clock.ClockPage, error) {
		return clock.Out(ctx, s.Book, actor, in.Body)
	})
	operate(api, http.MethodPost, "/api/clock/hours", "fillIn", "Book own hours for a day", func(ctx context.Context, actor book.Actor, in *withBody[clock.OwnHours]) (clock.ClockPage, error) {
		return clock.FillIn(ctx, s.Book, actor, in.Body)
	})
	operate(api, http.MethodPut, "/api/clock/hours/{id}", "changeOwn", "Correct an own entry", func(ctx context.Context, actor book.Actor, in *struct {
		ID   int64 `path:"id"`
		Body clock.OwnChange
	},
	) (clock.ClockPage, error) {
		return clock.Change(ctx, s.Book, actor, in.ID, in.Body)
	})
	operate(api, http.MethodPost, "/api/clock/hand-in", "handInOwn", "Hand the own week in", func(ctx context.Context, actor book.Actor, in *withBody[OwnWeek]) (clock.ClockPage, error) {
		return clock.HandIn(ctx, s.Book, actor, in.Body.Week, in.Body.Ahead)
	})
}
