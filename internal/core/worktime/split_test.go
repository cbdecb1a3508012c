package worktime

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
)

// worked is an entry of a day of the week of monday with a pay class of its own, or auto.
func worked(day int, h float64, pay PayClass, order int64) Entry {
	e := hours(day, 0, order)
	e.Minutes, e.Pay = money.Minutes(h*60), pay
	return e
}

// classes are the hours of each entry by class: regular, overtime, double.
func classes(rules Rules, exempt bool, week ...Entry) [][3]float64 {
	Sort(week, func(e Entry) Entry { return e })
	var all [][3]float64
	for _, segments := range Split(rules, exempt, week) {
		var of [3]float64
		for _, s := range segments {
			of[s.Class] = float64(s.Minutes) / 60
		}
		all = append(all, of)
	}
	return all
}

func TestMinutesBeyondADaysLimitsAreOvertimeThenDouble(t *testing.T) {
	rules := Rules{WeekStart: time.Monday, Daily: limit(8), DoubleDaily: limit(12)}
	assert.Equal(t, [][3]float64{{8, 4, 1.5}}, classes(rules, false, worked(0, 13.5, PayAuto, 1)))
	assert.Equal(
		t, [][3]float64{{5, 0, 0}, {3, 3, 0}, {0, 1, 2}},
		classes(rules, false, worked(0, 5, PayAuto, 1), worked(0, 6, PayAuto, 2), worked(0, 3, PayAuto, 3)), "over all of a day's entries",
	)
	assert.Equal(
		t, [][3]float64{{8, 2, 0}, {8, 2, 0}}, classes(rules, false, worked(0, 10, PayAuto, 1), worked(1, 10, PayAuto, 2)), "each day anew",
	)
}

func TestRegularMinutesBeyondAWeeksLimitAreOvertime(t *testing.T) {
	rules := Rules{WeekStart: time.Monday, Weekly: limit(40)}
	week := []Entry{
		worked(0, 9, PayAuto, 1), worked(1, 9, PayAuto, 2), worked(2, 9, PayAuto, 3), worked(3, 9, PayAuto, 4), worked(4, 9, PayAuto, 5),
	}
	assert.Equal(t, [3]float64{4, 5, 0}, classes(rules, false, week...)[4])

	rules.Daily = limit(8)
	got := classes(rules, false, append(week, worked(5, 6, PayAuto, 6))...)
	assert.Equal(t, [3]float64{8, 1, 0}, got[4], "daily overtime does not count toward the week, so no minute earns two premiums")
	assert.Equal(t, [3]float64{0, 6, 0}, got[5])

	zero := money.Minutes(0)
	assert.Equal(
		t, [][3]float64{{0, 8, 0}}, classes(Rules{WeekStart: time.Monday, Weekly: &zero}, false, worked(0, 8, PayAuto, 1)),
		"a limit of nought is a limit",
	)
	assert.Equal(
		t, [][3]float64{{12, 0, 0}}, classes(Rules{WeekStart: time.Monday}, false, worked(0, 12, PayAuto, 1)),
		"with every limit off all is regular",
	)
}

func TestOvertimeDaysDoubleDaysAndHolidays(t *testing.T) {
	rules := Rules{
		WeekStart: time.Monday, Daily: limit(8), DoubleDaily: limit(12), OvertimeDays: []time.Weekday{time.Saturday},
		DoubleDays: []time.Weekday{time.Sunday},
		Holidays:   map[calendar.Date]bool{monday + 3: true}, HolidayClass: Double,
	}
	got := classes(rules, false, worked(3, 5, PayAuto, 1), worked(5, 13, PayAuto, 2), worked(6, 2, PayAuto, 3))
	assert.Equal(
		t, [][3]float64{{0, 0, 5}, {0, 12, 1}, {0, 0, 2}}, got,
		"a holiday is a double day; beyond the double limit an overtime day is double too",
	)
	rules.HolidayClass = Overtime
	assert.Equal(t, [][3]float64{{0, 12, 1}}, classes(rules, false, worked(3, 13, PayAuto, 1)), "or an overtime day")
	rules.HolidayClass = Regular
	assert.Equal(t, [][3]float64{{8, 1, 0}}, classes(rules, false, worked(3, 9, PayAuto, 1)), "or a day like any other")
	rules.Holidays[monday+6] = true
	assert.Equal(t, [][3]float64{{0, 0, 2}}, classes(rules, false, worked(6, 2, PayAuto, 1)), "what its weekday says stays")
}

