package app_test

import (
	"database/sql"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	_ "github.com/mattn/go-sqlite3" // the driver of the plain queries
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/approve"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/exchange"
	"jarvo/internal/app/find"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/app/today"
	"jarvo/internal/bundle"
	"jarvo/internal/core/calendar"
	"jarvo/internal/specimen"
	"jarvo/internal/store"
)

// large is the book that benchmarks run on: 50 workers, 300 jobs, 150 000 time entries, 60 000 cost lines, nothing billed yet.
var large = sync.OnceValue(func() (made struct{ folder, file string }) {
	folder, err := os.MkdirTemp("", "jarvo-bench-")
	if err != nil {
		panic(err)
	}
	made.folder, made.file = filepath.Join(folder, "bundle"), filepath.Join(folder, "large.db")
	if err := bundle.Write(made.folder, specimen.Company(1, specimen.Large), nil); err != nil {
		panic(err)
	}
	if err := bringIn(made.folder, made.file); err != nil {
		panic(err)
	}
	return made
})

func bringIn(folder, file string) error {
	b, err := bundle.Read(folder)
	if err != nil {
		return err
	}
	s, err := store.Open(ctx, file)
	if err != nil {
		return err
	}
	defer func() { _ = s.Close() }()
	_, err = exchange.Import(ctx, book.New(s, benchClock), book.Console, b)
	return err
}

// The benchmarks' today is the end of the large company's work.
var (
	benchToday = specimen.Begin + calendar.Date(specimen.Large.Days)
	benchClock = benchToday.Time
	benchWeek  = (benchToday - 30).String()
)

func largeBook(b *testing.B) (*book.Book, *sql.DB) {
	b.Helper()
	s, err := store.Open(ctx, large().file)
	require.NoError(b, err)
	b.Cleanup(func() { _ = s.Close() })
	plain, err := sql.Open("sqlite3", "file:"+large().file+"?mode=ro&_cache_size=-65536")
	require.NoError(b, err)
	b.Cleanup(func() { _ = plain.Close() })
	return book.New(s, benchClock), plain
}

// plainly reads all rows of a query and throws them away.
func plainly(b *testing.B, db *sql.DB, query string, args ...any) {
	b.Helper()
	rows, err := db.Query(query, args...)
	require.NoError(b, err)
	defer func() { _ = rows.Close() }()
	names, err := rows.Columns()
	require.NoError(b, err)
	cells, into := make([]any, len(names)), make([]any, len(names))
	for i := range cells {
		into[i] = &cells[i]
	}
	for rows.Next() {
		require.NoError(b, rows.Scan(into...))
	}
	require.NoError(b, rows.Err())
}

func BenchmarkImport(b *testing.B) {
	folder := large().folder
	b.Run("jarvo", func(b *testing.B) {
		for b.Loop() {
			require.NoError(b, bringIn(folder, filepath.Join(b.TempDir(), "import.db")))
		}
	})
	b.Run("plain", func(b *testing.B) { // the files read, and their rows kept as texts in one table each
		for b.Loop() {
			data, err := bundle.Read(folder)
			require.NoError(b, err)
			require.NoError(b, keepTexts(filepath.Join(b.TempDir(), "plain.db"), data))
		}
	})
}

func keepTexts(file string, data *bundle.Bundle) error {
	db, err := sql.Open("sqlite3", file+"?_journal_mode=WAL")
	if err != nil {
		return err
	}
	defer func() { _ = db.Close() }()
	tx, err := db.Begin()
	if err != nil {
		return err
	}
	for _, t := range bundle.Tables {
		if err := keepTable(tx, t, data.Rows(t.File)); err != nil {
			return err
		}
	}
	return tx.Commit()
}

func keepTable(tx *sql.Tx, t bundle.Table, rows []bundle.Row) error {
	columns := make([]string, len(t.Columns))
	for i, c := range t.Columns {
		columns[i] = fmt.Sprintf("%q TEXT", c.Name)
	}
	if _, err := tx.Exec(fmt.Sprintf("CREATE TABLE %q (%s)", t.File, strings.Join(columns, ", "))); err != nil {
		return err
	}
	insert, err := tx.Prepare(fmt.Sprintf("INSERT INTO %q VALUES (?%s)", t.File, strings.Repeat(", ?", len(columns)-1)))
	if err != nil {
		return err
	}
	defer func() { _ = insert.Close() }()
	cells := make([]any, len(columns))
	for _, r := range rows {
		for i, v := range r.Values() {
			cells[i] = v
		}
		if _, err := insert.Exec(cells...); err != nil {
			return err
		}
	}
	return nil
}

