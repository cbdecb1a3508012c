package exchange

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"time"

	billed "jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/company"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/drafting"
	"jarvo/internal/app/form"
	"jarvo/internal/bundle"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/labour"
	"jarvo/internal/core/money"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// invoiceFiles are the files of a bundle whose rows never change once they are in a book.
var invoiceFiles = []string{
	"invoices.csv", "typed_lines.csv", "invoice_lines.csv", "invoice_taxes.csv", "invoice_jobs.csv", "invoice_parties.csv",
	"invoice_sources.csv",
	"releases.csv", "applied_deposits.csv", "credits.csv", "write_backs.csv",
	"labour_segments.csv", "landed_costs.csv", "payments.csv", "payment_allocations.csv", "bank_lines.csv",
}

// billedIn is the invoices of a bundle on their way in.
type billedIn struct {
	*importer
	there    map[string]map[string][]string // the rows that the book has already, by file and key
	invoices map[string]*invoiceIn          // by ref: those that are new
	inOrder  []*invoiceIn
	entries  map[string]*sourceWork // by ref
	lines    map[string]*sourceWork // by document and line
}

// invoiceIn is one invoice with all that is under it.
type invoiceIn struct {
	cell
	store.Invoice
	ref     string
	typed   []store.TypedLine
	lines   []store.InvoiceLine
	typedOf []typedAt // of each line
	taxes   []taxIn
	applied []appliedIn
	shares  []store.InvoiceJob
	parties []store.InvoiceParty
	sources []sourceIn
	credits []creditIn
	release []releaseIn
	backs   []writeBackIn
	on      string // of a credit note: the invoice
}

type sourceIn struct {
	cell
	work           *sourceWork
	position       int
	part           int
	chosen         drafting.Chosen
	charge, amount money.Amount
	released       bool // it was credited wholly, to bill again, and counts for nothing
}

// sourceWork is an entry or a cost line as an invoice bills it.
type sourceWork struct {
	ID, JobID, CustomerID int64
	Key, Status           string
	EntryID, LineID       *int64
	PhaseID               *int64
	Minutes               money.Minutes
	Billed                bool // in the book already, so that it keeps what it has
	Charge                *money.Amount
	Left                  money.Amount // in the book, beside what is on invoices and drafts there
	Parts                 int          // in the book
	segments              []labour.Segment
	landed                *store.CostLine
	parts                 map[int]money.Amount // of this bundle, by number
	issued, kept          bool                 // a part of it is on an issued invoice; it has what it was costed at
}

// billed brings in what was invoiced and paid, and returns the drafts, which follow from the work that they hold.
func (im *importer) billed() ([]int64, error) {
	if !im.givesInvoices() {
		return nil, nil
	}
	in := &billedIn{importer: im, invoices: map[string]*invoiceIn{}}
	for _, step := range []func() error{in.loadThere, in.loadWork} {
		if err := step(); err != nil {
			return nil, err
		}
	}
	for _, file := range []struct {
		name string
		row  func(cell)
	}{
		{"invoices.csv", in.head}, {"typed_lines.csv", in.typed}, {"invoice_lines.csv", in.line},
		{"invoice_taxes.csv", in.tax}, {"invoice_jobs.csv", in.share}, {"invoice_parties.csv", in.party},
		{"invoice_sources.csv", in.source}, {"releases.csv", in.release},
		{"applied_deposits.csv", in.appliedDeposit},
		{"credits.csv", in.credit}, {"write_backs.csv", in.writeBack},
		{"labour_segments.csv", in.segment}, {"landed_costs.csv", in.landedCost},
	} {
		for _, row := range im.bundle.Rows(file.name) {
			if c := (cell{im, row}); !in.same(c) {
				file.row(c)
			}
		}
	}
	if err := in.check(); err != nil || len(im.problems) > 0 {
		return nil, err
	}
	drafts, err := in.save()
	if errors.Is(err, errWrong) {
		return nil, nil // it is said where it is wrong
	}
	if err != nil {
		return nil, err
	}
	return drafts, in.payments()
}

func (im *importer) givesInvoices() bool {
	return slices.ContainsFunc(invoiceFiles, func(file string) bool { return im.given[file] > 0 })
}

