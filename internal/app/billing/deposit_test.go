package billing_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/scope"
)

// ask asks for a deposit on job 101.
func (d *desk) ask(amount string) (billing.InvoiceView, error) {
	return billing.StartDraft(ctx, d.Book, book.Console, billing.NewDraft{
		Key: fmt.Sprintf("deposit-%06d", d.keys.Add(1)), Date: "2025-03-01",
		Lines: []billing.TypedLine{{Kind: "deposit", Job: "101", Text: "Deposit as agreed", Amount: amount}},
	})
}

func (d *desk) apply(v billing.InvoiceView, deposit int64, amount string) (billing.InvoiceView, error) {
	return billing.ApplyDeposits(ctx, d.Book, book.Console, v.ID, billing.DraftDeposits{
		Version: v.Version, Deposits: []billing.ApplyingDeposit{{ID: deposit, Amount: amount}},
	})
}

func (d *desk) paid(invoice billing.InvoiceView, amount string) {
	d.t.Helper()
	_, err := collect.TakePayment(ctx, d.Book, book.Console, collect.NewPayment{
		Key: fmt.Sprintf("payment-%06d", d.keys.Add(1)), On: []collect.Against{{InvoiceID: invoice.ID}}, Amount: amount, Date: "2025-03-10",
	})
	require.NoError(d.t, err)
}

// through is a draft of what is ready up to a date.
func (d *desk) through(date string) billing.InvoiceView {
	d.t.Helper()
	made, err := billing.MakeDrafts(ctx, d.Book, book.Console, billing.NewDrafts{Jobs: d.jobs, Through: date, Date: "2025-03-31"})
	require.NoError(d.t, err)
	return d.draftOf(made[0].ID)
}

func (d *desk) openDeposits() []billing.DepositRow {
	d.t.Helper()
	sheet, err := billing.Sheet(ctx, d.Book, book.Console, scope.ScopeQuery{})
	require.NoError(d.t, err)
	return sheet.Deposits
}

// depositDesk has 600.00 of work on 3 March and 900.00 later, with tax on labour and on deposits, and retainage.
func depositDesk(t *testing.T, retainage string) *desk {
	return newDesk(t, files(apptest.Files{
		"tax_codes.csv":    "code,component,percent,applies_to\nT,State,6.25,labour deposit\n",
		"jobs.csv":         "number,customer,name,tax_code,retainage\n101,HERON,Dock,T," + retainage + "\n",
		"labour_rates.csv": "card,effective_from,trade,method,value\nSTD,2025-01-01,carp,hourly,100\n",
		"time_entries.csv": "ref,worker,date,job,hours\nT1,ora,2025-03-03,101,6\nT2,ora,2025-03-04,101,6\nT3,ora,2025-03-05,101,3\n",
	}))
}

// The eighth of the worked histories of billing.
func TestADepositIsAskedForTaxedAndAppliedOverTwoInvoices(t *testing.T) {
	d := depositDesk(t, "")
	asked, err := d.ask("1000")
	require.NoError(t, err)
	assert.Equal(t, []string{"Deposit, 101 Dock", "1000.00", "62.50"}, []string{asked.Title, asked.Subtotal, asked.Tax})
	asked = d.issue(asked)
	first := d.through("2025-03-03")
	assert.Equal(t, []string{"1000.00", ""}, []string{first.Deposits[0].Open, first.Deposits[0].Proposed}, "nothing has been paid of it")
	d.paid(asked, "1062.50")
	first = d.draftOf(first.ID)
	assert.Equal(t, "600.00", first.Deposits[0].Proposed)
	first, err = d.apply(first, asked.ID, "333.33")
	require.NoError(t, err)
	assert.Equal(t, []string{"600.00", "16.67", "616.67", "333.33", "283.34"},
		[]string{first.Subtotal, first.Tax, first.Total, first.Prepaid, first.DueNow})
	apptest.SameInAnotherBook(t, d.Book)
	first = d.issue(first)
	second := d.through("2025-03-31")
	second, err = d.apply(second, asked.ID, second.Deposits[0].Proposed)
	require.NoError(t, err)
	assert.Equal(t, []string{"900.00", "14.58", "914.58", "666.67", "247.91"},
		[]string{second.Subtotal, second.Tax, second.Total, second.Prepaid, second.DueNow})
	second = d.issue(second)
	assert.Empty(t, d.openDeposits())
	assert.Equal(t, []string{"283.34", "247.91"}, []string{d.draftOf(first.ID).Balance, second.Balance})
	list, err := jobs.List(ctx, d.Book, book.Console, true)
	require.NoError(t, err)
	assert.Equal(t, []string{"1500.00", "1500.00", "0.00"}, []string{list.Jobs[0].Billed, list.Jobs[0].Earned, list.Jobs[0].Unbilled})
	papersAgree(t, d.Book)
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}

