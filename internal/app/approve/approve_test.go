package approve_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/approve"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/history"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/tape"
	"jarvo/internal/app/timesheet"
)

func TestWorkIsHandedInApprovedOrReturnedWithAReason(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := apptest.HandIn(c.Book, c.Owner, timesheet.SheetQuery{Week: week, Crew: "Pile"}, false)
	apptest.Refusal(t, err, refuse.KindConflict, "", "there are no hours to hand in")
	sheet, err := c.Save(c.Edit("13"))
	require.NoError(t, err)
	assert.Equal(t, 1, sheet.Drafts)
	_, err = c.Draft(t)
	apptest.Refusal(t, err, refuse.KindConflict, "", "nothing of this is ready to bill")
	_, err = apptest.HandIn(c.Book, c.Owner, timesheet.SheetQuery{Week: week, Crew: "Pile"}, false)
	require.NoError(t, err)
	waits := c.Waiting(t)
	require.Len(t, waits.Weeks, 1)
	assert.Equal(
		t, []string{"Cato Brandl", "13.00", "511.50", "1240.00"},
		[]string{waits.Weeks[0].Worker, waits.Weeks[0].Hours, waits.Weeks[0].Cost, waits.Weeks[0].Charge},
	)
	assert.Equal(t, "Long day", waits.Weeks[0].Marks[0].What)

	ids := waits.Weeks[0].Entries
	_, err = approve.Return(ctx, c.Book, c.Owner, approve.Decision{Entries: c.Hours(t, ids...), Reason: "  "})
	apptest.Refusal(t, err, refuse.KindInvalid, "reason", "say why")
	_, err = approve.Return(ctx, c.Book, c.Owner, approve.Decision{Entries: c.Hours(t, ids...), Reason: "which pier?"})
	require.NoError(t, err)
	_, err = approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Entries: c.Hours(t, ids...)})
	apptest.Refusal(t, err, refuse.KindConflict, "", "has changed since you opened it")
	assert.Empty(t, c.Waiting(t).Weeks)
	c.Approve(t)

	require.NoError(
		t, apptest.ErrOf(approve.Return(ctx, c.Book, c.Owner, approve.Decision{Entries: c.Hours(t, ids...), Reason: "approved too soon"})),
		"approved work that is not billed can be returned",
	)
	w, err := tape.OfEntry(ctx, c.Book, c.Owner, ids[0].ID)
	require.NoError(t, err)
	var actions []string
	for _, h := range w.History {
		actions = append(actions, h.Action)
	}
	assert.Equal(t, []string{"captured", "handed in", "returned", "handed in", "approved", "returned"}, actions)
	_, err = approve.Approve(ctx, c.Book, c.Owner, approve.Decision{})
	apptest.Refusal(t, err, refuse.KindInvalid, "entries", "choose what to decide on")
	_, err = approve.Approve(ctx, c.Book, book.Actor{Role: book.Foreman}, approve.Decision{Entries: c.Hours(t, ids...)})
	apptest.Refusal(t, err, refuse.KindForbidden, "", "not allowed")
}

// A decision is taken back in one step, hours and papers have the status that they had before it, and it can be done again; what other
// things have been done to since is not.
func TestADecisionIsTakenBack(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	_, err = apptest.HandIn(c.Book, c.Owner, timesheet.SheetQuery{Week: week, Crew: "Pile"}, false)
	require.NoError(t, err)
	d := c.Paper(t, "77", c.Board())
	seen := approve.Decision{Entries: c.Waiting(t).Weeks[0].Entries, Documents: c.Papers(t, d.ID)}
	waits := c.Waiting(t)

	approved, err := approve.Approve(ctx, c.Book, c.Owner, seen)
	require.NoError(t, err)
	assert.Empty(t, c.Waiting(t).Weeks)
	back, err := approve.TakeBack(ctx, c.Book, c.Owner, approved)
	require.NoError(t, err)
	now := c.Waiting(t)
	assert.Equal(t, []string{waits.Hours, waits.Cost, waits.Charge}, []string{now.Hours, now.Cost, now.Charge})
	assert.Equal(t, back.Documents[0].Version, now.Papers[0].Version)
	_, err = approve.TakeBack(ctx, c.Book, c.Owner, back)
	apptest.Refusal(t, err, refuse.KindConflict, "", "other things were done")
	_, err = approve.TakeBack(ctx, c.Book, c.Owner, approved)
	apptest.Refusal(t, err, refuse.KindConflict, "", "has changed since you opened it")

	again, err := approve.Approve(ctx, c.Book, c.Owner, back)
	require.NoError(t, err)
	again.Reason = "approved too soon"
	returned, err := approve.Return(ctx, c.Book, c.Owner, again)
	require.NoError(t, err)
	approved, err = approve.TakeBack(ctx, c.Book, c.Owner, returned)
	require.NoError(t, err)
	assert.Empty(t, c.Waiting(t).Weeks, "it is approved again")

	list, err := approve.Decisions(ctx, c.Book, c.Owner)
	require.NoError(t, err)
	assert.Equal(t, "approved", list[0].Now)
	var entries, papers int
	for _, d := range list {
		entries += len(d.Entries)
		if d.Document != nil && !d.Again {
			papers++
		}
	}
	assert.Equal(t, []int{1, 1}, []int{entries, papers}, "each can be returned in one row alone")
	_, err = c.Draft(t)
	require.NoError(t, err)
	_, err = approve.TakeBack(ctx, c.Book, c.Owner, approved)
	apptest.Refusal(t, err, refuse.KindConflict, "", "on an invoice")
}

