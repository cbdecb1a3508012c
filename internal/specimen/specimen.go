// Package specimen makes companies at random, of any size, as bundles: what tests compare against a second
// computation, and what benchmarks run on. The same seed and size give the same company.
package specimen

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"time"

	"jarvo/internal/bundle"
	"jarvo/internal/core/calendar"
)

// Size says how large a company is. Days is the span of its work, beginning at [Begin].
type Size struct {
	Workers, Jobs, Entries, CostLines, Days int
}

// Large is the company that benchmarks run on.
var Large = Size{Workers: 50, Jobs: 300, Entries: 150_000, CostLines: 60_000, Days: 3 * 365}

// Begin is the first day of work of every company.
var Begin = calendar.On(2024, time.November, 25)

const (
	firstInvoice = 998 // so that numbers grow a digit
	seedStream   = 4217
)

// company is one under way: its rows so far, and the codes that later rows choose from.
type company struct {
	*rand.Rand
	Size
	data      bundle.Data
	digits    int
	trades    []string
	codes     []string
	cards     []string
	taxes     []string
	customers []string
	workers   []string
	jobs      []string
	phases    map[string][]string
	taken     map[string]bool
}

// Company makes a company.
func Company(seed uint64, size Size) bundle.Data {
	c := &company{
		Rand: rand.New(rand.NewPCG(seed, seedStream)), Size: size, data: bundle.Data{}, phases: map[string][]string{}, taken: map[string]bool{},
	}
	c.settings()
	c.people()
	c.rateCards()
	c.taxCodes()
	c.work()
	c.hours()
	c.priceList()
	c.papers()
	return c.data
}

// row adds a row of named cells; columns that are not named are blank.
func (c *company) row(file string, cells ...string) {
	at := slices.IndexFunc(bundle.Tables, func(t bundle.Table) bool { return t.File == file })
	table := bundle.Tables[at]
	record := make([]string, len(table.Columns))
	for i := 0; i < len(cells); i += 2 {
		column := slices.IndexFunc(table.Columns, func(t bundle.Column) bool { return t.Name == cells[i] })
		record[column] = cells[i+1]
	}
	for i, column := range table.Columns {
		if record[i] == "" {
			record[i] = column.Default
		}
	}
	c.data[file] = append(c.data[file], record)
}

// once says whether a key has not been used before.
func (c *company) once(parts ...string) bool {
	key := strings.Join(parts, "\x00")
	if c.taken[key] {
		return false
	}
	c.taken[key] = true
	return true
}

// in says yes one time in n.
func (c *company) in(n int) bool { return c.IntN(n) == 0 }

func yes(b bool) string {
	if b {
		return "yes"
	}
	return "no"
}

func one[T any](c *company, of []T) T { return of[c.IntN(len(of))] }

// orBlank is one of some codes, or blank one time in n.
func orBlank(c *company, n int, of []string) string {
	if len(of) == 0 || c.in(n) {
		return ""
	}
	return one(c, of)
}

// decimal writes a number of up to places decimals, between low and high.
func (c *company) decimal(low, high, places int) string {
	scale := 1
	for range places {
		scale *= 10
	}
	n := low*scale + c.IntN((high-low)*scale+1)
	text := fmt.Sprintf("%0*d", places+1, n)
	if places == 0 {
		return text
	}
	return text[:len(text)-places] + "." + text[len(text)-places:]
}

func (c *company) amount(low, high int) string { return c.decimal(low, high, c.digits) }

func (c *company) date() string { return (Begin + calendar.Date(c.IntN(c.Days))).String() }

// since is a date that a row of a rate, wage or burden is effective from: mostly before all work, at times within it.
func (c *company) since() string {
	if c.in(3) {
		return c.date()
	}
	return (Begin - calendar.Date(1+c.IntN(40))).String()
}

