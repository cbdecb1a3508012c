// Package company keeps what the company says of itself: who it is, when its days and weeks begin, its terms and numbers, its rules of
// overtime, its holidays and its taxes.
package company

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/form"
	"jarvo/internal/app/ratebook"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/iban"
	"jarvo/internal/core/money"
	"jarvo/internal/core/postal"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// Settings are the company's settings as they are typed.
type Settings struct {
	Version           int64     `json:"version" doc:"as they were seen"`
	Name              string    `json:"name" doc:"as it stands on every paper"`
	Address           string    `json:"address" doc:"the lines above the place, as they stand on every paper"`
	PostCode          string    `json:"postCode"`
	City              string    `json:"city"`
	Region            string    `json:"region" doc:"a state, a province or a county"`
	Country           string    `json:"country" doc:"ISO 3166, two letters; blank: not said"`
	Printed           string    `json:"printed" readOnly:"true" doc:"the address as it stands on paper"`
	Logo              string    `json:"logo,omitempty" readOnly:"true" doc:"the checksum of the mark on papers"`
	Email             string    `json:"email"`
	Phone             string    `json:"phone"`
	TaxNumber         string    `json:"taxNumber"`
	Registration      string    `json:"registration,omitempty" doc:"in the register of companies"`
	Endpoint          string    `json:"endpoint,omitempty" doc:"where e-invoices reach it"`
	EndpointScheme    string    `json:"endpointScheme,omitempty" doc:"what kind of address that is, by the EAS code list; EM is a mail address"`
	Licence           string    `json:"licence,omitempty" doc:"its number, as it stands on papers"`
	Payee             string    `json:"payee,omitempty" doc:"to whom it is paid; blank: the company"`
	Bank              string    `json:"bank,omitempty"`
	Account           string    `json:"account,omitempty" doc:"an IBAN, or a number of the country's own"`
	BankCode          string    `json:"bankCode,omitempty" doc:"a BIC, or a routing or sort code"`
	PayNote           string    `json:"payNote,omitempty" doc:"how else to pay"`
	PaperSize         string    `json:"paperSize,omitempty" doc:"a4 or letter; blank: as in its country"`
	Accent            string    `json:"accent,omitempty" doc:"the colour of papers, as #2f4575; blank: black"`
	Currency          string    `json:"currency" readOnly:"true" doc:"for good"`
	TimeZone          string    `json:"timeZone" doc:"IANA name, such as America/Chicago; blank: the server's"`
	WeekStart         string    `json:"weekStart" doc:"a weekday in lower case"`
	TermsDays         string    `json:"termsDays" doc:"until an invoice is due"`
	UnbilledAlertDays string    `json:"unbilledAlertDays" doc:"after which work that is not billed is a loose end"`
	DaysAhead         string    `json:"daysAhead" doc:"how many days ahead hours and papers may be dated"`
	MissingDays       string    `json:"missingDays" doc:"how many days back a day without hours is asked about"`
	InvoicePrefix     string    `json:"invoicePrefix"`
	NextInvoiceNumber string    `json:"nextInvoiceNumber" doc:"upwards only, and without a gap once there is an invoice"`
	NextJobNumber     string    `json:"nextJobNumber"`
	OvertimeWeekly    string    `json:"overtimeWeekly" doc:"hours, blank for no weekly limit"`
	OvertimeDaily     string    `json:"overtimeDaily" doc:"hours, blank for no daily limit"`
	DoubleDaily       string    `json:"doubleDaily" doc:"hours, blank for no double time"`
	OvertimeFactor    string    `json:"overtimeFactor"`
	DoubleFactor      string    `json:"doubleFactor"`
	OvertimeDays      []string  `json:"overtimeDays" doc:"weekdays on which all hours are overtime"`
	DoubleDays        []string  `json:"doubleDays" doc:"weekdays on which all hours are double"`
	HolidayClass      string    `json:"holidayClass" doc:"of hours worked on a holiday: double, overtime or regular"`
	PurchaseTax       string    `json:"purchaseTax" doc:"cost: tax on what is bought is a cost; recovered: it is none"`
	DistanceUnit      string    `json:"distanceUnit" doc:"mi or km"`
	Card              string    `json:"card" doc:"name of the rate card that is asked last; made where there is none"`
	TaxCode           string    `json:"taxCode" doc:"name of a tax code that is there; blank for none"`
	Holidays          []Holiday `json:"holidays" maxItems:"1000"`
}

