package api_test

import (
	"bufio"
	"encoding/json"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/api"
	"jarvo/internal/app/book"
	"jarvo/internal/app/jobs"
)

func TestOthersAreToldWhatWasChangedAndFromWhere(t *testing.T) {
	b := serve(t)
	b.openBook()
	request, err := http.NewRequestWithContext(t.Context(), http.MethodGet, b.url+"/api/news", nil)
	require.NoError(t, err)
	stream, err := b.Do(request)
	require.NoError(t, err)
	defer func() { require.NoError(t, stream.Body.Close()) }()
	lines := bufio.NewScanner(stream.Body)
	next := func() []book.News {
		for lines.Scan() {
			if data, ok := strings.CutPrefix(lines.Text(), "data: "); ok {
				var changed api.Changed
				require.NoError(t, json.Unmarshal([]byte(data), &changed))
				return changed.News
			}
		}
		return nil
	}
	assert.Empty(t, next(), "the first message says that it is connected")
	response, text := b.send(http.MethodPost, "/api/cost-codes", jobs.NewCode{Code: "320", Name: "Drive piles"}, "X-Window", "left")
	require.Equal(t, http.StatusOK, response.StatusCode, text)
	assert.Equal(t, []book.News{{Kind: "cost_code", Who: "Ada", Window: "left"}}, next())
	response, _ = b.send(http.MethodPost, "/api/cost-codes", jobs.NewCode{Code: "320", Name: "Again"})
	require.Equal(t, http.StatusUnprocessableEntity, response.StatusCode)
	response, _ = b.send(http.MethodPost, "/api/cost-codes", jobs.NewCode{Code: "330", Name: "Crane"}, "X-Window", "right")
	require.Equal(t, http.StatusOK, response.StatusCode)
	assert.Equal(t, []book.News{{Kind: "cost_code", Who: "Ada", Window: "right"}}, next(), "what was refused is no news")
	b.app.StopNews()
	assert.Nil(t, next(), "nothing comes when the application stops")
}
