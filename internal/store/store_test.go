package store_test

import (
	"context"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/store"
)

var ctx = context.Background()

const issuedInvoice = `
INSERT INTO customers (id, code, name) VALUES (1, 'C', 'Customer');
INSERT INTO jobs (id, number, number_order, customer_id, name) VALUES (1, '1', '01', 1, 'Job');
INSERT INTO workers (id, code, name) VALUES (1, 'w', 'Worker');
INSERT INTO time_entries (id, ref, worker_id, date, job_id, minutes, billable, pay_class, status, cost, charge) VALUES
  (1, 'T1', 1, 20000, 1, 60, 1, 'auto', 'approved', 3000, 8000), (2, 'T2', 1, 20000, 1, 60, 1, 'auto', 'approved', 3000, 8000);
INSERT INTO labour_segments (entry_id, class, minutes, straight, gross, burden, cost, charge) VALUES (1, 0, 60, 3000, 3000, 0, 3000, 8000);
INSERT INTO invoices (id, customer_id, date, due, grouping, subtotal, tax, total, retainage, due_now, currency, company_name,
company_address, company_email, customer_name, customer_address)
  VALUES (1, 1, 20001, 20031, 'trade', 8000, 0, 8000, 0, 8000, 'USD', 'Us', '', '', 'Customer', '');
INSERT INTO invoice_lines (id, invoice_id, position, job_id, category, text, amount) VALUES (1, 1, 1, 1, 'labour', 'Work', 8000);
INSERT INTO invoice_sources (id, invoice_id, invoice_line_id, entry_id, charge, amount) VALUES (1, 1, 1, 1, 8000, 8000);
UPDATE invoices SET status = 'issued', number = 7, issued_at = 1 WHERE id = 1;
INSERT INTO time_entries (id, ref, worker_id, date, job_id, minutes, billable, pay_class, status, cost, charge)
VALUES (3, 'T3', 1, 20000, 1, 60, 1, 'auto', 'approved', 3000, 8000);
INSERT INTO invoices (id, customer_id, date, due, grouping, subtotal, tax, total, retainage, due_now, currency, company_name,
company_address, company_email, customer_name, customer_address)
  VALUES (2, 1, 20001, 20031, 'trade', 8000, 0, 8000, 0, 8000, 'USD', 'Us', '', '', 'Customer', '');
INSERT INTO invoice_lines (id, invoice_id, position, job_id, category, text, amount) VALUES (2, 2, 1, 1, 'labour', 'Work', 8000);
INSERT INTO labour_segments (entry_id, class, minutes, straight, gross, burden, cost, charge) VALUES (2, 1, 60, 3000, 3000, 0, 3000, 8000);
INSERT INTO invoice_sources (id, invoice_id, invoice_line_id, entry_id, charge, amount) VALUES (2, 2, 2, 2, 8000, 8000);
INSERT INTO history (at, user_name, action, kind, subject_id) VALUES (1, 'Ada', 'issued', 'invoice', 1);`

// issue writes a book with one issued invoice, statement by statement.
func issue(t *testing.T, s *store.Store) {
	t.Helper()
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		for statement := range strings.SplitSeq(issuedInvoice, ";\n") {
			if err := tx.Exec(statement).Error; err != nil {
				return err
			}
		}
		return nil
	}))
}

