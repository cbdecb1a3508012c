package api

import (
	"context"
	"net/http"
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"jarvo/internal/app"
)

type reply[O any] struct{ Body O }

// operate registers one operation: who is signed in and the decoded request go to f, its result is the body.
func operate[I, O any](api huma.API, method, path, id, summary string, f func(context.Context, app.Actor, *I) (O, error), change ...func(*huma.Operation)) {
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
	operate(api, http.MethodGet, "/api/state", "state", "Whose book this is", func(ctx context.Context, _ app.Actor, _ *nothing) (BookState, error) {
		state, err := s.App.State(ctx)
		return BookState{state, s.DemoSignIn, s.DemoPassword}, err
	}, openToAll)
	operate(api, http.MethodPost, "/api/book", "openBook", "Open a new book", s.openBook, openToAll, func(op *huma.Operation) { op.Middlewares = huma.Middlewares{s.limitTries} })
	operate(api, http.MethodPost, "/api/session/password", "changePassword", "Change one's own password", s.changePassword,
		func(op *huma.Operation) { op.Middlewares = huma.Middlewares{s.limitTries} })
	operate(api, http.MethodPut, "/api/company/time-zone", "setTimeZone", "Say in which time zone the company is", func(ctx context.Context, actor app.Actor, in *withBody[app.TimeZone]) (app.TimeZone, error) {
		return s.App.SetTimeZone(ctx, actor, in.Body)
	})
	operate(api, http.MethodGet, "/api/session", "whoAmI", "Who is signed in", func(_ context.Context, actor app.Actor, _ *nothing) (Who, error) {
		return whoOf(actor), nil
	})
	operate(api, http.MethodDelete, "/api/session", "signOut", "Sign out", func(ctx context.Context, _ app.Actor, _ *nothing) (done, error) {
		return done{}, s.leave(ctx)
	})
	operate(api, http.MethodGet, "/api/choices", "choices", "What fields choose from", func(ctx context.Context, actor app.Actor, _ *nothing) (app.Choices, error) {
		return s.App.Choices(ctx, actor)
	})
	operate(api, http.MethodGet, "/api/footing", "footing", "The totals of a scope", func(ctx context.Context, actor app.Actor, in *app.ScopeQuery) (app.Footing, error) {
		return s.App.Footing(ctx, actor, *in)
	})
	operate(api, http.MethodGet, "/api/counts", "counts", "What waits", func(ctx context.Context, actor app.Actor, _ *nothing) (app.Counts, error) {
		return s.counter.Counts(ctx, s.App, actor)
	})
	operate(api, http.MethodGet, "/api/today", "today", "The Today tab", func(ctx context.Context, actor app.Actor, in *app.TodayQuery) (app.TodaySheet, error) {
		return s.App.TodaySheet(ctx, actor, *in)
	})
	operate(api, http.MethodPost, "/api/loose-ends/aside", "setAside", "Set a loose end aside with a reason", func(ctx context.Context, actor app.Actor, in *withBody[app.SetAside]) (done, error) {
		return done{}, s.App.SetAside(ctx, actor, in.Body)
	})
	operate(api, http.MethodDelete, "/api/loose-ends/aside", "bringBack", "Bring a loose end back that was set aside", func(ctx context.Context, actor app.Actor, in *struct {
		Kind    string `query:"kind"`
		Subject string `query:"subject"`
	},
	) (done, error) {
		return done{}, s.App.BringBack(ctx, actor, in.Kind, in.Subject)
	})
	operate(api, http.MethodPost, "/api/costs/lines/{id}/place", "placeLine", "Book a line that has no job to one", func(ctx context.Context, actor app.Actor, in *struct {
		ID   int64 `path:"id"`
		Body app.Place
	},
	) (done, error) {
		return done{}, s.App.PlaceLine(ctx, actor, in.ID, in.Body)
	})
	operate(api, http.MethodPost, "/api/jobs/{id}/code", "codeHours", "Give a job's hours without a cost code one", func(ctx context.Context, actor app.Actor, in *struct {
		ID   int64 `path:"id"`
		Body Coding
	},
	) (done, error) {
		return done{}, s.App.CodeHours(ctx, actor, in.ID, in.Body.CostCodeID)
	})
}

