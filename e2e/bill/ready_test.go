package bill

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/at"
	"jarvo/e2e/browser"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/scope"
)

// TestWhatHoldsBackIsSaidAndLetGo agrees a limit that is too low for what is ready: Ready says what is used and held, a draft takes only
// what fits, and the rest is ready again once more is agreed.
func TestWhatHoldsBackIsSaidAndLetGo(t *testing.T) {
	u := at.TheDemo(t)
	ready := func() (of billing.ReadyRow) {
		sheet, err := billing.Sheet(t.Context(), u.Book.Book, book.Console, scope.ScopeQuery{})
		require.NoError(t, err)
		for _, r := range sheet.Ready {
			if r.Job == "1187" {
				of = r
			}
		}
		return of
	}
	before := ready()
	u.Open("/jobs/1187?change=job")
	u.Must(u.See(`form[aria-label="Change job 1187"]`))
	u.FillIn("Change job 1187", "Limit", "no idea")
	u.Must(u.Press("Save"))
	u.Must(u.Until(`!!document.querySelector('form[aria-label="Change job 1187"] .field.wrong .said')?.innerText`))
	u.FillIn("Change job 1187", "Limit", "150000")
	u.Must(u.Press("Save"), u.Until(`!document.querySelector('form[aria-label="Change job 1187"]')`))
	u.Sees("not to exceed 150,000.00", "held, over the limit")
	u.Must(u.See(`[aria-label="Limits"] .warnword`))
	u.Accessible("a job over its limit")

	u.Open("/bill")
	u.Must(u.See(`[aria-label="Ready to bill"] .flag`))
	u.Sees("Over the limit", "Raise the limit")
	now := ready()
	assert.Equal(t, "150000.00", now.Limit)
	assert.Equal(t, before.Used, now.Used)
	assert.NotEmpty(t, now.Held)
	assert.Equal(t, "150000.00", at.Sum(t, now.Used, now.Total), "as much as fits, a part of the source that crosses it")
	assert.Equal(t, before.Total, at.Sum(t, now.Total, now.Held))
	u.Accessible("work that is over its limit")
	u.Must(u.ClickIn(`[aria-label="Ready to bill"] tr`, "1187", "input"), u.Press("Make 1 draft"), u.See(".invoice .due"))
	u.Must(u.ClickIn(`[aria-label="Drafts"] tbody tr`, "Gannet Point", ".two"))
	u.Open("/bill")
	// A source is let go beyond the limit, with the reason, and kept within it again.
	u.Must(u.See(`[aria-label="Not ready yet"]`), u.ClickIn(`[aria-label="Not ready yet"] tr`, "Over the limit", "button"))
	u.Must(u.See(".held input"), u.Click(".held label:last-child input"))
	u.FillIn("Held back of job 1187", "Why", "agreed by telephone")
	u.Accessible("what a limit holds back")
	u.Must(u.Press("Let go beyond the limit"))
	u.Sees("let go: agreed by telephone")
	assert.NotEmpty(t, ready().Total)
	u.Must(u.Click(".held label:last-child input"), u.Press("Keep within the limit"))
	u.Must(u.Until(`!document.querySelector('.held').innerText.includes('agreed by telephone')`))
	assert.Empty(t, ready().Total, "what fits is on the draft, the rest is held again")
	u.Must(u.ClickIn(`[aria-label="Not ready yet"] tr`, "Over the limit", "a"))
	u.Must(u.See(`form[aria-label="Change job 1187"]`))
	u.FillIn("Change job 1187", "Limit", "400000")
	u.Must(u.Press("Save"), u.Until(`!document.querySelector('form[aria-label="Change job 1187"]')`))
	freed := ready()
	assert.Equal(t, []string{now.Held, "150000.00", ""}, []string{freed.Total, freed.Used, freed.Held})
}

