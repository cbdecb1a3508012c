// Package costs is what was bought: papers with their lines, freight and tax, their scans, and how a line is split.
package costs

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"strconv"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/form"
	"jarvo/internal/app/history"
	"jarvo/internal/app/pricelist"
	"jarvo/internal/app/ratebook"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/app/scope"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
	"jarvo/internal/core/units"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// Line is one line of a cost document as it is typed and as it comes out.
type Line struct {
	ID          int64  `json:"id,omitempty"`
	Category    string `json:"category"`
	Description string `json:"description"`
	Quantity    string `json:"quantity"`
	Unit        string `json:"unit"`
	UnitCost    string `json:"unitCost"`
	JobID       int64  `json:"jobId,omitempty"`
	PhaseID     int64  `json:"phaseId,omitempty"`
	CostCodeID  int64  `json:"costCodeId,omitempty"`
	Billable    bool   `json:"billable"`
	Taxable     *bool  `json:"taxable,omitempty" doc:"it has a share of the tax on the paper; absent: yes"`
	Markup      string `json:"markup,omitempty" doc:"percent of its own; blank: by the rate card"`
	SellPrice   string `json:"sellPrice,omitempty" doc:"a price a unit of its own, before any markup"`
	ItemID      int64  `json:"itemId,omitempty" doc:"of the price list: what is blank is taken from there"`
	// What it comes to; read only.
	Job        *register.Named   `json:"job,omitempty" readOnly:"true"`
	Listed     *pricelist.Listed `json:"listed,omitempty" readOnly:"true" doc:"what the price list has for it on the date of the paper"`
	Base       string            `json:"base,omitempty" format:"decimal" readOnly:"true"`
	FreightTax string            `json:"freightTax,omitempty" format:"decimal" readOnly:"true"`
	Landed     string            `json:"landed,omitempty" format:"decimal" readOnly:"true"`
	MarkupUsed string            `json:"markupUsed,omitempty" format:"decimal" readOnly:"true"`
	Margin     string            `json:"margin,omitempty" format:"decimal" readOnly:"true"`
	Charge     string            `json:"charge,omitempty" format:"decimal" readOnly:"true"`
	MarkupFrom string            `json:"markupFrom,omitempty" readOnly:"true" doc:"where the markup came from, in words"`
	NoMarkup   bool              `json:"noMarkup,omitempty" readOnly:"true" doc:"no card has a markup for it: charged at cost, a loose end"`
	Trail      *history.Trail    `json:"trail,omitempty" readOnly:"true"`
}

// Document is a cost document with its lines.
type Document struct {
	Key      string `json:"key,omitempty" doc:"made by the client for a new document"`
	ID       int64  `json:"id,omitempty"`
	Version  int64  `json:"version,omitempty"`
	Kind     string `json:"kind"`
	Supplier string `json:"supplier"`
	WorkerID int64  `json:"workerId,omitempty" doc:"who is to be paid back"`
	Date     string `json:"date" format:"date"`
	Number   string `json:"number"`
	Freight  string `json:"freight"`
	Tax      string `json:"tax"`
	Printed  string `json:"printed,omitempty" doc:"the total as it is printed on the paper: what it must come to before it is handed in"`
	Note     string `json:"note,omitempty"`
	Crew     string `json:"crew,omitempty" doc:"whose day a plant log is, as the foreman noted it; one a crew and day"`
	Lines    []Line `json:"lines"`
	// What it comes to; read only.
	Status      string         `json:"status,omitempty" readOnly:"true"`
	Locked      string         `json:"locked,omitempty" readOnly:"true" doc:"why it can't be changed"`
	Recovered   bool           `json:"recovered,omitempty" readOnly:"true" doc:"tax is recovered and no cost"`
	Goods       string         `json:"goods,omitempty" format:"decimal" readOnly:"true" doc:"sum of the lines"`
	Total       string         `json:"total,omitempty" format:"decimal" readOnly:"true" doc:"lines, freight and tax: what the paper says"`
	Missing     string         `json:"missing,omitempty" format:"decimal" readOnly:"true" doc:"what it lacks of the printed total; absent where it holds"`
	Landed      string         `json:"landed,omitempty" format:"decimal" readOnly:"true"`
	Spread      string         `json:"spread,omitempty" format:"decimal" readOnly:"true" doc:"freight and tax that are spread over the lines"`
	Charge      string         `json:"charge,omitempty" format:"decimal" readOnly:"true"`
	ByJob       []JobGoods     `json:"byJob,omitempty" readOnly:"true"`
	Warnings    []string       `json:"warnings,omitempty" readOnly:"true"`
	Alike       []int64        `json:"alike,omitempty" readOnly:"true" doc:"papers that it may be the same as: number or amount and day are"`
	PaidBack    string         `json:"paidBack,omitempty" readOnly:"true" doc:"when it was paid back to its worker"`
	OnInvoice   bool           `json:"onInvoice,omitempty" readOnly:"true" doc:"some of it is on an invoice or a draft"`
	Void        string         `json:"void,omitempty" readOnly:"true" doc:"why it does not count"`
	Due         string         `json:"due,omitempty" format:"date" readOnly:"true" doc:"by the terms of its supplier"`
	Trail       *history.Trail `json:"trail,omitempty" readOnly:"true"`
	Attachments []Attachment   `json:"attachments,omitempty" readOnly:"true"`
}

