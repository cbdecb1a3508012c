package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jarvo/e2e/browser"
	"jarvo/internal/demo"
)

// TestADoublePaperIsComparedAndDeleted goes from the loose end to both papers side by side, deletes one of them, and the other has nothing
// against it any more.
func TestADoublePaperIsComparedAndDeleted(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.sees("Entered twice: same supplier, number")
	u.open("/costs?span=all")
	u.must(u.ClickIn(`[aria-label="Papers"] tr`, "7731", "td"))
	u.sees("is it entered twice?")
	u.must(u.Press("Compare the two"))
	u.sees("Are they the same paper?", "First: Sable Bar Marine Fuel 7731", "Second: Sable Bar Marine Fuel 7731")
	u.must(u.See(`[aria-label="Lines of the paper"]`))
	u.accessible("two papers compared")
	u.must(u.ClickIn(".compare article", "Second: ", ".sure button"))
	u.sees("Its lines and scans are deleted.")
	u.must(u.ClickIn(".compare article", "Second: ", ".sure button"), u.Until(`!document.querySelector('.compare')`))
	u.must(u.See(`[aria-label="Lines"]`), u.Until(`!document.body.innerText.includes('is it entered twice?')`))
	left, err := browser.Eval[int](u.Page, `[...document.querySelectorAll('[aria-label="Papers"] tr[data-row]')].filter(
		r => r.innerText.includes('7731')).length`)
	u.must(err)
	assert.Equal(t, 1, left)
}
