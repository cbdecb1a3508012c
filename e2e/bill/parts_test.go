package bill

import (
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/at"
	"jarvo/e2e/browser"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/scope"
)

// TestHalfAJobNowAndHalfLater bills a part of some work of a draft, writes some off, holds some and takes one change back: the paper
// follows at once, what is left is ready again once the draft is issued, and nothing is lost or doubled.
// A fixed price is billed by its schedule over three months, with a change order in between, and another by instalments that come due.
func TestPercentCompleteAndInstalments(t *testing.T) {
	u := at.TheDemo(t)
	schedule := func() billing.Schedule {
		out, err := billing.ScheduleOf(t.Context(), u.Book.Book, book.Console, "1189")
		require.NoError(t, err)
		return out
	}
	list := `[aria-label="Lines of the fixed price"]`
	cell := func(row, column string) string {
		return list + ` input[aria-label^="` + row + `"][aria-label$=", ` + column + `"]`
	}
	u.Open("/bill")
	u.Must(u.See(`[aria-label="Fixed prices"]`), u.ClickIn(`[aria-label="Fixed prices"] tr`, "1189", ".lnk"), u.See(list))
	u.Accessible("a schedule of values")
	u.Must(u.Type(cell("Bearing piles", "percent done"), "101\r"))
	u.Sees("complete is 0 to 100 %")
	u.Must(u.Type(cell("Bearing piles", "percent done"), "85\r"), u.SeeText("32,000.00"),
		u.Type(cell("Pile caps", "stored"), "6000\r"), u.SeeText("38,000.00"))
	u.Sees("as the customer will read it")
	u.Accessible("a schedule that is billed")
	u.Must(u.Press("Open draft"), u.See(`[data-total="due"]`), u.Press("Issue invoice"), u.Press("Issue invoice"))
	u.Sees("it can no longer be changed")
	now := schedule()
	assert.Equal(t, []string{"145520.00", "166480.00"}, []string{now.Before, now.Left})

	// The change order: the contract is raised, and the schedule says what there is to place.
	folder, err := jobs.Folder(t.Context(), u.Book.Book, book.Console, "1189")
	require.NoError(t, err)
	terms := folder.Typed
	terms.Contract = "315333.33"
	require.NoError(t, jobs.Change(t.Context(), u.Book.Book, book.Console, "1189", terms))
	u.Open("/jobs/1189")
	u.Must(u.Press("Schedule of values"), u.See(list), u.Press("Schedule of values"), u.SeeText("3,333.33 to place"), u.Press("Add a row"))
	u.Must(u.Click(`[aria-label="Line of row 7"]`), u.Paste("Ladder\t\t3,333.33\n")) // as a spreadsheet has it
	u.Must(u.Until(`document.querySelector('[aria-label="Amount of row 7"]').value === '3,333.33'`))
	u.Accessible("a schedule that is changed")
	u.Must(u.Press("Save schedule"), u.Until(`!document.querySelector('form[aria-label="Schedule of values of job 1189"]')`))
	u.Must(u.Type(cell("Ladder", "percent done"), "33.33\r"), u.SeeText("1,111.00"))
	u.Must(u.Type(`[aria-label="All lines at, percent"]`, "100"), u.Press("Set all"))
	u.Must(u.SeeText("169,813.33"))
	now = schedule()
	assert.Equal(t, []string{"169813.33", "0.00", "100.00"}, []string{now.Now, now.Left, now.Done})

	u.Open("/bill")
	u.Must(u.ClickIn(`[aria-label="Fixed prices"] tr`, "1184", "input"), u.Press("Make 1 draft"))
	u.Sees("Piles driven", "25,350.00")
	u.Must(u.Press("Issue invoice"), u.Press("Issue invoice"))
	u.Sees("Issued:", "Halloway Oyster Co.")
	u.Open("/bill")
	u.Must(u.ClickIn(`[aria-label="Fixed prices"] tr`, "1184", "button.lnk"))
	u.Must(u.Until(`[...document.querySelectorAll('[aria-label="Fixed prices"] tr')].some(r => /Decking laid[^]*ready/.test(r.innerText))`))
}

