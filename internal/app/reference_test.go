package app_test

import (
	"cmp"
	"fmt"
	"math/big"
	"slices"
	"strconv"
	"strings"
	"time"

	"jarvo/internal/bundle"
)

// reference computes a company's reports from the texts of its bundle, by the letter of docs/calculation.md and
// without any of the core: fractions instead of scaled integers, weeks minute by minute, rules as written.
type reference struct {
	tables   map[string][]record
	settings map[string]string
	unit     *big.Rat // the minor unit
	digits   int
	entries  []*refEntry
	lines    []*refLine
	invoices []refInvoice
	next     int
}

type record map[string]string

type refEntry struct {
	record
	order, minutes int
	start          int // -1: a bare duration
	class          [3]int
	count          [3]int // the classes as if nothing of the week were billed
	straight       *big.Rat
	gross, burden  *big.Rat
	cost, charge   *big.Rat // nil: can't be computed, or not charged
	invoice        string
}

type refLine struct {
	record
	document     record
	base, landed *big.Rat
	charge       *big.Rat
	invoice      string
}

type refInvoice struct {
	number, customer, date, due string
	jobs                        []string
	subtotal, tax, retainage    *big.Rat
	byJob                       map[string]*big.Rat
	byPart                      map[string]*big.Rat // job and phase
}

func newReference(data bundle.Data) *reference {
	r := &reference{tables: newTables(data), settings: map[string]string{
		"currency": "USD", "week_start": "monday", "overtime_weekly_hours": "40", "overtime_factor": "1.5", "double_factor": "2",
		"purchase_tax": "cost", "next_invoice_number": "1001",
		"terms_days": "30",
	}}
	for _, s := range r.tables["settings.csv"] {
		r.settings[s["key"]] = s["value"]
	}
	r.digits = map[string]int{"USD": 2, "EUR": 2, "JPY": 0, "TND": 3}[r.settings["currency"]]
	r.unit = big.NewRat(1, 1)
	for range r.digits {
		r.unit.Mul(r.unit, big.NewRat(1, 10))
	}
	r.next, _ = strconv.Atoi(r.settings["next_invoice_number"])
	r.readEntries()
	r.costLabour()
	r.costDocuments()
	return r
}

// more adds the rows of another bundle and computes what is not billed again.
func (r *reference) more(data bundle.Data) {
	billed := r.entries
	added := newTables(data)
	for file, rows := range added {
		r.tables[file] = append(r.tables[file], rows...)
	}
	r.entries = nil
	r.readEntries()
	copy(r.entries, billed)
	r.costLabour()
}

func newTables(data bundle.Data) map[string][]record {
	tables := map[string][]record{}
	for _, t := range bundle.Tables {
		for _, row := range data[t.File] {
			rec := record{}
			for i, c := range t.Columns {
				rec[c.Name] = row[i]
			}
			tables[t.File] = append(tables[t.File], rec)
		}
	}
	return tables
}

func rat(s string) *big.Rat {
	if s == "" {
		return new(big.Rat)
	}
	v, ok := new(big.Rat).SetString(s)
	if !ok {
		panic("not a number: " + s)
	}
	return v
}

func times(a *big.Rat, more ...*big.Rat) *big.Rat {
	p := new(big.Rat).Set(a)
	for _, m := range more {
		p.Mul(p, m)
	}
	return p
}

func plus(a *big.Rat, more ...*big.Rat) *big.Rat {
	p := new(big.Rat).Set(a)
	for _, m := range more {
		p.Add(p, m)
	}
	return p
}

func percent(s string) *big.Rat { return times(rat(s), big.NewRat(1, 100)) }

// halfAway is v in whole units, halves away from zero.
func halfAway(v, unit *big.Rat) *big.Rat {
	q := new(big.Rat).Quo(v, unit)
	sign := q.Sign()
	q.Abs(q).Add(q, big.NewRat(1, 2))
	whole := new(big.Int).Quo(q.Num(), q.Denom())
	return times(new(big.Rat).SetInt(whole), unit, big.NewRat(int64(sign), 1))
}

func (r *reference) round(v *big.Rat) *big.Rat { return halfAway(v, r.unit) }

func (r *reference) money(v *big.Rat) string {
	if v == nil {
		return ""
	}
	return v.FloatString(r.digits)
}

