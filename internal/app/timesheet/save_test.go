package timesheet_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/book"
	"jarvo/internal/app/history"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/timesheet"
)

func text(s string) *string { return &s }

func stale(t *testing.T, err error) []timesheet.StaleCell {
	t.Helper()
	e, ok := refuse.AsError(err)
	require.True(t, ok, "%v is not a refusal", err)
	cells, ok := e.Current.([]timesheet.StaleCell)
	require.True(t, ok)
	return cells
}

func TestAStaleEditIsRefusedWithBothValues(t *testing.T) {
	c := apptest.NewCrew(t)
	sheet, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	seen := sheet.Lines[0].Cells[0]
	_, err = c.Save(c.Changes(seen, "7-3"))
	require.NoError(t, err)
	_, err = c.Save(c.Changes(seen, "9"))
	apptest.Refusal(t, err, refuse.KindConflict, "edits[0].text", "Ada has changed this to 7:00 to 15:00, 8 h; you typed 9")
	now := stale(t, err)[0]
	assert.Equal(t, timesheet.StaleCell{EntryID: seen.EntryID, Version: 2, Text: "7:00-15:00", Who: "Ada", At: now.At}, now)

	_, err = c.Save(c.Changes(timesheet.Cell{EntryID: now.EntryID, Version: now.Version}, "9"))
	require.NoError(t, err, "mine is taken once I have seen theirs")
	_, err = c.Save(c.Changes(timesheet.Cell{EntryID: now.EntryID, Version: 3}, ""))
	require.NoError(t, err)
	_, err = c.Save(c.Changes(timesheet.Cell{EntryID: now.EntryID, Version: 3}, "6"))
	apptest.Refusal(t, err, refuse.KindConflict, "edits[0].text", "Ada has taken this away; you typed 6")
	assert.Empty(t, stale(t, err)[0].Text)
}

func TestTwoWhoFillTheSameEmptyCellMakeOneEntry(t *testing.T) {
	c := apptest.NewCrew(t)
	mine, theirs := c.Edit("8"), c.Edit("7")
	_, err := c.Save(theirs)
	require.NoError(t, err)
	_, err = c.Save(mine)
	apptest.Refusal(t, err, refuse.KindConflict, "edits[0].text", "Ada has changed this to 7 h; you typed 8")
	mine.Another = true
	sheet, err := c.Save(mine)
	require.NoError(t, err, "a second entry is made where it is meant")
	assert.Equal(t, "15", sheet.Lines[0].Cells[0].Hours)
	assert.Equal(t, 2, sheet.Lines[0].Cells[0].Entries)
}

func TestWhatWasDoneAlreadyIsNotStale(t *testing.T) {
	c := apptest.NewCrew(t)
	sheet, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	change := c.Changes(sheet.Lines[0].Cells[0], "9")
	for range 2 {
		sheet, err = c.Save(change)
		require.NoError(t, err, "an answer that got lost is asked for again")
		assert.Equal(t, "9", sheet.Hours)
	}
	assert.EqualValues(t, 2, sheet.Lines[0].Cells[0].Version)
	away := c.Changes(sheet.Lines[0].Cells[0], "")
	for range 2 {
		sheet, err = c.Save(away)
		require.NoError(t, err)
		assert.Empty(t, sheet.Lines)
	}
}

func TestEachRefusedEditIsNamedAndNoneIsTaken(t *testing.T) {
	c := apptest.NewCrew(t)
	sheet, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	seen := sheet.Lines[0].Cells[0]
	_, err = c.Save(c.Changes(seen, "7"))
	require.NoError(t, err)
	good, bad := c.Edit("4"), c.Edit("7-25")
	good.Date, bad.Date = "2026-11-17", "2026-11-18"
	_, err = c.Save(good, c.Changes(seen, "9"), bad)
	e, ok := refuse.AsError(err)
	require.True(t, ok)
	paths := []string{}
	for _, f := range e.Fields {
		paths = append(paths, f.Path)
	}
	assert.Equal(t, []string{"edits[1].text", "edits[2].text"}, paths)
	sheet, err = timesheet.Week(ctx, c.Book, c.Owner, timesheet.SheetQuery{Week: week})
	require.NoError(t, err)
	assert.Equal(t, "7", sheet.Hours)
}

