package drafting

import (
	"errors"
	"slices"

	"jarvo/internal/app/book"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// The kinds of what is typed on an invoice.
const (
	OwnLine        = "line"
	DiscountLine   = "discount"
	ProgressLine   = "progress"
	InstalmentLine = "instalment"
	DepositLine    = "deposit"
)

// withTyped adds what was typed on a draft to what it bills of work: lines, and discounts as what they take off each job and kind of cost.
func withTyped(s *book.Session, draft store.Invoice, sources []DraftSource) ([]DraftSource, error) {
	if err := followFixed(s, draft); err != nil {
		return nil, err
	}
	lines, err := store.Query[DraftSource](s.Tx, typedLines, map[string]any{"invoice": draft.ID})
	if err != nil {
		return nil, err
	}
	sources = append(sources, lines...)
	discounts, err := store.All[store.TypedLine](s.Tx, "position", "invoice_id = ? AND kind = ?", draft.ID, DiscountLine)
	before := coreSources(s, sources)
	for _, d := range discounts {
		rule := billing.Discount{Job: store.ID(d.JobID), Category: d.Category, Percent: d.Percent}
		if d.Percent == 0 {
			rule.Amount = -d.Amount
		}
		off, err := rule.Of(before)
		if err != nil {
			return nil, err
		}
		d.Amount = 0
		for _, o := range off {
			src := sources[slices.IndexFunc(sources, func(src DraftSource) bool { return src.JobID == o.Job })]
			sources = append(sources, DraftSource{
				TypedID: d.ID, JobID: src.JobID, JobNumber: src.JobNumber, JobName: src.JobName, Category: o.Category, Date: draft.Date,
				Charge: o.Amount, Amount: o.Amount, Text: d.Text, Retainage: src.Retainage, TaxExempt: src.TaxExempt, JobTax: src.JobTax,
				CustomerTax: src.CustomerTax, NumberOrder: src.NumberOrder,
			})
			d.Amount += o.Amount
		}
		if d.Percent == 0 {
			continue
		}
		if err := s.Exec("UPDATE typed_lines SET amount = ? WHERE id = ? AND amount <> ?", d.Amount, d.ID, d.Amount).Error; err != nil {
			return nil, err
		}
	}
	return sources, err
}

// fixedPart is what a draft bills of a fixed price, with what is agreed of it and was billed elsewhere.
type fixedPart struct {
	ID                          int64
	JobID                       int64
	Amount                      money.Amount
	InstalmentID                *int64
	Complete                    *money.Percent
	Stored                      money.Amount
	Contract, Line              money.Amount // of the job, of the line of its schedule
	Agreed                      money.Amount // of the instalment
	Percent                     money.Percent
	Rest                        bool
	OfJob, OfLine, OfInstalment money.Amount // billed, and on other drafts
}

// now is what is to bill of it as the contract stands, with so much of the job further up on the draft.
func (f *fixedPart) now(above money.Amount) (money.Amount, error) {
	switch {
	case f.InstalmentID != nil:
		return billing.Instalment{Amount: f.Agreed, Percent: f.Percent, Rest: f.Rest}.ToBill(f.Contract, f.OfJob+above, f.OfInstalment)
	case f.Complete != nil:
		line := billing.Progress{Contract: f.Line, Before: f.OfLine}
		amount, err := line.ToBill(*f.Complete, f.Stored)
		if !errors.Is(err, billing.ErrStored) {
			return amount, err
		}
		done, err := f.Complete.Of(f.Line) // the line has become smaller
		f.Stored = max(0, f.Line-done)
		return done + f.Stored - f.OfLine, err
	}
	return f.Amount, nil
}

// followFixed brings what a draft bills of fixed prices up to date with what is agreed now.
func followFixed(s *book.Session, draft store.Invoice) error {
	parts, err := store.Query[fixedPart](s.Tx, fixedParts, map[string]any{"invoice": draft.ID})
	above := map[int64]money.Amount{}
	for _, f := range parts {
		stored := f.Stored
		amount, err := f.now(above[f.JobID])
		if err != nil {
			return err
		}
		above[f.JobID] += amount
		if amount == f.Amount && stored == f.Stored {
			continue
		}
		if err := s.Exec("UPDATE typed_lines SET amount = ?, stored = ? WHERE id = ?", amount, f.Stored, f.ID).Error; err != nil {
			return err
		}
	}
	return err
}

// LeftOn counts what a draft has on it, beside discounts: work and lines.
func LeftOn(s *book.Session, draftID int64) (int64, error) {
	return store.Value[int64](s.Tx, leftOn, map[string]any{"invoice": draftID})
}