func (c *company) settings() {
	currency := []string{"USD", "USD", "EUR", "JPY", "TND"}[c.IntN(5)]
	c.digits = map[string]int{"USD": 2, "EUR": 2, "JPY": 0, "TND": 3}[currency]
	weekdays := []string{"monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"}
	set := func(key, value string) { c.row("settings.csv", "key", key, "value", value) }
	set("company_name", "Specimen Works")
	set("currency", currency)
	set("week_start", one(c, weekdays))
	if !c.in(3) {
		set("overtime_weekly_hours", []string{"", "40", "38.5", "20", "0"}[c.IntN(5)])
	}
	if !c.in(2) {
		set("overtime_daily_hours", []string{"8", "7.5", "0"}[c.IntN(3)])
	}
	if !c.in(3) {
		set("double_daily_hours", []string{"", "12", "10"}[c.IntN(3)])
	}
	if c.in(2) {
		set("overtime_days", "saturday")
		set("double_days", "sunday")
	}
	if c.in(2) {
		set("holiday_class", one(c, []string{"regular", "overtime", "double"}))
	}
	set("overtime_factor", []string{"1.5", "1.25", "1.3333"}[c.IntN(3)])
	set("double_factor", []string{"2", "2.5"}[c.IntN(2)])
	set("purchase_tax", []string{"cost", "recovered"}[c.IntN(2)])
	set("invoice_prefix", []string{"", "SW-"}[c.IntN(2)])
	set("next_invoice_number", strconv.Itoa(firstInvoice))
	set("terms_days", strconv.Itoa(c.IntN(45)))
	if !c.in(4) {
		set("rate_card", "STD")
	}
	if c.in(2) {
		set("tax_code", "T0")
	}
	for range c.IntN(4) {
		if date := c.date(); c.once("holiday", date) {
			c.row("holidays.csv", "date", date, "name", "Holiday")
		}
	}
}

func (c *company) people() {
	for i := range 5 {
		c.codes = append(c.codes, strconv.Itoa(100*(i+1)))
		c.row("cost_codes.csv", "code", c.codes[i], "name", "Work "+c.codes[i])
	}
	for _, t := range []string{"mason", "driver", "rigger"} {
		c.trades = append(c.trades, t)
		c.row("trades.csv", "code", t, "name", t)
	}
	for i := range c.Workers {
		code := fmt.Sprintf("W%02d", i+1)
		c.workers = append(c.workers, code)
		c.row("workers.csv", "code", code, "name", "Worker "+code, "trade", orBlank(c, 9, c.trades), "burden_class", orBlank(
			c, 6, []string{"field", "yard"},
		), "crew", one(c, []string{"A", "B", ""}),
			"exempt", yes(c.in(8)), "kind", one(c, []string{"employee", "hired"}))
		for range c.IntN(3) + 1 {
			if since := c.since(); !c.in(12) && c.once("wage", code, since) {
				rate, per := c.decimal(18, 60, 4), "hour"
				if c.in(6) {
					rate, per = c.amount(600, 2400), "week"
				}
				c.row("wages.csv", "worker", code, "effective_from", since, "rate", rate, "per", per)
			}
		}
		if year := Begin.Year() + c.IntN(2); c.in(3) && c.once("opening", code) {
			c.row("year_openings.csv", "worker", code, "year", strconv.Itoa(year), "gross", c.amount(0, 9000), "straight", c.amount(0, 8000))
		}
	}
	for _, class := range []string{"field", "yard"} {
		for _, component := range []string{"Accident", "Benefit", "Cover", "Dues", "Extra"} {
			for range c.IntN(3) {
				since, code := c.since(), ""
				if c.in(3) {
					code = one(c, c.codes)
				}
				if !c.once("burden", class, component, code, since) {
					continue
				}
				basis, value, limit := one(c, []string{"gross", "straight", "hour"}), c.decimal(0, 12, 4), ""
				if basis != "hour" && c.in(2) {
					limit = c.amount(100, 9000)
				}
				if c.in(5) {
					value = "0"
				}
				c.row(
					"burdens.csv", "class", class, "component", component, "cost_code", code, "effective_from", since, "basis", basis,
					"value", value, "annual_wage_cap",
					limit,
				)
			}
		}
	}
}

func (c *company) rateCards() {
	c.cards = []string{"STD", "BAY", "COVE"}
	for i, card := range c.cards {
		for range 3 + c.IntN(8) {
			since, worker, trade, code := c.since(), orBlank(c, 2, c.workers), orBlank(c, 2, c.trades), orBlank(c, 2, c.codes)
			if i == 0 && c.in(4) {
				worker, trade, code = "", "", ""
			}
			if !c.once("rate", card, since, worker, trade, code) {
				continue
			}
			method, value := "hourly", c.decimal(40, 160, 4)
			if c.in(4) {
				method, value = "markup", one(c, []string{"0", "45", "-12.5", "33.3333"})
			}
			c.row("labour_rates.csv", "card", card, "effective_from", since, "worker", worker, "trade", trade, "cost_code", code,
				"method", method, "value", value,
				"overtime_factor", one(c, []string{"", "", "1.4", "1"}), "double_factor", one(c, []string{"", "", "1.8"}))
		}
		for _, category := range costCategories {
			for range c.IntN(3) {
				since, over := c.since(), one(c, []string{"0", "50", "250.5"})
				if c.once("markup", card, since, category, over) {
					c.row(
						"markups.csv", "card", card, "effective_from", since, "category", category, "over_cost", over, "percent",
						one(c, []string{"0", "10", "17.5", "-5", "33.3333"}), "on", one(c, []string{"landed", "landed", "before_tax", "goods"}),
					)
				}
			}
		}
	}
}

