package app_test

import (
	"encoding/json"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app"
	"jarvo/internal/store"
)

// clocked is a crew of two whose clock the test sets.
type clocked struct {
	*crew
	now   time.Time
	cato  app.Actor
	bess  int64
	place app.ClockIn
}

func newClocked(t *testing.T) *clocked {
	t.Helper()
	c := &clocked{now: time.Date(2026, time.November, 23, 6, 58, 0, 0, time.UTC)}
	s, err := store.Open(ctx, filepath.Join(t.TempDir(), "jarvo.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	c.crew = crewIn(t, app.New(s, func() time.Time { return c.now }))
	c.bess, err = c.AddWorker(ctx, c.owner, app.NewWorker{Name: "Bess Tarrow", Trade: "driver", Crew: "Deck", BurdenClass: "Field", Wage: "30", WageFrom: "2026-01-01"})
	require.NoError(t, err)
	_, err = c.AddUser(ctx, c.owner, app.NewUser{Name: "Cato", SignIn: "cato", Password: "a few words here", Role: app.Worker, WorkerID: c.worker})
	require.NoError(t, err)
	c.cato, err = c.SignIn(ctx, "cato", "a few words here")
	require.NoError(t, err)
	c.place = app.ClockIn{Key: "key-of-monday", JobID: c.job}
	return c
}

func (c *clocked) at(hour, minute int) {
	c.now = time.Date(c.now.Year(), c.now.Month(), c.now.Day(), hour, minute, 0, 0, time.UTC)
}

func TestADayIsClocked(t *testing.T) {
	c := newClocked(t)
	for range 2 { // pressed twice
		page, err := c.ClockIn(ctx, c.cato, c.place)
		require.NoError(t, err)
		assert.Equal(t, "6:58", page.Working.Since)
	}
	again := c.place
	again.Key = "key-of-another"
	_, err := c.ClockIn(ctx, c.cato, again)
	refusal(t, err, app.KindConflict, "", "clocked in already, since 6:58")
	c.at(12, 0)
	for range 2 {
		page, err := c.ClockBreak(ctx, c.cato, true)
		require.NoError(t, err)
		assert.True(t, page.Working.OnBreak)
	}
	c.at(12, 30)
	_, err = c.ClockBreak(ctx, c.cato, false)
	require.NoError(t, err)
	c.at(17, 30)
	_, err = c.ClockOut(ctx, c.cato, app.ClockOut{Note: "last pile at dusk"})
	require.NoError(t, err)
	page, err := c.ClockOut(ctx, c.cato, app.ClockOut{})
	require.NoError(t, err)
	assert.Nil(t, page.Working)
	assert.Equal(t, "6:58 to 17:30, less 30 min, 10.03 h", page.Days[0].Entries[0].Reading)
	assert.Equal(t, []string{"10.03", "2.03"}, []string{page.Hours, page.Overtime})
	assert.Equal(t, 1, page.Drafts)
	page, err = c.HandInOwn(ctx, c.cato, "2026-11-23", false)
	require.NoError(t, err)
	assert.Zero(t, page.Drafts)
	text, err := json.Marshal(page)
	require.NoError(t, err)
	for _, secret := range []string{"cost", "charge", "30.00", "80.00", "Bess"} {
		assert.NotContains(t, string(text), secret)
	}
	assertVerified(t, c.App)
}

func TestAForgottenClockOutIsSaidLater(t *testing.T) {
	c := newClocked(t)
	_, err := c.ClockIn(ctx, c.cato, c.place)
	require.NoError(t, err)
	c.now = c.now.AddDate(0, 0, 2)
	_, err = c.ClockOut(ctx, c.cato, app.ClockOut{})
	refusal(t, err, app.KindInvalid, "finish", "more than a day ago; type when you finished")
	_, err = c.ClockOut(ctx, c.cato, app.ClockOut{Finish: "half past"})
	refusal(t, err, app.KindInvalid, "finish", "is not a time of day")
	page, err := c.ClockOut(ctx, c.cato, app.ClockOut{Finish: "3:30"})
	require.NoError(t, err)
	assert.Equal(t, "6:58 to 15:30, 8.53 h", page.Days[0].Entries[0].Reading)

	_, err = c.ClockIn(ctx, c.cato, app.ClockIn{Key: "key-of-wednesday", JobID: c.job})
	require.NoError(t, err)
	_, err = c.ClockOut(ctx, c.cato, app.ClockOut{Finish: "16:00"})
	refusal(t, err, app.KindInvalid, "finish", "has not come yet")
	page, err = c.ClockOut(ctx, c.cato, app.ClockOut{})
	require.NoError(t, err)
	assert.Empty(t, page.Days[2].Entries, "nothing worked is no entry")
}

func TestAWorkerSeesAndChangesOnlyTheirOwnHours(t *testing.T) {
	c := newClocked(t)
	theirs := c.edit("8")
	theirs.WorkerID, theirs.Date = c.bess, "2026-11-23"
	_, err := c.SaveCells(ctx, c.owner, app.SheetQuery{Week: "2026-11-23"}, []app.CellEdit{theirs})
	require.NoError(t, err)
	sheet, err := c.TimeSheet(ctx, c.owner, app.SheetQuery{Week: "2026-11-23"})
	require.NoError(t, err)
	page, err := c.Clock(ctx, c.cato, "")
	require.NoError(t, err)
	assert.Empty(t, page.Days[0].Entries)
	assert.Empty(t, page.Places, "another crew's jobs are not theirs")
	_, err = c.ChangeOwn(ctx, c.cato, sheet.Lines[0].Cells[0].EntryID, app.OwnChange{Version: 1, Text: "1"})
	refusal(t, err, app.KindNotFound, "", "there is no such entry")

	page, err = c.FillIn(ctx, c.cato, app.OwnHours{Key: "key-of-a-hole", Date: "2026-11-23", Text: "7-3:30/30", JobID: c.job})
	require.NoError(t, err)
	own := page.Days[0].Entries[0]
	page, err = c.ChangeOwn(ctx, c.cato, own.ID, app.OwnChange{Version: own.Version, Text: "7-4/30"})
	require.NoError(t, err)
	assert.Equal(t, "8.50", page.Hours)
	_, err = c.FillIn(ctx, c.cato, app.OwnHours{Key: "key-of-tomorrow", Date: "2026-11-24", Text: "8", JobID: c.job})
	refusal(t, err, app.KindInvalid, "date", "has not come yet")
	for _, call := range []func() error{
		func() error { _, err := c.TimeSheet(ctx, c.cato, app.SheetQuery{}); return err },
		func() error { _, err := c.Choices(ctx, c.cato); return err },
		func() error { _, err := c.EntryList(ctx, c.cato, app.ListQuery{}); return err },
		func() error { _, err := c.Listen(c.cato); return err },
	} {
		refusal(t, call(), app.KindForbidden, "", "not allowed")
	}
	_, err = c.Clock(ctx, c.owner, "")
	refusal(t, err, app.KindForbidden, "", "no hours of your own")
}

func TestAForemanIsKeptToTheCrew(t *testing.T) {
	c := newClocked(t)
	_, err := c.AddUser(ctx, c.owner, app.NewUser{Name: "Greta", SignIn: "greta", Password: "a few words here", Role: app.Foreman, Crew: "Deck"})
	require.NoError(t, err)
	greta, err := c.SignIn(ctx, "greta", "a few words here")
	require.NoError(t, err)
	_, err = c.save(c.edit("8"))
	require.NoError(t, err)
	sheet, err := c.TimeSheet(ctx, greta, app.SheetQuery{Week: week})
	require.NoError(t, err)
	assert.Empty(t, sheet.Lines)
	require.Len(t, sheet.Members, 1)
	assert.Equal(t, "Bess Tarrow", sheet.Members[0].Name)
	_, err = c.TimeSheet(ctx, greta, app.SheetQuery{Week: week, Crew: "Pile"})
	refusal(t, err, app.KindForbidden, "", "you see the hours of Deck only")
	_, err = c.SaveCells(ctx, greta, app.SheetQuery{Week: week}, []app.CellEdit{c.edit("9")})
	refusal(t, err, app.KindForbidden, "", "not in Deck")
	_, err = c.SaveWorkdays(ctx, greta, app.DayQuery{Date: week}, []app.WorkdayEdit{{WorkerID: c.worker, Text: "7-4"}})
	refusal(t, err, app.KindForbidden, "", "not in Deck")
	_, err = c.HandIn(ctx, greta, app.SheetQuery{Week: week, Crew: "Pile"}, false)
	refusal(t, err, app.KindForbidden, "", "Deck only")
	whole, err := c.TimeSheet(ctx, c.owner, app.SheetQuery{Week: week})
	require.NoError(t, err)
	_, err = c.EntryHistory(ctx, greta, whole.Lines[0].Cells[0].EntryID)
	refusal(t, err, app.KindForbidden, "", "not in Deck")
	today, err := c.TodaySheet(ctx, greta, app.TodayQuery{Week: week})
	require.NoError(t, err)
	require.Len(t, today.Week, 1)
	assert.Equal(t, "Deck", today.Week[0].Crew)
}

func TestTheLastOwnerStays(t *testing.T) {
	c := newClocked(t)
	users, err := c.Users(ctx, c.owner)
	require.NoError(t, err)
	require.Len(t, users, 2)
	refusal(t, c.ChangeUser(ctx, c.owner, c.owner.UserID, app.UserChange{Active: false}), app.KindConflict, "", "the last owner")
	require.NoError(t, c.ChangeUser(ctx, c.owner, c.cato.UserID, app.UserChange{Active: false}))
	_, err = c.SignIn(ctx, "cato", "a few words here")
	refusal(t, err, app.KindUnauthorized, "", "not right")
	require.NoError(t, c.ChangeUser(ctx, c.owner, c.cato.UserID, app.UserChange{Active: true, Password: "other words here"}))
	_, err = c.SignIn(ctx, "cato", "other words here")
	require.NoError(t, err)
	bookkeeper := app.Actor{UserID: 1, Name: "Ada", Role: app.Bookkeeper}
	_, err = c.Users(ctx, bookkeeper)
	refusal(t, err, app.KindForbidden, "", "not allowed")
}
