package e2e

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/browser"
	"jarvo/internal/app/access"
	"jarvo/internal/app/book"
	"jarvo/internal/app/company"
	"jarvo/internal/demo"
)

// TestTheTimeZoneIsChosenAndAPasswordChanged says in Setup where the company is and when overtime comes, with a typing error first, and
// changes the password, also with a wrong one first.
func TestTheTimeZoneIsChosenAndAPasswordChanged(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.load("/setup?part=company")
	u.must(u.See(`form[aria-label="The company"]`))
	u.must(u.Until(`document.querySelector('input[name="timeZone"]').value === Intl.DateTimeFormat().resolvedOptions().timeZone`)) // proposed
	u.accessible("the company")
	u.fill("The company", "Beyond, a day", "7")
	u.sees("Changes ", " of hours ", "not billed yet: cost ", "What it would alter", "13 workers")
	u.must(u.Type(`input[name="timeZone"]`, "Atlantic/Bermudaa\r"))
	u.sees("is not a time zone")
	u.must(u.Type(`input[name="timeZone"]`, "Atlantic/Bermuda\r"), u.Until(`(() => { const asked = new XMLHttpRequest();
		asked.open('GET', '/api/company', false); asked.send(); const { timeZone, overtimeDaily } = JSON.parse(asked.responseText);
		return timeZone === 'Atlantic/Bermuda' && overtimeDaily === '7' })()`))
	// What is typed stays where another window changes the settings meanwhile, and is refused as stale when it is saved.
	u.must(u.Type(`input[name="phone"]`, "555 0199"), u.Until(`!document.querySelector('form[aria-label="The company"] .v-btn--loading')`))
	settings, err := company.Get(ctx, u.book.Book, book.Console)
	require.NoError(t, err)
	settings.TermsDays = "21"
	require.NoError(t, company.Change(ctx, u.book.Book, book.Console, settings))
	u.must(u.Press("Save"))
	u.sees("somebody else has changed the company's settings")
	u.must(u.Until(`document.querySelector('input[name="phone"]').value === '555 0199'`), u.Press("Cancel"), u.Press("Discard"))
	u.must(u.Until(`document.querySelector('input[name="termsDays"]').value === '21'`))

	state, err := access.State(ctx, u.book.Book)
	require.NoError(t, err)
	zone, err := time.LoadLocation("Atlantic/Bermuda")
	require.NoError(t, err)
	assert.Equal(t, clock().In(zone).Format(time.DateOnly), state.Today)

	const word, had = "a boathook and a bucket", `.password input[autocomplete="current-password"]`
	u.must(u.Press("Ada R."), u.ClickIn(".v-overlay--active .v-list-item", "Change password", ".v-list-item-title"),
		u.See(`[aria-label="Change your password"]`))
	u.accessible("a password that is being changed")
	u.must(u.Type(had, "not this one"), u.Type(`.password input[autocomplete="new-password"]`, word+"\r"))
	u.sees("this is not your password")
	u.must(u.Type(had, demo.Password+"\r"), u.Until(`!document.querySelector('[aria-label="Change your password"]')`))
	_, err = access.SignIn(ctx, u.book.Book, demo.SignIn, word)
	require.NoError(t, err)
	signedIn := `fetch('/api/session').then(r => r.status)`
	status, err := browser.Eval[int](u.Page, signedIn)
	require.NoError(t, err)
	assert.Equal(t, 200, status, "who changes it stays signed in")
}
