package profit_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
	"jarvo/internal/core/profit"
)

func TestAFixedPriceEarnsByWhatItCostsAgainstWhatItWillCost(t *testing.T) {
	expected, err := profit.Expected([]profit.Kind{
		{Budget: 40_000, Cost: 30_000, Committed: 5_000}, {Budget: 10_000, Cost: 12_000, Committed: 3_000},
	})
	require.NoError(t, err)
	assert.Equal(t, money.Amount(55_000), *expected, "the larger of budget and cost with what is committed, for each kind")
	contract, err := profit.Contract(90_000, 25_000, -5_000)
	require.NoError(t, err)
	part := profit.Part{Basis: billing.Fixed, Contract: contract, Expected: expected, Cost: 42_000, Billed: 60_000}
	j, err := profit.Of([]profit.Part{
		part, {Basis: billing.TimeAndMaterials, Cost: 1_000, Billed: 700, Unbilled: 900}, {Basis: billing.Never, Cost: 500},
	})
	require.NoError(t, err)
	assert.Equal(t, money.Amount(84_000+1_600), j.Earned) // 110 000 x 42 000 / 55 000 = 84 000
	assert.Equal(t, money.Amount(85_600-43_500), j.Profit)
	assert.Equal(t, "49.18", j.Margin.Places2())
	assert.Equal(t, money.Amount(60_700-85_600), j.OverBilled(), "under-billed")

	part.Cost = 80_000
	earned, err := part.Earned()
	require.NoError(t, err)
	assert.Equal(t, contract, earned, "at most the contract")
}

func TestAForecastStandsInPlaceOfBudgetAndCost(t *testing.T) {
	forecast := money.Amount(20_000)
	expected, err := profit.Expected([]profit.Kind{{Budget: 40_000, Cost: 30_000, Forecast: &forecast}})
	require.NoError(t, err)
	assert.Equal(t, forecast, *expected)
	none, err := profit.Expected([]profit.Kind{{Cost: 30_000}})
	require.NoError(t, err)
	assert.Nil(t, none, "with no budget and no forecast there is nothing to measure by")
	earned, err := profit.Part{Basis: billing.Fixed, Contract: 50_000, Cost: 30_000, Billed: 10_000}.Earned()
	require.NoError(t, err)
	assert.Equal(t, money.Amount(10_000), earned)
}

func TestThereIsNoMarginWithoutSomethingEarned(t *testing.T) {
	j, err := profit.Of([]profit.Part{{Basis: billing.Never, Cost: 100}})
	require.NoError(t, err)
	assert.False(t, j.HasMargin)
	assert.Equal(t, money.Amount(-100), j.Profit)
}