// JobGoods is what a document buys for a job against what that job is charged.
type JobGoods struct {
	Job     string `json:"job"`
	Bought  string `json:"bought" format:"decimal"`
	Charged string `json:"charged,omitempty" format:"decimal"`
	Margin  string `json:"margin,omitempty" format:"decimal"`
}

// DocumentRow is a cost document in a list.
type DocumentRow struct {
	ID      int64         `json:"id"`
	Title   string        `json:"title"`
	Detail  string        `json:"detail"`
	Kind    string        `json:"kind"`
	Date    string        `json:"date" format:"date"`
	Total   string        `json:"total" format:"decimal" doc:"landed cost of its lines"`
	NoJob   int64         `json:"noJob" doc:"lines without a job"`
	Scans   int64         `json:"scans" doc:"scans and photos attached"`
	Trail   history.Trail `json:"trail"`
	Waiting bool          `json:"waiting"`
	Void    string        `json:"void,omitempty" doc:"why it does not count"`
}

// DocumentList is the Costs tab's list.
type DocumentList struct {
	Documents []DocumentRow `json:"documents"`
	Total     string        `json:"total" format:"decimal" doc:"of all papers in scope, also those not listed"`
	Count     int64         `json:"count" doc:"papers in scope; the newest are listed"`
	Suppliers []string      `json:"suppliers"`
}

// DocumentKinds are the kinds of cost documents.
var DocumentKinds = []string{"supplier_invoice", "receipt", "claim", "mileage", PlantLog}

// PlantLog is the kind of what our own plant did; that of a crew's day is its foreman's.
const PlantLog = "plant"

// KindNames are the kinds as people call them.
var KindNames = map[string]string{
	"supplier_invoice": "Supplier's invoice", "receipt": "Receipt", "claim": "Claim", "mileage": "Mileage", "plant": "Plant log",
}

// mostDocuments bounds the list of papers; older ones are found by their time or job.
const mostDocuments = 300

// List lists the cost documents of a scope, newest first.
func List(ctx context.Context, b *book.Book, actor book.Actor, q scope.ScopeQuery) (DocumentList, error) {
	return book.Read(ctx, b, actor, book.Costs, func(s *book.Session) (DocumentList, error) {
		list := DocumentList{Documents: []DocumentRow{}}
		sc, err := scope.Of(s, q)
		if err != nil {
			return list, err
		}
		type row struct {
			store.Paper
			WorkerName       string
			Landed           money.Amount
			Lines, NoJob     int64
			OnInvoice, Bills int64
			Scans            int64
		}
		args := map[string]any{"from": sc.From, "to": sc.End(), "job": sc.Job, "most": mostDocuments}
		rows, err := store.Query[row](s.Tx, paperRows, args)
		if err != nil {
			return list, err
		}
		for _, r := range rows {
			out := DocumentRow{
				ID: r.ID, Title: cmp.Or(r.Supplier, r.WorkerName, r.Crew, KindNames[r.Kind]), Kind: r.Kind, Date: r.Date.String(),
				Total: s.Money(r.Landed),
				NoJob: r.NoJob, Scans: r.Scans, Waiting: r.Status != store.Approved, Void: r.Void,
			}
			out.Detail = strings.TrimSpace(KindNames[r.Kind] + " " + r.Number)
			out.Trail = history.TrailOf(history.StageOf(r.Status, r.OnInvoice > 0, r.Bills > 0 && r.Bills == r.Lines, false), true, "")
			if r.Void != "" {
				out.Trail, out.NoJob = history.Void(r.Void), 0
			}
			list.Documents = append(list.Documents, out)
		}
		sums := paperSums
		if sc.Job != 0 {
			sums = paperSumsOfJob
		}
		all, err := store.Value[row](s.Tx, sums, args)
		if err != nil {
			return list, err
		}
		list.Total, list.Count = s.Money(all.Landed), all.Lines
		list.Suppliers, err = store.Query[string](s.Tx, suppliers)
		return list, err
	})
}

