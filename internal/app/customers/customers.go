// Package customers adds customers, changes and retires them.
package customers

import (
	"context"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/form"
	"jarvo/internal/app/register"
	"jarvo/internal/core/postal"
	"jarvo/internal/store"
)

// NewCustomer is who pays.
type NewCustomer struct {
	Key       string             `json:"key,omitempty"`
	Name      string             `json:"name"`
	Email     string             `json:"email,omitempty" doc:"who gets what no contact gets: mail addresses, between commas"`
	Address   string             `json:"address,omitempty" doc:"the lines above the place; where the parts are blank, all of it"`
	PostCode  string             `json:"postCode,omitempty"`
	City      string             `json:"city,omitempty"`
	Region    string             `json:"region,omitempty" doc:"a state, a province or a county"`
	Country   string             `json:"country,omitempty" doc:"ISO 3166, two letters; blank: not said"`
	TaxNumber string             `json:"taxNumber,omitempty"`
	Reference string             `json:"reference,omitempty" doc:"what they want to see on each invoice"`
	Phone     string             `json:"phone,omitempty"`
	Contacts  []register.Contact `json:"contacts,omitempty" maxItems:"50" doc:"their people, and what each of them gets"`
	OpenBook  bool               `json:"openBook,omitempty" doc:"they see behind an invoice what work cost and what was put on it"`

	Registration   string `json:"registration,omitempty" doc:"in the register of companies"`
	Endpoint       string `json:"endpoint,omitempty" doc:"where e-invoices reach them"`
	EndpointScheme string `json:"endpointScheme,omitempty" doc:"what kind of address that is, by the EAS code list; EM is a mail address"`

	TermsDays  string `json:"termsDays,omitempty" doc:"blank: the company's"`
	TaxExempt  bool   `json:"taxExempt,omitempty"`
	TaxCode    string `json:"taxCode,omitempty" doc:"name of a tax code that is there; blank: the company's"`
	InvoicePer string `json:"invoicePer,omitempty" doc:"job or customer"`
	Card       string `json:"card,omitempty" doc:"name of a rate card; made where there is none"`
}

// Add adds a customer.
func Add(ctx context.Context, b *book.Book, actor book.Actor, in NewCustomer) (int64, error) {
	return book.Write(ctx, b, actor, book.Setup, func(s *book.Session) (int64, error) {
		return book.Once(s, "customer", in.Key, in, func() (int64, error) { return addCustomer(s, in) })
	})
}

func addCustomer(s *book.Session, in NewCustomer) (int64, error) {
	row, contacts, err := in.read(s, store.Customer{InvoicePer: "job", Active: true, Version: 1})
	if err != nil {
		return 0, err
	}
	if row.Code, err = register.Code(s, "customers", row.Name); err != nil {
		return 0, err
	}
	if err := s.Create(&row).Error; err != nil {
		return 0, err
	}
	if err := register.SaveContacts(s, row.ID, contacts); err != nil {
		return 0, err
	}
	return row.ID, s.Record("added", "customer", row.ID, nil, map[string]string{"name": row.Name})
}

// read reads what is typed over a customer, and its contacts.
func (in NewCustomer) read(s *book.Session, row store.Customer) (store.Customer, []register.Contact, error) {
	c := s.Checks()
	row.Name, row.Address = c.Needed("name", in.Name, "a name"), c.Text("address", in.Address)
	row.Email = strings.Join(form.Addresses(c, "email", in.Email), ", ")
	row.Phone = c.Text("phone", in.Phone)
	row.PostCode, row.City, row.Region = c.Text("postCode", in.PostCode), c.Text("city", in.City), c.Text("region", in.Region)
	row.Country = ""
	if in.Country != "" {
		row.Country = form.Parsed(c, "country", in.Country, postal.Country)
	}
	row.TaxNumber, row.Reference = c.Text("taxNumber", in.TaxNumber), c.Text("reference", in.Reference)
	row.Registry = register.ReadRegistry(c, in.Registration, in.Endpoint, in.EndpointScheme)
	row.OpenBook = in.OpenBook
	row.TaxExempt, row.TermsDays = in.TaxExempt, form.Optional(c, "termsDays", in.TermsDays, form.WholeDays)
	if in.InvoicePer != "" {
		row.InvoicePer = c.OneOf("invoicePer", in.InvoicePer, "job", "customer")
	}
	card, contacts := c.Text("card", in.Card), register.ReadContacts(c, in.Contacts)
	if err := c.Err(); err != nil {
		return row, nil, err
	}
	var err error
	if row.RateCardID, err = register.Reference(s, "rate_cards", card); err != nil {
		return row, nil, err
	}
	row.TaxCodeID, err = register.Existing(s, "tax_codes", "taxCode", in.TaxCode)
	return row, contacts, err
}

