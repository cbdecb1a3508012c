package app_test

import (
	"context"
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/approve"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/customers"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/people"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/suppliers"
)

// altered runs a change, or only tries it, and says what it alters.
func altered(t *testing.T, try bool, change func(context.Context) error) costing.Altered {
	t.Helper()
	var out costing.Altered
	require.NoError(t, change(book.Watch(ctx, try, func(s *book.Session) { out = costing.AlteredIn(s) })))
	out.ByWorker = nil // the sums are what is compared
	return out
}

// setup is the Setup tab today.
func setup(t *testing.T, c *apptest.Crew) rates.SetupSheet {
	t.Helper()
	sheet, err := rates.Setup(ctx, c.Book, c.Owner, "", 0, 0)
	require.NoError(t, err)
	return sheet
}

// TestAWageIsCorrectedWhileNothingBilledRestsOnIt tries a correction, makes it, and is refused once the hours are billed: then only a later
// wage is added.
func TestAWageIsCorrectedWhileNothingBilledRestsOnIt(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	wage := setup(t, c).Workers[0].Wages[0]
	in := rates.NewWage{Rate: "35", From: "2026-01-01", Version: wage.Version}
	correct := func(ctx context.Context) error { return rates.ChangeWage(ctx, c.Book, c.Owner, wage.ID, in) }

	tried := altered(t, true, correct)
	assert.Equal(t, costing.Altered{
		Entries: 1, From: apptest.Week, Through: apptest.Week, CostWas: "264.00", Cost: "308.00", ChargeWas: "640.00", Charge: "640.00",
	}, tried)
	assert.Equal(t, "30.00", setup(t, c).Workers[0].Wages[0].Rate, "it was only tried")
	assert.Equal(t, tried, altered(t, false, correct), "what was shown is what is done")
	apptest.Refusal(t, correct(ctx), refuse.KindConflict, "", "somebody else has changed this wage")

	c.Approve(t)
	draft, err := c.Draft(t)
	require.NoError(t, err)
	_, err = billing.Issue(ctx, c.Book, c.Owner, draft.ID, draft.Version)
	require.NoError(t, err)
	in.Version++
	apptest.Refusal(t, correct(ctx), refuse.KindConflict, "", "billed work rests on this wage, so it stays; add another one with a later date")
	apptest.Refusal(t, rates.DeleteWage(ctx, c.Book, c.Owner, wage.ID, in.Version), refuse.KindConflict, "", "billed work rests on")
	require.NoError(t, rates.AddWage(ctx, c.Book, c.Owner, rates.NewWage{WorkerID: c.Worker, Rate: "36", From: "2026-11-17"}))
	later := setup(t, c).Workers[0].Wages[0]
	require.NoError(t, rates.DeleteWage(ctx, c.Book, c.Owner, later.ID, later.Version), "nothing billed rests on that one")
	apptest.Verified(t, c.Book)
	apptest.SameInAnotherBook(t, c.Book)
}

// TestRatesBurdensAndMarkupsAreCorrected corrects one of each, and takes one away.
func TestRatesBurdensAndMarkupsAreCorrected(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	c.Paper(t, "B-1", c.Board())
	s := setup(t, c)
	effect := altered(t, false, func(ctx context.Context) error {
		return rates.ChangeLabourRate(ctx, c.Book, c.Owner, s.Labour[0].ID, rates.NewLabourRate{
			Version: 1, Trade: "driver", Method: "hourly", Value: "90", From: "2026-01-01",
		})
	})
	assert.Equal(t, []string{"640.00", "720.00"}, []string{effect.ChargeWas, effect.Charge})
	effect = altered(t, false, func(ctx context.Context) error {
		return rates.ChangeBurden(ctx, c.Book, c.Owner, s.Burdens[0].ID, rates.NewBurden{
			Version: 1, Class: "Field", Name: "Contributions", From: "2026-01-01", Basis: "gross", Value: "20",
		})
	})
	assert.Equal(t, []string{"264.00", "288.00"}, []string{effect.CostWas, effect.Cost})
	effect = altered(t, false, func(ctx context.Context) error { return rates.DeleteMarkup(ctx, c.Book, c.Owner, s.Markups[0].ID, 1) })
	assert.Equal(t, costing.Altered{
		Lines: 1, From: apptest.Week, Through: apptest.Week, CostWas: "200.00", Cost: "200.00", ChargeWas: "240.00", Charge: "200.00",
	}, effect)
	assert.Contains(t, c.LooseEnds(t), "no_markup")
	apptest.Verified(t, c.Book)
	apptest.SameInAnotherBook(t, c.Book)
}

