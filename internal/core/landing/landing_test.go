package landing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jarvo/internal/core/landing"
	"jarvo/internal/core/money"
)

func TestFreightAndTaxLandOnTheLines(t *testing.T) {
	lines := []landing.Line{{Quantity: 12_000, UnitCost: 142_500}, {Quantity: 3_500, UnitCost: 229_000}, {Quantity: -2_000, UnitCost: 142_500}}
	landed, err := landing.Land(money.USD, lines, 25_00, 18_37, false)
	require.NoError(t, err)
	assert.Equal(
		t,
		[]landing.Landed{
			{Base: 171_00, Freight: 15_29, Tax: 11_23}, {Base: 80_15, Freight: 7_16, Tax: 5_27}, {Base: -28_50, Freight: 2_55, Tax: 1_87},
		},
		landed,
	)
	assert.Equal(t, money.Amount(-24_08), landed[2].Cost(), "a return carries its share of what it cost to bring")

	recovered, err := landing.Land(money.USD, lines, 25_00, 18_37, true)
	require.NoError(t, err)
	assert.Equal(t, money.Amount(186_29), recovered[0].Cost(), "tax that comes back is no cost")
}

func TestLinesOfNothingShareEvenly(t *testing.T) {
	landed, err := landing.Land(money.USD, make([]landing.Line, 3), 10_00, 0, false)
	require.NoError(t, err)
	assert.Equal(t, []money.Amount{3_34, 3_33, 3_33}, []money.Amount{landed[0].Freight, landed[1].Freight, landed[2].Freight})
}

func TestNoCentOfFreightOrTaxIsLost(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		lines := rapid.SliceOfN(rapid.Custom(func(t *rapid.T) landing.Line {
			return landing.Line{
				Quantity: money.Quantity(rapid.Int64Range(-90_000, 90_000).Draw(t, "quantity")),
				UnitCost: money.Rate(rapid.Int64Range(0, 9_000_000).Draw(t, "each")),
			}
		}), 1, 20).Draw(t, "lines")
		freight, tax := money.Amount(rapid.Int64Range(-90_000, 900_000).Draw(t, "freight")),
			money.Amount(rapid.Int64Range(0, 900_000).Draw(t, "tax"))
		landed, err := landing.Land(money.USD, lines, freight, tax, false)
		require.NoError(t, err)
		var f, x, cost, base money.Amount
		for _, l := range landed {
			f, x, cost, base = f+l.Freight, x+l.Tax, cost+l.Cost(), base+l.Base
		}
		assert.Equal(t, []money.Amount{freight, tax, base + freight + tax}, []money.Amount{f, x, cost})
	})
}
