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

// Wage is one version of a worker's wage: so much an hour, or so much a week.
type Wage struct {
	ID     int64
	From   calendar.Date
	Rate   money.Rate
	ByWeek bool
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
	Week  *Week // where the worker is paid by the week
	Parts []burden.Part
	Row   pricing.LabourRow
	Card  pricing.Card
	Own   bool // charged at the entry's own rate
	Price bool // a rate was found
}

// Pay returns the worker's pay terms on a date, and the wage that holds. Where it is by the week its rate is that of a 40th of the week.
func (t Terms) Pay(on calendar.Date) (burden.Pay, Wage, bool) {
	wage, paid := t.wage(on)
	return t.payOf(wage), wage, paid
}

// hoursOfWeek is the hours that a week's amount is shown as an hourly rate over.
const hoursOfWeek = 40

func (t Terms) payOf(wage Wage) burden.Pay {
	pay := burden.Pay{Currency: t.Currency, Wage: wage.Rate, Overtime: t.Factors.Overtime, Double: t.Factors.Double}
	if wage.ByWeek {
		pay.Wage, pay.Overtime, pay.Double = (wage.Rate+hoursOfWeek/2)/hoursOfWeek, money.One, money.One
	}
	return pay
}

// wage is the wage that holds on a date (calculation.md section 4): that of its week where the week is paid as a whole, else the
// latest row by the hour.
func (t Terms) wage(on calendar.Date) (Wage, bool) {
	if week, found := t.week(on.WeekStart(t.Rules.WeekStart)); found && week.ByWeek {
		return week, week.From <= on
	}
	var hourly []Wage
	for _, w := range t.Wages {
		if !w.ByWeek {
			hourly = append(hourly, w)
		}
	}
	return calendar.Latest(hourly, on)
}

// RegularOnly says that a worker has regular time only in the week of a date: exempt, or paid by the week.
func (t Terms) RegularOnly(on calendar.Date) bool {
	wage, found := t.week(on.WeekStart(t.Rules.WeekStart))
	return t.Exempt || found && wage.ByWeek
}

