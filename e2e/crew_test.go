package e2e

import (
	"fmt"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/browser"
	"jarvo/internal/app/book"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/demo"
)

const pileCrew = "/time?crew=Pile+crew&from="

// typist is somebody at the keyboard whose strokes are counted.
type typist struct {
	user
	strokes int
}

func (k *typist) keys(keys string) {
	k.t.Helper()
	k.strokes += utf8.RuneCountInString(keys)
	k.must(k.Keys(keys))
}

func (k *typist) chord(held chromedp.Modifier, keys string) {
	k.t.Helper()
	k.strokes += utf8.RuneCountInString(keys) + 1
	k.must(k.Chord(held, keys))
}

// pick chooses from the list of the field in focus by part of a name, and goes on to the next field.
func (k *typist) pick(part string) {
	k.t.Helper()
	k.keys(part)
	k.must(k.See(".v-overlay--active .v-list-item"))
	k.keys("\r")
	k.must(k.Until(`!document.querySelector('.v-overlay--active .v-list-item')`))
	k.keys("\t")
}

// hours are what the totals row of the crew sheet says.
func (u user) hours(want string) {
	u.t.Helper()
	u.must(u.Until(fmt.Sprintf(`document.querySelector('.crew tfoot [data-column="total"]')?.innerText.trim() === %q`, want)))
}

func (u user) saved() {
	u.t.Helper()
	u.must(u.Until(`document.querySelector('.footing .state').innerText.startsWith('Saved') && !document.querySelector('.crew .waits')`))
}

func (u user) stands(line, day int, text string) {
	u.t.Helper()
	u.must(u.Until(fmt.Sprintf(`document.querySelector('%s .figure')?.innerText === %q`, cell(line, day), text)))
}

// TestACrewOfSixLikeLastWeek types a whole week of a crew that worked like the week before, with two days that differ and a job
// that is not billable, and hands it in.
func TestACrewOfSixLikeLastWeek(t *testing.T) {
	k := &typist{user: atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)}
	k.open(pileCrew + "2026-11-30")
	k.must(k.See(`[aria-label="Crew sheet"] tfoot`), k.Until(`document.querySelectorAll('.crew tr[data-line]').length === 0`))
	k.open(pileCrew + "2026-11-16")
	k.must(k.See(cell(23, 0)))
	k.hours("258")
	k.open(pileCrew + "2026-11-23")
	k.must(k.See(`[aria-label="Crew sheet"] tfoot`))
	// What the demo has of this week is taken away first, as one step.
	k.must(k.Click(cell(0, 0)), k.Chord(chromedp.ModifierCtrl, "a"), k.Keys(kb.Delete))
	k.hours("0")

	k.chord(chromedp.ModifierAlt, "r")
	k.hours("258")
	k.keys("9.5\t10\r") // Aldo, Monday and Tuesday
	k.chord(chromedp.ModifierAlt, "b")
	k.must(k.Until(`document.querySelectorAll('.crew .box:not(:checked)').length === 1`))
	k.saved()
	k.chord(chromedp.ModifierCtrl, "\r")
	k.sees("dated after today")
	k.chord(chromedp.ModifierCtrl, "\r")
	k.sees("Handed in")
	assert.Less(t, k.strokes, 60)
	t.Logf("%d strokes", k.strokes)
}

// TestACrewOfSixFromNothing types a week of six for which there is no line yet: everybody drives piles at the ferry landing,
// one has a short Friday, and one is on the crane.
func TestACrewOfSixFromNothing(t *testing.T) {
	k := &typist{user: atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)}
	k.open(pileCrew + "2026-11-30")
	k.must(k.See(`[aria-label="Add a line"]`))
	k.chord(chromedp.ModifierAlt, "n")
	k.pick("whole")
	k.pick("1187")
	k.pick("drive")
	k.pick("320")
	k.keys("\r")
	k.must(k.See(cell(5, 0)), k.Until(`!!document.activeElement.closest('[data-line="0"]')`))
	for range 4 {
		k.keys("7-5:30/30\t")
	}
	k.keys("8\r" + kb.Home)
	k.keys(kb.ArrowUp)
	k.saved()
	k.chord(chromedp.ModifierAlt, "f")
	k.sees("Filled 5 of 5")
	k.hours("288") // 6 x (4 x 10 + 8)
	k.keys(strings.Repeat(kb.ArrowDown, 5) + kb.End + kb.ArrowLeft + kb.ArrowLeft + "6\r")
	k.hours("286")
	k.saved()
	k.chord(chromedp.ModifierCtrl, "\r")
	k.sees("dated after today")
	k.chord(chromedp.ModifierCtrl, "\r")
	k.sees("Handed in")
	assert.Less(t, k.strokes, 200)
	t.Logf("%d strokes", k.strokes)
	sheet, err := timesheet.Week(ctx, k.book.Book, book.Console, timesheet.SheetQuery{Week: "2026-11-30", Crew: "Pile crew"})
	require.NoError(t, err)
	assert.Equal(t, "7:00-17:30/0:30", sheet.Lines[3].Cells[2].Text, "what was filled in keeps its clock times")
}

