// Package exchange takes a whole company out of a book as a bundle of open files, and brings one in.
package exchange

import (
	"context"
	"fmt"
	"path"
	"slices"
	"strconv"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/form"
	"jarvo/internal/app/ratebook"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/bundle"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/worktime"
	"jarvo/internal/scan"
	"jarvo/internal/store"
)

// Export takes a company's data out as the records of a bundle.
func Export(ctx context.Context, b *book.Book, actor book.Actor) (bundle.Data, error) {
	return book.Read(ctx, b, actor, book.Exchange, func(s *book.Session) (bundle.Data, error) {
		data := bundle.Data{}
		x := &exporter{Session: s, data: data}
		for _, step := range []func() error{
			x.settings, x.codes, x.workers, x.rates, x.customers, x.budgets, x.schedules, x.entries, x.workdays, x.items, x.suppliers,
			x.documents, x.attachments,
			x.reimbursements, x.dismissals, x.marks, x.invoices, x.messages,
		} {
			if err := book.InOrder(s.Stopped, step); err != nil {
				return data, err
			}
		}
		return data, nil
	})
}

type exporter struct {
	*book.Session
	data bundle.Data
}

func (x *exporter) add(file string, cells ...string) { x.data[file] = append(x.data[file], cells) }

func yesNo(b bool) string {
	if b {
		return "yes"
	}
	return "no"
}

func orBlank[T fmt.Stringer](v *T) string {
	if v == nil {
		return ""
	}
	return (*v).String()
}

func (x *exporter) rate(r *money.Rate) string {
	if r == nil {
		return ""
	}
	return x.Currency.FormatRate(*r)
}

func hoursLimit(m *money.Minutes) string {
	if m == nil {
		return ""
	}
	if *m%60 == 0 {
		return strconv.FormatInt(int64(*m/60), 10)
	}
	return (*m).Hours()
}

func (x *exporter) settings() error {
	c := x.Company
	var card, tax string
	for table, into := range map[string]struct {
		id   *int64
		code *string
	}{"rate_cards": {c.RateCardID, &card}, "tax_codes": {c.TaxCodeID, &tax}} {
		codes, err := store.Query[string](x.Tx, "SELECT code FROM "+table+" WHERE id = ?", store.ID(into.id))
		if err != nil {
			return err
		}
		if len(codes) > 0 {
			*into.code = codes[0]
		}
	}
	media, err := store.Query[string](x.Tx, "SELECT media FROM logos WHERE sha256 = ?", store.Text(c.Logo))
	if err != nil {
		return err
	}
	logo := logoFile(strings.Join(media, ""), c.Logo)
	for _, kv := range [][2]string{
		{"company_name", c.CompanyName}, {"address", c.Address}, {"post_code", c.PostCode}, {"city", c.City},
		{"region", c.Region}, {"country", c.Country}, {"logo", logo}, {"email", c.Email}, {"phone", c.Phone}, {"tax_number", c.TaxNumber},
		{"registration", c.Registration}, {"endpoint", c.Endpoint}, {"endpoint_scheme", c.EndpointScheme},
		{"licence", c.Licence}, {"payee", c.Payee}, {"bank", c.Bank}, {"account", c.Account}, {"bank_code", c.BankCode}, {"pay_note", c.PayNote},
		{"paper_size", c.PaperSize}, {"accent", c.Accent},
		{"currency", c.Currency}, {"week_start", c.WeekStart},
		{"overtime_weekly_hours", hoursLimit(c.OvertimeWeeklyMinutes)}, {"overtime_daily_hours", hoursLimit(c.OvertimeDailyMinutes)},
		{"double_daily_hours", hoursLimit(c.DoubleDailyMinutes)},
		{"overtime_days", c.OvertimeDays}, {"double_days", c.DoubleDays},
		{"holiday_class", c.HolidayClass}, {"overtime_factor", c.OvertimeFactor.String()},
		{"double_factor", c.DoubleFactor.String()},
		{"purchase_tax", c.PurchaseTax}, {"distance_unit", c.DistanceUnit}, {"invoice_prefix", c.InvoicePrefix},
		{"next_invoice_number", strconv.FormatInt(c.NextInvoiceNumber, 10)},
		{"next_job_number", strconv.FormatInt(c.NextJobNumber, 10)}, {"terms_days", strconv.FormatInt(c.TermsDays, 10)}, {"rate_card", card},
		{"tax_code", tax},
		{"unbilled_alert_days", strconv.FormatInt(c.UnbilledAlertDays, 10)}, {"time_zone", c.TimeZone},
		{"days_ahead", strconv.FormatInt(c.DaysAhead, 10)},
		{"missing_days", strconv.FormatInt(c.MissingDays, 10)},
	} {
		x.add("settings.csv", kv[0], kv[1])
	}
	holidays, err := store.All[store.Holiday](x.Tx, "date")
	for _, h := range holidays {
		x.add("holidays.csv", h.Date.String(), h.Name)
	}
	return err
}

