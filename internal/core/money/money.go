// Package money holds the quantities Jarvo counts with, each an integer of its own
// type so that a rate cannot be added to an amount, and the one rounding rule
// (calculation.md section 1).
package money

import (
	"errors"
	"math/big"
	"math/bits"
)

// Amount is money in minor units of the company's currency (cents for USD).
type Amount int64

// Rate is money for one unit (an hour, a metre, a mile) in 1/10 000 of the currency unit.
type Rate int64

// Quantity counts units in 1/1 000.
type Quantity int64

// Minutes is working time.
type Minutes int64

// Percent is a percentage in 1/10 000 of a percent: 7.65 % is 76 500.
type Percent int64

// Factor multiplies a pay or price, in 1/10 000: time and a half is 15 000.
type Factor int64

const (
	// One is the factor that changes nothing.
	One Factor = 10_000
	// Whole is 100 percent.
	Whole Percent = 1_000_000
	// Largest bounds every quantity, so that the sum of a million of them still fits.
	Largest = 10_000_000_000_000

	rateScale     = 10_000
	quantityScale = 1_000
	factorScale   = 10_000
	percentScale  = 1_000_000
	hour          = 60
)

// ErrTooLarge says that a result is beyond what Jarvo holds.
var ErrTooLarge = errors.New("the amount is too large")

// Ratio returns the product of factors over divisor, rounded half away from zero.
// The divisor must be positive.
func Ratio(divisor int64, factors ...int64) (int64, error) {
	if n, ok := smallRatio(divisor, factors); ok {
		return n, nil
	}
	product := big.NewInt(1)
	for _, f := range factors {
		product.Mul(product, big.NewInt(f))
	}
	return roundedQuotient(product, big.NewInt(divisor))
}

// smallRatio is [Ratio] where everything fits a machine word with room to round, as nearly always.
func smallRatio(divisor int64, factors []int64) (int64, bool) {
	const room = 1 << 61
	product, sign := uint64(1), int64(1)
	for _, f := range factors {
		if f < 0 {
			f, sign = -f, -sign
		}
		over, low := bits.Mul64(product, uint64(f))
		if over != 0 || low > room {
			return 0, false
		}
		product = low
	}
	d := uint64(divisor)
	if d > room {
		return 0, false
	}
	n := (2*product + d) / (2 * d)
	return sign * int64(n), n <= Largest
}

func roundedQuotient(numerator, divisor *big.Int) (int64, error) {
	sign := int64(numerator.Sign())
	size := new(big.Int).Abs(numerator)
	size.Lsh(size, 1).Add(size, divisor)
	size.Quo(size, new(big.Int).Lsh(divisor, 1))
	if !size.IsInt64() || size.Int64() > Largest {
		return 0, ErrTooLarge
	}
	return sign * size.Int64(), nil
}

// Sum adds amounts. A total beyond [Largest] is ErrTooLarge.
func Sum(amounts ...Amount) (Amount, error) {
	var total Amount
	for _, a := range amounts {
		total += a
		if total > Largest || total < -Largest {
			return 0, ErrTooLarge
		}
	}
	return total, nil
}

// Of returns p percent of a, rounded.
func (p Percent) Of(a Amount) (Amount, error) {
	n, err := Ratio(percentScale, int64(a), int64(p))
	return Amount(n), err
}

// On returns a raised by p percent, rounded once: a x (1 + p).
func (p Percent) On(a Amount) (Amount, error) {
	n, err := Ratio(percentScale, int64(a), percentScale+int64(p))
	return Amount(n), err
}

// Margin is the share of the price that a markup of p on cost leaves over:
// markup / (1 + markup). A markup of -100 % or less has none.
func (p Percent) Margin() (Percent, bool) {
	if p <= -Whole {
		return 0, false
	}
	n, err := Ratio(int64(Whole+p), int64(p), int64(Whole))
	return Percent(n), err == nil
}

// Markup is the percent on cost that leaves a margin of p on the price:
// margin / (1 - margin). A margin of 100 % or more has none.
func (p Percent) Markup() (Percent, bool) {
	if p >= Whole {
		return 0, false
	}
	n, err := Ratio(int64(Whole-p), int64(p), int64(Whole))
	return Percent(n), err == nil
}

// Share returns part as a percentage of whole to two places, half away from zero;
// there is none when whole is 0 or below.
func Share(part, whole Amount) (Percent, bool) {
	if whole <= 0 {
		return 0, false
	}
	n, err := Ratio(int64(whole), int64(part), 10_000)
	return Percent(n * 100), err == nil
}