func TestAnEntryTakesANoteAPayClassAndARateOfItsOwn(t *testing.T) {
	c := apptest.NewCrew(t)
	e := c.Edit("8")
	e.Note, e.PayClass, e.Rate = text("standing by for the tide"), "double", text("120")
	sheet, err := c.Save(e)
	require.NoError(t, err)
	line := sheet.Lines[0]
	assert.Equal(t, "standing by for the tide", line.Cells[0].Note)
	// 8 h x 30 x 2 = 480 and 10 % burden; 8 h x 120 x 2
	assert.Equal(t, []string{"528.00", "1920.00", "120.00", "double"}, []string{line.Cost, line.Charge, line.Rate, line.PayClass})

	foreman := book.Actor{UserID: c.Owner.UserID, Name: "Greta", Role: book.Foreman}
	theirs, err := timesheet.Week(ctx, c.Book, foreman, timesheet.SheetQuery{Week: week})
	require.NoError(t, err)
	assert.Empty(t, theirs.Lines[0].Rate)
	assert.NotContains(t, theirs.Lines[0].Key, "120", "nor does the key of the line tell it")
	assert.True(t, theirs.Lines[0].OwnRate)
	lines, err := history.OfEntry(ctx, c.Book, foreman, line.Cells[0].EntryID)
	require.NoError(t, err)
	for _, change := range lines[0].Changes {
		assert.NotEqual(t, "own rate", change.What)
	}

	asForeman := func(change func(*timesheet.CellEdit)) error {
		e := c.Changes(line.Cells[0], "6")
		e.PayClass = "double"
		change(&e)
		_, err := timesheet.SaveCells(ctx, c.Book, foreman, timesheet.SheetQuery{Week: week}, []timesheet.CellEdit{e})
		return err
	}
	apptest.Refusal(
		t, asForeman(func(e *timesheet.CellEdit) { e.Rate = text("1") }), refuse.KindInvalid, "edits[0].rate", "not allowed to set a rate",
	)
	apptest.Refusal(t, asForeman(func(e *timesheet.CellEdit) { e.Text = "" }), refuse.KindInvalid, "edits[0].text", "has a rate of its own")
	require.NoError(t, asForeman(func(*timesheet.CellEdit) {}))
	sheet, err = timesheet.Week(ctx, c.Book, c.Owner, timesheet.SheetQuery{Week: week})
	require.NoError(t, err)
	assert.Equal(
		t, []string{"120.00", "1440.00", "standing by for the tide"},
		[]string{sheet.Lines[0].Rate, sheet.Lines[0].Charge, sheet.Lines[0].Cells[0].Note}, "what is not given stays as it is",
	)
	for _, bad := range []string{"-1", "x", "1.23456"} {
		e := c.Changes(sheet.Lines[0].Cells[0], "6")
		e.Rate = text(bad)
		_, err := c.Save(e)
		e2, ok := refuse.AsError(err)
		require.True(t, ok)
		assert.Equal(t, "edits[0].rate", e2.Fields[0].Path)
	}
}

func TestAnEntryMovesToAnotherPlaceAndItsHistoryTellsIt(t *testing.T) {
	c := apptest.NewCrew(t)
	code, err := jobs.AddCostCode(ctx, c.Book, c.Owner, jobs.NewCode{Code: "320", Name: "Drive piles"})
	require.NoError(t, err)
	sheet, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	move := c.Changes(sheet.Lines[0].Cells[0], "8")
	move.CostCodeID, move.Billable = code, false
	sheet, err = c.Save(move)
	require.NoError(t, err)
	assert.Equal(t, "320", sheet.Lines[0].CostCode.Code)
	assert.True(t, sheet.Lines[0].CostOnly)
	lines, err := history.OfEntry(ctx, c.Book, c.Owner, sheet.Lines[0].Cells[0].EntryID)
	require.NoError(t, err)
	require.Len(t, lines, 2)
	assert.Equal(t, "captured", lines[0].Action)
	assert.Contains(t, lines[0].Changes, history.HistoryChange{What: "job", After: "101 Landing"})
	assert.Equal(
		t, []history.HistoryChange{{What: "cost code", After: "320 Drive piles"}, {What: "billable", Before: "yes", After: "no"}},
		lines[1].Changes,
	)
	apptest.Verified(t, c.Book)
}

