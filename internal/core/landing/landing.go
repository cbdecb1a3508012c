// Package landing works out what bought things cost where they are used: unit cost with
// their share of freight and purchase tax (calculation.md section 6).
package landing

import "jarvo/internal/core/money"

// Line is one line of a cost document.
type Line struct {
	Quantity money.Quantity
	UnitCost money.Rate
	Taxable  bool
}

// Landed is a line's cost and what it is made of.
type Landed struct{ Base, Freight, Tax money.Amount }

// Cost is base, freight share and tax share.
func (l Landed) Cost() money.Amount { return l.Base + l.Freight + l.Tax }

// Over says which lines a freight or a tax was spread over, and by what.
type Over int

// The ways in which freight and tax are spread.
const (
	// Nothing was to be spread.
	Nothing Over = iota
	// SameSign is over the lines whose base has the sign of what is spread, by base.
	SameSign
	// Sizes is over all lines by the size of their base, since none has its sign.
	Sizes
	// Net is over all taxable lines by base, purchases and returns set off: it is the tax of the net.
	Net
)

// most is the largest share of the net that a tax may be to count as the tax of the net, in percent.
const most = 35

// Spread is how an amount was spread: over which lines, and what their weights come to, 0 where it went evenly.
type Spread struct {
	Over   Over
	Weight money.Amount
}

// Paper is a document's lines as they land, and how its freight and its tax were spread over them.
type Paper struct {
	Lines        []Landed
	Freight, Tax Spread
}

// Land spreads a document's freight and tax over its lines. Tax that the company recovers is no cost.
func Land(cur money.Currency, lines []Line, freight, tax money.Amount, recovered bool) (Paper, error) {
	paper := Paper{Lines: make([]Landed, len(lines))}
	all, taxable := make([]int, len(lines)), []int{}
	for i, l := range lines {
		base, err := cur.ForQuantity(l.Quantity, l.UnitCost)
		if err != nil {
			return paper, err
		}
		paper.Lines[i].Base = base
		all[i] = i
		if l.Taxable {
			taxable = append(taxable, i)
		}
	}
	if recovered {
		tax = 0
	}
	var freights, taxes []money.Amount
	freights, paper.Freight = paper.bySign(freight, all)
	taxes, paper.Tax = paper.taxes(tax, taxable, all)
	for i := range paper.Lines {
		l := &paper.Lines[i]
		l.Freight, l.Tax = freights[i], taxes[i]
		if _, err := money.Sum(l.Base, l.Freight, l.Tax); err != nil {
			return paper, err
		}
	}
	return paper, nil
}

// taxes spreads a tax: that of the net over all taxable lines, so that a return carries back what it was bought with; any other as
// freight is; where no line is taxable over all of them.
func (p Paper) taxes(tax money.Amount, taxable, all []int) ([]money.Amount, Spread) {
	if len(taxable) == 0 {
		return p.spread(tax, all, Sizes)
	}
	var net money.Amount
	for _, i := range taxable {
		net += p.Lines[i].Base
	}
	if tax != 0 && net != 0 && (tax > 0) == (net > 0) && size(tax)*100 <= most*size(net) {
		return p.spread(tax, taxable, Net)
	}
	return p.bySign(tax, taxable)
}

// bySign spreads an amount over those of some lines that have its sign, or else over all of them by size.
func (p Paper) bySign(a money.Amount, among []int) ([]money.Amount, Spread) {
	var same []int
	for _, i := range among {
		if base := p.Lines[i].Base; base != 0 && (base > 0) == (a > 0) {
			same = append(same, i)
		}
	}
	if len(same) == 0 {
		return p.spread(a, among, Sizes)
	}
	return p.spread(a, same, SameSign)
}

func size(a money.Amount) money.Amount { return max(a, -a) }

// spread gives each line its share of an amount that is spread over some of them.
func (p Paper) spread(a money.Amount, over []int, how Over) ([]money.Amount, Spread) {
	shares, spread := make([]money.Amount, len(p.Lines)), Spread{Over: how}
	if a == 0 {
		return shares, Spread{Over: Nothing}
	}
	weights := make([]int64, len(over))
	for i, at := range over {
		base := p.Lines[at].Base
		if how != Net {
			base = size(base)
		}
		weights[i] = int64(base)
		spread.Weight += base
	}
	for i, share := range money.Spread(a, weights) {
		shares[over[i]] = share
	}
	return shares, spread
}
