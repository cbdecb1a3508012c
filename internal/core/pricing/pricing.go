// Package pricing finds what labour and other costs are charged at: rate cards and markups
// (calculation.md sections 5 and 6).
package pricing

import (
	"errors"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/landing"
	"jarvo/internal/core/money"
	"jarvo/internal/core/worktime"
)

// Method is how a labour row prices an hour.
type Method string

// The methods of a labour row.
const (
	Hourly   Method = "hourly"
	OnMarkup Method = "markup"
)

// ErrMarkup refuses a markup that would charge nothing or less.
var ErrMarkup = errors.New("a markup must be more than -100 %")

// LabourRow is one version of one row of a rate card. A zero worker, trade or cost code is
// blank and matches anything.
type LabourRow struct {
	ID       int64
	From     calendar.Date
	Worker   int64
	Trade    int64
	CostCode int64
	Method   Method
	Rate     money.Rate    // of Hourly
	Percent  money.Percent // of OnMarkup
	Overtime *money.Factor // nil: the company's
	Double   *money.Factor
}

// Base is what of a cost line a markup is put on; what lies outside it is passed on at cost.
type Base string

// The bases of a markup.
const (
	OnLanded    Base = "landed"     // all of it
	OnBeforeTax Base = "before_tax" // the goods and their freight
	OnGoods     Base = "goods"
)

// Bases are the bases of a markup as they are written.
var Bases = []Base{OnLanded, OnBeforeTax, OnGoods}

// MarkupRow is one version of one markup band of a rate card.
type MarkupRow struct {
	ID       int64
	From     calendar.Date
	Category string
	OverCost money.Rate
	Percent  money.Percent
	On       Base // blank: all that the line costs
}

// Of is what of a line's landed cost the markup is put on.
func (r MarkupRow) Of(l landing.Landed) money.Amount {
	switch r.On {
	case OnBeforeTax:
		return l.Base + l.Freight
	case OnGoods:
		return l.Base
	default:
		return l.Cost()
	}
}

// Card is a rate card. An absent card is one with no rows.
type Card struct {
	ID      int64
	Code    string
	Labour  []LabourRow
	Markups []MarkupRow
}

// Work says who did what kind of work.
type Work struct{ Worker, Trade, CostCode int64 }

// Weight is how specific a row is: worker 4, cost code 2, trade 1.
func (r LabourRow) Weight() int {
	weight := 0
	if r.Worker != 0 {
		weight += 4
	}
	if r.CostCode != 0 {
		weight += 2
	}
	if r.Trade != 0 {
		weight++
	}
	return weight
}

func (r LabourRow) matches(w Work, on calendar.Date) bool {
	return r.From <= on && (r.Worker == 0 || r.Worker == w.Worker) &&
		(r.Trade == 0 || r.Trade == w.Trade) && (r.CostCode == 0 || r.CostCode == w.CostCode)
}

// FindLabour asks the cards in order (job, customer, company). The first with a matching row
// decides; on it the most specific row wins, and of its versions the latest.
func FindLabour(cards []Card, w Work, on calendar.Date) (LabourRow, Card, bool) {
	for _, card := range cards {
		var best LabourRow
		found := false
		for _, r := range card.Labour {
			if !r.matches(w, on) {
				continue
			}
			if !found || r.Weight() > best.Weight() || r.Weight() == best.Weight() && r.From > best.From {
				best, found = r, true
			}
		}
		if found {
			return best, card, true
		}
	}
	return LabourRow{}, Card{}, false
}

// Factors are the company's pay factors, used where a row has none of its own.
type Factors struct{ Overtime, Double money.Factor }

// Factor is the price factor of a class on a row.
func (r LabourRow) Factor(c worktime.Class, company Factors) money.Factor {
	own, otherwise := (*money.Factor)(nil), money.One
	switch c {
	case worktime.Overtime:
		own, otherwise = r.Overtime, company.Overtime
	case worktime.Double:
		own, otherwise = r.Double, company.Double
	case worktime.Regular:
	}
	if own != nil {
		return *own
	}
	return otherwise
}

// Price is what an hour of a class is charged by an hourly row: its rate x the factor, rounded.
func (r LabourRow) Price(c worktime.Class, company Factors) (money.Rate, error) {
	n, err := money.Ratio(int64(money.One), int64(r.Rate), int64(r.Factor(c, company)))
	return money.Rate(n), err
}

// Charge is what a segment is charged by a row; cost is the segment's burdened cost, nil where
// there is none. A markup row gives no charge without a cost.
func (r LabourRow) Charge(cur money.Currency, company Factors, s worktime.Segment, cost *money.Amount) (*money.Amount, error) {
	var charge money.Amount
	var err error
	switch {
	case r.Method != OnMarkup:
		charge, err = cur.ForTime(r.Rate, r.Factor(s.Class, company), s.Minutes)
	case cost == nil:
		return nil, nil
	default:
		charge, err = r.Percent.On(*cost)
	}
	return &charge, err
}

// FindMarkup asks the cards in order for a category: of the rows effective on the date, the one
// with the highest band not above the size of the unit cost. The first card with such a row decides.
func FindMarkup(cards []Card, category string, on calendar.Date, unitCost money.Rate) (MarkupRow, Card, bool) {
	size := max(unitCost, -unitCost)
	for _, card := range cards {
		var best MarkupRow
		found := false
		for _, r := range card.Markups {
			if r.Category != category || r.From > on || r.OverCost > size {
				continue
			}
			if !found || r.OverCost > best.OverCost || r.OverCost == best.OverCost && r.From > best.From {
				best, found = r, true
			}
		}
		if found {
			return best, card, true
		}
	}
	return MarkupRow{}, Card{}, false
}

// Line is what the charge of a cost line rests on.
type Line struct {
	Quantity  money.Quantity
	SellPrice *money.Rate    // a price a unit, first of all
	Markup    *money.Percent // a markup of its own, next
	Landed    landing.Landed
}

// Charge is what a billable cost line is charged; row is the markup that its cards give, of 0 where they have none.
func (l Line) Charge(cur money.Currency, row MarkupRow) (money.Amount, error) {
	switch {
	case l.SellPrice != nil:
		return cur.ForQuantity(l.Quantity, *l.SellPrice)
	case l.Markup != nil:
		return l.Markup.On(l.Landed.Cost())
	}
	base := row.Of(l.Landed)
	marked, err := row.Percent.On(base)
	if err != nil {
		return 0, err
	}
	return money.Sum(marked, l.Landed.Cost()-base)
}

// Categories are those of cost lines, in the order in which they are shown.
var Categories = []string{"material", "equipment", "subcontract", "expense", "mileage"}
