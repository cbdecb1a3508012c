package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/register"
	"jarvo/internal/app/scope"
	"jarvo/internal/demo"
)

// TestMistakesOfSetupArePutRight adds a worker with a typo in name and wage, puts both right, corrects a rate after it has said what that
// alters, is refused where billed work rests on a wage, renames a customer, retires a cost code, gives a job a phase, and lets a worker go.
func TestMistakesOfSetupArePutRight(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	setup := func() rates.SetupSheet {
		s, err := rates.Setup(ctx, u.book.Book, book.Console, "", 0, 0)
		require.NoError(t, err)
		return s
	}
	u.open("/setup?part=workers&add=yes")
	u.must(u.See(`form[aria-label="New worker"]`))
	u.fill("New worker", "Name", "Ola Bernsten", "Trade", "diver", "Crew", "Dive crew", "Wage", "5.10")
	u.must(u.Press("Add worker"), u.PressIn(`form[aria-label="New worker"]`, "Close"))
	u.must(u.ClickIn(`[aria-label="Workers"] tr`, "Ola Bernsten", ".acts-of button:last-child"))
	u.must(u.See(`form[aria-label="Change Ola Bernsten"]`))
	u.fill("Change Ola Bernsten", "Name", "Ola Berntsen")
	u.sees("This changes no cost and no charge.")
	u.accessible("a worker changed in its row")
	u.must(u.Press("Save"), u.ClickIn(`[aria-label="Workers"] tr`, "Ola Berntsen", ".acts-of button"))
	u.must(u.ClickIn(`[aria-label="Wages of Ola Berntsen"] tr`, "5.10", "button"))
	u.must(u.See(`form[aria-label="Correct a wage of Ola Berntsen"]`))
	u.fill("Correct a wage of Ola Berntsen", "Wage", "51")
	u.must(u.Press("Save"), u.Until(`!document.querySelector('form[aria-label="Correct a wage of Ola Berntsen"]')`))
	u.must(u.Until(`document.querySelector('[aria-label="Wages of Ola Berntsen"]').innerText.includes('51.00')`))

	u.open("/setup?part=workers")
	u.must(u.ClickIn(`[aria-label="Workers"] tr`, "Cato Brandl", ".acts-of button"))
	u.must(u.ClickIn(`[aria-label="Wages of Cato Brandl"] tr`, "34.20", "button"))
	u.must(u.See(`form[aria-label="Correct a wage of Cato Brandl"]`))
	u.fill("Correct a wage of Cato Brandl", "Wage", "36")
	u.sees("Billed work rests on this wage, so it stays; add another one with a later date")
	u.must(u.PressIn(`form[aria-label="Correct a wage of Cato Brandl"]`, "Cancel"), u.Press("Discard"))

	u.open("/setup?part=rates&asOf=2026-11-20")
	u.must(u.Press("New rate"))
	u.must(u.See(`form[aria-label="New rate"]`))
	u.fill("New rate", "Trade", "tender", "An hour", "7.4")
	u.must(u.Press("Add rate"), u.ClickIn(`[aria-label="Labour rates"] tr`, "tender", ".lnk"))
	u.must(u.See(`form[aria-label="Change this rate"]`))
	u.fill("Change this rate", "An hour", "74")
	u.sees("Changes ", " of hours ", "not billed yet: cost stays")
	u.must(u.Press("Save"), u.Until(`!document.querySelector('form[aria-label="Change this rate"]')`))

	u.open("/setup?part=customers")
	u.must(u.ClickIn(`[aria-label="Customers"] tr`, "E. Quill", "button"))
	u.must(u.See(`form[aria-label="Change E. Quill"]`))
	u.fill("Change E. Quill", "Name", "E. Quill and Daughter")
	u.must(u.Press("Save"), u.ClickIn(`[aria-label="Customers"] tr`, "E. Quill and Daughter", "button"), u.Press("Delete"))
	u.must(u.ClickIn(`.sure`, "deleted for good", "button.warn"))
	u.sees("this customer is in use, so it stays; retire it instead")
	u.must(u.Press("Cancel"))

	u.open("/setup?part=codes")
	u.must(u.ClickIn(`[aria-label="Cost codes"] tr`, "330", ".lnk"))
	u.must(u.Click(`form[aria-label="Change cost code 330"] input[type=checkbox]`), u.Press("Save"))
	u.sees("retired")

	u.open("/jobs/1187")
	u.must(u.Press("Change job"), u.Press("Add a phase"))
	u.must(u.Type(`.phase:last-of-type input`, "D"), u.Press("Save"), u.Until(`!document.querySelector('.phase')`))
	choices, err := register.ChoicesFor(ctx, u.book.Book, book.Console)
	require.NoError(t, err)
	var phases []string
	for _, p := range choices.Phases {
		if p.Code == "D" {
			phases = append(phases, p.Code)
		}
	}
	assert.Len(t, phases, 1)

	u.open("/setup?part=workers")
	u.must(u.ClickIn(`[aria-label="Workers"] tr`, "Ola Berntsen", ".acts-of button:last-child"), u.Press("Delete"))
	u.must(u.ClickIn(`.sure`, "deleted for good", "button.warn"), u.Until(`!document.body.innerText.includes('Ola Berntsen')`))
	for _, w := range setup().Workers {
		assert.NotEqual(t, "Ola Berntsen", w.Name)
	}
	for _, r := range setup().Labour {
		if r.Trade == "tender" {
			assert.Equal(t, "74.00", r.Value)
		}
	}
}

