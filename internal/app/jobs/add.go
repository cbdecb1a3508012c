package jobs

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
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
	Key         string     `json:"key,omitempty"`
	Number      string     `json:"number" doc:"blank: the next of the company's own"`
	CustomerID  int64      `json:"customerId,omitempty" doc:"absent where the basis is none"`
	Name        string     `json:"name"`
	Type        string     `json:"type,omitempty"`
	Status      string     `json:"status,omitempty" doc:"live where absent"`
	Basis       string     `json:"basis" doc:"tm, fixed or none"`
	Contract    string     `json:"contract,omitempty"`
	Retainage   string     `json:"retainage,omitempty" doc:"percent"`
	Site        string     `json:"site,omitempty"`
	OrderNumber string     `json:"orderNumber,omitempty" doc:"the customer's"`
	Start       string     `json:"start,omitempty"`
	Finish      string     `json:"finish,omitempty"`
	Description string     `json:"description,omitempty"`
	Card        string     `json:"card,omitempty" doc:"name of a rate card; made where there is none"`
	TaxCode     string     `json:"taxCode,omitempty"`
	NeedsCode   bool       `json:"needsCostCode,omitempty" doc:"its hours are to have a cost code"`
	Phases      []NewPhase `json:"phases,omitempty" maxItems:"200"`
}

// NewPhase is a part of a job.
type NewPhase struct {
	ID       int64  `json:"id,omitempty" doc:"of one that the job has; absent for a new one"`
	Code     string `json:"code"`
	Name     string `json:"name"`
	Basis    string `json:"basis,omitempty" doc:"blank: the job's"`
	Contract string `json:"contract,omitempty"`
	Done     bool   `json:"done,omitempty" doc:"no more cost is expected of it"`
}

// Add opens a job.
func Add(ctx context.Context, b *book.Book, actor book.Actor, in NewJob) (int64, error) {
	return book.Write(ctx, b, actor, book.Setup, func(s *book.Session) (int64, error) {
		return book.Once(s, "job", in.Key, in, func() (int64, error) { return addJob(s, in) })
	})
}

