package app_test

import (
	"encoding/json"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app"
)

// crew is a book with one worker, customer and job, ready for a week's hours.
type crew struct {
	*app.App
	owner       app.Actor
	worker, job int64
}

const week = "2026-11-16"

func newCrew(t *testing.T) *crew {
	t.Helper()
	return crewIn(t, newBook(t))
}

// crewIn opens a book with a crew of one.
func crewIn(t *testing.T, a *app.App) *crew {
	t.Helper()
	owner, err := a.OpenBook(ctx, app.NewBook{
		Code:        a.OpeningCode(),
		CompanyName: "Two Hands", Currency: "USD", WeekStart: "monday", OvertimeDaily: "8", OvertimeWeekly: "40", OvertimeFactor: "1.5", DoubleFactor: "2",
		NextInvoiceNumber: "1001", NextJobNumber: "101", Name: "Ada", SignIn: "ada", Password: "a few words here",
	})
	require.NoError(t, err)
	c := &crew{App: a, owner: owner}
	require.NoError(t, a.AddBurden(ctx, owner, app.NewBurden{Class: "Field", Name: "Contributions", From: "2026-01-01", Basis: "gross", Value: "10"}))
	c.worker, err = a.AddWorker(ctx, owner, app.NewWorker{Name: "Cato Brandl", Trade: "driver", Crew: "Pile", BurdenClass: "Field", Wage: "30", WageFrom: "2026-01-01"})
	require.NoError(t, err)
	customer, err := a.AddCustomer(ctx, owner, app.NewCustomer{Name: "Ferry"})
	require.NoError(t, err)
	c.job, err = a.AddJob(ctx, owner, app.NewJob{Name: "Landing", CustomerID: customer, Basis: "tm"})
	require.NoError(t, err)
	require.NoError(t, a.AddLabourRate(ctx, owner, app.NewLabourRate{From: "2026-01-01", Trade: "driver", Method: "hourly", Value: "80"}))
	require.NoError(t, a.AddMarkup(ctx, owner, app.NewMarkup{From: "2026-01-01", Category: "material", Percent: "20"}))
	return c
}

func (c *crew) edit(text string) app.CellEdit {
	return app.CellEdit{Key: "key-of-" + text + "-hours", WorkerID: c.worker, JobID: c.job, Billable: true, Date: week, Text: text}
}

func (c *crew) save(edits ...app.CellEdit) (app.Sheet, error) {
	return c.SaveCells(ctx, c.owner, app.SheetQuery{Week: week, Crew: "Pile"}, edits)
}

func (c *crew) approve(t *testing.T) {
	t.Helper()
	_, err := c.HandIn(ctx, c.owner, app.SheetQuery{Week: week, Crew: "Pile"}, false)
	require.NoError(t, err)
	waiting, err := c.Waiting(ctx, c.owner, app.ScopeQuery{})
	require.NoError(t, err)
	require.NoError(t, c.ApproveWork(ctx, c.owner, app.Decision{Entries: waiting.Weeks[0].Entries}))
}

// papers are documents at the versions that they have now.
func (c *crew) papers(t *testing.T, ids ...int64) []app.Seen {
	t.Helper()
	seen := make([]app.Seen, len(ids))
	for i, id := range ids {
		d, err := c.Document(ctx, c.owner, id)
		require.NoError(t, err)
		seen[i] = app.Seen{ID: id, Version: d.Version}
	}
	return seen
}

// hours are entries at the versions that they have now.
func (c *crew) hours(t *testing.T, entries ...app.Seen) []app.Seen {
	t.Helper()
	list, err := c.EntryList(ctx, c.owner, app.ListQuery{})
	require.NoError(t, err)
	seen := slices.Clone(entries)
	for i, e := range entries {
		at := slices.IndexFunc(list.Entries, func(r app.EntryRow) bool { return r.ID == e.ID })
		require.GreaterOrEqual(t, at, 0, "entry %d", e.ID)
		seen[i].Version = list.Entries[at].Version
	}
	return seen
}

func (c *crew) draft(t *testing.T) (app.InvoiceView, error) {
	t.Helper()
	drafts, err := c.MakeDrafts(ctx, c.owner, app.NewDrafts{Jobs: []int64{c.job}, Through: "2026-11-22", Date: "2026-11-23"})
	if err != nil {
		return app.InvoiceView{}, err
	}
	return c.Invoice(ctx, c.owner, drafts[0].ID)
}

