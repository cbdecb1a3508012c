package billing

import (
	"errors"

	"jarvo/internal/core/money"
)

// ErrBeyondContract refuses to bill more of a fixed price than was agreed, unless whoever bills confirms it.
var ErrBeyondContract = errors.New("that is more than the contract; say so to bill beyond it, or add a change order first")

// ErrStored refuses more stored materials than what is left of a line to do.
var ErrStored = errors.New("no more can be stored than what is left of the line to do")

// Progress is a line of a schedule of values, or all of a fixed price without one: what was agreed, and what of it was billed before or
// is on other drafts, with what a credit note allowed and without what it credited to bill again (calculation.md section 7).
type Progress struct{ Contract, Before money.Amount }

// ToBill is what is left to bill of a line at a percentage complete, with stored materials that are not built in yet: percent x contract,
// rounded, + stored - billed before. It is below 0 where more was billed than is complete.
func (p Progress) ToBill(complete money.Percent, stored money.Amount) (money.Amount, error) {
	done, err := complete.Of(p.Contract)
	if err != nil {
		return 0, err
	}
	if stored < 0 || stored > max(0, p.Contract-done) {
		return 0, ErrStored
	}
	return done + stored - p.Before, nil
}

// Within refuses to bill so much more of a contract of which so much was billed, unless that is confirmed.
func Within(contract, billed, now money.Amount, beyond bool) error {
	total, err := money.Sum(billed, now)
	if err == nil && now > 0 && total > contract && !beyond {
		err = ErrBeyondContract
	}
	return err
}

// Instalment is a part of an agreed price that was agreed beforehand: an amount, a percentage of the contract, or what is left of it.
type Instalment struct {
	Amount  money.Amount
	Percent money.Percent
	Rest    bool
}

// ToBill is what is left to bill of an instalment of a contract, of which so much was billed in all and so much by this instalment. The
// rest is of the contract as it is now, and no instalment goes beyond it.
func (i Instalment) ToBill(contract, billed, ofIt money.Amount) (money.Amount, error) {
	rest := contract - billed
	if i.Rest {
		return rest, nil
	}
	amount := i.Amount
	if i.Percent != 0 {
		var err error
		if amount, err = i.Percent.Of(contract); err != nil {
			return 0, err
		}
	}
	return min(amount-ofIt, max(rest, 0)), nil
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
