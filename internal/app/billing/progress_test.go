package billing_test

import (
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/exchange"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/scope"
	"jarvo/internal/bundle"
)

func fixed(contract string) apptest.Files {
	return files(apptest.Files{
		"jobs.csv":         "number,customer,name,basis,contract,retainage\n101,HERON,Jetty,fixed," + contract + ",10\n102,HERON,Slip,tm,,\n",
		"time_entries.csv": "ref,worker,date,job,hours\nT1,ora,2025-01-06,101,8\nT2,ora,2025-01-07,102,2\n",
	})
}

func (d *desk) schedule(lines ...billing.NewScheduleLine) (billing.Schedule, error) {
	return billing.SaveSchedule(ctx, d.Book, book.Console, "101", billing.NewSchedule{Version: d.values().Version, Lines: lines})
}

func (d *desk) values() billing.Schedule {
	d.t.Helper()
	out, err := billing.ScheduleOf(ctx, d.Book, book.Console, "101")
	require.NoError(d.t, err)
	return out
}

// complete bills lines of the schedule by their place in it, each at a percentage with what is stored.
func (d *desk) complete(date string, of ...[2]string) (billing.Schedule, error) {
	now := d.values()
	in := billing.NewProgress{Draft: now.DraftID, Version: now.DraftVersion, Date: date}
	for i, l := range of {
		if l != [2]string{} {
			in.Lines = append(in.Lines, billing.ProgressOf{Line: now.Lines[i].ID, Percent: l[0], Stored: l[1]})
		}
	}
	return billing.BillProgress(ctx, d.Book, book.Console, "101", in)
}

func (d *desk) issued(draftID int64) billing.InvoiceView {
	d.t.Helper()
	v, err := billing.Invoice(ctx, d.Book, book.Console, draftID)
	require.NoError(d.t, err)
	return d.issue(v)
}

// contract changes what is agreed for the job, as an approved change order does.
func (d *desk) contract(amount string) {
	d.t.Helper()
	folder, err := jobs.Folder(ctx, d.Book, book.Console, "101")
	require.NoError(d.t, err)
	terms := folder.Typed
	terms.Contract = amount
	require.NoError(d.t, jobs.Change(ctx, d.Book, book.Console, "101", terms))
}