func TestLeaveCountsTowardNoLimit(t *testing.T) {
	rules := Rules{
		WeekStart: time.Monday, Daily: limit(8), Weekly: limit(10), Holidays: map[calendar.Date]bool{monday + 1: true}, HolidayClass: Double,
	}
	week := []Entry{worked(0, 8, PayLeave, 1), worked(0, 9, PayAuto, 2), worked(1, 8, PayLeave, 3), worked(2, 3, PayAuto, 4)}
	want := [][]Segment{
		{{Leave, 480}}, {{Regular, 480}, {Overtime, 60}}, {{Leave, 480}}, {{Regular, 120}, {Overtime, 60}},
	}
	assert.Equal(t, want, Split(rules, false, week))
	assert.Equal(t, [][]Segment{{{Leave, 480}}}, Split(rules, true, week[:1]), "an exempt worker has leave too")
}

func TestAPayClassOfItsOwnHoldsForAllMinutes(t *testing.T) {
	rules := Rules{WeekStart: time.Monday, Daily: limit(8), Weekly: limit(10), DoubleDays: []time.Weekday{time.Sunday}}
	got := classes(
		rules, false, worked(0, 9, PayRegular, 1), worked(1, 4, PayAuto, 2), worked(2, 1, PayDouble, 3), worked(3, 2, PayOvertime, 4),
		worked(6, 3, PayRegular, 5),
	)
	assert.Equal(
		t, [][3]float64{{9, 0, 0}, {1, 3, 0}, {0, 0, 1}, {0, 2, 0}, {3, 0, 0}}, got,
		"what is made regular counts toward the week and never moves",
	)
}

func TestAnExemptWorkerHasRegularTimeOnly(t *testing.T) {
	rules := Rules{WeekStart: time.Monday, Daily: limit(8), Weekly: limit(10), DoubleDays: []time.Weekday{time.Sunday}}
	assert.Equal(t, [][3]float64{{14, 0, 0}, {3, 0, 0}}, classes(rules, true, worked(0, 14, PayDouble, 1), worked(6, 3, PayAuto, 2)))
}

func TestWithinADayClockedWorkComesFirstThenAsCaptured(t *testing.T) {
	rules := Rules{WeekStart: time.Monday, Daily: limit(8)}
	late, early := money.Minutes(14*60), money.Minutes(6*60)
	bare, afternoon, morning := worked(0, 3, PayAuto, 1), worked(0, 4, PayAuto, 2), worked(0, 4, PayAuto, 3)
	afternoon.Start, morning.Start = &late, &early
	assert.Equal(
		t, [][3]float64{{4, 0, 0}, {4, 0, 0}, {0, 3, 0}}, classes(rules, false, bare, afternoon, morning),
		"morning, afternoon, and then the hours without a clock",
	)
}

func TestWhereLockedWorkHoldsMoreThanItsCountNothingElseMoves(t *testing.T) {
	rules := Rules{WeekStart: time.Monday, Daily: limit(8)}
	locked := worked(0, 8, PayAuto, 1)
	locked.Locked = []Segment{{Regular, 360}, {Overtime, 120}}
	assert.Equal(t, [][3]float64{{6, 2, 0}, {8, 1, 0}}, classes(rules, false, locked, worked(1, 9, PayAuto, 2)))
	own := worked(1, 9, PayRegular, 2)
	short := worked(0, 10, PayAuto, 1)
	short.Locked = []Segment{{Regular, 600}}
	assert.Equal(
		t, [][3]float64{{10, 0, 0}, {9, 0, 0}}, classes(rules, false, short, own),
		"what is regular by its own class is never made overtime for another",
	)
}
