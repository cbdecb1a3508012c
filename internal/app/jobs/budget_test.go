package jobs_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/book"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
)

// TestABudgetIsSavedOnTheVersionThatWasSeen refuses what is wrong in a row beside its field, what is older than the job, and who may not;
// rows that nothing was typed into are left out.
func TestABudgetIsSavedOnTheVersionThatWasSeen(t *testing.T) {
	ctx := context.Background()
	c := apptest.NewCrew(t)
	choices, err := register.ChoicesFor(ctx, c.Book, c.Owner)
	require.NoError(t, err)
	number := choices.Jobs[0].Number
	folder := func() jobs.JobFolder {
		f, err := jobs.Folder(ctx, c.Book, c.Owner, number)
		require.NoError(t, err)
		return f
	}
	version := folder().Typed.Version
	save := func(version int64, rows ...jobs.BudgetRow) error {
		return jobs.SaveBudget(ctx, c.Book, c.Owner, number, jobs.BudgetChange{Version: version, Rows: rows})
	}
	labour := jobs.BudgetRow{Category: "labour", Hours: "120", Cost: "5400"}
	for _, wrong := range []struct {
		row            jobs.BudgetRow
		path, sentence string
	}{
		{jobs.BudgetRow{Category: "labour", Cost: "-1"}, "rows[2].cost", "a budget"},
		{jobs.BudgetRow{Category: "material", Cost: "1", Forecast: "-1"}, "rows[2].forecast", "a forecast"},
		{jobs.BudgetRow{Category: "material", Cost: "1", Hours: "8"}, "rows[2].hours", "only labour has hours"},
		{jobs.BudgetRow{Category: "labour", Cost: "9"}, "rows[2].category", "above already"},
		{jobs.BudgetRow{Category: "rent", Cost: "9"}, "rows[2].category", "is not one of"},
	} {
		// The row that is wrong keeps its place also behind one that is left out.
		err := save(version, labour, jobs.BudgetRow{Category: "material"}, wrong.row)
		apptest.Refusal(t, err, refuse.KindInvalid, wrong.path, wrong.sentence)
	}
	assert.Empty(t, folder().Plan.Rows, "nothing was changed")

	require.NoError(t, save(version, labour, jobs.BudgetRow{Category: "material"}))
	assert.Equal(t, []jobs.BudgetRow{{Category: "labour", Hours: "120", Cost: "5400.00"}}, folder().Plan.Rows)
	apptest.Refusal(t, save(version), refuse.KindConflict, "", "changed")
	assert.Len(t, folder().Plan.Rows, 1)
	manager := book.Actor{Name: "Mo", Role: book.Manager}
	apptest.Refusal(
		t, jobs.SaveBudget(ctx, c.Book, manager, number, jobs.BudgetChange{Version: version + 1}), refuse.KindForbidden, "", "",
	)
	require.NoError(t, save(version+1))
	assert.Empty(t, folder().Plan.Rows)
}