// find is the row of a table with given cells.
func (r *reference) find(file string, cells ...string) record {
	for _, row := range r.tables[file] {
		if row.has(cells...) {
			return row
		}
	}
	return record{}
}

func (rec record) has(cells ...string) bool {
	for i := 0; i < len(cells); i += 2 {
		if rec[cells[i]] != cells[i+1] {
			return false
		}
	}
	return true
}

func (r *reference) basis(job, phase string) string {
	if phase != "" {
		if own := r.find("phases.csv", "job", job, "code", phase)["basis"]; own != "" {
			return own
		}
	}
	return r.find("jobs.csv", "number", job)["basis"]
}

func refMinutes(s string) int {
	if h, m, ok := strings.Cut(s, ":"); ok {
		hours, _ := strconv.Atoi(h)
		minutes, _ := strconv.Atoi(m)
		return hours*60 + minutes
	}
	n := halfAway(times(rat(s), big.NewRat(60, 1)), big.NewRat(1, 1))
	return int(n.Num().Int64())
}

func (r *reference) readEntries() {
	for i, row := range r.tables["time_entries.csv"] {
		e := &refEntry{record: row, order: i, start: -1}
		if row["start"] != "" {
			e.start = refMinutes(row["start"])
			finish := refMinutes(row["finish"])
			if finish <= e.start {
				finish += 24 * 60
			}
			pause, _ := strconv.Atoi(row["break_minutes"])
			e.minutes = finish - e.start - pause
		} else {
			e.minutes = refMinutes(row["hours"])
		}
		r.entries = append(r.entries, e)
	}
}

func day(s string) time.Time {
	d, err := time.Parse(time.DateOnly, s)
	if err != nil {
		panic(err)
	}
	return d
}

func (r *reference) week(date string) time.Time {
	d := day(date)
	for strings.ToLower(d.Weekday().String()) != r.settings["week_start"] {
		d = d.AddDate(0, 0, -1)
	}
	return d
}

// costLabour takes each worker's entries in order, classes them minute by minute, costs and charges them.
func (r *reference) costLabour() {
	byWorker := map[string][]*refEntry{}
	for _, e := range r.entries {
		byWorker[e.record["worker"]] = append(byWorker[e.record["worker"]], e)
	}
	for worker, entries := range byWorker {
		slices.SortFunc(entries, func(a, b *refEntry) int {
			noStart := func(e *refEntry) int {
				if e.start < 0 {
					return 1
				}
				return 0
			}
			return cmp.Or(
				cmp.Compare(a.record["date"], b.record["date"]), cmp.Compare(noStart(a), noStart(b)), cmp.Compare(a.start, b.start),
				cmp.Compare(a.order, b.order),
			)
		})
		r.classWeeks(r.find("workers.csv", "code", worker), entries)
		earned := map[string]*big.Rat{}
		for _, o := range r.tables["year_openings.csv"] {
			if o["worker"] == worker {
				earned[o["year"]+"gross"], earned[o["year"]+"straight"] = rat(o["gross"]), rat(o["straight"])
			}
		}
		for _, e := range entries {
			r.costEntry(r.find("workers.csv", "code", worker), e, earned)
		}
	}
}

func (r *reference) limit(key string) (int, bool) {
	text := r.settings[key]
	if text == "" {
		return 0, false
	}
	return refMinutes(text), true
}

func (r *reference) classWeeks(worker record, entries []*refEntry) {
	weekly, hasWeekly := r.limit("overtime_weekly_hours")
	daily, hasDaily := r.limit("overtime_daily_hours")
	doubleDaily, hasDouble := r.limit("double_daily_hours")
	var week time.Time
	date, today, regular := "", 0, 0
	first := 0
	for i, e := range entries {
		if w := r.week(e.record["date"]); w != week {
			keepBilled(entries[first:i])
			week, regular, first = w, 0, i
		}
		if e.record["date"] != date {
			date, today = e.record["date"], 0
		}
		weekday := strings.ToLower(day(date).Weekday().String())
		double := slices.Contains(strings.Fields(r.settings["double_days"]), weekday) || len(r.find("holidays.csv", "date", date)) > 0
		over := slices.Contains(strings.Fields(r.settings["overtime_days"]), weekday)
		e.count = [3]int{}
		for range e.minutes {
			class := 0
			switch own := slices.Index([]string{"regular", "overtime", "double"}, e.record["pay_class"]); {
			case worker["exempt"] == "yes":
			case own >= 0:
				class = own
			case double || hasDouble && today >= doubleDaily:
				class = 2
			case over || hasDaily && today >= daily || hasWeekly && regular >= weekly:
				class = 1
			}
			e.count[class]++
			today++
			if class == 0 {
				regular++
			}
		}
	}
	keepBilled(entries[first:])
}

