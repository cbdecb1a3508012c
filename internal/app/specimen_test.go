package app_test

import (
	"fmt"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app"
	"jarvo/internal/bundle"
	"jarvo/internal/core/calendar"
	"jarvo/internal/specimen"
)

func writeBundle(t testing.TB, data bundle.Data) string {
	t.Helper()
	folder := filepath.Join(t.TempDir(), "bundle")
	require.NoError(t, bundle.Write(folder, data))
	return folder
}

func assertAgrees(t *testing.T, what string, r *reference, a *app.App) {
	t.Helper()
	for name, want := range r.reports() {
		got, err := a.Report(ctx, app.Console, name, app.ReportQuery{})
		require.NoError(t, err)
		assert.Empty(t, firstDifference(want, got.Rows), "%s, report %s", what, name)
	}
	assertVerified(t, a)
}

// Companies of every kind and size come out to the cent as the rules say, when computed a second time from their
// texts alone; billed half way, and billed to the end.
func TestRandomCompaniesAgreeWithASecondComputation(t *testing.T) {
	sizes := []specimen.Size{
		{Workers: 1, Jobs: 1, Entries: 3, CostLines: 2, Days: 5}, {Workers: 2, Jobs: 3, Entries: 40, CostLines: 10, Days: 20},
		{Workers: 4, Jobs: 8, Entries: 150, CostLines: 60, Days: 60}, {Workers: 3, Jobs: 6, Entries: 300, CostLines: 30, Days: 420},
	}
	for seed := range 48 {
		size := sizes[seed%len(sizes)]
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			data := specimen.Company(uint64(seed), size)
			a, r := newBook(t), newReference(data)
			importBundle(t, a, writeBundle(t, data))
			assertAgrees(t, "before billing", r, a)
			for _, through := range []calendar.Date{specimen.Begin + calendar.Date(size.Days/2), specimen.Begin + calendar.Date(size.Days)} {
				_, err := a.BillRun(ctx, app.Console, through, through, "", true)
				require.NoError(t, err)
				r.bill(through.String())
				assertAgrees(t, "billed through "+through.String(), r, a)
			}
		})
	}
}

// Work that comes in after its week was billed moves nothing that is billed: what the billed hours lack of the
// overtime goes to the unbilled ones, caps go on from what was paid, and a wage with an earlier date costs the rest again.
func TestLateWorkLeavesBilledWorkAsItIs(t *testing.T) {
	size := specimen.Size{Workers: 3, Jobs: 5, Entries: 120, CostLines: 4, Days: 30}
	for seed := range 24 {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			data := specimen.Company(uint64(1000+seed), size)
			late := bundle.Data{"time_entries.csv": data["time_entries.csv"][80:], "wages.csv": {{"W01", (specimen.Begin + 3).String(), "47.11"}}}
			data["time_entries.csv"] = data["time_entries.csv"][:80]
			a, r := newBook(t), newReference(data)
			importBundle(t, a, writeBundle(t, data))
			through := specimen.Begin + calendar.Date(size.Days/2)
			_, err := a.BillRun(ctx, app.Console, through, through, "", true)
			require.NoError(t, err)
			r.bill(through.String())
			importBundle(t, a, writeBundle(t, late))
			r.more(late)
			assertAgrees(t, "late work", r, a)
		})
	}
}
