package clock_test

import (
	"encoding/json"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/access"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/book"
	"jarvo/internal/app/clock"
	"jarvo/internal/app/company"
	"jarvo/internal/app/history"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/app/today"
)

func TestADayIsClocked(t *testing.T) {
	c := apptest.NewClocked(t)
	for range 2 { // pressed twice
		page, err := clock.In(ctx, c.Book, c.Cato, c.Place)
		require.NoError(t, err)
		assert.Equal(t, "6:58", page.Working.Since)
	}
	again := c.Place
	again.Key = "key-of-another"
	_, err := clock.In(ctx, c.Book, c.Cato, again)
	apptest.Refusal(t, err, refuse.KindConflict, "", "clocked in already, since 6:58")
	c.At(12, 0)
	for range 2 {
		page, err := clock.Break(ctx, c.Book, c.Cato, clock.ClockBreak{On: true})
		require.NoError(t, err)
		assert.True(t, page.Working.OnBreak)
	}
	c.At(12, 30)
	_, err = clock.Break(ctx, c.Book, c.Cato, clock.ClockBreak{})
	require.NoError(t, err)
	c.At(17, 30)
	_, err = clock.Out(ctx, c.Book, c.Cato, clock.ClockOut{Note: "last pile at dusk"})
	require.NoError(t, err)
	page, err := clock.Out(ctx, c.Book, c.Cato, clock.ClockOut{})
	require.NoError(t, err)
	assert.Nil(t, page.Working)
	assert.Equal(t, "6:58 to 17:30, less 30 min, 10.03 h", page.Days[0].Entries[0].Reading)
	assert.Equal(t, []string{"10.03", "2.03"}, []string{page.Hours, page.Overtime})
	assert.Equal(t, 1, page.Drafts)
	page, err = clock.HandIn(ctx, c.Book, c.Cato, "2026-11-23", timesheet.HandingIn{Mark: page.Mark})
	require.NoError(t, err)
	assert.Zero(t, page.Drafts)
	text, err := json.Marshal(page)
	require.NoError(t, err)
	for _, secret := range []string{"cost", "charge", "30.00", "80.00", "Bess"} {
		assert.NotContains(t, string(text), secret)
	}
	apptest.Verified(t, c.Book)
}

func TestAForgottenClockOutIsSaidLater(t *testing.T) {
	c := apptest.NewClocked(t)
	_, err := clock.In(ctx, c.Book, c.Cato, c.Place)
	require.NoError(t, err)
	c.Now = c.Now.AddDate(0, 0, 2)
	_, err = clock.Out(ctx, c.Book, c.Cato, clock.ClockOut{})
	apptest.Refusal(t, err, refuse.KindInvalid, "finish", "more than a day ago; type when you finished")
	_, err = clock.Out(ctx, c.Book, c.Cato, clock.ClockOut{Finish: "half past"})
	apptest.Refusal(t, err, refuse.KindInvalid, "finish", "is not a time of day")
	page, err := clock.Out(ctx, c.Book, c.Cato, clock.ClockOut{Finish: "3:30"})
	require.NoError(t, err)
	assert.Equal(t, "6:58 to 15:30, 8.53 h", page.Days[0].Entries[0].Reading)

	_, err = clock.In(ctx, c.Book, c.Cato, clock.ClockIn{Key: "key-of-wednesday", JobID: c.Job})
	require.NoError(t, err)
	_, err = clock.Out(ctx, c.Book, c.Cato, clock.ClockOut{Finish: "16:00"})
	apptest.Refusal(t, err, refuse.KindInvalid, "finish", "has not come yet")
	page, err = clock.Out(ctx, c.Book, c.Cato, clock.ClockOut{})
	require.NoError(t, err)
	assert.Empty(t, page.Days[2].Entries, "nothing worked is no entry")
}

