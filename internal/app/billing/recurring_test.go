package billing_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/scope"
	"jarvo/internal/core/calendar"
	"jarvo/internal/store"
)

// The fourteenth of the worked histories of billing: monthly from 31 January, with three missed.
func TestARecurringInvoiceIsMadeOnce(t *testing.T) {
	d := newDesk(t, files(apptest.Files{
		"tax_codes.csv": "code,component,percent,applies_to\nT,State,5,other\n",
		"customers.csv": "code,name,terms_days\nHERON,Heron Cove Marina,30\n",
		"jobs.csv":      "number,customer,name,tax_code\n101,HERON,Moorings,T\n",
	}))
	in := billing.NewRecurring{
		Key: "again-123456", Text: "Moorings", First: "2025-01-31", Every: "1", Step: "months", Until: "2025-04-30",
		Lines: []billing.TypedLine{{Job: "101", Category: "other", Text: "Two moorings", Quantity: "2", Unit: "each", Amount: "120"}},
	}
	bad := in
	bad.Key, bad.Step, bad.Until = "again-other", "moons", "2025-01-30"
	_, err := billing.SaveRecurring(ctx, d.Book, book.Console, bad)
	apptest.Refusal(t, err, refuse.KindInvalid, "step", "")
	apptest.Refusal(t, err, refuse.KindInvalid, "until", "before it begins")
	_, err = billing.SaveRecurring(ctx, d.Book, book.Console, in)
	apptest.Refusal(t, err, refuse.KindConflict, "", "saving it makes 4 drafts, of 2025-01-31 to 2025-04-30")
	daily := in
	daily.Step, daily.Until = "days", ""
	_, err = billing.SaveRecurring(ctx, d.Book, book.Console, daily)
	apptest.Refusal(t, err, refuse.KindInvalid, "first", "has come due 662 times, and at most 24 are made at once; begin it later")
	in.Overdue = 4
	rows, err := billing.SaveRecurring(ctx, d.Book, book.Console, in)
	require.NoError(t, err)
	again, err := billing.SaveRecurring(ctx, d.Book, book.Console, in)
	require.NoError(t, err)
	assert.Equal(t, rows, again, "a retry makes nothing twice")
	assert.Equal(t, []string{"2025-01-31", "120.00"}, []string{rows[0].Next, rows[0].Amount})

	runs := func(on string, want int) {
		t.Helper()
		day := calendar.Of(parsed(t, on))
		for _, expected := range []int{want, 0} {
			made, err := billing.MakeRecurring(ctx, d.Book, book.Console, day)
			require.NoError(t, err)
			assert.Equal(t, expected, made, on)
		}
	}
	runs("2025-01-30", 0)
	runs("2025-02-10", 1)
	apptest.SameInAnotherBook(t, d.Book)
	runs("2025-04-30", 3)
	runs("2025-12-31", 0)
	sheet, err := billing.Sheet(ctx, d.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	var made []string
	for _, r := range sheet.Drafts {
		v := d.issued(r.ID)
		made = append(made, v.Date+" "+v.Due+" "+v.Total)
	}
	assert.Equal(t, []string{
		"2025-01-31 2025-03-02 126.00", "2025-02-28 2025-03-30 126.00", "2025-03-31 2025-04-30 126.00", "2025-04-30 2025-05-30 126.00",
	}, made)
	assert.Contains(t, apptest.ReportOf(t, d.Book, "aging", reportThrough(t, "2025-06-15")), "HERON,0.00,126.00,126.00,126.00,126.00,504.00")

	rows, err = billing.Recurring(ctx, d.Book, book.Console)
	require.NoError(t, err)
	assert.Equal(t, []any{"", 4}, []any{rows[0].Next, rows[0].Made})
	change := in
	change.ID, change.Version, change.First, change.Until = rows[0].ID, rows[0].Version, "2025-02-01", ""
	_, err = billing.SaveRecurring(ctx, d.Book, book.Console, change)
	apptest.Refusal(t, err, refuse.KindConflict, "", "its dates stay once it has begun")
	change.First, change.Overdue = in.First, 18
	rows, err = billing.SaveRecurring(ctx, d.Book, book.Console, change)
	require.NoError(t, err)
	assert.Equal(t, "2025-05-31", rows[0].Next)
	_, err = billing.SaveRecurring(ctx, d.Book, book.Console, change)
	apptest.Refusal(t, err, refuse.KindConflict, "", "")
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
	require.NoError(t, billing.DeleteRecurring(ctx, d.Book, book.Console, rows[0].ID, rows[0].Version))
}

// One that can't be made, since a job of it is another customer's now, stops no other.
func TestARecurringInvoiceThatFailsStopsNoOther(t *testing.T) {
	d := newDesk(t, files(apptest.Files{
		"customers.csv": "code,name\nHERON,Heron Cove Marina\nGULL,Gull Bay Club\n",
		"jobs.csv":      "number,customer,name\n101,HERON,Moorings\n102,HERON,Slip\n",
		"recurring.csv": "ref,text,first,until\nR1,Both,2025-01-31,2025-01-31\nR2,Moorings,2025-01-31,2025-01-31\n",
		"recurring_lines.csv": "recurring,position,job,text,amount\nR1,1,101,Moorings,120\nR1,2,102,Slip,50\n" +
			"R2,1,101,Moorings,120\n",
	}))
	require.NoError(t, d.Store.Write(ctx, func(tx *store.Tx) error {
		return tx.Exec("UPDATE jobs SET customer_id = (SELECT id FROM customers WHERE code = 'GULL') WHERE number = '102'").Error
	}))
	made, err := billing.MakeRecurring(ctx, d.Book, book.Console, calendar.Of(parsed(t, "2025-02-10")))
	require.ErrorContains(t, err, "Both of 2025-01-31")
	assert.Equal(t, 1, made)
	rows, err := billing.Recurring(ctx, d.Book, book.Console)
	require.NoError(t, err)
	assert.Equal(t, []int{0, 1}, []int{rows[0].Made, rows[1].Made})
}

func parsed(t *testing.T, day string) time.Time {
	t.Helper()
	at, err := time.Parse(time.DateOnly, day)
	require.NoError(t, err)
	return at
}
