// Package store keeps a company's book in one SQLite file: the rows, the queries and the
// migrations. Writes go one at a time through one connection, reads through a pool.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"reflect"
	"runtime"
	"strings"

	"github.com/mattn/go-sqlite3"
	"github.com/pressly/goose/v3"
	"gorm.io/driver/sqlite"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Store is an open book.
type Store struct {
	file  string
	write *gorm.DB
	read  *gorm.DB
}

// Tx is one transaction. Its queries see one state of the book. The driver keeps what was prepared, by the text of the query.
type Tx struct{ *gorm.DB }

func (tx *Tx) exec(query string, args ...any) (sql.Result, error) {
	return tx.Statement.ConnPool.ExecContext(tx.Statement.Context, query, args...)
}

// Run changes rows with a statement as it stands: for work done row by row.
func (tx *Tx) Run(query string, args ...any) error {
	_, err := tx.exec(query, args...)
	return err
}

// Insert adds a row and returns its id. A zero
// primary key is given by the database. It does not fill the row in: what many rows are added with.
func Insert[R any](tx *Tx, row *R) (int64, error) {
	parsed := &gorm.Statement{DB: tx.DB}
	if err := parsed.Parse(row); err != nil {
		return 0, err
	}
	fields := parsed.Schema.Fields
	names, values := make([]string, len(fields)), make([]any, len(fields))
	for i, f := range fields {
		names[i] = f.DBName
		value, zero := f.ValueOf(tx.Statement.Context, reflect.ValueOf(row).Elem())
		if !zero || !f.AutoIncrement {
			values[i] = value
		}
	}
	result, err := tx.exec("INSERT INTO "+parsed.Schema.Table+" ("+strings.Join(names, ", ")+") VALUES (?"+strings.Repeat(", ?", len(names)-1)+")", values...)
	if err != nil {
		return 0, err
	}
	return result.LastInsertId()
}

// Open opens the book in a file, creating it and bringing its schema up to date.
func Open(ctx context.Context, file string) (*Store, error) {
	write, err := connect(file, "_txlock=immediate", 1)
	if err != nil {
		return nil, err
	}
	if err := migrate(ctx, write); err != nil {
		return nil, errors.Join(fmt.Errorf("bringing the schema of %s up to date: %w", file, err), closeDB(write))
	}
	read, err := connect(file, "_txlock=deferred&_query_only=on", max(4, runtime.NumCPU()))
	if err != nil {
		return nil, errors.Join(err, closeDB(write))
	}
	return &Store{file: file, write: write, read: read}, nil
}

// OpenExisting is [Open] for a file that must be there already.
func OpenExisting(ctx context.Context, file string) (*Store, error) {
	if _, err := os.Stat(file); err != nil {
		return nil, fmt.Errorf("there is no book at %s", file)
	}
	return Open(ctx, file)
}

func connect(file, options string, connections int) (*gorm.DB, error) {
	dsn := "file:" + (&url.URL{Path: file}).EscapedPath() +
		"?_journal_mode=WAL&_foreign_keys=on&_busy_timeout=5000&_synchronous=FULL&_cache_size=-65536&_stmt_cache_size=200&" + options
	db, err := gorm.Open(sqlite.Open(dsn), &gorm.Config{
		Logger:                 logger.Discard,
		SkipDefaultTransaction: true,
	})
	if err != nil {
		return nil, fmt.Errorf("opening %s: %w", file, err)
	}
	pool, err := db.DB()
	if err != nil {
		return nil, err
	}
	pool.SetMaxOpenConns(connections)
	pool.SetMaxIdleConns(connections)
	return db, nil
}

func migrate(ctx context.Context, db *gorm.DB) error {
	pool, err := db.DB()
	if err != nil {
		return err
	}
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectSQLite3, pool, files)
	if err != nil {
		return err
	}
	_, err = provider.Up(ctx)
	return err
}

func closeDB(db *gorm.DB) error {
	pool, err := db.DB()
	if err != nil {
		return err
	}
	return pool.Close()
}

// Close ends all connections.
func (s *Store) Close() error {
	return errors.Join(closeDB(s.read), closeDB(s.write))
}

// unhurried is a context that can't be cancelled: where it can, the driver steps to each row in a goroutine of its own, which
// costs more than the row. What is asked of a book is short, and is finished.
func unhurried(ctx context.Context) context.Context { return context.WithoutCancel(ctx) }

// Write runs f in the one write transaction; an error takes all of it back.
func (s *Store) Write(ctx context.Context, f func(*Tx) error) error {
	return s.write.WithContext(unhurried(ctx)).Transaction(func(db *gorm.DB) error { return f(&Tx{db}) })
}

// Read runs f over one state of the book.
func (s *Store) Read(ctx context.Context, f func(*Tx) error) error {
	return s.read.WithContext(unhurried(ctx)).Transaction(func(db *gorm.DB) error { return f(&Tx{db}) }, &sql.TxOptions{ReadOnly: true})
}

// Bulk runs f, which adds or changes most rows of some tables, without the indexes of those tables that only serve
// queries, and makes them again afterwards: to sort once costs less than to keep sorted. Those named in keep stay.
func (tx *Tx) Bulk(tables, keep []string, f func() error) error {
	type index struct{ Name, SQL string }
	indexes, err := Query[index](tx, "SELECT name, sql FROM sqlite_master WHERE type = 'index' AND sql LIKE 'CREATE INDEX%' AND tbl_name IN ? AND name NOT IN ? ORDER BY rowid", tables, keep)
	if err != nil {
		return err
	}
	for _, i := range indexes {
		if err := tx.Exec("DROP INDEX " + i.Name).Error; err != nil {
			return err
		}
	}
	if err := f(); err != nil {
		return err
	}
	for _, i := range indexes {
		if err := tx.Exec(i.SQL).Error; err != nil {
			return err
		}
	}
	return nil
}

// Backup writes a consistent copy of the book to a new file, also while others write.
func (s *Store) Backup(ctx context.Context, file string) error {
	if _, err := os.Stat(file); err == nil {
		return fmt.Errorf("%s is there already; name a new file", file)
	}
	db, err := connect(s.file, "_txlock=deferred", 1) // of its own: the pool only reads, the writer is not held up
	if err != nil {
		return err
	}
	return errors.Join(db.WithContext(ctx).Exec("VACUUM INTO ?", file).Error, closeDB(db))
}

// IsGuard says whether the database itself refused a change, and its reason: a guard on billed
// work or issued invoices, or the index that keeps a source from being billed twice.
func IsGuard(err error) (string, bool) {
	var e sqlite3.Error
	if !errors.As(err, &e) || e.Code != sqlite3.ErrConstraint {
		return "", false
	}
	switch e.ExtendedCode {
	case sqlite3.ErrConstraintTrigger:
		return e.Error(), true
	case sqlite3.ErrConstraintUnique, sqlite3.ErrConstraintPrimaryKey:
		return "somebody else has just entered the same", true
	default:
		return "", false
	}
}

// One finds the row of a table with an id. The second result is false where there is none.
func One[R any](tx *Tx, id int64) (R, bool, error) {
	rows, err := scan[R](tx, tx.Model(new(R)).Where("id = ?", id).Limit(1))
	if err != nil || len(rows) == 0 {
		var none R
		return none, false, err
	}
	return rows[0], true, nil
}
