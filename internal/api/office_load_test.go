package api_test

import (
	"context"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"os"
	"slices"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"jarvo/internal/app/timesheet"
	"jarvo/internal/specimen"
)

const (
	atWork     = 100
	workingFor = 30 * time.Second
	thinking   = time.Second
)

// looks are what people look at, by how often of a hundred; the week and the crew are put in.
var looks = []struct {
	often int
	path  string
}{
	{30, "/api/time/sheet?week=%s&crew=%s"}, {20, "/api/counts"}, {10, "/api/today"}, {8, "/api/approve"}, {8, "/api/costs"}, {8, "/api/jobs"},
	{6, "/api/bill"}, {5, "/api/choices"}, {4, "/api/footing"}, {1, "/api/reports/labour?from=2027-10-01&through=2027-10-31"},
}

// lookedAt is how long 100 people waited for what they looked at, sorted, and what processor a request took.
var lookedAt = sync.OnceValues(func() (out struct {
	waits     []time.Duration
	processor time.Duration
}, err error,
) {
	folder, err := os.MkdirTemp("", "jarvo-office-")
	if err != nil {
		return out, err
	}
	defer func() { _ = os.RemoveAll(folder) }()
	ctx, stop := context.WithCancel(context.Background())
	defer stop()
	a, server, err := largeServer(ctx, folder, atWork)
	if err != nil {
		return out, err
	}
	defer server.Close()
	defer a.StopNews()
	windows := make([]*person, atWork)
	for n := range windows {
		if windows[n], err = signedIn(ctx, server.URL, n); err != nil {
			return out, err
		}
	}
	var (
		mu   sync.Mutex
		errs []error
		done sync.WaitGroup
	)
	before, deadline := processor(), time.Now().Add(workingFor)
	for _, p := range windows {
		done.Go(func() {
			waits, err := p.work(ctx, deadline)
			mu.Lock()
			defer mu.Unlock()
			out.waits, errs = append(out.waits, waits...), append(errs, err)
		})
	}
	done.Wait()
	slices.Sort(out.waits)
	out.processor = (processor() - before) / time.Duration(max(1, len(out.waits)))
	return out, errors.Join(errs...)
})

// processor is what this process has used of it so far.
func processor() time.Duration {
	var used syscall.Rusage
	if err := syscall.Getrusage(syscall.RUSAGE_SELF, &used); err != nil {
		panic("asking for the processor's time: " + err.Error()) // it is of ourselves
	}
	return time.Duration(used.Utime.Nano() + used.Stime.Nano())
}

// BenchmarkHundredPeopleP95 has 100 people look at what they look at, a thing a second each with a thought between, one of ten at crew
// sheets that they type into. What it reports is the time that 95 of 100 answers took at most. Any refusal fails it.
func BenchmarkHundredPeopleP95(b *testing.B) {
	b.Run("jarvo", func(b *testing.B) {
		got, err := lookedAt()
		require.NoError(b, err)
		b.ReportMetric(float64(got.waits[len(got.waits)*95/100]), "ns/op")
		b.ReportMetric(float64(len(got.waits))/workingFor.Seconds(), "requests/s")
	})
}

// BenchmarkHundredPeopleProcessor is what a request of these took of the processor, with what the people themselves took.
func BenchmarkHundredPeopleProcessor(b *testing.B) {
	b.Run("jarvo", func(b *testing.B) {
		got, err := lookedAt()
		require.NoError(b, err)
		b.ReportMetric(float64(got.processor), "ns/op")
	})
}

// work looks at things until a deadline, and types where one of ten does.
func (p *person) work(ctx context.Context, deadline time.Time) (waits []time.Duration, err error) {
	week := specimen.Begin.Time().AddDate(0, 0, specimen.Large.Days-7*(p.n%4)).Format(time.DateOnly)
	var sheet timesheet.Sheet
	if err := p.call(ctx, http.MethodGet, "/api/time/sheet?week="+week, nil, &sheet); err != nil {
		return nil, err
	}
	crew := strings.ReplaceAll(sheet.Crews[p.n%len(sheet.Crews)], " ", "+")
	if p.n%10 == 0 {
		return p.typeAlone(ctx, specimen.Begin.Time().AddDate(0, 0, specimen.Large.Days+7).Format(time.DateOnly), deadline)
	}
	tags := map[string]string{}
	for time.Now().Before(deadline) {
		at, path := rand.IntN(100), ""
		for _, l := range looks {
			if path = l.path; at < l.often {
				break
			}
			at -= l.often
		}
		if strings.Contains(path, "%s") {
			path = fmt.Sprintf(path, week, crew)
		}
		begin := time.Now()
		if err := p.look(ctx, path, tags); err != nil {
			return waits, err
		}
		waits = append(waits, time.Since(begin))
		select {
		case <-ctx.Done():
		case <-time.After(thinking/2 + time.Duration(rand.Int64N(int64(thinking)))):
		}
	}
	return waits, nil
}

// look asks for something as a window does, with the name of the answer that it has.
func (p *person) look(ctx context.Context, path string, tags map[string]string) error {
	request, err := http.NewRequestWithContext(ctx, http.MethodGet, p.url+path, nil)
	if err != nil {
		return err
	}
	request.Header.Set("If-None-Match", tags[path])
	response, err := p.Do(request)
	if err != nil {
		return err
	}
	defer func() { _ = response.Body.Close() }()
	tags[path] = response.Header.Get("ETag")
	if _, err := io.Copy(io.Discard, response.Body); err != nil {
		return err
	}
	if response.StatusCode != http.StatusOK && response.StatusCode != http.StatusNotModified {
		return fmt.Errorf("%s: %d", path, response.StatusCode)
	}
	return nil
}