// keepBilled leaves the classes of a week's billed entries as they are; the premium they lack goes to the others, the last first.
func keepBilled(week []*refEntry) {
	lacking := [3]int{}
	for _, e := range week {
		if e.invoice == "" {
			e.class = e.count
			continue
		}
		for class := range lacking {
			lacking[class] += e.count[class] - e.class[class]
		}
	}
	for _, class := range []int{2, 1} {
		for i := len(week) - 1; i >= 0; i-- {
			if e := week[i]; e.invoice == "" && e.record["pay_class"] == "auto" {
				for lacking[class] > 0 && e.class[0] > 0 {
					e.class[0], e.class[class], lacking[class] = e.class[0]-1, e.class[class]+1, lacking[class]-1
				}
			}
		}
	}
}

// latest is the row with the latest effective_from on or before a date of those that match; nil where there is none.
func latest(rows []record, on string, match func(record) bool) record {
	var best record
	for _, row := range rows {
		if row["effective_from"] <= on && match(row) && (best == nil || row["effective_from"] > best["effective_from"]) {
			best = row
		}
	}
	return best
}

func (r *reference) factor(class int) *big.Rat {
	return []*big.Rat{big.NewRat(1, 1), rat(r.settings["overtime_factor"]), rat(r.settings["double_factor"])}[class]
}

func (r *reference) costEntry(worker record, e *refEntry, earned map[string]*big.Rat) {
	on, year := e.record["date"], e.record["date"][:4]
	wage := latest(r.tables["wages.csv"], on, func(w record) bool { return w["worker"] == worker["code"] })
	for _, basis := range []string{"gross", "straight"} {
		if earned[year+basis] == nil {
			earned[year+basis] = new(big.Rat)
		}
	}
	if e.invoice != "" {
		if e.cost != nil {
			earned[year+"gross"], earned[year+"straight"] = plus(earned[year+"gross"], e.gross), plus(earned[year+"straight"], e.straight)
		}
		return
	}
	e.straight, e.cost, e.charge = new(big.Rat), nil, nil
	row, own := r.labourRow(worker, e)
	chargeable := e.record["billable"] == "yes" && r.basis(e.record["job"], e.record["phase"]) == "tm"
	gross, burden, charge := new(big.Rat), new(big.Rat), new(big.Rat)
	for class, minutes := range e.class {
		if minutes == 0 {
			continue
		}
		hours := big.NewRat(int64(minutes), 60)
		var cost *big.Rat
		if wage != nil {
			straight := r.round(times(rat(wage["rate"]), hours))
			paid := r.round(times(rat(wage["rate"]), r.factor(class), hours))
			extra := r.burden(worker["burden_class"], on, hours, map[string]*big.Rat{"gross": paid, "straight": straight}, earned, year)
			cost = plus(paid, extra)
			e.straight, gross, burden = plus(e.straight, straight), plus(gross, paid), plus(burden, extra)
			earned[year+"gross"], earned[year+"straight"] = plus(earned[year+"gross"], paid), plus(earned[year+"straight"], straight)
		}
		switch {
		case charge == nil || row == nil && own == "":
			charge = nil
		case own != "":
			charge = plus(charge, r.round(times(rat(own), r.factor(class), hours)))
		case row["method"] == "markup" && cost == nil:
			charge = nil
		case row["method"] == "markup":
			charge = plus(charge, r.round(times(cost, plus(big.NewRat(1, 1), percent(row["value"])))))
		default:
			factor := r.factor(class)
			if text := []string{"", row["overtime_factor"], row["double_factor"]}[class]; text != "" {
				factor = rat(text)
			}
			charge = plus(charge, r.round(times(rat(row["value"]), factor, hours)))
		}
	}
	if wage != nil {
		e.gross, e.burden, e.cost = gross, burden, plus(gross, burden)
	}
	if chargeable {
		e.charge = charge
	}
}

