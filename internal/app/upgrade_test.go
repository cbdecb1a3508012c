package app_test

import (
	"bytes"
	"compress/gzip"
	"context"
	"io"
	"os"
	"path/filepath"
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
	"jarvo/internal/app/scope"
	"jarvo/internal/store"
)

// earlierBook is a demo book as version 14 left it: filled, billed and part paid, with a clock that runs.
func earlierBook(t *testing.T) string {
	t.Helper()
	packed, err := os.Open("testdata/version-14.db.gz")
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
	file := earlierBook(t)
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
	file := earlierBook(t)
	given, giveUp := context.WithCancel(ctx)
	giveUp()
	_, err := store.Open(given, file)
	require.Error(t, err)
	s, err := store.Open(ctx, file)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	apptest.Verified(t, book.New(s, apptest.Noon))
}