// logoFile is the name of a logo's file in a bundle, blank for none.
func logoFile(media string, sum *string) string {
	if sum == nil {
		return ""
	}
	return *sum + map[string]string{"image/png": ".png", "image/jpeg": ".jpg"}[media]
}

func (x *exporter) codes() error {
	codes, err := store.All[store.CostCode](x.Tx, "code")
	if err != nil {
		return err
	}
	for _, c := range codes {
		x.add("cost_codes.csv", c.Code, c.Name, yesNo(c.Active))
	}
	trades, err := store.All[store.Trade](x.Tx, "code")
	if err != nil {
		return err
	}
	for _, t := range trades {
		x.add("trades.csv", t.Code, t.Name, yesNo(t.Active))
	}
	type tax struct {
		store.TaxCode
		Component, AppliesTo string
		Scheme               string
		EffectiveFrom        *calendar.Date
		Percent              *money.Percent
	}
	taxes, err := store.Query[tax](x.Tx, taxComponents)
	for _, t := range taxes {
		x.add("tax_codes.csv", t.Code, t.Component, orBlank(t.EffectiveFrom), orBlank(t.Percent), t.AppliesTo, t.Kind, t.Note, t.RetainageTax,
			t.Scheme)
	}
	return err
}

func (x *exporter) workers() error {
	type worker struct {
		store.Worker
		Trade, Class string
	}
	workers, err := store.Query[worker](x.Tx, workerRows)
	if err != nil {
		return err
	}
	for _, w := range workers {
		x.add("workers.csv", w.Code, w.Name, w.Trade, w.Class, w.Crew, yesNo(w.Exempt), w.Kind, yesNo(w.Active))
	}
	type wage struct {
		Worker, Per string
		From        calendar.Date
		Rate        money.Rate
	}
	wages, err := store.Query[wage](x.Tx, wageRows)
	if err != nil {
		return err
	}
	for _, w := range wages {
		x.add("wages.csv", w.Worker, w.From.String(), x.rate(&w.Rate), w.Per)
	}
	type opening struct {
		Worker          string
		Year            int
		Gross, Straight money.Amount
	}
	openings, err := store.Query[opening](x.Tx, openingRows)
	for _, o := range openings {
		x.add("year_openings.csv", o.Worker, strconv.Itoa(o.Year), x.Money(o.Gross), x.Money(o.Straight))
	}
	return err
}