func (r *reference) burden(class, on string, hours *big.Rat, base, earned map[string]*big.Rat, year string) *big.Rat {
	total := new(big.Rat)
	names := map[string]bool{}
	for _, b := range r.tables["burdens.csv"] {
		if class == "" || b["class"] != class || names[b["component"]] {
			continue
		}
		names[b["component"]] = true
		now := latest(r.tables["burdens.csv"], on, func(row record) bool { return row.has("class", class, "component", b["component"]) })
		switch {
		case now == nil:
		case now["basis"] == "hour":
			total = plus(total, r.round(times(rat(now["value"]), hours)))
		default:
			applies := base[now["basis"]]
			if now["annual_wage_cap"] != "" {
				left := plus(rat(now["annual_wage_cap"]), new(big.Rat).Neg(earned[year+now["basis"]]))
				if left.Sign() < 0 {
					left = new(big.Rat)
				}
				if left.Cmp(applies) < 0 {
					applies = left
				}
			}
			total = plus(total, r.round(times(applies, percent(now["value"]))))
		}
	}
	return total
}

// cards are those of a job, its customer and the company, in the order in which they are asked.
func (r *reference) cards(job string) []string {
	j := r.find("jobs.csv", "number", job)
	return []string{j["rate_card"], r.find("customers.csv", "code", j["customer"])["rate_card"], r.settings["rate_card"]}
}

// labourRow is the row that prices an entry, or the entry's own rate.
func (r *reference) labourRow(worker record, e *refEntry) (record, string) {
	if e.record["rate"] != "" {
		return nil, e.record["rate"]
	}
	for _, card := range r.cards(e.record["job"]) {
		var best record
		weight := -1
		for _, row := range r.tables["labour_rates.csv"] {
			w := 0
			fits := card != "" && row["card"] == card && row["effective_from"] <= e.record["date"]
			for column, points := range map[string]int{"worker": 4, "cost_code": 2, "trade": 1} {
				of := map[string]string{"worker": worker["code"], "cost_code": e.record["cost_code"], "trade": worker["trade"]}[column]
				if row[column] != "" {
					w += points
					fits = fits && row[column] == of
				}
			}
			if fits && (w > weight || w == weight && row["effective_from"] > best["effective_from"]) {
				best, weight = row, w
			}
		}
		if best != nil {
			return best, ""
		}
	}
	return nil, ""
}

// spread is by the largest remainder.
func (r *reference) spread(amount *big.Rat, weights []*big.Rat) []*big.Rat {
	total := new(big.Rat)
	for _, w := range weights {
		total.Add(total, w)
	}
	if total.Sign() == 0 {
		for i := range weights {
			weights[i] = big.NewRat(1, 1)
			total.Add(total, weights[i])
		}
	}
	size := new(big.Rat).Abs(amount)
	shares, cut, left := make([]*big.Rat, len(weights)), make([]*big.Rat, len(weights)), new(big.Rat).Set(size)
	for i, w := range weights {
		exact := new(big.Rat).Quo(times(size, w), total)
		units := new(big.Rat).Quo(exact, r.unit)
		shares[i] = times(new(big.Rat).SetInt(new(big.Int).Quo(units.Num(), units.Denom())), r.unit)
		cut[i] = plus(exact, new(big.Rat).Neg(shares[i]))
		left = plus(left, new(big.Rat).Neg(shares[i]))
	}
	for left.Sign() > 0 {
		most := 0
		for i := range cut {
			if cut[i].Cmp(cut[most]) > 0 {
				most = i
			}
		}
		shares[most], cut[most] = plus(shares[most], r.unit), big.NewRat(-1, 1)
		left = plus(left, new(big.Rat).Neg(r.unit))
	}
	for i := range shares {
		shares[i] = times(shares[i], big.NewRat(int64(amount.Sign()), 1))
	}
	return shares
}

