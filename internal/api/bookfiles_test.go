package api_test

import (
	"bytes"
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/access"
	"jarvo/internal/app/book"
	"jarvo/internal/app/exchange"
	"jarvo/internal/app/register"
	"jarvo/internal/store"
)

// TestABundleComesInThroughTheBrowser takes a book out and brings it in again, tries a file before it comes in, and is told line by line
// what is wrong with one; a backup opens as a book.
func TestABundleComesInThroughTheBrowser(t *testing.T) {
	b := serve(t)
	b.openBook()
	owner := book.Actor{UserID: 1, Name: "Ada", Role: book.Owner}
	send := func(query string, data []byte) (int, string) {
		t.Helper()
		request, err := http.NewRequestWithContext(t.Context(), http.MethodPost, b.url+"/api/book/bring-in"+query, bytes.NewReader(data))
		require.NoError(t, err)
		response, err := b.Do(request)
		require.NoError(t, err)
		text, err := io.ReadAll(response.Body)
		require.NoError(t, errors.Join(err, response.Body.Close()))
		return response.StatusCode, string(text)
	}
	codes := func() int {
		choices, err := register.ChoicesFor(t.Context(), b.app, owner)
		require.NoError(t, err)
		return len(choices.CostCodes)
	}
	file := []byte("code,name\n320,Drive piles\n330,Lifting\n")
	status, text := send("?name=cost_codes.csv&try=yes", file)
	require.Equal(t, http.StatusOK, status, text)
	var brought []exchange.Brought
	require.NoError(t, json.Unmarshal([]byte(text), &brought))
	assert.Equal(t, []exchange.Brought{{File: "cost_codes.csv", Rows: 2, New: 2}}, brought)
	assert.Zero(t, codes(), "it was only tried")
	status, text = send("?name=cost_codes.csv", file)
	require.Equal(t, http.StatusOK, status, text)
	assert.Equal(t, 2, codes())

	status, text = send("?name=wages.csv", []byte("worker,effective_from,rate\nnobody,2026-13-01,x\n"))
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, text, `"path":"wages.csv, line 2, worker"`)
	assert.Contains(t, text, "nothing of it was")
	for name, data := range map[string][]byte{
		"?name=holiday.jpg": []byte("not a zip"), "?name=nothing.csv": file, "?name=..%2F..%2Fx.csv": file,
	} {
		status, text = send(name, data)
		assert.Equal(t, http.StatusUnprocessableEntity, status, "%s: %s", name, text)
	}

	response, whole := b.send(http.MethodGet, "/api/book/bundle", nil)
	assert.Contains(t, response.Header.Get("Content-Disposition"), ".zip")
	status, text = send("", []byte(whole))
	require.Equal(t, http.StatusOK, status, text)
	assert.Contains(t, text, `{"file":"cost_codes.csv","rows":2,"new":0}`)
	_, starter := b.send(http.MethodGet, "/api/book/starter", nil)
	status, text = send("?try=yes", []byte(starter))
	assert.Equal(t, http.StatusOK, status, text)

	_, copied := b.send(http.MethodGet, "/api/book/backup", nil)
	kept := filepath.Join(t.TempDir(), "kept.db")
	require.NoError(t, os.WriteFile(kept, []byte(copied), 0o600))
	s, err := store.Open(t.Context(), kept)
	require.NoError(t, err)
	defer func() { require.NoError(t, s.Close()) }()
	_, err = access.SignIn(t.Context(), book.New(s, b.app.Now), "ada", password)
	assert.NoError(t, err)
}
