package billing_test

import (
	"context"
	"fmt"
	"math/rand/v2"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/scope"
	"jarvo/internal/store"
)

var ctx = context.Background()

// files are a book with one worker, whose overtime begins after 440 minutes, and one job; more is added to them.
func files(more apptest.Files) apptest.Files {
	f := apptest.Files{
		"settings.csv":     "key,value\nrate_card,STD\nnext_invoice_number,1001\novertime_daily_hours,7:20\novertime_weekly_hours,\n",
		"trades.csv":       "code,name\ncarp,Carpenter\n",
		"workers.csv":      "code,name,trade\nora,Ora Tidewell,carp\n",
		"wages.csv":        "worker,effective_from,rate\nora,2025-01-01,30\n",
		"labour_rates.csv": "card,effective_from,trade,method,value\nSTD,2025-01-01,carp,hourly,61.37\n",
		"customers.csv":    "code,name\nHERON,Heron Cove Marina\n",
		"jobs.csv":         "number,customer,name\n101,HERON,Dock\n",
	}
	for name, text := range more {
		f[name] = text
	}
	return f
}

// desk bills in a book.
type desk struct {
	*book.Book
	t    testing.TB
	jobs []int64
	keys atomic.Int64
}

func newDesk(t testing.TB, f apptest.Files) *desk {
	t.Helper()
	a := apptest.NewBook(t)
	require.NoError(t, f.BringInto(t, a))
	d := &desk{Book: a, t: t}
	sheet, err := billing.Sheet(ctx, a, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	for _, r := range sheet.Ready {
		d.jobs = append(d.jobs, r.JobID)
	}
	return d
}

// draft makes a draft of all that is ready.
func (d *desk) draft() billing.InvoiceView {
	d.t.Helper()
	made, err := billing.MakeDrafts(ctx, d.Book, book.Console, billing.NewDrafts{Jobs: d.jobs, Through: "2027-01-01", Date: "2025-03-31"})
	require.NoError(d.t, err)
	require.Len(d.t, made, 1)
	view, err := billing.Invoice(ctx, d.Book, book.Console, made[0].ID)
	require.NoError(d.t, err)
	return view
}

func (d *desk) choose(v billing.InvoiceView, parts ...billing.PartOf) (billing.InvoiceView, error) {
	return billing.Choose(ctx, d.Book, book.Console, v.ID, billing.DraftParts{Version: v.Version, Parts: parts})
}

// billed chooses a part of the first source of a draft of all that is ready, issues it, and gives what that billed.
func (d *desk) billed(part billing.PartOf) billing.InvoiceView {
	d.t.Helper()
	v := d.draft()
	part.Kind, part.ID = v.Sources[0].Kind, v.Sources[0].ID
	v, err := d.choose(v, part)
	require.NoError(d.t, err)
	v, err = billing.Issue(ctx, d.Book, book.Console, v.ID, v.Version)
	require.NoError(d.t, err)
	return v
}

func (d *desk) ready() string {
	d.t.Helper()
	sheet, err := billing.Sheet(ctx, d.Book, book.Console, scope.ScopeQuery{})
	require.NoError(d.t, err)
	return sheet.Totals.Ready
}

func TestAnHourSheetIsBilledInThreeParts(t *testing.T) {
	d := newDesk(t, files(apptest.Files{"time_entries.csv": "ref,worker,date,job,hours\nT1,ora,2025-03-03,101,9\n"}))
	assert.Equal(t, "603.48", d.ready())
	first := d.billed(billing.PartOf{Way: "hours", Value: "3:20"})
	assert.Equal(t, []string{"204.57", "3.33 h"}, []string{first.Subtotal, first.Sources[0].Quantity})
	second := d.draft()
	part := billing.PartOf{Kind: "time_entry", ID: second.Sources[0].ID, Way: "hours", Value: "6"}
	_, err := d.choose(second, part)
	apptest.Refusal(t, err, refuse.KindInvalid, "parts[0].value", "only 5.67 h of it are left")
	part.Value = "4:40"
	second, err = d.choose(second, part)
	require.NoError(t, err)
	assert.Equal(t, []string{"306.85", "92.06", "398.91"}, []string{second.Subtotal, second.Sources[0].Later, second.Sources[0].ToBill})
	_, err = billing.Issue(ctx, d.Book, book.Console, second.ID, second.Version)
	require.NoError(t, err)
	last := d.billed(billing.PartOf{Way: "rest"})
	assert.Equal(t, []string{"92.06", "1.00 h"}, []string{last.Subtotal, last.Sources[0].Quantity})
	assert.Equal(t, "0.00", d.ready())
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}

func TestAQuantityIsBilledInThreeParts(t *testing.T) {
	d := newDesk(t, files(apptest.Files{
		"tax_codes.csv":      "code,component,percent,applies_to\nT,State,6.25,material\n",
		"jobs.csv":           "number,customer,name,tax_code\n101,HERON,Dock,T\n",
		"cost_documents.csv": "ref,kind,date\nD1,receipt,2025-03-04\n",
		"cost_lines.csv": "document,line,category,description,quantity,unit,unit_cost,sell_price,job,markup\n" +
			"D1,1,material,Sheets,37,each,20,33.3667,101,0\n",
	}))
	var totals []string
	for _, part := range []billing.PartOf{{Way: "quantity", Value: "12"}, {Way: "quantity", Value: "12"}, {Way: "rest"}} {
		v := d.billed(part)
		totals = append(totals, v.Subtotal, v.Tax, v.Sources[0].Quantity)
	}
	assert.Equal(t, []string{"400.40", "25.03", "12 each", "400.40", "25.03", "12 each", "433.77", "27.11", "13 each"}, totals)
	assert.Equal(t, "0.00", d.ready())
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}

func TestWhatIsLeftIsWrittenDownWithAReason(t *testing.T) {
	d := newDesk(t, files(apptest.Files{"time_entries.csv": "ref,worker,date,job,hours\nT1,ora,2025-03-03,101,9\nT2,ora,2025-03-04,101,2\n"}))
	v := d.draft()
	part := billing.PartOf{Kind: "time_entry", ID: v.Sources[0].ID, Way: "amount", Value: "400", Rest: "down"}
	_, err := d.choose(v, part)
	apptest.Refusal(t, err, refuse.KindInvalid, "parts[0].reason", "say why")
	part.Reason = "too slow"
	second := billing.PartOf{Kind: "time_entry", ID: v.Sources[1].ID, Way: "amount", Value: "130"}
	_, err = d.choose(v, part, second)
	apptest.Refusal(t, err, refuse.KindInvalid, "parts[1].reason", "say why") // 7.26 beyond the 122.74 are written up
	second.Reason = "agreed"
	v, err = d.choose(v, part, second)
	require.NoError(t, err)
	assert.Equal(t, []string{"530.00", "203.48", "", "7.26"}, []string{v.Subtotal, v.Sources[0].Down, v.Sources[0].Later, v.Sources[1].Up})
	assert.Equal(t, "0.00", d.ready())
	_, err = d.choose(v, billing.PartOf{Kind: "time_entry", ID: part.ID, Way: "amount", Value: "-1"})
	apptest.Refusal(t, err, refuse.KindInvalid, "parts[0].value", "same sign")
	_, err = d.choose(v, billing.PartOf{Kind: "time_entry", ID: part.ID, Way: "amount", Value: "600", Rest: "down", Down: "5", Reason: "x"})
	apptest.Refusal(t, err, refuse.KindInvalid, "parts[0].down", "only 3.48 of it is left")
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)

	require.NoError(t, billing.DropDraft(ctx, d.Book, book.Console, v.ID, v.Version))
	assert.Equal(t, "726.22", d.ready(), "a draft that is dropped has written nothing down")
}

