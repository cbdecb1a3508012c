package labour_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jarvo/internal/core/burden"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/labour"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
	"jarvo/internal/core/worktime"
)

var monday = calendar.On(2025, time.December, 29) // its week goes over into 2026

func terms() labour.Terms {
	daily, limit := money.Minutes(480), money.Amount(500_00)
	return labour.Terms{
		Currency: money.USD, Rules: worktime.Rules{WeekStart: time.Monday, Daily: &daily},
		Factors:    pricing.Factors{Overtime: 15_000, Double: 20_000},
		Wages:      []labour.Wage{{ID: 1, From: monday - 100, Rate: 200_000}, {ID: 2, From: monday + 3, Rate: 300_000}},
		Components: []burden.Component{{Name: "Cover", From: monday - 100, Basis: burden.OnGross, Percent: 100_000, Cap: &limit}},
	}
}

func hours(day calendar.Date, n money.Minutes, order int64) labour.Entry {
	return labour.Entry{
		Entry: worktime.Entry{Date: monday + day, Minutes: n * 60, Order: order, Pay: worktime.PayAuto}, Chargeable: true,
		Cards: []pricing.Card{{Labour: []pricing.LabourRow{{ID: 1, From: monday - 100, Method: pricing.Hourly, Rate: 800_000}}}},
	}
}

func TestAYearsCapBeginsAnewInTheMiddleOfAWeek(t *testing.T) {
	week := []labour.Entry{hours(0, 10, 1), hours(1, 10, 2), hours(2, 10, 3), hours(3, 8, 4)} // Thursday is 1 January, with a new wage
	earned := map[int]burden.Earned{2025: {Gross: 100_00}}
	costed, err := terms().Cost(week, earned)
	require.NoError(t, err)
	var burdens []money.Amount
	for _, segments := range costed {
		burdens = append(burdens, labour.Total(segments).Burden)
	}
	// Monday: 160 + 60 = 220 gross on 100 before; Tuesday's 220 meets the cap of 500 after 180; Wednesday has nothing left;
	// Thursday's 240 are of a new year.
	assert.Equal(t, []money.Amount{22_00, 18_00, 0, 24_00}, burdens)
	assert.Equal(t, money.Amount(760_00), earned[2025].Gross)
	assert.Equal(t, money.Amount(240_00), earned[2026].Gross)
	assert.Equal(t, money.Amount(880_00), *labour.Total(costed[0]).Charge, "8 x 80 and 2 x 120")
}

func TestFrozenWorkKeepsWhatItHasAndCountsTowardTheCap(t *testing.T) {
	cost, charge := money.Amount(999_00), money.Amount(1_00)
	frozen := hours(0, 10, 1)
	frozen.Frozen = []labour.Segment{{
		Segment: worktime.Segment{Class: worktime.Regular, Minutes: 600}, Gross: 450_00, Straight: 450_00, Cost: &cost, Charge: &charge,
	}}
	frozen.Locked = []worktime.Segment{{Class: worktime.Regular, Minutes: 600}}
	costed, err := terms().Cost([]labour.Entry{frozen, hours(1, 8, 2)}, map[int]burden.Earned{})
	require.NoError(t, err)
	assert.Equal(t, frozen.Frozen, costed[0])
	total := labour.Total(costed[1])
	assert.Equal(t, money.Amount(5_00), total.Burden, "only 50 of the cap are left")
	assert.Equal(t, money.Minutes(120), total.ByClass[worktime.Overtime], "the overtime that the frozen day lacks")
}

