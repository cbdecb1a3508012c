package costs

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/browser"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/suppliers"
)

// supplier is a supplier of the book, by name.
func (u user) supplier(name string) (found suppliers.SupplierRow, there bool) {
	u.T.Helper()
	list, err := suppliers.List(u.T.Context(), u.Book.Book, book.Console)
	require.NoError(u.T, err)
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
	u := atTheDemo(t)
	had, there := u.supplier("Ironholt Fasteners")
	require.True(t, there)
	u.Open("/costs?open=new")
	u.Must(u.See(`[aria-label="Lines"] tfoot`), u.Fill("", "Supplier", "Ironhold Fastners"))
	u.Must(u.Type(`input[aria-label="Line 1, what"]`, "Coach screws"), u.Type(`input[aria-label="Line 1, unit cost"]`, "85"))
	u.Sees("Ironhold Fastners is a new supplier; is it Ironholt Fasteners?")
	u.Must(u.Press("Save"), u.Until(`!document.body.innerText.includes('not saved')`))
	_, there = u.supplier("Ironhold Fastners")
	require.True(t, there)

	u.Open("/setup?part=suppliers")
	u.Must(u.ClickIn(`[aria-label="Suppliers"] tr`, "Ironhold Fastners", "button"), u.See(`form[aria-label="Change Ironhold Fastners"]`))
	u.Must(u.Pick("Is the same as", "Ironholt Fasteners"))
	u.Accessible("two suppliers that are merged")
	u.Must(u.Press("Merge"))
	u.Sees("Its 1 paper goes to the other one")
	u.Must(u.ClickIn(`.sure`, "can't be undone", "button.warn"))
	u.Must(u.Until(`![...document.querySelectorAll('[aria-label="Suppliers"] tr')].some(r => r.innerText.includes('Ironhold Fastners'))`))
	stays, _ := u.supplier("Ironholt Fasteners")
	assert.Equal(t, had.Papers+1, stays.Papers)

	u.Must(u.ClickIn(`[aria-label="Suppliers"] tr`, "Ironholt Fasteners", "button"), u.See(`form[aria-label="Change Ironholt Fasteners"]`))
	u.FillIn("Change Ironholt Fasteners", "Terms", "21")
	u.Must(u.Press("Save"), u.Until(`!document.querySelector('form[aria-label="Change Ironholt Fasteners"]')`))
	u.Must(u.ClickIn(`[aria-label="Suppliers"] tr`, "Ironholt Fasteners", "a"), u.See(`[aria-label="History"]`))
	u.Sees("Net 21", "took over the papers of Ironhold Fastners")
	u.Accessible("the page of a supplier")
}

// TestAnApprovedPaperIsVoidAndTypedAgain makes an approved paper void once it has said what that alters, and types it again under the
// same number.
func TestAnApprovedPaperIsVoidAndTypedAgain(t *testing.T) {
	u := atTheDemo(t)
	d := u.approvedPaper()
	u.Open(fmt.Sprintf("/costs?span=all&open=%d", d.ID))
	u.Must(u.Press("Void paper"), u.See(`form[aria-label="Void this paper"]`), u.Press("Void paper"))
	u.Must(u.ClickIn(`form[aria-label="Void this paper"]`, "Why it is void", "button.go"))
	u.Sees("why it is void is needed")
	u.FillIn("Void this paper", "Why it is void", "typed for the wrong job")
	u.Sees("not billed yet: cost ", " becomes 0.00")
	u.Accessible("a paper that is made void")
	u.Must(u.ClickIn(`form[aria-label="Void this paper"]`, "Why it is void", "button.go"))
	u.Sees("void: typed for the wrong job")
	now, err := costs.Get(t.Context(), u.Book.Book, book.Console, d.ID)
	require.NoError(t, err)
	assert.Equal(t, []string{"0.00", d.Total}, []string{now.Landed, now.Total})

	u.Open("/costs?open=new")
	u.Must(u.See(`[aria-label="Lines"] tfoot`), u.Fill("", "Supplier", d.Supplier), u.Fill("", "Invoice no.", d.Number))
	u.Must(u.Type(`input[aria-label="Line 1, what"]`, "Typed again"), u.Type(`input[aria-label="Line 1, unit cost"]`, "85"))
	u.Must(u.Press("Save"), u.Until(`!document.body.innerText.includes('not saved')`))
	body, err := u.Text("body")
	require.NoError(t, err)
	assert.NotContains(t, body, "is it entered twice?")
	report, err := reports.Make(t.Context(), u.Book.Book, book.Console, "costs", reports.ReportQuery{})
	require.NoError(t, err)
	assert.Contains(t, fmt.Sprint(report.Rows), " void ")
}

// approvedPaper is a supplier's approved paper that is on no invoice and was not paid back.
func (u user) approvedPaper() costs.Document {
	u.T.Helper()
	list, err := costs.List(u.T.Context(), u.Book.Book, book.Console, scope.ScopeQuery{})
	require.NoError(u.T, err)
	for _, r := range list.Documents {
		d, err := costs.Get(u.T.Context(), u.Book.Book, book.Console, r.ID)
		require.NoError(u.T, err)
		if d.Status == "approved" && d.Supplier != "" && d.Number != "" && !d.OnInvoice && d.PaidBack == "" {
			return d
		}
	}
	u.T.Fatal("the demo has no approved paper that is on no invoice")
	return costs.Document{}
}

// TestADoublePaperIsComparedAndDeleted goes from the loose end to both papers side by side, deletes one of them, and the other has nothing
// against it any more.
func TestADoublePaperIsComparedAndDeleted(t *testing.T) {
	u := atTheDemo(t)
	u.Sees("Entered twice: same supplier, number")
	u.Open("/costs?span=all")
	u.Must(u.ClickIn(`[aria-label="Papers"] tr`, "7731", "td"))
	u.Sees("is it entered twice?")
	u.Must(u.Press("Compare the two"))
	u.Sees("Are they the same paper?", "First: Sable Bar Marine Fuel 7731", "Second: Sable Bar Marine Fuel 7731")
	u.Must(u.See(`[aria-label="Lines of the paper"]`))
	u.Accessible("two papers compared")
	u.Must(u.ClickIn(".compare article", "Second: ", ".sure button"))
	u.Sees("Its lines and scans are deleted.")
	u.Must(u.ClickIn(".compare article", "Second: ", ".sure button"), u.Until(`!document.querySelector('.compare')`))
	u.Must(u.See(`[aria-label="Lines"]`), u.Until(`!document.body.innerText.includes('is it entered twice?')`))
	left, err := browser.Eval[int](u.Page, `[...document.querySelectorAll('[aria-label="Papers"] tr[data-row]')].filter(
		r => r.innerText.includes('7731')).length`)
	u.Must(err)
	assert.Equal(t, 1, left)
}
