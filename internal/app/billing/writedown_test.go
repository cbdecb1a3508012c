package billing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/refuse"
)

// The third of the worked histories of billing.
func TestAWriteDownIsTakenBackAndBilledBeyond(t *testing.T) {
	d := newDesk(t, files(apptest.Files{
		"labour_rates.csv": "card,effective_from,trade,method,value\nSTD,2025-01-01,carp,hourly,130\n",
		"time_entries.csv": "ref,worker,date,job,hours\nT1,ora,2025-03-03,101,4\n",
	}))
	invoice := d.billed(billing.PartOf{Way: "amount", Value: "400", Rest: "down", Reason: "too slow"})
	assert.Equal(t, "0.00", d.ready())
	down := invoice.Sources[0]
	assert.Equal(t, []string{"120.00", "too slow"}, []string{down.Down, down.Reason})
	back := func(key, amount string) (billing.InvoiceView, error) {
		in := billing.TakingBack{Key: key, Amount: amount, Note: "they agreed"}
		return billing.TakeWriteDownBack(ctx, d.Book, book.Console, down.SourceID, in)
	}
	_, err := back("back-111111", "120.01")
	apptest.Refusal(t, err, refuse.KindInvalid, "amount", "120.00 of it is written down")
	v, err := back("back-222222", "45")
	require.NoError(t, err)
	again, err := back("back-222222", "45")
	require.NoError(t, err)
	assert.Equal(t, []string{"75.00", "75.00"}, []string{v.Sources[0].Down, again.Sources[0].Down}, "a retry takes nothing twice")
	assert.Equal(t, "45.00", d.ready())
	second := d.billed(billing.PartOf{Way: "amount", Value: "50", Reason: "with the ladder"})
	assert.Equal(t, "50.00", second.Subtotal)
	assert.Equal(t, "0.00", d.ready())
	d.credited(second.ID, 0, "20", "allowed")
	assert.Equal(t, "date,invoice,customer,job,work,kind,amount,taken_back,left,reason\n"+
		"2025-03-31,1001,HERON,101,Ora Tidewell 2025-03-03,written down,120.00,45.00,75.00,too slow\n"+
		"2025-04-30,1003,HERON,101,Carpenter,allowed,15.00,0.00,15.00,agreed\n", apptest.ReportText(t, d.Book, "write-downs"))
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}
