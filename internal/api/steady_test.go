package api_test

import (
	"context"
	"net/http"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/api"
	"jarvo/internal/app/approve"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/demo"
	"jarvo/internal/demo/demotest"
	"jarvo/internal/store"
)

func (b browser) signInAs(name string) {
	b.t.Helper()
	response, text := b.send(http.MethodPost, "/api/session", api.SignIn{SignIn: name, Password: demo.Password})
	require.Equal(b.t, http.StatusOK, response.StatusCode, text)
}

// An answer is worked out once until the book changes, through the server or beside it, and is not sent to a window that has it.
func TestAnAnswerIsKeptUntilTheBookChanges(t *testing.T) {
	ctx := context.Background()
	file := filepath.Join(t.TempDir(), "book.db")
	require.NoError(t, os.WriteFile(file, demotest.Bytes(t), 0o600))
	open := func() *store.Store {
		s, err := store.Open(ctx, file)
		require.NoError(t, err)
		t.Cleanup(func() { require.NoError(t, s.Close()) })
		return s
	}
	b, _ := serveBook(t, open(), api.Options{})
	b.signInAs(demo.SignIn)
	ask := func(tag string) (answer, string) {
		return b.send(http.MethodGet, "/api/suppliers", nil, "If-None-Match", tag)
	}

	first, text := ask("")
	require.Equal(t, http.StatusOK, first.StatusCode, text)
	tag := first.Header.Get("ETag")
	require.NotEmpty(t, tag)
	again, text := ask(tag)
	assert.Equal(t, http.StatusNotModified, again.StatusCode)
	assert.Empty(t, text)

	response, text := b.send(http.MethodPost, "/api/suppliers", map[string]string{"name": "Northquay"})
	require.Equal(t, http.StatusOK, response.StatusCode, text)
	changed, text := ask(tag)
	assert.Equal(t, http.StatusOK, changed.StatusCode)
	assert.Contains(t, text, "Northquay")

	require.NoError(t, open().Write(ctx, func(tx *store.Tx) error {
		return tx.Run("UPDATE suppliers SET name = 'Southquay' WHERE name = 'Northquay'")
	}))
	_, text = ask(changed.Header.Get("ETag"))
	assert.Contains(t, text, "Southquay", "a command may work on the book beside the server")
}

// What each role is told is the same on a server that keeps answers and on one that was just started, whatever is done between.
func TestKeptAnswersAreThoseOfTheBook(t *testing.T) {
	ctx := context.Background()
	a, s := demotest.Open(t)
	paths := []string{
		"/api/counts", "/api/today", "/api/approve", "/api/approve/decided", "/api/bill", "/api/costs", "/api/jobs", "/api/jobs/1187",
		"/api/footing", "/api/time/sheet?week=2026-11-16", "/api/time/entries?week=2026-11-16", "/api/choices", "/api/setup", "/api/owed",
		"/api/payments", "/api/suppliers",
	}
	steps := map[string]func() error{
		"at first": func() error { return nil },
		"approved": func() error {
			waits, err := approve.Waiting(ctx, a, book.Console, approve.Question{})
			require.NoError(t, err)
			_, err = approve.Approve(ctx, a, book.Console, approve.Decision{Entries: waits.Weeks[0].Entries})
			return err
		},
		"typed": func() error {
			_, err := timesheet.SaveCells(ctx, a, book.Console, timesheet.SheetQuery{Week: "2026-11-23", Crew: "Pile crew"}, []timesheet.CellEdit{{
				Key: "a-key-for-hours", WorkerID: 1, JobID: 1, Billable: true, Date: "2026-11-25", Text: "3",
			}})
			return err
		},
		"drafted": func() error {
			sheet, err := billing.Sheet(ctx, a, book.Console, scope.ScopeQuery{})
			require.NoError(t, err)
			_, err = billing.MakeDrafts(ctx, a, book.Console, billing.NewDrafts{
				Key: "a-key-for-a-draft", Jobs: []int64{sheet.Ready[0].JobID}, Through: "2026-11-22", Date: "2026-11-25",
			})
			return err
		},
	}
	keeps := map[string]browser{}
	for _, who := range []string{demo.SignIn, "tom@brackwater.example", "greta@brackwater.example"} {
		keeps[who], _ = serveBook(t, s, api.Options{})
		keeps[who].signInAs(who)
	}
	for name, step := range steps {
		require.NoError(t, step(), name)
		for who, b := range keeps {
			fresh, _ := serveBook(t, s, api.Options{})
			fresh.signInAs(who)
			for _, path := range paths {
				_, kept := b.send(http.MethodGet, path, nil)
				_, now := fresh.send(http.MethodGet, path, nil)
				assert.Equal(t, now, kept, "%s, %s, %s", path, who, name)
			}
		}
	}
}
