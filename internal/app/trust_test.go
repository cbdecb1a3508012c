package app_test

import (
	"encoding/json"
	"fmt"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/access"
	"jarvo/internal/app/approve"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/clock"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/customers"
	"jarvo/internal/app/history"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/people"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/app/today"
	"jarvo/internal/store"
)

// What is approved is what was seen: hours and papers that have changed since are not, and the refusal says what stands there now.
func TestADecisionCoversOnlyWhatWasSeen(t *testing.T) {
	c := apptest.NewCrew(t)
	sheet, err := c.Save(c.Edit("1"))
	require.NoError(t, err)
	handIn := func() {
		_, err := apptest.HandIn(c.Book, c.Owner, timesheet.SheetQuery{Week: week, Crew: "Pile"}, false)
		require.NoError(t, err)
	}
	handIn()
	seen := c.Waiting(t).Weeks[0].Entries
	_, err = c.Save(c.Changes(timesheet.Cell{EntryID: seen[0].ID, Version: seen[0].Version}, "9"))
	require.NoError(t, err)
	handIn()
	_, err = approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Entries: seen})
	apptest.Refusal(t, err, refuse.KindConflict, "", "nothing was decided. Now: Cato Brandl, Mon 16 Nov, job 101: 9 h, handed in")
	e, _ := refuse.AsError(err)
	changed := e.Current.([]approve.ChangedWork)
	assert.Equal(t, []any{"time_entry", seen[0].ID, "Ada"}, []any{changed[0].Kind, changed[0].ID, changed[0].Who})
	require.NoError(t, apptest.ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Entries: c.Waiting(t).Weeks[0].Entries})))
	assert.Equal(t, sheet.Lines[0].Cells[0].EntryID, seen[0].ID)

	paper := c.Paper(t, "77", c.Board())
	before := approve.Seen{ID: paper.ID, Version: paper.Version}
	_, err = approve.Return(ctx, c.Book, c.Owner, approve.Decision{Documents: []approve.Seen{before}, Reason: "which job?"})
	require.NoError(t, err)
	paper, err = costs.Get(ctx, c.Book, c.Owner, paper.ID)
	require.NoError(t, err)
	paper.Lines[0].Quantity = "1000"
	paper, err = costs.Save(ctx, c.Book, c.Owner, paper)
	require.NoError(t, err)
	_, err = costs.HandIn(ctx, c.Book, c.Owner, paper.ID, paper.Version)
	require.NoError(t, err)
	apptest.Refusal(
		t, apptest.ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Documents: []approve.Seen{before}})), refuse.KindConflict, "",
		"Bellhaven 77: 20000.00, handed in",
	)
	apptest.Refusal(
		t, apptest.ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Documents: []approve.Seen{{ID: paper.ID}}})),
		refuse.KindConflict, "",
		"nothing was decided",
	)
	require.NoError(t, apptest.ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, paper.ID)})))

	draft, err := c.Draft(t)
	require.NoError(t, err)
	_, err = billing.Issue(ctx, c.Book, c.Owner, draft.ID, 0)
	apptest.Refusal(t, err, refuse.KindConflict, "", "changed since you opened it")
	_, err = billing.Regroup(ctx, c.Book, c.Owner, draft.ID, billing.Regrouping{Grouping: "day"})
	apptest.Refusal(t, err, refuse.KindConflict, "", "changed since you opened it")
	apptest.Refusal(
		t, billing.DropDraft(ctx, c.Book, c.Owner, draft.ID, draft.Version+1), refuse.KindConflict, "", "changed since you opened it",
	)
}

