package app_test

import (
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/approve"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/exchange"
	"jarvo/internal/app/payback"
	"jarvo/internal/app/refuse"
	"jarvo/internal/bundle"
	"jarvo/internal/store"
)

// claim enters a claim of Cato's and hands it in.
func (c *crew) claim(t *testing.T, key, amount string) costs.Document {
	t.Helper()
	d, err := costs.Save(ctx, c.Book, c.owner, costs.Document{
		Key: key, Kind: "claim", WorkerID: c.worker, Date: week, Number: key, Tax: "0.50",
		Lines: []costs.Line{{Category: "expense", Description: "Ferry tickets", Quantity: "2", UnitCost: amount, JobID: c.job, Billable: true}},
	})
	require.NoError(t, err)
	d, err = costs.HandIn(ctx, c.Book, c.owner, d.ID, d.Version)
	require.NoError(t, err)
	return d
}

func TestAClaimIsPaidBackOnce(t *testing.T) {
	c := newCrew(t)
	first, second := c.claim(t, "claim-the-first", "10"), c.claim(t, "claim-the-second", "4.25")
	owed, err := payback.List(ctx, c.Book, c.owner)
	require.NoError(t, err)
	assert.Equal(t, []string{"0.00", "29.50"}, []string{owed.People[0].Owed, owed.People[0].Waiting})
	pay := payback.PayBack{Key: "key-of-a-payment", WorkerID: c.worker, DocumentIDs: []int64{first.ID}, Date: "2026-11-20", Note: "in cash"}
	_, err = payback.Pay(ctx, c.Book, c.owner, pay)
	refusal(t, err, refuse.KindConflict, "", "is not approved any more")
	require.NoError(t, approve.Approve(ctx, c.Book, c.owner, approve.Decision{Documents: c.papers(t, first.ID, second.ID)}))
	for range 2 { // an answer that got lost is asked for again
		owed, err = payback.Pay(ctx, c.Book, c.owner, pay)
		require.NoError(t, err)
		assert.Equal(t, []string{"9.00", "9.00"}, []string{owed.People[0].Owed, owed.Total})
		require.Len(t, owed.Paid, 1)
		assert.Equal(t, "20.50", owed.Paid[0].Amount)
	}
	pay.Key = "key-of-another-payment"
	_, err = payback.Pay(ctx, c.Book, c.owner, pay)
	refusal(t, err, refuse.KindConflict, "", "has been paid back already")
	pay.DocumentIDs, pay.Date = []int64{second.ID}, "2028-01-01"
	_, err = payback.Pay(ctx, c.Book, c.owner, pay)
	refusal(t, err, refuse.KindInvalid, "date", "has not come yet")

	paper, err := costs.Get(ctx, c.Book, c.owner, first.ID)
	require.NoError(t, err)
	assert.Equal(t, []string{"2026-11-20", "paid back, so it can't be changed"}, []string{paper.PaidBack, paper.Locked})
	err = approve.Return(ctx, c.Book, c.owner, approve.Decision{Documents: c.papers(t, first.ID), Reason: "wrong job"})
	refusal(t, err, refuse.KindConflict, "", "this paper has been paid back")
	sameInAnotherBook(t, c.Book)

	owed, err = payback.Undo(ctx, c.Book, c.owner, owed.Paid[0].ID)
	require.NoError(t, err)
	assert.Equal(t, "29.50", owed.Total)
	assert.Empty(t, owed.Paid)
	assertVerified(t, c.Book)
}

// sameInAnotherBook takes a book out as a bundle and brings it into an empty one, and twice into itself: nothing differs.
func sameInAnotherBook(t *testing.T, a *book.Book) {
	t.Helper()
	data, err := exchange.Export(ctx, a, book.Console)
	require.NoError(t, err)
	name := filepath.Join(t.TempDir(), "book.zip")
	require.NoError(t, bundle.Write(name, data, func(file string) ([]byte, error) { return exchange.ExportScan(ctx, a, book.Console, file) }))
	b, err := bundle.Read(name)
	require.NoError(t, err)
	defer func() { require.NoError(t, b.Close()) }()
	s, err := store.Open(ctx, filepath.Join(t.TempDir(), "other.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	other := book.New(s, benchClock)
	for range 2 {
		_, err = exchange.Import(ctx, other, book.Console, b)
		require.NoError(t, err)
	}
	again, err := exchange.Export(ctx, other, book.Console)
	require.NoError(t, err)
	assert.Equal(t, data, again)
}
