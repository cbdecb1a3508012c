package billing

import (
	"errors"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
)

// ErrBeyondContract refuses to bill more of a fixed price than was agreed, unless whoever bills confirms it.
var ErrBeyondContract = errors.New("that is more than the contract; say so to bill beyond it, or add a change order first")

// FixedPrice is work at an agreed price, contract and approved change orders together (calculation.md section 7).
type FixedPrice struct {
	Contract, Billed money.Amount
	// Beyond says that billing more than the contract is meant.
	Beyond bool
}

// ByAmount bills an amount.
func (f FixedPrice) ByAmount(a money.Amount) (money.Amount, error) {
	total, err := money.Sum(f.Billed, a)
	if err != nil {
		return 0, err
	}
	if total > f.Contract && !f.Beyond {
		return 0, ErrBeyondContract
	}
	return a, nil
}

// ByPercent bills what is left of a percentage complete: contract x percent - billed before. It is below 0 where more
// was billed than is complete.
func (f FixedPrice) ByPercent(complete money.Percent) (money.Amount, error) {
	done, err := complete.Of(f.Contract)
	if err != nil {
		return 0, err
	}
	return f.ByAmount(done - f.Billed)
}

// Instalment is a part of an agreed price that falls due on a date.
type Instalment struct {
	Due    calendar.Date
	Amount money.Amount
}

// BySchedule bills what has fallen due by a date and is not billed yet.
func (f FixedPrice) BySchedule(schedule []Instalment, on calendar.Date) (money.Amount, error) {
	due := -f.Billed
	for _, i := range schedule {
		if i.Due <= on {
			due += i.Amount
		}
	}
	return f.ByAmount(max(0, due))
}

// Schedule parts a contract into instalments by their shares, with no cent lost.
func Schedule(contract money.Amount, shares []money.Percent, due []calendar.Date) []Instalment {
	weights := make([]int64, len(shares))
	for i, s := range shares {
		weights[i] = int64(s)
	}
	schedule := make([]Instalment, len(shares))
	for i, amount := range money.Spread(contract, weights) {
		schedule[i] = Instalment{due[i], amount}
	}
	return schedule
}

// CostOfPart is what a part of a charge cost, as parts of a whole by amount: so much was billed before it. It is at most all of the cost;
// of a charge of 0 the first part has it (calculation.md section 7).
func CostOfPart(cost, charge, before, amount money.Amount) (money.Amount, error) {
	if charge == 0 {
		if before != 0 {
			return 0, nil
		}
		return cost, nil
	}
	upTo := func(done money.Amount) (money.Amount, error) {
		if charge < 0 {
			done = -done
		}
		whole := max(charge, -charge)
		return money.UpTo(cost, int64(min(max(done, 0), whole)), int64(whole))
	}
	had, err := upTo(before)
	if err != nil {
		return 0, err
	}
	now, err := upTo(before + amount)
	return now - had, err
}
