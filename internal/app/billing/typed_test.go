package billing_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/tape"
	"jarvo/internal/core/calendar"
)

// taxed are hours and sheets on a job with a tax on material, and on another without tax.
func taxed() apptest.Files {
	return files(apptest.Files{
		"tax_codes.csv": "code,component,percent,applies_to\nT,State,6.25,material\n",
		"customers.csv": "code,name,invoice_per\nHERON,Heron Cove Marina,customer\nGULL,Gull Bay Club,job\n",
		"jobs.csv": "number,customer,name,tax_code,retainage,contract\n101,HERON,Dock,T,10,\n102,HERON,Slip,,,2000\n" +
			"103,GULL,Pier,,,\n",
		"time_entries.csv":   "ref,worker,date,job,hours\nT1,ora,2025-03-03,101,4\nT2,ora,2025-03-04,102,5\n",
		"cost_documents.csv": "ref,kind,date\nD1,receipt,2025-03-04\n",
		"cost_lines.csv": "document,line,category,description,quantity,unit,unit_cost,sell_price,job,markup\n" +
			"D1,1,material,Sheets,10,each,20,30,101,0\n",
	})
}

func (d *desk) typed(v billing.InvoiceView, lines ...billing.TypedLine) (billing.InvoiceView, error) {
	return billing.TypeLines(ctx, d.Book, book.Console, v.ID, billing.DraftLines{Version: v.Version, Lines: lines})
}

func (d *desk) issue(v billing.InvoiceView) billing.InvoiceView {
	d.t.Helper()
	v, err := billing.Issue(ctx, d.Book, book.Console, v.ID, v.Version)
	require.NoError(d.t, err)
	return v
}

func TestLinesAreTypedAndDiscounted(t *testing.T) {
	d := newDesk(t, taxed())
	v := d.draft() // 245.48 of labour and 300.00 of sheets on 101, 306.85 of labour on 102
	require.Equal(t, []string{"852.33", "18.75", "54.55"}, []string{v.Subtotal, v.Tax, v.Retainage})
	fee := billing.TypedLine{Kind: "line", Job: "102", Category: "other", Text: "Berth", Quantity: "3", Unit: "day", Amount: "450"}
	off := billing.TypedLine{Kind: "discount", Text: "Winter discount 5 %", Percent: "5"}
	v, err := d.typed(v, fee, off)
	require.NoError(t, err)
	// 245.48, 300.00 and 306.85 and 450.00 less 5 % each: 12.27, 15.00, 15.34 and 22.50; tax 6.25 % of 285.00, retainage 10 % of 518.21.
	assert.Equal(t, []string{"1237.22", "17.81", "51.82"}, []string{v.Subtotal, v.Tax, v.Retainage})
	assert.Equal(t, []string{"450.00", "-65.11"}, []string{v.Typed[0].Total, v.Typed[1].Total})
	v, err = billing.Regroup(ctx, d.Book, book.Console, v.ID, billing.Regrouping{Version: v.Version, Grouping: "one"})
	require.NoError(t, err)
	assert.Equal(t, "1237.22", v.Subtotal, "a typed line stays one in every grouping")
	v, err = d.choose(v, billing.PartOf{Kind: v.Sources[0].Kind, ID: v.Sources[0].ID, Way: "none"})
	require.NoError(t, err)
	assert.Equal(t, "1004.01", v.Subtotal, "the discount follows what it is on")
	apptest.Verified(t, d.Book)
	v = d.issue(v)
	_, err = d.typed(v, off)
	apptest.Refusal(t, err, refuse.KindConflict, "", "never changes")
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
	used := func() string {
		sheet, err := billing.Sheet(ctx, d.Book, book.Console, scope.ScopeQuery{Job: "102"})
		require.NoError(t, err)
		return sheet.Totals.Ready
	}
	assert.Equal(t, "0.00", used())
}

