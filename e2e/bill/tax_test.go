package bill

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/at"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/scope"
)

// TestATaxThatTheCustomerOwesIsSaidOnTheInvoice makes a tax code without tax but with a note, gives it to a customer, and finds the
// note on the draft.
func TestATaxThatTheCustomerOwesIsSaidOnTheInvoice(t *testing.T) {
	u := at.TheDemo(t)
	u.Open("/setup?part=codes")
	u.Must(u.Press("New tax code"), u.See(`form[aria-label="New tax code"]`))
	u.FillIn("New tax code", "Code", "RC", "Kind", "reverse_charge")
	u.FillIn("New tax code", "Note", "Reverse charge: tax is owed by the customer.")
	u.Accessible("a tax code")
	u.Must(u.Press("Add tax code"))
	u.Must(u.Until(`[...document.querySelectorAll('[aria-label="Taxes"] tr')].some(r => r.innerText.includes('RC'))`))
	u.Open("/setup?part=customers")
	u.Must(u.ClickIn(`[aria-label="Customers"] tr`, "Corran Reach", "button"), u.See(`form[aria-label="Change Corran Reach Yacht Club"]`))
	u.FillIn("Change Corran Reach Yacht Club", "Tax code", "RC")
	u.Must(u.Press("Save"), u.Until(`!document.querySelector('form[aria-label="Change Corran Reach Yacht Club"]')`))
	u.Open("/bill")
	u.Must(u.ClickIn(`[aria-label="Ready to bill"] tr`, "1195", "input"), u.Press("Make 1 draft"), u.See(".invoice .due"))
	u.Sees("Reverse charge: tax is owed by the customer.")
	u.Accessible("a draft with a note on its tax")
}

// TestANextPercentageHoldsFromItsDay makes a tax code whose percentage changes with the month: a draft of today has the new one, and a
// component twice from one day is refused beside its row.
func TestANextPercentageHoldsFromItsDay(t *testing.T) {
	u := at.TheDemo(t)
	form := `form[aria-label="New tax code"]`
	part := func(n, field string) string {
		return form + ` .part:nth-of-type(` + n + `) .field:nth-of-type(` + field + `) input`
	}
	u.Open("/setup?part=codes")
	u.Must(u.Press("New tax code"), u.See(form))
	u.FillIn("New tax code", "Code", "CO", "Component", "County")
	u.Must(u.Type(part("1", "3"), "5"), u.Press("Add a component, or the next percentage of one"))
	u.Must(u.Type(part("2", "3"), "6.25"), u.Press("Add tax code"), u.See(form+` .part:nth-of-type(2) .said:not(:empty)`))
	u.Must(u.Type(part("2", "2"), "2026-11-01\t"))
	u.Accessible("a tax code with two percentages")
	u.Must(u.Press("Add tax code"))
	u.Must(u.Until(`[...document.querySelectorAll('[aria-label="Taxes"] tr')].filter(r => r.innerText.includes('County')).length === 2`))

	u.Open("/setup?part=customers")
	u.Must(u.ClickIn(`[aria-label="Customers"] tr`, "Corran Reach", "button"), u.See(`form[aria-label="Change Corran Reach Yacht Club"]`))
	u.FillIn("Change Corran Reach Yacht Club", "Tax code", "CO")
	u.Must(u.Press("Save"), u.Until(`!document.querySelector('form[aria-label="Change Corran Reach Yacht Club"]')`))
	u.Open("/bill")
	u.Must(u.ClickIn(`[aria-label="Ready to bill"] tr`, "1195", "input"), u.Press("Make 1 draft"), u.See(".invoice .due"))
	u.Sees("County", "6.25")
	sheet, err := billing.Sheet(t.Context(), u.Book.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	for _, d := range sheet.Drafts {
		paper, err := billing.Invoice(t.Context(), u.Book.Book, book.Console, d.ID)
		require.NoError(t, err)
		if len(paper.Taxes) > 0 {
			assert.Equal(t, []string{"6.25", paper.Subtotal}, []string{paper.Taxes[0].Percent, paper.Taxes[0].Base})
			assert.Equal(t, paper.Total, at.Sum(t, paper.Subtotal, paper.Tax))
			return
		}
	}
	assert.Fail(t, "no draft is taxed")
}
