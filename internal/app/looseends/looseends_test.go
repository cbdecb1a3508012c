package looseends_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/approve"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/looseends"
	"jarvo/internal/app/people"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/app/today"
	"jarvo/internal/core/calendar"
)

func TestALooseEndComesAndGoesWithWhatItIsAbout(t *testing.T) {
	c := apptest.NewCrew(t)
	assert.Empty(t, c.LooseEnds(t))
	stranger, err := people.Add(ctx, c.Book, c.Owner, people.NewWorker{Name: "Dina Oake", Trade: "welder", Crew: "Pile"})
	require.NoError(t, err)
	hours := c.Edit("8")
	hours.WorkerID, hours.Date = stranger, "2026-11-02"
	_, err = timesheet.SaveCells(ctx, c.Book, c.Owner, timesheet.SheetQuery{Week: "2026-11-02", Crew: "Pile"}, []timesheet.CellEdit{hours})
	require.NoError(t, err)
	setup, err := rates.Setup(ctx, c.Book, c.Owner, week, 0, 0)
	require.NoError(t, err)
	at := slices.IndexFunc(setup.Workers, func(w rates.WorkerRow) bool { return w.ID == stranger })
	assert.Equal(t, []string{"2026-11-02", "2026-11-02"}, []string{setup.Workers[at].NoWageSince, setup.NoRateSince}, "what a form proposes")
	nobody := c.Board()
	nobody.JobID = 0
	expense := c.Board()
	expense.Category = "expense"
	c.Paper(t, "55", nobody, expense)
	assert.Equal(
		t, map[string]string{
			"no_wage": "", "no_class": "", "no_rate": "0.00", "no_job": "200.00", "no_markup": "200.00", "not_handed_in": "",
		}, c.LooseEnds(t),
	)
	sheet, err := today.Sheet(ctx, c.Book, c.Owner, today.TodayQuery{Week: week})
	require.NoError(t, err)
	for _, end := range sheet.LooseEnds {
		if end.Kind == "no_class" {
			assert.Equal(t, register.Link{Kind: "worker", ID: fmt.Sprint(stranger)}, end.Link, "the worker's page")
		}
	}
	again, err := costs.Save(ctx, c.Book, c.Owner, costs.Document{
		Key: "quite-another-key", Kind: "supplier_invoice", Supplier: "Bellhaven", Date: week, Number: "55", Lines: []costs.Line{c.Board()},
	})
	require.NoError(t, err)
	assert.Contains(t, again.Warnings[0], "is it entered twice?")
	assert.Contains(t, c.LooseEnds(t), "twice")

	require.NoError(t, rates.AddWage(ctx, c.Book, c.Owner, rates.NewWage{WorkerID: stranger, Rate: "40", From: "2026-01-01"}))
	assert.Equal(t, "320.00", c.LooseEnds(t)["no_rate"], "what it costs is at stake, since it has no price")
	require.NoError(t, rates.AddLabourRate(ctx, c.Book, c.Owner, rates.NewLabourRate{
		From: "2026-01-01", Trade: "welder", Method: "hourly", Value: "100",
	}))
	require.NoError(t, rates.AddMarkup(ctx, c.Book, c.Owner, rates.NewMarkup{From: "2026-01-01", Category: "expense", Percent: "0"}))
	left := c.LooseEnds(t)
	for _, settled := range []string{"no_wage", "no_rate", "no_markup"} {
		assert.NotContains(t, left, settled)
	}
	_, err = apptest.HandIn(c.Book, c.Owner, timesheet.SheetQuery{Week: "2026-11-02", Crew: "Pile"}, false)
	require.NoError(t, err)
	require.NoError(t, apptest.ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Entries: c.Waiting(t).Weeks[0].Entries})))
	assert.Equal(t, "800.00", c.LooseEnds(t)["late"], "ready for more than 14 days")
	_, err = c.Draft(t)
	require.NoError(t, err)
	assert.NotContains(t, c.LooseEnds(t), "late")
}

