package api_test

import (
	"bufio"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"syscall"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/require"

	"jarvo/internal/api"
	"jarvo/internal/app/access"
	"jarvo/internal/app/book"
	"jarvo/internal/app/exchange"
	"jarvo/internal/app/register"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/bundle"
	"jarvo/internal/specimen"
	"jarvo/internal/store"
)

const (
	typists    = 40
	linesEach  = 3
	typingFor  = time.Minute
	aCellEvery = time.Second
	lookAgain  = 1500 * time.Millisecond // a window reads no oftener when others change something
	addUp      = 10 * time.Second        // and counts what waits no oftener
)

// typed is what 40 typists typing for a minute waited for: each save, sorted.
var typed = sync.OnceValues(func() ([]time.Duration, error) {
	folder, err := os.MkdirTemp("", "jarvo-load-")
	if err != nil {
		return nil, err
	}
	defer func() { _ = os.RemoveAll(folder) }()
	return typeForAMinute(folder)
})

// BenchmarkFortyPeopleTypingP95 has 40 typists type hours into crew sheets of a large book, a cell a second each, for a minute, with
// what their windows do beside it: hours are read back while they are typed, and sheets are looked at again when others change
// them. What it reports is the time that 95 of 100 saves took at most. Any refusal fails it.
func BenchmarkFortyPeopleTypingP95(b *testing.B) {
	b.Run("jarvo", func(b *testing.B) {
		waits, err := typed()
		require.NoError(b, err)
		require.Greater(b, len(waits), typists*int(typingFor/aCellEvery)/2)
		b.ReportMetric(float64(waits[len(waits)*95/100]), "ns/op")
		b.ReportMetric(float64(len(waits)), "saves")
	})
}

func typeForAMinute(folder string) ([]time.Duration, error) {
	week := specimen.Begin.Time().AddDate(0, 0, specimen.Large.Days+
		7).Format(time.DateOnly) // the week that is typed now; nothing is in it yet
	waits, _, err := together(folder, typists, typingFor, func(ctx context.Context, p *person, deadline time.Time) ([]time.Duration, error) {
		return p.typeAlone(ctx, week, deadline)
	})
	return waits, err
}

// together has people do something at windows of their own on a large book for some time. It answers what all of them waited for, sorted,
// and the processor that it took.
func together(folder string, people int, during time.Duration, do func(context.Context, *person, time.Time) ([]time.Duration, error)) (
	waits []time.Duration, used time.Duration, err error,
) {
	ctx, stop := context.WithCancel(context.Background())
	defer stop()
	a, server, err := largeServer(ctx, folder, people)
	if err != nil {
		return nil, 0, err
	}
	defer server.Close()
	defer a.StopNews()
	windows := make([]*person, people)
	for n := range windows {
		if windows[n], err = signedIn(ctx, server.URL, n); err != nil {
			return nil, 0, err
		}
	}
	var (
		mu   sync.Mutex
		errs []error
		done sync.WaitGroup
	)
	before, deadline := processor(), time.Now().Add(during)
	for _, p := range windows {
		done.Go(func() {
			mine, err := do(ctx, p, deadline)
			mu.Lock()
			defer mu.Unlock()
			waits, errs = append(waits, mine...), append(errs, err)
		})
	}
	done.Wait()
	slices.Sort(waits)
	return waits, processor() - before, errors.Join(errs...)
}

// processor is the time that this process has had of it so far.
func processor() time.Duration {
	var used syscall.Rusage
	if err := syscall.Getrusage(syscall.RUSAGE_SELF, &used); err != nil {
		panic("asking for the processor's time: " + err.Error()) // it is our own
	}
	return time.Duration(used.Utime.Nano() + used.Stime.Nano())
}

func largeServer(ctx context.Context, folder string, people int) (*book.Book, *httptest.Server, error) {
	files := filepath.Join(folder, "bundle")
	if err := bundle.Write(files, specimen.Company(1, specimen.Large), nil); err != nil {
		return nil, nil, err
	}
	data, err := bundle.Read(files)
	if err != nil {
		return nil, nil, err
	}
	s, err := store.Open(ctx, filepath.Join(folder, "large.db"))
	if err != nil {
		return nil, nil, err
	}
	today := specimen.Begin.Time().AddDate(0, 0, specimen.Large.Days)
	a := book.New(s, func() time.Time { return today })
	if _, err := exchange.Import(ctx, a, book.Console, data); err != nil {
		return nil, nil, err
	}
	for n := range people {
		if _, err := access.AddUser(ctx, a, book.Console, access.NewUser{
			Name: fmt.Sprint("Person ", n), SignIn: fmt.Sprint("person", n), Password: password, Role: book.Bookkeeper,
		}); err != nil {
			return nil, nil, err
		}
	}
	handler, err := api.New(api.Options{
		Book: a, Sessions: s.Sessions(), Log: slog.New(slog.NewTextHandler(io.Discard, nil)), Files: fstest.MapFS{},
	})
	if err != nil {
		return nil, nil, err
	}
	return a, httptest.NewServer(handler), nil
}

// person is somebody at a window of their own, at an address of their own.
type person struct {
	http.Client
	url string
	n   int
}