var costCategories = []string{"material", "equipment", "subcontract", "expense", "mileage"}

func (c *company) taxCodes() {
	for i := range 4 {
		code := "T" + strconv.Itoa(i)
		c.taxes = append(c.taxes, code)
		if i == 3 {
			c.row("tax_codes.csv", "code", code, "kind", one(c, []string{"zero", "exempt", "reverse_charge"}), "note", "Why there is none")
			continue
		}
		retained := one(c, []string{"with_invoice", "with_invoice", "on_release"})
		for _, component := range []string{"State", "Town", "State"} {
			var applies []string
			for _, category := range append([]string{"labour"}, costCategories...) {
				if !c.in(3) {
					applies = append(applies, category)
				}
			}
			since := ""
			if c.in(2) {
				since = c.since()
			}
			if len(applies) > 0 && c.once("tax", code, component, since) {
				c.row(
					"tax_codes.csv", "code", code, "component", component, "effective_from", since, "percent", c.decimal(0, 9, 4),
					"applies_to", strings.Join(applies, " "), "retainage_tax", retained,
				)
			}
		}
		if !slices.ContainsFunc(c.data["tax_codes.csv"], func(r []string) bool { return r[0] == code }) {
			c.row("tax_codes.csv", "code", code, "component", "State", "percent", "5", "applies_to", "labour", "retainage_tax", retained)
		}
	}
}

func (c *company) work() {
	for i := range max(2, c.Jobs/3) {
		code := fmt.Sprintf("C%03d", i+1)
		c.customers = append(c.customers, code)
		c.row("customers.csv", "code", code, "name", "Customer "+
			code, "terms_days", one(c, []string{"", "0", "14"}), "rate_card", orBlank(c, 2, c.cards), "tax_code", orBlank(c, 2, c.taxes),
			"tax_exempt", yes(c.in(5)), "invoice_per", one(c, []string{"job", "job", "customer"}))
	}
	for i := range c.Jobs {
		number := strconv.Itoa(95 + i)
		if c.in(8) {
			number = "J-" + number
		}
		basis := one(c, []string{"tm", "tm", "tm", "tm", "fixed", "none"})
		customer, contract, retainage := one(c, c.customers), "", ""
		if basis == "none" && c.in(2) {
			customer = ""
		}
		if basis == "fixed" && !c.in(6) {
			contract = c.amount(1000, 90000)
		}
		if basis == "tm" && c.in(4) {
			contract = c.amount(0, 9000) // a limit
		}
		finish := ""
		if c.in(4) {
			finish = c.date()
		}
		if c.in(3) {
			retainage = one(c, []string{"5", "10", "7.5"})
		}
		c.jobs = append(c.jobs, number)
		c.row("jobs.csv", "number", number, "customer", customer, "name", "Job "+number, "status", one(c, []string{
			"live", "live", "finished", "closed",
		}), "basis", basis, "contract", contract,
			"rate_card", orBlank(c, 2, c.cards), "tax_code", orBlank(c, 2, c.taxes), "retainage", retainage, "finish", finish)
		c.budget(number, "")
		for p := range c.IntN(3) {
			phase := string(rune('A' + p))
			bases := []string{"", "", "tm", "fixed", "none"}
			if customer == "" {
				bases = []string{"", "none"} // who would pay?
			}
			c.phases[number] = append(c.phases[number], phase)
			agreed := ""
			if c.in(3) {
				agreed = c.amount(0, 9000)
			}
			c.row(
				"phases.csv", "job", number, "code", phase, "name", "Phase "+phase, "basis", one(c, bases), "contract", agreed,
				"done", yes(c.in(4)),
			)
			c.budget(number, phase)
		}
	}
}

// budget plans some of the kinds of cost of a place, some of them by cost code, and foresees what some come to.
func (c *company) budget(job, phase string) {
	if c.in(2) {
		return
	}
	for _, category := range append([]string{"labour"}, costCategories...) {
		for range c.IntN(3) {
			code, forecast := orBlank(c, 2, c.codes), ""
			if !c.once("budget", job, phase, category, code) {
				continue
			}
			if c.in(4) {
				forecast = c.amount(0, 6000)
			}
			c.row(
				"budgets.csv", "job", job, "phase", phase, "category", category, "cost_code", code, "cost", c.amount(0, 4000),
				"forecast", forecast,
			)
		}
	}
}

