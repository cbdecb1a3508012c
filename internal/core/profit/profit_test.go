package profit_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
	"jarvo/internal/core/profit"
)

func amount(a money.Amount) *money.Amount { return &a }

func of(t *testing.T, terms profit.Terms, places ...profit.Place) profit.Job {
	t.Helper()
	j, err := profit.Of(terms.Parts(places))
	require.NoError(t, err)
	return j
}

// A place on a fixed price with what it has cost of one kind.
func fixed(phase int64, contract *money.Amount, k profit.Kind) profit.Place {
	return profit.Place{Phase: phase, Basis: billing.Fixed, Contract: contract, Worked: true, Kinds: []profit.Kind{k}}
}

func TestAPhaseWithAContractIsAPartAndTheRestIsOnePool(t *testing.T) {
	terms := profit.Terms{Basis: billing.Fixed, Contract: amount(20_000_00)}
	places := []profit.Place{
		fixed(0, nil, profit.Kind{Budget: 2_000_00, Cost: 400_00, Pending: 160_00}),
		fixed(1, amount(6_000_00), profit.Kind{Budget: 4_100_00, Cost: 2_660_00}),
		fixed(2, nil, profit.Kind{Budget: 5_000_00, Cost: 2_000_00}),
		{Phase: 3, Basis: billing.TimeAndMaterials, Worked: true, Billing: profit.Billing{Unbilled: 450_00, Earning: 450_00}},
	}
	j := of(t, terms, places...)
	assert.Equal(t, money.Amount(3_892_68+14_000_00*24/70+450_00), j.Earned)
	assert.Equal(t, money.Amount(4_100_00+7_000_00), j.Expected)
	assert.Zero(t, terms.Short(places))
	terms.Contract = amount(5_000_00)
	assert.Equal(t, money.Amount(1_000_00), terms.Short(places), "more was agreed for phases than for the job")
	all := of(t, profit.Terms{Basis: billing.Fixed, Contract: amount(3_000_00)}, profit.Place{Basis: billing.Fixed},
		fixed(1, amount(3_000_00), profit.Kind{Budget: 2_000_00, Cost: 500_00}))
	assert.Equal(t, "33.33", all.Margin.Places2(), "a rest without a contract and without work is no part")
}

func TestALimitOfAJobIsNoContractOfItsFixedPhases(t *testing.T) {
	j := of(t, profit.Terms{Basis: billing.TimeAndMaterials, Contract: amount(1_000_00)}, fixed(1, nil, profit.Kind{Cost: 200_00}))
	assert.Nil(t, j.Contract)
	assert.Zero(t, j.Earned, "no contract is known, so it earns what is billed")
}

func TestWithoutABudgetNoProfitIsShown(t *testing.T) {
	j := of(t, profit.Terms{Basis: billing.Fixed, Contract: amount(10_000_00)}, fixed(0, nil, profit.Kind{Cost: 800_00}))
	assert.Equal(t, []money.Amount{800_00, 0}, []money.Amount{j.Earned, j.Profit})
	assert.True(t, j.Unmeasured)
	assert.False(t, j.HasMargin)
	j = of(t, profit.Terms{Basis: billing.Fixed, Contract: amount(10_000_00)}, fixed(0, nil, profit.Kind{Cost: 12_000_00, Pending: 1_000_00}))
	assert.Equal(t, money.Amount(-3_000_00), j.Profit, "but a loss is, with what waits")
}

func TestALossForeseenIsShownAtOnce(t *testing.T) {
	terms := profit.Terms{Basis: billing.Fixed, Contract: amount(10_000_00)}
	j := of(t, terms, fixed(0, nil, profit.Kind{Budget: 8_000_00, Forecast: amount(12_000_00), Cost: 3_000_00}))
	assert.Equal(t, []money.Amount{2_500_00, -1_500_00, -2_000_00}, []money.Amount{j.Earned, j.Provision, j.Profit})
	terms.Finished = true
	j = of(t, terms, fixed(0, nil, profit.Kind{Budget: 20_000_00, Cost: 7_000_00}))
	assert.Equal(t, []money.Amount{10_000_00, 7_000_00, 0},
		[]money.Amount{j.Earned, j.Expected, j.Provision}, "what is finished has earned it all")
}

func TestOfAPhaseThatIsDoneOnlyItsCostIsExpected(t *testing.T) {
	done := fixed(1, nil, profit.Kind{Budget: 5_000_00, Forecast: amount(6_000_00), Cost: 4_000_00})
	done.Done = true
	j := of(t, profit.Terms{Basis: billing.Fixed, Contract: amount(12_000_00)}, done, fixed(2, nil, profit.Kind{Budget: 5_000_00}))
	assert.Equal(t, money.Amount(5_333_33), j.Earned)
}

func TestThereIsNoMarginWithoutSomethingEarned(t *testing.T) {
	j := of(t, profit.Terms{Basis: billing.Never}, profit.Place{Basis: billing.Never, Worked: true, Kinds: []profit.Kind{{Cost: 100}}})
	assert.False(t, j.HasMargin)
	assert.Equal(t, money.Amount(-100), j.Profit)
}

// A fixed part never earns more than its contract, and once it is expected to cost more, its profit is just the loss to come.
func TestALossIsProvidedForInFull(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		draw := func(what string) money.Amount { return money.Amount(rapid.Int64Range(0, 5_000_00).Draw(t, what)) }
		contract := draw("contract")
		p := fixed(0, nil, profit.Kind{Budget: draw("budget"), Cost: draw("cost"), Pending: draw("pending")})
		j, err := profit.Of(profit.Terms{Basis: billing.Fixed, Contract: &contract}.Parts([]profit.Place{p}))
		require.NoError(t, err)
		assert.LessOrEqual(t, j.Earned, contract)
		if contract < j.Expected {
			assert.LessOrEqual(t, j.Profit, contract-j.Expected)
		}
	})
}
