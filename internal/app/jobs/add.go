package jobs

import (
	"context"
	"fmt"

	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/register"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// NewJob is a job for a customer.
type NewJob struct {
	Key        string     `json:"key,omitempty"`
	Number     string     `json:"number" doc:"blank: the next of the company's own"`
	CustomerID int64      `json:"customerId,omitempty" doc:"absent where the basis is none"`
	Name       string     `json:"name"`
	Type       string     `json:"type,omitempty"`
	Status     string     `json:"status,omitempty" doc:"live where absent"`
	Basis      string     `json:"basis" doc:"tm, fixed or none"`
	Contract   string     `json:"contract,omitempty"`
	Retainage  string     `json:"retainage,omitempty" doc:"percent"`
	Site       string     `json:"site,omitempty"`
	Start      string     `json:"start,omitempty"`
	Card       string     `json:"card,omitempty" doc:"name of a rate card; made where there is none"`
	TaxCode    string     `json:"taxCode,omitempty"`
	NeedsCode  bool       `json:"needsCostCode,omitempty" doc:"its hours are to have a cost code"`
	Phases     []NewPhase `json:"phases,omitempty" maxItems:"200"`
}

// NewPhase is a part of a job.
type NewPhase struct {
	Code string `json:"code"`
	Name string `json:"name"`
}

// Add opens a job.
func Add(ctx context.Context, b *book.Book, actor book.Actor, in NewJob) (int64, error) {
	return book.Write(ctx, b, actor, book.Setup, func(s *book.Session) (int64, error) {
		return book.Once(s, "job", in.Key, in, func() (int64, error) { return addJob(s, in) })
	})
}

func addJob(s *book.Session, in NewJob) (int64, error) {
	c := s.Checks()
	row := store.Job{
		Number: c.Text("number", in.Number), CustomerID: store.Ref(in.CustomerID), Name: c.Needed("name", in.Name, "a name"),
		Type: c.Text("type", in.Type), Status: store.Live,
		Basis: c.OneOf("basis", in.Basis, billing.Bases...), Contract: form.Optional(c, "contract", in.Contract, s.ParseAmount),
		Retainage: form.OrZero(c, "retainage", in.Retainage, form.ParsePercent), Site: c.Text("site", in.Site),
		Start: form.Optional(c, "start", in.Start, calendar.Parse), NeedsCostCode: in.NeedsCode, Version: 1,
	}
	if in.Status != "" {
		row.Status = c.OneOf("status", in.Status, store.JobStatuses...)
	}
	if row.Contract != nil {
		form.NotNegative(c, "contract", *row.Contract, "a contract")
	}
	if row.Retainage < 0 || row.Retainage > money.Whole {
		c.Add("retainage", "retainage is between 0 and 100 %%")
	}
	in.Card = c.Text("card", in.Card)
	if err := checkJob(s, c, &row); err != nil {
		return 0, err
	}
	if err := c.Err(); err != nil {
		return 0, err
	}
	return createJob(s, row, in)
}

func checkJob(s *book.Session, c *form.Checks, row *store.Job) error {
	if row.CustomerID == nil && row.Basis != string(billing.Never) {
		c.Add("customerId", "whose job is it? choose the customer")
	}
	if row.CustomerID != nil {
		if _, found, err := store.One[store.Customer](s.Tx, *row.CustomerID); err != nil {
			return err
		} else if !found {
			c.Add("customerId", "there is no such customer")
		}
	}
	if row.Number == "" {
		number, err := register.NextJobNumber(s)
		row.Number = number
		return err
	}
	taken, err := store.All[store.Job](s.Tx, "id", "number = ?", row.Number)
	if err == nil && len(taken) > 0 {
		c.Add("number", "job %s is there already: %s", row.Number, taken[0].Name)
	}
	return err
}

func createJob(s *book.Session, row store.Job, in NewJob) (int64, error) {
	var err error
	row.NumberOrder = words.SortKey(row.Number)
	if row.RateCardID, err = register.Reference(s, "rate_cards", in.Card); err != nil {
		return 0, err
	}
	if row.TaxCodeID, err = register.Existing(s, "tax_codes", "taxCode", in.TaxCode); err != nil {
		return 0, err
	}
	if err := s.Create(&row).Error; err != nil {
		return 0, err
	}
	if row.Number == fmt.Sprint(s.Company.NextJobNumber) {
		if err := s.Model(&s.Company).Update("next_job_number", s.Company.NextJobNumber+1).Error; err != nil {
			return 0, err
		}
	}
	c := s.Checks()
	for i, p := range in.Phases {
		path := fmt.Sprintf("phases[%d].", i)
		phase := store.Phase{JobID: row.ID, Code: c.Needed(path+"code", p.Code, "a code"), Name: c.Text(path+"name", p.Name)}
		if err := c.Err(); err != nil {
			return 0, err
		}
		if err := s.Create(&phase).Error; err != nil {
			return 0, err
		}
	}
	return row.ID, s.Record("opened", "job", row.ID, nil, map[string]string{"number": row.Number, "name": row.Name})
}

// NewCode is a cost code.
type NewCode struct {
	Key  string `json:"key,omitempty"`
	Code string `json:"code"`
	Name string `json:"name"`
}

// AddCostCode adds a cost code.
func AddCostCode(ctx context.Context, b *book.Book, actor book.Actor, in NewCode) (int64, error) {
	return book.Write(ctx, b, actor, book.Setup, func(s *book.Session) (int64, error) {
		return book.Once(s, "cost_code", in.Key, in, func() (int64, error) { return addCostCode(s, in) })
	})
}

func addCostCode(s *book.Session, in NewCode) (int64, error) {
	row := store.CostCode{}
	c := s.Checks()
	row.Code, row.Name = c.Needed("code", in.Code, "a code"), c.Needed("name", in.Name, "a name")
	taken, err := store.All[store.CostCode](s.Tx, "id", "code = ?", row.Code)
	if err != nil {
		return 0, err
	}
	if len(taken) > 0 {
		c.Add("code", "cost code %s is there already: %s", row.Code, taken[0].Name)
	}
	if err := c.Err(); err != nil {
		return 0, err
	}
	if err := s.Create(&row).Error; err != nil {
		return 0, err
	}
	return row.ID, s.Record("added", "cost_code", row.ID, nil, in)
}
