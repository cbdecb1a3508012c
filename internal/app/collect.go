package app

import (
	"context"

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
	return Write(ctx, a, actor, Bill, func(s *session) (view InvoiceView, _ error) {
		if _, err := once(s, "payment", in.Key, in, func() (int64, error) { return s.takePayment(in) }); err != nil {
			return view, err
		}
		var err error
		view, err = s.invoice(in.InvoiceID)
		return view, err
	})
}

func (s *session) takePayment(in NewPayment) (int64, error) {
	rows, err := store.Query[invoiceRow](s.Tx, invoiceRows+" WHERE i.id = ? AND i.status = 'issued'", in.InvoiceID)
	if err != nil || len(rows) == 0 {
		return 0, orNotFound(err, "issued invoice")
	}
	invoice := rows[0]
	c := s.checks()
	payment := store.Payment{CustomerID: invoice.CustomerID, Date: c.date("date", in.Date), Amount: parsed(c, "amount", in.Amount, s.parseAmount), Note: c.text("note", in.Note)}
	left := invoice.DueNow - invoice.Paid
	switch {
	case len(c.fields) > 0:
	case payment.Amount <= 0:
		c.add("amount", "a payment is more than 0")
	case payment.Amount > left:
		c.add("amount", "only %s is left to pay on this invoice", s.money(left))
	}
	if err := c.err(); err != nil {
		return 0, err
	}
	payment.Ref = "new " + newCode()
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
	if err := s.Create(&store.PaymentAllocation{PaymentID: payment.ID, InvoiceID: invoice.ID, Amount: payment.Amount}).Error; err != nil {
		return 0, err
	}
	return payment.ID, s.record("took a payment", "invoice", invoice.ID, nil, map[string]string{"amount": s.money(payment.Amount), "date": in.Date})
}
