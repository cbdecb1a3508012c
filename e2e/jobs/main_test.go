package jobs

import (
	"testing"

	"jarvo/e2e/at"
)

func TestMain(m *testing.M) { at.Main(m) }

func TestEverySheet(t *testing.T) {
	at.TheDemo(t).EverySheet(
		at.Sheet{Path: "/jobs", See: `[aria-label="Jobs"]`},
		at.Sheet{Path: "/jobs/1187", See: `[aria-label="Booked to it"]`, Workings: true},
	)
}
