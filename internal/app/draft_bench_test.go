package app_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/core/calendar"
)

// thousands is a draft of 2 000 sources, three in four of them hours, on a book of its own.
func thousands(b *testing.B) (*book.Book, billing.InvoiceView) {
	b.Helper()
	var workers, wages, hours, lines strings.Builder
	workers.WriteString("code,name,trade\n")
	wages.WriteString("worker,effective_from,rate\n")
	hours.WriteString("ref,worker,date,job,hours\n")
	lines.WriteString("document,line,category,description,quantity,unit,unit_cost,job,markup\n")
	for n := range 15 {
		fmt.Fprintf(&workers, "w%d,Worker %d,carp\n", n, n)
		fmt.Fprintf(&wages, "w%d,2025-01-01,30\n", n)
	}
	for n := range 1500 {
		fmt.Fprintf(&hours, "T%d,w%d,%s,101,8\n", n, n%15, calendar.On(2025, 1, 6)+calendar.Date(n/15))
	}
	for n := range 500 {
		fmt.Fprintf(&lines, "D1,%d,material,Bolts %d,3,each,7.31,101,15\n", n+1, n)
	}
	a := apptest.NewBook(b)
	require.NoError(b, apptest.Files{
		"settings.csv": "key,value\nrate_card,STD\n", "trades.csv": "code,name\ncarp,Carpenter\n", "workers.csv": workers.String(),
		"wages.csv": wages.String(), "labour_rates.csv": "card,effective_from,trade,method,value\nSTD,2025-01-01,carp,hourly,61.37\n",
		"customers.csv": "code,name\nHERON,Heron Cove Marina\n", "jobs.csv": "number,customer,name\n101,HERON,Dock\n",
		"time_entries.csv": hours.String(), "cost_documents.csv": "ref,kind,date\nD1,receipt,2025-03-04\n", "cost_lines.csv": lines.String(),
	}.BringInto(b, a))
	made, err := billing.Run(ctx, a, book.Console, calendar.On(2026, 1, 1), calendar.On(2026, 1, 1), "", false)
	require.NoError(b, err)
	view, err := billing.Invoice(ctx, a, book.Console, made[0].ID)
	require.NoError(b, err)
	require.Len(b, view.Sources, 2000)
	return a, view
}

// A draft of 2 000 sources opened, and changed.
func BenchmarkDraftOfThousands(b *testing.B) {
	a, view := thousands(b)
	b.Run("jarvo", func(b *testing.B) {
		for b.Loop() {
			_, err := billing.Invoice(ctx, a, book.Console, view.ID)
			require.NoError(b, err)
		}
	})
}

func BenchmarkDraftOfThousandsChanged(b *testing.B) {
	a, view := thousands(b)
	value := 0
	b.Run("jarvo", func(b *testing.B) {
		for b.Loop() {
			value++
			src := view.Sources[3]
			part := billing.PartOf{Kind: src.Kind, ID: src.ID, Way: "percent", Value: fmt.Sprint(1 + value%99)}
			var err error
			view, err = billing.Choose(ctx, a, book.Console, view.ID, billing.DraftParts{Version: view.Version, Parts: []billing.PartOf{part}})
			require.NoError(b, err)
		}
	})
}
