package api_test

import (
	"context"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"os"
	"strings"
	"sync"
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

// office is what 100 people at work waited for, sorted, and the processor that all of it took.
type office struct {
	waits     []time.Duration
	processor time.Duration
}

var anOffice = sync.OnceValues(func() (out office, err error) {
	folder, err := os.MkdirTemp("", "jarvo-office-")
	if err != nil {
		return out, err
	}
	defer func() { _ = os.RemoveAll(folder) }()
	out.waits, out.processor, err = together(folder, atWork, workingFor,
		func(ctx context.Context, p *person, deadline time.Time) ([]time.Duration, error) {
			return p.work(ctx, deadline)
		})
	return out, err
})

// BenchmarkHundredPeopleP95 has 100 people look at what they look at, a thing a second each with a thought between, one of ten at crew
// sheets that they type into. What it reports is the time that 95 of 100 answers took at most. Any refusal fails it.
func BenchmarkHundredPeopleP95(b *testing.B) {
	b.Run("jarvo", func(b *testing.B) {
		got, err := anOffice()
		require.NoError(b, err)
		b.ReportMetric(float64(got.waits[len(got.waits)*95/100]), "ns/op")
		b.ReportMetric(float64(len(got.waits))/workingFor.Seconds(), "requests/s")
	})
}

// BenchmarkHundredPeopleProcessor is what a request of these took of the processor, with what the people themselves took.
func BenchmarkHundredPeopleProcessor(b *testing.B) {
	b.Run("jarvo", func(b *testing.B) {
		got, err := anOffice()
		require.NoError(b, err)
		b.ReportMetric(float64(got.processor)/float64(len(got.waits)), "ns/op")
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
