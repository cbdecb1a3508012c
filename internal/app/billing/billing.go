// Package billing makes drafts of what is ready, and issues and shows invoices.
package billing

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"

	"jarvo/internal/app/book"
	"jarvo/internal/app/drafting"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/store"
)

// NewDrafts asks for drafts of all that is ready to bill.
type NewDrafts struct {
	Key     string   `json:"key" doc:"made by the client, so that a retry makes nothing twice"`
	Jobs    []int64  `json:"jobs" maxItems:"5000" doc:"ids of the jobs to bill"`
	Kinds   []string `json:"kinds,omitempty" maxItems:"20" doc:"of what; absent: all, and instalments that have come due"`
	Through string   `json:"through" format:"date" doc:"work up to this date, inclusive"`
	Date    string   `json:"date" format:"date" doc:"the invoices' date"`
}

// MakeDrafts makes a draft a job, or one a customer where the customer wants it so, of all that is
// ready to bill up to a date. What another draft holds already is not ready.
func MakeDrafts(ctx context.Context, b *book.Book, actor book.Actor, in NewDrafts) ([]DraftRow, error) {
	return book.Write(ctx, b, actor, book.Bill, func(s *book.Session) ([]DraftRow, error) {
		return book.Once(s, "drafts", in.Key, in, func() ([]DraftRow, error) {
			c := s.Checks()
			run := billRun{through: c.Date("through", in.Through), date: c.Date("date", in.Date), jobs: in.Jobs, kinds: in.Kinds}
			for i, kind := range in.Kinds {
				c.OneOf(fmt.Sprintf("kinds[%d]", i), kind, TypedCategories...)
			}
			if len(in.Jobs) == 0 {
				c.Add("jobs", "choose at least one job")
			}
			if err := c.Err(); err != nil {
				return nil, err
			}
			ids, err := runBilling(s, run)
			if err != nil {
				return nil, err
			}
			if len(ids) == 0 {
				return nil, refuse.Conflict("nothing of this is ready to bill any more; somebody else may have billed it")
			}
			return draftsWith(s, ids)
		})
	})
}

// Run is the bill run of the command line: drafts for all that is ready up to a date and, over all jobs, of the recurring invoices that
// have come due by the date of the run; where asked, it issues them. It returns the invoices it made, in order.
func Run(
	ctx context.Context, b *book.Book, actor book.Actor, through, date calendar.Date, jobNumber string, issue bool,
) ([]store.Invoice, error) {
	return book.Write(ctx, b, actor, book.Bill, func(s *book.Session) (made []store.Invoice, _ error) {
		run := billRun{through: through, date: date}
		if jobNumber != "" {
			job, err := register.JobByNumber(s, jobNumber)
			if err != nil {
				return made, err
			}
			run.jobs = []int64{job.ID}
		}
		var ids []int64
		if jobNumber == "" {
			var err error
			if ids, err = makeRecurring(s, date, 0, math.MaxInt); err != nil {
				return made, err
			}
		}
		more, err := runBilling(s, run)
		if err != nil {
			return made, err
		}
		for _, draft := range append(ids, more...) {
			if err := s.Stopped(); err != nil {
				return made, err
			}
			invoice, _, err := store.One[store.Invoice](s.Tx, draft)
			if err == nil && issue {
				invoice, err = number(s, invoice)
			}
			if err != nil {
				return made, err
			}
			made = append(made, invoice)
		}
		return made, nil
	})
}

type billRun struct {
	through, date calendar.Date
	jobs          []int64  // nil: every job
	kinds         []string // nil: of all
}

type readyJob struct {
	JobID      int64
	CustomerID int64
	InvoicePer string
	// NumberOrder is what the jobs are sorted by.
	NumberOrder string
}