// Get shows one cost document with what its lines come to.
func Get(ctx context.Context, b *book.Book, actor book.Actor, documentID int64) (Document, error) {
	return book.Read(ctx, b, actor, book.Costs, func(s *book.Session) (Document, error) { return View(s, documentID) })
}

// View shows a cost document with what its lines come to.
func View(s *book.Session, documentID int64) (Document, error) {
	row, found, err := store.One[store.Paper](s.Tx, documentID)
	if err != nil || !found {
		return Document{}, refuse.OrNotFound(err, "document")
	}
	lines, err := costing.DocumentLines(s, documentID)
	if err != nil {
		return Document{}, err
	}
	d, err := documentView(s, row, lines[documentID])
	if err != nil {
		return d, err
	}
	d.Attachments, err = Attachments(s, documentID)
	return d, err
}

// documentView shows a document as its lines come out; for billed lines what was frozen.
func documentView(s *book.Session, row store.Paper, lines []costing.PricedLine) (Document, error) {
	costed, bases, err := worksOut(s, row.CostDocument, lines)
	if err != nil {
		return Document{}, err
	}
	d := Document{
		ID: row.ID, Version: row.Version, Kind: row.Kind, Supplier: row.Supplier, WorkerID: store.ID(row.WorkerID), Date: row.Date.String(),
		Number:  row.Number,
		Freight: s.Money(row.Freight), Tax: s.Money(row.Tax), Printed: s.Maybe(row.Total), Note: row.Note, Crew: row.Crew, Status: row.Status,
		Recovered: s.Company.PurchaseTax == "recovered",
		Lines:     []Line{},
	}
	jobs := map[int64]store.Job{}
	var goods, spread, landed, charge money.Amount
	onInvoice, billed := false, true
	byJob := map[int64]*[2]money.Amount{}
	var order []int64
	for i, l := range lines {
		if l.Billed {
			costed[i].Charge = l.Charge
		}
		if l.JobID != nil && jobs[*l.JobID].ID == 0 {
			if jobs[*l.JobID], _, err = store.One[store.Job](s.Tx, *l.JobID); err != nil {
				return d, err
			}
		}
		line := lineView(s, row.CostDocument, l, costed[i], jobs[store.ID(l.JobID)])
		line.Base = s.Money(bases[i])
		if l.ItemID != nil {
			items, err := pricelist.Items(s, *l.ItemID, row.Date, row.ID)
			if err != nil {
				return d, err
			}
			listed := pricelist.Fitting(s, items[0], row.Date)
			line.ItemID, line.Listed = *l.ItemID, &listed
		}
		goods += bases[i]
		spread += costed[i].Freight + costed[i].Tax
		landed += costed[i].Cost()
		onInvoice, billed = onInvoice || l.InvoiceID != nil, billed && l.Billed
		sums, ok := byJob[store.ID(l.JobID)]
		if !ok {
			sums = &[2]money.Amount{}
			byJob[store.ID(l.JobID)] = sums
			order = append(order, store.ID(l.JobID))
		}
		sums[0] += costed[i].Cost()
		if costed[i].Charge != nil {
			charge += *costed[i].Charge
			sums[1] += *costed[i].Charge
		}
		d.Lines = append(d.Lines, line)
	}
	d.Goods, d.Landed, d.Charge, d.Total, d.Spread = s.Money(goods), s.Money(landed), s.Money(charge), s.Money(goods+row.Freight+row.Tax),
		s.Money(spread)
	if comesTo := goods + row.Freight + row.Tax; row.Total != nil && *row.Total != comesTo {
		d.Missing = s.Money(*row.Total - comesTo)
	}
	d.OnInvoice, d.Void = onInvoice, row.Void
	if d.Due, err = dueOf(s, row.CostDocument); err != nil {
		return d, err
	}
	for _, jobID := range order {
		d.ByJob = append(d.ByJob, jobGoods(s, jobs[jobID], *byJob[jobID]))
	}
	if err := d.locks(s, row.CostDocument); err != nil {
		return d, err
	}
	t := history.TrailOf(history.StageOf(row.Status, onInvoice, onInvoice && billed, false), true, "")
	d.Trail = &t
	if row.Void != "" {
		*d.Trail = history.Void(row.Void)
		return d, nil
	}
	err = warn(s, &d, row, goods+row.Freight+row.Tax)
	return d, err
}

