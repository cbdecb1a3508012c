// Package letter fills the texts of messages: what stands in braces, such as {amount}, is a blank that is filled when the message is made.
package letter

import (
	"regexp"
	"slices"
)

// Text is the subject and the body of a message, with its blanks.
type Text struct{ Subject, Body string }

var blank = regexp.MustCompile(`\{[^{}\n]*\}`)

// Blanks are the blanks of a text, without their braces, each once and in their order.
func Blanks(text string) (names []string) {
	for _, found := range blank.FindAllString(text, -1) {
		if name := found[1 : len(found)-1]; !slices.Contains(names, name) {
			names = append(names, name)
		}
	}
	return names
}

// Unknown are the blanks of a text that are not among those which can be filled.
func Unknown(text string, known []string) []string {
	return slices.DeleteFunc(Blanks(text), func(name string) bool { return slices.Contains(known, name) })
}

// Fill fills the blanks of a text once: what is filled in is never read as a blank. One that is not among the values stays as it is.
func Fill(text string, values map[string]string) string {
	return blank.ReplaceAllStringFunc(text, func(found string) string {
		if value, there := values[found[1:len(found)-1]]; there {
			return value
		}
		return found
	})
}

// Stage is which of the three reminders is due for an invoice that is so many days past due: the first up to 14 days, the second up to
// 30, then the third; 0 where it is not overdue.
func Stage(daysLate int) int {
	switch {
	case daysLate <= 0:
		return 0
	case daysLate <= 14:
		return 1
	case daysLate <= 30:
		return 2
	}
	return 3
}
