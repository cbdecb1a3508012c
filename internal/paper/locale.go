package paper

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

// locale writes figures and dates as they are written in a country, in English.
type locale struct {
	printer *message.Printer
	point   string
	minus   string
	days    string // how a date is written, as Go has it
}

// localeOf is that of a company: of its country, else of its currency.
func localeOf(country, currency string) locale {
	country = postal.Assumed(country, currency)
	tag := language.English
	if region, err := language.ParseRegion(country); err == nil {
		if made, err := language.Compose(language.English, region); err == nil {
			tag = made
		}
	}
	l := locale{printer: message.NewPrinter(tag), point: ".", minus: "−", days: "2 Jan 2006"}
	if half := l.printer.Sprint(number.Decimal(0.5)); len(half) > 2 {
		l.point = strings.Trim(half, "05")
	}
	if postal.MonthFirst(country) {
		l.days = "Jan 2, 2006"
	}
	return l
}

// figure writes a plain decimal, such as -1234.50; what is none stays as it is.
func (l locale) figure(plain string) string {
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

// day writes a date of the book.
func (l locale) day(date string) string {
	d, err := calendar.Parse(date)
	if err != nil {
		return date
	}
	return d.Time().Format(l.days)
}

// span writes the days from one to another.
func (l locale) span(from, through string) string {
	a, err := calendar.Parse(from)
	if err != nil || from == through {
		return l.day(through)
	}
	b, err := calendar.Parse(through)
	if err != nil {
		return l.day(from)
	}
	short := strings.NewReplacer(", 2006", "", " 2006", "").Replace(l.days)
	if a.Year() != b.Year() {
		short = l.days
	}
	return a.Time().Format(short) + " to " + b.Time().In(time.UTC).Format(l.days)
}

// plainSum adds plain decimals up.
type plainSum struct {
	value  big.Rat
	places int
}

func (s *plainSum) add(plain string) {
	if v, ok := new(big.Rat).SetString(plain); ok {
		s.value.Add(&s.value, v)
		_, fraction, _ := strings.Cut(plain, ".")
		s.places = max(s.places, len(fraction))
	}
}

func (s *plainSum) String() string { return s.value.FloatString(s.places) }
