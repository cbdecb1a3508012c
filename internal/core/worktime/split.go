// Package worktime reads hours as people write them and splits a week's work into regular,
// overtime and double time, beside leave (calculation.md sections 2 and 3).
package worktime

import (
	"cmp"
	"slices"
	"time"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
)

// Class is what kind of pay a minute earns.
type Class int

// The classes, in the order in which segments are listed.
const (
	Regular Class = iota
	Overtime
	Double
	Leave // paid and not worked
	ClassCount
)

// Classes lists the classes in that order.
var Classes = []Class{Regular, Overtime, Double, Leave}

func (c Class) String() string { return [...]string{"regular", "overtime", "double", "leave"}[c] }

// PayClass is what an entry asks for: a class of its own, or auto.
type PayClass string

// The pay classes of an entry.
const (
	PayAuto     PayClass = "auto"
	PayRegular  PayClass = "regular"
	PayOvertime PayClass = "overtime"
	PayDouble   PayClass = "double"
	PayLeave    PayClass = "leave"
)

// PayClasses are the pay classes as they are written.
var PayClasses = []PayClass{PayAuto, PayRegular, PayOvertime, PayDouble, PayLeave}

var classOf = map[PayClass]Class{PayRegular: Regular, PayOvertime: Overtime, PayDouble: Double, PayLeave: Leave}

// Rules are a company's overtime settings. A nil limit is off; a limit of 0 is a limit.
type Rules struct {
	WeekStart    time.Weekday
	Weekly       *money.Minutes
	Daily        *money.Minutes
	DoubleDaily  *money.Minutes
	OvertimeDays []time.Weekday
	DoubleDays   []time.Weekday
	Holidays     map[calendar.Date]bool
	HolidayClass Class // of work on a holiday: Double, Overtime, or Regular where it is a day like any other
}

// premiumDay says whether a day is a double day, else whether it is an overtime day. What its weekday says stays beside the holiday.
func (r Rules) premiumDay(on calendar.Date) (double, overtime bool) {
	holiday, weekday := r.Holidays[on], on.Weekday()
	double = holiday && r.HolidayClass == Double || slices.Contains(r.DoubleDays, weekday)
	return double, !double && (holiday && r.HolidayClass == Overtime || slices.Contains(r.OvertimeDays, weekday))
}

// Segment is a part of an entry in one class. It has at least one minute.
type Segment struct {
	Class   Class
	Minutes money.Minutes
}

// Entry is one stretch of work by one worker.
type Entry struct {
	Date    calendar.Date
	Start   *money.Minutes // minutes after midnight, nil for a bare duration
	Order   int64          // the order in which entries were captured
	Minutes money.Minutes
	Pay     PayClass
	// Locked holds the frozen segments of billed work; nil for work that may still move.
	Locked []Segment
}

// Sort puts entries in the order of calculation.md section 3: by date; those with a start
// first, by start; then as captured.
func Sort[E any](entries []E, of func(E) Entry) {
	slices.SortStableFunc(entries, func(x, y E) int {
		a, b := of(x), of(y)
		if c := cmp.Compare(a.Date, b.Date); c != 0 {
			return c
		}
		switch {
		case a.Start != nil && b.Start != nil:
			if c := cmp.Compare(*a.Start, *b.Start); c != 0 {
				return c
			}
		case a.Start != nil:
			return -1
		case b.Start != nil:
			return 1
		}
		return cmp.Compare(a.Order, b.Order)
	})
}

// tally counts minutes by class.
type tally [ClassCount]money.Minutes

func (t tally) segments() []Segment {
	var s []Segment
	for class, minutes := range t {
		if minutes > 0 {
			s = append(s, Segment{Class(class), minutes})
		}
	}
	return s
}

func tallyOf(segments []Segment) (t tally) {
	for _, s := range segments {
		t[s.Class] += s.Minutes
	}
	return t
}

// Split gives each entry of one worker's week its segments. The entries must be of one work
// week and in the order of [Sort]. An exempt worker has regular time only. Leave is no work: it counts toward no limit.
func Split(rules Rules, exempt bool, week []Entry) [][]Segment {
	counts := make([]tally, len(week))
	var regular, today money.Minutes
	for i, e := range week {
		if i == 0 || e.Date != week[i-1].Date {
			today = 0
		}
		counts[i] = rules.count(e, exempt, today, regular)
		if e.Pay != PayLeave {
			today += e.Minutes
		}
		regular += counts[i][Regular]
	}
	keepLocked(week, counts)
	segments := make([][]Segment, len(week))
	for i := range week {
		segments[i] = counts[i].segments()
	}
	return segments
}

// count classes the minutes of one entry, given the minutes worked before it that day (all
// classes) and the week's regular minutes so far.
func (r Rules) count(e Entry, exempt bool, today, regular money.Minutes) (t tally) {
	if exempt && e.Pay != PayLeave {
		t[Regular] = e.Minutes
		return t
	}
	if own, ok := classOf[e.Pay]; ok {
		t[own] = e.Minutes
		return t
	}
	double, overtime := r.premiumDay(e.Date)
	if double {
		t[Double] = e.Minutes
		return t
	}
	rest := e.Minutes
	beyond := func(limit *money.Minutes) money.Minutes {
		if limit == nil {
			return 0
		}
		return min(rest, max(0, today+rest-*limit))
	}
	t[Double] = beyond(r.DoubleDaily)
	rest -= t[Double]
	if overtime {
		t[Overtime] = rest
		return t
	}
	t[Overtime] = beyond(r.Daily)
	rest -= t[Overtime]
	if r.Weekly != nil {
		over := min(rest, max(0, regular+rest-*r.Weekly))
		t[Overtime] += over
		rest -= over
	}
	t[Regular] = rest
	return t
}

// keepLocked restores the segments of locked entries and gives the premium minutes they
// thereby lack to the unlocked auto entries, the last first, out of their regular minutes.
func keepLocked(week []Entry, counts []tally) {
	var lacking tally
	for i, e := range week {
		if e.Locked == nil {
			continue
		}
		kept := tallyOf(e.Locked)
		for _, class := range []Class{Overtime, Double} {
			lacking[class] += counts[i][class] - kept[class]
		}
		counts[i] = kept
	}
	for _, class := range []Class{Double, Overtime} {
		for i := len(week) - 1; i >= 0 && lacking[class] > 0; i-- {
			if week[i].Locked != nil || week[i].Pay != PayAuto {
				continue
			}
			moved := min(lacking[class], counts[i][Regular])
			counts[i][Regular] -= moved
			counts[i][class] += moved
			lacking[class] -= moved
		}
	}
}
