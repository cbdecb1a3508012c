package app

import (
	"fmt"
	"strings"
	"time"
	_ "time/tzdata" // also where the machine has no list of time zones
	"unicode"
	"unicode/utf8"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/words"
)

// checks reads what people typed and collects what is wrong with it, field by field.
type checks struct {
	currency money.Currency
	fields   []FieldError
}

func (c *checks) add(path, format string, args ...any) {
	c.fields = append(c.fields, FieldError{path, fmt.Sprintf(format, args...)})
}

func (c *checks) err() error {
	if len(c.fields) == 0 {
		return nil
	}
	return refused(c.fields...)
}

const longest = 500

// text trims a text that may be blank.
func (c *checks) text(path, s string) string {
	s = strings.TrimSpace(s)
	if utf8.RuneCountInString(s) > longest {
		c.add(path, "this is longer than %d characters", longest)
	}
	if !isText(s) {
		c.add(path, "this holds characters that are not text")
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

// needed is a text that must be given.
func (c *checks) needed(path, s, what string) string {
	s = c.text(path, s)
	if s == "" {
		c.add(path, "%s is needed", what)
	}
	return s
}

func (c *checks) oneOf(path, s string, allowed ...string) string {
	for _, a := range allowed {
		if s == a {
			return s
		}
	}
	c.add(path, "%q is not one of %s", words.Shortened(s), strings.Join(allowed, ", "))
	return s
}

// parsed reads s with parse; a blank s is a refusal.
func parsed[T any](c *checks, path, s string, parse func(string) (T, error)) T {
	v, err := parse(s)
	if err != nil {
		if strings.TrimSpace(s) == "" {
			c.add(path, "a number is needed here")
		} else {
			c.add(path, "%s", err)
		}
	}
	return v
}

// optional reads s with parse; a blank s is nil.
func optional[T any](c *checks, path, s string, parse func(string) (T, error)) *T {
	if strings.TrimSpace(s) == "" {
		return nil
	}
	v := parsed(c, path, s, parse)
	return &v
}

// orZero reads s with parse; a blank s is the zero value.
func orZero[T any](c *checks, path, s string, parse func(string) (T, error)) T {
	if v := optional(c, path, s, parse); v != nil {
		return *v
	}
	var zero T
	return zero
}

func (c *checks) date(path, s string) calendar.Date {
	d, err := calendar.Parse(s)
	switch {
	case strings.TrimSpace(s) == "":
		c.add(path, "a date is needed")
	case err != nil:
		c.add(path, "%s", err)
	}
	return d
}

// zone reads the IANA name of a time zone; blank is none.
func (c *checks) zone(path, name string) string {
	name = strings.TrimSpace(name)
	if name == "" {
		return ""
	}
	if _, err := time.LoadLocation(name); err != nil || name == "Local" {
		c.add(path, "%q is not a time zone; it is named by its region and city, such as America/Chicago or Europe/Oslo", words.Shortened(name))
		return ""
	}
	return name
}

func notNegative[T ~int64](c *checks, path string, v T, what string) {
	if v < 0 {
		c.add(path, "%s can't be below 0", what)
	}
}

// markupPercent reads a markup, which must be more than -100 %.
func markupPercent(s string) (money.Percent, error) {
	p, err := parsePercent(s)
	if err == nil && p <= -money.Whole {
		return 0, fmt.Errorf("a markup of %s %% would charge nothing or less; it must be more than -100 %%", p)
	}
	return p, err
}
