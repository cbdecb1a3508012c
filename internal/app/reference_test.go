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
	start          int    // -1: a bare duration
	class          [4]int // regular, overtime, double, leave
	count          [4]int // the classes as if nothing of the week were billed
	straight       *big.Rat
	gross, burden  *big.Rat
	cost, charge   *big.Rat // nil: can't be computed, or not charged
	share          *big.Rat // of a week's pay; nil: paid by the hour
	refBilled
}

// refBilled is what has been billed of an entry or a line, by invoice.
type refBilled struct {
	invoice string // the first
	parts   []refPart
}

type refPart struct {
	invoice, date string
	amount        *big.Rat
}

func (b *refBilled) bill(invoice, date string, amount *big.Rat) {
	b.invoice = cmp.Or(b.invoice, invoice)
	b.parts = append(b.parts, refPart{invoice, date, amount})
}

// sum is what has been billed.
func (b *refBilled) sum() *big.Rat {
	total := new(big.Rat)
	for _, p := range b.parts {
		total.Add(total, p.amount)
	}
	return total
}

type refLine struct {
	record
	document     record
	base, landed *big.Rat
	freight, tax *big.Rat
	charge       *big.Rat
	refBilled
}

type refInvoice struct {
	number, customer, date, due string
	jobs                        []string
	subtotal, tax, retainage    *big.Rat
	byJob                       map[string]*big.Rat
	byPart                      map[string]*big.Rat // job and phase
	retained                    map[string]*big.Rat // by job
}

