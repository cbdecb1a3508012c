package book_test

import (
	"context"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/people"
	"jarvo/internal/core/calendar"
	"jarvo/internal/store"
)

var ctx = context.Background()

// Who begins the costing step and does not run it has changed what costs rest on and left the costs as they were: nothing of it is kept.
func TestAUseCaseThatForgetsItsCostingStepIsTakenBack(t *testing.T) {
	c := apptest.NewCrew(t)
	forget := func(s *book.Session) error {
		run, forgotten := costing.Begin(s), costing.Begin(s)
		forgotten.Entry(c.Worker, s.Today())
		if err := run.Run(); err != nil { // one of two
			return err
		}
		return s.Run("UPDATE workers SET name = 'Nobody'")
	}
	assert.ErrorContains(t, book.Change(ctx, c.Book, c.Owner, book.Setup, forget), "costing")
	sheet, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	assert.Equal(t, "Cato Brandl", sheet.Lines[0].Worker.Name)
}

// A use case is not run for who may not do it.
func TestAUseCaseAsksForItsPermission(t *testing.T) {
	c := apptest.NewCrew(t)
	foreman := book.Actor{Name: "Finn", Role: book.Foreman}
	_, err := people.Add(ctx, c.Book, foreman, people.NewWorker{Name: "Bess"})
	assert.ErrorContains(t, err, "not allowed")
}

// The week of a date is the same in SQL as in the core, whatever day the company's week begins on, also before 1970.
func TestTheWeekOfADateIsTheSameInSQL(t *testing.T) {
	c := apptest.NewCrew(t)
	for _, first := range []string{"sunday", "monday", "tuesday", "wednesday", "thursday", "friday", "saturday"} {
		require.NoError(t, book.Change(ctx, c.Book, c.Owner, book.Setup, func(s *book.Session) error {
			return s.Run("UPDATE company SET week_start = ?", first)
		}))
		for date := calendar.On(1969, 12, 20); date < calendar.On(1970, 1, 15); date++ {
			week, err := book.Read(ctx, c.Book, c.Owner, book.Setup, func(s *book.Session) (calendar.Date, error) {
				assert.Equal(t, first, strings.ToLower(book.WeekStart(s.Company).String()))
				return store.Value[calendar.Date](s.Tx, "SELECT "+book.WeekOf("d")+" FROM (SELECT ? AS d)", date)
			})
			require.NoError(t, err)
			weekday, err := calendar.ParseWeekday(first)
			require.NoError(t, err)
			assert.Equal(t, date.WeekStart(weekday), week, "%s, weeks from %s", date, first)
		}
	}
}
