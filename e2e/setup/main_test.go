package setup

import (
	"testing"

	"jarvo/e2e/at"
)

func TestMain(m *testing.M) { at.Main(m) }

func TestEverySheet(t *testing.T) {
	at.TheDemo(t).EverySheet(
		at.Sheet{Path: "/setup?part=people", See: `[aria-label="Users"]`},
		at.Sheet{Path: "/setup?part=workers", See: `[aria-label="Workers"]`},
		at.Sheet{Path: "/setup?part=burden", See: `svg.stack`},
		at.Sheet{Path: "/setup?part=rates", See: `[aria-label="Labor rates"]`},
		at.Sheet{Path: "/setup?part=markups&add=yes", See: `[aria-label="Markups"]`},
		at.Sheet{Path: "/setup?part=prices&add=yes", See: `[aria-label="Price list"] tbody tr`},
		at.Sheet{Path: "/setup?part=customers", See: `[aria-label="Customers"]`},
	)
}