func TestWhatIsDecidedAtOnceIsOneDecision(t *testing.T) {
	now := time.Date(2026, time.November, 23, 9, 0, 0, 0, time.UTC)
	s, err := store.Open(ctx, filepath.Join(t.TempDir(), "jarvo.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	c := apptest.CrewIn(t, book.New(
		s, func() time.Time { now = now.Add(700 * time.Millisecond); return now },
	)) // a slow night: each row a moment later
	var edits []timesheet.CellEdit
	for day := 16; day < 20; day++ {
		e := c.Edit("8")
		e.Key, e.Date = fmt.Sprintf("key-of-the-%dth", day), fmt.Sprintf("2026-11-%d", day)
		edits = append(edits, e)
	}
	_, err = c.Save(edits...)
	require.NoError(t, err)
	c.Approve(t)
	decided, err := approve.Decisions(ctx, c.Book, c.Owner)
	require.NoError(t, err)
	require.Len(t, decided, 1, "four entries, over three seconds, are one decision")
	assert.Equal(t, "32.00", decided[0].Hours)
	assert.NotZero(t, decided[0].Decision)
}

// A request sent once more for want of an answer makes nothing, whatever has become of the book since, and is answered as it was.
func TestARequestSentOnceMoreIsAnsweredAsItWas(t *testing.T) {
	c := apptest.NewCrew(t)
	hours := c.Edit("8")
	first, err := c.Save(hours)
	require.NoError(t, err)
	_, err = c.Save(c.Changes(first.Lines[0].Cells[0], "7"))
	require.NoError(t, err)
	again, err := c.Save(hours)
	require.NoError(t, err)
	assert.Equal(
		t, []timesheet.SavedCell{{EntryID: first.Saved[0].EntryID, Version: 1}}, again.Saved,
		"as it was made, so that what was changed since is not overwritten",
	)
	assert.Equal(t, "7", again.Hours)

	wage := rates.NewWage{Key: "key-of-a-raise", WorkerID: c.Worker, Rate: "31", From: "2026-10-01"}
	require.NoError(t, rates.AddWage(ctx, c.Book, c.Owner, wage))
	require.NoError(t, rates.AddWage(ctx, c.Book, c.Owner, wage), "not refused as a second wage of the same date")
	job := jobs.NewJob{Key: "key-of-a-job", Number: "900", Name: "Slip", Basis: "none"}
	one, err := jobs.Add(ctx, c.Book, c.Owner, job)
	require.NoError(t, err)
	two, err := jobs.Add(ctx, c.Book, c.Owner, job)
	require.NoError(t, err, "not refused since its number is taken")
	assert.Equal(t, one, two)
	job.Name = "Another slip"
	_, err = jobs.Add(ctx, c.Book, c.Owner, job)
	apptest.Refusal(t, err, refuse.KindConflict, "", "sent before with something else in it")
	_, err = customers.Add(ctx, c.Book, c.Owner, customers.NewCustomer{Key: "key-of-a-job", Name: "A customer under the key of a job"})
	apptest.Refusal(t, err, refuse.KindConflict, "", "sent before with something else in it")
	other := book.Actor{UserID: 0, Name: "Somebody else", Role: book.Owner}
	job.Number = "901"
	three, err := jobs.Add(ctx, c.Book, other, job)
	require.NoError(t, err, "a key is its user's own")
	assert.NotEqual(t, one, three)

	paper := costs.Document{Key: "key-of-a-paper", Kind: "receipt", Supplier: "Bellhaven", Date: week, Lines: []costs.Line{c.Board()}}
	saved, err := costs.Save(ctx, c.Book, c.Owner, paper)
	require.NoError(t, err)
	once, err := costs.Save(ctx, c.Book, c.Owner, paper)
	require.NoError(t, err)
	was, err := json.Marshal(saved)
	require.NoError(t, err)
	is, err := json.Marshal(once)
	require.NoError(t, err)
	assert.JSONEq(t, string(was), string(is))
	paper.Lines = append(paper.Lines, c.Board())
	_, err = costs.Save(ctx, c.Book, c.Owner, paper)
	apptest.Refusal(t, err, refuse.KindConflict, "", "was saved already, with something else in it")
	e, _ := refuse.AsError(err)
	there := e.Current.(costs.Document)
	paper.ID, paper.Version = there.ID, there.Version
	saved, err = costs.Save(ctx, c.Book, c.Owner, paper)
	require.NoError(t, err)
	assert.Len(t, saved.Lines, 2, "the line that was added is not lost")
	for _, key := range []string{"short", strings.Repeat("k", 65), "key with \x00 in it"} {
		_, err = jobs.AddCostCode(ctx, c.Book, c.Owner, jobs.NewCode{Key: key, Code: "9", Name: "nine"})
		apptest.Refusal(t, err, refuse.KindInvalid, "key", "8 to 64 characters")
	}
}