// BookState says whose book this is; in the demo also how to sign in.
type BookState struct {
	app.BookState
	DemoSignIn   string `json:"demoSignIn,omitempty"`
	DemoPassword string `json:"demoPassword,omitempty"`
}

// CellsSaved is what was typed into a sheet.
type CellsSaved struct {
	Week  string         `json:"week" format:"date"`
	Crew  string         `json:"crew"`
	Job   string         `json:"job"`
	Edits []app.CellEdit `json:"edits" maxItems:"2000"`
}

// WorkdaysSaved is when workers of a crew were at work on a day.
type WorkdaysSaved struct {
	Date    string            `json:"date" format:"date"`
	Crew    string            `json:"crew"`
	Workers []app.WorkdayEdit `json:"workers" maxItems:"500"`
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

func (c CellsSaved) query() app.SheetQuery {
	return app.SheetQuery{Week: c.Week, Crew: c.Crew, Job: c.Job}
}

func (s *server) registerCapture(api huma.API) {
	// What stands in a problem's current, where cells were stale.
	api.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[app.StaleCell](), true, "StaleCell")
	operate(api, http.MethodGet, "/api/time/sheet", "timeSheet", "A crew's week", func(ctx context.Context, actor app.Actor, in *app.SheetQuery) (app.Sheet, error) {
		return s.App.TimeSheet(ctx, actor, *in)
	})
	operate(api, http.MethodGet, "/api/time/entries", "entryList", "Entries one by one", func(ctx context.Context, actor app.Actor, in *app.ListQuery) (app.EntryList, error) {
		return s.App.EntryList(ctx, actor, *in)
	})
	operate(api, http.MethodPut, "/api/time/cells", "saveCells", "Take what was typed into a sheet", func(ctx context.Context, actor app.Actor, in *withBody[CellsSaved]) (app.Sheet, error) {
		return s.App.SaveCells(ctx, actor, in.Body.query(), in.Body.Edits)
	})
	operate(api, http.MethodGet, "/api/time/day", "timeDay", "A crew's day by the clock", func(ctx context.Context, actor app.Actor, in *app.DayQuery) (app.DaySheet, error) {
		return s.App.DaySheet(ctx, actor, *in)
	})
	operate(api, http.MethodPut, "/api/time/day", "saveWorkdays", "Take when workers were at work", func(ctx context.Context, actor app.Actor, in *withBody[WorkdaysSaved]) (app.DaySheet, error) {
		return s.App.SaveWorkdays(ctx, actor, app.DayQuery{Date: in.Body.Date, Crew: in.Body.Crew}, in.Body.Workers)
	})
	operate(api, http.MethodPost, "/api/time/import/preview", "previewHours", "Read a table of hours", func(ctx context.Context, actor app.Actor, in *withBody[app.HoursFile]) (app.HoursPreview, error) {
		return s.App.PreviewHours(ctx, actor, in.Body)
	})
	operate(api, http.MethodPost, "/api/time/import", "bringHours", "Bring the good rows of a table of hours in", func(ctx context.Context, actor app.Actor, in *withBody[app.HoursFile]) (app.HoursPreview, error) {
		return s.App.BringHours(ctx, actor, in.Body)
	})
	operate(api, http.MethodPost, "/api/time/hand-in", "handIn", "Hand a crew's week in", func(ctx context.Context, actor app.Actor, in *withBody[CrewWeek]) (app.Sheet, error) {
		return s.App.HandIn(ctx, actor, app.SheetQuery{Week: in.Body.Week, Crew: in.Body.Crew, Job: in.Body.Job}, in.Body.Ahead)
	})
	operate(api, http.MethodGet, "/api/time/reading", "readCell", "What a text is read as", func(ctx context.Context, actor app.Actor, in *struct {
		Worker int64  `query:"worker"`
		Date   string `query:"date"`
		Text   string `query:"text"`
		Entry  int64  `query:"entry"`
	},
	) (app.CellReading, error) {
		return s.App.ReadCell(ctx, actor, in.Worker, in.Date, in.Text, in.Entry)
	})
	operate(api, http.MethodGet, "/api/time/entries/{id}/workings", "entryWorkings", "How an entry's figures came about", func(ctx context.Context, actor app.Actor, in *byID) (app.EntryWorkings, error) {
		return s.App.EntryWorkings(ctx, actor, in.ID)
	})
	operate(api, http.MethodGet, "/api/time/entries/{id}/history", "entryHistory", "What was done to an entry", func(ctx context.Context, actor app.Actor, in *byID) ([]app.HistoryLine, error) {
		return s.App.EntryHistory(ctx, actor, in.ID)
	})
	operate(api, http.MethodGet, "/api/trail", "trailSteps", "Who brought work to where it is, and when", func(ctx context.Context, actor app.Actor, in *app.TrailQuery) ([]app.TrailStep, error) {
		return s.App.TrailSteps(ctx, actor, *in)
	})
	operate(api, http.MethodGet, "/api/costs/lines/{id}/workings", "lineWorkings", "How a cost line's figures came about", func(ctx context.Context, actor app.Actor, in *byID) (app.Tape, error) {
		return s.App.LineWorkings(ctx, actor, in.ID)
	})
	operate(api, http.MethodGet, "/api/costs", "documents", "Cost documents", func(ctx context.Context, actor app.Actor, in *app.ScopeQuery) (app.DocumentList, error) {
		return s.App.Documents(ctx, actor, *in)
	})
	operate(api, http.MethodPost, "/api/costs/split", "splitCostLine", "Spread a line over jobs", func(ctx context.Context, actor app.Actor, in *withBody[app.SplitLine]) ([]app.Line, error) {
		return s.App.SplitCostLine(ctx, actor, in.Body)
	})
	operate(api, http.MethodGet, "/api/costs/habit", "supplierHabit", "What is usually bought from a supplier", func(ctx context.Context, actor app.Actor, in *struct {
		Supplier string `query:"supplier"`
	},
	) (app.Habit, error) {
		return s.App.SupplierHabit(ctx, actor, in.Supplier)
	})
	operate(api, http.MethodGet, "/api/owed", "owed", "Who is to be paid back", func(ctx context.Context, actor app.Actor, _ *nothing) (app.Owed, error) {
		return s.App.Owed(ctx, actor)
	})
	operate(api, http.MethodPost, "/api/owed", "payBack", "Pay papers back", func(ctx context.Context, actor app.Actor, in *withBody[app.PayBack]) (app.Owed, error) {
		return s.App.PayBack(ctx, actor, in.Body)
	})
	operate(api, http.MethodDelete, "/api/owed/{id}", "undoPayBack", "Take a payment away", func(ctx context.Context, actor app.Actor, in *byID) (app.Owed, error) {
		return s.App.UndoPayBack(ctx, actor, in.ID)
	})
	operate(api, http.MethodGet, "/api/costs/{id}", "document", "One cost document", func(ctx context.Context, actor app.Actor, in *byID) (app.Document, error) {
		return s.App.Document(ctx, actor, in.ID)
	})
	operate(api, http.MethodPost, "/api/costs/preview", "previewDocument", "Work a document out as it is typed", func(ctx context.Context, actor app.Actor, in *withBody[app.Document]) (app.Document, error) {
		return s.App.PreviewDocument(ctx, actor, in.Body)
	})
	operate(api, http.MethodPut, "/api/costs", "saveDocument", "Make or change a document", func(ctx context.Context, actor app.Actor, in *withBody[app.Document]) (app.Document, error) {
		return s.App.SaveDocument(ctx, actor, in.Body)
	})
	operate(api, http.MethodDelete, "/api/attachments/{id}", "detach", "Take a scan away from a paper", func(ctx context.Context, actor app.Actor, in *byID) (done, error) {
		return done{}, s.App.Detach(ctx, actor, in.ID)
	})
	operate(api, http.MethodPost, "/api/costs/{id}/hand-in", "handInDocument", "Hand a document in", func(ctx context.Context, actor app.Actor, in *atVersion) (app.Document, error) {
		return s.App.HandInDocument(ctx, actor, in.ID, in.Body.Version)
	})
	operate(api, http.MethodGet, "/api/approve", "waiting", "What waits for approval", func(ctx context.Context, actor app.Actor, in *app.ScopeQuery) (app.ApproveSheet, error) {
		return s.App.Waiting(ctx, actor, *in)
	})
	operate(api, http.MethodGet, "/api/approve/week", "checkWeek", "A worker's week beside what it is held against", func(ctx context.Context, actor app.Actor, in *struct {
		Worker int64  `query:"worker"`
		Week   string `query:"week"`
	},
	) (app.WeekCheck, error) {
		return s.App.CheckWeek(ctx, actor, in.Worker, in.Week)
	})
	operate(api, http.MethodGet, "/api/approve/decided", "decisions", "What was approved and returned last", func(ctx context.Context, actor app.Actor, _ *nothing) ([]app.Decided, error) {
		return s.App.Decisions(ctx, actor)
	})
	operate(api, http.MethodPost, "/api/approve", "approve", "Approve handed-in work", func(ctx context.Context, actor app.Actor, in *withBody[app.Decision]) (done, error) {
		return done{}, s.App.ApproveWork(ctx, actor, in.Body)
	})
	operate(api, http.MethodPost, "/api/return", "returnWork", "Return work with a reason", func(ctx context.Context, actor app.Actor, in *withBody[app.Decision]) (done, error) {
		return done{}, s.App.ReturnWork(ctx, actor, in.Body)
	})
}

