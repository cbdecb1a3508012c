// Package app holds the use cases. Each checks a permission, runs in one transaction, loads what it
// needs, lets the core compute, saves, and keeps the change in the history.
package app

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"time"

	"golang.org/x/text/currency"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// App runs the use cases on one book.
type App struct {
	store *store.Store
	now   func() time.Time
	news  newsroom

	code string // that opens a new book
}

// New returns the use cases on a book; now is the clock.
func New(s *store.Store, now func() time.Time) *App {
	return &App{store: s, now: now, code: newCode()}
}

// Role is what a user may do.
type Role string

// The roles.
const (
	Owner      Role = "owner"
	Bookkeeper Role = "bookkeeper"
	Manager    Role = "manager"
	Foreman    Role = "foreman"
	Worker     Role = "worker"
)

// Permission is one thing a role may or may not do.
type Permission string

// The permissions.
const (
	Clock    Permission = "clock"    // clock one's own hours
	Capture  Permission = "capture"  // type hours
	SeeMoney Permission = "money"    // see wages, costs, prices and profit
	Costs    Permission = "costs"    // enter cost documents
	Approve  Permission = "approve"  // approve and return
	Bill     Permission = "bill"     // drafts and invoices
	Setup    Permission = "setup"    // workers, rates, customers, jobs
	Exchange Permission = "exchange" // bring bundles in and out
)

var allowed = map[Role][]Permission{
	Owner:      {Clock, Capture, SeeMoney, Costs, Approve, Bill, Setup, Exchange},
	Bookkeeper: {Clock, Capture, SeeMoney, Costs, Approve, Bill, Setup, Exchange},
	Manager:    {Clock, Capture, SeeMoney, Costs, Approve},
	Foreman:    {Clock, Capture},
	Worker:     {Clock},
}

// Actor is who does something.
type Actor struct {
	UserID int64
	Name   string
	Role   Role
	// Crew is what a foreman is kept to, blank for all; WorkerID is whose own hours they clock, 0 for nobody's.
	Crew     string
	WorkerID int64
	Window   string // of the browser, where there is one: it need not be told of its own changes
	// Generation is that of the user's sessions: a new password, another role or a deactivation begins the next.
	Generation int64
}

// Console is the actor of the command line, which whoever holds the file may use.
var Console = Actor{Name: "command line", Role: Owner}

// Can says whether the actor has a permission.
func (a Actor) Can(p Permission) bool { return slices.Contains(allowed[a.Role], p) }

// anything is a permission that the actor has, whatever their role.
func (a Actor) anything() Permission { return allowed[a.Role][0] }

// Need is an error where a person may not do a thing.
func (a Actor) Need(p Permission) error {
	if a.Can(p) {
		return nil
	}
	return &Error{Kind: KindForbidden, Message: "you are not allowed to do this; ask the owner of the book"}
}

// Today is the date in the company's time zone; that of the clock's own zone before a book has been opened.
func (a *App) Today(ctx context.Context) (calendar.Date, error) {
	var company store.Company
	err := a.store.Read(ctx, func(tx *store.Tx) (err error) {
		company, _, err = store.One[store.Company](tx, 1)
		return err
	})
	return calendar.Of(inZone(a.now(), company.TimeZone)), err
}

