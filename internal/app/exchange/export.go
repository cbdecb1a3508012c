// Package exchange takes a whole company out of a book as a bundle of open files, and brings one in.
package exchange

import (
	"cmp"
	"context"
	"fmt"
	"path"
	"strconv"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/register"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/bundle"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// Export takes a company's data out as the records of a bundle.
func Export(ctx context.Context, b *book.Book, actor book.Actor) (bundle.Data, error) {
	return book.Read(ctx, b, actor, book.Exchange, func(s *book.Session) (bundle.Data, error) {
		data := bundle.Data{}
		x := &exporter{Session: s, data: data}
		for _, step := range []func() error{
			x.settings, x.codes, x.workers, x.rates, x.customers, x.entries, x.workdays, x.items, x.documents, x.attachments, x.reimbursements,
			x.dismissals, x.invoices,
		} {
			if err := cmp.Or(s.Stopped(), step()); err != nil {
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
	for _, kv := range [][2]string{
		{"company_name", c.CompanyName}, {"address", c.Address}, {"email", c.Email}, {"currency", c.Currency}, {"week_start", c.WeekStart},
		{"overtime_weekly_hours", hoursLimit(c.OvertimeWeeklyMinutes)}, {"overtime_daily_hours", hoursLimit(c.OvertimeDailyMinutes)},
		{"double_daily_hours", hoursLimit(c.DoubleDailyMinutes)},
		{"overtime_days", c.OvertimeDays}, {"double_days", c.DoubleDays}, {"overtime_factor", c.OvertimeFactor.String()},
		{"double_factor", c.DoubleFactor.String()},
		{"purchase_tax", c.PurchaseTax}, {"distance_unit", c.DistanceUnit}, {"invoice_prefix", c.InvoicePrefix},
		{"next_invoice_number", strconv.FormatInt(c.NextInvoiceNumber, 10)},
		{"next_job_number", strconv.FormatInt(c.NextJobNumber, 10)}, {"terms_days", strconv.FormatInt(c.TermsDays, 10)}, {"rate_card", card},
		{"tax_code", tax},
		{"unbilled_alert_days", strconv.FormatInt(c.UnbilledAlertDays, 10)}, {"time_zone", c.TimeZone},
	} {
		x.add("settings.csv", kv[0], kv[1])
	}
	holidays, err := store.All[store.Holiday](x.Tx, "date")
	for _, h := range holidays {
		x.add("holidays.csv", h.Date.String(), h.Name)
	}
	return err
}

func (x *exporter) codes() error {
	for _, table := range []string{"cost_codes", "trades"} {
		rows, err := store.Query[register.Named](x.Tx, "SELECT id, code, name FROM "+table+" ORDER BY code")
		if err != nil {
			return err
		}
		for _, r := range rows {
			x.add(table+".csv", r.Code, r.Name)
		}
	}
	type tax struct {
		store.TaxComponent
		Code string
	}
	taxes, err := store.Query[tax](x.Tx, `SELECT t.*, c.code FROM tax_components t JOIN tax_codes c ON c.id = t.tax_code_id
		ORDER BY c.code, t.id`)
	for _, t := range taxes {
		x.add("tax_codes.csv", t.Code, t.Component, t.Percent.String(), t.AppliesTo)
	}
	return err
}

func (x *exporter) workers() error {
	type worker struct {
		store.Worker
		Trade, Class string
	}
	workers, err := store.Query[worker](x.Tx, `SELECT w.*, ifnull(t.code, '') AS trade, ifnull(b.code, '') AS class FROM workers w
		LEFT JOIN trades t ON t.id = w.trade_id LEFT JOIN burden_classes b ON b.id = w.burden_class_id ORDER BY w.code`)
	if err != nil {
		return err
	}
	for _, w := range workers {
		x.add("workers.csv", w.Code, w.Name, w.Trade, w.Class, w.Crew, yesNo(w.Exempt), w.Kind, yesNo(w.Active))
	}
	type wage struct {
		Worker string
		From   calendar.Date
		Rate   money.Rate
	}
	wages, err := store.Query[wage](x.Tx, `SELECT w.code AS worker, g.effective_from AS "from", g.rate FROM wages g
		JOIN workers w ON w.id = g.worker_id ORDER BY w.code, g.effective_from`)
	if err != nil {
		return err
	}
	for _, w := range wages {
		x.add("wages.csv", w.Worker, w.From.String(), x.rate(&w.Rate))
	}
	type opening struct {
		Worker          string
		Year            int
		Gross, Straight money.Amount
	}
	openings, err := store.Query[opening](x.Tx, `SELECT w.code AS worker, o.year, o.gross, o.straight FROM year_openings o
		JOIN workers w ON w.id = o.worker_id ORDER BY w.code, o.year`)
	for _, o := range openings {
		x.add("year_openings.csv", o.Worker, strconv.Itoa(o.Year), x.Money(o.Gross), x.Money(o.Straight))
	}
	return err
}

func (x *exporter) rates() error {
	type class struct {
		store.Burden
		Class string
	}
	classes, err := store.Query[class](x.Tx, `SELECT b.*, c.code AS class FROM burdens b JOIN burden_classes c ON c.id = b.burden_class_id
		ORDER BY c.code, b.component, b.effective_from`)
	if err != nil {
		return err
	}
	for _, b := range classes {
		row := rates.RowOf(x.Session, costing.ComponentOf(b.Burden))
		x.add("burdens.csv", b.Class, b.Component, row.Since, b.Basis, row.Value, row.Cap)
	}
	type labour struct {
		store.LabourRate
		Card, Worker, Trade, CostCode string
	}
	rates, err := store.Query[labour](x.Tx, `SELECT r.*, c.code AS card, ifnull(w.code, '') AS worker, ifnull(t.code, '') AS trade,
		ifnull(k.code, '') AS cost_code
		FROM labour_rates r JOIN rate_cards c ON c.id = r.card_id LEFT JOIN workers w ON w.id = r.worker_id LEFT
		JOIN trades t ON t.id = r.trade_id
		LEFT JOIN cost_codes k ON k.id = r.cost_code_id ORDER BY c.code, r.effective_from, worker, trade, cost_code`)
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
	markups, err := store.Query[markup](x.Tx, `SELECT m.*, c.code AS card FROM markups m JOIN rate_cards c ON c.id = m.card_id
		ORDER BY c.code, m.effective_from, m.category, m.over_cost`)
	for _, m := range markups {
		x.add("markups.csv", m.Card, m.EffectiveFrom.String(), m.Category, x.rate(&m.OverCost), m.Percent.String())
	}
	return err
}

func (x *exporter) customers() error {
	type customer struct {
		store.Customer
		Card, Tax string
	}
	customers, err := store.Query[customer](x.Tx, `SELECT c.*, ifnull(r.code, '') AS card, ifnull(t.code, '') AS tax FROM customers c
		LEFT JOIN rate_cards r ON r.id = c.rate_card_id LEFT JOIN tax_codes t ON t.id = c.tax_code_id ORDER BY c.code`)
	if err != nil {
		return err
	}
	for _, c := range customers {
		terms := ""
		if c.TermsDays != nil {
			terms = strconv.FormatInt(*c.TermsDays, 10)
		}
		x.add("customers.csv", c.Code, c.Name, c.Email, c.Address, c.Phone, terms, c.Card, c.Tax, yesNo(c.TaxExempt), c.InvoicePer)
	}
	type job struct {
		store.Job
		Customer, Card, Tax string
	}
	jobs, err := store.Query[job](x.Tx, `SELECT j.*, ifnull(c.code, '') AS customer, ifnull(r.code, '') AS card, ifnull(t.code, '') AS tax
		FROM jobs j
		LEFT JOIN customers c ON c.id = j.customer_id LEFT JOIN rate_cards r ON r.id = j.rate_card_id LEFT
		JOIN tax_codes t ON t.id = j.tax_code_id ORDER BY j.number_order`)
	if err != nil {
		return err
	}
	for _, j := range jobs {
		x.add(
			"jobs.csv", j.Number, j.Customer, j.Name, j.Type, j.Status, j.Basis, x.Maybe(j.Contract), j.Card, j.Tax, j.Retainage.String(),
			orBlank(j.Start), orBlank(j.Finish), j.Site, j.Description, yesNo(j.NeedsCostCode),
		)
	}
	type phase struct {
		store.Phase
		Number string
	}
	phases, err := store.Query[phase](x.Tx, `SELECT p.*, j.number FROM phases p JOIN jobs j ON j.id = p.job_id
		ORDER BY j.number_order, p.code`)
	for _, p := range phases {
		basis := ""
		if p.Basis != nil {
			basis = *p.Basis
		}
		x.add("phases.csv", p.Number, p.Code, p.Name, basis, x.Maybe(p.Contract))
	}
	return err
}

func (x *exporter) entries() error {
	rows, err := store.Query[timesheet.SheetEntry](x.Tx, timesheet.SheetEntries+" ORDER BY e.id", -1<<31, 1<<31)
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
	rows, err := store.Query[workday](x.Tx, `SELECT d.*, w.code AS worker FROM workdays d JOIN workers w ON w.id = d.worker_id
		ORDER BY w.code, d.date`)
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
	rows, err := store.Query[attachment](x.Tx, `SELECT a.*, d.ref AS document FROM attachments a JOIN cost_documents d ON d.id = a.document_id
		ORDER BY d.id, a.id`)
	for _, a := range rows {
		x.add("attachments.csv", a.Document, a.SHA256+costs.ScanEndings[a.Media], a.Name, book.TimeText(a.AddedAt), a.AddedBy)
	}
	return err
}

// ExportScan reads a scan that an export names.
func ExportScan(ctx context.Context, b *book.Book, actor book.Actor, file string) ([]byte, error) {
	return book.Read(ctx, b, actor, book.Exchange, func(s *book.Session) ([]byte, error) {
		return costs.Contents(s, strings.TrimSuffix(file, path.Ext(file)))
	})
}

func (x *exporter) reimbursements() error {
	type paid struct {
		Document, Ref, Note string
		Date                calendar.Date
	}
	rows, err := store.Query[paid](x.Tx, `SELECT d.ref AS document, r.ref, r.date, r.note FROM reimbursed_documents p
		JOIN cost_documents d ON d.id = p.document_id JOIN reimbursements r ON r.id = p.reimbursement_id ORDER BY r.id, d.id`)
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

// exactHours writes minutes so that they read back the same: "8", or "8:20".
func exactHours(m money.Minutes) string {
	if m%60 == 0 {
		return strconv.FormatInt(int64(m/60), 10)
	}
	return worktime.Clock(m)
}

func clockText(m money.Minutes) string { return fmt.Sprintf("%02d:%02d", m/60, m%60) }

func (x *exporter) items() error {
	items, err := store.All[store.Item](x.Tx, "code")
	if err != nil {
		return err
	}
	codes := map[int64]string{}
	for _, i := range items {
		codes[i.ID] = i.Code
		x.add("items.csv", i.Code, i.Description, i.Category, i.Unit, yesNo(i.Active))
	}
	prices, err := store.Query[store.ItemPrice](x.Tx, `SELECT p.* FROM item_prices p JOIN items i ON i.id = p.item_id
		ORDER BY i.code, p.effective_from`)
	for _, p := range prices {
		x.add("item_prices.csv", codes[p.ItemID], p.EffectiveFrom.String(), x.rate(&p.UnitCost), x.rate(p.SellPrice))
	}
	return err
}

func (x *exporter) documents() error {
	type document struct {
		store.CostDocument
		Worker string
	}
	documents, err := store.Query[document](x.Tx, `SELECT d.*, ifnull(w.code, '') AS worker FROM cost_documents d LEFT
		JOIN workers w ON w.id = d.worker_id ORDER BY d.id`)
	if err != nil {
		return err
	}
	for _, d := range documents {
		x.add(
			"cost_documents.csv", d.Ref, d.Kind, d.Supplier, d.Worker, d.Date.String(), d.Number, x.Money(d.Freight), x.Money(d.Tax), d.Status,
			d.Note,
		)
	}
	type line struct {
		store.CostLine
		Document, Job, Phase, CostCode, Item string
	}
	lines, err := store.Query[line](x.Tx, `SELECT l.*, ifnull((SELECT i.code FROM items i
		WHERE i.id = l.item_id), '') AS item, d.ref AS document, ifnull(j.number, '') AS job, ifnull(p.code, '') AS phase, ifnull(k.code,
		'') AS cost_code FROM cost_lines l
		JOIN cost_documents d ON d.id = l.document_id LEFT JOIN jobs j ON j.id = l.job_id LEFT JOIN phases p ON p.id = l.phase_id LEFT
		JOIN cost_codes k ON k.id = l.cost_code_id ORDER BY d.id, l.line_order`)
	for _, l := range lines {
		x.add(
			"cost_lines.csv", l.Document, l.Line, l.Category, l.Description, l.Quantity.String(), l.Unit, x.rate(&l.UnitCost), l.Job, l.Phase,
			l.CostCode, yesNo(l.Billable), orBlank(l.Markup), x.rate(l.SellPrice), l.Item,
		)
	}
	return err
}