// worksOut is what the lines of a document come to, and what each says before freight and tax. Those of a void one cost nothing, and what
// they say can still be read.
func worksOut(s *book.Session, row store.CostDocument, lines []costing.PricedLine) ([]costing.CostedLine, []money.Amount, error) {
	costed, err := costing.CostDocument(s, row, lines)
	said := costed
	if err == nil && row.Void != "" {
		row.Void = ""
		said, err = costing.CostDocument(s, row, lines)
	}
	if err != nil {
		return nil, nil, refuse.Invalid("lines", "%s", err)
	}
	bases := make([]money.Amount, len(said))
	for i := range said {
		bases[i] = said[i].Base
	}
	return costed, bases, nil
}

// locks says why a document can't be changed, where it can't.
func (d *Document) locks(s *book.Session, row store.CostDocument) error {
	switch {
	case row.Void != "":
		d.Locked = "void: " + row.Void
	case d.OnInvoice:
		d.Locked = "some of it is on an invoice, so it can't be changed"
	case row.Status == store.Approved:
		d.Locked = "approved; return it in Approve to change it, or make it void"
	}
	if row.WorkerID == nil || row.ID == 0 {
		return nil
	}
	paid, err := store.Query[calendar.Date](s.Tx, paidBackOn, row.ID)
	if len(paid) > 0 {
		d.PaidBack, d.Locked = paid[0].String(), "reimbursed, so it can't be changed"
	}
	return err
}

func jobGoods(s *book.Session, job store.Job, sums [2]money.Amount) JobGoods {
	g := JobGoods{Job: "no job yet", Bought: s.Money(sums[0])}
	if job.ID != 0 {
		g.Job = job.Number + " " + job.Name
		g.Charged = s.Money(sums[1])
		if margin, ok := money.Share(sums[1]-sums[0], sums[1]); ok {
			g.Margin = margin.Places2()
		}
	}
	return g
}

func lineView(s *book.Session, d store.CostDocument, l costing.PricedLine, c costing.CostedLine, job store.Job) Line {
	line := Line{
		ID: l.ID, Category: l.Category, Description: l.Description, Quantity: l.Quantity.String(), Unit: l.Unit,
		UnitCost: s.Currency.FormatRate(l.UnitCost),
		JobID:    store.ID(l.JobID), PhaseID: store.ID(l.PhaseID), CostCodeID: store.ID(l.CostCodeID), Billable: l.Billable, Taxable: &l.Taxable,
		FreightTax: s.Money(c.Freight + c.Tax), Landed: s.Money(c.Cost()), Charge: s.Maybe(c.Charge),
	}
	if job.ID != 0 {
		line.Job = &register.Named{ID: job.ID, Code: job.Number, Name: job.Name}
	}
	if l.Markup != nil {
		line.Markup = l.Markup.String()
	}
	if l.SellPrice != nil {
		line.SellPrice = s.Currency.FormatRate(*l.SellPrice)
	}
	if c.Charge != nil {
		markupWords(s, &line, l, c)
	}
	t := history.TrailOf(history.StageOf(d.Status, l.InvoiceID != nil, l.Billed, false), l.Billable, "")
	line.Trail = &t
	return line
}

