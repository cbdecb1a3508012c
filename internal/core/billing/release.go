package billing

import (
	"errors"

	"jarvo/internal/core/money"
)

// ErrBeyondHeld refuses to release more than customers hold back of a job.
var ErrBeyondHeld = errors.New("more would be released than is held of the job")

// Release parts an amount of a job's retainage over the invoices that it is held on, the oldest first as they are given: those below 0 are
// released first, in full, and then the others (calculation.md section 12).
func Release(amount money.Amount, held []money.Amount) ([]money.Amount, error) {
	parts := make([]money.Amount, len(held))
	left := amount
	for i, h := range held {
		if h < 0 {
			parts[i] = h
			left -= h
		}
	}
	for i, h := range held {
		if h > 0 {
			parts[i] = min(left, h)
			left -= parts[i]
		}
	}
	if amount <= 0 || left > 0 {
		return nil, ErrBeyondHeld
	}
	return parts, nil
}

// HoldAgain parts an amount that a credit note gives back of a release over the invoices that it was taken from, the newest first as they
// are given. All that is left of it gives back each part, also those below 0 (calculation.md section 12).
func HoldAgain(amount money.Amount, left []money.Amount) []money.Amount {
	var all money.Amount
	for _, l := range left {
		all += l
	}
	if amount == all {
		return left
	}
	parts, _ := Lift(amount, left)
	return parts
}

// Release is the tax that becomes due when so much is released of what is held on an invoice: of each component that is due on release,
// what its tax on what is not held changes by.
func (i Invoiced) Release(released map[int64]money.Amount) ([]Tax, error) {
	after := i.less(nil)
	for n, j := range after.Jobs {
		after.Jobs[n].Held = j.Held - released[j.Job]
	}
	var taxes []Tax
	for _, t := range i.Taxes {
		before, err := t.charged(i.Jobs)
		if err != nil {
			return nil, err
		}
		now, err := t.charged(after.Jobs)
		if err != nil {
			return nil, err
		}
		if now != before {
			taxes = append(taxes, Tax{Component: t.Component, Tax: now - before})
		}
	}
	return taxes, nil
}
