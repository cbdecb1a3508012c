// Package costing is the costing step: what hours and cost lines cost and are charged, kept in step with all it rests on.
package costing

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"

	"jarvo/internal/app/book"
	"jarvo/internal/app/drafting"
	"jarvo/internal/app/form"
	"jarvo/internal/app/ratebook"
	"jarvo/internal/app/refuse"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/burden"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/labour"
	"jarvo/internal/core/landing"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// Step is the costing step of a use case: begun before it changes what costs rest on, told what it changes, and run at its end. It works
// the derived figures of all of that out again, in the same transaction, and brings the drafts that hold any of it up to date.
type Step struct {
	*book.Session
	ran       func()
	workers   map[int64]calendar.Span
	documents map[int64]bool
	drafts    map[int64]bool // to be laid out again
}

// Begin begins the costing step of a use case, which fails unless the step is run.
func Begin(s *book.Session) *Step {
	return &Step{
		Session: s, ran: s.Begin("costing"),
		workers: map[int64]calendar.Span{}, documents: map[int64]bool{}, drafts: map[int64]bool{},
	}
}

// Entry says that a worker's hours of a day have changed.
func (t *Step) Entry(worker int64, on calendar.Date) {
	t.hours(worker, calendar.Span{From: on, To: on})
}

// Document says that a cost document or a line of it has changed.
func (t *Step) Document(documentID int64) { t.documents[documentID] = true }

// Workers are those whose hours have changed, in order.
func (t *Step) Workers() []int64 { return slices.Sorted(maps.Keys(t.workers)) }

func (t *Step) hours(worker int64, s calendar.Span) {
	if had, ok := t.workers[worker]; ok {
		s = calendar.Span{From: min(had.From, s.From), To: max(had.To, s.To)}
	}
	t.workers[worker] = s
}

// Done ends the step without running it: what has changed was costed before it was added.
func (t *Step) Done() { t.ran() }

// Draft says that what a draft is laid out by has changed, such as its customer's tax code.
func (t *Step) Draft(draftID int64) { t.drafts[draftID] = true }

// DraftsOf is [Step.Draft] for all drafts that match a condition on i, invoices.
func (t *Step) DraftsOf(condition string, args ...any) error {
	drafts, err := store.Query[int64](t.Tx, "SELECT i.id FROM invoices i WHERE i.status = 'draft' AND "+condition, args...)
	for _, d := range drafts {
		t.Draft(d)
	}
	return err
}

// DraftsOfHours is [Step.Draft] for all drafts with hours that match a condition on e, time_entries, and w, workers: what they are called
// on paper has changed.
func (t *Step) DraftsOfHours(condition string, args ...any) error {
	return t.DraftsOf(
		"i.id IN (SELECT e.invoice_id FROM time_entries e JOIN workers w ON w.id = e.worker_id WHERE e.invoice_id IS NOT NULL AND "+condition+")",
		args...,
	)
}

// Run runs the step.
func (t *Step) Run() error {
	t.ran()
	drafts := t.drafts
	for _, worker := range t.Workers() {
		if err := t.Stopped(); err != nil {
			return err
		}
		if err := recostWorker(t.Session, worker, t.workers[worker], drafts); err != nil {
			return err
		}
	}
	for documents := range slices.Chunk(slices.Sorted(maps.Keys(t.documents)), DocumentsAtOnce) {
		if err := t.Stopped(); err != nil {
			return err
		}
		if err := recostDocuments(t.Session, documents, drafts); err != nil {
			return err
		}
	}
	for _, draftID := range slices.Sorted(maps.Keys(drafts)) { // those that bill other parts of the same work follow too
		shared, err := drafting.Sharers(t.Session, draftID)
		if err != nil {
			return err
		}
		for _, other := range shared {
			drafts[other] = true
		}
	}
	return drafting.RefreshDrafts(t.Session, slices.Sorted(maps.Keys(drafts)))
}

// Document is the whole costing step of a use case that has changed one document.
func Document(s *book.Session, documentID int64) error {
	step := Begin(s)
	step.Document(documentID)
	return step.Run()
}

// CostedEntry is a time entry with what it is charged by, as the costing step reads it.
type CostedEntry struct {
	store.TimeEntry
	ratebook.ChargedBy
	TradeID *int64
}

// Chargeable says that an entry is work, billable and on time and materials.
func (e CostedEntry) Chargeable() bool {
	return e.PayClass != worktime.PayLeave && billing.Chargeable(e.Billable, e.Basis)
}

