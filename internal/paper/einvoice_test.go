package paper_test

import (
	"context"
	"encoding/xml"
	"fmt"
	"math/big"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/customers"
	"jarvo/internal/app/refuse"
	"jarvo/internal/paper"
	"jarvo/internal/store"
)

// element is an element of an e-invoice.
type element struct {
	XMLName xml.Name
	Attrs   []xml.Attr `xml:",any,attr"`
	Text    string     `xml:",chardata"`
	Kids    []element  `xml:",any"`
}

// all are the elements at a path below an element.
func (e element) all(path string) (found []element) {
	name, rest, more := strings.Cut(path, "/")
	for _, k := range e.Kids {
		if k.XMLName.Local != name {
			continue
		}
		if more {
			found = append(found, k.all(rest)...)
		} else {
			found = append(found, k)
		}
	}
	return found
}

// at is the text of the one element at a path; blank where there is none.
func (e element) at(path string) string {
	for _, found := range e.all(path) {
		return strings.TrimSpace(found.Text)
	}
	return ""
}

func (e element) number(t *testing.T, path string) *big.Rat {
	t.Helper()
	n, ok := new(big.Rat).SetString(e.at(path))
	require.True(t, ok, "%s is the number %q", path, e.at(path))
	return n
}

// The children of the elements that Jarvo writes, in the order of the UBL 2.1 schemas.
var order = map[string]string{
	"Invoice": "UBLVersionID CustomizationID ProfileID ID IssueDate DueDate InvoiceTypeCode Note DocumentCurrencyCode BuyerReference " +
		"InvoicePeriod OrderReference BillingReference AccountingSupplierParty AccountingCustomerParty Delivery PaymentMeans PaymentTerms " +
		"TaxTotal LegalMonetaryTotal InvoiceLine",
	"CreditNote": "UBLVersionID CustomizationID ProfileID ID IssueDate CreditNoteTypeCode Note DocumentCurrencyCode BuyerReference " +
		"InvoicePeriod OrderReference BillingReference AccountingSupplierParty AccountingCustomerParty Delivery PaymentMeans PaymentTerms " +
		"TaxTotal LegalMonetaryTotal CreditNoteLine",
	"InvoicePeriod": "StartDate EndDate", "Party": "EndpointID PartyName PostalAddress PartyTaxScheme PartyLegalEntity Contact",
	"PostalAddress":  "StreetName AdditionalStreetName CityName PostalZone CountrySubentity AddressLine Country",
	"PartyTaxScheme": "CompanyID TaxScheme", "PartyLegalEntity": "RegistrationName CompanyID", "Contact": "Telephone ElectronicMail",
	"Delivery": "ActualDeliveryDate DeliveryLocation", "PaymentMeans": "PaymentMeansCode PaymentID PayeeFinancialAccount",
	"PayeeFinancialAccount": "ID Name FinancialInstitutionBranch", "PaymentTerms": "Note Amount PaymentDueDate",
	"TaxTotal": "TaxAmount TaxSubtotal", "TaxSubtotal": "TaxableAmount TaxAmount TaxCategory",
	"TaxCategory": "ID Percent TaxExemptionReason TaxScheme", "ClassifiedTaxCategory": "ID Percent TaxScheme", "TaxScheme": "ID Name",
	"LegalMonetaryTotal": "LineExtensionAmount TaxExclusiveAmount TaxInclusiveAmount PayableAmount",
	"InvoiceLine":        "ID Note InvoicedQuantity LineExtensionAmount Item Price",
	"CreditNoteLine":     "ID Note CreditedQuantity LineExtensionAmount Item Price",
	"Item":               "Name ClassifiedTaxCategory", "Price": "PriceAmount BaseQuantity",
}

