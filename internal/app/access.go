package app

import (
	"cmp"
	"context"
	"crypto/subtle"
	"strings"
	"sync"
	"unicode/utf8"

	"github.com/alexedwards/argon2id"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

const shortestPassword = 12

// NewBook is what the first start asks for.
type NewBook struct {
	Code              string `json:"code" doc:"printed where the server was started, so that nobody else opens the book"`
	CompanyName       string `json:"companyName"`
	Currency          string `json:"currency" doc:"ISO 4217 code"`
	WeekStart         string `json:"weekStart" doc:"a weekday in lower case"`
	TimeZone          string `json:"timeZone,omitempty" doc:"IANA name of where the company is; blank: the server's"`
	OvertimeDaily     string `json:"overtimeDaily" doc:"hours, blank for no daily limit"`
	OvertimeWeekly    string `json:"overtimeWeekly" doc:"hours, blank for no weekly limit"`
	OvertimeFactor    string `json:"overtimeFactor"`
	DoubleDaily       string `json:"doubleDaily" doc:"hours, blank for no double time"`
	DoubleFactor      string `json:"doubleFactor"`
	NextInvoiceNumber string `json:"nextInvoiceNumber"`
	NextJobNumber     string `json:"nextJobNumber"`
	Name              string `json:"name"`
	SignIn            string `json:"signIn"`
	Password          string `json:"password"`
}

// BookState says whether the book has been opened, and whose it is.
type BookState struct {
	Opened      bool   `json:"opened"`
	CompanyName string `json:"companyName"`
	Key         string `json:"key" doc:"tells this book from any other"`
	Today       string `json:"today,omitempty" format:"date" doc:"where the company is"`
}

// State is open to everybody: it says whether there is a company to sign in to.
func (a *App) State(ctx context.Context) (BookState, error) {
	var state BookState
	err := a.store.Read(ctx, func(tx *store.Tx) error {
		company, found, err := store.One[store.Company](tx, 1)
		if err != nil || !found {
			return err
		}
		var users int64
		if err := tx.Model(&store.User{}).Count(&users).Error; err != nil {
			return err
		}
		key, err := store.Query[string](tx, "SELECT key FROM book")
		if err == nil {
			state = BookState{Opened: users > 0, CompanyName: company.CompanyName, Key: key[0], Today: calendar.Of(inZone(a.now(), company.TimeZone)).String()}
		}
		return err
	})
	return state, guarded(err)
}

func defaultCompany() store.Company {
	weekly := money.Minutes(40 * 60)
	return store.Company{
		ID: 1, Currency: "USD", WeekStart: "monday", OvertimeWeeklyMinutes: &weekly, OvertimeFactor: 15_000, DoubleFactor: 20_000,
		PurchaseTax: "cost", DistanceUnit: "mi", NextInvoiceNumber: 1001, NextJobNumber: 101, TermsDays: 30, UnbilledAlertDays: 14, Version: 1,
	}
}

// OpeningCode is what opens a new book. Whoever started the server is told.
func (a *App) OpeningCode() string { return a.code }

// OpenBook creates the company and its first user, an owner, for who has the code. It is refused once there is a user.
// A company that was imported keeps its settings; only the user is made then.
func (a *App) OpenBook(ctx context.Context, in NewBook) (Actor, error) {
	if subtle.ConstantTimeCompare([]byte(strings.ToUpper(strings.TrimSpace(in.Code))), []byte(a.code)) != 1 {
		return Actor{}, errWrongCode
	}
	if state, err := a.State(ctx); err != nil || state.Opened {
		return Actor{}, cmp.Or[error](err, errOpened)
	}
	c := &checks{}
	company := in.company(c)
	user := store.User{Name: c.needed("name", in.Name, "your name"), SignIn: c.needed("signIn", in.SignIn, "a name to sign in with"), Role: string(Owner), Active: true, Generation: 1}
	checkPassword(c, in.Password)
	if err := c.err(); err != nil {
		return Actor{}, err
	}
	hash, err := hashPassword(ctx, in.Password)
	if err != nil {
		return Actor{}, err
	}
	user.PasswordHash = hash
	err = a.store.Write(ctx, func(tx *store.Tx) error {
		var users int64
		if err := tx.Model(&store.User{}).Count(&users).Error; err != nil {
			return err
		}
		if users > 0 {
			return errOpened
		}
		_, found, err := store.One[store.Company](tx, 1)
		if err != nil {
			return err
		}
		if !found {
			if err := tx.Create(&company).Error; err != nil {
				return err
			}
			// The book starts with a card of its own, so that the first rate has a place to go.
			card := store.RateCard{Code: "Company"}
			if err := tx.Create(&card).Error; err != nil {
				return err
			}
			if err := tx.Model(&company).Update("rate_card_id", card.ID).Error; err != nil {
				return err
			}
		}
		if err := tx.Create(&user).Error; err != nil {
			return err
		}
		s, err := a.open(tx, Actor{UserID: user.ID, Name: user.Name, Role: Owner})
		if err != nil {
			return err
		}
		return s.record("opened the book", "company", 1, nil, company)
	})
	return actorOf(user), guarded(err)
}

var errOpened = conflict("this book has been opened already; sign in instead")

func (in NewBook) company(c *checks) store.Company {
	company := defaultCompany()
	company.CompanyName = c.needed("companyName", in.CompanyName, "the company's name")
	if _, err := parseCurrency(in.Currency); err != nil {
		c.add("currency", "%s", err)
	}
	company.Currency = in.Currency
	company.WeekStart = c.oneOf("weekStart", in.WeekStart, weekdays...)
	company.TimeZone = c.zone("timeZone", in.TimeZone)
	company.OvertimeDailyMinutes = optional(c, "overtimeDaily", in.OvertimeDaily, limitHours)
	company.OvertimeWeeklyMinutes = optional(c, "overtimeWeekly", in.OvertimeWeekly, limitHours)
	company.DoubleDailyMinutes = optional(c, "doubleDaily", in.DoubleDaily, limitHours)
	company.OvertimeFactor = payFactor(c, "overtimeFactor", in.OvertimeFactor)
	company.DoubleFactor = payFactor(c, "doubleFactor", in.DoubleFactor)
	company.NextInvoiceNumber = parsed(c, "nextInvoiceNumber", in.NextInvoiceNumber, sequenceNumber)
	company.NextJobNumber = parsed(c, "nextJobNumber", in.NextJobNumber, sequenceNumber)
	return company
}

// wrongPassword is checked against where there is no such user, so that both answers take as long.
var wrongPassword = sync.OnceValues(func() (string, error) {
	return argon2id.CreateHash("not the password of anybody", argon2id.DefaultParams)
})

// mostHashing is how many passwords are hashed at a time: each takes 64 MB.
const mostHashing = 2

// hashing holds a token for each password that is being hashed.
var hashing = make(chan struct{}, mostHashing)

// hashInTurn waits for its turn to hash a password, and runs f.
func hashInTurn(ctx context.Context, f func() error) error {
	select {
	case hashing <- struct{}{}:
		defer func() { <-hashing }()
		return f()
	case <-ctx.Done():
		return context.Cause(ctx)
	}
}

// SignIn returns who has this name and password.
func (a *App) SignIn(ctx context.Context, signIn, password string) (Actor, error) {
	var users []store.User
	err := a.store.Read(ctx, func(tx *store.Tx) (err error) {
		users, err = store.All[store.User](tx, "id", "sign_in = ? AND active = 1", strings.TrimSpace(signIn))
		return err
	})
	if err != nil {
		return Actor{}, guarded(err)
	}
	hash, err := wrongPassword()
	if err != nil {
		return Actor{}, err
	}
	if len(users) == 1 {
		hash = users[0].PasswordHash
	}
	ok := false
	err = hashInTurn(ctx, func() (err error) {
		ok, err = argon2id.ComparePasswordAndHash(password, hash)
		return err
	})
	if err != nil {
		return Actor{}, err
	}
	if !ok || len(users) != 1 {
		return Actor{}, &Error{Kind: KindUnauthorized, Message: "the name or the password is not right"}
	}
	return actorOf(users[0]), nil
}

// User returns who has an id, as long as they may still sign in and the generation of their session is not over.
func (a *App) User(ctx context.Context, userID, generation int64) (Actor, bool, error) {
	user, found, err := a.userOf(ctx, userID)
	return actorOf(user), found && user.Active && user.Generation == generation, err
}

// ChangePassword gives the actor another password, for the one they have. Their other sessions end; the actor of the new one is returned.
func (a *App) ChangePassword(ctx context.Context, actor Actor, had, now string) (Actor, error) {
	c := &checks{}
	checkPassword(c, now)
	if had == now {
		c.add("password", "this is the password that you have")
	}
	if err := c.err(); err != nil {
		return Actor{}, err
	}
	user, found, err := a.userOf(ctx, actor.UserID)
	if err != nil || !found {
		return Actor{}, orNotFound(err, "user")
	}
	right := false
	err = hashInTurn(ctx, func() (err error) {
		right, err = argon2id.ComparePasswordAndHash(had, user.PasswordHash)
		return err
	})
	if err == nil && !right {
		err = errWrongPassword
	}
	if err != nil {
		return Actor{}, err
	}
	hash, err := hashPassword(ctx, now)
	if err != nil {
		return Actor{}, err
	}
	user.PasswordHash, user.Generation = hash, user.Generation+1
	err = Change(ctx, a, actor, actor.anything(), func(s *session) error {
		changed := s.Exec("UPDATE users SET password_hash = ?, generation = ? WHERE id = ? AND generation = ? AND active = 1", hash, user.Generation, user.ID, user.Generation-1)
		if changed.Error != nil {
			return changed.Error
		}
		if changed.RowsAffected == 0 {
			return conflict("your password was changed somewhere else in the meantime; sign in again")
		}
		return s.record("changed the password", "user", user.ID, nil, map[string]string{"name": user.Name})
	})
	if err == nil {
		a.news.end(user.ID)
	}
	return actorOf(user), err
}

var (
	errWrongPassword = invalid("had", "this is not your password")
	errWrongCode     = invalid("code", "this is not the code; it is printed where the server was started")
)

// WrongSecret says that an error is a wrong password or code: something that is not to be tried too often.
func WrongSecret(err error) bool {
	e, ok := AsError(err)
	return ok && (e.Kind == KindUnauthorized || e == errWrongPassword || e == errWrongCode)
}

func (a *App) userOf(ctx context.Context, userID int64) (user store.User, found bool, err error) {
	err = a.store.Read(ctx, func(tx *store.Tx) error {
		user, found, err = store.One[store.User](tx, userID)
		return err
	})
	return user, found, guarded(err)
}

func actorOf(u store.User) Actor {
	return Actor{UserID: u.ID, Name: u.Name, Role: Role(u.Role), Crew: u.Crew, WorkerID: store.ID(u.WorkerID), Generation: u.Generation}
}

func checkPassword(c *checks, password string) {
	if n := utf8.RuneCountInString(password); n < shortestPassword {
		c.add("password", "%d of at least %d characters; a few words are easier to remember", n, shortestPassword)
	}
	if len(password) > 1000 {
		c.add("password", "this is longer than a password can be")
	}
}

func hashPassword(ctx context.Context, password string) (hash string, err error) {
	err = hashInTurn(ctx, func() (err error) {
		hash, err = argon2id.CreateHash(password, argon2id.DefaultParams)
		return err
	})
	return hash, err
}

var weekdays = []string{"monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"}

// limitHours reads an overtime limit: hours of a week or a day, 0 for all of it.
func limitHours(s string) (money.Minutes, error) {
	if strings.Contains(s, ":") { // 7:30; a week's limit has more hours than a day, so it is not read as worked time is
		hours, minutes, _ := strings.Cut(s, ":")
		h, errH := wholeNumber(hours)
		m, errM := wholeNumber(minutes)
		if errH != nil || errM != nil || h > 167 || m > 59 {
			return 0, &Error{Message: "type hours between 0 and 168, such as 40 or 7:30"}
		}
		return money.Minutes(h*60 + m), nil
	}
	q, err := parseQuantity(strings.ReplaceAll(s, ",", "."))
	if err != nil || q < 0 || q > 168_000 {
		return 0, &Error{Message: "type hours between 0 and 168, such as 40"}
	}
	minutes, err := money.Ratio(1000, int64(q), 60)
	return money.Minutes(minutes), err
}

func payFactor(c *checks, path, s string) money.Factor {
	f := parsed(c, path, s, parseFactor)
	if f != 0 && f < money.One {
		c.add(path, "overtime can't pay less than the hour itself: type 1 or more, such as 1.5")
	}
	return f
}

func sequenceNumber(s string) (int64, error) {
	q, err := parseQuantity(s)
	if err != nil || q <= 0 || q%1000 != 0 {
		return 0, &Error{Message: "type a whole number above 0"}
	}
	return int64(q) / 1000, nil
}