const costedEntries = CostedEntriesOf + " WHERE e.worker_id = ? AND e.date BETWEEN ? AND ?"

// Input is a time entry as the rules of labour take it; frozen is what it keeps where it is billed.
func (e CostedEntry) Input(b *ratebook.Book, frozen []labour.Segment) labour.Entry {
	entry := labour.Entry{
		Entry:      worktime.Entry{Date: e.Date, Start: e.Start, Order: e.ID, Minutes: e.Minutes, Pay: e.PayClass},
		Work:       pricing.Work{Worker: e.WorkerID, Trade: store.ID(e.TradeID), CostCode: store.ID(e.CostCodeID)},
		Cards:      b.Chain(e.ChargedBy),
		OwnRate:    e.Rate,
		Chargeable: e.Chargeable(),
	}
	if e.Billed {
		entry.Frozen = frozen
		for _, f := range frozen {
			entry.Locked = append(entry.Locked, f.Segment)
		}
	}
	return entry
}

func recostWorker(s *book.Session, workerID int64, changed calendar.Span, drafts map[int64]bool) error {
	worker, found, err := store.One[store.Worker](s.Tx, workerID)
	if err != nil || !found {
		return err
	}
	terms, err := ratebook.Terms(s, worker)
	if err != nil {
		return err
	}
	weeks := calendar.Span{From: changed.From.WeekStart(terms.Rules.WeekStart), To: terms.LastAffected(changed.To)}
	entries, stored, err := WorkerEntries(s, workerID, weeks.From, weeks.To)
	if err != nil || len(entries) == 0 {
		return err
	}
	earned, err := EarnedBefore(s, workerID, weeks.From, weeks.To)
	if err != nil {
		return err
	}
	costed, err := CostWeeks(s, worker, terms, entries, stored, earned)
	if err != nil {
		return err
	}
	var locked otherwise
	if err := locked.hours(s, terms, entries, earned); err != nil {
		return err
	}
	if err := locked.save(s.Tx); err != nil {
		return err
	}
	var costs costsOfHours
	effect := EffectOf(s)
	for i, e := range entries {
		if e.Billed || sameSegments(stored[e.ID], costed[i]) && sameTotals(e, costed[i]) {
			continue
		}
		costs.add(e, costed[i], stored[e.ID])
		now := labour.Total(costed[i])
		if !store.Same(e.Cost, now.Cost) || !store.Same(e.Charge, now.Charge) {
			effect.altersHours(worker, e, now.Cost, now.Charge)
		}
		if e.InvoiceID != nil {
			drafts[*e.InvoiceID] = true
		}
	}
	return costs.save(s.Tx)
}

// CostWeeks works out what all of a worker's entries of some weeks cost and are charged. The entries are in the order of section 3; what
// is stored of them, by entry, is what those that are billed keep; earned, by year, is from before.
func CostWeeks(s *book.Session, worker store.Worker, terms labour.Terms, entries []CostedEntry, stored map[int64][]labour.Segment,
	earned map[int]burden.Earned,
) ([][]labour.Segment, error) {
	book, err := ratebook.Of(s)
	if err != nil {
		return nil, err
	}
	inputs := make([]labour.Entry, len(entries))
	for i, e := range entries {
		inputs[i] = e.Input(book, stored[e.ID])
	}
	costed, err := terms.Cost(inputs, earned)
	if err != nil {
		return nil, refuse.Invalid("hours", "%s in %s to %s: %s", worker.Name, entries[0].Date, entries[len(entries)-1].Date, err)
	}
	for i, e := range entries {
		total := labour.Total(costed[i])
		if err := form.TooLarge(total.Cost, total.Charge); err != nil {
			return nil, refuse.Invalid("hours", "%s on %s: %s", worker.Name, e.Date, err)
		}
	}
	return costed, nil
}

// WorkerEntries reads a worker's entries of some weeks in the order of section 3, with their stored segments.
func WorkerEntries(s *book.Session, workerID int64, from, to calendar.Date) ([]CostedEntry, map[int64][]labour.Segment, error) {
	entries, err := store.Query[CostedEntry](s.Tx, costedEntries, workerID, from, to)
	if err != nil {
		return nil, nil, err
	}
	worktime.Sort(entries, func(e CostedEntry) worktime.Entry { return OrderOf(e.TimeEntry) })
	stored, err := segments(s, splitHours, workerID, from, to)
	for _, e := range entries {
		if e.Class != nil {
			stored[e.ID] = []labour.Segment{e.whole()}
		}
	}
	return entries, stored, err
}

