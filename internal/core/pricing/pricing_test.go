package pricing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/landing"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
	"jarvo/internal/core/worktime"
)

const (
	cato, bess     = 1, 2
	driver, welder = 10, 20
	piles, lifting = 320, 330
	day            = calendar.Date(20_500)
)

var company = pricing.Factors{Overtime: 15_000, Double: 20_000}

func row(id, worker, trade, code int64, from calendar.Date) pricing.LabourRow {
	return pricing.LabourRow{
		ID: id, Worker: worker, Trade: trade, CostCode: code, From: from, Method: pricing.Hourly, Rate: money.Rate(id * 10_000),
	}
}

func decides(t *testing.T, cards []pricing.Card, w pricing.Work) int64 {
	t.Helper()
	r, _, found := pricing.FindLabour(cards, w, day)
	if !found {
		return 0
	}
	return r.ID
}

func TestTheMostSpecificRowOfACardDecides(t *testing.T) {
	card := pricing.Card{Labour: []pricing.LabourRow{
		row(1, 0, 0, 0, day-9), row(2, 0, driver, 0, day-9), row(3, 0, 0, piles, day-9), row(4, 0, driver, piles, day-9),
		row(5, cato, 0, 0, day-9), row(6, cato, 0, piles, day-9),
	}}
	for _, c := range []struct {
		want int64
		work pricing.Work
	}{
		{1, pricing.Work{Worker: bess, Trade: welder, CostCode: lifting}}, {2, pricing.Work{Worker: bess, Trade: driver, CostCode: lifting}},
		{3, pricing.Work{Worker: bess, Trade: welder, CostCode: piles}},
		{4, pricing.Work{Worker: bess, Trade: driver, CostCode: piles}}, {5, pricing.Work{Worker: cato, Trade: driver, CostCode: lifting}},
		{6, pricing.Work{Worker: cato, Trade: driver, CostCode: piles}},
		{1, pricing.Work{Worker: bess}},
	} {
		assert.Equal(t, c.want, decides(t, []pricing.Card{card}, c.work), "%+v", c.work)
	}
}

func TestTheFirstCardWithARowDecidesEvenIfALaterOneIsMoreSpecific(t *testing.T) {
	job, customer, own := pricing.Card{Labour: []pricing.LabourRow{row(1, 0, 0, 0, day)}},
		pricing.Card{Labour: []pricing.LabourRow{row(2, cato, 0, 0, day)}},
		pricing.Card{Labour: []pricing.LabourRow{row(3, cato, driver, piles, day)}}
	work := pricing.Work{Worker: cato, Trade: driver, CostCode: piles}
	assert.EqualValues(t, 1, decides(t, []pricing.Card{job, customer, own}, work))
	assert.EqualValues(t, 2, decides(t, []pricing.Card{{}, customer, own}, work))
	job.Labour[0].From = day + 1
	assert.EqualValues(t, 2, decides(t, []pricing.Card{job, customer, own}, work), "a row that holds only later is not asked")
	assert.Zero(t, decides(t, []pricing.Card{{}, {}, {}}, work))
}

func TestOfTheVersionsOfARowTheLatestHolds(t *testing.T) {
	card := pricing.Card{Labour: []pricing.LabourRow{
		row(1, 0, driver, 0, day-30), row(2, 0, driver, 0, day), row(3, 0, driver, 0, day+1), row(4, 0, 0, 0, day),
	}}
	assert.EqualValues(t, 2, decides(t, []pricing.Card{card}, pricing.Work{Trade: driver}))
}

func TestARowHasFactorsOfItsOwnOrTheCompanys(t *testing.T) {
	own := money.Factor(14_000)
	r := pricing.LabourRow{Method: pricing.Hourly, Rate: 960_000, Overtime: &own}
	for class, want := range map[worktime.Class]money.Amount{worktime.Regular: 96_00, worktime.Overtime: 134_40, worktime.Double: 192_00} {
		charge, err := r.Charge(money.USD, company, worktime.Segment{Class: class, Minutes: 60}, nil)
		require.NoError(t, err)
		assert.Equal(t, want, *charge, class)
	}
}

