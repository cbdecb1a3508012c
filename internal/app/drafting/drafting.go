// Package drafting lays an invoice out from its sources. It is below billing, since costing brings drafts up to date.
package drafting

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/limits"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// DraftTitle names the jobs of what an invoice bills and the dates of the work on it, or its own date where there is none.
func DraftTitle(sources []DraftSource, date calendar.Date) string {
	first, last := calendar.Always.To, calendar.Always.From
	var jobs []string
	for _, src := range sources {
		if src.TypedID == 0 {
			first, last = min(first, src.Date), max(last, src.Date)
		}
		name := src.JobNumber + " " + src.JobName
		if !slices.Contains(jobs, name) {
			jobs = append(jobs, name)
		}
	}
	if len(jobs) > 3 {
		jobs = append(jobs[:3], fmt.Sprintf("%d more", len(jobs)-3))
	}
	if first > last {
		first, last = date, date
	}
	if len(sources) > 0 && sources[0].IsDeposit() {
		return "Deposit, " + strings.Join(jobs, ", ")
	}
	period := last.Time().Format("2 January 2006")
	switch {
	case first.Year() != last.Year():
		period = first.Time().Format("2 January 2006") + " to " + period
	case first != last:
		period = first.Time().Format("2 January") + " to " + period
	}
	return strings.Join(jobs, ", ") + ", " + period
}

// DraftSource is an entry or cost line as an invoice names it.
type DraftSource struct {
	SourceID   int64 // of invoice_sources, 0 before it is on one
	TypedID    int64 // of typed_lines, where no work stands behind it
	EntryID    int64
	CostLineID int64
	JobID      int64
	JobNumber  string
	JobName    string
	PhaseID    *int64
	Category   string
	Date       calendar.Date
	Charge     money.Amount
	Left       money.Amount // of the charge, beside what is on invoices and drafts and written down
	Held       money.Amount // of what is left: held back by a limit
	Amount     money.Amount // on this invoice
	Chosen     `gorm:"embedded"`
	Part       int  // which one of its work this is
	Others     int  // how many other parts of its work are on invoices and drafts
	Was        Kept `gorm:"-"` // before it followed its work; Left goes by that
	KeptCharge money.Amount
	OnHold     bool // no bill run takes it until somebody lets it go
	HoldNote   string
	Minutes    money.Minutes
	Quantity   money.Quantity
	Unit       string
	Worker     string
	Trade      string
	CostCode   string
	Phase      string
	Text       string
	Retainage  money.Percent
	// What its tax code is chosen from.
	TaxExempt           bool
	JobTax, CustomerTax *int64
	// What the sources are sorted by.
	NumberOrder string
	KindOrder   int
	InOrder     int64
}

// ReadySources are the entries and lines of some jobs that a bill run takes: what is ready to bill through a date, each as far as its
// limit goes, and not held.
func ReadySources(s *book.Session, jobs []int64, through calendar.Date) ([]DraftSource, error) {
	sources, err := readyOf(s, jobs, through)
	return slices.DeleteFunc(sources, func(src DraftSource) bool { return src.OnHold }), err
}

// Offered are the entries and lines of some jobs that are ready to bill, held or not, of all dates.
func Offered(s *book.Session, jobs []int64) ([]DraftSource, error) {
	return readyOf(s, jobs, calendar.Always.To)
}

func readyOf(s *book.Session, jobs []int64, through calendar.Date) ([]DraftSource, error) {
	sources, err := store.Query[DraftSource](s.Tx, readySources, map[string]any{"jobs": jobs, "through": through})
	if err != nil {
		return nil, err
	}
	fits := map[limits.Source]money.Amount{}
	for _, job := range jobs {
		within, err := limits.Through(s.Tx, job, through)
		if err != nil {
			return nil, err
		}
		maps.Copy(fits, within)
	}
	ready := sources[:0]
	for _, src := range sources {
		src.Way, src.Amount = billing.TheRest, src.Left
		fits, limited := fits[limits.Source{EntryID: src.EntryID, CostLineID: src.CostLineID}]
		switch {
		case limited && fits == 0 && src.Left != 0:
			continue
		case limited && fits != src.Left:
			src.Way, src.Amount, src.Minutes, src.Quantity = billing.AsFits, fits, 0, 0
		}
		ready = append(ready, src)
	}
	return ready, nil
}

