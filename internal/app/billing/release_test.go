package billing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/scope"
)

// release asks for some of what is held of job 101; blank is all of it.
func (d *desk) release(amount string) (billing.InvoiceView, error) {
	return billing.ReleaseRetainage(ctx, d.Book, book.Console, billing.NewRelease{
		Key: "release-" + amount + "-1234", Date: "2025-06-30", Jobs: []billing.ReleaseOf{{JobID: d.jobs[0], Amount: amount}},
	})
}

func (d *desk) held() []billing.RetainedRow {
	d.t.Helper()
	sheet, err := billing.Sheet(ctx, d.Book, book.Console, scope.ScopeQuery{})
	require.NoError(d.t, err)
	return sheet.Retained
}

// The seventh of the worked histories of billing, with tax with the invoice and on release.
func TestRetainageIsReleased(t *testing.T) {
	for way, want := range map[string][][]string{
		"with_invoice": {{"81.26", "981.35"}, {"0.00", "60.00"}, {"0.00", "40.01"}},
		"on_release":   {{"73.13", "973.22"}, {"4.88", "64.88"}, {"3.25", "43.26"}},
	} {
		d := newDesk(t, files(apptest.Files{
			"tax_codes.csv":    "code,component,percent,applies_to,retainage_tax\nT,State,8.125,labour," + way + "\n",
			"jobs.csv":         "number,customer,name,tax_code,retainage\n101,HERON,Dock,T,10\n",
			"labour_rates.csv": "card,effective_from,trade,method,value\nSTD,2025-01-01,carp,hourly,1000.10\n",
			"time_entries.csv": "ref,worker,date,job,hours\nT1,ora,2025-03-03,101,1\n",
		}))
		v := d.issue(d.draft())
		assert.Equal(t, want[0], []string{v.Tax, v.DueNow}, way)
		_, err := d.release("100.02")
		apptest.Refusal(t, err, refuse.KindInvalid, "jobs[0].amount", "100.01 of it can be released")
		first, err := d.release("60")
		require.NoError(t, err)
		assert.Equal(t, want[1], []string{first.Tax, first.DueNow}, way)
		assert.Equal(t, []string{"0.00", "-60.00"}, []string{first.Subtotal, first.Retainage}, way)
		assert.Equal(t, []string{"100.01", "60.00"}, []string{d.held()[0].Held, d.held()[0].OnDraft})
		apptest.SameInAnotherBook(t, d.Book)
		d.issue(first)
		assert.Equal(t, "40.01", d.held()[0].Held)
		last, err := d.release("")
		require.NoError(t, err)
		_, err = d.release("0.01")
		apptest.Refusal(t, err, refuse.KindInvalid, "jobs[0].amount", "0.00 of it can be released")
		assert.Equal(t, want[2], []string{last.Tax, last.DueNow}, way)
		d.issue(last)
		assert.Empty(t, d.held())
		papersAgree(t, d.Book)
		apptest.Verified(t, d.Book)
		apptest.SameInAnotherBook(t, d.Book)
	}
}

// What a credit note gave back of retainage is not there to be released, and a note after a release gives back what is still held.
func TestACreditNoteBetweenReleases(t *testing.T) {
	d := newDesk(t, files(apptest.Files{
		"tax_codes.csv":    "code,component,percent,applies_to,retainage_tax\nT,State,8.125,labour,on_release\n",
		"jobs.csv":         "number,customer,name,tax_code,retainage\n101,HERON,Dock,T,10\n",
		"labour_rates.csv": "card,effective_from,trade,method,value\nSTD,2025-01-01,carp,hourly,1000.10\n",
		"time_entries.csv": "ref,worker,date,job,hours\nT1,ora,2025-03-03,101,1\n",
	}))
	invoice := d.issue(d.draft())
	first, err := d.release("60")
	require.NoError(t, err)
	d.issue(first)
	note := d.credited(invoice.ID, 0, "500.10", "allowed")
	// Retainage 10 % of 1,000.10 less 10 % of 500.00 is 50.01, of which 40.01 are still held. Tax T(1,000.10) - T(40.01) less T(500.00).
	assert.Equal(t, []string{"500.10", "40.01", "37.38", "497.47"}, []string{
		note.Note.Subtotal, note.Note.Retainage, note.Note.Tax, note.Note.DueNow,
	})
	assert.Empty(t, d.held())
	papersAgree(t, d.Book)
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}

