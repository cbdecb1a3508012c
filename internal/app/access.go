package app

import (
	"context"
	"strings"
	"unicode/utf8"

	"github.com/alexedwards/argon2id"

	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

const shortestPassword = 12

// NewBook is what the first start asks for.
type NewBook struct {
	CompanyName       string `json:"companyName"`
	Currency          string `json:"currency" doc:"ISO 4217 code"`
	WeekStart         string `json:"weekStart" doc:"a weekday in lower case"`
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
			state = BookState{Opened: users > 0, CompanyName: company.CompanyName, Key: key[0]}
		}
		return err
	})
	return state, err
}

func defaultCompany() store.Company {
	weekly := money.Minutes(40 * 60)
	return store.Company{
		ID: 1, Currency: "USD", WeekStart: "monday", OvertimeWeeklyMinutes: &weekly, OvertimeFactor: 15_000, DoubleFactor: 20_000,
		PurchaseTax: "cost", DistanceUnit: "mi", NextInvoiceNumber: 1001, NextJobNumber: 101, TermsDays: 30, UnbilledAlertDays: 14, Version: 1,
	}
}

// OpenBook creates the company and its first user, an owner. It is refused once there is a user.
// A company that was imported keeps its settings; only the user is made then.
func (a *App) OpenBook(ctx context.Context, in NewBook) (Actor, error) {
	c := &checks{}
	company := in.company(c)
	user := store.User{Name: c.needed("name", in.Name, "your name"), SignIn: c.needed("signIn", in.SignIn, "a name to sign in with"), Role: string(Owner), Active: true}
	checkPassword(c, in.Password)
	if err := c.err(); err != nil {
		return Actor{}, err
	}
	hash, err := hashPassword(in.Password)
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
			return conflict("this book has been opened already; sign in instead")
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
	return Actor{UserID: user.ID, Name: user.Name, Role: Owner}, guarded(err)
}

func (in NewBook) company(c *checks) store.Company {
	company := defaultCompany()
	company.CompanyName = c.needed("companyName", in.CompanyName, "the company's name")
	if _, err := parseCurrency(in.Currency); err != nil {
		c.add("currency", "%s", err)
	}
	company.Currency = in.Currency
	company.WeekStart = c.oneOf("weekStart", in.WeekStart, weekdays...)
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
var wrongPassword, _ = hashPassword("not the password of anybody")

// SignIn returns who has this name and password.
func (a *App) SignIn(ctx context.Context, signIn, password string) (Actor, error) {
	var users []store.User
	err := a.store.Read(ctx, func(tx *store.Tx) (err error) {
		users, err = store.All[store.User](tx, "id", "sign_in = ? AND active = 1", strings.TrimSpace(signIn))
		return err
	})
	if err != nil {
		return Actor{}, err
	}
	hash := wrongPassword
	if len(users) == 1 {
		hash = users[0].PasswordHash
	}
	ok, err := argon2id.ComparePasswordAndHash(password, hash)
	if err != nil {
		return Actor{}, err
	}
	if !ok || len(users) != 1 {
		return Actor{}, &Error{Kind: KindUnauthorized, Message: "the name or the password is not right"}
	}
	return actorOf(users[0]), nil
}

// User returns who has an id, as long as they may still sign in.
func (a *App) User(ctx context.Context, userID int64) (Actor, bool, error) {
	var user store.User
	var found bool
	err := a.store.Read(ctx, func(tx *store.Tx) (err error) {
		user, found, err = store.One[store.User](tx, userID)
		return err
	})
	return actorOf(user), found && user.Active, err
}

func actorOf(u store.User) Actor {
	return Actor{UserID: u.ID, Name: u.Name, Role: Role(u.Role), Crew: u.Crew, WorkerID: id(u.WorkerID)}
}

func checkPassword(c *checks, password string) {
	if n := utf8.RuneCountInString(password); n < shortestPassword {
		c.add("password", "%d of at least %d signs; a few words are easier to keep", n, shortestPassword)
	}
	if len(password) > 1000 {
		c.add("password", "this is longer than a password can be")
	}
}

func hashPassword(password string) (string, error) {
	return argon2id.CreateHash(password, argon2id.DefaultParams)
}

var weekdays = []string{"monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"}

// limitHours reads an overtime limit: hours of a week or a day, 0 for all of it.
func limitHours(s string) (money.Minutes, error) {
	if strings.Trim(strings.TrimSpace(s), "0.") == "" {
		return 0, nil
	}
	if strings.Contains(s, ":") { // 7:30; a week's limit has more hours than a day, so it is not read as worked time is
		hours, minutes, _ := strings.Cut(s, ":")
		h, errH := wholeNumber(hours)
		m, errM := wholeNumber(minutes)
		if errH != nil || errM != nil || h > 167 || m > 59 {
			return 0, &Error{Message: "type hours between 0 and 168, such as 40 or 7:30"}
		}
		return money.Minutes(h*60 + m), nil
	}
	q, err := money.ParseQuantity(strings.ReplaceAll(s, ",", "."))
	if err != nil || q < 0 || q > 168_000 {
		return 0, &Error{Message: "type hours between 0 and 168, such as 40"}
	}
	minutes, err := money.Ratio(1000, int64(q), 60)
	return money.Minutes(minutes), err
}

func payFactor(c *checks, path, s string) money.Factor {
	f := parsed(c, path, s, money.ParseFactor)
	if f != 0 && f < money.One {
		c.add(path, "overtime can't pay less than the hour itself: type 1 or more, such as 1.5")
	}
	return f
}

func sequenceNumber(s string) (int64, error) {
	q, err := money.ParseQuantity(s)
	if err != nil || q <= 0 || q%1000 != 0 {
		return 0, &Error{Message: "type a whole number above 0"}
	}
	return int64(q) / 1000, nil
}