func (x *exporter) rates() error {
	type class struct {
		store.Burden
		Class, CostCode string
	}
	classes, err := store.Query[class](x.Tx, burdenRows)
	if err != nil {
		return err
	}
	for _, b := range classes {
		row := rates.RowOf(x.Session, ratebook.ComponentOf(b.Burden), nil)
		x.add("burdens.csv", b.Class, b.Component, b.CostCode, row.Since, b.Basis, row.Value, row.Cap)
	}
	type labour struct {
		store.LabourRate
		Card, Worker, Trade, CostCode string
	}
	rates, err := store.Query[labour](x.Tx, rateRows)
	if err != nil {
		return err
	}
	for _, r := range rates {
		rate := money.Rate(r.Value)
		value := x.rate(&rate)
		if r.Method == "markup" {
			value = money.Percent(r.Value).String()
		}
		x.add(
			"labour_rates.csv", r.Card, r.EffectiveFrom.String(), r.Worker, r.Trade, r.CostCode, r.Method, value, orBlank(r.OvertimeFactor),
			orBlank(r.DoubleFactor),
		)
	}
	type markup struct {
		store.Markup
		Card string
	}
	markups, err := store.Query[markup](x.Tx, markupRows)
	for _, m := range markups {
		x.add("markups.csv", m.Card, m.EffectiveFrom.String(), m.Category, x.rate(&m.OverCost), m.Percent.String(), m.PutOn)
	}
	return err
}

func (x *exporter) customers() error {
	type customer struct {
		store.Customer
		Card, Tax string
	}
	customers, err := store.Query[customer](x.Tx, customerRows)
	if err != nil {
		return err
	}
	for _, c := range customers {
		terms := ""
		if c.TermsDays != nil {
			terms = strconv.FormatInt(*c.TermsDays, 10)
		}
		x.add(
			"customers.csv", c.Code, c.Name, c.Email, c.Address, c.Phone, terms, c.Card, c.Tax, yesNo(c.TaxExempt), c.InvoicePer, yesNo(c.Active),
			c.PostCode, c.City, c.Region, c.Country, c.TaxNumber, c.Reference, c.Registration, c.Endpoint, c.EndpointScheme,
			yesNo(c.OpenBook),
		)
	}
	type contact struct {
		store.Contact
		Customer string
	}
	contacts, err := store.Query[contact](x.Tx, contactRows)
	if err != nil {
		return err
	}
	for _, c := range contacts {
		x.add("contacts.csv", c.Customer, c.Email, c.Name, c.Role, yesNo(c.Invoices), yesNo(c.Statements), yesNo(c.Reminders))
	}
	type job struct {
		store.Job
		Customer, Card, Tax string
	}
	jobs, err := store.Query[job](x.Tx, jobRows)
	if err != nil {
		return err
	}
	for _, j := range jobs {
		x.add(
			"jobs.csv", j.Number, j.Customer, j.Name, j.Type, j.Status, j.Basis, x.Maybe(j.Contract), j.Card, j.Tax, j.Retainage.String(),
			orBlank(j.Start), orBlank(j.Finish), j.Site, j.Description, yesNo(j.NeedsCostCode), j.OrderNumber,
		)
	}
	type phase struct {
		store.Phase
		Number string
	}
	phases, err := store.Query[phase](x.Tx, phaseRows)
	for _, p := range phases {
		basis := ""
		if p.Basis != nil {
			basis = *p.Basis
		}
		x.add("phases.csv", p.Number, p.Code, p.Name, basis, x.Maybe(p.Contract), yesNo(p.Done))
	}
	return err
}

func (x *exporter) budgets() error {
	type budget struct {
		store.Budget
		Job, Phase, CostCode string
	}
	budgets, err := store.Query[budget](x.Tx, budgetRows)
	for _, b := range budgets {
		hours := ""
		if b.Minutes != nil {
			hours = exactHours(*b.Minutes)
		}
		x.add("budgets.csv", b.Job, b.Phase, b.Category, b.CostCode, hours, x.Money(b.Cost), x.Maybe(b.Forecast))
	}
	return err
}

