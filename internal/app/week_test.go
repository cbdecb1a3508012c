package app_test

import (
	"encoding/json"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/access"
	"jarvo/internal/app/approve"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/customers"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/people"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/tape"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/app/today"
)

// crew is a book with one worker, customer and job, ready for a week's hours.
type crew struct {
	*book.Book
	owner       book.Actor
	worker, job int64
}

const week = "2026-11-16"

func newCrew(t *testing.T) *crew {
	t.Helper()
	return crewIn(t, newBook(t))
}

// crewIn opens a book with a crew of one.
func crewIn(t *testing.T, a *book.Book) *crew {
	t.Helper()
	owner, err := access.OpenBook(ctx, a, access.NewBook{
		Code:        a.OpeningCode(),
		CompanyName: "Two Hands", Currency: "USD", WeekStart: "monday", OvertimeDaily: "8", OvertimeWeekly: "40", OvertimeFactor: "1.5",
		DoubleFactor:      "2",
		NextInvoiceNumber: "1001", NextJobNumber: "101", Name: "Ada", SignIn: "ada", Password: "a few words here",
	})
	require.NoError(t, err)
	c := &crew{Book: a, owner: owner}
	require.NoError(t, rates.AddBurden(ctx, a, owner, rates.NewBurden{
		Class: "Field", Name: "Contributions", From: "2026-01-01", Basis: "gross", Value: "10",
	}))
	c.worker, err = people.Add(ctx, a, owner, people.NewWorker{
		Name: "Cato Brandl", Trade: "driver", Crew: "Pile", BurdenClass: "Field", Wage: "30", WageFrom: "2026-01-01",
	})
	require.NoError(t, err)
	customer, err := customers.Add(ctx, a, owner, customers.NewCustomer{Name: "Ferry"})
	require.NoError(t, err)
	c.job, err = jobs.Add(ctx, a, owner, jobs.NewJob{Name: "Landing", CustomerID: customer, Basis: "tm"})
	require.NoError(t, err)
	require.NoError(t, rates.AddLabourRate(ctx, a, owner, rates.NewLabourRate{
		From: "2026-01-01", Trade: "driver", Method: "hourly", Value: "80",
	}))
	require.NoError(t, rates.AddMarkup(ctx, a, owner, rates.NewMarkup{From: "2026-01-01", Category: "material", Percent: "20"}))
	return c
}

func (c *crew) edit(text string) timesheet.CellEdit {
	return timesheet.CellEdit{Key: "key-of-" + text + "-hours", WorkerID: c.worker, JobID: c.job, Billable: true, Date: week, Text: text}
}

func (c *crew) save(edits ...timesheet.CellEdit) (timesheet.Sheet, error) {
	return timesheet.SaveCells(ctx, c.Book, c.owner, timesheet.SheetQuery{Week: week, Crew: "Pile"}, edits)
}

func (c *crew) approve(t *testing.T) {
	t.Helper()
	_, err := timesheet.HandIn(ctx, c.Book, c.owner, timesheet.SheetQuery{Week: week, Crew: "Pile"}, false)
	require.NoError(t, err)
	waiting, err := approve.Waiting(ctx, c.Book, c.owner, scope.ScopeQuery{})
	require.NoError(t, err)
	require.NoError(t, approve.Approve(ctx, c.Book, c.owner, approve.Decision{Entries: waiting.Weeks[0].Entries}))
}

// papers are documents at the versions that they have now.
func (c *crew) papers(t *testing.T, ids ...int64) []approve.Seen {
	t.Helper()
	seen := make([]approve.Seen, len(ids))
	for i, id := range ids {
		d, err := costs.Get(ctx, c.Book, c.owner, id)
		require.NoError(t, err)
		seen[i] = approve.Seen{ID: id, Version: d.Version}
	}
	return seen
}

// hours are entries at the versions that they have now.
func (c *crew) hours(t *testing.T, entries ...approve.Seen) []approve.Seen {
	t.Helper()
	list, err := timesheet.Entries(ctx, c.Book, c.owner, timesheet.ListQuery{})
	require.NoError(t, err)
	seen := slices.Clone(entries)
	for i, e := range entries {
		at := slices.IndexFunc(list.Entries, func(r timesheet.EntryRow) bool { return r.ID == e.ID })
		require.GreaterOrEqual(t, at, 0, "entry %d", e.ID)
		seen[i].Version = list.Entries[at].Version
	}
	return seen
}

