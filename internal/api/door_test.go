package api_test

import (
	"bufio"
	"bytes"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/api"
	"jarvo/internal/app/access"
	"jarvo/internal/app/book"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/people"
	"jarvo/internal/app/timesheet"
)

type lockedBuffer struct {
	mu sync.Mutex
	b  bytes.Buffer
}

func (l *lockedBuffer) Write(p []byte) (int, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.b.Write(p)
}

func (l *lockedBuffer) String() string {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.b.String()
}

// another is somebody else at the same server.
func (b browser) another() browser {
	b.t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(b.t, err)
	return browser{&http.Client{Jar: jar}, b.t, b.url, b.app}
}

func (b browser) signIn(name, word string) (answer, string) {
	b.t.Helper()
	return b.send(http.MethodPost, "/api/session", api.SignIn{SignIn: name, Password: word})
}

func (b browser) add(user access.NewUser) int64 {
	b.t.Helper()
	user.Password = password
	made, err := access.AddUser(b.t.Context(), b.app, book.Actor{UserID: 1, Name: "Ada", Role: book.Owner}, user)
	require.NoError(b.t, err)
	return made
}

func TestABookIsOpenedOnlyWithItsCode(t *testing.T) {
	b, _ := serveWith(t, api.Options{})
	opening := access.NewBook{
		CompanyName: "Two Hands", Currency: "USD", WeekStart: "monday", OvertimeFactor: "1.5", DoubleFactor: "2", NextInvoiceNumber: "1",
		NextJobNumber: "1", Name: "Eve", SignIn: "eve", Password: password,
	}
	for n := range 31 {
		opening.Code = fmt.Sprintf("AAAA-%04d", n)
		response, text := b.send(http.MethodPost, "/api/book", opening)
		if n < 30 {
			assert.Equal(t, http.StatusUnprocessableEntity, response.StatusCode)
			assert.Contains(t, text, "this is not the code")
			continue
		}
		assert.Equal(t, http.StatusTooManyRequests, response.StatusCode)
		assert.Contains(t, text, "try again in 15 minutes")
	}
	opening.Code = b.app.OpeningCode()
	response, _ := b.send(http.MethodPost, "/api/book", opening)
	assert.Equal(t, http.StatusTooManyRequests, response.StatusCode, "also the right one, by then")

	b, _ = serveWith(t, api.Options{})
	b.openBook()
	response, _ = b.send(http.MethodGet, "/api/session", nil)
	assert.Equal(t, http.StatusOK, response.StatusCode)
}

func TestWrongPasswordsAreLimitedByNameAndAddressAndRightOnesAreNot(t *testing.T) {
	b, logged := serveWith(t, api.Options{TrustProxy: "127.0.0.1"})
	b.openBook()
	from := func(address, name, word string) (answer, string) {
		return b.another().send(
			http.MethodPost, "/api/session", api.SignIn{SignIn: name, Password: word}, "X-Forwarded-For", "203.0.113.9, "+address,
		)
	}
	for range 40 {
		response, text := from("198.51.100.1", signIn, password)
		require.Equal(t, http.StatusOK, response.StatusCode, text)
	}
	for range 10 {
		response, _ := from("198.51.100.10", " ADA ", "not the password")
		assert.Equal(t, http.StatusUnauthorized, response.StatusCode)
	}
	response, text := from("198.51.100.10", signIn, password)
	assert.Equal(t, http.StatusTooManyRequests, response.StatusCode)
	assert.Contains(t, text, "too many wrong passwords for this name; try again in 15 minutes")
	owner, _ := from("198.51.100.99", signIn, password)
	assert.Equal(t, http.StatusOK, owner.StatusCode, "nobody keeps a person out from elsewhere")
	for n := range 30 {
		response, _ := from(fmt.Sprintf("2001:db8:1:2::%x", n), fmt.Sprintf("somebody-%d", n), "not the password")
		assert.Equal(t, http.StatusUnauthorized, response.StatusCode)
	}
	network, _ := from("2001:db8:1:2:ffff::1", "somebody-else", "not the password")
	assert.Equal(t, http.StatusTooManyRequests, network.StatusCode, "an address of IPv6 counts with its /64")
	long, _ := from("198.51.100.98", strings.Repeat("n", 8_000), "not the password")
	assert.Equal(t, http.StatusBadRequest, long.StatusCode, "a name of any length is not read")
	assert.NotEmpty(t, response.Header.Get("Retry-After"))
	for n := range 30 {
		response, _ := from("198.51.100.200", fmt.Sprintf("nobody-%d", n), "not the password")
		assert.Equal(t, http.StatusUnauthorized, response.StatusCode)
	}
	response, text = from("198.51.100.200", "nobody-else", "not the password")
	assert.Equal(t, http.StatusTooManyRequests, response.StatusCode)
	assert.Contains(t, text, "from your address")
	response, _ = from("198.51.100.201", "nobody-else", "not the password")
	assert.Equal(t, http.StatusUnauthorized, response.StatusCode, "another address is not")
	assert.Contains(t, logged.String(), "address=198.51.100.1 user=Ada")
	assert.NotContains(t, logged.String(), password)
	assert.NotContains(t, logged.String(), "not the password")
}