// What a credit note gives back of a release is held again, the newest first, and where the tax is due on release it is due no more.
func TestACreditNoteOnARelease(t *testing.T) {
	d := newDesk(t, files(apptest.Files{
		"tax_codes.csv":    "code,component,percent,applies_to,retainage_tax\nT,State,8.125,labour,on_release\n",
		"jobs.csv":         "number,customer,name,tax_code,retainage\n101,HERON,Dock,T,10\n",
		"labour_rates.csv": "card,effective_from,trade,method,value\nSTD,2025-01-01,carp,hourly,1000.10\n",
		"time_entries.csv": "ref,worker,date,job,hours\nT1,ora,2025-03-03,101,1\nT2,ora,2025-03-04,101,2\n",
	}))
	v := d.draft()
	v, err := d.choose(v, billing.PartOf{Kind: "time_entry", ID: v.Sources[1].ID, Way: "none"})
	require.NoError(t, err)
	d.issue(v)
	second := d.issue(d.draft())
	require.Equal(t, "200.02", second.Retainage)
	release, err := d.release("250")
	require.NoError(t, err)
	release = d.issue(release) // 100.01 of the first, 149.99 of the second
	require.Equal(t, []string{"20.32", "270.32"}, []string{release.Tax, release.DueNow})
	rows, err := billing.CreditableOf(ctx, d.Book, book.Console, release.ID)
	require.NoError(t, err)
	require.Equal(t, []string{"release", "250.00", "250.00"}, []string{rows[0].Kind, rows[0].Amount, rows[0].Left})
	line := billing.CreditLine{Kind: "release", ID: rows[0].ID, Amount: "250.01", Becomes: "again"}
	_, err = d.creditOn("2025-07-10", release.ID, line)
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[0].amount", "250.00 of it is left to credit")
	line.Amount = "160"
	note, err := d.creditOn("2025-07-10", release.ID, line)
	require.NoError(t, err)
	// 149.99 of the second is held again: T(200.02) - T(50.03) = 16.25 - 4.06; 10.01 of the first: T(10.01) = 0.81, rounded each.
	assert.Equal(t, []string{"0.00", "13.00", "-160.00", "173.00", "97.32"}, []string{
		note.Note.Subtotal, note.Note.Tax, note.Note.Retainage, note.Note.DueNow, note.After,
	})
	assert.Equal(t, "210.03", d.held()[0].Held)
	apptest.SameInAnotherBook(t, d.Book)
	line.Amount = ""
	note, err = d.creditOn("2025-07-10", release.ID, line)
	require.NoError(t, err)
	got := []string{note.Note.Tax, note.Note.Retainage, note.After}
	assert.Equal(t, []string{"7.32", "-90.00", "0.00"}, got, "all that was charged is given back")
	_, err = d.creditOn("2025-07-10", release.ID, line)
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[0].amount", "0.00 of it is left")
	all, err := billing.ReleaseRetainage(ctx, d.Book, book.Console, billing.NewRelease{
		Key: "release-once-more", Date: "2025-07-31", Jobs: []billing.ReleaseOf{{JobID: d.jobs[0]}},
	})
	require.NoError(t, err)
	assert.Equal(t, []string{"24.38", "324.41"}, []string{d.issue(all).Tax, all.DueNow})
	assert.Empty(t, d.held())
	papersAgree(t, d.Book)
	apptest.Verified(t, d.Book)
	apptest.SameInAnotherBook(t, d.Book)
}