func TestADiscountOfAnAmountAndWhatIsWrongWithTypedLines(t *testing.T) {
	d := newDesk(t, taxed())
	v := d.draft()
	_, err := d.typed(v, billing.TypedLine{Kind: "line", Job: "103", Category: "other", Text: "Fee", Amount: "1"})
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[0].job", "choose a job of Heron Cove Marina")
	_, err = d.typed(v, billing.TypedLine{Kind: "discount", Text: "Less", Percent: "101"})
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[0].percent", "at most 100 %")
	_, err = d.typed(v, billing.TypedLine{Kind: "discount", Text: "Less", Amount: "5", Percent: "5"})
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[0].amount", "not both")
	_, err = d.typed(v, billing.TypedLine{Kind: "line", Job: "101", Category: "other", Text: "", Amount: "1"})
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[0].text", "")
	_, err = d.typed(v, billing.TypedLine{Kind: "discount", Text: "Less", Amount: "900"})
	apptest.Refusal(t, err, refuse.KindConflict, "", "can't be below 0")
	v, err = d.typed(v, billing.TypedLine{Kind: "discount", Job: "101", Text: "Agreed on site", Amount: "45.48"})
	require.NoError(t, err)
	assert.Equal(t, "806.85", v.Subtotal)
	assert.Equal(t, "17.19", v.Tax, "25.01 of it is off the sheets: 6.25 % of 274.99")
}