// SourcesOf are the entries and lines that an invoice or a draft bills. On a draft they follow their work: a part that was chosen is worked
// out again.
func SourcesOf(s *book.Session, invoice store.Invoice) ([]DraftSource, error) {
	sources, err := store.Query[DraftSource](s.Tx, invoiceSources, map[string]any{"invoice": invoice.ID})
	if err != nil {
		return nil, err
	}
	return followed(s, invoice, sources)
}

// Some are those of them that bill some entries or cost lines.
func Some(s *book.Session, invoice store.Invoice, entries, lines []int64) ([]DraftSource, error) {
	sources, err := store.Query[DraftSource](s.Tx, someSources, map[string]any{"invoice": invoice.ID, "entries": entries, "lines": lines})
	if err != nil {
		return nil, err
	}
	return followed(s, invoice, sources)
}

func followed(s *book.Session, invoice store.Invoice, sources []DraftSource) (_ []DraftSource, err error) {
	for i := range sources {
		sources[i].Was = sources[i].kept()
		sources[i].Was.Charge = sources[i].KeptCharge
		if invoice.Status == store.Draft {
			if err := sources[i].follow(s); err != nil {
				return nil, err
			}
			continue
		}
		sources[i].asIssued()
	}
	return sources, err
}

func (d *DraftSource) kept() Kept { return Kept{d.Charge, d.Amount, d.Chosen} }

// asIssued sets the hours and the quantity that an issued part holds.
func (d *DraftSource) asIssued() {
	switch {
	case d.Way == billing.ByQuantity:
		d.Quantity = money.Quantity(d.Typed)
	case d.Way == billing.TheRest && d.Others > 0:
		d.Minutes, d.Quantity = billing.Part{Runs: readRuns(d.Runs)}.Minutes(), money.Quantity(d.Typed)
	case d.Way != billing.TheRest:
		d.Minutes, d.Quantity = billing.Part{Runs: readRuns(d.Runs)}.Minutes(), 0
	}
}

func coreSources(s *book.Session, sources []DraftSource) []billing.Source {
	out := make([]billing.Source, len(sources))
	for i, src := range sources {
		out[i] = billing.Source{
			Job: src.JobID, TaxCode: store.ID(billing.TaxCode(src.TaxExempt, src.JobTax, src.CustomerTax, s.Company.TaxCodeID)),
			Category: src.Category, Date: src.Date, Amount: src.Amount, Minutes: src.Minutes, Quantity: src.Quantity,
			Unit: src.Unit, Worker: src.Worker, Trade: src.Trade, CostCode: src.CostCode, Phase: src.Phase, Text: src.Text,
			Own: src.TypedID != 0,
		}
	}
	return out
}

// Totals adds an invoice of some sources up as of its date (calculation.md section 8).
func Totals(s *book.Session, sources []DraftSource, date calendar.Date) (billing.Totals, error) {
	components, err := taxesOn(s, date)
	if err != nil {
		return billing.Totals{}, err
	}
	retainage := map[int64]billing.Retainage{}
	for _, src := range sources {
		if _, known := retainage[src.JobID]; known {
			continue
		}
		held, err := store.Value[money.Amount](s.Tx, retainedOfJob, src.JobID)
		if err != nil {
			return billing.Totals{}, err
		}
		retainage[src.JobID] = billing.Retainage{Percent: src.Retainage, Held: held}
		if src.IsDeposit() {
			retainage[src.JobID] = billing.Retainage{}
		}
	}
	return billing.Add(coreSources(s, sources), components, retainage)
}

// taxesOn are the components of tax that hold on a date.
func taxesOn(s *book.Session, date calendar.Date) ([]billing.TaxComponent, error) {
	type component struct {
		store.TaxComponent
		OnRelease bool
	}
	rows, err := store.Query[component](s.Tx, taxComponents)
	components := make([]billing.TaxComponent, len(rows))
	for i, r := range rows {
		components[i] = billing.TaxComponent{
			Code: r.TaxCodeID, Name: r.Component, From: r.EffectiveFrom, Percent: r.Percent, AppliesTo: strings.Fields(r.AppliesTo),
			OnRelease: r.OnRelease,
		}
	}
	return billing.EffectiveTaxes(components, date), err
}

