package billing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/worktime"
)

var usd = money.Currency{Code: "USD", Digits: 2}

// hours gives labour its time by class and price, and the amount that it then has.
func hours(t *rapid.T, s *billing.Source) {
	if s.Category != billing.Labour || rapid.Bool().Draw(t, "apart") {
		return
	}
	s.Amount, s.Minutes = 0, 0
	for n, class := range worktime.Classes[:rapid.IntRange(1, 3).Draw(t, "classes")] {
		h := billing.Hours{
			Class: class, Price: money.Rate(rapid.SampledFrom([]int64{473_500, 710_250, 333_333}).Draw(t, "price") * int64(n+1)),
			Minutes: money.Minutes(rapid.Int64Range(1, 600).Draw(t, "time")),
		}
		charge, err := usd.ForTime(h.Price, money.One, h.Minutes)
		require.NoError(t, err)
		s.Amount += charge
		s.Minutes += h.Minutes
		s.Hours = append(s.Hours, h)
	}
}

func drawSources(t *rapid.T) []billing.Source {
	text := rapid.SampledFrom([]string{"", "a", "b", "c"})
	return rapid.SliceOfN(rapid.Custom(func(t *rapid.T) billing.Source {
		s := billing.Source{
			Job: rapid.Int64Range(1, 3).Draw(t, "job"), TaxCode: rapid.Int64Range(0, 2).Draw(t, "code"),
			Category: rapid.SampledFrom(billing.Categories).Draw(t, "category"),
			Date:     calendar.Date(rapid.Int32Range(20000, 20006).Draw(t, "date")),
			Amount:   money.Amount(rapid.Int64Range(-50_000, 900_000).Draw(t, "amount")),
			Minutes:  money.Minutes(rapid.Int64Range(0, 600).Draw(t, "minutes")), Worker: text.Draw(t, "worker"), Trade: text.Draw(t, "trade"),
			CostCode: text.Draw(t, "code"), Phase: text.Draw(t, "phase"),
			Text: text.Draw(t, "text"),
		}
		hours(t, &s)
		return s
	}), 1, 30).Draw(t, "sources")
}

func TestGroupingNeverChangesATotal(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		sources := drawSources(t)
		var want money.Amount
		for _, s := range sources {
			want += s.Amount
		}
		for _, by := range billing.Groupings {
			var got, rounding money.Amount
			seen := map[int]bool{}
			lines, err := billing.Group(sources, by, usd)
			require.NoError(t, err)
			for _, line := range lines {
				var of money.Amount
				for _, at := range line.Sources {
					assert.False(t, seen[at], "a source is on one line")
					seen[at] = true
					of += sources[at].Amount
				}
				got += line.Amount
				rounding += line.Amount - of
				if line.Rate != 0 {
					exact, err := usd.ForTime(line.Rate, money.One, line.Minutes)
					require.NoError(t, err)
					assert.Equal(t, exact, line.Amount, "hours x rate")
				} else if line.Text != billing.Rounding {
					assert.Equal(t, of, line.Amount, "a line is the sum of what it stands for")
				}
			}
			assert.Zero(t, rounding)
			assert.Equal(t, want, got, by)
			assert.Len(t, seen, len(sources), by)
		}
	})
}

func TestTheFootOfAnInvoiceAddsUp(t *testing.T) {
	components := []billing.TaxComponent{
		{Code: 1, Percent: 62_500, AppliesTo: []string{"material"}}, {Code: 1, Percent: 11_250, AppliesTo: []string{"labour", "material"}},
		{Code: 2, Percent: 50_000, AppliesTo: billing.Categories},
	}
	rapid.Check(t, func(t *rapid.T) {
		retainage := map[int64]billing.Retainage{1: {Percent: 50_000, Held: 5_000}, 2: {Percent: 100_000}}
		totals, err := billing.Add(drawSources(t), components, retainage)
		if err != nil {
			require.ErrorIs(t, err, billing.ErrNegative)
			return
		}
		var jobs, held, tax money.Amount
		for _, j := range totals.Jobs {
			jobs += j.Subtotal
			held += j.Retainage
		}
		for _, x := range totals.Taxes {
			tax += x.Tax
		}
		assert.Equal(
			t, []money.Amount{jobs, tax, held, totals.Subtotal + tax, totals.Total - held},
			[]money.Amount{totals.Subtotal, totals.Tax, totals.Retainage, totals.Total, totals.DueNow},
		)
		assert.GreaterOrEqual(t, totals.DueNow, money.Amount(0))
	})
}

