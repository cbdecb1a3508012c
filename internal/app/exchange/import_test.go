package exchange_test

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
	"jarvo/internal/app/exchange"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/tape"
	"jarvo/internal/bundle"
	"jarvo/internal/core/calendar"
	"jarvo/internal/store"
)

var twoHands = apptest.Files{
	"settings.csv": "key,value\ncompany_name,Two Hands\nrate_card,STD\ntax_code,BAY", "trades.csv": "code,name\ndriver,Driver",
	"cost_codes.csv": "code,name\n320,Drive piles",
	"workers.csv":    "code,name,trade,burden_class\nW1,Cato,driver,field", "wages.csv": "worker,effective_from,rate\nW1,2025-01-01,30",
	"burdens.csv":      "class,component,effective_from,basis,value\nfield,Social,2025-01-01,gross,10",
	"labour_rates.csv": "card,effective_from,trade,method,value\nSTD,2025-01-01,driver,hourly,80",
	"markups.csv":      "card,effective_from,category,percent\nSTD,2025-01-01,material,20",
	"tax_codes.csv":    "code,component,percent,applies_to\nBAY,State,5,material", "customers.csv": "code,name\nC1,Ferry",
	"jobs.csv":           "number,customer,name\n101,C1,Landing",
	"time_entries.csv":   "ref,worker,date,job,hours\nT1,W1,2025-03-03,101,8\nT2,W1,2025-03-04,101,8",
	"cost_documents.csv": "ref,kind,supplier,date,freight\nD1,supplier_invoice,Pellmore,2025-03-03,10",
	"cost_lines.csv": "document,line,category,description,quantity,unit_cost,job\nD1,1,material,Boards,10,9,101\n" +
		"D1,2,material,Bolts,1,10,101",
}

func twoHandsBook(t *testing.T, billThrough string) *book.Book {
	t.Helper()
	a := apptest.NewBook(t)
	require.NoError(t, twoHands.BringInto(t, a))
	if billThrough != "" {
		through, err := calendar.Parse(billThrough)
		require.NoError(t, err)
		_, err = billing.Run(ctx, a, book.Console, through, through, "", true)
		require.NoError(t, err)
	}
	return a
}

// historyOf is what was done to the first time entry.
func historyOf(t *testing.T, a *book.Book) []string {
	t.Helper()
	w, err := tape.OfEntry(ctx, a, book.Console, 1)
	require.NoError(t, err)
	var actions []string
	for _, h := range w.History {
		actions = append(actions, h.Action)
	}
	return actions
}

func TestAnImportBringsUpToDateWhatDiffersAndNothingElse(t *testing.T) {
	a := twoHandsBook(t, "")
	before := apptest.ReportText(t, a, "labour")
	require.NoError(t, twoHands.BringInto(t, a))
	assert.Equal(t, before, apptest.ReportText(t, a, "labour"))
	assert.Empty(t, historyOf(t, a), "the same again is no change")

	require.NoError(
		t, apptest.Files{"time_entries.csv": "ref,worker,date,job,hours\nT1,W1,2025-03-05,101,6\nT3,W1,2025-03-06,101,2"}.BringInto(t, a),
	)
	assert.Equal(t, []string{"changed by an import"}, historyOf(t, a))
	assert.Contains(t, apptest.ReportText(t, a, "labour"), "T1,W1,2025-03-05,101,,,approved,6.00,360,0,0,0,180.00,18.00,198.00,480.00")

	require.NoError(t, apptest.Files{"wages.csv": "worker,effective_from,rate\nW1,2025-03-05,40"}.BringInto(t, a))
	after := apptest.ReportText(t, a, "labour")
	assert.Contains(t, after, "T1,W1,2025-03-05,101,,,approved,6.00,360,0,0,0,240.00,24.00,264.00,480.00")
	assert.Contains(t, after, "T2,W1,2025-03-04,101,,,approved,8.00,480,0,0,0,240.00,24.00,264.00,640.00",
		"what came before the new wage stays")
	apptest.Verified(t, a)
}