// Holiday is a day that the company keeps; hours worked on it are of the holiday class.
type Holiday struct {
	Date string `json:"date" format:"date"`
	Name string `json:"name"`
}

// Get is the company's settings.
func Get(ctx context.Context, b *book.Book, actor book.Actor) (Settings, error) {
	return book.Read(ctx, b, actor, book.Setup, typed)
}

func typed(s *book.Session) (Settings, error) {
	co := s.Company
	hours := func(m *money.Minutes) string {
		if m == nil {
			return ""
		}
		return m.Short()
	}
	out := Settings{
		Version: co.Version, Name: co.CompanyName, Address: co.Address, PostCode: co.PostCode, City: co.City, Region: co.Region,
		Country: co.Country, Printed: register.CompanyAddress(co), Logo: store.Text(co.Logo), DaysAhead: strconv.FormatInt(co.DaysAhead, 10),
		MissingDays: strconv.FormatInt(co.MissingDays, 10), Email: co.Email, Phone: co.Phone, TaxNumber: co.TaxNumber,
		Registration: co.Registration, Endpoint: co.Endpoint, EndpointScheme: co.EndpointScheme,
		Licence: co.Licence, Payee: co.Payee, Bank: co.Bank, Account: co.Account, BankCode: co.BankCode, PayNote: co.PayNote,
		PaperSize: co.PaperSize, Accent: co.Accent,
		Currency: co.Currency, TimeZone: co.TimeZone, WeekStart: co.WeekStart, TermsDays: strconv.FormatInt(co.TermsDays, 10),
		UnbilledAlertDays: strconv.FormatInt(co.UnbilledAlertDays, 10), InvoicePrefix: co.InvoicePrefix,
		NextInvoiceNumber: strconv.FormatInt(co.NextInvoiceNumber, 10), NextJobNumber: strconv.FormatInt(co.NextJobNumber, 10),
		OvertimeWeekly: hours(co.OvertimeWeeklyMinutes), OvertimeDaily: hours(co.OvertimeDailyMinutes), DoubleDaily: hours(co.DoubleDailyMinutes),
		OvertimeFactor: co.OvertimeFactor.String(), DoubleFactor: co.DoubleFactor.String(),
		OvertimeDays: append([]string{}, strings.Fields(co.OvertimeDays)...), DoubleDays: append([]string{}, strings.Fields(co.DoubleDays)...),
		HolidayClass: co.HolidayClass, PurchaseTax: co.PurchaseTax, DistanceUnit: co.DistanceUnit, Holidays: []Holiday{},
	}
	names, err := store.Value[struct{ Card, Tax string }](s.Tx, companyCodes)
	if err != nil {
		return out, err
	}
	out.Card, out.TaxCode = names.Card, names.Tax
	holidays, err := store.All[store.Holiday](s.Tx, "date")
	for _, h := range holidays {
		out.Holidays = append(out.Holidays, Holiday{h.Date.String(), h.Name})
	}
	return out, err
}

// Change changes the company's settings. Overtime, holidays and the first day of the week alter what hours that are not billed cost and
// are charged, tax on purchases what lines cost, and the tax code what drafts come to; what is billed stays.
func Change(ctx context.Context, b *book.Book, actor book.Actor, in Settings) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had := s.Company
		before, err := typed(s)
		if err != nil {
			return err
		}
		if err := asSeen(s, in.Version); err != nil {
			return err
		}
		now, holidays, err := in.read(s)
		if err != nil {
			return err
		}
		now.Version = had.Version + 1
		if err := s.Save(&now).Error; err != nil {
			return err
		}
		if err := saveHolidays(s, holidays); err != nil {
			return err
		}
		s.Company = now
		after, err := typed(s)
		if err != nil {
			return err
		}
		if err := recost(s, had, now, !slices.Equal(before.Holidays, after.Holidays)); err != nil {
			return err
		}
		return s.Record("changed", "company", 1, before, after)
	})
}

