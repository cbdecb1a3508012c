package billing

import (
	"sort"

	"jarvo/internal/core/money"
)

// Deposit is the category of what is asked for before any work is billed: it is neither billed nor earned.
const Deposit = "deposit"

// Applied is what of a deposit is applied to an invoice: an amount before tax, which is prepaid there, and the tax that was charged on it,
// which is deducted from the tax of that invoice (calculation.md section 13).
type Applied struct {
	Amount, Tax money.Amount
	Taxes       []Tax
}

// Apply applies an amount of a deposit, of which this is what is left, to an invoice on which so much is due: at most what is open, and
// with its tax at most what is due.
func (i Invoiced) Apply(amount, due money.Amount) (Applied, error) {
	var open money.Amount
	for _, j := range i.Jobs {
		open += j.Subtotal
	}
	amount = max(0, min(amount, open, due))
	all, err := i.applied(amount)
	if err != nil || all.Amount+all.Tax <= due {
		return all, err
	}
	n := sort.Search(int(amount), func(n int) bool { // the first that is too much
		var a Applied
		a, err = i.applied(money.Amount(n))
		return err != nil || a.Amount+a.Tax > due
	})
	if err != nil {
		return Applied{}, err
	}
	return i.applied(money.Amount(max(0, n-1)))
}

// applied is an amount of a deposit with the tax that was charged on it, of each component T(open before) - T(open after).
func (i Invoiced) applied(amount money.Amount) (Applied, error) {
	a := Applied{Amount: amount}
	if amount == 0 {
		return a, nil
	}
	after := i.less([]Source{{Job: i.Jobs[0].Job, Category: Deposit, Amount: amount}})
	for n, t := range i.Taxes {
		before, err := t.charged(i.Jobs)
		if err != nil {
			return a, err
		}
		left, err := after.Taxes[n].charged(after.Jobs)
		if err != nil {
			return a, err
		}
		base := t.Bases[i.Jobs[0].Job] - after.Taxes[n].Bases[i.Jobs[0].Job]
		if base == 0 {
			continue
		}
		a.Taxes = append(a.Taxes, Tax{t.Component, base, before - left})
		a.Tax += before - left
	}
	return a, nil
}
