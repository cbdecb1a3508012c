package hours

import (
	"fmt"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/at"
	"jarvo/e2e/browser"
	"jarvo/internal/app/book"
	"jarvo/internal/app/timesheet"
)

// typist is somebody at the keyboard whose strokes are counted.
type typist struct {
	user
	strokes int
}

func (k *typist) keys(keys string) {
	k.T.Helper()
	k.strokes += utf8.RuneCountInString(keys)
	k.Must(k.Keys(keys))
}

func (k *typist) chord(held chromedp.Modifier, keys string) {
	k.T.Helper()
	k.strokes += utf8.RuneCountInString(keys) + 1
	k.Must(k.Chord(held, keys))
}

// pick chooses from the list of the field in focus by part of a name, and goes on to the next field.
func (k *typist) pick(part string) {
	k.T.Helper()
	k.keys(part)
	k.Must(k.See(".v-overlay--active .v-list-item"))
	k.keys("\r")
	k.Must(k.Until(`!document.querySelector('.v-overlay--active .v-list-item')`))
	k.keys("\t")
}

// TestACrewOfSixLikeLastWeek types a whole week of a crew that worked like the week before, with two days that differ and a job
// that is not billable, and hands it in.
func TestACrewOfSixLikeLastWeek(t *testing.T) {
	k := &typist{user: atTheDemo(t)}
	k.Open(pileCrew + "2026-11-30")
	k.Must(k.See(`[aria-label="Crew sheet"] tfoot`), k.Until(`document.querySelectorAll('.crew tr[data-line]').length === 0`))
	k.Open(pileCrew + "2026-11-16")
	k.Must(k.See(at.Cell(23, 0)))
	k.hours("258")
	k.Open(pileCrew + "2026-11-23")
	k.Must(k.See(`[aria-label="Crew sheet"] tfoot`))
	// What the demo has of this week is taken away first, as one step.
	k.Must(k.Click(at.Cell(0, 0)), k.Chord(chromedp.ModifierCtrl, "a"), k.Keys(kb.Delete))
	k.hours("0")

	k.chord(chromedp.ModifierAlt, "r")
	k.hours("258")
	k.keys("9.5\t10\r") // Aldo, Monday and Tuesday
	k.chord(chromedp.ModifierAlt, "b")
	k.Must(k.Until(`document.querySelectorAll('.crew .box:not(:checked)').length === 1`))
	k.saved()
	k.chord(chromedp.ModifierCtrl, "\r")
	k.Sees("dated after today")
	k.chord(chromedp.ModifierCtrl, "\r")
	k.Sees("Handed in")
	assert.Less(t, k.strokes, 60)
	t.Logf("%d strokes", k.strokes)
}

// TestACrewOfSixFromNothing types a week of six for which there is no line yet: everybody drives piles at the ferry landing,
// one has a short Friday, and one is on the crane.
func TestACrewOfSixFromNothing(t *testing.T) {
	k := &typist{user: atTheDemo(t)}
	k.Open(pileCrew + "2026-11-30")
	k.Must(k.See(`[aria-label="Add a line"]`))
	k.chord(chromedp.ModifierAlt, "n")
	k.pick("whole")
	k.pick("1187")
	k.pick("drive")
	k.pick("320")
	k.keys("\r")
	k.Must(k.See(at.Cell(5, 0)), k.Until(`!!document.activeElement.closest('[data-line="0"]')`))
	for range 4 {
		k.keys("7-5:30/30\t")
	}
	k.keys("8\r" + kb.Home)
	k.keys(kb.ArrowUp)
	k.saved()
	k.chord(chromedp.ModifierAlt, "f")
	k.Sees("Filled 5 of 5")
	k.hours("288") // 6 x (4 x 10 + 8)
	k.keys(strings.Repeat(kb.ArrowDown, 5) + kb.End + kb.ArrowLeft + kb.ArrowLeft + "6\r")
	k.hours("286")
	k.saved()
	k.chord(chromedp.ModifierCtrl, "\r")
	k.Sees("dated after today")
	k.chord(chromedp.ModifierCtrl, "\r")
	k.Sees("Handed in")
	assert.Less(t, k.strokes, 200)
	t.Logf("%d strokes", k.strokes)
	sheet, err := timesheet.Week(t.Context(), k.Book.Book, book.Console, timesheet.SheetQuery{Week: "2026-11-30", Crew: "Pile crew"})
	require.NoError(t, err)
	assert.Equal(t, "7:00-17:30/0:30", sheet.Lines[3].Cells[2].Text, "what was filled in keeps its clock times")
}

