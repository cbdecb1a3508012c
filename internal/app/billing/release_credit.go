package billing

import (
	"jarvo/internal/app/drafting"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// heldAgain is what a note on a release gives back of one job that was taken from one invoice; there it is held again.
type heldAgain struct {
	JobID, FromID int64
	Left          money.Amount // of what was taken from it
}

// totalRelease works a note on a release out: what is held again of each job, and the tax that is due no more (calculation.md section 12).
func (n *creditNote) totalRelease() error {
	parts, err := store.Query[heldAgain](n.Tx, releasePartsLeft, n.invoice.ID)
	if err != nil {
		return err
	}
	from := map[int64]map[int64]money.Amount{} // by invoice and job, below 0
	for _, r := range n.credited {
		n.totals.Jobs = append(n.totals.Jobs, billing.JobShare{Job: r.JobID, Retainage: -r.credit.Amount})
		n.totals.Retainage -= r.credit.Amount
		var of []heldAgain
		for _, p := range parts {
			if p.JobID == r.JobID {
				of = append(of, p)
			}
		}
		left := make([]money.Amount, len(of))
		for i, p := range of {
			left[i] = p.Left
		}
		for i, amount := range billing.HoldAgain(r.credit.Amount, left) {
			if amount == 0 {
				continue
			}
			if from[of[i].FromID] == nil {
				from[of[i].FromID] = map[int64]money.Amount{}
			}
			from[of[i].FromID][r.JobID] = -amount
		}
	}
	if n.taxes, err = drafting.ReleaseTaxes(n.Session, from); err != nil {
		return err
	}
	for i, t := range n.taxes {
		n.totals.Taxes = append(n.totals.Taxes, billing.Tax{Component: billing.TaxComponent{Code: int64(i)}, Tax: -t.Amount})
		n.totals.Tax -= t.Amount
	}
	n.totals.Total = n.totals.Tax
	n.totals.DueNow = n.totals.Total - n.totals.Retainage
	n.from = from
	return nil
}

// saveRelease keeps what a note on a release gives back.
func (n *creditNote) saveRelease() error {
	for _, r := range n.credited {
		if err := n.Create(&store.Release{InvoiceID: n.note.ID, JobID: r.JobID, Amount: -r.credit.Amount}).Error; err != nil {
			return err
		}
	}
	for from, jobs := range n.from {
		for job, amount := range jobs {
			if err := n.Create(&store.ReleasePart{InvoiceID: n.note.ID, JobID: job, FromID: from, Amount: amount}).Error; err != nil {
				return err
			}
		}
	}
	return nil
}
