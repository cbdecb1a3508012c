package form

import (
	"strings"

	"jarvo/internal/app/refuse"
	"jarvo/internal/core/money"
)

var Weekdays = []string{"monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"}

// LimitHours reads an overtime limit: hours of a week or a day, 0 for all of it.
func LimitHours(s string) (money.Minutes, error) {
	if strings.Contains(s, ":") { // 7:30; a week's limit has more hours than a day, so it is not read as worked time is
		hours, minutes, _ := strings.Cut(s, ":")
		h, errH := WholeNumber(hours)
		m, errM := WholeNumber(minutes)
		if errH != nil || errM != nil || h > 167 || m > 59 {
			return 0, &refuse.Error{Message: "type hours between 0 and 168, such as 40 or 7:30"}
		}
		return money.Minutes(h*60 + m), nil
	}
	q, err := ParseQuantity(strings.ReplaceAll(s, ",", "."))
	if err != nil || q < 0 || q > 168_000 {
		return 0, &refuse.Error{Message: "type hours between 0 and 168, such as 40"}
	}
	minutes, err := money.Ratio(1000, int64(q), 60)
	return money.Minutes(minutes), err
}

func PayFactor(c *Checks, path, s string) money.Factor {
	f := Parsed(c, path, s, ParseFactor)
	if f != 0 && f < money.One {
		c.Add(path, "overtime can't pay less than the hour itself: type 1 or more, such as 1.5")
	}
	return f
}

func SequenceNumber(s string) (int64, error) {
	q, err := ParseQuantity(s)
	if err != nil || q <= 0 || q%1000 != 0 {
		return 0, &refuse.Error{Message: "type a whole number above 0"}
	}
	return int64(q) / 1000, nil
}