// What a proxy says of an address counts only where the proxy is named.
func TestAForwardedAddressCountsOnlyFromTheProxyThatIsTrusted(t *testing.T) {
	b, logged := serveWith(t, api.Options{})
	b.openBook()
	b.send(http.MethodGet, "/api/session", nil, "X-Forwarded-For", "198.51.100.7", "X-Request-Id", "mine-forged")
	assert.NotContains(t, logged.String(), "198.51.100.7")
	assert.NotContains(t, logged.String(), "forged", "the numbers of requests are our own")
}

func TestManyWhoSignInAtOnceWaitForTheirTurn(t *testing.T) {
	b, _ := serveWith(t, api.Options{})
	b.openBook()
	var all sync.WaitGroup
	for range 6 {
		all.Go(func() {
			response, err := http.Post(
				b.url+"/api/session", "application/json", strings.NewReader(fmt.Sprintf(`{"signIn":%q,"password":%q}`, signIn, password)),
			)
			if assert.NoError(t, err) {
				assert.Equal(t, http.StatusOK, response.StatusCode)
				assert.NoError(t, response.Body.Close())
			}
		})
	}
	all.Wait()
}

func TestTheServerAnswersOnlyToItsNames(t *testing.T) {
	b, _ := serveWith(t, api.Options{Hosts: []string{"books.two-hands.example"}})
	for host, want := range map[string]int{
		"localhost:8787": 200, "127.0.0.1": 200, "[::1]:8787": 200, "192.168.4.20:8787": 200, "books.two-hands.example": 200,
		"BOOKS.two-hands.example:443": 200,
		"evil.example":                421, "localhost.evil.example": 421, "127.0.0.1.evil.example:8787": 421,
	} {
		request, err := http.NewRequestWithContext(t.Context(), http.MethodGet, b.url+"/api/state", nil)
		require.NoError(t, err)
		request.Host = host
		response, err := b.Do(request)
		require.NoError(t, err)
		assert.Equal(t, want, response.StatusCode, host)
		require.NoError(t, response.Body.Close())
	}
}

func TestTheCookieIsSecureWhereTheServerSpeaksTLS(t *testing.T) {
	for _, encrypted := range []bool{false, true} {
		b, _ := serveWith(t, api.Options{Encrypted: encrypted})
		response, text := b.send(http.MethodPost, "/api/book", access.NewBook{
			Code: b.app.OpeningCode(), CompanyName: "Two Hands", Currency: "USD", WeekStart: "monday", OvertimeFactor: "1.5", DoubleFactor: "2",
			NextInvoiceNumber: "1", NextJobNumber: "1",
			Name: "Ada", SignIn: signIn, Password: password,
		})
		require.Equal(t, http.StatusOK, response.StatusCode, text)
		cookie := response.Header.Get("Set-Cookie")
		assert.Equal(t, encrypted, strings.Contains(cookie, "Secure"), cookie)
		assert.Contains(t, cookie, "HttpOnly")
	}
}

