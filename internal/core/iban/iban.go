// Package iban reads the numbers of bank accounts.
package iban

import (
	"errors"
	"strings"
	"unicode"
)

// ErrChecksum is what an international account number is whose check digits do not fit: a digit was mistyped.
var ErrChecksum = errors.New("this account number has a slip in it: its check digits do not fit")

// shortest and longest are the lengths of an IBAN by ISO 13616, in characters.
const (
	shortest = 15
	longest  = 34
)

// Is says that a text is meant as an international account number: two letters, two digits, and more.
func Is(text string) bool {
	code := compact(text)
	return len(code) >= shortest && len(code) <= longest && letter(code[0]) && letter(code[1]) && digit(code[2]) && digit(code[3])
}

// Account reads an account number: one that is meant as an IBAN is checked, and written in groups of four; any other is as it is.
func Account(text string) (string, error) {
	if !Is(text) {
		return strings.TrimSpace(text), nil
	}
	code := compact(text)
	if remainder(code[4:]+code[:4]) != 1 {
		return "", ErrChecksum
	}
	var groups []string
	for len(code) > 4 {
		groups, code = append(groups, code[:4]), code[4:]
	}
	return strings.Join(append(groups, code), " "), nil
}

func compact(text string) string {
	return strings.ToUpper(strings.Map(func(r rune) rune {
		if unicode.IsSpace(r) {
			return -1
		}
		return r
	}, text))
}

func letter(c byte) bool { return c >= 'A' && c <= 'Z' }
func digit(c byte) bool  { return c >= '0' && c <= '9' }

// remainder is what is left of a code divided by 97, its letters read as 10 to 35; -1 where it has other characters.
func remainder(code string) int {
	rest := 0
	for _, c := range []byte(code) {
		switch {
		case digit(c):
			rest = (rest*10 + int(c-'0')) % 97
		case letter(c):
			rest = (rest*100 + int(c-'A') + 10) % 97
		default:
			return -1
		}
	}
	return rest
}
