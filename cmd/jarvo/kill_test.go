package main

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/access"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/customers"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/people"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/app/verify"
	"jarvo/internal/bundle"
	"jarvo/internal/store"
)

// The kills of a run: a short form in each test run, all of them by scripts/kills.sh, which sets KILLS.
const (
	fewKills   = 15
	asCommand  = "JARVO_AS_COMMAND" // set where the test binary is to be the command itself
	bookSignIn = "ada@brackwater.example"
	bookWord   = "slack tide at dawn"
)

func TestMain(m *testing.M) {
	if os.Getenv(asCommand) != "" {
		main()
	}
	os.Exit(m.Run())
}

func kills() int {
	if many, err := strconv.Atoi(os.Getenv("KILLS")); err == nil {
		return many
	}
	return fewKills
}

// command is jarvo in a process of its own, which can be killed.
func command(args ...string) *exec.Cmd {
	cmd := exec.Command(os.Args[0], args...)
	cmd.Env = append(os.Environ(), asCommand+"=yes")
	return cmd
}

// served is a server in a process of its own.
type served struct {
	*exec.Cmd
	url string
	log *serverLog
}

// serverLog is what a server logs, read as it comes.
type serverLog struct {
	mu    sync.Mutex
	more  *sync.Cond
	text  strings.Builder
	ended bool
}

func (l *serverLog) read(from io.ReadCloser) {
	lines := bufio.NewScanner(from)
	for lines.Scan() {
		l.mu.Lock()
		l.text.WriteString(lines.Text() + "\n")
		l.mu.Unlock()
		l.more.Broadcast()
	}
	l.mu.Lock()
	l.ended = true
	l.mu.Unlock()
	l.more.Broadcast()
	_ = from.Close()
}

// until waits for a text, or the end, and returns all that was logged.
func (l *serverLog) until(text string) (all string, found bool) {
	l.mu.Lock()
	defer l.mu.Unlock()
	for !l.ended && (text == "" || !strings.Contains(l.text.String(), text)) {
		l.more.Wait()
	}
	return l.text.String(), strings.Contains(l.text.String(), text)
}

func serveProcess(t *testing.T, db string, flags ...string) served {
	t.Helper()
	cmd := command(append([]string{"serve", "--addr", "127.0.0.1:0", "--db", db}, flags...)...)
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	read, said, err := os.Pipe()
	require.NoError(t, err)
	cmd.Stderr = said
	require.NoError(t, cmd.Start())
	require.NoError(t, said.Close())
	log := &serverLog{}
	log.more = sync.NewCond(&log.mu)
	go log.read(read)
	line, err := bufio.NewReader(out).ReadString('\n')
	if err != nil {
		why, _ := log.until("")
		require.NoError(t, err, why)
	}
	_, url, found := strings.Cut(line, "Jarvo is at ")
	require.True(t, found, line)
	url, _, _ = strings.Cut(url, ",")
	return served{cmd, url, log}
}

// says waits until the server has logged a text.
func (s served) says(t *testing.T, text string) {
	t.Helper()
	all, found := s.log.until(text)
	require.True(t, found, "the server ended before it said %s:\n%s", text, all)
}

func (s served) kill() {
	_ = s.Process.Kill()
	_ = s.Wait()
}

// made is something that is made once under its key, and where it is to be found.
type made struct {
	method, path string
	body         any
}

// load is what people do until the server is gone: each thing is sent again after the next start where no answer came.
type load struct {
	mu       sync.Mutex
	next     int
	waiting  map[string]made // sent, and not answered
	answered map[string]made
}