func BenchmarkWeekSheet(b *testing.B) {
	a, plain := largeBook(b)
	b.Run("jarvo", func(b *testing.B) {
		for b.Loop() {
			_, err := timesheet.Week(ctx, a, book.Console, timesheet.SheetQuery{Week: benchWeek, Crew: "A"})
			require.NoError(b, err)
		}
	})
	first := benchToday - 30
	b.Run("plain", func(b *testing.B) {
		for b.Loop() {
			plainly(b, plain, `SELECT e.*, w.code, w.name, t.name, j.number, j.name, p.code, p.name, k.code, k.name, i.prefix || i.number,
				  (SELECT sum(a.amount) FROM payment_allocations a WHERE a.invoice_id = i.id) >= i.due_now FROM time_entries e
				  LEFT JOIN invoices i ON i.id = e.invoice_id JOIN workers w ON w.id = e.worker_id LEFT JOIN trades t ON t.id = w.trade_id
				JOIN jobs j ON j.id = e.job_id LEFT JOIN phases p ON p.id = e.phase_id LEFT JOIN cost_codes k ON k.id = e.cost_code_id
				WHERE e.date BETWEEN ? AND ? AND w.crew = 'A' ORDER BY w.name, e.id`, first, first+6)
			plainly(b, plain, "SELECT DISTINCT crew FROM workers WHERE active = 1 AND crew <> '' ORDER BY crew")
			plainly(b, plain, `SELECT w.id, w.code, w.name, t.name FROM workers w LEFT JOIN trades t ON t.id = w.trade_id WHERE w.active = 1
				AND w.crew = 'A' ORDER BY w.name`)
			plainly(b, plain, "SELECT sum(minutes), sum(cost), sum(charge) FROM time_entries WHERE date BETWEEN ? AND ?", first, first+6)
			plainly(b, plain, "SELECT sum(landed), sum(charge) FROM cost_lines WHERE date BETWEEN ? AND ?", first, first+6)
		}
	})
}

func BenchmarkReadyToBill(b *testing.B) {
	a, plain := largeBook(b)
	b.Run("jarvo", func(b *testing.B) {
		for b.Loop() {
			_, err := billing.Sheet(ctx, a, book.Console, scope.ScopeQuery{})
			require.NoError(b, err)
		}
	})
	b.Run("plain", func(b *testing.B) { // ready, and not ready, as the sheet has them
		for b.Loop() {
			plainly(b, plain, `SELECT j.number, c.name, r.* FROM (
				  SELECT job_id, 'labour', sum(ready), sum(cost), min(date) FROM time_entries WHERE ready IS NOT NULL GROUP BY job_id
				  UNION ALL SELECT job_id, category, sum(ready), sum(landed), min(date) FROM cost_lines WHERE ready IS NOT NULL
				  GROUP BY job_id, category
				) r JOIN jobs j ON j.id = r.job_id JOIN customers c ON c.id = j.customer_id ORDER BY j.number_order`)
			plainly(b, plain, `SELECT e.status, w.crew, sum(e.minutes), sum(e.charge), min(e.date) FROM time_entries e
				JOIN workers w ON w.id = e.worker_id WHERE e.status <> 'approved' GROUP BY e.status, w.crew`)
			plainly(b, plain, `SELECT document_id, count(*), sum(charge) AS charge FROM cost_lines WHERE status <> 'approved' GROUP BY document_id
				ORDER BY charge DESC LIMIT 100`)
			plainly(b, plain, "SELECT worker_id, job_id, sum(minutes), sum(cost) FROM time_entries WHERE unpriced = 1 GROUP BY worker_id, job_id")
		}
	})
}

