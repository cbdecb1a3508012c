package billing

import (
	"errors"
	"slices"

	"jarvo/internal/core/money"
)

// The refusals of a credit note (calculation.md section 11).
var (
	ErrNothingCredited = errors.New("a credit note is more than 0; choose what is credited")
	ErrBeyondInvoice   = errors.New("more would be credited than is left of the invoice")
	ErrRaisesBalance   = errors.New("a credit note can't raise the balance; credit more of the other lines with it")
)

// Credit is what becomes of a part that an invoice billed: so much of it is credited, with its sign, and what had been written up of it
// goes first.
type Credit struct {
	Amount money.Amount
	Up     money.Amount // of the amount: was written up, so it is neither ready again nor written down
	Again  bool         // bill again; else it is allowed: written down
}

// CreditOf credits an amount of a part, of which so much is left to credit, and of that so much was written up (calculation.md section 11).
func CreditOf(amount, left, up money.Amount, again bool) (Credit, error) {
	if amount == 0 || (amount > 0) != (left > 0) {
		return Credit{}, ErrOtherSign
	}
	if max(amount, -amount) > max(left, -left) {
		return Credit{}, ErrBeyondInvoice
	}
	c := Credit{Amount: amount, Again: again, Up: min(amount, up)}
	if amount < 0 {
		c.Up = max(amount, up)
	}
	return c, nil
}

// Ready is what of a credit is ready to bill once more.
func (c Credit) Ready() money.Amount {
	if c.Again {
		return c.Amount - c.Up
	}
	return 0
}

// Written is by how much what is written down of the work, less what is written up, changes: charge = billed + drafted + unbilled + held +
// written down - written up holds before and after.
func (c Credit) Written() money.Amount {
	if c.Again {
		return c.Up
	}
	return c.Amount
}

// InvoicedJob is what is left of one job on an invoice, after the credit notes on it so far.
type InvoicedJob struct {
	Job       int64
	Subtotal  money.Amount
	Percent   money.Percent // retained
	Held      money.Amount  // of it, on this invoice
	HeldOfJob money.Amount  // on all invoices
}

// InvoicedTax is what is left of one tax of an invoice: its base by job.
type InvoicedTax struct {
	Component TaxComponent
	Bases     map[int64]money.Amount // a job that it is not on has none
}

// charged is the tax on what is left of its bases: where tax on what is retained is due on its release, less that of what is held
// (calculation.md section 12).
func (t InvoicedTax) charged(jobs []InvoicedJob) (money.Amount, error) {
	var base, held money.Amount
	for _, j := range jobs {
		b := t.Bases[j.Job]
		base += b
		if !t.Component.OnRelease {
			continue
		}
		part, err := j.heldOf(b)
		if err != nil {
			return 0, err
		}
		held += part
	}
	tax, err := t.Component.Percent.Of(base)
	if err != nil {
		return 0, err
	}
	later, err := t.Component.Percent.Of(held)
	return tax - later, err
}

// heldOf is the share of a base that is still held: percent x base x held / retainage of the subtotal left, rounded; 0 where nothing is.
func (j InvoicedJob) heldOf(base money.Amount) (money.Amount, error) {
	whole, err := j.Percent.Of(j.Subtotal)
	if err != nil || whole == 0 || j.Held == 0 {
		return 0, err
	}
	part, err := j.Percent.Of(base)
	if err != nil || j.Held == whole {
		return part, err
	}
	n, err := money.Ratio(int64(whole), int64(part), int64(j.Held))
	return money.Amount(n), err
}

// Invoiced is what is left of an invoice.
type Invoiced struct {
	Jobs  []InvoicedJob
	Taxes []InvoicedTax
}

// Credit totals a credit note on an invoice: the tax of each component is what it changes by, and so is the retainage of each job, so that
// several notes give back exactly what was charged (calculation.md section 11). What is given back is above 0.
func (i Invoiced) Credit(credited []Source) (Totals, error) {
	after := i.less(credited)
	var t Totals
	for n, j := range i.Jobs {
		if j.Subtotal == after.Jobs[n].Subtotal {
			continue
		}
		share := JobShare{Job: j.Job, Subtotal: j.Subtotal - after.Jobs[n].Subtotal, RetainagePercent: j.Percent}
		left, err := j.Percent.Of(after.Jobs[n].Subtotal)
		if err != nil {
			return t, err
		}
		whole, err := j.Percent.Of(j.Subtotal)
		if err != nil {
			return t, err
		}
		share.Retainage = min(whole-left, max(0, min(j.Held, j.HeldOfJob)))
		if whole-left < 0 {
			share.Retainage = whole - left
		}
		after.Jobs[n].Held = j.Held - share.Retainage
		t.Jobs = append(t.Jobs, share)
		t.Subtotal += share.Subtotal
		t.Retainage += share.Retainage
	}
	for n, tax := range i.Taxes {
		before, err := tax.charged(i.Jobs)
		if err != nil {
			return t, err
		}
		left, err := after.Taxes[n].charged(after.Jobs)
		if err != nil {
			return t, err
		}
		base := money.Amount(0)
		for job, b := range tax.Bases {
			base += b - after.Taxes[n].Bases[job]
		}
		if base == 0 && before == left {
			continue
		}
		t.Taxes = append(t.Taxes, Tax{tax.Component, base, before - left})
		t.Tax += before - left
	}
	t.Total = t.Subtotal + t.Tax
	t.DueNow = t.Total - t.Retainage
	return t, i.allows(t)
}

func (i Invoiced) allows(t Totals) error {
	var left money.Amount
	for _, j := range i.Jobs {
		left += j.Subtotal
	}
	switch {
	case t.Subtotal <= 0:
		return ErrNothingCredited
	case t.Subtotal > left:
		return ErrBeyondInvoice
	case t.DueNow < 0:
		return ErrRaisesBalance
	}
	return nil
}

// less is what is left once some of it is credited.
func (i Invoiced) less(credited []Source) Invoiced {
	after := Invoiced{Jobs: slices.Clone(i.Jobs), Taxes: make([]InvoicedTax, len(i.Taxes))}
	for n, t := range i.Taxes {
		bases := map[int64]money.Amount{}
		for job, b := range t.Bases {
			bases[job] = b
		}
		after.Taxes[n] = InvoicedTax{t.Component, bases}
	}
	for _, c := range credited {
		for n := range after.Jobs {
			if after.Jobs[n].Job == c.Job {
				after.Jobs[n].Subtotal -= c.Amount
			}
		}
		for _, t := range after.Taxes {
			if _, on := t.Bases[c.Job]; on && slices.Contains(t.Component.AppliesTo, c.Category) {
				t.Bases[c.Job] -= c.Amount
			}
		}
	}
	return after
}
