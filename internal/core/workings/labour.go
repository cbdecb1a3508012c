package workings

import (
	"fmt"

	"jarvo/internal/core/burden"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/labour"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
)

// Labour is how an entry's cost and charge came about.
type Labour struct {
	Hours  Step  `json:"hours"`
	Cost   *Step `json:"cost,omitempty" doc:"absent where the worker has no wage on the date"`
	Charge *Step `json:"charge,omitempty" doc:"absent where there is no price"`
}

// OfLabour shows the segments that terms gave an entry of a date.
func (s Show) OfLabour(terms labour.Terms, on calendar.Date, segments []labour.Segment) Labour {
	total := labour.Total(segments)
	out := Labour{Hours: s.hours(segments)}
	if total.Cost != nil {
		cost := s.cost(terms, on, segments)
		out.Cost = &cost
	}
	if total.Charge != nil {
		charge := s.charge(terms.Factors, segments)
		out.Charge = &charge
	}
	return out
}

func (s Show) hours(segments []labour.Segment) Step {
	var total money.Minutes
	var steps []Step
	for _, g := range segments {
		total += g.Minutes
		steps = append(steps, Step{Label: g.Class.String(), Column: g.Class.String(), Result: s.Time(g.Minutes)})
	}
	return Step{Label: "Hours", Result: s.Time(total), Steps: steps}
}

func (s Show) cost(terms labour.Terms, on calendar.Date, segments []labour.Segment) Step {
	pay, wage, _ := terms.Pay(on)
	if week := weekOf(segments); week != nil {
		return s.weekly(wage, *week, segments)
	}
	wageFrom := &Record{"wage", wage.ID, "since " + wage.From.String()}
	var gross []Step
	for _, g := range segments {
		factor := pay.Factor(g.Class)
		gross = append(gross, Step{
			Label: g.Class.String(), Column: g.Class.String(),
			Formula: fmt.Sprintf("%s h x %s x %s", g.Minutes.Hours(), s.Currency.FormatRate(wage.Rate), factor),
			Operands: []Operand{
				{"hours", s.Time(g.Minutes), nil},
				{"wage", s.Rate(wage.Rate), wageFrom},
				{"factor", s.Factor(factor), nil},
			},
			Result: s.Amount(g.Gross),
		})
	}
	steps := []Step{s.Sum("Wage "+s.Currency.FormatRate(wage.Rate), gross)}
	steps[0].Operands = []Operand{{"wage", s.Rate(wage.Rate), wageFrom}}
	if len(segments) > 0 {
		for i := range segments[0].Detail.Parts {
			steps = append(steps, s.component(i, segments))
		}
	}
	return s.Sum("Cost", steps)
}

// weekOf is the week that segments have a share of, nil where they are paid by the hour.
func weekOf(segments []labour.Segment) *labour.Week {
	if len(segments) == 0 {
		return nil
	}
	return segments[0].Detail.Week
}

// weekly is the cost of an entry that has its share of a week's pay.
func (s Show) weekly(wage labour.Wage, week labour.Week, segments []labour.Segment) Step {
	wageFrom := &Record{"wage", wage.ID, "since " + wage.From.String()}
	var gross []Step
	for _, g := range segments {
		step := Step{
			Label: g.Class.String(), Column: g.Class.String(),
			Formula: fmt.Sprintf("%s x %s h / %s h of the week", s.Currency.Format(week.Amount), g.Minutes.Hours(), week.Minutes.Hours()),
			Operands: []Operand{
				{"wage a week", s.Amount(week.Amount), wageFrom}, {"hours", s.Time(g.Minutes), nil}, {"of the week", s.Time(week.Minutes), nil},
			},
			Result: s.Amount(g.Gross),
		}
		if week.Locked != 0 {
			step.Formula += fmt.Sprintf(", less %s that billed work holds", s.Currency.Format(week.Locked))
			step.Operands = append(step.Operands, Operand{"of billed work", s.Amount(week.Locked), nil})
		}
		gross = append(gross, step)
	}
	steps := []Step{s.Sum("Share of "+s.Currency.Format(week.Amount)+" a week", gross)}
	steps[0].Operands = []Operand{{"wage a week", s.Amount(week.Amount), wageFrom}}
	for i := range segments[0].Detail.Parts {
		steps = append(steps, s.component(i, segments))
	}
	return s.Sum("Cost", steps)
}

