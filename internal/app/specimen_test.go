package app_test

import (
	"fmt"
	"maps"
	"math/big"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/exchange"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/scope"
	"jarvo/internal/bundle"
	"jarvo/internal/core/calendar"
	"jarvo/internal/specimen"
	"jarvo/internal/store"
)

func assertAgrees(t *testing.T, what string, r *reference, a *book.Book) {
	t.Helper()
	agree := func(name string, want [][]string, q reports.ReportQuery) {
		got, err := reports.Make(ctx, a, book.Console, name, q)
		require.NoError(t, err)
		assert.Empty(t, firstDifference(want, got.Rows), "%s, report %s, %v", what, name, q)
	}
	for name, want := range r.reports() {
		agree(name, want, reports.ReportQuery{})
	}
	for _, period := range [][2]calendar.Date{{specimen.Begin + 4, specimen.Begin + 19}, {specimen.Begin + 9, 0}, {0, specimen.Begin + 30}} {
		q := reports.ReportQuery{From: period[0], Through: period[1]}
		from, through := dayText(q.From), dayText(q.Through)
		agree("job-profit", r.profit(from, through), q)
		agree("wip", r.wip(from, through), q)
	}
	apptest.Verified(t, a)
}

// dayText is a day as a bundle has it, blank for none.
func dayText(d calendar.Date) string {
	if d == 0 {
		return ""
	}
	return d.String()
}

// Companies of every kind and size come out to the cent as the rules say, when computed a second time from their
// texts alone; billed half way, and billed to the end.
func TestRandomCompaniesAgreeWithASecondComputation(t *testing.T) {
	sizes := []specimen.Size{
		{Workers: 1, Jobs: 1, Entries: 3, CostLines: 2, Days: 5}, {Workers: 2, Jobs: 3, Entries: 40, CostLines: 10, Days: 20},
		{Workers: 4, Jobs: 8, Entries: 150, CostLines: 60, Days: 60}, {Workers: 3, Jobs: 6, Entries: 300, CostLines: 30, Days: 420},
	}
	for seed := range 24 {
		size := sizes[seed%len(sizes)]
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			data := specimen.Company(uint64(seed), size)
			a, r := apptest.NewBook(t), newReference(data)
			apptest.Import(t, a, apptest.WriteBundle(t, data))
			assertAgrees(t, "before billing", r, a)
			for _, through := range []calendar.Date{specimen.Begin + calendar.Date(size.Days/2), specimen.Begin + calendar.Date(size.Days)} {
				_, err := billing.Run(ctx, a, book.Console, through, through, "", true)
				require.NoError(t, err)
				r.bill(through.String())
				assertAgrees(t, "billed through "+through.String(), r, a)
			}
		})
	}
}

// Work that comes into an empty book is costed before it is added, work that joins other work after: it comes to the same.
func TestWorkBroughtInAtOnceOrInPartsComesToTheSame(t *testing.T) {
	for seed := range 6 {
		data := specimen.Company(uint64(4000+seed), specimen.Size{Workers: 3, Jobs: 5, Entries: 200, CostLines: 60, Days: 60})
		part := maps.Clone(data)
		for _, file := range []string{"time_entries.csv", "cost_lines.csv"} {
			part[file] = data[file][:len(data[file])/2]
		}
		atOnce, inParts := apptest.NewBook(t), apptest.NewBook(t)
		apptest.Import(t, atOnce, apptest.WriteBundle(t, data))
		apptest.Import(t, inParts, apptest.WriteBundle(t, part))
		apptest.Import(t, inParts, apptest.WriteBundle(t, data))
		for _, report := range []string{"labour", "costs", "unbilled", "job-profit"} {
			want, err := reports.Make(ctx, atOnce, book.Console, report, reports.ReportQuery{})
			require.NoError(t, err)
			got, err := reports.Make(ctx, inParts, book.Console, report, reports.ReportQuery{})
			require.NoError(t, err)
			require.NotEmpty(t, want.Rows)
			assert.Equal(t, want, got, "company %d, report %s", seed, report)
		}
	}
}

