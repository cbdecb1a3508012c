package api_test

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/api"
	"jarvo/internal/app/customers"
	"jarvo/internal/store"
)

// A book that can't be written or read is said in words wherever it is asked for, also at the door, and all goes on once it can.
func TestTroubleWithTheBookIsAnsweredInWords(t *testing.T) {
	file := filepath.Join(t.TempDir(), "jarvo.db")
	s, err := store.Open(context.Background(), file)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	b, _ := serveBook(t, s, api.Options{})
	b.openBook()
	set := func(pragma string) {
		require.NoError(t, s.Write(t.Context(), func(tx *store.Tx) error { return tx.Exec("PRAGMA " + pragma).Error }))
	}
	said := func(got answer, text string, status int, sentence string) {
		t.Helper()
		var p api.Problem
		require.NoError(t, json.Unmarshal([]byte(text), &p), text)
		assert.Equal(t, status, got.StatusCode, text)
		assert.Equal(t, "application/problem+json", got.Header.Get("Content-Type"))
		assert.Contains(t, p.Detail, sentence)
	}
	// A key of its own for each, so that a later one is not the answer to an earlier.
	add := func(key string) (answer, string) {
		return b.send(http.MethodPost, "/api/customers", customers.NewCustomer{Key: key, Name: "Ferry Landing Trust " + key})
	}
	other, err := store.Open(t.Context(), file)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, other.Close()) })
	set("busy_timeout = 20")
	require.NoError(t, other.Write(t.Context(), func(*store.Tx) error {
		got, text := add("key-of-one")
		said(got, text, http.StatusServiceUnavailable, "another program is holding the book")
		got, text = b.another().signIn(signIn, password)
		said(got, text, http.StatusServiceUnavailable, "another program is holding the book")
		got, _ = b.send(http.MethodGet, "/api/jobs", nil)
		assert.Equal(t, http.StatusOK, got.StatusCode, "what is there can be read")
		return nil
	}))
	got, text := add("key-of-one")
	assert.Equal(t, http.StatusOK, got.StatusCode, "%s", text)
	got, text = b.another().signIn(signIn, password)
	assert.Equal(t, http.StatusOK, got.StatusCode, "%s", text)

	set("max_page_count = 1") // no more than there are
	full := func() (got answer, text string) {
		for n := 0; n < 600 && got.StatusCode < 300; n++ {
			got, text = b.send(
				http.MethodPost, "/api/customers",
				customers.NewCustomer{Name: fmt.Sprintf("Customer %d", n), Address: strings.Repeat("1 Quay Street\n", 30)},
			)
		}
		return got, text
	}
	got, text = full()
	said(got, text, http.StatusInsufficientStorage, "the disk is full, so nothing was saved")
	set("max_page_count = 1000000")
	got, text = add("key-of-two")
	assert.Equal(t, http.StatusOK, got.StatusCode, "%s", text)
}
