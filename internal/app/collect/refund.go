package collect

import (
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/receivable"
	"jarvo/internal/app/refuse"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// NewRefund is money that goes back to a customer, out of their credit.
type NewRefund struct {
	Key        string `json:"key,omitempty"`
	CustomerID int64  `json:"customerId"`
	Amount     string `json:"amount"`
	Date       string `json:"date" format:"date"`
	Note       string `json:"note,omitempty"`
	Method     string `json:"method,omitempty"`
	Reference  string `json:"reference,omitempty"`
}

// Refund pays credit back to a customer, up to what they have on that day and since.
func Refund(ctx context.Context, b *book.Book, actor book.Actor, in NewRefund) error {
	return book.Change(ctx, b, actor, book.Bill, func(s *book.Session) error {
		_, err := book.Once(s, "refund", in.Key, in, func() (id int64, _ error) {
			c := s.Checks()
			refund, err := readPayment(s, c, in)
			if err != nil {
				return 0, err
			}
			refund.Kind = store.Refund
			if err := enough(s, c, in.CustomerID, refund.Date, refund.Amount); err != nil {
				return 0, err
			}
			if err := book.Add(s, "payments", "P", &refund, &refund.ID, &refund.Ref); err != nil {
				return 0, err
			}
			return refund.ID, recordMoney(s, "refunded", refund)
		})
		return err
	})
}

// enough refuses more than the customer has as credit on a day and since, together with what is wrong already.
func enough(s *book.Session, c *form.Checks, customerID int64, day calendar.Date, amount money.Amount) error {
	if err := c.Err(); err != nil {
		return err
	}
	credit, err := receivable.CreditFrom(s, customerID, day)
	if err != nil || amount <= credit {
		return err
	}
	now, err := receivable.Credit(s, customerID)
	if err != nil {
		return err
	}
	if amount <= now {
		c.Add("date", "on that day %s of the credit could be used; it came later, or was used since", s.Money(credit))
	} else {
		c.Add("amount", "this customer's credit is %s", s.Money(now))
	}
	return c.Err()
}

// enoughFrom refuses to take credit of a customer on a day that came only later.
func enoughFrom(s *book.Session, c *form.Checks, p store.Payment, day calendar.Date, amount money.Amount) error {
	credit, err := receivable.CreditFrom(s, p.CustomerID, day)
	if err == nil && amount > credit {
		c.Add("date", "the credit that it takes came later than that")
		err = c.Err()
	}
	return err
}

// AppliedCredit sets some of a customer's credit against one of their invoices.
type AppliedCredit struct {
	Key       string `json:"key,omitempty"`
	InvoiceID int64  `json:"invoiceId"`
	Amount    string `json:"amount"`
	Date      string `json:"date" format:"date"`
}

// ApplyCredit sets some of a customer's credit against one of their invoices, up to what is left of either.
func ApplyCredit(ctx context.Context, b *book.Book, actor book.Actor, in AppliedCredit) error {
	return book.Change(ctx, b, actor, book.Bill, func(s *book.Session) error {
		_, err := book.Once(s, "credit applied", in.Key, in, func() (book.Done, error) { return book.Done{}, applyCredit(s, in) })
		return err
	})
}

func applyCredit(s *book.Session, in AppliedCredit) error {
	invoice, err := issued(s, in.InvoiceID)
	if err != nil {
		return err
	}
	c := s.Checks()
	day, amount := c.Date("date", in.Date), form.Parsed(c, "amount", in.Amount, s.ParseAmount)
	switch {
	case len(c.Fields) > 0:
	case invoice.CreditOf != nil:
		c.Add("invoiceId", "a credit note is not paid")
	case amount <= 0:
		c.Add("amount", "type how much of the credit")
	case amount > invoice.Left:
		c.Add("amount", "only %s is left to pay on invoice %s", s.Money(invoice.Left), invoice.NumberText())
	case day < invoice.Date:
		c.Add("date", "the invoice is of %s", invoice.Date)
	}
	if err := enough(s, c, invoice.CustomerID, day, amount); err != nil {
		return err
	}
	if err := receivable.Against(s, nil, invoice.ID, day, amount); err != nil {
		return err
	}
	return record(s, "applied credit", invoice.ID, amount, day)
}

// Back says why a payment or a refund is taken back, and when.
type Back struct {
	Key    string `json:"key,omitempty"`
	Reason string `json:"reason"`
	Date   string `json:"date,omitempty" doc:"absent: today"`
}

// TakeBack takes a payment back, such as one that was typed twice or a cheque that bounced, or a refund. It stays in the list, beside the
// entry that takes it back. Its invoices are owed again; where its credit was used, that is taken from the customer's other invoices, the
// newest first, and where it was refunded it is refused until the refund is taken back (calculation.md section 12).
func TakeBack(ctx context.Context, b *book.Book, actor book.Actor, paymentID int64, in Back) error {
	return book.Change(ctx, b, actor, book.Bill, func(s *book.Session) error {
		_, err := book.Once(s, "taken back", in.Key, []any{paymentID, in}, func() (book.Done, error) {
			return book.Done{}, takeBack(s, paymentID, in)
		})
		return err
	})
}

func takeBack(s *book.Session, paymentID int64, in Back) error {
	had, found, err := store.One[store.Payment](s.Tx, paymentID)
	if err != nil || !found {
		return refuse.OrNotFound(err, "payment")
	}
	if had.TakenBack != nil {
		return refuse.Conflict("this %s has been taken back already: %s", had.Kind, *had.TakenBack)
	}
	c := s.Checks()
	day := s.Today()
	if in.Date != "" {
		day = c.Date("date", in.Date)
	}
	reason := c.Needed("reason", in.Reason, "a reason")
	if len(c.Fields) == 0 && day < had.Date {
		c.Add("date", "the %s is of %s", had.Kind, had.Date)
	}
	if err := c.Err(); err != nil {
		return err
	}
	if had.Kind == store.Received {
		if err := liftPayment(s, c, had, day); err != nil {
			return err
		}
	}
	if err := s.Exec("UPDATE bank_lines SET payment_id = NULL WHERE payment_id = ?", had.ID).Error; err != nil {
		return err
	}
	if err := s.Model(&had).Updates(map[string]any{"taken_back": reason, "taken_back_on": day}).Error; err != nil {
		return err
	}
	return s.Record("took back", "payment", paymentID, map[string]string{"amount": s.Money(had.Amount)},
		map[string]string{"reason": reason, "date": day.String()})
}

// liftPayment lifts what of a payment is set against invoices; then it takes the customer's credit, then what else of theirs is set against
// invoices, the newest first.
func liftPayment(s *book.Session, c *form.Checks, p store.Payment, day calendar.Date) error {
	own, err := receivable.SetOf(s, p.ID)
	if err != nil {
		return err
	}
	credit, err := receivable.Credit(s, p.CustomerID)
	if err != nil {
		return err
	}
	others, err := receivable.OthersOf(s, p.CustomerID, p.ID)
	if err != nil {
		return err
	}
	ownLifted, ownSum := receivable.Amounts(own)
	set, otherSum := receivable.Amounts(others)
	became := p.Amount - ownSum // the customer's credit
	lifted, over := billing.Lift(max(0, became-credit), set)
	if over > 0 {
		return refuse.Conflict("%s of this payment was refunded: take the refund back first. Of %s only %s is there",
			s.Money(over), s.Money(p.Amount), s.Money(ownSum+credit+otherSum))
	}
	for i, a := range append(own, others...) {
		if (i < len(own) || lifted[i-len(own)] != 0) && a.Last > day {
			c.Add("date", "invoice %s was paid from it on %s: take it back on that day or later", a.NumberText, a.Last)
			return c.Err()
		}
	}
	if err := enoughFrom(s, c, p, day, min(became, credit)); err != nil {
		return err
	}
	if err := receivable.LiftSet(s, own, ownLifted, day); err != nil {
		return err
	}
	if err := receivable.LiftSet(s, others, lifted, day); err != nil {
		return err
	}
	for i, a := range append(own, others...) {
		amount := a.Amount
		if i >= len(own) {
			amount = lifted[i-len(own)]
		}
		if amount == 0 {
			continue
		}
		if err := record(s, "took a payment back", a.InvoiceID, amount, day); err != nil {
			return err
		}
	}
	return nil
}
