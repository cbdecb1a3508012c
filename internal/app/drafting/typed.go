package drafting

import (
	"slices"

	"jarvo/internal/app/book"
	"jarvo/internal/core/billing"
	"jarvo/internal/store"
)

// The kinds of what is typed on an invoice.
const (
	OwnLine      = "line"
	DiscountLine = "discount"
)

// withTyped adds what was typed on a draft to what it bills of work: lines, and discounts as what they take off each job and kind of cost.
func withTyped(s *book.Session, draft store.Invoice, sources []DraftSource) ([]DraftSource, error) {
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

// LeftOn counts what a draft has on it, beside discounts: work and lines.
func LeftOn(s *book.Session, draftID int64) (int64, error) {
	return store.Value[int64](s.Tx, leftOn, map[string]any{"invoice": draftID})
}
