package tape

import (
	"cmp"
	"context"
	"fmt"
	"maps"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/drafting"
	"jarvo/internal/app/history"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/ratebook"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/labour"
	"jarvo/internal/core/landing"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
	"jarvo/internal/core/workings"
	"jarvo/internal/store"
)

// Tape is how one or two figures came about, as the core made it.
type Tape struct {
	Title   string                `json:"title"`
	About   []string              `json:"about" doc:"what it is of, a line each"`
	Roots   []workings.Step       `json:"roots" doc:"the figures, each a tree whose leaves add up to it"`
	Margin  string                `json:"margin,omitempty" format:"decimal" doc:"percent of the price that is left over"`
	Missing string                `json:"missing,omitempty" doc:"what has to be settled before it has all its figures"`
	History []history.HistoryLine `json:"history"`
}

// OfLine shows how the landed cost and the charge of a cost line came about.
func OfLine(ctx context.Context, b *book.Book, actor book.Actor, lineID int64) (Tape, error) {
	return book.Read(ctx, b, actor, book.SeeMoney, func(s *book.Session) (out Tape, _ error) {
		row, found, err := store.One[store.CostLine](s.Tx, lineID)
		if err != nil || !found {
			return out, refuse.OrNotFound(err, "cost line")
		}
		document, _, err := store.One[store.Paper](s.Tx, row.DocumentID)
		if err != nil {
			return out, err
		}
		out.Title = row.Description
		out.About = []string{fmt.Sprintf("%s, line %s", documentName(document), row.Line), document.Date.String()}
		if out.History, err = history.History(s, "cost_document", document.ID); err != nil {
			return out, err
		}
		if document.Void != "" {
			out.Missing = "this paper is void, so it costs and charges nothing: " + document.Void
			return out, nil
		}
		goods, err := goods(s, document)
		if err != nil {
			return out, err
		}
		g := goods[lineID]
		shown := workings.Show{Currency: s.Currency}.OfLine(g)
		out.Roots = []workings.Step{shown.Landed}
		if shown.Charge != nil {
			out.Roots = append(out.Roots, *shown.Charge)
			if margin, ok := money.Share(*g.Charge-g.Cost(), *g.Charge); ok {
				out.Margin = margin.Places2()
			}
		}
		if row.Unmarked {
			out.Missing = "no card has a markup for " + row.Category + ", so it is charged at cost"
		}
		return out, nil
	})
}

func documentName(d store.Paper) string {
	return joinDots(cmp.Or(d.Supplier, costs.KindNames[d.Kind]), d.Number)
}

// goods is what the lines of a document rest on, by line. Billed lines keep what they were costed and charged at.
func goods(s *book.Session, document store.Paper) (map[int64]workings.Goods, error) {
	lines, err := costing.DocumentLines(s, document.ID)
	if err != nil {
		return nil, err
	}
	costed, err := costing.CostDocument(s, document.CostDocument, lines[document.ID])
	if err != nil {
		return nil, err
	}
	goods := map[int64]workings.Goods{}
	for i, l := range lines[document.ID] {
		c := costed[i]
		if l.Billed {
			c.Landed, c.Charge = landing.Landed{Base: l.Base, Freight: l.Freight, Tax: l.Tax}, l.Charge
		}
		goods[l.ID] = workings.Goods{
			Line:   landing.Line{Quantity: l.Quantity, UnitCost: l.UnitCost, Taxable: l.Taxable},
			Landed: c.Landed, Freight: document.Freight, Tax: document.Tax, Paper: c.Paper, Recovered: s.Company.PurchaseTax == "recovered",
			Document: workings.Record{Kind: "cost_document", ID: document.ID, Text: documentName(document)},
			Pricing:  pricing.Line{Quantity: l.Quantity, SellPrice: l.SellPrice, Markup: l.Markup, Landed: c.Landed}, Row: c.Row, Card: c.Card,
			Found: c.Found, Charge: c.Charge,
		}
	}
	return goods, nil
}