func (s *server) registerBilling(api huma.API) {
	operate(api, http.MethodGet, "/api/bill", "bill", "What is ready, drafts and issued invoices", func(ctx context.Context, actor app.Actor, in *app.ScopeQuery) (app.BillSheet, error) {
		return s.App.Bill(ctx, actor, *in)
	})
	operate(api, http.MethodPost, "/api/bill/drafts", "makeDrafts", "Make drafts of what is ready", func(ctx context.Context, actor app.Actor, in *withBody[app.NewDrafts]) ([]app.DraftRow, error) {
		return s.App.MakeDrafts(ctx, actor, in.Body)
	})
	operate(api, http.MethodGet, "/api/invoices/{id}", "invoice", "A draft or an issued invoice", func(ctx context.Context, actor app.Actor, in *byID) (app.InvoiceView, error) {
		return s.App.Invoice(ctx, actor, in.ID)
	})
	operate(api, http.MethodGet, "/api/invoices/{id}/workings", "invoiceWorkings", "How what is due on an invoice came about", func(ctx context.Context, actor app.Actor, in *byID) (app.Tape, error) {
		return s.App.InvoiceWorkings(ctx, actor, in.ID)
	})
	operate(api, http.MethodPut, "/api/invoices/{id}/grouping", "regroup", "Choose how much detail the customer sees", func(ctx context.Context, actor app.Actor, in *struct {
		ID   int64 `path:"id"`
		Body Regrouping
	},
	) (app.InvoiceView, error) {
		return s.App.Regroup(ctx, actor, in.ID, in.Body.Version, in.Body.Grouping)
	})
	operate(api, http.MethodPost, "/api/invoices/{id}/drop", "dropDraft", "Drop a draft", func(ctx context.Context, actor app.Actor, in *atVersion) (done, error) {
		return done{}, s.App.DropDraft(ctx, actor, in.ID, in.Body.Version)
	})
	operate(api, http.MethodPost, "/api/invoices/{id}/issue", "issue", "Issue a draft", func(ctx context.Context, actor app.Actor, in *atVersion) (app.InvoiceView, error) {
		return s.App.Issue(ctx, actor, in.ID, in.Body.Version)
	})
	operate(api, http.MethodPost, "/api/payments", "takePayment", "Take a payment for an invoice", func(ctx context.Context, actor app.Actor, in *withBody[app.NewPayment]) (app.InvoiceView, error) {
		return s.App.TakePayment(ctx, actor, in.Body)
	})
	operate(api, http.MethodGet, "/api/jobs", "jobs", "Jobs with their money", func(ctx context.Context, actor app.Actor, in *struct {
		Closed bool `query:"closed"`
	},
	) (app.JobList, error) {
		return s.App.Jobs(ctx, actor, in.Closed)
	})
	operate(api, http.MethodGet, "/api/jobs/{number}", "jobFolder", "One job", func(ctx context.Context, actor app.Actor, in *byNumber) (app.JobFolder, error) {
		return s.App.JobFolder(ctx, actor, in.Number)
	})
	operate(api, http.MethodGet, "/api/jobs/{number}/workings", "jobWorkings", "How a job's profit came about", func(ctx context.Context, actor app.Actor, in *byNumber) (app.Tape, error) {
		return s.App.JobWorkings(ctx, actor, in.Number)
	})
}

