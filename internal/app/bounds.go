package app

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
	largestAmount   money.Amount   = 1_000_000_000_000 // in minor units; also what an entry or a line can come to
)

func bounded[T ~int64](parse func(string) (T, error), most T, shown string) func(string) (T, error) {
	return func(s string) (T, error) {
		v, err := parse(s)
		if err == nil && (v > most || v < -most) {
			return 0, fmt.Errorf("%s is more than %s, the most that can be typed here", words.Shortened(s), shown)
		}
		return v, err
	}
}

var (
	parseRate     = bounded(money.ParseRate, largestRate, "10,000,000")
	parseQuantity = bounded(money.ParseQuantity, largestQuantity, "10,000,000")
	parsePercent  = bounded(money.ParsePercent, largestPercent, "10,000 %")
	parseFactor   = bounded(money.ParseFactor, largestFactor, "100")
)

// parseAmount reads an amount of the company's currency.
func (s *session) parseAmount(text string) (money.Amount, error) {
	return bounded(s.currency.ParseAmount, largestAmount, s.money(largestAmount))(text)
}

// tooLarge says that one of some amounts is more than an entry or a line can come to.
func tooLarge(amounts ...*money.Amount) error {
	for _, a := range amounts {
		if a != nil && (*a > largestAmount || *a < -largestAmount) {
			return fmt.Errorf("this comes to more than can be kept; look at the quantity, the price and the markup")
		}
	}
	return nil
}
