// Package bundle reads and writes a company's open data: a folder, or a zip of it, of CSV files
// beside a datapackage.json (docs/bundle.md).
package bundle

import "slices"

// Column is one column of a file. A blank or absent cell has its default.
type Column struct {
	Name     string
	Default  string
	Required bool // it can't be absent or blank
	Key      bool
	Type     string // of the Table Schema: string, number, integer, date, boolean
}

// Table is one file of a bundle.
type Table struct {
	File    string
	Columns []Column
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

// Tables are the files of a bundle, in the order in which they are brought in.
var Tables = []Table{
	{"settings.csv", []Column{text("key").key().needed(), text("value")}},
	{"holidays.csv", []Column{date("date").key().needed(), text("name")}},
	{"cost_codes.csv", []Column{text("code").key().needed(), text("name")}},
	{"trades.csv", []Column{text("code").key().needed(), text("name")}},
	{"workers.csv", []Column{
		text("code").key().needed(), text("name").needed(), text("trade"), text("burden_class"), text("crew"), yesNo("exempt").or("no"),
		text("kind").or("employee"), yesNo("active").or("yes"),
	}},
	{"wages.csv", []Column{text("worker").key().needed(), date("effective_from").key().needed(), number("rate").needed()}},
	{"year_openings.csv", []Column{text("worker").key().needed(), integer("year").key().needed(), number("gross").or("0"), number("straight").or("0")}},
	{"burdens.csv", []Column{
		text("class").key().needed(), text("component").key().needed(), date("effective_from").key().needed(), text("basis").needed(), number("value").needed(), number("annual_wage_cap"),
	}},
	{"tax_codes.csv", []Column{text("code").key().needed(), text("component").key().needed(), number("percent").needed(), text("applies_to").needed()}},
	{"labour_rates.csv", []Column{
		text("card").key().needed(), date("effective_from").key().needed(), text("worker").key(), text("trade").key(), text("cost_code").key(), text("method").needed(), number("value").needed(),
		number("overtime_factor"), number("double_factor"),
	}},
	{"markups.csv", []Column{text("card").key().needed(), date("effective_from").key().needed(), text("category").key().needed(), number("over_cost").key().or("0"), number("percent").needed()}},
	{"customers.csv", []Column{
		text("code").key().needed(), text("name").needed(), text("email"), text("address"), text("phone"), integer("terms_days"), text("rate_card"), text("tax_code"),
		yesNo("tax_exempt").or("no"), text("invoice_per").or("job"),
	}},
	{"jobs.csv", []Column{
		text("number").key().needed(), text("customer"), text("name").needed(), text("type"), text("status").or("live"), text("basis").or("tm"), number("contract"), text("rate_card"),
		text("tax_code"), number("retainage").or("0"), date("start"), date("finish"), text("site"), text("description"), yesNo("needs_cost_code").or("no"),
	}},
	{"phases.csv", []Column{text("job").key().needed(), text("code").key().needed(), text("name"), text("basis"), number("contract")}},
	{"time_entries.csv", []Column{
		text("ref").key().needed(), text("worker").needed(), date("date").needed(), text("job").needed(), text("phase"), text("cost_code"), text("hours"), text("start"), text("finish"),
		text("break_minutes").or("0"), yesNo("billable").or("yes"), text("pay_class").or("auto"), number("rate"), text("status").or("approved"), text("note"),
	}},
	{"workdays.csv", []Column{
		text("worker").key().needed(), date("date").key().needed(), text("start").needed(), text("finish").needed(), text("break_minutes").or("0"),
	}},
	{"items.csv", []Column{text("code").key().needed(), text("description").needed(), text("category").or("material"), text("unit"), yesNo("active").or("yes")}},
	{"item_prices.csv", []Column{text("item").key().needed(), date("effective_from").key().needed(), number("unit_cost").needed(), number("sell_price")}},
	{"cost_documents.csv", []Column{
		text("ref").key().needed(), text("kind").needed(), text("supplier"), text("worker"), date("date").needed(), text("number"), number("freight").or("0"), number("tax").or("0"),
		text("status").or("approved"), text("note"),
	}},
	{"cost_lines.csv", []Column{
		text("document").key().needed(), text("line").key().needed(), text("category").needed(), text("description"), number("quantity").or("1"), text("unit"), number("unit_cost").needed(),
		text("job"), text("phase"), text("cost_code"), yesNo("billable").or("yes"), number("markup"), number("sell_price"), text("item"),
	}},
	{attachments, []Column{
		text("document").key().needed(), text("file").key().needed(), text("name"), text("added_at"), text("added_by"),
	}},
	{"reimbursements.csv", []Column{text("document").key().needed(), text("ref").needed(), date("date").needed(), text("note")}},
	{"dismissals.csv", []Column{text("kind").key().needed(), text("subject").key().needed(), text("reason").needed(), text("at"), text("who")}},
	{"invoices.csv", []Column{
		text("ref").key().needed(), text("status").needed(), text("prefix"), integer("number"), text("customer").needed(), date("date").needed(), date("due").needed(), text("grouping").or("trade"),
		text("title"), text("company_name"), text("company_address"), text("company_email"), text("customer_name"), text("customer_address"), number("subtotal").or("0"), number("tax").or("0"),
		number("retainage").or("0"), number("total").or("0"), number("due_now").or("0"), text("issued_at"),
	}},
	{"invoice_lines.csv", []Column{
		text("invoice").key().needed(), integer("position").key().needed(), text("job").needed(), text("category"), text("text"), integer("minutes").or("0"), number("quantity").or("0"),
		text("unit"), number("amount").needed(),
	}},
	{"invoice_taxes.csv", []Column{
		text("invoice").key().needed(), integer("position").key().needed(), text("tax_code").needed(), text("component").needed(), number("percent").needed(), number("base").needed(),
		number("amount").needed(),
	}},
	{"invoice_jobs.csv", []Column{
		text("invoice").key().needed(), text("job").key().needed(), number("subtotal").needed(), number("retainage_percent").or("0"), number("retainage").or("0"),
	}},
	{"invoice_sources.csv", []Column{
		text("invoice").key().needed(), text("time_entry").key(), text("document").key(), text("line").key(), integer("position"), number("charge").needed(), number("amount").needed(),
	}},
	{"labour_segments.csv", []Column{
		text("time_entry").key().needed(), text("class").key().needed(), integer("minutes").needed(), number("straight").needed(), number("gross").needed(), number("burden").needed(),
		number("cost"), number("charge"),
	}},
	{"landed_costs.csv", []Column{
		text("document").key().needed(), text("line").key().needed(), number("base").needed(), number("freight").needed(), number("tax").needed(), number("charge").needed(),
	}},
	{"payments.csv", []Column{text("ref").key().needed(), text("customer").needed(), date("date").needed(), number("amount").needed(), text("note")}},
	{"payment_allocations.csv", []Column{text("payment").key().needed(), text("invoice").key().needed(), number("amount").needed()}},
}

// attachments lists the scans of papers; its column file names each in the folder [ScanFolder].
const attachments = "attachments.csv"

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