// The trail says who brought work to where it is, in the order it was done, with the reason and the invoice; to a foreman of
// the own crew's hours alone.
func TestATrailSaysWhoBroughtWorkThere(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	handIn := func() []approve.Seen {
		_, err := apptest.HandIn(c.Book, c.Owner, timesheet.SheetQuery{Week: week, Crew: "Pile"}, false)
		require.NoError(t, err)
		return c.Waiting(t).Weeks[0].Entries
	}
	tom := book.Actor{Name: "Tom", Role: book.Manager}
	ids := handIn()
	require.NoError(t, apptest.ErrOf(approve.Return(ctx, c.Book, tom, approve.Decision{Entries: c.Hours(t, ids...), Reason: "which pier?"})))
	handIn()
	require.NoError(t, apptest.ErrOf(approve.Approve(ctx, c.Book, tom, approve.Decision{Entries: c.Hours(t, ids...)})))
	told := func(actor book.Actor, kind string, ids ...int64) []string {
		steps, err := history.Steps(ctx, c.Book, actor, history.TrailQuery{Kind: kind, IDs: ids})
		require.NoError(t, err)
		said := []string{}
		for _, step := range steps {
			said = append(said, strings.TrimSpace(step.Action+" "+step.Invoice+" by "+step.Who+" "+step.Reason))
		}
		return said
	}
	approved := []string{"captured  by Ada", "returned  by Tom which pier?", "handed in  by Ada", "approved  by Tom"}
	assert.Equal(t, approved, told(c.Owner, "time_entry", ids[0].ID))
	assert.Equal(t, approved, told(book.Actor{Role: book.Foreman, Crew: "Pile"}, "time_entry", ids[0].ID))
	assert.Empty(t, told(book.Actor{Role: book.Foreman, Crew: "Dive"}, "time_entry", ids[0].ID))
	_, err = history.Steps(ctx, c.Book, book.Actor{Role: book.Foreman}, history.TrailQuery{Kind: "invoice", IDs: []int64{1}})
	apptest.Refusal(t, err, refuse.KindForbidden, "", "not allowed")

	paper := c.Paper(t, "8", c.Board())
	require.NoError(t, apptest.ErrOf(approve.Approve(ctx, c.Book, tom, approve.Decision{Documents: c.Papers(t, paper.ID)})))
	draft, err := c.Draft(t)
	require.NoError(t, err)
	_, err = billing.Issue(ctx, c.Book, c.Owner, draft.ID, draft.Version)
	require.NoError(t, err)
	billed := []string{"made a draft 1001 by Ada", "issued 1001 by Ada"}
	assert.Equal(t, append(approved, billed...), told(c.Owner, "time_entry", ids[0].ID))
	assert.Equal(
		t, append([]string{"captured  by Ada", "handed in  by Ada", "approved  by Tom"}, billed...),
		told(c.Owner, "cost_line", paper.Lines[0].ID),
	)
	assert.Equal(t, billed, told(c.Owner, "invoice", draft.ID))
}

func TestADecisionIsTakenOnAllOrNone(t *testing.T) {
	c := apptest.NewCrew(t)
	first, second := c.Paper(t, "1", c.Board()), c.Paper(t, "2", c.Board())
	require.NoError(t, apptest.ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, first.ID)})))
	_, err := approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, first.ID, second.ID)})
	apptest.Refusal(t, err, refuse.KindConflict, "", "nothing was decided. Now: Bellhaven 1: 200.00, approved")
	assert.Len(t, c.Waiting(t).Papers, 1)
}