// endOf is the one loose end of a kind.
func endOf(c *apptest.Crew, t *testing.T, kind string) looseends.LooseEnd {
	t.Helper()
	sheet, err := today.Sheet(ctx, c.Book, c.Owner, today.TodayQuery{Week: week})
	require.NoError(t, err)
	for _, end := range sheet.LooseEnds {
		if end.Kind == kind {
			return end
		}
	}
	t.Fatalf("there is no loose end %s", kind)
	return looseends.LooseEnd{}
}

// With a job chosen, Today is about that job: its loose ends, and the hours on it, without holes.
func TestTodayOfAJob(t *testing.T) {
	c := apptest.NewCrew(t)
	other, err := jobs.Add(ctx, c.Book, c.Owner, jobs.NewJob{Name: "Jetty", CustomerID: 1, Basis: "tm"})
	require.NoError(t, err)
	welder, err := people.Add(ctx, c.Book, c.Owner, people.NewWorker{
		Name: "Dina Oake", Trade: "welder", Crew: "Pile", BurdenClass: "Field", Wage: "30", WageFrom: "2026-01-01",
	})
	require.NoError(t, err)
	c.CrewDay(t, week, "8", c.Worker)
	edit := c.Edit("7")
	edit.WorkerID, edit.JobID = welder, other
	_, err = c.Save(edit)
	require.NoError(t, err)
	_, err = costs.Save(ctx, c.Book, c.Owner, costs.Document{
		Key: "a-key-of-a-receipt", Kind: "receipt", Supplier: "Bellhaven", Date: week,
		Lines: []costs.Line{{Category: "material", Description: "Boards", Quantity: "1", UnitCost: "20"}},
	})
	require.NoError(t, err)

	about := func(job string) (kinds []string, workers []int) {
		sheet, err := today.Sheet(ctx, c.Book, c.Owner, today.TodayQuery{Week: week, Job: job})
		require.NoError(t, err)
		for _, end := range sheet.LooseEnds {
			kinds = append(kinds, end.Kind)
		}
		return kinds, sheet.Week[0].Days[0].Workers
	}
	kinds, workers := about("")
	assert.ElementsMatch(t, []string{"not_handed_in", "no_rate", "no_job"}, kinds)
	assert.Equal(t, []int{480, 420}, workers)
	kinds, workers = about("102")
	assert.Equal(t, []string{"no_rate"}, kinds)
	assert.Equal(t, []int{-1, 420}, workers)
	kinds, workers = about("101")
	assert.Empty(t, kinds)
	assert.Equal(t, []int{480, -1}, workers)
	_, err = today.Sheet(ctx, c.Book, c.Owner, today.TodayQuery{Job: "999"})
	apptest.Refusal(t, err, refuse.KindNotFound, "", "there is no such job as 999")
}

