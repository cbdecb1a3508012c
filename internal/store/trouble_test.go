package store_test

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/store"
)

// set gives the connection that writes a setting of SQLite: how a full disk or a held book is made here.
func set(t *testing.T, s *store.Store, pragma string) {
	t.Helper()
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { return tx.Exec("PRAGMA " + pragma).Error }))
}

func addTrade(s *store.Store, code string) error {
	return s.Write(ctx, func(tx *store.Tx) error {
		return tx.Run("INSERT INTO trades (code, name) VALUES (?, ?)", code, strings.Repeat("long ", 2000))
	})
}

func TestAFullDiskIsSaidAndGoesAwayByItself(t *testing.T) {
	s := open(t)
	set(t, s, "max_page_count = 1") // no more than there are
	var err error
	for n := 0; err == nil && n < 100; n++ {
		err = addTrade(s, strings.Repeat("x", n+1))
	}
	trouble, found := store.IsTrouble(err)
	require.True(t, found, "%v", err)
	assert.True(t, trouble.Full)
	assert.Contains(t, trouble.Sentence, "the disk is full, so nothing was saved")
	require.NoError(
		t, s.Read(ctx, func(tx *store.Tx) error { _, err := store.All[store.Trade](tx, "id"); return err }), "it can still be read",
	)
	set(t, s, "max_page_count = 1000000")
	require.NoError(t, addTrade(s, "room again"))
}

func TestABookThatIsHeldOrReadOnlyIsSaid(t *testing.T) {
	s := open(t)
	set(t, s, "query_only = on")
	trouble, found := store.IsTrouble(addTrade(s, "a"))
	require.True(t, found)
	assert.Contains(t, trouble.Sentence, "can't be written")

	file := filepath.Join(t.TempDir(), "held.db")
	one, err := store.Open(ctx, file)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, one.Close()) })
	two, err := store.Open(ctx, file)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, two.Close()) })
	set(t, two, "busy_timeout = 20")
	require.NoError(t, one.Write(ctx, func(*store.Tx) error {
		trouble, found := store.IsTrouble(addTrade(two, "b"))
		assert.True(t, found)
		assert.Contains(t, trouble.Sentence, "another program is holding the book")
		return nil
	}))
	require.NoError(t, addTrade(two, "b"))
}

func TestADamagedBookIsSaid(t *testing.T) {
	file := filepath.Join(t.TempDir(), "jarvo.db")
	s, err := store.Open(ctx, file)
	require.NoError(t, err)
	damage, err := s.Damage(ctx)
	require.NoError(t, err)
	assert.Empty(t, damage)
	for n := range 30 {
		require.NoError(t, addTrade(s, strings.Repeat("y", n+1)))
	}
	require.NoError(t, s.Close())
	data, err := os.ReadFile(file)
	require.NoError(t, err)
	for at := len(data) - 4*4096; at < len(data); at++ { // tables, and not what tells of them
		data[at] = 0xA5
	}
	require.NoError(t, os.WriteFile(file, data, 0o600))
	s, err = store.Open(ctx, file)
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	damage, err = s.Damage(ctx)
	assert.True(t, err != nil || len(damage) > 0)

	none := filepath.Join(t.TempDir(), "letter.db")
	require.NoError(t, os.WriteFile(none, []byte(strings.Repeat("Dear customer, ", 500)), 0o600))
	_, err = store.Open(ctx, none)
	trouble, found := store.IsTrouble(err)
	require.True(t, found, "%v", err)
	assert.Contains(t, trouble.Sentence, "damaged")
}

func TestABookOfALaterVersionIsRefused(t *testing.T) {
	file := filepath.Join(t.TempDir(), "jarvo.db")
	s, err := store.Open(ctx, file)
	require.NoError(t, err)
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		return tx.Run("INSERT INTO goose_db_version (version_id, is_applied) VALUES (?, 1)", 9999)
	}))
	require.NoError(t, s.Close())
	_, err = store.Open(ctx, file)
	require.ErrorIs(t, err, store.ErrLater)
	_, err = store.OpenAsIs(file)
	require.ErrorIs(t, err, store.ErrLater)
}

func TestABookAndItsCopiesAreForTheirOwnerAlone(t *testing.T) {
	folder := t.TempDir()
	file, copied := filepath.Join(folder, "jarvo.db"), filepath.Join(folder, "copy.db")
	s, err := store.Open(ctx, file)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	const token = "a-token-that-signs-somebody-in"
	require.NoError(t, s.Sessions().CommitCtx(ctx, token, []byte("Ada"), farAhead()))
	data, found, err := s.Sessions().FindCtx(ctx, token)
	require.NoError(t, err)
	assert.True(t, found)
	assert.Equal(t, "Ada", string(data))
	require.NoError(t, s.Backup(ctx, copied))
	require.Error(t, s.Backup(ctx, copied), "a backup takes the place of nothing")
	for _, name := range []string{file, file + "-wal", copied} {
		info, err := os.Stat(name)
		require.NoError(t, err)
		assert.Equal(t, os.FileMode(0o600), info.Mode().Perm(), name)
	}
	wal, err := os.ReadFile(file + "-wal")
	require.NoError(t, err)
	assert.NotContains(t, string(wal), token, "what stands in the book signs nobody in")
	bytes, err := os.ReadFile(copied)
	require.NoError(t, err)
	assert.NotContains(t, string(bytes), "Ada")
	entries, err := os.ReadDir(folder)
	require.NoError(t, err)
	for _, e := range entries {
		assert.NotContains(t, e.Name(), ".part")
	}
}

func farAhead() time.Time { return time.Date(2999, time.December, 31, 0, 0, 0, 0, time.UTC) }
