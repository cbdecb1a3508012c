package billing

import (
	"cmp"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/postal"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// PayFact is one thing that who pays an invoice has to know.
type PayFact struct {
	What string `json:"what"`
	Text string `json:"text"`
}

// JobPlace is a job of an invoice: where it is, and when its work was done.
type JobPlace struct {
	Job     string `json:"job"`
	Order   string `json:"orderNumber,omitempty" doc:"the customer's"`
	Site    string `json:"site,omitempty"`
	From    string `json:"from,omitempty" format:"date"`
	Through string `json:"through,omitempty" format:"date"`
	Amount  string `json:"amount" format:"decimal"`
}

// remit says how an invoice is paid and by when, and where and when the work on it was.
func remit(s *book.Session, v *InvoiceView, i InvoiceRow) error {
	if i.CreditOf == nil {
		v.Terms = english(i.Invoice).Terms(int64(i.Due - i.Date))
		v.HowToPay = howToPay(i)
	}
	type row struct {
		Number, Name, Site, OrderNumber string
		Subtotal                        money.Amount
		From, Through                   *calendar.Date
	}
	rows, err := store.Query[row](s.Tx, placesOf, i.ID)
	if err != nil {
		return err
	}
	for _, r := range rows {
		place := JobPlace{Job: r.Number + " " + r.Name, Order: r.OrderNumber, Site: r.Site, Amount: s.Money(i.Printed(r.Subtotal))}
		if r.From != nil {
			place.From, place.Through = r.From.String(), r.Through.String()
		}
		v.Places = append(v.Places, place)
	}
	v.OrderNumber, err = orderNumber(s, i.Invoice)
	return err
}

// orderNumber is the customer's order on an invoice: as it was typed; on a draft with none the one that all of its jobs are worked under.
func orderNumber(s *book.Session, i store.Invoice) (string, error) {
	if i.OrderNumber != "" || i.Status == store.Issued {
		return i.OrderNumber, nil
	}
	orders, err := store.Query[string](s.Tx, orderOfJobs, i.ID)
	return strings.Join(orders, ""), err
}

func howToPay(i InvoiceRow) (facts []PayFact) {
	add := func(what, text string) {
		if text != "" {
			facts = append(facts, PayFact{what, text})
		}
	}
	add("Bank", i.Bank)
	if i.Account != "" {
		add("Payee", payee(i))
	}
	add("Account", i.Account)
	add(english(i.Invoice).Of("Bank code"), i.BankCode)
	if len(facts) > 0 && i.Number != nil {
		add("Reference", i.NumberText())
	}
	add("Or", i.PayNote)
	return facts
}

// english is the English of an invoice's own words.
func english(i store.Invoice) words.Spelling {
	return words.SpellingOf(postal.Assumed(i.CompanyCountry, i.Currency))
}

func payee(i InvoiceRow) string {
	if i.Payee != "" {
		return i.Payee
	}
	return i.CompanyName
}

// paperSize is what the company prints on: as it says, else as it is usual where it is.
func paperSize(co store.Company) string {
	return cmp.Or(co.PaperSize, postal.PaperSize(postal.Assumed(co.Country, co.Currency)))
}

// SenderOf is the head of a paper of the company that is no invoice.
func SenderOf(co store.Company) InvoiceView {
	i := InvoiceRow{Invoice: store.Invoice{CompanyName: co.CompanyName, Remittance: co.Remittance}}
	return InvoiceView{
		Status: store.Issued, CompanyName: co.CompanyName, CompanyEmail: co.Email, CompanyPhone: co.Phone, CompanyCountry: co.Country,
		CompanyTax: co.TaxNumber, Licence: co.Licence, Accent: co.Accent, PaperSize: paperSize(co), Currency: co.Currency,
		CompanyLogo: store.Text(co.Logo), Payee: payee(i), HowToPay: howToPay(i),
	}
}
