package api

import (
	"encoding/json"
	"maps"
	"net/http"
	"reflect"
	"slices"
	"strconv"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"
	"github.com/go-chi/chi/v5"

	bill "jarvo/internal/app/billing"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/exchange"
	"jarvo/internal/app/reports"
	"jarvo/internal/core/billing"
	"jarvo/internal/paper"
)

// cookieName is the cookie that a session goes by, and in the description the name of that way in.
const cookieName = "jarvo"

// groups are the parts of the interface, and how the addresses of each begin.
var groups = []struct {
	name, doc string
	starts    []string
}{
	{"Door", "The book, who may sign in, and sessions.", []string{"state", "book", "session", "users"}},
	{"Time", "Hours by the week, the day or the line, and hours that come in as a table.", []string{"time"}},
	{"Costs", "Suppliers' invoices, receipts, claims and logs, their scans, and what is paid back.", []string{"costs", "attachments", "owed"}},
	{"Approval", "What was handed in, and loose ends.", []string{"approve", "return", "take-back", "today", "loose-ends", "trail"}},
	{"Billing", "What is ready, drafts, invoices and payments.", []string{
		"bill", "invoices", "payments", "refunds", "credit", "bank", "messages", "reminders", "message-texts", "holds",
		"instalments", "write-downs",
	}},
	{"Jobs", "Jobs with their money, and reports.", []string{"jobs", "reports"}},
	{
		"Setup", "Workers, customers, rates, burdens, markups and prices, all by date.",
		[]string{
			"setup", "workers", "customers", "suppliers", "pages", "trades", "cost-codes", "wages", "burdens", "labour-rates", "markups", "prices",
			"item-prices", "units", "tax-codes", "company", "logos",
		},
	},
	{"Clock", "A worker's own hours.", []string{"clock"}},
	{
		"Sheets", "What every sheet shows: choices, totals, what waits, what others change.",
		[]string{"choices", "find", "footing", "counts", "news"},
	},
}

// figures are shapes that many properties share. A property says by its format which it is.
var figures = map[string]*huma.Schema{
	"decimal": {
		Type: huma.TypeString, Pattern: `^(-?[0-9]+(\.[0-9]+)?)?$`, Examples: []any{"1240.50"},
		Description: "Money, hours, a quantity or a percentage to the last place that counts: never a binary fraction. Blank where there is " +
			"none.",
	},
}

// words are what properties can hold that are not free text. They are not held against what is sent: the use cases refuse in better
// sentences.
var words = func() map[string][]string {
	var groupings []string
	for _, g := range billing.Groupings {
		groupings = append(groupings, string(g))
	}
	bases, jobs := []string{"tm", "fixed", "none"}, []string{"quoting", "live", "paused", "finished", "closed"}
	papers := []string{"supplier_invoice", "receipt", "claim", "mileage", "plant"}
	return map[string][]string{
		"NewJob.basis": bases, "JobRow.basis": bases, "JobFolder.basis": bases, "JobChoice.basis": bases, "JobRow.status": jobs,
		"JobFolder.status": jobs, "NewJob.status": jobs,
		"Document.kind": papers, "DocumentRow.kind": papers, "Regrouping.grouping": groupings, "InvoiceView.grouping": groupings,
		"PartOf.kind": bill.SourceKinds, "PartOf.way": bill.PartWays, "PartOf.rest": bill.Rests,
		"CreditLine.kind": bill.CreditKinds, "CreditLine.becomes": bill.Becomes, "CreditRow.becomes": bill.Becomes,
		"Creditable.kind":   bill.CreditKinds,
		"RecurringRow.step": billing.Steps, "NewRecurring.step": billing.Steps,
		"InstalmentRow.by": bill.InstalmentWays,
		"LetSource.kind":   bill.SourceKinds, "WorkRef.kind": bill.SourceKinds, "TypedLine.kind": bill.TypedKinds,
		"TypedLine.category": bill.TypedCategories,
		"Link.kind": {
			"crew_week", "crew", "job", "budget", "terms", "ready", "wage", "labour_rate", "markup", "cost_document", "owed", "approve",
			"invoice", "draft", "supplier", "worker", "customer", "item", "user", "message", "payments",
		},
		"NewWorker.kind": {"employee", "hired"}, "WorkerRow.kind": {"employee", "hired"}, "NewBurden.basis": {"gross", "straight", "hour"},
		"NewLabourRate.method": {"hourly", "markup"}, "LabourRateRow.method": {"hourly", "markup"},
		"UserRow.role":      {"owner", "bookkeeper", "manager", "foreman", "worker"},
		"EntryRow.payClass": {"auto", "regular", "overtime", "double", "leave"}, "CheckedEntry.status": {"draft", "submitted", "approved"},
	}
}()

