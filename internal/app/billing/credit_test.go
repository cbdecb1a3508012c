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
	"jarvo/internal/app/rates"
	"jarvo/internal/app/refuse"
	"jarvo/internal/store"
)

func (d *desk) credit(invoiceID int64, lines ...billing.CreditLine) (billing.CreditedInvoice, error) {
	return d.creditOn("2025-04-30", invoiceID, lines...)
}

func (d *desk) creditOn(day string, invoiceID int64, lines ...billing.CreditLine) (billing.CreditedInvoice, error) {
	return billing.CreditInvoice(ctx, d.Book, book.Console, invoiceID, billing.NewCredit{
		Key: fmt.Sprintf("credit-%06d", d.keys.Add(1)), Date: day, Text: "as agreed", Lines: lines,
	})
}

// credited credits amounts of the parts of an invoice by their place on it; blank is all that is left.
func (d *desk) credited(invoiceID int64, at int, amount, becomes string) billing.CreditedInvoice {
	d.t.Helper()
	rows, err := billing.CreditableOf(ctx, d.Book, book.Console, invoiceID)
	require.NoError(d.t, err)
	out, err := d.credit(invoiceID, billing.CreditLine{
		Kind: rows[at].Kind, ID: rows[at].ID, Amount: amount, Becomes: becomes, Reason: "agreed",
	})
	require.NoError(d.t, err)
	return out
}

// The fifth of the worked histories of billing.
func TestTwoCreditNotesOnATaxedAndRetainedInvoiceAfterAPayment(t *testing.T) {
	d := newDesk(t, files(apptest.Files{
		"tax_codes.csv":      "code,component,percent,applies_to\nT,State,6.25,labour material\n",
		"customers.csv":      "code,name,invoice_per\nHERON,Heron Cove Marina,customer\n",
		"jobs.csv":           "number,customer,name,tax_code,retainage\n101,HERON,Dock,T,10\n102,HERON,Slip,T,5\n",
		"labour_rates.csv":   "card,effective_from,trade,method,value\nSTD,2025-01-01,carp,hourly,333.33\n",
		"time_entries.csv":   "ref,worker,date,job,hours\nT1,ora,2025-03-03,101,1\n",
		"cost_documents.csv": "ref,kind,date\nD1,receipt,2025-03-04\n",
		"cost_lines.csv": "document,line,category,description,quantity,unit,unit_cost,sell_price,job,markup\n" +
			"D1,1,material,Sheets,1,lot,100,120.07,101,0\nD1,2,material,Posts,1,lot,200,210.45,102,0\n",
	}))
	invoice := d.issue(d.draft())
	require.Equal(t, []string{"663.85", "41.49", "55.86", "649.48"}, []string{
		invoice.Subtotal, invoice.Tax, invoice.Retainage, invoice.DueNow,
	})
	_, err := collect.TakePayment(ctx, d.Book, book.Console, collect.NewPayment{
		Key: "payment-1234", On: []collect.Against{{InvoiceID: invoice.ID}}, Amount: "500", Date: "2025-04-10",
	})
	require.NoError(t, err)

	first := d.credited(invoice.ID, 0, "100", "allowed")
	assert.Equal(t, []string{"100.00", "6.25", "10.00", "96.25"}, []string{
		first.Note.Subtotal, first.Note.Tax, first.Note.Retainage, first.Note.DueNow,
	})
	assert.Equal(t, []string{"149.48", "53.23", "0.00", "100.00"}, []string{first.Before, first.After, first.Credit, first.Down})
	second := d.credited(invoice.ID, 2, "110.45", "again")
	assert.Equal(t, []string{"110.45", "6.90", "5.52", "111.83"}, []string{
		second.Note.Subtotal, second.Note.Tax, second.Note.Retainage, second.Note.DueNow,
	})
	assert.Equal(t, []string{"53.23", "0.00", "58.60", "110.45"}, []string{second.Before, second.After, second.Credit, second.Again})
	assert.Equal(t, []string{"1002", "1003"}, []string{first.Note.Number, second.Note.Number}, "of the series of the invoices")
	assert.Equal(t, "110.45", d.ready())
	assert.Equal(t, "customer,current,days_1_30,days_31_60,days_61_90,over_90,total,credit,retained\n"+
		"HERON,0.00,0.00,0.00,0.00,0.00,0.00,58.60,40.34\n", apptest.ReportText(t, d.Book, "aging"))
	assert.Equal(t, "date,customer,payment,invoice,job,amount\n"+
		"2025-04-10,HERON,P1,1001,101,335.96\n2025-04-10,HERON,P1,1001,102,164.04\n"+
		"2025-04-30,HERON,,1001,101,-28.54\n2025-04-30,HERON,,1001,102,28.54\n"+ // the first note: 307.42 and 192.58
		"2025-04-30,HERON,P1,1001,101,32.73\n2025-04-30,HERON,P1,1001,102,-91.33\n", // the second, and what it frees: 340.15 and 101.25
		apptest.ReportText(t, d.Book, "receipts"))
	assert.Equal(t, "tax_code,component,percent,base,tax,papers\nT,State,6.25,453.40,28.34,3\n", apptest.ReportText(t, d.Book, "tax"))
	papersAgree(t, d.Book)
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}

