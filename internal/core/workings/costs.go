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
	Freight, Tax money.Amount  // of the document
	Paper        landing.Paper // all its lines as they land
	Recovered    bool          // the company recovers purchase tax, so that it is no cost
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
		steps = append(steps, s.share("Freight", g.Freight, g.Landed.Freight, g.Paper.Freight, g))
	}
	switch {
	case g.Tax == 0:
	case g.Recovered:
		steps = append(steps, Step{
			Label: "Tax", Formula: "recovered, so no cost", Operands: []Operand{{"tax", s.Amount(g.Tax), &g.Document}}, Result: s.Amount(0),
		})
	default:
		steps = append(steps, s.share("Tax", g.Tax, g.Landed.Tax, g.Paper.Tax, g))
	}
	out := Line{Landed: s.Sum("Landed cost", steps)}
	if g.Charge != nil {
		charge := s.lineCharge(g)
		out.Charge = &charge
	}
	return out
}

// share is a line's part of freight or tax, with the reason why it has one or none.
func (s Show) share(label string, of, share money.Amount, spread landing.Spread, g Goods) Step {
	base, weight := g.Base, spread.Weight
	if spread.Over != landing.Net {
		base = max(base, -base)
	}
	step := Step{
		Label: label, Formula: fmt.Sprintf("%s x %s / %s, ", s.Currency.Format(of), s.Currency.Format(base), s.Currency.Format(weight)),
		Result:   s.Amount(share),
		Operands: []Operand{{"to spread", s.Amount(of), &g.Document}, {"of this line", s.Amount(base), nil}, {"of all", s.Amount(weight), nil}},
	}
	bought, other := "what was bought", "what was sent back"
	if of < 0 {
		bought, other = other, bought
	}
	switch {
	case label == "Tax" && !g.Taxable && spread.Over != landing.Sizes:
		step.Formula, step.Operands = "none, it is not taxable", step.Operands[:1]
	case weight == 0:
		step.Formula = s.Currency.Format(of) + " evenly"
	case spread.Over == landing.Net:
		step.Formula += "of the net, so that " + other + " carries its share back"
	case spread.Over == landing.SameSign && g.Base != 0 && (g.Base > 0) == (of > 0):
		step.Formula += "over " + bought
	case spread.Over == landing.SameSign:
		step.Formula, step.Operands = "none, it goes over "+bought, step.Operands[:1]
	default:
		step.Formula += "by size"
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
	base, put := g.Cost(), "landed cost"
	if g.Pricing.Markup == nil && g.Found {
		base = g.Row.Of(g.Landed)
		put = map[pricing.Base]string{pricing.OnBeforeTax: "what it costs before tax", pricing.OnGoods: "the goods"}[g.Row.On]
	}
	formula := fmt.Sprintf("%s %% of %s%s", percent, s.Currency.Format(base), why)
	if base != g.Cost() {
		formula = fmt.Sprintf("%s %% of %s, %s; the rest is passed on at cost", percent, s.Currency.Format(base), put)
	}
	return s.Sum("Charge", []Step{
		{Label: "Landed cost", Result: s.Amount(g.Cost())},
		{
			Label: "Markup", Formula: formula, Result: s.Amount(*g.Charge - g.Cost()),
			Operands: []Operand{{"put on", s.Amount(base), nil}, {"markup", s.Percent(percent), from}},
		},
	})
}
