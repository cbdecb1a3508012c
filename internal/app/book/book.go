// Package book is the kernel of the use cases: a book, who does something in it and what they may, one transaction a use case, the
// history and the news of what was changed, and requests that are sent more than once.
package book

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"time"

	"golang.org/x/text/currency"

	"jarvo/internal/app/form"
	"jarvo/internal/app/limits"
	"jarvo/internal/app/refuse"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/postal"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// Book runs the use cases on one book.
type Book struct {
	Store *store.Store
	Now   func() time.Time
	news  newsroom
	code  string // that opens a new book
}

// New returns the use cases on a book; now is the clock.
func New(s *store.Store, now func() time.Time) *Book {
	return &Book{Store: s, Now: now, code: NewCode()}
}

// Today is the date in the company's time zone; that of the clock's own zone before a book has been opened.
func (a *Book) Today(ctx context.Context) (calendar.Date, error) {
	var company store.Company
	err := a.Store.Read(ctx, func(tx *store.Tx) (err error) {
		company, _, err = store.One[store.Company](tx, 1)
		return err
	})
	return calendar.Of(InZone(a.Now(), company.TimeZone)), err
}

// InZone is a moment by the clocks of a time zone; a blank or unknown zone leaves it as it is.
func InZone(at time.Time, name string) time.Time {
	if name == "" {
		return at
	}
	zone, err := time.LoadLocation(name)
	if err != nil {
		return at
	}
	return at.In(zone)
}

// Read runs a use case that changes nothing, over one state of the book.
func Read[T any](ctx context.Context, a *Book, actor Actor, p Permission, f func(*Session) (T, error)) (T, error) {
	return run(ctx, a, actor, p, a.Store.Read, f)
}

// Write runs a use case in a transaction, which an error takes back.
func Write[T any](ctx context.Context, a *Book, actor Actor, p Permission, f func(*Session) (T, error)) (T, error) {
	return run(ctx, a, actor, p, a.write, f)
}

// write runs f in a transaction, and works out at its end what limits hold back now.
func (a *Book) write(ctx context.Context, f func(*store.Tx) error) error {
	return a.Store.Write(ctx, func(tx *store.Tx) error {
		if err := f(tx); err != nil {
			return err
		}
		return limits.Settle(tx)
	})
}

// Change is [Write] for a use case that answers nothing.
func Change(ctx context.Context, a *Book, actor Actor, p Permission, f func(*Session) error) error {
	_, err := Write(ctx, a, actor, p, func(s *Session) (struct{}, error) { return struct{}{}, f(s) })
	return err
}

// WriteNew is [Write] where there may be no company yet: found says whether there is, and the session is of the first one where not.
func WriteNew[T any](ctx context.Context, a *Book, actor Actor, p Permission, first func() store.Company,
	f func(s *Session, found bool) (T, error),
) (T, error) {
	found := false
	open := func(tx *store.Tx) (err error) {
		if _, found, err = store.One[store.Company](tx, 1); err != nil || found {
			return err
		}
		company := first()
		return tx.Create(&company).Error
	}
	in := func(ctx context.Context, f func(*store.Tx) error) error {
		return a.write(ctx, func(tx *store.Tx) error {
			if err := open(tx); err != nil {
				return err
			}
			return f(tx)
		})
	}
	return run(ctx, a, actor, p, in, func(s *Session) (T, error) { return f(s, found) })
}

// run checks a permission, runs f in a transaction, and tells the news of it.
func run[T any](ctx context.Context, a *Book, actor Actor, p Permission, in func(context.Context, func(*store.Tx) error) error,
	f func(*Session) (T, error),
) (out T, err error) {
	if err := actor.Need(p); err != nil {
		return out, err
	}
	var news []News
	err = refuse.Guarded(in(ctx, func(tx *store.Tx) error {
		s, err := a.Open(tx, actor)
		if err != nil {
			return err
		}
		if out, err = f(s); err != nil {
			return err
		}
		news = s.news
		if err := s.ended(); err != nil {
			return err
		}
		return s.watched(ctx)
	}))
	if errors.Is(err, errTried) {
		return out, nil
	}
	if err == nil && len(news) > 0 {
		a.news.tell(news)
	}
	return out, err
}