func TestACostPlusRowChargesNothingWithoutACost(t *testing.T) {
	r := pricing.LabourRow{Method: pricing.OnMarkup, Percent: 350_000}
	cost := money.Amount(100_01)
	charge, err := r.Charge(money.USD, company, worktime.Segment{Class: worktime.Overtime, Minutes: 60}, &cost)
	require.NoError(t, err)
	assert.Equal(t, money.Amount(135_01), *charge, "135.0135; the factor is in the cost already")
	none, err := r.Charge(money.USD, company, worktime.Segment{Minutes: 60}, nil)
	require.NoError(t, err)
	assert.Nil(t, none)
}

func TestAMarkupIsFoundByTheBandOfTheUnitCost(t *testing.T) {
	card := pricing.Card{Code: "STD", Markups: []pricing.MarkupRow{
		{ID: 1, Category: "material", From: day - 9}, {ID: 2, Category: "material", OverCost: 5_000_000, From: day - 9},
		{ID: 3, Category: "material", OverCost: 5_000_000, From: day},
		{ID: 4, Category: "material", OverCost: 5_000_000, From: day + 1}, {ID: 5, Category: "expense", OverCost: 1_000_000, From: day},
	}}
	find := func(category string, unitCost money.Rate) int64 {
		r, _, _ := pricing.FindMarkup([]pricing.Card{{}, card}, category, day, unitCost)
		return r.ID
	}
	assert.EqualValues(t, 1, find("material", 4_999_999))
	assert.EqualValues(t, 3, find("material", 5_000_000), "from its band on, the latest version")
	assert.EqualValues(t, 3, find("material", -5_000_000), "a credit is sized as what it gives back")
	assert.Zero(t, find("expense", 10), "no band is low enough")
	assert.Zero(t, find("mileage", 10))
}

func TestALineIsChargedByPriceThenMarkupThenCard(t *testing.T) {
	price, own := money.Rate(317_550), money.Percent(-500_000)
	line := pricing.Line{Quantity: 3_500, SellPrice: &price, Markup: &own, Landed: landing.Landed{Base: 80_00, Freight: 10_00, Tax: 9_99}}
	row := pricing.MarkupRow{Percent: 180_000}
	charge := func() money.Amount {
		c, err := line.Charge(money.USD, row)
		require.NoError(t, err)
		return c
	}
	assert.Equal(t, money.Amount(111_14), charge())
	line.SellPrice = nil
	assert.Equal(t, money.Amount(50_00), charge())
	line.Markup = nil
	assert.Equal(t, money.Amount(117_99), charge())
	row.On = pricing.OnBeforeTax
	assert.Equal(t, money.Amount(106_20+9_99), charge(), "the tax is passed on at cost")
	row.On = pricing.OnGoods
	assert.Equal(t, money.Amount(94_40+19_99), charge(), "freight and tax are passed on at cost")
}

// The row that decides is one that matches, and no other row of its card that matches weighs more.
func TestNoMatchingRowWeighsMoreThanTheOneThatDecides(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		pick := func(label string, of ...int64) int64 { return rapid.SampledFrom(append(of, 0)).Draw(t, label) }
		var card pricing.Card
		for i := range rapid.IntRange(1, 12).Draw(t, "rows") {
			card.Labour = append(card.Labour, row(
				int64(i+1), pick("worker", cato, bess), pick("trade", driver, welder), pick("code", piles, lifting),
				day+calendar.Date(rapid.IntRange(-3, 3).Draw(t, "from")),
			))
		}
		work := pricing.Work{Worker: pick("who", cato, bess), Trade: pick("as", driver, welder), CostCode: pick("what", piles, lifting)}
		best, _, found := pricing.FindLabour([]pricing.Card{card}, work, day)
		for _, r := range card.Labour {
			matches := r.From <= day && (r.Worker == 0 || r.Worker == work.Worker) && (r.Trade == 0 || r.Trade == work.Trade) && (r.CostCode == 0 ||
				r.CostCode == work.CostCode)
			if matches {
				assert.True(t, found)
				assert.LessOrEqual(t, r.Weight(), best.Weight())
			}
		}
	})
}
