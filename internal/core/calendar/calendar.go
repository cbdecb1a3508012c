// Package calendar holds civil dates, which have no time zone, and the work week.
package calendar

import (
	"fmt"
	"strings"
	"time"
)

// Date is a civil date counted in days, so that dates compare and subtract as numbers.
type Date int32

const day = 24 * time.Hour

// Of returns the civil date of a moment in that moment's own zone.
func Of(t time.Time) Date {
	return On(t.Year(), t.Month(), t.Day())
}

// On returns the date of a year, month and day.
func On(year int, month time.Month, dayOfMonth int) Date {
	return Date(time.Date(year, month, dayOfMonth, 0, 0, 0, 0, time.UTC).Unix() / int64(day/time.Second))
}

// Parse reads YYYY-MM-DD. Years before 1900 and after 2199 are refused: they are slips.
func Parse(s string) (Date, error) {
	t, err := time.Parse(time.DateOnly, strings.TrimSpace(s))
	if err != nil {
		return 0, fmt.Errorf("%q is not a date such as 2026-11-18", s)
	}
	if t.Year() < 1900 || t.Year() > 2199 {
		return 0, fmt.Errorf("the year of %s is not between 1900 and 2199", s)
	}
	return Of(t), nil
}

// Time is midnight UTC of the date.
func (d Date) Time() time.Time { return time.Unix(int64(d)*int64(day/time.Second), 0).UTC() }

func (d Date) String() string { return d.Time().Format(time.DateOnly) }

// Year is the calendar year of the date.
func (d Date) Year() int { return d.Time().Year() }

// Weekday is the day of the week of the date.
func (d Date) Weekday() time.Weekday { return d.Time().Weekday() }

// AddMonths is the same day so many months on; a day that the month lacks is its last.
func (d Date) AddMonths(n int) Date {
	t := d.Time()
	first := On(t.Year(), t.Month()+time.Month(n), 1)
	last := On(t.Year(), t.Month()+time.Month(n)+1, 1) - 1
	return min(first+Date(t.Day()-1), last)
}

// WeekStart is the first day of the work week that holds d, for weeks that begin on first.
func (d Date) WeekStart(first time.Weekday) Date {
	return d - Date((int(d.Weekday())-int(first)+7)%7)
}

// ParseWeekday reads an English weekday name in lower case.
func ParseWeekday(s string) (time.Weekday, error) {
	for w := time.Sunday; w <= time.Saturday; w++ {
		if strings.ToLower(w.String()) == s {
			return w, nil
		}
	}
	return 0, fmt.Errorf("%q is not a weekday such as monday", s)
}

// Dated is a value that holds from a date on.
type Dated interface{ Since() Date }

// Latest returns the last of rows on or before on; rows need no order.
func Latest[R Dated](rows []R, on Date) (R, bool) {
	var best R
	found := false
	for _, r := range rows {
		if r.Since() <= on && (!found || r.Since() > best.Since()) {
			best, found = r, true
		}
	}
	return best, found
}

// Span is the dates from one to another, both of them in it.
type Span struct{ From, To Date }

// Always is every date that work can be booked on.
var Always = Span{On(1900, 1, 1), On(2199, 12, 31)}
