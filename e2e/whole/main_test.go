package whole

import (
	"testing"

	"jarvo/e2e/at"
)

func TestMain(m *testing.M) { at.Main(m) }

// user is somebody at the browser.
type user struct{ at.User }

func atTheDemo(t testing.TB) user { t.Helper(); return user{at.TheDemo(t)} }
