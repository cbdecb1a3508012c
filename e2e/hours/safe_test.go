package hours

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/at"
	"jarvo/e2e/browser"
	"jarvo/internal/app/book"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/demo"
)

func TestTwoWindowsNeverOverwriteEachOther(t *testing.T) {
	u := atTheDemo(t)
	other, err := u.Window()
	require.NoError(t, err)
	t.Cleanup(other.Close)
	second := u
	second.Page = other
	for _, window := range []user{u, second} {
		window.Open(pileCrew + "2026-11-16")
		window.Must(window.See(at.Cell(0, 0)))
	}
	u.Must(u.Click(at.Cell(0, 0)), u.Keys("7\r"))
	u.saved()
	second.stands(0, 0, "7") // it is told

	second.Must(second.Click(at.Cell(0, 0)), second.Keys("9.5"))
	week := timesheet.SheetQuery{Week: "2026-11-16"}
	_, err = timesheet.SaveCells(t.Context(), u.Book.Book, book.Console, week, stolen(t, u.Book.Book, "6.5"))
	require.NoError(t, err)
	second.Must(second.Keys("\r"))
	second.Sees("command line has changed this to 6.5 h; you typed 9.5", "Keep 6.5", "Use 9.5")
	second.Must(second.Press("Use 9.5"))
	second.saved()
	u.stands(0, 0, "9.5")
}

func TestTypingGoesOnWhileTheServerIsStopped(t *testing.T) {
	u := atTheDemo(t)
	u.Load(pileCrew + "2026-11-16")
	u.Must(u.See(at.Cell(0, 0)), u.Click(at.Cell(0, 5)), u.Keys("4\r"))
	u.saved()
	u.Book.Stop()
	u.Must(u.Keys("5\r6\r7\r"))
	u.Sees("3 not saved yet")
	u.stands(2, 5, "6")
	u.Must(u.Chord(chromedp.ModifierCtrl, "z"))
	u.stands(3, 5, "")
	require.NoError(t, u.Book.Restart(t.Context()))
	u.saved()
	u.Load(pileCrew + "2026-11-16")
	for line, text := range []string{"4", "5", "6", ""} {
		u.stands(line, 5, text)
	}
}

// TestASessionThatEndsInMidEditIsSignedInAgainInPlace goes on typing after the session has ended, signs in again where the typing was, with
// a wrong password first, and loses nothing.
func TestASessionThatEndsInMidEditIsSignedInAgainInPlace(t *testing.T) {
	u := atTheDemo(t)
	u.Load(pileCrew + "2026-11-16")
	u.Must(u.See(at.Cell(0, 0)), u.Click(at.Cell(0, 5)))
	_, err := browser.Eval[int](u.Page, `fetch('/api/session', { method: 'DELETE' }).then(r => r.status)`)
	u.Must(err, u.Keys("4\r"))
	u.Sees("You have been signed out", "Sign in again as Ada Ridley")
	u.Accessible("signing in again")
	u.Must(u.Keys("not this one\r"))
	u.Sees("the name or the password is not right")
	u.Must(u.Type(`form[aria-label="Sign in again"] input`, demo.Password+"\r"), u.Until(`!document.querySelector('[role="dialog"]')`))
	u.saved()
	u.stands(0, 5, "4")
	u.Load(pileCrew + "2026-11-16")
	u.stands(0, 5, "4")
}

// TestHoursGoToTheLineTheyWereBegunOn types into Bess Tarrow's line while another window adds a line above it.
func TestHoursGoToTheLineTheyWereBegunOn(t *testing.T) {
	u := atTheDemo(t)
	u.Load(pileCrew + "2026-11-16")
	u.Must(u.See(at.Cell(23, 0)), u.Click(at.Cell(4, 5)), u.Keys("7.5"))
	edits := stolen(t, u.Book.Book, "2")
	edits[0].EntryID, edits[0].Version, edits[0].CostCodeID, edits[0].PhaseID = 0, 0, 0, 0
	_, err := timesheet.SaveCells(t.Context(), u.Book.Book, book.Console, timesheet.SheetQuery{Week: "2026-11-16"}, edits)
	require.NoError(t, err)
	u.Must(u.Until(`document.querySelectorAll('.crew tr[data-line]').length === 25`))
	u.Must(u.Keys("\r"))
	u.saved()
	sheet, err := timesheet.Week(t.Context(), u.Book.Book, book.Console, timesheet.SheetQuery{Week: "2026-11-16", Crew: "Pile crew"})
	require.NoError(t, err)
	saturday := map[string]string{}
	for _, line := range sheet.Lines {
		if text := line.Cells[5].Text; text != "" {
			saturday[line.Worker.Name] += text
		}
	}
	assert.Equal(t, map[string]string{"Bess Tarrow": "7.5"}, saturday)
}
