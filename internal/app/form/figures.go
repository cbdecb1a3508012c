package form

import (
	"encoding/hex"
	"fmt"
	"strconv"
	"strings"

	"jarvo/internal/app/refuse"
	"jarvo/internal/core/money"
	"jarvo/internal/core/words"
)

// The bounds of figures: what no contractor reaches, and far enough from what the book can add up that no sum of them is too large.
const (
	largestRate     money.Rate     = 10_000_000 * 10_000 // a unit or an hour
	largestQuantity money.Quantity = 10_000_000 * 1000
	largestPercent  money.Percent  = 10_000 * 10_000
	largestFactor   money.Factor   = 100 * 10_000
	LargestAmount   money.Amount   = 1_000_000_000_000 // in minor units; also what an entry or a line can come to
)

// Bounded is parse with a bound on both sides; shown is the bound in a sentence.
func Bounded[T ~int64](parse func(string) (T, error), most T, shown string) func(string) (T, error) {
	return func(s string) (T, error) {
		v, err := parse(s)
		if err == nil && (v > most || v < -most) {
			return 0, fmt.Errorf("%s is more than %s, the most that can be typed here", words.Shortened(s), shown)
		}
		return v, err
	}
}

// How figures are read, within their bounds.
var (
	ParseRate     = Bounded(money.ParseRate, largestRate, "10,000,000")
	ParseQuantity = Bounded(money.ParseQuantity, largestQuantity, "10,000,000")
	ParsePercent  = Bounded(money.ParsePercent, largestPercent, "10,000 %")
	ParseFactor   = Bounded(money.ParseFactor, largestFactor, "100")
)

// TooLarge says that one of some amounts is more than an entry or a line can come to.
func TooLarge(amounts ...*money.Amount) error {
	for _, a := range amounts {
		if a != nil && (*a > LargestAmount || *a < -LargestAmount) {
			return fmt.Errorf("this comes to more than can be kept; look at the quantity, the price and the markup")
		}
	}
	return nil
}

// Weekdays are the days of the week, Monday first.
var Weekdays = []string{"monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"}

// LimitHours reads an overtime limit: hours of a week or a day, 0 for all of it.
func LimitHours(s string) (money.Minutes, error) { return hoursUpTo(168, s) }

// PlannedHours reads hours of a plan, such as 120 or 7:30.
func PlannedHours(s string) (money.Minutes, error) { return hoursUpTo(1_000_000, s) }

func hoursUpTo(most int64, s string) (money.Minutes, error) {
	wrong := &refuse.Error{Message: fmt.Sprintf("type hours between 0 and %d, such as 40 or 7:30", most)}
	if strings.Contains(s, ":") { // more hours than a day has, so it is not read as worked time is
		hours, minutes, _ := strings.Cut(s, ":")
		h, errH := WholeNumber(hours)
		m, errM := WholeNumber(minutes)
		if errH != nil || errM != nil || h >= most || m > 59 {
			return 0, wrong
		}
		return money.Minutes(h*60 + m), nil
	}
	q, err := ParseQuantity(strings.ReplaceAll(s, ",", "."))
	if err != nil || q < 0 || int64(q) > most*1000 {
		return 0, wrong
	}
	minutes, err := money.Ratio(1000, int64(q), 60)
	return money.Minutes(minutes), err
}

// PayFactor reads an overtime or double factor, which is at least 1.
func PayFactor(c *Checks, path, s string) money.Factor {
	f := Parsed(c, path, s, ParseFactor)
	if f != 0 && f < money.One {
		c.Add(path, "overtime can't pay less than the hour itself: type 1 or more, such as 1.5")
	}
	return f
}

// SequenceNumber reads a whole number above 0.
func SequenceNumber(s string) (int64, error) {
	q, err := ParseQuantity(s)
	if err != nil || q <= 0 || q%1000 != 0 {
		return 0, &refuse.Error{Message: "type a whole number above 0"}
	}
	return int64(q) / 1000, nil
}

// WholeNumber reads a whole number that is not below 0.
func WholeNumber(s string) (int64, error) {
	n, err := strconv.ParseInt(s, 10, 64)
	if err != nil || n < 0 || n > money.Largest {
		return 0, fmt.Errorf("%q is not a whole number", s)
	}
	return n, nil
}

// WholeDays reads a number of days.
func WholeDays(s string) (int64, error) {
	q, err := ParseQuantity(s)
	if err != nil || q < 0 || q%1000 != 0 {
		return 0, &refuse.Error{Message: "type a whole number of days"}
	}
	return int64(q) / 1000, nil
}

// DaysUpTo reads a number of days within bounds.
func DaysUpTo(least, most int64) func(string) (int64, error) {
	return func(s string) (int64, error) {
		n, err := WholeDays(s)
		if err == nil && (n < least || n > most) {
			err = &refuse.Error{Message: fmt.Sprintf("type %d to %d days", least, most)}
		}
		return n, err
	}
}

// Days writes a number of days as [WholeDays] reads it; blank for none.
func Days(n *int64) string {
	if n == nil {
		return ""
	}
	return strconv.FormatInt(*n, 10)
}

// Colour reads a colour such as #2f4575; blank is none.
func Colour(s string) (string, error) {
	colour := strings.ToLower(strings.TrimSpace(s))
	if colour == "" {
		return "", nil
	}
	if _, err := hex.DecodeString(strings.TrimPrefix(colour, "#")); err != nil || len(colour) != 7 || colour[0] != '#' {
		return "", &refuse.Error{Message: "a colour is written as #2f4575"}
	}
	return colour, nil
}
