package billing

import (
	"cmp"
	"slices"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/register"
	"jarvo/internal/store"
)

// Taxed is how the lines of a job and kind are taxed.
type Taxed struct {
	Kind string // of the tax code: standard, zero, exempt, reverse_charge; blank: there is none
	Note string // what the code says of that
	By   []PaperTax
}

// freezeParties keeps who an invoice is from and to, and how its jobs are taxed, for the e-invoice of it. A credit note is taxed as what it
// credits.
func freezeParties(s *book.Session, i store.Invoice) error {
	seller, buyer, _, err := partiesNow(s, i.CustomerID)
	if err != nil {
		return err
	}
	for _, p := range []store.InvoiceParty{seller, buyer} {
		p.InvoiceID = i.ID
		if err := s.Create(&p).Error; err != nil {
			return err
		}
	}
	if i.CreditOf != nil {
		return book.InOrder(
			func() error { return s.Run(taxedAsCredited, i.ID, *i.CreditOf) },
			func() error { return s.Run(schemesAsCredited, i.ID, *i.CreditOf) },
		)
	}
	return book.InOrder(
		func() error { return s.Run(schemesByCode, i.ID) },
		func() error { return s.Run(taxedByCode, i.ID) },
	)
}

// filled is a party with what was not said when the invoice was issued as it is said now. Where the place was not said apart, the whole
// address is.
func filled(p, now store.InvoiceParty) store.InvoiceParty {
	if p.City == "" {
		p.Street, p.PostCode, p.City, p.Region = now.Street, now.PostCode, now.City, now.Region
	}
	p.Country, p.TaxNumber, p.Email = cmp.Or(p.Country, now.Country), cmp.Or(p.TaxNumber, now.TaxNumber), cmp.Or(p.Email, now.Email)
	p.Registration = cmp.Or(p.Registration, now.Registration)
	if p.Endpoint == "" {
		p.Endpoint, p.EndpointScheme = now.Endpoint, now.EndpointScheme
	}
	return p
}

// partiesNow are the company and a customer as they are named now.
func partiesNow(s *book.Session, customerID int64) (seller, buyer store.InvoiceParty, reference string, _ error) {
	customer, _, err := store.One[store.Customer](s.Tx, customerID)
	if err != nil {
		return seller, buyer, "", err
	}
	to, err := register.Recipients(s, customer, register.Invoices)
	co := s.Company
	seller = store.InvoiceParty{
		Side: store.Seller, Street: co.Address, PostCode: co.PostCode, City: co.City, Region: co.Region, Country: co.Country,
		TaxNumber: co.TaxNumber, Email: co.Email, Registry: co.Registry,
	}
	buyer = store.InvoiceParty{
		Side: store.Buyer, Street: customer.Address, PostCode: customer.PostCode, City: customer.City, Region: customer.Region,
		Country: customer.Country, TaxNumber: customer.TaxNumber, Email: to, Registry: customer.Registry,
	}
	return seller, buyer, customer.Reference, err
}

// eInvoice adds what only an e-invoice says: the parties in their parts, and how the lines of each job and kind are taxed.
func eInvoice(s *book.Session, v *InvoiceView, i InvoiceRow) error {
	seller, buyer, reference, err := partiesNow(s, i.CustomerID)
	if err != nil {
		return err
	}
	v.Reference = cmp.Or(i.Reference, reference)
	parties, err := store.All[store.InvoiceParty](s.Tx, "side", "invoice_id = ?", i.ID)
	if err != nil {
		return err
	}
	for _, p := range parties {
		if p.Side == store.Seller {
			v.Seller = filled(p, seller)
		} else {
			v.Buyer = filled(p, buyer)
		}
	}
	jobs, err := store.All[store.InvoiceJob](s.Tx, "job_id", "invoice_id = ?", i.ID)
	if err != nil {
		return err
	}
	for at := range v.Sections {
		part := &v.Sections[at]
		for _, j := range jobs {
			if j.JobID != part.jobID {
				continue
			}
			part.Taxed = Taxed{Kind: j.TaxKind, Note: j.TaxNote}
			for _, t := range v.Taxes {
				if t.Code == j.TaxCode && t.OfDeposit == "" && slices.Contains(strings.Fields(t.AppliesTo), part.category) {
					part.Taxed.By = append(part.Taxed.By, t)
				}
			}
		}
	}
	return nil
}
