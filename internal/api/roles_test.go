package api_test

import (
	"cmp"
	"encoding/json"
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/api"
	"jarvo/internal/app/access"
	"jarvo/internal/app/approve"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/customers"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/people"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/timesheet"
)

// needs is the permission that each operation asks for; anybody who is signed in may call those under the blank one.
var needs = map[book.Permission][]string{
	"":         {"whoAmI", "changePassword"},
	book.Clock: {"clock", "clockIn", "clockBreak", "clockOut", "fillIn", "changeOwn", "handInOwn"},
	book.Capture: {
		"choices", "find", "footing", "counts", "today",
		"timeSheet", "saveCells", "handIn", "readCell", "entryHistory", "trailSteps", "entryList",
		"timeDay", "saveWorkdays", "dayLog", "saveDayLog",
		"previewHours", "bringHours", "setAside", "bringBack", "crewPaper",
	},
	book.SeeMoney: {
		"entryWorkings", "lineWorkings", "jobWorkings", "uncharged", "jobs", "jobFolder", "report",
		"documents", "document", "attachment", "checkWeek", "page", "logo",
	},
	book.Costs: {
		"splitCostLine", "supplierHabit", "previewDocument", "saveDocument", "detach", "handInDocument", "deleteDocument",
		"attach", "placeLine", "priceList", "suppliers",
	},
	book.Approve: {"waiting", "decisions", "approve", "returnWork", "takeBack", "owed", "codeHours", "payBack", "undoPayBack", "voidDocument"},
	book.Bill: {
		"bill", "invoice", "invoiceAsPDF", "invoiceAsCSV", "invoiceAsUBL", "invoiceAsEN16931",
		"invoiceAsXLSX", "invoiceWorkings", "makeDrafts", "regroup",
		"chooseParts", "letGo", "typeLines", "setHead", "startDraft", "creditable", "creditInvoice", "schedule", "saveSchedule", "billProgress",
		"saveInstalments", "reachInstalment", "releaseRetainage", "takeWriteDownBack", "joinDrafts", "applyDeposits", "heldByLimits", "letBeyond",
		"moveSources",
		"recurring", "saveRecurring", "makeRecurring", "deleteRecurring",
		"dropDraft", "issue", "takePayment", "payments", "takePaymentBack", "openInvoices", "refund", "applyCredit", "accountStatement",
		"bank", "readStatement", "takeSlips", "setSlipAside",
		"outbox", "messagesAbout", "proposeMessage", "sendMessage", "message", "tryAgain", "cancelMessage", "resumeMessages", "reminders",
		"remind",
		"messageTexts", "saveMessageText", "messageAsMail", "messageFile",
	},
	ownerOnly:     {"users", "addUser", "changeUser", "backup"},
	book.Exchange: {"bundle", "starter", "bringIn", "importProgress"},
	book.Setup: {
		"company", "changeCompany", "addTaxCode", "changeTaxCode", "deleteTaxCode", "setup", "addWorker", "addCustomer", "addJob",
		"addCostCode", "addItem", "changeItem", "addItemPrice", "addWage",
		"addBurden", "addLabourRate", "addMarkup", "changeWage", "changeBurden", "changeLabourRate", "changeMarkup",
		"deleteWage", "deleteBurden", "deleteLabourRate", "deleteMarkup",
		"changeWorker", "changeCustomer", "changeCostCode", "changeJob", "saveBudget", "deleteWorker", "deleteCustomer", "deleteCostCode",
		"deleteJob",
		"addSupplier", "changeSupplier", "mergeSupplier", "mergeCustomer",
		"deleteSupplier", "changeTrade", "deleteTrade", "deleteItem", "changeItemPrice",
		"deleteItemPrice", "setLogo", "addUnit", "changeUnit", "deleteUnit",
	},
}

// ownerOnly are operations that no other role may call, whatever it is permitted.
const ownerOnly book.Permission = "owner"

