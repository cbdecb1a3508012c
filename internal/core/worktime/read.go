package worktime

import (
	"fmt"
	"strconv"
	"strings"
	"unicode"

	"jarvo/internal/core/money"
)

// Reading is what the text of an hours cell was understood as.
type Reading struct {
	Minutes money.Minutes
	// Clock says that Start, Finish and Break were given; otherwise it was a duration.
	Clock bool
	// Start and Finish are minutes after midnight of the entry's date; Finish may be past 1 440.
	Start, Finish, Break money.Minutes
}

const (
	halfDay    = money.Minutes(12 * 60)
	fullDay    = money.Minutes(24 * 60)
	shortBreak = 5 // after a slash, a number below this is hours, from it on minutes
)

// Read understands the text of an hours cell: a duration, or spans of clock times with a
// break after a slash (calculation.md section 2). Its errors are sentences for the person
// who typed.
func Read(text string) (Reading, error) {
	s := strings.ToLower(strings.TrimSpace(text))
	if s == "" {
		return Reading{}, fmt.Errorf("type hours such as 8, 8:30 or 7-3:30")
	}
	var r Reading
	var err error
	if strings.HasPrefix(s, "-") {
		return Reading{}, fmt.Errorf("%q has no start; type both, such as 7-3:30, or the hours alone", s)
	}
	if strings.Contains(s, "-") {
		r, err = readSpans(s)
	} else {
		r.Minutes, err = readDuration(s)
	}
	if err != nil {
		return Reading{}, err
	}
	return r, CheckMinutes(r.Minutes)
}

// CheckMinutes refuses worked time that is not more than 0 and at most 24 hours.
func CheckMinutes(m money.Minutes) error {
	if m <= 0 {
		return fmt.Errorf("that leaves no time worked; hours must be more than 0")
	}
	if m > fullDay {
		return fmt.Errorf("%s hours are more than a day of 24; split them over two days", m.Hours())
	}
	return nil
}

// Clocked is the worked time from start to finish less the break; a finish at or before
// the start is on the next day.
func Clocked(start, finish, pause money.Minutes) money.Minutes {
	if finish <= start {
		finish += fullDay
	}
	return finish - start - pause
}

func (r Reading) String() string {
	hours := strings.TrimSuffix(strings.TrimRight(r.Minutes.Hours(), "0"), ".") + " h"
	if !r.Clock {
		return hours
	}
	said := fmt.Sprintf("%s to %s, ", Clock(r.Start), Clock(r.Finish))
	if r.Break > 0 {
		said += fmt.Sprintf("less %d min, ", r.Break)
	}
	return said + hours
}

// Text writes a reading as it may be typed: [Read] of it is the same reading. A finish on the next day that the 24-hour
// clock alone would leave in doubt is marked with a or p.
func (r Reading) Text() string {
	if !r.Clock {
		return strings.TrimSuffix(strings.TrimRight(r.Minutes.Hours(), "0"), ".")
	}
	start, finish := r.Start%fullDay, r.Finish%fullDay
	text := Clock(start) + "-" + Clock(finish)
	if hour := finish / 60; finish <= start && hour <= 12 {
		half := "a"
		if hour == 12 {
			half = "p"
		}
		text = Clock(start) + "-" + Clock((hour+11)%12*60+60+finish%60) + half
	}
	if r.Break > 0 {
		text += "/" + Clock(r.Break)
	}
	return text
}

// Clock writes minutes after midnight as a time of day: 450 is "7:30".
func Clock(m money.Minutes) string {
	m %= fullDay
	minutes := strconv.FormatInt(int64(m%60), 10)
	if m%60 < 10 {
		minutes = "0" + minutes
	}
	return strconv.FormatInt(int64(m/60), 10) + ":" + minutes
}

// readDuration reads 8, 8.5, 8,5, .5, 8:30, 8h30, 8h and 45m.
func readDuration(s string) (money.Minutes, error) {
	notHours := fmt.Errorf("%q is not hours; type 8, 8.5, 8:30 or 7-3:30", s)
	if m, ok := strings.CutSuffix(s, "m"); ok && !strings.Contains(m, "h") {
		n, err := wholeNumber(m)
		if err != nil {
			return 0, notHours
		}
		return n, nil
	}
	s = strings.TrimSuffix(s, "m")
	for _, sign := range []string{":", "h"} {
		hours, minutes, found := strings.Cut(s, sign)
		if !found {
			continue
		}
		if minutes == "" && sign == "h" {
			return decimalHours(hours, notHours)
		}
		h, errH := wholeNumber(hours)
		m, errM := wholeNumber(minutes)
		if errH != nil || errM != nil || len(strings.TrimSpace(minutes)) > 2 {
			return 0, notHours
		}
		if m > 59 {
			return 0, fmt.Errorf("there is no minute %d; minutes go from 0 to 59", m)
		}
		return h*60 + m, nil
	}
	return decimalHours(s, notHours)
}

func decimalHours(s string, otherwise error) (money.Minutes, error) {
	whole, fraction, _ := strings.Cut(strings.Replace(strings.TrimSpace(s), ",", ".", 1), ".")
	if whole+fraction == "" || strings.Trim(whole+fraction, "0123456789") != "" || len(whole) > 6 || len(fraction) > 6 {
		return 0, otherwise
	}
	n, err := strconv.ParseInt(whole+fraction, 10, 64)
	if err != nil {
		return 0, otherwise
	}
	scale := int64(1)
	for range fraction {
		scale *= 10
	}
	minutes, err := money.Ratio(scale, n, 60)
	return money.Minutes(minutes), err
}

