// Package scope reads which job, crew and dates a sheet is of, and adds up what is in them.
package scope

import (
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/register"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// Scope is Where and When: the two questions of every sheet.
type Scope struct {
	Job  int64         // 0: all jobs
	From calendar.Date // 0: from the beginning
	To   calendar.Date // 0: no end
	Crew string        // whose hours alone are in scope; blank for all
}

// ScopeQuery is a scope as it stands in an address.
type ScopeQuery struct {
	Job  string `query:"job" doc:"number of a job; blank for all"`
	From string `query:"from" doc:"first date, YYYY-MM-DD"`
	To   string `query:"to" doc:"last date, YYYY-MM-DD"`
}

// Of reads a scope as it was asked for.
func Of(s *book.Session, q ScopeQuery) (Scope, error) {
	c := s.Checks()
	scope := Scope{From: form.OrZero(c, "from", q.From, calendar.Parse), To: form.OrZero(c, "to", q.To, calendar.Parse), Crew: s.Actor.Crew}
	if err := c.Err(); err != nil {
		return scope, err
	}
	if q.Job != "" {
		job, err := register.JobByNumber(s, q.Job)
		if err != nil {
			return scope, err
		}
		scope.Job = job.ID
	}
	return scope, nil
}

// End is the last date of the scope, far away where it has none.
func (sc Scope) End() calendar.Date {
	if sc.To == 0 {
		return calendar.On(2199, 12, 31)
	}
	return sc.To
}

// Footing is the totals of what is in scope. Money is absent for those who may not see it.
type Footing struct {
	Hours  string `json:"hours" format:"decimal"`
	Labour string `json:"labour,omitempty" format:"decimal"`
	Other  string `json:"other,omitempty" format:"decimal"`
	Cost   string `json:"cost,omitempty" format:"decimal"`
	Charge string `json:"charge,omitempty" format:"decimal"`
	// Margin is that of what is charged: work on a fixed price makes none look thin.
	Margin    string `json:"margin,omitempty" format:"decimal" doc:"of what is charged, in percent to two places; absent where there is no charge"`
	Uncharged string `json:"uncharged,omitempty" format:"decimal" doc:"the cost of what has no charge"`
	NoCost    int64  `json:"noCost" doc:"entries left out of cost, since they have no wage"`
	NoCharge  int64  `json:"noCharge" doc:"billable entries left out of charge, since they have no price"`
}

// FootingChange is a footing with what an edit changed in it.
type FootingChange struct {
	Footing
	Change *Footing `json:"change,omitempty" doc:"the differences the edit made; absent figures did not change"`
}

// FootingSums are the sums of a footing.
type FootingSums struct {
	Minutes          money.Minutes
	Labour, Other    money.Amount
	Charge           money.Amount
	Charged          money.Amount // the cost of what has a charge
	NoCost, NoCharge int64
}

// SumsOf adds the work of a scope up.
func SumsOf(s *book.Session, sc Scope) (FootingSums, error) {
	args := map[string]any{"from": sc.From, "to": sc.End(), "job": sc.Job, "crew": sc.Crew}
	where := ""
	if sc.Job != 0 {
		where = " AND job_id = @job"
	}
	if sc.Crew != "" { // hours alone: what is bought is of no crew
		return store.Value[FootingSums](s.Tx, crewSums+where, args)
	}
	if sc.From == 0 && sc.To == 0 {
		return store.Value[FootingSums](s.Tx, keptSums, args)
	}
	sums, err := store.Value[FootingSums](s.Tx, hourSums+where, args)
	if err != nil {
		return FootingSums{}, err
	}
	other, err := store.Value[FootingSums](s.Tx, lineSums+where, args)
	sums.Other, sums.Charge, sums.Charged = other.Other, sums.Charge+other.Charge, sums.Charged+other.Charged
	return sums, err
}

// Minus is the difference of two footings.
func (f FootingSums) Minus(g FootingSums) FootingSums {
	return FootingSums{
		Minutes: f.Minutes - g.Minutes, Labour: f.Labour - g.Labour, Other: f.Other - g.Other, Charge: f.Charge - g.Charge,
		Charged: f.Charged - g.Charged,
	}
}

// Shown writes a footing as the actor may see it.
func Shown(s *book.Session, f FootingSums) Footing {
	out := Footing{Hours: f.Minutes.Hours(), NoCost: f.NoCost, NoCharge: f.NoCharge}
	if s.Actor.Can(book.SeeMoney) {
		cost := f.Labour + f.Other
		out.Labour, out.Other, out.Cost, out.Charge = s.Money(f.Labour), s.Money(f.Other), s.Money(cost), s.Money(f.Charge)
		if margin, ok := money.Share(f.Charge-f.Charged, f.Charge); ok {
			out.Margin = margin.Places2()
		}
		if uncharged := cost - f.Charged; uncharged != 0 {
			out.Uncharged = s.Money(uncharged)
		}
	}
	return out
}

// ShownChange is a footing of differences; what did not change is absent.
func ShownChange(s *book.Session, d FootingSums) *Footing {
	if d == (FootingSums{}) {
		return nil
	}
	out := Footing{Hours: d.Minutes.Hours()}
	if s.Actor.Can(book.SeeMoney) {
		for figure, amount := range map[*string]money.Amount{
			&out.Labour: d.Labour, &out.Other: d.Other, &out.Cost: d.Labour + d.Other, &out.Charge: d.Charge,
		} {
			if amount != 0 {
				*figure = s.Money(amount)
			}
		}
	}
	return &out
}

// UnchargedRow is what work without a charge cost, for one reason.
type UnchargedRow struct {
	Reason string `json:"reason"`
	Cost   string `json:"cost" format:"decimal"`
}

// Uncharged is what the work of a scope cost that has no charge, apart, by the reason why it has none.
func Uncharged(ctx context.Context, b *book.Book, actor book.Actor, q ScopeQuery) ([]UnchargedRow, error) {
	return book.Read(ctx, b, actor, book.SeeMoney, func(s *book.Session) ([]UnchargedRow, error) {
		sc, err := Of(s, q)
		if err != nil {
			return nil, err
		}
		type reason struct {
			Reason string
			Cost   money.Amount
		}
		sums, err := store.Query[reason](s.Tx, uncharged, map[string]any{"from": sc.From, "to": sc.End(), "job": sc.Job, "crew": sc.Crew})
		rows := []UnchargedRow{}
		for _, r := range sums {
			rows = append(rows, UnchargedRow{r.Reason, s.Money(r.Cost)})
		}
		return rows, err
	})
}

// FootingOf totals a scope.
func FootingOf(ctx context.Context, b *book.Book, actor book.Actor, q ScopeQuery) (Footing, error) {
	return book.Read(ctx, b, actor, book.Capture, func(s *book.Session) (out Footing, _ error) {
		sc, err := Of(s, q)
		if err != nil {
			return out, err
		}
		sums, err := SumsOf(s, sc)
		if err != nil {
			return out, err
		}
		out = Shown(s, sums)
		return out, nil
	})
}
