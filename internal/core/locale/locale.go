// Package locale writes figures and dates as they are written in the country of a company, in English.
package locale

import (
	"math/big"
	"strings"
	"time"

	"golang.org/x/text/language"
	"golang.org/x/text/message"
	"golang.org/x/text/number"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/postal"
)

// Locale writes figures and dates as they are written in a country, in English.
type Locale struct {
	printer *message.Printer
	point   string
	minus   string
	days    string // how a date is written, as Go has it
}

// Of is that of a company: of its country, an ISO 3166 code, else of its currency.
func Of(country, currency string) Locale {
	country = postal.Assumed(country, currency)
	tag := language.English
	if region, err := language.ParseRegion(country); err == nil {
		if made, err := language.Compose(language.English, region); err == nil {
			tag = made
		}
	}
	l := Locale{printer: message.NewPrinter(tag), point: ".", minus: "−", days: "2 Jan 2006"}
	if half := l.printer.Sprint(number.Decimal(0.5)); len(half) > 2 {
		l.point = strings.Trim(half, "05")
	}
	if postal.MonthFirst(country) {
		l.days = "Jan 2, 2006"
	}
	return l
}

// Figure writes a plain decimal, such as -1234.50; what is none stays as it is.
func (l Locale) Figure(plain string) string {
	rest, negative := strings.CutPrefix(plain, "-")
	whole, fraction, broken := strings.Cut(rest, ".")
	value, ok := new(big.Int).SetString(whole, 10)
	if !ok || !value.IsInt64() {
		return plain
	}
	out := l.printer.Sprint(number.Decimal(value.Int64()))
	if broken {
		out += l.point + fraction
	}
	if negative {
		out = l.minus + out
	}
	return out
}

// Day writes a date of the book, which is ISO 8601.
func (l Locale) Day(date string) string {
	d, err := calendar.Parse(date)
	if err != nil {
		return date
	}
	return d.Time().Format(l.days)
}

// Span writes the days from one to another.
func (l Locale) Span(from, through string) string {
	a, err := calendar.Parse(from)
	if err != nil || from == through {
		return l.Day(through)
	}
	b, err := calendar.Parse(through)
	if err != nil {
		return l.Day(from)
	}
	short := strings.NewReplacer(", 2006", "", " 2006", "").Replace(l.days)
	if a.Year() != b.Year() {
		short = l.days
	}
	return a.Time().Format(short) + " to " + b.Time().In(time.UTC).Format(l.days)
}