func (c *company) hours() {
	for i := range c.Entries {
		job, date := one(c, c.jobs), c.date()
		cells := []string{
			"ref", fmt.Sprintf("T%06d", c.Entries-i), "worker", one(c, c.workers), "date", date, "job", job, "phase", orBlank(c, 2, c.phases[job]),
			"cost_code", orBlank(c, 4, c.codes),
			"billable", yes(!c.in(6)), "pay_class",
			one(c, []string{"auto", "auto", "auto", "auto", "auto", "auto", "regular", "overtime", "double", "leave"}),
			"status", c.status(date),
		}
		if c.in(12) {
			cells = append(cells, "rate", c.decimal(40, 120, 2))
		}
		switch c.IntN(4) {
		case 0:
			start, length := c.IntN(24*60), 60+c.IntN(600)
			finish := (start + length) % (24 * 60)
			cells = append(cells, "start", clock(start), "finish", clock(finish), "break_minutes", strconv.Itoa(c.IntN(45)))
			if day := "workday " + cells[3] + " " + date; !c.taken[day] {
				c.taken[day] = true
				c.row(
					"workdays.csv", "worker", cells[3], "date", date, "start", clock(start), "finish", clock(finish), "break_minutes",
					strconv.Itoa(c.IntN(45)),
				)
			}
		case 1:
			cells = append(cells, "hours", fmt.Sprintf("%d:%02d", c.IntN(10), 1+c.IntN(59)))
		default:
			cells = append(cells, "hours", one(c, []string{"8", "8.5", "10", "0.25", "3.33", "13", "4"}))
		}
		c.row("time_entries.csv", cells...)
	}
}

// status is how far work of a date has come: what is long past has mostly been approved.
func (c *company) status(date string) string {
	settled := (Begin + calendar.Date(c.Days-90)).String()
	if date < settled && !c.in(200) {
		return "approved"
	}
	return one(c, []string{"approved", "approved", "approved", "approved", "submitted", "draft"})
}

func clock(minutes int) string { return fmt.Sprintf("%02d:%02d", minutes/60, minutes%60) }

// priceList has an item of each category, with two prices; lines name one now and then, at a cost of their own.
func (c *company) priceList() {
	for i, category := range costCategories {
		c.row("items.csv", "code", "I-"+category, "description", "The "+category, "category", category, "unit", "ea", "active", yes(i > 0))
		for _, from := range []calendar.Date{Begin - 30, Begin + calendar.Date(c.Days/2)} {
			c.row(
				"item_prices.csv", "item", "I-"+category, "effective_from", from.String(), "unit_cost", fmt.Sprintf("%d.25", 10+i), "sell_price",
				[]string{"", "19.9999"}[i%2],
			)
		}
	}
}

func (c *company) papers() {
	for document, lines := 1, 0; lines < c.CostLines; document++ {
		ref, date := fmt.Sprintf("D%05d", document), c.date()
		freight, tax := "", ""
		if c.in(2) {
			freight = c.amount(0, 300)
		}
		if c.in(2) {
			tax = c.amount(0, 200)
		}
		if c.in(15) && freight != "" {
			freight = "-" + freight
		}
		c.row("cost_documents.csv", "ref", ref, "kind", one(c, []string{
			"supplier_invoice", "receipt", "claim", "mileage", "plant",
		}), "supplier", one(c, []string{"Northquay", "Ostrea", ""}),
			"date", date, "number", strconv.Itoa(document), "freight", freight, "tax", tax, "status", c.status(date))
		for n := range 1 + c.IntN(7) {
			lines++
			job := orBlank(c, 9, c.jobs)
			quantity, unitCost := c.decimal(0, 40, 3), c.decimal(0, 400, 4)
			if c.in(8) {
				quantity = "-" + quantity
			}
			if c.in(15) {
				unitCost = "-" + unitCost // a discount
			}
			category := one(c, costCategories)
			cells := []string{
				"document", ref, "line", strconv.Itoa(n + 1), "category", category, "description", "Goods", "quantity", quantity, "unit_cost",
				unitCost, "job", job,
				"phase", orBlank(c, 2, c.phases[job]), "cost_code", orBlank(c, 2, c.codes), "billable", yes(!c.in(6)), "taxable", yes(!c.in(7)),
			}
			if c.in(8) {
				cells = append(cells, "markup", one(c, []string{"0", "25", "-50", "12.3456"}))
			}
			if c.in(10) {
				cells = append(cells, "sell_price", c.decimal(0, 600, 4))
			}
			if document%3 == 0 {
				cells = append(cells, "item", "I-"+category)
			}
			c.row("cost_lines.csv", cells...)
		}
	}
}
