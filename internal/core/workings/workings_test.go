package workings_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jarvo/internal/core/billing"
	"jarvo/internal/core/burden"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/labour"
	"jarvo/internal/core/landing"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
	"jarvo/internal/core/profit"
	"jarvo/internal/core/workings"
	"jarvo/internal/core/worktime"
)

var (
	show = workings.Show{Currency: money.USD}
	on   = calendar.On(2026, 11, 18)
)

// addsUp asserts that a root is what it is said to be, that the leaves under it add up to it, and that so does every sum within.
func addsUp(t require.TestingT, root workings.Step, want money.Amount) {
	assert.Equal(t, int64(want), root.Result.Number, root.Label)
	var leaves int64
	for _, leaf := range root.Leaves() {
		leaves += leaf.Result.Number
	}
	assert.Equal(t, root.Result.Number, leaves, "the leaves under %s", root.Label)
	for _, step := range root.Steps {
		addsUp(t, step, money.Amount(step.Result.Number))
	}
}

func amount(t *rapid.T, what string) money.Amount {
	return money.Amount(rapid.Int64Range(-500_000, 2_000_000).Draw(t, what))
}

func TestTheLeavesOfLabourAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		limit := money.Amount(rapid.Int64Range(0, 100_000).Draw(t, "cap"))
		terms := labour.Terms{
			Currency: money.USD, Factors: pricing.Factors{Overtime: 15_000, Double: 20_000},
			Wages: []labour.Wage{{ID: 1, From: on, Rate: money.Rate(rapid.Int64Range(0, 900_000).Draw(t, "wage"))}},
			Components: []burden.Component{
				{ID: 1, Name: "Accident", From: on, Basis: burden.OnStraight, Percent: 118_000},
				{ID: 2, Name: "Health", From: on, Basis: burden.OnHour, Rate: 52_000},
				{
					ID: 3, Name: "Unemployment", From: on, Basis: burden.OnGross, Percent: money.Percent(rapid.Int64Range(1, 300_000).Draw(t, "percent")),
					Cap: &limit,
				},
			},
		}
		row := pricing.LabourRow{
			ID: 1, From: on, Method: rapid.SampledFrom([]pricing.Method{pricing.Hourly, pricing.OnMarkup}).Draw(t, "method"), Rate: 960_000,
			Percent: 333_333,
		}
		kept := []labour.Segment{
			{Segment: worktime.Segment{Class: worktime.Regular, Minutes: money.Minutes(rapid.IntRange(1, 600).Draw(t, "regular"))}},
			{Segment: worktime.Segment{Class: worktime.Double, Minutes: 77}},
		}
		entry := labour.Entry{
			Entry: worktime.Entry{Date: on}, Cards: []pricing.Card{{ID: 1, Code: "STD", Labour: []pricing.LabourRow{row}}}, Chargeable: true,
		}
		costed, err := terms.CostAgain([]labour.Entry{entry}, [][]labour.Segment{kept}, 0, map[int]burden.Earned{})
		require.NoError(t, err)
		total := labour.Total(costed)
		shown := show.OfLabour(terms, on, costed)
		addsUp(t, *shown.Cost, *total.Cost)
		addsUp(t, *shown.Charge, *total.Charge)
	})
}

func TestTheLeavesOfACostLineAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		freight, tax := amount(t, "freight"), amount(t, "tax")
		var lines []landing.Line
		for range rapid.IntRange(1, 5).Draw(t, "lines") {
			lines = append(lines, landing.Line{
				Quantity: money.Quantity(rapid.Int64Range(-20_000, 90_000).Draw(t, "quantity")),
				UnitCost: money.Rate(rapid.Int64Range(0, 9_000_000).Draw(t, "cost")), Taxable: rapid.Bool().Draw(t, "taxable"),
			})
		}
		recovered := rapid.Bool().Draw(t, "recovered")
		landed, err := landing.Land(money.USD, lines, freight, tax, recovered)
		require.NoError(t, err)
		own := money.Percent(rapid.Int64Range(-999_999, 2_000_000).Draw(t, "markup"))
		for i, l := range landed.Lines {
			g := workings.Goods{
				Line: lines[i], Landed: l, Freight: freight, Tax: tax, Paper: landed, Recovered: recovered, Found: true,
				Row: pricing.MarkupRow{Percent: own, On: rapid.SampledFrom(pricing.Bases).Draw(t, "on")},
			}
			switch rapid.IntRange(0, 2).Draw(t, "charged by") {
			case 0:
				g.Pricing.Markup = &own
			case 1:
				price := money.Rate(123_456)
				g.Pricing.SellPrice = &price
			}
			g.Pricing.Quantity, g.Pricing.Landed = lines[i].Quantity, l
			charge, err := g.Pricing.Charge(money.USD, g.Row)
			require.NoError(t, err)
			g.Charge = &charge
			shown := show.OfLine(g)
			addsUp(t, shown.Landed, l.Cost())
			addsUp(t, *shown.Charge, charge)
		}
	})
}

func TestTheLeavesOfAnInvoiceAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var sources []billing.Source
		for range rapid.IntRange(1, 12).Draw(t, "sources") {
			sources = append(sources, billing.Source{
				Job: rapid.Int64Range(1, 3).Draw(t, "job"), TaxCode: rapid.Int64Range(0, 1).Draw(t, "code"),
				Category: rapid.SampledFrom(billing.Categories).Draw(t, "category"),
				Amount:   money.Amount(rapid.Int64Range(0, 900_000).Draw(t, "amount")), Worker: "W", Text: "T",
			})
		}
		components := []billing.TaxComponent{
			{Code: 1, Name: "State", Percent: 62_500, AppliesTo: []string{"material", "labour"}},
			{Code: 1, Name: "Town", Percent: 11_250, AppliesTo: []string{"labour"}},
		}
		totals, err := billing.Add(sources, components, map[int64]billing.Retainage{1: {Percent: 50_000}, 2: {Percent: 75_000}})
		require.NoError(t, err)
		in := workings.Invoice{Taxes: totals.Taxes, TaxFrom: make([]workings.Record, len(totals.Taxes))}
		lines, err := billing.Group(sources, rapid.SampledFrom(billing.Groupings).Draw(t, "grouping"), show.Currency)
		require.NoError(t, err)
		for _, l := range lines {
			line := workings.Billed{Text: l.Text, Amount: l.Amount}
			for _, at := range l.Sources {
				line.Work = append(line.Work, workings.Work{Text: sources[at].Text, Charge: sources[at].Amount, Amount: sources[at].Amount})
			}
			in.Lines = append(in.Lines, line)
		}
		for _, j := range totals.Jobs {
			in.Retained = append(in.Retained, workings.Retained{Share: j.Subtotal, Percent: j.RetainagePercent, Retainage: j.Retainage})
		}
		addsUp(t, show.OfInvoice(in), totals.DueNow)
	})
}

func TestAPartSaysHowItWasChosen(t *testing.T) {
	show := workings.Show{Currency: money.Currency{Digits: 2}}
	for want, w := range map[string]workings.Work{
		"3.33 h of the charge of 603.48":                                    {Way: billing.ByHours, Typed: 200},
		"a quantity of 12 of the charge of 603.48":                          {Way: billing.ByQuantity, Typed: 12_000},
		"33.3333 % of the charge of 603.48":                                 {Way: billing.ByPercent, Typed: 333_333},
		"an amount of the charge of 603.48, 203.48 written down: too slow":  {Way: billing.ByAmount, Down: 20_348, Reason: "too slow"},
		"what was left of the charge of 603.48":                             {Way: billing.TheRest},
		"what fits within the limit of the charge of 603.48":                {Way: billing.AsFits},
		"an amount of the charge of 603.48, 5.00 written up: it was agreed": {Way: billing.ByAmount, Up: 500, Reason: "it was agreed"},
	} {
		w.Charge, w.Amount = 60_348, 20_457
		step := show.OfInvoice(workings.Invoice{Lines: []workings.Billed{{Text: "Labour", Amount: w.Amount, Work: []workings.Work{w}}}})
		assert.Contains(t, formulas(step), want)
	}
}

// formulas are those of a step and of all below it.
func formulas(s workings.Step) []string {
	all := []string{s.Formula}
	for _, below := range s.Steps {
		all = append(all, formulas(below)...)
	}
	return all
}

func TestTheLeavesOfAProfitAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var places []profit.Place
		var kinds []workings.CostKind
		for phase := range rapid.Int64Range(1, 6).Draw(t, "places") {
			p := profit.Place{
				Phase: phase, Basis: rapid.SampledFrom([]billing.Basis{billing.TimeAndMaterials, billing.Fixed, billing.Never}).Draw(t, "basis"),
				Done: rapid.Bool().Draw(t, "done"), Worked: true,
				Kinds:   []profit.Kind{{Cost: amount(t, "cost"), Pending: amount(t, "pending")}},
				Billing: profit.Billing{Billed: amount(t, "billed")},
			}
			if contract := money.Amount(rapid.Int64Range(0, 5_000_000).Draw(t, "contract")); rapid.Bool().Draw(t, "agreed") {
				p.Contract = &contract
			}
			if p.Basis == billing.TimeAndMaterials {
				p.Unbilled, p.Drafted = amount(t, "unbilled"), amount(t, "drafted")
				p.Earning = p.Billed + p.Drafted + p.Unbilled
			}
			if rapid.Bool().Draw(t, "budgeted") {
				p.Kinds[0].Budget = money.Amount(rapid.Int64Range(0, 3_000_000).Draw(t, "budget"))
			}
			places = append(places, p)
			kinds = append(kinds, workings.CostKind{Category: "labour", Cost: p.Kinds[0].Cost})
		}
		contract := money.Amount(rapid.Int64Range(0, 9_000_000).Draw(t, "contract of the job"))
		plain := profit.Terms{Basis: billing.Fixed, Contract: &contract, Finished: rapid.Bool().Draw(t, "finished")}.Parts(places)
		parts := make([]workings.Part, len(plain))
		for i, p := range plain {
			parts[i] = workings.Part{Part: p, From: workings.Record{Text: "part"}}
		}
		job, err := profit.Of(plain)
		require.NoError(t, err)
		shown, err := show.OfProfit(parts, kinds)
		require.NoError(t, err)
		addsUp(t, shown, job.Profit)
	})
}

func TestALineSaysWhereItsMarkupCameFrom(t *testing.T) {
	charge := money.Amount(11_800)
	g := workings.Goods{
		Line: landing.Line{Quantity: 2000, UnitCost: 500_000}, Landed: landing.Landed{Base: 10_000},
		Row:  pricing.MarkupRow{ID: 7, From: on, Category: "material", Percent: 180_000},
		Card: pricing.Card{Code: "STD"}, Found: true, Charge: &charge,
	}
	shown := show.OfLine(g)
	assert.Equal(t, "2 x 50.00", shown.Landed.Steps[0].Formula)
	markup := shown.Charge.Steps[1]
	assert.Equal(t, "18 % of 100.00", markup.Formula)
	assert.Equal(t, "18.00", markup.Result.Text)
	assert.Equal(
		t, &workings.Record{Kind: "markup", ID: 7, Text: "card STD, material from 0.00 on, since 2026-11-18"}, markup.Operands[1].From,
	)
}