// loadThere reads the rows of these files as the book would write them.
func (in *billedIn) loadThere() error {
	x := &exporter{Session: in.Session, data: bundle.Data{}}
	if err := x.invoices(); err != nil {
		return err
	}
	in.there = map[string]map[string][]string{}
	for file, rows := range x.data {
		in.there[file] = make(map[string][]string, len(rows))
		for _, row := range rows {
			in.there[file][bundle.KeyOf(file, row)] = row
		}
	}
	return nil
}

// same says that the book has a row already. One that is there and differs is wrong: what was issued or paid never changes.
func (in *billedIn) same(c cell) bool {
	had, there := in.there[c.File][bundle.KeyOf(c.File, c.Values())]
	if there && !slices.Equal(had, c.Values()) {
		c.wrong("", "this is in the book already, and differs; what was issued or paid never changes")
	}
	return there
}

func (in *billedIn) loadWork() error {
	work := func(query string) (map[string]*sourceWork, error) {
		rows, err := store.Query[sourceWork](in.Tx, query)
		byKey := make(map[string]*sourceWork, len(rows))
		for i := range rows {
			byKey[rows[i].Key] = &rows[i]
		}
		return byKey, err
	}
	var err error
	in.entries, err = work(workEntries)
	if err != nil {
		return err
	}
	in.lines, err = work(workLines)
	return err
}

func (c cell) amount(column string) money.Amount { return read(c, column, c.ParseAmount) }

// some reads an amount that may be absent.
func (c cell) some(column string) *money.Amount {
	if c.Get(column) == "" {
		return nil
	}
	amount := c.amount(column)
	return &amount
}

func (in *billedIn) head(c cell) {
	i := &invoiceIn{cell: c, ref: c.Get("ref"), Invoice: store.Invoice{
		Status: c.oneOf("status", store.Draft, store.Issued), Prefix: c.Get("prefix"), CustomerID: store.ID(c.refer("customer", "customers")),
		Date: read(c, "date", calendar.Parse), Due: read(c, "due", calendar.Parse),
		Title: c.Get("title"), Currency: in.Currency.Code, CompanyName: c.Get("company_name"), CompanyAddress: c.Get("company_address"),
		CompanyEmail: c.Get("company_email"), CompanyTaxNumber: c.Get("company_tax_number"), CompanyLogo: c.logo("company_logo"),
		TaxNotes:     c.Get("tax_notes"),
		CustomerName: c.Get("customer_name"), CustomerAddress: c.Get("customer_address"),
		OrderNumber: c.Get("order_number"), Opening: c.Get("opening"), Closing: c.Get("closing"), Grouping: c.Get("grouping"), Version: 1,
		Subtotal: c.amount("subtotal"), Tax: c.amount("tax"), Retainage: c.amount("retainage"), Total: c.amount("total"),
		DueNow: c.amount("due_now"), Prepaid: c.amount("prepaid"), ShowRates: c.yes("show_rates"),
		Reference: c.Get("reference"), CompanyPhone: c.Get("company_phone"), CompanyCountry: c.Get("company_country"),
		Remittance: store.Remittance{
			Licence: c.Get("licence"), Payee: c.Get("payee"), Bank: c.Get("bank"), Account: c.Get("account"), BankCode: c.Get("bank_code"),
			PayNote: c.Get("pay_note"), PaperSize: c.oneOf("paper_size", company.PaperSizes...), Accent: c.Get("accent"),
		},
	}, on: c.Get("credit_of")}
	if !slices.Contains(billing.Groupings, billing.Grouping(i.Grouping)) {
		c.wrong("grouping", "%q is not a grouping", i.Grouping)
	}
	if i.on != "" && i.Status == store.Draft {
		c.wrong("credit_of", "a credit note is never a draft")
	}
	if i.Status == store.Issued {
		number, at := read(c, "number", form.SequenceNumber), read(c, "issued_at", moment)
		i.Number, i.IssuedAt = &number, &at
		if i.ref != i.NumberText() {
			c.wrong("ref", "an issued invoice is named by its prefix and number: %s", i.NumberText())
		}
	} else if c.Get("number") != "" {
		c.wrong("number", "a draft has no number yet")
	}
	in.invoices[i.ref] = i
	in.inOrder = append(in.inOrder, i)
}