func TestAHoleIsFilledInOrSetAsideWithAReason(t *testing.T) {
	c := apptest.NewCrew(t)
	bess, dina := c.Hire(t, "Bess"), c.Hire(t, "Dina")
	c.CrewDay(t, "2026-11-17", "9", bess)
	c.CrewDay(t, "2026-11-17", "8", dina)
	hole := endOf(c, t, "hole")
	assert.Equal(t, []any{"Cato Brandl", "the crew had 8 to 9 h", "2026-11-17", "8", c.Worker, c.Job, "700.00", true},
		[]any{hole.Where, hole.Detail, hole.Date, hole.Hours, hole.WorkerID, hole.JobID, hole.AtStake, hole.Aside})
	assert.Equal(t, register.Link{Kind: "crew_week", ID: "2026-11-17", Crew: "Pile"}, hole.Link)
	assert.False(t, hole.HandIn, "the crew has not handed its week in")
	_, err := apptest.HandIn(c.Book, c.Owner, timesheet.SheetQuery{Week: week, Crew: "Pile"}, false)
	require.NoError(t, err)
	day, err := c.Today(ctx)
	require.NoError(t, err)
	assert.Equal(t, day > calendar.On(2026, 11, 22), endOf(c, t, "hole").HandIn)

	away := looseends.SetAside{Kind: "hole", Subject: hole.Subject, Reason: " "}
	apptest.Refusal(t, looseends.PutAside(ctx, c.Book, c.Owner, away), refuse.KindInvalid, "reason", "is needed")
	away.Reason = "day off"
	other := book.Actor{UserID: c.Owner.UserID, Name: "Greta", Role: book.Foreman, Crew: "Deck"}
	apptest.Refusal(t, looseends.PutAside(ctx, c.Book, other, away), refuse.KindForbidden, "", "not in Deck")
	other.Crew = "Pile"
	require.NoError(t, looseends.PutAside(ctx, c.Book, other, away), "a foreman knows who was off")
	assert.NotContains(t, c.LooseEnds(t), "hole")
	apptest.Refusal(t, looseends.PutAside(ctx, c.Book, c.Owner, away), refuse.KindConflict, "", "no loose end any more")
	check, err := approve.CheckWeek(ctx, c.Book, c.Owner, c.Worker, week)
	require.NoError(t, err)
	assert.Equal(t, []bool{true, false}, []bool{check.Days[1].Off, check.Days[1].Marked})
	sheet, err := today.Sheet(ctx, c.Book, other, today.TodayQuery{Week: week})
	require.NoError(t, err)
	assert.Equal(
		t,
		[]looseends.Aside{{
			Kind: "hole", Title: "Missing day", Subject: hole.Subject, Reason: "day off", Who: "Greta", At: sheet.Asides[0].At,
		}},
		sheet.Asides,
	)
	assert.Equal(t, []int{540, -1, 480}, sheet.Week[0].Days[1].Workers)
	apptest.SameInAnotherBook(t, c.Book)

	require.NoError(t, looseends.BringBack(ctx, c.Book, c.Owner, "hole", hole.Subject))
	assert.Contains(t, c.LooseEnds(t), "hole")
	c.CrewDay(t, "2026-11-17", "8", c.Worker)
	assert.NotContains(t, c.LooseEnds(t), "hole", "what is filled in is settled")
	apptest.Refusal(
		t, looseends.PutAside(ctx, c.Book, c.Owner, looseends.SetAside{Kind: "no_rate", Subject: "x", Reason: "y"}), refuse.KindInvalid, "kind",
		"settled, and not set aside",
	)
}

func TestAJobOverItsContractOrSoldBelowCostIsALooseEnd(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := jobs.Add(ctx, c.Book, c.Owner, jobs.NewJob{Name: "Jetty", CustomerID: 1, Basis: "fixed", Contract: "100"})
	require.NoError(t, err)
	line := c.Board()
	line.JobID = 2
	c.Paper(t, "55", line)
	cheap := c.Board()
	cheap.Markup = "-10"
	d := c.Paper(t, "56", cheap)
	assert.Equal(t, "100.00", c.LooseEnds(t)["over"])
	assert.NotContains(t, c.LooseEnds(t), "below", "what waits is not sold yet")
	require.NoError(t, apptest.ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, d.ID)})))
	assert.Equal(t, "20.00", c.LooseEnds(t)["below"])
	_, err = c.Draft(t)
	require.NoError(t, err)
	assert.Equal(t, "20.00", c.LooseEnds(t)["below"], "on a draft it is still sold at that")
	for _, kind := range []string{"over", "below"} {
		require.NoError(t, looseends.PutAside(ctx, c.Book, c.Owner, looseends.SetAside{
			Kind: kind, Subject: endOf(c, t, kind).Subject, Reason: "agreed with the customer",
		}))
	}
	assert.Empty(t, c.LooseEnds(t))
	apptest.SameInAnotherBook(t, c.Book)
}