// runBilling makes the drafts of a run and returns their ids, in the order of their jobs' numbers; a
// customer's draft takes the place of the lowest-numbered job on it.
func runBilling(s *book.Session, run billRun) ([]int64, error) {
	query := readyJobs
	jobs, err := store.Query[readyJob](s.Tx, query, map[string]any{"through": run.through})
	if err != nil {
		return nil, err
	}
	var groups [][]readyJob
	byCustomer := map[int64]int{}
	for _, j := range jobs {
		if run.jobs != nil && !slices.Contains(run.jobs, j.JobID) {
			continue
		}
		if at, ok := byCustomer[j.CustomerID]; ok && j.InvoicePer == "customer" {
			groups[at] = append(groups[at], j)
			continue
		}
		if j.InvoicePer == "customer" {
			byCustomer[j.CustomerID] = len(groups)
		}
		groups = append(groups, []readyJob{j})
	}
	var drafts []int64
	for _, g := range groups {
		if err := s.Stopped(); err != nil {
			return nil, err
		}
		draft, err := makeDraft(s, g, run)
		if errors.Is(err, billing.ErrNegative) {
			continue // left unbilled, to be set against later work
		}
		if err != nil {
			return nil, err
		}
		if draft == 0 {
			continue // held back by a limit
		}
		drafts = append(drafts, draft)
	}
	return drafts, nil
}

func makeDraft(s *book.Session, jobs []readyJob, run billRun) (int64, error) {
	ids := make([]int64, len(jobs))
	for i, j := range jobs {
		ids[i] = j.JobID
	}
	sources, err := drafting.ReadySources(s, ids, run.through)
	if err != nil {
		return 0, err
	}
	due, err := dueInstalments(s, ids, run.through)
	if len(run.kinds) > 0 {
		sources, due = slices.DeleteFunc(sources, func(src drafting.DraftSource) bool { return !slices.Contains(run.kinds, src.Category) }), nil
	}
	if err != nil || len(sources)+len(due) == 0 {
		return 0, err
	}
	draft, err := newDraft(s, jobs[0].CustomerID, run.date)
	if err != nil {
		return 0, err
	}
	rows := make([]store.InvoiceSource, len(sources))
	for i, src := range sources {
		rows[i] = store.InvoiceSource{
			InvoiceID: draft.ID, EntryID: store.Ref(src.EntryID), CostLineID: store.Ref(src.CostLineID), Part: src.Part, Way: string(src.Way),
			Charge: src.Charge, Amount: src.Amount,
		}
	}
	if len(rows) > 0 {
		if err := s.CreateInBatches(&rows, 500).Error; err != nil {
			return 0, err
		}
	}
	if err := billInstalments(s, draft, due); err != nil {
		return 0, err
	}
	if err := drafting.LayOut(s, &draft); err != nil {
		if errors.Is(err, billing.ErrNegative) {
			err = errors.Join(err, drafting.Erase(s, draft.ID))
		}
		return 0, err
	}
	return draft.ID, madeDraft(s, draft)
}

func address(s *book.Session, draft *store.Invoice, customer store.Customer) {
	co := s.Company
	draft.CompanyName, draft.CompanyAddress, draft.CompanyEmail = co.CompanyName, register.CompanyAddress(co), co.Email
	draft.CompanyTaxNumber, draft.CompanyLogo = co.TaxNumber, co.Logo
	draft.CompanyPhone, draft.CompanyCountry, draft.Remittance = co.Phone, co.Country, co.Remittance
	draft.PaperSize = paperSize(co)
	draft.CustomerName, draft.CustomerAddress = customer.Name, register.CustomerAddress(customer, co.Country)
	draft.Reference = customer.Reference
}

// draftAt loads a draft that a person saw at a version; what has changed since comes with the refusal.
func draftAt(s *book.Session, draftID, version int64) (store.Invoice, error) {
	draft, found, err := store.One[store.Invoice](s.Tx, draftID)
	switch {
	case err != nil:
		return draft, err
	case !found:
		return draft, refuse.NotFound("invoice")
	case draft.Status != store.Draft:
		return draft, refuse.Conflict("this invoice has been issued and never changes")
	case draft.Version != version:
		current, err := View(s, draftID)
		if err != nil {
			return draft, err
		}
		return draft, &refuse.Error{
			Kind: refuse.KindConflict, Message: "this draft has changed since you opened it; here it is as it stands now", Current: current,
		}
	}
	return draft, nil
}

