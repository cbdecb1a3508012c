// Package postal knows how a country writes an address and a date, and what it prints on.
package postal

import (
	"errors"
	"slices"
	"strings"

	"golang.org/x/text/language"
	"golang.org/x/text/language/display"
)

// Address is an address in its parts, each of which may be blank.
type Address struct {
	Street   string // the lines above the place
	PostCode string
	City     string
	Region   string // a state, a province or a county
	Country  string // ISO 3166, two letters
}

// cityFirst are the countries that write the place before its post code, in one line with the state.
var cityFirst = []string{"US", "CA", "AU", "NZ"}

// codeLast are the countries that write the post code in a line of its own.
var codeLast = []string{"GB", "IE"}

// String is the address in lines, without the country: street, then place as the country writes it.
func (a Address) String() string {
	var place []string
	switch {
	case slices.Contains(cityFirst, a.Country):
		place = []string{joined(", ", a.City, joined(" ", a.Region, a.PostCode))}
	case slices.Contains(codeLast, a.Country):
		place = []string{a.City, a.Region, a.PostCode}
	default:
		place = []string{joined(" ", a.PostCode, a.City), a.Region}
	}
	return joined("\n", append([]string{a.Street}, place...)...)
}

// joined joins the texts that are not blank.
func joined(by string, texts ...string) string {
	return strings.Join(slices.DeleteFunc(texts, func(t string) bool { return t == "" }), by)
}

// Assumed is the country that a company writes and prints as: its own, else, where it has not said, that of its currency, if that is the
// dollar of one.
func Assumed(country, currency string) string {
	if country == "" && currency == "USD" {
		return "US"
	}
	return country
}

// onLetter are the countries that print on letter paper.
var onLetter = []string{"US", "CA", "MX", "CL", "CO", "PH"}

// PaperSize is what a country prints on.
func PaperSize(country string) string {
	if slices.Contains(onLetter, country) {
		return "letter"
	}
	return "a4"
}

// MonthFirst says that a country writes the month of a date before its day.
func MonthFirst(country string) bool { return country == "US" }

// Name is the name of a country in English; a code that is none stays as it is.
func Name(country string) string {
	region, err := language.ParseRegion(country)
	if err != nil {
		return country
	}
	return display.English.Regions().Name(region)
}

// ErrCountry is what a text is that is no country.
var ErrCountry = errors.New("a country is two letters by ISO 3166, such as US or DE")

// Country reads the code of a country, whatever its capitals are.
func Country(text string) (string, error) {
	code := strings.ToUpper(strings.TrimSpace(text))
	region, err := language.ParseRegion(code)
	if err != nil || len(code) != 2 || !region.IsCountry() {
		return "", ErrCountry
	}
	return code, nil
}