func TestWhatIsHeldIsOnNoDraftUntilItIsLetGo(t *testing.T) {
	d := newDesk(t, files(apptest.Files{"time_entries.csv": "ref,worker,date,job,hours\nT1,ora,2025-03-03,101,9\nT2,ora,2025-03-04,101,2\n"}))
	v := d.draft()
	held := billing.PartOf{Kind: "time_entry", ID: v.Sources[1].ID, Way: "hold", Reason: "is it in the price?"}
	stale := v
	v, err := d.choose(v, held)
	require.NoError(t, err)
	require.Len(t, v.Offered, 1)
	assert.Equal(t, []any{true, "is it in the price?", "122.74"}, []any{v.Offered[0].Held, v.Offered[0].Note, v.Offered[0].Amount})
	_, err = d.choose(v, billing.PartOf{Kind: "cost_line", ID: 99, Way: "hold"})
	apptest.Refusal(t, err, refuse.KindInvalid, "parts[0].way", "not ready to bill any more")
	_, err = d.choose(v, held, held)
	apptest.Refusal(t, err, refuse.KindInvalid, "parts[1].id", "changed above already")
	_, err = d.choose(stale, held)
	apptest.Refusal(t, err, refuse.KindConflict, "", "changed since you opened it")
	_, err = d.choose(v, billing.PartOf{Kind: "time_entry", ID: v.Sources[0].ID, Way: "none"})
	apptest.Refusal(t, err, refuse.KindConflict, "", "drop it instead")
	apptest.SameInAnotherBook(t, d.Book)
	_, err = billing.Issue(ctx, d.Book, book.Console, v.ID, v.Version)
	require.NoError(t, err)

	assert.Equal(t, "0.00", d.ready(), "what is held is not ready")
	apptest.SameInAnotherBook(t, d.Book)
	sheet, err := billing.Sheet(ctx, d.Book, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	require.Len(t, sheet.NotReady, 1)
	assert.Equal(t, []string{"On hold", "122.74"}, []string{sheet.NotReady[0].Reason, sheet.NotReady[0].Amount})
	_, err = billing.MakeDrafts(ctx, d.Book, book.Console, billing.NewDrafts{Jobs: d.jobs, Through: "2027-01-01", Date: "2025-03-31"})
	apptest.Refusal(t, err, refuse.KindConflict, "", "ready to bill any more")
	err = billing.LetGo(ctx, d.Book, book.Console, billing.LettingGo{JobID: d.jobs[0], Amount: "122.73"})
	apptest.Refusal(t, err, refuse.KindConflict, "", "what is held of this job has changed")
	for range 2 { // sent once more for want of an answer
		require.NoError(t, billing.LetGo(ctx, d.Book, book.Console, billing.LettingGo{JobID: d.jobs[0], Amount: "122.74"}))
	}
	assert.Equal(t, "122.74", d.ready())
	apptest.Verified(t, d.Book)
}

// Whatever is chosen on drafts that are made, changed, dropped, issued and credited, the charge of all work is what is billed, drafted,
// unbilled and written down less what is written up; and all of it is the same in another book.
func TestRandomPartsLoseNothing(t *testing.T) {
	dearer, credited, back, applied, moved, released := 0, 0, 0, 0, 0, 0
	for seed := range uint64(6) {
		r := rand.New(rand.NewPCG(seed, 35))
		hours, lines := "ref,worker,date,job,hours\n", "document,line,category,description,quantity,unit_cost,job,markup\n"
		for i := range 12 {
			hours += fmt.Sprintf("T%d,ora,2025-03-%02d,101,%d:%02d\n", i, i+1, 1+r.IntN(10), r.IntN(60))
			lines += fmt.Sprintf("D1,%d,material,Thing,%d,%d.%02d,101,12.5\n", i+1, 1+r.IntN(9), 1+r.IntN(90), r.IntN(100))
		}
		d := newDesk(t, files(apptest.Files{
			"time_entries.csv": hours, "cost_documents.csv": "ref,kind,date\nD1,receipt,2025-03-04\n", "cost_lines.csv": lines,
			"tax_codes.csv": "code,component,percent,applies_to,retainage_tax\nT,State,6.25,labour material deposit," +
				[]string{"with_invoice", "on_release"}[seed%2] + "\n",
			"jobs.csv": fmt.Sprintf("number,customer,name,tax_code,retainage\n101,HERON,Dock,T,%d\n", seed%3*5),
		}))
		asked, err := d.ask("900.50")
		require.NoError(t, err)
		asked = d.issue(asked)
		issued := []int64{asked.ID}
		for range 8 {
			made, err := billing.MakeDrafts(ctx, d.Book, book.Console, billing.NewDrafts{
				Jobs: d.jobs, Through: fmt.Sprintf("2025-03-%02d", 2+r.IntN(12)), Date: "2025-03-31",
			})
			if err != nil {
				continue
			}
			v, err := billing.Invoice(ctx, d.Book, book.Console, made[0].ID)
			require.NoError(t, err)
			for range 10 {
				if changed, err := d.choose(v, d.anyPart(r, v)); err == nil {
					v = changed
				}
			}
			if changed, err := d.apply(v, asked.ID, fmt.Sprintf("%d.%02d", r.IntN(300), r.IntN(100))); err == nil {
				v = changed
				applied++
			}
			if src := v.Sources[r.IntN(len(v.Sources))]; r.IntN(3) == 0 {
				both, err := billing.MoveSources(ctx, d.Book, book.Console, v.ID, billing.Moving{
					Version: v.Version, Sources: []billing.WorkRef{{Kind: src.Kind, ID: src.ID}},
				})
				if err == nil {
					v = both.From
					moved++
				}
			}
			if r.IntN(4) == 0 {
				require.NoError(t, billing.DropDraft(ctx, d.Book, book.Console, v.ID, v.Version))
			} else if r.IntN(3) > 0 {
				_, err = billing.Issue(ctx, d.Book, book.Console, v.ID, v.Version)
				require.NoError(t, err)
				issued = append(issued, v.ID)
			}
			if len(issued) > 0 && d.takeBack(r, issued[r.IntN(len(issued))]) {
				back++
			}
			if len(issued) > 0 && d.creditSome(r, issued[r.IntN(len(issued))]) {
				credited++
			}
			if id, done := d.releaseSome(r); done {
				issued = append(issued, id)
				released++
			}
			d.paySome(r)
			if r.IntN(2) == 0 { // what is not billed is charged otherwise, and drafts follow; on or before billed work it is refused
				if rates.AddLabourRate(ctx, d.Book, book.Console, rates.NewLabourRate{
					Card: "STD", From: fmt.Sprintf("2025-03-%02d", 1+r.IntN(12)), Trade: "Carpenter", Method: "hourly",
					Value: fmt.Sprintf("%d.%02d", 40+r.IntN(50), r.IntN(100)),
				}) == nil {
					dearer++
				}
			}
			d.nothingLost()
		}
		papersAgree(t, d.Book)
		apptest.Verified(t, d.Book)
		apptest.SameInAnotherBook(t, d.Book)
	}
	assert.Positive(t, dearer)
	assert.Positive(t, credited)
	assert.Positive(t, back)
	assert.Positive(t, applied)
	assert.Positive(t, moved)
	assert.Positive(t, released)
}

// releaseSome releases some of what is held, now and then, and gives the invoice that asks for it.
func (d *desk) releaseSome(r *rand.Rand) (id int64, done bool) {
	rows := d.held()
	if len(rows) == 0 || r.IntN(3) > 0 {
		return 0, false
	}
	v, err := billing.ReleaseRetainage(ctx, d.Book, book.Console, billing.NewRelease{
		Key: fmt.Sprintf("release-%06d", d.keys.Add(1)), Date: "2025-03-31",
		Jobs: []billing.ReleaseOf{{JobID: rows[0].JobID, Amount: []string{"", "5.55"}[r.IntN(2)]}},
	})
	if err != nil {
		return 0, false
	}
	return d.issue(v).ID, true
}

// paySome pays something, the oldest invoice first.
func (d *desk) paySome(r *rand.Rand) {
	_, err := collect.TakePayment(ctx, d.Book, book.Console, collect.NewPayment{
		CustomerID: 1, Amount: fmt.Sprintf("%d.%02d", 1+r.IntN(400), r.IntN(100)), Date: "2025-04-02",
	})
	require.NoError(d.t, err)
}

// anyPart chooses something at random of what is on a draft or could be.
func (d *desk) anyPart(r *rand.Rand, v billing.InvoiceView) billing.PartOf {
	all := v.Sources
	for _, o := range v.Offered {
		all = append(all, o.PaperSource)
	}
	src := all[r.IntN(len(all))]
	p := billing.PartOf{Kind: src.Kind, ID: src.ID, Way: billing.PartWays[r.IntN(len(billing.PartWays))], Reason: "as agreed"}
	p.Value = fmt.Sprintf("%d.%d", r.IntN(9), r.IntN(10))
	if p.Way == "percent" || p.Way == "amount" {
		p.Value = fmt.Sprint(1 + r.IntN(99))
	}
	p.Rest = billing.Rests[r.IntN(2)]
	return p
}

// takeBack takes some of what an invoice wrote down back.
func (d *desk) takeBack(r *rand.Rand, invoiceID int64) bool {
	v, err := billing.Invoice(ctx, d.Book, book.Console, invoiceID)
	require.NoError(d.t, err)
	for _, src := range v.Sources {
		if src.Down == "" || r.IntN(2) == 0 {
			continue
		}
		in := billing.TakingBack{Key: fmt.Sprintf("back-%06d", d.keys.Add(1))}
		if r.IntN(2) == 0 {
			in.Amount = fmt.Sprintf("%d.%02d", r.IntN(20), 1+r.IntN(99))
		}
		_, err = billing.TakeWriteDownBack(ctx, d.Book, book.Console, src.SourceID, in)
		return err == nil
	}
	return false
}

// creditSome credits at random what is left of some lines of an invoice, all or a part of each.
func (d *desk) creditSome(r *rand.Rand, invoiceID int64) bool {
	rows, err := billing.CreditableOf(ctx, d.Book, book.Console, invoiceID)
	require.NoError(d.t, err)
	var lines []billing.CreditLine
	for _, row := range rows {
		if r.IntN(3) > 0 || row.Left == "0.00" {
			continue
		}
		line := billing.CreditLine{Kind: row.Kind, ID: row.ID, Becomes: billing.Becomes[min(1, r.IntN(4)/2)], Reason: "as agreed"}
		if r.IntN(3) == 0 {
			line.Amount = fmt.Sprintf("%d.%02d", r.IntN(20), 1+r.IntN(99))
		}
		lines = append(lines, line)
	}
	if len(lines) == 0 {
		return false
	}
	_, err = d.credit(invoiceID, lines...)
	return err == nil
}

func (d *desk) nothingLost() {
	d.t.Helper()
	require.NoError(d.t, d.Store.Read(ctx, func(tx *store.Tx) error {
		lost, err := store.Value[int64](tx, `SELECT count(*) FROM (SELECT charge, drafted, invoiced, written, ready, id AS entry, 0 AS line
			FROM time_entries UNION ALL SELECT charge, drafted, invoiced, written, ready, 0, id FROM cost_lines) x
			WHERE charge <> drafted + invoiced + written + ifnull(ready, 0)
			OR drafted + invoiced + written <> (SELECT ifnull(sum(amount + down - up
			- (SELECT ifnull(sum(b.amount), 0) FROM write_backs b WHERE b.source_id = s.id)
			- (SELECT ifnull(sum(iif(c.again, c.amount - c.up, 0)), 0) FROM credits c WHERE c.source_id = s.id)), 0) FROM invoice_sources s
			WHERE entry_id = x.entry OR cost_line_id = x.line)`)
		assert.Zero(d.t, lost)
		return err
	}))
}

// A part that a bundle brings says how it was chosen in words that the book knows; anything else is refused by its line and column.
func TestAPartOfABundleThatIsNotReadIsRefused(t *testing.T) {
	f := files(apptest.Files{
		"time_entries.csv":    "ref,worker,date,job,hours\nT1,ora,2025-03-03,101,9\n",
		"invoices.csv":        "ref,status,customer,date,due\ndraft-1,draft,HERON,2025-03-31,2025-04-30\n",
		"invoice_sources.csv": "invoice,time_entry,charge,amount,way,runs,down\ndraft-1,T1,603.48,100,sideways,0-x,5\n",
	})
	err := f.BringInto(t, apptest.NewBook(t))
	require.Error(t, err)
	for _, said := range []string{`"sideways" is not one of rest, fit`, `"0-x" is not minutes`, "say why it is written down"} {
		assert.Contains(t, err.Error(), said)
	}
}

// A draft that bills all that is left of some work follows when another lets minutes go that the first one took from it.
func TestWhatIsLeftFollowsTheOtherDraftAndBack(t *testing.T) {
	d := newDesk(t, files(apptest.Files{
		"time_entries.csv": "ref,worker,date,job,hours\nT1,ora,2025-03-03,101,9:33\nT2,ora,2025-03-04,101,1\n",
	}))
	first := d.draft()
	part := billing.PartOf{Kind: "time_entry", ID: first.Sources[0].ID, Way: "amount", Value: "8.60", Reason: "agreed"}
	_, err := d.choose(first, part)
	require.NoError(t, err)
	second := d.draft()
	part.Way, part.Value, part.Rest = "hours", "4", "down" // what is written down leaves 8.60, so the first draft has the other minutes
	second, err = d.choose(second, part)
	require.NoError(t, err)
	part.Way, part.Value, part.Rest = "rest", "", ""
	second, err = d.choose(second, part)
	require.NoError(t, err)
	assert.Equal(t, []string{"9.55 h", "645.51"}, []string{second.Sources[0].Quantity, second.Sources[0].Amount})
	apptest.SameInAnotherBook(t, d.Book)
}