func TestHalfAJobNowAndHalfLater(t *testing.T) {
	u := at.TheDemo(t)
	sheet := func() billing.BillSheet {
		out, err := billing.Sheet(t.Context(), u.Book.Book, book.Console, scope.ScopeQuery{})
		require.NoError(t, err)
		return out
	}
	whole := sheet().Drafts[0]
	u.Open("/bill?list=drafts")
	list := `[aria-label="What can go on it"]`
	change := func(row, way string, fields ...string) {
		u.Must(u.Click(list+` tbody tr[data-row]:nth-child(`+row+`) button.lnk`), u.See("tr.below form"))
		label, err := browser.Eval[string](u.Page, "document.querySelector('tr.below form').ariaLabel")
		require.NoError(t, err)
		u.FillIn(label, append([]string{"Bill", way}, fields...)...)
	}
	saved := func() {
		u.Must(u.Press("Save"), u.Until("!document.querySelector('tr.below form')"))
	}
	u.Must(u.See(list))
	change("2", "hours", "Hours", "11")
	u.Must(u.Press("Save"), u.See("tr.below .field.wrong"))
	u.Sees("only 8 h of it are left")
	u.Accessible("a part that is refused")
	u.FillIn("Bill Aldo Renn", "Hours", "5")
	saved()
	change("3", "off")
	u.Must(u.Press("Save"), u.See("tr.below .field.wrong"))
	u.FillIn("Bill Bess Tarrow", "Why", "done again")
	saved()
	u.Sees("written off: done again", "a part, the rest waits")
	u.Must(u.Chord(chromedp.ModifierCtrl, "z"), u.Until(`!document.body.innerText.includes('written off: done again')`))
	change("4", "hold", "Why", "is it in the price?")
	saved()
	u.Sees("held: is it in the price?")
	u.Accessible("a draft that is billed in part")

	paper, err := billing.Invoice(t.Context(), u.Book.Book, book.Console, whole.ID)
	require.NoError(t, err)
	held, left := paper.Offered[0].Amount, paper.Sources[0].Later
	assert.Equal(t, whole.Subtotal, at.Sum(t, paper.Subtotal, paper.Sources[0].Later, held))
	due, err := u.Text(`[data-total="due"]`)
	u.Must(err)
	assert.Equal(t, paper.DueNow, strings.ReplaceAll(due, ",", ""), "the paper follows at once")
	change("5", "amount", "Amount", "100", "What is left", "down", "Why", "agreed on site")
	saved()
	u.Must(u.Press("Issue invoice"), u.Press("Issue invoice"))
	u.Sees("it can no longer be changed", "written down: agreed on site")
	paper, err = billing.Invoice(t.Context(), u.Book.Book, book.Console, whole.ID)
	require.NoError(t, err)
	report, err := reports.Make(t.Context(), u.Book.Book, book.Console, "write-downs", reports.ReportQuery{})
	require.NoError(t, err)
	require.Len(t, report.Rows, 1)
	assert.Equal(t, []string{paper.Number, "agreed on site"}, []string{report.Rows[0][1], report.Rows[0][9]})
	left = at.Sum(t, left, report.Rows[0][6]) // what is taken back is ready too
	u.Accessible("an invoice with a write-down")
	u.Must(u.ClickIn(`[aria-label="What is on it"] tr`, "written down", "button.lnk"), u.See("tr.below form"), u.Press("Take it back"))
	u.Must(u.Until(`!document.body.innerText.includes('written down: agreed on site')`))
	for _, r := range sheet().Ready {
		if r.Job == "1181" {
			assert.Equal(t, left, r.Total, "what is left is ready, and what is held is not")
		}
	}
	u.Open("/bill?span=all")
	u.Must(u.See(`[aria-label="Not ready yet"]`), u.ClickIn(`[aria-label="Not ready yet"] tr`, "On hold", "button"))
	u.Must(u.Until(`![...document.querySelectorAll('[aria-label="Not ready yet"] tr')].some(r => r.innerText.includes('On hold'))`))
	for _, r := range sheet().Ready {
		if r.Job == "1181" {
			assert.Equal(t, at.Sum(t, left, held), r.Total)
		}
	}
}