func TestAPaperThatIsApprovedOrSeenStaleIsNotChanged(t *testing.T) {
	c := apptest.NewCrew(t)
	d := c.Paper(t, "7", c.Board())
	stale := d
	stale.Version--
	_, err := costs.Save(ctx, c.Book, c.Owner, stale)
	apptest.Refusal(t, err, refuse.KindConflict, "", "somebody else has changed this paper")
	_, err = costs.HandIn(ctx, c.Book, c.Owner, d.ID, d.Version)
	apptest.Refusal(t, err, refuse.KindConflict, "", "handed in already")
	d.Freight = "10"
	d, err = costs.Save(ctx, c.Book, c.Owner, d)
	require.NoError(t, err)
	assert.Equal(
		t, []string{"draft", "210.00", "252.00"}, []string{d.Status, d.Landed, d.Charge}, "a change after handing in has to be handed in again",
	)
	d, err = costs.HandIn(ctx, c.Book, c.Owner, d.ID, d.Version)
	require.NoError(t, err)
	require.NoError(t, apptest.ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, d.ID)})))
	now, err := costs.Get(ctx, c.Book, c.Owner, d.ID)
	require.NoError(t, err)
	assert.Equal(t, "approved; return it in Approve to change it, or make it void", now.Locked)
	_, err = costs.Save(ctx, c.Book, c.Owner, now)
	apptest.Refusal(t, err, refuse.KindConflict, "", "can't be changed")
	draft, err := c.Draft(t)
	require.NoError(t, err)
	assert.Equal(t, "252.00", draft.DueNow)
	_, err = approve.Return(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, d.ID), Reason: "too late"})
	apptest.Refusal(t, err, refuse.KindConflict, "", "has changed since you opened it")
}

func TestWhatStandsOutIsMarkedAgainstTheCrewTheUsualAndTheContract(t *testing.T) {
	c := apptest.NewCrew(t)
	agreed, err := jobs.Add(ctx, c.Book, c.Owner, jobs.NewJob{Name: "Jetty", CustomerID: 1, Basis: "fixed", Contract: "100"})
	require.NoError(t, err)
	for _, name := range []string{"Bess", "Dina"} {
		worker := c.Hire(t, name)
		for _, day := range []string{"2026-11-16", "2026-11-17", "2026-11-18"} {
			edit := c.Edit("8")
			edit.Key, edit.WorkerID, edit.Date = name+" on "+day, worker, day
			_, err := c.Save(edit)
			require.NoError(t, err)
		}
	}
	for day, text := range map[string]string{"2026-11-16": "8", "2026-11-18": "5"} {
		edit := c.Edit(text)
		edit.Key, edit.Date = "Cato on "+day, day
		if text == "5" {
			edit.JobID = agreed
		}
		_, err := c.Save(edit)
		require.NoError(t, err)
	}
	_, err = apptest.HandIn(c.Book, c.Owner, timesheet.SheetQuery{Week: week, Crew: "Pile"}, false)
	require.NoError(t, err)
	marks := map[string][]approve.Mark{}
	for _, w := range c.Waiting(t).Weeks {
		marks[w.Worker] = w.Marks
	}
	assert.Equal(t, []approve.Mark{
		{What: "Over contract", Against: "102 will cost 165.00 of the 100.00 agreed"},
		{What: "No Tuesday", Against: "the rest of the crew had 8 h"},
		{What: "Less than the crew", Against: "5 h on Wed 18 Nov, the others 8"},
	}, marks["Cato Brandl"])
	assert.Empty(t, marks["Bess"])

	check, err := approve.CheckWeek(ctx, c.Book, c.Owner, c.Worker, "2026-11-18")
	require.NoError(t, err)
	assert.Equal(t, "Ada", check.HandedIn)
	assert.Equal(t, []any{"", "8", true, 0}, []any{check.Days[1].Hours, check.Days[1].Crew, check.Days[1].Marked, len(check.Days[1].Entries)})
	assert.Equal(t, "102 Jetty", check.Days[2].Entries[0].Place)
	assert.Equal(t, []approve.HeldRow{
		{What: "The week, of the rest of the crew each", Usual: "24", This: "13", Beyond: "11 h less"},
		{What: "102 Jetty, expected cost of the contract", Usual: "100.00", This: "165.00", Beyond: "65.00 over", IsMoney: true},
	}, check.Held)
	_, err = approve.CheckWeek(ctx, c.Book, c.Owner, 99, week)
	apptest.Refusal(t, err, refuse.KindNotFound, "", "worker")
}

