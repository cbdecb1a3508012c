// Package at puts somebody at the browser, in front of a book of their own, as the users of the application are. The browser tests of each
// tab are a package, which can be run by itself.
package at

import (
	"context"
	"errors"
	"fmt"
	"os"
	"sync"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/browser"
	"jarvo/internal/core/money"
	"jarvo/internal/demo"
	"jarvo/internal/demo/demotest"
)

// Clock is the moment of every browser test.
func Clock() time.Time { return demotest.Clock() }

// User is somebody at the browser; every step must work.
type User struct {
	*browser.Page
	T    testing.TB
	URL  string
	Book *browser.Book
}

// launched is the one Chromium of a package's tests, started when the first of them asks for it.
var launched = sync.OnceValues(func() (*browser.Chromium, error) {
	chromium, err := browser.Launch(context.Background())
	if err == nil {
		toClose = chromium.Close
	}
	return chromium, err
})

// toClose closes what was launched.
var toClose = func() {}

// Main runs the tests of a package.
func Main(m *testing.M) {
	code := m.Run()
	toClose()
	os.Exit(code)
}

// Opened is somebody at a window of a size, in front of a running application; nobody is signed in.
func Opened(t testing.TB, running *browser.Book, width, height int) User {
	t.Helper()
	chromium, err := launched()
	require.NoError(t, err)
	page, err := chromium.Open(width, height, whenGivenUp(t))
	require.NoError(t, err)
	t.Cleanup(func() {
		if t.Failed() {
			page.Close()
		} else {
			chromium.GiveBack(page)
		}
	})
	return User{page, t, running.URL, running}
}

// AnEmptyBook is somebody in front of a book that nobody has opened yet.
func AnEmptyBook(t testing.TB) User {
	t.Helper()
	running, err := browser.Start(context.Background(), Clock)
	require.NoError(t, err)
	t.Cleanup(running.Close)
	return Opened(t, running, wide, high)
}

const wide, high = 1280, 800

// TheDemo is the owner of the demo company at Today.
func TheDemo(t testing.TB) User {
	t.Helper()
	return TheDemoAs(t, demo.SignIn, `[aria-label="Loose ends"]`)
}

// TheDemoAs is somebody of the demo company, who sees something first.
func TheDemoAs(t testing.TB, signIn, first string) User {
	t.Helper()
	return theDemo(t, wide, high, signIn, first)
}

// APhone is somebody of the demo company at a window as narrow as a phone.
func APhone(t testing.TB, signIn, first string) User {
	t.Helper()
	return theDemo(t, phone, 844, signIn, first)
}

const phone = 390

func theDemo(t testing.TB, width, height int, signIn, first string) User {
	t.Helper()
	if alone, test := t.(*testing.T); test {
		alone.Parallel() // on a book of its own
	}
	running, err := browser.StartOn(context.Background(), Clock, demotest.Bytes(t))
	require.NoError(t, err)
	t.Cleanup(running.Close)
	u := Opened(t, running, width, height)
	u.Must(u.SignIn(u.URL, signIn, demo.Password))
	u.Load("/")
	u.Must(u.See(first))
	return u
}

// toSaySo is how long before the deadline of all tests a wait ends, so that the test can still say what it waited for.
const toSaySo = 30 * time.Second

// whenGivenUp is when a test waits no longer: shortly before its own deadline.
func whenGivenUp(t testing.TB) (until time.Time) {
	if test, bounded := t.(*testing.T); bounded {
		if deadline, there := test.Deadline(); there {
			until = deadline.Add(-toSaySo)
		}
	}
	return until
}

// Must ends the test where a step has failed, with what the page says.
func (u User) Must(errs ...error) {
	u.T.Helper()
	for _, err := range errs {
		if err != nil {
			require.NoError(u.T, err, "the page says:\n%s", u.Says())
		}
	}
}

// Open goes to a path within the application.
func (u User) Open(path string) { u.T.Helper(); u.Must(u.Visit(u.URL, path)) }

// Load opens the address of a path anew.
func (u User) Load(path string) { u.T.Helper(); u.Must(u.Go(u.URL + path)) }

// Tab goes to the tab of a letter by the keyboard.
func (u User) Tab(letter string) error {
	return errors.Join(u.Chord(chromedp.ModifierAlt, "g"), u.Keys(letter))
}

// FillIn fills fields of a form: their labels, each with what is typed there.
func (u User) FillIn(form string, fields ...string) {
	u.T.Helper()
	for i := 0; i < len(fields); i += 2 {
		u.Must(u.Fill(form, fields[i], fields[i+1]))
	}
}

// Sees waits until the page has all of some texts.
func (u User) Sees(texts ...string) {
	u.T.Helper()
	for _, text := range texts {
		u.Must(u.SeeText(text))
	}
}

// Cell is the place of a day on a line of the crew sheet.
func Cell(line, day int) string {
	return fmt.Sprintf(`tr[data-line="%d"] td[data-day="%d"]`, line, day)
}

// Sum is what amounts come to; an empty one is nothing.
func Sum(t testing.TB, amounts ...string) string {
	t.Helper()
	var sum money.Amount
	for _, text := range amounts {
		a, err := money.Currency{Digits: 2}.ParseAmount(text)
		require.NoError(t, err)
		sum += a
	}
	return money.Currency{Digits: 2}.Format(sum)
}
