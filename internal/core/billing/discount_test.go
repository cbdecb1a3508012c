package billing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
)

var twoJobs = []billing.Source{
	{Job: 1, Category: "labour", Amount: 33333, TaxCode: 7}, {Job: 1, Category: "material", Amount: 12007, TaxCode: 7},
	{Job: 2, Category: "labour", Amount: 21045}, {Job: 1, Category: "labour", Amount: 100, TaxCode: 7},
}

func TestADiscountIsTakenOffEachJobAndKind(t *testing.T) {
	t.Parallel()
	off, err := billing.Discount{Percent: 50000}.Of(twoJobs) // 5 %
	require.NoError(t, err)
	assert.Equal(t, []billing.Source{
		{Job: 1, TaxCode: 7, Category: "labour", Amount: -1672, Own: true}, // 334.33 x 5 % = 16.7165
		{Job: 1, TaxCode: 7, Category: "material", Amount: -600, Own: true},
		{Job: 2, Category: "labour", Amount: -1052, Own: true},
	}, off)

	off, err = billing.Discount{Job: 1, Category: "material", Amount: 2500}.Of(twoJobs)
	require.NoError(t, err)
	assert.Equal(t, []billing.Source{{Job: 1, TaxCode: 7, Category: "material", Amount: -2500, Own: true}}, off)

	off, err = billing.Discount{Job: 3, Amount: 2500}.Of(twoJobs)
	require.NoError(t, err)
	assert.Empty(t, off, "nothing is billed of that job")
}

func TestADiscountOfAnAmountIsAllOfIt(t *testing.T) {
	t.Parallel()
	rapid.Check(t, func(t *rapid.T) {
		sources := rapid.SliceOfN(rapid.Custom(func(t *rapid.T) billing.Source {
			return billing.Source{
				Job: rapid.Int64Range(1, 3).Draw(t, "job"), Category: rapid.SampledFrom(billing.Categories).Draw(t, "category"),
				Amount: money.Amount(rapid.Int64Range(-50_000, 900_000).Draw(t, "amount")),
			}
		}), 1, 12).Draw(t, "sources")
		amount := money.Amount(rapid.Int64Range(1, 100_000).Draw(t, "discount"))
		off, err := billing.Discount{Amount: amount}.Of(sources)
		require.NoError(t, err)
		var sum money.Amount
		for _, o := range off {
			sum += o.Amount
		}
		assert.Equal(t, -amount, sum)
	})
}