// What is billed stays as it was; where a rate of its day or a card was added since it is said by how much it would be charged otherwise.
func TestLockedWorkThatWouldBeChargedOtherwise(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	d := c.Paper(t, "56", c.Board())
	c.Approve(t)
	require.NoError(t, apptest.ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, d.ID)})))
	draft, err := c.Draft(t)
	require.NoError(t, err)
	_, err = billing.Issue(ctx, c.Book, c.Owner, draft.ID, draft.Version)
	require.NoError(t, err)
	assert.NotContains(t, c.LooseEnds(t), "otherwise")
	require.NoError(t, rates.AddLabourRate(ctx, c.Book, c.Owner, rates.NewLabourRate{
		From: "2026-11-01", Trade: "driver", Method: "hourly", Value: "85",
	}))
	end := endOf(c, t, "otherwise")
	assert.Equal(t, []string{"40.00", "1001 101", "invoice 1001, job 101"}, []string{end.AtStake, end.Subject, end.Where})
	require.NoError(t, rates.AddMarkup(ctx, c.Book, c.Owner, rates.NewMarkup{From: "2026-11-01", Category: "material", Percent: "30"}))
	with := c.LooseEnds(t)["otherwise"]
	assert.NotEqual(t, "40.00", with, "the board too")
	other := apptest.Copied(t, c.Book)
	assert.Equal(t, with, (&apptest.Crew{Book: other, Owner: book.Console}).LooseEnds(t)["otherwise"], "also in another book")
	require.NoError(t, looseends.PutAside(ctx, c.Book, c.Owner, looseends.SetAside{
		Kind: "otherwise", Subject: end.Subject, Reason: "agreed with the customer",
	}))
	assert.NotContains(t, c.LooseEnds(t), "otherwise")
	apptest.Verified(t, c.Book)
	apptest.SameInAnotherBook(t, c.Book)
}

func TestWhatHasNoJobOrNoCodeIsSettledWhereItIsListed(t *testing.T) {
	c := apptest.NewCrew(t)
	coded, err := jobs.Add(ctx, c.Book, c.Owner, jobs.NewJob{Name: "Pier", CustomerID: 1, Basis: "tm", NeedsCode: true})
	require.NoError(t, err)
	code, err := jobs.AddCostCode(ctx, c.Book, c.Owner, jobs.NewCode{Code: "320", Name: "Drive piles"})
	require.NoError(t, err)
	require.NoError(t, rates.AddLabourRate(ctx, c.Book, c.Owner, rates.NewLabourRate{
		From: "2026-01-01", CostCodeID: code, Method: "hourly", Value: "95",
	}))
	edit := c.Edit("8")
	edit.JobID = coded
	_, err = c.Save(edit)
	require.NoError(t, err)
	c.Approve(t)
	end := endOf(c, t, "no_code")
	assert.Equal(t, []any{"102 Pier", "1 entry", "640.00", coded}, []any{end.Where, end.Detail, end.AtStake, end.JobID})
	apptest.Refusal(t, timesheet.CodeHours(ctx, c.Book, c.Owner, coded, 99, 1), refuse.KindInvalid, "costCodeId", "choose the cost code")
	apptest.Refusal(t, timesheet.CodeHours(ctx, c.Book, c.Owner, coded, code, 2), refuse.KindConflict, "",
		"now 1 entry is without a cost code")
	require.NoError(t, timesheet.CodeHours(ctx, c.Book, c.Owner, coded, code, end.Entries))
	assert.NotContains(t, c.LooseEnds(t), "no_code")
	apptest.Refusal(t, timesheet.CodeHours(ctx, c.Book, c.Owner, coded, code, 1), refuse.KindConflict, "", "have a cost code already")
	ready, err := billing.Sheet(ctx, c.Book, c.Owner, scope.ScopeQuery{})
	require.NoError(t, err)
	assert.Equal(t, "760.00", ready.Totals.Ready, "the code has a rate of its own")

	nobody := c.Board()
	nobody.JobID = 0
	d := c.Paper(t, "55", nobody)
	require.NoError(t, apptest.ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, d.ID)})))
	end = endOf(c, t, "no_job")
	place := func(job, version int64) error {
		return costs.Place(ctx, c.Book, c.Owner, end.LineID, costs.Placing{Place: register.Place{JobID: job}, Version: version})
	}
	apptest.Refusal(t, place(0, end.Version), refuse.KindInvalid, "jobId", "choose the job")
	apptest.Refusal(t, place(c.Job, end.Version-1), refuse.KindConflict, "", "somebody else has changed this paper")
	require.NoError(t, place(c.Job, end.Version), "also of a paper that is approved")
	apptest.Refusal(t, place(coded, end.Version), refuse.KindConflict, "", "given this line a job already")
	placed, err := costs.Get(ctx, c.Book, c.Owner, d.ID)
	require.NoError(t, err)
	assert.Equal(t, []string{"240.00", "approved"}, []string{placed.Charge, placed.Status})
	assert.Empty(t, c.LooseEnds(t))
	apptest.Verified(t, c.Book)
}

