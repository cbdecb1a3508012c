package calendar_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jarvo/internal/core/calendar"
)

func TestAWeekBeginsOnTheCompanysDay(t *testing.T) {
	wednesday := calendar.On(2026, time.November, 18)
	for first, want := range map[time.Weekday]string{
		time.Monday: "2026-11-16", time.Sunday: "2026-11-15", time.Wednesday: "2026-11-18", time.Thursday: "2026-11-12",
	} {
		assert.Equal(t, want, wednesday.WeekStart(first).String(), first)
	}
}

func TestEveryDayIsInOneWeek(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d, first := calendar.Date(rapid.Int32Range(-25_000, 80_000).Draw(t, "date")), time.Weekday(rapid.IntRange(0, 6).Draw(t, "first"))
		start := d.WeekStart(first)
		assert.Equal(t, first, start.Weekday())
		assert.True(t, start <= d && d < start+7)
		again, err := calendar.Parse(d.String())
		require.NoError(t, err)
		assert.Equal(t, d, again)
	})
}

func TestSlipsOfTheYearAreRefused(t *testing.T) {
	for _, text := range []string{"", "2026-02-30", "18 Nov", "0206-11-18", "20266-11-18", "2026-11-18T00:00"} {
		_, err := calendar.Parse(text)
		assert.Error(t, err, text)
	}
	leap, err := calendar.Parse(" 2024-02-29 ")
	require.NoError(t, err)
	assert.Equal(t, 2024, leap.Year())
}
