package outlier_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"jarvo/internal/core/money"
	"jarvo/internal/core/outlier"
)

func hours(h ...float64) outlier.Days {
	var days outlier.Days
	for i, n := range h {
		days[i] = money.Minutes(n * 60)
	}
	return days
}

func before(h float64, days int) []money.Minutes {
	var all []money.Minutes
	for range days {
		all = append(all, money.Minutes(h*60))
	}
	return all
}

func TestWhatStandsOutInAWeek(t *testing.T) {
	crew := []outlier.Days{hours(9, 9, 8, 9, 8), hours(9, 9, 8, 9, 8), hours(9, 9, 8.5, 9)}
	for name, c := range map[string]struct {
		week outlier.Week
		want []outlier.Outlier
	}{
		"a plain week": {outlier.Week{Days: hours(9, 9, 8, 9, 8), Before: before(8.5, 40), Others: crew}, nil},
		"a day the others worked": {
			outlier.Week{Days: hours(9, 9, 0, 9, 8), Hole: [7]bool{2: true}, Others: crew}, []outlier.Outlier{{outlier.Hole, 2, 0, 480, 1}},
		},
		"a day that was off":     {outlier.Week{Days: hours(9, 9, 0, 9, 8), Off: [7]bool{2: true}, Others: crew}, nil},
		"more than twelve hours": {outlier.Week{Days: hours(12, 12.5, 13)}, []outlier.Outlier{{outlier.LongDay, 2, 780, 0, 2}}},
		"two hours beside the crew": {
			outlier.Week{Days: hours(11, 9, 5, 9, 8), Others: crew}, []outlier.Outlier{{outlier.BesideCrew, 2, 300, 480, 2}},
		},
		"beside the own usual day": {
			outlier.Week{Days: hours(8, 11), Before: before(8, 10)}, []outlier.Outlier{{outlier.Unusual, 1, 660, 480, 1}},
		},
		"too little to know it by": {outlier.Week{Days: hours(8, 11), Before: before(8, 9)}, nil},
		"one other is no crew":     {outlier.Week{Days: hours(0, 4), Others: crew[:1]}, nil},
		"a day most had off": {
			outlier.Week{Days: hours(9), Others: []outlier.Days{hours(9, 9), hours(9, 9), hours(9), hours(9), hours(9)}}, nil,
		},
		"both against crew and self": {
			outlier.Week{Days: hours(4, 9, 8, 9, 8), Before: before(9, 20), Others: crew},
			[]outlier.Outlier{{outlier.BesideCrew, 0, 240, 540, 1}, {outlier.Unusual, 0, 240, 540, 1}},
		},
	} {
		assert.Equal(t, c.want, c.week.Find(), name)
	}
}

func TestWhoWorksAsTheCrewDoesNeverStandsOutAgainstIt(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var days outlier.Days
		for i := range days {
			days[i] = money.Minutes(rapid.Int64Range(0, 720).Draw(t, "minutes"))
		}
		others := make([]outlier.Days, rapid.IntRange(0, 9).Draw(t, "others"))
		for i := range others {
			others[i] = days
		}
		assert.Empty(t, outlier.Week{Days: days, Others: others}.Find())
	})
}