func TestAnImportNeverChangesBilledWorkOrWhatItRestsOn(t *testing.T) {
	a := twoHandsBook(t, "2025-03-03")
	before, err := exchange.Export(ctx, a, book.Console)
	require.NoError(t, err)
	for what, c := range map[string]struct {
		files    apptest.Files
		sentence string
	}{
		"a billed entry": {
			apptest.Files{"time_entries.csv": "ref,worker,date,job,hours\nT1,W1,2025-03-03,101,9"}, "T1 is on an invoice and can't be changed",
		},
		"a billed line": {
			apptest.Files{"cost_lines.csv": "document,line,category,quantity,unit_cost,job\nD1,1,material,11,9,101"}, "D1 is on an invoice",
		},
		"a line beside it": {
			apptest.Files{"cost_lines.csv": "document,line,category,quantity,unit_cost,job\nD1,3,material,11,9,101"}, "D1 is on an invoice",
		},
		"its freight": {
			apptest.Files{"cost_documents.csv": "ref,kind,supplier,date,freight\nD1,supplier_invoice,Pellmore,2025-03-03,11"}, "D1 is on an invoice",
		},
		"its wage": {apptest.Files{"wages.csv": "worker,effective_from,rate\nW1,2025-01-01,31"}, "this wage is what billed work rests on"},
		"its burden": {
			apptest.Files{"burdens.csv": "class,component,effective_from,basis,value\nfield,Social,2025-01-01,gross,11"},
			"this burden is what billed work rests on",
		},
		"its rate": {
			apptest.Files{"labour_rates.csv": "card,effective_from,trade,method,value\nSTD,2025-01-01,driver,hourly,81"},
			"this rate is what billed work rests on",
		},
		"its markup": {
			apptest.Files{"markups.csv": "card,effective_from,category,percent\nSTD,2025-01-01,material,21"},
			"this markup is what billed work rests on",
		},
		"an invoice number used": {apptest.Files{"settings.csv": "key,value\nnext_invoice_number,1001"}, "invoice numbers up to 1001 are taken"},
		"another currency":       {apptest.Files{"settings.csv": "key,value\ncurrency,EUR"}, "the currency stays USD"},
	} {
		err := c.files.BringInto(t, a)
		require.ErrorContains(t, err, c.sentence, what)
		after, err := exchange.Export(ctx, a, book.Console)
		require.NoError(t, err)
		assert.Equal(t, before, after, what)
	}
	require.NoError(t, apptest.Files{"wages.csv": "worker,effective_from,rate\nW1,2025-03-04,31"}.BringInto(t, a), "a later row may follow")
	for _, rate := range []string{"70", "71"} { // that of the driver decides
		row := apptest.Files{"labour_rates.csv": "card,effective_from,method,value\nSTD,2025-01-01,hourly," + rate}
		require.NoError(t, row.BringInto(t, a), "no billed work rests on a rate that gives way to another")
	}
	assert.Contains(t, apptest.ReportText(t, a, "labour"), "T1,W1,2025-03-03,101,,,billed,8.00,480,0,0,0,240.00,24.00,264.00,640.00")
	apptest.Verified(t, a)
}

func TestInvoicesThatDoNotAddUpAreRefused(t *testing.T) {
	first := twoHandsBook(t, "2025-03-04")
	whole, err := exchange.Export(ctx, first, book.Console)
	require.NoError(t, err)
	for what, c := range map[string]struct {
		file        string
		row, column int
		text        string
		sentence    string
	}{
		"a line changed":           {"invoice_lines.csv", 0, 8, "1.00", "the lines of invoice 1001 come to"},
		"a subtotal changed":       {"invoices.csv", 0, 14, "1.00", "of invoice 1001 come to"},
		"a tax changed":            {"invoice_taxes.csv", 0, 6, "1.00", "the taxes of invoice 1001 come to"},
		"a share changed":          {"invoice_jobs.csv", 0, 2, "1.00", "the jobs' shares of invoice 1001 come to"},
		"a source changed":         {"invoice_sources.csv", 0, 6, "1.00", "the entries, cost lines and typed lines of invoice 1001 come to"},
		"minutes gone":             {"labour_segments.csv", 0, 2, "60", "has 60 of its 480 minutes"},
		"a cost that is not it":    {"labour_segments.csv", 0, 6, "1.00", "is not its gross and burden"},
		"a charge that is not":     {"labour_segments.csv", 0, 7, "1.00", "was charged"},
		"a line there is not":      {"invoice_sources.csv", 0, 4, "99", "invoice 1001 has no line 99"},
		"an entry not approved":    {"time_entries.csv", 0, 13, "draft", "T1 is not approved"},
		"a number left out":        {"invoices.csv", 0, 0, "1002", "there is no invoice"},
		"work of somebody else":    {"invoice_sources.csv", 0, 1, "T9", "there is no time entry"},
		"two invoices for an hour": {"invoice_sources.csv", 1, 1, "T1", "is there already"},
	} {
		spoiled := bundle.Data{}
		for name, rows := range whole {
			for _, row := range rows {
				spoiled[name] = append(spoiled[name], append([]string{}, row...))
			}
		}
		spoiled[c.file][c.row][c.column] = c.text
		b, err := bundle.Read(apptest.WriteBundle(t, spoiled))
		if err == nil {
			_, err = exchange.Import(ctx, apptest.NewBook(t), book.Console, b)
		}
		assert.ErrorContains(t, err, c.sentence, what)
	}
}

