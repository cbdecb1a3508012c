package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/browser"
	"jarvo/internal/app/book"
	"jarvo/internal/app/timesheet"
)

// TestAWorkerClocksOnAPhone clocks in and out, fills a day in and hands the week in, on a window as wide as a phone.
func TestAWorkerClocksOnAPhone(t *testing.T) {
	u := onAPhone(t, "fitz@brackwater.example", `[aria-label="My week"]`)
	u.sees("Not at work", "My week")
	tabs, err := browser.Eval[[]string](u.Page, `[...document.querySelectorAll('.tabs a')].map(a => a.innerText.trim())`)
	u.must(err)
	assert.Equal(t, []string{"Clock", "Hours"}, tabs)
	u.load("/jobs")
	u.sees("Not at work") // nothing else is theirs to open

	u.must(u.Press("Clock in"))
	u.sees("Working since 9:00")
	u.must(u.Press("Break"))
	u.sees("On a break")
	u.must(u.Press("Back to work"), u.Press("Clock out"))
	u.sees("Not at work") // no time has gone by at this clock, so nothing was worked
	u.nothingSticksOut()

	u.must(u.Press("Hours"), u.Press("Change"), u.Type(`article input`, "7-4/30\r"))
	u.sees("7:00 to 16:00, less 30 min, 8.5 h")
	u.must(u.Press("Hand in my week"))
	u.sees("Nothing to hand in")
	sheet, err := timesheet.Week(ctx, u.book.Book, book.Console, timesheet.SheetQuery{Week: "2026-11-23", Crew: "Pile crew"})
	require.NoError(t, err)
	for _, line := range sheet.Lines {
		for _, c := range line.Cells {
			if line.Worker.Name == "Fitz Harrow" && c.Entries > 0 {
				assert.Equal(t, "submitted", c.Status)
			}
		}
	}
}
