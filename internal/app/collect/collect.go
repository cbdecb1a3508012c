// Package collect takes payments, sets them against invoices, refunds what was paid too much, and takes either back.
package collect

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/receivable"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/scope"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// Against sets an amount against an invoice.
type Against struct {
	InvoiceID int64  `json:"invoiceId"`
	Amount    string `json:"amount,omitempty" doc:"absent: what is left of the invoice, as far as the payment goes"`
}

// NewPayment is money from a customer.
type NewPayment struct {
	Key        string    `json:"key,omitempty"`
	CustomerID int64     `json:"customerId,omitempty" doc:"absent: the customer of the first invoice that it is set against"`
	Amount     string    `json:"amount"`
	Date       string    `json:"date" format:"date"`
	Note       string    `json:"note,omitempty"`
	Method     string    `json:"method,omitempty" doc:"how it came, such as transfer or cheque"`
	Reference  string    `json:"reference,omitempty" doc:"what the bank or the cheque says"`
	BankLineID int64     `json:"bankLineId,omitempty" doc:"the receipt in the bank that it records"`
	On         []Against `json:"on,omitempty" maxItems:"1000" doc:"absent: the oldest due date first; what is over becomes credit"`
}

// Taken is what became of a payment.
type Taken struct {
	ID     int64     `json:"id"`
	Ref    string    `json:"ref"`
	On     []Settled `json:"on" doc:"what it is set against"`
	Credit string    `json:"credit" format:"decimal" doc:"what of it became the customer's credit"`
}

// TakePayment takes a payment of a customer and sets it against invoices, as it says, else the oldest due date first. What is over becomes
// the customer's credit (calculation.md section 12).
func TakePayment(ctx context.Context, b *book.Book, actor book.Actor, in NewPayment) (Taken, error) {
	return book.Write(ctx, b, actor, book.Bill, func(s *book.Session) (Taken, error) {
		return book.Once(s, "payment", in.Key, in, func() (Taken, error) { return takePayment(s, in) })
	})
}

func takePayment(s *book.Session, in NewPayment) (out Taken, _ error) {
	c := s.Checks()
	if in.CustomerID == 0 && len(in.On) > 0 {
		invoice, err := issued(s, in.On[0].InvoiceID)
		if err != nil {
			return out, err
		}
		in.CustomerID = invoice.CustomerID
	}
	payment, err := readPayment(s, c, NewRefund{in.Key, in.CustomerID, in.Amount, in.Date, in.Note, in.Method, in.Reference})
	if err != nil {
		return out, err
	}
	if err := c.Err(); err != nil {
		return out, err
	}
	open, err := receivable.OpenOf(s, in.CustomerID)
	if err != nil {
		return out, err
	}
	parts, credit := receivable.Proposed(payment.Amount, open)
	if in.On != nil {
		if parts, credit, err = setAsSaid(s, c, in.On, payment, open); err != nil {
			return out, err
		}
	}
	if err := c.Err(); err != nil {
		return out, err
	}
	if err := book.Add(s, "payments", "P", &payment, &payment.ID, &payment.Ref); err != nil {
		return out, err
	}
	if in.BankLineID != 0 {
		if err := recordLine(s, in.BankLineID, payment.ID); err != nil {
			return out, err
		}
	}
	out = Taken{ID: payment.ID, Ref: payment.Ref, On: []Settled{}, Credit: s.Money(credit)}
	for i, part := range parts {
		if part == 0 {
			continue
		}
		if err := receivable.Against(s, &payment.ID, open[i].ID, max(payment.Date, open[i].Date), part); err != nil {
			return out, err
		}
		out.On = append(out.On, Settled{open[i].ID, open[i].NumberText, s.Money(part)})
		if err := record(s, "took a payment", open[i].ID, part, payment.Date); err != nil {
			return out, err
		}
	}
	return out, recordMoney(s, "took a payment", payment)
}

