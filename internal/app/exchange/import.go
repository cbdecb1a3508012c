package exchange

import (
	"context"
	"fmt"
	"reflect"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/drafting"
	"jarvo/internal/app/ratebook"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/bundle"
	"jarvo/internal/core/words"
	"jarvo/internal/scan"
	"jarvo/internal/store"
)

// Import brings a bundle in, all of it or nothing. Rows that are there already are brought up to date. Where
// there is no company yet the bundle makes one. It returns what came in, by file. Its error is [bundle.Problems] where the data is wrong.
// Rows that have come in are released, so that a bundle comes in once.
func Import(ctx context.Context, a *book.Book, actor book.Actor, b *bundle.Bundle) ([]Brought, error) {
	return book.WriteNew(ctx, a, actor, book.Exchange, register.DefaultCompany, func(s *book.Session, found bool) ([]Brought, error) {
		im := &importer{
			Session: s, bundle: b, ids: map[string]map[string]int64{}, step: costing.Begin(s), all: !found, nextID: map[string]int64{},
			told: map[string]bool{}, faulty: map[string]bool{}, given: map[string]int{},
			totals: map[int64]cell{}, taxes: map[string]taxHead{},
		}
		defer im.scans.Close()
		im.follows, _ = ctx.Value(following{}).(func(Progress))
		for _, table := range bundle.Tables {
			im.given[table.File] = len(b.Rows(table.File))
			im.total += im.given[table.File]
		}
		before, err := im.rowsThere()
		if err != nil {
			return nil, err
		}
		if err := im.atOnce(); err != nil {
			return nil, err
		}
		after, err := im.rowsThere()
		if err != nil {
			return nil, err
		}
		var brought []Brought
		for _, table := range bundle.Tables {
			if rows := im.given[table.File]; rows > 0 {
				brought = append(brought, Brought{table.File, rows, after[table.File] - before[table.File]})
			}
		}
		return brought, s.Record("brought a bundle in", "company", 1, nil, brought)
	})
}

// Brought is what an import brought in of a file: its rows, and how many of them were not there before.
type Brought struct {
	File string `json:"file"`
	Rows int    `json:"rows"`
	New  int    `json:"new"`
}

// fileTables are the tables that the rows of a bundle's files go to, where they are not named alike.
var fileTables = map[string]string{
	"tax_codes.csv": "tax_components", "reimbursements.csv": "reimbursed_documents", "settings.csv": "", "landed_costs.csv": "",
}

// rowsThere counts the rows of the tables that an import brings rows to, by file.
func (im *importer) rowsThere() (map[string]int, error) {
	counts := map[string]int{}
	for _, table := range bundle.Tables {
		name, other := fileTables[table.File]
		if !other {
			name = strings.TrimSuffix(table.File, ".csv")
		}
		if name == "" || im.given[table.File] == 0 {
			continue
		}
		count, err := store.Value[int](im.Tx, "SELECT count(*) FROM "+name)
		if err != nil {
			return nil, err
		}
		counts[table.File] = count
	}
	return counts, nil
}

// importer resolves a bundle's codes to rows and saves them, collecting what is wrong.
type importer struct {
	*book.Session
	bundle   *bundle.Bundle
	given    map[string]int // rows, by file
	problems bundle.Problems
	ids      map[string]map[string]int64 // by table, then by key
	step     *costing.Step
	fixed    map[int64]string // documents that can't be changed, and why
	paid     []paidRow
	totals   map[int64]cell // documents with a printed total, and the row that gives it
	taxes    map[string]taxHead
	all      bool // a rule has changed, so that all that is not billed is costed again

	// New rows of the largest files wait here, with their ids, to be added many at a time. Where no work is in the book yet and none has
	// been billed, all of them wait until they are costed.
	documents []store.CostDocument
	entries   []store.TimeEntry
	lines     []store.CostLine
	first     bool
	nextID    map[string]int64 // by table

	scans       scan.Reader
	follows     func(Progress) // nil: nobody does
	read, total int            // rows

	faults int             // found so far, told or not
	told   map[string]bool // codes that are not there, by table and code
	faulty map[string]bool // codes of rows of the bundle that have a fault
}

// cell reads cells of one row and notes what is wrong with them.
type cell struct {
	*importer
	bundle.Row
}

