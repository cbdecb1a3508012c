package billing

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/drafting"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
	"jarvo/internal/core/words"
	"jarvo/internal/face"
	"jarvo/internal/store"
)

// InvoiceView is an invoice as the customer will see it, and what it is made of.
type InvoiceView struct {
	ID              int64         `json:"id"`
	Version         int64         `json:"version"`
	Status          string        `json:"status" enum:"draft,issued"`
	Number          string        `json:"number"`
	Date            string        `json:"date" format:"date"`
	Due             string        `json:"due" format:"date"`
	Title           string        `json:"title"`
	CreditOn        string        `json:"creditOn,omitempty" doc:"of a credit note, whose amounts are above 0 here: the number of its invoice"`
	Grouping        string        `json:"grouping"`
	ShowRates       bool          `json:"showRates" doc:"hours with their rate, where the grouping shows them"`
	Currency        string        `json:"currency"`
	CompanyName     string        `json:"companyName"`
	CompanyAddress  string        `json:"companyAddress"`
	CompanyEmail    string        `json:"companyEmail"`
	CompanyTax      string        `json:"companyTaxNumber,omitempty"`
	CompanyPhone    string        `json:"companyPhone,omitempty"`
	CompanyCountry  string        `json:"companyCountry,omitempty" doc:"ISO 3166: figures and dates are written as there"`
	Licence         string        `json:"licence,omitempty"`
	Accent          string        `json:"accent,omitempty" doc:"the colour of the paper, as #2f4575"`
	PaperSize       string        `json:"paperSize" doc:"a4 or letter"`
	Terms           string        `json:"terms,omitempty"`
	HowToPay        []PayFact     `json:"howToPay,omitempty"`
	Account         string        `json:"-"` // and what a code to pay by needs with it
	BankCode        string        `json:"-"`
	Payee           string        `json:"-"`
	CustomerCode    string        `json:"customerCode" doc:"their number"`
	Places          []JobPlace    `json:"places,omitempty" doc:"its jobs, with where and when the work was"`
	CompanyLogo     string        `json:"companyLogo,omitempty" doc:"the checksum of the mark on it"`
	Mark            []byte        `json:"-"` // the picture itself, where it is drawn on paper
	CustomerName    string        `json:"customerName"`
	CustomerAddress string        `json:"customerAddress"`
	OrderNumber     string        `json:"orderNumber,omitempty" doc:"the customer's"`
	Opening         string        `json:"opening,omitempty" doc:"text above the lines"`
	Closing         string        `json:"closing,omitempty" doc:"text below them"`
	Sections        []PaperPart   `json:"sections"`
	Subtotal        string        `json:"subtotal" format:"decimal"`
	Taxes           []PaperTax    `json:"taxes"`
	TaxNotes        []string      `json:"taxNotes,omitempty" doc:"what the tax codes say, as why there is no tax"`
	Tax             string        `json:"tax" format:"decimal"`
	Total           string        `json:"total" format:"decimal"`
	Retainage       string        `json:"retainage" format:"decimal"`
	HasRetainage    bool          `json:"hasRetainage"`
	Stands          []StandRow    `json:"stands,omitempty" doc:"where its jobs stand with it: what is billed of a fixed price, and held"`
	Prepaid         string        `json:"prepaid,omitempty" format:"decimal" doc:"deposits applied, before tax"`
	IsDeposit       bool          `json:"isDeposit,omitempty" doc:"it asks for a deposit: nothing of it is billed"`
	Deposits        []DepositRow  `json:"deposits,omitempty" doc:"applied to it or, of a draft, open; of a deposit itself"`
	DueNow          string        `json:"dueNow" format:"decimal"`
	Paid            string        `json:"paid" format:"decimal"`
	Received        []ReceivedRow `json:"received,omitempty" doc:"what was set against it, and lifted again"`
	CustomerID      int64         `json:"customerId"`
	Credit          string        `json:"credit,omitempty" format:"decimal" doc:"of the customer, that can be set against it"`
	Credited        string        `json:"credited,omitempty" format:"decimal" doc:"off what was due, by credit notes"`
	Notes           []CreditRow   `json:"notes,omitempty" doc:"the credit notes on it"`
	Release         bool          `json:"release,omitempty" doc:"it releases retainage: what it asks for stands in no subtotal"`
	Credits         []CreditRow   `json:"credits,omitempty" doc:"of a credit note: what it credits"`
	Balance         string        `json:"balance" format:"decimal"`
	Sources         []PaperSource `json:"sources"`
	Typed           []TypedLine   `json:"typed,omitempty" doc:"what is typed on it"`
	Jobs            []string      `json:"jobs" doc:"the numbers of its jobs"`
	// Offered is, of a draft, what else of its jobs could go on it, and More how much is not listed.
	Offered []OfferedSource `json:"offered,omitempty"`
	More    int             `json:"more,omitempty"`
	Cost    string          `json:"cost" format:"decimal" doc:"what the work on it cost"`
	Hours   string          `json:"hours" format:"decimal"`
	// DatedBefore is, of a draft, the last invoice that was issued, where that has a later date: whoever issues it is told.
	DatedBefore string   `json:"datedBefore,omitempty"`
	Unprintable []string `json:"unprintable,omitempty" doc:"texts with characters that the paper can't print; each has a substitute there"`

	// What only an e-invoice says.
	Seller, Buyer store.InvoiceParty `json:"-"`
	Reference     string             `json:"-"` // what the customer wants to see on each invoice
}