func markupWords(s *book.Session, line *Line, l costing.PricedLine, c costing.CostedLine) {
	switch {
	case l.SellPrice != nil:
		line.MarkupFrom = "a price of its own"
	case l.Markup != nil:
		line.MarkupUsed, line.MarkupFrom = l.Markup.String(), "a markup of its own"
	case c.Found:
		line.MarkupUsed = c.Row.Percent.String()
		line.MarkupFrom = fmt.Sprintf("card %s, %s over %s, since %s", c.Card.Code, l.Category, s.Currency.FormatRate(c.Row.OverCost), c.Row.From)
		switch c.Row.On {
		case pricing.OnBeforeTax:
			line.MarkupFrom += ", on what it costs before tax"
		case pricing.OnGoods:
			line.MarkupFrom += ", on the goods alone"
		case pricing.OnLanded:
		}
	default:
		line.MarkupUsed, line.NoMarkup, line.MarkupFrom = "0", true, "no card has a markup for "+l.Category
	}
	if margin, ok := money.Share(*c.Charge-c.Cost(), *c.Charge); ok {
		line.Margin = margin.Places2()
	}
}

// dueOf is when a supplier's invoice is due by the supplier's terms, blank where they are not known.
func dueOf(s *book.Session, row store.CostDocument) (string, error) {
	if row.Kind != "supplier_invoice" || row.SupplierID == nil {
		return "", nil
	}
	supplier, _, err := store.One[store.Supplier](s.Tx, *row.SupplierID)
	if err != nil || supplier.TermsDays == nil {
		return "", err
	}
	return (row.Date + calendar.Date(*supplier.TermsDays)).String(), nil
}

// warn adds what looks like a slip: a number that the supplier has used already, or the same amount on the same day.
func warn(s *book.Session, d *Document, row store.Paper, total money.Amount) error {
	if row.Number != "" && row.SupplierID != nil {
		same, err := store.Query[alikePaper](s.Tx, sameNumber, *row.SupplierID, row.Number, row.ID)
		if err != nil {
			return err
		}
		if len(same) > 0 {
			d.Warnings = append(d.Warnings, fmt.Sprintf("%s is there already; is it entered twice?", d.alike(same)))
			return nil
		}
	}
	if total == 0 {
		return nil
	}
	same, err := store.Query[alikePaper](s.Tx, sameTotalSameDay, row.Date, row.ID, total)
	if len(same) > 0 {
		d.Warnings = append(d.Warnings, fmt.Sprintf(
			"%s is the amount of %s too, on the same day; is it the same paper?", s.Money(total), d.alike(same),
		))
	}
	return err
}

// alikePaper is a paper that another may be the same as.
type alikePaper struct {
	ID                     int64
	Kind, Supplier, Number string
	Date                   calendar.Date
}

// alike notes papers that this one may be the same as, and returns what they are called: supplier, number and date.
func (d *Document) alike(papers []alikePaper) string {
	names := make([]string, len(papers))
	for i, p := range papers {
		names[i] = fmt.Sprintf("%s of %s", strings.TrimSpace(cmp.Or(p.Supplier, KindNames[p.Kind])+" "+p.Number), p.Date)
		d.Alike = append(d.Alike, p.ID)
	}
	return strings.Join(names, ", ")
}

// Preview works a document out as it is typed, without saving it.
func Preview(ctx context.Context, b *book.Book, actor book.Actor, in Document) (Document, error) {
	return book.Read(ctx, b, actor, book.Costs, func(s *book.Session) (out Document, _ error) {
		row, lines, err := readDocument(s, in)
		if err != nil {
			return out, err
		}
		priced := make([]costing.PricedLine, len(lines))
		for i, l := range lines {
			if priced[i], err = price(s, l); err != nil {
				return out, err
			}
		}
		if out, err = documentView(s, row, priced); err != nil || row.SupplierID != nil || row.Supplier == "" {
			return out, err
		}
		told := row.Supplier + " is a new supplier"
		like, err := register.LikeSupplier(s, row.Supplier)
		if like != "" {
			told += "; is it " + like + "?"
		}
		out.Warnings = append(out.Warnings, told)
		return out, err
	})
}

