package workings

import (
	"fmt"

	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
	"jarvo/internal/core/profit"
)

// Part is a part of a job with what it is called.
type Part struct {
	profit.Part
	From Record
}

// CostKind is what one kind of cost comes to.
type CostKind struct {
	Category string
	Cost     money.Amount
}

// OfProfit shows how a job's profit came about: what each part has earned, less each kind of cost, and what of a loss foreseen is provided
// for (calculation.md section 9).
func (s Show) OfProfit(parts []Part, kinds []CostKind) (Step, error) {
	var earned, costs, provided []Step
	for _, p := range parts {
		r, err := p.Result()
		if err != nil {
			return Step{}, err
		}
		if step := s.earned(p, r); step != nil {
			earned = append(earned, *step)
		}
		if r.Provision != 0 {
			provided = append(provided, Step{
				Label: p.From.Text,
				Formula: fmt.Sprintf(
					"(%s - %s) - (%s - %s): the loss foreseen, less what of it shows", s.Currency.Format(*p.Contract), s.Currency.Format(r.Expected),
					s.Currency.Format(r.Earned), s.Currency.Format(r.Cost),
				),
				Operands: s.measures(p, r), Result: s.Amount(r.Provision),
			})
		}
	}
	for _, k := range kinds {
		costs = append(costs, Step{Label: k.Category, Result: s.Amount(-k.Cost)})
	}
	steps := []Step{s.Sum("Earned", earned), s.Sum("Cost", costs)}
	if len(provided) > 0 {
		steps = append(steps, s.Sum("Provision for a loss", provided))
	}
	return s.Sum("Profit", steps), nil
}

func (s Show) measures(p Part, r profit.Result) []Operand {
	from := &p.From
	return []Operand{
		{"contract", s.Amount(*p.Contract), from}, {"cost", s.Amount(r.Cost), from}, {"expected cost", s.Amount(r.Expected), from},
	}
}

// earned is what a part has earned; nil where there is nothing to show.
func (s Show) earned(p Part, r profit.Result) *Step {
	if r.Earned == 0 && p.Billing == (profit.Billing{}) {
		return nil
	}
	step := Step{Label: p.From.Text, Result: s.Amount(r.Earned), Operands: []Operand{{"billed", s.Amount(p.Billed), &p.From}}}
	switch {
	case p.Basis == billing.TimeAndMaterials:
		return s.charged(p)
	case p.Basis != billing.Fixed || p.Contract == nil:
		step.Formula = "what is billed"
		return &step
	}
	step.Operands = s.measures(p, r)
	switch contract := s.Currency.Format(*p.Contract); {
	case p.Finished:
		step.Formula = contract + ", all of it: the job is finished"
	case r.Unmeasured:
		step.Formula = fmt.Sprintf("%s or %s, the smaller: there is no budget to measure it by", s.Currency.Format(r.Cost), contract)
	default:
		step.Formula = fmt.Sprintf("%s x %s / %s, at most the contract", contract, s.Currency.Format(r.Cost), s.Currency.Format(r.Expected))
	}
	return &step
}

// charged is what work on time and materials has earned: billed, on drafts and ready to bill.
func (s Show) charged(p Part) *Step {
	var steps []Step
	for _, of := range []struct {
		label  string
		amount money.Amount
	}{{"billed", p.Billed}, {"on drafts", p.Drafted}, {"ready to bill", p.Unbilled}} {
		if of.amount != 0 {
			steps = append(steps, Step{
				Label: of.label, Operands: []Operand{{of.label, s.Amount(of.amount), &p.From}}, Result: s.Amount(of.amount),
			})
		}
	}
	if len(steps) == 1 {
		steps[0].Formula, steps[0].Label = steps[0].Label, p.From.Text
		return &steps[0]
	}
	step := s.Sum(p.From.Text, steps)
	return &step
}
