package exchange

import (
	"strconv"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/drafting"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// invoices takes invoices out. An issued invoice is taken out whole; of a draft only what it holds, since the rest of
// it follows from that.
func (x *exporter) invoices() error {
	for _, step := range []func() error{
		x.invoiceHeads, x.typedLines, x.invoiceLines, x.invoiceTaxes, x.invoiceParties, x.invoiceSources, x.releases, x.appliedDeposits,
		x.credits, x.writeBacks,
		x.billedHours, x.billedLines, x.payments, x.bankLines,
	} {
		if err := step(); err != nil {
			return err
		}
	}
	return nil
}

func (x *exporter) invoiceHeads() error {
	type row struct {
		store.Invoice
		Ref, Customer, LogoMedia, CreditOn string
	}
	rows, err := store.Query[row](x.Tx, invoiceRefs+invoiceHeadRows)
	for _, i := range rows {
		number, issued := "", ""
		if i.Number != nil {
			number, issued = strconv.FormatInt(*i.Number, 10), book.TimeText(*i.IssuedAt)
		}
		x.add("invoices.csv", i.Ref, i.Status, i.Prefix, number, i.Customer, i.Date.String(), i.Due.String(), i.Grouping, i.Title,
			i.CompanyName, i.CompanyAddress, i.CompanyEmail, i.CustomerName,
			i.CustomerAddress, x.Money(i.Subtotal), x.Money(i.Tax), x.Money(i.Retainage), x.Money(i.Total), x.Money(i.DueNow), issued,
			i.CompanyTaxNumber, logoFile(i.LogoMedia, i.CompanyLogo), i.TaxNotes,
			i.OrderNumber, i.Opening, i.Closing, i.CreditOn, x.Money(i.Prepaid), yesNo(i.ShowRates), i.CompanyPhone,
			i.CompanyCountry, i.Licence, i.Payee, i.Bank, i.Account, i.BankCode, i.PayNote, i.PaperSize, i.Accent, i.Reference)
	}
	return err
}

func (x *exporter) invoiceLines() error {
	type line struct {
		store.InvoiceLine
		Ref, Job string
		Typed    int
	}
	lines, err := store.Query[line](x.Tx, invoiceRefs+invoiceLineRows)
	for _, l := range lines {
		x.add(
			"invoice_lines.csv", l.Ref, strconv.Itoa(l.Position), l.Job, l.Category, l.Text, strconv.FormatInt(int64(l.Minutes), 10),
			l.Quantity.String(), l.Unit, x.Money(l.Amount), strconv.Itoa(l.Typed), x.Currency.FormatRate(l.Rate),
		)
	}
	return err
}

func (x *exporter) typedLines() error {
	type line struct {
		store.TypedLine
		Ref, Job, Phase          string
		OfSchedule, OfInstalment int
	}
	lines, err := store.Query[line](x.Tx, invoiceRefs+typedLineRows)
	for _, l := range lines {
		complete := ""
		if l.Complete != nil {
			complete = l.Complete.String()
		}
		x.add("typed_lines.csv", l.Ref, strconv.Itoa(l.Position), l.Kind, l.Job, l.Phase, l.Category, l.Text, l.Quantity.String(), l.Unit,
			l.Percent.String(), x.Money(l.Amount), strconv.Itoa(l.OfSchedule), strconv.Itoa(l.OfInstalment), complete, x.Money(l.Stored),
			yesNo(l.Beyond))
	}
	return err
}

func (x *exporter) invoiceTaxes() error {
	type tax struct {
		store.InvoiceTax
		Ref, Deposit string
	}
	taxes, err := store.Query[tax](x.Tx, invoiceRefs+invoiceTaxRows)
	if err != nil {
		return err
	}
	for _, t := range taxes {
		x.add(
			"invoice_taxes.csv", t.Ref, strconv.Itoa(t.Position), t.TaxCode, t.Component, t.Percent.String(), x.Money(t.Base), x.Money(t.Amount),
			t.AppliesTo, yesNo(t.OnRelease), t.Deposit, t.Scheme,
		)
	}
	type share struct {
		store.InvoiceJob
		Ref, Job string
	}
	shares, err := store.Query[share](x.Tx, invoiceRefs+invoiceJobRows)
	for _, s := range shares {
		x.add("invoice_jobs.csv", s.Ref, s.Job, x.Money(s.Subtotal), s.RetainagePercent.String(), x.Money(s.Retainage), s.TaxCode,
			x.Maybe(s.Contract), x.Maybe(s.BilledToDate), x.Maybe(s.HeldToDate), s.Site, s.TaxKind, s.TaxNote, s.OrderNumber)
	}
	return err
}

// invoiceParties are who issued invoices are from and to.
func (x *exporter) invoiceParties() error {
	parties, err := store.Query[struct {
		store.InvoiceParty
		Ref string
	}](x.Tx, invoiceRefs+invoicePartyRows)
	for _, p := range parties {
		x.add("invoice_parties.csv", p.Ref, p.Side, p.Street, p.PostCode, p.City, p.Region, p.Country, p.TaxNumber, p.Email, p.Registration,
			p.Endpoint, p.EndpointScheme)
	}
	return err
}

func (x *exporter) invoiceSources() error {
	type source struct {
		Ref, Entry, Document, Line string
		Position                   *int
		Part                       int
		Charge, Amount             money.Amount
		drafting.Chosen
		Idle bool
	}
	sources, err := store.Query[source](x.Tx, invoiceRefs+invoiceSourceRows)
	for _, s := range sources {
		position := ""
		if s.Position != nil {
			position = strconv.Itoa(*s.Position)
		}
		x.add(
			"invoice_sources.csv", s.Ref, s.Entry, s.Document, s.Line, position, x.Money(s.Charge), x.Money(s.Amount), strconv.Itoa(s.Part),
			string(s.Way), strconv.FormatInt(s.Typed, 10), s.Runs, x.Money(s.Up), x.Money(s.Down), yesNo(s.AllDown), s.Reason,
			yesNo(s.Idle),
		)
	}
	return err
}

// releases are what invoices release of retainage: of each job all of it, and from which invoices.
func (x *exporter) releases() error {
	type release struct {
		Ref, Job, FromRef string
		Amount            money.Amount
	}
	releases, err := store.Query[release](x.Tx, invoiceRefs+releaseRows)
	for _, r := range releases {
		x.add("releases.csv", r.Ref, r.Job, r.FromRef, x.Money(r.Amount))
	}
	return err
}

// appliedDeposits are what of deposits is applied to invoices and drafts.
func (x *exporter) appliedDeposits() error {
	type applied struct {
		Ref, Deposit string
		Amount       money.Amount
	}
	rows, err := store.Query[applied](x.Tx, invoiceRefs+appliedDepositRows)
	for _, r := range rows {
		x.add("applied_deposits.csv", r.Ref, r.Deposit, x.Money(r.Amount))
	}
	return err
}

// credits are what credit notes credit.
func (x *exporter) credits() error {
	type credit struct {
		store.Credit
		Ref, Entry, Document, Line string
		Part, LinePosition         int
	}
	credits, err := store.Query[credit](x.Tx, invoiceRefs+creditRows)
	for _, c := range credits {
		becomes := billing.Becomes[1]
		if c.Again {
			becomes = billing.Becomes[0]
		}
		x.add("credits.csv", c.Ref, c.Entry, c.Document, c.Line, strconv.Itoa(c.Part), strconv.Itoa(c.LinePosition), strconv.Itoa(c.Position),
			x.Money(c.Amount), x.Money(c.Up), becomes, c.Reason)
	}
	return err
}

// writeBacks are what was taken back of write-downs.
func (x *exporter) writeBacks() error {
	type back struct {
		store.WriteBack
		Ref, Entry, Document, Line string
		Part, Nth                  int
	}
	backs, err := store.Query[back](x.Tx, invoiceRefs+writeBackRows)
	for _, b := range backs {
		x.add("write_backs.csv", b.Ref, b.Entry, b.Document, b.Line, strconv.Itoa(b.Part), strconv.Itoa(b.Nth), b.Date.String(),
			x.Money(b.Amount), b.Note)
	}
	return err
}

// billedHours are the segments that billed entries keep, whatever has changed since.
func (x *exporter) billedHours() error {
	type segment struct {
		store.LabourSegment
		Entry string
	}
	segments, err := store.Query[segment](x.Tx, billedSegments)
	for _, s := range segments {
		x.add(
			"labour_segments.csv", s.Entry, s.Class.String(), strconv.FormatInt(int64(s.Minutes), 10), x.Money(s.Straight), x.Money(s.Gross),
			x.Money(s.Burden), x.Maybe(s.Cost), x.Maybe(s.Charge),
		)
	}
	return err
}

// billedLines is what billed cost lines keep.
func (x *exporter) billedLines() error {
	type line struct {
		store.CostLine
		Document string
	}
	lines, err := store.Query[line](x.Tx, frozenLines)
	for _, l := range lines {
		x.add("landed_costs.csv", l.Document, l.Line, x.Money(l.Base), x.Money(l.Freight), x.Money(l.Tax), x.Maybe(l.Charge))
	}
	return err
}

func (x *exporter) payments() error {
	type payment struct {
		store.Payment
		Customer string
	}
	payments, err := store.Query[payment](x.Tx, paymentRows)
	if err != nil {
		return err
	}
	for _, p := range payments {
		x.add("payments.csv", p.Ref, p.Customer, p.Date.String(), x.Money(p.Amount), p.Note, p.Method, p.Reference, store.Text(p.TakenBack),
			p.Kind, dayText(p.TakenBackOn))
	}
	type allocation struct {
		Payment, Invoice string
		Entry            int64
		Amount           money.Amount
		Date             *calendar.Date
	}
	allocations, err := store.Query[allocation](x.Tx, allocationRows)
	for _, a := range allocations {
		x.add("payment_allocations.csv", a.Payment, a.Invoice, strconv.FormatInt(a.Entry, 10), x.Money(a.Amount), dayText(a.Date))
	}
	return err
}

// bankLines are what the bank told.
func (x *exporter) bankLines() error {
	type line struct {
		store.BankLine
		Payment string
	}
	lines, err := store.Query[line](x.Tx, bankRows)
	for _, l := range lines {
		x.add("bank_lines.csv", l.Ref, l.Account, l.Date.String(), x.Money(l.Amount), l.Name, l.Text, l.BankRef, l.Payment, l.Aside)
	}
	return err
}

// classOf is the pay class with a name.
func classOf(name string) (worktime.Class, bool) {
	for _, c := range worktime.Classes {
		if c.String() == name {
			return c, true
		}
	}
	return 0, false
}
