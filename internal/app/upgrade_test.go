package app_test

import (
	"bytes"
	"compress/gzip"
	"context"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/access"
	"jarvo/internal/app/approve"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/clock"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/exchange"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/verify"
	"jarvo/internal/store"
)

// The books of earlier versions: a demo book as version 14 left it, filled, billed and part paid, with a clock that runs; and a company at
// random as version 32 left it, billed half way and with drafts.
const (
	demoBook   = "testdata/version-14.db.gz"
	billedBook = "testdata/version-32.db.gz"
)

func earlierBook(t *testing.T, name string) string {
	t.Helper()
	packed, err := os.Open(name)
	require.NoError(t, err)
	defer func() { require.NoError(t, packed.Close()) }()
	data, err := gzip.NewReader(packed)
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "jarvo.db")
	out, err := os.Create(file)
	require.NoError(t, err)
	_, err = io.Copy(out, data)
	require.NoError(t, err)
	require.NoError(t, out.Close())
	return file
}

func TestABookOfTheVersionBeforeIsCopiedBroughtUpToDateAndVerified(t *testing.T) {
	file := earlierBook(t, demoBook)
	before, err := os.ReadFile(file)
	require.NoError(t, err)
	_, err = store.OpenAsIs(file)
	var earlier *store.EarlierError
	require.ErrorAs(t, err, &earlier)
	assert.Contains(t, err.Error(), "earlier version (14")
	after, err := os.ReadFile(file)
	require.NoError(t, err)
	assert.True(t, bytes.Equal(before, after), "who only looks changes nothing")

	s, err := store.Open(ctx, file)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	assert.FileExists(t, file+".version-14")
	now := time.Date(2026, time.November, 25, 17, 0, 0, 0, time.Local)
	a := book.New(s, func() time.Time { return now })
	require.NoError(t, costing.Renew(ctx, a))
	apptest.Verified(t, a)

	owner := book.Actor{UserID: 1, Name: "Ada Ridley", Role: book.Owner}
	fitz, err := access.SignIn(ctx, a, "fitz@brackwater.example", "slack tide at dawn")
	require.NoError(t, err)
	page, err := clock.Out(ctx, a, fitz, clock.ClockOut{})
	require.NoError(t, err)
	assert.Nil(t, page.Working)
	assert.NotEmpty(t, page.Days[2].Entries, "the clock that ran is an entry now")
	decided, err := approve.Decisions(ctx, a, owner)
	require.NoError(t, err)
	assert.NotEmpty(t, decided)
	bill, err := billing.Sheet(ctx, a, owner, scope.ScopeQuery{})
	require.NoError(t, err)
	require.NotEmpty(t, bill.Ready)
	drafts, err := billing.MakeDrafts(ctx, a, owner, billing.NewDrafts{
		Jobs: []int64{bill.Ready[0].JobID}, Through: "2026-11-25", Date: "2026-11-25",
	})
	require.NoError(t, err)
	view, err := billing.Invoice(ctx, a, owner, drafts[0].ID)
	require.NoError(t, err)
	_, err = billing.Issue(ctx, a, owner, view.ID, view.Version)
	require.NoError(t, err)
	apptest.Verified(t, a)
	apptest.SameInAnotherBook(t, a)
}

// A book that could not be brought up to date is as it was.
func TestWhatCantBeBroughtUpToDateStaysAsItWas(t *testing.T) {
	file := earlierBook(t, demoBook)
	given, giveUp := context.WithCancel(ctx)
	giveUp()
	_, err := store.Open(given, file)
	require.Error(t, err)
	s, err := store.Open(ctx, file)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	a := book.New(s, apptest.Noon)
	require.NoError(t, costing.Renew(ctx, a))
	apptest.Verified(t, a)
}

// What was billed stays as it was, whatever the rules are now; what is not billed is worked out anew, and drafts are laid out again.
func TestABilledBookOfTheVersionBeforeKeepsWhatWasBilled(t *testing.T) {
	s, err := store.Open(ctx, earlierBook(t, billedBook))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	a := book.New(s, apptest.Noon)
	billed := func() (rows []string) {
		data, err := exchange.Export(ctx, a, book.Console)
		require.NoError(t, err)
		for _, file := range []string{"labour_segments.csv", "landed_costs.csv", "invoice_taxes.csv", "invoice_jobs.csv"} {
			for _, row := range data[file] {
				rows = append(rows, file+" "+strings.Join(row, ","))
			}
		}
		for _, row := range data["invoices.csv"] {
			if row[1] == store.Issued {
				rows = append(rows, strings.Join(row, ","))
			}
		}
		return rows
	}
	before := billed()
	require.NotEmpty(t, before)
	differences, err := verify.Run(ctx, a, book.Console)
	require.NoError(t, err)
	require.NotEmpty(t, differences, "the shares of freight and tax go by other rules now")
	require.NoError(t, costing.Renew(ctx, a))
	apptest.Verified(t, a)
	assert.Equal(t, before, billed())
	apptest.SameInAnotherBook(t, a)
	require.NoError(t, costing.Renew(ctx, a), "once is enough")
}