// TestAWorkerWhoHasLeftIsInReportsAndNotOffered changes a worker, lets them go, and can't delete them: hours rest on them.
func TestAWorkerWhoHasLeftIsInReportsAndNotOffered(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	in := people.WorkerChange{Version: 1, Name: "Cato Brand", Trade: "driver", Crew: "Pile", Kind: "employee", Active: true}
	effect := altered(t, true, func(ctx context.Context) error { return people.Change(ctx, c.Book, c.Owner, c.Worker, in) })
	assert.Equal(t, []string{"264.00", "240.00"}, []string{effect.CostWas, effect.Cost}, "no burden class any more")
	in.BurdenClass, in.Active = "Field", false
	require.NoError(t, people.Change(ctx, c.Book, c.Owner, c.Worker, in))
	choices, err := register.ChoicesFor(ctx, c.Book, c.Owner)
	require.NoError(t, err)
	assert.Empty(t, choices.Workers)
	assert.Contains(t, apptest.ReportText(t, c.Book, "labour"), "cato-brandl")
	err = people.Delete(ctx, c.Book, c.Owner, c.Worker, 2)
	apptest.Refusal(t, err, refuse.KindConflict, "", "in use, so it stays; mark them as having left")
	other := c.Hire(t, "Typo")
	require.NoError(t, people.Delete(ctx, c.Book, c.Owner, other, 1), "nothing rests on them but a wage")
	apptest.Verified(t, c.Book)
	apptest.SameInAnotherBook(t, c.Book)
}

// TestAJobIsPutRight renames a job, gives it phases and another basis while it is on a draft, and keeps its number once it is billed.
func TestAJobIsPutRight(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	c.Approve(t)
	_, err = c.Draft(t)
	require.NoError(t, err)
	folder := func() jobs.JobFolder {
		f, err := jobs.Folder(ctx, c.Book, c.Owner, "101")
		require.NoError(t, err)
		return f
	}
	in := folder().Typed
	in.Name, in.Basis, in.Contract, in.Phases = "Landing stage", "fixed", "5000", []jobs.NewPhase{{Code: "10", Name: "Piles"}, {Code: "20"}}
	effect := altered(t, false, func(ctx context.Context) error { return jobs.Change(ctx, c.Book, c.Owner, "101", in) })
	assert.Equal(t, []string{"640.00", "0.00"}, []string{effect.ChargeWas, effect.Charge})
	sheet, err := billing.Sheet(ctx, c.Book, c.Owner, scope.ScopeQuery{})
	require.NoError(t, err)
	assert.Empty(t, sheet.Drafts, "what was on the draft is not billed by the hour any more")
	in = folder().Typed
	assert.Len(t, in.Phases, 2)
	in.Basis, in.Contract, in.Phases = "tm", "", in.Phases[:1]
	require.NoError(t, jobs.Change(ctx, c.Book, c.Owner, "101", in))
	draft, err := c.Draft(t)
	require.NoError(t, err)
	_, err = billing.Issue(ctx, c.Book, c.Owner, draft.ID, draft.Version)
	require.NoError(t, err)
	in = folder().Typed
	in.Number = " "
	apptest.Refusal(t, jobs.Change(ctx, c.Book, c.Owner, "101", in), refuse.KindInvalid, "number", "a number is needed")
	in.Number = "102"
	apptest.Refusal(t, jobs.Change(ctx, c.Book, c.Owner, "101", in), refuse.KindInvalid, "number", "on an invoice under its number")
	apptest.Refusal(t, jobs.Delete(ctx, c.Book, c.Owner, "101", in.Version), refuse.KindConflict, "", "close it instead")
	apptest.Refusal(t, customers.Delete(ctx, c.Book, c.Owner, in.CustomerID, 1), refuse.KindConflict, "", "retire it instead")
	require.NoError(t, customers.Change(ctx, c.Book, c.Owner, in.CustomerID, customers.CustomerChange{
		Version: 1, NewCustomer: customers.NewCustomer{Name: "Ferry Trust", TermsDays: "10"},
	}))
	choices, err := register.ChoicesFor(ctx, c.Book, c.Owner)
	require.NoError(t, err)
	assert.True(t, choices.Customers[0].Retired)
	apptest.Verified(t, c.Book)
	apptest.SameInAnotherBook(t, c.Book)
}