// Regrouping chooses how much detail the customer sees of a draft, on the version that was seen.
type Regrouping struct {
	Version   int64  `json:"version" doc:"as it was seen"`
	Grouping  string `json:"grouping"`
	ShowRates bool   `json:"showRates,omitempty" doc:"hours with their rate, where the grouping shows them"`
}

// Regroup changes how much detail the customer sees. The total stays.
func Regroup(ctx context.Context, b *book.Book, actor book.Actor, draftID int64, in Regrouping) (InvoiceView, error) {
	return changeDraft(ctx, b, actor, draftID, in.Version, func(_ *book.Session, draft *store.Invoice) error {
		if !slices.Contains(billing.Groupings, billing.Grouping(in.Grouping)) {
			return refuse.Invalid("grouping", "%q is not a grouping", in.Grouping)
		}
		draft.Grouping, draft.ShowRates = in.Grouping, in.ShowRates
		return nil
	})
}

// DropDraft takes a draft away; what was on it is ready to bill again. No number is used up.
func DropDraft(ctx context.Context, b *book.Book, actor book.Actor, draftID, version int64) error {
	return book.Change(ctx, b, actor, book.Bill, func(s *book.Session) error {
		draft, err := draftAt(s, draftID, version)
		if err != nil {
			return err
		}
		return drafting.DropDraft(s, draft)
	})
}

// Issue gives a draft its number. From then on it and what it bills never change.
func Issue(ctx context.Context, b *book.Book, actor book.Actor, draftID, version int64) (InvoiceView, error) {
	return book.Write(ctx, b, actor, book.Bill, func(s *book.Session) (view InvoiceView, _ error) {
		draft, err := draftAt(s, draftID, version)
		if err != nil {
			return view, err
		}
		if _, err := number(s, draft); err != nil {
			return view, err
		}
		view, err = View(s, draftID)
		return view, err
	})
}

func number(s *book.Session, draft store.Invoice) (store.Invoice, error) {
	customer, _, err := store.One[store.Customer](s.Tx, draft.CustomerID)
	if err != nil {
		return draft, err
	}
	address(s, &draft, customer)
	if err := layOut(s, &draft); err != nil {
		return draft, err
	}
	if err := s.Exec(dropIdle, draft.ID).Error; err != nil {
		return draft, err
	}
	if err := freezeStands(s, draft.ID); err != nil {
		return draft, err
	}
	if draft.OrderNumber, err = orderNumber(s, draft); err != nil {
		return draft, err
	}
	if err := takeNumber(s, &draft); err != nil {
		return draft, err
	}
	others, err := store.Query[int64](s.Tx, sameDeposits, draft.ID) // the tax on what they apply rests on what is open now
	if err == nil {
		err = drafting.RefreshDrafts(s, others)
	}
	if err != nil {
		return draft, err
	}
	return draft, s.Record(
		"issued", "invoice", draft.ID, nil, map[string]string{"number": draft.NumberText(), "dueNow": s.Money(draft.DueNow)},
	)
}

// takeNumber gives an invoice or a credit note the next number and its seal. From then on it never changes.
func takeNumber(s *book.Session, draft *store.Invoice) error {
	number, at := s.Company.NextInvoiceNumber, s.Book.Now().UnixMilli()
	s.Company.NextInvoiceNumber++
	if err := s.Model(&s.Company).Update("next_invoice_number", s.Company.NextInvoiceNumber).Error; err != nil {
		return err
	}
	draft.Status, draft.Number, draft.Prefix, draft.IssuedAt = store.Issued, &number, s.Company.InvoicePrefix, &at
	draft.Version++
	draft.Seal = draft.Sealed()
	if err := freezeParties(s, *draft); err != nil {
		return err
	}
	return s.Save(draft).Error
}
