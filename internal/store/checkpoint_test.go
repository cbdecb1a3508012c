package store_test

import (
	"os"
	"path/filepath"
	"runtime"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/store"
)

func TestALongLogIsCopiedIntoTheBookBesideTheWork(t *testing.T) {
	file := filepath.Join(t.TempDir(), "jarvo.db")
	s, err := store.Open(ctx, file)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	size := func() int64 {
		info, err := os.Stat(file)
		require.NoError(t, err)
		return info.Size()
	}
	const much = 8 << 20 // bytes: more than a log may have
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		if err := tx.Run("CREATE TABLE much (data BLOB)"); err != nil {
			return err
		}
		return tx.Run("INSERT INTO much VALUES (zeroblob(?))", much)
	}))
	for size() <= much { // the book has it, while it is open
		runtime.Gosched()
	}
}

func TestABookIsClosedTwiceAndWrittenToAsItCloses(t *testing.T) {
	s, err := store.Open(ctx, filepath.Join(t.TempDir(), "jarvo.db"))
	require.NoError(t, err)
	const much = 8 << 20
	written := s.Write(ctx, func(tx *store.Tx) error {
		go func() { _ = s.Close() }()
		if err := tx.Run("CREATE TABLE much (data BLOB)"); err != nil {
			return err
		}
		return tx.Run("INSERT INTO much VALUES (zeroblob(?))", much)
	})
	if written != nil {
		assert.ErrorContains(t, written, "closed")
	}
	require.NoError(t, s.Close())
}
