package timesheet_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/people"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/timesheet"
)

// table is a crew with two workers, a job with a phase and a cost code.
func table(t *testing.T) *apptest.Crew {
	t.Helper()
	c := apptest.NewCrew(t)
	_, err := people.Add(ctx, c.Book, c.Owner, people.NewWorker{
		Name: "Bess Tarrow", Trade: "driver", Crew: "Pile", BurdenClass: "Field", Wage: "30", WageFrom: "2026-01-01",
	})
	require.NoError(t, err)
	_, err = jobs.AddCostCode(ctx, c.Book, c.Owner, jobs.NewCode{Code: "320", Name: "Drive piles"})
	require.NoError(t, err)
	return c
}

func preview(c *apptest.Crew, t *testing.T, rows ...string) timesheet.HoursPreview {
	t.Helper()
	p, err := timesheet.PreviewHours(ctx, c.Book, c.Owner, timesheet.HoursFile{
		Key: "key-of-a-table", Text: strings.Join(rows, "\n"), Week: week,
	})
	require.NoError(t, err)
	return p
}

func TestATableOfHoursIsReadAsPeopleWriteIt(t *testing.T) {
	c := table(t)
	for _, rows := range [][]string{
		{"Worker,Date,Job,Cost code,Hours", "Cato Brandl,2026-11-16,101,320,8", "bess,2026-11-17,Landing,Drive piles,7:30"},
		{"Name;Day;Job no.;Code;Start;Finish;Break", "CATO BRANDL;16.11.2026;101;320;7;3:30;30", "Tarrow;11/17/2026;101 Landing;320;7;3:00;0:30"},
		{"Worker\tJob\tCode\tMon\tTuesday 17\t2026-11-18", "cato-brandl\t101\t320\t8\t\t0", "Bess Tarrow\t101\t320\t\t7.5\t"},
		{"Cato Brandl\t101\t320\t8", "Bess Tarrow\t101\t320\t\t7:30"},
	} {
		p := preview(c, t, rows...)
		for _, row := range p.Rows {
			assert.Empty(t, row.Wrong, "%s", rows[0])
		}
		assert.Equal(t, "15.50", p.Hours, "%s read as %v", rows[0], p.Columns)
		require.Len(t, p.Rows, 2)
		assert.Contains(t, p.Rows[0].Read[0], "Mon 16 Nov")
		assert.Contains(t, p.Rows[1].Read[0], "Tue 17 Nov")
	}
	sheet, err := timesheet.Week(ctx, c.Book, c.Owner, timesheet.SheetQuery{Week: week})
	require.NoError(t, err)
	assert.Empty(t, sheet.Lines, "a preview brings nothing in")
}

func TestBadRowsAreMarkedAndTheGoodOnesComeInWhenTold(t *testing.T) {
	c := table(t)
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	rows := []string{
		"worker,date,job,code,hours,billable",
		"Cato Brandl,2026-11-16,101,,9,",    // stands there already
		"Cato Brandl,2026-11-17,101,,8.5,",  // good
		"Nobody,2026-11-17,101,,8,",         // no such worker
		"Bess Tarrow,2026-11-17,999,,8,",    // no such job
		"Bess Tarrow,17 November,101,,8,",   // no date
		"Bess Tarrow,2026-11-17,101,,25,no", // too many hours
		"Bess Tarrow,2026-11-18,101,,8,no",  // good
		"Bess Tarrow,2026-11-18,101,,,",     // none
		"Bess Tarrow,2026-11-19,101,,8,perhaps",
		"Bess Tarrow,2028-11-19,101,,8,",
	}
	wants := []string{
		"8 stands on this line and day already", "", `no worker "Nobody"`, `no job "999"`, "is not a date", "more than a day of 24", "",
		"no hours in this row", "is not yes or no", "days ahead",
	}
	p := preview(c, t, rows...)
	assert.Equal(t, []int{2, 8}, []int{p.Good, p.Bad})
	for i, want := range wants {
		said := strings.Join(p.Rows[i].Wrong, "; ")
		if want == "" {
			assert.Empty(t, said)
		} else {
			assert.Contains(t, said, want)
		}
	}
	file := timesheet.HoursFile{Key: "key-of-the-table", Text: strings.Join(rows, "\n"), Week: week}
	for range 2 { // an answer that got lost is asked for again
		p, err = timesheet.BringHours(ctx, c.Book, c.Owner, file)
		require.NoError(t, err)
		assert.Equal(t, 2, p.Brought)
	}
	sheet, err := timesheet.Week(ctx, c.Book, c.Owner, timesheet.SheetQuery{Week: week})
	require.NoError(t, err)
	assert.Equal(t, "24.5", sheet.Hours)
	apptest.Verified(t, c.Book)
}

func TestATableThatIsNoneIsRefused(t *testing.T) {
	c := table(t)
	for text, sentence := range map[string]string{
		"": "nothing in it yet", "PK\x03\x04\x00\x00": "not a text file", strings.Repeat("a,b\n", 2001): "more than 2000 rows",
		strings.Repeat("a,", 50): "more than 40 are not read",
	} {
		_, err := timesheet.PreviewHours(ctx, c.Book, c.Owner, timesheet.HoursFile{Key: "key-of-nothing", Text: text, Week: week})
		apptest.Refusal(t, err, refuse.KindInvalid, "text", sentence)
	}
	_, err := timesheet.PreviewHours(ctx, c.Book, c.Owner, timesheet.HoursFile{
		Key: "key-of-columns", Text: "a,b", Columns: []string{"worker"}, Week: week,
	})
	apptest.Refusal(t, err, refuse.KindInvalid, "columns", "there are 2 columns, and 1 are named")
	_, err = timesheet.BringHours(ctx, c.Book, c.Owner, timesheet.HoursFile{
		Key: "key-of-no-rows", Text: "worker,date,job,hours\nNobody,2026-11-16,101,8", Week: week,
	})
	apptest.Refusal(t, err, refuse.KindInvalid, "text", "no row that can be brought in")
}
