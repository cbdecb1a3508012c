package bill

import (
	"errors"
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/at"
	"jarvo/e2e/browser"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/scope"
)

// TestAllDraftsAreIssuedInOneGo makes a draft of each job that is ready and issues all of them, after it has asked once.
func TestAllDraftsAreIssuedInOneGo(t *testing.T) {
	u := at.TheDemo(t)
	before, err := billing.Sheet(t.Context(), u.Book.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	u.Open("/bill")
	u.Must(u.Click(`[aria-label="Choose all Ready to bill"]`), u.Press("Make 4 drafts"), u.See(`[aria-label="Choose all Drafts"]`))
	u.Must(u.Click(`[aria-label="Choose all Drafts"]`), u.Press("Issue 5 invoices"))
	u.Sees("Issued invoices never change.")
	u.Accessible("many drafts that are about to be issued")
	u.Must(u.Press("Issue 5 invoices"), u.Until(`location.search.includes('list=issued')`), u.See(".invoice .due"))
	after, err := billing.Sheet(t.Context(), u.Book.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	assert.Empty(t, after.Drafts)
	assert.Len(t, after.Issued, len(before.Issued)+len(before.Drafts)+len(before.Ready))
}

// One hour sheet is billed in three parts, on three invoices: what they come to is its charge, and nothing of it is ready any more.
func TestAnHourSheetIsBilledInThreeParts(t *testing.T) {
	u := at.TheDemo(t)
	list := `[aria-label="What can go on it"] tbody tr[data-row]`
	var source int64
	charge, sum := "", "0"
	for _, hours := range []string{"2", "3:30", ""} {
		u.Open("/bill")
		u.Must(u.See(`[aria-label="Ready to bill"]`), u.ClickIn(`[aria-label="Ready to bill"] tr`, "1195", "input"))
		u.Must(u.Press("Make 1 draft"), u.See(list))
		draft, err := browser.Eval[int64](u.Page, "Number(new URLSearchParams(location.search).get('open'))")
		u.Must(err)
		v, err := billing.Invoice(t.Context(), u.Book.Book, book.Console, draft)
		require.NoError(t, err)
		if source == 0 {
			source, charge = v.Sources[0].ID, v.Sources[0].Amount
		} else {
			require.Len(t, v.Sources, 1, "what is left of it")
		}
		if hours != "" {
			u.Must(u.Click(list+` button.lnk`), u.See("tr.below form"))
			label, err := browser.Eval[string](u.Page, "document.querySelector('tr.below form').ariaLabel")
			u.Must(err)
			u.FillIn(label, "Bill", "hours", "Hours", hours)
			u.Must(u.Press("Save"), u.Until("!document.querySelector('tr.below form')"))
		}
		u.Must(u.Press("Issue invoice"), u.Press("Issue invoice"), u.SeeText("Issued:"))
		v, err = billing.Invoice(t.Context(), u.Book.Book, book.Console, draft)
		require.NoError(t, err)
		require.Equal(t, source, v.Sources[0].ID)
		sum = at.Sum(t, sum, v.Sources[0].Amount)
	}
	assert.Equal(t, charge, sum)
	after, err := billing.Sheet(t.Context(), u.Book.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	for _, r := range after.Ready {
		assert.NotEqual(t, "1195", r.Job)
	}
	apptest.Verified(t, u.Book.Book)
}

// A draft gets a line of its own, a discount and their order number; the paper follows, and all of it can be undone.
func TestWhatIsTypedOnADraft(t *testing.T) {
	u := at.TheDemo(t)
	u.Open("/bill?list=drafts")
	u.Must(u.See(`[aria-label="What can go on it"]`))
	subtotal := func() string {
		text, err := u.Text(`[data-total="subtotal"]`)
		u.Must(err)
		return strings.ReplaceAll(text, ",", "")
	}
	before := subtotal()
	u.Must(u.Press("Add a line"))
	u.FillIn("A line of your own", "Text", "Berth for the barge", "Amount", "abc")
	u.Must(u.Press("Add"), u.See(`.field.wrong`))
	u.Accessible("a line with a wrong amount")
	u.FillIn("A line of your own", "Quantity", "3", "Unit", "night", "Amount", "450")
	u.Must(u.Press("Add"), u.Until("!document.querySelector('form[aria-label=\"A line of your own\"]')"))
	withLine := at.Sum(t, before, "450")
	u.Sees("Berth for the barge")
	assert.Equal(t, withLine, subtotal())
	u.Must(u.Press("Discount"))
	u.FillIn("Discount", "What it says", "Winter discount", "Percent", "10")
	u.Must(u.Press("Add"), u.SeeText("Discounts"))
	assert.NotEqual(t, withLine, subtotal())
	u.Must(u.Chord(chromedp.ModifierCtrl, "z"), u.Until(`!document.body.innerText.includes('Winter discount')`))
	assert.Equal(t, withLine, subtotal())
	u.Must(u.Press("Dates and texts"))
	u.FillIn("Dates and texts", "Their order number", "SR-2207", "Text above the lines", "As agreed on site.")
	u.Accessible("the dates and texts of a draft")
	u.Must(u.Press("Save"))
	u.Sees("SR-2207", "As agreed on site.")
	u.Must(u.ClickIn(`[aria-label="What can go on it"] tr`, "Berth for the barge", "button.lnk"))
	u.Must(u.Until(`!document.querySelector('.invoice').innerText.includes('Berth for the barge')`))
	assert.Equal(t, before, subtotal())

	u.Must(u.Press("New draft"))
	u.FillIn("A line of your own", "Job", "1181", "Text", "Survey of the wall", "Amount", "120")
	u.Must(u.Press("Make draft"))
	u.Sees("Survey of the wall")
	assert.Equal(t, "120.00", subtotal())
}

// Two drafts of one customer become one, and the next one begins in the detail that the customer was shown last.
func TestDraftsOfACustomerBecomeOne(t *testing.T) {
	u := at.TheDemo(t)
	u.Open("/bill")
	for _, job := range []string{"1193", "1195"} {
		u.Must(u.ClickIn(`[aria-label="Ready to bill"] tr`, job, "input"))
	}
	u.Must(u.Press("Make 2 drafts"), u.See(`[aria-label="Drafts"]`))
	for _, job := range []string{"1193", "1195"} {
		u.Must(u.ClickIn(`[aria-label="Drafts"] tr`, job, "input"))
	}
	u.Accessible("drafts that can be joined")
	u.Must(u.Press("Join 2"), u.Press("Join 2"))
	u.Must(u.Until(`document.querySelector('.invoice h3')?.innerText.includes('1193') &&
		document.querySelector('.invoice h3').innerText.includes('1195')`))
	sheet, err := billing.Sheet(t.Context(), u.Book.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	assert.Len(t, sheet.Drafts, 2, "the one there was, and this")

	// Two sources are billed at an amount for both, which is taken back.
	list := `[aria-label="What can go on it"] tbody tr[data-row]`
	u.Must(u.See(list), u.Click(list+`:nth-child(2) input`), u.Click(list+`:nth-child(3) input`), u.Press("Change 2"))
	subtotal := func() string {
		text, err := u.Text(`[data-total="subtotal"]`)
		u.Must(err)
		return text
	}
	whole := subtotal()
	u.FillIn("Bill 2 sources", "Bill", "amount")
	u.FillIn("Bill 2 sources", "Amount", "100")
	u.FillIn("Bill 2 sources", "Why", "a round sum")
	u.Must(u.Press("Save"), u.Until(`!document.querySelector('form[aria-label="Bill 2 sources"]')`))
	assert.NotEqual(t, whole, subtotal())
	u.Must(u.Chord(chromedp.ModifierCtrl, "z"))
	u.Must(u.Until(fmt.Sprintf(`document.querySelector('[data-total="subtotal"]').innerText === %q`, whole)))

	// A source is moved to a draft of its own, and comes back.
	u.Must(u.Click(list+`:nth-child(2) input`), u.Press("Move 1"))
	u.Must(u.See(`form[aria-label="Move 1 source"]`))
	u.Accessible("work that is moved")
	drafted := func(n int) error {
		return u.Until(fmt.Sprintf(`document.querySelectorAll('[aria-label="Drafts"] tbody tr[data-row]').length === %d`, n))
	}
	u.Must(u.Press("Move"), drafted(3), u.Chord(chromedp.ModifierCtrl, "z"), drafted(2))
	now, err := billing.Sheet(t.Context(), u.Book.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	assert.Equal(t, sheet.Totals.Drafts, now.Totals.Drafts)
}

// Two people in one draft see each other: what one adds the other sees, and neither is overwritten.
func TestTwoPeopleInOneDraft(t *testing.T) {
	u := at.TheDemo(t)
	list := `[aria-label="What can go on it"]`
	u.Open("/bill?list=drafts")
	u.Must(u.See(list))
	other, err := u.Window()
	require.NoError(t, err)
	t.Cleanup(other.Close)
	u.Must(other.Go(u.URL+"/bill?list=drafts"), other.See(list))
	add := func(p *browser.Page, text, amount string) error {
		return errors.Join(p.Press("Add a line"), p.Fill("A line of your own", "Text", text), p.Fill("A line of your own", "Amount", amount),
			p.Press("Add"), p.Until("!document.querySelector('form[aria-label=\"A line of your own\"]')"))
	}
	u.Must(add(u.Page, "Berth for the barge", "450"), other.SeeText("Berth for the barge"))
	u.Must(add(other, "Survey of the wall", "120"), u.SeeText("Survey of the wall"))
	sheet, err := billing.Sheet(t.Context(), u.Book.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	paper, err := billing.Invoice(t.Context(), u.Book.Book, book.Console, sheet.Drafts[0].ID)
	require.NoError(t, err)
	assert.Equal(t, []string{"Berth for the barge", "Survey of the wall"}, []string{paper.Typed[0].Text, paper.Typed[1].Text})

	// One of them issues it, and it is no draft to the other any more.
	u.Must(other.Press("Issue invoice"), other.Press("Issue invoice"), u.SeeText("No drafts"))
}
