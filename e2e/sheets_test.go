package e2e

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"jarvo/e2e/browser"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/scope"
	"jarvo/internal/demo"
)

// sheets are the addresses of the main sheets, and what must be on each before it is looked at.
var sheets = [][2]string{
	{"/", `[aria-label="Loose ends"]`}, {"/time?crew=Pile+crew&from=2026-11-16", `[aria-label="Crew sheet"] tfoot`},
	{"/time?crew=Pile+crew&span=day&from=2026-11-16", `[aria-label="Day sheet"] tfoot`},
	{"/time?crew=Pile+crew&view=list&from=2026-11-16", `[aria-label="Entries"] tfoot`}, {"/costs?list=owed", `[aria-label="To reimburse"]`},
	{"/setup?part=people", `[aria-label="Users"]`}, {"/costs?span=quarter", `[aria-label="Lines"] tfoot`},
	{"/approve?span=all", `[aria-label="The week by day"]`}, {"/approve?list=decided", `[aria-label="Decided"] tbody tr`},
	{"/bill", `[aria-label="Ready to bill"]`}, {"/bill?list=drafts", ".invoice .due"}, {"/bill?list=issued&span=all", ".invoice .due"},
	{"/bill?list=messages", `[aria-label="The message"] .text`},
	{"/jobs", `[aria-label="Jobs"]`}, {"/jobs/1187", `[aria-label="Booked to it"]`}, {"/setup?part=workers", `[aria-label="Workers"]`},
	{"/setup?part=burden", "svg.stack"},
	{"/setup?part=rates", `[aria-label="Labour rates"]`}, {"/setup?part=markups&add=yes", `[aria-label="Markups"]`},
	{"/setup?part=prices&add=yes", `[aria-label="Price list"] tbody tr`}, {"/setup?part=customers", `[aria-label="Customers"]`},
}

// accessible lets axe-core look at what stands on the page.
func (u user) accessible(what string) {
	u.t.Helper()
	u.axe(what, "{ resultTypes: ['violations'], rules: { 'target-size': { enabled: true } } }")
}

// axe lets axe-core look at the page by its rules, or some of them.
func (u user) axe(what, rules string) {
	u.t.Helper()
	axe, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	u.must(err)
	found, err := browser.Eval[[]string](u.Page, string(axe)+`;
		document.fonts.ready.then(() => axe.run(document, `+rules+`)).then(r => r.violations
			.filter(v => v.impact !== 'minor')
			.map(v => v.id + ': ' + v.nodes.slice(0, 3).map(n => n.target.join(' ') + ' ' + n.failureSummary.split('\n')[1]).join(' | ')))`)
	u.must(err)
	assert.Empty(u.t, found, what)
}

// TestEverySheet looks at each sheet: axe-core finds nothing in the light and, where the system turns dark, in the dark, with the Workings
// open where there are some; it comes out as a table, and of a printer as the sheet and its Footing, with nothing of the window.
func TestEverySheet(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	for _, sheet := range append(slices.Clone(sheets), [2]string{u.scanned(), ".strip canvas"}) {
		u.open(sheet[0])
		u.must(u.See(sheet[1]))
		name, rows := u.exported(func() error { return u.Click(`[aria-label="Export what is shown"]`) })
		assert.NotEmpty(t, name, sheet[0])
		assert.Greater(t, len(rows), 1, "%s exports no rows", sheet[0])
		u.isPrinted(sheet[0])
		if strings.HasPrefix(sheet[0], "/jobs/") || strings.HasPrefix(sheet[0], "/costs?span") {
			u.must(u.Press("Workings"), u.See(".tape"))
		}
		u.accessible(sheet[0])
		u.must(u.Prefer("dark"), u.Until(`document.documentElement.dataset.theme === 'dark'`))
		u.axe(sheet[0]+", dark", "{ runOnly: ['color-contrast'] }")
		u.must(u.Prefer("light"))
	}
}

// isPrinted looks at what comes out of a printer.
func (u user) isPrinted(sheet string) {
	u.t.Helper()
	data, err := u.Print()
	u.must(err)
	file := filepath.Join(u.t.TempDir(), "sheet.pdf")
	u.must(os.WriteFile(file, data, 0o600))
	text, err := exec.CommandContext(ctx, "pdftotext", "-layout", file, "-").Output()
	u.must(err)
	assert.NotContains(u.t, string(text), "Find or do", sheet)
	assert.NotContains(u.t, string(text), "Ada R.", sheet)
	assert.Greater(u.t, len(text), 200, "%s is printed blank", sheet)
}

// scanned is the address of a paper with a scan.
func (u user) scanned() string {
	u.t.Helper()
	list, err := costs.List(ctx, u.book.Book, book.Console, scope.ScopeQuery{})
	u.must(err)
	at := slices.IndexFunc(list.Documents, func(d costs.DocumentRow) bool { return strings.HasSuffix(d.Detail, "PM-20418") })
	return fmt.Sprintf("/costs?span=all&open=%d", list.Documents[at].ID)
}
