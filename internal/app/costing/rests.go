package costing

import (
	"jarvo/internal/app/book"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
	"jarvo/internal/store"
)

// Billed work never changes, so a dated row that it rests on can't either: it is followed by one with a later date. Here is what says
// whether billed work rests on a row.

// RestsOnWage says whether billed hours were costed by a wage.
func RestsOnWage(s *book.Session, w store.Wage) (bool, error) {
	return anyBilled(s, billedByWage, map[string]any{"worker": w.WorkerID, "since": w.EffectiveFrom})
}

// RestsOnBurden says whether billed hours were costed with a burden component.
func RestsOnBurden(s *book.Session, b store.Burden) (bool, error) {
	return anyBilled(s, billedWithBurden, map[string]any{"class": b.BurdenClassID, "component": b.Component, "since": b.EffectiveFrom})
}

func anyBilled(s *book.Session, query string, args map[string]any) (bool, error) {
	count, err := store.Value[int64](s.Tx, query, args)
	return count > 0, err
}

// RestsOnRate says whether billed hours were priced by a row of a card.
func RestsOnRate(s *book.Session, had store.LabourRate) (bool, error) {
	type billed struct {
		WorkerID            int64
		TradeID, CostCodeID *int64
		Date                calendar.Date
		ChargedBy
	}
	rows, err := store.Query[billed](s.Tx, billedHours, map[string]any{"since": had.EffectiveFrom, "worker": had.WorkerID})
	if err != nil {
		return false, err
	}
	book.Forget[*RateBook](s) // rows may have changed since it was loaded
	cards, err := Rates(s)
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
		ChargedBy
	}
	rows, err := store.Query[billed](s.Tx, billedLines, map[string]any{"since": had.EffectiveFrom, "category": had.Category})
	if err != nil {
		return false, err
	}
	book.Forget[*RateBook](s)
	cards, err := Rates(s)
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
