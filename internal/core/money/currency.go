package money

// Currency is a company's currency and the digits its minor unit has by ISO 4217.
type Currency struct {
	Code   string
	Digits int
}

// USD is the currency of a company that names none.
var USD = Currency{Code: "USD", Digits: 2}

// CurrencyOf is the currency with a code, with the digits that ISO 4217 gives it. Locale data that comes with
// programs often has fewer: what is in use, not what the books are kept in.
func CurrencyOf(code string) Currency {
	switch code {
	case "BIF", "CLP", "DJF", "GNF", "ISK", "JPY", "KMF", "KRW", "PYG", "RWF", "UGX", "UYI", "VND", "VUV", "XAF", "XOF", "XPF":
		return Currency{code, 0}
	case "BHD", "IQD", "JOD", "KWD", "LYD", "OMR", "TND":
		return Currency{code, 3}
	case "CLF", "UYW":
		return Currency{code, 4}
	default:
		return Currency{code, 2}
	}
}

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

// RateOf is the rate at which one unit comes to an amount.
func (c Currency) RateOf(a Amount) Rate {
	return Rate(int64(a) * rateScale / c.minor())
}