func TestAPaymentSentOnceMoreIsTheSameAlsoWhenNothingIsLeftToPay(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	c.Approve(t)
	draft, err := c.Draft(t)
	require.NoError(t, err)
	_, err = billing.Issue(ctx, c.Book, c.Owner, draft.ID, draft.Version)
	require.NoError(t, err)
	payment := collect.NewPayment{Key: "key-of-a-payment", On: []collect.Against{{InvoiceID: draft.ID}}, Amount: "640", Date: "2026-11-23"}
	for range 2 {
		paid, err := collect.TakePayment(ctx, c.Book, c.Owner, payment)
		require.NoError(t, err)
		assert.Equal(t, []string{"640.00", "0.00"}, []string{paid.On[0].Amount, paid.Credit})
	}
	payment.Amount = "10"
	_, err = collect.TakePayment(ctx, c.Book, c.Owner, payment)
	apptest.Refusal(t, err, refuse.KindConflict, "", "sent before with something else in it")
	apptest.Verified(t, c.Book)
}

// An id that was taken away is never another's, and what was done under it can still be read.
func TestTheIDOfADeletedEntryIsNeverGivenAgain(t *testing.T) {
	c := apptest.NewCrew(t)
	sheet, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	gone := sheet.Lines[0].Cells[0]
	_, err = c.Save(c.Changes(gone, ""))
	require.NoError(t, err)
	sheet, err = c.Save(c.Edit("6"))
	require.NoError(t, err)
	assert.Greater(t, sheet.Lines[0].Cells[0].EntryID, gone.EntryID)
	lines, err := history.OfEntry(ctx, c.Book, c.Owner, gone.EntryID)
	require.NoError(t, err)
	require.Len(t, lines, 2)
	assert.Equal(t, []string{"captured", "took away"}, []string{lines[0].Action, lines[1].Action})
	lines, err = history.OfEntry(ctx, c.Book, c.Owner, sheet.Lines[0].Cells[0].EntryID)
	require.NoError(t, err)
	assert.Len(t, lines, 1)
}

func TestDraftsAreInSightWhateverWhenSays(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	c.Approve(t)
	draft, err := c.Draft(t)
	require.NoError(t, err)
	bill := func(from, to string) billing.BillSheet {
		sheet, err := billing.Sheet(ctx, c.Book, c.Owner, scope.ScopeQuery{From: from, To: to})
		require.NoError(t, err)
		return sheet
	}
	for _, when := range [][2]string{{"2026-11-09", "2026-11-15"}, {"2027-01-04", "2027-01-10"}, {"", ""}} {
		sheet := bill(when[0], when[1])
		assert.Len(t, sheet.Drafts, 1, when)
		assert.Equal(t, "640.00", sheet.Totals.Drafts, when)
	}
	_, err = billing.Issue(ctx, c.Book, c.Owner, draft.ID, draft.Version)
	require.NoError(t, err)
	assert.Len(t, bill("2026-11-23", "2026-11-29").Issued, 1)
	assert.Empty(t, bill("2026-11-24", "2026-11-30").Issued, "the list of issued invoices has a first date")
	assert.Equal(t, "0.00", bill("2026-11-24", "").Totals.Issued)
}