// may says what each role may do, as it is promised: app has its own list.
var may = map[book.Role][]book.Permission{
	book.Owner:      {"", book.Capture, book.SeeMoney, book.Costs, book.Approve, book.Bill, book.Setup, book.Exchange, ownerOnly},
	book.Bookkeeper: {"", book.Capture, book.SeeMoney, book.Costs, book.Approve, book.Bill, book.Setup, book.Exchange},
	book.Manager:    {"", book.Capture, book.SeeMoney, book.Costs, book.Approve},
	book.Foreman:    {"", book.Capture},
	book.Worker:     {"", book.Clock},
}

// questions are what some operations can't be called without.
var questions = map[string]string{
	"trailSteps": "?kind=time_entry&ids=1", "timeSheet": "?week=2026-11-16", "readCell": "?worker=1&date=2026-11-16&text=9&entry=1",
	"timeDay": "?date=2026-11-16", "dayLog": "?date=2026-11-16&crew=Pile", "checkWeek": "?worker=1&week=2026-11-16",
	"crewPaper": "?week=2026-11-16", "supplierHabit": "?supplier=Bellhaven%20Timber", "today": "?week=2026-11-16", "clock": "?week=2026-11-16",
}

// otherCrew are what a foreman is refused for a worker of another crew, and is not for one of theirs.
var otherCrew = []string{"readCell", "entryHistory"}

// notCalled are operations that need no sign-in, end the session, or go on for as long as they are listened to.
var notCalled = []string{"state", "openBook", "signIn", "signOut", "news"}

type operation struct {
	id, method, path string
}

// operations are all that the description of the interface has.
func operations(t *testing.T) []operation {
	t.Helper()
	data, err := api.Describe()
	require.NoError(t, err)
	var described struct {
		Paths map[string]map[string]struct {
			OperationID string `json:"operationId"`
		} `json:"paths"`
	}
	require.NoError(t, json.Unmarshal(data, &described))
	var all []operation
	for path, methods := range described.Paths {
		for method, op := range methods {
			all = append(all, operation{
				op.OperationID, strings.ToUpper(method),
				strings.NewReplacer("{id}", "1", "{number}", "1", "{name}", "labour", "{kind}", "worker", "{sum}", "none").Replace(path) +
					questions[op.OperationID],
			})
		}
	}
	return all
}

// bodies that pass the check of their shape, so that what refuses is the permission.
// queries are what operations need in their addresses.
var queries = map[string]string{"detach": "?version=1"}