// What a customer holds back of a job is asked for on an invoice of its own, some of it first and then the rest.
func TestRetainageHeldAndReleased(t *testing.T) {
	u := at.TheDemo(t)
	held := func() billing.RetainedRow {
		sheet, err := billing.Sheet(t.Context(), u.Book.Book, book.Console, scope.ScopeQuery{})
		require.NoError(t, err)
		if len(sheet.Retained) == 0 {
			return billing.RetainedRow{}
		}
		return sheet.Retained[0]
	}
	was := held()
	u.Open("/bill")
	list := `[aria-label="Retainage held"]`
	release := func(amount string) {
		u.Must(u.See(list), u.ClickIn(list+" tr", was.Job, "button.lnk"), u.See("tr.below form"))
		u.FillIn("Release retainage of job "+was.Job, "Amount", amount)
		u.Must(u.Press("Make draft"))
	}
	release("9999999")
	u.Sees("of it can be released")
	u.Accessible("retainage that is held")
	u.FillIn("Release retainage of job "+was.Job, "Amount", "100")
	u.Must(u.Press("Make draft"), u.See(`[data-total="due"]`))
	u.Sees("Retainage released")
	due, err := u.Text(`[data-total="due"]`)
	u.Must(err)
	assert.Equal(t, "100.00", due)
	u.Must(u.Press("Issue invoice"), u.Press("Issue invoice"))
	u.Must(u.SeeText("Issued:"))
	assert.Equal(t, was.Held, at.Sum(t, held().Held, "100"))

	u.Must(u.Click(".told-of button"), u.See(`form[aria-label="Record payment"]`), u.Press("Credit note"))
	u.Must(u.See(`[aria-label="What can be credited"]`), u.ClickIn(`[aria-label="What can be credited"] tr`, was.Job, "button.lnk"))
	u.FillIn("Credit "+was.Job+" "+was.Name, "Amount", "30")
	u.Must(u.Press("Credit it"), u.SeeText("Retainage held again"))
	u.Accessible("a credit note on a release")
	u.Must(u.Press("Issue credit note"), u.Press("Issue credit note"), u.Until(`!document.querySelector('.credit')`))
	assert.Equal(t, was.Held, at.Sum(t, held().Held, "70"))
}

// A deposit is asked for and paid, and set against a draft of work: as proposed, taken back, and as an amount that is typed.
func TestADepositIsAskedForPaidAndApplied(t *testing.T) {
	u := at.TheDemo(t)
	u.Open("/bill?list=drafts")
	u.Must(u.See(`[aria-label="Drafts"]`), u.Press("Ask for a deposit"))
	u.FillIn("Deposit", "Text", "Deposit for materials")
	u.FillIn("Deposit", "Job", "1195")
	u.FillIn("Deposit", "Amount", "-20")
	u.Must(u.Press("Make draft"))
	u.Sees("a deposit is more than 0")
	u.FillIn("Deposit", "Amount", "500")
	u.Must(u.Press("Make draft"), u.SeeText("Deposit, 1195 Finger docks"))
	u.Accessible("a draft that asks for a deposit")
	u.Must(u.Press("Issue invoice"), u.Press("Issue invoice"), u.SeeText("Issued:"))
	u.Must(u.Click(".told-of button"), u.See(`form[aria-label="Record payment"]`))
	u.Must(u.Press("Record payment"), u.Until(`!document.querySelector('form[aria-label="Record payment"]')`))

	u.Open("/bill")
	u.Must(u.See(`[aria-label="Deposits open"]`), u.ClickIn(`[aria-label="Ready to bill"] tr`, "1195", "input"))
	u.Must(u.Press("Make 1 draft"), u.See(".deposit"))
	due := func() string {
		text, err := u.Text(`[data-total="due"]`)
		u.Must(err)
		return strings.ReplaceAll(text, ",", "")
	}
	whole := due()
	u.Must(u.Press("Apply 500.00"), u.SeeText("Prepaid by deposit"))
	applied := due()
	assert.Equal(t, whole, at.Sum(t, applied, "500"))
	u.Accessible("a draft that a deposit is applied to")
	u.Must(u.Chord(chromedp.ModifierCtrl, "z"), u.Until(`!document.querySelector('.invoice').innerText.includes('Prepaid by deposit')`))
	assert.Equal(t, whole, due())
	u.Must(u.Click(".deposit button[aria-expanded]"))
	form, err := browser.Eval[string](u.Page, "document.querySelector('.deposit form').ariaLabel")
	u.Must(err)
	u.FillIn(form, "Amount", "500.01")
	u.Must(u.Press("Apply"))
	u.Sees("500.00 of this deposit is open")
	u.FillIn(form, "Amount", "120")
	u.Must(u.Press("Apply"), u.SeeText("120.00 applied here"))
	u.Must(u.Press("Issue invoice"), u.Press("Issue invoice"), u.SeeText("Issued:"))
	u.Open("/bill")
	u.Must(u.See(`[aria-label="Deposits open"]`))
	u.Sees("380.00")
}

