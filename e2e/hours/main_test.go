package hours

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"jarvo/e2e/at"
	"jarvo/internal/app/book"
	"jarvo/internal/app/timesheet"
)

func TestMain(m *testing.M) { at.Main(m) }

// user is somebody at the browser.
type user struct{ at.User }

func atTheDemo(t testing.TB) user { t.Helper(); return user{at.TheDemo(t)} }

// hours are what the totals row of the crew sheet says.
func (u user) hours(want string) {
	u.T.Helper()
	u.Must(u.Until(fmt.Sprintf(`document.querySelector('.crew tfoot [data-column="total"]')?.innerText.trim() === %q`, want)))
}

func (u user) saved() {
	u.T.Helper()
	u.Must(u.Until(`document.querySelector('.footing .state').innerText.startsWith('Saved') && !document.querySelector('.crew .waits')`))
}

func (u user) stands(line, day int, text string) {
	u.T.Helper()
	u.Must(u.Until(fmt.Sprintf(`document.querySelector('%s .figure')?.innerText === %q`, at.Cell(line, day), text)))
}

const pileCrew = "/time?crew=Pile+crew&from="

// stolen changes the first cell of the pile crew's week behind the backs of those who look at it. It is quicker than the news.
func stolen(t *testing.T, a *book.Book, hours string) []timesheet.CellEdit {
	t.Helper()
	sheet, err := timesheet.Week(t.Context(), a, book.Console, timesheet.SheetQuery{Week: "2026-11-16", Crew: "Pile crew"})
	require.NoError(t, err)
	line := sheet.Lines[0]
	edit := timesheet.CellEdit{
		EntryID: line.Cells[0].EntryID, Version: line.Cells[0].Version, WorkerID: line.Worker.ID, JobID: line.Job.ID, Billable: true,
		Date: line.Cells[0].Date, Text: hours,
	}
	if line.Phase != nil {
		edit.PhaseID = line.Phase.ID
	}
	if line.CostCode != nil {
		edit.CostCodeID = line.CostCode.ID
	}
	return []timesheet.CellEdit{edit}
}

func TestEverySheet(t *testing.T) {
	at.TheDemo(t).EverySheet(
		at.Sheet{Path: "/time?crew=Pile+crew&from=2026-11-16", See: `[aria-label="Crew sheet"] tfoot`},
		at.Sheet{Path: "/time?crew=Pile+crew&span=day&from=2026-11-16", See: `[aria-label="Day sheet"] tfoot`},
		at.Sheet{Path: "/time?crew=Pile+crew&view=list&from=2026-11-16", See: `[aria-label="Entries"] tfoot`},
	)
}
