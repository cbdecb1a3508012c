package costing

import (
	"cmp"
	"maps"
	"slices"

	"jarvo/internal/app/book"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// Effect is what the costing steps of a use case have altered: cost and charge of what is not billed, before and after.
type Effect struct {
	Entries, Lines            int
	First, Last               calendar.Date // of what is altered
	CostBefore, CostAfter     money.Amount
	ChargeBefore, ChargeAfter money.Amount
	workers                   map[int64]*part // by id
}

// part is what of an effect is one worker's.
type part struct {
	worker       string
	minutes      money.Minutes
	cost, charge money.Amount // by how much they change
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

// altersHours is alters for an entry of a worker's hours.
func (e *Effect) altersHours(worker store.Worker, had CostedEntry, cost, charge *money.Amount) {
	e.alters(had.Date, had.Cost, cost, had.Charge, charge)
	e.Entries++
	if e.workers == nil {
		e.workers = map[int64]*part{}
	}
	if e.workers[worker.ID] == nil {
		e.workers[worker.ID] = &part{worker: worker.Name}
	}
	p := e.workers[worker.ID]
	p.minutes += had.Minutes
	p.cost += orNone(cost) - orNone(had.Cost)
	p.charge += orNone(charge) - orNone(had.Charge)
}

func orNone(a *money.Amount) money.Amount {
	if a == nil {
		return 0
	}
	return *a
}

// mostWorkers is how many workers an effect is told of, those of most money.
const mostWorkers = 10

// byWorker is an effect by worker, most money first, and at the end all of them together.
func (e *Effect) byWorker(s *book.Session) []AlteredHours {
	parts := slices.SortedFunc(maps.Values(e.workers), func(a, b *part) int {
		return cmp.Or(cmp.Compare(max(b.cost, -b.cost), max(a.cost, -a.cost)), cmp.Compare(a.worker, b.worker))
	})
	var list []AlteredHours
	add := func(p part) {
		list = append(list, AlteredHours{p.worker, p.minutes.Hours(), s.Money(p.cost), s.Money(p.charge)})
	}
	all := part{worker: words.Counted(int64(len(parts)), "worker")}
	for i, p := range parts {
		all.minutes, all.cost, all.charge = all.minutes+p.minutes, all.cost+p.cost, all.charge+p.charge
		if i < mostWorkers {
			add(*p)
		}
	}
	if len(parts) > 0 {
		add(all)
	}
	return list
}

// AlteredHours is what of an effect is one worker's.
type AlteredHours struct {
	Worker string `json:"worker"`
	Hours  string `json:"hours" format:"decimal" doc:"that cost or are charged something else"`
	Cost   string `json:"cost" format:"decimal" doc:"by how much it changes"`
	Charge string `json:"charge" format:"decimal" doc:"by how much it changes"`
}

// Altered is an effect as people see it.
type Altered struct {
	Entries   int            `json:"entries" doc:"of hours, whose cost or charge changes"`
	Lines     int            `json:"lines" doc:"of papers, whose charge changes"`
	From      string         `json:"from,omitempty" format:"date"`
	Through   string         `json:"through,omitempty" format:"date"`
	CostWas   string         `json:"costWas,omitempty" format:"decimal"`
	Cost      string         `json:"cost,omitempty" format:"decimal"`
	ChargeWas string         `json:"chargeWas,omitempty" format:"decimal"`
	Charge    string         `json:"charge,omitempty" format:"decimal"`
	ByWorker  []AlteredHours `json:"byWorker,omitempty" doc:"of the hours, those of most money, and at the end all of them"`
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
		ByWorker: e.byWorker(s),
	}
}
