// Package workings holds how a figure came about, as a tree of steps that a person can check by
// hand: the leaves under a sum add up to it.
package workings

import (
	"jarvo/internal/core/money"
)

// Unit says what a value counts.
type Unit string

// The units of a value.
const (
	Money   Unit = "money"
	Rate    Unit = "rate"
	Hours   Unit = "hours"
	Percent Unit = "percent"
	Factor  Unit = "factor"
	Count   Unit = "quantity"
)

// Value is a number in its unit, as it is shown.
type Value struct {
	Number int64  `json:"-"`
	Unit   Unit   `json:"unit" enum:"money,rate,hours,percent,factor,quantity"`
	Text   string `json:"text"`
}

// Record is where an operand came from.
type Record struct {
	Kind string `json:"kind"`
	ID   int64  `json:"id"`
	Text string `json:"text"`
}

// Operand is one number that went into a step.
type Operand struct {
	Label string  `json:"label"`
	Value Value   `json:"value"`
	From  *Record `json:"from,omitempty"`
}

// Step is one figure and how it came about: from its operands, or as the sum of its steps.
type Step struct {
	Label    string    `json:"label"`
	Formula  string    `json:"formula,omitempty"`
	Column   string    `json:"column,omitempty" doc:"regular, overtime or double for a part in that pay class"`
	Operands []Operand `json:"operands,omitempty"`
	Result   Value     `json:"result"`
	Steps    []Step    `json:"steps,omitempty"`
}

// Show makes values in a company's currency.
type Show struct{ Currency money.Currency }

// Amount is a value of money.
func (s Show) Amount(a money.Amount) Value {
	return Value{int64(a), Money, s.Currency.Format(a)}
}

// Rate is a value of money a unit.
func (s Show) Rate(r money.Rate) Value { return Value{int64(r), Rate, s.Currency.FormatRate(r)} }

// Time is a value of hours.
func (s Show) Time(m money.Minutes) Value { return Value{int64(m), Hours, m.Hours()} }

// Percent is a value of percent.
func (s Show) Percent(p money.Percent) Value { return Value{int64(p), Percent, p.String()} }

// Factor is a value of a factor.
func (s Show) Factor(f money.Factor) Value { return Value{int64(f), Factor, f.String()} }

// Quantity is a value of a count.
func (s Show) Quantity(q money.Quantity) Value { return Value{int64(q), Count, q.String()} }

// Sum is a step whose result is the sum of its steps, in money.
func (s Show) Sum(label string, steps []Step) Step {
	var total money.Amount
	for _, step := range steps {
		total += money.Amount(step.Result.Number)
	}
	return Step{Label: label, Result: s.Amount(total), Steps: steps}
}

// Leaves are the steps of money that nothing is under.
func (s Step) Leaves() []Step {
	if len(s.Steps) == 0 {
		return []Step{s}
	}
	var leaves []Step
	for _, step := range s.Steps {
		leaves = append(leaves, step.Leaves()...)
	}
	return leaves
}
