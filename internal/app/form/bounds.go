package form

import (
	"fmt"

	"jarvo/internal/core/money"
	"jarvo/internal/core/words"
)

// The bounds of figures: what no contractor reaches, and far enough from what the book can add up that no sum of them is too large.
const (
	largestRate     money.Rate     = 10_000_000 * 10_000 // a unit or an hour
	largestQuantity money.Quantity = 10_000_000 * 1000
	largestPercent  money.Percent  = 10_000 * 10_000
	largestFactor   money.Factor   = 100 * 10_000
	LargestAmount   money.Amount   = 1_000_000_000_000 // in minor units; also what an entry or a line can come to
)

func Bounded[T ~int64](parse func(string) (T, error), most T, shown string) func(string) (T, error) {
	return func(s string) (T, error) {
		v, err := parse(s)
		if err == nil && (v > most || v < -most) {
			return 0, fmt.Errorf("%s is more than %s, the most that can be typed here", words.Shortened(s), shown)
		}
		return v, err
	}
}

var (
	ParseRate     = Bounded(money.ParseRate, largestRate, "10,000,000")
	ParseQuantity = Bounded(money.ParseQuantity, largestQuantity, "10,000,000")
	ParsePercent  = Bounded(money.ParsePercent, largestPercent, "10,000 %")
	ParseFactor   = Bounded(money.ParseFactor, largestFactor, "100")
)

// TooLarge says that one of some amounts is more than an entry or a line can come to.
func TooLarge(amounts ...*money.Amount) error {
	for _, a := range amounts {
		if a != nil && (*a > LargestAmount || *a < -LargestAmount) {
			return fmt.Errorf("this comes to more than can be kept; look at the quantity, the price and the markup")
		}
	}
	return nil
}