func TestATitleThatSpansTwoYearsHasBoth(t *testing.T) {
	c := apptest.NewCrew(t)
	for i, day := range []string{"2025-12-30", "2026-01-02"} {
		e := c.Edit("8")
		e.Key, e.Date = fmt.Sprintf("key-of-day-%d", i), day
		_, err := timesheet.SaveCells(ctx, c.Book, c.Owner, timesheet.SheetQuery{Week: day}, []timesheet.CellEdit{e})
		require.NoError(t, err)
	}
	require.NoError(t, rates.AddWage(ctx, c.Book, c.Owner, rates.NewWage{WorkerID: c.Worker, Rate: "30", From: "2025-01-01"}))
	require.NoError(t, rates.AddLabourRate(ctx, c.Book, c.Owner, rates.NewLabourRate{
		From: "2025-01-01", Trade: "driver", Method: "hourly", Value: "80",
	}))
	_, err := apptest.HandIn(c.Book, c.Owner, timesheet.SheetQuery{Week: "2025-12-30"}, false)
	require.NoError(t, err)
	require.NoError(t, apptest.ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Entries: c.Waiting(t).Weeks[0].Entries})))
	draft, err := c.Draft(t)
	require.NoError(t, err)
	assert.Equal(t, "101 Landing, 30 December 2025 to 2 January 2026", draft.Title)
}

func TestOfStaleRowsEachIsToldOnItsOwn(t *testing.T) {
	c := apptest.NewCrew(t)
	monday := c.Edit("8")
	tuesday := c.Edit("7")
	tuesday.Key, tuesday.Date = "key-of-tuesday", "2026-11-17"
	_, err := c.Save(monday, tuesday)
	require.NoError(t, err)
	preview, err := timesheet.PreviewHours(
		ctx, c.Book, c.Owner, timesheet.HoursFile{Text: "Worker,Job,Mon,Tue\nCato Brandl,101,6,5\n", Week: week},
	)
	require.NoError(t, err)
	require.Len(t, preview.Rows, 1)
	assert.Equal(t, []string{"8 stands on this line and day already", "7 stands on this line and day already"}, preview.Rows[0].Wrong)
}

func TestAnOvertimeLimitIsAFigure(t *testing.T) {
	for _, typed := range []string{".", ",", "-", "0.0.0"} {
		_, err := apptest.Opened(t, access.NewBook{
			CompanyName: "Two Hands", Currency: "USD", WeekStart: "monday", OvertimeDaily: typed, OvertimeFactor: "1.5", DoubleFactor: "2",
			NextInvoiceNumber: "1", NextJobNumber: "1",
			Name: "Ada", SignIn: "ada", Password: "a few words here",
		})
		apptest.Refusal(t, err, refuse.KindInvalid, "overtimeDaily", "between 0 and 168")
	}
}

// Whoever asks where hours are missing gets the same answer: the sheet, Today, the clock, Approve and the loose ends.
func TestAHoleIsTheSameEverywhere(t *testing.T) {
	c := apptest.NewClocked(t) // Monday, 23 November; Cato of the pile crew
	c.Now = time.Date(2026, time.November, 20, 12, 0, 0, 0, time.UTC)
	var others []int64
	for _, name := range []string{"Dina Oake", "Erik Sund"} {
		worker, err := people.Add(ctx, c.Book, c.Owner, people.NewWorker{
			Name: name, Trade: "driver", Crew: "Pile", Wage: "30", WageFrom: "2026-01-01",
		})
		require.NoError(t, err)
		others = append(others, worker)
	}
	for day := 16; day <= 20; day++ { // two worked all week, today too
		for _, worker := range others {
			c.CrewDay(t, fmt.Sprintf("2026-11-%d", day), "8", worker)
		}
	}
	for _, day := range []string{"2026-11-16", "2026-11-18"} {
		c.CrewDay(t, day, "8", c.Worker)
	}
	want := []bool{false, true, false, true, false, false, false} // Tuesday and Thursday; Friday is not over

	sheet, err := timesheet.Week(ctx, c.Book, c.Owner, timesheet.SheetQuery{Week: week, Crew: "Pile"})
	require.NoError(t, err)
	var inSheet, onClock, inToday []bool
	for _, cell := range sheet.Lines[0].Cells {
		inSheet = append(inSheet, cell.Hole)
	}
	page, err := clock.Page(ctx, c.Book, c.Cato, week)
	require.NoError(t, err)
	for _, day := range page.Days {
		onClock = append(onClock, day.Hole)
	}
	today, err := today.Sheet(ctx, c.Book, c.Owner, today.TodayQuery{Week: week})
	require.NoError(t, err)
	for _, crew := range today.Week {
		if crew.Crew == "Pile" {
			for _, day := range crew.Days {
				inToday = append(inToday, day.Workers[0] == 0)
			}
		}
	}
	assert.Equal(t, want, inSheet)
	assert.Equal(t, want, onClock)
	assert.Equal(t, want, inToday)
	var loose []string
	for _, end := range today.LooseEnds {
		if end.Kind == "hole" {
			loose = append(loose, end.Date)
		}
	}
	assert.ElementsMatch(t, []string{"2026-11-17", "2026-11-19"}, loose)
	_, err = apptest.HandIn(c.Book, c.Owner, timesheet.SheetQuery{Week: week, Crew: "Pile"}, false)
	require.NoError(t, err)
	check, err := approve.CheckWeek(ctx, c.Book, c.Owner, c.Worker, week)
	require.NoError(t, err)
	// Of holes Approve marks one day, the last that is as far off as any.
	assert.Equal(t, []bool{false, false, true, false}, []bool{
		check.Days[1].Marked, check.Days[2].Marked, check.Days[3].Marked, check.Days[4].Marked,
	})
}

