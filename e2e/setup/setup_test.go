package setup

import (
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/at"
	"jarvo/e2e/browser"
	"jarvo/internal/app/access"
	"jarvo/internal/app/book"
	"jarvo/internal/app/company"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/register"
	"jarvo/internal/app/reports"
	"jarvo/internal/core/calendar"
	"jarvo/internal/demo"
)

// TestMistakesOfSetupArePutRight adds a worker with a typo in name and wage, puts both right, corrects a rate after it has said what that
// alters, is refused where billed work rests on a wage, renames a customer and merges it with another, retires a cost code, gives
// a job a phase, and lets a worker go.
func TestMistakesOfSetupArePutRight(t *testing.T) {
	u := at.TheDemo(t)
	setup := func() rates.SetupSheet {
		s, err := rates.Setup(t.Context(), u.Book.Book, book.Console, "", 0, 0)
		require.NoError(t, err)
		return s
	}
	u.Open("/setup?part=workers&add=yes")
	u.Must(u.See(`form[aria-label="New worker"]`))
	u.FillIn("New worker", "Name", "Ola Bernsten", "Trade", "diver", "Crew", "Dive crew", "Wage", "5.10")
	u.Must(u.Press("Add worker"), u.PressIn(`form[aria-label="New worker"]`, "Close"))
	u.Must(u.ClickIn(`[aria-label="Workers"] tr`, "Ola Bernsten", ".acts-of button:last-child"))
	u.Must(u.See(`form[aria-label="Change Ola Bernsten"]`))
	u.FillIn("Change Ola Bernsten", "Name", "Ola Berntsen")
	u.Sees("This changes no cost and no charge.")
	u.Accessible("a worker changed in its row")
	u.Must(u.Press("Save"), u.ClickIn(`[aria-label="Workers"] tr`, "Ola Berntsen", ".acts-of button"))
	u.Must(u.ClickIn(`[aria-label="Wages of Ola Berntsen"] tr`, "5.10", "button"))
	u.Must(u.See(`form[aria-label="Correct a wage of Ola Berntsen"]`))
	u.FillIn("Correct a wage of Ola Berntsen", "Wage", "51")
	u.Must(u.Press("Save"), u.Until(`!document.querySelector('form[aria-label="Correct a wage of Ola Berntsen"]')`))
	u.Must(u.Until(`document.querySelector('[aria-label="Wages of Ola Berntsen"]').innerText.includes('51.00')`))

	u.Open("/setup?part=workers")
	u.Must(u.ClickIn(`[aria-label="Workers"] tr`, "Cato Brandl", ".acts-of button"))
	u.Must(u.ClickIn(`[aria-label="Wages of Cato Brandl"] tr`, "34.20", "button"))
	u.Must(u.See(`form[aria-label="Correct a wage of Cato Brandl"]`))
	u.FillIn("Correct a wage of Cato Brandl", "Wage", "36")
	u.Sees("Billed work rests on this wage, so it stays; add another one with a later date")
	u.Must(u.PressIn(`form[aria-label="Correct a wage of Cato Brandl"]`, "Cancel"), u.Press("Discard"))

	u.Open("/setup?part=rates&asOf=2026-11-20")
	u.Must(u.Press("New rate"))
	u.Must(u.See(`form[aria-label="New rate"]`))
	u.FillIn("New rate", "Trade", "tender", "An hour", "7.4")
	u.Must(u.Press("Add rate"), u.ClickIn(`[aria-label="Labor rates"] tr`, "tender", ".lnk"))
	u.Must(u.See(`form[aria-label="Change this rate"]`))
	u.FillIn("Change this rate", "An hour", "74")
	u.Sees("Changes ", " of hours ", "not billed yet: cost stays")
	u.Must(u.Press("Save"), u.Until(`!document.querySelector('form[aria-label="Change this rate"]')`))

	u.Open("/setup?part=customers")
	u.Must(u.ClickIn(`[aria-label="Customers"] tr`, "E. Quill", "button"))
	u.Must(u.See(`form[aria-label="Change E. Quill"]`))
	u.FillIn("Change E. Quill", "Name", "E. Quill and Daughter")
	u.Must(u.Press("Save"), u.ClickIn(`[aria-label="Customers"] tr`, "E. Quill and Daughter", "button"), u.Press("Delete"))
	u.Must(u.ClickIn(`.sure`, "deleted for good", "button.warn"))
	u.Sees("this customer is in use, so it stays; retire it instead")
	u.Must(u.Pick("Is the same as", "Wrenfield"))
	u.Sees("This changes no cost and no charge.")
	u.Accessible("two customers that are merged")
	u.Must(u.Press("Merge"))
	u.Must(u.ClickIn(`.sure`, "Issued invoices keep their words", "button.warn"))
	u.Must(u.Until(`![...document.querySelectorAll('[aria-label="Customers"] tr')].some(r => r.innerText.includes('E. Quill'))`))

	u.Open("/setup?part=codes")
	u.Must(u.ClickIn(`[aria-label="Cost codes"] tr`, "330", ".lnk"))
	u.Must(u.Click(`form[aria-label="Change cost code 330"] input[type=checkbox]`), u.Press("Save"))
	u.Sees("retired")

	u.Open("/jobs/1187")
	u.Must(u.Press("Change job"), u.Press("Add a phase"))
	u.Must(u.Type(`.phase:last-of-type input`, "D"), u.Press("Save"), u.Until(`!document.querySelector('.phase')`))
	choices, err := register.ChoicesFor(t.Context(), u.Book.Book, book.Console)
	require.NoError(t, err)
	var phases []string
	for _, p := range choices.Phases {
		if p.Code == "D" {
			phases = append(phases, p.Code)
		}
	}
	assert.Len(t, phases, 1)

	u.Open("/setup?part=workers")
	u.Must(u.ClickIn(`[aria-label="Workers"] tr`, "Ola Berntsen", ".acts-of button:last-child"), u.Press("Delete"))
	u.Must(u.ClickIn(`.sure`, "deleted for good", "button.warn"), u.Until(`!document.body.innerText.includes('Ola Berntsen')`))
	for _, w := range setup().Workers {
		assert.NotEqual(t, "Ola Berntsen", w.Name)
	}
	for _, r := range setup().Labour {
		if r.Trade == "tender" {
			assert.Equal(t, "74.00", r.Value)
		}
	}
}