// setAsSaid sets a payment against open invoices of its customer as the bookkeeper says: the part of each of the open ones, and what is
// over.
func setAsSaid(
	s *book.Session, c *form.Checks, on []Against, payment store.Payment, open []receivable.Open,
) ([]money.Amount, money.Amount, error) {
	parts, rest := make([]money.Amount, len(open)), payment.Amount
	for n, a := range on {
		path := fmt.Sprintf("on[%d].", n)
		i := slices.IndexFunc(open, func(o receivable.Open) bool { return o.ID == a.InvoiceID })
		if i < 0 {
			if err := notOpen(s, c, path+"invoiceId", a.InvoiceID, payment.CustomerID); err != nil {
				return nil, 0, err
			}
			continue
		}
		part := max(0, min(rest, open[i].Left))
		if a.Amount != "" {
			part = form.Parsed(c, path+"amount", a.Amount, s.ParseAmount)
		}
		switch {
		case parts[i] != 0:
			c.Add(path+"invoiceId", "this invoice is named already")
		case part < 0:
			c.Add(path+"amount", "what is set against an invoice is 0 or more")
		case part > open[i].Left:
			c.Add(path+"amount", "only %s is left to pay on invoice %s", s.Money(open[i].Left), open[i].NumberText)
		}
		parts[i] = part
		rest -= part
	}
	if rest < 0 {
		c.Add("amount", "%s is set against invoices, which is more than this", s.Money(payment.Amount-rest))
	}
	return parts, rest, nil
}

// notOpen says why nothing can be set against an invoice.
func notOpen(s *book.Session, c *form.Checks, path string, invoiceID, customerID int64) error {
	invoice, err := issued(s, invoiceID)
	switch {
	case err != nil:
		return err
	case invoice.CreditOf != nil:
		c.Add(path, "a credit note is not paid")
	case invoice.CustomerID != customerID:
		c.Add(path, "invoice %s is another customer's", invoice.NumberText())
	default:
		c.Add(path, "nothing is left to pay on invoice %s", invoice.NumberText())
	}
	return nil
}

func issued(s *book.Session, invoiceID int64) (billing.InvoiceRow, error) {
	rows, err := store.Query[billing.InvoiceRow](s.Tx, billing.InvoiceRows+" WHERE i.id = ? AND i.status = 'issued'", invoiceID)
	if err != nil || len(rows) == 0 {
		return billing.InvoiceRow{}, refuse.OrNotFound(err, "issued invoice")
	}
	return rows[0], nil
}

// readPayment reads what payments and refunds share.
func readPayment(s *book.Session, c *form.Checks, in NewRefund) (store.Payment, error) {
	p := store.Payment{
		Kind: store.Received, CustomerID: in.CustomerID, Date: c.Date("date", in.Date),
		Amount: form.Parsed(c, "amount", in.Amount, s.ParseAmount),
		Note:   c.Text("note", in.Note), Method: c.Text("method", in.Method), Reference: c.Text("reference", in.Reference),
	}
	if p.Amount <= 0 && len(c.Fields) == 0 {
		c.Add("amount", "what is paid is more than 0")
	}
	if p.Date > s.FurthestAhead() {
		c.Add("date", "%s is more than %d days ahead", p.Date, s.Company.DaysAhead)
	}
	_, found, err := store.One[store.Customer](s.Tx, in.CustomerID)
	if err == nil && !found {
		c.Add("customerId", "choose the customer")
	}
	return p, err
}

func record(s *book.Session, did string, invoiceID int64, amount money.Amount, day calendar.Date) error {
	return s.Record(did, "invoice", invoiceID, nil, map[string]string{"amount": s.Money(amount), "date": day.String()})
}

func recordMoney(s *book.Session, did string, p store.Payment) error {
	return s.Record(did, "payment", p.ID, nil, map[string]string{"amount": s.Money(p.Amount), "date": p.Date.String()})
}

// OpenAsked asks for the open invoices of a customer, and how an amount would be set against them.
type OpenAsked struct {
	ID     int64    `path:"id" minimum:"1"`
	Amount string   `query:"amount"`
	Set    []string `query:"set,explode" doc:"what is set by hand, as 12:300.00 of the invoice with the id 12; the others have the rest"`
}

