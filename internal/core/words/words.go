// Package words writes numbers and texts into sentences.
package words

import (
	"fmt"
	"strings"
)

// Counted writes a number of things: "1 line", "3 lines".
func Counted(n int64, thing string) string {
	if n == 1 {
		return "1 " + thing
	}
	if many, ok := strings.CutSuffix(thing, "ry"); ok {
		thing = many + "rie" // an entry, two entries
	}
	return fmt.Sprintf("%d %ss", n, thing)
}

// CountedAre writes a number of things with their verb: "1 line is", "3 lines are".
func CountedAre(n int64, thing string) string {
	if n == 1 {
		return Counted(n, thing) + " is"
	}
	return Counted(n, thing) + " are"
}

// Shortened is a text of at most 60 characters, for a sentence.
func Shortened(s string) string {
	const most = 60
	if runes := []rune(s); len(runes) > most {
		return string(runes[:most]) + "…"
	}
	return s
}

// SortKey puts job and line numbers in order: whole numbers as numbers and before all others, everything else by code point
// (calculation.md section 1).
func SortKey(s string) string {
	if s == "" || strings.Trim(s, "0123456789") != "" {
		return "1" + s
	}
	digits := strings.TrimLeft(s, "0")
	return "0" + string(rune('A'+len(digits))) + digits + "/" + s
}

// Texts are some values of a kind of text, as texts.
func Texts[T ~string](values []T) []string {
	texts := make([]string, len(values))
	for i, v := range values {
		texts[i] = string(v)
	}
	return texts
}

// Within is the beginning of a text, at most so many characters of it.
func Within(s string, most int) string {
	if runes := []rune(s); len(runes) > most {
		return string(runes[:most])
	}
	return s
}

// Listed are texts in a sentence: one, one and two, one, two and three.
func Listed(texts []string) string {
	if len(texts) < 2 {
		return strings.Join(texts, "")
	}
	return strings.Join(texts[:len(texts)-1], ", ") + " and " + texts[len(texts)-1]
}
