package billing_test

import (
	"fmt"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
)

// atOnce tries something 200 times at once, and counts how often it was done.
func atOnce(try func(n int) error) int64 {
	var all sync.WaitGroup
	var done atomic.Int64
	for n := range 200 {
		all.Go(func() {
			if try(n) == nil {
				done.Add(1)
			}
		})
	}
	all.Wait()
	return done.Load()
}

// Of 200 attempts at once to bill what has come due, to credit the same part, to take the same write-down back, to release the same
// retainage and to make the same occurrence one succeeds; the numbers have no gap.
func TestManyAtOnceDoItOnce(t *testing.T) {
	f := fixed("10000")
	f["instalments.csv"] = "job,position,text,percent,due\n101,1,Start,30,2025-01-15\n"
	f["recurring.csv"] = "ref,text,first,until\nR1,Moorings,2025-01-31,2025-01-31\n"
	f["recurring_lines.csv"] = "recurring,position,job,text,amount\nR1,1,102,Two moorings,120\n"
	d := newDesk(t, f)
	run := func(job int64) int64 {
		return atOnce(func(n int) error {
			_, err := billing.MakeDrafts(ctx, d.Book, book.Console, billing.NewDrafts{
				Key: fmt.Sprintf("draft-%d-%d", job, n), Jobs: []int64{job}, Through: "2025-02-28", Date: "2025-02-28",
			})
			return err
		})
	}
	assert.Equal(t, []int64{1, 1}, []int64{run(1), run(2)}, "an instalment, and hours")
	var made atomic.Int64
	atOnce(func(int) error {
		n, err := billing.MakeRecurring(ctx, d.Book, book.Console, 20_200) // 22 April 2025
		made.Add(int64(n))
		return err
	})
	assert.Equal(t, int64(1), made.Load())

	first, hours := d.issued(1), d.draftOf(2)
	hours, err := d.choose(hours, billing.PartOf{
		Kind: "time_entry", ID: hours.Sources[0].ID, Way: "amount", Value: "100", Rest: "down", Reason: "agreed",
	})
	require.NoError(t, err)
	hours = d.issue(hours)
	rows, err := billing.CreditableOf(ctx, d.Book, book.Console, hours.ID)
	require.NoError(t, err)
	assert.Equal(t, int64(1), atOnce(func(int) error {
		_, err := d.credit(hours.ID, billing.CreditLine{Kind: rows[0].Kind, ID: rows[0].ID, Becomes: "again"})
		return err
	}))
	assert.Equal(t, int64(1), atOnce(func(n int) error {
		in := billing.TakingBack{Key: fmt.Sprintf("back-%06d", n)}
		_, err := billing.TakeWriteDownBack(ctx, d.Book, book.Console, hours.Sources[0].SourceID, in)
		return err
	}))
	require.NotEqual(t, "0.00", first.Retainage)
	assert.Equal(t, int64(1), atOnce(func(n int) error {
		_, err := billing.ReleaseRetainage(ctx, d.Book, book.Console, billing.NewRelease{
			Key: fmt.Sprintf("release-%06d", n), Date: "2025-06-30", Jobs: []billing.ReleaseOf{{JobID: 1}},
		})
		return err
	}))
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}

func (d *desk) draftOf(id int64) billing.InvoiceView {
	d.t.Helper()
	v, err := billing.Invoice(ctx, d.Book, book.Console, id)
	require.NoError(d.t, err)
	return v
}

// Of 200 attempts at once to apply more than half of a deposit to two drafts one succeeds, and so it is with moving the same work.
func TestADepositIsAppliedOnceAndWorkMovedOnce(t *testing.T) {
	d := depositDesk(t, "")
	asked, err := d.ask("700")
	require.NoError(t, err)
	asked = d.issue(asked)
	drafts := []billing.InvoiceView{d.through("2025-03-03"), d.through("2025-03-31")}
	assert.Equal(t, int64(1), atOnce(func(n int) error {
		_, err := d.apply(drafts[n%2], asked.ID, "500")
		return err
	}))
	work := d.draftOf(drafts[1].ID)
	assert.Equal(t, int64(1), atOnce(func(int) error {
		_, err := billing.MoveSources(ctx, d.Book, book.Console, work.ID, billing.Moving{
			Version: work.Version, Sources: []billing.WorkRef{{Kind: work.Sources[1].Kind, ID: work.Sources[1].ID}},
		})
		return err
	}))
	apptest.Verified(t, d.Book)
	for _, id := range []int64{drafts[0].ID, work.ID} {
		d.issue(d.draftOf(id))
	}
	assert.Equal(t, "200.00", d.openDeposits()[0].Open)
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}
