package verify_test

import (
	"database/sql"
	"os"
	"path/filepath"
	"strings"
	"testing"

	_ "github.com/mattn/go-sqlite3" // as another program would open the file
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/book"
	"jarvo/internal/app/verify"
	"jarvo/internal/demo"
	"jarvo/internal/store"
)

// behind are changes that somebody makes with another program, guards dropped where there are some, and what verify says of each.
var behind = []struct{ change, said string }{
	{"UPDATE payments SET amount = amount + 100 WHERE id = 1", "payments 1: stored altered"},
	{"UPDATE payments SET date = date - 30 WHERE id = 1", "payments 1: stored altered"},
	{"UPDATE payments SET reference = 'mine' WHERE id = 1", "payments 1: stored altered"},
	{"UPDATE payments SET method = 'cash' WHERE id = 1", "payments 1: stored altered"},
	{"DELETE FROM payment_allocations WHERE payment_id = 1; DELETE FROM payments WHERE id = 1", "payments 1: stored taken out"},
	{`INSERT INTO payments (id, ref, customer_id, date, amount) SELECT 900, 'P900', customer_id, date, 1 FROM payments
		WHERE id = 1`, "payments 900: stored put in"},
	{"UPDATE payment_allocations SET amount = amount - 1 WHERE id = 1", "payment allocations 1: stored altered"},
	{"UPDATE payment_allocations SET date = date + 1 WHERE id = 1", "payment allocations 1: stored altered"},
	{"DELETE FROM payment_allocations WHERE id = 1", "payment allocations 1: stored taken out"},
	{"UPDATE invoice_lines SET text = 'Gift' WHERE id = 1", "invoices "},
	{"UPDATE invoice_lines SET quantity = 7 WHERE id = 1", "invoices "},
	{"UPDATE invoice_lines SET unit = 'day' WHERE id = 1", "invoices "},
	{"DELETE FROM invoice_sources WHERE id = 1", "invoices "},
	{"UPDATE invoice_jobs SET site = 'Elsewhere'", "invoices "},
	{"UPDATE invoice_jobs SET order_number = 'X-1'", "invoices "},
	{"UPDATE invoice_parties SET city = 'Elsewhere' WHERE side = 'buyer'", "invoices "},
	{"UPDATE invoice_parties SET tax_number = '1' WHERE side = 'seller'", "invoices "},
	{"DELETE FROM invoice_parties WHERE side = 'buyer'", "invoices "},
	{"UPDATE invoices SET customer_address = 'Elsewhere' WHERE number IS NOT NULL", "as it was issued"},
	{"UPDATE invoices SET due = due + 30 WHERE number IS NOT NULL", "as it was issued"},
	{"UPDATE messages SET recipients = 'eve@bad.example' WHERE id = 1", "messages 1: stored altered"},
	{"UPDATE messages SET body = 'Pay here' WHERE id = 1", "messages 1: stored altered"},
	{"UPDATE messages SET subject = 'Hello' WHERE id = 1", "messages 1: stored altered"},
	{"UPDATE messages SET status = 'cancelled', next_try = NULL WHERE id = 1", "messages 1: stored altered"},
	{"UPDATE messages SET made_by = 'Eve' WHERE id = 1", "messages 1: stored altered"},
	{"DELETE FROM message_invoices WHERE message_id = 1", "message invoices 1,"},
	{"UPDATE message_files SET name = 'other.pdf' WHERE message_id = 1", "message files 1,1: stored altered"},
	{"UPDATE message_files SET data = x'00' WHERE message_id = 1", "of message M1"},
	{"DELETE FROM message_files WHERE message_id = 1", "message files 1,1: stored taken out"},
	{"UPDATE scans SET data = x'25504446'", "attachment "},
	{"DELETE FROM scans", "attachment "},
	{"UPDATE attachments SET name = 'other.pdf' WHERE id = 1", "attachments 1: stored altered"},
	{"DELETE FROM attachments WHERE id = 1", "attachments 1: stored taken out"},
	{"UPDATE schedule_lines SET amount = amount + 100 WHERE id = 1", "schedule lines 1: stored altered"},
	{"UPDATE schedule_lines SET text = 'Other' WHERE id = 1", "schedule lines 1: stored altered"},
	{"DELETE FROM schedule_lines WHERE id = (SELECT max(id) FROM schedule_lines)", "schedule lines "},
	{"UPDATE users SET role = 'owner' WHERE id = 2", "users 2: stored altered"},
	{"UPDATE users SET password_hash = (SELECT password_hash FROM users WHERE id = 2) WHERE id = 1", "users 1: stored altered"},
	{"UPDATE users SET active = 1 - active WHERE id = 3", "users 3: stored altered"},
	{"UPDATE users SET crew = '' WHERE crew <> ''", "users "},
	{`INSERT INTO users (id, name, sign_in, password_hash, role, active, generation, version) SELECT 900, 'Eve', 'eve', password_hash, 'owner',
		1, 1, 1 FROM users WHERE id = 1`, "users 900: stored put in"},
	{"DELETE FROM history WHERE id = (SELECT max(id) FROM history)", "the end of the history"},
	{"DELETE FROM history WHERE id > (SELECT max(id) - 40 FROM history)", "the end of the history"},
	{`INSERT INTO history (id, at, user_name, action, kind, subject_id, hash) SELECT 0, at, 'Eve', 'approved', kind, subject_id, hash
		FROM history WHERE id = 1`, "the history, row 0"},
	{`INSERT INTO history (id, at, user_name, action, kind, subject_id, hash) SELECT -9, at, user_name, action, kind, subject_id, hash
		FROM history WHERE id = 1`, "the history, row -9"},
	{"UPDATE history SET action = 'returned' WHERE id = 5", "the history, row 5"},
	{"UPDATE wages SET effective_from = effective_from + 1 WHERE id = 1", "wages 1: stored altered"},
	{"UPDATE labour_rates SET value = value + 10000 WHERE id = 1", "labour rates 1: stored altered"},
	{"DELETE FROM markups WHERE id = 1", "markups 1: stored taken out"},
	{"UPDATE customers SET terms_days = 90 WHERE id = 1", "customers 1: stored altered"},
	{"UPDATE customers SET email = 'eve@bad.example' WHERE id = 1", "customers 1: stored altered"},
	{"UPDATE contacts SET email = 'eve@bad.example' WHERE id = 1", "contacts 1: stored altered"},
	{"UPDATE company SET account = 'DE02120300000000202051'", "company 1: stored altered"},
	{"UPDATE company SET payee = 'Eve'", "company 1: stored altered"},
	{"UPDATE jobs SET contract = 1 WHERE id = 1", "jobs 1: stored altered"},
	{"UPDATE budgets SET cost = cost + 100 WHERE id = 1", "budgets 1: stored altered"},
	{"UPDATE cost_documents SET number = 'X-1' WHERE id = 1", "cost documents 1: stored altered"},
	{"UPDATE suppliers SET name = 'Eve Ltd' WHERE id = 1", "suppliers 1: stored altered"},
	{"UPDATE item_prices SET unit_cost = unit_cost + 1 WHERE id = 1", "item prices 1: stored altered"},
	{"UPDATE cost_codes SET name = 'Other' WHERE id = 1", "cost codes 1: stored altered"},
	{"UPDATE reimbursements SET note = 'by cheque' WHERE id = 1", "reimbursements 1: stored altered"},
	{"DELETE FROM reimbursed_documents", "reimbursed documents "},
	{"UPDATE workers SET name = 'Nobody' WHERE id = 1", "workers 1: stored altered"},
}

