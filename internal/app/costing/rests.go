package costing

import (
	"slices"

	"jarvo/internal/app/book"
	"jarvo/internal/app/ratebook"
	"jarvo/internal/core/burden"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
	"jarvo/internal/store"
)

// Billed work never changes, so a dated row that it rests on can't either: it is followed by one with a later date. Here is what says
// whether billed work rests on a row.

// RestsOnWage says whether billed hours were costed by a wage.
func RestsOnWage(s *book.Session, w store.Wage) (bool, error) {
	worker, _, err := store.One[store.Worker](s.Tx, w.WorkerID)
	if err != nil {
		return false, err
	}
	terms, err := ratebook.Terms(s, worker)
	if err != nil {
		return false, err
	}
	days, err := store.Query[calendar.Date](s.Tx, billedDays, map[string]any{"worker": w.WorkerID, "since": w.EffectiveFrom})
	return slices.ContainsFunc(days, func(day calendar.Date) bool {
		_, wage, paid := terms.Pay(day)
		return paid && wage.ID == w.ID
	}), err
}

// RestsOnBurden says whether billed hours were costed with a burden component.
func RestsOnBurden(s *book.Session, b store.Burden) (bool, error) {
	type billed struct {
		Date       calendar.Date
		CostCodeID *int64
	}
	rows, err := store.Query[billed](s.Tx, billedWithClass, map[string]any{"class": b.BurdenClassID, "since": b.EffectiveFrom})
	if err != nil {
		return false, err
	}
	versions, err := store.All[store.Burden](s.Tx, "id", "burden_class_id = ? AND component = ?", b.BurdenClassID, b.Component)
	if err != nil {
		return false, err
	}
	components := make([]burden.Component, len(versions))
	for i, v := range versions {
		components[i] = ratebook.ComponentOf(v)
	}
	return slices.ContainsFunc(rows, func(r billed) bool {
		for _, c := range burden.Holding(components, store.ID(r.CostCodeID), r.Date) {
			if c.ID == b.ID {
				return true
			}
		}
		return false
	}), nil
}

// RestsOnRate says whether billed hours were priced by a row of a card.
func RestsOnRate(s *book.Session, had store.LabourRate) (bool, error) {
	type billed struct {
		WorkerID            int64
		TradeID, CostCodeID *int64
		Date                calendar.Date
		ratebook.ChargedBy
	}
	rows, err := store.Query[billed](s.Tx, billedHours, map[string]any{"since": had.EffectiveFrom, "worker": had.WorkerID})
	if err != nil {
		return false, err
	}
	book.Forget[*ratebook.Book](s) // rows may have changed since it was loaded
	cards, err := ratebook.Of(s)
	if err != nil {
		return false, err
	}
	for _, b := range rows {
		work := pricing.Work{Worker: b.WorkerID, Trade: store.ID(b.TradeID), CostCode: store.ID(b.CostCodeID)}
		if row, _, found := pricing.FindLabour(cards.Chain(b.ChargedBy), work, b.Date); found && row.ID == had.ID {
			return true, nil
		}
	}
	return false, nil
}

// RestsOnMarkup says whether billed cost lines were charged by a markup.
func RestsOnMarkup(s *book.Session, had store.Markup) (bool, error) {
	type billed struct {
		Date     calendar.Date
		UnitCost money.Rate
		ratebook.ChargedBy
	}
	rows, err := store.Query[billed](s.Tx, billedLines, map[string]any{"since": had.EffectiveFrom, "category": had.Category})
	if err != nil {
		return false, err
	}
	book.Forget[*ratebook.Book](s)
	cards, err := ratebook.Of(s)
	if err != nil {
		return false, err
	}
	for _, b := range rows {
		if row, _, found := pricing.FindMarkup(cards.Chain(b.ChargedBy), had.Category, b.Date, b.UnitCost); found && row.ID == had.ID {
			return true, nil
		}
	}
	return false, nil
}
