package apptest

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"jarvo/internal/app/access"
	"jarvo/internal/app/book"
	"jarvo/internal/app/clock"
	"jarvo/internal/app/people"
)

// Clocked is a crew of two whose clock the test sets.
type Clocked struct {
	*Crew
	Now   time.Time
	Cato  book.Actor
	Bess  int64
	Place clock.ClockIn
}

// NewClocked opens its book, early on a Monday.
func NewClocked(t *testing.T) *Clocked {
	t.Helper()
	c := &Clocked{Now: time.Date(2026, time.November, 23, 6, 58, 0, 0, time.UTC)}
	c.Crew = CrewIn(t, book.New(NewStore(t), func() time.Time { return c.Now }))
	var err error
	c.Bess, err = people.Add(ctx, c.Book, c.Owner, people.NewWorker{
		Name: "Bess Tarrow", Trade: "driver", Crew: "Deck", BurdenClass: "Field", Wage: "30", WageFrom: "2026-01-01",
	})
	require.NoError(t, err)
	_, err = access.AddUser(ctx, c.Book, c.Owner, access.NewUser{
		Name: "Cato", SignIn: "cato", Password: "a few words here", Role: book.Worker, WorkerID: c.Worker,
	})
	require.NoError(t, err)
	c.Cato, err = access.SignIn(ctx, c.Book, "cato", "a few words here")
	require.NoError(t, err)
	c.Place = clock.ClockIn{Key: "key-of-monday", JobID: c.Job}
	return c
}

// At sets the time of the day.
func (c *Clocked) At(hour, minute int) {
	c.Now = time.Date(c.Now.Year(), c.Now.Month(), c.Now.Day(), hour, minute, 0, 0, time.UTC)
}