func BenchmarkJobsWithProfit(b *testing.B) {
	a, plain := largeBook(b)
	b.Run("jarvo", func(b *testing.B) {
		for b.Loop() {
			_, err := jobs.List(ctx, a, book.Console, true)
			require.NoError(b, err)
		}
	})
	b.Run("plain", func(b *testing.B) {
		for b.Loop() {
			plainly(b, plain, `SELECT j.*, c.name FROM jobs j LEFT JOIN customers c ON c.id = j.customer_id ORDER BY j.number_order`)
			plainly(b, plain, `SELECT job_id, phase_id, status, sum(minutes), sum(cost) FROM time_entries GROUP BY job_id, phase_id, status`)
			plainly(b, plain, `SELECT job_id, phase_id, status, sum(landed) FROM cost_lines WHERE job_id IS NOT NULL
				GROUP BY job_id, phase_id, status`)
			plainly(b, plain, `SELECT job_id, sum(charge), min(date) FROM time_entries WHERE ready IS NOT NULL GROUP BY job_id`)
			plainly(b, plain, `SELECT job_id, sum(charge), min(date) FROM cost_lines WHERE ready IS NOT NULL GROUP BY job_id`)
		}
	})
}

func BenchmarkFooting(b *testing.B) {
	a, plain := largeBook(b)
	b.Run("jarvo", func(b *testing.B) {
		for b.Loop() {
			_, err := scope.FootingOf(ctx, a, book.Console, scope.ScopeQuery{})
			require.NoError(b, err)
		}
	})
	b.Run("plain", func(b *testing.B) {
		for b.Loop() {
			plainly(b, plain, "SELECT sum(minutes), sum(cost), sum(charge), count(*) - count(cost), sum(unpriced) FROM time_entries")
			plainly(b, plain, "SELECT sum(landed), sum(charge) FROM cost_lines")
		}
	})
}

func BenchmarkToday(b *testing.B) {
	a, _ := largeBook(b)
	b.Run("jarvo", func(b *testing.B) {
		for b.Loop() {
			_, err := today.Sheet(ctx, a, book.Console, today.TodayQuery{})
			require.NoError(b, err)
		}
	})
}

func BenchmarkCounts(b *testing.B) {
	a, _ := largeBook(b)
	b.Run("jarvo", func(b *testing.B) {
		for b.Loop() {
			_, err := new(today.Counter).Counts(ctx, a, book.Console) // another counter each time: it shares no answer
			require.NoError(b, err)
		}
	})
}

// What waits for approval, with what stands out in it: the oldest 200 weeks and papers of all dates.
// BenchmarkFind looks for what nothing is called, so that all there is has to be looked at.
func BenchmarkFind(b *testing.B) {
	a, _ := largeBook(b)
	b.Run("jarvo", func(b *testing.B) {
		for b.Loop() {
			_, err := find.Find(ctx, a, book.Console, find.Question{Text: "nothing is called that"})
			require.NoError(b, err)
		}
	})
}

func BenchmarkApprove(b *testing.B) {
	a, _ := largeBook(b)
	b.Run("jarvo", func(b *testing.B) {
		for b.Loop() {
			_, err := approve.Waiting(ctx, a, book.Console, approve.Question{})
			require.NoError(b, err)
		}
	})
}

func BenchmarkDecided(b *testing.B) {
	a, _ := largeBook(b)
	b.Run("jarvo", func(b *testing.B) {
		for b.Loop() {
			_, err := approve.Decisions(ctx, a, book.Console)
			require.NoError(b, err)
		}
	})
}

// A wage change over a year: with annual caps, all of the worker's year is costed again.
func BenchmarkWageChange(b *testing.B) {
	a, plain := largeBook(b)
	from := benchToday - 364
	worker := int64(0)
	b.Run("jarvo", func(b *testing.B) {
		for b.Loop() {
			worker++
			err := rates.AddWage(ctx, a, book.Console, rates.NewWage{
				WorkerID: worker%50 + 1, Rate: "51.25", From: (from + calendar.Date(worker/50)).String(),
			})
			require.NoError(b, err)
		}
	})
	b.Run("plain", func(b *testing.B) { // the entries and segments of that year, read and no more
		for b.Loop() {
			plainly(b, plain, `SELECT * FROM time_entries WHERE worker_id = 1
				AND date BETWEEN ? AND ?`, from, benchToday)
			plainly(b, plain, `SELECT * FROM segments_of_hours WHERE worker_id = 1
				AND date BETWEEN ? AND ?`, from, benchToday)
		}
	})
}