// TestPricesTradesAndUnitsArePutRight corrects a price of the list, renames an item and a trade, adds a unit with a mistyped code first and
// chooses it on a paper, and finds the item and the worker on pages of their own.
func TestPricesTradesAndUnitsArePutRight(t *testing.T) {
	u := at.TheDemo(t)
	u.Open("/setup?part=prices")
	u.Must(u.ClickIn(`[aria-label="Price list"] tr`, "HANGER", "button.second"))
	u.Must(u.ClickIn(`[aria-label="Prices of HANGER"] tbody tr`, "9.40", "button"), u.See(`form[aria-label="Correct a price of HANGER"]`))
	u.FillIn("Correct a price of HANGER", "Unit cost", "8.40")
	u.Sees("This changes no cost and no charge.") // papers keep what they were typed with
	u.Accessible("a price that is corrected")
	u.Must(u.ClickIn(`form[aria-label="Correct a price of HANGER"]`, "Unit cost", "button.go"))
	u.Must(u.Until(`document.querySelector('[aria-label="Prices of HANGER"]').innerText.includes('8.40')`))
	u.Must(u.ClickIn(`[aria-label="Price list"] tr`, "HANGER", "button.lnk"), u.See(`form[aria-label="Change HANGER"]`))
	u.FillIn("Change HANGER", "Description", "Joist hanger, 316, left")
	u.Must(u.Press("Save"), u.ClickIn(`[aria-label="Price list"] tr`, "Joist hanger, 316, left", "a"), u.See(`[aria-label="History"]`))
	u.Sees("corrected a price", "costs 8.40")
	u.Accessible("the page of an item")

	u.Open("/setup?part=codes")
	u.Must(u.ClickIn(`[aria-label="Trades"] tr`, "deckhand", "button"), u.See(`form[aria-label="Change trade deckhand"]`))
	u.FillIn("Change trade deckhand", "Name", "deck hand")
	u.Must(u.Press("Save"), u.Until(`!document.querySelector('form[aria-label="Change trade deckhand"]')`))
	u.Must(u.ClickIn(`[aria-label="Trades"] tr`, "labourer", "button"))
	u.Must(u.Click(`form[aria-label="Change trade labourer"] input[type=checkbox]`))
	u.Must(u.Press("Save"), u.Until(`document.querySelector('[aria-label="Trades"]').innerText.includes('labourer retired')`))
	u.Must(u.Press("New unit"), u.See(`form[aria-label="New unit"]`))
	u.FillIn("New unit", "Unit", "bundle", "Code", "?")
	u.Must(u.Press("Add unit"))
	u.Sees("two or three letters or figures")
	u.FillIn("New unit", "Code", "be")
	u.Must(u.Press("Add unit"), u.Until(`document.querySelector('[aria-label="Units"]').innerText.includes('BE')`))
	choices, err := register.ChoicesFor(t.Context(), u.Book.Book, book.Console)
	require.NoError(t, err)
	assert.Contains(t, choices.Units, register.UnitChoice{Name: "bundle", Code: "BE", What: "of our own"})

	u.Open("/")
	u.Must(u.See(`[aria-label="Loose ends"]`), u.Chord(chromedp.ModifierCtrl, "k"), u.Type(`[aria-label="Find or do"]`, "Fitz worker"))
	u.Sees("Worker, deck hand")
	u.Must(u.Keys("\r"), u.See(`[aria-label="Where it is used"]`))
	u.Sees("Fitz Harrow", "deck hand", "time entries")
}

