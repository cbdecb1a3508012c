package billing

import (
	"jarvo/internal/app/book"
	"jarvo/internal/app/receivable"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// ReceivedRow is what was set against an invoice on a day, or lifted again.
type ReceivedRow struct {
	Date   string `json:"date" format:"date"`
	Amount string `json:"amount" format:"decimal" doc:"below 0: lifted again"`
	Text   string `json:"text" doc:"how it came, or that it was the customer's credit"`
	Why    string `json:"why,omitempty" doc:"why its payment was taken back"`
}

// received shows what was set against an issued invoice, and what more of the customer's credit could be.
func received(s *book.Session, v *InvoiceView, i InvoiceRow) error {
	if i.Status == store.Draft || i.CreditOf != nil {
		return nil
	}
	type row struct {
		Date      calendar.Date
		Amount    money.Amount
		PaymentID *int64
		Method    string
		Reference string
		TakenBack string
	}
	rows, err := store.Query[row](s.Tx, receivedOf, i.ID)
	if err != nil {
		return err
	}
	for _, r := range rows {
		out := ReceivedRow{Date: r.Date.String(), Amount: s.Money(r.Amount), Text: "credit"}
		if r.PaymentID != nil {
			out.Text = joined(r.Method, r.Reference)
		}
		if r.Amount < 0 {
			out.Why = r.TakenBack
		}
		v.Received = append(v.Received, out)
	}
	if i.Left <= 0 {
		return nil
	}
	credit, err := receivable.Credit(s, i.CustomerID)
	v.Credit = orBlank(s, min(credit, i.Left))
	return err
}

func joined(method, reference string) string {
	switch {
	case method == "" && reference == "":
		return "payment"
	case method == "" || reference == "":
		return method + reference
	}
	return method + ", " + reference
}
