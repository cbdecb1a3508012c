package words_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jarvo/internal/core/words"
)

// A company in the United States writes its own words; what is part of another word is left.
func TestACompanyWritesTheEnglishOfItsCountry(t *testing.T) {
	us, uk := words.SpellingOf("US"), words.SpellingOf("GB")
	for own, american := range map[string]string{
		"Labour by trade": "Labor by trade", "labour": "labor", "Licence ": "License ", "Instalments of job 12": "Installments of job 12",
		"Post code": "ZIP code", "Bank code: BIC, routing or sort code": "Routing number", "colourful": "colourful", "State or region": "State",
	} {
		assert.Equal(t, american, us.Of(own))
		assert.Equal(t, own, uk.Of(own))
	}
	assert.Equal(t, []string{"Net 30", "30 days, net", "due at once"}, []string{us.Terms(30), uk.Terms(30), us.Terms(0)})
	assert.Empty(t, uk.Written().Words)
}
