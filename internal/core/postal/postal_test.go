package postal_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jarvo/internal/core/postal"
)

func TestACompanyWithoutACountryWritesAsItsCurrencySays(t *testing.T) {
	for _, c := range []struct {
		country, currency, size string
		monthFirst              bool
	}{
		{"", "USD", "letter", true}, {"", "EUR", "a4", false},
		{"DE", "USD", "a4", false}, {"US", "EUR", "letter", true}, {"CA", "CAD", "letter", false},
	} {
		assumed := postal.Assumed(c.country, c.currency)
		assert.Equal(t, c.size, postal.PaperSize(assumed), "%s %s", c.country, c.currency)
		assert.Equal(t, c.monthFirst, postal.MonthFirst(assumed), "%s %s", c.country, c.currency)
	}
}

func TestACountryHasAName(t *testing.T) {
	assert.Equal(t, []string{"Germany", "United States", "?"}, []string{postal.Name("DE"), postal.Name("US"), postal.Name("?")})
}

func TestAnAddressStandsAsItsCountryWritesIt(t *testing.T) {
	street := "Slip 4\nTannery Quay"
	for _, c := range []struct {
		address postal.Address
		want    string
	}{
		{postal.Address{Street: street}, "Slip 4\nTannery Quay"},
		{postal.Address{Street: street, City: "Brackwater", Region: "ME", PostCode: "04530", Country: "US"}, street + "\nBrackwater, ME 04530"},
		{postal.Address{Street: street, City: "Brackwater", Country: "US"}, street + "\nBrackwater"},
		{postal.Address{Street: street, City: "Brackwater", PostCode: "BW1 4TQ", Country: "GB"}, street + "\nBrackwater\nBW1 4TQ"},
		{postal.Address{Street: street, City: "Brackwasser", PostCode: "26345", Country: "DE"}, street + "\n26345 Brackwasser"},
		{postal.Address{City: "Brackwater", Region: "Kent"}, "Brackwater\nKent"},
	} {
		assert.Equal(t, c.want, c.address.String())
	}
}

func TestACountryIsTwoLetters(t *testing.T) {
	for text, want := range map[string]string{"us": "US", " De ": "DE", "USA": "", "Germany": "", "XX": "", "150": "", "": ""} {
		code, err := postal.Country(text)
		assert.Equal(t, want, code, text)
		assert.Equal(t, want == "", err != nil, text)
	}
}
