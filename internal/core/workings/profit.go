package workings

import (
	"fmt"

	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
	"jarvo/internal/core/profit"
)

// Part is a phase of a job, or what is booked to none, with what it is called.
type Part struct {
	profit.Part
	From Record
}

// CostKind is what one kind of cost comes to.
type CostKind struct {
	Category string
	Cost     money.Amount
}

// OfProfit shows how a job's profit came about: what each part has earned, less each kind of cost (calculation.md section 9).
func (s Show) OfProfit(parts []Part, kinds []CostKind) (Step, error) {
	var earned []Step
	for _, p := range parts {
		step, err := s.earned(p)
		if err != nil {
			return Step{}, err
		}
		if step != nil {
			earned = append(earned, *step)
		}
	}
	var costs []Step
	for _, k := range kinds {
		costs = append(costs, Step{Label: k.Category, Result: s.Amount(-k.Cost)})
	}
	return s.Sum("Profit", []Step{s.Sum("Earned", earned), s.Sum("Cost", costs)}), nil
}

// earned is what a part has earned; nil where there is nothing to show.
func (s Show) earned(p Part) (*Step, error) {
	total, err := p.Earned()
	if err != nil || total == 0 && p.Billed == 0 && p.Unbilled == 0 {
		return nil, err
	}
	from := &p.From
	billed := Step{Label: "billed", Operands: []Operand{{"billed", s.Amount(p.Billed), from}}, Result: s.Amount(p.Billed)}
	switch {
	case p.Basis == billing.TimeAndMaterials && p.Unbilled == 0:
		billed.Label, billed.Formula = p.From.Text, "billed"
		return &billed, nil
	case p.Basis == billing.TimeAndMaterials && p.Billed == 0:
		return &Step{Label: p.From.Text, Operands: []Operand{{"unbilled", s.Amount(p.Unbilled), from}}, Result: s.Amount(p.Unbilled)}, nil
	case p.Basis == billing.TimeAndMaterials:
		ready := Step{Label: "ready to bill", Operands: []Operand{{"unbilled", s.Amount(p.Unbilled), from}}, Result: s.Amount(p.Unbilled)}
		step := s.Sum(p.From.Text, []Step{billed, ready})
		return &step, nil
	case p.Basis == billing.Fixed && p.Expected != nil && *p.Expected > 0:
		return &Step{
			Label: p.From.Text,
			Formula: fmt.Sprintf(
				"%s x %s / %s, at most the contract", s.Currency.Format(p.Contract), s.Currency.Format(p.Cost), s.Currency.Format(*p.Expected),
			),
			Operands: []Operand{
				{"contract", s.Amount(p.Contract), from}, {"cost", s.Amount(p.Cost), from}, {"expected cost", s.Amount(*p.Expected), from},
			}, Result: s.Amount(total),
		}, nil
	default:
		billed.Label, billed.Formula = p.From.Text, "what is billed"
		return &billed, nil
	}
}
