package billing

import (
	"cmp"
	"slices"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
)

// Open is an issued invoice with something left to pay.
type Open struct {
	Date    calendar.Date
	Number  int64
	Balance money.Amount
}

// Allocate sets a payment against invoices, the oldest first (calculation.md section 8). It returns the part of each,
// in the order given, and what is left over as the customer's credit.
func Allocate(payment money.Amount, invoices []Open) (parts []money.Amount, credit money.Amount) {
	order := make([]int, len(invoices))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		return cmp.Or(cmp.Compare(invoices[a].Date, invoices[b].Date), cmp.Compare(invoices[a].Number, invoices[b].Number))
	})
	parts = make([]money.Amount, len(invoices))
	for _, i := range order {
		parts[i] = min(payment, max(0, invoices[i].Balance))
		payment -= parts[i]
	}
	return parts, payment
}

// Receipts is what each job of an invoice has received once so much was paid of it: spread over what is due of each job, its subtotal and
// tax less what is retained of it and what was credited. A receipt is what this changed by (calculation.md section 12).
func Receipts(paid money.Amount, due []money.Amount) []money.Amount {
	weights := make([]int64, len(due))
	for i, d := range due {
		weights[i] = int64(d)
	}
	return money.Spread(paid, weights)
}