// The eleventh of the worked histories of billing, on a real book.
func TestPercentCompleteOverThreeMonthsWithAChangeOrder(t *testing.T) {
	d := newDesk(t, fixed("75000"))
	_, err := d.schedule(billing.NewScheduleLine{Text: "Piles", Amount: "40000"}, billing.NewScheduleLine{Text: "Deck", Amount: "25000"})
	apptest.Refusal(t, err, refuse.KindInvalid, "lines", "10000.00 to place")
	_, err = d.schedule(billing.NewScheduleLine{Text: "Piles", Amount: "40000"}, billing.NewScheduleLine{Text: "Deck", Amount: "25000"},
		billing.NewScheduleLine{Text: "Rails", Amount: "10000"})
	require.NoError(t, err)
	_, err = d.complete("2025-01-31", [2]string{"101", ""})
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[0].percent", "0 to 100 %")
	_, err = d.complete("2025-01-31", [2]string{"30", "28000.01"})
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[0].stored", "what is left of the line")
	january, err := d.complete("2025-01-31", [2]string{"30", ""}, [2]string{"0", "6000"})
	require.NoError(t, err)
	first := d.issued(january.DraftID)
	assert.Equal(t, []string{"18000.00", "1800.00", "16200.00"}, []string{first.Subtotal, first.Retainage, first.DueNow})
	assert.Equal(t, []string{"30", "% done", "12000.00"}, []string{
		first.Sections[0].Lines[0].Quantity, first.Sections[0].Lines[0].Unit, first.Sections[0].Lines[0].Amount,
	})

	d.contract("78333.33")
	lines := []billing.NewScheduleLine{}
	for _, l := range d.values().Lines {
		lines = append(lines, billing.NewScheduleLine{ID: l.ID, Text: l.Text, Amount: l.Amount})
	}
	_, err = d.schedule(append(lines, billing.NewScheduleLine{Text: "Ladder", Amount: "3333.33"})...)
	require.NoError(t, err)
	february, err := d.complete("2025-02-28", [2]string{"75", ""}, [2]string{"40", "2500"}, [2]string{"12.5", ""}, [2]string{"33.33", ""})
	require.NoError(t, err)
	assert.Equal(t, "26861.00", february.Now)
	apptest.SameInAnotherBook(t, d.Book)
	second := d.issued(february.DraftID)
	assert.Equal(t, []string{"26861.00", "2686.10", "24174.90"}, []string{second.Subtotal, second.Retainage, second.DueNow})

	now := d.values()
	kept, err := billing.BillProgress(ctx, d.Book, book.Console, "101", billing.NewProgress{
		Draft: now.DraftID, Version: now.DraftVersion, Date: "2025-03-31",
		Lines: []billing.ProgressOf{{Line: now.Lines[1].ID, Percent: "95", Keep: true}},
	})
	require.NoError(t, err)
	assert.Equal(t, []string{"1250.00", "12500.00"}, []string{kept.Lines[1].Stored, kept.Lines[1].Now}, "the rest of it is built in")
	march, err := d.complete("2025-03-31", [2]string{"70", ""}, [2]string{"80", ""}, [2]string{"50", ""}, [2]string{"100", ""})
	require.NoError(t, err)
	third := d.issued(march.DraftID)
	assert.Equal(t, []string{"11472.33", "1147.23", "10325.10"}, []string{third.Subtotal, third.Retainage, third.DueNow})
	paper, err := billing.Invoice(ctx, d.Book, book.Console, second.ID)
	require.NoError(t, err)
	assert.Equal(t, []billing.StandRow{
		{Job: "101 Jetty", Contract: "78333.33", BilledToDate: "44861.00", Left: "33472.33", HeldToDate: "4486.10"},
	}, paper.Stands, "as it stood then")
	now = d.values()
	assert.Equal(t, []string{"56333.33", "22000.00", "71.91"}, []string{now.Before, now.Left, now.Done})
	papersAgree(t, d.Book)
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)

	d.credited(third.ID, 1, "500", "again")
	assert.Equal(t, "55833.33", d.values().Before, "what is credited to bill again is billed by the percentage once more")
	d.credited(third.ID, 1, "100", "allowed")
	assert.Equal(t, "55833.33", d.values().Before, "what is allowed counts as billed")
	papersAgree(t, d.Book)
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}

