package billing

import (
	"slices"

	"jarvo/internal/core/money"
)

// Discount is taken off what an invoice bills: a share of it or an amount, of a job or of all, of a kind of cost or of all (calculation.md
// section 8).
type Discount struct {
	Job      int64         // 0: of all jobs
	Category string        // blank: of all kinds
	Percent  money.Percent // 0: the amount
	Amount   money.Amount  // above 0
}

// Of gives what a discount takes off each job and kind of cost, so that the tax and the retainage of each are right: a share of each sum,
// rounded, or the amount spread over the sums. What it finds nothing of takes nothing off.
func (d Discount) Of(sources []Source) ([]Source, error) {
	var off []Source
	var sums []int64
	for _, s := range sources {
		if d.Job != 0 && s.Job != d.Job || d.Category != "" && s.Category != d.Category {
			continue
		}
		at := slices.IndexFunc(off, func(o Source) bool { return o.Job == s.Job && o.Category == s.Category })
		if at < 0 {
			at = len(off)
			off = append(off, Source{Job: s.Job, TaxCode: s.TaxCode, Category: s.Category, Own: true})
			sums = append(sums, 0)
		}
		sums[at] += int64(s.Amount)
	}
	if d.Percent == 0 {
		for i, amount := range money.Spread(-d.Amount, sums) {
			off[i].Amount = amount
		}
		return off, nil
	}
	for i, sum := range sums {
		part, err := d.Percent.Of(money.Amount(sum))
		if err != nil {
			return nil, err
		}
		off[i].Amount = -part
	}
	return off, nil
}
