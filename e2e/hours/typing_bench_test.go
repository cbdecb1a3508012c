package hours

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"jarvo/e2e/at"
	"jarvo/e2e/browser"
	"jarvo/internal/app/book"
	"jarvo/internal/app/register"
	"jarvo/internal/app/timesheet"
)

// BenchmarkTyping types into a crew sheet of 455 lines: from a key to its echo in the cell, laid out, and from a click on the next week
// to its lines. The interface's goals are 16 ms and 300 ms.
func BenchmarkTyping(b *testing.B) {
	u := atTheDemo(b)
	fillWeek(b, u.Book.Book, "2026-12-07", 455)
	var echoes, drawn []float64
	for b.Loop() {
		u.Open("/time?from=2026-11-30")
		u.Must(u.See(`[aria-label="Crew sheet"] tfoot`))
		drawn = append(drawn, measured[float64](b, u, `(async () => {
			const begun = performance.now()
			document.querySelector('[aria-label="Later"]').click()
			while (!document.querySelector('tr[data-line="20"]')) await new Promise(done => setTimeout(done))
			document.body.offsetHeight
			return performance.now() - begun
		})()`))
		measured[int](b, u, `(window.echoes = [], addEventListener('keydown', () => (window.pressed = performance.now()), true),
			addEventListener('input', () => Promise.resolve().then(() => Promise.resolve()).then(() =>
				(document.body.offsetHeight, echoes.push(performance.now() - pressed)))), 0)`)
		for line := range 20 {
			u.Must(u.Click(at.Cell(line%8, line%7)), u.Keys("7.25\x1b"))
		}
		echoes = append(echoes, measured[[]float64](b, u, `window.echoes`)...)
	}
	slices.Sort(echoes)
	slices.Sort(drawn)
	b.ReportMetric(echoes[len(echoes)/2], "ms/echo")
	b.ReportMetric(echoes[len(echoes)*95/100], "ms/echo-p95")
	b.ReportMetric(drawn[len(drawn)/2], "ms/sheet")
}

func measured[T any](b *testing.B, u user, script string) T {
	b.Helper()
	value, err := browser.Eval[T](u.Page, script)
	u.Must(err)
	return value
}

// fillWeek books an hour of a week's Monday on as many lines as are asked for.
func fillWeek(b *testing.B, a *book.Book, week string, lines int) {
	b.Helper()
	choices, err := register.ChoicesFor(b.Context(), a, book.Console)
	require.NoError(b, err)
	var edits []timesheet.CellEdit
	for _, job := range choices.Jobs {
		for _, code := range choices.CostCodes {
			for _, worker := range choices.Workers {
				if job.Status == "closed" || len(edits) == lines {
					continue
				}
				edits = append(edits, timesheet.CellEdit{
					Key: fmt.Sprintf("bench-%04d", len(edits)), WorkerID: worker.ID, JobID: job.ID, CostCodeID: code.ID, Billable: true,
					Date: week, Text: "0:05",
				})
			}
		}
	}
	require.Len(b, edits, lines)
	for part := range slices.Chunk(edits, 300) {
		_, err := timesheet.SaveCells(b.Context(), a, book.Console, timesheet.SheetQuery{Week: week}, part)
		require.NoError(b, err)
	}
}