// TestAPaymentIsTakenBack records a cheque for an invoice, takes it back because it bounced, and finds the invoice owed again.
func TestAPaymentIsTakenBack(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.open("/bill?list=issued&span=all")
	u.must(u.See(`form[aria-label="Record payment"]`))
	owed := func() string {
		bill, err := billing.Sheet(ctx, u.book.Book, book.Console, scope.ScopeQuery{})
		require.NoError(t, err)
		return bill.Totals.Balance
	}
	before := owed()
	u.fill("Record payment", "Method", "cheque", "Reference", "4471")
	u.must(u.Press("Record payment"), u.Until(`!document.querySelector('form[aria-label="Record payment"]')`))
	assert.NotEqual(t, before, owed())
	u.must(u.Press("Payments"), u.ClickIn(`[aria-label="Payments"] tr`, "4471", "button.lnk"))
	u.accessible("a payment taken back")
	u.must(u.Press("Take payment back"))
	u.sees("a reason is needed")
	u.must(u.Type(`input[name="reason"]`, "bounced"), u.Press("Take payment back"))
	u.must(u.Until(`[...document.querySelectorAll('[aria-label="Payments"] tr')].some(r => r.innerText.includes('bounced'))`))
	assert.Equal(t, before, owed())
}

// TestABundleIsBroughtInWithAPreview chooses a file with a mistake, is told where, and brings the mended one in once it has seen what would
// come in.
func TestABundleIsBroughtInWithAPreview(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	file := filepath.Join(t.TempDir(), "cost_codes.csv")
	put := func(text string) {
		u.must(os.WriteFile(file, []byte(text), 0o600), u.Upload(`input[type="file"]`, file))
	}
	u.open("/setup?part=data")
	put("code,title\n610,Dredge\n")
	u.must(u.See(`[aria-label="What is wrong"]`))
	u.sees("this can't be brought in as it is; nothing of it was")
	u.accessible("what is wrong with a bundle")
	put("code,name\n610,Dredge\n320,Drive piles\n")
	u.must(u.See(`[aria-label="What would come in"]`))
	codes := func() int {
		s, err := rates.Setup(ctx, u.book.Book, book.Console, "", 0, 0)
		require.NoError(t, err)
		return len(s.CostCodes)
	}
	before := codes()
	u.must(u.Press("Bring it in"))
	u.sees("2 rows of cost_codes.csv brought in, 1 of them new.")
	assert.Equal(t, before+1, codes())
}
