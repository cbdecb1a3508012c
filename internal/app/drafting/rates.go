package drafting

import (
	"jarvo/internal/app/book"
	"jarvo/internal/app/ratebook"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/labour"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// chargedHours are hours of one class on a draft, with what they are priced by.
type chargedHours struct {
	EntryID             int64
	Date                calendar.Date
	WorkerID            int64
	TradeID, CostCodeID *int64
	Rate                *money.Rate // typed on the entry
	JobCard             *int64
	CustomerCard        *int64
	Class               worktime.Class
	Minutes             money.Minutes
	Charge              *money.Amount
}

// price is what an hour of them is charged, and whether their charge is just that x their time.
func (h chargedHours) price(s *book.Session, rates *ratebook.Book) (money.Rate, bool, error) {
	entry := labour.Entry{
		Entry: worktime.Entry{Date: h.Date}, OwnRate: h.Rate,
		Work:  pricing.Work{Worker: h.WorkerID, Trade: store.ID(h.TradeID), CostCode: store.ID(h.CostCodeID)},
		Cards: rates.Chain(ratebook.ChargedBy{JobCard: h.JobCard, CustomerCard: h.CustomerCard}),
	}
	by := entry.Priced()
	if !by.Price || by.Row.Method != pricing.Hourly || h.Charge == nil {
		return 0, false, nil
	}
	factors := ratebook.Factors(s)
	charge, err := by.Row.Charge(s.Currency, factors, worktime.Segment{Class: h.Class, Minutes: h.Minutes}, nil)
	if err != nil || *charge != *h.Charge {
		return 0, false, err
	}
	price, err := by.Row.Price(h.Class, factors)
	return price, true, err
}

// setHours gives the labour of a draft its hours by class and price, where its amount is just that: not of a part, or of what was written
// up or down, or is charged by its cost (calculation.md section 8).
func setHours(s *book.Session, draft *store.Invoice, sources []DraftSource, lines []billing.Source) error {
	if !draft.ShowRates || !billing.Grouping(draft.Grouping).ShowsRates() {
		return nil
	}
	rates, err := ratebook.Of(s)
	if err != nil {
		return err
	}
	segments, err := store.Query[chargedHours](s.Tx, hoursOfDraft, map[string]any{"invoice": draft.ID})
	if err != nil {
		return err
	}
	hours, apart := map[int64][]billing.Hours{}, map[int64]bool{}
	for _, h := range segments {
		price, is, err := h.price(s, rates)
		if err != nil {
			return err
		}
		hours[h.EntryID] = append(hours[h.EntryID], billing.Hours{Class: h.Class, Price: price, Minutes: h.Minutes})
		apart[h.EntryID] = apart[h.EntryID] || !is
	}
	for i, src := range sources {
		whole := src.Way == billing.TheRest && src.Others == 0 && src.Up == 0 && src.Down == 0 && src.Amount == src.Charge
		if src.EntryID != 0 && whole && !apart[src.EntryID] {
			lines[i].Hours = hours[src.EntryID]
		}
	}
	return nil
}