func TestAWorkerSeesAndChangesOnlyTheirOwnHours(t *testing.T) {
	c := apptest.NewClocked(t)
	theirs := c.Edit("8")
	theirs.WorkerID, theirs.Date = c.Bess, "2026-11-23"
	_, err := timesheet.SaveCells(ctx, c.Book, c.Owner, timesheet.SheetQuery{Week: "2026-11-23"}, []timesheet.CellEdit{theirs})
	require.NoError(t, err)
	sheet, err := timesheet.Week(ctx, c.Book, c.Owner, timesheet.SheetQuery{Week: "2026-11-23"})
	require.NoError(t, err)
	page, err := clock.Page(ctx, c.Book, c.Cato, "")
	require.NoError(t, err)
	assert.Empty(t, page.Days[0].Entries)
	assert.Empty(t, page.Places, "another crew's jobs are not theirs")
	_, err = clock.Change(ctx, c.Book, c.Cato, sheet.Lines[0].Cells[0].EntryID, clock.OwnChange{Version: 1, Text: "1"})
	apptest.Refusal(t, err, refuse.KindNotFound, "", "there is no such entry")

	page, err = clock.FillIn(ctx, c.Book, c.Cato, clock.OwnHours{Key: "key-of-a-hole", Date: "2026-11-23", Text: "7-3:30/30", JobID: c.Job})
	require.NoError(t, err)
	own := page.Days[0].Entries[0]
	page, err = clock.Change(ctx, c.Book, c.Cato, own.ID, clock.OwnChange{Version: own.Version, Text: "7-4/30"})
	require.NoError(t, err)
	assert.Equal(t, "8.50", page.Hours)
	_, err = clock.FillIn(ctx, c.Book, c.Cato, clock.OwnHours{Key: "key-of-tomorrow", Date: "2026-11-24", Text: "8", JobID: c.Job})
	apptest.Refusal(t, err, refuse.KindInvalid, "date", "has not come yet")
	for _, call := range []func() error{
		func() error { _, err := timesheet.Week(ctx, c.Book, c.Cato, timesheet.SheetQuery{}); return err },
		func() error { _, err := register.ChoicesFor(ctx, c.Book, c.Cato); return err },
		func() error { _, err := timesheet.Entries(ctx, c.Book, c.Cato, timesheet.ListQuery{}); return err },
		func() error { _, err := c.Listen(c.Cato); return err },
	} {
		apptest.Refusal(t, call(), refuse.KindForbidden, "", "not allowed")
	}
	_, err = clock.Page(ctx, c.Book, c.Owner, "")
	apptest.Refusal(t, err, refuse.KindForbidden, "", "no hours of your own")
}

func TestAForemanIsKeptToTheCrew(t *testing.T) {
	c := apptest.NewClocked(t)
	_, err := access.AddUser(ctx, c.Book, c.Owner, access.NewUser{
		Name: "Greta", SignIn: "greta", Password: "a few words here", Role: book.Foreman, Crew: "Deck",
	})
	require.NoError(t, err)
	greta, err := access.SignIn(ctx, c.Book, "greta", "a few words here")
	require.NoError(t, err)
	_, err = c.Save(c.Edit("8"))
	require.NoError(t, err)
	sheet, err := timesheet.Week(ctx, c.Book, greta, timesheet.SheetQuery{Week: week})
	require.NoError(t, err)
	assert.Empty(t, sheet.Lines)
	require.Len(t, sheet.Members, 1)
	assert.Equal(t, "Bess Tarrow", sheet.Members[0].Name)
	_, err = timesheet.Week(ctx, c.Book, greta, timesheet.SheetQuery{Week: week, Crew: "Pile"})
	apptest.Refusal(t, err, refuse.KindForbidden, "", "you see the hours of Deck only")
	_, err = timesheet.SaveCells(ctx, c.Book, greta, timesheet.SheetQuery{Week: week}, []timesheet.CellEdit{c.Edit("9")})
	apptest.Refusal(t, err, refuse.KindForbidden, "", "not in Deck")
	_, err = timesheet.SaveWorkdays(
		ctx, c.Book, greta, timesheet.DayQuery{Date: week}, []timesheet.WorkdayEdit{{WorkerID: c.Worker, Text: "7-4"}},
	)
	apptest.Refusal(t, err, refuse.KindForbidden, "", "not in Deck")
	_, err = apptest.HandIn(c.Book, greta, timesheet.SheetQuery{Week: week, Crew: "Pile"}, false)
	apptest.Refusal(t, err, refuse.KindForbidden, "", "Deck only")
	whole, err := timesheet.Week(ctx, c.Book, c.Owner, timesheet.SheetQuery{Week: week})
	require.NoError(t, err)
	_, err = history.OfEntry(ctx, c.Book, greta, whole.Lines[0].Cells[0].EntryID)
	apptest.Refusal(t, err, refuse.KindForbidden, "", "not in Deck")
	today, err := today.Sheet(ctx, c.Book, greta, today.TodayQuery{Week: week})
	require.NoError(t, err)
	require.Len(t, today.Week, 1)
	assert.Equal(t, "Deck", today.Week[0].Crew)
}

