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

// Contract is the agreed amount with the approved change orders.
func Contract(agreed money.Amount, changes ...money.Amount) (money.Amount, error) {
	return money.Sum(append(changes, agreed)...)
}

// Kind is what one kind of cost of a part comes to against its plan.
type Kind struct {
	Budget, Cost money.Amount
	Committed    money.Amount  // ordered from suppliers, not yet in a cost document
	Forecast     *money.Amount // typed by the bookkeeper, in place of what follows from the rest
}

// Expected is the expected cost at completion: the larger of the budget and what is spent and committed, unless there
// is a forecast.
func (k Kind) Expected() money.Amount {
	if k.Forecast != nil {
		return *k.Forecast
	}
	return max(k.Budget, k.Cost+k.Committed)
}

// Expected sums the expected cost of a part's kinds of cost; nil where none of them has a budget or a forecast to
// measure by.
func Expected(kinds []Kind) (*money.Amount, error) {
	planned, amounts := false, make([]money.Amount, len(kinds))
	for i, k := range kinds {
		planned = planned || k.Budget != 0 || k.Forecast != nil
		amounts[i] = k.Expected()
	}
	if !planned {
		return nil, nil
	}
	total, err := money.Sum(amounts...)
	return &total, err
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

// OverBilled is what is billed beyond what is earned; below 0 the job is under-billed.
func (j Job) OverBilled() money.Amount { return j.Billed - j.Earned }

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
