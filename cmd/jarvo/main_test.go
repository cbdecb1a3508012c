package main

import (
	"context"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
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

func TestATemplateComesInAsItIs(t *testing.T) {
	ctx, folder, db := context.Background(), filepath.Join(t.TempDir(), "template"), filepath.Join(t.TempDir(), "b.db")
	for _, args := range [][]string{{"template", folder}, {"import", folder, "--db", db}, {"verify", "--db", db}} {
		require.Zero(t, run(ctx, args), args)
	}
	assert.FileExists(t, filepath.Join(folder, "README.txt"))
}

// Whoever stops a command is told so, and finds nothing half done under the name that was asked for.
func TestAStoppedCommandDoesNothing(t *testing.T) {
	folder := t.TempDir()
	db := filepath.Join(folder, "b.db")
	require.Zero(t, run(context.Background(), []string{"import", vector, "--db", db}))
	stopped, stop := context.WithCancel(context.Background())
	stop()
	out := func(name string) string { return filepath.Join(folder, name) }
	for _, args := range [][]string{
		{"export", out("out"), "--db", db}, {"export", out("out.zip"), "--db", db}, {"backup", out("copy.db"), "--db", db},
		{"import", vector, "--db", out("new.db")},
		{"bill", "--through", "2025-03-31", "--issue", "--db", db}, {"verify", "--db", db}, {"import", vector, "--db", db},
	} {
		assert.Equal(t, exitFailed, run(stopped, args), args)
	}
	left, err := os.ReadDir(folder)
	require.NoError(t, err)
	assert.Len(t, left, 1, left)
	assert.Zero(t, run(context.Background(), []string{"verify", "--db", db}))
	assert.Equal(
		t, exitFailed, run(context.Background(), []string{"invoice", "SG-998", "--out", out("i.pdf"), "--db", db}), "nothing was billed",
	)
}
