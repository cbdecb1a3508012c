package bill

import (
	"testing"

	"jarvo/e2e/at"
)

func TestMain(m *testing.M) { at.Main(m) }

func TestEverySheet(t *testing.T) {
	at.TheDemo(t).EverySheet(
		at.Sheet{Path: "/bill", See: `[aria-label="Ready to bill"]`},
		at.Sheet{Path: "/bill?list=drafts", See: `.invoice .due`},
		at.Sheet{Path: "/bill?list=issued&span=all", See: `.invoice .due`},
	)
}