func TestTheDatabaseItselfGuardsBilledWorkAndIssuedInvoices(t *testing.T) {
	s, err := store.Open(ctx, filepath.Join(t.TempDir(), "jarvo.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	issue(t, s)
	for _, change := range []string{
		`UPDATE invoices SET due_now = 1, total = 1,
			subtotal = 1`, "DELETE FROM invoices", "UPDATE invoice_lines SET amount = 1", "DELETE FROM invoice_lines",
		"INSERT INTO invoice_lines (invoice_id, position, job_id, category, text, amount) VALUES (1, 2, 1, 'labour', 'More', 1)",
		`INSERT INTO invoice_sources (invoice_id, entry_id, charge, amount)
			VALUES (1, 2, 1, 1)`, "UPDATE invoice_sources SET amount = 1", "DELETE FROM invoice_sources",
		`UPDATE time_entries SET minutes = 30
				WHERE id = 1`, "UPDATE time_entries SET charge = 1 WHERE id = 1", "DELETE FROM time_entries WHERE id = 1",
		"UPDATE labour_segments SET cost = 1", "DELETE FROM labour_segments", "INSERT INTO labour_segments VALUES (1, 1, 1, 1, 1, 1, 1, 1)",
		"INSERT INTO invoice_jobs (invoice_id, job_id, subtotal) VALUES (1, 1, 1)",
		"INSERT INTO invoice_phases (invoice_id, job_id, amount) VALUES (1, 1, 1)",
		"INSERT INTO invoice_taxes (invoice_id, position, tax_code, component, percent, base, amount) VALUES (1, 1, 'A', 'B', 1, 1, 1)",
		`UPDATE time_entries SET billed = 0
			WHERE id = 1`, "UPDATE time_entries SET billed = 0, minutes = 30 WHERE id = 1", "UPDATE time_entries SET billed = 1 WHERE id = 2",
		"UPDATE history SET user_name = 'Eve'", "DELETE FROM history",
		`UPDATE invoice_lines SET invoice_id = 1
			WHERE id = 2`, "UPDATE invoice_sources SET invoice_id = 1 WHERE id = 2", "UPDATE labour_segments SET entry_id = 1 WHERE entry_id = 2",
		`REPLACE INTO invoices SELECT * FROM invoices
			WHERE id = 1`, `REPLACE INTO invoice_lines SELECT * FROM invoice_lines
			WHERE id = 1`, `REPLACE INTO time_entries (id, ref, worker_id, date, job_id, minutes, billable, pay_class, status, invoice_id)
			SELECT id, ref, worker_id, date, job_id, minutes, billable, pay_class, status, invoice_id FROM time_entries WHERE id = 1`,
		"REPLACE INTO history SELECT * FROM history", "UPDATE time_entries SET invoice_id = 1 WHERE id = 3",
		`INSERT INTO time_entries (ref, worker_id, date, job_id, minutes, billable, pay_class, status, invoice_id)
			VALUES ('T9', 1, 20000, 1, 60, 1, 'auto', 'approved', 1)`,
	} {
		err := s.Write(ctx, func(tx *store.Tx) error { return tx.Exec(change).Error })
		_, guarded := store.IsGuard(err)
		assert.True(t, guarded, "%s: %v", change, err)
	}
}

func TestOneHourIsOnAtMostOneInvoice(t *testing.T) {
	s, err := store.Open(ctx, filepath.Join(t.TempDir(), "jarvo.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	issue(t, s)
	err = s.Write(ctx, func(tx *store.Tx) error {
		draft := tx.Exec(`INSERT INTO invoices (id, customer_id, date, due, grouping, subtotal, tax, total, retainage, due_now, currency,
			company_name, company_address, company_email, customer_name, customer_address)
			VALUES (12, 1, 20001, 20031, 'trade', 8000, 0, 8000, 0, 8000, 'USD', 'Us', '', '', 'Customer', '')`)
		require.NoError(t, draft.Error)
		return tx.Exec("INSERT INTO invoice_sources (invoice_id, entry_id, charge, amount) VALUES (12, 1, 8000, 8000)").Error
	})
	reason, guarded := store.IsGuard(err)
	assert.True(t, guarded, reason)
}

func TestABackupIsAWholeBook(t *testing.T) {
	folder := t.TempDir()
	s, err := store.Open(ctx, filepath.Join(folder, "jarvo.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	issue(t, s)
	file := filepath.Join(folder, "copy.db")
	require.NoError(t, s.Backup(ctx, file))
	require.Error(t, s.Backup(ctx, file), "what is there already is not written over")
	again, err := store.OpenExisting(ctx, file)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, again.Close()) })
	require.NoError(t, again.Read(ctx, func(tx *store.Tx) error {
		invoice, found, err := store.One[store.Invoice](tx, 1)
		assert.True(t, found)
		assert.EqualValues(t, 7, *invoice.Number)
		return err
	}))
	_, err = store.OpenExisting(ctx, filepath.Join(folder, "none.db"))
	require.ErrorContains(t, err, "there is no book at")
}
