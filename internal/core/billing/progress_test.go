package billing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
)

// The eleventh of the worked histories of billing: a schedule of values over three months, with a change order of the second.
func TestAScheduleOfValuesOverThreeMonths(t *testing.T) {
	t.Parallel()
	before := map[money.Amount]money.Amount{}
	for month, lines := range [][]struct {
		contract money.Amount
		complete money.Percent
		stored   money.Amount
		want     money.Amount
	}{
		{{40_000_00, 300_000, 0, 12_000_00}, {25_000_00, 0, 6_000_00, 6_000_00}, {10_000_00, 0, 0, 0}},
		{
			{40_000_00, 750_000, 0, 18_000_00}, {25_000_00, 400_000, 2_500_00, 6_500_00}, {10_000_00, 125_000, 0, 1_250_00},
			{3_333_33, 333_300, 0, 1_111_00},
		},
		{
			{40_000_00, 700_000, 0, -2_000_00}, {25_000_00, 800_000, 0, 7_500_00}, {10_000_00, 500_000, 0, 3_750_00},
			{3_333_33, 1_000_000, 0, 2_222_33},
		},
	} {
		for _, l := range lines {
			got, err := billing.Progress{Contract: l.contract, Before: before[l.contract]}.ToBill(l.complete, l.stored)
			require.NoError(t, err)
			assert.Equal(t, l.want, got, "%d of month %d", l.contract, month)
			before[l.contract] += got
		}
	}
	_, err := billing.Progress{Contract: 100}.ToBill(600_000, 41)
	require.ErrorIs(t, err, billing.ErrStored)
	require.ErrorIs(t, billing.Within(100, 90, 11, false), billing.ErrBeyondContract)
	require.NoError(t, billing.Within(100, 90, 11, true))
	require.NoError(t, billing.Within(100, 120, -5, false), "what gives back is never beyond it")
}

// The twelfth: instalments, of which the last takes what is left of the contract as it then is.
func TestInstalmentsTheLastTakesTheRest(t *testing.T) {
	t.Parallel()
	contract, billed := money.Amount(10_000_00), money.Amount(0)
	for i, want := range []money.Amount{3_000_00, 3_333_33, 2_500_00, 2_417_22} {
		if i == 3 {
			contract += 1_250_55
		}
		got, err := []billing.Instalment{{Percent: 300_000}, {Percent: 333_333}, {Amount: 2_500_00}, {Rest: true}}[i].ToBill(contract, billed, 0)
		require.NoError(t, err)
		assert.Equal(t, want, got)
		billed += got
	}
	assert.Equal(t, contract, billed)
	over, err := billing.Instalment{Amount: 500}.ToBill(1_000, 700, 0)
	require.NoError(t, err)
	assert.Equal(t, money.Amount(300), over, "no more than is left of the contract")
}
