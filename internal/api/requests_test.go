package api_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"maps"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/api"
	"jarvo/internal/app/book"
	"jarvo/internal/app/exchange"
	"jarvo/internal/app/verify"
	"jarvo/internal/bundle"
	"jarvo/internal/demo"
	"jarvo/internal/demo/demotest"
	"jarvo/internal/store"
)

// The requests that are made up of the description of the interface: a short form of them in each test run, all of them by
// scripts/requests.sh, which sets REQUESTS.
const (
	shortForm = 3000
)

// The parts of the description that requests are made of.
type (
	described struct {
		Paths      map[string]map[string]describedOperation `json:"paths"`
		Components struct {
			Schemas map[string]*shape `json:"schemas"`
		} `json:"components"`
	}
	describedOperation struct {
		ID         string `json:"operationId"`
		Parameters []struct {
			Name   string `json:"name"`
			In     string `json:"in"`
			Schema *shape `json:"schema"`
		} `json:"parameters"`
		RequestBody struct {
			Content map[string]struct {
				Schema *shape `json:"schema"`
			} `json:"content"`
		} `json:"requestBody"`
	}
	shape struct {
		Ref        string            `json:"$ref"`
		Type       any               `json:"type"`
		Format     string            `json:"format"`
		Enum       []any             `json:"enum"`
		Properties map[string]*shape `json:"properties"`
		Required   []string          `json:"required"`
		Items      *shape            `json:"items"`
		ReadOnly   bool              `json:"readOnly"`
	}
)

// maker makes requests up: most of it as it should be, some of it as it should not.
type maker struct {
	*rand.Rand
	schemas map[string]*shape
}

var (
	texts = []string{
		"", " ", "x", "101", "1187", "Pile crew", "Ferry landing", "tm", "fixed", "none", "hourly", "markup", "material", "labour", "mileage",
		"gross", "hour", "receipt", "supplier_invoice", "equally", "percent",
		"amount", "day", "one", "time_entry", "hole", "over", "Company", "driver", "a\u0000b", "tab\tand\nline", "🛥️ slip", "Ünï çødé",
		"'; DROP TABLE workers; --", "=1+1", "<script>", strings.Repeat("long ", 60),
		strings.Repeat("x", 100_000), "\u202eright to left", "key-of-a-request", strings.Repeat("k", 64), strings.Repeat("k", 65),
	}
	figuresTyped = []string{
		"", "0", "1", "8", "8:30", "7-3:30", "-1", "-0.01", "0.005", "12.5", "100", "101", "999999999", "9007199254740993",
		"99999999999999999999999", "1e9", "1,5", "NaN", "Infinity", ".", "--", "0x10", "１２",
		"922337203685477.5807", "0.0001", "-100", "1000000",
	}
	dates = []string{
		"2026-11-16", "2026-11-25", "2026-01-01", "2025-02-28", "0001-01-01", "9999-12-31", "2199-12-31", "1900-01-01", "2026-02-30", "soon", "",
		"16 Nov", "2026-11-16T00:00:00Z",
	}
	integers = []any{0, 1, 2, 3, 5, 8, 40, -1, 100_000, 1 << 31, int64(1) << 53, int64(-1) << 62}
	figureOf = []string{
		"value", "rate", "percent", "amount", "quantity", "unitCost", "sellPrice", "freight", "tax", "text", "markup", "contract", "retainage",
		"wage", "factor", "number", "days", "overCost", "cap", "hours", "finish",
	}
)

func (m maker) one(of []string) string { return of[m.IntN(len(of))] }

func (m maker) text(name string, s *shape) any {
	switch {
	case len(s.Enum) > 0 && m.IntN(8) > 0:
		return s.Enum[m.IntN(len(s.Enum))]
	case s.Format == "date" || strings.Contains(strings.ToLower(name), "date") || name == "from" || name == "to" || name == "week" || name ==
		"on":
		if m.IntN(3) > 0 {
			return fmt.Sprintf("2026-%02d-%02d", 1+m.IntN(12), 1+m.IntN(28))
		}
		return m.one(dates)
	case slices.ContainsFunc(
		figureOf, func(f string) bool { return strings.Contains(strings.ToLower(name), strings.ToLower(f)) },
	) && m.IntN(6) > 0:
		return m.one(figuresTyped)
	case name == "key" && m.IntN(3) > 0:
		return fmt.Sprintf("key-%d", m.IntN(1e9))
	}
	return m.one(texts)
}