func TestTheLastOwnerStays(t *testing.T) {
	c := apptest.NewClocked(t)
	users, err := access.Users(ctx, c.Book, c.Owner)
	require.NoError(t, err)
	require.Len(t, users, 2)
	apptest.Refusal(
		t, access.ChangeUser(ctx, c.Book, c.Owner, c.Owner.UserID, access.UserChange{Version: 1}), refuse.KindConflict, "", "the last owner",
	)
	require.NoError(t, access.ChangeUser(ctx, c.Book, c.Owner, c.Cato.UserID, access.UserChange{Version: 1, Active: false}))
	_, err = access.SignIn(ctx, c.Book, "cato", "a few words here")
	apptest.Refusal(t, err, refuse.KindUnauthorized, "", "not right")
	again := access.UserChange{Version: 2, Active: true, Password: "other words here"}
	require.NoError(t, access.ChangeUser(ctx, c.Book, c.Owner, c.Cato.UserID, again))
	_, err = access.SignIn(ctx, c.Book, "cato", "other words here")
	require.NoError(t, err)
	bookkeeper := book.Actor{UserID: 1, Name: "Ada", Role: book.Bookkeeper}
	_, err = access.Users(ctx, c.Book, bookkeeper)
	apptest.Refusal(t, err, refuse.KindForbidden, "", "not allowed")
}

// setZone says in which time zone the company is, on a version of its settings.
func setZone(t *testing.T, c *apptest.Clocked, who book.Actor, zone string, version int64) error {
	t.Helper()
	settings, err := company.Get(ctx, c.Book, c.Owner)
	require.NoError(t, err)
	settings.TimeZone, settings.Version = zone, version
	return company.Change(ctx, c.Book, who, settings)
}

// zoned is a crew in a place whose clocks change, with Cato clocked in at a moment there.
func zoned(t *testing.T, zone, in string) (*apptest.Clocked, *time.Location) {
	t.Helper()
	c := apptest.NewClocked(t)
	require.NoError(t, setZone(t, c, c.Owner, zone, 1))
	place, err := time.LoadLocation(zone)
	require.NoError(t, err)
	c.Now, err = time.ParseInLocation("2006-01-02 15:04", in, place)
	require.NoError(t, err)
	c.Now = c.Now.UTC() // the server's clock is somewhere else
	_, err = clock.In(ctx, c.Book, c.Cato, c.Place)
	require.NoError(t, err)
	return c, place
}

