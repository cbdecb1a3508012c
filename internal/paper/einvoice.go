package paper

import (
	"cmp"
	"context"
	"math/big"
	"net/mail"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/tape"
	"jarvo/internal/core/iban"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// The categories of tax by UNCL 5305.
const (
	taxStandard = "S"
	taxZero     = "Z"
	taxExempt   = "E"
	taxReverse  = "AE"
	taxOutside  = "O"
)

// eInvoice is an invoice on its way to be an e-invoice.
type eInvoice struct {
	v       billing.InvoiceView
	strict  bool // by EN 16931
	missing []string
	parts   []*taxedPart
	untaxed string // the category of what has no tax
}

// taxedPart is what is taxed in one way.
type taxedPart struct {
	category ublCategory
	base     plainSum // of its lines
	taxable  plainSum // that tax was worked out on
	tax      plainSum
}

// InvoiceUBL is an issued invoice or credit note in plain UBL 2.1, whose taxes may be several on a line. What is payable is the whole
// invoice; a retainage is a part of it with terms of its own.
func InvoiceUBL(_ context.Context, v billing.InvoiceView, _ []tape.Backup) ([]byte, error) {
	return writeEInvoice(&eInvoice{v: v})
}

// InvoiceEN is an issued invoice or credit note by EN 16931, in the syntax of UBL 2.1. Where something is missing that the standard asks
// for it says what, and where it is typed.
func InvoiceEN(_ context.Context, v billing.InvoiceView, _ []tape.Backup) ([]byte, error) {
	return writeEInvoice(&eInvoice{v: v, strict: true})
}

func writeEInvoice(e *eInvoice) ([]byte, error) {
	switch {
	case e.v.Status != store.Issued:
		return nil, refuse.Conflict("an e-invoice is made of what is issued; issue the draft first")
	case e.v.Release:
		return nil, refuse.Conflict("what is released was on the e-invoice of its invoice already; send the PDF of the release")
	case e.strict && money.CurrencyOf(e.v.Currency).Digits != 2 && money.CurrencyOf(e.v.Currency).Digits != 0:
		return nil, refuse.Conflict("EN 16931 has two decimals, and %s has three; use plain UBL", e.v.Currency)
	}
	u := e.head()
	if err := e.lines(&u); err != nil {
		return nil, err
	}
	if err := e.taxes(&u); err != nil {
		return nil, err
	}
	if e.strict && slices.ContainsFunc(e.parts, func(p *taxedPart) bool { return p.category.ID == taxOutside }) {
		u.Customer.Tax = nil // BR-O-02
	}
	e.need()
	if len(e.missing) > 0 {
		return nil, refuse.Conflict("EN 16931 asks for what is missing: %s", strings.Join(e.missing, "; "))
	}
	return u.write()
}

func (e *eInvoice) money(plain string) ublAmount { return ublAmount{e.v.Currency, plain} }

// head is all that stands before the taxes and lines.
func (e *eInvoice) head() ublDocument {
	v := e.v
	u := ublDocument{
		CAC: ublNames + "CommonAggregateComponents-2", CBC: ublNames + "CommonBasicComponents-2", Version: "2.1",
		ID: v.Number, Issued: v.Date, Notes: notesOf(v), Currency: v.Currency, Reference: v.Reference,
		Supplier: e.supplier(), Customer: e.customer(), Period: periodOf(v), Delivery: e.delivery(),
	}
	if v.OrderNumber != "" {
		u.Order = &ublID{v.OrderNumber}
	}
	if e.strict {
		u.Version, u.Customization, u.Profile = "", "urn:cen.eu:en16931:2017", "urn:fdc:peppol.eu:2017:poacc:billing:01:1.0"
		if len(u.Notes) > 1 {
			u.Notes = []string{strings.Join(u.Notes, "\n")}
		}
	}
	if v.CreditOn != "" {
		u.XMLName.Space, u.XMLName.Local, u.NoteType = ublNames+"CreditNote-2", "CreditNote", "381"
		u.Credited = &ublID{v.CreditOn}
		return u
	}
	u.XMLName.Space, u.XMLName.Local, u.InvoiceType, u.Due = ublNames+"Invoice-2", "Invoice", "380", v.Due
	if v.IsDeposit {
		u.InvoiceType = "386" // asked for before the work
	}
	u.Means, u.Terms = e.means(), e.terms()
	return u
}

// periodOf is when the work of an invoice was done.
func periodOf(v billing.InvoiceView) *ublPeriod {
	var p ublPeriod
	for _, place := range v.Places {
		if place.From != "" {
			p.From, p.Through = min(cmp.Or(p.From, place.From), place.From), max(p.Through, place.Through)
		}
	}
	if p.From == "" {
		return nil
	}
	return &p
}

// delivery is where the work was, if it was in one place.
func (e *eInvoice) delivery() *ublDelivery {
	if len(e.v.Places) != 1 || e.v.Places[0].Site == "" {
		return nil
	}
	d := &ublDelivery{Address: ublAddressOf(e.v.Places[0].Site, "", "", "", e.v.Seller.Country)}
	if e.v.CreditOn == "" {
		d.Date = e.v.Places[0].Through
	}
	return d
}

var notOfANumber = strings.NewReplacer(" ", "", ".", "", "-", "")

// vatNumber is a tax number as EN 16931 has it, where it begins with the code of its country (BR-CO-09).
func vatNumber(text string) (string, bool) {
	number := strings.ToUpper(notOfANumber.Replace(text))
	return number, regexp.MustCompile(`^[A-Z]{2}[0-9A-Z+*]{2,}$`).MatchString(number) && strings.ContainsFunc(number, unicode.IsDigit)
}

func (e *eInvoice) party(p store.InvoiceParty, name, phone string, email string) ublParty {
	address := ublAddressOf(p.Street, p.PostCode, p.City, p.Region, p.Country)
	out := ublParty{Name: name, Address: &address, Legal: ublLegal{name, p.Registration}}
	switch {
	case p.Endpoint != "":
		out.Endpoint = &ublScheme{p.EndpointScheme, p.Endpoint}
	case email != "":
		out.Endpoint = &ublScheme{"EM", email}
	}
	if number, isVAT := vatNumber(p.TaxNumber); isVAT {
		out.Tax = []ublPartyTax{{number, ublTaxScheme{ID: ublScheme{Value: "VAT"}}}}
	} else if p.TaxNumber != "" && (!e.strict || p.Side == store.Seller) {
		out.Tax = []ublPartyTax{{p.TaxNumber, ublTaxScheme{ID: ublScheme{Value: "TAX"}}}}
	}
	if phone != "" || email != "" {
		out.Contact = &ublContact{phone, email}
	}
	return out
}

func (e *eInvoice) supplier() ublParty {
	p := e.v.Seller
	if p.Side == "" { // it was issued before the parts were kept
		p = store.InvoiceParty{Street: e.v.CompanyAddress, Country: e.v.CompanyCountry, TaxNumber: e.v.CompanyTax, Side: store.Seller}
	}
	return e.party(p, e.v.CompanyName, e.v.CompanyPhone, e.v.CompanyEmail)
}

func (e *eInvoice) customer() ublParty {
	p := e.v.Buyer
	if p.Side == "" {
		p = store.InvoiceParty{Street: e.v.CustomerAddress, Side: store.Buyer}
	}
	email := ""
	if list, err := mail.ParseAddressList(strings.NewReplacer(";", ",").Replace(p.Email)); err == nil {
		email = list[0].Address
	}
	return e.party(p, e.v.CustomerName, "", email)
}

// means are how it is paid: into the account, by credit transfer, of euros to an IBAN by that of SEPA (UNCL 4461).
func (e *eInvoice) means() *ublMeans {
	if e.v.Account == "" {
		return nil
	}
	m := &ublMeans{Code: "30", Reference: e.v.Number, Account: ublAccount{ID: e.v.Account, Name: e.v.Payee}}
	if compact := strings.ReplaceAll(e.v.Account, " ", ""); iban.Is(compact) {
		m.Account.ID = compact
		if e.v.Currency == "EUR" {
			m.Code = "58"
		}
	}
	if e.v.BankCode != "" {
		m.Account.Branch = &ublID{strings.ReplaceAll(e.v.BankCode, " ", "")}
	}
	return m
}

// terms say when what is due. EN 16931 has one note for all of it.
func (e *eInvoice) terms() []ublTerms {
	v := e.v
	if e.strict {
		note := v.Terms
		if v.HasRetainage {
			note += "; " + v.Retainage + " " + v.Currency + " is retained, and due when it is released"
		}
		return []ublTerms{{Note: note}}
	}
	due := e.money(v.DueNow)
	terms := []ublTerms{{"due now", &due, v.Due}}
	if v.HasRetainage {
		retained := e.money(v.Retainage)
		terms = append(terms, ublTerms{Note: "retainage, due when it is released", Amount: &retained})
	}
	return terms
}

// lines writes the lines, and adds up what is taxed in which way. A deposit that is applied is a line of its own, which takes off.
func (e *eInvoice) lines(u *ublDocument) error {
	e.untaxed = taxOutside
	if _, isVAT := vatNumber(e.v.Seller.TaxNumber); isVAT || len(e.v.Taxes) > 0 || slices.ContainsFunc(e.v.Sections, coded) {
		e.untaxed = taxExempt
	}
	var sum plainSum
	add := func(l ublLine) {
		l.ID = strconv.Itoa(len(u.InvoiceLines) + len(u.NoteLines) + 1)
		sum.add(l.Amount.Value)
		if e.v.CreditOn != "" {
			u.NoteLines = append(u.NoteLines, ublCreditLine(l))
			return
		}
		u.InvoiceLines = append(u.InvoiceLines, l)
	}
	for _, part := range e.v.Sections {
		categories := e.categoriesOf(part.Taxed)
		if e.strict && len(categories) > 1 {
			return refuse.Conflict("%s is taxed by several taxes, and EN 16931 has one a line; use plain UBL", part.Title)
		}
		for _, l := range part.Lines {
			line := e.line(l, cmp.Or(l.Text, part.Kind), categories)
			line.Note = part.Title
			if e.strict {
				line.Note = ""
			}
			e.count(categories, l.Amount)
			add(line)
		}
	}
	for _, d := range e.v.Deposits {
		if d.Here == "" || e.v.IsDeposit {
			continue
		}
		taxed := billing.Taxed{Kind: "standard"}
		for _, t := range e.v.Taxes {
			if t.OfDeposit == d.Number {
				taxed.By = append(taxed.By, t)
			}
		}
		categories := e.categoriesOf(taxed)
		if e.strict && len(categories) > 1 {
			return refuse.Conflict("deposit %s is taxed by several taxes, and EN 16931 has one a line; use plain UBL", d.Number)
		}
		off := billing.PaperLine{Text: "Less deposit " + d.Number, Amount: "-" + d.Here}
		e.count(categories, off.Amount)
		add(e.line(off, off.Text, categories))
	}
	u.Total = ublTotal{Lines: e.money(sum.String()), Exclusive: e.money(sum.String())}
	return nil
}

// coded says that a part has a tax code that taxes it in a way of its own.
func coded(p billing.PaperPart) bool { return p.Taxed.Kind != "" && p.Taxed.Kind != "standard" }

// categoriesOf is how lines are taxed: by each component that is on them, or in the one way of what has none.
func (e *eInvoice) categoriesOf(t billing.Taxed) []ublCategory {
	scheme := ublTaxScheme{ID: ublScheme{Value: "VAT"}}
	if !e.strict {
		scheme.ID = ublScheme{"UN/ECE 5153", schemeOf(e.v.Seller.Country)}
	}
	none := func(id, percent, reason string) []ublCategory {
		return []ublCategory{{ID: id, Percent: percent, Reason: cmp.Or(t.Note, reason), Scheme: scheme}}
	}
	switch t.Kind {
	case "zero":
		return []ublCategory{{ID: taxZero, Percent: "0", Scheme: scheme}}
	case "exempt":
		return none(taxExempt, "0", "Exempt from tax")
	case "reverse_charge":
		return none(taxReverse, "0", "Reverse charge")
	}
	var out []ublCategory
	for _, by := range t.By {
		c := ublCategory{ID: taxStandard, Percent: by.Percent, Scheme: scheme}
		if by.Percent == "0" {
			c.ID = taxZero
		}
		if !e.strict {
			c.Scheme.ID.Value = cmp.Or(by.Scheme, scheme.ID.Value)
			c.Scheme.Name = by.Component
		}
		if !slices.Contains(out, c) {
			out = append(out, c)
		}
	}
	if len(out) > 0 {
		return out
	}
	t.Note = "" // of a code that has components it says nothing of what is not taxed
	if e.untaxed == taxOutside {
		return none(taxOutside, "", "Not subject to tax")
	}
	return none(taxExempt, "0", "Not subject to this tax")
}

// schemeOf is what kind of tax is usual in a country, by UNCL 5153.
func schemeOf(country string) string {
	switch country {
	case "US":
		return "STT" // a state's tax on sales
	case "CA", "AU", "NZ", "IN", "SG":
		return "GST"
	}
	return "VAT"
}

// count adds an amount up under each way in which it is taxed.
func (e *eInvoice) count(categories []ublCategory, amount string) {
	for _, c := range categories {
		e.part(c).base.add(amount)
	}
}

// part is what is taxed in a way. It has one reason for all of what is not taxed, which says each.
func (e *eInvoice) part(c ublCategory) *taxedPart {
	for _, p := range e.parts {
		alike := p.category
		alike.Reason = c.Reason
		if alike != c {
			continue
		}
		if !slices.Contains(strings.Split(p.category.Reason, "; "), c.Reason) {
			p.category.Reason += "; " + c.Reason
		}
		return p
	}
	p := &taxedPart{category: c}
	e.parts = append(e.parts, p)
	return p
}

// line is a line with its sign in the quantity; its price is the rate where that gives the amount, else the amount for all of it.
func (e *eInvoice) line(l billing.PaperLine, name string, categories []ublCategory) ublLine {
	quantity, amount := new(big.Rat), new(big.Rat)
	if _, ok := quantity.SetString(l.Quantity); !ok || quantity.Sign() == 0 {
		quantity.SetInt64(1)
		l.Quantity = "1"
	}
	amount.SetString(l.Amount)
	unsigned := strings.TrimPrefix(l.Quantity, "-")
	quantity.Abs(quantity)
	out := ublLine{
		Quantity: ublQuantity{cmp.Or(l.UnitCode, "C62"), unsigned}, Amount: e.money(l.Amount), Item: ublItem{Name: name},
	}
	if amount.Sign() < 0 {
		out.Quantity.Value = "-" + unsigned
	}
	for _, c := range categories {
		c.Reason = ""
		out.Item.Taxed = append(out.Item.Taxed, c)
	}
	rate, ok := new(big.Rat).SetString(l.Rate)
	if ok && rate.Sign() >= 0 && new(big.Rat).Mul(rate, quantity).Cmp(new(big.Rat).Abs(amount)) == 0 {
		out.Price.Amount = e.money(l.Rate)
		return out
	}
	out.Price = ublPrice{e.money(strings.TrimPrefix(l.Amount, "-")), &ublQuantity{out.Quantity.Unit, unsigned}}
	return out
}

// taxes writes the taxes, one part for each way in which something is taxed, and what it all comes to.
func (e *eInvoice) taxes(u *ublDocument) error {
	for _, t := range e.v.Taxes {
		categories := e.categoriesOf(billing.Taxed{Kind: "standard", By: []billing.PaperTax{t}})
		e.part(categories[0]).tax.add(t.Amount)
		e.part(categories[0]).taxable.add(t.Base)
	}
	var sum plainSum
	sum.add(e.v.Tax)
	u.Tax.Amount = e.money(sum.String())
	for _, p := range e.parts {
		if e.strict && p.category.ID == taxStandard && p.base.value.Cmp(&p.taxable.value) != 0 {
			return refuse.Conflict("tax on what is retained is due when it is released, which EN 16931 can't say; use plain UBL")
		}
		base := p.base.String()
		if !e.strict && p.category.ID == taxStandard {
			base = p.taxable.String()
		}
		u.Tax.Parts = append(u.Tax.Parts, ublTaxPart{e.money(base), e.money(p.tax.in(e.v.Tax)), p.category})
	}
	inclusive := plainSum{}
	inclusive.add(u.Total.Lines.Value)
	inclusive.add(e.v.Tax)
	u.Total.Inclusive, u.Total.Payable = e.money(inclusive.String()), e.money(inclusive.String())
	return nil
}

// need notes what EN 16931 asks for and the invoice has not, with where it is typed.
func (e *eInvoice) need() {
	if !e.strict {
		return
	}
	lack := func(missing bool, what, where string) {
		if missing {
			e.missing = append(e.missing, what+" ("+where+")")
		}
	}
	const company, customers = "Setup, Company", "Setup, Customers"
	s, b := e.v.Seller, e.v.Buyer
	if s.Side == "" {
		e.missing = append(e.missing, "it was issued before Jarvo kept the addresses in parts; send its PDF, or plain UBL")
		return
	}
	_, sellerVAT := vatNumber(s.TaxNumber)
	_, buyerVAT := vatNumber(b.TaxNumber)
	charges := slices.ContainsFunc(e.parts, func(p *taxedPart) bool { return p.category.ID != taxOutside })
	reverse := slices.ContainsFunc(e.parts, func(p *taxedPart) bool { return p.category.ID == taxReverse })
	lack(s.Country == "", "the company's country", company)
	lack(s.City == "", "the company's city", company)
	lack(s.TaxNumber == "" && s.Registration == "", "the company's tax number, or its number in the register", company)
	lack(charges && s.TaxNumber == "" && s.Registration != "", "the company's tax number", company)
	lack(reverse && !sellerVAT, "a tax number of the company that begins with its country", company)
	lack(s.Endpoint == "" && e.v.CompanyEmail == "", "where e-invoices reach the company, or its e-mail", company)
	lack(b.Country == "", "the customer's country", customers)
	lack(b.City == "", "the customer's city", customers)
	lack(reverse && !buyerVAT && b.Registration == "", "the customer's tax number", customers)
	lack(b.Endpoint == "" && b.Email == "", "where e-invoices reach the customer, or their mail address", customers)
	lack(e.v.Reference == "" && e.v.OrderNumber == "", "the customer's reference", customers)
}