// asSeen refuses a change of settings that somebody else has changed since they were seen.
func asSeen(s *book.Session, version int64) error {
	if version == s.Company.Version {
		return nil
	}
	now, err := typed(s)
	return cmp.Or[error](err, &refuse.Error{
		Kind: refuse.KindConflict, Message: "somebody else has changed the company's settings since you opened them", Current: now,
	})
}

// HolidayClasses are the classes that hours worked on a holiday may be of.
var HolidayClasses = []string{worktime.Double.String(), worktime.Overtime.String(), worktime.Regular.String()}

// The most that the company's limits may be.
const (
	MostDaysAhead   = 366
	MostMissingDays = 92
)

// read reads what is typed over the company's settings.
func (in Settings) read(s *book.Session) (store.Company, []store.Holiday, error) {
	c := s.Checks()
	co := s.Company
	co.CompanyName, co.Address = c.Needed("name", in.Name, "the company's name"), c.Text("address", in.Address)
	co.PostCode, co.City, co.Region = c.Text("postCode", in.PostCode), c.Text("city", in.City), c.Text("region", in.Region)
	co.Country = ""
	if in.Country != "" {
		co.Country = form.Parsed(c, "country", in.Country, postal.Country)
	}
	co.DaysAhead = form.Parsed(c, "daysAhead", in.DaysAhead, form.DaysUpTo(0, MostDaysAhead))
	co.MissingDays = form.Parsed(c, "missingDays", in.MissingDays, form.DaysUpTo(1, MostMissingDays))
	co.Email, co.Phone, co.TaxNumber = form.Address(c, "email", in.Email), c.Text("phone", in.Phone), c.Text("taxNumber", in.TaxNumber)
	co.Remittance = in.remittance(c)
	co.Registry = register.ReadRegistry(c, in.Registration, in.Endpoint, in.EndpointScheme)
	co.TimeZone, co.WeekStart = c.Zone("timeZone", in.TimeZone), c.OneOf("weekStart", in.WeekStart, form.Weekdays...)
	co.TermsDays = form.Parsed(c, "termsDays", in.TermsDays, form.WholeDays)
	co.UnbilledAlertDays = form.Parsed(c, "unbilledAlertDays", in.UnbilledAlertDays, form.WholeDays)
	co.InvoicePrefix = c.Text("invoicePrefix", in.InvoicePrefix)
	co.NextInvoiceNumber = form.Parsed(c, "nextInvoiceNumber", in.NextInvoiceNumber, form.SequenceNumber)
	co.NextJobNumber = form.Parsed(c, "nextJobNumber", in.NextJobNumber, form.SequenceNumber)
	co.OvertimeWeeklyMinutes = form.Optional(c, "overtimeWeekly", in.OvertimeWeekly, form.LimitHours)
	co.OvertimeDailyMinutes = form.Optional(c, "overtimeDaily", in.OvertimeDaily, form.LimitHours)
	co.DoubleDailyMinutes = form.Optional(c, "doubleDaily", in.DoubleDaily, form.LimitHours)
	co.OvertimeFactor = form.PayFactor(c, "overtimeFactor", in.OvertimeFactor)
	co.DoubleFactor = form.PayFactor(c, "doubleFactor", in.DoubleFactor)
	co.OvertimeDays, co.DoubleDays = weekdays(c, "overtimeDays", in.OvertimeDays), weekdays(c, "doubleDays", in.DoubleDays)
	co.HolidayClass = c.OneOf("holidayClass", in.HolidayClass, HolidayClasses...)
	co.PurchaseTax = c.OneOf("purchaseTax", in.PurchaseTax, "cost", "recovered")
	co.DistanceUnit = c.OneOf("distanceUnit", in.DistanceUnit, "mi", "km")
	if co.TimeZone == "" && s.Company.TimeZone != "" && c.Err() == nil {
		c.Add("timeZone", "a time zone is needed, such as America/Chicago")
	}
	holidays := in.readHolidays(c)
	taken, err := store.Value[int64](s.Tx, "SELECT ifnull(max(number), 0) FROM invoices")
	if err != nil {
		return co, nil, err
	}
	switch {
	case taken > 0 && co.NextInvoiceNumber != taken+1:
		c.Add("nextInvoiceNumber", "invoice numbers have no gaps and none is used twice: after %d comes %d", taken, taken+1)
	case taken > 0 && co.InvoicePrefix != s.Company.InvoicePrefix:
		c.Add("invoicePrefix", "invoices have been issued with the prefix %q, so it stays", s.Company.InvoicePrefix)
	}
	card := c.Needed("card", in.Card, "a card")
	if err := c.Err(); err != nil {
		return co, nil, err
	}
	if co.RateCardID, err = register.Reference(s, "rate_cards", card); err != nil {
		return co, nil, err
	}
	co.TaxCodeID, err = register.Existing(s, "tax_codes", "taxCode", in.TaxCode)
	return co, holidays, err
}