// PaperPart is the lines of one job and kind of cost, with their sum.
type PaperPart struct {
	Title  string      `json:"title"`
	Job    string      `json:"job"`
	Kind   string      `json:"kind"`
	Amount string      `json:"amount" format:"decimal"`
	Lines  []PaperLine `json:"lines"`
	Taxed  Taxed       `json:"-"`

	jobID    int64
	category string
}

// PaperLine is one line on the paper.
type PaperLine struct {
	Text     string `json:"text"`
	Quantity string `json:"quantity" format:"decimal"`
	Unit     string `json:"unit"`
	Rate     string `json:"rate,omitempty" format:"decimal" doc:"an hour"`
	UnitCode string `json:"-"` // of the UN's recommendation 20, blank where it has none
	Amount   string `json:"amount" format:"decimal"`
}

// HasRates says that hours on it are shown with their rate.
func (v InvoiceView) HasRates() bool {
	return slices.ContainsFunc(v.Sections, func(p PaperPart) bool {
		return slices.ContainsFunc(p.Lines, func(l PaperLine) bool { return l.Rate != "" })
	})
}

// PaperTax is one tax on the paper.
type PaperTax struct {
	Label     string `json:"label"`
	Component string `json:"component"`
	Percent   string `json:"percent"`
	Base      string `json:"base" doc:"the sum that it is on"`
	Amount    string `json:"amount"`
	Code      string `json:"-"`
	AppliesTo string `json:"-"`
	Scheme    string `json:"-"` // by UNCL 5153; blank: that of the country
	OfDeposit string `json:"-"` // of what is deducted: the number of the deposit
}

// PaperSource is an entry or a cost line that the invoice bills.
type PaperSource struct {
	Kind     string `json:"kind" enum:"time_entry,cost_line"`
	ID       int64  `json:"id"`
	Category string `json:"category"`
	Text     string `json:"text"`
	Detail   string `json:"detail"`
	Date     string `json:"date" format:"date"`
	Quantity string `json:"quantity"`
	Amount   string `json:"amount" format:"decimal"`
	// How much of its work a draft bills, and what becomes of the rest.
	Way     string `json:"way" doc:"how it was chosen"`
	Value   string `json:"value,omitempty" doc:"what was typed for that: hours, quantity, percent or amount"`
	ToBill  string `json:"toBill,omitempty" doc:"of a draft: what there is to bill of the work"`
	Later   string `json:"later,omitempty" doc:"of a draft: what waits for a later invoice; absent: nothing"`
	Up      string `json:"up,omitempty" doc:"of the amount: written up"`
	Down    string `json:"down,omitempty" doc:"written down"`
	AllDown bool   `json:"allDown,omitempty" doc:"all that is left is written down"`
	Reason  string `json:"reason,omitempty"`
	// SourceID is, of an issued invoice, what a write-down is taken back by.
	SourceID int64 `json:"sourceId,omitempty"`
}

// InvoiceRow is an invoice with its customer and what has been paid on it.
type InvoiceRow struct {
	store.Invoice
	Customer             string
	CustomerCode         string
	Paid, Credited, Left money.Amount
	Settled              bool
	CreditOn             string // the number of the invoice that it is a credit note on
}

