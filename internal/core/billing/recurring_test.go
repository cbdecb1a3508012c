package billing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
)

func TestAnInvoiceComesAgainFromItsFirstDate(t *testing.T) {
	t.Parallel()
	day := func(text string) calendar.Date {
		d, err := calendar.Parse(text)
		assert.NoError(t, err)
		return d
	}
	dates := func(r billing.Recurrence, k int, by string) (out []string) {
		for _, d := range r.Due(k, day(by)) {
			out = append(out, d.String())
		}
		return out
	}
	until := day("2025-04-30")
	monthly := billing.Recurrence{First: day("2025-01-31"), Every: 1, Step: "months", Until: &until}
	assert.Equal(t, []string{"2025-01-31"}, dates(monthly, 0, "2025-02-10"))
	assert.Equal(t, []string{"2025-02-28", "2025-03-31", "2025-04-30"}, dates(monthly, 1, "2025-12-31"), "missed ones too, up to its end")
	quarterly := billing.Recurrence{First: day("2025-01-31"), Every: 1, Step: "quarters"}
	assert.Equal(t, []string{"2025-01-31", "2025-04-30", "2025-07-31", "2025-10-31", "2026-01-31"}, dates(quarterly, 0, "2026-03-01"))
	assert.Equal(t, []string{"2024-02-29", "2025-02-28", "2026-02-28"},
		dates(billing.Recurrence{First: day("2024-02-29"), Every: 1, Step: "years"}, 0, "2026-12-31"))
	assert.Equal(t, []string{"2025-12-22", "2026-01-05"},
		dates(billing.Recurrence{First: day("2025-12-22"), Every: 2, Step: "weeks"}, 0, "2026-01-18"))
	assert.Equal(t, []string{"2025-12-30", "2026-01-09"},
		dates(billing.Recurrence{First: day("2025-12-20"), Every: 10, Step: "days"}, 1, "2026-01-18"))
}