// PaperSizes are what papers are printed on; blank is what is usual in the country.
var PaperSizes = []string{"", "a4", "letter"}

// remittance reads how the company is paid and how its papers look.
func (in Settings) remittance(c *form.Checks) store.Remittance {
	out := store.Remittance{
		Licence: c.Text("licence", in.Licence), Payee: c.Text("payee", in.Payee), Bank: c.Text("bank", in.Bank),
		BankCode: c.Text("bankCode", in.BankCode), PayNote: c.Text("payNote", in.PayNote),
	}
	out.Account = form.Parsed(c, "account", in.Account, iban.Account)
	out.Accent = form.Parsed(c, "accent", in.Accent, form.Colour)
	out.PaperSize = c.OneOf("paperSize", in.PaperSize, PaperSizes...)
	return out
}

func weekdays(c *form.Checks, path string, days []string) string {
	for _, d := range days {
		c.OneOf(path, d, form.Weekdays...)
	}
	return strings.Join(days, " ")
}

func (in Settings) readHolidays(c *form.Checks) []store.Holiday {
	rows := make([]store.Holiday, len(in.Holidays))
	known := map[calendar.Date]bool{}
	for i, h := range in.Holidays {
		path := fmt.Sprintf("holidays[%d].", i)
		rows[i] = store.Holiday{Date: c.Date(path+"date", h.Date), Name: c.Text(path+"name", h.Name)}
		if known[rows[i].Date] {
			c.Add(path+"date", "this day is a holiday already")
		}
		known[rows[i].Date] = true
	}
	return rows
}

func saveHolidays(s *book.Session, holidays []store.Holiday) error {
	if err := s.Run("DELETE FROM holidays"); err != nil {
		return err
	}
	return store.InsertMany(s.Tx, holidays)
}

// recost costs what rests on the settings that have changed again.
func recost(s *book.Session, had, now store.Company, holidays bool) error {
	book.Forget[*ratebook.Book](s)
	step := costing.Begin(s)
	card := !store.Same(had.RateCardID, now.RateCardID)
	rules := holidays || had.WeekStart != now.WeekStart || !store.Same(had.OvertimeWeeklyMinutes, now.OvertimeWeeklyMinutes) ||
		!store.Same(had.OvertimeDailyMinutes, now.OvertimeDailyMinutes) || !store.Same(had.DoubleDailyMinutes, now.DoubleDailyMinutes) ||
		had.HolidayClass != now.HolidayClass || had.OvertimeDays != now.OvertimeDays || had.DoubleDays != now.DoubleDays ||
		had.OvertimeFactor != now.OvertimeFactor ||
		had.DoubleFactor != now.DoubleFactor
	var steps []func() error
	if rules || card {
		steps = append(steps, func() error { return step.Hours("1 = 1") })
	}
	if card || had.PurchaseTax != now.PurchaseTax {
		steps = append(steps, func() error { return step.Lines("1 = 1") })
	}
	if !store.Same(had.TaxCodeID, now.TaxCodeID) {
		steps = append(steps, func() error { return step.DraftsOf("1 = 1") })
	}
	return book.InOrder(append(steps, step.Run)...)
}