func moment(s string) (int64, error) {
	t, err := time.Parse(time.RFC3339, s)
	if err != nil {
		return 0, fmt.Errorf("%q is not a moment such as 2026-11-23T08:00:00Z", s)
	}
	return t.UnixMilli(), nil
}

// under finds the new invoice that a row belongs to.
func (in *billedIn) under(c cell) *invoiceIn {
	ref := c.Get("invoice")
	if i := in.invoices[ref]; i != nil {
		return i
	}
	if _, there := in.there["invoices.csv"][ref]; there {
		c.wrong("invoice", "invoice %s is in the book already, without this; what was issued never changes", ref)
	} else {
		c.wrong("invoice", "there is no invoice %q", ref)
	}
	return nil
}

func (in *billedIn) line(c cell) {
	line := store.InvoiceLine{
		Position: int(read(c, "position", form.SequenceNumber)), JobID: store.ID(c.refer("job", "jobs")), Category: c.Get("category"),
		Text: c.Get("text"), Minutes: money.Minutes(read(c, "minutes", form.WholeNumber)),
		Quantity: read(c, "quantity", form.ParseQuantity), Unit: c.Get("unit"), Amount: c.amount("amount"),
		Rate: read(c, "rate", form.ParseRate),
	}
	if line.Category != "" {
		c.oneOf("category", billing.Categories...)
	}
	if i := in.under(c); i != nil {
		i.typedOf = append(i.typedOf, int(read(c, "typed_line", form.WholeNumber)))
		i.lines = append(i.lines, line)
	}
}

func (in *billedIn) tax(c cell) {
	tax := store.InvoiceTax{
		Position: int(read(c, "position", form.SequenceNumber)), TaxCode: c.Get("tax_code"), Component: c.Get("component"),
		Percent: read(c, "percent", form.ParsePercent), Base: c.amount("base"),
		Amount: c.amount("amount"), AppliesTo: c.Get("applies_to"), OnRelease: c.yes("on_release"),
		Scheme: c.oneOf("scheme", billing.TaxSchemes...),
	}
	if i := in.under(c); i != nil {
		i.taxes = append(i.taxes, taxIn{tax, c, c.Get("deposit")})
	}
}

func (in *billedIn) share(c cell) {
	share := store.InvoiceJob{
		JobID: store.ID(c.refer("job", "jobs")), Subtotal: c.amount("subtotal"),
		RetainagePercent: read(c, "retainage_percent", form.ParsePercent), Retainage: c.amount("retainage"),
		TaxCode: c.Get("tax_code"), Contract: c.some("contract"), BilledToDate: c.some("billed_to_date"),
		HeldToDate: c.some("held_to_date"), Site: c.Get("site"), TaxNote: c.Get("tax_note"), OrderNumber: c.Get("order_number"),
	}
	if c.Get("tax_kind") != "" {
		share.TaxKind = c.oneOf("tax_kind", "standard", "zero", "exempt", "reverse_charge")
	}
	if i := in.under(c); i != nil {
		i.shares = append(i.shares, share)
	}
}

func (in *billedIn) party(c cell) {
	party := store.InvoiceParty{
		Side: c.oneOf("side", store.Seller, store.Buyer), Street: c.Get("street"), PostCode: c.Get("post_code"), City: c.Get("city"),
		Region: c.Get("region"), Country: c.Get("country"), TaxNumber: c.Get("tax_number"), Email: c.Get("email"), Registry: c.registry(),
	}
	if i := in.under(c); i != nil {
		i.parties = append(i.parties, party)
	}
}

// workOf finds the entry or cost line that a row names.
func (in *billedIn) workOf(c cell, entry, document, line string) *sourceWork {
	switch {
	case (entry == "") == (document == ""):
		c.wrong("time_entry", "name a time entry, or a document and its line")
	case entry != "":
		if w := in.entries[entry]; w != nil {
			return w
		}
		c.wrong("time_entry", "there is no time entry %q", entry)
	default:
		if w := in.lines[document+"/"+line]; w != nil {
			return w
		}
		c.wrong("line", "document %q has no line %q with a job", document, line)
	}
	return nil
}

