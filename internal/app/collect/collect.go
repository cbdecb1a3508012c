// Package collect takes payments of invoices.
package collect

import (
	"context"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/refuse"
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
func TakePayment(ctx context.Context, b *book.Book, actor book.Actor, in NewPayment) (billing.InvoiceView, error) {
	return book.Write(ctx, b, actor, book.Bill, func(s *book.Session) (view billing.InvoiceView, _ error) {
		if _, err := book.Once(s, "payment", in.Key, in, func() (int64, error) { return takePayment(s, in) }); err != nil {
			return view, err
		}
		var err error
		view, err = billing.View(s, in.InvoiceID)
		return view, err
	})
}

func takePayment(s *book.Session, in NewPayment) (int64, error) {
	rows, err := store.Query[billing.InvoiceRow](s.Tx, billing.InvoiceRows+" WHERE i.id = ? AND i.status = 'issued'", in.InvoiceID)
	if err != nil || len(rows) == 0 {
		return 0, refuse.OrNotFound(err, "issued invoice")
	}
	invoice := rows[0]
	c := s.Checks()
	payment := store.Payment{
		CustomerID: invoice.CustomerID, Date: c.Date("date", in.Date), Amount: form.Parsed(c, "amount", in.Amount, s.ParseAmount),
		Note: c.Text("note", in.Note),
	}
	left := invoice.DueNow - invoice.Paid
	switch {
	case len(c.Fields) > 0:
	case payment.Amount <= 0:
		c.Add("amount", "a payment is more than 0")
	case payment.Amount > left:
		c.Add("amount", "only %s is left to pay on this invoice", s.Money(left))
	}
	if err := c.Err(); err != nil {
		return 0, err
	}
	if err := book.Add(s, "payments", "P", &payment, &payment.ID, &payment.Ref); err != nil {
		return 0, err
	}
	if err := s.Create(&store.PaymentAllocation{PaymentID: payment.ID, InvoiceID: invoice.ID, Amount: payment.Amount}).Error; err != nil {
		return 0, err
	}
	return payment.ID, s.Record(
		"took a payment", "invoice", invoice.ID, nil, map[string]string{"amount": s.Money(payment.Amount), "date": in.Date},
	)
}
