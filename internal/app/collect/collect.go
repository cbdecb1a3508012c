// Package collect takes payments of invoices, and takes them back.
package collect

import (
	"context"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/scope"
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
	Method    string `json:"method,omitempty" doc:"how it came, such as transfer or cheque"`
	Reference string `json:"reference,omitempty" doc:"what the bank or the cheque says"`
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
		Note: c.Text("note", in.Note), Method: c.Text("method", in.Method), Reference: c.Text("reference", in.Reference),
	}
	left := invoice.Left
	switch {
	case len(c.Fields) > 0:
	case invoice.CreditOf != nil:
		c.Add("amount", "a credit note is not paid")
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

// PaymentRow is a payment in the list.
type PaymentRow struct {
	ID        int64     `json:"id"`
	Date      string    `json:"date" format:"date"`
	Customer  string    `json:"customer"`
	Amount    string    `json:"amount" format:"decimal"`
	Method    string    `json:"method"`
	Reference string    `json:"reference"`
	Note      string    `json:"note"`
	Invoices  []Settled `json:"invoices"`
	TakenBack string    `json:"takenBack,omitempty" doc:"why it was taken back: it settles nothing any more"`
}

// Settled is an invoice that a payment was set against.
type Settled struct {
	ID     int64  `json:"id"`
	Number string `json:"number"`
	Amount string `json:"amount" format:"decimal"`
}

// PaymentList are the payments received in a time.
type PaymentList struct {
	Payments []PaymentRow `json:"payments" doc:"the latest first"`
	Total    string       `json:"total" format:"decimal" doc:"of those that stand, also those that are not listed"`
	Count    int64        `json:"count"`
}

// mostPayments bounds the list; older ones are found by their time.
const mostPayments = 500

// Payments lists the payments that were received in a time, or for a job.
func Payments(ctx context.Context, b *book.Book, actor book.Actor, q scope.ScopeQuery) (PaymentList, error) {
	return book.Read(ctx, b, actor, book.Bill, func(s *book.Session) (PaymentList, error) {
		out := PaymentList{Payments: []PaymentRow{}}
		sc, err := scope.Of(s, q)
		if err != nil {
			return out, err
		}
		args := map[string]any{"from": sc.From, "to": sc.End(), "job": sc.Job, "most": mostPayments}
		type row struct {
			store.Payment
			Customer string
		}
		rows, err := store.Query[row](s.Tx, paymentRows, args)
		if err != nil {
			return out, err
		}
		type part struct {
			PaymentID, InvoiceID int64
			Number               string
			Amount               money.Amount
		}
		parts, err := store.Query[part](s.Tx, paymentParts, args)
		if err != nil {
			return out, err
		}
		of := map[int64][]Settled{}
		for _, p := range parts {
			of[p.PaymentID] = append(of[p.PaymentID], Settled{p.InvoiceID, p.Number, s.Money(p.Amount)})
		}
		for _, r := range rows {
			out.Payments = append(out.Payments, PaymentRow{
				ID: r.ID, Date: r.Date.String(), Customer: r.Customer, Amount: s.Money(r.Amount), Method: r.Method, Reference: r.Reference,
				Note: r.Note, Invoices: append([]Settled{}, of[r.ID]...), TakenBack: store.Text(r.TakenBack),
			})
		}
		sums, err := store.Value[struct {
			Count  int64
			Amount money.Amount
		}](s.Tx, paymentSums, args)
		out.Total, out.Count = s.Money(sums.Amount), sums.Count
		return out, err
	})
}

// Back says why a payment is taken back.
type Back struct {
	Reason string `json:"reason"`
}

// TakeBack takes a payment back, such as one that was typed twice or a cheque that bounced: its invoices are owed again. It stays in the
// list, with the reason.
func TakeBack(ctx context.Context, b *book.Book, actor book.Actor, paymentID int64, in Back) error {
	return book.Change(ctx, b, actor, book.Bill, func(s *book.Session) error {
		c := s.Checks()
		reason := c.Needed("reason", in.Reason, "a reason")
		if err := c.Err(); err != nil {
			return err
		}
		had, found, err := store.One[store.Payment](s.Tx, paymentID)
		if err != nil || !found {
			return refuse.OrNotFound(err, "payment")
		}
		if had.TakenBack != nil {
			return refuse.Conflict("this payment has been taken back already: %s", *had.TakenBack)
		}
		if err := s.Model(&had).Update("taken_back", reason).Error; err != nil {
			return err
		}
		return s.Record("took back", "payment", paymentID, map[string]string{"amount": s.Money(had.Amount)}, map[string]string{"reason": reason})
	})
}
