package collect_test

import (
	"context"
	"fmt"
	"math/big"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/pages"
	"jarvo/internal/app/receivable"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/scope"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

var ctx = context.Background()

// till is a book with a customer and two jobs, of which the first retains 10 %.
type till struct {
	*book.Book
	t    *testing.T
	keys int
}

func newTill(t *testing.T, more apptest.Files) *till {
	t.Helper()
	files := apptest.Files{
		"settings.csv":  "key,value\nnext_invoice_number,1001\n",
		"customers.csv": "code,name,payment_days\nHERON,Heron Cove Marina,30\nSKIFF,Skiff Row,30\n",
		"jobs.csv":      "number,customer,name,retainage\n101,HERON,Dock,10\n102,HERON,Slip,0\n201,SKIFF,Shed,0\n",
	}
	for name, text := range more {
		files[name] = text
	}
	b := apptest.NewBook(t)
	require.NoError(t, files.BringInto(t, b))
	return &till{Book: b, t: t}
}

func cents(n int) string { return fmt.Sprintf("%d.%02d", n/100, n%100) }

func (d *till) key() string {
	d.keys++
	return fmt.Sprintf("till-%06d", d.keys)
}

// invoice issues an invoice of amounts by job.
func (d *till) invoice(day string, lines ...[2]string) billing.InvoiceView {
	d.t.Helper()
	in := billing.NewDraft{Key: d.key(), Date: day}
	for _, l := range lines {
		in.Lines = append(in.Lines, billing.TypedLine{Kind: "line", Job: l[0], Category: "other", Text: "Work", Amount: l[1]})
	}
	v, err := billing.StartDraft(ctx, d.Book, book.Console, in)
	require.NoError(d.t, err)
	v, err = billing.Issue(ctx, d.Book, book.Console, v.ID, v.Version)
	require.NoError(d.t, err)
	return v
}

func (d *till) pay(day, amount string, on ...collect.Against) collect.Taken {
	d.t.Helper()
	taken, err := collect.TakePayment(ctx, d.Book, book.Console, collect.NewPayment{
		Key: d.key(), CustomerID: d.heron(), Amount: amount, Date: day, Method: "transfer", On: on,
	})
	require.NoError(d.t, err)
	return taken
}

func (d *till) read(f func(s *book.Session)) {
	d.t.Helper()
	_, err := book.Read(ctx, d.Book, book.Console, book.Bill, func(s *book.Session) (bool, error) { f(s); return true, nil })
	require.NoError(d.t, err)
}

func (d *till) heron() (id int64) {
	d.read(func(s *book.Session) {
		var err error
		id, err = store.Value[int64](s.Tx, "SELECT id FROM customers WHERE code = 'HERON'")
		require.NoError(d.t, err)
	})
	return id
}

// stands is the balance of HERON's invoices, their credit, what was received and what was refunded. The check sum of section 12 holds.
func (d *till) stands() []string {
	d.t.Helper()
	var out []string
	d.read(func(s *book.Session) {
		type sums struct{ Balance, Retained, Credit, Invoiced, Prepaid, Credited, Received, Refunded money.Amount }
		v, err := store.Value[sums](s.Tx, `SELECT
			(SELECT ifnull(sum(b."left"), 0) FROM invoices i JOIN invoice_balance b ON b.invoice_id = i.id WHERE i.customer_id = c.id) AS balance,
			(SELECT ifnull(sum(retainage), 0) FROM invoices WHERE customer_id = c.id AND status = 'issued') AS retained,
			(SELECT ifnull(sum(amount), 0) FROM credit_entries WHERE customer_id = c.id) AS credit,
			(SELECT ifnull(sum(total), 0) FROM invoices WHERE customer_id = c.id AND status = 'issued' AND credit_of IS NULL) AS invoiced,
			(SELECT ifnull(sum(prepaid), 0) FROM invoices WHERE customer_id = c.id AND status = 'issued') AS prepaid,
			(SELECT -ifnull(sum(total), 0) FROM invoices WHERE customer_id = c.id AND credit_of IS NOT NULL) AS credited,
			(SELECT ifnull(sum(amount), 0) FROM money_entries WHERE customer_id = c.id AND kind = 'payment') AS received,
			(SELECT -ifnull(sum(amount), 0) FROM money_entries WHERE customer_id = c.id AND kind = 'refund') AS refunded
			FROM customers c WHERE c.code = 'HERON'`)
		require.NoError(d.t, err)
		assert.Equal(d.t, v.Invoiced-v.Prepaid-v.Credited-v.Received+v.Refunded, v.Balance+v.Retained-v.Credit, "the check sum")
		out = []string{s.Money(v.Balance), s.Money(v.Credit), s.Money(v.Received), s.Money(v.Refunded)}
	})
	return out
}

// The ninth of the worked histories of billing.
func TestPaidTooMuchCreditAppliedRefundedAndThePaymentTakenBack(t *testing.T) {
	d := newTill(t, nil)
	first := d.invoice("2026-03-02", [2]string{"102", "412.50"})
	assert.Equal(t, []string{"412.50", "0.00", "0.00", "0.00"}, d.stands())
	paid := d.pay("2026-03-10", "500", collect.Against{InvoiceID: first.ID})
	assert.Equal(t, "87.50", paid.Credit)
	assert.Equal(t, []string{"0.00", "87.50", "500.00", "0.00"}, d.stands())
	second := d.invoice("2026-03-12", [2]string{"102", "60"})
	apply := collect.AppliedCredit{Key: d.key(), InvoiceID: second.ID, Amount: "60.01", Date: "2026-03-12"}
	apptest.Refusal(t, collect.ApplyCredit(ctx, d.Book, book.Console, apply), refuse.KindInvalid, "amount", "only 60.00 is left")
	apply.Amount, apply.Date = "60", "2026-03-11"
	apptest.Refusal(t, collect.ApplyCredit(ctx, d.Book, book.Console, apply), refuse.KindInvalid, "date", "is of 2026-03-12")
	apply.Date = "2026-03-12"
	require.NoError(t, collect.ApplyCredit(ctx, d.Book, book.Console, apply))
	require.NoError(t, collect.ApplyCredit(ctx, d.Book, book.Console, apply), "a retry")
	assert.Equal(t, []string{"0.00", "27.50", "500.00", "0.00"}, d.stands())

	back := collect.NewRefund{Key: d.key(), CustomerID: d.heron(), Amount: "27.51", Date: "2026-03-15"}
	apptest.Refusal(t, collect.Refund(ctx, d.Book, book.Console, back), refuse.KindInvalid, "amount", "credit is 27.50")
	back.Amount, back.Date = "20", "2026-03-09"
	apptest.Refusal(t, collect.Refund(ctx, d.Book, book.Console, back), refuse.KindInvalid, "date", "0.00 of the credit")
	back.Date = "2026-03-15"
	require.NoError(t, collect.Refund(ctx, d.Book, book.Console, back))
	assert.Equal(t, []string{"0.00", "7.50", "500.00", "20.00"}, d.stands())
	bounced := collect.Back{Key: d.key(), Reason: "bounced", Date: "2026-03-20"}
	err := collect.TakeBack(ctx, d.Book, book.Console, paid.ID, bounced)
	apptest.Refusal(t, err, refuse.KindConflict, "",
		"20.00 of this payment was refunded: take the refund back first. Of 500.00 only 480.00 is there")
	list, err := collect.Payments(ctx, d.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	require.Equal(t, []string{"refund", "-20.00"}, []string{list.Payments[0].Kind, list.Payments[0].Amount})
	require.NoError(t, collect.TakeBack(ctx, d.Book, book.Console, list.Payments[0].ID, collect.Back{
		Reason: "typed twice", Date: "2026-03-18",
	}))
	assert.Equal(t, []string{"0.00", "27.50", "500.00", "0.00"}, d.stands())
	early := bounced
	early.Key, early.Date = d.key(), "2026-03-11"
	err = collect.TakeBack(ctx, d.Book, book.Console, paid.ID, early)
	apptest.Refusal(t, err, refuse.KindInvalid, "date", "invoice 1002 was paid from it on 2026-03-12")
	require.NoError(t, collect.TakeBack(ctx, d.Book, book.Console, paid.ID, bounced))
	require.NoError(t, collect.TakeBack(ctx, d.Book, book.Console, paid.ID, bounced), "a retry")
	assert.Equal(t, []string{"472.50", "0.00", "0.00", "0.00"}, d.stands())
	v, err := billing.Invoice(ctx, d.Book, book.Console, second.ID)
	require.NoError(t, err)
	assert.Equal(t, []string{"60.00", "credit", "-60.00"}, []string{v.Received[0].Amount, v.Received[0].Text, v.Received[1].Amount})

	assert.Contains(t, apptest.ReportText(t, d.Book, "receipts"), "2026-03-12,HERON,,1002,102,60.00\n")
	assert.Contains(t, apptest.ReportText(t, d.Book, "receipts"), "2026-03-20,HERON,P1,1001,102,-412.50\n")
	list, err = collect.Payments(ctx, d.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	assert.Equal(t, []string{"0.00", "0.00", "4"}, []string{list.Received, list.Refunded, fmt.Sprint(list.Count)}, "two, and both taken back")
	assert.Empty(t, list.Credits)
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}

// The tenth.
func TestReceiptsByJobWithOneJobRetained(t *testing.T) {
	d := newTill(t, nil)
	v := d.invoice("2026-03-02", [2]string{"101", "1000"}, [2]string{"102", "500.01"})
	assert.Equal(t, "1400.01", v.Balance)
	for _, amount := range []string{"500", "500", "400.01"} {
		d.pay("2026-03-10", amount)
	}
	assert.Equal(t, "date,customer,payment,invoice,job,amount\n"+
		"2026-03-10,HERON,P1,1001,101,321.43\n2026-03-10,HERON,P1,1001,102,178.57\n"+
		"2026-03-10,HERON,P2,1001,101,321.42\n2026-03-10,HERON,P2,1001,102,178.58\n"+
		"2026-03-10,HERON,P3,1001,101,257.15\n2026-03-10,HERON,P3,1001,102,142.86\n", apptest.ReportText(t, d.Book, "receipts"))
	assert.Equal(t, []string{"0.00", "0.00", "1400.01", "0.00"}, d.stands())
	assert.Equal(t, "customer,job,current,days_1_30,days_31_60,days_61_90,over_90,total,retained\n"+
		"HERON,101,0.00,0.00,0.00,0.00,0.00,0.00,100.00\n", apptest.ReportText(t, d.Book, "aging-jobs"))
	through := reports.ReportQuery{Through: calendar.On(2026, 4, 5)}
	assert.Contains(t, apptest.ReportOf(t, d.Book, "aging-jobs", reports.ReportQuery{Through: calendar.On(2026, 3, 9)}),
		"HERON,101,900.00,0.00,0.00,0.00,0.00,900.00,100.00\nHERON,102,500.01,0.00,0.00,0.00,0.00,500.01,0.00\n", "before it was paid")
	assert.Contains(t, apptest.ReportOf(t, d.Book, "tax", through), ",,0,1500.01,0.00,1\n")
}

// One payment settles three invoices, the oldest due date first, or as the bookkeeper says; what is over is credit.
func TestOnePaymentOverThreeInvoices(t *testing.T) {
	d := newTill(t, nil)
	first := d.invoice("2026-03-02", [2]string{"102", "100"})
	second := d.invoice("2026-03-03", [2]string{"102", "200"})
	third := d.invoice("2026-03-04", [2]string{"102", "300"})
	open, err := collect.OpenOf(ctx, d.Book, book.Console, collect.OpenAsked{ID: d.heron(), Amount: "350"})
	require.NoError(t, err)
	assert.Equal(t, []string{"100.00", "200.00", "50.00", "600.00", "0.00"}, []string{
		open.Invoices[0].Proposed, open.Invoices[1].Proposed, open.Invoices[2].Proposed, open.Balance, open.Over,
	})
	open, err = collect.OpenOf(ctx, d.Book, book.Console, collect.OpenAsked{
		ID: d.heron(), Amount: "350", Set: []string{fmt.Sprintf("%d:40", first.ID), fmt.Sprintf("%d:", second.ID)},
	})
	require.NoError(t, err)
	assert.Equal(t, []string{"40.00", "", "300.00", "10.00"}, []string{
		open.Invoices[0].Proposed, open.Invoices[1].Proposed, open.Invoices[2].Proposed, open.Over,
	}, "by hand, and the rest")
	in := collect.NewPayment{Key: d.key(), CustomerID: d.heron(), Amount: "650", Date: "2026-03-20", On: []collect.Against{
		{InvoiceID: third.ID, Amount: "300.01"}, {InvoiceID: first.ID, Amount: "-1"}, {InvoiceID: first.ID},
	}}
	_, err = collect.TakePayment(ctx, d.Book, book.Console, in)
	apptest.Refusal(t, err, refuse.KindInvalid, "on[0].amount", "only 300.00 is left to pay on invoice 1003")
	apptest.Refusal(t, err, refuse.KindInvalid, "on[1].amount", "0 or more")
	apptest.Refusal(t, err, refuse.KindInvalid, "on[2].invoiceId", "named already")
	in.On = []collect.Against{{InvoiceID: third.ID, Amount: "300"}, {InvoiceID: first.ID, Amount: "100"}}
	in.Amount = "399.99"
	_, err = collect.TakePayment(ctx, d.Book, book.Console, in)
	apptest.Refusal(t, err, refuse.KindInvalid, "amount", "400.00 is set against invoices")
	other := d.invoice("2026-03-05", [2]string{"201", "10"})
	in.Amount, in.On = "650", append(in.On, collect.Against{InvoiceID: other.ID})
	_, err = collect.TakePayment(ctx, d.Book, book.Console, in)
	apptest.Refusal(t, err, refuse.KindInvalid, "on[2].invoiceId", "another customer's")
	in.On = in.On[:2]
	taken, err := collect.TakePayment(ctx, d.Book, book.Console, in)
	require.NoError(t, err)
	again, err := collect.TakePayment(ctx, d.Book, book.Console, in)
	require.NoError(t, err)
	assert.Equal(t, taken, again, "a retry")
	assert.Equal(t, "250.00", taken.Credit)
	assert.Equal(t, []string{"200.00", "250.00", "650.00", "0.00"}, d.stands())
	v, err := billing.Invoice(ctx, d.Book, book.Console, second.ID)
	require.NoError(t, err)
	assert.Equal(t, "200.00", v.Credit, "that can be set against it")
	assert.Contains(t, apptest.ReportText(t, d.Book, "aging"), "250.00")
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}

// Whatever is paid, credited, applied, refunded and taken back, in whatever order: the check sum holds, credit is never below 0, and what
// an invoice was paid is what its jobs received.
func TestRandomHistoriesOfMoneyAddUp(t *testing.T) {
	for seed := range uint64(4) {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			d := newTill(t, apptest.Files{
				"tax_codes.csv": "code,component,percent,applies_to\nT,State,6.25,other\n",
				"jobs.csv":      "number,customer,name,tax_code,retainage\n101,HERON,Dock,T,10\n102,HERON,Slip,,0\n103,HERON,Pier,T,5\n",
			})
			r := rand.New(rand.NewPCG(seed, 12))
			day := calendar.On(2026, 1, 5)
			for range 40 {
				day += calendar.Date(r.IntN(3))
				d.something(r, day)
				d.stands()
			}
			d.receiptsAddUp()
			apptest.Verified(t, d.Book)
			apptest.SameInAnotherBook(t, d.Book)
		})
	}
}

// something does one thing with money, which may be refused.
func (d *till) something(r *rand.Rand, day calendar.Date) {
	d.t.Helper()
	amount := cents(1 + r.IntN(120_000))
	list, err := collect.Payments(ctx, d.Book, book.Console, scope.ScopeQuery{})
	require.NoError(d.t, err)
	var invoices []int64
	d.read(func(s *book.Session) {
		invoices, err = store.Query[int64](s.Tx, "SELECT id FROM invoices WHERE credit_of IS NULL ORDER BY id")
		require.NoError(d.t, err)
	})
	switch n := r.IntN(10); {
	case n < 3 || len(invoices) == 0:
		d.invoice(day.String(), [2]string{"101", amount}, [2]string{"102", "77.77"}, [2]string{"103", cents(1 + r.IntN(50_000))})
	case n < 6:
		d.pay(day.String(), amount)
	case n == 6:
		err = collect.ApplyCredit(ctx, d.Book, book.Console, collect.AppliedCredit{
			InvoiceID: invoices[r.IntN(len(invoices))], Amount: cents(1 + r.IntN(9_000)), Date: day.String(),
		})
	case n == 7:
		err = collect.Refund(ctx, d.Book, book.Console, collect.NewRefund{
			CustomerID: d.heron(), Amount: cents(1 + r.IntN(20_000)), Date: day.String(),
		})
	case n == 8 && len(list.Payments) > 0:
		err = collect.TakeBack(ctx, d.Book, book.Console, list.Payments[r.IntN(len(list.Payments))].ID,
			collect.Back{Reason: "bounced", Date: day.String()})
	default:
		id := invoices[r.IntN(len(invoices))]
		rows, e := billing.CreditableOf(ctx, d.Book, book.Console, id)
		require.NoError(d.t, e)
		row := rows[r.IntN(len(rows))]
		_, err = billing.CreditInvoice(ctx, d.Book, book.Console, id, billing.NewCredit{
			Key: d.key(), Date: day.String(), Lines: []billing.CreditLine{{Kind: row.Kind, ID: row.ID, Becomes: "allowed", Reason: "agreed"}},
		})
	}
	var refused *refuse.Error
	if err != nil {
		require.ErrorAs(d.t, err, &refused)
	}
}

// receiptsAddUp compares what jobs received of each invoice with what was paid of it, and what is owed of jobs with its balance.
func (d *till) receiptsAddUp() {
	d.t.Helper()
	page, err := pages.Of(ctx, d.Book, book.Console, pages.Asked{Kind: "customer", ID: d.heron()})
	require.NoError(d.t, err)
	stands, aging := d.stands(), apptest.ReportText(d.t, d.Book, "aging")
	assert.Equal(d.t, stands[:2], []string{page.Account.Owed, page.Account.Credit}, "the customer's page")
	assert.Contains(d.t, aging, fmt.Sprintf("%s,%s,%s\n", page.Account.Owed, page.Account.Credit, page.Account.Retained))
	statement, err := collect.StatementOf(ctx, d.Book, book.Console, d.heron(), calendar.On(2026, 2, 1), calendar.On(2100, 1, 1))
	require.NoError(d.t, err)
	owed := new(big.Rat)
	for sign, text := range map[int64]string{1: stands[0], -1: stands[1]} {
		v, ok := new(big.Rat).SetString(text)
		require.True(d.t, ok)
		owed.Add(owed, v.Mul(v, big.NewRat(sign, 1)))
	}
	assert.Equal(d.t, owed.FloatString(2), statement.Closing, "the statement of account")
	assert.Equal(d.t, []string{stands[1], page.Account.Retained}, []string{statement.Credit, statement.Retained})
	if len(statement.Lines) > 0 {
		assert.Equal(d.t, statement.Closing, statement.Lines[len(statement.Lines)-1].Balance)
	}
	d.read(func(s *book.Session) {
		receipts, err := receivable.Receipts(s, receivable.InvoicesOf{To: calendar.On(2100, 1, 1)})
		require.NoError(d.t, err)
		require.NotEmpty(d.t, receipts)
		got := map[string]money.Amount{}
		for _, r := range receipts {
			got[r.Invoice] += r.Amount
		}
		type paid struct {
			Number string
			Paid   money.Amount
		}
		invoices, err := store.Query[paid](s.Tx, `SELECT i.number, b.paid FROM invoices i JOIN invoice_balance b ON b.invoice_id = i.id
			WHERE i.credit_of IS NULL`)
		require.NoError(d.t, err)
		for _, i := range invoices {
			assert.Equal(d.t, i.Paid, got[i.Number], "invoice %s", i.Number)
		}
		owed, err := receivable.OwedByJob(s, receivable.InvoicesOf{To: calendar.On(2100, 1, 1)})
		require.NoError(d.t, err)
		left := map[int64]money.Amount{}
		for _, o := range owed {
			left[o.InvoiceID] += o.Amount
		}
		for id, sum := range left {
			balance, err := store.Value[money.Amount](s.Tx, `SELECT "left" FROM invoice_balance WHERE invoice_id = ?`, id)
			require.NoError(d.t, err)
			assert.Equal(d.t, balance, sum)
		}
	})
}
