package book_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/people"
)

var ctx = context.Background()

// Who begins the costing step and does not run it has changed what costs rest on and left the costs as they were: nothing of it is kept.
func TestAUseCaseThatForgetsItsCostingStepIsTakenBack(t *testing.T) {
	c := apptest.NewCrew(t)
	forget := func(s *book.Session) error {
		costing.Begin(s).Entry(c.Worker, s.Today())
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