func TestWhatIsOwedAgesFromTheDueDate(t *testing.T) {
	a := twoHandsBook(t, "2025-03-04") // due on 3 April
	sheet, err := billing.Sheet(ctx, a, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	_, err = collect.TakePayment(ctx, a, book.Console, collect.NewPayment{
		On: []collect.Against{{InvoiceID: sheet.Issued[0].ID}}, Amount: "400.00", Date: "2025-05-01",
	})
	require.NoError(t, err)
	// Hours 1 280.00, goods (90 + 9 and 10 + 1) x 1.2 = 118.80 and 13.20, tax 5 % of 132.00 = 6.60: 1 418.60.
	for date, want := range map[string][]string{
		"2025-03-03": nil, "2025-04-03": {"C1", "1418.60", "0.00", "0.00", "0.00", "0.00", "1418.60"},
		"2025-04-04": {"C1", "0.00", "1418.60", "0.00", "0.00", "0.00", "1418.60"},
		"2025-05-04": {"C1", "0.00", "0.00", "1018.60", "0.00", "0.00", "1018.60"},
		"2025-07-03": {"C1", "0.00", "0.00", "0.00", "0.00", "1018.60", "1018.60"},
	} {
		asOf, err := calendar.Parse(date)
		require.NoError(t, err)
		report, err := reports.Make(ctx, a, book.Console, "aging", reports.ReportQuery{Through: asOf})
		require.NoError(t, err)
		if want == nil {
			assert.Empty(t, report.Rows, date)
			continue
		}
		assert.Equal(t, [][]string{append(want, "0.00", "0.00")}, report.Rows, date)
	}
}

func TestProfitOfAPeriodIsOfItsWorkAndItsInvoices(t *testing.T) {
	a := twoHandsBook(t, "2025-03-03") // bills the Monday and the paper
	profit := func(from, through string) []string {
		f, err := calendar.Parse(from)
		require.NoError(t, err)
		to, err := calendar.Parse(through)
		require.NoError(t, err)
		report, err := reports.Make(ctx, a, book.Console, "job-profit", reports.ReportQuery{From: f, Through: to})
		require.NoError(t, err)
		return report.Rows[0][4:]
	}
	assert.Equal(
		t, []string{"8.00", "264.00", "110.00", "374.00", "0.00", "772.00", "0.00", "0.00", "0.00", "772.00", "0.00", "398.00", "51.55"},
		profit("2025-03-03", "2025-03-03"),
	)
	assert.Equal(
		t, []string{"8.00", "264.00", "0.00", "264.00", "0.00", "0.00", "0.00", "640.00", "0.00", "640.00", "0.00", "376.00", "58.75"},
		profit("2025-03-04", "2025-12-31"),
	)
	assert.Equal(t, append(slices.Repeat([]string{"0.00"}, 12), ""), profit("2025-03-05", "2025-12-31"))
}

func TestWorkingsComeFromTheBook(t *testing.T) {
	a := twoHandsBook(t, "2025-03-04")
	line, err := tape.OfLine(ctx, a, book.Console, 1)
	require.NoError(t, err)
	assert.Equal(
		t, []string{"Boards", "99.00", "118.80", "16.67"},
		[]string{line.Title, line.Roots[0].Result.Text, line.Roots[1].Result.Text, line.Margin},
	)
	assert.Equal(t, "10.00 x 90.00 / 100.00, over what was bought", line.Roots[0].Steps[1].Formula)
	invoice, err := tape.OfInvoice(ctx, a, book.Console, 1)
	require.NoError(t, err)
	due := invoice.Roots[0]
	assert.Equal(t, "1418.60", due.Result.Text)
	assert.Equal(t, "5 % of 132.00", due.Steps[1].Steps[0].Formula)
	job, err := tape.OfJob(ctx, a, book.Console, "101")
	require.NoError(t, err)
	assert.Equal(t, "774.00", job.Roots[0].Result.Text, "1 412.00 billed less 528.00 and 110.00")
	for _, root := range []int64{due.Result.Number, job.Roots[0].Result.Number} {
		var leaves int64
		for _, leaf := range append(due.Leaves(), job.Roots[0].Leaves()...) {
			leaves += leaf.Result.Number
		}
		assert.Equal(t, due.Result.Number+job.Roots[0].Result.Number, leaves, root)
	}
	backup, err := tape.BackupOf(ctx, a, book.Console, 1)
	require.NoError(t, err)
	require.Len(t, backup, 4)
	assert.Equal(t, "Cato", backup[0].What)
	assert.Equal(t, []tape.BackupHours{{Hours: "8.00", Rate: "80.00", Charge: "640.00"}}, backup[0].Hours)
	for _, b := range backup {
		assert.Nil(t, b.Charge, "what it cost is not for the customer")
	}
	require.NoError(t, a.Store.Write(ctx, func(tx *store.Tx) error { return tx.Run("UPDATE customers SET open_book = 1") }))
	backup, err = tape.BackupOf(ctx, a, book.Console, 1)
	require.NoError(t, err)
	assert.Equal(t, "8.00 h x 80.00 x 1", backup[0].Charge.Leaves()[0].Formula, "but for one whose book is open")
	_, err = tape.OfLine(ctx, a, book.Console, 99)
	apptest.Refusal(t, err, refuse.KindNotFound, "", "no such cost line")
}

func TestABookThatIsMovedToAnotherMachineIsWhole(t *testing.T) {
	a := twoHandsBook(t, "2025-03-03")
	data, err := exchange.Export(ctx, a, book.Console)
	require.NoError(t, err)
	zip := t.TempDir() + "/books.zip"
	require.NoError(t, bundle.Write(zip, data, nil))
	b, err := bundle.Read(zip)
	require.NoError(t, err)
	s, err := store.Open(ctx, t.TempDir()+"/moved.db")
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	moved := book.New(s, apptest.Noon)
	_, err = exchange.Import(ctx, moved, book.Console, b)
	require.NoError(t, err)
	through := calendar.On(2025, 3, 31)
	made, err := billing.Run(ctx, moved, book.Console, through, through, "", true)
	require.NoError(t, err)
	require.Len(t, made, 1)
	assert.EqualValues(t, 1002, *made[0].Number, "the numbers go on")
	apptest.Verified(t, moved)
}

func TestLimitsAreReadAsHoursAreWritten(t *testing.T) {
	for text, want := range map[string]string{"8": "8", "7.5": "7.50", "7:30": "7.50", "0": "0", "": ""} {
		a := apptest.NewBook(t)
		require.NoError(t, apptest.Files{"settings.csv": "key,value\novertime_daily_hours," + text}.BringInto(t, a))
		data, err := exchange.Export(ctx, a, book.Console)
		require.NoError(t, err)
		for _, row := range data["settings.csv"] {
			if row[0] == "overtime_daily_hours" {
				assert.Equal(t, want, row[1], text)
			}
		}
	}
	for _, bad := range []string{"7:60", "x:1", "170:00", "-1"} {
		require.Error(t, apptest.Files{"settings.csv": "key,value\novertime_daily_hours," + bad}.BringInto(t, apptest.NewBook(t)), bad)
	}
}

// TestAnImportSaysHowFarItHasCome follows an import: the rows only grow, and at the end all of them are read.
func TestAnImportSaysHowFarItHasCome(t *testing.T) {
	text := "code,name\n"
	for i := range 2500 {
		text += fmt.Sprintf("%d,Code %d\n", i, i)
	}
	b, err := bundle.Read(apptest.TextFiles(t, map[string]string{"cost_codes.csv": text}))
	require.NoError(t, err)
	var told []exchange.Progress
	_, err = exchange.Import(
		exchange.Follow(ctx, func(p exchange.Progress) { told = append(told, p) }), apptest.NewBook(t), book.Console, b,
	)
	require.NoError(t, err)
	assert.Equal(t, []exchange.Progress{
		{File: "cost_codes.csv", Rows: 1, Of: 2500}, {File: "cost_codes.csv", Rows: 1001, Of: 2500},
		{File: "cost_codes.csv", Rows: 2001, Of: 2500}, {Rows: 2500, Of: 2500},
	}, told)
}