// Session is one use case under way: its transaction, who does it, and the company's settings.
type Session struct {
	*store.Tx
	Book     *Book
	Actor    Actor
	Company  store.Company
	Currency money.Currency
	kept     map[reflect.Type]any // what is loaded once a session, by its type
	steps    int                  // that have been begun
	begun    map[int]string       // and of these those that have not been run
	news     []News               // told once the transaction is done
	About    store.Worker         // whose hours are being changed, for the news of it
	Decision int64                // the id of what is decided at once, 0 for what is no decision
}

// Now is the moment, by the clocks where the company is.
func (s *Session) Now() time.Time { return InZone(s.Book.Now(), s.Company.TimeZone) }

// Today is the date where the company is.
func (s *Session) Today() calendar.Date { return calendar.Of(s.Now()) }

// ErrNoBook refuses what is asked of a book that has no company yet.
var ErrNoBook = &refuse.Error{Kind: refuse.KindConflict, Message: "the book has not been opened yet; create the company first"}

// Open begins a session in a transaction; where no company is in the book yet it is an error.
func (a *Book) Open(tx *store.Tx, actor Actor) (*Session, error) {
	company, found, err := store.One[store.Company](tx, 1)
	if err != nil {
		return nil, err
	}
	if !found {
		return nil, ErrNoBook
	}
	cur, err := ParseCurrency(company.Currency)
	if err != nil {
		return nil, err
	}
	return &Session{Tx: tx, Book: a, Actor: actor, Company: company, Currency: cur}, nil
}

// InOrder runs steps one after the other; the first that fails is the last.
func InOrder(steps ...func() error) error {
	for _, step := range steps {
		if err := step(); err != nil {
			return err
		}
	}
	return nil
}

// Begin notes that a step has been begun, without which the use case must not end; ran notes that it has been run.
func (s *Session) Begin(step string) (ran func()) {
	s.steps++
	at := s.steps
	if s.begun == nil {
		s.begun = map[int]string{}
	}
	s.begun[at] = step
	return func() { delete(s.begun, at) }
}

// ended is an error where a step has been begun and not run: what rests on what was changed would be left as it was.
func (s *Session) ended() error {
	if len(s.begun) > 0 {
		return fmt.Errorf("the use case ended without its step: %s", strings.Join(slices.Collect(maps.Values(s.begun)), ", "))
	}
	return nil
}

// Keep loads something once a session, and gives it again to whoever asks after.
func Keep[T any](s *Session, load func() (T, error)) (T, error) {
	kind := reflect.TypeFor[T]()
	if had, there := s.kept[kind]; there {
		return had.(T), nil
	}
	loaded, err := load()
	if err != nil {
		return loaded, err
	}
	if s.kept == nil {
		s.kept = map[reflect.Type]any{}
	}
	s.kept[kind] = loaded
	return loaded, nil
}

// Forget makes [Keep] load something anew: it has changed.
func Forget[T any](s *Session) { delete(s.kept, reflect.TypeFor[T]()) }

// Checks reads what was typed, in the company's currency.
func (s *Session) Checks() *form.Checks { return &form.Checks{Currency: s.Currency} }

// Money writes an amount of the company's currency, without the symbol of the currency.
func (s *Session) Money(a money.Amount) string { return s.Currency.Format(a) }

// English is the English that the company writes.
func (s *Session) English() words.Spelling { return English(s.Company) }

// English is the English that a company writes: its country's.
func English(co store.Company) words.Spelling {
	return words.SpellingOf(postal.Assumed(co.Country, co.Currency))
}

// Maybe writes an amount that need not be there, blank where it is not.
func (s *Session) Maybe(a *money.Amount) string {
	if a == nil {
		return ""
	}
	return s.Currency.Format(*a)
}