// CustomerChange is a customer as it is to be.
type CustomerChange struct {
	NewCustomer
	Version int64 `json:"version" doc:"as it was seen"`
	Active  bool  `json:"active" doc:"offered; a retired one stays in all that it was used for"`
}

// Change changes a customer. The card alters charges that are not billed, taxes and terms what drafts come to; issued invoices stay.
func Change(ctx context.Context, b *book.Book, actor book.Actor, customerID int64, in CustomerChange) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := seen(s, customerID, in.Version)
		if err != nil {
			return err
		}
		people, err := register.ContactsOf(s, customerID)
		if err != nil {
			return err
		}
		now, contacts, err := in.read(s, had)
		if err != nil {
			return err
		}
		now.Active, now.Version = in.Active, had.Version+1
		step := costing.Begin(s)
		if err := book.InOrder(
			func() error { return s.Save(&now).Error },
			func() error { return register.SaveContacts(s, customerID, contacts) },
			func() error { return step.PricedHours("j.customer_id = ?", customerID) },
			func() error { return step.PricedLines("j.customer_id = ?", customerID) },
			func() error { return step.DraftsOf("i.customer_id = ?", customerID) },
			step.Run,
		); err != nil {
			return err
		}
		return s.Record("changed", "customer", customerID, register.Told(had, people), register.Told(now, contacts))
	})
}

// MergeInto makes two customers one: jobs, invoices, payments, messages and contacts of the one that goes are the other's. Issued invoices
// keep the words they were issued with; what is not billed is charged and taxed as the other's. It can't be undone.
func MergeInto(ctx context.Context, b *book.Book, actor book.Actor, customerID int64, in register.Merge) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		from, into, err := register.ToMerge(s, customerID, in, seen)
		if err != nil {
			return err
		}
		ids := map[string]any{"from": from.ID, "into": into.ID}
		step := costing.Begin(s)
		steps := []func() error{}
		for _, move := range moveAll {
			steps = append(steps, func() error { return s.Exec(move, ids).Error })
		}
		steps = append(steps,
			func() error { return moveIssued(s, from.ID, into.ID) },
			func() error { return s.Delete(&from).Error },
			func() error { return step.PricedHours("j.customer_id = ?", into.ID) },
			func() error { return step.PricedLines("j.customer_id = ?", into.ID) },
			func() error { return step.DraftsOf("i.customer_id = ?", into.ID) },
			step.Run,
			func() error { return s.Record("merged into "+into.Name, "customer", from.ID, from, nil) },
			func() error { return s.Record("took over what "+from.Name+" had", "customer", into.ID, nil, nil) },
		)
		return book.InOrder(steps...)
	})
}

// moveIssued gives a customer's issued invoices to another, each with a seal of its own where its seal holds.
func moveIssued(s *book.Session, from, into int64) error {
	issued, err := store.All[store.Invoice](s.Tx, "id", "customer_id = ? AND status = 'issued'", from)
	if err != nil {
		return err
	}
	for _, i := range issued {
		if err := s.Stopped(); err != nil {
			return err
		}
		holds := i.Seal == i.Sealed()
		i.CustomerID = into
		if holds {
			i.Seal = i.Sealed()
		}
		if err := s.Run("UPDATE invoices SET customer_id = ?, seal = ? WHERE id = ?", into, i.Seal, i.ID); err != nil {
			return err
		}
	}
	return nil
}

// Delete deletes a customer that has no job and no invoice.
func Delete(ctx context.Context, b *book.Book, actor book.Actor, customerID, version int64) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := seen(s, customerID, version)
		if err != nil {
			return err
		}
		if err := register.Delete(s, "customers", customerID, "customer", "retire it instead", [2]string{"contacts", "customer_id"}); err != nil {
			return err
		}
		return s.Record("deleted", "customer", customerID, had, nil)
	})
}

func seen(s *book.Session, customerID, version int64) (store.Customer, error) {
	return register.Seen(s, customerID, version, "customer", func(c store.Customer) int64 { return c.Version })
}
