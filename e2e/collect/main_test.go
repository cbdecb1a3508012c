package collect

import (
	"testing"

	"jarvo/e2e/at"
)

func TestMain(m *testing.M) { at.Main(m) }

// user is somebody at the browser.
type user struct{ at.User }

func atTheDemo(t testing.TB) user { t.Helper(); return user{at.TheDemo(t)} }

func TestEverySheet(t *testing.T) {
	at.TheDemo(t).EverySheet(
		at.Sheet{Path: "/bill?list=messages", See: `[aria-label="The message"] .text`},
	)
}
