package costs_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/approve"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/refuse"
)

// TestAPaperEnteredTwiceIsDeleted deletes the double: its cost is gone from everywhere, and the other has nothing against it any more.
func TestAPaperEnteredTwiceIsDeleted(t *testing.T) {
	c := apptest.NewCrew(t)
	first, double := c.Paper(t, "B-1", c.Board()), c.Buy(t, week, c.Board())
	double.Supplier, double.Number = "Bellhaven", "B-1"
	double, err := costs.Save(ctx, c.Book, c.Owner, double)
	require.NoError(t, err)
	assert.Equal(t, []int64{first.ID}, double.Alike)
	_, err = costs.Attach(ctx, c.Book, c.Owner, double.ID, "scan.pdf", []byte("%PDF-1.7\n%%EOF"))
	require.NoError(t, err)

	apptest.Refusal(t, costs.Delete(ctx, c.Book, c.Owner, double.ID, double.Version-1), refuse.KindConflict, "", "somebody else has changed")
	assert.Error(t, costs.Delete(ctx, c.Book, book.Actor{Role: book.Foreman}, double.ID, double.Version))
	require.NoError(t, costs.Delete(ctx, c.Book, c.Owner, double.ID, double.Version))
	apptest.Refusal(t, costs.Delete(ctx, c.Book, c.Owner, double.ID, double.Version), refuse.KindNotFound, "", "")

	left, err := costs.Get(ctx, c.Book, c.Owner, first.ID)
	require.NoError(t, err)
	assert.Empty(t, left.Alike)
	assert.Empty(t, left.Warnings)
	assert.NotContains(t, c.LooseEnds(t), "twice")
	assert.Contains(t, apptest.ReportText(t, c.Book, "job-profit"), "200.00")
	apptest.Verified(t, c.Book)
	apptest.SameInAnotherBook(t, c.Book)
}

func TestAnApprovedPaperIsNotDeleted(t *testing.T) {
	c := apptest.NewCrew(t)
	d := c.Paper(t, "B-1", c.Board())
	require.NoError(t, apptest.ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, d.ID)})))
	d, err := costs.Get(ctx, c.Book, c.Owner, d.ID)
	require.NoError(t, err)
	apptest.Refusal(t, costs.Delete(ctx, c.Book, c.Owner, d.ID, d.Version), refuse.KindConflict, "", "can't be deleted: ")
}