func TestADepositIsAppliedAtMostAsFarAsItIsOpenAndAsIsDue(t *testing.T) {
	d := depositDesk(t, "10")
	asked, err := d.ask("700")
	require.NoError(t, err)
	assert.Equal(t, "0.00", asked.Retainage, "nothing is retained on a deposit")
	asked = d.issue(asked)
	first, second := d.through("2025-03-03"), d.through("2025-03-31")
	_, err = d.apply(first, asked.ID, "700.01")
	apptest.Refusal(t, err, refuse.KindInvalid, "deposits[0].amount", "700.00 of this deposit is open")
	_, err = d.apply(first, asked.ID, "600") // due are 600.00 + 37.50 - 60.00
	apptest.Refusal(t, err, refuse.KindInvalid, "deposits[0].amount", "with its tax no more than 543.53 can be set against this invoice")
	first, err = d.apply(first, asked.ID, "543.53")
	require.NoError(t, err)
	assert.Equal(t, "0.00", first.DueNow)
	_, err = d.apply(second, asked.ID, "156.48")
	apptest.Refusal(t, err, refuse.KindInvalid, "deposits[0].amount", "156.47 of this deposit is open")
	second, err = d.apply(second, asked.ID, "156.47")
	require.NoError(t, err)
	_, err = d.apply(first, second.ID, "1")
	apptest.Refusal(t, err, refuse.KindInvalid, "deposits[0].id", "this is no deposit of Heron Cove Marina")

	// What is due becomes less, and with it what is applied.
	second, err = d.choose(second, billing.PartOf{Kind: "time_entry", ID: second.Sources[0].ID, Way: "amount", Value: "10"},
		billing.PartOf{Kind: "time_entry", ID: second.Sources[1].ID, Way: "none"})
	require.NoError(t, err)
	assert.Equal(t, []string{"9.06", "0.00"}, []string{second.Prepaid, second.DueNow})
	papersAgree(t, d.Book)
	apptest.Verified(t, d.Book)
	d.issue(first)
	second = d.draftOf(second.ID)

	// What is open is credited, and the draft that has some of it follows.
	_, err = d.credit(asked.ID, billing.CreditLine{Kind: "line", ID: d.lineOf(asked.ID), Amount: "156.48", Becomes: "allowed"})
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[0].amount", "156.47 of it is left to credit")
	note, err := d.credit(asked.ID, billing.CreditLine{Kind: "line", ID: d.lineOf(asked.ID), Amount: "150", Becomes: "allowed"})
	require.NoError(t, err)
	assert.Equal(t, []string{"9.38", "0.00"}, []string{note.Note.Tax, note.Down}) // T(156.47) - T(6.47) = 9.78 - 0.40
	second = d.draftOf(second.ID)
	assert.Equal(t, "6.47", second.Prepaid)
	d.issue(second)
	assert.Empty(t, d.openDeposits())
	papersAgree(t, d.Book)
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}

// What a draft takes of a deposit already does not stand in the way of taking more of it, and what it takes of another does.
func TestWhatIsDueBesideADepositIsWhatCanBeTakenOfIt(t *testing.T) {
	d := depositDesk(t, "")
	var asked []billing.InvoiceView
	for range 2 {
		a, err := d.ask("700")
		require.NoError(t, err)
		asked = append(asked, d.issue(a))
		d.paid(asked[len(asked)-1], "743.75")
	}
	v := d.through("2025-03-03") // due are 600.00 + 37.50
	v, err := d.apply(v, asked[0].ID, "500")
	require.NoError(t, err)
	assert.Equal(t, []string{"600.00", "100.00"}, []string{v.Deposits[0].Proposed, v.Deposits[1].Proposed})
	_, err = d.apply(v, asked[1].ID, "100.01")
	apptest.Refusal(t, err, refuse.KindInvalid, "deposits[0].amount", "no more than 100.00 can be set against this invoice")
	both := billing.DraftDeposits{Version: v.Version, Deposits: []billing.ApplyingDeposit{
		{ID: asked[0].ID, Amount: "600"}, {ID: asked[1].ID, Amount: "0.01"},
	}}
	_, err = billing.ApplyDeposits(ctx, d.Book, book.Console, v.ID, both)
	apptest.Refusal(t, err, refuse.KindInvalid, "deposits[1].amount", "no more than 0.00")
	v, err = d.apply(v, asked[0].ID, "600")
	require.NoError(t, err)
	assert.Equal(t, []string{"600.00", "0.00", "0.00"}, []string{v.Prepaid, v.Tax, v.DueNow})
	papersAgree(t, d.Book)
	apptest.Verified(t, d.Book)
}

func (d *desk) lineOf(invoiceID int64) int64 {
	d.t.Helper()
	rows, err := billing.CreditableOf(ctx, d.Book, book.Console, invoiceID)
	require.NoError(d.t, err)
	return rows[0].ID
}

func TestADepositStandsAlone(t *testing.T) {
	d := depositDesk(t, "")
	deposit := billing.TypedLine{Kind: "deposit", Job: "101", Text: "Deposit", Amount: "10"}
	_, err := billing.StartDraft(ctx, d.Book, book.Console, billing.NewDraft{
		Key: "deposit-1234567", Date: "2025-03-01",
		Lines: []billing.TypedLine{deposit, {Kind: "line", Job: "101", Category: "other", Text: "Fee", Amount: "1"}},
	})
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[0].kind", "on an invoice of its own")
	_, err = d.ask("-5")
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[0].amount", "more than 0")
	asked, err := d.ask("10")
	require.NoError(t, err)
	work := d.draft()
	_, err = d.typed(work, deposit)
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[0].kind", "on an invoice of its own")
	_, err = billing.JoinDrafts(ctx, d.Book, book.Console, work.ID, billing.Joining{
		Version: work.Version, Drafts: []billing.JoinedDraft{{ID: asked.ID, Version: asked.Version}},
	})
	apptest.Refusal(t, err, refuse.KindConflict, "", "on an invoice of its own")
	_, err = d.choose(asked, billing.PartOf{Kind: "time_entry", ID: work.Sources[0].ID, Way: "rest"})
	apptest.Refusal(t, err, refuse.KindConflict, "", "bill the work on another")
	_, err = d.apply(asked, asked.ID, "1")
	apptest.Refusal(t, err, refuse.KindConflict, "", "a deposit is not paid with another")
	papersAgree(t, d.Book)
	apptest.Verified(t, d.Book)
}
