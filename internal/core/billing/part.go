package billing

import (
	"errors"
	"fmt"
	"slices"

	"jarvo/internal/core/money"
)

// Way is how a part of what is charged for work was chosen (calculation.md section 7).
type Way string

// The ways of choosing a part.
const (
	TheRest    Way = "rest"     // all that is left
	AsFits     Way = "fit"      // what still fits within a limit
	ByHours    Way = "hours"    // so many minutes, the first that are free
	ByQuantity Way = "quantity" // so much of what was bought
	ByPercent  Way = "percent"  // so much of all of it
	ByAmount   Way = "amount"   // what was typed; beyond what is left it is written up
)

// Ways are the ways of choosing a part that a person has.
var Ways = []Way{TheRest, ByHours, ByQuantity, ByPercent, ByAmount}

// ErrOtherSign refuses a part that is charged where the work gives back, or the other way round.
var ErrOtherSign = errors.New("it has to have the same sign as what is charged")

// ErrHeld refuses to part or to write up work of which a limit holds some back.
var ErrHeld = errors.New("a limit holds some of it back; raise the limit first")

// BeyondError refuses a part of more hours, more of a quantity or a larger share than is left.
type BeyondError struct {
	Way  Way
	Left int64 // in the unit of the way
}

func (e *BeyondError) Error() string {
	switch e.Way {
	case ByHours:
		return fmt.Sprintf("only %s h of it are left", money.Minutes(e.Left).Short())
	case ByQuantity:
		return fmt.Sprintf("only %s of it are left", money.Quantity(e.Left))
	default:
		return fmt.Sprintf("only %s %% of it are left", money.Percent(e.Left))
	}
}

// Segment is the hours of one class of an entry, with what is charged for them.
type Segment struct {
	Minutes money.Minutes
	Charge  money.Amount
}

// Run is a stretch of the minutes of an entry: from the end of one minute to the end of another, counted from its first.
type Run struct{ From, To money.Minutes }

// Work is an entry or a cost line that is billed in parts, as far as other parts of it have come.
type Work struct {
	Charge   money.Amount
	Segments []Segment      // of an entry: regular first, then overtime and double
	Quantity money.Quantity // of a cost line
	// Left is the charge with what was written up, less what is billed, on drafts and written down.
	Left money.Amount
	Held money.Amount // of what is left: held back by a limit
	Runs []Run        // the minutes that other parts hold
	// Before is how much of it the parts by quantity or percent are that were made before this one, and Shared all others, of [Work.Whole].
	Before, Shared int64
}

// percentWhole is 100 % as [money.Percent] counts it.
const percentWhole = 1_000_000

// Whole is all of the work, as parts by quantity and percent are counted.
func (w Work) Whole() int64 { return w.quantity() * percentWhole }

// quantity is the quantity that parts are of: of an entry, or of a line without one, 1.
func (w Work) quantity() int64 {
	q := int64(w.Quantity)
	return max(1, q, -q)
}

// RestOfQuantity is what is left of the quantity beside other parts by quantity and percent.
func (w Work) RestOfQuantity() money.Quantity {
	rest := money.Quantity((w.Whole() - w.Shared) / percentWhole)
	if w.Quantity < 0 {
		return -rest
	}
	return rest
}

// Share is how much of the work a part by quantity or percent is, of [Work.Whole]; a part that is chosen in another way is none.
func (w Work) Share(way Way, typed int64) int64 {
	switch way {
	case ByQuantity:
		return typed * percentWhole
	case ByPercent:
		return typed * w.quantity()
	case TheRest, AsFits, ByHours, ByAmount:
	}
	return 0
}

// Minutes are all minutes of the work.
func (w Work) Minutes() (sum money.Minutes) {
	for _, g := range w.Segments {
		sum += g.Minutes
	}
	return sum
}

// Part is a part of work that is billed.
type Part struct {
	Amount money.Amount
	Up     money.Amount // of the amount: beyond what was left
	Runs   []Run        // the minutes that it holds
}

// Minutes are the minutes that a part holds.
func (p Part) Minutes() (sum money.Minutes) {
	for _, r := range p.Runs {
		sum += r.To - r.From
	}
	return sum
}

