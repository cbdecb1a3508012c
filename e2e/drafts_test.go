package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/browser"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/scope"
	"jarvo/internal/demo"
)

// TestAllDraftsAreIssuedInOneGo makes a draft of each job that is ready and issues all of them, after it has asked once.
func TestAllDraftsAreIssuedInOneGo(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	before, err := billing.Sheet(ctx, u.book.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	u.open("/bill")
	u.must(u.Click(`[aria-label="Choose all Ready to bill"]`), u.Press("Make 4 drafts"), u.See(`[aria-label="Choose all Drafts"]`))
	u.must(u.Click(`[aria-label="Choose all Drafts"]`), u.Press("Issue 5 invoices"))
	u.sees("Issued invoices never change.")
	u.accessible("many drafts that are about to be issued")
	u.must(u.Press("Issue 5 invoices"), u.Until(`location.search.includes('list=issued')`), u.See(".invoice .due"))
	after, err := billing.Sheet(ctx, u.book.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	assert.Empty(t, after.Drafts)
	assert.Len(t, after.Issued, len(before.Issued)+len(before.Drafts)+len(before.Ready))
}

// One hour sheet is billed in three parts, on three invoices: what they come to is its charge, and nothing of it is ready any more.
func TestAnHourSheetIsBilledInThreeParts(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	list := `[aria-label="What can go on it"] tbody tr[data-row]`
	var source int64
	charge, sum := "", "0"
	for _, hours := range []string{"2", "3:30", ""} {
		u.open("/bill")
		u.must(u.See(`[aria-label="Ready to bill"]`), u.ClickIn(`[aria-label="Ready to bill"] tr`, "1195", "input"))
		u.must(u.Press("Make 1 draft"), u.See(list))
		draft, err := browser.Eval[int64](u.Page, "Number(new URLSearchParams(location.search).get('open'))")
		u.must(err)
		v, err := billing.Invoice(ctx, u.book.Book, book.Console, draft)
		require.NoError(t, err)
		if source == 0 {
			source, charge = v.Sources[0].ID, v.Sources[0].Amount
		} else {
			require.Len(t, v.Sources, 1, "what is left of it")
		}
		if hours != "" {
			u.must(u.Click(list+` button.lnk`), u.See("tr.below form"))
			label, err := browser.Eval[string](u.Page, "document.querySelector('tr.below form').ariaLabel")
			u.must(err)
			u.fill(label, "Bill", "hours", "Hours", hours)
			u.must(u.Press("Save"), u.Until("!document.querySelector('tr.below form')"))
		}
		u.must(u.Press("Issue invoice"), u.Press("Issue invoice"), u.SeeText("Issued:"))
		v, err = billing.Invoice(ctx, u.book.Book, book.Console, draft)
		require.NoError(t, err)
		require.Equal(t, source, v.Sources[0].ID)
		sum = add(t, sum, v.Sources[0].Amount)
	}
	assert.Equal(t, charge, sum)
	after, err := billing.Sheet(ctx, u.book.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	for _, r := range after.Ready {
		assert.NotEqual(t, "1195", r.Job)
	}
	apptest.Verified(t, u.book.Book)
}
