package collect

import (
	"context"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/receivable"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	rules "jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// AccountStatement is a statement of account, as it is sent to a customer: what they owed on a day, all that has changed it since, and what
// they owe now. What is retained is not due, and stands beside it.
type AccountStatement struct {
	Head     billing.InvoiceView // the company, the customer, and how to pay
	From     string
	Through  string
	Opening  string // what was owed the day before, less credit
	Lines    []StatementLine
	Closing  string
	Retained string
	Ages     [5]string // of what is owed, by how long it is overdue
	Credit   string
}

// StatementLine is one entry of an account.
type StatementLine struct {
	Date    string
	What    string
	Due     string // of an invoice
	Charge  string
	Paid    string
	Balance string
}

// Ages are what the columns of a statement's ages are called.
var Ages = []string{"Not due", "1 to 30 days", "31 to 60", "61 to 90", "Over 90"}

// StatementOf is the statement of account of a customer from a day to another; zero days are the last quarter through today.
func StatementOf(
	ctx context.Context, b *book.Book, actor book.Actor, customerID int64, from, through calendar.Date,
) (AccountStatement, error) {
	return book.Read(ctx, b, actor, book.Bill, func(s *book.Session) (AccountStatement, error) {
		return AccountOf(s, customerID, from, through)
	})
}

// AccountOf is [StatementOf] within a use case.
func AccountOf(s *book.Session, customerID int64, from, through calendar.Date) (out AccountStatement, _ error) {
	customer, found, err := store.One[store.Customer](s.Tx, customerID)
	if err != nil || !found {
		return out, refuse.OrNotFound(err, "customer")
	}
	if through == 0 {
		through = s.Today()
	}
	if from == 0 {
		from = through - 92
	}
	co := s.Company
	out.Head = billing.SenderOf(co)
	out.Head.CompanyAddress = register.CompanyAddress(co)
	out.Head.CustomerName, out.Head.CustomerCode = customer.Name, customer.Code
	out.Head.CustomerAddress = register.CustomerAddress(customer, co.Country)
	out.From, out.Through = from.String(), through.String()
	args := map[string]any{"customer": customerID, "from": from, "to": through}
	balance, err := store.Value[money.Amount](s.Tx, owedBefore, args)
	if err != nil {
		return out, err
	}
	out.Opening = s.Money(balance)
	rows, err := store.Query[struct {
		Date, Due calendar.Date
		What      string
		Amount    money.Amount
	}](s.Tx, statementRows, args)
	if err != nil {
		return out, err
	}
	for _, r := range rows {
		balance += r.Amount
		line := StatementLine{Date: r.Date.String(), What: r.What, Balance: s.Money(balance)}
		if r.Amount >= 0 {
			line.Charge = s.Money(r.Amount)
		} else {
			line.Paid = s.Money(-r.Amount)
		}
		if r.Due != 0 {
			line.Due = r.Due.String()
		}
		out.Lines = append(out.Lines, line)
	}
	out.Closing = s.Money(balance)
	return out, stands(s, &out, customerID, through)
}

// stands says how old what is owed is at the end of a day, and what is retained and credit.
func stands(s *book.Session, out *AccountStatement, customerID int64, day calendar.Date) error {
	var ages [5]money.Amount
	open, err := receivable.OpenOn(s, receivable.InvoicesOf{To: day, CustomerID: customerID})
	if err != nil {
		return err
	}
	for _, o := range open {
		ages[rules.Aged(day-o.Due)] += o.Left
	}
	for i, a := range ages {
		out.Ages[i] = s.Money(a)
	}
	sums, err := store.Value[struct{ Credit, Retained money.Amount }](s.Tx, besideOwed, map[string]any{"customer": customerID, "to": day})
	out.Credit, out.Retained = s.Money(sums.Credit), s.Money(sums.Retained)
	return err
}
