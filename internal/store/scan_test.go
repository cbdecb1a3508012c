package store_test

import (
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

func open(t *testing.T) *store.Store {
	t.Helper()
	s, err := store.Open(ctx, filepath.Join(t.TempDir(), "jarvo.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	return s
}

func TestRowsAreReadAsTheyWereWritten(t *testing.T) {
	s := open(t)
	contract := money.Amount(84_500_00)
	job := store.Job{
		Number: "7", NumberOrder: "07", Name: "Quay", Status: "live", Basis: "none", Contract: &contract, Retainage: 50_000, Version: 3,
	}
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		made, err := store.Insert(tx, &job)
		job.ID = made
		return err
	}))
	type wide struct {
		store.Job
		Twice   money.Amount
		Missing *int64
		Text    string
		Closed  bool
	}
	require.NoError(t, s.Read(ctx, func(tx *store.Tx) error {
		one, found, err := store.One[store.Job](tx, job.ID)
		require.NoError(t, err)
		assert.True(t, found)
		assert.Equal(t, job, one)
		_, found, err = store.One[store.Job](tx, 99)
		require.NoError(t, err)
		assert.False(t, found)
		rows, err := store.Query[wide](tx, `SELECT j.*, contract * 2 AS twice, NULL AS missing, id AS text, status = 'closed' AS closed
			FROM jobs j WHERE number IN ?`, []string{"7", "8"})
		require.NoError(t, err)
		assert.Equal(t, []wide{{Job: job, Twice: 2 * contract, Text: "1"}}, rows)
		counts, err := store.Query[int64](tx, "SELECT count(*) FROM jobs WHERE version = @version", map[string]any{"version": 3})
		require.NoError(t, err)
		assert.Equal(t, []int64{1}, counts)
		_, err = store.Query[int64](tx, "SELECT name FROM jobs")
		require.ErrorContains(t, err, "a string does not fit a int64")
		_, err = store.Query[wide](tx, "SELECT number AS text, name AS called FROM jobs")
		require.ErrorContains(t, err, "no field of store_test.wide for the column called", "a figure without a place is not dropped")
		_, err = store.Query[wide](tx, "SELECT NULL AS text FROM jobs")
		require.ErrorContains(t, err, "nothing does not fit a string", "nothing is not 0")
		_, err = store.Query[int64](tx, "SELECT 1 FROM nowhere")
		return ignoreMissing(err)
	}))
}

func ignoreMissing(err error) error {
	if err == nil {
		return assert.AnError
	}
	return nil
}

func TestAFailedWriteLeavesNothingBehind(t *testing.T) {
	s := open(t)
	err := s.Write(ctx, func(tx *store.Tx) error {
		require.NoError(t, tx.Run("INSERT INTO trades (code, name) VALUES (?, ?)", "a", "A"))
		require.NoError(t, tx.Run("INSERT INTO trades (code, name) VALUES (?, ?)", "b", "B"))
		return tx.Run("INSERT INTO trades (code, name) VALUES (?, ?)", "a", "again")
	})
	_, guarded := store.IsGuard(err)
	assert.True(t, guarded)
	require.NoError(t, s.Read(ctx, func(tx *store.Tx) error {
		rows, err := store.All[store.Trade](tx, "id")
		assert.Empty(t, rows)
		return err
	}))
	require.Error(t, s.Read(ctx, func(tx *store.Tx) error {
		return tx.Run(`INSERT INTO trades (code, name)
		VALUES ('c', 'C')`)
	}), "a read changes nothing")
}

func TestIndexesAreThereAgainAfterABulk(t *testing.T) {
	s := open(t)
	indexes := func(tx *store.Tx) []string {
		names, err := store.Query[string](tx, `SELECT name FROM sqlite_master WHERE type = 'index' AND tbl_name = 'time_entries'
			AND sql IS NOT NULL ORDER BY name`)
		require.NoError(t, err)
		return names
	}
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		before := indexes(tx)
		assert.NoError(t, tx.Bulk([]string{"time_entries_job"}, func() error {
			assert.Equal(t, []string{"time_entries_job"}, indexes(tx))
			return nil
		}))
		assert.Equal(t, before, indexes(tx))
		return nil
	}))
	require.Error(t, s.Write(ctx, func(tx *store.Tx) error {
		return tx.Bulk([]string{""}, func() error { return assert.AnError })
	}))
	require.NoError(t, s.Read(ctx, func(tx *store.Tx) error {
		assert.Greater(t, len(indexes(tx)), 5, "also where the bulk failed")
		return nil
	}))
}