// tamper changes a copy of a book as another program does, without its guards, and gives what verify says then.
func tamper(t *testing.T, file, change string) string {
	t.Helper()
	db, err := sql.Open("sqlite3", file)
	require.NoError(t, err)
	db.SetMaxOpenConns(1)
	var guards string
	require.NoError(t, db.QueryRow("SELECT group_concat(name) FROM sqlite_schema WHERE type = 'trigger'").Scan(&guards))
	for name := range strings.SplitSeq(guards, ",") {
		_, err := db.Exec("DROP TRIGGER " + name)
		require.NoError(t, err)
	}
	touched := int64(0)
	for statement := range strings.SplitSeq(change, "; ") {
		result, err := db.Exec(statement)
		require.NoError(t, err, statement)
		n, err := result.RowsAffected()
		require.NoError(t, err)
		touched += n
	}
	require.Positive(t, touched, "nothing was changed by %s", change)
	require.NoError(t, db.Close())
	s, err := store.Open(ctx, file)
	require.NoError(t, err)
	differences, err := verify.Run(ctx, book.New(s, apptest.Noon), book.Console)
	require.NoError(t, err)
	require.NoError(t, s.Close())
	said := ""
	for _, d := range differences {
		said += d.String() + "\n"
	}
	return said
}

// Whatever is changed in the file with another program, verify says what it is. The long form makes each change in a copy of its own, the
// short one some of them.
func TestWhatIsChangedWithAnotherProgramIsTold(t *testing.T) {
	sound := apptest.NewBook(t)
	require.NoError(t, demo.Fill(ctx, sound))
	apptest.Verified(t, sound)
	copied := filepath.Join(t.TempDir(), "copy.db")
	require.NoError(t, sound.Backup(ctx, book.Console, copied))
	data, err := os.ReadFile(copied)
	require.NoError(t, err)
	for i, c := range behind {
		if os.Getenv("TAMPERED") == "" && i%8 != 0 {
			continue
		}
		t.Run(c.change, func(t *testing.T) {
			file := filepath.Join(t.TempDir(), "jarvo.db")
			require.NoError(t, os.WriteFile(file, data, 0o600))
			assert.Contains(t, tamper(t, file, c.change), c.said)
		})
	}
}

// A history that was cut is shorter than that of a backup, whatever the book says of itself.
func TestAHistoryThatWasCutIsToldAgainstABackup(t *testing.T) {
	c := apptest.NewCrew(t)
	end, err := verify.HistoryEnd(ctx, c.Book, book.Console)
	require.NoError(t, err)
	require.Positive(t, end.Rows)
	differences, err := verify.Against(ctx, c.Book, book.Console, end)
	require.NoError(t, err)
	assert.Empty(t, differences)
	require.NoError(t, c.Store.Write(ctx, func(tx *store.Tx) error {
		return book.InOrder(
			func() error { return tx.Run("DROP TRIGGER history_kept") },
			func() error { return tx.Run("DELETE FROM history WHERE id = (SELECT max(id) FROM history)") },
			func() error {
				return tx.Run(`UPDATE book SET history_rows = history_rows - 1, history_hash = (SELECT hash FROM history ORDER BY id DESC LIMIT 1)`)
			},
		)
	}))
	differences, err = verify.Against(ctx, c.Book, book.Console, end)
	require.NoError(t, err)
	require.Len(t, differences, 1)
	assert.Equal(t, "the history up to the backup", differences[0].What)
}
