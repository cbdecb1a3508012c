package window

import (
	"testing"

	"jarvo/e2e/at"
)

func TestMain(m *testing.M) { at.Main(m) }
