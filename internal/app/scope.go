package app

import (
	"context"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// Scope is Where and When: the two questions of every sheet.
type Scope struct {
	Job  int64         // 0: all jobs
	From calendar.Date // 0: from the beginning
	To   calendar.Date // 0: no end
	Crew string        // that the actor is kept to; blank for all
}

// ScopeQuery is a scope as it stands in an address.
type ScopeQuery struct {
	Job  string `query:"job" doc:"number of a job; blank for all"`
	From string `query:"from" doc:"first date, YYYY-MM-DD"`
	To   string `query:"to" doc:"last date, YYYY-MM-DD"`
}

func (s *session) scope(q ScopeQuery) (Scope, error) {
	c := s.checks()
	scope := Scope{From: orZero(c, "from", q.From, calendar.Parse), To: orZero(c, "to", q.To, calendar.Parse), Crew: s.actor.Crew}
	if err := c.err(); err != nil {
		return scope, err
	}
	if q.Job != "" {
		job, err := s.jobByNumber(q.Job)
		if err != nil {
			return scope, err
		}
		scope.Job = job.ID
	}
	return scope, nil
}

func (sc Scope) end() calendar.Date {
	if sc.To == 0 {
		return calendar.On(2199, 12, 31)
	}
	return sc.To
}

// Footing is the totals of what is in scope. Money is absent for those who may not see it.
type Footing struct {
	Hours    string `json:"hours" format:"decimal"`
	Labour   string `json:"labour,omitempty" format:"decimal"`
	Other    string `json:"other,omitempty" format:"decimal"`
	Cost     string `json:"cost,omitempty" format:"decimal"`
	Charge   string `json:"charge,omitempty" format:"decimal"`
	Margin   string `json:"margin,omitempty" format:"decimal" doc:"percent to two places; absent where there is no charge"`
	NoCost   int64  `json:"noCost" doc:"entries left out of cost, since they have no wage"`
	NoCharge int64  `json:"noCharge" doc:"billable entries left out of charge, since they have no price"`
}

// Counts are what waits, whatever the scope: for the tabs and the foot of the window.
type Counts struct {
	Loose   int64 `json:"looseEnds"`
	Waiting int64 `json:"waiting" doc:"workers' weeks and papers that wait for approval"`
	Ready   int64 `json:"ready" doc:"jobs with something ready to bill"`
}

// FootingChange is a footing with what an edit changed in it.
type FootingChange struct {
	Footing
	Change *Footing `json:"change,omitempty" doc:"the differences the edit made; absent figures did not change"`
}

type footingSums struct {
	Minutes          money.Minutes
	Labour, Other    money.Amount
	Charge           money.Amount
	NoCost, NoCharge int64
}

func (s *session) footingSums(sc Scope) (footingSums, error) {
	args := map[string]any{"from": sc.From, "to": sc.end(), "job": sc.Job, "crew": sc.Crew}
	where := ""
	if sc.Job != 0 {
		where = " AND job_id = @job"
	}
	if sc.Crew != "" { // hours alone: who is kept to a crew sees no money
		hours, err := store.Query[footingSums](s.Tx, `SELECT ifnull(sum(minutes), 0) AS minutes, count(*) - count(cost) AS no_cost, ifnull(sum(unpriced), 0) AS no_charge
			FROM time_entries WHERE worker_id IN (SELECT id FROM workers WHERE crew = @crew) AND date BETWEEN @from AND @to`+where, args)
		if err != nil {
			return footingSums{}, err
		}
		return hours[0], nil
	}
	if sc.From == 0 && sc.To == 0 {
		sums, err := store.Query[footingSums](s.Tx, `SELECT ifnull(sum(minutes), 0) AS minutes, ifnull(sum(CASE labour WHEN 1 THEN cost END), 0) AS labour, ifnull(sum(CASE labour WHEN 0 THEN cost END), 0) AS other, ifnull(sum(charge), 0) AS charge,
			(SELECT count(*) FROM time_entries WHERE cost IS NULL`+where+`) AS no_cost, (SELECT count(*) FROM time_entries WHERE unpriced = 1`+where+`) AS no_charge FROM job_sums WHERE @job IN (0, job_id)`, args)
		if err != nil {
			return footingSums{}, err
		}
		return sums[0], nil
	}
	where = " WHERE date BETWEEN @from AND @to" + where
	hours, err := store.Query[footingSums](s.Tx, `SELECT ifnull(sum(minutes), 0) AS minutes, ifnull(sum(cost), 0) AS labour, ifnull(sum(charge), 0) AS charge,
		count(*) - count(cost) AS no_cost, ifnull(sum(unpriced), 0) AS no_charge FROM time_entries`+where, args)
	if err != nil {
		return footingSums{}, err
	}
	other, err := store.Query[footingSums](s.Tx, "SELECT ifnull(sum(landed), 0) AS other, ifnull(sum(charge), 0) AS charge FROM cost_lines"+where, args)
	if err != nil {
		return footingSums{}, err
	}
	sums := hours[0]
	sums.Other, sums.Charge = other[0].Other, sums.Charge+other[0].Charge
	return sums, nil
}

func (f footingSums) minus(g footingSums) footingSums {
	return footingSums{f.Minutes - g.Minutes, f.Labour - g.Labour, f.Other - g.Other, f.Charge - g.Charge, 0, 0}
}

func (s *session) footing(f footingSums) Footing {
	out := Footing{Hours: f.Minutes.Hours(), NoCost: f.NoCost, NoCharge: f.NoCharge}
	if s.actor.Can(SeeMoney) {
		cost := f.Labour + f.Other
		out.Labour, out.Other, out.Cost, out.Charge = s.money(f.Labour), s.money(f.Other), s.money(cost), s.money(f.Charge)
		if margin, ok := money.Share(f.Charge-cost, f.Charge); ok {
			out.Margin = margin.Places2()
		}
	}
	return out
}

// change is a footing of differences; what did not change is absent.
func (s *session) footingChange(d footingSums) *Footing {
	if d == (footingSums{}) {
		return nil
	}
	out := Footing{Hours: d.Minutes.Hours()}
	if s.actor.Can(SeeMoney) {
		for figure, amount := range map[*string]money.Amount{&out.Labour: d.Labour, &out.Other: d.Other, &out.Cost: d.Labour + d.Other, &out.Charge: d.Charge} {
			if amount != 0 {
				*figure = s.money(amount)
			}
		}
	}
	return &out
}

// Footing totals a scope.
func (a *App) Footing(ctx context.Context, actor Actor, q ScopeQuery) (Footing, error) {
	return Read(ctx, a, actor, Capture, func(s *session) (out Footing, _ error) {
		sc, err := s.scope(q)
		if err != nil {
			return out, err
		}
		sums, err := s.footingSums(sc)
		if err != nil {
			return out, err
		}
		out = s.footing(sums)
		return out, nil
	})
}

// Counter counts what waits. Every window asks for it after a change, many at the same moment: those who would be told the same share
// one answer.
type Counter struct{ sharer[Counts] }

// Counts counts loose ends, and what waits in Approve and in Bill for those who work there.
func (c *Counter) Counts(ctx context.Context, a *App, actor Actor) (Counts, error) {
	return c.ask(string(actor.Role)+" "+actor.Crew, func() (Counts, error) {
		return Read(ctx, a, actor, Capture, func(s *session) (out Counts, err error) { return out, s.counts(&out) })
	})
}

func (s *session) counts(f *Counts) error {
	loose, err := s.looseCount()
	if err != nil {
		return err
	}
	f.Loose = loose
	if s.actor.Can(Approve) {
		first := calendar.Date(weekStart(s.company)) - 4 // 1 January 1970 was a Thursday
		waiting, err := store.Query[int64](s.Tx, `SELECT (SELECT count(DISTINCT worker_id * 100000 + (date - ?) / 7) FROM time_entries WHERE status <> 'approved' AND status = 'submitted')
			+ (SELECT count(*) FROM cost_documents WHERE status <> 'approved' AND status = 'submitted')`, first)
		if err != nil {
			return err
		}
		f.Waiting = waiting[0]
	}
	if !s.actor.Can(Bill) {
		return nil
	}
	ready, err := store.Query[int64](s.Tx, "SELECT count(*) FROM jobs j WHERE EXISTS (SELECT 1 FROM "+readyEntries+" AND job_id = j.id) OR EXISTS (SELECT 1 FROM "+readyLines+" AND job_id = j.id)")
	if err == nil {
		f.Ready = ready[0]
	}
	return err
}
