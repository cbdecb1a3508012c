package hours

import (
	"os"
	"path/filepath"
	"testing"

	"jarvo/e2e/at"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/browser"
	"jarvo/internal/app/access"
	"jarvo/internal/app/book"
	"jarvo/internal/app/clock"
	"jarvo/internal/app/daylog"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/demo"
)

// TestAWorkerClocksOnAPhone clocks in and out, fills a day in and hands the week in, on a window as wide as a phone.
func TestAWorkerClocksOnAPhone(t *testing.T) {
	u := user{at.APhone(t, "fitz@brackwater.example", `[aria-label="My week"]`)}
	u.Sees("Not at work", "My week")
	tabs, err := browser.Eval[[]string](u.Page, `[...document.querySelectorAll('.tabs a')].map(a => a.innerText.trim())`)
	u.Must(err)
	assert.Equal(t, []string{"Clock", "Hours"}, tabs)
	u.Load("/jobs")
	u.Sees("Not at work") // nothing else is theirs to open

	u.Must(u.Press("Clock in"))
	u.Sees("Working since 9:00")
	u.Must(u.ClickAgain(), u.Press("Break")) // the second click is not for Clock out, which stands there now
	u.Sees("On a break")
	u.Must(u.Press("Back to work"), u.Press("Clock out"))
	u.Sees("Not at work") // no time has gone by at this at.Clock, so nothing was worked
	u.NothingSticksOut()

	// Without a connection it is kept, over a reload, and counts from when it was pressed.
	u.Must(u.Until(`navigator.serviceWorker.ready.then(() => caches.match('/')).then(kept => !!kept)`))
	u.Must(u.Until(`!Object.keys(localStorage).some(k => k.startsWith('jarvo-clock'))`)) // what was pressed is in the book
	u.Book.Stop()
	u.Must(u.Press("Clock in"))
	u.Sees("Kept on this phone, and sent when there is a connection: clock in at", "Working since")
	u.Load("/")
	u.Sees("Kept on this phone, and sent when there is a connection: clock in at", "Working since")
	u.Accessible("a clock without a connection")
	require.NoError(t, u.Book.Restart(t.Context()))
	u.Must(u.Until(`!document.body.innerText.includes('Kept on this phone')`))
	fitz, err := access.SignIn(t.Context(), u.Book.Book, "fitz@brackwater.example", demo.Password)
	require.NoError(t, err)
	page, err := clock.Page(t.Context(), u.Book.Book, fitz, "")
	require.NoError(t, err)
	require.NotNil(t, page.Working, "the book has it")
	u.Must(u.Press("Clock out"))
	u.Sees("Not at work")

	u.Must(u.Press("Hours"), u.Press("Change"), u.Type(`article input`, "7-4/30\r"))
	u.Sees("7:00 to 16:00, less 30 min, 8.5 h")
	u.Must(u.Press("Hand in my week"))
	u.Sees("Nothing to hand in")
	sheet, err := timesheet.Week(t.Context(), u.Book.Book, book.Console, timesheet.SheetQuery{Week: "2026-11-23", Crew: "Pile crew"})
	require.NoError(t, err)
	for _, line := range sheet.Lines {
		for _, c := range line.Cells {
			if line.Worker.Name == "Fitz Harrow" && c.Entries > 0 {
				assert.Equal(t, "submitted", c.Status)
			}
		}
	}
}

// TestAForemanTypesTheCrewsDayOnAPhone fills a Saturday for all, types over it where one of them left earlier, is told of a typo, and
// hands the week in.
func TestAForemanTypesTheCrewsDayOnAPhone(t *testing.T) {
	slip := filepath.Join(t.TempDir(), "slip.png")
	require.NoError(t, os.WriteFile(slip, at.OnePixel, 0o600))
	u := at.APhone(t, "greta@brackwater.example", `[aria-label="The crew's day"]`)
	u.Load("/time?span=day&from=2026-11-28")
	u.Must(u.Type(`[aria-label="Hours for all"]`, "7-3:30/30"))
	u.Sees("8 h")
	u.Accessible("the crew's day on a phone")
	u.Must(u.Press("Fill for all"))
	u.Sees("Filled 5 of 5")
	u.Must(u.Until(`document.querySelector('[aria-label="Hours of June Kettle"]').value === '8'`))
	u.Must(u.Type(`[aria-label="Hours of June Kettle"]`, "25\r"))
	u.Sees("June Kettle: ")
	u.Must(u.Press("Cancel"), u.Type(`[aria-label="Hours of June Kettle"]`, "6\r"))
	u.Must(u.Until(`document.querySelector('[aria-label="Hours of June Kettle"]').value === '6'`))
	u.NothingSticksOut()
	u.Must(u.Click(".fold"), u.Click(`[aria-label="Add plant"]`), u.Keys("Cr\r"))
	u.Must(u.Type(`[aria-label="Crawler crane, 60 t, how much"]`, "8"), u.Type(`.note textarea`, "tide late"))
	u.Accessible("plant of the crew's day on a phone")
	u.NothingSticksOut()
	u.Must(u.Press("Save plant and note"))
	u.Sees("Saved, and the plant is handed in")
	u.Must(u.Upload(`.picture input`, slip), u.See(`.pictures img`))
	log, err := daylog.Of(t.Context(), u.Book.Book, book.Console, daylog.Question{Date: "2026-11-28", Crew: "Deck crew"})
	require.NoError(t, err)
	assert.Equal(t, []string{"tide late", "8"}, []string{log.Note, log.Plant[0].Quantity})
	assert.Len(t, log.Pictures, 1)
	u.Must(u.Press("Hand in the week so far"))
	u.Sees("dated after today")
	u.Must(u.Press("Hand in all the same"))
	u.Sees("Handed in")
	sheet, err := timesheet.Week(t.Context(), u.Book.Book, book.Console, timesheet.SheetQuery{Week: "2026-11-23", Crew: "Deck crew"})
	require.NoError(t, err)
	assert.Equal(t, "38", sheet.DayHours[5])
	assert.Zero(t, sheet.Drafts)
}
