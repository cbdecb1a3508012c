// Package register looks things up by code and by name: jobs, crews, places to book to, and what fields choose from.
package register

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"unicode"

	"jarvo/internal/app/book"
	"jarvo/internal/app/refuse"
	"jarvo/internal/core/money"
	"jarvo/internal/core/postal"
	"jarvo/internal/core/units"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// Choices are what the fields of every sheet choose from.
type Choices struct {
	Company   CompanyView   `json:"company"`
	Jobs      []JobChoice   `json:"jobs"`
	Customers []Named       `json:"customers"`
	Workers   []Named       `json:"workers"`
	CostCodes []Named       `json:"costCodes"`
	Trades    []Named       `json:"trades"`
	Classes   []Named       `json:"burdenClasses"`
	Cards     []Named       `json:"cards"`
	TaxCodes  []Named       `json:"taxCodes"`
	Crews     []string      `json:"crews"`
	Phases    []PhaseChoice `json:"phases"`
	Recent    Recent        `json:"recent"`
	Units     []UnitChoice  `json:"units" doc:"units of measure to choose from; others can be typed"`
}

// UnitChoice is a unit of measure.
type UnitChoice struct {
	Name string `json:"name" doc:"as it is written on a paper"`
	Code string `json:"code" doc:"of the UN's recommendation 20"`
	What string `json:"what" doc:"spelled out"`
}

// Recent are the places of the hours captured last, the last one first.
type Recent struct {
	Jobs      []int64 `json:"jobs"`
	Phases    []int64 `json:"phases"`
	CostCodes []int64 `json:"costCodes"`
}

// CompanyView is what every sheet needs to know of the company.
type CompanyView struct {
	Name          string `json:"name"`
	Currency      string `json:"currency"`
	Digits        int    `json:"digits" doc:"decimals of the currency's amounts"`
	WeekStart     string `json:"weekStart"`
	Today         string `json:"today" format:"date"`
	DailyLimit    string `json:"dailyLimit,omitempty" format:"decimal" doc:"hours a day after which overtime comes"`
	NextJobNumber string `json:"nextJobNumber"`
	CardID        int64  `json:"cardId,omitempty"`
	PurchaseTax   string `json:"purchaseTax"`
	TimeZone      string `json:"timeZone,omitempty" doc:"IANA name; absent: the server's, until one is chosen"`
	Version       int64  `json:"version" doc:"of the company's settings"`
}

// JobChoice is a job in a list to choose from.
type JobChoice struct {
	ID       int64  `json:"id"`
	Number   string `json:"number"`
	Name     string `json:"name"`
	Customer string `json:"customer"`
	Status   string `json:"status"`
	Basis    string `json:"basis"`
}

// PhaseChoice is a phase in a list to choose from.
type PhaseChoice struct {
	ID    int64  `json:"id"`
	JobID int64  `json:"jobId"`
	Code  string `json:"code"`
	Name  string `json:"name"`
}

