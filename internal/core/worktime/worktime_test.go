package worktime

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
)

func TestReadsHoursAsPeopleWriteThem(t *testing.T) {
	for text, want := range map[string]string{
		"8": "8 h", "8.5": "8.5 h", "8,5": "8.5 h", ".5": "0.5 h", "8:30": "8.5 h", "8h30": "8.5 h", "8h": "8 h", "45m": "0.75 h",
		"8.33":            "8.33 h",
		"7-3:30":          "7:00 to 15:30, 8.5 h",
		"7-15:30/30":      "7:00 to 15:30, less 30 min, 8 h",
		"7-3:30/.5":       "7:00 to 15:30, less 30 min, 8 h",
		"7-3:30/0:30":     "7:00 to 15:30, less 30 min, 8 h",
		"7-12 12:30-4":    "7:00 to 16:00, less 30 min, 8.5 h",
		"7-12 1-4":        "7:00 to 16:00, less 60 min, 8 h",
		"730-1600":        "7:30 to 16:00, 8.5 h",
		"7:30a-4p":        "7:30 to 16:00, 8.5 h",
		"7:30 am - 4 pm":  "7:30 to 16:00, 8.5 h",
		"22-6":            "22:00 to 6:00, 8 h",
		"6:30-5:30/30":    "6:30 to 17:30, less 30 min, 10.5 h",
		"10p-6a":          "22:00 to 6:00, 8 h",
		"22-2 2:30-6/15m": "",
	} {
		r, err := Read(text)
		if want == "" {
			assert.Error(t, err, text)
			continue
		}
		require.NoError(t, err, text)
		assert.Equal(t, want, r.String(), text)
	}
	third, err := Read("8.33")
	require.NoError(t, err)
	assert.EqualValues(t, 500, third.Minutes, "to the nearest whole minute")
}

func TestSaysWhatItDidNotUnderstand(t *testing.T) {
	for text, sentence := range map[string]string{
		"":         "type hours such as 8, 8:30 or 7-3:30",
		"eight":    `"eight" is not hours; type 8, 8.5, 8:30 or 7-3:30`,
		"7-25":     "there is no hour 25; type a finish such as 3:30, or the hours alone",
		"7-":       `"7-" needs a start and a finish, such as 7-3:30`,
		"8:75":     "there is no minute 75; minutes go from 0 to 59",
		"0":        "that leaves no time worked; hours must be more than 0",
		"25":       "25.00 hours are more than a day of 24; split them over two days",
		"-3:30":    `"-3:30" has no start; type both, such as 7-3:30, or the hours alone`,
		"7-8/2":    "that leaves no time worked; hours must be more than 0",
		"13p-2p":   "there is no hour 13 with am or pm; type 1 to 12",
		"7-3:30/x": `"x" is not a break; type minutes such as 30, or hours such as .5`,
	} {
		_, err := Read(text)
		assert.EqualError(t, err, sentence, text)
	}
}

func FuzzReadHoldsItsBounds(f *testing.F) {
	for _, seed := range []string{"8", "7-3:30/30", "7-12 1-4", "22-6", "8h30m", "٣", "1-1/1440"} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, text string) {
		r, err := Read(text)
		if err != nil {
			return
		}
		assert.NoError(t, CheckMinutes(r.Minutes))
		if r.Clock {
			assert.Equal(t, r.Minutes, r.Finish-r.Start-r.Break)
			assert.Equal(t, r.Minutes, Clocked(r.Start%fullDay, r.Finish%fullDay, r.Break), "start, finish and break say the same as was read")
		}
	})
}

var monday = calendar.On(2025, time.March, 3)

func limit(hours money.Minutes) *money.Minutes {
	m := hours * 60
	return &m
}

func hours(day, h int, order int64) Entry {
	return Entry{Date: monday + calendar.Date(day), Order: order, Minutes: money.Minutes(h * 60), Pay: PayAuto}
}

