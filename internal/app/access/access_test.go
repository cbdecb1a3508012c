package access_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/access"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/company"
	"jarvo/internal/app/refuse"
)

var ctx = context.Background()

// TestABookThatWasBroughtInAsksOnlyWhoKeepsIt opens a book whose company a bundle made: its settings stay.
func TestABookThatWasBroughtInAsksOnlyWhoKeepsIt(t *testing.T) {
	a := apptest.NewBook(t)
	require.NoError(t, apptest.Files{"settings.csv": "key,value\ncompany_name,Quay Works\novertime_daily_hours,7.5"}.BringInto(t, a))
	state, err := access.State(ctx, a)
	require.NoError(t, err)
	assert.Equal(t, []any{true, false, "Quay Works"}, []any{state.Brought, state.Opened, state.CompanyName})
	_, err = access.OpenBook(ctx, a, access.NewBook{Code: a.OpeningCode(), Name: "Ada"})
	apptest.Refusal(t, err, refuse.KindInvalid, "signIn", "is needed")
	owner, err := access.OpenBook(ctx, a, access.NewBook{Code: a.OpeningCode(), Name: "Ada", SignIn: "ada", Password: "a few words here"})
	require.NoError(t, err)
	settings, err := company.Get(ctx, a, owner)
	require.NoError(t, err)
	assert.Equal(t, []string{"Quay Works", "7.5"}, []string{settings.Name, settings.OvertimeDaily})
}

// TestARoleIsChanged makes a foreman a manager, which ends what they are signed in with, and keeps the last owner one.
func TestARoleIsChanged(t *testing.T) {
	c := apptest.NewCrew(t)
	greta, err := access.AddUser(ctx, c.Book, c.Owner, access.NewUser{
		Name: "Greta", SignIn: "greta", Password: "other words here", Role: "foreman", Crew: "Pile",
	})
	require.NoError(t, err)
	change := access.UserChange{Version: 1, Active: true, Name: "Greta P.", Role: "manager", Crew: "Pile"}
	apptest.Refusal(t, access.ChangeUser(ctx, c.Book, c.Owner, greta, change), refuse.KindInvalid, "crew", "only a foreman")
	change.Crew = ""
	require.NoError(t, access.ChangeUser(ctx, c.Book, c.Owner, greta, change))
	apptest.Refusal(t, access.ChangeUser(ctx, c.Book, c.Owner, greta, change), refuse.KindConflict, "", "somebody else has changed")
	actor, err := access.SignIn(ctx, c.Book, "greta", "other words here")
	require.NoError(t, err)
	assert.Equal(t, []any{"Greta P.", "manager", int64(2)}, []any{actor.Name, string(actor.Role), actor.Generation})
	last := access.UserChange{Version: 1, Active: true, Role: "bookkeeper"}
	apptest.Refusal(t, access.ChangeUser(ctx, c.Book, c.Owner, c.Owner.UserID, last), refuse.KindConflict, "", "the last owner")
}
