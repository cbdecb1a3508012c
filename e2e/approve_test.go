package e2e

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"jarvo/e2e/browser"
)

// TestWorkIsReturnedAndWhatWasApprovedTooSoon returns a marked week with a usual reason, then one that was approved already,
// and finds both among what was decided.
func TestWorkIsReturnedAndWhatWasApprovedTooSoon(t *testing.T) {
	u := atTheDemo(t, "tom@brackwater.example", ".tabs")
	u.open("/approve?from=2026-11-16")
	waiting, marked := waitingWeeks(u), `[aria-label="Waiting for approval"] tbody tr`
	u.must(u.ClickIn(marked, "No Wednesday", "td .two"))
	u.sees("No Wednesday, the rest of the crew had", "nothing handed in", "Handed in by Ada Ridley")
	u.must(
		u.tab("a"), u.tab("d"), u.See(`[aria-label="Loose ends"]`), u.tab("a"),
	) // go to Approve, Today, Approve: nothing is approved by it
	u.sees(fmt.Sprintf("All %d", waiting))
	u.must(u.FocusIn(marked, "No Wednesday", ".trail-box"))
	u.sees("Captured and handed in, not approved", "handed in by Ada Ridley")
	u.accessible("a trail")
	u.must(u.ClickIn(marked, "No Wednesday", "td .two"), u.Keys("r"), u.See(".return input"))
	u.accessible("returning a week")
	u.must(u.Press("not what the sheet says"), u.Keys("\r"))
	u.sees(fmt.Sprintf("All %d", waiting-1))
	u.must(u.Press("Decided"))
	u.sees("returned by Tom Bickford", "not what the sheet says")

	u.must(u.ClickIn(`[aria-label="Decided"] tbody tr`, "Nell Rowan", "button"), u.See(".return input"), u.Keys("approved too soon\r"))
	u.must(u.Until(`document.querySelector('[aria-label="Decided"] tbody tr').innerText.includes('approved too soon')`))
	text, err := u.Text(`[aria-label="Decided"] tbody tr`)
	u.must(err)
	assert.Contains(t, text, "Nell Rowan")
	assert.Contains(t, text, "not handed in")
}

// waitingWeeks is how many wait, as the sheet says it.
func waitingWeeks(u user) int {
	u.t.Helper()
	const count = `+(/(?:All (\d+))|(?:(\d+) not approved)/.exec(document.body.innerText)?.slice(1).find(n => n) ?? 0)`
	u.must(u.Until(count + " > 0"))
	n, err := browser.Eval[int](u.Page, count)
	u.must(err)
	return n
}

// TestAManagerApprovesOnAPhone opens one with a mark, approves it, and two more at once; nothing sticks out of the window.
func TestAManagerApprovesOnAPhone(t *testing.T) {
	u := onAPhone(t, "tom@brackwater.example", ".phone-list")
	u.open("/approve?from=2026-11-16")
	waiting := waitingWeeks(u)
	u.must(u.ClickIn(".phone-list li", "June", ".who"), u.See(`[aria-label="Hours by day"]`))
	u.accessible("the approval list on a phone")
	u.must(u.Click(".opened .go"))
	u.sees(fmt.Sprintf("%d not approved", waiting-1))
	for _, name := range []string{"Greta", "Hal"} {
		u.must(u.ClickIn(".phone-list li", name, "input"))
	}
	u.sees("2 chosen")
	u.must(u.Click(".foot .go"))
	u.sees(fmt.Sprintf("%d not approved", waiting-3))
	u.nothingSticksOut()
}
