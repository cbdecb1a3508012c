package app

import (
	"context"
	"fmt"
	"strings"

	"jarvo/internal/bundle"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// Import brings a bundle in, all of it or nothing. Rows that are there already are brought up to date. Where
// there is no company yet the bundle makes one. Its error is [bundle.Problems] where the data is wrong.
func (a *App) Import(ctx context.Context, actor Actor, b *bundle.Bundle) error {
	if err := actor.need(Exchange); err != nil {
		return err
	}
	return guarded(a.store.Write(ctx, func(tx *store.Tx) error {
		_, found, err := store.One[store.Company](tx, 1)
		if err != nil {
			return err
		}
		if !found {
			company := defaultCompany()
			if err := tx.Create(&company).Error; err != nil {
				return err
			}
		}
		s, err := a.open(tx, actor)
		if err != nil {
			return err
		}
		im := &importer{session: s, bundle: b, ids: map[string]map[string]int64{}}
		if err := im.run(); err != nil {
			return err
		}
		return s.record("brought a bundle in", "company", 1, nil, nil)
	}))
}

// importer resolves a bundle's codes to rows and saves them, collecting what is wrong.
type importer struct {
	*session
	bundle   *bundle.Bundle
	problems bundle.Problems
	ids      map[string]map[string]int64 // by table, then by key
}

// cell reads cells of one row and notes what is wrong with them.
type cell struct {
	*importer
	bundle.Row
}

func (c cell) wrong(column, format string, args ...any) {
	c.problems.Add(c.File, c.Line, column, format, args...)
}

func read[T any](c cell, column string, parse func(string) (T, error)) T {
	v, err := parse(c.Get(column))
	if err != nil {
		c.wrong(column, "%s", err)
	}
	return v
}

func readOptional[T any](c cell, column string, parse func(string) (T, error)) *T {
	if c.Get(column) == "" {
		return nil
	}
	v := read(c, column, parse)
	return &v
}

func (c cell) yes(column string) bool {
	switch c.Get(column) {
	case "yes":
		return true
	case "no":
		return false
	}
	c.wrong(column, "%q is neither yes nor no", c.Get(column))
	return false
}

func (c cell) oneOf(column string, allowed ...string) string {
	for _, a := range allowed {
		if c.Get(column) == a {
			return a
		}
	}
	c.wrong(column, "%q is not one of %s", c.Get(column), strings.Join(allowed, ", "))
	return ""
}

// refer resolves a code to a row of a table; a blank code is none.
func (c cell) refer(column, table string) *int64 {
	code := c.Get(column)
	if code == "" {
		return nil
	}
	if rowID, ok := c.ids[table][code]; ok {
		return &rowID
	}
	c.wrong(column, "there is no %s %q", tableNames[table], code)
	return nil
}

var tableNames = map[string]string{
	"cost_codes": "cost code", "trades": "trade", "workers": "worker", "tax_codes": "tax code", "customers": "customer", "jobs": "job", "phases": "phase of this job",
	"cost_documents": "cost document",
}

// make resolves a code to a row of a table that is made where a row names it.
func (c cell) make(column, table string) *int64 {
	code := c.Get(column)
	if code == "" {
		return nil
	}
	if rowID, ok := c.ids[table][code]; ok {
		return &rowID
	}
	if err := c.Exec("INSERT INTO "+table+" (code) VALUES (?)", code).Error; err != nil {
		c.wrong(column, "%s", err)
		return nil
	}
	ids, err := store.Query[int64](c.Tx, "SELECT last_insert_rowid()")
	if err != nil {
		c.wrong(column, "%s", err)
		return nil
	}
	c.ids[table][code] = ids[0]
	return &ids[0]
}

// load reads the keys of a table that are there already.
func (im *importer) load(table, key string) error {
	type row struct {
		Key string
		ID  int64
	}
	rows, err := store.Query[row](im.Tx, "SELECT "+key+" AS key, id FROM "+table)
	im.ids[table] = make(map[string]int64, len(rows))
	for _, r := range rows {
		im.ids[table][r.Key] = r.ID
	}
	return err
}

// save makes a row or brings the one with its key up to date, and remembers its id.
func save[R any](im *importer, table, key string, row *R, rowID func(*R) *int64) error {
	if had, ok := im.ids[table][key]; ok {
		*rowID(row) = had
		return im.Model(row).Select("*").Omit("id", "version", "invoice_id", "billed").Updates(row).Error
	}
	if err := im.Create(row).Error; err != nil {
		return err
	}
	im.ids[table][key] = *rowID(row)
	return nil
}

func (im *importer) run() error {
	for table, key := range map[string]string{
		"cost_codes": "code", "trades": "code", "workers": "code", "burden_classes": "code", "rate_cards": "code", "tax_codes": "code", "customers": "code", "jobs": "number",
		"time_entries": "ref", "cost_documents": "ref",
		"phases":         "(SELECT number FROM jobs WHERE jobs.id = job_id) || char(0) || code",
		"wages":          "worker_id || '/' || effective_from",
		"burdens":        "burden_class_id || '/' || component || '/' || effective_from",
		"labour_rates":   "card_id || '/' || effective_from || '/' || ifnull(worker_id, 0) || '/' || ifnull(trade_id, 0) || '/' || ifnull(cost_code_id, 0)",
		"markups":        "card_id || '/' || effective_from || '/' || category || '/' || over_cost",
		"tax_components": "tax_code_id || '/' || component",
		"cost_lines":     "document_id || '/' || line",
	} {
		if err := im.load(table, key); err != nil {
			return err
		}
	}
	if err := im.currencyFirst(); err != nil {
		return err
	}
	steps := []struct {
		file string
		row  func(cell) error
	}{
		{"holidays.csv", im.holiday}, {"cost_codes.csv", im.costCode}, {"trades.csv", im.trade}, {"workers.csv", im.worker}, {"wages.csv", im.wage}, {"year_openings.csv", im.opening},
		{"burdens.csv", im.burden}, {"tax_codes.csv", im.taxCode}, {"labour_rates.csv", im.labourRate}, {"markups.csv", im.markup}, {"customers.csv", im.customer}, {"jobs.csv", im.job},
		{"phases.csv", im.phase}, {"time_entries.csv", im.timeEntry}, {"cost_documents.csv", im.costDocument}, {"cost_lines.csv", im.costLine},
	}
	for _, step := range steps {
		for _, row := range im.bundle.Rows(step.file) {
			before := len(im.problems)
			if err := step.row(cell{im, row}); err != nil && len(im.problems) == before {
				return fmt.Errorf("%s line %d: %w", row.File, row.Line, err)
			}
		}
	}
	if err := im.settings(); err != nil {
		return err
	}
	if err := im.problems.Err(); err != nil {
		return err
	}
	return im.recostAll()
}

// currencyFirst settles the currency before any amount is read in its digits.
func (im *importer) currencyFirst() error {
	for _, row := range im.bundle.Rows("settings.csv") {
		code := row.Get("value")
		if row.Get("key") != "currency" || code == im.company.Currency {
			continue
		}
		cur, err := parseCurrency(code)
		if err != nil {
			continue // said when the settings are read
		}
		booked, err := store.Query[int64](im.Tx, "SELECT (SELECT count(*) FROM time_entries) + (SELECT count(*) FROM cost_documents)")
		if err != nil {
			return err
		}
		if booked[0] > 0 {
			im.problems.Add(row.File, row.Line, "value", "the currency stays %s once work is booked in it", im.company.Currency)
			continue
		}
		im.currency = cur
	}
	return nil
}

var errWrong = fmt.Errorf("a cell is wrong")

// good says whether a row has had no problem so far.
func (c cell) good(before int) error {
	if len(c.problems) > before {
		return errWrong
	}
	return nil
}

func (s *session) recostAll() error {
	s.cards = nil
	t := newTouched()
	if err := s.touchUnbilled(t, "1 = 1", "1 = 1"); err != nil {
		return err
	}
	return s.recost(t)
}

func (im *importer) holiday(c cell) error {
	on := read(c, "date", calendar.Parse)
	return im.Exec("INSERT INTO holidays (date, name) VALUES (?, ?) ON CONFLICT (date) DO UPDATE SET name = excluded.name", on, c.Get("name")).Error
}

func (im *importer) costCode(c cell) error {
	row := store.CostCode{Code: c.Get("code"), Name: c.Get("name")}
	return save(im, "cost_codes", row.Code, &row, func(r *store.CostCode) *int64 { return &r.ID })
}

func (im *importer) trade(c cell) error {
	row := store.Trade{Code: c.Get("code"), Name: c.Get("name")}
	return save(im, "trades", row.Code, &row, func(r *store.Trade) *int64 { return &r.ID })
}

func (im *importer) worker(c cell) error {
	before := len(im.problems)
	row := store.Worker{
		Code: c.Get("code"), Name: c.Get("name"), TradeID: c.refer("trade", "trades"), BurdenClassID: c.make("burden_class", "burden_classes"), Crew: c.Get("crew"),
		Exempt: c.yes("exempt"), Kind: c.oneOf("kind", "employee", "hired"), Active: c.yes("active"), Version: 1,
	}
	if err := c.good(before); err != nil {
		return err
	}
	return save(im, "workers", row.Code, &row, func(r *store.Worker) *int64 { return &r.ID })
}

func (im *importer) wage(c cell) error {
	before := len(im.problems)
	row := store.Wage{WorkerID: id(c.refer("worker", "workers")), EffectiveFrom: read(c, "effective_from", calendar.Parse), Rate: read(c, "rate", money.ParseRate)}
	if row.Rate < 0 {
		c.wrong("rate", "a wage can't be below 0")
	}
	if err := c.good(before); err != nil {
		return err
	}
	return save(im, "wages", fmt.Sprintf("%d/%d", row.WorkerID, row.EffectiveFrom), &row, func(r *store.Wage) *int64 { return &r.ID })
}

func (im *importer) opening(c cell) error {
	before := len(im.problems)
	worker := id(c.refer("worker", "workers"))
	year := read(c, "year", sequenceNumber)
	gross, straight := read(c, "gross", im.currency.ParseAmount), read(c, "straight", im.currency.ParseAmount)
	if err := c.good(before); err != nil {
		return err
	}
	return im.Exec(`INSERT INTO year_openings (worker_id, year, gross, straight) VALUES (?, ?, ?, ?)
		ON CONFLICT (worker_id, year) DO UPDATE SET gross = excluded.gross, straight = excluded.straight`, worker, year, gross, straight).Error
}

func (im *importer) burden(c cell) error {
	before := len(im.problems)
	row := store.Burden{
		BurdenClassID: id(c.make("class", "burden_classes")), Component: c.Get("component"), EffectiveFrom: read(c, "effective_from", calendar.Parse),
		Basis: c.oneOf("basis", "gross", "straight", "hour"), AnnualWageCap: readOptional(c, "annual_wage_cap", im.currency.ParseAmount),
	}
	if row.Basis == "hour" {
		row.Value = int64(read(c, "value", money.ParseRate))
		if row.AnnualWageCap != nil {
			c.wrong("annual_wage_cap", "a component paid by the hour can't have a cap")
		}
	} else {
		row.Value = int64(read(c, "value", money.ParsePercent))
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
	return save(im, "burdens", fmt.Sprintf("%d/%s/%d", row.BurdenClassID, row.Component, row.EffectiveFrom), &row, func(r *store.Burden) *int64 { return &r.ID })
}

var taxable = []string{"labour", "material", "equipment", "subcontract", "expense", "mileage", "fixed", "other"}

func (im *importer) taxCode(c cell) error {
	before := len(im.problems)
	row := store.TaxComponent{TaxCodeID: id(c.make("code", "tax_codes")), Component: c.Get("component"), Percent: read(c, "percent", money.ParsePercent)}
	for _, category := range strings.Fields(c.Get("applies_to")) {
		if !contains(taxable, category) {
			c.wrong("applies_to", "%q is not a category; they are %s", category, strings.Join(taxable, ", "))
		}
	}
	row.AppliesTo = strings.Join(strings.Fields(c.Get("applies_to")), " ")
	if row.Percent < 0 {
		c.wrong("percent", "a tax can't be below 0")
	}
	if err := c.good(before); err != nil {
		return err
	}
	return save(im, "tax_components", fmt.Sprintf("%d/%s", row.TaxCodeID, row.Component), &row, func(r *store.TaxComponent) *int64 { return &r.ID })
}

func contains(list []string, s string) bool {
	for _, l := range list {
		if l == s {
			return true
		}
	}
	return false
}

func (im *importer) labourRate(c cell) error {
	before := len(im.problems)
	row := store.LabourRate{
		CardID: id(c.make("card", "rate_cards")), EffectiveFrom: read(c, "effective_from", calendar.Parse), WorkerID: c.refer("worker", "workers"), TradeID: c.refer("trade", "trades"),
		CostCodeID: c.refer("cost_code", "cost_codes"), Method: c.oneOf("method", "hourly", "markup"),
		OvertimeFactor: readOptional(c, "overtime_factor", money.ParseFactor), DoubleFactor: readOptional(c, "double_factor", money.ParseFactor),
	}
	if row.Method == "markup" {
		row.Value = int64(read(c, "value", markupPercent))
	} else {
		row.Value = int64(read(c, "value", money.ParseRate))
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
	key := fmt.Sprintf("%d/%d/%d/%d/%d", row.CardID, row.EffectiveFrom, id(row.WorkerID), id(row.TradeID), id(row.CostCodeID))
	return save(im, "labour_rates", key, &row, func(r *store.LabourRate) *int64 { return &r.ID })
}

func (im *importer) markup(c cell) error {
	before := len(im.problems)
	row := store.Markup{
		CardID: id(c.make("card", "rate_cards")), EffectiveFrom: read(c, "effective_from", calendar.Parse), Category: c.oneOf("category", costCategories...),
		OverCost: read(c, "over_cost", money.ParseRate), Percent: read(c, "percent", markupPercent),
	}
	if row.OverCost < 0 {
		c.wrong("over_cost", "a unit cost can't be below 0 here")
	}
	if err := c.good(before); err != nil {
		return err
	}
	return save(im, "markups", fmt.Sprintf("%d/%d/%s/%d", row.CardID, row.EffectiveFrom, row.Category, row.OverCost), &row, func(r *store.Markup) *int64 { return &r.ID })
}

func (im *importer) customer(c cell) error {
	before := len(im.problems)
	row := store.Customer{
		Code: c.Get("code"), Name: c.Get("name"), Email: c.Get("email"), Address: c.Get("address"), Phone: c.Get("phone"), TermsDays: readOptional(c, "terms_days", wholeDays),
		RateCardID: c.make("rate_card", "rate_cards"), TaxCodeID: c.refer("tax_code", "tax_codes"), TaxExempt: c.yes("tax_exempt"), InvoicePer: c.oneOf("invoice_per", "job", "customer"), Version: 1,
	}
	if err := c.good(before); err != nil {
		return err
	}
	return save(im, "customers", row.Code, &row, func(r *store.Customer) *int64 { return &r.ID })
}

func (im *importer) job(c cell) error {
	before := len(im.problems)
	row := store.Job{
		Number: c.Get("number"), NumberOrder: sortKey(c.Get("number")), CustomerID: c.refer("customer", "customers"), Name: c.Get("name"), Type: c.Get("type"),
		Status: c.oneOf("status", "quoting", "live", "paused", "finished", "closed"), Basis: c.oneOf("basis", "tm", "fixed", "none"),
		Contract: readOptional(c, "contract", im.currency.ParseAmount), RateCardID: c.make("rate_card", "rate_cards"), TaxCodeID: c.refer("tax_code", "tax_codes"),
		Retainage: read(c, "retainage", money.ParsePercent), Start: readOptional(c, "start", calendar.Parse), Finish: readOptional(c, "finish", calendar.Parse),
		Site: c.Get("site"), Description: c.Get("description"), Version: 1,
	}
	if c.Get("customer") == "" && row.Basis != "none" {
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
	return save(im, "jobs", row.Number, &row, func(r *store.Job) *int64 { return &r.ID })
}

func (im *importer) phase(c cell) error {
	before := len(im.problems)
	row := store.Phase{JobID: id(c.refer("job", "jobs")), Code: c.Get("code"), Name: c.Get("name"), Contract: readOptional(c, "contract", im.currency.ParseAmount)}
	if c.Get("basis") != "" {
		basis := c.oneOf("basis", "tm", "fixed", "none")
		row.Basis = &basis
	}
	if err := c.good(before); err != nil {
		return err
	}
	return save(im, "phases", c.Get("job")+"\x00"+row.Code, &row, func(r *store.Phase) *int64 { return &r.ID })
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