// Describe is the OpenAPI description of all operations, as indented JSON.
func Describe() ([]byte, error) {
	api := humachi.New(chi.NewRouter(), Config())
	(&server{}).register(api)
	o := api.OpenAPI()
	o.Info.Description = "Crew hours, materials and expenses booked to jobs, billed by time and materials. Refusals are problems as RFC " +
		"9457 describes them."
	o.Info.License = &huma.License{Name: "All rights reserved", Identifier: "LicenseRef-All-rights-reserved"}
	o.Servers = []*huma.Server{{URL: "/", Description: "The server that this came from"}}
	o.Security = []map[string][]string{{cookieName: {}}}
	o.Components.SecuritySchemes = map[string]*huma.SecurityScheme{
		cookieName: {Type: "apiKey", In: "cookie", Name: cookieName, Description: "Set by signing in."},
	}
	for _, g := range groups {
		o.Tags = append(o.Tags, &huma.Tag{Name: g.name, Description: g.doc})
	}
	describeFiles(o)
	describeBook(o)
	for path, item := range o.Paths {
		for _, op := range []*huma.Operation{item.Get, item.Post, item.Put, item.Delete} {
			if op != nil {
				describeOperation(o, path, op)
			}
		}
	}
	schemas := o.Components.Schemas.Map()
	for name, schema := range schemas {
		describeSchema(name, schema)
	}
	for name, schema := range figures {
		schemas[figureName(name)] = schema
	}
	return json.MarshalIndent(o, "", "  ")
}

func figureName(format string) string { return strings.ToUpper(format[:1]) + format[1:] }

// describeOperation says to which group an operation belongs, who may call it and how it can be refused.
func describeOperation(o *huma.OpenAPI, path string, op *huma.Operation) {
	start := strings.Split(path, "/")[2]
	for _, g := range groups {
		if slices.Contains(g.starts, start) {
			op.Tags = []string{g.name}
		}
	}
	op.Description = op.Summary + "."
	refusals := []int{http.StatusUnprocessableEntity, http.StatusTooManyRequests, http.StatusServiceUnavailable}
	if op.Metadata["open"] == true {
		op.Security = []map[string][]string{}
	} else {
		refusals = append(refusals, http.StatusUnauthorized, http.StatusForbidden, http.StatusNotFound)
	}
	if op.Metadata["conflicts"] == true {
		refusals = append(refusals, http.StatusConflict)
	}
	if op.Method != http.MethodGet {
		refusals = append(refusals, http.StatusBadRequest, http.StatusConflict, http.StatusRequestEntityTooLarge, http.StatusInsufficientStorage)
	}
	for _, body := range contentOf(op) {
		properties := resolved(o, body.Schema).Properties
		if properties["key"] != nil {
			op.Description += " With the same key and the same content it is done once, however often it is sent; with other content it is " +
				"refused with 409."
		}
		if properties["version"] != nil {
			op.Description += " Where it has been changed since that version it is refused with 409, and what stands there now is in current."
		}
	}
	for status := range op.Responses {
		if status == "default" || status[0] >= '4' {
			delete(op.Responses, status)
		}
	}
	for _, status := range refusals {
		op.Responses[strconv.Itoa(status)] = &huma.Response{
			Description: http.StatusText(status),
			Content:     map[string]*huma.MediaType{"application/problem+json": {Schema: &huma.Schema{Ref: "#/components/schemas/Problem"}}},
		}
	}
}

func contentOf(op *huma.Operation) map[string]*huma.MediaType {
	if op.RequestBody == nil {
		return nil
	}
	return op.RequestBody.Content
}

func resolved(o *huma.OpenAPI, schema *huma.Schema) *huma.Schema {
	if schema.Ref != "" {
		return o.Components.Schemas.SchemaFromRef(schema.Ref)
	}
	return schema
}

// describeSchema points properties that are figures to their shape, and says what words the others can hold.
func describeSchema(name string, schema *huma.Schema) {
	for property, s := range schema.Properties {
		if _, figure := figures[s.Format]; figure {
			schema.Properties[property] = &huma.Schema{
				Ref: "#/components/schemas/" + figureName(s.Format), Description: s.Description, ReadOnly: s.ReadOnly,
			}
		}
		if s.Format == "date" {
			s.Examples = []any{"2026-11-16"}
		}
		for _, word := range words[name+"."+property] {
			s.Enum = append(s.Enum, word)
		}
	}
}