func (m maker) value(name string, s *shape, depth int) any {
	if s.Ref != "" {
		s = m.schemas[strings.TrimPrefix(s.Ref, "#/components/schemas/")]
	}
	kind, _ := s.Type.(string)
	if kinds, many := s.Type.([]any); many {
		kind, _ = kinds[0].(string)
	}
	if m.IntN(60) == 0 {
		return []any{nil, "text", -1, true, []any{}, map[string]any{}}[m.IntN(6)]
	}
	switch kind {
	case "string":
		return m.text(name, s)
	case "integer", "number":
		if m.IntN(2) == 0 {
			return 1 + m.IntN(30)
		}
		return integers[m.IntN(len(integers))]
	case "boolean":
		return m.IntN(2) == 0
	case "array":
		n := m.IntN(4)
		if m.IntN(80) == 0 {
			n = []int{500, 3000, 40_000}[m.IntN(3)]
		}
		first := make([]any, 0, n)
		for i := range n {
			if i > 3 { // many of the same: what is long has to be refused or be quick
				first = append(first, first[i%4])
				continue
			}
			first = append(first, m.value(name, s.Items, depth+1))
		}
		return first
	case "object":
		out := map[string]any{}
		for _, key := range slices.Sorted(maps.Keys(s.Properties)) { // the same seed makes the same requests
			property := s.Properties[key]
			if property.ReadOnly || !slices.Contains(s.Required, key) && m.IntN(2) == 0 || m.IntN(80) == 0 || depth > 6 {
				continue
			}
			out[key] = m.value(key, property, depth+1)
		}
		return out
	}
	return nil
}

type madeRequest struct {
	id, method, address string
	body                []byte
}

func (m maker) request(path, method string, op describedOperation) madeRequest {
	query := url.Values{}
	for _, p := range op.Parameters {
		value := fmt.Sprint(m.value(p.Name, p.Schema, 0))
		switch {
		case p.In == "path" && m.IntN(3) > 0:
			path = strings.ReplaceAll(path, "{"+p.Name+"}", []string{"1", "2", "3", "7", "1187", "1181"}[m.IntN(6)])
		case p.In == "path":
			path = strings.ReplaceAll(path, "{"+p.Name+"}", url.PathEscape(m.one([]string{
				"0", "-1", "x", value[:min(len(value), 300)], "9223372036854775807",
			})))
		case p.In == "query" && m.IntN(4) > 0:
			query.Set(p.Name, value[:min(len(value), 4000)])
		}
	}
	made := madeRequest{id: op.ID, method: strings.ToUpper(method), address: path}
	if len(query) > 0 {
		made.address += "?" + query.Encode()
	}
	if content, ok := op.RequestBody.Content["application/json"]; ok {
		made.body, _ = json.Marshal(m.value("", content.Schema, 0))
		if m.IntN(100) == 0 {
			made.body = made.body[:len(made.body)/2]
		}
	}
	return made
}

// notMade are the operations that are left out: they end the session, open the book, or go on for ever.
var notMade = []string{"signOut", "openBook", "news", "changePassword", "signIn"}

// files are the routes of files, as requests that change nothing.
func (m maker) file() madeRequest {
	return madeRequest{id: "file", method: http.MethodGet, address: m.one([]string{
		"/api/invoices/1/pdf", "/api/invoices/2/pdf?backup=yes", "/api/invoices/2/csv", "/api/invoices/1/ubl", "/api/invoices/1/xlsx",
		"/api/invoices/0/pdf", "/api/reports/labour", "/api/reports/job-profit?format=json",
		"/api/reports/aging?through=9999-12-31", "/api/reports/unbilled?from=0001-01-01&format=xlsx", "/api/reports/wip?job=🛥️",
		"/api/time/paper?week=2026-11-16", "/api/time/paper?week=9999-12-31&blank=yes",
		"/api/attachments/1", "/api/attachments/-1", "/api/reports/%00",
	})}
}

// description holds answers against what is promised of them.
type description struct {
	*jsonschema.Compiler
	compiled map[string]*jsonschema.Schema
}

func promised(t *testing.T, data []byte) *description {
	t.Helper()
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(data))
	require.NoError(t, err)
	d := &description{jsonschema.NewCompiler(), map[string]*jsonschema.Schema{}}
	d.AssertFormat()
	require.NoError(t, d.AddResource("openapi.json", doc))
	return d
}

// describes is nil where an answer is one that the description has: its status, its kind, and each of its properties.
func (d *description) describes(path, method string, response *http.Response, text []byte) error {
	media := response.Header.Get("Content-Type")
	if media != "application/json" && media != "application/problem+json" {
		return nil
	}
	escaped := strings.NewReplacer("~", "~0", "/", "~1", "{", "%7B", "}", "%7D", "+", "%2B")
	at := fmt.Sprintf(
		"openapi.json#/paths/%s/%s/responses/%d/content/%s/schema", escaped.Replace(path), method, response.StatusCode, escaped.Replace(media),
	)
	if d.compiled[at] == nil {
		schema, err := d.Compile(at)
		if err != nil {
			return err
		}
		d.compiled[at] = schema
	}
	answer, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
	if err != nil {
		return err
	}
	return d.compiled[at].Validate(answer)
}

