package e2e

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/browser"
	"jarvo/internal/app/book"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/demo"
)

// TestASessionThatEndsInMidEditIsSignedInAgainInPlace goes on typing after the session has ended, signs in again where the typing was, with
// a wrong password first, and loses nothing.
func TestASessionThatEndsInMidEditIsSignedInAgainInPlace(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.load(pileCrew + "2026-11-16")
	u.must(u.See(cell(0, 0)), u.Click(cell(0, 5)))
	_, err := browser.Eval[int](u.Page, `fetch('/api/session', { method: 'DELETE' }).then(r => r.status)`)
	u.must(err, u.Keys("4\r"))
	u.sees("You have been signed out", "Sign in again as Ada Ridley")
	u.accessible("signing in again")
	u.must(u.Keys("not this one\r"))
	u.sees("the name or the password is not right")
	u.must(u.Type(`form[aria-label="Sign in again"] input`, demo.Password+"\r"), u.Until(`!document.querySelector('[role="dialog"]')`))
	u.saved()
	u.stands(0, 5, "4")
	u.load(pileCrew + "2026-11-16")
	u.stands(0, 5, "4")
}

// TestHoursGoToTheLineTheyWereBegunOn types into Bess Tarrow's line while another window adds a line above it.
func TestHoursGoToTheLineTheyWereBegunOn(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.load(pileCrew + "2026-11-16")
	u.must(u.See(cell(23, 0)), u.Click(cell(4, 5)), u.Keys("7.5"))
	edits := stolen(t, u.book.Book, "2")
	edits[0].EntryID, edits[0].Version, edits[0].CostCodeID, edits[0].PhaseID = 0, 0, 0, 0
	_, err := timesheet.SaveCells(ctx, u.book.Book, book.Console, timesheet.SheetQuery{Week: "2026-11-16"}, edits)
	require.NoError(t, err)
	u.must(u.Until(`document.querySelectorAll('.crew tr[data-line]').length === 25`))
	u.must(u.Keys("\r"))
	u.saved()
	sheet, err := timesheet.Week(ctx, u.book.Book, book.Console, timesheet.SheetQuery{Week: "2026-11-16", Crew: "Pile crew"})
	require.NoError(t, err)
	saturday := map[string]string{}
	for _, line := range sheet.Lines {
		if text := line.Cells[5].Text; text != "" {
			saturday[line.Worker.Name] += text
		}
	}
	assert.Equal(t, map[string]string{"Bess Tarrow": "7.5"}, saturday)
}

// TestARepeatOverHoursAsksFirst repeats last week in a week that has hours: nothing is doubled unless that is meant, and what is undone
// leaves no empty lines.
func TestARepeatOverHoursAsksFirst(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.load(pileCrew + "2026-11-23")
	u.must(u.See(cell(0, 0)))
	lines := func() int {
		n, err := browser.Eval[int](u.Page, `document.querySelectorAll('.crew tr[data-line]').length`)
		u.must(err)
		return n
	}
	before := lines()
	hours, err := u.Text(`.crew tfoot .money`)
	u.must(err, u.Click(cell(0, 0)), u.Chord(chromedp.ModifierAlt, "r"))
	u.sees("already have hours on some of these days")
	u.accessible("a repeat that asks")
	u.must(u.Press("Cancel"))
	u.hours(hours)
	assert.Equal(t, before, lines())
	u.must(u.Click(cell(0, 0)), u.Keys("abc\x1b"), u.Chord(chromedp.ModifierAlt, "r"), u.Press("Only where there are none"))
	u.sees("from last week")
	u.saved()
	u.must(u.Click(cell(0, 0)), u.Chord(chromedp.ModifierCtrl, "z"))
	u.hours(hours)
	assert.Equal(t, before, lines(), "no empty line stays, and letters alone change nothing")
}

// TestFiguresAreReadAsTheyAreShown types a paper as it is written in Germany, by somebody whose own day is the next one already.
func TestFiguresAreReadAsTheyAreShown(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.must(u.Locale("de-DE", "Pacific/Auckland"))
	u.load("/costs?open=new")
	u.must(u.See(`[aria-label="Lines"]`), u.Until(`document.querySelector('.head-fields .date input').value === '25. Nov. 2026'`))
	u.fill("", "Supplier", "Half Way Stores", "Date", "9.3.", "Freight", "1.500,25")
	u.must(u.Type(`input[aria-label="Line 1, what"]`, "Rope"), u.Type(`input[aria-label="Line 1, quantity"]`, "1.500"),
		u.Type(`input[aria-label="Line 1, unit cost"]`, "1.250,50"))
	u.sees("1.875.750,00", "1.877.250,25") // 1 500 x 1 250.50, and the freight
	u.must(u.Until(`document.querySelector('.head-fields .date input').value === '9. März 2026'`))
	u.must(u.Type(`input[aria-label="Line 1, quantity"]`, "abc"))
	u.sees("abc")
	u.must(u.See(`input[aria-label="Line 1, quantity"][aria-invalid="true"]`))
}

// A sheet whose script is gone, as after an upgrade, is loaded anew; where that does not help, or something is typed that would be lost,
// it is said and nothing is lost.
func TestASheetThatAnUpgradeTookIsLoadedAnew(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	_, err := browser.Eval[bool](u.Page, `window.before = true`)
	u.must(err, u.Block("*://*:*/assets/JobsSheet*.js"), u.tab("j"), u.Until(`!window.before && !!document.querySelector('.tabs')`))
	u.must(u.tab("j"))
	u.sees("Jarvo has been updated. Save what you typed, then reload this page.")
	u.must(u.Block())
	u.load("/jobs")
	u.must(u.See(`[aria-label="Jobs"]`))
}
