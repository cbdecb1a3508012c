package at

import (
	"encoding/base64"
	"encoding/csv"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/browser"
)

// OnePixel is the smallest PNG.
var OnePixel, _ = base64.StdEncoding.DecodeString(
	"iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==",
)

// Sheet is a main sheet: its address, and what must be on it before it is looked at.
type Sheet struct {
	Path, See string
	Workings  bool // it has some, and they are not open yet
}

// EverySheet looks at sheets of the demo: axe-core finds nothing in the light and, where the system turns dark, in the dark, with the
// Workings open where there are some; each comes out as a table, and of a printer as the sheet and its Footing, with nothing of the window.
func (u User) EverySheet(sheets ...Sheet) {
	u.T.Helper()
	for _, sheet := range sheets {
		u.Open(sheet.Path)
		u.Must(u.See(sheet.See))
		name, rows := u.Exported(func() error { return u.Click(`[aria-label="Export what is shown"]`) })
		assert.NotEmpty(u.T, name, sheet.Path)
		assert.Greater(u.T, len(rows), 1, "%s exports no rows", sheet.Path)
		u.isPrinted(sheet.Path)
		if sheet.Workings {
			u.Must(u.Press("Workings"), u.See(".tape"))
		}
		u.axe(sheet.Path, "document", everyRule)
		u.Must(u.Prefer("dark"), u.Until(`document.documentElement.dataset.theme === 'dark'`))
		u.axe(sheet.Path+", dark", "document", "{ runOnly: ['color-contrast'] }")
		u.Must(u.Prefer("light"), u.Until(`document.documentElement.dataset.theme !== 'dark'`))
	}
}

const everyRule = "{ resultTypes: ['violations'], rules: { 'target-size': { enabled: true } } }"

// Accessible lets axe-core look at what stands on the page, and at the first rows of each table: [User.EverySheet] looks at all.
func (u User) Accessible(what string) {
	u.T.Helper()
	u.axe(what, "{ exclude: ['tbody tr:nth-child(n+9)'] }", everyRule)
}

// halfHidden says whether the row of an element is scrolled in part under its table's head or past the edge of what scrolls: its contents
// only seem small.
const halfHidden = `(target) => {
	const row = document.querySelector(target)?.closest('tr')
	if (!row) return false
	const at = row.getBoundingClientRect()
	const head = row.closest('table').tHead?.rows[0].cells[0].getBoundingClientRect() // its cells stay in sight
	if (head && at.top < head.bottom && at.bottom > head.top) return true
	for (let on = row.parentElement; on; on = on.parentElement) {
		const frame = on.getBoundingClientRect()
		if (getComputedStyle(on).overflowY !== 'visible' && (at.top < frame.top || at.bottom > frame.bottom)) return true
	}
	return at.top < 0 || at.bottom > innerHeight
}`

// axeCore is the script of axe-core.
var axeCore = sync.OnceValues(func() (string, error) {
	script, err := os.ReadFile("../../web/node_modules/axe-core/axe.min.js")
	return string(script), err
})

// axe lets axe-core look at a part of the page by its rules, or some of them.
func (u User) axe(what, part, rules string) {
	u.T.Helper()
	there, err := browser.Eval[bool](u.Page, `!!window.axe`)
	u.Must(err)
	if !there {
		script, err := axeCore()
		u.Must(err)
		_, err = browser.Eval[bool](u.Page, script+";true")
		u.Must(err)
	}
	found, err := browser.Eval[[]string](u.Page, `document.fonts.ready.then(() => axe.run(`+part+`, `+rules+`)).then(r => r.violations
			.filter(v => v.impact !== 'minor')
			.map(v => ({ ...v, nodes: v.nodes.filter(n => v.id !== 'target-size' || !(`+halfHidden+`)(n.target[0])) }))
			.filter(v => v.nodes.length)
			.map(v => v.id + ': ' + v.nodes.slice(0, 3).map(n => n.target.join(' ') + ' ' + n.failureSummary.split('\n')[1]).join(' | ')))`)
	u.Must(err)
	assert.Empty(u.T, found, what)
}

// isPrinted looks at what comes out of a printer.
func (u User) isPrinted(sheet string) {
	u.T.Helper()
	data, err := u.Print()
	u.Must(err)
	text := u.PDF(data)
	assert.NotContains(u.T, text, "Find or do", sheet)
	assert.NotContains(u.T, text, "Ada R.", sheet)
	assert.Greater(u.T, len(text), 200, "%s is printed blank", sheet)
}

// PDF is the text of a PDF as it is laid out.
func (u User) PDF(data []byte) string {
	u.T.Helper()
	file := filepath.Join(u.T.TempDir(), "printed.pdf")
	u.Must(os.WriteFile(file, data, 0o600))
	text, err := exec.CommandContext(u.T.Context(), "pdftotext", "-layout", file, "-").Output()
	u.Must(err)
	return string(text)
}

// Exported presses a button and is handed the file, as its name and its rows.
func (u User) Exported(press func() error) (string, [][]string) {
	u.T.Helper()
	u.Must(u.Until(`(() => { const make = URL.createObjectURL; window.saved = null; URL.createObjectURL = b => {
		b.text().then(t => window.saved = t); return make(b) };
		HTMLAnchorElement.prototype.click = function () { window.savedAs = this.download }; return true })()`))
	u.Must(press(), u.Until(`typeof window.saved === 'string'`))
	name, err := browser.Eval[string](u.Page, `window.savedAs`)
	u.Must(err)
	text, err := browser.Eval[string](u.Page, `window.saved`)
	u.Must(err)
	reader := csv.NewReader(strings.NewReader(text))
	reader.FieldsPerRecord = -1
	rows, err := reader.ReadAll()
	require.NoError(u.T, err)
	return name, rows
}

// NothingSticksOut sees that all of a phone's page is within the window.
func (u User) NothingSticksOut() {
	u.T.Helper()
	fits, err := browser.Eval[bool](u.Page, `document.documentElement.scrollWidth <= innerWidth`)
	u.Must(err)
	assert.True(u.T, fits, "something sticks out of the window")
}