func (p *person) call(ctx context.Context, method, path string, body, into any) error {
	text, err := json.Marshal(body)
	if err != nil {
		return err
	}
	request, err := http.NewRequestWithContext(ctx, method, p.url+path, strings.NewReader(string(text)))
	if err != nil {
		return err
	}
	request.Header.Set("Content-Type", "application/json")
	request.Header.Set("X-Window", fmt.Sprint("window-", p.n))
	response, err := p.Do(request)
	if err != nil {
		return err
	}
	defer func() { _ = response.Body.Close() }()
	answer, err := io.ReadAll(response.Body)
	if err == nil && response.StatusCode != http.StatusOK {
		err = fmt.Errorf("%s %s: %d %s", method, path, response.StatusCode, answer)
	}
	if err == nil && into != nil {
		err = json.Unmarshal(answer, into)
	}
	return err
}

func signedIn(ctx context.Context, url string, n int) (*person, error) {
	jar, err := cookiejar.New(nil)
	if err != nil {
		return nil, err
	}
	dialer := &net.Dialer{LocalAddr: &net.TCPAddr{IP: net.IPv4(127, 0, 1, byte(n+1))}}
	p := &person{Client: http.Client{Jar: jar, Transport: &http.Transport{DialContext: dialer.DialContext}}, url: url, n: n}
	return p, p.call(ctx, http.MethodPost, "/api/session", api.SignIn{SignIn: fmt.Sprint("person", n), Password: password}, nil)
}

// typeAlone types a worker's week, and then types it over, until a deadline and returns how long each save took.
func (p *person) typeAlone(ctx context.Context, week string, deadline time.Time) ([]time.Duration, error) {
	n := p.n
	var sheet timesheet.Sheet
	if err := p.call(ctx, http.MethodGet, "/api/time/sheet?week="+week, nil, &sheet); err != nil {
		return nil, err
	}
	crew := sheet.Crews[n%len(sheet.Crews)]
	address := "/api/time/sheet?week=" + week + "&crew=" + strings.ReplaceAll(crew, " ", "+")
	if err := p.call(ctx, http.MethodGet, address, nil, &sheet); err != nil {
		return nil, err
	}
	var choices register.Choices
	if err := p.call(ctx, http.MethodGet, "/api/choices", nil, &choices); err != nil {
		return nil, err
	}
	jobs := slices.DeleteFunc(choices.Jobs, func(j register.JobChoice) bool { return j.Status == "closed" })
	go p.lookAgain(ctx, address, deadline)
	worker := sheet.Members[n/len(sheet.Crews)%len(sheet.Members)]
	type cell struct{ job, day int }
	made := map[cell]timesheet.SavedCell{}
	var waits []time.Duration
	for i := 0; time.Now().Before(deadline); i++ {
		begin := time.Now()
		at := cell{i / 7 % linesEach, i % 7}
		edit := timesheet.CellEdit{
			Key: fmt.Sprintf("person-%d-cell-%d", n, i), EntryID: made[at].EntryID, Version: made[at].Version, WorkerID: worker.ID,
			JobID: jobs[(n*linesEach+at.job)%len(jobs)].ID, Billable: true,
			Date: sheet.Days[at.day], Text: []string{"2:15", "2.5", "7-9:20"}[i/(7*linesEach)%3],
		}
		if err := p.call(
			ctx, http.MethodGet, fmt.Sprintf("/api/time/reading?worker=%d&date=%s&text=%s&entry=%d", worker.ID, edit.Date, edit.Text, edit.EntryID),
			nil, nil,
		); err != nil {
			return waits, err
		}
		saving := time.Now()
		var answer timesheet.Sheet
		if err := p.call(
			ctx, http.MethodPut, "/api/time/cells", api.CellsSaved{Week: week, Crew: crew, Edits: []timesheet.CellEdit{edit}}, &answer,
		); err != nil {
			return waits, err
		}
		waits = append(waits, time.Since(saving))
		made[at] = answer.Saved[0]
		rest := aCellEvery - time.Since(begin) + time.Duration(rand.IntN(200)-100)*time.Millisecond
		select {
		case <-ctx.Done():
		case <-time.After(rest):
		}
	}
	return waits, nil
}

// lookAgain reads again what others have changed, and the totals at leisure, as a window does.
func (p *person) lookAgain(ctx context.Context, address string, deadline time.Time) {
	request, err := http.NewRequestWithContext(ctx, http.MethodGet, p.url+"/api/news", nil)
	if err != nil {
		return
	}
	stream, err := p.Do(request)
	if err != nil {
		return
	}
	defer func() { _ = stream.Body.Close() }()
	lines := bufio.NewScanner(stream.Body)
	var last, totals time.Time
	workers := map[int64]bool{}
	for lines.Scan() && time.Now().Before(deadline) {
		data, ok := strings.CutPrefix(lines.Text(), "data: ")
		var changed api.Changed
		if !ok || json.Unmarshal([]byte(data), &changed) != nil {
			continue
		}
		for _, n := range changed.News {
			workers[n.Worker] = true
		}
		if time.Since(last) > lookAgain && len(workers) > 0 {
			last = time.Now()
			var ids []string
			for id := range workers {
				ids = append(ids, fmt.Sprint(id))
			}
			clear(workers)
			_ = p.call(ctx, http.MethodGet, address+"&workers="+strings.Join(ids, ","), nil, nil)
		}
		if time.Since(totals) > addUp {
			totals = time.Now()
			_ = p.call(ctx, http.MethodGet, "/api/counts", nil, nil)
		}
	}
}
