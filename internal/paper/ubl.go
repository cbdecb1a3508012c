package paper

import (
	"cmp"
	"encoding/xml"
	"slices"
	"strconv"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/tape"
)

// The parts of a UBL 2.1 invoice (ISO/IEC 19845) that Jarvo writes, in the order of its schema.
type ublInvoice struct {
	XMLName  xml.Name   `xml:"urn:oasis:names:specification:ubl:schema:xsd:Invoice-2 Invoice"`
	CAC      string     `xml:"xmlns:cac,attr"`
	CBC      string     `xml:"xmlns:cbc,attr"`
	Version  string     `xml:"cbc:UBLVersionID"`
	ID       string     `xml:"cbc:ID"`
	Issued   string     `xml:"cbc:IssueDate"`
	Due      string     `xml:"cbc:DueDate"`
	Type     string     `xml:"cbc:InvoiceTypeCode"`
	Notes    []string   `xml:"cbc:Note"`
	Currency string     `xml:"cbc:DocumentCurrencyCode"`
	Order    string     `xml:"cac:OrderReference>cbc:ID,omitempty"`
	Supplier ublParty   `xml:"cac:AccountingSupplierParty>cac:Party"`
	Customer ublParty   `xml:"cac:AccountingCustomerParty>cac:Party"`
	Terms    []ublTerms `xml:"cac:PaymentTerms"`
	Tax      ublTax     `xml:"cac:TaxTotal"`
	Total    ublTotal   `xml:"cac:LegalMonetaryTotal"`
	Lines    []ublLine  `xml:"cac:InvoiceLine"`
}

type ublAmount struct {
	Currency string `xml:"currencyID,attr"`
	Value    string `xml:",chardata"`
}

type ublParty struct {
	Name    string      `xml:"cac:PartyName>cbc:Name"`
	Address *ublAddress `xml:"cac:PostalAddress"`
	Legal   string      `xml:"cac:PartyLegalEntity>cbc:RegistrationName"`
	Contact *ublContact `xml:"cac:Contact"`
}

type ublAddress struct {
	Lines []string `xml:"cac:AddressLine>cbc:Line"`
}

type ublContact struct {
	Email string `xml:"cbc:ElectronicMail"`
}

func ublPartyOf(name, address, email string) ublParty {
	p := ublParty{Name: name, Legal: name}
	if address != "" {
		p.Address = &ublAddress{[]string{joined(address)}}
	}
	if email != "" {
		p.Contact = &ublContact{email}
	}
	return p
}

type ublTerms struct {
	Note   string    `xml:"cbc:Note"`
	Amount ublAmount `xml:"cbc:Amount"`
	Due    string    `xml:"cbc:PaymentDueDate,omitempty"`
}

type ublTax struct {
	Amount ublAmount    `xml:"cbc:TaxAmount"`
	Parts  []ublTaxPart `xml:"cac:TaxSubtotal"`
}

type ublTaxPart struct {
	Base    ublAmount `xml:"cbc:TaxableAmount"`
	Amount  ublAmount `xml:"cbc:TaxAmount"`
	Percent string    `xml:"cac:TaxCategory>cbc:Percent"`
	Scheme  string    `xml:"cac:TaxCategory>cac:TaxScheme>cbc:Name"`
}

type ublTotal struct {
	Lines     ublAmount `xml:"cbc:LineExtensionAmount"`
	Exclusive ublAmount `xml:"cbc:TaxExclusiveAmount"`
	Inclusive ublAmount `xml:"cbc:TaxInclusiveAmount"`
	Payable   ublAmount `xml:"cbc:PayableAmount"`
}

type ublQuantity struct {
	Unit  string `xml:"unitCode,attr"`
	Value string `xml:",chardata"`
}

type ublLine struct {
	ID       string      `xml:"cbc:ID"`
	Note     string      `xml:"cbc:Note,omitempty"`
	Quantity ublQuantity `xml:"cbc:InvoicedQuantity"`
	Amount   ublAmount   `xml:"cbc:LineExtensionAmount"`
	Name     string      `xml:"cac:Item>cbc:Name"`
	Price    ublAmount   `xml:"cac:Price>cbc:PriceAmount"`
	For      ublQuantity `xml:"cac:Price>cbc:BaseQuantity"`
}

// notesOf are what an invoice is called, and what is said on it beside its lines.
func notesOf(v billing.InvoiceView) []string {
	notes := append([]string{v.Title, v.Opening, v.Closing}, v.TaxNotes...)
	return slices.DeleteFunc(notes, func(note string) bool { return note == "" })
}

// InvoiceUBL is an issued invoice in UBL 2.1. What is payable is the whole invoice; a retainage is a part of it with
// terms of its own.
func InvoiceUBL(v billing.InvoiceView, _ []tape.Backup) ([]byte, error) {
	if v.Release {
		return nil, refuse.Conflict("what is released was on the e-invoice of its invoice already; send the PDF of the release")
	}
	if v.CreditOn != "" {
		return nil, refuse.Conflict("a credit note can't be written as an e-invoice yet; send its PDF")
	}
	if v.Prepaid != "" {
		return nil, refuse.Conflict("an invoice that a deposit is applied to can't be written as an e-invoice yet; send its PDF")
	}
	money := func(s string) ublAmount { return ublAmount{v.Currency, s} }
	u := ublInvoice{
		CAC:     "urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2",
		CBC:     "urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2",
		Version: "2.1", ID: v.Number, Issued: v.Date, Due: v.Due, Type: "380",
		Notes: notesOf(v), Currency: v.Currency, Order: v.OrderNumber,
		Supplier: ublPartyOf(v.CompanyName, v.CompanyAddress, v.CompanyEmail), Customer: ublPartyOf(v.CustomerName, v.CustomerAddress, ""),
		Terms: []ublTerms{{"due now", money(v.DueNow), v.Due}}, Tax: ublTax{Amount: money(v.Tax)},
		Total: ublTotal{money(v.Subtotal), money(v.Subtotal), money(v.Total), money(v.Total)},
	}
	if v.HasRetainage {
		u.Terms = append(u.Terms, ublTerms{Note: "retainage, due when it is released", Amount: money(v.Retainage)})
	}
	for _, t := range v.Taxes {
		u.Tax.Parts = append(u.Tax.Parts, ublTaxPart{money(t.Base), money(t.Amount), t.Percent, t.Component})
	}
	for _, part := range v.Sections {
		for _, l := range part.Lines {
			quantity := ublQuantity{cmp.Or(l.UnitCode, "C62"), l.Quantity}
			if quantity.Value == "" {
				quantity.Value = "1"
			}
			u.Lines = append(u.Lines, ublLine{
				ID: strconv.Itoa(len(u.Lines) + 1), Note: part.Title, Quantity: quantity, Amount: money(l.Amount), Name: l.Text,
				Price: money(l.Amount), For: quantity,
			})
		}
	}
	data, err := xml.MarshalIndent(u, "", "  ")
	return append([]byte(xml.Header), append(data, '\n')...), err
}