// param describes a parameter; those of the path must be given.
func param(name, in, doc string, schema *huma.Schema) *huma.Param {
	return &huma.Param{Name: name, In: in, Description: doc, Schema: schema, Required: in == "path"}
}

// file describes the answer that is a file of one of some kinds.
func file(media ...string) map[string]*huma.Response {
	content := map[string]*huma.MediaType{}
	for _, m := range media {
		content[m] = &huma.MediaType{Schema: &huma.Schema{Type: huma.TypeString, Format: "binary"}}
	}
	return map[string]*huma.Response{"200": {Description: "The file", Content: content}}
}

// jsonOf describes what is sent or answered as JSON.
func jsonOf(o *huma.OpenAPI, value reflect.Type) map[string]*huma.MediaType {
	return map[string]*huma.MediaType{"application/json": {Schema: o.Components.Schemas.Schema(value, true, "")}}
}

// describeBook describes the whole book going out, and bundles coming in.
func describeBook(o *huma.OpenAPI) {
	text := &huma.Schema{Type: huma.TypeString}
	for _, out := range [][3]string{
		{"backup", "A consistent copy of the whole book; for an owner", "application/vnd.sqlite3"},
		{"bundle", "The book as a bundle of open files", "application/zip"}, {"starter", "A bundle to fill in", "application/zip"},
	} {
		o.AddOperation(&huma.Operation{
			OperationID: out[0], Method: http.MethodGet, Path: "/api/book/" + out[0], Summary: out[1], Responses: file(out[2]),
		})
	}
	o.AddOperation(&huma.Operation{
		OperationID: "bringIn", Method: http.MethodPost, Path: "/api/book/bring-in", Summary: "Bring a bundle in, or say what would come in",
		Parameters: []*huma.Param{
			param("name", "query", "what the file is called: one of a bundle's CSV files, else it is a zip", text),
			param("try", "query", "yes to keep nothing of it", &huma.Schema{Type: huma.TypeString, Enum: []any{"yes"}}),
		},
		RequestBody: &huma.RequestBody{Required: true, Content: file("application/zip", "text/csv")["200"].Content},
		Responses: map[string]*huma.Response{"200": {
			Description: "What came in, by file", Content: jsonOf(o, reflect.TypeFor[[]exchange.Brought]()),
		}},
	})
}