func (c cell) wrong(column, format string, args ...any) {
	c.faults++
	c.problems.Add(c.File, c.Line, column, format, args...)
}

// follows notes that a row can't be brought in for a fault that has been told elsewhere.
func (c cell) follows() { c.faults++ }

// missing tells once of a code that rows refer to and that is not there. What refers to a row of the bundle that has a fault of its own
// follows from that, and is not told.
func (c cell) missing(column, table, code string) {
	key := table + "\x00" + code
	if c.faulty[key] || c.told[key] {
		c.follows()
		return
	}
	c.told[key] = true
	also := ""
	if n := c.rowsWith(column, code) - 1; n > 0 {
		also = fmt.Sprintf(" (also in %s)", words.Counted(int64(n), "more row"))
	}
	c.wrong(column, "there is no %s %q%s", tableNames[table], words.Shortened(code), also)
}

// rowsWith counts the rows of the file that have a text in a column.
func (c cell) rowsWith(column, text string) int {
	n := 0
	for _, row := range c.bundle.Rows(c.File) {
		if row.Get(column) == text {
			n++
		}
	}
	return n
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
	c.missing(column, table, code)
	return nil
}

var tableNames = map[string]string{
	"cost_codes": "cost code", "trades": "trade", "workers": "worker", "tax_codes": "tax code", "customers": "customer", "jobs": "job",
	"phases":         "phase of this job",
	"cost_documents": "cost document", "items": "item of the price list",
}