// price finds what a line that is not saved yet is charged by.
func price(s *book.Session, l store.CostLine) (costing.PricedLine, error) {
	p := costing.PricedLine{CostLine: l}
	if l.JobID == nil {
		return p, nil
	}
	by, err := ratebook.ChargingOf(s, ratebook.Place{Job: *l.JobID, Phase: store.ID(l.PhaseID)})
	p.ChargedBy = by
	return p, err
}

// Put makes a document, or changes one that is not approved yet.
func Put(s *book.Session, in Document) (Document, error) {
	if in.ID == 0 {
		return createDocument(s, in)
	}
	if err := changeDocument(s, in); err != nil {
		return Document{}, err
	}
	return View(s, in.ID)
}

// Save makes a document or changes one that is not approved yet.
func Save(ctx context.Context, b *book.Book, actor book.Actor, in Document) (Document, error) {
	return book.Write(ctx, b, actor, book.Costs, func(s *book.Session) (out Document, err error) {
		if in.ID == 0 {
			out, err = book.Once(s, "cost_document", in.Key, in, func() (Document, error) { return Put(s, in) })
			if errors.Is(err, book.ErrOtherContent) && out.ID != 0 {
				out, err = View(s, out.ID)
				return out, cmp.Or[error](err, &refuse.Error{
					Kind: refuse.KindConflict, Message: "this paper was saved already, with something else in it; here it is as it stands now",
					Current: out,
				})
			}
			return out, err
		}
		out, err = Put(s, in)
		return out, err
	})
}

func readDocument(s *book.Session, in Document) (store.Paper, []store.CostLine, error) {
	c := s.Checks()
	row := store.Paper{Supplier: c.Text("supplier", in.Supplier), CostDocument: store.CostDocument{
		ID: in.ID, Kind: c.OneOf("kind", in.Kind, DocumentKinds...), WorkerID: store.Ref(in.WorkerID),
		Date:   c.Date("date", in.Date),
		Number: c.Text("number", in.Number), Freight: form.OrZero(c, "freight", in.Freight, s.ParseAmount),
		Tax: form.OrZero(c, "tax", in.Tax, s.ParseAmount), Total: form.Optional(c, "printed", in.Printed, s.ParseAmount),
		Note: c.Text("note", in.Note), Crew: c.Text("crew", in.Crew), Status: store.Draft, Version: 1,
	}}
	if same, found, err := register.FindSupplier(s, row.Supplier); err != nil {
		return row, nil, err
	} else if found {
		row.Supplier, row.SupplierID = same.Name, &same.ID
	}
	if in.Kind == "supplier_invoice" && row.Supplier == "" {
		c.Add("supplier", "whose invoice is it? name the supplier")
	}
	if row.Date > s.FurthestAhead() {
		c.Add("date", "%s is more than %d days ahead", row.Date, s.Company.DaysAhead)
	}
	if row.Crew != "" && row.Kind != PlantLog {
		c.Add("crew", "only a plant log is the day of a crew")
	}
	switch n := len(in.Lines); {
	case n == 0 && row.Crew == "": // of a crew's day there can be only pictures
		c.Add("lines", "a paper needs at least one line")
	case n > pricelist.MostLines:
		c.Add("lines", "a paper has at most %d lines; %d were sent", pricelist.MostLines, n)
		return row, nil, c.Err()
	}
	lines := make([]store.CostLine, len(in.Lines))
	for i, l := range in.Lines {
		line, err := readLine(s, c, fmt.Sprintf("lines[%d].", i), l, row.Date)
		if err != nil {
			return row, nil, err
		}
		line.Line = strconv.Itoa(i + 1)
		line.LineOrder = words.SortKey(line.Line)
		line.Status, line.Date = row.Status, row.Date
		lines[i] = line
	}
	return row, lines, c.Err()
}

