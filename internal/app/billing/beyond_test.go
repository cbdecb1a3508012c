package billing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/refuse"
)

// The fourth of the worked histories of billing.
func TestALimitIsCrossedAndWorkLetGoBeyondIt(t *testing.T) {
	d := newDesk(t, files(apptest.Files{
		"settings.csv":       "key,value\nrate_card,STD\nnext_invoice_number,1001\novertime_weekly_hours,\n",
		"jobs.csv":           "number,customer,name,contract\n101,HERON,Dock,1000\n",
		"labour_rates.csv":   "card,effective_from,trade,method,value\nSTD,2025-01-01,carp,hourly,60\n",
		"time_entries.csv":   "ref,worker,date,job,hours\nT1,ora,2025-03-03,101,8\nT2,ora,2025-03-04,101,8\nT3,ora,2025-03-05,101,5\n",
		"cost_documents.csv": "ref,kind,date\nD1,receipt,2025-03-04\n",
		"cost_lines.csv": "document,line,category,description,quantity,unit,unit_cost,sell_price,job,markup\n" +
			"D1,1,material,Bolts,1,lot,50,110,101,0\n",
	}))
	held := func() []billing.HeldSource {
		all, err := billing.HeldByLimits(ctx, d.Book, book.Console, "101")
		require.NoError(t, err)
		return all
	}
	stands := func(ready string, want ...[]string) {
		t.Helper()
		assert.Equal(t, ready, d.ready())
		got := [][]string{}
		for _, h := range held() {
			got = append(got, []string{h.Text, h.Left, h.Held})
		}
		assert.Equal(t, append([][]string{}, want...), got)
		apptest.Verified(t, d.Book)
	}
	bolts, t3 := "Bolts", "Ora Tidewell"
	stands("1000.00", []string{bolts, "110.00", "70.00"}, []string{t3, "300.00", "300.00"})
	first := d.issue(d.draft())
	assert.Equal(t, "1000.00", first.Subtotal)
	stands("0.00", []string{bolts, "70.00", "70.00"}, []string{t3, "300.00", "300.00"})
	d.contract("1150")
	stands("150.00", []string{t3, "300.00", "220.00"}) // 80.00 of it is ready, and the bolts are

	let := func(back bool, note string, of billing.HeldSource) error {
		_, err := billing.LetBeyond(ctx, d.Book, book.Console, "101", billing.LettingBeyond{
			Sources: []billing.LetSource{{Kind: of.Kind, ID: of.ID, Left: of.Left}}, Note: note, Back: back,
		})
		return err
	}
	hours := held()[0]
	seen := hours
	seen.Left = "299.00"
	apptest.Refusal(t, let(false, "storm damage", seen), refuse.KindConflict, "", "300.00 is left to bill now, and not 299.00")
	require.NoError(t, let(false, "storm damage, agreed by telephone", hours))
	stands("300.00", []string{bolts, "70.00", "70.00"}, []string{t3, "300.00", "0.00"})
	assert.Equal(t, "storm damage, agreed by telephone", held()[1].Note)
	require.NoError(t, let(true, "", hours))
	require.NoError(t, let(true, "", hours), "said twice it does no more")
	stands("150.00", []string{t3, "300.00", "220.00"})
	require.NoError(t, let(false, "agreed", hours))
	require.NoError(t, let(false, "agreed", hours), "nor that")
	apptest.Refusal(t, let(false, "because I say so", hours), refuse.KindConflict, "", "meanwhile (agreed)")
	apptest.Refusal(t, let(false, "", billing.HeldSource{Kind: "cost_line", ID: 99}), refuse.KindNotFound, "", "work on job 101")
	apptest.SameInAnotherBook(t, d.Book)

	second := d.issue(d.draft())
	assert.Equal(t, "300.00", second.Subtotal)
	stands("0.00", []string{bolts, "70.00", "70.00"})
	d.contract("1370")
	stands("70.00")
	list, err := jobs.List(ctx, d.Book, book.Console, true)
	require.NoError(t, err)
	assert.Equal(t, []string{"1300.00", "70.00", "1370.00"}, []string{list.Jobs[0].Billed, list.Jobs[0].Unbilled, list.Jobs[0].Earned})
	apptest.SameInAnotherBook(t, d.Book)
}