// Ready is narrowed by age, and only some kinds of a job are billed: the others stay ready.
func TestSomeKindsOfWhatHasWaitedAreBilled(t *testing.T) {
	u := at.TheDemo(t)
	u.Open("/bill")
	rows := func(n int) error {
		return u.Until(fmt.Sprintf(`document.querySelectorAll('[aria-label="Ready to bill"] tbody tr[data-row]').length === %d`, n))
	}
	u.Must(u.See(`[aria-label="Ready to bill"]`), rows(4))
	u.Must(u.Type(`input[aria-label="Days waiting at least"]`, "long"))
	u.Sees("Type a number")
	u.Must(rows(4), u.Click(`input[aria-label="Days waiting at least"]`), u.Chord(chromedp.ModifierCtrl, "a"), u.Keys(kb.Delete))
	u.Must(u.Type(`input[aria-label="Ready at least"]`, "60,000.00"), rows(1))
	u.Must(u.PressIn(`[aria-label="Kinds that are billed"]`, "Material"))
	u.Accessible("what is ready, narrowed")
	u.Must(u.Press("Choose all"))
	u.Sees("1 job chosen", "4,238.47")
	u.Must(u.Press("Make 1 draft"), u.See(".invoice .due"))
	due, err := u.Text(`[data-total="subtotal"]`)
	u.Must(err)
	assert.Equal(t, "4,238.47", due)
	u.Open("/bill")
	u.Must(u.See(`[aria-label="Ready to bill"]`))
	u.Sees("4,238.47 of it on a draft", "61,758.00")
}

// TestWhatHasNoChargeIsSaidApart opens, in the Footing, the reasons why some of the cost has no charge.
func TestWhatHasNoChargeIsSaidApart(t *testing.T) {
	u := at.TheDemo(t)
	u.Open("/costs?span=quarter")
	u.Must(u.See(".made-of"), u.Click(".made-of"), u.See(".reasons"))
	u.Sees("On a fixed price or our own", "Without a price")
	u.Accessible("the cost of what has no charge")
	hours, err := browser.Eval[int](u.Page, `document.querySelectorAll('.reasons dd').length`)
	u.Must(err)
	rows, err := scope.Uncharged(t.Context(), u.Book.Book, book.Console, scope.ScopeQuery{From: "2026-10-01", To: "2026-12-31"})
	require.NoError(t, err)
	assert.Equal(t, len(rows), hours)
}

// An invoice that comes again over a year's end: those that were missed are made at once, each with its own date, and never twice.
func TestARecurringInvoiceOverAYearsEnd(t *testing.T) {
	u := at.TheDemo(t)
	u.Open("/bill?list=recurring")
	u.Sees("No recurring invoices")
	u.Must(u.Press("New recurring invoice"))
	form := "New recurring invoice"
	u.FillIn(form, "What it is for", "Winter moorings", "First on", "2025-10-31", "Last on, if it ends", "2026-01-31")
	u.Must(u.Press("Save"), u.SeeText("choose a job that has a customer"))
	u.Accessible("a recurring invoice that is refused")
	_, err := browser.Eval[bool](u.Page, `(() => { const s = document.querySelector('[aria-label="Job of row 1"]'); s.value = '1181'
		return s.dispatchEvent(new Event('change')) })()`)
	u.Must(err)
	u.Must(u.Type(`[aria-label="Text of row 1"]`, "Two moorings"), u.Type(`[aria-label="Amount of row 1"]`, "240"))
	u.Sees("are made at once")
	u.Must(u.Press("Save"))
	u.Sees("saving it makes 4 drafts")
	u.Must(u.Press("Save and make 4 drafts"), u.SeeText("each month"))
	u.Accessible("recurring invoices")
	u.Must(u.Press("Make what is due"), u.See(`[data-total="due"]`))
	dates := func() (dates []string) {
		sheet, err := billing.Sheet(t.Context(), u.Book.Book, book.Console, scope.ScopeQuery{})
		require.NoError(t, err)
		for _, d := range sheet.Drafts {
			if d.Subtotal == "240.00" {
				dates = append(dates, d.Date)
			}
		}
		return dates
	}
	want := []string{"2025-10-31", "2025-11-30", "2025-12-31", "2026-01-31"}
	assert.Equal(t, want, dates())
	u.Open("/bill?list=recurring")
	u.Sees("ended")
	made, err := billing.MakeDue(t.Context(), u.Book.Book, book.Console)
	require.NoError(t, err)
	assert.Equal(t, []any{4, want}, []any{made[0].Made, dates()})
}