// refusal asserts that err is a refusal of a kind with a sentence at a path; a blank path is the sentence itself.
func refusal(t *testing.T, err error, kind app.Kind, path, sentence string) {
	t.Helper()
	e, ok := app.AsError(err)
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
	assert.Equal(t, &app.Footing{Hours: "10.00", Labour: "363.00", Cost: "363.00", Charge: "880.00"}, sheet.Footing.Change)
	assert.Equal(t, "58.75", sheet.Footing.Margin)

	w, err := c.EntryWorkings(ctx, c.owner, line.Cells[0].EntryID)
	require.NoError(t, err)
	assert.Equal(t, "363.00", w.Labour.Cost.Result.Text)
	assert.Equal(t, "880.00", w.Labour.Charge.Result.Text)
	for _, root := range []int{0, 1} {
		step := []any{w.Labour.Cost, w.Labour.Charge}[root]
		assert.NotNil(t, step)
	}
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
		change         func(*app.CellEdit)
		path, sentence string
	}{
		{func(e *app.CellEdit) { e.Text = "7-25" }, "edits[1].text", "there is no hour 25"},
		{func(e *app.CellEdit) { e.Text = "-3:30" }, "edits[1].text", "has no start"},
		{func(e *app.CellEdit) { e.JobID = 99 }, "edits[1].jobId", "there is no such job"},
		{func(e *app.CellEdit) { e.WorkerID = 99 }, "edits[1].workerId", "there is no such worker"},
		{func(e *app.CellEdit) { e.Date = "2027-11-16" }, "edits[1].date", "days ahead"},
		{func(e *app.CellEdit) { e.Date = "16 Nov" }, "edits[1].date", "is not a date"},
		{func(e *app.CellEdit) { e.CostCodeID = 99 }, "edits[1].costCodeId", "there is no such cost code"},
		{func(e *app.CellEdit) { e.PhaseID = 99 }, "edits[1].phaseId", "not of this job"},
	} {
		wrong := c.edit("4")
		bad.change(&wrong)
		_, err := c.save(good, wrong)
		refusal(t, err, app.KindInvalid, bad.path, bad.sentence)
		sheet, err := c.TimeSheet(ctx, c.owner, app.SheetQuery{Week: week})
		require.NoError(t, err)
		assert.Empty(t, sheet.Lines, "%s: the good cell beside it is not saved either", bad.sentence)
	}
}

func TestBadRatesGetASentence(t *testing.T) {
	c := newCrew(t)
	err := c.AddMarkup(ctx, c.owner, app.NewMarkup{From: "2026-02-01", Category: "material", Percent: "-100"})
	refusal(t, err, app.KindInvalid, "percent", "more than -100 %")
	err = c.AddMarkup(ctx, c.owner, app.NewMarkup{From: "2026-01-01", Category: "material", Percent: "5"})
	refusal(t, err, app.KindInvalid, "effectiveFrom", "choose a later date")
	err = c.AddBurden(ctx, c.owner, app.NewBurden{Class: "Field", Name: "Health", From: "2026-01-01", Basis: "hour", Value: "5", Cap: "9000"})
	refusal(t, err, app.KindInvalid, "annualWageCap", "can't have an annual wage cap")
	err = c.AddWage(ctx, c.owner, app.NewWage{WorkerID: c.worker, Rate: "12.34567", From: "2026-12-01"})
	refusal(t, err, app.KindInvalid, "rate", "more than 4 decimals")
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
	refusal(t, err, app.KindConflict, "", "nothing of this is ready to bill any more")
	entry := sheet.Lines[0].Cells[0].EntryID
	err = c.ReturnWork(ctx, c.owner, app.Decision{Entries: c.hours(t, app.Seen{ID: entry}), Reason: "too late"})
	refusal(t, err, app.KindConflict, "", "has changed since you opened it")

	issued, err := c.Issue(ctx, c.owner, draft.ID, draft.Version)
	require.NoError(t, err)
	assert.Equal(t, "1001", issued.Number)
	_, err = c.Issue(ctx, c.owner, draft.ID, issued.Version)
	refusal(t, err, app.KindConflict, "", "never changes")
	require.NoError(t, c.AddWage(ctx, c.owner, app.NewWage{WorkerID: c.worker, Rate: "99", From: "2026-11-01"}))
	profit := reportText(t, c.App, "job-profit")
	assert.Contains(t, profit, "101,ferry,Landing,tm,8.00,264.00,0.00,264.00,0.00,640.00,0.00,640.00,376.00,58.75")
	assertVerified(t, c.App)
}