func TestABlockIsCopiedFilledAndTakenBack(t *testing.T) {
	u := atTheDemo(t)
	u.Load(pileCrew + "2026-11-16")
	u.Must(u.See(at.Cell(0, 0)), u.Click(at.Cell(0, 5)), u.Keys("4\t5\r"))
	u.stands(0, 6, "5")
	u.Must(
		u.Click(at.Cell(0, 5)), u.Chord(chromedp.ModifierShift, kb.ArrowRight+kb.ArrowDown+kb.ArrowDown),
		u.Chord(chromedp.ModifierAlt, kb.ArrowDown),
	)
	for line := range 3 {
		u.stands(line, 5, "4")
		u.stands(line, 6, "5")
	}
	copied, err := browser.Eval[string](u.Page, `new Promise(done => { const data = new DataTransfer();
		document.activeElement.dispatchEvent(new ClipboardEvent('copy', { clipboardData: data, bubbles: true, cancelable: true }));
			done(data.getData('text/plain')) })`)
	u.Must(err)
	assert.Equal(t, "4\t5\r\n4\t5\r\n4\t5", copied)
	u.Must(u.Keys(kb.Delete))
	u.stands(2, 6, "")
	u.Must(u.Chord(chromedp.ModifierCtrl, "z"))
	u.stands(2, 6, "5")
	u.Must(u.Chord(chromedp.ModifierCtrl, "z"))
	u.stands(2, 6, "")
	u.stands(0, 6, "5")
	u.Must(u.Chord(chromedp.ModifierCtrl, "y"))
	u.stands(2, 6, "5")
	u.saved()
	u.Load(pileCrew + "2026-11-16")
	u.stands(2, 6, "5")
}

func TestFortyLinesFromASpreadsheetAndBack(t *testing.T) {
	u := atTheDemo(t)
	u.Load("/time?from=2026-11-16")
	u.Must(u.See(at.Cell(39, 0)))
	before, err := u.Text(`.crew tfoot`)
	u.Must(err)
	rows := make([]string, 40)
	for i := range rows {
		rows[i] = "1\t0:30"
	}
	u.Must(u.Click(at.Cell(0, 5)), u.Paste(strings.Join(rows, "\r\n")+"\r\n"))
	u.saved()
	u.stands(39, 6, "0.5")
	saturday, err := browser.Eval[float64](u.Page, `+document.querySelector('.crew tfoot [data-column="2026-11-21"]').innerText`)
	u.Must(err)
	assert.GreaterOrEqual(t, saturday, 40.0)
	u.Must(u.Chord(chromedp.ModifierCtrl, "z"))
	u.saved()
	u.Must(u.Until(fmt.Sprintf(`document.querySelector('.crew tfoot').innerText === %q`, before)))
	u.Must(u.Paste("8\tnonsense\r\n7\t7"))
	u.Sees("is not hours")
	u.stands(1, 6, "7")
}