// Invoice shows a draft or an issued invoice.
func Invoice(ctx context.Context, b *book.Book, actor book.Actor, invoiceID int64) (InvoiceView, error) {
	return book.Read(ctx, b, actor, book.Bill, func(s *book.Session) (InvoiceView, error) { return WithOffered(s, invoiceID) })
}

// Marked is an invoice with the picture of its mark, for paper.
func Marked(ctx context.Context, b *book.Book, actor book.Actor, v InvoiceView) (InvoiceView, error) {
	if v.CompanyLogo == "" {
		return v, nil
	}
	return book.Read(ctx, b, actor, book.Bill, func(s *book.Session) (InvoiceView, error) { return WithMark(s, v) })
}

// WithMark is [Marked] within a use case.
func WithMark(s *book.Session, v InvoiceView) (InvoiceView, error) {
	data, err := store.Query[[]byte](s.Tx, "SELECT data FROM logos WHERE sha256 = ?", v.CompanyLogo)
	if len(data) > 0 {
		v.Mark = data[0]
	}
	return v, err
}

// InvoiceByNumber shows an issued invoice by its number, prefix and all.
func InvoiceByNumber(ctx context.Context, b *book.Book, actor book.Actor, number string) (InvoiceView, error) {
	return book.Read(ctx, b, actor, book.Bill, func(s *book.Session) (view InvoiceView, _ error) {
		ids, err := store.Query[int64](s.Tx, "SELECT id FROM invoices WHERE status = 'issued' AND prefix || number = ?", number)
		if err != nil {
			return view, err
		}
		if len(ids) == 0 {
			return view, refuse.NotFound("invoice as " + number)
		}
		view, err = View(s, ids[0])
		return view, err
	})
}

// View shows an invoice or a draft as a paper.
func View(s *book.Session, invoiceID int64) (InvoiceView, error) {
	rows, err := store.Query[InvoiceRow](s.Tx, InvoiceRows+" WHERE i.id = ?", invoiceID)
	if err != nil {
		return InvoiceView{}, err
	}
	if len(rows) == 0 {
		return InvoiceView{}, refuse.NotFound("invoice")
	}
	i := rows[0]
	v := headView(s, i)
	if err := paperLines(s, &v, i.Printed); err != nil {
		return v, err
	}
	type tax struct {
		store.InvoiceTax
		Deposit string
	}
	taxes, err := store.Query[tax](s.Tx, taxesOfInvoice, invoiceID)
	if err != nil {
		return v, err
	}
	for _, t := range taxes {
		label := fmt.Sprintf("%s %s %% of %s", t.Component, t.Percent, s.Money(i.Printed(t.Base)))
		if t.DepositID != nil {
			label = fmt.Sprintf("Less %s %s %% charged on %s of deposit %s", t.Component, t.Percent, s.Money(-t.Base), t.Deposit)
		}
		v.Taxes = append(v.Taxes, PaperTax{
			Label:     label,
			Component: t.Component, Percent: t.Percent.String(), Base: s.Money(i.Printed(t.Base)), Amount: s.Money(i.Printed(t.Amount)),
			Code: t.TaxCode, AppliesTo: t.AppliesTo, Scheme: t.Scheme, OfDeposit: t.Deposit,
		})
	}
	if v.Typed, err = typedOn(s, invoiceID); err != nil {
		return v, err
	}
	if v.Jobs, err = store.Query[string](s.Tx, numbersOfJobs, invoiceID); err != nil {
		return v, err
	}
	if err := releases(s, &v); err != nil {
		return v, err
	}
	if err := remit(s, &v, i); err != nil {
		return v, err
	}
	if err := stands(s, &v); err != nil {
		return v, err
	}
	if err := credited(s, &v); err != nil {
		return v, err
	}
	if err := deposits(s, &v, i); err != nil {
		return v, err
	}
	if err := received(s, &v, i); err != nil {
		return v, err
	}
	if err := eInvoice(s, &v, i); err != nil {
		return v, err
	}
	if i.Status == store.Draft {
		later, err := store.Query[string](s.Tx, laterIssued, i.Date)
		if err != nil {
			return v, err
		}
		v.DatedBefore = strings.Join(later, "")
	}
	v.Unprintable = v.unprintable()
	err = paperSources(s, &v)
	return v, err
}

