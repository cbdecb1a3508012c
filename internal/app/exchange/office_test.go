package exchange_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/book"
	"jarvo/internal/app/exchange"
	"jarvo/internal/bundle"
)

// problemsOf brings files in that a person has typed, and returns what is wrong with them.
func problemsOf(t *testing.T, a *book.Book, small bool, texts map[string]string) []string {
	t.Helper()
	b, err := bundle.Read(apptest.TextFiles(t, texts))
	require.NoError(t, err)
	b.SmallPercents = small
	_, err = exchange.Import(ctx, a, book.Console, b)
	var problems bundle.Problems
	if err == nil {
		return nil
	}
	require.ErrorAs(t, err, &problems)
	var said []string
	for _, p := range problems {
		said = append(said, p.String())
	}
	return said
}

// One fault is told once, and not with all that follows from it.
func TestAFaultOfABundleIsToldOnce(t *testing.T) {
	said := problemsOf(t, apptest.NewBook(t), false, map[string]string{
		"workers.csv": "code,name,kind\nada,Ada Fell,director\n",
		"jobs.csv":    "number,customer,name,basis\n101,,Slip,none\n",
		"wages.csv":   "worker,effective_from,rate\nada,2026-01-01,30\n",
		"time_entries.csv": "ref,worker,date,job,hours\nT1,ada,2026-01-05,101,8\nT2,ada,2026-01-06,101,8\nT3,ada,2026-01-07,999,8\n" +
			"T4,ada,2026-01-08,999,8\n",
	})
	assert.Equal(t, []string{
		`workers.csv line 2, kind: "director" is not one of employee, hired`,
		`time_entries.csv line 4, job: there is no job "999" (also in 1 more row)`,
	}, said)
}

func TestTimesOfDayAreReadAsSpreadsheetsWriteThem(t *testing.T) {
	a := apptest.NewBook(t)
	assert.Empty(t, problemsOf(t, a, false, map[string]string{
		"workers.csv": "code,name\nada,Ada Fell\n", "jobs.csv": "number,customer,name,basis\n101,,Slip,none\n",
		"time_entries.csv": "ref,worker,date,job,start,finish\nT1,ada,1/31/2026,101,7:00 AM,3:30 pm\nT2,ada,2/1/2026,101,07:00:00,15:00\n",
	}))
	labour := apptest.ReportText(t, a, "labour")
	assert.Contains(t, labour, "T1,ada,2026-01-31,101,,,approved,8.50")
	assert.Contains(t, labour, "T2,ada,2026-02-01,101,,,approved,8.00")
}

// A fraction where a percent is meant is asked about; what a book wrote itself is not.
func TestAFractionInPlaceOfAPercentIsAskedAbout(t *testing.T) {
	taxes := map[string]string{"tax_codes.csv": "code,component,percent,applies_to\nBAY,State,0.0625,material\n"}
	a := apptest.NewBook(t)
	assert.Equal(t, []string{
		"tax_codes.csv line 2, percent: 0.0625 is 0.0625 of a hundred; write 6.25 if that is meant, or bring the bundle in with " +
			"--small-percents if it is meant as it is",
	}, problemsOf(t, a, false, taxes))
	assert.Empty(t, problemsOf(t, a, true, taxes))
	apptest.SameInAnotherBook(t, a)
}