// TestLinesOfASpreadsheetComeInWhenTold pastes 40 rows with names into the crew sheet: two are wrong and stay, the others come in.
func TestLinesOfASpreadsheetComeInWhenTold(t *testing.T) {
	u := atTheDemo(t)
	u.Load("/time?from=2026-11-30")
	u.Must(u.See(`[aria-label="Add a line"]`))
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
	u.Load("/time?from=2026-11-23")
	u.Must(u.See(at.Cell(0, 0)), u.Click(at.Cell(0, 0)), u.Paste(strings.Join(rows, "\r\n")))
	u.Sees(`there is no worker "Nobody At All"`, "more than a day of 24")
	u.Must(u.See(`[aria-label="What was read"]`))
	open, err := browser.Eval[int](u.Page, `document.querySelectorAll('[aria-label="What was read"] tr.bad').length`)
	u.Must(err)
	assert.GreaterOrEqual(t, open, 10)
	u.Must(u.Until(`[...document.querySelectorAll('button')].some(b => /^Bring \d+ rows in$/.test(b.innerText.trim()) && !b.disabled)`))
	u.Must(u.Chord(chromedp.ModifierCtrl, "\r"))
	u.Sees("brought in", "not handed in yet")
	u.Must(u.Until(`document.querySelectorAll('[aria-label="What was read"] tr.bad').length >= 10`))
	left, err := browser.Eval[string](u.Page, `document.querySelector('textarea').value.split('\n')[0]`)
	u.Must(err)
	assert.Contains(t, left, "Worker\tJob\tCode", "what was left out stays, to be put right")
}

// TestARepeatOverHoursAsksFirst repeats last week in a week that has hours: nothing is doubled unless that is meant, and what is undone
// leaves no empty lines.
func TestARepeatOverHoursAsksFirst(t *testing.T) {
	u := atTheDemo(t)
	u.Load(pileCrew + "2026-11-23")
	u.Must(u.See(at.Cell(0, 0)))
	lines := func() int {
		n, err := browser.Eval[int](u.Page, `document.querySelectorAll('.crew tr[data-line]').length`)
		u.Must(err)
		return n
	}
	before := lines()
	hours, err := u.Text(`.crew tfoot .money`)
	u.Must(err, u.Click(at.Cell(0, 0)), u.Chord(chromedp.ModifierAlt, "r"))
	u.Sees("already have hours on some of these days")
	u.Accessible("a repeat that asks")
	u.Must(u.Press("Cancel"))
	u.hours(hours)
	assert.Equal(t, before, lines())
	u.Must(u.Click(at.Cell(0, 0)), u.Keys("abc\x1b"), u.Chord(chromedp.ModifierAlt, "r"), u.Press("Only where there are none"))
	u.Sees("from last week")
	u.saved()
	u.Must(u.Click(at.Cell(0, 0)), u.Chord(chromedp.ModifierCtrl, "z"))
	u.hours(hours)
	assert.Equal(t, before, lines(), "no empty line stays, and letters alone change nothing")
}

func TestTheWorkingsFollowWhatIsTyped(t *testing.T) {
	u := atTheDemo(t)
	u.Open("/time?crew=Pile+crew&from=2026-11-16")
	first := at.Cell(0, 0)
	tape := func(cost string) string { return `document.querySelector('.tape')?.innerText.includes('` + cost + `')` }
	u.Must(u.See(first), u.Press("Workings"), u.Click(first), u.Until(tape("544.03"))) // 9 h, one of them over
	u.Must(u.Click(first), u.Keys("8\r"), u.Click(first), u.Until(tape("463.08")))
}

func TestAForemanTypesHoursAndSeesNoMoney(t *testing.T) {
	u := user{at.TheDemoAs(t, "greta@brackwater.example", ".tabs")}
	tabs, err := browser.Eval[[]string](u.Page, `[...document.querySelectorAll('.tabs a')].map(a => a.innerText.trim())`)
	u.Must(err)
	assert.Equal(t, []string{"Today", "Time"}, tabs)
	u.Open("/time?crew=Deck+crew&from=2026-11-23")
	u.Must(u.See(`[aria-label="Crew sheet"] tfoot`))
	text, err := browser.Eval[string](u.Page, "document.body.innerText")
	u.Must(err)
	for _, money := range []string{"Cost", "Charge", "Margin", "Labor", "Workings"} {
		assert.NotContains(t, text, money)
	}
	status, err := browser.Eval[int](u.Page, `fetch('/api/jobs').then(r => r.status)`)
	u.Must(err)
	assert.Equal(t, 403, status)
	u.Must(u.Click(at.Cell(0, 4)), u.Keys("7-3:30/30\r"))
	u.Sees("Saved")
}
