package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/browser"
	"jarvo/internal/app/book"
	"jarvo/internal/app/daylog"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/demo"
)

// onAPhone opens a window as narrow as a phone at a running demo book, and signs somebody in.
func onAPhone(t *testing.T, signIn, first string) user {
	t.Helper()
	return demoIn(t, 390, 844, signIn, first)
}

func (u user) nothingSticksOut() {
	u.t.Helper()
	fits, err := browser.Eval[bool](u.Page, `document.documentElement.scrollWidth <= 390`)
	u.must(err)
	assert.True(u.t, fits, "something sticks out of the window")
}

// TestAForemanTypesTheCrewsDayOnAPhone fills a Saturday for all, types over it where one of them left earlier, is told of a typo, and
// hands the week in.
func TestAForemanTypesTheCrewsDayOnAPhone(t *testing.T) {
	slip := filepath.Join(t.TempDir(), "slip.png")
	require.NoError(t, os.WriteFile(slip, onePixel, 0o600))
	u := onAPhone(t, "greta@brackwater.example", `[aria-label="The crew's day"]`)
	u.load("/time?span=day&from=2026-11-28")
	u.must(u.Type(`[aria-label="Hours for all"]`, "7-3:30/30"))
	u.sees("8 h")
	u.accessible("the crew's day on a phone")
	u.must(u.Press("Fill for all"))
	u.sees("Filled 5 of 5")
	u.must(u.Until(`document.querySelector('[aria-label="Hours of June Kettle"]').value === '8'`))
	u.must(u.Type(`[aria-label="Hours of June Kettle"]`, "25\r"))
	u.sees("June Kettle: ")
	u.must(u.Press("Cancel"), u.Type(`[aria-label="Hours of June Kettle"]`, "6\r"))
	u.must(u.Until(`document.querySelector('[aria-label="Hours of June Kettle"]').value === '6'`))
	u.nothingSticksOut()
	u.must(u.Click(".fold"), u.Click(`[aria-label="Add plant"]`), u.Keys("Cr\r"))
	u.must(u.Type(`[aria-label="Crawler crane, 60 t, how much"]`, "8"), u.Type(`.note textarea`, "tide late"))
	u.accessible("plant of the crew's day on a phone")
	u.nothingSticksOut()
	u.must(u.Press("Save plant and note"))
	u.sees("Saved, and the plant is handed in")
	u.must(u.Upload(`.picture input`, slip), u.See(`.pictures img`))
	log, err := daylog.Of(ctx, u.book.Book, book.Console, daylog.Question{Date: "2026-11-28", Crew: "Deck crew"})
	require.NoError(t, err)
	assert.Equal(t, []string{"tide late", "8"}, []string{log.Note, log.Plant[0].Quantity})
	assert.Len(t, log.Pictures, 1)
	u.must(u.Press("Hand in the week so far"))
	u.sees("dated after today")
	u.must(u.Press("Hand in all the same"))
	u.sees("Handed in")
	sheet, err := timesheet.Week(ctx, u.book.Book, book.Console, timesheet.SheetQuery{Week: "2026-11-23", Crew: "Deck crew"})
	require.NoError(t, err)
	assert.Equal(t, "38", sheet.DayHours[5])
	assert.Zero(t, sheet.Drafts)
}

// TestTodayOnAPhoneIsOneColumn opens a loose end where it stands, and leads on to Approve.
func TestTodayOnAPhoneIsOneColumn(t *testing.T) {
	u := onAPhone(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.sees("Billed late: ", "The week", "Not approved", "Ready to bill", " more")
	u.accessible("today on a phone")
	u.nothingSticksOut()
	u.must(u.ClickIn(`[aria-label="Loose ends"] tr`, "No rate", "td"))
	u.sees("Price an hour")
	u.accessible("a loose end opened on a phone")
	u.nothingSticksOut()
	u.must(u.Click(`.tabs a[href^="/approve"]`), u.See(".phone-list"))
	u.nothingSticksOut()
}
