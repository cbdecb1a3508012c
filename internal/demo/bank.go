package demo

import (
	"context"
	"fmt"
	"io"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/receivable"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/statement"
	"jarvo/internal/store"
)

// WriteStatement writes a statement as the company's bank would, as its stand-in: the open invoices are paid, in the ways that customers
// pay, beside interest and a fee.
func WriteStatement(ctx context.Context, b *book.Book, w io.Writer, table bool) error {
	type customer struct {
		ID   int64
		Name string
	}
	var lines []statement.Line
	account, currency := "", ""
	_, err := book.Read(ctx, b, book.Console, book.Bill, func(s *book.Session) (bool, error) {
		account, currency = s.Company.Account, s.Company.Currency
		customers, err := store.Query[customer](s.Tx, "SELECT id, name FROM customers ORDER BY name")
		if err != nil {
			return false, err
		}
		for _, c := range customers {
			open, err := receivable.OpenOf(s, c.ID)
			if err != nil {
				return false, err
			}
			for _, o := range open {
				lines = append(lines, paid(s, c.Name, o, len(lines)))
			}
		}
		day := s.Today()
		lines = append(lines, statement.Line{Date: day, Amount: "1.07", Name: "Quay Bank", Text: "Interest", Ref: "QB-I"},
			statement.Line{Date: day, Amount: "-12.50", Name: "Quay Bank", Text: "Account fee", Ref: "QB-F"})
		return true, nil
	})
	if err != nil {
		return err
	}
	if table {
		return statement.WriteTable(w, lines)
	}
	return statement.WriteCamt(w, account, currency, lines)
}

// paid is how a customer pays an invoice: with its number, by name alone, a part, with a name that is nobody's.
func paid(s *book.Session, name string, o receivable.Open, n int) statement.Line {
	l := statement.Line{
		Date: min(s.Today(), o.Due+calendar.Date(n%3)), Amount: s.Money(o.Left), Name: strings.ToUpper(name), Ref: fmt.Sprintf("QB-%04d", n+1),
	}
	switch n % 5 {
	case 0, 1, 2:
		l.Text = "Invoice " + o.NumberText
	case 3:
		l.Amount = s.Money(max(1, o.Left/money.Amount(2)))
		l.Text = "on account"
	case 4:
		l.Name, l.Text = "Harbour Pay Services", "settlement"
	}
	return l
}