func (s Show) component(i int, segments []labour.Segment) Step {
	var parts []Step
	capped := false
	for _, g := range segments {
		p := g.Detail.Parts[i]
		capped = capped || p.Capped
		step := Step{Label: g.Class.String(), Column: g.Class.String(), Result: s.Amount(p.Amount)}
		if p.Component.Basis == burden.OnHour {
			step.Operands = []Operand{{"hours", s.Time(g.Minutes), nil}, {"an hour", s.Rate(p.Component.Rate), nil}}
		} else {
			step.Operands = []Operand{{"base", s.Amount(p.Base), nil}, {"percent", s.Percent(p.Component.Percent), nil}}
		}
		parts = append(parts, step)
	}
	c := segments[0].Detail.Parts[i].Component
	sum := s.Sum(c.Name, parts)
	sum.Operands = []Operand{{"component", s.Percent(c.Percent), &Record{"burden", c.ID, "since " + c.From.String()}}}
	switch {
	case c.Basis == burden.OnHour:
		sum.Formula = s.Currency.FormatRate(c.Rate) + " an hour"
		sum.Operands[0].Value = s.Rate(c.Rate)
	case capped:
		sum.Formula = fmt.Sprintf("%s %% of %s, cap of %s reached", c.Percent, c.Basis, s.Currency.Format(*c.Cap))
	default:
		sum.Formula = fmt.Sprintf("%s %% of %s", c.Percent, c.Basis)
	}
	return sum
}

// OfCharge shows what segments were charged by the rate that each came with; nil where they were not, or where the
// rate has changed since so that it would not say how.
func (s Show) OfCharge(factors pricing.Factors, segments []labour.Segment) *Step {
	for _, g := range segments {
		now, err := g.Detail.Row.Charge(s.Currency, factors, g.Segment, g.Cost)
		if err != nil || now == nil || g.Charge == nil || *now != *g.Charge {
			return nil
		}
	}
	if len(segments) == 0 {
		return nil
	}
	step := s.charge(factors, segments)
	return &step
}

func (s Show) charge(factors pricing.Factors, segments []labour.Segment) Step {
	d := segments[0].Detail
	from := &Record{"labour_rate", d.Row.ID, fmt.Sprintf("card %s, since %s", d.Card.Code, d.Row.From)}
	if d.Own {
		from = &Record{"time_entry", 0, "typed on the entry"}
	}
	var steps []Step
	for _, g := range segments {
		step := Step{Label: g.Class.String(), Column: g.Class.String(), Result: s.Amount(*g.Charge)}
		if d.Row.Method == pricing.OnMarkup {
			step.Operands = []Operand{{"cost", s.Amount(*g.Cost), nil}, {"markup", s.Percent(d.Row.Percent), from}}
		} else {
			factor := d.Row.Factor(g.Class, factors)
			step.Formula = fmt.Sprintf("%s h x %s x %s", g.Minutes.Hours(), s.Currency.FormatRate(d.Row.Rate), factor)
			step.Operands = []Operand{
				{"hours", s.Time(g.Minutes), nil}, {"rate", s.Rate(d.Row.Rate), from}, {"factor", s.Factor(factor), nil},
			}
		}
		steps = append(steps, step)
	}
	label := "Rate " + s.Currency.FormatRate(d.Row.Rate)
	value := s.Rate(d.Row.Rate)
	if d.Row.Method == pricing.OnMarkup {
		label = fmt.Sprintf("Cost + %s %%", d.Row.Percent)
		value = s.Percent(d.Row.Percent)
	}
	sum := s.Sum(label, steps)
	sum.Operands = []Operand{{"rate", value, from}}
	return sum
}

// LeftOver is charge less cost, and the margin of it, for each segment and then for all; none where
// either is missing.
func (s Show) LeftOver(segments []labour.Segment) (left, margins []Step) {
	total := labour.Total(segments)
	if total.Cost == nil || total.Charge == nil {
		return nil, nil
	}
	add := func(column string, charge, cost money.Amount) {
		left = append(left, Step{Label: "Left over", Column: column, Result: s.Amount(charge - cost)})
		if margin, ok := money.Share(charge-cost, charge); ok {
			margins = append(margins, Step{Label: "Margin", Column: column, Result: Value{int64(margin), Percent, margin.Places2()}})
		}
	}
	for _, g := range segments {
		add(g.Class.String(), *g.Charge, *g.Cost)
	}
	add("", *total.Charge, *total.Cost)
	return left, margins
}
