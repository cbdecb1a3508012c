package e2e

import (
	"encoding/csv"
	"errors"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/browser"
	"jarvo/internal/demo"
)

// exported presses the button and is handed the file, as its name and its rows.
func (u user) exported(press func() error) (string, [][]string) {
	u.t.Helper()
	u.must(u.Until(`(() => { const make = URL.createObjectURL; window.saved = null; URL.createObjectURL = b => {
		b.text().then(t => window.saved = t); return make(b) };
		HTMLAnchorElement.prototype.click = function () { window.savedAs = this.download }; return true })()`))
	u.must(press(), u.Until(`typeof window.saved === 'string'`))
	name, err := browser.Eval[string](u.Page, `window.savedAs`)
	u.must(err)
	text, err := browser.Eval[string](u.Page, `window.saved`)
	u.must(err)
	reader := csv.NewReader(strings.NewReader(text))
	reader.FieldsPerRecord = -1
	rows, err := reader.ReadAll()
	require.NoError(u.t, err)
	return name, rows
}

// TestWhatIsShownIsExported takes the crew sheet and the list of jobs out as they are seen, figures as figures.
func TestWhatIsShownIsExported(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	button := func() error { return u.Click(`[aria-label="Export what is shown"]`) }
	u.open("/time?crew=Pile+crew&from=2026-11-16")
	u.must(u.See(`[aria-label="Crew sheet"] tfoot`))
	name, rows := u.exported(button)
	assert.Equal(t, "Time-Pile-crew-Nov-16-Nov-22.csv", name)
	assert.Equal(t, []string{"Worker", "Job, phase, code", "Bill", "Mon 16"}, rows[0][:4])
	assert.Equal(t, []string{"Aldo Renn, pile foreman", "1187 Ferry landing, Lifting · 330", "yes", "9", "", "8"}, rows[1][:6])
	assert.Equal(t, []string{"Aldo Renn, pile foreman", "1181 Saltmarsh Road"}, []string{rows[2][0], rows[2][1][:19]})
	last := rows[len(rows)-1]
	assert.Equal(t, []string{"258", "18", "13672.95", "19740.00"}, last[len(last)-4:])

	u.open("/jobs")
	u.must(u.See(`[aria-label="Jobs"] tfoot`))
	_, rows = u.exported(func() error {
		return errors.Join(u.Chord(chromedp.ModifierCtrl, "k"), u.Type(`[aria-label="Find or do"]`, "export what\r"))
	})
	assert.Contains(t, rows, []string{
		"1194 Pontoon repair, Pennock Landing, fixed", "6400.00", "", "11672.15", "5530.09", "-966.18", "-7108.24", "-128.54", "0.00", "", "",
	})
}