func readLine(s *book.Session, c *form.Checks, path string, l Line, date calendar.Date) (store.CostLine, error) {
	if l.ItemID != 0 {
		var err error
		if l, err = byList(s, c, path, l, date); err != nil {
			return store.CostLine{}, err
		}
	}
	line := store.CostLine{
		ID: l.ID, Category: c.OneOf(path+"category", l.Category, pricing.Categories...), Description: c.Text(path+"description", l.Description),
		Quantity: form.Parsed(c, path+"quantity", l.Quantity, form.ParseQuantity), Unit: units.Written(c.Text(path+"unit", l.Unit)),
		UnitCost: form.Parsed(c, path+"unitCost", l.UnitCost, form.ParseRate),
		JobID:    store.Ref(l.JobID), PhaseID: store.Ref(l.PhaseID), CostCodeID: store.Ref(l.CostCodeID), Billable: l.Billable,
		Taxable:   l.Taxable == nil || *l.Taxable,
		ItemID:    store.Ref(l.ItemID),
		Markup:    form.Optional(c, path+"markup", l.Markup, form.MarkupPercent),
		SellPrice: form.Optional(c, path+"sellPrice", l.SellPrice, form.ParseRate),
	}
	if line.SellPrice != nil {
		form.NotNegative(c, path+"sellPrice", *line.SellPrice, "a price")
	}
	if l.JobID == 0 {
		if l.PhaseID != 0 {
			c.Add(path+"phaseId", "choose the job before its phase")
		}
		return line, nil
	}
	return line, register.CheckPlace(s, c, path, l.JobID, l.PhaseID, l.CostCodeID)
}

func createDocument(s *book.Session, in Document) (Document, error) {
	row, lines, err := readDocument(s, in)
	if err != nil {
		return Document{}, err
	}
	if row.SupplierID, err = register.Supplier(s, row.Supplier); err != nil {
		return Document{}, err
	}
	if err := book.Add(s, "cost_documents", "D", &row.CostDocument, &row.ID, &row.Ref); err != nil {
		return Document{}, err
	}
	after, err := saveLines(s, row.ID, lines)
	if err != nil {
		return Document{}, err
	}
	return after, s.Record("captured", "cost_document", row.ID, nil, after.recorded())
}

// saveLines gives a document its lines, in place of those that it had, and works them out.
func saveLines(s *book.Session, documentID int64, lines []store.CostLine) (Document, error) {
	if err := s.Exec("DELETE FROM cost_lines WHERE document_id = ?", documentID).Error; err != nil {
		return Document{}, err
	}
	for i := range lines {
		lines[i].ID, lines[i].DocumentID = 0, documentID
	}
	if len(lines) > 0 {
		if err := s.CreateInBatches(&lines, 500).Error; err != nil {
			return Document{}, err
		}
	}
	if err := costing.Document(s, documentID); err != nil {
		return Document{}, err
	}
	return View(s, documentID)
}

// DocumentRecord is the head of a document as its history keeps it.
func DocumentRecord(s *book.Session, d store.Paper) map[string]string {
	return map[string]string{
		"supplier": d.Supplier, "number": d.Number, "date": d.Date.String(), "freight": s.Money(d.Freight), "tax": s.Money(d.Tax),
	}
}

// recorded is a document with what its lines come to, as its history keeps it.
func (d Document) recorded() map[string]string {
	recorded := map[string]string{
		"supplier": d.Supplier, "number": d.Number, "date": d.Date, "freight": d.Freight, "tax": d.Tax, "total": d.Total, "printed": d.Printed,
		"lines": strconv.Itoa(len(d.Lines)),
	}
	for _, l := range d.Lines {
		recorded["goods"] += fmt.Sprintf("%s x %s %s%s; ", l.Quantity, l.UnitCost, l.Description, jobRecord(l.Job))
	}
	recorded["goods"] = strings.TrimSuffix(recorded["goods"], "; ")
	return recorded
}

func jobRecord(job *register.Named) string {
	if job == nil {
		return ", no job"
	}
	return ", job " + job.Code
}