// OrderOf is what entries are put in order by (calculation.md section 3).
func OrderOf(e store.TimeEntry) worktime.Entry {
	return worktime.Entry{Date: e.Date, Start: e.Start, Order: e.ID}
}

// Segments reads the stored segments of the entries that match a condition on segments_of_hours, by entry.
func Segments(s *book.Session, condition string, args ...any) (map[int64][]labour.Segment, error) {
	return segments(s, fmt.Sprintf(segmentsOf, condition), args...)
}

func segments(s *book.Session, query string, args ...any) (map[int64][]labour.Segment, error) {
	rows, err := store.Query[store.LabourSegment](s.Tx, query, args...)
	stored := map[int64][]labour.Segment{}
	for _, r := range rows {
		stored[r.EntryID] = append(stored[r.EntryID], segmentOf(r))
	}
	return stored, err
}

// whole is the one segment of an entry whose hours are all of one class.
func (e *CostedEntry) whole() labour.Segment {
	segment := labour.Segment{
		Segment: worktime.Segment{Class: *e.Class, Minutes: e.Minutes}, Straight: e.Straight, Gross: e.Gross, Cost: e.Cost, Charge: e.Charge,
	}
	if e.Cost != nil {
		segment.Burden = *e.Cost - e.Gross
	}
	return segment
}

// segmentOf is a stored segment as the rules of labour take it.
func segmentOf(r store.LabourSegment) labour.Segment {
	return labour.Segment{
		Segment:  worktime.Segment{Class: r.Class, Minutes: r.Minutes},
		Straight: r.Straight, Gross: r.Gross, Burden: r.Burden, Cost: r.Cost, Charge: r.Charge,
	}
}

// SegmentRows are the segments of an entry that are stored beside it: none where its hours are of one class.
func SegmentRows(entryID int64, segments []labour.Segment) []store.LabourSegment {
	if len(segments) < 2 {
		return nil
	}
	rows := make([]store.LabourSegment, len(segments))
	for i, g := range segments {
		rows[i] = store.LabourSegment{
			EntryID: entryID, Class: g.Class, Minutes: g.Minutes, Straight: g.Straight, Gross: g.Gross, Burden: g.Burden, Cost: g.Cost,
			Charge: g.Charge,
		}
	}
	return rows
}

// EarnedBefore is what a worker had earned by calendar year before a date: the opening figures and
// what the entries of that year before it earned.
func EarnedBefore(s *book.Session, workerID int64, from, to calendar.Date) (map[int]burden.Earned, error) {
	earned, err := Openings(s, workerID, from, to)
	if err != nil {
		return nil, err
	}
	year := from.Year()
	sums, err := store.Value[burden.Earned](s.Tx, earnedBetween, workerID, calendar.On(year, 1, 1), from)
	if err != nil {
		return nil, err
	}
	before := earned[year]
	before.Gross += sums.Gross
	before.Straight += sums.Straight
	earned[year] = before
	return earned, nil
}

// Openings are what a worker had earned in some years before Jarvo.
func Openings(s *book.Session, workerID int64, from, to calendar.Date) (map[int]burden.Earned, error) {
	earned := map[int]burden.Earned{}
	openings, err := store.All[store.YearOpening](s.Tx, "year", "worker_id = ? AND year BETWEEN ? AND ?", workerID, from.Year(), to.Year())
	for _, o := range openings {
		earned[o.Year] = burden.Earned{Gross: o.Gross, Straight: o.Straight}
	}
	return earned, err
}

func sameSegments(stored, now []labour.Segment) bool {
	return slices.EqualFunc(stored, now, func(a, b labour.Segment) bool {
		return a.Segment == b.Segment && a.Straight == b.Straight && a.Gross == b.Gross && a.Burden == b.Burden &&
			store.Same(a.Cost, b.Cost) && store.Same(a.Charge, b.Charge)
	})
}

// Total sets the sums of an entry's segments in it.
func (e *CostedEntry) Total(segments []labour.Segment) {
	t := labour.Total(segments)
	e.OvertimeMinutes = t.ByClass[worktime.Overtime] + t.ByClass[worktime.Double]
	e.Straight, e.Gross, e.Cost, e.Charge, e.Unpriced = t.Straight, t.Gross, t.Cost, t.Charge, e.Chargeable() && t.Charge == nil
	e.Class = classOf(segments)
}

// classOf is the class of hours that are all of one.
func classOf(segments []labour.Segment) *worktime.Class {
	if len(segments) != 1 {
		return nil
	}
	return &segments[0].Class
}

