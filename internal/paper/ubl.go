package paper

import (
	"encoding/xml"
	"strings"

	"jarvo/internal/app/billing"
)

// The parts of a UBL 2.1 invoice or credit note (ISO/IEC 19845) that Jarvo writes, in the order of its schemas, which both share.
type ublDocument struct {
	XMLName       xml.Name
	CAC           string          `xml:"xmlns:cac,attr"`
	CBC           string          `xml:"xmlns:cbc,attr"`
	Version       string          `xml:"cbc:UBLVersionID,omitempty"`
	Customization string          `xml:"cbc:CustomizationID,omitempty"`
	Profile       string          `xml:"cbc:ProfileID,omitempty"`
	ID            string          `xml:"cbc:ID"`
	Issued        string          `xml:"cbc:IssueDate"`
	Due           string          `xml:"cbc:DueDate,omitempty"`
	InvoiceType   string          `xml:"cbc:InvoiceTypeCode,omitempty"`
	NoteType      string          `xml:"cbc:CreditNoteTypeCode,omitempty"`
	Notes         []string        `xml:"cbc:Note"`
	Currency      string          `xml:"cbc:DocumentCurrencyCode"`
	Reference     string          `xml:"cbc:BuyerReference,omitempty"`
	Period        *ublPeriod      `xml:"cac:InvoicePeriod"`
	Order         *ublID          `xml:"cac:OrderReference"`
	Credited      *ublID          `xml:"cac:BillingReference>cac:InvoiceDocumentReference"`
	Supplier      ublParty        `xml:"cac:AccountingSupplierParty>cac:Party"`
	Customer      ublParty        `xml:"cac:AccountingCustomerParty>cac:Party"`
	Delivery      *ublDelivery    `xml:"cac:Delivery"`
	Means         *ublMeans       `xml:"cac:PaymentMeans"`
	Terms         []ublTerms      `xml:"cac:PaymentTerms"`
	Tax           ublTax          `xml:"cac:TaxTotal"`
	Total         ublTotal        `xml:"cac:LegalMonetaryTotal"`
	InvoiceLines  []ublLine       `xml:"cac:InvoiceLine"`
	NoteLines     []ublCreditLine `xml:"cac:CreditNoteLine"`
}

type ublID struct {
	ID string `xml:"cbc:ID"`
}

type ublPeriod struct {
	From    string `xml:"cbc:StartDate"`
	Through string `xml:"cbc:EndDate"`
}

type ublAmount struct {
	Currency string `xml:"currencyID,attr"`
	Value    string `xml:",chardata"`
}

// ublScheme is a text that says of which list it is.
type ublScheme struct {
	Scheme string `xml:"schemeID,attr,omitempty"`
	Value  string `xml:",chardata"`
}

type ublParty struct {
	Endpoint *ublScheme    `xml:"cbc:EndpointID"`
	Name     string        `xml:"cac:PartyName>cbc:Name"`
	Address  *ublAddress   `xml:"cac:PostalAddress"`
	Tax      []ublPartyTax `xml:"cac:PartyTaxScheme"`
	Legal    ublLegal      `xml:"cac:PartyLegalEntity"`
	Contact  *ublContact   `xml:"cac:Contact"`
}

type ublPartyTax struct {
	Number string       `xml:"cbc:CompanyID"`
	Scheme ublTaxScheme `xml:"cac:TaxScheme"`
}

type ublTaxScheme struct {
	ID   ublScheme `xml:"cbc:ID"`
	Name string    `xml:"cbc:Name,omitempty"`
}

type ublLegal struct {
	Name   string `xml:"cbc:RegistrationName"`
	Number string `xml:"cbc:CompanyID,omitempty"`
}

type ublAddress struct {
	Street     string    `xml:"cbc:StreetName,omitempty"`
	Additional string    `xml:"cbc:AdditionalStreetName,omitempty"`
	City       string    `xml:"cbc:CityName,omitempty"`
	PostCode   string    `xml:"cbc:PostalZone,omitempty"`
	Region     string    `xml:"cbc:CountrySubentity,omitempty"`
	Lines      []ublText `xml:"cac:AddressLine"`
	Country    string    `xml:"cac:Country>cbc:IdentificationCode,omitempty"`
}

