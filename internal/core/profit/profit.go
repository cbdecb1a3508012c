// Package profit says whether a job is making money (calculation.md section 9).
package profit

import (
	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
)

// Kind is what one kind of cost of a place comes to against its plan.
type Kind struct {
	Category  string
	Budget    money.Amount
	Forecast  *money.Amount // typed by the bookkeeper, in place of what follows from the rest
	Cost      money.Amount  // of approved and billed work
	Pending   money.Amount  // of work that is not approved yet
	Committed money.Amount  // ordered from suppliers and not yet on a paper
}

// Spent is what a kind has cost with what waits and what is ordered.
func (k Kind) Spent() money.Amount { return k.Cost + k.Pending + k.Committed }

// Expected is the expected cost at completion: the forecast where there is one, else the larger of the budget and what is spent; of what
// is done what is spent, whatever was planned.
func (k Kind) Expected(done bool) money.Amount {
	switch {
	case done:
		return k.Spent()
	case k.Forecast != nil:
		return *k.Forecast
	default:
		return max(k.Budget, k.Spent())
	}
}

// Billing is what becomes of the charge of work.
type Billing struct {
	Billed   money.Amount // on issued invoices
	Drafted  money.Amount // on drafts
	Unbilled money.Amount // ready to bill
	Held     money.Amount // beyond a limit
	// Earning is what work on time and materials has earned: billed, drafted and unbilled; in a period that of the work dated in it,
	// whenever it was invoiced.
	Earning money.Amount
}

func (b *Billing) add(o Billing) {
	b.Billed += o.Billed
	b.Drafted += o.Drafted
	b.Unbilled += o.Unbilled
	b.Held += o.Held
	b.Earning += o.Earning
}

// Place is a phase of a job, or what is booked to no phase.
type Place struct {
	Phase    int64 // 0: of none
	Basis    billing.Basis
	Contract *money.Amount // of the phase itself
	Done     bool
	Worked   bool // hours or cost lines are booked to it, up to the day that is asked about
	Kinds    []Kind
	Billing
}

// Terms are what is agreed of a job.
type Terms struct {
	Basis    billing.Basis
	Contract *money.Amount
	Finished bool // or closed
	// UpTo says that the job is looked at as of a day: what nothing was worked on by then has earned and provided nothing.
	UpTo bool
}

// Part is what is measured as one: a fixed phase with a contract of its own, all other fixed work of a job, or all work on another basis.
type Part struct {
	Basis    billing.Basis
	Contract *money.Amount // nil: none is known
	Finished bool
	Idle     bool // nothing of it is dated on or before the day that is asked about
	Places   []Place
	Billing
}

// Short says by how much the contracts of a job's phases are more than that of the job.
func (t Terms) Short(places []Place) money.Amount {
	if t.Basis != billing.Fixed || t.Contract == nil {
		return 0
	}
	return max(0, own(places)-*t.Contract)
}

func own(places []Place) (sum money.Amount) {
	for _, p := range places {
		if p.apart() {
			sum += *p.Contract
		}
	}
	return sum
}

// apart says that a place is a part by itself.
func (p Place) apart() bool { return p.Basis == billing.Fixed && p.Phase != 0 && p.Contract != nil }

// idle says that nothing is booked to a place or planned for it.
func (p Place) idle() bool { return !p.Worked && len(p.Kinds) == 0 && p.Billing == Billing{} }

// Parts are the parts that a job is made of.
func (t Terms) Parts(places []Place) []Part {
	pool := Part{Basis: billing.Fixed, Finished: t.Finished, Idle: t.UpTo}
	if t.Basis == billing.Fixed && t.Contract != nil {
		rest := max(0, *t.Contract-own(places))
		pool.Contract = &rest
	}
	moving := map[billing.Basis]*Part{
		billing.TimeAndMaterials: {Basis: billing.TimeAndMaterials}, billing.Never: {Basis: billing.Never},
	}
	var parts []Part
	for _, p := range places {
		switch {
		case p.apart():
			parts = append(parts, Part{
				Basis: billing.Fixed, Contract: p.Contract, Finished: t.Finished, Idle: t.UpTo && !p.Worked, Places: []Place{p}, Billing: p.Billing,
			})
		case p.Basis == billing.Fixed:
			pool.take(p)
		default:
			moving[p.Basis].take(p)
		}
	}
	if !pool.empty() {
		parts = append(parts, pool)
	}
	for _, basis := range []billing.Basis{billing.TimeAndMaterials, billing.Never} {
		if len(moving[basis].Places) > 0 {
			parts = append(parts, *moving[basis])
		}
	}
	return parts
}

func (p *Part) take(place Place) {
	p.Idle = p.Idle && !place.Worked
	p.Places = append(p.Places, place)
	p.add(place.Billing)
}

// empty says that the rest of a job's fixed work is no part: it has no contract, and nothing is booked to it or budgeted.
func (p Part) empty() bool {
	if p.Contract != nil && *p.Contract != 0 {
		return false
	}
	for _, place := range p.Places {
		if !place.idle() {
			return false
		}
	}
	return true
}

