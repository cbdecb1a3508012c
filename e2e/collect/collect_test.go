package collect

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/at"
	"jarvo/e2e/browser"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/scope"
	"jarvo/internal/core/calendar"
	"jarvo/internal/statement"
)

// One payment settles three invoices and is more than they come to; what is over is credit, refunded in part. Both are taken back.
func TestOnePaymentOverThreeInvoicesOverpaidAndRefunded(t *testing.T) {
	u := atTheDemo(t)
	list := func() collect.PaymentList {
		l, err := collect.Payments(t.Context(), u.Book.Book, book.Console, scope.ScopeQuery{})
		require.NoError(t, err)
		return l
	}
	before := list()
	u.Open("/bill?list=payments&span=all")
	u.Must(u.See(`[aria-label="Payments"]`), u.Press("Record payment"), u.Pick("Customer", "Gannet"))
	form := "Record payment"
	u.FillIn(form, "Amount", "-5")
	u.Must(u.See(`[aria-label="Open invoices"]`), u.Type(`form[aria-label="Record payment"] input[name="reference"]`, "GPF 4471\r"))
	u.Sees("what is paid is more than 0")
	u.FillIn(form, "Amount", "90000")
	u.Must(u.SeeText("becomes the customer’s credit"))
	u.Accessible("a payment over three invoices")
	u.Must(u.Type(`[aria-label="Paid of invoice 2614"]`, "11642.01"))
	u.Sees("only 11,642.00 is left to pay on invoice 2614")
	u.Must(u.Press("Oldest first again"), u.Until(`!document.body.innerText.includes('is left to pay')`))
	paidOf := `[aria-label="Open invoices"] input[aria-label^="Paid of invoice"]`
	labels, err := browser.Eval[[]string](u.Page, `[...document.querySelectorAll('`+paidOf+`')].map(field => field.ariaLabel)`)
	u.Must(err)
	require.Len(t, labels, 3)
	u.Must(u.Type(`[aria-label="`+labels[0]+`"]`, "0"), u.Type(`[aria-label="`+labels[1]+`"]`, "0"))
	u.FillIn(form, "Amount", "10")
	u.Must(u.Until(`document.querySelector('[aria-label="` + labels[2] + `"]').value === '10.00'`)) // the two that are typed have none of it
	u.FillIn(form, "Amount", "90000")
	u.Must(u.Press("Oldest first again"))
	u.Must(u.Type(`form[aria-label="Record payment"] input[name="reference"]`, "\r"), u.See(`[aria-label="Refund Gannet Point Ferries"]`))
	paid := list().Payments[0]
	assert.Equal(t, []string{"90000.00", "GPF 4471"}, []string{paid.Amount, paid.Reference})
	assert.Len(t, paid.Invoices, 3)

	u.Must(u.Click(`[aria-label="Refund Gannet Point Ferries"]`))
	u.FillIn("Refund Gannet Point Ferries", "Amount", "1000000")
	u.Must(u.Press("Record refund"))
	u.Sees("this customer's credit is")
	u.FillIn("Refund Gannet Point Ferries", "Amount", "1000")
	u.Must(u.Press("Record refund"), u.See(`[aria-label="Take back the refund of Gannet Point Ferries"]`))
	back := func(what, reason string) {
		u.Must(u.ClickIn(`[aria-label="Payments"] tr`, what, `button.lnk`), u.Type(`input[name="reason"]`, reason+"\r"))
	}
	back("GPF 4471", "bounced")
	u.Sees("payment taken back")
	was := list()
	assert.Equal(t, before.Received, was.Received)
	assert.Equal(t, before.Credits, was.Credits, "what was refunded of it is owed on another invoice of theirs")
	back("refund", "typed twice")
	u.Sees("refund taken back")
	u.Accessible("payments taken back")
	assert.Equal(t, before.Refunded, list().Refunded)
	assert.Len(t, list().Credits, len(before.Credits)+1)
	apptest.Verified(t, u.Book.Book)
}

