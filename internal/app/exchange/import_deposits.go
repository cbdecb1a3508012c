package exchange

import (
	"slices"

	"jarvo/internal/app/drafting"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// taxIn is a tax of an invoice of a bundle; what is deducted was charged on a deposit.
type taxIn struct {
	store.InvoiceTax
	cell
	deposit string
}

// appliedIn is what of a deposit is applied to an invoice of a bundle.
type appliedIn struct {
	cell
	deposit string
	amount  money.Amount
}

func (in *billedIn) appliedDeposit(c cell) {
	a := appliedIn{cell: c, deposit: c.Get("deposit"), amount: c.amount("amount")}
	if a.amount <= 0 {
		c.wrong("amount", "what is applied of a deposit is more than 0")
	}
	if i := in.under(c); i != nil {
		i.applied = append(i.applied, a)
	}
}

// depositAlone refuses an invoice that asks for a deposit and for something else.
func (i *invoiceIn) depositAlone() {
	asks := slices.ContainsFunc(i.typed, func(t store.TypedLine) bool { return t.Kind == drafting.DepositLine })
	if asks && len(i.typed)+len(i.sources)+len(i.release) > 1 {
		i.wrong("", "a deposit is asked for on an invoice of its own, in one line; %s has more", i.ref)
	}
}

// prepaid is what is applied to an invoice in all.
func (i *invoiceIn) prepaid() (sum money.Amount) {
	for _, a := range i.applied {
		sum += a.amount
	}
	return sum
}

// depositOf finds the issued invoice of the customer that asked for a deposit.
func (in *billedIn) depositOf(i *invoiceIn, c cell, column, number string) (*int64, error) {
	found, err := store.Query[int64](in.Tx, depositByNumber, map[string]any{"number": number, "customer": i.CustomerID})
	if err != nil {
		return nil, err
	}
	if len(found) == 0 {
		c.wrong(column, "there is no deposit %q of this customer that was issued before", number)
		return nil, c.good(0)
	}
	return &found[0], nil
}

func (in *billedIn) saveApplied(i *invoiceIn) error {
	for _, a := range i.applied {
		deposit, err := in.depositOf(i, a.cell, "deposit", a.deposit)
		if err != nil {
			return err
		}
		if err := in.Create(&store.AppliedDeposit{InvoiceID: i.ID, DepositID: *deposit, Amount: a.amount}).Error; err != nil {
			return err
		}
	}
	return nil
}

func (in *billedIn) saveTaxes(i *invoiceIn) error {
	for _, t := range i.taxes {
		t.InvoiceID = i.ID
		if t.deposit != "" {
			deposit, err := in.depositOf(i, t.cell, "deposit", t.deposit)
			if err != nil {
				return err
			}
			t.DepositID = deposit
		}
		if _, err := store.Insert(in.Tx, &t.InvoiceTax); err != nil {
			return err
		}
	}
	return nil
}