func addJob(s *book.Session, in NewJob) (int64, error) {
	row, err := in.read(s, store.Job{Status: store.Live, Version: 1})
	if err != nil {
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
	if err := savePhases(s, row.ID, in.Phases); err != nil {
		return 0, err
	}
	return row.ID, s.Record("opened", "job", row.ID, nil, map[string]string{"number": row.Number, "name": row.Name})
}

// read reads what is typed over a job.
func (in NewJob) read(s *book.Session, row store.Job) (store.Job, error) {
	c := s.Checks()
	row.Number, row.CustomerID, row.Name = c.Text("number", in.Number), store.Ref(in.CustomerID), c.Needed("name", in.Name, "a name")
	row.Type, row.Site, row.Description = c.Text("type", in.Type), c.Text("site", in.Site), c.Text("description", in.Description)
	row.OrderNumber = c.Text("orderNumber", in.OrderNumber)
	row.Basis, row.Contract = c.OneOf("basis", in.Basis, billing.Bases...), form.Optional(c, "contract", in.Contract, s.ParseAmount)
	row.Retainage = form.OrZero(c, "retainage", in.Retainage, form.ParsePercent)
	row.Start, row.Finish = form.Optional(c, "start", in.Start, calendar.Parse), form.Optional(c, "finish", in.Finish, calendar.Parse)
	row.NeedsCostCode = in.NeedsCode
	if in.Status != "" {
		row.Status = c.OneOf("status", in.Status, store.JobStatuses...)
	}
	if row.Contract != nil {
		form.NotNegative(c, "contract", *row.Contract, "a contract")
	}
	if row.Retainage < 0 || row.Retainage > money.Whole {
		c.Add("retainage", "retainage is between 0 and 100 %%")
	}
	if row.Start != nil && row.Finish != nil && *row.Finish < *row.Start {
		c.Add("finish", "this is before the start")
	}
	card := c.Text("card", in.Card)
	if err := cmp.Or(checkJob(s, c, &row), c.Err()); err != nil {
		return row, err
	}
	row.NumberOrder = words.SortKey(row.Number)
	var err error
	if row.RateCardID, err = register.Reference(s, "rate_cards", card); err != nil {
		return row, err
	}
	row.TaxCodeID, err = register.Existing(s, "tax_codes", "taxCode", in.TaxCode)
	return row, err
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
	if row.Number == "" && row.ID != 0 {
		c.Add("number", "a number is needed")
		return nil
	}
	if row.Number == "" {
		number, err := register.NextJobNumber(s)
		row.Number = number
		return err
	}
	taken, err := store.All[store.Job](s.Tx, "id", "number = ? AND id <> ?", row.Number, row.ID)
	if err == nil && len(taken) > 0 {
		c.Add("number", "job %s is there already: %s", row.Number, taken[0].Name)
	}
	return err
}

// savePhases gives a job its phases: those that it has by their id, new ones without, and those that are left out are deleted.
func savePhases(s *book.Session, jobID int64, phases []NewPhase) error {
	had, err := store.All[store.Phase](s.Tx, "id", "job_id = ?", jobID)
	if err != nil {
		return err
	}
	byID := map[int64]store.Phase{}
	for _, p := range had {
		byID[p.ID] = p
	}
	c := s.Checks()
	codes := map[string]bool{}
	rows := make([]store.Phase, len(phases))
	for i, p := range phases {
		path := fmt.Sprintf("phases[%d].", i)
		row, there := byID[p.ID]
		if p.ID != 0 && !there {
			c.Add(path+"code", "this phase is not of this job any more")
		}
		delete(byID, p.ID)
		row.JobID, row.Code, row.Name = jobID, c.Needed(path+"code", p.Code, "a code"), c.Text(path+"name", p.Name)
		row.Done = p.Done
		row.Basis, row.Contract = nil, form.Optional(c, path+"contract", p.Contract, s.ParseAmount)
		if p.Basis != "" {
			basis := c.OneOf(path+"basis", p.Basis, billing.Bases...)
			row.Basis = &basis
		}
		if row.Contract != nil {
			form.NotNegative(c, path+"contract", *row.Contract, "a contract")
		}
		if codes[row.Code] {
			c.Add(path+"code", "there is a phase %s above", row.Code)
		}
		codes[row.Code] = true
		rows[i] = row
	}
	if err := c.Err(); err != nil {
		return err
	}
	for _, gone := range slices.Sorted(maps.Keys(byID)) {
		if err := register.Delete(
			s, "phases", gone, "phase", "work is booked to "+byID[gone].Code, [2]string{"budgets", "phase_id"},
		); err != nil {
			return err
		}
	}
	for i := range rows {
		if err := s.Save(&rows[i]).Error; err != nil {
			return err
		}
	}
	return nil
}

// JobChange is a job as it is to be.
type JobChange struct {
	NewJob
	Version int64 `json:"version" doc:"as it was seen"`
}

// Change changes a job: what it is called, whose it is, how it is billed, its phases. What is not billed is charged by what it says now;
// what is billed stays, and with it whose job it is and its number.
func Change(ctx context.Context, b *book.Book, actor book.Actor, number string, in JobChange) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := seen(s, number, in.Version)
		if err != nil {
			return err
		}
		now, err := in.read(s, had)
		if err != nil {
			return err
		}
		if err := checkBilled(s, had, now); err != nil {
			return err
		}
		now.Version = had.Version + 1
		if err := s.Save(&now).Error; err != nil {
			return err
		}
		if err := savePhases(s, had.ID, in.Phases); err != nil {
			return err
		}
		if err := register.RefuseInstalmentsAstray(s, had.ID); err != nil {
			return err
		}
		step := costing.Begin(s)
		if err := book.InOrder(
			func() error { return step.PricedHours("e.job_id = ?", had.ID) },
			func() error { return step.PricedLines("l.job_id = ?", had.ID) },
			func() error {
				return step.DraftsOf("i.id IN (SELECT invoice_id FROM invoice_jobs WHERE job_id = ?)", had.ID)
			},
			step.Run,
		); err != nil {
			return err
		}
		return s.Record("changed", "job", had.ID, had, now)
	})
}

// typedOf is a job as it was typed.
func typedOf(s *book.Session, job store.Job) (JobChange, error) {
	out := JobChange{Version: job.Version, NewJob: NewJob{
		Number: job.Number, CustomerID: store.ID(job.CustomerID), Name: job.Name, Type: job.Type, Status: job.Status, Basis: job.Basis,
		Contract: s.Maybe(job.Contract), Retainage: job.Retainage.String(), Site: job.Site, Start: dateText(job.Start),
		Finish: dateText(job.Finish), Description: job.Description, NeedsCode: job.NeedsCostCode, OrderNumber: job.OrderNumber,
	}}
	names, err := store.Value[struct{ Card, Tax string }](s.Tx, jobCodes, job.ID)
	if err != nil {
		return out, err
	}
	out.Card, out.TaxCode = names.Card, names.Tax
	phases, err := store.All[store.Phase](s.Tx, "code", "job_id = ?", job.ID)
	for _, p := range phases {
		row := NewPhase{ID: p.ID, Code: p.Code, Name: p.Name, Contract: s.Maybe(p.Contract), Done: p.Done}
		if p.Basis != nil {
			row.Basis = *p.Basis
		}
		out.Phases = append(out.Phases, row)
	}
	return out, err
}