// week is the row that says how a work week is paid: the latest on or before its first day, else the first in it.
func (t Terms) week(first calendar.Date) (Wage, bool) {
	wage, found := calendar.Latest(t.Wages, first)
	if found {
		return wage, true
	}
	for _, w := range t.Wages {
		if w.From <= first+6 && (!found || w.From < wage.From) {
			wage, found = w, true
		}
	}
	return wage, found
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

// Week is what a week that is paid as a whole is spread from.
type Week struct {
	Amount  money.Amount  // of the week
	Locked  money.Amount  // what locked work of the week holds of it
	Minutes money.Minutes // over which the rest is spread
}

// Cost gives each entry its segments. The entries are all those of one worker in whole work
// weeks, in the order of [worktime.Sort]; earned holds, by calendar year, what the worker had
// earned before the first of them and is brought up to date.
func (t Terms) Cost(entries []Entry, earned map[int]burden.Earned) ([][]Segment, error) {
	out := make([][]Segment, len(entries))
	for from := 0; from < len(entries); {
		to := t.weekEnd(entries, from)
		if err := t.costWeek(entries[from:to], earned, out[from:to]); err != nil {
			return nil, err
		}
		from = to
	}
	return out, nil
}

func (t Terms) costWeek(entries []Entry, earned map[int]burden.Earned, out [][]Segment) error {
	wage, _ := t.week(entries[0].Date.WeekStart(t.Rules.WeekStart))
	week := make([]worktime.Entry, len(entries))
	for i, e := range entries {
		week[i] = e.Entry
	}
	var shares []money.Amount
	var of *Week
	var err error
	if wage.ByWeek {
		if shares, of, err = t.shares(wage, entries); err != nil {
			return err
		}
	}
	for i, segments := range worktime.Split(t.Rules, t.RegularOnly(entries[0].Date), week) {
		var share *money.Amount
		if shares != nil {
			share = &shares[i]
		}
		out[i], err = t.cost(entries[i], segments, earned, share, of)
		if err != nil {
			return err
		}
	}
	return nil
}

// shares spreads a week's amount, less what locked entries of the week hold of it, over its other entries by their minutes. Where the
// locked ones hold just their shares of the whole week the others keep theirs.
func (t Terms) shares(wage Wage, entries []Entry) ([]money.Amount, *Week, error) {
	amount, err := t.Currency.ForQuantity(oneUnit, wage.Rate)
	if err != nil {
		return nil, nil, err
	}
	all, open := make([]int64, len(entries)), make([]int64, len(entries))
	week := &Week{Amount: amount}
	for i, e := range entries {
		if e.Date >= wage.From {
			all[i] = int64(e.Minutes)
		}
		if e.Frozen == nil {
			open[i] = all[i]
			week.Minutes += money.Minutes(open[i])
		} else {
			week.Locked += Total(e.Frozen).Gross
		}
	}
	whole, kept := spreadTime(amount, all), true
	for i, e := range entries {
		kept = kept && (e.Frozen == nil || Total(e.Frozen).Gross == whole[i])
	}
	if kept {
		return whole, week, nil
	}
	return spreadTime(max(0, amount-week.Locked), open), week, nil
}

const oneUnit money.Quantity = 1_000

// spreadTime spreads an amount by minutes; nobody's minutes have no share.
func spreadTime(a money.Amount, minutes []int64) []money.Amount {
	for _, m := range minutes {
		if m != 0 {
			return money.Spread(a, minutes)
		}
	}
	return make([]money.Amount, len(minutes))
}

func (t Terms) weekEnd(entries []Entry, from int) int {
	week := entries[from].Date.WeekStart(t.Rules.WeekStart)
	to := from + 1
	for to < len(entries) && entries[to].Date.WeekStart(t.Rules.WeekStart) == week {
		to++
	}
	return to
}

// CostAgain costs one entry of a work week again, with all that its figures come from. All entries keep what they have: those before it
// only add to what was earned, and it keeps its classes and its share of a week.
func (t Terms) CostAgain(entries []Entry, kept [][]Segment, at int, earned map[int]burden.Earned) ([]Segment, error) {
	for i, before := range entries[:at] {
		before.Frozen = kept[i]
		if _, err := t.cost(before, nil, earned, nil, nil); err != nil {
			return nil, err
		}
	}
	e := entries[at]
	e.Frozen = nil
	segments := make([]worktime.Segment, len(kept[at]))
	for i, g := range kept[at] {
		segments[i] = g.Segment
	}
	wage, _ := t.wage(e.Date)
	if !wage.ByWeek {
		return t.cost(e, segments, earned, nil, nil)
	}
	_, week, err := t.shares(wage, entries)
	if err != nil {
		return nil, err
	}
	share := Total(kept[at]).Gross
	return t.cost(e, segments, earned, &share, week)
}

// cost costs and charges the given segments of one entry, after what the worker had earned before it in its year, and brings earned up
// to date. Frozen segments are kept as they are. Where the entry has a share of a week, that is both its straight pay and its gross.
func (t Terms) cost(
	e Entry, segments []worktime.Segment, earned map[int]burden.Earned, share *money.Amount, week *Week,
) ([]Segment, error) {
	year := e.Date.Year()
	soFar := earned[year]
	defer func() { earned[year] = soFar }()
	if e.Frozen != nil {
		for _, s := range e.Frozen {
			soFar.Earns(s.Class, s.Straight, s.Gross)
		}
		return e.Frozen, nil
	}
	pay, wage, paid := t.Pay(e.Date)
	components := burden.Effective(t.Components, e.Work.CostCode, e.Date)
	out := make([]Segment, 0, len(segments))
	for _, s := range segments {
		segment := Segment{Segment: s, Detail: Detail{Wage: wage, Week: week}}
		if paid {
			cost, err := pay.Of(s, components, soFar)
			if share != nil {
				cost, err = pay.On(s, *share, *share, components, soFar)
			}
			if err != nil {
				return nil, err
			}
			soFar.Earns(s.Class, cost.Straight, cost.Gross)
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
	if !e.Chargeable || s.Class == worktime.Leave {
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
	ByClass                 [worktime.ClassCount]money.Minutes
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