// headView is what stands around the lines of an invoice. Of a credit note all amounts are above 0.
func headView(s *book.Session, i InvoiceRow) InvoiceView {
	printed := func(a money.Amount) string { return s.Money(i.Printed(a)) }
	v := InvoiceView{
		ID: i.ID, Version: i.Version, Status: i.Status, CreditOn: i.CreditOn, Number: i.NumberText(), Date: i.Date.String(),
		Due: i.Due.String(), Title: i.Title, CustomerID: i.CustomerID, Grouping: i.Grouping, ShowRates: i.ShowRates, Currency: i.Currency,
		CompanyName: i.CompanyName, CompanyAddress: i.CompanyAddress, CompanyEmail: i.CompanyEmail,
		CompanyPhone: i.CompanyPhone, CompanyCountry: i.CompanyCountry, Licence: i.Licence, Accent: i.Accent, PaperSize: i.PaperSize,
		Account: i.Account, BankCode: i.BankCode, Payee: payee(i), CustomerCode: i.CustomerCode,
		CompanyTax: i.CompanyTaxNumber, CompanyLogo: store.Text(i.CompanyLogo),
		CustomerName: i.CustomerName, CustomerAddress: i.CustomerAddress,
		OrderNumber: i.OrderNumber, Opening: i.Opening, Closing: i.Closing,
		Subtotal: printed(i.Subtotal), Tax: printed(i.Tax), Total: printed(i.Total),
		Retainage: printed(i.Retainage), HasRetainage: i.Retainage != 0, DueNow: printed(i.DueNow), Paid: s.Money(i.Paid),
		Balance: s.Money(i.Left), Credited: orBlank(s, i.Credited), Prepaid: orBlank(s, i.Prepaid),
	}
	if i.Status == store.Draft {
		v.Balance = v.DueNow
	}
	if i.TaxNotes != "" {
		v.TaxNotes = strings.Split(i.TaxNotes, "\n")
	}
	return v
}

// unprintable are the texts of an invoice with characters that the face of papers lacks.
func (v *InvoiceView) unprintable() []string {
	texts := append([]string{
		v.CompanyName, v.CompanyAddress, v.CompanyEmail, v.CompanyPhone, v.CompanyTax, v.Licence, v.CustomerName, v.CustomerAddress,
		v.Title, v.OrderNumber, v.Opening, v.Closing,
	}, v.TaxNotes...)
	for _, fact := range v.HowToPay {
		texts = append(texts, fact.Text)
	}
	for _, place := range v.Places {
		texts = append(texts, place.Job, place.Order, place.Site)
	}
	for _, part := range v.Sections {
		texts = append(texts, part.Title)
		for _, l := range part.Lines {
			texts = append(texts, l.Text, l.Unit)
		}
	}
	for _, tax := range v.Taxes {
		texts = append(texts, tax.Label)
	}
	var found []string
	for _, text := range texts {
		if len(face.Missing(text)) > 0 && !slices.Contains(found, words.Shortened(text)) {
			found = append(found, words.Shortened(text))
		}
	}
	return found
}

func paperLines(s *book.Session, v *InvoiceView, printed func(money.Amount) money.Amount) error {
	type line struct {
		store.InvoiceLine
		JobNumber, JobName string
	}
	lines, err := store.Query[line](s.Tx, linesOfInvoice, v.ID)
	if err != nil {
		return err
	}
	jobs := map[int64]bool{}
	for _, l := range lines {
		jobs[l.JobID] = true
	}
	codeOf, err := register.UnitCodes(s)
	if err != nil {
		return err
	}
	sum, last := money.Amount(0), ""
	for i, l := range lines {
		title := drafting.CategoryTitle(s, l.Category)
		if len(jobs) > 1 {
			title = l.JobNumber + " " + l.JobName + ": " + title
		}
		if i == 0 || title != last {
			v.Sections = append(v.Sections, PaperPart{
				Title: title, Job: l.JobNumber + " " + l.JobName, Kind: drafting.CategoryTitle(s, l.Category),
				jobID: l.JobID, category: l.Category,
			})
			sum, last = 0, title
		}
		section := &v.Sections[len(v.Sections)-1]
		sum += printed(l.Amount)
		section.Amount = s.Money(sum)
		paper := PaperLine{Text: l.Text, Amount: s.Money(printed(l.Amount))}
		switch {
		case l.Category == billing.Labour && l.Minutes != 0:
			paper.Quantity, paper.Unit = l.Minutes.Hours(), "h"
		case l.Quantity != 0 && l.Category != "":
			paper.Quantity, paper.Unit = l.Quantity.String(), l.Unit
		}
		if l.Category != billing.Labour && l.Text == l.Category {
			paper.Text = drafting.CategoryTitle(s, l.Category)
		}
		if l.Rate != 0 {
			paper.Rate = s.Currency.FormatRate(l.Rate)
		}
		paper.UnitCode = codeOf(paper.Unit)
		section.Lines = append(section.Lines, paper)
	}
	return nil
}