func (in *billedIn) source(c cell) {
	s := sourceIn{
		cell: c, charge: c.amount("charge"), amount: c.amount("amount"), part: int(read(c, "part", form.SequenceNumber)), chosen: c.chosen(),
		work: in.workOf(c, c.Get("time_entry"), c.Get("document"), c.Get("line")), released: c.yes("released"),
	}
	i := in.under(c)
	if i == nil || s.work == nil {
		return
	}
	if i.Status == store.Issued {
		s.position = int(read(c, "position", form.SequenceNumber))
	}
	_, taken := s.work.parts[s.part]
	switch {
	case taken || s.part <= s.work.Parts:
		c.wrong("", "%s is on another invoice already", s.work.Key)
	case s.work.Status != store.Approved && !s.released:
		c.wrong("", "%s is not approved, so it can't be on an invoice", s.work.Key)
	case s.work.CustomerID != i.CustomerID:
		c.wrong("", "%s is for another customer than invoice %s", s.work.Key, i.ref)
	}
	if s.work.parts == nil {
		s.work.parts = map[int]money.Amount{}
	}
	s.work.parts[s.part] = s.amount + s.chosen.Down - s.chosen.Up
	if s.released {
		s.work.parts[s.part] = 0
	}
	s.work.issued = s.work.issued || i.Status == store.Issued && !s.released
	i.sources = append(i.sources, s)
}

// ways are the ways in which parts are chosen, as a bundle writes them.
var ways = []string{
	string(billing.TheRest), string(billing.AsFits), string(billing.ByHours), string(billing.ByQuantity), string(billing.ByPercent),
	string(billing.ByAmount),
}

// chosen reads how a part was chosen.
func (c cell) chosen() drafting.Chosen {
	chosen := drafting.Chosen{
		Way: billing.Way(c.oneOf("way", ways...)), Typed: read(c, "typed", signedNumber), Runs: c.Get("runs"), Up: c.amount("up"),
		Down: c.amount("down"), AllDown: c.yes("all_down"), Reason: c.Get("reason"),
	}
	if !drafting.AreRuns(chosen.Runs) {
		c.wrong("runs", "%q is not minutes such as 0-200 480-510", chosen.Runs)
	}
	if chosen.Down != 0 && chosen.Reason == "" {
		c.wrong("reason", "say why it is written down")
	}
	return chosen
}

func signedNumber(s string) (int64, error) {
	n, err := strconv.ParseInt(s, 10, 64)
	if err != nil {
		return 0, fmt.Errorf("%q is not a whole number", s)
	}
	return n, nil
}

func (in *billedIn) segment(c cell) {
	class, known := classOf(c.Get("class"))
	if !known {
		c.wrong("class", "%q is not regular, overtime, double or leave", c.Get("class"))
	}
	segment := labour.Segment{
		Segment:  worktime.Segment{Class: class, Minutes: money.Minutes(read(c, "minutes", form.SequenceNumber))},
		Straight: c.amount("straight"), Gross: c.amount("gross"), Burden: c.amount("burden"),
		Cost: readOptional(c, "cost", in.ParseAmount), Charge: readOptional(c, "charge", in.ParseAmount),
	}
	if w := in.workOf(c, c.Get("time_entry"), "", ""); w != nil {
		in.frozen(c, w)
		w.segments = append(w.segments, segment)
	}
}

// frozen checks that what a row keeps for a work is of work that an invoice of this bundle bills.
func (in *billedIn) frozen(c cell, w *sourceWork) {
	if !w.issued {
		c.wrong("", "%s is not on an issued invoice of this bundle, so what it costs follows from the rules", w.Key)
	}
}

func (in *billedIn) landedCost(c cell) {
	charge := c.amount("charge")
	landed := store.CostLine{Base: c.amount("base"), Freight: c.amount("freight"), Tax: c.amount("tax"), Charge: &charge}
	if w := in.workOf(c, "", c.Get("document"), c.Get("line")); w != nil {
		in.frozen(c, w)
		landed.ID, landed.Landed = w.ID, landed.Base+landed.Freight+landed.Tax
		w.landed = &landed
	}
}

