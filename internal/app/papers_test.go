package app_test

import (
	"context"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/approve"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/company"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/looseends"
	"jarvo/internal/app/pages"
	"jarvo/internal/app/people"
	"jarvo/internal/app/pricelist"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/suppliers"
	"jarvo/internal/store"
)

// supplierNamed is a supplier of the list.
func supplierNamed(t *testing.T, c *apptest.Crew, name string) suppliers.SupplierRow {
	t.Helper()
	list, err := suppliers.List(ctx, c.Book, c.Owner)
	require.NoError(t, err)
	for _, s := range list {
		if s.Name == name {
			return s
		}
	}
	require.Failf(t, "no such supplier", "%s in %v", name, list)
	return suppliers.SupplierRow{}
}

// page is the page of a record.
func page(t *testing.T, c *apptest.Crew, kind string, id int64) pages.Page {
	t.Helper()
	p, err := pages.Of(ctx, c.Book, c.Owner, pages.Asked{Kind: kind, ID: id})
	require.NoError(t, err)
	return p
}

func approvePaper(t *testing.T, c *apptest.Crew, id int64) costs.Document {
	t.Helper()
	require.NoError(t, apptest.ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, id)})))
	d, err := costs.Get(ctx, c.Book, c.Owner, id)
	require.NoError(t, err)
	return d
}

// TestTwoSuppliersThatAreOneAreMerged types a name two ways: the doubles are seen as one supplier's once they are merged, and what was
// set aside of it stays so.
func TestTwoSuppliersThatAreOneAreMerged(t *testing.T) {
	c := apptest.NewCrew(t)
	first := c.Paper(t, "B-1", c.Board())
	asked := costs.Document{Kind: "supplier_invoice", Supplier: "Bellhavn", Date: apptest.Week, Number: "B-1", Lines: []costs.Line{c.Board()}}
	preview, err := costs.Preview(ctx, c.Book, c.Owner, asked)
	require.NoError(t, err)
	assert.Contains(t, preview.Warnings, "Bellhavn is a new supplier; is it Bellhaven?")
	double, err := costs.Save(ctx, c.Book, c.Owner, asked)
	require.NoError(t, err)
	asked.Supplier, asked.Number = " BELLHAVEN ", "B-2"
	same, err := costs.Save(ctx, c.Book, c.Owner, asked)
	require.NoError(t, err)
	assert.Equal(t, "Bellhaven", same.Supplier, "capitals make no other supplier")

	assert.NotContains(t, c.LooseEnds(t), "twice")
	goes, stays := supplierNamed(t, c, "Bellhavn"), supplierNamed(t, c, "Bellhaven")
	merge := register.Merge{Version: goes.Version, Into: stays.ID, IntoVersion: stays.Version + 1}
	apptest.Refusal(t, suppliers.MergeInto(ctx, c.Book, c.Owner, goes.ID, merge), refuse.KindConflict, "", "somebody else has changed")
	merge.IntoVersion = stays.Version
	require.NoError(t, suppliers.MergeInto(ctx, c.Book, c.Owner, goes.ID, merge))
	assert.EqualValues(t, 3, supplierNamed(t, c, "Bellhaven").Papers)
	assert.Contains(t, c.LooseEnds(t), "twice", "now it is seen that the number was entered twice")
	double, err = costs.Get(ctx, c.Book, c.Owner, double.ID)
	require.NoError(t, err)
	assert.Equal(t, []int64{first.ID}, double.Alike)

	require.NoError(t, looseends.PutAside(ctx, c.Book, c.Owner, looseends.SetAside{
		Kind: "twice", Subject: "Bellhaven B-1", Reason: "two deliveries on one note",
	}))
	renamed := suppliers.SupplierChange{
		Version: stays.Version, Active: true,
		NewSupplier: suppliers.NewSupplier{Name: "Bellhaven Timber", Category: "equipment", TermsDays: "14"},
	}
	require.NoError(t, suppliers.Change(ctx, c.Book, c.Owner, stays.ID, renamed))
	assert.NotContains(t, c.LooseEnds(t), "twice", "what was set aside stays so under the new name")
	double, err = costs.Get(ctx, c.Book, c.Owner, double.ID)
	require.NoError(t, err)
	assert.Equal(t, []string{"Bellhaven Timber", "2026-11-30"}, []string{double.Supplier, double.Due})
	habit, err := costs.HabitOf(ctx, c.Book, c.Owner, "Bellhaven Timber")
	require.NoError(t, err)
	assert.Equal(t, "equipment", habit.Category, "what its record says goes before its last papers")

	p := page(t, c, "supplier", stays.ID)
	assert.Equal(t, []any{"Bellhaven Timber", int64(3), 3}, []any{p.Title, p.Rests[0].Count, len(p.Rows)})
	assert.Equal(t, "took over the papers of Bellhavn", p.History[1].Action)
	apptest.Verified(t, c.Book)
	apptest.SameInAnotherBook(t, c.Book)
}