func wholeNumber(s string) (money.Minutes, error) {
	s = strings.TrimSpace(s)
	if s == "" || len(s) > 4 || strings.Trim(s, "0123456789") != "" {
		return 0, strconv.ErrSyntax
	}
	n, err := strconv.Atoi(s)
	return money.Minutes(n), err
}

func readSpans(s string) (Reading, error) {
	spans, pause, hasBreak := strings.Cut(s, "/")
	var r Reading
	var worked money.Minutes
	for i, span := range splitSpans(spans) {
		start, finish, err := readSpan(span)
		if err != nil {
			return Reading{}, err
		}
		if i == 0 {
			r.Start = start
		}
		for i > 0 && start < r.Finish {
			start, finish = start+halfDay, finish+halfDay
		}
		worked += finish - start
		r.Finish = finish
	}
	r.Clock = true
	r.Break = r.Finish - r.Start - worked
	if hasBreak {
		b, err := readBreak(strings.TrimSpace(pause))
		if err != nil {
			return Reading{}, err
		}
		worked -= b
		r.Break += b
	}
	if r.Finish-r.Start > fullDay {
		return Reading{}, fmt.Errorf("%q runs over more than a day; split it over two days", s)
	}
	r.Minutes = worked
	return r, nil
}

// splitSpans parts "7-12 12:30-4" at the spaces that are not beside a dash or before am/pm.
func splitSpans(s string) []string {
	s = strings.ReplaceAll(strings.Join(strings.Fields(s), " "), " -", "-")
	s = strings.ReplaceAll(s, "- ", "-")
	for _, half := range []string{"a", "p"} {
		s = strings.ReplaceAll(s, " "+half, half)
	}
	return strings.Fields(strings.ReplaceAll(s, ",", " "))
}

func readSpan(span string) (start, finish money.Minutes, err error) {
	from, to, _ := strings.Cut(span, "-")
	if from == "" || to == "" {
		return 0, 0, fmt.Errorf("%q needs a start and a finish, such as 7-3:30", span)
	}
	start, _, _, err = readClock(from)
	if err != nil {
		return 0, 0, err
	}
	finish, hour, marked, err := readClock(to)
	if err != nil {
		return 0, 0, err
	}
	if finish <= start {
		if !marked && hour <= 12 && finish+halfDay > start {
			return start, finish + halfDay, nil
		}
		finish += fullDay
	}
	return start, finish, nil
}

// readClock reads H, H:MM, HMM or HHMM with or without a, p, am or pm; marked says that it had one.
func readClock(s string) (at money.Minutes, hour int, marked bool, err error) {
	notTime := fmt.Errorf("%q is not a time of day; type one such as 7, 7:30 or 1530", s)
	digits := strings.TrimRight(strings.TrimSuffix(s, "m"), "ap")
	half := strings.TrimSuffix(s[len(digits):], "m")
	if half != "" && half != "a" && half != "p" || half == "" && strings.HasSuffix(s, "m") {
		return 0, 0, false, notTime
	}
	hh, mm, colon := strings.Cut(digits, ":")
	if !colon && len(hh) > 2 && len(hh) <= 4 {
		hh, mm = hh[:len(hh)-2], hh[len(hh)-2:]
		colon = true
	}
	if strings.IndexFunc(hh+mm, func(r rune) bool { return !unicode.IsDigit(r) || r > '9' }) >= 0 ||
		hh == "" || len(hh) > 2 || colon && len(mm) != 2 {
		return 0, 0, false, notTime
	}
	hour, _ = strconv.Atoi(hh)
	minute, _ := strconv.Atoi("0" + mm)
	switch {
	case half != "" && (hour < 1 || hour > 12):
		return 0, 0, false, fmt.Errorf("there is no hour %d with am or pm; type 1 to 12", hour)
	case hour > 24 || hour == 24 && minute > 0:
		return 0, 0, false, fmt.Errorf("there is no hour %d; type a finish such as 3:30, or the hours alone", hour)
	case minute > 59:
		return 0, 0, false, fmt.Errorf("there is no minute %d; minutes go from 0 to 59", minute)
	}
	if half != "" {
		hour %= 12
		if half == "p" {
			hour += 12
		}
	}
	return money.Minutes(hour*60 + minute), hour, half != "", nil
}

func readBreak(s string) (money.Minutes, error) {
	notBreak := fmt.Errorf("%q is not a break; type minutes such as 30, or hours such as .5", s)
	if strings.Contains(s, ":") {
		m, err := readDuration(s)
		if err != nil {
			return 0, notBreak
		}
		return m, nil
	}
	hours, err := decimalHours(s, notBreak)
	if err != nil || hours < shortBreak*60 {
		return hours, err
	}
	return decimalMinutes(hours), nil
}

// decimalMinutes turns a number read as hours back into that number of minutes.
func decimalMinutes(asHours money.Minutes) money.Minutes {
	n, err := money.Ratio(60, int64(asHours))
	if err != nil {
		return asHours
	}
	return money.Minutes(n)
}
