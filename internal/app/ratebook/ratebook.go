// Package ratebook is all that prices work: the rate cards with their rows, burdens and the rules of time, and what charges the work of a
// job.
package ratebook

import (
	"strings"
	"time"

	"jarvo/internal/app/book"
	"jarvo/internal/core/burden"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/labour"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// Book is all that prices work: the rate cards with their rows, loaded once a use case.
type Book struct {
	byID       map[int64]pricing.Card
	components map[int64][]burden.Component // by burden class
	Rules      worktime.Rules
	company    *int64 // the company's card
}

// Of is the rate book, loaded once a session.
func Of(s *book.Session) (*Book, error) {
	return book.Keep(s, func() (*Book, error) { return load(s) })
}

func load(s *book.Session) (*Book, error) {
	book := &Book{company: s.Company.RateCardID, byID: map[int64]pricing.Card{}, components: map[int64][]burden.Component{}}
	cards, err := store.All[store.RateCard](s.Tx, "id")
	if err != nil {
		return nil, err
	}
	for _, c := range cards {
		book.byID[c.ID] = pricing.Card{ID: c.ID, Code: c.Code}
	}
	if err := loadRows(s, book); err != nil {
		return nil, err
	}
	burdens, err := store.All[store.Burden](s.Tx, "id")
	if err != nil {
		return nil, err
	}
	for _, b := range burdens {
		book.components[b.BurdenClassID] = append(book.components[b.BurdenClassID], ComponentOf(b))
	}
	holidays, err := store.All[store.Holiday](s.Tx, "date")
	if err != nil {
		return nil, err
	}
	book.Rules = rulesOf(s.Company, holidays)
	return book, nil
}

func loadRows(s *book.Session, book *Book) error {
	rows, err := store.All[store.LabourRate](s.Tx, "id")
	if err != nil {
		return err
	}
	for _, r := range rows {
		card := book.byID[r.CardID]
		card.Labour = append(card.Labour, LabourRowOf(r))
		book.byID[r.CardID] = card
	}
	markups, err := store.All[store.Markup](s.Tx, "id")
	if err != nil {
		return err
	}
	for _, m := range markups {
		card := book.byID[m.CardID]
		card.Markups = append(card.Markups, pricing.MarkupRow{
			ID: m.ID, From: m.EffectiveFrom, Category: m.Category, OverCost: m.OverCost, Percent: m.Percent, On: pricing.Base(m.PutOn),
		})
		book.byID[m.CardID] = card
	}
	return nil
}

// LabourRowOf is a stored labour rate as the rules of pricing take it.
func LabourRowOf(r store.LabourRate) pricing.LabourRow {
	row := pricing.LabourRow{
		ID: r.ID, From: r.EffectiveFrom, Worker: store.ID(r.WorkerID), Trade: store.ID(r.TradeID), CostCode: store.ID(r.CostCodeID),
		Method: pricing.Method(r.Method), Overtime: r.OvertimeFactor, Double: r.DoubleFactor,
	}
	if row.Method == pricing.OnMarkup {
		row.Percent = money.Percent(r.Value)
	} else {
		row.Rate = money.Rate(r.Value)
	}
	return row
}

// ComponentOf is a stored burden as the rules of burden take it.
func ComponentOf(b store.Burden) burden.Component {
	c := burden.Component{
		ID: b.ID, Name: b.Component, CostCode: store.ID(b.CostCodeID), From: b.EffectiveFrom, Basis: burden.Basis(b.Basis), Cap: b.AnnualWageCap,
	}
	if c.Basis == burden.OnHour {
		c.Rate = money.Rate(b.Value)
	} else {
		c.Percent = money.Percent(b.Value)
	}
	return c
}

func rulesOf(company store.Company, holidays []store.Holiday) worktime.Rules {
	rules := worktime.Rules{
		WeekStart: book.WeekStart(company), Weekly: company.OvertimeWeeklyMinutes, Daily: company.OvertimeDailyMinutes,
		DoubleDaily: company.DoubleDailyMinutes, HolidayClass: holidayClass(company.HolidayClass),
		OvertimeDays: weekdayList(company.OvertimeDays), DoubleDays: weekdayList(company.DoubleDays), Holidays: map[calendar.Date]bool{},
	}
	for _, h := range holidays {
		rules.Holidays[h.Date] = true
	}
	return rules
}

func holidayClass(name string) worktime.Class {
	for _, c := range worktime.Classes {
		if c.String() == name {
			return c
		}
	}
	return worktime.Double
}

func weekdayList(s string) []time.Weekday {
	var days []time.Weekday
	for _, name := range strings.Fields(s) {
		if d, err := calendar.ParseWeekday(name); err == nil {
			days = append(days, d)
		}
	}
	return days
}

// Chain is the cards that are asked, in order: the job's, its customer's, the company's.
func (b *Book) Chain(by ChargedBy) []pricing.Card {
	var cards []pricing.Card
	for _, cardID := range []*int64{by.JobCard, by.CustomerCard, b.company} {
		if cardID != nil {
			cards = append(cards, b.byID[*cardID])
		}
	}
	return cards
}

// Factors are the company's overtime and double factors.
func Factors(s *book.Session) pricing.Factors {
	return pricing.Factors{Overtime: s.Company.OvertimeFactor, Double: s.Company.DoubleFactor}
}

// Terms are what a worker's hours are costed by.
func Terms(s *book.Session, w store.Worker) (labour.Terms, error) {
	book, err := Of(s)
	if err != nil {
		return labour.Terms{}, err
	}
	wages, err := store.All[store.Wage](s.Tx, "effective_from", "worker_id = ?", w.ID)
	if err != nil {
		return labour.Terms{}, err
	}
	terms := labour.Terms{
		Currency: s.Currency, Rules: book.Rules, Factors: Factors(s), Exempt: w.Exempt, Components: book.components[store.ID(w.BurdenClassID)],
	}
	for _, wage := range wages {
		terms.Wages = append(terms.Wages, labour.Wage{ID: wage.ID, From: wage.EffectiveFrom, Rate: wage.Rate, ByWeek: wage.Per == store.PerWeek})
	}
	return terms, nil
}

// charges reads what work is charged by, of each job and phase.
const charges = `SELECT b.job_id, b.phase_id, j.rate_card_id AS job_card, c.rate_card_id AS customer_card, b.basis FROM basis_of_work b
JOIN jobs j ON j.id = b.job_id LEFT JOIN customers c ON c.id = j.customer_id`

// ChargedBy is what the work of a job, or of a phase of it, is charged by.
type ChargedBy struct {
	JobCard      *int64
	CustomerCard *int64
	Basis        string
}

type placeCharges struct {
	JobID, PhaseID int64
	ChargedBy
}

// Place is a job, or a phase of it; phase 0 is of none.
type Place struct{ Job, Phase int64 }

// Charging is what the work of each place is charged by.
func Charging(s *book.Session) (map[Place]ChargedBy, error) {
	rows, err := store.Query[placeCharges](s.Tx, charges)
	all := make(map[Place]ChargedBy, len(rows))
	for _, r := range rows {
		all[Place{r.JobID, r.PhaseID}] = r.ChargedBy
	}
	return all, err
}

// ChargingOf is what work for a job, or for a phase of it, is charged by.
func ChargingOf(s *book.Session, place Place) (ChargedBy, error) {
	rows, err := store.Query[placeCharges](s.Tx, charges+" WHERE b.job_id = ? AND b.phase_id = ?", place.Job, place.Phase)
	if err != nil || len(rows) == 0 {
		return ChargedBy{}, err
	}
	return rows[0].ChargedBy, nil
}
