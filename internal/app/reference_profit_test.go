package app_test

import (
	"cmp"
	"math/big"
	"slices"
)

// Section 9 of docs/calculation.md, read a second time: what jobs earn, to date and in a period.

// refWork is an entry or a line with what it costs.
type refWork struct {
	job, phase, category, date string
	pending                    bool
	cost                       *big.Rat // nil: it has none
	charge                     *big.Rat // nil: none
	billed                     *refBilled
	minutes                    int
}

func (r *reference) work(job string) []refWork {
	var all []refWork
	for _, e := range r.entries {
		if e.record["job"] == job {
			all = append(all, refWork{
				job, e.record["phase"], "labour", e.record["date"], e.record["status"] != "approved", e.cost, e.charge, &e.refBilled, e.minutes,
			})
		}
	}
	for _, l := range r.lines {
		if l.record["job"] == job {
			all = append(all, refWork{
				job, l.record["phase"], l.record["category"], l.document["date"], l.document["status"] != "approved", l.landed, l.charge,
				&l.refBilled, 0,
			})
		}
	}
	return all
}

// refFixed is what comes of a fixed part as of a day.
type refFixed struct {
	contract, cost, expected, earned, provision *big.Rat // contract nil: none is known
	unmeasured                                  bool
}

// fixedParts are the fixed parts of a job as of a day, blank for all days; each is the phases that it is made of.
func (r *reference) fixedParts(job record, day string) []refFixed {
	rest := []string{}
	var contract *big.Rat
	if job["basis"] == "fixed" {
		rest = append(rest, "")
		if job["contract"] != "" {
			contract = rat(job["contract"])
		}
	}
	var parts []refFixed
	for _, p := range r.tables["phases.csv"] {
		if p["job"] != job["number"] || r.basis(job["number"], p["code"]) != "fixed" {
			continue
		}
		if p["contract"] == "" {
			rest = append(rest, p["code"])
			continue
		}
		parts = append(parts, r.fixedPart(job, []string{p["code"]}, rat(p["contract"]), day))
		if contract != nil {
			contract = plus(contract, new(big.Rat).Neg(rat(p["contract"])))
		}
	}
	if contract != nil && contract.Sign() < 0 {
		contract = new(big.Rat)
	}
	if contract == nil || contract.Sign() == 0 {
		anything := slices.ContainsFunc(r.tables["budgets.csv"], func(b record) bool {
			return b["job"] == job["number"] && slices.Contains(rest, b["phase"])
		}) || slices.ContainsFunc(r.work(job["number"]), func(w refWork) bool {
			return slices.Contains(rest, w.phase) && (day == "" || w.date <= day)
		})
		if !anything {
			return parts
		}
	}
	return append(parts, r.fixedPart(job, rest, contract, day))
}

