package letter_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"jarvo/internal/core/letter"
)

func TestBlanksAreFilledOnceAndOthersAreNamed(t *testing.T) {
	text := "Dear {customer}, {amount} of {number} is due.\n{amount}, { odd }, {}"
	assert.Equal(t, []string{"customer", "amount", "number", " odd ", ""}, letter.Blanks(text))
	assert.Equal(t, []string{" odd ", ""}, letter.Unknown(text, []string{"customer", "amount", "number"}))
	assert.Equal(t, "Dear {amount}, 12.50 of 7 is due.\n12.50, { odd }, {}",
		letter.Fill(text, map[string]string{"customer": "{amount}", "amount": "12.50", "number": "7"}),
		"a name that looks like a blank is not filled again")
}

func TestATextWithoutBlanksStaysAsItIs(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		text := strings.NewReplacer("{", "(", "}", ")").Replace(rapid.String().Draw(t, "text"))
		assert.Equal(t, text, letter.Fill(text, map[string]string{"amount": "1"}))
		assert.Empty(t, letter.Blanks(text))
	})
}

func TestTheReminderIsByAge(t *testing.T) {
	for days, stage := range map[int]int{-5: 0, 0: 0, 1: 1, 14: 1, 15: 2, 30: 2, 31: 3, 400: 3} {
		assert.Equal(t, stage, letter.Stage(days), "%d days", days)
	}
}