func (r *reference) costDocuments() {
	for _, d := range r.tables["cost_documents.csv"] {
		var lines []*refLine
		for _, row := range r.tables["cost_lines.csv"] {
			if row["document"] == d["ref"] {
				lines = append(lines, &refLine{record: row, document: d, base: r.round(times(rat(row["quantity"]), rat(row["unit_cost"])))})
			}
		}
		slices.SortStableFunc(lines, func(a, b *refLine) int { return compareNumbers(a.record["line"], b.record["line"]) })
		weights := func() []*big.Rat {
			var w []*big.Rat
			for _, l := range lines {
				w = append(w, new(big.Rat).Abs(l.base))
			}
			return w
		}
		freight, tax := r.spread(rat(d["freight"]), weights()), r.spread(rat(d["tax"]), weights())
		for i, l := range lines {
			l.landed = plus(l.base, freight[i])
			if r.settings["purchase_tax"] != "recovered" {
				l.landed = plus(l.landed, tax[i])
			}
			r.chargeLine(l)
		}
		r.lines = append(r.lines, lines...)
	}
}

func (r *reference) chargeLine(l *refLine) {
	if l.record["job"] == "" || l.record["billable"] != "yes" || r.basis(l.record["job"], l.record["phase"]) != "tm" {
		return
	}
	raise := new(big.Rat)
	switch {
	case l.record["sell_price"] != "":
		l.charge = r.round(times(rat(l.record["quantity"]), rat(l.record["sell_price"])))
		return
	case l.record["markup"] != "":
		raise = percent(l.record["markup"])
	default:
		raise = plus(raise, r.cardMarkup(l))
	}
	l.charge = r.round(times(l.landed, plus(big.NewRat(1, 1), raise)))
}

func (r *reference) cardMarkup(l *refLine) *big.Rat {
	for _, card := range r.cards(l.record["job"]) {
		var best record
		for _, row := range r.tables["markups.csv"] {
			if card == "" || row["card"] != card || row["category"] != l.record["category"] || row["effective_from"] > l.document["date"] ||
				rat(row["over_cost"]).Cmp(new(big.Rat).Abs(rat(l.record["unit_cost"]))) > 0 {
				continue
			}
			band := 1
			if best != nil {
				band = rat(row["over_cost"]).Cmp(rat(best["over_cost"]))
			}
			if band > 0 || band == 0 && row["effective_from"] > best["effective_from"] {
				best = row
			}
		}
		if best != nil {
			return percent(best["percent"])
		}
	}
	return new(big.Rat)
}

// compareNumbers orders job and line numbers: whole numbers first, as numbers.
func compareNumbers(a, b string) int {
	x, errX := strconv.Atoi(a)
	y, errY := strconv.Atoi(b)
	switch {
	case errX == nil && errY == nil:
		return cmp.Compare(x, y)
	case errX == nil:
		return -1
	case errY == nil:
		return 1
	default:
		return strings.Compare(a, b)
	}
}

func (r *reference) jobsInOrder() []record {
	jobs := slices.Clone(r.tables["jobs.csv"])
	slices.SortFunc(jobs, func(a, b record) int { return compareNumbers(a["number"], b["number"]) })
	return jobs
}

// item is an entry or a line on its way to an invoice.
type item struct {
	job, phase, category, date string
	charge                     *big.Rat
	invoice                    *string
}

func (r *reference) ready(through string) []item {
	var items []item
	for _, e := range r.entries {
		if e.record["status"] == "approved" && e.charge != nil && e.invoice == "" && e.record["date"] <= through {
			items = append(items, item{e.record["job"], e.record["phase"], "labour", e.record["date"], e.charge, &e.invoice})
		}
	}
	for _, l := range r.lines {
		if l.document["status"] == "approved" && l.charge != nil && l.invoice == "" && l.document["date"] <= through {
			items = append(items, item{l.record["job"], l.record["phase"], l.record["category"], l.document["date"], l.charge, &l.invoice})
		}
	}
	return items
}

// bill is the bill run through a date, issued on that date.
func (r *reference) bill(through string) {
	items := r.ready(through)
	var groups [][]string
	byCustomer := map[string]int{}
	for _, j := range r.jobsInOrder() {
		if !slices.ContainsFunc(items, func(i item) bool { return i.job == j["number"] }) {
			continue
		}
		at, there := byCustomer[j["customer"]]
		if r.find("customers.csv", "code", j["customer"])["invoice_per"] == "customer" {
			if there {
				groups[at] = append(groups[at], j["number"])
				continue
			}
			byCustomer[j["customer"]] = len(groups)
		}
		groups = append(groups, []string{j["number"]})
	}
	for _, jobs := range groups {
		r.invoice(jobs, through, items)
	}
}