// On a night on which the clocks change a shift has the hours that were worked, not those between the times of day.
func TestANightOnWhichTheClocksChangeHasItsHours(t *testing.T) {
	for name, night := range map[string]struct{ zone, in, hours, reading, note string }{
		"spring, an hour less": {"America/Chicago", "2026-03-07 22:00", "7", "7 h", "22:00 to 6:00, while the clocks changed"},
		"autumn, an hour more": {"Europe/Oslo", "2026-10-24 22:00", "9", "9 h", "22:00 to 6:00, while the clocks changed"},
		"any other night":      {"America/Chicago", "2026-03-14 22:00", "8", "22:00 to 6:00, 8 h", ""},
	} {
		c, place := zoned(t, night.zone, night.in)
		began := c.Now.In(place)
		c.Now = time.Date(began.Year(), began.Month(), began.Day()+1, 6, 0, 30, 0, place).UTC()
		page, err := clock.Page(ctx, c.Book, c.Cato, "")
		require.NoError(t, err)
		assert.Equal(t, began.AddDate(0, 0, 1).Format(time.DateOnly), page.Today, name)
		_, err = clock.Out(ctx, c.Book, c.Cato, clock.ClockOut{})
		require.NoError(t, err)
		page, err = clock.Page(ctx, c.Book, c.Cato, began.Format(time.DateOnly))
		require.NoError(t, err)
		var worked clock.OwnDay
		for _, day := range page.Days {
			if len(day.Entries) > 0 {
				worked = day
			}
		}
		assert.Equal(t, began.Format(time.DateOnly), worked.Date, name)
		assert.Equal(
			t, []string{night.hours, night.reading, night.note}, []string{worked.Hours, worked.Entries[0].Reading, worked.Entries[0].Note}, name,
		)
	}
}

func TestABreakOnSuchANightIsAsLongAsItWas(t *testing.T) {
	c, place := zoned(t, "America/Chicago", "2026-03-07 22:00")
	for _, at := range []struct {
		hour, minute int
		on           bool
	}{{1, 50, true}, {3, 10, false}} { // 20 minutes, though the clocks show 80
		c.Now = time.Date(2026, time.March, 8, at.hour, at.minute, 0, 0, place)
		_, err := clock.Break(ctx, c.Book, c.Cato, clock.ClockBreak{On: at.on})
		require.NoError(t, err)
	}
	c.Now = time.Date(2026, time.March, 8, 6, 0, 0, 0, place)
	_, err := clock.Out(ctx, c.Book, c.Cato, clock.ClockOut{})
	require.NoError(t, err)
	page, err := clock.Page(ctx, c.Book, c.Cato, "2026-03-07")
	require.NoError(t, err)
	assert.Equal(
		t, []string{"6.67", "22:00 to 6:00, while the clocks changed; 20 minutes of break"}, []string{page.Hours, page.Days[5].Entries[0].Note},
	)
}

func TestTodayIsTheDayWhereTheCompanyIs(t *testing.T) {
	c := apptest.NewClocked(t)
	c.Now = time.Date(2026, time.November, 24, 3, 0, 0, 0, time.UTC)
	day := func() string {
		t.Helper()
		today, err := c.Today(ctx)
		require.NoError(t, err)
		page, err := clock.Page(ctx, c.Book, c.Cato, "")
		require.NoError(t, err)
		choices, err := register.ChoicesFor(ctx, c.Book, c.Owner)
		require.NoError(t, err)
		assert.Equal(t, []string{today.String(), today.String()}, []string{page.Today, choices.Company.Today})
		return today.String()
	}
	assert.Equal(t, "2026-11-24", day(), "by the server's clock, until a zone is chosen")
	require.NoError(t, setZone(t, c, c.Owner, "America/Chicago", 1))
	assert.Equal(t, "2026-11-23", day())
	apptest.Refusal(t, setZone(t, c, c.Owner, "Asia/Tokyo", 1), refuse.KindConflict, "", "changed the company's settings")
	for _, wrong := range []string{"", "Local", "Chicago", "../etc/passwd"} {
		apptest.Refusal(t, setZone(t, c, c.Owner, wrong, 2), refuse.KindInvalid, "timeZone", "such as America/Chicago")
	}
	apptest.Refusal(t, setZone(t, c, c.Cato, "Asia/Tokyo", 2), refuse.KindForbidden, "", "not allowed")
	apptest.SameInAnotherBook(t, c.Book)
}

