package main

import (
	"context"
	"encoding/json"
	"io"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// output runs a command and returns what it writes to standard output.
func output(t *testing.T, code int, args ...string) string {
	t.Helper()
	kept := os.Stdout
	r, w, err := os.Pipe()
	require.NoError(t, err)
	os.Stdout = w
	defer func() { os.Stdout = kept }()
	read := make(chan string)
	go func() {
		text, _ := io.ReadAll(r)
		read <- string(text)
	}()
	got := run(context.Background(), args)
	require.NoError(t, w.Close())
	text := <-read
	assert.Equal(t, code, got, "%v: %s", args, text)
	return text
}

func billedBook(t *testing.T) string {
	t.Helper()
	db := filepath.Join(t.TempDir(), "b.db")
	output(t, 0, "import", vector, "--db", db)
	made := output(t, 0, "bill", "--through", "2025-03-31", "--issue", "--db", db)
	assert.Contains(t, made, "SG-998\tHeron Cove Marina\t")
	assert.Empty(t, output(t, 0, "bill", "--through", "2025-03-31", "--issue", "--db", db), "run twice, the second makes nothing")
	return db
}

func TestReportsAreWrittenAsAsked(t *testing.T) {
	db := billedBook(t)
	want, err := os.ReadFile(filepath.Join(vector, "../expected/invoices.csv"))
	require.NoError(t, err)
	assert.Equal(t, string(want), output(t, 0, "report", "invoices", "--db", db))
	var records []map[string]string
	require.NoError(t, json.Unmarshal([]byte(output(t, 0, "report", "invoices", "--format", "json", "--job", "102", "--db", db)), &records))
	require.Len(t, records, 1)
	assert.Equal(t, []string{"SG-999", "182.97"}, []string{records[0]["number"], records[0]["due_now"]})
	assert.Equal(t, "PK", output(t, 0, "report", "aging", "--format", "xlsx", "--through", "2025-05-01", "--db", db)[:2])
	aging := output(t, 0, "report", "aging", "--through", "2025-05-01", "--db", db)
	assert.Contains(t, aging, "HERON,0.00,62.06,0.00,0.00,0.00,62.06,0.00,2.53")
	output(t, exitFailed, "report", "labour", "--job", "9999", "--db", db)
	output(t, exitUsage, "report", "labour", "--format", "doc", "--db", db)
	output(t, exitUsage, "report", "labour", "--from", "yesterday", "--db", db)
}

func TestAnInvoiceIsWrittenInEveryFormat(t *testing.T) {
	db, folder := billedBook(t), t.TempDir()
	for format, begins := range map[string]string{"pdf": "%PDF", "ubl": "<?xml", "csv": "\ufeffinvoice,", "xlsx": "PK"} {
		file := filepath.Join(folder, "i."+format)
		output(t, 0, "invoice", "SG-998", "--format", format, "--backup", "--out", file, "--db", db)
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		assert.Equal(t, begins, string(data[:len(begins)]), format)
	}
	output(t, exitUsage, "invoice", "SG-998", "--format", "doc", "--out", filepath.Join(folder, "x"), "--db", db)
	output(t, exitUsage, "invoice", "SG-998", "--db", db)
}

func TestABookGoesOutAndComesBackTheSame(t *testing.T) {
	db, folder := billedBook(t), t.TempDir()
	first, second, again := filepath.Join(folder, "first.zip"), filepath.Join(folder, "second.zip"), filepath.Join(folder, "again.db")
	output(t, 0, "export", first, "--db", db)
	output(t, 0, "import", first, "--db", again)
	output(t, 0, "export", second, "--db", again)
	a, err := os.ReadFile(first)
	require.NoError(t, err)
	b, err := os.ReadFile(second)
	require.NoError(t, err)
	assert.Equal(t, a, b, "the same bytes")
	output(t, 0, "verify", "--db", again)
	output(t, exitFailed, "export", first, "--db", db)
}

func TestEveryCommandExplainsItself(t *testing.T) {
	assert.Contains(t, output(t, 0, "--help"), "serve")
	for _, command := range []string{"serve", "demo", "import", "export", "bill", "report", "invoice", "verify", "backup"} {
		assert.Contains(t, output(t, 0, command, "--help"), "--db", command)
	}
}
