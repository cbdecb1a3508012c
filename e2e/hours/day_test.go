package hours

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/at"
	"jarvo/internal/app/book"
	"jarvo/internal/app/timesheet"
)

// TestAPaperSheetIsKeyedInByDay takes a foreman's sheet in: when the crew was there, then where one of them was.
func TestAPaperSheetIsKeyedInByDay(t *testing.T) {
	k := &typist{user: atTheDemo(t)}
	k.Open("/time?crew=Pile+crew&span=day&from=2026-11-28") // a Saturday that nobody has hours on yet
	k.Must(k.See(`[aria-label="Day sheet"] tfoot`), k.Click(`input[aria-label="Crew fill, start"]`))
	k.keys("7\t3:30\t30")
	k.Sees("Fills 6 of 6")
	k.keys("\r")
	k.Sees("Filled 6 of 6", "It foots")
	k.Must(k.Until(`document.querySelector('.days tfoot [data-column="worked"]').innerText === '48'`))
	k.Must(k.Click(at.Cell(2, 1)))
	k.keys("5:30\r") // Cato stayed for two hours more
	k.Sees("Still to place, Cato Brandl")
	k.Must(k.Click(at.Cell(2, 3)))
	k.keys("10\r")
	k.Sees("It foots")
	k.Must(k.Click(at.Cell(0, 0)))
	k.Must(k.Click(at.Cell(0, 1)))
	k.keys("25\r")
	k.Sees("there is no hour 25")
	k.Must(k.Chord(chromedp.ModifierCtrl, "z"), k.Until(`!document.querySelector('.error-line')`))
	sheet, err := timesheet.Day(t.Context(), k.Book.Book, book.Console, timesheet.DayQuery{Date: "2026-11-28", Crew: "Pile crew"})
	require.NoError(t, err)
	assert.Equal(t, "7:00-17:30/0:30", sheet.Workers[2].Text)
	assert.Equal(t, "7:00-15:30/0:30", sheet.Workers[0].Text)
}

func TestTheListChangesOneOfTwoEntriesOfADay(t *testing.T) {
	u := atTheDemo(t)
	u.Load("/time?crew=Pile+crew&view=list&from=2026-11-16")
	u.Must(u.See(`[aria-label="Entries"] tfoot`))
	part := func(row int, name string) string {
		return fmt.Sprintf(`[aria-label="Entries"] tr[aria-rowindex="%d"] [data-part="%s"]`, row+2, name)
	}
	value := func(row int, name, want string) {
		t.Helper()
		u.Must(u.Until(fmt.Sprintf(`document.querySelector('%s')?.value === %q`, part(row, name), want)))
	}
	u.Must(u.Type(part(0, "start"), "7"))
	u.Must(u.Type(part(0, "finish"), "3:30"))
	u.Must(u.Type(part(0, "break"), "30\r"))
	value(0, "hours", "8")
	value(0, "finish", "15:30")
	u.Must(u.Type(part(1, "note"), "lent to the deck crew\r"))
	u.Must(u.Type(part(1, "hours"), "seven\r"))
	u.Sees(`"seven" is not hours`)
	u.Must(u.Type(part(1, "hours"), "7\r"), u.Until(`!document.querySelector('.error-line')`))
	u.Must(u.Chord(chromedp.ModifierCtrl, "z"))
	u.Must(u.Pick("Worker", "aldo"), u.Pick("Job", "1189"), u.Type(`input[aria-label="Hours"]`, "1.5\r"))
	u.Sees("31 entries")
	u.Load("/time?crew=Pile+crew&view=list&from=2026-11-16")
	value(2, "note", "lent to the deck crew")
}
