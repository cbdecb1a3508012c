package face_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jarvo/internal/face"
)

func TestWhatTheFaceHasIsPrintedAndWhatItLacksIsSaid(t *testing.T) {
	for text, want := range map[string]struct {
		printed string
		missing string
	}{
		"Ferry landing, 320 €":     {"Ferry landing, 320 €", ""},
		"Łódź, Žižkov, Ærø, Çeşme": {"Łódź, Žižkov, Ærø, Çeşme", ""},
		"Ελλάδα, Москва":           {"Ελλάδα, Москва", ""},
		"cafe\u0301":               {"café", ""}, // composed
		"slip 🛥️ at dawn 🛥️":       {"slip ? at dawn ?", "🛥"},
		"東京":                       {"??", "東京"},
		"a\u202eb\u0000c\td":       {"abc d", ""},
	} {
		assert.Equal(t, want.printed, face.Printable(text), text)
		assert.Equal(t, want.missing, string(face.Missing(text)), text)
	}
}