func TestAPaymentSettlesTheOldestFirst(t *testing.T) {
	open := []billing.Open{{Due: 30, Number: 3, Balance: 500}, {Due: 10, Number: 1, Balance: 700}, {Due: 20, Number: 2, Balance: 400}}
	parts, credit := billing.Allocate(1000, open)
	assert.Equal(t, []money.Amount{0, 700, 300}, parts)
	assert.Zero(t, credit)
	rapid.Check(t, func(t *rapid.T) {
		payment := money.Amount(rapid.Int64Range(1, 5000).Draw(t, "payment"))
		parts, credit := billing.Allocate(payment, open)
		total := credit
		for i, p := range parts {
			assert.LessOrEqual(t, p, open[i].Balance)
			total += p
		}
		assert.Equal(t, payment, total, "no cent is lost")
	})
	assert.Equal(t, []money.Amount{3334, 6666}, billing.Receipts(10_000, []money.Amount{5_000, 9_998}))
	dues := []money.Amount{12_000, -2_000}
	assert.Equal(t, dues, billing.Receipts(10_000, dues), "a paid invoice has received just each job's due")
}

func waiting(left ...money.Amount) []billing.Waiting {
	all := make([]billing.Waiting, len(left))
	for i, a := range left {
		all[i].Left = a
	}
	return all
}

func TestWhatIsLetGoCountsFirstAndInFull(t *testing.T) {
	left := waiting(70_00, 300_00)
	left[1].LetGo = true
	assert.Equal(t, []money.Amount{0, 300_00}, billing.Limit{Agreed: 1_150_00, Used: 1_000_00}.Fit(left))
	assert.Equal(t, []money.Amount{70_00, 300_00}, billing.Limit{Agreed: 1_370_00, Used: 1_000_00}.Fit(left))
}

func TestALimitHoldsBackWhatDoesNotFit(t *testing.T) {
	limit := billing.Limit{Agreed: 1_000_00}
	left := []money.Amount{-55_00, 480_00, 480_00, 110_00, 480_00, 0}
	assert.Equal(t, []money.Amount{-55_00, 480_00, 480_00, 95_00, 0, 0}, limit.Fit(waiting(left...)))
	limit.Used = 1_200_00
	assert.Equal(t, []money.Amount{-300_00, 100_00, 0}, limit.Fit(waiting(-300_00, 480_00, 10_00)), "what is below 0 makes room")
	assert.True(t, billing.Limit{Agreed: 1_000, Used: 500}.Near(300), "from 80 % on")
	assert.False(t, billing.Limit{Agreed: 1_000, Used: 500}.Near(299))
	rapid.Check(t, func(t *rapid.T) {
		limit := billing.Limit{Agreed: money.Amount(rapid.Int64Range(0, 5_000).Draw(t, "agreed"))}
		left := rapid.SliceOf(rapid.Map(rapid.Int64Range(1, 900), func(n int64) money.Amount { return money.Amount(n) })).Draw(t, "left")
		var all, fits money.Amount
		for i, f := range limit.Fit(waiting(left...)) {
			all, fits = all+left[i], fits+f
		}
		assert.Equal(t, min(all, limit.Agreed), fits, "it is used up, and not exceeded")
	})
}