func TestTheMostRecentPlacesAreOfferedFirst(t *testing.T) {
	c := apptest.NewCrew(t)
	other, err := jobs.Add(ctx, c.Book, c.Owner, jobs.NewJob{Name: "Yard", Basis: "none"})
	require.NoError(t, err)
	later := c.Edit("4")
	later.JobID = other
	_, err = c.Save(c.Edit("8"), later)
	require.NoError(t, err)
	choices, err := register.ChoicesFor(ctx, c.Book, c.Owner)
	require.NoError(t, err)
	assert.Equal(t, []int64{other, c.Job}, choices.Recent.Jobs)
}

func TestADayByTheClock(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	day := timesheet.DayQuery{Date: "2026-11-17", Crew: "Pile"}
	save := func(text string, version int64) (timesheet.DaySheet, error) {
		return timesheet.SaveWorkdays(ctx, c.Book, c.Owner, day, []timesheet.WorkdayEdit{{WorkerID: c.Worker, Text: text, Version: version}})
	}
	sheet, err := save("7-5:30/30", 0)
	require.NoError(t, err)
	got := sheet.Workers[0]
	assert.Equal(
		t, []any{"7:00", "17:30", "30", int64(600), int64(1), "7:00-17:30/0:30"},
		[]any{got.Start, got.Finish, got.Break, got.Minutes, got.Version, got.Text},
	)
	assert.Equal(t, []string{"2026-11-16", week}, []string{sheet.LastDay, sheet.LastWeek})
	assert.Equal(t, "101", got.Job.Code, "where the last day before was worked")

	_, err = save("7-5:30/30", 0)
	require.NoError(t, err, "a retry changes nothing")
	for text, sentence := range map[string]string{"8": "type a start and a finish", "7-25": "there is no hour 25"} {
		_, err = save(text, 1)
		apptest.Refusal(t, err, refuse.KindInvalid, "workers[0].text", sentence)
	}
	_, err = save("8-4", 0)
	apptest.Refusal(
		t, err, refuse.KindInvalid, "workers[0].text", "somebody else has changed this to 7:00 to 17:30, less 30 min, 10 h; you typed 8-4",
	)
	sheet, err = save("", 1)
	require.NoError(t, err)
	assert.Zero(t, sheet.Workers[0].Minutes)
}

func TestTheListHasTheSameEntriesOneByOne(t *testing.T) {
	c := apptest.NewCrew(t)
	second := c.Edit("7-3:30/30")
	second.Another = true
	_, err := c.Save(c.Edit("2"), second)
	require.NoError(t, err)
	list, err := timesheet.Entries(ctx, c.Book, c.Owner, timesheet.ListQuery{ScopeQuery: scope.ScopeQuery{From: week, To: week}, Crew: "Pile"})
	require.NoError(t, err)
	require.Len(t, list.Entries, 2)
	assert.EqualValues(t, 2, list.Count)
	assert.Equal(t, "10.00", list.Hours)
	clocked := list.Entries[1]
	assert.Equal(
		t, []string{"7:00", "15:30", "30", "8", "264.00"}, []string{clocked.Start, clocked.Finish, clocked.Break, clocked.Hours, clocked.Cost},
	)
	assert.Equal(t, []string{"2", "99.00"}, []string{list.Entries[0].Overtime, list.Entries[0].Cost}, "2 h over at 30 x 1.5, and 10 %")
	none, err := timesheet.Entries(ctx, c.Book, c.Owner, timesheet.ListQuery{ScopeQuery: scope.ScopeQuery{From: week, To: week}, Crew: "Deck"})
	require.NoError(t, err)
	assert.Empty(t, none.Entries)
}