// Hours that were worked are kept: also when the clock was set back meanwhile, the job was closed, or the worker has left.
func TestClockingOutLosesNoHours(t *testing.T) {
	c := apptest.NewClocked(t)
	_, err := clock.In(ctx, c.Book, c.Cato, c.Place) // 6:58
	require.NoError(t, err)
	c.At(6, 30)
	_, err = clock.Out(ctx, c.Book, c.Cato, clock.ClockOut{})
	apptest.Refusal(t, err, refuse.KindInvalid, "finish", "the clock has been set back: it is 06:30, and you clocked in at 6:58")
	page, err := clock.Page(ctx, c.Book, c.Cato, "")
	require.NoError(t, err)
	require.NotNil(t, page.Working, "the shift goes on")

	folder := t.TempDir()
	require.NoError(t, os.WriteFile(
		filepath.Join(folder, "jobs.csv"), []byte("number,customer,name,status\n101,ferry,Landing,closed\n"), 0o600,
	))
	apptest.Import(t, c.Book, folder)
	page, err = clock.Out(ctx, c.Book, c.Cato, clock.ClockOut{Finish: "15:00"})
	require.NoError(t, err)
	assert.Nil(t, page.Working)
	assert.Equal(t, "6:58 to 15:00, 8.03 h", page.Days[0].Entries[0].Reading)
	assert.Contains(t, c.LooseEnds(t), "closed", "hours on a closed job are a loose end")
}

// What was pressed without a connection counts from when it was pressed, and once; what is too old is refused.
func TestWhatAPhoneKeptCountsFromWhenItWasPressed(t *testing.T) {
	c := apptest.NewClocked(t)
	c.At(16, 5)
	at := func(hour, minute int) string {
		return time.Date(2026, time.November, 23, hour, minute, 30, 0, time.UTC).Format(time.RFC3339)
	}
	in := c.Place
	in.At = at(7, 0)
	for range 2 { // the answer to the first was lost
		page, err := clock.In(ctx, c.Book, c.Cato, in)
		require.NoError(t, err)
		assert.Equal(t, "7:00", page.Working.Since)
	}
	_, err := clock.Break(ctx, c.Book, c.Cato, clock.ClockBreak{On: true, At: at(12, 0)})
	require.NoError(t, err)
	_, err = clock.Break(ctx, c.Book, c.Cato, clock.ClockBreak{At: at(12, 30)})
	require.NoError(t, err)
	page, err := clock.Out(ctx, c.Book, c.Cato, clock.ClockOut{At: at(15, 30)})
	require.NoError(t, err)
	assert.Nil(t, page.Working)
	assert.Equal(t, "8", page.Days[0].Hours)

	in.Key, in.At = "key-of-afternoon", at(15, 45)
	_, err = clock.In(ctx, c.Book, c.Cato, in)
	require.NoError(t, err)
	page, err = clock.Out(ctx, c.Book, c.Cato, clock.ClockOut{At: at(15, 30)})
	require.NoError(t, err)
	assert.NotNil(t, page.Working, "what ended the stretch before does not end this one")
	for at, said := range map[string]string{"2026-11-22T07:00:00Z": "more than a day ago", "soon": "is not a moment"} {
		_, err = clock.Out(ctx, c.Book, c.Cato, clock.ClockOut{At: at})
		apptest.Refusal(t, err, refuse.KindInvalid, "at", said)
	}
	page, err = clock.Out(ctx, c.Book, c.Cato, clock.ClockOut{At: at(23, 0)})
	require.NoError(t, err)
	assert.Nil(t, page.Working, "a phone that is ahead pressed it now")
}