func (c *crew) draft(t *testing.T) (billing.InvoiceView, error) {
	t.Helper()
	drafts, err := billing.MakeDrafts(ctx, c.Book, c.owner, billing.NewDrafts{Jobs: []int64{c.job}, Through: "2026-11-22", Date: "2026-11-23"})
	if err != nil {
		return billing.InvoiceView{}, err
	}
	return billing.Invoice(ctx, c.Book, c.owner, drafts[0].ID)
}

// refusal asserts that err is a refusal of a kind with a sentence at a path; a blank path is the sentence itself.
func refusal(t *testing.T, err error, kind refuse.Kind, path, sentence string) {
	t.Helper()
	e, ok := refuse.AsError(err)
	require.True(t, ok, "%v is not a refusal", err)
	assert.Equal(t, kind, e.Kind)
	if path == "" {
		assert.Contains(t, e.Message, sentence)
		return
	}
	said := map[string]string{}
	for _, f := range e.Fields {
		said[f.Path] = f.Message
	}
	assert.Contains(t, said[path], sentence)
}

func TestHoursCostAndChargeAtOnce(t *testing.T) {
	c := newCrew(t)
	sheet, err := c.save(c.edit("7-5:30/30")) // 10 h, 2 of them over: 8 x 30 + 2 x 45 = 330, burden 10 % = 33; 8 x 80 + 2 x 120 = 880
	require.NoError(t, err)
	require.Len(t, sheet.Lines, 1)
	line := sheet.Lines[0]
	assert.Equal(t, []string{"10", "2", "363.00", "880.00"}, []string{line.Hours, line.Overtime, line.Cost, line.Charge})
	assert.Equal(t, "7:00-17:30/0:30", line.Cells[0].Text)
	assert.Equal(t, &scope.Footing{Hours: "10.00", Labour: "363.00", Cost: "363.00", Charge: "880.00"}, sheet.Footing.Change)
	assert.Equal(t, "58.75", sheet.Footing.Margin)

	w, err := tape.OfEntry(ctx, c.Book, c.owner, line.Cells[0].EntryID)
	require.NoError(t, err)
	assert.Equal(t, "363.00", w.Labour.Cost.Result.Text)
	assert.Equal(t, "880.00", w.Labour.Charge.Result.Text)
	var leaves int64
	for _, leaf := range w.Labour.Cost.Leaves() {
		leaves += leaf.Result.Number
	}
	assert.Equal(t, w.Labour.Cost.Result.Number, leaves, "the leaves add up to the root")
}

func TestARetryMakesNothingTwice(t *testing.T) {
	c := newCrew(t)
	_, err := c.save(c.edit("8"))
	require.NoError(t, err)
	sheet, err := c.save(c.edit("8"))
	require.NoError(t, err)
	assert.Equal(t, "8", sheet.Hours)
}

func TestBadHoursGetASentenceAndChangeNothing(t *testing.T) {
	c := newCrew(t)
	good := c.edit("8")
	for _, bad := range []struct {
		change         func(*timesheet.CellEdit)
		path, sentence string
	}{
		{func(e *timesheet.CellEdit) { e.Text = "7-25" }, "edits[1].text", "there is no hour 25"},
		{func(e *timesheet.CellEdit) { e.Text = "-3:30" }, "edits[1].text", "has no start"},
		{func(e *timesheet.CellEdit) { e.JobID = 99 }, "edits[1].jobId", "there is no such job"},
		{func(e *timesheet.CellEdit) { e.WorkerID = 99 }, "edits[1].workerId", "there is no such worker"},
		{func(e *timesheet.CellEdit) { e.Date = "2027-11-16" }, "edits[1].date", "days ahead"},
		{func(e *timesheet.CellEdit) { e.Date = "16 Nov" }, "edits[1].date", "is not a date"},
		{func(e *timesheet.CellEdit) { e.CostCodeID = 99 }, "edits[1].costCodeId", "there is no such cost code"},
		{func(e *timesheet.CellEdit) { e.PhaseID = 99 }, "edits[1].phaseId", "not of this job"},
	} {
		wrong := c.edit("4")
		bad.change(&wrong)
		_, err := c.save(good, wrong)
		refusal(t, err, refuse.KindInvalid, bad.path, bad.sentence)
		sheet, err := timesheet.Week(ctx, c.Book, c.owner, timesheet.SheetQuery{Week: week})
		require.NoError(t, err)
		assert.Empty(t, sheet.Lines, "%s: the good cell beside it is not saved either", bad.sentence)
	}
}