func (l *load) begin(worker, job int64) (string, made) {
	l.mu.Lock()
	defer l.mu.Unlock()
	for key, again := range l.waiting {
		delete(l.waiting, key)
		return key, again
	}
	l.next++
	n, key := l.next, fmt.Sprintf("key-of-%d", l.next)
	switch n % 3 {
	case 0:
		return key, made{http.MethodPost, "/api/customers", customers.NewCustomer{Key: key, Name: fmt.Sprintf("Customer %d", n)}}
	case 1:
		return key, made{http.MethodPut, "/api/costs", costs.Document{
			Key: key, Kind: "receipt", Supplier: "Bellhaven Timber", Date: "2026-11-16", Number: strconv.Itoa(n),
			Lines: []costs.Line{
				{Category: "material", Description: "Pile", Quantity: "1", UnitCost: "412.00", JobID: job, Billable: true},
				{Category: "expense", Description: "Ferry", Quantity: "2", UnitCost: "9.50", JobID: job},
			},
		}}
	}
	day := time.Date(2020, 1, 6, 0, 0, 0, 0, time.UTC).AddDate(0, 0, n%2000)
	week := day.AddDate(0, 0, -(int(day.Weekday())+6)%7)
	return key, made{http.MethodPut, "/api/time/cells", map[string]any{
		"week": week.Format(time.DateOnly), "crew": "", "job": "",
		"edits": []timesheet.CellEdit{{
			Key: key, WorkerID: worker, JobID: job, Billable: true, Another: true, Date: day.Format(time.DateOnly), Text: "0:15",
		}},
	}}
}

func (l *load) end(key string, m made, done bool) {
	l.mu.Lock()
	defer l.mu.Unlock()
	if done {
		l.answered[key] = m
	} else {
		l.waiting[key] = m
	}
}

// work sends one thing after another until it gets no answer.
func (l *load) work(t *testing.T, client *http.Client, url string, worker, job int64) {
	for {
		key, m := l.begin(worker, job)
		data, err := json.Marshal(m.body)
		assert.NoError(t, err)
		request, err := http.NewRequestWithContext(t.Context(), m.method, url+m.path, bytes.NewReader(data))
		assert.NoError(t, err)
		request.Header.Set("Content-Type", "application/json")
		response, err := client.Do(request)
		if err != nil {
			l.end(key, m, false)
			return
		}
		text, err := io.ReadAll(response.Body)
		_ = response.Body.Close()
		if !assert.Equal(t, http.StatusOK, response.StatusCode, "%s: %s", key, text) {
			return
		}
		l.end(key, m, err == nil)
		if err != nil {
			return
		}
	}
}

// However often the server is killed under load, what it answered is there, what is sent once more for want of an answer is there once,
// and every stored figure agrees.
func TestNothingIsLostWhenTheServerIsKilled(t *testing.T) {
	db := filepath.Join(t.TempDir(), "jarvo.db")
	worker, job := openBook(t, db)
	l := &load{waiting: map[string]made{}, answered: map[string]made{}}
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	client := &http.Client{Jar: jar}
	for n := range kills() {
		s := serveProcess(t, db)
		if n == 0 {
			response, err := client.Post(
				s.url+"/api/session", "application/json", strings.NewReader(fmt.Sprintf(`{"signIn":%q,"password":%q}`, bookSignIn, bookWord)),
			)
			require.NoError(t, err)
			require.NoError(t, response.Body.Close())
			require.Equal(t, http.StatusOK, response.StatusCode)
		}
		var working sync.WaitGroup
		for range 6 {
			working.Go(func() { l.work(t, client, s.url, worker, job) })
		}
		time.AfterFunc(time.Duration(20+rand.IntN(300))*time.Millisecond, func() { _ = s.Process.Kill() })
		working.Wait()
		s.kill()
		require.False(t, t.Failed())
	}
	s, err := store.Open(t.Context(), db)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	damage, err := s.Damage(t.Context())
	require.NoError(t, err)
	assert.Empty(t, damage)
	wanted, found := map[string]int{}, map[string]int64{}
	for m := range maps.Values(l.answered) {
		wanted[m.path]++
	}
	require.NoError(t, s.Read(t.Context(), func(tx *store.Tx) error {
		for path, query := range map[string]string{
			"/api/customers": "SELECT COUNT(*) FROM customers", "/api/costs": "SELECT COUNT(*) FROM cost_documents",
			"/api/time/cells": "SELECT COUNT(*) FROM time_entries",
		} {
			var n int64
			if err := tx.Raw(query).Scan(&n).Error; err != nil {
				return err
			}
			found[path] = n
		}
		return nil
	}))
	most := int64(len(l.waiting)) // that may have been done, for want of an answer
	for path, want := range wanted {
		assert.GreaterOrEqual(t, found[path], int64(want), path)
		assert.LessOrEqual(t, found[path], int64(want)+most, path)
	}
	differences, err := verify.Run(t.Context(), book.New(s, now), book.Console)
	require.NoError(t, err)
	assert.Empty(t, differences)
	t.Logf("%d kills, %d answers", kills(), len(l.answered))
}

