package billing

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"jarvo/internal/app/book"
	"jarvo/internal/app/drafting"
	"jarvo/internal/app/form"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// TypedLine is what a person types on a draft: a line that no work stands behind, or a discount (calculation.md section 8).
type TypedLine struct {
	Kind     string `json:"kind"`
	Job      string `json:"job,omitempty" doc:"its number; of a discount: absent is on all jobs"`
	Phase    string `json:"phase,omitempty" doc:"its code"`
	Category string `json:"category,omitempty" doc:"of a discount: absent is on all kinds"`
	Text     string `json:"text"`
	Quantity string `json:"quantity,omitempty"`
	Unit     string `json:"unit,omitempty"`
	Percent  string `json:"percent,omitempty" doc:"of a discount, where it is no amount"`
	Amount   string `json:"amount,omitempty" doc:"of a discount above 0"`
	Total    string `json:"total,omitempty" doc:"answered: what it comes to on the invoice"`
}

// TypedKinds and TypedCategories are the words of a [TypedLine].
var (
	TypedKinds = []string{
		drafting.OwnLine, drafting.DiscountLine, drafting.ProgressLine, drafting.InstalmentLine, drafting.DepositLine,
	}
	TypedCategories = []string{billing.Labour, "material", "equipment", "subcontract", "expense", "mileage", "fixed", "other"}
)

// DraftLines are all that is typed on a draft, in place of what was, on the version that was seen.
type DraftLines struct {
	Version int64       `json:"version" doc:"as it was seen"`
	Lines   []TypedLine `json:"lines" maxItems:"500"`
}

// TypeLines changes what is typed on a draft.
func TypeLines(ctx context.Context, b *book.Book, actor book.Actor, draftID int64, in DraftLines) (InvoiceView, error) {
	return changeDraft(ctx, b, actor, draftID, in.Version, func(s *book.Session, draft *store.Invoice) error {
		if err := typeLines(s, *draft, in.Lines); err != nil {
			return err
		}
		left, err := drafting.LeftOn(s, draftID)
		if err == nil && left == 0 {
			err = errNothingLeft
		}
		return err
	})
}

var errNothingLeft = refuse.Conflict("nothing would be left on this draft; drop it instead")

// changeDraft changes a draft on the version that was seen, and lays it out again.
func changeDraft(
	ctx context.Context, b *book.Book, actor book.Actor, draftID, version int64, change func(*book.Session, *store.Invoice) error,
) (InvoiceView, error) {
	return book.Write(ctx, b, actor, book.Bill, func(s *book.Session) (InvoiceView, error) {
		return changed(s, draftID, version, change)
	})
}

func changed(
	s *book.Session, draftID, version int64, change func(*book.Session, *store.Invoice) error,
) (view InvoiceView, _ error) {
	draft, err := draftAt(s, draftID, version)
	if err != nil {
		return view, err
	}
	before := draft
	shared, err := drafting.Sharers(s, draftID)
	if err != nil {
		return view, err
	}
	if err := change(s, &draft); err != nil {
		return view, err
	}
	draft.Version++
	if err := layOut(s, &draft); err != nil {
		return view, err
	}
	if err := refreshOthers(s, draftID, shared); err != nil {
		return view, err
	}
	if err := s.Record("changed a draft", "invoice", draftID, map[string]string{"total": s.Money(before.Total)},
		map[string]string{"total": s.Money(draft.Total)}); err != nil {
		return view, err
	}
	return WithOffered(s, draftID)
}

// layOut lays a draft out for a person, who is told why it can't be.
func layOut(s *book.Session, draft *store.Invoice) error {
	err := drafting.LayOut(s, draft)
	if errors.Is(err, billing.ErrNegative) {
		return refuse.Conflict("an invoice can't be below 0")
	}
	if errors.Is(err, billing.ErrBeyondHeld) {
		return refuse.Conflict("%s", err)
	}
	return err
}

// refreshOthers brings the drafts up to date that share work with one, or did before it was changed; and then that one, since what it holds
// rests on what they leave.
func refreshOthers(s *book.Session, draftID int64, before []int64) error {
	now, err := drafting.Sharers(s, draftID)
	if err != nil {
		return err
	}
	others := slices.Compact(slices.Sorted(slices.Values(append(before, now...))))
	if len(others) == 0 {
		return nil
	}
	return drafting.RefreshDrafts(s, append(others, draftID))
}

