package main

import (
	"context"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app"
	"jarvo/internal/demo"
	"jarvo/internal/store"
)

const vector = "../../internal/core/testdata/vectors/07-invoice-tax-retainage/bundle"

func TestTheWholeJobFromTheCommandLine(t *testing.T) {
	ctx, folder := context.Background(), t.TempDir()
	db, pdf, out := filepath.Join(folder, "b.db"), filepath.Join(folder, "i.pdf"), filepath.Join(folder, "out")
	for _, call := range []struct {
		code int
		args []string
	}{
		{exitFailed, []string{"verify", "--db", db}},
		{exitFailed, []string{"import", filepath.Join(folder, "none"), "--db", db}},
		{0, []string{"import", vector, "--db", db}},
		{exitUsage, []string{"bill", "--db", db}},
		{exitUsage, []string{"bill", "--through", "soon", "--db", db}},
		{0, []string{"bill", "--through", "2025-03-31", "--issue", "--db", db}},
		{exitUsage, []string{"report", "nothing", "--db", db}},
		{exitUsage, []string{"report"}},
		{0, []string{"report", "invoices", "--format", "json", "--db", db}},
		{exitFailed, []string{"invoice", "SG-1", "--out", pdf, "--db", db}},
		{0, []string{"invoice", "SG-998", "--out", pdf, "--db", db}},
		{0, []string{"verify", "--db", db}},
		{0, []string{"backup", filepath.Join(folder, "copy.db"), "--db", db}},
		{0, []string{"export", out, "--db", db}},
		{exitUsage, []string{"dance"}},
		{exitUsage, []string{"verify", "--nothing"}},
	} {
		assert.Equal(t, call.code, run(ctx, call.args), call.args)
	}
	data, err := os.ReadFile(pdf)
	require.NoError(t, err)
	assert.Equal(t, "%PDF", string(data[:4]))
	assert.FileExists(t, filepath.Join(out, "datapackage.json"))
}

func TestAnImportThatFailsLeavesNoBookBehind(t *testing.T) {
	folder := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(folder, "wages.csv"), []byte("worker,effective_from,rate\nnobody,2025-01-01,1\n"), 0o600))
	db := filepath.Join(t.TempDir(), "b.db")
	assert.Equal(t, exitFailed, run(context.Background(), []string{"import", folder, "--db", db}))
	assert.NoFileExists(t, db)
}

func TestTheDemoBookIsWholeAndVerified(t *testing.T) {
	ctx := context.Background()
	for _, day := range []time.Time{time.Date(2026, 11, 23, 8, 0, 0, 0, time.UTC), time.Date(2027, 1, 3, 8, 0, 0, 0, time.UTC)} {
		s, err := store.Open(ctx, filepath.Join(t.TempDir(), "demo.db"))
		require.NoError(t, err)
		t.Cleanup(func() { require.NoError(t, s.Close()) })
		a := app.New(s, func() time.Time { return day })
		require.NoError(t, demo.Fill(ctx, a))
		differences, err := a.Verify(ctx, app.Console)
		require.NoError(t, err)
		assert.Empty(t, differences)
		sheet, err := a.Bill(ctx, app.Console, app.ScopeQuery{})
		require.NoError(t, err)
		assert.NotEmpty(t, sheet.Ready)
		assert.NotEmpty(t, sheet.Drafts)
		assert.NotEmpty(t, sheet.Issued)
	}
}