func TestASupplierIsRetiredOrDeleted(t *testing.T) {
	c := apptest.NewCrew(t)
	c.Paper(t, "B-1", c.Board())
	used := supplierNamed(t, c, "Bellhaven")
	err := suppliers.Delete(ctx, c.Book, c.Owner, used.ID, used.Version)
	apptest.Refusal(t, err, refuse.KindConflict, "", "in use, so it stays; retire it, or merge it into another")
	err = suppliers.Change(ctx, c.Book, c.Owner, used.ID, suppliers.SupplierChange{
		Version: used.Version, NewSupplier: suppliers.NewSupplier{Name: used.Name},
	})
	require.NoError(t, err)
	list, err := costs.List(ctx, c.Book, c.Owner, scope.ScopeQuery{})
	require.NoError(t, err)
	assert.Empty(t, list.Suppliers, "not offered")
	assert.Equal(t, "Bellhaven", list.Documents[0].Title, "and on its papers")

	made, err := suppliers.Add(ctx, c.Book, c.Owner, suppliers.NewSupplier{Name: "Ostrea"})
	require.NoError(t, err)
	_, err = suppliers.Add(ctx, c.Book, c.Owner, suppliers.NewSupplier{Name: "ostrea", TermsDays: "soon"})
	apptest.Refusal(t, err, refuse.KindInvalid, "name", "of this name already")
	apptest.Refusal(t, err, refuse.KindInvalid, "termsDays", "whole number of days")
	require.NoError(t, suppliers.Delete(ctx, c.Book, c.Owner, made, 1))
	apptest.Verified(t, c.Book)
	apptest.SameInAnotherBook(t, c.Book)
}

// TestAnApprovedPaperIsVoidAndTypedAgain makes an approved paper void, with what that alters said before, and types it again.
func TestAnApprovedPaperIsVoidAndTypedAgain(t *testing.T) {
	c := apptest.NewCrew(t)
	nails := costs.Line{Category: "material", Description: "Nails", Quantity: "1", UnitCost: "5"}
	d := approvePaper(t, c, c.Paper(t, "B-1", c.Board(), nails).ID)
	require.Contains(t, c.LooseEnds(t), "no_job")
	voiding := costs.Voiding{Version: d.Version, Reason: "typed for the wrong company"}
	void := func(ctx context.Context) error { return costs.Void(ctx, c.Book, c.Owner, d.ID, voiding) }
	would := altered(t, true, void)
	assert.Equal(t, []any{2, "205.00", "0.00"}, []any{would.Lines, would.CostWas, would.Cost})
	blank := costs.Voiding{Version: d.Version}
	apptest.Refusal(t, costs.Void(ctx, c.Book, c.Owner, d.ID, blank), refuse.KindInvalid, "reason", "why it is void")
	require.NoError(t, void(ctx))

	d, err := costs.Get(ctx, c.Book, c.Owner, d.ID)
	require.NoError(t, err)
	assert.Equal(t, []string{"205.00", "0.00", "0.00", "typed for the wrong company"}, []string{d.Total, d.Landed, d.Charge, d.Void})
	assert.Contains(t, d.Locked, "void")
	assert.Equal(t, []string{"200.00", "0.00", "0.00", "0.00"}, []string{d.Lines[0].Base, d.Lines[0].Landed, d.ByJob[0].Bought, d.Spread})
	assert.ErrorContains(t, c.Store.Write(ctx, func(tx *store.Tx) error {
		return tx.Run("UPDATE cost_lines SET invoice_id = 1 WHERE document_id = ?", d.ID)
	}), "a void paper is never billed")
	assert.NotContains(t, c.LooseEnds(t), "no_job", "nothing is asked of it any more")
	assert.Contains(t, apptest.ReportText(t, c.Book, "costs"), "void,0.00,0.00")
	apptest.Refusal(t, void(ctx), refuse.KindConflict, "", "somebody else has changed")
	voiding.Version = d.Version
	apptest.Refusal(t, void(ctx), refuse.KindConflict, "", "void already")
	decided, err := approve.Decisions(ctx, c.Book, c.Owner)
	require.NoError(t, err)
	assert.Equal(t, "void", decided[0].Now)
	back := approve.Decision{Documents: c.Papers(t, d.ID), Reason: "look again"}
	apptest.Refusal(t, apptest.ErrOf(approve.Return(ctx, c.Book, c.Owner, back)), refuse.KindConflict, "", "void")

	again, err := costs.Save(ctx, c.Book, c.Owner, costs.Document{
		Kind: "supplier_invoice", Supplier: "Bellhaven", Date: apptest.Week, Number: "B-1", Lines: []costs.Line{c.Board()},
	})
	require.NoError(t, err)
	assert.Empty(t, again.Warnings, "the number is free again")
	assert.NotContains(t, c.LooseEnds(t), "twice")
	apptest.Verified(t, c.Book)
	apptest.SameInAnotherBook(t, c.Book)
}