func TestWhatIsTypedCountsTowardALimit(t *testing.T) {
	d := newDesk(t, taxed())
	v := d.draft()
	_, err := d.typed(v, billing.TypedLine{Kind: "line", Job: "102", Category: "other", Text: "Berth", Amount: "1700"})
	require.NoError(t, err)
	sheet, err := billing.Sheet(ctx, d.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	require.Empty(t, sheet.Ready)
	v, err = billing.Invoice(ctx, d.Book, book.Console, v.ID)
	require.NoError(t, err)
	v, err = d.choose(v, billing.PartOf{Kind: "time_entry", ID: v.Sources[2].ID, Way: "none"})
	require.NoError(t, err)
	sheet, err = billing.Sheet(ctx, d.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	require.Len(t, sheet.Ready, 1, "of 306.85 the 300.00 fit that are left of 2,000.00")
	assert.Equal(t, []string{"300.00", "1700.00"}, []string{sheet.Ready[0].Total, sheet.Ready[0].Used})
	_, err = d.typed(v)
	require.NoError(t, err)
	sheet, err = billing.Sheet(ctx, d.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	assert.Equal(t, "306.85", sheet.Ready[0].Total)
	apptest.Verified(t, d.Book)
}

func TestADraftBeginsWithWhatIsTyped(t *testing.T) {
	d := newDesk(t, taxed())
	in := billing.NewDraft{Key: "begin-1234", Date: "2025-03-31", Lines: []billing.TypedLine{
		{Kind: "line", Job: "103", Category: "other", Text: "Survey", Amount: "120"},
	}}
	v, err := billing.StartDraft(ctx, d.Book, book.Console, in)
	require.NoError(t, err)
	again, err := billing.StartDraft(ctx, d.Book, book.Console, in)
	require.NoError(t, err)
	assert.Equal(t, v.ID, again.ID, "a retry makes nothing twice")
	v, err = billing.SetHead(ctx, d.Book, book.Console, v.ID, billing.DraftHead{
		Version: v.Version, Date: "2025-04-01", Due: "2025-04-15", OrderNumber: "GB-7", Opening: "As agreed on site.", Closing: "Thank you.",
	})
	require.NoError(t, err)
	assert.Equal(t, []string{"2025-04-01", "2025-04-15", "GB-7", "103 Pier, 1 April 2025"}, []string{v.Date, v.Due, v.OrderNumber, v.Title})
	_, err = billing.SetHead(ctx, d.Book, book.Console, v.ID, billing.DraftHead{Version: v.Version, Date: "2025-04-01", Due: "2025-03-15"})
	apptest.Refusal(t, err, refuse.KindInvalid, "due", "on its date or later")
	_, err = d.typed(v)
	apptest.Refusal(t, err, refuse.KindConflict, "", "nothing would be left")
	d.issue(v)
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}

// What is typed on a job is earned on the date of its invoice, and what is credited of it on that of the note.
func TestWhatIsTypedIsEarned(t *testing.T) {
	d := newDesk(t, taxed())
	v, err := d.typed(d.draft(), billing.TypedLine{Kind: "line", Job: "102", Category: "other", Text: "Berth", Amount: "450"})
	require.NoError(t, err)
	v = d.issue(v)
	d.credited(v.ID, 3, "50", "allowed")
	day := func(text string) calendar.Date {
		date, _ := calendar.Parse(text)
		return date
	}
	earned := func(from, to string) string {
		q := reports.ReportQuery{From: day(from), Through: day(to)}
		for row := range strings.SplitSeq(apptest.ReportOf(t, d.Book, "job-profit", q), "\n") {
			if cells := strings.Split(row, ","); cells[0] == "102" {
				return cells[13]
			}
		}
		return ""
	}
	assert.Equal(t, "706.85", earned("", ""), "306.85 of hours and 400.00")
	assert.Equal(t, "306.85", earned("2025-03-01", "2025-03-30"))
	assert.Equal(t, "450.00", earned("2025-03-31", "2025-04-29"))
	assert.Equal(t, "-50.00", earned("2025-04-30", "2025-04-30"))
}

func reportThrough(t *testing.T, day string) reports.ReportQuery {
	t.Helper()
	through, err := calendar.Parse(day)
	require.NoError(t, err)
	return reports.ReportQuery{Through: through}
}

func TestDraftsOfACustomerAreJoined(t *testing.T) {
	d := newDesk(t, files(apptest.Files{
		"jobs.csv":         "number,customer,name,basis,contract\n101,HERON,Dock,tm,\n102,HERON,Slip,tm,\n103,HERON,Pier,fixed,1000\n",
		"time_entries.csv": "ref,worker,date,job,hours\nT1,ora,2025-03-03,101,4\nT2,ora,2025-03-04,102,5\n",
		"instalments.csv":  "job,position,text,percent,due\n103,1,Start,30,2025-01-15\n",
	}))
	made, err := billing.MakeDrafts(ctx, d.Book, book.Console, billing.NewDrafts{
		Jobs: append(d.jobs, 3), Through: "2025-12-31", Date: "2025-03-31",
	})
	require.NoError(t, err)
	require.Len(t, made, 3)
	first, second := d.draftOf(made[0].ID), d.draftOf(made[1].ID)
	second, err = d.choose(second, billing.PartOf{Kind: "time_entry", ID: second.Sources[0].ID, Way: "hours", Value: "2"})
	require.NoError(t, err)
	second, err = d.typed(second, billing.TypedLine{Kind: "discount", Text: "Less", Percent: "10"})
	require.NoError(t, err)
	others := []billing.JoinedDraft{{ID: second.ID, Version: second.Version - 1}, {ID: made[2].ID, Version: made[2].Version}}
	in := billing.Joining{Version: first.Version, Drafts: others}
	_, err = billing.JoinDrafts(ctx, d.Book, book.Console, first.ID, in)
	apptest.Refusal(t, err, refuse.KindConflict, "", "changed since you opened it")
	others[0].Version++
	joined, err := billing.JoinDrafts(ctx, d.Book, book.Console, first.ID, in)
	require.NoError(t, err)
	// 245.48, 2 of 5 h at 61.37 and an instalment of 300.00, less 10 % of each.
	assert.Equal(t, []string{"601.40", "101 Dock, 102 Slip, 103 Pier, 3 March to 4 March 2025"}, []string{joined.Subtotal, joined.Title})
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
	joined, err = billing.Regroup(ctx, d.Book, book.Console, joined.ID, billing.Regrouping{Version: joined.Version, Grouping: "worker"})
	require.NoError(t, err)
	d.issue(joined)
	next := d.draft()
	assert.Equal(t, "worker", next.Grouping, "as the customer was shown before")
	next, err = billing.SetHead(ctx, d.Book, book.Console, next.ID, billing.DraftHead{
		Version: next.Version, Date: "2025-03-30", Due: "2025-04-30",
	})
	require.NoError(t, err)
	assert.Equal(t, "1001", next.DatedBefore, "who issues it is told")
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}

// The thirteenth of the worked histories of billing.
func TestHoursAndRateAreShown(t *testing.T) {
	d := newDesk(t, files(apptest.Files{
		"settings.csv":     "key,value\nrate_card,STD\nnext_invoice_number,1001\novertime_weekly_hours,\n",
		"trades.csv":       "code,name\ncarp,Labour\n",
		"tax_codes.csv":    "code,component,percent,applies_to\nT,State,6.25,labour\n",
		"jobs.csv":         "number,customer,name,tax_code\n101,HERON,Dock,T\n",
		"labour_rates.csv": "card,effective_from,trade,method,value\nSTD,2025-01-01,carp,hourly,47.35\n",
		"time_entries.csv": "ref,worker,date,job,hours,pay_class\nT1,ora,2025-03-03,101,1:40,auto\nT2,ora,2025-03-04,101,1:40,auto\n" +
			"T3,ora,2025-03-05,101,1:40,auto\nT4,ora,2025-03-06,101,0:50,overtime\nT5,ora,2025-03-07,101,0:10,overtime\n",
	}))
	v := d.draft()
	lines := func(v billing.InvoiceView) (out [][]string) {
		for _, l := range v.Sections[0].Lines {
			out = append(out, []string{l.Text, l.Quantity, l.Rate, l.Amount})
		}
		return out
	}
	want := [][]string{{"Labour", "5.00", "47.35", "236.75"}, {"Labour, overtime", "1.00", "71.025", "71.03"}, {"Rounding", "", "", "0.01"}}
	assert.Equal(t, want, lines(v))
	assert.Equal(t, []string{"307.79", "19.24", "327.03"}, []string{v.Subtotal, v.Tax, v.Total})

	// Remembered by customer, and a part stands without a rate.
	v, err := billing.Regroup(ctx, d.Book, book.Console, v.ID, billing.Regrouping{Version: v.Version, Grouping: "trade"})
	require.NoError(t, err)
	assert.Equal(t, [][]string{{"Labour", "6.00", "", "307.79"}}, lines(v))
	require.NoError(t, billing.DropDraft(ctx, d.Book, book.Console, v.ID, v.Version))
	v = d.draft()
	assert.True(t, v.ShowRates, "that draft was dropped")
	v, err = d.choose(v, billing.PartOf{Kind: v.Sources[0].Kind, ID: v.Sources[0].ID, Way: "amount", Value: "78"})
	require.NoError(t, err)
	assert.Equal(t, [][]string{
		{"Labour", "", "", "78.00"}, {"Labour", "3.33", "47.35", "157.83"}, {"Labour, overtime", "1.00", "71.025", "71.03"},
		{"Rounding", "", "", "0.01"},
	}, lines(v))
	apptest.SameInAnotherBook(t, d.Book)
	v, err = d.choose(v, billing.PartOf{Kind: v.Sources[0].Kind, ID: v.Sources[0].ID, Way: "rest"})
	require.NoError(t, err)
	v = d.issue(v)
	assert.Equal(t, want, lines(v))
	tape, err := tape.OfInvoice(ctx, d.Book, book.Console, v.ID)
	require.NoError(t, err)
	subtotal := tape.Roots[0].Steps[0]
	assert.Equal(t, []string{"327.03", "307.79"}, []string{tape.Roots[0].Result.Text, subtotal.Result.Text})
	assert.Equal(t, "Labour 5.00 h x 47.35; Labour, overtime 1.00 h x 71.025; rounding 0.01", subtotal.Steps[0].Formula)
	assert.Len(t, subtotal.Steps[0].Steps, 5, "an entry each, so that it adds up")
	note := d.credited(v.ID, 0, "", "allowed")
	assert.Equal(t, []string{"78.92", "4.94", "83.86"}, []string{note.Note.Subtotal, note.Note.Tax, note.Note.Total})
	assert.Equal(t, "243.17", d.draftOf(v.ID).Balance)
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}

// Work is moved to a draft of its own and back, a part with what was chosen of it.
func TestWorkIsMovedToAnotherDraft(t *testing.T) {
	d := newDesk(t, taxed())
	v := d.draft()
	part := billing.PartOf{Kind: v.Sources[0].Kind, ID: v.Sources[0].ID, Way: "amount", Value: "100"}
	v, err := d.choose(v, part)
	require.NoError(t, err)
	total := v.Total
	move := func(v billing.InvoiceView, to *billing.InvoiceView, sources ...billing.PaperSource) (billing.Moved, error) {
		in := billing.Moving{Version: v.Version}
		if to != nil {
			in.To = &billing.JoinedDraft{ID: to.ID, Version: to.Version}
		}
		for _, src := range sources {
			in.Sources = append(in.Sources, billing.WorkRef{Kind: src.Kind, ID: src.ID})
		}
		return billing.MoveSources(ctx, d.Book, book.Console, v.ID, in)
	}
	_, err = move(v, nil, v.Sources...)
	apptest.Refusal(t, err, refuse.KindConflict, "", "join the two instead")
	_, err = move(v, &v, v.Sources[0])
	apptest.Refusal(t, err, refuse.KindInvalid, "to", "on that draft already")
	moved, err := move(v, nil, v.Sources[0])
	require.NoError(t, err)
	assert.Equal(t, []string{"100.00", "amount"}, []string{moved.To.Subtotal, moved.To.Sources[0].Way})
	assert.Len(t, moved.From.Sources, len(v.Sources)-1)
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
	_, err = move(v, nil, v.Sources[1])
	apptest.Refusal(t, err, refuse.KindConflict, "", "has changed since")
	_, err = move(moved.From, &moved.To, v.Sources[0])
	apptest.Refusal(t, err, refuse.KindConflict, "", "is not on the draft any more")

	// The rest of what was moved goes onto the first draft: the two can't be put together then.
	rest, err := d.choose(moved.From, billing.PartOf{Kind: part.Kind, ID: part.ID, Way: "rest"})
	require.NoError(t, err)
	_, err = move(d.draftOf(moved.To.ID), &rest, v.Sources[0])
	apptest.Refusal(t, err, refuse.KindConflict, "", "the same work")
	rest, err = d.choose(rest, billing.PartOf{Kind: part.Kind, ID: part.ID, Way: "none"})
	require.NoError(t, err)
	joined, err := billing.JoinDrafts(ctx, d.Book, book.Console, rest.ID, billing.Joining{
		Version: rest.Version, Drafts: []billing.JoinedDraft{{ID: moved.To.ID, Version: d.draftOf(moved.To.ID).Version}},
	})
	require.NoError(t, err)
	assert.Equal(t, total, joined.Total)
	apptest.Verified(t, d.Book)
}

// A bill run takes only the kinds that are chosen; the others stay ready.
func TestSomeKindsAreBilled(t *testing.T) {
	d := newDesk(t, taxed())
	run := func(kinds ...string) ([]billing.DraftRow, error) {
		return billing.MakeDrafts(ctx, d.Book, book.Console, billing.NewDrafts{
			Jobs: d.jobs, Kinds: kinds, Through: "2027-01-01", Date: "2025-03-31",
		})
	}
	_, err := run("beer")
	apptest.Refusal(t, err, refuse.KindInvalid, "kinds[0]", "beer")
	_, err = run("mileage")
	apptest.Refusal(t, err, refuse.KindConflict, "", "nothing of this is ready")
	made, err := run("material")
	require.NoError(t, err)
	assert.Equal(t, "300.00", made[0].Subtotal)
	assert.Equal(t, "552.33", d.ready(), "the labour waits")
	apptest.Verified(t, d.Book)
}

// A group of sources is billed at an amount for all of it, and hours at a rate: what that is less or more is written down or up.
func TestAGroupIsBilledAtAnAmountAndHoursAtARate(t *testing.T) {
	d := newDesk(t, taxed())
	v := d.draft()
	parts := make([]billing.PartOf, len(v.Sources))
	for i, src := range v.Sources {
		parts[i] = billing.PartOf{Kind: src.Kind, ID: src.ID, Way: "amount", Rest: "down", Reason: "a round sum"}
	}
	together := func(amount string) (billing.InvoiceView, error) {
		return billing.Choose(ctx, d.Book, book.Console, v.ID, billing.DraftParts{Version: v.Version, Parts: parts, Together: amount})
	}
	_, err := together("8oo")
	apptest.Refusal(t, err, refuse.KindInvalid, "together", "8oo")
	v, err = together("800")
	require.NoError(t, err)
	assert.Equal(t, "800.00", v.Subtotal) // of 852.33, by 245.48, 300.00 and 306.85
	assert.Equal(t, []string{"230.41", "281.58", "288.01"}, []string{v.Sources[0].Amount, v.Sources[1].Amount, v.Sources[2].Amount})
	assert.Equal(t, []string{"15.07", "18.42", "18.84"}, []string{v.Sources[0].Down, v.Sources[1].Down, v.Sources[2].Down})
	rate := billing.PartOf{Kind: v.Sources[0].Kind, ID: v.Sources[0].ID, Way: "rate", Value: "65", Reason: "night work"}
	v, err = d.choose(v, rate)
	require.NoError(t, err)
	assert.Equal(t, []string{"260.00", "14.52", "amount"}, []string{v.Sources[0].Amount, v.Sources[0].Up, v.Sources[0].Way})
	rate.Kind, rate.ID = v.Sources[1].Kind, v.Sources[1].ID
	_, err = d.choose(v, rate)
	apptest.Refusal(t, err, refuse.KindInvalid, "parts[0].value", "type an amount")

	// Hours of which a part was billed have no rate of their own any more, also where the rest comes onto a draft anew.
	rate.Kind, rate.ID, rate.Way, rate.Value = v.Sources[0].Kind, v.Sources[0].ID, "amount", "100"
	v, err = d.choose(v, rate)
	require.NoError(t, err)
	d.issue(v)
	fee := billing.TypedLine{Kind: "line", Job: "101", Category: "other", Text: "Fee", Amount: "1"}
	next, err := billing.StartDraft(ctx, d.Book, book.Console, billing.NewDraft{
		Key: "draft-rate-1", Date: "2025-03-31", Lines: []billing.TypedLine{fee},
	})
	require.NoError(t, err)
	rate.Way, rate.Value = "rate", "65"
	_, err = d.choose(next, rate)
	apptest.Refusal(t, err, refuse.KindInvalid, "parts[0].value", "type an amount")
	apptest.Verified(t, d.Book)
}

// A draft has the order that its jobs are worked under, where it is one; each job its own where they differ. What is typed goes before it,
// and an issued invoice keeps it.
func TestADraftIsUnderTheOrderOfItsJobs(t *testing.T) {
	d := newDesk(t, files(apptest.Files{
		"customers.csv":    "code,name,invoice_per\nHERON,Heron Cove Marina,customer\n",
		"jobs.csv":         "number,customer,name,order_number\n101,HERON,Dock,HC-7\n102,HERON,Slip,HC-7\n",
		"time_entries.csv": "ref,worker,date,job,hours\nT1,ora,2025-03-03,101,4\nT2,ora,2025-03-04,102,5\n",
	}))
	orderOf := func(job, order string) {
		folder, err := jobs.Folder(ctx, d.Book, book.Console, job)
		require.NoError(t, err)
		folder.Typed.OrderNumber = order
		require.NoError(t, jobs.Change(ctx, d.Book, book.Console, job, folder.Typed))
	}
	orders := func(v billing.InvoiceView) []string {
		require.Len(t, v.Places, 2)
		return []string{v.OrderNumber, v.Places[0].Order, v.Places[1].Order}
	}
	v := d.draft()
	assert.Equal(t, []string{"HC-7", "HC-7", "HC-7"}, orders(v))
	orderOf("102", "HC-9")
	v = d.draftOf(v.ID)
	assert.Equal(t, []string{"", "HC-7", "HC-9"}, orders(v))
	orderOf("102", "HC-7")
	v = d.draftOf(v.ID)
	v, err := billing.SetHead(ctx, d.Book, book.Console, v.ID, billing.DraftHead{
		Version: v.Version, Date: v.Date, Due: v.Due, OrderNumber: v.OrderNumber, Opening: "As agreed.",
	})
	require.NoError(t, err)
	orderOf("101", "HC-8")
	orderOf("102", "HC-8")
	v = d.draftOf(v.ID)
	assert.Equal(t, []string{"HC-8", "HC-8", "HC-8"}, orders(v), "another text does not hold the order")
	typed, err := billing.SetHead(ctx, d.Book, book.Console, v.ID, billing.DraftHead{
		Version: v.Version, Date: v.Date, Due: v.Due, OrderNumber: "HC-1",
	})
	require.NoError(t, err)
	assert.Equal(t, []string{"HC-1", "HC-8", "HC-8"}, orders(typed))
	orderOf("101", "HC-7")
	orderOf("102", "HC-7")
	v, err = billing.SetHead(ctx, d.Book, book.Console, v.ID, billing.DraftHead{
		Version: d.draftOf(v.ID).Version, Date: v.Date, Due: v.Due,
	})
	require.NoError(t, err)
	v = d.issue(v)
	orderOf("101", "HC-8")
	v = d.draftOf(v.ID)
	assert.Equal(t, []string{"HC-7", "HC-7", "HC-7"}, orders(v))
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}