// A new password and a deactivation end all sessions of the user at once, and the streams that follow changes.
func TestSessionsEndWithTheirPassword(t *testing.T) {
	b, _ := serveWith(t, api.Options{})
	b.openBook()
	greta := b.add(access.NewUser{Name: "Greta", SignIn: "greta", Role: book.Foreman})
	window, other := b.another(), b.another()
	for _, w := range []browser{window, other} {
		response, _ := w.signIn("greta", password)
		require.Equal(t, http.StatusOK, response.StatusCode)
	}
	signedIn := func(w browser) bool {
		response, _ := w.send(http.MethodGet, "/api/session", nil)
		return response.StatusCode == http.StatusOK
	}
	ended := window.listens()
	response, text := other.send(
		http.MethodPost, "/api/session/password", api.NewPassword{Had: "not the password", Password: "another few words"},
	)
	assert.Equal(t, http.StatusUnprocessableEntity, response.StatusCode)
	assert.Contains(t, text, "this is not your password")
	response, text = other.send(http.MethodPost, "/api/session/password", api.NewPassword{Had: password, Password: "short"})
	assert.Equal(t, http.StatusUnprocessableEntity, response.StatusCode)
	assert.Contains(t, text, "5 of at least 12 characters")
	response, text = other.send(http.MethodPost, "/api/session/password", api.NewPassword{Had: password, Password: "another few words"})
	require.Equal(t, http.StatusOK, response.StatusCode, text)
	<-ended
	assert.False(t, signedIn(window))
	assert.True(t, signedIn(other), "where it was changed one stays signed in")
	response, _ = window.signIn("greta", password)
	assert.Equal(t, http.StatusUnauthorized, response.StatusCode)
	response, _ = window.signIn("greta", "another few words")
	assert.Equal(t, http.StatusOK, response.StatusCode)

	ended = window.listens()
	response, text = b.send(http.MethodPut, fmt.Sprintf("/api/users/%d", greta), access.UserChange{Version: 1, Active: false})
	require.Equal(t, http.StatusOK, response.StatusCode, text)
	<-ended
	assert.False(t, signedIn(window) || signedIn(other))
	response, _ = b.send(http.MethodPut, fmt.Sprintf("/api/users/%d", greta), access.UserChange{Version: 2, Active: true})
	require.Equal(t, http.StatusOK, response.StatusCode)
	assert.False(t, signedIn(window), "who is let in again signs in again")
}

// listens opens a stream of news and returns what is closed when it ends.
func (b browser) listens() <-chan struct{} {
	b.t.Helper()
	request, err := http.NewRequestWithContext(b.t.Context(), http.MethodGet, b.url+"/api/news", nil)
	require.NoError(b.t, err)
	response, err := b.Do(request)
	require.NoError(b.t, err)
	b.t.Cleanup(func() { _ = response.Body.Close() })
	require.Equal(b.t, http.StatusOK, response.StatusCode)
	lines := bufio.NewReader(response.Body)
	_, err = lines.ReadString('\n') // it is connected
	require.NoError(b.t, err)
	ended := make(chan struct{})
	go func() {
		_, _ = io.Copy(io.Discard, lines)
		close(ended)
	}()
	return ended
}

func TestAUserFollowsChangesInEightWindows(t *testing.T) {
	b, _ := serveWith(t, api.Options{})
	b.openBook()
	for range 8 {
		b.listens()
	}
	response, text := b.send(http.MethodGet, "/api/news", nil)
	assert.Equal(t, http.StatusTooManyRequests, response.StatusCode)
	assert.Contains(t, text, "you have Jarvo open in 8 windows already")
	b.add(access.NewUser{Name: "Greta", SignIn: "greta", Role: book.Foreman})
	other := b.another()
	other.signIn("greta", password)
	other.listens()
	b.app.StopNews()
}

