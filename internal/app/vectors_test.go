package app_test

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/exchange"
	"jarvo/internal/app/reports"
	"jarvo/internal/bundle"
	"jarvo/internal/core/calendar"
)

func TestWorkedCases(t *testing.T) {
	cases, err := filepath.Glob("../core/testdata/vectors/*/bundle")
	require.NoError(t, err)
	require.Len(t, cases, 20)
	for _, folder := range cases {
		t.Run(filepath.Base(filepath.Dir(folder)), func(t *testing.T) {
			a := apptest.NewBook(t)
			apptest.Import(t, a, folder)
			if through, err := os.ReadFile(filepath.Join(folder, "../bill.txt")); err == nil {
				date, err := calendar.Parse(string(through))
				require.NoError(t, err)
				_, err = billing.Run(ctx, a, book.Console, date, date, "", true)
				require.NoError(t, err)
				again, err := billing.Run(ctx, a, book.Console, date, date, "", true)
				require.NoError(t, err)
				assert.Empty(t, again, "run twice, the second makes nothing")
			}
			var q reports.ReportQuery
			if period, err := os.ReadFile(filepath.Join(folder, "../period.txt")); err == nil {
				dates := strings.Fields(string(period))
				q.From, err = calendar.Parse(dates[0])
				require.NoError(t, err)
				q.Through, err = calendar.Parse(dates[1])
				require.NoError(t, err)
			}
			expected, err := filepath.Glob(filepath.Join(folder, "../expected/*.csv"))
			require.NoError(t, err)
			require.NotEmpty(t, expected)
			for _, file := range expected {
				want, err := os.ReadFile(file)
				require.NoError(t, err)
				name := strings.TrimSuffix(filepath.Base(file), ".csv")
				assert.Equal(t, strings.ReplaceAll(string(want), "\r\n", "\n"), apptest.ReportOf(t, a, name, q), name)
			}
			apptest.Verified(t, a)
		})
	}
}

func TestExportBroughtIntoAnEmptyBookGivesTheSameReports(t *testing.T) {
	cases, err := filepath.Glob("../core/testdata/vectors/*/bundle")
	require.NoError(t, err)
	for _, folder := range cases {
		first, second := apptest.NewBook(t), apptest.NewBook(t)
		apptest.Import(t, first, folder)
		data, err := exchange.Export(ctx, first, book.Console)
		require.NoError(t, err)
		out := filepath.Join(t.TempDir(), "out.zip")
		require.NoError(t, bundle.Write(out, data, nil))
		apptest.Import(t, second, out)
		for _, name := range reports.Names() {
			assert.Equal(t, apptest.ReportText(t, first, name), apptest.ReportText(t, second, name), folder+" "+name)
		}
		again, err := exchange.Export(ctx, second, book.Console)
		require.NoError(t, err)
		assert.Equal(t, data, again, folder)
	}
}