func TestHoursWithoutAWageHaveNoCostButMayHaveACharge(t *testing.T) {
	worker := terms()
	worker.Wages = nil
	costed, err := worker.Cost([]labour.Entry{hours(0, 8, 1)}, map[int]burden.Earned{})
	require.NoError(t, err)
	total := labour.Total(costed[0])
	assert.Nil(t, total.Cost)
	assert.Equal(t, money.Amount(640_00), *total.Charge)
	own := hours(1, 1, 2)
	rate := money.Rate(1_234_500)
	own.OwnRate, own.Cards = &rate, nil
	costed, err = worker.Cost([]labour.Entry{own}, map[int]burden.Earned{})
	require.NoError(t, err)
	assert.Equal(t, money.Amount(123_45), *labour.Total(costed[0]).Charge, "a rate of its own comes before all cards")
	own.Chargeable = false
	costed, err = worker.Cost([]labour.Entry{own}, map[int]burden.Earned{})
	require.NoError(t, err)
	assert.Nil(t, labour.Total(costed[0]).Charge)
}

// A worker paid by the week: what the week comes to is spread over its hours, leave too, and all of them are regular.
func salaried() labour.Terms {
	worker := terms()
	worker.Wages = []labour.Wage{{ID: 1, From: monday, Rate: 15_000_000, ByWeek: true}}
	worker.Components = []burden.Component{
		{Name: "Cover", From: monday, Basis: burden.OnStraight, Percent: 50_000},
		{Name: "Tax", From: monday, Basis: burden.OnGross, Percent: 100_000},
	}
	return worker
}

func grosses(costed [][]labour.Segment) (all []money.Amount) {
	for _, segments := range costed {
		all = append(all, labour.Total(segments).Gross)
	}
	return all
}

func TestAWeeksPayIsSpreadOverItsHours(t *testing.T) {
	leave := hours(1, 8, 2)
	leave.Pay = worktime.PayLeave
	half := hours(2, 0, 3)
	half.Minutes = 450
	costed, err := salaried().Cost([]labour.Entry{hours(0, 10, 1), leave, half}, map[int]burden.Earned{})
	require.NoError(t, err)
	assert.Equal(t, []money.Amount{588_23, 470_59, 441_18}, grosses(costed))
	assert.Equal(t, money.Minutes(600), labour.Total(costed[0]).ByClass[worktime.Regular], "ten hours a day are no overtime")
	assert.Equal(t, money.Amount(470_59+47_06), *labour.Total(costed[1]).Cost, "on leave only what is on gross is paid")
	assert.Nil(t, labour.Total(costed[1]).Charge, "nobody is charged for leave")
	hour, err := func() (burden.Cost, error) { pay, _, _ := salaried().Pay(monday); return pay.BurdenedHour(nil) }()
	require.NoError(t, err)
	assert.Equal(t, money.Amount(37_50), hour.Gross, "a 40th of the week is shown as the wage of an hour")
}

func TestWhatLockedWorkHoldsOfAWeekIsNotSpreadAgain(t *testing.T) {
	locked := func(gross money.Amount) labour.Entry {
		e := hours(0, 10, 1)
		e.Frozen = []labour.Segment{{Segment: worktime.Segment{Minutes: 600}, Gross: gross, Straight: gross, Cost: &gross}}
		e.Locked = []worktime.Segment{{Minutes: 600}}
		return e
	}
	costed, err := salaried().Cost([]labour.Entry{locked(750_00), hours(1, 10, 2), hours(2, 5, 3)}, map[int]burden.Earned{})
	require.NoError(t, err)
	assert.Equal(t, []money.Amount{750_00, 500_00, 250_00}, grosses(costed), "a late entry shares in what is left")
	costed, err = salaried().Cost([]labour.Entry{locked(500_00), hours(1, 10, 2), hours(2, 10, 3)}, map[int]burden.Earned{})
	require.NoError(t, err)
	assert.Equal(t, []money.Amount{500_00, 500_00, 500_00}, grosses(costed), "where it holds just its share the others keep theirs")
	costed, err = salaried().Cost([]labour.Entry{locked(2_000_00), hours(1, 10, 2)}, map[int]burden.Earned{})
	require.NoError(t, err)
	assert.Equal(t, []money.Amount{2_000_00, 0}, grosses(costed))
}

