// Package bundle reads and writes a company's open data: a folder, or a zip of it, of CSV files
// beside a datapackage.json (docs/bundle.md).
package bundle

import (
	"slices"

	"jarvo/internal/core/billing"
)

// Column is one column of a file. A blank or absent cell has its default.
type Column struct {
	Name     string
	Default  string
	Required bool // it can't be absent or blank
	Key      bool
	Type     string // of the Table Schema: string, number, integer, date, boolean
	Doc      string
	Enum     []string // what it can hold, blank for anything
	Refers   string   // the file whose first column it names, blank for none
}

// Table is one file of a bundle.
type Table struct {
	File    string
	Doc     string
	Columns []Column
	Example []string // a row as a template has it
}

// at is the place of a column, -1 where there is none.
func (t Table) at(column string) int {
	return slices.IndexFunc(t.Columns, func(c Column) bool { return c.Name == column })
}

func text(name string) Column    { return Column{Name: name, Type: "string"} }
func number(name string) Column  { return Column{Name: name, Type: "number"} }
func integer(name string) Column { return Column{Name: name, Type: "integer"} }
func date(name string) Column    { return Column{Name: name, Type: "date"} }
func yesNo(name string) Column   { return Column{Name: name, Type: "boolean"} }

func (c Column) or(otherwise string) Column { c.Default = otherwise; return c }
func (c Column) needed() Column             { c.Required = true; return c }
func (c Column) key() Column                { c.Key = true; return c }
func (c Column) of(words ...string) Column  { c.Enum = words; return c }
func (c Column) to(file string) Column      { c.Refers = file; return c }
func (c Column) is(doc string) Column       { c.Doc = doc; return c }

// The words that columns of several files hold.
var (
	statuses   = []string{"draft", "submitted", "approved"}
	bases      = []string{"tm", "fixed", "none"}
	categories = []string{"material", "equipment", "subcontract", "expense", "mileage"}
)

// settingKeys are what settings.csv can hold.
const settingKeys = "company_name, address (the lines above the place), post_code, city, region, country, logo (a file of the folder " +
	"attachments: PNG or JPEG), tax_number, phone, registration, endpoint, endpoint_scheme, licence, payee, " +
	"bank, account, bank_code, pay_note, paper_size (a4 or letter), " +
	"accent (a colour as #2f4575), days_ahead, missing_days, email, " +
	"currency, week_start, time_zone, overtime_weekly_hours, overtime_daily_hours, " +
	"double_daily_hours, overtime_days, double_days, holiday_class (double, overtime or regular), overtime_factor, " +
	"double_factor, purchase_tax, distance_unit, " +
	"invoice_prefix, next_invoice_number, next_job_number, terms_days, rate_card, tax_code, unbilled_alert_days"

// ofExport describes the files that a person does not write.
const ofExport = "What an export writes of what was invoiced and paid, so that a bundle is whole."