// costOf is what the work on an invoice cost: of a part of it the same part of its cost.
func costOf(s *book.Session, invoiceID int64) (money.Amount, error) {
	type part struct{ Cost, Charge, Amount, Before money.Amount }
	parts, err := store.Query[part](s.Tx, costOfParts, map[string]any{"invoice": invoiceID})
	if err != nil {
		return 0, err
	}
	var total money.Amount
	for _, p := range parts {
		cost, err := billing.CostOfPart(p.Cost, p.Charge, p.Before, p.Amount)
		if err != nil {
			return 0, err
		}
		total += cost
	}
	return total, nil
}

func paperSources(s *book.Session, v *InvoiceView) error {
	sources, err := drafting.SourcesOf(s, store.Invoice{ID: v.ID, Status: v.Status})
	if err != nil {
		return err
	}
	cost, err := costOf(s, v.ID)
	if err != nil {
		return err
	}
	v.Cost = s.Money(cost)
	down, err := stillDown(s, v.ID)
	if err != nil {
		return err
	}
	var minutes money.Minutes
	for _, src := range sources {
		p := paperSource(s, src)
		if v.Status == store.Draft {
			p.chosen(s, src)
		} else if left := down[src.SourceID]; left != 0 {
			p.Down, p.Reason, p.SourceID = s.Money(left), src.Reason, src.SourceID
		}
		minutes += src.Minutes
		v.Sources = append(v.Sources, p)
	}
	v.Hours = minutes.Hours()
	return nil
}

// stillDown is what an issued invoice wrote down of its sources and was not taken back.
func stillDown(s *book.Session, invoiceID int64) (map[int64]money.Amount, error) {
	type row struct {
		SourceID int64
		Left     money.Amount
	}
	rows, err := store.Query[row](s.Tx, `SELECT source_id, "left" FROM written_down WHERE invoice_id = ?`, invoiceID)
	down := make(map[int64]money.Amount, len(rows))
	for _, r := range rows {
		down[r.SourceID] = r.Left
	}
	return down, err
}

// releases shows what an invoice releases of each job.
func releases(s *book.Session, v *InvoiceView) error {
	type row struct {
		Number, Name string
		Amount       money.Amount
	}
	rows, err := store.Query[row](s.Tx, releaseRows, v.ID)
	if err != nil || len(rows) == 0 {
		return err
	}
	v.Release = true
	part, sum := PaperPart{Title: "Retainage released"}, money.Amount(0)
	for _, r := range rows {
		if r.Amount < 0 {
			part.Title, r.Amount = "Retainage held again", -r.Amount
		}
		sum += r.Amount
		part.Lines = append(part.Lines, PaperLine{Text: r.Number + " " + r.Name, Amount: s.Money(r.Amount)})
	}
	part.Amount = s.Money(sum)
	v.Sections = append(v.Sections, part)
	return nil
}

func paperSource(s *book.Session, src drafting.DraftSource) PaperSource {
	p := PaperSource{
		Kind: line, ID: src.CostLineID, Category: src.Category, Text: src.Text, Detail: src.JobNumber + " " + src.JobName,
		Date: src.Date.String(), Amount: s.Money(src.Amount), Way: string(src.Way),
	}
	switch {
	case src.EntryID != 0:
		p.Kind, p.ID, p.Detail = hours, src.EntryID, src.Trade
		if src.Minutes != 0 {
			p.Quantity = src.Minutes.Hours() + " h"
		}
	case src.Quantity != 0:
		p.Quantity = src.Quantity.String() + " " + src.Unit
	}
	return p
}
