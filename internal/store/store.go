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
	"slices"
	"strings"
	"syscall"

	"github.com/mattn/go-sqlite3"
	"gorm.io/driver/sqlite"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
	"gorm.io/gorm/schema"

	"jarvo/internal/durable"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Store is an open book.
type Store struct {
	file    string
	write   *gorm.DB
	read    *gorm.DB
	states  *states
	log     *checkpoints
	writing chan struct{} // holds a token for the write that is under way
	reading chan struct{} // and for each read
}

// Tx is one transaction. Its queries see one state of the book. The driver keeps what was prepared, by the text of the query.
type Tx struct {
	*gorm.DB
	asked context.Context
}

// Stopped is an error once whoever asked has given up: long work looks at it between its steps, and is taken back.
func (tx *Tx) Stopped() error { return context.Cause(tx.asked) }

// AskedBy is the context of whoever asked, for what is done beside the book.
func (tx *Tx) AskedBy() context.Context { return tx.asked }

func (tx *Tx) exec(query string, args ...any) (sql.Result, error) {
	return tx.Statement.ConnPool.ExecContext(tx.Statement.Context, query, args...)
}

// Run changes rows with a statement as it stands: for work done row by row.
func (tx *Tx) Run(query string, args ...any) error {
	_, err := tx.exec(query, args...)
	return err
}

// writable are the fields of a table that are not worked out by the database.
func writable(of *schema.Schema) []*schema.Field {
	return slices.DeleteFunc(slices.Clone(of.Fields), func(f *schema.Field) bool { return !f.Creatable })
}

// Insert adds a row and returns its id. A zero
// primary key is given by the database. It does not fill the row in: what many rows are added with.
func Insert[R any](tx *Tx, row *R) (int64, error) {
	parsed := &gorm.Statement{DB: tx.DB}
	if err := parsed.Parse(row); err != nil {
		return 0, err
	}
	fields := writable(parsed.Schema)
	names, values := make([]string, len(fields)), make([]any, len(fields))
	for i, f := range fields {
		names[i] = f.DBName
		value, zero := f.ValueOf(tx.Statement.Context, reflect.ValueOf(row).Elem())
		if !zero || !f.AutoIncrement {
			values[i] = value
		}
	}
	result, err := tx.exec(
		"INSERT INTO "+parsed.Schema.Table+" ("+strings.Join(names, ", ")+") VALUES (?"+strings.Repeat(", ?", len(names)-1)+")", values...,
	)
	if err != nil {
		return 0, err
	}
	return result.LastInsertId()
}

// Open opens the book in a file, creating it (mode 0600) and bringing its schema up to date.
func Open(ctx context.Context, file string) (*Store, error) {
	if err := create(file); err != nil {
		return nil, err
	}
	if err := bringUpToDate(ctx, file); err != nil {
		return nil, fmt.Errorf("opening %s: %w", file, err)
	}
	return open(file)
}

