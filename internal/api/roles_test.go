package api_test

import (
	"encoding/json"
	"net/http"
	"net/http/cookiejar"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/api"
	"jarvo/internal/app"
)

// mayForeman are the operations that somebody who only types hours may call; openToAll those that need no sign-in.
var (
	mayForeman = []string{"state", "whoAmI", "signOut", "choices", "footing", "counts", "today", "timeSheet", "saveCells", "handIn", "readCell", "entryHistory", "trailSteps", "entryList", "timeDay", "saveWorkdays", "previewHours", "bringHours", "setAside", "bringBack", "changePassword"}
	openToAll  = []string{"state", "openBook"}
)

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
			all = append(all, operation{op.OperationID, strings.ToUpper(method), strings.NewReplacer("{id}", "1", "{number}", "101").Replace(path)})
		}
	}
	return all
}

// bodies that pass the check of their shape, so that what refuses is the permission.
var bodies = map[string]string{
	"setAside": `{"kind":"","subject":"","reason":""}`, "placeLine": `{"jobId":1}`, "codeHours": `{"costCodeId":1}`,
	"addItem": `{"code":"","description":"","category":"","effectiveFrom":"2026-01-01","unitCost":""}`, "addItemPrice": `{"effectiveFrom":"2026-01-01","unitCost":""}`, "changeItem": `{"description":"","unit":"","active":true}`,
	"payBack":   `{"key":"","workerId":1,"documentIds":[],"date":"2026-11-16"}`,
	"addBurden": `{"burdenClass":"","component":"","effectiveFrom":"2026-01-01","basis":"","value":""}`, "addCostCode": `{"code":"","name":""}`, "addCustomer": `{"name":""}`, "addJob": `{"number":"","name":"","basis":""}`,
	"addLabourRate": `{"card":"","effectiveFrom":"2026-01-01","method":"","value":""}`, "addMarkup": `{"card":"","effectiveFrom":"2026-01-01","category":"","percent":""}`,
	"addWage": `{"workerId":1,"rate":"","effectiveFrom":"2026-01-01"}`, "addWorker": `{"name":"","trade":"","crew":"","burdenClass":"","kind":"","exempt":false,"wage":"","wageFrom":"2026-01-01"}`,
	"approve": `{"entries":[],"documents":[]}`, "returnWork": `{"entries":[],"documents":[]}`, "setTimeZone": `{"timeZone":"UTC","version":1}`, "changePassword": `{"had":"","password":""}`, "handInDocument": `{"version":1}`, "dropDraft": `{"version":1}`, "issue": `{"version":1}`,
	"regroup": `{"version":1,"grouping":"one"}`, "makeDrafts": `{"key":"","jobs":[],"through":"2026-01-01","date":"2026-01-01"}`, "takePayment": `{"invoiceId":1,"amount":"","date":"2026-01-01"}`,
	"saveDocument": `{"kind":"","supplier":"","date":"2026-01-01","number":"","freight":"","tax":"","lines":[]}`, "previewDocument": `{"kind":"","supplier":"","date":"2026-01-01","number":"","freight":"","tax":"","lines":[]}`,
	"addUser": `{"name":"","signIn":"","password":"","role":"owner"}`, "changeUser": `{"active":true}`, "clockIn": `{"key":"","jobId":1}`, "clockBreak": `{"on":true}`, "clockOut": `{}`,
	"fillIn": `{"key":"","date":"2026-11-16","text":"","jobId":1}`, "changeOwn": `{"week":"2026-11-16","version":1,"text":""}`, "handInOwn": `{"week":"2026-11-16"}`,
	"previewHours": `{"key":"","text":"","week":"2026-11-16"}`, "bringHours": `{"key":"","text":"","week":"2026-11-16"}`,
	"splitCostLine": `{"date":"2026-11-16","line":{"category":"","description":"","quantity":"","unit":"","unitCost":"","billable":true},"how":"equally","parts":[]}`,
	"saveWorkdays":  `{"date":"2026-11-16","crew":"","workers":[]}`,
	"saveCells":     `{"week":"2026-11-16","crew":"","job":"","edits":[]}`, "handIn": `{"week":"2026-11-16","crew":"","job":""}`,
}

func (b browser) call(op operation) int {
	b.t.Helper()
	var body any
	if text := bodies[op.id]; text != "" {
		body = json.RawMessage(text)
	}
	response, _ := b.send(op.method, op.path, body)
	return response.StatusCode
}

func TestEveryOperationIsRefusedToThoseWhoMayNot(t *testing.T) {
	b := serve(t)
	b.openBook()
	_, err := b.app.AddUser(t.Context(), app.Actor{UserID: 1, Name: "Ada", Role: app.Owner}, app.NewUser{Name: "Greta", SignIn: "greta", Password: password, Role: app.Foreman})
	require.NoError(t, err)
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	foreman, stranger := browser{Client: &http.Client{Jar: jar}, t: t, url: b.url}, browser{Client: &http.Client{}, t: t, url: b.url}
	response, _ := foreman.send(http.MethodPost, "/api/session", api.SignIn{SignIn: "greta", Password: password})
	require.Equal(t, http.StatusOK, response.StatusCode)
	all := operations(t)
	assert.Greater(t, len(all), 30)
	for _, op := range all {
		if op.id == "signOut" || op.id == "openBook" {
			continue
		}
		if !slices.Contains(openToAll, op.id) {
			assert.Equal(t, http.StatusUnauthorized, stranger.call(op), op.id)
		}
		if op.id == "news" { // goes on for as long as it is listened to; server_test.go has it
			continue
		}
		got := foreman.call(op)
		if slices.Contains(mayForeman, op.id) {
			assert.NotEqual(t, http.StatusForbidden, got, op.id)
		} else {
			assert.Equal(t, http.StatusForbidden, got, op.id)
		}
	}
	for _, path := range []string{"/api/invoices/1/pdf", "/api/invoices/1/csv", "/api/invoices/1/ubl", "/api/invoices/1/xlsx", "/api/invoices/1/pdf?backup=yes", "/api/reports/labour", "/api/reports/job-profit?format=xlsx"} {
		assert.Equal(t, http.StatusUnauthorized, stranger.call(operation{method: http.MethodGet, path: path}), path)
		assert.Equal(t, http.StatusForbidden, foreman.call(operation{method: http.MethodGet, path: path}), path)
	}
	paper := operation{method: http.MethodGet, path: "/api/time/paper?week=2026-11-16&blank=yes"}
	assert.Equal(t, http.StatusUnauthorized, stranger.call(paper))
	assert.Equal(t, http.StatusOK, foreman.call(paper), "there is no money on it")
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
		"/api/reports/nothing": 422, "/api/reports/labour?format=doc": 422, "/api/reports/labour?from=soon": 422, "/api/reports/labour?job=9": 404, "/api/invoices/9/pdf": 404, "/api/invoices/x/pdf": 404,
	} {
		response, text := b.send(http.MethodGet, path, nil)
		assert.Equal(t, want, response.StatusCode, path)
		assert.Equal(t, "application/problem+json", response.Header.Get("Content-Type"), path)
		assert.Contains(t, text, `"detail"`, path)
	}
}
