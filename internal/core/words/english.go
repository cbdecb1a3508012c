package words

import (
	"cmp"
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strings"
	"unicode"
)

// american are the words of the United States where Jarvo's own differ. It is the one place where they are; the screen asks for them.
var american = map[string]string{
	"labour": "labor", "licence": "license", "colour": "color", "cheque": "check", "instalment": "installment",
	"instalments": "installments", "post code": "ZIP code", "state or region": "state",
	"bank code: bic, routing or sort code": "routing number", "bank code": "routing number",
}

var americanised = regexp.MustCompile(`(?i)\b(` + strings.Join(slices.SortedFunc(maps.Keys(american), func(a, b string) int {
	return cmp.Compare(len(b), len(a))
}), "|") + `)\b`)

// Spelling is the English that a company writes.
type Spelling struct{ american bool }

// SpellingOf is the English of a country, by ISO 3166.
func SpellingOf(country string) Spelling { return Spelling{country == "US"} }

// English is an English as it is written down.
type English struct {
	Words map[string]string `json:"words,omitempty" doc:"those that differ from Jarvo's own, by these in small letters"`
	Terms string            `json:"terms" doc:"how days until an invoice is due are written, for {days}"`
}

// Written is this English written down.
func (s Spelling) Written() English {
	if s.american {
		return English{american, "Net {days}"}
	}
	return English{nil, "{days} days"}
}

// Of is a text of Jarvo's own in this English. It is not for what a person has typed.
func (s Spelling) Of(text string) string {
	if !s.american {
		return text
	}
	return americanised.ReplaceAllStringFunc(text, func(word string) string {
		local := american[strings.ToLower(word)]
		if unicode.IsUpper(rune(word[0])) {
			return strings.ToUpper(local[:1]) + local[1:]
		}
		return local
	})
}

// Terms are the days until an invoice is due.
func (s Spelling) Terms(days int64) string {
	switch {
	case days <= 0:
		return "due at once"
	case s.american:
		return fmt.Sprintf("Net %d", days)
	}
	return Counted(days, "day") + ", net"
}
