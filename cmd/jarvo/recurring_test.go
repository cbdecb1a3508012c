package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A server that was switched off makes the recurring invoices that it missed, each once, with its own date over a year's end; the bill run
// finds none left to make.
func TestAServerMakesTheRecurringInvoicesItMissed(t *testing.T) {
	folder := t.TempDir()
	db, bundle := filepath.Join(folder, "book.db"), filepath.Join(folder, "bundle")
	require.NoError(t, os.MkdirAll(bundle, 0o700))
	for name, text := range map[string]string{
		"customers.csv":       "code,name\nHERON,Heron Cove Marina\n",
		"jobs.csv":            "number,customer,name\n101,HERON,Moorings\n",
		"recurring.csv":       "ref,text,first,every,step,until\nR1,Moorings,2024-11-30,1,months,2025-02-28\n",
		"recurring_lines.csv": "recurring,position,job,text,amount\nR1,1,101,Two moorings,120\n",
	} {
		require.NoError(t, os.WriteFile(filepath.Join(bundle, name), []byte(text), 0o600))
	}
	require.Zero(t, run(t.Context(), []string{"import", bundle, "--db", db}))
	dates := func() (dates []string) {
		out := filepath.Join(t.TempDir(), "out")
		require.Zero(t, run(t.Context(), []string{"export", out, "--db", db}))
		data, err := os.ReadFile(filepath.Join(out, "invoices.csv"))
		if err != nil {
			return nil
		}
		for row := range strings.SplitSeq(strings.TrimSpace(string(data)), "\n") {
			if cells := strings.Split(row, ","); cells[1] == "draft" {
				dates = append(dates, cells[5])
			}
		}
		return dates
	}
	require.Empty(t, dates())
	want := []string{"2024-11-30", "2024-12-30", "2025-01-30", "2025-02-28"}
	s := serveProcess(t, db)
	s.says(t, "recurring invoices")
	s.kill()
	assert.Equal(t, want, dates())
	s = serveProcess(t, db)
	s.kill()
	assert.Zero(t, run(t.Context(), []string{"bill", "--through", "2025-12-31", "--db", db}))
	assert.Equal(t, want, dates(), "once")
	assert.Zero(t, run(t.Context(), []string{"verify", "--db", db}))
}
