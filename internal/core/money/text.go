package money

import (
	"fmt"
	"strconv"
	"strings"
)

// decimals reads a decimal number into an integer of 1/10^places. A number with more
// places than that is an error, never rounded.
func decimals(s string, places int) (int64, error) {
	text := strings.TrimSpace(s)
	size := strings.TrimPrefix(text, "-")
	whole, fraction, _ := strings.Cut(size, ".")
	if whole == "" && fraction == "" || !digitsOnly(whole) || !digitsOnly(fraction) {
		return 0, fmt.Errorf("%q is not a number such as 1250.50", s)
	}
	fraction = strings.TrimRight(fraction, "0")
	if len(fraction) > places {
		return 0, fmt.Errorf("%s has more than %d decimals", text, places)
	}
	whole = strings.TrimLeft(whole, "0") + fraction + strings.Repeat("0", places-len(fraction))
	if whole == "" {
		return 0, nil
	}
	n, err := strconv.ParseInt(whole, 10, 64)
	if err != nil || n > Largest {
		return 0, fmt.Errorf("%s is too large", text)
	}
	if strings.HasPrefix(text, "-") {
		n = -n
	}
	return n, nil
}

func digitsOnly(s string) bool {
	return strings.Trim(s, "0123456789") == ""
}

// fixed writes n of 1/10^places with at least keep decimals, dropping further zeros.
func fixed(n int64, places, keep int) string {
	var room, out [40]byte // no more than 20 digits, the zeros before them, a sign and a point
	text := out[:0]
	if n < 0 {
		text, n = append(text, '-'), -n
	}
	digits := strconv.AppendInt(room[:0], n, 10)
	if short := places + 1 - len(digits); short > 0 {
		digits = append(digits, zeros[:short]...)
		copy(digits[short:], digits[:len(digits)-short])
		copy(digits, zeros[:short])
	}
	whole, fraction := digits[:len(digits)-places], digits[len(digits)-places:]
	for len(fraction) > keep && fraction[len(fraction)-1] == '0' {
		fraction = fraction[:len(fraction)-1]
	}
	text = append(text, whole...)
	if len(fraction) > 0 {
		text = append(append(text, '.'), fraction...)
	}
	return string(text)
}

const zeros = "0000000000"

// ParseAmount reads money such as "1234.50" in the currency's digits.
func (c Currency) ParseAmount(s string) (Amount, error) {
	n, err := decimals(s, c.Digits)
	return Amount(n), err
}

// Format writes an amount with all the currency's digits: "1234.50".
func (c Currency) Format(a Amount) string {
	return fixed(int64(a), c.Digits, c.Digits)
}

// FormatRate writes a rate with at least the currency's digits: "32.40", "0.0125".
func (c Currency) FormatRate(r Rate) string {
	return fixed(int64(r), 4, min(c.Digits, 4))
}

// ParseRate reads money a unit, with up to four decimals.
func ParseRate(s string) (Rate, error) {
	n, err := decimals(s, 4)
	return Rate(n), err
}

// ParseQuantity reads a count of units, with up to three decimals.
func ParseQuantity(s string) (Quantity, error) {
	n, err := decimals(s, 3)
	return Quantity(n), err
}

func (q Quantity) String() string { return fixed(int64(q), 3, 0) }

// ParsePercent reads "7.65" (with or without a percent sign) as 7.65 %.
func ParsePercent(s string) (Percent, error) {
	n, err := decimals(strings.TrimSuffix(strings.TrimSpace(s), "%"), 4)
	return Percent(n), err
}

func (p Percent) String() string { return fixed(int64(p), 4, 0) }

// Places2 writes a percentage with two decimals, half away from zero.
func (p Percent) Places2() string {
	n, err := Ratio(100, int64(p))
	if err != nil {
		return p.String()
	}
	return fixed(n, 2, 2)
}

// ParseFactor reads a pay or price factor such as "1.5".
func ParseFactor(s string) (Factor, error) {
	n, err := decimals(s, 4)
	return Factor(n), err
}

func (f Factor) String() string { return fixed(int64(f), 4, 0) }

// Hours writes minutes as decimal hours with two places: 485 minutes is "8.08".
func (m Minutes) Hours() string {
	n, err := Ratio(hour, int64(m), 100)
	if err != nil {
		return strconv.FormatInt(int64(m), 10)
	}
	return fixed(n, 2, 2)
}

// Short writes hours for the grid: 10, 8.5, 7.75; blank for none.
func (m Minutes) Short() string {
	if m == 0 {
		return ""
	}
	return strings.TrimSuffix(strings.TrimRight(m.Hours(), "0"), ".")
}