func (r *reference) invoice(jobs []string, through string, items []item) {
	first := r.find("jobs.csv", "number", jobs[0])
	customer := r.find("customers.csv", "code", first["customer"])
	inv := refInvoice{
		number: r.settings["invoice_prefix"] + strconv.Itoa(r.next), customer: customer["code"], date: through, jobs: jobs,
		subtotal: new(big.Rat), tax: new(big.Rat), retainage: new(big.Rat),
		byJob: map[string]*big.Rat{}, byPart: map[string]*big.Rat{},
	}
	terms, err := strconv.Atoi(customer["terms_days"])
	if err != nil {
		terms, _ = strconv.Atoi(r.settings["terms_days"])
	}
	inv.due = day(through).AddDate(0, 0, terms).Format(time.DateOnly)
	bases := map[string]*big.Rat{}
	for _, i := range items {
		if !slices.Contains(jobs, i.job) {
			continue
		}
		inv.subtotal = plus(inv.subtotal, i.charge)
		add(inv.byJob, i.job, i.charge)
		add(inv.byPart, i.job+"/"+i.phase, i.charge)
		code := r.find("jobs.csv", "number", i.job)["tax_code"]
		code = cmp.Or(code, customer["tax_code"], r.settings["tax_code"])
		for _, t := range r.tables["tax_codes.csv"] {
			if customer["tax_exempt"] != "yes" && t["code"] == code && slices.Contains(strings.Fields(t["applies_to"]), i.category) {
				add(bases, code+"/"+t["component"], i.charge)
			}
		}
	}
	for key, base := range bases {
		code, component, _ := strings.Cut(key, "/")
		inv.tax = plus(inv.tax, r.round(times(base, percent(r.find("tax_codes.csv", "code", code, "component", component)["percent"]))))
	}
	for job, amount := range inv.byJob {
		inv.retainage = plus(inv.retainage, r.round(times(amount, percent(r.find("jobs.csv", "number", job)["retainage"]))))
	}
	total := plus(inv.subtotal, inv.tax)
	if inv.subtotal.Sign() < 0 || total.Sign() < 0 || total.Cmp(inv.retainage) < 0 {
		return
	}
	r.next++
	r.invoices = append(r.invoices, inv)
	for _, i := range items {
		if slices.Contains(jobs, i.job) {
			*i.invoice = inv.number
		}
	}
}

func add(sums map[string]*big.Rat, key string, v *big.Rat) {
	if sums[key] == nil {
		sums[key] = new(big.Rat)
	}
	sums[key] = plus(sums[key], v)
}

func refStatus(status, invoice string) string {
	if invoice != "" {
		return "billed"
	}
	return status
}

func refHours(minutes int) string {
	return halfAway(big.NewRat(int64(minutes), 60), big.NewRat(1, 100)).FloatString(2)
}

// reports are all reports that do not depend on the clock.
func (r *reference) reports() map[string][][]string {
	return map[string][][]string{
		"labour": r.labour(), "costs": r.costs(), "unbilled": r.unbilled(), "invoices": r.invoiceRows(), "job-profit": r.profit(),
	}
}

func (r *reference) labour() [][]string {
	entries := slices.Clone(r.entries)
	slices.SortFunc(entries, func(a, b *refEntry) int { return strings.Compare(a.record["ref"], b.record["ref"]) })
	var rows [][]string
	for _, e := range entries {
		rows = append(rows, []string{
			e.record["ref"], e.record["worker"], e.record["date"], e.record["job"], e.record["phase"], e.record["cost_code"],
			refStatus(e.record["status"], e.invoice), refHours(e.minutes),
			strconv.Itoa(e.class[0]), strconv.Itoa(e.class[1]), strconv.Itoa(e.class[2]), r.money(e.gross), r.money(e.burden), r.money(e.cost),
			r.money(e.charge),
		})
	}
	return rows
}

