package main

import (
	"context"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/book"
	"jarvo/internal/store"
)

// TestANightlyBackupIsRestored keeps a copy a night while the book goes on, loses the book, and goes on from the last copy: it has what the
// book had that night, and is sound.
func TestANightlyBackupIsRestored(t *testing.T) {
	ctx, folder := context.Background(), t.TempDir()
	db, backups := filepath.Join(folder, "book.db"), filepath.Join(folder, "backups")
	require.Zero(t, run(ctx, []string{"import", vector, "--db", db}))
	s, err := store.Open(ctx, db)
	require.NoError(t, err)
	at := time.Date(2026, 11, 20, 23, 0, 0, 0, time.UTC)
	b := book.New(s, func() time.Time { return at })
	n := nightly{folder: backups, keep: 2}
	require.NoError(t, os.MkdirAll(backups, 0o700))
	require.NoError(t, os.WriteFile(filepath.Join(backups, "mine.db"), nil, 0o600))
	for range 3 {
		_, err := n.copy(ctx, b)
		require.NoError(t, err)
		again, err := n.copy(ctx, b)
		require.NoError(t, err)
		assert.Empty(t, again, "one a day")
		at = at.Add(24 * time.Hour)
	}
	kept, err := filepath.Glob(filepath.Join(backups, "*"))
	require.NoError(t, err)
	last := filepath.Join(backups, "jarvo-2026-11-22.db")
	assert.Equal(t, []string{filepath.Join(backups, "jarvo-2026-11-21.db"), last, filepath.Join(backups, "mine.db")}, kept)
	require.NoError(t, s.Close())
	before := output(t, 0, "report", "job-profit", "--db", db)

	require.NoError(t, os.WriteFile(db, []byte("the disk is broken"), 0o600))
	assert.Equal(t, exitFailed, run(ctx, []string{"verify", "--db", db}))
	whole, err := os.ReadFile(last)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(db, whole, 0o600))
	assert.Zero(t, run(ctx, []string{"verify", "--db", db}))
	assert.Equal(t, before, output(t, 0, "report", "job-profit", "--db", db))
	assert.Zero(t, run(ctx, []string{"bill", "--through", "2025-03-31", "--issue", "--db", db}), "work goes on in it")
	assert.Zero(t, run(ctx, []string{"verify", "--db", db}))
}

// TestAServerKeepsItsBackups runs the server itself: a copy is there once it looks.
func TestAServerKeepsItsBackups(t *testing.T) {
	folder := t.TempDir()
	db, backups := filepath.Join(folder, "book.db"), filepath.Join(folder, "backups")
	require.Zero(t, run(t.Context(), []string{"import", vector, "--db", db}))
	s := serveProcess(t, db, "--backups", backups)
	s.says(t, "backup")
	s.kill()
	kept, err := filepath.Glob(filepath.Join(backups, "jarvo-*.db"))
	require.NoError(t, err)
	assert.Len(t, kept, 1)
	assert.Equal(t, exitUsage, run(t.Context(), []string{"serve", "--db", db, "--backups", backups, "--keep", "0"}))
}
