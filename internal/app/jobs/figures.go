package jobs

import (
	"fmt"

	"jarvo/internal/app/book"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/profit"
	"jarvo/internal/store"
)

// JobFigures is a job with its sums, of all dates or of a period.
type JobFigures struct {
	Head
	Minutes       money.Minutes
	Labour, Other money.Amount
	Parts         []profit.Part // as of the end
	Money         profit.Job    // in the period
	// Fixed is the money of its fixed parts in the period, and as of its end; HasFixed says that it is a fixed job, or has a fixed phase.
	Fixed, FixedNow profit.Job
	HasFixed        bool
	// Short is by how much the contracts of its phases are more than its own.
	Short money.Amount
}

// placeSum is what is booked to a phase of a job, or to no phase, of one kind of cost.
type placeSum struct {
	JobID, PhaseID  int64
	Category        string
	Works           int64
	Minutes         money.Minutes // approved
	Cost, Labour    money.Amount  // approved; of which labour
	Pending         money.Amount  // the cost of what is not approved
	Drafted, Billed money.Amount
	Ready, Held     money.Amount
	Earning         money.Amount
}

type placeKey struct{ job, phase int64 }

// plan is what is agreed and planned of a job and its phases.
type plan struct {
	heads   []Head
	phases  map[int64][]phaseHead // by job
	budgets map[placeKey][]budgetSum
	lasts   map[placeKey]calendar.Date // of the work of fixed jobs, where a day is asked about
}

type phaseHead struct {
	ID, JobID int64
	Basis     string
	Contract  *money.Amount
	Done      bool
}

// budgetSum is what is planned of one kind of cost, over all cost codes.
type budgetSum struct {
	JobID, PhaseID int64
	Category       string
	Budget         money.Amount
	Forecast       *money.Amount
}

// Figures computes the money of all jobs, or of one, in the order of their numbers, within a period.
func Figures(s *book.Session, job int64, of calendar.Span) ([]*JobFigures, error) {
	p, err := loadPlan(s, jobHeads, asked, job, of)
	if err != nil {
		return nil, err
	}
	in, err := placeSums(s, job, of)
	if err != nil {
		return nil, err
	}
	now, before := in, map[placeKey][]placeSum{}
	if of.From > calendar.Always.From {
		if before, err = asOf(s, job, of.From-1); err != nil {
			return nil, err
		}
	}
	if of != calendar.Always {
		if now, err = asOf(s, job, of.To); err != nil {
			return nil, err
		}
	}
	figures := make([]*JobFigures, len(p.heads))
	for i, h := range p.heads {
		j := &JobFigures{Head: h}
		figures[i] = j
		if err := j.compute(p, of, in, now, before); err != nil {
			return nil, err
		}
	}
	return figures, nil
}

func loadPlan(s *book.Session, heads, those string, job int64, of calendar.Span) (*plan, error) {
	args := map[string]any{"job": job}
	p := &plan{phases: map[int64][]phaseHead{}, budgets: map[placeKey][]budgetSum{}, lasts: map[placeKey]calendar.Date{}}
	var err error
	if p.heads, err = store.Query[Head](s.Tx, heads, args); err != nil {
		return nil, err
	}
	phases, err := store.Query[phaseHead](s.Tx, fmt.Sprintf(phaseHeads, those), args)
	if err != nil {
		return nil, err
	}
	for _, ph := range phases {
		p.phases[ph.JobID] = append(p.phases[ph.JobID], ph)
	}
	budgets, err := store.Query[budgetSum](s.Tx, budgetSums, args)
	if err != nil {
		return nil, err
	}
	for _, b := range budgets {
		k := placeKey{b.JobID, b.PhaseID}
		p.budgets[k] = append(p.budgets[k], b)
	}
	if of == calendar.Always {
		return p, nil
	}
	type last struct {
		JobID, PhaseID int64
		Last           calendar.Date
	}
	lasts, err := store.Query[last](s.Tx, lastWork, args)
	for _, l := range lasts {
		p.lasts[placeKey{l.JobID, l.PhaseID}] = l.Last
	}
	return p, err
}

