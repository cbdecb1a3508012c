package book

import (
	"jarvo/internal/app/form"
	"jarvo/internal/core/money"
)

// ParseAmount reads an amount of the company's currency.
func (s *Session) ParseAmount(text string) (money.Amount, error) {
	return form.Bounded(s.Currency.ParseAmount, form.LargestAmount, s.Money(form.LargestAmount))(text)
}
