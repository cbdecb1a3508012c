package money

import (
	"math/big"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestRoundsOnceHalfAwayFromZero(t *testing.T) {
	for _, c := range []struct{ part, of, want int64 }{{1, 2, 1}, {-1, 2, -1}, {49, 100, 0}, {-5, 10, -1}, {7, 2, 4}} {
		got, err := Ratio(c.of, c.part)
		require.NoError(t, err)
		assert.Equal(t, c.want, got, "%d/%d", c.part, c.of)
	}
}

func TestAmountsOfTimeAndQuantity(t *testing.T) {
	hours, err := USD.ForTime(303_000, 15_000, 12*60)
	require.NoError(t, err)
	assert.EqualValues(t, 54_540, hours, "12 h x 30.30 x 1.5")

	goods, err := USD.ForQuantity(4_000, 999_999)
	require.NoError(t, err)
	assert.EqualValues(t, 40_000, goods, "4 x 99.9999 = 399.9996")

	yen := Currency{Code: "JPY"}
	whole, err := yen.ForTime(15_005_000, One, 60)
	require.NoError(t, err)
	assert.EqualValues(t, 1501, whole, "a currency without minor digits rounds to whole units")
}

func TestOverflowIsAnError(t *testing.T) {
	_, err := USD.ForQuantity(Largest, Largest)
	require.ErrorIs(t, err, ErrTooLarge)
	_, err = Sum(Largest, 1)
	require.ErrorIs(t, err, ErrTooLarge)
}

func TestMarkupAndMarginAreInverse(t *testing.T) {
	margin, ok := Percent(200_000).Margin()
	assert.True(t, ok)
	assert.Equal(t, "16.67", margin.Places2())
	markup, ok := Percent(250_000).Markup()
	assert.True(t, ok)
	assert.Equal(t, "33.33", markup.Places2())
	_, ok = (-Whole).Margin()
	assert.False(t, ok)
}

func TestReadsOnlyWhatItCanHold(t *testing.T) {
	a, err := USD.ParseAmount("-1234.5")
	require.NoError(t, err)
	assert.Equal(t, "-1234.50", USD.Format(a))
	for _, bad := range []string{"", "-", ".", "1.234", "1,5", "1e3", "--1", "99999999999999999999", "12a", "0x1"} {
		_, err := USD.ParseAmount(bad)
		assert.Error(t, err, bad)
	}
	p, err := ParsePercent("7.65 %")
	require.NoError(t, err)
	assert.EqualValues(t, 76_500, p)
	assert.Equal(t, "8.08", Minutes(485).Hours())
}

func TestTextOfAnAmountReadsBackTheSame(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := Currency{Code: "TST", Digits: rapid.IntRange(0, 3).Draw(t, "digits")}
		a := Amount(rapid.Int64Range(-Largest, Largest).Draw(t, "amount"))
		back, err := c.ParseAmount(c.Format(a))
		require.NoError(t, err)
		assert.Equal(t, a, back)
	})
}

func TestSpreadFreightOfTheWorkedCase(t *testing.T) {
	assert.Equal(t, []Amount{1529, 716, 255}, Spread(2500, []int64{17100, 8015, 2850}))
	assert.Equal(t, []Amount{334, 333, 333}, Spread(1000, []int64{0, 0, 0}))
	assert.Equal(t, []Amount{-334, -333, -333}, Spread(-1000, []int64{1, 1, 1}))
}

func TestSpreadAlwaysSumsToTheAmount(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a := Amount(rapid.Int64Range(-Largest, Largest).Draw(t, "amount"))
		weights := rapid.SliceOfN(rapid.Int64Range(0, Largest), 1, 30).Draw(t, "weights")
		total, err := Sum(Spread(a, weights)...)
		require.NoError(t, err)
		assert.Equal(t, a, total)
	})
}

// With weights of both signs each share is the exact one, give or take a cent, and they sum to the amount all the same.
func TestASignedSpreadFollowsTheWeights(t *testing.T) {
	assert.Equal(t, []Amount{14_11, 6_61, -2_35}, Spread(18_37, []int64{171_00, 80_15, -28_50}))
	assert.Equal(t, []Amount{-3_60, -1_20}, Spread(-4_80, []int64{-60_00, -20_00}), "a credit note's tax")
	assert.Equal(t, []Amount{5, 5}, Spread(10, []int64{7, -7}), "weights that come to nothing count by size")
	rapid.Check(t, func(t *rapid.T) {
		a := rapid.Int64Range(-1_000_000, 1_000_000).Draw(t, "amount")
		weights := rapid.SliceOfN(rapid.Int64Range(-1_000_000, 1_000_000), 1, 30).Draw(t, "weights")
		var sum, total int64
		for _, w := range weights {
			sum += w
		}
		for i, share := range Spread(Amount(a), weights) {
			total += int64(share)
			if sum != 0 {
				assert.LessOrEqual(t, abs(int64(share)*sum-a*weights[i]), abs(sum), "within a cent of the exact share")
			}
		}
		assert.Equal(t, a, total)
	})
}

func abs(n int64) int64 { return max(n, -n) }

func TestThePartsOfAWholeSumToIt(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		whole := Amount(rapid.Int64Range(-900_000, 900_000).Draw(t, "whole"))
		parts := rapid.SliceOfN(rapid.Int64Range(1, 5_000), 1, 9).Draw(t, "parts")
		var all, done int64
		for _, p := range parts {
			all += p
		}
		var before, total Amount
		for _, p := range parts {
			done += p
			upTo, err := UpTo(whole, done, all)
			require.NoError(t, err)
			total += upTo - before
			before = upTo
		}
		assert.Equal(t, whole, total)
	})
}

func TestTheQuickWayRoundsAsTheExactOne(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		divisor := rapid.Int64Range(1, Largest).Draw(t, "divisor")
		factors := rapid.SliceOfN(
			rapid.OneOf(rapid.Int64Range(-2_000_000, 2_000_000), rapid.Int64Range(-Largest, Largest)), 1, 4,
		).Draw(t, "factors")
		product := big.NewInt(1)
		for _, f := range factors {
			product.Mul(product, big.NewInt(f))
		}
		want, wantErr := roundedQuotient(product, big.NewInt(divisor))
		got, err := Ratio(divisor, factors...)
		assert.Equal(t, wantErr, err)
		assert.Equal(t, want, got)
	})
}