func TestABlockIsCopiedFilledAndTakenBack(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.load(pileCrew + "2026-11-16")
	u.must(u.See(cell(0, 0)), u.Click(cell(0, 5)), u.Keys("4\t5\r"))
	u.stands(0, 6, "5")
	u.must(
		u.Click(cell(0, 5)), u.Chord(chromedp.ModifierShift, kb.ArrowRight+kb.ArrowDown+kb.ArrowDown),
		u.Chord(chromedp.ModifierAlt, kb.ArrowDown),
	)
	for line := range 3 {
		u.stands(line, 5, "4")
		u.stands(line, 6, "5")
	}
	copied, err := browser.Eval[string](u.Page, `new Promise(done => { const data = new DataTransfer();
		document.activeElement.dispatchEvent(new ClipboardEvent('copy', { clipboardData: data, bubbles: true, cancelable: true }));
			done(data.getData('text/plain')) })`)
	u.must(err)
	assert.Equal(t, "4\t5\r\n4\t5\r\n4\t5", copied)
	u.must(u.Keys(kb.Delete))
	u.stands(2, 6, "")
	u.must(u.Chord(chromedp.ModifierCtrl, "z"))
	u.stands(2, 6, "5")
	u.must(u.Chord(chromedp.ModifierCtrl, "z"))
	u.stands(2, 6, "")
	u.stands(0, 6, "5")
	u.must(u.Chord(chromedp.ModifierCtrl, "y"))
	u.stands(2, 6, "5")
	u.saved()
	u.load(pileCrew + "2026-11-16")
	u.stands(2, 6, "5")
}

func TestFortyLinesFromASpreadsheetAndBack(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.load("/time?from=2026-11-16")
	u.must(u.See(cell(39, 0)))
	before, err := u.Text(`.crew tfoot`)
	u.must(err)
	rows := make([]string, 40)
	for i := range rows {
		rows[i] = "1\t0:30"
	}
	u.must(u.Click(cell(0, 5)), u.Paste(strings.Join(rows, "\r\n")+"\r\n"))
	u.saved()
	u.stands(39, 6, "0.5")
	saturday, err := browser.Eval[float64](u.Page, `+document.querySelector('.crew tfoot [data-column="2026-11-21"]').innerText`)
	u.must(err)
	assert.GreaterOrEqual(t, saturday, 40.0)
	u.must(u.Chord(chromedp.ModifierCtrl, "z"))
	u.saved()
	u.must(u.Until(fmt.Sprintf(`document.querySelector('.crew tfoot').innerText === %q`, before)))
	u.must(u.Paste("8\tnonsense\r\n7\t7"))
	u.sees("is not hours")
	u.stands(1, 6, "7")
}

func TestTwoWindowsNeverOverwriteEachOther(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	other, err := u.Window()
	require.NoError(t, err)
	t.Cleanup(other.Close)
	second := u
	second.Page = other
	for _, window := range []user{u, second} {
		window.open(pileCrew + "2026-11-16")
		window.must(window.See(cell(0, 0)))
	}
	u.must(u.Click(cell(0, 0)), u.Keys("7\r"))
	u.saved()
	second.stands(0, 0, "7") // it is told

	second.must(second.Click(cell(0, 0)), second.Keys("9.5"))
	_, err = timesheet.SaveCells(ctx, u.book.Book, book.Console, timesheet.SheetQuery{Week: "2026-11-16"}, stolen(t, u.book.Book, "6.5"))
	require.NoError(t, err)
	second.must(second.Keys("\r"))
	second.sees("command line has changed this to 6.5 h; you typed 9.5", "Keep 6.5", "Use 9.5")
	second.must(second.Press("Use 9.5"))
	second.saved()
	u.stands(0, 0, "9.5")
}