func openBook(t *testing.T, db string) (worker, job int64) {
	t.Helper()
	ctx := t.Context()
	s, err := store.Open(ctx, db)
	require.NoError(t, err)
	a := book.New(s, now)
	owner, err := access.OpenBook(ctx, a, access.NewBook{
		Code: a.OpeningCode(), CompanyName: "Two Hands", Currency: "USD", WeekStart: "monday", OvertimeFactor: "1.5", DoubleFactor: "2",
		NextInvoiceNumber: "1", NextJobNumber: "1",
		Name: "Ada", SignIn: bookSignIn, Password: bookWord,
	})
	require.NoError(t, err)
	worker, err = people.Add(ctx, a, owner, people.NewWorker{Name: "Cato Brandl", Wage: "31.23", WageFrom: "2019-01-01"})
	require.NoError(t, err)
	job, err = jobs.Add(ctx, a, owner, jobs.NewJob{Name: "Slip", Basis: "none"})
	require.NoError(t, err)
	require.NoError(t, s.Close())
	return worker, job
}

// A command that is killed leaves nothing under the name that was asked for, or all of it; and the book as it was, or with all that came.
func TestKilledCommandsLeaveNothingHalfDone(t *testing.T) {
	ctx, folder := context.Background(), t.TempDir()
	book := filepath.Join(folder, "book.db")
	require.Zero(t, run(ctx, []string{"import", vector, "--db", book}))
	data, err := os.ReadFile(book)
	require.NoError(t, err)
	for n := range kills() {
		out := filepath.Join(folder, strconv.Itoa(n))
		mine := out + ".book"
		require.NoError(t, os.WriteFile(mine, data, 0o600))
		for _, args := range [][]string{
			{"export", out, "--db", mine}, {"export", out + ".zip", "--db", mine}, {"backup", out + ".copy", "--db", mine},
			{"import", vector, "--db", out + ".db"}, {"import", vector, "--db", mine}, {"bill", "--through", "2025-03-31", "--issue", "--db", mine},
		} {
			cmd := command(args...)
			require.NoError(t, cmd.Start(), args)
			timer := time.AfterFunc(time.Duration(rand.IntN(120))*time.Millisecond, func() { _ = cmd.Process.Kill() })
			_ = cmd.Wait()
			timer.Stop()
		}
		for _, bundled := range []string{out, out + ".zip"} {
			if _, err := os.Stat(bundled); err == nil {
				b, err := bundle.Read(bundled)
				require.NoError(t, err, bundled)
				require.NoError(t, b.Close())
			}
		}
		if _, err := os.Stat(out + ".db"); err == nil { // goes on from wherever it was
			require.Zero(t, run(ctx, []string{"import", vector, "--db", out + ".db"}))
		}
		for _, written := range []string{out + ".copy", out + ".db", mine} {
			if _, err := os.Stat(written); err == nil {
				require.Zero(t, run(ctx, []string{"verify", "--db", written}), written)
			}
		}
	}
}
