package main

import (
	"bufio"
	"io"
	"net/http"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The demo answers at once, with a page that says how far it is; a second server on a book is refused.
func TestTheDemoAnswersWhileItIsWritten(t *testing.T) {
	db := t.TempDir() + "/demo.db"
	cmd := command("demo", "--addr", "127.0.0.1:0", "--db", db)
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	t.Cleanup(func() { _ = cmd.Process.Kill(); _ = cmd.Wait() })
	lines := bufio.NewScanner(out)
	require.True(t, lines.Scan())
	_, url, found := strings.Cut(lines.Text(), "Open ")
	require.True(t, found, lines.Text())
	url, _, _ = strings.Cut(url, " ")
	get := func(path string) (int, string) {
		response, err := http.Get(url + path)
		require.NoError(t, err)
		text, err := io.ReadAll(response.Body)
		require.NoError(t, err)
		require.NoError(t, response.Body.Close())
		return response.StatusCode, string(text)
	}
	status, text := get("/")
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, text, "The demo book is being written")
	status, _ = get("/api/state")
	assert.Equal(t, http.StatusServiceUnavailable, status)
	require.True(t, lines.Scan(), "it says when it is written")
	status, text = get("/api/state")
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, text, "Brackwater")
}

func TestASecondServerOnABookIsRefused(t *testing.T) {
	db := t.TempDir() + "/jarvo.db"
	openBook(t, db)
	s := serveProcess(t, db)
	t.Cleanup(s.kill)
	second := command("serve", "--addr", "127.0.0.1:0", "--db", db)
	said, err := second.CombinedOutput()
	require.Error(t, err)
	assert.Contains(t, string(said), "another server runs on "+db)
	assert.Zero(t, run(t.Context(), []string{"verify", "--db", db}), "commands still work on it")
	s.kill()
	s = serveProcess(t, db)
	s.kill()
	_, err = os.Stat(db + ".lock")
	require.NoError(t, err)
}
