package app_test

import (
	"bytes"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/reports"
	"jarvo/internal/core/calendar"
	"jarvo/internal/statement"
)

// owed is a book with 2 000 open invoices of 50 customers.
func owed(b *testing.B) *book.Book {
	b.Helper()
	a := apptest.NewBook(b)
	customers, jobs := "code,name\n", "number,customer,name\n"
	for i := range 50 {
		customers += fmt.Sprintf("C%d,Customer number %d\n", i, i)
		jobs += fmt.Sprintf("%d,C%d,Work %d\n", 100+i, i, i)
	}
	require.NoError(b, apptest.Files{
		"settings.csv": "key,value\nnext_invoice_number,1001\n", "customers.csv": customers, "jobs.csv": jobs,
	}.BringInto(b, a))
	for i := range 2000 {
		v, err := billing.StartDraft(ctx, a, book.Console, billing.NewDraft{
			Key: fmt.Sprintf("owed-%06d", i), Date: (calendar.On(2026, 1, 1) + calendar.Date(i/8)).String(),
			Lines: []billing.TypedLine{{Kind: "line", Job: fmt.Sprint(100 + i%50), Category: "other", Text: "Work", Amount: fmt.Sprint(100 + i)}},
		})
		require.NoError(b, err)
		_, err = billing.Issue(ctx, a, book.Console, v.ID, v.Version)
		require.NoError(b, err)
	}
	return a
}

// What each customer owes, by how late it is, over 2 000 open invoices.
func BenchmarkAgingOfThousands(b *testing.B) {
	a := owed(b)
	b.Run("jarvo", func(b *testing.B) {
		for b.Loop() {
			_, err := reports.Make(ctx, a, book.Console, "aging", reports.ReportQuery{})
			require.NoError(b, err)
		}
	})
}

// A statement of the bank with 1 000 receipts, read and matched with 2 000 open invoices.
func BenchmarkBankOfAThousand(b *testing.B) {
	a := owed(b)
	round := 0
	b.Run("jarvo", func(b *testing.B) {
		for b.Loop() {
			round++
			lines := make([]statement.Line, 1000)
			for i := range lines {
				lines[i] = statement.Line{
					Date: calendar.On(2026, 11, 2), Amount: fmt.Sprintf("%d.00", 100+2*i), Name: fmt.Sprintf("Customer number %d", 2*i%50),
					Text: fmt.Sprintf("invoice %d", 1001+2*i), Ref: fmt.Sprintf("B%d-%d", round, i),
				}
			}
			var file bytes.Buffer
			require.NoError(b, statement.WriteCamt(&file, "2200 4418", "USD", lines))
			_, err := collect.ReadStatement(ctx, a, book.Console, collect.BankFile{Content: file.Bytes()})
			require.NoError(b, err)
			_, err = collect.Bank(ctx, a, book.Console)
			require.NoError(b, err)
		}
	})
}