// orNew resolves a code to a row of a table that is made where a row names it.
func (c cell) orNew(column, table string) *int64 {
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
	made, err := store.Value[int64](c.Tx, "SELECT last_insert_rowid()")
	if err != nil {
		c.wrong(column, "%s", err)
		return nil
	}
	c.ids[table][code] = made
	return &made
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

// keeper says how the rows of a table are brought up to date by an import.
type keeper[R any] struct {
	table   string
	id      func(*R) *int64
	version func(*R) *int64 // nil: the rows have none
	// keep copies from the row that is there what a bundle does not hold; nil: nothing.
	keep func(now, had *R)
	// rests says why a row that is there can't be changed, blank where it can; nil: it always can.
	rests func(im *importer, had *R) (string, error)
	// waits is where new rows wait to be added; nil: they are added at once.
	waits func(im *importer) *[]R
}

// save makes a row, or brings the one with its key up to date where it differs, and remembers its id. What was
// there is returned, nil for a new row; changed is false where it is the same already.
func (k keeper[R]) save(c cell, key string, row *R) (had *R, changed bool, err error) {
	rowID, there := c.ids[k.table][key]
	if !there {
		made, err := k.add(c.importer, row)
		if err != nil {
			return nil, false, err
		}
		*k.id(row), c.ids[k.table][key] = made, made
		return nil, true, nil
	}
	stored, _, err := store.One[R](c.Tx, rowID)
	if err != nil {
		return nil, false, err
	}
	*k.id(row) = rowID
	if k.version != nil {
		*k.version(row) = *k.version(&stored)
	}
	if k.keep != nil {
		k.keep(row, &stored)
	}
	if reflect.DeepEqual(*row, stored) {
		return &stored, false, nil
	}
	if k.rests != nil {
		reason, err := k.rests(c.importer, &stored)
		if err != nil {
			return nil, false, err
		}
		if reason != "" {
			c.wrong("", "%s", reason)
			return nil, false, errWrong
		}
	}
	if k.version != nil {
		*k.version(row)++
	}
	return &stored, true, c.Model(row).Select("*").Updates(row).Error
}

// add adds a new row, or lets it wait under the id that it will have.
func (k keeper[R]) add(im *importer, row *R) (int64, error) {
	if k.waits == nil {
		return store.Insert(im.Tx, row)
	}
	if im.nextID[k.table] == 0 {
		next, err := store.NextID(im.Tx, k.table)
		if err != nil {
			return 0, err
		}
		im.nextID[k.table] = next
	}
	made := im.nextID[k.table]
	im.nextID[k.table]++
	*k.id(row) = made
	waiting := k.waits(im)
	if *waiting = append(*waiting, *row); im.first || len(*waiting) < addedAtOnce {
		return made, nil
	}
	return made, im.addWaiting()
}

// addedAtOnce is how many new rows wait before they are added.
const addedAtOnce = 5000

// addWaiting adds the rows that wait, but for those that wait until they are costed.
func (im *importer) addWaiting() error {
	if err := store.InsertMany(im.Tx, im.documents); err != nil {
		return err
	}
	im.documents = im.documents[:0]
	if im.first {
		return nil
	}
	return im.addWork()
}

func (im *importer) addWork() error {
	err := store.InsertMany(im.Tx, im.entries)
	if err == nil {
		err = store.InsertMany(im.Tx, im.lines)
	}
	im.entries, im.lines = im.entries[:0], im.lines[:0]
	return err
}

// saveRule is save for a row that costs or charges rest on: where it is new or differs, everything that is not
// billed is costed again.
func (k keeper[R]) saveRule(c cell, key string, row *R) error {
	_, changed, err := k.save(c, key, row)
	c.all = c.all || changed
	return err
}

// manyRows is from how many rows on an import is worth making the indexes again.
const manyRows = 5000

// atOnce runs the import, in bulk where it brings more than the book has.
func (im *importer) atOnce() error {
	there, err := store.Value[int](im.Tx, "SELECT (SELECT count(*) FROM time_entries) + (SELECT count(*) FROM cost_lines)")
	if err != nil {
		return err
	}
	if im.first = there == 0 && !im.givesInvoices(); im.first {
		im.entries = make([]store.TimeEntry, 0, im.given["time_entries.csv"])
		im.lines = make([]store.CostLine, 0, im.given["cost_lines.csv"])
	}
	if rows := im.given["time_entries.csv"] + im.given["cost_lines.csv"]; rows < max(manyRows, there) {
		return im.run()
	}
	return im.Bulk([]string{"cost_lines_job"}, im.run)
}

func (im *importer) run() error {
	for table, key := range map[string]string{
		"cost_codes": "code", "trades": "code", "workers": "code", "burden_classes": "code", "rate_cards": "code", "tax_codes": "code",
		"customers": "code", "jobs": "number",
		"time_entries": "ref", "cost_documents": "ref",
		"phases":  "(SELECT number FROM jobs WHERE jobs.id = job_id) || char(0) || code",
		"wages":   "worker_id || '/' || effective_from",
		"burdens": "burden_class_id || '/' || component || '/' || ifnull(cost_code_id, 0) || '/' || effective_from",
		"budgets": "job_id || '/' || ifnull(phase_id, 0) || '/' || category || '/' || ifnull(cost_code_id, 0)",
		"labour_rates": "card_id || '/' || effective_from || '/' || ifnull(worker_id, 0) || '/' || ifnull(trade_id, 0) || '/' || " +
			"ifnull(cost_code_id, 0)",
		"markups":        "card_id || '/' || effective_from || '/' || category || '/' || over_cost",
		"tax_components": "tax_code_id || '/' || component || '/' || ifnull(effective_from, '')",
		"cost_lines":     "document_id || '/' || line",
		"payments":       "ref",
		"items":          "code",
		"suppliers":      "name",
		"units":          "name",
		"contacts":       "(SELECT code FROM customers WHERE customers.id = customer_id) || char(0) || email",
		"item_prices":    "item_id || '/' || effective_from",
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
		{"holidays.csv", im.holiday}, {"cost_codes.csv", im.costCode}, {"trades.csv", im.trade}, {"workers.csv", im.worker},
		{"wages.csv", im.wage}, {"year_openings.csv", im.opening},
		{"burdens.csv", im.burden}, {"tax_codes.csv", im.taxCode}, {"labour_rates.csv", im.labourRate}, {"markups.csv", im.markup},
		{"customers.csv", im.customer}, {"contacts.csv", im.contact}, {"jobs.csv", im.job},
		{"phases.csv", im.phase}, {"budgets.csv", im.budget},
		{"schedule_lines.csv", im.scheduleLine}, {"instalments.csv", im.instalment},
		{"recurring.csv", im.recurring}, {"recurring_lines.csv", im.recurringLine},
		{"time_entries.csv", im.timeEntry}, {"workdays.csv", im.workday},
		{"units.csv", im.unit},
		{"items.csv", im.item},
		{"item_prices.csv", im.itemPrice}, {"suppliers.csv", im.supplier}, {"cost_documents.csv", im.costDocument},
		{"cost_lines.csv", im.costLine},
		{"attachments.csv", im.attachment}, {"reimbursements.csv", im.reimbursement}, {"dismissals.csv", im.dismissal},
	}
	for _, step := range steps {
		for _, row := range im.bundle.Rows(step.file) {
			if im.read++; im.read%toldEvery == 1 {
				im.tell(step.file)
			}
			before := im.faults
			if err := im.Stopped(); err != nil {
				return err
			}
			if err := step.row(cell{im, row}); err != nil && im.faults == before {
				return fmt.Errorf("%s line %d: %w", row.File, row.Line, err)
			}
			if im.faults > before {
				im.faulty[strings.TrimSuffix(row.File, ".csv")+"\x00"+keyColumn(row)] = true
			}
		}
		if err := im.addWaiting(); err != nil {
			return fmt.Errorf("%s: %w", step.file, err)
		}
		im.bundle.Release(step.file)
	}
	if err := im.settings(); err != nil {
		return err
	}
	if err := im.instalmentsHold(); err != nil {
		return err
	}
	im.read = im.total
	im.tell("")
	return im.finish()
}

// keyColumn is what other rows of a bundle refer to a row by.
func keyColumn(row bundle.Row) string { return row.Values()[0] }

// finish bills what the bundle says was billed, and works out what rests on what was brought in.
func (im *importer) finish() error {
	drafts, err := im.billed()
	if err != nil {
		return err
	}
	if err := im.problems.Err(); err != nil {
		return err
	}
	if err := im.messagesIn(); err != nil {
		return err
	}
	if err := im.problems.Err(); err != nil {
		return err
	}
	book.Forget[*ratebook.Book](im.Session)
	if im.first {
		im.step.Done()
		err = im.addCosted()
	} else {
		err = im.costAdded()
	}
	if err != nil {
		return im.placed(err)
	}
	if err := im.totalsHold(); err != nil {
		return err
	}
	if err := im.payBacks(); err != nil {
		return err
	}
	if err := drafting.RefreshDrafts(im.Session, drafts); err != nil {
		return err
	}
	return im.marks()
}

// costAdded costs what has been added, and what rests on what has changed.
func (im *importer) costAdded() error {
	if err := im.WorkersIndex(); err != nil {
		return err
	}
	if im.all {
		if err := im.step.PricedHours("1 = 1"); err != nil {
			return err
		}
		if err := im.step.PricedLines("1 = 1"); err != nil {
			return err
		}
		if err := im.step.DraftsOf("1 = 1"); err != nil {
			return err
		}
	}
	return im.step.Run()
}

// placed says in which file of the bundle the amounts are that could not be worked out.
func (im *importer) placed(err error) error {
	e, ok := refuse.AsError(err)
	if !ok || e.Kind != refuse.KindInvalid {
		return err
	}
	for _, f := range e.Fields {
		file := map[string]string{"hours": "time_entries.csv", "lines": "cost_lines.csv"}[f.Path]
		im.problems.Add(file, 0, "", "%s", f.Message)
		im.faults++
	}
	return im.problems.Err()
}

// currencyFirst settles the currency before any amount is read in its digits.
func (im *importer) currencyFirst() error {
	for _, row := range im.bundle.Rows("settings.csv") {
		code := row.Get("value")
		if row.Get("key") != "currency" || code == im.Company.Currency {
			continue
		}
		cur, err := book.ParseCurrency(code)
		if err != nil {
			continue // told when the settings are read
		}
		booked, err := store.Value[int64](im.Tx, "SELECT (SELECT count(*) FROM time_entries) + (SELECT count(*) FROM cost_documents)")
		if err != nil {
			return err
		}
		if booked > 0 {
			im.faults++
			im.problems.Add(row.File, row.Line, "value", "the currency stays %s once work is booked in it", im.Company.Currency)
			continue
		}
		im.Currency = cur
	}
	return nil
}

var errWrong = fmt.Errorf("a cell is wrong")

// good says whether a row has had no problem so far.
func (c cell) good(before int) error {
	if c.faults > before {
		return errWrong
	}
	return nil
}