func TestAWagesKindBeginsWithAWeek(t *testing.T) {
	worker := salaried()
	worker.Wages = []labour.Wage{
		{ID: 1, From: monday - 50, Rate: 300_000}, {ID: 2, From: monday + 2, Rate: 15_000_000, ByWeek: true},
		{ID: 3, From: monday + 9, Rate: 400_000},
	}
	wage := func(day calendar.Date) int64 { _, w, _ := worker.Pay(monday + day); return w.ID }
	assert.Equal(t, []int64{1, 2, 2, 3}, []int64{wage(3), wage(7), wage(10), wage(14)})
	worker.Wages = []labour.Wage{{ID: 1, From: monday + 2, Rate: 15_000_000, ByWeek: true}}
	_, _, paid := worker.Pay(monday + 1)
	assert.False(t, paid, "before a first row in the week there is no wage")
	costed, err := worker.Cost([]labour.Entry{hours(0, 8, 1), hours(2, 6, 2), hours(3, 3, 3)}, map[int]burden.Earned{})
	require.NoError(t, err)
	assert.Equal(t, []money.Amount{0, 1_000_00, 500_00}, grosses(costed))
	assert.Nil(t, labour.Total(costed[0]).Cost)
}

// Whatever the hours, what they cost before burden is the week's pay, and costing again moves nothing.
func TestAWeeksPayIsNeitherMoreNorLess(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var week []labour.Entry
		for i := range rapid.Int64Range(1, 12).Draw(t, "entries") {
			e := hours(calendar.Date(i/2), 0, i)
			e.Minutes = money.Minutes(rapid.IntRange(1, 900).Draw(t, "minutes"))
			week = append(week, e)
		}
		costed, err := salaried().Cost(week, map[int]burden.Earned{})
		require.NoError(t, err)
		total := func() (sum money.Amount) {
			for _, gross := range grosses(costed) {
				sum += gross
			}
			return sum
		}
		assert.Equal(t, money.Amount(1_500_00), total())
		for i := range week {
			if rapid.Bool().Draw(t, "locked") {
				week[i].Frozen = costed[i]
			}
		}
		again, err := salaried().Cost(week, map[int]burden.Earned{})
		require.NoError(t, err)
		assert.Equal(t, grosses(costed), grosses(again))
	})
}

func TestHowFarAChangeReaches(t *testing.T) {
	capped := terms()
	assert.Equal(t, "2027-01-03", capped.LastAffected(monday).String(), "to the end of the last week of the year that its week ends in")
	plain := terms()
	plain.Components = nil
	assert.Equal(t, monday+6, plain.LastAffected(monday+2), "without caps only its week")
}

// The order in which unlocked hours were captured does not change what a week's classes come to, nor so its pay.
func TestTheOrderOfCaptureChangesNothing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		worker := terms()
		weekly := money.Minutes(rapid.IntRange(0, 3000).Draw(t, "weekly"))
		worker.Rules.Weekly = &weekly
		worker.Components = nil
		var week []labour.Entry
		for i := range rapid.IntRange(1, 10).Draw(t, "entries") {
			week = append(week, hours(
				calendar.Date(rapid.IntRange(0, 6).Draw(t, "day")), money.Minutes(rapid.IntRange(1, 14).Draw(t, "hours")), int64(i),
			))
		}
		classes := func() (sum [worktime.ClassCount]money.Minutes) {
			worktime.Sort(week, func(e labour.Entry) worktime.Entry { return e.Entry })
			costed, err := worker.Cost(week, map[int]burden.Earned{})
			require.NoError(t, err)
			for _, segments := range costed {
				for class, minutes := range labour.Total(segments).ByClass {
					sum[class] += minutes
				}
			}
			return sum
		}
		before := classes()
		for i, order := range rapid.Permutation([]int{0, 1, 2, 3, 4, 5, 6, 7, 8, 9}).Draw(t, "order") {
			if i < len(week) {
				week[i].Order = int64(order)
			}
		}
		assert.Equal(t, before, classes())
	})
}
