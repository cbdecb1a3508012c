package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"

	"jarvo/internal/demo"
)

// TestAnythingIsFoundByItsName goes to an invoice, a paper, a worker's and a customer's row and a setting by the keyboard alone.
func TestAnythingIsFoundByItsName(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	find := func(text, shows string) {
		t.Helper()
		u.must(u.Chord(chromedp.ModifierCtrl, "k"), u.Type(`[aria-label="Find or do"]`, text))
		u.must(u.Until(fmt.Sprintf(`document.querySelector("#found").innerText.includes(%q)`, shows)))
		u.must(u.Keys("\r"), u.Until(`!document.querySelector('[aria-label="Find or do"]')`))
	}
	u.must(u.Chord(chromedp.ModifierCtrl, "k"), u.Type(`[aria-label="Find or do"]`, "kestrel"))
	u.must(u.Until(`document.querySelector("#found").innerText.includes("Supplier, ")`))
	u.accessible("find or do")
	u.must(u.Keys("\x1b"))
	find("20418", "Pellmore Timber & Piling PM-20418")
	u.must(u.See(`[aria-label="Lines"]`), u.Until(`[...document.querySelectorAll('.head-fields input')].some(i => i.value === 'PM-20418')`))
	find("tarrow worker", "Bess Tarrow")
	u.must(u.See(`[aria-label="Where it is used"]`))
	u.sees("43.80 an hour")
	find("invoice 2", "Invoice")
	u.must(u.See(".invoice .due"))
	find("setup burden", "Setup: burden")
	u.must(u.See("svg.stack"))
	u.must(u.Chord(chromedp.ModifierCtrl, "k"), u.Type(`[aria-label="Find or do"]`, "nothing is called so"))
	u.sees("Nothing is called that.")
}
