package money

// Currency is a company's currency and the digits its minor unit has by ISO 4217.
type Currency struct {
	Code   string
	Digits int
}

// USD is the currency of a company that names none.
var USD = Currency{Code: "USD", Digits: 2}

func (c Currency) minor() int64 {
	n := int64(1)
	for range c.Digits {
		n *= 10
	}
	return n
}

// ForTime is the amount for a time at a rate an hour: rate x factor x minutes / 60, rounded.
func (c Currency) ForTime(r Rate, f Factor, m Minutes) (Amount, error) {
	n, err := Ratio(rateScale*factorScale*hour, int64(r), int64(f), int64(m), c.minor())
	return Amount(n), err
}

// ForQuantity is the amount for a quantity at a rate a unit, rounded.
func (c Currency) ForQuantity(q Quantity, r Rate) (Amount, error) {
	n, err := Ratio(quantityScale*rateScale, int64(q), int64(r), c.minor())
	return Amount(n), err
}