func (r *reference) costs() [][]string {
	lines := slices.Clone(r.lines)
	slices.SortStableFunc(lines, func(a, b *refLine) int { return strings.Compare(a.record["document"], b.record["document"]) })
	var rows [][]string
	for _, l := range lines {
		rows = append(rows, []string{
			l.record["document"], l.record["line"], l.document["date"], l.record["category"], l.record["job"], l.record["phase"],
			l.record["cost_code"],
			refStatus(l.document["status"], l.invoice), r.money(l.base), r.money(l.landed), r.money(l.charge),
		})
	}
	return rows
}

func (r *reference) unbilled() [][]string {
	items := r.ready("9999-12-31")
	var rows [][]string
	for _, j := range r.jobsInOrder() {
		sums, oldest := map[string]*big.Rat{"": new(big.Rat)}, "9999-12-31"
		for _, i := range items {
			if i.job == j["number"] {
				add(sums, i.category, i.charge)
				add(sums, "", i.charge)
				oldest = min(oldest, i.date)
			}
		}
		if len(sums) == 1 {
			continue
		}
		row := []string{j["number"], j["customer"]}
		for _, category := range []string{"labour", "material", "equipment", "subcontract", "expense", "mileage", ""} {
			row = append(row, r.money(plus(new(big.Rat), cmp.Or(sums[category], new(big.Rat)))))
		}
		rows = append(rows, append(row, oldest))
	}
	return rows
}

func (r *reference) invoiceRows() [][]string {
	var rows [][]string
	for _, i := range r.invoices {
		total := plus(i.subtotal, i.tax)
		due := plus(total, new(big.Rat).Neg(i.retainage))
		rows = append(rows, []string{
			i.number, i.customer, i.date, i.due, strings.Join(i.jobs, " "), r.money(i.subtotal), r.money(i.tax), r.money(i.retainage),
			r.money(total), r.money(due), r.money(new(big.Rat)), r.money(due),
		})
	}
	return rows
}

func (r *reference) profit() [][]string {
	var rows [][]string
	for _, j := range r.jobsInOrder() {
		number := j["number"]
		minutes := 0
		labour, other, pending, billed := new(big.Rat), new(big.Rat), new(big.Rat), new(big.Rat)
		unbilled, earned := new(big.Rat), new(big.Rat)
		book := func(status string, cost, into *big.Rat) {
			switch {
			case cost == nil:
			case status == "approved":
				into.Add(into, cost)
			default:
				pending.Add(pending, cost)
			}
		}
		for _, e := range r.entries {
			if e.record["job"] == number {
				book(e.record["status"], e.cost, labour)
				if e.record["status"] == "approved" {
					minutes += e.minutes
				}
			}
		}
		for _, l := range r.lines {
			if l.record["job"] == number {
				book(l.document["status"], l.landed, other)
			}
		}
		for _, i := range r.ready("9999-12-31") {
			if i.job == number {
				unbilled.Add(unbilled, i.charge)
				earned.Add(earned, i.charge) // what is ready is on time and materials
			}
		}
		for _, i := range r.invoices {
			if amount := i.byJob[number]; amount != nil {
				billed.Add(billed, amount)
				earned.Add(earned, amount)
			}
		}
		cost := plus(labour, other)
		profit := plus(earned, new(big.Rat).Neg(cost))
		margin := ""
		if earned.Sign() > 0 {
			margin = halfAway(times(new(big.Rat).Quo(profit, earned), big.NewRat(100, 1)), big.NewRat(1, 100)).FloatString(2)
		}
		rows = append(rows, []string{
			number, j["customer"], j["name"], j["basis"], refHours(minutes), r.money(labour), r.money(other), r.money(cost), r.money(pending),
			r.money(billed), r.money(unbilled),
			r.money(earned), r.money(profit), margin,
		})
	}
	return rows
}

// firstDifference says where two reports differ, in words; blank where they agree.
func firstDifference(want, got [][]string) string {
	for i := range max(len(want), len(got)) {
		if i >= len(want) || i >= len(got) {
			return fmt.Sprintf("%d rows wanted, %d there", len(want), len(got))
		}
		if !slices.Equal(want[i], got[i]) {
			return fmt.Sprintf("row %d\nwanted %v\n there %v", i+1, want[i], got[i])
		}
	}
	return ""
}