// check adds every invoice up.
func (in *billedIn) check() error {
	slices.SortStableFunc(in.inOrder, func(a, b *invoiceIn) int {
		if a.Number == nil || b.Number == nil {
			return cmp.Compare(b.Status, a.Status) // issued before drafts
		}
		return cmp.Compare(*a.Number, *b.Number)
	})
	if len(in.problems) > 0 {
		return nil // what is not read right can't be added up
	}
	last, err := store.Value[int64](in.Tx, "SELECT ifnull(max(number), 0) FROM invoices")
	if err != nil {
		return err
	}
	for _, i := range in.inOrder {
		i.depositAlone()
		if i.Status == store.Draft {
			if len(i.sources)+len(i.typed)+len(i.release) == 0 {
				i.wrong("", "draft %s holds nothing", i.ref)
			}
			continue
		}
		i.addsUp()
		switch n := *i.Number; {
		case n <= last:
			i.wrong("number", "invoice numbers up to %d are taken", last)
		case last > 0 && n > last+1:
			i.wrong("number", "invoice numbers have no gaps: %d is missing", last+1)
		}
		last = max(last, *i.Number)
	}
	return nil
}

// ratesAddUp checks the lines of an issued invoice that show hours and rate. With the line for rounding they come to what the hours of
// their job are charged, so none of them is left to be the sum of what it stands for.
func (i *invoiceIn) ratesAddUp(byPosition map[int]money.Amount) {
	left := map[int64]money.Amount{}
	for _, l := range i.lines {
		if l.Rate == 0 {
			continue
		}
		left[l.JobID] = 0
		amount, err := i.importer.Currency.ForTime(l.Rate, money.One, l.Minutes)
		if err != nil || amount != l.Amount {
			i.wrong("", "line %d of invoice %s is not its hours at %s", l.Position, i.ref, i.importer.Currency.FormatRate(l.Rate))
		}
	}
	of := func(l store.InvoiceLine) bool {
		_, rated := left[l.JobID]
		return rated && (l.Rate != 0 || l.Category == billing.Labour && l.Text == billing.Rounding)
	}
	for _, l := range i.lines {
		if of(l) {
			left[l.JobID] += byPosition[l.Position]
			byPosition[l.Position] = 0
		}
	}
	for _, rest := range left {
		if rest != 0 {
			i.wrong("", "the hours with a rate on invoice %s do not come to what they are charged", i.ref)
		}
	}
}

// addsUp checks an issued invoice against everything under it.
func (i *invoiceIn) addsUp() {
	sum := func(what string, stated, got money.Amount) {
		if stated != got {
			i.wrong("", "%s of invoice %s come to %s, not %s", what, i.ref, i.Money(got), i.Money(stated))
		}
	}
	var lines, taxes, shares, retainage, sources money.Amount
	byPosition, byJob := map[int]money.Amount{}, map[int64]money.Amount{}
	for _, l := range i.lines {
		lines += l.Amount
		byPosition[l.Position] += l.Amount
	}
	for _, t := range i.taxes {
		taxes += t.Amount
	}
	for _, s := range i.shares {
		shares += s.Subtotal
		retainage += s.Retainage
		byJob[s.JobID] += s.Subtotal
	}
	for _, s := range i.sources {
		sources += s.amount
		if _, there := byPosition[s.position]; !there {
			s.wrong("position", "invoice %s has no line %d", i.ref, s.position)
		}
		byPosition[s.position] -= s.amount
		byJob[s.work.JobID] -= s.amount
		if !s.released {
			s.work.addsUp(s)
		}
	}
	sources -= i.creditsAddUp(byPosition, byJob)
	sources += i.typedAddsUp(byPosition, byJob)
	i.ratesAddUp(byPosition)
	sum("the lines", i.Subtotal, lines)
	sum("the entries, cost lines and typed lines", i.Subtotal, sources)
	sum("the jobs' shares", i.Subtotal, shares)
	sum("the taxes", i.Tax, taxes)
	sum("the shares' retainage", i.Retainage, retainage)
	sum("subtotal and tax", i.Total, i.Subtotal+i.Tax)
	sum("what is applied of deposits", i.Prepaid, i.prepaid())
	sum("total less retainage and what is prepaid", i.DueNow, i.Total-i.Retainage-i.Prepaid)
	switch {
	case i.on != "" && (i.Subtotal > 0 || i.Subtotal == 0 && len(i.release) == 0 || i.DueNow > 0 || len(i.sources)+len(i.typed) > 0):
		i.wrong("", "a credit note credits what is on its invoice, with amounts below 0")
	case len(i.release) > 0 && (i.Subtotal != 0 || i.Retainage != -i.released()):
		i.wrong("", "invoice %s does not ask for just what it releases", i.ref)
	case i.on == "" && (i.Subtotal < 0 || i.DueNow < 0):
		i.wrong("", "%s", billing.ErrNegative)
	}
	for position, left := range byPosition {
		if left != 0 {
			i.wrong("", "line %d of invoice %s is not the sum of what it stands for", position, i.ref)
		}
	}
	for job, left := range byJob {
		if left != 0 {
			i.wrong("", "the share of a job (%d) of invoice %s is not the sum of its work", job, i.ref)
		}
	}
}