var bodies = map[string]string{
	"takePaymentBack": `{"reason":""}`,
	"saveBudget":      `{"version":9,"rows":[]}`,
	"changeCompany": `{"version":9,"name":"","address":"","email":"","phone":"","taxNumber":"","currency":"","timeZone":"",` +
		`"postCode":"","city":"","region":"","country":"","daysAhead":"","missingDays":"","weekStart":"",` +
		`"termsDays":"","unbilledAlertDays":"","invoicePrefix":"","nextInvoiceNumber":"","nextJobNumber":"","overtimeWeekly":"",` +
		`"overtimeDaily":"","doubleDaily":"","overtimeFactor":"","doubleFactor":"","overtimeDays":[],"doubleDays":[],` +
		`"holidayClass":"","purchaseTax":"",` +
		`"distanceUnit":"","card":"","taxCode":"","holidays":[]}`,
	"addTaxCode": `{"code":"","components":[]}`, "changeTaxCode": `{"code":"","components":[],"version":9}`, "deleteTaxCode": `{"version":9}`,
	"changeWorker":   `{"version":9,"name":"","trade":"","crew":"","burdenClass":"","kind":"","exempt":false,"active":true}`,
	"changeCustomer": `{"version":9,"name":"","active":true}`, "changeCostCode": `{"version":9,"code":"","name":"","active":true}`,
	"changeJob": `{"version":9,"number":"","name":"","basis":""}`, "deleteWorker": `{"version":9}`, "deleteCustomer": `{"version":9}`,
	"deleteCostCode": `{"version":9}`, "deleteJob": `{"version":9}`,
	"setAside": `{"kind":"","subject":"","reason":""}`, "placeLine": `{"jobId":1,"version":1}`, "codeHours": `{"costCodeId":1,"entries":1}`,
	"addItem":      `{"code":"","description":"","category":"","effectiveFrom":"2026-01-01","unitCost":""}`,
	"addItemPrice": `{"effectiveFrom":"2026-01-01","unitCost":""}`, "deleteItem": `{"version":9}`,
	"changeItem":      `{"version":9,"description":"","unit":"","active":true}`,
	"changeItemPrice": `{"version":9,"effectiveFrom":"2026-01-01","unitCost":""}`, "deleteItemPrice": `{"version":9}`,
	"addSupplier": `{"name":""}`, "changeSupplier": `{"version":9,"name":"","active":true}`, "deleteSupplier": `{"version":9}`,
	"mergeSupplier": `{"version":9,"into":1,"intoVersion":1}`, "mergeCustomer": `{"version":9,"into":1,"intoVersion":1}`,
	"changeTrade": `{"version":9,"name":"","active":true}`,
	"deleteTrade": `{"version":9}`,
	"addUnit":     `{"name":"","code":""}`, "changeUnit": `{"version":9,"name":"","code":""}`, "deleteUnit": `{"version":9}`,
	"voidDocument": `{"version":9,"reason":""}`,
	"payBack":      `{"key":"","workerId":1,"documentIds":[],"amount":"","date":"2026-11-16"}`,
	"addBurden":    `{"burdenClass":"","component":"","effectiveFrom":"2026-01-01","basis":"","value":""}`,
	"addCostCode":  `{"code":"","name":""}`, "addCustomer": `{"name":""}`, "addJob": `{"number":"","name":"","basis":""}`,
	"addLabourRate":    `{"card":"","effectiveFrom":"2026-01-01","method":"","value":""}`,
	"addMarkup":        `{"card":"","effectiveFrom":"2026-01-01","category":"","percent":""}`,
	"addWage":          `{"workerId":1,"rate":"","effectiveFrom":"2026-01-01"}`,
	"changeWage":       `{"workerId":1,"rate":"","effectiveFrom":"2026-01-01","version":1}`,
	"changeBurden":     `{"burdenClass":"","component":"","effectiveFrom":"2026-01-01","basis":"","value":"","version":1}`,
	"changeLabourRate": `{"card":"","effectiveFrom":"2026-01-01","method":"","value":"","version":1}`,
	"changeMarkup":     `{"card":"","effectiveFrom":"2026-01-01","category":"","percent":"","version":1}`,
	"deleteWage":       `{"version":9}`, "deleteBurden": `{"version":9}`, "deleteLabourRate": `{"version":9}`, "deleteMarkup": `{"version":9}`,
	"addWorker": `{"name":"","trade":"","crew":"","burdenClass":"","kind":"","exempt":false,"wage":"","wageFrom":"2026-01-01"}`,
	"approve":   `{"entries":[],"documents":[]}`, "returnWork": `{"entries":[],"documents":[]}`, "takeBack": `{"entries":[],"documents":[]}`,
	"changePassword": `{"had":"","password":""}`, "handInDocument": `{"version":1}`,
	"deleteDocument": `{"version":1}`,
	"dropDraft":      `{"version":1}`, "issue": `{"version":1}`,
	"regroup": `{"version":1,"grouping":"one"}`, "letGo": `{"jobId":1,"amount":""}`,
	"takeWriteDownBack": `{"key":"back-123456"}`,
	"joinDrafts":        `{"version":1,"drafts":[{"id":2,"version":1}]}`,
	"saveRecurring": `{"key":"again-1234","text":"Berth","first":"2026-11-23","every":"1","step":"months",` +
		`"lines":[{"kind":"line","job":"101","category":"other","text":"Berth","amount":"120"}]}`,
	"deleteRecurring":  `{"version":1}`,
	"moveSources":      `{"version":1,"sources":[{"kind":"time_entry","id":1}]}`,
	"letBeyond":        `{"sources":[{"kind":"time_entry","id":1,"left":""}]}`,
	"applyDeposits":    `{"version":1,"deposits":[{"id":1,"amount":"1"}]}`,
	"releaseRetainage": `{"key":"release-1234","date":"2026-11-23","jobs":[{"jobId":1}]}`,
	"saveSchedule":     `{"version":1,"lines":[]}`,
	"billProgress":     `{"lines":[{"line":0,"percent":"10"}]}`,
	"saveInstalments":  `{"version":1,"instalments":[]}`,
	"reachInstalment":  `{"version":1,"date":"2026-11-23"}`,
	"creditInvoice":    `{"key":"credit-1234","date":"2026-11-23","lines":[{"kind":"source","id":1,"becomes":"again"}]}`,
	"typeLines":        `{"version":1,"lines":[{"kind":"line","job":"101","category":"other","text":"Mooring fee","amount":"5"}]}`,
	"setHead":          `{"version":1,"date":"2026-11-23","due":"2026-12-23"}`,
	"startDraft": `{"key":"start-12345","date":"2026-11-23",` +
		`"lines":[{"kind":"line","job":"101","category":"other","text":"Fee","amount":"5"}]}`,
	"chooseParts":     `{"version":1,"parts":[{"kind":"time_entry","id":1,"way":"rest"}]}`,
	"makeDrafts":      `{"key":"","jobs":[],"through":"2026-01-01","date":"2026-01-01"}`,
	"takePayment":     `{"customerId":1,"amount":"","date":"2026-01-01"}`,
	"readStatement":   `{"content":"eA=="}`,
	"takeSlips":       `{"slips":[{"id":1}]}`,
	"setSlipAside":    `{"reason":"","was":""}`,
	"sendMessage":     `{"invoiceId":1,"to":"a@b.example","subject":"x","body":"","with":[]}`,
	"tryAgain":        `{"to":"a@b.example","version":1}`,
	"cancelMessage":   `{"version":1}`,
	"resumeMessages":  `{"waiting":0}`,
	"remind":          `{"reminders":[]}`,
	"saveMessageText": `{"kind":"invoice","subject":"x","body":"y","version":0}`,
	"refund":          `{"customerId":1,"amount":"","date":"2026-01-01"}`,
	"applyCredit":     `{"invoiceId":1,"amount":"","date":"2026-01-01"}`,
	"saveDocument":    `{"kind":"","supplier":"","date":"2026-01-01","number":"","freight":"","tax":"","lines":[]}`,
	"previewDocument": `{"kind":"","supplier":"","date":"2026-01-01","number":"","freight":"","tax":"","lines":[]}`,
	"addUser":         `{"name":"","signIn":"","password":"","role":"owner"}`, "changeUser": `{"version":1,"active":true}`,
	"saveDayLog": `{"date":"2026-11-16","crew":"Pile","version":0,"note":"","plant":[]}`,
	"clockIn":    `{"key":"","jobId":1}`, "clockBreak": `{"on":true}`, "clockOut": `{}`,
	"fillIn": `{"key":"","date":"2026-11-16","text":"","jobId":1}`, "changeOwn": `{"week":"2026-11-16","version":1,"text":""}`,
	"handInOwn":    `{"week":"2026-11-16","mark":""}`,
	"previewHours": `{"key":"","text":"","week":"2026-11-16"}`, "bringHours": `{"key":"","text":"","week":"2026-11-16"}`,
	"splitCostLine": `{"date":"2026-11-16","line":{"category":"","description":"","quantity":"","unit":"","unitCost":"","billable":true},
		"how":"equally","parts":[]}`,
	"saveWorkdays": `{"date":"2026-11-16","crew":"","workers":[]}`,
	"saveCells":    `{"week":"2026-11-16","crew":"","job":"","edits":[]}`, "handIn": `{"week":"2026-11-16","crew":"","job":"","mark":""}`,
}