// inOrder checks the order of what stands below an element, and the currency and the decimals of its amounts.
func inOrder(t *testing.T, e element, currency string) {
	t.Helper()
	names := strings.Fields(order[e.XMLName.Local])
	last := 0
	for _, k := range e.Kids {
		if len(names) > 0 {
			at := slices.Index(names, k.XMLName.Local)
			assert.GreaterOrEqual(t, at, last, "%s in %s", k.XMLName.Local, e.XMLName.Local)
			last = at
		}
		for _, a := range k.Attrs {
			if a.Name.Local == "currencyID" {
				assert.Equal(t, currency, a.Value, k.XMLName.Local)
				_, fraction, _ := strings.Cut(k.Text, ".")
				assert.LessOrEqual(t, len(fraction), 4, "BR-DEC %s", k.XMLName.Local)
				if k.XMLName.Local != "PriceAmount" {
					assert.LessOrEqual(t, len(fraction), 2, "BR-DEC %s", k.XMLName.Local)
				}
			}
		}
		if len(k.Kids) == 0 {
			assert.NotEmpty(t, strings.TrimSpace(k.Text), "%s in %s is empty", k.XMLName.Local, e.XMLName.Local)
		}
		inOrder(t, k, currency)
	}
}

// byTheStandard checks an e-invoice by the rules of EN 16931 that can apply to it.
func byTheStandard(t *testing.T, data []byte) element {
	t.Helper()
	var e element
	require.NoError(t, xml.Unmarshal(data, &e))
	currency := e.at("DocumentCurrencyCode")
	inOrder(t, e, currency)
	note := e.XMLName.Local == "CreditNote"
	lines, quantity := e.all("InvoiceLine"), "InvoicedQuantity"
	if note {
		lines, quantity = e.all("CreditNoteLine"), "CreditedQuantity"
	}
	for rule, path := range map[string]string{
		"BR-01": "CustomizationID", "BR-02": "ID", "BR-03": "IssueDate", "BR-05": "DocumentCurrencyCode",
		"BR-06": "AccountingSupplierParty/Party/PartyLegalEntity/RegistrationName",
		"BR-07": "AccountingCustomerParty/Party/PartyLegalEntity/RegistrationName",
		"BR-09": "AccountingSupplierParty/Party/PostalAddress/Country/IdentificationCode",
		"BR-11": "AccountingCustomerParty/Party/PostalAddress/Country/IdentificationCode",
		"BR-12": "LegalMonetaryTotal/LineExtensionAmount", "BR-13": "LegalMonetaryTotal/TaxExclusiveAmount",
		"BR-14": "LegalMonetaryTotal/TaxInclusiveAmount", "BR-15": "LegalMonetaryTotal/PayableAmount",
		"BR-62": "AccountingSupplierParty/Party/EndpointID", "BR-63": "AccountingCustomerParty/Party/EndpointID",
	} {
		assert.NotEmpty(t, e.at(path), rule)
	}
	assert.NotEmpty(t, e.at("BuyerReference")+e.at("OrderReference/ID"), "a reference of the buyer")
	assert.Equal(t, note, e.at("CreditNoteTypeCode") == "381", "BR-04")
	if note {
		assert.NotEmpty(t, e.at("BillingReference/InvoiceDocumentReference/ID"), "BR-55")
	} else {
		assert.Contains(t, []string{"380", "386"}, e.at("InvoiceTypeCode"), "BR-04")
		assert.NotEmpty(t, e.at("DueDate")+e.at("PaymentTerms/Note"), "BR-CO-25")
	}
	assert.LessOrEqual(t, len(e.all("Note")), 1)
	assert.LessOrEqual(t, len(e.all("PaymentTerms")), 1)
	seller := e.all("AccountingSupplierParty/Party")[0]
	assert.NotEmpty(t, seller.at("PartyTaxScheme/CompanyID")+seller.at("PartyLegalEntity/CompanyID"), "BR-CO-26")
	for _, p := range append(e.all("AccountingSupplierParty/Party/PartyTaxScheme"), e.all("AccountingCustomerParty/Party/PartyTaxScheme")...) {
		if p.at("TaxScheme/ID") == "VAT" {
			assert.Regexp(t, `^[A-Z]{2}`, p.at("CompanyID"), "BR-CO-09")
		}
	}
	for range e.all("PaymentMeans") {
		assert.NotEmpty(t, e.at("PaymentMeans/PayeeFinancialAccount/ID"), "BR-50, BR-61")
	}
	for _, d := range e.all("Delivery/DeliveryLocation/Address") {
		assert.NotEmpty(t, d.at("Country/IdentificationCode"), "BR-57")
	}
	require.NotEmpty(t, lines, "BR-16")
	way := func(c element) string { return c.at("ID") + " " + c.at("Percent") }
	sum, bases, ids := new(big.Rat), map[string]*big.Rat{}, map[string]bool{}
	for _, l := range lines {
		for rule, path := range map[string]string{
			"BR-21": "ID", "BR-22": quantity, "BR-24": "LineExtensionAmount", "BR-25": "Item/Name", "BR-26": "Price/PriceAmount",
		} {
			assert.NotEmpty(t, l.at(path), rule)
		}
		assert.False(t, ids[l.at("ID")], "lines are told apart")
		ids[l.at("ID")] = true
		assert.Regexp(t, `^[A-Z0-9]{2,3}$`, l.all(quantity)[0].Attrs[0].Value, "BR-23")
		price, base, amount := l.number(t, "Price/PriceAmount"), big.NewRat(1, 1), l.number(t, "LineExtensionAmount")
		assert.GreaterOrEqual(t, price.Sign(), 0, "BR-27")
		if l.at("Price/BaseQuantity") != "" {
			base = l.number(t, "Price/BaseQuantity")
			assert.Positive(t, base.Sign())
		}
		comes := new(big.Rat).Mul(l.number(t, quantity), new(big.Rat).Quo(price, base))
		assert.Equal(t, amount.FloatString(2), comes.FloatString(2), "quantity x price")
		sum.Add(sum, amount)
		taxed := l.all("Item/ClassifiedTaxCategory")
		require.Len(t, taxed, 1, "BR-CO-04")
		if bases[way(taxed[0])] == nil {
			bases[way(taxed[0])] = new(big.Rat)
		}
		bases[way(taxed[0])].Add(bases[way(taxed[0])], amount)
	}
	total := func(path string) *big.Rat { return e.number(t, "LegalMonetaryTotal/"+path) }
	assert.Equal(t, sum.FloatString(2), total("LineExtensionAmount").FloatString(2), "BR-CO-10")
	assert.Equal(t, sum.FloatString(2), total("TaxExclusiveAmount").FloatString(2), "BR-CO-13")
	tax := e.number(t, "TaxTotal/TaxAmount")
	assert.Equal(t, new(big.Rat).Add(sum, tax).FloatString(2), total("TaxInclusiveAmount").FloatString(2), "BR-CO-15")
	assert.Equal(t, total("TaxInclusiveAmount"), total("PayableAmount"), "BR-CO-16")
	parts := e.all("TaxTotal/TaxSubtotal")
	assert.Len(t, parts, len(bases), "BR-CO-18: one part for each way in which lines are taxed")
	taxes := new(big.Rat)
	for _, p := range parts {
		c := p.all("TaxCategory")[0]
		base, amount := p.number(t, "TaxableAmount"), p.number(t, "TaxAmount")
		taxes.Add(taxes, amount)
		require.NotNil(t, bases[way(c)], "a part for %s, which no line has", way(c))
		assert.Equal(t, bases[way(c)].FloatString(2), base.FloatString(2), "BR-S-08 and its like, %s", way(c))
		assert.Equal(t, "VAT", c.at("TaxScheme/ID"))
		switch c.at("ID") {
		case "S":
			by := new(big.Rat).Mul(base, c.number(t, "Percent"))
			off := new(big.Rat).Sub(by.Quo(by, big.NewRat(100, 1)), amount)
			assert.LessOrEqual(t, off.Abs(off).Cmp(big.NewRat(1, 100)), 0, "BR-CO-17")
			assert.Empty(t, c.at("TaxExemptionReason"), "BR-S-10")
			assert.NotEmpty(t, seller.at("PartyTaxScheme/CompanyID"), "BR-S-02")
		case "Z":
			assert.Empty(t, c.at("TaxExemptionReason"), "BR-Z-10")
			assert.Zero(t, amount.Sign(), "BR-Z-09")
		case "E", "AE":
			assert.NotEmpty(t, c.at("TaxExemptionReason"), "BR-E-10, BR-AE-10")
			assert.Zero(t, amount.Sign(), "BR-E-09, BR-AE-09")
			assert.Equal(t, "0", c.at("Percent"), "BR-E-05, BR-AE-05")
			if c.at("ID") == "AE" {
				buyer := e.all("AccountingCustomerParty/Party")[0]
				assert.NotEmpty(t, buyer.at("PartyTaxScheme/CompanyID")+buyer.at("PartyLegalEntity/CompanyID"), "BR-AE-02")
			}
		case "O":
			assert.Len(t, parts, 1, "BR-O-11")
			assert.Empty(t, c.at("Percent"), "BR-O-05")
			assert.NotEmpty(t, c.at("TaxExemptionReason"), "BR-O-10")
			for _, p := range append(seller.all("PartyTaxScheme"), e.all("AccountingCustomerParty/Party/PartyTaxScheme")...) {
				assert.NotEqual(t, "VAT", p.at("TaxScheme/ID"), "BR-O-02")
			}
		default:
			t.Errorf("the category %q", c.at("ID"))
		}
	}
	assert.Equal(t, tax.FloatString(2), taxes.FloatString(2), "BR-CO-14")
	return e
}

