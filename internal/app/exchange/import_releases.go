package exchange

import (
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// releaseIn is what an invoice of a bundle releases of a job, or of that what was held on one invoice.
type releaseIn struct {
	cell
	job    int64
	from   string // blank: all of it
	amount money.Amount
}

func (in *billedIn) release(c cell) {
	r := releaseIn{cell: c, job: store.ID(c.refer("job", "jobs")), from: c.Get("from"), amount: c.amount("amount")}
	i := in.under(c)
	if r.from == "" && i != nil && (r.amount < 0) != (i.on != "") || r.amount == 0 {
		c.wrong("amount", "what is released is more than 0, and below 0 on a credit note")
	}
	if i != nil {
		i.release = append(i.release, r)
	}
}

// released is what an invoice releases in all.
func (i *invoiceIn) released() (sum money.Amount) {
	for _, r := range i.release {
		if r.from == "" {
			sum += r.amount
		}
	}
	return sum
}

// saveReleases saves what an invoice releases; of an issued one also from which invoices that was taken.
func (in *billedIn) saveReleases(i *invoiceIn) error {
	for _, r := range i.release {
		if r.from == "" {
			if err := in.Create(&store.Release{InvoiceID: i.ID, JobID: r.job, Amount: r.amount}).Error; err != nil {
				return err
			}
			continue
		}
		found, err := store.Query[int64](in.Tx, "SELECT id FROM invoices WHERE status = 'issued' AND prefix || number = ?", r.from)
		if err != nil {
			return err
		}
		if len(found) == 0 {
			r.wrong("from", "there is no issued invoice %q", r.from)
			return r.good(0)
		}
		row := store.ReleasePart{InvoiceID: i.ID, JobID: r.job, FromID: found[0], Amount: r.amount}
		if err := in.Create(&row).Error; err != nil {
			return err
		}
	}
	return nil
}