func TestBadRatesGetASentence(t *testing.T) {
	c := newCrew(t)
	err := rates.AddMarkup(ctx, c.Book, c.owner, rates.NewMarkup{From: "2026-02-01", Category: "material", Percent: "-100"})
	refusal(t, err, refuse.KindInvalid, "percent", "more than -100 %")
	err = rates.AddMarkup(ctx, c.Book, c.owner, rates.NewMarkup{From: "2026-01-01", Category: "material", Percent: "5"})
	refusal(t, err, refuse.KindInvalid, "effectiveFrom", "choose a later date")
	err = rates.AddBurden(ctx, c.Book, c.owner, rates.NewBurden{
		Class: "Field", Name: "Health", From: "2026-01-01", Basis: "hour", Value: "5", Cap: "9000",
	})
	refusal(t, err, refuse.KindInvalid, "annualWageCap", "can't have an annual wage cap")
	err = rates.AddWage(ctx, c.Book, c.owner, rates.NewWage{WorkerID: c.worker, Rate: "12.34567", From: "2026-12-01"})
	refusal(t, err, refuse.KindInvalid, "rate", "more than 4 decimals")
}

func TestBilledWorkIsBilledOnceAndNeverChanges(t *testing.T) {
	c := newCrew(t)
	sheet, err := c.save(c.edit("8"))
	require.NoError(t, err)
	c.approve(t)
	draft, err := c.draft(t)
	require.NoError(t, err)
	assert.Equal(t, "640.00", draft.DueNow)
	_, err = c.draft(t)
	refusal(t, err, refuse.KindConflict, "", "nothing of this is ready to bill any more")
	entry := sheet.Lines[0].Cells[0].EntryID
	err = approve.Return(ctx, c.Book, c.owner, approve.Decision{Entries: c.hours(t, approve.Seen{ID: entry}), Reason: "too late"})
	refusal(t, err, refuse.KindConflict, "", "has changed since you opened it")

	issued, err := billing.Issue(ctx, c.Book, c.owner, draft.ID, draft.Version)
	require.NoError(t, err)
	assert.Equal(t, "1001", issued.Number)
	_, err = billing.Issue(ctx, c.Book, c.owner, draft.ID, issued.Version)
	refusal(t, err, refuse.KindConflict, "", "never changes")
	require.NoError(t, rates.AddWage(ctx, c.Book, c.owner, rates.NewWage{WorkerID: c.worker, Rate: "99", From: "2026-11-01"}))
	profit := reportText(t, c.Book, "job-profit")
	assert.Contains(t, profit, "101,ferry,Landing,tm,8.00,264.00,0.00,264.00,0.00,640.00,0.00,640.00,376.00,58.75")
	assertVerified(t, c.Book)
}

func TestADraftFollowsItsWorkUntilItIsIssued(t *testing.T) {
	c := newCrew(t)
	_, err := c.save(c.edit("8"))
	require.NoError(t, err)
	c.approve(t)
	draft, err := c.draft(t)
	require.NoError(t, err)
	require.NoError(t, rates.AddLabourRate(ctx, c.Book, c.owner, rates.NewLabourRate{
		From: "2026-11-01", Trade: "driver", Method: "hourly", Value: "90",
	}))
	_, err = billing.Issue(ctx, c.Book, c.owner, draft.ID, draft.Version)
	refusal(t, err, refuse.KindConflict, "", "this draft has changed since you opened it")
	now, err := billing.Invoice(ctx, c.Book, c.owner, draft.ID)
	require.NoError(t, err)
	assert.Equal(t, "720.00", now.DueNow)
	for _, grouping := range []string{"worker", "day", "entry", "one", "category", "phase", "cost_code"} {
		now, err = billing.Regroup(ctx, c.Book, c.owner, now.ID, now.Version, grouping)
		require.NoError(t, err)
		assert.Equal(t, "720.00", now.DueNow, "grouping never changes a total")
	}
	require.NoError(t, billing.DropDraft(ctx, c.Book, c.owner, now.ID, now.Version))
	again, err := c.draft(t)
	require.NoError(t, err)
	issued, err := billing.Issue(ctx, c.Book, c.owner, again.ID, again.Version)
	require.NoError(t, err)
	assert.Equal(t, "1001", issued.Number, "a dropped draft uses no number up")
	assertVerified(t, c.Book)
}