// No request that the description allows, or nearly allows, is answered with a fault of ours; and what they leave in the
// book can be shown, verified, taken out and brought in again.
func TestNoRequestIsAnsweredWithAFaultOfOurs(t *testing.T) {
	count, seed := shortForm, uint64(20261125)
	if many, err := strconv.Atoi(os.Getenv("REQUESTS")); err == nil {
		count, seed = many, rand.Uint64()
	}
	t.Logf("%d requests, seed %d", count, seed)
	a, s := demotest.Open(t)
	handler, err := api.New(api.Options{
		Book: a, Sessions: s.Sessions(), Files: fstest.MapFS{}, Log: slog.New(slog.NewTextHandler(io.Discard, nil)),
	})
	require.NoError(t, err)
	server := httptest.NewServer(handler)
	t.Cleanup(server.Close)
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	client := &http.Client{Jar: jar}
	signIn := func() {
		response, err := client.Post(
			server.URL+"/api/session", "application/json",
			strings.NewReader(fmt.Sprintf(`{"signIn":%q,"password":%q}`, demo.SignIn, demo.Password)),
		)
		require.NoError(t, err)
		require.NoError(t, response.Body.Close())
	}
	signIn()

	data, err := api.Describe()
	require.NoError(t, err)
	var doc described
	require.NoError(t, json.Unmarshal(data, &doc))
	m := maker{rand.New(rand.NewPCG(seed, seed)), doc.Components.Schemas}
	type known struct {
		path, method string
		op           describedOperation
	}
	var all []known
	for path, methods := range doc.Paths {
		for method, op := range methods {
			if !slices.Contains(notMade, op.ID) && op.ID != "" && !strings.HasSuffix(path, "}/pdf") {
				all = append(all, known{path, method, op})
			}
		}
	}
	slices.SortFunc(all, func(a, b known) int { return strings.Compare(a.op.ID, b.op.ID) })
	statuses, faults, as := map[int]int{}, map[string]bool{}, promised(t, data)
	for n := range count {
		k := all[m.IntN(len(all))]
		made := m.request(k.path, k.method, k.op)
		if made.address == "/api/users/1" { // who asks keeps the password
			made.address = "/api/users/2"
		}
		if m.IntN(30) == 0 {
			made = m.file()
		}
		request, err := http.NewRequestWithContext(t.Context(), made.method, server.URL+made.address, strings.NewReader(string(made.body)))
		if err != nil {
			continue // it can't be sent at all
		}
		request.Header.Set("Content-Type", "application/json")
		response, err := client.Do(request)
		require.NoError(t, err, made.address)
		text, err := io.ReadAll(response.Body)
		require.NoError(t, err)
		require.NoError(t, response.Body.Close())
		statuses[response.StatusCode]++
		if fault := fmt.Sprintf("%s %d", made.id, response.StatusCode); response.StatusCode >= 500 && !faults[fault] {
			faults[fault] = true
			t.Errorf("request %d, %s %s %.400s: %d %.300s", n, made.method, made.address, made.body, response.StatusCode, text)
		}
		if err := as.describes(k.path, k.method, response, text); made.id == k.op.ID && err != nil && !faults[made.id] {
			faults[made.id] = true
			t.Errorf("request %d, %s %s is not answered as described: %v\n%.300s", n, made.method, made.address, err, text)
		}
		if response.StatusCode == http.StatusUnauthorized {
			signIn()
		}
	}
	t.Logf("answered %v", statuses)
	stillWhole(t, a, client, server.URL)
}

// stillWhole opens every sheet, verifies the book, and takes it to another.
func stillWhole(t *testing.T, a *book.Book, client *http.Client, server string) {
	t.Helper()
	for _, path := range []string{
		"/api/choices", "/api/footing", "/api/counts", "/api/today", "/api/time/sheet", "/api/time/entries", "/api/costs", "/api/owed",
		"/api/approve", "/api/approve/decided", "/api/bill", "/api/jobs?closed=true", "/api/setup",
		"/api/prices", "/api/users", "/api/reports/job-profit", "/api/reports/labour",
	} {
		response, err := client.Get(server + path)
		require.NoError(t, err)
		text, err := io.ReadAll(response.Body)
		require.NoError(t, err)
		require.NoError(t, response.Body.Close())
		assert.Equal(t, http.StatusOK, response.StatusCode, "%s: %.300s", path, text)
	}
	differences, err := verify.Run(t.Context(), a, book.Console)
	require.NoError(t, err)
	assert.Empty(t, differences)
	out, err := exchange.Export(t.Context(), a, book.Console)
	require.NoError(t, err)
	name := filepath.Join(t.TempDir(), "out.zip")
	require.NoError(t, bundle.Write(
		name, out, func(file string) ([]byte, error) { return exchange.ExportScan(t.Context(), a, book.Console, file) },
	))
	b, err := bundle.Read(name)
	require.NoError(t, err)
	defer func() { require.NoError(t, b.Close()) }()
	other, err := store.Open(t.Context(), filepath.Join(t.TempDir(), "other.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, other.Close()) })
	_, err = exchange.Import(t.Context(), book.New(other, a.Now), book.Console, b)
	require.NoError(t, err)
}
