package collect_test

import (
	"bytes"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/refuse"
	"jarvo/internal/core/calendar"
	"jarvo/internal/statement"
)

func (d *till) statement(lines ...statement.Line) collect.BankRead {
	d.t.Helper()
	var file bytes.Buffer
	require.NoError(d.t, statement.WriteCamt(&file, "2200 4418", "USD", lines))
	out, err := collect.ReadStatement(ctx, d.Book, book.Console, collect.BankFile{Content: file.Bytes()})
	require.NoError(d.t, err)
	return out
}

func (d *till) bank() collect.BankSheet {
	d.t.Helper()
	out, err := collect.Bank(ctx, d.Book, book.Console)
	require.NoError(d.t, err)
	return out
}

// taken takes slips as they are proposed.
func taken(slips ...collect.Slip) collect.TakingSlips {
	in := collect.TakingSlips{}
	for _, s := range slips {
		in.Slips = append(in.Slips, collect.TakenSlip{ID: s.ID, CustomerID: s.CustomerID, On: s.On, PaymentID: s.PaymentID})
	}
	return in
}

func movement(day int, amount, name, text string) statement.Line {
	return statement.Line{Date: calendar.On(2026, 4, day), Amount: amount, Name: name, Text: text, Ref: fmt.Sprint("B", day)}
}

// A statement is read, twice; what is sure is recorded in one step, the rest one by one, and what pays no invoice is set aside.
func TestAStatementIsReadAndItsReceiptsAreRecorded(t *testing.T) {
	d := newTill(t, nil)
	first := d.invoice("2026-03-02", [2]string{"102", "412.50"})
	d.invoice("2026-03-03", [2]string{"102", "60"})
	third := d.invoice("2026-03-04", [2]string{"201", "99"})
	early := d.invoice("2026-03-05", [2]string{"201", "33"})
	_, err := collect.TakePayment(ctx, d.Book, book.Console, collect.NewPayment{
		Amount: "33", Date: "2026-04-01", On: []collect.Against{{InvoiceID: early.ID}},
	})
	require.NoError(t, err)
	lines := []statement.Line{
		movement(1, "412.50", "", "Invoice 1001"), movement(2, "50.00", "HERON COVE MARINA", "part of it"), movement(3, "33.00", "", "shed"),
		movement(4, "1.07", "Bank", "Interest"), movement(5, "-20.00", "Bank", "fee"), movement(6, "99.00", "Skiff Row", ""),
	}
	assert.Equal(t, collect.BankRead{New: 6}, d.statement(lines...))
	assert.Equal(t, collect.BankRead{New: 1, Known: 6}, d.statement(append(lines, movement(5, "-20.00", "Bank", "fee"))...), "each line once")
	sheet := d.bank()
	require.Len(t, sheet.Slips, 5)
	assert.Equal(t, []any{2, "511.50", "595.57", "40.00"}, []any{sheet.Sure, sheet.SureSum, sheet.Open, sheet.Out})
	why := map[string]string{}
	for _, s := range sheet.Slips {
		why[s.Amount] = s.Why
	}
	assert.Equal(t, map[string]string{
		"412.50": "the text names 1001, the amount is what is open", "50.00": "the name",
		"33.00": "recorded on 2026-04-01 already, with this amount",
		"1.07":  "nothing in it says whose it is", "99.00": "the amount is what is open, the name",
	}, why)

	sure := taken(sheet.Slips[0], sheet.Slips[4])
	sure.Key = d.key()
	require.NoError(t, collect.TakeSlips(ctx, d.Book, book.Console, sure))
	require.NoError(t, collect.TakeSlips(ctx, d.Book, book.Console, sure), "a retry")
	sure.Key = d.key()
	apptest.Refusal(t, collect.TakeSlips(ctx, d.Book, book.Console, sure), refuse.KindConflict, "", "recorded already")
	v, err := billing.Invoice(ctx, d.Book, book.Console, third.ID)
	require.NoError(t, err)
	assert.Equal(t, "0.00", v.Balance)
	require.NoError(t, collect.TakeSlips(ctx, d.Book, book.Console, taken(sheet.Slips[2])), "it was recorded before")
	wrong := taken(sheet.Slips[1])
	wrong.Slips[0].On = []collect.Against{{InvoiceID: first.ID, Amount: "50"}}
	err = collect.TakeSlips(ctx, d.Book, book.Console, wrong)
	apptest.Refusal(t, err, refuse.KindInvalid, "slips[0].on[0].invoiceId", "nothing is left to pay on invoice 1001")
	require.NoError(t, collect.TakeSlips(ctx, d.Book, book.Console, taken(sheet.Slips[1])))
	interest := sheet.Slips[3].ID
	err = collect.SetSlipAside(ctx, d.Book, book.Console, interest, collect.SlipAside{})
	apptest.Refusal(t, err, refuse.KindInvalid, "reason", "is needed")
	require.NoError(t, collect.SetSlipAside(ctx, d.Book, book.Console, interest, collect.SlipAside{Reason: "interest"}))
	err = collect.SetSlipAside(ctx, d.Book, book.Console, interest, collect.SlipAside{Reason: "a gift"})
	apptest.Refusal(t, err, refuse.KindConflict, "", "somebody else has set this receipt aside")
	sheet = d.bank()
	assert.Empty(t, sheet.Slips)
	assert.Equal(t, []string{"594.50", "1.07", "0.00"}, []string{sheet.Recorded, sheet.Aside, sheet.Open})
	require.Len(t, sheet.SetAside, 1)
	assert.Equal(t, "interest", sheet.SetAside[0].Why)
	assert.Equal(t, []string{"10.00", "0.00", "462.50", "0.00"}, d.stands())
	apptest.SameInAnotherBook(t, d.Book)

	require.NoError(t, collect.SetSlipAside(ctx, d.Book, book.Console, interest, collect.SlipAside{Back: true, Was: "interest"}))
	require.NoError(t, collect.TakeBack(ctx, d.Book, book.Console, 2, collect.Back{Reason: "wrong customer", Date: "2026-04-20"}))
	assert.Empty(t, d.bank().SetAside)
	assert.Len(t, d.bank().Slips, 2, "the receipt of a payment that was taken back is there again")
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}