func typeLines(s *book.Session, draft store.Invoice, lines []TypedLine) error {
	c := s.Checks()
	others, err := store.Value[int](s.Tx, othersTyped, draft.ID)
	if err != nil {
		return err
	}
	work, err := store.Value[int](s.Tx, "SELECT count(*) FROM invoice_sources WHERE invoice_id = ?", draft.ID)
	if err != nil {
		return err
	}
	var rows []store.TypedLine
	for i, l := range lines {
		if l.Kind == drafting.ProgressLine || l.Kind == drafting.InstalmentLine {
			continue // is changed on the schedule
		}
		row, err := typedRow(s, c, fmt.Sprintf("lines[%d].", i), draft, l)
		if err != nil {
			return err
		}
		row.Position = others + i + 1
		rows = append(rows, row)
		if row.Kind == drafting.DepositLine && (len(lines) > 1 || others+work > 0) {
			c.Add(fmt.Sprintf("lines[%d].kind", i), "a deposit is asked for on an invoice of its own, in one line")
		}
	}
	if err := c.Err(); err != nil {
		return err
	}
	err = s.Exec("DELETE FROM typed_lines WHERE invoice_id = ? AND kind IN ('line', 'discount', 'deposit')", draft.ID).Error
	if err != nil || len(rows) == 0 {
		return err
	}
	return s.Create(&rows).Error
}

func typedRow(s *book.Session, c *form.Checks, path string, draft store.Invoice, l TypedLine) (store.TypedLine, error) {
	row := store.TypedLine{
		InvoiceID: draft.ID, Kind: c.OneOf(path+"kind", l.Kind, TypedKinds...), Text: c.Needed(path+"text", l.Text, "what the customer reads"),
		Category: l.Category,
	}
	discount := row.Kind == drafting.DiscountLine
	switch {
	case row.Kind == drafting.DepositLine:
		row.Category = billing.Deposit
	case !discount || l.Category != "":
		c.OneOf(path+"category", l.Category, TypedCategories...)
	}
	if l.Job != "" || !discount {
		job, err := register.JobByNumber(s, l.Job)
		if err != nil || store.ID(job.CustomerID) != draft.CustomerID {
			c.Add(path+"job", "choose a job of %s", draft.CustomerName)
			return row, nil
		}
		row.JobID = &job.ID
		if l.Phase != "" {
			phases, err := store.All[store.Phase](s.Tx, "id", "job_id = ? AND code = ?", job.ID, l.Phase)
			if err != nil {
				return row, err
			}
			if len(phases) == 0 {
				c.Add(path+"phase", "job %s has no phase %q", job.Number, l.Phase)
				return row, nil
			}
			row.PhaseID = &phases[0].ID
		}
	}
	if !discount {
		row.Quantity, row.Unit = form.OrZero(c, path+"quantity", l.Quantity, form.ParseQuantity), c.Text(path+"unit", l.Unit)
		row.Amount = form.Parsed(c, path+"amount", l.Amount, s.ParseAmount)
		if row.Kind == drafting.DepositLine && len(c.Fields) == 0 && row.Amount <= 0 {
			c.Add(path+"amount", "a deposit is more than 0")
		}
		return row, nil
	}
	if l.Percent != "" && l.Amount != "" {
		c.Add(path+"amount", "type a percentage or an amount, not both")
	}
	if l.Percent != "" {
		row.Percent = form.Parsed(c, path+"percent", l.Percent, form.ParsePercent)
		if row.Percent <= 0 || row.Percent > money.Whole {
			c.Add(path+"percent", "a discount is above 0 %% and at most 100 %%")
		}
		return row, nil
	}
	row.Amount = -form.Parsed(c, path+"amount", l.Amount, s.ParseAmount)
	if row.Amount >= 0 {
		c.Add(path+"amount", "a discount is above 0; it is taken off")
	}
	return row, nil
}

// DraftHead is what stands around the lines of a draft.
type DraftHead struct {
	Version     int64  `json:"version" doc:"as it was seen"`
	Date        string `json:"date"`
	Due         string `json:"due"`
	OrderNumber string `json:"orderNumber,omitempty" doc:"the customer's"`
	Opening     string `json:"opening,omitempty" doc:"text above the lines"`
	Closing     string `json:"closing,omitempty" doc:"text below them"`
}

// SetHead changes the dates of a draft, the customer's order number, and the text above and below its lines.
func SetHead(ctx context.Context, b *book.Book, actor book.Actor, draftID int64, in DraftHead) (InvoiceView, error) {
	return changeDraft(ctx, b, actor, draftID, in.Version, func(s *book.Session, draft *store.Invoice) error {
		c := s.Checks()
		draft.Date, draft.Due = c.Date("date", in.Date), c.Date("due", in.Due)
		draft.OrderNumber, draft.Opening, draft.Closing = c.Text("orderNumber", in.OrderNumber), c.Text("opening", in.Opening),
			c.Text("closing", in.Closing)
		if draft.Due < draft.Date {
			c.Add("due", "an invoice is due on its date or later")
		}
		if err := c.Err(); err != nil {
			return err
		}
		ofJobs, err := orderNumber(s, store.Invoice{ID: draft.ID, Status: draft.Status})
		if err != nil {
			return err
		}
		if draft.OrderNumber == ofJobs {
			draft.OrderNumber = "" // it follows the order of its jobs
		}
		return s.Model(draft).Select("date", "due", "order_number", "opening", "closing").Updates(draft).Error
	})
}

