package money

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What is read is written back so that it reads the same, and is within bounds.
func FuzzReadMoney(f *testing.F) {
	for _, seed := range []string{
		"1234.50", "-0.01", ".5", "5.", "007", "9999999999999", "1e3", " 12 ", "7.65 %", "١", "+1", "-", "1,5", "0.0000000",
	} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, text string) {
		for _, c := range []Currency{USD, CurrencyOf("JPY"), CurrencyOf("TND")} {
			if a, err := c.ParseAmount(text); err == nil {
				assert.LessOrEqual(t, max(a, -a), Amount(Largest))
				again, err := c.ParseAmount(c.Format(a))
				require.NoError(t, err)
				assert.Equal(t, a, again)
			}
		}
		if r, err := ParseRate(text); err == nil {
			again, err := ParseRate(USD.FormatRate(r))
			require.NoError(t, err)
			assert.Equal(t, r, again)
		}
		if p, err := ParsePercent(text); err == nil {
			again, err := ParsePercent(p.String())
			require.NoError(t, err)
			assert.Equal(t, p, again)
		}
		if q, err := ParseQuantity(text); err == nil {
			again, err := ParseQuantity(q.String())
			require.NoError(t, err)
			assert.Equal(t, q, again)
		}
	})
}
