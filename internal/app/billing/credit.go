package billing

import (
	"context"
	"fmt"
	"slices"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/drafting"
	"jarvo/internal/app/form"
	"jarvo/internal/app/receivable"
	"jarvo/internal/app/refuse"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// What of an invoice can be credited, and what becomes of it.
const (
	creditSource  = "source"  // a part of work that it billed
	creditLine    = "line"    // a line that was typed on it
	creditRelease = "release" // of a release, what it released of a job; it is held again
	creditAgain   = "again"
	creditAllowed = "allowed"
)

// CreditKinds and Becomes are the words of a [CreditLine].
var (
	CreditKinds = []string{creditSource, creditLine, creditRelease}
	Becomes     = []string{creditAgain, creditAllowed}
)

// CreditRow is a credit note on an invoice, or what a note credits.
type CreditRow struct {
	ID      int64  `json:"id"`
	Number  string `json:"number,omitempty"`
	Date    string `json:"date,omitempty" format:"date"`
	Text    string `json:"text,omitempty"`
	Amount  string `json:"amount" format:"decimal" doc:"of a note: off what is due"`
	Becomes string `json:"becomes,omitempty" doc:"of what is credited"`
	Reason  string `json:"reason,omitempty"`
}

// CreditLine credits a part that an invoice billed, or a line that was typed on it, or an amount of either (calculation.md section 11).
type CreditLine struct {
	Kind    string `json:"kind"`
	ID      int64  `json:"id"`
	Amount  string `json:"amount,omitempty" doc:"absent: all that is left of it"`
	Becomes string `json:"becomes" doc:"bill again, or allowed: written down"`
	Reason  string `json:"reason,omitempty"`
}

// NewCredit is a credit note as it is asked for.
type NewCredit struct {
	Key   string       `json:"key" doc:"made by the client, so that a retry makes nothing twice"`
	Date  string       `json:"date"`
	Text  string       `json:"text,omitempty" doc:"what it says at its head"`
	Lines []CreditLine `json:"lines" minItems:"1" maxItems:"5000"`
}

// CreditedInvoice is a credit note, and what it does to the balance of its invoice.
type CreditedInvoice struct {
	Note   InvoiceView `json:"note"`
	Before string      `json:"before" format:"decimal" doc:"the balance of the invoice"`
	After  string      `json:"after" format:"decimal"`
	Credit string      `json:"credit" format:"decimal" doc:"what becomes the customer's credit"`
	Again  string      `json:"again" format:"decimal" doc:"ready to bill again"`
	Down   string      `json:"down" format:"decimal" doc:"allowed, so written down"`
}

// Creditable is a part that an invoice billed, or a line that was typed on it, with what can still be credited of it.
type Creditable struct {
	Kind     string `json:"kind"`
	ID       int64  `json:"id"`
	Line     string `json:"line" doc:"the line of the invoice that it is on"`
	Text     string `json:"text"`
	Detail   string `json:"detail,omitempty"`
	Date     string `json:"date" format:"date"`
	Quantity string `json:"quantity,omitempty"`
	Amount   string `json:"amount" format:"decimal" doc:"as it was billed"`
	Left     string `json:"left" format:"decimal" doc:"less what was credited"`
}

// creditable is a part or a line of an invoice that can be credited.
type creditable struct {
	SourceID, LineID       *int64
	Released               bool // it released retainage of its job
	EntryID, DocumentID    int64
	WorkerID               int64
	JobID                  int64
	PhaseID                *int64
	Category, TaxCode      string
	Date                   calendar.Date
	Position               int // of its line
	LineText, Text, Detail string
	Amount, Left, Up       money.Amount
	Minutes                money.Minutes
	Quantity               money.Quantity
	Unit                   string
	credit                 billing.Credit
	reason                 string
}

// CreditableOf are the parts and lines of an issued invoice, with what is left to credit of each.
func CreditableOf(ctx context.Context, b *book.Book, actor book.Actor, invoiceID int64) ([]Creditable, error) {
	return book.Read(ctx, b, actor, book.Bill, func(s *book.Session) ([]Creditable, error) {
		rows, err := creditableOf(s, invoiceID)
		out := make([]Creditable, len(rows))
		for i, r := range rows {
			c := Creditable{
				Kind: creditSource, ID: store.ID(r.SourceID), Line: r.LineText, Text: r.Text, Detail: r.Detail, Date: r.Date.String(),
				Amount: s.Money(r.Amount),
				Left:   s.Money(r.Left),
			}
			switch {
			case r.Released:
				c.Kind, c.ID = creditRelease, r.JobID
			case r.LineID != nil:
				c.Kind, c.ID = creditLine, *r.LineID
			case r.Minutes != 0:
				c.Quantity = r.Minutes.Hours() + " h"
			case r.Quantity != 0:
				c.Quantity = r.Quantity.String() + " " + r.Unit
			}
			out[i] = c
		}
		return out, err
	})
}

func creditableOf(s *book.Session, invoiceID int64) ([]creditable, error) {
	return store.Query[creditable](s.Tx, creditables, map[string]any{"invoice": invoiceID})
}

// CreditInvoice makes a credit note on an issued invoice. What is to be billed again is ready once more, what is allowed is written down.
func CreditInvoice(ctx context.Context, b *book.Book, actor book.Actor, invoiceID int64, in NewCredit) (CreditedInvoice, error) {
	return book.Write(ctx, b, actor, book.Bill, func(s *book.Session) (CreditedInvoice, error) {
		return book.Once(s, "credit note", in.Key, in, func() (out CreditedInvoice, _ error) {
			n, err := newNote(s, invoiceID)
			if err != nil {
				return out, err
			}
			if err := n.read(in); err != nil {
				return out, err
			}
			if err := n.total(); err != nil {
				return out, err
			}
			if err := n.save(); err != nil {
				return out, err
			}
			if err := n.settle(); err != nil {
				return out, err
			}
			return n.view()
		})
	})
}

// creditNote is a credit note while it is made.
type creditNote struct {
	*book.Session
	step     *costing.Step
	invoice  InvoiceRow
	note     store.Invoice
	rows     []creditable // all that can be credited
	credited []creditable // what is
	totals   billing.Totals
	taxes    []store.InvoiceTax               // of the invoice, of each of its totals
	from     map[int64]map[int64]money.Amount // of a note on a release: what is taken from invoices, below 0
	freed    money.Amount                     // that becomes the customer's credit
}

func newNote(s *book.Session, invoiceID int64) (*creditNote, error) {
	rows, err := store.Query[InvoiceRow](s.Tx, InvoiceRows+" WHERE i.id = ? AND i.status = 'issued'", invoiceID)
	if err != nil || len(rows) == 0 {
		return nil, refuse.OrNotFound(err, "issued invoice")
	}
	if rows[0].CreditOf != nil {
		return nil, refuse.Conflict("%s is a credit note itself; what it credited to bill again is billed on a new invoice", rows[0].NumberText())
	}
	n := &creditNote{Session: s, step: costing.Begin(s), invoice: rows[0]}
	n.rows, err = creditableOf(s, invoiceID)
	return n, err
}

// read reads what is credited.
func (n *creditNote) read(in NewCredit) error {
	c := n.Checks()
	n.note = store.Invoice{Date: c.Date("date", in.Date), Opening: c.Text("text", in.Text)}
	if n.note.Date < n.invoice.Date {
		c.Add("date", "a credit note is dated on its invoice, %s, or later", n.invoice.Date)
	}
	for i, l := range in.Lines {
		n.readLine(c, fmt.Sprintf("lines[%d].", i), l)
	}
	if err := c.Err(); err != nil {
		return err
	}
	slices.SortStableFunc(n.credited, func(a, b creditable) int { return a.Position - b.Position })
	return nil
}

func (n *creditNote) readLine(c *form.Checks, path string, l CreditLine) {
	c.OneOf(path+"becomes", l.Becomes, Becomes...)
	is := func(r creditable) bool {
		switch l.Kind {
		case creditSource:
			return store.ID(r.SourceID) == l.ID
		case creditLine:
			return store.ID(r.LineID) == l.ID
		}
		return l.Kind == creditRelease && r.Released && r.JobID == l.ID
	}
	at := slices.IndexFunc(n.rows, is)
	switch {
	case at < 0:
		c.Add(path+"id", "this is not on invoice %s", n.invoice.NumberText())
		return
	case slices.ContainsFunc(n.credited, is):
		c.Add(path+"id", "this is credited above already")
		return
	}
	r := n.rows[at]
	amount := r.Left
	if l.Amount != "" {
		amount = form.Parsed(c, path+"amount", l.Amount, n.ParseAmount)
	}
	credit, err := billing.CreditOf(amount, r.Left, r.Up, l.Becomes == creditAgain)
	if err != nil {
		c.Add(path+"amount", "%s of it is left to credit", n.Money(r.Left))
		return
	}
	r.credit, r.reason = credit, c.Text(path+"reason", l.Reason)
	n.credited = append(n.credited, r)
}

// total works the note out: subtotal, tax as it was invoiced, and retainage given back.
func (n *creditNote) total() (err error) {
	if n.isRelease() {
		return n.totalRelease()
	}
	var left billing.Invoiced
	if left, n.taxes, err = drafting.Left(n.Session, n.invoice.ID); err != nil {
		return err
	}
	sources := make([]billing.Source, len(n.credited))
	for i, r := range n.credited {
		sources[i] = billing.Source{Job: r.JobID, Category: r.Category, Amount: r.credit.Amount}
	}
	if n.totals, err = left.Credit(sources); err != nil {
		return refuse.Conflict("%s", err)
	}
	return nil
}

// isRelease says that the note is on a release of retainage.
func (n *creditNote) isRelease() bool { return len(n.credited) > 0 && n.credited[0].Released }

// save keeps the note with all that is under it, and gives it its number.
func (n *creditNote) save() error {
	i, t := n.invoice, n.totals
	customer, _, err := store.One[store.Customer](n.Tx, i.CustomerID)
	if err != nil {
		return err
	}
	n.note = store.Invoice{
		Status: store.Draft, CustomerID: i.CustomerID, CreditOf: &i.ID, Date: n.note.Date, Due: n.note.Date, Opening: n.note.Opening,
		Grouping: i.Grouping, Title: i.Title, Currency: i.Currency, OrderNumber: i.OrderNumber, Version: 1,
		Subtotal: -t.Subtotal, Tax: -t.Tax, Total: -t.Total, Retainage: -t.Retainage, DueNow: -t.DueNow,
	}
	address(n.Session, &n.note, customer)
	if err := n.Create(&n.note).Error; err != nil {
		return err
	}
	lines := n.saveLines
	if n.isRelease() {
		lines = n.saveRelease
	}
	if err := lines(); err != nil {
		return err
	}
	for at, tax := range t.Taxes {
		from := n.taxes[tax.Component.Code]
		row := store.InvoiceTax{
			InvoiceID: n.note.ID, Position: at + 1, TaxCode: from.TaxCode, Component: from.Component, Percent: from.Percent, Base: -tax.Base,
			Amount: -tax.Tax, AppliesTo: from.AppliesTo, OnRelease: from.OnRelease,
		}
		if err := n.Create(&row).Error; err != nil {
			return err
		}
	}
	for _, j := range t.Jobs {
		at := slices.IndexFunc(n.credited, func(r creditable) bool { return r.JobID == j.Job })
		row := store.InvoiceJob{
			InvoiceID: n.note.ID, JobID: j.Job, Subtotal: -j.Subtotal, RetainagePercent: j.RetainagePercent, Retainage: -j.Retainage,
			TaxCode: n.credited[at].TaxCode,
		}
		if err := n.Create(&row).Error; err != nil {
			return err
		}
	}
	var parts []drafting.DraftSource
	for _, r := range n.credited {
		if r.Released {
			continue // it was billed before
		}
		parts = append(parts, drafting.DraftSource{JobID: r.JobID, PhaseID: r.PhaseID, Category: r.Category, Amount: -r.credit.Amount})
	}
	if err := drafting.LayParts(n.Session, n.note.ID, parts); err != nil {
		return err
	}
	return takeNumber(n.Session, &n.note)
}

// saveLines lays the lines of the note out as those of the invoice were, and keeps what is credited under each.
func (n *creditNote) saveLines() error {
	position := 0
	for from := 0; from < len(n.credited); {
		to := from
		for to < len(n.credited) && n.credited[to].Position == n.credited[from].Position {
			to++
		}
		position++
		of := n.credited[from:to]
		line := store.InvoiceLine{InvoiceID: n.note.ID, Position: position, JobID: of[0].JobID, Category: of[0].Category, Text: of[0].LineText}
		for i, r := range of {
			line.Amount -= r.credit.Amount
			if r.credit.Amount == r.Amount { // else it is an amount of it, and no hours
				line.Minutes += r.Minutes
				line.Quantity += r.Quantity
			}
			if line.Unit = r.Unit; i > 0 && r.Unit != of[i-1].Unit {
				line.Quantity, line.Unit = 0, ""
			}
		}
		if err := n.Create(&line).Error; err != nil {
			return err
		}
		for _, r := range of {
			row := store.Credit{
				InvoiceID: n.note.ID, Position: position, SourceID: r.SourceID, LineID: r.LineID, Amount: r.credit.Amount, Up: r.credit.Up,
				Again: r.credit.Again, Reason: r.reason,
			}
			if err := n.Create(&row).Error; err != nil {
				return err
			}
		}
		from = to
	}
	return nil
}

// settle releases the work that is billed no more, brings it and the drafts that share it up to date, and frees what was paid beyond
// what is owed now.
func (n *creditNote) settle() error {
	if err := freeCredited(n.Session, n.step, n.note.ID); err != nil {
		return err
	}
	shared, err := drafting.Sharers(n.Session, n.invoice.ID)
	if err != nil {
		return err
	}
	applying, err := store.Query[int64](n.Tx, draftsApplying, n.invoice.ID)
	if err != nil {
		return err
	}
	for _, id := range append(shared, applying...) {
		n.step.Draft(id)
	}
	if err := n.step.Run(); err != nil {
		return err
	}
	if n.freed, err = receivable.FreeCredited(n.Session, n.invoice.CustomerID, n.invoice.ID, n.note.Date); err != nil {
		return err
	}
	return n.Record("credited", "invoice", n.invoice.ID, nil, map[string]string{
		"note": n.note.NumberText(), "amount": n.Money(n.totals.DueNow), "reason": n.note.Opening,
	})
}

// ReleaseCredited releases the parts that a credit note credited wholly, to bill again.
func ReleaseCredited(s *book.Session, noteID int64) error {
	return s.Exec(releaseCredited, map[string]any{"note": noteID}).Error
}

// freeCredited releases them, and unlocks the work of which nothing is billed or written down any more: it is computed anew.
func freeCredited(s *book.Session, step *costing.Step, noteID int64) error {
	if err := ReleaseCredited(s, noteID); err != nil {
		return err
	}
	type work struct {
		EntryID, CostLineID, WorkerID, DocumentID int64
		Date                                      calendar.Date
	}
	free, err := store.Query[work](s.Tx, unlocked, map[string]any{"note": noteID})
	for _, w := range free {
		if w.EntryID != 0 {
			err = s.Exec("UPDATE time_entries SET billed = 0 WHERE id = ?", w.EntryID).Error
			step.Entry(w.WorkerID, w.Date)
		} else {
			err = s.Exec("UPDATE cost_lines SET billed = 0 WHERE id = ?", w.CostLineID).Error
			step.Document(w.DocumentID)
		}
		if err != nil {
			return err
		}
	}
	return err
}

func (n *creditNote) view() (out CreditedInvoice, err error) {
	var again, down money.Amount
	for _, r := range n.credited {
		switch {
		case r.Released:
		case r.credit.Again:
			again += r.credit.Ready()
		case r.SourceID != nil:
			down += r.credit.Amount - r.credit.Up
		}
	}
	after, err := store.Value[money.Amount](n.Tx, `SELECT "left" FROM invoice_balance WHERE invoice_id = ?`, n.invoice.ID)
	if err != nil {
		return out, err
	}
	out = CreditedInvoice{
		Before: n.Money(n.invoice.Left), After: n.Money(after), Credit: n.Money(n.freed), Again: n.Money(again), Down: n.Money(down),
	}
	out.Note, err = View(n.Session, n.note.ID)
	return out, err
}

// credited says which credit notes are on an invoice, and what a note credits.
func credited(s *book.Session, v *InvoiceView) error {
	if v.Status == store.Draft {
		return nil
	}
	if v.CreditOn == "" {
		notes, err := store.All[store.Invoice](s.Tx, "number", "credit_of = ?", v.ID)
		for _, n := range notes {
			v.Notes = append(v.Notes, CreditRow{
				ID: n.ID, Number: n.NumberText(), Date: n.Date.String(), Amount: s.Money(-n.DueNow), Text: n.Opening,
			})
		}
		return err
	}
	type row struct {
		store.Credit
		Text string
	}
	rows, err := store.Query[row](s.Tx, creditsOfNote, v.ID)
	for _, r := range rows {
		becomes := creditAllowed
		if r.Again {
			becomes = creditAgain
		}
		v.Credits = append(v.Credits, CreditRow{ID: r.ID, Text: r.Text, Amount: s.Money(r.Amount), Becomes: becomes, Reason: r.Reason})
	}
	return err
}