func newReference(data bundle.Data) *reference {
	r := &reference{tables: newTables(data), settings: map[string]string{
		"currency": "USD", "week_start": "monday", "overtime_weekly_hours": "40", "overtime_factor": "1.5", "double_factor": "2",
		"purchase_tax": "cost", "next_invoice_number": "1001", "holiday_class": "double",
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
		r.shareWeeks(worker, entries)
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
		holiday := ""
		if len(r.find("holidays.csv", "date", date)) > 0 {
			holiday = r.settings["holiday_class"]
		}
		double := slices.Contains(strings.Fields(r.settings["double_days"]), weekday) || holiday == "double"
		over := slices.Contains(strings.Fields(r.settings["overtime_days"]), weekday) || holiday == "overtime"
		e.count = [4]int{}
		if e.record["pay_class"] == "leave" {
			e.count[3] = e.minutes
			continue
		}
		salaried := r.weekRow(worker["code"], date)["per"] == "week"
		for range e.minutes {
			class := 0
			switch own := slices.Index([]string{"regular", "overtime", "double"}, e.record["pay_class"]); {
			case worker["exempt"] == "yes" || salaried:
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
	lacking := [4]int{}
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
	one := big.NewRat(1, 1)
	return []*big.Rat{one, rat(r.settings["overtime_factor"]), rat(r.settings["double_factor"]), one}[class]
}

// weekRow is the wage row that says how a work week is paid: the latest on or before its first day, else the first in it.
func (r *reference) weekRow(worker, date string) record {
	first := r.week(date)
	last := first.AddDate(0, 0, 6).Format(time.DateOnly)
	best := latest(r.tables["wages.csv"], first.Format(time.DateOnly), func(w record) bool { return w["worker"] == worker })
	if best != nil {
		return best
	}
	for _, w := range r.tables["wages.csv"] {
		if w["worker"] == worker && w["effective_from"] <= last && (best == nil || w["effective_from"] < best["effective_from"]) {
			best = w
		}
	}
	return best
}

// wage is what an entry is paid by; nil where it has no wage.
func (r *reference) wage(worker, date string) record {
	if row := r.weekRow(worker, date); row != nil && row["per"] == "week" {
		if row["effective_from"] > date {
			return nil
		}
		return row
	}
	return latest(r.tables["wages.csv"], date, func(w record) bool { return w["worker"] == worker && w["per"] == "hour" })
}

// shareWeeks spreads the pay of each week that is paid as a whole over its hours.
func (r *reference) shareWeeks(worker string, entries []*refEntry) {
	weeks := map[time.Time][]*refEntry{}
	for _, e := range entries {
		if e.invoice == "" {
			e.share = nil
		}
		w := r.week(e.record["date"])
		weeks[w] = append(weeks[w], e)
	}
	for _, week := range weeks {
		row := r.weekRow(worker, week[0].record["date"])
		if row == nil || row["per"] != "week" {
			continue
		}
		amount := rat(row["rate"])
		minutes := func(of func(*refEntry) bool) []*big.Rat {
			var w []*big.Rat
			for _, e := range week {
				m := int64(0)
				if e.record["date"] >= row["effective_from"] && of(e) {
					m = int64(e.minutes)
				}
				w = append(w, big.NewRat(m, 1))
			}
			return w
		}
		shares := r.spread(amount, minutes(func(*refEntry) bool { return true }))
		locked, justTheirs := new(big.Rat), true
		for i, e := range week {
			if e.invoice != "" {
				held := cmp.Or(e.gross, new(big.Rat))
				locked.Add(locked, held)
				justTheirs = justTheirs && held.Cmp(shares[i]) == 0
			}
		}
		if !justTheirs {
			rest := plus(amount, new(big.Rat).Neg(locked))
			if rest.Sign() < 0 {
				rest = new(big.Rat)
			}
			shares = r.spread(rest, minutes(func(e *refEntry) bool { return e.invoice == "" }))
		}
		for i, e := range week {
			if e.invoice == "" {
				e.share = shares[i]
			}
		}
	}
}

func (r *reference) costEntry(worker record, e *refEntry, earned map[string]*big.Rat) {
	on, year := e.record["date"], e.record["date"][:4]
	wage := r.wage(worker["code"], on)
	leave := e.record["pay_class"] == "leave"
	for _, basis := range []string{"gross", "straight"} {
		if earned[year+basis] == nil {
			earned[year+basis] = new(big.Rat)
		}
	}
	earns := func(gross, straight *big.Rat) {
		earned[year+"gross"] = plus(earned[year+"gross"], gross)
		if !leave {
			earned[year+"straight"] = plus(earned[year+"straight"], straight)
		}
	}
	if e.invoice != "" {
		if e.cost != nil {
			earns(e.gross, e.straight)
		}
		return
	}
	e.straight, e.gross, e.burden, e.cost, e.charge = new(big.Rat), nil, nil, nil, nil
	row, own := r.labourRow(worker, e)
	chargeable := !leave && e.record["billable"] == "yes" && r.basis(e.record["job"], e.record["phase"]) == "tm"
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
			if wage["per"] == "week" {
				straight, paid = e.share, e.share
			}
			base := map[string]*big.Rat{"gross": paid, "straight": straight}
			extra := r.burden(worker["burden_class"], e.record["cost_code"], on, leave, hours, base, earned, year)
			cost = plus(paid, extra)
			e.straight, gross, burden = plus(e.straight, straight), plus(gross, paid), plus(burden, extra)
			earns(paid, straight)
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
			if text := []string{"", row["overtime_factor"], row["double_factor"], ""}[class]; text != "" {
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

func (r *reference) burden(
	class, code, on string, leave bool, hours *big.Rat, base, earned map[string]*big.Rat, year string,
) *big.Rat {
	total := new(big.Rat)
	names := map[string]bool{}
	for _, b := range r.tables["burdens.csv"] {
		if class == "" || b["class"] != class || names[b["component"]] {
			continue
		}
		names[b["component"]] = true
		with := func(code string) record {
			return latest(r.tables["burdens.csv"], on, func(row record) bool {
				return row.has("class", class, "component", b["component"], "cost_code", code)
			})
		}
		now := record(nil)
		if code != "" {
			now = with(code)
		}
		if now == nil {
			now = with("")
		}
		switch {
		case now == nil:
		case leave && now["basis"] != "gross":
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

// spread is by the largest remainder; where weights have both signs, in proportion to their sum.
func (r *reference) spread(amount *big.Rat, weights []*big.Rat) []*big.Rat {
	total := plus(new(big.Rat), weights...)
	if total.Sign() == 0 {
		for _, w := range weights {
			w.Abs(w)
		}
		total = plus(new(big.Rat), weights...)
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
		whole := new(big.Int).Div(units.Num(), units.Denom()) // toward minus infinity, since a denominator is above 0
		shares[i] = times(new(big.Rat).SetInt(whole), r.unit)
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
		all, taxable := []int{}, []int{}
		net := new(big.Rat)
		for i, l := range lines {
			all = append(all, i)
			if l.record["taxable"] == "yes" {
				taxable = append(taxable, i)
				net.Add(net, l.base)
			}
		}
		freight, tax := r.bySign(rat(d["freight"]), lines, all), r.bySign(rat(d["tax"]), lines, taxable)
		share := new(big.Rat).Abs(rat(d["tax"]))
		switch {
		case len(taxable) == 0:
			tax = r.over(rat(d["tax"]), lines, all, true)
		case rat(d["tax"]).Sign() != 0 && rat(d["tax"]).Sign() == net.Sign() && share.Cmp(times(new(big.Rat).Abs(net), big.NewRat(35, 100))) <= 0:
			tax = r.over(rat(d["tax"]), lines, taxable, false)
		}
		for i, l := range lines {
			l.freight, l.tax = freight[i], tax[i]
			if r.settings["purchase_tax"] == "recovered" {
				l.tax = new(big.Rat)
			}
			l.landed = plus(l.base, l.freight, l.tax)
			r.chargeLine(l)
		}
		r.lines = append(r.lines, lines...)
	}
}

// bySign spreads over those of some lines whose base has the sign of the amount, else over all of them by size.
func (r *reference) bySign(amount *big.Rat, lines []*refLine, among []int) []*big.Rat {
	var same []int
	for _, i := range among {
		if lines[i].base.Sign() != 0 && lines[i].base.Sign() == amount.Sign() {
			same = append(same, i)
		}
	}
	if len(same) == 0 {
		same = among
	}
	return r.over(amount, lines, same, true)
}

// over spreads an amount over some lines by their bases, or by the sizes of these.
func (r *reference) over(amount *big.Rat, lines []*refLine, among []int, sizes bool) []*big.Rat {
	shares := make([]*big.Rat, len(lines))
	for i := range shares {
		shares[i] = new(big.Rat)
	}
	var weights []*big.Rat
	for _, i := range among {
		w := new(big.Rat).Set(lines[i].base)
		if sizes {
			w.Abs(w)
		}
		weights = append(weights, w)
	}
	if len(among) == 0 {
		return shares
	}
	for n, share := range r.spread(amount, weights) {
		shares[among[n]] = share
	}
	return shares
}

func (r *reference) chargeLine(l *refLine) {
	if l.record["job"] == "" || l.record["billable"] != "yes" || r.basis(l.record["job"], l.record["phase"]) != "tm" {
		return
	}
	one := big.NewRat(1, 1)
	switch {
	case l.record["sell_price"] != "":
		l.charge = r.round(times(rat(l.record["quantity"]), rat(l.record["sell_price"])))
	case l.record["markup"] != "":
		l.charge = r.round(times(l.landed, plus(one, percent(l.record["markup"]))))
	default:
		row := r.cardMarkup(l)
		on := map[string]*big.Rat{"": l.landed, "landed": l.landed, "before_tax": plus(l.base, l.freight), "goods": l.base}[row["on"]]
		l.charge = plus(r.round(times(on, plus(one, percent(row["percent"])))), l.landed, new(big.Rat).Neg(on))
	}
}

func (r *reference) cardMarkup(l *refLine) record {
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
			return best
		}
	}
	return record{}
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

// item is an entry or a line on its way to an invoice: what is left of its charge, and what of that is ready.
type item struct {
	job, phase, category, date string
	left, ready                *big.Rat
	billed                     *refBilled
	order                      []string // within a day, after labour before costs
}

// waiting are the approved entries and lines with a charge of which something is left, dated up to a day, each with what is ready of it.
func (r *reference) waiting(through string) []item {
	var items []item
	add := func(i item, charge *big.Rat, order ...string) {
		i.left = plus(charge, new(big.Rat).Neg(i.billed.sum()))
		i.ready, i.order = i.left, order
		if i.left.Sign() != 0 || i.billed.invoice == "" {
			items = append(items, i)
		}
	}
	for _, e := range r.entries {
		if e.record["status"] == "approved" && e.charge != nil && e.record["date"] <= through {
			start := fmt.Sprintf("%08d", e.start)
			if e.start < 0 {
				start = "untimed"
			}
			add(item{job: e.record["job"], phase: e.record["phase"], category: "labour", date: e.record["date"], billed: &e.refBilled}, e.charge,
				"0", e.record["worker"], start, fmt.Sprintf("%08d", e.order))
		}
	}
	for _, l := range r.lines {
		if l.document["status"] == "approved" && l.charge != nil && l.document["date"] <= through {
			line, _ := strconv.Atoi(l.record["line"])
			add(item{
				job: l.record["job"], phase: l.record["phase"], category: l.record["category"], date: l.document["date"], billed: &l.refBilled,
			}, l.charge, "1", l.document["ref"], fmt.Sprintf("%08d", line))
		}
	}
	r.withinLimits(items)
	return items
}

// limitOf is the place whose limit work counts toward, and the limit; blank where there is none.
func (r *reference) limitOf(job, phase string) (place, agreed string) {
	j := r.find("jobs.csv", "number", job)
	if p := r.find("phases.csv", "job", job, "code", phase); phase != "" && p["contract"] != "" {
		return job + "/" + phase, p["contract"]
	}
	if j["basis"] == "tm" && j["contract"] != "" {
		return job, j["contract"]
	}
	return "", ""
}

// withinLimits sets what is ready of each item within the limits.
func (r *reference) withinLimits(items []item) {
	room := map[string]*big.Rat{}
	use := func(job, phase string, amount *big.Rat) {
		place, agreed := r.limitOf(job, phase)
		if place == "" || r.basis(job, phase) != "tm" {
			return
		}
		if room[place] == nil {
			room[place] = rat(agreed)
		}
		room[place] = plus(room[place], new(big.Rat).Neg(amount))
	}
	for _, e := range r.entries {
		use(e.record["job"], e.record["phase"], e.sum())
	}
	for _, l := range r.lines {
		use(l.record["job"], l.record["phase"], l.sum())
	}
	order := make([]int, len(items))
	for i := range order {
		order[i] = i
	}
	slices.SortFunc(order, func(x, y int) int {
		a, b := items[x], items[y]
		below := func(i item) int { return min(i.left.Sign(), 0) }
		return cmp.Or(cmp.Compare(below(a), below(b)), cmp.Compare(a.date, b.date), slices.Compare(a.order, b.order))
	})
	for _, at := range order {
		i := &items[at]
		place, _ := r.limitOf(i.job, i.phase)
		switch {
		case place == "" || i.left.Sign() < 0:
			use(i.job, i.phase, i.left)
		case room[place].Sign() <= 0:
			i.ready = new(big.Rat)
		default:
			if i.left.Cmp(room[place]) > 0 {
				i.ready = room[place]
			}
			use(i.job, i.phase, i.ready)
		}
	}
}

// ready are the items of which something can be billed; of a charge of 0 all of it.
func (r *reference) ready(through string) []item {
	return slices.DeleteFunc(r.waiting(through), func(i item) bool { return i.ready.Sign() == 0 && i.left.Sign() != 0 })
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
	bases, byJobBase := map[string]*big.Rat{}, map[string]*big.Rat{}
	for _, i := range items {
		if !slices.Contains(jobs, i.job) {
			continue
		}
		inv.subtotal = plus(inv.subtotal, i.ready)
		add(inv.byJob, i.job, i.ready)
		add(inv.byPart, i.job+"/"+i.phase, i.ready)
		code := r.find("jobs.csv", "number", i.job)["tax_code"]
		code = cmp.Or(code, customer["tax_code"], r.settings["tax_code"])
		for _, component := range r.components(code) {
			now := latest(r.tables["tax_codes.csv"], through, func(t record) bool { return t.has("code", code, "component", component) })
			if customer["tax_exempt"] != "yes" && now != nil && slices.Contains(strings.Fields(now["applies_to"]), i.category) {
				add(bases, code+"/"+component, i.ready)
				add(byJobBase, code+"/"+component+"/"+i.job, i.ready)
			}
		}
	}
	for key, base := range bases {
		code, component, _ := strings.Cut(key, "/")
		now := latest(r.tables["tax_codes.csv"], through, func(t record) bool { return t.has("code", code, "component", component) })
		inv.tax = plus(inv.tax, r.round(times(base, percent(now["percent"]))))
		if now["retainage_tax"] == "on_release" {
			held := new(big.Rat)
			for job := range inv.byJob {
				if of := byJobBase[key+"/"+job]; of != nil {
					held = plus(held, r.round(times(of, percent(r.find("jobs.csv", "number", job)["retainage"]))))
				}
			}
			inv.tax = plus(inv.tax, new(big.Rat).Neg(r.round(times(held, percent(now["percent"])))))
		}
	}
	inv.retained = map[string]*big.Rat{}
	for job, amount := range inv.byJob {
		retained := r.round(times(amount, percent(r.find("jobs.csv", "number", job)["retainage"])))
		held := new(big.Rat)
		for _, before := range r.invoices {
			if before.retained[job] != nil {
				held.Add(held, before.retained[job])
			}
		}
		if least := new(big.Rat).Neg(held); retained.Sign() < 0 && retained.Cmp(least) < 0 {
			retained = least
		}
		inv.retained[job] = retained
		inv.retainage = plus(inv.retainage, retained)
	}
	total := plus(inv.subtotal, inv.tax)
	if inv.subtotal.Sign() < 0 || total.Sign() < 0 || total.Cmp(inv.retainage) < 0 {
		return
	}
	r.next++
	r.invoices = append(r.invoices, inv)
	for _, i := range items {
		if slices.Contains(jobs, i.job) {
			i.billed.bill(inv.number, through, i.ready)
		}
	}
}

// components are the names of a tax code's components.
func (r *reference) components(code string) []string {
	var names []string
	for _, t := range r.tables["tax_codes.csv"] {
		if t["code"] == code && t["component"] != "" && !slices.Contains(names, t["component"]) {
			names = append(names, t["component"])
		}
	}
	return names
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
		"labour": r.labour(), "costs": r.costs(), "unbilled": r.unbilled(), "invoices": r.invoiceRows(),
		"job-profit": r.profit("", ""), "wip": r.wip("", ""),
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
			strconv.Itoa(e.class[0]), strconv.Itoa(e.class[1]), strconv.Itoa(e.class[2]), strconv.Itoa(e.class[3]), r.money(e.gross),
			r.money(e.burden), r.money(e.cost), r.money(e.charge),
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
				add(sums, i.category, i.ready)
				add(sums, "", i.ready)
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
			r.money(total), r.money(new(big.Rat)), r.money(due), r.money(new(big.Rat)), r.money(new(big.Rat)), r.money(due),
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