// The columns of a table are asked for once, and remembered by its heads.
func TestTheColumnsOfATableAreSaidOnce(t *testing.T) {
	d := newTill(t, nil)
	file := collect.BankFile{Content: []byte("When;Who;What;Sum\n31.03.2026;Heron;inv 1001;412,50\n")}
	asked, err := collect.ReadStatement(ctx, d.Book, book.Console, file)
	require.NoError(t, err)
	require.NotNil(t, asked.Ask)
	assert.Equal(t, []string{"When", "Who", "What", "Sum"}, asked.Ask.Heads)
	file.Columns = &collect.BankColumns{Date: "When", Amount: "Total", Order: "dmy"}
	_, err = collect.ReadStatement(ctx, d.Book, book.Console, file)
	apptest.Refusal(t, err, refuse.KindInvalid, "columns", `no column "Total"`)
	file.Columns = &collect.BankColumns{Date: "When", Amount: "Sum", Name: "Who", Text: "What", Order: "mdy"}
	_, err = collect.ReadStatement(ctx, d.Book, book.Console, file)
	apptest.Refusal(t, err, refuse.KindInvalid, "content", "with the month first")
	file.Columns.Order = "dmy"
	read, err := collect.ReadStatement(ctx, d.Book, book.Console, file)
	require.NoError(t, err)
	assert.Equal(t, 1, read.New)
	file.Columns = nil
	file.Content = append(file.Content, "30.03.2026;Skiff;;7\n"...)
	read, err = collect.ReadStatement(ctx, d.Book, book.Console, file)
	require.NoError(t, err)
	assert.Equal(t, collect.BankRead{New: 1, Known: 1}, read)
	for _, wrong := range []string{"", "%PDF-1.4", "<Document/>", "\x00\x01"} {
		_, err := collect.ReadStatement(ctx, d.Book, book.Console, collect.BankFile{Content: []byte(wrong)})
		apptest.Refusal(t, err, refuse.KindInvalid, "content", "statement")
	}
	var euros bytes.Buffer
	require.NoError(t, statement.WriteCamt(&euros, "1", "EUR", []statement.Line{movement(1, "5.00", "", "")}))
	_, err = collect.ReadStatement(ctx, d.Book, book.Console, collect.BankFile{Content: euros.Bytes()})
	apptest.Refusal(t, err, refuse.KindInvalid, "content", "is in EUR, and the book is kept in USD")
}
