package landing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jarvo/internal/core/landing"
	"jarvo/internal/core/money"
)

func line(base money.Amount, taxable bool) landing.Line {
	return landing.Line{Quantity: 1_000, UnitCost: money.Rate(base) * 100, Taxable: taxable}
}

func shares(p landing.Paper) (freight, tax []money.Amount) {
	for _, l := range p.Lines {
		freight, tax = append(freight, l.Freight), append(tax, l.Tax)
	}
	return freight, tax
}

func TestFreightGoesOverWhatWasBoughtAndTaxOverTheNet(t *testing.T) {
	lines := []landing.Line{line(171_00, true), line(80_15, true), line(-28_50, true), line(30_00, false)}
	paper, err := landing.Land(money.USD, lines, 25_00, 18_37, false)
	require.NoError(t, err)
	freight, tax := shares(paper)
	assert.Equal(t, []money.Amount{15_20, 7_13, 0, 2_67}, freight, "the return carries none")
	assert.Equal(t, []money.Amount{14_11, 6_61, -2_35, 0}, tax, "the return carries its share back, the permit has none")
	assert.Equal(t, []landing.Over{landing.SameSign, landing.Net}, []landing.Over{paper.Freight.Over, paper.Tax.Over})
	assert.Equal(t, money.Amount(222_65), paper.Tax.Weight)

	recovered, err := landing.Land(money.USD, lines, 25_00, 18_37, true)
	require.NoError(t, err)
	assert.Equal(t, money.Amount(186_20), recovered.Lines[0].Cost(), "tax that comes back is no cost")
}

func TestATaxThatCantBeOfTheNetGoesAsFreightDoes(t *testing.T) {
	paper, err := landing.Land(money.USD, []landing.Line{line(100_00, true), line(-90_00, true)}, 0, 6_00, false)
	require.NoError(t, err)
	_, tax := shares(paper)
	assert.Equal(t, []money.Amount{6_00, 0}, tax, "it is 60 % of the net")

	credit, err := landing.Land(money.USD, []landing.Line{line(-60_00, true), line(-20_00, true)}, 5_00, -4_80, false)
	require.NoError(t, err)
	freight, tax := shares(credit)
	assert.Equal(t, []money.Amount{3_75, 1_25}, freight, "no line is above 0, so it goes over all by size")
	assert.Equal(t, []money.Amount{-3_60, -1_20}, tax)

	untaxed, err := landing.Land(money.USD, []landing.Line{line(10_00, false), line(-30_00, false)}, 0, 1_00, false)
	require.NoError(t, err)
	_, tax = shares(untaxed)
	assert.Equal(t, []money.Amount{25, 75}, tax, "where no line is taxable it goes over all")
}

func TestLinesOfNothingShareEvenly(t *testing.T) {
	landed, err := landing.Land(money.USD, make([]landing.Line, 3), 10_00, 0, false)
	require.NoError(t, err)
	freight, _ := shares(landed)
	assert.Equal(t, []money.Amount{3_34, 3_33, 3_33}, freight)
}

func TestNoCentOfFreightOrTaxIsLost(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		lines := rapid.SliceOfN(rapid.Custom(func(t *rapid.T) landing.Line {
			return landing.Line{
				Quantity: money.Quantity(rapid.Int64Range(-90_000, 90_000).Draw(t, "quantity")),
				UnitCost: money.Rate(rapid.Int64Range(-900_000, 9_000_000).Draw(t, "each")), Taxable: rapid.Bool().Draw(t, "taxable"),
			}
		}), 1, 20).Draw(t, "lines")
		freight, tax := money.Amount(rapid.Int64Range(-90_000, 900_000).Draw(t, "freight")),
			money.Amount(rapid.Int64Range(-90_000, 900_000).Draw(t, "tax"))
		landed, err := landing.Land(money.USD, lines, freight, tax, false)
		require.NoError(t, err)
		var f, x, cost, base money.Amount
		for i, l := range landed.Lines {
			f, x, cost, base = f+l.Freight, x+l.Tax, cost+l.Cost(), base+l.Base
			if landed.Tax.Over == landing.Net {
				assert.LessOrEqual(t, max(l.Tax, -l.Tax)*100, 35*max(l.Base, -l.Base)+100, "no share is beyond 35 % of its base and a cent")
				assert.True(t, lines[i].Taxable || l.Tax == 0, "what is not taxable has no tax")
			}
		}
		assert.Equal(t, []money.Amount{freight, tax, base + freight + tax}, []money.Amount{f, x, cost})
	})
}
