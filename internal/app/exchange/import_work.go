package exchange

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"

	"jarvo/internal/app/company"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/form"
	"jarvo/internal/app/pricelist"
	"jarvo/internal/app/register"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
	"jarvo/internal/core/words"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

func (im *importer) timeEntry(c cell) error {
	before := im.faults
	row := store.TimeEntry{
		Ref: c.Get("ref"), WorkerID: store.ID(c.refer("worker", "workers")), Date: read(c, "date", calendar.Parse),
		JobID: store.ID(c.refer("job", "jobs")), PhaseID: c.phaseOf(),
		CostCodeID: c.refer("cost_code", "cost_codes"), Billable: c.yes("billable"),
		PayClass: worktime.PayClass(c.oneOf("pay_class", words.Texts(worktime.PayClasses)...)),
		Rate:     readOptional(c, "rate", form.ParseRate), Status: c.oneOf("status", store.WorkStatuses...), Note: c.Get("note"),
		Version: 1,
	}
	if row.PayClass == worktime.PayLeave {
		row.Billable = false // leave is paid and not worked
	}
	if row.Rate != nil && *row.Rate < 0 {
		c.wrong("rate", "a rate can't be below 0")
	}
	c.worked(&row)
	if err := c.good(before); err != nil {
		return err
	}
	had, changed, err := keptEntries.save(c, row.Ref, &row)
	if err != nil || !changed {
		return err
	}
	im.step.Entry(row.WorkerID, row.Date)
	if had == nil {
		return nil
	}
	im.step.Entry(had.WorkerID, had.Date)
	return im.Record(
		"changed by an import", "time_entry", row.ID, timesheet.EntryRecord(im.Session, *had), timesheet.EntryRecord(im.Session, row),
	)
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

// workday reads when somebody was at work on a day, by the clock. No figure rests on it.
func (im *importer) workday(c cell) error {
	before := im.faults
	row := store.Workday{
		WorkerID: store.ID(c.refer("worker", "workers")), Date: read(c, "date", calendar.Parse), Start: read(c, "start", clock),
		Finish:       read(c, "finish", clock),
		BreakMinutes: read(c, "break_minutes", minutes),
	}
	row.Minutes = worktime.Clocked(row.Start, row.Finish, row.BreakMinutes)
	if err := worktime.CheckMinutes(row.Minutes); err != nil {
		c.wrong("finish", "%s", err)
	}
	if err := c.good(before); err != nil {
		return err
	}
	return im.Run(keepWorkday,
		row.WorkerID, row.Date, row.Start, row.Finish, row.BreakMinutes, row.Minutes)
}

func clock(s string) (money.Minutes, error) {
	for _, layout := range []string{"15:04", "3:04 PM", "3:04PM", "15:04:05", "3:04:05 PM"} { // as spreadsheets write them too
		if t, err := time.Parse(layout, strings.ToUpper(s)); err == nil && t.Second() == 0 {
			return money.Minutes(t.Hour()*60 + t.Minute()), nil
		}
	}
	return 0, fmt.Errorf("%q is not a time such as 07:30 or 7:30 AM", s)
}

func minutes(s string) (money.Minutes, error) {
	n, err := strconv.Atoi(s)
	if err != nil || n < 0 || n > 24*60 {
		return 0, fmt.Errorf("%q is not whole minutes", s)
	}
	return money.Minutes(n), nil
}

func (im *importer) unit(c cell) error {
	before := im.faults
	row := store.Unit{Name: c.Get("name"), Code: c.Get("code"), Version: 1}
	if !company.UnitCode.MatchString(row.Code) {
		c.wrong("code", "a code of recommendation 20 is two or three letters or figures, such as BX for a box")
	}
	if err := c.good(before); err != nil {
		return err
	}
	_, _, err := keeper[store.Unit]{
		table: "units", id: func(r *store.Unit) *int64 { return &r.ID }, version: func(r *store.Unit) *int64 { return &r.Version },
	}.save(c, row.Name, &row)
	return err
}

func (im *importer) item(c cell) error {
	before := im.faults
	row := store.Item{
		Code: c.Get("code"), Description: c.Get("description"), Category: c.oneOf("category", pricing.Categories...), Unit: c.Get("unit"),
		Active: c.yes("active"), Version: 1,
	}
	if err := c.good(before); err != nil {
		return err
	}
	_, _, err := keeper[store.Item]{
		table: "items", id: func(r *store.Item) *int64 { return &r.ID }, version: func(r *store.Item) *int64 { return &r.Version },
	}.save(c, row.Code, &row)
	return err
}

func (im *importer) itemPrice(c cell) error {
	before := im.faults
	row := store.ItemPrice{
		ItemID: store.ID(c.refer("item", "items")), EffectiveFrom: read(c, "effective_from", calendar.Parse),
		UnitCost:  read(c, "unit_cost", form.ParseRate),
		SellPrice: readOptional(c, "sell_price", form.ParseRate), Version: 1,
	}
	if row.UnitCost < 0 || row.SellPrice != nil && *row.SellPrice < 0 {
		c.wrong("unit_cost", "a cost or a price of the list can't be below 0")
	}
	if err := c.good(before); err != nil {
		return err
	}
	_, _, err := keeper[store.ItemPrice]{
		table: "item_prices", id: func(r *store.ItemPrice) *int64 { return &r.ID },
		version: func(r *store.ItemPrice) *int64 { return &r.Version },
	}.save(c, fmt.Sprintf("%d/%d", row.ItemID, row.EffectiveFrom), &row)
	return err
}

func (im *importer) costDocument(c cell) error {
	before := im.faults
	row := store.CostDocument{
		Ref: c.Get("ref"), Kind: c.oneOf("kind", costs.DocumentKinds...), SupplierID: c.supplierNamed(), WorkerID: c.refer("worker", "workers"),
		Date:   read(c, "date", calendar.Parse),
		Number: c.Get("number"), Freight: read(c, "freight", im.ParseAmount), Tax: read(c, "tax", im.ParseAmount),
		Total:  readOptional(c, "total", im.ParseAmount),
		Status: c.oneOf("status", store.WorkStatuses...), Note: c.Get("note"), Crew: c.Get("crew"), Void: c.Get("void"), Version: 1,
	}
	if row.Void != "" && row.Status != store.Approved {
		c.wrong("void", "only an approved paper is void")
	}
	if row.Crew != "" && row.Kind != costs.PlantLog {
		c.wrong("crew", "only a plant log is the day of a crew")
	}
	if err := c.good(before); err != nil {
		return err
	}
	had, changed, err := keptDocuments.save(c, row.Ref, &row)
	if err == nil && row.Total != nil {
		im.totals[row.ID] = c
	}
	if err != nil || !changed {
		return err
	}
	im.step.Document(row.ID)
	if had == nil {
		return nil
	}
	return im.Record(
		"changed by an import", "cost_document", row.ID, costs.DocumentRecord(im.Session, im.paper(*had)),
		costs.DocumentRecord(im.Session, im.paper(row)),
	)
}

// supplierNamed is the supplier of a paper, made where there is none of that name.
func (c cell) supplierNamed() *int64 {
	name := c.Get("supplier")
	if name == "" {
		return nil
	}
	if _, there := c.ids["suppliers"][name]; !there {
		made, err := store.Insert(c.Tx, &store.Supplier{Name: name, Active: true, Version: 1})
		if err != nil {
			c.wrong("supplier", "%s", err)
			return nil
		}
		c.ids["suppliers"][name] = made
	}
	return store.Ref(c.ids["suppliers"][name])
}

// paper is a document with the name of its supplier.
func (im *importer) paper(d store.CostDocument) store.Paper {
	p := store.Paper{CostDocument: d}
	for name, supplierID := range im.ids["suppliers"] {
		if supplierID == store.ID(d.SupplierID) {
			p.Supplier = name
		}
	}
	return p
}

func (im *importer) supplier(c cell) error {
	before := im.faults
	row := store.Supplier{
		Name: c.Get("name"), CostCodeID: c.refer("cost_code", "cost_codes"), TermsDays: readOptional(c, "terms_days", form.WholeDays),
		Active: c.yes("active"), Version: 1,
	}
	if c.Get("category") != "" {
		row.Category = c.oneOf("category", pricing.Categories...)
	}
	if err := c.good(before); err != nil {
		return err
	}
	_, _, err := keeper[store.Supplier]{
		table: "suppliers", id: func(r *store.Supplier) *int64 { return &r.ID }, version: func(r *store.Supplier) *int64 { return &r.Version },
	}.save(c, row.Name, &row)
	return err
}

func (im *importer) costLine(c cell) error {
	before := im.faults
	row := store.CostLine{
		DocumentID: store.ID(c.refer("document", "cost_documents")), Line: c.Get("line"), LineOrder: words.SortKey(c.Get("line")),
		Category:    c.oneOf("category", pricing.Categories...),
		Description: c.Get("description"), Quantity: read(c, "quantity", form.ParseQuantity), Unit: c.Get("unit"),
		JobID: c.refer("job", "jobs"), CostCodeID: c.refer("cost_code", "cost_codes"), Billable: c.yes("billable"),
		Markup: readOptional(c, "markup", form.MarkupPercent), SellPrice: readOptional(c, "sell_price", form.ParseRate),
		ItemID: c.refer("item", "items"), Taxable: c.yes("taxable"), Status: store.Draft,
	}
	switch {
	case c.Get("unit_cost") != "":
		row.UnitCost = read(c, "unit_cost", form.ParseRate)
	case c.Get("item") == "":
		c.wrong("unit_cost", "give a unit cost, or an item of the price list")
	case c.good(before) == nil:
		if err := c.takeListed(&row); err != nil {
			return err
		}
	}
	if c.Get("job") != "" {
		row.PhaseID = c.phaseOf()
	} else if c.Get("phase") != "" {
		c.wrong("phase", "there is a phase without a job")
	}
	if err := c.good(before); err != nil {
		return err
	}
	if reason, err := im.documentRests(row.DocumentID); err != nil {
		return err
	} else if _, there := im.ids["cost_lines"][lineKeyOf(row)]; reason != "" && !there {
		c.wrong("", "%s", reason)
		return errWrong
	}
	_, changed, err := keptLines.save(c, lineKeyOf(row), &row)
	if changed {
		im.step.Document(row.DocumentID)
	}
	return err
}

// takeListed gives a line what the price list says of its item on the date of its paper: what it costs and, where the line has neither a
// price nor a markup of its own, what it sells at.
func (c cell) takeListed(l *store.CostLine) error {
	document, _, err := store.One[store.CostDocument](c.Tx, l.DocumentID)
	if err != nil {
		return err
	}
	items, err := pricelist.Items(c.Session, *l.ItemID, document.Date, document.ID)
	if err != nil {
		return err
	}
	listed, found := items[0].On(document.Date)
	if !found {
		c.wrong("unit_cost", "the price list has no price of %s on %s; give a unit cost", c.Get("item"), document.Date)
		return errWrong
	}
	l.UnitCost = listed.Cost
	if l.SellPrice == nil && l.Markup == nil {
		l.SellPrice = listed.Sell
	}
	return nil
}

// totalsHold checks that papers come to the totals that are printed on them.
func (im *importer) totalsHold() error {
	type off struct {
		ID             int64
		Total, ComesTo money.Amount
	}
	for ids := range slices.Chunk(slices.Sorted(maps.Keys(im.totals)), costing.DocumentsAtOnce) {
		rows, err := store.Query[off](im.Tx, offTotals, map[string]any{"ids": ids})
		if err != nil {
			return err
		}
		for _, r := range rows {
			im.totals[r.ID].wrong(
				"total", "lines, freight and tax come to %s, and not to the %s printed on it", im.Money(r.ComesTo), im.Money(r.Total),
			)
		}
	}
	return im.problems.Err()
}

func lineKeyOf(l store.CostLine) string { return fmt.Sprintf("%d/%s", l.DocumentID, l.Line) }

var keptEntries = keeper[store.TimeEntry]{
	waits: func(im *importer) *[]store.TimeEntry { return &im.entries },
	table: "time_entries", id: func(r *store.TimeEntry) *int64 { return &r.ID },
	version: func(r *store.TimeEntry) *int64 { return &r.Version },
	keep: func(now, had *store.TimeEntry) {
		now.OvertimeMinutes, now.Straight, now.Gross, now.Cost, now.Charge, now.Unpriced = had.OvertimeMinutes, had.Straight, had.Gross, had.Cost,
			had.Charge, had.Unpriced
		now.Class, now.InvoiceID, now.Billed, now.Ready = had.Class, had.InvoiceID, had.Billed, had.Ready
		now.Drafted, now.Invoiced, now.Written, now.Held = had.Drafted, had.Invoiced, had.Written, had.Held
	},
	rests: func(_ *importer, had *store.TimeEntry) (string, error) {
		if had.InvoiceID == nil {
			return "", nil
		}
		return fmt.Sprintf("%s is on an invoice and can't be changed", had.Ref), nil
	},
}

var keptDocuments = keeper[store.CostDocument]{
	waits: func(im *importer) *[]store.CostDocument { return &im.documents },
	table: "cost_documents", id: func(r *store.CostDocument) *int64 { return &r.ID },
	version: func(r *store.CostDocument) *int64 { return &r.Version },
	rests: func(im *importer, had *store.CostDocument) (string, error) {
		if had.Void != "" {
			return had.Ref + " is void, so it can't be changed", nil
		}
		return im.documentRests(had.ID)
	},
}

var keptLines = keeper[store.CostLine]{
	waits: func(im *importer) *[]store.CostLine { return &im.lines },
	table: "cost_lines", id: func(r *store.CostLine) *int64 { return &r.ID },
	keep: func(now, had *store.CostLine) {
		now.Status, now.Date, now.Base, now.Freight, now.Tax, now.Landed = had.Status, had.Date, had.Base, had.Freight, had.Tax, had.Landed
		now.Charge, now.Unmarked, now.InvoiceID, now.Billed, now.Ready = had.Charge, had.Unmarked, had.InvoiceID, had.Billed, had.Ready
		now.Drafted, now.Invoiced, now.Written, now.Held = had.Drafted, had.Invoiced, had.Written, had.Held
	},
	rests: func(im *importer, had *store.CostLine) (string, error) { return im.documentRests(had.DocumentID) },
}

// documentRests says why a document and its lines can't be changed: a line of it is on an invoice, and freight and
// tax are spread over all of them; or it has been paid back.
func (im *importer) documentRests(documentID int64) (string, error) {
	if im.fixed == nil {
		rows, err := store.Query[register.Named](im.Tx, fixedDocuments)
		if err != nil {
			return "", err
		}
		im.fixed = make(map[int64]string, len(rows))
		for _, r := range rows {
			im.fixed[r.ID] = fmt.Sprintf("%s %s, so it and its lines can't be changed", r.Code, r.Name)
		}
	}
	return im.fixed[documentID], nil
}