func (b browser) call(op operation) (int, string) {
	b.t.Helper()
	var body any
	if text := bodies[op.id]; text != "" {
		body = json.RawMessage(text)
	}
	response, text := b.send(op.method, op.path+queries[op.id], body)
	return response.StatusCode, text
}

// plant makes a book whose first records hold sums and names that are looked for in what others are sent: a worker, hours, a paper, rates
// and a draft of another crew.
func (b browser) plant() (planted []string, mine int64) {
	b.t.Helper()
	ctx, owner := b.t.Context(), book.Actor{UserID: 1, Name: "Ada", Role: book.Owner}
	worker, err := people.Add(ctx, b.app, owner, people.NewWorker{
		Name: "Zuzana Quill", Crew: "Dive", Trade: "diver", Wage: "98.76", WageFrom: "2026-01-01",
	})
	require.NoError(b.t, err)
	mine, err = people.Add(ctx, b.app, owner, people.NewWorker{Name: "Cato Brandl", Crew: "Pile", Wage: "31.23", WageFrom: "2026-01-01"})
	require.NoError(b.t, err)
	customer, err := customers.Add(ctx, b.app, owner, customers.NewCustomer{Name: "Ferry Landing Trust"})
	require.NoError(b.t, err)
	job, err := jobs.Add(ctx, b.app, owner, jobs.NewJob{Name: "Slip", Number: "1", Basis: "tm", CustomerID: customer})
	require.NoError(b.t, err)
	require.NoError(b.t, rates.AddLabourRate(ctx, b.app, owner, rates.NewLabourRate{
		From: "2026-01-01", WorkerID: worker, Method: "hourly", Value: "187.65",
	}))
	require.NoError(b.t, rates.AddMarkup(ctx, b.app, owner, rates.NewMarkup{
		From: "2026-01-01", Category: "material", OverCost: "0", Percent: "17.5",
	}))
	sheet, err := timesheet.SaveCells(
		ctx, b.app, owner, timesheet.SheetQuery{Week: "2026-11-16"},
		[]timesheet.CellEdit{{WorkerID: worker, JobID: job, Billable: true, Date: "2026-11-16", Text: "7:13"}},
	)
	require.NoError(b.t, err)
	paper, err := costs.Save(ctx, b.app, owner, costs.Document{
		Kind: "supplier_invoice", Supplier: "Bellhaven Timber", Date: "2026-11-16", Number: "55012",
		Lines: []costs.Line{{Category: "material", Description: "Pile", Quantity: "1", UnitCost: "4321.09", JobID: job, Billable: true}},
	})
	require.NoError(b.t, err)
	paper, err = costs.HandIn(ctx, b.app, owner, paper.ID, paper.Version)
	require.NoError(b.t, err)
	handedIn, err := timesheet.HandIn(ctx, b.app, owner, timesheet.SheetQuery{Week: "2026-11-16"}, timesheet.HandingIn{Mark: sheet.Mark})
	require.NoError(b.t, err)
	require.Len(b.t, handedIn.Lines, 1)
	hours := handedIn.Lines[0].Cells[0]
	_, err = approve.Approve(ctx, b.app, owner, approve.Decision{
		Entries:   []approve.Seen{{ID: sheet.Saved[0].EntryID, Version: hours.Version}},
		Documents: []approve.Seen{{ID: paper.ID, Version: paper.Version}},
	})
	require.NoError(b.t, err)
	_, err = billing.MakeDrafts(ctx, b.app, owner, billing.NewDrafts{Jobs: []int64{job}, Through: "2026-11-22", Date: "2026-11-23"})
	require.NoError(b.t, err)
	// Wage, its cost, rate, charge, the paper with and without markup, and the hours and name of the other crew.
	return []string{"98.76", "712.7", "187.65", "1354", "4321.09", "5077.28", "Zuzana", "zuzana-quill", "7.22"}, mine
}

