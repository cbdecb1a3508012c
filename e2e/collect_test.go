package e2e

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/scope"
	"jarvo/internal/demo"
)

// One payment settles three invoices and is more than they come to; what is over is credit, refunded in part. Both are taken back.
func TestOnePaymentOverThreeInvoicesOverpaidAndRefunded(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	list := func() collect.PaymentList {
		l, err := collect.Payments(ctx, u.book.Book, book.Console, scope.ScopeQuery{})
		require.NoError(t, err)
		return l
	}
	before := list()
	u.open("/bill?list=payments&span=all")
	u.must(u.See(`[aria-label="Payments"]`), u.Press("Record payment"), u.Pick("Customer", "Gannet"))
	form := "Record payment"
	u.fill(form, "Amount", "-5")
	u.must(u.See(`[aria-label="Open invoices"]`), u.Type(`form[aria-label="Record payment"] input[name="reference"]`, "GPF 4471\r"))
	u.sees("what is paid is more than 0")
	u.fill(form, "Amount", "90000")
	u.must(u.SeeText("becomes the customer’s credit"))
	u.accessible("a payment over three invoices")
	u.must(u.Type(`[aria-label="Paid of invoice 2614"]`, "11642.01"))
	u.sees("only 11,642.00 is left to pay on invoice 2614")
	u.must(u.Press("Oldest first again"), u.Until(`!document.body.innerText.includes('is left to pay')`))
	u.must(u.Type(`form[aria-label="Record payment"] input[name="reference"]`, "\r"), u.See(`[aria-label="Refund Gannet Point Ferries"]`))
	paid := list().Payments[0]
	assert.Equal(t, []string{"90000.00", "GPF 4471"}, []string{paid.Amount, paid.Reference})
	assert.Len(t, paid.Invoices, 3)

	u.must(u.Click(`[aria-label="Refund Gannet Point Ferries"]`))
	u.fill("Refund Gannet Point Ferries", "Amount", "1000000")
	u.must(u.Press("Record refund"))
	u.sees("this customer's credit is")
	u.fill("Refund Gannet Point Ferries", "Amount", "1000")
	u.must(u.Press("Record refund"), u.See(`[aria-label="Take back the refund of Gannet Point Ferries"]`))
	back := func(what, reason string) {
		u.must(u.ClickIn(`[aria-label="Payments"] tr`, what, `button.lnk`), u.Type(`input[name="reason"]`, reason+"\r"))
	}
	back("GPF 4471", "bounced")
	u.sees("payment taken back")
	was := list()
	assert.Equal(t, before.Received, was.Received)
	assert.Equal(t, before.Credits, was.Credits, "what was refunded of it is owed on another invoice of theirs")
	back("refund", "typed twice")
	u.sees("refund taken back")
	u.accessible("payments taken back")
	assert.Equal(t, before.Refunded, list().Refunded)
	assert.Len(t, list().Credits, len(before.Credits)+1)
	apptest.Verified(t, u.book.Book)
}

// What a customer has paid on account is set against an invoice, beside that invoice.
func TestCreditIsSetAgainstAnInvoice(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	sheet, err := billing.Sheet(ctx, u.book.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	at := slices.IndexFunc(sheet.Issued, func(i billing.DraftRow) bool { return i.Trail.Stage != "paid" && i.CreditOn == "" })
	invoice, err := billing.Invoice(ctx, u.book.Book, book.Console, sheet.Issued[at].ID)
	require.NoError(t, err)
	_, err = collect.TakePayment(ctx, u.book.Book, book.Console, collect.NewPayment{
		CustomerID: invoice.CustomerID, Amount: "10", Date: invoice.Date, On: []collect.Against{},
	})
	require.NoError(t, err)
	u.open(fmt.Sprintf("/bill?list=issued&span=all&open=%d", invoice.ID))
	u.must(u.SeeText("This customer has credit."), u.Press("Set 10.00 against this invoice"))
	u.fill("Apply credit", "Credit to apply", "11")
	u.must(u.Press("Apply credit"))
	u.sees("this customer's credit is 10.00")
	u.fill("Apply credit", "Credit to apply", "4")
	u.must(u.Press("Apply credit"), u.SeeText("Set 6.00 against this invoice"))
	u.accessible("an invoice with payments and credit")
	after, err := billing.Invoice(ctx, u.book.Book, book.Console, invoice.ID)
	require.NoError(t, err)
	assert.Equal(t, invoice.Balance, add(t, after.Balance, "4"))
}