// taxNotes are what the tax codes of some sources say, in the order in which they first come, a line each.
func taxNotes(s *book.Session, sources []DraftSource) (string, error) {
	codes, err := store.All[store.TaxCode](s.Tx, "id")
	var notes []string
	for _, src := range coreSources(s, sources) {
		at := slices.IndexFunc(codes, func(c store.TaxCode) bool { return c.ID == src.TaxCode })
		if at >= 0 && codes[at].Note != "" && !slices.Contains(notes, codes[at].Note) {
			notes = append(notes, codes[at].Note)
		}
	}
	return strings.Join(notes, "\n"), err
}

// LayOut works a draft out again from its sources as they are now: lines, taxes, shares, totals.
func LayOut(s *book.Session, draft *store.Invoice) error {
	if is, err := layRelease(s, draft); is || err != nil {
		return err
	}
	sources, err := SourcesOf(s, *draft)
	if err != nil {
		return err
	}
	if sources, err = withTyped(s, *draft, sources); err != nil {
		return err
	}
	totals, err := Totals(s, sources, draft.Date)
	if err != nil {
		return err
	}
	if draft.TaxNotes, err = taxNotes(s, sources); err != nil {
		return err
	}
	for _, table := range []string{"invoice_lines", "invoice_taxes", "invoice_jobs", "invoice_phases"} {
		if err := s.Exec("DELETE FROM "+table+" WHERE invoice_id = ?", draft.ID).Error; err != nil {
			return err
		}
	}
	if err := layLines(s, draft, sources); err != nil {
		return err
	}
	if err := layShares(s, draft.ID, sources, totals); err != nil {
		return err
	}
	draft.Subtotal, draft.Tax, draft.Total, draft.Retainage, draft.DueNow = totals.Subtotal, totals.Tax, totals.Total, totals.Retainage,
		totals.DueNow
	if err := layDeposits(s, draft); err != nil {
		return err
	}
	draft.Title = DraftTitle(sources, draft.Date)
	return saveTotals(s, draft)
}

func saveTotals(s *book.Session, draft *store.Invoice) error {
	return s.Model(draft).Select(
		"subtotal", "tax", "total", "retainage", "prepaid", "due_now", "grouping", "show_rates", "tax_notes", "title", "version",
	).Updates(draft).Error
}

func layLines(s *book.Session, draft *store.Invoice, sources []DraftSource) error {
	named := coreSources(s, sources)
	if err := setHours(s, draft, sources, named); err != nil {
		return err
	}
	lines, err := billing.Group(named, billing.Grouping(draft.Grouping), s.Currency)
	if err != nil {
		return err
	}
	rows := make([]store.InvoiceLine, len(lines))
	for at, line := range lines {
		rows[at] = store.InvoiceLine{
			InvoiceID: draft.ID, Position: at + 1, JobID: line.Job, Category: line.Category, Text: line.Text, Minutes: line.Minutes,
			Quantity: line.Quantity, Unit: line.Unit, Rate: line.Rate, Amount: line.Amount,
		}
		if len(line.Sources) > 0 {
			rows[at].TypedLineID = store.Ref(sources[line.Sources[0]].TypedID)
		}
	}
	if len(rows) > 0 {
		if err := s.CreateInBatches(&rows, 50).Error; err != nil {
			return err
		}
	}
	var on [][]any
	for at, line := range lines {
		for _, src := range line.Sources {
			if sources[src].TypedID == 0 {
				on = append(on, []any{rows[at].ID, sources[src].SourceID})
			}
		}
	}
	if err := store.UpdateMany(s.Tx, "invoice_sources", []string{"invoice_line_id"}, []string{"id"}, on); err != nil {
		return err
	}
	for _, src := range sources {
		if src.TypedID != 0 || src.kept() == src.Was {
			continue
		}
		if err := s.Exec(keepSource, map[string]any{
			"id": src.SourceID, "charge": src.Charge, "amount": src.Amount, "way": src.Way, "typed": src.Typed, "runs": src.Runs,
			"up": src.Up, "down": src.Down,
		}).Error; err != nil {
			return err
		}
	}
	return nil
}