func changeDocument(s *book.Session, in Document) error {
	had, found, err := store.One[store.CostDocument](s.Tx, in.ID)
	if err != nil || !found {
		return refuse.OrNotFound(err, "document")
	}
	current, err := View(s, in.ID)
	if err != nil {
		return err
	}
	if had.Version != in.Version {
		return &refuse.Error{
			Kind: refuse.KindConflict, Message: "somebody else has changed this paper since you opened it; here it is as it stands now",
			Current: current,
		}
	}
	if current.Locked != "" {
		return refuse.Conflict("this paper can't be changed: %s", current.Locked)
	}
	row, lines, err := readDocument(s, in)
	if err != nil {
		return err
	}
	row.Ref, row.Version = had.Ref, had.Version+1
	if row.SupplierID, err = register.Supplier(s, row.Supplier); err != nil {
		return err
	}
	if err := s.Save(&row.CostDocument).Error; err != nil {
		return err
	}
	after, err := saveLines(s, row.ID, lines)
	if err != nil {
		return err
	}
	return s.Record("changed", "cost_document", row.ID, current.recorded(), after.recorded())
}

// HandIn submits a document for approval.
func HandIn(ctx context.Context, b *book.Book, actor book.Actor, documentID, version int64) (Document, error) {
	return book.Write(ctx, b, actor, book.Costs, func(s *book.Session) (out Document, _ error) {
		row, found, err := store.One[store.CostDocument](s.Tx, documentID)
		if err != nil || !found {
			return out, refuse.OrNotFound(err, "document")
		}
		if row.Version != version {
			return out, refuse.Conflict("somebody else has changed this paper since you opened it")
		}
		if row.Status != store.Draft {
			return out, refuse.Conflict("this paper has been handed in already")
		}
		if err := SetDocumentStatus(s, documentID, store.Submitted, "handed in", ""); err != nil {
			return out, err
		}
		out, err = View(s, documentID)
		return out, err
	})
}

// SetDocumentStatus hands a document in, approves it or returns it, and costs its lines.
func SetDocumentStatus(s *book.Session, documentID int64, status, action, reason string) error {
	if status != store.Draft {
		if err := totalHolds(s, documentID); err != nil {
			return err
		}
	}
	was, err := store.Value[string](s.Tx, "SELECT status FROM cost_documents WHERE id = ?", documentID)
	if err != nil {
		return err
	}
	if err := s.Exec("UPDATE cost_documents SET status = ?, version = version + 1 WHERE id = ?", status, documentID).Error; err != nil {
		return err
	}
	after := map[string]string{"status": status}
	if reason != "" {
		after["reason"] = reason
	}
	if err := s.Record(action, "cost_document", documentID, map[string]string{"status": was}, after); err != nil {
		return err
	}
	return costing.Document(s, documentID)
}

// totalHolds refuses a paper that does not come to the total that is printed on it.
func totalHolds(s *book.Session, documentID int64) error {
	d, err := View(s, documentID)
	if err != nil || d.Missing == "" {
		return err
	}
	off := d.Missing + " is missing"
	if over, is := strings.CutPrefix(d.Missing, "-"); is {
		off = over + " is too much"
	}
	return refuse.Invalid("printed", "lines, freight and tax come to %s, and not to the %s printed on it: %s", d.Total, d.Printed, off)
}

// byList fills in what a line leaves to the price list: what it is, its unit, and what the list has on the date of the paper.
// A sell price is taken where the line has neither a price nor a markup of its own.
func byList(s *book.Session, c *form.Checks, path string, l Line, date calendar.Date) (Line, error) {
	rows, err := pricelist.Items(s, l.ItemID, date, 0)
	if err != nil {
		return l, err
	}
	if len(rows) == 0 {
		c.Add(path+"itemId", "this is not on the price list any more; choose it again")
		return l, nil
	}
	item := rows[0]
	l.Description, l.Unit = cmp.Or(strings.TrimSpace(l.Description), item.Description), cmp.Or(l.Unit, item.Unit)
	listed := pricelist.Fitting(s, item, date)
	if strings.TrimSpace(l.UnitCost) == "" {
		if l.UnitCost = listed.UnitCost; l.UnitCost == "" {
			c.Add(path+"unitCost", "%s has no price on %s yet; type what a unit costs", item.Code, date)
			l.UnitCost = "0" // said already
		}
	}
	if strings.TrimSpace(l.SellPrice) == "" && strings.TrimSpace(l.Markup) == "" {
		l.SellPrice = listed.SellPrice
	}
	return l, nil
}
