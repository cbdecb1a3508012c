package e2e

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"jarvo/e2e/browser"
	"jarvo/internal/demo"
)

// looseEnd opens the loose end of a kind that has a text in its row; from there on keys go to its first field.
func (u user) looseEnd(step, text string) {
	u.t.Helper()
	u.must(
		u.Until(fmt.Sprintf(
			`(() => { const row = [...document.querySelectorAll('[aria-label="Loose ends"] tbody tr')].find(
		r => r.innerText.includes(%q) && r.innerText.includes(%q)); const b = row?.querySelector('button.lnk');
		if (b && b.getAttribute('aria-expanded') !== 'true') b.click(); return !!b })()`,
			text, step,
		)),
		u.See(".settle"),
	)
}

// TestLooseEndsAreSettledWhereTheyAreListed fills a hole in, books a line to a job, adds a rate, hands a week in, sets one aside
// and brings it back, and makes a draft, all from Today.
func TestLooseEndsAreSettledWhereTheyAreListed(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	count := func() int {
		n, err := browser.Eval[int](u.Page, `Number(document.querySelector('.footing .loose').innerText.match(/\d+/)[0])`)
		u.must(err)
		return n
	}
	before := count()
	left := func(settled int) {
		u.t.Helper()
		u.must(u.Until(fmt.Sprintf(`Number(document.querySelector('.footing .loose').innerText.match(/\d+/)[0]) === %d`, before-settled)))
	}
	u.looseEnd("Fill in", "June Kettle")
	u.must(u.Type(".settle .tiny input", "7-25"), u.Press("Fill in hours"))
	u.sees("there is no hour 25")
	u.accessible("a loose end that is being settled")
	u.must(u.Type(".settle .tiny input", "7-3:30/30\r"))
	left(1)

	u.looseEnd("Choose the job", "Fender strip")
	u.must(u.Pick("Job", "1187"), u.Press("Book to this job"))
	left(2)
	u.looseEnd("Choose the code", "1195")
	u.must(u.Pick("Cost code", "520"), u.Press("Set cost code on all"))
	left(3)
	u.looseEnd("Hand in", "Pile crew")
	u.must(u.Press("Hand in week"))
	left(4)

	u.looseEnd("Look at it", "Pontoon repair")
	u.must(u.Keys("a change order is on its way\r"))
	left(5)
	u.must(u.Press("1 loose end set aside"))
	u.sees("Over contract: 1194", "a change order is on its way; Ada Ridley")
	u.must(u.Press("Bring back"))
	left(4)

	u.looseEnd("Add a rate", "job 1193")
	u.must(u.Keys("82"), u.Press("Save rate")) // one rate for every tender settles all three
	u.must(u.Until(`!document.querySelector('[aria-label="Loose ends"]').innerText.includes('Nell Rowan')`))
	now := count()
	u.looseEnd("Make a draft", "1191")
	u.must(u.Press("Make draft of all that is ready"), u.Until(
		`!document.querySelector('[aria-label="Loose ends"]').innerText.includes('1191')`,
	))
	assert.Less(t, count(), now)
}

// TestWhatCouldNotBeReadIsALooseEndOfThisMachine types what is no time and finds it on Today, with the way back to its cell.
func TestWhatCouldNotBeReadIsALooseEndOfThisMachine(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.load("/time?crew=Deck+crew&from=2026-11-23")
	u.must(u.Click(cell(0, 4)), u.Keys("7-25\r"))
	u.sees("there is no hour 25")
	u.must(u.Press("Today"))
	u.sees("Not understood", "“7-25”", "Greta Pell, 11")
	u.must(
		u.Press("Put right"), u.See(`[aria-label="Crew sheet"] .error-line`), u.Press("Cancel"), u.Press("Today"),
		u.See(`[aria-label="Loose ends"]`),
	)
	u.must(u.Until(`!document.body.innerText.includes('Not understood')`))
}