func sameTotals(had CostedEntry, segments []labour.Segment) bool {
	now := had
	now.Total(segments)
	return had.OvertimeMinutes == now.OvertimeMinutes && had.Straight == now.Straight && had.Gross == now.Gross &&
		store.Same(had.Cost, now.Cost) && store.Same(had.Charge, now.Charge) && store.Same(had.Class, now.Class) &&
		had.Unpriced == now.Unpriced
}

// costsOfHours are what some entries cost and are charged, on their way into the book.
type costsOfHours struct {
	gone   []int64 // entries whose segments are others than before
	made   []store.LabourSegment
	totals [][]any // entries
}

// add notes what an entry costs and is charged, over what is stored of it.
func (c *costsOfHours) add(e CostedEntry, segments, stored []labour.Segment) {
	if len(stored) > 1 {
		c.gone = append(c.gone, e.ID)
	}
	c.made = append(c.made, SegmentRows(e.ID, segments)...)
	e.Total(segments)
	c.totals = append(c.totals, []any{e.OvertimeMinutes, e.Straight, e.Gross, e.Cost, e.Charge, e.Class, e.Unpriced, e.ID})
}

func (c *costsOfHours) save(tx *store.Tx) error {
	if len(c.gone) > 0 {
		gone, err := json.Marshal(c.gone)
		if err != nil {
			return err
		}
		if err := tx.Run("DELETE FROM labour_segments WHERE entry_id IN (SELECT value FROM json_each(?))", string(gone)); err != nil {
			return err
		}
	}
	if err := store.InsertMany(tx, c.made); err != nil {
		return err
	}
	return store.UpdateMany(
		tx, "time_entries", []string{"overtime_minutes", "straight", "gross", "cost", "charge", "class", "unpriced"}, []string{"id"}, c.totals,
	)
}

// PricedLine is a cost line with what it is charged by.
type PricedLine struct {
	store.CostLine
	ratebook.ChargedBy
}

// DocumentsAtOnce is how many documents are costed together.
const DocumentsAtOnce = 400

// CostedLine is what a cost line comes to, and the markup row that decided.
type CostedLine struct {
	landing.Landed
	Paper    landing.Paper // all lines of the document as they land
	Charge   *money.Amount
	Row      pricing.MarkupRow
	Card     pricing.Card
	Found    bool
	Unmarked bool // charged at cost, since no card has a markup for it
}

// CostDocument works a document's lines out: landed cost by its freight and tax, and charge. A void paper costs and charges nothing.
func CostDocument(s *book.Session, document store.CostDocument, lines []PricedLine) ([]CostedLine, error) {
	book, err := ratebook.Of(s)
	if err != nil {
		return nil, err
	}
	goods := make([]landing.Line, len(lines))
	for i, l := range lines {
		goods[i] = landing.Line{Quantity: l.Quantity, UnitCost: l.UnitCost, Taxable: l.Taxable}
	}
	paper, err := landing.Land(s.Currency, goods, document.Freight, document.Tax, s.Company.PurchaseTax == "recovered")
	if err != nil {
		return nil, err
	}
	out := make([]CostedLine, len(lines))
	if document.Void != "" {
		return out, nil
	}
	for i, l := range lines {
		out[i].Landed, out[i].Paper = paper.Lines[i], paper
		cost := out[i].Cost()
		if err := form.TooLarge(&out[i].Base, &cost); err != nil {
			return nil, fmt.Errorf("line %s: %w", l.Line, err)
		}
		if !billing.Chargeable(l.Billable, l.Basis) {
			continue
		}
		out[i].Row, out[i].Card, out[i].Found = pricing.FindMarkup(book.Chain(l.ChargedBy), l.Category, document.Date, l.UnitCost)
		charge, err := pricing.Line{
			Quantity: l.Quantity, SellPrice: l.SellPrice, Markup: l.Markup, Landed: out[i].Landed,
		}.Charge(s.Currency, out[i].Row)
		if err != nil {
			return nil, err
		}
		if err := form.TooLarge(&charge); err != nil {
			return nil, fmt.Errorf("line %s: %w", l.Line, err)
		}
		out[i].Charge, out[i].Unmarked = &charge, !out[i].Found && l.SellPrice == nil && l.Markup == nil
	}
	return out, nil
}

// CostLinesOf is [CostDocument] with an error that names the document.
func CostLinesOf(s *book.Session, document store.CostDocument, lines []PricedLine) ([]CostedLine, error) {
	costed, err := CostDocument(s, document, lines)
	if err != nil {
		return nil, refuse.Invalid("lines", "%s of %s: %s", document.Ref, document.Date, err)
	}
	return costed, nil
}