func TestWhatStandsOutOfAPaper(t *testing.T) {
	c := apptest.NewCrew(t)
	bolt := c.Item(t, "BOLT", "material", "6.00", "")
	dear := c.Buy(t, week, costs.Line{Category: "material", ItemID: bolt, Quantity: "10", UnitCost: "6.60"})
	plain := c.Buy(t, week, costs.Line{Category: "material", ItemID: bolt, Quantity: "10", UnitCost: "6.59"})
	below := c.Buy(t, week, costs.Line{Category: "expense", Description: "Lodging", Quantity: "1", UnitCost: "50", SellPrice: "40"})
	twin := c.Buy(t, week, costs.Line{Category: "expense", Description: "Beds", Quantity: "2", UnitCost: "25"})
	marks := map[int64][]approve.Mark{}
	for _, p := range c.Waiting(t).Papers {
		marks[p.DocumentID] = p.Marks
	}
	assert.Equal(t, []approve.Mark{{What: "Dear", Against: "The BOLT at 6.60, usually 6.00"}}, marks[dear.ID])
	assert.Empty(t, marks[plain.ID])
	assert.Equal(
		t,
		[]approve.Mark{
			{What: "Same amount, same day", Against: "as D4 of Northquay"},
			{What: "Below cost", Against: "1 line charged at less than landed cost"},
		},
		marks[below.ID],
	)
	assert.Equal(
		t,
		[]approve.Mark{
			{What: "Same amount, same day", Against: "as D3 of Northquay"}, {What: "No markup", Against: "charged at cost, on 1 line"},
		},
		marks[twin.ID],
	)
}

func TestWhoDecidedWhatIsKept(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	c.Approve(t)
	paper := c.Paper(t, "B-1", c.Board())
	_, err = approve.Return(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, paper.ID), Reason: "not ours"})
	require.NoError(t, err)
	decided, err := approve.Decisions(ctx, c.Book, c.Owner)
	require.NoError(t, err)
	require.Len(t, decided, 2)
	assert.Equal(
		t, []any{"Ada", false, "not ours", "Bellhaven", "draft"},
		[]any{decided[0].Who, decided[0].Approved, decided[0].Reason, decided[0].Title, decided[0].Now},
	)
	assert.Equal(
		t, []any{"Ada", true, "Cato Brandl", week, "8.00", "approved"},
		[]any{decided[1].Who, decided[1].Approved, decided[1].Title, decided[1].Week, decided[1].Hours, decided[1].Now},
	)

	require.NoError(
		t, apptest.ErrOf(approve.Return(ctx, c.Book, c.Owner, approve.Decision{Entries: decided[1].Entries, Reason: "too soon"})),
		"what was approved can be returned from there",
	)
	c.Approve(t)
	_, err = c.Draft(t)
	require.NoError(t, err)
	decided, err = approve.Decisions(ctx, c.Book, c.Owner)
	require.NoError(t, err)
	assert.Equal(t, "on an invoice", decided[0].Now)
	assert.Empty(t, decided[0].Entries)
}

// TestMoreThanAPageWaits hands in weeks of many workers: a page at a time is listed, the oldest first, and the totals are of all.
func TestMoreThanAPageWaits(t *testing.T) {
	c := apptest.NewCrew(t)
	var edits []timesheet.CellEdit
	for i := range 103 {
		edit := c.Edit("8")
		edit.Key, edit.WorkerID = fmt.Sprintf("a-key-for-%d", i), c.Hire(t, fmt.Sprintf("Worker %03d", i))
		edits = append(edits, edit)
	}
	_, err := c.Save(edits...)
	require.NoError(t, err)
	_, err = apptest.HandIn(c.Book, c.Owner, timesheet.SheetQuery{Week: week, Crew: "Pile"}, false)
	require.NoError(t, err)
	c.Paper(t, "B-1", c.Board())
	listed := func(page int64) (weeks, papers int) {
		sheet, err := approve.Waiting(ctx, c.Book, c.Owner, approve.Question{Page: page})
		require.NoError(t, err)
		assert.Equal(t, []any{int64(103), int64(1), int64(2), "824.00"}, []any{sheet.WeekCount, sheet.PaperCount, sheet.Pages, sheet.Hours})
		return len(sheet.Weeks), len(sheet.Papers)
	}
	weeks, papers := listed(0)
	assert.Equal(t, [2]int{100, 1}, [2]int{weeks, papers})
	weeks, papers = listed(1)
	assert.Equal(t, [2]int{3, 0}, [2]int{weeks, papers})
	weeks, _ = listed(7)
	assert.Zero(t, weeks)
}