// Of an issued invoice some is credited: once to be billed again, once allowed. What is credited to bill again is on the next draft.
func TestACreditNoteAndWhatItCreditsIsBilledAgain(t *testing.T) {
	u := at.TheDemo(t)
	issued := func() []billing.DraftRow {
		sheet, err := billing.Sheet(t.Context(), u.Book.Book, book.Console, scope.ScopeQuery{})
		require.NoError(t, err)
		return sheet.Issued
	}
	invoice := issued()[0]
	u.Open("/bill?list=issued&span=all")
	u.Must(u.See(`.invoice .due`), u.Press("Credit note"))
	row := `[aria-label="What can be credited"] tbody tr[data-row]`
	u.Must(u.See(row))
	u.Accessible("a credit note that is begun")
	credit := func(n, amount, becomes, why string) {
		u.Must(u.Click(row+`:nth-child(`+n+`) button.lnk`), u.See("tr.below form"))
		label, err := browser.Eval[string](u.Page, "document.querySelector('tr.below form').ariaLabel")
		u.Must(err)
		if amount == "too much" {
			u.FillIn(label, "Amount", "9999999")
			u.Must(u.Press("Credit it"), u.See("tr.below .field.wrong"))
			u.Sees("is left to credit")
			u.Must(u.Press("Close"), u.Press("Stay"), u.Press("Close"), u.Press("Discard"))
			return
		}
		u.FillIn(label, "Amount", amount, "What becomes of it", becomes, "Why", why)
		u.Must(u.Press("Credit it"), u.Until("!document.querySelector('tr.below form')"))
	}
	credit("2", "too much", "", "")
	credit("2", "1000", "again", "to be billed to the other job")
	credit("3", "312", "allowed", "stood by for the tide, agreed")
	u.Sees("Balance after", "1,000.00 will be ready to bill again")
	u.Accessible("a credit note")
	u.Must(u.Press("Issue credit note"), u.Press("Issue credit note"))
	u.Sees("Credited on "+invoice.Number, "bill again", "stood by for the tide, agreed")
	list := issued()
	assert.Equal(t, []string{invoice.Number, "-1312.00"}, []string{list[0].CreditOn, list[0].Subtotal})
	assert.Equal(t, at.Sum(t, invoice.Balance, list[0].DueNow), list[1].Balance, "the balance falls by it")

	u.Open("/bill?span=all")
	u.Must(u.ClickIn(`[aria-label="Ready to bill"] tr`, "1196", "input"), u.Press("Make 1 draft"))
	u.Must(u.See(`[aria-label="What can go on it"]`))
	draft, err := u.Text(`[data-total="subtotal"]`)
	u.Must(err)
	paper := strings.ReplaceAll(draft, ",", "")
	sheet, err := billing.Sheet(t.Context(), u.Book.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	assert.Contains(t, []string{sheet.Drafts[0].Subtotal, sheet.Drafts[len(sheet.Drafts)-1].Subtotal}, paper)
	u.Sees("Lena Stroud", "1,000.00")
}
