package costs_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/refuse"
	"jarvo/internal/core/money"
)

func TestALineIsSplitAndNoCentIsLost(t *testing.T) {
	c := apptest.NewCrew(t)
	split := func(how string, shares ...string) ([]costs.Line, error) {
		in := costs.SplitLine{Date: week, How: how, Line: costs.Line{
			Category: "material", Description: "Bolts", Quantity: "3", Unit: "box", UnitCost: "33.34", Billable: true, JobID: c.Job,
		}}
		for _, share := range shares {
			in.Parts = append(in.Parts, costs.SplitPart{JobID: c.Job, Share: share})
		}
		return costs.Split(ctx, c.Book, c.Owner, in)
	}
	costs := func(lines []costs.Line) []string {
		var all []string
		for _, l := range lines {
			all = append(all, l.Quantity+" x "+l.UnitCost+" at "+l.Markup)
		}
		return all
	}
	lines, err := split("equally", "", "", "") // 100.02
	require.NoError(t, err)
	assert.Equal(t, []string{"1 x 33.34 at 20", "1 x 33.34 at 20", "1 x 33.34 at 20"}, costs(lines))
	assert.Equal(t, "Bolts (2 of 3)", lines[1].Description)
	lines, err = split("percent", "33.33", "33.33", "33.34")
	require.NoError(t, err)
	assert.Equal(t, []string{"1 x 33.34 at 20", "1 x 33.33 at 20", "1 x 33.35 at 20"}, costs(lines))
	lines, err = split("amount", "100", "0.02")
	require.NoError(t, err)
	assert.Equal(t, []string{"1 x 100.00 at 20", "1 x 0.02 at 20"}, costs(lines))

	_, err = split("percent", "50", "49.99")
	apptest.Refusal(t, err, refuse.KindInvalid, "parts[1].share", "99.99 % together; they must be 100 %")
	_, err = split("amount", "50", "40")
	apptest.Refusal(t, err, refuse.KindInvalid, "parts[1].share", "90.00 together; the line is 100.02, so 10.02 is left")
	_, err = split("amount", "x", "40")
	apptest.Refusal(t, err, refuse.KindInvalid, "parts[0].share", "is not a number")
	_, err = split("equally", "")
	apptest.Refusal(t, err, refuse.KindInvalid, "parts", "two jobs or more")
}

func TestSharesOfALineAlwaysAddUpToIt(t *testing.T) {
	c := apptest.NewCrew(t)
	rapid.Check(t, func(t *rapid.T) {
		quantity, each := money.Quantity(rapid.Int64Range(-50_000, 50_000).Draw(t, "quantity")),
			money.Rate(rapid.Int64Range(0, 9_000_000).Draw(t, "each"))
		line := costs.Line{Category: "material", Quantity: quantity.String(), UnitCost: money.USD.FormatRate(each), Billable: true, JobID: c.Job}
		if rapid.Bool().Draw(t, "sold at a price") {
			line.SellPrice = "12.3456"
		}
		in := costs.SplitLine{Date: week, How: "equally", Line: line}
		for range rapid.IntRange(2, 9).Draw(t, "parts") {
			in.Parts = append(in.Parts, costs.SplitPart{JobID: c.Job})
		}
		lines, err := costs.Split(ctx, c.Book, c.Owner, in)
		require.NoError(t, err)
		paper := func(lines ...costs.Line) costs.Document {
			d, err := costs.Preview(ctx, c.Book, c.Owner, costs.Document{Kind: "receipt", Date: week, Lines: lines})
			require.NoError(t, err)
			return d
		}
		whole, parts := paper(line), paper(lines...)
		assert.Equal(t, whole.Total, parts.Total)
		if line.SellPrice != "" {
			assert.Equal(t, whole.Charge, parts.Charge)
		}
	})
}

func TestAPaperThatLooksEnteredTwiceIsWarnedOf(t *testing.T) {
	c := apptest.NewCrew(t)
	d := costs.Document{
		Key: "a-first-receipt", Kind: "receipt", Supplier: "Bellhaven", Date: week, Freight: "1",
		Lines: []costs.Line{{Category: "equipment", Description: "Pump, a day", Quantity: "1", UnitCost: "40", JobID: c.Job, Billable: true}},
	}
	_, err := costs.Save(ctx, c.Book, c.Owner, d)
	require.NoError(t, err)
	d.Key, d.Supplier, d.Lines[0].UnitCost, d.Freight = "a-second-receipt", "", "41", ""
	again, err := costs.Preview(ctx, c.Book, c.Owner, d)
	require.NoError(t, err)
	assert.Equal(t, []string{"41.00 is the amount of Bellhaven of 2026-11-16 too, on the same day; is it the same paper?"}, again.Warnings)
	d.Date = "2026-11-17"
	later, err := costs.Preview(ctx, c.Book, c.Owner, d)
	require.NoError(t, err)
	assert.Empty(t, later.Warnings)
	habit, err := costs.HabitOf(ctx, c.Book, c.Owner, "Bellhaven")
	require.NoError(t, err)
	assert.Equal(t, costs.Habit{Category: "equipment"}, habit)
}
