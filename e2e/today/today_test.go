package today

import (
	"fmt"
	"testing"

	"jarvo/e2e/at"

	"github.com/stretchr/testify/assert"

	"jarvo/e2e/browser"
	"jarvo/internal/demo"
)

// looseEnd opens the loose end of a kind that has a text in its row; from there on keys go to its first field.
func (u user) looseEnd(step, text string) {
	u.T.Helper()
	u.Must(
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
	u := atTheDemo(t)
	count := func() int {
		n, err := browser.Eval[int](u.Page, `Number(document.querySelector('.footing .loose').innerText.match(/\d+/)[0])`)
		u.Must(err)
		return n
	}
	before := count()
	left := func(settled int) {
		u.T.Helper()
		u.Must(u.Until(fmt.Sprintf(`Number(document.querySelector('.footing .loose').innerText.match(/\d+/)[0]) === %d`, before-settled)))
	}
	u.looseEnd("Fill in", "June Kettle")
	u.Must(u.Type(".settle .tiny input", "7-25"), u.Press("Fill in hours"))
	u.Sees("there is no hour 25")
	u.Accessible("a loose end that is being settled")
	u.Must(u.Type(".settle .tiny input", "7-3:30/30\r"))
	left(1)

	u.looseEnd("Choose the job", "Fender strip")
	u.Must(u.Pick("Job", "1187"), u.Press("Book to this job"))
	left(2)
	u.looseEnd("Choose the code", "1195")
	u.Must(u.Pick("Cost code", "520"), u.Press("Set cost code on all"))
	left(3)
	u.looseEnd("Hand in", "Pile crew")
	u.Must(u.Press("Hand in week"))
	left(4)

	u.looseEnd("Look at it", "Pontoon repair")
	u.Must(u.Keys("a change order is on its way\r"))
	left(5)
	u.Must(u.Press("1 loose end set aside"))
	u.Sees("Over contract: 1194", "a change order is on its way; Ada Ridley")
	u.Must(u.Press("Bring back"))
	left(4)

	u.looseEnd("Add a rate", "job 1193")
	u.Must(u.Keys("82"), u.Press("Save rate")) // one rate for every tender settles all three
	u.Must(u.Until(`!document.querySelector('[aria-label="Loose ends"]').innerText.includes('Nell Rowan')`))
	now := count()
	u.looseEnd("Make a draft", "1191")
	u.Must(u.Press("Make draft of all that is ready"), u.Until(
		`!document.querySelector('[aria-label="Loose ends"]').innerText.includes('1191')`,
	))
	assert.Less(t, count(), now)
}

// TestWhatCouldNotBeReadIsALooseEndOfThisMachine types what is no time and finds it on Today, with the way back to its cell.
func TestWhatCouldNotBeReadIsALooseEndOfThisMachine(t *testing.T) {
	u := atTheDemo(t)
	u.Load("/time?crew=Deck+crew&from=2026-11-23")
	u.Must(u.Click(at.Cell(0, 4)), u.Keys("7-25\r"))
	u.Sees("there is no hour 25")
	u.Must(u.Press("Today"))
	u.Sees("Not understood", "“7-25”", "Greta Pell, 11")
	u.Must(
		u.Press("Put right"), u.See(`[aria-label="Crew sheet"] .error-line`), u.Press("Cancel"), u.Press("Today"),
		u.See(`[aria-label="Loose ends"]`),
	)
	u.Must(u.Until(`!document.body.innerText.includes('Not understood')`))
}

// TestTodayOnAPhoneIsOneColumn opens a loose end where it stands, and leads on to Approve.
func TestTodayOnAPhoneIsOneColumn(t *testing.T) {
	u := at.APhone(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.Sees("Billed late: ", "The week", "Not approved", "Ready to bill", " more")
	u.Accessible("today on a phone")
	u.NothingSticksOut()
	u.Must(u.ClickIn(`[aria-label="Loose ends"] tr`, "No rate", "td"))
	u.Sees("Price an hour")
	u.Accessible("a loose end opened on a phone")
	u.NothingSticksOut()
	u.Must(u.Click(`.tabs a[href^="/approve"]`), u.See(".phone-list"))
	u.NothingSticksOut()
}
