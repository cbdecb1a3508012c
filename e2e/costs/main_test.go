package costs

import (
	"testing"

	"jarvo/e2e/at"
)

func TestMain(m *testing.M) { at.Main(m) }

// user is somebody at the browser.
type user struct{ at.User }

func atTheDemo(t testing.TB) user { t.Helper(); return user{at.TheDemo(t)} }

func TestEverySheet(t *testing.T) {
	u := atTheDemo(t)
	u.EverySheet(
		at.Sheet{Path: "/costs?list=owed", See: `[aria-label="To reimburse"]`},
		at.Sheet{Path: "/costs?span=quarter", See: `[aria-label="Lines"] tfoot`, Workings: true},
		at.Sheet{Path: u.scanned(), See: ".strip canvas"},
	)
}