func (s *server) registerSetup(api huma.API) {
	operate(api, http.MethodGet, "/api/users", "users", "Who may sign in", func(ctx context.Context, actor app.Actor, _ *nothing) ([]app.UserRow, error) {
		return s.App.Users(ctx, actor)
	})
	operate(api, http.MethodPost, "/api/users", "addUser", "Let somebody in", func(ctx context.Context, actor app.Actor, in *withBody[app.NewUser]) (done, error) {
		return made(s.App.AddUser(ctx, actor, in.Body))
	})
	operate(api, http.MethodPut, "/api/users/{id}", "changeUser", "Keep somebody out, or give another password", func(ctx context.Context, actor app.Actor, in *struct {
		ID   int64 `path:"id"`
		Body app.UserChange
	},
	) (done, error) {
		return done{}, s.App.ChangeUser(ctx, actor, in.ID, in.Body)
	})
	operate(api, http.MethodGet, "/api/setup", "setup", "The Setup tab", func(ctx context.Context, actor app.Actor, in *struct {
		AsOf   string `query:"asOf"`
		Worker int64  `query:"worker"`
	},
	) (app.SetupSheet, error) {
		return s.App.Setup(ctx, actor, in.AsOf, in.Worker)
	})
	operate(api, http.MethodPost, "/api/workers", "addWorker", "Add a worker", func(ctx context.Context, actor app.Actor, in *withBody[app.NewWorker]) (done, error) {
		return made(s.App.AddWorker(ctx, actor, in.Body))
	})
	operate(api, http.MethodPost, "/api/customers", "addCustomer", "Add a customer", func(ctx context.Context, actor app.Actor, in *withBody[app.NewCustomer]) (done, error) {
		return made(s.App.AddCustomer(ctx, actor, in.Body))
	})
	operate(api, http.MethodPost, "/api/jobs", "addJob", "Open a job", func(ctx context.Context, actor app.Actor, in *withBody[app.NewJob]) (done, error) {
		return made(s.App.AddJob(ctx, actor, in.Body))
	})
	operate(api, http.MethodPost, "/api/cost-codes", "addCostCode", "Add a cost code", func(ctx context.Context, actor app.Actor, in *withBody[app.NewCode]) (done, error) {
		return made(s.App.AddCostCode(ctx, actor, in.Body))
	})
	operate(api, http.MethodGet, "/api/prices", "priceList", "What is bought and used again and again", func(ctx context.Context, actor app.Actor, in *struct {
		On string `query:"on" doc:"the date whose prices are shown; blank is today"`
	},
	) ([]app.PricedItem, error) {
		return s.App.PriceList(ctx, actor, in.On)
	})
	operate(api, http.MethodPost, "/api/prices", "addItem", "Put an item on the price list", func(ctx context.Context, actor app.Actor, in *withBody[app.NewItem]) (done, error) {
		return made(s.App.AddItem(ctx, actor, in.Body))
	})
	operate(api, http.MethodPut, "/api/prices/{id}", "changeItem", "Rename an item, or take it off what is offered", func(ctx context.Context, actor app.Actor, in *struct {
		ID   int64 `path:"id"`
		Body app.ItemChange
	},
	) (done, error) {
		return done{}, s.App.ChangeItem(ctx, actor, in.ID, in.Body)
	})
	operate(api, http.MethodPost, "/api/prices/{id}/from", "addItemPrice", "Give an item a price from a date on", func(ctx context.Context, actor app.Actor, in *struct {
		ID   int64 `path:"id"`
		Body app.NewItemPrice
	},
	) (done, error) {
		return done{}, s.App.AddItemPrice(ctx, actor, in.ID, in.Body)
	})
	operate(api, http.MethodPost, "/api/wages", "addWage", "Add a dated wage", func(ctx context.Context, actor app.Actor, in *withBody[app.NewWage]) (done, error) {
		return done{}, s.App.AddWage(ctx, actor, in.Body)
	})
	operate(api, http.MethodPost, "/api/burdens", "addBurden", "Add a dated burden component", func(ctx context.Context, actor app.Actor, in *withBody[app.NewBurden]) (done, error) {
		return done{}, s.App.AddBurden(ctx, actor, in.Body)
	})
	operate(api, http.MethodPost, "/api/labour-rates", "addLabourRate", "Add a labour row to a card", func(ctx context.Context, actor app.Actor, in *withBody[app.NewLabourRate]) (done, error) {
		return done{}, s.App.AddLabourRate(ctx, actor, in.Body)
	})
	operate(api, http.MethodPost, "/api/markups", "addMarkup", "Add a markup band to a card", func(ctx context.Context, actor app.Actor, in *withBody[app.NewMarkup]) (done, error) {
		return done{}, s.App.AddMarkup(ctx, actor, in.Body)
	})
}

