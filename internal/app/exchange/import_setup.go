package exchange

import (
	"fmt"
	"net/mail"
	"slices"
	"strconv"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/company"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/form"
	"jarvo/internal/app/jobs"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/iban"
	"jarvo/internal/core/money"
	"jarvo/internal/core/postal"
	"jarvo/internal/core/pricing"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// smallPercent is a percentage below which a fraction may have been meant: 0.0625 for 6.25.
const smallPercent money.Percent = money.Whole / 200

// percent reads a percentage. One that is as small as if it were a fraction is asked about, unless the bundle is one that Jarvo wrote or
// whoever brings it in has said that they are meant.
func (c cell) percent(column string, parse func(string) (money.Percent, error)) money.Percent {
	p := read(c, column, parse)
	if p > 0 && p < smallPercent && !c.bundle.SmallPercents {
		c.wrong(
			column, "%s is %s of a hundred; write %s if that is meant, or bring the bundle in with --small-percents if it is meant as it is",
			c.Get(column), p, 100*p,
		)
	}
	return p
}

func (im *importer) holiday(c cell) error {
	before := im.faults
	on := read(c, "date", calendar.Parse)
	if err := c.good(before); err != nil {
		return err
	}
	written := im.Exec(keepHoliday, on, c.Get("name"))
	im.all = im.all || written.RowsAffected > 0
	return written.Error
}

func (im *importer) costCode(c cell) error {
	row := store.CostCode{Code: c.Get("code"), Name: c.Get("name"), Active: c.yes("active"), Version: 1}
	return keptCostCodes.saveRule(c, row.Code, &row)
}

func (im *importer) trade(c cell) error {
	row := store.Trade{Code: c.Get("code"), Name: c.Get("name"), Active: c.yes("active"), Version: 1}
	return keptTrades.saveRule(c, row.Code, &row)
}

func (im *importer) worker(c cell) error {
	before := im.faults
	row := store.Worker{
		Code: c.Get("code"), Name: c.Get("name"), TradeID: c.refer("trade", "trades"), BurdenClassID: c.orNew("burden_class", "burden_classes"),
		Crew:   c.Get("crew"),
		Exempt: c.yes("exempt"), Kind: c.oneOf("kind", store.Employee, store.Hired), Active: c.yes("active"), Version: 1,
	}
	if err := c.good(before); err != nil {
		return err
	}
	return keptWorkers.saveRule(c, row.Code, &row)
}

func (im *importer) wage(c cell) error {
	before := im.faults
	row := store.Wage{
		WorkerID: store.ID(c.refer("worker", "workers")), EffectiveFrom: read(c, "effective_from", calendar.Parse),
		Per: c.oneOf("per", store.PerHour, store.PerWeek), Version: 1,
	}
	if row.Per == store.PerWeek {
		row.Rate = read(c, "rate", im.WeekRate)
	} else {
		row.Rate = read(c, "rate", form.ParseRate)
	}
	if row.Rate < 0 {
		c.wrong("rate", "a wage can't be below 0")
	}
	if err := c.good(before); err != nil {
		return err
	}
	return keptWages.saveRule(c, fmt.Sprintf("%d/%d", row.WorkerID, row.EffectiveFrom), &row)
}

func (im *importer) opening(c cell) error {
	before := im.faults
	worker := store.ID(c.refer("worker", "workers"))
	year := read(c, "year", form.SequenceNumber)
	gross, straight := read(c, "gross", im.ParseAmount), read(c, "straight", im.ParseAmount)
	if err := c.good(before); err != nil {
		return err
	}
	written := im.Exec(keepOpening, worker, year, gross, straight)
	im.all = im.all || written.RowsAffected > 0
	return written.Error
}

func (im *importer) burden(c cell) error {
	before := im.faults
	row := store.Burden{
		BurdenClassID: store.ID(c.orNew("class", "burden_classes")), Component: c.Get("component"),
		CostCodeID: c.refer("cost_code", "cost_codes"), EffectiveFrom: read(c, "effective_from", calendar.Parse),
		Basis: c.oneOf("basis", "gross", "straight", "hour"), AnnualWageCap: readOptional(c, "annual_wage_cap", im.ParseAmount),
	}
	if row.Basis == "hour" {
		row.Value = int64(read(c, "value", form.ParseRate))
		if row.AnnualWageCap != nil {
			c.wrong("annual_wage_cap", "a component paid by the hour can't have a cap")
		}
	} else {
		row.Value = int64(c.percent("value", form.ParsePercent))
	}
	if row.Value < 0 {
		c.wrong("value", "burden can't be below 0")
	}
	if row.AnnualWageCap != nil && *row.AnnualWageCap < 0 {
		c.wrong("annual_wage_cap", "a cap can't be below 0")
	}
	if err := c.good(before); err != nil {
		return err
	}
	return keptBurdens.saveRule(c, fmt.Sprintf(
		"%d/%s/%d/%d", row.BurdenClassID, row.Component, store.ID(row.CostCodeID), row.EffectiveFrom,
	), &row)
}

// taxHead is what all rows of a tax code say alike.
type taxHead struct{ kind, note, retainage string }

func (im *importer) taxCode(c cell) error {
	before := im.faults
	head := taxHead{c.oneOf("kind", words.Texts(billing.TaxKinds)...), c.Get("note"), c.oneOf("retainage_tax", "with_invoice", "on_release")}
	code := store.ID(c.orNew("code", "tax_codes"))
	if had, there := im.taxes[c.Get("code")]; !there {
		im.taxes[c.Get("code")] = head
		if err := im.taxHead(code, head); err != nil {
			return err
		}
	} else if had != head {
		c.wrong("kind", "kind, note and retainage_tax are the same in all rows of a tax code; an earlier row of %s has others", c.Get("code"))
	}
	if head.kind != string(billing.Standard) {
		if c.Get("component")+c.Get("percent")+c.Get("applies_to")+c.Get("scheme") != "" {
			c.wrong("component", "a tax code of the kind %s has no components; leave component, percent, applies_to and scheme blank", head.kind)
		}
		return c.good(before)
	}
	row := store.TaxComponent{
		TaxCodeID: code, Component: c.Get("component"), EffectiveFrom: readOptional(c, "effective_from", calendar.Parse),
		Percent: c.percent("percent", form.ParsePercent), AppliesTo: strings.Join(strings.Fields(c.Get("applies_to")), " "),
		Scheme: c.oneOf("scheme", billing.TaxSchemes...),
	}
	if row.Component == "" {
		c.wrong("component", "this can't be blank")
	}
	if row.AppliesTo == "" {
		c.wrong("applies_to", "this can't be blank")
	}
	for _, category := range strings.Fields(row.AppliesTo) {
		if !slices.Contains(billing.Categories, category) {
			c.wrong("applies_to", "%q is not a category; they are %s", category, strings.Join(billing.Categories, ", "))
		}
	}
	if row.Percent < 0 {
		c.wrong("percent", "a tax can't be below 0")
	}
	if err := c.good(before); err != nil {
		return err
	}
	return keptTaxes.saveRule(c, fmt.Sprintf("%d/%s/%s", row.TaxCodeID, row.Component, dayNumber(row.EffectiveFrom)), &row)
}

// dayNumber is a day as the database has it, blank for none.
func dayNumber(d *calendar.Date) string {
	if d == nil {
		return ""
	}
	return strconv.Itoa(int(*d))
}

// taxHead brings up to date what a tax code says of itself. A kind without components has none.
func (im *importer) taxHead(code int64, head taxHead) error {
	written := im.Exec(keepTaxHead, map[string]any{"id": code, "kind": head.kind, "note": head.note, "retainage": head.retainage})
	if written.Error != nil || written.RowsAffected == 0 {
		return written.Error
	}
	im.all = true
	if head.kind == string(billing.Standard) {
		return nil
	}
	return im.Run("DELETE FROM tax_components WHERE tax_code_id = ?", code)
}

func (im *importer) budget(c cell) error {
	before := im.faults
	row := store.Budget{
		JobID: store.ID(c.refer("job", "jobs")), PhaseID: c.phaseOf(), Category: c.oneOf("category", jobs.BudgetCategories...),
		CostCodeID: c.refer("cost_code", "cost_codes"), Minutes: readOptional(c, "hours", form.PlannedHours),
		Cost: read(c, "cost", im.ParseAmount), Forecast: readOptional(c, "forecast", im.ParseAmount), Version: 1,
	}
	if row.Cost < 0 || row.Forecast != nil && *row.Forecast < 0 {
		c.wrong("cost", "what is planned can't be below 0")
	}
	if row.Minutes != nil && row.Category != billing.Labour {
		c.wrong("hours", "only labour has hours")
	}
	if err := c.good(before); err != nil {
		return err
	}
	key := fmt.Sprintf("%d/%d/%s/%d", row.JobID, store.ID(row.PhaseID), row.Category, store.ID(row.CostCodeID))
	_, _, err := keptBudgets.save(c, key, &row)
	return err
}

func (im *importer) labourRate(c cell) error {
	before := im.faults
	row := store.LabourRate{
		CardID: store.ID(c.orNew("card", "rate_cards")), EffectiveFrom: read(c, "effective_from", calendar.Parse),
		WorkerID: c.refer("worker", "workers"), TradeID: c.refer("trade", "trades"),
		CostCodeID: c.refer("cost_code", "cost_codes"), Method: c.oneOf("method", "hourly", "markup"),
		OvertimeFactor: readOptional(c, "overtime_factor", form.ParseFactor), DoubleFactor: readOptional(c, "double_factor", form.ParseFactor),
	}
	if row.Method == "markup" {
		row.Value = int64(c.percent("value", form.MarkupPercent))
	} else {
		row.Value = int64(read(c, "value", form.ParseRate))
		if row.Value < 0 {
			c.wrong("value", "a price can't be below 0")
		}
	}
	for column, f := range map[string]*money.Factor{"overtime_factor": row.OvertimeFactor, "double_factor": row.DoubleFactor} {
		if f != nil && *f <= 0 {
			c.wrong(column, "a factor must be more than 0")
		}
	}
	if err := c.good(before); err != nil {
		return err
	}
	key := fmt.Sprintf(
		"%d/%d/%d/%d/%d", row.CardID, row.EffectiveFrom, store.ID(row.WorkerID), store.ID(row.TradeID), store.ID(row.CostCodeID),
	)
	return keptLabourRates.saveRule(c, key, &row)
}

func (im *importer) markup(c cell) error {
	before := im.faults
	row := store.Markup{
		CardID: store.ID(c.orNew("card", "rate_cards")), EffectiveFrom: read(c, "effective_from", calendar.Parse),
		Category: c.oneOf("category", pricing.Categories...),
		OverCost: read(c, "over_cost", form.ParseRate), Percent: c.percent("percent", form.MarkupPercent),
		PutOn: c.oneOf("on", words.Texts(pricing.Bases)...),
	}
	if row.OverCost < 0 {
		c.wrong("over_cost", "a unit cost can't be below 0 here")
	}
	if err := c.good(before); err != nil {
		return err
	}
	return keptMarkups.saveRule(c, fmt.Sprintf("%d/%d/%s/%d", row.CardID, row.EffectiveFrom, row.Category, row.OverCost), &row)
}

func (im *importer) customer(c cell) error {
	before := im.faults
	row := store.Customer{
		Code: c.Get("code"), Name: c.Get("name"), Email: c.Get("email"), Address: c.Get("address"), Phone: c.Get("phone"),
		TermsDays:  readOptional(c, "terms_days", form.WholeDays),
		RateCardID: c.orNew("rate_card", "rate_cards"), TaxCodeID: c.refer("tax_code", "tax_codes"), TaxExempt: c.yes("tax_exempt"),
		InvoicePer: c.oneOf("invoice_per", "job", "customer"), Active: c.yes("active"), Version: 1,
		PostCode: c.Get("post_code"), City: c.Get("city"), Region: c.Get("region"), TaxNumber: c.Get("tax_number"),
		Reference: c.Get("reference"), OpenBook: c.yes("open_book"), Registry: c.registry(),
	}
	if c.Get("country") != "" {
		row.Country = read(c, "country", postal.Country)
	}
	if err := c.good(before); err != nil {
		return err
	}
	return keptCustomers.saveRule(c, row.Code, &row)
}

func (im *importer) contact(c cell) error {
	before := im.faults
	row := store.Contact{
		CustomerID: store.ID(c.refer("customer", "customers")), Name: c.Get("name"), Role: c.Get("role"), Email: c.address("email"),
		Invoices: c.yes("invoices"), Statements: c.yes("statements"), Reminders: c.yes("reminders"),
	}
	if err := c.good(before); err != nil {
		return err
	}
	_, _, err := keeper[store.Contact]{table: "contacts", id: func(r *store.Contact) *int64 { return &r.ID }}.save(
		c, c.Get("customer")+"\x00"+row.Email, &row,
	)
	return err
}

// address reads one mail address, without a name.
func (c cell) address(column string) string {
	at, err := mail.ParseAddress(c.Get(column))
	if err != nil || at.Name != "" {
		c.wrong(column, "%q is not a mail address, such as name@firm.example", words.Shortened(c.Get(column)))
		return ""
	}
	return at.Address
}

// registry is by which numbers a row says that a company is known.
func (c cell) registry() store.Registry {
	return store.Registry{Registration: c.Get("registration"), Endpoint: c.Get("endpoint"), EndpointScheme: c.Get("endpoint_scheme")}
}

func (im *importer) job(c cell) error {
	before := im.faults
	row := store.Job{
		Number: c.Get("number"), NumberOrder: words.SortKey(c.Get("number")), CustomerID: c.refer("customer", "customers"), Name: c.Get("name"),
		Type:   c.Get("type"),
		Status: c.oneOf("status", store.JobStatuses...), Basis: c.oneOf("basis", billing.Bases...),
		Contract: readOptional(c, "contract", im.ParseAmount), RateCardID: c.orNew("rate_card", "rate_cards"),
		TaxCodeID: c.refer("tax_code", "tax_codes"),
		Retainage: c.percent("retainage", form.ParsePercent), Start: readOptional(c, "start", calendar.Parse),
		Finish: readOptional(c, "finish", calendar.Parse),
		Site:   c.Get("site"), Description: c.Get("description"), NeedsCostCode: c.yes("needs_cost_code"), Version: 1,
		OrderNumber: c.Get("order_number"),
	}
	if c.Get("customer") == "" && row.Basis != string(billing.Never) {
		c.wrong("customer", "a job without a customer must have the basis none")
	}
	if row.Retainage < 0 || row.Retainage > money.Whole {
		c.wrong("retainage", "retainage is between 0 and 100")
	}
	if row.Contract != nil && *row.Contract < 0 {
		c.wrong("contract", "a contract can't be below 0")
	}
	if err := c.good(before); err != nil {
		return err
	}
	return keptJobs.saveRule(c, row.Number, &row)
}

func (im *importer) phase(c cell) error {
	before := im.faults
	row := store.Phase{
		JobID: store.ID(c.refer("job", "jobs")), Code: c.Get("code"), Name: c.Get("name"), Contract: readOptional(c, "contract", im.ParseAmount),
		Done: c.yes("done"),
	}
	if c.Get("basis") != "" {
		basis := c.oneOf("basis", billing.Bases...)
		row.Basis = &basis
		if job, found, err := store.One[store.Job](im.Tx, row.JobID); err != nil {
			return err
		} else if found && job.CustomerID == nil && basis != string(billing.Never) {
			c.wrong("basis", "job %s has no customer to bill; the basis of its phases is none", job.Number)
		}
	}
	if err := c.good(before); err != nil {
		return err
	}
	return keptPhases.saveRule(c, c.Get("job")+"\x00"+row.Code, &row)
}

// phaseOf resolves a phase of the row's job.
func (c cell) phaseOf() *int64 {
	code := c.Get("phase")
	if code == "" {
		return nil
	}
	if phase, ok := c.ids["phases"][c.Get("job")+"\x00"+code]; ok {
		return &phase
	}
	c.wrong("phase", "job %q has no phase %q", c.Get("job"), code)
	return nil
}

// The tables of rules, by what an import does with a row of them that is there already.
var (
	keptCostCodes = keeper[store.CostCode]{
		table: "cost_codes", id: func(r *store.CostCode) *int64 { return &r.ID }, version: func(r *store.CostCode) *int64 { return &r.Version },
	}
	keptTrades = keeper[store.Trade]{
		table: "trades", id: func(r *store.Trade) *int64 { return &r.ID }, version: func(r *store.Trade) *int64 { return &r.Version },
	}
	keptTaxes   = keeper[store.TaxComponent]{table: "tax_components", id: func(r *store.TaxComponent) *int64 { return &r.ID }}
	keptBudgets = keeper[store.Budget]{
		table: "budgets", id: func(r *store.Budget) *int64 { return &r.ID }, version: func(r *store.Budget) *int64 { return &r.Version },
	}
	keptPhases = keeper[store.Phase]{
		table: "phases", id: func(r *store.Phase) *int64 { return &r.ID }, version: func(r *store.Phase) *int64 { return &r.Version },
	}
	keptWorkers = keeper[store.Worker]{
		table: "workers", id: func(r *store.Worker) *int64 { return &r.ID }, version: func(r *store.Worker) *int64 { return &r.Version },
	}
	keptCustomers = keeper[store.Customer]{
		table: "customers", id: func(r *store.Customer) *int64 { return &r.ID }, version: func(r *store.Customer) *int64 { return &r.Version },
	}
	keptJobs = keeper[store.Job]{
		table: "jobs", id: func(r *store.Job) *int64 { return &r.ID }, version: func(r *store.Job) *int64 { return &r.Version },
	}
	keptWages = keeper[store.Wage]{
		table: "wages", id: func(r *store.Wage) *int64 { return &r.ID }, version: func(r *store.Wage) *int64 { return &r.Version },
		rests: restsOn("this wage", costing.RestsOnWage),
	}
	keptBurdens = keeper[store.Burden]{
		table: "burdens", id: func(r *store.Burden) *int64 { return &r.ID }, version: func(r *store.Burden) *int64 { return &r.Version },
		rests: restsOn("this burden", costing.RestsOnBurden),
	}
	keptLabourRates = keeper[store.LabourRate]{
		table: "labour_rates", id: func(r *store.LabourRate) *int64 { return &r.ID },
		version: func(r *store.LabourRate) *int64 { return &r.Version },
		rests:   restsOn("this rate", costing.RestsOnRate),
	}
	keptMarkups = keeper[store.Markup]{
		table: "markups", id: func(r *store.Markup) *int64 { return &r.ID }, version: func(r *store.Markup) *int64 { return &r.Version },
		rests: restsOn("this markup", costing.RestsOnMarkup),
	}
)

// restsOn says why a dated row can't be changed, where billed work rests on it.
func restsOn[R any](what string, rests func(*book.Session, R) (bool, error)) func(*importer, *R) (string, error) {
	return func(im *importer, had *R) (string, error) {
		if it, err := rests(im.Session, *had); err != nil || !it {
			return "", err
		}
		return what + " is what billed work rests on; leave it and add a row with a later date", nil
	}
}

// settings brings the company's settings in, after the cards and tax codes that they name.
func (im *importer) settings() error {
	before := im.Company
	for _, row := range im.bundle.Rows("settings.csv") {
		im.setting(cell{im, row}, row.Get("value"))
	}
	if len(im.problems) > 0 || im.Company == before {
		return nil
	}
	im.all = true
	im.Company.Version++
	return im.Save(&im.Company).Error
}

func (im *importer) setting(c cell, value string) {
	co := &im.Company
	limit := func() *money.Minutes { return readOptional(c, "value", form.LimitHours) }
	switch key := c.Get("key"); key {
	case "days_ahead":
		co.DaysAhead = read(c, "value", form.DaysUpTo(0, company.MostDaysAhead))
	case "missing_days":
		co.MissingDays = read(c, "value", form.DaysUpTo(1, company.MostMissingDays))
	case "logo":
		co.Logo = c.logo("value")
	case "currency":
		if _, err := book.ParseCurrency(value); err != nil {
			c.wrong("value", "%s", err)
		}
		co.Currency = value
	case "week_start":
		co.WeekStart = c.oneOf("value", form.Weekdays...)
	case "overtime_weekly_hours":
		co.OvertimeWeeklyMinutes = limit()
	case "overtime_daily_hours":
		co.OvertimeDailyMinutes = limit()
	case "double_daily_hours":
		co.DoubleDailyMinutes = limit()
	case "overtime_days", "double_days":
		days := strings.Fields(value)
		for _, d := range days {
			if !slices.Contains(form.Weekdays, d) {
				c.wrong("value", "%q is not a weekday such as monday", d)
			}
		}
		if key == "overtime_days" {
			co.OvertimeDays = strings.Join(days, " ")
		} else {
			co.DoubleDays = strings.Join(days, " ")
		}
	case "holiday_class":
		co.HolidayClass = c.oneOf("value", company.HolidayClasses...)
	case "overtime_factor":
		co.OvertimeFactor = c.factor()
	case "double_factor":
		co.DoubleFactor = c.factor()
	case "purchase_tax":
		co.PurchaseTax = c.oneOf("value", "cost", "recovered")
	case "distance_unit":
		co.DistanceUnit = c.oneOf("value", "mi", "km")
	case "next_invoice_number":
		co.NextInvoiceNumber = read(c, "value", form.SequenceNumber)
		taken, err := store.Value[int64](c.Tx, "SELECT ifnull(max(number), 0) FROM invoices")
		if err == nil && co.NextInvoiceNumber <= taken {
			c.wrong("value", "invoice numbers up to %d are taken", taken)
		} else if err == nil && taken > 0 && co.NextInvoiceNumber > taken+1 {
			c.wrong("value", "invoice numbers have no gaps: after %d comes %d", taken, taken+1)
		}
	case "next_job_number":
		co.NextJobNumber = read(c, "value", form.SequenceNumber)
	case "terms_days":
		co.TermsDays = read(c, "value", form.WholeDays)
	case "rate_card":
		co.RateCardID = c.orNew("value", "rate_cards")
	case "tax_code":
		co.TaxCodeID = c.refer("value", "tax_codes")
	case "time_zone":
		zone := c.Checks()
		if co.TimeZone = zone.Zone("value", value); zone.Err() != nil {
			c.wrong("value", "%s", zone.Fields[0].Message)
		}
	case "unbilled_alert_days":
		co.UnbilledAlertDays = read(c, "value", form.WholeDays)
	default:
		im.paperSetting(c, key, value)
	}
}

// textSetting is where a setting that can be any text is kept, nil where there is none of that name.
// paperSetting reads a setting that stands on papers.
func (im *importer) paperSetting(c cell, key, value string) {
	co := &im.Company
	switch key {
	case "account":
		co.Account = read(c, "value", iban.Account)
	case "accent":
		co.Accent = read(c, "value", form.Colour)
	case "paper_size":
		co.PaperSize = c.oneOf("value", company.PaperSizes...)
	case "country":
		if co.Country = ""; value != "" {
			co.Country = read(c, "value", postal.Country)
		}
	default:
		text := im.textSetting(key)
		if text == nil {
			c.wrong("key", "there is no setting %q", key)
			return
		}
		*text = value
	}
}

func (im *importer) textSetting(key string) *string {
	co := &im.Company
	return map[string]*string{
		"company_name": &co.CompanyName, "address": &co.Address, "post_code": &co.PostCode, "city": &co.City, "region": &co.Region,
		"email": &co.Email, "phone": &co.Phone, "tax_number": &co.TaxNumber, "invoice_prefix": &co.InvoicePrefix,
		"registration": &co.Registration, "endpoint": &co.Endpoint, "endpoint_scheme": &co.EndpointScheme,
		"licence": &co.Licence, "payee": &co.Payee, "bank": &co.Bank, "bank_code": &co.BankCode, "pay_note": &co.PayNote,
	}[key]
}

// logo keeps a mark that a row names, a file of the folder of scans; nil for none.
func (c cell) logo(column string) *string {
	file := c.Get(column)
	if file == "" {
		return nil
	}
	data, err := c.bundle.Scan(file)
	if err == nil {
		var sum string
		if sum, err = company.KeepLogo(c.Session, data); err == nil {
			return &sum
		}
	}
	c.wrong(column, "%s", err)
	return nil
}

func (c cell) factor() money.Factor {
	f := read(c, "value", form.ParseFactor)
	if f < money.One {
		c.wrong("value", "a pay factor is 1 or more, such as 1.5")
	}
	return f
}
