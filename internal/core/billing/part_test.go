package billing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
)

// take bills a part of work and gives the work as that leaves it.
func take(t require.TestingT, w *billing.Work, way billing.Way, typed int64) billing.Part {
	p, err := w.Take(way, typed)
	require.NoError(t, err)
	w.Left = w.Rest(p)
	w.Runs = append(w.Runs, p.Runs...)
	w.Shared += w.Share(way, typed)
	w.Before = w.Shared
	return p
}

func TestHoursAreBilledFirstMinutesFirst(t *testing.T) {
	w := billing.Work{Charge: 60_348, Left: 60_348, Segments: []billing.Segment{{440, 45_005}, {100, 15_343}}}
	assert.Equal(t, money.Amount(20_457), take(t, &w, billing.ByHours, 200).Amount)
	second := take(t, &w, billing.ByHours, 280)
	assert.Equal(t, money.Amount(30_685), second.Amount, "240 minutes of regular time and 40 of overtime")
	assert.Equal(t, []billing.Run{{200, 480}}, second.Runs)
	_, err := w.Take(billing.ByHours, 61)
	var beyond *billing.BeyondError
	require.ErrorAs(t, err, &beyond)
	assert.Equal(t, "only 1 h of it are left", err.Error())
	assert.Equal(t, money.Amount(9_206), take(t, &w, billing.ByHours, 60).Amount)
	assert.Zero(t, w.Left)

	w = billing.Work{Charge: 60_348, Left: 60_348 - 30_685, Segments: w.Segments, Runs: []billing.Run{{200, 480}}}
	again, err := w.Take(billing.ByHours, 230) // the first part was taken back: its minutes are the first that are free
	require.NoError(t, err)
	assert.Equal(t, []billing.Run{{0, 200}, {480, 510}}, again.Runs)
	assert.Equal(t, money.Amount(20_457+4_603), again.Amount, "450.05 + 153.43 x 70 / 100 up to 510 minutes, less 511.42 up to 480")
}

func TestAQuantityIsBilledInParts(t *testing.T) {
	w := billing.Work{Charge: 123_457, Left: 123_457, Quantity: 37_000}
	assert.Equal(t, money.Amount(40_040), take(t, &w, billing.ByQuantity, 12_000).Amount)
	assert.Equal(t, money.Amount(40_040), take(t, &w, billing.ByQuantity, 12_000).Amount)
	_, err := w.Take(billing.ByQuantity, 13_001)
	assert.EqualError(t, err, "only 13 of it are left")
	assert.Equal(t, money.Amount(43_377), take(t, &w, billing.ByQuantity, 13_000).Amount)
	assert.Zero(t, w.Left)

	w = billing.Work{Charge: 1_000, Left: 1_000, Quantity: 8_000}
	assert.Equal(t, money.Amount(250), take(t, &w, billing.ByQuantity, 2_000).Amount)
	assert.Equal(t, money.Amount(333), take(t, &w, billing.ByPercent, 333_333).Amount)
	_, err = w.Take(billing.ByPercent, 416_668)
	assert.EqualError(t, err, "only 41.6667 % of it are left")
}

func TestAnAmountIsBilledAsTyped(t *testing.T) {
	w := billing.Work{Charge: 52_000, Left: 4_500, Segments: []billing.Segment{{480, 52_000}}}
	p, err := w.Take(billing.ByAmount, 5_000)
	require.NoError(t, err)
	assert.Equal(t, billing.Part{Amount: 5_000, Up: 500}, p)
	_, err = w.Take(billing.ByAmount, -1)
	require.ErrorIs(t, err, billing.ErrOtherSign)
	p, err = w.Take(billing.ByAmount, 4_500)
	require.NoError(t, err)
	assert.Equal(t, money.Minutes(480), p.Minutes(), "all that is left holds the minutes that are free")

	nothing := billing.Work{}
	p, err = nothing.Take(billing.ByAmount, 700)
	require.NoError(t, err)
	assert.Equal(t, money.Amount(700), p.Up, "of a charge of 0 all is written up")

	back := billing.Work{Charge: -1_000, Left: -1_000}
	p, err = back.Take(billing.ByAmount, -1_200)
	require.NoError(t, err)
	assert.Equal(t, billing.Part{Amount: -1_200, Up: -200}, p, "a return that gives back more")

	held := billing.Work{Charge: 100, Left: 100, Held: 60}
	_, err = held.Take(billing.ByAmount, 10)
	require.ErrorIs(t, err, billing.ErrHeld)
	p, err = held.Take(billing.TheRest, 0)
	require.NoError(t, err)
	assert.Equal(t, money.Amount(40), p.Amount)
}

// Whatever parts work is billed in, they sum to its charge and what was written up, hold no minute twice, and the rest takes what is left.
func TestPartsSumToTheCharge(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		w := billing.Work{Quantity: money.Quantity(rapid.Int64Range(0, 90_000).Draw(t, "quantity"))}
		sign := money.Amount(rapid.SampledFrom([]int64{1, 1, 1, -1}).Draw(t, "sign"))
		if rapid.Bool().Draw(t, "hours") {
			w.Quantity = 0
			for range rapid.IntRange(1, 3).Draw(t, "classes") {
				g := billing.Segment{
					Minutes: money.Minutes(rapid.Int64Range(1, 700).Draw(t, "minutes")),
					Charge:  sign * money.Amount(rapid.Int64Range(0, 99_999).Draw(t, "charge")),
				}
				w.Segments = append(w.Segments, g)
				w.Charge += g.Charge
			}
		} else {
			w.Charge = sign * money.Amount(rapid.Int64Range(0, 999_999).Draw(t, "charge"))
		}
		w.Left = w.Charge
		var billed, up money.Amount
		for range rapid.IntRange(0, 6).Draw(t, "parts") {
			way := rapid.SampledFrom([]billing.Way{billing.ByHours, billing.ByQuantity, billing.ByPercent, billing.ByAmount}).Draw(t, "way")
			typed := rapid.Int64Range(1, 60_000).Draw(t, "typed")
			if way == billing.ByAmount {
				typed *= int64(sign)
			}
			if _, err := w.Take(way, typed); err != nil {
				continue
			}
			p := take(t, &w, way, typed)
			billed, up = billed+p.Amount, up+p.Up
			assert.GreaterOrEqual(t, w.Left*sign, money.Amount(0), "no part is beyond what is left")
		}
		last := take(t, &w, billing.TheRest, 0)
		assert.Equal(t, w.Charge+up, billed+last.Amount)
		assert.Zero(t, w.Left)
		held := map[money.Minutes]bool{}
		for _, r := range w.Runs {
			for m := r.From; m < r.To; m++ {
				require.False(t, held[m], "minute %d is held twice", m)
				held[m] = true
			}
		}
		assert.Len(t, held, int(w.Minutes()), "with the rest all minutes are held")
	})
}