// NewDraft begins a draft with lines that are typed.
type NewDraft struct {
	Key   string      `json:"key" doc:"made by the client, so that a retry makes nothing twice"`
	Date  string      `json:"date" doc:"the invoice's date"`
	Lines []TypedLine `json:"lines" minItems:"1" maxItems:"500"`
}

// StartDraft makes a draft of lines that are typed, for the customer of the job of the first; work can be added to it.
func StartDraft(ctx context.Context, b *book.Book, actor book.Actor, in NewDraft) (InvoiceView, error) {
	return book.Write(ctx, b, actor, book.Bill, func(s *book.Session) (InvoiceView, error) {
		return book.Once(s, "draft", in.Key, in, func() (view InvoiceView, _ error) {
			c := s.Checks()
			date := c.Date("date", in.Date)
			if len(in.Lines) == 0 {
				return view, refuse.Invalid("lines", "type a line first")
			}
			job, err := register.JobByNumber(s, in.Lines[0].Job)
			switch {
			case err != nil && !refuse.IsNotFound(err):
				return view, err
			case err != nil:
				c.Add("lines[0].job", "choose a job")
			case job.CustomerID == nil:
				c.Add("lines[0].job", "job %s has no customer", job.Number)
			}
			if err := c.Err(); err != nil {
				return view, err
			}
			draft, err := newDraft(s, *job.CustomerID, date)
			if err != nil {
				return view, err
			}
			if err := typeLines(s, draft, in.Lines); err != nil {
				return view, err
			}
			if err := layOut(s, &draft); err != nil {
				return view, err
			}
			if err := madeDraft(s, draft); err != nil {
				return view, err
			}
			return WithOffered(s, draft.ID)
		})
	})
}

// newDraft makes a draft for a customer, with nothing on it yet, in as much detail as the one before it.
func newDraft(s *book.Session, customerID int64, date calendar.Date) (store.Invoice, error) {
	customer, _, err := store.One[store.Customer](s.Tx, customerID)
	if err != nil {
		return store.Invoice{}, err
	}
	terms := s.Company.TermsDays
	if customer.TermsDays != nil {
		terms = *customer.TermsDays
	}
	last, err := store.Query[store.Invoice](s.Tx, lastGrouping, customerID)
	if err != nil {
		return store.Invoice{}, err
	}
	detail := append(last, store.Invoice{Grouping: string(billing.ByTrade), ShowRates: true})[0]
	draft := store.Invoice{
		Status: store.Draft, CustomerID: customer.ID, Date: date, Due: date + calendar.Date(terms),
		Grouping: detail.Grouping, ShowRates: detail.ShowRates, Currency: s.Currency.Code, Version: 1,
	}
	address(s, &draft, customer)
	return draft, s.Create(&draft).Error
}

func madeDraft(s *book.Session, draft store.Invoice) error {
	return s.Record("made a draft", "invoice", draft.ID, nil, map[string]string{"total": s.Money(draft.Total)})
}

// typedOn are what is typed on an invoice, as it was typed.
func typedOn(s *book.Session, invoiceID int64) ([]TypedLine, error) {
	type row struct {
		store.TypedLine
		Job, Phase string
	}
	rows, err := store.Query[row](s.Tx, typedRows, invoiceID)
	lines := make([]TypedLine, len(rows))
	for i, r := range rows {
		l := TypedLine{Kind: r.Kind, Job: r.Job, Phase: r.Phase, Category: r.Category, Text: r.Text, Unit: r.Unit, Total: s.Money(r.Amount)}
		if r.Quantity != 0 {
			l.Quantity = r.Quantity.String()
		}
		switch {
		case r.Kind == drafting.DepositLine:
			l.Category, l.Amount = "", s.Money(r.Amount)
		case r.Percent != 0:
			l.Percent = r.Percent.String()
		case r.Complete != nil:
			l.Percent = r.Complete.String()
		case r.Kind == drafting.DiscountLine:
			l.Amount = s.Money(-r.Amount)
		default:
			l.Amount = s.Money(r.Amount)
		}
		lines[i] = l
	}
	return lines, err
}