func TestAPaperOnAnInvoiceIsNotMadeVoid(t *testing.T) {
	c := apptest.NewCrew(t)
	d := c.Paper(t, "B-1", c.Board())
	err := costs.Void(ctx, c.Book, c.Owner, d.ID, costs.Voiding{Version: d.Version, Reason: "double"})
	apptest.Refusal(t, err, refuse.KindConflict, "", "not approved yet: change it, or delete it")
	d = approvePaper(t, c, d.ID)
	_, err = c.Draft(t)
	require.NoError(t, err)
	err = costs.Void(ctx, c.Book, c.Owner, d.ID, costs.Voiding{Version: d.Version, Reason: "double"})
	apptest.Refusal(t, err, refuse.KindConflict, "", "drop the draft first")
}

// TestAnItemAndItsPricesAreCorrected mends a mistyped price: what is typed from then on takes the right one, and papers keep theirs.
func TestAnItemAndItsPricesAreCorrected(t *testing.T) {
	c := apptest.NewCrew(t)
	bolt := c.Item(t, "BOLT", "equipment", "68.50", "9.50")
	line := costs.Line{ItemID: bolt, Category: "equipment", Quantity: "1"}
	before := c.Buy(t, "2026-11-16", line)
	list, err := pricelist.List(ctx, c.Book, c.Owner, "")
	require.NoError(t, err)
	price := list[0].Prices[0]
	change := pricelist.PriceChange{
		Version: price.Version, NewItemPrice: pricelist.NewItemPrice{From: "2026-02-01", UnitCost: "6.85", SellPrice: "9.50"},
	}
	require.NoError(t, pricelist.ChangePrice(ctx, c.Book, c.Owner, price.ID, change))
	apptest.Refusal(t, pricelist.ChangePrice(ctx, c.Book, c.Owner, price.ID, change), refuse.KindConflict, "", "somebody else has changed")
	assert.Equal(t, "6.85", c.Buy(t, "2026-11-16", line).Lines[0].UnitCost)
	before, err = costs.Get(ctx, c.Book, c.Owner, before.ID)
	require.NoError(t, err)
	assert.Equal(t, "68.50", before.Lines[0].UnitCost)
	apptest.Refusal(t, pricelist.DeletePrice(ctx, c.Book, c.Owner, price.ID, 2), refuse.KindConflict, "", "the only price")
	apptest.Refusal(t, pricelist.Delete(ctx, c.Book, c.Owner, bolt, 1), refuse.KindConflict, "", "retire it instead")

	spare := c.Item(t, "SPARE", "material", "1", "")
	require.NoError(t, pricelist.Delete(ctx, c.Book, c.Owner, spare, 1))
	p := page(t, c, "item", bolt)
	assert.Contains(t, p.Facts, pages.Fact{What: "from 2026-02-01", Text: "costs 6.85, sells at 9.50"})
	assert.Equal(t, "corrected a price", p.History[1].Action)
	apptest.SameInAnotherBook(t, c.Book)
}

