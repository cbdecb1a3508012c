package e2e

import (
	"os"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"jarvo/e2e/browser"
)

// launched is the one Chromium of all tests, started when the first of them asks for it.
var launched = sync.OnceValues(func() (*browser.Chromium, error) { return browser.Launch(ctx) })

func TestMain(m *testing.M) {
	code := m.Run()
	if chromium, err := launched(); err == nil {
		chromium.Close()
	}
	os.Exit(code)
}

// openedAt opens a window of a size at a running application; nobody is signed in.
func openedAt(t testing.TB, running *browser.Book, width, height int) user {
	t.Helper()
	chromium, err := launched()
	require.NoError(t, err)
	page, err := chromium.Open(width, height, whenGivenUp(t))
	require.NoError(t, err)
	t.Cleanup(page.Close)
	return user{page, t, running.URL, running}
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