func (s *server) registerClock(api huma.API) {
	type ofWeek struct {
		Week string `query:"week"`
	}
	operate(api, http.MethodGet, "/api/clock", "clock", "A worker's own page", func(ctx context.Context, actor app.Actor, in *ofWeek) (app.ClockPage, error) {
		return s.App.Clock(ctx, actor, in.Week)
	})
	operate(api, http.MethodPost, "/api/clock/in", "clockIn", "Begin to work", func(ctx context.Context, actor app.Actor, in *withBody[app.ClockIn]) (app.ClockPage, error) {
		return s.App.ClockIn(ctx, actor, in.Body)
	})
	operate(api, http.MethodPost, "/api/clock/break", "clockBreak", "Begin or end a break", func(ctx context.Context, actor app.Actor, in *withBody[Break]) (app.ClockPage, error) {
		return s.App.ClockBreak(ctx, actor, in.Body.On)
	})
	operate(api, http.MethodPost, "/api/clock/out", "clockOut", "End the work", func(ctx context.Context, actor app.Actor, in *withBody[app.ClockOut]) (app.ClockPage, error) {
		return s.App.ClockOut(ctx, actor, in.Body)
	})
	operate(api, http.MethodPost, "/api/clock/hours", "fillIn", "Book own hours for a day", func(ctx context.Context, actor app.Actor, in *withBody[app.OwnHours]) (app.ClockPage, error) {
		return s.App.FillIn(ctx, actor, in.Body)
	})
	operate(api, http.MethodPut, "/api/clock/hours/{id}", "changeOwn", "Correct an own entry", func(ctx context.Context, actor app.Actor, in *struct {
		ID   int64 `path:"id"`
		Body app.OwnChange
	},
	) (app.ClockPage, error) {
		return s.App.ChangeOwn(ctx, actor, in.ID, in.Body)
	})
	operate(api, http.MethodPost, "/api/clock/hand-in", "handInOwn", "Hand the own week in", func(ctx context.Context, actor app.Actor, in *withBody[OwnWeek]) (app.ClockPage, error) {
		return s.App.HandInOwn(ctx, actor, in.Body.Week, in.Body.Ahead)
	})
}