// Record adds to the history what was done to a subject, and to the news that it was.
func (s *Session) Record(action, kind string, id int64, before, after any) error {
	change := store.Change{At: s.Book.Now().UnixMilli(), UserName: s.Actor.Name, Action: action, Kind: kind, SubjectID: id}
	var err error
	if change.Before, err = jsonText(before); err != nil {
		return fmt.Errorf("keeping what %s %d was: %w", kind, id, err)
	}
	if change.After, err = jsonText(after); err != nil {
		return fmt.Errorf("keeping what became of %s %d: %w", kind, id, err)
	}
	if s.Actor.UserID != 0 {
		change.UserID = &s.Actor.UserID
	}
	if news := (News{kind, s.Actor.Name, s.Actor.Window, s.About.ID, s.About.Crew}); !slices.Contains(s.news, news) {
		s.news = append(s.news, news)
	}
	change.Decision = store.Ref(s.Decision)
	return store.Record(s.Tx, &change)
}

// jsonText writes what the history keeps; nothing is nil.
func jsonText(v any) (*string, error) {
	if v == nil {
		return nil, nil
	}
	b, err := json.Marshal(v)
	if err != nil {
		return nil, err
	}
	text := string(b)
	return &text, nil
}

// ParseCurrency reads an ISO 4217 code.
func ParseCurrency(code string) (money.Currency, error) {
	unit, err := currency.ParseISO(code)
	if err != nil || unit.String() != code {
		return money.Currency{}, errors.New("this is not a currency code such as USD or EUR: " + code)
	}
	return money.CurrencyOf(code), nil
}

// NewCode is a code of eight letters and figures, for a person to type.
func NewCode() string {
	text := rand.Text()
	return text[:4] + "-" + text[4:8]
}

// TimeText writes a moment, in milliseconds since 1970, as RFC 3339 in UTC.
func TimeText(milliseconds int64) string {
	return time.UnixMilli(milliseconds).UTC().Format(time.RFC3339)
}

// OpeningCode is what opens a new book. Whoever started the server is told.
func (a *Book) OpeningCode() string { return a.code }

// WeekRate reads a wage by the week: an amount of the company's currency, as a rate.
func (s *Session) WeekRate(text string) (money.Rate, error) {
	amount, err := s.ParseAmount(text)
	return s.Currency.RateOf(amount), err
}

// ParseAmount reads an amount of the company's currency.
func (s *Session) ParseAmount(text string) (money.Amount, error) {
	return form.Bounded(s.Currency.ParseAmount, form.LargestAmount, s.Money(form.LargestAmount))(text)
}

// WeekStart is the first day of the company's week.
func WeekStart(company store.Company) time.Weekday {
	first, err := calendar.ParseWeekday(company.WeekStart)
	if err != nil {
		return time.Monday
	}
	return first
}

// FurthestAhead is the last day that hours and papers may be dated: what is further ahead is a slip of the year.
func (s *Session) FurthestAhead() calendar.Date {
	return s.Today() + calendar.Date(s.Company.DaysAhead)
}

// Add adds a row to a table under the next id, and under a reference of its own: the prefix and the id.
func Add[R any](s *Session, table, prefix string, row *R, id *int64, ref *string) (err error) {
	if *id, err = store.NextID(s.Tx, table); err != nil {
		return err
	}
	if *ref, err = s.freeRef(table, prefix, *id); err != nil {
		return err
	}
	_, err = store.Insert(s.Tx, row)
	return err
}

// freeRef is a reference for a new row that no imported row has taken.
func (s *Session) freeRef(table, prefix string, rowID int64) (string, error) {
	text := prefix + strconv.FormatInt(rowID, 10)
	for n := 2; ; n++ {
		taken, err := store.Value[int64](s.Tx, "SELECT count(*) FROM "+table+" WHERE ref = ? AND id <> ?", text, rowID)
		if err != nil || taken == 0 {
			return text, err
		}
		text = fmt.Sprintf("%s%d-%d", prefix, rowID, n)
	}
}

// Backup writes a consistent copy of the book.
func (a *Book) Backup(ctx context.Context, actor Actor, file string) error {
	if err := actor.Need(Exchange); err != nil {
		return err
	}
	return a.Store.Backup(ctx, file)
}

// WeekOf is the first day of the company's week that a date of SQL is in. 700 000, a whole number of weeks, keeps dates before 1970
// above 0.
func WeekOf(date string) string {
	return "(" + date + " - (" + date + " - (SELECT first_day FROM company_week) + 700000) % 7)"
}
