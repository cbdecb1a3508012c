package app_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/approve"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/tape"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/app/today"
)

func TestHoursCostAndChargeAtOnce(t *testing.T) {
	c := apptest.NewCrew(t)
	sheet, err := c.Save(c.Edit("7-5:30/30")) // 10 h, 2 of them over: 8 x 30 + 2 x 45 = 330, burden 10 % = 33; 8 x 80 + 2 x 120 = 880
	require.NoError(t, err)
	require.Len(t, sheet.Lines, 1)
	line := sheet.Lines[0]
	assert.Equal(t, []string{"10", "2", "363.00", "880.00"}, []string{line.Hours, line.Overtime, line.Cost, line.Charge})
	assert.Equal(t, "7:00-17:30/0:30", line.Cells[0].Text)
	assert.Equal(t, &scope.Footing{Hours: "10.00", Labour: "363.00", Cost: "363.00", Charge: "880.00"}, sheet.Footing.Change)
	assert.Equal(t, "58.75", sheet.Footing.Margin)

	w, err := tape.OfEntry(ctx, c.Book, c.Owner, line.Cells[0].EntryID)
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
	c := apptest.NewCrew(t)
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	sheet, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	assert.Equal(t, "8", sheet.Hours)
}

func TestBadHoursGetASentenceAndChangeNothing(t *testing.T) {
	c := apptest.NewCrew(t)
	good := c.Edit("8")
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
		wrong := c.Edit("4")
		bad.change(&wrong)
		_, err := c.Save(good, wrong)
		apptest.Refusal(t, err, refuse.KindInvalid, bad.path, bad.sentence)
		sheet, err := timesheet.Week(ctx, c.Book, c.Owner, timesheet.SheetQuery{Week: week})
		require.NoError(t, err)
		assert.Empty(t, sheet.Lines, "%s: the good cell beside it is not saved either", bad.sentence)
	}
}

func TestBadRatesGetASentence(t *testing.T) {
	c := apptest.NewCrew(t)
	err := rates.AddMarkup(ctx, c.Book, c.Owner, rates.NewMarkup{From: "2026-02-01", Category: "material", Percent: "-100"})
	apptest.Refusal(t, err, refuse.KindInvalid, "percent", "more than -100 %")
	err = rates.AddMarkup(ctx, c.Book, c.Owner, rates.NewMarkup{From: "2026-01-01", Category: "material", Percent: "5"})
	apptest.Refusal(t, err, refuse.KindInvalid, "effectiveFrom", "correct that one")
	err = rates.AddBurden(ctx, c.Book, c.Owner, rates.NewBurden{
		Class: "Field", Name: "Health", From: "2026-01-01", Basis: "hour", Value: "5", Cap: "9000",
	})
	apptest.Refusal(t, err, refuse.KindInvalid, "annualWageCap", "can't have an annual wage cap")
	err = rates.AddWage(ctx, c.Book, c.Owner, rates.NewWage{WorkerID: c.Worker, Rate: "12.34567", From: "2026-12-01"})
	apptest.Refusal(t, err, refuse.KindInvalid, "rate", "more than 4 decimals")
}

func TestBilledWorkIsBilledOnceAndNeverChanges(t *testing.T) {
	c := apptest.NewCrew(t)
	sheet, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	c.Approve(t)
	draft, err := c.Draft(t)
	require.NoError(t, err)
	assert.Equal(t, "640.00", draft.DueNow)
	_, err = c.Draft(t)
	apptest.Refusal(t, err, refuse.KindConflict, "", "nothing of this is ready to bill any more")
	entry := sheet.Lines[0].Cells[0].EntryID
	_, err = approve.Return(ctx, c.Book, c.Owner, approve.Decision{Entries: c.Hours(t, approve.Seen{ID: entry}), Reason: "too late"})
	apptest.Refusal(t, err, refuse.KindConflict, "", "has changed since you opened it")

	issued, err := billing.Issue(ctx, c.Book, c.Owner, draft.ID, draft.Version)
	require.NoError(t, err)
	assert.Equal(t, "1001", issued.Number)
	_, err = billing.Issue(ctx, c.Book, c.Owner, draft.ID, issued.Version)
	apptest.Refusal(t, err, refuse.KindConflict, "", "never changes")
	require.NoError(t, rates.AddWage(ctx, c.Book, c.Owner, rates.NewWage{WorkerID: c.Worker, Rate: "99", From: "2026-11-01"}))
	profit := apptest.ReportText(t, c.Book, "job-profit")
	assert.Contains(t, profit, "101,ferry,Landing,tm,8.00,264.00,0.00,264.00,0.00,640.00,0.00,0.00,0.00,640.00,0.00,376.00,58.75")
	apptest.Verified(t, c.Book)
}