// OfInvoice shows how what is due on an invoice came about.
func OfInvoice(ctx context.Context, b *book.Book, actor book.Actor, invoiceID int64) (Tape, error) {
	return book.Read(ctx, b, actor, book.Bill, func(s *book.Session) (out Tape, _ error) {
		invoice, found, err := store.One[store.Invoice](s.Tx, invoiceID)
		if err != nil || !found {
			return out, refuse.OrNotFound(err, "invoice")
		}
		of, err := invoiceParts(s, invoice)
		if err != nil {
			return out, err
		}
		out = Tape{
			Title: cmp.Or(invoice.NumberText(), "This draft"), About: []string{invoice.CustomerName, invoice.Title},
			Roots: []workings.Step{workings.Show{Currency: s.Currency}.OfInvoice(of)},
		}
		out.History, err = history.History(s, "invoice", invoiceID)
		return out, err
	})
}

func invoiceParts(s *book.Session, invoice store.Invoice) (workings.Invoice, error) {
	var of workings.Invoice
	lines, err := store.All[store.InvoiceLine](s.Tx, "position", "invoice_id = ?", invoice.ID)
	if err != nil {
		return of, err
	}
	sources, err := drafting.SourcesOf(s, invoice)
	if err != nil {
		return of, err
	}
	type billed struct {
		ID, InvoiceLineID int64
		Charge, Amount    money.Amount
	}
	rows, err := store.Query[billed](s.Tx, invoiceSources, invoice.ID)
	if err != nil {
		return of, err
	}
	bySource := map[int64]billed{}
	for _, r := range rows {
		bySource[r.ID] = r
	}
	note := "typed on the invoice"
	if invoice.CreditOf != nil {
		note = "credited of that line"
	}
	at := map[int64]int{}
	for i, l := range lines {
		at[l.ID] = i
		of.Lines = append(of.Lines, workings.Billed{
			Text: cmp.Or(l.Text, drafting.CategoryTitle(s, l.Category)), Amount: l.Amount, Note: note, Minutes: l.Minutes, Rate: l.Rate,
			Rounds: l.TypedLineID == nil && l.Category == billing.Labour && l.Text == billing.Rounding,
		})
	}
	for _, src := range sources {
		b := bySource[src.SourceID]
		work := workings.Work{
			Text: src.Date.String() + " " + src.Text, From: workings.Record{Kind: "cost_line", ID: src.CostLineID, Text: src.Text},
			Charge: b.Charge, Amount: b.Amount, Way: src.Way, Typed: src.Typed, Up: src.Up, Down: src.Down, Reason: src.Reason,
		}
		if src.EntryID != 0 {
			work.Text += ", " + src.Minutes.Short() + " h"
			work.From = workings.Record{Kind: "time_entry", ID: src.EntryID, Text: src.Text}
		}
		line := &of.Lines[at[b.InvoiceLineID]]
		line.Work = append(line.Work, work)
	}
	taxes, err := store.All[store.InvoiceTax](s.Tx, "position", "invoice_id = ?", invoice.ID)
	if err != nil {
		return of, err
	}
	for _, t := range taxes {
		of.Taxes = append(of.Taxes, billing.Tax{
			Component: billing.TaxComponent{Name: t.Component, Percent: t.Percent}, Base: t.Base, Tax: t.Amount,
		})
		of.TaxFrom = append(of.TaxFrom, workings.Record{Kind: "tax_code", Text: t.TaxCode})
	}
	if of.Prepaid, err = prepaid(s, invoice.ID); err != nil {
		return of, err
	}
	type share struct {
		store.InvoiceJob
		Number, Name string
	}
	shares, err := store.Query[share](s.Tx, invoiceShares, invoice.ID)
	for _, r := range shares {
		of.Retained = append(of.Retained, workings.Retained{
			Job: workings.Record{Kind: "job", ID: r.JobID, Text: r.Number + " " + r.Name}, Share: r.Subtotal, Percent: r.RetainagePercent,
			Retainage: r.Retainage,
		})
	}
	return of, err
}