// placeSums are the sums of one job, or of all (0), over a period, by place.
func placeSums(s *book.Session, job int64, of calendar.Span) (map[placeKey][]placeSum, error) {
	args := map[string]any{"job": job, "from": of.From, "to": of.To}
	if of != calendar.Always {
		return sumUp(s, args, countedSums, billedSums, typedSums)
	}
	sums, err := keptSums(s, args)
	if err != nil {
		return nil, err
	}
	invoiced, err := sumUp(s, args, billedSums, draftedSums)
	for k, rows := range invoiced {
		sums[k] = append(sums[k], rows...)
	}
	for _, rows := range sums {
		for i := range rows {
			rows[i].Earning = rows[i].Billed + rows[i].Drafted + rows[i].Ready
		}
	}
	return sums, err
}

// keptSums are what is booked, over all dates. Of all jobs together the kinds of cost are told apart only where a fixed price is measured
// by them.
func keptSums(s *book.Session, args map[string]any) (map[placeKey][]placeSum, error) {
	if args["job"] != int64(0) {
		return sumUp(s, args, jobSums)
	}
	sums, err := sumUp(s, args, fixedSums)
	if err != nil {
		return nil, err
	}
	whole, err := sumUp(s, args, wholeSums)
	for k, rows := range whole {
		if _, told := sums[k]; !told {
			sums[k] = rows
		}
	}
	return sums, err
}

// asOf are the sums of fixed jobs up to a day.
func asOf(s *book.Session, job int64, day calendar.Date) (map[placeKey][]placeSum, error) {
	return sumUp(s, map[string]any{"job": job, "from": calendar.Always.From, "to": day}, fixedCounted, billedSums)
}

func sumUp(s *book.Session, args map[string]any, queries ...string) (map[placeKey][]placeSum, error) {
	sums := map[placeKey][]placeSum{}
	for _, query := range queries {
		rows, err := store.Query[placeSum](s.Tx, "SELECT * FROM ("+query+") WHERE job_id <> 0 AND @job IN (0, job_id)", args)
		if err != nil {
			return nil, err
		}
		for _, r := range rows {
			k := placeKey{r.JobID, r.PhaseID}
			sums[k] = append(sums[k], r)
		}
	}
	return sums, nil
}

func (j *JobFigures) compute(p *plan, of calendar.Span, in, now, before map[placeKey][]placeSum) error {
	for _, k := range j.keys(p) {
		for _, sum := range in[k] {
			j.Labour += sum.Labour
			j.Other += sum.Cost - sum.Labour
			j.Minutes += sum.Minutes
		}
	}
	whole := of == calendar.Always
	dated := profit.Terms{Basis: billing.Basis(j.Basis), Contract: j.Contract, Finished: j.over(), UpTo: !whole}
	end := dated
	end.Finished = dated.Finished && (whole || j.overBy(p, of.To))
	places := j.places(p, now, whole, of.To)
	j.Short = end.Short(places)
	j.Parts = end.Parts(places)
	fixed, _ := split(j.Parts)
	var err error
	if j.FixedNow, err = profit.Of(fixed); err != nil {
		return err
	}
	if whole {
		j.Fixed = j.FixedNow
		j.Money, err = profit.Of(j.Parts)
		return err
	}
	inPeriod := dated.Parts(j.places(p, in, true, 0))
	fixed, moving := split(inPeriod)
	spent, err := profit.Of(fixed)
	if err != nil {
		return err
	}
	was := dated
	was.Finished = dated.Finished && j.overBy(p, of.From-1)
	past, _ := split(was.Parts(j.places(p, before, false, of.From-1)))
	had, err := profit.Of(past)
	if err != nil {
		return err
	}
	if of.From <= calendar.Always.From {
		had = profit.Job{}
	}
	j.Fixed = j.FixedNow.Since(had, spent)
	j.Money = j.Fixed
	work, err := profit.Of(moving)
	if err != nil {
		return err
	}
	j.Money.Sum(work)
	return nil
}

// split parts fixed work from the rest.
func split(parts []profit.Part) (fixed, moving []profit.Part) {
	for _, p := range parts {
		if p.Basis == billing.Fixed {
			fixed = append(fixed, p)
		} else {
			moving = append(moving, p)
		}
	}
	return fixed, moving
}

// over says that a job is finished or closed.
func (h Head) over() bool { return h.Status == store.Finished || h.Status == store.Closed }

// overBy says whether a job that is over was so at the end of a day: by its finish or, without one, once none of its work is later.
func (j *JobFigures) overBy(p *plan, day calendar.Date) bool {
	if j.Finish != nil {
		return *j.Finish <= day
	}
	for _, k := range j.keys(p) {
		if p.lasts[k] > day {
			return false
		}
	}
	return true
}