// create makes an empty file that only its owner may read; SQLite gives the files beside it the same mode.
func create(file string) error {
	f, err := os.OpenFile(file, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if errors.Is(err, fs.ErrExist) {
		return nil
	}
	if err != nil {
		return err
	}
	return f.Close()
}

// OpenExisting is [Open] for a file that must be there already.
func OpenExisting(ctx context.Context, file string) (*Store, error) {
	if err := there(file); err != nil {
		return nil, err
	}
	return Open(ctx, file)
}

func there(file string) error {
	if _, err := os.Stat(file); err != nil {
		return fmt.Errorf("there is no book at %s", file)
	}
	return nil
}

// OpenAsIs opens a book that must be there, for those who only look at it: a book of an earlier version is an [EarlierError].
func OpenAsIs(file string) (*Store, error) {
	if err := there(file); err != nil {
		return nil, err
	}
	db, err := connect(file, "_txlock=deferred&_query_only=on", 1)
	if err != nil {
		return nil, err
	}
	version, err := versionOf(db)
	if err == nil {
		err = asItIs(db, file, version)
	}
	if err := errors.Join(err, closeDB(db)); err != nil {
		return nil, err
	}
	return open(file)
}

func asItIs(db *gorm.DB, file string, version int64) error {
	_, latest, err := migrationsOf(db)
	switch {
	case err != nil:
		return err
	case version > latest:
		return fmt.Errorf("opening %s: %w", file, ErrLater)
	case version < latest:
		return &EarlierError{file, version, latest}
	}
	return nil
}

func open(file string) (*Store, error) {
	write, err := connect(file, "_txlock=immediate&_journal_mode=WAL", 1)
	if err != nil {
		return nil, err
	}
	readers := max(4, runtime.NumCPU())
	read, err := connect(file, "_txlock=deferred&_query_only=on", readers)
	if err != nil {
		return nil, errors.Join(err, closeDB(write))
	}
	states, err := watchStates(file, write)
	if err != nil {
		return nil, errors.Join(err, closeDB(read), closeDB(write))
	}
	log, err := startCheckpoints(file, write, read)
	if err == nil {
		err = watchSeals(write)
	}
	if err != nil {
		return nil, errors.Join(err, closeDB(states.watch), closeDB(read), closeDB(write))
	}
	return &Store{
		file: file, write: write, read: read, states: states, log: log, writing: make(chan struct{}, 1), reading: make(chan struct{}, readers),
	}, nil
}

// connect opens a file; the options override the defaults. Without a journal mode among them the file keeps the one it has.
func connect(file, options string, connections int) (*gorm.DB, error) {
	dsn := "file:" + (&url.URL{Path: file}).EscapedPath() +
		"?" + options + "&_foreign_keys=on&_recursive_triggers=on&_busy_timeout=5000&_synchronous=FULL&_cache_size=-65536&_stmt_cache_size=200"
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

func closeDB(db *gorm.DB) error {
	pool, err := db.DB()
	if err != nil {
		return err
	}
	return pool.Close()
}

// Close ends all connections.
func (s *Store) Close() error {
	s.log.stop()
	return errors.Join(closeDB(s.states.watch), closeDB(s.read), closeDB(s.write))
}

// unhurried is a context that can't be cancelled: where it can, the driver steps to each row in a goroutine of its own, which
// costs more than the row. What is asked of a book is short, and is finished.
func unhurried(ctx context.Context) context.Context { return context.WithoutCancel(ctx) }

// turn waits until one of some places is free, or whoever asked gives up; done frees it.
func turn(ctx context.Context, places chan struct{}) (done func(), err error) {
	select {
	case places <- struct{}{}:
	case <-ctx.Done():
		return nil, context.Cause(ctx)
	}
	done = func() { <-places }
	if err := context.Cause(ctx); err != nil {
		done()
		return nil, err
	}
	return done, nil
}

// Write runs f in the one write transaction; an error takes all of it back. Who gives up while others write is not waited for; what has
// begun is finished.
func (s *Store) Write(ctx context.Context, f func(*Tx) error) error {
	done, err := turn(ctx, s.writing)
	if err != nil {
		return err
	}
	defer done()
	defer s.log.written()
	return s.states.follow(ctx, func(begun func() error) error {
		return s.write.WithContext(unhurried(ctx)).Transaction(func(db *gorm.DB) error {
			if err := begun(); err != nil {
				return err
			}
			tx := &Tx{db, ctx}
			if err := f(tx); err != nil {
				return err
			}
			return sealChanged(tx)
		})
	})
}

// Read runs f over one state of the book.
func (s *Store) Read(ctx context.Context, f func(*Tx) error) error {
	done, err := turn(ctx, s.reading)
	if err != nil {
		return err
	}
	defer done()
	return s.read.WithContext(unhurried(ctx)).Transaction(func(db *gorm.DB) error { return f(&Tx{db, ctx}) }, &sql.TxOptions{ReadOnly: true})
}

// Bulk runs f, which adds or changes most rows of the entries and cost lines, without the indexes of those tables that only serve queries
// and without the triggers that keep sums of them, and makes both again afterwards: to sort and to add up once costs less than to keep
// sorted and added up. The indexes named in keep stay.
func (tx *Tx) Bulk(keep []string, f func() error) error {
	objects, err := Query[schemaObject](tx, `SELECT type, name, sql FROM sqlite_schema WHERE tbl_name IN ? AND (type = 'index'
		AND sql LIKE 'CREATE INDEX%' AND name NOT IN ? OR name IN ?) ORDER BY rowid`,
		[]string{"time_entries", "cost_lines"}, keep, sumTriggers)
	if err != nil {
		return err
	}
	for _, o := range objects {
		if err := tx.Exec("DROP " + o.Type + " " + o.Name).Error; err != nil {
			return err
		}
	}
	if err := f(); err != nil {
		return err
	}
	for _, statement := range slices.Concat( // what is added up reads the indexes
		[]string{"DROP INDEX IF EXISTS " + workersIndex}, sqlOf(objects, "index"), AddUp, sqlOf(objects, "trigger"),
	) {
		if err := tx.Exec(statement).Error; err != nil {
			return err
		}
	}
	return nil
}

// schemaObject is an index or a trigger.
type schemaObject struct{ Type, Name, SQL string }

func sqlOf(objects []schemaObject, kind string) (statements []string) {
	for _, o := range objects {
		if o.Type == kind {
			statements = append(statements, o.SQL)
		}
	}
	return statements
}

// workersIndex finds the entries of a worker.
const workersIndex = "time_entries_worker"

// WorkersIndex makes the index that finds the entries of a worker, where a [Tx.Bulk] is without it: a narrow one, which costing does not
// have to keep in step. The whole of it is made at the end.
func (tx *Tx) WorkersIndex() error {
	return tx.Exec("CREATE INDEX IF NOT EXISTS " + workersIndex + " ON time_entries (worker_id, date)").Error
}

// sumTriggers keep the sums of jobs.
var sumTriggers = []string{
	"time_entries_added", "time_entries_gone", "time_entries_changed", "time_entries_moved",
	"cost_lines_added", "cost_lines_gone", "cost_lines_changed", "cost_lines_moved",
	"time_entries_ready_added", "time_entries_ready_gone", "time_entries_ready_moves",
	"cost_lines_ready_added", "cost_lines_ready_gone", "cost_lines_ready_moves",
	"time_entries_unpriced_added", "time_entries_unpriced_gone", "time_entries_unpriced_changed", "time_entries_unpriced_moves",
}

// AddUp adds up anew what the triggers keep added up: what is booked to jobs, what is ready to bill, and what has no rate.
var AddUp = []string{
	"DELETE FROM job_sums", "DELETE FROM kind_sums", "INSERT INTO kind_sums SELECT * FROM added_up",
	"DELETE FROM ready_sums", "INSERT INTO ready_sums SELECT * FROM ready_added_up",
	"DELETE FROM unpriced_sums", "INSERT INTO unpriced_sums SELECT * FROM unpriced_added_up",
}

// Backup writes a consistent copy of the book to a new file, also while others write. It has nobody's sessions in it.
func (s *Store) Backup(ctx context.Context, file string) error {
	return durable.File(file, func(part string) error {
		db, err := connect(s.file, "_txlock=deferred", 1) // of its own: the pool only reads, the writer is not held up
		if err != nil {
			return err
		}
		if err := errors.Join(db.WithContext(ctx).Exec("VACUUM INTO ?", part).Error, closeDB(db)); err != nil {
			return err
		}
		return asCopy(ctx, part)
	})
}

// asCopy takes the sessions out of a copy, and has it send nothing that was waiting: the book may send it.
func asCopy(ctx context.Context, file string) error {
	db, err := connect(file, "_journal_mode=MEMORY&_secure_delete=on", 1) // no second file beside it, nothing left of what is deleted
	if err != nil {
		return err
	}
	err = db.WithContext(ctx).Exec("DELETE FROM sessions").Error
	if err == nil {
		err = db.WithContext(ctx).Exec(
			"UPDATE book SET mail_stopped = 1 WHERE EXISTS (SELECT 1 FROM messages WHERE status IN ('queued', 'sending'))").Error
	}
	return errors.Join(err, closeDB(db))
}

// Damage looks a book over and says what is damaged in it, nothing where all is well.
func (s *Store) Damage(ctx context.Context) ([]string, error) {
	var found []string
	err := s.read.WithContext(ctx).Raw("SELECT quick_check FROM pragma_quick_check WHERE quick_check <> 'ok' LIMIT 20").Scan(&found).Error
	return found, err
}

// Trouble is what keeps the book from being read or written, whatever is asked of it.
type Trouble struct {
	Full     bool // the disk is
	Sentence string
}

// IsTrouble finds what keeps the book from working in an error. It goes on by itself once that has been settled.
func IsTrouble(err error) (Trouble, bool) {
	if errors.Is(err, syscall.ENOSPC) {
		return Trouble{Full: true, Sentence: "the disk is full, so nothing was saved; make room on it and try again"}, true
	}
	var e sqlite3.Error
	if !errors.As(err, &e) {
		return Trouble{}, false
	}
	switch e.Code {
	case sqlite3.ErrFull:
		return Trouble{Full: true, Sentence: "the disk is full, so nothing was saved; make room on it and try again"}, true
	case sqlite3.ErrReadonly, sqlite3.ErrPerm, sqlite3.ErrAuth:
		return Trouble{Sentence: "the file of the book can't be written, so nothing was saved; whoever runs the server has to allow it"}, true
	case sqlite3.ErrBusy, sqlite3.ErrLocked:
		return Trouble{Sentence: "another program is holding the book, so nothing was saved; try again in a moment"}, true
	case sqlite3.ErrCorrupt, sqlite3.ErrNotADB:
		return Trouble{Sentence: "the file of the book is damaged; stop the server, keep the file, and go on from the last backup"}, true
	case sqlite3.ErrIoErr, sqlite3.ErrCantOpen:
		return Trouble{Sentence: "the disk did not read or write the book; whoever runs the server has to look at it"}, true
	default:
		return Trouble{}, false
	}
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
	case sqlite3.ErrConstraintForeignKey:
		return "something that this refers to is not in the book any more", true
	default:
		return "", false
	}
}

// IsUsed says whether the database refused to delete what other rows refer to.
func IsUsed(err error) bool {
	var e sqlite3.Error
	return errors.As(err, &e) && e.ExtendedCode == sqlite3.ErrConstraintForeignKey
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