// addsUp checks what billed work keeps against the work and what it was charged.
func (w *sourceWork) addsUp(s sourceIn) {
	w.within(s)
	if w.Billed {
		if w.Charge == nil || *w.Charge != s.charge {
			s.wrong("charge", "%s was charged %s, not %s", w.Key, s.Maybe(w.Charge), s.Money(s.charge))
		}
		return
	}
	if w.LineID != nil {
		if w.landed == nil {
			s.wrong("", "%s is billed, but landed_costs.csv does not say what it cost", w.Key)
		} else if *w.landed.Charge != s.charge {
			s.wrong("charge", "%s was charged %s, not %s", w.Key, s.Money(*w.landed.Charge), s.Money(s.charge))
		}
		return
	}
	var minutes money.Minutes
	var charge money.Amount
	for _, g := range w.segments {
		minutes += g.Minutes
		if g.Charge != nil {
			charge += *g.Charge
		}
		if paid := g.Gross + g.Burden; g.Cost == nil && paid != 0 || g.Cost != nil && *g.Cost != paid {
			s.wrong("", "the cost of %s is not its gross and burden", w.Key)
		}
	}
	if minutes != w.Minutes {
		s.wrong("", "%s is billed, but labour_segments.csv has %d of its %d minutes", w.Key, minutes, w.Minutes)
	}
	if charge != s.charge {
		s.wrong("charge", "%s was charged %s, not %s", w.Key, s.Money(charge), s.Money(s.charge))
	}
}

// within checks that no more is billed of work than its charge.
func (w *sourceWork) within(s sourceIn) {
	left := s.charge
	if w.Billed {
		left = w.Left
	}
	for _, amount := range w.parts {
		left -= amount
	}
	if left != 0 && (left > 0) != (s.charge > 0) {
		s.wrong("amount", "more is billed of %s than its charge of %s", w.Key, s.Money(s.charge))
	}
}

func (in *billedIn) save() (drafts []int64, err error) {
	for _, i := range in.inOrder {
		if i.Status == store.Draft {
			if err := in.saveDraft(i); err != nil {
				return nil, err
			}
			drafts = append(drafts, i.ID)
			continue
		}
		if err := in.saveIssued(i); err != nil {
			return nil, fmt.Errorf("invoice %s: %w", i.ref, err)
		}
		if *i.Number >= in.Company.NextInvoiceNumber {
			in.Company.NextInvoiceNumber = *i.Number + 1
			if err := in.Model(&in.Company).Update("next_invoice_number", in.Company.NextInvoiceNumber).Error; err != nil {
				return nil, err
			}
		}
	}
	return drafts, nil
}

// saveDraft saves what a draft holds; the rest follows when its work has been costed.
func (in *billedIn) saveDraft(i *invoiceIn) error {
	i.Subtotal, i.Tax, i.Total, i.Retainage, i.Prepaid, i.DueNow = 0, 0, 0, 0, 0, 0
	if err := in.Create(&i.Invoice).Error; err != nil {
		return err
	}
	if _, err := in.saveTyped(i); err != nil {
		return err
	}
	return book.InOrder(
		func() error { return in.saveReleases(i) },
		func() error { return in.saveApplied(i) },
		func() error { return in.saveSources(i, nil) },
	)
}

