package drafting

import (
	"cmp"
	"maps"
	"slices"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// Left is what is left of an issued invoice after the credit notes on it and the releases of its retainage, with its taxes as they were
// invoiced; the code of a component is its place among them.
func Left(s *book.Session, invoiceID int64) (billing.Invoiced, []store.InvoiceTax, error) {
	var left billing.Invoiced
	type share struct {
		billing.InvoicedJob `gorm:"embedded"`
		JobID               int64
		TaxCode             string
	}
	args := map[string]any{"invoice": invoiceID}
	shares, err := store.Query[share](s.Tx, sharesLeft, args)
	if err != nil {
		return left, nil, err
	}
	for _, j := range shares {
		j.Job = j.JobID
		left.Jobs = append(left.Jobs, j.InvoicedJob)
	}
	type base struct {
		JobID    int64
		Category string
		Left     money.Amount
	}
	bases, err := store.Query[base](s.Tx, basesLeft, args)
	if err != nil {
		return left, nil, err
	}
	taxes, err := store.All[store.InvoiceTax](s.Tx, "position", "invoice_id = ? AND deposit_id IS NULL", invoiceID)
	for i, t := range taxes {
		tax := billing.InvoicedTax{Bases: map[int64]money.Amount{}, Component: billing.TaxComponent{
			Code: int64(i), Name: t.Component, Percent: t.Percent, AppliesTo: strings.Fields(t.AppliesTo), OnRelease: t.OnRelease,
		}}
		for _, j := range shares {
			if j.TaxCode == t.TaxCode {
				tax.Bases[j.JobID] = 0
			}
		}
		for _, b := range bases {
			if _, on := tax.Bases[b.JobID]; on && slices.Contains(tax.Component.AppliesTo, b.Category) {
				tax.Bases[b.JobID] += b.Left
			}
		}
		left.Taxes = append(left.Taxes, tax)
	}
	return left, taxes, err
}

// released is what a draft releases of one job.
type released struct {
	JobID        int64
	Number, Name string
	Percent      money.Percent
	Amount       money.Amount
}

// layRelease works a draft out again that releases retainage: from which invoices it is taken, and the tax that becomes due with it. It
// says whether the draft is one.
func layRelease(s *book.Session, draft *store.Invoice) (bool, error) {
	jobs, err := store.Query[released](s.Tx, releasedOn, draft.ID)
	if err != nil || len(jobs) == 0 {
		return false, err
	}
	for _, table := range []string{"release_parts", "invoice_taxes", "invoice_jobs"} {
		if err := s.Exec("DELETE FROM "+table+" WHERE invoice_id = ?", draft.ID).Error; err != nil {
			return true, err
		}
	}
	from := map[int64]map[int64]money.Amount{} // by invoice and job
	var names []string
	draft.Subtotal, draft.Retainage, draft.Tax = 0, 0, 0
	for _, j := range jobs {
		if err := releaseOf(s, draft, j, from); err != nil {
			return true, err
		}
		draft.Retainage -= j.Amount
		names = append(names, j.Number+" "+j.Name)
	}
	taxes, err := ReleaseTaxes(s, from)
	if err != nil {
		return true, err
	}
	for _, t := range taxes {
		t.InvoiceID = draft.ID
		if err := s.Create(&t).Error; err != nil {
			return true, err
		}
		draft.Tax += t.Amount
	}
	draft.Total = draft.Tax
	draft.DueNow = draft.Total - draft.Retainage
	if err := layDeposits(s, draft); err != nil {
		return true, err
	}
	draft.Title = "Retainage released, " + strings.Join(names, ", ")
	return true, saveTotals(s, draft)
}

// releaseOf takes what is released of a job from the invoices that it is held on.
func releaseOf(s *book.Session, draft *store.Invoice, j released, from map[int64]map[int64]money.Amount) error {
	type heldOn struct {
		InvoiceID int64
		Held      money.Amount
	}
	held, err := store.Query[heldOn](s.Tx, heldOnInvoices, map[string]any{"job": j.JobID, "customer": draft.CustomerID})
	if err != nil {
		return err
	}
	amounts := make([]money.Amount, len(held))
	for i, h := range held {
		amounts[i] = h.Held
	}
	parts, err := billing.Release(j.Amount, amounts)
	if err != nil {
		return err
	}
	for i, part := range parts {
		if part == 0 {
			continue
		}
		row := store.ReleasePart{InvoiceID: draft.ID, JobID: j.JobID, FromID: held[i].InvoiceID, Amount: part}
		if err := s.Create(&row).Error; err != nil {
			return err
		}
		if from[row.FromID] == nil {
			from[row.FromID] = map[int64]money.Amount{}
		}
		from[row.FromID][j.JobID] += part
	}
	code, err := store.Value[string](s.Tx, codeHeldBy, map[string]any{"job": j.JobID, "invoice": draft.ID})
	if err != nil {
		return err
	}
	return s.Create(&store.InvoiceJob{
		InvoiceID: draft.ID, JobID: j.JobID, RetainagePercent: j.Percent, Retainage: -j.Amount, TaxCode: code,
	}).Error
}

// ReleaseTaxes are the taxes that become due with what is released by invoice and job, a row a component; below 0 where it is held again.
func ReleaseTaxes(s *book.Session, from map[int64]map[int64]money.Amount) (rows []store.InvoiceTax, _ error) {
	for _, invoice := range slices.Sorted(maps.Keys(from)) {
		left, taxes, err := Left(s, invoice)
		if err != nil {
			return nil, err
		}
		due, err := left.Release(from[invoice])
		if err != nil {
			return nil, err
		}
		for _, t := range due {
			was := taxes[t.Component.Code]
			at := slices.IndexFunc(rows, func(r store.InvoiceTax) bool {
				return r.TaxCode == was.TaxCode && r.Component == was.Component && r.Percent == was.Percent
			})
			if at < 0 {
				at = len(rows)
				rows = append(rows, store.InvoiceTax{
					TaxCode: was.TaxCode, Component: was.Component, Percent: was.Percent, AppliesTo: was.AppliesTo, OnRelease: true,
				})
			}
			rows[at].Amount += t.Tax
		}
	}
	slices.SortFunc(rows, func(a, b store.InvoiceTax) int {
		return cmp.Or(strings.Compare(a.TaxCode, b.TaxCode), strings.Compare(a.Component, b.Component), cmp.Compare(a.Percent, b.Percent))
	})
	for i := range rows {
		rows[i].Position = i + 1
	}
	return rows, nil
}