func (r *reference) fixedPart(job record, phases []string, contract *big.Rat, day string) refFixed {
	out := refFixed{contract: contract, cost: new(big.Rat), expected: new(big.Rat), earned: new(big.Rat), provision: new(big.Rat)}
	over := job["status"] == "finished" || job["status"] == "closed"
	all := r.work(job["number"])
	if over && day != "" {
		if job["finish"] != "" {
			over = job["finish"] <= day
		} else {
			over = !slices.ContainsFunc(all, func(w refWork) bool { return w.date > day })
		}
	}
	planned, worked := false, false
	for _, phase := range phases {
		done := phase != "" && r.find("phases.csv", "job", job["number"], "code", phase)["done"] == "yes"
		if done && day != "" {
			done = !slices.ContainsFunc(all, func(w refWork) bool { return w.phase == phase && w.date > day })
		}
		for _, category := range []string{"labour", "material", "equipment", "subcontract", "expense", "mileage"} {
			cost, spent, budget, forecast := new(big.Rat), new(big.Rat), new(big.Rat), new(big.Rat)
			foreseen := false
			for _, w := range all {
				if w.phase != phase || w.category != category || day != "" && w.date > day {
					continue
				}
				worked = true
				if w.cost == nil {
					continue
				}
				spent.Add(spent, w.cost)
				if !w.pending {
					cost.Add(cost, w.cost)
				}
			}
			for _, b := range r.tables["budgets.csv"] {
				if !b.has("job", job["number"], "phase", phase, "category", category) {
					continue
				}
				budget.Add(budget, rat(b["cost"]))
				forecast.Add(forecast, rat(cmp.Or(b["forecast"], b["cost"])))
				foreseen = foreseen || b["forecast"] != ""
				planned = planned || b["forecast"] != "" || rat(b["cost"]).Sign() > 0
			}
			out.cost.Add(out.cost, cost)
			switch {
			case over || done || !foreseen && spent.Cmp(budget) > 0:
				out.expected.Add(out.expected, spent)
			case foreseen:
				out.expected.Add(out.expected, forecast)
			default:
				out.expected.Add(out.expected, budget)
			}
		}
	}
	if out.expected.Cmp(out.cost) < 0 {
		out.expected.Set(out.cost)
	}
	out.unmeasured = contract != nil && !over && !planned
	if day != "" && !worked {
		return out
	}
	smaller := func(a, b *big.Rat) *big.Rat {
		if a.Cmp(b) < 0 {
			return a
		}
		return b
	}
	switch {
	case contract == nil:
		for _, i := range r.invoices {
			for _, phase := range phases {
				if amount := i.byPart[job["number"]+"/"+phase]; amount != nil && (day == "" || i.date <= day) {
					out.earned = plus(out.earned, amount)
				}
			}
		}
		return out
	case over:
		out.earned = contract
	case !planned:
		out.earned = smaller(out.cost, contract)
	case out.expected.Sign() == 0:
		out.earned = smaller(new(big.Rat), contract)
	default:
		out.earned = smaller(r.round(times(contract, new(big.Rat).Quo(out.cost, out.expected))), contract)
	}
	if contract.Cmp(out.expected) < 0 {
		loss := plus(contract, new(big.Rat).Neg(out.expected), new(big.Rat).Neg(out.earned), out.cost)
		if loss.Sign() < 0 {
			out.provision = loss
		}
	}
	return out
}

// refJob is the money of a job in a period.
type refJob struct {
	labour, other, pending                         *big.Rat
	billed, unbilled, held, earned, provision      *big.Rat
	fixedCost, fixedPending, fixedBilled, expected *big.Rat
	fixedEarned, overNow                           *big.Rat
	contract                                       *big.Rat
	minutes                                        int
	unmeasured, fixed                              bool
}

func (r *reference) job(j record, from, through string) refJob {
	zero := func() *big.Rat { return new(big.Rat) }
	out := refJob{
		labour: zero(), other: zero(), pending: zero(), billed: zero(), unbilled: zero(), held: zero(), earned: zero(), provision: zero(),
		fixedCost: zero(), fixedPending: zero(), fixedBilled: zero(), expected: zero(), fixedEarned: zero(), overNow: zero(),
	}
	number := j["number"]
	in := func(date string) bool { return (from == "" || date >= from) && (through == "" || date <= through) }
	out.fixed = j["basis"] == "fixed" || slices.ContainsFunc(r.tables["phases.csv"], func(p record) bool {
		return p["job"] == number && r.basis(number, p["code"]) == "fixed"
	})
	for _, w := range r.work(number) {
		if !in(w.date) {
			continue
		}
		basis := r.basis(number, w.phase)
		cost := cmp.Or(w.cost, zero())
		switch {
		case w.pending:
			out.pending.Add(out.pending, cost)
		case w.category == "labour":
			out.labour.Add(out.labour, cost)
			out.minutes += w.minutes
		default:
			out.other.Add(out.other, cost)
		}
		if basis == "fixed" && w.pending {
			out.fixedPending.Add(out.fixedPending, cost)
		} else if basis == "fixed" {
			out.fixedCost.Add(out.fixedCost, cost)
		}
		if basis == "tm" {
			out.earned.Add(out.earned, w.billed.sum())
		}
	}
	for _, i := range r.waiting("9999-12-31") {
		if i.job == number && in(i.date) {
			out.unbilled.Add(out.unbilled, i.ready)
			out.earned.Add(out.earned, i.ready)
			out.held = plus(out.held, i.left, new(big.Rat).Neg(i.ready))
		}
	}
	for _, i := range r.invoices {
		for part, amount := range i.byPart {
			phase, ours := partOf(part, number)
			if !ours {
				continue
			}
			fixed := r.basis(number, phase) == "fixed"
			if in(i.date) {
				out.billed.Add(out.billed, amount)
				if fixed {
					out.fixedBilled.Add(out.fixedBilled, amount)
				}
				if r.basis(number, phase) == "none" {
					out.earned.Add(out.earned, amount)
				}
			}
			if fixed && (through == "" || i.date <= through) {
				out.overNow.Add(out.overNow, amount)
			}
		}
	}
	r.addFixed(j, from, through, &out)
	return out
}

