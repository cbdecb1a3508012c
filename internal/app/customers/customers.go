// Package customers adds customers.
package customers

import (
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/register"
	"jarvo/internal/store"
)

// NewCustomer is who pays.
type NewCustomer struct {
	Key        string `json:"key,omitempty"`
	Name       string `json:"name"`
	Email      string `json:"email,omitempty"`
	Address    string `json:"address,omitempty"`
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
	c := s.Checks()
	row := store.Customer{
		Name: c.Needed("name", in.Name, "a name"), Email: c.Text("email", in.Email), Address: c.Text("address", in.Address),
		TaxExempt: in.TaxExempt, InvoicePer: "job", Version: 1,
		TermsDays: form.Optional(c, "termsDays", in.TermsDays, form.WholeDays),
	}
	if in.InvoicePer != "" {
		row.InvoicePer = c.OneOf("invoicePer", in.InvoicePer, "job", "customer")
	}
	card := c.Text("card", in.Card)
	if err := c.Err(); err != nil {
		return 0, err
	}
	var err error
	if row.RateCardID, err = register.Reference(s, "rate_cards", card); err != nil {
		return 0, err
	}
	if row.TaxCodeID, err = register.Existing(s, "tax_codes", "taxCode", in.TaxCode); err != nil {
		return 0, err
	}
	if row.Code, err = register.Code(s, "customers", row.Name); err != nil {
		return 0, err
	}
	if err := s.Create(&row).Error; err != nil {
		return 0, err
	}
	return row.ID, s.Record("added", "customer", row.ID, nil, map[string]string{"name": row.Name})
}
