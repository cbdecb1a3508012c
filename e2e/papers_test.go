package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/register"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/suppliers"
	"jarvo/internal/demo"
)

// supplier is a supplier of the book, by name.
func (u user) supplier(name string) (found suppliers.SupplierRow, there bool) {
	u.t.Helper()
	list, err := suppliers.List(ctx, u.book.Book, book.Console)
	require.NoError(u.t, err)
	for _, s := range list {
		if s.Name == name {
			return s, true
		}
	}
	return found, false
}

// TestTwoSuppliersAreMerged mistypes a supplier on a paper, is asked whether another one is meant, saves it all the same, merges the two in
// Setup, gives the one that stays its terms, and sees all of it on the supplier's page.
func TestTwoSuppliersAreMerged(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	had, there := u.supplier("Ironholt Fasteners")
	require.True(t, there)
	u.open("/costs?open=new")
	u.must(u.See(`[aria-label="Lines"] tfoot`), u.Fill("", "Supplier", "Ironhold Fastners"))
	u.must(u.Type(`input[aria-label="Line 1, what"]`, "Coach screws"), u.Type(`input[aria-label="Line 1, unit cost"]`, "85"))
	u.sees("Ironhold Fastners is a new supplier; is it Ironholt Fasteners?")
	u.must(u.Press("Save"), u.Until(`!document.body.innerText.includes('not saved')`))
	_, there = u.supplier("Ironhold Fastners")
	require.True(t, there)

	u.open("/setup?part=suppliers")
	u.must(u.ClickIn(`[aria-label="Suppliers"] tr`, "Ironhold Fastners", "button"), u.See(`form[aria-label="Change Ironhold Fastners"]`))
	u.must(u.Pick("Is the same as", "Ironholt Fasteners"))
	u.accessible("two suppliers that are merged")
	u.must(u.Press("Merge"))
	u.sees("Its 1 paper go to the other one")
	u.must(u.ClickIn(`.sure`, "can't be undone", "button.warn"))
	u.must(u.Until(`![...document.querySelectorAll('[aria-label="Suppliers"] tr')].some(r => r.innerText.includes('Ironhold Fastners'))`))
	stays, _ := u.supplier("Ironholt Fasteners")
	assert.Equal(t, had.Papers+1, stays.Papers)

	u.must(u.ClickIn(`[aria-label="Suppliers"] tr`, "Ironholt Fasteners", "button"), u.See(`form[aria-label="Change Ironholt Fasteners"]`))
	u.fill("Change Ironholt Fasteners", "Terms", "21")
	u.must(u.Press("Save"), u.Until(`!document.querySelector('form[aria-label="Change Ironholt Fasteners"]')`))
	u.must(u.ClickIn(`[aria-label="Suppliers"] tr`, "Ironholt Fasteners", "a"), u.See(`[aria-label="History"]`))
	u.sees("21 days", "took over the papers of Ironhold Fastners")
	u.accessible("the page of a supplier")
}

// TestAnApprovedPaperIsVoidAndTypedAgain makes an approved paper void once it has said what that alters, and types it again under the
// same number.
func TestAnApprovedPaperIsVoidAndTypedAgain(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	d := u.approvedPaper()
	u.open(fmt.Sprintf("/costs?span=all&open=%d", d.ID))
	u.must(u.Press("Void paper"), u.See(`form[aria-label="Void this paper"]`), u.Press("Void paper"))
	u.must(u.ClickIn(`form[aria-label="Void this paper"]`, "Why it is void", "button.go"))
	u.sees("why it is void is needed")
	u.fill("Void this paper", "Why it is void", "typed for the wrong job")
	u.sees("not billed yet: cost ", " becomes 0.00")
	u.accessible("a paper that is made void")
	u.must(u.ClickIn(`form[aria-label="Void this paper"]`, "Why it is void", "button.go"))
	u.sees("void: typed for the wrong job")
	now, err := costs.Get(ctx, u.book.Book, book.Console, d.ID)
	require.NoError(t, err)
	assert.Equal(t, []string{"0.00", d.Total}, []string{now.Landed, now.Total})

	u.open("/costs?open=new")
	u.must(u.See(`[aria-label="Lines"] tfoot`), u.Fill("", "Supplier", d.Supplier), u.Fill("", "Invoice no.", d.Number))
	u.must(u.Type(`input[aria-label="Line 1, what"]`, "Typed again"), u.Type(`input[aria-label="Line 1, unit cost"]`, "85"))
	u.must(u.Press("Save"), u.Until(`!document.body.innerText.includes('not saved')`))
	body, err := u.Text("body")
	require.NoError(t, err)
	assert.NotContains(t, body, "is it entered twice?")
	report, err := reports.Make(ctx, u.book.Book, book.Console, "costs", reports.ReportQuery{})
	require.NoError(t, err)
	assert.Contains(t, fmt.Sprint(report.Rows), " void ")
}

