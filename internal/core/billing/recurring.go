package billing

import "jarvo/internal/core/calendar"

// Steps are what lies between the occurrences of an invoice that comes again.
var Steps = []string{"days", "weeks", "months", "quarters", "years"}

// months are how many months a step has.
var months = map[string]int{"months": 1, "quarters": 3, "years": 12}

// Recurrence is when an invoice comes again: every so many steps from its first date on (calculation.md section 13).
type Recurrence struct {
	First calendar.Date
	Every int // more than 0
	Step  string
	Until *calendar.Date // the last date that it can have; nil: it does not end
}

// Occurrence is the date of occurrence k, from 0: always so many steps from the first date, a day that a month lacks becoming its last.
func (r Recurrence) Occurrence(k int) calendar.Date {
	n := r.Every * k
	switch r.Step {
	case "days":
		return r.First + calendar.Date(n)
	case "weeks":
		return r.First + calendar.Date(7*n)
	default:
		return r.First.AddMonths(n * months[r.Step])
	}
}

// Due are the dates of occurrence k and those after it that have come by a day.
func (r Recurrence) Due(k int, day calendar.Date) []calendar.Date {
	var dates []calendar.Date
	for {
		date := r.Occurrence(k + len(dates))
		if date > day || r.Until != nil && date > *r.Until {
			return dates
		}
		dates = append(dates, date)
	}
}