// Every role is tried with every operation that the description has: who may not is refused, who may is not, nothing is a fault of ours,
// and those who may not see money are sent none of it, nor anything of another crew.
func TestEveryRoleWithEveryOperation(t *testing.T) {
	b := serve(t)
	b.openBook()
	planted, mine := b.plant()
	asked := map[string]book.Permission{}
	for permission, ids := range needs {
		for _, id := range ids {
			asked[id] = permission
		}
	}
	all := slices.DeleteFunc(operations(t), func(op operation) bool { return slices.Contains(notCalled, op.id) })
	slices.SortFunc(all, func(a, b operation) int { // what is read first, since what is changed may take it away
		return cmp.Or(cmp.Compare(len(bodies[a.id])+len(a.method), len(bodies[b.id])+len(b.method)), cmp.Compare(a.id, b.id))
	})
	sent := "" // to the owner
	stranger := browser{Client: &http.Client{}, t: t, url: b.url}
	for _, op := range all {
		got, _ := stranger.call(op)
		assert.Equal(t, http.StatusUnauthorized, got, op.id)
	}
	for _, role := range []book.Role{book.Worker, book.Foreman, book.Manager, book.Bookkeeper, book.Owner} {
		user := access.NewUser{Name: "Somebody", SignIn: string(role), Role: role, WorkerID: 0}
		if role == book.Foreman {
			user.Crew = "Pile"
		}
		if role == book.Worker {
			user.WorkerID = mine
		}
		b.add(user)
		who := b.another()
		response, _ := who.signIn(string(role), password)
		require.Equal(t, http.StatusOK, response.StatusCode)
		for _, op := range all {
			permission, known := asked[op.id]
			require.True(t, known, "%s: what does it need?", op.id)
			got, text := who.call(op)
			assert.Less(t, got, 500, "%s: %s", op.id, text)
			assert.NotEqual(t, http.StatusUnauthorized, got, op.id)
			allowed := slices.Contains(may[role], permission) && (role != book.Foreman || !slices.Contains(otherCrew, op.id))
			assert.Equal(t, allowed, got != http.StatusForbidden, "%s by a %s: %d %.200s", op.id, role, got, text)
			if role == book.Owner {
				sent += text
			}
			if !slices.Contains(may[role], book.SeeMoney) {
				for _, secret := range planted {
					assert.NotContains(t, text, secret, "%s by a %s", op.id, role)
				}
			}
		}
	}
	for _, secret := range planted {
		assert.Contains(t, sent, secret, "it is looked for, so it must be there to be found")
	}
}

func TestDownloadsSayWhatTheyAre(t *testing.T) {
	b := serve(t)
	b.openBook()
	for path, want := range map[string]string{
		"/api/reports/labour": "text/csv; charset=utf-8", "/api/reports/labour?format=json": "application/json",
		"/api/reports/labour?format=xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
	} {
		response, _ := b.send(http.MethodGet, path, nil)
		assert.Equal(t, http.StatusOK, response.StatusCode, path)
		assert.Equal(t, want, response.Header.Get("Content-Type"), path)
		assert.Contains(t, response.Header.Get("Content-Disposition"), "attachment", path)
	}
	for path, want := range map[string]int{
		"/api/reports/nothing": 422, "/api/reports/labour?format=doc": 422, "/api/reports/labour?from=soon": 422,
		"/api/reports/labour?job=9": 404, "/api/invoices/9/pdf": 404, "/api/invoices/x/pdf": 404,
	} {
		response, text := b.send(http.MethodGet, path, nil)
		assert.Equal(t, want, response.StatusCode, path)
		assert.Equal(t, "application/problem+json", response.Header.Get("Content-Type"), path)
		assert.Contains(t, text, `"detail"`, path)
	}
}