// house is a German company whose customers are taxed in every way there is.
type house struct {
	*book.Book
	t    *testing.T
	keys int
}

func newHouse(t *testing.T, taxNumber string) *house {
	t.Helper()
	b := apptest.NewBook(t)
	require.NoError(t, apptest.Files{
		"settings.csv": "key,value\nnext_invoice_number,1001\ncompany_name,Kai & Söhne\nemail,post@kai.example\ncountry,DE\ncity,Brackwasser\n" +
			"post_code,26345\naddress,Am Kai 4\ncurrency,EUR\ntax_number," + taxNumber +
			"\naccount,DE89 3704 0044 0532 0130 00\nbank_code,COBADEFF\n",
		"tax_codes.csv": "code,component,percent,applies_to,kind,note,scheme\nVAT,VAT,19,labour material other deposit,standard,,\n" +
			"LOW,VAT,7,other,standard,,\nMATERIAL,VAT,19,material,standard,,\nZERO,,,,zero,,\nEX,,,,exempt,Exempt by § 4,\n" +
			"RC,,,,reverse_charge,Tax is owed by the customer,\nTWO,State,6.25,other,standard,,STT\nTWO,City,2,other,standard,,LOC\n",
		"customers.csv": "code,name,email,address,post_code,city,country,tax_number,reference\n" +
			"HERON,Heron Marina,pay@heron.example,1 Quay,80331,Reiherbucht,DE,DE811907980,04011-77\n",
		"jobs.csv": "number,customer,name,tax_code,retainage,site\n1,HERON,Standard,VAT,0,Steg 3\n2,HERON,Low,LOW,0,\n3,HERON,Zero,ZERO,0,\n" +
			"4,HERON,Exempt,EX,0,\n5,HERON,Reverse,RC,0,\n6,HERON,None,,0,\n7,HERON,Two,TWO,0,\n8,HERON,Held,VAT,10,\n9,HERON,Goods,MATERIAL,0,\n",
	}.BringInto(t, b))
	return &house{Book: b, t: t}
}