// Result is what comes of a part.
type Result struct {
	Cost, Pending money.Amount
	Expected      money.Amount // cost at completion
	Earned        money.Amount
	Provision     money.Amount // 0 or below: the part of a loss foreseen that has not come yet
	Unmeasured    bool         // a fixed price without a budget or a forecast to measure it by
}

// Result works a part out.
func (p Part) Result() (Result, error) {
	r, planned := Result{}, false
	for _, place := range p.Places {
		for _, k := range place.Kinds {
			planned = planned || k.Budget > 0 || k.Forecast != nil
			r.Cost += k.Cost
			r.Pending += k.Pending
			r.Expected += k.Expected(p.Finished || place.Done)
		}
	}
	r.Expected = max(r.Expected, r.Cost)
	if _, err := money.Sum(r.Cost, r.Pending, r.Expected); err != nil {
		return r, err
	}
	switch p.Basis {
	case billing.TimeAndMaterials:
		r.Earned = p.Earning
		return r, nil
	case billing.Never:
		r.Earned = p.Billed
		return r, nil
	case billing.Fixed:
	}
	r.Unmeasured = p.Contract != nil && !p.Finished && !planned
	if p.Idle || p.Contract == nil {
		if !p.Idle {
			r.Earned = p.Billed
		}
		return r, nil
	}
	contract := *p.Contract
	switch {
	case p.Finished:
		r.Earned = contract
	case !planned:
		r.Earned = min(r.Cost, contract)
	case r.Expected == 0:
		r.Earned = min(0, contract)
	default:
		share, err := p.share(contract, r)
		if err != nil {
			return r, err
		}
		r.Earned = min(share, contract)
	}
	if contract < r.Expected {
		r.Provision = min(0, (contract-r.Expected)-(r.Earned-r.Cost))
	}
	return r, nil
}

// share is the contract by cost over expected cost. Both are below 0 where more was sent back than bought.
func (p Part) share(contract money.Amount, r Result) (money.Amount, error) {
	cost, expected := r.Cost, r.Expected
	if expected < 0 {
		cost, expected = -cost, -expected
	}
	earned, err := money.Ratio(int64(expected), int64(contract), int64(cost))
	return money.Amount(earned), err
}

// Job is the money of a job, or of some parts of one.
type Job struct {
	Result
	Billing
	Contract *money.Amount // of the fixed parts together; nil: none is known
	Profit   money.Amount
	// Margin is the profit by what is earned, where that is above 0 and all of it is measured.
	Margin    money.Percent
	HasMargin bool
}

// OverBilled is what is billed beyond what is earned; below 0 the job is under-billed.
func (j Job) OverBilled() money.Amount { return j.Billed - j.Earned }

// Backlog is what of the contract is still to be earned; false where no contract is known.
func (j Job) Backlog() (money.Amount, bool) {
	if j.Contract == nil {
		return 0, false
	}
	return *j.Contract - j.Earned, true
}

// Add adds a part with what came of it.
func (j *Job) Add(p Part, r Result) {
	j.Cost += r.Cost
	j.Pending += r.Pending
	j.Expected += r.Expected
	j.Earned += r.Earned
	j.Provision += r.Provision
	j.Unmeasured = j.Unmeasured || r.Unmeasured
	j.add(p.Billing)
	if p.Basis == billing.Fixed && p.Contract != nil {
		sum := *p.Contract
		if j.Contract != nil {
			sum += *j.Contract
		}
		j.Contract = &sum
	}
	j.settle()
}

// Sum adds another job up with this one. Contracts of jobs are not added; what has cost nothing yet blanks no margin of others.
func (j *Job) Sum(o Job) {
	j.Cost += o.Cost
	j.Pending += o.Pending
	j.Expected += o.Expected
	j.Earned += o.Earned
	j.Provision += o.Provision
	j.Unmeasured = j.Unmeasured || o.Unmeasured && o.Cost != 0
	j.add(o.Billing)
	j.settle()
}

func (j *Job) settle() {
	j.Profit = j.Earned - j.Cost + j.Provision
	j.Margin, j.HasMargin = money.Share(j.Profit, j.Earned)
	j.HasMargin = j.HasMargin && !j.Unmeasured
}

// Of sums a job over its parts.
func Of(parts []Part) (Job, error) {
	var j Job
	for _, p := range parts {
		r, err := p.Result()
		if err != nil {
			return j, err
		}
		j.Add(p, r)
	}
	_, err := money.Sum(j.Cost, j.Earned, j.Provision)
	return j, err
}

// Since is what came of fixed work within a period: what it has earned and provided by the end of it less what it had before it began,
// and what it cost and was billed in it. What is expected and agreed is as of the end.
func (j Job) Since(before, in Job) Job {
	j.Earned -= before.Earned
	j.Provision -= before.Provision
	j.Cost, j.Pending, j.Billing = in.Cost, in.Pending, in.Billing
	j.settle()
	return j
}
