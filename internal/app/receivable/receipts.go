package receivable

import (
	"cmp"
	"slices"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// Receipt is what one job received by a payment of an invoice, or what a credit note moved of it.
type Receipt struct {
	Date                            calendar.Date
	Customer, Payment, Invoice, Job string // Payment is blank where it was from credit, or a note moved it
	JobID                           int64
	Amount                          money.Amount
}

// InvoicesOf says which invoices are asked about: of a time, and of a customer or a job, 0 of all.
type InvoicesOf struct {
	From, To          calendar.Date
	CustomerID, JobID int64
}

func (of InvoicesOf) args() map[string]any {
	return map[string]any{"from": of.From, "to": of.To, "customer": of.CustomerID, "job": of.JobID}
}

// paperJob is what an invoice, or a note on it, is of a job.
type paperJob struct {
	InvoiceID, PaperID, JobID int64
	Date                      calendar.Date
	Job, TaxCode              string
	Subtotal, Retainage       money.Amount
}

type paperBase struct {
	PaperID, JobID int64
	Category       string
	Amount         money.Amount
}

type paperTax struct {
	PaperID                       int64
	TaxCode, Component, AppliesTo string
	Amount                        money.Amount
}

// event is something that changes what the jobs of an invoice have received: a payment, or a note.
type event struct {
	ID, InvoiceID             int64
	Date                      calendar.Date
	Amount                    money.Amount
	Number, Customer, Payment string
	note                      bool
}

// loaded are some invoices with the notes on them and what was paid, by invoice.
type loaded struct {
	jobs   map[int64][]paperJob
	bases  map[int64][]paperBase
	taxes  map[int64][]paperTax
	events map[int64][]event
}

func load(s *book.Session, which string, in InvoicesOf) (loaded, error) {
	args := in.args()
	var out loaded
	jobs, err := store.Query[paperJob](s.Tx, which+jobsOfThese, args)
	if err != nil {
		return out, err
	}
	bases, err := store.Query[paperBase](s.Tx, which+basesOfThese, args)
	if err != nil {
		return out, err
	}
	taxes, err := store.Query[paperTax](s.Tx, which+taxesOfThese, args)
	if err != nil {
		return out, err
	}
	paid, err := store.Query[event](s.Tx, which+paidOfThese, args)
	if err != nil {
		return out, err
	}
	notes, err := store.Query[event](s.Tx, which+notesOfThese, args)
	if err != nil {
		return out, err
	}
	out.jobs = grouped(jobs, func(j paperJob) int64 { return j.InvoiceID })
	out.bases = grouped(bases, func(b paperBase) int64 { return b.PaperID })
	out.taxes = grouped(taxes, func(t paperTax) int64 { return t.PaperID })
	out.events = grouped(paid, func(e event) int64 { return e.InvoiceID })
	for _, n := range notes {
		n.note = true
		out.events[n.InvoiceID] = append(out.events[n.InvoiceID], n)
	}
	return out, nil
}

// Receipts are what jobs received in a time, by date and invoice: what was paid of an invoice by then, spread over what is due of each of
// its jobs, less what it had received before.
func Receipts(s *book.Session, in InvoicesOf) ([]Receipt, error) {
	l, err := load(s, touched, in)
	var out []Receipt
	for id, of := range l.events {
		r := &received{jobs: l.jobs[id], bases: l.bases, taxes: l.taxes}
		for _, receipt := range r.walk(id, of) {
			if receipt.Date >= in.From && receipt.Date <= in.To && (in.JobID == 0 || receipt.JobID == in.JobID) {
				out = append(out, receipt)
			}
		}
	}
	slices.SortStableFunc(out, func(a, b Receipt) int {
		return cmp.Or(cmp.Compare(a.Date, b.Date), cmp.Compare(a.Invoice, b.Invoice))
	})
	return out, err
}

// Owed is what is not paid of a job on one invoice.
type Owed struct {
	InvoiceID, JobID int64
	Job              string
	Due              calendar.Date
	Amount           money.Amount
}

// OwedByJob is what is not paid of each job at the end of a day, invoice by invoice: what is due of it there less what it has received.
// What was prepaid is spread over them, so that the jobs of an invoice come to its balance.
func OwedByJob(s *book.Session, in InvoicesOf) ([]Owed, error) {
	l, err := load(s, notPaid, in)
	if err != nil {
		return nil, err
	}
	open, err := OpenOn(s, in)
	if err != nil {
		return nil, err
	}
	var out []Owed
	for _, o := range open {
		r := &received{jobs: l.jobs[o.ID], bases: l.bases, taxes: l.taxes}
		r.walk(o.ID, slices.DeleteFunc(slices.Clone(l.events[o.ID]), func(e event) bool { return e.Date > in.To }))
		left := r.due()
		for i := range left {
			left[i] -= r.had[i]
		}
		for i, amount := range billing.Receipts(o.Left, left) {
			if amount != 0 && (in.JobID == 0 || r.shown[i].JobID == in.JobID) {
				out = append(out, Owed{o.ID, r.shown[i].JobID, r.shown[i].Job, o.Due, amount})
			}
		}
	}
	return out, nil
}

func grouped[T any](rows []T, of func(T) int64) map[int64][]T {
	out := map[int64][]T{}
	for _, r := range rows {
		out[of(r)] = append(out[of(r)], r)
	}
	return out
}

// received follows what the jobs of one invoice have received, through its payments and the notes on it.
type received struct {
	jobs   []paperJob // of the invoice and of its notes
	bases  map[int64][]paperBase
	taxes  map[int64][]paperTax
	papers []int64 // the invoice, and the notes so far
	shown  []paperJob
	had    []money.Amount
}

func (r *received) walk(invoiceID int64, events []event) (out []Receipt) {
	for _, j := range r.jobs {
		if j.PaperID == invoiceID {
			r.shown = append(r.shown, j)
		}
	}
	slices.SortStableFunc(events, func(a, b event) int { // a note lifts what it frees on its own day, or later
		return cmp.Or(cmp.Compare(a.Date, b.Date), later(a, b), cmp.Compare(a.ID, b.ID))
	})
	r.papers, r.had = []int64{invoiceID}, make([]money.Amount, len(r.shown))
	var paid money.Amount
	due := r.due()
	for at, e := range events {
		if e.note {
			r.papers = append(r.papers, e.ID)
			due = r.due()
		}
		paid += e.Amount
		if next := at + 1; e.note && next < len(events) && events[next].Date == e.Date && events[next].Amount < 0 {
			continue // what the note frees is one with it
		}
		now := billing.Receipts(paid, due)
		for i, j := range r.shown {
			if now[i] != r.had[i] {
				out = append(out, Receipt{
					Date: e.Date, Customer: e.Customer, Payment: e.Payment, Invoice: e.Number, Job: j.Job, JobID: j.JobID, Amount: now[i] - r.had[i],
				})
			}
		}
		r.had = now
	}
	return out
}

// later puts what is set against an invoice on a day before a note of that day, and what is lifted after it.
func later(a, b event) int {
	rank := func(e event) int {
		switch {
		case e.note:
			return 1
		case e.Amount < 0:
			return 2
		}
		return 0
	}
	return cmp.Compare(rank(a), rank(b))
}

// due is what is due of each job, with its share of the tax and less what is retained, on the invoice and the notes so far.
func (r *received) due() []money.Amount {
	due := make([]money.Amount, len(r.shown))
	at := map[int64]int{}
	for i, j := range r.shown {
		at[j.JobID] = i
	}
	for _, j := range r.jobs {
		if i, on := at[j.JobID]; on && slices.Contains(r.papers, j.PaperID) {
			due[i] += j.Subtotal - j.Retainage
		}
	}
	var taxes []paperTax // by component, of all of the papers
	for _, paper := range r.papers {
		for _, t := range r.taxes[paper] {
			i := slices.IndexFunc(taxes, func(o paperTax) bool {
				return o.TaxCode == t.TaxCode && o.Component == t.Component && o.AppliesTo == t.AppliesTo
			})
			if i < 0 {
				taxes = append(taxes, t)
			} else {
				taxes[i].Amount += t.Amount
			}
		}
	}
	for _, t := range taxes {
		for i, share := range billing.TaxByJob(t.Amount, r.taxable(t, at)) {
			due[i] += share
		}
	}
	return due
}

// taxable is what each job has that a component is on; where retainage is released it is that.
func (r *received) taxable(t paperTax, at map[int64]int) []money.Amount {
	base := make([]money.Amount, len(r.shown))
	var all money.Amount
	for _, paper := range r.papers {
		for _, b := range r.bases[paper] {
			if i, on := at[b.JobID]; on && r.shown[i].TaxCode == t.TaxCode && slices.Contains(strings.Fields(t.AppliesTo), b.Category) {
				base[i] += b.Amount
				all += b.Amount
			}
		}
	}
	if all != 0 {
		return base
	}
	for i, j := range r.shown {
		if base[i] = 0; j.TaxCode == t.TaxCode {
			base[i] = -j.Retainage
		}
	}
	return base
}