// prepaid are the deposits that are applied to an invoice.
func prepaid(s *book.Session, invoiceID int64) ([]workings.Prepaid, error) {
	type applied struct {
		DepositID int64
		Number    string
		Amount    money.Amount
	}
	rows, err := store.Query[applied](s.Tx, appliedDeposits, invoiceID)
	out := make([]workings.Prepaid, len(rows))
	for i, r := range rows {
		out[i] = workings.Prepaid{Deposit: workings.Record{Kind: "invoice", ID: r.DepositID, Text: r.Number}, Amount: r.Amount}
	}
	return out, err
}

// OfJob shows how a job's profit came about.
func OfJob(ctx context.Context, b *book.Book, actor book.Actor, number string) (Tape, error) {
	return book.Read(ctx, b, actor, book.SeeMoney, func(s *book.Session) (out Tape, _ error) {
		job, err := register.JobByNumber(s, number)
		if err != nil {
			return out, err
		}
		figures, err := jobs.Figures(s, job.ID, calendar.Always)
		if err != nil {
			return out, err
		}
		root, err := profitWorkings(s, job, figures[0])
		if err != nil {
			return out, err
		}
		j := figures[0].Money
		out = Tape{
			Title: job.Number + " " + job.Name, About: []string{"profit to date, of approved and billed work"}, Roots: []workings.Step{root},
		}
		if j.HasMargin {
			out.Margin = j.Margin.Places2()
		}
		out.History, err = history.History(s, "job", job.ID)
		return out, err
	})
}

func profitWorkings(s *book.Session, job store.Job, figures *jobs.JobFigures) (workings.Step, error) {
	phases, err := store.All[store.Phase](s.Tx, "id", "job_id = ?", job.ID)
	if err != nil {
		return workings.Step{}, err
	}
	names := map[int64]string{}
	for _, p := range phases {
		names[p.ID] = joinDots(p.Code, p.Name)
	}
	var parts []workings.Part
	for _, p := range figures.Parts {
		from := workings.Record{Kind: "job", ID: job.ID, Text: jobs.PartName(p, len(figures.Parts), names)}
		parts = append(parts, workings.Part{Part: p, From: from})
	}
	sums, err := jobs.KindSums(s, job.ID)
	if err != nil {
		return workings.Step{}, err
	}
	var kinds []workings.CostKind
	for _, k := range sums {
		kinds = append(kinds, workings.CostKind{Category: drafting.CategoryTitle(s, k.Category), Cost: k.Actual})
	}
	return workings.Show{Currency: s.Currency}.OfProfit(parts, kinds)
}

// chargedHours are the segments of an invoice's entries as they are stored, each with the row that prices it.
func chargedHours(s *book.Session, invoiceID int64) (map[int64][]labour.Segment, error) {
	book, err := ratebook.Of(s)
	if err != nil {
		return nil, err
	}
	entries, err := store.Query[costing.CostedEntry](s.Tx, costing.CostedEntriesOf+" WHERE e.id IN "+hoursOfInvoice, invoiceID)
	if err != nil {
		return nil, err
	}
	segments, err := costing.Segments(s, "entry_id IN "+hoursOfInvoice, invoiceID)
	if err != nil {
		return nil, err
	}
	for _, e := range entries {
		priced := e.Input(book, nil).Priced()
		for i := range segments[e.ID] {
			segments[e.ID][i].Detail = priced
		}
	}
	return segments, nil
}

func chargedGoods(s *book.Session, invoiceID int64) (map[int64]workings.Goods, error) {
	documents, err := store.Query[store.Paper](s.Tx, invoicePapers, invoiceID)
	if err != nil {
		return nil, err
	}
	all := map[int64]workings.Goods{}
	for _, d := range documents {
		goods, err := goods(s, d)
		if err != nil {
			return nil, err
		}
		maps.Copy(all, goods)
	}
	return all, nil
}