func TestPremiumThatLockedWorkLacksGoesToTheLastUnlockedEntries(t *testing.T) {
	rules := Rules{WeekStart: time.Monday, Weekly: limit(40)}
	week := []Entry{hours(0, 10, 1), hours(1, 10, 2), hours(2, 10, 3), hours(3, 10, 4), hours(4, 10, 5)}
	week[4].Locked = []Segment{{Regular, 600}}
	got := Split(rules, false, week)
	assert.Equal(t, []Segment{{Regular, 600}}, got[4], "locked work does not move")
	assert.Equal(t, []Segment{{Overtime, 600}}, got[3])
	week[3].Locked = got[3]
	assert.Equal(t, got, Split(rules, false, week), "computing again moves nothing")
}

func drawWeek(t *rapid.T) (Rules, []Entry) {
	rules := Rules{WeekStart: time.Monday}
	for _, l := range []**money.Minutes{&rules.Weekly, &rules.Daily, &rules.DoubleDaily} {
		if rapid.Bool().Draw(t, "limited") {
			m := money.Minutes(rapid.IntRange(0, 3000).Draw(t, "limit"))
			*l = &m
		}
	}
	if rapid.Bool().Draw(t, "saturday") {
		rules.OvertimeDays = []time.Weekday{time.Saturday}
	}
	var week []Entry
	for i := range rapid.IntRange(1, 12).Draw(t, "entries") {
		e := hours(rapid.IntRange(0, 6).Draw(t, "day"), 0, int64(i))
		e.Minutes = money.Minutes(rapid.IntRange(1, 1440).Draw(t, "minutes"))
		e.Pay = rapid.SampledFrom([]PayClass{PayAuto, PayAuto, PayRegular, PayOvertime, PayDouble}).Draw(t, "pay")
		week = append(week, e)
	}
	Sort(week, func(e Entry) Entry { return e })
	return rules, week
}

func TestSegmentsKeepEveryMinute(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		rules, week := drawWeek(t)
		for i, segments := range Split(rules, rapid.Bool().Draw(t, "exempt"), week) {
			var total money.Minutes
			for n, s := range segments {
				assert.Positive(t, s.Minutes)
				assert.True(t, n == 0 || segments[n-1].Class < s.Class)
				total += s.Minutes
			}
			assert.Equal(t, week[i].Minutes, total)
		}
	})
}

func TestLockingAnyOfAWeekMovesNothing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		rules, week := drawWeek(t)
		before := Split(rules, false, week)
		for i := range week {
			if rapid.Bool().Draw(t, "locked") {
				week[i].Locked = before[i]
			}
		}
		assert.Equal(t, before, Split(rules, false, week))
	})
}

func TestTheWeekHoldsAtMostItsRegularLimit(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		rules, week := drawWeek(t)
		if rules.Weekly == nil {
			return
		}
		var auto, own money.Minutes
		for i, segments := range Split(rules, false, week) {
			if week[i].Pay == PayRegular {
				own += week[i].Minutes
			} else {
				auto += tallyOf(segments)[Regular]
			}
		}
		assert.LessOrEqual(t, auto, *rules.Weekly)
	})
}

func TestWhatIsWrittenReadsBackTheSame(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := Reading{Minutes: money.Minutes(rapid.IntRange(1, 1440).Draw(t, "minutes"))}
		if rapid.Bool().Draw(t, "by the clock") {
			start, finish := money.Minutes(rapid.IntRange(0, 1439).Draw(t, "start")), money.Minutes(rapid.IntRange(0, 1439).Draw(t, "finish"))
			pause := money.Minutes(rapid.IntRange(0, int(Clocked(start, finish, 0))-1).Draw(t, "break"))
			r = Reading{Clock: true, Start: start, Finish: finish, Break: pause, Minutes: Clocked(start, finish, pause)}
			if finish <= start {
				r.Finish += 1440
			}
		}
		again, err := Read(r.Text())
		if err != nil || again != r {
			t.Fatalf("%s: %+v became %+v, %v", r.Text(), r, again, err)
		}
	})
}