type ublText struct {
	Line string `xml:"cbc:Line"`
}

type ublContact struct {
	Phone string `xml:"cbc:Telephone,omitempty"`
	Email string `xml:"cbc:ElectronicMail,omitempty"`
}

type ublDelivery struct {
	Date    string     `xml:"cbc:ActualDeliveryDate,omitempty"`
	Address ublAddress `xml:"cac:DeliveryLocation>cac:Address"`
}

type ublMeans struct {
	Code      string     `xml:"cbc:PaymentMeansCode"`
	Reference string     `xml:"cbc:PaymentID,omitempty"`
	Account   ublAccount `xml:"cac:PayeeFinancialAccount"`
}

type ublAccount struct {
	ID     string `xml:"cbc:ID"`
	Name   string `xml:"cbc:Name,omitempty"`
	Branch *ublID `xml:"cac:FinancialInstitutionBranch"`
}

type ublTerms struct {
	Note   string     `xml:"cbc:Note"`
	Amount *ublAmount `xml:"cbc:Amount"`
	Due    string     `xml:"cbc:PaymentDueDate,omitempty"`
}

type ublTax struct {
	Amount ublAmount    `xml:"cbc:TaxAmount"`
	Parts  []ublTaxPart `xml:"cac:TaxSubtotal"`
}

type ublTaxPart struct {
	Base     ublAmount   `xml:"cbc:TaxableAmount"`
	Amount   ublAmount   `xml:"cbc:TaxAmount"`
	Category ublCategory `xml:"cac:TaxCategory"`
}

// ublCategory is how something is taxed, by the list UNCL 5305.
type ublCategory struct {
	ID      string       `xml:"cbc:ID"`
	Percent string       `xml:"cbc:Percent,omitempty"`
	Reason  string       `xml:"cbc:TaxExemptionReason,omitempty"`
	Scheme  ublTaxScheme `xml:"cac:TaxScheme"`
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

type ublItem struct {
	Name  string        `xml:"cbc:Name"`
	Taxed []ublCategory `xml:"cac:ClassifiedTaxCategory"`
}

type ublPrice struct {
	Amount ublAmount    `xml:"cbc:PriceAmount"`
	For    *ublQuantity `xml:"cbc:BaseQuantity"`
}

type ublLine struct {
	ID       string      `xml:"cbc:ID"`
	Note     string      `xml:"cbc:Note,omitempty"`
	Quantity ublQuantity `xml:"cbc:InvoicedQuantity"`
	Amount   ublAmount   `xml:"cbc:LineExtensionAmount"`
	Item     ublItem     `xml:"cac:Item"`
	Price    ublPrice    `xml:"cac:Price"`
}

// ublCreditLine is a line of a credit note, whose quantity alone has another name.
type ublCreditLine struct {
	ID       string      `xml:"cbc:ID"`
	Note     string      `xml:"cbc:Note,omitempty"`
	Quantity ublQuantity `xml:"cbc:CreditedQuantity"`
	Amount   ublAmount   `xml:"cbc:LineExtensionAmount"`
	Item     ublItem     `xml:"cac:Item"`
	Price    ublPrice    `xml:"cac:Price"`
}

const ublNames = "urn:oasis:names:specification:ubl:schema:xsd:"

func (u ublDocument) write() ([]byte, error) {
	data, err := xml.MarshalIndent(u, "", "  ")
	return append([]byte(xml.Header), append(data, '\n')...), err
}

// ublAddressOf is an address in its parts. A street of more than two lines has the rest in lines of their own.
func ublAddressOf(street, postCode, city, region, country string) ublAddress {
	a := ublAddress{PostCode: postCode, City: city, Region: region, Country: country}
	for i, line := range strings.FieldsFunc(street, func(r rune) bool { return r == '\n' || r == '\r' }) {
		switch i {
		case 0:
			a.Street = line
		case 1:
			a.Additional = line
		default:
			a.Lines = append(a.Lines, ublText{line})
		}
	}
	return a
}

// notesOf are what an invoice is called, and what is said on it beside its lines.
func notesOf(v billing.InvoiceView) (notes []string) {
	for _, note := range append([]string{v.Title, v.Opening, v.Closing}, v.TaxNotes...) {
		if note != "" {
			notes = append(notes, note)
		}
	}
	return notes
}
