// Package outlier finds what stands out in a worker's week, for whoever approves it (calculation.md section 10).
package outlier

import (
	"slices"

	"jarvo/internal/core/money"
)

// Kind is what stands out.
type Kind string

// The kinds, in the order in which they are shown.
const (
	Hole       Kind = "hole"        // nothing on a day that the rest of the crew worked
	LongDay    Kind = "long day"    // more than [Long], whoever it is
	BesideCrew Kind = "beside crew" // two hours or more beyond the least or the most of the rest of the crew
	Unusual    Kind = "unusual day" // three hours or more beside the worker's usual day
)

// The bounds of what is plain.
const (
	Long       money.Minutes = 12 * 60
	fromCrew   money.Minutes = 2 * 60
	fromUsual  money.Minutes = 3 * 60
	fewestDays               = 10 // that a usual day is known from
	fewest                   = 2  // others, to be a crew
)

// Days are the worked minutes of a week's seven days.
type Days [7]money.Minutes

// Week is a worker's week with what it is held against.
type Week struct {
	Days   Days
	Off    [7]bool         // the worker is known to have been off
	Hole   [7]bool         // hours are missing: what is a hole is asked where all of the crew is known
	Before []money.Minutes // the days worked in the eight weeks before
	Others []Days          // the rest of the crew, in the same week
}

// Outlier is one thing that stands out.
type Outlier struct {
	Kind    Kind
	Day     int           // of the week, from 0
	Minutes money.Minutes // what was worked
	Against money.Minutes // what the others or the worker usually work; 0 for a long day
	Days    int           // how many days of the week it is so; Day is the one furthest off
}

// UsualDay is the middle of the days worked before; 0 where there are too few to tell.
func (w Week) UsualDay() money.Minutes {
	if len(w.Before) < fewestDays {
		return 0
	}
	return middle(w.Before)
}

// CrewDay is the middle of what the others worked on a day, those left out who did not work; 0 where fewer than two
// did, or fewer than half of them.
func (w Week) CrewDay(day int) money.Minutes {
	if worked := w.worked(day); worked != nil {
		return middle(worked)
	}
	return 0
}

// worked is what the others worked on a day, nil where too few did.
func (w Week) worked(day int) []money.Minutes {
	var worked []money.Minutes
	for _, o := range w.Others {
		if o[day] > 0 {
			worked = append(worked, o[day])
		}
	}
	if len(worked) < fewest || 2*len(worked) < len(w.Others) {
		return nil
	}
	return worked
}

// middle is the median; of an even number the lower of the two.
func middle(all []money.Minutes) money.Minutes {
	sorted := slices.Sorted(slices.Values(all))
	return sorted[(len(sorted)-1)/2]
}

// Find lists what stands out in the week, each kind once.
func (w Week) Find() []Outlier {
	usual := w.UsualDay()
	furthest := map[Kind]*Outlier{}
	add := func(kind Kind, day int, against money.Minutes) {
		o := Outlier{kind, day, w.Days[day], against, 1}
		had := furthest[kind]
		if had == nil {
			furthest[kind] = &o
			return
		}
		o.Days += had.Days
		if off(o) < off(*had) {
			o.Day, o.Minutes, o.Against = had.Day, had.Minutes, had.Against
		}
		*had = o
	}
	for day, m := range w.Days {
		crew := w.worked(day)
		switch {
		case m == 0 && w.Hole[day]:
			add(Hole, day, w.CrewDay(day))
		case m == 0:
		case m > Long:
			add(LongDay, day, 0)
		default:
			if crew != nil {
				if least, most := slices.Min(crew), slices.Max(crew); m >= most+fromCrew {
					add(BesideCrew, day, most)
				} else if m <= least-fromCrew {
					add(BesideCrew, day, least)
				}
			}
			if usual > 0 && apart(m, usual) >= fromUsual {
				add(Unusual, day, usual)
			}
		}
	}
	var found []Outlier
	for _, kind := range []Kind{Hole, LongDay, BesideCrew, Unusual} {
		if o := furthest[kind]; o != nil {
			found = append(found, *o)
		}
	}
	return found
}

func off(o Outlier) money.Minutes { return apart(o.Minutes, o.Against) }

func apart(a, b money.Minutes) money.Minutes { return max(a-b, b-a) }
