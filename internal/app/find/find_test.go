package find_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/find"
	"jarvo/internal/app/scope"
)

var ctx = context.Background()

// found are the titles that somebody finds, each with what it links to.
func found(t *testing.T, a *book.Book, who book.Actor, text string) map[string]string {
	t.Helper()
	answer, err := find.Find(ctx, a, who, find.Question{Text: text})
	require.NoError(t, err)
	out := map[string]string{}
	for _, f := range answer.Found {
		out[f.Title+", "+f.Detail] = f.Link.Kind + " " + f.Link.ID
	}
	return out
}

func TestRecordsAreFoundByAllTheWordsThatAreTyped(t *testing.T) {
	c := apptest.NewCrew(t)
	c.Paper(t, "PM-20418", c.Board())
	c.Paper(t, "PM-20500", c.Board())
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	c.Approve(t)
	draft, err := c.Draft(t)
	require.NoError(t, err)
	assert.Equal(t, map[string]string{"Draft invoice, Ferry": "draft 1"}, found(t, c.Book, c.Owner, "draft ferr"))
	_, err = billing.Issue(ctx, c.Book, c.Owner, draft.ID, draft.Version)
	require.NoError(t, err)

	assert.Equal(t, map[string]string{"Invoice 1001, Ferry": "invoice 1"}, found(t, c.Book, c.Owner, "1001"))
	assert.Equal(t, map[string]string{"Invoice 1001, Ferry": "invoice 1", "Ferry, Customer ferry": "customer 1"},
		found(t, c.Book, c.Owner, "ferry"))
	assert.Equal(t, map[string]string{"Bellhaven PM-20418, Supplier's invoice": "cost_document 1"}, found(t, c.Book, c.Owner, "bell 20418"))
	assert.Contains(t, found(t, c.Book, c.Owner, "bellhaven"), "Bellhaven, Supplier, 2 papers")
	assert.Equal(t, map[string]string{"Cato Brandl, Worker, driver, Pile": "worker 1"}, found(t, c.Book, c.Owner, "cato"))
	for _, nothing := range []string{"", "c", "% %", "_____", "cato ferry"} {
		assert.Empty(t, found(t, c.Book, c.Owner, nothing), "%q", nothing)
	}
}

// What comes to an amount is found by it: an invoice, a paper, a payment; not by those who see no money.
func TestRecordsAreFoundByTheirAmount(t *testing.T) {
	c := apptest.NewCrew(t)
	c.Paper(t, "PM-20418", c.Board())
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	c.Approve(t)
	draft, err := c.Draft(t)
	require.NoError(t, err)
	issued, err := billing.Issue(ctx, c.Book, c.Owner, draft.ID, draft.Version)
	require.NoError(t, err)
	apptest.PayFirst(t, c.Book)
	by := func(who book.Actor, amount string) (titles []string) {
		answer, err := find.Find(ctx, c.Book, who, find.Question{Text: amount, Amount: amount})
		require.NoError(t, err)
		for _, f := range answer.Found {
			titles = append(titles, f.Title+", "+f.Detail)
		}
		return titles
	}
	assert.Contains(t, by(c.Owner, issued.Total), "Invoice 1001, Ferry, "+issued.Total)
	assert.Equal(t, []string{"Bellhaven PM-20418, Supplier's invoice, 200.00"}, by(c.Owner, "200.00"))
	payments, err := collect.Payments(ctx, c.Book, c.Owner, scope.ScopeQuery{})
	require.NoError(t, err)
	paid := payments.Payments[0]
	assert.Contains(t, by(c.Owner, paid.Amount), "Payment of Ferry, "+paid.Amount, "paid without a method")
	assert.Empty(t, by(book.Actor{Role: book.Foreman, Crew: "Pile"}, "200.00"))
	assert.Empty(t, by(c.Owner, "12.345"), "no amount of this currency")
}

func TestNobodyFindsWhatIsNotTheirs(t *testing.T) {
	c := apptest.NewCrew(t)
	c.Paper(t, "PM-20418", c.Board())
	assert.Empty(t, found(t, c.Book, book.Actor{Role: book.Foreman, Crew: "Pile"}, "bellhaven"))
	assert.Empty(t, found(t, c.Book, book.Actor{Role: book.Manager}, "customer"))
	assert.Empty(t, found(t, c.Book, book.Actor{Role: book.Foreman, Crew: "Dive"}, "cato"))
	assert.Equal(t, map[string]string{"Cato Brandl, Worker, driver, Pile": "crew "},
		found(t, c.Book, book.Actor{Role: book.Foreman, Crew: "Pile"}, "cato"))
	_, err := find.Find(ctx, c.Book, book.Actor{Role: book.Worker}, find.Question{Text: "cato"})
	assert.Error(t, err)
}
