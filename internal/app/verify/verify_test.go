package verify_test

import (
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/verify"
	"jarvo/internal/core/calendar"
	"jarvo/internal/specimen"
	"jarvo/internal/store"
)

// tampered is a change behind Jarvo's back, and the word that verify must say about it.
var tampered = []struct{ change, said string }{
	{`UPDATE labour_segments SET cost = cost + 1, burden = burden + 1 WHERE entry_id = (SELECT min(id) FROM time_entries WHERE billed = 0
		AND cost IS NOT NULL AND class IS NULL) AND class = 1`, "segments"},
	{`INSERT INTO labour_segments (entry_id, class, minutes, straight, gross, burden) SELECT id, 1, 1, 0, 0, 0 FROM time_entries
		WHERE id = (SELECT min(id) FROM time_entries WHERE billed = 0 AND class = 0)`, "segments of hours that are of one class"},
	{"UPDATE time_entries SET class = 1 WHERE id = (SELECT min(id) FROM time_entries WHERE billed = 0 AND class = 0)", "segments"},
	{"UPDATE time_entries SET cost = cost + 1 WHERE id = (SELECT min(id) FROM time_entries WHERE billed = 0 AND cost IS NOT NULL)", "cost"},
	{`UPDATE time_entries SET charge = charge + 1 WHERE id = (SELECT min(id) FROM time_entries WHERE billed = 0
		AND charge IS NOT NULL)`, "charge"},
	{"UPDATE time_entries SET gross = gross + 1 WHERE id = (SELECT min(id) FROM time_entries WHERE billed = 0)", "earned"},
	{`UPDATE time_entries SET overtime_minutes = overtime_minutes + 1 WHERE id = (SELECT min(id) FROM time_entries
		WHERE billed = 0)`, "overtime"},
	{"UPDATE time_entries SET minutes = minutes + 1 WHERE id = (SELECT min(id) FROM time_entries WHERE billed = 0)", "segments"},
	{"UPDATE time_entries SET unpriced = 1 - unpriced WHERE id = (SELECT min(id) FROM time_entries WHERE billed = 0)", "without a price"},
	{"UPDATE cost_lines SET landed = landed + 1 WHERE id = (SELECT min(id) FROM cost_lines WHERE billed = 0)", "landed"},
	{"UPDATE cost_lines SET freight = freight + 1 WHERE id = (SELECT min(id) FROM cost_lines WHERE billed = 0)", "freight"},
	{"UPDATE cost_lines SET status = 'draft' WHERE id = (SELECT min(id) FROM cost_lines WHERE billed = 0 AND status = 'approved')", "status"},
	{`UPDATE cost_lines SET charge = charge - 1 WHERE id = (SELECT min(id) FROM cost_lines WHERE billed = 0
		AND charge IS NOT NULL)`, "charge"},
	{"UPDATE kind_sums SET cost = cost + 1 WHERE job_id = (SELECT min(job_id) FROM job_sums)", "not what is booked to them"},
	{"UPDATE job_sums SET cost = cost + 1 WHERE job_id = (SELECT min(job_id) FROM job_sums)", "not those of their kinds of cost"},
	{"DELETE FROM job_sums WHERE job_id = (SELECT min(job_id) FROM job_sums)", "not those of their kinds of cost"},
	{"UPDATE supplier_numbers SET documents = 2 WHERE number = (SELECT min(number) FROM supplier_numbers)", "numbers of suppliers"},
	{"UPDATE wages SET rate = rate + 10000", "cost"},
	{`DROP TRIGGER invoices_fixed; UPDATE invoices SET tax = tax + 1, total = total + 1, due_now = due_now + 1
		WHERE number = (SELECT min(number) FROM invoices)`, "tax"},
	{`DROP TRIGGER invoice_lines_fixed; UPDATE invoice_lines SET amount = amount + 1 WHERE id = (SELECT min(id)
			FROM invoice_lines)`, "against its lines"},
	{`DROP TRIGGER invoice_sources_fixed; UPDATE invoice_sources SET amount = amount + 1 WHERE id = (SELECT min(id)
			FROM invoice_sources)`, "against its sources"},
	{`DROP TRIGGER invoice_jobs_fixed; UPDATE invoice_jobs SET retainage_percent = retainage_percent + 100000
		WHERE invoice_id = (SELECT min(invoice_id) FROM invoice_jobs WHERE subtotal > 0)`, "retainage"},
	{`DROP TRIGGER invoice_phases_fixed; UPDATE invoice_phases SET amount = amount - 1 WHERE id = (SELECT min(id)
		FROM invoice_phases)`, "against its phases"},
	{"DROP TRIGGER invoices_fixed; UPDATE invoices SET number = number + 7 WHERE number = (SELECT max(number) FROM invoices)", "gaps"},
	{"DROP TRIGGER history_kept", "trigger history_kept: stored missing"},
	{"DROP INDEX invoice_sources_entry_once", "invoice_sources_entry_once"},
	{"DROP TRIGGER history_fixed; UPDATE history SET user_name = 'Eve' WHERE id = 2", "the history, row 2"},
	{"DROP TRIGGER history_kept; DELETE FROM history WHERE id = 2", "the history, row 3"},
	{`DROP TRIGGER invoices_fixed; UPDATE invoices SET customer_name = 'Eve' WHERE number = (SELECT min(number)
		FROM invoices)`, "as it was issued"},
	{"UPDATE company SET next_invoice_number = next_invoice_number + 1", "next invoice numbers"},
	{`INSERT INTO payments (id, ref, customer_id, date, amount) SELECT 900, 'P900', customer_id, date, 1 FROM invoices
		WHERE number = (SELECT min(number) FROM invoices); ` +
		`DROP TRIGGER payment_allocations_sound; INSERT INTO payment_allocations (payment_id, invoice_id, date, amount) SELECT 900, id, date, 2
		FROM invoices WHERE number = (SELECT min(number) FROM invoices)`, "payments that more is set against"},
	{`INSERT INTO payments (id, ref, customer_id, date, amount) SELECT 900, 'P900', customer_id, date, due_now + 1 FROM invoices
		WHERE number = (SELECT min(number) FROM invoices); ` +
		`DROP TRIGGER payment_allocations_sound; INSERT INTO payment_allocations (payment_id, invoice_id, date, amount)
		SELECT 900, id, date, due_now + 1 FROM invoices WHERE number = (SELECT min(number) FROM invoices)`, "more is set against than was due"},
	{`INSERT INTO payments (id, ref, kind, customer_id, date, amount) SELECT 900, 'P900', 'refund', customer_id, date, 1 FROM invoices
		WHERE number = (SELECT min(number) FROM invoices)`, "credit is below 0"},
	{`DROP TRIGGER time_entries_stays_billed; UPDATE time_entries SET invoice_id = NULL, billed = 0
		WHERE id = (SELECT min(id) FROM time_entries
		WHERE billed = 1)`, "sources whose work does not say so"},
}