// ChoicesFor lists what there is to choose from; it holds no money.
func ChoicesFor(ctx context.Context, b *book.Book, actor book.Actor) (Choices, error) {
	return book.Read(ctx, b, actor, book.Capture, func(s *book.Session) (out Choices, err error) {
		out.Company = CompanyView{
			Name: s.Company.CompanyName, Currency: s.Company.Currency, Digits: s.Currency.Digits, WeekStart: s.Company.WeekStart,
			Today:  s.Today().String(),
			CardID: store.ID(s.Company.RateCardID), PurchaseTax: s.Company.PurchaseTax, TimeZone: s.Company.TimeZone, Version: s.Company.Version,
		}
		if s.Company.OvertimeDailyMinutes != nil {
			out.Company.DailyLimit = (*s.Company.OvertimeDailyMinutes).Short()
		}
		if out.Company.NextJobNumber, err = NextJobNumber(s); err != nil {
			return out, err
		}
		if out.Jobs, err = store.Query[JobChoice](s.Tx, jobChoices); err != nil {
			return out, err
		}
		if out.Phases, err = store.Query[PhaseChoice](s.Tx, "SELECT id, job_id, code, name FROM phases ORDER BY job_id, code"); err != nil {
			return out, err
		}
		if out.Crews, err = Crews(s); err != nil {
			return out, err
		}
		if out.Workers, err = Members(s, s.Actor.Crew); err != nil {
			return out, err
		}
		for table, into := range map[string]*[]Named{
			"customers": &out.Customers, "cost_codes": &out.CostCodes, "trades": &out.Trades,
		} {
			if *into, err = store.Query[Named](s.Tx, "SELECT id, code, name, active = 0 AS retired FROM "+table+" ORDER BY code"); err != nil {
				return out, err
			}
		}
		for table, into := range map[string]*[]Named{"burden_classes": &out.Classes, "rate_cards": &out.Cards, "tax_codes": &out.TaxCodes} {
			if *into, err = store.Query[Named](s.Tx, "SELECT id, code, code AS name FROM "+table+" ORDER BY code"); err != nil {
				return out, err
			}
		}
		for _, u := range units.All {
			out.Units = append(out.Units, UnitChoice{u.Name, u.Code, u.What})
		}
		own, err := store.All[store.Unit](s.Tx, "name")
		if err != nil {
			return out, err
		}
		for _, u := range own {
			out.Units = append(out.Units, UnitChoice{u.Name, u.Code, "of our own"})
		}
		out.Recent, err = recent(s)
		return out, err
	})
}

// lastPlaces is how far back the places of hours are looked at to offer the most recent first.
const lastPlaces = 300

func recent(s *book.Session) (Recent, error) {
	type place struct {
		JobID               int64
		PhaseID, CostCodeID *int64
	}
	out := Recent{Jobs: []int64{}, Phases: []int64{}, CostCodes: []int64{}}
	places, err := store.Query[place](s.Tx, "SELECT job_id, phase_id, cost_code_id FROM time_entries ORDER BY id DESC LIMIT ?", lastPlaces)
	add := func(list *[]int64, recordID int64) {
		if recordID != 0 && !slices.Contains(*list, recordID) {
			*list = append(*list, recordID)
		}
	}
	for _, p := range places {
		add(&out.Jobs, p.JobID)
		add(&out.Phases, store.ID(p.PhaseID))
		add(&out.CostCodes, store.ID(p.CostCodeID))
	}
	return out, err
}

// NextJobNumber is the number that is proposed for a new job.
func NextJobNumber(s *book.Session) (string, error) {
	for n := s.Company.NextJobNumber; ; n++ {
		number := fmt.Sprint(n)
		taken, err := store.Value[int64](s.Tx, "SELECT count(*) FROM jobs WHERE number = ?", number)
		if err != nil || taken == 0 {
			return number, err
		}
	}
}

