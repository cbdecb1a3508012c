package costing

import (
	"jarvo/internal/app/book"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
)

// Effect is what the costing steps of a use case have altered: cost and charge of what is not billed, before and after.
type Effect struct {
	Entries, Lines            int
	First, Last               calendar.Date // of what is altered
	CostBefore, CostAfter     money.Amount
	ChargeBefore, ChargeAfter money.Amount
}

// EffectOf is what has been altered so far.
func EffectOf(s *book.Session) *Effect {
	effect, _ := book.Keep(s, func() (*Effect, error) { return &Effect{}, nil })
	return effect
}

// alters adds what an entry or a line came to and comes to; what had or has none counts as 0.
func (e *Effect) alters(on calendar.Date, costBefore, costAfter, chargeBefore, chargeAfter *money.Amount) {
	if e.Entries+e.Lines == 0 || on < e.First {
		e.First = on
	}
	e.Last = max(e.Last, on)
	for into, of := range map[*money.Amount]*money.Amount{
		&e.CostBefore: costBefore, &e.CostAfter: costAfter, &e.ChargeBefore: chargeBefore, &e.ChargeAfter: chargeAfter,
	} {
		if of != nil {
			*into += *of
		}
	}
}

// Altered is an effect as people see it.
type Altered struct {
	Entries   int    `json:"entries" doc:"of hours, whose cost or charge changes"`
	Lines     int    `json:"lines" doc:"of papers, whose charge changes"`
	From      string `json:"from,omitempty" format:"date"`
	Through   string `json:"through,omitempty" format:"date"`
	CostWas   string `json:"costWas,omitempty" format:"decimal"`
	Cost      string `json:"cost,omitempty" format:"decimal"`
	ChargeWas string `json:"chargeWas,omitempty" format:"decimal"`
	Charge    string `json:"charge,omitempty" format:"decimal"`
}

// AlteredIn is what a use case has altered so far.
func AlteredIn(s *book.Session) Altered {
	e := EffectOf(s)
	if e.Entries+e.Lines == 0 {
		return Altered{}
	}
	return Altered{
		Entries: e.Entries, Lines: e.Lines, From: e.First.String(), Through: e.Last.String(), CostWas: s.Money(e.CostBefore),
		Cost: s.Money(e.CostAfter), ChargeWas: s.Money(e.ChargeBefore), Charge: s.Money(e.ChargeAfter),
	}
}