func layShares(s *book.Session, invoice int64, sources []DraftSource, totals billing.Totals) error {
	codes, err := store.All[store.TaxCode](s.Tx, "id")
	if err != nil {
		return err
	}
	codeOf := func(id int64) string {
		if id == 0 {
			return ""
		}
		return codes[slices.IndexFunc(codes, func(c store.TaxCode) bool { return c.ID == id })].Code
	}
	ofJob := map[int64]int64{}
	for _, src := range coreSources(s, sources) {
		ofJob[src.Job] = src.TaxCode
	}
	for i, tax := range totals.Taxes {
		row := store.InvoiceTax{
			InvoiceID: invoice, Position: i + 1, TaxCode: codeOf(tax.Component.Code), Component: tax.Component.Name,
			Percent: tax.Component.Percent, Base: tax.Base, Amount: tax.Tax, AppliesTo: strings.Join(tax.Component.AppliesTo, " "),
			OnRelease: tax.Component.OnRelease,
		}
		if err := s.Create(&row).Error; err != nil {
			return err
		}
	}
	for _, j := range totals.Jobs {
		row := store.InvoiceJob{
			InvoiceID: invoice, JobID: j.Job, Subtotal: j.Subtotal, RetainagePercent: j.RetainagePercent, Retainage: j.Retainage,
			TaxCode: codeOf(ofJob[j.Job]),
		}
		if err := s.Create(&row).Error; err != nil {
			return err
		}
	}
	return LayParts(s, invoice, sources)
}

// LayParts keeps what an invoice bills of each phase, so that a phase with a basis of its own earns its own. A deposit bills nothing.
func LayParts(s *book.Session, invoice int64, sources []DraftSource) error {
	type part struct{ job, phase int64 }
	amounts := map[part]money.Amount{}
	var parts []part
	for _, src := range sources {
		if src.IsDeposit() {
			continue
		}
		p := part{src.JobID, store.ID(src.PhaseID)}
		if _, ok := amounts[p]; !ok {
			parts = append(parts, p)
		}
		amounts[p] += src.Amount
	}
	for _, p := range parts {
		if err := s.Create(&store.InvoicePhase{
			InvoiceID: invoice, JobID: p.job, PhaseID: store.Ref(p.phase), Amount: amounts[p],
		}).Error; err != nil {
			return err
		}
	}
	return nil
}

// RefreshDraft brings a draft up to date after the costing step moved what is on it. What has no charge
// any more leaves it; a draft with nothing left, or below 0, is dropped.
func RefreshDraft(s *book.Session, draftID int64) error {
	draft, found, err := store.One[store.Invoice](s.Tx, draftID)
	if err != nil || !found || draft.Status != store.Draft {
		return err
	}
	err = s.Exec(dropUncharged, draftID).Error
	if err != nil {
		return err
	}
	left, err := LeftOn(s, draftID)
	if err != nil {
		return err
	}
	if left == 0 {
		return DropDraft(s, draft)
	}
	draft.Version++
	if err := LayOut(s, &draft); !errors.Is(err, billing.ErrNegative) {
		return err
	}
	return DropDraft(s, draft)
}

// DropDraft takes a draft away, so that what it bills is ready again.
func DropDraft(s *book.Session, draft store.Invoice) error {
	shared, err := Sharers(s, draft.ID)
	if err != nil {
		return err
	}
	if err := Erase(s, draft.ID); err != nil {
		return err
	}
	if err := RefreshDrafts(s, shared); err != nil {
		return err
	}
	return s.Record("dropped a draft", "invoice", draft.ID, map[string]string{"total": s.Money(draft.Total)}, nil)
}

// Erase takes a draft out of the book with all that is on it.
func Erase(s *book.Session, draftID int64) error {
	if err := s.Exec("DELETE FROM invoice_sources WHERE invoice_id = ?", draftID).Error; err != nil {
		return err
	}
	return s.Delete(&store.Invoice{}, draftID).Error
}

// CategoryTitle is a category of work as an invoice of the company calls it.
func CategoryTitle(s *book.Session, category string) string {
	return s.English().Of(categoryTitles[category])
}

var categoryTitles = map[string]string{
	"labour": "Labour", "material": "Material", "equipment": "Equipment", "subcontract": "Subcontract", "expense": "Expense",
	"mileage": "Mileage",
	"fixed":   "Fixed price", "other": "Other", billing.Deposit: "Deposit", "": "Work and materials",
}
