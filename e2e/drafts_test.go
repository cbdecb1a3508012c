package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

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
