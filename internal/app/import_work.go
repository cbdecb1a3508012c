package app

import (
	"fmt"
	"strconv"
	"strings"
	"time"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

func (im *importer) timeEntry(c cell) error {
	before := len(im.problems)
	row := store.TimeEntry{
		Ref: c.Get("ref"), WorkerID: id(c.refer("worker", "workers")), Date: read(c, "date", calendar.Parse), JobID: id(c.refer("job", "jobs")), PhaseID: c.phaseOf(),
		CostCodeID: c.refer("cost_code", "cost_codes"), Billable: c.yes("billable"), PayClass: worktime.PayClass(c.oneOf("pay_class", "auto", "regular", "overtime", "double")),
		Rate: readOptional(c, "rate", money.ParseRate), Status: c.oneOf("status", "draft", "submitted", "approved"), Note: c.Get("note"), Version: 1,
	}
	if row.Rate != nil && *row.Rate < 0 {
		c.wrong("rate", "a rate can't be below 0")
	}
	c.worked(&row)
	if err := c.good(before); err != nil {
		return err
	}
	if err := im.unbilled(c, "time_entries", row.Ref); err != nil {
		return err
	}
	return save(im, "time_entries", row.Ref, &row, func(r *store.TimeEntry) *int64 { return &r.ID })
}

// worked reads hours, or start, finish and break.
func (c cell) worked(row *store.TimeEntry) {
	hours, start, finish := c.Get("hours"), c.Get("start"), c.Get("finish")
	switch {
	case hours != "" && (start != "" || finish != ""):
		c.wrong("hours", "give hours or start and finish, not both")
	case hours != "":
		r, err := worktime.Read(hours)
		if err != nil || r.Clock || strings.ContainsAny(hours, "hm,") {
			if err == nil {
				err = fmt.Errorf("%q is not hours such as 8, 8.5 or 8:30", hours)
			}
			c.wrong("hours", "%s", err)
		}
		row.Minutes = r.Minutes
	case start == "" && finish == "":
		c.wrong("hours", "give hours, or start and finish")
	case start == "":
		c.wrong("start", "there is a finish without a start")
	case finish == "":
		c.wrong("finish", "there is a start without a finish")
	default:
		from, to := read(c, "start", clock), read(c, "finish", clock)
		row.BreakMinutes = read(c, "break_minutes", minutes)
		row.Start, row.Finish = &from, &to
		row.Minutes = worktime.Clocked(from, to, row.BreakMinutes)
		if err := worktime.CheckMinutes(row.Minutes); err != nil {
			c.wrong("finish", "%s", err)
		}
	}
}

func clock(s string) (money.Minutes, error) {
	t, err := time.Parse("15:04", s)
	if err != nil {
		return 0, fmt.Errorf("%q is not a time such as 07:30", s)
	}
	return money.Minutes(t.Hour()*60 + t.Minute()), nil
}

func minutes(s string) (money.Minutes, error) {
	n, err := strconv.Atoi(s)
	if err != nil || n < 0 || n > 24*60 {
		return 0, fmt.Errorf("%q is not whole minutes", s)
	}
	return money.Minutes(n), nil
}

// unbilled refuses a row that would change work that is on an invoice.
func (im *importer) unbilled(c cell, table, key string) error {
	rowID, there := im.ids[table][key]
	if !there {
		return nil
	}
	query := "SELECT count(*) FROM " + table + " WHERE id = ? AND invoice_id IS NOT NULL"
	if table == "cost_documents" {
		query = "SELECT count(*) FROM cost_lines WHERE document_id = ? AND invoice_id IS NOT NULL"
	}
	on, err := store.Query[int64](im.Tx, query, rowID)
	if err == nil && on[0] > 0 {
		c.wrong("", "%s is on an invoice and can't be changed", key)
		return errWrong
	}
	return err
}

func (im *importer) costDocument(c cell) error {
	before := len(im.problems)
	row := store.CostDocument{
		Ref: c.Get("ref"), Kind: c.oneOf("kind", documentKinds...), Supplier: c.Get("supplier"), WorkerID: c.refer("worker", "workers"), Date: read(c, "date", calendar.Parse),
		Number: c.Get("number"), Freight: read(c, "freight", im.currency.ParseAmount), Tax: read(c, "tax", im.currency.ParseAmount),
		Status: c.oneOf("status", "draft", "submitted", "approved"), Note: c.Get("note"), Version: 1,
	}
	if err := c.good(before); err != nil {
		return err
	}
	if err := im.unbilled(c, "cost_documents", row.Ref); err != nil {
		return err
	}
	return save(im, "cost_documents", row.Ref, &row, func(r *store.CostDocument) *int64 { return &r.ID })
}

func (im *importer) costLine(c cell) error {
	before := len(im.problems)
	row := store.CostLine{
		DocumentID: id(c.refer("document", "cost_documents")), Line: c.Get("line"), LineOrder: sortKey(c.Get("line")), Category: c.oneOf("category", costCategories...),
		Description: c.Get("description"), Quantity: read(c, "quantity", money.ParseQuantity), Unit: c.Get("unit"), UnitCost: read(c, "unit_cost", money.ParseRate),
		JobID: c.refer("job", "jobs"), CostCodeID: c.refer("cost_code", "cost_codes"), Billable: c.yes("billable"),
		Markup: readOptional(c, "markup", markupPercent), SellPrice: readOptional(c, "sell_price", money.ParseRate), Status: "draft",
	}
	if c.Get("job") != "" {
		row.PhaseID = c.phaseOf()
	} else if c.Get("phase") != "" {
		c.wrong("phase", "there is a phase without a job")
	}
	if err := c.good(before); err != nil {
		return err
	}
	key := fmt.Sprintf("%d/%s", row.DocumentID, row.Line)
	if err := im.unbilled(c, "cost_lines", key); err != nil {
		return err
	}
	return save(im, "cost_lines", key, &row, func(r *store.CostLine) *int64 { return &r.ID })
}

// settings brings the company's settings in, after the cards and tax codes that they name.
func (im *importer) settings() error {
	for _, row := range im.bundle.Rows("settings.csv") {
		im.setting(cell{im, row}, row.Get("value"))
	}
	if len(im.problems) > 0 {
		return nil
	}
	return im.Save(&im.company).Error
}

func (im *importer) setting(c cell, value string) {
	co := &im.company
	limit := func() *money.Minutes { return readOptional(c, "value", limitHours) }
	switch key := c.Get("key"); key {
	case "company_name":
		co.CompanyName = value
	case "address":
		co.Address = value
	case "email":
		co.Email = value
	case "currency":
		if _, err := parseCurrency(value); err != nil {
			c.wrong("value", "%s", err)
		}
		co.Currency = value
	case "week_start":
		co.WeekStart = c.oneOf("value", weekdays...)
	case "overtime_weekly_hours":
		co.OvertimeWeeklyMinutes = limit()
	case "overtime_daily_hours":
		co.OvertimeDailyMinutes = limit()
	case "double_daily_hours":
		co.DoubleDailyMinutes = limit()
	case "overtime_days", "double_days":
		days := strings.Fields(value)
		for _, d := range days {
			if !contains(weekdays, d) {
				c.wrong("value", "%q is not a weekday such as monday", d)
			}
		}
		if key == "overtime_days" {
			co.OvertimeDays = strings.Join(days, " ")
		} else {
			co.DoubleDays = strings.Join(days, " ")
		}
	case "overtime_factor":
		co.OvertimeFactor = c.factor()
	case "double_factor":
		co.DoubleFactor = c.factor()
	case "purchase_tax":
		co.PurchaseTax = c.oneOf("value", "cost", "recovered")
	case "distance_unit":
		co.DistanceUnit = c.oneOf("value", "mi", "km")
	case "invoice_prefix":
		co.InvoicePrefix = value
	case "next_invoice_number":
		co.NextInvoiceNumber = read(c, "value", sequenceNumber)
		taken, err := store.Query[int64](c.Tx, "SELECT ifnull(max(number), 0) FROM invoices")
		if err == nil && co.NextInvoiceNumber <= taken[0] {
			c.wrong("value", "invoice numbers up to %d are taken", taken[0])
		}
	case "next_job_number":
		co.NextJobNumber = read(c, "value", sequenceNumber)
	case "terms_days":
		co.TermsDays = read(c, "value", wholeDays)
	case "rate_card":
		co.RateCardID = c.make("value", "rate_cards")
	case "tax_code":
		co.TaxCodeID = c.refer("value", "tax_codes")
	case "unbilled_alert_days":
		co.UnbilledAlertDays = read(c, "value", wholeDays)
	default:
		c.wrong("key", "there is no setting %q", key)
	}
}

func (c cell) factor() money.Factor {
	f := read(c, "value", money.ParseFactor)
	if f < money.One {
		c.wrong("value", "a pay factor is 1 or more, such as 1.5")
	}
	return f
}