// Whatever is changed behind its back, verify finds it and says what it is.
func TestVerifyFindsWhatWasTamperedWith(t *testing.T) {
	folder := apptest.WriteBundle(t, specimen.Company(33, specimen.Size{Workers: 3, Jobs: 6, Entries: 60, CostLines: 25, Days: 30}))
	sound := apptest.NewBook(t)
	apptest.Import(t, sound, folder)
	half := specimen.Begin + calendar.Date(25)
	_, err := billing.Run(ctx, sound, book.Console, half, half, "", true)
	require.NoError(t, err)
	apptest.Verified(t, sound)
	for _, c := range tampered {
		file := filepath.Join(t.TempDir(), "jarvo.db")
		require.NoError(t, sound.Backup(ctx, book.Console, file))
		s, err := store.Open(ctx, file)
		require.NoError(t, err)
		a := book.New(s, apptest.Noon)
		for change := range strings.SplitSeq(c.change, "; ") {
			require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
				result := tx.Exec(change)
				if strings.HasPrefix(change, "UPDATE") {
					assert.Positive(t, result.RowsAffected, change)
				}
				return result.Error
			}), change)
		}
		differences, err := verify.Run(ctx, a, book.Console)
		require.NoError(t, err)
		said := ""
		for _, d := range differences {
			said += d.String() + "\n"
		}
		assert.Contains(t, said, c.said, c.change)
		require.NoError(t, s.Close())
	}
}