// The sixth: a part at the frozen charge, then all of it.
func TestWhatIsCreditedIsBilledAgain(t *testing.T) {
	d := newDesk(t, files(apptest.Files{
		"labour_rates.csv": "card,effective_from,trade,method,value\nSTD,2025-01-01,carp,hourly,62.50\n",
		"time_entries.csv": "ref,worker,date,job,hours\nT1,ora,2025-03-03,101,4\n",
	}))
	first := d.issue(d.draft())
	require.NoError(t, rates.AddLabourRate(ctx, d.Book, book.Console, rates.NewLabourRate{
		Key: "rate-12345", Card: "STD", Trade: "Carpenter", From: "2025-02-01", Method: "hourly", Value: "65",
	}))
	d.credited(first.ID, 0, "100", "again")
	assert.Equal(t, "100.00", d.ready(), "frozen")
	second := d.issue(d.draft())
	assert.Equal(t, "100.00", second.Subtotal)
	d.credited(first.ID, 0, "", "again")
	assert.Equal(t, "150.00", d.ready(), "still frozen")
	d.credited(second.ID, 0, "", "again")
	assert.Equal(t, "260.00", d.ready(), "nothing of it is billed any more: it is computed anew")
	papersAgree(t, d.Book)
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
	require.NoError(t, d.Store.Write(ctx, func(tx *store.Tx) error {
		err := refuse.Guarded(tx.Exec("DELETE FROM time_entries").Error)
		apptest.Refusal(t, err, refuse.KindConflict, "", "so they stay")
		return nil
	}))
	last := d.issue(d.draft())
	assert.Equal(t, []string{"1006", "260.00", "4.00 h"}, []string{last.Number, last.Subtotal, last.Sources[0].Quantity})
	papersAgree(t, d.Book)
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}

func TestWhatACreditNoteRefuses(t *testing.T) {
	d := newDesk(t, taxed())
	v := d.draft()
	_, err := d.credit(v.ID, billing.CreditLine{Kind: "source", ID: 1, Becomes: "again"})
	apptest.Refusal(t, err, refuse.KindNotFound, "", "issued invoice")
	v, err = d.typed(v, billing.TypedLine{Kind: "line", Job: "102", Category: "other", Text: "Berth", Amount: "450"})
	require.NoError(t, err)
	v = d.issue(v)
	rows, err := billing.CreditableOf(ctx, d.Book, book.Console, v.ID)
	require.NoError(t, err)
	require.Len(t, rows, 4)
	line := billing.CreditLine{Kind: rows[0].Kind, ID: rows[0].ID, Amount: "245.49", Becomes: "again"}
	_, err = d.credit(v.ID, line)
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[0].amount", "245.48 of it is left to credit")
	line.Amount = "-1"
	_, err = d.credit(v.ID, line)
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[0].amount", "left to credit")
	line.Amount = ""
	_, err = d.credit(v.ID, line, line)
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[1].id", "already")
	_, err = billing.CreditInvoice(ctx, d.Book, book.Console, v.ID, billing.NewCredit{
		Key: "credit-1234", Date: "2025-03-30", Lines: []billing.CreditLine{line},
	})
	apptest.Refusal(t, err, refuse.KindInvalid, "date", "or later")

	in := billing.NewCredit{Key: "credit-1234", Date: "2025-04-30", Lines: []billing.CreditLine{
		line, {Kind: "line", ID: rows[3].ID, Becomes: "allowed"},
	}}
	note, err := billing.CreditInvoice(ctx, d.Book, book.Console, v.ID, in)
	require.NoError(t, err)
	again, err := billing.CreditInvoice(ctx, d.Book, book.Console, v.ID, in)
	require.NoError(t, err)
	assert.Equal(t, note.Note.ID, again.Note.ID, "a retry makes nothing twice")
	assert.Equal(t, "245.48", d.ready())
	_, err = d.credit(v.ID, line)
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[0].amount", "0.00 of it is left")
	_, err = d.credit(note.Note.ID, line)
	apptest.Refusal(t, err, refuse.KindConflict, "", "is a credit note itself")
	papersAgree(t, d.Book)
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}
