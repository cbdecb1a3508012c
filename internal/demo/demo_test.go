package demo_test

import (
	"context"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/access"
	"jarvo/internal/app/approve"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/exchange"
	"jarvo/internal/app/register"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/today"
	"jarvo/internal/demo"
	"jarvo/internal/demo/demotest"
	"jarvo/internal/store"
)

var ctx = context.Background()

func fill(t *testing.T, day time.Time) *book.Book {
	t.Helper()
	s, err := store.Open(ctx, filepath.Join(t.TempDir(), "demo.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	a := book.New(s, func() time.Time { return day })
	require.NoError(t, demo.Fill(ctx, a))
	return a
}

// isWhole asserts that a demo book is verified, and that each list of Bill has something.
func isWhole(t *testing.T, a *book.Book) {
	t.Helper()
	apptest.Verified(t, a)
	sheet, err := billing.Sheet(ctx, a, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	assert.NotEmpty(t, sheet.Ready)
	assert.NotEmpty(t, sheet.Drafts)
	assert.NotEmpty(t, sheet.Issued)
}

func TestTheDemoCompanyIsWhatItIsSaidToBe(t *testing.T) {
	a, _ := demotest.Open(t)
	isWhole(t, a)
	choices, err := register.ChoicesFor(ctx, a, book.Console)
	require.NoError(t, err)
	assert.Equal(t, []string{"Deck crew", "Dive crew", "Pile crew"}, choices.Crews)
	assert.Equal(t, []int{14, 9, 20}, []int{len(choices.Workers), len(choices.Customers), len(choices.Jobs)})

	today, err := today.Sheet(ctx, a, book.Console, today.TodayQuery{})
	require.NoError(t, err)
	kinds := map[string]bool{}
	for _, end := range today.LooseEnds {
		kinds[end.Kind] = true
	}
	for _, kind := range []string{"hole", "not_handed_in", "no_code", "no_rate", "no_job", "no_markup", "late", "over", "twice", "owed"} {
		assert.True(t, kinds[kind], kind)
	}
	bills, err := billing.Sheet(ctx, a, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	assert.NotEmpty(t, bills.Totals.Overdue)
	waiting, err := approve.Waiting(ctx, a, book.Console, approve.Question{})
	require.NoError(t, err)
	assert.NotEmpty(t, waiting.Weeks)
	assert.NotEmpty(t, waiting.Papers)

	labour, err := reports.Make(ctx, a, book.Console, "labour", reports.ReportQuery{})
	require.NoError(t, err)
	first, last, stages := "9999", "", map[string]bool{}
	for _, row := range labour.Rows {
		first, last = min(first, row[2]), max(last, row[2])
		stages[row[6]] = true
	}
	assert.Equal(t, []string{"2026-08-31", "2026-11-25"}, []string{first, last}, "thirteen weeks up to the day it is started")
	assert.Equal(t, map[string]bool{"draft": true, "submitted": true, "approved": true, "billed": true}, stages)
}

func TestTheSameDayGivesTheSameBook(t *testing.T) {
	day := time.Date(2027, 1, 3, 23, 0, 0, 0, time.UTC) // a Sunday
	written := fill(t, day)
	isWhole(t, written)
	first, err := exchange.Export(ctx, written, book.Console)
	require.NoError(t, err)
	second, err := exchange.Export(ctx, fill(t, day), book.Console)
	require.NoError(t, err)
	for i, scan := range first["attachments.csv"] { // a PDF holds when it was written
		scan[1], second["attachments.csv"][i][1] = "", ""
	}
	for i, put := range first["message_files.csv"] {
		put[3], second["message_files.csv"][i][3] = "", ""
	}
	for file, rows := range first {
		require.Equal(t, rows, second[file], file)
	}
}

func TestTheDemosPeopleMaySignIn(t *testing.T) {
	a, _ := demotest.Open(t)
	for signIn, role := range map[string]book.Role{
		demo.SignIn: book.Owner, "tom@brackwater.example": book.Manager, "greta@brackwater.example": book.Foreman,
	} {
		actor, err := access.SignIn(ctx, a, signIn, demo.Password)
		require.NoError(t, err)
		assert.Equal(t, role, actor.Role)
		_, err = access.SignIn(ctx, a, signIn, demo.Password+".")
		require.Error(t, err)
	}
}