// describeFiles describes what is served beside the operations: signing in, and files.
func describeFiles(o *huma.OpenAPI) {
	text := &huma.Schema{Type: huma.TypeString}
	number := &huma.Schema{Type: huma.TypeInteger, Format: "int64"}
	o.AddOperation(&huma.Operation{
		OperationID: "signIn", Method: http.MethodPost, Path: "/api/session", Summary: "Sign in", Metadata: map[string]any{"open": true},
		RequestBody: &huma.RequestBody{Required: true, Content: jsonOf(o, reflect.TypeFor[SignIn]())},
		Responses: map[string]*huma.Response{"200": {
			Description: "Who is signed in now; the cookie is set", Content: jsonOf(o, reflect.TypeFor[Who]()),
		}},
	})
	for _, name := range slices.Sorted(maps.Keys(paper.Invoices)) {
		format := paper.Invoices[name]
		o.AddOperation(&huma.Operation{
			OperationID: "invoiceAs" + strings.ToUpper(name), Method: http.MethodGet, Path: "/api/invoices/{id}/" + name,
			Summary: "An invoice as " + strings.ToUpper(name), Responses: file(format.Media),
			Metadata: map[string]any{"conflicts": true}, // an e-invoice may lack something
			Parameters: []*huma.Param{param("id", "path", "of the invoice", number), param(
				"backup", "query", "yes for the work behind it as well", &huma.Schema{Type: huma.TypeString, Enum: []any{"yes"}},
			)},
		})
	}
	formats := &huma.Schema{Type: huma.TypeString, Enum: []any{"csv", "json", "xlsx"}}
	day := &huma.Schema{Type: huma.TypeString, Format: "date"}
	var names []any
	for _, name := range reports.Names() {
		names = append(names, name)
	}
	o.AddOperation(&huma.Operation{
		OperationID: "report", Method: http.MethodGet, Path: "/api/reports/{name}", Summary: "A report",
		Responses: file(paper.Invoices["csv"].Media, "application/json", paper.Invoices["xlsx"].Media),
		Parameters: []*huma.Param{
			param("name", "path", "which one", &huma.Schema{Type: huma.TypeString, Enum: names}),
			param("format", "query", "csv where absent", formats), param("from", "query", "its first day", day),
			param("through", "query", "its last day", day), param("job", "query", "the number of a job, to see it alone", text),
		},
	})
	rows := &huma.Schema{Type: huma.TypeArray, Items: &huma.Schema{Type: huma.TypeObject, AdditionalProperties: text}}
	o.Paths["/api/reports/{name}"].Get.Responses["200"].Content["application/json"] = &huma.MediaType{Schema: rows}
	o.AddOperation(&huma.Operation{
		OperationID: "crewPaper", Method: http.MethodGet, Path: "/api/time/paper", Summary: "A crew's week on paper",
		Responses: file(paper.Invoices["pdf"].Media),
		Parameters: []*huma.Param{
			param("week", "query", "a day of it", day), param("crew", "query", "blank for all", text),
			param("job", "query", "the number of a job", text),
			param("blank", "query", "yes for one to fill in", &huma.Schema{Type: huma.TypeString, Enum: []any{"yes"}}),
		},
	})
	o.AddOperation(&huma.Operation{
		OperationID: "accountStatement", Method: http.MethodGet, Path: "/api/customers/{id}/statement",
		Summary: "A statement of account, of the last quarter", Responses: file(paper.Invoices["pdf"].Media),
		Parameters: []*huma.Param{param("id", "path", "of the customer", number)},
	})
	describeMessages(o)
	logos := []string{"image/jpeg", "image/png"}
	o.AddOperation(&huma.Operation{
		OperationID: "setLogo", Method: http.MethodPost, Path: "/api/company/logo", Summary: "Set the mark on papers, or take it away",
		Parameters:  []*huma.Param{param("version", "query", "of the company's settings, as they were seen", number)},
		RequestBody: &huma.RequestBody{Content: file(logos...)["200"].Content},
		Responses:   map[string]*huma.Response{"204": {Description: "It is set"}},
	})
	o.AddOperation(&huma.Operation{
		OperationID: "logo", Method: http.MethodGet, Path: "/api/logos/{sum}", Summary: "A mark of papers", Responses: file(logos...),
		Parameters: []*huma.Param{param("sum", "path", "its checksum", text)},
	})
	scans := []string{"application/pdf", "image/jpeg", "image/png"}
	o.AddOperation(&huma.Operation{
		OperationID: "attach", Method: http.MethodPost, Path: "/api/costs/{id}/attachments", Summary: "Add a scan to a paper",
		Parameters:  []*huma.Param{param("id", "path", "of the cost document", number), param("name", "query", "what the file is called", text)},
		RequestBody: &huma.RequestBody{Required: true, Content: file(scans...)["200"].Content},
		Responses:   map[string]*huma.Response{"200": {Description: "The scan", Content: jsonOf(o, reflect.TypeFor[costs.Attachment]())}},
	})
	o.AddOperation(&huma.Operation{
		OperationID: "attachment", Method: http.MethodGet, Path: "/api/attachments/{id}", Summary: "A scan", Responses: file(scans...),
		Parameters: []*huma.Param{param("id", "path", "of the scan", number), param(
			"keep", "query", "yes to save it", &huma.Schema{Type: huma.TypeString, Enum: []any{"yes"}},
		)},
	})
}

// describeMessages describes the files of messages.
func describeMessages(o *huma.OpenAPI) {
	number := &huma.Schema{Type: huma.TypeInteger, Format: "int64"}
	id := param("id", "path", "of the message", number)
	o.AddOperation(&huma.Operation{
		OperationID: "messageAsMail", Method: http.MethodGet, Path: "/api/messages/{id}/mail", Summary: "A message as mail programs open it",
		Responses: file("message/rfc822"), Parameters: []*huma.Param{id},
	})
	o.AddOperation(&huma.Operation{
		OperationID: "messageFile", Method: http.MethodGet, Path: "/api/messages/{id}/files/{position}", Summary: "What is attached to a message",
		Responses:  file(paper.Invoices["pdf"].Media, paper.Invoices["ubl"].Media),
		Parameters: []*huma.Param{id, param("position", "path", "which of them, from 1", number)},
	})
}
