package customers_test

import (
	"context"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/book"
	"jarvo/internal/app/customers"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/app/verify"
	"jarvo/internal/core/money"
	"jarvo/internal/demo/demotest"
	"jarvo/internal/store"
)

// account is what a customer has: jobs, invoices, payments, messages, and what all of it comes to.
type account struct {
	Jobs, Issued, Drafts, Payments, Messages int64
	Billed, Received, Credit                 money.Amount
}

func (a account) and(b account) account {
	return account{
		a.Jobs + b.Jobs, a.Issued + b.Issued, a.Drafts + b.Drafts, a.Payments + b.Payments, a.Messages + b.Messages,
		a.Billed + b.Billed, a.Received + b.Received, a.Credit + b.Credit,
	}
}

// Two customers that are one: all that the one had is the other's, issued invoices say what they said and hold, and nothing of it can be
// done by another program.
func TestCustomersThatAreOneAreMerged(t *testing.T) {
	ctx := context.Background()
	b, _ := demotest.Open(t)
	read := func(query string, args ...any) (n int64) {
		t.Helper()
		require.NoError(t, b.Store.Read(ctx, func(tx *store.Tx) (err error) { n, err = store.Value[int64](tx, query, args...); return err }))
		return n
	}
	accountOf := func(customer int64) (a account) {
		require.NoError(t, b.Store.Read(ctx, func(tx *store.Tx) (err error) {
			a, err = store.Value[account](tx, `SELECT (SELECT count(*) FROM jobs WHERE customer_id = @c) AS jobs,
				(SELECT count(*) FROM invoices WHERE customer_id = @c AND status = 'issued') AS issued,
				(SELECT count(*) FROM invoices WHERE customer_id = @c AND status = 'draft') AS drafts,
				(SELECT count(*) FROM payments WHERE customer_id = @c) AS payments,
				(SELECT count(*) FROM messages WHERE customer_id = @c) AS messages,
				(SELECT ifnull(sum(total), 0) FROM invoices WHERE customer_id = @c AND status = 'issued') AS billed,
				(SELECT ifnull(sum(amount), 0) FROM money_entries WHERE customer_id = @c) AS received,
				(SELECT ifnull(sum(amount), 0) FROM credit_entries WHERE customer_id = @c) AS credit`, map[string]any{"c": customer})
			return err
		}))
		return a
	}
	const busiest = `SELECT customer_id FROM payments WHERE customer_id <> ? GROUP BY customer_id ORDER BY count(*) DESC, customer_id LIMIT 1`
	goes := read(busiest, 0)
	stays := read(busiest, goes)
	had, other := accountOf(goes), accountOf(stays)
	require.Positive(t, had.Issued*had.Payments*had.Jobs)
	words := func(customer int64) int64 {
		return read(`SELECT count(DISTINCT customer_name || customer_address) FROM invoices
			WHERE status = 'issued' AND customer_id = ?`, customer)
	}
	told := words(goes) + words(stays)

	merge := register.Merge{Version: read("SELECT version FROM customers WHERE id = ?", goes), Into: stays, IntoVersion: 99}
	apptest.Refusal(t, customers.MergeInto(ctx, b, book.Console, goes, merge), refuse.KindConflict, "", "changed this customer")
	merge.IntoVersion = read("SELECT version FROM customers WHERE id = ?", stays)
	same := register.Merge{Version: merge.Version, Into: goes, IntoVersion: merge.Version}
	apptest.Refusal(t, customers.MergeInto(ctx, b, book.Console, goes, same), refuse.KindInvalid, "into", "choose another one")
	require.NoError(t, customers.MergeInto(ctx, b, book.Console, goes, merge))

	assert.Equal(t, had.and(other), accountOf(stays))
	assert.Zero(t, accountOf(goes))
	assert.Equal(t, told, words(stays), "issued invoices say what they said")
	differences, err := verify.Run(ctx, b, book.Console)
	require.NoError(t, err)
	assert.Empty(t, differences)

	third := read(busiest, stays)
	for _, table := range []string{"invoices", "payments", "messages"} {
		where := map[string]string{"invoices": "status = 'issued'", "payments": "1 = 1", "messages": "status = 'sent'"}[table]
		row := read("SELECT max(id) FROM "+table+" WHERE "+where+" AND customer_id = ?", stays)
		err := b.Store.Write(ctx, func(tx *store.Tx) error {
			return tx.Exec("UPDATE "+table+" SET customer_id = ? WHERE id = ?", third, row).Error
		})
		require.Error(t, err, table)
	}
	require.NoError(t, customers.MergeInto(ctx, b, book.Console, stays, register.Merge{
		Version: merge.IntoVersion, Into: third, IntoVersion: read("SELECT version FROM customers WHERE id = ?", third),
	}), "and once more")
	assert.Equal(t, third, read("SELECT into_id FROM merged_customers WHERE id = ?", goes))
	require.NoError(t, b.Store.Write(ctx, func(tx *store.Tx) error {
		return tx.Create(&store.Customer{ID: goes, Code: "anew", Name: "Anew", InvoicePer: "job", Active: true, Version: 1}).Error
	}))
	assert.Zero(t, read("SELECT count(*) FROM merged_customers WHERE id = ?", goes), "who is given its id is another customer")
}

// The guards of what never changes name each column but those that a merge moves.
func TestTheGuardsNameEachColumn(t *testing.T) {
	_, s := demotest.Open(t)
	require.NoError(t, s.Read(context.Background(), func(tx *store.Tx) error {
		for table, moved := range map[string][]string{
			"invoices": {"customer_id", "seal"}, "payments": {"customer_id"}, "messages": {"customer_id"},
		} {
			guard, err := store.Value[string](tx, "SELECT sql FROM sqlite_schema WHERE name = ?", table+"_fixed")
			require.NoError(t, err)
			named, _, found := strings.Cut(strings.SplitN(guard, "UPDATE OF ", 2)[1], " ON "+table)
			require.True(t, found, table)
			columns, err := store.Query[string](tx, "SELECT name FROM pragma_table_info(?)", table)
			require.NoError(t, err)
			guarded := strings.Fields(strings.ReplaceAll(named, ",", " "))
			assert.ElementsMatch(t, columns, append(guarded, moved...))
		}
		return nil
	}))
}