// The twelfth: instalments turn up when they are due, and the last takes what is left of the contract as it then is.
func TestInstalmentsThatComeDue(t *testing.T) {
	d := newDesk(t, fixed("10000"))
	save := func(rows ...billing.InstalmentRow) (billing.Schedule, error) {
		return billing.SaveInstalments(ctx, d.Book, book.Console, "101", billing.NewInstalments{Version: d.values().Version, Instalments: rows})
	}
	_, err := save(billing.InstalmentRow{Text: "All of it", By: "rest"}, billing.InstalmentRow{Text: "Start", By: "percent", Value: "0"})
	apptest.Refusal(t, err, refuse.KindInvalid, "instalments[0].by", "only the last")
	apptest.Refusal(t, err, refuse.KindInvalid, "instalments[1].value", "above 0")
	plan, err := save(billing.InstalmentRow{Text: "Start", By: "percent", Value: "30", Due: "2025-01-15"},
		billing.InstalmentRow{Text: "Piles driven", By: "percent", Value: "33.3333"},
		billing.InstalmentRow{Text: "Deck laid", By: "amount", Value: "2500", Due: "2025-03-15"},
		billing.InstalmentRow{Text: "Handed over", By: "rest"})
	require.NoError(t, err)
	amounts := func(of billing.Schedule) (out []string) {
		for _, n := range of.Instalments {
			out = append(out, n.Amount)
		}
		return out
	}
	assert.Equal(t, []string{"3000.00", "3333.33", "2500.00", "1166.67"}, amounts(plan))
	run := func(through string) []billing.InvoiceView {
		jobID := int64(1)
		made, err := billing.MakeDrafts(ctx, d.Book, book.Console, billing.NewDrafts{Jobs: []int64{jobID}, Through: through, Date: through})
		if err != nil {
			return nil
		}
		var out []billing.InvoiceView
		for _, m := range made {
			out = append(out, d.issued(m.ID))
		}
		return out
	}
	assert.Nil(t, run("2025-01-14"), "not due yet")
	first := run("2025-01-31")
	require.Len(t, first, 1)
	assert.Equal(t, []string{"3000.00", "300.00"}, []string{first[0].Subtotal, first[0].Retainage})
	assert.Nil(t, run("2025-01-31"), "once")
	stage := func() billing.StageRow {
		sheet, err := billing.Sheet(ctx, d.Book, book.Console, scope.ScopeQuery{To: "2025-04-30"})
		require.NoError(t, err)
		require.Len(t, sheet.Stages, 1)
		return sheet.Stages[0]
	}
	next := stage()
	assert.Equal(t, []any{"Piles driven", "3333.33", false, "30.00"}, []any{next.Next, next.Amount, next.Ready, next.Done})
	reach := billing.Reach{Version: next.Version, Date: "2025-02-20"}
	reached, err := billing.ReachInstalment(ctx, d.Book, book.Console, next.Instalment, reach)
	require.NoError(t, err)
	_, err = billing.ReachInstalment(ctx, d.Book, book.Console, next.Instalment, reach)
	apptest.Refusal(t, err, refuse.KindConflict, "", "has changed since")
	assert.True(t, stage().Ready)
	both := run("2025-03-31")
	require.Len(t, both, 1)
	assert.Equal(t, "5833.33", both[0].Subtotal, "two have come due")
	d.contract("11250.55")
	_, err = billing.ReachInstalment(ctx, d.Book, book.Console, reached.Instalments[3].ID, billing.Reach{
		Version: d.values().Version, Date: "2025-04-20",
	})
	require.NoError(t, err)
	apptest.SameInAnotherBook(t, d.Book)
	last := run("2025-04-30")
	require.Len(t, last, 1)
	assert.Equal(t, "2417.22", last[0].Subtotal)
	assert.Equal(t, "0.00", d.values().Left)
	d.credited(first[0].ID, 0, "", "again")
	again := run("2025-04-30")
	require.Len(t, again, 1)
	assert.Equal(t, "3000.00", again[0].Subtotal, "due again, 375.17 less than its 30 % now, since no more is left of the contract")
	d.contract("8833.33")
	d.credited(last[0].ID, 0, "", "again")
	assert.Nil(t, run("2025-04-30"), "the rest comes to nothing, and makes no invoice of 0")
	_, err = d.schedule(billing.NewScheduleLine{Text: "All", Amount: "11250.55"})
	apptest.Refusal(t, err, refuse.KindInvalid, "lines", "the lines come to")
	papersAgree(t, d.Book)
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}

// With two fixed phases no instalment has a phase of its own: it is refused where it is agreed, where a phase becomes fixed, in a bundle.
func TestInstalmentsNeedOneFixedPlace(t *testing.T) {
	d := newDesk(t, files(apptest.Files{
		"jobs.csv":   "number,customer,name,basis\n101,HERON,Jetty,tm\n102,HERON,Slip,tm\n",
		"phases.csv": "job,code,name,basis,contract\n101,A,Piles,fixed,6000\n101,B,Deck,,\n",
	}))
	rows := []billing.InstalmentRow{{Text: "Start", By: "amount", Value: "3000", Due: "2025-01-15"}}
	save := func() error {
		in := billing.NewInstalments{Version: d.values().Version, Instalments: rows}
		_, err := billing.SaveInstalments(ctx, d.Book, book.Console, "101", in)
		return err
	}
	require.NoError(t, save())
	folder, err := jobs.Folder(ctx, d.Book, book.Console, "101")
	require.NoError(t, err)
	terms := folder.Typed
	terms.Phases[1].Basis, terms.Phases[1].Contract = "fixed", "2000"
	apptest.Refusal(t, jobs.Change(ctx, d.Book, book.Console, "101", terms), refuse.KindConflict, "", "2 fixed phases")

	data, err := exchange.Export(ctx, d.Book, book.Console)
	require.NoError(t, err)
	for i, row := range data["phases.csv"] {
		if row[1] == "B" {
			data["phases.csv"][i][3], data["phases.csv"][i][4] = "fixed", "2000"
		}
	}
	folderOf := filepath.Join(t.TempDir(), "astray")
	require.NoError(t, bundle.Write(folderOf, data, nil))
	brought, err := bundle.Read(folderOf)
	require.NoError(t, err)
	_, err = exchange.Import(ctx, apptest.NewBook(t), book.Console, brought)
	require.ErrorContains(t, err, "an instalment bills only one")

	rows = nil
	require.NoError(t, save())
	folder, err = jobs.Folder(ctx, d.Book, book.Console, "101")
	require.NoError(t, err)
	terms.Version = folder.Typed.Version
	require.NoError(t, jobs.Change(ctx, d.Book, book.Console, "101", terms))
	rows = []billing.InstalmentRow{{Text: "Start", By: "rest"}}
	apptest.Refusal(t, save(), refuse.KindConflict, "", "schedule of values")
}

