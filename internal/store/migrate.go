package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io/fs"
	"os"

	"github.com/pressly/goose/v3"
	"gorm.io/gorm"

	"jarvo/internal/durable"
)

// ErrLater is a book that a later version of Jarvo has been at, whose schema this one does not know.
var ErrLater = errors.New("this book was last used by a later version of Jarvo; use that version or a newer one")

// EarlierError is a book of an earlier version, opened by somebody who must not change it.
type EarlierError struct {
	File          string
	Version, Want int64
}

func (e *EarlierError) Error() string {
	return fmt.Sprintf(
		"%s is a book of an earlier version (%d, this is %d) and was left as it is; jarvo serve brings it up to date, and keeps a copy of it "+
			"first",
		e.File, e.Version, e.Want,
	)
}

// versionOf reads the version of a book's schema, 0 for a new file. It changes nothing.
func versionOf(db *gorm.DB) (int64, error) {
	var version int64
	err := db.Raw("SELECT count(*) FROM sqlite_schema WHERE name = 'goose_db_version'").Scan(&version).Error
	if err != nil || version == 0 {
		return 0, err
	}
	err = db.Raw("SELECT ifnull(max(version_id), 0) FROM goose_db_version WHERE is_applied = 1").Scan(&version).Error
	return version, err
}

func migrationsOf(db *gorm.DB) (*goose.Provider, int64, error) {
	pool, err := db.DB()
	if err != nil {
		return nil, 0, err
	}
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, 0, err
	}
	provider, err := goose.NewProvider(
		goose.DialectSQLite3, pool, files, goose.WithGoMigrations(goose.NewGoMigration(19, &goose.GoFunc{RunTx: chainHistory}, nil)),
	)
	if err != nil {
		return nil, 0, err
	}
	sources := provider.ListSources()
	return provider, sources[len(sources)-1].Version, nil
}

// bringUpToDate runs the migrations that a book has not had, each in one transaction. A book that has work in it is copied first, to
// a file beside it that is named after its version.
func bringUpToDate(ctx context.Context, file string) (err error) {
	// Tables are made again here while others refer to them; [checkReferences] looks afterwards.
	db, err := connect(file, "_txlock=immediate&_journal_mode=WAL&_foreign_keys=off", 1)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, closeDB(db)) }()
	version, err := versionOf(db)
	if err != nil {
		return err
	}
	provider, latest, err := migrationsOf(db)
	switch {
	case err != nil:
		return err
	case version > latest:
		return ErrLater
	case version == latest:
		return nil
	}
	if version > 0 {
		if err := copyBefore(ctx, db, file, version); err != nil {
			return fmt.Errorf("copying the book before it is brought up to date: %w", err)
		}
	}
	if _, err := provider.Up(ctx); err != nil {
		return err
	}
	if err := checkReferences(db); err != nil {
		return err
	}
	return db.Transaction(func(db *gorm.DB) error { return sealAll(&Tx{db, ctx}) })
}

func checkReferences(db *gorm.DB) error {
	var broken int64
	if err := db.Raw("SELECT count(*) FROM pragma_foreign_key_check").Scan(&broken).Error; err != nil {
		return err
	}
	if broken > 0 {
		return fmt.Errorf("%d rows refer to others that are not there", broken)
	}
	return nil
}

func copyBefore(ctx context.Context, db *gorm.DB, file string, version int64) error {
	copied := fmt.Sprintf("%s.version-%d", file, version)
	if err := os.Remove(copied); err != nil && !errors.Is(err, fs.ErrNotExist) { // of an earlier try that did not come to its end
		return err
	}
	return durable.File(copied, func(part string) error { return db.WithContext(ctx).Exec("VACUUM INTO ?", part).Error })
}