func (h *house) issue(lines ...billing.TypedLine) billing.InvoiceView {
	h.t.Helper()
	h.keys++
	v, err := billing.StartDraft(ctx, h.Book, book.Console, billing.NewDraft{
		Key: fmt.Sprintf("house-%06d", h.keys), Date: "2026-11-10", Lines: lines,
	})
	require.NoError(h.t, err)
	v, err = billing.Issue(ctx, h.Book, book.Console, v.ID, v.Version)
	require.NoError(h.t, err)
	return v
}

var ctx = context.Background()

func typed(job, category, amount string) billing.TypedLine {
	return billing.TypedLine{Kind: "line", Job: job, Category: category, Text: "Work on " + job, Amount: amount}
}

// Every way in which work is taxed, discounts, quantities, retainage, deposits and credit notes are written by the standard.
func TestEInvoicesAreWrittenByTheStandard(t *testing.T) {
	h := newHouse(t, "DE 123 456 789")
	written := func(v billing.InvoiceView) element {
		data, err := paper.InvoiceEN(t.Context(), v, nil)
		require.NoError(t, err)
		return byTheStandard(t, data)
	}
	boards := billing.TypedLine{Kind: "line", Job: "1", Category: "material", Text: "Boards", Quantity: "12.5", Unit: "m", Amount: "33.33"}
	off := billing.TypedLine{Kind: "discount", Text: "Less 3 %", Percent: "3"}
	first := h.issue(typed("1", "other", "1000.05"), boards, typed("2", "other", "99.99"), typed("2", "material", "10"),
		typed("3", "other", "50"), typed("4", "other", "60"), typed("6", "other", "7.77"), typed("9", "other", "5"), off)
	e := written(first)
	assert.Equal(t, []string{"1001", "380", "EUR", "04011-77", "58", "DE89370400440532013000"}, []string{
		e.at("ID"), e.at("InvoiceTypeCode"), e.at("DocumentCurrencyCode"), e.at("BuyerReference"), e.at("PaymentMeans/PaymentMeansCode"),
		e.at("PaymentMeans/PayeeFinancialAccount/ID"),
	})
	assert.Equal(t, first.Total, e.at("LegalMonetaryTotal/PayableAmount"))
	assert.Equal(t, "DE123456789", e.at("AccountingSupplierParty/Party/PartyTaxScheme/CompanyID"))

	held := h.issue(typed("8", "other", "400"))
	e = written(held)
	assert.Contains(t, e.at("PaymentTerms/Note"), "40.00 EUR is retained")
	assert.Equal(t, "Am Kai 4", e.at("AccountingSupplierParty/Party/PostalAddress/StreetName"))
	written(h.issue(typed("5", "other", "500")))

	deposit := h.issue(billing.TypedLine{Kind: "deposit", Job: "1", Text: "Deposit", Amount: "200"})
	assert.Equal(t, "386", written(deposit).at("InvoiceTypeCode"))
	draft, err := billing.StartDraft(ctx, h.Book, book.Console, billing.NewDraft{
		Key: "house-deposit", Date: "2026-11-12", Lines: []billing.TypedLine{typed("1", "other", "777.77")},
	})
	require.NoError(t, err)
	draft, err = billing.ApplyDeposits(ctx, h.Book, book.Console, draft.ID, billing.DraftDeposits{
		Version: draft.Version, Deposits: []billing.ApplyingDeposit{{ID: deposit.ID, Amount: "150"}},
	})
	require.NoError(t, err)
	applied, err := billing.Issue(ctx, h.Book, book.Console, draft.ID, draft.Version)
	require.NoError(t, err)
	e = written(applied)
	assert.Equal(t, applied.DueNow, e.at("LegalMonetaryTotal/PayableAmount"), "less the deposit and the tax that was charged on it")

	can, err := billing.CreditableOf(ctx, h.Book, book.Console, first.ID)
	require.NoError(t, err)
	credit, err := billing.CreditInvoice(ctx, h.Book, book.Console, first.ID, billing.NewCredit{
		Key: "house-credit", Date: "2026-11-13",
		Lines: []billing.CreditLine{{Kind: can[0].Kind, ID: can[0].ID, Amount: "10", Becomes: "allowed"}},
	})
	require.NoError(t, err)
	e = written(credit.Note)
	assert.Equal(t, []string{"CreditNote", "1001"}, []string{e.XMLName.Local, e.at("BillingReference/InvoiceDocumentReference/ID")})
	apptest.Verified(t, h.Book)
	apptest.SameInAnotherBook(t, h.Book)
	there := apptest.Copied(t, h.Book)
	v, err := billing.InvoiceByNumber(ctx, there, book.Console, "1001")
	require.NoError(t, err)
	here, err := paper.InvoiceEN(t.Context(), first, nil)
	require.NoError(t, err)
	data, err := paper.InvoiceEN(t.Context(), v, nil)
	require.NoError(t, err)
	assert.Equal(t, string(here), string(data), "the same e-invoice from another book")
}

