package window

import (
	"errors"
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"

	"jarvo/e2e/at"
	"jarvo/e2e/browser"
)

// TestMenusAndPanelsAreAccessible opens what opens over a sheet, and sees the focus go in and come back.
func TestMenusAndPanelsAreAccessible(t *testing.T) {
	u := at.TheDemo(t)
	u.Open("/time?crew=Pile+crew&from=2026-11-16")
	u.Must(u.See(at.Cell(0, 0)))
	for _, opens := range []string{"#where", ".dates", ".ways + .acts .v-btn", ".who"} {
		u.Must(u.Click(opens), u.See(".v-overlay--active"))
		u.Accessible("what " + opens + " opens")
		u.Must(u.Keys("\x1b"), u.Until(`!document.querySelector('.v-overlay--active')`))
	}
	u.Must(u.Click(at.Cell(0, 0)), u.Keys(kb.F1), u.See(`aside[aria-label="Help and keys"]`))
	u.Sees("The week", "repeat last week", "Alt G a", "Crew sheet", "Repeat last week brings its lines")
	u.Must(u.Type(`[aria-label="Search the help"]`, "mistyped wage"))
	u.Sees("Workers and wages")
	u.Must(u.Until(`document.activeElement.closest('aside')?.ariaLabel === 'Help and keys'`))
	u.Accessible("the keys")
	u.Must(u.Keys("\x1b"), u.Until(`!!document.activeElement.closest('[data-line="0"]')`))
	u.Must(u.Chord(chromedp.ModifierAlt, "w"), u.See(".tape"))
	u.Accessible("the workings of hours")
	u.Must(u.Tab("j"), u.See(`[aria-label="Jobs"]`), u.Until(`document.activeElement.id === 'sheet'`))
	u.Must(u.Click(`[aria-label="Columns of Jobs"]`), u.See(".v-overlay--active"))
	u.Accessible("the choice of columns")
}

// TestAnythingIsFoundByItsName goes to an invoice, a paper, a worker's and a customer's row and a setting by the keyboard alone.
func TestAnythingIsFoundByItsName(t *testing.T) {
	u := at.TheDemo(t)
	find := func(text, shows string) {
		t.Helper()
		u.Must(u.Chord(chromedp.ModifierCtrl, "k"), u.Type(`[aria-label="Find or do"]`, text))
		u.Must(u.Until(fmt.Sprintf(`document.querySelector("#found").innerText.includes(%q)`, shows)))
		u.Must(u.Keys("\r"), u.Until(`!document.querySelector('[aria-label="Find or do"]')`))
	}
	u.Must(u.Chord(chromedp.ModifierCtrl, "k"), u.Type(`[aria-label="Find or do"]`, "kestrel"))
	u.Must(u.Until(`document.querySelector("#found").innerText.includes("Supplier, ")`))
	u.Accessible("find or do")
	u.Must(u.Keys("\x1b"))
	find("20418", "Pellmore Timber & Piling PM-20418")
	u.Must(u.See(`[aria-label="Lines"]`), u.Until(`[...document.querySelectorAll('.head-fields input')].some(i => i.value === 'PM-20418')`))
	find("tarrow worker", "Bess Tarrow")
	u.Must(u.See(`[aria-label="Where it is used"]`))
	u.Sees("43.80 an hour")
	find("invoice 2", "Invoice")
	u.Must(u.See(".invoice .due"))
	find("setup burden", "Setup: burden")
	u.Must(u.See("svg.stack"))
	u.Must(u.Chord(chromedp.ModifierCtrl, "k"), u.Type(`[aria-label="Find or do"]`, "nothing is called so"))
	u.Sees("Nothing is called that.")
}

// TestWhatIsShownIsExported takes the crew sheet and the list of jobs out as they are seen, figures as figures.
func TestWhatIsShownIsExported(t *testing.T) {
	u := at.TheDemo(t)
	button := func() error { return u.Click(`[aria-label="Export what is shown"]`) }
	u.Open("/time?crew=Pile+crew&from=2026-11-16")
	u.Must(u.See(`[aria-label="Crew sheet"] tfoot`))
	name, rows := u.Exported(button)
	assert.Equal(t, "Time-Pile-crew-Nov-16-Nov-22.csv", name)
	assert.Equal(t, []string{"Worker", "Job, phase, code", "Bill", "Mon 16"}, rows[0][:4])
	assert.Equal(t, []string{"Aldo Renn, pile foreman", "1187 Ferry landing, Lifting · 330", "yes", "9", "", "8"}, rows[1][:6])
	assert.Equal(t, []string{"Aldo Renn, pile foreman", "1181 Saltmarsh Road"}, []string{rows[2][0], rows[2][1][:19]})
	last := rows[len(rows)-1]
	assert.Equal(t, []string{"258", "18", "13672.95", "19740.00"}, last[len(last)-4:])

	u.Open("/jobs")
	u.Must(u.See(`[aria-label="Jobs"] tfoot`))
	_, rows = u.Exported(func() error {
		return errors.Join(u.Chord(chromedp.ModifierCtrl, "k"), u.Type(`[aria-label="Find or do"]`, "export what\r"))
	})
	assert.Contains(t, rows, []string{
		"1194 Pontoon repair, Pennock Landing, fixed", "6400.00", "", "11672.15", "5530.09", "-966.18", "-7108.24", "-128.54", "0.00", "", "",
	})
}

// A sheet whose script is gone, as after an upgrade, is loaded anew; where that does not help, or something is typed that would be lost,
// it is said and nothing is lost.
func TestASheetThatAnUpgradeTookIsLoadedAnew(t *testing.T) {
	u := at.TheDemo(t)
	_, err := browser.Eval[bool](u.Page, `window.before = true`)
	u.Must(err, u.Block("*://*:*/assets/JobsSheet*.js"), u.Tab("j"), u.Until(`!window.before && !!document.querySelector('.tabs')`))
	u.Must(u.Tab("j"))
	u.Sees("Jarvo has been updated. Save what you typed, then reload this page.")
	u.Must(u.Block())
	u.Load("/jobs")
	u.Must(u.See(`[aria-label="Jobs"]`))
}
