// Package form reads what people typed, field by field, within the bounds of what the trade would reach.
package form

import (
	"fmt"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"jarvo/internal/app/refuse"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/words"
)

// Checks reads what people typed and collects what is wrong with it, field by field.
type Checks struct {
	Currency money.Currency
	Fields   []refuse.FieldError
}

// Add notes what is wrong with a field.
func (c *Checks) Add(path, format string, args ...any) {
	c.Fields = append(c.Fields, refuse.FieldError{Path: path, Message: fmt.Sprintf(format, args...)})
}

// Err is a refusal with all that is wrong; nil where nothing is.
func (c *Checks) Err() error {
	if len(c.Fields) == 0 {
		return nil
	}
	return refuse.Refused(c.Fields...)
}

const longest = 500

// Text trims a text that may be blank.
func (c *Checks) Text(path, s string) string { return c.Within(path, s, longest) }

// Within is [Checks.Text] of at most so many characters.
func (c *Checks) Within(path, s string, most int) string {
	s = strings.TrimSpace(s)
	if utf8.RuneCountInString(s) > most {
		c.Add(path, "this is longer than %d characters", most)
	}
	if !isText(s) {
		c.Add(path, "this holds characters that are not text")
	}
	return s
}

// isText says that people can have typed it: no control characters but the ends of lines and tabs.
func isText(s string) bool {
	for _, r := range s {
		if r == utf8.RuneError || unicode.IsControl(r) && r != '\n' && r != '\r' && r != '\t' {
			return false
		}
	}
	return true
}

// Needed is a text that must be given.
func (c *Checks) Needed(path, s, what string) string {
	s = c.Text(path, s)
	if s == "" {
		c.Add(path, "%s is needed", what)
	}
	return s
}

// OneOf reads one of some words.
func (c *Checks) OneOf(path, s string, allowed ...string) string {
	for _, a := range allowed {
		if s == a {
			return s
		}
	}
	c.Add(path, "%q is not one of %s", words.Shortened(s), strings.Join(allowed, ", "))
	return s
}

// Parsed reads s with parse; a blank s is a refusal.
func Parsed[T any](c *Checks, path, s string, parse func(string) (T, error)) T {
	v, err := parse(s)
	if err != nil {
		if strings.TrimSpace(s) == "" {
			c.Add(path, "a number is needed here")
		} else {
			c.Add(path, "%s", err)
		}
	}
	return v
}

// Optional reads s with parse; a blank s is nil.
func Optional[T any](c *Checks, path, s string, parse func(string) (T, error)) *T {
	if strings.TrimSpace(s) == "" {
		return nil
	}
	v := Parsed(c, path, s, parse)
	return &v
}

// OrZero reads s with parse; a blank s is the zero value.
func OrZero[T any](c *Checks, path, s string, parse func(string) (T, error)) T {
	if v := Optional(c, path, s, parse); v != nil {
		return *v
	}
	var zero T
	return zero
}

// Date reads a date, which must be given.
func (c *Checks) Date(path, s string) calendar.Date {
	d, err := calendar.Parse(s)
	switch {
	case strings.TrimSpace(s) == "":
		c.Add(path, "a date is needed")
	case err != nil:
		c.Add(path, "%s", err)
	}
	return d
}

// Zone reads the IANA name of a time zone; blank is none.
func (c *Checks) Zone(path, name string) string {
	name = strings.TrimSpace(name)
	if name == "" {
		return ""
	}
	if _, err := time.LoadLocation(name); err != nil || name == "Local" {
		c.Add(path, "%q is not a time zone; it is named by its region and city, such as America/Chicago or Europe/Oslo", words.Shortened(name))
		return ""
	}
	return name
}

// NotNegative notes that a figure is below 0.
func NotNegative[T ~int64](c *Checks, path string, v T, what string) {
	if v < 0 {
		c.Add(path, "%s can't be below 0", what)
	}
}

// MarkupPercent reads a markup, which must be more than -100 %.
func MarkupPercent(s string) (money.Percent, error) {
	p, err := ParsePercent(s)
	if err == nil && p <= -money.Whole {
		return 0, fmt.Errorf("a markup of %s %% would charge nothing or less; it must be more than -100 %%", p)
	}
	return p, err
}