func TestATradeIsRenamedOnDraftsToo(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	c.Approve(t)
	draft, err := c.Draft(t)
	require.NoError(t, err)
	trade := setup(t, c).Trades[0]
	renamed := people.TradeChange{Name: "Pile hand", Version: trade.Version, Active: true}
	require.NoError(t, people.ChangeTrade(ctx, c.Book, c.Owner, trade.ID, renamed))
	draft, err = billing.Invoice(ctx, c.Book, c.Owner, draft.ID)
	require.NoError(t, err)
	assert.Contains(t, fmt.Sprint(draft), "Pile hand")
	retired := people.TradeChange{Name: "Pile hand", Version: trade.Version + 1}
	require.NoError(t, people.ChangeTrade(ctx, c.Book, c.Owner, trade.ID, retired))
	choices, err := register.ChoicesFor(ctx, c.Book, c.Owner)
	require.NoError(t, err)
	assert.True(t, choices.Trades[0].Retired, "not offered")
	assert.Equal(t, "Pile hand", setup(t, c).Workers[0].Trade, "and its worker has it")
	apptest.Refusal(t, people.DeleteTrade(ctx, c.Book, c.Owner, trade.ID, trade.Version+2), refuse.KindConflict, "", "retire it instead")
	apptest.Verified(t, c.Book)
	apptest.SameInAnotherBook(t, c.Book)
}

func TestAWorkerAndACustomerHaveTheirPages(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	c.Approve(t)
	s := setup(t, c)
	w := page(t, c, "worker", s.Workers[0].ID)
	assert.Equal(t, []any{"time entry", int64(1), "8.00"}, []any{w.Rests[0].What, w.Rests[0].Count, w.Rests[0].Hours})
	assert.Equal(t, []any{"crew_week", apptest.Week}, []any{w.Rows[0].Link.Kind, w.Rows[0].Link.ID})
	customer := page(t, c, "customer", s.Customers[0].ID)
	assert.Equal(t, []any{"Ferry", "job", int64(1)}, []any{customer.Title, customer.Rests[0].What, customer.Rests[0].Count})
	assert.Equal(t, "added", customer.History[0].Action)
	_, err = pages.Of(ctx, c.Book, c.Owner, pages.Asked{Kind: "worker", ID: 99})
	apptest.Refusal(t, err, refuse.KindNotFound, "", "worker")
}

// TestAUnitOfOurOwnIsOnPapersAndEInvoices adds a unit with its code, bills something by it, and finds its code on the e-invoice.
func TestAUnitOfOurOwnIsOnPapersAndEInvoices(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := company.AddUnit(ctx, c.Book, c.Owner, company.Unit{Name: "feet", Code: "?"})
	apptest.Refusal(t, err, refuse.KindInvalid, "name", "there already, as ft")
	apptest.Refusal(t, err, refuse.KindInvalid, "code", "two or three letters")
	unit, err := company.AddUnit(ctx, c.Book, c.Owner, company.Unit{Name: "bundle", Code: "be"})
	require.NoError(t, err)
	_, err = company.AddUnit(ctx, c.Book, c.Owner, company.Unit{Name: "Bundle", Code: "BE"})
	apptest.Refusal(t, err, refuse.KindInvalid, "name", "of this name already")
	line := c.Board()
	line.Unit = "bundle"
	approvePaper(t, c, c.Paper(t, "B-1", line).ID)
	draft, err := c.Draft(t)
	require.NoError(t, err)
	assert.Equal(t, []string{"bundle", "BE"}, []string{draft.Sections[0].Lines[0].Unit, draft.Sections[0].Lines[0].UnitCode})
	apptest.SameInAnotherBook(t, c.Book)
	require.NoError(t, company.ChangeUnit(ctx, c.Book, c.Owner, unit, company.Unit{Name: "bundle", Code: "BH", Version: 1}))
	require.NoError(t, company.DeleteUnit(ctx, c.Book, c.Owner, unit, 2))
	d, err := costs.Get(ctx, c.Book, c.Owner, 1)
	require.NoError(t, err)
	assert.Equal(t, "bundle", d.Lines[0].Unit, "what is on papers stays as it was typed")
}