func TestABeyondTheContractIsSaid(t *testing.T) {
	d := newDesk(t, fixed("10000"))
	bill := func(amount string, beyond bool) (billing.Schedule, error) {
		now := d.values()
		return billing.BillProgress(ctx, d.Book, book.Console, "101", billing.NewProgress{
			Draft: now.DraftID, Version: now.DraftVersion, Date: "2025-02-28", Beyond: beyond, Lines: []billing.ProgressOf{{Amount: amount}},
		})
	}
	_, err := bill("10000.01", false)
	apptest.Refusal(t, err, refuse.KindInvalid, "beyond", "more than the contract")
	now, err := bill("4000", false)
	require.NoError(t, err)
	d.issued(now.DraftID)
	now, err = bill("6500", true)
	require.NoError(t, err)
	assert.Equal(t, []string{"4000.00", "6500.00", "-500.00"}, []string{now.Before, now.Now, now.Left})
	_, err = billing.BillProgress(ctx, d.Book, book.Console, "101", billing.NewProgress{Lines: []billing.ProgressOf{{Amount: "1"}}})
	apptest.Refusal(t, err, refuse.KindConflict, "", "the draft of job 101 has changed")
	now, err = bill("", false)
	require.NoError(t, err)
	assert.Zero(t, now.DraftID, "nothing is left on it")

	// A schedule that comes later begins with what was billed, as a line of its own.
	now, err = d.schedule(billing.NewScheduleLine{Text: "Rails", Amount: "6000"})
	require.NoError(t, err)
	assert.Equal(t, []string{"Billed before this schedule", "4000.00", "4000.00", "Rails", "0.00"}, []string{
		now.Lines[0].Text, now.Lines[0].Amount, now.Lines[0].Before, now.Lines[1].Text, now.Lines[1].Before,
	})
	_, err = d.schedule(billing.NewScheduleLine{ID: now.Lines[1].ID, Text: "Rails", Amount: "10000"})
	apptest.Refusal(t, err, refuse.KindInvalid, "lines", "stays a line of it")
	papersAgree(t, d.Book)
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}

func TestAFixedPriceGoesOnThePaperOfWorkOfItsJob(t *testing.T) {
	d := newDesk(t, files(apptest.Files{
		"jobs.csv":         "number,customer,name,basis\n101,HERON,Jetty,tm\n",
		"phases.csv":       "job,code,name,basis,contract\n101,A,Design,fixed,5000\n101,B,Build,,\n",
		"time_entries.csv": "ref,worker,date,job,phase,hours\nT1,ora,2025-01-06,101,B,2\n",
	}))
	d.draft()
	now, err := d.complete("", [2]string{"40", ""})
	require.NoError(t, err)
	v := d.issued(now.DraftID)
	assert.Equal(t, []string{"2122.74", "Fixed price"}, []string{v.Subtotal, v.Sections[len(v.Sections)-1].Title})
	folder, err := jobs.Folder(ctx, d.Book, book.Console, "101")
	require.NoError(t, err)
	assert.Equal(t, "2122.74", folder.Billed)
	papersAgree(t, d.Book)
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}
