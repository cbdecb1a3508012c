package workings

import (
	"fmt"

	"jarvo/internal/core/landing"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
)

// Goods is what the landed cost and the charge of a cost line rest on (calculation.md section 6).
type Goods struct {
	landing.Line
	landing.Landed
	Freight, Tax money.Amount // of the document
	Sizes        money.Amount // the sizes of the bases of all its lines together
	Recovered    bool         // the company recovers purchase tax, so that it is no cost
	Document     Record
	Pricing      pricing.Line
	Row          pricing.MarkupRow // the row of a card that decided
	Card         pricing.Card
	Found        bool
	Charge       *money.Amount // nil: not charged
}

// Line is how a cost line's landed cost and charge came about.
type Line struct {
	Landed Step  `json:"landed"`
	Charge *Step `json:"charge,omitempty" doc:"absent where it is not charged"`
}

// OfLine shows a cost line.
func (s Show) OfLine(g Goods) Line {
	base := Step{
		Label: "Base", Formula: fmt.Sprintf("%s x %s", g.Quantity, s.Currency.FormatRate(g.UnitCost)), Result: s.Amount(g.Base),
		Operands: []Operand{{"quantity", s.Quantity(g.Quantity), &g.Document}, {"unit cost", s.Rate(g.UnitCost), &g.Document}},
	}
	steps := []Step{base}
	if g.Freight != 0 {
		steps = append(steps, s.share("Freight", g.Freight, g.Landed.Freight, g))
	}
	switch {
	case g.Tax == 0:
	case g.Recovered:
		steps = append(steps, Step{
			Label: "Tax", Formula: "recovered, so no cost", Operands: []Operand{{"tax", s.Amount(g.Tax), &g.Document}}, Result: s.Amount(0),
		})
	default:
		steps = append(steps, s.share("Tax", g.Tax, g.Landed.Tax, g))
	}
	out := Line{Landed: s.Sum("Landed cost", steps)}
	if g.Charge != nil {
		charge := s.lineCharge(g)
		out.Charge = &charge
	}
	return out
}

// share is a line's part of freight or tax, which are spread over the lines by the size of their bases.
func (s Show) share(label string, of, share money.Amount, g Goods) Step {
	size := max(g.Base, -g.Base)
	step := Step{
		Label: label, Formula: fmt.Sprintf("%s x %s / %s", s.Currency.Format(of), s.Currency.Format(size), s.Currency.Format(g.Sizes)),
		Result:   s.Amount(share),
		Operands: []Operand{{"to spread", s.Amount(of), &g.Document}, {"size", s.Amount(size), nil}, {"all sizes", s.Amount(g.Sizes), nil}},
	}
	if g.Sizes == 0 {
		step.Formula = s.Currency.Format(of) + " evenly"
	}
	return step
}

func (s Show) lineCharge(g Goods) Step {
	if price := g.Pricing.SellPrice; price != nil {
		return Step{
			Label: "Charge", Formula: fmt.Sprintf("%s x %s, a price of its own", g.Quantity, s.Currency.FormatRate(*price)),
			Result:   s.Amount(*g.Charge),
			Operands: []Operand{{"quantity", s.Quantity(g.Quantity), &g.Document}, {"price", s.Rate(*price), &g.Document}},
		}
	}
	percent, from, why := g.Row.Percent, &Record{"markup", g.Row.ID, fmt.Sprintf(
		"card %s, %s from %s on, since %s", g.Card.Code, g.Row.Category, s.Currency.FormatRate(g.Row.OverCost), g.Row.From,
	)}, ""
	switch {
	case g.Pricing.Markup != nil:
		percent, from, why = *g.Pricing.Markup, &g.Document, ", its own"
	case !g.Found:
		percent, from, why = 0, nil, ", no card has one"
	}
	return s.Sum("Charge", []Step{
		{Label: "Landed cost", Result: s.Amount(g.Cost())},
		{
			Label: "Markup", Formula: fmt.Sprintf("%s %% of %s%s", percent, s.Currency.Format(g.Cost()), why),
			Result:   s.Amount(*g.Charge - g.Cost()),
			Operands: []Operand{{"landed cost", s.Amount(g.Cost()), nil}, {"markup", s.Percent(percent), from}},
		},
	})
}