// OpenInvoices are what a customer owes, invoice by invoice.
type OpenInvoices struct {
	Credit   string        `json:"credit" format:"decimal" doc:"what can be set against them"`
	Balance  string        `json:"balance" format:"decimal" doc:"of all of them"`
	Invoices []OpenInvoice `json:"invoices" doc:"the oldest due date first"`
	Over     string        `json:"over" format:"decimal" doc:"what of the amount becomes credit"`
}

// OpenInvoice is one of them.
type OpenInvoice struct {
	ID       int64  `json:"id"`
	Number   string `json:"number"`
	Title    string `json:"title"`
	Date     string `json:"date" format:"date"`
	Due      string `json:"due" format:"date"`
	DaysLate int64  `json:"daysLate"`
	Balance  string `json:"balance" format:"decimal"`
	Proposed string `json:"proposed,omitempty" format:"decimal" doc:"of the amount, the oldest first"`
}

// OpenOf lists the open invoices of a customer, and proposes how an amount is set against them. An amount that can't be read yet proposes
// nothing.
func OpenOf(ctx context.Context, b *book.Book, actor book.Actor, asked OpenAsked) (OpenInvoices, error) {
	return book.Read(ctx, b, actor, book.Bill, func(s *book.Session) (OpenInvoices, error) {
		out := OpenInvoices{Invoices: []OpenInvoice{}}
		open, err := receivable.OpenOf(s, asked.ID)
		if err != nil {
			return out, err
		}
		credit, err := receivable.Credit(s, asked.ID)
		if err != nil {
			return out, err
		}
		parts, over := proposed(s, asked, open)
		var balance money.Amount
		for i, o := range open {
			row := OpenInvoice{
				ID: o.ID, Number: o.NumberText, Title: o.Title, Date: o.Date.String(), Due: o.Due.String(), Balance: s.Money(o.Left),
				DaysLate: max(0, int64(s.Today()-o.Due)),
			}
			if parts[i] != 0 {
				row.Proposed = s.Money(parts[i])
			}
			out.Invoices = append(out.Invoices, row)
			balance += o.Left
		}
		out.Credit, out.Balance, out.Over = s.Money(credit), s.Money(balance), s.Money(over)
		return out, nil
	})
}

// proposed sets an amount against open invoices, beside what is set by hand. What can't be read yet counts as nothing.
func proposed(s *book.Session, asked OpenAsked, open []receivable.Open) ([]money.Amount, money.Amount) {
	read := func(text string) money.Amount {
		amount, err := s.ParseAmount(text)
		if err != nil {
			return 0
		}
		return max(0, amount)
	}
	rest := read(asked.Amount)
	others := slices.Clone(open)
	set := make([]money.Amount, len(open))
	for _, by := range asked.Set {
		id, amount, _ := strings.Cut(by, ":")
		i := slices.IndexFunc(open, func(o receivable.Open) bool { return strconv.FormatInt(o.ID, 10) == id })
		if i >= 0 {
			set[i], others[i].Left = read(amount), 0
			rest -= set[i]
		}
	}
	parts, over := receivable.Proposed(max(0, rest), others)
	for i := range parts {
		parts[i] += set[i]
	}
	return parts, over
}

// PaymentRow is an entry in the list: money that came or went back, or one of those taken back.
type PaymentRow struct {
	ID        int64     `json:"id" doc:"of the payment or refund"`
	Kind      string    `json:"kind" enum:"payment,refund"`
	Back      bool      `json:"back" doc:"it takes the payment or refund back"`
	Date      string    `json:"date" format:"date"`
	Customer  string    `json:"customer"`
	Amount    string    `json:"amount" format:"decimal" doc:"below 0 what went to the customer, or was taken back"`
	Method    string    `json:"method"`
	Reference string    `json:"reference"`
	Note      string    `json:"note"`
	Invoices  []Settled `json:"invoices" doc:"what it is set against"`
	TakenBack string    `json:"takenBack,omitempty" doc:"why it was taken back: it counts for nothing any more"`
}

