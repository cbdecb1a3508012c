package units_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jarvo/internal/core/units"
)

func TestUnitsAreKnownHoweverTheyAreWritten(t *testing.T) {
	for text, code := range map[string]string{
		"Hrs.": "HUR", "EA": "EA", "Sq. Ft.": "FTK", "m²": "MTK", "m3": "MTQ", "CY": "YDQ", " lin  ft": "LF",
		"t": "TNE", "Tons": "STN", "kwh": "KWH",
	} {
		u, found := units.Find(text)
		assert.True(t, found, text)
		assert.Equal(t, code, u.Code, text)
	}
	assert.Equal(t, []string{"sq ft", "bundle", ""}, []string{units.Written("SF"), units.Written("bundle"), units.Written("")})
}

func TestNoTextMeansTwoUnits(t *testing.T) {
	codes := map[string]string{}
	for _, u := range units.All {
		had, there := codes[u.Code]
		assert.False(t, there, "%s and %s have one code", had, u.Name)
		codes[u.Code] = u.Name
		found, _ := units.Find(u.Name)
		assert.Equal(t, u.Name, found.Name)
	}
}