// DocumentLines reads the lines of some documents, by document.
func DocumentLines(s *book.Session, documentIDs ...int64) (map[int64][]PricedLine, error) {
	lines, err := store.Query[PricedLine](s.Tx, PricedLines+" WHERE l.document_id IN ?"+InLineOrder, documentIDs)
	byDocument := make(map[int64][]PricedLine, len(documentIDs))
	for _, l := range lines {
		byDocument[l.DocumentID] = append(byDocument[l.DocumentID], l)
	}
	return byDocument, err
}

func recostDocuments(s *book.Session, documentIDs []int64, drafts map[int64]bool) error {
	documents, err := store.All[store.CostDocument](s.Tx, "id", "id IN ?", documentIDs)
	if err != nil {
		return err
	}
	lines, err := DocumentLines(s, documentIDs...)
	if err != nil {
		return err
	}
	var costs [][]any
	var locked otherwise
	for _, d := range documents {
		changed, err := recostDocument(s, d, lines[d.ID], drafts, &locked)
		if err != nil {
			return err
		}
		costs = append(costs, changed...)
	}
	if err := locked.save(s.Tx); err != nil {
		return err
	}
	return store.UpdateMany(
		s.Tx, "cost_lines", []string{"status", "date", "base", "freight", "tax", "landed", "charge", "unmarked"}, []string{"id"}, costs,
	)
}

// recostDocument works the lines of a document out, and returns what of them has changed.
func recostDocument(
	s *book.Session, document store.CostDocument, lines []PricedLine, drafts map[int64]bool, locked *otherwise,
) (changed [][]any, err error) {
	costed, err := CostLinesOf(s, document, lines)
	if err != nil {
		return nil, err
	}
	effect := EffectOf(s)
	for i, had := range lines {
		l := had
		l.Total(document, costed[i])
		same := l.Status == had.Status && l.Date == had.Date && l.Base == had.Base && l.Freight == had.Freight &&
			l.Tax == had.Tax && l.Landed == had.Landed && store.Same(l.Charge, had.Charge) && l.Unmarked == had.Unmarked
		if l.Billed {
			locked.line(had, l)
		}
		if l.Billed || same {
			continue
		}
		if l.Landed != had.Landed || !store.Same(l.Charge, had.Charge) {
			effect.alters(l.Date, &had.Landed, &l.Landed, had.Charge, l.Charge)
			effect.Lines++
		}
		changed = append(changed, []any{l.Status, l.Date, l.Base, l.Freight, l.Tax, l.Landed, l.Charge, l.Unmarked, l.ID})
		if l.InvoiceID != nil {
			drafts[*l.InvoiceID] = true
		}
	}
	return changed, nil
}

// Total sets in a line what it comes to, and what it has of its document.
func (l *PricedLine) Total(document store.CostDocument, c CostedLine) {
	l.Status, l.Date = document.Status, document.Date
	l.Base, l.Freight, l.Tax, l.Landed = c.Base, c.Freight, c.Tax, c.Cost()
	l.Charge, l.Unmarked = c.Charge, c.Unmarked
}

// Hours marks all hours that match a condition (of e, time_entries; w, workers; j, jobs) and are not billed: a wage or a rate that they
// rest on has changed.
func (t *Step) Hours(condition string, args ...any) error {
	return t.PricedHours("e.billed = 0 AND "+condition, args...)
}

// PricedHours marks all hours that match a condition, also those that are billed: what they are charged by has changed.
func (t *Step) PricedHours(condition string, args ...any) error {
	type changed struct {
		WorkerID int64
		From, To calendar.Date
	}
	rows, err := store.Query[changed](t.Tx, fmt.Sprintf(changedHours, condition), args...)
	for _, r := range rows {
		t.hours(r.WorkerID, calendar.Span{From: r.From, To: r.To})
	}
	return err
}

// Lines marks all cost lines (l, cost_lines; j, jobs) that match a condition and are not billed.
func (t *Step) Lines(condition string, args ...any) error {
	return t.PricedLines("l.billed = 0 AND "+condition, args...)
}

// PricedLines marks all cost lines that match a condition, also those that are billed: what they are charged by has changed.
func (t *Step) PricedLines(condition string, args ...any) error {
	documents, err := store.Query[int64](t.Tx, fmt.Sprintf(changedLines, condition), args...)
	for _, d := range documents {
		t.documents[d] = true
	}
	return err
}