func TestADraftFollowsItsWorkUntilItIsIssued(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	c.Approve(t)
	draft, err := c.Draft(t)
	require.NoError(t, err)
	require.NoError(t, rates.AddLabourRate(ctx, c.Book, c.Owner, rates.NewLabourRate{
		From: "2026-11-01", Trade: "driver", Method: "hourly", Value: "90",
	}))
	_, err = billing.Issue(ctx, c.Book, c.Owner, draft.ID, draft.Version)
	apptest.Refusal(t, err, refuse.KindConflict, "", "this draft has changed since you opened it")
	now, err := billing.Invoice(ctx, c.Book, c.Owner, draft.ID)
	require.NoError(t, err)
	assert.Equal(t, "720.00", now.DueNow)
	for _, grouping := range []string{"worker", "day", "entry", "one", "category", "phase", "cost_code"} {
		now, err = billing.Regroup(ctx, c.Book, c.Owner, now.ID, billing.Regrouping{Version: now.Version, Grouping: grouping})
		require.NoError(t, err)
		assert.Equal(t, "720.00", now.DueNow, "grouping never changes a total")
	}
	require.NoError(t, billing.DropDraft(ctx, c.Book, c.Owner, now.ID, now.Version))
	again, err := c.Draft(t)
	require.NoError(t, err)
	issued, err := billing.Issue(ctx, c.Book, c.Owner, again.ID, again.Version)
	require.NoError(t, err)
	assert.Equal(t, "1001", issued.Number, "a dropped draft uses no number up")
	apptest.Verified(t, c.Book)
}

func TestMoneyIsNotSentToThoseWhoMayNotSeeIt(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	foreman := book.Actor{UserID: c.Owner.UserID, Name: "Greta", Role: book.Foreman}
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
	apptest.Refusal(t, err, refuse.KindForbidden, "", "not allowed")
	_, err = rates.Setup(ctx, c.Book, foreman, "", 0, 0)
	apptest.Refusal(t, err, refuse.KindForbidden, "", "not allowed")
	_, err = billing.Sheet(ctx, c.Book, foreman, scope.ScopeQuery{})
	apptest.Refusal(t, err, refuse.KindForbidden, "", "not allowed")
	_, err = reports.Make(ctx, c.Book, foreman, "labour", reports.ReportQuery{})
	apptest.Refusal(t, err, refuse.KindForbidden, "", "not allowed")
	_, err = tape.OfEntry(ctx, c.Book, foreman, sheet.Lines[0].Cells[0].EntryID)
	apptest.Refusal(t, err, refuse.KindForbidden, "", "not allowed")
	_, err = tape.OfLine(ctx, c.Book, foreman, 1)
	apptest.Refusal(t, err, refuse.KindForbidden, "", "not allowed")
	_, err = tape.OfInvoice(ctx, c.Book, foreman, 1)
	apptest.Refusal(t, err, refuse.KindForbidden, "", "not allowed")
	_, err = tape.OfJob(ctx, c.Book, foreman, "101")
	apptest.Refusal(t, err, refuse.KindForbidden, "", "not allowed")
	_, err = tape.BackupOf(ctx, c.Book, foreman, 1)
	apptest.Refusal(t, err, refuse.KindForbidden, "", "not allowed")
}

func TestACostDocumentLandsAndIsMarkedUp(t *testing.T) {
	c := apptest.NewCrew(t)
	line := func(quantity, each string) costs.Line {
		return costs.Line{Category: "material", Description: "Boards", Quantity: quantity, UnitCost: each, JobID: c.Job, Billable: true}
	}
	d := costs.Document{
		Key: "a-paper-of-ours", Kind: "supplier_invoice", Supplier: "Bellhaven", Date: week, Number: "7", Freight: "10", Tax: "5",
		Lines: []costs.Line{line("10", "20"), line("-2", "20"), line("1", "x")},
	}
	_, err := costs.Save(ctx, c.Book, c.Owner, d)
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[2].unitCost", "is not a number")
	d.Lines = d.Lines[:2]
	saved, err := costs.Save(ctx, c.Book, c.Owner, d)
	require.NoError(t, err)
	// 200 and -40; freight 10 goes over what was bought, tax 5 of the net of 160 is 6.25 and -1.25; landed 216.25 and -41.25
	assert.Equal(
		t, []string{"216.25", "259.50", "-41.25", "-49.50"},
		[]string{saved.Lines[0].Landed, saved.Lines[0].Charge, saved.Lines[1].Landed, saved.Lines[1].Charge},
	)
	assert.Equal(t, []string{"175.00", "175.00", "210.00", "16.67"}, []string{saved.Total, saved.Landed, saved.Charge, saved.ByJob[0].Margin})
	twice, err := costs.Save(ctx, c.Book, c.Owner, d)
	require.NoError(t, err)
	assert.Equal(t, saved.ID, twice.ID, "the same key makes nothing twice")
	d.Key = "another-paper-of-ours"
	other, err := costs.Save(ctx, c.Book, c.Owner, d)
	require.NoError(t, err)
	assert.Contains(t, other.Warnings[0], "is it entered twice?")
}