func (x *exporter) schedules() error {
	type line struct {
		store.ScheduleLine
		Job, Phase string
	}
	lines, err := store.Query[line](x.Tx, scheduleRows)
	if err != nil {
		return err
	}
	for _, l := range lines {
		x.add("schedule_lines.csv", l.Job, strconv.Itoa(l.Position), l.Text, l.Phase, x.Money(l.Amount), yesNo(l.Rest))
	}
	type instalment struct {
		store.Instalment
		Job string
	}
	if err := x.recurring(); err != nil {
		return err
	}
	instalments, err := store.Query[instalment](x.Tx, instalmentRows)
	for _, n := range instalments {
		x.add("instalments.csv", n.Job, strconv.Itoa(n.Position), n.Text, x.Money(n.Amount), n.Percent.String(), yesNo(n.Rest),
			dayText(n.Due), dayText(n.Reached))
	}
	return err
}

func (x *exporter) recurring() error {
	rows, err := store.All[store.Recurring](x.Tx, "id")
	if err != nil {
		return err
	}
	for _, r := range rows {
		x.add("recurring.csv", r.Ref, r.Text, r.First.String(), strconv.Itoa(r.Every), r.Step, dayText(r.Until), strconv.Itoa(r.Made))
	}
	type line struct {
		store.RecurringLine
		Ref, Job string
	}
	lines, err := store.Query[line](x.Tx, recurringLineRows)
	for _, l := range lines {
		x.add("recurring_lines.csv", l.Ref, strconv.Itoa(l.Position), l.Job, l.Category, l.Text, l.Quantity.String(), l.Unit, x.Money(l.Amount))
	}
	return err
}

func dayText(d *calendar.Date) string {
	if d == nil {
		return ""
	}
	return d.String()
}

func (x *exporter) entries() error {
	rows, err := store.Query[timesheet.SheetEntry](x.Tx, timesheet.SheetEntries+" ORDER BY e.id", calendar.Always.From, calendar.Always.To)
	for _, e := range rows {
		hours, start, finish := exactHours(e.Minutes), "", ""
		if e.Start != nil {
			hours, start, finish = "", clockText(*e.Start), clockText(*e.Finish)
		}
		x.add("time_entries.csv", e.Ref, e.WorkerCode, e.Date.String(), e.JobNumber, e.PhaseCode, e.CodeCode, hours, start, finish,
			strconv.FormatInt(int64(e.BreakMinutes), 10),
			yesNo(e.Billable), string(e.PayClass), x.rate(e.Rate), e.Status, e.Note)
	}
	return err
}

func (x *exporter) workdays() error {
	type workday struct {
		store.Workday
		Worker string
	}
	rows, err := store.Query[workday](x.Tx, workdayRows)
	for _, d := range rows {
		x.add("workdays.csv", d.Worker, d.Date.String(), clockText(d.Start), clockText(d.Finish), strconv.FormatInt(int64(d.BreakMinutes), 10))
	}
	return err
}

func (x *exporter) attachments() error {
	type attachment struct {
		store.Attachment
		Document string
	}
	rows, err := store.Query[attachment](x.Tx, attachmentRows)
	for _, a := range rows {
		x.add("attachments.csv", a.Document, a.SHA256+scan.Endings[a.Media], a.Name, book.TimeText(a.AddedAt), a.AddedBy)
	}
	return err
}

// ExportScan reads a scan that an export names.
func ExportScan(ctx context.Context, b *book.Book, actor book.Actor, file string) ([]byte, error) {
	return book.Read(ctx, b, actor, book.Exchange, func(s *book.Session) ([]byte, error) {
		sum := strings.TrimSuffix(file, path.Ext(file))
		logos, err := store.All[store.Logo](s.Tx, "sha256", "sha256 = ?", sum)
		if err != nil {
			return nil, err
		}
		if len(logos) > 0 {
			return logos[0].Data, nil
		}
		put, err := store.Query[[]byte](s.Tx, "SELECT data FROM message_files WHERE sha256 = ? LIMIT 1", sum)
		if err != nil || len(put) > 0 {
			return slices.Concat(put...), err
		}
		return costs.Contents(s, sum)
	})
}

func (x *exporter) reimbursements() error {
	type paid struct {
		Document, Ref, Note string
		Date                calendar.Date
	}
	rows, err := store.Query[paid](x.Tx, reimbursementRows)
	for _, p := range rows {
		x.add("reimbursements.csv", p.Document, p.Ref, p.Date.String(), p.Note)
	}
	return err
}