// What a customer has paid on account is set against an invoice, beside that invoice.
func TestCreditIsSetAgainstAnInvoice(t *testing.T) {
	u := atTheDemo(t)
	sheet, err := billing.Sheet(t.Context(), u.Book.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	there := slices.IndexFunc(sheet.Issued, func(i billing.DraftRow) bool { return i.Trail.Stage != "paid" && i.CreditOn == "" })
	invoice, err := billing.Invoice(t.Context(), u.Book.Book, book.Console, sheet.Issued[there].ID)
	require.NoError(t, err)
	_, err = collect.TakePayment(t.Context(), u.Book.Book, book.Console, collect.NewPayment{
		CustomerID: invoice.CustomerID, Amount: "10", Date: invoice.Date, On: []collect.Against{},
	})
	require.NoError(t, err)
	u.Open(fmt.Sprintf("/bill?list=issued&span=all&open=%d", invoice.ID))
	u.Must(u.SeeText("This customer has credit."), u.Press("Set 10.00 against this invoice"))
	u.FillIn("Apply credit", "Credit to apply", "11")
	u.Must(u.Press("Apply credit"))
	u.Sees("this customer's credit is 10.00")
	u.FillIn("Apply credit", "Credit to apply", "4")
	u.Must(u.Press("Apply credit"), u.SeeText("Set 6.00 against this invoice"))
	u.Accessible("an invoice with payments and credit")
	after, err := billing.Invoice(t.Context(), u.Book.Book, book.Console, invoice.ID)
	require.NoError(t, err)
	assert.Equal(t, invoice.Balance, at.Sum(t, after.Balance, "4"))

	// A part of it is paid: what is left stands in the form then. What was paid in another window meanwhile is said.
	u.FillIn("Record payment", "Amount", "2")
	u.Must(u.Press("Record payment"), u.Until(`document.querySelector('form[aria-label="Record payment"] input[name="amount"]')?.value === '`+
		shown(at.Sum(t, after.Balance, "-2"))+`'`))
	_, err = collect.TakePayment(t.Context(), u.Book.Book, book.Console, collect.NewPayment{
		Amount: at.Sum(t, after.Balance, "-2"), Date: invoice.Date, On: []collect.Against{{InvoiceID: invoice.ID}},
	})
	require.NoError(t, err)
	u.Must(u.Until(`!document.querySelector('form[aria-label="Record payment"]')`)) // nothing is left to pay
}

// A statement with twenty receipts is read: fourteen are sure and recorded in one step, the others one by one, and what pays no invoice is
// set aside. Read once more it brings nothing new.
func TestAStatementOfTheBankWithTwentyReceipts(t *testing.T) {
	u := atTheDemo(t)
	var lines []statement.Line
	add := func(amount, name, text string) {
		lines = append(lines, statement.Line{
			Date: calendar.On(2026, 11, 20), Amount: amount, Name: name, Text: text, Ref: fmt.Sprint("B", len(lines)),
		})
	}
	for i := range 16 {
		v, err := billing.StartDraft(t.Context(), u.Book.Book, book.Console, billing.NewDraft{
			Key: fmt.Sprintf("bank-%04d", i), Date: "2026-11-18",
			Lines: []billing.TypedLine{{Kind: "line", Job: "1195", Category: "other", Text: "Berth", Amount: fmt.Sprintf("%d.11", 300+i)}},
		})
		require.NoError(t, err)
		v, err = billing.Issue(t.Context(), u.Book.Book, book.Console, v.ID, v.Version)
		require.NoError(t, err)
		switch {
		case i < 14:
			add(v.Balance, "Corran Reach Yacht Club", "your invoice "+v.Number)
		case i == 14:
			add("100.00", "Corran Reach Yacht Club", "your invoice "+v.Number)
		default:
			add(v.Balance, "Harbour Pay", "settlement")
		}
	}
	add("1.07", "Quay Bank", "Interest")
	add("12.34", "Quay Bank", "Correction")
	add("5.00", "Somebody", "")
	add("77.00", "Gannet Point Ferries", "on account")
	add("-12.50", "Quay Bank", "Fee")
	file := filepath.Join(t.TempDir(), "statement.xml")
	var data bytes.Buffer
	require.NoError(t, statement.WriteCamt(&data, "2200 4418", "USD", lines))
	require.NoError(t, os.WriteFile(file, data.Bytes(), 0o600))

	u.Open("/bill?list=bank&span=all")
	u.Sees("Read a statement of the bank")
	read := func() { u.Must(u.Upload(`input[aria-label="Read a statement"]`, file)) }
	read()
	u.Sees("21 new movements.")
	u.Accessible("receipts in the bank")
	bank := func() collect.BankSheet {
		b, err := collect.Bank(t.Context(), u.Book.Book, book.Console)
		require.NoError(t, err)
		return b
	}
	assert.Equal(t, []int{20, 14}, []int{len(bank().Slips), bank().Sure})
	u.Must(u.Press("Record 14 payments, "+shown(bank().SureSum)), u.SeeText("14 payments recorded."))
	assert.Len(t, bank().Slips, 6)
	u.Must(u.ClickIn(`[aria-label="Receipts in the bank"] tr`, "on account", "button.lnk"), u.SeeText("1 payment recorded."))
	u.Must(u.Click(`[aria-label="Receipts in the bank"] tr[data-row] button.lnk:last-child`), u.See(`form[aria-label="Set aside"]`))
	u.Must(u.Click(`form[aria-label="Set aside"] button[type="submit"]`))
	u.Sees("a reason is needed")
	u.Accessible("a receipt that is set aside")
	u.Must(u.Type(`form[aria-label="Set aside"] input[name="reason"]`, "interest\r"))
	u.Must(u.Until(`!document.querySelector('form[aria-label="Set aside"]')`))
	assert.Len(t, bank().Slips, 4)
	u.Must(u.ClickIn(`table[aria-label="Set aside"] tr`, "interest", "button.lnk"))
	u.Must(u.Until(`!document.querySelector('table[aria-label="Set aside"]')`))
	assert.Len(t, bank().Slips, 5)
	wrong := filepath.Join(t.TempDir(), "photo.xml")
	require.NoError(t, os.WriteFile(wrong, []byte("<photo/>"), 0o600))
	u.Must(u.Upload(`input[aria-label="Read a statement"]`, wrong))
	u.Sees("neither a camt.053 statement nor a table")
	read()
	u.Sees("0 new movements, 21 were read before.")
	apptest.Verified(t, u.Book.Book)
}

// shown is an amount as the screen has it.
func shown(plain string) string {
	whole, cents, _ := strings.Cut(plain, ".")
	if len(whole) > 3 {
		whole = whole[:len(whole)-3] + "," + whole[len(whole)-3:]
	}
	return whole + "." + cents
}

// The page of a customer says where they stand: what is owed, retained and credit, as the aging report and the payments say it.
func TestTheCustomersPageAddsUp(t *testing.T) {
	u := atTheDemo(t)
	aging, err := reports.Make(t.Context(), u.Book.Book, book.Console, "aging", reports.ReportQuery{})
	require.NoError(t, err)
	there := slices.IndexFunc(aging.Rows, func(row []string) bool { return row[0] == "gannet-point-ferries" })
	row := aging.Rows[there]
	u.Open("/page/customer/1")
	u.Must(u.See(".account .equation"))
	stands, err := browser.Eval[[]string](u.Page, `[...document.querySelectorAll('.account .equation dd')].map(d => d.innerText)`)
	u.Must(err)
	total := at.Sum(t, row[6], row[8])
	assert.Equal(t, []string{shown(row[6]), shown(row[8]), shown(row[7]), shown(total)}, stands[:4])
	ages, err := browser.Eval[[]string](u.Page,
		`[...document.querySelectorAll('.account .ages b')].map(b => b.innerText.replace('–', '0.00'))`)
	u.Must(err)
	for i, age := range row[1:6] {
		assert.Equal(t, shown(age), ages[i], aging.Columns[i+1])
	}
	u.Accessible("the page of a customer")
}

// TestAPaymentIsTakenBack records a cheque for an invoice, takes it back because it bounced, and finds the invoice owed again.
func TestAPaymentIsTakenBack(t *testing.T) {
	u := atTheDemo(t)
	u.Open("/bill?list=issued&span=all")
	u.Must(u.See(`form[aria-label="Record payment"]`))
	owed := func() string {
		bill, err := billing.Sheet(t.Context(), u.Book.Book, book.Console, scope.ScopeQuery{})
		require.NoError(t, err)
		return bill.Totals.Balance
	}
	before := owed()
	u.FillIn("Record payment", "Method", "cheque", "Reference", "4471")
	u.Must(u.Press("Record payment"), u.Until(`!document.querySelector('form[aria-label="Record payment"]')`))
	assert.NotEqual(t, before, owed())
	u.Must(u.Press("Payments"), u.ClickIn(`[aria-label="Payments"] tr`, "4471", "button.lnk"))
	u.Accessible("a payment taken back")
	u.Must(u.Press("Take payment back"))
	u.Sees("a reason is needed")
	u.Must(u.Type(`input[name="reason"]`, "bounced"), u.Press("Take payment back"))
	u.Must(u.Until(`[...document.querySelectorAll('[aria-label="Payments"] tr')].some(r => r.innerText.includes('bounced'))`))
	assert.Equal(t, before, owed())
}
