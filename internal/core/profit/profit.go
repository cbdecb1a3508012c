// Package profit says whether a job is making money (calculation.md section 9).
package profit

import (
	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
)

// Part is a phase of a job, or what is booked to no phase.
type Part struct {
	Basis    billing.Basis
	Contract money.Amount
	// Expected is the expected cost at completion; nil where there is no budget and no forecast.
	Expected *money.Amount
	Cost     money.Amount
	Billed   money.Amount
	Unbilled money.Amount
}

// Earned is what a part has earned: billed and unbilled on time and materials; the contract by
// cost over expected cost, at most all of it, on a fixed price; what is billed otherwise.
func (p Part) Earned() (money.Amount, error) {
	switch {
	case p.Basis == billing.TimeAndMaterials:
		return money.Sum(p.Billed, p.Unbilled)
	case p.Basis == billing.Fixed && p.Expected != nil && *p.Expected > 0:
		earned, err := money.Ratio(int64(*p.Expected), int64(p.Contract), int64(p.Cost))
		return min(money.Amount(earned), p.Contract), err
	default:
		return p.Billed, nil
	}
}

// Job is the money of one job.
type Job struct {
	Cost, Billed, Unbilled, Earned, Profit money.Amount
	Margin                                 money.Percent
	HasMargin                              bool
}

// Of sums a job over its parts.
func Of(parts []Part) (Job, error) {
	var j Job
	for _, p := range parts {
		earned, err := p.Earned()
		if err != nil {
			return j, err
		}
		j.Cost += p.Cost
		j.Billed += p.Billed
		j.Unbilled += p.Unbilled
		j.Earned += earned
	}
	j.Profit = j.Earned - j.Cost
	j.Margin, j.HasMargin = money.Share(j.Profit, j.Earned)
	return j, nil
}
