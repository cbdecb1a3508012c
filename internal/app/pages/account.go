package pages

import (
	"strconv"

	"jarvo/internal/app/book"
	"jarvo/internal/app/receivable"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// Account is where a customer stands: owed + retained - credit is the total.
type Account struct {
	Owed      string   `json:"owed" format:"decimal"`
	Retained  string   `json:"retained" format:"decimal"`
	Credit    string   `json:"credit" format:"decimal"`
	Total     string   `json:"total" format:"decimal"`
	Ages      []Age    `json:"ages" doc:"of what is owed, by how long it is overdue"`
	Waiting   string   `json:"waiting" format:"decimal" doc:"the charge of work that is not approved"`
	Ready     string   `json:"ready" format:"decimal" doc:"to bill"`
	OnDrafts  string   `json:"onDrafts" format:"decimal" doc:"before tax"`
	PaysAfter string   `json:"paysAfter,omitempty" doc:"days from invoice to payment on average, of the last year"`
	Income    []Income `json:"income" doc:"of twelve months, the last is this one"`
	Year      string   `json:"year" format:"decimal" doc:"what they come to"`
	YearTax   string   `json:"yearTax" format:"decimal" doc:"the tax that was charged in them"`
}

// Age is what is owed for as long.
type Age struct {
	Label  string `json:"label"`
	Amount string `json:"amount" format:"decimal"`
}

// Income is what was billed in a month, less credit notes.
type Income struct {
	Month   string `json:"month" doc:"as 2026-11"`
	Billed  string `json:"billed" format:"decimal"`
	Drafted string `json:"drafted,omitempty" format:"decimal" doc:"what drafts dated in it hold"`
}

// ageLabels are what the columns of aging are called.
var ageLabels = []string{"not due", "1 to 30 days", "31 to 60", "61 to 90", "over 90"}

const monthsShown = 12

func accountOf(s *book.Session, customerID int64) (*Account, error) {
	open, err := receivable.OpenOf(s, customerID)
	if err != nil {
		return nil, err
	}
	credit, err := receivable.Credit(s, customerID)
	if err != nil {
		return nil, err
	}
	var ages [5]money.Amount
	var owed money.Amount
	today := s.Today()
	for _, o := range open {
		ages[billing.Aged(today-o.Due)] += o.Left
		owed += o.Left
	}
	first := calendar.On(today.Year(), today.Time().Month(), 1)
	from := first.Time().AddDate(0, 1-monthsShown, 0)
	args := map[string]any{"id": customerID, "today": today, "from": calendar.On(from.Year(), from.Month(), 1)}
	sums, err := store.Value[struct {
		Retained, Waiting, Ready, Drafted, Tax money.Amount
		Days                                   *int64
	}](s.Tx, accountSums, args)
	if err != nil {
		return nil, err
	}
	out := &Account{
		Owed: s.Money(owed), Retained: s.Money(sums.Retained), Credit: s.Money(credit), Total: s.Money(owed + sums.Retained - credit),
		Waiting: s.Money(sums.Waiting), Ready: s.Money(sums.Ready), OnDrafts: s.Money(sums.Drafted), YearTax: s.Money(sums.Tax),
	}
	if sums.Days != nil {
		out.PaysAfter = strconv.FormatInt(*sums.Days, 10)
	}
	for i, label := range ageLabels {
		out.Ages = append(out.Ages, Age{label, s.Money(ages[i])})
	}
	months, err := store.Query[struct {
		Month           string
		Billed, Drafted money.Amount
	}](s.Tx, incomeByMonth, args)
	if err != nil {
		return nil, err
	}
	var year money.Amount
	for n := range monthsShown {
		month := Income{Month: from.AddDate(0, n, 0).Format("2006-01"), Billed: s.Money(0)}
		for _, m := range months {
			if m.Month != month.Month {
				continue
			}
			month.Billed = s.Money(m.Billed)
			if m.Drafted != 0 {
				month.Drafted = s.Money(m.Drafted)
			}
			year += m.Billed
		}
		out.Income = append(out.Income, month)
	}
	out.Year = s.Money(year)
	return out, nil
}
