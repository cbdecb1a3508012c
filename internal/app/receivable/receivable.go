// Package receivable knows what customers owe: what is set against their invoices, their credit, and what each job has received. What is
// set against an invoice is an entry that stays; what is lifted again is another one, below 0 (calculation.md section 12).
package receivable

import (
	"jarvo/internal/app/book"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// Credit is what a customer has paid, or was credited, beyond what is set against invoices.
func Credit(s *book.Session, customerID int64) (money.Amount, error) {
	return store.Value[money.Amount](s.Tx, creditNow, customerID)
}

// CreditFrom is what of the credit of a customer can be taken on a day, so that it is below 0 neither then nor later.
func CreditFrom(s *book.Session, customerID int64, day calendar.Date) (money.Amount, error) {
	least, err := store.Value[money.Amount](s.Tx, creditFrom, map[string]any{"customer": customerID, "day": day})
	return max(0, least), err
}

// Open is an invoice with something left to pay.
type Open struct {
	ID         int64
	NumberText string
	Number     int64
	Title      string
	Date, Due  calendar.Date
	Left       money.Amount
	Customer   string // by its code, where all customers are asked for
}

// OpenOf are the open invoices of a customer, the oldest due date first.
func OpenOf(s *book.Session, customerID int64) ([]Open, error) {
	return store.Query[Open](s.Tx, openInvoices, map[string]any{"customer": customerID})
}

// OpenOn are the invoices of a time that were not paid at its end, the oldest due date first, each with its customer's code.
func OpenOn(s *book.Session, in InvoicesOf) ([]Open, error) {
	return store.Query[Open](s.Tx, openThen, in.args())
}

// Proposed sets a payment against open invoices, the oldest first: the part of each, and what is left over.
func Proposed(amount money.Amount, open []Open) ([]money.Amount, money.Amount) {
	invoices := make([]billing.Open, len(open))
	for i, o := range open {
		invoices[i] = billing.Open{Due: o.Due, Number: o.Number, Balance: o.Left}
	}
	return billing.Allocate(amount, invoices)
}

// Set is what of a payment, or of the customer's credit, is set against an invoice.
type Set struct {
	PaymentID  *int64 // none: from the credit
	InvoiceID  int64
	NumberText string
	Amount     money.Amount
	Last       calendar.Date // when it was set last
}

// Amounts are the amounts that are set, and their sum.
func Amounts(set []Set) (amounts []money.Amount, sum money.Amount) {
	for _, a := range set {
		amounts = append(amounts, a.Amount)
		sum += a.Amount
	}
	return amounts, sum
}

// SetOf is what of a payment is set against invoices.
func SetOf(s *book.Session, paymentID int64) ([]Set, error) {
	return store.Query[Set](s.Tx, setOfPayment, map[string]any{"payment": paymentID})
}

// OthersOf is what else of a customer is set against invoices, beside what is of a payment, the newest first.
func OthersOf(s *book.Session, customerID, paymentID int64) ([]Set, error) {
	return store.Query[Set](s.Tx, newestSet, map[string]any{"customer": customerID, "invoice": 0, "payment": paymentID})
}

// Against sets an amount against an invoice, from a payment or from the customer's credit.
func Against(s *book.Session, paymentID *int64, invoiceID int64, day calendar.Date, amount money.Amount) error {
	return s.Create(&store.PaymentAllocation{PaymentID: paymentID, InvoiceID: invoiceID, Date: day, Amount: amount}).Error
}

// LiftSet lifts what is set against invoices again, on a day, but not before it was set.
func LiftSet(s *book.Session, set []Set, amounts []money.Amount, day calendar.Date) error {
	for i, a := range amounts {
		if a == 0 {
			continue
		}
		if err := Against(s, set[i].PaymentID, set[i].InvoiceID, max(day, set[i].Last), -a); err != nil {
			return err
		}
	}
	return nil
}

// FreeCredited frees what is paid on an invoice beyond what is owed of it now that it was credited: from what was set against it, the
// newest first, then by itself, since it was prepaid. It becomes the customer's credit.
func FreeCredited(s *book.Session, customerID, invoiceID int64, day calendar.Date) (money.Amount, error) {
	left, err := store.Value[money.Amount](s.Tx, `SELECT "left" FROM invoice_balance WHERE invoice_id = ?`, invoiceID)
	if err != nil || left >= 0 {
		return 0, err
	}
	set, err := store.Query[Set](s.Tx, newestSet, map[string]any{"customer": customerID, "invoice": invoiceID, "payment": 0})
	if err != nil {
		return 0, err
	}
	amounts, _ := Amounts(set)
	lifted, over := billing.Lift(-left, amounts)
	if err := LiftSet(s, set, lifted, day); err != nil {
		return 0, err
	}
	if over != 0 {
		err = Against(s, nil, invoiceID, day, -over)
	}
	return -left, err
}