// TestTimeOffAndAWageByTheWeek gives a diver a wage by the week, books a day off in the grid, and gives
// the yard a cover of its own that the build-up shows for its code.
func TestTimeOffAndAWageByTheWeek(t *testing.T) {
	u := at.TheDemo(t)
	u.Open("/setup?part=workers")
	u.Must(u.ClickIn(`[aria-label="Workers"] tr`, "Moss Tilley", ".acts-of button"))
	const raise = "New wage of Moss Tilley"
	u.Must(u.See(`form[aria-label="` + raise + `"]`))
	u.FillIn(raise, "Wage of", "2000", "Paid", "week", "From", "Nov 25, 2026")
	u.Sees("holds from the next week that begins")
	u.Accessible("a wage by the week")
	u.Must(u.Press("Save wage"), u.Until(`!document.querySelector('form[aria-label="`+raise+`"]')`))
	u.Open("/setup?part=workers&asOf=2026-12-01")
	u.Must(u.Until(`[...document.querySelectorAll('[aria-label="Workers"] tr')].some(
		r => r.innerText.includes('Moss Tilley') && r.innerText.includes('2,000.00 a week'))`))

	u.Open("/time?crew=Dive+crew&from=2026-11-30")
	u.Must(u.See(`[aria-label="Add a line"]`), u.Pick("Worker", "moss"), u.Pick("Job", "1200"))
	u.Must(u.Click(`form[aria-label="Add a line"] .leave input`), u.Press("Add line"), u.See(at.Cell(0, 0)))
	u.Must(u.Click(at.Cell(0, 0)), u.Keys("8\r"), u.Until(`!document.querySelector('.state').innerText.includes('Saving')`))
	u.Sees("leave", "8 of the 8 hours are leave")
	u.Accessible("leave in the crew sheet")
	monday := calendar.On(2026, time.November, 30)
	labour, err := reports.Make(t.Context(), u.Book.Book, book.Console, "labour", reports.ReportQuery{From: monday})
	require.NoError(t, err)
	require.Len(t, labour.Rows, 1)
	assert.Contains(t, labour.Rows[0], "480")
	assert.Contains(t, labour.Rows[0], "2000.00", "the week's pay lies on the hours there are")

	u.Open("/setup?part=burden&worker=13")
	u.Must(u.See("svg.stack"), u.Press("New component"), u.See(`form[aria-label="New burden component"]`))
	u.FillIn("New burden component", "Burden class", "Field marine", "Component", "Accident cover", "Value", "2", "From", "Nov 2, 2026")
	u.FillIn("New burden component", "For the work of", "520")
	u.Must(u.Press("Add component"))
	u.Must(u.See(`input[aria-label="Work"]`), u.Click(`input[aria-label="Work"]`), u.Chord(chromedp.ModifierCtrl, "a"), u.Keys("520"))
	u.Must(u.Until(`document.querySelectorAll('.v-overlay--active .v-list-item').length === 1`), u.Keys("\r"))
	u.Must(u.Until(`[...document.querySelectorAll('table tr')].some(
		r => r.innerText.includes('Accident cover') && r.innerText.includes('2 %'))`))
}