// Tables are the files of a bundle, in the order in which they are brought in.
var Tables = []Table{
	{File: "settings.csv", Doc: "The company and its rules, a setting a row.", Columns: []Column{
		text("key").is(settingKeys).key().needed(),
		text("value"),
	}, Example: []string{"company_name", "Brackwater Dock & Pile"}},
	{File: "holidays.csv", Doc: "Days that the company keeps; the setting holiday_class says what work on them is paid.", Columns: []Column{
		date("date").key().needed(), text("name"),
	}, Example: []string{"2026-12-25", "Christmas"}},
	{File: "cost_codes.csv", Doc: "What kind of work hours and costs are booked to.", Columns: []Column{
		text("code").key().needed(), text("name"), yesNo("active").is("offered").or("yes"),
	}, Example: []string{"320", "Drive piles", "yes"}},
	{File: "trades.csv", Doc: "What workers are.", Columns: []Column{
		text("code").key().needed(), text("name"), yesNo("active").is("offered").or("yes"),
	}, Example: []string{"driver", "Pile driver", "yes"}},
	{File: "workers.csv", Doc: "Whose hours are booked.", Columns: []Column{
		text("code").key().needed(), text("name").needed(), text("trade").to("trades.csv"), text("burden_class").is("of burdens.csv"),
		text("crew").is("who they work with"), yesNo("exempt").is("paid no overtime").or("no"),
		text("kind").of("employee", "hired").or("employee"), yesNo("active").or("yes"),
	}, Example: []string{"cato", "Cato Brandl", "driver", "Field", "Pile crew", "no", "employee", "yes"}},
	{File: "wages.csv", Doc: "What a worker earns an hour or a week, from a date on.", Columns: []Column{
		text("worker").to("workers.csv").key().needed(), date("effective_from").is("the first day it holds").key().needed(),
		number("rate").is("money an hour, or a week").needed(), text("per").of("hour", "week").or("hour"),
	}, Example: []string{"cato", "2026-01-01", "38.50", "hour"}},
	{File: "year_openings.csv", Doc: "What a worker had earned in a year before the hours of the book begin: annual wage caps " +
		"count it.", Columns: []Column{
		text("worker").to("workers.csv").key().needed(), integer("year").key().needed(), number("gross").or("0"),
		number("straight").or("0"),
	}, Example: []string{"cato", "2026", "12500.00", "11800.00"}},
	{File: "burdens.csv", Doc: "What comes on top of wages, by class and component, from a date on.", Columns: []Column{
		text("class").key().needed(), text("component").key().needed(),
		text("cost_code").is("the work that the row is for; blank: any that has no rows of its own").to("cost_codes.csv").key(),
		date("effective_from").key().needed(),
		text("basis").is("what it is counted on: gross pay, pay without overtime premiums, or hours").of("gross", "straight", "hour").needed(),
		number("value").is("percent, or money an hour where the basis is hour").needed(),
		number("annual_wage_cap").is("earnings of a year from which it is not paid"),
	}, Example: []string{"Field", "Contributions", "", "2026-01-01", "gross", "7.65", ""}},
	{File: "tax_codes.csv", Doc: "Taxes on what is invoiced. A code that is not standard has one row, without a component.", Columns: []Column{
		text("code").key().needed(), text("component").key(), date("effective_from").is("the first day it holds; blank: always").key(),
		number("percent").is("as 6.25, not 0.0625"),
		text("applies_to").is("categories, parted by spaces: labour material equipment subcontract expense mileage fixed other deposit"),
		text("kind").is("the same in all rows of a code").of("standard", "zero", "exempt", "reverse_charge").or("standard"),
		text("note").is("printed on invoices"),
		text("retainage_tax").is("when the tax on what is retained is due").of("with_invoice", "on_release").or("with_invoice"),
		text("scheme").is("the kind of tax, by UNCL 5153; blank: that of the country").of(billing.TaxSchemes[1:]...),
	}, Example: []string{"HARBOR", "State", "", "6.25", "material equipment", "standard", "", "with_invoice", "STT"}},
	{File: "labour_rates.csv", Doc: "What an hour is charged at, by card, from a date on. Of the rows that fit the one that says most " +
		"decides.", Columns: []Column{
		text("card").key().needed(), date("effective_from").key().needed(), text("worker").to("workers.csv").key(),
		text("trade").to("trades.csv").key(), text("cost_code").to("cost_codes.csv").key(), text("method").of("hourly", "markup").needed(),
		number("value").is("money an hour, or percent on cost where the method is markup").needed(),
		number("overtime_factor"), number("double_factor"),
	}, Example: []string{"STANDARD", "2026-01-01", "", "driver", "", "hourly", "85.00", "1.5", "2"}},
	{File: "markups.csv", Doc: "What is put on costs, by card and category, from a date on.", Columns: []Column{
		text("card").key().needed(), date("effective_from").key().needed(), text("category").of(categories...).key().needed(),
		number("over_cost").is("for unit costs from this on").key().or("0"), number("percent").is("as 15, not 0.15").needed(),
		text("on").is("what it is put on; the rest is passed on at cost").of("landed", "before_tax", "goods").or("landed"),
	}, Example: []string{"STANDARD", "2026-01-01", "material", "0", "15", "landed"}},
	{File: "customers.csv", Doc: "Who pays.", Columns: []Column{
		text("code").key().needed(), text("name").needed(), text("email"), text("address"), text("phone"),
		integer("terms_days").is("days until an invoice is due; blank is the company's"), text("rate_card"),
		text("tax_code").to("tax_codes.csv"),
		yesNo("tax_exempt").or("no"), text("invoice_per").of("job", "customer").or("job"),
		yesNo("active").is("offered").or("yes"), text("post_code"), text("city"), text("region"), text("country").is("ISO 3166, two letters"),
		text("tax_number"), text("reference").is("what they want to see on each invoice"), text("registration"),
		text("endpoint").is("where e-invoices reach them"), text("endpoint_scheme").is("what kind of address that is, by the EAS code list"),
		yesNo("open_book").is("they see what work cost and what was put on it").or("no"),
	}, Example: []string{
		"ferry", "Ferry Landing Trust", "office@ferry.example", "1 Quay Street", "", "30", "STANDARD", "HARBOR", "no", "job", "yes",
		"", "", "", "", "", "", "", "", "", "no",
	}},
	{File: "contacts.csv", Doc: "The people of customers, and what each of them gets by mail.", Columns: []Column{
		text("customer").to("customers.csv").key().needed(), text("email").key().needed(), text("name"), text("role").is("what they do there"),
		yesNo("invoices").or("no"), yesNo("statements").or("no"), yesNo("reminders").or("no"),
	}, Example: []string{"ferry", "accounts@ferry.example", "Ruth Thole", "works manager", "yes", "yes", "no"}},
	{File: "jobs.csv", Doc: "What is worked on, for a customer.", Columns: []Column{
		text("number").key().needed(), text("customer").to("customers.csv"), text("name").needed(), text("type"),
		text("status").of("quoting", "live", "paused", "finished", "closed").or("live"),
		text("basis").is("tm is time and materials").of(bases...).or("tm"), number("contract").is("money agreed"), text("rate_card"),
		text("tax_code").to("tax_codes.csv"), number("retainage").is("percent that the customer holds back").or("0"), date("start"),
		date("finish"), text("site"), text("description"), yesNo("needs_cost_code").or("no"),
		text("order_number").is("the customer's"),
	}, Example: []string{
		"1187", "ferry", "Ferry landing", "pier", "live", "tm", "", "STANDARD", "HARBOR", "5", "2026-03-02", "", "1 Quay Street", "", "no",
		"FL-0417",
	}},
	{File: "phases.csv", Doc: "Parts of a job.", Columns: []Column{
		text("job").to("jobs.csv").key().needed(), text("code").key().needed(), text("name"), text("basis").of(bases...),
		number("contract").is("money agreed for it, apart from its job's"), yesNo("done").or("no"),
	}, Example: []string{"1187", "drive", "Drive piles", "", "", "no"}},
	{File: "budgets.csv", Doc: "What each kind of cost of a job is planned to come to.", Columns: []Column{
		text("job").to("jobs.csv").key().needed(), text("phase").key(),
		text("category").of(slices.Concat([]string{"labour"}, categories)...).key().needed(),
		text("cost_code").to("cost_codes.csv").key(), text("hours").is("8, 8.5 or 8:30"), number("cost").needed(),
		number("forecast").is("what it is expected to cost at completion, where that is not what follows from the rest"),
	}, Example: []string{"1187", "drive", "labour", "320", "120", "5400.00", ""}},
	{File: "schedule_lines.csv", Doc: "The schedules of values of fixed prices: their lines come to the contract.", Columns: []Column{
		text("job").to("jobs.csv").key().needed(), integer("position").key().needed(), text("text").needed(), text("phase"),
		number("amount").needed(), yesNo("rest").is("what was billed before there was a schedule is of this line").or("no"),
	}, Example: []string{"1187", "1", "Mobilise", "", "18400.00", "no"}},
	{File: "instalments.csv", Doc: "Parts of fixed prices agreed beforehand: each an amount, a percentage or the rest.", Columns: []Column{
		text("job").to("jobs.csv").key().needed(), integer("position").key().needed(), text("text").needed(), number("amount").or("0"),
		number("percent").is("of the contract").or("0"), yesNo("rest").is("what is left of the contract").or("no"),
		date("due").is("blank: when its milestone is reached"), date("reached"),
	}, Example: []string{"1187", "1", "At the start", "0", "30", "no", "2026-09-01", ""}},
	{File: "recurring.csv", Doc: "Invoices that come again.", Columns: []Column{
		text("ref").key().needed(), text("text").needed(), date("first").needed(), integer("every").or("1"),
		text("step").of("days", "weeks", "months", "quarters", "years").or("months"), date("until").is("the last date that it can have"),
		integer("made").is("occurrences so far").or("0"),
	}, Example: []string{"R1", "Moorings", "2026-01-31", "1", "months", "", "0"}},
	{File: "recurring_lines.csv", Doc: "The lines of invoices that come again, of jobs of one customer.", Columns: []Column{
		text("recurring").to("recurring.csv").key().needed(), integer("position").key().needed(), text("job").to("jobs.csv").needed(),
		text("category").of("labour", "material", "equipment", "subcontract", "expense", "mileage", "fixed", "other").or("other"),
		text("text").needed(), number("quantity").or("0"), text("unit"), number("amount").needed(),
	}, Example: []string{"R1", "1", "1187", "other", "Two moorings", "2", "each", "240.00"}},
	{File: "time_entries.csv", Doc: "Hours: either a duration, or start, finish and break.", Columns: []Column{
		text("ref").key().needed(), text("worker").to("workers.csv").needed(), date("date").needed(), text("job").to("jobs.csv").needed(),
		text("phase"), text("cost_code").to("cost_codes.csv"), text("hours").is("8, 8.5 or 8:30"), text("start").is("07:00"),
		text("finish"),
		text("break_minutes").or("0"), yesNo("billable").or("yes"),
		text("pay_class").of("auto", "regular", "overtime", "double", "leave").or("auto"), number("rate").is("a price an hour of its own"),
		text("status").of(statuses...).or("approved"), text("note"),
	}, Example: []string{"T1", "cato", "2026-03-02", "1187", "drive", "320", "8.5", "", "", "0", "yes", "auto", "", "approved", ""}},
	{File: "workdays.csv", Doc: "When somebody was at work by the clock. The hours are placed on jobs by time_entries.csv.", Columns: []Column{
		text("worker").to("workers.csv").key().needed(), date("date").key().needed(), text("start").needed(), text("finish").needed(),
		text("break_minutes").or("0"),
	}, Example: []string{"cato", "2026-03-02", "07:00", "15:30", "30"}},
	{File: "units.csv", Doc: "Units of measure of one's own, beside those that everybody has.", Columns: []Column{
		text("name").key().needed(), text("code").is("of the UN's recommendation 20, such as BX").needed(),
	}, Example: []string{"bundle", "BE"}},
	{File: "items.csv", Doc: "The price list.", Columns: []Column{
		text("code").key().needed(), text("description").needed(), text("category").of(categories...).or("material"), text("unit"),
		yesNo("active").or("yes"),
	}, Example: []string{"PILE12", "Timber pile 12 in", "material", "ea", "yes"}},
	{File: "item_prices.csv", Doc: "What an item costs and sells at, from a date on.", Columns: []Column{
		text("item").to("items.csv").key().needed(), date("effective_from").key().needed(), number("unit_cost").needed(),
		number("sell_price"),
	}, Example: []string{"PILE12", "2026-01-01", "412.00", "495.00"}},
	{File: "suppliers.csv", Doc: "Who things are bought from. A supplier that a paper names and that is not here is made.", Columns: []Column{
		text("name").key().needed(), text("category").is("usual; blank: as it was lately").of(categories...),
		text("cost_code").is("usual").to("cost_codes.csv"), integer("terms_days").is("days until its invoices are due"),
		yesNo("active").is("offered").or("yes"),
	}, Example: []string{"Bellhaven Timber", "material", "320", "30", "yes"}},
	{File: "cost_documents.csv", Doc: "Suppliers' invoices, receipts, claims and logs: their heads.", Columns: []Column{
		text("ref").key().needed(), text("kind").of("supplier_invoice", "receipt", "claim", "mileage", "plant").needed(), text("supplier"),
		text("worker").is("who is to be paid back").to("workers.csv"), date("date").needed(), text("number").is("the supplier's"),
		number("freight").or("0"), number("tax").or("0"),
		number("total").is("as printed: lines, freight and tax come to it, save in a draft"),
		text("status").of(statuses...).or("approved"), text("note"), text("crew").is("whose day a plant log is; one a crew and day"),
		text("void").is("why it does not count; blank: it does"),
	}, Example: []string{
		"D1", "supplier_invoice", "Bellhaven Timber", "", "2026-03-04", "55012", "85.00", "42.10", "1775.10", "approved", "", "", "",
	}},
	{File: "cost_lines.csv", Doc: "The lines of cost documents, each for its job.", Columns: []Column{
		text("document").to("cost_documents.csv").key().needed(), text("line").key().needed(), text("category").of(categories...).needed(),
		text("description"), number("quantity").or("1"), text("unit"),
		number("unit_cost").is("blank: that of the price list, where there is an item"),
		text("job").to("jobs.csv"), text("phase"), text("cost_code").to("cost_codes.csv"), yesNo("billable").or("yes"),
		number("markup").is("percent of its own"), number("sell_price").is("money a unit of its own"), text("item").to("items.csv"),
		yesNo("taxable").or("yes"),
	}, Example: []string{
		"D1", "1", "material", "Timber pile 12 in", "4", "ea", "412.00", "1187", "drive", "320", "yes", "", "", "PILE12", "yes",
	}},
	{File: attachments, Doc: "Scans and photos of papers; the files lie in the folder attachments.", Columns: []Column{
		text("document").to("cost_documents.csv").key().needed(),
		text("file").is("in the folder attachments: PDF, PNG or JPEG").key().needed(), text("name"), text("added_at"), text("added_by"),
	}},
	{File: "reimbursements.csv", Doc: "Papers that were paid back to their worker, and by which payment.", Columns: []Column{
		text("document").to("cost_documents.csv").key().needed(), text("ref").needed(), date("date").needed(), text("note"),
	}},
	{File: "dismissals.csv", Doc: "Loose ends that were set aside.", Columns: []Column{
		text("kind").of("hole", "twice", "over", "below", "limit", "no_budget", "short", "otherwise").key().needed(),
		text("subject").is("a worker's code and a date, a supplier and a number, or a job's number").key().needed(),
		text("reason").needed(), text("at"), text("who"),
	}},
	{File: "holds.csv", Doc: "Work that no bill run takes until somebody bills it or lets it go.", Columns: []Column{
		text("time_entry").to("time_entries.csv").key(), text("document").to("cost_documents.csv").key(), text("line").key(),
		text("note"), text("at"), text("who"),
	}},
	{File: "let_beyond.csv", Doc: "Work that was let go beyond its limit: it counts before all other, and in full.", Columns: []Column{
		text("time_entry").to("time_entries.csv").key(), text("document").to("cost_documents.csv").key(), text("line").key(),
		text("note"), text("at"), text("who"),
	}},
	{File: "invoices.csv", Doc: ofExport, Columns: []Column{
		text("ref").key().needed(), text("status").of("draft", "issued").needed(), text("prefix"), integer("number"),
		text("customer").to("customers.csv").needed(), date("date").needed(), date("due").needed(), text("grouping").or("trade"),
		text("title"), text("company_name"), text("company_address"), text("company_email"), text("customer_name"),
		text("customer_address"), number("subtotal").or("0"), number("tax").or("0"),
		number("retainage").or("0"), number("total").or("0"), number("due_now").or("0"), text("issued_at"),
		text("company_tax_number"), text("company_logo").is("in the folder attachments: PNG or JPEG"),
		text("tax_notes").is("what the tax codes say, a line each"), text("order_number").is("the customer's"),
		text("opening").is("text above the lines"), text("closing").is("text below them"),
		text("credit_of").to("invoices.csv").is("of a credit note, whose amounts are below 0: the invoice"),
		number("prepaid").is("deposits applied").or("0"),
		yesNo("show_rates").is("hours with their rate, where the grouping shows them").or("no"),
		text("company_phone"), text("company_country"), text("licence"), text("payee"), text("bank"), text("account"), text("bank_code"),
		text("pay_note"), text("paper_size").is("a4, which blank is too, or letter"), text("accent"),
		text("reference").is("what the customer wants to see on each invoice"),
	}},
	{File: "typed_lines.csv", Doc: "What was typed on invoices: lines that no work stands behind, and discounts.", Columns: []Column{
		text("invoice").to("invoices.csv").key().needed(), integer("position").key().needed(),
		text("kind").of("line", "discount", "progress", "instalment", "deposit").needed(),
		text("job").to("jobs.csv"), text("phase").to("phases.csv"), text("category"), text("text").needed(), number("quantity").or("0"),
		text("unit"), number("percent").is("of a discount; 0 is an amount").or("0"),
		number("amount").is("what it comes to: of a discount below 0").needed(),
		integer("schedule_line").is("of progress: its position in the schedule; 0 is the job as a whole").or("0"),
		integer("instalment").is("its position among those of the job").or("0"),
		number("complete").is("of progress: percent; blank is an amount"), number("stored").or("0"),
		yesNo("beyond").is("more than the contract is meant").or("no"),
	}},
	{File: "invoice_lines.csv", Doc: ofExport, Columns: []Column{
		text("invoice").to("invoices.csv").key().needed(), integer("position").key().needed(), text("job").to("jobs.csv").needed(),
		text("category"), text("text"), integer("minutes").or("0"), number("quantity").or("0"),
		text("unit"), number("amount").needed(), integer("typed_line").is("the position of the typed line that it stands for").or("0"),
		number("rate").is("an hour, where hours and rate are shown; else 0").or("0"),
	}},
	{File: "invoice_taxes.csv", Doc: ofExport, Columns: []Column{
		text("invoice").to("invoices.csv").key().needed(), integer("position").key().needed(), text("tax_code").needed(),
		text("component").needed(), number("percent").needed(), number("base").needed(),
		number("amount").needed(), text("applies_to").is("the categories that it is on, separated by a space"),
		yesNo("on_release").is("the tax of what is retained is due when that is released").or("no"),
		text("deposit").to("invoices.csv").is("of what is deducted: the deposit that it was charged on"),
		text("scheme").is("the kind of tax, as it was issued").of(billing.TaxSchemes[1:]...),
	}},
	{File: "invoice_jobs.csv", Doc: ofExport, Columns: []Column{
		text("invoice").to("invoices.csv").key().needed(), text("job").to("jobs.csv").key().needed(), number("subtotal").needed(),
		number("retainage_percent").or("0"), number("retainage").or("0"),
		text("tax_code").is("that its work is taxed by"),
		number("contract").is("agreed of its fixed work, as it was issued"), number("billed_to_date").is("of that"),
		number("held_to_date").is("retained of the job"), text("site").is("of the job, as it was issued"),
		text("tax_kind").is("of the tax code, as it was issued").of("standard", "zero", "exempt", "reverse_charge"), text("tax_note"),
		text("order_number").is("the customer's, of the job, as it was issued"),
	}},
	{File: "invoice_parties.csv", Doc: ofExport, Columns: []Column{
		text("invoice").to("invoices.csv").key().needed(), text("side").of("seller", "buyer").key().needed(), text("street"),
		text("post_code"), text("city"), text("region"), text("country"), text("tax_number"), text("email"), text("registration"),
		text("endpoint"), text("endpoint_scheme"),
	}},
	{File: "invoice_sources.csv", Doc: ofExport, Columns: []Column{
		text("invoice").to("invoices.csv").key().needed(), text("time_entry").to("time_entries.csv").key(),
		text("document").to("cost_documents.csv").key(), text("line").key(), integer("position"), number("charge").needed(),
		number("amount").needed(), integer("part").is("which part of the work it is").or("1"),
		text("way").of("rest", "fit", "hours", "quantity", "percent", "amount").or("rest").is("how the part was chosen: all that is left, what " +
			"fits within a limit, or so much of it"),
		integer("typed").is("minutes, 1/1 000 of a unit, 1/10 000 of a percent or an amount in the smallest coin, by the way").or("0"),
		text("runs").is("the minutes of an entry that the part holds, as 0-200 480-510"),
		number("up").is("of the amount: beyond what was left").or("0"),
		number("down").is("of what the part leaves: written down").or("0"), yesNo("all_down").is("all that it leaves is").or("no"),
		text("reason").is("why it is written down"),
		yesNo("released").is("it was credited wholly, to bill again, and counts for nothing any more").or("no"),
	}},
	{File: "releases.csv", Doc: "Retainage that invoices release, by job, and of an issued one from which invoices.", Columns: []Column{
		text("invoice").to("invoices.csv").key().needed(), text("job").to("jobs.csv").key().needed(),
		text("from").to("invoices.csv").is("the invoice that it was held on; blank is all that is released of the job").key(),
		number("amount").needed(),
	}},
	{File: "applied_deposits.csv", Doc: "What of deposits is applied to invoices and drafts, before tax.", Columns: []Column{
		text("invoice").to("invoices.csv").key().needed(),
		text("deposit").to("invoices.csv").is("the invoice that asked for it").key().needed(), number("amount").needed(),
	}},
	{File: "credits.csv", Doc: "What credit notes credit. " + ofExport, Columns: []Column{
		text("invoice").to("invoices.csv").key().needed().is("the note"), text("time_entry").to("time_entries.csv").key(),
		text("document").to("cost_documents.csv").key(), text("line").key(), integer("part").key().or("0"),
		integer("line_position").is("of a line that was typed on the invoice").key().or("0"),
		integer("position").is("of the line on the note").needed(), number("amount").needed(),
		number("up").is("of it: what had been written up").or("0"),
		text("becomes").of("again", "allowed").is("to bill again, or allowed: written down").needed(), text("reason"),
	}},
	{File: "write_backs.csv", Doc: "What was taken back of what issued invoices had written down.", Columns: []Column{
		text("invoice").to("invoices.csv").key().needed(), text("time_entry").to("time_entries.csv").key(),
		text("document").to("cost_documents.csv").key(), text("line").key(), integer("part").key().or("1"),
		integer("nth").is("which of the part it is").key().or("1"), date("date").needed(),
		number("amount").needed(), text("note"),
	}},
	{File: "labour_segments.csv", Doc: ofExport, Columns: []Column{
		text("time_entry").to("time_entries.csv").key().needed(), text("class").of("regular", "overtime", "double", "leave").key().needed(),
		integer("minutes").needed(), number("straight").needed(), number("gross").needed(), number("burden").needed(),
		number("cost"), number("charge"),
	}},
	{File: "landed_costs.csv", Doc: ofExport, Columns: []Column{
		text("document").to("cost_documents.csv").key().needed(), text("line").key().needed(), number("base").needed(),
		number("freight").needed(), number("tax").needed(), number("charge").needed(),
	}},
	{File: "payments.csv", Doc: ofExport, Columns: []Column{
		text("ref").key().needed(), text("customer").to("customers.csv").needed(), date("date").needed(), number("amount").needed(),
		text("note"), text("method").is("how it came"), text("reference"), text("taken_back").is("why it was taken back, where it was"),
		text("kind").of("payment", "refund").or("payment"), date("taken_back_on").is("by default its date"),
	}},
	{File: "payment_allocations.csv", Doc: ofExport, Columns: []Column{
		text("payment").to("payments.csv").key().is("blank: from the customer's credit"),
		text("invoice").to("invoices.csv").key().needed(), integer("entry").or("1").key().is("which of a payment and an invoice"),
		number("amount").needed().is("below 0: lifted again"), date("date").is("by default the later of the payment's and the invoice's"),
	}},
	{File: "bank_lines.csv", Doc: "What the bank told of the company's account, each movement once.", Columns: []Column{
		text("ref").key().needed(), text("account"), date("date").needed(), number("amount").needed().is("below 0: it went out"),
		text("name"), text("text"), text("bank_ref"), text("payment").to("payments.csv").is("that it was recorded as"),
		text("aside").is("why it was set aside"),
	}},
	{File: "messages.csv", Doc: "What was sent to customers. What waits to be sent counts as failed: no other book sends it once more.",
		Columns: []Column{
			text("ref").key().needed(), text("kind").of("invoice", "reminder", "statement").needed(),
			integer("stage").or("0").is("which of the three reminders"), text("customer").to("customers.csv").needed(),
			text("sender").needed(), text("recipients").is("mail addresses, between commas").needed(), text("subject").needed(), text("body"),
			text("status").of("sent", "failed", "cancelled").needed(), integer("tries").or("0"), text("tried_at"),
			text("problem").is("what was said at the last try"), text("made_at").needed(), text("made_by"),
		}},
	{File: "message_invoices.csv", Doc: "Which invoices messages are about.", Columns: []Column{
		text("message").to("messages.csv").key().needed(), text("invoice").to("invoices.csv").key().needed(),
	}},
	{File: messageFiles, Doc: "What was attached to messages; the files lie in the folder attachments.", Columns: []Column{
		text("message").to("messages.csv").key().needed(), integer("position").key().needed(), text("name").needed(),
		text("file").is("in the folder attachments: PDF, XML").needed(),
	}},
	{File: "message_texts.csv", Doc: "Texts of messages in the company's own words.", Columns: []Column{
		text("kind").of("invoice", "credit_note", "statement", "reminder_1", "reminder_2", "reminder_3").key().needed(),
		text("subject").needed(), text("body").needed(),
	}},
}

// attachments lists the scans of papers; its column file names each in the folder [ScanFolder].
const attachments = "attachments.csv"

// messageFiles lists what was attached to messages; its column file names each in the folder [ScanFolder].
const messageFiles = "message_files.csv"

// ScanFolder is the folder of a bundle that holds scans of papers.
const ScanFolder = "attachments"

func tableOf(file string) (Table, bool) {
	for _, t := range Tables {
		if t.File == file {
			return t, true
		}
	}
	return Table{}, false
}
