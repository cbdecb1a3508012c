package iban_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jarvo/internal/core/iban"
)

func TestAnAccountNumberIsCheckedWhereItHasCheckDigits(t *testing.T) {
	for typed, want := range map[string]string{
		"gb82west12345698765432": "GB82 WEST 1234 5698 7654 32", "DE89 3704 0044 0532 0130 00": "DE89 3704 0044 0532 0130 00",
		" 2200 4418 ": "2200 4418", "": "", "AB12": "AB12",
	} {
		got, err := iban.Account(typed)
		assert.NoError(t, err)
		assert.Equal(t, want, got)
	}
	for _, slip := range []string{"GB82WEST12345698765423", "DE89370400440532013001"} {
		_, err := iban.Account(slip)
		assert.ErrorIs(t, err, iban.ErrChecksum)
	}
}