func TestADraftFollowsItsWorkUntilItIsIssued(t *testing.T) {
	c := newCrew(t)
	_, err := c.save(c.edit("8"))
	require.NoError(t, err)
	c.approve(t)
	draft, err := c.draft(t)
	require.NoError(t, err)
	require.NoError(t, c.AddLabourRate(ctx, c.owner, app.NewLabourRate{From: "2026-11-01", Trade: "driver", Method: "hourly", Value: "90"}))
	_, err = c.Issue(ctx, c.owner, draft.ID, draft.Version)
	refusal(t, err, app.KindConflict, "", "this draft has changed since you opened it")
	now, err := c.Invoice(ctx, c.owner, draft.ID)
	require.NoError(t, err)
	assert.Equal(t, "720.00", now.DueNow)
	for _, grouping := range []string{"worker", "day", "entry", "one", "category", "phase", "cost_code"} {
		now, err = c.Regroup(ctx, c.owner, now.ID, now.Version, grouping)
		require.NoError(t, err)
		assert.Equal(t, "720.00", now.DueNow, "grouping never changes a total")
	}
	require.NoError(t, c.DropDraft(ctx, c.owner, now.ID, now.Version))
	again, err := c.draft(t)
	require.NoError(t, err)
	issued, err := c.Issue(ctx, c.owner, again.ID, again.Version)
	require.NoError(t, err)
	assert.Equal(t, "1001", issued.Number, "a dropped draft uses no number up")
	assertVerified(t, c.App)
}

func TestMoneyIsNotSentToThoseWhoMayNotSeeIt(t *testing.T) {
	c := newCrew(t)
	_, err := c.save(c.edit("8"))
	require.NoError(t, err)
	foreman := app.Actor{UserID: c.owner.UserID, Name: "Greta", Role: app.Foreman}
	sheet, err := c.TimeSheet(ctx, foreman, app.SheetQuery{Week: week})
	require.NoError(t, err)
	today, err := c.TodaySheet(ctx, foreman, app.TodayQuery{Week: week})
	require.NoError(t, err)
	footing, err := c.Footing(ctx, foreman, app.ScopeQuery{})
	require.NoError(t, err)
	for _, shown := range []any{sheet, today.LooseEnds, footing} {
		text, err := json.Marshal(shown)
		require.NoError(t, err)
		for _, secret := range []string{"264.00", "640.00", "30.00", "80.00"} {
			assert.NotContains(t, string(text), secret)
		}
	}
	_, err = c.Jobs(ctx, foreman, false)
	refusal(t, err, app.KindForbidden, "", "not allowed")
	_, err = c.Setup(ctx, foreman, "", 0)
	refusal(t, err, app.KindForbidden, "", "not allowed")
	_, err = c.Bill(ctx, foreman, app.ScopeQuery{})
	refusal(t, err, app.KindForbidden, "", "not allowed")
	_, err = c.Report(ctx, foreman, "labour", app.ReportQuery{})
	refusal(t, err, app.KindForbidden, "", "not allowed")
	_, err = c.EntryWorkings(ctx, foreman, sheet.Lines[0].Cells[0].EntryID)
	refusal(t, err, app.KindForbidden, "", "not allowed")
	_, err = c.LineWorkings(ctx, foreman, 1)
	refusal(t, err, app.KindForbidden, "", "not allowed")
	_, err = c.InvoiceWorkings(ctx, foreman, 1)
	refusal(t, err, app.KindForbidden, "", "not allowed")
	_, err = c.JobWorkings(ctx, foreman, "101")
	refusal(t, err, app.KindForbidden, "", "not allowed")
	_, err = c.InvoiceBackup(ctx, foreman, 1)
	refusal(t, err, app.KindForbidden, "", "not allowed")
}

func TestACostDocumentLandsAndIsMarkedUp(t *testing.T) {
	c := newCrew(t)
	line := func(quantity, each string) app.Line {
		return app.Line{Category: "material", Description: "Boards", Quantity: quantity, UnitCost: each, JobID: c.job, Billable: true}
	}
	d := app.Document{Key: "a-paper-of-ours", Kind: "supplier_invoice", Supplier: "Bellhaven", Date: week, Number: "7", Freight: "10", Tax: "5", Lines: []app.Line{line("10", "20"), line("-2", "20"), line("1", "x")}}
	_, err := c.SaveDocument(ctx, c.owner, d)
	refusal(t, err, app.KindInvalid, "lines[2].unitCost", "is not a number")
	d.Lines = d.Lines[:2]
	saved, err := c.SaveDocument(ctx, c.owner, d)
	require.NoError(t, err)
	// 200 and -40; freight 10 by 200 : 40 is 8.33 and 1.67, tax 5 is 4.17 and 0.83; landed 212.50 and -37.50
	assert.Equal(t, []string{"212.50", "255.00", "-37.50", "-45.00"}, []string{saved.Lines[0].Landed, saved.Lines[0].Charge, saved.Lines[1].Landed, saved.Lines[1].Charge})
	assert.Equal(t, []string{"175.00", "175.00", "210.00", "16.67"}, []string{saved.Total, saved.Landed, saved.Charge, saved.ByJob[0].Margin})
	twice, err := c.SaveDocument(ctx, c.owner, d)
	require.NoError(t, err)
	assert.Equal(t, saved.ID, twice.ID, "the same key makes nothing twice")
	d.Key = "another-paper-of-ours"
	other, err := c.SaveDocument(ctx, c.owner, d)
	require.NoError(t, err)
	assert.Contains(t, other.Warnings[0], "is it entered twice?")
}
