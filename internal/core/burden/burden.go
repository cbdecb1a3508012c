// Package burden works out what labour costs: wage, premium pay and the burden on top of it
// (calculation.md section 4).
package burden

import (
	"errors"
	"slices"
	"strings"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/worktime"
)

// Basis is what a burden component is reckoned on.
type Basis string

// The bases of a component.
const (
	OnGross    Basis = "gross"
	OnStraight Basis = "straight"
	OnHour     Basis = "hour"
)

// ErrCapOnHour says that a component paid by the hour can't have an annual cap.
var ErrCapOnHour = errors.New("a component paid by the hour can't have an annual wage cap")

// Component is one version of one burden component of a class.
type Component struct {
	ID   int64
	Name string
	// CostCode is the work that the row is for, 0 for any: cover may depend on the work done.
	CostCode int64
	From     calendar.Date
	Basis    Basis
	// Percent holds for the bases gross and straight, Rate (an hour) for hour.
	Percent money.Percent
	Rate    money.Rate
	Cap     *money.Amount // the first so much of its base in a calendar year; nil for no cap
}

// Since is the date from which the component holds.
func (c Component) Since() calendar.Date { return c.From }

func (c Component) over() bool { return c.Percent == 0 && c.Rate == 0 }

// Effective picks per component name the latest row on or before a date, of those for the cost code of the work where there is
// one, else of those without a code; it drops those that are over (a value of 0) and orders them by name.
func Effective(rows []Component, costCode int64, on calendar.Date) []Component {
	return slices.DeleteFunc(Holding(rows, costCode, on), Component.over)
}

// Holding is [Effective] with the components that are over.
func Holding(rows []Component, costCode int64, on calendar.Date) []Component {
	byName := map[string]Component{}
	for _, r := range rows {
		had, found := byName[r.Name]
		switch {
		case r.From > on || r.CostCode != 0 && r.CostCode != costCode:
		case !found, had.CostCode == r.CostCode && r.From > had.From, had.CostCode == 0 && r.CostCode != 0:
			byName[r.Name] = r
		}
	}
	in := make([]Component, 0, len(byName))
	for _, c := range byName {
		in = append(in, c)
	}
	slices.SortFunc(in, func(a, b Component) int { return strings.Compare(a.Name, b.Name) })
	return in
}

// Earned is what a worker has earned so far in a calendar year, the base of annual caps.
type Earned struct{ Gross, Straight money.Amount }

// Pay holds what turns minutes into pay.
type Pay struct {
	Currency money.Currency
	Wage     money.Rate
	Overtime money.Factor
	Double   money.Factor
}

// Factor is the pay factor of a class.
func (p Pay) Factor(c worktime.Class) money.Factor {
	switch c {
	case worktime.Overtime:
		return p.Overtime
	case worktime.Double:
		return p.Double
	default:
		return money.One
	}
}

// Part is what one component adds to a segment, and the base it was reckoned on after its cap.
type Part struct {
	Component Component
	Base      money.Amount
	Amount    money.Amount
	Capped    bool
}

// Cost is what one segment costs.
type Cost struct {
	Straight, Gross money.Amount
	Parts           []Part
}

// Burden is the sum of the components.
func (c Cost) Burden() money.Amount {
	var total money.Amount
	for _, p := range c.Parts {
		total += p.Amount
	}
	return total
}

// Total is gross pay and components.
func (c Cost) Total() money.Amount { return c.Gross + c.Burden() }

// Of is the cost of a segment whose worker has earned so much before it in its year.
// Components must be those of [Effective] on the entry's date.
func (p Pay) Of(s worktime.Segment, components []Component, before Earned) (Cost, error) {
	straight, err := p.Currency.ForTime(p.Wage, money.One, s.Minutes)
	if err != nil {
		return Cost{}, err
	}
	gross, err := p.Currency.ForTime(p.Wage, p.Factor(s.Class), s.Minutes)
	if err != nil {
		return Cost{}, err
	}
	return p.On(s, straight, gross, components, before)
}

// On is the cost of a segment with its straight pay and its gross. On leave only the components on gross are paid: those on
// straight pay and by the hour go with work.
func (p Pay) On(s worktime.Segment, straight, gross money.Amount, components []Component, before Earned) (c Cost, err error) {
	c.Straight, c.Gross = straight, gross
	for _, component := range components {
		if s.Class == worktime.Leave && component.Basis != OnGross {
			continue
		}
		part := Part{Component: component}
		switch component.Basis {
		case OnHour:
			part.Amount, err = p.Currency.ForTime(component.Rate, money.One, s.Minutes)
		case OnStraight:
			part.Base, part.Capped = capped(c.Straight, component.Cap, before.Straight)
			part.Amount, err = component.Percent.Of(part.Base)
		default:
			part.Base, part.Capped = capped(c.Gross, component.Cap, before.Gross)
			part.Amount, err = component.Percent.Of(part.Base)
		}
		if err != nil {
			return c, err
		}
		c.Parts = append(c.Parts, part)
	}
	return c, nil
}

// Earns is what a segment adds to the bases of annual caps; leave adds to the gross only.
func (e *Earned) Earns(class worktime.Class, straight, gross money.Amount) {
	e.Gross += gross
	if class != worktime.Leave {
		e.Straight += straight
	}
}

func capped(base money.Amount, limit *money.Amount, before money.Amount) (money.Amount, bool) {
	if limit == nil {
		return base, false
	}
	left := max(0, *limit-before)
	return min(base, left), base > left
}

// BurdenedHour is the cost of 60 regular minutes with no cap reached.
func (p Pay) BurdenedHour(components []Component) (Cost, error) {
	return p.Of(worktime.Segment{Class: worktime.Regular, Minutes: 60}, components, Earned{})
}
