// Package landing works out what bought things cost where they are used: unit cost with
// their share of freight and purchase tax (calculation.md section 6).
package landing

import "jarvo/internal/core/money"

// Line is one line of a cost document.
type Line struct {
	Quantity money.Quantity
	UnitCost money.Rate
}

// Landed is a line's cost and what it is made of.
type Landed struct{ Base, Freight, Tax money.Amount }

// Cost is base, freight share and tax share.
func (l Landed) Cost() money.Amount { return l.Base + l.Freight + l.Tax }

// Land spreads a document's freight and tax over its lines by the size of their bases. Tax that
// the company recovers is no cost.
func Land(cur money.Currency, lines []Line, freight, tax money.Amount, recovered bool) ([]Landed, error) {
	landed := make([]Landed, len(lines))
	weights := make([]int64, len(lines))
	for i, l := range lines {
		base, err := cur.ForQuantity(l.Quantity, l.UnitCost)
		if err != nil {
			return nil, err
		}
		landed[i].Base = base
		weights[i] = int64(max(base, -base))
	}
	if recovered {
		tax = 0
	}
	freights, taxes := money.Spread(freight, weights), money.Spread(tax, weights)
	for i := range landed {
		landed[i].Freight, landed[i].Tax = freights[i], taxes[i]
		if _, err := money.Sum(landed[i].Base, freights[i], taxes[i]); err != nil {
			return nil, err
		}
	}
	return landed, nil
}
