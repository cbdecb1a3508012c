package app_test

import (
	"context"
	"encoding/csv"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/exchange"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/verify"
	"jarvo/internal/bundle"
	"jarvo/internal/core/calendar"
	"jarvo/internal/store"
)

var ctx = context.Background()

// clock is the moment at which every test runs.
func noon() time.Time { return time.Date(2026, time.November, 23, 8, 0, 0, 0, time.UTC) }

func newBook(t testing.TB) *book.Book {
	t.Helper()
	s, err := store.Open(ctx, filepath.Join(t.TempDir(), "jarvo.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	return book.New(s, noon)
}

func importBundle(t testing.TB, a *book.Book, folder string) {
	t.Helper()
	b, err := bundle.Read(folder)
	require.NoError(t, err)
	_, err = exchange.Import(ctx, a, book.Console, b)
	require.NoError(t, err)
}

func reportText(t testing.TB, a *book.Book, name string) string {
	t.Helper()
	r, err := reports.Make(ctx, a, book.Console, name, reports.ReportQuery{})
	require.NoError(t, err)
	var b strings.Builder
	w := csv.NewWriter(&b)
	require.NoError(t, w.Write(r.Columns))
	require.NoError(t, w.WriteAll(r.Rows))
	return b.String()
}

func assertVerified(t testing.TB, a *book.Book) {
	t.Helper()
	differences, err := verify.Run(ctx, a, book.Console)
	require.NoError(t, err)
	assert.Empty(t, differences)
}

func TestWorkedCases(t *testing.T) {
	cases, err := filepath.Glob("../core/testdata/vectors/*/bundle")
	require.NoError(t, err)
	require.Len(t, cases, 10)
	for _, folder := range cases {
		t.Run(filepath.Base(filepath.Dir(folder)), func(t *testing.T) {
			a := newBook(t)
			importBundle(t, a, folder)
			if through, err := os.ReadFile(filepath.Join(folder, "../bill.txt")); err == nil {
				date, err := calendar.Parse(string(through))
				require.NoError(t, err)
				_, err = billing.Run(ctx, a, book.Console, date, date, "", true)
				require.NoError(t, err)
				again, err := billing.Run(ctx, a, book.Console, date, date, "", true)
				require.NoError(t, err)
				assert.Empty(t, again, "run twice, the second makes nothing")
			}
			expected, err := filepath.Glob(filepath.Join(folder, "../expected/*.csv"))
			require.NoError(t, err)
			require.NotEmpty(t, expected)
			for _, file := range expected {
				want, err := os.ReadFile(file)
				require.NoError(t, err)
				name := strings.TrimSuffix(filepath.Base(file), ".csv")
				assert.Equal(t, strings.ReplaceAll(string(want), "\r\n", "\n"), reportText(t, a, name), name)
			}
			assertVerified(t, a)
		})
	}
}

func TestExportBroughtIntoAnEmptyBookGivesTheSameReports(t *testing.T) {
	cases, err := filepath.Glob("../core/testdata/vectors/*/bundle")
	require.NoError(t, err)
	for _, folder := range cases {
		first, second := newBook(t), newBook(t)
		importBundle(t, first, folder)
		data, err := exchange.Export(ctx, first, book.Console)
		require.NoError(t, err)
		out := filepath.Join(t.TempDir(), "out.zip")
		require.NoError(t, bundle.Write(out, data, nil))
		importBundle(t, second, out)
		for _, name := range reports.Names() {
			assert.Equal(t, reportText(t, first, name), reportText(t, second, name), folder+" "+name)
		}
		again, err := exchange.Export(ctx, second, book.Console)
		require.NoError(t, err)
		assert.Equal(t, data, again, folder)
	}
}