// inZone is a moment by the clocks of a time zone; a blank or unknown zone leaves it as it is.
func inZone(at time.Time, name string) time.Time {
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
func Read[T any](ctx context.Context, a *App, actor Actor, p Permission, f func(*session) (T, error)) (T, error) {
	return run(ctx, a, actor, p, a.store.Read, f)
}

// Write runs a use case in a transaction, which an error takes back.
func Write[T any](ctx context.Context, a *App, actor Actor, p Permission, f func(*session) (T, error)) (T, error) {
	return run(ctx, a, actor, p, a.store.Write, f)
}

// Change is [Write] for a use case that answers nothing.
func Change(ctx context.Context, a *App, actor Actor, p Permission, f func(*session) error) error {
	_, err := Write(ctx, a, actor, p, func(s *session) (struct{}, error) { return struct{}{}, f(s) })
	return err
}

// run checks a permission, runs f in a transaction, and tells the news of it.
func run[T any](ctx context.Context, a *App, actor Actor, p Permission, in func(context.Context, func(*store.Tx) error) error,
	f func(*session) (T, error),
) (out T, err error) {
	if err := actor.Need(p); err != nil {
		return out, err
	}
	var news []News
	err = guarded(in(ctx, func(tx *store.Tx) error {
		s, err := a.open(tx, actor)
		if err != nil {
			return err
		}
		if out, err = f(s); err != nil {
			return err
		}
		news = s.news
		return s.ended()
	}))
	if err == nil && len(news) > 0 {
		a.news.tell(news)
	}
	return out, err
}

// session is one use case under way: its transaction, who does it, and the company's settings.
type session struct {
	*store.Tx
	app      *App
	actor    Actor
	company  store.Company
	currency money.Currency
	kept     map[reflect.Type]any // what is loaded once a session, by its type
	begun    []string             // begun and not run
	news     []News               // told once the transaction is done
	about    store.Worker         // whose hours are being changed, for the news of it
	decision int64                // the id of what is decided at once, 0 for what is no decision
}

// now is the moment, by the clocks where the company is.
func (s *session) now() time.Time { return inZone(s.app.now(), s.company.TimeZone) }

// today is the date where the company is.
func (s *session) today() calendar.Date { return calendar.Of(s.now()) }

var errNoBook = &Error{Kind: KindConflict, Message: "the book has not been opened yet; create the company first"}

func (a *App) open(tx *store.Tx, actor Actor) (*session, error) {
	company, found, err := store.One[store.Company](tx, 1)
	if err != nil {
		return nil, err
	}
	if !found {
		return nil, errNoBook
	}
	cur, err := parseCurrency(company.Currency)
	if err != nil {
		return nil, err
	}
	return &session{Tx: tx, app: a, actor: actor, company: company, currency: cur}, nil
}

// begin notes that a step has been begun which has to be run before the use case ends.
func (s *session) begin(step string) { s.begun = append(s.begun, step) }

// ran notes that a step has been run.
func (s *session) ran(step string) {
	s.begun = slices.DeleteFunc(s.begun, func(begun string) bool { return begun == step })
}

// ended is an error where a step has been begun and not run: what rests on what was changed would be left as it was.
func (s *session) ended() error {
	if len(s.begun) > 0 {
		return fmt.Errorf("the use case ended without its step: %s", strings.Join(s.begun, ", "))
	}
	return nil
}

// keep loads something once a session, and gives it again to whoever asks after.
func keep[T any](s *session, load func() (T, error)) (T, error) {
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

// forget makes keep load something anew: it has changed.
func forget[T any](s *session) { delete(s.kept, reflect.TypeFor[T]()) }

func (s *session) checks() *checks { return &checks{currency: s.currency} }

func (s *session) money(a money.Amount) string { return s.currency.Format(a) }

func (s *session) maybe(a *money.Amount) string {
	if a == nil {
		return ""
	}
	return s.currency.Format(*a)
}

// record adds to the history what was done to a subject, and to the news that it was.
func (s *session) record(action, kind string, id int64, before, after any) error {
	change := store.Change{At: s.app.now().UnixMilli(), UserName: s.actor.Name, Action: action, Kind: kind, SubjectID: id}
	var err error
	if change.Before, err = jsonText(before); err != nil {
		return fmt.Errorf("keeping what %s %d was: %w", kind, id, err)
	}
	if change.After, err = jsonText(after); err != nil {
		return fmt.Errorf("keeping what became of %s %d: %w", kind, id, err)
	}
	if s.actor.UserID != 0 {
		change.UserID = &s.actor.UserID
	}
	if news := (News{kind, s.actor.Name, s.actor.Window, s.about.ID, s.about.Crew}); !slices.Contains(s.news, news) {
		s.news = append(s.news, news)
	}
	change.Decision = store.Ref(s.decision)
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

func parseCurrency(code string) (money.Currency, error) {
	unit, err := currency.ParseISO(code)
	if err != nil || unit.String() != code {
		return money.Currency{}, errors.New("this is not a currency code such as USD or EUR: " + code)
	}
	return money.CurrencyOf(code), nil
}

// newCode is a code of eight letters and figures, for a person to type.
func newCode() string {
	text := rand.Text()
	return text[:4] + "-" + text[4:8]
}

func timeText(milliseconds int64) string {
	return time.UnixMilli(milliseconds).UTC().Format(time.RFC3339)
}
