// Package labour costs and charges a worker's hours: it puts the split into pay classes, wage,
// burden and rate cards together, in the order in which annual caps run (calculation.md
// sections 3 to 5).
package labour

import (
	"time"

	"jarvo/internal/core/burden"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
	"jarvo/internal/core/worktime"
)

// Wage is one version of a worker's wage.
type Wage struct {
	ID   int64
	From calendar.Date
	Rate money.Rate
}

// Since is the date from which the wage holds.
func (w Wage) Since() calendar.Date { return w.From }

// Terms are the rules a worker's hours are costed by.
type Terms struct {
	Currency   money.Currency
	Rules      worktime.Rules
	Factors    pricing.Factors
	Exempt     bool
	Wages      []Wage
	Components []burden.Component
}

// Entry is one time entry with what it is charged by.
type Entry struct {
	worktime.Entry
	Work    pricing.Work
	Cards   []pricing.Card // job's, customer's, company's
	OwnRate *money.Rate    // an hourly rate typed on the entry, before all cards
	// Chargeable says that the entry is billable and on time and materials.
	Chargeable bool
	// Frozen are the segments of locked work, kept as they are.
	Frozen []Segment
}

// Segment is a part of an entry in one class with what it costs and is charged at.
type Segment struct {
	worktime.Segment
	Straight, Gross, Burden money.Amount
	Cost                    *money.Amount // nil: no wage on the date
	Charge                  *money.Amount // nil: not chargeable, or no price
	Detail                  Detail
}

// Detail is what a segment's figures came from; it is worked out, never stored.
type Detail struct {
	Wage  Wage
	Parts []burden.Part
	Row   pricing.LabourRow
	Card  pricing.Card
	Own   bool // charged at the entry's own rate
	Price bool // a rate was found
}

// Pay returns the worker's pay terms on a date.
func (t Terms) Pay(on calendar.Date) (burden.Pay, Wage, bool) {
	wage, ok := calendar.Latest(t.Wages, on)
	return burden.Pay{Currency: t.Currency, Wage: wage.Rate, Overtime: t.Factors.Overtime, Double: t.Factors.Double}, wage, ok
}

// HasCaps says whether any component has an annual cap, so that earlier weeks bear on later ones.
func (t Terms) HasCaps() bool {
	for _, c := range t.Components {
		if c.Cap != nil {
			return true
		}
	}
	return false
}

// Cost gives each entry its segments. The entries are all those of one worker in whole work
// weeks, in the order of [worktime.Sort]; earned holds, by calendar year, what the worker had
// earned before the first of them and is brought up to date.
func (t Terms) Cost(entries []Entry, earned map[int]burden.Earned) ([][]Segment, error) {
	out := make([][]Segment, len(entries))
	for from := 0; from < len(entries); {
		to := t.weekEnd(entries, from)
		week := make([]worktime.Entry, 0, to-from)
		for _, e := range entries[from:to] {
			week = append(week, e.Entry)
		}
		for i, segments := range worktime.Split(t.Rules, t.Exempt, week) {
			costed, err := t.CostEntry(entries[from+i], segments, earned)
			if err != nil {
				return nil, err
			}
			out[from+i] = costed
		}
		from = to
	}
	return out, nil
}

func (t Terms) weekEnd(entries []Entry, from int) int {
	week := entries[from].Date.WeekStart(t.Rules.WeekStart)
	to := from + 1
	for to < len(entries) && entries[to].Date.WeekStart(t.Rules.WeekStart) == week {
		to++
	}
	return to
}

// CostEntry costs and charges the given segments of one entry, after what the worker had earned
// before it in its year, and brings earned up to date. Frozen segments are kept as they are.
func (t Terms) CostEntry(e Entry, segments []worktime.Segment, earned map[int]burden.Earned) ([]Segment, error) {
	year := e.Date.Year()
	soFar := earned[year]
	defer func() { earned[year] = soFar }()
	if e.Frozen != nil {
		for _, s := range e.Frozen {
			soFar.Gross += s.Gross
			soFar.Straight += s.Straight
		}
		return e.Frozen, nil
	}
	pay, wage, paid := t.Pay(e.Date)
	components := burden.Effective(t.Components, e.Date)
	out := make([]Segment, 0, len(segments))
	for _, s := range segments {
		segment := Segment{Segment: s, Detail: Detail{Wage: wage}}
		if paid {
			cost, err := pay.Of(s, components, soFar)
			if err != nil {
				return nil, err
			}
			soFar.Gross += cost.Gross
			soFar.Straight += cost.Straight
			total := cost.Total()
			segment.Straight, segment.Gross, segment.Burden, segment.Cost = cost.Straight, cost.Gross, cost.Burden(), &total
			segment.Detail.Parts = cost.Parts
		}
		if err := t.charge(e, &segment); err != nil {
			return nil, err
		}
		out = append(out, segment)
	}
	return out, nil
}

// Priced finds what the entry is charged by: its own rate, or the row of a card.
func (e Entry) Priced() (d Detail) {
	if e.OwnRate != nil {
		return Detail{Own: true, Price: true, Row: pricing.LabourRow{Method: pricing.Hourly, Rate: *e.OwnRate}}
	}
	d.Row, d.Card, d.Price = pricing.FindLabour(e.Cards, e.Work, e.Date)
	return d
}

func (t Terms) charge(e Entry, s *Segment) error {
	if !e.Chargeable {
		return nil
	}
	d := &s.Detail
	priced := e.Priced()
	d.Row, d.Card, d.Own, d.Price = priced.Row, priced.Card, priced.Own, priced.Price
	if !d.Price {
		return nil
	}
	var err error
	s.Charge, err = d.Row.Charge(t.Currency, t.Factors, s.Segment, s.Cost)
	return err
}

// Totals are the sums over an entry's segments. Cost or charge is nil where any segment has none.
type Totals struct {
	Straight, Gross, Burden money.Amount
	Cost, Charge            *money.Amount
	ByClass                 [3]money.Minutes
}

// Total sums an entry's segments.
func Total(segments []Segment) Totals {
	var t Totals
	cost, charge, costed, charged := money.Amount(0), money.Amount(0), len(segments) > 0, len(segments) > 0
	for _, s := range segments {
		t.Straight += s.Straight
		t.Gross += s.Gross
		t.Burden += s.Burden
		t.ByClass[s.Class] += s.Minutes
		if s.Cost != nil {
			cost += *s.Cost
		}
		if s.Charge != nil {
			charge += *s.Charge
		}
		costed = costed && s.Cost != nil
		charged = charged && s.Charge != nil
	}
	if costed {
		t.Cost = &cost
	}
	if charged {
		t.Charge = &charge
	}
	return t
}

// LastAffected is the last date whose figures a change on a date can move: the end of its work
// week or, with annual caps, of the year that week ends in.
func (t Terms) LastAffected(changed calendar.Date) calendar.Date {
	end := changed.WeekStart(t.Rules.WeekStart) + 6
	if !t.HasCaps() {
		return end
	}
	return calendar.On(end.Year(), time.December, 31).WeekStart(t.Rules.WeekStart) + 6
}
