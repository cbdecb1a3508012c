package billing

import (
	"cmp"
	"slices"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
)

// Open is an issued invoice with something left to pay.
type Open struct {
	Due     calendar.Date
	Number  int64
	Balance money.Amount
}

// Allocate sets a payment against invoices, the oldest due date first, then the lower number (calculation.md section 12). It returns the
// part of each, in the order given, and what is left over as the customer's credit.
func Allocate(payment money.Amount, invoices []Open) (parts []money.Amount, credit money.Amount) {
	order := make([]int, len(invoices))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		return cmp.Or(cmp.Compare(invoices[a].Due, invoices[b].Due), cmp.Compare(invoices[a].Number, invoices[b].Number))
	})
	parts = make([]money.Amount, len(invoices))
	for _, i := range order {
		parts[i] = min(payment, max(0, invoices[i].Balance))
		payment -= parts[i]
	}
	return parts, payment
}

// Lift lifts an amount from what is set against invoices, in the order given: what of each, and what is left over where they are not enough
// (calculation.md sections 11 and 12).
func Lift(amount money.Amount, set []money.Amount) (lifted []money.Amount, over money.Amount) {
	lifted = make([]money.Amount, len(set))
	for i, s := range set {
		lifted[i] = max(0, min(amount, s))
		amount -= lifted[i]
	}
	return lifted, amount
}

// Receipts is what each job of an invoice has received once so much was paid of it: spread over what is due of each job, its subtotal
// and tax less what is retained of it and what was credited. A receipt is what this changed by (calculation.md section 12).
func Receipts(paid money.Amount, due []money.Amount) []money.Amount { return spread(paid, due) }

// TaxByJob is what each job has of the tax of a component: spread over its taxable amounts (calculation.md section 8).
func TaxByJob(tax money.Amount, taxable []money.Amount) []money.Amount { return spread(tax, taxable) }

func spread(amount money.Amount, over []money.Amount) []money.Amount {
	weights := make([]int64, len(over))
	for i, o := range over {
		weights[i] = int64(o)
	}
	return money.Spread(amount, weights)
}