// A foreman who is kept to a crew gets nothing of another's: no sum, reading, reason or name.
func TestAForemanGetsNothingOfOtherCrews(t *testing.T) {
	b, _ := serveWith(t, api.Options{})
	b.openBook()
	owner := book.Actor{UserID: 1, Name: "Ada", Role: book.Owner}
	hire := func(name, crew string) int64 {
		made, err := people.Add(t.Context(), b.app, owner, people.NewWorker{Name: name, Crew: crew, Wage: "30", WageFrom: "2026-01-01"})
		require.NoError(t, err)
		return made
	}
	mine, theirs := hire("Cato Brandl", "Pile"), hire("Zuzana Quill", "Dive")
	job, err := jobs.Add(t.Context(), b.app, owner, jobs.NewJob{Name: "Slip", Basis: "none"})
	require.NoError(t, err)
	var entries []int64
	for n, worker := range []int64{mine, theirs} {
		edit := timesheet.CellEdit{
			WorkerID: worker, JobID: job, Billable: true, Date: "2026-11-16", Text: []string{"8", "7:13"}[n],
			Note: &[]string{"mine", "a note of the divers"}[n],
		}
		sheet, err := timesheet.SaveCells(t.Context(), b.app, owner, timesheet.SheetQuery{Week: "2026-11-16"}, []timesheet.CellEdit{edit})
		require.NoError(t, err)
		entries = append(entries, sheet.Saved[0].EntryID)
	}
	b.add(access.NewUser{Name: "Greta", SignIn: "greta", Role: book.Foreman, Crew: "Pile"})
	greta := b.another()
	greta.signIn("greta", password)
	reads := map[string]int{
		"/api/footing?from=2026-11-16&to=2026-11-22": 200, "/api/footing": 200, "/api/time/sheet?week=2026-11-16": 200, "/api/time/entries": 200,
		"/api/choices": 200, "/api/today?week=2026-11-16": 200,
		"/api/counts": 200, "/api/time/day?date=2026-11-16": 200,
		"/api/time/sheet?week=2026-11-16&crew=Dive": 403, "/api/time/entries?crew=Dive": 403, "/api/time/day?date=2026-11-16&crew=Dive": 403,
		"/api/time/paper?week=2026-11-16&crew=Dive":                                                    403,
		fmt.Sprintf("/api/time/reading?worker=%d&date=2026-11-16&text=9&entry=%d", theirs, entries[1]): 403,
		fmt.Sprintf("/api/time/entries/%d/history", entries[1]):                                        403,
		fmt.Sprintf("/api/time/entries?worker=%d", theirs):                                             200,
		fmt.Sprintf("/api/trail?kind=time_entry&ids=%d", entries[1]):                                   200,
	}
	for path, want := range reads {
		response, text := greta.send(http.MethodGet, path, nil)
		assert.Equal(t, want, response.StatusCode, "%s: %s", path, text)
		for _, planted := range []string{"Zuzana", "7.22", "7:13", "divers", "15.22", "zuzana-quill"} {
			assert.NotContains(t, text, planted, path)
		}
	}
	for path, body := range map[string]any{
		"/api/time/cells": api.CellsSaved{
			Week: "2026-11-16", Edits: []timesheet.CellEdit{{WorkerID: theirs, JobID: job, Date: "2026-11-17", Text: "8"}},
		},
		"/api/time/day": map[string]any{"date": "2026-11-16", "crew": "", "workers": []timesheet.WorkdayEdit{{WorkerID: theirs, Text: "7-3"}}},
	} {
		response, text := greta.send(http.MethodPut, path, body)
		assert.Equal(t, http.StatusForbidden, response.StatusCode, path)
		assert.NotContains(t, text, "Zuzana", path)
	}
	response, text := greta.send(http.MethodPost, "/api/time/import/preview", timesheet.HoursFile{
		Key: "key-of-a-file", Text: "Worker,Job,Mon\nZuzana Quill,1,8\nCato Brandl,1,8\n", Week: "2026-11-23",
	})
	assert.Equal(t, http.StatusOK, response.StatusCode)
	assert.Contains(t, text, `there is no worker \"Zuzana Quill\"`, "as if there were none")
}
