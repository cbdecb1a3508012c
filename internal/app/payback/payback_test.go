package payback_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/approve"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/payback"
	"jarvo/internal/app/refuse"
)

// claim enters a claim of Cato's and hands it in.
func claim(c *apptest.Crew, t *testing.T, key, amount string) costs.Document {
	t.Helper()
	d, err := costs.Save(ctx, c.Book, c.Owner, costs.Document{
		Key: key, Kind: "claim", WorkerID: c.Worker, Date: week, Number: key, Tax: "0.50",
		Lines: []costs.Line{{Category: "expense", Description: "Ferry tickets", Quantity: "2", UnitCost: amount, JobID: c.Job, Billable: true}},
	})
	require.NoError(t, err)
	d, err = costs.HandIn(ctx, c.Book, c.Owner, d.ID, d.Version)
	require.NoError(t, err)
	return d
}

func TestAClaimIsPaidBackOnce(t *testing.T) {
	c := apptest.NewCrew(t)
	first, second := claim(c, t, "claim-the-first", "10"), claim(c, t, "claim-the-second", "4.25")
	owed, err := payback.List(ctx, c.Book, c.Owner)
	require.NoError(t, err)
	assert.Equal(t, []string{"0.00", "29.50"}, []string{owed.People[0].Owed, owed.People[0].Waiting})
	pay := payback.PayBack{Key: "key-of-a-payment", WorkerID: c.Worker, DocumentIDs: []int64{first.ID}, Amount: "20.50", Date: "2026-11-20",
		Note: "in cash"}
	_, err = payback.Pay(ctx, c.Book, c.Owner, pay)
	apptest.Refusal(t, err, refuse.KindConflict, "", "is not approved any more")
	require.NoError(t, apptest.ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, first.ID, second.ID)})))
	pay.Amount = "20.00"
	_, err = payback.Pay(ctx, c.Book, c.Owner, pay)
	apptest.Refusal(t, err, refuse.KindConflict, "", "together this is 20.50 now, and not 20.00")
	pay.Amount = "20.50"
	for range 2 { // an answer that got lost is asked for again
		owed, err = payback.Pay(ctx, c.Book, c.Owner, pay)
		require.NoError(t, err)
		assert.Equal(t, []string{"9.00", "9.00"}, []string{owed.People[0].Owed, owed.Total})
		require.Len(t, owed.Paid, 1)
		assert.Equal(t, "20.50", owed.Paid[0].Amount)
	}
	pay.Key = "key-of-another-payment"
	_, err = payback.Pay(ctx, c.Book, c.Owner, pay)
	apptest.Refusal(t, err, refuse.KindConflict, "", "has been reimbursed already")
	pay.DocumentIDs, pay.Date = []int64{second.ID}, "2028-01-01"
	_, err = payback.Pay(ctx, c.Book, c.Owner, pay)
	apptest.Refusal(t, err, refuse.KindInvalid, "date", "has not come yet")

	paper, err := costs.Get(ctx, c.Book, c.Owner, first.ID)
	require.NoError(t, err)
	assert.Equal(t, []string{"2026-11-20", "reimbursed, so it can't be changed"}, []string{paper.PaidBack, paper.Locked})
	_, err = approve.Return(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, first.ID), Reason: "wrong job"})
	apptest.Refusal(t, err, refuse.KindConflict, "", "this paper has been paid back")
	apptest.SameInAnotherBook(t, c.Book)

	owed, err = payback.Undo(ctx, c.Book, c.Owner, owed.Paid[0].ID)
	require.NoError(t, err)
	assert.Equal(t, "29.50", owed.Total)
	assert.Empty(t, owed.Paid)
	apptest.Verified(t, c.Book)
}