// A total over all dates, which is kept as work is booked, is the same as one that is added up between two dates, for all
// jobs and for each, also after billing and after a raise.
func TestTotalsOfAllDatesAreThoseBetweenDates(t *testing.T) {
	for seed := range 6 {
		a := apptest.NewBook(t)
		apptest.Import(t, a, apptest.WriteBundle(t, specimen.Company(uint64(3000+seed), specimen.Size{
			Workers: 3, Jobs: 5, Entries: 90, CostLines: 40, Days: 40,
		})))
		same := func(when string) {
			jobs, err := jobs.List(ctx, a, book.Console, true)
			require.NoError(t, err)
			for _, number := range append([]string{""}, numbersOf(jobs)...) {
				kept, err := scope.FootingOf(ctx, a, book.Console, scope.ScopeQuery{Job: number})
				require.NoError(t, err)
				added, err := scope.FootingOf(ctx, a, book.Console, scope.ScopeQuery{Job: number, From: "2000-01-01", To: "2100-01-01"})
				require.NoError(t, err)
				assert.Equal(t, added, kept, "%s, job %q", when, number)
			}
		}
		same("brought in")
		half := specimen.Begin + calendar.Date(20)
		_, err := billing.Run(ctx, a, book.Console, half, half, "", true)
		require.NoError(t, err)
		same("billed half way")
		require.NoError(t, rates.AddWage(ctx, a, book.Console, rates.NewWage{WorkerID: 1, Rate: "61.50", From: (half + 3).String()}))
		same("after a raise")
	}
}

func numbersOf(list jobs.JobList) []string {
	var numbers []string
	for _, j := range list.Jobs {
		numbers = append(numbers, j.Number)
	}
	return numbers
}

// Work that comes in after its week was billed moves nothing that is billed: what the billed hours lack of the
// overtime goes to the unbilled ones, caps go on from what was paid, and a wage with an earlier date costs the rest again.
func TestLateWorkLeavesBilledWorkAsItIs(t *testing.T) {
	size := specimen.Size{Workers: 3, Jobs: 5, Entries: 120, CostLines: 4, Days: 30}
	for seed := range 24 {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			data := specimen.Company(uint64(1000+seed), size)
			late := bundle.Data{"time_entries.csv": data["time_entries.csv"][80:], "wages.csv": {{"W01", freeDate(data["wages.csv"]), "47", "hour"}}}
			data["time_entries.csv"] = data["time_entries.csv"][:80]
			a, r := apptest.NewBook(t), newReference(data)
			apptest.Import(t, a, apptest.WriteBundle(t, data))
			through := specimen.Begin + calendar.Date(size.Days/2)
			_, err := billing.Run(ctx, a, book.Console, through, through, "", true)
			require.NoError(t, err)
			r.bill(through.String())
			apptest.Import(t, a, apptest.WriteBundle(t, late))
			r.more(late)
			assertAgrees(t, "late work", r, a)
		})
	}
}

// freeDate is a date of the first days of work from which the first worker has no wage yet.
func freeDate(wages [][]string) string {
	for date := specimen.Begin + 3; ; date++ {
		if !slices.ContainsFunc(wages, func(w []string) bool { return w[0] == "W01" && w[1] == date.String() }) {
			return date.String()
		}
	}
}

// A book with everything in it, taken out and brought into an empty one, is the same book: the same bytes when it is
// taken out again, and the same reports. Brought in over itself it changes nothing.
func TestABookTakenOutAndBroughtInIsTheSameBook(t *testing.T) {
	for seed := range 8 {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			size := specimen.Size{Workers: 4, Jobs: 9, Entries: 120, CostLines: 50, Days: 50}
			first, second := apptest.NewBook(t), apptest.NewBook(t)
			apptest.Import(t, first, apptest.WriteBundle(t, specimen.Company(uint64(2000+seed), size)))
			half, end := specimen.Begin+25, specimen.Begin+50
			_, err := billing.Run(ctx, first, book.Console, half, half, "", true)
			require.NoError(t, err)
			apptest.PayFirst(t, first)
			_, err = billing.Run(ctx, first, book.Console, end, end, "", false)
			require.NoError(t, err)

			data, err := exchange.Export(ctx, first, book.Console)
			require.NoError(t, err)
			for _, file := range []string{"invoices.csv", "invoice_sources.csv", "labour_segments.csv"} {
				require.NotEmpty(t, data[file])
			}
			folder := apptest.WriteBundle(t, data)
			apptest.Import(t, second, folder)
			again, err := exchange.Export(ctx, second, book.Console)
			require.NoError(t, err)
			assert.Equal(t, data, again)
			for _, name := range reports.Names() {
				assert.Equal(t, apptest.ReportText(t, first, name), apptest.ReportText(t, second, name), name)
			}
			apptest.Verified(t, second)

			apptest.Import(t, first, folder)
			same, err := exchange.Export(ctx, first, book.Console)
			require.NoError(t, err)
			assert.Equal(t, data, same, "brought in over itself")
			apptest.Verified(t, first)
		})
	}
}