// Who is not in the tax system writes what is outside of it.
func TestWhatIsNotTaxedIsOutsideTheTax(t *testing.T) {
	h := newHouse(t, "4711")
	data, err := paper.InvoiceEN(t.Context(), h.issue(typed("6", "other", "100"), billing.TypedLine{Kind: "discount", Text: "Off",
		Amount: "10"}), nil)
	require.NoError(t, err)
	e := byTheStandard(t, data)
	assert.Equal(t, "O", e.at("TaxTotal/TaxSubtotal/TaxCategory/ID"))
}

// What EN 16931 can't say, or what is missing for it, is refused with what to do; plain UBL takes it.
func TestWhatTheStandardCanNotSayIsRefused(t *testing.T) {
	h := newHouse(t, "DE123456789")
	two := h.issue(typed("7", "other", "100"))
	_, err := paper.InvoiceEN(t.Context(), two, nil)
	apptest.Refusal(t, err, refuse.KindConflict, "", "taxed by several taxes, and EN 16931 has one a line; use plain UBL")
	data, err := paper.InvoiceUBL(t.Context(), two, nil)
	require.NoError(t, err)
	var e element
	require.NoError(t, xml.Unmarshal(data, &e))
	inOrder(t, e, "EUR")
	assert.Len(t, e.all("InvoiceLine/Item/ClassifiedTaxCategory"), 2)
	assert.Equal(t, "108.25", e.at("LegalMonetaryTotal/PayableAmount"))
	var schemes []string
	for _, id := range e.all("TaxTotal/TaxSubtotal/TaxCategory/TaxScheme/ID") {
		schemes = append(schemes, id.Text)
	}
	assert.ElementsMatch(t, []string{"STT", "LOC"}, schemes)

	setup, err := customerRow(h)
	require.NoError(t, err)
	plain := h.issue(typed("1", "other", "100"))
	change := customers.CustomerChange{
		NewCustomer: customers.NewCustomer{Name: "Heron Marina", InvoicePer: "job"}, Version: setup.Version, Active: true,
	}
	require.NoError(t, customers.Change(ctx, h.Book, book.Console, setup.ID, change))
	bare := h.issue(typed("1", "other", "100"))
	_, err = paper.InvoiceEN(t.Context(), bare, nil)
	apptest.Refusal(t, err, refuse.KindConflict, "", "EN 16931 asks for what is missing: the customer's country (Setup, Customers); "+
		"the customer's city (Setup, Customers); where e-invoices reach the customer, or their mail address (Setup, Customers); "+
		"the customer's reference (Setup, Customers)")
	frozen, err := billing.Invoice(ctx, h.Book, book.Console, plain.ID)
	require.NoError(t, err)
	_, err = paper.InvoiceEN(t.Context(), frozen, nil)
	require.NoError(t, err, "what was issued keeps what it was issued with")
	change.Version++
	change.Country, change.City, change.Email, change.Reference = "DE", "Reiherbucht", "pay@heron.example", "77"
	require.NoError(t, customers.Change(ctx, h.Book, book.Console, setup.ID, change))
	mended, err := billing.Invoice(ctx, h.Book, book.Console, bare.ID)
	require.NoError(t, err)
	data, err = paper.InvoiceEN(t.Context(), mended, nil)
	require.NoError(t, err, "what was not said then is said now")
	byTheStandard(t, data)

	draft, err := billing.StartDraft(ctx, h.Book, book.Console, billing.NewDraft{
		Key: "house-draft", Date: "2026-11-10", Lines: []billing.TypedLine{typed("1", "other", "1")},
	})
	require.NoError(t, err)
	for _, write := range []func() ([]byte, error){
		func() ([]byte, error) { return paper.InvoiceEN(t.Context(), draft, nil) }, func() ([]byte,
			error) {
			return paper.InvoiceUBL(t.Context(), draft, nil)
		},
	} {
		_, err = write()
		apptest.Refusal(t, err, refuse.KindConflict, "", "an e-invoice is made of what is issued; issue the draft first")
	}
}

func customerRow(h *house) (customer store.Customer, err error) {
	err = h.Store.Read(ctx, func(tx *store.Tx) error {
		rows, err := store.All[store.Customer](tx, "id", "code = 'HERON'")
		customer = rows[0]
		return err
	})
	return customer, err
}