func dateText(d *calendar.Date) string {
	if d == nil {
		return ""
	}
	return d.String()
}

// checkBilled refuses another customer or number where the job is on an invoice.
func checkBilled(s *book.Session, had, now store.Job) error {
	c := s.Checks()
	on, err := store.Value[int64](s.Tx, "SELECT count(*) FROM invoice_jobs WHERE job_id = ?", had.ID)
	if err != nil || on == 0 {
		return err
	}
	if !store.Same(had.CustomerID, now.CustomerID) {
		c.Add("customerId", "this job is on an invoice, so it stays its customer's")
	}
	if had.Number != now.Number {
		c.Add("number", "this job is on an invoice under its number, so the number stays")
	}
	return c.Err()
}

// Delete deletes a job that nothing is booked to.
func Delete(ctx context.Context, b *book.Book, actor book.Actor, number string, version int64) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := seen(s, number, version)
		if err != nil {
			return err
		}
		if err := register.Delete(
			s, "jobs", had.ID, "job", "close it instead", [2]string{"budgets", "job_id"}, [2]string{"phases", "job_id"},
		); err != nil {
			return err
		}
		return s.Record("deleted", "job", had.ID, had, nil)
	})
}

func seen(s *book.Session, number string, version int64) (store.Job, error) {
	job, err := register.JobByNumber(s, number)
	if err != nil {
		return job, err
	}
	return register.Seen(s, job.ID, version, "job", func(j store.Job) int64 { return j.Version })
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
	row, err := in.read(s, store.CostCode{Active: true, Version: 1})
	if err != nil {
		return 0, err
	}
	if err := s.Create(&row).Error; err != nil {
		return 0, err
	}
	return row.ID, s.Record("added", "cost_code", row.ID, nil, in)
}

// read reads what is typed over a cost code.
func (in NewCode) read(s *book.Session, row store.CostCode) (store.CostCode, error) {
	c := s.Checks()
	row.Code, row.Name = c.Needed("code", in.Code, "a code"), c.Needed("name", in.Name, "a name")
	taken, err := store.All[store.CostCode](s.Tx, "id", "code = ? AND id <> ?", row.Code, row.ID)
	if err != nil {
		return row, err
	}
	if len(taken) > 0 {
		c.Add("code", "cost code %s is there already: %s", row.Code, taken[0].Name)
	}
	return row, c.Err()
}

// CodeChange is a cost code as it is to be.
type CodeChange struct {
	NewCode
	Version int64 `json:"version" doc:"as it was seen"`
	Active  bool  `json:"active" doc:"offered; a retired one stays in all that it was used for"`
}

// ChangeCostCode changes what a cost code is called, or retires it.
func ChangeCostCode(ctx context.Context, b *book.Book, actor book.Actor, codeID int64, in CodeChange) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := seenCode(s, codeID, in.Version)
		if err != nil {
			return err
		}
		now, err := in.read(s, had)
		if err != nil {
			return err
		}
		now.Active, now.Version = in.Active, had.Version+1
		if err := s.Save(&now).Error; err != nil {
			return err
		}
		step := costing.Begin(s)
		if err := step.DraftsOfHours("e.cost_code_id = ?", codeID); err != nil {
			return err
		}
		if err := step.Run(); err != nil {
			return err
		}
		return s.Record("changed", "cost_code", codeID, had, now)
	})
}

// DeleteCostCode deletes a cost code that nothing is booked to.
func DeleteCostCode(ctx context.Context, b *book.Book, actor book.Actor, codeID, version int64) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := seenCode(s, codeID, version)
		if err != nil {
			return err
		}
		if err := register.Delete(s, "cost_codes", codeID, "cost code", "retire it instead"); err != nil {
			return err
		}
		return s.Record("deleted", "cost_code", codeID, had, nil)
	})
}

func seenCode(s *book.Session, codeID, version int64) (store.CostCode, error) {
	return register.Seen(s, codeID, version, "cost code", func(c store.CostCode) int64 { return c.Version })
}