func (x *exporter) dismissals() error {
	rows, err := store.Query[store.Dismissal](x.Tx, "SELECT * FROM dismissals ORDER BY kind, subject")
	for _, d := range rows {
		x.add("dismissals.csv", d.Kind, d.Subject, d.Reason, book.TimeText(d.At), d.Who)
	}
	return err
}

// marks are what is kept of pieces of work, a file each.
var marks = []struct{ file, table, at, who string }{
	{"holds.csv", "holds", "held_at", "held_by"}, {"let_beyond.csv", "let_beyond", "let_at", "let_by"},
}

// marks are what no bill run takes until somebody lets it go, and what was let go beyond its limit.
func (x *exporter) marks() error {
	type row struct {
		Entry, Document, Line, Note string
		At                          int64
		Who                         string
	}
	for _, m := range marks {
		rows, err := store.Query[row](x.Tx, fmt.Sprintf(markRows, m.table, m.at, m.who))
		if err != nil {
			return err
		}
		for _, r := range rows {
			x.add(m.file, r.Entry, r.Document, r.Line, r.Note, book.TimeText(r.At), r.Who)
		}
	}
	return nil
}

// exactHours writes minutes so that they read back the same: "8", or "8:20".
func exactHours(m money.Minutes) string {
	if m%60 == 0 {
		return strconv.FormatInt(int64(m/60), 10)
	}
	return worktime.Clock(m)
}

func clockText(m money.Minutes) string { return fmt.Sprintf("%02d:%02d", m/60, m%60) }

func (x *exporter) items() error {
	units, err := store.All[store.Unit](x.Tx, "name")
	if err != nil {
		return err
	}
	for _, u := range units {
		x.add("units.csv", u.Name, u.Code)
	}
	items, err := store.All[store.Item](x.Tx, "code")
	if err != nil {
		return err
	}
	codes := map[int64]string{}
	for _, i := range items {
		codes[i.ID] = i.Code
		x.add("items.csv", i.Code, i.Description, i.Category, i.Unit, yesNo(i.Active))
	}
	prices, err := store.Query[store.ItemPrice](x.Tx, itemPriceRows)
	for _, p := range prices {
		x.add("item_prices.csv", codes[p.ItemID], p.EffectiveFrom.String(), x.rate(&p.UnitCost), x.rate(p.SellPrice))
	}
	return err
}

func (x *exporter) suppliers() error {
	type supplier struct {
		store.Supplier
		CostCode string
	}
	suppliers, err := store.Query[supplier](x.Tx, supplierRows)
	for _, r := range suppliers {
		x.add("suppliers.csv", r.Name, r.Category, r.CostCode, form.Days(r.TermsDays), yesNo(r.Active))
	}
	return err
}

func (x *exporter) documents() error {
	type document struct {
		store.Paper
		Worker string
	}
	documents, err := store.Query[document](x.Tx, documentRows)
	if err != nil {
		return err
	}
	for _, d := range documents {
		x.add(
			"cost_documents.csv", d.Ref, d.Kind, d.Supplier, d.Worker, d.Date.String(), d.Number, x.Money(d.Freight), x.Money(d.Tax),
			x.Maybe(d.Total), d.Status, d.Note, d.Crew, d.Void,
		)
	}
	type line struct {
		store.CostLine
		Document, Job, Phase, CostCode, Item string
	}
	lines, err := store.Query[line](x.Tx, lineRows)
	for _, l := range lines {
		x.add(
			"cost_lines.csv", l.Document, l.Line, l.Category, l.Description, l.Quantity.String(), l.Unit, x.rate(&l.UnitCost), l.Job, l.Phase,
			l.CostCode, yesNo(l.Billable), orBlank(l.Markup), x.rate(l.SellPrice), l.Item, yesNo(l.Taxable),
		)
	}
	return err
}