// What the work of a job is charged is on invoices, on drafts, ready to bill or held back by a limit, and nowhere twice; what a year has
// earned is what its months have; and the sums of jobs are those of their customers.
func TestWhatIsChargedIsSomewhereAndOnlyOnce(t *testing.T) {
	for seed := range 6 {
		a := apptest.NewBook(t)
		apptest.Import(t, a, apptest.WriteBundle(t, specimen.Company(uint64(5000+seed), specimen.Size{
			Workers: 3, Jobs: 8, Entries: 160, CostLines: 60, Days: 60,
		})))
		third := specimen.Begin + calendar.Date(20)
		_, err := billing.Run(ctx, a, book.Console, third, third, "", true)
		require.NoError(t, err)
		_, err = billing.Run(ctx, a, book.Console, third+20, third+20, "", false)
		require.NoError(t, err)
		apptest.Verified(t, a)
		require.NoError(t, a.Store.Read(ctx, func(tx *store.Tx) error {
			for _, table := range []string{"time_entries", "cost_lines"} {
				off, err := store.Value[int64](tx, "SELECT count(*) FROM "+table+` WHERE status = 'approved' AND charge IS NOT NULL
					AND charge <> invoiced + drafted + ifnull(ready, 0) + held`)
				require.NoError(t, err)
				assert.Zero(t, off, table)
			}
			return nil
		}))
		all := reports.ReportQuery{From: specimen.Begin, Through: specimen.Begin + 59}
		whole := columns(t, a, "job-profit", all, "earned", "provision", "cost")
		var parts []*big.Rat
		for month := range calendar.Date(4) {
			from := specimen.Begin + 15*month
			part := columns(t, a, "job-profit", reports.ReportQuery{From: from, Through: from + 14}, "earned", "provision", "cost")
			if parts == nil {
				parts = part
				continue
			}
			for i := range parts {
				parts[i].Add(parts[i], part[i])
			}
		}
		for i := range whole {
			assert.Zero(t, whole[i].Cmp(parts[i]), "column %d: %s in all, %s by parts", i, whole[i].FloatString(3), parts[i].FloatString(3))
		}
	}
}

// columns are the sums of some columns of a report.
func columns(t *testing.T, a *book.Book, name string, q reports.ReportQuery, of ...string) []*big.Rat {
	t.Helper()
	r, err := reports.Make(ctx, a, book.Console, name, q)
	require.NoError(t, err)
	sums := make([]*big.Rat, len(of))
	for i, column := range of {
		sums[i] = new(big.Rat)
		for _, row := range r.Rows {
			sums[i].Add(sums[i], rat(row[slices.Index(r.Columns, column)]))
		}
	}
	return sums
}

// What customers owe, with what they hold back and less their credit, is what was invoiced less what came in.
func TestWhatIsOwedAddsUp(t *testing.T) {
	a := apptest.NewBook(t)
	apptest.Import(t, a, apptest.WriteBundle(t, specimen.Company(5100, specimen.Size{
		Workers: 3, Jobs: 8, Entries: 160, CostLines: 60, Days: 60,
	})))
	end := specimen.Begin + calendar.Date(60)
	_, err := billing.Run(ctx, a, book.Console, end, end, "", true)
	require.NoError(t, err)
	apptest.PayFirst(t, a)
	owed := columns(t, a, "aging", reports.ReportQuery{Through: calendar.Always.To}, "total", "retained", "credit")
	invoiced := columns(t, a, "invoices", reports.ReportQuery{}, "total", "paid")
	left := plus(owed[0], owed[1], new(big.Rat).Neg(owed[2]))
	assert.Zero(t, left.Cmp(plus(invoiced[0], new(big.Rat).Neg(invoiced[1]))), "%s owed and held", left.FloatString(2))
	assert.Positive(t, invoiced[1].Sign())
}