// chainHistory gives each row of the history the hash that chains it to the one before, the decisions of earlier versions an id, and
// issued invoices their seals.
func chainHistory(ctx context.Context, tx *sql.Tx) error {
	for _, statement := range []string{
		"DROP TRIGGER history_fixed",
		"DROP TRIGGER invoices_fixed",
		"ALTER TABLE history ADD COLUMN decision INTEGER",               // the same for all that was decided at once
		"ALTER TABLE history ADD COLUMN hash TEXT NOT NULL DEFAULT ''",  // of this row and the hash before it
		"ALTER TABLE invoices ADD COLUMN seal TEXT NOT NULL DEFAULT ''", // a hash of the head as it was issued
		`UPDATE history SET decision = d.first FROM (SELECT id, min(id) OVER (PARTITION BY action, user_name, at / 1000) AS first FROM history
			WHERE action IN ('approved', 'returned')) d WHERE d.id = history.id`,
	} {
		if _, err := tx.ExecContext(ctx, statement); err != nil {
			return err
		}
	}
	if err := chainRows(ctx, tx); err != nil {
		return err
	}
	if err := sealInvoices(ctx, tx); err != nil {
		return err
	}
	for _, statement := range []string{
		"CREATE TRIGGER history_fixed BEFORE UPDATE ON history BEGIN SELECT RAISE(ABORT, 'the history only grows'); END",
		`CREATE TRIGGER invoices_fixed BEFORE UPDATE ON invoices WHEN OLD.status = 'issued' BEGIN
			SELECT RAISE(ABORT, 'an issued invoice never changes'); END`,
	} {
		if _, err := tx.ExecContext(ctx, statement); err != nil {
			return err
		}
	}
	return nil
}

func chainRows(ctx context.Context, tx *sql.Tx) error {
	hash, last := "", int64(0)
	for {
		changes, err := historyAfter(ctx, tx, last)
		if err != nil || len(changes) == 0 {
			return err
		}
		for _, c := range changes {
			hash, last = c.chained(hash), c.ID
			if _, err := tx.ExecContext(ctx, "UPDATE history SET hash = ? WHERE id = ?", hash, c.ID); err != nil {
				return err
			}
		}
	}
}

// historyAfter reads the next rows of the history as they stand before they have hashes.
func historyAfter(ctx context.Context, tx *sql.Tx, last int64) (changes []Change, err error) {
	rows, err := tx.QueryContext(ctx, `SELECT id, at, user_id, user_name, action, kind, subject_id, before, after, decision FROM history
		WHERE id > ? ORDER BY id LIMIT 5000`, last)
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, rows.Close()) }()
	for rows.Next() {
		var c Change
		if err := rows.Scan(
			&c.ID, &c.At, &c.UserID, &c.UserName, &c.Action, &c.Kind, &c.SubjectID, &c.Before, &c.After, &c.Decision,
		); err != nil {
			return nil, err
		}
		changes = append(changes, c)
	}
	return changes, rows.Err()
}

func sealInvoices(ctx context.Context, tx *sql.Tx) error {
	issued, err := issuedHeads(ctx, tx)
	if err != nil {
		return err
	}
	for _, i := range issued {
		if _, err := tx.ExecContext(ctx, "UPDATE invoices SET seal = ? WHERE id = ?", i.Sealed(), i.ID); err != nil {
			return err
		}
	}
	return nil
}

func issuedHeads(ctx context.Context, tx *sql.Tx) (issued []Invoice, err error) {
	rows, err := tx.QueryContext(ctx, `SELECT id, number, prefix, customer_id, date, due, title, subtotal, tax, total, retainage, due_now,
		currency,
		company_name, company_address, company_email, customer_name, customer_address, issued_at FROM invoices WHERE status = 'issued'`)
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, rows.Close()) }()
	for rows.Next() {
		i := Invoice{Status: "issued"}
		if err := rows.Scan(&i.ID, &i.Number, &i.Prefix, &i.CustomerID, &i.Date, &i.Due, &i.Title, &i.Subtotal, &i.Tax,
			&i.Total, &i.Retainage, &i.DueNow, &i.Currency,
			&i.CompanyName, &i.CompanyAddress, &i.CompanyEmail, &i.CustomerName, &i.CustomerAddress, &i.IssuedAt); err != nil {
			return nil, err
		}
		issued = append(issued, i)
	}
	return issued, rows.Err()
}