func TestHoursDatedAheadAreAskedAboutAndStandOut(t *testing.T) {
	c := apptest.NewClocked(t)
	ahead := c.Edit("8")
	ahead.Date = "2026-11-26" // Thursday; today is Monday
	_, err := timesheet.SaveCells(ctx, c.Book, c.Owner, timesheet.SheetQuery{Week: "2026-11-23"}, []timesheet.CellEdit{ahead})
	require.NoError(t, err)
	_, err = apptest.HandIn(c.Book, c.Owner, timesheet.SheetQuery{Week: "2026-11-23"}, false)
	apptest.Refusal(
		t, err, refuse.KindInvalid, "ahead", "1 entry is dated after today, up to Thursday 26 November; hand them in all the same?",
	)
	late := timesheet.HandingIn{Mark: "0.0", Ahead: true}
	_, err = timesheet.HandIn(ctx, c.Book, c.Owner, timesheet.SheetQuery{Week: "2026-11-23"}, late)
	apptest.Refusal(t, err, refuse.KindConflict, "", "these hours have changed since they were shown")
	own, err := clock.Page(ctx, c.Book, c.Cato, "2026-11-23")
	require.NoError(t, err)
	_, err = clock.HandIn(ctx, c.Book, c.Cato, "2026-11-23", timesheet.HandingIn{Mark: own.Mark})
	apptest.Refusal(t, err, refuse.KindInvalid, "ahead", "dated after today")
	_, err = apptest.HandIn(c.Book, c.Owner, timesheet.SheetQuery{Week: "2026-11-23"}, true)
	require.NoError(t, err)
	assert.Contains(t, c.Waiting(t).Weeks[0].Marks, approve.Mark{What: "Dated ahead", Against: "up to Thu 26 Nov"})
}

// What is saved and can't be read again is said to be saved.
func TestASaveWhoseSheetCantBeReadSaysThatItWasSaved(t *testing.T) {
	c := apptest.NewCrew(t)
	foreman := book.Actor{UserID: c.Owner.UserID, Name: "Greta", Role: book.Foreman, Crew: "Pile"}
	sheet, err := timesheet.SaveCells(
		ctx, c.Book, foreman, timesheet.SheetQuery{Week: week, Crew: "Dive"}, []timesheet.CellEdit{c.Edit("8")},
	) // whose sheet she may not read
	require.NoError(t, err)
	assert.Contains(t, sheet.Unread, "this was saved")
	require.Len(t, sheet.Saved, 1)
	assert.NotZero(t, sheet.Saved[0].EntryID)
}
