package api_test

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/api"
	"jarvo/internal/app/access"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/jobs"
	"jarvo/internal/scan"
	"jarvo/internal/store"
)

const (
	signIn   = "ada"
	password = "slack tide at dawn"
)

func clock() time.Time { return time.Date(2026, time.November, 25, 9, 0, 0, 0, time.UTC) }

// browser is somebody at a server with an open book.
type browser struct {
	*http.Client
	t   *testing.T
	url string
	app *book.Book
}

func serve(t *testing.T) browser {
	t.Helper()
	b, _ := serveWith(t, api.Options{})
	return b
}

// serveWith serves an unopened book with options, and returns what is logged.
func serveWith(t *testing.T, o api.Options) (browser, *lockedBuffer) {
	t.Helper()
	return serveBook(t, apptest.NewStore(t), o)
}

func serveBook(t *testing.T, s *store.Store, o api.Options) (browser, *lockedBuffer) {
	t.Helper()
	logged := &lockedBuffer{}
	o.Book, o.Sessions, o.Log = book.New(s, clock), s.Sessions(), slog.New(slog.NewTextHandler(logged, nil))
	o.Files = fstest.MapFS{"index.html": {Data: []byte(`<meta content="NONCE">`)}, "assets/a.js": {Data: []byte("1")}}
	handler, err := api.New(o)
	require.NoError(t, err)
	server := httptest.NewServer(handler)
	t.Cleanup(server.Close)
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	return browser{&http.Client{Jar: jar}, t, server.URL, o.Book}, logged
}

// answer is a response whose body has been read.
type answer struct {
	StatusCode int
	Header     http.Header
}

func (b browser) send(method, path string, body any, headers ...string) (answer, string) {
	b.t.Helper()
	data, err := json.Marshal(body)
	require.NoError(b.t, err)
	request, err := http.NewRequestWithContext(b.t.Context(), method, b.url+path, bytes.NewReader(data))
	require.NoError(b.t, err)
	request.Header.Set("Content-Type", "application/json")
	for i := 0; i < len(headers); i += 2 {
		request.Header.Set(headers[i], headers[i+1])
	}
	response, err := b.Do(request)
	require.NoError(b.t, err)
	text, err := io.ReadAll(response.Body)
	require.NoError(b.t, err)
	require.NoError(b.t, response.Body.Close())
	return answer{response.StatusCode, response.Header}, string(text)
}

func (b browser) openBook() {
	b.t.Helper()
	response, text := b.send(http.MethodPost, "/api/book", access.NewBook{
		Code: b.app.OpeningCode(), CompanyName: "Two Hands", Currency: "USD", WeekStart: "monday", OvertimeFactor: "1.5", DoubleFactor: "2",
		NextInvoiceNumber: "1", NextJobNumber: "1",
		Name: "Ada", SignIn: signIn, Password: password,
	})
	require.Equal(b.t, http.StatusOK, response.StatusCode, text)
}

func TestNobodyGetsInWithoutSigningIn(t *testing.T) {
	b := serve(t)
	b.openBook()
	stranger := browser{Client: &http.Client{}, t: t, url: b.url}
	for _, path := range []string{
		"/api/session", "/api/choices", "/api/jobs", "/api/time/sheet", "/api/invoices/1/pdf", "/api/reports/labour",
	} {
		response, text := stranger.send(http.MethodGet, path, nil)
		assert.Equal(t, http.StatusUnauthorized, response.StatusCode, path)
		assert.Contains(t, text, "sign in first", path)
	}
	response, text := stranger.send(http.MethodPost, "/api/book", access.NewBook{
		Code: b.app.OpeningCode(), CompanyName: "Mine now", Currency: "USD", WeekStart: "monday", OvertimeFactor: "1.5", DoubleFactor: "2",
		NextInvoiceNumber: "1", NextJobNumber: "1",
		Name: "Eve", SignIn: "eve", Password: password,
	})
	assert.Equal(t, http.StatusConflict, response.StatusCode)
	assert.Contains(t, text, "has been opened already")
}

func TestASessionCanBeEnded(t *testing.T) {
	b := serve(t)
	b.openBook()
	response, text := b.send(http.MethodGet, "/api/session", nil)
	assert.Equal(t, http.StatusOK, response.StatusCode)
	assert.Contains(t, text, `"Ada"`)
	response, _ = b.send(http.MethodDelete, "/api/session", nil)
	assert.Equal(t, http.StatusOK, response.StatusCode)
	response, _ = b.send(http.MethodGet, "/api/session", nil)
	assert.Equal(t, http.StatusUnauthorized, response.StatusCode)
	response, _ = b.send(http.MethodPost, "/api/session", api.SignIn{SignIn: "ADA", Password: password})
	assert.Equal(t, http.StatusOK, response.StatusCode, "the name is the same in capitals")
}

func TestTriesToSignInAreLimited(t *testing.T) {
	b := serve(t)
	b.openBook()
	statuses := map[int]int{}
	for range 12 {
		response, _ := b.send(http.MethodPost, "/api/session", api.SignIn{SignIn: signIn, Password: "not the password"})
		statuses[response.StatusCode]++
	}
	assert.Equal(t, map[int]int{http.StatusUnauthorized: 10, http.StatusTooManyRequests: 2}, statuses)
}

func TestAnotherSiteCanDoNothing(t *testing.T) {
	b := serve(t)
	b.openBook()
	response, _ := b.send(
		http.MethodPost, "/api/cost-codes", jobs.NewCode{Code: "1", Name: "x"}, "Sec-Fetch-Site", "cross-site", "Origin",
		"https://elsewhere.example",
	)
	assert.Equal(t, http.StatusForbidden, response.StatusCode)
}

