// Package verify works the whole book out a second time and says what differs.
package verify

import (
	"context"
	"fmt"
	"strings"
	"time"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/ratebook"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/labour"
	"jarvo/internal/core/money"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// Run computes everything again from the records and not from what is stored, and returns each stored figure
// and invariant that differs.
func Run(ctx context.Context, b *book.Book, actor book.Actor) ([]Difference, error) {
	return book.Read(ctx, b, actor, book.Exchange, func(s *book.Session) ([]Difference, error) {
		v := &verifier{Session: s}
		for _, step := range []func() error{v.schema, v.history, v.labour, v.documents, v.invoices, v.links, v.scans, v.messages, v.seals} {
			if err := book.InOrder(s.Stopped, step); err != nil {
				return v.differences, err
			}
		}
		return v.differences, nil
	})
}

type verifier struct {
	*book.Session
	differences []Difference
}

func (v *verifier) differs(what string, stored, computed any) {
	if s, c := fmt.Sprint(stored), fmt.Sprint(computed); s != c {
		v.differences = append(v.differences, Difference{what, s, c})
	}
}

// labour costs every worker's whole history in one run from the opening figures. Billed entries are frozen, so
// they are only checked against their own totals.
func (v *verifier) labour() error {
	workers, err := store.All[store.Worker](v.Tx, "id")
	if err != nil {
		return err
	}
	for _, w := range workers {
		if err := v.Stopped(); err != nil {
			return err
		}
		if err := v.worker(w); err != nil {
			return err
		}
	}
	return nil
}

func (v *verifier) worker(w store.Worker) error {
	terms, err := ratebook.Terms(v.Session, w)
	if err != nil {
		return err
	}
	first, last := calendar.On(1900, time.January, 1), calendar.On(2199, time.December, 31)
	entries, stored, err := costing.WorkerEntries(v.Session, w.ID, first, last)
	if err != nil {
		return err
	}
	earned, err := costing.Openings(v.Session, w.ID, first, last)
	if err != nil {
		return err
	}
	book, err := ratebook.Of(v.Session)
	if err != nil {
		return err
	}
	inputs := make([]labour.Entry, len(entries))
	for i, e := range entries {
		inputs[i] = e.Input(book, stored[e.ID])
	}
	costed, err := terms.Cost(inputs, earned)
	if err != nil {
		return err
	}
	for i, e := range entries {
		what := fmt.Sprintf("time entry %s (%s, %s)", e.Ref, w.Code, e.Date)
		v.differs(what+" segments", v.segmentsText(stored[e.ID]), v.segmentsText(costed[i]))
		t := labour.Total(costed[i])
		v.differs(what+" earned", v.Money(e.Straight)+" and "+v.Money(e.Gross), v.Money(t.Straight)+" and "+v.Money(t.Gross))
		v.differs(what+" cost", v.Maybe(e.Cost), v.Maybe(t.Cost))
		v.differs(what+" charge", v.Maybe(e.Charge), v.Maybe(t.Charge))
		v.differs(what+" without a price", e.Unpriced, !e.Billed && e.Chargeable() && t.Charge == nil)
		v.differs(what+" overtime", e.OvertimeMinutes, t.ByClass[worktime.Overtime]+t.ByClass[worktime.Double])
		var minutes money.Minutes
		for _, m := range t.ByClass {
			minutes += m
		}
		v.differs(what+" minutes", e.Minutes, minutes)
	}
	return nil
}

func (v *verifier) segmentsText(segments []labour.Segment) string {
	text := ""
	for _, g := range segments {
		text += fmt.Sprintf(
			"[%s %d min straight %s gross %s burden %s cost %s charge %s]", g.Class, g.Minutes, v.Money(g.Straight), v.Money(g.Gross),
			v.Money(g.Burden), v.Maybe(g.Cost), v.Maybe(g.Charge),
		)
	}
	return text
}

func (v *verifier) documents() error {
	documents, err := store.All[store.CostDocument](v.Tx, "id")
	if err != nil {
		return err
	}
	lines, err := store.Query[costing.PricedLine](v.Tx, costing.PricedLines+costing.InLineOrder)
	if err != nil {
		return err
	}
	byDocument := map[int64][]costing.PricedLine{}
	for _, l := range lines {
		byDocument[l.DocumentID] = append(byDocument[l.DocumentID], l)
	}
	for _, d := range documents {
		if err := v.Stopped(); err != nil {
			return err
		}
		costed, err := costing.CostDocument(v.Session, d, byDocument[d.ID])
		if err != nil {
			return err
		}
		for i, l := range byDocument[d.ID] {
			v.costLine(fmt.Sprintf("cost line %s/%s", d.Ref, l.Line), d, l, costed[i])
		}
	}
	return nil
}

func (v *verifier) costLine(what string, d store.CostDocument, l costing.PricedLine, c costing.CostedLine) {
	v.differs(what+" status", l.Status, d.Status)
	v.differs(what+" date", l.Date, d.Date)
	v.differs(what+" base", v.Money(l.Base), v.Money(c.Base))
	v.differs(what+" landed", v.Money(l.Landed), v.Money(l.Base+l.Freight+l.Tax))
	if l.Billed { // keeps what it was charged, whatever has changed since
		return
	}
	v.differs(what+" freight", v.Money(l.Freight), v.Money(c.Freight))
	v.differs(what+" tax", v.Money(l.Tax), v.Money(c.Tax))
	v.differs(what+" charge", v.Maybe(l.Charge), v.Maybe(c.Charge))
	v.differs(what+" without a markup", l.Unmarked, c.Unmarked)
}

func (v *verifier) invoices() error {
	invoices, err := store.All[store.Invoice](v.Tx, "id")
	if err != nil {
		return err
	}
	for _, i := range invoices {
		if err := v.Stopped(); err != nil {
			return err
		}
		what := "invoice " + i.NumberText()
		if i.Number == nil {
			what = fmt.Sprintf("draft %d", i.ID)
		} else {
			v.differs(what+" as it was issued (a hash of its head)", i.Seal, i.Sealed())
		}
		for _, sum := range []struct{ name, query string }{
			{"lines", "SELECT ifnull(sum(amount), 0) FROM invoice_lines WHERE invoice_id = @invoice"},
			{"sources", sourcesOfInvoice},
			{"jobs", "SELECT ifnull(sum(subtotal), 0) FROM invoice_jobs WHERE invoice_id = @invoice"},
			{"phases", phasesOfInvoice},
		} {
			got, err := store.Value[money.Amount](v.Tx, sum.query, map[string]any{"invoice": i.ID})
			if err != nil {
				return err
			}
			v.differs(what+" subtotal against its "+sum.name, v.Money(i.Subtotal), v.Money(got))
		}
		if err := v.invoiceTotals(what, i); err != nil {
			return err
		}
	}
	return nil
}

func (v *verifier) invoiceTotals(what string, i store.Invoice) error {
	taxes, err := store.All[store.InvoiceTax](v.Tx, "position", "invoice_id = ?", i.ID)
	if err != nil {
		return err
	}
	var tax, retainage money.Amount
	for _, t := range taxes {
		amount, err := t.Percent.Of(t.Base)
		if err != nil {
			return err
		}
		if i.Retainage == 0 && i.CreditOf == nil && t.DepositID == nil { // else some of the tax may be due when what is retained is released
			v.differs(what+" tax "+t.Component, v.Money(t.Amount), v.Money(amount))
		}
		tax += t.Amount
	}
	jobs, err := store.All[store.InvoiceJob](v.Tx, "job_id", "invoice_id = ?", i.ID)
	if err != nil {
		return err
	}
	for _, j := range jobs {
		held, err := j.RetainagePercent.Of(j.Subtotal)
		if err != nil {
			return err
		}
		if j.Subtotal > 0 && i.CreditOf == nil { // below 0 it gives back at most what was held, at 0 it is released
			v.differs(what+" retainage of a job", v.Money(j.Retainage), v.Money(held))
		}
		retainage += j.Retainage
	}
	v.differs(what+" tax", v.Money(i.Tax), v.Money(tax))
	v.differs(what+" retainage", v.Money(i.Retainage), v.Money(retainage))
	v.differs(what+" due now", v.Money(i.DueNow), v.Money(i.Subtotal+tax-retainage-i.Prepaid))
	return nil
}

// links checks what rows say of each other: sources and their work, numbers without gaps.
func (v *verifier) links() error {
	for _, check := range links {
		var dates []any
		if strings.Contains(check.query, "@from") {
			dates = []any{map[string]any{"from": calendar.Always.From, "to": calendar.Always.To}}
		}
		got, err := store.Value[int64](v.Tx, check.query, dates...)
		if err != nil {
			return err
		}
		v.differs(check.what, got, 0)
	}
	broken, err := store.Query[string](v.Tx, "SELECT integrity_check FROM pragma_integrity_check WHERE integrity_check <> 'ok'")
	for _, b := range broken {
		v.differs("the file", b, "ok")
	}
	return err
}

// schema checks that the book's tables, indexes and guards are those of its version.
func (v *verifier) schema() error {
	found, err := store.SchemaDifferences(v.Tx)
	for _, d := range found {
		v.differs(d.What, d.Stored, d.Wanted)
	}
	return err
}

// history checks that the chain of the history is whole.
func (v *verifier) history() error {
	torn, err := store.TornHistory(v.Tx)
	for _, row := range torn {
		v.differs(fmt.Sprintf("the history, row %d", row), "altered, or a row before it was", "as it was written")
	}
	if err != nil {
		return err
	}
	is, was, err := store.HistoryEnds(v.Tx)
	v.differs("the end of the history", is, was)
	return err
}

// seals checks that what was typed or decided is as it was written last.
func (v *verifier) seals() error {
	broken, err := store.BrokenSeals(v.Tx)
	for _, b := range broken {
		v.differs(strings.ReplaceAll(b.Kind, "_", " ")+" "+strings.Trim(b.Key, "[]"), b.What, "as it was written last")
	}
	return err
}

// HistoryEnd is where the history ends: what is kept with a backup, so that a history that was cut is seen.
func HistoryEnd(ctx context.Context, b *book.Book, actor book.Actor) (store.HistoryEnd, error) {
	return book.Read(ctx, b, actor, book.Exchange, func(s *book.Session) (store.HistoryEnd, error) {
		is, _, err := store.HistoryEnds(s.Tx)
		return is, err
	})
}

// Against holds the history of a book against that of a backup, with which it has to begin.
func Against(ctx context.Context, b *book.Book, actor book.Actor, backup store.HistoryEnd) ([]Difference, error) {
	return book.Read(ctx, b, actor, book.Exchange, func(s *book.Session) ([]Difference, error) {
		hash, err := store.HistoryAt(s.Tx, backup.Rows)
		if err != nil || hash == backup.Hash || backup.Rows == 0 {
			return nil, err
		}
		return []Difference{{"the history up to the backup", store.HistoryEnd{Rows: backup.Rows, Hash: hash}.String(), backup.String()}}, nil
	})
}

// scans checks that each scan is what was attached.
func (v *verifier) scans() error {
	rows, err := store.All[store.Attachment](v.Tx, "id")
	for _, a := range rows {
		if _, damaged := costs.Contents(v.Session, a.SHA256); damaged != nil {
			v.differs("attachment "+a.Name, damaged, a.SHA256)
		}
	}
	return err
}

// messages checks that what was attached to each message is what was sent.
func (v *verifier) messages() error {
	files, err := store.Query[struct {
		MessageID int64
		Position  int
		Ref, Name string
		SHA256    string `gorm:"column:sha256"`
	}](v.Tx, `SELECT f.message_id, f.position, m.ref, f.name, f.sha256 FROM message_files f JOIN messages m ON m.id = f.message_id
		ORDER BY f.message_id, f.position`)
	if err != nil {
		return err
	}
	for _, f := range files { // one at a time: together they may be large
		data, err := store.Value[[]byte](v.Tx, "SELECT data FROM message_files WHERE message_id = ? AND position = ?", f.MessageID, f.Position)
		if err != nil {
			return err
		}
		if sum := costs.Checksum(data); sum != f.SHA256 {
			v.differs(fmt.Sprintf("%s of message %s", f.Name, f.Ref), sum, f.SHA256)
		}
	}
	return nil
}

// Difference is a stored figure or an invariant that does not hold.
type Difference struct {
	What     string
	Stored   string
	Computed string
}

func (d Difference) String() string {
	return fmt.Sprintf("%s: stored %s, computed %s", d.What, d.Stored, d.Computed)
}