// TestPricesTradesAndUnitsArePutRight corrects a price of the list, renames an item and a trade, adds a unit with a mistyped code first and
// chooses it on a paper, and finds the item and the worker on pages of their own.
func TestPricesTradesAndUnitsArePutRight(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.open("/setup?part=prices")
	u.must(u.ClickIn(`[aria-label="Price list"] tr`, "HANGER", "button.second"))
	u.must(u.ClickIn(`[aria-label="Prices of HANGER"] tbody tr`, "9.40", "button"), u.See(`form[aria-label="Correct a price of HANGER"]`))
	u.fill("Correct a price of HANGER", "Unit cost", "8.40")
	u.sees("This changes no cost and no charge.") // papers keep what they were typed with
	u.accessible("a price that is corrected")
	u.must(u.ClickIn(`form[aria-label="Correct a price of HANGER"]`, "Unit cost", "button.go"))
	u.must(u.Until(`document.querySelector('[aria-label="Prices of HANGER"]').innerText.includes('8.40')`))
	u.must(u.ClickIn(`[aria-label="Price list"] tr`, "HANGER", "button.lnk"), u.See(`form[aria-label="Change HANGER"]`))
	u.fill("Change HANGER", "Description", "Joist hanger, 316, left")
	u.must(u.Press("Save"), u.ClickIn(`[aria-label="Price list"] tr`, "Joist hanger, 316, left", "a"), u.See(`[aria-label="History"]`))
	u.sees("corrected a price", "costs 8.40")
	u.accessible("the page of an item")

	u.open("/setup?part=codes")
	u.must(u.ClickIn(`[aria-label="Trades"] tr`, "deckhand", "button"), u.See(`form[aria-label="Change trade deckhand"]`))
	u.fill("Change trade deckhand", "Name", "deck hand")
	u.must(u.Press("Save"), u.Until(`!document.querySelector('form[aria-label="Change trade deckhand"]')`))
	u.must(u.ClickIn(`[aria-label="Trades"] tr`, "labourer", "button"))
	u.must(u.Click(`form[aria-label="Change trade labourer"] input[type=checkbox]`))
	u.must(u.Press("Save"), u.Until(`document.querySelector('[aria-label="Trades"]').innerText.includes('labourer retired')`))
	u.must(u.Press("New unit"), u.See(`form[aria-label="New unit"]`))
	u.fill("New unit", "Unit", "bundle", "Code", "?")
	u.must(u.Press("Add unit"))
	u.sees("two or three letters or figures")
	u.fill("New unit", "Code", "be")
	u.must(u.Press("Add unit"), u.Until(`document.querySelector('[aria-label="Units"]').innerText.includes('BE')`))
	choices, err := register.ChoicesFor(ctx, u.book.Book, book.Console)
	require.NoError(t, err)
	assert.Contains(t, choices.Units, register.UnitChoice{Name: "bundle", Code: "BE", What: "of our own"})

	u.open("/")
	u.must(u.See(`[aria-label="Loose ends"]`), u.Chord(chromedp.ModifierCtrl, "k"), u.Type(`[aria-label="Find or do"]`, "Fitz worker"))
	u.sees("Worker, deck hand")
	u.must(u.Keys("\r"), u.See(`[aria-label="Where it is used"]`))
	u.sees("Fitz Harrow", "deck hand", "time entries")
}

// approvedPaper is a supplier's approved paper that is on no invoice and was not paid back.
func (u user) approvedPaper() costs.Document {
	u.t.Helper()
	list, err := costs.List(ctx, u.book.Book, book.Console, scope.ScopeQuery{})
	require.NoError(u.t, err)
	for _, r := range list.Documents {
		d, err := costs.Get(ctx, u.book.Book, book.Console, r.ID)
		require.NoError(u.t, err)
		if d.Status == "approved" && d.Supplier != "" && d.Number != "" && !d.OnInvoice && d.PaidBack == "" {
			return d
		}
	}
	u.t.Fatal("the demo has no approved paper that is on no invoice")
	return costs.Document{}
}
