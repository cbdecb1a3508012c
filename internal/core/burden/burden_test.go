package burden_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jarvo/internal/core/burden"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/worktime"
)

var (
	january = calendar.On(2026, time.January, 1)
	june    = calendar.On(2026, time.June, 1)
	pay     = burden.Pay{Currency: money.USD, Wage: 342_000, Overtime: 15_000, Double: 20_000}
)

func limit(a money.Amount) *money.Amount { return &a }

func names(components []burden.Component) []string {
	var all []string
	for _, c := range components {
		all = append(all, c.Name)
	}
	return all
}

func TestOfEachComponentTheLatestRowHolds(t *testing.T) {
	rows := []burden.Component{
		{ID: 1, Name: "Pension", From: january, Basis: burden.OnGross, Percent: 35_000},
		{ID: 2, Name: "Pension", From: june, Basis: burden.OnGross, Percent: 40_000},
		{ID: 3, Name: "Accident", From: january, Basis: burden.OnStraight, Percent: 118_000},
		{ID: 4, Name: "Accident", From: june, Basis: burden.OnStraight},
		{ID: 5, Name: "Health", From: june, Basis: burden.OnHour, Rate: 52_000},
	}
	assert.Empty(t, burden.Effective(rows, 0, january-1), "nothing holds before its date")
	before, after := burden.Effective(rows, 0, june-1), burden.Effective(rows, 0, june)
	assert.Equal(t, []string{"Accident", "Pension"}, names(before), "in the order of their names")
	assert.Equal(t, []string{"Health", "Pension"}, names(after), "a component whose value is 0 is over")
	assert.EqualValues(t, 2, after[1].ID)
}

// Cover may depend on the work done: rows with the code of the work come before those without.
func TestWorkWithRowsOfItsOwnHasThose(t *testing.T) {
	const piling, diving, decking = 300, 800, 410
	rows := []burden.Component{
		{ID: 1, Name: "Cover", From: january, Percent: 60_000}, {ID: 2, Name: "Cover", CostCode: piling, From: january, Percent: 145_000},
		{ID: 3, Name: "Cover", CostCode: piling, From: june, Percent: 160_000}, {ID: 4, Name: "Cover", CostCode: diving, From: january},
		{ID: 5, Name: "Chamber", CostCode: diving, From: january, Percent: 50_000}, {ID: 6, Name: "Cover", From: june, Percent: 70_000},
	}
	of := func(code int64, on calendar.Date) (ids []int64) {
		for _, c := range burden.Effective(rows, code, on) {
			ids = append(ids, c.ID)
		}
		return ids
	}
	assert.Equal(t, []int64{2}, of(piling, june-1))
	assert.Equal(t, []int64{3}, of(piling, june), "the latest of its own rows, whatever else is later")
	assert.Equal(t, []int64{5}, of(diving, june), "its own row of 0 ends the component for it; the others do not come back")
	assert.Equal(t, []int64{6}, of(decking, june))
	assert.Equal(t, []int64{1}, of(0, january))
}

func TestOnLeaveOnlyWhatIsOnGrossIsPaid(t *testing.T) {
	components := []burden.Component{
		{Name: "Accident", Basis: burden.OnStraight, Percent: 118_000}, {Name: "Health", Basis: burden.OnHour, Rate: 52_000},
		{Name: "Social", Basis: burden.OnGross, Percent: 76_500},
	}
	cost, err := pay.Of(worktime.Segment{Class: worktime.Leave, Minutes: 480}, components, burden.Earned{})
	require.NoError(t, err)
	assert.Equal(t, money.Amount(273_60), cost.Gross, "leave has factor 1")
	assert.Equal(t, money.Amount(273_60+20_93), cost.Total())
	var earned burden.Earned
	earned.Earns(worktime.Leave, cost.Straight, cost.Gross)
	assert.Equal(t, burden.Earned{Gross: 273_60}, earned, "leave adds to the gross only")
}

func TestASegmentCostsWagePremiumAndComponents(t *testing.T) {
	components := []burden.Component{
		{Name: "Accident", Basis: burden.OnStraight, Percent: 118_000}, {Name: "Health", Basis: burden.OnHour, Rate: 52_000},
		{Name: "Social", Basis: burden.OnGross, Percent: 76_500},
	}
	cost, err := pay.Of(worktime.Segment{Class: worktime.Overtime, Minutes: 150}, components, burden.Earned{})
	require.NoError(t, err)
	assert.Equal(t, money.Amount(85_50), cost.Straight)
	assert.Equal(t, money.Amount(128_25), cost.Gross)
	assert.Equal(
		t, []money.Amount{10_09, 13_00, 9_81}, []money.Amount{cost.Parts[0].Amount, cost.Parts[1].Amount, cost.Parts[2].Amount},
		"accident cover does not pay for the premium",
	)
	assert.Equal(t, money.Amount(161_15), cost.Total())
}

func TestACapCountsWhatWasEarnedBefore(t *testing.T) {
	capped := []burden.Component{{Name: "Cover", Basis: burden.OnGross, Percent: 29_000, Cap: limit(900_000)}}
	hour := worktime.Segment{Class: worktime.Regular, Minutes: 600} // gross 342.00
	for _, c := range []struct {
		before, base money.Amount
		reached      bool
	}{{0, 342_00, false}, {900_000 - 342_00, 342_00, false}, {900_000 - 100_00, 100_00, true}, {900_000, 0, true}, {2_000_000, 0, true}} {
		cost, err := pay.Of(hour, capped, burden.Earned{Gross: c.before, Straight: 5_000_000})
		require.NoError(t, err)
		assert.Equal(t, c.base, cost.Parts[0].Base, "after %d", c.before)
		assert.Equal(t, c.reached, cost.Parts[0].Capped, "after %d", c.before)
	}
	straight := []burden.Component{{Name: "Cover", Basis: burden.OnStraight, Percent: 29_000, Cap: limit(900_000)}}
	cost, err := pay.Of(hour, straight, burden.Earned{Gross: 5_000_000})
	require.NoError(t, err)
	assert.Equal(t, money.Amount(342_00), cost.Parts[0].Base, "a cap on straight pay does not count gross")
}

func TestTheBurdenedHourReachesNoCap(t *testing.T) {
	cost, err := pay.BurdenedHour([]burden.Component{{Name: "Cover", Basis: burden.OnGross, Percent: 29_000, Cap: limit(1_000_000)}})
	require.NoError(t, err)
	assert.Equal(t, money.Amount(34_20+99), cost.Total())
}

// However a year's pay is cut into segments, a capped component is reckoned on no more than its cap, and on all of it once
// that much is earned.
func TestACapIsUsedUpExactly(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		most := money.Amount(rapid.Int64Range(0, 400_000).Draw(t, "cap"))
		components := []burden.Component{{Name: "Cover", Basis: burden.OnGross, Percent: 29_000, Cap: &most}}
		var earned burden.Earned
		var base money.Amount
		for range rapid.IntRange(1, 40).Draw(t, "segments") {
			s := worktime.Segment{
				Class: worktime.Class(rapid.IntRange(0, 2).Draw(t, "class")), Minutes: money.Minutes(rapid.IntRange(1, 900).Draw(t, "minutes")),
			}
			cost, err := pay.Of(s, components, earned)
			require.NoError(t, err)
			base += cost.Parts[0].Base
			earned.Gross += cost.Gross
			earned.Straight += cost.Straight
		}
		assert.Equal(t, min(most, earned.Gross), base)
	})
}