func TestMoneyIsNotSentToThoseWhoMayNotSeeIt(t *testing.T) {
	c := newCrew(t)
	_, err := c.save(c.edit("8"))
	require.NoError(t, err)
	foreman := book.Actor{UserID: c.owner.UserID, Name: "Greta", Role: book.Foreman}
	sheet, err := timesheet.Week(ctx, c.Book, foreman, timesheet.SheetQuery{Week: week})
	require.NoError(t, err)
	today, err := today.Sheet(ctx, c.Book, foreman, today.TodayQuery{Week: week})
	require.NoError(t, err)
	footing, err := scope.FootingOf(ctx, c.Book, foreman, scope.ScopeQuery{})
	require.NoError(t, err)
	for _, shown := range []any{sheet, today.LooseEnds, footing} {
		text, err := json.Marshal(shown)
		require.NoError(t, err)
		for _, secret := range []string{"264.00", "640.00", "30.00", "80.00"} {
			assert.NotContains(t, string(text), secret)
		}
	}
	_, err = jobs.List(ctx, c.Book, foreman, false)
	refusal(t, err, refuse.KindForbidden, "", "not allowed")
	_, err = rates.Setup(ctx, c.Book, foreman, "", 0)
	refusal(t, err, refuse.KindForbidden, "", "not allowed")
	_, err = billing.Sheet(ctx, c.Book, foreman, scope.ScopeQuery{})
	refusal(t, err, refuse.KindForbidden, "", "not allowed")
	_, err = reports.Make(ctx, c.Book, foreman, "labour", reports.ReportQuery{})
	refusal(t, err, refuse.KindForbidden, "", "not allowed")
	_, err = tape.OfEntry(ctx, c.Book, foreman, sheet.Lines[0].Cells[0].EntryID)
	refusal(t, err, refuse.KindForbidden, "", "not allowed")
	_, err = tape.OfLine(ctx, c.Book, foreman, 1)
	refusal(t, err, refuse.KindForbidden, "", "not allowed")
	_, err = tape.OfInvoice(ctx, c.Book, foreman, 1)
	refusal(t, err, refuse.KindForbidden, "", "not allowed")
	_, err = tape.OfJob(ctx, c.Book, foreman, "101")
	refusal(t, err, refuse.KindForbidden, "", "not allowed")
	_, err = tape.BackupOf(ctx, c.Book, foreman, 1)
	refusal(t, err, refuse.KindForbidden, "", "not allowed")
}

func TestACostDocumentLandsAndIsMarkedUp(t *testing.T) {
	c := newCrew(t)
	line := func(quantity, each string) costs.Line {
		return costs.Line{Category: "material", Description: "Boards", Quantity: quantity, UnitCost: each, JobID: c.job, Billable: true}
	}
	d := costs.Document{
		Key: "a-paper-of-ours", Kind: "supplier_invoice", Supplier: "Bellhaven", Date: week, Number: "7", Freight: "10", Tax: "5",
		Lines: []costs.Line{line("10", "20"), line("-2", "20"), line("1", "x")},
	}
	_, err := costs.Save(ctx, c.Book, c.owner, d)
	refusal(t, err, refuse.KindInvalid, "lines[2].unitCost", "is not a number")
	d.Lines = d.Lines[:2]
	saved, err := costs.Save(ctx, c.Book, c.owner, d)
	require.NoError(t, err)
	// 200 and -40; freight 10 by 200 : 40 is 8.33 and 1.67, tax 5 is 4.17 and 0.83; landed 212.50 and -37.50
	assert.Equal(
		t, []string{"212.50", "255.00", "-37.50", "-45.00"},
		[]string{saved.Lines[0].Landed, saved.Lines[0].Charge, saved.Lines[1].Landed, saved.Lines[1].Charge},
	)
	assert.Equal(t, []string{"175.00", "175.00", "210.00", "16.67"}, []string{saved.Total, saved.Landed, saved.Charge, saved.ByJob[0].Margin})
	twice, err := costs.Save(ctx, c.Book, c.owner, d)
	require.NoError(t, err)
	assert.Equal(t, saved.ID, twice.ID, "the same key makes nothing twice")
	d.Key = "another-paper-of-ours"
	other, err := costs.Save(ctx, c.Book, c.owner, d)
	require.NoError(t, err)
	assert.Contains(t, other.Warnings[0], "is it entered twice?")
}