func TestTheDateOfTheInvoiceSaysWhichTaxHolds(t *testing.T) {
	on := func(day int) *calendar.Date { d := calendar.Date(day); return &d }
	rows := []billing.TaxComponent{
		{Code: 1, Name: "State", Percent: 60_000, AppliesTo: []string{"material"}},
		{Code: 1, Name: "State", From: on(100), Percent: 65_000, AppliesTo: []string{"material"}},
		{Code: 1, Name: "Harbour", From: on(130), Percent: 20_000, AppliesTo: []string{"material"}},
	}
	percents := func(day calendar.Date) (all []money.Percent) {
		for _, c := range billing.EffectiveTaxes(rows, day) {
			all = append(all, c.Percent)
		}
		return all
	}
	assert.Equal(t, []money.Percent{60_000}, percents(99))
	assert.Equal(t, []money.Percent{65_000}, percents(100))
	assert.Equal(t, []money.Percent{65_000, 20_000}, percents(130))
}

func TestTheTaxOfWhatIsRetainedMayBeDueLater(t *testing.T) {
	sources := []billing.Source{{Job: 1, TaxCode: 1, Category: "fixed", Amount: 1_000_00}}
	code := billing.TaxComponent{Code: 1, Percent: 100_000, AppliesTo: []string{"fixed"}, OnRelease: true}
	totals, err := billing.Add(sources, []billing.TaxComponent{code}, map[int64]billing.Retainage{1: {Percent: 100_000}})
	require.NoError(t, err)
	assert.Equal(t, []money.Amount{90_00, 100_00, 990_00}, []money.Amount{totals.Tax, totals.Retainage, totals.DueNow})
}

func TestAPartOfAChargeHasTheSamePartOfTheCost(t *testing.T) {
	first, err := billing.CostOfPart(100, 300, 0, 200)
	require.NoError(t, err)
	rest, err := billing.CostOfPart(100, 300, 200, 100)
	require.NoError(t, err)
	assert.Equal(t, []money.Amount{67, 33}, []money.Amount{first, rest})
	of0, err := billing.CostOfPart(100, 0, 0, 0)
	require.NoError(t, err)
	assert.Equal(t, money.Amount(100), of0, "of a charge of 0 the first part has it")
}

// Hours of one text stay together, and what their rates make of them beside what they are charged is a line of its own.
func TestHoursAndRateAreShownWithARoundingLine(t *testing.T) {
	at := func(class worktime.Class, price money.Rate, minutes money.Minutes) billing.Source {
		s := billing.Source{Job: 1, Category: billing.Labour, Trade: "Labour"}
		s.Hours = []billing.Hours{{Class: class, Price: price, Minutes: minutes}}
		s.Amount, _ = usd.ForTime(price, money.One, minutes)
		return s
	}
	sources := []billing.Source{
		at(worktime.Regular, 473_500, 100), at(worktime.Overtime, 710_250, 50), at(worktime.Regular, 473_500, 100),
		{Job: 1, Category: billing.Labour, Trade: "Labour", Amount: 10_00, Minutes: 60},
		at(worktime.Regular, 473_500, 100), at(worktime.Overtime, 710_250, 10),
	}
	lines, err := billing.Group(sources, billing.ByTrade, usd)
	require.NoError(t, err)
	type line struct {
		text    string
		minutes money.Minutes
		rate    money.Rate
		amount  money.Amount
	}
	got := make([]line, len(lines))
	for i, l := range lines {
		got[i] = line{l.Text, l.Minutes, l.Rate, l.Amount}
	}
	assert.Equal(t, []line{
		{"Labour", 300, 473_500, 236_75}, {"Labour", 60, 0, 10_00}, {"Labour, overtime", 60, 710_250, 71_03}, {"Rounding", 0, 0, 1},
	}, got)
	lines, err = billing.Group(sources, billing.OneLine, usd)
	require.NoError(t, err)
	assert.Len(t, lines, 1)
}