// TestTheTimeZoneIsChosenAndAPasswordChanged says in Setup where the company is and when overtime comes, with a typing error first, and
// changes the password, also with a wrong one first.
func TestTheTimeZoneIsChosenAndAPasswordChanged(t *testing.T) {
	u := at.TheDemo(t)
	u.Load("/setup?part=company")
	u.Must(u.See(`form[aria-label="The company"]`))
	u.Must(u.Until(`document.querySelector('input[name="timeZone"]').value === Intl.DateTimeFormat().resolvedOptions().timeZone`)) // proposed
	u.Accessible("the company")
	u.FillIn("The company", "Beyond, a day", "7")
	u.Sees("Changes ", " of hours ", "not billed yet: cost ", "What it would alter", "13 workers")
	u.Must(u.Type(`input[name="timeZone"]`, "Atlantic/Bermudaa\r"))
	u.Sees("is not a time zone")
	u.Must(u.Type(`input[name="timeZone"]`, "Atlantic/Bermuda\r"), u.Until(`(() => { const asked = new XMLHttpRequest();
		asked.open('GET', '/api/company', false); asked.send(); const { timeZone, overtimeDaily } = JSON.parse(asked.responseText);
		return timeZone === 'Atlantic/Bermuda' && overtimeDaily === '7' })()`))
	// What is typed stays where another window changes the settings meanwhile, and is refused as stale when it is saved.
	u.Must(u.Type(`input[name="phone"]`, "555 0199"), u.Until(`!document.querySelector('form[aria-label="The company"] .v-btn--loading')`))
	settings, err := company.Get(t.Context(), u.Book.Book, book.Console)
	require.NoError(t, err)
	settings.TermsDays = "21"
	require.NoError(t, company.Change(t.Context(), u.Book.Book, book.Console, settings))
	u.Must(u.Press("Save"))
	u.Sees("somebody else has changed the company's settings")
	u.Must(u.Until(`document.querySelector('input[name="phone"]').value === '555 0199'`), u.Press("Cancel"), u.Press("Discard"))
	u.Must(u.Until(`document.querySelector('input[name="termsDays"]').value === '21'`))

	state, err := access.State(t.Context(), u.Book.Book)
	require.NoError(t, err)
	zone, err := time.LoadLocation("Atlantic/Bermuda")
	require.NoError(t, err)
	assert.Equal(t, at.Clock().In(zone).Format(time.DateOnly), state.Today)

	const word, had = "a boathook and a bucket", `.password input[autocomplete="current-password"]`
	u.Must(u.Press("Ada R."), u.ClickIn(".v-overlay--active .v-list-item", "Change password", ".v-list-item-title"),
		u.See(`[aria-label="Change your password"]`))
	u.Accessible("a password that is being changed")
	u.Must(u.Type(had, "not this one"), u.Type(`.password input[autocomplete="new-password"]`, word+"\r"))
	u.Sees("this is not your password")
	u.Must(u.Type(had, demo.Password+"\r"), u.Until(`!document.querySelector('[aria-label="Change your password"]')`))
	_, err = access.SignIn(t.Context(), u.Book.Book, demo.SignIn, word)
	require.NoError(t, err)
	signedIn := `fetch('/api/session').then(r => r.status)`
	status, err := browser.Eval[int](u.Page, signedIn)
	require.NoError(t, err)
	assert.Equal(t, 200, status, "who changes it stays signed in")
}
