package api_test

import (
	"encoding/json"
	"net/http"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What a tool that reads descriptions asks of one, for each operation; that answers are as described is held by the requests that are made.
func TestTheDescriptionIsWhole(t *testing.T) {
	b := serve(t)
	response, text := b.send(http.MethodGet, "/openapi.json", nil)
	require.Equal(t, http.StatusOK, response.StatusCode)
	type content map[string]struct {
		Schema struct {
			Ref string `json:"$ref"`
		} `json:"schema"`
	}
	var doc struct {
		Tags  []struct{ Name, Description string }
		Paths map[string]map[string]struct {
			OperationID, Description string
			Tags                     []string
			Security                 *[]any
			RequestBody              struct{ Content content }
			Responses                map[string]struct{ Content content }
		}
		Components struct {
			Schemas         map[string]any
			SecuritySchemes map[string]any
		}
		Security []map[string][]string
	}
	require.NoError(t, json.Unmarshal([]byte(text), &doc))
	require.Len(t, doc.Security, 1)
	for scheme := range doc.Security[0] {
		assert.Contains(t, doc.Components.SecuritySchemes, scheme)
	}
	for name := range doc.Components.Schemas {
		assert.Regexp(t, regexp.MustCompile(`^[A-Za-z0-9._-]+$`), name)
	}
	for path, methods := range doc.Paths {
		for method, op := range methods {
			assert.Len(t, op.Tags, 1, path)
			assert.NotEmpty(t, op.Description, path)
			assert.NotEmpty(t, op.OperationID, path)
			assert.Contains(t, op.Responses, "422", path)
			_, asksWho := op.Responses["401"]
			assert.Equal(t, op.Security == nil, asksWho, "%s %s", method, path)
			for media, body := range op.RequestBody.Content {
				assert.True(t, media != "application/json" || body.Schema.Ref != "", "the body of %s %s has no name", method, path)
			}
		}
	}
}