func partOf(part, number string) (phase string, ours bool) {
	if len(part) <= len(number) || part[:len(number)+1] != number+"/" {
		return "", false
	}
	return part[len(number)+1:], true
}

// addFixed adds what the fixed parts have earned: as of the end, less as of the day before the beginning.
func (r *reference) addFixed(j record, from, through string, out *refJob) {
	end := through
	if end == "" && from != "" {
		end = "2199-12-31"
	}
	for _, p := range r.fixedParts(j, end) {
		out.earned.Add(out.earned, p.earned)
		out.fixedEarned.Add(out.fixedEarned, p.earned)
		out.overNow.Sub(out.overNow, p.earned)
		out.provision.Add(out.provision, p.provision)
		out.expected.Add(out.expected, p.expected)
		out.unmeasured = out.unmeasured || p.unmeasured
		if p.contract != nil {
			out.contract = plus(cmp.Or(out.contract, new(big.Rat)), p.contract)
		}
	}
	if from == "" {
		return
	}
	before := day(from).AddDate(0, 0, -1).Format("2006-01-02")
	for _, p := range r.fixedParts(j, before) {
		out.earned.Sub(out.earned, p.earned)
		out.fixedEarned.Sub(out.fixedEarned, p.earned)
		out.provision.Sub(out.provision, p.provision)
	}
}

func (r *reference) profit(from, through string) [][]string {
	var rows [][]string
	for _, j := range r.jobsInOrder() {
		f := r.job(j, from, through)
		cost := plus(f.labour, f.other)
		profit := plus(f.earned, new(big.Rat).Neg(cost), f.provision)
		margin := ""
		if f.earned.Sign() > 0 && !f.unmeasured {
			margin = halfAway(times(new(big.Rat).Quo(profit, f.earned), big.NewRat(100, 1)), big.NewRat(1, 100)).FloatString(2)
		}
		rows = append(rows, []string{
			j["number"], j["customer"], j["name"], j["basis"], refHours(f.minutes), r.money(f.labour), r.money(f.other), r.money(cost),
			r.money(f.pending), r.money(f.billed), r.money(new(big.Rat)), r.money(f.unbilled), r.money(f.held), r.money(f.earned),
			r.money(f.provision), r.money(profit), margin,
		})
	}
	return rows
}

func (r *reference) wip(from, through string) [][]string {
	var rows [][]string
	for _, j := range r.jobsInOrder() {
		f := r.job(j, from, through)
		if !f.fixed {
			continue
		}
		expected, backlog := r.money(f.expected), ""
		if f.unmeasured {
			expected = ""
		}
		over, under := new(big.Rat), new(big.Rat)
		if f.overNow.Sign() > 0 {
			over = f.overNow
		} else {
			under.Neg(f.overNow)
		}
		if f.contract != nil {
			now := new(big.Rat)
			for _, p := range r.fixedParts(j, cmp.Or(through, map[bool]string{true: "2199-12-31"}[from != ""])) {
				now.Add(now, p.earned)
			}
			backlog = r.money(plus(f.contract, new(big.Rat).Neg(now)))
		}
		rows = append(rows, []string{
			j["number"], j["customer"], r.money(f.contract), expected, r.money(f.fixedCost), r.money(f.fixedPending), r.money(f.fixedEarned),
			r.money(f.provision), r.money(plus(f.fixedEarned, new(big.Rat).Neg(f.fixedCost), f.provision)), r.money(f.fixedBilled), r.money(over),
			r.money(under), backlog,
		})
	}
	return rows
}