func TestThePageMayRunOnlyItsOwnScripts(t *testing.T) {
	b := serve(t)
	response, text := b.send(http.MethodGet, "/time?crew=x", nil)
	policy := response.Header.Get("Content-Security-Policy")
	assert.Contains(t, policy, "script-src 'self';")
	assert.NotContains(t, policy, "unsafe")
	_, nonce, found := strings.Cut(text, `content="`)
	require.True(t, found)
	nonce, _, _ = strings.Cut(nonce, `"`)
	assert.Contains(t, policy, "'nonce-"+nonce+"'")
	response, _ = b.send(http.MethodGet, "/assets/gone.js", nil)
	assert.Equal(t, http.StatusNotFound, response.StatusCode)
	response, text = b.send(http.MethodGet, "/healthz", nil)
	assert.Equal(t, http.StatusOK, response.StatusCode)
	assert.Equal(t, "ok\n", text)
}

func TestARefusalSaysWhichFieldAndWhatToDo(t *testing.T) {
	b := serve(t)
	b.openBook()
	response, text := b.send(http.MethodPost, "/api/jobs", jobs.NewJob{Basis: "tm", Retainage: "120"})
	assert.Equal(t, http.StatusUnprocessableEntity, response.StatusCode)
	assert.Equal(t, "application/problem+json", response.Header.Get("Content-Type"))
	var problem api.Problem
	require.NoError(t, json.Unmarshal([]byte(text), &problem))
	said := map[string]string{}
	for _, f := range problem.Errors {
		said[f.Path] = f.Message
	}
	assert.Equal(
		t,
		map[string]string{
			"name": "a name is needed", "customerId": "whose job is it? choose the customer", "retainage": "retainage is between 0 and 100 %",
		},
		said,
	)
	response, _ = b.send(http.MethodPost, "/api/jobs", "not a job")
	assert.Equal(t, http.StatusUnprocessableEntity, response.StatusCode)
	response, _ = b.send(http.MethodGet, "/api/nothing", nil)
	assert.Equal(t, http.StatusNotFound, response.StatusCode)
}

func TestAScanIsSentAsWhatItIsAndRunsNothing(t *testing.T) {
	b := serve(t)
	b.openBook()
	owner := book.Actor{UserID: 1, Name: "Ada", Role: book.Owner}
	d, err := costs.Save(t.Context(), b.app, owner, costs.Document{
		Kind: "receipt", Date: "2026-11-16", Lines: []costs.Line{{Category: "material", Quantity: "1", UnitCost: "5", Billable: true}},
	})
	require.NoError(t, err)
	put := func(b browser, name string, data []byte) (int, string) {
		t.Helper()
		request, err := http.NewRequestWithContext(
			t.Context(), http.MethodPost, fmt.Sprintf("%s/api/costs/%d/attachments?name=%s", b.url, d.ID, name), bytes.NewReader(data),
		)
		require.NoError(t, err)
		response, err := b.Do(request)
		require.NoError(t, err)
		text, err := io.ReadAll(response.Body)
		require.NoError(t, errors.Join(err, response.Body.Close()))
		return response.StatusCode, string(text)
	}
	whole := []byte("%PDF-1.4\n<< /OpenAction << /JS (app.alert(1)) >> >>\n%%EOF\n")
	status, text := put(b, `a%20"b".html`, whole)
	require.Equal(t, http.StatusOK, status, text)
	var made costs.Attachment
	require.NoError(t, json.Unmarshal([]byte(text), &made))
	response, _ := b.send(http.MethodGet, fmt.Sprintf("/api/attachments/%d", made.ID), nil)
	assert.Equal(t, []string{"application/pdf", `attachment; filename="a \"b\".html"`, "nosniff", "default-src 'none'; sandbox"}, []string{
		response.Header.Get("Content-Type"), response.Header.Get("Content-Disposition"), response.Header.Get("X-Content-Type-Options"),
		response.Header.Get("Content-Security-Policy"),
	}, "a PDF is kept or drawn, and never opened by the browser's own reader")

	status, text = put(b, "page.png", []byte("<html><script>alert(1)</script>"))
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, text, "whatever its name says")
	status, text = put(b, "large.pdf", append([]byte("%PDF-1.4"), make([]byte, scan.Largest+5)...))
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, text, "larger than 10 MB")

	stranger := browser{&http.Client{}, t, b.url, b.app}
	status, _ = put(stranger, "x.pdf", whole)
	assert.Equal(t, http.StatusUnauthorized, status)
	response, _ = stranger.send(http.MethodGet, fmt.Sprintf("/api/attachments/%d", made.ID), nil)
	assert.Equal(t, http.StatusUnauthorized, response.StatusCode)

	_, err = access.AddUser(t.Context(), b.app, owner, access.NewUser{Name: "Greta", SignIn: "greta", Password: password, Role: book.Foreman})
	require.NoError(t, err)
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	foreman := browser{&http.Client{Jar: jar}, t, b.url, b.app}
	_, _ = foreman.send(http.MethodPost, "/api/session", map[string]string{"signIn": "greta", "password": password})
	status, _ = put(foreman, "x.pdf", whole)
	assert.Equal(t, http.StatusForbidden, status)
	response, _ = foreman.send(http.MethodGet, fmt.Sprintf("/api/attachments/%d", made.ID), nil)
	assert.Equal(t, http.StatusForbidden, response.StatusCode)
}
