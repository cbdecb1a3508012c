package approve

import (
	"testing"

	"jarvo/e2e/at"
)

func TestMain(m *testing.M) { at.Main(m) }

func TestEverySheet(t *testing.T) {
	at.TheDemo(t).EverySheet(
		at.Sheet{Path: "/approve?span=all", See: `[aria-label="The week by day"]`},
		at.Sheet{Path: "/approve?list=decided", See: `[aria-label="Decided"] tbody tr`},
	)
}
