package app

import (
	"context"

	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// NewPayment is money from a customer for one invoice.
type NewPayment struct {
	Key       string `json:"key,omitempty"`
	InvoiceID int64  `json:"invoiceId"`
	Amount    string `json:"amount"`
	Date      string `json:"date" format:"date"`
	Note      string `json:"note,omitempty"`
}

// TakePayment sets a payment against an issued invoice, up to what is left of it.
func (a *App) TakePayment(ctx context.Context, actor Actor, in NewPayment) (InvoiceView, error) {
	var view InvoiceView
	err := a.write(ctx, actor, Bill, func(s *session) error {
		rows, err := store.Query[struct {
			store.Invoice
			Paid money.Amount
		}](s.Tx, invoiceRows+" WHERE i.id = ? AND i.status = 'issued'", in.InvoiceID)
		if err != nil {
			return err
		}
		if len(rows) == 0 {
			return notFound("issued invoice")
		}
		invoice := rows[0]
		c := s.checks()
		amount, on := parsed(c, "amount", in.Amount, s.currency.ParseAmount), c.date("date", in.Date)
		left := invoice.DueNow - invoice.Paid
		switch {
		case len(c.fields) > 0:
		case amount <= 0:
			c.add("amount", "a payment is more than 0")
		case amount > left:
			c.add("amount", "only %s is left to pay on this invoice", s.money(left))
		}
		note := c.text("note", in.Note)
		if err := c.err(); err != nil {
			return err
		}
		_, err = s.once(in.Key, "payment", func() (int64, error) {
			payment := store.Payment{Ref: "new " + in.Key, CustomerID: invoice.CustomerID, Date: on, Amount: amount, Note: note}
			if err := s.Create(&payment).Error; err != nil {
				return 0, err
			}
			ref, err := s.freeRef("payments", "P", payment.ID)
			if err != nil {
				return 0, err
			}
			if err := s.Model(&payment).Update("ref", ref).Error; err != nil {
				return 0, err
			}
			if err := s.Create(&store.PaymentAllocation{PaymentID: payment.ID, InvoiceID: invoice.ID, Amount: amount}).Error; err != nil {
				return 0, err
			}
			return payment.ID, s.record("took a payment", "invoice", invoice.ID, nil, map[string]string{"amount": s.money(amount), "date": in.Date})
		})
		if err != nil {
			return err
		}
		view, err = s.invoice(in.InvoiceID)
		return err
	})
	return view, err
}
