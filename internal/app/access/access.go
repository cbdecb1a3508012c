// Package access opens books, signs people in and keeps the users.
package access

import (
	"cmp"
	"context"
	"crypto/subtle"
	"strings"
	"sync"
	"unicode/utf8"

	"github.com/alexedwards/argon2id"

	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/words"
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

// BookState says whether the book has been opened, and the company that keeps it.
type BookState struct {
	Opened      bool          `json:"opened"`
	CompanyName string        `json:"companyName"`
	Brought     bool          `json:"brought,omitempty" doc:"not opened yet, but a bundle has brought the company with its settings"`
	Key         string        `json:"key" doc:"tells this book from any other"`
	Today       string        `json:"today,omitempty" format:"date" doc:"where the company is"`
	English     words.English `json:"english"`
}

// State is open to everybody: it says whether there is a company to sign in to.
func State(ctx context.Context, b *book.Book) (BookState, error) {
	var state BookState
	err := b.Store.Read(ctx, func(tx *store.Tx) error {
		company, found, err := store.One[store.Company](tx, 1)
		if err != nil || !found {
			return err
		}
		var users int64
		if err := tx.Model(&store.User{}).Count(&users).Error; err != nil {
			return err
		}
		key, err := store.Value[string](tx, "SELECT key FROM book")
		if err == nil {
			state = BookState{
				Opened: users > 0, Brought: users == 0, CompanyName: company.CompanyName, Key: key,
				English: book.English(company).Written(),
				Today:   calendar.Of(book.InZone(b.Now(), company.TimeZone)).String(),
			}
		}
		return err
	})
	return state, refuse.Guarded(err)
}

// OpenBook creates the company and its first user, an owner, for who has the code. It is refused once there is a user.
// A company that was imported keeps its settings; only the user is made then.
func OpenBook(ctx context.Context, b *book.Book, in NewBook) (book.Actor, error) {
	if subtle.ConstantTimeCompare([]byte(strings.ToUpper(strings.TrimSpace(in.Code))), []byte(b.OpeningCode())) != 1 {
		return book.Actor{}, errWrongCode
	}
	state, err := State(ctx, b)
	if err != nil || state.Opened {
		return book.Actor{}, cmp.Or[error](err, errOpened)
	}
	c := &form.Checks{}
	var company store.Company
	if !state.Brought {
		company = in.company(c)
	}
	user := store.User{
		Name: c.Needed("name", in.Name, "your name"), SignIn: c.Needed("signIn", in.SignIn, "a name to sign in with"), Role: string(book.Owner),
		Active: true, Generation: 1, Version: 1,
	}
	checkPassword(c, in.Password)
	if err := c.Err(); err != nil {
		return book.Actor{}, err
	}
	hash, err := hashPassword(ctx, in.Password)
	if err != nil {
		return book.Actor{}, err
	}
	user.PasswordHash = hash
	err = b.Store.Write(ctx, func(tx *store.Tx) error {
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
		s, err := b.Open(tx, book.Actor{UserID: user.ID, Name: user.Name, Role: book.Owner})
		if err != nil {
			return err
		}
		return s.Record("opened the book", "company", 1, nil, s.Company)
	})
	return actorOf(user), refuse.Guarded(err)
}

var errOpened = refuse.Conflict("this book has been opened already; sign in instead")

func (in NewBook) company(c *form.Checks) store.Company {
	company := register.DefaultCompany()
	company.CompanyName = c.Needed("companyName", in.CompanyName, "the company's name")
	if _, err := book.ParseCurrency(in.Currency); err != nil {
		c.Add("currency", "%s", err)
	}
	company.Currency = in.Currency
	company.WeekStart = c.OneOf("weekStart", in.WeekStart, form.Weekdays...)
	company.TimeZone = c.Zone("timeZone", in.TimeZone)
	company.OvertimeDailyMinutes = form.Optional(c, "overtimeDaily", in.OvertimeDaily, form.LimitHours)
	company.OvertimeWeeklyMinutes = form.Optional(c, "overtimeWeekly", in.OvertimeWeekly, form.LimitHours)
	company.DoubleDailyMinutes = form.Optional(c, "doubleDaily", in.DoubleDaily, form.LimitHours)
	company.OvertimeFactor = form.PayFactor(c, "overtimeFactor", in.OvertimeFactor)
	company.DoubleFactor = form.PayFactor(c, "doubleFactor", in.DoubleFactor)
	company.NextInvoiceNumber = form.Parsed(c, "nextInvoiceNumber", in.NextInvoiceNumber, form.SequenceNumber)
	company.NextJobNumber = form.Parsed(c, "nextJobNumber", in.NextJobNumber, form.SequenceNumber)
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
func SignIn(ctx context.Context, b *book.Book, signIn, password string) (book.Actor, error) {
	var users []store.User
	err := b.Store.Read(ctx, func(tx *store.Tx) (err error) {
		users, err = store.All[store.User](tx, "id", "sign_in = ? AND active = 1", strings.TrimSpace(signIn))
		return err
	})
	if err != nil {
		return book.Actor{}, refuse.Guarded(err)
	}
	hash, err := wrongPassword()
	if err != nil {
		return book.Actor{}, err
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
		return book.Actor{}, err
	}
	if !ok || len(users) != 1 {
		return book.Actor{}, &refuse.Error{Kind: refuse.KindUnauthorized, Message: "the name or the password is not right"}
	}
	return actorOf(users[0]), nil
}

// User returns who has an id, as long as they may still sign in and the generation of their session is not over.
func User(ctx context.Context, b *book.Book, userID, generation int64) (book.Actor, bool, error) {
	user, found, err := userOf(ctx, b, userID)
	return actorOf(user), found && user.Active && user.Generation == generation, err
}

// ChangePassword gives the actor another password, for the one they have. Their other sessions end; the actor of the new one is returned.
func ChangePassword(ctx context.Context, b *book.Book, actor book.Actor, had, now string) (book.Actor, error) {
	c := &form.Checks{}
	checkPassword(c, now)
	if had == now {
		c.Add("password", "this is the password that you have")
	}
	if err := c.Err(); err != nil {
		return book.Actor{}, err
	}
	user, found, err := userOf(ctx, b, actor.UserID)
	if err != nil || !found {
		return book.Actor{}, refuse.OrNotFound(err, "user")
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
		return book.Actor{}, err
	}
	hash, err := hashPassword(ctx, now)
	if err != nil {
		return book.Actor{}, err
	}
	user.PasswordHash, user.Generation = hash, user.Generation+1
	err = book.Change(ctx, b, actor, actor.Anything(), func(s *book.Session) error {
		changed := s.Exec(setPassword, hash, user.Generation, user.ID, user.Generation-1)
		if changed.Error != nil {
			return changed.Error
		}
		if changed.RowsAffected == 0 {
			return refuse.Conflict("your password was changed somewhere else in the meantime; sign in again")
		}
		return s.Record("changed the password", "user", user.ID, nil, map[string]string{"name": user.Name})
	})
	if err == nil {
		b.EndNews(user.ID)
	}
	return actorOf(user), err
}

var (
	errWrongPassword = refuse.Invalid("had", "this is not your password")
	errWrongCode     = refuse.Invalid("code", "this is not the code; it is printed where the server was started")
)

// WrongSecret says that an error is a wrong password or code: something that is not to be tried too often.
func WrongSecret(err error) bool {
	e, ok := refuse.AsError(err)
	return ok && (e.Kind == refuse.KindUnauthorized || e == errWrongPassword || e == errWrongCode)
}

func userOf(ctx context.Context, b *book.Book, userID int64) (user store.User, found bool, err error) {
	err = b.Store.Read(ctx, func(tx *store.Tx) error {
		user, found, err = store.One[store.User](tx, userID)
		return err
	})
	return user, found, refuse.Guarded(err)
}

func actorOf(u store.User) book.Actor {
	return book.Actor{
		UserID: u.ID, Name: u.Name, SignIn: u.SignIn, Role: book.Role(u.Role), Crew: u.Crew, WorkerID: store.ID(u.WorkerID),
		Generation: u.Generation,
	}
}

func checkPassword(c *form.Checks, password string) {
	if n := utf8.RuneCountInString(password); n < shortestPassword {
		c.Add("password", "%d of at least %d characters; a few words are easier to remember", n, shortestPassword)
	}
	if len(password) > 1000 {
		c.Add("password", "this is longer than a password can be")
	}
}

func hashPassword(ctx context.Context, password string) (hash string, err error) {
	err = hashInTurn(ctx, func() (err error) {
		hash, err = argon2id.CreateHash(password, argon2id.DefaultParams)
		return err
	})
	return hash, err
}
