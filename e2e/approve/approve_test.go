package approve

import (
	"fmt"
	"testing"

	"jarvo/e2e/at"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"

	"jarvo/e2e/browser"
)

// TestWorkIsReturnedAndWhatWasApprovedTooSoon returns a marked week with a usual reason, then one that was approved already,
// and finds both among what was decided.
func TestWorkIsReturnedAndWhatWasApprovedTooSoon(t *testing.T) {
	u := at.TheDemoAs(t, "tom@brackwater.example", ".tabs")
	u.Open("/approve?from=2026-11-16")
	waiting, marked := waitingWeeks(u), `[aria-label="Waiting for approval"] tbody tr`
	u.Must(u.ClickIn(marked, "No Wednesday", "td .two"))
	u.Sees("No Wednesday, the rest of the crew had", "nothing handed in", "Handed in by Ada Ridley")
	u.Must(
		u.Tab("a"), u.Tab("d"), u.See(`[aria-label="Loose ends"]`), u.Tab("a"),
	) // go to Approve, Today, Approve: nothing is approved by it
	u.Sees(fmt.Sprintf("All %d", waiting))
	u.Must(u.FocusIn(marked, "No Wednesday", ".trail-box"))
	u.Sees("Captured and handed in, not approved", "handed in by Ada Ridley")
	u.Accessible("a trail")
	u.Must(u.ClickIn(marked, "No Wednesday", "td .two"), u.Keys("r"), u.See(".return input"))
	u.Accessible("returning a week")
	u.Must(u.Press("not what the sheet says"), u.Keys("\r"))
	u.Sees(fmt.Sprintf("All %d", waiting-1))
	u.Must(u.Press("Decided"))
	u.Sees("returned by Tom Bickford", "not what the sheet says")

	u.Must(u.ClickIn(`[aria-label="Decided"] tbody tr`, "Nell Rowan", "button"), u.See(".return input"), u.Keys("approved too soon\r"))
	u.Must(u.Until(`document.querySelector('[aria-label="Decided"] tbody tr').innerText.includes('approved too soon')`))
	text, err := u.Text(`[aria-label="Decided"] tbody tr`)
	u.Must(err)
	assert.Contains(t, text, "Nell Rowan")
	assert.Contains(t, text, "not handed in")

	// It is taken back, and comes back with others in one step.
	u.Must(u.Press("Undo"))
	u.Sees("Taken back: Nell Rowan returned")
	u.Must(u.Until(`!document.querySelector('[aria-label="Decided"] tbody tr').innerText.includes('not handed in')`))
	for range 2 {
		u.Must(u.Click(`[aria-label="Decided"] tr:has(.lnk) input:not(:checked)`))
	}
	u.Must(u.Until(`[...document.querySelectorAll('button')].some(b => b.innerText.startsWith('Return 2, '))`))
	u.Must(u.Click(".tools .v-btn"), u.See(".return input"))
	u.Accessible("several decisions returned")
	u.Must(u.Keys("wrong job\r"))
	u.Must(u.Until(`[...document.querySelectorAll('[aria-label="Decided"] tbody tr')]
		.filter(r => r.innerText.includes('wrong job')).length === 2`))
}

// waitingWeeks is how many wait, as the sheet says it.
func waitingWeeks(u at.User) int {
	u.T.Helper()
	const count = `+(/(?:All (\d+))|(?:(\d+) not approved)/.exec(document.body.innerText)?.slice(1).find(n => n) ?? 0)`
	u.Must(u.Until(count + " > 0"))
	n, err := browser.Eval[int](u.Page, count)
	u.Must(err)
	return n
}

// TestAManagerApprovesOnAPhone opens one with a mark, approves it, and two more at once; nothing sticks out of the window.
func TestAManagerApprovesOnAPhone(t *testing.T) {
	u := at.APhone(t, "tom@brackwater.example", ".phone-list")
	u.Open("/approve?from=2026-11-16")
	waiting := waitingWeeks(u)
	u.Must(u.ClickIn(".phone-list li", "June", ".who"), u.See(`[aria-label="Hours by day"]`))
	u.Accessible("the approval list on a phone")
	u.Must(u.Click(".opened .go"))
	u.Sees(fmt.Sprintf("%d not approved", waiting-1))
	for _, name := range []string{"Greta", "Hal"} {
		u.Must(u.ClickIn(".phone-list li", name, "input"))
	}
	u.Sees("2 chosen")
	u.Must(u.Click(".foot .go"))
	u.Sees(fmt.Sprintf("%d not approved", waiting-3))
	u.NothingSticksOut()
}

// TestTheWeekIsApprovedByKeyboardAlone goes from tab to tab, approves, returns with a reason and opens the keys, without a mouse.
func TestTheWeekIsApprovedByKeyboardAlone(t *testing.T) {
	u := at.TheDemo(t)
	u.Must(u.Keys(kb.F1), u.See(`[aria-label="Help and keys"]`), u.Keys("\x1b"))
	u.Must(u.Tab("a"), u.Until("location.pathname === '/approve'"), u.Chord(chromedp.ModifierAlt, "["))
	u.Must(u.See(`[aria-label="Waiting for approval"]`))
	waiting := func() string {
		text, err := u.Text(`.ledger-part .tools [role="status"]`)
		u.Must(err)
		return text
	}
	before := waiting()
	u.Must(u.Keys(kb.ArrowDown), u.Keys("a"))
	u.Must(u.Until(`document.querySelector('.ledger-part .tools [role="status"]').innerText !== '` + before + `'`))
	between := waiting()
	u.Must(u.Keys("r"), u.See(`input[required]`), u.Keys("Tuesday was in the yard\r"))
	u.Must(u.Until(`document.querySelector('.ledger-part .tools [role="status"]').innerText !== '` + between + `'`))
	u.Must(u.Tab("b"), u.See(`[aria-label="Ready to bill"]`))
}
