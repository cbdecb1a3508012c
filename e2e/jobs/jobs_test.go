package jobs

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/at"
	"jarvo/internal/app/book"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/reports"
)

// TestAFixedPriceIsMeasuredByItsBudget takes the budget of a job away: no margin is said. A mistyped one is refused beside its row, and a
// right one gives the margin, the cost at completion and the report of work in progress. All of it by the keyboard.
func TestAFixedPriceIsMeasuredByItsBudget(t *testing.T) {
	u := at.TheDemo(t)
	form := `form[aria-label="Budget of job 1189"]`
	closed := `!document.querySelector('` + form + `')`
	u.Open("/jobs/1189?change=budget")
	for range 3 {
		u.Must(u.Click(form + ` button[aria-label="Delete row 1"]`))
	}
	u.Must(u.Press("Save budget"), u.Until(closed))
	u.Sees("not measured")
	folder := func() jobs.JobFolder {
		f, err := jobs.Folder(t.Context(), u.Book.Book, book.Console, "1189")
		require.NoError(t, err)
		return f
	}
	blank := folder()
	assert.Equal(t, []any{true, "", blank.Cost}, []any{blank.Unmeasured, blank.Margin, blank.Earned}, "no profit before it is measured")

	u.Must(u.Press("Budget"), u.See(form))
	u.Must(u.Click(form+` input[aria-label="Budget of row 1"]`), u.Keys("1"))
	seen := folder().Typed.Version
	require.NoError(t, jobs.SaveBudget(t.Context(), u.Book.Book, book.Console, "1189", jobs.BudgetChange{
		Version: seen, Rows: []jobs.BudgetRow{{Category: "labour", Cost: "777"}},
	}))
	u.Sees("Somebody else has changed") // another window's budget is there, and is not overwritten by the form that was open
	u.Must(u.Press("Save budget"))
	u.Sees("look at it again")
	assert.Equal(t, "777.00", folder().Plan.Rows[0].Cost)
	u.Must(u.Press("Take theirs"), u.Until(`document.querySelector('[aria-label="Budget of row 1"]').value === '777.00'`))
	u.Must(u.Click(form+` button[aria-label="Delete row 1"]`), u.Press("Save budget"), u.Until(closed))
	u.Sees("not measured")

	u.Must(u.Press("Budget"), u.See(form), u.Click(form+` input[aria-label="Hours of row 1"]`))
	u.Must(u.Keys("2400\t142000\t\t"+kb.Tab), u.Type(form+` input[aria-label="Budget of row 2"]`, "-5"))
	u.Must(u.Press("Save budget"), u.See(form+` td.said`))
	u.Accessible("a budget that is refused")
	u.Must(u.Click(form+` input[aria-label="Budget of row 2"]`), u.Chord(chromedp.ModifierCtrl, "a"), u.Keys("95000\r"), u.Until(closed))
	u.Must(u.See(`[aria-label="Budget"] tfoot`), u.Until(`!document.body.innerText.includes('not measured')`))
	u.Sees("237,000.00")
	f := folder()
	assert.False(t, f.Unmeasured)
	assert.NotEmpty(t, f.Margin)
	assert.Equal(t, []string{"2400", "142000.00"}, []string{f.Plan.Rows[0].Hours, f.Plan.Rows[0].Cost})
	wip, err := reports.Make(t.Context(), u.Book.Book, book.Console, "wip", reports.ReportQuery{})
	require.NoError(t, err)
	found := false
	for _, row := range wip.Rows {
		for i, head := range wip.Columns {
			if row[0] == "1189" && head == "earned" {
				found = true
				assert.Equal(t, f.Earned, row[i])
			}
		}
	}
	assert.True(t, found, "it is in the report of work in progress")
}