// Code makes a code of a name that is not taken: "Cato Brandl" becomes "cato-brandl".
func Code(s *book.Session, table, name string) (string, error) {
	words := strings.FieldsFunc(strings.ToLower(name), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
	base := strings.Join(words, "-")
	if base == "" {
		base = table
	}
	code := base
	for n := 2; ; n++ {
		taken, err := store.Value[int64](s.Tx, "SELECT count(*) FROM "+table+" WHERE code = ?", code)
		if err != nil || taken == 0 {
			return code, err
		}
		code = fmt.Sprintf("%s-%d", base, n)
	}
}

// Reference finds the row with a name or code, and makes it where there is none; a blank name is no row.
func Reference(s *book.Session, table, name string) (*int64, error) {
	name = strings.TrimSpace(name)
	if name == "" {
		return nil, nil
	}
	hasName := table == "trades" || table == "cost_codes"
	query := "SELECT id FROM " + table + " WHERE code = ?"
	args := []any{name}
	if hasName {
		query, args = query+" OR name = ? COLLATE NOCASE", append(args, name)
	}
	ids, err := store.Query[int64](s.Tx, query+" ORDER BY id", args...)
	if err != nil {
		return nil, err
	}
	if len(ids) > 0 {
		return &ids[0], nil
	}
	code := name
	if hasName {
		if code, err = Code(s, table, name); err != nil {
			return nil, err
		}
		err = s.Exec("INSERT INTO "+table+" (code, name) VALUES (?, ?)", code, name).Error
	} else {
		err = s.Exec("INSERT INTO "+table+" (code) VALUES (?)", code).Error
	}
	if err != nil {
		return nil, err
	}
	ids, err = store.Query[int64](s.Tx, "SELECT last_insert_rowid()")
	if err != nil {
		return nil, err
	}
	return &ids[0], s.Record("added", table, ids[0], nil, map[string]string{"name": name})
}

// Existing finds the row with a code; a blank code is none.
func Existing(s *book.Session, table, path, code string) (*int64, error) {
	if strings.TrimSpace(code) == "" {
		return nil, nil
	}
	ids, err := store.Query[int64](s.Tx, "SELECT id FROM "+table+" WHERE code = ?", strings.TrimSpace(code))
	if err != nil {
		return nil, err
	}
	if len(ids) == 0 {
		return nil, refuse.Invalid(path, "there is no %q", code)
	}
	return &ids[0], nil
}

// UnitCodes answers the code of recommendation 20 of a unit as it is written, blank where it has none.
func UnitCodes(s *book.Session) (func(text string) string, error) {
	own, err := store.All[store.Unit](s.Tx, "id")
	return func(text string) string {
		if known, there := units.Find(text); there {
			return known.Code
		}
		for _, u := range own {
			if strings.EqualFold(u.Name, text) {
				return u.Code
			}
		}
		return ""
	}, err
}

// CustomerAddress is a customer's address as it stands on paper; abroad with the name of the country.
func CustomerAddress(c store.Customer, home string) string {
	text := postal.Address{Street: c.Address, PostCode: c.PostCode, City: c.City, Region: c.Region, Country: c.Country}.String()
	if c.Country != "" && home != "" && c.Country != home {
		text += "\n" + postal.Name(c.Country)
	}
	return text
}

// CompanyAddress is a company's address as it stands on paper.
func CompanyAddress(co store.Company) string {
	return postal.Address{Street: co.Address, PostCode: co.PostCode, City: co.City, Region: co.Region, Country: co.Country}.String()
}

// DefaultCompany is a company before anything has been set up.
func DefaultCompany() store.Company {
	weekly := money.Minutes(40 * 60)
	return store.Company{
		ID: 1, Currency: "USD", WeekStart: "monday", OvertimeWeeklyMinutes: &weekly, OvertimeFactor: 15_000, DoubleFactor: 20_000,
		HolidayClass: worktime.Double.String(), PurchaseTax: "cost", DistanceUnit: "mi",
		NextInvoiceNumber: 1001, NextJobNumber: 101, TermsDays: 30, UnbilledAlertDays: 14,
		DaysAhead: 31, MissingDays: 14, Version: 1,
	}
}

// CrewName names a crew for people, also the workers who are in none.
func CrewName(crew string) string {
	if crew == "" {
		return "Workers without a crew"
	}
	return crew
}

// Named is a record that a line refers to.
type Named struct {
	ID   int64  `json:"id"`
	Code string `json:"code"`
	Name string `json:"name"`
	Sub  string `json:"sub,omitempty"`
	// Retired ones are shown where they are used, and are not offered.
	Retired bool `json:"retired,omitempty" doc:"shown where it is used, and not offered any more"`
}

// Crews are the crews there are.
func Crews(s *book.Session) ([]string, error) {
	if s.Actor.Crew != "" {
		return []string{s.Actor.Crew}, nil
	}
	return store.Query[string](s.Tx, "SELECT DISTINCT crew FROM workers WHERE active = 1 AND crew <> '' ORDER BY crew")
}

// Members are the active workers of a crew, or of all.
func Members(s *book.Session, crew string) ([]Named, error) {
	return store.Query[Named](s.Tx, membersOf, crew, crew)
}

// Link says where something is settled: what it is and which one. What its address is the front end knows.
type Link struct {
	Kind string `json:"kind" doc:"what it is, and so where it is seen"`
	ID   string `json:"id,omitempty" doc:"of a job its number, of a week its first day, of a user the name, else its id"`
	Crew string `json:"crew,omitempty" doc:"whose week it is"`
}