// Take gives a part of what is left of the work: typed is minutes, 1/1 000 of a unit, 1/10 000 of a percent or an amount, by the way.
func (w Work) Take(way Way, typed int64) (Part, error) {
	if way != TheRest && w.Held != 0 {
		return Part{}, ErrHeld
	}
	switch way {
	case TheRest:
		return Part{Amount: w.Left - w.Held, Runs: w.free(w.Minutes())}, nil
	case ByHours:
		return w.hours(money.Minutes(typed))
	case ByQuantity, ByPercent:
		return w.share(way, typed)
	case ByAmount:
		return w.amount(money.Amount(typed))
	case AsFits:
	}
	return Part{}, fmt.Errorf("no part can be chosen by %q", way)
}

// free are the first minutes, so many, that no other part holds.
func (w Work) free(minutes money.Minutes) []Run {
	held := slices.Clone(w.Runs)
	slices.SortFunc(held, func(a, b Run) int { return int(a.From - b.From) })
	var runs []Run
	at := money.Minutes(0)
	for _, h := range append(held, Run{From: w.Minutes(), To: w.Minutes()}) {
		if to := min(h.From, at+minutes); to > at {
			runs = append(runs, Run{at, to})
			minutes -= to - at
		}
		at = max(at, h.To)
	}
	return runs
}

func (w Work) hours(minutes money.Minutes) (Part, error) {
	p := Part{Runs: w.free(minutes)}
	switch {
	case minutes <= 0:
		return Part{}, errors.New("it has to be more than no time")
	case p.Minutes() < minutes:
		return Part{}, &BeyondError{ByHours, int64(p.Minutes())}
	case p.Runs[len(p.Runs)-1].To == w.Minutes():
		p.Amount = w.Left // whatever rounding has left over goes with the last minutes
		return p, nil
	}
	for _, r := range p.Runs {
		before, err := w.upTo(r.From)
		if err != nil {
			return Part{}, err
		}
		after, err := w.upTo(r.To)
		if err != nil {
			return Part{}, err
		}
		p.Amount += after - before
	}
	p.Amount = w.atMost(p.Amount)
	return p, nil
}

// upTo is what is charged for the first minutes of an entry.
func (w Work) upTo(minutes money.Minutes) (sum money.Amount, err error) {
	for _, g := range w.Segments {
		if minutes < g.Minutes {
			part, err := money.UpTo(g.Charge, int64(minutes), int64(g.Minutes))
			return sum + part, err
		}
		sum += g.Charge
		minutes -= g.Minutes
	}
	return sum, nil
}

func (w Work) share(way Way, typed int64) (Part, error) {
	share, whole := w.Share(way, typed), w.Whole()
	switch {
	case share <= 0:
		return Part{}, errors.New("it has to be more than nothing")
	case share > whole-w.Shared:
		left := (whole - w.Shared) / percentWhole
		if way == ByPercent {
			left = (whole - w.Shared) / w.quantity()
		}
		return Part{}, &BeyondError{way, left}
	}
	before, err := money.UpTo(w.Charge, w.Before, whole)
	if err != nil {
		return Part{}, err
	}
	after, err := money.UpTo(w.Charge, w.Before+share, whole)
	return Part{Amount: w.atMost(after - before)}, err
}

func (w Work) amount(a money.Amount) (Part, error) {
	switch {
	case a == w.Left:
		return Part{Amount: a, Runs: w.free(w.Minutes())}, nil
	case a > 0 && w.Charge < 0 || a < 0 && w.Charge > 0:
		return Part{}, ErrOtherSign
	}
	return Part{Amount: a, Up: a - w.atMost(a)}, nil
}

// atMost is an amount, or what is left where that is nearer to 0; of a charge of 0 nothing is left.
func (w Work) atMost(a money.Amount) money.Amount {
	switch {
	case w.Charge > 0:
		return min(a, max(w.Left, 0))
	case w.Charge < 0:
		return max(a, min(w.Left, 0))
	default:
		return 0
	}
}

// Rest is what a part leaves of the work: it waits for a later invoice, or some of it is written down.
func (w Work) Rest(p Part) money.Amount { return w.Left + p.Up - p.Amount }

// PriceEach is the price of one unit of a quantity that comes to an amount, where it is whole to the last digit of the currency.
func PriceEach(amount money.Amount, quantity money.Quantity) (price money.Amount, exact bool) {
	const unit = 1000 // quantities are kept in 1/1 000
	if quantity == 0 || int64(amount)*unit%int64(quantity) != 0 {
		return 0, false
	}
	return money.Amount(int64(amount) * unit / int64(quantity)), true
}
