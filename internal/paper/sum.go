package paper

import (
	"math/big"
	"strings"
)

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

// in is the sum with at least the places of another decimal.
func (s *plainSum) in(plain string) string {
	_, fraction, _ := strings.Cut(plain, ".")
	return s.value.FloatString(max(s.places, len(fraction)))
}

func (s *plainSum) String() string { return s.value.FloatString(s.places) }