func TestAForemanSeesTheLooseEndsOfTheOwnCrewAndNoMoney(t *testing.T) {
	c := apptest.NewCrew(t)
	bess, dina := c.Hire(t, "Bess"), c.Hire(t, "Dina")
	c.CrewDay(t, "2026-11-12", "8", bess, dina)
	nobody := c.Board()
	nobody.JobID = 0
	c.Paper(t, "55", nobody)
	for crew, want := range map[string][]string{"Pile": {"hole", "not_handed_in"}, "Deck": nil, "": {"hole", "not_handed_in"}} {
		foreman := book.Actor{UserID: c.Owner.UserID, Name: "Greta", Role: book.Foreman, Crew: crew}
		sheet, err := today.Sheet(ctx, c.Book, foreman, today.TodayQuery{Week: week})
		require.NoError(t, err)
		counts, err := new(today.Counter).Counts(ctx, c.Book, foreman)
		require.NoError(t, err)
		assert.EqualValues(t, len(want), counts.Loose, crew)
		var kinds []string
		for _, end := range sheet.LooseEnds {
			kinds = append(kinds, end.Kind)
			assert.Empty(t, end.AtStake)
		}
		assert.ElementsMatch(t, want, kinds, crew)
	}
}

func TestAHoleOfACodeWithSpacesAndACrewWithSignsIsSettledAsAnyOther(t *testing.T) {
	c := apptest.NewCrew(t)
	require.NoError(
		t, apptest.Files{
			"workers.csv": "code,name,crew\nW 1,Cato,Dock & Pile\nW 2,Bess,Dock & Pile\nW 3,Dina,Dock & Pile\n",
		}.BringInto(t, c.Book),
	)
	choices, err := register.ChoicesFor(ctx, c.Book, c.Owner)
	require.NoError(t, err)
	for _, w := range choices.Workers {
		if w.Name == "Bess" || w.Name == "Dina" {
			edit := c.Edit("8")
			edit.Key, edit.WorkerID, edit.Date = "", w.ID, "2026-11-17"
			_, err := timesheet.SaveCells(ctx, c.Book, c.Owner, timesheet.SheetQuery{Week: week, Crew: "Dock & Pile"}, []timesheet.CellEdit{edit})
			require.NoError(t, err)
		}
	}
	hole := endOf(c, t, "hole")
	assert.Equal(t, []string{"W 1 2026-11-17", "Dock & Pile"}, []string{hole.Subject, hole.Link.Crew})
	require.NoError(t, looseends.PutAside(ctx, c.Book, c.Owner, looseends.SetAside{Kind: "hole", Subject: hole.Subject, Reason: "day off"}))
	assert.NotContains(t, c.LooseEnds(t), "hole")
}