// TestRandomEditsKeepTheBook makes many edits at random, half of which are refused: what is derived agrees with what it is derived from,
// and the book goes out and comes in the same.
func TestRandomEditsKeepTheBook(t *testing.T) {
	for seed := range uint64(4) {
		c := apptest.NewCrew(t)
		r := rand.New(rand.NewPCG(seed, 12))
		for day, text := range []string{"8", "10", "6"} {
			edit := c.Edit(text)
			edit.Date = fmt.Sprintf("2026-11-%d", 16+day)
			_, err := c.Save(edit)
			require.NoError(t, err)
		}
		c.Paper(t, "B-1", c.Board())
		c.Hire(t, "Dina")
		if seed%2 == 0 {
			c.Approve(t)
			_, err := c.Draft(t)
			require.NoError(t, err)
		}
		for range 60 {
			edit(t, c, r)
		}
		apptest.Verified(t, c.Book)
		apptest.SameInAnotherBook(t, c.Book)
	}
}

// edit changes, retires or deletes something at random; a refusal is as good as a change.
func edit(t *testing.T, c *apptest.Crew, r *rand.Rand) {
	t.Helper()
	s := setup(t, c)
	date := fmt.Sprintf("2026-%02d-%02d", 10+r.IntN(2), 1+r.IntN(28))
	value := fmt.Sprint(20 + r.IntN(60))
	worker := s.Workers[r.IntN(len(s.Workers))]
	var err error
	switch r.IntN(14) {
	case 0:
		err = rates.AddWage(ctx, c.Book, c.Owner, rates.NewWage{WorkerID: worker.ID, Rate: value, From: date})
	case 1:
		if len(worker.Wages) > 0 {
			w := worker.Wages[r.IntN(len(worker.Wages))]
			err = rates.ChangeWage(ctx, c.Book, c.Owner, w.ID, rates.NewWage{Rate: value, From: date, Version: w.Version})
		}
	case 2:
		if len(worker.Wages) > 0 {
			err = rates.DeleteWage(ctx, c.Book, c.Owner, worker.Wages[0].ID, worker.Wages[0].Version)
		}
	case 3:
		err = people.Change(ctx, c.Book, c.Owner, worker.ID, people.WorkerChange{
			Version: worker.Version, Name: worker.Name, Trade: []string{"driver", "diver"}[r.IntN(2)], Crew: "Pile",
			BurdenClass: []string{"Field", ""}[r.IntN(2)], Kind: "employee", Exempt: r.IntN(2) == 0, Active: r.IntN(4) > 0,
		})
	case 4:
		err = people.Delete(ctx, c.Book, c.Owner, worker.ID, worker.Version)
	case 5:
		if len(s.Labour) > 0 {
			l := s.Labour[r.IntN(len(s.Labour))]
			err = rates.ChangeLabourRate(ctx, c.Book, c.Owner, l.ID, rates.NewLabourRate{
				Version: l.Version, Trade: []string{"driver", ""}[r.IntN(2)], Method: []string{"hourly", "markup"}[r.IntN(2)], Value: value, From: date,
			})
		}
	case 6:
		if len(s.Markups) > 0 {
			err = rates.DeleteMarkup(ctx, c.Book, c.Owner, s.Markups[0].ID, s.Markups[0].Version)
		} else {
			err = rates.AddMarkup(ctx, c.Book, c.Owner, rates.NewMarkup{From: date, Category: "material", Percent: value})
		}
	case 7:
		f, folderErr := jobs.Folder(ctx, c.Book, c.Owner, "101")
		require.NoError(t, folderErr)
		f.Typed.Basis = []string{"tm", "fixed", "none"}[r.IntN(3)]
		f.Typed.Retainage, f.Typed.Card = fmt.Sprint(r.IntN(10)), []string{"", "Own"}[r.IntN(2)]
		err = jobs.Change(ctx, c.Book, c.Owner, "101", f.Typed)
	case 9:
		_, err = costs.Save(ctx, c.Book, c.Owner, costs.Document{
			Kind: "receipt", Supplier: []string{"Bellhaven", "Bellhavn", "Ostrea"}[r.IntN(3)], Number: fmt.Sprint(r.IntN(3)), Date: date,
			Freight: fmt.Sprint(r.IntN(20)), Lines: []costs.Line{c.Board(), c.Board()},
		})
	case 10:
		list, listErr := costs.List(ctx, c.Book, c.Owner, scope.ScopeQuery{})
		require.NoError(t, listErr)
		paper, paperErr := costs.Get(ctx, c.Book, c.Owner, list.Documents[r.IntN(len(list.Documents))].ID)
		require.NoError(t, paperErr)
		switch paper.Status {
		case "draft":
			_, err = costs.HandIn(ctx, c.Book, c.Owner, paper.ID, paper.Version)
		case "submitted":
			_, err = approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Documents: []approve.Seen{{ID: paper.ID, Version: paper.Version}}})
		default:
			err = costs.Void(ctx, c.Book, c.Owner, paper.ID, costs.Voiding{Version: paper.Version, Reason: "a slip"})
		}
	case 11:
		list, listErr := suppliers.List(ctx, c.Book, c.Owner)
		require.NoError(t, listErr)
		one, other := list[r.IntN(len(list))], list[r.IntN(len(list))]
		err = suppliers.MergeInto(ctx, c.Book, c.Owner, one.ID, register.Merge{
			Version: one.Version, Into: other.ID, IntoVersion: other.Version,
		})
	case 12:
		list, listErr := suppliers.List(ctx, c.Book, c.Owner)
		require.NoError(t, listErr)
		one := list[r.IntN(len(list))]
		err = suppliers.Change(ctx, c.Book, c.Owner, one.ID, suppliers.SupplierChange{
			Version: one.Version, Active: r.IntN(2) == 0,
			NewSupplier: suppliers.NewSupplier{Name: []string{"Bellhaven", "Ostrea", "Northquay"}[r.IntN(3)], TermsDays: fmt.Sprint(r.IntN(40))},
		})
	case 13:
		trade := s.Trades[r.IntN(len(s.Trades))]
		now := people.TradeChange{Name: "hand " + value, Version: trade.Version, Active: r.IntN(3) > 0}
		err = people.ChangeTrade(ctx, c.Book, c.Owner, trade.ID, now)
	case 8:
		customer := s.Customers[0]
		err = customers.Change(ctx, c.Book, c.Owner, customer.ID, customers.CustomerChange{
			Version: customer.Version, Active: r.IntN(2) == 0,
			NewCustomer: customers.NewCustomer{Name: "Ferry", Card: []string{"", "Theirs"}[r.IntN(2)]},
		})
	}
	if _, refused := refuse.AsError(err); err != nil && !refused {
		require.NoError(t, err)
	}
}