func (in *billedIn) saveSources(i *invoiceIn, lineIDs map[int]int64) error {
	for _, s := range i.sources {
		row := store.InvoiceSource{
			InvoiceID: i.ID, InvoiceLineID: store.Ref(lineIDs[s.position]), EntryID: s.work.EntryID, CostLineID: s.work.LineID, Part: s.part,
			Way: string(s.chosen.Way), Typed: s.chosen.Typed, Runs: s.chosen.Runs, Charge: s.charge, Amount: s.amount, Up: s.chosen.Up,
			Down: s.chosen.Down, AllDown: s.chosen.AllDown, Reason: s.chosen.Reason, Released: s.released,
		}
		if _, err := store.Insert(in.Tx, &row); err != nil {
			return err
		}
	}
	return nil
}

// saveIssued saves an invoice as a draft with everything under it, and then issues it as it was.
func (in *billedIn) saveIssued(i *invoiceIn) error {
	if err := in.findCredited(i); err != nil {
		return err
	}
	head := i.Invoice
	head.Status, head.Number, head.IssuedAt = store.Draft, nil, nil
	if err := in.Create(&head).Error; err != nil {
		return err
	}
	i.ID = head.ID
	typed, err := in.saveTyped(i)
	if err != nil {
		return err
	}
	lineIDs := map[int]int64{}
	for n, l := range i.lines {
		l.InvoiceID, l.TypedLineID = i.ID, store.Ref(typed[i.typedOf[n]])
		made, err := store.Insert(in.Tx, &l)
		if err != nil {
			return err
		}
		lineIDs[l.Position] = made
	}
	if err := in.saveTaxes(i); err != nil {
		return err
	}
	for _, s := range i.shares {
		s.InvoiceID = i.ID
		if err := in.Create(&s).Error; err != nil {
			return err
		}
	}
	for _, p := range i.parties {
		p.InvoiceID = i.ID
		if err := in.Create(&p).Error; err != nil {
			return err
		}
	}
	parts := make([]drafting.DraftSource, len(i.sources))
	for n, s := range i.sources {
		parts[n] = drafting.DraftSource{JobID: s.work.JobID, PhaseID: s.work.PhaseID, Amount: s.amount}
		if s.released {
			continue
		}
		if err := in.keepCosts(s.work); err != nil {
			return err
		}
	}
	if err := in.saveSources(i, lineIDs); err != nil {
		return err
	}
	credited, err := in.saveCredits(i)
	if err == nil {
		err = book.InOrder(func() error { return in.saveReleases(i) }, func() error { return in.saveApplied(i) })
	}
	if err != nil {
		return err
	}
	parts = append(append(parts, i.typedParts()...), credited...)
	if err := drafting.LayParts(in.Session, i.ID, parts); err != nil {
		return err
	}
	for _, say := range []string{sayCodes, sayTaxes} { // a bundle of before does not
		if err := in.Exec(say, i.ID).Error; err != nil {
			return err
		}
	}
	if err := in.Exec(setIssued, i.Number, i.IssuedAt, i.Sealed(), i.ID).Error; err != nil {
		return err
	}
	if i.CreditOf != nil {
		return billed.ReleaseCredited(in.Session, i.ID)
	}
	return in.saveWriteBacks(i)
}

// keepCosts gives billed work what it was costed and charged at, and notes where it would be charged otherwise now.
func (in *billedIn) keepCosts(w *sourceWork) error {
	if w.kept || w.Billed {
		return nil
	}
	w.kept = true
	if w.landed != nil {
		l := w.landed
		if err := in.Run(lineOtherwise, w.ID, l.Charge); err != nil {
			return err
		}
		return in.Run(keepLineCosts,
			l.Base, l.Freight, l.Tax, l.Landed, l.Charge, l.ID)
	}
	if err := in.Run("DELETE FROM labour_segments WHERE entry_id = ?", w.ID); err != nil {
		return err
	}
	if err := store.InsertMany(in.Tx, costing.SegmentRows(w.ID, w.segments)); err != nil {
		return err
	}
	var e costing.CostedEntry
	e.Total(w.segments)
	if err := in.Run(hoursOtherwise, w.ID, e.Charge); err != nil {
		return err
	}
	return in.Run(keepHourCosts, e.OvertimeMinutes, e.Class, e.Straight, e.Gross, e.Cost, e.Charge, w.ID)
}