// keys are the places of a job: what is booked to no phase, and its phases.
func (j *JobFigures) keys(p *plan) []placeKey {
	keys := []placeKey{{j.ID, 0}}
	for _, ph := range p.phases[j.ID] {
		keys = append(keys, placeKey{j.ID, ph.ID})
	}
	return keys
}

// places are a job's places with some sums. A phase that is done was so at the end of a day once none of its work is later; always says
// that no day is asked about.
func (j *JobFigures) places(p *plan, sums map[placeKey][]placeSum, always bool, day calendar.Date) []profit.Place {
	places := []profit.Place{{Basis: billing.Basis(j.Basis)}}
	j.HasFixed = j.HasFixed || j.Basis == string(billing.Fixed)
	for _, ph := range p.phases[j.ID] {
		j.HasFixed = j.HasFixed || ph.Basis == string(billing.Fixed)
		places = append(places, profit.Place{
			Phase: ph.ID, Basis: billing.Basis(ph.Basis), Contract: ph.Contract,
			Done: ph.Done && (always || p.lasts[placeKey{j.ID, ph.ID}] <= day),
		})
	}
	for i := range places {
		k := placeKey{j.ID, places[i].Phase}
		fill(&places[i], p.budgets[k], sums[k])
	}
	return places
}

// fill adds to a place what is planned of it and what is booked to it.
func fill(place *profit.Place, budgets []budgetSum, sums []placeSum) {
	at := map[string]int{}
	kind := func(category string) *profit.Kind {
		i, found := at[category]
		if !found {
			i = len(place.Kinds)
			at[category] = i
			place.Kinds = append(place.Kinds, profit.Kind{Category: category})
		}
		return &place.Kinds[i]
	}
	for _, b := range budgets {
		k := kind(b.Category)
		k.Budget, k.Forecast = b.Budget, b.Forecast
	}
	for _, sum := range sums {
		place.Billed += sum.Billed
		place.Drafted += sum.Drafted
		place.Unbilled += sum.Ready
		place.Held += sum.Held
		place.Earning += sum.Earning
		if sum.Works == 0 {
			continue
		}
		place.Worked = true
		k := kind(sum.Category)
		k.Cost += sum.Cost
		k.Pending += sum.Pending
	}
}

// FixedWork is what is known of the fixed work of a job: what was agreed, and what it is expected to cost.
type FixedWork struct {
	Job                      store.Job
	Contract, Expected, Cost money.Amount
	Over                     money.Amount // by how much its parts are expected to cost more than their contracts
	Unmeasured               money.Amount // the contracts of its parts at work that have neither a budget nor a forecast
	Short                    money.Amount // by how much the contracts of its phases are more than its own
}

// WithoutBudget is the contract that there is nothing to measure the work by of; 0 where it costs more than that already, which is said.
func (w FixedWork) WithoutBudget() money.Amount {
	if w.Over > 0 {
		return 0
	}
	return w.Unmeasured
}

// Fixed is the fixed work of a job, or of all jobs (0) that are not closed and have any with a contract, in the order of their numbers.
func Fixed(s *book.Session, job int64) ([]FixedWork, error) {
	p, err := loadPlan(s, fixedHeads, "p.job_id IN "+fixedJobs, job, calendar.Always)
	if err != nil {
		return nil, err
	}
	sums, err := sumUp(s, map[string]any{"job": job}, fixedSums)
	if err != nil {
		return nil, err
	}
	var works []FixedWork
	for _, h := range p.heads {
		j := &JobFigures{Head: h}
		if err := j.compute(p, calendar.Always, sums, sums, nil); err != nil {
			return nil, err
		}
		w := FixedWork{Job: h.Job, Expected: j.FixedNow.Expected, Cost: j.FixedNow.Cost, Short: j.Short}
		if j.FixedNow.Contract == nil {
			continue
		}
		w.Contract = *j.FixedNow.Contract
		for _, part := range j.Parts {
			if part.Basis != billing.Fixed || part.Contract == nil {
				continue
			}
			r, err := part.Result()
			if err != nil {
				return nil, err
			}
			w.Over += max(0, r.Expected-*part.Contract)
			if r.Unmeasured && (r.Cost != 0 || r.Pending != 0) {
				w.Unmeasured += *part.Contract
			}
		}
		works = append(works, w)
	}
	return works, nil
}
