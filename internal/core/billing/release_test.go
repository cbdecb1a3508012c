package billing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
)

// The seventh of the worked histories of billing: tax that is due on release.
func TestRetainageIsReleasedWithItsTax(t *testing.T) {
	t.Parallel()
	invoice := billing.Invoiced{
		Jobs: []billing.InvoicedJob{{Job: 1, Subtotal: 1_000_10, Percent: 100_000, Held: 100_01, HeldOfJob: 100_01}},
		Taxes: []billing.InvoicedTax{{
			Component: billing.TaxComponent{Percent: 81_250, AppliesTo: []string{"labour"}, OnRelease: true},
			Bases:     map[int64]money.Amount{1: 1_000_10},
		}},
	}
	var taxes []money.Amount
	for _, amount := range []money.Amount{60_00, 40_01} {
		tax, err := invoice.Release(map[int64]money.Amount{1: amount})
		require.NoError(t, err)
		taxes = append(taxes, tax[0].Tax)
		invoice.Jobs[0].Held -= amount
	}
	assert.Equal(t, []money.Amount{4_88, 3_25}, taxes)
	invoice.Taxes[0].Component.OnRelease = false
	tax, err := invoice.Release(map[int64]money.Amount{1: 1})
	require.NoError(t, err)
	assert.Empty(t, tax, "it was charged with the invoice")
}

func TestWhatIsReleasedComesFromTheOldestInvoices(t *testing.T) {
	t.Parallel()
	parts, err := billing.Release(120, []money.Amount{50, -30, 90, 100})
	require.NoError(t, err)
	assert.Equal(t, []money.Amount{50, -30, 90, 10}, parts)
	_, err = billing.Release(211, []money.Amount{50, -30, 90, 100})
	require.ErrorIs(t, err, billing.ErrBeyondHeld)
	rapid.Check(t, func(t *rapid.T) {
		held := rapid.SliceOf(rapid.Custom(func(t *rapid.T) money.Amount {
			return money.Amount(rapid.Int64Range(-500, 2_000).Draw(t, "held"))
		})).Draw(t, "held")
		amount := money.Amount(rapid.Int64Range(1, 5_000).Draw(t, "amount"))
		parts, err := billing.Release(amount, held)
		if err != nil {
			return
		}
		var sum money.Amount
		for i, p := range parts {
			sum += p
			assert.True(t, p*held[i] >= 0 && max(p, -p) <= max(held[i], -held[i]))
		}
		assert.Equal(t, amount, sum)
	})
}