// stolen changes the first cell of the pile crew's week behind the backs of those who look at it. It is quicker than the news.
func stolen(t *testing.T, a *book.Book, hours string) []timesheet.CellEdit {
	t.Helper()
	sheet, err := timesheet.Week(ctx, a, book.Console, timesheet.SheetQuery{Week: "2026-11-16", Crew: "Pile crew"})
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

func TestTypingGoesOnWhileTheServerIsStopped(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.load(pileCrew + "2026-11-16")
	u.must(u.See(cell(0, 0)), u.Click(cell(0, 5)), u.Keys("4\r"))
	u.saved()
	u.book.Stop()
	u.must(u.Keys("5\r6\r7\r"))
	u.sees("3 not saved yet")
	u.stands(2, 5, "6")
	u.must(u.Chord(chromedp.ModifierCtrl, "z"))
	u.stands(3, 5, "")
	require.NoError(t, u.book.Restart(ctx))
	u.saved()
	u.load(pileCrew + "2026-11-16")
	for line, text := range []string{"4", "5", "6", ""} {
		u.stands(line, 5, text)
	}
}

// TestAPaperSheetIsKeyedInByDay takes a foreman's sheet in: when the crew was there, then where one of them was.
func TestAPaperSheetIsKeyedInByDay(t *testing.T) {
	k := &typist{user: atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)}
	k.open("/time?crew=Pile+crew&span=day&from=2026-11-28") // a Saturday that nobody has hours on yet
	k.must(k.See(`[aria-label="Day sheet"] tfoot`), k.Click(`input[aria-label="Crew fill, start"]`))
	k.keys("7\t3:30\t30")
	k.sees("Fills 6 of 6")
	k.keys("\r")
	k.sees("Filled 6 of 6", "It foots")
	k.must(k.Until(`document.querySelector('.days tfoot [data-column="worked"]').innerText === '48'`))
	k.must(k.Click(cell(2, 1)))
	k.keys("5:30\r") // Cato stayed for two hours more
	k.sees("Still to place, Cato Brandl")
	k.must(k.Click(cell(2, 3)))
	k.keys("10\r")
	k.sees("It foots")
	k.must(k.Click(cell(0, 0)))
	k.must(k.Click(cell(0, 1)))
	k.keys("25\r")
	k.sees("there is no hour 25")
	k.must(k.Chord(chromedp.ModifierCtrl, "z"), k.Until(`!document.querySelector('.error-line')`))
	sheet, err := timesheet.Day(ctx, k.book.Book, book.Console, timesheet.DayQuery{Date: "2026-11-28", Crew: "Pile crew"})
	require.NoError(t, err)
	assert.Equal(t, "7:00-17:30/0:30", sheet.Workers[2].Text)
	assert.Equal(t, "7:00-15:30/0:30", sheet.Workers[0].Text)
}

func TestTheListChangesOneOfTwoEntriesOfADay(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.load("/time?crew=Pile+crew&view=list&from=2026-11-16")
	u.must(u.See(`[aria-label="Entries"] tfoot`))
	part := func(row int, name string) string {
		return fmt.Sprintf(`[aria-label="Entries"] tr[aria-rowindex="%d"] [data-part="%s"]`, row+2, name)
	}
	value := func(row int, name, want string) {
		t.Helper()
		u.must(u.Until(fmt.Sprintf(`document.querySelector('%s')?.value === %q`, part(row, name), want)))
	}
	u.must(u.Type(part(0, "start"), "7"))
	u.must(u.Type(part(0, "finish"), "3:30"))
	u.must(u.Type(part(0, "break"), "30\r"))
	value(0, "hours", "8")
	value(0, "finish", "15:30")
	u.must(u.Type(part(1, "note"), "lent to the deck crew\r"))
	u.must(u.Type(part(1, "hours"), "seven\r"))
	u.sees(`"seven" is not hours`)
	u.must(u.Type(part(1, "hours"), "7\r"), u.Until(`!document.querySelector('.error-line')`))
	u.must(u.Chord(chromedp.ModifierCtrl, "z"))
	u.must(u.Pick("Worker", "aldo"), u.Pick("Job", "1189"), u.Type(`input[aria-label="Hours"]`, "1.5\r"))
	u.sees("31 entries")
	u.load("/time?crew=Pile+crew&view=list&from=2026-11-16")
	value(2, "note", "lent to the deck crew")
}

// TestLinesOfASpreadsheetComeInWhenTold pastes 40 rows with names into the crew sheet: two are wrong and stay, the others come in.
func TestLinesOfASpreadsheetComeInWhenTold(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.load("/time?from=2026-11-30")
	u.must(u.See(`[aria-label="Add a line"]`))
	rows := []string{"Worker\tJob\tCode\tMon\tTue"}
	for i, name := range []string{
		"Aldo Renn", "Bess Tarrow", "Cato Brandl", "Dina Oake", "Emmet Slade", "Fitz Harrow", "Nobody At All", "Cato Brandl",
	} {
		for _, job := range []string{"1187", "1192", "1189", "1181", "1200"} {
			hours := "1:30"
			if i == 7 {
				hours = "25"
			}
			rows = append(rows, name+"\t"+job+"\t320\t1\t"+hours)
		}
	}
	u.load("/time?from=2026-11-23")
	u.must(u.See(cell(0, 0)), u.Click(cell(0, 0)), u.Paste(strings.Join(rows, "\r\n")))
	u.sees(`there is no worker "Nobody At All"`, "more than a day of 24")
	u.must(u.See(`[aria-label="What was read"]`))
	open, err := browser.Eval[int](u.Page, `document.querySelectorAll('[aria-label="What was read"] tr.bad').length`)
	u.must(err)
	assert.GreaterOrEqual(t, open, 10)
	u.must(u.Until(`[...document.querySelectorAll('button')].some(b => /^Bring \d+ rows in$/.test(b.innerText.trim()) && !b.disabled)`))
	u.must(u.Chord(chromedp.ModifierCtrl, "\r"))
	u.sees("brought in", "not handed in yet")
	u.must(u.Until(`document.querySelectorAll('[aria-label="What was read"] tr.bad').length >= 10`))
	left, err := browser.Eval[string](u.Page, `document.querySelector('textarea').value.split('\n')[0]`)
	u.must(err)
	assert.Contains(t, left, "Worker\tJob\tCode", "what was left out stays, to be put right")
}
