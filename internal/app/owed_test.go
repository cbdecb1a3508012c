package app_test

import (
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app"
	"jarvo/internal/bundle"
	"jarvo/internal/store"
)

// claim enters a claim of Cato's and hands it in.
func (c *crew) claim(t *testing.T, key, amount string) app.Document {
	t.Helper()
	d, err := c.SaveDocument(ctx, c.owner, app.Document{
		Key: key, Kind: "claim", WorkerID: c.worker, Date: week, Number: key, Tax: "0.50",
		Lines: []app.Line{{Category: "expense", Description: "Ferry tickets", Quantity: "2", UnitCost: amount, JobID: c.job, Billable: true}},
	})
	require.NoError(t, err)
	d, err = c.HandInDocument(ctx, c.owner, d.ID, d.Version)
	require.NoError(t, err)
	return d
}

func TestAClaimIsPaidBackOnce(t *testing.T) {
	c := newCrew(t)
	first, second := c.claim(t, "claim-the-first", "10"), c.claim(t, "claim-the-second", "4.25")
	owed, err := c.Owed(ctx, c.owner)
	require.NoError(t, err)
	assert.Equal(t, []string{"0.00", "29.50"}, []string{owed.People[0].Owed, owed.People[0].Waiting})
	pay := app.PayBack{Key: "key-of-a-payment", WorkerID: c.worker, DocumentIDs: []int64{first.ID}, Date: "2026-11-20", Note: "in cash"}
	_, err = c.PayBack(ctx, c.owner, pay)
	refusal(t, err, app.KindConflict, "", "is not approved any more")
	require.NoError(t, c.ApproveWork(ctx, c.owner, app.Decision{Documents: c.papers(t, first.ID, second.ID)}))
	for range 2 { // an answer that got lost is asked for again
		owed, err = c.PayBack(ctx, c.owner, pay)
		require.NoError(t, err)
		assert.Equal(t, []string{"9.00", "9.00"}, []string{owed.People[0].Owed, owed.Total})
		require.Len(t, owed.Paid, 1)
		assert.Equal(t, "20.50", owed.Paid[0].Amount)
	}
	pay.Key = "key-of-another-payment"
	_, err = c.PayBack(ctx, c.owner, pay)
	refusal(t, err, app.KindConflict, "", "has been paid back already")
	pay.DocumentIDs, pay.Date = []int64{second.ID}, "2028-01-01"
	_, err = c.PayBack(ctx, c.owner, pay)
	refusal(t, err, app.KindInvalid, "date", "has not come yet")

	paper, err := c.Document(ctx, c.owner, first.ID)
	require.NoError(t, err)
	assert.Equal(t, []string{"2026-11-20", "paid back, so it can't be changed"}, []string{paper.PaidBack, paper.Locked})
	err = c.ReturnWork(ctx, c.owner, app.Decision{Documents: c.papers(t, first.ID), Reason: "wrong job"})
	refusal(t, err, app.KindConflict, "", "this paper has been paid back")
	sameInAnotherBook(t, c.App)

	owed, err = c.UndoPayBack(ctx, c.owner, owed.Paid[0].ID)
	require.NoError(t, err)
	assert.Equal(t, "29.50", owed.Total)
	assert.Empty(t, owed.Paid)
	assertVerified(t, c.App)
}

// sameInAnotherBook takes a book out as a bundle and brings it into an empty one, and twice into itself: nothing differs.
func sameInAnotherBook(t *testing.T, a *app.App) {
	t.Helper()
	data, err := a.Export(ctx, app.Console)
	require.NoError(t, err)
	name := filepath.Join(t.TempDir(), "book.zip")
	require.NoError(t, bundle.Write(name, data, func(file string) ([]byte, error) { return a.ExportScan(ctx, app.Console, file) }))
	b, err := bundle.Read(name)
	require.NoError(t, err)
	defer func() { require.NoError(t, b.Close()) }()
	s, err := store.Open(ctx, filepath.Join(t.TempDir(), "other.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	other := app.New(s, benchClock)
	for range 2 {
		_, err = other.Import(ctx, app.Console, b)
		require.NoError(t, err)
	}
	again, err := other.Export(ctx, app.Console)
	require.NoError(t, err)
	assert.Equal(t, data, again)
}
