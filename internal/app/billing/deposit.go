package billing

import (
	"context"
	"fmt"
	"slices"

	"jarvo/internal/app/book"
	"jarvo/internal/app/drafting"
	"jarvo/internal/app/form"
	"jarvo/internal/app/refuse"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// DepositRow is a deposit that was asked for, before tax, and what has become of it (calculation.md section 13).
type DepositRow struct {
	ID       int64  `json:"id" doc:"of its invoice"`
	Number   string `json:"number"`
	Date     string `json:"date" format:"date"`
	Customer string `json:"customer"`
	Job      string `json:"job"`
	Name     string `json:"name" doc:"of the job"`
	Asked    string `json:"asked" format:"decimal"`
	Paid     string `json:"paid" format:"decimal" doc:"with tax"`
	Credited string `json:"credited,omitempty" format:"decimal"`
	Applied  string `json:"applied,omitempty" format:"decimal"`
	OnDrafts string `json:"onDrafts,omitempty" doc:"what drafts apply of it"`
	Open     string `json:"open" format:"decimal" doc:"asked less credited and applied"`
	Here     string `json:"here,omitempty" doc:"of an invoice: what is applied to it"`
	Proposed string `json:"proposed,omitempty" doc:"of a draft: what of it is paid and open, at most what is due"`
}

// deposit is a deposit that was asked for.
type deposit struct {
	DepositID                               int64
	Asked, Credited, Applied, Drafted, Open money.Amount
	Number, Customer, Job, Name             string
	Date                                    calendar.Date
	Due, DueCredited, Paid                  money.Amount // with tax
	Here, HereTax                           money.Amount // applied to one invoice, and the tax that is deducted with it
}

// dueBeside is what is due on a draft beside what it takes of this deposit.
func (d deposit) dueBeside(draft store.Invoice) money.Amount {
	return draft.DueNow + d.Here + d.HereTax
}

func (d deposit) row(s *book.Session) DepositRow {
	return DepositRow{
		ID: d.DepositID, Number: d.Number, Date: d.Date.String(), Customer: d.Customer, Job: d.Job, Name: d.Name, Asked: s.Money(d.Asked),
		Paid: s.Money(d.Paid), Credited: orBlank(s, d.Credited), Applied: orBlank(s, d.Applied), OnDrafts: orBlank(s, d.Drafted),
		Open: s.Money(d.Open), Here: orBlank(s, d.Here),
	}
}

// paidOpen is what of it has been paid, before tax, and is neither applied nor on another draft.
func (d deposit) paidOpen() (money.Amount, error) {
	due := d.Due - d.DueCredited
	if due <= 0 {
		return 0, nil
	}
	paid, err := money.Ratio(int64(due), int64(d.Asked-d.Credited), int64(d.Paid))
	return max(0, min(money.Amount(paid)-d.Applied, d.Open)-d.Drafted+d.Here), err
}

// openDeposits are the deposits of which something is open, of a job or of all.
func openDeposits(s *book.Session, jobID int64) ([]DepositRow, error) {
	deposits, err := store.Query[deposit](s.Tx, depositRows+` WHERE d.open <> 0 AND @job IN (0, d.job_id) ORDER BY i.number`,
		map[string]any{"job": jobID, "invoice": 0})
	rows := make([]DepositRow, len(deposits))
	for i, d := range deposits {
		rows[i] = d.row(s)
	}
	return rows, err
}

// deposits shows what is applied of deposits to an invoice and, beside a draft, what could be. Of a deposit it shows what has become of it.
func deposits(s *book.Session, v *InvoiceView, i InvoiceRow) error {
	args := map[string]any{"invoice": i.ID, "customer": i.CustomerID}
	v.IsDeposit = slices.ContainsFunc(v.Typed, func(l TypedLine) bool { return l.Kind == drafting.DepositLine })
	where := ` WHERE a.amount IS NOT NULL ORDER BY i.number`
	switch {
	case v.IsDeposit:
		where = ` WHERE d.deposit_id = @invoice`
	case i.Status == store.Draft:
		where = ` WHERE i.customer_id = @customer AND (d.open > d.drafted OR a.amount IS NOT NULL) ORDER BY i.number`
	}
	found, err := store.Query[deposit](s.Tx, depositRows+where, args)
	if err != nil {
		return err
	}
	for _, d := range found {
		row := d.row(s)
		if i.Status == store.Draft {
			paid, err := d.paidOpen()
			if err != nil {
				return err
			}
			proposed, err := drafting.AtMost(s, d.DepositID, paid, d.dueBeside(i.Invoice))
			if err != nil {
				return err
			}
			row.Proposed = orBlank(s, proposed.Amount)
		}
		v.Deposits = append(v.Deposits, row)
	}
	return nil
}

// Applied are the deposits that are applied to an invoice.
func (v InvoiceView) Applied() []DepositRow {
	return slices.DeleteFunc(slices.Clone(v.Deposits), func(d DepositRow) bool { return d.Here == "" || v.IsDeposit })
}

// ApplyingDeposit applies an amount of a deposit.
type ApplyingDeposit struct {
	ID     int64  `json:"id" doc:"of the invoice that asked for it"`
	Amount string `json:"amount,omitempty" doc:"before tax; absent: none of it"`
}

// DraftDeposits are what is applied of deposits to a draft, on the version that was seen. Deposits that it does not name stay as they are.
type DraftDeposits struct {
	Version  int64             `json:"version" doc:"as it was seen"`
	Deposits []ApplyingDeposit `json:"deposits" minItems:"1" maxItems:"500"`
}

// ApplyDeposits applies deposits of the customer to a draft (calculation.md section 13).
func ApplyDeposits(ctx context.Context, b *book.Book, actor book.Actor, draftID int64, in DraftDeposits) (InvoiceView, error) {
	return changeDraft(ctx, b, actor, draftID, in.Version, func(s *book.Session, draft *store.Invoice) error {
		c := s.Checks()
		for i, on := range in.Deposits {
			if err := applyDeposit(s, c, fmt.Sprintf("deposits[%d].", i), draft, on); err != nil {
				return err
			}
		}
		return c.Err()
	})
}

// applyDeposit applies one deposit, and leaves on the draft what is due for the next one.
func applyDeposit(s *book.Session, c *form.Checks, path string, draft *store.Invoice, on ApplyingDeposit) error {
	asks, err := store.Value[int64](s.Tx, asksForDeposit, draft.ID)
	if err != nil {
		return err
	}
	if asks != 0 {
		return refuse.Conflict("a deposit is not paid with another; apply it to an invoice of work")
	}
	found, err := store.Query[deposit](s.Tx, depositRows+` WHERE d.deposit_id = @deposit AND i.customer_id = @customer`,
		map[string]any{"invoice": draft.ID, "deposit": on.ID, "customer": draft.CustomerID})
	if err != nil {
		return err
	}
	if len(found) == 0 {
		c.Add(path+"id", "this is no deposit of %s", draft.CustomerName)
		return nil
	}
	amount := form.OrZero(c, path+"amount", on.Amount, s.ParseAmount)
	due, left := found[0].dueBeside(*draft), found[0].Open-found[0].Drafted+found[0].Here
	if amount < 0 || amount > left {
		c.Add(path+"amount", "%s of this deposit is open", s.Money(left))
		return nil
	}
	fits, err := drafting.AtMost(s, on.ID, amount, due)
	if err != nil {
		return err
	}
	if fits.Amount < amount {
		c.Add(path+"amount", "with its tax no more than %s can be set against this invoice", s.Money(fits.Amount))
		return nil
	}
	draft.DueNow = due - fits.Amount - fits.Tax
	return drafting.ApplyDeposit(s, draft.ID, on.ID, amount)
}