// Settled is an invoice that a payment is set against.
type Settled struct {
	ID     int64  `json:"id"`
	Number string `json:"number"`
	Amount string `json:"amount" format:"decimal"`
}

// CustomerCredit is a customer who paid, or was credited, more than is set against invoices.
type CustomerCredit struct {
	ID       int64  `json:"id"`
	Customer string `json:"customer"`
	Credit   string `json:"credit" format:"decimal"`
	Last     string `json:"last" format:"date" doc:"when it changed last"`
	Open     int64  `json:"open" doc:"how many of their invoices are not paid"`
}

// PaymentList are the payments and refunds of a time, and who has credit.
type PaymentList struct {
	Payments []PaymentRow     `json:"payments" doc:"the latest first"`
	Received string           `json:"received" format:"decimal" doc:"less what was taken back, also of what is not listed"`
	Refunded string           `json:"refunded" format:"decimal"`
	Count    int64            `json:"count"`
	Credits  []CustomerCredit `json:"credits"`
}

// mostPayments bounds the list; older ones are found by their time.
const mostPayments = 500

// Payments lists the payments and refunds of a time, or for a job.
func Payments(ctx context.Context, b *book.Book, actor book.Actor, q scope.ScopeQuery) (PaymentList, error) {
	return book.Read(ctx, b, actor, book.Bill, func(s *book.Session) (PaymentList, error) {
		out := PaymentList{Payments: []PaymentRow{}, Credits: []CustomerCredit{}}
		sc, err := scope.Of(s, q)
		if err != nil {
			return out, err
		}
		args := map[string]any{"from": sc.From, "to": sc.End(), "job": sc.Job, "most": mostPayments}
		if out.Payments, err = entries(s, args); err != nil {
			return out, err
		}
		sums, err := store.Value[struct {
			Count              int64
			Received, Refunded money.Amount
		}](s.Tx, entrySums, args)
		if err != nil {
			return out, err
		}
		out.Received, out.Refunded, out.Count = s.Money(sums.Received), s.Money(sums.Refunded), sums.Count
		type credit struct {
			ID       int64
			Customer string
			Credit   money.Amount
			Last     calendar.Date
			Open     int64
		}
		credits, err := store.Query[credit](s.Tx, customersInCredit)
		for _, r := range credits {
			out.Credits = append(out.Credits, CustomerCredit{r.ID, r.Customer, s.Money(r.Credit), r.Last.String(), r.Open})
		}
		return out, err
	})
}

func entries(s *book.Session, args map[string]any) ([]PaymentRow, error) {
	out := []PaymentRow{}
	type row struct {
		store.Payment
		Customer string
		OnDay    calendar.Date
		Back     bool
		Moved    money.Amount
	}
	rows, err := store.Query[row](s.Tx, entryRows, args)
	if err != nil {
		return out, err
	}
	type part struct {
		PaymentID, InvoiceID int64
		Number               string
		Amount               money.Amount
	}
	parts, err := store.Query[part](s.Tx, entryParts, args)
	if err != nil {
		return out, err
	}
	of := map[int64][]Settled{}
	for _, p := range parts {
		of[p.PaymentID] = append(of[p.PaymentID], Settled{p.InvoiceID, p.Number, s.Money(p.Amount)})
	}
	for _, r := range rows {
		entry := PaymentRow{
			ID: r.ID, Kind: r.Kind, Back: r.Back, Date: r.OnDay.String(), Customer: r.Customer, Amount: s.Money(r.Moved), Method: r.Method,
			Reference: r.Reference, Note: r.Note, Invoices: []Settled{}, TakenBack: store.Text(r.TakenBack),
		}
		if !r.Back {
			entry.Invoices = append(entry.Invoices, of[r.ID]...)
		}
		out = append(out, entry)
	}
	return out, nil
}
